"""The wheel through steering and travel: smallest gap to every obstacle, over the continuous range."""

from __future__ import annotations

import math
from collections.abc import Callable, Sequence
from dataclasses import dataclass, field
from functools import lru_cache
from typing import Any

import numpy as np
from numpy.typing import NDArray
from scipy import ndimage

from rimcore.quantities.errors import BadInput
from rimcore.quantities.judgement import State
from rimcore.well.cloud import Cloud
from rimcore.well.mover import Mover, Thing, Well, mover_of
from rimcore.well.polygon import AXIS_MM, signed_distance

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


#: step of the distance table and how far it reaches round the outline [mm]
TABLE_MM, TABLE_REACH_MM = 1.5, 150.0
#: band round the outline in which the table's nodes are exact [mm]
TABLE_BAND_MM = 40.0
#: beyond the band every so many nodes are exact
FAR_EVERY = 4
#: gaps up to here never meet the table's edge on the way down [mm]; from 3,000 random obstacles
TABLE_SURE_MM = TABLE_REACH_MM - 30.0
#: coarsest grid on which the search for the smallest gap may start
LEAST_STEER, LEAST_TRAVEL = 25, 17
#: most that the table may be wrong between its nodes, inside the band [mm]
TABLE_ERROR_MM = 0.6
#: the same for the nearest node alone: half of a cell's diagonal
ROUGH_ERROR_MM = 1.1


class Shape:
    """An outline: exact distances, and a table that is right within ``TABLE_ERROR_MM``."""

    def __init__(self, outline_mm: Array) -> None:
        self.outline = outline_mm
        self.low = outline_mm.min(axis=0) - TABLE_REACH_MM
        self.low[1] = max(self.low[1], 0.0)
        self.table = _table(outline_mm, self.low, outline_mm.max(axis=0) + TABLE_REACH_MM).astype(np.float32)

    def distance(self, across: Array, radius: Array) -> Array:
        """Exact signed distance, any shape."""
        flat = np.column_stack([np.ravel(across), np.ravel(radius)])
        return signed_distance(self.outline, flat).reshape(np.shape(across))

    def about(self, across: AnyFloat, radius: AnyFloat) -> Array:
        """Distance from the table, between its nodes linearly; beyond it, that of its edge and the way there."""
        rows, columns = self.table.shape
        # Plain floats, so that single precision stays single.
        step, low_across, low_radius = float(TABLE_MM), float(self.low[0]), float(self.low[1])
        i, j = (across - low_across) * (1 / step), (radius - low_radius) * (1 / step)
        ci, cj = np.clip(i, 0, rows - 1.001), np.clip(j, 0, columns - 1.001)
        fi, fj = ci.astype(np.int32), cj.astype(np.int32)
        ci -= fi
        cj -= fj
        fi *= columns
        fi += fj
        flat = self.table.ravel()
        low, high = flat.take(fi), flat.take(fi + 1)
        low += (high - low) * cj
        fi += columns
        upper, high = flat.take(fi), flat.take(fi + 1)
        upper += (high - upper) * cj
        low += (upper - low) * ci
        outside = (i < 0) | (i > rows - 1) | (j < 0) | (j > columns - 1)
        if outside.any():
            beyond_i = np.maximum(np.maximum(-i, i - rows + 1)[outside], 0)
            beyond_j = np.maximum(np.maximum(-j, j - columns + 1)[outside], 0)
            low[outside] += step * np.hypot(beyond_i, beyond_j)
        return np.asarray(low)

    def roughly(self, across: AnyFloat, radius: AnyFloat) -> AnyFloat:
        """Distance of the nearest node of the table, right within ``ROUGH_ERROR_MM``; beyond the table, of its edge."""
        rows, columns = self.table.shape
        step = 1 / float(TABLE_MM)
        i = ((across - (float(self.low[0]) - TABLE_MM / 2)) * step).astype(np.int32)
        j = ((radius - (float(self.low[1]) - TABLE_MM / 2)) * step).astype(np.int32)
        np.clip(i, 0, rows - 1, out=i)
        np.clip(j, 0, columns - 1, out=j)
        i *= columns
        i += j
        return np.asarray(self.table.ravel().take(i))


