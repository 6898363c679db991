"""Runs out of a position log: crossings of gates, laps and sprints, where time is lost against the best."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

Floats = NDArray[np.float64]
Ints = NDArray[np.intp]
#: mean radius of the earth [m] (IUGG)
EARTH_M = 6_371_008.8
#: a piece that is longer is a gap in the log [s], and by how much
GAP_S, HAIR_S = 2.0, 1e-6
#: shares of a run's distance at which it is held against the best
SHARES = np.linspace(0.0, 1.0, 21)
#: ends of a gate count, to within this share of its length
_END = 1e-9

Gate = tuple[tuple[float, float], tuple[float, float]]


@dataclass(frozen=True)
class Run:
    """One lap or sprint."""

    start_s: float
    time_s: float
    distance_m: float
    mean_kmh: float
    top_kmh: float
    gap: bool
    #: time since the start at each share of its own distance [s]
    at: tuple[float, ...]


@dataclass(frozen=True)
class Runs:
    """All runs of a log; ``best`` is the quickest without a gap."""

    runs: tuple[Run, ...]
    best: int | None
    warnings: tuple[str, ...]

    @property
    def delta(self) -> list[tuple[int, list[float]]]:
        """Every other run without a gap against the best: its time less the best's at the same shares [s]."""
        if self.best is None:
            return []
        quickest = self.runs[self.best].at
        return [
            (k, [one - other for one, other in zip(run.at, quickest, strict=True)])
            for k, run in enumerate(self.runs)
            if k != self.best and not run.gap
        ]


def plane(lat: Floats, lon: Floats, middle: tuple[float, float]) -> Floats:
    """Positions on a plane about a point (n, 2) [m].

    Source: equirectangular projection; R = 6,371,008.8 m.

    Parameters
    ----------
    lat, lon : (n,) [deg]
    middle : latitude and longitude of the origin [deg]

    >>> plane(np.array([0.001]), np.array([0.0]), (0.0, 0.0)).round(3).tolist()
    [[0.0, 111.195]]
    """
    away = (lon - middle[1] + 180.0) % 360.0 - 180.0
    x = EARTH_M * math.cos(math.radians(middle[0])) * np.radians(away)
    return np.column_stack([x, EARTH_M * np.radians(lat - middle[0])])


@dataclass(frozen=True)
class _Crossed:
    """Crossings of a gate that count: piece, share along it, time."""

    piece: Ints
    share: Floats
    time: Floats


def runs_of(samples: Floats, start: Gate, finish: Gate | None = None, least_s: float = 10.0) -> Runs:
    """Laps over one gate, or sprints from one to the other.

    Parameters
    ----------
    samples : (n, 3) time, rising [s], latitude, longitude [deg]
    start, finish : two points of each gate (latitude, longitude) [deg]
    least_s : what follows sooner does not count, 0 or more [s]

    Source: where the straight piece between two samples meets the gate, its time by proportion.

    >>> t = np.arange(0.0, 5.0)
    >>> there = np.column_stack([t, np.array([0, 1, 0, 1, 0]) * 2e-4 - 1e-4, np.zeros(5)])
    >>> len(runs_of(there, ((0.0, -1e-3), (0.0, 1e-3)), least_s=1.0).runs)
    1
    """
    middle = ((start[0][0] + start[1][0]) / 2.0, _half_way(start[0][1], start[1][1]))
    where = plane(samples[:, 1], samples[:, 2], middle)
    times = samples[:, 0]
    warnings: list[str] = []
    began = _crossings(where, times, _on_plane(start, middle), "start", warnings)
    if finish is None:
        pairs = _laps(began, least_s)
    else:
        ended = _crossings(where, times, _on_plane(finish, middle), "finish", warnings)
        pairs = _sprints(began, ended, least_s)
    log = _Log(times, where)
    runs = tuple(log.run(first, last) for first, last in pairs)
    best = quickest(runs)
    if not runs:
        warnings.append("no run: the gate is crossed too seldom, or too soon after one another")
    return Runs(runs, best, tuple(warnings))


def quickest(runs: Sequence[Run]) -> int | None:
    """Place of the quickest run without a gap; None without any.

    Parameters
    ----------
    runs : of one log

    Source: none; the least.

    >>> quickest(()) is None
    True
    """
    good = [k for k, run in enumerate(runs) if not run.gap]
    return min(good, key=lambda k: runs[k].time_s) if good else None


def _half_way(first: float, second: float) -> float:
    return first + ((second - first + 180.0) % 360.0 - 180.0) / 2.0


