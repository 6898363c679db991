"""The steering's part of the command line: rack and wheels, centring, rods, shafts."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from rimcore.fastening.bolts import read_thread
from rimcore.quantities.contract import Calculation, Key, number_key
from rimcore.quantities.errors import BadInput, CoreError
from rimcore.ride.calculations import LINKAGE, MOVE_MM, SPAN_MM, hard_points, number_list, number_or_none, point_key
from rimcore.ride.points import HardPoints
from rimcore.steering.rack import (
    CENTRED_MM,
    ROD_DIAMETERS,
    SPLINE_DIAMETERS,
    TOGGLE_DEG,
    Axle,
    Steered,
    centring,
    engaged_after_mm,
    engagement,
    joint_angle,
    no_rod_left,
    rod,
    shaft_ratio,
    steered,
    toggle,
    turning_circle_m,
    turns_from_lock,
)

MOST_RACKS = 201

_RACKS = Key(
    "rack_mm",
    "list",
    "rack travel, + towards the left: left inner end outboard, right one inboard",
    "mm",
    item=number_key("rack", "mm", "mm", *MOVE_MM, required=True),
    most=MOST_RACKS,
    required=True,
)


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
        "poses": _steered(found),
        "over_centre": {"rack_left_mm": found.to_left_mm, "rack_right_mm": found.to_right_mm},
        "toggle": toggle(found, given["toggle_wanted_deg"]).as_dict(),
        "turning_circle_m": turning_circle_m(found, axle.wheelbase_mm),
    }


def _steered(found: Steered) -> list[dict[str, Any]]:
    rows = {
        "left_steer_deg": found.left.steer_deg,
        "right_steer_deg": found.right.steer_deg,
        "inside_deg": found.inside_deg,
        "outside_deg": found.outside_deg,
        "ackermann_pct": found.ackermann_pct,
        "left_toggle_deg": found.left.toggle_margin_deg,
        "right_toggle_deg": found.right.toggle_margin_deg,
    }
    return [
        {
            "rack_mm": float(rack),
            "reached": bool(both),
            **{name: number_or_none(row[place]) if both else None for name, row in rows.items()},
        }
        for place, (rack, both) in enumerate(zip(found.rack_mm, found.reached, strict=True))
    ]


STEERING = Calculation(
    "steering",
    "both wheels over rack travel: inside, outside, Ackermann, over centre, turning circle",
    "the links of kinematics; true rolling as Gillespie, Fundamentals of Vehicle Dynamics, ch. 6",
    (
        Key(
            "left", "object", "left corner, as kinematics takes it without travel and rack", keys=LINKAGE, required=True
        ),
        Key("right", "object", "right corner, in its own frame; else the left one mirrored", keys=LINKAGE),
        _RACKS,
        number_key("travel_mm", "held height of both hub-face centres", "mm", *MOVE_MM, default=0.0),
        number_key("wheelbase_mm", "wheelbase", "mm", *SPAN_MM, required=True),
        number_key("kingpin_track_mm", "between the steering axes", "mm", *SPAN_MM, required=True),
        number_key(
            "toggle_wanted_deg",
            "least angle between rod and steering arm (common practice)",
            "°",
            0.0,
            90.0,
            default=TOGGLE_DEG,
        ),
    ),
    (
        Key(
            "poses",
            "list",
            "for each rack",
            item=Key(
                "pose",
                "object",
                "a pose",
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
            "over_centre",
            "object",
            "least rack travel each way at which a wheel can be followed no further; null to 150 mm",
            keys=(number_key("rack_left_mm", "towards the left"), number_key("rack_right_mm", "towards the right")),
        ),
        Key("toggle", "object", "judgement: hit where not reached or in line, tight below what is wanted"),
        number_key("turning_circle_m", "2 L ÷ sin of the largest outside angle; null in no turn", "m"),
    ),
    _steering,
)


def _rack_centre(given: dict[str, Any]) -> dict[str, Any]:
    turns, left, right = given["turns_lock_to_lock"], given["left_stick_out_mm"], given["right_stick_out_mm"]
    sticks = left is not None or right is not None
    if turns is None and not sticks:
        raise BadInput(
            "is missing; accepted: turns_lock_to_lock, or left_stick_out_mm and right_stick_out_mm",
            "turns_lock_to_lock",
        )
    if turns is not None and sticks:
        raise BadInput("turns and stick-out are both given; accepted: one of them", "turns_lock_to_lock")
    if turns is not None:
        return {"turns_from_lock": turns_from_lock(turns), "move_mm": None, "towards": None, "state": None}
    for name, value in (("left_stick_out_mm", left), ("right_stick_out_mm", right)):
        if value is None:
            raise BadInput("is missing; accepted: the stick-out of both sides", name)
    found = centring(left, right, given["tolerance_mm"])
    return {
        "turns_from_lock": None,
        "move_mm": found.move_mm,
        "towards": found.towards,
        "state": "clear" if found.centred else "hit",
    }


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
    after = engaged_after_mm(engaged, found.change_mm, length)
    diameter = None if thread is None else thread.thread.diameter_mm
    judged = engagement("steer.rod", "Thread of the tie rod", after, diameter, ROD_DIAMETERS, "thread diameter")
    if length is not None and length + found.change_mm <= 0:
        judged = no_rod_left("steer.rod", "Thread of the tie rod", length, found.change_mm)
    return {
        "length_before_mm": found.before_mm,
        "length_after_mm": found.after_mm,
        "change_mm": found.change_mm,
        "new_rod_length_mm": None if length is None else length + found.change_mm,
        "engaged_after_mm": after,
        "turns_change": None if thread is None else found.turns(thread.thread),
        "engagement": judged.as_dict(),
    }


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
        number_key("engaged_after_mm", "if the rod is not cut, never more than the rod; null without engaged_mm"),
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
    judged = engagement(
        "steer.spline",
        "Spline of the shaft",
        given["engaged_mm"],
        given["spline_mm"],
        SPLINE_DIAMETERS,
        "spline diameter",
    )
    return {
        "ratio_max": largest,
        "ratio_min": smallest,
        "unevenness_pct": 100 * (largest - smallest),
        "engagement": judged.as_dict(),
        "angle": joint_angle(angles).as_dict(),
    }


SHAFT = Calculation(
    "shaft",
    "evenness of a shaft with one to three Cardan joints, all shafts in one plane (other layouts are outside the range), and its engagement",
    "one joint turns between 1/cos β and cos β; angles and engagement common practice",
    (
        Key(
            "joints",
            "list",
            "one to three, in order; all shafts lie in one plane",
            most=3,
            required=True,
            item=Key(
                "joint",
                "object",
                "a joint",
                required=True,
                keys=(
                    number_key("angle_deg", "between its shafts; below 90", "°", 0.0, 89.999, required=True),
                    number_key(
                        "phase_deg",
                        "its input yoke against the output yoke on the same shaft; 0 in line; ignored for the first",
                        "°",
                        -360.0,
                        360.0,
                        default=0.0,
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
)


STEER = {one.name: one for one in (STEERING, RACK_CENTRE, TIE_ROD, SHAFT)}
