"""The walk over the days of a plan, all cases at once."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date, timedelta

import numpy as np
from numpy.typing import NDArray

from rimcore.planning.network import HORIZON, LATEST, NEVER, Calendar, Days, Network

Floats = NDArray[np.float64]
#: hours that are none
NOTHING = 1e-9
#: share of live cases under which the others are put aside
FEW = 0.7


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


@dataclass(frozen=True)
class Cases:
    """What differs from case to case, a column each: hours wanted or days away (t, n), whole leads (p, n).

    ``wet`` (d, w) are wet days of the weathers there are, ``weather`` (n,) which of them a case has. ``begin`` (t, n)
    is a day before which a task is not begun, ``late`` (p, n) days by which a part comes later, ``gone`` (t, n) tasks
    that are not done at all, ``there`` (p, n) parts that are there today.
    """

    wanted: Floats
    away: Days
    leads: Days
    wet: NDArray[np.bool_] | None = None
    weather: NDArray[np.intp] | None = None
    begin: Days | None = None
    late: Days | None = None
    gone: NDArray[np.bool_] | None = None
    there: NDArray[np.bool_] | None = None

    @property
    def count(self) -> int:
        """How many cases."""
        return int(self.wanted.shape[1])


@dataclass(frozen=True)
class Stop:
    """Where a walk ends: after day ``until``, or when a share of the cases is ready, but not before day ``least``."""

    until: int = HORIZON
    enough: float = 1.0
    least: int = 0
    #: only the days on which it is ready are kept
    brief: bool = False


@dataclass
class Walked:
    """Days from today, ``NEVER`` where it did not come to it: starts and finishes (t, n), arrivals (p, n), ready (n,)."""

    start: Days
    finish: Days
    arrive: Days
    ready: Days


class Walk:
    """One walk; see the command line's ``schedule`` for its rules.

    Each case has a clock of its own. What wants no hours of the owner's (given away, or nothing left to do) is settled
    as soon as the first day for it is known, for it takes nobody's hands. A task that nothing can interrupt is worked
    to its end at once; one that waits for helper, lift or weather, or that another begun one may interrupt, a day at a
    time. Arrays have a row a task or part, and a column a case: few calls, each over all cases.
    """

    def __init__(self, net: Network, cases: Cases, dates: Dates) -> None:
        self.net, self.dates = net, dates
        self.tasks, self.parts, count = len(net.tasks), len(net.parts), cases.count
        self.ids = np.arange(count)
        shape = (self.tasks, count)
        self.out = Walked(
            np.full((self.tasks, count), NEVER, np.int16),
            np.full((self.tasks, count), NEVER, np.int16),
            np.full((self.parts, count), NEVER, np.int16),
            np.full(count, NEVER, np.int16),
        )
        self.want, self.away, self.leads = cases.wanted.copy(), cases.away, cases.leads
        self.wet, self.late, self.weather = cases.wet, cases.late, cases.weather
        if self.weather is None:
            self.weather = np.arange(count)
        self.start, self.ended = np.full(shape, NEVER, np.int16), np.full(shape, NEVER, np.int16)
        self.arrive = np.full((self.parts, count), NEVER, np.int16)
        self.base = np.repeat(net.earliest[:, None], count, axis=1)
        if cases.begin is not None:
            np.maximum(self.base, cases.begin, out=self.base)
        self.last = np.zeros(count, np.int16)
        self.open = np.full(count, self.tasks, np.int16)
        if cases.gone is not None:
            self.open -= cases.gone.sum(axis=0).astype(np.int16)
            # behind it nothing waits, not even its days
            waits = np.array(net.wait_days, np.int16)
            np.copyto(self.ended, -waits[:, None], where=cases.gone)
        over = self.ended < NEVER
        self.free: NDArray[np.bool_] = np.logical_or(net.away[:, None], self.want <= NOTHING) & ~over
        self.begun = np.repeat(net.begun[:, None], count, axis=1) & ~self.free & ~over
        self.halves = self.begun.sum(axis=0).astype(np.int16)
        self.some_halves = bool(self.halves.any())
        self.some_begun: NDArray[np.bool_] = np.logical_or.reduce(self.begun, axis=1)
        self.may = np.full(shape, NEVER, np.int16)
        self.there = cases.there
        self.nodes = list(net.order)
        # tasks that something was finished of since their followers were looked at; at first all are looked at
        self.moved = np.ones(self.tasks, bool)
        self.fresh = True
        self.let = np.zeros(self.tasks, bool)
        self.some_free = [bool(one) for one in np.any(self.free, axis=1)]
        self.todo = count - over.sum(axis=1)
        self._tables()

    def _tables(self) -> None:
        """For each kind of task (helper 1, lift 2): the next day for it, and the next with hours; hours up to a day."""
        helper, lift, worked = self.dates.helper, self.dates.lift, self.dates.hours > NOTHING
        self.good = np.stack([np.ones(len(helper), bool), helper, lift, helper & lift])
        self.next_free = np.stack([_next(days) for days in self.good])
        self.next_worked = np.stack([_next(days & worked) for days in self.good])
        self.through = np.cumsum(self.dates.hours)
        self.plain = np.array([kind == 0 for kind in self.net.kind], dtype=bool) & ~self.net.dry
        self.of_kind = {
            kind: [task for task, one in enumerate(self.net.kind) if one == kind] for kind in set(self.net.kind)
        }

    def run(self, stop: Stop) -> Walked:
        """To its end, or until enough cases are ready."""
        first = int(self.next_worked[0, 0])
        self.brief = stop.brief
        self.day = np.full(len(self.ids), first if first < NEVER else -1, np.intp)
        self.left = np.full(len(self.ids), self.dates.hours[first] if first < NEVER else 0.0)
        wanted, bound = stop.enough * len(self.ids), stop.until
        ended: list[Days] = []
        while len(self.ids):
            self._let()
            live = (self.open > 0) & (self.day >= 0) & (self.day <= bound)
            if not live.any():
                break
            if live.sum() < FEW * len(self.ids):
                ended.append(self.last[~live & (self.open == 0)])
                self._narrow(live)
                live = np.ones(len(self.ids), bool)
            self.day[~live] = -1
            self._move(live)
            if stop.enough < 1.0 and bound == stop.until:
                bound = _enough([*ended, self.last[self.open == 0]], wanted, stop)
        self._keep()
        ready = self.out.ready
        ready[ready > stop.until] = NEVER
        return self.out

    def _keep(self) -> None:
        """Write what is known of the cases in hand."""
        out, ids = self.out, self.ids
        out.ready[ids] = np.where(self.open == 0, self.last, NEVER)
        if self.brief:
            return
        out.start[:, ids], out.finish[:, ids], out.arrive[:, ids] = self.start, self.ended, self.arrive

    def _narrow(self, live: NDArray[np.bool_]) -> None:
        """Go on with the cases that are not over."""
        self._keep()
        for name in ("want", "away", "leads", "start", "ended", "arrive", "base", "free", "begun", "may"):
            setattr(self, name, np.compress(live, getattr(self, name), axis=1))
        for name in ("ids", "last", "open", "halves", "day", "left", "weather"):
            setattr(self, name, getattr(self, name)[live])
        for name in ("late", "there"):
            if getattr(self, name) is not None:
                setattr(self, name, getattr(self, name)[:, live])
        self.todo = (self.ended >= NEVER).sum(axis=1)

    def _let(self) -> None:
        """The first day of everything, by what is finished and there so far; what takes nobody's hands is settled."""
        still = []
        moved, came = self.moved.tolist(), [False] * self.parts
        self.moved[:] = False
        for node in self.nodes:
            kind, place = node
            known = False
            if kind == "p":
                if self.fresh or any(moved[one] for one in self.net.ordered_after[place]):
                    came[place], known = True, self._arrival(place)
            elif (
                self.fresh
                or any(moved[one] for one in self.net.before[place])
                or any(came[one] for one in self.net.needs[place])
            ):
                known = self._first_day(place)
                moved[place] |= bool(self.moved[place])
            if not known:
                still.append(node)
        self.nodes, self.fresh = still, False
        self.moved[:] = False

    def _arrival(self, part: int) -> bool:
        """When a part is there; is that known in every case?"""
        after = self.net.ordered_after[part]
        ordered = np.full(len(self.ids), self.net.ordered[part], np.int32)
        for task in after:
            np.maximum(ordered, self.ended[task], out=ordered)
        there = np.maximum(ordered + self.leads[part], 0)
        if self.late is not None:
            there += self.late[part]
        np.minimum(there, LATEST, out=there)
        there[ordered >= NEVER] = NEVER
        if self.there is not None:
            there[self.there[part]] = 0
        self.arrive[part] = there
        return not after or bool((there < NEVER).all())

    def _first_day(self, task: int) -> bool:
        """The first day of a task, ``NEVER`` where it is done; is it done in every case, or its day settled?"""
        net = self.net
        first = self.base[task].copy()
        for one in net.before[task]:
            wait = net.wait_days[one]
            np.maximum(first, self.ended[one] + np.int16(wait) if wait else self.ended[one], out=first)
        for one in net.needs[task]:
            np.maximum(first, self.arrive[one], out=first)
        np.minimum(first, NEVER, out=first)
        np.copyto(first, NEVER, where=self.ended[task] < NEVER)
        if self.some_free[task]:
            rows = np.flatnonzero(self.free[task] & (first < NEVER))
            if rows.size:
                self._settle(task, rows, first[rows])
                first[rows] = NEVER
        self.may[task] = first
        self.let[task] = first.min() < NEVER
        return bool(self.todo[task] == 0)

    def _settle(self, task: int, rows: NDArray[np.intp], first: Days) -> None:
        """What takes nobody's hands is begun on the first day for it, and finished the days away after it."""
        ahead, last = self.next_free[self.net.kind[task]], self.next_free.shape[1] - 1
        on = ahead[np.minimum(first, last)]
        if self.wet is not None and self.net.dry[task]:
            rain = self._rain(rows, on)
            while rain.any():
                on[rain] = ahead[np.minimum(on[rain] + 1, last)]
                rain = self._rain(rows, on)
        self.free[task, rows] = False
        good = on < NEVER
        rows, on = rows[good], on[good]
        self.start[task, rows] = on
        pick = np.full(len(rows), task)
        self._finish(pick, rows, pick * len(self.ids) + rows, np.minimum(on + self.away[task, rows], LATEST))

    def _rain(self, rows: NDArray[np.intp], on: NDArray[np.intp]) -> NDArray[np.bool_]:
        if self.wet is None or self.weather is None:
            return np.zeros(len(rows), bool)
        found: NDArray[np.bool_] = (on < NEVER) & self.wet[np.minimum(on, len(self.wet) - 1), self.weather[rows]]
        return found

    def _move(self, live: NDArray[np.bool_]) -> None:
        """One thing more for every case: work, or on to the next day on which there may be some."""
        pick = np.full(len(self.ids), self.tasks, np.int16)
        day = self.day.astype(np.int16)
        barred = {kind: ~self.good[kind, self.day] for kind in self.of_kind if kind}
        wet = self.wet[self.day, self.weather] if self.wet is not None else None
        better = pick.copy() if self.some_halves else None
        for task in np.flatnonzero(self.let)[::-1].tolist():
            able = self.may[task] <= day
            kind = self.net.kind[task]
            if kind:
                able &= ~barred[kind]
            if wet is not None and self.net.dry[task]:
                able &= ~wet
            np.copyto(pick, task, where=able)
            if better is not None and self.some_begun[task]:
                able &= self.begun[task]
                np.copyto(better, task, where=able)
        if better is not None:
            np.copyto(pick, better, where=better < self.tasks)
        idle = live & (pick == self.tasks)
        if idle.any():
            self._on(np.flatnonzero(idle))
        rows = np.flatnonzero(pick < self.tasks)
        if rows.size:
            self._work(pick[rows].astype(np.intp), rows)

    def _on(self, rows: NDArray[np.intp]) -> None:
        """To the next day on which a task that is let may be worked on; rain is looked at there."""
        found = np.full(len(rows), NEVER, np.intp)
        last, after = self.next_worked.shape[1] - 1, self.day[rows] + 1
        for kind, tasks in self.of_kind.items():
            let = [task for task in tasks if self.let[task]]
            if let:
                first = self.may[let].min(axis=0)[rows]
                asked = np.minimum(np.maximum(first, after), last)
                np.minimum(found, np.where(first < NEVER, self.next_worked[kind, asked], NEVER), out=found)
        self._to(rows, found)

    def _to(self, rows: NDArray[np.intp], day: NDArray[np.intp]) -> None:
        self.day[rows] = np.where(day < NEVER, day, -1)
        hours = self.dates.hours
        self.left[rows] = hours[np.minimum(day, len(hours) - 1)]

    def _work(self, pick: NDArray[np.intp], rows: NDArray[np.intp]) -> None:
        at = pick * len(self.ids) + rows
        if not self.brief:
            start = self.start.reshape(-1)
            start[at] = np.minimum(start[at], self.day[rows])
        alone = self.plain[pick] & (self.halves[rows] == self.begun.reshape(-1)[at]) if self.some_halves else None
        if alone is None:
            alone = self.plain[pick]
        if alone.all():
            self._to_its_end(pick, rows, at)
            return
        self._to_its_end(pick[alone], rows[alone], at[alone])
        self._a_day(pick[~alone], rows[~alone], at[~alone])

    def _to_its_end(self, pick: NDArray[np.intp], rows: NDArray[np.intp], at: NDArray[np.intp]) -> None:
        """All of a task that nothing interrupts."""
        end = self.through[self.day[rows]] - self.left[rows] + self.want.reshape(-1)[at]
        on = np.searchsorted(self.through, end - NOTHING, side="left")
        ends = on < len(self.through)
        if not ends.all():
            self.day[rows[~ends]] = -1
            pick, rows, at, on, end = pick[ends], rows[ends], at[ends], on[ends], end[ends]
        self.day[rows] = on
        self.left[rows] = self.through[on] - end
        self._next_day(rows)
        self._done(pick, rows, at, on)

    def _a_day(self, pick: NDArray[np.intp], rows: NDArray[np.intp], at: NDArray[np.intp]) -> None:
        """What there is of the day."""
        wanted, begun = self.want.reshape(-1), self.begun.reshape(-1)
        given = np.minimum(wanted[at], self.left[rows])
        want = wanted[at] - given
        wanted[at] = want
        self.left[rows] -= given
        on = self.day[rows].copy()
        self.halves[rows] += ~begun[at]
        begun[at] = True
        self.some_begun[pick] = True
        self.some_halves = True
        done = want <= NOTHING
        self._next_day(rows)
        self._done(pick[done], rows[done], at[done], on[done])

    def _next_day(self, rows: NDArray[np.intp]) -> None:
        """On where nothing is left of the day."""
        spent = rows[self.left[rows] <= NOTHING]
        if spent.size:
            self._to(spent, self.next_worked[0, np.minimum(self.day[spent] + 1, self.next_worked.shape[1] - 1)])

    def _done(self, pick: NDArray[np.intp], rows: NDArray[np.intp], at: NDArray[np.intp], on: NDArray[np.intp]) -> None:
        if self.some_halves:
            begun = self.begun.reshape(-1)
            self.halves[rows] -= begun[at]
            begun[at] = False
            self.some_halves = bool(self.halves.any())
        self._finish(pick, rows, at, on)

    def _finish(
        self, pick: NDArray[np.intp], rows: NDArray[np.intp], at: NDArray[np.intp], on: NDArray[np.intp]
    ) -> None:
        """Each case stands once; ``at`` are the places of (task, case) in a flat array."""
        day = on.astype(np.int16)
        self.ended.reshape(-1)[at] = day
        self.may.reshape(-1)[at] = NEVER
        self.open[rows] -= 1
        self.last[rows] = np.maximum(self.last[rows], day)
        counts = np.bincount(pick, minlength=self.tasks)
        self.todo -= counts
        self.moved |= counts > 0


