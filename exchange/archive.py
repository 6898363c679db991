"""Backup and restore: one archive with the database and the uploads."""

from __future__ import annotations

import errno
import json
import os
import shutil
import sqlite3
import tarfile
import tempfile
from collections.abc import Callable, Iterable
from contextlib import closing, suppress
from datetime import UTC, datetime
from pathlib import Path, PurePosixPath

FORMAT = "rim-tally-backup-1"
DATABASE, UPLOADS, LABEL = "database.sqlite3", "uploads", "rim-tally.json"
#: names the staged data of a restore that has been decided
PENDING = "restore-pending.json"
#: room that a restore leaves on the disk beyond what it unpacks, and the most it unpacks [bytes]
SPARE_BYTES, MOST_BYTES = 64 * 1024 * 1024, 64 * 1024**3
#: no garage is squeezed to less than one part in so many
SQUEEZED = 100

#: a migration's app and name
Migration = tuple[str, str]


class NotABackup(Exception):
    """The file is no backup that this version can put in place; says why."""


class DiskFull(Exception):
    """A disk has no room left; says which."""


def _silent(_: str) -> None:
    """Nobody is told how far it is."""


def back_up(
    database: Path,
    uploads: Path,
    target: Path,
    named: Callable[[sqlite3.Connection], Iterable[str]] | None = None,
    *,
    say: Callable[[str], None] = _silent,
) -> list[str]:
    """Write a backup with SQLite's online backup, so that a running server goes on.

    The archive is written beside the target and moved into place when it is whole. Files that went away
    while they were copied are left out.

    Parameters
    ----------
    named : the uploads that a database speaks of; those that can't be had are told
    say : told how far it is, a line at a time

    Returns
    -------
    uploads the database speaks of that are not in the archive

    Raises
    ------
    DiskFull : the disk of the target has no room
    """
    try:
        target.parent.mkdir(parents=True, exist_ok=True)
        with tempfile.TemporaryDirectory(dir=target.parent, prefix=".rim-tally-") as work:
            copy = Path(work, DATABASE)
            say(f"Copying the database, {database.stat().st_size / 1e6:.1f} MB …")
            with (
                closing(sqlite3.connect(f"file:{database}?mode=ro", uri=True)) as source,
                closing(sqlite3.connect(copy)) as goal,
            ):
                source.backup(goal)
                _without_triggers(goal)
                wanted = set(named(goal)) if named else set()
            label = Path(work, LABEL)
            label.write_text(json.dumps({"format": FORMAT, "made": datetime.now(UTC).isoformat()}))
            archive = Path(work, "archive")
            with tarfile.open(archive, "w:gz", compresslevel=6) as tar:
                say("Packing the database …")
                tar.add(label, LABEL)
                tar.add(copy, DATABASE)
                kept = _add_uploads(tar, uploads, wanted, say)
            archive.chmod(0o600)
            archive.replace(target)
    except (OSError, sqlite3.OperationalError) as error:
        if is_full(error):
            raise DiskFull(f"the disk of {target.parent} is full") from error
        raise
    return sorted(wanted - kept)


#: how the triggers of a garage's own database are called (``shell.revision``)
OURS = "revision_"


def _without_triggers(copy: sqlite3.Connection) -> None:
    """A backup holds rows alone: none is taken in with machinery of anybody's, and every start lays our own anew."""
    named = "SELECT name FROM sqlite_master WHERE type = 'trigger' AND substr(name, 1, ?) = ?"
    for (name,) in copy.execute(named, (len(OURS), OURS)).fetchall():
        copy.execute(f'DROP TRIGGER "{name}"')
    copy.commit()


def is_full(error: BaseException) -> bool:
    """Does an error say that a disk is full?"""
    if isinstance(error, OSError):
        return error.errno in (errno.ENOSPC, errno.EDQUOT)
    return "disk is full" in str(error)


#: after so many files it is said how far it is
TOLD_EVERY = 200


