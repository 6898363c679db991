"""All rows from one database into another: a SQLite file into PostgreSQL, and back into a file.

Every column goes through Django's field, so that each database gets its own kind of value; numbers of rows stay, so
that addresses, links and backups still fit.
"""

from __future__ import annotations

import os
import shutil
import sqlite3
import subprocess
import sys
import tempfile
from collections.abc import Callable, Iterable, Iterator
from contextlib import closing, contextmanager
from datetime import UTC, datetime
from pathlib import Path
from typing import Any

from django.apps import apps
from django.conf import settings
from django.core.management.color import no_style
from django.db import DEFAULT_DB_ALIAS, connection, connections, models, transaction
from django.db.migrations.loader import MigrationLoader
from django.db.migrations.recorder import MigrationRecorder

from exchange import before
from exchange.archive import DiskFull, Migration, back_up, is_full, restore
from exchange.fresh import lay_into
from exchange.health import wanted
from rimtally.settings.database import sqlite
from shell import revision
from shell.lock import data_folder

#: the name that a file has here while rows go to it or come from it
FILE = "file"
#: rows that are taken along at once
AT_ONCE = 500


class CannotMove(Exception):
    """It can't be moved; says why. Nothing is written then."""


@contextmanager
def file_at(path: Path) -> Iterator[str]:
    """A SQLite file as a second database; gives the name to ask for it by."""
    connections.databases[FILE] = connections.configure_settings({DEFAULT_DB_ALIAS: {}, FILE: sqlite(path)})[FILE]
    try:
        yield FILE
    finally:
        connections[FILE].close()
        del connections[FILE]
        del connections.databases[FILE]


def new_file(path: Path) -> None:
    """An empty SQLite database of this version.

    Raises
    ------
    CannotMove : there is a file already
    """
    if path.exists():
        raise CannotMove(f"there is a file {path} already")
    path.parent.mkdir(parents=True, exist_ok=True)
    with closing(sqlite3.connect(path)) as made:
        lay_into(made)
    path.chmod(0o600)


def to_this_version(path: Path) -> None:
    """Bring a SQLite file to this version, in a process that knows no other database.

    Raises
    ------
    CannotMove : a step could not be taken
    """
    told = {**os.environ, "TALLY_DATA": str(path.parent), "DJANGO_SETTINGS_MODULE": "rimtally.settings.production"}
    told.pop("TALLY_DATABASE", None)
    done = subprocess.run(  # noqa: S603  our own command
        [sys.executable, str(settings.BASE_DIR / "manage.py"), "migrate", "--verbosity", "0", "--no-input"],
        env=told,
        check=False,
        capture_output=True,
        text=True,
    )
    if done.returncode:
        said = done.stderr.strip().splitlines() or ["nothing was said"]
        raise CannotMove(f"it could not be brought to this version ({said[-1]})")


def same_version(alias: str) -> None:
    """Has a database all steps of this version, and no other?

    Raises
    ------
    CannotMove : it lacks some, or has taken some of a newer version
    """
    taken = MigrationRecorder(connections[alias])
    applied = set(taken.applied_migrations()) if taken.has_table() else set()
    if wanted() - applied:
        raise CannotMove("it lacks steps of this version; start the server once, or use the version that made it")
    if newer := sorted(unknown_steps(applied)):
        raise CannotMove(f"it was made by a newer version of Rim Tally ({newer[0][0]} {newer[0][1]})")


def unknown_steps(applied: Iterable[Migration]) -> set[Migration]:
    """Steps that a database has taken and this version does not know."""
    loader = MigrationLoader(None)
    known = {*loader.disk_migrations, *before.names()}
    return {step for step in applied if step not in known and step[0] in loader.migrated_apps}


def _silent(_: str) -> None:
    """Nobody is told how far it is."""


def copy(source: str, target: str, *, say: Callable[[str], None] = _silent) -> dict[str, int]:
    """Every row of ``source`` in place of every row of ``target``, in one transaction each: all or nothing.

    ``source`` is read as it stands at one moment, whoever writes meanwhile. Both are of this version.

    Parameters
    ----------
    source, target : names of databases; the target's triggers are laid anew where it is the default one
    say : told how far it is, a line at a time

    Returns
    -------
    rows by table

    Raises
    ------
    CannotMove : one of them is of another version, or not as many rows came as there are
    """
    same_version(source)
    same_version(target)
    every = _tables()
    with _at_one_moment(source), transaction.atomic(using=target):
        if target == DEFAULT_DB_ALIAS:
            revision.drop()
        _empty(every, target)
        counts = {}
        for model in every:
            counts[model._meta.db_table] = count = _carry(model, source, target)
            if count:
                say(f"{model._meta.db_table}: {count} rows")
        numbers_follow(every, target)
        for model in every:
            came, table = model._base_manager.using(target).count(), model._meta.db_table
            if came != counts[table]:
                raise CannotMove(f"of the {counts[table]} rows of {table} {came} came")
        if target == DEFAULT_DB_ALIAS:
            revision.install()
    return counts


