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
