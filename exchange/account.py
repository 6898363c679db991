"""All that an account holds: out as one archive, and gone when its owner wants that."""

from __future__ import annotations

import json
import tempfile
import zipfile
from collections.abc import Iterator
from typing import IO, Any

from axes.models import AccessAttempt, AccessFailureLog, AccessLog
from django.conf import settings
from django.contrib.auth.models import User
from django.core import serializers
from django.core.files.storage import default_storage
from django.db import models, transaction
from django.utils import timezone

from garage.car.services import remove_car_for_good
from shell.models import Deed
from shell.tidy import file_columns
from shell.undo import ROOMS

FORMAT = "rim-tally-export-1"
#: archives larger than this are made on the disk [bytes]
IN_MEMORY = 8 * 1024 * 1024


def rows_of(user: User) -> dict[type[models.Model], list[models.Model]]:
    """Every row of the rooms that hangs on a person, table by table."""
    return hanging_on(User, [user.pk])


def hanging_on(root: type[models.Model], pks: list[Any]) -> dict[type[models.Model], list[models.Model]]:
    """Every row of the rooms that hangs on some rows, however deep, table by table."""
    found: dict[type[models.Model], dict[Any, models.Model]] = {}
    waiting: list[tuple[type[models.Model], list[Any]]] = [(root, pks)]
    while waiting:
        model, keys = waiting.pop()
        for relation in model._meta.related_objects:
            child = relation.related_model
            if child._meta.app_label not in ROOMS:
                continue
            known = found.setdefault(child, {})
            fresh = [
                row
                for row in child._default_manager.filter(**{f"{relation.field.name}__in": keys}).order_by("pk")
                if row.pk not in known
            ]
            known.update({row.pk: row for row in fresh})
            if fresh:
                waiting.append((child, [row.pk for row in fresh]))
    return {
        model: [rows[key] for key in sorted(rows)]
        for model, rows in sorted(found.items(), key=lambda item: item[0]._meta.label)
        if rows
    }


def files_of(rows: dict[type[models.Model], list[models.Model]]) -> Iterator[str]:
    """Names of the pictures that rows speak of."""
    for model, column in file_columns():
        for row in rows.get(model, []):
            name = str(getattr(row, column))
            if name:
                yield name


def export(user: User) -> IO[bytes]:
    """A zip archive: ``garage.json`` with every row as it is kept, units in the names, and the pictures."""
    rows = rows_of(user)
    tables = {model._meta.label_lower: json.loads(serializers.serialize("json", each)) for model, each in rows.items()}
    whole = {
        "format": FORMAT,
        "made": timezone.now().isoformat(timespec="seconds"),
        "person": user.get_username(),
        "tables": tables,
    }
    out: IO[bytes] = tempfile.SpooledTemporaryFile(max_size=IN_MEMORY)  # noqa: SIM115  the answer closes it
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as archive:
        archive.writestr("garage.json", json.dumps(whole, indent=1, ensure_ascii=False))
        for name in files_of(rows):
            if default_storage.exists(name):
                with default_storage.open(name) as picture:
                    archive.writestr(f"pictures/{name}", picture.read())
    out.seek(0)
    return out


def remove_account(user: User) -> None:
    """The account with everything in it; this can't be undone, so the pictures go at once."""
    names, sign_in = list(files_of(rows_of(user))), user.get_username()
    with transaction.atomic():
        Deed.objects.filter(car_number__in=list(user.cars.values_list("pk", flat=True))).delete()
        for car in user.cars.all():
            remove_car_for_good(car)
        user.delete()
        for book in (AccessAttempt, AccessLog, AccessFailureLog):
            book.objects.filter(username=sign_in).delete()
        transaction.on_commit(lambda: _drop(names))


def _drop(names: list[str]) -> None:
    for name in names:
        default_storage.delete(name)


def how_much(user: User) -> list[tuple[str, int]]:
    """What is in an account, in words and numbers."""
    return [(str(model._meta.verbose_name_plural), len(rows)) for model, rows in rows_of(user).items()]


def file_name(user: User) -> str:
    """Name under which the archive is saved; only plain letters of the person's name."""
    plain = "".join(c for c in user.get_username() if c.isascii() and c.isalnum())[:30]
    return f"rim-tally-{plain or 'garage'}-{timezone.localdate():%Y-%m-%d}.zip"


def is_demo(user: User) -> bool:
    """The demo's own person is loaded anew, not removed."""
    return bool(settings.DEMO) and user.get_username() == "demo"
