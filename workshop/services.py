"""What changes a job."""

from __future__ import annotations

from collections.abc import Sequence
from datetime import date, datetime
from typing import Any

from django.core.files.base import ContentFile
from django.db.models import QuerySet
from django.dispatch import Signal
from django.utils import timezone

from garage.car.models import Axle, Car
from garage.car.parts import Part
from garage.chassis.services import keep_dip
from garage.file import CarFile
from garage.readings.models import Reading
from garage.readings.services import take_sheet
from gauges import wrench
from planner.chosen import end_setting
from planner.models import Choice
from planner.services import change_build, put_part
from rimcore.fastening.bolts import at_bolt_nm, wrench_setting_nm
from rimcore.quantities.errors import BadInput
from rimcore.tables.facts import CORNER_NAMES
from rimcore.work.jobsheet import stage_torque_nm
from rimcore.work.ledger import PROMISED_STATES
from rimcore.work.steps import closed_gates
from shell.people import called
from shell.pictures import clean_picture
from shell.undo import remember
from workshop import fitting, ledger
from workshop.models import FollowUp, Job, JointFigure, Photo, Pull, Snag, Spell, Step, StepReading
from workshop.promises import make


def know_torque(step: Step, axle: Axle) -> Step:
    """A torque step with what the hub has learnt since the sheet was made."""
    if step.of_hub:
        step.lugs = step.lugs or axle.bolts
        step.torque_nm = step.torque_nm or stage_torque_nm(axle.nut_torque_nm, step.stage)
    return step


def learn_joint(step: Step, user: Any, values: dict[str, Any]) -> None:
    """What was said of a joint that is no hub's stands at both corners of its axle from then on, and in the book's
    history.

    A step that was done is to do again where the figure is another, or where there are more fasteners than were read.
    """
    said = {
        name: values.get(name)
        for name in ("thread", "grade", "angle_deg", "one_use", "wrench_mm", "adapter_mm", "source")
    }
    with remember(user, f"{step.joint.get('name', 'joint')}: figures saved"):
        for one in alike_of(step):
            other = one.torque_nm is not None and one.torque_nm != values["torque_nm"]
            one.lugs, one.torque_nm = values["count"], values["torque_nm"]
            one.joint = {**one.joint, **said}
            one.joint = {
                name: value for name, value in one.joint.items() if value not in ("", None, False) or name not in said
            }
            if one.state == "done" and one.job.state != "done" and (other or one.pulls.count() < values["count"]):
                one.state, one.done_at = "todo", None
            one.save()
        known = {name: value for name, value in said.items() if value not in ("", None, False)}
        JointFigure.objects.create(
            job=step.job,
            end=step.corner[:1],
            name=step.joint.get("name", ""),
            stage=step.stage,
            count=values["count"],
            torque_nm=values["torque_nm"],
            said=known,
        )


def alike_of(step: Step) -> QuerySet[Step]:
    """The same joint on the same axle of a sheet: a strut in front and a link behind have not one figure."""
    return step.job.steps.filter(
        kind="torque", joint__name=step.joint.get("name", ""), stage=step.stage, corner__startswith=step.corner[:1]
    )


def learn_hub(axle: Axle, user: Any, values: dict[str, Any]) -> None:
    """What was asked at a torque step stands in the hub's data from then on."""
    with remember(user, f"{axle.get_end_display()} hub saved"):
        for name, value in values.items():
            setattr(axle, name, value)
        axle.noted_on = timezone.localdate()
        axle.save()


def finish_step(step: Step, user: Any, note: str = "") -> None:
    """A step is done; what came off at it gets its labels."""
    with remember(user, f"step {step.place} done"):
        step.state, step.done_at, step.skipped_why, step.note = "done", timezone.now(), "", note or step.note
        step.save()
        ledger.label_salvage(step)
        _start(step.job)


