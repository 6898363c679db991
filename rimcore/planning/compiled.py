"""The walk over the days of a plan, one case after the other, each by its own clock; compiled by Numba.

What stands here runs some hundred thousand times for one page. The rules stand with the command line's ``schedule``.
"""

from __future__ import annotations

from collections.abc import Callable
from typing import Any, TypeVar, cast

import numpy as np
from numba import njit
from numpy.typing import NDArray

from rimcore.planning.network import LATEST, NEVER
from rimcore.planning.tape import (
    ARRIVE,
    ASKS,
    AT,
    AWAY,
    BEFORE,
    BEGUN,
    BY,
    CASE_ROWS,
    COLUMN,
    DRY,
    EARLIEST,
    ENDED,
    FIRST,
    FREE,
    FREES,
    GIVEN,
    GONE,
    GOOD,
    KIND,
    LAST,
    LATE,
    LEAD,
    LEFT,
    LET,
    LETS,
    NEEDS,
    NOTHING,
    OPEN,
    ORDERED,
    ORDERS,
    PUT_OFF,
    QUEUE,
    QUEUED,
    START,
    TALLY,
    THEN,
    THERE,
    USERS,
    WAIT,
    WAITS,
    WALK,
    WHAT,
    WORKED,
)
from rimcore.planning.walk import Cases, Changes, Floats, Places, Walked

F = TypeVar("F", bound=Callable[..., Any])


def _compiled(function: F) -> F:
    """Compiled once, and kept beside the source; other threads go on meanwhile.

    Few arrays go from hand to hand: each costs a count of its holders at every call.
    """
    return cast(F, njit(cache=True, nogil=True)(function))


@_compiled
def _begin(plan: Places, now: Places, sizes: tuple[int, int]) -> None:
    """A case before its first day; what is gone is over already, and behind it not even its days are waited for."""
    tasks, parts = sizes
    now[TALLY, LEFT], now[TALLY, LAST], now[TALLY, QUEUED], now[TALLY, LETS] = tasks, 0, 0, 0
    for task in range(tasks):
        now[FIRST, task] = now[START, task] = now[ENDED, task] = NEVER
        now[OPEN, task] = plan[BEGUN, task]
        now[WAITS, task] = plan[BEFORE, task + 1] - plan[BEFORE, task] + plan[NEEDS, task + 1] - plan[NEEDS, task]
    for part in range(parts):
        now[ARRIVE, part] = NEVER
        now[ORDERS, part] = plan[ASKS, part + 1] - plan[ASKS, part]
    if now[WALK, WHAT] == GONE:
        gone = now[WALK, AT]
        now[ENDED, gone] = -plan[WAIT, gone]
        now[TALLY, LEFT] -= 1
        now[QUEUE, 0], now[TALLY, QUEUED] = gone, 1


@_compiled
def _arrives(plan: Places, links: Places, now: Places, part: int) -> int:
    """The day on which a part is there, all that it was ordered after being over."""
    what, this = now[WALK, WHAT], now[WALK, AT] == part
    if what == THERE and this:
        return 0
    ordered = plan[ORDERED, part]
    for k in range(plan[ASKS, part], plan[ASKS, part + 1]):
        ordered = max(ordered, now[ENDED, links[k]])
    if ordered >= NEVER:
        return NEVER
    there = max(ordered + now[LEAD, part], 0)
    return int(min(there + now[WALK, BY] if what == LATE and this else there, LATEST))


@_compiled
def _may_begin(plan: Places, links: Places, now: Places, task: int) -> int:
    """The first day that what a task waits for lets it begin."""
    first = plan[EARLIEST, task]
    if now[WALK, WHAT] == PUT_OFF and now[WALK, AT] == task:
        first = max(first, now[WALK, BY])
    for k in range(plan[BEFORE, task], plan[BEFORE, task + 1]):
        one = links[k]
        first = max(first, now[ENDED, one] + plan[WAIT, one])
    for k in range(plan[NEEDS, task], plan[NEEDS, task + 1]):
        first = max(first, now[ARRIVE, links[k]])
    return int(min(first, NEVER))