def _table(outline_mm: Array, low: Array, high: Array) -> Array:
    """Signed distances on a grid, shape (across, radius): exact in the band, beyond it between exact ones further apart."""
    across, radius = np.arange(low[0], high[0], TABLE_MM), np.arange(low[1], high[1], TABLE_MM)
    table = _banded(outline_mm, across, radius)
    far = table > TABLE_BAND_MM
    if far.any():
        places = [np.append(np.arange(0, count, FAR_EVERY), count - 1) for count in table.shape]
        coarse = table[np.ix_(*places)]
        i, j = np.nonzero(coarse > TABLE_BAND_MM)
        coarse[i, j] = abs(signed_distance(outline_mm, np.column_stack([across[places[0][i]], radius[places[1][j]]])))
        table[far] = _between_nodes(coarse, places)[far]
    return np.where(_inside(outline_mm, across, radius), -table, table)


def _inside(outline_mm: Array, across: Array, radius: Array) -> NDArray[np.bool_]:
    """Is a node of the grid inside the outline? Even-odd along every row of radius."""
    start, end = outline_mm, np.roll(outline_mm, -1, axis=0)
    rows = radius + 1e-7
    edge, row = np.nonzero((start[:, 1:2] > rows) != (end[:, 1:2] > rows))
    share = (rows[row] - start[edge, 1]) / (end[edge, 1] - start[edge, 1])
    crossings = np.zeros((len(across) + 1, len(radius)), dtype=np.int32)
    np.add.at(crossings, (np.searchsorted(across, start[edge, 0] + share * (end[edge, 0] - start[edge, 0])), row), 1)
    return np.asarray(np.cumsum(crossings, axis=0)[:-1] % 2 == 1)


def _banded(outline_mm: Array, across: Array, radius: Array) -> Array:
    """Distance to the nearest edge, exact up to ``TABLE_BAND_MM``: every edge only asks the nodes of the box around it."""
    least = np.full((len(across), len(radius)), np.inf)
    for start, end in zip(outline_mm, np.roll(outline_mm, -1, axis=0), strict=True):
        if max(start[1], end[1]) <= AXIS_MM:
            continue
        low, high = np.minimum(start, end) - TABLE_BAND_MM, np.maximum(start, end) + TABLE_BAND_MM
        i, j = np.searchsorted(across, [low[0], high[0]]), np.searchsorted(radius, [low[1], high[1]])
        box = slice(*i), slice(*j)
        y, r = across[box[0], None] - start[0], radius[None, box[1]] - start[1]
        dy, dr = end - start
        along = np.clip((y * dy + r * dr) / max(dy * dy + dr * dr, 1e-30), 0.0, 1.0)
        least[box] = np.minimum(least[box], (y - along * dy) ** 2 + (r - along * dr) ** 2)
    return np.asarray(np.sqrt(least))


def _between_nodes(coarse: Array, places: list[NDArray[np.intp]]) -> Array:
    """A table known at some rows and columns, made linear between them."""
    for axis, known in enumerate(places):
        at = np.arange(known[-1] + 1)
        before = np.clip(np.searchsorted(known, at, side="right") - 1, 0, len(known) - 2)
        share = (at - known[before]) / np.maximum(known[before + 1] - known[before], 1)
        share = share[:, None] if axis == 0 else share[None, :]
        coarse = np.asarray(np.take(coarse, before, axis) * (1 - share) + np.take(coarse, before + 1, axis) * share)
    return coarse


@lru_cache(maxsize=64)
def _shape(outline_bytes: bytes) -> Shape:
    return Shape(np.frombuffer(outline_bytes).reshape(-1, 2).copy())


