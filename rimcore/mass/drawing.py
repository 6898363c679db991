"""The car from above with its kilograms as areas at their places, and the whole mass on a line with goal and class
minimum.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np

from rimcore.mass.ledger import Goal, Totals, Weighed

#: plan view: where both axles and the wheels' middles lie [drawing units], and half a side of 1 kg
FRONT_Y, REAR_Y, LEFT_X, RIGHT_X, KG_SIDE = 92.0, 334.0, 96.0, 284.0, 9.0
#: smallest square that a thumb finds, and the frame in which squares stay
LEAST_SIDE, EDGE, WIDE, HIGH, GAP = 15.0, 8.0, 380.0, 430.0, 2.0
#: the mass line: its ends on the sheet
LINE_X0, LINE_X1 = 60.0, 660.0


@dataclass(frozen=True)
class Square:
    """An item on the plan: its middle, side, what went back (solid) inside it, and its state."""

    label: str
    name: str
    x: float
    y: float
    side: float
    back: float
    state: str
    guarded: bool

    @property
    def path(self) -> str:
        """Its outline."""
        return _box(self.x - self.side / 2, self.y - self.side / 2, self.side)

    @property
    def back_path(self) -> str:
        """What went back, in its upper left corner; empty where nothing did, or the item is in the car."""
        return (
            _box(self.x - self.side / 2, self.y - self.side / 2, self.back) if self.back and self.state == "out" else ""
        )


def _box(x: float, y: float, side: float) -> str:
    return f"M{x:.1f} {y:.1f}h{side:.1f}v{side:.1f}h-{side:.1f}z"


def side_of(kg: float) -> float:
    """Side of a square whose area is the mass [drawing units].

    >>> side_of(4.0) / side_of(1.0)
    2.0
    """
    return KG_SIDE * math.sqrt(max(kg, 0.0))


def plan(items: Sequence[Weighed], wheelbase_mm: float, track_mm: float) -> tuple[Square, ...]:
    """Squares of the items whose place is known, the largest first; one that would lie on another stands aside of it.

    >>> found = plan([Weighed("A1", "spare", 16.0, "out", place_mm=(2400.0, 0.0))], 2400.0, 1500.0)
    >>> found[0].x, found[0].y, found[0].side
    (190.0, 334.0, 36.0)
    """
    found = []
    for one in items:
        if one.place_mm is None or one.kg is None:
            continue
        behind, right = one.place_mm
        x = (LEFT_X + RIGHT_X) / 2 + right / track_mm * (RIGHT_X - LEFT_X)
        y = FRONT_Y + behind / wheelbase_mm * (REAR_Y - FRONT_Y)
        side = max(LEAST_SIDE, side_of(one.kg))
        x, y = (min(max(at, EDGE + side / 2), size - EDGE - side / 2) for at, size in ((x, WIDE), (y, HIGH)))
        found.append(
            Square(
                label=one.label,
                name=one.name,
                x=round(x, 1),
                y=round(y, 1),
                side=round(side, 1),
                back=round(side_of(one.back_kg), 1),
                state=one.state,
                guarded=bool(one.guarded),
            )
        )
    return _apart(sorted(found, key=lambda square: -square.side))


def _apart(squares: Sequence[Square]) -> tuple[Square, ...]:
    """Each at its place, or as little as can be to its left or right where another stands there already."""
    placed: list[Square] = []
    x, y, side = np.empty((3, len(squares)))
    for k, square in enumerate(squares):
        apart = (square.side + side[:k]) / 2 + GAP
        near = np.abs(square.y - y[:k]) < apart
        low, high = x[:k][near] - apart[near], x[:k][near] + apart[near]
        tries = np.r_[square.x, low, high]
        edge = EDGE + square.side / 2
        free = (
            (tries >= edge)
            & (tries <= WIDE - edge)
            & ~((tries[:, None] > low + 1e-9) & (tries[:, None] < high - 1e-9)).any(1)
        )
        at = float(tries[free][np.argmin(np.abs(tries[free] - square.x))]) if free.any() else square.x
        x[k], y[k], side[k] = at, square.y, square.side
        placed.append(replace(square, x=round(at, 1)))
    return tuple(placed)


@dataclass(frozen=True)
class Mark:
    """A mass on the line: its name, where it stands, its ink, and the row its words go to so that none lies on another."""

    name: str
    kg: float
    x: float
    ink: str
    row: int

    @property
    def foot(self) -> float:
        """Where its stroke ends and its words begin, down the sheet."""
        return 30.0 + 38.0 * self.row


def mass_line(before_kg: float, now_kg: float, planned: Totals, goal: Goal) -> tuple[Mark, ...]:
    """The car before, now and with what is planned, against the goal of the phase and the class minimum.

    Lighter to the right.

    >>> found = mass_line(900.0, 880.0, Totals(1, 10.0, 0.0, 0.0, 0, 0, 0.0), Goal(40.0, 850.0))
    >>> [(one.name, one.kg) for one in found]
    [('before', 900.0), ('now', 880.0), ('as planned', 870.0), ('goal', 860.0), ('class minimum', 850.0)]
    """
    named = [("before", before_kg, "present"), ("now", now_kg, "candidate")]
    if planned.count:
        named.append(("as planned", now_kg - planned.net_kg, "candidate"))
    if goal.phase_kg is not None:
        named.append(("goal", before_kg - goal.phase_kg, "dim"))
    if goal.minimum_kg is not None:
        named.append(("class minimum", goal.minimum_kg, "dim"))
    low, high = min(kg for _, kg, _ in named), max(kg for _, kg, _ in named)
    span = max(high - low, 1.0)
    found: list[Mark] = []
    for name, kg, ink in named:
        x = round(LINE_X0 + (high - kg) / span * (LINE_X1 - LINE_X0), 1)
        taken = {one.row for one in found if abs(one.x - x) < 120.0}
        found.append(Mark(name, kg, x, ink, next(row for row in range(len(named)) if row not in taken)))
    return tuple(found)


@dataclass(frozen=True)
class Frontier:
    """Undominated pairs of money and kilograms as a staircase, each a place to click."""

    path: str
    dots: tuple[tuple[float, float, float, float], ...]
    ticks_x: tuple[tuple[float, float], ...]
    ticks_y: tuple[tuple[float, float], ...]
    width: float = 420.0
    height: float = 240.0


def frontier_of(pairs: Sequence[tuple[float, float]]) -> Frontier | None:
    """The frontier as a drawing: x money, y kilograms; None with fewer than two pairs.

    >>> frontier_of([(10.0, 0.0), (25.0, 50.0)]).dots
    ((58.0, 138.0, 10.0, 0.0), (400.0, 30.0, 25.0, 50.0))
    """
    if len(pairs) < 2:
        return None
    x0, x1, y0, y1 = 58.0, 400.0, 210.0, 30.0
    money, most = [one for _, one in pairs], max(kg for kg, _ in pairs)
    low, high = min(money), max(money)

    def x(value: float) -> float:
        return round(x0 + (value - low) / max(high - low, 1e-9) * (x1 - x0), 1)

    def y(value: float) -> float:
        return round(y0 - value / max(most, 1e-9) * (y0 - y1), 1)

    dots = tuple((x(paid), y(kg), kg, paid) for kg, paid in pairs)
    path = f"M{dots[0][0]} {dots[0][1]}" + "".join(f"H{one[0]}V{one[1]}" for one in dots[1:])
    return Frontier(path, dots, ((x0, low), (x1, high)), ((y0, 0.0), (y1, most)))
