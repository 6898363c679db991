"""Planning: builds side by side, the order list, money and dates."""

from __future__ import annotations

from dataclasses import replace
from typing import Any

from django.contrib import messages
from django.db.models import RestrictedError, prefetch_related_objects
from django.http import Http404, HttpRequest, HttpResponse
from django.shortcuts import get_object_or_404, redirect
from django.urls import reverse
from django.utils import timezone
from django.utils.http import url_has_allowed_host_and_scheme
from django.views.decorators.http import require_POST

from garage.car.parts import Part, Tyre, Wheel
from garage.file import CarFile, open_file
from garage.inhand import school_of
from planner import services
from planner.chosen import build_in_hand, builds_of, choices_of
from planner.dates.bundled import cheap_with, due_beside, needed_beside, wear_beside
from planner.dates.facts import calendar_of, said_of
from planner.dates.money import risk_of
from planner.dates.shown import ruled
from planner.figures import figures_of
from planner.forms import AnswerForm, BuildForm, ChoiceForm, NewBuildForm, PutForm, StateForm
from planner.models import Build, Choice
from planner.parts import dragged_along, not_needed, usual_quantity
from planner.queries import Sums, lever_rows, sums
from planner.wants import USED_UP, used_up, wants_of
from planner.wants_form import WantsForm, want_it
from rimcore.families import PAIRED
from rimcore.quantities.judgement import Judgement
from rimcore.work.ledger import PART_STATES
from rimcore.work.quotes import worth_used_minor
from shell.pages import page, status_of


def plan(request: HttpRequest, car_id: int) -> HttpResponse:
    """Builds in columns; the one in hand with its order list."""
    file = open_file(request.user, car_id)
    form = NewBuildForm(
        file, request.POST if request.method == "POST" else None, initial={"tolerance": school_of(file)}
    )
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
    stale = _stale_quotes(held) if held else {}
    context = {
        "stale": stale,
        "week_hours": sum(calendar_of(file, held).week_hours) if held else 0,
        **(ruled(file, held, request.GET.get("try", "")) if held else {}),
        "said": said_of(file).get(held.pk, [])[:6] if held else [],
        "cheap": cheap_with(file, held) if held else [],
        "wear": wear_beside(file, held) if held else (),
        "due_soon": due_beside(file) if held else [],
        "needed": needed_beside(file, held) if held else (),
        "snag_money": risk_of(file, held) if held else None,
        "form": form,
        "builds": builds,
        "held": held,
        "beside": beside,
        "columns": columns,
        "gap_rows": _gap_rows(columns),
        "lever_rows": lever_rows([column.build for column in columns]),
        "choices": held.choices.all() if held else [],
        "states": PART_STATES,
        "today": timezone.localdate(),
        "arrivals": dict(columns[0].dates.arrivals) if held else {},
        "held_sums": columns[0] if held else None,
        "counted": {choice.pk for choice in choices_of(held)} if held else set(),
        "drags": (drags := dragged_along(file, held) if held else []),
        "not_needed": not_needed(held, drags) if held else [],
        "wants": _uses(file, held) if held else None,
        "wants_title": "What the sheets use up",
        "wants_to": reverse("uses", args=[car_id, held.pk]) if held else "",
    }
    return page(request, file, "plan", "planner/plan.html", context, status_of(form))


def _stale_quotes(build: Build) -> dict[int, Any]:
    """Parts to be bought whose price is from a quote that stands no longer: choice -> the quote; one query."""
    wanted = [choice for choice in build.choices.all() if choice.state in ("wanted", "shortlisted")]
    prefetch_related_objects([choice.part for choice in wanted], "quotes")
    taken = {choice.pk: next((quote for quote in choice.part.quotes.all() if quote.taken), None) for choice in wanted}
    return {key: quote for key, quote in taken.items() if quote is not None and quote.is_stale}


def _gap_rows(columns: list[Sums]) -> list[tuple[str, list[Judgement | None]]]:
    """Judgements of the builds in rows, worst of the first build first."""
    by_build = [
        {(j.where, j.name): j for j in column.judgements if j.state != "unmeasured" or not j.missing}
        for column in columns
    ]
    names = list(dict.fromkeys(name for found in by_build for name in found))
    return [
        (f"{name}{', ' + where if where else ''}", [found.get((where, name)) for found in by_build])
        for where, name in names
    ]


