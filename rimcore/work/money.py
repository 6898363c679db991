"""Money in whole and in hundredths: kept in hundredths, typed and shown in whole."""

from __future__ import annotations

from datetime import date

#: hundredths of the unit that prices are written in
HUNDREDTHS = 100


def in_whole(minor: int) -> float:
    """Hundredths as a sum in the unit prices are written in.

    >>> in_whole(31050)
    310.5
    """
    return minor / HUNDREDTHS


def in_hundredths(whole: float) -> int:
    """A sum in the unit prices are written in, as hundredths; to the nearest.

    >>> in_hundredths(310.5), in_hundredths(0.29)
    (31050, 29)
    """
    return round(whole * HUNDREDTHS)


def a_month_minor(left_minor: int | None, today: date, until: date | None) -> int | None:
    """What is left of a budget a month until a day; None without either.

    Parameters
    ----------
    left_minor : of the budget [minor units]
    today, until : first and last day; the month that has begun counts as one at the least

    Source: none; months of 30.44 days.

    >>> a_month_minor(60000, date(2027, 5, 1), date(2027, 7, 1))
    29941
    """
    if left_minor is None or until is None or until <= today:
        return None
    months = max(1.0, (until - today).days / 30.44)
    return round(left_minor / months)
