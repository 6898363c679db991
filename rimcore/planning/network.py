"""Tasks and parts of a plan as they are said, and as arrays that a walk over the days reads."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from datetime import date
from typing import Any

import numpy as np
from numpy.typing import NDArray

from rimcore.quantities.errors import BadInput

Three = tuple[float, float, float]
Days = NDArray[np.int16]
#: a task or part of a plan
Node = tuple[str, Any]

#: a plan is not followed further than this [days]
HORIZON = 730
#: a day that does not come, and the last one that is kept apart from it
NEVER, LATEST = 32_000, 31_000
#: a wait that is longer than any walk
LONGEST_WAIT = HORIZON + 1
#: tasks and parts of one plan
MOST = 200


@dataclass(frozen=True)
class Task:
    """Work of the owner's (``hours``) or given to others (``away_days``): low, likely, high."""

    id: str
    hours: Three | None = None
    away_days: Three | None = None
    after: tuple[str, ...] = ()
    not_before: date | None = None
    parts: tuple[str, ...] = ()
    helper: bool = False
    lift: bool = False
    dry: bool = False
    wait_days: int = 0
    worked_hours: float = 0.0
    done_on: date | None = None


@dataclass(frozen=True)
class PlanPart:
    """A part that tasks wait for; ``after`` are the tasks before which it is not ordered."""

    id: str
    lead_days: Three = (0.0, 0.0, 0.0)
    after: tuple[str, ...] = ()
    ordered_on: date | None = None
    arrived_on: date | None = None
    wrong_pct: float = 0.0


@dataclass(frozen=True)
class DaysOf:
    """Days on which there is a helper, or a lift: weekdays (Monday 0) and dates."""

    weekdays: frozenset[int] = frozenset()
    dates: frozenset[date] = frozenset()

    def __contains__(self, day: date) -> bool:
        return day.weekday() in self.weekdays or day in self.dates


@dataclass(frozen=True)
class Calendar:
    """A person's time: hours by weekday, days away, hours of single days instead, helper, lift, share of wet days."""

    week_hours: tuple[float, ...]
    away: frozenset[date] = frozenset()
    extra_hours: Mapping[date, float] = field(default_factory=dict)
    helper: DaysOf = DaysOf()
    lift: DaysOf = DaysOf()
    wet_pct: float = 0.0

    def hours_on(self, day: date) -> float:
        """Hours of one day.

        >>> Calendar((0, 0, 2, 0, 0, 6, 6), frozenset({date(2027, 5, 1)})).hours_on(date(2027, 5, 1))
        0.0
        """
        if day in self.extra_hours:
            return self.extra_hours[day]
        return 0.0 if day in self.away else float(self.week_hours[day.weekday()])


@dataclass(frozen=True)
class Network:
    """What waits for what, by places in ``tasks`` and ``parts``: only what is not done and not there.

    ``earliest`` (t,) is the first day that needs nothing further [days from today], ``ordered`` (p,) the day of the
    order where no task is waited for. ``order`` names every task and part after what it waits for.
    """

    tasks: tuple[int, ...]
    parts: tuple[int, ...]
    earliest: Days
    ordered: Days
    #: tasks that a task waits for, parts that it needs, tasks after which a part is ordered
    before: tuple[tuple[int, ...], ...]
    needs: tuple[tuple[int, ...], ...]
    ordered_after: tuple[tuple[int, ...], ...]
    wait_days: tuple[int, ...]
    #: helper 1, lift 2, both 3
    kind: tuple[int, ...]
    dry: NDArray[np.bool_]
    away: NDArray[np.bool_]
    begun: NDArray[np.bool_]
    order: tuple[tuple[str, int], ...]


def check(tasks: Sequence[Task], parts: Sequence[PlanPart], today: date) -> None:
    """Refuse a plan that no walk can follow.

    Parameters
    ----------
    tasks, parts : in their order, at most ``MOST`` of each
    today : first day

    Raises
    ------
    BadInput : under ``tasks`` or ``parts``: ids twice or unknown, days ahead that are said to be over, a circle

    Source: none; a convention of this program.

    >>> check([Task("a", (1, 1, 1), after=("a",))], [], date(2027, 5, 1))
    Traceback (most recent call last):
    rimcore.quantities.errors.BadInput: “a” waits for itself
    """
    names = _ids("tasks", [one.id for one in tasks]), _ids("parts", [one.id for one in parts])
    for place, task in enumerate(tasks):
        _known("tasks", place, "after", task.after, names[0])
        _known("tasks", place, "parts", task.parts, names[1])
        if task.done_on is not None and task.done_on > today:
            raise BadInput("is ahead of today; accepted: today or before", f"tasks.{place}.done_on")
    for place, part in enumerate(parts):
        _known("parts", place, "after", part.after, names[0])
        if part.arrived_on is not None and part.arrived_on > today:
            raise BadInput("is ahead of today; accepted: today or before", f"parts.{place}.arrived_on")
    _no_circle(tasks, parts)


