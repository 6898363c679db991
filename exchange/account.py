"""All that an account holds: out as one archive, and gone when its owner wants that."""

from __future__ import annotations

import json
import shutil
import tempfile
import zipfile
from collections.abc import Iterator, Sequence
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
#: rows that are read at once
CHUNK = 500


def keys_of(user: User) -> dict[type[models.Model], list[Any]]:
    """Keys of every row of the rooms that hangs on a person."""
    return _keys_on(User, [user.pk])


def _keys_on(root: type[models.Model], pks: list[Any]) -> dict[type[models.Model], list[Any]]:
    """Keys of every row of the rooms that hangs on some rows, however deep, table by table."""
    found: dict[type[models.Model], dict[Any, None]] = {}
    waiting: list[tuple[type[models.Model], list[Any]]] = [(root, pks)]
    while waiting:
        model, keys = waiting.pop()
        for relation in model._meta.related_objects:
            child = relation.related_model
            if child._meta.app_label not in ROOMS:
                continue
            known = found.setdefault(child, {})
            held = [
                key
                for some in _parted(keys)
                for key in child._default_manager.filter(**{f"{relation.field.name}__in": some}).values_list(
                    "pk", flat=True
                )
            ]
            fresh = dict.fromkeys(key for key in held if key not in known)
            known.update(fresh)
            if fresh:
                waiting.append((child, list(fresh)))
    return {model: sorted(keys) for model, keys in sorted(found.items(), key=lambda item: item[0]._meta.label) if keys}


def _parted(keys: Sequence[Any]) -> Iterator[Sequence[Any]]:
    return (keys[k : k + CHUNK] for k in range(0, len(keys), CHUNK))


def _rows(model: type[models.Model], keys: Sequence[Any]) -> Iterator[list[models.Model]]:
    """Rows by their keys, so many at a time; what went away meanwhile is left out."""
    for some in _parted(keys):
        rows = list(model._default_manager.filter(pk__in=some).order_by("pk"))
        if rows:
            yield rows


def hanging_on(root: type[models.Model], pks: list[Any]) -> dict[type[models.Model], list[models.Model]]:
    """Every row of the rooms that hangs on some rows, however deep, table by table."""
    return {model: [row for rows in _rows(model, keys) for row in rows] for model, keys in _keys_on(root, pks).items()}


def names_of(keys: dict[type[models.Model], list[Any]]) -> Iterator[str]:
    """Names of the files that rows speak of, by the rows' keys."""
    for model, column in file_columns():
        for some in _parted(keys.get(model, [])):
            held = model._default_manager.filter(pk__in=some).order_by("pk").values_list(column, flat=True)
            yield from (str(name) for name in held if name)


def export(user: User) -> IO[bytes]:
    """A zip archive: ``garage.json`` with every row as it is kept, units in the names, and the pictures.

    Rows and pictures go through a few at a time, so that the largest account takes little memory.
    """
    keys = keys_of(user)
    out: IO[bytes] = tempfile.SpooledTemporaryFile(max_size=IN_MEMORY)  # noqa: SIM115  the answer closes it
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as archive:
        with archive.open("garage.json", "w", force_zip64=True) as part:
            for text in _garage(user, keys):
                part.write(text.encode())
        for name in names_of(keys):
            if default_storage.exists(name):
                with default_storage.open(name) as picture, archive.open(f"pictures/{name}", "w") as part:
                    shutil.copyfileobj(picture, part)
    out.seek(0)
    return out


def _garage(user: User, keys: dict[type[models.Model], list[Any]]) -> Iterator[str]:
    """``garage.json`` in pieces."""
    head = {"format": FORMAT, "made": timezone.now().isoformat(timespec="seconds"), "person": user.get_username()}
    yield json.dumps(head, ensure_ascii=False)[:-1] + ', "tables": {'
    for place, (model, held) in enumerate(keys.items()):
        yield f"{',' if place else ''}\n{json.dumps(model._meta.label_lower)}: ["
        for number, rows in enumerate(_rows(model, held)):
            # A list without its brackets: the next rows follow.
            yield ("," if number else "") + serializers.serialize("json", rows)[1:-1]
        yield "]"
    yield "}}\n"


def remove_account(user: User) -> None:
    """The account with everything in it; this can't be undone, so the pictures go at once."""
    names, sign_in = list(names_of(keys_of(user))), user.get_username()
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
    return [(str(model._meta.verbose_name_plural), len(keys)) for model, keys in keys_of(user).items()]


def file_name(user: User) -> str:
    """Name under which the archive is saved; only plain letters of the person's name."""
    plain = "".join(c for c in user.get_username() if c.isascii() and c.isalnum())[:30]
    return f"rim-tally-{plain or 'garage'}-{timezone.localdate():%Y-%m-%d}.zip"


def is_demo(user: User) -> bool:
    """The demo's own person is loaded anew, not removed."""
    return bool(settings.DEMO) and user.get_username() == "demo"
