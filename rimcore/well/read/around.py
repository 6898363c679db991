"""The stations of a corner round its drawings.

One group a standing of the wheel, each station a numbered mark where its rule lies.
"""

from __future__ import annotations

import math
from dataclasses import dataclass, replace
from functools import cache

from rimcore.well.read.rule import WHERE, Where
from rimcore.well.read.stations import stations_of
from rimcore.well.read.walk import STANDINGS, Stop

#: drawing units that two marks keep between them, and the frame they stay in
APART, WIDE, HIGH, EDGE = 25.0, 300.0, 230.0, 13.0


@dataclass(frozen=True)
class Mark:
    """A station on a drawing: its number in the list, and where it stands, in drawing units."""

    code: str
    number: int
    x: float
    y: float


@dataclass(frozen=True)
class View:
    """One drawing of the wheel with the marks of the stations that are read in it."""

    where: Where
    marks: tuple[Mark, ...]


@dataclass(frozen=True)
class Group:
    """Stations that are read while the wheel stands in one way."""

    standing: str
    name: str
    views: tuple[View, ...]
    codes: tuple[str, ...]


@cache
def groups_of(corner: str) -> tuple[Group, ...]:
    """Every station of a corner, in the order in which one comes to them; numbers go on from group to group.

    >>> [group.standing for group in groups_of("RL")]
    ['straight', 'raised', 'hanging', 'off', 'car']
    """
    codes = [kind.code for kind in stations_of(corner)]
    by_standing = {name: [code for code in codes if Stop(corner, code).standing == name] for name in STANDINGS}
    found, number = [], 1
    for standing, here in by_standing.items():
        if here:
            found.append(Group(standing, STANDINGS[standing].name, _views(here, number), tuple(here)))
            number += len(here)
    return tuple(found)


def _views(codes: list[str], first: int) -> tuple[View, ...]:
    """One drawing a view that some station has, with its marks."""
    numbers = {code: first + k for k, code in enumerate(codes)}
    views = dict.fromkeys(WHERE[code].view for code in codes)
    return tuple(_view([code for code in codes if WHERE[code].view == view], numbers) for view in views)


def _view(codes: list[str], numbers: dict[str, int]) -> View:
    base = WHERE[codes[0]]
    plain = replace(
        base,
        rules=(),
        labels=(),
        thin=(),
        ghost=False,
        parts=tuple(dict.fromkeys(part for code in codes for part in WHERE[code].parts)),
    )
    placed: list[tuple[float, float]] = []
    for code in codes:
        x1, y1, x2, y2 = WHERE[code].rules[0]
        placed.append(free_place((x1 + x2) / 2, (y1 + y2) / 2, placed))
    return View(
        plain,
        tuple(Mark(code, numbers[code], round(x, 1), round(y, 1)) for code, (x, y) in zip(codes, placed, strict=True)),
    )


def free_place(x: float, y: float, taken: list[tuple[float, float]]) -> tuple[float, float]:
    """The place nearest to a point that keeps its distance from what is taken, within the frame.

    Looked for in growing rings.

    Source: none; a search in rings.

    Parameters
    ----------
    x : along the car [drawing units]
    y : across [drawing units]
    taken : places already used (n, 2)

    >>> free_place(100, 100, []), free_place(5, 100, [])
    ((100, 100), (13.0, 100))
    """
    x, y = min(max(x, EDGE), WIDE - EDGE), min(max(y, EDGE), HIGH - EDGE)
    for ring in range(24):
        for turn in range(max(1, 8 * min(ring, 3))):
            angle = 2 * math.pi * turn / max(1, 8 * min(ring, 3))
            at = x + ring * 9 * math.cos(angle), y + ring * 9 * math.sin(angle)
            inside = EDGE <= at[0] <= WIDE - EDGE and EDGE <= at[1] <= HIGH - EDGE
            if inside and all(math.dist(at, other) >= APART for other in taken):
                return at if ring else (x, y)
    return x, y
