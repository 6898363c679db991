"""Hard points read with a plumb line on the floor, what their ± does to the curves, and which reading to take again.

A point is read as how far from the car's centre line (or inboard of the wheel's mounting face), how far ahead of the
axle line, and how high above the floor; the hub is one of the points. All are then carried into the corner frame.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from functools import cached_property, lru_cache

import numpy as np
from numpy.typing import NDArray

from rimcore.quantities.errors import BadInput
from rimcore.ride.curves import Curves, curves, measured, outward
from rimcore.ride.links import Poses, polished, start
from rimcore.ride.points import LAYOUTS, Abreast, HardPoints, Point, Wheel, held
from rimcore.ride.rods import BEFORE_ROD, as_built, with_rod

Array = NDArray[np.float64]

#: the hub-face centre, which is read like a point
HUB = "hub"
#: order in which one crawls past the points: outboard first, then under the car from front to rear, the rest from above
CRAWL = (
    HUB,
    "lower_joint",
    "rod_outer",
    "link_1_outer",
    "link_2_outer",
    "link_3_outer",
    "link_4_outer",
    "link_5_outer",
    "lower_front",
    "rod_inner",
    "lower_rear",
    "link_1_inner",
    "link_2_inner",
    "link_3_inner",
    "link_4_inner",
    "link_5_inner",
    "strut_knuckle",
    "upper_joint",
    "upper_front",
    "upper_rear",
    "strut_top",
)
#: what a plumb line on a marked floor is good for [mm] (common practice)
PLUMB_MM = 2.0
#: draws for the band, their seed, and the share of them that lies in it
DRAWS, SEED, SHARE = 200, 20, 0.95
AXES = ("across", "ahead", "up")


@dataclass(frozen=True)
class Plumb:
    """One reading of a point [mm]: across, ahead of the axle line, above the floor; ± is the half-width of each."""

    across_mm: float
    ahead_mm: float
    up_mm: float
    uncertainty_mm: float = PLUMB_MM
    #: ``across`` is inboard of the mounting face, and not from the car's centre line
    from_face: bool = False


def wanted(layout: str) -> tuple[str, ...]:
    """Points to read of a layout, the hub first, in the order in which one crawls past them.

    >>> wanted("strut")[:4]
    ('hub', 'lower_joint', 'rod_outer', 'lower_front')
    """
    return tuple(name for name in CRAWL if name == HUB or name in LAYOUTS[layout].points)


def words(layout: str, name: str) -> str:
    """A point in words.

    >>> words("strut", "hub")
    'hub, middle of the mounting face'
    """
    return "hub, middle of the mounting face" if name == HUB else LAYOUTS[layout].points[name]


@dataclass(frozen=True)
class Read:
    """The readings of a corner, and how its wheel stood on them.

    ``readings`` is a tuple of (name, reading), so that a set of readings can be remembered.
    """

    layout: str
    readings: tuple[tuple[str, Plumb], ...]
    #: wheel's middle outboard of the mounting face: spacer less offset [mm]
    centre_y_mm: float
    camber_deg: float = 0.0
    toe_deg: float = 0.0
    #: what the build does to rack, arm and rod, as ``rods.as_built`` takes it [mm]
    rack_mm: tuple[float, ...] = (0.0, 0.0)
    #: angles at rest that nobody read; their curves begin at 0
    at_rest_unread: tuple[str, ...] = ()

    @property
    def by_name(self) -> dict[str, Plumb]:
        """Readings by the point's name."""
        return dict(self.readings)

    @property
    def missing(self) -> tuple[str, ...]:
        """Points that nobody read."""
        return tuple(name for name in wanted(self.layout) if name not in self.by_name)

    def hard_points(self) -> HardPoints:
        """The corner that was read, in its frame.

        Raises
        ------
        BadInput : a point is missing, or these points can't be assembled

        Examples
        --------
        >>> corner_frame(Plumb(740, 0, 310), {"rod_outer": Plumb(660, -120, 235), "rod_inner": Plumb(350, -130, 240, 2.0, True)})
        {'rod_outer': (-120, -80, -75), 'rod_inner': (-130, -350, -70)}
        """
        return _assembled(self)


@lru_cache(maxsize=256)
def _assembled(read: Read) -> HardPoints:
    """Points of a set of readings, once for what it holds."""
    if read.missing:
        raise BadInput(f"not read: {', '.join(words(read.layout, name) for name in read.missing)}", "points_mm")
    points, wheel, half = _framed(read, read.by_name)
    return as_built(HardPoints(LAYOUTS[read.layout], points, wheel, None, half), read.rack_mm)


