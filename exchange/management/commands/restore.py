"""Restore the instance's data from a backup."""

from pathlib import Path
from typing import Any

from django.conf import settings
from django.core.management.base import BaseCommand, CommandError, CommandParser
from django.db import connection

from exchange.archive import NotABackup, restore


class Command(BaseCommand):
    help = "Put a backup in place; the present data are kept beside it. Stop the server first."
    requires_system_checks = ()

    def add_arguments(self, parser: CommandParser) -> None:
        parser.add_argument("file", type=Path)

    def handle(self, *args: Any, **options: Any) -> None:
        if not options["file"].is_file():
            raise CommandError(f"There is no file {options['file']}.")
        connection.close()
        try:
            kept = restore(options["file"], Path(connection.settings_dict["NAME"]), Path(settings.MEDIA_ROOT))
        except NotABackup as error:
            raise CommandError(f"{options['file']} is not a backup: {error}. Nothing was changed.") from error
        self.stdout.write("Restored." + (f" The data before it are kept in {kept}." if kept else ""))
