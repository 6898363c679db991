"""Which items to take out: exactly, by integer programming, with what an item needs and what it may not go with.

Longer than other files: it is one program, with the proof that it is whole.
"""

from __future__ import annotations

import time
from collections.abc import Sequence
from dataclasses import dataclass, field

import numpy as np
from numpy.typing import NDArray

from rimcore.quantities.errors import BadInput

Array = NDArray[np.float64]

#: figures are compared to this
SAME = 1e-6
#: pairs of the frontier that are all given, and sums at which it is looked at beyond that
MOST_PAIRS = 40
#: items up to which the frontier is worked out unasked
FRONTIER_ITEMS = 60
#: slack of a sum of whole figures
WHOLE = 0.5
#: longest that is spent on which of equal sets is taken [s]
EQUALS_S = 1.5
#: answers of the solver that break a row when rounded, and are shut out one by one, before the search is given up
MOST_SHUT_OUT = 400
#: what can be minimised with a goal
LEAST = ("money", "hours", "items")


@dataclass(frozen=True)
class Item:
    """Something that can come out: kilograms, what goes back in its place, money (minus where it is sold), hours."""

    name: str
    kg: float
    put_back_kg: float = 0.0
    money: float = 0.0
    hours: float = 0.0
    reversible: bool = True
    allowed: bool = True
    needs: tuple[str, ...] = ()
    not_with: tuple[str, ...] = ()

    @property
    def net_kg(self) -> float:
        """What the car loses."""
        return self.kg - self.put_back_kg


@dataclass(frozen=True)
class Limits:
    """Most money and hours; None is as much as it takes."""

    money: float | None = None
    hours: float | None = None
    reversible_only: bool = False


@dataclass(frozen=True)
class Lightened:
    """The best set in the list's order, its sums, and whether that is proven."""

    chosen: tuple[str, ...]
    kg: float
    money: float
    hours: float
    reached: bool | None
    best_possible_kg: float
    proven: bool
    bound_kg: float | None = None
    frontier: tuple[tuple[float, float], ...] | None = field(default=None)
    warnings: tuple[str, ...] = ()


@dataclass(frozen=True, eq=False)
class _Figures:
    """Figures of the items in a unit in which they are whole where there is one, so that sums are compared exactly.

    ``near`` is how far a sum may lie off and count as the same, in that unit.
    """

    values: Array = field(repr=False)
    factor: float
    near: float

    def sum(self, chosen: Array) -> float:
        """Of a set, in the unit of the figures."""
        return float(self.values @ chosen)

    def said(self, chosen: Array) -> float:
        """Of a set, as it was given."""
        return self.sum(chosen) / self.factor + 0.0

    def at_most(self, limit: float) -> float:
        """A limit in the unit of the figures, with its slack."""
        scaled = limit * self.factor
        return np.floor(scaled + SAME) + self.near if self.near == WHOLE else scaled + self.near

    def at_least(self, goal: float) -> float:
        """A goal in the unit of the figures, with its slack."""
        scaled = goal * self.factor
        return np.ceil(scaled - SAME) - self.near if self.near == WHOLE else scaled - self.near


def _figures(values: Sequence[float]) -> _Figures:
    """Whole to six decimals, else as they are."""
    given = np.array(values, dtype=float)
    for places in range(7):
        whole = given * 10.0**places
        if (np.abs(whole - np.round(whole)) < 1e-7).all():
            return _Figures(np.round(whole), 10.0**places, WHOLE)
    return _Figures(given, 1.0, SAME / 2)


#: how well the solver's 0 and 1 are 0 and 1
_SOLVER = 1e-6


class _OutOfTime(Exception):
    def __init__(self, bound: float) -> None:
        self.bound = bound


