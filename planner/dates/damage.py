"""After an accident: corner by corner what is to be measured again, and which parts of the build were there."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from garage.file import CarFile
from garage.readings.models import Reading
from planner.chosen import choices_of
from planner.models import Build, Choice
from rimcore.tables.facts import CORNER_NAMES, CORNERS
from rimcore.well.read.stations import STATIONS


@dataclass(frozen=True)
class Damage:
    """One corner: the stations whose readings are not to be trusted until they are read again, and its parts."""

    corner: str
    name: str
    hit: bool
    again: tuple[tuple[str, Reading], ...]
    parts: tuple[Choice, ...]


def damage_of(file: CarFile, build: Build, corners: Sequence[str]) -> list[Damage]:
    """Every corner; of those that were hit, what hangs on it."""
    found = []
    for corner in CORNERS:
        hit = corner in corners
        again = tuple(
            (STATIONS[one.code].name, one)
            for one in file.latest
            if hit and one.corner == corner and one.code in STATIONS
        )
        parts = tuple(c for c in choices_of(build) if hit and c.stands_at(corner[0]) and not c.along)
        found.append(Damage(corner, CORNER_NAMES[corner], hit, again, parts))
    return found
