"""What the plan's page shows of its dates."""

from __future__ import annotations

from dataclasses import replace
from datetime import date
from typing import Any

from garage.file import CarFile
from planner.dates.facts import Planned, factor_of, kinds_of, learnt_of, planned_of, said_of, week_of
from planner.dates.models import Said
from planner.dates.reckoned import chances_of, likely_of, ruler_of, span_words
from planner.done import done_of
from planner.models import Build
from rimcore.planning.drawing import said_drawing
from rimcore.planning.trials import read_trial, tried
from rimcore.quantities.errors import BadInput


def ruled(file: CarFile, build: Build, asked: str = "") -> dict[str, Any]:
    """The ruler with what stands beside it; ``asked`` is a trial, which changes nothing that is kept."""
    found = planned_of(file, build)
    context: dict[str, Any] = {
        "planned": found,
        "week_said": week_of(file, build)[1],
        "learnt": learnt_of(file),
        "counts_own": factor_of(file, build).sigma_task is not None,
        "put_aside": build.put_aside_on,
        "jobs_behind": list(zip(done_of(file).jobs, done_of(file).past, strict=True)),
        "kinds": kinds_of(file),
        "history": said_line(said_of(file).get(build.pk, [])),
    }
    if found.unknown:
        return context
    now = likely_of(found.plan), chances_of(found.plan)
    context |= {"likely": now[0], "chances": now[1], "span": span_words(now[1])}
    shown = found
    if asked:
        try:
            trial = read_trial(asked, found.plan)
            shown = replace(found, plan=tried(found.plan, trial))
        except BadInput as error:
            context["trial_wrong"] = error.message
        else:
            context |= _against(now, shown) | {"trial": trial}
    return context | {"ruler": ruler_of(shown), "links": links_of(shown)}


def said_line(rows: list[Said]) -> Any:
    """Dates that were said, the oldest first, as a line; None where all were said on one day."""
    said = [(row.said_on, row.ready_on) for row in reversed(rows) if row.ready_on is not None]
    return said_drawing(said, rows[0].event_on) if len({day for day, _ in said}) > 1 else None


def links_of(found: Planned) -> dict[str, tuple[str, str]]:
    """Of everything in a plan: what it waits for, and what waits for it, in names."""
    names, before = found.names, dict[str, list[str]]()
    after: dict[str, list[str]] = {}
    for task in found.plan.tasks:
        before[task.id] = [*task.after, *task.parts]
    for part in found.plan.parts:
        before[part.id] = list(part.after)
    for one, waits in before.items():
        for other in waits:
            after.setdefault(other, []).append(one)
    said = {one: ", ".join(names.get(other, other) for other in waits) for one, waits in before.items()}
    return {one: (said[one], ", ".join(names.get(other, other) for other in after.get(one, []))) for one in before}


def _against(now: Any, shown: Any) -> dict[str, Any]:
    """What a trial moves: days, chance, and which work by how much."""
    likely, chances = likely_of(shown.plan), chances_of(shown.plan)
    before: dict[str, date | None] = {one.id: one.finish for one in now[0].tasks}
    moved = []
    for one in likely.tasks:
        old = before.get(one.id)
        if old is not None and one.finish is not None and old != one.finish:
            moved.append((shown.names.get(one.id, one.id), (one.finish - old).days))
    gain = None
    if chances.chance_pct is not None and now[1].chance_pct is not None:
        gain = chances.chance_pct - now[1].chance_pct
    days = None
    if likely.ready_on is not None and now[0].ready_on is not None:
        days = (likely.ready_on - now[0].ready_on).days
    return {
        "tried_likely": likely,
        "tried_chances": chances,
        "moved": sorted(moved, key=lambda pair: -abs(pair[1]))[:6],
        "gain": gain,
        "days_moved": days,
    }