def read_at_step(
    file: CarFile, step: Step, user: Any, rows: Sequence[tuple[str, str, dict[str, Any]]]
) -> list[Reading]:
    """Readings taken at a step, of their corners and of today; the step is done with them."""
    how = {"who": called(user), "taken_on": timezone.localdate(), "condition": file.car.conditions.first()}
    with remember(user, f"step {step.place}: {len(rows)} reading{'' if len(rows) == 1 else 's'} saved"):
        kept = take_sheet(file, rows, how)
        for reading in kept:
            StepReading.objects.create(step=step, reading=reading)
        finish_step(step, user)
    return kept


def drive_dip(file: CarFile, step: Step, user: Any, values: dict[str, Any]) -> bool:
    """The known dip was driven on a job: kept with its height, the step done.

    Another height than the build's is told to the build.
    """
    build, end = step.job.build, values["corner"][0]
    said = f"{values['shaft_mm']:.0f} mm on the shaft at the {CORNER_NAMES[values['corner']]}" + (
        ", it touched" if values["touched"] else ""
    )
    more = end_setting(file, build, end).corner_mm[values["corner"][1] == "R"]
    other = bool(abs(values["ride_drop_mm"] - more - end_setting(file, build, end).ride_drop_mm) > 0.05)
    with remember(user, f"step {step.place} done"):
        keep_dip(file.car, values)
        if other:
            change_build(build, user, {}, {("ride_drop_mm", end): values["ride_drop_mm"] - more})
        finish_step(step, user, f"{values['name']}: {said}")
    return other


def shut_gates(step: Step, steps: Sequence[Step]) -> tuple[str, ...]:
    """Gates of a sheet's steps that are not open yet for one of them.

    The sheet's parts are laid out once they are there.
    """
    others = [(other.plan, other.state != "todo") for other in steps if other.pk != step.pk]
    waited = step.kind == "parts" and any(choice.state in PROMISED_STATES for choice in fitting.parts_of(step.job))
    here = ("arrived",) if waited else ()
    return (*here, *closed_gates(step.plan, others))


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


def pull_nut(step: Step, user: Any, lug: int, read_nm: float, source: str = "typed") -> None:
    """One nut tightened, as the wrench reads; the step is done with its last nut."""
    if step.torque_nm is None or step.lugs is None:
        raise ValueError("a nut is tightened once its figure and the number of nuts are known")
    read_nm = at_bolt_nm(read_nm, step.joint.get("wrench_mm"), step.joint.get("adapter_mm"))
    with remember(user, f"a nut at {read_nm:.0f} N·m"):
        pull = Pull.objects.filter(step=step, lug=lug).first() or Pull(step=step, lug=lug, wanted_nm=step.torque_nm)
        pull.read_nm, pull.at, pull.source = read_nm, timezone.now(), source
        pull.save()
        _start(step.job)
        if Pull.objects.filter(step=step).count() >= step.lugs:
            step.state, step.done_at = "done", timezone.now()
        step.save()


def _start(job: Job) -> None:
    if job.state == "open":
        make.keep(job, "begun")
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


def snag_of_claim(choice: Choice, what: str, on: date) -> bool:
    """A part that failed or came wrong is a snag of the newest sheet of its build that is not finished."""
    job = Job.objects.filter(build=choice.build_id, kind="fit").exclude(state="done").order_by("-id").first()
    if job is None:
        return False
    Snag.objects.create(job=job, kind="wrong_part", what=f"{choice.label}: {what}"[:300], found_on=on)
    return True


def weigh_ways(snag: Snag, user: Any, ways: dict[str, dict[str, Any]], decision: str, name: str = "") -> None:
    """Ways out of a snag with what each costs, and what was decided; a part that replaces is wanted in the build.

    Parameters
    ----------
    ways : use, repair, replace -> money in hundredths, hours, days, note
    name : of the part, where it is replaced
    """
    with remember(user, f"snag weighed: {snag.what[:60]}"):
        snag.options, snag.decision = ways, decision
        snag.decided_on = timezone.localdate() if decision else None
        if decision != "replace" and snag.choice is not None and snag.choice.state == "wanted":
            snag.choice.delete()
            snag.choice = None
        if decision == "replace":
            _want_replacement(snag, user, ways["replace"], name or snag.what)
        snag.save()


