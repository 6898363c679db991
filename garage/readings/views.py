"""Measuring: corners and stations."""

from __future__ import annotations

from typing import Any

from django.contrib import messages
from django.http import Http404, HttpRequest, HttpResponse
from django.shortcuts import get_object_or_404, redirect
from django.urls import reverse
from django.views.decorators.http import require_POST

from garage.chassis.links import count_of
from garage.file import CarFile, open_file
from garage.inhand import corner_states, in_hand, judgements_in_hand, next_readings
from garage.readings import queries, services
from garage.readings.forms import ReadingForm, StrikeForm
from garage.readings.models import Reading
from rimcore.tables.facts import CORNER_NAMES, CORNERS
from rimcore.well.read.rule import WHERE
from rimcore.well.read.stations import STATIONS, judged_codes, stations_of
from shell.pages import page, status_of
from shell.people import called


def measure(request: HttpRequest, car_id: int) -> HttpResponse:
    """Plan view of the car, what to measure next, readings of the whole car."""
    file = open_file(request.user, car_id)
    found = next_readings(file)
    return page(request, file, "measure", "garage/measure.html", _measure_context(file, "", found))


def corner(request: HttpRequest, car_id: int, corner: str) -> HttpResponse:
    """A corner's stations."""
    file = open_file(request.user, car_id)
    _known_corner(corner)
    return page(request, file, "measure", "garage/measure.html", _measure_context(file, corner, next_readings(file)))


def _measure_context(file: CarFile, corner: str, ranked: list[Any]) -> dict[str, Any]:
    states = corner_states(file)
    unlocks = {(one.corner, one.code): one.in_hand + one.waits for one in ranked}
    where = CORNER_NAMES[corner]
    judgements = [j for j in judgements_in_hand(file) if j.where == where] if corner else []
    previous, following = queries.neighbours(corner) if corner else ("RR", "FL")
    corners = [_corner_place(file, one, states, corner) for one in CORNERS]
    rows = [
        (row, [queries.reading_text(r, file.preferences) for r in row.readings])
        for row in queries.station_rows(file, corner, judgements, unlocks)
    ]
    return {
        "corner": corner,
        "corners": corners,
        "rows": rows,
        "groups": queries.grouped(corner, rows) if corner else [],
        "next": [(one, STATIONS[one.code]) for one in ranked[:8]],
        "more": max(0, len(ranked) - 8),
        "previous": previous,
        "following": following,
        "in_hand": in_hand(file),
        "links": count_of(file, corner) if corner else None,
    }


#: where a corner stands in the plan view, in drawing units
_PLACES = {"FL": (96, 92), "FR": (284, 92), "RL": (96, 334), "RR": (284, 334)}


def _corner_place(file: CarFile, corner: str, states: dict[str, Any], here: str) -> dict[str, Any]:
    x, y = _PLACES[corner]
    left = corner.endswith("L")
    have = len({reading.code for reading in file.latest if reading.corner == corner})
    return {
        "corner": corner,
        "x": x,
        "y": y,
        "state": states[corner],
        "have": have,
        "wanted": len(stations_of(corner)),
        "text_x": x - 34 if left else x + 34,
        "anchor": "end" if left else "start",
        "here": corner == here,
    }


def _known_corner(corner: str) -> None:
    if corner not in CORNERS:
        raise Http404


def station(request: HttpRequest, car_id: int, corner: str, code: str) -> HttpResponse:
    """One station: where the rule goes, a form for the reading, its history."""
    file = open_file(request.user, car_id)
    place = "" if corner == "car" else corner
    if place:
        _known_corner(place)
    kind = STATIONS.get(code)
    if kind is None or kind not in stations_of(place, of_jobs=True):
        raise Http404
    initial = initial_of(file, place, code, request.user)
    form = ReadingForm(kind, place, file, request.POST if request.method == "POST" else None, initial=initial)
    if request.method == "POST" and place and kind.code in judged_codes(place) and file.standing(place[0]) is None:
        messages.error(request, "First say which wheels stand on the car; a gap is read against them.")
        return redirect("car", car_id)
    if request.method == "POST" and form.is_valid():
        services.take_reading(file, place, code, form.values())
        messages.success(request, f"{kind.name}, {CORNER_NAMES[place]}: saved.")
        return redirect(_after_reading(file, place))
    whole = "all" in request.GET
    past = [
        (reading, queries.reading_text(reading, file.preferences))
        for reading in queries.history(file, place, code, whole)
    ]
    context = {
        "kind": kind,
        "corner": place,
        "form": form,
        "where": WHERE[code],
        "where_view": f"garage/where/{WHERE[code].view}.html",
        "past": past if whole else past[: queries.SHOWN],
        "more": not whole and len(past) > queries.SHOWN,
        "strike_form": StrikeForm(),
        "standing": file.on(file.current, place[:1]),
        "axis_codes": ("caster", "kpi", "kingpin"),
    }
    return page(request, file, "measure", "garage/station.html", context, status_of(form))


def initial_of(file: CarFile, corner: str, code: str, user: Any) -> dict[str, Any]:
    """Where the rule went last time, at this corner or across the car."""
    before = next((r for r in file.readings if r.code == code and r.corner == corner), None) or next(
        (r for r in file.readings if r.code == code and r.corner[:1] == corner[:1]), None
    )
    initial: dict[str, Any] = {"who": called(user)}
    if before is not None:
        initial |= {**before.where, "method": before.method}
    return initial


def _after_reading(file: CarFile, corner: str) -> str:
    if corner:
        return reverse("corner", args=[file.car.pk, corner])
    return reverse("measure", args=[file.car.pk])


def _own_reading(file: CarFile, reading_id: int) -> Reading:
    return get_object_or_404(Reading, pk=reading_id, car=file.car)


@require_POST
def mirror(request: HttpRequest, car_id: int, reading_id: int) -> HttpResponse:
    """Assume the other side is the same, because the person asked."""
    file = open_file(request.user, car_id)
    reading = _own_reading(file, reading_id)
    if not reading.corner:
        raise Http404
    made = services.mirror_reading(reading, request.user)
    messages.success(
        request,
        f"Assumed the same at the {CORNER_NAMES[made.corner]}; it stays marked as assumed until it is measured.",
    )
    return redirect("corner", car_id, made.corner)


@require_POST
def strike(request: HttpRequest, car_id: int, reading_id: int) -> HttpResponse:
    """Strike out a wrong reading."""
    file = open_file(request.user, car_id)
    reading = _own_reading(file, reading_id)
    form = StrikeForm(request.POST)
    if form.is_valid():
        services.strike_reading(reading, form.cleaned_data["why"], request.user)
        messages.success(request, "Struck out. It stays in the history.")
    else:
        messages.error(request, "Say in a few words why the reading is wrong; it was not struck out.")
    return redirect("station", car_id, reading.corner or "car", reading.code)
