"""The driveline's part of the command line."""

from __future__ import annotations

from typing import Any

from rimcore.driveline.gearing import (
    Driveline,
    axle_options,
    axle_to_restore,
    effective_change_pct,
    kmh_at,
    rolling_mm,
    rpm_at,
)
from rimcore.quantities.contract import Calculation, Key, number_key
from rimcore.quantities.errors import BadInput
from rimcore.wheels.keys import TYRE_KEY

#: ranges of what is accepted; > 0 wherever something is divided by it
RATIO, DIAMETER_MM, CIRCUMFERENCE_MM, SPEED_KMH, RPM = (
    (0.01, 100.0),
    (50.0, 5000.0),
    (150.0, 16_000.0),
    (0.0, 1000.0),
    (0.001, 100_000.0),
)

_ROLLS = (
    TYRE_KEY,
    number_key("diameter_mm", "outer diameter of the tyre; rolls at 3.05 × diameter", "mm", *DIAMETER_MM),
    number_key("circumference_mm", "rolling circumference as measured", "mm", *CIRCUMFERENCE_MM),
)
_BEFORE = (*_ROLLS, number_key("axle_ratio", "axle ratio before", "", *RATIO, required=True))
_RATIO = number_key("", "a ratio", "", *RATIO, required=True)


def _circumference_mm(given: dict[str, Any], path: str) -> float:
    """Of exactly one of tyre, diameter, circumference."""
    named = [name for name in ("tyre", "diameter_mm", "circumference_mm") if given[name] is not None]
    if len(named) != 1:
        said = "none is given" if not named else f"{' and '.join(named)} are given"
        raise BadInput(
            f"{said}; accepted: exactly one of tyre, diameter_mm, circumference_mm",
            f"{path}{named[1] if named else 'tyre'}",
        )
    if given["tyre"] is not None:
        return float(given["tyre"][0].rolling_circumference_mm)
    return rolling_mm(given["diameter_mm"]) if given["diameter_mm"] is not None else float(given["circumference_mm"])


def _gearing(given: dict[str, Any]) -> dict[str, Any]:
    circumference, speed, rpm = _circumference_mm(given, ""), given["speed_kmh"], given["rpm"]
    if not given["gears"]:
        raise BadInput("is empty; accepted: at least one ratio", "gears")
    if speed is None and rpm is None:
        raise BadInput("neither speed_kmh nor rpm is given; accepted: one of them, or both", "speed_kmh")
    line = Driveline(tuple(given["gears"]), given["axle_ratio"], circumference, given["transfer_ratio"])
    gears = range(1, len(line.gears) + 1)
    answer: dict[str, Any] = {
        "circumference_mm": circumference,
        "rpm_by_gear": None if speed is None else [rpm_at(line, gear, speed) for gear in gears],
        "kmh_per_1000rpm_by_gear": [kmh_at(line, gear, 1000.0) for gear in gears],
        "kmh_at_rpm_by_gear": None if rpm is None else [kmh_at(line, gear, rpm) for gear in gears],
        "effective_ratio_change_pct": None,
        "axle_to_restore": None,
        "options": None,
    }
    before = given["before"]
    if before is not None:
        old = _circumference_mm(before, "before.")
        answer["effective_ratio_change_pct"] = effective_change_pct(
            line.axle_ratio, circumference, before["axle_ratio"], old
        )
        answer["axle_to_restore"] = axle_to_restore(before["axle_ratio"], circumference, old)
    return answer | {"options": _options(given, line)}


def _options(given: dict[str, Any], line: Driveline) -> list[dict[str, float]] | None:
    gear = given["in_gear"] if given["in_gear"] is not None else len(line.gears)
    if gear > len(line.gears):
        raise BadInput(f"there are {len(line.gears)} gears; accepted: 1 to {len(line.gears)}", "in_gear")
    if given["axle_options"] is None:
        return None
    if not given["axle_options"]:
        raise BadInput("is empty; accepted: at least one ratio", "axle_options")
    for name in ("wanted_rpm", "speed_kmh"):
        if given[name] is None:
            raise BadInput("is missing; axle_options are compared by it", name)
    found = axle_options(line, given["axle_options"], gear, given["speed_kmh"], given["wanted_rpm"])
    return [{"axle_ratio": one.axle_ratio, "rpm": one.rpm, "off_rpm": one.off_rpm} for one in found]


GEARING = Calculation(
    "gearing",
    "engine speed over road speed in every gear, with another tyre or axle ratio",
    "rolling without slip (Gillespie, Fundamentals of Vehicle Dynamics); 3.05 × diameter: ISO 4000-1 practice, from memory",
    (
        *_ROLLS,
        Key("gears", "list", "ratios of the gearbox, first gear first", required=True, item=_RATIO, most=20),
        number_key("axle_ratio", "ratio of the driven axle", "", *RATIO, required=True),
        number_key("transfer_ratio", "ratio of a transfer case in the range in use", "", *RATIO, default=1.0),
        number_key("speed_kmh", "road speed; this or rpm, or both", "km/h", *SPEED_KMH),
        number_key("rpm", "engine speed", "1/min", *RPM),
        Key("before", "object", "tyre and axle ratio it is compared with", keys=_BEFORE),
        Key("axle_options", "list", "axle ratios on the shelf; needs wanted_rpm and speed_kmh", item=_RATIO, most=100),
        number_key("wanted_rpm", "engine speed wanted at speed_kmh", "1/min", *RPM),
        Key("in_gear", "integer", "gear in which it is wanted, from 1; default the last", "", 1, 20),
    ),
    (
        number_key("circumference_mm", "rolling circumference that is used"),
        Key("rpm_by_gear", "list", "engine speed at speed_kmh; null without it", "1/min"),
        Key("kmh_per_1000rpm_by_gear", "list", "road speed at 1,000 1/min", "km/h"),
        Key("kmh_at_rpm_by_gear", "list", "road speed at rpm; null without it", "km/h"),
        number_key(
            "effective_ratio_change_pct", "how much shorter the gearing is than before; null without before", "%"
        ),
        number_key("axle_to_restore", "axle ratio that brings the old revolutions back; null without before", ""),
        Key(
            "options",
            "list",
            "the shelf, nearest first; null without axle_options",
            item=Key(
                "",
                "object",
                "one",
                keys=(
                    number_key("axle_ratio", "as given", ""),
                    number_key("rpm", "engine speed", "1/min"),
                    number_key("off_rpm", "less what is wanted", "1/min"),
                ),
            ),
        ),
    ),
    _gearing,
)

DRIVELINE = {"gearing": GEARING}
