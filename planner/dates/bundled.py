"""What else is cheap while the car is apart: other builds whose work shares what is done once, with the hours saved."""

from __future__ import annotations

from dataclasses import dataclass

from garage.file import CarFile
from planner.changes import OF_FAMILY, plan_of
from planner.chosen import builds_of
from planner.models import Build
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


def _hours(file: CarFile, build: Build) -> tuple[ModuleHours, ...]:
    job = plan_of(file, build)
    return hours_by_module(job, modules_of(job, OF_FAMILY), OF_FAMILY)
