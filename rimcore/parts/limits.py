"""What a figure of a part may be."""

from __future__ import annotations

from rimcore.quantities.limits import Limit

LIMITS: dict[str, Limit] = {
    "mass_kg": Limit(0.001, 200, "kg"),
    "mass_change_kg": Limit(-500, 500, "kg"),
    "damper_mm": Limit(100, 1500, "mm"),
    "stop_mm": Limit(2, 200, "mm"),
    "stack_mm": Limit(0, 200, "mm"),
    "seat_mm": Limit(20, 300, "mm"),
    "chassis_bolt_mm": Limit(4, 40, "mm"),
    "arm_mm": Limit(50, 1500, "mm"),
    "arm_back_mm": Limit(0, 150, "mm"),
    "link_mm": Limit(30, 800, "mm"),
    "bush_mm": Limit(5, 200, "mm"),
    "roll_bar_mm": Limit(8, 60, "mm"),
    "roll_bar_wall_mm": Limit(1, 20, "mm"),
    "taper_mm": Limit(5, 40, "mm"),
    "spline_mm": Limit(8, 50, "mm"),
    "teeth": Limit(8, 80),
    "engaged_mm": Limit(0, 200, "mm"),
    "joint_deg": Limit(0, 60, "°"),
    "shop_height_mm": Limit(-200, 400, "mm"),
    "arch_mm": Limit(-200, 500, "mm"),
    "leaf_mm": Limit(300, 2500, "mm"),
    "leaf_width_mm": Limit(20, 150, "mm"),
    "leaves": Limit(1, 20),
    "block_mm": Limit(5, 200, "mm"),
    "taper_deg": Limit(-10, 10, "°"),
    "u_bolt_mm": Limit(50, 600, "mm"),
    "holes": Limit(1, 12),
    "camber_range_deg": Limit(0, 6, "°"),
    "propshaft_mm": Limit(200, 3000, "mm"),
    "slack_mm": Limit(-50, 300, "mm"),
    "hose_mm": Limit(50, 2000, "mm"),
    "perch_mm": Limit(-120, 120, "mm"),
    "raised_mm": Limit(-60, 60, "mm"),
    "shore": Limit(30, 100, "Shore A"),
    "steering_kpa": Limit(1000, 20000, "kPa"),
}
