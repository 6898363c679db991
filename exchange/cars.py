"""A car as one file: every row that hangs on it with its pictures and logs, out and in again, into any account."""

from __future__ import annotations

import json
import tempfile
import zipfile
from collections.abc import Iterator, Mapping
from dataclasses import dataclass, field
from graphlib import CycleError, TopologicalSorter
from pathlib import PurePosixPath
from typing import IO, Any

from django.contrib.auth.models import User
from django.core import serializers
from django.core.exceptions import ValidationError
from django.core.files.base import ContentFile
from django.core.files.storage import default_storage
from django.db import DatabaseError, models, transaction
from django.utils import timezone

from exchange.account import hanging_on
from garage.car.models import Car
from garage.file import open_file
from garage.inhand import everything_in_hand
from garage.person.models import ToleranceSet
from planner.chosen import builds_of
from planner.dates.facts import planned_of
from planner.finder.models import Search
from planner.models import Build
from planner.queries import sums
from proof.book.chapters import CHAPTERS, book_of
from rimcore.quantities.errors import BadInput
from shell import kept
from shell.pictures import clean_picture
from shell.tidy import file_columns
from shell.undo import ROOMS

FORMAT = "rim-tally-car-1"
#: what an archive may hold: files, bytes of all and of one when unpacked, how much smaller it may be, rows, text
MOST_FILES, MOST_BYTES, MOST_OF_ONE, MOST_SQUEEZE = 3000, 600 * 1024**2, 130 * 1024**2, 400.0
MOST_ROWS, MOST_JSON, IN_MEMORY = 30_000, 40 * 1024**2, 8 * 1024**2
#: an upload may be this large [bytes]
MOST_SENT = 300 * 1024**2
#: rows that are not a car's record: a search is asked again
LEFT_BEHIND = (Search,)

Rows = dict[type[models.Model], list[models.Model]]


@dataclass
class Came:
    """What came in, or would come: the car, rows by table, files."""

    nickname: str
    rows: dict[str, int] = field(default_factory=dict)
    files: int = 0
    car_id: int | None = None


def rows_of_car(car: Car) -> Rows:
    """Every row of a car, the car first, with the margins of one's own that its builds go by."""
    found: Rows = {Car: [car]}
    found |= {model: rows for model, rows in hanging_on(Car, [car.pk]).items() if model not in LEFT_BEHIND}
    used = {one.tolerance for one in found.get(Build, []) if isinstance(one, Build)}
    sets = [one for one in ToleranceSet.objects.filter(owner=car.owner) if f"set-{one.pk}" in used]
    return found | ({ToleranceSet: list(sets)} if sets else {})


def export_car(car: Car) -> IO[bytes]:
    """``car.json`` with every row, ``files/`` with pictures and logs, in a zip archive."""
    rows = rows_of_car(car)
    tables = {model._meta.label_lower: serializers.serialize("python", each) for model, each in rows.items()}
    for each in tables.get("garage.car", []):
        each["fields"].pop("owner", None)
    for each in tables.get("garage.toleranceset", []):
        each["fields"].pop("owner", None)
    whole = {"format": FORMAT, "made": timezone.now().isoformat(timespec="seconds"), "tables": tables}
    out: IO[bytes] = tempfile.SpooledTemporaryFile(max_size=IN_MEMORY)  # noqa: SIM115  the answer closes it
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as archive:
        archive.writestr("car.json", json.dumps(whole, indent=1, ensure_ascii=False, default=_written))
        for name in _names(rows):
            if default_storage.exists(name):
                with default_storage.open(name) as stored:
                    archive.writestr(f"files/{name}", stored.read())
    out.seek(0)
    return out


def _written(value: Any) -> str:
    """A day or a moment as ISO 8601, to the microsecond."""
    return str(value.isoformat() if hasattr(value, "isoformat") else value)


def _names(rows: Rows) -> Iterator[str]:
    for model, column in file_columns():
        for row in rows.get(model, []):
            if name := str(getattr(row, column)):
                yield name


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


def import_car(file: IO[bytes], owner: User, check: bool = False) -> Came:
    """Take a car in as a new one of an account; with ``check`` it is only said what would come.

    Raises
    ------
    BadInput : the file is damaged, foreign or hostile; nothing is written then
    """
    with _opened(file) as archive:
        tables = _tables(archive)
        try:
            with transaction.atomic():
                came = _Import(archive, tables, owner, check).run()
                _looked_at(owner, came)
                if check:
                    transaction.set_rollback(True)
                    came.car_id = None
        except (DatabaseError, ValidationError, ValueError, TypeError, OverflowError) as error:
            raise BadInput(f"holds rows that can't be: {_plain(error)}", "file") from error
    return came


