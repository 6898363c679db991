"""The demo scenario as rows that are kept beside the code.

Laid down in a moment, on any day, as ``demo.scenario.load`` would leave it.

``./tally demo`` takes them on a database that holds nobody yet; a test holds them to the scenario, and
``./manage.py keep_demo`` writes them anew after it was changed.
"""

from __future__ import annotations

import base64
import gzip
import json
import re
from collections.abc import Callable, Iterable
from datetime import date, datetime, timedelta
from pathlib import Path
from typing import Any

from django.apps import apps
from django.conf import settings
from django.contrib.auth.models import User
from django.db import connection, models, transaction
from django.utils import timezone

from demo.scenario import PASSWORD
from exchange.moving import numbers_follow
from garage.car.models import Car
from shell.tidy import file_columns
from shell.views import DEMO_USER

KEPT = Path(__file__).with_name("rows.json.gz")
#: rows of these are no part of the scenario
APART = (
    "django_content_type",
    "auth_permission",
    "django_migrations",
    "django_session",
    "axes_",
    "shell_revision",
    "shell_gathered",
)
#: days as judgements and promises write them
_WORDED = re.compile(r"(?<![\d.])([1-9]|[12]\d|3[01]) (Jan|Feb|Mar|Apr|May|Jun|Jul|Aug|Sep|Oct|Nov|Dec) (20\d\d)(?!\d)")
_ISO = re.compile(r"(?<![\d-])(20\d\d-\d\d-\d\d)(?![\d])")

Rows = dict[str, list[list[Any]]]


def _tables() -> dict[str, type[models.Model]]:
    every = apps.get_models(include_auto_created=True)
    return {
        one._meta.db_table: one for one in every if not one._meta.proxy and not one._meta.db_table.startswith(APART)
    }


def read_rows() -> dict[str, tuple[list[str], list[list[Any]]]]:
    """Columns and rows of every table, as the database keeps them."""
    found = {}
    with connection.cursor() as cursor:
        for table, model in _tables().items():
            columns = [str(field.column) for field in model._meta.local_concrete_fields]
            named = ", ".join(map(connection.ops.quote_name, columns))
            cursor.execute(f"SELECT {named} FROM {connection.ops.quote_name(table)} ORDER BY 1")  # noqa: S608  names are ours
            found[table] = (columns, [[_plain(one) for one in row] for row in cursor.fetchall()])
    return found


def _plain(value: Any) -> Any:
    """As JSON takes it."""
    return value.isoformat() if isinstance(value, date | datetime) else value


def read_files() -> dict[str, bytes]:
    """Files that rows name, by their names."""
    named = {
        name
        for model, column in file_columns()
        for name in model._default_manager.exclude(**{column: ""}).values_list(column, flat=True)
    }
    return {name: path.read_bytes() for name in sorted(named) if (path := Path(settings.MEDIA_ROOT, name)).is_file()}


def keep(car: Car, path: Path = KEPT) -> None:
    """Write what stands in the database, which is the scenario of this moment and nothing else."""
    now = timezone.now()
    said = {
        "car": car.pk,
        "day": timezone.localdate(now).isoformat(),
        "moment": now.isoformat(),
        "tables": {table: {"columns": columns, "rows": rows} for table, (columns, rows) in read_rows().items() if rows},
        "files": {name: base64.b64encode(content).decode() for name, content in read_files().items()},
    }
    raw = json.dumps(said, ensure_ascii=False, separators=(",", ":")).encode()
    path.write_bytes(gzip.compress(raw, 9, mtime=0))


def _later(days: timedelta, moments: timedelta) -> dict[type[models.Field[Any, Any]], Callable[[Any], Any]]:
    """How a column of a kind is carried to another day."""

    def worded(found: re.Match[str]) -> str:
        day = datetime.strptime(found[0], "%d %b %Y").date() + days
        return f"{day:%-d %b %Y}"

    def iso(found: re.Match[str]) -> str:
        return (date.fromisoformat(found[1]) + days).isoformat()

    def text(value: str) -> str:
        return _WORDED.sub(worded, _ISO.sub(iso, value)) if "20" in value else value

    return {
        models.DateTimeField: lambda value: (datetime.fromisoformat(value) + moments).isoformat(" "),
        models.DateField: lambda value: (date.fromisoformat(value) + days).isoformat(),
        models.TextField: text,
        models.CharField: text,
        models.JSONField: text,
        models.BooleanField: bool,
    }


def _carried(
    model: type[models.Model], columns: Iterable[str], later: dict[Any, Callable[[Any], Any]]
) -> list[Callable[[Any], Any] | None]:
    """What is done to each column of a table."""
    by_column = {field.column: field for field in model._meta.local_concrete_fields}
    return [next((do for kind, do in later.items() if isinstance(by_column[name], kind)), None) for name in columns]


def lay_down(path: Path = KEPT) -> Car:
    """The scenario of today, from the rows that are kept.

    Raises
    ------
    RuntimeError : the database holds somebody already; the rows bring their own numbers.
    """
    if User.objects.exists():
        raise RuntimeError("the rows of the demo go into a database that holds nobody")
    said = json.loads(gzip.decompress(path.read_bytes()))
    now = timezone.now()
    later = _later(
        timezone.localdate(now) - date.fromisoformat(said["day"]), now - datetime.fromisoformat(said["moment"])
    )
    tables = _tables()
    with transaction.atomic(), connection.cursor() as cursor:
        if connection.vendor == "sqlite":
            cursor.execute("PRAGMA defer_foreign_keys = ON")
        for table, kept in said["tables"].items():
            carried = _carried(tables[table], kept["columns"], later)
            rows = [
                [value if do is None or value is None else do(value) for do, value in zip(carried, row, strict=True)]
                for row in kept["rows"]
            ]
            named, marks = ", ".join(map(connection.ops.quote_name, kept["columns"])), ", ".join(["%s"] * len(carried))
            cursor.executemany(f"INSERT INTO {connection.ops.quote_name(table)} ({named}) VALUES ({marks})", rows)  # noqa: S608  names are ours
        # The rows brought their own numbers; the next ones follow them.
        numbers_follow(tables[table] for table in said["tables"])
    user = User.objects.get(username=DEMO_USER)
    user.set_password(PASSWORD)
    user.save(update_fields=["password"])
    for name, content in said["files"].items():
        file = Path(settings.MEDIA_ROOT, name)
        file.parent.mkdir(parents=True, exist_ok=True)
        file.write_bytes(base64.b64decode(content))
    return Car.objects.get(pk=said["car"])
