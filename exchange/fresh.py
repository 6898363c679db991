"""A new database in a moment: the tables that all steps together make, kept beside them as one script.

``./manage.py keep_tables`` writes it anew after a step was added; ``./tally lint`` holds it to what the steps make.
"""

from __future__ import annotations

import re
import sqlite3
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path

from django.db import connection
from django.db.migrations.recorder import MigrationRecorder

from shell.revision import PREFIX

KEPT = Path(__file__).with_name("fresh.sql")
#: how a step is noted, with the moment at which the script runs (UTC)
_STEP = "INSERT INTO django_migrations (app, name, applied) VALUES ('{}', '{}', CURRENT_TIMESTAMP);"
#: Django writes these from a set, whose order differs from process to process
_JSON_TYPES, _IN_ORDER = (
    re.compile(r"\('(?:null|true|false)','(?:null|true|false)','(?:null|true|false)'\)"),
    "('false','null','true')",
)

_stepwise = False


@contextmanager
def stepwise() -> Iterator[None]:
    """Inside, a new database is made step by step."""
    global _stepwise
    _stepwise = True
    try:
        yield
    finally:
        _stepwise = False


def script() -> str:
    """Tables and indices of the database at hand, and the steps that it has taken."""
    with connection.cursor() as cursor:
        cursor.execute(
            "SELECT sql FROM sqlite_master WHERE sql IS NOT NULL AND name NOT LIKE 'sqlite_%%' "
            "AND NOT (type = 'trigger' AND substr(name, 1, %s) = %s) ORDER BY type DESC, name",
            [len(PREFIX), PREFIX],
        )
        made = [f"{_JSON_TYPES.sub(_IN_ORDER, row[0])};" for row in cursor.fetchall()]
    steps = [_STEP.format(room, name) for room, name in sorted(MigrationRecorder(connection).applied_migrations())]
    return "\n".join([*made, *steps]) + "\n"


def lay_down() -> bool:
    """The tables at once, where the database is new and of the kind that the script is for; were they laid?"""
    if _stepwise or connection.vendor != "sqlite" or not KEPT.exists() or connection.introspection.table_names():
        return False
    connection.ensure_connection()
    lay_into(connection.connection)
    return True


def lay_into(opened: sqlite3.Connection) -> None:
    """The tables into an empty file, whole or not at all: a start that is ended half way leaves it empty."""
    opened.executescript(f"BEGIN;\n{KEPT.read_text(encoding='utf-8')}COMMIT;")
