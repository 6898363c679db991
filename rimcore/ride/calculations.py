"""The ride's part of the command line: springs and links."""

from __future__ import annotations

import math
from collections.abc import Mapping
from typing import Any

from rimcore.quantities.contract import Calculation, Key, number_key
from rimcore.quantities.errors import BadInput
from rimcore.ride.curves import Curves, curves
from rimcore.ride.points import LAYOUTS, HardPoints, Layout, SpringAt, Wheel, five_points
from rimcore.ride.springs import Coil, Sprung, Stack

#: ranges of what is accepted; > 0 wherever something is divided by it
RATE, LENGTH_MM, LOAD_KG, RATIO, RADIUS_MM = (
    (0.001, 100_000.0),
    (0.0, 5000.0),
    (0.0, 20_000.0),
    (0.001, 100.0),
    (1.0, 2000.0),
)
SPAN_MM, MOVE_MM, COORDINATE_MM, ANGLE_DEG = (1.0, 20_000.0), (-500.0, 500.0), (-5000.0, 5000.0), (-89.0, 89.0)
MOST_POSES = 201

_COIL = (
    number_key("rate_N_per_mm", "rate of the coil", "N/mm", *RATE, required=True),
    number_key("free_length_mm", "length at rest", "mm", 0.001, 5000.0, required=True),
    number_key(
        "block_length_mm", "length with every coil on the next; below the free length", "mm", *LENGTH_MM, required=True
    ),
)


def _coil(given: Mapping[str, Any]) -> Coil:
    return Coil(given["rate_N_per_mm"], given["free_length_mm"], given["block_length_mm"])


def _spring(given: dict[str, Any]) -> dict[str, Any]:
    helper = None if given["helper"] is None else _helper(given["helper"])
    on = Sprung(
        Stack(_coil(given), helper),
        given["corner_kg"],
        given["unsprung_kg"],
        given["motion_ratio"],
        given["preload_mm"],
    )
    up = given["perch_up_mm"]
    return {
        "static_force_N": on.static_force_n,
        "deflection_mm": on.deflection_mm,
        "preload_N": on.preload_n,
        "topped_out": on.topped_out,
        "droop_mm": on.droop_mm,
        "wheel_rate_N_per_mm": on.wheel_rate_n_per_mm,
        "natural_frequency_hz": on.natural_frequency_hz,
        "bump_to_block_mm": on.bump_to_block_mm,
        "coil_bind": on.coil_bind(given["bump_mm"]).as_dict(),
        "helper_closed": on.helper_closed,
        "ride_height_change_mm": None if up is None else on.height_change_mm(up),
        "rate_kgf_per_mm": on.stack.main.rate_kgf_per_mm,
        "rate_lbf_per_in": on.stack.main.rate_lbf_per_in,
    }


def _helper(given: Mapping[str, Any]) -> Coil:
    try:
        return _coil(given)
    except BadInput as error:
        raise error.under("helper") from error


SPRING = Calculation(
    "spring",
    "force, deflection, frequency and coil bind of a spring, with or without a helper, on its corner",
    "springs in series; wheel rate = rate × motion ratio² (Milliken & Milliken, Race Car Vehicle Dynamics, ch. 16); g = 9.80665 m/s² (CGPM 1901)",
    (
        *_COIL,
        number_key(
            "preload_mm", "compression of the stack with the damper at full extension", "mm", *LENGTH_MM, default=0.0
        ),
        number_key("motion_ratio", "spring movement ÷ wheel movement", "", *RATIO, default=1.0),
        number_key("corner_kg", "on the pad", "kg", 0.001, 20_000.0, required=True),
        number_key("unsprung_kg", "of it, what moves with the wheel", "kg", *LOAD_KG, default=0.0),
        Key("helper", "object", "a helper in series; solid first", keys=_COIL),
        number_key("bump_mm", "wheel travel from ride height to the stop", "mm", *LENGTH_MM),
        number_key("perch_up_mm", "how far the perch goes up, minus is down", "mm", -1000.0, 1000.0),
    ),
    (
        number_key("static_force_N", "force in the spring that carries the corner", "N"),
        number_key("deflection_mm", "of the whole stack, from free to ride height"),
        number_key("preload_N", "force of the stack at full extension", "N"),
        Key("topped_out", "boolean", "the damper stands at full extension"),
        number_key("droop_mm", "at the wheel, to full extension"),
        number_key("wheel_rate_N_per_mm", "at ride height", "N/mm"),
        number_key("natural_frequency_hz", "of the body on this corner; null while topped out", "Hz"),
        number_key("bump_to_block_mm", "at the wheel, until every coil is solid"),
        Key(
            "coil_bind", "object", "judgement: room between bump stop and coil bind; tight under 5 mm (common practice)"
        ),
        Key("helper_closed", "boolean", "is the helper solid at ride height; null without one"),
        number_key("ride_height_change_mm", "of the perch; null without perch_up_mm"),
        number_key("rate_kgf_per_mm", "the main spring's rate", "kgf/mm"),
        number_key("rate_lbf_per_in", "the main spring's rate", "lbf/in"),
    ),
    _spring,
)


