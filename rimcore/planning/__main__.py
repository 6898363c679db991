"""Compile the walk of a plan, once, so that the first plan doesn't wait for it: ``python -m rimcore.planning``."""

from datetime import date

from rimcore.planning.network import Calendar, Task
from rimcore.planning.schedule import Plan, Schedule

if __name__ == "__main__":
    today = date(2027, 5, 3)
    task = Task("fit", hours=(1.0, 2.0, 3.0))
    found = Schedule(Plan(today, Calendar((2,) * 7), (task,), event_on=date(2027, 5, 9), draws=10))
    found.likely()
    found.chances(spans=True)
    found.levers()
