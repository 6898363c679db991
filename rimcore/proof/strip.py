"""A scatter strip: round ends and ticks, and the step in which its figures were read."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

#: length of a strip [drawing units]
STRIP = 340.0


@dataclass(frozen=True)
class Scale:
    """A strip's ends and its ticks: where each stands, and what is written there."""

    low: float
    high: float
    ticks: tuple[tuple[float, str], ...]

    def at(self, value: float) -> float:
        """Where a value stands on the strip [drawing units].

        >>> scale_of([6.4, 7.4]).at(6.9)
        170.0
        """
        return round((value - self.low) / (self.high - self.low) * STRIP, 1)

    def mean_at(self, values: Sequence[float]) -> float | None:
        """Where the mean of some values stands; None without any.

        >>> scale_of([6.4, 7.4]).mean_at([6.8, 7.0]), scale_of([6.4, 7.4]).mean_at([])
        (170.0, None)
        """
        return self.at(sum(values) / len(values)) if values else None


def scale_of(values: Sequence[float]) -> Scale:
    """The scale of a strip that holds some values.

    Parameters
    ----------
    values : to be shown (n,), n ≥ 1

    Source: ``strip_scale``.

    >>> scale_of([6.4, 7.3]).ticks[0]
    (0.0, '6.40')
    """
    low, high, ticks = strip_scale(values)
    bare = Scale(low, high, ())
    places = 0 if high - low >= 20 else 1 if high - low >= 2 else 2
    return Scale(low, high, tuple((bare.at(tick), f"{tick:.{places}f}".replace("-", "−")) for tick in ticks))


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
