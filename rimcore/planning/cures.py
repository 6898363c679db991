"""What a snag does to the plan: use it, repair it or replace it, each with its money, hours and days."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field, replace
from datetime import date

from rimcore.planning.followed import Followed, Part, followed
from rimcore.planning.network import PlanPart, Task
from rimcore.planning.schedule import Plan as Dated
from rimcore.quantities.judgement import State
from rimcore.work.money import in_whole

KINDS = {"use": "use it as it is", "repair": "repair it", "replace": "replace it"}
#: days in hand under which a plan is called tight (common practice: a test day, and one for rain)
FEW_DAYS = 2


@dataclass(frozen=True)
class Cure:
    """One way out of a snag: money [minor units], hours of work, days until what it needs is there; None is not known.

    ``since`` is the day from which it is waited for, None while nothing is decided.
    """

    kind: str
    money_minor: int | None = 0
    hours: float | None = 0.0
    days: int | None = 0
    note: str = ""
    since: date | None = None
    #: the part that cures it, where it is in the build already: its id in the plan
    part: str = ""

    @property
    def waited_for(self) -> tuple[Part, ...]:
        """What it waits for, for the schedule; nothing where it takes no days.

        >>> Cure("use").waited_for, Cure("repair", days=9, note="weld").waited_for
        ((), (Part(name='fix: weld', lead_days=9, ordered_on=None),))
        """
        return () if self.days == 0 else (Part(f"fix: {self.note or KINDS[self.kind]}", self.days, self.since),)


@dataclass(frozen=True)
class Plan:
    """A build as a snag finds it, before any way out is taken: money left [minor units] and its plan."""

    left_minor: int | None
    dated: Dated
    names: Mapping[str, str] = field(default_factory=dict)
    unknown: tuple[str, ...] = ()

    @property
    def event_on(self) -> date | None:
        """What it is wanted for."""
        return self.dated.event_on

    def dates(self, cure: Cure | None = None) -> Followed:
        """Dates of the plan, with a cure's wait and hours where one is given: it comes before what is left.

        >>> from rimcore.planning.network import Calendar
        >>> plan = Plan(50000, Dated(date(2027, 5, 1), Calendar((1.0,) * 7), event_on=date(2027, 5, 20)))
        >>> plan.dates().days_in_hand, plan.dates(Cure("repair", 0, 2, 9)).days_in_hand
        (18, 8)
        """
        if cure is None:
            return followed(self.dated, self.names, self.unknown)
        hours, waits = cure.hours or 0.0, cure.waited_for
        known = [one for one in waits if one.lead_days is not None]
        parts = tuple(
            PlanPart(f"cure:{one.name}"[:80], (float(one.lead_days or 0),) * 3, ordered_on=one.ordered_on)
            for one in known
        )
        task = Task("cure", (hours, hours, hours), parts=tuple(one.id for one in parts))
        dated = replace(self.dated, tasks=(*self.dated.tasks, task), parts=(*self.dated.parts, *parts))
        unknown = (*self.unknown, *(one.name for one in waits if one.lead_days is None))
        return followed(dated, self.names, unknown)


@dataclass(frozen=True)
class Outcome:
    """What a cure leaves: money of the budget and days before the event, and by how many days it moves the finish.

    None is not known.
    """

    cure: Cure
    left_minor: int | None
    days_in_hand: int | None
    days_lost: int | None
    state: State
    reason: str


def weigh(cures: Sequence[Cure], plan: Plan) -> tuple[Outcome, ...]:
    """What each way out leaves of money and days, in the order given.

    A wait that runs beside a longer one costs no day, nor do hours that end before it does.

    >>> from rimcore.planning.network import Calendar
    >>> plan = Plan(50000, Dated(date(2027, 5, 1), Calendar((1.0,) * 7), event_on=date(2027, 5, 22)))
    >>> [(o.cure.kind, o.days_lost, o.state) for o in weigh([Cure("use"), Cure("replace", 90000, 2, 30), Cure("repair", hours=None)], plan)]
    [('use', 0, 'clear'), ('replace', 31, 'hit'), ('repair', None, 'unmeasured')]
    """
    before = plan.dates().finish
    return tuple(_outcome(cure, plan, before) for cure in cures)


def _outcome(cure: Cure, plan: Plan, before: date | None) -> Outcome:
    dates = plan.dates(cure)
    finish = dates.finish if cure.hours is not None else None
    lost = (finish - before).days if finish is not None and before is not None else None
    left = plan.left_minor - cure.money_minor if plan.left_minor is not None and cure.money_minor is not None else None
    state, reason = _judged(cure, plan, left, dates)
    return Outcome(cure, left, dates.days_in_hand if finish is not None else None, lost, state, reason)


def _judged(cure: Cure, plan: Plan, left_minor: int | None, dates: Followed) -> tuple[State, str]:
    """State and reason; what is not known is never within budget or time."""
    days = dates.days_in_hand  # at the best where hours are not known
    over = [f"{in_whole(-left_minor):.0f} over the budget"] if left_minor is not None and left_minor < 0 else []
    late = [f"{-days} day{'' if days == -1 else 's'} late"] if days is not None and days < 0 else []
    if over or late:
        return "hit", " and ".join(over + late)
    if plan.left_minor is None and plan.event_on is None:
        return "unmeasured", "no budget and no event to check it against"
    unknown = ["what it costs"] if plan.left_minor is not None and cure.money_minor is None else []
    unknown += ["how many hours it takes"] if plan.event_on is not None and cure.hours is None else []
    unknown += [f"when there is {', '.join(dates.unknown)}"] if plan.event_on is not None and dates.unknown else []
    if unknown:
        return "unmeasured", f"not known: {'; '.join(unknown)}"
    if days is not None and days < FEW_DAYS:
        return "tight", f"{days} day{'' if days == 1 else 's'} in hand"
    return "clear", "within budget and time" if left_minor is not None and days is not None else "within what is set"
