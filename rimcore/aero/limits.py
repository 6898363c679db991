"""What a figure of the air's own may be."""

from __future__ import annotations

from rimcore.quantities.limits import Limit

LIMITS: dict[str, Limit] = {
    "area_m2": Limit(0.001, 20, "m²"),
    "sheet_mm": Limit(0.3, 60, "mm"),
    "sheet_kg_per_m2": Limit(0.05, 60, "kg/m²"),
    "pitch_mm": Limit(20, 1000, "mm"),
    "panel_edge_mm": Limit(3, 100, "mm"),
    "reach_mm": Limit(1, 6000, "mm"),
    "under_up_mm": Limit(0, 1500, "mm"),
    "cp": Limit(-3, 3),
    "air_kmh": Limit(10, 400, "km/h"),
    "air_count": Limit(1, 200),
    "air_none": Limit(0, 20),
    "bar_mm": Limit(10, 2000, "mm"),
}
