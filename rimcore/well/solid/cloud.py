"""Where obstacles stand in the wheel's plane over all poses: one cloud serves many wheels and tyres."""

from __future__ import annotations

import math
from collections.abc import Sequence
from copy import copy
from dataclasses import dataclass, replace
from functools import cached_property

import numpy as np
from numpy.typing import NDArray
from scipy import ndimage

from rimcore.well.solid.polygon import nearest_point, signed_distance
from rimcore.well.solid.wheel_plane import Thing, Well, mover_of

Array = NDArray[np.float64]


#: values of steer and travel; the search narrows between them
STEER_COUNT, TRAVEL_COUNT = 25, 17


#: poses tried around a low place, and how often the step narrows
FAN, ROUNDS = 5, 24


#: how much the fan narrows in a round, and the share of the grid's step at which the search ends
NARROWER, LAST = 0.35, 2e-3


#: how fine the search for the deepest place inside the tyre ends [mm]
DEEP_MM = 0.8


#: how much lower than on the grid a place may lie between its poses [mm]
SPARE_MM = 6.0


#: along an edge every so many points stand on the grid
EVERY = 5


#: points of an edge beside the lowest one on the grid that are walked too
SLIDE_MM = 0.5


BESIDE = np.array([-4, -3, -2, -1, 1, 2, 3, 4])


@dataclass(frozen=True)
class Low:
    """Smallest gap of one obstacle [mm], its pose, and where obstacle and outline face each other.

    ``across_mm`` and ``radius_mm`` place the obstacle's point in the wheel's axes; ``sideways`` and
    ``radial`` are the shares of the way from the outline to it (a unit vector's absolute parts).
    """

    gap_mm: float
    steer_deg: float
    travel_mm: float
    across_mm: float
    radius_mm: float
    sideways: float
    radial: float
    #: which of the obstacle's points
    point: int = 0
    #: where on the outline it faces (across from the centre plane, radius)
    foot_mm: tuple[float, float] = (0.0, 0.0)


