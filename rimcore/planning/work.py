"""Work of a build as tasks: one a module of its sheet, in the order of the hand."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from datetime import date

from rimcore.planning.network import Task
from rimcore.work.hours import ModuleHours

#: modules that come after everything else of a sheet, and those that come after some (common practice)
LAST = ("weights", "alignment")
AFTER: Mapping[str, tuple[str, ...]] = {"tuning": ("intake", "exhaust"), "alignment": ("weights",)}
#: what lets a car down again is part of getting it up
UP = "up"


@dataclass(frozen=True)
class Work:
    """What is left of a build: hours by module, what is done, hours clocked, which parts a module waits for."""

    key: str
    rows: tuple[ModuleHours, ...]
    done: Mapping[str, date] = field(default_factory=dict)
    clocked_h: float = 0.0
    parts_of: Mapping[str, tuple[str, ...]] = field(default_factory=dict)
    parts: tuple[str, ...] = ()
    #: work begins before every part is there
    early: bool = False
    #: the person's own figure for the whole [h]
    own_h: float | None = None


def task_id(key: str, module: str) -> str:
    """The id of a module's task.

    >>> task_id("7", "springs")
    '7:m:springs'
    """
    return f"{key}:m:{module}"


def tasks_of(work: Work) -> tuple[Task, ...]:
    """Tasks of a build, in order.

    Every module comes after the car is up; corner weights, then alignment after all that is done on it; tuning after
    intake and exhaust. Unless work begins early, nothing begins before every part is there. Clocked hours are of what
    comes first.

    Parameters
    ----------
    work : modules with their hours [h]

    Source: common practice.

    >>> rows = (ModuleHours("up", (0.5, 1, 2)), ModuleHours("springs", (3, 4, 8)), ModuleHours("alignment", (1, 1, 2)))
    >>> [(one.id, one.after, one.worked_hours) for one in tasks_of(Work("7", rows, clocked_h=3.0))]
    [('7:m:up', (), 1.0), ('7:m:springs', ('7:m:up',), 2.0), ('7:m:alignment', ('7:m:up', '7:m:springs'), 0.0)]
    """
    rows = [one for one in work.rows if one.hours is not None]
    total = sum(one.likely for one in rows)
    scale = work.own_h / total if work.own_h is not None and total > 0 else 1.0
    if work.own_h is not None and not rows:
        rows = [ModuleHours(UP, (0.75 * work.own_h, work.own_h, 2.0 * work.own_h))]
    names = [one.module for one in rows]
    left, found = _left(work, rows, scale), []
    for row in rows:
        low, likely, high = ((one * scale) for one in row.hours or (0.0, 0.0, 0.0))
        worked = min(likely, left) if row.module not in work.done else 0.0
        left -= worked
        waits = work.parts_of.get(row.module, ()) if work.early else work.parts
        found.append(
            Task(
                task_id(work.key, row.module),
                (low, likely, high),
                after=tuple(task_id(work.key, name) for name in _before(row.module, names)),
                parts=waits,
                worked_hours=worked,
                done_on=work.done.get(row.module),
            )
        )
    return tuple(found)


def _left(work: Work, rows: Sequence[ModuleHours], scale: float) -> float:
    """Of the hours clocked, what is not of modules that are done [h]."""
    return max(0.0, work.clocked_h - sum(one.likely * scale for one in rows if one.module in work.done))


def _before(module: str, names: Sequence[str]) -> list[str]:
    if module == UP:
        return []
    first = [UP] if UP in names else []
    if module in LAST:
        first += [name for name in names if name not in (*LAST, UP, "tuning")]
    return [*first, *(name for name in AFTER.get(module, ()) if name in names)]
