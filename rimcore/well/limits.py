"""What a figure of what stands in a wheel well, and what is read there may be."""

from __future__ import annotations

from rimcore.quantities.limits import Limit

LIMITS: dict[str, Limit] = {
    "camber_deg": Limit(-20, 20, "°"),
    "ride_drop_mm": Limit(-300, 300, "mm"),
    "corner_drop_mm": Limit(-60, 60, "mm"),
    "mount_mm": Limit(-120, 120, "mm"),
    "lip_rolled_mm": Limit(0, 30, "mm"),
    "lock_limit_deg": Limit(0, 30, "°"),
    "lever": Limit(-1e6, 1e6),
    "reading": Limit(-8000, 8000),
    "uncertainty": Limit(0, 200),
    "height_mm": Limit(-400, 500, "mm"),
    "across_mm": Limit(-250, 250, "mm"),
    "steer_deg": Limit(-70, 70, "°"),
    "travel_mm": Limit(-300, 300, "mm"),
    "rub_travel_mm": Limit(-600, 600, "mm"),
    "sighting_mm": Limit(-50, 500, "mm"),
    "sighting_uncertainty_mm": Limit(0.01, 50, "mm"),
    "kpa": Limit(50, 600, "kPa"),
    "air_c": Limit(-40, 60, "°C"),
    "margin_mm": Limit(0, 200, "mm"),
}
