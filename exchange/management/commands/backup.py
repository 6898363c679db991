"""Back up the instance's data."""

from pathlib import Path
from typing import Any

from django.conf import settings
from django.core.management.base import BaseCommand, CommandError, CommandParser
from django.db import connection

from exchange.archive import back_up


class Command(BaseCommand):
    help = "Write database and uploads into one archive."
    requires_system_checks = ()

    def add_arguments(self, parser: CommandParser) -> None:
        parser.add_argument("file", type=Path)

    def handle(self, *args: Any, **options: Any) -> None:
        database = Path(connection.settings_dict["NAME"])
        if not database.exists():
            raise CommandError("There are no data yet.")
        try:
            back_up(database, Path(settings.MEDIA_ROOT), options["file"])
        except OSError as error:
            raise CommandError(f"The backup can't be written to {options['file']}: {error.strerror}.") from error
        self.stdout.write(f"Backed up to {options['file']}.")
