"""Runs planned before they are driven: how many, in which order, what is held equal, and what they say at the end."""

from __future__ import annotations

import math
import random
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from typing import Literal

import numpy as np

from rimcore.proof.change import Asked, family_of, runs_for
from rimcore.proof.strip import step_of
from rimcore.proof.words import Verdict, verdict_of
from rimcore.quantities.errors import BadInput

Design = Literal["after", "swap", "pairs"]
#: how the runs are laid, in words
DESIGNS: Mapping[str, str] = {
    "swap": "changed to and fro on the day: A B B A, against drift",
    "pairs": "in pairs: each run before with one after on the same stretch",
    "after": "all before, then all after: what can't be changed back",
}
#: runs a side at the least and at the most
LEAST, MOST = 3, 60


@dataclass(frozen=True)
class Condition:
    """What is noted at a run beside its figure: its kind, limits in the core's unit, and the step of what differs."""

    code: str
    name: str
    kind: str
    low: float
    high: float
    #: a range under this is the same (common practice, from memory)
    same: float


CONDITIONS: tuple[Condition, ...] = (
    Condition("air_c", "Air temperature", "temperature", -40.0, 60.0, 2.0),
    Condition("air_kpa", "Air pressure", "pressure", 50.0, 115.0, 0.3),
    Condition("fuel_l", "Fuel in the tank", "volume", 0.0, 300.0, 3.0),
    Condition("tyre_kpa", "Tyre pressure", "pressure", 30.0, 700.0, 5.0),
    Condition("wind_kmh", "Wind along the road", "speed", -150.0, 150.0, 4.0),
    Condition("tyre_runs", "Runs on these tyres", "", 0.0, 10_000.0, 3.0),
)
BY_CODE = {one.code: one for one in CONDITIONS}
#: what is held equal on both sides (common practice)
HOLD = (
    "Same place, same direction, or both ways each time",
    "Same driver, same load, nobody else in the car",
    "Fuel within a few litres",
    "Tyres warmed the same way, pressure set before the first run",
    "Wind light; stop when it turns",
    "Nothing else changed on the car",
)


@dataclass(frozen=True)
class Driven:
    """A run: its figure, its side (A before, B after), its running number, and what was noted at it."""

    value: float
    side: str
    number: int
    conditions: Mapping[str, float]


def runs_planned(useful: float | None, scatter: float | None, design: str) -> int | None:
    """Runs a side that show the smallest change worth having, at least three; None where more than are sensible.

    Parameters
    ----------
    useful : over 0, in the unit of the runs; None: nothing was said
    scatter : standard deviation of one run, over 0; None: not known
    design : ``after``, ``swap`` (the drift takes a degree of freedom) or ``pairs`` (a difference scatters √2 as much)

    Source: ``runs_for``.

    >>> runs_planned(1.0, 1.0, "after"), runs_planned(1.0, 0.2, "swap"), runs_planned(None, 1.0, "after")
    (17, 3, None)
    """
    if not useful or not scatter:
        return None
    paired = design == "pairs"
    found = runs_for(useful, scatter * (2.0**0.5 if paired else 1.0), paired, more=1 if design == "swap" else 0)
    return None if found is None or found > MOST else max(LEAST, found)


def order_of(runs: int, design: str, blind_seed: int | None = None) -> str:
    """Order of the runs, a letter each: A before, B after.

    Parameters
    ----------
    runs : a side, 1 to 60
    design : ``after``, ``swap`` or ``pairs``
    blind_seed : of a driver who is not to know: blocks and pairs are turned by lot

    Source: counterbalancing, e.g. Montgomery, Design and Analysis of Experiments, ch. 4.

    >>> order_of(3, "after"), order_of(4, "swap"), order_of(3, "pairs")
    ('AAABBB', 'ABBAABBA', 'ABBAAB')
    """
    if not 1 <= runs <= MOST:
        raise BadInput(f"is out of range; accepted: 1 to {MOST} a side", "runs")
    if design == "after":
        return "A" * runs + "B" * runs
    pairs = ["AB" if k % 2 == 0 else "BA" for k in range(runs)]
    if blind_seed is not None:
        lot = random.Random(blind_seed)
        blocks = [pairs[k : k + 2] for k in range(0, runs, 2)]
        pairs = [one for block in blocks for one in (block if lot.random() < 0.5 else [pair[::-1] for pair in block])]
    return "".join(pairs)


@dataclass(frozen=True)
class Different:
    """A condition on both sides: what is known of it, and what was done about it."""

    condition: Condition
    before: float | None
    after: float | None
    #: ``same``, ``corrected``, ``apart`` (only the line tells), ``left`` (too few runs to correct), ``unknown``
    what: str


