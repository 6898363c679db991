"""Pages that take long are written down by their route, for whoever looks after the server."""

from __future__ import annotations

import logging
import time
from collections.abc import Callable

from django.conf import settings
from django.db import DatabaseError, connection
from django.http import HttpRequest, HttpResponse

from shell.models import Slow

Answer = Callable[[HttpRequest], HttpResponse]

#: slow pages that are kept
MOST_KEPT = 500

log = logging.getLogger(__name__)


class Watched:
    """How much of the processor's time each answer takes; what is slow is kept and logged."""

    def __init__(self, get_response: Answer) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponse:
        began = time.thread_time()
        response = self.get_response(request)
        took_ms = round((time.thread_time() - began) * 1000)
        if took_ms >= settings.SLOW_MS:
            note(request, took_ms)
        return response


def note(request: HttpRequest, took_ms: int) -> None:
    """Keep and log a slow page; where the database has no time for it, the log alone says so."""
    match = request.resolver_match
    route, method = ("none" if match is None else str(match.route))[:120], str(request.method)[:7]
    log.info("slow", extra={"route": route, "method": method, "ms": took_ms})
    if connection.in_atomic_block and connection.needs_rollback:
        return
    try:
        row = Slow.objects.create(route=route, method=method, ms=took_ms)
        Slow.objects.filter(pk__lte=row.pk - MOST_KEPT).delete()
    except DatabaseError:
        log.warning("a slow page could not be kept")
