"""Backup and restore: one archive with the database and the uploads."""

from __future__ import annotations

import json
import shutil
import sqlite3
import tarfile
import tempfile
from contextlib import closing
from datetime import UTC, datetime
from pathlib import Path

FORMAT = "rim-tally-backup-1"
DATABASE, UPLOADS, LABEL = "database.sqlite3", "uploads", "rim-tally.json"


class NotABackup(Exception):
    """The file is no backup of Rim Tally; says why."""


def back_up(database: Path, uploads: Path, target: Path) -> None:
    """Write a backup with SQLite's online backup, so that a running server goes on.

    The archive is written beside the target and moved into place when it is whole.
    """
    target.parent.mkdir(parents=True, exist_ok=True)
    with tempfile.TemporaryDirectory(dir=target.parent) as work:
        copy = Path(work, DATABASE)
        with closing(sqlite3.connect(f"file:{database}?mode=ro", uri=True)) as source, closing(sqlite3.connect(copy)) as goal:
            source.backup(goal)
        label = Path(work, LABEL)
        label.write_text(json.dumps({"format": FORMAT, "made": datetime.now(UTC).isoformat()}))
        archive = Path(work, "archive")
        with tarfile.open(archive, "w:gz") as tar:
            tar.add(label, LABEL)
            tar.add(copy, DATABASE)
            if uploads.exists():
                tar.add(uploads, UPLOADS)
        archive.replace(target)


def restore(source: Path, database: Path, uploads: Path) -> Path | None:
    """Put a backup in place; returns where the data before it were kept.

    Raises
    ------
    NotABackup : not an archive of ours, or its database is broken
    """
    database.parent.mkdir(parents=True, exist_ok=True)
    with tempfile.TemporaryDirectory(dir=database.parent) as work:
        _unpack(source, Path(work))
        _check(Path(work))
        kept = _keep(database, uploads)
        for suffix in ("", "-wal", "-shm"):
            Path(f"{database}{suffix}").unlink(missing_ok=True)
        shutil.move(Path(work, DATABASE), database)
        if uploads.exists():
            shutil.rmtree(uploads)
        if Path(work, UPLOADS).exists():
            shutil.move(Path(work, UPLOADS), uploads)
    return kept


def _unpack(source: Path, work: Path) -> None:
    try:
        with tarfile.open(source, "r:gz") as tar:
            names = {name.split("/")[0] for name in tar.getnames()}
            if LABEL not in names or DATABASE not in names or names - {LABEL, DATABASE, UPLOADS}:
                raise NotABackup("the archive is not one of Rim Tally's")
            tar.extractall(work, filter="data")
    except (tarfile.TarError, EOFError, OSError) as error:
        raise NotABackup(f"it can't be read as an archive ({error})") from error


def _check(work: Path) -> None:
    try:
        label = json.loads(Path(work, LABEL).read_text())
    except ValueError as error:
        raise NotABackup("its label can't be read") from error
    if not isinstance(label, dict) or label.get("format") != FORMAT:
        raise NotABackup("it is of another format")
    try:
        with closing(sqlite3.connect(Path(work, DATABASE))) as connection:
            sound = connection.execute("PRAGMA integrity_check").fetchone()[0] == "ok"
            known = (
                connection.execute("SELECT count(*) FROM sqlite_master WHERE name IN ('garage_car', 'django_migrations')").fetchone()[0]
                == 2
            )
    except sqlite3.DatabaseError as error:
        raise NotABackup("its database is broken") from error
    if not (sound and known):
        raise NotABackup("its database is broken or not one of Rim Tally's")


def _keep(database: Path, uploads: Path) -> Path | None:
    """A copy of the present data, never destroyed by a restore."""
    if not database.exists():
        return None
    kept = database.parent / f"before-restore-{datetime.now(UTC):%Y%m%d-%H%M%S-%f}.tar.gz"
    back_up(database, uploads, kept)
    return kept
