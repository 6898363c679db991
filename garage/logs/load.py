"""Logs of a car without their files, once a page."""

from __future__ import annotations

from garage.file import CarFile
from garage.kept import once
from garage.logs.models import Log

#: how many logs a page looks back over
LOGS = 60


@once
def kept_logs(file: CarFile) -> list[Log]:
    """The newest that were kept, drafts left out; one query."""
    return list(Log.objects.filter(car=file.car, draft=False)[:LOGS])
