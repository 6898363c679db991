"""Brakes on the command line."""

from __future__ import annotations

from typing import Any

from rimcore.braking.stops import (
    HARD_G,
    IRON_CP,
    ROTATING_PCT,
    Braked,
    Stop,
    axle_torque_nm,
    energy_kj,
    front_load_pct,
    pressure_change_pct,
    rise_k,
)
from rimcore.quantities.contract import Calculation, Key, number_key
from rimcore.quantities.errors import BadInput

MASS_KG, RADIUS_MM, ENDS = (0.1, 100_000.0), (10.0, 5000.0), ("front", "rear")


def _both(given: dict[str, float]) -> tuple[float, float]:
    return given["front"], given["rear"]


def _brakes(given: dict[str, Any]) -> dict[str, Any]:
    if given["to_kmh"] >= given["from_kmh"]:
        raise BadInput(f"must be below from_kmh; accepted: 0 to less than {given['from_kmh']:g} km/h", "to_kmh")
    car = Braked(
        given["mass_kg"],
        given["front_pct"],
        given["cg_height_mm"],
        given["wheelbase_mm"],
        _both(given["loaded_radius_mm"]),
    )
    stop = Stop(given["from_kmh"], given["to_kmh"], given["deceleration_g"], given["rotating_pct"])
    load, before = front_load_pct(car, stop.deceleration_g), given["before"]
    change = (
        None
        if before is None
        else pressure_change_pct(car.mass_kg, car.radius_mm[0], before["mass_kg"], before["loaded_radius_mm"]["front"])
    )
    return {
        "energy_kJ": energy_kj(car.mass_kg, stop),
        "front_load_pct": min(100.0, max(0.0, load)),
        "axle_torque_Nm": dict(zip(ENDS, axle_torque_nm(car, stop), strict=True)),
        "rise_C": dict(zip(ENDS, rise_k(car, stop, _both(given["rotors_kg"])), strict=True)),
        "pressure_change_pct": change,
        "warnings": [f"The rear would lift: the front share comes to {load:.0f} %."] if load > 100 else [],
    }


def _ends_key(name: str, meaning: str, unit: str, low: float, high: float) -> Key:
    keys = tuple(number_key(end, end, unit, low, high, required=True) for end in ENDS)
    return Key(name, "object", meaning, required=True, keys=keys)


_RADII = _ends_key("loaded_radius_mm", "tyre under load, front and rear", "mm", *RADIUS_MM)
BRAKES = Calculation(
    "brakes",
    "one stop: energy, load, torque of both axles, how much warmer the rotors get, pressure against before",
    f"Gillespie, Fundamentals of Vehicle Dynamics, ch. 3; iron {IRON_CP:g} J/(kg·K), from memory; each axle brakes by its load, no heat leaves",
    (
        number_key("mass_kg", "of the car in the stop", "kg", *MASS_KG, required=True),
        number_key("from_kmh", "speed before", "km/h", 0.001, 1000.0, required=True),
        number_key("to_kmh", "speed after, below from_kmh", "km/h", 0.0, 1000.0, default=0.0),
        number_key("rotating_pct", "what turns, as a share of the mass", "%", 0.0, 100.0, default=ROTATING_PCT),
        number_key("deceleration_g", "of the stop", "g", 0.001, 10.0, default=HARD_G),
        number_key("wheelbase_mm", "between the axles", "mm", 100.0, 20_000.0, required=True),
        number_key("cg_height_mm", "centre of gravity above the ground", "mm", 0.0, 5000.0, required=True),
        number_key("front_pct", "front share at rest", "%", 0.0, 100.0, required=True),
        _RADII,
        _ends_key("rotors_kg", "one rotor of each end", "kg", *MASS_KG),
        Key(
            "before",
            "object",
            "mass and radii of before, for pressure_change_pct",
            keys=(number_key("mass_kg", "before", "kg", *MASS_KG, required=True), _RADII),
        ),
    ),
    (
        number_key("energy_kJ", "turned into heat", "kJ"),
        number_key("front_load_pct", "front share while braking, held to 0 to 100", "%"),
        Key(
            "axle_torque_Nm",
            "object",
            "brake torque of both axles",
            "N·m",
            keys=tuple(number_key(end, end, "N·m") for end in ENDS),
        ),
        Key(
            "rise_C",
            "object",
            "how much warmer one stop makes the rotors",
            "K",
            keys=tuple(number_key(end, end, "K") for end in ENDS),
        ),
        number_key("pressure_change_pct", "front line pressure for the same stop; null without before", "%"),
        Key("warnings", "list", "where the rear would lift"),
    ),
    _brakes,
)

BRAKED = {BRAKES.name: BRAKES}
