"""The page of a car's other sets of wheels."""

from __future__ import annotations

from django.contrib import messages
from django.http import HttpRequest, HttpResponse
from django.shortcuts import get_object_or_404, redirect
from django.utils import timezone
from django.views.decorators.http import require_POST

from garage.file import open_file
from rimcore.fastening.fasteners import RETORQUE_KM
from rimcore.tables.facts import ENDS
from shelf.models import WheelSet
from shelf.sets.forms import FitForm, SetForm
from shelf.sets.services import MOST_SETS, add_set, put_on, remove_set, shown
from shell.pages import page, status_of


def sets(request: HttpRequest, car_id: int) -> HttpResponse:
    """The other sets of a car, each checked on it; a form for another one."""
    file = open_file(request.user, car_id)
    form = SetForm(file.car, request.POST if request.method == "POST" else None)
    if request.method == "POST" and form.is_valid():
        if WheelSet.objects.filter(car=file.car).count() >= MOST_SETS:
            form.add_error(None, f"Up to {MOST_SETS} sets a car; remove one first.")
        else:
            add_set(file, form.cleaned_data)
            messages.success(request, f"{form.cleaned_data['name']}: saved.")
            return redirect("sets", car_id)
    rows = WheelSet.objects.filter(car=file.car).prefetch_related("axles__wheel_part", "axles__tyre_part")
    current = file.current
    context = {
        "form": form,
        "sets": [shown(file, row) for row in rows],
        "today": timezone.localdate(),
        "least": current.since if current else None,
        "current": current,
        "now": [(name, file.on(current, end)) for end, name in ENDS.items()],
    }
    return page(request, file, "choose", "shelf/sets.html", context, status_of(form))


@require_POST
def fit(request: HttpRequest, car_id: int, set_id: int) -> HttpResponse:
    """Put a set on from a day on; what came off is a set from then on."""
    file = open_file(request.user, car_id)
    row = get_object_or_404(WheelSet, pk=set_id, car=file.car)
    current = file.current
    form = FitForm(current.since if current else None, request.POST)
    if not form.is_valid():
        messages.error(request, f"{row.name} was not put on. {form.errors['since'][0]}")
        return redirect("sets", car_id)
    put_on(file, row, request.user, form.cleaned_data["since"])
    messages.success(
        request,
        f"{row.name} stands on the car now. Tighten the nuts to the figure, and again after {RETORQUE_KM[0]} km: it is noted.",
    )
    return redirect("sets", car_id)


@require_POST
def remove(request: HttpRequest, car_id: int, set_id: int) -> HttpResponse:
    """A set that is there no more; undo brings it back."""
    file = open_file(request.user, car_id)
    row = get_object_or_404(WheelSet, pk=set_id, car=file.car)
    remove_set(row, request.user)
    messages.success(request, f"{row.name} is removed.")
    return redirect("sets", car_id)
