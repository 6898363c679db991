"""Columns for files whose names are made by their models.

A database knows nothing of how, so its migrations don't either.
"""

from __future__ import annotations

from typing import Any

from django.db import models


class NamedFile(models.FileField):
    """A file that its model names."""

    def deconstruct(self) -> Any:
        """As Django's own column, without what names the file."""
        name, _, args, kwargs = super().deconstruct()
        return name, "django.db.models.FileField", args, kwargs | {"upload_to": ""}


class NamedImage(models.ImageField):
    """A picture that its model names."""

    def deconstruct(self) -> Any:
        """As Django's own column, without what names the file."""
        name, _, args, kwargs = super().deconstruct()
        return name, "django.db.models.ImageField", args, kwargs | {"upload_to": ""}
