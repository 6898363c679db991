"""Is the server alive, and may it be given work: for whatever watches over it."""

from __future__ import annotations

from functools import lru_cache

from django.contrib.auth.decorators import login_not_required
from django.db import DatabaseError, connection
from django.db.migrations.loader import MigrationLoader
from django.db.migrations.recorder import MigrationRecorder
from django.http import HttpRequest, HttpResponse
from django.views.decorators.http import require_safe


@login_not_required
@require_safe
def alive(request: HttpRequest) -> HttpResponse:
    """A process answers; nothing else is asked."""
    return _said("alive", 200)


@login_not_required
@require_safe
def ready(request: HttpRequest) -> HttpResponse:
    """The database answers and is of this version; else 503, with the reason in a word."""
    try:
        behind = wanted() - set(MigrationRecorder(connection).applied_migrations())
    except DatabaseError:
        return _said("the database does not answer", 503)
    return _said("the database is of another version", 503) if behind else _said("ready", 200)


@lru_cache(maxsize=1)
def wanted() -> frozenset[tuple[str, str]]:
    """Migrations that this version's database has taken; those that stand for others are counted by what they are."""
    return frozenset(MigrationLoader(None).graph.leaf_nodes())


def _said(words: str, status: int) -> HttpResponse:
    return HttpResponse(f"{words}\n", status=status, content_type="text/plain", headers={"Cache-Control": "no-store"})
