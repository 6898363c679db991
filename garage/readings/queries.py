"""What the pages of measuring need."""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import Any

from garage.file import CarFile, fault_of_reading
from garage.readings.models import Reading
from rimcore.quantities.judgement import Judgement
from rimcore.tables.facts import CORNERS
from rimcore.well.read.around import groups_of
from rimcore.well.read.rule import Where
from rimcore.well.read.stations import STATIONS, StationKind, judged_codes, stations_of
from shell.figures import figure


@dataclass(frozen=True)
class StationRow:
    """One station of a corner: its readings in force and what is judged of it."""

    kind: StationKind
    readings: list[Reading]
    judgements: list[Judgement]
    unlocks: int
    #: its number on the drawings of the corner
    number: int = 0

    @property
    def standing(self) -> str:
        """``measured``, ``assumed`` from the other side, or ``missing``."""
        if not self.readings:
            return "missing"
        return "assumed" if all(reading.mirrored_from_id for reading in self.readings) else "measured"


@dataclass(frozen=True)
class Drawn:
    """A drawing of a corner with its markup."""

    where: Where
    template: str


@dataclass(frozen=True)
class GroupRow:
    """Stations that are read while the wheel stands in one way, with their rows."""

    standing: str
    name: str
    codes: tuple[str, ...]
    rows: list[tuple[StationRow, list[str]]]


def grouped(corner: str, rows: list[tuple[StationRow, list[str]]]) -> list[tuple[GroupRow, list[Any], int]]:
    """The stations of a corner round its drawings: (group, its drawings with their marks, how many are read)."""
    by_code = {row.kind.code: (row, texts) for row, texts in rows}
    found = []
    for group in groups_of(corner):
        drawn: list[Any] = []
        numbers: dict[str, int] = {}
        for view in group.views:
            marks = [(mark, by_code[mark.code][0].standing, by_code[mark.code][0].kind.name) for mark in view.marks]
            numbers |= {mark.code: mark.number for mark in view.marks}
            drawn.append((Drawn(view.where, f"garage/where/{view.where.view}.html"), marks))
        here = [(replace(by_code[code][0], number=numbers[code]), by_code[code][1]) for code in group.codes]
        done = sum(row.standing == "measured" for row, _ in here)
        found.append((GroupRow(group.standing, group.name, group.codes, here), drawn, done))
    return found


def share_measured(file: CarFile) -> float:
    """Share of the judged stations of all corners that have a reading."""
    wanted = {(corner, code) for corner in CORNERS for code in judged_codes(corner)}
    have = {(reading.corner, reading.code) for reading in file.latest}
    return len(wanted & have) / len(wanted)


def station_rows(
    file: CarFile, corner: str, judgements: list[Judgement], unlocks: dict[tuple[str, str], int]
) -> list[StationRow]:
    """The stations of a corner in the order of work."""
    rows = []
    for kind in stations_of(corner):
        here = [reading for reading in file.latest if reading.corner == corner and reading.code == kind.code]
        judged = [j for j in judgements if j.code.removeprefix("gap.").split(".")[0] == kind.code]
        rows.append(StationRow(kind, here, judged, unlocks.get((corner, kind.code), 0)))
    return rows


#: readings of a station shown at once
SHOWN = 60


def history(file: CarFile, corner: str, code: str, whole: bool = False) -> list[Reading]:
    """Readings of a station, newest first, struck ones too: as many as are shown at once, or all of them."""
    stood = {outfit.pk: outfit for outfit in file.outfits}
    found = list(
        file.car.readings.filter(corner=corner, code=code).select_related("condition")[: None if whole else SHOWN + 1]
    )
    for reading in found:
        reading.outfit = stood[reading.outfit_id]
    return [reading for reading in found if fault_of_reading(reading) is None]


def neighbours(corner: str) -> tuple[str, str]:
    """Previous and next corner, round the car."""
    place = CORNERS.index(corner)
    return CORNERS[place - 1], CORNERS[(place + 1) % len(CORNERS)]


def reading_text(reading: Reading, preferences: Any) -> str:
    """A reading in the person's unit."""
    kind = STATIONS[reading.code].kind
    shown = [figure(float(value), kind, preferences) for value in reading.values]
    return f"{' / '.join(text for text, _ in shown)}\u2009{shown[0][1]}"
