"""What changes a shortlist."""

from __future__ import annotations

import csv
import io
import uuid
from collections.abc import Sequence
from dataclasses import dataclass, replace
from datetime import datetime, timedelta
from typing import Any

from django.utils import timezone

from garage.car.models import Car
from garage.car.parts import Part, Wheel
from gauges import supplier
from rimcore import columns
from rimcore.columns import Column
from rimcore.families import FAMILIES
from rimcore.kits import told
from rimcore.lines import PartLine, parse_line
from rimcore.quantities.errors import BadInput, CoreError
from rimcore.wheels.wheel import Wheel as CoreWheel
from shelf.models import Quote
from shell import units
from shell.people import called
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
    said: PartLine | None
    reason: str = ""

    @property
    def spec_text(self) -> str:
        """What is understood of its specification, in words."""
        return spec_text(self.said.family, self.said.spec) if self.said is not None else ""


def spec_text(family: str, spec: Any) -> str:
    """A specification in a few words.

    >>> spec_text("ring", {"inner_mm": 63.4, "outer_mm": 72.6})
    'inner diameter 63.4 mm, outer diameter 72.6 mm'
    """
    if family == "tyre":
        return str(spec["size"])
    return ", ".join(f"{name} {said}" for name, said in FAMILIES[family].said(spec))


def add_line(car: Car, user: Any, said: PartLine, name: str = "", line: str = "") -> Part:
    """Put what a line said on the shortlist."""
    with remember(user, "part added"):
        return _create_whole(car, said, name, line)


def add_rows(car: Car, user: Any, rows: list[Row]) -> int:
    """Put all understood rows on the shortlist, in one transaction."""
    good = [row for row in rows if row.said is not None]
    with remember(user, f"{len(good)} parts added"):
        for row in good:
            if row.said is not None:
                paired = row.said.family in ("wheel", "tyre") and not row.said.name
                _create_whole(car, row.said, row.said.note[:60] if paired else "", row.text)
    return len(good)


def _create_whole(car: Car, said: PartLine, name: str, line: str) -> Part:
    """A part, or all pieces of a kit: the first has its price and weight, the others cost and weigh nothing more."""
    head = _create(car, said, name, line)
    if not said.pieces:
        return head
    own = f"{said.kit} {uuid.uuid4().hex[:8]}"
    found = [head, *(_create(car, replace(piece, note=f"in {head.name}"), "", line) for piece in said.pieces)]
    for part in found:
        part.spec["kit"] = own
        if part.pk != head.pk and any(spec.code == "mass_change_kg" for spec in FAMILIES[part.family].specs):
            part.spec["mass_change_kg"] = 0.0
    names = [FAMILIES[part.family].plural for part in found]
    head.note = f"{head.note} {told(names)}".strip()[:200]
    for part in found:
        part.save()
    return head


def pieces_beside(part: Part) -> list[Part]:
    """The other pieces of the kit that a part is of; empty where it is of none."""
    own = part.spec.get("kit")
    return [] if not own else list(Part.objects.filter(car=part.car, listed=True, spec__kit=own).exclude(pk=part.pk))


def _create(car: Car, said: PartLine, name: str, line: str) -> Part:
    """A part from its line; what was not understood stays in its note."""
    family = FAMILIES[said.family]
    columns = {spec.code for spec in family.specs if spec.column}
    unread = f"not understood: {', '.join(said.unread)}" if said.unread else ""
    note = "; ".join(filter(None, (said.note, unread)))
    plain = "" if said.family in ("wheel", "tyre") else family.name.capitalize()
    part = Part(
        car=car,
        family=said.family,
        name=(name or said.name or plain)[:60],
        mass_kg=said.mass_kg,
        price_minor=said.price_minor,
        lead_days=said.lead_days,
        supplier=said.supplier,
        link=said.link,
        note=note[:200],
        line=line[:500],
        spec={code: value for code, value in said.spec.items() if code not in columns and value not in (None, "")},
        **{code: value for code, value in said.spec.items() if code in columns},
    )
    part.save()
    if said.price_minor is not None and said.supplier:
        Quote.objects.create(
            part=part, supplier=said.supplier, price_minor=said.price_minor, lead_days=said.lead_days, taken=True
        )
    found: Part = Part.objects.get(pk=part.pk)
    return found


def wheel_fields(wheel: CoreWheel) -> dict[str, Any]:
    """Columns of a parsed wheel."""
    return {
        name: getattr(wheel, name) for name in ("diameter_in", "width_in", "offset_mm", "bolts", "pcd_mm", "bore_mm")
    }


