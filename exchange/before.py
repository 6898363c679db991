"""Databases of before there was one set of migrations a room: the single steps that led there, taken by them alone.

A new database takes ``0001_whole`` of every room. One that began with the single steps takes those it has not taken
yet,
and is then what a new one is; ``./manage.py migrate`` and every start see to it.
"""

from __future__ import annotations

import pkgutil
from collections.abc import Iterator
from contextlib import contextmanager
from importlib import import_module

from django.conf import settings
from django.db import connection
from django.db.migrations.executor import MigrationExecutor
from django.db.migrations.recorder import MigrationRecorder

ROOMS = ("garage", "shelf", "planner", "workshop", "proof", "shell")
#: rooms that there were not, or that had no tables, when the single steps were taken
LATER = ("exchange", "sharing")
WHOLE = "0001_whole"
#: a step that stood for five others once, and is named in databases that took it
STOOD_FOR_FIVE = ("garage", "0016_links_and_springs")

Name = tuple[str, str]


@contextmanager
def single_steps() -> Iterator[None]:
    """Within it, migrations are the single steps of before."""
    known = settings.MIGRATION_MODULES
    steps: dict[str, str | None] = {room: f"{room}.migrations_before" for room in ROOMS}
    settings.MIGRATION_MODULES = {**known, **steps, **dict.fromkeys(LATER)}
    try:
        yield
    finally:
        settings.MIGRATION_MODULES = known


def names() -> set[Name]:
    """Every step of before, by room and name."""
    found = {STOOD_FOR_FIVE}
    for room in ROOMS:
        folder = import_module(f"{room}.migrations_before").__path__
        found |= {(room, one.name) for one in pkgutil.iter_modules(folder) if not one.name.startswith("_")}
    return found


def is_of_before() -> bool:
    """Did this database begin with the single steps, and is it not whole yet?"""
    applied = MigrationRecorder(connection).applied_migrations()
    return any((room, "0001_initial") in applied and (room, WHOLE) not in applied for room in ROOMS)


def climb() -> None:
    """Take the steps that are still to be taken; afterwards every room is whole."""
    with single_steps():
        executor = MigrationExecutor(connection)
        executor.migrate([leaf for leaf in executor.loader.graph.leaf_nodes() if leaf[0] in ROOMS])
    recorder = MigrationRecorder(connection)
    for room in ROOMS:
        recorder.record_applied(room, WHOLE)
