"""Orders and dates: when parts come, when the job can start, what is in hand before the event."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date, timedelta


@dataclass(frozen=True)
class Part:
    """A part of a build as the schedule sees it."""

    name: str
    lead_days: int | None
    ordered_on: date | None = None
    arrived_on: date | None = None


@dataclass(frozen=True)
class Schedule:
    """Dates that follow; ``unknown`` names the parts without a lead time, whose date nobody knows."""

    arrivals: tuple[tuple[str, date | None], ...]
    earliest_start: date | None
    finish: date | None
    days_in_hand: int | None
    waits_for: str
    unknown: tuple[str, ...]


def arrival(part: Part, today: date) -> date | None:
    """Date on which a part is there: as arrived, else the order's date (or today) plus its lead time.

    An order that is overdue counts as arriving today at the earliest.

    >>> arrival(Part("wheels", 14, ordered_on=date(2027, 5, 1)), date(2027, 5, 3))
    datetime.date(2027, 5, 15)
    """
    if part.arrived_on is not None:
        return part.arrived_on
    if part.lead_days is None:
        return None
    return max(today, (part.ordered_on or today) + timedelta(days=part.lead_days))


def job_days(hours: float, hours_per_week: float) -> int:
    """Calendar days a job takes in the evenings there are.

    >>> job_days(6, 8)
    6
    """
    return math.ceil(hours / hours_per_week * 7) if hours > 0 else 0


def schedule(
    parts: Sequence[Part], today: date, hours: float, hours_per_week: float, event_on: date | None, test_days: int = 1
) -> Schedule:
    """Earliest start and finish of a job, and the days in hand before the event.

    Parameters
    ----------
    hours : work still to do [h]
    hours_per_week : what the person has for it [h]
    test_days : kept free before the event (common practice: leave a test day)

    Examples
    --------
    >>> plan = schedule([Part("tyres", 5)], date(2027, 5, 1), 4, 28, date(2027, 5, 20))
    >>> plan.earliest_start, plan.days_in_hand
    (datetime.date(2027, 5, 6), 12)
    """
    arrivals = tuple((part.name, arrival(part, today)) for part in parts)
    unknown = tuple(name for name, on in arrivals if on is None)
    if unknown:
        return Schedule(arrivals, None, None, None, "", unknown)
    last_name, last_on = max(
        ((name, on) for name, on in arrivals if on is not None), key=lambda pair: pair[1], default=("", today)
    )
    start = max(today, last_on)
    finish = start + timedelta(days=job_days(hours, hours_per_week))
    in_hand = (event_on - finish).days - test_days if event_on is not None else None
    return Schedule(arrivals, start, finish, in_hand, last_name if last_on > today else "", ())
