"""How the server is: version, database, room on the disk, who uses it, what is slow. Numbers alone, no names."""

from __future__ import annotations

import re
import shutil
from datetime import timedelta
from pathlib import Path
from typing import Any

from django.conf import settings
from django.contrib.auth.models import User
from django.contrib.sessions.models import Session
from django.db import connection
from django.db.migrations.recorder import MigrationRecorder
from django.db.models import Count, Max
from django.utils import timezone

from exchange.health import wanted
from garage.car.models import Car
from garage.readings.models import Reading
from shell.models import Slow

CHANGES = Path(__file__).resolve().parent.parent / "CHANGELOG.md"
#: pages that are named at the most
MOST_PAGES = 10

Rows = list[tuple[str, str]]


def status() -> dict[str, Rows]:
    """Sections with their rows, in words and numbers."""
    return {"Version": _version(), "Data": _data(), "In use": _use(), "Slowest pages of the last 7 days": _slow()}


def version() -> str:
    """The version that the newest entry of the change log names.

    >>> version() != ""
    True
    """
    found = re.search(r"^## \[?(\d+\.\d+(?:\.\d+)?)", CHANGES.read_text(encoding="utf-8"), re.M)
    return found[1] if found else "unknown"


def _version() -> Rows:
    behind = sorted(wanted() - set(MigrationRecorder(connection).applied_migrations()))
    told = ", ".join(f"{room} {name}" for room, name in behind) or "none"
    return [("Rim Tally", version()), ("Database", connection.vendor), ("Steps that the database lacks", told)]


def _data() -> Rows:
    data, uploads = Path(settings.DATA_DIR), Path(settings.MEDIA_ROOT)
    disk = shutil.disk_usage(data)
    rows = [
        ("Uploads", f"{_bytes(uploads) / 1e6:.1f} MB"),
        ("Free on the disk", f"{disk.free / 1e9:.1f} GB of {disk.total / 1e9:.1f}"),
    ]
    name = connection.settings_dict["NAME"]
    if connection.vendor == "sqlite" and Path(name).is_file():
        rows.insert(0, ("Database file", f"{Path(name).stat().st_size / 1e6:.1f} MB"))
    elif connection.vendor == "postgresql":
        with connection.cursor() as cursor:
            cursor.execute("SELECT pg_database_size(current_database())")
            rows.insert(0, ("Database", f"{cursor.fetchone()[0] / 1e6:.1f} MB"))
    return rows


def _bytes(folder: Path) -> int:
    return sum(one.stat().st_size for one in folder.rglob("*") if one.is_file()) if folder.exists() else 0


def _use() -> Rows:
    now = timezone.now()
    counts: dict[str, int] = {
        "Accounts": User.objects.count(),
        "Accounts that signed in within 30 days": User.objects.filter(last_login__gte=now - timedelta(days=30)).count(),
        "Sessions": Session.objects.filter(expire_date__gte=now).count(),
        "Cars": Car.objects.count(),
        "Readings": Reading.objects.count(),
    }
    return [(name, str(count)) for name, count in counts.items()]


def _slow() -> Rows:
    since = timezone.now() - timedelta(days=7)
    found: Any = Slow.objects.filter(at__gte=since).values("method", "route").annotate(worst=Max("ms"), n=Count("pk"))
    return [
        (f"{one['method']} {one['route']}", f"{one['worst']} ms at the most, {one['n']} times")
        for one in found.order_by("-worst")[:MOST_PAGES]
    ]
