"""Django's own, after the steps of before where a database began with them."""

from typing import Any

from django.core.management.commands import migrate

from exchange import before


class Command(migrate.Command):
    def handle(self, *args: Any, **options: Any) -> None:
        if before.is_of_before():
            before.climb()
        super().handle(*args, **options)
