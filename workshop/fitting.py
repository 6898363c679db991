"""What a finished sheet makes of the car: what stands on it, what its hubs and brakes are now, what comes due."""

from __future__ import annotations

from datetime import timedelta
from typing import Any

from django.utils import timezone

from garage.car.assemble import CORNERS_OF
from garage.car.models import Car, Driveline, Outfit, OutfitAxle
from garage.car.parts import Part
from garage.car.services import stand
from garage.chassis.services import SPRING_FIELDS, write_down
from garage.file import CarFile
from garage.mass.services import take_out_planned
from garage.readings.models import Reading
from planner.changes import OF_FAMILY, plan_of
from planner.chosen import candidate, chosen, end_setting
from planner.models import Build, Choice
from planner.services import set_state
from rimcore.families import CHASSIS, FAMILIES
from rimcore.fastening.fasteners import RETORQUE_KM
from rimcore.mass.ledger import STRIP_OUT
from rimcore.parts.declared import Due
from rimcore.well.levers import STATED_MM
from rimcore.well.read.measured import Candidate
from rimcore.work.jobsheet import modules_of
from rimcore.work.ledger import OUT_STATES
from rimcore.work.modules import MODULES
from workshop import ledger
from workshop.forms import BEFORE
from workshop.models import HUB_JOINT, FollowUp, Job, StepReading

#: modules after which something else stands on the hubs
STANDS = frozenset({"wheels", "spacers", "height", "springs", "leaves", "alignment", "lip"})
#: how a bench's source begins -> module that fits what goes along with its parts
OF_SOURCE = {"run exhaust": "exhaust", "run intake": "intake", "panel": "panel"}
#: of a part of the list, what is no property of what stands on the car
ASIDE = ("pieces", "mass_change_kg")


def fit_parts(file: CarFile, job: Job, user: Any) -> None:
    """Parts of the sheet are on the car.

    Outfit, hubs, brakes and axle ratio say so, what they replace is in the ledger.
    """
    build, modules, fitted = job.build, _modules(job), [choice for choice in parts_of(job) if choice.state != "fitted"]
    if modules & STANDS:
        outfit = _new_outfit(file, build, modules)
        _read_meanwhile(job, outfit)
        if "wheels" in modules and build.outfit_id is None:
            build.outfit = outfit
            build.save(update_fields=["outfit"])
        ledger.take_off(file, job, fitted)
    if "axle gears" in modules:
        _new_driveline(build)
    if modules & {"height", "springs"}:
        _collars_set(build)
    if "strip" in modules and take_out_planned(file.car, user):
        for lever in build.levers.filter(code=STRIP_OUT.code):
            lever.delete()
    for choice in fitted:
        _on_the_hubs(file, choice)
        _on_the_chassis(file, job, choice)
        set_state(choice, user, "fitted", timezone.localdate())


def _read_meanwhile(job: Job, outfit: Outfit) -> None:
    """What was read at the sheet's steps once the new parts were on is of what stands on the car now."""
    taken = StepReading.objects.filter(step__job=job).exclude(step__phase__in=BEFORE).select_related("reading")
    for one in taken:
        one.reading.outfit = outfit
        one.reading.save(update_fields=["outfit"])


def _modules(job: Job) -> set[str]:
    """Modules of a sheet; one that names none is of all."""
    return set(job.modules) or set(MODULES)


def parts_of(job: Job) -> list[Choice]:
    """Parts of its build that a sheet fits, or has fitted."""
    return [choice for choice in job.build.choices.select_related("part") if _of_sheet(choice, _modules(job))]


def _of_sheet(choice: Choice, modules: set[str]) -> bool:
    """Is a part one that the sheet fits?"""
    if choice.state in OUT_STATES:
        return False
    if choice.along:
        source = choice.bench.partition("/")[0]
        own = next((module for begins, module in OF_SOURCE.items() if source.startswith(begins)), "")
        return not own or own in modules
    family = FAMILIES.get(choice.kind)
    named = set(family.modules) if family is not None else set()
    return not named or bool(named & modules)


def _new_driveline(build: Build) -> None:
    """An axle ratio that the build changes is the car's own from now on."""
    ratio = build.lever("axle_ratio")
    kept = Driveline.objects.filter(car=build.car_id).first()
    if isinstance(ratio, float) and kept is not None:
        kept.axle_ratio, kept.noted_on = ratio, timezone.localdate()
        kept.save()


