"""What a figure of a wheel and its tyre may be."""

from __future__ import annotations

from rimcore.quantities.limits import Limit

LIMITS: dict[str, Limit] = {
    "diameter_in": Limit(8, 30, "in"),
    "width_in": Limit(3, 18, "in"),
    "offset_mm": Limit(-200, 200, "mm"),
    "bolts": Limit(3, 10),
    "pcd_mm": Limit(80, 300, "mm"),
    "bore_mm": Limit(30, 250, "mm"),
    "load_kg": Limit(50, 5000, "kg"),
    "pad_thickness_mm": Limit(0, 100, "mm"),
    "barrel_radius_mm": Limit(50, 400, "mm"),
    "spoke_back_mm": Limit(-50, 200, "mm"),
    "section_mm": Limit(80, 600, "mm"),
    "spacer_mm": Limit(0, 200, "mm"),
    "crown_mm": Limit(100, 800, "mm"),
    "tread_mm": Limit(0, 30, "mm"),
}
