"""When is it ready, and how likely by the event: the likely case, the draws, what would help most.

Where the contract is silent: fractional leads and days away are rounded up; an order date stands before ``after``;
hours of a draw are at most 1e9; of equal gains tasks come before parts, each in the order of its list.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, field
from datetime import date, timedelta

import numpy as np
from numpy.typing import NDArray

from rimcore.planning.drawn import Draws, OwnFactor, drawn, likely_case, wilson_half
from rimcore.planning.network import HORIZON, NEVER, Calendar, Days, Network, PlanPart, Task, check, network
from rimcore.planning.tape import GONE, LATE, PUT_OFF, THERE
from rimcore.planning.walk import Cases, Changes, Walked, dates_of, walk

#: slack is looked for up to here [days]
MOST_SLACK = 60
#: days by which one thing is put off at once: most are critical, or have much slack
_ROUNDS = ((1, 1), (2, 6), (7, 20), (21, MOST_SLACK))
#: shares of the draws whose date is told [%]
SHARES = (10, 50, 80, 90)


@dataclass(frozen=True)
class Plan:
    """All that a schedule is reckoned from."""

    today: date
    calendar: Calendar
    tasks: tuple[Task, ...] = ()
    parts: tuple[PlanPart, ...] = ()
    event_on: date | None = None
    test_days: int = 1
    factor: OwnFactor = OwnFactor()
    draws: int = 4000
    seed: int = 1

    @property
    def by(self) -> int | None:
        """The last day on which it may be ready [days from today]; None without an event."""
        return None if self.event_on is None else (self.event_on - self.today).days - self.test_days

    @property
    def last(self) -> int | None:
        """The same, but never further ahead than a walk looks: what is not finished by then is not ready."""
        return None if self.by is None else min(self.by, HORIZON)


@dataclass(frozen=True)
class TaskDates:
    """A task in the likely case; None: not known, or done."""

    id: str
    start: date | None
    finish: date | None
    slack_days: int | None


@dataclass(frozen=True)
class PartDates:
    """A part in the likely case."""

    id: str
    arrives: date | None
    slack_days: int | None


@dataclass(frozen=True)
class Likely:
    """The likely case."""

    tasks: tuple[TaskDates, ...]
    parts: tuple[PartDates, ...]
    ready_on: date | None
    days_in_hand: int | None


@dataclass(frozen=True)
class Span:
    """Where 80 % of the draws lie: the earliest and the latest tenth cut off; None where it never comes."""

    start: date | None
    finish: date | None


@dataclass(frozen=True)
class Chances:
    """What the draws say."""

    chance_pct: float | None
    chance_pm_pct: float | None
    ready_on: dict[int, date | None]
    #: share that is ready on each day from today on (d,)
    by_day: tuple[float, ...] = ()
    tasks: dict[str, Span] = field(default_factory=dict)
    parts: dict[str, Span] = field(default_factory=dict)


@dataclass(frozen=True)
class Helps:
    """What one thing less, or one part there today, would do."""

    id: str
    kind: str
    chance_pct: float
    gain_pct: float


class Schedule:
    """A plan followed; every answer is worked out when it is asked for."""

    def __init__(self, plan: Plan) -> None:
        check(plan.tasks, plan.parts, plan.today)
        self.plan = plan
        self.net = network(plan.tasks, plan.parts, plan.today)
        self.dates = dates_of(plan.calendar, plan.today)
        self._draws: Draws | None = None
        self._cases: Cases | None = None

    def likely(self, slack: bool = True, most: int = MOST_SLACK) -> Likely:
        """The likely case with the slack of everything in it, looked for up to so many days."""
        plan, net = self.plan, self.net
        case = likely_case(plan.tasks, plan.parts, plan.factor.median)
        cases = _cases(case, net)
        found = walk(net, cases, self.dates)
        ready = int(found.ready[0])
        slacks = self._slacks(cases, found, ready, most=most) if slack and ready < NEVER else {}
        starts = {k: (int(found.start[at, 0]), int(found.finish[at, 0]), ("t", at)) for at, k in enumerate(net.tasks)}
        arrives = {k: (self._arrives(found, cases, at), ("p", at)) for at, k in enumerate(net.parts)}
        tasks = tuple(
            TaskDates(one.id, self._day(starts[k][0]), self._day(starts[k][1]), slacks.get(starts[k][2]))
            if k in starts
            else TaskDates(one.id, None, one.done_on, None)
            for k, one in enumerate(plan.tasks)
        )
        parts = tuple(
            PartDates(one.id, arrives[k][0], slacks.get(arrives[k][1]))
            if k in arrives
            else PartDates(one.id, one.arrived_on, None)
            for k, one in enumerate(plan.parts)
        )
        in_hand = plan.by - ready if plan.by is not None and ready < NEVER else None
        return Likely(tasks, parts, self._day(ready), in_hand)

    def _day(self, day: int) -> date | None:
        return None if day >= NEVER else self.plan.today + timedelta(days=int(day))

    def _arrives(self, found: Walked, cases: Cases, at: int) -> date | None:
        """Also where it lies further ahead than a walk looks."""
        part = self.plan.parts[self.net.parts[at]]
        if part.ordered_on is not None:
            return max(self.plan.today, part.ordered_on + timedelta(days=int(cases.leads[at, 0])))
        return self._day(int(found.arrive[at, 0]))

    def late_by(self) -> dict[str, int]:
        """By how many days each part alone may come later with the likely case still ready by the event, 60 at the most.

        Nothing without an event, or where it is not ready by then as it is.
        """
        plan, net = self.plan, self.net
        cases = _cases(likely_case(plan.tasks, plan.parts, plan.factor.median), net)
        found = walk(net, cases, self.dates)
        if plan.last is None or int(found.ready[0]) > plan.last:
            return {}
        things = [("p", at) for at in range(len(net.parts))]
        days = self._slacks(cases, found, plan.last, things)
        return {plan.parts[net.parts[at]].id: count for (_, at), count in days.items()}

    def _slacks(
        self, cases: Cases, found: Walked, ready: int, things: Sequence[tuple[str, int]] = (), most: int = MOST_SLACK
    ) -> dict[tuple[str, int], int]:
        """By how many days each may be put off alone before the end comes after a day; all things where none are named."""
        if not things:
            things = [("t", at) for at in range(len(self.net.tasks))] + [("p", at) for at in range(len(self.net.parts))]
        slack = {}
        alive = list(things)
        for low, high in _ROUNDS:
            high = min(high, most)
            if low > high:
                break
            held = self._put_off(alive, range(low, high + 1), cases, found, ready)
            for thing, good in zip(alive, held, strict=True):
                slack[thing] = low - 1 + (len(good) if good.all() else int(good.argmin()))
            alive = [thing for thing, good in zip(alive, held, strict=True) if good.all()]
            if not alive:
                break
        return slack

    def _put_off(
        self, things: Sequence[tuple[str, int]], by: range, cases: Cases, found: Walked, ready: int
    ) -> np.ndarray:
        """Is the end kept where a thing is put off by so many days? (things, days)."""
        tries = [(kind, at, days) for kind, at in things for days in by]
        changes = Changes(
            np.zeros(len(tries), np.int64),
            np.array([PUT_OFF if kind == "t" else LATE for kind, _, _ in tries], np.int64),
            np.array([at for _, at, _ in tries], np.int64),
            np.array(
                [min(int(found.start[at, 0]) + days, NEVER - 1) if kind == "t" else days for kind, at, days in tries],
                np.int64,
            ),
        )
        kept = walk(self.net, cases, self.dates, changes, ready, brief=True).ready <= ready
        return np.asarray(kept).reshape(len(things), len(by))

    def chances(self, spans: bool = False) -> Chances:
        """What the draws say; nothing without any."""
        plan = self.plan
        if plan.draws == 0:
            return Chances(None, None, dict.fromkeys(SHARES))
        found = walk(self.net, self._all_cases(), self.dates, brief=not spans)
        share = None if plan.last is None else float((found.ready <= plan.last).mean())
        counts = np.bincount(np.minimum(found.ready, HORIZON + 1), minlength=HORIZON + 2)[: HORIZON + 1].cumsum()
        ready_on = {}
        for pct in SHARES:
            reached = np.flatnonzero(counts * 100 >= pct * plan.draws)
            ready_on[pct] = self._day(int(reached[0])) if reached.size else None
        return Chances(
            None if share is None else 100 * share,
            None if share is None else 100 * wilson_half(share, plan.draws),
            ready_on,
            tuple((counts / plan.draws).tolist()),
            self._spans(found) if spans else {},
            self._part_spans(found) if spans else {},
        )

    def _spans(self, found: Walked) -> dict[str, Span]:
        return {
            self.plan.tasks[k].id: Span(self._quantile(found.start[at], 10), self._quantile(found.finish[at], 90))
            for at, k in enumerate(self.net.tasks)
        }

    def _part_spans(self, found: Walked) -> dict[str, Span]:
        return {
            self.plan.parts[k].id: Span(self._quantile(found.arrive[at], 10), self._quantile(found.arrive[at], 90))
            for at, k in enumerate(self.net.parts)
        }

    def _quantile(self, days: Days, pct: int) -> date | None:
        place = max(0, -(-len(days) * pct // 100) - 1)
        return self._day(int(np.partition(days, place)[place]))

    def levers(self) -> tuple[Helps, ...]:
        """What each thing that is not done would help, the most first: the same draws without it."""
        plan, net = self.plan, self.net
        if plan.draws == 0 or plan.last is None:
            return ()
        base = self._base()
        ready = np.zeros(plan.draws, bool) if base is None else base.ready <= plan.last
        things = [("task", at) for at in range(len(net.tasks))] + [("part", at) for at in range(len(net.parts))]
        found = []
        for kind, at in things:
            share = float((ready if base is None else self._without(base, ready, kind, at)).mean())
            name = plan.tasks[net.tasks[at]].id if kind == "task" else plan.parts[net.parts[at]].id
            found.append(Helps(name, kind, 100 * share, 100 * (share - float(ready.mean()))))
        return tuple(sorted(found, key=lambda one: -one.gain_pct))

    def _without(self, base: Walked, ready: NDArray[np.bool_], kind: str, at: int) -> NDArray[np.bool_]:
        """Which draws are ready without one task, or with one part there today; those that it can't change stay."""
        cases = np.arange(self.plan.draws) if kind == "task" else self._held_up(base, at)
        what = np.full(len(cases), GONE if kind == "task" else THERE, np.int64)
        changes = Changes(cases, what, np.full(len(cases), at, np.int64), np.zeros(len(cases), np.int64))
        by = self.plan.last or 0
        other = ready.copy()
        other[cases] = walk(self.net, self._all_cases(), self.dates, changes, by, brief=True).ready <= by
        return other

    def _base(self) -> Walked | None:
        """The draws as they are, to the last day that counts; None where it is over."""
        by = self.plan.last
        if by is None or by < 0:
            return None
        return walk(self.net, self._all_cases(), self.dates, until=by)

    def _held_up(self, base: Walked, part: int) -> NDArray[np.intp]:
        """Draws in which a part holds something up by the event: in all others it changes nothing to have it today."""
        net, held = self.net, np.zeros(self.plan.draws, bool)
        for task, needs in enumerate(net.needs):
            if part not in needs:
                continue
            first = np.full(self.plan.draws, net.earliest[task], np.int16)
            for one in net.before[task]:
                np.maximum(first, base.finish[one] + np.int16(net.wait_days[one]), out=first)
            for one in needs:
                if one != part:
                    np.maximum(first, base.arrive[one], out=first)
            held |= (first < base.arrive[part]) & (first <= (self.plan.last or 0))
        return np.flatnonzero(held)

    def _all_cases(self) -> Cases:
        """The draws as the walk takes them."""
        if self._cases is None:
            self._cases = _cases(self._drawn(), self.net)
        return self._cases

    def _drawn(self) -> Draws:
        if self._draws is None:
            plan = self.plan
            self._draws = drawn(plan.tasks, plan.parts, plan.calendar, plan.factor, plan.draws, plan.seed)
        return self._draws


def _cases(draws: Draws, net: Network) -> Cases:
    """Columns of what is still open."""
    tasks, parts = list(net.tasks), list(net.parts)
    wet = np.zeros((0, 0), bool) if draws.wet is None or not net.dry.any() else np.ascontiguousarray(draws.wet.T)
    return Cases(draws.wanted[tasks], draws.away[tasks], draws.leads[parts], wet)
