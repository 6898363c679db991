"""What changes who may see a car; one transaction each."""

from __future__ import annotations

import json
import zipfile
from collections.abc import Mapping
from datetime import timedelta
from tempfile import SpooledTemporaryFile
from typing import IO, Any

from django.contrib.auth.models import User
from django.db import models, transaction
from django.db.models import F
from django.utils import timezone

from exchange.cars import IN_MEMORY, export_car, import_car
from exchange.taking import Came, models_of_a_car
from garage.car.models import Car
from garage.car.services import remove_car_for_good
from rimcore.quantities.errors import BadInput
from sharing.models import HandOver, Helper, Link, Opening
from shell.models import Deed

#: links that lead to one car at a time, helpers of one car
MOST_LINKS, MOST_HELPERS = 50, 20
#: how often one address may open links, how often try wrong ones, and in what time
MOST_OPENED, MOST_WRONG, OPENED_IN = 120, 20, timedelta(minutes=10)
#: columns that are notes, and the promise that is money
NOTES, MONEY_PROMISE = ("note", "description"), "work.money"


def make_link(car: Car, values: Mapping[str, Any]) -> Link:
    """A new address; it leads nowhere else than it says.

    Raises
    ------
    BadInput : there are too many that still hold
    """
    held = [one for one in Link.objects.filter(car=car) if one.holds]
    if len(held) >= MOST_LINKS:
        raise BadInput(f"take one back first; accepted: {MOST_LINKS} links to a car at a time", "until")
    made: Link = Link.objects.create(car=car, **values)
    return made


def take_back(link: Link) -> None:
    """It leads to nothing from now on."""
    Link.objects.filter(pk=link.pk, taken_back_at__isnull=True).update(taken_back_at=timezone.now())


def too_often(address: str) -> bool:
    """Has an address opened, or guessed, more than it may for now? What is over is forgotten."""
    since = timezone.now() - OPENED_IN
    Opening.objects.filter(at__lt=since).delete()
    found = Opening.objects.filter(address=address).values_list("right", flat=True)[: MOST_OPENED + MOST_WRONG]
    return len(found) >= MOST_OPENED or sum(not right for right in found) >= MOST_WRONG


def note_opening(address: str, link: Link | None) -> None:
    """A link was opened, or a wrong one tried."""
    Opening.objects.create(address=address, right=link is not None)
    if link is not None:
        Link.objects.filter(pk=link.pk).update(opened=F("opened") + 1, last_opened_at=timezone.now())


def add_helper(car: Car, name: str, role: str) -> Helper:
    """Another account may read or work on the car; asked again, its role changes.

    Raises
    ------
    BadInput : there is no such account, it is the owner's own, or there are too many
    """
    person = _account(name, car)
    if Helper.objects.filter(car=car).exclude(person=person).count() >= MOST_HELPERS:
        raise BadInput(f"has {MOST_HELPERS} helpers already, and no more are taken", "name")
    found, _ = Helper.objects.update_or_create(car=car, person=person, defaults={"role": role})
    return found


def _account(name: str, car: Car) -> User:
    """Another person of this server by sign-in name."""
    person = User.objects.filter(username=name.strip(), is_active=True).first()
    if person is None:
        raise BadInput("is the name of no account here; type it as they sign in", "name")
    if person.pk == car.owner_id:
        raise BadInput("is your own account; type another's", "name")
    return person


def offer(car: Car, name: str, values: Mapping[str, Any]) -> HandOver:
    """Offer a car to another account; it stays where it is until that accepts.

    Raises
    ------
    BadInput : there is no such account, or it is the owner's own
    """
    person = _account(name, car)
    HandOver.objects.filter(car=car).delete()
    made: HandOver = HandOver.objects.create(car=car, to=person, **values)
    return made


@transaction.atomic
def accept(one: HandOver) -> Came:
    """The car becomes a car of whoever it was offered to; the first owner keeps a copy to read, or nothing.

    Raises
    ------
    BadInput : it can't be read; nothing has changed then
    """
    held = HandOver.objects.select_for_update(of=("self",)).filter(pk=one.pk).first()
    if held is None:
        raise BadInput("has been taken over, or taken back, already")
    car, to = held.car, held.to
    with export_car(car) as whole, without(whole, money=one.money, notes=one.notes) as told:
        came = import_car(told, to, again="both")
    taken = Car.objects.get(pk=came.car_id)
    Deed.objects.create(car_number=taken.pk, person=to, label=f"taken over from {car.owner.username}")
    if one.keep == "copy":
        Helper.objects.filter(car=car).delete()
        Link.objects.filter(car=car).delete()
        one.delete()
        car.closed_on = timezone.localdate()
        car.save()
    else:
        remove_car_for_good(car)
    return came


def without(whole: IO[bytes], money: bool, notes: bool) -> IO[bytes]:
    """A car's file without prices and receipts, or without notes; the rest as it is."""
    out: IO[bytes] = SpooledTemporaryFile(max_size=IN_MEMORY)  # noqa: SIM115  the caller closes it
    with zipfile.ZipFile(whole) as read, zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as written:
        told = json.loads(read.read("car.json"))
        if not money:
            told["tables"].pop("planner.receiptpicture", None)
            told["tables"]["workshop.promise"] = [
                row for row in told["tables"].get("workshop.promise", ()) if row["fields"]["code"] != MONEY_PROMISE
            ]
        known = models_of_a_car()
        for label, rows in told["tables"].items():
            for row in rows:
                _strip(known[label], row["fields"], money, notes)
        written.writestr("car.json", json.dumps(told, ensure_ascii=False))
        named = {str(value) for rows in told["tables"].values() for row in rows for value in row["fields"].values()}
        for entry in read.infolist():
            if entry.filename != "car.json" and entry.filename.removeprefix("files/") in named:
                written.writestr(entry.filename, read.read(entry.filename))
    out.seek(0)
    return out


def _strip(model: type[models.Model], fields: dict[str, Any], money: bool, notes: bool) -> None:
    """A row without what is not to go with it; the line that a part was read from says its price, too."""
    for column in model._meta.concrete_fields:
        name = column.name
        if name not in fields:
            continue
        if not money and name.endswith("_minor"):
            fields[name] = None if column.null else 0
        elif (not notes and name in NOTES) or (not money and name == "line"):
            fields[name] = ""
        elif isinstance(column, models.JSONField):
            fields[name] = _stripped(fields[name], money, notes)


def _stripped(value: Any, money: bool, notes: bool) -> Any:
    """The same within what is kept as JSON."""
    if isinstance(value, list):
        return [_stripped(one, money, notes) for one in value]
    if not isinstance(value, dict):
        return value
    kept = {key: one for key, one in value.items() if (money or not key.endswith("_minor"))}
    return {
        key: "" if not notes and key in NOTES and isinstance(one, str) else _stripped(one, money, notes)
        for key, one in kept.items()
    }