class _Program:
    """The items as rows of a program in 0 and 1; each question adds rows to it."""

    def __init__(self, items: Sequence[Item], limits: Limits, until: float) -> None:
        self.items, self.until = items, until
        self.net, self.money, self.hours = (
            _figures([getattr(one, name) for one in items]) for name in ("net_kg", "money", "hours")
        )
        self.lost = _Figures(-self.net.values, self.net.factor, self.net.near)
        self.count = _figures([1.0] * len(items))
        self.most = np.array([float(one.allowed and (one.reversible or not limits.reversible_only)) for one in items])
        self.rows: list[tuple[Array, float, float]] = []
        place = {one.name: k for k, one in enumerate(items)}
        for k, one in enumerate(items):
            for other in one.needs:
                self.rows.append((self._row({k: 1.0, place[other]: -1.0}), -np.inf, 0.0))
            for other in one.not_with:
                self.rows.append((self._row({k: 1.0, place[other]: 1.0}), -np.inf, 1.0))
        for values, most in ((self.money, limits.money), (self.hours, limits.hours)):
            if most is not None:
                self.rows.append((values.values, -np.inf, values.at_most(most)))

    def _row(self, entries: dict[int, float]) -> Array:
        row = np.zeros(len(self.items))
        for k, value in entries.items():
            row[k] += value
        return row

    def solve(
        self, cost: Array, more: Sequence[tuple[Array, float, float]] = (), held: Array | None = None
    ) -> Array | None:
        """Items that make the cost least (n,), 0 or 1; None where nothing holds to the rows.

        The solver's 0 and 1 are good to a millionth, which is more than a cent of a large sum: what it answers is
        rounded and
        held against every row, and a set that breaks one is shut out before it is asked again. Where the cost is in
        whole
        figures, a set cheaper by one of them is looked for until there is none.

        Raises
        ------
        _OutOfTime : with the bound so far
        """
        rows = [*self.rows, *more]
        whole = bool((cost == np.round(cost)).all())
        best: Array | None = None
        for _ in range(MOST_SHUT_OUT):
            found = self._ask(cost, rows, held)
            if found is None:
                return best
            broken = next((row for row in rows if not row[1] <= float(row[0] @ found) <= row[2]), None)
            if broken is not None or (held is not None and (found < held).any()):
                # one more row asks for any other set
                rows = [*rows, (np.where(found > 0.5, -1.0, 1.0), 1.0 - float(found.sum()), np.inf)]
                continue
            if best is not None and float(cost @ found) >= float(cost @ best):
                return best
            best = found
            # so small a sum is told apart by the solver itself
            if not whole or float(np.abs(cost).sum()) * _SOLVER < WHOLE / 2:
                return best
            rows = [*rows, (cost, -np.inf, float(cost @ best) - WHOLE)]
        raise _OutOfTime(-np.inf)

    def _ask(self, cost: Array, rows: Sequence[tuple[Array, float, float]], held: Array | None) -> Array | None:
        """One question to the solver, its answer rounded."""
        from scipy.optimize import Bounds, LinearConstraint, milp

        left = self.until - time.monotonic()
        if left <= 0:
            raise _OutOfTime(-np.inf)
        limits = (
            LinearConstraint(
                np.array([row for row, _, _ in rows]), [low for _, low, _ in rows], [high for _, _, high in rows]
            )
            if rows
            else ()
        )
        low = np.zeros(len(cost)) if held is None else held
        found = milp(
            cost,
            integrality=np.ones(len(cost)),
            bounds=Bounds(low, self.most),
            constraints=limits,
            options={"time_limit": max(0.05, left), "mip_rel_gap": 0.0},
        )
        if found.status == 2:
            return None
        if found.status != 0 or found.x is None:
            bound = found.mip_dual_bound
            raise _OutOfTime(float(bound) if bound is not None else -np.inf)
        return np.asarray(np.round(found.x))

    def settled(
        self, costs: Sequence[_Figures], more: Sequence[tuple[Array, float, float]] = (), best: Array | None = None
    ) -> Array | None:
        """The first cost least, then the next among those, and so on; last, earlier items of the list.

        ``best`` is a set that is known to make the first cost least. What follows it only decides between equals and
        gets little time.

        Raises
        ------
        _OutOfTime : before the first cost was settled
        """
        rows = list(more)
        best = self.solve(costs[0].values, rows) if best is None else best
        if best is None:
            return None
        whole, self.until = self.until, min(self.until, time.monotonic() + EQUALS_S)
        try:
            for place, cost in enumerate(costs):
                if place:
                    found = self.solve(cost.values, rows)
                    best = best if found is None else found
                rows.append((cost.values, -np.inf, cost.sum(best) + cost.near))
            return self._earliest(best, rows)
        except _OutOfTime:
            return best
        finally:
            self.until = whole

    def _earliest(self, best: Array, rows: Sequence[tuple[Array, float, float]]) -> Array:
        """Among equal sets the one with the earliest items; as far as the time goes."""
        held = np.zeros(len(best))
        try:
            # One more row asks for any other set; where there is none, this one is the earliest.
            other = np.where(best > 0.5, -1.0, 1.0)
            if self.solve(np.zeros(len(best)), [*rows, (other, 1.0 - float(best.sum()), np.inf)]) is None:
                return best
            for k in range(len(best)):
                if not best[k] and self.most[k]:
                    tried = held.copy()
                    tried[k] = 1.0
                    found = self.solve(np.zeros(len(best)), rows, tried)
                    best = best if found is None else found
                held[k] = best[k]
                if np.array_equal(held, best):
                    break
        except _OutOfTime:
            return best
        return best


