"""The walk over the days of a plan, one case after the other, each by its own clock; compiled by Numba.

What stands here runs some hundred thousand times for one page. The rules stand with the command line's ``schedule``.
"""

from __future__ import annotations

import numpy as np

from rimcore.compiling import compiled, woven
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
    LINKS,
    NEEDS,
    NOTHING,
    OPEN,
    ORDERED,
    ORDERS,
    PUT_OFF,
    QUEUE,
    QUEUED,
    RAIN,
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


@compiled
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


@woven
def _arrives(plan: Places, now: Places, part: int) -> int:
    """The day on which a part is there, all that it was ordered after being over."""
    what, this = now[WALK, WHAT], now[WALK, AT] == part
    if what == THERE and this:
        return 0
    ordered = plan[ORDERED, part]
    for k in range(plan[ASKS, part], plan[ASKS, part + 1]):
        ordered = max(ordered, now[ENDED, plan[LINKS, k]])
    if ordered >= NEVER:
        return NEVER
    there = max(ordered + now[LEAD, part], 0)
    return int(min(there + now[WALK, BY] if what == LATE and this else there, LATEST))


@woven
def _may_begin(plan: Places, now: Places, task: int) -> int:
    """The first day that what a task waits for lets it begin."""
    first = plan[EARLIEST, task]
    if now[WALK, WHAT] == PUT_OFF and now[WALK, AT] == task:
        first = max(first, now[WALK, BY])
    for k in range(plan[BEFORE, task], plan[BEFORE, task + 1]):
        one = plan[LINKS, k]
        first = max(first, now[ENDED, one] + plan[WAIT, one])
    for k in range(plan[NEEDS, task], plan[NEEDS, task + 1]):
        first = max(first, now[ARRIVE, plan[LINKS, k]])
    return int(min(first, NEVER))


@compiled
def _let(plan: Places, now: Places, want: Floats, task: int) -> None:
    """Nothing is waited for any more: what takes nobody's hands is begun on its first day and queued as finished."""
    if now[ENDED, task] < NEVER:
        return
    first = _may_begin(plan, now, task)
    if first >= NEVER:
        return
    if plan[GIVEN, task] == 0 and want[task] > NOTHING:
        now[FIRST, task] = first
        _put_in(now, task)
        return
    row, last = FREE + plan[KIND, task], plan.shape[1] - 1
    on = plan[row, min(first, last)]
    while on < NEVER and plan[DRY, task] and now[RAIN, min(on, last)]:
        on = plan[row, min(on + 1, last)]
    if on < NEVER:
        now[START, task] = on
        _finish(now, task, min(on + (now[AWAY, task] if plan[GIVEN, task] else 0), LATEST))


@woven
def _put_in(now: Places, task: int) -> None:
    """Among the tasks that are let, at its place of the list."""
    k = now[TALLY, LETS]
    while k > 0 and now[LET, k - 1] > task:
        now[LET, k] = now[LET, k - 1]
        k -= 1
    now[LET, k] = task
    now[TALLY, LETS] += 1


@woven
def _take_out(now: Places, task: int) -> None:
    kept = 0
    for k in range(now[TALLY, LETS]):
        if now[LET, k] != task:
            now[LET, kept] = now[LET, k]
            kept += 1
    now[TALLY, LETS] = kept


@woven
def _finish(now: Places, task: int, day: int) -> None:
    now[ENDED, task] = day
    now[OPEN, task] = 0
    now[TALLY, LEFT] -= 1
    now[TALLY, LAST] = max(now[TALLY, LAST], day)
    now[QUEUE, now[TALLY, QUEUED]] = task
    now[TALLY, QUEUED] += 1


@woven
def _one_less(plan: Places, now: Places, want: Floats, task: int) -> None:
    """A task waits for one thing less; for nothing more, it is let."""
    now[WAITS, task] -= 1
    if now[WAITS, task] == 0:
        _let(plan, now, want, task)


@compiled
def _came(plan: Places, now: Places, want: Floats, part: int) -> None:
    """A part's day is known: what waits for nothing else is let."""
    now[ARRIVE, part] = _arrives(plan, now, part)
    for k in range(plan[USERS, part], plan[USERS, part + 1]):
        _one_less(plan, now, want, plan[LINKS, k])


