"""Coast-downs both ways: rolling, drag and their doubt from speeds over time, wind and slope taken out.

Each run obeys m_eff dv/dt = −(a + b v + c u |u| ± m g sin β), u the speed through the air, v ± w. Between two samples
that is a Riccati
equation with a closed solution, so that speeds are fitted as they were read and nothing is differentiated.

Source: the idea of ISO 10521-1 and SAE J1263; the solution is calculus.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass, field

import numpy as np
from numpy.typing import NDArray
from scipy.special import stdtrit

from rimcore.aero.runscatter import scattered
from rimcore.tables.facts import G_M_PER_S2

Array = NDArray[np.float64]

#: share that wheels, shafts and gears add [%]; of the interval
ROTATING_PCT, SHARE = 4.0, 0.95
#: least drag that the search tries [N/(m/s)²], and its steps
LEAST_C, MOST_STEPS = 1e-4, 40
#: speeds at which the force is told [km/h]
TOLD_KMH = (80.0, 120.0)
#: runs each way from which the scatter between them counts
SCATTER_FROM = 3


@dataclass(frozen=True)
class Run:
    """One coast-down: way out (1) or back (−1), times [s] and speeds [m/s], (n,)."""

    way: int
    t_s: Array = field(repr=False)
    v_mps: Array = field(repr=False)

    @property
    def v_kmh(self) -> Array:
        """Speeds [km/h], (n,).

        >>> Run(1, np.array([0.0]), np.array([10.0])).v_kmh.tolist()
        [36.0]
        """
        return self.v_mps * 3.6


@dataclass(frozen=True)
class Fitted:
    """Road load of still air on the level.

    A [N], b [N/(m/s)], c [N/(m/s)²], wind [m/s] and slope as sin β, with residuals of each run.

    Half widths of the 95 % intervals by name; ``one_way`` leaves wind and slope in a and c.
    """

    a: float
    b: float
    c: float
    wind_mps: float
    sine: float
    half: dict[str, float]
    residuals_mps: tuple[Array, ...] = field(repr=False)
    one_way: bool = False


@dataclass(frozen=True)
class _Model:
    runs: tuple[Run, ...]
    mass_kg: float
    effective_kg: float
    linear: bool
    both: bool

    @property
    def names(self) -> tuple[str, ...]:
        return ("a", *(("b",) if self.linear else ()), "c", *(("w", "s") if self.both else ()))

    def shared(self, x: Array) -> tuple[float, float, float, float, float]:
        """a, b, c, wind and sine of the slope."""
        named = dict(zip(self.names, x, strict=False))  # first speeds stand behind them
        return (
            float(named["a"]),
            float(named.get("b", 0.0)),
            max(float(named["c"]), LEAST_C),
            float(named.get("w", 0.0)),
            float(named.get("s", 0.0)),
        )

    def speeds(self, x: Array) -> list[Array]:
        """Speeds of each run for shared parameters and first speeds."""
        a, b, c, wind, sine = self.shared(x)
        first = x[len(self.names) :]
        return [
            self._one(run, v0, a + run.way * self.mass_kg * G_M_PER_S2 * sine, b, c, run.way * wind)
            for run, v0 in zip(self.runs, first, strict=True)
        ]

    def _one(self, run: Run, v0: float, a: float, b: float, c: float, wind: float) -> Array:
        """One run by the closed solution; where the wind overtakes the car, by steps."""
        time = run.t_s - run.t_s[0]
        # in u = v + wind: du/dt = −(a − b wind + b u + c u²) ÷ m; y = u + b/2c leaves P + c y²
        offset = b / (2.0 * c)
        rest = a - b * wind - b * b / (4.0 * c)
        y0 = v0 + wind + offset
        if abs(rest / c) < 1e-18:
            y = y0 / (1.0 + c * y0 * time / self.effective_kg)
        elif rest > 0:
            real = math.sqrt(rest / c)
            y = real * np.tan(math.atan(y0 / real) - c * real * time / self.effective_kg)
        else:
            root = np.sqrt(complex(rest / c))
            y = (root * np.tan(np.arctan(y0 / root) - c * root * time / self.effective_kg)).real
        v = y - offset - wind
        if v0 + wind <= 0 or (v + wind <= 0).any() or not np.isfinite(v).all():
            return _stepped(time, v0, a, b, c, wind, self.effective_kg)
        return np.asarray(v)


def _stepped(time: Array, v0: float, a: float, b: float, c: float, wind: float, mass: float) -> Array:
    """The same by fourth-order steps, for air that comes from behind faster than the car goes."""

    def slope(v: float) -> float:
        u = v + wind
        return -(a + b * v + c * u * abs(u)) / mass

    found, v = [v0], v0
    for h in np.diff(time):
        for _ in range(4):
            step = h / 4.0
            k1 = slope(v)
            k2 = slope(v + step * k1 / 2)
            k3 = slope(v + step * k2 / 2)
            k4 = slope(v + step * k3)
            v += step * (k1 + 2 * k2 + 2 * k3 + k4) / 6
        found.append(v)
    return np.array(found)


def fit(runs: Sequence[Run], mass_kg: float, rotating_pct: float = ROTATING_PCT, linear: bool = False) -> Fitted:
    """Road load from runs one way or both.

    Parameters
    ----------
    runs : each with five samples or more
    mass_kg : of the car with who is in it, over 0 [kg]
    rotating_pct : what the turning parts add, 0 or more [%]
    linear : fit b too

    Examples
    --------
    >>> time = np.arange(0.0, 40.0, 1.0)
    >>> truth = _Model((Run(1, time, time), Run(-1, time, time)), 1200.0, 1248.0, False, True)
    >>> x = np.array([160.0, 0.40, 1.0, 0.002, 30.0, 30.0])
    >>> runs = [Run(way, time, v) for way, v in zip((1, -1), truth.speeds(x))]
    >>> found = fit(runs, 1200.0)
    >>> round(found.a, 4), round(found.c, 5), round(found.wind_mps, 4), round(found.sine, 6)
    (160.0, 0.4, 1.0, 0.002)
    """
    one = _whole(runs, mass_kg, rotating_pct, linear)
    halves = dict(one.half)
    between = _scatter(runs, mass_kg, rotating_pct, linear)
    for name, half in between.items():
        halves[name] = max(halves.get(name, 0.0), half)
    return Fitted(
        a=one.a,
        b=one.b,
        c=one.c,
        wind_mps=one.wind_mps,
        sine=one.sine,
        half=halves,
        residuals_mps=one.residuals_mps,
        one_way=one.one_way,
    )


def _whole(runs: Sequence[Run], mass_kg: float, rotating_pct: float, linear: bool) -> Fitted:
    both = {run.way for run in runs} == {1, -1}
    model = _Model(tuple(runs), mass_kg, mass_kg * (1 + rotating_pct / 100), linear, both)
    x, jacobian, rest = _solved(model)
    ends = np.cumsum([len(run.t_s) for run in runs])[:-1]
    # one way, wind and slope stay in the figures: a wind of a run's own has nothing to be told from
    winds = np.split(_wind_column(model, x) if both else np.zeros(len(rest)), ends)
    moved, half = scattered(jacobian, winds, rest, len(model.names))
    shared = x + moved
    a, b, c, wind, sine = model.shared(shared)
    return Fitted(
        a=a,
        b=b,
        c=c,
        wind_mps=wind,
        sine=sine,
        half=dict(zip(model.names, half, strict=True)),
        residuals_mps=tuple(np.split(rest, ends)),
        one_way=not both,
    )


def _start(model: _Model) -> Array:
    """Rolling at 1.2 % of the weight, the drag that the mean slowing leaves, no wind, level road."""
    slowing = [(run.v_mps[0] - run.v_mps[-1]) / (run.t_s[-1] - run.t_s[0]) for run in model.runs]
    squares = [float(np.mean(run.v_mps**2)) for run in model.runs]
    force = model.effective_kg * float(np.mean(slowing))
    a = min(0.012 * model.mass_kg * G_M_PER_S2, 0.6 * force)
    c = max(LEAST_C * 10, (force - a) / float(np.mean(squares)))
    shared = {"a": a, "b": 0.0, "c": c, "w": 0.0, "s": 0.0}
    return np.array([*(shared[name] for name in model.names), *(run.v_mps[0] for run in model.runs)])


def _solved(model: _Model) -> tuple[Array, Array, Array]:
    """Levenberg–Marquardt on the speeds; a column of first speeds is one evaluation for all runs."""
    x = _start(model)
    read = np.concatenate([run.v_mps for run in model.runs])
    damping, rest = 1e-3, read - np.concatenate(model.speeds(x))
    cost = float(rest @ rest)
    jacobian = _jacobian(model, x)
    for _ in range(MOST_STEPS):
        normal, right = jacobian.T @ jacobian, jacobian.T @ rest
        step = np.linalg.solve(normal + damping * np.diag(np.diag(normal) + 1e-12), right)
        tried = x + step
        left = read - np.concatenate(model.speeds(tried))
        new = float(left @ left)
        if np.isfinite(new) and new <= cost:
            done = cost - new <= 1e-9 * cost + 1e-18
            x, rest, cost, damping = tried, left, new, max(damping / 9, 1e-12)
            jacobian = _jacobian(model, x)
            if done:
                break
        else:
            damping *= 8
            if damping > 1e8:
                break
    return x, jacobian, rest


def _jacobian(model: _Model, x: Array) -> Array:
    """Derivatives of all speeds, by central differences; first speeds touch only their own run."""
    scales = {"a": 1.0, "b": 0.01, "c": 1e-3, "w": 0.01, "s": 1e-5}
    lengths = [len(run.t_s) for run in model.runs]
    count = len(model.names)
    found = np.zeros((sum(lengths), len(x)))
    for k, name in enumerate(model.names):
        h = scales[name]
        up, down = x.copy(), x.copy()
        up[k] += h
        down[k] -= h
        found[:, k] = (np.concatenate(model.speeds(up)) - np.concatenate(model.speeds(down))) / (2 * h)
    up, down = x.copy(), x.copy()
    up[count:] += 1e-4
    down[count:] -= 1e-4
    begin = 0
    for k, (one, other) in enumerate(zip(model.speeds(up), model.speeds(down), strict=True)):
        found[begin : begin + lengths[k], count + k] = (one - other) / 2e-4
        begin += lengths[k]
    return found


def _wind_column(model: _Model, x: Array) -> Array:
    """Derivative of all speeds by a wind of each run's own, by central differences."""
    a, b, c, wind, sine = model.shared(x)
    first, h = x[len(model.names) :], 0.01
    found = []
    for run, v0 in zip(model.runs, first, strict=True):
        rolling = a + run.way * model.mass_kg * G_M_PER_S2 * sine
        up, down = (model._one(run, v0, rolling, b, c, run.way * (wind + way * h)) for way in (1, -1))
        found.append((up - down) / (2 * h))
    return np.concatenate(found)


