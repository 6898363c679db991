"""The pads' part of the command line: corner weights, and where the centre of gravity lies."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from typing import Any

import numpy as np

from rimcore.quantities.contract import Calculation, Key, number_key
from rimcore.quantities.errors import BadInput
from rimcore.ride.calculations import LOAD_KG, RADIUS_MM, RATE, RATIO, SPAN_MM
from rimcore.ride.weights import Pads, Raised, Stance, evened, gravity
from rimcore.tables.facts import CORNERS


def _corner_keys(
    unit: str, low: float, high: float, required: bool = True, default: float | None = None
) -> tuple[Key, ...]:
    return tuple(
        number_key(name, f"at {name}", unit, low, high, required=required, default=default) for name in CORNERS
    )


PADS = Key("pads_kg", "object", "loads of the four pads", keys=_corner_keys("kg", *LOAD_KG), required=True)
_ENDS = (
    number_key("front", "front", "mm", *SPAN_MM, required=True),
    number_key("rear", "rear", "mm", *SPAN_MM, required=True),
)
TRACK = Key("track_mm", "object", "track front and rear", keys=_ENDS)
NEEDED_TRACK = Key("track_mm", "object", "track front and rear", keys=_ENDS, required=True)


def pads_of(given: Mapping[str, float]) -> Pads:
    """Four pads."""
    return Pads(*(given[name] for name in CORNERS))


def by_corner(values: Sequence[float] | np.ndarray[Any, Any]) -> dict[str, float]:
    """Four values by the corners' names."""
    return {name: float(value) for name, value in zip(CORNERS, values, strict=True)}


def _corner_weights(given: dict[str, Any]) -> dict[str, Any]:
    pads = pads_of(given["pads_kg"])
    found: dict[str, Any] = {
        "total_kg": pads.total_kg,
        "front_pct": pads.front_pct,
        "left_pct": pads.left_pct,
        "cross_pct": pads.cross_pct,
        "turns": None,
        "height_change_mm": None,
        "pads_after_kg": None,
        "reached": None,
        "warnings": [],
    }
    if given["wheel_rate_N_per_mm"] is None:
        _not_alone(given)
        return found
    for name in ("track_mm", "wheelbase_mm", "mm_per_turn"):
        if given[name] is None:
            raise BadInput("is missing; accepted: it is needed with wheel_rate_N_per_mm", name)
    done = evened(pads, _stance(given), given["target_cross_pct"], given["limit_turns"])
    lifted = [name for name, load in zip(CORNERS, done.pads.loads, strict=True) if load < 0]
    if lifted:
        found["warnings"] = [f"{', '.join(lifted)} would lift: its pad comes out below 0."]
    return {
        **found,
        "turns": by_corner(done.turns),
        "height_change_mm": by_corner(done.height_change_mm),
        "pads_after_kg": by_corner(done.pads.loads),
        "reached": done.reached,
    }


def _not_alone(given: Mapping[str, Any]) -> None:
    """What only serves the turns asks for the springs."""
    for name in ("bar_N_per_mm", "mm_per_turn", "motion_ratio", "limit_turns"):
        if given[name] is not None:
            raise BadInput(f"is missing; accepted: it is needed with {name}", "wheel_rate_N_per_mm")


def _stance(given: Mapping[str, Any]) -> Stance:
    bars, ratio = given["bar_N_per_mm"] or {"front": 0.0, "rear": 0.0}, given["motion_ratio"]
    return Stance(
        np.array([given["wheel_rate_N_per_mm"][name] for name in CORNERS]),
        (given["track_mm"]["front"], given["track_mm"]["rear"]),
        given["wheelbase_mm"],
        np.full(4, given["mm_per_turn"]),
        np.ones(4) if ratio is None else np.array([ratio[name] for name in CORNERS]),
        (bars["front"], bars["rear"]),
    )


