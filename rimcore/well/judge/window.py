"""Offsets that go in: the stretch without contact, the stretch that keeps every margin, and the best place."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray

from rimcore.well.judge.unknown import Usuals
from rimcore.well.solid.cloud import Cloud
from rimcore.well.solid.polygon import signed_distance
from rimcore.well.solid.table import ROUGH_ERROR_MM, Shape, shape_of
from rimcore.well.solid.wheel_plane import Thing, Well, mover_of

Array = NDArray[np.float64]


Ends = tuple[Array, Array]


#: how much less than over the grid a gap may be between its poses, the table's error included [mm]
SLACK_MM = 6.0 + ROUGH_ERROR_MM


#: most offsets at which the whole range is looked at first
MOST_PLACES = 121


#: an end, and the best place, are found to this [mm]
END_MM = 0.03


#: near an end the next look is this far ahead; what dips below nothing between two looks is under half of it [mm]
PROBE_MM = 0.15


#: most exact looks for the best place
MOST_LOOKS = 10


@dataclass(frozen=True)
class Window:
    """Offsets that go in [mm]: without contact, all clear, what limits each end, and the best one."""

    no_contact: tuple[float, float] | None
    all_clear: tuple[float, float] | None
    low_limited_by: str
    high_limited_by: str
    best_offset_mm: float
    best_margin_mm: float


def offset_window(
    outline_mm: Array,
    well: Well,
    things: Sequence[Thing],
    spacer_mm: float,
    low_mm: float,
    high_mm: float,
    body_margin_mm: float,
    knuckle_margin_mm: float,
    steer_count: int = 31,
    travel_count: int = 21,
    unknown: Sequence[str] = (),
) -> Window:
    """Offsets from ``low_mm`` to ``high_mm`` at which nothing is hit, and at which everything keeps its margin.

    A step of the offset moves no gap by more than itself: from every offset the next one that could touch is
    a gap away, so that no window is stepped over; ends to 0.1 mm. Where several windows exist, the one
    round the best offset is given. The whole range is looked at through a table of distances first; exact
    are the ends and the best place.

    Parameters
    ----------
    outline_mm : closed half section (m, 2): across, radius [mm]
    well : how the corner moves
    things : obstacles
    spacer_mm : under the wheel, 0 or more [mm]
    low_mm : least offset [mm]
    high_mm : most offset [mm]
    body_margin_mm : wanted of body and arms, 0 or more [mm]
    knuckle_margin_mm : wanted of what rides with the wheel, 0 or more [mm]
    steer_count : values of the map, ends included
    travel_count : the same
    unknown : what of axis and camber gain is not measured: no contact then means that not every usual axis
        overlaps, all clear that every usual one keeps the margin

    Examples
    --------
    >>> tube = np.array([[-100.0, 200.0], [100.0, 200.0], [100.0, 300.0], [-100.0, 300.0]])
    >>> strut = Thing("strut", "knuckle", np.array([[0.0, -150.0, 250.0]]))
    >>> found = offset_window(tube, Well(0.0), [strut], 0.0, 0.0, 60.0, 10.0, 5.0)
    >>> found.no_contact, found.all_clear, found.high_limited_by
    ((0.0, 50.0), (0.0, 45.0), 'strut')
    """
    looks = _Looks(
        outline_mm, well, things, spacer_mm, (body_margin_mm, knuckle_margin_mm), (steer_count, travel_count), unknown
    )
    left, least = _Value(looks.left, looks.rough_left), _Value(looks.least, looks.rough_least)
    places = _places(low_mm, high_mm, MOST_PLACES if looks.usuals is None else MOST_PLACES // 4)
    hopeless = _hopeless(least, left, places)
    if hopeless is not None:
        limit = looks.things[int(looks.exact(hopeless)[1].argmin())].name
        return Window(None, None, limit, limit, hopeless, left.exact(hopeless))
    best = _highest(left, places)
    start = best if least.exact(best) >= 0 else _highest(least, places)
    no_contact, all_clear = _stretch(least, start, low_mm, high_mm), _stretch(left, best, low_mm, high_mm)
    low_end, high_end = no_contact or (best, best)
    return Window(
        no_contact,
        all_clear,
        looks.limiter(low_end, low_mm, -1.0),
        looks.limiter(high_end, high_mm, 1.0),
        best,
        left.exact(best),
    )


class _Looks:
    """Gaps of all obstacles at an offset, each computed once: roughly from a table over the grid, or exactly."""

    def __init__(
        self,
        outline_mm: Array,
        well: Well,
        things: Sequence[Thing],
        spacer_mm: float,
        margins: tuple[float, float],
        counts: tuple[int, int],
        unknown: Sequence[str],
    ) -> None:
        self.outline, self.well, self.things, self.spacer = (
            outline_mm,
            replace(well, centre_mm=0.0),
            list(things),
            spacer_mm,
        )
        self.body_mm, self.knuckle_mm = margins
        self.moves = np.array([thing.frame != "knuckle" for thing in things])
        self.margins = np.where(self.moves, self.body_mm, self.knuckle_mm)
        self.known: dict[float, Ends] = {}
        self.guessed: dict[float, Ends] = {}
        self.moving = [thing for thing in things if thing.frame != "knuckle"]
        self.usuals = Usuals(self.well, self.moving, unknown) if self.moving and unknown else None
        self.cloud = Cloud(self.well, self.moving) if self.moving and not unknown else None
        self.grid = _Grid(shape_of(outline_mm), self.well, self.moving, counts) if self.moving and not unknown else None

    def exact(self, offset: float) -> Ends:
        """Of every obstacle the gap of the worst and of the best axis, shape (obstacles,) [mm].

        The same where it is known.
        """
        key = round(offset, 6)
        if key not in self.known:
            self.known[key] = self._exact(key)
        return self.known[key]

    def _exact(self, offset: float) -> Ends:
        centre = self.spacer - offset
        lo = self._riding(centre)
        hi = lo.copy()
        if self.usuals is not None:
            ranges = self.usuals.ranges(self.outline, centre)
            lo[self.moves], hi[self.moves] = [one.lo_mm for one in ranges], [one.hi_mm for one in ranges]
        elif self.cloud is not None:
            lo[self.moves] = hi[self.moves] = [low.gap_mm for low in self.cloud.lows(self.outline, centre)]
        return lo, hi

    def rough(self, offset: float) -> Ends:
        """The same, of what moves from the grid alone."""
        if offset not in self.guessed:
            self.guessed[offset] = self._rough(offset)
        return self.guessed[offset]

    def _rough(self, offset: float) -> Ends:
        centre = self.spacer - offset
        lo = self._riding(centre)
        hi = lo.copy()
        if self.usuals is not None:
            ranges = self.usuals.rough(self.outline, centre)
            lo[self.moves], hi[self.moves] = [one.lo_mm for one in ranges], [one.hi_mm for one in ranges]
        elif self.grid is not None:
            lo[self.moves] = hi[self.moves] = self.grid.gaps(centre)
        return lo, hi

    def _riding(self, centre_mm: float) -> Array:
        """Gaps of what rides with the wheel, exact; infinite in the places of what moves."""
        found = np.full(len(self.things), np.inf)
        for k, thing in enumerate(self.things):
            if not self.moves[k]:
                x, y, z = thing.points_mm.T
                found[k] = (
                    signed_distance(self.outline, np.column_stack([y - centre_mm, np.hypot(x, z)])).min()
                    - thing.radius_mm
                )
        return found

    def least(self, offset: float) -> float:
        return float(self.exact(offset)[1].min())

    def left(self, offset: float) -> float:
        return float((self.exact(offset)[0] - self.margins).min())

    def rough_least(self, offset: float) -> float:
        return float(self.rough(offset)[1].min())

    def rough_left(self, offset: float) -> float:
        return float((self.rough(offset)[0] - self.margins).min())

    def limiter(self, end: float, limit: float, way: float) -> str:
        """Obstacle that touches just beyond an end, or ``range``."""
        if abs(end - limit) < 1e-6:
            return "range"
        return self.things[int(self.exact(end + way * 0.1)[1].argmin())].name


class _Grid:
    """All body points over a grid of poses; another offset only shifts them across."""

    def __init__(self, shape: Shape, well: Well, things: Sequence[Thing], counts: tuple[int, int]) -> None:
        steer = np.linspace(-well.steer_in_deg, well.steer_out_deg, counts[0])
        travel = np.linspace(-well.droop_mm, well.bump_mm, counts[1])
        across, radius = mover_of(well, things).over_grid(steer, travel)
        self.shape, self.across, self.radius = shape, across, radius
        sizes = [len(thing.points_mm) for thing in things]
        self.starts = np.cumsum([0, *sizes[:-1]])
        self.radii = np.array([thing.radius_mm for thing in things])

    def gaps(self, centre_mm: float) -> Array:
        """Smallest gap of every obstacle over the grid, from the table, shape (obstacles,) [mm]."""
        about = self.shape.roughly(self.across - np.float32(centre_mm), self.radius)
        return np.asarray(np.minimum.reduceat(about.min(axis=(0, 1)), self.starts) - self.radii)


@dataclass(frozen=True)
class _Value:
    """A value over the offset that changes no faster than it: exactly, and roughly within ``SLACK_MM`` below."""

    exact: Callable[[float], float]
    rough: Callable[[float], float]


def _hopeless(least: _Value, left: _Value, places: Array) -> float | None:
    """The best place where every offset overlaps even roughly, to about a millimetre; None where one may go in."""
    low, high = float(places[0]), float(places[-1])
    step = float(places[1] - places[0])
    if any(not least.rough(float(place)) + ROUGH_ERROR_MM + step / 2 < 0 for place in places):
        return None
    best = max(places, key=lambda place: left.rough(float(place)))
    finer = [float(place) for place in np.linspace(max(low, best - step), min(high, best + step), 9)]
    return max(finer, key=left.rough)


def _places(low: float, high: float, most: int) -> Array:
    """Offsets at which the whole range is looked at first, a millimetre apart where that is not too many."""
    return np.linspace(low, high, min(most, max(3, int(high - low) + 1)))


def _highest(of: _Value, places: Array) -> float:
    """Place of the highest value.

    The rough value is never more than the table's error under the true one, so that only places whose rough
    value comes near the best exact one are looked at; between two of them the value can't rise faster than the offset.
    """
    low, high = float(places[0]), float(places[-1])
    rough = np.array([of.rough(float(place)) for place in places])
    step = float(places[1] - places[0])
    best, top = float(places[rough.argmax()]), -np.inf
    for looks, k in enumerate(np.argsort(-rough, kind="stable")):
        if rough[k] + ROUGH_ERROR_MM + step / 2 < top or looks >= MOST_LOOKS:
            break
        value = of.exact(float(places[k]))
        if value > top:
            best, top = float(places[k]), value
    return _narrowed(of.exact, max(low, best - step), min(high, best + step), best)


def _narrowed(of: Callable[[float], float], low: float, high: float, best: float) -> float:
    """Place of the highest value of a function that rises and falls once, by halving; to ``END_MM``."""
    top, step = of(best), max(best - low, high - best) / 2
    while step > END_MM:
        better = [place for place in (best - step, best + step) if low <= place <= high and of(place) > top]
        if better:
            best = max(better, key=of)
            top = of(best)
        else:
            step /= 2
    return best


def _stretch(of: _Value, best: float, low: float, high: float) -> tuple[float, float] | None:
    """Ends of the stretch round ``best`` where a value is not negative; None where it is at ``best``."""
    if of.exact(best) < 0:
        return None
    return _end(of, best, low), _end(of, best, high)


def _end(of: _Value, start: float, limit: float) -> float:
    way, good = 1.0 if limit > start else -1.0, start
    while (limit - good) * way > 1e-9:
        sure = of.rough(good) - SLACK_MM
        step = sure if sure > 0.5 else max(of.exact(good), 0.0)
        ahead = good + way * max(step, PROBE_MM)
        if (limit - ahead) * way <= 0:
            ahead = limit
        if (step < PROBE_MM or ahead == limit) and of.exact(ahead) < 0:
            return _bisect(of.exact, good, ahead)
        good = ahead
    return float(good)


def _bisect(of: Callable[[float], float], good: float, bad: float) -> float:
    """Where a value turns negative, by regula falsi with halving; on the good side."""
    at_good, at_bad = of(good), of(bad)
    while abs(bad - good) > END_MM:
        share = min(max(at_good / (at_good - at_bad), 0.1), 0.9)
        middle = good + (bad - good) * share
        value = of(middle)
        if value >= 0:
            good, at_good = middle, value
        else:
            bad, at_bad = middle, value
    return round(good, 2)
