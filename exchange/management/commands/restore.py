"""Restore the instance's data from a backup."""

from pathlib import Path
from typing import Any

from django.apps import apps
from django.conf import settings
from django.core.management.base import BaseCommand, CommandError, CommandParser
from django.db import connection
from django.db.migrations.loader import MigrationLoader

from exchange import before
from exchange.archive import DiskFull, NotABackup, restore
from exchange.moving import CannotMove, restore_rows
from exchange.serving import ready_database
from shell.lock import InUse, hold_data


class Command(BaseCommand):
    help = "Put a backup in place; the present data are kept beside it. Stop the server first."
    requires_system_checks = ()

    def add_arguments(self, parser: CommandParser) -> None:
        parser.add_argument("file", type=Path)

    def handle(self, *args: Any, **options: Any) -> None:
        if not options["file"].is_file():
            raise CommandError(f"There is no file {options['file']}.")
        known = set(MigrationLoader(None).disk_migrations) | before.names()
        tables = {model._meta.db_table for model in apps.get_models() if model._meta.managed}
        uploads = Path(settings.MEDIA_ROOT)
        if connection.vendor != "sqlite":
            ready_database()
        connection.close()
        try:
            with hold_data(alone=True):
                if connection.vendor == "sqlite":
                    database = Path(connection.settings_dict["NAME"])
                    kept = restore(options["file"], database, uploads, known, tables, say=self._say)
                else:
                    kept = restore_rows(options["file"], uploads, known, tables, say=self._say)
        except InUse as error:
            raise CommandError(
                "The server is running on these data. Stop it first, then restore. Nothing was changed."
            ) from error
        except DiskFull as error:
            raise CommandError(f"Not restored: {error}. Nothing was changed.") from error
        except (NotABackup, CannotMove) as error:
            raise CommandError(
                f"{options['file']} is not a backup that can be restored: {error}. Nothing was changed."
            ) from error
        self.stdout.write("Restored." + (f" The data before it are kept in {kept}." if kept else ""))

    def _say(self, words: str) -> None:
        """A line at once, so that nobody waits in silence."""
        self.stdout.write(words)
        self.stdout.flush()
