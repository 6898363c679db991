"""A car as one file."""

import shutil
from pathlib import Path
from typing import Any

from django.core.management.base import BaseCommand, CommandError, CommandParser

from exchange.cars import export_car
from exchange.serving import answers
from garage.car.models import Car


class Command(BaseCommand):
    help = "Write a car, by its number or its name, with its pictures and logs into one file."

    def add_arguments(self, parser: CommandParser) -> None:
        parser.add_argument("car")
        parser.add_argument("file", type=Path)

    def handle(self, *args: Any, **options: Any) -> None:
        answers()
        said = str(options["car"])
        number = int(said) if said.isascii() and said.isdecimal() and len(said) < 10 else 0
        cars = list(Car.objects.filter(pk=number) if number else Car.objects.filter(nickname=said))
        if len(cars) != 1:
            raise CommandError(f"There {'is no car' if not cars else 'are several cars'} “{said}”. Say its number.")
        try:
            with options["file"].open("wb") as out, export_car(cars[0]) as made:
                shutil.copyfileobj(made, out)
        except OSError as error:
            raise CommandError(f"The file can't be written to {options['file']}: {error.strerror}.") from error
        self.stdout.write(f"{cars[0].nickname} is written to {options['file']}.")
