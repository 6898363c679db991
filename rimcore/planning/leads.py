"""How long parts take: what a supplier's past orders say of the next one."""

from __future__ import annotations

import math
from collections.abc import Collection, Sequence
from dataclasses import replace
from datetime import date, timedelta
from statistics import median

from rimcore.planning.network import PlanPart, Three

#: orders of one supplier from which they are believed, and what is taken before (common practice, from memory)
ENOUGH, USUAL = 3, (0.8, 1.0, 1.8)
#: closed days that are counted at the most
MOST_CLOSED = 365
#: chance that something is wrong with a part whose variants nobody asked about [%] (common practice, from memory)
NOT_ASKED_PCT = 15.0


def spread_of(lead_days: float, past: Sequence[float]) -> Three:
    """Low, likely, high of a lead.

    Parameters
    ----------
    lead_days : as promised, 0 or more [days]
    past : taken ÷ promised of the supplier's orders that arrived

    Source: the least, the median and the most of three orders or more; before, common practice.

    >>> spread_of(10.0, []), spread_of(10.0, [1.0, 1.5, 3.0])
    ((8.0, 10.0, 18.0), (10.0, 15.0, 30.0))
    """
    low, likely, high = (min(past), median(past), max(past)) if len(past) >= ENOUGH else USUAL
    return lead_days * low, lead_days * likely, lead_days * high


def spread_of_offers(lead_days: float, offers: Sequence[float]) -> Three | None:
    """Low, likely, high of a lead where several were offered for the same part; None with fewer than two.

    Parameters
    ----------
    lead_days : the one that counts [days]
    offers : leads that were offered [days]

    Source: the least and the most of what was offered.

    >>> spread_of_offers(10.0, [7.0, 16.0]), spread_of_offers(10.0, [12.0])
    ((7.0, 10.0, 16.0), None)
    """
    if len(offers) < 2:
        return None
    return min(lead_days, *offers), lead_days, max(lead_days, *offers)


def closed_days(first: date, lead_days: float, closed: Collection[date]) -> int:
    """Days by which a supplier's holidays put off what is ordered on a day.

    Parameters
    ----------
    first : the day of the order
    lead_days : without them, 0 or more [days]
    closed : days on which nothing is sent

    Source: none; a day on which nothing is sent is a day more.

    >>> closed_days(date(2027, 8, 1), 3.0, {date(2027, 8, 2), date(2027, 8, 5)})
    2
    """
    day, left, lost = first, math.ceil(lead_days), 0
    while left > 0 and lost < MOST_CLOSED:
        day += timedelta(days=1)
        if day in closed:
            lost += 1
        else:
            left -= 1
    return lost


def together(parts: Sequence[PlanPart], groups: Sequence[Collection[str]]) -> tuple[PlanPart, ...]:
    """Parts that come in one parcel, or as a set: each is ordered when the last can be, and comes with the slowest.

    Parameters
    ----------
    parts : of a plan; what is there already stays as it is
    groups : ids that come together; one that is not in the plan is passed over

    Source: none; a parcel leaves when all of it is there. Low, likely and high are the greatest of each.

    >>> found = together((PlanPart("a", (2, 3, 4)), PlanPart("b", (1, 5, 9), after=("m",))), [("a", "b")])
    >>> [(one.lead_days, one.after) for one in found]
    [((2, 5, 9), ('m',)), ((2, 5, 9), ('m',))]
    """
    by_id = {one.id: one for one in parts if one.arrived_on is None}
    for group in groups:
        mine = [by_id[name] for name in group if name in by_id]
        if len(mine) < 2:
            continue
        low, likely, high = (max(one.lead_days[k] for one in mine) for k in range(3))
        after = tuple(dict.fromkeys(name for one in mine for name in one.after))
        days = [one.ordered_on for one in mine if one.ordered_on is not None]
        ordered = max(days) if len(days) == len(mine) and not after else None
        for one in mine:
            by_id[one.id] = replace(one, lead_days=(low, likely, high), after=after, ordered_on=ordered)
    return tuple(by_id.get(one.id, one) for one in parts)
