"""The walk over the days of a plan in many cases: what goes in and what comes out; ``compiled`` walks."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date, timedelta
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from rimcore.planning.network import HORIZON, NEVER, Calendar, Days, Network
from rimcore.planning.tape import (
    ASKS,
    BEFORE,
    BEGUN,
    DRY,
    EARLIEST,
    FREE,
    FREES,
    GIVEN,
    GOOD,
    KIND,
    LINKS,
    NEEDS,
    NOTHING,
    ORDERED,
    PLAN_ROWS,
    THEN,
    USERS,
    WAIT,
    WORKED,
)

Floats = NDArray[np.float64]
Places = NDArray[np.int64]


@dataclass(frozen=True)
class Dates:
    """The days of a plan from today on (d,): hours, a helper's, a lift's."""

    hours: Floats
    helper: NDArray[np.bool_]
    lift: NDArray[np.bool_]


def dates_of(calendar: Calendar, today: date, days: int = HORIZON) -> Dates:
    """A person's calendar as arrays.

    Parameters
    ----------
    calendar : hours, helper, lift
    today : day 0
    days : how many follow

    Source: none; a convention of this program.

    >>> dates_of(Calendar((0, 0, 2, 0, 0, 6, 6)), date(2027, 5, 1), 1).hours.tolist()
    [6.0, 6.0]
    """
    all_days = [today + timedelta(days=k) for k in range(days + 1)]
    return Dates(
        np.array([calendar.hours_on(day) for day in all_days]),
        np.array([day in calendar.helper for day in all_days]),
        np.array([day in calendar.lift for day in all_days]),
    )


class Cases(NamedTuple):
    """What differs from case to case, a column each: hours wanted, days away (t, n), whole leads (p, n).

    Wet days have a row a case (n, d); without rain there are none (0, 0).
    """

    wanted: Floats
    away: Days
    leads: Days
    wet: NDArray[np.bool_]


class Changes(NamedTuple):
    """Walks, each of one case and with one thing changed: which column, what, of which task or part, by or to which day."""

    column: Places
    what: Places
    at: Places
    days: Places


def as_they_are(count: int) -> Changes:
    """Each case once, nothing changed."""
    none = np.zeros(count, np.int64)
    return Changes(np.arange(count), none, none, none)


class Walked(NamedTuple):
    """Days from today, ``NEVER`` where it did not come to it: starts and finishes (t, n), arrivals (p, n), ready (n,)."""

    start: Days
    finish: Days
    arrive: Days
    ready: Days


def _turned(found: Sequence[Sequence[int]], count: int) -> list[list[int]]:
    """For each of ``count`` things, in which lists it stands.

    >>> _turned([[1], [], [0, 1]], 2)
    [[2], [0, 2]]
    """
    turned: list[list[int]] = [[] for _ in range(count)]
    for place, one in enumerate(found):
        for k in one:
            turned[k].append(place)
    return turned


def _plan_of(net: Network, dates: Dates) -> Places:
    """A network and its calendar as one array: a column a task, part, link or day (``tape``)."""
    tasks, parts, links = len(net.tasks), len(net.parts), list[int]()
    lists = (
        (BEFORE, net.before),
        (NEEDS, net.needs),
        (THEN, _turned(net.before, tasks)),
        (FREES, _turned(net.ordered_after, tasks)),
        (ASKS, net.ordered_after),
        (USERS, _turned(net.needs, parts)),
    )
    count = sum(len(one) for _, found in lists for one in found)
    plan = np.zeros((PLAN_ROWS, max(tasks + 1, parts + 1, count, len(dates.hours) + 1)), np.int64)
    for row, of_task in ((EARLIEST, net.earliest), (WAIT, net.wait_days), (KIND, net.kind)):
        plan[row, :tasks] = of_task
    for row, flag in ((DRY, net.dry), (GIVEN, net.away), (BEGUN, net.begun)):
        plan[row, :tasks] = flag
    plan[ORDERED, :parts] = net.ordered
    for row, found in lists:
        for place, one in enumerate(found):
            plan[row, place] = len(links)
            links += one
        plan[row, len(found)] = len(links)
    plan[LINKS, :count] = links
    _put_days(plan, dates)
    return plan


def _put_days(plan: Places, dates: Dates) -> None:
    """The calendar's rows; after its last day there is none."""
    helper, lift, worked = dates.helper, dates.lift, dates.hours > NOTHING
    plan[FREE:] = NEVER
    for kind, good in enumerate((np.ones(len(helper), bool), helper, lift, helper & lift)):
        plan[GOOD + kind, : len(good)] = good
        plan[FREE + kind, : len(good) + 1] = _next(good)
        plan[WORKED + kind, : len(good) + 1] = _next(good & worked)


def _next(days: NDArray[np.bool_]) -> Places:
    """For each day the first from it on that is one of these; one more place at the end: never.

    >>> _next(np.array([False, True, False])).tolist()
    [1, 1, 32000, 32000]
    """
    found = np.full(len(days) + 1, NEVER, np.int64)
    for day in range(len(days) - 1, -1, -1):
        found[day] = day if days[day] else found[day + 1]
    return found


def walk(
    net: Network, cases: Cases, dates: Dates, changes: Changes | None = None, until: int = HORIZON, brief: bool = False
) -> Walked:
    """Follow a plan in many cases.

    Parameters
    ----------
    net : what waits for what
    cases : what differs (n cases)
    dates : hours, helper's and lift's days, at least to the end
    changes : walks, each of one case with one thing changed (m); None: each case as it is
    until : the last day that is looked at
    brief : only the days on which it is ready are wanted

    Source: the rules stand with the command line's ``schedule``.

    >>> from rimcore.planning.network import Task, network
    >>> today = date(2027, 5, 3)
    >>> net = network([Task("a", (5, 5, 5)), Task("b", (1, 1, 1), after=("a",))], [], today)
    >>> none = np.zeros((0, 1))
    >>> cases = Cases(np.array([[5.0], [1.0]]), np.zeros((2, 1), np.int16), none.astype(np.int16), none.astype(bool))
    >>> found = walk(net, cases, dates_of(Calendar((2,) * 7), today))
    >>> found.start.tolist(), found.finish.tolist(), found.ready.tolist()
    ([[0], [2]], [[2], [2]], [2])
    """
    asked = as_they_are(cases.wanted.shape[1]) if changes is None else changes
    count = 0 if brief else len(asked.column)
    found = Walked(
        np.full((len(net.tasks), count), NEVER, np.int16),
        np.full((len(net.tasks), count), NEVER, np.int16),
        np.full((len(net.parts), count), NEVER, np.int16),
        np.full(len(asked.column), NEVER, np.int16),
    )
    # The compiler takes a quarter of a second to load: only who walks waits for it.
    from rimcore.planning.compiled import walks

    walks(_plan_of(net, dates), dates.hours, cases, asked, min(until, HORIZON), found)
    return found