def lighten(
    items: Sequence[Item],
    limits: Limits,
    goal_kg: float | None = None,
    least: str | None = None,
    frontier: bool | None = None,
    time_limit_s: float = 5.0,
) -> Lightened:
    """The best set: with ``least`` the cheapest that reaches the goal, else the heaviest that the limits allow.

    Ties: more kg, less money, fewer hours, fewer items, earlier in the list. A goal out of reach gives the cheapest set
    of the most kg.

    Source: 0-1 knapsack with precedence, by mixed-integer programming (HiGHS).

    Parameters
    ----------
    items : of the list, with kg, money, hours
    limits : money, hours and kg that may not be passed
    goal_kg : to be reached, 0 or more; None without [kg]
    least : ``money``, ``hours`` or ``items``, what is to be least at the goal; None for the heaviest set
    frontier : whether the whole trade-off is wanted; None leaves it to the size
    time_limit_s : after which the best so far is given, over 0 [s]

    Raises
    ------
    BadInput : an item twice, an unknown or own name in what it needs or may not go with, a limit below 0

    Examples
    --------
    >>> items = [Item("seat", 14.0, money=-40.0), Item("spare", 11.0), Item("glass", 9.0, 4.0, money=220.0)]
    >>> lighten(items, Limits(money=0.0)).chosen, lighten(items, Limits(), 12.0, "items").chosen
    (('seat', 'spare'), ('seat',))
    """
    _named(items)
    for name, limit in (("money", limits.money), ("hours", limits.hours)):
        if limit is not None and limit < 0:
            raise BadInput("is below 0; accepted: 0 and more", f"limits.{name}")
    program = _Program(items, limits, time.monotonic() + time_limit_s)
    kg, money, hours, count = program.lost, program.money, program.hours, program.count
    ties = [kg, money, hours, count]
    try:
        top = program.solve(kg.values)
    except _OutOfTime as late:
        return _late(items, -late.bound / kg.factor)
    best_kg = program.net.said(top) if top is not None else 0.0
    chosen, proven, bound = top, True, None
    try:
        if least is not None and goal_kg is not None and best_kg >= goal_kg - SAME:
            first = {"money": money, "hours": hours, "items": count}[least]
            chosen = program.settled([first, *ties], [(program.net.values, program.net.at_least(goal_kg), np.inf)])
        else:
            chosen = program.settled(ties, (), top)
    except _OutOfTime:
        proven, bound = False, best_kg
    pairs = _frontier(program, frontier, len(items))
    if chosen is None:
        chosen = np.zeros(len(items))
    reached = None if goal_kg is None else program.net.said(chosen) >= goal_kg - SAME
    names = tuple(one.name for one, out in zip(items, chosen, strict=True) if out)
    kg_out, paid, worked = (values.said(chosen) for values in (program.net, money, hours))
    steps, warnings = pairs
    return Lightened(
        chosen=names,
        kg=kg_out,
        money=paid,
        hours=worked,
        reached=reached,
        best_possible_kg=best_kg + 0.0,
        proven=proven,
        bound_kg=bound,
        frontier=steps,
        warnings=warnings,
    )


