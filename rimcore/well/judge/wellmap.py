"""The well of one corner as a whole: map over steer and travel, gaps at one pose, offsets that go in."""

from __future__ import annotations

import itertools
from collections.abc import Sequence
from dataclasses import dataclass, replace
from functools import lru_cache

import numpy as np
from numpy.typing import NDArray

from rimcore.quantities.judgement import ORDER, State
from rimcore.well.judge.in_motion import only_assumed, pairs_of, swept
from rimcore.well.judge.ranges import Range, at_corner, bare, range_of, unknown_in, well_of
from rimcore.well.judge.tolerance import Tolerances
from rimcore.well.read.measured import Axle, Candidate, Reading
from rimcore.well.read.travel import Motion
from rimcore.well.solid.cloud import Cloud
from rimcore.well.solid.gap import outline_polygon
from rimcore.wheels.tyre import parse_tyre
from rimcore.wheels.wheel import Wheel

Array = NDArray[np.float64]


#: cells of the map on the screen
MAP_STEER, MAP_TRAVEL = 27, 15


@dataclass(frozen=True)
class Cell:
    """One pose of the map: smallest gap [mm] of all obstacles, its state against the margins, and what is left over the
    margins [mm].
    """

    steer_deg: float
    travel_mm: float
    gap_mm: float
    state: State
    left_mm: float = 0.0


@dataclass(frozen=True)
class WellMap:
    """The map of one corner for one candidate; travel counts from the baseline's ride height."""

    reach: Range
    steer_deg: tuple[float, ...]
    travel_mm: tuple[float, ...]
    cells: tuple[tuple[Cell, ...], ...]
    #: what of steering axis and camber gain is not measured
    unknown: tuple[str, ...] = ()

    @property
    def hits(self) -> int:
        return sum(cell.state == "hit" for row in self.cells for cell in row)


@lru_cache(maxsize=32)
def map_cloud(
    readings: tuple[Reading, ...], motion: Motion, candidate: Candidate, beside: tuple[Reading, ...] = ()
) -> tuple[tuple[Reading, ...], Cloud] | None:
    """Cells' middles lie at equal steps, ends included; the cloud does not depend on the wheel."""
    reach = range_of(motion, candidate)
    pairs = pairs_of(readings, motion, candidate.levers.lip_rolled_mm, beside)
    if reach is None or not pairs:
        return None
    well = replace(well_of(motion, candidate, reach), centre_mm=0.0)
    steer_count = MAP_STEER if motion.steers else 1
    return tuple(reading for reading, _ in pairs), Cloud(well, [thing for _, thing in pairs], steer_count, MAP_TRAVEL)


def wheel_free(candidate: Candidate) -> Candidate:
    """A candidate that stands for all wheels with the same camber and height."""
    plain = bare(candidate)
    fitted = replace(
        plain.fitted,
        wheel=Wheel(15, 6, 0.0),
        tyre=_ANY_TYRE,
        spacer_mm=0.0,
        measured_section_mm=None,
        profile_mm=None,
        grown_mm=0.0,
    )
    return replace(plain, fitted=fitted)


_ANY_TYRE = parse_tyre("195/65R15")


def axle_map(axle: Axle, corner: str, candidate: Candidate, tolerances: Tolerances) -> WellMap | None:
    """The map of one corner of an axle; at every pose the worse of with and without what trial fits left unsettled."""
    found = well_map(corner, axle.readings, axle.motion(corner), candidate, tolerances, axle.beside(candidate.fitted))
    if found is None or axle.held is None or not axle.held.loosens(candidate.fitted):
        return found
    without = replace(candidate, fitted=axle.held.without(candidate.fitted))
    other = well_map(corner, axle.held.readings, axle.motion(corner), without, tolerances)
    return found if other is None else replace(found, cells=_worse_cells(found.cells, other.cells))


def _worse_cells(
    these: tuple[tuple[Cell, ...], ...], those: tuple[tuple[Cell, ...], ...]
) -> tuple[tuple[Cell, ...], ...]:
    def worse(one: Cell, other: Cell) -> Cell:
        return min(one, other, key=lambda cell: (ORDER.index(cell.state), cell.gap_mm))

    return tuple(tuple(map(worse, *rows)) for rows in zip(these, those, strict=True))


def well_map(
    corner: str,
    readings: Sequence[Reading],
    motion: Motion,
    candidate: Candidate,
    tolerances: Tolerances,
    beside: tuple[Reading, ...] = (),
) -> WellMap | None:
    """Smallest gap over steer and travel for the screen; None where the range or every obstacle is unmeasured.

    A pose is clear where every margin is kept with all of its ±, and every reading was taken at this corner.
    ``beside`` are readings as they would place some obstacles otherwise: the smaller gap stands.
    """
    here, beside, candidate = at_corner(corner, readings), at_corner(corner, beside), candidate.at(corner)
    found = map_cloud(here, motion, wheel_free(candidate), beside)
    reach = range_of(motion, candidate)
    if found is None or reach is None:
        return None
    known, cloud = found
    moving = swept(here, motion, bare(candidate), beside)
    doubt = {one.reading: one.known.mm for one in moving}
    margins = np.array([wanted_at_most(reading, tolerances) + doubt[reading] for reading in known])
    passed: State = "unmeasured" if any(only_assumed(reading, motion) for reading in known) else "clear"
    gaps, left = cloud.over_poses(outline_polygon(candidate.fitted.outline), candidate.fitted.centre_mm, margins)
    names = unknown_in(motion, reach)

    steer, travel = cloud.steer.tolist(), cloud.travel.tolist()
    matters = axis_matters(names, cloud.steer, cloud.travel - candidate.levers.ride_drop_mm)
    states = np.where(matters, "unmeasured", np.where(gaps < 0, "hit", np.where(left < 0, "tight", passed))).tolist()
    rows = zip(travel, gaps.tolist(), states, left.tolist(), strict=True)
    cells = [tuple(map(Cell, steer, itertools.repeat(t), row, said, over)) for t, row, said, over in rows]
    return WellMap(reach, tuple(steer), tuple(travel), tuple(cells), names)


def axis_matters(names: Sequence[str], steer_deg: Array, from_rest_mm: Array) -> NDArray[np.bool_]:
    """At which poses does what is unknown matter.

    The axis once the wheel is turned, the gain once it has travelled? Shape (travel, steer).

    Source: none; what a pose needs.

    Parameters
    ----------
    names : what is not measured
    steer_deg : (s,) [deg]
    from_rest_mm : (t,), bump positive [mm]
    """
    gain = "camber_gain_deg_per_mm"
    turned = np.abs(steer_deg) > 1e-9 if any(name != gain for name in names) else np.zeros(len(steer_deg), dtype=bool)
    travelled = np.abs(from_rest_mm) > 1e-9 if gain in names else np.zeros(len(from_rest_mm), dtype=bool)
    return np.asarray(travelled[:, None] | turned[None, :])


def wanted_at_most(reading: Reading, tolerances: Tolerances) -> float:
    """Margin with the larger of the two allowances: the map does not know the direction of every gap."""
    share = 1.0 if tolerances.flex_mm >= tolerances.growth_mm else 0.0
    return tolerances.wanted_moving(reading.station.place, share, 1.0 - share)


def wanted_at_least(reading: Reading, tolerances: Tolerances) -> float:
    """Margin with the smaller of the two allowances."""
    share = 0.0 if tolerances.flex_mm >= tolerances.growth_mm else 1.0
    return tolerances.wanted_moving(reading.station.place, share, 1.0 - share)
