"""The wheel through steering and travel: smallest gap to every obstacle, over the continuous range."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any

import numpy as np
from numpy.typing import NDArray

from rimcore.quantities.errors import BadInput
from rimcore.quantities.judgement import State, state_of_gap
from rimcore.well.solid.cloud import Cloud, Low
from rimcore.well.solid.table import ROUGH_ERROR_MM, TABLE_ERROR_MM, Shape, shape_of
from rimcore.well.solid.wheel_plane import Mover, Thing, Well, mover_of

Array = NDArray[np.float64]


AnyFloat = NDArray[np.floating[Any]]


@dataclass(frozen=True)
class Gap:
    """Smallest gap of one obstacle [mm], where it is, the gap at rest, and the state against its margin."""

    name: str
    gap_mm: float
    steer_deg: float
    travel_mm: float
    static_gap_mm: float
    state: State
    margin_mm: float

    @property
    def margin_left_mm(self) -> float:
        return self.gap_mm - self.margin_mm


@dataclass(frozen=True)
class Sweep:
    """All gaps, and the map of the tightest obstacle on body or arm: shape (travel, steer) [mm]."""

    gaps: tuple[Gap, ...]
    steer_deg: Array
    travel_mm: Array
    map_mm: Array | None
    free_out_deg: Array | None
    free_in_deg: Array | None

    @property
    def tightest(self) -> Gap | None:
        return min(self.gaps, key=lambda gap: gap.margin_left_mm) if self.gaps else None


def sweep(
    outline_mm: Array,
    well: Well,
    things: Sequence[Thing],
    body_margin_mm: float,
    knuckle_margin_mm: float,
    steer_count: int = 61,
    travel_count: int = 41,
    contact: bool = True,
) -> Sweep:
    """Smallest gap of every obstacle over the whole range of steer and travel.

    Parameters
    ----------
    outline_mm : closed half section of wheel and tyre, shape (m, 2): across, radius [mm]
    well : how the corner moves
    things : obstacles; ``knuckle`` points ride with the wheel
    body_margin_mm : wanted of body and arms, 0 or more [mm]
    knuckle_margin_mm : wanted of what rides with the wheel, 0 or more [mm]
    steer_count, travel_count : values of the map, ends included
    contact : whether the poses that touch are wanted too

    The minimum is continuous and does not depend on them: it is :meth:`Cloud.lows`, right to well under 0.02 mm.

    Raises
    ------
    BadInput : no obstacles

    Examples
    --------
    >>> disc = np.array([[-100.0, 0.0], [-100.0, 300.0], [100.0, 300.0], [100.0, 0.0]])
    >>> lip = Thing("lip", "body", np.array([[0.0, 0.0, 330.0]]))
    >>> sweep(disc, Well(0.0, bump_mm=20.0, droop_mm=10.0), [lip], 10.0, 5.0).gaps[0].gap_mm
    10.0
    """
    if not things:
        raise BadInput("no obstacles; accepted: at least one with a point", "obstacles")
    shape = shape_of(outline_mm)
    steer, travel = (
        np.linspace(-well.steer_in_deg, well.steer_out_deg, steer_count),
        np.linspace(-well.droop_mm, well.bump_mm, travel_count),
    )
    body = [thing for thing in things if thing.frame != "knuckle"]
    rigid = {id(thing): _knuckle(shape, well, thing, knuckle_margin_mm) for thing in things if thing.frame == "knuckle"}
    if not body:
        return Sweep(tuple(rigid[id(thing)] for thing in things), steer, travel, None, None, None)
    radii = np.concatenate([np.full(len(thing.points_mm), thing.radius_mm) for thing in body])
    moving = _Field(shape, mover_of(well, body), radii, steer, travel)
    lows = Cloud(well, body).lows(outline_mm, well.centre_mm)
    answers = dict(zip(map(id, body), zip(lows, _groups(body), strict=True), strict=True))
    static = moving.at_rest()
    gaps = tuple(rigid.get(id(thing)) or _body(thing, *answers[id(thing)], static, body_margin_mm) for thing in things)
    map_mm = moving.tightest_map()
    out = moving.free_steer(map_mm, 1.0) if contact else None
    inn = moving.free_steer(map_mm, -1.0) if contact else None
    return Sweep(gaps, steer, travel, map_mm, out, inn)


def _groups(things: Sequence[Thing]) -> list[NDArray[np.intp]]:
    """Columns of each thing's points when all are stacked."""
    ends = np.cumsum([len(thing.points_mm) for thing in things])
    return [np.arange(end - len(thing.points_mm), end) for end, thing in zip(ends, things, strict=True)]


def _knuckle(shape: Shape, well: Well, thing: Thing, margin_mm: float) -> Gap:
    x, y, z = thing.points_mm.T
    gap = float(shape.distance(y - well.centre_mm, np.hypot(x, z)).min()) - thing.radius_mm
    return Gap(thing.name, gap, 0.0, well.ride_drop_mm, gap, state_of_gap(gap, margin_mm), margin_mm)


