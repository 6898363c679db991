"""Money of a plan: what may still come by snags, what the season's budget leaves a month."""

from __future__ import annotations

from dataclasses import dataclass

from garage.file import CarFile
from planner.dates.facts import planned_of
from planner.done import done_of
from planner.models import Build
from planner.queries import sums
from rimcore.planning.risk import snags_to_come
from rimcore.work.money import a_month_minor


@dataclass(frozen=True)
class Risk:
    """What snags may still cost, likely and 80 % [minor units], on what they cost so far; and what is left a month."""

    likely_minor: int | None
    most_minor: int | None
    snags: int
    clocked_h: float
    a_month_minor: int | None


def risk_of(file: CarFile, build: Build) -> Risk:
    """Of a build, from all snags of the car."""
    done, plan = done_of(file), planned_of(file, build).plan
    left = sum(one.hours[1] - one.worked_hours for one in plan.tasks if one.hours is not None and one.done_on is None)
    clocked = sum(done.clocked.values())
    found = snags_to_come(done.snags, clocked, max(0.0, left))
    rest = sums(file, build).money.left_minor
    return Risk(
        None if found is None else round(found[0]),
        None if found is None else round(found[1]),
        len(done.snags),
        clocked,
        a_month_minor(rest, plan.today, file.car.event_on),
    )
