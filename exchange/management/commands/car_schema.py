"""Write the published schema of a car's file anew after a table was changed."""

import json
from typing import Any

from django.core.management.base import BaseCommand

from exchange.schema import KEPT, schema


class Command(BaseCommand):
    help = "Write docs/car-file.schema.json anew."
    requires_system_checks = ()

    def handle(self, *args: Any, **options: Any) -> None:
        KEPT.write_text(json.dumps(schema(), indent=1, ensure_ascii=False) + "\n")
        self.stdout.write(str(KEPT))