class Cloud:
    """Points of obstacles on body and arms, carried into the wheel's plane at every pose of a grid.

    The cloud depends on camber, locks and travel, not on the wheel: offset and spacer shift it across,
    another tyre is another outline in the same cloud.
    """

    def __init__(
        self, well: Well, things: Sequence[Thing], steer_count: int = STEER_COUNT, travel_count: int = TRAVEL_COUNT
    ) -> None:
        self.well = replace(well, centre_mm=0.0)
        self.names = [thing.name for thing in things]
        self.mover = mover_of(self.well, things)
        self.radii = np.concatenate([np.full(len(thing.points_mm), thing.radius_mm) for thing in things])
        counts = [len(thing.points_mm) for thing in things]
        self.owner = np.repeat(np.arange(len(things)), counts)
        self.starts = np.cumsum([0, *counts[:-1]])
        #: first point and end of those that run along an edge
        self.runs = [
            (a, a + n)
            for a, n, thing in zip(self.starts, counts, things, strict=True)
            if thing.between is not None and n > 2
        ]
        self.steer = _values(-well.steer_in_deg, well.steer_out_deg, steer_count)
        self.travel = _values(-well.droop_mm, well.bump_mm, travel_count)
        steer, travel = np.meshgrid(self.steer, self.travel)
        self.pose_steer, self.pose_travel = steer.ravel(), travel.ravel()
        #: points that stand on the grid: along an edge only every so many, the walk looks between them
        self.grid = self._on_grid()
        self.grid_owner, self.grid_radii = self.owner[self.grid], self.radii[self.grid]
        #: rows of the grid of every obstacle that has an edge
        self.edges = [
            np.nonzero(self.grid_owner == one)[0] for one in {int(self.owner[first]) for first, _ in self.runs}
        ]
        across, radius = self.mover.across_and_radius(self.pose_steer[:, None], self.pose_travel[:, None], self.grid)
        #: shape (points of the grid, poses)
        self.across, self.radius = np.ascontiguousarray(across.T), np.ascontiguousarray(radius.T)
        self.reach, self.speed = self.mover.reach_mm(), self.mover.speed_per_mm()
        self.step_deg = float(np.diff(self.steer).max(initial=0.0))
        self.step_mm = float(np.diff(self.travel).max(initial=0.0))

    def _on_grid(self) -> NDArray[np.intp]:
        keep = np.ones(len(self.owner), dtype=bool)
        for first, last in self.runs:
            keep[first:last] = np.isin(np.arange(last - first) % EVERY, [0]) | (np.arange(first, last) == last - 1)
        return np.nonzero(keep)[0]

    def lows(self, outline_mm: Array, centre_mm: float) -> list[Low]:
        """Smallest gap of every obstacle over the continuous range, for one outline at one place.

        Examples
        --------
        >>> disc = np.array([[-100.0, 0.0], [-100.0, 300.0], [100.0, 300.0], [100.0, 0.0]])
        >>> lip = Thing("lip", "body", np.array([[0.0, 0.0, 330.0]]))
        >>> Cloud(Well(0.0, bump_mm=20.0, droop_mm=10.0), [lip]).lows(disc, 0.0)[0].gap_mm
        10.0
        """
        gaps, bound = self._grid_gaps(outline_mm, centre_mm, 2 * SPARE_MM)
        rows, poses = self._starts(gaps)
        rows, value, steer, travel = self._walk(
            outline_mm, centre_mm, rows, self.pose_steer[poses], self.pose_travel[poses], FAN
        )
        if self.runs:
            rows, value, steer, travel = self._slid(outline_mm, centre_mm, (rows, value, steer, travel))
        deep = value < 0
        if deep.any():
            again = self._deepest(
                outline_mm, centre_mm, gaps, bound, (rows[deep], value[deep], steer[deep], travel[deep])
            )
            rows, value, steer, travel = (
                np.concatenate([a[~deep], b]) for a, b in zip((rows, value, steer, travel), again, strict=True)
            )
        found = []
        for k in range(len(self.names)):
            mine = np.nonzero(self.owner[rows] == k)[0]
            at = mine[value[mine].argmin()]
            found.append(
                self._low(outline_mm, centre_mm, float(value[at]), int(rows[at]), float(steer[at]), float(travel[at]))
            )
        return found

    def lowest(self, outline_mm: Array, centre_mm: float) -> tuple[float, int]:
        """The smallest gap of all obstacles together [mm], and whose it is; what can't be the smallest is not followed.

        Examples
        --------
        >>> disc = np.array([[-100.0, 0.0], [-100.0, 300.0], [100.0, 300.0], [100.0, 0.0]])
        >>> things = [Thing("far", "body", np.array([[0.0, 0.0, 400.0]])), Thing("lip", "body", np.array([[0.0, 0.0, 330.0]]))]
        >>> Cloud(Well(0.0, bump_mm=20.0, droop_mm=10.0), things).lowest(disc, 0.0)
        (10.0, 1)
        """
        (low,) = self._as_one.lows(outline_mm, centre_mm)
        return low.gap_mm, int(self.owner[low.point])

    @cached_property
    def _as_one(self) -> Cloud:
        """The same cloud as if all its points were one obstacle's."""
        one = copy(self)
        one.names, one.starts = ["any"], np.zeros(1, dtype=np.intp)
        one.owner, one.grid_owner = np.zeros_like(self.owner), np.zeros_like(self.grid_owner)
        return one

    def rough(self, outline_mm: Array, centre_mm: float) -> Array:
        """Smallest gap of every obstacle over the poses of the grid, shape (obstacles,) [mm]."""
        least = np.full(len(self.names), np.inf)
        np.minimum.at(least, self.grid_owner, self._grid_gaps(outline_mm, centre_mm)[0].min(axis=1))
        return least

    def over_poses(self, outline_mm: Array, centre_mm: float, margins_mm: Array) -> tuple[Array, Array]:
        """Smallest gap, and smallest gap less its margin, of all obstacles at every pose; shape (travel, steer) [mm].

        Parameters
        ----------
        margins_mm : shape (obstacles,)
        """
        across, radius = self.across - centre_mm, self.radius
        low, high, crown = outline_mm[:, 0].min(), outline_mm[:, 0].max(), outline_mm[:, 1].max()
        bound = _to_box(across, radius, (float(low), float(high), float(crown))) - self.grid_radii[:, None]
        less = margins_mm[self.grid_owner][:, None]
        nearest, poses = (bound - less).argmin(axis=0), np.arange(bound.shape[1])
        first = (
            signed_distance(outline_mm, np.column_stack([across[nearest, poses], radius[nearest, poses]]))
            - self.grid_radii[nearest]
        )
        reach = np.maximum(first - less[nearest, 0], (bound - less)[nearest, poses])
        likely = np.nonzero((bound - less <= reach) | (bound <= np.maximum(first, 0.0)))
        exact = (
            signed_distance(outline_mm, np.column_stack([across[likely], radius[likely]])) - self.grid_radii[likely[0]]
        )
        gaps, left = np.full(bound.shape[1], np.inf), np.full(bound.shape[1], np.inf)
        np.minimum.at(gaps, likely[1], exact)
        np.minimum.at(left, likely[1], exact - less[likely[0], 0])
        shape = (len(self.travel), len(self.steer))
        return gaps.reshape(shape), left.reshape(shape)

    def gap_at(self, outline_mm: Array, centre_mm: float, owner: int, steer_deg: float, travel_mm: float) -> float:
        """Gap of one obstacle at one pose, which may lie beyond the range [mm]."""
        rows = np.nonzero(self.owner == owner)[0]
        across, radius = self.mover.across_and_radius(
            np.full(len(rows), steer_deg), np.full(len(rows), travel_mm), rows
        )
        return float(
            (signed_distance(outline_mm, np.column_stack([across - centre_mm, radius])) - self.radii[rows]).min()
        )

    def _grid_gaps(self, outline_mm: Array, centre_mm: float, spare_mm: float = 0.0) -> tuple[Array, Array]:
        """Gaps at every point and pose, shape (points, poses): exact where they may be the smallest of their point.

        Elsewhere they are a lower bound: the way to the box around the outline. The second array is that bound.
        """
        across, radius = self.across - centre_mm, self.radius
        low, high, crown = outline_mm[:, 0].min(), outline_mm[:, 0].max(), outline_mm[:, 1].max()
        bound = _to_box(across, radius, (float(low), float(high), float(crown)))
        bound -= self.grid_radii[:, None]
        places = np.arange(len(bound))
        nearest = bound.argmin(axis=1)
        first = (
            signed_distance(outline_mm, np.column_stack([across[places, nearest], radius[places, nearest]]))
            - self.grid_radii
        )
        reach = np.maximum(first, bound[places, nearest])
        # What can't come near the obstacle's lowest known place is not asked.
        least = np.full(len(self.names), np.inf)
        np.minimum.at(least, self.grid_owner, reach)
        likely = np.nonzero(bound <= np.minimum(reach, least[self.grid_owner] + SPARE_MM)[:, None] + spare_mm)
        gaps = np.full(bound.shape, np.inf)
        gaps[likely] = (
            signed_distance(outline_mm, np.column_stack([across[likely], radius[likely]])) - self.grid_radii[likely[0]]
        )
        return gaps, bound

    def _starts(self, gaps: Array) -> tuple[NDArray[np.intp], NDArray[np.intp]]:
        """Where the search starts: the low places of every point's own map, near enough to the lowest to matter."""
        maps = gaps.reshape(len(gaps), len(self.travel), len(self.steer))
        low = np.isfinite(maps) & (maps <= ndimage.minimum_filter(maps, size=(1, 3, 3), mode="nearest"))
        for run in self.edges:
            # Along an edge only the lowest of neighbouring points is followed.
            low[run] &= maps[run] <= ndimage.minimum_filter(maps[run], size=(3, 1, 1), mode="nearest")
        rows, poses = np.nonzero(low.reshape(gaps.shape))
        value = gaps[rows, poses]
        least = np.full(len(self.names), np.inf)
        np.minimum.at(least, self.grid_owner[rows], value)
        near = value <= least[self.grid_owner[rows]] + SPARE_MM
        return self.grid[rows[near]], poses[near]

    def _walk(
        self,
        outline_mm: Array,
        centre_mm: float,
        rows: NDArray[np.intp],
        steer: Array,
        travel: Array,
        fan: int,
        first: float = 1.0,
    ) -> tuple[NDArray[np.intp], Array, Array, Array]:
        """Narrow every start down to its low place: a fan of poses, the step shrinking where nothing is gained.

        A start is given up when even its remaining steps can't bring it under the best of its obstacle.
        """
        parts, still = np.linspace(-1.0, 1.0, fan), np.zeros(1)
        # What doesn't steer, or doesn't travel, has no poses to either side.
        ways_s, ways_t = parts if self.step_deg else still, parts if self.step_mm else still
        fan_s, fan_t = np.repeat(ways_s, len(ways_t)), np.tile(ways_t, len(ways_s))
        rim = np.maximum(abs(fan_s), abs(fan_t)) > 0.99
        wide, value = np.full(len(rows), first), np.full(len(rows), np.inf)
        per_step = self.reach[rows] * math.radians(self.step_deg) + self.speed[rows] * self.step_mm
        for _ in range(ROUNDS):
            s = np.clip(steer[:, None] + fan_s * wide[:, None] * self.step_deg, self.steer[0], self.steer[-1])
            t = np.clip(travel[:, None] + fan_t * wide[:, None] * self.step_mm, self.travel[0], self.travel[-1])
            across, radius = self.mover.across_and_radius(s, t, rows[:, None])
            flat = np.column_stack([(across - centre_mm).ravel(), radius.ravel()])
            gaps = signed_distance(outline_mm, flat).reshape(s.shape) - self.radii[rows][:, None]
            best, places = gaps.argmin(axis=1), np.arange(len(rows))
            gained = value - gaps[places, best]
            value, steer, travel = gaps[places, best], s[places, best], t[places, best]
            # A place on the rim of the fan may lead further; else the fan narrows round it.
            wide = np.where(rim[best] & (gained > 0.02 * wide), wide, wide * NARROWER)
            least = np.full(len(self.names), np.inf)
            np.minimum.at(least, self.owner[rows], value)
            keep = value - 2.0 * wide * per_step <= least[self.owner[rows]]
            keep &= (wide > LAST) | (value <= least[self.owner[rows]])
            rows, value, steer, travel, wide, per_step = (a[keep] for a in (rows, value, steer, travel, wide, per_step))
            if (wide <= LAST).all():
                break
        return rows, value, steer, travel

    def _slid(
        self, outline_mm: Array, centre_mm: float, known: tuple[NDArray[np.intp], Array, Array, Array]
    ) -> tuple[NDArray[np.intp], Array, Array, Array]:
        """Along an edge the lowest point may change as the pose does.

        From the best of each edge its neighbours are walked too.
        """
        rows, value, steer, travel = known
        beside, best = [], []
        for first, last in self.runs:
            mine = np.nonzero((rows >= first) & (rows < last))[0]
            low = mine[value[mine].argmin()]
            near = np.unique(np.clip(rows[low] + BESIDE, first, last - 1))
            beside.append(near)
            best.append(np.full(len(near), low))
        which, start = np.concatenate(beside), np.concatenate(best)
        across, radius = self.mover.across_and_radius(steer[start], travel[start], which)
        gaps = signed_distance(outline_mm, np.column_stack([across - centre_mm, radius])) - self.radii[which]
        lowest = np.array(
            [
                mine[gaps[mine].argmin()]
                for mine in np.split(np.arange(len(which)), np.cumsum([len(one) for one in beside])[:-1])
            ]
        )
        # One that lies well above what is known can't come under it by another pose nearby.
        lowest = lowest[gaps[lowest] < value[start[lowest]] + SLIDE_MM]
        if not len(lowest):
            return known
        again = self._walk(outline_mm, centre_mm, which[lowest], steer[start[lowest]], travel[start[lowest]], FAN, 0.3)
        return tuple(np.concatenate([one, other]) for one, other in zip(known, again, strict=True))  # type: ignore[return-value]

    def _deepest(
        self,
        outline_mm: Array,
        centre_mm: float,
        gaps: Array,
        bound: Array,
        known: tuple[NDArray[np.intp], Array, Array, Array],
    ) -> tuple[NDArray[np.intp], Array, Array, Array]:
        """Inside the tyre the way out has creases, on which a walk sticks: branch and bound over all poses instead.

        A cell of poses can't hold less than the gap at its middle less what its half widths move the point;
        cells that can't beat the deepest pose known are dropped, the others are quartered (halved along one axis
        alone), down to
        ``DEEP_MM``. From the deepest of each obstacle a walk ends it.
        """
        rows, value, _, _ = known
        touching = np.isin(self.grid_owner, self.owner[rows])
        half_s, half_t = math.radians(self.step_deg) / 2, self.step_mm / 2
        loose = self.reach * half_s + self.speed * half_t
        best = np.full(len(self.names), np.inf)
        np.minimum.at(best, self.owner[rows], value)
        found = [known]
        low = touching[:, None] & (bound - loose[self.grid][:, None] < best[self.grid_owner][:, None])
        missing = np.nonzero(low & np.isinf(gaps))
        at = np.column_stack([self.across[missing] - centre_mm, self.radius[missing]])
        gaps[missing] = signed_distance(outline_mm, at) - self.grid_radii[missing[0]]
        on_grid, poses = np.nonzero(
            touching[:, None] & (gaps - loose[self.grid][:, None] < best[self.grid_owner][:, None])
        )
        cell_rows, cell_s, cell_t = self.grid[on_grid], self.pose_steer[poses], self.pose_travel[poses]
        sides, still = np.array([-1, 1]), np.zeros(1)
        parts_s, parts_t = sides if half_s else still, sides if half_t else still
        ways_s, ways_t = np.repeat(parts_s, len(parts_t)), np.tile(parts_t, len(parts_s))
        while len(cell_rows) and float(loose[cell_rows].max()) > DEEP_MM:
            half_s, half_t, loose = half_s / 2, half_t / 2, loose / 2
            cell_rows = np.repeat(cell_rows, len(ways_s))
            cell_s = (cell_s[:, None] + np.degrees(half_s) * ways_s).ravel().clip(self.steer[0], self.steer[-1])
            cell_t = (cell_t[:, None] + half_t * ways_t).ravel().clip(self.travel[0], self.travel[-1])
            across, radius = self.mover.across_and_radius(cell_s, cell_t, cell_rows)
            gap = signed_distance(outline_mm, np.column_stack([across - centre_mm, radius])) - self.radii[cell_rows]
            np.minimum.at(best, self.owner[cell_rows], gap)
            lowest = gap <= best[self.owner[cell_rows]]
            found.append((cell_rows[lowest], gap[lowest], cell_s[lowest], cell_t[lowest]))
            keep = gap - loose[cell_rows] < best[self.owner[cell_rows]]
            cell_rows, cell_s, cell_t = cell_rows[keep], cell_s[keep], cell_t[keep]
        all_rows, all_gaps, all_s, all_t = (np.concatenate([one[k] for one in found]) for k in range(4))
        last = all_gaps <= best[self.owner[all_rows]] + DEEP_MM
        return self._walk(outline_mm, centre_mm, all_rows[last], all_s[last], all_t[last], FAN, 0.02)

    def _low(self, outline_mm: Array, centre_mm: float, gap: float, row: int, steer: float, travel: float) -> Low:
        across, radius = self.mover.across_and_radius(np.array([steer]), np.array([travel]), np.array([row]))
        u, rho = float(across[0]) - centre_mm, float(radius[0])
        foot = nearest_point(outline_mm, (u, rho))
        way = math.hypot(u - foot[0], rho - foot[1]) or 1.0
        point = row - int(self.starts[self.owner[row]])
        return Low(
            gap_mm=gap,
            steer_deg=steer,
            travel_mm=travel,
            across_mm=u,
            radius_mm=rho,
            sideways=abs(u - foot[0]) / way,
            radial=abs(rho - foot[1]) / way,
            point=point,
            foot_mm=foot,
        )


def _to_box(across: Array, radius: Array, box: tuple[float, float, float]) -> Array:
    """Distance of points to the box round an outline: across from, across to, crown; 0 inside [mm]."""
    low, high, crown = box
    beside = np.abs(across - (low + high) / 2.0)
    beside -= (high - low) / 2.0
    np.maximum(beside, 0.0, out=beside)
    beside *= beside
    above = radius - crown
    np.maximum(above, 0.0, out=above)
    above *= above
    beside += above
    return np.sqrt(beside, out=beside)


def _values(low: float, high: float, count: int) -> Array:
    """Values from low to high, ends included, and zero where it lies between."""
    values = np.linspace(low, high, count) if high > low else np.array([low])
    return np.unique(np.append(values, 0.0)) if low < 0 < high else values
