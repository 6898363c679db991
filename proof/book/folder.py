"""The build book as a folder of open files: tables, drawings, pictures, in one archive."""

from __future__ import annotations

import csv
import io
import tempfile
import zipfile
from collections.abc import Iterator, Sequence
from typing import IO, Any

from django.core.files.storage import default_storage
from django.template.loader import render_to_string

from garage.file import CarFile
from proof.book.chapters import CHAPTERS, Book
from rimcore.tables.units import UNIT_OF_KIND
from rimcore.well.read.stations import STATIONS
from rimcore.work.money import in_whole
from shell.figures import in_unit, unit_for
from shell.plain import as_cell

#: an archive over this goes to disk [bytes]
IN_MEMORY = 4 * 1024 * 1024

Table = tuple[Sequence[str], list[Sequence[Any]]]


def folder_of(file: CarFile, book: Book) -> IO[bytes]:
    """A zip archive: ``README.txt``, a table a chapter, drawings as SVG, pictures as JPEG."""
    out: IO[bytes] = tempfile.SpooledTemporaryFile(max_size=IN_MEMORY)  # noqa: SIM115  the answer closes it
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as archive:
        archive.writestr("README.txt", _readme(file, book))
        for name, (head, rows) in tables_of(file, book):
            archive.writestr(f"{name}.csv", as_csv(head, rows))
        for sheet in book.sheets:
            drawn = render_to_string("shell/scene.html", {"s": sheet.scene, "label": sheet.corner})
            archive.writestr(f"drawings/{sheet.corner.replace(' ', '-')}.svg", _alone(drawn))
        for k, image in enumerate(_pictures(book)):
            if default_storage.exists(image):
                with default_storage.open(image) as picture:
                    archive.writestr(f"pictures/{k + 1:03d}.jpg", picture.read())
    out.seek(0)
    return out


def _alone(drawn: str) -> str:
    """A drawing that stands by itself: its name space, and ink for what the page's style would give."""
    style = (
        "<style>path{fill:none;stroke:#1C2330}text{font:13px sans-serif;fill:#1C2330}"
        ".present{stroke:#6A6F76;stroke-dasharray:6 4}.leader{stroke:#B9B2A3}</style>"
    )
    return drawn.replace("<svg ", '<svg xmlns="http://www.w3.org/2000/svg" ', 1).replace(">", f">{style}", 1)


def _readme(file: CarFile, book: Book) -> str:
    rows = [
        f"Build book of {file.car.nickname}",
        "",
        "Units stand in the head of each table or beside the figure.",
        "",
    ]
    rows += [f"{number}. {title}" for number, _, title in book.contents]
    left = [title for code, title in CHAPTERS.items() if code not in book.chapters]
    rows += ["", f"Left out: {', '.join(left)}."] if left else []
    rows += ["", "What is not measured is listed, never filled in. Local codes and licensed people decide."]
    return "\n".join(rows) + "\n"


def as_csv(head: Sequence[str], rows: Sequence[Sequence[Any]]) -> str:
    """A table as text; what a table program would take for a formula stays text."""
    out = io.StringIO()
    table = csv.writer(out)
    table.writerow(head)
    table.writerows(
        [as_cell(cell) if isinstance(cell, str) else "" if cell is None else cell for cell in row] for row in rows
    )
    return out.getvalue()


def _pictures(book: Book) -> Iterator[str]:
    yield from (str(photo.image.name) for photo in book.photos)
    yield from (str(picture.image.name) for picture in book.claims)
    yield from (str(picture.image.name) for picture in book.receipts)


def tables_of(file: CarFile, book: Book) -> Iterator[tuple[str, Table]]:
    """A table a chapter that has rows, in the person's units."""
    for name, table in (
        ("stands", _stands(book)),
        ("readings", _readings(book)),
        ("torque", _torque(book)),
        ("parts", _parts(file, book)),
        ("runs", _runs(book)),
        ("predictions", _predictions(book)),
        ("not-measured", (("what", "why"), list(book.unmeasured))),
    ):
        if table[1]:
            yield name, table


def unit_in(kind: str) -> str:
    """The person's unit of a kind; angles always as degrees with a point, for programs that reckon with them."""
    if kind not in UNIT_OF_KIND:
        return ""
    unit = unit_for(kind)
    return "deg" if unit == "min" else unit


def in_theirs(value: float | None, kind: str) -> float | None:
    """A figure in the person's unit; what is not known stays blank."""
    if value is None or not unit_in(kind):
        return value
    return round(in_unit(value, kind, unit_in(kind)), 4)


def _stands(book: Book) -> Table:
    rows: list[Sequence[Any]] = [
        (
            one.name,
            when,
            str(stands.wheel),
            stands.tyre,
            in_theirs(stands.spacer_mm, "length"),
            in_theirs(stands.camber_deg, "angle"),
            in_theirs(stands.ride_drop_mm, "length"),
        )
        for one in book.ends
        for when, stands in (("first recorded", one.before), ("now", one.now))
        if stands is not None
    ]
    long, angle = unit_in("length"), unit_in("angle")
    return ("end", "when", "wheel", "tyre", f"spacer {long}", f"camber {angle}", f"lowered {long}"), rows


def _readings(book: Book) -> Table:
    rows: list[Sequence[Any]] = []
    for one in book.readings:
        read = one.reading
        kind = STATIONS[read.code].kind if read.code in STATIONS else ""
        values = (
            in_theirs(read.value, kind),
            in_theirs(read.value2, kind),
            unit_in(kind),
            in_theirs(read.uncertainty, kind),
        )
        rows.append((one.name, one.where, *values, read.taken_on, read.who, read.typed, one.before))
    head = ("station", "corner", "value", "value 2", "unit", "pm", "taken on", "who", "as typed", "read before")
    return head, rows


def _torque(book: Book) -> Table:
    rows: list[Sequence[Any]] = [
        (
            one.title,
            row.step.joint.get("name", "wheel nuts"),
            row.step.corner,
            *(in_theirs(value, "torque") for value in (row.step.torque_nm, row.low_nm, row.high_nm)),
            len(row.read),
            row.state,
        )
        for one in book.torque
        for row in one.rows
    ]
    figures = (f"{name} {unit_in('torque')}" for name in ("wanted", "lowest", "highest"))
    return ("sheet", "joint", "corner", *figures, "read", "state"), rows


def _parts(file: CarFile, book: Book) -> Table:
    rows: list[Sequence[Any]] = []
    for one in book.parts:
        choice = one.choice
        price = None if choice.price is None else in_whole(choice.price)
        days = (choice.ordered_on, choice.arrived_on)
        said = (choice.label, one.where, choice.pieces, choice.get_state_display(), choice.seller, *days, one.number)
        rows.append((*said, *((price, file.car.currency) if book.money else ())))
    priced = ("price of one", "currency") if book.money else ()
    return ("part", "where", "pieces", "state", "supplier", "ordered", "arrived", "marking", *priced), rows


def _runs(book: Book) -> Table:
    rows: list[Sequence[Any]] = [
        (s.series.name, s.series.unit, run.value, run.ran_on, run.outfit.name, run.side, run.note, run.left_out_why)
        for s in book.strips
        for run in s.series.runs.all()
    ]
    return ("series", "unit", "value", "on", "with", "side", "note", "left out because"), rows


def _predictions(book: Book) -> Table:
    rows: list[Sequence[Any]] = [
        (row.name, row.promised, row.measured, row.error, row.state)
        for row in (*book.held, *book.waiting)
        if book.money or row.name != "Money"
    ]
    return ("what", "predicted", "measured", "error", "state"), rows
