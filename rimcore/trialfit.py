"""Trial fits: what was seen with a rim or a wheel on the car corrects where the obstacles stand."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass, replace
from functools import lru_cache

import numpy as np
from numpy.typing import NDArray
from scipy.optimize import least_squares

from rimcore.doubt import same_carcass
from rimcore.gap import Fitted, outline_polygon
from rimcore.measured import Reading, held_to_tyre, place_uncertainty_mm, placed, side_uncertainty_mm
from rimcore.outline import MEASURED_SIDE_MM, NOMINAL_SIDE_MM
from rimcore.polygon import signed_distance
from rimcore.pose import Pose
from rimcore.traced import bare_rim

Array = NDArray[np.float64]

#: what a sighting says of the gap: value and ± [mm] (common practice: paper is 0.1 mm and bends with the gap)
SEEN_MM = {"touches": (0.0, 0.5), "paper": (0.4, 0.4)}
#: how well it is known where along the obstacle the rule stood [mm] (common practice)
PLACE_MM = 8.0
#: farther than this from where it was read it would be another obstacle [mm] (common practice)
MOST_MOVED_MM = 20.0
#: a residual beyond this many of its own ± is a conflict
CONFLICT = 2.0


@dataclass(frozen=True)
class Seen:
    """One obstacle seen in a trial fit: which (place in the list of readings), with what on the hub, how, and the gap ± [mm]."""

    reading: int
    fitted: Fitted
    bare: bool
    pose: Pose
    gap_mm: float
    uncertainty_mm: float

    @property
    def tyre_key(self) -> tuple[str, float] | None:
        """Whose outline error is at stake; a bare rim and a measured section have none."""
        return None if self.bare else _tyre_key(self.fitted)


def _tyre_key(fitted: Fitted) -> tuple[str, float] | None:
    """Name of an outline that nobody measured: the size on a width of rim."""
    return None if fitted.measured_section_mm or fitted.profile_mm else (fitted.tyre.size, fitted.wheel.width_in)


@dataclass(frozen=True)
class Corrected:
    """What all readings together say.

    ``readings`` come back with their obstacles moved and their ± narrowed; ``grown_mm`` is by tyre size
    and rim width; ``residuals`` are those of the sightings in their own ±, in order.
    """

    readings: tuple[Reading, ...]
    grown_mm: dict[tuple[str, float], float]
    residuals: tuple[float, ...]
    base_residuals: dict[int, float]

    def conflict(self, place: int) -> bool:
        """Does a sighting contradict the other readings?"""
        return abs(self.residuals[place]) > CONFLICT


def predict_mm(reading: Reading, fitted: Fitted, bare: bool, pose: Pose) -> float:
    """Gap that is expected in a trial fit: shortest way from the obstacle to the rim or the wheel [mm].

    >>> from rimcore.gap import Station
    >>> from rimcore.tyre import parse_tyre
    >>> from rimcore.wheel import parse_wheel
    >>> on_car = Fitted(parse_wheel("16x7 +42"), parse_tyre("205/55R16"))
    >>> damper = Reading("FL", "damper", Station("damper", height_mm=262), 9.0, on_car, Pose(), 1.0)
    >>> round(predict_mm(damper, on_car, True, Pose()), 1)
    43.1
    """
    return _gap(placed(reading).points_mm[0], placed(reading).frame, fitted, bare, pose, 0.0)


def prediction_uncertainty_mm(reading: Reading, fitted: Fitted, bare: bool) -> float:
    """± of what is expected in a trial fit [mm]: where the obstacle stands, and the tyre's outline unless the rim is bare.

    >>> from rimcore.gap import Station
    >>> from rimcore.tyre import parse_tyre
    >>> from rimcore.wheel import parse_wheel
    >>> on_car = Fitted(parse_wheel("16x7 +42"), parse_tyre("205/55R16"))
    >>> lip = Reading("FL", "liner_front", Station("liner", edge="front", u="centre"), 40.0, on_car, Pose(), 1.0)
    >>> wider = replace(on_car, tyre=parse_tyre("215/55R16"))
    >>> [round(prediction_uncertainty_mm(lip, *case), 1) for case in ((on_car, False), (on_car, True), (wider, False))]
    [1.0, 2.7, 3.7]
    """
    if bare:
        return place_uncertainty_mm(reading)
    if same_carcass(reading.present, fitted) and held_to_tyre(reading):
        return reading.uncertainty_mm
    return math.hypot(place_uncertainty_mm(reading), side_uncertainty_mm(fitted))


def _gap(point: Array, frame: str, fitted: Fitted, bare: bool, pose: Pose, grown_mm: float) -> float:
    shape = replace(fitted, grown_mm=0.0).outline if not fitted.profile_mm else fitted.outline
    polygon = bare_rim(shape) if bare else outline_polygon(shape)
    if frame != "knuckle":
        point = replace(pose, camber_deg=fitted.camber_deg).to_hub(point[None, :])[0]
    across, radius = float(point[1] - fitted.centre_mm), math.hypot(point[0], point[2])
    return float(signed_distance(polygon, np.array([[across, radius]]))[0]) - (0.0 if bare else grown_mm)


def correct(readings: Sequence[Reading], seen: Sequence[Seen]) -> Corrected:
    """Re-estimate obstacles and tyre outlines by least squares from all readings, each weighed by its ±.

    Every obstacle that was seen may move in three directions, held by its own reading (± as read, along
    the gap) and loosely by its place (±8 mm along the obstacle); every tyre that was tried, and the one
    that the rule was held against, may be larger or smaller than its outline by the same amount all
    round, held by the carcass allowance. Where readings
    contradict each other the ± grows with what is left between them, so that no clear comes of it.

    Examples
    --------
    >>> from rimcore.gap import Station
    >>> from rimcore.tyre import parse_tyre
    >>> from rimcore.wheel import parse_wheel
    >>> on_car = Fitted(parse_wheel("16x7 +42"), parse_tyre("205/55R16"))
    >>> damper = Reading("FL", "damper", Station("damper", height_mm=262), 9.0, on_car, Pose(), 1.0)
    >>> touching = Seen(0, replace(on_car, wheel=parse_wheel("16x7 +49"), measured_section_mm=205), False, Pose(), 0.0, 0.5)
    >>> round(correct([damper], [touching]).readings[0].moved_mm[1], 1)
    4.2
    """
    return _corrected(tuple(readings), tuple(seen))


@lru_cache(maxsize=256)
def _corrected(readings: tuple[Reading, ...], seen: tuple[Seen, ...]) -> Corrected:
    """A page asks for the same corrections at every change of a control; the answer is kept."""
    places = sorted({one.reading for one in seen})
    base = {place: _Base.of(readings[place]) for place in places}
    tried = {one.tyre_key for one in seen if one.tyre_key is not None}
    keys = sorted(tried | {one.key for one in base.values() if one.key is not None})

    def residuals(x: Array) -> Array:
        moved = {place: base[place].point + x[3 * k : 3 * k + 3] for k, place in enumerate(places)}
        grown = dict(zip(keys, x[3 * len(places) :], strict=True))
        rows = [base[p].residual(moved[p], grown) for p in places]
        rows += [float(value) / PLACE_MM for value in x[: 3 * len(places)]]
        rows += [grown[key] / NOMINAL_SIDE_MM for key in keys]
        rows += [_seen_residual(one, moved[one.reading], base[one.reading].frame, grown) for one in seen]
        return np.array(rows)

    if not seen:
        return Corrected(readings, {}, (), {})
    solved = least_squares(residuals, np.zeros(3 * len(places) + len(keys)), x_scale=2.0, bounds=(-MOST_MOVED_MM, MOST_MOVED_MM))
    left = residuals(solved.x)
    sightings = left[len(left) - len(seen) :]
    spread = np.linalg.pinv(solved.jac.T @ solved.jac)
    fixed = list(readings)
    for k, place in enumerate(places):
        rows = slice(3 * k, 3 * k + 3)
        across = solved.jac[k, rows] * base[place].sigma_mm
        known = math.sqrt(max(float(across @ spread[rows, rows] @ across), 1e-4))
        # Readings that contradict each other know less than their own ± says.
        apart = max([abs(left[k]), *(abs(sightings[n]) for n, one in enumerate(seen) if one.reading == place)])
        if apart > CONFLICT:
            known = max(known, readings[place].uncertainty_mm) * float(apart)
        shift = tuple(round(float(value), 3) for value in solved.x[rows])
        fixed[place] = replace(readings[place], moved_mm=(shift[0], shift[1], shift[2]), uncertainty_mm=round(known, 3), corrected=True)
    grown = {key: round(float(value), 3) for key, value in zip(keys, solved.x[3 * len(places) :], strict=True) if key in tried}
    return Corrected(tuple(fixed), grown, tuple(sightings.tolist()), dict(zip(places, left[: len(places)].tolist(), strict=True)))


@dataclass(frozen=True)
class _Base:
    """The reading that placed an obstacle: where, what the rule said, and the tyre it was held against."""

    reading: Reading
    point: Array
    frame: str
    start_mm: float
    key: tuple[str, float] | None
    sigma_mm: float

    @classmethod
    def of(cls, reading: Reading) -> _Base:
        stands = placed(replace(reading, moved_mm=(0.0, 0.0, 0.0)))
        point, held = stands.points_mm[0], held_to_tyre(reading)
        start = _gap(point, stands.frame, reading.present, False, reading.pose, 0.0)
        key = _tyre_key(reading.present) if held else None
        own = side_uncertainty_mm(reading.present) if held and key is None else 0.0
        return cls(reading, point, stands.frame, start, key, math.hypot(reading.uncertainty_mm, own))

    def residual(self, point: Array, grown: dict[tuple[str, float], float]) -> float:
        gap = _gap(point, self.frame, self.reading.present, False, self.reading.pose, grown[self.key] if self.key else 0.0)
        return (gap - self.start_mm) / self.sigma_mm


def _seen_residual(one: Seen, point: Array, frame: str, grown: dict[tuple[str, float], float]) -> float:
    key = one.tyre_key
    sigma = one.uncertainty_mm if key is not None else math.hypot(one.uncertainty_mm, MEASURED_SIDE_MM)
    return (_gap(point, frame, one.fitted, one.bare, one.pose, grown[key] if key else 0.0) - one.gap_mm) / sigma
