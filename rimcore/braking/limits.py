"""What a figure of the brakes and what they stop may be."""

from __future__ import annotations

from rimcore.quantities.limits import Limit

LIMITS: dict[str, Limit] = {
    "brake_mm": Limit(60, 300, "mm"),
    "rotor_mm": Limit(120, 500, "mm"),
    "rotor_thick_mm": Limit(4, 60, "mm"),
    "hat_mm": Limit(0, 120, "mm"),
    "boil_c": Limit(100, 400, "°C"),
    "stop_kmh": Limit(20, 350, "km/h"),
    "stop_g": Limit(0.1, 2.0, "g"),
    "rotor_kg": Limit(0.3, 60, "kg"),
    "towed_kg": Limit(0, 5000, "kg"),
}
