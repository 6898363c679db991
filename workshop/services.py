"""What changes a job."""

from __future__ import annotations

from datetime import datetime
from typing import Any

from django.core.files.base import ContentFile
from django.utils import timezone

from garage.assemble import CORNERS_OF
from garage.file import CarFile
from garage.models import Axle, Car, Driveline, Outfit
from garage.parts import Part
from garage.services import stand
from planner.models import Build
from planner.queries import candidate, chosen, end_setting
from planner.services import set_state
from rimcore.fastening.fasteners import RETORQUE_KM
from rimcore.quantities.errors import BadInput
from rimcore.work.jobsheet import CornerHub, WheelJob, stage_torque_nm, wheel_job
from shell.pictures import clean_picture
from shell.undo import remember
from workshop import promises
from workshop.models import FollowUp, Job, Photo, Pull, Snag, Spell, Step


def make_job(file: CarFile, build: Build, user: Any) -> Job:
    """Make the wheel job sheet of a build."""
    ends = [end for end in ("F", "R") if any(chosen(build, end))]
    if not ends:
        raise BadInput("the build has no wheels or tyres yet; choose a pair first", "build")
    plan = WheelJob(tuple(_hub(file, build, corner) for end in ends for corner in CORNERS_OF[end]))
    with remember(user, "job sheet made"):
        job = Job.objects.create(car=file.car, build=build, title=f"Wheels and tyres, {build.name}")
        for place, step in enumerate(wheel_job(plan), start=1):
            Step.objects.create(
                job=job, place=place, phase=step.phase, kind=step.kind, title=step.title, detail=step.detail, caution=step.caution,
                tools=list(step.tools), corner=step.corner, stage=step.stage, torque_nm=step.torque_nm, lugs=step.lugs,
            )  # fmt: skip
        promises.keep(job, "made", file)
    return job


def _hub(file: CarFile, build: Build, corner: str) -> CornerHub:
    """Each corner has its own end's hub, and its own end's ring."""
    axle, ring = file.axles[corner[0]], end_setting(file, build, corner[0]).ring_mm
    return CornerHub(corner, axle.bolts, axle.nut_torque_nm, axle.thread, f"{ring[0]:g} → {ring[1]:g} mm" if ring else "")


def know_torque(step: Step, axle: Axle) -> Step:
    """A torque step with what the hub has learnt since the sheet was made."""
    step.lugs = step.lugs or axle.bolts
    step.torque_nm = step.torque_nm or stage_torque_nm(axle.nut_torque_nm, step.stage)
    return step


def learn_hub(axle: Axle, user: Any, values: dict[str, Any]) -> None:
    """What was asked at a torque step stands in the hub's data from then on."""
    with remember(user, f"{axle.get_end_display()} hub kept"):
        for name, value in values.items():
            setattr(axle, name, value)
        axle.noted_on = timezone.localdate()
        axle.save()


def finish_step(step: Step, user: Any, note: str = "") -> None:
    """A step is done."""
    with remember(user, f"step {step.place} done"):
        step.state, step.done_at, step.skipped_why, step.note = "done", timezone.now(), "", note or step.note
        step.save()
        _start(step.job)


def skip_step(step: Step, user: Any, why: str) -> None:
    """A step is skipped, with the reason."""
    with remember(user, f"step {step.place} skipped"):
        step.state, step.skipped_why, step.done_at = "skipped", why, timezone.now()
        step.save()
        _start(step.job)


def reopen_step(step: Step, user: Any) -> None:
    """A step is to do again; its torque readings go."""
    with remember(user, f"step {step.place} to do again"):
        step.state, step.skipped_why, step.done_at = "todo", "", None
        step.save()
        for pull in step.pulls.all():
            pull.delete()


def pull_nut(step: Step, user: Any, lug: int, read_nm: float) -> None:
    """One nut tightened; the step is done with its last nut."""
    if step.torque_nm is None or step.lugs is None:
        raise ValueError("a nut is tightened once its figure and the number of nuts are known")
    with remember(user, f"a nut at {read_nm:.0f} N·m"):
        pull = Pull.objects.filter(step=step, lug=lug).first() or Pull(step=step, lug=lug, wanted_nm=step.torque_nm)
        pull.read_nm, pull.at = read_nm, timezone.now()
        pull.save()
        _start(step.job)
        if Pull.objects.filter(step=step).count() >= step.lugs:
            step.state, step.done_at = "done", timezone.now()
        step.save()


def _start(job: Job) -> None:
    if job.state == "open":
        promises.keep(job, "begun")
        job.state = "under_way"
        job.save(update_fields=["state"])


def start_clock(job: Job, user: Any) -> None:
    """Start the clock; one runs at a time for a job."""
    with remember(user, "clock started"):
        if not job.spells.filter(ended__isnull=True).exists():
            Spell.objects.create(job=job)
        _start(job)


def stop_clock(job: Job, user: Any) -> None:
    """Stop the running clock."""
    with remember(user, "clock stopped"):
        for spell in job.spells.filter(ended__isnull=True):
            spell.ended = timezone.now()
            spell.save()


def change_spell(spell: Spell, user: Any, began: datetime, ended: datetime, note: str) -> None:
    """Correct clocked hours."""
    with remember(user, "hours corrected"):
        spell.began, spell.ended, spell.note = began, ended, note
        spell.save()


