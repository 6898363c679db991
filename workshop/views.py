"""Fitting: job sheets, one step at a time."""

from __future__ import annotations

from typing import Any

from django.contrib import messages
from django.http import FileResponse, Http404, HttpRequest, HttpResponse
from django.shortcuts import get_object_or_404, redirect
from django.views.decorators.http import require_POST

from garage.file import CarFile, open_file
from garage.inhand import judgements_in_hand
from planner.queries import build_in_hand, choices_of
from rimcore.quantities.errors import CoreError
from rimcore.well.stations import CORNERS, STATIONS
from rimcore.work.jobsheet import not_known
from shell.figures import unit_for
from shell.pages import page, status_of
from shell.pictures import serve
from workshop import queries, services
from workshop.forms import AskHubForm, DoneForm, FinishForm, PhotoForm, PullForm, SkipForm, SnagForm, SpellForm
from workshop.models import FollowUp, Job, Photo, Snag, Spell, Step


def fit(request: HttpRequest, car_id: int) -> HttpResponse:
    """The job sheets, what is due, what snagged."""
    file = open_file(request.user, car_id)
    build = build_in_hand(file)
    if request.method == "POST":
        if build is None:
            messages.error(request, "There is no build in hand to make a sheet from.")
            return redirect("plan", car_id)
        try:
            job = services.make_job(file, build, request.user)
        except CoreError as error:
            messages.error(request, error.message[:1].upper() + error.message[1:] + ".")
            return redirect("fit", car_id)
        return redirect("job", car_id, job.pk)
    jobs = [
        (job, queries.hours(job), sum(s.state != "todo" for s in job.steps.all()), len(job.steps.all())) for job in queries.jobs_of(file)
    ]
    context = {"jobs": jobs, "due": queries.follow_ups(file), "snags": queries.open_snags(file), "build": build}
    return page(request, file, "fit", "workshop/fit.html", context)


def open_things(request: HttpRequest, car_id: int) -> HttpResponse:
    """Everything open: unmeasured, snags, follow-ups."""
    file = open_file(request.user, car_id)
    missing: dict[str, int] = {}
    for judgement in judgements_in_hand(file):
        for name in judgement.missing:
            missing[name] = missing.get(name, 0) + 1
    rows = []
    for name, count in missing.items():
        corner, _, code = name.partition(".")
        known = corner in CORNERS and code in STATIONS
        rows.append(
            {
                "corner": corner,
                "code": code,
                "name": STATIONS[code].name if known else "",
                "known": known,
                "count": count,
                "raw": _OTHER.get(name, name),
            }
        )
    context = {"rows": rows, "snags": queries.open_snags(file), "due": queries.follow_ups(file)}
    return page(request, file, "fit", "workshop/open.html", context)


_OTHER = {
    "wheel.load": "load rating of the wheel", "tyre.load": "load index of the tyre", "wheel.seat": "lug seat of the wheel", "hub.seat": "seat of the nuts",
    "wheel.bore": "centre bore of the wheel", "hub.bore": "hub collar", "wheel.pad": "pad thickness of the wheel", "hub.stud": "stud or bolt length", "hub.thread": "thread",
    "wheel.pattern": "bolt circle of the wheel", "hub.pattern": "bolt circle of the hub", "car.axle_load": "axle load", "wheel.caliper_barrel": "barrel of the wheel over the caliper",
    "wheel.caliper_spoke": "spoke back of the wheel", "wheel.joint": "barrel of the wheel over the joint",
}  # fmt: skip


def job(request: HttpRequest, car_id: int, job_id: int) -> HttpResponse:
    """A sheet opens at its next step."""
    file = open_file(request.user, car_id)
    found = get_object_or_404(Job, pk=job_id, car=file.car)
    following = found.steps.filter(state="todo").first() or found.steps.last()
    if following is None:
        raise Http404
    return redirect("step", car_id, job_id, following.place)


def step(request: HttpRequest, car_id: int, job_id: int, place: int) -> HttpResponse:
    """One step at a time, for greasy hands."""
    file = open_file(request.user, car_id)
    found, here = _step(file, job_id, place)
    what = request.POST.get("what", "")
    bound = _forms(request, file, here, what)
    if request.method == "POST":
        answer = _act(request, file, found, here, what, bound)
        if answer is not None:
            return answer
    return page(request, file, "fit", "workshop/step.html", _step_context(file, found, here, bound), status_of(*bound.values()))


def _step(file: CarFile, job_id: int, place: int) -> tuple[Job, Step]:
    found = get_object_or_404(Job.objects.select_related("build"), pk=job_id, car=file.car)
    here = get_object_or_404(found.steps.prefetch_related("pulls", "photos"), place=place)
    here.job = found
    if here.kind == "torque":
        services.know_torque(here, file.axles[here.corner[:1]])
    return found, here


def _forms(request: HttpRequest, file: CarFile, here: Step, what: str) -> dict[str, Any]:
    def data(name: str) -> Any:
        return request.POST if what == name else None

    return {
        "done": DoneForm(data("done")),
        "skip": SkipForm(data("skip"), prefix="skip"),
        "pull": PullForm(unit_for("torque", file.preferences), data("pull")),
        "hub": AskHubForm(file.axles[here.corner[:1] or "F"], unit_for("torque", file.preferences), data("hub"), prefix="hub"),
        "snag": SnagForm(data("snag"), prefix="snag"),
        "photo": PhotoForm(data("photo"), request.FILES if what == "photo" else None, prefix="photo"),
        "finish": FinishForm(file.car.odometer_km, data("finish"), prefix="finish"),
    }


