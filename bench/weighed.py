"""Four pads as they were read last, and what is judged of them."""

from __future__ import annotations

from collections.abc import Mapping

from garage.file import CarFile
from garage.models import Reading
from rimcore.quantities.judgement import InputUsed, Judgement
from rimcore.ride.bench import judge_cross
from rimcore.ride.weights import CORNERS, Pads
from rimcore.well.stations import CORNER_NAMES


def pads_of(file: CarFile) -> tuple[Pads, dict[str, Reading]] | None:
    """The four corners as they were weighed last; None until all four are."""
    read = {reading.corner: reading for reading in reversed(file.latest) if reading.code == "corner_mass"}
    if set(read) != set(CORNERS):
        return None
    return Pads(*(read[corner].value for corner in CORNERS)), read


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
    pads, read = found
    return (judge_cross(pads, max(one.uncertainty for one in read.values()), inputs=_inputs(read)),)