def _framed(read: Read, readings: dict[str, Plumb]) -> tuple[dict[str, Point], Wheel, float | None]:
    """Points in the corner's frame, the wheel, and half the track [mm]; None where the hub was read from the face."""
    hub = readings.pop(HUB)
    wheel = Wheel(read.centre_y_mm, hub.up_mm, read.camber_deg, read.toe_deg)
    return corner_frame(hub, readings), wheel, None if hub.from_face else hub.across_mm + read.centre_y_mm


def corner_frame(hub: Plumb, readings: Mapping[str, Plumb]) -> dict[str, Point]:
    """Readings as points of the corner frame: x forward, y outboard of the mounting face, z above the hub's centre."""
    return {
        name: (
            one.ahead_mm - hub.ahead_mm,
            -one.across_mm if one.from_face else one.across_mm - hub.across_mm,
            one.up_mm - hub.up_mm,
        )
        for name, one in readings.items()
    }


#: figures that are drawn over travel with their band
DRAWN = ("camber_deg", "toe_deg", "caster_deg", "roll_centre_mm", "track_shift_mm", "scrub_radius_mm")


@dataclass(frozen=True, eq=False)
class Banded:
    """Curves of a corner with the band that its readings' ± leaves, and the reading that would narrow it most.

    Attributes
    ----------
    low, high : by figure (n,), between them 95 % of the draws; NaN where the pose is not reached
    lost : draws whose points can't be assembled or don't reach
    """

    curves: Curves
    low: Mapping[str, Array]
    high: Mapping[str, Array]
    lost: int
    read: Read
    travel_mm: tuple[float, ...]

    @cached_property
    def shares(self) -> dict[str, float]:
        """What share of the variance of camber and toe each reading's ± makes; worked out where it is asked for."""
        return _shares(self.read, self.travel_mm)

    @property
    def narrows(self) -> tuple[str, float] | None:
        """The point whose ± makes most of the band of camber and toe, and its share."""
        return max(self.shares.items(), key=lambda one: one[1]) if self.shares else None

    def doubt(self, name: str, row: int) -> float:
        """Half the width of a figure's band at a travel."""
        return float(self.high[name][row] - self.low[name][row]) / 2