def _act(request: HttpRequest, file: CarFile, found: Job, here: Step, what: str, bound: dict[str, Any]) -> HttpResponse | None:
    user, form = request.user, bound.get(what)
    if what == "undo":
        services.reopen_step(here, user)
    elif what == "start":
        services.start_clock(found, user)
    elif what == "stop":
        services.stop_clock(found, user)
    elif form is None:
        raise Http404
    elif not form.is_valid():
        return None
    elif what == "done" and here.kind == "torque":
        # Only its nuts, each with what was read, finish a torque step.
        raise Http404
    elif what == "done":
        services.finish_step(here, user, form.cleaned_data["note"])
        return redirect("job", file.car.pk, found.pk)
    elif what == "skip":
        services.skip_step(here, user, form.cleaned_data["why"])
        return redirect("job", file.car.pk, found.pk)
    elif what == "pull":
        return _pull(request, file, found, here, form)
    elif what == "hub":
        services.learn_hub(file.axles[here.corner[:1]], user, form.cleaned_data)
        messages.success(request, "Kept in the hub's data.")
    elif what == "snag":
        services.log_snag(found, user, {**form.cleaned_data, "step": here})
        messages.success(request, "Snag logged.")
    elif what == "photo":
        return _photo(request, file, found, here, form)
    elif what == "finish":
        return _finish(request, file, found, form)
    return redirect("step", file.car.pk, found.pk, here.place)


def _pull(request: HttpRequest, file: CarFile, found: Job, here: Step, form: PullForm) -> HttpResponse | None:
    if here.kind != "torque" or here.lugs is None or not 1 <= form.cleaned_data["lug"] <= here.lugs:
        raise Http404
    services.pull_nut(here, request.user, form.cleaned_data["lug"], form.cleaned_data["read"])
    here.refresh_from_db(fields=["state"])
    if here.state == "done":
        return redirect("job", file.car.pk, found.pk)
    return redirect("step", file.car.pk, found.pk, here.place)


def _photo(request: HttpRequest, file: CarFile, found: Job, here: Step, form: PhotoForm) -> HttpResponse | None:
    try:
        services.keep_photo(found, here, form.cleaned_data["image"].read(), form.cleaned_data["caption"])
    except CoreError as error:
        form.add_error("image", error.message[:1].upper() + error.message[1:] + ".")
        return None
    return redirect("step", file.car.pk, found.pk, here.place)


def _finish(request: HttpRequest, file: CarFile, found: Job, form: FinishForm) -> HttpResponse:
    if found.state == "done":
        messages.error(request, "This sheet is closed already.")
        return redirect("job", file.car.pk, found.pk)
    try:
        services.finish_job(file, found, request.user, form.cleaned_data["odometer_km"])
    except CoreError:
        messages.error(request, "This sheet was closed at the same moment, perhaps in another window.")
        return redirect("job", file.car.pk, found.pk)
    messages.success(request, "Closed. The new wheels stand on the car; measure the gaps again to hold them against what was promised.")
    return redirect("prove", file.car.pk)


def _step_context(file: CarFile, found: Job, here: Step, bound: dict[str, Any]) -> dict[str, Any]:
    steps = list(found.steps.all())
    place = next(i for i, s in enumerate(steps) if s.pk == here.pk)
    spells = list(found.spells.all())
    unit = unit_for("torque", file.preferences)
    view = queries.torque_view(here) if here.kind == "torque" else None
    return {
        "job": found, "step": here, "steps": steps, "following": steps[place + 1] if place + 1 < len(steps) else None, "before": steps[place - 1] if place else None,
        "spells": spells, "running": next((s for s in spells if s.ended is None), None), "hours": sum(s.hours for s in spells),
        "bound": bound, "torque": view, "not_known": not_known(here.lugs, here.torque_nm) if here.kind == "torque" else (), "torque_unit": unit, "parts": choices_of(found.build) if here.kind == "parts" else [],
        "photos": list(here.photos.all()), "snags": list(found.snags.all()), "left": sum(s.state == "todo" for s in steps),
        "axle": file.axles[here.corner[:1] or "F"],
        "waiting": [c for c in choices_of(found.build) if c.state in ("shortlisted", "ordered")] if here.kind == "parts" else [],
    }  # fmt: skip


def snag(request: HttpRequest, car_id: int, snag_id: int) -> HttpResponse:
    """What a snag cost and how it was cured."""
    file = open_file(request.user, car_id)
    found = get_object_or_404(Snag, pk=snag_id, job__car=file.car)
    form = SnagForm(request.POST or None, instance=found)
    if request.method == "POST" and form.is_valid():
        services.change_snag(found, request.user, form.cleaned_data)
        return redirect("fit", car_id)
    return page(request, file, "fit", "workshop/snag.html", {"form": form, "snag": found}, status_of(form))


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
        messages.error(request, "Not noted: write the odometer as a whole number of kilometres.")
    return redirect("fit", car_id)
