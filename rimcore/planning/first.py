"""A first plan, followed so that what is compiled is there before anybody waits for it."""

from __future__ import annotations

from datetime import date

from rimcore.planning.network import Calendar, Task
from rimcore.planning.schedule import Plan, Schedule


def first_walk() -> int:
    """Follow a small plan in every way that there is; gives how many days it takes.

    Compiles the walk where it is not compiled yet, else takes what was kept.

    Source: none; the plan is made up.

    >>> first_walk()
    1
    """
    today = date(2027, 5, 3)
    task = Task("fit", hours=(1.0, 2.0, 4.0))
    found = Schedule(Plan(today, Calendar((1,) * 7), (task,), event_on=date(2027, 5, 9), draws=10))
    found.chances(spans=True)
    found.levers()
    ready_on = found.likely().ready_on
    return (ready_on - today).days if ready_on is not None else -1
