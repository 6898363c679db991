"""Garage and car."""

from __future__ import annotations

from copy import copy
from typing import Any

from django.contrib import messages
from django.db.models import RestrictedError
from django.http import Http404, HttpRequest, HttpResponse
from django.shortcuts import redirect, render
from django.views.decorators.http import require_POST

from garage.car import queries
from garage.car import services as car_services
from garage.car.forms import CarForm, HubForm, OdometerForm, PresentForm
from garage.file import CarFile, open_file
from garage.readings import services as readings_services
from garage.readings.forms import ConditionForm
from rimcore.tables.facts import ENDS
from shell import board
from shell.pages import page, status_of


def garage(request: HttpRequest) -> HttpResponse:
    """The person's cars."""
    words = request.GET.get("words", "")[:100]
    cars = queries.cars_of(request.user, words, request.GET.get("page", 1))
    return render(request, "garage/garage.html", {"cars": cars, "words": words, "many": cars.paginator.num_pages > 1})


def car_tally(request: HttpRequest, car_id: int) -> HttpResponse:
    """What is in sight of a car in the garage: its tightest gap, days in hand, what is open."""
    file = open_file(request.user, car_id)
    if not request.headers.get("HX-Request"):
        return redirect("garage")
    shown = {cell.label: cell for cell in board.cells(file)}
    return render(
        request, "garage/car_tally.html", {"cells": [shown.get(label) for label in ("Tightest gap", "Ready", "Open")]}
    )


def car_new(request: HttpRequest) -> HttpResponse:
    """Add a car."""
    form = CarForm(request.POST or None)
    if request.method == "POST" and form.is_valid():
        car = car_services.add_car(request.user, form.cleaned_data)
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
            messages.success(request, "Saved.")
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
        found[f"wheels-{end}"] = PresentForm(
            data(f"wheels-{end}"), initial=shown, prefix=f"wheels-{end}", read_against=read
        )
    return found


def _keep(file: CarFile, what: str, values: dict[str, Any]) -> None:
    name, _, end = what.partition("-")
    if name == "car":
        car_services.change_car(file.car, values)
    elif name == "odometer":
        car_services.set_odometer(file.car, values["odometer_km"])
    elif name == "condition":
        readings_services.note_condition(file.car, values)
    elif name == "hub":
        car_services.set_hub(file.axles[end], values)
    else:
        car_services.set_present(file.car, end, values, values.pop("changed", "correct") == "changed")


@require_POST
def car_remove(request: HttpRequest, car_id: int) -> HttpResponse:
    """Remove a car when its name was typed."""
    file = open_file(request.user, car_id)
    if request.POST.get("confirm", "").strip() != file.car.nickname:
        messages.error(
            request, f"Not removed. To remove the car and all its readings, type its name: {file.car.nickname}."
        )
        return redirect("car", car_id)
    try:
        car_services.remove_car(file.car)
    except RestrictedError:
        messages.error(request, "Not removed: something still rests on it.")
        return redirect("car", car_id)
    messages.success(request, f"{file.car.nickname} is removed.")
    return redirect("garage")
