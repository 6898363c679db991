"""The nut-and-bolt check of the day before an event, made from the torque books of the car."""

from __future__ import annotations

from datetime import timedelta
from typing import Any

from django.db.models import Exists, OuterRef

from garage.file import CarFile
from planner.chosen import build_in_hand
from rimcore.quantities.errors import BadInput
from rimcore.work.steps import CAUTION_TORQUE
from shell.undo import remember
from workshop.models import FollowUp, Job, Pull, Step


def joints_of(file: CarFile) -> list[Step]:
    """Every joint that was tightened on the car at its full figure, the newest sheet's where several have it."""
    found: dict[tuple[str, str], Step] = {}
    steps = Step.objects.filter(
        job__car=file.car, job__kind="fit", kind="torque", stage="full", torque_nm__isnull=False
    )
    pulled = steps.filter(Exists(Pull.objects.filter(step=OuterRef("pk"))))
    for step in pulled.select_related("job").order_by("job_id", "place"):
        found[step.corner, str(step.joint.get("name", ""))] = step
    return list(found.values())


def make_check(file: CarFile, user: Any) -> Job:
    """A sheet with one step a joint: to the figure and no further; due the day before the event where there is one.

    Raises
    ------
    BadInput : nothing was tightened yet, or there is no build in hand
    """
    joints, build = joints_of(file), build_in_hand(file)
    if build is None:
        raise BadInput("there is no current build to check for", "build")
    if not joints:
        raise BadInput("no torque record has a reading yet; tighten something on a sheet first", "job")
    event = file.car.event_name or "the event"
    with remember(user, "nut-and-bolt check made"):
        job = Job.objects.create(
            car=file.car, build=build, kind="check", title=f"Nut-and-bolt check before {event}"[:120]
        )
        Step.objects.create(
            job=job,
            place=1,
            phase="Before",
            kind="do",
            title="Car on its tyres, cold, firm level ground",
            detail="Witness marks looked at before a wrench is laid on.",
        )
        for place, joint in enumerate(joints, start=2):
            title = (
                joint.title.split(":")[0]
                + f": {joint.joint.get('name', 'joint').lower()}, to the figure and no further"
            )
            Step.objects.create(
                job=job,
                place=place,
                phase="Check",
                kind="torque",
                title=title[:160],
                detail=f"From the sheet “{joint.job.title}”.",
                caution=CAUTION_TORQUE,
                tools=joint.tools,
                corner=joint.corner,
                stage="full",
                torque_nm=joint.torque_nm,
                lugs=joint.lugs,
                joint=joint.joint,
            )
        if file.car.event_on is not None:
            FollowUp.objects.create(
                car=file.car, job=job, what=job.title[:160], due_on=file.car.event_on - timedelta(days=1)
            )
    return job
