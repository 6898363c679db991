"""Lines of the log: one JSON object each, with numbers and names of pages; nothing that says who, where or what a car is
called.
"""

from __future__ import annotations

import json
import logging
from datetime import UTC, datetime
from typing import Any

#: what a record may carry beside its words
TOLD = ("car", "rows", "files", "ms", "status", "route", "method", "kind")


class JsonLines(logging.Formatter):
    """One line of JSON for each record; a record of a request is told by the page's route, never by its address.

    An address holds numbers, what was searched for and the tokens of links.
    """

    def format(self, record: logging.LogRecord) -> str:
        request = getattr(record, "request", None)
        told: dict[str, Any] = {
            "at": datetime.fromtimestamp(record.created, UTC).isoformat(timespec="milliseconds"),
            "level": record.levelname.lower(),
            "room": record.name,
            "event": _of_request(record, request) if request is not None else record.getMessage(),
        }
        told |= {name: getattr(record, name) for name in TOLD if hasattr(record, name)}
        if "status" not in told and (status := getattr(record, "status_code", None)) is not None:
            told["status"] = status
        if record.exc_info:
            told["trace"] = self.formatException(record.exc_info)
        return json.dumps(told, ensure_ascii=False, default=str)


def _of_request(record: logging.LogRecord, request: Any) -> str:
    return f"{str(record.msg).partition(':')[0].partition(' (')[0]} {route_of(request)}"


def route_of(request: Any) -> str:
    """The page that was asked for, as its pattern: ``car/<int:car_id>/plan/``; ``none`` where there is no such page."""
    match = getattr(request, "resolver_match", None)
    return "none" if match is None else str(match.route)