def point_of(given: list[float]) -> tuple[float, float, float]:
    """Three coordinates.

    >>> point_of([1.0, 2.0, 3.0])
    (1.0, 2.0, 3.0)
    """
    if len(given) != 3:
        raise BadInput("a point has three coordinates: x forward, y outboard, z up, in mm")
    return given[0], given[1], given[2]


def point_key(name: str, meaning: str, **more: Any) -> Key:
    """A point of the corner frame."""
    coordinate = number_key("coordinate", "mm", "mm", *COORDINATE_MM, required=True)
    return Key(name, "list", f"{meaning}: [x, y, z]", "mm", item=coordinate, most=3, read=point_of, **more)


def _links_of(links: list[Any]) -> list[Any]:
    for place, link in enumerate(links):
        if len(link) != 2:
            raise BadInput("a link is [[inner], [outer]]", str(place))
    if len(links) != 5:
        raise BadInput(f"{len(links)} links; accepted: five, the fifth is the one that the rack or toe link moves")
    return links


_END = point_key("end", "inner or outer end", required=True)
_LINKS = Key(
    "links",
    "list",
    "five links [[inner], [outer]] of five_link",
    item=Key("link", "list", "[[inner], [outer]]", item=_END, most=2, required=True),
    most=5,
    read=_links_of,
)
_NAMES = {
    name: words for layout in LAYOUTS.values() if layout.code != "five_link" for name, words in layout.points.items()
}
_POINTS = (*(point_key(name, words) for name, words in _NAMES.items()), _LINKS)

LINKAGE = (
    Key("kind", "choice", "the layout", choices=tuple(LAYOUTS), required=True),
    Key(
        "points_mm",
        "object",
        "hard points at the measured ride height, corner frame: those of the layout and no others",
        keys=_POINTS,
        required=True,
    ),
    Key(
        "wheel",
        "object",
        "what the links carry",
        required=True,
        keys=(
            number_key(
                "centre_y_mm",
                "wheel's middle outboard of the mounting face: spacer less offset",
                "mm",
                -500.0,
                500.0,
                required=True,
            ),
            number_key("radius_mm", "loaded radius", "mm", *RADIUS_MM, required=True),
        ),
    ),
    Key(
        "static",
        "object",
        "how the wheel stands at the measured height",
        keys=(
            number_key("camber_deg", "top inboard is minus", "°", *ANGLE_DEG, default=0.0),
            number_key("toe_deg", "in is plus", "°", *ANGLE_DEG, default=0.0),
        ),
    ),
    number_key("half_track_mm", "car's centre to the contact point; for the roll centre", "mm", *SPAN_MM),
    Key(
        "spring",
        "object",
        "where a spring stands; for the motion ratio",
        keys=(
            point_key("body", "end at the body", required=True),
            point_key("moving", "moving end", required=True),
            Key(
                "on", "choice", "what the moving end is fixed to", choices=("lower", "upper", "knuckle"), required=True
            ),
        ),
    ),
)


def hard_points(given: Mapping[str, Any]) -> HardPoints:
    """The corner that an input describes.

    Raises
    ------
    BadInput : a point of the layout is missing, or one of another is given
    """
    layout = LAYOUTS[given["kind"]]
    stance = given["static"] or {"camber_deg": 0.0, "toe_deg": 0.0}
    wheel = Wheel(given["wheel"]["centre_y_mm"], given["wheel"]["radius_mm"], stance["camber_deg"], stance["toe_deg"])
    spring = (
        None
        if given["spring"] is None
        else SpringAt(given["spring"]["body"], given["spring"]["moving"], given["spring"]["on"])
    )
    return HardPoints(layout, _points_of(layout, given["points_mm"]), wheel, spring, given["half_track_mm"])


def _points_of(layout: Layout, given: Mapping[str, Any]) -> Mapping[str, Any]:
    wanted = ("links",) if layout.code == "five_link" else tuple(layout.points)
    accepted = ", ".join(wanted)
    for name in wanted:
        if given[name] is None:
            raise BadInput(f"is missing; accepted: a point of {layout.code}: {accepted}", f"points_mm.{name}")
    for name, point in given.items():
        if point is not None and name not in wanted:
            raise BadInput(f"is no point of {layout.code}; accepted: {accepted}", f"points_mm.{name}")
    return five_points(given["links"]) if layout.code == "five_link" else {name: given[name] for name in wanted}


