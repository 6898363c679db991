"""Trials of a plan: one thing otherwise, and what it does to the date and the chance."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from datetime import date, timedelta

from rimcore.planning.network import HORIZON, Calendar, DaysOf, PlanPart, Task
from rimcore.planning.schedule import Plan, Schedule
from rimcore.quantities.errors import BadInput

WEEKDAYS = ("Monday", "Tuesday", "Wednesday", "Thursday", "Friday", "Saturday", "Sunday")
#: hours of one more evening (common practice)
EVENING_H = 2.0
FORMS = "accepted: order:ID, there:ID, lead:ID:DAYS, drop:ID, move:ID:DAYS, evening:0-6, helper:0-6, lift:0-6"


@dataclass(frozen=True)
class Trial:
    """One thing otherwise: what (``order``, ``there``, ``lead``, ``drop``, ``move``, ``evening``, ``helper``, ``lift``)."""

    what: str
    id: str = ""
    days: int = 0

    @property
    def text(self) -> str:
        """As it stands in an address.

        >>> Trial("move", "part:3", 2).text, Trial("evening", days=1).text
        ('move:part:3:2', 'evening:1')
        """
        parts = [self.what, self.id] if self.id else [self.what]
        return ":".join([*parts, *([str(self.days)] if self.what in ("lead", "move", *_BY_DAY) else [])])


_BY_DAY = ("evening", "helper", "lift")


def read_trial(text: str, plan: Plan) -> Trial:
    """A trial out of an address.

    Raises
    ------
    BadInput : it is none, or speaks of what the plan does not have

    >>> read_trial("evening:2", Plan(date(2027, 5, 3), Calendar((0,) * 7)))
    Trial(what='evening', id='', days=2)
    """
    what, _, rest = text[:200].partition(":")
    if what in _BY_DAY:
        return Trial(what, "", _days(rest, 0, 6))
    days = 0
    if what in ("lead", "move"):
        rest, _, number = rest.rpartition(":")
        days = _days(number, 0 if what == "lead" else -HORIZON, HORIZON)
    elif what not in ("order", "there", "drop"):
        raise BadInput(f"is no trial; {FORMS}", "try")
    known = {one.id for one in plan.parts} | ({one.id for one in plan.tasks} if what in ("drop", "move") else set())
    if rest not in known:
        raise BadInput(f"no “{rest[:60]}” in the plan; {FORMS}", "try")
    return Trial(what, rest, days)


def _days(text: str, low: int, high: int) -> int:
    if not text.lstrip("-").isdecimal() or len(text) > 5 or not low <= int(text) <= high:
        raise BadInput(f"is out of range; accepted: {low} to {high}", "try")
    return int(text)


def tried(plan: Plan, trial: Trial) -> Plan:
    """The plan with one thing otherwise.

    Parameters
    ----------
    plan : as it is
    trial : read against it

    Source: none; a convention of this program.

    >>> plan = Plan(date(2027, 5, 3), Calendar((0, 2, 0, 0, 0, 0, 0)))
    >>> tried(plan, Trial("evening", days=3)).calendar.week_hours
    (0, 2, 0, 2.0, 0, 0, 0)
    """
    if trial.what in _BY_DAY:
        return replace(plan, calendar=_calendar(plan.calendar, trial))
    if trial.what == "drop":
        return _without(plan, trial.id)
    parts = tuple(_part(plan, one, trial) if one.id == trial.id else one for one in plan.parts)
    tasks = tuple(_moved(plan, one, trial) if one.id == trial.id else one for one in plan.tasks)
    return replace(plan, parts=parts, tasks=tasks)


def _calendar(calendar: Calendar, trial: Trial) -> Calendar:
    if trial.what == "evening":
        hours = tuple(one + EVENING_H if day == trial.days else one for day, one in enumerate(calendar.week_hours))
        return replace(calendar, week_hours=tuple(min(24.0, one) for one in hours) if max(hours) > 24 else hours)
    if trial.what == "helper":
        return replace(calendar, helper=_and_on(calendar.helper, trial.days))
    return replace(calendar, lift=_and_on(calendar.lift, trial.days))


def _and_on(days: DaysOf, weekday: int) -> DaysOf:
    return replace(days, weekdays=days.weekdays | {weekday})


def _without(plan: Plan, name: str) -> Plan:
    """Nothing waits for it any more."""

    def but(names: tuple[str, ...]) -> tuple[str, ...]:
        return tuple(one for one in names if one != name)

    tasks = tuple(replace(one, after=but(one.after), parts=but(one.parts)) for one in plan.tasks if one.id != name)
    parts = tuple(replace(one, after=but(one.after)) for one in plan.parts if one.id != name)
    return replace(plan, tasks=tasks, parts=parts)


def _part(plan: Plan, part: PlanPart, trial: Trial) -> PlanPart:
    if trial.what == "order":
        return replace(part, ordered_on=plan.today, after=())
    if trial.what == "there":
        return replace(part, arrived_on=plan.today, after=())
    if trial.what == "lead":
        return replace(part, lead_days=(float(trial.days),) * 3)
    if trial.what == "move" and part.ordered_on is not None and part.ordered_on <= plan.today:
        # it is on its way: it comes later or sooner by so much
        low, likely, high = (max(0.0, one + trial.days) for one in part.lead_days)
        return replace(part, lead_days=(low, likely, high))
    if trial.what == "move":
        return replace(part, ordered_on=order_day(plan.today, part.ordered_on, trial.days), after=())
    return part


def order_day(today: date, planned: date | None, days: int) -> date:
    """The day of an order that was put off or brought forward; never before today.

    Parameters
    ----------
    today : first day
    planned : as it was planned; None: today
    days : later, minus sooner [days]

    Source: none; a convention of this program.

    >>> order_day(date(2027, 5, 3), None, -4), order_day(date(2027, 5, 3), date(2027, 5, 9), 2)
    (datetime.date(2027, 5, 3), datetime.date(2027, 5, 11))
    """
    return max(today, max(today, planned or today) + timedelta(days=days))


def _moved(plan: Plan, task: Task, trial: Trial) -> Task:
    """Not before its likely start and so many days more."""
    likely = next(one for one in Schedule(replace(plan, draws=0)).likely(slack=False).tasks if one.id == task.id)
    start = likely.start or plan.today
    return replace(task, not_before=max(plan.today, start + timedelta(days=trial.days)))


@dataclass(frozen=True)
class Gain:
    """What a trial does: the chance with it, and what that gains; the date it is likely ready."""

    trial: Trial
    chance_pct: float | None
    gain_pct: float | None
    ready_on: date | None


def gains(plan: Plan, trials: Sequence[Trial]) -> tuple[Gain, ...]:
    """What each trial gains, the most first; each from the same draws.

    Parameters
    ----------
    plan : as it is
    trials : read against it

    Source: none; a convention of this program.

    >>> plan = Plan(date(2027, 5, 3), Calendar((0, 2, 0, 0, 0, 0, 0)), (Task("a", (3, 4, 5)),),
    ...     event_on=date(2027, 5, 12), draws=200)
    >>> [(one.trial.text, one.gain_pct) for one in gains(plan, [Trial("evening", days=2)])]
    [('evening:2', 56.0)]
    """
    base = Schedule(plan).chances().chance_pct
    found = []
    for trial in trials:
        schedule = Schedule(tried(plan, trial))
        chance = schedule.chances().chance_pct
        gain = None if chance is None or base is None else chance - base
        found.append(Gain(trial, chance, gain, schedule.likely(slack=False).ready_on))
    return tuple(sorted(found, key=lambda one: -(one.gain_pct or 0.0)))
