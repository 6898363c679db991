"""What else is cheap while the car is apart: other builds whose work shares what is done once, with the hours saved."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date, timedelta

from django.utils import timezone

from garage.file import CarFile
from planner.changes import OF_FAMILY, plan_of
from planner.chosen import builds_of, choices_of
from planner.dates.facts import planned_of, week_of
from planner.dates.reckoned import likely_of
from planner.done import done_of
from planner.models import Build
from rimcore.planning.apart import Wear, needed_while_apart, wear_with
from rimcore.planning.work import UP
from rimcore.work.hours import ModuleHours, hours_by_module, saved_together
from rimcore.work.jobsheet import modules_of


@dataclass(frozen=True)
class Cheap:
    """Work of another build that shares modules with this one."""

    build: Build
    shared: tuple[str, ...]
    saved_h: float


def cheap_with(file: CarFile, build: Build) -> list[Cheap]:
    """Other builds of the car that share what is done once with this one, the most saved first."""
    mine, found = _hours(file, build), []
    for other in builds_of(file):
        if other.pk not in (build.pk, build.follows_id):
            saved, shared = saved_together(mine, _hours(file, other))
            if saved > 0:
                found.append(Cheap(other, tuple(name for name in shared if name != UP), saved))
    return sorted(found, key=lambda one: -one.saved_h)


def wear_beside(file: CarFile, build: Build) -> tuple[Wear, ...]:
    """What wears and is bare while this build is fitted, and is not in it already."""
    job = plan_of(file, build)
    return wear_with(modules_of(job, OF_FAMILY), [choice.label for choice in choices_of(build)])


#: how far ahead a follow-up is done with the rest [days]
SOON_DAYS = 90


def due_beside(file: CarFile) -> list[tuple[int, str, date]]:
    """Follow-ups that come due soon: they cost nothing more while the car is up."""
    until = timezone.localdate() + timedelta(days=SOON_DAYS)
    return [one for one in done_of(file).due if one[2] <= until]


def needed_beside(file: CarFile, build: Build) -> tuple[date, ...]:
    """Days on which the car is wanted to drive and stands apart, in the likely case."""
    week, _ = week_of(file, build)
    found = planned_of(file, build)
    if week is None or not week.drive_weekdays or found.unknown:
        return ()
    mine = [one for one in likely_of(found.plan).tasks if one.id.startswith(f"{build.pk}:m:")]
    return needed_while_apart([(one.start, one.finish) for one in mine], week.drive_weekdays)


def _hours(file: CarFile, build: Build) -> tuple[ModuleHours, ...]:
    job = plan_of(file, build)
    return hours_by_module(job, modules_of(job, OF_FAMILY), OF_FAMILY)
