"""What changes the mass ledger; one transaction each, each can be undone."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from typing import Any

from django.utils import timezone

from garage.car.models import Car
from garage.file import CarFile
from garage.mass.models import MassGoal, MassItem
from garage.readings.models import Condition, Reading
from garage.readings.services import take_reading
from rimcore.mass.ledger import GUARDED
from rimcore.quantities.errors import BadInput
from rimcore.work.removed import label_of, net_kg
from shell.undo import remember


def next_label(car: Car) -> str:
    """The next label of the ledger that no item has; M before it keeps it apart from the bags of a sheet."""
    taken = set(MassItem.objects.filter(car=car).values_list("label", flat=True))
    number = len(taken)
    while f"M{label_of(number)}" in taken:
        number += 1
    return f"M{label_of(number)}"


def keep_item(car: Car, user: Any, values: Mapping[str, Any], item: MassItem | None = None) -> MassItem:
    """An item with all of its figures; a new one gets its label.

    Raises
    ------
    BadInput : the empty box weighs more than the full one; a guarded item comes out without a reason; an item of
        that name stands there
    """
    found = item or MassItem(car=car, label=next_label(car))
    for name, value in values.items():
        setattr(found, name, value)
    net_kg(found.gross_kg, found.tare_kg)
    _guarded(found)
    if MassItem.objects.filter(car=car, name=found.name).exclude(pk=found.pk).exists():
        raise BadInput(f"“{found.name}” stands in the ledger already; accepted: another name", "name")
    with remember(user, f"{found.name}: {'changed' if item else 'in the ledger'}"):
        found.out_on = (found.out_on or timezone.localdate()) if found.state == "out" else None
        if found.fate != "sold":
            found.sold_minor = 0
        found.save()
    return found


def _guarded(item: MassItem) -> None:
    if item.guarded and item.state != "in" and not item.reason.strip():
        raise BadInput(f"{GUARDED[item.guarded]}: write why it comes out all the same, and who does it", "reason")


def drop_item(item: MassItem, user: Any) -> None:
    """An item off the ledger; undo brings it back."""
    with remember(user, f"{item.name}: off the ledger"):
        item.delete()


def plan_items(car: Car, user: Any, labels: Iterable[str]) -> int:
    """The items of a set are planned, every other one that was stays in; guarded ones are never planned so.

    Returns how many.
    """
    wanted = set(labels)
    with remember(user, "items planned to come out"):
        count = 0
        for item in MassItem.objects.filter(car=car).exclude(state="out"):
            state = (
                "planned"
                if item.label in wanted and not item.guarded
                else "planned"
                if item.guarded and item.state == "planned"
                else "in"
            )
            count += state == "planned"
            if state != item.state:
                item.state = state
                item.save(update_fields=["state"])
    return count


def take_out_planned(car: Car, user: Any) -> int:
    """What was planned is out; returns how many."""
    with remember(user, "planned items are out"):
        found = list(MassItem.objects.filter(car=car, state="planned"))
        for item in found:
            item.state, item.out_on = "out", timezone.localdate()
            item.save(update_fields=["state", "out_on"])
    return len(found)


def set_goal(car: Car, values: Mapping[str, Any]) -> None:
    """Phase goal and class minimum."""
    with remember(car.owner, "weight goal saved"):
        found = MassGoal.objects.filter(car=car).first() or MassGoal(car=car)
        for name, value in values.items():
            setattr(found, name, value)
        found.noted_on = timezone.localdate()
        found.save()


def weigh_car(file: CarFile, said: Mapping[str, Any], typed: str) -> Reading:
    """The whole car as a scale said, with how it stood; both or none.

    Parameters
    ----------
    said : car_kg, doubt_kg or None for the usual one, taken_on, who, fuel, driver_aboard
    """
    with remember(file.user, "whole car, saved"):
        stood = Condition.objects.create(
            car=file.car, noted_on=said["taken_on"], fuel=said["fuel"], driver_aboard=said["driver_aboard"]
        )
        return take_reading(
            file,
            "",
            "car_mass",
            {
                "values": [said["car_kg"]],
                "where": {},
                "typed": typed,
                "uncertainty": said["doubt_kg"],
                "taken_on": said["taken_on"],
                "who": said["who"],
                "condition": stood,
            },
        )
