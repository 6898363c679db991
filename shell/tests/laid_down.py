"""The demo scenario laid down from rows that were kept: it is worked out once a process, not once a class."""

from __future__ import annotations

from datetime import date
from pathlib import Path

from django.apps import apps
from django.conf import settings
from django.contrib.auth.models import User
from django.db import connection, transaction
from django.utils import timezone

from demo.scenario import load
from garage.car.models import Car
from shell.tidy import file_columns

#: by the day it was made for: the car's key, rows of every table, files they name
_kept: dict[date, tuple[int, dict[str, list[tuple]], dict[Path, bytes]]] = {}


def laid_down() -> Car:
    """The scenario as ``demo.scenario.load`` leaves it; a database that holds somebody already gets it from ``load`` itself."""
    if User.objects.exists():
        return load()
    today = timezone.localdate()
    if today not in _kept:
        return _first(today)
    key, rows, files = _kept[today]
    with transaction.atomic(), connection.cursor() as cursor:
        for table, lines in rows.items():
            marks = ", ".join(["%s"] * len(lines[0]))
            cursor.executemany(f"INSERT INTO {connection.ops.quote_name(table)} VALUES ({marks})", lines)
    for path, content in files.items():
        if not path.exists():
            path.parent.mkdir(parents=True, exist_ok=True)
            path.write_bytes(content)
    return Car.objects.get(pk=key)


def _first(today: date) -> Car:
    before = _rows()
    car = load()
    new = {table: [line for line in lines if line not in before[table]] for table, lines in _rows().items()}
    _kept[today] = car.pk, {table: lines for table, lines in new.items() if lines}, _files()
    return car


def _rows() -> dict[str, list[tuple]]:
    tables = [model._meta.db_table for model in apps.get_models(include_auto_created=True)]
    found = {}
    with connection.cursor() as cursor:
        for table in tables:
            cursor.execute(f"SELECT * FROM {connection.ops.quote_name(table)}")
            found[table] = cursor.fetchall()
    return found


def _files() -> dict[Path, bytes]:
    named = {
        name for model, column in file_columns() for name in model._default_manager.exclude(**{column: ""}).values_list(column, flat=True)
    }
    return {path: path.read_bytes() for name in named if (path := Path(settings.MEDIA_ROOT, name)).is_file()}
