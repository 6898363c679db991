"""Work the demo scenario out in a database of its own, and keep its rows beside the code."""

import tempfile
from pathlib import Path
from typing import Any

from django.conf import settings
from django.core.management import call_command
from django.core.management.base import BaseCommand
from django.db import connection

from demo.rows import KEPT, keep
from demo.scenario import load
from proof.honest import rows_of, teaching
from rimcore.proof import pooled


class Command(BaseCommand):
    help = "Write the rows of the demo anew after its scenario was changed."
    requires_system_checks = ()

    def handle(self, *args: Any, **options: Any) -> None:
        with tempfile.TemporaryDirectory() as work:
            connection.close()
            connection.settings_dict["NAME"] = str(Path(work, "rows.sqlite3"))
            settings.MEDIA_ROOT = Path(work, "uploads")
            call_command("migrate", verbosity=0)
            car = load()
            keep(car)
            pooled.KEPT.write_text(pooled.written(teaching(rows_of(car.owner, most=60))))
            connection.close()
        self.stdout.write(f"{KEPT}: {KEPT.stat().st_size / 1000:.0f} kB")
