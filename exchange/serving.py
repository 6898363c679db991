"""Starting the server: database version, free port, words for what can go wrong."""

from __future__ import annotations

import os
import signal
import socket
import sys
import threading
import time
from collections.abc import Callable
from contextlib import suppress
from datetime import UTC, datetime
from pathlib import Path
from typing import Any

from django.conf import settings
from django.core.management import CommandError, call_command
from django.db import DatabaseError, connection, connections
from django.db.migrations.executor import MigrationExecutor

from exchange.archive import DiskFull, NotABackup, back_up, finish
from exchange.moving import unknown_steps
from exchange.worker import Worker, most_mb
from shell import revision
from shell.lock import InUse, data_folder, hold, hold_data
from shell.warm import warm

FIRST_PORT, PORTS_TRIED = 8000, 50


def ready_database() -> None:
    """Make or bring up to date the database, and the data folder.

    Raises
    ------
    CommandError : the folder can't be written, the database does not answer, or it is from a newer version
    """
    folder = data_folder()
    _ready_folder(folder)
    if connection.vendor == "sqlite":
        path = Path(connection.settings_dict["NAME"])
        if path.exists() and not os.access(path, os.W_OK):
            raise CommandError(f"The data folder {folder} can't be written. Set TALLY_DATA to a folder that can.")
        if finish_if_alone(path):
            sys.stderr.write("A restore that was interrupted has been completed.\n")
        _refuse_a_husk(path)
        _bring_up_to_date(str(path))
        for kept in (path, *folder.glob("before-restore-*.tar.gz")):
            with suppress(OSError):
                kept.chmod(0o600)
        _mark_of(path).touch(mode=0o600)
        return
    answers()
    _bring_up_to_date("that TALLY_DATABASE names")


def answers() -> None:
    """Does the database answer; a file always does.

    Raises
    ------
    CommandError : it does not
    """
    if connection.vendor == "sqlite":
        return
    try:
        connection.ensure_connection()
    except DatabaseError as error:
        raise CommandError(
            "The database that TALLY_DATABASE names does not answer. Is it running, and are name, password and host right?"
        ) from error


def _ready_folder(folder: Path) -> None:
    try:
        folder.mkdir(parents=True, exist_ok=True)
    except OSError as error:
        raise CommandError(
            f"The data folder {folder} can't be written: {error.strerror}. Set TALLY_DATA to a folder that can."
        ) from error
    if not os.access(folder, os.W_OK):
        raise CommandError(f"The data folder {folder} can't be written. Set TALLY_DATA to a folder that can.")
    os.umask(0o077)
    with suppress(OSError):
        folder.chmod(0o700)


def _bring_up_to_date(name: str) -> None:
    executor = MigrationExecutor(connection)
    unknown = sorted(unknown_steps(executor.loader.applied_migrations))
    if unknown:
        raise CommandError(
            f"The database {name} was made by a newer version of Rim Tally ({unknown[0][0]} {unknown[0][1]}). Use that version, or restore an older backup."
        )
    if executor.migration_plan(executor.loader.graph.leaf_nodes()):
        _upgrade(fresh=not executor.loader.applied_migrations)
    revision.install()


def finish_if_alone(database: Path) -> bool:
    """Complete an interrupted restore where nobody else is at these data; was there one?

    Raises
    ------
    CommandError : what was to be restored is gone
    """
    try:
        with hold(database.parent, alone=True):
            return finish(database, Path(settings.MEDIA_ROOT))
    except InUse:
        return False
    except NotABackup as error:
        raise CommandError(f"A restore that was interrupted can't be completed: {error}.") from error


def _upgrade(fresh: bool) -> None:
    """Bring the database to this version: alone with it, and with a backup of what was there.

    Raises
    ------
    CommandError : a server is running on these data
    """
    connection.close()
    try:
        with hold_data(alone=True):
            if not fresh and connection.vendor == "sqlite":
                kept = data_folder() / f"before-upgrade-{datetime.now(UTC):%Y%m%d-%H%M%S}.tar.gz"
                back_up(Path(connection.settings_dict["NAME"]), Path(settings.MEDIA_ROOT), kept)
                kept.chmod(0o600)
                sys.stderr.write(f"Bringing the data to this version; as they were they are kept in {kept}.\n")
            elif not fresh:
                # The older version alone can write its tables into a file.
                sys.stderr.write("Bringing the data to this version.\n")
            call_command("migrate", verbosity=0, interactive=False)
    except InUse as error:
        raise CommandError(
            "A server of an older version is running on these data. Stop it, then start this one. Nothing was changed."
        ) from error
    except (DiskFull, OSError) as error:
        raise CommandError(f"The data were not brought to this version: {error}. Nothing was changed.") from error


def _mark_of(database: Path) -> Path:
    """Stands beside a database once there is one."""
    return database.with_suffix(".kept")


def _refuse_a_husk(database: Path) -> None:
    """Where a database was and is no more, an empty one would hide that.

    Raises
    ------
    CommandError : it is gone, or holds nothing
    """
    mark = _mark_of(database)
    if not mark.exists() or (database.exists() and database.stat().st_size > 0):
        return
    kept = sorted(database.parent.glob("before-restore-*.tar.gz"))
    found = f" The data before the last restore are in {kept[-1]}." if kept else ""
    raise CommandError(
        f"There was a database at {database}, and now there is none. Put it back, or restore a backup.{found} To begin anew, remove {mark}."
    )


