"""Fitting: job sheets, one step at a time."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

from django.contrib import messages
from django.http import FileResponse, Http404, HttpRequest, HttpResponse
from django.shortcuts import get_object_or_404, redirect
from django.urls import reverse
from django.utils import timezone
from django.views.decorators.http import require_POST

from bench.alignment.facts import aims_of
from garage.chassis.forms import DipForm
from garage.chassis.load import chassis_of
from garage.file import CarFile, open_file
from gauges import wrench
from planner.chosen import build_in_hand, builds_of, end_setting
from rimcore.quantities.errors import CoreError
from rimcore.work.jobsheet import not_known
from rimcore.work.ledger import PROMISED_STATES
from rimcore.work.steps import gate_text
from shell.figures import unit_for
from shell.offline import Clash, is_late
from shell.pages import page, status_of
from shell.pictures import serve
from workshop import composing, fitting, queries, services
from workshop.forms import (
    AskHubForm,
    AskJointForm,
    DoneForm,
    FinishForm,
    PhotoForm,
    PullForm,
    SkipForm,
    SnagForm,
    SpellForm,
    StepForm,
    WaysForm,
)
from workshop.models import FollowUp, Job, Photo, Snag, Spell, Step
from workshop.opened import open_groups


def fit(request: HttpRequest, car_id: int) -> HttpResponse:
    """The job sheets, what is due, what snagged."""
    file = open_file(request.user, car_id)
    build = build_in_hand(file)
    if request.method == "POST":
        if build is None:
            messages.error(request, "There is no build in hand to make a sheet from.")
            return redirect("plan", car_id)
        try:
            job = composing.make_job(file, build, request.user, request.POST.getlist("module"))
        except CoreError as error:
            messages.error(request, error.message[:1].upper() + error.message[1:] + ".")
            return redirect("fit", car_id)
        return redirect("job", car_id, job.pk)
    jobs = [
        (job, queries.hours(job), queries.estimate_of(file, job), sum(s.state != "todo" for s in job.steps.all()), len(job.steps.all()))
        for job in queries.jobs_of(file)
    ]
    context = {
        "jobs": jobs, "due": queries.follow_ups(file), "snags": queries.open_snags(file), "build": build,
        "asked": queries.asked_of(file, build) if build is not None else None,
        "missing": [row for row in queries.kit_of(file) if row.have is False],
    }  # fmt: skip
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


def step(request: HttpRequest, car_id: int, job_id: int, place: int) -> HttpResponse:
    """One step at a time, for greasy hands."""
    file = open_file(request.user, car_id)
    found, here = _step(file, job_id, place)
    what, steps = request.POST.get("what", ""), list(found.steps.all())
    bound = _forms(request, file, here, steps, what)
    if request.method == "POST":
        if is_late(request):
            _no_clash(request, here, what)
        answer = _act(request, file, found, here, what, bound)
        if answer is not None:
            return answer
    return page(request, file, "fit", "workshop/step.html", _step_context(file, found, here, steps, bound), status_of(*bound.values()))


def _step(file: CarFile, job_id: int, place: int) -> tuple[Job, Step]:
    found = get_object_or_404(Job.objects.select_related("build"), pk=job_id, car=file.car)
    here = get_object_or_404(found.steps.prefetch_related("pulls", "photos"), place=place)
    here.job = found
    if here.kind == "torque":
        services.know_torque(here, file.axles[here.corner[:1] or "F"])
    return found, here


def _no_clash(request: HttpRequest, here: Step, what: str) -> None:
    """Something typed without a connection never overwrites what came meanwhile.

    Raises
    ------
    Clash : with what stands now
    """
    if what == "pull":
        lug = request.POST.get("lug", "")
        read = next((pull for pull in here.pulls.all() if str(pull.lug) == lug), None)
        if read is not None:
            raise Clash(f"{read.read_nm:g} N·m was read there at {timezone.localtime(read.at):%H:%M}")
    if here.state != "todo":
        why = f": {here.skipped_why}" if here.skipped_why else f", noted “{here.note}”" if here.note else ""
        raise Clash(f"{here.get_state_display()}{why}")


def _forms(request: HttpRequest, file: CarFile, here: Step, steps: Sequence[Step], what: str) -> dict[str, Any]:
    def data(name: str) -> Any:
        return request.POST if what == name else None

    return {
        "done": DoneForm(() if here.state != "todo" or here.kind == "torque" else services.shut_gates(here, steps), data("done")),
        "skip": SkipForm(data("skip"), prefix="skip"),
        "pull": PullForm(unit_for("torque", file.preferences), data("pull")),
        "hub": AskHubForm(file.axles[here.corner[:1] or "F"], unit_for("torque", file.preferences), data("hub"), prefix="hub"),
        "joint": AskJointForm(here, unit_for("torque", file.preferences), data("joint"), prefix="joint"),
        "step": StepForm(data("step"), prefix="step"),
        "snag": SnagForm(data("snag"), prefix="snag"),
        "photo": PhotoForm(data("photo"), request.FILES if what == "photo" else None, prefix="photo"),
        "dip": DipForm(
            file, data("dip"), height=True, initial=_dip_before(file, here) | {"who": request.user.get_username()}, prefix="dip"
        ),
        "finish": FinishForm(file.car.odometer_km, data("finish"), prefix="finish"),
    }


def _dip_before(file: CarFile, here: Step) -> dict[str, Any]:
    """The same place and corner as it was driven last, at the height of the sheet's build."""
    if here.kind != "dip":
        return {}
    last = next(iter(chassis_of(file).dips), None)
    corner = last.corner if last is not None else "FL"
    build = next((one for one in builds_of(file) if one.pk == here.job.build_id), here.job.build)
    setting = end_setting(file, build, corner[0])
    height = setting.ride_drop_mm + setting.corner_mm[corner[1] == "R"]
    return {"corner": corner, "ride_drop_mm": height} | ({"name": last.name} if last is not None else {})