def remove_spell(spell: Spell, user: Any) -> None:
    """Take a spell off the clock."""
    with remember(user, "hours taken off"):
        spell.delete()


def log_snag(job: Job, user: Any, values: dict[str, Any]) -> Snag:
    """Something went wrong."""
    with remember(user, "snag logged"):
        snag = Snag.objects.create(job=job, **values)
        _start(job)
    return snag


def change_snag(snag: Snag, user: Any, values: dict[str, Any]) -> None:
    """What it cost, how it was cured; a cure with a date closes it."""
    with remember(user, "snag changed"):
        for name, value in values.items():
            setattr(snag, name, value)
        snag.save()


def keep_photo(job: Job, step: Step | None, raw: bytes, caption: str) -> Photo:
    """Keep a picture of a step.

    Raises
    ------
    BadInput : too large, or no JPEG, PNG or WebP picture
    """
    picture, _ = clean_picture(raw)
    with remember(job.car.owner, "photo kept"):
        photo = Photo(job=job, step=step, caption=caption)
        photo.image.save("photo.jpg", ContentFile(picture), save=False)
        photo.save()
    return photo


def remove_photo(photo: Photo, user: Any) -> None:
    """Remove a picture; its file goes when that can't be undone any more."""
    with remember(user, "photo removed"):
        photo.delete()


def finish_job(file: CarFile, job: Job, user: Any, odometer_km: int) -> None:
    """Close the sheet: parts are fitted, a new outfit stands on the car, re-torques come due."""
    with remember(user, f"{job.title} finished"):
        if not Job.objects.filter(pk=job.pk).exclude(state="done").exists():
            raise BadInput("this sheet is closed already", "job")
        stop_clock(job, user)
        outfit = _new_outfit(file, job.build)
        job.state, job.done_on, job.done_km = "done", timezone.localdate(), odometer_km
        job.save()
        file.car.odometer_km = odometer_km
        file.car.save(update_fields=["odometer_km"])
        _new_driveline(file, job.build)
        job.build.outfit = outfit
        job.build.save(update_fields=["outfit"])
        for part in job.build.choices.exclude(state__in=("returned", "sold", "fitted")):
            set_state(part, user, "fitted", timezone.localdate())
        for after in RETORQUE_KM:
            FollowUp.objects.create(
                car=file.car, job=job, what=f"Wheel nuts, re-torque after {after} km", after_km=after, due_km=odometer_km + after
            )


def _new_driveline(file: CarFile, build: Build) -> None:
    """An axle ratio that the build changes is the car's own from now on."""
    ratio = build.lever("axle_ratio")
    kept = Driveline.objects.filter(car=file.car).first()
    if isinstance(ratio, float) and kept is not None:
        kept.axle_ratio, kept.noted_on = ratio, timezone.localdate()
        kept.save()


def _new_outfit(file: CarFile, build: Build) -> Outfit:
    outfit = Outfit.objects.create(car=file.car, name=f"{build.name}, as fitted", since=timezone.localdate())
    for end in ("F", "R"):
        fitted, before = candidate(file, build, end), file.on(file.current, end)
        if fitted is None or before is None:
            continue
        wheel, tyre = chosen(build, end)
        written = before.camber_deg is not None or end_setting(file, build, end).camber_deg is not None
        seat = fitted.mount.seat
        stands = stand(outfit, end, {
            "wheel": fitted.fitted.wheel.spec, "tyre": fitted.fitted.tyre.size,
            **{name: getattr(fitted.fitted.wheel, name) for name in ("bolts", "pcd_mm", "bore_mm")},
            "measured_section_mm": fitted.fitted.measured_section_mm, "profile": fitted.fitted.profile_mm,
            "spacer_mm": fitted.fitted.spacer_mm, "camber_deg": fitted.fitted.camber_deg if written else None,
            "ride_drop_mm": fitted.ride_drop_mm, "seat": str(seat) if seat is not None else "", "pad_thickness_mm": fitted.mount.pad_thickness_mm,
            "load_kg": fitted.wheel_load_kg, "barrel_radius_mm": fitted.barrel_radius_mm, "spoke_back_mm": fitted.spoke_back_mm,
            "wheel_kg": wheel.mass_kg if wheel else before.wheel_kg, "tyre_kg": tyre.mass_kg if tyre else before.tyre_kg,
        })  # fmt: skip
        _offered_as(stands.wheel_part, wheel)
        _offered_as(stands.tyre_part, tyre)
    return outfit


def _offered_as(stands: Part, offered: Part | None) -> None:
    """What stands on the car keeps the name under which it was on the list, and who sold it."""
    if offered is not None:
        stands.name, stands.supplier, stands.link = offered.name, offered.supplier, offered.link
        stands.save(update_fields=["name", "supplier", "link"])


def do_follow_up(follow_up: FollowUp, user: Any, odometer_km: int) -> None:
    """A follow-up was done."""
    with remember(user, f"{follow_up.what}: done"):
        follow_up.done_on, follow_up.done_km = timezone.localdate(), odometer_km
        follow_up.save()
        car: Car = follow_up.car
        if odometer_km > car.odometer_km:
            car.odometer_km = odometer_km
            car.save(update_fields=["odometer_km"])