def _want_replacement(snag: Snag, user: Any, way: dict[str, Any], name: str) -> None:
    """The part that replaces: once, with the price and days that were thought of."""
    price, days = way.get("money_minor"), way.get("days")
    if snag.choice is None:
        part = Part.objects.create(
            car=snag.job.car,
            family="other",
            name=name[:80],
            price_minor=price,
            lead_days=days,
            note=f"for the snag: {snag.what}"[:200],
        )
        snag.choice = put_part(snag.job.build, user, part, {"position": "A", "quantity": 1, "state": "wanted"})
        return
    choice = Choice.objects.select_related("part").get(pk=snag.choice_id)
    choice.price_minor, choice.lead_days, choice.part.name = price, days, name[:80]
    choice.part.save(update_fields=["name"])
    choice.save()


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
    with remember(job.car.owner, "photo saved"):
        photo = Photo(job=job, step=step, caption=caption)
        photo.image.save("photo.jpg", ContentFile(picture), save=False)
        photo.save()
    return photo


def remove_photo(photo: Photo, user: Any) -> None:
    """Remove a picture; its file goes when that can't be undone any more."""
    with remember(user, "photo removed"):
        photo.delete()


def pull_simulated(step: Step, user: Any, lug: int) -> wrench.Click:
    """One nut by the simulated wrench, set to the wanted figure less its adapter.

    The book gets what the read-out shows.
    """
    wanted, lever = step.torque_nm or 0.0, (step.joint.get("wrench_mm"), step.joint.get("adapter_mm"))
    setting = wrench_setting_nm(wanted, float(lever[0]), float(lever[1])) if None not in lever else wanted
    click = wrench.pull(setting, pulls_of_wrench(step.job.car), step.job.car_id)
    pull_nut(step, user, lug, max(wrench.STEP_NM, click.shown_nm), "simulated")
    return click


def pulls_of_wrench(car: Car) -> int:
    """How often the simulated wrench was used on a car: it drifts with it."""
    return Pull.objects.filter(step__job__car=car, source="simulated").count()


#: a sheet was closed: what holds predictions may learn from it
job_finished = Signal()


def finish_job(file: CarFile, job: Job, user: Any, odometer_km: int) -> None:
    """Close the sheet: parts are fitted, what stands on the car is told, what came off is in the ledger, re-torques
    come due.
    """
    with remember(user, f"{job.title} finished"):
        if not Job.objects.filter(pk=job.pk).exclude(state="done").exists():
            raise BadInput("this sheet is closed already", "job")
        stop_clock(job, user)
        job.state, job.done_on, job.done_km = "done", timezone.localdate(), odometer_km
        job.save()
        file.car.odometer_km = odometer_km
        file.car.save(update_fields=["odometer_km"])
        if job.kind == "fit":
            fitting.fit_parts(file, job, user)
            fitting.come_due(job, odometer_km)
    if job.kind == "fit":
        job_finished.send(sender=Job, user=user, car=job.car)


def add_track_day(car: Car, user: Any) -> None:
    """A day on the track: what comes due by track days comes nearer."""
    with remember(user, "track day noted"):
        car.track_days += 1
        car.save(update_fields=["track_days"])


def nuts_of_set(sender: Any, car: Car, name: str, **_: Any) -> None:
    """A set of wheels was put on without a sheet: its nuts come due as after a sheet."""
    fitting.nuts_come_due(car, name)


def do_follow_up(follow_up: FollowUp, user: Any, odometer_km: int) -> None:
    """A follow-up was done."""
    with remember(user, f"{follow_up.what}: done"):
        follow_up.done_on, follow_up.done_km = timezone.localdate(), odometer_km
        follow_up.save()
        car: Car = follow_up.car
        if odometer_km > car.odometer_km:
            car.odometer_km = odometer_km
            car.save(update_fields=["odometer_km"])