def differences(runs: Sequence[Driven], noted: Sequence[str] = tuple(BY_CODE)) -> tuple[Different, ...]:
    """What was different besides the parts, condition by condition.

    Parameters
    ----------
    runs : of both sides
    noted : conditions that are looked at

    Source: none; a convention of this program. What is the same within its step is not corrected for; what was not
    noted at every run can't be; each correction takes a degree of freedom, and two are left at the least.

    >>> cold = [Driven(5.0, "A", k, {"air_c": 8.0 + k}) for k in range(3)]
    >>> warm = [Driven(5.2, "B", k + 3, {"air_c": 20.0 + k}) for k in range(3)]
    >>> [(one.condition.code, one.what) for one in differences(cold + warm, ("air_c", "fuel_l"))]
    [('air_c', 'apart'), ('fuel_l', 'unknown')]
    """
    found: list[Different] = []
    free = len(runs) - 2 - 2
    for code in noted:
        condition = BY_CODE[code]
        sides = [[one.conditions.get(code) for one in runs if one.side == side] for side in "AB"]
        known = [[value for value in side if value is not None] for side in sides]
        means = tuple(sum(side) / len(side) if side else None for side in known)
        if any(len(side) < len(every) or not side for side, every in zip(known, sides, strict=True)):
            found.append(Different(condition, means[0], means[1], "unknown"))
            continue
        everything = [*known[0], *known[1]]
        if max(everything) - min(everything) <= condition.same:
            what = "same"
        elif free < 1:
            what = "left"
        else:
            free -= 1
            apart = max(known[0]) < min(known[1]) or max(known[1]) < min(known[0])
            what = "apart" if apart else "corrected"
        found.append(Different(condition, means[0], means[1], what))
    return tuple(found)


def asked_of(
    runs: Sequence[Driven], design: str, better: str = "", useful: float | None = None
) -> tuple[Asked | None, tuple[Different, ...]]:
    """The comparison that planned runs come to, and what was different; None before both sides have a run.

    Pairs are compared as pairs while nothing else differs and each pair is whole; else, and to and fro, by least
    squares with the running number and what differs: a run that was driven again stands beside no other.

    Parameters
    ----------
    runs : in any order
    design : ``after``, ``swap`` or ``pairs``
    better : ``less``, ``more`` or blank
    useful : smallest change worth having, over 0

    Source: ``change_of``.

    >>> runs = [Driven(v, s, k, {}) for k, (v, s) in enumerate(zip((5.0, 4.8, 4.9, 5.1), "ABBA"))]
    >>> asked_of(runs, "swap")[0].design
    'drift'
    """
    ordered = sorted(runs, key=lambda one: one.number)
    before, after = ([one for one in ordered if one.side == side] for side in "AB")
    if not before or not after:
        return None, ()
    different = differences(ordered)
    used = [one.condition.code for one in different if one.what in ("corrected", "apart")]
    asked = Asked(
        tuple(one.value for one in before),
        tuple(one.value for one in after),
        covariates={
            BY_CODE[code].name.lower(): (
                tuple(one.conditions[code] for one in before),
                tuple(one.conditions[code] for one in after),
            )
            for code in used
        },
        better=better if better in ("less", "more") else "",
        useful=useful,
        resolution=step_of([one.value for one in ordered]),
    )
    if design == "pairs" and not used and _in_pairs(ordered):
        return replace(asked, design="paired"), different
    if design != "after" and len(ordered) >= 4:
        at = (tuple(float(one.number) for one in before), tuple(float(one.number) for one in after))
        return replace(asked, design="drift", before_at=at[0], after_at=at[1]), different
    return asked, different


def _in_pairs(ordered: Sequence[Driven]) -> bool:
    """Is every run beside its own other: numbers 1 and 2, 3 and 4, each pair with both sides?"""
    numbers = [one.number for one in ordered]
    first = numbers[0]
    whole = len(numbers) % 2 == 0 and numbers == list(range(first, first + len(numbers)))
    return whole and all({one.side for one in ordered[k : k + 2]} == {"A", "B"} for k in range(0, len(ordered), 2))


@dataclass(frozen=True)
class Progress:
    """How far planned runs are: the next one's number and side; how many are left of the plan's number."""

    done: int
    planned: int
    next_side: str

    @property
    def left(self) -> int:
        """Runs that are left."""
        return max(0, self.planned - self.done)

    @property
    def enough(self) -> bool:
        """All that were planned are driven: before that nothing is said, however lucky they look."""
        return self.left == 0


def progress_of(order: str, sides: Sequence[str]) -> Progress:
    """How far the runs are, and which side the next one is of: of the order, what is not driven yet.

    Parameters
    ----------
    order : as ``order_of`` gives it
    sides : of the runs that count, in the order they were driven

    Source: none; counted.

    >>> progress_of("ABBA", "AB")
    Progress(done=2, planned=4, next_side='B')
    """
    left = list(order)
    for side in sides:
        if side in left:
            left.remove(side)
    return Progress(len(order) - len(left), len(order), left[0] if left else "")


def claimed_together(asked: Sequence[tuple[Asked, str]]) -> tuple[tuple[Verdict, float | None, bool | None], ...]:
    """Several changes that are claimed of one change of the car: each verdict, with Holm's p and whether it stands.

    Parameters
    ----------
    asked : each with its unit

    Source: Holm (1979).

    >>> one = Asked((10.0, 10.2, 9.8), (9.0, 9.1, 8.9))
    >>> [stands for _, _, stands in claimed_together([(one, "s"), (one, "m")])]
    [True, True]
    """
    held = family_of([one for one, _ in asked])
    return tuple((verdict_of(one, unit), p, real) for (one, unit), (_, p, real) in zip(asked, held, strict=True))


def scatter(values: Sequence[float], step: float) -> float:
    """Standard deviation of one run, never under that of a figure rounded to the step in which it is read.

    Parameters
    ----------
    values : of one state, two or more
    step : of the reading, over 0

    Source: sample standard deviation; JCGM 100:2008, F.2.2.1 for the step.

    >>> round(scatter([10.0, 10.2, 9.8], 0.1), 3), round(scatter([10.0, 10.0], 0.1), 4)
    (0.2, 0.0289)
    """
    return max(float(np.std(np.asarray(values, dtype=float), ddof=1)), float(step / math.sqrt(12.0)))