def _tables() -> list[type[models.Model]]:
    """Every table of ours and of what we use, once; steps of migrations are each database's own."""
    every = apps.get_models(include_auto_created=True)
    return [one for one in every if one._meta.managed and not one._meta.proxy]


@contextmanager
def _at_one_moment(alias: str) -> Iterator[None]:
    with transaction.atomic(using=alias):
        if connections[alias].vendor == "postgresql" and len(connections[alias].savepoint_ids) == 0:
            with connections[alias].cursor() as cursor:
                cursor.execute("SET TRANSACTION ISOLATION LEVEL REPEATABLE READ")
        yield


def _empty(every: list[type[models.Model]], alias: str) -> None:
    """Without a row; keys are looked at when all is there."""
    with connections[alias].cursor() as cursor:
        quoted = [connections[alias].ops.quote_name(one._meta.db_table) for one in every]
        if connections[alias].vendor == "postgresql":
            cursor.execute(f"TRUNCATE {', '.join(quoted)}")
        else:
            for name in quoted:
                cursor.execute(f"DELETE FROM {name}")  # noqa: S608  names of our own tables


def _carry(model: type[models.Model], source: str, target: str) -> int:
    """The rows of one table, as they are: nothing is stamped anew and nobody is told of a save."""
    fields = model._meta.local_concrete_fields
    manager: Any = model._base_manager
    count, held = 0, []
    for row in manager.using(source).order_by("pk").iterator(chunk_size=AT_ONCE):
        held.append(row)
        if len(held) == AT_ONCE:
            count += _put(manager, fields, held, target)
            held = []
    return count + _put(manager, fields, held, target)


def _put(manager: Any, fields: Any, rows: list[Any], target: str) -> int:
    # As many rows in a statement as the database takes values in one.
    step = connections[target].ops.bulk_batch_size(list(fields), rows) if rows else 1
    for first in range(0, len(rows), step):
        manager.using(target)._insert(rows[first : first + step], fields=fields, using=target, raw=True)
    return len(rows)


def numbers_follow(every: Iterable[type[models.Model]], alias: str = DEFAULT_DB_ALIAS) -> None:
    """New rows get numbers behind those that came along."""
    with connections[alias].cursor() as cursor:
        for told in connections[alias].ops.sequence_reset_sql(no_style(), list(every)):
            cursor.execute(told)


def holds_somebody(alias: str) -> bool:
    """Has anybody an account in that database?"""
    person: Any = apps.get_model(settings.AUTH_USER_MODEL)
    return bool(person._base_manager.using(alias).exists())


@contextmanager
def database_file(say: Callable[[str], None] = _silent) -> Iterator[Path]:
    """The database as a SQLite file: itself, or all its rows of this moment in a file that goes afterwards."""
    if connection.vendor == "sqlite":
        yield Path(connection.settings_dict["NAME"])
        return
    with tempfile.TemporaryDirectory(dir=data_folder(), prefix="backing-up-") as work:
        path = Path(work, "tally.sqlite3")
        new_file(path)
        with file_at(path) as file:
            copy(DEFAULT_DB_ALIAS, file, say=say)
        yield path


def restore_rows(
    source: Path,
    uploads: Path,
    known: Iterable[Migration],
    tables: Iterable[str],
    *,
    say: Callable[[str], None] = _silent,
) -> Path:
    """Put a backup in place of every row of a database that is no file; returns where the data before it were kept.

    Pictures and logs come first, beside those that are there, then all rows in one transaction: ended before that,
    the garage is as it was, and what came for nothing is tidied away.

    Raises
    ------
    NotABackup : not an archive of ours, broken, or from a newer version
    CannotMove : it could not be brought to this version
    DiskFull : no room to keep what is there or to unpack it
    """
    try:
        return _restored(source, uploads, known, tables, say)
    except OSError as error:
        if is_full(error):
            raise DiskFull(f"the disk of {data_folder()} or of {uploads} is full") from error
        raise


def _restored(
    source: Path, uploads: Path, known: Iterable[Migration], tables: Iterable[str], say: Callable[[str], None]
) -> Path:
    kept = data_folder() / f"before-restore-{datetime.now(UTC):%Y%m%d-%H%M%S}.tar.gz"
    say("Keeping the data before it …")
    with database_file() as before:
        back_up(before, uploads, kept)
    with tempfile.TemporaryDirectory(dir=data_folder(), prefix="restoring-") as work:
        path, came = Path(work, "tally.sqlite3"), Path(work, "uploads")
        restore(source, path, came, known, tables, say=say)
        to_this_version(path)
        for file in sorted(one for one in came.rglob("*") if one.is_file()):
            place = uploads / file.relative_to(came)
            place.parent.mkdir(parents=True, exist_ok=True)
            # The folder that machines share may be another disk.
            shutil.move(file, place)
        say("Writing its rows …")
        with file_at(path) as name:
            copy(name, DEFAULT_DB_ALIAS)
    return kept
