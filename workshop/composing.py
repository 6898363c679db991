"""Job sheets made from what changes in a build; templates of one's own; steps moved, added, dropped."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import asdict, replace
from typing import Any

from garage.file import CarFile
from planner.changes import OF_FAMILY, plan_of
from planner.models import Build
from rimcore.quantities.errors import BadInput
from rimcore.work import template
from rimcore.work.jobsheet import job_sheet, modules_of
from rimcore.work.modules import MODULES
from rimcore.work.steps import StepPlan
from shell.undo import remember
from workshop.models import HUB_JOINT, Job, JobTemplate, Step
from workshop.promises import make

#: in place of modules for a sheet that fits no part of the build
NOTHING_FITTED = "nothing"


def make_job(file: CarFile, build: Build, user: Any, only: Sequence[str] = ()) -> Job:
    """Make a sheet from what changes in a build, or from some of its modules.

    Raises
    ------
    BadInput : nothing changes
    """
    plan = plan_of(file, build)
    modules = modules_of(plan, OF_FAMILY)
    chosen = tuple(name for name in modules if not only or name in only)
    if not chosen:
        raise BadInput("nothing changes in this build yet; choose a part or move a lever first", "build")
    with remember(user, "job sheet made"):
        job = Job.objects.create(car=file.car, build=build, title=_title(chosen, build), modules=list(chosen))
        _write(job, job_sheet(plan, chosen))
        make.keep(job, "made", file)
    return job


def _title(modules: Sequence[str], build: Build) -> str:
    names = {"wheels": "wheels and tyres", "other": "other parts"}
    said = [names.get(name, name) for name in modules]
    if "wheels" in modules:
        said = [
            "wheels and tyres",
            *(
                name
                for name in said
                if name not in ("wheels and tyres", "rings", "nuts", "valves", "spacers", "other parts")
            ),
        ]
    text = ", ".join(said[:-1]) + " and " + said[-1] if len(said) > 1 else said[0]
    return f"{text[:1].upper()}{text[1:]}, {build.name}"[:120]


def _write(job: Job, steps: Sequence[StepPlan], first: int = 1) -> None:
    for place, step in enumerate(steps, start=first):
        Step.objects.create(job=job, place=place, **_columns(step))


def _columns(step: StepPlan) -> dict[str, Any]:
    """A step of the core as a row."""
    joint = (
        {name: value for name, value in asdict(step.joint).items() if value not in ("", None, False)}
        if step.joint is not None
        else {}
    )
    return {
        "phase": step.phase,
        "kind": step.kind,
        "title": step.title[:160],
        "detail": step.detail,
        "caution": step.caution,
        "tools": list(step.tools),
        "corner": step.corner,
        "stage": step.stage,
        "torque_nm": step.torque_nm,
        "lugs": step.lugs,
        "consumables": list(step.consumables),
        "salvage": list(step.salvage),
        "helpers": step.helpers,
        "gates": list(step.gates),
        "opens": step.opens,
        "module": step.module[:200],
        "reads": list(step.reads),
        "joint": joint,
    }


def add_step(job: Job, user: Any, after: Step, values: dict[str, Any]) -> Step:
    """A step of one's own after another."""
    with remember(user, f"step added after {after.place}"):
        _make_room(job, after.place + 1)
        return Step.objects.create(job=job, place=after.place + 1, phase=after.phase, own=True, **values)


def _make_room(job: Job, place: int) -> None:
    """Everything from a place on moves one down, the last first, so that no two ever share a place."""
    for step in job.steps.filter(place__gte=place).order_by("-place"):
        step.place += 1
        step.save(update_fields=["place"])


def move_step(step: Step, user: Any, down: bool) -> None:
    """A step changes place with its neighbour; nothing happens at either end."""
    order = "place" if down else "-place"
    neighbours = step.job.steps.filter(**{"place__gt" if down else "place__lt": step.place}).order_by(order)
    other = neighbours.first()
    if other is None:
        return
    with remember(user, f"step {step.place} moved"):
        here, there, aside = (
            step.place,
            other.place,
            (step.job.steps.order_by("-place").values_list("place", flat=True).first() or 0) + 1,
        )
        for one, place in ((step, aside), (other, here), (step, there)):
            one.place, one.own = place, True
            one.save(update_fields=["place", "own"])


def drop_step(step: Step, user: Any) -> None:
    """A step goes from the sheet; one that was done stays, with what was read at it.

    Raises
    ------
    BadInput : it is done, or the only one
    """
    if step.state != "todo" or step.pulls.exists():
        raise BadInput("a step that is done or begun stays on the sheet; skip it with a reason", "step")
    if step.job.steps.count() == 1:
        raise BadInput("a sheet has at least one step", "step")
    with remember(user, f"step {step.place} dropped"):
        step.delete()


def keep_template(job: Job, user: Any, name: str) -> JobTemplate:
    """Keep a sheet as a template of one's own; one of the same name gives way."""
    steps = tuple(replace(step.plan, share="") for step in job.steps.all())
    text = template.written(template.Template(name, steps))
    with remember(user, f"template {name} saved"):
        found = JobTemplate.objects.filter(owner=user, name=name).first() or JobTemplate(owner=user, name=name)
        found.text = text
        found.save()
    return found


def read_template(user: Any, text: str) -> JobTemplate:
    """Take in a template as JSON text.

    Raises
    ------
    BadInput : with the place and what is accepted
    """
    known = template.read(text)
    with remember(user, f"template {known.name} read"):
        found = JobTemplate.objects.filter(owner=user, name=known.name).first() or JobTemplate(
            owner=user, name=known.name
        )
        found.text = template.written(known)
        found.save()
    return found


def make_from_template(file: CarFile, build: Build, user: Any, kept: JobTemplate) -> Job:
    """A sheet from a template; wheel nuts get the figures of this car's hubs."""
    known = template.read(kept.text)
    modules = [name for name in MODULES if any(name in step.module for step in known.steps)] or [NOTHING_FITTED]
    with remember(user, "job sheet made from a template"):
        job = Job.objects.create(car=file.car, build=build, title=f"{known.name}, {build.name}"[:120], modules=modules)
        _write(job, [_on_this_car(file, step) for step in known.steps])
        make.keep(job, "made", file)
    return job


def _on_this_car(file: CarFile, step: StepPlan) -> StepPlan:
    """Another car's nuts are not this one's: count and torque of the hub are asked of this car."""
    if step.joint is None or step.joint.name != HUB_JOINT:
        return step
    axle = file.axles.get(step.corner[:1] or "F")
    thread = axle.thread if axle is not None else ""
    return replace(
        step, lugs=None, torque_nm=None, joint=replace(step.joint, count=None, torque_nm=None, thread=thread, grade="")
    )


def remove_template(kept: JobTemplate, user: Any) -> None:
    with remember(user, f"template {kept.name} removed"):
        kept.delete()
