"""Money in whole and in hundredths: kept in hundredths, typed and shown in whole."""

from __future__ import annotations

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
