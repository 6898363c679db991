"""Offers of several suppliers for one part: how long each is good, and which are worth taking."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date, timedelta

#: how long a quote stands where nobody said [days] (common practice)
GOOD_DAYS = 30


@dataclass(frozen=True)
class Quote:
    """What a supplier said: price of one [minor units], lead time [days], day, and for how long it stands."""

    supplier: str
    price_minor: int | None
    lead_days: int | None
    asked_on: date
    good_days: int = GOOD_DAYS
    offered: bool = True


def good_until(quote: Quote) -> date:
    """Last day on which a quote stands.

    >>> good_until(Quote("a", 100, 1, date(2027, 5, 1), 14))
    datetime.date(2027, 5, 15)
    """
    return quote.asked_on + timedelta(days=quote.good_days)


def stale(quote: Quote, today: date) -> bool:
    """Is a quote older than it is good for? Its price and lead time have to be asked again.

    >>> stale(Quote("a", 100, 1, date(2027, 5, 1), 14), date(2027, 5, 16))
    True
    """
    return today > good_until(quote)


def undominated(quotes: Sequence[Quote], today: date) -> list[int]:
    """Places of the quotes that stand and that no other beats in both price and lead time; cheapest first.

    >>> rows = [Quote("a", 100, 9, date(2027, 5, 1)), Quote("b", 90, 30, date(2027, 5, 1)), Quote("c", 110, 12, date(2027, 5, 1))]
    >>> undominated(rows, date(2027, 5, 2))
    [1, 0]
    """
    standing = [
        (q.price_minor, q.lead_days, k)
        for k, q in enumerate(quotes)
        if q.offered and q.price_minor is not None and q.lead_days is not None and not stale(q, today)
    ]
    standing.sort()
    best: list[int] = []
    shortest: int | None = None
    for _, lead, k in standing:
        if shortest is None or lead < shortest:
            best.append(k)
            shortest = lead
    return best


def worth_used_minor(price_minor: int | None, share: float | None) -> int | None:
    """What a part brings used: a share of its price (common practice); None where either is not known.

    >>> worth_used_minor(20000, 0.5), worth_used_minor(None, 0.5)
    (10000, None)
    """
    return None if price_minor is None or share is None else round(price_minor * share)