def _scatter(runs: Sequence[Run], mass_kg: float, rotating_pct: float, linear: bool) -> dict[str, float]:
    """t(n−1) s ÷ √n of fits of one pair each, from three runs a way on."""
    ways = {way: [run for run in runs if run.way == way] for way in (1, -1)}
    there = [found for found in ways.values() if found]
    count = min(len(found) for found in there)
    if count < SCATTER_FROM:
        return {}
    effective_kg, both = mass_kg * (1 + rotating_pct / 100), len(there) == 2
    fits = []
    for k in range(count):
        model = _Model(tuple(found[k] for found in there), mass_kg, effective_kg, linear, both)
        fits.append(model.shared(_solved(model)[0])[:3])
    times = float(stdtrit(count - 1, (1 + SHARE) / 2)) / math.sqrt(count)
    spread = np.std(fits, axis=0, ddof=1)
    return {name: times * float(spread[k]) for k, name in enumerate(("a", "b", "c")) if linear or name != "b"}


def force_n(found: Fitted, speed_kmh: float) -> float:
    """Force at a speed in still air on the level [N].

    Source: road load as polynomial of speed (SAE J1263, ISO 10521-1).

    Parameters
    ----------
    found : road load that was fitted
    speed_kmh : 0 or more [km/h]

    >>> round(force_n(Fitted(150.0, 0.0, 0.4, 0.0, 0.0, {}, ()), 72.0), 6)
    310.0
    """
    v = speed_kmh / 3.6
    return found.a + found.b * v + found.c * v * v
