"""What keeps and drops logs; one transaction each, each can be undone."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from garage.logs.models import Log
from shell.undo import remember


def keep_log(log: Log, values: Mapping[str, Any], asked: Mapping[str, Any], found: Mapping[str, Any]) -> None:
    """A log that was looked at is kept with what was found in it."""
    with remember(log.car.owner, f"{values.get('name', log.name)} saved"):
        for name, value in values.items():
            setattr(log, name, value)
        log.asked, log.found, log.draft = dict(asked), dict(found), False
        log.save()


def drop_log(log: Log, user: Any) -> None:
    """A log that does not count; undo brings it back."""
    with remember(user, f"{log.name} removed"):
        log.delete()
