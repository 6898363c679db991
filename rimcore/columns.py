"""Columns of a table of parts by names of any writing: what each is taken for, and its unit.

Source: words as shops and lists use them (common practice, from memory).
"""

from __future__ import annotations

import re
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from functools import cache
from types import MappingProxyType
from typing import Any

from rimcore.families import FAMILIES, PAIRED
from rimcore.lines import PartLine, common_cell, parse_line, parse_part_row, unit_of_bare
from rimcore.parts.declared import Spec
from rimcore.quantities.errors import BadInput
from rimcore.shop import METRIC, Bare
from rimcore.tables.units import ALIASES
from rimcore.wheels import paste

#: what every part may say, by the name that a row is read with, in words
COMMON: Mapping[str, str] = MappingProxyType(
    {
        "family": "kind of part",
        "line": "the whole part as a shop writes it",
        "name": "name",
        "spec": "wheel or tyre size",
        "mass": "weight",
        "price": "price of one",
        "lead": "lead time",
        "supplier": "supplier",
        "link": "link",
        "seat": "seat of the nuts",
        "pad": "pad thickness",
        "load": "load rating",
        "note": "note",
    }
)
#: other names that lists use
OTHERS: Mapping[str, str] = MappingProxyType(
    {
        "kind": "family",
        "kind of part": "family",
        "part type": "family",
        "category": "family",
        "as typed": "line",
        "as pasted": "line",
        "line": "line",
        "part": "name",
        "title": "name",
        "item": "name",
        "description": "name",
        "dimension": "spec",
        "dimensions": "spec",
        "wheel size": "spec",
        "tyre size": "spec",
        "tire size": "spec",
        "wt": "mass",
        "lb": "mass",
        "lbs": "mass",
        "each": "price",
        "ea": "price",
        "unit price": "price",
        "price of one": "price",
        "price each": "price",
        "asking": "price",
        "costs": "price",
        "days": "lead",
        "lead days": "lead",
        "available": "lead",
        "availability": "lead",
        "ships in": "lead",
        "vendor": "supplier",
        "dealer": "supplier",
        "store": "supplier",
        "source": "supplier",
        "from": "supplier",
        "web": "link",
        "website": "link",
        "page": "link",
        "load rating": "load",
        "pad thickness": "pad",
        "comment": "note",
        "comments": "note",
        "remark": "note",
        "remarks": "note",
        "notes": "note",
    }
)
#: quantity of a common column whose head may carry a unit
KIND = {"mass": "mass", "load": "mass", "pad": "length"}
#: what a row's own columns say over the line of the part
OVER_A_LINE = ("mass", "price", "lead", "supplier", "link", "note")
#: a column that is left out, told by a person
LEFT_OUT = "-"
MOST_COLUMNS, MOST_HEAD = 60, 60
_BARE = re.compile(r"[-−+]?\d{1,9}(?:[.,]\d{1,9})?")


@dataclass(frozen=True)
class Column:
    """A column as it is headed, and what it is taken for.

    Attributes
    ----------
    taken : name that a row is read with; "" is read as it is headed, ``LEFT_OUT`` not at all
    unit : unit of its bare figures; "" is the person's
    """

    head: str
    taken: str = ""
    unit: str = ""


def names_of(family: str) -> dict[str, str]:
    """What a column can be taken for, name to words.

    Source: the family's declaration.

    Parameters
    ----------
    family : key of a family; "" is each row's own

    >>> "inner_mm" in names_of("ring"), "seat" in names_of("ring"), "seat" in names_of("")
    (True, False, True)
    """
    own = {} if family not in FAMILIES or family in PAIRED else {s.code: s.name for s in _asked(family)}
    left = ("seat", "pad", "load", "spec") if own else ()
    return {name: words for name, words in COMMON.items() if name not in left} | own


def _asked(family: str) -> tuple[Spec, ...]:
    return tuple(spec for spec in FAMILIES[family].specs if not spec.stands)


def matched(heads: Sequence[str], family: str = "") -> tuple[Column, ...]:
    """What each column of a table is taken for: by its name, by another name for it, else by the words in it.

    Source: common practice.

    Parameters
    ----------
    heads : the first row (k,)
    family : key of a family; "" is each row's own

    Raises
    ------
    BadInput : more columns than are read

    >>> [(one.taken, one.unit) for one in matched(["Unit price (EUR)", "Shipping weight, lb", "Vendor", "Shelf"])]
    [('price', ''), ('mass', 'lb'), ('supplier', ''), ('', '')]
    """
    if len(heads) > MOST_COLUMNS:
        raise BadInput(f"the first row has {len(heads)} columns; accepted: {MOST_COLUMNS} at most", "file")
    found = [_named(head[:MOST_HEAD], family) for head in heads]
    seen: set[str] = set()
    for k, one in enumerate(found):
        if one.taken in seen:
            found[k] = replace(one, taken="")
        elif one.taken:
            seen.add(one.taken)
    return tuple(_guessed(one, family, seen) for one in found)