def pin_setting(car: Car, user: Any, wheel: CoreWheel, like: Wheel | None) -> Wheel:
    """Pin a setting of the bench as a candidate: a size to look for, not yet a part."""
    fields = wheel_fields(wheel)
    if like is not None:
        fields |= {name: getattr(like, name) for name in ("bolts", "pcd_mm", "bore_mm", "seat", "pad_thickness_mm")}
    with remember(user, "setting pinned"):
        found: Wheel = Wheel.objects.create(car=car, name="Pinned setting", pinned=True, **fields)
    return found


def change_candidate(candidate: Part, user: Any, values: dict[str, Any]) -> None:
    """Change what is known of a wheel or a tyre."""
    with remember(user, f"{candidate} changed"):
        for name, value in values.items():
            setattr(candidate, name, value)
        candidate.save()


def change_part(part: Part, user: Any, values: dict[str, Any], spec: dict[str, Any]) -> None:
    """Change what is known of a part of any family; a blank leaves the specification.

    Raises
    ------
    BadInput : its family does not take it
    """
    with remember(user, f"{part} changed"):
        for name, value in values.items():
            setattr(part, name, value)
        kept = {code: value for code, value in part.spec.items() if code not in spec}
        part.spec = kept | {code: value for code, value in spec.items() if value not in (None, "")}
        part.save()


def duplicate_part(part: Part, user: Any) -> Part:
    """A copy on the list, to be changed; quotes are not copied, they were asked for the other one."""
    with remember(user, f"{part} duplicated"):
        copy = Part.objects.get(pk=part.pk)
        copy.pk, copy._state.adding = None, True
        copy.name, copy.pinned, copy.listed = f"{part.name} copy"[:80], False, True
        copy.save()
    return copy


def pin_part(part: Part, user: Any) -> None:
    """Pinned parts stand first; pressed again it is one of many."""
    with remember(user, f"{part} {'let go' if part.pinned else 'pinned'}"):
        part.pinned = not part.pinned
        part.save()


def remove_candidate(candidate: Part, user: Any) -> None:
    """Take a candidate off the shortlist; one that a build uses is protected."""
    with remember(user, f"{candidate} taken off the list"):
        candidate.delete()


def note_quote(part: Part, user: Any, values: dict[str, Any]) -> Quote:
    """Keep what a supplier said; the first one is the part's own."""
    with remember(user, f"quote of {values['supplier']} saved"):
        quote: Quote = Quote.objects.create(part=part, asked_by=called(user), **values)
        if quote.answer == "offered" and part.price_minor is None:
            _take(quote)
    return quote


def take_quote(quote: Quote, user: Any) -> None:
    """The part's price, lead time and supplier are this quote's from now on.

    Raises
    ------
    BadInput : it offers nothing, or not what was asked for
    """
    if quote.answer != "offered":
        raise BadInput(
            f"{quote.supplier}: {quote.get_answer_display()}; only an offer of the part itself can be taken", "quote"
        )
    with remember(user, f"quote of {quote.supplier} taken"):
        _take(quote)


def _take(quote: Quote) -> None:
    for other in Quote.objects.filter(part=quote.part, taken=True).exclude(pk=quote.pk):
        other.taken = False
        other.save()
    quote.taken = True
    quote.save()
    part = quote.part
    part.price_minor, part.lead_days, part.supplier = quote.price_minor, quote.lead_days, quote.supplier
    part.save()


def remove_quote(quote: Quote, user: Any) -> None:
    """Take a quote off; the part keeps what was taken from it."""
    with remember(user, f"quote of {quote.supplier} removed"):
        quote.delete()


def ask_stand_in(part: Part, user: Any) -> Quote:
    """Ask the simulated supplier; its answer is there after a while."""
    turn = Quote.objects.filter(part=part, simulated=True).count()
    answer = _answer(part, turn)
    with remember(user, f"{part}: {supplier.NAME} asked"):
        return Quote.objects.create(
            part=part,
            supplier=supplier.NAME,
            answer="waiting",
            simulated=True,
            good_days=answer.good_days,
            asked_by=called(user),
            answers_at=timezone.now() + answer.after,
        )


def _answer(part: Part, turn: int) -> supplier.Answer:
    declared = part.declared
    variants = tuple(choice for ask in (declared.asks if declared else ()) for choice in ask.choices)
    return supplier.ask(f"{part.family} {part} {sorted(part.spec.items())}", part.price_minor, variants, turn)


