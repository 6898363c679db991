"""The demo: set up, load the scenario if absent, serve."""

from typing import Any

from django.conf import settings
from django.contrib.auth import get_user_model
from django.core.management.base import BaseCommand, CommandError, CommandParser

from demo.rows import lay_down
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
        self.say(f"The data are kept in {settings.DATA_DIR}; making the database ready …")
        serving.ready_database()
        user_model = get_user_model()
        if options["fresh"] or not user_model.objects.filter(username=DEMO_USER).exists():
            self.lay_down()
        if port is None:
            return
        self.say(f"Rim Tally demo at http://127.0.0.1:{port}/")
        self.say(
            f"Sign in with the button “Sign in to the demo garage”, or as {DEMO_USER} with the password {PASSWORD}. Stop with Ctrl+C."
        )
        serving.serve("127.0.0.1", port)

    def lay_down(self) -> None:
        """The scenario: from the rows that are kept, or, beside people of a database in use, worked out anew."""
        User = get_user_model()  # noqa: N806  a class
        if not User.objects.exclude(username=DEMO_USER).exists():
            self.say("Laying down the demo: three cars with their readings, builds, sheets and logs …")
            User.objects.all().delete()
            lay_down()
        else:
            self.say("Working the demo out anew beside the people who are here; this takes about a minute …")
            load()
        self.say("Demo scenario loaded.")

    def say(self, words: str) -> None:
        """A line at once, so that nobody waits in silence."""
        self.stdout.write(words)
        self.stdout.flush()
