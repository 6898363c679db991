"""What came off: weighed with its box, counted, labelled, kept, sold or binned; and back on the list."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

from garage.car.models import Car
from garage.car.parts import Part
from garage.chassis.ends import old_of
from garage.file import CarFile
from planner.models import Choice
from rimcore.families import FAMILIES
from rimcore.quantities.errors import BadInput
from rimcore.tables.facts import CORNER_NAMES
from rimcore.work.removed import label_of, net_kg
from shelf.services import listed_again
from shell.undo import remember
from workshop.models import Job, Removed, Step


def next_label(car: Car) -> str:
    """The next label of a car that no bag has."""
    taken = set(Removed.objects.filter(car=car).values_list("label", flat=True))
    number = len(taken)
    while label_of(number) in taken:
        number += 1
    return label_of(number)


def log_removed(
    car: Car, user: Any, values: dict[str, Any], job: Job | None = None, step: Step | None = None
) -> Removed:
    """Something was taken off.

    Raises
    ------
    BadInput : the empty box weighs more than the full one
    """
    net_kg(values.get("gross_kg"), values.get("tare_kg"))
    with remember(user, f"taken off: {values['what']}"):
        return Removed.objects.create(car=car, job=job, step=step, label=next_label(car), **values)


def change_removed(row: Removed, user: Any, values: dict[str, Any]) -> None:
    """Masses, counts, where it lies and what became of it."""
    net_kg(values.get("gross_kg", row.gross_kg), values.get("tare_kg", row.tare_kg))
    with remember(user, f"{row}: changed"):
        for name, value in values.items():
            setattr(row, name, value)
        if row.fate != "sold":
            row.sold_minor = row.fees_minor = 0
        row.save()


def drop_removed(row: Removed, user: Any) -> None:
    with remember(user, f"{row}: taken off the ledger"):
        row.delete()


def label_salvage(step: Step) -> None:
    """What a finished step has salvaged gets a label each, once; what is in it is weighed and counted later."""
    known = set(Removed.objects.filter(step=step).values_list("what", flat=True))
    for what in step.salvage:
        if what[:120] not in known:
            where = CORNER_NAMES.get(step.corner, "") if step.corner else ""
            Removed.objects.create(
                car=step.job.car,
                job=step.job,
                step=step,
                label=next_label(step.job.car),
                what=what[:120],
                where=where,
                pieces_off=_nuts(step, what),
            )


def _nuts(step: Step, what: str) -> int | None:
    """Nuts of the wheels that came off, where every hub's are counted."""
    if "wheel nuts" not in what:
        return None
    by_end = {axle.end: axle.bolts for axle in step.job.car.axles.all()}
    corners = {corner for corner in step.job.steps.filter(kind="torque").values_list("corner", flat=True) if corner}
    each = [by_end.get(corner[:1]) for corner in corners]
    return sum(one or 0 for one in each) if each and None not in each else None


def take_off(file: CarFile, job: Job, fitted: Sequence[Choice]) -> None:
    """The wheels and tyres that gave way to others are in the ledger, each end's as a pair.

    What stays on the car is not.
    """
    for end in ("F", "R"):
        stood = file.on(file.current, end)
        new = {choice.kind for choice in fitted if choice.stands_at(end)}
        if stood is None:
            continue
        for part, kind in ((stood.wheel_part, "wheel"), (stood.tyre_part, "tyre")):
            if kind not in new:
                continue
            what = f"2 × {kind} {stood.wheel if kind == 'wheel' else stood.tyre}"[:120]
            Removed.objects.create(
                car=file.car,
                job=job,
                part=part,
                label=next_label(file.car),
                what=what,
                where="front" if end == "F" else "rear",
                pieces_off=2,
            )


def take_off_chassis(file: CarFile, job: Job, choice: Choice, end: str) -> None:
    """What a part of the chassis replaces is in the ledger.

    Where enough of it was written down it can be chosen again.
    """
    declared = FAMILIES[choice.kind]
    if declared.adds:
        return
    old = dict(old_of(file, end).get(choice.kind, {}))
    part = None
    if old and declared.fault(old) is None:
        part = Part.objects.create(
            car=file.car, family=choice.kind, name=f"{declared.name} as first recorded"[:80], spec=old, listed=False
        )
    pieces = declared.per_end(None)
    Removed.objects.create(
        car=file.car,
        job=job,
        part=part,
        label=next_label(file.car),
        what=f"{pieces or ''} × {declared.name}".removeprefix(" × ")[:120],
        where="front" if end == "F" else "rear",
        pieces_off=pieces,
    )


def choose_again(row: Removed, user: Any) -> Part:
    """A part that was taken off stands on the list again: it costs nothing and is there.

    Raises
    ------
    BadInput : it was sold or binned, or it never was a part of its own
    """
    if row.part is None:
        raise BadInput("it was no part of its own, so it can't be chosen", "part")
    if row.fate in ("sold", "bin"):
        raise BadInput(f"it is {row.get_fate_display()}", "fate")
    with remember(user, f"{row.what} on the list again"):
        copy = Part.objects.get(pk=row.part.pk)
        copy.pk, copy._state.adding = None, True
        lies = f", {row.kept_where}" if row.kept_where else ""
        copy.note, copy.supplier, copy.name = (
            f"taken off, bag {row.label}{lies}"[:200],
            "",
            (copy.name or "taken off")[:80],
        )
        copy.save()
        listed_again(copy, user)
    return copy
