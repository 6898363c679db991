"""How a plan and a case of it are laid out for the compiled walk: rows of arrays, by name."""

from __future__ import annotations

#: hours that are none
NOTHING = 1e-9
#: what one walk changes: nothing, a task not done at all, a part there today, a task put off to a day, a part late
AS_IT_IS, GONE, THERE, PUT_OFF, LATE = range(5)
#: rows of a plan's array, by task
EARLIEST, WAIT, KIND, DRY, GIVEN, BEGUN, BEFORE, NEEDS, THEN, FREES = range(10)
#: by part: day of the order, tasks that it is ordered after, tasks that use it. Lists are told by where they begin in
#: the links; where the next begins, they end
ORDERED, ASKS, USERS, LINKS = range(10, 14)
#: by day, four rows each for the kinds of task (helper 1, lift 2): is it one of its days, the next of its, the next
#: with hours
GOOD, FREE, WORKED, PLAN_ROWS = 14, 18, 22, 26
#: rows of a case as it stands, by task: first day, start, end, how many are waited for, begun, days away, finished and
#: not followed yet, tasks that hours may be spent on in the order of the list
FIRST, START, ENDED, WAITS, OPEN, AWAY, QUEUE, LET = range(8)
#: by part: day that it is there, orders that wait, lead; then the walk itself, and what is counted
ARRIVE, ORDERS, LEAD, WALK, TALLY = range(8, 13)
#: by day: does it rain
RAIN, CASE_ROWS = 13, 14
#: of a walk: what it changes, of which, by or to which day
WHAT, AT, BY = range(3)
#: counted: tasks open, the last day, how many are queued, how many are let
LEFT, LAST, QUEUED, LETS = range(4)
