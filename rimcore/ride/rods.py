"""A rod made longer or shorter than keeps toe: the wheel turns about its steering axis, the arms stay."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace

import numpy as np
from scipy.spatial.transform import Rotation

from rimcore.quantities.errors import BadInput
from rimcore.ride.curves import moved_to
from rimcore.ride.links import Array
from rimcore.ride.points import HardPoints

#: a rod's length is met within this [mm]
WITHIN_MM = 1e-9
#: steps of the search where no closed form is
MOST_STEPS = 12
#: what moves of rack, arm and rod end come before the rod's own length
BEFORE_ROD = 5


def as_built(points: HardPoints, moves_mm: Sequence[float]) -> HardPoints:
    """A corner with what a build does to it.

    Rack forward, up, spacer, arm, rod end (``HardPoints.racked``), then the rod longer [mm].

    Source: rigid links keep their length.

    Parameters
    ----------
    points : as read
    moves_mm : (k,): rack forward, rack up, spacer, arm, rod end, rod longer; what is left out is 0 [mm]

    Raises
    ------
    BadInput : the points can't be assembled there
    """
    moved = points.racked(*moves_mm[:BEFORE_ROD]) if any(moves_mm[:BEFORE_ROD]) else points
    longer = moves_mm[BEFORE_ROD] if len(moves_mm) > BEFORE_ROD else 0.0
    return with_rod(moved, longer) if longer else moved


def with_rod(points: HardPoints, longer_mm: float) -> HardPoints:
    """The same corner with its rod longer, minus is shorter; camber and toe at rest follow.

    With a steering axis between two joints the knuckle turns about it and all links keep their lengths; the frame goes
    on
    standing at the hub, which rises by hundredths of a millimetre. Without one the links are solved with the hub's
    height held.

    Source: rigid links keep their length.

    Parameters
    ----------
    points : as read
    longer_mm : minus is shorter [mm]

    Raises
    ------
    BadInput : no turn of the wheel takes a rod of that length

    Examples
    --------
    >>> from rimcore.ride.points import LAYOUTS, Wheel
    >>> made = {"strut_top": (0, -160, 480), "strut_knuckle": (0, -110, 60), "lower_front": (40, -380, -110), "lower_rear": (-250, -390, -100),
    ...         "lower_joint": (0, -70, -120), "rod_inner": (-120, -360, -60), "rod_outer": (-125, -80, -70)}
    >>> round(with_rod(HardPoints(LAYOUTS["strut"], made, Wheel(0, 300)), 2.0).wheel.toe_deg, 2)
    0.92
    """
    turn, at = _turned(points, longer_mm)
    outer = {name for name, _ in points.layout.links} | ({"strut_knuckle"} if points.layout.code == "strut" else set())
    placed = {
        name: _triple((turn @ points.at(name) + at if name in outer else points.at(name)) - at)
        for name in points.points
    }
    axis = turn @ points.wheel.axis
    camber, toe = float(-np.degrees(np.arcsin(axis[2]))), float(np.degrees(np.arctan2(axis[0], axis[1])))
    half = None if points.half_track_mm is None else points.half_track_mm + float(at[1])
    return replace(
        points, points=placed, wheel=replace(points.wheel, camber_deg=camber, toe_deg=toe), half_track_mm=half
    )


def _triple(point: Array) -> tuple[float, float, float]:
    return float(point[0]), float(point[1]), float(point[2])


def _length_mm(points: HardPoints, turn: Array, at: Array) -> float:
    outer, inner = points.layout.rod
    return float(np.linalg.norm(turn @ points.at(outer) + at - points.at(inner)))


def _turned(points: HardPoints, longer_mm: float) -> tuple[Array, Array]:
    """Rotation and place of the knuckle at which the rod is that much longer."""
    wanted = _length_mm(points, np.eye(3), np.zeros(3)) + longer_mm
    if points.layout.axis is None:
        return _solved(points, wanted, longer_mm)
    outer, inner = (points.at(name) for name in points.layout.rod)
    low, high = (points.at(name) for name in points.layout.axis)
    along = (high - low) / np.linalg.norm(high - low)
    foot = low + along * ((outer - low) @ along)
    arm, reach = outer - foot, foot - inner
    # |foot + arm cos φ + (along × arm) sin φ − inner|² = wanted²
    cosine, sine = 2 * arm @ reach, 2 * np.cross(along, arm) @ reach
    rest = wanted**2 - arm @ arm - reach @ reach
    size = float(np.hypot(cosine, sine))
    if wanted <= 0 or abs(rest) > size:
        raise _too_far(longer_mm)
    middle, half = np.arctan2(sine, cosine), np.arccos(rest / size)
    angle = min((np.remainder(middle + way * half + np.pi, 2 * np.pi) - np.pi for way in (1, -1)), key=abs)
    turn = Rotation.from_rotvec(along * angle).as_matrix()
    return turn, low - turn @ low


def _solved(points: HardPoints, wanted_mm: float, longer_mm: float) -> tuple[Array, Array]:
    """By the links: how far the inner end would have to go outboard to leave the wheel where the longer rod puts it."""
    outboard, step = longer_mm, 1.0
    for _ in range(MOST_STEPS):
        found = moved_to(points, [0.0], [outboard, outboard + step])
        if not found.reached.all():
            raise _too_far(longer_mm)
        now, beside = (_length_mm(points, found.turn[k], found.at[k]) for k in (0, 1))
        if abs(now - wanted_mm) < WITHIN_MM:
            return found.turn[0], found.at[0]
        outboard += (wanted_mm - now) * step / (beside - now)
        step = max(1e-4, step / 10)
    raise _too_far(longer_mm)


def _too_far(longer_mm: float) -> BadInput:
    by = "longer" if longer_mm > 0 else "shorter"
    return BadInput(
        f"no turn of the wheel takes a rod {abs(longer_mm):g} mm {by}; accepted: a rod that reaches the arm",
        "rod_longer_mm",
    )
