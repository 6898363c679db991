"""A car out of one file."""

from pathlib import Path
from typing import Any

from django.contrib.auth.models import User
from django.core.management.base import BaseCommand, CommandError, CommandParser

from exchange.cars import AGAIN, import_car
from exchange.serving import answers
from rimcore.quantities.errors import BadInput


class Command(BaseCommand):
    help = "Read a car's file into an account, as a new car; with --check it is only said what would come."

    def add_arguments(self, parser: CommandParser) -> None:
        parser.add_argument("file", type=Path)
        parser.add_argument("--to", required=True, help="sign-in name of the account")
        parser.add_argument("--check", action="store_true")
        parser.add_argument("--again", choices=list(AGAIN), default="stop", help="where the same car is there already")

    def handle(self, *args: Any, **options: Any) -> None:
        answers()
        owner = User.objects.filter(username=options["to"]).first()
        if owner is None:
            raise CommandError(f"There is no account “{options['to']}”.")
        try:
            with options["file"].open("rb") as opened:
                came = import_car(opened, owner, options["check"], options["again"])
        except OSError as error:
            raise CommandError(f"The file {options['file']} can't be read: {error.strerror}.") from error
        except BadInput as error:
            raise CommandError(f"Not read: the file {error.message}. Nothing is written.") from error
        if (merged := came.merged) is not None:
            self.stdout.write(
                f"{merged.new} new, {merged.changed} changed there, {merged.both} changed on both sides (yours stay), "
                f"{merged.gone} removed here, {merged.here} here alone."
            )
        rows = sum(came.rows.values())
        word = "would come" if options["check"] else "came"
        self.stdout.write(f"{came.nickname}: {rows} rows of {len(came.rows)} tables and {came.files} files {word}.")
