"""Offsets that go in by width: what stands at each end."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace
from functools import lru_cache
from typing import Protocol

import numpy as np
from numpy.typing import NDArray

from rimcore.quantities.errors import CoreError
from rimcore.well.judge.in_motion import usuals_of
from rimcore.well.judge.ranges import bare
from rimcore.well.judge.rest_gaps import at_rest
from rimcore.well.judge.tolerance import Tolerances
from rimcore.well.judge.unknown import Usuals
from rimcore.well.judge.wellmap import map_cloud, wanted_at_most, wheel_free
from rimcore.well.read.measured import Candidate, Reading, placeable, placed
from rimcore.well.read.stations import STATIONS
from rimcore.well.read.travel import Motion
from rimcore.well.solid.cloud import Cloud
from rimcore.well.solid.gap import outline_polygon

Array = NDArray[np.float64]


@dataclass(frozen=True)
class Band:
    """Offsets of one width and tyre that go in [mm], whole millimetres, and what stands at each end."""

    width_in: float
    tyre: str
    no_contact: tuple[int, int] | None
    all_clear: tuple[int, int] | None
    low_limit: str
    high_limit: str
    best_mm: int
    best_left_mm: float


def offset_bands(
    corner: str,
    readings: Sequence[Reading],
    motion: Motion,
    candidate: Candidate,
    tolerances: Tolerances,
    widths_in: Sequence[float],
    low_mm: int,
    high_mm: int,
) -> list[Band]:
    """Offsets that go in by width, for the candidate's tyre and everything else as it stands; measured obstacles only.

    Source: nearest approach of solids, as ``gaps_at``.

    Parameters
    ----------
    corner : its code
    readings : of the corner, newest first
    motion : how it moves
    candidate : wheel, tyre and levers
    tolerances : gaps that are wanted
    widths_in : rim widths (n,), over 0 [in]
    low_mm : least offset [mm]
    high_mm : most offset, not below ``low_mm`` [mm]
    """
    here, candidate = tuple(reading for reading in readings if reading.corner == corner), candidate.at(corner)
    found = []
    for width in widths_in:
        wheel = replace(candidate.fitted.wheel, width_in=width, offset_mm=0.0)
        fitted = replace(
            candidate.fitted,
            wheel=wheel,
            grown_mm=candidate.fitted.grown_mm if width == candidate.fitted.wheel.width_in else 0.0,
        )
        band = _band(here, motion, replace(bare(candidate), fitted=fitted), tolerances, low_mm, high_mm)
        if band is not None:
            found.append(band)
    return found


@lru_cache(maxsize=512)
def _band(
    readings: tuple[Reading, ...], motion: Motion, candidate: Candidate, tolerances: Tolerances, low: int, high: int
) -> Band | None:
    """Search on whole millimetres: a millimetre of offset moves no gap by more than a millimetre."""
    try:
        at = gaps_by_offset(readings, motion, candidate, tolerances)
    except CoreError:
        return None
    if at is None:
        return None

    def least(offset: int, exact: bool = False) -> float:
        return min(one.most_mm for one in at(offset, exact))

    def left(offset: int, exact: bool = False) -> float:
        return min(one.sure_mm - one.wanted_mm for one in at(offset, exact))

    best = _best(left, low, high)
    start = best if least(best) >= 0 else _best(least, low, high)
    no_contact = _checked(lambda offset: least(offset, True), _stretch(least, start, low, high))
    all_clear = _checked(lambda offset: left(offset, True), _stretch(left, best, low, high))
    ends = no_contact or (best, best)
    return Band(
        width_in=candidate.fitted.wheel.width_in,
        tyre=candidate.fitted.tyre.size,
        no_contact=no_contact,
        all_clear=all_clear,
        low_limit=_limit(at, ends[0] - 1, low, high),
        high_limit=_limit(at, ends[1] + 1, low, high),
        best_mm=best,
        best_left_mm=left(best),
    )


def _checked(of: Callable[[int], float], run: tuple[int, int] | None) -> tuple[int, int] | None:
    """The grid may miss a little between its poses: the ends are drawn in until the continuous gap agrees."""
    if run is None:
        return None
    low, high = run
    while low <= high and of(low) < 0:
        low += 1
    while high >= low and of(high) < 0:
        high -= 1
    return (low, high) if low <= high else None


@dataclass(frozen=True)
class Left:
    """What an obstacle leaves [mm].

    For every usual steering axis, for the best of them (the same where it is known), and what is wanted.
    """

    sure_mm: float
    most_mm: float
    wanted_mm: float
    name: str


class GapsAt(Protocol):
    """What every obstacle leaves at an offset: over the grid, or continuous."""

    def __call__(self, offset: int, exact: bool = False) -> list[Left]: ...


def gaps_by_offset(
    readings: tuple[Reading, ...], motion: Motion, candidate: Candidate, tolerances: Tolerances, usual: bool = True
) -> GapsAt | None:
    """What every measured obstacle of one corner leaves by offset, each computed once; None without any.

    Where the range is not measured the obstacles are taken at the pose in which they were read.
    ``usual`` False leaves an unmeasured steering axis at 0 (quicker, for trials that are judged whole later).
    """
    moving = map_cloud(readings, motion, wheel_free(candidate))
    known, cloud = moving if moving is not None else ((), None)
    good = [r for r in readings if placeable(r)]
    still = good if cloud is None else [r for r in good if r.station.place == "arch" or placed(r).frame == "knuckle"]
    if not known and not still:
        return None
    polygon = outline_polygon(candidate.fitted.outline)
    usuals = usuals_of(readings, motion, candidate) if usual and cloud is not None else None
    wanted = [wanted_at_most(reading, tolerances) for reading in known]
    memory: dict[tuple[int, bool], list[Left]] = {}

    def at(offset: int, exact: bool = False) -> list[Left]:
        if (offset, exact) not in memory:
            fitted = replace(candidate.fitted, wheel=replace(candidate.fitted.wheel, offset_mm=float(offset)))
            ends = _ends_of(cloud, usuals, polygon, fitted.centre_mm, exact) if cloud is not None else []
            found = [Left(lo, hi, w, STATIONS[r.code].name) for (lo, hi), w, r in zip(ends, wanted, known, strict=True)]
            moved = replace(candidate, fitted=fitted)
            memory[offset, exact] = found + [
                one for reading in still for one in _still(reading, motion, moved, tolerances)
            ]
        return memory[offset, exact]

    return at


def _ends_of(
    cloud: Cloud, usuals: Usuals | None, polygon: Array, centre_mm: float, exact: bool
) -> list[tuple[float, float]]:
    """Gap of every obstacle, of the worst and of the best usual axis [mm]."""
    if usuals is not None:
        return [
            (one.lo_mm, one.hi_mm)
            for one in (usuals.ranges(polygon, centre_mm) if exact else usuals.rough(polygon, centre_mm))
        ]
    gaps = [low.gap_mm for low in cloud.lows(polygon, centre_mm)] if exact else cloud.rough(polygon, centre_mm).tolist()
    return [(gap, gap) for gap in gaps]


def _still(reading: Reading, motion: Motion, candidate: Candidate, tolerances: Tolerances) -> list[Left]:
    """Gap and margin at rest, as they are judged at rest."""
    rest, name = at_rest(reading, candidate, motion), STATIONS[reading.code].name
    if reading.station.place != "arch":
        return [Left(rest.nearest_mm, rest.nearest_mm, tolerances.wanted(reading.station.place), name)]
    side, up = rest.reads
    if not motion.missing:
        # In motion the lip is met or not over the whole travel; at rest only the margin sideways is left to keep.
        return [Left(max(side, 0.0), max(side, 0.0), tolerances.arch_side_mm - min(side, 0.0), name)]
    return [Left(side, side, tolerances.arch_side_mm, name), Left(up, up, tolerances.arch_up_mm, name)]


def _best(of: Callable[[int], float], low: int, high: int) -> int:
    """Offset of the largest value; no whole millimetre changes the value by more than one."""
    places = sorted({*range(low, high + 1, 6), high})
    values: dict[int, float] = {place: of(place) for place in places}
    while True:
        top = max(values.values())
        open_ = [
            (a, b)
            for a, b in zip(places, places[1:], strict=False)
            if b - a > 1 and (values[a] + values[b] + b - a) / 2 > top + 0.05
        ]
        if not open_:
            best: int = next(place for place in places if values[place] == top)
            return best
        for a, b in open_:
            values[(a + b) // 2] = of((a + b) // 2)
        places = sorted(values)


def _stretch(of: Callable[[int], float], best: int, low: int, high: int) -> tuple[int, int] | None:
    """The run of whole millimetres around ``best`` on which a value is not negative."""
    if of(best) < 0:
        return None
    ends = []
    for limit, way in ((low, -1), (high, 1)):
        place = best
        while place != limit:
            step = min(max(1, int(of(place))), abs(limit - place))
            ahead = place + way * step
            if of(ahead) < 0:
                if step == 1:
                    break
                ahead = place + way
                if of(ahead) < 0:
                    break
            place = ahead
        ends.append(place)
    return ends[0], ends[1]


def _limit(at: GapsAt, beyond: int, low: int, high: int) -> str:
    """What stands just beyond an end of the run."""
    if not low <= beyond <= high:
        return "end of the scale"
    return min(at(beyond), key=lambda one: one.most_mm).name.lower()
