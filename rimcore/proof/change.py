"""Is a change real, and is it worth anything: unpaired, paired, against drift and covariates; several held as one family.

Where the contract is silent: ``worth`` counts an end that meets ``useful`` exactly as beyond it; ``runs_for`` takes the
variances as the interval does; of a family each is real at its own confidence.
"""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field, replace
from typing import Any

import numpy as np
from numpy.typing import NDArray
from scipy import special

Floats = NDArray[np.float64]
#: runs that are asked for at the most, and the power that they are to have
MOST_RUNS, POWER = 500, 0.8
#: modified z-score beyond which a run is odd, from so many runs on (Iglewicz and Hoaglin, 1993)
ODD, ODD_FROM = 3.5, 5
#: share of the figures' size under which scatter is none
STILL = 1e-9


@dataclass(frozen=True)
class Asked:
    """What is compared, and how. ``covariates`` are name -> (before, after)."""

    before: tuple[float, ...]
    after: tuple[float, ...]
    design: str = "unpaired"
    before_at: tuple[float, ...] = ()
    after_at: tuple[float, ...] = ()
    covariates: Mapping[str, tuple[tuple[float, ...], tuple[float, ...]]] = field(default_factory=dict)
    confidence: float = 0.95
    better: str = ""
    useful: float | None = None
    resolution: float | None = None


@dataclass(frozen=True)
class Change:
    """What the runs say; None where they can't."""

    change: float | None
    low: float | None
    high: float | None
    se: float | None
    df: float | None
    p: float | None
    real: bool | None
    mean_before: float
    mean_after: float
    change_pct: float | None
    worth: str | None = None
    shown_from: float | None = None
    runs_for: int | None = None
    odd: tuple[tuple[str, int], ...] = ()
    not_told_apart: tuple[str, ...] = ()
    warnings: tuple[str, ...] = ()


def change_of(asked: Asked) -> Change:
    """Change, interval, whether it is real and worth having, how many runs would show it, which runs are odd.

    Parameters
    ----------
    asked : runs of both sides, at least one each, in one unit

    Source: Welch (1947); t of the differences; ordinary least squares; power by the noncentral t (Cohen, 1988, ch. 2).

    >>> found = change_of(Asked((10.0, 10.2, 9.8), (9.0, 9.1, 8.9)))
    >>> found.real, round(found.low, 3), found.runs_for
    (True, -1.416, 2)
    """
    before, after = np.asarray(asked.before, float), np.asarray(asked.after, float)
    means = float(before.mean()), float(after.mean())
    regressed = asked.design == "drift" or bool(asked.covariates)
    if regressed:
        found = _regressed(asked, means)
    elif asked.design == "paired":
        found = _paired(after - before, asked.confidence, means)
    else:
        found = _unpaired(before, after, asked, means)
    apart = _not_apart(asked) if regressed else ()
    warnings = found.warnings
    if apart:
        warnings = (
            *warnings,
            f"before and after do not overlap in {', '.join(apart)}: the answer rests on the line alone",
        )
    return replace(
        found,
        worth=_worth(asked, found),
        runs_for=None if regressed else _runs_for(asked, before, after, found.change),
        odd=_odd(asked, before, after),
        not_told_apart=apart,
        warnings=warnings,
    )


def _bare(change: float | None, means: tuple[float, float], warnings: tuple[str, ...] = ()) -> Change:
    """A change without any interval."""
    return Change(
        change,
        low=None,
        high=None,
        se=None,
        df=None,
        p=None,
        real=None,
        mean_before=means[0],
        mean_after=means[1],
        change_pct=_pct(change, means[0]),
        warnings=warnings,
    )


def _pct(change: float | None, of: float) -> float | None:
    return None if change is None or of == 0.0 else 100.0 * change / of


def _held(change: float, se: float, df: float, confidence: float, means: tuple[float, float]) -> Change:
    """A change with its interval by Student's t."""
    t = float(special.stdtrit(df, (1.0 + confidence) / 2.0))
    low, high = change - t * se, change + t * se
    p = float(2.0 * special.stdtr(df, -abs(change) / se))
    real = not low <= 0.0 <= high
    return Change(
        change,
        low=low,
        high=high,
        se=se,
        df=df,
        p=p,
        real=real,
        mean_before=means[0],
        mean_after=means[1],
        change_pct=_pct(change, means[0]),
        shown_from=t * se,
    )


_NO_SCATTER = "the runs do not scatter at all: nothing tells how well they repeat"


