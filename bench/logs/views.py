"""Logs of any kind: a file is looked at first, its columns are named by the person where they say nothing, and only then is it kept."""

from __future__ import annotations

import threading
from collections.abc import Callable
from typing import Any

from django.contrib import messages
from django.core.files.base import ContentFile
from django.http import Http404, HttpRequest, HttpResponse
from django.shortcuts import get_object_or_404, redirect
from django.urls import reverse
from django.utils import timezone
from django.views.decorators.http import require_POST

from bench.breathing.facts import engine_of
from bench.logs.forms import ADDED, ColumnsForm, FileForm, HeardForm
from bench.logs.found import GROUPS, heard_of
from garage.file import CarFile, open_file
from garage.logs import services
from garage.logs.models import Log
from gauges import streams
from rimcore.aero.coastlogs import read_gpx
from rimcore.breathing.logs import Table, read_table, table_of
from rimcore.quantities.errors import CoreError
from shell.pages import page, status_of

#: rows shown before a log is kept
SHOWN = 8


#: where a kept log is looked at
HOME = {"pull": "pulls", "bleed": "cooling", "sound": "sound", "temperature": "cooling", "coast": "coast"}


def add(request: HttpRequest, car_id: int) -> HttpResponse:
    """A file is taken in to be looked at; a simulation goes the same way."""
    file = open_file(request.user, car_id)
    kind = request.POST.get("kind") or request.GET.get("kind") or "pull"
    if kind not in ADDED:
        raise Http404
    user: Any = request.user
    form = FileForm(
        *((request.POST, request.FILES) if request.method == "POST" else ()), initial={"kind": kind, "who": user.get_short_name() or user.username, "taken_on": timezone.localdate()}
    )  # fmt: skip
    if request.method == "POST" and request.POST.get("simulate"):
        return _simulated(request, file, kind)
    if request.method == "POST" and form.is_valid():
        values = form.cleaned_data
        log = Log(car=file.car, draft=True, source="a file", **{name: values[name] for name in ("kind", "name", "when", "who", "taken_on")})
        return _looked_at(request, file, log, values["file"], form)
    return _page(request, file, kind, form)


def _page(request: HttpRequest, file: CarFile, kind: str, form: FileForm) -> HttpResponse:
    context = {
        "form": form,
        "kind": kind,
        "kind_name": Log.KINDS[kind],
        "home": reverse(HOME[kind], args=[file.car.pk]),
        "simulations": SIMULATIONS.get(kind, ()),
    }
    return page(request, file, "check", "bench/logs/log_add.html", context, status_of(form))


#: simulated files by kind: code, name, what writes it
SIMULATIONS: dict[str, tuple[tuple[str, str], ...]] = {
    "bleed": (("bleeds", "a run that bleeds"), ("locked", "an engine with an air lock")),
    "pull": (("before", "three pulls, as it stands"), ("after", "three pulls, after")),
    "sound": (("quiet", "a cabin at cruise"), ("droning", "the same with a drone")),
    "coast": (("bare", "three runs each way, as it stands"), ("panelled", "the same with a flat panel")),
}


def _simulated(request: HttpRequest, file: CarFile, kind: str) -> HttpResponse:
    """What a simulated gauge wrote, as a file like any other."""
    code = request.POST["simulate"]
    names = dict(SIMULATIONS.get(kind, ()))
    if code not in names:
        raise Http404
    made: dict[str, Callable[[], tuple[bytes, str]]] = {
        "bleed": lambda: (streams.bleed_csv(streams.RUNS[code], file.car.pk), streams.HOSES),
        "pull": lambda: (streams.pulls_csv(92.0 if code == "after" else 88.0, 5900.0, file.car.pk + len(code)), streams.BRAKE),
        "coast": lambda: (
            streams.coast_csv(0.655 if code == "panelled" else 0.67, file.car.mass_kg or 1250.0, file.car.pk + len(code)),
            streams.POSITION,
        ),
        "sound": lambda: (streams.recording(*_cruise(file), code == "droning", file.car.pk), streams.RECORDER),
    }
    raw, source = made[kind]()
    user: Any = request.user
    when = "after" if code in ("after", "droning", "panelled") else "before"
    log = Log(car=file.car, kind=kind, draft=True, name=names[code], when=when, source=source, who=user.get_short_name() or user.username)
    return _looked_at(request, file, log, ContentFile(raw, name="simulation"), FileForm(initial={"kind": kind}))


def _cruise(file: CarFile) -> tuple[float, int]:
    engine = engine_of(file)
    return (engine.cruise_rpm or 2600.0, engine.cylinders) if engine is not None else (2600.0, 4)


