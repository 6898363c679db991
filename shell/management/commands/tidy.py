"""Tidy the instance; the server does it by itself once an hour."""

from typing import Any

from django.core.management.base import BaseCommand

from shell.tidy import tidy


class Command(BaseCommand):
    help = "Remove files nothing speaks of, changes too old to undo, and sessions that are over."
    requires_system_checks = ()

    def handle(self, *args: Any, **options: Any) -> None:
        gone = tidy()
        if options["verbosity"]:
            self.stdout.write(", ".join(f"{count} {name}" for name, count in gone.items()) + " removed.")
