"""Workbooks that are read: the first sheet as text, bounded before anything is looked at."""

from __future__ import annotations

import csv
import io
import zipfile
from typing import Any
from xml.etree.ElementTree import ParseError

from openpyxl import load_workbook

from rimcore.quantities.errors import BadInput

#: how a workbook begins: it is a zip archive
BEGINS = b"PK\x03\x04"
#: a workbook when unpacked, and of its parts; rows and columns of its first sheet
MOST_BYTES, MOST_PARTS, MOST_ROWS, MOST_COLUMNS = 16 * 1024**2, 200, 2000, 100


def sheet_as_csv(raw: bytes) -> str:
    """The first sheet of a workbook as CSV text; figures and days as they are written, formulas as what they came to.

    Raises
    ------
    BadInput : it is no workbook, or larger than is read
    """
    _small_enough(raw)
    try:
        book = load_workbook(io.BytesIO(raw), read_only=True, data_only=True)
        rows = _rows(book.worksheets[0]) if book.worksheets else []
        book.close()
    except BadInput:
        raise
    except (
        KeyError,
        ValueError,
        TypeError,
        IndexError,
        AttributeError,
        ParseError,
        zipfile.BadZipFile,
        OSError,
    ) as error:
        raise BadInput("is no workbook that can be read; accepted: XLSX, or CSV in UTF-8", "file") from error
    out = io.StringIO()
    csv.writer(out, lineterminator="\n").writerows(rows)
    return out.getvalue()


def _small_enough(raw: bytes) -> None:
    """Counted in the archive's own list, before anything is unpacked."""
    try:
        with zipfile.ZipFile(io.BytesIO(raw)) as archive:
            parts = archive.infolist()
    except (zipfile.BadZipFile, ValueError, NotImplementedError) as error:
        raise BadInput("is no workbook that can be read; accepted: XLSX, or CSV in UTF-8", "file") from error
    if len(parts) > MOST_PARTS or sum(one.file_size for one in parts) > MOST_BYTES:
        raise BadInput(f"is too large; accepted: {MOST_BYTES // 1024**2} MB at most when unpacked", "file")


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
