"""Are our promises honest: bias, scatter against what was stated, how many were covered, and what to do about it."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from scipy import special

#: pairs under which nothing is said, and the factor of a 95 % half-width
FEW, K_95 = 5, 1.96


@dataclass(frozen=True)
class Pair:
    """What was promised and what came, one unit; ± of their difference (95 %, over 0)."""

    promised: float
    measured: float
    pm: float
    group: str = ""


@dataclass(frozen=True)
class Honesty:
    """What the pairs say; None where there are too few for it."""

    n: int
    bias: float | None = None
    bias_low: float | None = None
    bias_high: float | None = None
    scale: float | None = None
    scale_low: float | None = None
    scale_high: float | None = None
    covered_pct: float | None = None
    scatter: float | None = None
    scatter_low: float | None = None
    scatter_high: float | None = None
    verdict: str = "too few"
    correct_by: float = 0.0
    widen_by: float = 1.0


def honesty_of(pairs: Sequence[Pair]) -> Honesty:
    """Bias with its t interval, the scale of the errors in units of what was stated with its χ² interval, a verdict.

    Parameters
    ----------
    pairs : of one kind

    Source: t and χ² intervals of a normal sample (e.g. NIST/SEMATECH e-Handbook, § 1.3.5.2 and § 1.3.5.8).

    >>> found = honesty_of([Pair(0, k, 1.0) for k in (0.4, -0.3, 0.1, -0.5, 0.2, 0.1)])
    >>> found.verdict, found.covered_pct
    ('honest', 100.0)
    """
    n = len(pairs)
    if n == 0:
        return Honesty(0)
    off = np.array([one.measured - one.promised for one in pairs], float)
    stated = np.array([one.pm for one in pairs], float)
    z = K_95 * off / stated
    bias = float(off.mean())
    scale = math.sqrt(float((z**2).mean()))
    low, high = _chi(scale, n, n)
    covered = 100.0 * float((np.abs(off) <= stated).mean())
    if n < 2:
        return Honesty(n, bias, scale=scale, scale_low=low, scale_high=high, covered_pct=covered)
    half = float(special.stdtrit(n - 1, 0.975)) * float(off.std(ddof=1)) / math.sqrt(n)
    scatter = float(z.std(ddof=1))
    least, most = _chi(scatter, n - 1, n - 1)
    leaning = not bias - half <= 0.0 <= bias + half
    verdict = (
        "too few"
        if n < FEW
        else "leaning"
        if leaning
        else "too sure"
        if least > 1.0
        else "too careful"
        if most < 1.0
        else "honest"
    )
    return Honesty(
        n=n,
        bias=bias,
        bias_low=bias - half,
        bias_high=bias + half,
        scale=scale,
        scale_low=low,
        scale_high=high,
        covered_pct=covered,
        scatter=scatter,
        scatter_low=least,
        scatter_high=most,
        verdict=verdict,
        correct_by=-bias if verdict == "leaning" else 0.0,
        widen_by=scatter if n >= FEW and least > 1.0 else 1.0,
    )


def _chi(size: float, count: int, df: int) -> tuple[float, float]:
    """95 % interval of a root mean square of so many."""
    return (
        size * math.sqrt(count / float(special.chdtri(df, 0.025))),
        size * math.sqrt(count / float(special.chdtri(df, 0.975))),
    )


def by_group(pairs: Sequence[Pair]) -> dict[str, Honesty]:
    """Each group by itself; pairs without a group are in none.

    Source: as ``honesty_of``.

    Parameters
    ----------
    pairs : of several kinds

    >>> list(by_group([Pair(0, 1, 1, "gap"), Pair(0, 1, 1)]))
    ['gap']
    """
    names = dict.fromkeys(one.group for one in pairs if one.group)
    return {name: honesty_of([one for one in pairs if one.group == name]) for name in names}


#: width of a strip of errors, and how many stated ± it shows to either side
STRIP, REACH = 240.0, 3.0


def error_of(pair: Pair) -> float:
    """What came less what was promised, in their unit.

    Parameters
    ----------
    pair : what was promised and what came

    Source: none; a difference.

    >>> error_of(Pair(5.0, 4.5, 1.0))
    -0.5
    """
    return pair.measured - pair.promised


def strip_x(pair: Pair) -> float:
    """Where an error stands on a strip whose middle is nothing and whose marks are the stated ±.

    Parameters
    ----------
    pair : what was promised and what came

    Source: none; a convention of this program. What lies further out stands at the end.

    >>> strip_x(Pair(5.0, 5.0, 1.0)), strip_x(Pair(5.0, 6.0, 1.0)), strip_x(Pair(5.0, 99.0, 1.0))
    (120.0, 160.0, 240.0)
    """
    off = max(-REACH, min(REACH, error_of(pair) / pair.pm))
    return round(STRIP / 2.0 * (1.0 + off / REACH), 1)


def advice(found: Honesty) -> str:
    """What the verdict means for what is promised next, in words.

    >>> advice(Honesty(2)), advice(Honesty(9, verdict="too sure", widen_by=2.1))
    ('too few to say: five at the least', 'the ± ought to be 2.1 times as wide')
    """
    if found.verdict == "too few":
        return f"too few to say: {_WORDS[FEW]} at the least"
    if found.verdict == "leaning":
        more = f"the ± {found.widen_by:.1f} times as wide, and " if found.widen_by > 1.0 else ""
        return f"{more}{found.bias or 0.0:+.3g} is to be added to what is predicted".replace("-", "−")
    if found.verdict == "too sure":
        return f"the ± ought to be {found.widen_by:.1f} times as wide"
    if found.verdict == "too careful":
        return "the ± is wider than it needs to be"
    return "as it was stated"


_WORDS = {FEW: "five"}


def said_and_came(rows: Sequence[tuple[float, bool]]) -> tuple[tuple[str, int, int], ...]:
    """Of plans by the chance they said: how many, and how many were ready.

    Parameters
    ----------
    rows : chance as it was said, 0 to 100 [%], and whether it was ready

    Source: reliability of a forecast by bins (Murphy and Winkler, 1977).

    >>> said_and_came([(70.0, True), (72.0, False), (95.0, True)])
    (('50 to 80 %', 2, 1), ('80 to 100 %', 1, 1))
    """
    found = []
    for low, high in ((0.0, 50.0), (50.0, 80.0), (80.0, 100.1)):
        mine = [came for chance, came in rows if low <= chance < high]
        if mine:
            found.append((f"{low:.0f} to {min(high, 100):.0f} %", len(mine), sum(mine)))
    return tuple(found)


def together_pm(stated: float, read: float) -> float:
    """± of a difference: root of the sum of squares of both (JCGM 100:2008, 5.1.2).

    Parameters
    ----------
    stated, read : ± of what was predicted and of what was read, 0 or more, one unit

    >>> together_pm(3.0, 4.0)
    5.0
    """
    return math.hypot(stated, read)


#: quantile of the likely case to the day by which 8 of 10 are ready, in standard deviations of a normal (two sides 95 %)
_TO_80 = 0.8416


def day_pm(days: float) -> float:
    """± of a date (95 %) from the days between the likely one and that by which 8 of 10 draws are ready; a day at least.

    Parameters
    ----------
    days : 0 or more [d]

    Source: normal quantiles, 1.96 over 0.8416; what a plan says is skew, so this is rough.

    >>> round(day_pm(5.0), 1), day_pm(0.0)
    (11.6, 1.0)
    """
    return max(1.0, K_95 * days / _TO_80)