@compiled
def _follow(plan: Places, now: Places, want: Floats) -> None:
    """What waits for what was finished, until nothing is finished by that any more."""
    while now[TALLY, QUEUED] > 0:
        now[TALLY, QUEUED] -= 1
        over = now[QUEUE, now[TALLY, QUEUED]]
        for k in range(plan[FREES, over], plan[FREES, over + 1]):
            part = plan[LINKS, k]
            now[ORDERS, part] -= 1
            if now[ORDERS, part] == 0:
                _came(plan, now, want, part)
        for k in range(plan[THEN, over], plan[THEN, over + 1]):
            _one_less(plan, now, want, plan[LINKS, k])


@woven
def _pick(plan: Places, now: Places, day: int) -> int:
    """Which task is worked on: one that is begun before any other, of several the first in the list; −1 for none."""
    picked = -1
    for k in range(now[TALLY, LETS]):
        task = now[LET, k]
        if now[FIRST, task] > day or not plan[GOOD + plan[KIND, task], day]:
            continue
        if plan[DRY, task] and now[RAIN, day]:
            continue
        if now[OPEN, task]:
            return int(task)
        if picked < 0:
            picked = task
    return picked


@woven
def _next_day(plan: Places, now: Places, day: int) -> int:
    """The next day on which something that is let may be worked on; rain is looked at there."""
    found, last = NEVER, plan.shape[1] - 1
    for k in range(now[TALLY, LETS]):
        task = now[LET, k]
        found = min(found, plan[WORKED + plan[KIND, task], min(max(now[FIRST, task], day + 1), last)])
    return found


@compiled
def _one(plan: Places, now: Places, want: Floats, hours: Floats, asked: tuple[int, int, int]) -> int:
    """Follow one case to its end; the day on which all is done, ``NEVER`` after the last that is asked for."""
    tasks, parts, until = asked
    _begin(plan, now, (tasks, parts))
    for part in range(parts):
        if plan[ASKS, part] == plan[ASKS, part + 1]:
            _came(plan, now, want, part)
    for task in range(tasks):
        if plan[BEFORE, task] == plan[BEFORE, task + 1] and plan[NEEDS, task] == plan[NEEDS, task + 1]:
            _let(plan, now, want, task)
    _follow(plan, now, want)
    day, last = plan[WORKED, 0], plan.shape[1] - 1
    left = hours[day] if day < NEVER else 0.0
    while now[TALLY, LEFT] > 0 and day <= until:
        task = _pick(plan, now, day)
        if task < 0:
            day = _next_day(plan, now, day)
            left = hours[day] if day < NEVER else 0.0
            continue
        now[START, task] = min(now[START, task], day)
        now[OPEN, task] = 1
        given = min(want[task], left)
        want[task] -= given
        left -= given
        on = day
        if left <= NOTHING:
            day = plan[WORKED, min(day + 1, last)]
            left = hours[day] if day < NEVER else 0.0
        if want[task] <= NOTHING:
            _take_out(now, task)
            _finish(now, task, on)
            _follow(plan, now, want)
    return now[TALLY, LAST] if now[TALLY, LEFT] == 0 and now[TALLY, LAST] <= until else NEVER


@compiled
def _take_case(now: Places, want: Floats, cases: Cases, column: int) -> None:
    """What is a case's own: hours wanted, days away, leads, and the weather."""
    for task in range(len(cases.wanted)):
        want[task], now[AWAY, task] = cases.wanted[task, column], cases.away[task, column]
    for part in range(len(cases.leads)):
        now[LEAD, part] = cases.leads[part, column]
    for day in range(cases.wet.shape[1]):
        now[RAIN, day] = cases.wet[column, day]


@compiled
def walks(plan: Places, hours: Floats, cases: Cases, changes: Changes, until: int, out: Walked) -> None:
    """Every walk; where the starts have no columns, only the days on which it is ready are kept."""
    tasks, parts, brief = len(cases.wanted), len(cases.leads), out.start.shape[1] == 0
    now, want = np.zeros((CASE_ROWS, plan.shape[1]), np.int64), np.zeros(tasks)
    for k in range(len(out.ready)):
        _take_case(now, want, cases, changes.column[k])
        now[WALK, WHAT], now[WALK, AT], now[WALK, BY] = changes.what[k], changes.at[k], changes.days[k]
        out.ready[k] = _one(plan, now, want, hours, (tasks, parts, until))
        if not brief:
            for task in range(tasks):
                out.start[task, k], out.finish[task, k] = now[START, task], now[ENDED, task]
            for part in range(parts):
                out.arrive[part, k] = now[ARRIVE, part]