def _ids(what: str, found: Sequence[str]) -> dict[str, int]:
    names: dict[str, int] = {}
    for place, name in enumerate(found):
        if name in names:
            raise BadInput(f"“{name}” stands twice; accepted: each id once", f"{what}.{place}.id")
        names[name] = place
    return names


def _known(what: str, place: int, key: str, wanted: Sequence[str], names: Mapping[str, int]) -> None:
    for name in wanted:
        if name not in names:
            raise BadInput(f"no “{name}” there; accepted: ids of the list", f"{what}.{place}.{key}")


def _no_circle(tasks: Sequence[Task], parts: Sequence[PlanPart]) -> None:
    before: dict[Node, set[Node]] = {
        ("t", k): {("t", name) for name in one.after} | {("p", name) for name in one.parts}
        for k, one in ((one.id, one) for one in tasks)
    }
    before |= {("p", one.id): {("t", name) for name in one.after} for one in parts}
    order = _in_order(before)
    if len(order) == len(before):
        return
    stuck = set(before) - set(order)
    by_part = [name for kind, name in before if kind == "p" and (kind, name) in stuck]
    where, name = (
        ("parts", by_part[0]) if by_part else ("tasks", next(name for _, name in before if ("t", name) in stuck))
    )
    raise BadInput(f"“{name}” waits for itself", where)


def _in_order(before: Mapping[Node, set[Node]]) -> list[Node]:
    """Every node after what it waits for (Kahn, 1962); what stands in a circle is left out."""
    follows: dict[Node, list[Node]] = {key: [] for key in before}
    for key, needs in before.items():
        for one in needs:
            follows[one].append(key)
    waits = {key: len(needs) for key, needs in before.items()}
    found = [key for key, count in waits.items() if not count]
    for key in found:
        for one in follows[key]:
            waits[one] -= 1
            if not waits[one]:
                found.append(one)
    return found


def _clipped(days: int) -> int:
    return min(max(days, 0), LATEST)


def network(tasks: Sequence[Task], parts: Sequence[PlanPart], today: date) -> Network:
    """A plan by places: what is done or there already is folded into the first day of what waits for it.

    Parameters
    ----------
    tasks, parts : checked
    today : day 0

    Source: none; a convention of this program.

    >>> found = network([Task("a", (1, 1, 1)), Task("b", (1, 1, 1), after=("a",))], [], date(2027, 5, 1))
    >>> found.before, found.order
    (((), (0,)), (('t', 0), ('t', 1)))
    """
    open_tasks = [k for k, one in enumerate(tasks) if one.done_on is None]
    open_parts = [k for k, one in enumerate(parts) if one.arrived_on is None]
    at_task = {tasks[k].id: place for place, k in enumerate(open_tasks)}
    at_part = {parts[k].id: place for place, k in enumerate(open_parts)}
    done = {one.id: ((one.done_on - today).days, one.wait_days) for one in tasks if one.done_on is not None}
    chosen, asked = [tasks[k] for k in open_tasks], [parts[k] for k in open_parts]
    before = tuple(_places(one.after, at_task) for one in chosen)
    needs = tuple(_places(one.parts, at_part) for one in chosen)
    ordered_after = tuple(() if one.ordered_on is not None else _places(one.after, at_task) for one in asked)
    nodes: dict[Node, set[Node]] = {
        ("t", k): {("t", one) for one in before[k]} | {("p", one) for one in needs[k]} for k in range(len(chosen))
    }
    nodes |= {("p", k): {("t", one) for one in ordered_after[k]} for k in range(len(asked))}
    return Network(
        tasks=tuple(open_tasks),
        parts=tuple(open_parts),
        earliest=np.array([_first(one, done, today) for one in chosen], np.int16),
        ordered=np.array([_ordered(one, done, today) for one in asked], np.int16),
        before=before,
        needs=needs,
        ordered_after=ordered_after,
        wait_days=tuple(min(one.wait_days, LONGEST_WAIT) for one in chosen),
        kind=tuple(one.helper + 2 * one.lift for one in chosen),
        dry=np.array([one.dry for one in chosen], dtype=bool),
        away=np.array([one.away_days is not None for one in chosen], dtype=bool),
        begun=np.array([one.worked_hours > 0 for one in chosen], dtype=bool),
        order=tuple(_in_order(nodes)),
    )


def _places(names: Sequence[str], at: Mapping[str, int]) -> tuple[int, ...]:
    return tuple(at[name] for name in dict.fromkeys(names) if name in at)


def _first(task: Task, done: Mapping[str, tuple[int, int]], today: date) -> int:
    """The first day that what is done lets a task begin."""
    own = 0 if task.not_before is None else (task.not_before - today).days
    return _clipped(max([own, *(sum(done[name]) for name in task.after if name in done)]))


def _ordered(part: PlanPart, done: Mapping[str, tuple[int, int]], today: date) -> int:
    if part.ordered_on is not None:
        return max(-LATEST, min((part.ordered_on - today).days, LATEST))
    return max([0, *(done[name][0] for name in part.after if name in done)])
