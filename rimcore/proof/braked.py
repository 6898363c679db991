"""Braking distance out of a speed log: from the last time the speed falls through one figure, to another."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from rimcore.tables.facts import G_M_PER_S2

Floats = NDArray[np.float64]
#: below this a car stands, as far as a log tells [km/h]
STANDS_KMH = 1.0


@dataclass(frozen=True)
class Stopped:
    """One stop: when it began, how long, how far, mean deceleration [g], and what it would be on the level."""

    start_s: float
    time_s: float
    distance_m: float
    mean_g: float
    level_m: float | None


def stops_of(
    samples: Floats, from_kmh: float, to_kmh: float = 0.0, slope_pct: float | None = None
) -> tuple[Stopped, ...]:
    """Every stop of a log.

    Distance by trapezes, ends by proportion. To 0: the line through the last two samples at or above 1 km/h is
    followed to 0, at the latest to the first sample below.

    Parameters
    ----------
    samples : (n, 2) time, rising [s], speed [km/h]
    from_kmh, to_kmh : 0 ≤ to < from [km/h]
    slope_pct : uphill plus; None where it is not known [%]

    Source: trapezoidal rule; v² = 2 a s.

    >>> t = np.linspace(0, 4, 41)
    >>> found = stops_of(np.column_stack([t, np.maximum(0, 100 - 36 * t)]), 90.0)[0]
    >>> round(found.distance_m, 3), round(found.mean_g, 4)
    (31.25, 1.0197)
    """
    times, speeds = samples[:, 0], samples[:, 1]
    found = []
    falls = np.flatnonzero((speeds[:-1] >= from_kmh) & (speeds[1:] < from_kmh))
    reached = np.flatnonzero((speeds[:-1] > to_kmh) & (speeds[1:] <= to_kmh)) if to_kmh > 0 else _stands(speeds)
    for k, piece in enumerate(falls):
        later = reached[reached >= piece]
        if not later.size or (k + 1 < len(falls) and falls[k + 1] <= later[0]):
            continue
        one = _stop(times, speeds, (int(piece), int(later[0])), (from_kmh, to_kmh), slope_pct)
        if one is not None:
            found.append(one)
    return tuple(found)


def _stands(speeds: Floats) -> NDArray[np.intp]:
    """Pieces at whose end the car stands first."""
    return np.flatnonzero((speeds[:-1] >= STANDS_KMH) & (speeds[1:] < STANDS_KMH))


def _stop(
    times: Floats, speeds: Floats, pieces: tuple[int, int], bounds: tuple[float, float], slope_pct: float | None
) -> Stopped | None:
    first, last = pieces
    begins = _when(times, speeds, first, bounds[0])
    ends = _when(times, speeds, last, bounds[1]) if bounds[1] > 0 else _rests(times, speeds, last)
    inside = np.arange(first + 1, last + 1)
    at = np.concatenate([[begins], times[inside], [ends]])
    kmh = np.concatenate([[bounds[0]], speeds[inside], [bounds[1]]])
    distance = float(np.sum((kmh[1:] + kmh[:-1]) / 2.0 * np.diff(at))) / 3.6
    if ends <= begins or distance <= 0:
        return None
    squares = (bounds[0] / 3.6) ** 2 - (bounds[1] / 3.6) ** 2
    slowing = squares / (2.0 * distance)
    level = None
    if slope_pct is not None:
        flat = slowing - G_M_PER_S2 * slope_pct / 100.0
        level = distance * slowing / flat if flat > 0 else None
    return Stopped(begins, ends - begins, distance, slowing / G_M_PER_S2, level)


def _when(times: Floats, speeds: Floats, piece: int, kmh: float) -> float:
    """When a falling piece passes a speed, by proportion."""
    share = (speeds[piece] - kmh) / (speeds[piece] - speeds[piece + 1])
    return float(times[piece] + share * (times[piece + 1] - times[piece]))


def _rests(times: Floats, speeds: Floats, piece: int) -> float:
    """When it comes to rest: along the last line above 1 km/h, at the latest at the first sample below."""
    seen = float(times[piece + 1])
    above = np.flatnonzero(speeds[: piece + 1] >= STANDS_KMH)[-2:]
    if len(above) < 2:
        return seen
    fall = (speeds[above[0]] - speeds[above[1]]) / (times[above[1]] - times[above[0]])
    if fall <= 0:
        return seen
    return min(seen, float(times[above[1]] + speeds[above[1]] / fall))
