"""A car as one file: every row that hangs on it with its pictures and logs, out and in again, into any account."""

from __future__ import annotations

import json
import tempfile
import uuid
import zipfile
from collections.abc import Iterator, Mapping
from pathlib import PurePosixPath
from typing import IO, Any

from django.contrib.auth.models import User
from django.core import serializers
from django.core.exceptions import ValidationError
from django.core.files.storage import default_storage
from django.db import DatabaseError, models, transaction
from django.utils import timezone

from exchange.account import hanging_on
from exchange.merging import Merging
from exchange.origins import as_mark, digest, keep_bases, key_of, marked
from exchange.taking import LEFT_BEHIND, MOST_OF_ONE, Came, Taking, models_of_a_car, read_entry
from garage.car.models import Car
from garage.file import open_file
from garage.inhand import everything_in_hand
from garage.person.models import ToleranceSet
from planner.chosen import builds_of
from planner.dates.facts import planned_of
from planner.models import Build
from planner.queries import sums
from proof.book.chapters import CHAPTERS, book_of
from rimcore.quantities.errors import BadInput
from shell import kept
from shell.tidy import file_columns
from shell.turn import turn_of

FORMAT = "rim-tally-car-1"
#: what an archive may hold: files, bytes of all and of one when unpacked, how much smaller it may be, rows, text
MOST_FILES, MOST_BYTES, MOST_SQUEEZE = 3000, 600 * 1024**2, 400.0
MOST_ROWS, MOST_JSON, IN_MEMORY = 30_000, 40 * 1024**2, 8 * 1024**2
#: an upload may be this large [bytes]
MOST_SENT = 300 * 1024**2
#: what becomes of a file whose car is here already
AGAIN = {"stop": "stop", "merge": "merge: take what changed there, keep what changed here", "both": "keep both"}

Rows = dict[type[models.Model], list[models.Model]]


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
    _mark_rows(car, rows, tables)
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


def _mark_rows(car: Car, rows: Rows, tables: dict[str, Any]) -> None:
    """Each row says its mark, and how it was when it last came in."""
    marks = marked(car, [one for each in rows.values() for one in each])
    for model, each in rows.items():
        for row, told in zip(each, tables[model._meta.label_lower], strict=True):
            mark = marks[key_of(row)]
            told["uid"], told["base"] = str(mark.uid), mark.base


def _written(value: Any) -> str:
    """A day or a moment as ISO 8601, to the microsecond."""
    return str(value.isoformat() if hasattr(value, "isoformat") else value)


def _names(rows: Rows) -> Iterator[str]:
    for model, column in file_columns():
        for row in rows.get(model, []):
            if name := str(getattr(row, column)):
                yield name


def import_car(file: IO[bytes], owner: User, check: bool = False, again: str = "stop") -> Came:
    """Take a car in; with ``check`` it is only said what would come.

    Parameters
    ----------
    file : the archive
    owner : whose car it becomes
    check : nothing is kept
    again : one of ``AGAIN``: what to do where the same car is here already

    Raises
    ------
    BadInput : the file is damaged, foreign or hostile, or its car is here already; nothing is written then
    """
    with _opened(file) as archive, turn_of(owner):
        tables = _tables(archive)
        known = _known(owner, tables)
        if known is not None and again == "stop":
            raise BadInput(
                f"is of a car that is here already, as “{known.nickname}”; accepted: merge, or keep both", "again"
            )
        try:
            with transaction.atomic():
                if known is not None and again == "merge":
                    came = _merged(archive, tables, owner, check, known)
                else:
                    came = _new(archive, tables, owner, check)
                _looked_at(owner, came)
                if check:
                    transaction.set_rollback(True)
                    came.car_id = None
        except (DatabaseError, ValidationError, ValueError, TypeError, OverflowError) as error:
            raise BadInput(f"holds rows that can't be: {_plain(error)}", "file") from error
    return came


def _known(owner: User, tables: Mapping[str, list[dict[str, Any]]]) -> Car | None:
    """The same car in the account; a copy that is only read is none."""
    uid = as_mark(tables["garage.car"][0]["fields"].get("uid"))
    return None if uid is None else Car.objects.filter(owner=owner, uid=uid, closed_on__isnull=True).first()


def _new(archive: zipfile.ZipFile, tables: Mapping[str, list[dict[str, Any]]], owner: User, check: bool) -> Came:
    """A car of its own; where the same is here already it is another one from now on."""
    another = _known(owner, tables) is not None
    took = Taking(archive, tables, owner, check)
    came = took.run()
    car = Car.objects.get(pk=came.car_id)
    car.closed_on = None
    if another:
        car.uid = uuid.uuid4()
    car.save()
    if not check and not another:
        uids = {
            key_of(took.new[label, str(row["pk"])]): mark
            for label, rows in tables.items()
            for row in rows
            if (mark := as_mark(row.get("uid"))) is not None
        }
        _keep_marks(car, uids)
    return came


def _keep_marks(car: Car, uids: dict[tuple[str, int], str]) -> None:
    """Rows as they are now are how they came."""
    rows = [one for each in rows_of_car(car).values() for one in each]
    keep_bases(car, rows, uids, {key_of(row): digest(row, uids) for row in rows})


def _merged(
    archive: zipfile.ZipFile,
    tables: Mapping[str, list[dict[str, Any]]],
    owner: User,
    check: bool,
    known: Car,
) -> Came:
    """Laid beside the car that is here."""
    rows = [one for each in rows_of_car(known).values() for one in each]
    marked(known, rows)
    took = Merging(archive, tables, owner, check, known, rows)
    came = took.run()
    if not check:
        here = [one for each in rows_of_car(known).values() for one in each]
        keep_bases(known, here, took.uids, took.bases)
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


def _tables(archive: zipfile.ZipFile) -> Mapping[str, list[dict[str, Any]]]:
    """The rows, checked for their form: which tables, which fields, how many."""
    try:
        whole = json.loads(read_entry(archive, "car.json", MOST_JSON))
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
