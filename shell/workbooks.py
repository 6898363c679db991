"""Workbooks that are read, the first sheet as text, bounded before anything is looked at; and workbooks that are made."""

from __future__ import annotations

import csv
import io
import re
import struct
import zipfile
import zlib
from collections.abc import Iterator, Mapping, Sequence
from datetime import date, datetime
from typing import Any
from xml.etree.ElementTree import ParseError

from django import forms

from rimcore.quantities.errors import BadInput

#: said of what is none
NONE = "is no workbook that can be read; accepted: XLSX, or CSV in UTF-8"
#: kind of a workbook (ISO/IEC 29500)
XLSX = "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet"
#: how a workbook begins: it is a zip archive
BEGINS = b"PK\x03\x04"
#: a workbook when unpacked, and of its parts; rows and columns of its first sheet
MOST_BYTES, MOST_PARTS, MOST_ROWS, MOST_COLUMNS = 2 * 1024**2, 100, 500, 60
#: parts that may be large, for what is read stands in them; any other [bytes]: formats by the thousand take seconds
LARGE, MOST_OF_OTHERS = ("xl/worksheets/", "xl/sharedStrings.xml", "xl/media/"), 80 * 1024
#: the one place where the list of sheets is looked for
MAIN, TYPES = "xl/workbook.xml", "[Content_Types].xml"

#: what odd archives and odd parts of them raise, in the library and below it; locked ones a RuntimeError
_ODD = (
    ArithmeticError,
    AttributeError,
    EOFError,
    LookupError,
    OSError,
    ParseError,
    RuntimeError,
    TypeError,
    ValueError,
    struct.error,
    zipfile.BadZipFile,
    zlib.error,
)


def sheet_as_csv(raw: bytes) -> str:
    """The first sheet of a workbook as CSV text; figures and days as they are written, formulas as what they came to.

    Raises
    ------
    BadInput : it is no workbook, or larger than is read
    """
    _small_enough(raw)
    from openpyxl import load_workbook  # loaded for who brings a workbook
    from openpyxl.utils.exceptions import InvalidFileException

    try:
        book = load_workbook(io.BytesIO(raw), read_only=True, data_only=True)
        rows = _rows(book.worksheets[0]) if book.worksheets else []
        book.close()
    except BadInput:
        raise
    except (InvalidFileException, *_ODD) as error:
        raise BadInput(NONE, "file") from error
    out = io.StringIO()
    csv.writer(out, lineterminator="\n").writerows(rows)
    return out.getvalue()


def _small_enough(raw: bytes) -> None:
    """Counted in the archive's own list, before anything is unpacked; what lists the sheets must be a small part."""
    try:
        with zipfile.ZipFile(io.BytesIO(raw)) as archive:
            parts = archive.infolist()
            sizes = {one.filename: one.file_size for one in parts}
            small = max((size for name, size in sizes.items() if not name.startswith(LARGE)), default=0)
            fits = len(parts) <= MOST_PARTS and sum(one.file_size for one in parts) <= MOST_BYTES
            types = archive.read(TYPES).decode() if fits and small <= MOST_OF_OTHERS and TYPES in sizes else ""
    except _ODD as error:
        raise BadInput(NONE, "file") from error
    if not fits:
        raise BadInput(f"is too large; accepted: {MOST_BYTES // 1024**2} MB at most when unpacked", "file")
    if small > MOST_OF_OTHERS:
        raise BadInput("has too many formats or names; accepted: a plain table, or CSV in UTF-8", "file")
    mains = re.findall(
        r'PartName\s*=\s*["\']/?([^"\']*)["\'][^>]*main\+xml|main\+xml[^>]*PartName\s*=\s*["\']/?([^"\']*)', types
    )
    if MAIN not in sizes or {one or other for one, other in mains} != {MAIN}:
        raise BadInput(NONE, "file")


def _rows(sheet: Any) -> list[list[str]]:
    found: list[list[str]] = []
    for row in sheet.iter_rows(max_row=MOST_ROWS + 1, max_col=MOST_COLUMNS, values_only=True):
        cells = [_text(cell) for cell in row]
        while cells and not cells[-1]:
            cells.pop()
        if cells:
            found.append(cells)
        if len(found) > MOST_ROWS:
            raise BadInput(f"has too many rows; accepted: {MOST_ROWS} at most", "file")
    return found


def _text(cell: Any) -> str:
    """A cell as it is written: whole figures without a point, days as ISO 8601, never more than a line."""
    if cell is None:
        return ""
    if isinstance(cell, float) and cell.is_integer() and abs(cell) < 1e15:
        return str(int(cell))
    return " ".join(str(cell)[:2000].replace("\0", " ").split())


#: largest table that is taken in [bytes]
MOST_READ = 256 * 1024


def text_of(upload: Any) -> str:
    """The text of a table that was brought: CSV in UTF-8, or the first sheet of a workbook.

    Raises
    ------
    BadInput : too large, no text, or no workbook
    """
    if upload.size > MOST_READ:
        raise BadInput("The file is over 256 kB; split it.", "file")
    raw: bytes = upload.read()
    if raw.startswith(BEGINS):
        try:
            return sheet_as_csv(raw)
        except BadInput as error:
            raise BadInput(f"The file {error.message}.", "file") from error
    if b"\0" in raw:
        raise BadInput("That is no text file; accepted: CSV in UTF-8.", "file")
    try:
        return raw.decode("utf-8-sig")
    except UnicodeDecodeError as error:
        raise BadInput("The file is not UTF-8 text; save it as CSV in UTF-8.", "file") from error


class TableForm(forms.Form):
    """A form whose ``file`` is a table; what stands in it is ``text``."""

    text: str

    def clean_file(self) -> Any:
        try:
            self.text = text_of(self.cleaned_data["file"])
        except BadInput as error:
            raise forms.ValidationError(error.message) from error
        return self.cleaned_data["file"]


class Filled(str):
    """A cell that a person fills in: text, whatever is typed."""


def as_workbook(lists: Mapping[str, tuple[Sequence[str], Sequence[Sequence[Any]]]]) -> io.BytesIO:
    """One workbook, a sheet a list; text stays text, also where it begins as a formula does."""
    from openpyxl import Workbook  # loaded for who wants a workbook

    book = Workbook(write_only=True)
    for code, (head, rows) in lists.items():
        sheet = book.create_sheet(code)
        sheet.freeze_panes = "A2"
        for row in (head, *rows):
            sheet.append(list(_cells(sheet, row)))
    if not lists:
        book.create_sheet("nothing").append(["Nothing is on record yet."])
    out = io.BytesIO()
    book.save(out)
    out.seek(0)
    return out


def _cells(sheet: Any, row: Sequence[Any]) -> Iterator[Any]:
    from openpyxl.cell import WriteOnlyCell

    for said in row:
        if not isinstance(said, str):
            yield said if said is None or isinstance(said, bool | int | float | date | datetime) else str(said)
            continue
        cell = WriteOnlyCell(sheet, value="".join(c for c in said[:32_000] if c.isprintable() or c == "\n"))
        cell.data_type = "s"
        if isinstance(said, Filled):
            cell.number_format = "@"
        yield cell
