"""Logs of any kind: a file is looked at first, its columns are named by the person where they say nothing, and only
then is it kept.
"""

from __future__ import annotations

import threading
from typing import Any

from django.contrib import messages
from django.core.files.base import ContentFile
from django.http import Http404, HttpRequest, HttpResponse
from django.shortcuts import get_object_or_404, redirect
from django.urls import reverse
from django.utils import timezone
from django.views.decorators.http import require_POST

from bench.breathing.facts import engine_of
from bench.logs.forms import ColumnsForm, FileForm, HeardForm
from bench.logs.found import heard_of
from bench.logs.kinds import LOG_KINDS
from garage.file import CarFile, open_file
from garage.logs import services
from garage.logs.models import Log
from rimcore.logs.positions import read_track
from rimcore.logs.tables import Table, read_table, table_of
from rimcore.quantities.errors import CoreError
from shell.pages import page, status_of
from shell.people import called

#: rows shown before a log is kept
SHOWN = 8


def add(request: HttpRequest, car_id: int) -> HttpResponse:
    """A file is taken in to be looked at; a simulation goes the same way."""
    file = open_file(request.user, car_id)
    kind = request.POST.get("kind") or request.GET.get("kind") or "pull"
    if kind not in LOG_KINDS:
        raise Http404
    user: Any = request.user
    form = FileForm(
        *((request.POST, request.FILES) if request.method == "POST" else ()),
        initial={"kind": kind, "who": called(user), "taken_on": timezone.localdate()},
    )
    if request.method == "POST" and request.POST.get("simulate"):
        return _simulated(request, file, kind)
    if request.method == "POST" and form.is_valid():
        values = form.cleaned_data
        log = Log(
            car=file.car,
            draft=True,
            source="a file",
            **{name: values[name] for name in ("kind", "name", "when", "who", "taken_on")},
        )
        return _looked_at(request, file, log, values["file"], form)
    return _page(request, file, kind, form)


def _page(request: HttpRequest, file: CarFile, kind: str, form: FileForm) -> HttpResponse:
    context = {
        "form": form,
        "kind": kind,
        "kind_name": LOG_KINDS[kind].name,
        "heard": LOG_KINDS[kind].heard,
        "home": reverse(LOG_KINDS[kind].home, args=[file.car.pk]),
        "simulations": [(one.code, one.name) for one in LOG_KINDS[kind].simulated],
    }
    return page(request, file, "check", "bench/logs/log_add.html", context, status_of(form))


def _simulated(request: HttpRequest, file: CarFile, kind: str) -> HttpResponse:
    """What a simulated gauge wrote, as a file like any other."""
    one = next((one for one in LOG_KINDS[kind].simulated if one.code == request.POST["simulate"]), None)
    if one is None:
        raise Http404
    raw, source = one.write(file)
    user: Any = request.user
    log = Log(car=file.car, kind=kind, draft=True, name=one.name, when=one.when, source=source, who=called(user))
    return _looked_at(request, file, log, ContentFile(raw, name="simulation"), FileForm(initial={"kind": kind}))


def _looked_at(request: HttpRequest, file: CarFile, log: Log, upload: Any, form: FileForm) -> HttpResponse:
    """The file is kept as a draft where it can be read at all; else the form says why, and nothing is kept."""
    table = None
    try:
        if LOG_KINDS[log.kind].heard:
            log.found = heard_of(upload)
        else:
            table = _table(upload.read())
        upload.seek(0)
    except CoreError as error:
        form.is_bound = True
        if not hasattr(form, "cleaned_data"):
            form.full_clean()
        form.add_error("file", f"The file {error.message}.")
        return _page(request, file, log.kind, form)
    log.file.save("log", upload, save=False)
    log.save()
    if table is not None:
        _keep(log, table)
    return redirect("log", file.car.pk, log.pk)


#: one large file is read at a time in a process, so that several do not add up in memory
_ONE_FILE = threading.Lock()


#: the file that was read last, by its name: the page that looks at it asks for it again
_last: dict[str, Table] = {}


def kept_table(one: Log) -> Table:
    """A log's file, parsed once for all the pages that show it."""
    name = str(one.file.name)
    found = _last.get(name)
    if found is None:
        with one.file.open("rb") as opened:
            found = _table(opened.read())
        _keep(one, found)
    return found


def _keep(one: Log, table: Table) -> None:
    """What was parsed last, for the page that asks for it next."""
    _last.clear()
    _last[str(one.file.name)] = table


def _table(raw: bytes) -> Table:
    """A table of figures, or a GPX track as one."""
    with _ONE_FILE:
        return _parsed(raw)


def _parsed(raw: bytes) -> Table:
    if raw.lstrip(b"\xef\xbb\xbf \t\r\n")[:1] == b"<":
        time, lat, lon, speed, heading = read_track(raw.decode("utf-8", "replace"))
        return table_of(
            [
                ("time", "s", "time", time),
                ("speed", "km/h", "speed", speed),
                ("heading", "°", "heading", heading),
                ("latitude", "°", "latitude", lat),
                ("longitude", "°", "longitude", lon),
            ]
        )
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
    if one.asked.get("by_hand"):
        return redirect("cooling" if one.asked.get("ended") else "bleed-hand", car_id)
    return _sound(request, file, one) if LOG_KINDS[one.kind].heard else _columns(request, file, one)


def _columns(request: HttpRequest, file: CarFile, one: Log) -> HttpResponse:
    try:
        table = kept_table(one)
    except (OSError, ValueError, CoreError) as error:
        raise Http404 from error
    form = ColumnsForm(one, table, file, request.POST if request.method == "POST" else None, initial=one.asked)
    if request.method == "POST" and form.is_valid() and form.found is not None:
        services.keep_log(one, {}, form.asked, form.found.kept)
        messages.success(request, f"{one.name} kept: {form.found.said}.")
        return redirect(LOG_KINDS[one.kind].home, file.car.pk)
    rows = [column.values[:SHOWN].tolist() for column in table.columns]
    context = {
        "log": one,
        "form": form,
        "table": table,
        "heads": [(column.name, column.unit, (column.quantity or "").replace("_", " ")) for column in table.columns],
        "first": [[cells[k] for cells in rows] for k in range(min(SHOWN, table.rows))],
        "delimiter": {"\t": "tab", ",": "comma", ";": "semicolon"}.get(table.delimiter, table.delimiter),
        "home": reverse(LOG_KINDS[one.kind].home, args=[file.car.pk]),
        "needs": LOG_KINDS[one.kind].needs,
    }
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
        messages.success(request, f"{one.name} saved.")
        return redirect("sound", file.car.pk)
    context = {"log": one, "form": form, "found": one.found, "home": reverse("sound", args=[file.car.pk])}
    return page(request, file, "check", "bench/logs/log.html", context, status_of(form))


@require_POST
def drop(request: HttpRequest, car_id: int, log_id: int) -> HttpResponse:
    """A log that does not count; undo brings it back."""
    file = open_file(request.user, car_id)
    one = get_object_or_404(Log, pk=log_id, car=file.car)
    services.drop_log(one, request.user)
    return redirect(LOG_KINDS[one.kind].home, file.car.pk)
