"""What changes a shortlist."""

from __future__ import annotations

import csv
import io
from dataclasses import dataclass
from typing import Any

from garage.models import Car
from garage.parts import Tyre, Wheel
from rimcore.quantities.errors import BadInput, CoreError
from rimcore.wheels.paste import COLUMNS, Offer, parse_offer, parse_row
from rimcore.wheels.wheel import Wheel as CoreWheel
from shell.undo import remember

#: rows of one table that are read
MOST_ROWS = 500
#: longest line of one [characters]
LONGEST_LINE = 2000


@dataclass(frozen=True)
class Row:
    """One row of a table: what was understood, or why it was not."""

    number: int
    text: str
    offer: Offer | None
    reason: str = ""


def add_offer(car: Car, user: Any, offer: Offer, name: str = "", line: str = "") -> Wheel | Tyre:
    """Put what a line said on the shortlist."""
    with remember(user, "candidate added"):
        return _create(car, offer, name, line)


def add_rows(car: Car, user: Any, rows: list[Row]) -> int:
    """Put all understood rows on the shortlist, in one transaction."""
    good = [row for row in rows if row.offer is not None]
    with remember(user, f"{len(good)} candidates added"):
        for row in good:
            if row.offer is not None:
                _create(car, row.offer, row.offer.note[:60], row.text)
    return len(good)


def _create(car: Car, offer: Offer, name: str, line: str) -> Wheel | Tyre:
    common: dict[str, Any] = {
        "car": car, "name": name[:60], "mass_kg": offer.mass_kg, "price_minor": offer.price_minor, "lead_days": offer.lead_days,
        "supplier": offer.supplier, "link": offer.link, "note": offer.note, "line": line[:500],
    }  # fmt: skip
    if offer.tyre is not None:
        tyre = offer.tyre
        listed: Tyre = Tyre.objects.create(
            size=tyre.size, rim_diameter_in=tyre.rim_diameter_in, section_width_mm=tyre.section_width_mm, **common
        )
        return listed
    wheel = offer.wheel
    if wheel is None or wheel.offset_mm is None:
        raise BadInput("the offset is needed to judge a wheel; write it as +22 or ET22", "line")
    found: Wheel = Wheel.objects.create(
        **wheel_fields(wheel), seat=offer.seat, pad_thickness_mm=offer.pad_thickness_mm, load_kg=offer.load_kg, **common
    )
    return found


def wheel_fields(wheel: CoreWheel) -> dict[str, Any]:
    """Columns of a parsed wheel."""
    return {name: getattr(wheel, name) for name in ("diameter_in", "width_in", "offset_mm", "bolts", "pcd_mm", "bore_mm")}


def pin_setting(car: Car, user: Any, wheel: CoreWheel, like: Wheel | None) -> Wheel:
    """Pin a setting of the bench as a candidate: a size to look for, not yet a part."""
    fields = wheel_fields(wheel)
    if like is not None:
        fields |= {name: getattr(like, name) for name in ("bolts", "pcd_mm", "bore_mm", "seat", "pad_thickness_mm")}
    with remember(user, "setting pinned"):
        found: Wheel = Wheel.objects.create(car=car, name="Pinned setting", pinned=True, **fields)
    return found


def change_candidate(candidate: Wheel | Tyre, user: Any, values: dict[str, Any]) -> None:
    """Change what is known of a candidate."""
    with remember(user, f"{candidate} changed"):
        for name, value in values.items():
            setattr(candidate, name, value)
        candidate.save()


def remove_candidate(candidate: Wheel | Tyre, user: Any) -> None:
    """Take a candidate off the shortlist; one that a build uses is protected."""
    with remember(user, f"{candidate} taken off the list"):
        candidate.delete()


def read_table(text: str) -> list[Row]:
    """Read a CSV text: with a header of known columns, or one line a candidate.

    Raises
    ------
    BadInput : empty, too many rows, or no table
    """
    text = text.replace("\r\n", "\n").replace("\r", "\n")
    lines = [line for line in text.split("\n") if line.strip()]
    long = next((number for number, line in enumerate(lines, start=1) if len(line) > LONGEST_LINE), None)
    if long is not None:
        raise BadInput(f"line {long} is over {LONGEST_LINE} characters; accepted: one candidate a line", "file")
    if not lines:
        raise BadInput("the file is empty; accepted: a CSV file with a header, or one candidate a line", "file")
    if len(lines) > MOST_ROWS + 1:
        raise BadInput(f"the file has {len(lines)} rows; accepted: {MOST_ROWS} at most", "file")
    delimiter = max(",;\t", key=lines[0].count)
    try:
        header = [cell.strip().lower() for cell in next(csv.reader([lines[0]], delimiter=delimiter))]
    except csv.Error as error:
        raise BadInput(f"not a table: {error}", "file") from error
    if any(cell in COLUMNS for cell in header):
        return _headed_rows(text, delimiter)
    return [_row(number, line, lambda line=line: parse_offer(line)) for number, line in enumerate(lines, start=1)]


def _headed_rows(text: str, delimiter: str) -> list[Row]:
    rows = []
    reader = csv.DictReader(io.StringIO(text), delimiter=delimiter, restkey="")
    try:
        for number, row in enumerate(reader, start=2):
            cells = {name: cell for name, cell in row.items() if isinstance(cell, str)}
            if any(cell.strip() for cell in cells.values()):
                rows.append(_row(number, delimiter.join(cells.values()), lambda cells=cells: parse_row(cells)))
    except csv.Error as error:
        raise BadInput(f"not a table: {error}", "file") from error
    return rows


def _row(number: int, text: str, read: Any) -> Row:
    try:
        offer: Offer = read()
    except CoreError as error:
        return Row(number, text, None, error.message)
    if offer.wheel is not None and offer.wheel.offset_mm is None:
        return Row(number, text, None, "the offset is missing; write it as +22 or ET22")
    return Row(number, text, offer)
