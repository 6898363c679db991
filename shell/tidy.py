"""Tidying: picture files that nothing speaks of any more, changes that can't be undone, sessions and presses that are
over.
"""

from __future__ import annotations

import json
import time
from collections.abc import Iterator
from datetime import datetime, timedelta
from pathlib import Path

from axes.models import AccessAttempt, AccessFailureLog, AccessLog
from django.apps import apps
from django.conf import settings
from django.contrib.sessions.models import Session
from django.db import models
from django.utils import timezone

from shell.middleware import forget_presses
from shell.models import Arrival, Change, Deed
from shell.offline import forget_sent
from shell.undo import UNDO_FOR

#: a file younger than this may belong to a row that is just being written
YOUNG = timedelta(minutes=10)
#: so long it is kept who signed in from where
SIGNED_IN_FOR = timedelta(days=30)
#: so long it is kept who did what on the pages of a car
DEEDS_FOR = timedelta(days=3 * 365)


def file_columns() -> list[tuple[type[models.Model], str]]:
    """Every column that names a file."""
    return [
        (model, field.name)
        for model in apps.get_models()
        for field in model._meta.get_fields()
        if isinstance(field, models.FileField)
    ]


def _named() -> set[str]:
    """Files that a row, or a change that can still be undone, speaks of."""
    found: set[str] = set()
    for model, column in file_columns():
        found |= set(model._default_manager.exclude(**{column: ""}).values_list(column, flat=True))
    columns = {(model._meta.label_lower, column) for model, column in file_columns()}
    for operations in Change.objects.values_list("operations", flat=True).iterator():
        for operation in operations if isinstance(operations, list) else json.loads(operations):
            row = operation.get("row") or {}
            found |= {
                row["fields"][column]
                for label, column in columns
                if row.get("model") == label and row["fields"].get(column)
            }
    return found


def orphans() -> Iterator[Path]:
    """Kept files that nothing speaks of."""
    root = Path(settings.MEDIA_ROOT)
    if not root.exists():
        return
    named, oldest = _named(), time.time() - YOUNG.total_seconds()
    for path in sorted(root.rglob("*")):
        if path.is_file() and path.relative_to(root).as_posix() not in named and path.stat().st_mtime < oldest:
            yield path


def _deeds_of_nothing(now: datetime) -> int:
    """What was done to cars that are gone for good, and what is older than anybody asks for."""
    cars = apps.get_model("garage", "Car").objects.values("pk")
    gone = Deed.objects.filter(at__lt=now - UNDO_FOR).exclude(car_number__in=cars).delete()[0]
    return gone + Deed.objects.filter(at__lt=now - DEEDS_FOR).delete()[0]


def tidy() -> dict[str, int]:
    """Do it all; how much of each went."""
    now = timezone.now()
    gone = {
        "changes": Change.objects.filter(made_at__lt=now - UNDO_FOR).delete()[0],
        "sessions": Session.objects.filter(expire_date__lt=now).delete()[0],
        "presses": forget_presses(),
        "sent": forget_sent(),
        "arrivals": Arrival.objects.filter(at__lt=now - timedelta(days=1)).delete()[0],
        "attempts": AccessAttempt.objects.filter(attempt_time__lt=now - timedelta(days=1)).delete()[0],
        "sign-ins": AccessLog.objects.filter(attempt_time__lt=now - SIGNED_IN_FOR).delete()[0],
        "failures": AccessFailureLog.objects.filter(attempt_time__lt=now - timedelta(days=1)).delete()[0],
        "deeds": _deeds_of_nothing(now),
        "files": 0,
    }
    for path in list(orphans()):
        path.unlink(missing_ok=True)
        gone["files"] += 1
    return gone
