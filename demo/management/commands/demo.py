"""The demo: set up, load the scenario if absent, serve."""

from typing import Any

from django.conf import settings
from django.contrib.auth import get_user_model
from django.core.management.base import BaseCommand, CommandError, CommandParser

from demo.scenario import PASSWORD, load
from exchange import serving
from shell.views import DEMO_USER


class Command(BaseCommand):
    help = "Load the demo scenario and serve it."
    requires_system_checks = ()

    def add_arguments(self, parser: CommandParser) -> None:
        parser.add_argument("--port", type=int)
        parser.add_argument("--fresh", action="store_true")
        parser.add_argument("--load-only", action="store_true")

    def handle(self, *args: Any, **options: Any) -> None:
        if not settings.DEMO:
            raise CommandError("The demo runs only with the demo settings.")
        port = None if options["load_only"] else serving.find_port(options["port"], "127.0.0.1")
        serving.ready_database()
        user_model = get_user_model()
        if options["fresh"] or not user_model.objects.filter(username=DEMO_USER).exists():
            load()
            self.stdout.write("Demo scenario loaded.")
        if port is None:
            return
        self.stdout.write(f"Rim Tally demo at http://127.0.0.1:{port}/")
        self.stdout.write(
            f"Sign in with the button “Sign in to the demo garage”, or as {DEMO_USER} with the password {PASSWORD}. Stop with Ctrl+C."
        )
        self.stdout.flush()
        serving.serve("127.0.0.1", port)
