"""The steering axis from the wheel itself: scrub circle, lower joint, caster sweep."""

from __future__ import annotations

from typing import Any

from django.contrib import messages
from django.http import Http404, HttpRequest, HttpResponse
from django.shortcuts import redirect

from garage.file import open_file
from garage.readings import services
from garage.readings.forms import AxisForm
from rimcore.steering.axis import Found
from rimcore.tables.facts import CORNER_NAMES, CORNERS
from rimcore.well.read.stations import STATIONS
from shell.pages import page, status_of
from shell.people import called


def axis(request: HttpRequest, car_id: int, corner: str) -> HttpResponse:
    """Work out a front corner's steering axis from what is read at the wheel, then keep it as readings."""
    file = open_file(request.user, car_id)
    if corner not in CORNERS or corner[0] != "F":
        raise Http404
    user: Any = request.user
    form = AxisForm(file, request.POST if request.method == "POST" else None, initial={"who": called(user)})
    found: list[Found] = []
    if request.method == "POST" and file.current is None:
        messages.error(request, "First say which wheels stand on the car; the floor is read under them.")
        return redirect("car", car_id)
    if request.method == "POST" and form.is_valid():
        found = form.found(file, corner)
        form.outside(found)
        if not found and form.is_valid():
            form.add_error(
                None, "Write the circle and the joint, one of them with an inclination, or both cambers of a sweep."
            )
        elif request.POST.get("action") == "keep" and form.is_valid():
            services.keep_axis(file, corner, found, form.typed, form.cleaned_data["who"], form.cleaned_data["taken_on"])
            kept = ", ".join(STATIONS[one.station].name.lower() for one in found)
            messages.success(request, f"Kept at the {CORNER_NAMES[corner]}: {kept}.")
            return redirect("corner", car_id, corner)
    shown = [(one, STATIONS[one.station]) for one in found if form.is_valid()]
    context = {"corner": corner, "form": form, "found": shown, "standing": file.on(file.current, corner[0])}
    return page(request, file, "measure", "garage/axis.html", context, status_of(form))
