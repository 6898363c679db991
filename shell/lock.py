"""One lock on the data folder: servers share it, a restore wants it alone."""

from __future__ import annotations

from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path

try:
    import fcntl
except ImportError:  # no such locks on this system
    fcntl = None  # type: ignore[assignment]

NAME = "in-use.lock"


class InUse(Exception):
    """Somebody else holds the lock."""


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
