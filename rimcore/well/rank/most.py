"""The most room that a wheel and tyre can have on an axle: quickly, and never less than what is judged of it."""

from __future__ import annotations

from collections.abc import Sequence
from contextlib import suppress
from dataclasses import replace
from functools import lru_cache

import numpy as np
from numpy.typing import NDArray

from rimcore.quantities.errors import CoreError
from rimcore.well.judge.altered import altered
from rimcore.well.judge.at_rest import inside_gap
from rimcore.well.judge.tolerance import Tolerances
from rimcore.well.judge.wellmap import wanted_at_least, wheel_free
from rimcore.well.rank.shortlist import LIFT_MM, STEP_MM, MarginTable, seen_of
from rimcore.well.read.measured import Axle, Candidate, Reading, placeable
from rimcore.wheels.outline import Outline

Array = NDArray[np.float64]

#: how much nearer the table may say an obstacle than it is: both ends of a way lie in cells, margins are in steps [mm]
NEAR_MM = STEP_MM * 2.0**0.5 + LIFT_MM
#: deeper than this inside an outline, something touches whatever the table's steps are [mm]
SURELY_MM = 8.0


def most_margins_mm(
    axle: Axle, candidates: Sequence[Candidate], spacers_mm: Sequence[float], tolerances: Tolerances
) -> Array:
    """The most that the least margin of each candidate can be with each spacer, shape (n, m) [mm].

    Never less than the least margin over all gaps of ``fitment.judge``; a few millimetres more where something is
    near. Infinite where nothing bounds it that is quickly told; NaN where no gap is measured at all.

    Parameters
    ----------
    axle : with its readings
    candidates : (n,) height, camber and levers are those of the first, wheels with their offset and tyres each one's
        own
    spacers_mm : (m,) 0 or more, beside what each has [mm]
    tolerances : margins wanted

    Source: the distance to a set of points is no more than to any part of it.

    >>> from rimcore.well.judge.tolerance import SCHOOLS
    >>> from rimcore.well.read.measured import Reading
    >>> from rimcore.well.solid.gap import Station
    >>> from rimcore.well.solid.pose import Pose
    >>> from rimcore.wheels.fitted import Fitted
    >>> from rimcore.wheels.hub import Hub
    >>> from rimcore.wheels.tyre import parse_tyre
    >>> from rimcore.wheels.wheel import parse_wheel
    >>> pair = Fitted(parse_wheel("17x8 +40"), parse_tyre("225/45R17"))
    >>> read = Reading("FL", "caliper_spoke", Station("caliper", face_mm=31.0), None, pair, Pose(), 1)
    >>> axle = Axle(("FL", "FR"), pair, Hub(), (read,))
    >>> most_margins_mm(axle, [Candidate(pair, spoke_back_mm=34.0)], (0.0, 3.0), SCHOOLS["daily"]).tolist()
    [[0.0, 3.0]]
    """
    found = np.full((len(candidates), len(spacers_mm)), np.inf)
    if not candidates:
        return found
    axle = altered(axle, candidates[0])
    shifts = np.array(spacers_mm, dtype=float)
    inside = [_inside_mm(axle, one, shifts, tolerances) for one in candidates]
    if not any(placeable(reading) for reading in axle.readings):
        return np.array([np.full(len(shifts), np.nan) if one is None else one for one in inside])
    table = most_table(axle, candidates[0], tolerances)
    alike: dict[Outline, list[int]] = {}
    for k, one in enumerate(candidates):
        with suppress(CoreError):
            alike.setdefault(one.fitted.outline, []).append(k)
    for shape, numbers in alike.items():
        centres = np.add.outer([candidates[k].fitted.centre_mm for k in numbers], shifts)
        found[numbers] = table.most_mm(shape, centres.ravel()).reshape(centres.shape)
    return np.array([row if one is None else np.minimum(row, one) for row, one in zip(found, inside, strict=True)])


class MostTable(MarginTable):
    """A table of margins whose answers are never too small."""

    #: the least that is wanted anywhere [mm]
    least_mm = 0.0

    def most_mm(self, shape: Outline, centres_mm: Array) -> Array:
        """The most that the least margin of an outline can be at places across, shape (n,) [mm]."""
        if not self.known:
            return self.at_lips_mm(shape, centres_mm)
        outside = self.outside_mm(shape, centres_mm) + NEAR_MM
        deep = self.deep_mm(shape, centres_mm)
        # what touches is short of all that is wanted of it
        sure = np.where(deep < -SURELY_MM - self.lifts.max(), -self.least_mm, np.inf)
        return np.asarray(np.minimum(np.minimum(outside, sure), self.at_lips_mm(shape, centres_mm)))


def most_table(axle: Axle, candidate: Candidate, tolerances: Tolerances) -> MostTable:
    """The table of an axle, whatever the wheel: of the candidate only height, camber and levers count."""
    return _most_table(replace(axle, hub=type(axle.hub)(), axle_load_kg=None), wheel_free(candidate), tolerances)


@lru_cache(maxsize=4)
def _most_table(axle: Axle, candidate: Candidate, tolerances: Tolerances) -> MostTable:
    settled = replace(axle, readings=tuple(one for one in axle.readings if not _loose(axle, one)))
    seen = seen_of(settled, candidate, tolerances, wanted_at_least)
    lips: list[float] = []
    for rest in seen.rests:
        if rest.reading.station.place == "arch":
            lips += (rest.flat_mm[:, 0] + candidate.levers.lip_rolled_mm - tolerances.arch_side_mm).tolist()
        elif rest.alone:
            margin = tolerances.wanted(rest.reading.station.place)
            seen.put(rest.flat_mm, margin, margin)
    found = MostTable(np.vstack(seen.points_mm), np.concatenate(seen.lift_mm), lips)
    found.least_mm = min(seen.wanted_mm, default=0.0)
    return found


def _loose(axle: Axle, reading: Reading) -> bool:
    """Does a reading rest on a trial fit that is not settled? Of it the worse counts, which bounds nothing."""
    return axle.held is not None and reading not in axle.held.readings


def _inside_mm(axle: Axle, candidate: Candidate, spacers_mm: Array, tolerances: Tolerances) -> Array | None:
    """Least margin of what stands inside the rim with each spacer; None where nothing of it is known."""
    found = [
        gap - wanted + (spacers_mm if reading.code == "caliper_spoke" else 0.0 * spacers_mm)
        for reading in axle.readings
        if reading.station.place in ("caliper", "joint")
        for gap, wanted in [inside_gap(reading, candidate, tolerances)]
        if gap is not None
    ]
    return np.minimum.reduce(found) if found else None