def shape_of(outline_mm: Array) -> Shape:
    """The shape of an outline, kept for the next time."""
    return _shape(np.ascontiguousarray(outline_mm, dtype=float).tobytes())


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
    outline_mm : closed half section of wheel and tyre, shape (m, 2): across, radius
    things : obstacles; ``knuckle`` points ride with the wheel
    steer_count, travel_count : values of the map, ends included; the search for the minimum starts on no
        coarser grid than ``LEAST_STEER`` by ``LEAST_TRAVEL``

    The minimum is continuous: from every low place of the grid the search narrows to well under 0.02 mm.

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
    mover = mover_of(well, body)
    moving = _Field(shape, mover, radii, steer, travel)
    search = moving
    if steer_count < LEAST_STEER or travel_count < LEAST_TRAVEL:
        fine = (
            np.linspace(steer[0], well.steer_out_deg, max(steer_count, LEAST_STEER)),
            np.linspace(travel[0], well.bump_mm, max(travel_count, LEAST_TRAVEL)),
        )
        search = _Field(shape, mover, radii, *fine)
    groups = _groups(body)
    found = _again(outline_mm, well, body, search.smallest(groups))
    answers = dict(zip(map(id, body), zip(found, groups, strict=True), strict=True))
    static = moving.at_rest()
    gaps = tuple(rigid.get(id(thing)) or _body(thing, *answers[id(thing)], static, body_margin_mm) for thing in things)
    map_mm = moving.tightest_map()
    out = moving.free_steer(map_mm, 1.0) if contact else None
    inn = moving.free_steer(map_mm, -1.0) if contact else None
    return Sweep(gaps, steer, travel, map_mm, out, inn)


def _again(
    outline_mm: Array, well: Well, body: Sequence[Thing], found: list[tuple[float, float, float]]
) -> list[tuple[float, float, float]]:
    """What overlaps or stands far off is looked at once more, without the table.

    Inside the tyre a walk down may stick on a crease; near the table's edge its distances are coarse.
    """
    doubtful = [k for k, (gap, _, _) in enumerate(found) if gap < 0 or gap > TABLE_SURE_MM]
    if not doubtful:
        return found
    answers = list(found)
    for k, low in zip(doubtful, Cloud(well, [body[k] for k in doubtful]).lows(outline_mm, well.centre_mm), strict=True):
        answers[k] = min(found[k], (low.gap_mm, low.steer_deg, low.travel_mm))
    return answers


def _groups(things: Sequence[Thing]) -> list[NDArray[np.intp]]:
    """Columns of each thing's points when all are stacked."""
    ends = np.cumsum([len(thing.points_mm) for thing in things])
    return [np.arange(end - len(thing.points_mm), end) for end, thing in zip(ends, things, strict=True)]


def state_of(gap_mm: float, margin_mm: float) -> State:
    """``hit`` below 0, ``tight`` below the margin, else ``clear``.

    >>> state_of(-0.1, 5), state_of(4.9, 5), state_of(5.0, 5)
    ('hit', 'tight', 'clear')
    """
    return "hit" if gap_mm < 0 else "tight" if gap_mm < margin_mm else "clear"


def _knuckle(shape: Shape, well: Well, thing: Thing, margin_mm: float) -> Gap:
    x, y, z = thing.points_mm.T
    gap = float(shape.distance(y - well.centre_mm, np.hypot(x, z)).min()) - thing.radius_mm
    return Gap(thing.name, gap, 0.0, well.ride_drop_mm, gap, state_of(gap, margin_mm), margin_mm)


def _body(thing: Thing, found: tuple[float, float, float], columns: NDArray[np.intp], static: Array, margin_mm: float) -> Gap:
    gap, steer, travel = found
    return Gap(thing.name, gap, steer, travel, float(static[columns].min()), state_of(gap, margin_mm), margin_mm)


@dataclass(frozen=True)
class _Walk:
    """Places of the search: whose they are, pose, point, and the gap there; all shape (n,)."""

    owner: NDArray[np.intp]
    steer: Array
    travel: Array
    points: NDArray[np.intp]
    value: Array = field(default_factory=lambda: np.zeros(0))

    def lowest(self) -> Array:
        """Smallest gap of each place's owner."""
        found = np.full(int(self.owner.max()) + 1, np.inf)
        np.minimum.at(found, self.owner, self.value)
        return np.asarray(found[self.owner])

    def joined(self, other: _Walk) -> _Walk:
        names = ("owner", "steer", "travel", "points", "value")
        return _Walk(*(np.concatenate([getattr(self, name), getattr(other, name)]) for name in names))

    def only(self, keep: NDArray[np.bool_]) -> _Walk:
        return _Walk(self.owner[keep], self.steer[keep], self.travel[keep], self.points[keep], self.value[keep])


