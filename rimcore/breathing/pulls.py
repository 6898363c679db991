"""Pulls: power over engine speed from logs, bands of repeated runs, and whether a difference is real or not shown."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, field

import numpy as np
from numpy.typing import NDArray
from scipy.special import stdtrit

from rimcore.quantities.errors import BadInput

Array = NDArray[np.float64]

#: step of the grid and the window over which a run is averaged [1/min]
STEP_RPM, WINDOW_RPM = 50.0, 200.0
#: a run rises by at least so much, and lasts so many readings; a fall of so much ends it [1/min]
LEAST_RPM, LEAST_ROWS, FALL_RPM = 1000.0, 10, 150.0
#: of the interval
SHARE = 0.95
#: rotating share added to the mass in a gear of the middle [%] (common practice)
ROTATING_PCT = 6.0


@dataclass(frozen=True)
class Run:
    """One pull on the even grid: power by engine speed [kW], and how many readings stand behind each place."""

    rpm: Array = field(repr=False)
    power_kw: Array = field(repr=False)
    readings: int = 0


def rises(rpm: Array) -> list[slice]:
    """Rows of each pull: engine speed goes up by 1,000 at least, a fall of more than 150 ends it.

    Source: common practice.

    Parameters
    ----------
    rpm : engine speed over time (n,)

    >>> saw = np.r_[np.linspace(2000, 6000, 50), np.linspace(2000, 5000, 40)]
    >>> [(one.start, one.stop) for one in rises(saw)]
    [(0, 50), (50, 90)]
    """
    known = np.where(np.isfinite(rpm), rpm, -np.inf)
    found, begin, low, high, top = [], 0, np.inf, -np.inf, 0
    for row, value in enumerate(known):
        if value == -np.inf:
            continue
        if value < high - FALL_RPM:
            if high - low >= LEAST_RPM and top - begin + 1 >= LEAST_ROWS:
                found.append(slice(begin, top + 1))
            begin, low, high, top = row, value, value, row
        if value < low or (value <= low + 1e-9 and high - low < FALL_RPM):
            begin, low = row, value
        if value >= high:
            high, top = value, row
    if high - low >= LEAST_RPM and top - begin + 1 >= LEAST_ROWS:
        found.append(slice(begin, top + 1))
    return found


def runs_of(rpm: Array, power_kw: Array, window_rpm: float = WINDOW_RPM) -> list[Run]:
    """The pulls of a log, each resampled to every 50 1/min as the mean over a window that is stated.

    Source: moving mean; the width is the person's own.

    Parameters
    ----------
    rpm : engine speed over time (n,)
    power_kw : (n,) [kW]
    window_rpm : width of the mean, over 0 [1/min]

    Raises
    ------
    BadInput : no run rises by 1,000 1/min

    Examples
    --------
    >>> rpm = np.linspace(2000.0, 6000.0, 400)
    >>> one = runs_of(rpm, rpm / 100.0)[0]
    >>> round(float(np.interp(4000, one.rpm, one.power_kw)), 6)
    40.0
    """
    good = np.isfinite(rpm) & np.isfinite(power_kw)
    rpm, power = rpm[good], power_kw[good]
    found = [_resampled(rpm[rows], power[rows], window_rpm) for rows in rises(rpm)]
    if not found:
        raise BadInput(f"no run rises by {LEAST_RPM:g} rpm; accepted: pulls over engine speed", "rpm")
    return found


def _resampled(rpm: Array, power: Array, window: float) -> Run:
    """Straight line through each window, read at its middle: a mean that does not bend the ends."""
    first, last = np.ceil(rpm.min() / STEP_RPM), np.floor(rpm.max() / STEP_RPM)
    grid = np.arange(first, last + 1) * STEP_RPM
    order = np.argsort(rpm, kind="stable")
    x, y = rpm[order], power[order]
    sums = [
        np.concatenate([[0.0], np.cumsum(row)])
        for row in (np.ones_like(x), x - x[0], y, (x - x[0]) ** 2, (x - x[0]) * y)
    ]
    low, high = np.searchsorted(x, grid - window / 2), np.searchsorted(x, grid + window / 2, "right")
    n, sx, sy, sxx, sxy = (one[high] - one[low] for one in sums)
    with np.errstate(divide="ignore", invalid="ignore"):
        spread = sxx - sx**2 / n
        slope = np.where(spread > 1e-9, (sxy - sx * sy / n) / spread, 0.0)
        value = sy / n + slope * (grid - x[0] - sx / n)
    return Run(grid, np.where(n >= 2, value, np.nan), len(x))


@dataclass(frozen=True)
class Set:
    """Repeated runs on one grid: their mean, the 95 % interval of the mean, and how many reach each place."""

    rpm: Array = field(repr=False)
    mean_kw: Array = field(repr=False)
    low_kw: Array = field(repr=False)
    high_kw: Array = field(repr=False)
    runs: int
    rows: Array = field(repr=False)

    def mean_at(self, rpm: Array) -> Array:
        """Mean power on another grid [kW]; NaN where these runs don't reach."""
        return np.asarray(np.interp(rpm, self.rpm, self.mean_kw, np.nan, np.nan))


def together(runs: Sequence[Run]) -> Set:
    """Mean and interval of repeated runs where all of them reach; t(n−1) s ÷ √n.

    One run has no interval: NaN.
    """
    if not runs:
        raise BadInput("no run; accepted: at least one", "runs")
    low, high = max(one.rpm[0] for one in runs), min(one.rpm[-1] for one in runs)
    if low > high:
        raise BadInput("the runs share no engine speed; accepted: pulls over the same range", "runs")
    grid = np.arange(low, high + STEP_RPM / 2, STEP_RPM)
    rows = np.stack([np.interp(grid, one.rpm, one.power_kw) for one in runs])
    mean, half = rows.mean(0), np.full(len(grid), np.nan)
    if len(runs) > 1:
        half = stdtrit(len(runs) - 1, (1 + SHARE) / 2) * rows.std(0, ddof=1) / np.sqrt(len(runs))
    return Set(grid, mean, mean - half, mean + half, len(runs), rows)


