"""Proving: before and after, with the scatter shown."""

from __future__ import annotations

from django.http import Http404, HttpRequest, HttpResponse
from django.shortcuts import get_object_or_404, redirect
from django.views.decorators.http import require_POST

from garage.file import CarFile, open_file
from proof import queries, services
from proof.forms import RunForm, SeriesForm, TankForm
from proof.models import Run, Series
from proof.planned.queries import planned, plans_of
from rimcore.proof.ready import BY_KEY, READY
from rimcore.proof.tank import is_fuel
from rimcore.quantities.errors import BadInput
from shell.pages import page, status_of
from workshop.queries import follow_ups


def prove(request: HttpRequest, car_id: int) -> HttpResponse:
    """Everything measured twice, promises, and every series as a strip."""
    file = open_file(request.user, car_id)
    ready = BY_KEY.get(request.POST.get("ready", "")) if request.method == "POST" else None
    if ready is not None:
        found = services.ready_series(file, request.user, ready)
        return redirect("series", car_id, found.pk)
    form = SeriesForm(file, request.POST if request.method == "POST" else None)
    if request.method == "POST" and form.is_valid():
        series = services.add_series(file, request.user, form.cleaned_data)
        return redirect("series", car_id, series.pk)
    series_list = queries.series_of(file)
    strips = queries.strips(file, series_list)
    real = sum(bool(strip.comparison and strip.comparison.real) for strip in strips)
    every = [one for row in series_list for one in plans_of(row)]
    plans = [planned(file, one, every) for one in every if one.given_up_on is None]
    compared = sum(strip.comparison is not None for strip in strips)
    context = {
        "form": form,
        "strips": strips,
        "empty": [one for one in series_list if not one.runs.all()],
        "twice": queries.measured_twice(file),
        "promises": queries.promises(file),
        "dates": queries.dates_said(file),
        "not_read": queries.not_read_yet(file),
        "build": queries.fitted_build(file),
        "real": real,
        "plans": plans,
        "compared": compared,
        "ready": [one for one in READY if one.name not in {row.name for row in series_list}],
        "due": follow_ups(file),
    }
    return page(request, file, "prove", "proof/prove.html", context, status_of(form))


def series(request: HttpRequest, car_id: int, series_id: int) -> HttpResponse:
    """One series: its runs, and a form for more."""
    file = open_file(request.user, car_id)
    found = get_object_or_404(Series.objects.prefetch_related("runs__outfit", "plans"), pk=series_id, car=file.car)
    tanks = found.name == BY_KEY["fuel"].name and is_fuel(found.unit)
    by_tank = tanks and request.method == "POST" and "volume_l" in request.POST
    tank = TankForm(file, request.POST if by_tank else None) if tanks else None
    if tank is not None and by_tank and tank.is_valid() and _kept_tank(file, found, request, tank):
        return redirect("series", car_id, series_id)
    form = RunForm(file, request.POST if request.method == "POST" and not by_tank else None)
    if request.method == "POST" and not by_tank and form.is_valid():
        asked = form.cleaned_data["outfit"]
        outfit = next((one for one in file.outfits if str(one.pk) == asked), None)
        if asked and outfit is None:
            raise Http404
        values = {"outfit": outfit, "ran_on": form.cleaned_data["ran_on"], "note": form.cleaned_data["note"]}
        services.add_runs(file, found, request.user, form.cleaned_data["values"], values)
        return redirect("series", car_id, series_id)
    strips = queries.strips(file, [found])
    plans = [planned(file, one) for one in plans_of(found)]
    return page(
        request,
        file,
        "prove",
        "proof/series.html",
        {
            "series": found,
            "strip": strips[0] if strips else None,
            "form": form,
            "tank": tank,
            "plans": plans,
            # the driver of blind runs is not told which side they were before all are driven
            "hidden": {one.plan.pk for one in plans if one.plan.blind and not one.progress.enough},
        },
        status_of(tank if tank is not None and by_tank else form),
    )


def _kept_tank(file: CarFile, series: Series, request: HttpRequest, form: TankForm) -> bool:
    """Was the tank kept? If not, the form says why."""
    said = form.cleaned_data
    outfit = next((one for one in file.outfits if str(one.pk) == said["outfit"]), None)
    try:
        services.add_tank(file, series, request.user, said | {"outfit": outfit})
    except BadInput as error:
        form.add_error("trip_km" if error.field == "distance_km" else "volume_l", str(error))
        return False
    return True


@require_POST
def leave_out(request: HttpRequest, car_id: int, run_id: int) -> HttpResponse:
    """Mark an outlier with the reason; blank counts it again."""
    file = open_file(request.user, car_id)
    run = get_object_or_404(Run, pk=run_id, series__car=file.car)
    services.leave_out(run, request.user, request.POST.get("why", "").strip()[:120])
    return redirect("series", car_id, run.series_id)
