"""Marks that rows of a car keep on every machine, and digests that tell whether a row has changed since."""

from __future__ import annotations

import hashlib
import json
import uuid
from collections.abc import Iterable, Mapping
from typing import Any

from django.db import models

from exchange.models import Origin
from garage.car.models import Car

#: a row by its table and number
Key = tuple[str, int]
#: columns that are this garage's own: whose a car is, and whether it is only read here
OWN = ("owner", "closed_on")


def label_of(relation: Any) -> str:
    """The table that a column points at."""
    return str(relation.related_model._meta.concrete_model._meta.label_lower)


def as_mark(value: Any) -> str | None:
    """A mark as it is kept; None where it is none.

    >>> as_mark("6BA7B810-9DAD-11D1-80B4-00C04FD430C8"), as_mark(None), as_mark([5])
    ('6ba7b810-9dad-11d1-80b4-00c04fd430c8', None, None)
    """
    try:
        return str(uuid.UUID(str(value)))
    except ValueError:
        return None


def key_of(row: models.Model) -> Key:
    """A row's table and number; kinds that share a table have one name."""
    model: Any = row._meta.concrete_model
    return str(model._meta.label_lower), int(row.pk)


def digest(row: models.Model, uid_of: Mapping[Any, str]) -> str:
    """What a row says, whatever its number here: what it points at goes by mark, pictures and logs don't count."""
    told: dict[str, Any] = {}
    for one in row._meta.concrete_fields:
        if one.primary_key or one.name in OWN or isinstance(one, models.FileField):
            continue
        value = getattr(row, one.attname)
        if one.is_relation:
            value = uid_of.get((label_of(one), value))
        elif one.name == "tolerance":
            # Margins of one's own go by a number of this machine.
            value = str(value).partition("-")[0]
        told[one.name] = value
    return hashlib.sha256(json.dumps(told, sort_keys=True, default=str).encode()).hexdigest()[:32]


def origins_of(car: Car) -> dict[Key, Origin]:
    """Marks that the rows of a car have, those of rows that are gone too."""
    return {(one.label, one.row): one for one in Origin.objects.filter(car_number=car.pk)}


def marked(car: Car, rows: Iterable[models.Model]) -> dict[Key, Origin]:
    """A mark for every row of a car; those that have none get one."""
    found, keys = origins_of(car), [key_of(row) for row in rows]
    fresh = [
        Origin(car_number=car.pk, label=label, row=pk, uid=car.uid if label == "garage.car" else uuid.uuid4())
        for label, pk in keys
        if (label, pk) not in found
    ]
    Origin.objects.bulk_create(fresh, batch_size=500)
    return found | {(one.label, one.row): one for one in fresh}


def keep_bases(car: Car, rows: Iterable[models.Model], uids: Mapping[Key, str], bases: Mapping[Key, str]) -> None:
    """Rows that came in keep their marks, and how they came.

    Parameters
    ----------
    car : the car they belong to
    rows : its rows
    uids : marks by row, of those that came with one
    bases : digests by row, as they came
    """
    known = origins_of(car)
    fresh: list[Origin] = []
    changed: list[Origin] = []
    for row in rows:
        key = key_of(row)
        if key not in uids:
            continue
        one = known.get(key) or Origin(car_number=car.pk, label=key[0], row=key[1])
        one.uid, one.base = uuid.UUID(uids[key]), bases.get(key, "")
        (changed if key in known else fresh).append(one)
    Origin.objects.bulk_create(fresh, batch_size=500)
    Origin.objects.bulk_update(changed, ["uid", "base"], batch_size=200)
