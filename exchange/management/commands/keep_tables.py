"""Make a database step by step, apart, and keep its tables as the script that a new one is laid down by."""

import tempfile
from pathlib import Path
from typing import Any

from django.core.management import call_command
from django.core.management.base import BaseCommand, CommandError, CommandParser
from django.db import connection

from exchange.fresh import KEPT, script, stepwise


class Command(BaseCommand):
    help = "Write the script of a new database anew after a step was added."
    requires_system_checks = ()

    def add_arguments(self, parser: CommandParser) -> None:
        parser.add_argument("--check", action="store_true", help="only say whether it is as it is kept")

    def handle(self, *args: Any, **options: Any) -> None:
        with tempfile.TemporaryDirectory() as work:
            connection.close()
            connection.settings_dict["NAME"] = str(Path(work, "tables.sqlite3"))
            with stepwise():
                call_command("migrate", verbosity=0)
            made = script()
            connection.close()
        if not options["check"]:
            KEPT.write_text(made, encoding="utf-8")
        elif made != KEPT.read_text(encoding="utf-8"):
            raise CommandError(f"{KEPT} is not what the steps make; ./manage.py keep_tables writes it anew.")
        self.stdout.write(str(KEPT))
