"""Django's own, after the steps of before where a database began with them; a new one is laid down at once."""

from typing import Any

from django.core.management.commands import migrate
from django.db import DEFAULT_DB_ALIAS

from exchange import before, fresh
from shell import revision


class Command(migrate.Command):
    def handle(self, *args: Any, **options: Any) -> None:
        only_looks = options["plan"] or options["check_unapplied"] or options["prune"]
        if not only_looks and options["database"] == DEFAULT_DB_ALIAS and before.is_of_before():
            revision.drop()
            before.climb()
        if not only_looks and options["database"] == DEFAULT_DB_ALIAS and not options["app_label"]:
            fresh.lay_down()
        super().handle(*args, **options)