def travel_grid(droop_mm: float, bump_mm: float, marks: Sequence[float], step_mm: float = 10.0) -> tuple[float, ...]:
    """Travels to draw, rising [mm].

    Round steps from droop to bump, both ends, and the places that are wanted between them.

    Source: none; a convention of this program.

    Parameters
    ----------
    droop_mm : below 0 or 0 [mm]
    bump_mm : 0 or more [mm]
    marks : places that are wanted (k,) [mm]
    step_mm : over 0 [mm]

    >>> travel_grid(15.0, 10.0, (0.0, 4.0))
    (-20.0, -15.0, -10.0, 0.0, 4.0, 10.0)
    """
    low, high = min(-droop_mm, *marks), max(bump_mm, *marks)
    first, last = int(low // step_mm), int(-(-high // step_mm))
    return tuple(sorted({*(step_mm * k for k in range(first, last + 1)), low, high, *marks}))


@lru_cache(maxsize=64)
def banded(read: Read, travel_mm: tuple[float, ...], draws: int = DRAWS) -> Banded:
    """Camber, toe and the rest over travel, with the band that follows from the readings' ±.

    Each coordinate is drawn evenly within its ± (a rectangular distribution, JCGM 100:2008, 4.3.7), the hub's too,
    which
    moves all points against it. The share of a reading is the variance that its ± alone makes of camber and toe.

    Parameters
    ----------
    read : points with their ±
    travel_mm : (n,), rising [mm]
    draws : 1 or more

    Raises
    ------
    BadInput : a point is missing, or the points can't be assembled
    """
    middle = curves(read.hard_points(), travel_mm)
    kept = _drawn(read, draws)
    rows = _many(kept, travel_mm)
    whole = np.isfinite(rows["camber_deg"]).all(axis=1) | ~np.isfinite(middle.camber_deg).all()
    edges = {name: _edges(rows[name][whole]) for name in DRAWN}
    low, high = ({name: ends[k] for name, ends in edges.items()} for k in (0, 1))
    return Banded(middle, low, high, draws - int(whole.sum()), read, travel_mm)


@lru_cache(maxsize=8)
def _drawn(read: Read, draws: int) -> tuple[HardPoints, ...]:
    """Corners with every reading drawn within its ±, whatever they are drawn for.

    Those that can't be assembled are left out.
    """
    shares = np.random.default_rng(SEED).uniform(-1.0, 1.0, (draws, len(read.readings), 3))
    return tuple(one for one in _off(read, shares) if one is not None)


def _off(read: Read, shares: Array) -> list[HardPoints | None]:
    """Corners with every reading off by shares of its ± (k, m, 3); None where one can't be assembled."""
    wide = np.array([one.uncertainty_mm for _, one in read.readings])
    stood = np.array([(one.across_mm, one.ahead_mm, one.up_mm) for _, one in read.readings]) + shares * wide[:, None]
    made = [_laid(read, row) for row in stood]
    kept = _those_held(range(len(made)), made)
    before_rod = read.rack_mm[:BEFORE_ROD]
    longer = read.rack_mm[BEFORE_ROD] if len(read.rack_mm) > BEFORE_ROD else 0.0
    if any(before_rod):
        kept = _those_held(list(kept), [one.racked_unasked(*before_rod) for one in kept.values()])
    if longer:
        kept = {k: rodded for k, one in kept.items() if (rodded := _with_rod(one, longer)) is not None}
    return [kept.get(k) for k in range(len(made))]


def _those_held(places: Sequence[int], made: Sequence[HardPoints]) -> dict[int, HardPoints]:
    """Of corners at places those that hold a pose."""
    return {k: one for k, one, good in zip(places, made, held(made), strict=True) if good} if made else {}


def _with_rod(points: HardPoints, longer_mm: float) -> HardPoints | None:
    try:
        return with_rod(points, longer_mm)
    except BadInput:
        return None


def _laid(read: Read, stood: Array) -> HardPoints:
    """A corner of readings that stand elsewhere (m, 3), not asked whether it holds."""
    moved = {
        name: Plumb(float(across), float(ahead), float(up), one.uncertainty_mm, one.from_face)
        for (name, one), (across, ahead, up) in zip(read.readings, stood, strict=True)
    }
    return HardPoints.unasked(LAYOUTS[read.layout], *_framed(read, moved))


def _edges(rows: Array) -> tuple[Array, Array]:
    """Between which values 95 % of the draws (k, n) lie; NaN where none is known."""
    edge, known = (1 - SHARE) / 2, np.isfinite(rows).any(axis=0)
    low, high = np.full(rows.shape[1], np.nan), np.full(rows.shape[1], np.nan)
    if known.any():
        low[known], high[known] = np.nanquantile(rows[:, known], (edge, 1 - edge), axis=0)
    return low, high


def _many(corners: Sequence[HardPoints], travel_mm: Sequence[float]) -> dict[str, Array]:
    """Figures of many corners (k) over travels (n): each (k, n)."""
    count, travel = len(corners), np.asarray(travel_mm, dtype=float)
    if not count:
        return {name: np.empty((0, len(travel))) for name in DRAWN}
    poses, _ = outward(Abreast(corners, 1).corner, start(count), np.zeros(count), travel, False)
    wide = Abreast(corners, len(travel))
    travels, racks = np.tile(travel, count), np.zeros(count * len(travel))
    found = measured(
        wide, polished(wide.corner, Poses(poses.turn, poses.at, poses.reached), travels, racks), travels, racks
    )
    return {name: getattr(found, name).reshape(count, len(travel)) for name in DRAWN}


def _shares(read: Read, travel_mm: Sequence[float]) -> dict[str, float]:
    """What share of the variance of camber and toe each reading's ± makes, the others held."""
    count = 3 * len(read.readings)
    one_by_one = np.eye(count).reshape(count, 1, -1, 3) * np.array([1.0, -1.0])[:, None, None]
    corners = _off(read, one_by_one.reshape(2 * count, -1, 3))
    if any(one is None for one in corners):
        return {}
    rows = _many([one for one in corners if one is not None], travel_mm)
    variance = np.zeros(len(read.readings))
    for name in ("camber_deg", "toe_deg"):
        ends = rows[name].reshape(len(read.readings), 3, 2, -1)
        variance += np.nanmean(((ends[:, :, 0] - ends[:, :, 1]) / 2) ** 2, axis=2).sum(axis=1)
    total = float(variance.sum())
    return {name: float(one) / total for (name, _), one in zip(read.readings, variance, strict=True)} if total else {}
