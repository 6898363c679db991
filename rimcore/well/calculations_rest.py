"""Where the rule went and what it would read, for the command line."""

from __future__ import annotations

from dataclasses import replace
from typing import Any

from rimcore.quantities.contract import Calculation, Key, number_key
from rimcore.quantities.errors import BadInput
from rimcore.well.solid import gap as gaps
from rimcore.well.solid.pose import Pose
from rimcore.wheels.fitted import Fitted
from rimcore.wheels.keys import CAMBER, NEEDED_TYRE, SPACER, WHEEL_KEY

STATION_KEYS = (
    Key("place", "choice", "where the rule went", required=True, choices=gaps.PLACES),
    number_key("height_mm", "above the hub's centre (damper, rail, arm)", "mm", -600, 600),
    number_key("u_mm", "across the tyre from its centre plane, outboard positive (perch)", "mm", -300, 300),
    number_key("clock", "hour on the clock face, 9 over 12 to 3; 12 = top, 3 = front (arch)", "h", 0, 12),
    number_key("side_gap_mm", "lip sideways from the outer sidewall (arch)", "mm", -300, 1000),
    number_key("up_gap_mm", "lip away from the tread (arch)", "mm", -300, 1000),
    Key("edge", "choice", "which edge of the tyre (liner, rail, arm)", choices=("front", "rear")),
    Key("u", "choice", "where across the tread (liner)", choices=("inner", "centre", "outer")),
    number_key("radius_mm", "largest radius from the hub's centre (caliper, joint)", "mm", 0, 600),
    number_key("face_mm", "how far the caliper stands beyond the mounting face", "mm", -300, 300),
    number_key("inner_face_mm", "its inner end", "mm", -300, 300),
    number_key("from_mm", "start inboard of the mounting face (joint)", "mm", -300, 600),
    number_key("to_mm", "end inboard of the mounting face (joint)", "mm", -300, 600),
    Key("strut", "boolean", "the damper is a strut, fixed to the knuckle", default=True),
)
FITTED_KEYS = (WHEEL_KEY, NEEDED_TYRE, SPACER, CAMBER)


def fitted_of(given: dict[str, Any]) -> Fitted:
    """What stands on a corner, from an object of keys.

    A tyre that does not go on the wheel is refused with its field.
    """
    tyre, measured = given["tyre"]
    fitted = Fitted(given["wheel"], tyre, given["spacer_mm"], given["camber_deg"], measured)
    if given["wheel"].offset_mm is None:
        raise BadInput("is missing; accepted: an offset, as +22 or ET22", "wheel.offset_mm")
    fitted.outline  # noqa: B018  a tyre that does not go on the wheel is refused here, with its field
    return fitted


POSE_KEYS = (
    number_key("steer_deg", "front edge outboard is positive", "deg", -60, 60, default=0.0),
    number_key("travel_mm", "bump positive", "mm", -500, 500, default=0.0),
)
_KINGPIN_KEYS = (
    number_key("kpi_deg", "kingpin inclination, top inboard positive; 0 when absent", "deg", -30, 30),
    number_key("caster_deg", "top rearward positive; 0 when absent", "deg", -30, 30),
    number_key(
        "kingpin_inboard_mm", "mounting face to the steering axis at hub height; 0 when absent", "mm", -300, 500
    ),
    number_key("camber_gain_deg_per_mm", "camber per mm of bump; 0 when absent", "deg/mm", -1, 1),
)


def _gap(given: dict[str, Any]) -> dict[str, Any]:
    station: gaps.Station = given["station"]
    reading = given["gap_mm"]
    if reading is None and station.place not in ("arch", "caliper", "joint"):
        raise BadInput("is missing; accepted: the reading in mm", "gap_mm")
    present, pose = _standing(given, given["present"])
    obstacle = gaps.place_obstacle(present, station, reading, pose)
    answer: dict[str, Any] = {"frame": obstacle.frame, "points_mm": obstacle.points_mm.tolist(), "kind": obstacle.kind}
    answer["assumed"] = _assumed(given)
    if given["candidate"] is None:
        return answer
    if obstacle.kind in ("caliper", "joint"):
        reason = "against the barrel nothing is known until the candidate's barrel or its brake template is measured"
        return answer | {"new_gap_mm": None, "state": "unmeasured", "reason": reason}
    again = gaps.read_again(obstacle, station, *_standing(given, given["candidate"]))
    answer["new_gap_mm"] = again.gap_mm
    if again.side_gap_mm is not None:
        answer |= {"new_side_gap_mm": again.side_gap_mm, "new_up_gap_mm": again.up_gap_mm}
    return answer


def _standing(given: dict[str, Any], fitted: Fitted) -> tuple[Fitted, Pose]:
    """What stands on the corner with its camber at the pose's travel, and the pose."""
    steer, travel = given["pose"]["steer_deg"], given["pose"]["travel_mm"]
    camber = fitted.camber_deg + (given["camber_gain_deg_per_mm"] or 0.0) * travel
    pose = Pose(
        camber, steer, travel, given["kpi_deg"] or 0.0, given["caster_deg"] or 0.0, given["kingpin_inboard_mm"] or 0.0
    )
    return replace(fitted, camber_deg=camber), pose


def _assumed(given: dict[str, Any]) -> list[str]:
    """What was taken as 0 although it was not given and the pose needs it."""
    steered = ("kpi_deg", "caster_deg", "kingpin_inboard_mm") if given["pose"]["steer_deg"] else ()
    moved = ("camber_gain_deg_per_mm",) if given["pose"]["travel_mm"] else ()
    return [f"{name} = 0" for name in (*steered, *moved) if given[name] is None]


GAP = Calculation(
    "gap",
    "places an obstacle from a reading; with a candidate, the gap the same rule would read",
    "geometry of the corner frame; the user's own measurement",
    (
        Key(
            "present",
            "object",
            "what was on the car when the rule was held",
            required=True,
            keys=FITTED_KEYS,
            read=fitted_of,
        ),
        Key("pose", "object", "how the wheel stood", keys=POSE_KEYS, default={"steer_deg": 0.0, "travel_mm": 0.0}),
        Key(
            "station",
            "object",
            "where the rule went",
            required=True,
            keys=STATION_KEYS,
            read=lambda given: gaps.Station(**given),
        ),
        number_key("gap_mm", "the reading; not for arch, caliper and joint", "mm", -300, 2000),
        Key("candidate", "object", "what would stand there", keys=FITTED_KEYS, read=fitted_of),
        *_KINGPIN_KEYS,
    ),
    (
        Key("frame", "choice", "axes of the points", choices=("body", "knuckle")),
        Key("points_mm", "list", "points x forward, y outboard, z up", "mm"),
        Key("kind", "text", "the place"),
        Key("assumed", "list", "what was taken as 0 without being given"),
        number_key("new_gap_mm", "with the candidate, at the same pose; null where it can't be known"),
        number_key("new_side_gap_mm", "arch, sideways"),
        number_key("new_up_gap_mm", "arch, upward"),
    ),
    _gap,
)

AT_REST = {GAP.name: GAP}