def _variances(before: Floats, after: Floats, resolution: float | None) -> tuple[float, float]:
    """Of both sides; never below that of a figure rounded to the step (JCGM 100:2008, F.2.2.1)."""
    least = 0.0 if resolution is None else resolution**2 / 12.0
    first, second = (max(float(one.var(ddof=1)), least) for one in (before, after))
    return first, second


def _still(scatter: float, *sides: Floats) -> bool:
    """Is a standard deviation nothing but rounding?"""
    return scatter <= STILL * 1e-3 * max([1e-300, *(float(np.abs(one).max()) for one in sides)])


def _unpaired(before: Floats, after: Floats, asked: Asked, means: tuple[float, float]) -> Change:
    change = means[1] - means[0]
    if min(len(before), len(after)) < 2:
        return _bare(change, means)
    first, second = _variances(before, after, asked.resolution)
    a, b = first / len(before), second / len(after)
    if _still(math.sqrt(a + b), before, after):
        return _bare(change, means, (_NO_SCATTER,))
    df = (a + b) ** 2 / (a**2 / (len(before) - 1) + b**2 / (len(after) - 1))
    return _held(change, math.sqrt(a + b), df, asked.confidence, means)


def _paired(differences: Floats, confidence: float, means: tuple[float, float]) -> Change:
    change = float(differences.mean())
    if len(differences) < 2:
        return _bare(change, means)
    se = float(differences.std(ddof=1)) / math.sqrt(len(differences))
    if _still(se, differences, np.array(means)):
        return _bare(change, means, (_NO_SCATTER,))
    return _held(change, se, len(differences) - 1.0, confidence, means)


def _columns(asked: Asked) -> dict[str, Floats]:
    """Time and covariates over all runs, before first."""
    found = {}
    if asked.design == "drift":
        found["time"] = np.array([*asked.before_at, *asked.after_at], float)
    for name, (first, second) in asked.covariates.items():
        found[name] = np.array([*first, *second], float)
    return found


def _regressed(asked: Asked, means: tuple[float, float]) -> Change:
    """Ordinary least squares of the runs on 1, after, time and covariates; the coefficient of after."""
    y = np.array([*asked.before, *asked.after], float)
    side = np.array([0.0] * len(asked.before) + [1.0] * len(asked.after))
    columns = [side, *_columns(asked).values()]
    centred = [one - one.mean() for one in columns]
    sizes = [float(np.linalg.norm(one)) for one in centred]
    warning = "nothing tells the change from drift or covariates: they change only where the side does"
    if any(size <= STILL * max(1e-300, float(np.abs(one).max())) for one, size in zip(columns, sizes, strict=True)):
        return _bare(None, means, (warning,))
    scaled = np.column_stack([one / size for one, size in zip(centred, sizes, strict=True)])
    if np.linalg.matrix_rank(scaled, tol=1e-9) < scaled.shape[1] or len(y) < scaled.shape[1] + 1:
        return _bare(None, means, (warning,))
    inverse = np.linalg.inv(scaled.T @ scaled)
    fitted = inverse @ (scaled.T @ (y - y.mean()))
    change = float(fitted[0] / sizes[0])
    df = len(y) - scaled.shape[1] - 1
    if df < 1:
        return replace(_bare(change, means), df=0.0)
    rest = y - y.mean() - scaled @ fitted
    variance = float(rest @ rest) / df
    if _still(math.sqrt(variance), y):
        return _bare(change, means, (_NO_SCATTER,))
    se = math.sqrt(variance * float(inverse[0, 0])) / sizes[0]
    return _held(change, se, float(df), asked.confidence, means)


def _not_apart(asked: Asked) -> tuple[str, ...]:
    """Covariates, and time, whose ranges before and after do not overlap."""
    split, found = len(asked.before), []
    for name, values in _columns(asked).items():
        first, second = values[:split], values[split:]
        if first.max() < second.min() or second.max() < first.min():
            found.append(name)
    return tuple(found)


def _worth(asked: Asked, found: Change) -> str | None:
    if asked.useful is None or not asked.better or found.low is None or found.high is None:
        return None
    low, high = (found.low, found.high) if asked.better == "more" else (-found.high, -found.low)
    return "yes" if low >= asked.useful else "no" if high < asked.useful else "open"


def _runs_for(asked: Asked, before: Floats, after: Floats, change: float | None) -> int | None:
    """Least runs a side (pairs) whose power is enough for the change found, or for the one worth having."""
    wanted = asked.useful if asked.useful is not None else None if change is None else abs(change)
    paired = asked.design == "paired"
    if not wanted or min(len(before), len(after)) < 2:
        return None
    if paired:
        sd = float((after - before).std(ddof=1))
    else:
        sd = math.sqrt(sum(_variances(before, after, asked.resolution)) / 2.0)
    if _still(sd, before, after):
        return None
    return runs_for(wanted, sd, paired, asked.confidence)