def _enough(ended: list[Days], wanted: float, stop: Stop) -> int:
    """The day after which nobody asks, once so many cases are ready."""
    done = np.concatenate(ended)
    if len(done) < wanted or not len(done):
        return stop.until
    place = min(len(done) - 1, max(0, int(np.ceil(wanted)) - 1))
    return min(stop.until, max(stop.least, int(np.partition(done, place)[place])))


def _next(days: NDArray[np.bool_]) -> NDArray[np.intp]:
    """For each day the first from it on that is one of these; one more place at the end: never.

    >>> _next(np.array([False, True, False])).tolist()
    [1, 1, 32000, 32000]
    """
    found = np.full(len(days) + 1, NEVER, np.intp)
    for day in range(len(days) - 1, -1, -1):
        found[day] = day if days[day] else found[day + 1]
    return found


def walk(net: Network, cases: Cases, dates: Dates, stop: Stop | None = None) -> Walked:
    """Follow a plan in many cases at once.

    Parameters
    ----------
    net : what waits for what
    cases : what differs (n cases)
    dates : hours, helper's and lift's days, at least to the end
    stop : where it ends

    Source: the rules stand with the command line's ``schedule``.

    >>> from rimcore.planning.network import Task, network
    >>> today = date(2027, 5, 3)
    >>> net = network([Task("a", (5, 5, 5)), Task("b", (1, 1, 1), after=("a",))], [], today)
    >>> cases = Cases(np.array([[5.0], [1.0]]), np.zeros((2, 1), np.int16), np.zeros((0, 1), np.int16))
    >>> found = walk(net, cases, dates_of(Calendar((2,) * 7), today))
    >>> found.start.tolist(), found.finish.tolist(), found.ready.tolist()
    ([[0], [2]], [[2], [2]], [2])
    """
    return Walk(net, cases, dates).run(stop or Stop())
