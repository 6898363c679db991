"""The calculations of the wheel in motion, for the command line."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

import numpy as np

from rimcore.quantities.contract import Calculation, Key, number_key
from rimcore.quantities.errors import BadInput, CoreError
from rimcore.well.judge.clearance import Gap, Sweep, sweep
from rimcore.well.judge.unknown import FOR_EVERY_AXIS, Usual, Usuals, depends, state_of_usual, unknown_of
from rimcore.well.solid.wheel_plane import Hinge, Thing, Well
from rimcore.wheels.keys import CAMBER, SPACER, TYRE_KEY, WHEEL_KEY
from rimcore.wheels.outline import outline
from rimcore.wheels.section import check_outline
from rimcore.wheels.tyre import Tyre
from rimcore.wheels.wheel import Wheel

#: margins when none are given [mm]: those of the Daily set (common practice)
BODY_MARGIN_MM, KNUCKLE_MARGIN_MM = 10.0, 5.0
#: most points of all obstacles together
MOST_POINTS = 5000

COORDINATE = number_key("coordinate", "mm", "mm", -5000, 5000, required=True)
_POINT = Key("point", "list", "x, y, z in mm", item=COORDINATE, most=3, required=True)


def _points(given: list[list[float]]) -> list[list[float]]:
    for place, point in enumerate(given):
        if len(point) != 3:
            raise BadInput("a point has three coordinates: x forward, y outboard, z up, in mm", str(place))
    return given


_OBSTACLE = Key(
    "obstacle",
    "object",
    "an obstacle",
    required=True,
    keys=(
        Key("name", "text", "its name", required=True),
        Key(
            "frame",
            "choice",
            "body: fixed in the car; knuckle: rides with the wheel, in hub axes; arm: in body axes at the measured height, turns about its pivot",
            choices=("body", "knuckle", "arm"),
            required=True,
        ),
        Key("pivot_mm", "list", "of an arm: inner pivot [y, z] in body axes", "mm", item=COORDINATE, most=2),
        Key(
            "joint_mm",
            "list",
            "of an arm: outer joint [y, z] at the measured ride height",
            "mm",
            item=COORDINATE,
            most=2,
        ),
        Key("points_mm", "list", "points [x, y, z]", "mm", item=_POINT, required=True, most=2000, read=_points),
        number_key("radius_mm", "radius of each point", "mm", 0, 1000, default=0.0),
    ),
)
_PROFILE_POINT = Key(
    "point",
    "list",
    "across and radius in mm",
    item=number_key("value", "mm", "mm", -2000, 2000, required=True),
    most=2,
    required=True,
)


def _profile(given: list[list[float]]) -> Any:
    for place, point in enumerate(given):
        if len(point) != 2:
            raise BadInput("a vertex has two values: across from the centre plane, and radius, in mm", str(place))
    return check_outline(given)


PROFILE = Key(
    "profile_mm",
    "list",
    "closed half section of wheel and tyre together, replaces the built-in one",
    "mm",
    item=_PROFILE_POINT,
    most=2000,
    read=_profile,
)


GRID = Key(
    "grid",
    "object",
    "values of the map, ends included",
    keys=(
        Key("steer", "integer", "steering values", "", 1, 361, default=61),
        Key("travel", "integer", "travel values", "", 1, 361, default=41),
    ),
    default={"steer": 61, "travel": 41},
)
_MARGINS = Key(
    "margins",
    "object",
    "what is wanted",
    keys=(
        number_key("body_mm", "to obstacles on the body", "mm", 0, 500, default=BODY_MARGIN_MM),
        number_key("knuckle_mm", "to obstacles on the knuckle", "mm", 0, 500, default=KNUCKLE_MARGIN_MM),
    ),
    default={"body_mm": BODY_MARGIN_MM, "knuckle_mm": KNUCKLE_MARGIN_MM},
)
MOTION_KEYS = (
    SPACER,
    CAMBER,
    number_key(
        "camber_gain_deg_per_mm",
        "camber per mm of bump, usually negative; unknown when absent: gaps are then also reckoned over what is usual",
        "deg/mm",
        -1,
        1,
    ),
    number_key("bump_mm", "bump from the measured ride height", "mm", 0, 500),
    number_key("droop_mm", "droop from the measured ride height", "mm", 0, 500),
    number_key("ride_drop_mm", "where the static pose sits", "mm", -500, 500, default=0.0),
    number_key("steer_out_deg", "lock, front edge outboard", "deg", 0, 80),
    number_key("steer_in_deg", "lock, front edge inboard", "deg", 0, 80),
    number_key("kpi_deg", "kingpin inclination, top inboard positive; unknown when absent", "deg", -30, 30),
    number_key("caster_deg", "top rearward positive; unknown when absent", "deg", -30, 30),
    number_key(
        "kingpin_inboard_mm", "mounting face to the steering axis at hub height; unknown when absent", "mm", -300, 500
    ),
    GRID,
    Key("obstacles", "list", "what the wheel may meet", item=_OBSTACLE, required=True, most=500),
    _MARGINS,
)

#: without these nobody knows how far the wheel moves
RANGE = ("bump_mm", "droop_mm", "steer_out_deg", "steer_in_deg")
_ASSUMED = ("camber_gain_deg_per_mm", "kpi_deg", "caster_deg", "kingpin_inboard_mm")


def well_given(given: dict[str, Any], offset_mm: float) -> Well:
    """How the wheel stands and moves, from the keys of a calculation.

    What is absent counts as 0 and is listed beside.
    """
    known: dict[str, Any] = {name: given[name] or 0.0 for name in (*RANGE, *_ASSUMED)}
    return Well(
        given["spacer_mm"] - offset_mm, camber_deg=given["camber_deg"], ride_drop_mm=given["ride_drop_mm"], **known
    )


def things_given(given: list[dict[str, Any]]) -> list[Thing]:
    """Obstacles from the keys of a calculation."""
    if not given:
        raise BadInput("no obstacles; accepted: at least one with a point", "obstacles")
    for place, one in enumerate(given):
        if not one["points_mm"]:
            raise BadInput("an obstacle needs at least one point", f"obstacles.{place}.points_mm")
    if sum(len(one["points_mm"]) for one in given) > MOST_POINTS:
        raise BadInput(f"too many points; accepted: {MOST_POINTS} in all", "obstacles")
    return [
        Thing(
            one["name"],
            one["frame"],
            np.array(one["points_mm"], dtype=float),
            one["radius_mm"],
            _hinge(one, f"obstacles.{place}"),
        )
        for place, one in enumerate(given)
    ]


def check_reach(given: dict[str, Any], things: list[Thing]) -> None:
    """An arm that is told to travel beyond its length is bad input at that travel."""
    for thing in things:
        if thing.hinge is None:
            continue
        reached = thing.hinge.reaches(given["droop_mm"] or 0.0, given["bump_mm"] or 0.0)
        for name, reaches in zip(("droop_mm", "bump_mm"), reached, strict=True):
            if not reaches:
                most = thing.hinge.length_mm - abs(thing.hinge.joint_mm[1] - thing.hinge.pivot_mm[1])
                raise BadInput(
                    f"{given[name]:g} mm is beyond what the arm “{thing.name}” of {thing.hinge.length_mm:.0f} mm can follow; "
                    f"accepted: a travel within its reach ({most:.0f} mm and more the other way)",
                    name,
                )


def _hinge(one: dict[str, Any], where: str) -> Hinge | None:
    """The hinge of an arm; the other frames have none."""
    for name in ("pivot_mm", "joint_mm"):
        if one["frame"] != "arm" and one[name] is not None:
            raise BadInput("belongs to an obstacle on an arm only", f"{where}.{name}")
        if one["frame"] == "arm" and (one[name] is None or len(one[name]) != 2):
            raise BadInput("an arm needs [y, z] in mm", f"{where}.{name}")
    if one["frame"] != "arm":
        return None
    try:
        return Hinge(tuple(one["pivot_mm"]), tuple(one["joint_mm"]))
    except BadInput as error:
        raise BadInput(error.message, f"{where}.{error.field}") from error


def outline_of(given: dict[str, Any], wheel: Wheel, tyre: tuple[Tyre, float | None] | None) -> Any:
    if given["profile_mm"] is not None:
        return given["profile_mm"]
    if tyre is None:
        raise BadInput("is missing; accepted: a tyre, or profile_mm", "tyre")
    try:
        return outline(wheel, *tyre).polygon()
    except CoreError as error:
        raise BadInput(error.message, "tyre") from error


def _clearance(given: dict[str, Any]) -> dict[str, Any]:
    wheel: Wheel = given["wheel"]
    if wheel.offset_mm is None:
        raise BadInput("is missing; accepted: an offset, as +22 or ET22", "wheel.offset_mm")
    missing = [name for name in RANGE if given[name] is None]
    grid, margins = given["grid"], given["margins"]
    shape, things, well = (
        outline_of(given, wheel, given["tyre"]),
        things_given(given["obstacles"]),
        well_given(given, wheel.offset_mm),
    )
    check_reach(given, things)
    found = sweep(shape, well, things, margins["body_mm"], margins["knuckle_mm"], grid["steer"], grid["travel"])
    unknown = () if missing else unknown_given(given)
    ranges = usual_ranges(shape, well, things, [gap.gap_mm for gap in found.gaps], unknown)
    rows = [
        _row(gap, bool(missing) and thing.frame != "knuckle", usual)
        for gap, thing, usual in zip(found.gaps, things, ranges, strict=True)
    ]
    answer: dict[str, Any] = {"obstacles": rows, "tightest": _tightest(rows)}
    answer["assumed"] = [f"{name} = 0" for name in _ASSUMED if given[name] is None]
    answer["missing"] = missing or _to_measure(ranges, rows)
    answer["narrows"] = [{"name": name, "by_mm": by} for name, by in narrowing(ranges)]
    answer |= _map(found) if not missing else {"map": None, "contact_free_steer_deg": None}
    return answer


def unknown_given(given: dict[str, Any]) -> tuple[str, ...]:
    """What of steering axis and camber gain is absent and matters over the range that is given."""
    steers = (given["steer_out_deg"] or 0.0) + (given["steer_in_deg"] or 0.0) > 0
    return unknown_of(given, steers, (given["bump_mm"] or 0.0) + (given["droop_mm"] or 0.0) > 0)


def usual_ranges(
    outline_mm: Any, well: Well, things: list[Thing], gaps_mm: list[float], unknown: tuple[str, ...]
) -> list[Usual | None]:
    """Of every obstacle the gap over all usual axes; None where it doesn't depend on what is unknown."""
    moving = [k for k, thing in enumerate(things) if thing.frame != "knuckle"]
    found: list[Usual | None] = [None] * len(things)
    if unknown and moving:
        ranges = Usuals(well, [things[k] for k in moving], unknown).ranges(outline_mm, well.centre_mm)
        for k, one in zip(moving, ranges, strict=True):
            found[k] = depends(one, gaps_mm[k])
    return found