CORNER_WEIGHTS = Calculation(
    "corner-weights",
    "shares and cross weight of four pads, and the turns of the perches that even it",
    "a rigid body on four springs and two bars (Milliken & Milliken, Race Car Vehicle Dynamics, ch. 18)",
    (
        PADS,
        Key("wheel_rate_N_per_mm", "object", "wheel rates; without them no turns", keys=_corner_keys("N/mm", *RATE)),
        Key(
            "bar_N_per_mm",
            "object",
            "a bar's force at each wheel per mm between left and right",
            keys=tuple(number_key(end, end, "N/mm", 0.0, 100_000.0, default=0.0) for end in ("front", "rear")),
        ),
        TRACK,
        number_key("wheelbase_mm", "wheelbase", "mm", *SPAN_MM),
        number_key("mm_per_turn", "of the perch", "mm", 0.001, 100.0),
        Key(
            "motion_ratio",
            "object",
            "spring ÷ wheel movement; 1 without",
            keys=_corner_keys("", *RATIO, required=False, default=1.0),
        ),
        number_key("target_cross_pct", "cross weight wanted", "%", 0.0, 100.0, default=50.0),
        number_key("limit_turns", "most turns either way at a perch", "", 0.0, 1000.0),
    ),
    (
        number_key("total_kg", "all four", "kg"),
        number_key("front_pct", "front axle", "%"),
        number_key("left_pct", "left wheels", "%"),
        number_key("cross_pct", "front right and rear left", "%"),
        Key("turns", "object", "of each perch, + is up; null without wheel rates"),
        Key("height_change_mm", "object", "of the body over each wheel"),
        Key("pads_after_kg", "object", "loads after the turns"),
        Key("reached", "boolean", "is the target reached within the limit"),
        Key("warnings", "list", "a wheel that lifts"),
    ),
    _corner_weights,
)


def _raised(given: Mapping[str, Any] | None) -> Raised | None:
    if given is None:
        return None
    wanted, other = ("rear_kg", "front_kg") if given["end"] == "front" else ("front_kg", "rear_kg")
    stays = "rear" if wanted == "rear_kg" else "front"
    if given[other] is not None:
        raise BadInput(
            f"with the {given['end']} raised the {stays} axle stays on the pads; accepted: {wanted}", f"raised.{other}"
        )
    if given[wanted] is None:
        raise BadInput(
            f"is missing; accepted: load of the {stays} axle with the {given['end']} raised", f"raised.{wanted}"
        )
    return Raised(given["end"], given["by_mm"], given[wanted], given["radius_mm"])


def _gravity(given: dict[str, Any]) -> dict[str, Any]:
    track = given["track_mm"]["front"], given["track_mm"]["rear"]
    found = gravity(pads_of(given["pads_kg"]), given["wheelbase_mm"], track, _raised(given["raised"]))
    return {
        "behind_front_axle_mm": found.behind_front_axle_mm,
        "right_of_centre_mm": found.right_of_centre_mm,
        "height_mm": found.height_mm,
        "static_stability_factor": found.static_stability_factor,
    }


GRAVITY = Calculation(
    "centre-of-gravity",
    "where the centre of gravity lies, from four pads, and how high, from a weighing with one end raised",
    "ISO 10392 (height by tilting); static stability factor T/2H, NHTSA",
    (
        PADS,
        number_key("wheelbase_mm", "wheelbase", "mm", *SPAN_MM, required=True),
        NEEDED_TRACK,
        Key(
            "raised",
            "object",
            "a second weighing with one end raised",
            keys=(
                Key("end", "choice", "the end raised", choices=("front", "rear"), required=True),
                number_key(
                    "by_mm", "height difference of the axles; below the wheelbase", "mm", 0.001, 20_000.0, required=True
                ),
                number_key("front_kg", "front axle, with the rear raised", "kg", *LOAD_KG),
                number_key("rear_kg", "rear axle, with the front raised", "kg", *LOAD_KG),
                number_key("radius_mm", "loaded radius, one for both axles", "mm", *RADIUS_MM, required=True),
            ),
        ),
    ),
    (
        number_key("behind_front_axle_mm", "behind the front axle"),
        number_key("right_of_centre_mm", "right of the centre line"),
        number_key("height_mm", "above the ground; null without raised"),
        number_key("static_stability_factor", "mean track ÷ twice the height; null without raised", ""),
    ),
    _gravity,
)

PADDED = {one.name: one for one in (CORNER_WEIGHTS, GRAVITY)}
