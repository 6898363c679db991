"""Planning: builds side by side, the order list, money and dates."""

from __future__ import annotations

from dataclasses import replace
from typing import Any

from django.contrib import messages
from django.db.models import RestrictedError
from django.http import Http404, HttpRequest, HttpResponse
from django.shortcuts import get_object_or_404, redirect
from django.utils import timezone
from django.views.decorators.http import require_POST

from garage.file import CarFile, open_file
from garage.inhand import school_of
from garage.parts import Tyre, Wheel
from planner import services
from planner.figures import figures_of
from planner.forms import BuildForm, ChoiceForm, NewBuildForm, PartForm, StateForm
from planner.models import Build, Choice
from planner.queries import Sums, build_in_hand, builds_of, choices_of, lever_rows, sums
from rimcore.quantities.judgement import Judgement
from rimcore.work.ledger import PART_STATES
from shell.pages import page, status_of


def plan(request: HttpRequest, car_id: int) -> HttpResponse:
    """Builds in columns; the one in hand with its order list."""
    file = open_file(request.user, car_id)
    form = NewBuildForm(file, request.POST if request.method == "POST" else None, initial={"tolerance": school_of(file)})
    if request.method == "POST" and form.is_valid():
        services.add_build(file.car, request.user, form.cleaned_data["name"], form.cleaned_data["tolerance"])
        return redirect("plan", car_id)
    builds = builds_of(file)
    held = build_in_hand(file)
    others = [build for build in builds if build is not held]
    asked = request.GET.get("with", "")
    beside = next((build for build in others if str(build.pk) == asked), others[0] if others else None)
    shown = [sums(file, build) for build in (held, beside) if build]
    columns = [replace(found, figures=figures_of(file, found)) for found in shown]
    context = {
        "form": form, "builds": builds, "held": held, "beside": beside, "columns": columns, "gap_rows": _gap_rows(columns),
        "lever_rows": lever_rows([column.build for column in columns]),
        "choices": held.choices.all() if held else [], "states": PART_STATES, "today": timezone.localdate(),
        "arrivals": dict(columns[0].dates.arrivals) if held else {}, "held_sums": columns[0] if held else None,
        "counted": {choice.pk for choice in choices_of(held)} if held else set(),
    }  # fmt: skip
    return page(request, file, "plan", "planner/plan.html", context, status_of(form))


def _gap_rows(columns: list[Sums]) -> list[tuple[str, list[Judgement | None]]]:
    """Judgements of the builds in rows, worst of the first build first."""
    by_build = [{(j.where, j.name): j for j in column.judgements if j.state != "unmeasured" or not j.missing} for column in columns]
    names = list(dict.fromkeys(name for found in by_build for name in found))
    return [(f"{name}{', ' + where if where else ''}", [found.get((where, name)) for found in by_build]) for where, name in names]


def build(request: HttpRequest, car_id: int, build_id: int) -> HttpResponse:
    """A build's own figures, and its parts."""
    file = open_file(request.user, car_id)
    found = _own(file, build_id)
    what = request.POST.get("what", "")
    form = BuildForm(file, request.POST if what == "build" else None, instance=found)
    part = PartForm(request.POST if what == "part" else None, prefix="part")
    if request.method == "POST":
        if what == "build" and form.is_valid():
            services.change_build(found, request.user, form.own, form.levers)
            return redirect("plan", car_id)
        if what == "part" and part.is_valid():
            services.add_part(found, request.user, part.cleaned_data)
            return redirect("plan", car_id)
    return page(request, file, "plan", "planner/build.html", {"form": form, "part": part, "build": found}, status_of(form, part))


@require_POST
def build_do(request: HttpRequest, car_id: int, build_id: int, what: str) -> HttpResponse:
    """Take in hand, duplicate, remove."""
    file = open_file(request.user, car_id)
    found = _own(file, build_id)
    if what == "hold":
        services.take_in_hand(found, request.user)
    elif what == "duplicate":
        services.duplicate_build(found, request.user)
    elif what == "remove":
        try:
            services.remove_build(found, request.user)
        except RestrictedError:
            messages.error(request, f"{found.name} has a job sheet and stays; take another build in hand instead.")
    else:
        raise Http404
    return redirect("plan", car_id)


@require_POST
def choose_into(request: HttpRequest, car_id: int) -> HttpResponse:
    """Put a pair of the shortlist into a build."""
    file = open_file(request.user, car_id)
    found = _own(file, _whole(request.POST.get("build")))
    wheel = get_object_or_404(Wheel, pk=_whole(request.POST.get("wheel")), car=file.car)
    tyre = get_object_or_404(Tyre, pk=_whole(request.POST.get("tyre")), car=file.car)
    position = request.POST.get("position", "A")
    if position not in Choice.POSITIONS:
        raise Http404
    services.choose_pair(found, request.user, wheel, tyre, position)
    messages.success(request, f"{wheel.size} with {tyre.size} is in {found.name}.")
    return redirect("choose", car_id)


def choice(request: HttpRequest, car_id: int, choice_id: int) -> HttpResponse:
    """A part of a build: what happened to it, and its figures."""
    file = open_file(request.user, car_id)
    found = get_object_or_404(Choice, pk=choice_id, build__car=file.car)
    what = request.POST.get("what", "")
    state = StateForm(request.POST if what == "state" else None, initial={"state": found.state, "sold_minor": found.sold_minor or None})
    form = ChoiceForm(request.POST if what == "part" else None, instance=found, prefix="part")
    if request.method == "POST":
        if what == "state" and state.is_valid():
            services.set_state(
                found, request.user, state.cleaned_data["state"], state.cleaned_data["on"], state.cleaned_data["sold_minor"] or 0
            )
            return redirect("plan", car_id)
        if what == "part" and form.is_valid():
            services.change_choice(found, request.user, form.cleaned_data)
            return redirect("plan", car_id)
        if what == "remove":
            services.remove_choice(found, request.user)
            return redirect("plan", car_id)
    return page(request, file, "plan", "planner/choice.html", {"choice": found, "state_form": state, "form": form}, status_of(state, form))


def _own(file: CarFile, build_id: int) -> Build:
    return get_object_or_404(Build, pk=build_id, car=file.car)


def _whole(text: Any) -> int:
    """A whole number from a form, else 404."""
    if text is None or not str(text).isascii() or not str(text).isdigit() or len(str(text)) > 18:
        raise Http404
    return int(text)
