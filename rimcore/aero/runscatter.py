"""What a fit's figures may be off by, where the noise hangs together in time and each run had a wind of its own.

The residuals of a coast-down are taken as noise of first order in time (what one sample is off by, the next is too, by
a
share) and a wind that differs from run to run, normal, of an unknown spread. Share, spread and size are found by
restricted
maximum likelihood (Patterson & Thompson 1971), which leaves out what the fit itself took up; the figures are then those
of
generalised least squares, their half widths with degrees of freedom by Satterthwaite (1946) from the curvature of the
likelihood. Everything rests on three Gram matrices, so that a trial of share and spread costs nothing in the samples.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray
from scipy import optimize
from scipy.special import stdtrit

Array = NDArray[np.float64]

#: share of the interval
SHARE = 0.95
#: shares and spreads on which the search starts; the spread in units of the noise
RHOS = (0.0, 0.6, 0.9, 0.97, 0.99)
SPREADS = (1.0, 30.0, 1e3, 3e4)
#: what is held of the spread before: it is not nothing where runs are few (Chung et al. 2013, a gamma density that is 0
#: at 0), and winds of one session hardly differ by more than this [m/s] (ours); chosen so that simulated intervals hold
PULL, MOST_SPREAD_MPS = 0.8, 0.7
#: standard deviation of the log of the spread before anything was read
LOG_SPREAD = 2.0
#: fewest degrees of freedom that are told, and the step of the curvature
LEAST_FREE, STEP = 3.0, 0.05


@dataclass(frozen=True)
class _Grams:
    """Gram matrices of the fit's columns, the runs' winds and the residuals.

    Whole, of neighbours, of each run's ends.
    """

    whole: Array
    next: Array
    ends: Array
    lengths: tuple[int, ...]
    fitted: int

    @property
    def free(self) -> int:
        return max(1, sum(self.lengths) - self.fitted)


def _grams(jacobian: Array, winds: Sequence[Array], rest: Array) -> _Grams:
    lengths = tuple(len(one) for one in winds)
    columns = np.zeros((len(rest), jacobian.shape[1] + len(winds) + 1))
    columns[:, : jacobian.shape[1]], columns[:, -1] = jacobian, rest
    begin, size = 0, columns.shape[1]
    next_, ends = np.zeros((size, size)), np.zeros((size, size))
    for k, one in enumerate(winds):
        rows = slice(begin, begin + len(one))
        columns[rows, jacobian.shape[1] + k] = one
        mine = columns[rows]
        beside = mine[:-1].T @ mine[1:]
        next_ = next_ + beside + beside.T
        ends = ends + np.outer(mine[0], mine[0]) + np.outer(mine[-1], mine[-1])
        begin += len(one)
    return _Grams(columns.T @ columns, next_, ends, lengths, jacobian.shape[1])


@dataclass(frozen=True)
class _Tried:
    """A share and a spread: −2 log of the restricted likelihood, the normal matrix, the step it asks for, size of the
    noise.
    """

    cost: float
    normal: Array
    moved: Array
    variance: float


def _tried(grams: _Grams, rho: float, spread: float) -> _Tried | None:
    """None where the matrices can't be solved."""
    rest = 1.0 - rho * rho
    inner = ((1 + rho * rho) * grams.whole - rho * rho * grams.ends - rho * grams.next) / rest
    log_det = sum((length - 1) * math.log(rest) for length in grams.lengths)
    p, runs = grams.fitted, len(grams.lengths)
    keep = [*range(p), p + runs]
    reduced = inner[np.ix_(keep, keep)]
    mine = slice(p, p + runs)
    across = inner[mine][:, keep]
    reduced = reduced - across.T @ np.linalg.solve(np.eye(runs) / spread + inner[mine, mine], across)
    log_det += float(np.linalg.slogdet(np.eye(runs) + spread * inner[mine, mine])[1])
    normal, right, power = reduced[:p, :p], reduced[:p, p], float(reduced[p, p])
    scale = np.sqrt(np.maximum(np.diag(normal), 1e-300))
    try:
        moved = np.linalg.solve(normal / np.outer(scale, scale), right / scale) / scale
    except np.linalg.LinAlgError:
        return None
    left = power - float(moved @ right)
    if not left > 0:
        return None
    sign, fit_det = np.linalg.slogdet(normal / np.outer(scale, scale))
    if sign <= 0:
        return None
    fit_det += 2 * float(np.log(scale).sum())
    return _Tried(log_det + fit_det + grams.free * math.log(left), normal, moved, left / grams.free)


def _at(grams: _Grams, theta: Array) -> _Tried | None:
    """By the search's own figures: atanh of the share, log of the spread."""
    rho = math.tanh(float(theta[0]))
    if abs(rho) > 0.9995:
        return None
    return _tried(grams, rho, math.exp(min(float(theta[1]), 60.0)))


