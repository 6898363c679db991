"""Undo: every change is remembered as the rows it touched, and can be taken back for a while."""

from __future__ import annotations

import json
import logging
import re
import threading
from collections import Counter
from collections.abc import Iterator
from contextlib import contextmanager
from datetime import timedelta
from typing import Any

from django.apps import apps
from django.core import serializers
from django.core.serializers.base import DeserializationError
from django.db import IntegrityError, models, transaction
from django.db.models.signals import post_save, pre_delete, pre_save
from django.utils import timezone

from shell.models import Change, Deed
from shell.turn import turn_of

#: how long a change can be undone
UNDO_FOR = timedelta(hours=2)
#: changes kept per person
KEPT = 30
#: rooms whose rows are remembered
ROOMS = frozenset({"garage", "shelf", "planner", "workshop", "proof"})

_here = threading.local()


class CannotUndo(Exception):
    """The change can't be taken back; says why."""


@contextmanager
def remember(user: Any, label: str) -> Iterator[None]:
    """Do what is inside in one transaction and remember how to take it back."""
    outer = getattr(_here, "operations", None)
    if outer is not None:
        yield
        return
    _here.operations = []
    try:
        with turn_of(user):
            yield
            if _here.operations:
                car = getattr(_here, "car_number", None)
                Change.objects.create(user=user, label=label, operations=_here.operations, car_number=car)
                if car is not None:
                    Deed.objects.create(car_number=car, person=getattr(_here, "person", None) or user, label=label)
                _forget_old(user)
                _log(_here.operations, car)
    finally:
        _here.operations = None


def _log(operations: list[dict[str, Any]], car: int | None) -> None:
    """Each room says how many of its rows were written, and nothing of what stands in them."""
    labels = (str(one.get("model") or one["row"]["model"]) for one in operations)
    for room, rows in Counter(label.partition(".")[0] for label in labels).items():
        logging.getLogger(room).info("kept", extra={"car": car, "rows": rows})


@contextmanager
def on_pages_of(path: str, person: Any = None) -> Iterator[None]:
    """What is remembered inside belongs to the car whose page was sent, and was done by whoever sent it."""
    _here.car_number, _here.person = car_of(path), person
    try:
        yield
    finally:
        _here.car_number = _here.person = None


def car_of(path: str) -> int | None:
    """The car that an address is about; None where it is about none.

    >>> car_of("/car/12/fit/"), car_of("/settings/")
    (12, None)
    """
    found = re.match(r"/car/(\d{1,18})/", path)
    return int(found[1]) if found else None


def offered(change: Change | None, path: str) -> Change | None:
    """The change, where it may be undone on that page: what was done to one car is not offered on another's."""
    if change is None or None in (change.car_number, car_of(path)) or change.car_number == car_of(path):
        return change
    return None


def last_change(user: Any) -> Change | None:
    """The newest change that can still be undone."""
    return Change.objects.filter(user=user, made_at__gte=timezone.now() - UNDO_FOR).defer("operations").first()


def undo(user: Any, change_id: int) -> str:
    """Take back the newest change; returns its label.

    Raises
    ------
    CannotUndo : it is not the newest one, too old, or something else rests on it now
    """
    with turn_of(user):
        newest = last_change(user)
        if newest is None or newest.pk != change_id:
            raise CannotUndo("Only the newest change can be undone, within two hours.")
        try:
            with transaction.atomic():
                for operation in reversed(newest.operations):
                    _take_back(operation)
                newest.delete()
        except (IntegrityError, models.RestrictedError, DeserializationError, LookupError) as error:
            raise CannotUndo(f"“{newest.label}” can't be undone: something entered later rests on it.") from error
    return newest.label


def connect() -> None:
    """Listen to saves and deletes."""
    pre_save.connect(_before_save, dispatch_uid="undo-before-save")
    post_save.connect(_after_save, dispatch_uid="undo-after-save")
    pre_delete.connect(_before_delete, dispatch_uid="undo-before-delete")


def _before_save(sender: Any, instance: Any, raw: bool = False, **_: Any) -> None:
    if not raw and _listening(sender) and instance.pk:
        known = sender._default_manager.filter(pk=instance.pk).first()
        if known is not None:
            _note("was", known)


def _after_save(sender: Any, instance: Any, created: bool, raw: bool = False, **_: Any) -> None:
    if not raw and created and _listening(sender):
        _here.operations.append({"kind": "made", "model": sender._meta.label, "pk": instance.pk})


def _before_delete(sender: Any, instance: Any, **_: Any) -> None:
    if _listening(sender):
        _note("was", instance)


def _listening(sender: Any) -> bool:
    return getattr(_here, "operations", None) is not None and sender._meta.app_label in ROOMS


def _note(kind: str, instance: Any) -> None:
    _here.operations.append({"kind": kind, "row": json.loads(serializers.serialize("json", [instance]))[0]})


def _take_back(operation: dict[str, Any]) -> None:
    if operation["kind"] == "made":
        apps.get_model(operation["model"])._default_manager.filter(pk=operation["pk"]).delete()
        return
    for row in serializers.deserialize("json", json.dumps([operation["row"]])):
        row.save()


def _forget_old(user: Any) -> None:
    keep = list(Change.objects.filter(user=user).values_list("pk", flat=True)[:KEPT])
    Change.objects.filter(user=user).exclude(pk__in=keep).delete()
