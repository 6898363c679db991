"""What is drawn at random for a plan: hours, leads, wrong parts, weather."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from zlib import crc32

import numpy as np
from numpy.typing import NDArray

from rimcore.planning.network import HORIZON, LATEST, Calendar, Days, PlanPart, Task, Three

Floats = NDArray[np.float64]
#: hours of a task are no more than this, whatever is drawn [h]
MOST_HOURS = 1e9
#: normal quantile of a two-sided 95 %
Z_95 = 1.959963984540054


@dataclass(frozen=True)
class OwnFactor:
    """What a person's hours are worth against what is written; ``df`` None: normal, ``sigma_task`` None: PERT."""

    median: float = 1.0
    sigma_common: float = 0.0
    df: float | None = None
    sigma_task: float | None = None


@dataclass(frozen=True)
class Draws:
    """All draws of a plan, a row for every task and part: hours wanted, days away (t, n), whole leads (p, n); wet days (d, n)."""

    wanted: Floats
    away: Days
    leads: Days
    wet: NDArray[np.bool_] | None


def pert(three: Three, count: int, rng: np.random.Generator) -> Floats:
    """Draws between low and high about the likely value.

    Parameters
    ----------
    three : low ≤ likely ≤ high, one unit
    count : draws
    rng : source of them

    Source: Malcolm, Roseboom, Clark and Fazar (1959); a + (b − a) Beta(1 + 4(m − a)/(b − a), 1 + 4(b − m)/(b − a)).

    >>> drawn = pert((1.0, 2.0, 9.0), 20_000, np.random.default_rng(1))
    >>> bool(abs(drawn.mean() - (1 + 4 * 2 + 9) / 6) < 0.05)
    True
    """
    low, likely, high = three
    wide = high - low
    if wide <= 0:
        return np.full(count, low)
    return low + wide * rng.beta(1 + 4 * (likely - low) / wide, 1 + 4 * (high - likely) / wide, count)


def whole(days: Floats) -> Days:
    """Days rounded up to whole ones.

    >>> whole(np.array([0.0, 2.0, 2.1])).tolist()
    [0, 2, 3]
    """
    found: Days = np.minimum(np.ceil(days - 1e-9), LATEST).astype(np.int16)
    return found


def likely_case(tasks: Sequence[Task], parts: Sequence[PlanPart], median: float) -> Draws:
    """The one case of likely hours × median, likely leads, no part wrong, every day dry."""
    wanted = [0.0 if one.hours is None else max(0.0, one.hours[1] * median - one.worked_hours) for one in tasks]
    away = [0.0 if one.away_days is None else one.away_days[1] for one in tasks]
    leads = [one.lead_days[1] for one in parts]
    return Draws(
        np.array(wanted).reshape(len(tasks), 1),
        whole(np.array(away).reshape(len(tasks), 1)),
        whole(np.array(leads).reshape(len(parts), 1)),
        None,
    )


def drawn(
    tasks: Sequence[Task], parts: Sequence[PlanPart], calendar: Calendar, factor: OwnFactor, count: int, seed: int
) -> Draws:
    """Draw a plan ``count`` times.

    Every task and every part has a stream of its own, by its id: what is changed of one leaves the draws of all others,
    so that two plans differ by what they differ in and not by luck.

    Parameters
    ----------
    tasks, parts : as said
    calendar : for the share of wet days [%]
    factor : of the person's hours
    count : draws
    seed : of all of them

    Source: PERT as ``pert``; a factor that all tasks of a draw share, lognormal or of Student's t. Common random numbers:
    Law, Simulation Modeling and Analysis, § 11.2.

    >>> few = drawn([Task("a", (1, 2, 3))], [], Calendar((1,) * 7), OwnFactor(), 5, 1).wanted
    >>> more = drawn([Task("b", (1, 2, 9)), Task("a", (1, 2, 3))], [], Calendar((1,) * 7), OwnFactor(), 5, 1).wanted
    >>> bool((few[0] == more[1]).all())
    True
    """
    common = _common(factor, count, _stream(seed, "factor"))
    wanted, away = np.zeros((len(tasks), count)), np.zeros((len(tasks), count), np.int16)
    for row, task in enumerate(tasks):
        if task.away_days is not None:
            away[row] = whole(pert(task.away_days, count, _stream(seed, "task", task.id)))
        elif task.hours is not None:
            wanted[row] = _hours(task.hours, factor, common, _stream(seed, "task", task.id)) - task.worked_hours
    leads = np.zeros((len(parts), count), np.int16)
    for row, part in enumerate(parts):
        leads[row] = _leads(part, count, seed)
    wet = None
    if calendar.wet_pct > 0 and any(task.dry for task in tasks):
        rain = _stream(seed, "rain")
        wet = rain.random((HORIZON + 1, count), dtype=np.float32) < calendar.wet_pct / 100.0
    return Draws(np.clip(wanted, 0.0, MOST_HOURS), away, leads, wet)


def _stream(seed: int, what: str, name: str = "") -> np.random.Generator:
    """The source of what is drawn of one thing."""
    return np.random.default_rng(np.random.SeedSequence(seed, spawn_key=(crc32(what.encode()), crc32(name.encode()))))


def _leads(part: PlanPart, count: int, seed: int) -> Days:
    """Whole days; a wrong part is waited for twice."""
    days = pert(part.lead_days, count, _stream(seed, "lead", part.id))
    if part.wrong_pct > 0:
        luck = _stream(seed, "wrong", part.id)
        wrong = luck.random(count) < part.wrong_pct / 100.0
        days = days + np.where(wrong, pert(part.lead_days, count, luck), 0.0)
    return whole(days)


def _common(factor: OwnFactor, count: int, rng: np.random.Generator) -> Floats:
    """The factor of each draw; what is too large for a number is the largest."""
    spread = rng.standard_normal(count) if factor.df is None else rng.standard_t(factor.df, count)
    found: Floats = np.exp(np.clip(math.log(factor.median) + factor.sigma_common * spread, -700.0, 700.0))
    return found


def _hours(three: Three, factor: OwnFactor, common: Floats, rng: np.random.Generator) -> Floats:
    with np.errstate(over="ignore", invalid="ignore"):
        if factor.sigma_task is None:
            return pert(three, len(common), rng) * common
        own = np.exp(np.clip(factor.sigma_task * rng.standard_normal(len(common)), -700.0, 700.0))
        return np.nan_to_num(three[1] * common * own, nan=0.0, posinf=MOST_HOURS)


def wilson_half(share: float, count: int) -> float:
    """Half of Wilson's 95 % interval of a share.

    Parameters
    ----------
    share : 0 to 1
    count : draws, over 0

    Source: Wilson (1927).

    >>> round(wilson_half(0.5, 4000), 5)
    0.01549
    """
    square = Z_95**2 / count
    return float(Z_95 / (1 + square) * math.sqrt(share * (1 - share) / count + square / (4 * count)))