def build(request: HttpRequest, car_id: int, build_id: int) -> HttpResponse:
    """A build's own figures, and its parts."""
    file = open_file(request.user, car_id)
    found = _own(file, build_id)
    what = request.POST.get("what", "")
    form = BuildForm(file, request.POST if what == "build" else None, instance=found)
    if what == "build" and form.is_valid():
        services.change_build(found, request.user, form.own, form.levers)
        return redirect("plan", car_id)
    return page(request, file, "plan", "planner/build.html", {"form": form, "build": found}, status_of(form))


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
            messages.error(request, f"{found.name} has a job sheet and stays; make another build current instead.")
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
    was = {"state": found.state, "sold_minor": found.sold_minor or None, "fees_minor": found.fees_minor or None}
    state = StateForm(request.POST if what == "state" else None, initial=was)
    asked = AnswerForm(found, request.POST if what == "answer" else None, prefix="ask")
    form = ChoiceForm(request.POST if what == "part" else None, instance=found, prefix="part")
    if request.method == "POST":
        if what == "state" and state.is_valid():
            said = state.cleaned_data
            services.set_state(
                found, request.user, said["state"], said["on"], said["sold_minor"] or 0, said["fees_minor"] or 0
            )
            return redirect("plan", car_id)
        if what == "answer" and asked.is_valid():
            services.answer(found, request.user, asked.cleaned_data)
            return redirect("plan", car_id)
        if what == "part" and form.is_valid():
            services.change_choice(found, request.user, form.cleaned_data)
            return redirect("plan", car_id)
        if what == "remove":
            services.remove_choice(found, request.user)
            return redirect("plan", car_id)
    declared = found.part.declared
    context = {
        "choice": found,
        "state_form": state,
        "form": form,
        "asked": asked,
        "used_minor": worth_used_minor(found.price, declared.used_share if declared is not None else None),
    }
    return page(request, file, "plan", "planner/choice.html", context, status_of(state, form, asked))


def put(request: HttpRequest, car_id: int, part_id: int) -> HttpResponse:
    """Put a part of the list into a build; what is confused at the counter is asked."""
    file = open_file(request.user, car_id)
    builds = builds_of(file)
    part = get_object_or_404(Part, pk=part_id, car=file.car, listed=True)
    if part.family in PAIRED:
        return redirect("choose", car_id)
    if not builds:
        messages.error(request, "Make a build first; then put parts into it.")
        return redirect("plan", car_id)
    held = build_in_hand(file)
    start = {
        "build": held.pk if held else builds[0].pk,
        "position": part.usual_position,
        "quantity": usual_quantity(file, part),
    }
    form = PutForm(builds, part, request.POST if request.method == "POST" else None, initial=start)
    if request.method == "POST" and form.is_valid():
        values = {name: form.cleaned_data[name] for name in ("position", "quantity")}
        services.put_whole(form.build, request.user, part, values, form.answers)
        messages.success(request, f"{part} is in {form.build.name}.")
        return redirect("plan", car_id)
    return page(
        request,
        file,
        "choose",
        "planner/put.html",
        {"form": form, "part": part, "family": part.declared},
        status_of(form),
    )


@require_POST
def drag(request: HttpRequest, car_id: int, build_id: int) -> HttpResponse:
    """What the build drags along: one press puts all that is needed into it as wanted.

    One that is there already is off the bill.
    """
    file = open_file(request.user, car_id)
    found = _read(file, build_id)
    rows = [row for row in dragged_along(file, found) if row.choice is None]
    asked, have = request.POST.getlist("which"), "have" in request.POST
    chosen = [row for row in rows if row.key in asked or "all" in asked and row.need.needed]
    count = services.want(found, request.user, [(row.need, row.position) for row in chosen], have)
    words = "already here, no cost" if have else "wanted"
    messages.success(request, f"{count} {words}, in {found.name}." if count else "Nothing of that is missing any more.")
    back = request.POST.get("back", "")
    if back.startswith(f"/car/{car_id}/check/") and url_has_allowed_host_and_scheme(back, None):
        return redirect(back)
    return redirect(reverse("plan", args=[car_id]) + "#drags")


@require_POST
def uses(request: HttpRequest, car_id: int, build_id: int) -> HttpResponse:
    """What the sheets of a build use up, wanted with the prices that are known."""
    file = open_file(request.user, car_id)
    form = _uses(file, _read(file, build_id), request.POST)
    if form is None or not form.is_valid():
        errors = [str(one) for all_ in form.errors.values() for one in all_] if form is not None else []
        messages.error(request, "Not kept: " + ("; ".join(errors) or "nothing is used up."))
    else:
        want_it(request, file, form)
    return redirect(reverse("plan", args=[car_id]) + "#uses")


def _uses(file: CarFile, build: Build, data: Any = None) -> WantsForm | None:
    wanted = used_up(file, build)
    return WantsForm(wants_of(build, USED_UP, wanted), data) if wanted else None


def _own(file: CarFile, build_id: int) -> Build:
    return get_object_or_404(Build, pk=build_id, car=file.car)


def _read(file: CarFile, build_id: int) -> Build:
    """A build whose rows are read at once, for what is only worked out of it; a form that changes it takes its own."""
    found = next((build for build in builds_of(file) if build.pk == build_id), None)
    if found is None:
        raise Http404
    return found


def _whole(text: Any) -> int:
    """A whole number from a form, else 404."""
    if text is None or not str(text).isascii() or not str(text).isdigit() or len(str(text)) > 18:
        raise Http404
    return int(text)
