"""Is the change larger than the scatter? Welch's comparison and how many runs it would take."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from scipy import special

from rimcore.quantities.judgement import State

#: runs a side from which figures that are all the same can show a change
ENOUGH = 3


@dataclass(frozen=True)
class Comparison:
    """Before and after of one quantity; differences are after less before.

    ``real`` is None where one side has fewer than two runs, or where nothing scatters and so nothing tells how well it
    repeats.
    """

    mean_before: float
    mean_after: float
    change: float
    change_pct: float | None
    low: float | None
    high: float | None
    degrees_of_freedom: float | None
    real: bool | None
    runs_wanted: int | None
    #: runs of the side that has fewer
    fewest: int = 0

    @property
    def half_width(self) -> float | None:
        return None if self.low is None or self.high is None else (self.high - self.low) / 2


def step_of(values: Sequence[float]) -> float:
    """Step in which figures were read: the coarsest power of ten of which all are whole multiples, 1e-6 to 1.

    Source: none; a convention of this program.

    Parameters
    ----------
    values : as read (n,), n ≥ 1

    >>> step_of([6.91, 7.0, 6.88]), step_of([10.1, 10.0]), step_of([312.0])
    (0.01, 0.1, 1.0)
    """
    figures = np.asarray(values, dtype=float)
    for places in range(6):
        scaled = figures * 10.0**places
        if (np.abs(scaled - np.round(scaled)) < 1e-6 * np.maximum(1.0, np.abs(scaled))).all():
            return float(10.0**-places)
    return 1e-6


def compare(
    before: Sequence[float], after: Sequence[float], confidence: float = 0.95, resolution: float | None = None
) -> Comparison:
    """Welch's interval of the difference of two means.

    Parameters
    ----------
    before, after : runs of the same quantity in the same unit, shape (n,) and (m,), at least one each
    confidence : of the interval, 0 to 1
    resolution : step in which they were read, > 0; a side's variance is never below step² ÷ 12, that of a figure
        rounded to it (JCGM 100:2008, F.2.2.1)

    Source: Welch (1947); the same as ``scipy.stats.ttest_ind(equal_var=False)``.

    Examples
    --------
    >>> found = compare([10.0, 10.2, 9.8], [9.0, 9.1, 8.9])
    >>> found.real, round(found.change, 2)
    (True, -1.0)
    >>> compare([10.0, 10.0], [10.1, 10.1], resolution=0.1).real is None
    True
    """
    a, b = np.asarray(before, dtype=float), np.asarray(after, dtype=float)
    mean_a, mean_b = float(a.mean()), float(b.mean())
    change = mean_b - mean_a
    percent = change / mean_a * 100 if mean_a else None
    if len(a) < 2 or len(b) < 2:
        return Comparison(
            mean_before=mean_a,
            mean_after=mean_b,
            change=change,
            change_pct=percent,
            low=None,
            high=None,
            degrees_of_freedom=None,
            real=None,
            runs_wanted=None,
            fewest=min(len(a), len(b)),
        )
    least = 0.0 if resolution is None else resolution**2 / 12.0
    seen = float(a.var(ddof=1)), float(b.var(ddof=1))
    va, vb = max(seen[0], least) / len(a), max(seen[1], least) / len(b)
    spread = math.sqrt(va + vb)
    still = max(seen) <= 1e-18 * max(1.0, mean_a**2, mean_b**2)
    if spread == 0.0 or (still and min(len(a), len(b)) < ENOUGH):
        return Comparison(
            mean_before=mean_a,
            mean_after=mean_b,
            change=change,
            change_pct=percent,
            low=None,
            high=None,
            degrees_of_freedom=None,
            real=None,
            runs_wanted=None,
            fewest=min(len(a), len(b)),
        )
    freedom = (va + vb) ** 2 / (va**2 / (len(a) - 1) + vb**2 / (len(b) - 1))
    half = float(special.stdtrit(freedom, (1 + confidence) / 2)) * spread
    real = not change - half <= 0.0 <= change + half
    wanted = None if real else runs_wanted(a, b, change, confidence)
    return Comparison(
        mean_before=mean_a,
        mean_after=mean_b,
        change=change,
        change_pct=percent,
        low=change - half,
        high=change + half,
        degrees_of_freedom=freedom,
        real=real,
        runs_wanted=wanted,
        fewest=min(len(a), len(b)),
    )


def runs_wanted(
    before: Sequence[float] | np.ndarray, after: Sequence[float] | np.ndarray, change: float, confidence: float = 0.95
) -> int | None:
    """Runs on each side at which a change of this size would stand out of this scatter.

    Normal approximation n = z² (s₁² + s₂²) / change²; None where it would take over 200.

    Source: sample size of two means, e.g. Montgomery, Design and Analysis of Experiments, ch. 2 (normal approximation).

    Parameters
    ----------
    before : readings (n,), n ≥ 2
    after : readings (m,), m ≥ 2
    change : to be shown, in their unit
    confidence : share, 0.5 to 1

    >>> runs_wanted([10.0, 10.4, 9.6], [9.8, 10.2, 9.4], -0.2)
    31
    """
    if change == 0.0:
        return None
    z = float(special.ndtri((1 + confidence) / 2))
    runs = math.ceil(z**2 * (np.var(before, ddof=1) + np.var(after, ddof=1)) / change**2)
    return max(3, runs) if runs <= 200 else None


def strip_scale(values: Sequence[float], most_ticks: int = 6) -> tuple[float, float, tuple[float, ...]]:
    """Round ends and ticks for a scatter strip: (low, high, ticks).

    Source: steps of 1, 2, 5 (common practice).

    Parameters
    ----------
    values : to be shown (n,), n ≥ 1
    most_ticks : 2 or more

    >>> strip_scale([6.4, 7.3])
    (6.4, 7.4, (6.4, 6.6, 6.8, 7.0, 7.2, 7.4))
    """
    low, high = min(values), max(values)
    span = high - low or abs(high) * 0.1 or 1.0
    raw = span / (most_ticks - 1)
    power = 10.0 ** math.floor(math.log10(raw))
    step = next(power * m for m in (1, 2, 2.5, 5, 10) if power * m >= raw * 0.999)
    start = math.floor(low / step + 1e-9) * step
    count = math.ceil((high - start) / step - 1e-9)
    ticks = tuple(round(start + i * step, 10) for i in range(max(1, count) + 1))
    return ticks[0], ticks[-1], ticks


def kept_promise(promised: float, measured: float, uncertainty: float) -> State:
    """``clear`` within the uncertainty, ``tight`` within twice it, else ``hit``.

    Source: coverage of a measured difference, JCGM 100:2008, 6.2.

    Parameters
    ----------
    promised : change that was reckoned
    measured : change that was read, same unit
    uncertainty : ± of the change, 0 or more

    >>> kept_promise(3.8, 4.1, 1.0), kept_promise(3.8, 7.0, 1.0)
    ('clear', 'hit')
    """
    error = abs(measured - promised)
    return "clear" if error <= uncertainty + 1e-9 else "tight" if error <= 2 * uncertainty + 1e-9 else "hit"


def summed(readings: Sequence[tuple[float, float]]) -> tuple[float, float]:
    """Sum of independent readings (value, ±) and its ±: root of the sum of squares (JCGM 100:2008, 5.1.2).

    Parameters
    ----------
    readings : each (value, ±), ± 0 or more

    >>> summed([(300.0, 3.0), (310.0, 4.0)])
    (610.0, 5.0)
    """
    return sum(value for value, _ in readings), math.hypot(*(doubt for _, doubt in readings))


def sentence(found: Comparison, unit: str) -> str:
    """What the comparison says, in one sentence.

    >>> sentence(compare([10.0, 10.2, 9.8], [9.0, 9.1, 8.9]), "s")
    'proven: 95 % interval −1.42 to −0.58 s'
    """
    if found.real is None or found.low is None or found.high is None:
        if found.fewest < 2:
            return "one run on a side shows nothing; repeat it at least three times"
        return "all runs of a side read the same: that does not tell how well it repeats; take at least three a side, and read finer"
    spread = f"{_plain(found.low)} to {_plain(found.high)} {unit}".strip()
    if found.real:
        return f"proven: 95 % interval {spread}"
    more = (
        f"; about {found.runs_wanted} runs before and {found.runs_wanted} after would settle it"
        if found.runs_wanted
        else ""
    )
    return f"not proven: runs vary more than the change, {spread}{more}"


def _plain(value: float) -> str:
    places = 0 if abs(value) >= 100 else 1 if abs(value) >= 10 else 2
    return f"{value:.{places}f}".replace("-", "−")
