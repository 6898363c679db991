"""Rows that are saved by the columns that changed: what another window wrote beside them stays."""

from __future__ import annotations

from collections.abc import Iterable
from copy import deepcopy
from typing import Any, Self

from django.db import models


class ChangedColumns(models.Model):
    """A row that knows what it was read as; ``save`` writes what is different from that, and nothing where nothing is.

    A row read before another window's change, and saved after it, takes none of that change back.
    """

    class Meta:
        abstract = True

    def save(self, *args: Any, **options: Any) -> None:
        if self._narrows(args, options):
            options["update_fields"] = self._changed()
        super().save(*args, **options)
        self._keep_read(options.get("update_fields"))

    @classmethod
    def from_db(cls, *args: Any, **options: Any) -> Self:
        row: Self = super().from_db(*args, **options)  # type: ignore[assignment]
        row._keep_read()
        return row

    def refresh_from_db(self, *args: Any, **options: Any) -> None:
        super().refresh_from_db(*args, **options)
        self._keep_read(options.get("fields", args[1] if len(args) > 1 else None))

    def _narrows(self, args: tuple[Any, ...], options: dict[str, Any]) -> bool:
        known = self.__dict__.get("_read_as")
        wide = (
            bool(args)
            or options.get("force_insert")
            or options.get("force_update")
            or options.get("update_fields") is not None
        )
        return not wide and known is not None and not self._state.adding and known.get(self._meta.pk.attname) == self.pk

    def _changed(self) -> list[str]:
        """Names of the columns that are not as they were read.

        With any of them also what keeps the time of a change.
        """
        now, known = self.__dict__, self._read_as
        changed = [
            field.name
            for field in self._meta.concrete_fields
            if not field.primary_key
            and field.attname in now
            and (field.attname not in known or known[field.attname] != now[field.attname])
        ]
        stamps = [
            field.name
            for field in self._meta.concrete_fields
            if getattr(field, "auto_now", False) and field.name not in changed
        ]
        return changed + stamps if changed else []

    def _keep_read(self, only: Iterable[str] | None = None) -> None:
        """What was read or written is known from now on.

        With ``only`` these columns alone, the others stay as they were read.
        """
        wanted = None if only is None else set(only)
        names = {
            field.attname
            for field in self._meta.concrete_fields
            if wanted is None or wanted & {field.name, field.attname}
        }
        found = {
            name: deepcopy(value) if value and isinstance(value, (list, dict)) else value
            for name, value in self.__dict__.items()
            if name in names
        }
        self._read_as = found if wanted is None else {**self.__dict__.get("_read_as", {}), **found}
