"""What a figure of the mass ledger may be."""

from __future__ import annotations

from rimcore.quantities.limits import Limit

LIMITS: dict[str, Limit] = {
    "cold_a": Limit(20, 2000, "A"),
    "item_kg": Limit(0, 1000, "kg"),
    "item_doubt_kg": Limit(0, 50, "kg"),
    "minutes": Limit(0, 100_000, "min"),
    "item_along_mm": Limit(-2000, 8000, "mm"),
    "item_across_mm": Limit(-1500, 1500, "mm"),
    "item_up_mm": Limit(0, 3000, "mm"),
    "phase_kg": Limit(0.1, 2000, "kg"),
    "minimum_kg": Limit(100, 10_000, "kg"),
}