def find_port(wanted: int | None, host: str) -> int:
    """The wanted port, or the first free one from 8000 on.

    Raises
    ------
    CommandError : the wanted port is taken
    """
    if wanted is not None:
        if not 1 <= wanted <= 65535:
            raise CommandError(f"{wanted} is no port; accepted: 1 to 65535.")
        if not _free(host, wanted):
            raise CommandError(
                f"Port {wanted} is taken by another program. Choose another with --port, or leave it out."
            )
        return wanted
    for port in range(FIRST_PORT, FIRST_PORT + PORTS_TRIED):
        if _free(host, port):
            return port
    raise CommandError(f"No free port from {FIRST_PORT} to {FIRST_PORT + PORTS_TRIED - 1}.")


def _free(host: str, port: int) -> bool:
    with socket.socket(socket.AF_INET, socket.SOCK_STREAM) as probe:
        probe.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
        try:
            probe.bind((host, port))
        except OSError:
            return False
    return True


#: how often the house is tidied [s]
TIDY_EVERY_S = 3600.0
#: a child that ends sooner than this is not started again at once [s]
TOO_SOON_S = 1.0


def processes() -> int:
    """How many processes serve: ``TALLY_PROCESSES``, else one a core, eight at most."""
    given = os.environ.get("TALLY_PROCESSES", "")
    if given:
        if not given.isdecimal() or not 1 <= int(given) <= 64:
            raise CommandError(f"TALLY_PROCESSES is {given!r}; accepted: 1 to 64.")
        return int(given)
    return min(8, os.cpu_count() or 1)


def serve(host: str, port: int) -> None:
    """Serve until stopped: several processes on one socket, each with its own threads.

    Each process reads requests whole before a thread is given to them, so that a slow sender holds a
    connection and nothing else. Of proxies only the one named is believed.
    """
    try:
        with hold_data():
            _serve_until_stopped(host, port)
    except InUse as error:
        raise CommandError("A restore is under way on these data. Wait until it is done.") from error


def _serve_until_stopped(host: str, port: int) -> None:
    listener = socket.create_server(
        (host, port), family=socket.AF_INET6 if ":" in host else socket.AF_INET, backlog=1024
    )
    # Loaded once, before the processes part.
    from rimtally import wsgi  # noqa: F401

    warm()
    connections.close_all()
    count = processes()
    if not hasattr(os, "fork"):
        Worker(listener, sys.maxsize, lambda: None).serve()
        return
    _Family(listener, count).watch()


class _Family:
    """Serving processes and the one that watches over them."""

    def __init__(self, listener: socket.socket, count: int) -> None:
        self.listener, self.count, self.most_mb = listener, count, most_mb()
        self.children: dict[int, float] = {}
        self.stopping = False
        #: processes that finish what they have under way and end by themselves
        self.giving_way = 0

    def watch(self) -> None:
        """Keep the wanted number of processes alive, and tidy now and then, until told to stop."""
        for name in (signal.SIGTERM, signal.SIGINT):
            signal.signal(name, self._stop)
        signal.signal(signal.SIGUSR1, self._one_gives_way)
        tidied = 0.0
        while not self.stopping:
            while len(self.children) < self.count + self.giving_way:
                self._start(self._serve, self.children)
            if time.monotonic() - tidied > TIDY_EVERY_S or not tidied:
                tidied = time.monotonic()
                self._start(lambda: call_command("tidy", verbosity=0), {})
            time.sleep(0.2)
            self._reap()
        for child in self.children:
            os.kill(child, signal.SIGTERM)
        for child in self.children:
            with suppress(ChildProcessError):
                os.waitpid(child, 0)

    def _stop(self, *_: Any) -> None:
        self.stopping = True

    def _one_gives_way(self, *_: Any) -> None:
        self.giving_way += 1

    def _serve(self) -> None:
        parent = os.getppid()
        Worker(self.listener, self.most_mb, lambda: os.kill(parent, signal.SIGUSR1)).serve()

    def _start(self, work: Callable[[], Any], kept: dict[int, float]) -> None:
        child = os.fork()
        if child:
            kept[child] = time.monotonic()
            return
        for name in (signal.SIGTERM, signal.SIGINT, signal.SIGUSR1):
            signal.signal(name, signal.SIG_DFL)
        _end_with_parent()
        code = 1
        try:
            work()
            code = 0
        except KeyboardInterrupt:
            code = 0
        finally:
            os._exit(code)

    def _reap(self) -> None:
        with suppress(ChildProcessError):
            while True:
                ended, _ = os.waitpid(-1, os.WNOHANG)
                if not ended:
                    return
                began = self.children.pop(ended, None)
                if began is not None:
                    self.giving_way = max(0, self.giving_way - 1)
                if began is not None and time.monotonic() - began < TOO_SOON_S and not self.stopping:
                    time.sleep(TOO_SOON_S)


def _end_with_parent() -> None:
    """A serving process ends when the one that watches over it was killed."""
    parent = os.getppid()

    def look() -> None:
        while os.getppid() == parent:
            time.sleep(1.0)
        os._exit(0)

    threading.Thread(target=look, daemon=True).start()


def collect_static() -> None:
    """Hashed and compressed static files, made anew when a source is newer."""
    root = Path(settings.STATIC_ROOT)
    manifest = root / "staticfiles.json"
    sources = Path(settings.BASE_DIR, "shell", "static")
    newest = max(path.stat().st_mtime for path in sources.rglob("*"))
    if not manifest.exists() or manifest.stat().st_mtime < newest:
        call_command("collectstatic", verbosity=0, interactive=False, clear=root.exists())
