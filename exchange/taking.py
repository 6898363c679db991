"""Rows of a car's file become rows of an account, each with a number of its own."""

from __future__ import annotations

import zipfile
from collections.abc import Mapping
from dataclasses import dataclass, field
from graphlib import CycleError, TopologicalSorter
from pathlib import PurePosixPath
from typing import Any

from django.contrib.auth.models import User
from django.core.files.base import ContentFile
from django.db import models

from exchange.origins import label_of
from garage.car.models import Car
from garage.person.models import ToleranceSet
from planner.finder.models import Search
from rimcore.quantities.errors import BadInput
from shell.pictures import clean_picture
from shell.tidy import file_columns
from shell.undo import ROOMS

#: one file of an archive may unpack to this [bytes]
MOST_OF_ONE = 130 * 1024**2
#: rows that are not a car's record: a search is asked again
LEFT_BEHIND = (Search,)


@dataclass
class Came:
    """What came in, or would come: the car, rows by table, files."""

    nickname: str
    rows: dict[str, int] = field(default_factory=dict)
    files: int = 0
    car_id: int | None = None
    #: what was taken, and what stayed, where the car was here already
    merged: Any = None


def models_of_a_car() -> dict[str, type[models.Model]]:
    """Tables that can stand in a car's file, by label: all that hang on a car, however deep."""
    found: dict[str, type[models.Model]] = {"garage.car": Car, "garage.toleranceset": ToleranceSet}
    waiting: list[type[models.Model]] = [Car]
    while waiting:
        for relation in waiting.pop()._meta.related_objects:
            child: Any = relation.related_model
            label = child._meta.label_lower
            if child._meta.app_label in ROOMS and label not in found and child not in LEFT_BEHIND:
                found[label] = child
                waiting.append(child)
    return found


def read_entry(archive: zipfile.ZipFile, name: str, most: int) -> bytes:
    """One entry, never more of it than is said."""
    try:
        with archive.open(name) as entry:
            raw = entry.read(most + 1)
    except (KeyError, zipfile.BadZipFile, OSError, RuntimeError, NotImplementedError, EOFError, ValueError) as error:
        raise BadInput(f"is damaged, or lacks {name[:60]}", "file") from error
    if len(raw) > most:
        raise BadInput(f"holds a {name[:60]} that is too large", "file")
    return raw


class Taking:
    """Rows of a file become rows of an account, each with a new number."""

    def __init__(
        self, archive: zipfile.ZipFile, tables: Mapping[str, list[dict[str, Any]]], owner: User, check: bool
    ) -> None:
        self.archive, self.tables, self.owner, self.check = archive, tables, owner, check
        self.known = models_of_a_car()
        self.names = set(archive.namelist())
        self.new: dict[tuple[str, str], models.Model] = {}
        self.later: list[tuple[models.Model, str, tuple[str, str]]] = []
        self.files = {(model, column) for model, column in file_columns()}
        self.count = 0

    def run(self) -> Came:
        car = self.tables["garage.car"][0]["fields"]
        for label in self._order():
            for row in self.tables[label]:
                self._row(label, row)
        for made, column, key in self.later:
            setattr(made, column, self._made(key))
            made.save_base(raw=True)
        self._margins()
        found = Came(
            str(car.get("nickname", ""))[:60], {name: len(rows) for name, rows in self.tables.items()}, self.count
        )
        found.car_id = self._made(("garage.car", str(self.tables["garage.car"][0]["pk"]))).pk
        return found

    def _order(self) -> list[str]:
        """Tables so that what a row points at is there before it; what points within its own table, or may be blank, later."""
        graph = {
            label: {
                label_of(one) for one in self.known[label]._meta.concrete_fields if one.is_relation and not one.null
            }
            & (set(self.tables) - {label})
            for label in self.tables
        }
        try:
            return list(TopologicalSorter(graph).static_order())
        except CycleError as error:  # pragma: no cover  our own tables have none
            raise BadInput("holds tables that wait for each other", "file") from error

    def _row(self, label: str, row: Mapping[str, Any]) -> None:
        made, after, uploads = self._filled(label, row)
        made.save_base(raw=True, force_insert=True)
        self.new[label, str(row["pk"])] = made
        self.later += [(made, column, key) for column, key in after]
        for column, name in uploads:
            self._upload(made, column, name)

    def _filled(
        self, label: str, row: Mapping[str, Any]
    ) -> tuple[models.Model, list[tuple[str, tuple[str, str]]], list[tuple[str, str]]]:
        """A row that is not saved yet; what it will point at when that is there; its pictures and logs."""
        model, fields = self.known[label], row["fields"]
        made = model()
        after: list[tuple[str, tuple[str, str]]] = []
        uploads: list[tuple[str, str]] = []
        for one in model._meta.concrete_fields:
            if one.primary_key:
                continue
            if one.name == "owner":
                setattr(made, one.attname, self.owner.pk)
            elif one.name not in fields:
                continue
            elif one.is_relation:
                self._point(made, one, fields[one.name], after)
            elif (model, one.name) in self.files:
                uploads += [(one.name, str(fields[one.name]))] if fields[one.name] else []
            else:
                setattr(made, one.attname, one.to_python(fields[one.name]))
        made.clean_fields(exclude=[one.name for one in model._meta.concrete_fields if self._unchecked(made, one)])
        return made, after, uploads

    @staticmethod
    def _unchecked(made: models.Model, one: Any) -> bool:
        """What is checked elsewhere, or says nothing: rows that are pointed at, files, blanks."""
        return bool(
            one.is_relation or isinstance(one, models.FileField) or getattr(made, one.attname) in ("", None, [], {})
        )

    def _point(self, made: models.Model, one: Any, value: Any, after: list[tuple[str, tuple[str, str]]]) -> None:
        """A row that is pointed at: of this file, and of nobody else's."""
        if value is None:
            return
        key = (label_of(one), str(value))
        if key in self.new:
            setattr(made, one.attname, self.new[key].pk)
        elif one.null and any(str(row["pk"]) == key[1] for row in self.tables.get(key[0], ())):
            after.append((one.attname, key))
        else:
            raise BadInput(f"points at a {key[0]} that is not in it", "file")

    def _made(self, key: tuple[str, str]) -> Any:
        found = self.new.get(key)
        if found is None:
            raise BadInput(f"points at a {key[0]} that is not in it", "file")
        return found if key[0] == "garage.car" else found.pk

    def _upload(self, made: models.Model, column: str, name: str) -> None:
        """A picture is made anew, a log taken as it is; what is not in the archive stays away."""
        entry = f"files/{name}"
        if entry not in self.names:
            return
        raw = read_entry(self.archive, entry, MOST_OF_ONE)
        if isinstance(made._meta.get_field(column), models.ImageField):
            raw = clean_picture(raw)[0]
        self.count += 1
        if self.check:
            return
        getattr(made, column).save(PurePosixPath(name).name[-60:], ContentFile(raw), save=False)
        made.save_base(raw=True)

    def _margins(self) -> None:
        """Builds that go by margins of one's own go by those that came with them."""
        for row in self.tables.get("planner.build", ()):
            made: Any = self.new["planner.build", str(row["pk"])]
            kind, _, number = str(made.tolerance).partition("set-")
            if kind == "" and number:
                held = self.new.get(("garage.toleranceset", number))
                made.tolerance = f"set-{held.pk}" if held is not None else "daily"
                made.save_base(raw=True)
