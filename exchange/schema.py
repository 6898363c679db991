"""A car's file as a published schema: JSON Schema 2020-12, made of the tables that can stand in it."""

from __future__ import annotations

from pathlib import Path
from typing import Any

from django.apps import apps
from django.db import models

from exchange.cars import FORMAT
from exchange.taking import models_of_a_car

KEPT = Path(__file__).resolve().parent.parent / "docs" / "car-file.schema.json"
#: columns that a file leaves out: whose car it is, is decided by whoever takes it in
LEFT_OUT = {("garage.car", "owner"), ("garage.toleranceset", "owner")}

#: kinds of column -> what JSON has for them, the first that fits
_TYPES: tuple[tuple[type[models.Field[Any, Any]], dict[str, Any]], ...] = (
    (models.BooleanField, {"type": "boolean"}),
    (models.FloatField, {"type": "number"}),
    (models.IntegerField, {"type": "integer"}),
    (models.DateTimeField, {"type": "string", "format": "date-time"}),
    (models.DateField, {"type": "string", "format": "date"}),
    (models.FileField, {"type": "string", "description": "name of a file of the archive, in files/"}),
    (models.CharField, {"type": "string"}),
    (models.TextField, {"type": "string"}),
    (models.JSONField, {}),
    (models.UUIDField, {"type": "string", "format": "uuid"}),
    (models.ForeignKey, {"type": "integer"}),
)


def schema() -> dict[str, Any]:
    """The schema of ``car.json``."""
    tables = {label: {"type": "array", "items": _row(label, model)} for label, model in models_of_a_car().items()}
    return {
        "$schema": "https://json-schema.org/draft/2020-12/schema",
        "$id": f"urn:{FORMAT}",
        "title": "A car",
        "description": "Every row that hangs on a car, by table; numbers of rows are the file's own. Pictures and logs lie in files/.",
        "type": "object",
        "required": ["format", "made", "tables"],
        "properties": {
            "format": {"const": FORMAT},
            "made": {"type": "string", "format": "date-time"},
            "tables": {
                "type": "object",
                "required": ["garage.car"],
                "properties": dict(sorted(tables.items())),
                "additionalProperties": False,
            },
        },
    }


def _row(label: str, model: type[models.Model]) -> dict[str, Any]:
    columns = {
        field.name: _column(field)
        for field in model._meta.get_fields()
        if isinstance(field, models.Field) and not field.primary_key and (label, field.name) not in LEFT_OUT
    }
    return {
        "type": "object",
        "description": (model.__doc__ or "").strip().partition("\n")[0],
        "required": ["model", "pk", "fields"],
        "properties": {
            "model": {"enum": _labels(label, model)},
            "pk": {"type": "integer"},
            "uid": {"type": "string", "format": "uuid", "description": "the row's mark, the same on every machine"},
            "base": {"type": "string", "description": "digest of the row as it last came in; blank where it never did"},
            "fields": {"type": "object", "properties": columns, "additionalProperties": False},
        },
    }


def _labels(label: str, model: type[models.Model]) -> list[str]:
    """What a row may call its table: its own name, or that of a kind that shares it, as wheels share the parts'."""
    concrete = model._meta.concrete_model
    others = (one for one in apps.get_models() if one._meta.proxy and one._meta.concrete_model is concrete)
    return sorted({label, *(one._meta.label_lower for one in others)})


def _column(field: models.Field[Any, Any]) -> dict[str, Any]:
    """One column: its type, its length, its choices; a reference names the table that it is to."""
    if isinstance(field, models.ManyToManyField):
        return {"type": "array", "items": {"type": "integer"}}
    said = dict(next(kind for cls, kind in _TYPES if isinstance(field, cls)))
    if isinstance(field, models.ForeignKey):
        said["description"] = f"a row of {field.related_model._meta.label_lower}"
    if isinstance(field, models.CharField) and field.max_length:
        said["maxLength"] = field.max_length
    if field.null and "type" in said:
        said["type"] = [said["type"], "null"]
    return said