def taken_as(column: Column, name: str, family: str = "") -> Column:
    """A column taken for what a person says, with the unit of its head where that goes with it.

    Source: none; a convention of this program.

    Parameters
    ----------
    column : as matched
    name : one of ``names_of``, "" or ``LEFT_OUT``
    family : key of a family; "" is each row's own

    >>> taken_as(Column("How heavy [lb]"), "mass").unit, taken_as(Column("How heavy [lb]"), "price").unit
    ('lb', '')
    """
    kind = _kind_of(name, family)
    units = [unit for _, unit in _parted(column.head) if _is_unit(unit, kind)]
    return Column(column.head, name, units[0] if units else "")


def unit_in(column: Column, family: str, bare: Bare) -> str:
    """The unit that a column's bare figures are read in; "" where it holds none.

    Source: none; a convention of this program.

    Parameters
    ----------
    column : as taken
    family : key of a family; "" is each row's own
    bare : the person's units for bare figures

    >>> unit_in(Column("Weight", "mass"), "", {"mass": "lb"}), unit_in(Column("Inner", "inner_mm"), "ring", {"length": "in"})
    ('lb', 'mm')
    """
    if column.unit or not _kind_of(column.taken, family):
        return column.unit
    if column.taken in KIND:
        return "mm" if column.taken == "pad" else bare.get("mass", "kg")
    spec = next(spec for spec in FAMILIES[family].specs if spec.code == column.taken)
    return unit_of_bare(FAMILIES[family], spec, bare)


def is_head(first: Sequence[str], family: str, others: Sequence[Sequence[str]] = ()) -> bool:
    """Does the first row name columns: one of its cells is a known name and most hold no figure, or it alone has none.

    Source: none; a convention of this program.

    Parameters
    ----------
    first : cells of the first row
    family : key of a family; "" is each row's own
    others : cells of the next rows

    >>> is_head(["Size", "Price"], ""), is_head(["225/45R17", "100"], "")
    (True, False)
    >>> is_head(["What", "How dear"], "", [["225/45R17", "100"]])
    True
    """
    figures = sum(bool(re.search(r"\d", cell)) for cell in first)
    known = any(_named(cell[:MOST_HEAD], family).taken or _known_anywhere(cell, family) for cell in first)
    if known and 2 * figures <= len(first):
        return True
    plain = len(first) > 1 and not figures
    return plain and bool(others) and all(any(re.search(r"\d", cell) for cell in row) for row in others)


def _known_anywhere(cell: str, family: str) -> bool:
    """Is it what some family calls one of its columns, where no family is said?"""
    return not family and _squeezed(cell) in _every_name()


@cache
def _every_name() -> frozenset[str]:
    return frozenset(_squeezed(word) for one in FAMILIES.values() for s in one.specs for word in (s.code, s.name))


def _squeezed(head: str) -> str:
    return re.sub(r"[\s_./-]+", " ", head.strip().lower()).strip()


@cache
def _words(family: str) -> dict[str, str]:
    """Every name of a column, squeezed, to what it is taken for."""
    known = {name: name for name in COMMON} | {_squeezed(name): to for name, to in paste.COLUMNS.items()} | dict(OTHERS)
    known |= {words: name for name, words in COMMON.items()}
    if family in FAMILIES and family not in PAIRED:
        for spec in _asked(family):
            for word in (spec.code, spec.name, *(spec.words if not spec.choices else ())):
                known[_squeezed(word)] = spec.code
    offered = names_of(family)
    return {word: to for word, to in known.items() if to in offered}


def _kind_of(name: str, family: str) -> str:
    if name in KIND:
        return KIND[name]
    own = {} if family not in FAMILIES else {s.code: s.kind for s in FAMILIES[family].specs}
    return own.get(name, "")


def _named(head: str, family: str) -> Column:
    """A column whose name is known, with the unit that stands in brackets, after a comma or at its end."""
    words = _words(family)
    whole = _squeezed(head)
    if whole in words:
        return Column(head, words[whole], _unit_of(head, words[whole], family))
    for rest, unit in _parted(head):
        taken = words.get(_squeezed(rest))
        if taken and (_is_unit(unit, _kind_of(taken, family)) or not _kind_of(taken, family)):
            return Column(head, taken, unit if _kind_of(taken, family) else "")
    return Column(head)