def narrowing(ranges: Sequence[Usual | None]) -> list[tuple[str, float]]:
    """What is unknown, by how much measuring it narrows the range of the obstacle that gains most [mm]; most first.

    >>> narrowing([Usual(0.0, 9.0, (("kpi_deg", 2.0), ("caster_deg", 5.0))), None])
    [('caster_deg', 5.0), ('kpi_deg', 2.0)]
    """
    most: dict[str, float] = {}
    for one in ranges:
        for name, by in one.narrows if one is not None else ():
            most[name] = max(by, most.get(name, 0.0))
    return sorted(most.items(), key=lambda item: -item[1])


def _to_measure(ranges: Sequence[Usual | None], rows: list[dict[str, Any]]) -> list[str]:
    """Keys that would have to be given before every state is known, most useful first."""
    open_ = [one for one, row in zip(ranges, rows, strict=True) if row["state"] == "unmeasured"]
    return [name for name, _ in narrowing(open_)]


def _row(gap: Gap, unknown: bool, usual: Usual | None) -> dict[str, Any]:
    """An obstacle's answer; where the range is not known only a contact at rest is."""
    row: dict[str, Any] = {
        "name": gap.name,
        "gap_mm": gap.gap_mm,
        "at": {"steer_deg": gap.steer_deg, "travel_mm": gap.travel_mm},
    }
    row |= {
        "static_gap_mm": gap.static_gap_mm,
        "state": gap.state,
        "margin_left_mm": gap.margin_left_mm,
        "range_mm": None,
    }
    if unknown:
        return row | {
            "gap_mm": None,
            "at": None,
            "state": "hit" if gap.static_gap_mm < 0 else "unmeasured",
            "margin_left_mm": None,
            "basis": "the range of steer and travel is not measured",
            "missing": [],
        }
    if usual is None:
        return row | {"basis": "the user's own measurement", "missing": []}
    state = state_of_usual(usual.lo_mm, usual.hi_mm, gap.margin_mm)
    missing = [name for name, _ in usual.narrows] if state == "unmeasured" else []
    return row | {"state": state, "range_mm": [usual.lo_mm, usual.hi_mm], "basis": FOR_EVERY_AXIS, "missing": missing}


