"""Four pads as they were read last, and what is judged of them."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any

from garage.file import CarFile
from garage.models import Reading
from rimcore.quantities.judgement import InputUsed, Judgement
from rimcore.ride.bench import judge_cross
from rimcore.ride.weights import CORNERS, Pads
from rimcore.well.stations import CORNER_NAMES


@dataclass(frozen=True)
class Weighing:
    """Four corners that were weighed together."""

    pads: Pads
    read: Mapping[str, Reading]

    @property
    def newest(self) -> Reading:
        """The last of its readings."""
        return max(self.read.values(), key=lambda one: one.pk)

    @property
    def loads_kg(self) -> list[float]:
        """In the order of the corners."""
        return [self.read[corner].value for corner in CORNERS]


def weighings(file: CarFile) -> list[Weighing]:
    """Every time that all four corners were weighed on one day, in one condition, on one set of wheels; the newest first."""
    together: dict[Any, dict[str, Reading]] = {}
    for reading in file.readings:
        if reading.code == "corner_mass" and not reading.struck_why:
            together.setdefault((reading.outfit_id, reading.condition_id, reading.taken_on), {}).setdefault(reading.corner, reading)
    found = [Weighing(Pads(*(read[corner].value for corner in CORNERS)), read) for read in together.values() if set(read) == set(CORNERS)]
    return sorted(found, key=lambda one: (one.newest.taken_on, one.newest.pk), reverse=True)


def pads_of(file: CarFile) -> Weighing | None:
    """The last weighing on what stands on the car now; corners of different days are no weighing."""
    now = file.current.pk if file.current else None
    return next((one for one in weighings(file) if one.newest.outfit_id == now), None)


def _inputs(read: Mapping[str, Reading]) -> tuple[InputUsed, ...]:
    return tuple(
        InputUsed(CORNER_NAMES[corner], f"{one.value:g} ± {one.uncertainty:g} kg", one.who, f"{one.taken_on:%-d %b %Y}")
        for corner, one in read.items()
    )


def judgements(file: CarFile) -> tuple[Judgement, ...]:
    """The cross weight as it was weighed last."""
    found = pads_of(file)
    if found is None:
        return (judge_cross(None),)
    doubt = max(one.uncertainty for one in found.read.values())
    return (judge_cross(found.pads, doubt, inputs=_inputs(found.read)),)
