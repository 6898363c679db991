"""Back up the instance's data."""

import sqlite3
from collections.abc import Iterator
from contextlib import suppress
from pathlib import Path
from typing import Any

from django.conf import settings
from django.core.management.base import BaseCommand, CommandError, CommandParser
from django.db import connection

from exchange.archive import DiskFull, back_up
from exchange.moving import CannotMove, database_file
from exchange.serving import answers, finish_if_alone
from shell.lock import InUse, hold_data
from shell.tidy import file_columns


def named_files(database: sqlite3.Connection) -> Iterator[str]:
    """Uploads that a database speaks of."""
    for model, column in file_columns():
        with suppress(sqlite3.OperationalError):
            for (name,) in database.execute(f'SELECT "{column}" FROM "{model._meta.db_table}"'):  # noqa: S608  names of our own models
                if name:
                    yield name


class Command(BaseCommand):
    help = "Write database and uploads into one archive."
    requires_system_checks = ()

    def add_arguments(self, parser: CommandParser) -> None:
        parser.add_argument("file", type=Path)

    def handle(self, *args: Any, **options: Any) -> None:
        answers()
        try:
            if connection.vendor == "sqlite":
                finish_if_alone(Path(connection.settings_dict["NAME"]))
            with hold_data(), database_file(self._say) as database:
                if not database.exists():
                    raise CommandError("There are no data yet.")
                left_out = back_up(database, Path(settings.MEDIA_ROOT), options["file"], named_files, say=self._say)
        except InUse as error:
            raise CommandError("A restore is under way on these data. Wait until it is done, then back up.") from error
        except CannotMove as error:
            raise CommandError(f"Not backed up: the database can't be read: {error}.") from error
        except DiskFull as error:
            raise CommandError(f"Not backed up: {error}. Make room there, or write the backup elsewhere.") from error
        except OSError as error:
            raise CommandError(f"The backup can't be written to {options['file']}: {error.strerror}.") from error
        self.stdout.write(f"Backed up to {options['file']}.")
        if left_out:
            self.stdout.write(f"Left out, because they are not there: {', '.join(left_out)}.")

    def _say(self, words: str) -> None:
        """A line at once, so that nobody waits in silence."""
        self.stdout.write(words)
        self.stdout.flush()