def runs_for(wanted: float, sd: float, paired: bool = False, confidence: float = 0.95, more: int = 0) -> int | None:
    """Least runs a side (pairs), 2 to 500, that show a change with a power of 0.8; None where more are needed.

    Parameters
    ----------
    wanted : the change, over 0, in the unit of ``sd``
    sd : of one run; of a difference, where paired; over 0
    paired : pairs are counted
    confidence : of the interval, 0.5 to 1
    more : degrees of freedom that drift and covariates take, 0 or more

    Source: noncentral t, Cohen, Statistical Power Analysis (1988), ch. 2.

    >>> runs_for(1.0, 1.0), runs_for(1.0, 1.0, paired=True)
    (17, 10)
    """
    # Loaded here: it takes as long as a page, and few ask for it.
    from scipy import stats

    count = np.arange(2, MOST_RUNS + 1)
    df = np.maximum(1.0, (count - 1.0 if paired else 2.0 * count - 2.0) - more)
    off = wanted / sd * np.sqrt(count if paired else count / 2.0)
    t = special.stdtrit(df, (1.0 + confidence) / 2.0)
    power = stats.nct.sf(t, df, off) + stats.nct.cdf(-t, df, off)
    # far out the noncentral distribution is no number: there the power is one
    enough = np.flatnonzero(np.where(np.isfinite(power), power, 1.0) >= POWER)
    return int(count[enough[0]]) if enough.size else None


def _odd(asked: Asked, before: Floats, after: Floats) -> tuple[tuple[str, int], ...]:
    sides = {"pairs": after - before} if asked.design == "paired" else {"before": before, "after": after}
    return tuple((side, int(k)) for side, runs in sides.items() for k in odd_of(runs))


def odd_of(runs: Sequence[float] | Floats) -> list[int]:
    """Places of odd runs: modified z-score over 3.5, from five runs on; none where half of them are the same.

    Parameters
    ----------
    runs : (n,), one unit

    Source: Iglewicz and Hoaglin, How to Detect and Handle Outliers (1993).

    >>> odd_of([5.0, 5.1, 4.9, 5.05, 9.0]), odd_of([5.0, 9.0])
    ([4], [])
    """
    values = np.asarray(runs, float)
    if len(values) < ODD_FROM:
        return []
    off = np.abs(values - np.median(values))
    mad = float(np.median(off))
    return [] if mad == 0.0 else [int(k) for k in np.flatnonzero(0.6745 * off / mad > ODD)]


def holm(ps: Sequence[float | None]) -> list[float | None]:
    """Holm's step-down over those that have a p.

    Parameters
    ----------
    ps : two-sided, 0 to 1; None: without

    Source: Holm (1979).

    >>> holm([0.01, None, 0.04, 0.03])
    [0.03, None, 0.06, 0.06]
    """
    order = sorted((p, k) for k, p in enumerate(ps) if p is not None)
    found: list[float | None] = [None] * len(ps)
    highest = 0.0
    for rank, (p, k) in enumerate(order):
        highest = max(highest, min(1.0, p * (len(order) - rank)))
        found[k] = highest
    return found


def family_of(asked: Sequence[Asked]) -> list[tuple[Change, float | None, bool | None]]:
    """Each change with Holm's p and whether it is real of the family.

    Source: Holm (1979).

    Parameters
    ----------
    asked : comparisons that are claimed together

    >>> one = Asked((10.0, 10.2, 9.8), (9.0, 9.1, 8.9))
    >>> [(round(p, 4), real) for _, p, real in family_of([one, one])]
    [(0.0096, True), (0.0096, True)]
    """
    found = [change_of(one) for one in asked]
    corrected = holm([one.p for one in found])
    return [
        (one, p, None if p is None else p < 1.0 - each.confidence)
        for one, p, each in zip(found, corrected, asked, strict=True)
    ]


def as_dict(found: Change) -> dict[str, Any]:
    """For the command line.

    >>> as_dict(change_of(Asked((1.0,), (2.0,))))["change"]
    1.0
    """
    names = (
        "change",
        "low",
        "high",
        "se",
        "df",
        "p",
        "real",
        "mean_before",
        "mean_after",
        "change_pct",
        "worth",
        "shown_from",
        "runs_for",
    )
    return {
        **{name: getattr(found, name) for name in names},
        "odd": [{"side": side, "index": k} for side, k in found.odd],
        "not_told_apart": list(found.not_told_apart),
        "warnings": list(found.warnings),
    }
