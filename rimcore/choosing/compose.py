"""Whole builds: the best sets of options, one a slot, under limits; proven by branch and bound, checked in decimals.

Where the contract is silent: equal sets after money and kilograms are any of them; what a solver finds is checked in
exact decimals and shut out where it breaks a limit by less than the solver sees.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from decimal import Decimal

import numpy as np
from numpy.typing import NDArray
from scipy import optimize, sparse

Floats = NDArray[np.float64]
#: what an option brings, as the contract has it
FIGURES = ("money", "kg", "hours", "lead_days", "score")
#: figures of a set that are the largest of its options and no sum
PEAKS = ("lead_days", "shortfall")
ALL_FIGURES = (*FIGURES, "shortfall")
#: limits and leasts, in the order in which they are told
BOUNDS = ("money", "hours", "lead_days", "kg", "score", "kg_off")
#: what a solver may break a row by, of the row's size; seconds that it may take for one set
NEAR, SECONDS = 1e-7, 60.0
#: sets that break a limit by a hair and are shut out before it gives up
MOST_HAIRS = 200


@dataclass(frozen=True)
class Option:
    """One thing that a slot may hold."""

    id: str
    money: float = 0.0
    kg: float = 0.0
    hours: float = 0.0
    lead_days: float = 0.0
    score: float = 0.0
    #: what it lacks: of a set, the largest counts (0 or more)
    shortfall: float = 0.0
    #: options of a slot of one such name are one where sets are to differ; blank: itself alone
    alike: str = ""


@dataclass(frozen=True)
class Slot:
    """Exactly one option, or at the most one."""

    name: str
    options: tuple[Option, ...]
    required: bool = True


@dataclass(frozen=True)
class Wish:
    """What is looked for."""

    slots: tuple[Slot, ...]
    not_together: tuple[tuple[str, ...], ...] = ()
    #: where the first is chosen, one of the others is
    needs: tuple[tuple[str, tuple[str, ...]], ...] = ()
    #: sums at most; kg_off: no lighter than that
    limits: Mapping[str, float] = field(default_factory=dict)
    least: Mapping[str, float] = field(default_factory=dict)
    goal: str = "money"
    top: int = 1
    differ: int = 1


@dataclass(frozen=True)
class Found:
    """One set with what it comes to; None: the slot is empty."""

    chosen: tuple[tuple[str, str | None], ...]
    figures: Mapping[str, float]


@dataclass(frozen=True)
class Composed:
    """Sets, the best first, each the best that the ones before leave; proven: no better one is there."""

    sets: tuple[Found, ...]
    proven: bool


def compose(wish: Wish) -> Composed:
    """The best sets.

    Parameters
    ----------
    wish : slots with their options, what goes with what, limits, goal

    Source: mixed-integer linear programming by HiGHS (Huangfu and Hall, 2018), lexicographic by three solves.

    >>> wheels = Slot("wheels", (Option("a", 400, -4), Option("b", 300, 1)))
    >>> tyres = Slot("tyres", (Option("c", 200, 0), Option("d", 260, -2)))
    >>> found = compose(Wish((wheels, tyres), limits={"money": 660}, goal="kg"))
    >>> dict(found.sets[0].chosen), found.sets[0].figures["kg"], found.proven
    ({'wheels': 'a', 'tyres': 'd'}, -6.0, True)
    """
    model, sets, proven = _Model(wish), [], True
    for _ in range(wish.top):
        picked, sure = model.best()
        proven &= sure
        if picked is None:
            break
        sets.append(model.found(picked))
        model.differ_from(picked)
    return Composed(tuple(sets), proven)


def without(wish: Wish) -> tuple[tuple[str, float | None], ...]:
    """What the goal would be without each limit or least alone; None where still nothing is possible.

    Parameters
    ----------
    wish : as ``compose``

    Source: as ``compose``.

    >>> only = Slot("wheels", (Option("a", 400), Option("b", 300)))
    >>> without(Wish((only,), limits={"money": 100}))
    (('money', 300.0),)
    """
    answers = []
    for name in BOUNDS:
        if name not in wish.limits and name not in wish.least:
            continue
        limits = {key: value for key, value in wish.limits.items() if key != name}
        least = {key: value for key, value in wish.least.items() if key != name}
        other = Wish(wish.slots, wish.not_together, wish.needs, limits, least, wish.goal)
        found = _Model(other).goal_alone()
        answers.append((name, found))
    return tuple(answers)


def exactly(value: float) -> Decimal:
    """A number as it was written.

    >>> exactly(0.1) + exactly(0.2) == exactly(0.3)
    True
    """
    return Decimal(repr(float(value)))


class _Model:
    """Binaries, one an option; a last column is the largest of what is asked of a set where that is the goal."""

    def __init__(self, wish: Wish) -> None:
        self.wish = wish
        self.options = [(k, option) for k, slot in enumerate(wish.slots) for option in slot.options]
        self.count = len(self.options)
        self.place = {option.id: n for n, (_, option) in enumerate(self.options)}
        self.values = {
            name: np.array([getattr(option, name) for _, option in self.options], float) for name in ALL_FIGURES
        }
        self.exact = {name: [exactly(one) for one in self.values[name]] for name in ALL_FIGURES}
        self.peak = wish.goal if wish.goal in PEAKS else ""
        self.columns = self.count + bool(self.peak)
        self.rows: list[tuple[Mapping[int, float], float, float]] = []
        self.upper = np.ones(self.columns)
        if self.peak:
            self.upper[-1] = max(1.0, float(self.values[self.peak].max(initial=0.0)))
        self._build()

    def _build(self) -> None:
        wish = self.wish
        for k, slot in enumerate(wish.slots):
            mine = {n: 1.0 for n, (of, _) in enumerate(self.options) if of == k}
            self.rows.append((mine, 1.0 if slot.required else 0.0, 1.0))
            if self.peak:
                weights = {n: float(self.values[self.peak][n]) for n in mine}
                self.rows.append(({**weights, self.count: -1.0}, -np.inf, 0.0))
        for group in wish.not_together:
            places = {self.place[one]: 1.0 for one in group}
            self.rows.append((places, -np.inf, len(places) - 1.0))
        for one, others in wish.needs:
            weights = dict.fromkeys((self.place[other] for other in others), 1.0)
            if self.place[one] not in weights:
                self.rows.append(({**weights, self.place[one]: -1.0}, 0.0, np.inf))
        for name, most in wish.limits.items():
            if name == "lead_days":
                for n, lead in enumerate(self.exact[name]):
                    if lead > exactly(most):
                        self.upper[n] = 0.0
            elif name == "kg_off":
                weights = {n: -one for n, one in self._sum("kg").items()}
                self.rows.append((weights, -np.inf, most + _hair(most)))
            else:
                self.rows.append((self._sum(name), -np.inf, most + _hair(most)))
        for name, least in wish.least.items():
            sign = -1.0 if name == "kg_off" else 1.0
            weights = self._sum("kg" if name == "kg_off" else name)
            self.rows.append(({n: sign * one for n, one in weights.items()}, least - _hair(least), np.inf))

    def _sum(self, name: str) -> dict[int, float]:
        return {n: float(one) for n, one in enumerate(self.values[name]) if one != 0.0}

    def _cost(self, name: str) -> Floats:
        cost = np.zeros(self.columns)
        if name in PEAKS:
            cost[-1] = 1.0
        else:
            cost[: self.count] = -self.values[name] if name == "score" else self.values[name]
        return cost

    def best(self) -> tuple[list[int] | None, bool]:
        """The best that is left: by the goal, then least money, then least kilograms."""
        kept = len(self.rows)
        picked: list[int] | None = None
        sure = True
        settled: list[str] = []
        for name in dict.fromkeys((self.wish.goal, "money", "kg")):
            found, proven = self._solve(name)
            sure &= proven
            if found is None:
                break
            # a hair worse in what is settled is worse: the solver does not see it, decimals do
            kept_up = picked is None or all(self._worth(found, one) <= self._worth(picked, one) for one in settled)
            if kept_up and (picked is None or self._worth(found, name) <= self._worth(picked, name)):
                picked = found
            settled.append(name)
            self._hold(name, picked or [])
        del self.rows[kept:]
        return picked, sure

    def goal_alone(self) -> float | None:
        """The goal's best value; None where nothing is possible."""
        found, _ = self._solve(self.wish.goal)
        return None if found is None else self.found(found).figures[self.wish.goal]

    def _hold(self, name: str, picked: Sequence[int]) -> None:
        """What was found best stays so in what is asked next."""
        cost = self._cost(name)
        weights = {n: float(one) for n, one in enumerate(cost) if one != 0.0}
        value = float(self._worth(picked, name))
        self.rows.append((weights, -np.inf, value + _hair(value)))

    def _worth(self, picked: Sequence[int], name: str) -> Decimal:
        """A figure of a set, less is better."""
        exact = [self.exact[name][n] for n in picked]
        if name in PEAKS:
            return max(exact, default=Decimal(0))
        return -sum(exact, Decimal(0)) if name == "score" else sum(exact, Decimal(0))

    def _solve(self, name: str) -> tuple[list[int] | None, bool]:
        """The best set by one figure that holds every limit in decimals; is it proven?"""
        kept = len(self.rows)
        cost = self._cost(name)
        found: list[int] | None = None
        proven = True
        for _ in range(MOST_HAIRS):
            answer = self._ask(cost)
            if answer.x is None:
                proven &= answer.status == 2
                found = None
                break
            found = [n for n in range(self.count) if answer.x[n] > 0.5]
            proven &= answer.status == 0
            if self._holds(found):
                break
            self.rows.append((self._same(found), -np.inf, len(self.wish.slots) - 1.0 - self._shift(found)))
            found = None
        del self.rows[kept:]
        return found, proven

    def _ask(self, cost: Floats) -> optimize.OptimizeResult:
        low = np.array([row[1] for row in self.rows])
        high = np.array([row[2] for row in self.rows])
        places = [(k, n, one) for k, row in enumerate(self.rows) for n, one in row[0].items()]
        at, columns, values = zip(*places, strict=True) if places else ((), (), ())
        matrix = sparse.csr_array((values, (at, columns)), shape=(len(self.rows), self.columns))
        whole = np.ones(self.columns)
        if self.peak:
            whole[-1] = 0.0
        return optimize.milp(
            cost,
            integrality=whole,
            bounds=optimize.Bounds(np.zeros(self.columns), self.upper),
            constraints=optimize.LinearConstraint(matrix, low, high),
            options={"mip_rel_gap": 0.0, "time_limit": SECONDS},
        )

    def _holds(self, picked: Sequence[int]) -> bool:
        """Every limit and least in decimals."""
        sums = {name: sum((self.exact[name][n] for n in picked), Decimal(0)) for name in FIGURES}
        sums["lead_days"] = max((self.exact["lead_days"][n] for n in picked), default=Decimal(0))
        sums["kg_off"] = -sums["kg"]
        return all(sums[name] <= exactly(most) for name, most in self.wish.limits.items()) and all(
            sums[name] >= exactly(least) for name, least in self.wish.least.items()
        )

    def _same(self, picked: Sequence[int], alike: bool = False) -> dict[int, float]:
        """Slots in which a set is the same, less those that are empty in both (see ``_shift``)."""
        filled = {self.options[n][0] for n in picked}
        weights = dict.fromkeys(picked, 1.0)
        names = {(slot, one.alike) for slot, one in (self.options[n] for n in picked) if alike and one.alike}
        for n, (slot, one) in enumerate(self.options):
            if (slot, one.alike) in names:
                weights[n] = 1.0
            if slot not in filled:
                weights[n] = -1.0
        return weights

    def _shift(self, picked: Sequence[int]) -> float:
        """Slots that are empty in a set: each counts as the same while nothing of it is chosen."""
        return float(len(self.wish.slots) - len({self.options[n][0] for n in picked}))

    def differ_from(self, picked: Sequence[int]) -> None:
        """What is found later differs from this set in enough slots."""
        most = float(len(self.wish.slots) - self.wish.differ)
        self.rows.append((self._same(picked, alike=True), -np.inf, most - self._shift(picked)))

    def found(self, picked: Sequence[int]) -> Found:
        """A set with its figures."""
        of = {self.options[n][0]: self.options[n][1].id for n in picked}
        chosen = tuple((slot.name, of.get(k)) for k, slot in enumerate(self.wish.slots))
        figures = {name: float(sum((self.exact[name][n] for n in picked), Decimal(0))) for name in FIGURES}
        figures |= {name: float(max((self.exact[name][n] for n in picked), default=Decimal(0))) for name in PEAKS}
        return Found(chosen, figures)


def _hair(value: float) -> float:
    return NEAR * max(1.0, abs(value))
