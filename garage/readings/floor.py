"""The floor sheet as a file: to fill in with a table program on a telephone, and read back."""

from __future__ import annotations

import csv
import io
import re
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Any

from django import forms

from garage.fields import unit_of
from garage.file import CarFile
from garage.readings.forms import SheetRow
from rimcore.quantities.errors import BadInput
from rimcore.tables.facts import CORNER_NAMES
from rimcore.well.read.declared import PARAMS
from rimcore.well.read.stations import STATIONS
from rimcore.well.read.walk import Stop
from shell.workbooks import Filled, TableForm, as_workbook

#: heads of the columns; the first is what a row is known by, the last is filled in
HEAD = ("mark", "where", "station", "what", "in", "read")
#: rows that are not taken are told up to so many
MOST_TOLD = 20

_BARE = re.compile(r"[-−+]?(?:\d{1,6}(?:[.,]\d{1,6})?|(?:\d{1,6}\s+)?\d{1,3}/\d{1,3})")

Rows = Sequence[tuple[Stop, SheetRow]]


class FloorFileForm(TableForm):
    """The file that was filled in."""

    file = forms.FileField(
        label="Read a filled file", widget=forms.ClearableFileInput(attrs={"accept": ".csv,.txt,.xlsx,text/csv"})
    )


@dataclass(frozen=True)
class Brought:
    """What a filled file says: fields of the sheet by their names, and what was not taken, in words."""

    data: Mapping[str, str]
    left: tuple[str, ...]


def table_of(file: CarFile, rows: Rows) -> list[Sequence[Any]]:
    """A row a field, in the order of the walk; where the rule goes stands in it, what it reads is empty."""
    return [
        (
            row.add_prefix(name),
            CORNER_NAMES.get(stop.corner, "whole car"),
            row.kind.name,
            str(field.label or row.kind.how),
            _said_in(file, row, name, field),
            Filled("" if name in row.read else _start(row, name)),
        )
        for stop, row in rows
        for name, field in row.fields.items()
    ]


def _start(row: SheetRow, name: str) -> str:
    value = row.get_initial_for_field(row.fields[name], name)
    return str(row.fields[name].prepare_value(value) if value is not None else "")


def _said_in(file: CarFile, row: SheetRow, name: str, field: forms.Field) -> str:
    if isinstance(field, forms.ChoiceField):
        choices: Any = field.choices
        return " or ".join(str(key) for key, _ in choices)
    return unit_of(row.kind.kind, file) if name in row.read else str(getattr(field, "unit", "") or "")


def as_csv(table: Sequence[Sequence[Any]]) -> str:
    """The sheet as CSV text."""
    out = io.StringIO()
    csv.writer(out, lineterminator="\r\n").writerows([HEAD, *table])
    return out.getvalue()


def as_xlsx(table: Sequence[Sequence[Any]]) -> io.BytesIO:
    """The sheet as a workbook; what is filled in stays text, so that 11/16 becomes no day."""
    return as_workbook({"floor sheet": (HEAD, table)})


def read_back(text: str, rows: Rows) -> Brought:
    """What a filled sheet says of the stations that are open; the rest is told.

    Raises
    ------
    BadInput : it is no floor sheet
    """
    lines = [line for line in text.splitlines() if line.strip()]
    delimiter = max(",;\t", key=lines[0].count) if lines else ","
    try:
        found = [[cell.strip() for cell in row] for row in csv.reader(lines, delimiter=delimiter)]
    except csv.Error as error:
        raise BadInput(f"The file is no table: {error}", "file") from error
    head = next(([cell.lower() for cell in row] for row in found if "mark" in [c.lower() for c in row]), None)
    if head is None or "read" not in head:
        raise BadInput(
            "The file is no floor sheet; accepted: the file of this page, with its columns mark and read.", "file"
        )
    mark, read = head.index("mark"), head.index("read")
    open_fields = {row.add_prefix(name) for _, row in rows for name in row.fields}
    wanted = {row.add_prefix(name) for _, row in rows for name in row.read}
    figures = {
        row.add_prefix(name)
        for _, row in rows
        for name, field in row.fields.items()
        if not isinstance(field, forms.ChoiceField)
    }
    within = head.index("in") if "in" in head else None
    data: dict[str, str] = {}
    left: list[str] = []
    for cells in found:
        key, said = (cells[k] if k < len(cells) else "" for k in (mark, read))
        if key.lower() == "mark" or not said:
            continue
        if key in open_fields and key not in data:
            data[key] = _with_unit(said, cells, within) if key in figures else said
        elif key in data:
            left.append(f"{key[:40]}: stands there twice; {said[:40]} is not taken")
        elif not _is_start(key):
            left.append(f"{key[:40] or 'a row without its mark'}: {said[:40]}; not open on this sheet")
    if not wanted & data.keys():
        data = {}
    more = [f"and {len(left) - MOST_TOLD} more"] if len(left) > MOST_TOLD else []
    return Brought(data, (*left[:MOST_TOLD], *more))


def _with_unit(said: str, cells: Sequence[str], within: int | None) -> str:
    """Bare figures carry the unit that stood beside them: the file may be read back in other units."""
    unit = cells[within] if within is not None and within < len(cells) else ""
    parts = [part.strip() for part in said.split(";")]
    return "; ".join(f"{part} {unit}" if unit and _BARE.fullmatch(part) else part for part in parts)


def _is_start(mark: str) -> bool:
    """Is it where the rule goes at a station that was read since, and no reading?"""
    place, _, name = mark.rpartition("-")
    return name in PARAMS and place.partition("-")[2] in STATIONS