def _unit_of(head: str, name: str, family: str) -> str:
    """The unit of a name that is known with it, such as ``weight_kg``."""
    last = _squeezed(head).split(" ")[-1]
    return last if _is_unit(last, _kind_of(name, family)) else ""


def _is_unit(text: str, kind: str) -> bool:
    return bool(kind) and text.strip().lower().rstrip(".") in ALIASES[kind]


def _parted(head: str) -> list[tuple[str, str]]:
    """A head without the unit at its end, and that unit."""
    found = re.fullmatch(r"(.+?)\s*[(\[]\s*([^()\[\]]{1,12})\s*[)\]]\s*", head) or re.fullmatch(
        r"(.+?)[,;/]\s*([^,;/]{1,12})", head
    )
    last = re.fullmatch(r"(.+)[\s_]([^\s_]{1,8})", head.strip())
    return [(one[1], one[2]) for one in (found, last) if one]


def _guessed(one: Column, family: str, seen: set[str]) -> Column:
    """A column of an unknown name that holds a known one among its words; the longest, where no column has it."""
    if one.taken:
        return one
    parted = next(iter(_parted(one.head)), (one.head, ""))
    said = f" {_squeezed(parted[0])} "
    inside = [(len(word), to) for word, to in _words(family).items() if len(word) > 2 and f" {word} " in said]
    best = max(inside, default=(0, ""))[1]
    if not best or best in seen or len({to for long, to in inside if long == max(inside)[0]}) > 1:
        return one
    seen.add(best)
    return Column(one.head, best, parted[1] if _is_unit(parted[1], _kind_of(best, family)) else "")


def read_row(
    columns: Sequence[Column], cells: Sequence[str], family: str = "", bare: Bare = METRIC, currency: str = ""
) -> PartLine:
    """A row of a table, by what its columns are taken for; what was not understood is said in ``unread``.

    Source: none; a convention of this program.

    Parameters
    ----------
    columns : of the table (k,)
    cells : of the row; cells beyond the columns are not understood
    family : key of a family; "" is what the row says
    bare : the person's units for bare figures
    currency : of the garage

    Raises
    ------
    BadInput : a cell can't be read, or what names the part is missing

    >>> columns = matched(["Tyre size", "Weight (lb)", "Price each", "Tread"])
    >>> row = read_row(columns, ["225/45R17 94W", "20", "$96.50", "new"])
    >>> row.family, round(row.mass_kg, 3), row.price_minor, row.unread
    ('tyre', 9.072, 9650, ('tread: new',))
    """
    said: dict[str, str] = {}
    strange: list[str] = []
    words, taken = _words(family), {one.taken for one in columns}
    for k, cell in enumerate(cells):
        # Text that begins as a formula does goes out behind a quotation mark.
        text = re.sub(r"^'(?=[=+\-−@])", "", cell.strip())
        column = columns[k] if k < len(columns) else Column("")
        if not text or column.taken == LEFT_OUT or (_squeezed(column.head), text) == ("currency", currency):
            continue
        name = column.taken or column.head.strip() or f"column {k + 1}"
        # What another column says already is told, and takes nothing from it.
        again = name in said or (not column.taken and words.get(_squeezed(column.head), "") in taken - {""})
        if again:
            strange.append(f"{column.head.strip().lower()}: {text}")
        else:
            said[name] = f"{text} {column.unit}" if column.unit and _BARE.fullmatch(text) else text
    line = said.pop("line", "")
    found = _with_cells(line, said, family, bare, currency) if line else parse_part_row(said, family, bare)
    return replace(found, unread=(*found.unread, *strange))


def _with_cells(line: str, said: Mapping[str, str], family: str, bare: Bare, currency: str) -> PartLine:
    """A part by its line, with what the row's other columns say over it."""
    wanted = said.get("family", "").lower()
    key = next((k for k, one in FAMILIES.items() if wanted and wanted in (k, one.name, one.plural)), "")
    found = parse_line(line, key or family, bare, currency)
    over: dict[str, Any] = {"name": said["name"][:80]} if said.get("name") else {}
    strange = [f"kind of part: {wanted}"] if wanted and not key else []
    for name, cell in said.items():
        if name in OVER_A_LINE:
            over |= common_cell(name, cell, bare)
        elif name not in ("family", "name"):
            strange.append(f"{name.lower()}: {cell}")
    return replace(found, **over, unread=(*found.unread, *strange))
