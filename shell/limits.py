"""The core's limits as validators of a field and constraints of a table."""

from __future__ import annotations

from typing import Any

from django.apps import apps
from django.core.exceptions import ValidationError
from django.db import models
from django.db.models import Q
from django.utils.deconstruct import deconstructible

from rimcore.limits import LIMITS


@deconstructible
class Within:
    """A value that holds to one of the core's limits; says what is accepted."""

    def __init__(self, name: str) -> None:
        self.name = name

    def __call__(self, value: Any) -> None:
        if value is not None and not LIMITS[self.name].holds(value):
            raise ValidationError(f"Out of range; accepted: {LIMITS[self.name].accepted}.", code="limit")

    def __eq__(self, other: object) -> bool:
        return isinstance(other, Within) and other.name == self.name

    def __hash__(self) -> int:
        return hash(self.name)


#: constraint -> limit, as declared
_declared: dict[str, str] = {}


def limited(table: str, **fields: str) -> list[models.CheckConstraint]:
    """A constraint a column: ``limited("wheel", bolts="bolts")``; an empty column passes.

    Every form of the model then says what is accepted too, see :func:`hold_all`.
    """
    found = []
    for column, name in fields.items():
        limit, constraint = LIMITS[name], f"{table}_{column}_within"
        _declared[constraint] = name
        inside = Q(**{f"{column}__isnull": True}) | Q(**{f"{column}__gte": limit.low, f"{column}__lte": limit.high})
        found.append(models.CheckConstraint(name=constraint, condition=inside))
    return found


def hold_all() -> None:
    """Give every column that has a limit its validator; once, when all rooms are loaded."""
    for model in apps.get_models():
        for constraint in model._meta.constraints:
            name = _declared.get(constraint.name)
            if name is not None and isinstance(constraint, models.CheckConstraint):
                column: Any = model._meta.get_field(_column(constraint))
                column.validators = [*column.validators, Within(name)]


def _column(constraint: models.CheckConstraint) -> str:
    """The column that a constraint of :func:`limited` speaks of."""
    condition: Any = constraint.condition
    return str(condition.children[0][0]).removesuffix("__isnull")
