"""Garage, car, measuring."""

from __future__ import annotations

from copy import copy
from typing import Any

from django.contrib import messages
from django.db.models import RestrictedError
from django.http import Http404, HttpRequest, HttpResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.urls import reverse
from django.views.decorators.http import require_POST

from garage import queries, services
from garage.file import CarFile, open_file
from garage.forms import (
    CarForm,
    ConditionForm,
    CopySchoolForm,
    HubForm,
    OdometerForm,
    PreferencesForm,
    PresentForm,
    StrikeForm,
    ToleranceForm,
)
from garage.inhand import corner_states, in_hand, judgements_in_hand, next_readings
from garage.linkage import count_of
from garage.models import ENDS, Preferences, Reading, ToleranceSet
from garage.reading_form import ReadingForm
from rimcore.well.stations import CORNER_NAMES, CORNERS, STATIONS, judged_codes, stations_of
from rimcore.well.where import WHERE
from shell import board
from shell.pages import page, status_of


def garage(request: HttpRequest) -> HttpResponse:
    """The person's cars."""
    return render(request, "garage/garage.html", {"cars": queries.cars_of(request.user)})


def car_tally(request: HttpRequest, car_id: int) -> HttpResponse:
    """What is in sight of a car in the garage: its tightest gap, days in hand, what is open."""
    file = open_file(request.user, car_id)
    if not request.headers.get("HX-Request"):
        return redirect("garage")
    shown = {cell.label: cell for cell in board.cells(file)}
    return render(request, "garage/car_tally.html", {"cells": [shown.get(label) for label in ("Tightest gap", "Ready", "Open")]})


def car_new(request: HttpRequest) -> HttpResponse:
    """Add a car."""
    form = CarForm(request.POST or None)
    if request.method == "POST" and form.is_valid():
        car = services.add_car(request.user, form.cleaned_data)
        messages.success(request, "Next: the hubs, and the wheels that stand on the car.")
        return redirect("car", car.pk)
    return render(request, "garage/car_new.html", {"form": form}, status=status_of(form))


def car(request: HttpRequest, car_id: int) -> HttpResponse:
    """What is true of the car: its data, hubs, present wheels, odometer, condition."""
    file = open_file(request.user, car_id)
    what = request.POST.get("what", "")
    bound = _car_forms(request, file, what)
    if request.method == "POST":
        if what not in bound:
            raise Http404
        form = bound[what]
        if form.is_valid():
            _keep(file, what, form.cleaned_data)
            messages.success(request, "Kept.")
            return redirect("car", car_id)
    ends = [(ENDS[end], bound[f"hub-{end}"], bound[f"wheels-{end}"], end) for end in ("F", "R")]
    context = {
        "forms": bound,
        "ends": ends,
        "car_form": bound["car"],
        "odometer_form": bound["odometer"],
        "condition_form": bound["condition"],
    }
    return page(request, file, "measure", "garage/car.html", context, status_of(*bound.values()))


def _car_forms(request: HttpRequest, file: CarFile, what: str) -> dict[str, Any]:
    """Forms on copies: a refused form must not show its typing on the board."""

    def data(name: str) -> Any:
        return request.POST if request.method == "POST" and what == name else None

    found: dict[str, Any] = {
        "car": CarForm(data("car"), instance=copy(file.car), prefix="car"),
        "odometer": OdometerForm(data("odometer"), initial={"odometer_km": file.car.odometer_km}, prefix="odometer"),
        "condition": ConditionForm(data("condition"), prefix="condition"),
    }
    for end in ("F", "R"):
        present = file.on(file.current, end)
        shown = {name: present.said(name) for name in PresentForm.base_fields} if present else {}
        found[f"hub-{end}"] = HubForm(data(f"hub-{end}"), instance=copy(file.axles[end]), prefix=f"hub-{end}")
        read = any(reading.outfit_id == file.current.pk for reading in file.readings) if file.current else False
        found[f"wheels-{end}"] = PresentForm(data(f"wheels-{end}"), initial=shown, prefix=f"wheels-{end}", read_against=read)
    return found


