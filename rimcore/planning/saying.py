"""A date that was said, against the day it was ready on."""

from __future__ import annotations

from datetime import date

from rimcore.quantities.judgement import State


def held_date(said_on: date | None, p80_on: date | None, came_on: date | None) -> tuple[State, int | None]:
    """Was a date held, and by how many days was it missed (minus: sooner)?

    ``clear`` by the likely day, ``tight`` within what 80 % of the draws took, ``hit`` later; unmeasured until it is
    ready, and where no date was said.

    Parameters
    ----------
    said_on, p80_on : as they were said
    came_on : the day it was ready

    Source: none; a convention of this program.

    >>> day = date(2027, 5, 1)
    >>> held_date(day, date(2027, 5, 9), date(2027, 5, 4)), held_date(day, None, None)
    (('tight', 3), ('unmeasured', None))
    """
    if said_on is None or came_on is None:
        return "unmeasured", None
    late = (came_on - said_on).days
    state: State = "clear" if late <= 0 else "tight" if p80_on is not None and came_on <= p80_on else "hit"
    return state, late