def _add_uploads(tar: tarfile.TarFile, uploads: Path, wanted: set[str], say: Callable[[str], None]) -> set[str]:
    """Add what is there, and what the database speaks of a second time where it was missed; the names that are in."""
    kept: set[str] = set()
    listed = (
        sorted(path.relative_to(uploads).as_posix() for path in uploads.rglob("*") if path.is_file())
        if uploads.exists()
        else []
    )
    names = [*listed, *sorted(wanted - set(listed))]
    for count, name in enumerate(names, start=1):
        if count % TOLD_EVERY == 0 or count == len(names):
            say(f"Packing pictures and logs, {count} of {len(names)} …")
        with suppress(FileNotFoundError):
            tar.add(uploads / name, f"{UPLOADS}/{name}", recursive=False)
            kept.add(name)
    return kept


def restore(
    source: Path,
    database: Path,
    uploads: Path,
    known: Iterable[Migration] | None = None,
    tables: Iterable[str] = (),
    *,
    say: Callable[[str], None] = _silent,
) -> Path | None:
    """Put a backup in place; returns where the data before it were kept.

    Everything is unpacked and checked first. Then the change is decided by one renamed file; ended half way,
    it is completed by ``finish`` at the next start, so that there is always the old garage or the new one.

    Parameters
    ----------
    known : migrations of this version; an archive with others is from a newer one
    tables : tables that a database with all of these migrations has
    say : told how far it is, a line at a time

    Raises
    ------
    NotABackup : not an archive of ours, broken, or from a newer version
    DiskFull : no room to unpack it
    """
    folder = database.parent
    folder.mkdir(parents=True, exist_ok=True)
    finish(database, uploads)
    stage = Path(tempfile.mkdtemp(dir=folder, prefix="restoring-"))
    try:
        say(f"Unpacking {source.stat().st_size / 1e6:.1f} MB …")
        _unpack(source, stage, say)
        say("Checking what was unpacked …")
        _check(stage, known, tables)
        say("Keeping the data before it …")
        kept = _keep(database, uploads)
        _settle(stage)
        _decide(folder, stage)
    except BaseException as error:
        if not (folder / PENDING).exists():
            shutil.rmtree(stage, ignore_errors=True)
        if isinstance(error, (OSError, sqlite3.OperationalError)) and is_full(error):
            raise DiskFull(f"the disk of {folder} is full") from error
        raise
    finish(database, uploads)
    return kept


def _settle(stage: Path) -> None:
    """One file for the database, nothing left in a log beside it; on the disk for certain."""
    with closing(sqlite3.connect(stage / DATABASE)) as connection:
        connection.execute("PRAGMA wal_checkpoint(TRUNCATE)")
    (stage / DATABASE).chmod(0o600)
    (stage / UPLOADS).mkdir(exist_ok=True)
    for path in [*stage.rglob("*"), stage]:
        _sync(path)


def _sync(path: Path) -> None:
    descriptor = os.open(path, os.O_RDONLY)
    try:
        os.fsync(descriptor)
    finally:
        os.close(descriptor)


def _decide(folder: Path, stage: Path) -> None:
    """From here on the new data stand."""
    draft = stage.parent / f"{PENDING}.draft"
    draft.write_text(json.dumps({"stage": stage.name}))
    _sync(draft)
    draft.replace(folder / PENDING)
    _sync(folder)


def finish(database: Path, uploads: Path) -> bool:
    """Complete a restore that was decided and ended half way, and clear what an undecided one left.

    Each step may be repeated.

    Only for who holds the folder's lock alone: another's stage would be taken for one that was left.

    Raises
    ------
    NotABackup : the stage of a restore that was decided is gone
    """
    folder, pending = database.parent, database.parent / PENDING
    if not pending.exists():
        for left in folder.glob("restoring-*"):
            shutil.rmtree(left, ignore_errors=True)
        return False
    stage = folder / Path(json.loads(pending.read_text())["stage"]).name
    if not stage.exists():
        pending.unlink(missing_ok=True)
        raise NotABackup(f"what it was unpacked to, {stage.name}, is gone; the garage is as it was, restore again")
    if (stage / UPLOADS).exists():
        if uploads.exists():
            shutil.rmtree(uploads)
        (stage / UPLOADS).replace(uploads)
    if (stage / DATABASE).exists():
        # A log of the old database must not be read into the new one.
        for suffix in ("-wal", "-shm", "-journal"):
            Path(f"{database}{suffix}").unlink(missing_ok=True)
        (stage / DATABASE).replace(database)
    _sync(folder)
    pending.unlink(missing_ok=True)
    shutil.rmtree(stage, ignore_errors=True)
    return True


