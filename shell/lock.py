"""One lock on the data: servers share it, a restore wants it alone. In the data folder; in PostgreSQL where they stand there."""

from __future__ import annotations

from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path

from django.conf import settings
from django.db import connection

try:
    import fcntl
except ImportError:  # no such locks on this system
    fcntl = None  # type: ignore[assignment]

NAME = "in-use.lock"
#: the lock of the data among all advisory locks of a database
DATA = 0x7A11DA7A


class InUse(Exception):
    """Somebody else holds the lock."""


def data_folder() -> Path:
    """Where the database file stands, and what is kept beside it; the data folder where the database is elsewhere."""
    if connection.vendor == "sqlite":
        return Path(connection.settings_dict["NAME"]).parent
    return Path(settings.DATA_DIR)


@contextmanager
def hold_data(alone: bool = False) -> Iterator[None]:
    """Hold the data of this instance, shared or alone, among all machines that use them.

    Raises
    ------
    InUse : they are held in a way that does not go with this one
    """
    if connection.vendor == "sqlite":
        with hold(data_folder(), alone):
            yield
        return
    # A connection of its own: the lock lasts as long as it does, and no longer, however the process ends.
    holder = connection.copy()
    kind = "pg_try_advisory_lock" if alone else "pg_try_advisory_lock_shared"
    try:
        with holder.cursor() as cursor:
            cursor.execute(f"SELECT {kind}(%s)", [DATA])
            if not cursor.fetchone()[0]:
                raise InUse
        yield
    finally:
        holder.close()


@contextmanager
def hold(folder: Path, alone: bool = False) -> Iterator[None]:
    """Hold the folder's lock, shared or alone; the system gives it back when the process ends, however it ends.

    Raises
    ------
    InUse : it is held in a way that does not go with this one
    """
    folder.mkdir(parents=True, exist_ok=True)
    with (folder / NAME).open("a") as file:
        if fcntl is not None:
            try:
                fcntl.flock(file, (fcntl.LOCK_EX if alone else fcntl.LOCK_SH) | fcntl.LOCK_NB)
            except OSError as error:
                raise InUse from error
        yield


@contextmanager
def one_at_a_time(folder: Path, name: str) -> Iterator[None]:
    """Wait for one's turn among all processes of this instance."""
    folder.mkdir(parents=True, exist_ok=True)
    with (folder / name).open("a") as file:
        if fcntl is not None:
            fcntl.flock(file, fcntl.LOCK_EX)
        yield
