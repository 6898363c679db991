"""What a page needs of every car of a person: worked out of a car once a revision, and kept in the database."""

from __future__ import annotations

import time
from collections.abc import Callable, Iterable
from dataclasses import dataclass
from typing import Any

from shell.models import Gathered
from shell.revision import numbers_of

#: processor time that one answer may take over cars that were written since [s]
MOST_S = 0.5


@dataclass(frozen=True)
class Of:
    """What is known of every car, in the order asked, and how many are still to be worked out anew."""

    values: tuple[Any, ...]
    waiting: int


def gather(user_id: int, cars: Iterable[int], what: str, work: Callable[[int], Any], most_s: float = MOST_S) -> Of:
    """What ``work`` says of each car, kept by its revision; of cars that don't fit in the time, what was known.

    Parameters
    ----------
    user_id : whose cars they are
    cars : numbers of cars, the most wanted first: the first is always worked out where it is not known
    what : name of what is kept, up to 20 characters
    work : gives plain data (JSON) of a car
    most_s : processor time that may be taken [s]
    """
    numbers, began = numbers_of(user_id), time.process_time()
    kept = {row.car: row for row in Gathered.objects.filter(user_id=user_id, what=what)}
    values, waiting, done = [], 0, 0
    for car in cars:
        row, number = kept.pop(car, None), numbers.get(car, 0)
        if row is None or row.number != number:
            if done and time.process_time() - began > most_s:
                waiting += 1
            else:
                row, done = _keep(user_id, car, what, number, work(car)), done + 1
        if row is not None:
            values.append(row.value)
    gone = [row.pk for row in kept.values() if row.car not in numbers]
    if gone:
        Gathered.objects.filter(pk__in=gone).delete()
    return Of(tuple(values), waiting)


def _keep(user_id: int, car: int, what: str, number: int, value: Any) -> Gathered:
    found, _ = Gathered.objects.update_or_create(
        user_id=user_id, car=car, what=what, defaults={"number": number, "value": value}
    )
    return found
