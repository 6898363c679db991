"""Serve the production instance."""

from typing import Any

from django.core.management.base import BaseCommand, CommandParser

from exchange import serving
from exchange.worker import most_mb


class Command(BaseCommand):
    help = "Serve with the production settings."
    requires_system_checks = ()

    def add_arguments(self, parser: CommandParser) -> None:
        parser.add_argument("--port", type=int)
        parser.add_argument("--host", default="127.0.0.1")

    def handle(self, *args: Any, **options: Any) -> None:
        # What can't be is said before anything is made.
        serving.processes()
        most_mb()
        port = serving.find_port(options["port"], options["host"])
        serving.ready_database()
        serving.collect_static()
        self.stdout.write(f"Rim Tally at http://{options['host']}:{port}/\nOpen an account there. Stop with Ctrl+C.")
        self.stdout.flush()
        serving.serve(options["host"], port)
