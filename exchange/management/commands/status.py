"""How the server is."""

from typing import Any

from django.core.management.base import BaseCommand

from exchange.serving import answers
from exchange.status import status


class Command(BaseCommand):
    help = "Version, steps of the database, room on the disk, sessions, slowest pages."

    def handle(self, *args: Any, **options: Any) -> None:
        answers()
        for section, rows in status().items():
            self.stdout.write(f"{section}\n")
            for name, told in rows:
                self.stdout.write(f"  {name:<42} {told}\n")
