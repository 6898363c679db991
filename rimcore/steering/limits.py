"""What a figure of rack and rods may be."""

from __future__ import annotations

from rimcore.quantities.limits import Limit

LIMITS: dict[str, Limit] = {
    "rack_move_mm": Limit(-100, 100, "mm"),
    "rod_longer_mm": Limit(-20, 20, "mm"),
    "rack_limit_mm": Limit(0, 60, "mm"),
    "rack_travel_mm": Limit(1, 150, "mm"),
    "stick_out_mm": Limit(0, 1000, "mm"),
    "turns": Limit(0.1, 20),
}
