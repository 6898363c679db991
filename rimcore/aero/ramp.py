"""Slopes that a car gets over: approach, departure and the crest under its belly."""

from __future__ import annotations

import itertools
import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from rimcore.quantities.errors import BadInput
from rimcore.quantities.judgement import COMMON_PRACTICE, Judgement, State, unmeasured

#: less than this left over a slope is tight [deg] (common practice)
MARGIN_DEG = 2.0
#: steeper than this is given as this [deg]
STEEPEST_DEG = 90.0
#: what hangs under the car is looked at so closely [mm]
STEP_MM = 5.0

Array = NDArray[np.float64]


@dataclass(frozen=True)
class Angles:
    """Approach, departure and ramp-over [deg]; None where its point is not measured."""

    approach_deg: float | None
    departure_deg: float | None
    breakover_deg: float | None

    @property
    def known(self) -> dict[str, float]:
        """By name, those that are known."""
        named = {"approach": self.approach_deg, "departure": self.departure_deg, "breakover": self.breakover_deg}
        return {name: value for name, value in named.items() if value is not None}


def tangent_deg(away_mm: float, height_mm: float, radius_mm: float, field: str = "height") -> float:
    """Slope of the line through a point that touches a tyre from below [deg]; the tyre stands on the ground.

    With the line's slope θ: away sin θ + (radius − height) cos θ = radius.

    Source: plane geometry; the angle as in ISO 612:1978, 6.9 to 6.11.

    Parameters
    ----------
    away_mm : from the tyre's middle along the ground, over 0 [mm]
    height_mm : of the point over the ground, 0 or more [mm]
    radius_mm : loaded radius of the tyre, over 0 [mm]
    field : name of the field that a refusal points at

    Raises
    ------
    BadInput : the point lies inside the tyre

    Examples
    --------
    >>> round(tangent_deg(700.0, 0.0, 300.0), 9), round(tangent_deg(600.0, 300.0, 300.0), 3)
    (0.0, 30.0)
    """
    reach = math.hypot(away_mm, radius_mm - height_mm)
    if reach < radius_mm - 1e-9:
        raise BadInput(
            f"the point lies inside the tyre of radius {radius_mm:g} mm; accepted: a point outside it", field
        )
    angle = math.degrees(math.atan2(away_mm, radius_mm - height_mm) - math.acos(min(1.0, radius_mm / reach)))
    return min(STEEPEST_DEG, max(0.0, angle))


def tangents_deg(away_mm: Array, height_mm: Array, radius_mm: float) -> Array:
    """``tangent_deg`` of many points (n,).

    Infinite for a point within the tyre's profile: the ground that touches the tyre never reaches it.

    Source: plane geometry, as ``tangent_deg``.

    Parameters
    ----------
    away_mm : (n,), over 0 [mm]
    height_mm : (n,), 0 or more [mm]
    radius_mm : loaded radius of the tyre, over 0 [mm]

    >>> tangents_deg(np.array([600.0, 100.0]), np.array([300.0, 200.0]), 300.0).round(3).tolist()
    [30.0, inf]
    """
    reach = np.hypot(away_mm, radius_mm - height_mm)
    inside = reach < radius_mm
    angle = np.degrees(
        np.arctan2(away_mm, radius_mm - height_mm)
        - np.arccos(np.minimum(1.0, radius_mm / np.maximum(reach, radius_mm)))
    )
    return np.where(inside, np.inf, np.clip(angle, 0.0, STEEPEST_DEG))


def angles_along(
    points_mm: Sequence[tuple[float, float]], radius_mm: tuple[float, float], wheelbase_mm: float
) -> Angles:
    """All three angles of something that hangs under the car, straight from point to point, looked at every STEP_MM.

    Parameters
    ----------
    points_mm : behind the front axle, height; rising along [mm]
    radius_mm : front and rear, loaded [mm]
    wheelbase_mm : over 0 [mm]

    Examples
    --------
    A plate level between the axles is limited where a single point in the middle is:

    >>> found = angles_along([(800.0, 140.0), (1800.0, 140.0)], (300, 300), 2600.0)
    >>> found.approach_deg, found.departure_deg, round(found.breakover_deg, 2) == round(2 * tangent_deg(1300.0, 140.0, 300.0), 2)
    (None, None, True)
    """
    x, up = _close(points_mm)
    front, rear = radius_mm
    ahead, behind, between = x < 0, x > wheelbase_mm, (x >= 0) & (x <= wheelbase_mm)
    over = tangents_deg(x[between], up[between], front) + tangents_deg(wheelbase_mm - x[between], up[between], rear)
    return Angles(
        _least(tangents_deg(-x[ahead], up[ahead], front)),
        _least(tangents_deg(x[behind] - wheelbase_mm, up[behind], rear)),
        _least(over),
    )


