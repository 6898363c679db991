"""Planned runs: making a plan, driving it run by run, the verdict."""

from __future__ import annotations

from django.contrib import messages
from django.http import HttpRequest, HttpResponse
from django.shortcuts import get_object_or_404, redirect

from garage.file import CarFile, open_file
from proof.models import RunPlan, Series
from proof.planned import services
from proof.planned.forms import NextRunForm, PlanForm
from proof.planned.queries import Planned, planned, plans_of, scatter_of
from proof.queries import series_of
from rimcore.proof.trial import DESIGNS
from rimcore.quantities.errors import BadInput
from shell.pages import page, status_of


def plan_runs(request: HttpRequest, car_id: int, series_id: int) -> HttpResponse:
    """Plan runs of a series before they are driven."""
    file = open_file(request.user, car_id)
    series = get_object_or_404(Series.objects.prefetch_related("runs__outfit", "plans"), pk=series_id, car=file.car)
    form = PlanForm(series, request.POST if request.method == "POST" else None, initial={"design": "after"})
    if request.method == "POST" and form.is_valid():
        try:
            made = services.make_plan(series, request.user, form.cleaned_data["runs"], form.kept)
        except BadInput as error:
            form.add_error("runs", f"It {error.message}.")
        else:
            return redirect("run-plan", car_id, made.pk)
    context = {"form": form, "series": series, "scatter": scatter_of(series), "designs": DESIGNS}
    return page(request, file, "prove", "proof/plan_runs.html", context, status_of(form))


def run_plan(request: HttpRequest, car_id: int, plan_id: int) -> HttpResponse:
    """The sheet for the telephone: one run at a time; the verdict when all of them are driven."""
    file = open_file(request.user, car_id)
    shown = _shown(file, get_object_or_404(RunPlan, pk=plan_id, series__car=file.car))
    plan = shown.plan
    if request.method == "POST" and request.POST.get("what") == "give_up":
        services.give_up(plan, request.user)
        messages.success(request, "Given up. What was driven stays with the series; nothing is said of it.")
        return redirect("series", car_id, plan.series_id)
    taking = request.method == "POST" and not shown.progress.enough and plan.given_up_on is None
    form = NextRunForm(plan, request.POST if taking else None, initial=_last_noted(shown))
    if taking and form.is_valid():
        asked = request.POST.get("number", "")
        number = int(asked) if asked.isdecimal() and len(asked) < 5 else shown.next_number
        try:
            if number != shown.next_number:
                raise BadInput(f"run {number} is noted already; run {shown.next_number} is the next", "value")
            services.add_run(file, plan, request.user, number, shown.progress.next_side, form.run)
        except BadInput as error:
            form.add_error("value", f"{error.message.capitalize()}.")
        else:
            return redirect("run-plan", car_id, plan_id)
    context = {"p": shown, "form": form, "series": plan.series}
    return page(request, file, "prove", "proof/run_plan.html", context, status_of(form))


def _shown(file: CarFile, plan: RunPlan) -> Planned:
    others = [one for series in series_of(file) for one in plans_of(series)]
    mine = next(one for one in others if one.pk == plan.pk)
    return planned(file, mine, others)


def _last_noted(shown: Planned) -> dict[str, float]:
    """What was noted at the run before: most of it stays the same."""
    return dict(shown.runs[-1].conditions) if shown.runs else {}
