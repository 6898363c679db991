"""What the plan's page shows of its dates."""

from __future__ import annotations

from dataclasses import replace
from datetime import date
from typing import Any

from garage.file import CarFile
from planner.dates.facts import factor_of, learnt_of, planned_of, week_of
from planner.dates.reckoned import chances_of, likely_of, ruler_of, span_words
from planner.models import Build
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
    return context | {"ruler": ruler_of(shown)}


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
