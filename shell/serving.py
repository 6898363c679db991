"""Starting the server: database version, free port, words for what can go wrong."""

from __future__ import annotations

import os
import socket
from pathlib import Path

from django.conf import settings
from django.core.management import CommandError, call_command
from django.db import connection
from django.db.migrations.executor import MigrationExecutor

FIRST_PORT, PORTS_TRIED = 8000, 50


def ready_database() -> None:
    """Make or bring up to date the database file.

    Raises
    ------
    CommandError : the folder can't be written, or the file is from a newer version
    """
    path = Path(connection.settings_dict["NAME"])
    try:
        path.parent.mkdir(parents=True, exist_ok=True)
    except OSError as error:
        raise CommandError(
            f"The data folder {path.parent} can't be written: {error.strerror}. Set TALLY_DATA to a folder that can."
        ) from error
    if not os.access(path.parent, os.W_OK) or (path.exists() and not os.access(path, os.W_OK)):
        raise CommandError(f"The data folder {path.parent} can't be written. Set TALLY_DATA to a folder that can.")
    executor = MigrationExecutor(connection)
    unknown = [
        name
        for name in executor.loader.applied_migrations
        if name not in executor.loader.graph.nodes and name[0] in executor.loader.migrated_apps
    ]
    if unknown:
        raise CommandError(
            f"The database {path} was made by a newer version of Rim Tally ({unknown[0][0]} {unknown[0][1]}). Use that version, or restore an older backup."
        )
    if executor.migration_plan(executor.loader.graph.leaf_nodes()):
        call_command("migrate", verbosity=0, interactive=False)


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
            raise CommandError(f"Port {wanted} is taken by another program. Choose another with --port, or leave it out.")
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


def serve(host: str, port: int) -> None:
    """Serve until stopped."""
    from waitress import serve as run

    from rimtally.wsgi import application

    run(application, host=host, port=port, threads=8, ident=None, max_request_body_size=16 * 1024 * 1024)


def collect_static() -> None:
    """Hashed and compressed static files, made anew when a source is newer."""
    root = Path(settings.STATIC_ROOT)
    manifest = root / "staticfiles.json"
    sources = Path(settings.BASE_DIR, "shell", "static")
    newest = max(path.stat().st_mtime for path in sources.rglob("*"))
    if not manifest.exists() or manifest.stat().st_mtime < newest:
        call_command("collectstatic", verbosity=0, interactive=False, clear=root.exists())
