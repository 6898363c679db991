"""What to measure first where an axis or a gain is not known."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from rimcore.quantities.errors import CoreError
from rimcore.well.judge.in_motion import swept
from rimcore.well.judge.ranges import at_corner, bare
from rimcore.well.judge.unknown import AXIS_NAMES, AXIS_STATIONS
from rimcore.well.read.measured import Candidate, Reading
from rimcore.well.read.stations import STATIONS
from rimcore.well.read.travel import Motion

Array = NDArray[np.float64]


@dataclass(frozen=True)
class Narrowing:
    """One thing to measure of axis and camber gain.

    Its station, and how much narrower the widest open range becomes [mm].
    """

    station: str
    name: str
    how: str
    by_mm: float


def what_narrows(
    corner: str, readings: Iterable[Reading], motion: Motion, candidate: Candidate, beside: tuple[Reading, ...] = ()
) -> list[Narrowing]:
    """What of the steering axis and the camber gain to measure first, over all obstacles of a corner.

    Most useful first.
    """
    here = tuple(reading for reading in readings if reading.corner == corner)
    try:
        moving = swept(here, motion, bare(candidate.at(corner)), at_corner(corner, beside))
    except CoreError:
        return []
    most: dict[str, float] = {}
    for one in moving:
        for name, by in one.usual.narrows if one.usual is not None else ():
            most[name] = max(by, most.get(name, 0.0))
    ranked = sorted(most.items(), key=lambda item: -item[1])
    return [
        Narrowing(AXIS_STATIONS[name], AXIS_NAMES[name], STATIONS[AXIS_STATIONS[name]].how, by) for name, by in ranked
    ]
