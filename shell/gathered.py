"""What a page needs of every car of a person: worked out of a car once a revision, and kept in the database."""

from __future__ import annotations

from collections.abc import Callable, Iterable
from dataclasses import dataclass
from typing import Any

from shell.models import Gathered
from shell.revision import numbers_of

#: cars written since that one answer works out anew
MOST = 6


@dataclass(frozen=True)
class Of:
    """What is known of every car, in the order asked, and how many are still to be worked out anew."""

    values: tuple[Any, ...]
    waiting: int


def gather(user_id: int, cars: Iterable[int], what: str, work: Callable[[int], Any], most: int = MOST) -> Of:
    """What ``work`` says of each car, kept by its revision; beyond the most that is worked out at once, what was known.

    Parameters
    ----------
    user_id : whose cars they are
    cars : numbers of cars, the most wanted first
    what : name of what is kept, up to 20 characters
    work : gives plain data (JSON) of a car
    most : cars that are worked out anew at the most, 1 or more
    """
    numbers = numbers_of(user_id)
    kept = {row.car: row for row in Gathered.objects.filter(user_id=user_id, what=what)}
    values, waiting, done = [], 0, 0
    for car in cars:
        row, number = kept.pop(car, None), numbers.get(car, 0)
        if row is None or row.number != number:
            if done >= most:
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