def _close(points_mm: Sequence[tuple[float, float]]) -> tuple[Array, Array]:
    """Places and heights, no two further apart than STEP_MM."""
    x, up = np.array(points_mm, dtype=float).T
    dense = [np.linspace(a, b, max(2, math.ceil((b - a) / STEP_MM) + 1)) for a, b in itertools.pairwise(x)]
    along = np.unique(np.concatenate([x, *dense]))
    return along, np.interp(along, x, up)


def _least(values: Array) -> float | None:
    """The least that is finite; steeper than STEEPEST_DEG is that."""
    known = values[np.isfinite(values)]
    return min(STEEPEST_DEG, float(known.min())) if known.size else None


def angles(
    lip: tuple[float, float],
    tail: tuple[float, float] | None,
    belly: tuple[float, float] | None,
    radius_mm: tuple[float, float],
    wheelbase_mm: float,
) -> Angles:
    """All three angles.

    Parameters
    ----------
    lip : ahead of the front axle, height [mm]
    tail : behind the rear axle, height
    belly : behind the front axle, height
    radius_mm : front and rear, loaded [mm]
    wheelbase_mm : over 0 [mm]

    Source: plane geometry; the terms of ISO 612.

    Examples
    --------
    >>> found = angles((800, 150), None, (1300, 140), (300, 300), 2600)
    >>> round(found.approach_deg, 2), found.departure_deg, round(found.breakover_deg, 2)
    (11.01, None, 12.45)
    """
    front, rear = radius_mm
    over = None
    if belly is not None:
        ahead, height = belly
        over = min(
            STEEPEST_DEG,
            tangent_deg(ahead, height, front, "belly_mm") + tangent_deg(wheelbase_mm - ahead, height, rear, "belly_mm"),
        )
    return Angles(
        tangent_deg(*lip, front, "lip_mm"), None if tail is None else tangent_deg(*tail, rear, "tail_mm"), over
    )


def judge_ramp(name: str, slope_deg: float, found: Angles) -> tuple[Judgement, str | None]:
    """A slope against the least of the angles, and which of them limits.

    Unmeasured while one is missing, unless the rest already hits.

    Source: approach, departure and ramp angles as in ISO 612:1978.

    Parameters
    ----------
    name : what the slope is called
    slope_deg : 0 to 90 [deg]
    found : angles of the car, None where not read

    >>> judge_ramp("drive", 12.0, Angles(13.0, None, 14.0))[0].state, judge_ramp("drive", 15.0, Angles(13.0, None, 14.0))[0].state
    ('unmeasured', 'hit')
    """
    by, least = min(found.known.items(), key=lambda one: one[1])
    left = least - slope_deg
    missing = [what for what in ("approach", "departure", "breakover") if what not in found.known]
    code = f"air.ramp.{name}"
    if missing and left >= 0:
        words = {"departure": "the tail", "breakover": "the belly"}
        said = " and ".join(words[one] for one in missing)
        return unmeasured(
            code,
            name,
            f"not measured: {said}; the rest leaves {left:.1f}°",
            [f"air.{one}" for one in missing],
            [f"measure {said}"],
        ), None
    state: State = "hit" if left < 0 else "tight" if left < MARGIN_DEG else "clear"
    return Judgement(
        code,
        name,
        state,
        f"{'ramp-over' if by == 'breakover' else by} {least:.1f}°, the slope has {slope_deg:g}°: {left:+.1f}°".replace(
            "-", "−"
        ),
        f"plane geometry; {MARGIN_DEG:g}° wanted ({COMMON_PRACTICE})",
        value=left,
        unit="°",
        held_against=MARGIN_DEG,
        margin=left - MARGIN_DEG,
        formula=f"{least:.2f} − {slope_deg:g} = {left:.2f}°",
        remedies=()
        if state == "clear"
        else ("up at an angle, one wheel first", "higher at that end", "planks that make the slope longer"),
    ), by


def judged_ramps(slopes: Sequence[tuple[str, float]], found: Angles) -> list[tuple[Judgement, str | None]]:
    """Every slope of a person's own list.

    Source: as ``judge_ramp``.

    Parameters
    ----------
    slopes : each (name, slope [deg])
    found : angles of the car, None where not read
    """
    return [judge_ramp(name, slope, found) for name, slope in slopes]
