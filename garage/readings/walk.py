"""The measuring walk: one station a screen in the order of least crawling, a floor sheet to print and to type in."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, replace
from itertools import groupby
from typing import Any

from django.contrib import messages
from django.http import FileResponse, Http404, HttpRequest, HttpResponse
from django.http.response import HttpResponseBase
from django.shortcuts import get_object_or_404, redirect
from django.urls import reverse
from django.utils import timezone
from django.utils.http import urlencode
from django.views.decorators.http import require_POST

from garage.file import CarFile, open_file
from garage.inhand import judgements_in_hand, next_readings
from garage.readings import floor, services
from garage.readings.forms import ReadingForm, SheetRow, SkipForm
from garage.readings.models import Reading, Skip
from garage.readings.views import initial_of
from rimcore.quantities.errors import BadInput
from rimcore.quantities.judgement import Judgement
from rimcore.tables.facts import CORNER_NAMES, CORNERS
from rimcore.well.read.rule import WHERE
from rimcore.well.read.stations import STATIONS, judged_codes, stations_of
from rimcore.well.read.walk import STANDINGS, Stop, in_order, minutes
from shell.offline import Clash, is_late
from shell.pages import page, status_of
from shell.people import called
from shell.workbooks import XLSX


@dataclass(frozen=True)
class Route:
    """The stops that are open, in order, those passed over, and how long the open ones take."""

    stops: tuple[Stop, ...]
    skips: list[Skip]
    whole: bool

    @property
    def minutes(self) -> float:
        return minutes(self.stops)

    def beside(self, at: Stop) -> tuple[Stop | None, Stop | None]:
        """The stops before and after one."""
        place = self.stops.index(at)
        return self.stops[place - 1] if place else None, self.stops[place + 1] if place + 1 < len(self.stops) else None


def route_of(file: CarFile, whole: bool) -> Route:
    """What the judgement in hand waits for, else what any pair waits for; the whole plan where it is asked for."""
    skips = [skip for skip in file.car.skips.all() if skip.code in STATIONS]
    passed = {(skip.corner, skip.code) for skip in skips}
    if whole:
        wanted = [Stop(corner, code) for corner in CORNERS for code in judged_codes(corner)]
    else:
        ranked = next_readings(file)
        wanted = [Stop(one.corner, one.code) for one in ranked if one.in_hand] or [
            Stop(one.corner, one.code) for one in ranked
        ]
    read = {(reading.corner, reading.code) for reading in file.latest if not reading.mirrored_from_id}
    locks = {(r.corner[:1], r.code): (r.steer_deg > 0) - (r.steer_deg < 0) for r in reversed(file.readings)}
    stops = [
        replace(one, lock=locks.get((one.corner[:1], one.code), 0))
        for one in wanted
        if (one.corner, one.code) not in read | passed
    ]
    return Route(in_order(stops), skips, whole)


def _opened(request: HttpRequest, car_id: int) -> tuple[CarFile, Route | None]:
    """The car's file and its route; no route, and a word about it, where no wheels stand on the car yet."""
    file = open_file(request.user, car_id)
    if file.current is None:
        messages.error(request, "First say which wheels stand on the car; a gap is read against them.")
        return file, None
    return file, route_of(file, request.GET.get("all") == "1")


