"""The steering's part of the command line: rack and wheels, centring, rods, shafts, sweep, alignment, a square frame."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from rimcore.fastening.bolts import read_thread
from rimcore.quantities.contract import Calculation, Key, number_key
from rimcore.quantities.errors import BadInput, CoreError
from rimcore.ride.calculations import LINKAGE, MOVE_MM, SPAN_MM, hard_points, number_list, number_or_none, point_key
from rimcore.ride.points import HardPoints
from rimcore.steering.axis import caster_from_sweep_deg
from rimcore.steering.rack import (
    CENTRED_MM,
    ROD_DIAMETERS,
    SPLINE_DIAMETERS,
    TOGGLE_DEG,
    Axle,
    Steered,
    centring,
    engagement,
    joint_angle,
    rod,
    shaft_ratio,
    steered,
    toggle,
    turning_circle_m,
    turns_from_lock,
)
from rimcore.steering.setting import (
    ANGLES,
    DIAGONAL_MM,
    SIDE_MM,
    WHEELS,
    Frame,
    adjusted,
    exact_axis_deg,
    squareness,
    sweep_uncertainty_deg,
    thrust_deg,
    toe_deg,
    toe_mm,
)

ANGLE_DEG, MOST_RACKS, MOST_ADJUSTERS = (-89.0, 89.0), 201, 100

_RACKS = Key(
    "rack_mm", "list", "rack travel, + towards the left: left inner end outboard, right one inboard", "mm",
    item=number_key("rack", "mm", "mm", *MOVE_MM, required=True), most=MOST_RACKS, required=True,
)  # fmt: skip


def _corner(given: Mapping[str, Any], path: str) -> HardPoints:
    try:
        return hard_points(given)
    except CoreError as error:
        raise error.under(path) from error


def _steering(given: dict[str, Any]) -> dict[str, Any]:
    left = _corner(given["left"], "left")
    right = left if given["right"] is None else _corner(given["right"], "right")
    axle = Axle(left, right, given["wheelbase_mm"], given["kingpin_track_mm"])
    racks = number_list(given["rack_mm"], _RACKS, "rack_mm")
    found = steered(axle, racks, given["travel_mm"])
    return {
        "poses": _steered(found), "over_centre": {"rack_left_mm": found.to_left_mm, "rack_right_mm": found.to_right_mm},
        "toggle": toggle(found, given["toggle_wanted_deg"]).as_dict(), "turning_circle_m": turning_circle_m(found, axle.wheelbase_mm),
    }  # fmt: skip


def _steered(found: Steered) -> list[dict[str, Any]]:
    rows = {
        "left_steer_deg": found.left.steer_deg, "right_steer_deg": found.right.steer_deg, "inside_deg": found.inside_deg,
        "outside_deg": found.outside_deg, "ackermann_pct": found.ackermann_pct, "left_toggle_deg": found.left.toggle_margin_deg,
        "right_toggle_deg": found.right.toggle_margin_deg,
    }  # fmt: skip
    return [
        {
            "rack_mm": float(rack), "reached": bool(both),
            **{name: number_or_none(row[place]) if both else None for name, row in rows.items()},
        }
        for place, (rack, both) in enumerate(zip(found.rack_mm, found.reached, strict=True))
    ]  # fmt: skip


STEERING = Calculation(
    "steering",
    "both wheels over rack travel: inside, outside, Ackermann, over centre, turning circle",
    "the links of kinematics; true rolling as Gillespie, Fundamentals of Vehicle Dynamics, ch. 6",
    (
        Key("left", "object", "left corner, as kinematics takes it without travel and rack", keys=LINKAGE, required=True),
        Key("right", "object", "right corner, in its own frame; else the left one mirrored", keys=LINKAGE),
        _RACKS,
        number_key("travel_mm", "held height of both hub-face centres", "mm", *MOVE_MM, default=0.0),
        number_key("wheelbase_mm", "wheelbase", "mm", *SPAN_MM, required=True),
        number_key("kingpin_track_mm", "between the steering axes", "mm", *SPAN_MM, required=True),
        number_key("toggle_wanted_deg", "least angle between rod and steering arm (common practice)", "°", 0.0, 90.0, default=TOGGLE_DEG),
    ),
    (
        Key(
            "poses", "list", "for each rack",
            item=Key(
                "pose", "object", "a pose",
                keys=(
                    number_key("rack_mm", "rack travel"),
                    Key("reached", "boolean", "do both wheels follow; else the rest is null"),
                    number_key("left_steer_deg", "front edge outboard is plus", "°"),
                    number_key("right_steer_deg", "front edge outboard is plus", "°"),
                    number_key("inside_deg", "wheel steered outboard; null in no turn", "°"),
                    number_key("outside_deg", "the other", "°"),
                    number_key("ackermann_pct", "100 is true rolling", "%"),
                    number_key("left_toggle_deg", "rod against steering arm; null for five_link", "°"),
                    number_key("right_toggle_deg", "the same on the right", "°"),
                ),
            ),
        ),
        Key(
            "over_centre", "object", "least rack travel each way at which a wheel can be followed no further; null to 150 mm",
            keys=(number_key("rack_left_mm", "towards the left"), number_key("rack_right_mm", "towards the right")),
        ),
        Key("toggle", "object", "judgement: hit where not reached or in line, tight below what is wanted"),
        number_key("turning_circle_m", "2 L ÷ sin of the largest outside angle; null in no turn", "m"),
    ),
    _steering,
)  # fmt: skip


def _rack_centre(given: dict[str, Any]) -> dict[str, Any]:
    turns, left, right = given["turns_lock_to_lock"], given["left_stick_out_mm"], given["right_stick_out_mm"]
    sticks = left is not None or right is not None
    if turns is None and not sticks:
        raise BadInput("is missing; accepted: turns_lock_to_lock, or left_stick_out_mm and right_stick_out_mm", "turns_lock_to_lock")
    if turns is not None and sticks:
        raise BadInput("turns and stick-out are both given; accepted: one of them", "turns_lock_to_lock")
    if turns is not None:
        return {"turns_from_lock": turns_from_lock(turns), "move_mm": None, "towards": None, "state": None}
    for name, value in (("left_stick_out_mm", left), ("right_stick_out_mm", right)):
        if value is None:
            raise BadInput("is missing; accepted: the stick-out of both sides", name)
    found = centring(left, right, given["tolerance_mm"])
    return {
        "turns_from_lock": None, "move_mm": found.move_mm, "towards": found.towards, "state": "clear" if found.centred else "hit",
    }  # fmt: skip


RACK_CENTRE = Calculation(
    "rack-centre",
    "where the middle of a rack is, by turns or by the rods' stick-out",
    "common practice: half the turns; equal stick-out",
    (
        number_key("turns_lock_to_lock", "turns of the steering wheel", "", 0.0, 100.0),
        number_key("left_stick_out_mm", "left rod out of the rack", "mm", 0.0, 2000.0),
        number_key("right_stick_out_mm", "right rod out of the rack", "mm", 0.0, 2000.0),
        number_key("tolerance_mm", "counts as equal within this", "mm", 0.0, 100.0, default=CENTRED_MM),
    ),
    (
        number_key("turns_from_lock", "turns back from either lock; null without turns", ""),
        number_key("move_mm", "half the difference; null without stick-out"),
        Key("towards", "choice", "away from the longer side", choices=("left", "right", "centred")),
        Key("state", "choice", "clear where centred", choices=("clear", "hit")),
    ),
    _rack_centre,
)


def _tie_rod(given: dict[str, Any]) -> dict[str, Any]:
    found = rod(given["inner_mm"], given["outer_mm"], given["inner_move_mm"])
    thread, length, engaged = given["thread"], given["rod_length_mm"], given["engaged_mm"]
    after = None if engaged is None else engaged - found.change_mm
    diameter = None if thread is None else thread.thread.diameter_mm
    judged = engagement("steer.rod", "Thread of the tie rod", after, diameter, ROD_DIAMETERS, "thread diameter")
    return {
        "length_before_mm": found.before_mm, "length_after_mm": found.after_mm, "change_mm": found.change_mm,
        "new_rod_length_mm": None if length is None else length + found.change_mm, "engaged_after_mm": after,
        "turns_change": None if thread is None else found.turns(thread.thread), "engagement": judged.as_dict(),
    }  # fmt: skip


TIE_ROD = Calculation(
    "tie-rod",
    "length of a tie rod after its inner joint has moved, and the thread that is left engaged if it is not cut",
    "plane geometry; engagement 1.5 × diameter, common practice",
    (
        point_key("inner_mm", "inner joint", required=True),
        point_key("outer_mm", "outer joint", required=True),
        point_key("inner_move_mm", "how far the inner joint moves", required=True),
        number_key("rod_length_mm", "cut length of the threaded rod", "mm", 0.0, 5000.0),
        Key("thread", "text", "M14x1.5, M14 (coarse), 9/16-18", read=read_thread),
        number_key("engaged_mm", "thread engaged now", "mm", 0.0, 1000.0),
    ),
    (
        number_key("length_before_mm", "between the joints"),
        number_key("length_after_mm", "after the move"),
        number_key("change_mm", "after less before"),
        number_key("new_rod_length_mm", "rod and change; null without rod_length_mm"),
        number_key("engaged_after_mm", "if the rod is not cut; null without engaged_mm"),
        number_key("turns_change", "change in turns, + is longer; null without thread", ""),
        Key("engagement", "object", "judgement: tight up to 10 % above what is wanted"),
    ),
    _tie_rod,
)


def _shaft(given: dict[str, Any]) -> dict[str, Any]:
    joints = given["joints"]
    if not joints:
        raise BadInput("is empty; accepted: one to three joints", "joints")
    angles = [joint["angle_deg"] for joint in joints]
    largest, smallest = shaft_ratio(angles, [joint["phase_deg"] for joint in joints])
    judged = engagement("steer.spline", "Spline of the shaft", given["engaged_mm"], given["spline_mm"], SPLINE_DIAMETERS, "spline diameter")
    return {
        "ratio_max": largest, "ratio_min": smallest, "unevenness_pct": 100 * (largest - smallest), "engagement": judged.as_dict(),
        "angle": joint_angle(angles).as_dict(),
    }  # fmt: skip


SHAFT = Calculation(
    "shaft",
    "evenness of a shaft with one to three Cardan joints, all shafts in one plane (other layouts are outside the range), and its engagement",
    "one joint turns between 1/cos β and cos β; angles and engagement common practice",
    (
        Key(
            "joints", "list", "one to three, in order; all shafts lie in one plane", most=3, required=True,
            item=Key(
                "joint", "object", "a joint", required=True,
                keys=(
                    number_key("angle_deg", "between its shafts; below 90", "°", 0.0, 89.999, required=True),
                    number_key(
                        "phase_deg", "its input yoke against the output yoke on the same shaft; 0 in line; ignored for the first", "°",
                        -360.0, 360.0, default=0.0,
                    ),
                ),
            ),
        ),
        number_key("engaged_mm", "spline engaged", "mm", 0.0, 1000.0),
        number_key("spline_mm", "spline's diameter", "mm", 0.001, 500.0),
    ),
    (
        number_key("ratio_max", "last ÷ first shaft's speed, largest over a turn", ""),
        number_key("ratio_min", "smallest over a turn", ""),
        number_key("unevenness_pct", "100 (largest − smallest)", "%"),
        Key("engagement", "object", "judgement: wants one spline diameter"),
        Key("angle", "object", "judgement: tight over 30°, hit over 35°"),
    ),
    _shaft,
)  # fmt: skip


def _sweep(given: dict[str, Any]) -> dict[str, Any]:
    out, into, steer = given["camber_out_deg"], given["camber_in_deg"], given["steer_deg"]
    straight, resolution = given["camber_straight_deg"], given["resolution_deg"]
    pair = None if straight is None else exact_axis_deg(out, into, straight, steer)
    return {
        "caster_deg": caster_from_sweep_deg(out, into, steer),
        "uncertainty_deg": None if resolution is None else sweep_uncertainty_deg(resolution, steer),
        "exact": None if pair is None else {"caster_deg": pair[0], "kpi_deg": pair[1]},
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
        number_key("caster_deg", "small-angle form", "°"),
        number_key("uncertainty_deg", "resolution √2 ÷ (2 sin θ); null without resolution", "°"),
        Key(
            "exact", "object", "null without camber_straight_deg, or where none gives both readings",
            keys=(number_key("caster_deg", "top rearward is plus", "°"), number_key("kpi_deg", "top inboard is plus", "°")),
        ),
    ),
    _sweep,
)  # fmt: skip

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
        "camber_deg": given["camber_deg"], "caster_deg": given["caster_deg"], "toe_deg": toe,
        "toe_minutes": None if toe is None else 60 * toe, "toe_mm_over_rim": None if toe is None or over is None else toe_mm(toe, over),
    }  # fmt: skip


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
        f"{name}.{angle}": one[angle] for name, one in (given["targets"] or {}).items() if one for angle in ANGLES if one[angle] is not None
    }
    adjusters = [(one["name"], one["effects"]) for one in given["adjusters"] or []]
    if len({name for name, _ in adjusters}) < len(adjusters):
        raise BadInput("two adjusters have one name; accepted: names that differ", "adjusters")
    done = adjusted(read, targets, adjusters)
    toes = [wheels.get(name, {}).get("toe_deg") for name in WHEELS]
    front, rear = toes[:2], toes[2:]
    return {
        "wheels": wheels,
        "front_total_toe_deg": None if None in front else sum(toe for toe in front if toe is not None),
        "rear_total_toe_deg": None if None in rear else sum(toe for toe in rear if toe is not None),
        "thrust_deg": None if rear[0] is None or rear[1] is None else thrust_deg(rear[0], rear[1]),
        "turns": dict(done.turns), "left_over": dict(done.left_over),
    }  # fmt: skip


ALIGNMENT = Calculation(
    "alignment",
    "toe in degrees, minutes and millimetres, totals and thrust of four wheels; turns of adjusters that bring angles to their targets",
    "plane geometry; least squares, and the least movement where many serve",
    (
        Key("wheels", "object", "what was read", keys=tuple(Key(name, "object", f"at {name}", keys=_WHEEL) for name in WHEELS), required=True),
        Key("targets", "object", "what is wanted", keys=tuple(Key(name, "object", f"at {name}", keys=_TARGET) for name in WHEELS)),
        Key(
            "adjusters", "list", "what can be turned", most=MOST_ADJUSTERS,
            item=Key(
                "adjuster", "object", "an adjuster", required=True,
                keys=(
                    Key("name", "text", "its name", required=True),
                    Key("effects", "any", "degrees a turn by FL.camber_deg and the like", "°", required=True, read=_effects),
                ),
            ),
        ),
    ),
    (
        Key("wheels", "object", "each with toe_deg, toe_minutes, toe_mm_over_rim (null without over_mm), camber_deg, caster_deg"),
        number_key("front_total_toe_deg", "null with a part missing", "°"),
        number_key("rear_total_toe_deg", "null with a part missing", "°"),
        number_key("thrust_deg", "rear wheels' mean heading, + is left of the centre line", "°"),
        Key("turns", "object", "of each adjuster by name"),
        Key("left_over", "object", "target less angle after the turns; null where the angle was not read"),
    ),
    _alignment,
)  # fmt: skip


def _square(given: dict[str, Any]) -> dict[str, Any]:
    frame = Frame(
        given["left_mm"], given["right_mm"], given["front_mm"], given["rear_mm"], given["front_left_to_rear_right_mm"],
        given["front_right_to_rear_left_mm"],
    )  # fmt: skip
    sides, diagonals = squareness(frame, given["side_tolerance_mm"], given["diagonal_tolerance_mm"])
    return {
        "sides": sides.as_dict(),
        "diagonals": diagonals.as_dict(),
        "rear_stands_left_mm": frame.rear_stands_left_mm,
        "move": frame.move,
    }


_SQUARE_KEYS = {
    "left_mm": "left side, front mark to rear mark", "right_mm": "right side", "front_mm": "between the front marks", "rear_mm": "between the rear marks",
    "front_left_to_rear_right_mm": "diagonal", "front_right_to_rear_left_mm": "the other diagonal",
}  # fmt: skip
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
        Key("move", "text", "which way to nudge it"),
    ),
    _square,
)

STEER = {one.name: one for one in (STEERING, RACK_CENTRE, TIE_ROD, SHAFT, CASTER_SWEEP, ALIGNMENT, SQUARE)}
