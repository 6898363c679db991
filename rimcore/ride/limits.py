"""What a figure of the car as it stands, its springs and hard points may be."""

from __future__ import annotations

from rimcore.quantities.limits import Limit

LIMITS: dict[str, Limit] = {
    "wheelbase_mm": Limit(1000, 6000, "mm"),
    "track_mm": Limit(800, 2500, "mm"),
    "axle_kg": Limit(50, 5000, "kg"),
    "cg_height_mm": Limit(100, 2000, "mm"),
    "axle_raised_mm": Limit(20, 2000, "mm"),
    "point_mm": Limit(-2500, 2500, "mm"),
    "point_up_mm": Limit(0, 2500, "mm"),
    "dip_mm": Limit(1, 300, "mm"),
    "frame_mm": Limit(50, 6000, "mm"),
    "frame_gap_mm": Limit(-100, 300, "mm"),
    "plate_mm": Limit(0, 20, "mm"),
    "rate": Limit(0.5, 2000, "N/mm"),
    "coil_mm": Limit(1, 1500, "mm"),
    "preload_mm": Limit(0, 300, "mm"),
    "motion_ratio": Limit(0.05, 5),
    "unsprung_kg": Limit(0, 300, "kg"),
    "turn_mm": Limit(0.1, 20, "mm"),
    "bar": Limit(0, 2000, "N/mm"),
    "pad_kg": Limit(20, 3000, "kg"),
}