def _late(items: Sequence[Item], bound: float) -> Lightened:
    """Out of time before anything was proven: nothing chosen, and what could still be."""
    most = min(bound, sum(max(0.0, one.net_kg) for one in items))
    return Lightened(
        chosen=(),
        kg=0.0,
        money=0.0,
        hours=0.0,
        reached=None,
        best_possible_kg=0.0,
        proven=False,
        bound_kg=most,
        frontier=None,
        warnings=("Out of time; nothing is proven.",),
    )


def _named(items: Sequence[Item]) -> None:
    names = [one.name for one in items]
    for place, one in enumerate(items):
        if names.index(one.name) != place:
            raise BadInput(f"“{one.name}” stands there twice; accepted: every name once", f"items.{place}.name")
        for kind in ("needs", "not_with"):
            for row, other in enumerate(getattr(one, kind)):
                if other == one.name or other not in names:
                    what = "is the item itself" if other == one.name else "is no item of the list"
                    raise BadInput(f"“{other}” {what}; accepted: another item's name", f"items.{place}.{kind}.{row}")


def _frontier(
    program: _Program, asked: bool | None, count: int
) -> tuple[tuple[tuple[float, float], ...] | None, tuple[str, ...]]:
    """Undominated pairs of kg and money, money rising; and what keeps it from being whole, in words."""
    if asked is False or (asked is None and count > FRONTIER_ITEMS):
        return None, ()
    try:
        pairs = _all_pairs(program)
        return (tuple(pairs) if pairs is not None else tuple(_at_sums(program))), ()
    except _OutOfTime:
        return None, ("Ended early: the frontier was not finished in time.",)


def _pair(program: _Program, more: Sequence[tuple[Array, float, float]]) -> Array | None:
    """The set of most kg under some rows, and of those the one of least money."""
    net = program.net
    top = program.solve(program.lost.values, more)
    if top is None:
        return None
    return program.solve(program.money.values, [*more, (net.values, net.sum(top) - net.near, np.inf)])


def _told(program: _Program, chosen: Array) -> tuple[float, float]:
    return program.net.said(chosen), program.money.said(chosen)


def _all_pairs(program: _Program) -> list[tuple[float, float]] | None:
    """From the most kg down, each with less money; None beyond forty."""
    found: list[tuple[float, float]] = []
    rows: list[tuple[Array, float, float]] = []
    money = program.money
    while (chosen := _pair(program, rows)) is not None:
        pair = _told(program, chosen)
        if not found or pair[0] < found[-1][0] - SAME:
            found.append(pair)
        if len(found) > MOST_PAIRS:
            return None
        rows = [(money.values, -np.inf, money.sum(chosen) - max(money.near, 4 * SAME))]
    return found[::-1]


def _at_sums(program: _Program) -> list[tuple[float, float]]:
    """The exact best for forty even sums from the least money to that of the most kg."""
    money = program.money
    cheapest, dearest = program.solve(money.values), _pair(program, [])
    if cheapest is None or dearest is None:
        return []
    found: list[tuple[float, float]] = []
    for most in np.linspace(money.sum(cheapest), money.sum(dearest), MOST_PAIRS):
        chosen = _pair(program, [(money.values, -np.inf, float(most) + min(money.near, 1e-6 * money.factor))])
        if chosen is not None and (not found or _told(program, chosen)[0] > found[-1][0] + SAME):
            found.append(_told(program, chosen))
    return found
