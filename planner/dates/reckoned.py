"""What is reckoned of a plan: the likely case, the chance, the ruler, what would help; kept for the same plan."""

from __future__ import annotations

import threading
from collections import OrderedDict
from collections.abc import Callable, Mapping
from dataclasses import dataclass, replace
from datetime import date, timedelta
from typing import Any

from planner.dates.facts import Planned
from rimcore.planning.drawing import Ruler, ruler
from rimcore.planning.network import Task
from rimcore.planning.schedule import Chances, Helps, Likely, Plan, Schedule
from rimcore.planning.trials import WEEKDAYS, Gain, Trial, gains
from shell.figures import amount

#: slack is looked for up to so many days, by how many tasks and parts there are; beyond that it is not told
SLACK = ((150, 60), (400, 6))
#: draws × things × tasks that what would help is reckoned from, and draws at the least: a page stays under a second
HELP_WORK, HELP_LEAST = 1_200_000, 100
#: quotes that are tried at the most
MOST_OFFERS = 6
#: modules that are never left for after: the others need them, or the car is not safe to drive without
NOT_LEFT = ("up", "alignment", "tuning")
#: answers that are kept, of all persons; each some kilobytes
KEPT = 128

_kept: OrderedDict[str, Any] = OrderedDict()
_lock = threading.Lock()


def _once(what: str, plan: Plan, make: Callable[[], Any]) -> Any:
    """What is reckoned of a plan is the same for the same plan: seed and all."""
    key = f"{what} {plan!r}"
    with _lock:
        if key in _kept:
            _kept.move_to_end(key)
            return _kept[key]
    found = make()
    with _lock:
        _kept[key] = found
        while len(_kept) > KEPT:
            _kept.popitem(last=False)
    return found


def likely_of(plan: Plan) -> Likely:
    """The likely case with its slack."""
    things = len(plan.tasks) + len(plan.parts)
    most = next((days for count, days in SLACK if things <= count), 0)
    found: Likely = _once("likely", plan, lambda: Schedule(plan).likely(slack=most > 0, most=most))
    return found


def order_days_of(plan: Plan) -> dict[str, int]:
    """By how many days each part alone may come later and the likely case still be ready by the event."""
    found: dict[str, int] = _once("orders", plan, lambda: Schedule(plan).late_by())
    return found


def chances_of(plan: Plan) -> Chances:
    """What the draws say, with the spans of everything."""
    found: Chances = _once("chances", plan, lambda: Schedule(plan).chances(spans=True))
    return found


def levers_of(plan: Plan) -> tuple[Helps, ...]:
    """What each thing that is not done would help."""
    found: tuple[Helps, ...] = _once("levers", plan, lambda: Schedule(plan).levers())
    return found


@dataclass(frozen=True)
class Help:
    """Something that would help: in words, what it costs or gives up, and how it is tried."""

    name: str
    gives_up: str
    gain_pct: float
    try_text: str


#: gains under which a lever is not worth a line [percentage points]
LEAST_GAIN = 0.5


def helps_of(planned: Planned) -> list[Help]:
    """What would help most, the most first: part there, work left for after, an evening, a helper or a lift more."""
    if planned.plan.event_on is None or planned.unknown:
        return []
    plan = _fewer(planned.plan)
    found = [_help_of(one, planned) for one in levers_of(plan)]
    found += _of_offers(planned, plan)
    found += [_help_of_day(one) for one in _once("days", plan, lambda: gains(plan, _day_trials(plan)))]
    good = [one for one in found if one is not None and one.gain_pct >= LEAST_GAIN]
    return sorted(good, key=lambda one: -one.gain_pct)[:8]