def _tightest(rows: list[dict[str, Any]]) -> dict[str, Any] | None:
    known = [row for row in rows if row["gap_mm"] is not None]
    if not known:
        return None
    least = min(known, key=lambda row: row["margin_left_mm"])
    return {name: least[name] for name in ("name", "gap_mm", "margin_left_mm", "at")}


def _map(found: Sweep) -> dict[str, Any]:
    if found.map_mm is None or found.free_out_deg is None or found.free_in_deg is None:
        return {"map": None, "contact_free_steer_deg": None}
    free = zip(found.travel_mm.tolist(), found.free_out_deg.tolist(), found.free_in_deg.tolist(), strict=True)
    return {
        "map": {
            "steer_deg": found.steer_deg.tolist(),
            "travel_mm": found.travel_mm.tolist(),
            "gap_mm": found.map_mm.tolist(),
        },
        "contact_free_steer_deg": [{"travel_mm": travel, "out": out, "in": inn} for travel, out, inn in free],
    }


CLEARANCE = Calculation(
    "clearance",
    "the wheel through steering and travel: smallest gap to every obstacle",
    "geometry of the corner frame; the user's own measurements; outline ISO 4000-1 and common practice",
    (WHEEL_KEY, TYRE_KEY, PROFILE, *MOTION_KEYS),
    (
        Key(
            "obstacles",
            "list",
            "per obstacle: name, gap_mm (with what is absent as 0), at {steer_deg, travel_mm}, static_gap_mm, state, margin_left_mm, "
            "range_mm [worst, best] over every usual axis or null where it does not depend on what is absent, basis, missing",
        ),
        Key("tightest", "object", "name, gap_mm, margin_left_mm, at; chosen by gap less its margin"),
        Key("map", "object", "steer_deg, travel_mm, gap_mm [travel][steer] of the tightest body obstacle"),
        Key("contact_free_steer_deg", "list", "per travel: travel_mm, out, in"),
        Key("assumed", "list", "what was taken as 0 in gap_mm and map without being given"),
        Key(
            "narrows",
            "list",
            "what of axis and gain is absent, with how much giving it narrows the widest range: name, by_mm",
        ),
        Key("missing", "list", "what would have to be measured for a judgement"),
    ),
    _clearance,
)


MOTION = {one.name: one for one in (CLEARANCE,)}