def number_list(values: Any, key: Key, name: str) -> list[float]:
    """A list that may not be empty.

    >>> number_list([1.0], Key("a", "list", "of numbers"), "a")
    [1.0]
    """
    if not values:
        raise BadInput(f"is empty; accepted: {key.meaning}", name)
    return [float(one) for one in values]


TRAVEL = Key(
    "travel_mm",
    "list",
    "heights of the hub-face centre, bump is plus",
    "mm",
    item=number_key("travel", "mm", "mm", *MOVE_MM, required=True),
    most=MOST_POSES,
    required=True,
)
RACK = Key(
    "rack_mm",
    "list",
    "how far the rod's inner end has moved outboard",
    "mm",
    item=number_key("rack", "mm", "mm", *MOVE_MM, required=True),
    most=MOST_POSES,
)
FIGURES = (
    "camber_deg",
    "toe_deg",
    "steer_deg",
    "caster_deg",
    "kpi_deg",
    "scrub_radius_mm",
    "trail_mm",
    "track_shift_mm",
    "roll_centre_mm",
    "motion_ratio",
    "toggle_margin_deg",
)


def number_or_none(value: float) -> float | None:
    """A figure for printing; NaN and infinity are null.

    >>> number_or_none(float("nan")) is None
    True
    """
    return float(value) if math.isfinite(value) else None


def _poses(found: Curves) -> list[dict[str, Any]]:
    rows = {name: getattr(found, name) for name in FIGURES}
    return [
        {
            "travel_mm": float(found.travel_mm[place]),
            "rack_mm": float(found.rack_mm[place]),
            "reached": bool(found.reached[place]),
            **{name: number_or_none(row[place]) for name, row in rows.items()},
        }
        for place in range(len(found.travel_mm))
    ]


def _kinematics(given: dict[str, Any]) -> dict[str, Any]:
    points = hard_points(given)
    travel = number_list(given["travel_mm"], TRAVEL, "travel_mm")
    rack = [0.0] if given["rack_mm"] is None else number_list(given["rack_mm"], RACK, "rack_mm")
    there = curves(points, [0.0])
    return {
        "poses": _poses(curves(points, travel, rack)),
        "camber_gain_deg_per_mm": number_or_none(there.camber_rate[0]),
        "bump_steer_deg_per_mm": number_or_none(there.toe_rate[0]),
    }


KINEMATICS = Calculation(
    "kinematics",
    "camber, toe, caster, scrub, roll centre, motion ratio and toggle of a corner over travel and rack, from its hard points",
    "links of fixed length about a rigid knuckle; terms as Milliken & Milliken, Race Car Vehicle Dynamics, ch. 17 and 19",
    (*LINKAGE, TRAVEL, RACK),
    (
        Key(
            "poses",
            "list",
            "for each travel, each rack",
            item=Key(
                "pose",
                "object",
                "a pose",
                keys=(
                    number_key("travel_mm", "height of the hub-face centre"),
                    number_key("rack_mm", "rod's inner end outboard"),
                    Key("reached", "boolean", "can it be moved there without a singular pose; else the rest is null"),
                    number_key("camber_deg", "top inboard is minus", "°"),
                    number_key("toe_deg", "in is plus", "°"),
                    number_key("steer_deg", "front edge outboard is plus", "°"),
                    number_key("caster_deg", "top rearward is plus; null for five_link", "°"),
                    number_key("kpi_deg", "top inboard is plus; null for five_link", "°"),
                    number_key("scrub_radius_mm", "contact outboard of the axis at the ground; null for five_link"),
                    number_key("trail_mm", "axis at the ground ahead of the contact; null for five_link"),
                    number_key("track_shift_mm", "contact point outboard of where it stands"),
                    number_key("roll_centre_mm", "above the ground; null without half_track_mm"),
                    number_key("motion_ratio", "spring ÷ wheel movement; null without spring", ""),
                    number_key(
                        "toggle_margin_deg", "rod against steering arm; 0 is over centre; null for five_link", "°"
                    ),
                ),
            ),
        ),
        number_key("camber_gain_deg_per_mm", "at travel 0, rack 0", "°/mm"),
        number_key("bump_steer_deg_per_mm", "toe with travel, at travel 0, rack 0", "°/mm"),
    ),
    _kinematics,
)


RIDE = {one.name: one for one in (SPRING, KINEMATICS)}