def _body(thing: Thing, low: Low, columns: NDArray[np.intp], static: Array, margin_mm: float) -> Gap:
    state = state_of_gap(low.gap_mm, margin_mm)
    return Gap(thing.name, low.gap_mm, low.steer_deg, low.travel_mm, float(static[columns].min()), state, margin_mm)


class _Field:
    """All body points over the grid of poses: table values everywhere, exact ones only where they decide."""

    def __init__(self, shape: Shape, mover: Mover, radii: Array, steer: Array, travel: Array) -> None:
        self.shape, self.mover, self.radii, self.steer, self.travel = shape, mover, radii, steer, travel
        self.about = shape.roughly(*mover.over_grid(steer, travel))
        self.about -= radii.astype(np.float32)
        self.reach = mover.reach_mm()

    def at_rest(self) -> Array:
        """Gap of every point, straight ahead and where the build stands, shape (points,)."""
        across, radius = self.mover.across_and_radius(np.zeros(1), np.array([self.mover.well.ride_drop_mm]))
        return self.shape.distance(across, radius) - self.radii

    def tightest_map(self) -> Array:
        """Exact smallest gap of all points at every pose, shape (travel, steer)."""
        nearest = self.about.argmin(axis=2)
        t, s = np.indices(nearest.shape).reshape(2, -1)
        found = self._exact(s, t, nearest.ravel()).reshape(nearest.shape)
        # Beyond the table a point seems nearer than it is, and more so with a large radius: the exact gap of
        # the nearest is what every other point has to come under.
        likely = np.nonzero(self.about < found[:, :, None] + ROUGH_ERROR_MM)
        np.minimum.at(found, likely[:2], self._exact(likely[1], likely[0], likely[2]))
        return found

    def _exact(self, steer: NDArray[np.intp], travel: NDArray[np.intp], points: NDArray[np.intp]) -> Array:
        """Exact gaps of points at places of the grid, all shape (n,)."""
        across, radius = self.mover.across_and_radius(self.steer[steer], self.travel[travel], points)
        return self.shape.distance(across, radius) - self.radii[points]

    def lowest_at(self, steer: Array, travel: Array) -> Array:
        """Smallest gap over all points at poses (n,); exact where the sign is in question [mm]."""
        across, radius = self.mover.across_and_radius(steer[:, None], travel[:, None])
        gaps = self.shape.about(across, radius) - self.radii
        close = np.nonzero(gaps < np.minimum(gaps.min(axis=1, keepdims=True), 0.0) + 2 * TABLE_ERROR_MM)
        gaps[close] = self.shape.distance(across[close], radius[close]) - self.radii[close[1]]
        return np.asarray(gaps.min(axis=1))

    def free_steer(self, map_mm: Array, way: float) -> Array:
        """Steer from straight ahead to the first contact, per travel [deg]; the limit where nothing touches."""
        limit = float(self.mover.well.steer_out_deg if way > 0 else self.mover.well.steer_in_deg)
        straight = self.lowest_at(np.zeros(len(self.travel)), self.travel)
        found = np.where(straight < 0, 0.0, limit)
        if limit <= 0:
            return found
        nodes = np.unique(np.concatenate([[0.0], self.steer[self.steer * way > 0] * way, [limit]]))
        on_map = np.column_stack(
            [straight] + [map_mm[:, np.argmin(abs(self.steer - way * node))] for node in nodes[1:]]
        )
        turn = float(self.reach.max()) * np.radians(np.diff(nodes))
        doubtful = (on_map[:, :-1] + on_map[:, 1:] < turn) & (found > 0)[:, None]
        for k in range(len(nodes) - 1):
            rows = np.nonzero(doubtful[:, k] & (found >= limit))[0]
            if len(rows):
                found[rows] = self._first_contact(rows, nodes[k], nodes[k + 1], way, limit)
        return found

    def _first_contact(self, rows: NDArray[np.intp], start: float, end: float, way: float, limit: float) -> Array:
        """First contact between two steering angles; ``limit`` for the rows that have none there."""
        parts = np.linspace(start, end, 5)
        travel = self.travel[rows]
        each = self.lowest_at(way * np.repeat(parts[1:], len(rows)), np.tile(travel, len(parts) - 1))
        gaps = each.reshape(len(parts) - 1, len(rows)).T
        found = np.full(len(rows), limit)
        touches = np.nonzero((gaps < 0).any(axis=1))[0]
        if not len(touches):
            return found
        first = (gaps[touches] < 0).argmax(axis=1)
        low, high = parts[first], parts[first + 1]
        for _ in range(7):
            middle = (low + high) / 2
            hit = self.lowest_at(way * middle, travel[touches]) < 0
            low, high = np.where(hit, low, middle), np.where(hit, middle, high)
        found[touches] = low
        return found
