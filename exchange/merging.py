"""A car that comes a second time: what changed there is taken, what changed here stays.

Three states of each row are compared: theirs, ours, and how it was when it last went between the two.
"""

from __future__ import annotations

import zipfile
from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any

from django.contrib.auth.models import User
from django.db import IntegrityError, models, transaction

from exchange.origins import OWN, as_mark, digest, key_of, label_of, origins_of
from exchange.taking import Came, Taking
from garage.car.models import Car
from rimcore.quantities.errors import BadInput


@dataclass
class Merged:
    """What a merge does, or would do: rows by what becomes of them."""

    new: int = 0
    changed: int = 0
    #: changed on both sides, or said on both: what is here stays
    both: int = 0
    #: removed here since, so that it stays away
    gone: int = 0
    #: here alone, or removed there: it stays
    here: int = 0


class Merging(Taking):
    """Rows of a file are laid beside the rows of the same car."""

    def __init__(
        self,
        archive: zipfile.ZipFile,
        tables: Mapping[str, list[dict[str, Any]]],
        owner: User,
        check: bool,
        car: Car,
        rows: list[models.Model],
    ) -> None:
        super().__init__(archive, tables, owner, check)
        self.car, self.told = car, Merged()
        self.marks = origins_of(car)
        self.ours = {key_of(row): row for row in rows}
        self.by_uid = {str(one.uid): key for key, one in self.marks.items()}
        self.by_uid[str(car.uid)] = ("garage.car", car.pk)
        self.uid_here: dict[Any, str] = {key: str(one.uid) for key, one in self.marks.items()}
        self.uid_there: dict[Any, str] = {
            (label, row["pk"]): _mark(row) for label, each in tables.items() for row in each
        }
        #: rows of the file that are not taken because what they hang on is gone here
        self.left: set[tuple[str, str]] = set()
        #: digests by our row, as theirs came
        self.bases: dict[tuple[str, int], str] = {}
        self.uids: dict[tuple[str, int], str] = {}
        #: rows of the file that are here now as they were there
        self.taken: set[tuple[str, str]] = set()

    def run(self) -> Came:
        came = super().run()
        self.told.here = sum(key not in self.bases for key in self.ours)
        came.merged = self.told
        return came

    def _row(self, label: str, row: Mapping[str, Any]) -> None:
        key, uid = (label, str(row["pk"])), _mark(row)
        known = self.by_uid.get(uid)
        if self._hangs_on_what_is_gone(label, row) or (known is not None and known not in self.ours):
            self.left.add(key)
            self.told.gone += 1
            return
        made, after, uploads = self._filled(label, row)
        theirs = digest(self._as_there(made, label, row), self.uid_there)
        if known is not None:
            self.new[key] = self.ours[known]
            taken = self._beside(self.ours[known], made, theirs, str(row.get("base") or ""))
        else:
            self.new[key] = self._added(made, uploads)
            taken = self.new[key] is made
        ours = key_of(self.new[key])
        self.bases[ours], self.uids[ours] = theirs, uid
        if taken:
            self.taken.add(key)
            self.later += [(self.new[key], column, there) for column, there in after]

    def _as_there(self, made: models.Model, label: str, row: Mapping[str, Any]) -> models.Model:
        """The row with the numbers that it has in the file, so that what it points at is known by mark."""
        there = type(made)()
        for one in made._meta.concrete_fields:
            value = row["fields"].get(one.name) if one.is_relation else getattr(made, one.attname)
            setattr(there, one.attname, value)
        return there

    def _hangs_on_what_is_gone(self, label: str, row: Mapping[str, Any]) -> bool:
        """Does it point, and have to, at a row that is not taken?"""
        return any(
            one.is_relation and not one.null and (label_of(one), str(row["fields"].get(one.name))) in self.left
            for one in self.known[label]._meta.concrete_fields
        )

    def _point(self, made: models.Model, one: Any, value: Any, after: list[tuple[str, tuple[str, str]]]) -> None:
        if value is not None and (label_of(one), str(value)) in self.left:
            return
        super()._point(made, one, value, after)

    def _made(self, key: tuple[str, str]) -> Any:
        """What is not taken is pointed at by nothing."""
        return None if key in self.left else super()._made(key)

    def _margins(self) -> None:
        rows = [row for row in self.tables.get("planner.build", ()) if ("planner.build", str(row["pk"])) in self.taken]
        self.tables = {**self.tables, "planner.build": rows}
        super()._margins()

    def _beside(self, ours: models.Model, made: models.Model, theirs: str, base: str) -> bool:
        """A row that is here: theirs is taken where only theirs has changed."""
        here = digest(ours, self.uid_here)
        mark = self.marks.get(key_of(ours))
        bases = {one for one in (base, mark.base if mark else "") if one}
        if theirs == here or theirs in bases or not bases:
            return False
        if here not in bases:
            self.told.both += 1
            return False
        was = {one.attname: getattr(ours, one.attname) for one in ours._meta.concrete_fields}
        for one in ours._meta.concrete_fields:
            if not one.primary_key and one.name not in OWN and not isinstance(one, models.FileField):
                setattr(ours, one.attname, getattr(made, one.attname))
        try:
            with transaction.atomic():
                ours.save_base(raw=True)
        except IntegrityError:
            for name, value in was.items():
                setattr(ours, name, value)
            self.told.both += 1
            return False
        self.told.changed += 1
        return True

    def _added(self, made: models.Model, uploads: list[tuple[str, str]]) -> models.Model:
        """A row that was not here; where another says the same thing here, that one stands for it."""
        try:
            with transaction.atomic():
                made.save_base(raw=True, force_insert=True)
        except IntegrityError:
            same = _same(made)
            if same is None:
                raise
            self.told.both += 1
            return same
        for column, name in uploads:
            self._upload(made, column, name)
        self.told.new += 1
        return made


def _mark(row: Mapping[str, Any]) -> str:
    """The mark of a row in the file.

    Raises
    ------
    BadInput : it has none, or one that can't be
    """
    found = as_mark(row.get("uid"))
    if found is None:
        raise BadInput(
            "is of an older version, whose rows have no marks to merge by; accepted: keep both, or stop", "again"
        )
    return found


def _same(made: models.Model) -> models.Model | None:
    """The row that is in the way of a new one: what both must not say at once."""
    ways = [one.fields for one in made._meta.constraints if isinstance(one, models.UniqueConstraint)]
    ways += [(one.name,) for one in made._meta.concrete_fields if one.unique and not one.primary_key]
    for names in ways:
        columns: list[Any] = [made._meta.get_field(name) for name in names]
        asked = {one.attname: getattr(made, one.attname) for one in columns}
        found = type(made)._default_manager.filter(**asked).first()
        if found is not None:
            return found
    return None
