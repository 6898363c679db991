"""A step of a sheet: what it shows, and what may be sent from it."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

from django.http import HttpRequest, HttpResponse
from django.shortcuts import get_object_or_404
from django.urls import reverse
from django.utils import timezone

from bench.alignment.facts import aims_of
from garage.chassis.forms import DipForm
from garage.chassis.load import chassis_of
from garage.file import CarFile, open_file
from garage.readings.queries import reading_text
from gauges import wrench
from planner.chosen import builds_of, end_setting
from rimcore.tables.facts import CORNER_NAMES
from rimcore.well.read.stations import STATIONS
from rimcore.work.jobsheet import not_known
from rimcore.work.ledger import PROMISED_STATES
from rimcore.work.steps import gate_text
from shell.figures import unit_for
from shell.offline import Clash, is_late
from shell.pages import page, status_of
from workshop import fitting, queries, services
from workshop.forms import (
    AskHubForm,
    AskJointForm,
    DoneForm,
    FinishForm,
    PhotoForm,
    PullForm,
    ReadsForm,
    SkipForm,
    SnagForm,
    StepForm,
)
from workshop.models import Job, Step
from workshop.step_posts import Sent, act


def step(request: HttpRequest, car_id: int, job_id: int, place: int) -> HttpResponse:
    """One step at a time, for greasy hands."""
    file = open_file(request.user, car_id)
    found, here = _step(file, job_id, place)
    what, steps = request.POST.get("what", ""), list(found.steps.all())
    bound = _forms(request, file, here, steps, what)
    if request.method == "POST":
        if is_late(request):
            _no_clash(request, here, what)
        answer = act(Sent(request, file, found, here, bound), what)
        if answer is not None:
            return answer
    return page(
        request,
        file,
        "fit",
        "workshop/step.html",
        _step_context(file, found, here, steps, bound),
        status_of(*bound.values()),
    )


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
        "done": DoneForm(
            () if here.state != "todo" or here.kind == "torque" else services.shut_gates(here, steps), data("done")
        ),
        "skip": SkipForm(data("skip"), prefix="skip"),
        "reads": ReadsForm(file, here, data("reads")),
        "pull": PullForm(unit_for("torque", file.preferences), data("pull")),
        "hub": AskHubForm(
            file.axles[here.corner[:1] or "F"], unit_for("torque", file.preferences), data("hub"), prefix="hub"
        ),
        "joint": AskJointForm(here, unit_for("torque", file.preferences), data("joint"), prefix="joint"),
        "step": StepForm(data("step"), prefix="step"),
        "snag": SnagForm(data("snag"), prefix="snag"),
        "photo": PhotoForm(data("photo"), request.FILES if what == "photo" else None, prefix="photo"),
        "dip": DipForm(
            file,
            data("dip"),
            height=True,
            initial=_dip_before(file, here) | {"who": request.user.get_username()},
            prefix="dip",
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


#: pages that are fetched ahead, for a garage without a connection
AHEAD = 12


def _ahead(file: CarFile, found: Job, steps: Sequence[Step]) -> str:
    """Addresses of the next open steps."""
    return " ".join(reverse("step", args=[file.car.pk, found.pk, step.place]) for step in steps[:AHEAD])


def _step_context(
    file: CarFile, found: Job, here: Step, steps: Sequence[Step], bound: dict[str, Any]
) -> dict[str, Any]:
    parts = fitting.parts_of(found) if here.kind == "parts" else []
    place = next(i for i, s in enumerate(steps) if s.pk == here.pk)
    spells = list(found.spells.all())
    unit = unit_for("torque", file.preferences)
    view = queries.torque_view(here) if here.kind == "torque" else None
    return {
        "job": found,
        "step": here,
        "steps": steps,
        "following": steps[place + 1] if place + 1 < len(steps) else None,
        "before": steps[place - 1] if place else None,
        "spells": spells,
        "running": next((s for s in spells if s.ended is None), None),
        "hours": sum(s.hours for s in spells),
        "estimate": queries.estimate_of(
            file, next((one for one in queries.jobs_of(file) if one.pk == found.pk), found)
        ),
        "bound": bound,
        "torque": view,
        "not_known": not_known(here.lugs, here.torque_nm) if here.kind == "torque" else (),
        "torque_unit": unit,
        "parts": parts,
        "ahead": _ahead(file, found, [s for s in steps[place + 1 :] if s.state == "todo"]),
        "photos": list(here.photos.all()),
        "snags": list(found.snags.all()),
        "left": sum(s.state == "todo" for s in steps),
        "axle": file.axles[here.corner[:1] or "F"],
        "gates": [(gate_text(gate), True) for gate in bound["done"].shut],
        "joint_unknown": here.plan.joint.not_known
        if here.kind == "torque" and not here.of_hub and here.plan.joint is not None
        else (),
        "taken": [
            (
                ", ".join(filter(None, (STATIONS[one.reading.code].name, CORNER_NAMES.get(one.reading.corner, "")))),
                reading_text(one.reading, file.preferences),
                one.reading.taken_on,
            )
            for one in (here.taken.select_related("reading") if here.reads else ())
        ],
        "aims": aims_of(file) if here.kind == "measure" and "alignment" in here.module.split() else [],
        "dips": chassis_of(file).dips[:6] if here.kind == "dip" else [],
        "wrench_name": wrench.NAME,
        "removed": list(here.removed.all()),
        "waiting": [choice for choice in parts if choice.state in PROMISED_STATES],
    }
