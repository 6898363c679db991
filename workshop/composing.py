"""Job sheets made from what changes in a build; templates of one's own; steps moved, added, dropped."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import asdict, replace
from typing import Any

from garage.assemble import CORNERS_OF
from garage.file import CarFile
from garage.masses import items_of
from garage.models import Driveline
from planner.chosen import choices_of, end_setting
from planner.models import Build, Choice
from rimcore.families import FAMILIES
from rimcore.mass.ledger import STRIP_OUT
from rimcore.quantities.errors import BadInput
from rimcore.ride.bench import EVEN_WEIGHTS
from rimcore.steering.bench import LEVERS
from rimcore.steering.schools import CROSSMEMBER
from rimcore.work import template
from rimcore.work.jobsheet import CornerHub, JobPlan, PartOn, job_sheet, modules_of
from rimcore.work.modules import MODULES, OF_LEVER
from rimcore.work.steps import StepPlan
from shell.undo import remember
from workshop import promises
from workshop.models import HUB_JOINT, Job, JobTemplate, Step

#: in place of modules for a sheet that fits no part of the build
NOTHING_FITTED = "nothing"
#: modules of every family
OF_FAMILY = {key: family.modules for key, family in FAMILIES.items()}
#: levers that are set once for the car -> ends that are worked on for them
OF_THE_CAR = {
    **dict.fromkeys((*(lever.code for lever in LEVERS), CROSSMEMBER.code), ("F",)),
    EVEN_WEIGHTS.code: ("F", "R"),
    STRIP_OUT.code: (),
}


def to_fit(build: Build) -> list[Choice]:
    """Parts of a build that are not on the car yet."""
    return [choice for choice in choices_of(build) if choice.state != "fitted" and choice.part.fault is None]


def plan_of(file: CarFile, build: Build) -> JobPlan:
    """What changes when a build is fitted: parts that are not on yet, levers that stand otherwise than the car."""
    parts = tuple(
        PartOn(c.kind, str(c.part), c.part.whole, ("F", "R") if c.position == "A" else (c.position,), c.pieces) for c in to_fit(build)
    )
    levers = _levers_moved(file, build)
    ends = {end for part in parts for end in part.ends} | {end for moved in levers.values() for end in moved}
    hubs = tuple(_hub(file, build, corner, parts) for end in ("F", "R") if end in ends and end in file.axles for corner in CORNERS_OF[end])
    strips = STRIP_OUT.code in levers or any("strip" in OF_FAMILY.get(part.family, ()) for part in parts)
    out = tuple((item.label, item.name) for item in items_of(file) if item.state == "planned") if strips else ()
    return JobPlan(hubs, parts, levers, out=out)


def _hub(file: CarFile, build: Build, corner: str, parts: Sequence[PartOn]) -> CornerHub:
    """Each corner has its own end's hub, and its own end's ring; class and wrench as the build's fasteners say."""
    axle, ring = file.axles[corner[0]], end_setting(file, build, corner[0]).ring_mm
    held = [part.spec for part in parts if part.family in ("stud", "bolt", "nut") and corner[0] in part.ends]
    grade = next((str(spec["grade"]) for spec in held if spec.get("grade") and spec.get("length_mm")), "")
    key_mm = next((spec["key_mm"] for spec in held if spec.get("key_mm")), None)
    said = f"{ring[0]:g} → {ring[1]:g} mm" if ring else ""
    return CornerHub(corner, axle.bolts, axle.nut_torque_nm, axle.thread, said, grade, key_mm)


def _levers_moved(file: CarFile, build: Build) -> dict[str, tuple[str, ...]]:
    """Levers that a module is done for, with the ends at which the car stands otherwise."""
    found: dict[str, tuple[str, ...]] = {}
    kept = Driveline.objects.filter(car=file.car).first()
    for code in OF_LEVER:
        if code == "axle_ratio":
            ratio = build.lever(code)
            if isinstance(ratio, float) and kept is not None and abs(ratio - kept.axle_ratio) > 1e-9:
                found[code] = ("R" if file.car.drive != "F" else "F",)
            continue
        if code in OF_THE_CAR:
            if build.lever(code):
                found[code] = OF_THE_CAR[code]
            continue
        ends = tuple(end for end in ("F", "R") if end in file.axles and _moved(file, build, code, end))
        if ends:
            found[code] = ends
    return found


def _moved(file: CarFile, build: Build, code: str, end: str) -> bool:
    present, setting = file.on(file.current, end), end_setting(file, build, end)
    if code == "ride_drop_mm":
        stands = (present.ride_drop_mm, *present.corner_mm) if present is not None else (0.0, 0.0, 0.0)
        return any(abs(one - was) > 1e-9 for one, was in zip((setting.ride_drop_mm, *setting.corner_mm), stands, strict=True))
    if code == "camber_deg":
        return setting.camber_deg is not None and (present is None or setting.camber_deg != file.camber_of(present))
    value = getattr(setting, code)
    return any(value) if isinstance(value, tuple) else bool(value)


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
        promises.keep(job, "made", file)
    return job


def _title(modules: Sequence[str], build: Build) -> str:
    names = {"wheels": "wheels and tyres", "other": "other parts"}
    said = [names.get(name, name) for name in modules]
    if "wheels" in modules:
        said = [
            "wheels and tyres",
            *(name for name in said if name not in ("wheels and tyres", "rings", "nuts", "valves", "spacers", "other parts")),
        ]
    text = ", ".join(said[:-1]) + " and " + said[-1] if len(said) > 1 else said[0]
    return f"{text[:1].upper()}{text[1:]}, {build.name}"[:120]


def _write(job: Job, steps: Sequence[StepPlan], first: int = 1) -> None:
    for place, step in enumerate(steps, start=first):
        Step.objects.create(job=job, place=place, **_columns(step))


def _columns(step: StepPlan) -> dict[str, Any]:
    """A step of the core as a row."""
    joint = {name: value for name, value in asdict(step.joint).items() if value not in ("", None, False)} if step.joint is not None else {}
    return {
        "phase": step.phase, "kind": step.kind, "title": step.title[:160], "detail": step.detail, "caution": step.caution, "tools": list(step.tools),
        "corner": step.corner, "stage": step.stage, "torque_nm": step.torque_nm, "lugs": step.lugs, "consumables": list(step.consumables),
        "salvage": list(step.salvage), "helpers": step.helpers, "gates": list(step.gates), "opens": step.opens, "module": step.module[:200], "joint": joint,
    }  # fmt: skip


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
        here, there, aside = step.place, other.place, (step.job.steps.order_by("-place").values_list("place", flat=True).first() or 0) + 1
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
    with remember(user, f"template {name} kept"):
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
        found = JobTemplate.objects.filter(owner=user, name=known.name).first() or JobTemplate(owner=user, name=known.name)
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
        promises.keep(job, "made", file)
    return job


def _on_this_car(file: CarFile, step: StepPlan) -> StepPlan:
    """Another car's nuts are not this one's: count and torque of the hub are asked of this car."""
    if step.joint is None or step.joint.name != HUB_JOINT:
        return step
    axle = file.axles.get(step.corner[:1] or "F")
    thread = axle.thread if axle is not None else ""
    return replace(step, lugs=None, torque_nm=None, joint=replace(step.joint, count=None, torque_nm=None, thread=thread, grade=""))


def remove_template(kept: JobTemplate, user: Any) -> None:
    with remember(user, f"template {kept.name} removed"):
        kept.delete()