def _act(request: HttpRequest, file: CarFile, found: Job, here: Step, what: str, bound: dict[str, Any]) -> HttpResponse | None:
    user, form = request.user, bound.get(what)
    if what == "undo":
        services.reopen_step(here, user)
    elif what == "start":
        services.start_clock(found, user)
    elif what == "stop":
        services.stop_clock(found, user)
    elif what == "simulate":
        return _simulate(request, file, found, here)
    elif what in ("up", "down"):
        composing.move_step(here, user, what == "down")
        here.refresh_from_db(fields=["place"])
    elif what == "drop":
        return _drop(request, file, found, here)
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
        services.learn_hub(file.axles[here.corner[:1] or "F"], user, form.cleaned_data)
        messages.success(request, "Kept in the hub's data.")
    elif what == "joint":
        if here.kind != "torque" or here.of_hub:
            raise Http404
        services.learn_joint(here, user, form.cleaned_data)
        messages.success(request, "Kept for this joint on this axle.")
    elif what == "step":
        added = composing.add_step(found, user, here, form.cleaned_data)
        return redirect("step", file.car.pk, found.pk, added.place)
    elif what == "dip":
        if here.kind != "dip" or here.state != "todo" or bound["done"].shut:
            messages.error(request, "Not kept: the steps before this one are still to do.")
            return redirect("step", file.car.pk, found.pk, here.place)
        if services.drive_dip(file, here, user, form.cleaned_data):
            messages.success(request, f"{found.build.name}: the height at which it was driven is the build's from now on.")
        return redirect("job", file.car.pk, found.pk)
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


def _simulate(request: HttpRequest, file: CarFile, found: Job, here: Step) -> HttpResponse:
    """One pull with the simulated wrench, at the next fastener."""
    view = queries.torque_view(here) if here.kind == "torque" else None
    if view is None or view.now is None:
        raise Http404
    click = services.pull_simulated(here, request.user, view.now)
    if click.overrun:
        messages.warning(request, f"{wrench.NAME}: the hand ran on after the click, {click.shown_nm:g} N·m.")
    here.refresh_from_db(fields=["state"])
    if here.state == "done":
        return redirect("job", file.car.pk, found.pk)
    return redirect("step", file.car.pk, found.pk, here.place)


def _drop(request: HttpRequest, file: CarFile, found: Job, here: Step) -> HttpResponse:
    try:
        composing.drop_step(here, request.user)
    except CoreError as error:
        messages.error(request, error.message[:1].upper() + error.message[1:] + ".")
        return redirect("step", file.car.pk, found.pk, here.place)
    return redirect("job", file.car.pk, found.pk)


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
    if found.kind == "check":
        messages.success(request, "Closed. The check is noted.")
        return redirect("fit", file.car.pk)
    messages.success(request, "Closed. What was fitted stands on the car; measure the gaps again to hold them against what was promised.")
    return redirect("prove", file.car.pk)


#: pages that are fetched ahead, for a garage without a connection
AHEAD = 12


def _ahead(file: CarFile, found: Job, steps: Sequence[Step]) -> str:
    """Addresses of the next open steps."""
    return " ".join(reverse("step", args=[file.car.pk, found.pk, step.place]) for step in steps[:AHEAD])


def _step_context(file: CarFile, found: Job, here: Step, steps: Sequence[Step], bound: dict[str, Any]) -> dict[str, Any]:
    parts = fitting.parts_of(found) if here.kind == "parts" else []
    place = next(i for i, s in enumerate(steps) if s.pk == here.pk)
    spells = list(found.spells.all())
    unit = unit_for("torque", file.preferences)
    view = queries.torque_view(here) if here.kind == "torque" else None
    return {
        "job": found, "step": here, "steps": steps, "following": steps[place + 1] if place + 1 < len(steps) else None, "before": steps[place - 1] if place else None,
        "spells": spells, "running": next((s for s in spells if s.ended is None), None), "hours": sum(s.hours for s in spells), "estimate": queries.estimate_of(file, next((one for one in queries.jobs_of(file) if one.pk == found.pk), found)),
        "bound": bound, "torque": view, "not_known": not_known(here.lugs, here.torque_nm) if here.kind == "torque" else (), "torque_unit": unit, "parts": parts,
        "ahead": _ahead(file, found, [s for s in steps[place + 1 :] if s.state == "todo"]),
        "photos": list(here.photos.all()), "snags": list(found.snags.all()), "left": sum(s.state == "todo" for s in steps),
        "axle": file.axles[here.corner[:1] or "F"], "gates": [(gate_text(gate), True) for gate in bound["done"].shut],
        "joint_unknown": here.plan.joint.not_known if here.kind == "torque" and not here.of_hub and here.plan.joint is not None else (),
        "aims": aims_of(file) if here.kind == "measure" and "alignment" in here.module.split() else [],
        "dips": chassis_of(file).dips[:6] if here.kind == "dip" else [],
        "wrench_name": wrench.NAME, "removed": list(here.removed.all()),
        "waiting": [choice for choice in parts if choice.state in PROMISED_STATES],
    }  # fmt: skip


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
        messages.error(request, "Not noted: write the odometer as it stands, 142310 km or 88400 mi, not less than it was.")
    return redirect("fit", car_id)