def _on_the_hubs(file: CarFile, choice: Choice) -> None:
    """Studs, nuts and bolts change what is known of the hub; a caliper what the wheel has to go over."""
    said = choice.part.spec
    ends = [end for end in ("F", "R") if choice.stands_at(end) and end in file.axles]
    if choice.kind in ("stud", "nut", "bolt"):
        for end in ends:
            axle = file.axles[end]
            axle.thread = said.get("thread", axle.thread)
            axle.seat = said.get("seat", axle.seat)
            if choice.kind == "stud":
                axle.stud_length_mm, axle.bolt_length_mm = said["length_mm"], None
            elif choice.kind == "bolt":
                axle.stud_length_mm, axle.bolt_length_mm = None, said["length_mm"]
            axle.noted_on = timezone.localdate()
            axle.save()
    if choice.kind == "caliper":
        outfit = Outfit.objects.filter(car=file.car).order_by("-since", "-id").first()
        for corner in (corner for end in ends for corner in CORNERS_OF[end]):
            for code, name in (
                ("caliper_barrel", "radius_mm"),
                ("caliper_spoke", "face_mm"),
                ("caliper_inner", "inner_mm"),
            ):
                if said.get(name) is not None and outfit is not None:
                    Reading.objects.create(
                        car=file.car,
                        outfit=outfit,
                        corner=corner,
                        code=code,
                        values=[float(said[name])],
                        typed=f"{said[name]:g}",
                        method="stated",
                        uncertainty=STATED_MM,
                        who=str(choice.part)[:60],
                    )


def _on_the_chassis(file: CarFile, job: Job, choice: Choice) -> None:
    """A spring, an arm and the like stands on the car from now on.

    What it replaces is in the ledger, with what was written down of it.
    """
    if choice.kind not in CHASSIS or choice.part.fault is not None:
        return
    family, today = CHASSIS[choice.kind], timezone.localdate()
    said = {
        spec.code: choice.part.spec[spec.code]
        for spec in family.specs
        if choice.part.spec.get(spec.code) is not None and spec.code not in ASIDE
    }
    for end in (end for end in ("F", "R") if choice.stands_at(end) and end in file.axles):
        ledger.take_off_chassis(file, job, choice, end)
        write_down(file.car, end, choice.kind, said, str(choice.part)[:60], today)
        own = {name: said[name] for name in SPRING_FIELDS if name in said}
        if choice.kind == "damper" and "rate_n_per_mm" in own:
            write_down(file.car, end, "spring", own, str(choice.part)[:60], today)


#: levers that are turned from where the car stands
WOUND = ("perch_up_mm", "lower_mount_mm", "collar_mm")


def _collars_set(build: Build) -> None:
    """Collars that were wound as the build has it stand so from now on: the next turn counts from there."""
    for lever in build.levers.filter(code__in=WOUND):
        lever.delete()


def _new_outfit(file: CarFile, build: Build, modules: set[str]) -> Outfit:
    """What stands on the car now: the build's wheels where the sheet has them, else those that stood there."""
    outfit = Outfit.objects.create(car=file.car, name=f"{build.name}, as fitted"[:80], since=timezone.localdate())
    left_out = set(modules_of(plan_of(file, build), OF_FAMILY)) - modules
    for end in ("F", "R"):
        wanted, before = candidate(file, build, end), file.on(file.current, end)
        if wanted is None or before is None:
            continue
        if "wheels" in modules:
            _stand_new(file, build, outfit, end, wanted, before, left_out)
        else:
            _stand_as_before(file, build, outfit, end, before, modules)
    return outfit


def _stand_new(
    file: CarFile, build: Build, outfit: Outfit, end: str, fitted: Candidate, before: OutfitAxle, left_out: set[str]
) -> None:
    """The build's wheel and tyre; spacer, height and camber stay as they were where the sheet leaves their work out."""
    wheel, tyre = chosen(build, end)
    written = before.camber_deg is not None or end_setting(file, build, end).camber_deg is not None
    camber = before.camber_deg if "alignment" in left_out else fitted.fitted.camber_deg if written else None
    seat = fitted.mount.seat
    stands = stand(
        outfit,
        end,
        {
            "wheel": fitted.fitted.wheel.spec,
            "tyre": fitted.fitted.tyre.size,
            **{name: getattr(fitted.fitted.wheel, name) for name in ("bolts", "pcd_mm", "bore_mm")},
            "measured_section_mm": fitted.fitted.measured_section_mm,
            "profile": fitted.fitted.profile_mm,
            "spacer_mm": before.spacer_mm if "spacers" in left_out else fitted.fitted.spacer_mm,
            "camber_deg": camber,
            **_height(before, None if "height" in left_out else (fitted.levers.ride_drop_mm, fitted.levers.corner_mm)),
            "seat": str(seat) if seat is not None else "",
            "pad_thickness_mm": fitted.mount.pad_thickness_mm,
            "load_kg": fitted.wheel_load_kg,
            "barrel_radius_mm": fitted.barrel_radius_mm,
            "spoke_back_mm": fitted.spoke_back_mm,
            "wheel_kg": wheel.mass_kg if wheel else before.wheel_kg,
            "tyre_kg": tyre.mass_kg if tyre else before.tyre_kg,
        },
    )
    _offered_as(stands.wheel_part, wheel)
    _offered_as(stands.tyre_part, tyre)


