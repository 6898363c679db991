"""Bolt circles: from lug distances, and the nearest patterns in use."""

from __future__ import annotations

import math

#: bolt circles in use, by lug count [mm] (common practice)
STANDARD_PCD_MM: dict[int, tuple[float, ...]] = {
    3: (98.0, 100.0, 112.0),
    4: (95.25, 98.0, 100.0, 108.0, 110.0, 114.3),
    5: (
        98.0,
        100.0,
        105.0,
        108.0,
        110.0,
        112.0,
        114.3,
        115.0,
        118.0,
        120.0,
        120.65,
        127.0,
        130.0,
        135.0,
        139.7,
        150.0,
        160.0,
        165.1,
    ),
    6: (114.3, 115.0, 120.0, 127.0, 130.0, 132.0, 135.0, 139.7, 170.0, 180.0, 205.0),
    8: (165.1, 170.0, 180.0, 200.0),
    10: (170.0, 225.0, 285.75),
}


def pitch_circle_mm(bolts: int, adjacent_mm: float) -> float:
    """Bolt circle from the distance between adjacent lug centres [mm]: chord ÷ sin(180°/n).

    Source: geometry of the regular polygon; for five lugs the trade's sin 36°.

    Parameters
    ----------
    bolts : 3 or more
    adjacent_mm : between the middles of two neighbours, over 0 [mm]

    >>> round(pitch_circle_mm(5, 67.2), 2)
    114.33
    """
    return adjacent_mm / math.sin(math.pi / bolts)


def nearest_patterns(bolts: int, pcd_mm: float, count: int = 3) -> list[tuple[float, float]]:
    """Standard bolt circles nearest to a measured one: (circle, distance) [mm], nearest first.

    Source: list of bolt circles in use, from memory.

    Parameters
    ----------
    bolts : 3 or more
    pcd_mm : as measured, over 0 [mm]
    count : how many are wanted, 1 or more

    >>> nearest_patterns(5, 114.33, count=1)[0][0]
    114.3
    """
    known = STANDARD_PCD_MM.get(bolts, ())
    return sorted(((pcd, abs(pcd - pcd_mm)) for pcd in known), key=lambda item: item[1])[:count]
