"""What an engine breathes, on the command line: air, power, meters, sound."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from rimcore.breathing.air import Air, moist_air, standard_air
from rimcore.breathing.meter import Housing
from rimcore.breathing.power import STANDARDS, correction
from rimcore.breathing.sound import a_weighting_db, firing_hz, level_there_db, quarter_wave_mm, sum_db
from rimcore.quantities.contract import Calculation, Key, number_key
from rimcore.quantities.errors import BadInput

#: ranges of what is accepted; whatever is divided by is over 0
DAY_C, SHARE_PCT, BORE_MM = (-90.0, 100.0), (0.0, 100.0), (1.0, 1000.0)

HUMIDITY = number_key("humidity_pct", "relative humidity over liquid water", "%", *SHARE_PCT, default=0.0)


def _air(given: dict[str, Any]) -> dict[str, Any]:
    found = air_of(given)
    return {
        "density_kg_per_m3": found.density_kg_per_m3,
        "vapour_kPa": found.vapour_kpa,
        "dry_kPa": found.dry_kpa,
        "temperature_C": found.temperature_c,
        "pressure_kPa": found.pressure_kpa,
        "speed_of_sound_m_per_s": found.speed_of_sound_m_per_s,
    }


def air_of(given: dict[str, Any]) -> Air:
    """Air by temperature and pressure, or by altitude.

    >>> round(air_of({"altitude_m": 0.0, "temperature_C": None, "pressure_kPa": None, "humidity_pct": 0.0}).pressure_kpa, 3)
    101.325
    """
    day = [name for name in ("temperature_C", "pressure_kPa") if given[name] is not None]
    if given["altitude_m"] is not None:
        if day:
            raise BadInput(f"{day[0]} is given too; accepted: altitude_m alone or with humidity_pct", day[0])
        return standard_air(given["altitude_m"], given["humidity_pct"])
    if len(day) < 2:
        missing = "pressure_kPa" if day == ["temperature_C"] else "temperature_C"
        raise BadInput("is missing; accepted: temperature_C and pressure_kPa, or altitude_m", missing)
    return moist_air(given["temperature_C"], given["pressure_kPa"], given["humidity_pct"])


AIR_KEYS = (
    number_key("temperature_C", "of the air; with pressure_kPa", "°C", *DAY_C),
    number_key("pressure_kPa", "absolute pressure at the place, not brought to sea level", "kPa", 0.01, 1000.0),
    HUMIDITY,
    number_key("altitude_m", "geopotential, standard atmosphere; alone or with humidity_pct", "m", -2000.0, 20_000.0),
)
AIR = Calculation(
    "air",
    "density, vapour and speed of sound of moist air, of a day or of the standard atmosphere",
    "ISO 2533; ideal mixture, R 287.05 and 461.5 J/(kg·K); saturation over liquid water by Sonntag 1990",
    AIR_KEYS,
    (
        number_key("density_kg_per_m3", "of the moist air", "kg/m³"),
        number_key("vapour_kPa", "share of the vapour", "kPa"),
        number_key("dry_kPa", "share of the dry air", "kPa"),
        number_key("temperature_C", "as used", "°C"),
        number_key("pressure_kPa", "as used", "kPa"),
        number_key("speed_of_sound_m_per_s", "√(1.4 p ÷ ρ)", "m/s"),
    ),
    _air,
)


def _power(given: dict[str, Any]) -> dict[str, Any]:
    air = moist_air(given["temperature_C"], given["pressure_kPa"], given["humidity_pct"])
    found, measured = correction(given["standard"], air), given["measured_kW"]
    return {
        "factor": found.factor,
        "corrected_kW": None if measured is None else measured * found.factor,
        "within_range": found.within_range,
        "basis": found.basis,
    }


POWER = Calculation(
    "power-correction",
    "a day's power brought to a standard's air",
    "SAE J1349, ISO 1585, DIN 70020; formulas and ranges from memory, editions in the answer",
    (
        number_key("temperature_C", "of the air drawn in", "°C", *DAY_C, required=True),
        number_key("pressure_kPa", "absolute pressure at the place", "kPa", 20.0, 200.0, required=True),
        HUMIDITY,
        number_key("measured_kW", "as measured", "kW", 0.0, 10_000.0),
        Key("standard", "choice", "whose air", choices=tuple(STANDARDS), required=True),
    ),
    (
        number_key("factor", "what the measured power is multiplied by", ""),
        number_key("corrected_kW", "null without measured_kW", "kW"),
        Key("within_range", "boolean", "0.93 to 1.07 for SAE and ISO; null for DIN"),
        Key("basis", "text", "edition and kind of engine"),
    ),
    _power,
)


def _meter(given: dict[str, Any]) -> dict[str, Any]:
    one = Housing(given["from_mm"], given["to_mm"])
    return {
        "area_ratio": one.area_ratio,
        "area_change_pct": one.area_change_pct,
        "under_read_pct": one.under_read_pct,
        "advice": one.advice,
    }


METER = Calculation(
    "meter",
    "an air meter in a housing of another bore",
    "area of the bore (common practice: the meter sees the speed at its middle)",
    (
        number_key("from_mm", "bore of the housing the engine is calibrated for", "mm", *BORE_MM, required=True),
        number_key("to_mm", "bore of the other one", "mm", *BORE_MM, required=True),
    ),
    (
        number_key("area_ratio", "after ÷ before", ""),
        number_key("area_change_pct", "more area", "%"),
        number_key("under_read_pct", "air it does not see; negative: it reads too much", "%"),
        Key("advice", "text", "what to do"),
    ),
    _meter,
)


#: groups of sound: what each needs, and what it comes to
_GROUPS = (
    (("levels_db",), "sum_db"),
    (("level_db", "at_m", "to_m"), "level_there_db"),
    (("hz",), "a_weighting_db"),
    (("rpm", "cylinders"), "firing_hz"),
    (("drone_hz", "gas_C"), "quarter_wave_mm"),
)


def _sound(given: dict[str, Any]) -> dict[str, Any]:
    found: dict[str, Any] = {}
    for needs, name in _GROUPS:
        there = [key for key in needs if given[key] is not None]
        if there and len(there) < len(needs):
            missing = next(key for key in needs if key not in there)
            raise BadInput(f"is missing; accepted: it is needed with {there[0]}", missing)
        found[name] = _WORK[name](given) if there else None
    if not any(value is not None for value in found.values()):
        raise BadInput(
            "nothing to work out; accepted: " + "; ".join(" and ".join(needs) for needs, _ in _GROUPS), "levels_db"
        )
    return found


def _summed(given: dict[str, Any]) -> float:
    if not given["levels_db"]:
        raise BadInput("is empty; accepted: at least one level", "levels_db")
    return sum_db(given["levels_db"])


def _fired(given: dict[str, Any]) -> float:
    if given["strokes"] not in (2, 4):
        raise BadInput("must be 2 or 4", "strokes")
    return firing_hz(given["rpm"], given["cylinders"], given["strokes"])


_WORK: dict[str, Callable[[dict[str, Any]], float]] = {
    "sum_db": _summed,
    "level_there_db": lambda given: level_there_db(given["level_db"], given["at_m"], given["to_m"]),
    "a_weighting_db": lambda given: a_weighting_db(given["hz"]),
    "firing_hz": _fired,
    "quarter_wave_mm": lambda given: quarter_wave_mm(given["drone_hz"], given["gas_C"]),
}
SOUND = Calculation(
    "sound",
    "levels added and at another distance, A-weighting, firing frequency, a quarter-wave pipe against a drone",
    "IEC 61672-1 for the A-weighting; energetic sum, free field; closed pipe without end correction",
    (
        Key(
            "levels_db",
            "list",
            "levels to add",
            item=number_key("", "a level", "dB", -200.0, 250.0, required=True),
            most=1000,
        ),
        number_key("level_db", "with at_m and to_m", "dB", -200.0, 250.0),
        number_key("at_m", "distance at which it was read", "m", 0.001, 100_000.0),
        number_key("to_m", "distance at which it is wanted", "m", 0.001, 100_000.0),
        number_key("hz", "for the A-weighting", "Hz", 0.1, 1_000_000.0),
        number_key("rpm", "with cylinders", "1/min", 1.0, 30_000.0),
        Key("cylinders", "integer", "with rpm", "", 1, 24),
        Key("strokes", "integer", "2 or 4", "", 2, 4, default=4),
        number_key("drone_hz", "with gas_C", "Hz", 0.1, 100_000.0),
        number_key("gas_C", "exhaust gas in the side pipe", "°C", -90.0, 1500.0),
    ),
    (
        number_key("sum_db", "null without levels_db", "dB"),
        number_key("level_there_db", "null without its group", "dB"),
        number_key("a_weighting_db", "null without hz", "dB"),
        number_key("firing_hz", "null without its group", "Hz"),
        number_key("quarter_wave_mm", "null without its group", "mm"),
    ),
    _sound,
)

BREATHING = {one.name: one for one in (AIR, POWER, METER, SOUND)}