def _height(before: OutfitAxle, changed: tuple[float, tuple[float, float]] | None) -> dict[str, float]:
    """How low an end and its corners stand: as before, or as the sheet has changed it."""
    drop, (left, right) = changed or (before.ride_drop_mm, before.corner_mm)
    return {"ride_drop_mm": drop, "left_more_mm": left, "right_more_mm": right}


def _stand_as_before(
    file: CarFile, build: Build, outfit: Outfit, end: str, before: OutfitAxle, modules: set[str]
) -> None:
    """The same wheel and tyre, with the spacer, height and camber that the sheet has changed."""
    setting = end_setting(file, build, end)
    names = (
        "wheel",
        "tyre",
        "wheel_kg",
        "tyre_kg",
        "measured_section_mm",
        "profile",
        "seat",
        "pad_thickness_mm",
        "load_kg",
        "barrel_radius_mm",
        "spoke_back_mm",
    )
    camber = setting.camber_deg if "alignment" in modules and setting.camber_deg is not None else before.camber_deg
    stand(
        outfit,
        end,
        {
            **{name: before.said(name) for name in names},
            **{name: before.wheel_part.spec.get(name) for name in ("bolts", "pcd_mm", "bore_mm")},
            "spacer_mm": setting.spacer_mm if "spacers" in modules else before.spacer_mm,
            "camber_deg": camber,
            **_height(before, (setting.ride_drop_mm, setting.corner_mm) if "height" in modules else None),
        },
    )


def _offered_as(stands: Part, offered: Part | None) -> None:
    """What stands on the car keeps the name under which it was on the list, and who sold it."""
    if offered is not None:
        stands.name, stands.supplier, stands.link = offered.name, offered.supplier, offered.link
        stands.save(update_fields=["name", "supplier", "link"])


def come_due(job: Job, odometer_km: int) -> None:
    """What has to be looked at again: the nuts of every wheel that was off, and what the families of the parts say."""
    dues: list[Due] = []
    if any(step.of_hub for step in job.steps.filter(kind="torque")):
        dues += _of_nuts()
    wanted = set(job.modules)
    for choice in job.build.choices.select_related("part").filter(state="fitted"):
        family = FAMILIES.get(choice.kind)
        if family is not None and (not wanted or set(family.modules) & wanted):
            dues += [due for due in family.dues if due.holds(choice.part.whole)]
    once = {
        (due.what.partition(",")[0], due.after_km, due.after_days, due.after_track_days): due for due in reversed(dues)
    }
    for due in sorted(once.values(), key=lambda one: (one.after_km or 0, one.what)):
        _note_due(job.car, due, odometer_km, job)


def _of_nuts() -> list[Due]:
    """The nuts of a wheel that was off are tightened again, twice."""
    return [Due(f"{HUB_JOINT}, re-torque", after_km=km) for km in RETORQUE_KM]


def nuts_come_due(car: Car, name: str) -> None:
    """A set of wheels was put on without a sheet: its nuts come due, those of the set before it don't any more."""
    FollowUp.objects.filter(car=car, job=None, done_on=None, what__startswith=f"{HUB_JOINT}, re-torque").delete()
    for due in _of_nuts():
        _note_due(car, due, car.odometer_km, of=f", {name}")


def _after(due: Due) -> str:
    """After what a look is due, in words."""
    told = (
        (due.after_km, "km", "km"),
        (due.after_days, "day", "days"),
        (due.after_track_days, "track day", "track days"),
    )
    return ", ".join(f"{count} {one if count == 1 else many}" for count, one, many in told if count is not None)


def _note_due(car: Car, due: Due, odometer_km: int, job: Job | None = None, of: str = "") -> None:
    after = f" after {_after(due)}"
    FollowUp.objects.create(
        car=car,
        job=job,
        what=f"{due.what}{of[: 160 - len(due.what) - len(after)]}{after}"[:160],
        after_km=due.after_km,
        due_km=odometer_km + due.after_km if due.after_km is not None else None,
        due_on=timezone.localdate() + timedelta(days=due.after_days) if due.after_days is not None else None,
        due_track_days=car.track_days + due.after_track_days if due.after_track_days is not None else None,
    )