@_compiled
def _rains(wet: NDArray[np.bool_], day: int, column: int) -> bool:
    return len(wet) > 0 and wet[min(day, len(wet) - 1), column]


@_compiled
def _let(
    plan: Places, links: Places, now: Places, days: Places, wet: NDArray[np.bool_], want: Floats, task: int
) -> None:
    """Nothing is waited for any more: what takes nobody's hands is begun on its first day and queued as finished."""
    if now[ENDED, task] < NEVER:
        return
    first = _may_begin(plan, links, now, task)
    if first >= NEVER:
        return
    if plan[GIVEN, task] == 0 and want[task] > NOTHING:
        now[FIRST, task] = first
        _put_in(now, task)
        return
    row, last = FREE + plan[KIND, task], days.shape[1] - 1
    on = days[row, min(first, last)]
    while on < NEVER and plan[DRY, task] and _rains(wet, on, now[WALK, COLUMN]):
        on = days[row, min(on + 1, last)]
    if on < NEVER:
        now[START, task] = on
        _finish(now, task, min(on + (now[AWAY, task] if plan[GIVEN, task] else 0), LATEST))


@_compiled
def _put_in(now: Places, task: int) -> None:
    """Among the tasks that are let, at its place of the list."""
    k = now[TALLY, LETS]
    while k > 0 and now[LET, k - 1] > task:
        now[LET, k] = now[LET, k - 1]
        k -= 1
    now[LET, k] = task
    now[TALLY, LETS] += 1


@_compiled
def _take_out(now: Places, task: int) -> None:
    kept = 0
    for k in range(now[TALLY, LETS]):
        if now[LET, k] != task:
            now[LET, kept] = now[LET, k]
            kept += 1
    now[TALLY, LETS] = kept


@_compiled
def _finish(now: Places, task: int, day: int) -> None:
    now[ENDED, task] = day
    now[OPEN, task] = 0
    now[TALLY, LEFT] -= 1
    now[TALLY, LAST] = max(now[TALLY, LAST], day)
    now[QUEUE, now[TALLY, QUEUED]] = task
    now[TALLY, QUEUED] += 1


@_compiled
def _came(
    plan: Places, links: Places, now: Places, days: Places, wet: NDArray[np.bool_], want: Floats, part: int
) -> None:
    """A part's day is known: what waits for nothing else is let."""
    now[ARRIVE, part] = _arrives(plan, links, now, part)
    for k in range(plan[USERS, part], plan[USERS, part + 1]):
        task = links[k]
        now[WAITS, task] -= 1
        if now[WAITS, task] == 0:
            _let(plan, links, now, days, wet, want, task)


@_compiled
def _follow(plan: Places, links: Places, now: Places, days: Places, wet: NDArray[np.bool_], want: Floats) -> None:
    """What waits for what was finished, until nothing is finished by that any more."""
    while now[TALLY, QUEUED] > 0:
        now[TALLY, QUEUED] -= 1
        over = now[QUEUE, now[TALLY, QUEUED]]
        for k in range(plan[FREES, over], plan[FREES, over + 1]):
            part = links[k]
            now[ORDERS, part] -= 1
            if now[ORDERS, part] == 0:
                _came(plan, links, now, days, wet, want, part)
        for k in range(plan[THEN, over], plan[THEN, over + 1]):
            task = links[k]
            now[WAITS, task] -= 1
            if now[WAITS, task] == 0:
                _let(plan, links, now, days, wet, want, task)


