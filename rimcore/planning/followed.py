"""What the likely case of a plan comes to: when parts come, when work can begin, when it is done, what is in hand."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from datetime import date

from rimcore.planning.schedule import Plan, Schedule


@dataclass(frozen=True)
class Part:
    """A part that something waits for: how long it takes, since when."""

    name: str
    lead_days: int | None
    ordered_on: date | None = None


@dataclass(frozen=True)
class Followed:
    """Dates that follow; ``unknown`` names the parts without a lead time, whose date nobody knows."""

    arrivals: tuple[tuple[str, date | None], ...]
    earliest_start: date | None
    finish: date | None
    days_in_hand: int | None
    waits_for: str
    unknown: tuple[str, ...]


def followed(plan: Plan, names: Mapping[str, str], unknown: tuple[str, ...] = ()) -> Followed:
    """The likely case in a few figures; no dates where somebody's part has none.

    Parameters
    ----------
    plan : as it is reckoned
    names : of its parts by id
    unknown : parts that are not in it, for nobody knows when they come

    Source: the rules stand with the command line's ``schedule``.

    >>> from rimcore.planning.network import Calendar, PlanPart, Task
    >>> plan = Plan(date(2027, 5, 1), Calendar((4.0,) * 7), (Task("fit", (4, 4, 4), parts=("p",)),),
    ...     (PlanPart("p", (5, 5, 5)),), date(2027, 5, 20))
    >>> found = followed(plan, {"p": "tyres"})
    >>> found.earliest_start, found.days_in_hand, found.waits_for
    (datetime.date(2027, 5, 6), 13, 'tyres')
    """
    likely = Schedule(plan).likely(slack=False)
    arrivals = tuple((names.get(one.id, one.id), one.arrives) for one in likely.parts)
    every = (*arrivals, *((name, None) for name in unknown))
    if unknown:
        return Followed(every, None, None, None, "", unknown)
    last_name, last_on = "", plan.today
    for name, on in arrivals:
        if on is not None and on > last_on:
            last_name, last_on = name, on
    # the job begins with what waits for parts; work that waits for none may be long under way
    waiting = {one.id for one in plan.tasks if one.parts} or {one.id for one in plan.tasks}
    starts = [one.start for one in likely.tasks if one.start is not None and one.id in waiting]
    start = min(starts) if starts else last_on
    return Followed(every, start, likely.ready_on, likely.days_in_hand, last_name, ())