def _prior(theta: Array, variance: float) -> float:
    """−2 log of what is held before anything was read.

    Of the spread, and of the share that of a reference prior (Berger & Yang 1994).
    """
    share = math.log1p(-(math.tanh(float(theta[0])) ** 2))
    return float(math.exp(min(theta[1], 60.0)) * variance / MOST_SPREAD_MPS**2 - PULL * theta[1] + share)


def _best(grams: _Grams) -> tuple[Array, _Tried] | None:
    """Share and spread that are the likeliest; None where nothing can be solved."""

    def cost(theta: Array) -> float:
        found = _at(grams, theta)
        return 1e300 if found is None else found.cost + _prior(theta, found.variance)

    starts = [np.array([math.atanh(rho), math.log(spread)]) for rho in RHOS for spread in SPREADS]
    start = min(starts, key=cost)
    theta = optimize.minimize(
        cost, start, method="Nelder-Mead", options={"xatol": 1e-2, "fatol": 1e-3, "maxiter": 80}
    ).x
    found = _at(grams, theta)
    return None if found is None else (theta, found)


def scattered(jacobian: Array, winds: Sequence[Array], rest: Array, count: int) -> tuple[Array, list[float]]:
    """How far a fit's figures move when the noise hangs together, and the half widths of their 95 % intervals.

    Parameters
    ----------
    jacobian : (n, p) derivatives of what was read by the figures, the first ``count`` of which are asked for
    winds : a column for each run, (nᵢ,), n in all: derivative by a wind of its own
    rest : (n,) residuals of plain least squares
    count : figures that are asked for, 1 to p

    Returns
    -------
    (p,) what is added to the figures; half widths of the first ``count``

    Examples
    --------
    >>> noise = np.random.default_rng(1).normal(0.0, 1.0, 400)
    >>> line = np.ones((400, 1))
    >>> moved, half = scattered(line, [np.zeros(200), np.zeros(200)], noise - noise.mean(), 1)
    >>> bool(abs(moved[0]) < 0.02), 0.07 < half[0] < 0.13
    (True, True)
    """
    power = float(rest @ rest)
    if power <= 1e-16 * len(rest):
        return np.zeros(jacobian.shape[1]), [0.0] * count
    grams = _grams(jacobian, winds, rest)
    best = _best(grams)
    if best is None:
        return np.zeros(jacobian.shape[1]), _plain_halves(jacobian, power, count)
    theta, found = best
    spreads = np.sqrt(np.maximum(_variances(found, count), 0.0))
    free = _freedom(grams, theta, found, count)
    return found.moved, [float(stdtrit(free[k], (1 + SHARE) / 2) * spreads[k]) for k in range(count)]


def _plain_halves(jacobian: Array, power: float, count: int) -> list[float]:
    """Of independent noise, where nothing better can be solved."""
    free = max(1, jacobian.shape[0] - jacobian.shape[1])
    inverse = np.linalg.pinv(jacobian.T @ jacobian) * power / free
    return [float(stdtrit(free, (1 + SHARE) / 2) * math.sqrt(max(0.0, inverse[k, k]))) for k in range(count)]


def _variances(found: _Tried, count: int) -> Array:
    scale = np.sqrt(np.maximum(np.diag(found.normal), 1e-300))
    inverse = np.linalg.pinv(found.normal / np.outer(scale, scale), hermitian=True) / np.outer(scale, scale)
    return np.asarray(np.diag(inverse)[:count] * found.variance)


def _freedom(grams: _Grams, theta: Array, found: _Tried, count: int) -> Array:
    """Degrees of freedom of each variance (Satterthwaite).

    2 over the relative variance that share, spread and size leave in it.
    """
    size = len(theta)
    steps = np.eye(size) * STEP

    def cost(at: Array) -> float:
        one = _at(grams, at)
        return math.nan if one is None else one.cost

    curve = np.zeros((size, size))
    for i in range(size):
        for j in range(size):
            four = [cost(theta + a * steps[i] + b * steps[j]) for a, b in ((1, 1), (1, -1), (-1, 1), (-1, -1))]
            curve[i, j] = (four[0] - four[1] - four[2] + four[3]) / (4 * STEP * STEP)
    tilt = np.zeros((size, count))
    for i in range(size):
        up, down = _at(grams, theta + steps[i]), _at(grams, theta - steps[i])
        if up is None or down is None:
            return np.full(count, LEAST_FREE)
        tilt[i] = (np.log(_variances(up, count)) - np.log(_variances(down, count))) / (2 * STEP)
    # the size of the noise is profiled out: its own doubt is that of a variance with n − p degrees of freedom
    relative = np.full(count, 2.0 / grams.free)
    if not (np.isfinite(curve).all() and np.isfinite(tilt).all()):
        return np.full(count, LEAST_FREE)
    sizes, ways = np.linalg.eigh((curve + curve.T) / 4.0)
    information = (ways * np.maximum(sizes, 0.0)) @ ways.T + np.diag([1e-9, 1.0 / LOG_SPREAD**2])
    relative = relative + np.einsum("ik,ij,jk->k", tilt, np.linalg.inv(information), tilt)
    return np.asarray(np.clip(2.0 / relative, LEAST_FREE, grams.free))