def _fewer(plan: Plan) -> Plan:
    """The plan with as many draws as there is time for."""
    things = max(1, len(plan.tasks) + len(plan.parts)) * max(1, len(plan.tasks))
    return replace(plan, draws=max(HELP_LEAST, min(plan.draws, HELP_WORK // things)))


def _help_of(one: Helps, planned: Planned) -> Help | None:
    name = planned.names.get(one.id, one.id)
    if one.kind == "part":
        return Help(f"{name}: there today", "express, or another supplier that has it", one.gain_pct, f"there:{one.id}")
    _, _, module = one.id.partition(":m:")
    if module in NOT_LEFT or ":fix:" in one.id:
        return None
    return Help(f"Leave for after: {name}", "not done by the event", one.gain_pct, f"drop:{one.id}")


def _of_offers(planned: Planned, plan: Plan) -> list[Help]:
    """A part from another supplier, where a quote that still stands is quicker."""
    leads = {one.id: one.lead_days[1] for one in plan.parts if one.arrived_on is None}
    offers = {
        Trial("lead", name, one.lead_days): (name, one)
        for name, some in planned.offers.items()
        for one in some
        if name in leads and one.lead_days < leads[name]
    }
    offers = dict(sorted(offers.items(), key=lambda pair: pair[0].days)[:MOST_OFFERS])
    found = []
    for gain in _once(f"offers {list(offers)!r}", plan, lambda: gains(plan, list(offers))):
        name, offer = offers[gain.trial]
        more = offer.dearer_minor
        price = "price not said" if more is None else f"{amount(abs(more))} {'dearer' if more >= 0 else 'cheaper'}"
        words = f"{offer.lead_days} days, {price}, quote of {offer.asked_on:%-d %b}"
        title = f"{planned.names.get(name, name)} from {offer.supplier}"
        found.append(Help(title, words, gain.gain_pct or 0.0, gain.trial.text))
    return found


def _day_trials(plan: Plan) -> list[Trial]:
    """One more evening on the emptiest weekday; a helper or a lift on Saturdays where something asks for them."""
    hours = plan.calendar.week_hours
    trials = [Trial("evening", days=min(range(7), key=lambda day: hours[day]))]
    todo = [one for one in plan.tasks if one.done_on is None]
    for what in ("helper", "lift"):
        if any(getattr(one, what) for one in todo):
            trials.append(Trial(what, days=5))
    return trials


def _help_of_day(one: Gain) -> Help | None:
    day = WEEKDAYS[one.trial.days]
    words = {
        "evening": f"Two hours more on {day}s",
        "helper": f"A helper on {day}s",
        "lift": f"A lift on {day}s",
    }
    gives = {"evening": "an evening a week", "helper": "somebody's time", "lift": "what it is rented for"}
    if one.gain_pct is None:
        return None
    return Help(words[one.trial.what], gives[one.trial.what], one.gain_pct, one.trial.text)


def ruler_of(planned: Planned) -> Ruler:
    """The drawing of a plan."""
    plan, likely = planned.plan, likely_of(planned.plan)
    found: Ruler = ruler(plan, likely, chances_of(plan), planned.names, waits_of(planned, likely))
    return found


def waits_of(planned: Planned, likely: Likely) -> Mapping[str, str]:
    """Why a piece of work begins no sooner, in words, by id: the part, the work before it, the day it is booked for."""
    plan = planned.plan
    arrives = {one.id: one.arrives for one in likely.parts}
    finish = {one.id: one.finish for one in likely.tasks}
    start = {one.id: one.start for one in likely.tasks}
    found: dict[str, str] = {}
    for task in plan.tasks:
        on = start.get(task.id)
        if on is None or task.done_on is not None or on <= plan.today:
            continue
        found[task.id] = _why(task, on, arrives, finish, planned)
    for part in plan.parts:
        if part.after and part.arrived_on is None:
            found[part.id] = f"ordered after {', '.join(planned.names.get(one, one) for one in part.after)}"
    return found


def _why(
    task: Task,
    on: date,
    arrives: Mapping[str, date | None],
    finish: Mapping[str, date | None],
    planned: Planned,
) -> str:
    names, calendar = planned.names, planned.plan.calendar
    if task.not_before is not None and task.not_before == on:
        return f"booked on {on:%-d %b}"
    last = max(((arrives.get(one), one) for one in task.parts if arrives.get(one)), default=None)
    if last is not None and last[0] is not None and on - last[0] < timedelta(days=7) and last[0] > planned.plan.today:
        late = last[0]
        rest = [finish[one] for one in task.after if finish.get(one) is not None]
        if all(one is not None and one <= late for one in rest):
            return f"waits for {names.get(last[1], last[1])}"
    asks = [
        word
        for word, wanted, days in (("a helper", task.helper, calendar.helper), ("a lift", task.lift, calendar.lift))
        if wanted and (on - timedelta(days=1)) not in days
    ]
    if asks:
        return f"waits for {' and '.join(asks)}"
    return "dry day" if task.dry and calendar.wet_pct else ""


def span_words(chances: Chances) -> str:
    """Between which days 8 of 10 draws end, in words."""
    low, high = chances.ready_on.get(10), chances.ready_on.get(90)
    if low is None or high is None:
        return ""
    return f"8 of 10 draws end between {low:%-d %b} and {high:%-d %b %Y}"
