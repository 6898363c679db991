"""What a figure of gears and shifter may be."""

from __future__ import annotations

from rimcore.quantities.limits import Limit

LIMITS: dict[str, Limit] = {
    "ratio": Limit(0.01, 100),
    "throw_pct": Limit(20, 200, "%"),
    "cable_mm": Limit(50, 5000, "mm"),
}
