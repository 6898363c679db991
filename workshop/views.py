"""Fitting: job sheets, one step at a time."""

from __future__ import annotations

from django.contrib import messages
from django.http import FileResponse, Http404, HttpRequest, HttpResponse
from django.shortcuts import get_object_or_404, redirect
from django.views.decorators.http import require_POST

from garage.file import open_file
from planner.chosen import build_in_hand
from rimcore.quantities.errors import CoreError
from shell.pages import page, status_of
from shell.pictures import serve
from workshop import composing, queries, services
from workshop.forms import (
    FinishForm,
    SnagForm,
    SpellForm,
    WaysForm,
)
from workshop.models import FollowUp, Job, Photo, Snag, Spell
from workshop.opened import open_groups


def fit(request: HttpRequest, car_id: int) -> HttpResponse:
    """The job sheets, what is due, what snagged."""
    file = open_file(request.user, car_id)
    build = build_in_hand(file)
    if request.method == "POST":
        if build is None:
            messages.error(request, "There is no current build to make a sheet from.")
            return redirect("plan", car_id)
        try:
            job = composing.make_job(file, build, request.user, request.POST.getlist("module"))
        except CoreError as error:
            messages.error(request, error.message[:1].upper() + error.message[1:] + ".")
            return redirect("fit", car_id)
        return redirect("job", car_id, job.pk)
    jobs = [
        (
            job,
            queries.hours(job),
            queries.estimate_of(file, job),
            sum(s.state != "todo" for s in job.steps.all()),
            len(job.steps.all()),
        )
        for job in queries.jobs_of(file)
    ]
    context = {
        "jobs": jobs,
        "due": queries.follow_ups(file),
        "snags": queries.open_snags(file),
        "build": build,
        "asked": queries.asked_of(file, build) if build is not None else None,
        "missing": [row for row in queries.kit_of(file) if row.have is False],
    }
    return page(request, file, "fit", "workshop/fit.html", context)


def open_things(request: HttpRequest, car_id: int) -> HttpResponse:
    """Everything open: unmeasured, snags, follow-ups."""
    file = open_file(request.user, car_id)
    groups = open_groups(file)
    context = {
        "groups": groups,
        "snags": queries.open_snags(file),
        "due": queries.follow_ups(file),
        "questions": queries.open_questions(file),
    }
    return page(request, file, "fit", "workshop/open.html", context)


def job(request: HttpRequest, car_id: int, job_id: int) -> HttpResponse:
    """A sheet opens at its next step."""
    file = open_file(request.user, car_id)
    found = get_object_or_404(Job, pk=job_id, car=file.car)
    following = found.steps.filter(state="todo").first() or found.steps.last()
    if following is None:
        raise Http404
    return redirect("step", car_id, job_id, following.place)


def snag(request: HttpRequest, car_id: int, snag_id: int) -> HttpResponse:
    """What a snag cost, the ways out of it with what each leaves, and how it was cured."""
    file = open_file(request.user, car_id)
    found = get_object_or_404(Snag.objects.select_related("job__build", "choice__part"), pk=snag_id, job__car=file.car)
    weighed = request.POST.get("form") == "ways"
    form = SnagForm(request.POST if request.method == "POST" and not weighed else None, instance=found)
    ways = WaysForm(found, request.POST if weighed else None, prefix="way")
    if ways.is_bound and ways.is_valid():
        services.weigh_ways(found, request.user, ways.ways, ways.cleaned_data["decision"], ways.cleaned_data["part"])
        return redirect("snag", car_id, snag_id)
    if form.is_bound and form.is_valid():
        services.change_snag(found, request.user, form.cleaned_data)
        return redirect("fit", car_id)
    context = {"form": form, "ways": ways, "snag": found, "outcomes": queries.outcomes_of(file, found)}
    return page(request, file, "fit", "workshop/snag.html", context, status_of(form, ways))


def hours(request: HttpRequest, car_id: int, spell_id: int) -> HttpResponse:
    """Correct clocked hours."""
    file = open_file(request.user, car_id)
    spell = get_object_or_404(Spell, pk=spell_id, job__car=file.car)
    form = SpellForm(request.POST or None, initial={"began": spell.began, "ended": spell.ended, "note": spell.note})
    if request.method == "POST" and "remove" in request.POST:
        services.remove_spell(spell, request.user)
        return redirect("job", car_id, spell.job_id)
    if request.method == "POST" and form.is_valid():
        services.change_spell(spell, request.user, **form.cleaned_data)
        return redirect("job", car_id, spell.job_id)
    return page(request, file, "fit", "workshop/hours.html", {"form": form, "spell": spell}, status_of(form))


def photo(request: HttpRequest, car_id: int, photo_id: int) -> FileResponse:
    """A picture, for its owner alone."""
    file = open_file(request.user, car_id)
    found = get_object_or_404(Photo, pk=photo_id, job__car=file.car)
    return serve(found.image)


@require_POST
def photo_remove(request: HttpRequest, car_id: int, photo_id: int) -> HttpResponse:
    file = open_file(request.user, car_id)
    found = get_object_or_404(Photo.objects.select_related("step"), pk=photo_id, job__car=file.car)
    services.remove_photo(found, request.user)
    messages.success(request, "The photo is removed.")
    return redirect("job", car_id, found.job_id)


@require_POST
def follow_up(request: HttpRequest, car_id: int, follow_up_id: int) -> HttpResponse:
    """A follow-up was done at an odometer reading."""
    file = open_file(request.user, car_id)
    found = get_object_or_404(FollowUp, pk=follow_up_id, car=file.car)
    form = FinishForm(0, request.POST, prefix=f"f{found.pk}")
    if form.is_valid():
        services.do_follow_up(found, request.user, form.cleaned_data["odometer_km"])
    else:
        messages.error(
            request, "Not noted: write the odometer as it stands, 142310 km or 88400 mi, not less than it was."
        )
    return redirect("fit", car_id)