def walk(request: HttpRequest, car_id: int) -> HttpResponse:
    """The station at hand: its drawing, one field or two, and what the last reading unlocked."""
    file, route = _opened(request, car_id)
    if route is None:
        return redirect("car", car_id)
    whole = route.whole
    at = _stop_at(request.GET.get("at", ""), route)
    if at is None:
        return page(request, file, "measure", "garage/walk.html", {"route": route, "said": _said(file, request)})
    form = ReadingForm(
        STATIONS[at.code],
        at.corner,
        file,
        request.POST if request.method == "POST" else None,
        initial=initial_of(file, at.corner, at.code, request.user),
    )
    if request.method == "POST" and is_late(request):
        _no_clash(file, at, request.POST.get("seen", ""))
    if request.method == "POST" and form.is_valid():
        services.take_reading(file, at.corner, at.code, form.values())
        following = route.beside(at)[1] if at in route.stops else None
        return redirect(_address(file, whole, at=following.key if following else "", just=at.key))
    before, after = route.beside(at) if at in route.stops else (None, None)
    context = {
        "route": route,
        "at": at,
        "kind": STATIONS[at.code],
        "corner": at.corner,
        "form": form,
        "skip_form": SkipForm(),
        "where": WHERE[at.code],
        "where_view": f"garage/where/{WHERE[at.code].view}.html",
        "said": _said(file, request),
        "standing": STANDINGS[at.standing],
        "place": route.stops.index(at) + 1 if at in route.stops else 0,
        "before": before and _address(file, whole, at=before.key),
        "after": after and _address(file, whole, at=after.key),
        "here": _address(file, whole, at=at.key),
        "seen": _seen(file, at),
        "ahead": " ".join(_address(file, whole, at=stop.key) for stop in _following(route, at)),
    }
    return page(request, file, "measure", "garage/walk.html", context, status_of(form))


#: stops that are fetched ahead, for a garage without a connection
AHEAD = 8


def _following(route: Route, at: Stop) -> tuple[Stop, ...]:
    """The next stops of the walk."""
    place = route.stops.index(at) + 1 if at in route.stops else 0
    return route.stops[place : place + AHEAD]


def _seen(file: CarFile, at: Stop) -> str:
    """The newest reading that a page has shown of a station."""
    return str(max((one.pk for one in file.readings if (one.corner, one.code) == (at.corner, at.code)), default=0))


def _no_clash(file: CarFile, at: Stop, seen: str) -> None:
    """A reading typed without a connection is asked about where another came meanwhile.

    Raises
    ------
    Clash : with what was read
    """
    if seen != _seen(file, at):
        newest = max(
            (one for one in file.readings if (one.corner, one.code) == (at.corner, at.code)),
            key=lambda one: one.pk,
            default=None,
        )
        raise Clash(
            f"{newest.typed} was read, {newest.who or 'by nobody named'}"
            if newest is not None
            else "the reading was taken back"
        )


def _address(file: CarFile, whole: bool, **query: str) -> str:
    asked = {name: value for name, value in query.items() if value} | ({"all": "1"} if whole else {})
    return reverse("walk", args=[file.car.pk]) + (f"?{urlencode(asked)}" if asked else "")


def _stop_at(key: str, route: Route) -> Stop | None:
    """The stop of an address, else the first that is open; None where the walk is done."""
    corner, _, code = key.partition(".")
    if key:
        if code not in STATIONS or corner not in ("", *CORNERS) or STATIONS[code] not in stations_of(corner):
            raise Http404
        return next((stop for stop in route.stops if stop.key == key), Stop(corner, code))
    return route.stops[0] if route.stops else None


def _said(file: CarFile, request: HttpRequest) -> list[Judgement]:
    """What the reading that was just kept says of the build in hand."""
    corner, _, code = request.GET.get("just", "").partition(".")
    if code not in STATIONS or corner not in CORNER_NAMES:
        return []
    of_station = [
        j
        for j in judgements_in_hand(file)
        if j.where == CORNER_NAMES[corner] and j.value is not None and j.code.removeprefix("gap.").split(".")[0] == code
    ]
    return sorted(of_station, key=lambda j: j.margin if j.margin is not None else 0.0)


@require_POST
def skip(request: HttpRequest, car_id: int) -> HttpResponse:
    """Pass the station over, with a reason; the next one comes."""
    file = open_file(request.user, car_id)
    whole = request.POST.get("all") == "1"
    at = _stop_at(request.POST.get("at", ""), Route((), [], whole))
    form = SkipForm(request.POST)
    if at is None:
        raise Http404
    if not form.is_valid():
        messages.error(
            request, "Not passed over: " + "; ".join(str(error) for errors in form.errors.values() for error in errors)
        )
        return redirect(_address(file, whole, at=at.key))
    route = route_of(file, whole)
    following = route.beside(at)[1] if at in route.stops else None
    services.skip_station(file, at.corner, at.code, form.cleaned_data)
    return redirect(_address(file, whole, at=following.key if following else ""))