def _on_plane(gate: Gate, middle: tuple[float, float]) -> Floats:
    ends = np.array(gate, float)
    return plane(ends[:, 0], ends[:, 1], middle)


def _crossings(where: Floats, times: Floats, gate: Floats, name: str, warnings: list[str]) -> _Crossed:
    """Where the pieces meet a gate; only those of the more frequent way."""
    along = gate[1] - gate[0]
    length = float(along @ along)
    off = where - gate[0]
    side = along[0] * off[:, 1] - along[1] * off[:, 0]
    # a sample on the gate is of the piece that ends there; only the first sample of all begins on it
    side[np.abs(side) <= _END * length] = 0.0
    before, after = side[:-1], side[1:]
    meets = (before != 0.0) & (before * after <= 0.0)
    if len(side) > 1 and side[0] == 0.0:
        meets[0] = True
    piece = np.flatnonzero(meets)
    step = before[piece] - after[piece]
    share = np.divide(before[piece], step, out=np.zeros(len(piece)), where=step != 0.0)
    point = where[piece] + share[:, None] * (where[piece + 1] - where[piece])
    place = (point - gate[0]) @ along / length if length else np.full(len(piece), np.nan)
    on = (place >= -_END) & (place <= 1.0 + _END)
    piece, share = piece[on], share[on]
    way = np.sign(after[piece] - before[piece])
    up, down = int((way > 0).sum()), int((way < 0).sum())
    if up and down:
        wanted = way[0] if up == down else 1.0 if up > down else -1.0
        other = int((way != wanted).sum())
        warnings.append(
            f"{other} crossing{'' if other == 1 else 's'} of {name} the other way {'is' if other == 1 else 'are'} not counted"
        )
        piece, share = piece[way == wanted], share[way == wanted]
    time = times[piece] + share * (times[piece + 1] - times[piece])
    return _Crossed(piece, share, time)


_Point = tuple[int, float, float]


def _point(of: _Crossed, k: int) -> _Point:
    return int(of.piece[k]), float(of.share[k]), float(of.time[k])


def _laps(found: _Crossed, least_s: float) -> list[tuple[_Point, _Point]]:
    """From crossing to crossing; one that comes too soon after the last that counted does not count."""
    pairs: list[tuple[_Point, _Point]] = []
    last: _Point | None = None
    for k in range(len(found.time)):
        point = _point(found, k)
        if last is not None and point[2] - last[2] < least_s:
            continue
        if last is not None:
            pairs.append((last, point))
        last = point
    return pairs


def _sprints(began: _Crossed, ended: _Crossed, least_s: float) -> list[tuple[_Point, _Point]]:
    """From the last crossing of start before one of finish, to that; a start serves once."""
    pairs: list[tuple[_Point, _Point]] = []
    used = -1
    for k in range(len(ended.time)):
        last = int(np.searchsorted(began.time, ended.time[k], side="left")) - 1
        if last <= used or ended.time[k] - began.time[last] < least_s:
            continue
        used = last
        pairs.append((_point(began, last), _point(ended, k)))
    return pairs


class _Log:
    """Distances along a log."""

    def __init__(self, times: Floats, where: Floats) -> None:
        self.times = times
        self.steps = np.hypot(*np.diff(where, axis=0).T) if len(where) > 1 else np.zeros(0)
        self.along = np.concatenate([[0.0], np.cumsum(self.steps)])
        self.spans = np.diff(times)
        self.long = self.spans > GAP_S + HAIR_S

    def run(self, first: _Point, last: _Point) -> Run:
        """One run from a crossing to another."""
        (a, share_a, start), (b, share_b, end) = first, last
        from_m = float(self.along[a] + share_a * self.steps[a])
        to_m = float(self.along[b] + share_b * self.steps[b])
        distance, time = to_m - from_m, end - start
        pieces = slice(a, b + 1)
        top = float((self.steps[pieces] / self.spans[pieces]).max()) * 3.6
        inside = np.arange(a + 1, b + 1)
        at_m = np.concatenate([[from_m], self.along[inside], [to_m]])
        at_s = np.concatenate([[start], self.times[inside], [end]])
        shares = np.interp(from_m + SHARES * distance, at_m, at_s) - start
        return Run(
            start,
            time,
            distance,
            mean_kmh=distance / time * 3.6 if time > 0 else 0.0,
            top_kmh=top,
            gap=bool(self.long[pieces].any()),
            at=tuple(float(one) for one in shares),
        )
