"""Every list of a car as a table, for a table program: CSV each, or one workbook with a sheet a list."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

from garage.file import CarFile
from garage.mass.ledger import items_of
from planner.chosen import builds_of, choices_of
from proof.book.chapters import book_of
from proof.book.folder import Table, in_theirs, tables_of, unit_in
from rimcore.families import FAMILIES
from rimcore.tables.facts import CORNER_NAMES
from rimcore.work.money import in_whole
from shelf.queries import listed_of

#: lists in their order: code, what it is
LISTS: dict[str, str] = {
    "shortlist": "What is on the list",
    "stands": "What stood, and what stands",
    "readings": "Readings",
    "hard-points": "Hard points",
    "ledger": "Mass ledger",
    "torque": "Torque record",
    "orders": "Orders: parts of every build",
    "runs": "Runs",
    "predictions": "What was predicted, and what came",
    "not-measured": "Not measured",
}
#: chapters of the book that are tables, and no others are filled
OF_THE_BOOK = ("car", "readings", "torque", "proof", "held", "open")


def lists_of(file: CarFile) -> dict[str, Table]:
    """Every list that has rows, in the person's units; units stand in the heads."""
    found = dict(tables_of(file, book_of(file, OF_THE_BOOK, True)))
    found |= {
        "shortlist": _shortlist(file),
        "hard-points": _points(file),
        "ledger": _ledger(file),
        "orders": _orders(file),
    }
    return {code: found[code] for code in LISTS if code in found and found[code][1]}


def _shortlist(file: CarFile) -> Table:
    listed = listed_of(file)
    rows: list[Sequence[Any]] = [
        (
            FAMILIES[part.family].name if part.family in FAMILIES else part.family,
            part.name if part.line and part.name else str(part),
            part.line,
            None if part.price_minor is None else in_whole(part.price_minor),
            file.car.currency,
            in_theirs(part.mass_kg, "mass"),
            part.lead_days,
            part.supplier,
            part.link,
            part.note,
            part.stars,
            part.pinned,
        )
        for part in (*listed.wheels, *listed.tyres, *listed.parts)
    ]
    weight = f"weight {unit_in('mass')}"
    head = ("kind", "part", "as typed", "price of one", "currency", weight, "lead days", "supplier", "link", "note")
    return (*head, "stars", "pinned"), rows


def _orders(file: CarFile) -> Table:
    rows: list[Sequence[Any]] = [
        (
            build.name,
            choice.label,
            choice.get_position_display(),
            choice.pieces,
            choice.get_state_display(),
            None if choice.price is None else in_whole(choice.price),
            file.car.currency,
            choice.seller,
            choice.lead,
            choice.ordered_on,
            choice.arrived_on,
            choice.missing_pieces,
        )
        for build in builds_of(file)
        for choice in choices_of(build)
    ]
    head = ("build", "part", "where", "pieces", "state", "price of one", "currency", "supplier", "lead days")
    return (*head, "ordered", "arrived", "pieces missing"), rows


def _points(file: CarFile) -> Table:
    """Newest first; an older one of the same name stands under it."""
    rows: list[Sequence[Any]] = [
        (
            CORNER_NAMES.get(one.corner, one.corner),
            one.name,
            *(in_theirs(value, "length") for value in (one.across_mm, one.ahead_mm, one.up_mm, one.uncertainty_mm)),
            "mounting face" if one.from_face else "centre line",
            "taken over from the other side" if one.mirrored else "read here",
            one.taken_on,
            one.who,
        )
        for one in file.car.hard_points.all()
    ]
    long = unit_in("length")
    figures = tuple(f"{name} {long}" for name in ("across", "ahead", "up", "pm"))
    return ("corner", "point", *figures, "across is from", "how", "taken on", "who"), rows


def _ledger(file: CarFile) -> Table:
    rows: list[Sequence[Any]] = [
        (
            one.label,
            one.name,
            one.get_state_display(),
            *(in_theirs(value, "mass") for value in (one.gross_kg, one.tare_kg, one.back_kg, one.doubt_kg)),
            one.minutes,
            in_whole(one.cost_minor),
            in_whole(one.sold_minor),
            file.car.currency,
            one.guarded,
            one.weighed_on,
            one.who,
            one.kept_where,
        )
        for one in items_of(file)
    ]
    mass = unit_in("mass")
    figures = tuple(f"{name} {mass}" for name in ("with its box", "empty box", "goes back", "pm"))
    head = ("label", "item", "state", *figures, "minutes", "costs", "brought", "currency", "specialist only")
    return (*head, "weighed on", "who", "lies"), rows