def _looked_at(owner: User, came: Came) -> None:
    """What came is judged, planned and laid out once before it is kept: what can't be is refused now, not on a page.

    Raises
    ------
    BadInput : some row says what no page can read
    """
    try:
        file = open_file(owner, came.car_id or 0)
        everything_in_hand(file)
        book_of(file, tuple(CHAPTERS), money=True)
        for build in builds_of(file):
            sums(file, build)
            planned_of(file, build)
    except Exception as error:
        raise BadInput(f"holds rows that no page can read ({type(error).__name__})", "file") from error
    finally:
        # the file was read inside what may be taken back
        kept.forget()


def _plain(error: BaseException) -> str:
    return "; ".join(error.messages)[:200] if isinstance(error, ValidationError) else str(error)[:200]


def _opened(file: IO[bytes]) -> zipfile.ZipFile:
    """An archive whose entries may be read: few, small, under names of its own."""
    try:
        archive = zipfile.ZipFile(file)
    except (zipfile.BadZipFile, OSError, ValueError, NotImplementedError) as error:
        raise BadInput("is no archive that this can read; accepted: a car's file of this program", "file") from error
    entries = archive.infolist()
    if len(entries) > MOST_FILES or len({one.filename for one in entries}) < len(entries):
        raise BadInput(f"holds {len(entries)} files, or one name twice; accepted: {MOST_FILES} at most", "file")
    whole = 0
    for one in entries:
        path = PurePosixPath(one.filename)
        if path.is_absolute() or ".." in path.parts or "\\" in one.filename or "\0" in one.filename:
            raise BadInput("holds a file that would lie elsewhere; accepted: car.json and files/", "file")
        if one.filename != "car.json" and path.parts[:1] != ("files",):
            raise BadInput(f"holds {one.filename[:60]}; accepted: car.json and files/", "file")
        whole += one.file_size
        squeezed = one.file_size / max(1, one.compress_size)
        if one.file_size > MOST_OF_ONE or whole > MOST_BYTES or (squeezed > MOST_SQUEEZE and one.file_size > 1024**2):
            raise BadInput("unpacks to more than a car's file does", "file")
    return archive


def _read(archive: zipfile.ZipFile, name: str, most: int) -> bytes:
    """One entry, never more of it than is said."""
    try:
        with archive.open(name) as entry:
            raw = entry.read(most + 1)
    except (KeyError, zipfile.BadZipFile, OSError, RuntimeError, NotImplementedError, EOFError, ValueError) as error:
        raise BadInput(f"is damaged, or lacks {name[:60]}", "file") from error
    if len(raw) > most:
        raise BadInput(f"holds a {name[:60]} that is too large", "file")
    return raw


def _tables(archive: zipfile.ZipFile) -> Mapping[str, list[dict[str, Any]]]:
    """The rows, checked for their form: which tables, which fields, how many."""
    try:
        whole = json.loads(_read(archive, "car.json", MOST_JSON))
    except (ValueError, RecursionError) as error:
        raise BadInput("holds no readable car.json", "file") from error
    if not isinstance(whole, dict) or whole.get("format") != FORMAT or not isinstance(whole.get("tables"), dict):
        raise BadInput(f"is of another program or a newer one; accepted: {FORMAT}", "file")
    tables, known = whole["tables"], models_of_a_car()
    if sum(len(rows) for rows in tables.values() if isinstance(rows, list)) > MOST_ROWS:
        raise BadInput(f"holds more than {MOST_ROWS} rows", "file")
    for label, rows in tables.items():
        if label not in known:
            raise BadInput(f"holds a table {label[:60]!r} that is no car's", "file")
        columns = {one.name for one in known[label]._meta.concrete_fields} - {"owner"}
        for row in rows if isinstance(rows, list) else [None]:
            if not isinstance(row, dict) or not isinstance(row.get("fields"), dict) or row.get("pk") is None:
                raise BadInput(f"has a row of {label} without its fields", "file")
            strange = set(row["fields"]) - columns
            if strange:
                raise BadInput(f"has a field {sorted(strange)[0][:40]!r} that {label} does not know", "file")
    if len(tables.get("garage.car", [])) != 1:
        raise BadInput("holds no car, or several; accepted: one", "file")
    found: Mapping[str, list[dict[str, Any]]] = tables
    return found


def _label(relation: Any) -> str:
    """The table that a column points at."""
    return str(relation.related_model._meta.concrete_model._meta.label_lower)


class _Import:
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
            label: {_label(one) for one in self.known[label]._meta.concrete_fields if one.is_relation and not one.null}
            & (set(self.tables) - {label})
            for label in self.tables
        }
        try:
            return list(TopologicalSorter(graph).static_order())
        except CycleError as error:  # pragma: no cover  our own tables have none
            raise BadInput("holds tables that wait for each other", "file") from error

    def _row(self, label: str, row: Mapping[str, Any]) -> None:
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
        made.save_base(raw=True, force_insert=True)
        self.new[label, str(row["pk"])] = made
        self.later += [(made, column, key) for column, key in after]
        for column, name in uploads:
            self._upload(made, column, name)

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
        key = (_label(one), str(value))
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
        raw = _read(self.archive, entry, MOST_OF_ONE)
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