class _Field:
    """All body points over the grid of poses: table values everywhere, exact ones only where they decide."""

    def __init__(self, shape: Shape, mover: Mover, radii: Array, steer: Array, travel: Array) -> None:
        self.shape, self.mover, self.radii, self.steer, self.travel = shape, mover, radii, steer, travel
        self.about = shape.roughly(*mover.over_grid(steer, travel))
        self.about -= radii.astype(np.float32)
        self.reach, self.speed = mover.reach_mm(), mover.speed_per_mm()
        self.step_deg = float(steer[-1] - steer[0]) / max(1, len(steer) - 1)
        self.step_mm = float(travel[-1] - travel[0]) / max(1, len(travel) - 1)

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

    def starts(self, columns: NDArray[np.intp], most: int = 16) -> tuple[Array, Array, NDArray[np.intp]]:
        """Where the search for an obstacle's smallest gap starts: the low places of its map, with their points."""
        about = self.about[:, :, columns]
        rough = about.min(axis=2)
        slack = float(self.reach[columns].max()) * math.radians(self.step_deg) / 2 + float(self.speed[columns].max()) * self.step_mm / 2
        region = rough < rough.min() + 2 * ROUGH_ERROR_MM + slack
        t, s, n = np.nonzero(region[:, :, None] & (about < rough[:, :, None] + 2 * ROUGH_ERROR_MM + slack / 2))
        across, radius = self.mover.across_and_radius(self.steer[s], self.travel[t], columns[n])
        value = self.shape.about(across, radius) - self.radii[columns[n]]
        lowest = np.full(rough.shape, np.inf)
        np.minimum.at(lowest, (t, s), value)
        low = (lowest <= ndimage.minimum_filter(lowest, size=3, mode="nearest")) & (lowest < lowest.min() + 2 * TABLE_ERROR_MM + slack)
        order = np.sort(lowest[low])
        low &= lowest <= order[min(most, len(order)) - 1]
        keep = low[t, s] & (value < lowest[t, s] + 2 * TABLE_ERROR_MM + slack / 2)
        return self.steer[s[keep]], self.travel[t[keep]], columns[n[keep]]

    def smallest(self, groups: list[NDArray[np.intp]]) -> list[tuple[float, float, float]]:
        """Continuous minimum over the range for each group of points: gap [mm], steer [deg], travel [mm].

        From every low place of the grid a pattern search walks down on the table, all obstacles together;
        what comes within the table's error of the best is walked to its end on exact distances.
        """
        found = [self.starts(columns) for columns in groups]
        walk = _Walk(
            np.concatenate([np.full(len(one[0]), k) for k, one in enumerate(found)]),
            np.concatenate([one[0] for one in found]),
            np.concatenate([one[1] for one in found]),
            np.concatenate([one[2] for one in found]),
        )
        walk = self._walk(walk, self.shape.about, 1.0, 0.05, 2 * TABLE_ERROR_MM, 5)
        # Beyond the band the table is coarser, so those start further out.
        far = walk.value > TABLE_BAND_MM - 5.0
        if far.any():
            walk = walk.only(~far).joined(self._walk(walk.only(far), self.shape.distance, 0.5, 0.05, 1.0, 5))
        walk = self._walk(walk, self.shape.distance, 0.08, 0.002, 0.0, 3)
        best = walk.only(walk.value <= walk.lowest())
        deep = best.value < 0
        if deep.any():
            # Inside the tyre the way out has creases, on which small steps stick.
            walk = best.only(~deep).joined(self._walk(best.only(deep), self.shape.distance, 0.7, 0.002, 0.0, 5))
        answers = []
        for k in range(len(groups)):
            mine = np.nonzero(walk.owner == k)[0]
            at = mine[walk.value[mine].argmin()]
            answers.append((float(walk.value[at]), float(walk.steer[at]), float(walk.travel[at])))
        return answers

    def _walk(self, walk: _Walk, distance: Callable[[Array, Array], Array], first: float, last: float, spare: float, fan: int) -> _Walk:
        """``fan`` by ``fan`` poses at a time; a step narrows only where it gains nothing. Steps are shares of the grid's."""
        wide = np.full(len(walk.steer), first)
        parts = np.linspace(-1, 1, fan)[np.argsort(abs(np.linspace(-1, 1, fan)), kind="stable")]
        across_fan, along_fan = np.repeat(parts, fan), np.tile(parts, fan)
        for _ in range(40):
            s = np.clip(walk.steer[:, None] + across_fan * wide[:, None] * self.step_deg, self.steer[0], self.steer[-1])
            t = np.clip(walk.travel[:, None] + along_fan * wide[:, None] * self.step_mm, self.travel[0], self.travel[-1])
            across, radius = self.mover.across_and_radius(s, t, walk.points[:, None])
            gaps = distance(across, radius) - self.radii[walk.points][:, None]
            best, rows = gaps.argmin(axis=1), np.arange(len(walk.points))
            gained = gaps[:, 0] - gaps[rows, best]
            walk = _Walk(walk.owner, s[rows, best], t[rows, best], walk.points, gaps[rows, best])
            wide = np.where(gained > 3e-3 * wide, wide, wide * 0.3)
            lowest = walk.lowest()
            left = 3 * wide * (self.reach[walk.points] * math.radians(self.step_deg) + self.speed[walk.points] * self.step_mm)
            keep = (walk.value - left <= lowest + spare) & ((wide > last) | (walk.value <= lowest + spare))
            walk, wide = walk.only(keep), wide[keep]
            if (wide <= last).all():
                break
        return walk

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
        on_map = np.column_stack([straight] + [map_mm[:, np.argmin(abs(self.steer - way * node))] for node in nodes[1:]])
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