@require_POST
def again(request: HttpRequest, car_id: int, skip_id: int) -> HttpResponse:
    """Take a station up that was passed over."""
    file = open_file(request.user, car_id)
    passed = get_object_or_404(Skip, pk=skip_id, car=file.car)
    services.take_up_again(passed, request.user)
    return redirect(_address(file, False, at=f"{passed.corner}.{passed.code}"))


def sheet(request: HttpRequest, car_id: int) -> HttpResponseBase:
    """The floor sheet: empty fields in the order of the walk, to print, and to type in afterwards.

    All of it is kept or none.
    """
    file, route = _opened(request, car_id)
    if route is None:
        return redirect("car", car_id)
    if request.GET.get("as") in ("csv", "xlsx"):
        return _floor_file(request, file, route)
    if "upload" in request.POST:
        return _read_back(request, file, route)
    data = request.POST if request.method == "POST" else None
    rows = _sheet_rows(request, file, route, data)
    filled = [(stop, row) for stop, row in rows if row.is_bound and row.filled]
    if filled and all(row.is_valid() for _, row in filled):
        how = {
            "who": called(file.user),
            "taken_on": timezone.localdate(),
            "condition": file.car.conditions.first(),
        }
        kept: list[Reading] = services.take_sheet(
            file, [(stop.corner, stop.code, row.values()) for stop, row in filled], how
        )
        messages.success(request, f"{len(kept)} reading{'' if len(kept) == 1 else 's'} saved.")
        return redirect("measure", car_id)
    if data is not None and not filled:
        messages.error(request, "Nothing was typed; the sheet is as it was.")
    return _sheet_page(request, file, route, rows, wrong=bool(filled))


Rows = list[tuple[Stop, SheetRow]]


def _sheet_rows(request: HttpRequest, file: CarFile, route: Route, data: Mapping[str, Any] | None = None) -> Rows:
    return [(stop, _row(file, stop, data, request.user)) for stop in route.stops]


def _sheet_page(
    request: HttpRequest, file: CarFile, route: Route, rows: Rows, *, wrong: bool = False, **brought: Any
) -> HttpResponse:
    filled = [row for _, row in rows if row.is_bound and row.filled]
    groups = [(stops[0][0].head, stops) for stops in (list(each) for _, each in groupby(rows, lambda one: one[0].head))]
    context: dict[str, Any] = {
        "route": route,
        "groups": groups,
        "refused": sum(not row.is_valid() for row in filled),
        "whole": route.whole,
        "filled": len(filled),
        "form": floor.FloorFileForm(),
        **brought,
    }
    return page(request, file, "measure", "garage/walk_sheet.html", context, 422 if wrong else 200)


def _read_back(request: HttpRequest, file: CarFile, route: Route) -> HttpResponse:
    """What a filled file says, on the sheet; nothing of it is kept before it was looked at."""
    form, brought = floor.FloorFileForm(request.POST, request.FILES), None
    if form.is_valid():
        try:
            brought = floor.read_back(form.text, _sheet_rows(request, file, route))
        except BadInput as error:
            form.add_error("file", error.message)
    rows = _sheet_rows(request, file, route, brought.data if brought else None)
    return _sheet_page(request, file, route, rows, wrong=brought is None, form=form, brought=brought)


def _floor_file(request: HttpRequest, file: CarFile, route: Route) -> HttpResponseBase:
    """The floor sheet to take along."""
    table = floor.table_of(file, _sheet_rows(request, file, route))
    stem = f"floor-sheet-{file.car.pk}-{timezone.localdate()}"
    if request.GET["as"] == "xlsx":
        return FileResponse(floor.as_xlsx(table), as_attachment=True, filename=f"{stem}.xlsx", content_type=XLSX)
    named = {"Content-Disposition": f'attachment; filename="{stem}.csv"'}
    return HttpResponse(floor.as_csv(table), content_type="text/csv; charset=utf-8", headers=named)


def _row(file: CarFile, stop: Stop, data: Any, user: Any) -> SheetRow:
    return SheetRow(
        STATIONS[stop.code],
        stop.corner,
        file,
        data,
        prefix=f"{stop.corner}-{stop.code}",
        initial=initial_of(file, stop.corner, stop.code, user),
    )