def _take(tar: tarfile.TarFile, member: tarfile.TarInfo, work: Path) -> None:
    """A file or a folder of an archive, and nothing else: no link, no device, no place outside.

    ``tarfile``'s own filter would do it, but Python 3.11.2, which is Debian's, does not have it.
    """
    path = PurePosixPath(member.name)
    if path.is_absolute() or ".." in path.parts or not (member.isdir() or member.isreg()):
        raise NotABackup("the archive is not one of Rim Tally's")
    target = work / path
    if member.isdir():
        target.mkdir(parents=True, exist_ok=True)
        return
    target.parent.mkdir(parents=True, exist_ok=True)
    content = tar.extractfile(member)
    assert content is not None
    with content, target.open("wb") as written:
        shutil.copyfileobj(content, written)
    os.utime(target, (member.mtime, member.mtime))


def _unpack(source: Path, work: Path, say: Callable[[str], None]) -> None:
    try:
        with tarfile.open(source, "r:gz") as tar:
            room = shutil.disk_usage(work).free - SPARE_BYTES
            names, size = set(), 0
            for count, member in enumerate(tar, start=1):
                if count % TOLD_EVERY == 0:
                    say(f"Unpacking, {count} files, {size / 1e6:.1f} MB …")
                names.add(member.name.split("/")[0])
                size += member.size
                if names - {LABEL, DATABASE, UPLOADS}:
                    raise NotABackup("the archive is not one of Rim Tally's")
                if size > MOST_BYTES or size > SQUEEZED * source.stat().st_size + SPARE_BYTES:
                    raise NotABackup("it unpacks to far more than a garage holds")
                if size > room:
                    raise DiskFull(
                        f"the disk of {work.parent} has no room for what it unpacks to, {size / 1e6:.0f} MB and more"
                    )
                _take(tar, member, work)
            if not {LABEL, DATABASE} <= names:
                raise NotABackup("the archive is not one of Rim Tally's")
    except (tarfile.TarError, EOFError, OSError) as error:
        if is_full(error):
            raise
        raise NotABackup(f"it can't be read as an archive ({error})") from error


def _check(work: Path, known: Iterable[Migration] | None, tables: Iterable[str]) -> None:
    try:
        label = json.loads(Path(work, LABEL).read_text())
    except ValueError as error:
        raise NotABackup("its label can't be read") from error
    if not isinstance(label, dict) or label.get("format") != FORMAT:
        raise NotABackup("it is of another format")
    try:
        with closing(sqlite3.connect(Path(work, DATABASE))) as connection:
            _check_database(connection, known, set(tables))
    except sqlite3.DatabaseError as error:
        raise NotABackup("its database is broken") from error


def _check_database(connection: sqlite3.Connection, known: Iterable[Migration] | None, tables: set[str]) -> None:
    """Sound, ours, with all its tables and none of somebody else's machinery."""
    if connection.execute("PRAGMA integrity_check").fetchone()[0] != "ok":
        raise NotABackup("its database is broken")
    kinds: dict[str, set[str]] = {}
    for kind, name in connection.execute("SELECT type, name FROM sqlite_master"):
        kinds.setdefault(kind, set()).add(name)
    if not {"garage_car", "django_migrations"} <= kinds.get("table", set()):
        raise NotABackup("its database is not one of Rim Tally's")
    if kinds.get("trigger") or kinds.get("view"):
        raise NotABackup("its database holds triggers or views, which no garage has")
    if connection.execute("PRAGMA foreign_key_check").fetchone() is not None:
        raise NotABackup("rows of its database speak of others that are not there")
    if known is None:
        return
    applied = {(app, name) for app, name in connection.execute("SELECT app, name FROM django_migrations")}
    newer = sorted(applied - set(known))
    if newer:
        raise NotABackup(f"it was made by a newer version of Rim Tally ({newer[0][0]} {newer[0][1]})")
    missing = sorted(tables - kinds["table"]) if applied == set(known) else []
    if missing:
        raise NotABackup(f"its database lacks the table {missing[0]}")


def _keep(database: Path, uploads: Path) -> Path | None:
    """A copy of the present data, never destroyed by a restore."""
    if not database.exists():
        return None
    kept = database.parent / f"before-restore-{datetime.now(UTC):%Y%m%d-%H%M%S-%f}.tar.gz"
    back_up(database, uploads, kept)
    return kept
