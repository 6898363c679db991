"""One writer of a garage at a time, whichever database it stands in.

SQLite has one writer for all: a transaction begins with the writer's lock. PostgreSQL has as many as come, so a
transaction that writes for a person waits for that person's lock first, and gives it back at its end.
"""

from __future__ import annotations

from collections.abc import Iterator
from contextlib import contextmanager
from typing import Any

from django.db import connection, transaction

#: the locks of garages among all advisory locks of a database
GARAGES = 0x7A11


@contextmanager
def turn_of(user: Any) -> Iterator[None]:
    """A transaction in which nobody else writes for this person; who comes second sees what the first kept."""
    with transaction.atomic():
        if connection.vendor == "postgresql" and user is not None and user.pk is not None:
            with connection.cursor() as cursor:
                # A lock has two numbers of 32 bits; persons a whole turn apart share one, and only wait.
                cursor.execute("SELECT pg_advisory_xact_lock(%s, %s)", [GARAGES, user.pk % 2**31])
        yield
