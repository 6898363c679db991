"""What changes when a build is fitted, and how long that takes.

Parts that are not on yet, levers that stand otherwise than the car.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from typing import Any

from garage.car.assemble import CORNERS_OF
from garage.car.models import Driveline
from garage.file import CarFile
from garage.kept import once
from garage.mass.ledger import items_of
from planner.chosen import choices_of, end_setting
from planner.dates.rows import own_hours
from planner.models import Build, Choice
from rimcore.families import FAMILIES
from rimcore.mass.ledger import STRIP_OUT
from rimcore.parts.small import REACH
from rimcore.ride.bench import EVEN_WEIGHTS
from rimcore.steering.bench import LEVERS
from rimcore.steering.schools import CROSSMEMBER
from rimcore.work.hours import Estimate, estimate
from rimcore.work.jobsheet import CornerHub, JobPlan, PartOn, modules_of
from rimcore.work.modules import OF_LEVER, Again

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
        PartOn(c.kind, str(c.part), _said_of(c), ("F", "R") if c.position == "A" else (c.position,), c.pieces)
        for c in to_fit(build)
        if not c.along
    )
    levers = levers_moved(file, build)
    ends = {end for part in parts for end in part.ends} | {end for moved in levers.values() for end in moved}
    hubs = tuple(
        _hub(file, build, corner, parts)
        for end in ("F", "R")
        if end in ends and end in file.axles
        for corner in CORNERS_OF[end]
    )
    again = tuple(
        Again(due.what, due.after_km, due.after_days, due.after_track_days)
        for part in parts
        for due in FAMILIES[part.family].dues
        if due.holds(part.spec)
    )
    strips = STRIP_OUT.code in levers or any("strip" in OF_FAMILY.get(part.family, ()) for part in parts)
    out = tuple((item.label, item.name) for item in items_of(file) if item.state == "planned") if strips else ()
    return JobPlan(hubs, parts, levers, out=out, again=again)


def _said_of(choice: Choice) -> Mapping[str, Any]:
    """What is said of a part, with what was answered for a part by name of what comes off for it."""
    said: Mapping[str, Any] = choice.part.whole
    reach = next((code for code, words in REACH.items() if words == choice.answers.get("reach")), None)
    return said if reach is None else {**said, "reach": reach}


def _hub(file: CarFile, build: Build, corner: str, parts: Sequence[PartOn]) -> CornerHub:
    """Each corner has its own end's hub, and its own end's ring; class and wrench as the build's fasteners say."""
    axle, ring = file.axles[corner[0]], end_setting(file, build, corner[0]).ring
    held = [part.spec for part in parts if part.family in ("stud", "bolt", "nut") and corner[0] in part.ends]
    grade = next((str(spec["grade"]) for spec in held if spec.get("grade") and spec.get("length_mm")), "")
    key_mm = next((spec["key_mm"] for spec in held if spec.get("key_mm")), None)
    said = f"{ring.inner_mm:g} → {ring.outer_mm:g} mm" if ring else ""
    return CornerHub(corner, axle.bolts, axle.nut_torque_nm, axle.thread, said, grade, key_mm)


@once
def levers_moved(file: CarFile, build: Build) -> dict[str, tuple[str, ...]]:
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
        return any(
            abs(one - was) > 1e-9 for one, was in zip((setting.ride_drop_mm, *setting.corner_mm), stands, strict=True)
        )
    if code == "camber_deg":
        return setting.camber_deg is not None and (present is None or setting.camber_deg != file.camber_of(present))
    value = getattr(setting, code)
    return any(value) if isinstance(value, tuple) else bool(value)


@once
def hours_of(file: CarFile, build: Build, only: Sequence[str] = ()) -> Estimate:
    """Hours of what a build still changes, or of some of its modules: the person's own figure where there is one."""
    if build.hours_estimate is not None:
        return Estimate(build.hours_estimate, own=True)
    return _worked_out(file, build, only)


def _worked_out(file: CarFile, build: Build, only: Sequence[str]) -> Estimate:
    plan = plan_of(file, build)
    modules = [name for name in modules_of(plan, OF_FAMILY) if not only or name in only]
    planned = [item.minutes for item in items_of(file) if item.state == "planned"] if plan.out else []
    return estimate(plan, modules, OF_FAMILY, planned, own_hours(file, build))