@_compiled
def _pick(plan: Places, now: Places, days: Places, wet: NDArray[np.bool_], day: int) -> int:
    """Which task is worked on: one that is begun before any other, of several the first in the list; −1 for none."""
    picked = -1
    for k in range(now[TALLY, LETS]):
        task = now[LET, k]
        if now[FIRST, task] > day or not days[GOOD + plan[KIND, task], day]:
            continue
        if plan[DRY, task] and _rains(wet, day, now[WALK, COLUMN]):
            continue
        if now[OPEN, task]:
            return int(task)
        if picked < 0:
            picked = task
    return picked


@_compiled
def _next_day(plan: Places, now: Places, days: Places, day: int) -> int:
    """The next day on which something that is let may be worked on; rain is looked at there."""
    found, last = NEVER, days.shape[1] - 1
    for k in range(now[TALLY, LETS]):
        task = now[LET, k]
        found = min(found, days[WORKED + plan[KIND, task], min(max(now[FIRST, task], day + 1), last)])
    return found


@_compiled
def _one(
    plan: Places,
    links: Places,
    now: Places,
    days: Places,
    hours: Floats,
    wet: NDArray[np.bool_],
    want: Floats,
    asked: tuple[int, int, int],
) -> int:
    """Follow one case to its end; the day on which all is done, ``NEVER`` after the last that is asked for."""
    tasks, parts, until = asked
    _begin(plan, now, (tasks, parts))
    for part in range(parts):
        if plan[ASKS, part] == plan[ASKS, part + 1]:
            _came(plan, links, now, days, wet, want, part)
    for task in range(tasks):
        if plan[BEFORE, task] == plan[BEFORE, task + 1] and plan[NEEDS, task] == plan[NEEDS, task + 1]:
            _let(plan, links, now, days, wet, want, task)
    _follow(plan, links, now, days, wet, want)
    day, last = days[WORKED, 0], days.shape[1] - 1
    left = hours[day] if day < NEVER else 0.0
    while now[TALLY, LEFT] > 0 and day <= until:
        task = _pick(plan, now, days, wet, day)
        if task < 0:
            day = _next_day(plan, now, days, day)
            left = hours[day] if day < NEVER else 0.0
            continue
        now[START, task] = min(now[START, task], day)
        now[OPEN, task] = 1
        given = min(want[task], left)
        want[task] -= given
        left -= given
        on = day
        if left <= NOTHING:
            day = days[WORKED, min(day + 1, last)]
            left = hours[day] if day < NEVER else 0.0
        if want[task] <= NOTHING:
            _take_out(now, task)
            _finish(now, task, on)
            _follow(plan, links, now, days, wet, want)
    return now[TALLY, LAST] if now[TALLY, LEFT] == 0 and now[TALLY, LAST] <= until else NEVER


@_compiled
def walks(
    plan: tuple[Places, Places], cases: Cases, dates: tuple[Places, Floats], changes: Changes, until: int, out: Walked
) -> None:
    """Every walk; where the starts have no columns, only the days on which it is ready are kept."""
    tasks, parts, brief = len(cases.wanted), len(cases.leads), out.start.shape[1] == 0
    now, want = np.zeros((CASE_ROWS, max(tasks, parts, 4) + 1), np.int64), np.zeros(tasks)
    for k in range(len(out.ready)):
        column = changes.column[k]
        now[WALK, COLUMN], now[WALK, WHAT] = column, changes.what[k]
        now[WALK, AT], now[WALK, BY] = changes.at[k], changes.days[k]
        for task in range(tasks):
            want[task], now[AWAY, task] = cases.wanted[task, column], cases.away[task, column]
        for part in range(parts):
            now[LEAD, part] = cases.leads[part, column]
        asked = (tasks, parts, until)
        out.ready[k] = _one(plan[0], plan[1], now, dates[0], dates[1], cases.wet, want, asked)
        if not brief:
            for task in range(tasks):
                out.start[task, k], out.finish[task, k] = now[START, task], now[ENDED, task]
            for part in range(parts):
                out.arrive[part, k] = now[ARRIVE, part]