def check_outline(points: Sequence[Sequence[float]]) -> Array:
    """A closed half section from its vertices; the first may be repeated at the end.

    Raises
    ------
    BadInput : fewer than three vertices, a negative radius, no area, or edges that cross

    >>> check_outline([[-1, 5], [1, 5], [1, 9]]).shape
    (3, 2)
    """
    outline = np.asarray(points, dtype=float)
    if outline.ndim != 2 or outline.shape[1] != 2:
        raise BadInput("must be a list of pairs [across, radius] in mm")
    if len(outline) > 1 and (outline[0] == outline[-1]).all():
        outline = outline[:-1]
    if len(outline) < 3:
        raise BadInput("an outline needs at least three vertices")
    if (outline[:, 1] < 0).any():
        raise BadInput("a radius can't be negative")
    nxt = np.roll(outline, -1, axis=0)
    if abs(float((outline[:, 0] * nxt[:, 1] - nxt[:, 0] * outline[:, 1]).sum())) < 1e-6:
        raise BadInput("the outline holds no area")
    if _crosses(outline):
        raise BadInput("edges of the outline cross each other; give the vertices in order round the section")
    return outline


def _crosses(outline: Array) -> bool:
    """Do two edges that are no neighbours meet?"""
    a, b = outline, np.roll(outline, -1, axis=0)
    count = len(outline)

    def side(p: Array, q: Array, r: Array) -> Array:
        return np.asarray(
            (q[:, None, 0] - p[:, None, 0]) * (r[None, :, 1] - p[:, None, 1])
            - (q[:, None, 1] - p[:, None, 1]) * (r[None, :, 0] - p[:, None, 0])
        )

    from_a, from_b = side(a, b, a), side(a, b, b)
    apart = from_a * from_b < 0
    crossing = apart & apart.T
    i, j = np.nonzero(crossing)
    gap = np.abs(i - j)
    return bool(((gap > 1) & (gap < count - 1)).any())
