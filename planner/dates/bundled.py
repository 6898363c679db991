"""What else is cheap while the car is apart: other builds' work and what comes due soon, with the hours saved."""

from __future__ import annotations

from dataclasses import dataclass

from garage.file import CarFile
from planner.changes import OF_FAMILY, plan_of
from planner.chosen import builds_of
from planner.models import Build
from rimcore.work.hours import hours_by_module
from rimcore.work.jobsheet import modules_of


@dataclass(frozen=True)
class Cheap:
    """Work of another build that shares modules with this one."""

    build: Build
    shared: tuple[str, ...]
    saved_h: float


def cheap_with(file: CarFile, build: Build) -> list[Cheap]:
    """Other builds of the car whose modules this one does anyway, the most saved first.

    Saved is what both would do once: car up and down, and modules that both name at the same ends.
    """
    mine = _hours(file, build)
    if not mine:
        return []
    found = []
    for other in builds_of(file):
        if other.pk == build.pk or other.pk == build.follows_id:
            continue
        theirs = _hours(file, other)
        shared = [name for name in theirs if name in mine]
        saved = sum(min(mine[name], theirs[name]) for name in shared)
        if theirs and saved > 0:
            found.append(Cheap(other, tuple(name for name in shared if name != "up"), round(saved, 1)))
    return sorted(found, key=lambda one: -one.saved_h)


def _hours(file: CarFile, build: Build) -> dict[str, float]:
    job = plan_of(file, build)
    rows = hours_by_module(job, modules_of(job, OF_FAMILY), OF_FAMILY)
    return {one.module: one.likely for one in rows if one.hours is not None}
