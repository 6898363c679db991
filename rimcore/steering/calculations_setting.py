"""The setting's part of the command line: a caster sweep, alignment of four wheels, a square frame."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from rimcore.quantities.contract import Calculation, Key, number_key
from rimcore.quantities.errors import BadInput, CoreError
from rimcore.steering.axis import caster_from_sweep_deg
from rimcore.steering.setting import (
    ANGLES,
    DIAGONAL_MM,
    MOST_DOUBT_DEG,
    SIDE_MM,
    Frame,
    exact_axis_deg,
    misread,
    squareness,
    sweep_uncertainty_deg,
    sweep_warnings,
    thrust_deg,
    toe_deg,
    toe_mm,
    total_deg,
)
from rimcore.steering.turns import adjusted
from rimcore.tables.facts import CORNERS as WHEELS

ANGLE_DEG, MOST_ADJUSTERS = (-89.0, 89.0), 100


def _sweep(given: dict[str, Any]) -> dict[str, Any]:
    out, into, steer = given["camber_out_deg"], given["camber_in_deg"], given["steer_deg"]
    straight, resolution = given["camber_straight_deg"], given["resolution_deg"]
    pair = None if straight is None else exact_axis_deg(out, into, straight, steer)
    doubt = None if resolution is None else sweep_uncertainty_deg(resolution, steer)
    told = doubt is None or doubt <= MOST_DOUBT_DEG
    return {
        "caster_deg": caster_from_sweep_deg(out, into, steer) if told else None,
        "uncertainty_deg": doubt,
        "exact": None if pair is None or not told else {"caster_deg": pair[0], "kpi_deg": pair[1]},
        "warnings": sweep_warnings(steer, doubt),
    }


CASTER_SWEEP = Calculation(
    "caster-sweep",
    "caster from the camber at the same angle each way; with camber straight ahead, caster and kingpin inclination exactly",
    "small angles: (out − in) ÷ (2 sin θ), as gauges show it (common practice); exact: the wheel turned about its steering axis",
    (
        number_key("camber_out_deg", "steered with the front edge outboard", "°", *ANGLE_DEG, required=True),
        number_key("camber_in_deg", "steered with the front edge inboard", "°", *ANGLE_DEG, required=True),
        number_key("steer_deg", "each way; above 0, below 90", "°", 0.001, 89.999, required=True),
        number_key("camber_straight_deg", "straight ahead", "°", *ANGLE_DEG),
        number_key("resolution_deg", "of the gauge", "°", 0.0, 10.0),
    ),
    (
        number_key("caster_deg", "small-angle form; null where its ± is over 5°", "°"),
        number_key("uncertainty_deg", "resolution √2 ÷ (2 sin θ); null without resolution", "°"),
        Key(
            "exact",
            "object",
            "null without camber_straight_deg, or where none gives both readings",
            keys=(
                number_key("caster_deg", "top rearward is plus", "°"),
                number_key("kpi_deg", "top inboard is plus", "°"),
            ),
        ),
        Key("warnings", "list", "a sweep below 5°, a ± that leaves nothing"),
    ),
    _sweep,
)

_WHEEL = (
    number_key("camber_deg", "camber", "°", *ANGLE_DEG),
    number_key("caster_deg", "caster", "°", *ANGLE_DEG),
    number_key("toe_deg", "toe of this wheel, in is plus", "°", *ANGLE_DEG),
    number_key("toe_mm", "or in millimetres over over_mm", "mm", -5000.0, 5000.0),
    number_key("over_mm", "length that toe_mm is read over; with toe_deg, what to print it over", "mm", 0.001, 5000.0),
)
_TARGET = _WHEEL[:3]


def _read_wheel(given: Mapping[str, Any], path: str) -> dict[str, float | None]:
    toe, millimetres, over = given["toe_deg"], given["toe_mm"], given["over_mm"]
    if toe is not None and millimetres is not None:
        raise BadInput("toe_deg and toe_mm are both given; accepted: one of them", f"{path}.toe_mm")
    if millimetres is not None:
        if over is None:
            raise BadInput("is missing; accepted: the length that toe_mm is read over", f"{path}.over_mm")
        try:
            toe = toe_deg(millimetres, over)
        except CoreError as error:
            raise error.under(path) from error
    return {
        "camber_deg": given["camber_deg"],
        "caster_deg": given["caster_deg"],
        "toe_deg": toe,
        "toe_minutes": None if toe is None else 60 * toe,
        "toe_mm_over_rim": None if toe is None or over is None else toe_mm(toe, over),
    }


def _effects(given: Any) -> dict[str, float]:
    accepted = "FL.camber_deg to RR.toe_deg, each a number of degrees a turn"
    names = {f"{wheel}.{angle}" for wheel in WHEELS for angle in ANGLES}
    if not isinstance(given, Mapping) or not given:
        raise BadInput(f"must be an object; accepted: {accepted}")
    for name, value in given.items():
        if name not in names:
            raise BadInput(f"unknown angle; accepted: {accepted}", str(name))
        if isinstance(value, bool) or not isinstance(value, (int, float)) or abs(value) > 90:
            raise BadInput("must be a number; accepted: −90 to 90 degrees a turn", str(name))
    return {name: float(value) for name, value in given.items()}


def _alignment(given: dict[str, Any]) -> dict[str, Any]:
    wheels = {name: _read_wheel(one, f"wheels.{name}") for name, one in given["wheels"].items() if one is not None}
    read = {f"{name}.{angle}": wheel[angle] for name, wheel in wheels.items() for angle in ANGLES}
    targets = {
        f"{name}.{angle}": one[angle]
        for name, one in (given["targets"] or {}).items()
        if one
        for angle in ANGLES
        if one[angle] is not None
    }
    adjusters = [(one["name"], one["effects"]) for one in given["adjusters"] or []]
    if len({name for name, _ in adjusters}) < len(adjusters):
        raise BadInput("two adjusters have one name; accepted: names that differ", "adjusters")
    done = adjusted(read, targets, adjusters)
    toes = [wheels.get(name, {}).get("toe_deg") for name in WHEELS]
    front, rear = toes[:2], toes[2:]
    return {
        "wheels": wheels,
        "front_total_toe_deg": total_deg(front[0], front[1]),
        "rear_total_toe_deg": total_deg(rear[0], rear[1]),
        "thrust_deg": None if rear[0] is None or rear[1] is None else thrust_deg(rear[0], rear[1]),
        "turns": dict(done.turns),
        "left_over": dict(done.left_over),
    }


ALIGNMENT = Calculation(
    "alignment",
    "toe in degrees, minutes and millimetres, totals and thrust of four wheels; turns of adjusters that bring angles to their targets",
    "plane geometry; least squares, and the least movement where many serve",
    (
        Key(
            "wheels",
            "object",
            "what was read",
            keys=tuple(Key(name, "object", f"at {name}", keys=_WHEEL) for name in WHEELS),
            required=True,
        ),
        Key(
            "targets",
            "object",
            "what is wanted",
            keys=tuple(Key(name, "object", f"at {name}", keys=_TARGET) for name in WHEELS),
        ),
        Key(
            "adjusters",
            "list",
            "what can be turned",
            most=MOST_ADJUSTERS,
            item=Key(
                "adjuster",
                "object",
                "an adjuster",
                required=True,
                keys=(
                    Key("name", "text", "its name", required=True),
                    Key(
                        "effects",
                        "any",
                        "degrees a turn by FL.camber_deg and the like",
                        "°",
                        required=True,
                        read=_effects,
                    ),
                ),
            ),
        ),
    ),
    (
        Key(
            "wheels",
            "object",
            "each with toe_deg, toe_minutes, toe_mm_over_rim (null without over_mm), camber_deg, caster_deg",
        ),
        number_key("front_total_toe_deg", "null with a part missing", "°"),
        number_key("rear_total_toe_deg", "null with a part missing", "°"),
        number_key("thrust_deg", "rear wheels' mean heading, + is left of the centre line", "°"),
        Key("turns", "object", "of each adjuster by name"),
        Key("left_over", "object", "target less angle after the turns; null where the angle was not read"),
    ),
    _alignment,
)


def _square(given: dict[str, Any]) -> dict[str, Any]:
    frame = Frame(
        given["left_mm"],
        given["right_mm"],
        given["front_mm"],
        given["rear_mm"],
        given["front_left_to_rear_right_mm"],
        given["front_right_to_rear_left_mm"],
    )
    sides, diagonals = squareness(frame, given["side_tolerance_mm"], given["diagonal_tolerance_mm"])
    return {
        "sides": sides.as_dict(),
        "diagonals": diagonals.as_dict(),
        "rear_stands_left_mm": frame.rear_stands_left_mm,
        "off_plane_mm": frame.off_plane_mm,
        "move": misread(frame, given["diagonal_tolerance_mm"]) or frame.nudge,
    }


_SQUARE_KEYS = {
    "left_mm": "left side, front mark to rear mark",
    "right_mm": "right side",
    "front_mm": "between the front marks",
    "rear_mm": "between the rear marks",
    "front_left_to_rear_right_mm": "diagonal",
    "front_right_to_rear_left_mm": "the other diagonal",
}
SQUARE = Calculation(
    "square",
    "is a subframe square by four marks, and which way it stands off",
    "plane geometry; tolerances 1/16 in on the sides and 1/8 in on the diagonals, common practice",
    (
        *(number_key(name, words, "mm", 1.0, 20_000.0, required=True) for name, words in _SQUARE_KEYS.items()),
        number_key("side_tolerance_mm", "the sides may differ by", "mm", 0.0, 1000.0, default=SIDE_MM),
        number_key("diagonal_tolerance_mm", "the diagonals may differ by", "mm", 0.0, 1000.0, default=DIAGONAL_MM),
    ),
    (
        Key("sides", "object", "judgement: left with right; tight beyond half the tolerance"),
        Key("diagonals", "object", "judgement: one with the other"),
        number_key("rear_stands_left_mm", "of square under the front pair; + is left"),
        number_key(
            "off_plane_mm",
            "front_left_to_rear_right as read less what the other five give; beyond 2 × tolerance: misread or twisted",
        ),
        Key("move", "text", "which way to nudge it, or which reading to take again"),
    ),
    _square,
)

SETTING = {one.name: one for one in (CASTER_SWEEP, ALIGNMENT, SQUARE)}