def _keep(file: CarFile, what: str, values: dict[str, Any]) -> None:
    name, _, end = what.partition("-")
    if name == "car":
        services.change_car(file.car, values)
    elif name == "odometer":
        services.set_odometer(file.car, values["odometer_km"])
    elif name == "condition":
        services.note_condition(file.car, values)
    elif name == "hub":
        services.set_hub(file.axles[end], values)
    else:
        services.set_present(file.car, end, values, values.pop("changed", "correct") == "changed")


@require_POST
def car_remove(request: HttpRequest, car_id: int) -> HttpResponse:
    """Remove a car when its name was typed."""
    file = open_file(request.user, car_id)
    if request.POST.get("confirm", "").strip() != file.car.nickname:
        messages.error(request, f"Not removed. To remove the car and all its readings, type its name: {file.car.nickname}.")
        return redirect("car", car_id)
    try:
        services.remove_car(file.car)
    except RestrictedError:
        messages.error(request, "Not removed: something still rests on it.")
        return redirect("car", car_id)
    messages.success(request, f"{file.car.nickname} is removed.")
    return redirect("garage")


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
        "corner": corner, "x": x, "y": y, "state": states[corner], "have": have, "wanted": len(stations_of(corner)),
        "text_x": x - 34 if left else x + 34, "anchor": "end" if left else "start", "here": corner == here,
    }  # fmt: skip


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
    if kind is None or kind not in stations_of(place):
        raise Http404
    initial = initial_of(file, place, code, request.user)
    form = ReadingForm(kind, place, file, request.POST if request.method == "POST" else None, initial=initial)
    if request.method == "POST" and place and kind.code in judged_codes(place) and file.standing(place[0]) is None:
        messages.error(request, "First say which wheels stand on the car; a gap is read against them.")
        return redirect("car", car_id)
    if request.method == "POST" and form.is_valid():
        services.take_reading(file, place, code, form.values())
        messages.success(request, f"{kind.name}, {CORNER_NAMES[place]}: kept.")
        return redirect(_after_reading(file, place))
    whole = "all" in request.GET
    past = [(reading, queries.reading_text(reading, file.preferences)) for reading in queries.history(file, place, code, whole)]
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
    initial: dict[str, Any] = {"who": user.get_short_name() or user.username}
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
    messages.success(request, f"Assumed the same at the {CORNER_NAMES[made.corner]}; it stays marked as assumed until it is measured.")
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


def settings_page(request: HttpRequest) -> HttpResponse:
    """Units, own tolerance sets, password."""
    user: Any = request.user
    preferences = Preferences.objects.filter(user=user).first() or Preferences(user=user)
    what = request.POST.get("what", "")
    units = PreferencesForm(request.POST if what == "units" else None, instance=preferences)
    copy = CopySchoolForm(request.user, request.POST if what == "copy" else None, prefix="copy")
    sets = [
        (one, ToleranceForm(request.POST if what == f"set-{one.pk}" else None, instance=one, prefix=f"set-{one.pk}"))
        for one in ToleranceSet.objects.filter(owner=user)
    ]
    if request.method == "POST" and _keep_setting(request, what, units, copy, sets, preferences):
        return redirect("settings")
    context = {"presets": Preferences.PRESETS, "units": units, "copy": copy, "sets": sets, "preferences": preferences}
    return render(request, "garage/settings.html", context, status=status_of(units, copy, *(form for _, form in sets)))


def _keep_setting(request: HttpRequest, what: str, units: Any, copy: Any, sets: list[Any], preferences: Preferences) -> bool:
    if what.removeprefix("preset-") in Preferences.PRESETS:
        services.keep_preferences(preferences, dict(zip(Preferences.UNITS, Preferences.PRESETS[what.removeprefix("preset-")], strict=True)))
        return True
    if what == "units" and units.is_valid():
        services.keep_preferences(preferences, units.cleaned_data)
        return True
    if what == "copy" and copy.is_valid():
        services.copy_school(request.user, copy.cleaned_data["school"], copy.cleaned_data["name"])
        return True
    for one, form in sets:
        if what == f"set-{one.pk}" and form.is_valid():
            services.change_set(one, form.cleaned_data)
            return True
        if what == f"remove-{one.pk}":
            services.remove_set(one)
            return True
    return False