def _looked_at(request: HttpRequest, file: CarFile, log: Log, upload: Any, form: FileForm) -> HttpResponse:
    """The file is kept as a draft where it can be read at all; else the form says why, and nothing is kept."""
    try:
        if log.kind == "sound":
            log.found = heard_of(upload)
            upload.seek(0)
        else:
            _table(upload.read())
            upload.seek(0)
    except CoreError as error:
        form.is_bound = True
        if not hasattr(form, "cleaned_data"):
            form.full_clean()
        form.add_error("file", f"The file {error.message}.")
        return _page(request, file, log.kind, form)
    log.file.save("log", upload, save=False)
    log.save()
    return redirect("log", file.car.pk, log.pk)


#: one large file is read at a time in a process, so that several do not add up in memory
_ONE_FILE = threading.Lock()


#: the file that was read last, by its name: the page that looks at it asks for it again
_last: dict[str, Table] = {}


def _kept_table(one: Log) -> Table:
    """A log's file, parsed once for all the pages that show it."""
    name = str(one.file.name)
    found = _last.get(name)
    if found is None:
        with one.file.open("rb") as opened:
            found = _table(opened.read())
        _last.clear()
        _last[name] = found
    return found


def _table(raw: bytes) -> Table:
    """A table of figures, or a GPX track as one."""
    with _ONE_FILE:
        return _parsed(raw)


def _parsed(raw: bytes) -> Table:
    if raw.lstrip(b"\xef\xbb\xbf \t\r\n")[:1] == b"<":
        time, speed, heading = read_gpx(raw.decode("utf-8", "replace"))
        return table_of([("time", "s", "time", time), ("speed", "km/h", "speed", speed), ("heading", "°", "heading", heading)])
    for encoding in ("utf-8-sig", "cp1252"):
        try:
            return read_table(raw.decode(encoding))
        except UnicodeDecodeError:
            continue
    return read_table(raw.decode("latin-1"))


def log(request: HttpRequest, car_id: int, log_id: int) -> HttpResponse:
    """A log before it is kept, and afterwards: how it was read, its first rows, what was found."""
    file = open_file(request.user, car_id)
    one = get_object_or_404(Log, pk=log_id, car=file.car)
    return _sound(request, file, one) if one.kind == "sound" else _columns(request, file, one)


def _columns(request: HttpRequest, file: CarFile, one: Log) -> HttpResponse:
    try:
        table = _kept_table(one)
    except (OSError, ValueError, CoreError) as error:
        raise Http404 from error
    form = ColumnsForm(one, table, file, request.POST if request.method == "POST" else None, initial=one.asked)
    if request.method == "POST" and form.is_valid() and form.found is not None:
        services.keep_log(one, {}, form.asked, form.found.kept)
        messages.success(request, f"{one.name} kept: {form.found.said}.")
        return redirect(HOME[one.kind], file.car.pk)
    rows = [column.values[:SHOWN].tolist() for column in table.columns]
    context = {
        "log": one, "form": form, "table": table, "heads": [(column.name, column.unit, (column.quantity or "").replace("_", " ")) for column in table.columns],
        "first": [[cells[k] for cells in rows] for k in range(min(SHOWN, table.rows))], "delimiter": {"\t": "tab", ",": "comma", ";": "semicolon"}.get(table.delimiter, table.delimiter),
        "home": reverse(HOME[one.kind], args=[file.car.pk]), "needs": GROUPS[one.kind].needs,
    }  # fmt: skip
    return page(request, file, "check", "bench/logs/log.html", context, status_of(form))


def _sound(request: HttpRequest, file: CarFile, one: Log) -> HttpResponse:
    engine = engine_of(file)
    first: dict[str, Any] = {"rpm": engine.cruise_rpm if engine else None} | one.asked
    form = HeardForm(*((request.POST, request.FILES) if request.method == "POST" else ()), initial=first)
    if request.method == "POST" and form.is_valid():
        asked = {name: value for name, value in form.cleaned_data.items() if value not in ("", None)}
        if form.offset_db is not None:
            asked["offset_db"] = form.offset_db
        services.keep_log(one, {}, asked, one.found)
        messages.success(request, f"{one.name} kept.")
        return redirect("sound", file.car.pk)
    context = {"log": one, "form": form, "found": one.found, "home": reverse("sound", args=[file.car.pk])}
    return page(request, file, "check", "bench/logs/log.html", context, status_of(form))


@require_POST
def drop(request: HttpRequest, car_id: int, log_id: int) -> HttpResponse:
    """A log that does not count; undo brings it back."""
    file = open_file(request.user, car_id)
    one = get_object_or_404(Log, pk=log_id, car=file.car)
    services.drop_log(one, request.user)
    return redirect(HOME[one.kind], file.car.pk)