def look_for_answers(part: Part, user: Any, now: datetime | None = None) -> int:
    """Read the simulated answers that are there by now; returns how many came.

    A question that was not answered within two minutes is told as such.
    """
    moment = now or timezone.now()
    asked = list(Quote.objects.filter(part=part, simulated=True).order_by("pk"))
    came = 0
    with remember(user, f"{part}: answers read"):
        for turn, quote in enumerate(asked):
            if quote.answer != "waiting" or quote.answers_at is None or quote.answers_at > moment:
                continue
            answer = _answer(part, turn)
            if answer.kind == "silent" and moment < quote.answers_at + timedelta(minutes=2):
                continue
            quote.answer, quote.price_minor, quote.lead_days, quote.variant = (
                answer.kind,
                answer.price_minor,
                answer.lead_days,
                answer.variant,
            )
            quote.save()
            came += 1
    return came


def listed_again(part: Part, user: Any) -> None:
    """A part that was taken off the car can be chosen again: it costs nothing and is there."""
    with remember(user, f"{part} on the list again"):
        part.listed, part.price_minor, part.lead_days = True, 0, 0
        part.save()


@dataclass(frozen=True)
class SheetOfParts:
    """A table as it was given: its columns, None where each row is a line; and its rows (number, cells)."""

    columns: tuple[Column, ...] | None
    rows: tuple[tuple[int, tuple[str, ...]], ...]
    lines: tuple[str, ...]

    @property
    def examples(self) -> list[tuple[Column, str]]:
        """Each column with what stands in it first."""
        heads = self.columns or ()
        return [
            (one, ", ".join([row[k] for _, row in self.rows if k < len(row) and row[k].strip()][:3])[:80])
            for k, one in enumerate(heads)
        ]


def sheet_of(text: str, family: str = "") -> SheetOfParts:
    """A CSV text as a table: with a row of names of any writing, or one line a part.

    Raises
    ------
    BadInput : empty, too many rows, or no table
    """
    text = text.replace("\r\n", "\n").replace("\r", "\n")
    lines = [line for line in text.split("\n") if line.strip()]
    long = next((number for number, line in enumerate(lines, start=1) if len(line) > LONGEST_LINE), None)
    if long is not None:
        raise BadInput(f"line {long} is over {LONGEST_LINE} characters; accepted: one part a line", "file")
    if not lines:
        raise BadInput("the file is empty; accepted: a CSV file with a header, or one part a line", "file")
    if len(lines) > MOST_ROWS + 1:
        raise BadInput(f"the file has {len(lines)} rows; accepted: {MOST_ROWS} at most", "file")
    delimiter = max(",;\t", key=lines[0].count)
    try:
        rows = [tuple(row) for row in csv.reader(io.StringIO(text), delimiter=delimiter)]
    except csv.Error as error:
        raise BadInput(f"not a table: {error}", "file") from error
    numbered = tuple((n, row) for n, row in enumerate(rows, start=1) if any(cell.strip() for cell in row))
    if not columns.is_head(numbered[0][1], family, [row for _, row in numbered[1:6]]):
        return SheetOfParts(None, numbered, tuple(lines))
    return SheetOfParts(columns.matched(numbered[0][1], family), numbered[1:], tuple(lines))


def read_table(text: str, family: str = "", taken: Sequence[str] = (), currency: str = "") -> list[Row]:
    """Read a CSV text row by row; ``taken`` is what a person says that its columns are.

    Raises
    ------
    BadInput : empty, too many rows, or no table
    """
    sheet = sheet_of(text, family)
    if sheet.columns is None:
        return [
            _row(number, line, lambda line=line: parse_line(line, family, units.bare()))
            for number, line in enumerate(sheet.lines, start=1)
        ]
    heads = as_taken(sheet.columns, taken, family)
    return [
        _row(
            number,
            ", ".join(cells),
            lambda cells=cells: columns.read_row(heads, cells, family, units.bare(), currency),
        )
        for number, cells in sheet.rows
    ]


def as_taken(heads: tuple[Column, ...], taken: Sequence[str], family: str) -> tuple[Column, ...]:
    """Columns with what a person says that they are; as they were matched where nobody says."""
    if len(taken) != len(heads):
        return heads
    known = {"", columns.LEFT_OUT, *columns.names_of(family)}
    return tuple(
        one if said == one.taken or said not in known else columns.taken_as(one, said, family)
        for one, said in zip(heads, taken, strict=True)
    )


def _row(number: int, text: str, read: Any) -> Row:
    try:
        return Row(number, text, read())
    except CoreError as error:
        return Row(number, text, None, error.message)