@dataclass(frozen=True)
class Difference:
    """After less before by engine speed with its 95 % interval (Welch); ``real`` where it holds no zero.

    ``over_range`` is the mean over the shared range with its interval; None where either has one run.
    """

    rpm: Array = field(repr=False)
    change_kw: Array = field(repr=False)
    low_kw: Array = field(repr=False)
    high_kw: Array = field(repr=False)
    over_range: tuple[float, float, float] | None
    verdict: str

    @property
    def real(self) -> NDArray[np.bool_]:
        """Where the interval holds no zero."""
        return (self.low_kw > 0) | (self.high_kw < 0)


def difference(before: Set, after: Set) -> Difference:
    """What changed between two sets of runs, and whether it is shown.

    Source: Welch's t interval, e.g. Montgomery, Design and Analysis of Experiments, ch. 2.

    Examples
    --------
    >>> rpm = np.linspace(2000.0, 6000.0, 400)
    >>> sets = [together([runs_of(rpm, rpm / 100 + up + off)[0] for off in (0.0, 0.2, -0.2)]) for up in (0.0, 3.0)]
    >>> found = difference(*sets)
    >>> round(found.over_range[0], 2), found.verdict[:6]
    (3.0, 'proven')
    """
    low, high = max(before.rpm[0], after.rpm[0]), min(before.rpm[-1], after.rpm[-1])
    if low > high:
        raise BadInput("before and after share no engine speed; accepted: pulls over the same range", "runs")
    grid = np.arange(low, high + STEP_RPM / 2, STEP_RPM)
    one, other = (found.rows[:, np.searchsorted(found.rpm, grid - STEP_RPM / 4)] for found in (before, after))
    change, half = _welch(one, other)
    whole = None
    if min(before.runs, after.runs) > 1:
        mean, about = _welch(one.mean(1)[:, None], other.mean(1)[:, None])
        whole = (float(mean[0]), float(mean[0] - about[0]), float(mean[0] + about[0]))
    return Difference(grid, change, change - half, change + half, whole, _said(whole, before.runs, after.runs))


def _welch(one: Array, other: Array) -> tuple[Array, Array]:
    """Difference of means of rows (runs, places), and half its interval; NaN with a single run."""
    change = other.mean(0) - one.mean(0)
    if min(len(one), len(other)) < 2:
        return change, np.full(one.shape[1], np.nan)
    parts = [rows.var(0, ddof=1) / len(rows) for rows in (one, other)]
    total = parts[0] + parts[1]
    with np.errstate(divide="ignore", invalid="ignore"):
        free = total**2 / sum(part**2 / (len(rows) - 1) for part, rows in zip(parts, (one, other), strict=True))
    free = np.where(np.isfinite(free), free, len(one) + len(other) - 2)
    return change, stdtrit(free, (1 + SHARE) / 2) * np.sqrt(total)


def _said(whole: tuple[float, float, float] | None, before: int, after: int) -> str:
    if whole is None:
        return f"not proven: {before} before and {after} after; one pull says nothing of its scatter"
    mean, low, high = whole
    interval = f"{low:+.1f} to {high:+.1f} kW".replace("-", "−")
    if low > 0 or high < 0:
        return f"proven: {mean:+.1f} kW over the shared range, {interval}".replace("-", "−")
    return f"not proven: {interval} spans zero"


def wheel_power_kw(
    t_s: Array, speed_kmh: Array, mass_kg: float, rotating_pct: float = ROTATING_PCT, window_s: float = 1.0
) -> Array:
    """Power at the wheels that speeds the car up [kW].

    M (1 + rotating) a v, from a straight line through a window of speed.

    The idea of SAE J1349 on the road; air, rolling, slope, wind and slip are left out, so it falls short at speed.

    Parameters
    ----------
    t_s : rising (n,) [s]
    speed_kmh : (n,) [km/h]
    mass_kg : of the car with who is in it, over 0 [kg]
    rotating_pct : what the turning parts add, 0 or more [%]
    window_s : of the straight line, over 0 [s]

    Raises
    ------
    BadInput : times that do not rise

    Examples
    --------
    >>> t = np.arange(0.0, 5.0, 0.1)
    >>> round(float(wheel_power_kw(t, 3.6 * 2.0 * t, 1000.0, 0.0)[25]), 6)
    10.0
    """
    if len(t_s) < 3 or (np.diff(t_s) <= 0).any():
        raise BadInput("times rise from row to row; accepted: at least three rows", "t_s")
    speed = speed_kmh / 3.6
    low, high = np.searchsorted(t_s, t_s - window_s / 2), np.searchsorted(t_s, t_s + window_s / 2, "right")
    x = t_s - t_s[0]
    n, sx, sy, sxx, sxy = (
        one[high] - one[low]
        for one in (np.concatenate([[0.0], np.cumsum(row)]) for row in (np.ones_like(x), x, speed, x * x, x * speed))
    )
    with np.errstate(divide="ignore", invalid="ignore"):
        slope = (sxy - sx * sy / n) / (sxx - sx**2 / n)
        value = sy / n + slope * (x - sx / n)
    return np.asarray(mass_kg * (1 + rotating_pct / 100) * slope * value / 1000.0)
