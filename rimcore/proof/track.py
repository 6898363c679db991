"""A track drawn to scale with its gates, sectors of its runs, and where time is lost, for the page."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from rimcore.drawing.charts import nice_step
from rimcore.proof.positions import EARTH_M, Gate, Run, Runs, plane
from rimcore.quantities.errors import BadInput

Floats = NDArray[np.float64]
#: size of the drawing, its margin [drawing units], and points that are drawn at the most
WIDE, HIGH, EDGE, POINTS = 720.0, 420.0, 24.0, 900
#: a gate is no longer than this [m], and no shorter
LONGEST_M, SHORTEST_M = 2000.0, 1.0
#: sectors of a run, by distance
SECTORS = 3


@dataclass(frozen=True)
class Sheet:
    """Where a track stands on its drawing: origin (deg), metres to a drawing unit, and the corner of the drawing [m]."""

    lat: float
    lon: float
    m_per_unit: float
    left_m: float
    top_m: float

    def at(self, lat: float, lon: float) -> tuple[float, float]:
        """A position on the drawing.

        >>> Sheet(50.0, 8.0, 2.0, -10.0, 10.0).at(50.0, 8.0)
        (5.0, 5.0)
        """
        x, y = plane(np.array([lat]), np.array([lon]), (self.lat, self.lon))[0]
        across, down = (float(x) - self.left_m) / self.m_per_unit, (self.top_m - float(y)) / self.m_per_unit
        return round(across, 1), round(down, 1)

    def back(self, x: float, y: float) -> tuple[float, float]:
        """A place of the drawing as latitude and longitude.

        >>> [round(one, 6) for one in Sheet(50.0, 8.0, 2.0, -10.0, 10.0).back(5.0, 5.0)]
        [50.0, 8.0]
        """
        east, north = self.left_m + x * self.m_per_unit, self.top_m - y * self.m_per_unit
        lat = self.lat + math.degrees(north / EARTH_M)
        return lat, self.lon + math.degrees(east / (EARTH_M * math.cos(math.radians(self.lat))))


def sheet_of(lat: Floats, lon: Floats) -> Sheet:
    """The sheet on which a track fills the drawing, to one scale both ways.

    Parameters
    ----------
    lat, lon : (n,), n ≥ 2 [deg]

    Source: ``plane``; one scale.

    Raises
    ------
    BadInput : the track does not move, or is wider than 200 km

    >>> sheet_of(np.array([50.0, 50.001]), np.array([8.0, 8.0])).m_per_unit
    0.299
    """
    middle = float((lat.min() + lat.max()) / 2.0), float((lon.min() + lon.max()) / 2.0)
    where = plane(lat, lon, middle)
    (left, low), (right, high) = where.min(axis=0), where.max(axis=0)
    if max(right - left, high - low) < 5.0:
        raise BadInput("does not move; accepted: a track of some metres at least", "file")
    if max(right - left, high - low) > 200_000.0:
        raise BadInput("is over 200 km wide; accepted: the track of one place", "file")
    scale = max((right - left) / (WIDE - 2 * EDGE), (high - low) / (HIGH - 2 * EDGE))
    centre = (left + right) / 2.0, (low + high) / 2.0
    return Sheet(
        *middle,
        round(float(scale), 3),
        float(centre[0] - scale * WIDE / 2.0),
        float(centre[1] + scale * HIGH / 2.0),
    )


def line_of(sheet: Sheet, lat: Floats, lon: Floats) -> str:
    """The track as points of a polyline; every so many of them.

    Parameters
    ----------
    sheet : of the track
    lat, lon : (n,) [deg]

    Source: none; drawing.

    >>> line_of(Sheet(50.0, 8.0, 2.0, -10.0, 10.0), np.array([50.0]), np.array([8.0]))
    '5.0,5.0'
    """
    step = max(1, -(-len(lat) // POINTS))
    where = plane(lat[::step], lon[::step], (sheet.lat, sheet.lon))
    x = (where[:, 0] - sheet.left_m) / sheet.m_per_unit
    y = (sheet.top_m - where[:, 1]) / sheet.m_per_unit
    return " ".join(f"{one:.1f},{other:.1f}" for one, other in zip(x, y, strict=True))


def scale_bar(sheet: Sheet) -> tuple[float, float]:
    """A round length and how long it is drawn: [m], [drawing units].

    Parameters
    ----------
    sheet : of the track

    Source: none; a convention of this program.

    >>> scale_bar(Sheet(50.0, 8.0, 2.0, -10.0, 10.0))
    (500.0, 250.0)
    """
    metres = nice_step(sheet.m_per_unit * 110.0, 1)
    return metres, round(metres / sheet.m_per_unit, 1)


def gate_of(sheet: Sheet, ends: Sequence[float]) -> Gate:
    """A gate from two places of the drawing.

    Parameters
    ----------
    sheet : of the track
    ends : x, y, x, y [drawing units]

    Source: none.

    Raises
    ------
    BadInput : no two places on the drawing, or a gate too short or too long

    >>> gate_of(Sheet(50.0, 8.0, 2.0, -10.0, 10.0), (5, 5, 15, 5))[0]
    (50.0, 8.0)
    """
    if len(ends) != 4 or not all(math.isfinite(one) and -100.0 <= one <= WIDE + 100.0 for one in ends):
        raise BadInput("wants two places on the drawing", "gate")
    long = math.hypot(ends[2] - ends[0], ends[3] - ends[1]) * sheet.m_per_unit
    if not SHORTEST_M <= long <= LONGEST_M:
        raise BadInput(f"is {long:.1f} m long; accepted: {SHORTEST_M:.0f} to {LONGEST_M:.0f} m", "gate")
    return sheet.back(ends[0], ends[1]), sheet.back(ends[2], ends[3])


def sectors_of(run: Run) -> tuple[float, ...]:
    """Time in each third of a run's own distance [s].

    Parameters
    ----------
    run : with its time at 21 shares

    Source: by proportion between the shares.

    >>> [round(one, 3) for one in sectors_of(Run(0.0, 30.0, 300.0, 36.0, 40.0, False, tuple(1.5 * k for k in range(21))))]
    [10.0, 10.0, 10.0]
    """
    ends = np.interp(np.linspace(0.0, 1.0, SECTORS + 1), np.linspace(0.0, 1.0, len(run.at)), run.at)
    return tuple(float(one) for one in np.diff(ends))


def best_of_sectors(runs: Runs) -> float | None:
    """Sum of the best sectors of all runs without a gap [s]; None without any.

    Parameters
    ----------
    runs : of one log

    Source: none; a sum.

    >>> best_of_sectors(Runs((), None, ())) is None
    True
    """
    found = [sectors_of(run) for run in runs.runs if not run.gap]
    return None if not found else float(sum(min(column) for column in zip(*found, strict=True)))


def lost_lines(delta: Sequence[tuple[int, Sequence[float]]], wide: float, high: float) -> tuple[list[str], float]:
    """Time lost against the best along the track as polylines, and how many seconds reach the edge.

    Parameters
    ----------
    delta : run's place and its 21 figures [s]
    wide, high : of the drawing

    Source: none; drawing. Loss is downwards.

    >>> lost_lines([(1, [0.0, 0.5])], 100.0, 50.0)
    (['0.0,25.0 100.0,50.0'], 0.5)
    """
    most = max((abs(value) for _, row in delta for value in row), default=0.0)
    edge = most if most > 0 else 1.0
    lines = [
        " ".join(
            f"{wide * k / (len(row) - 1):.1f},{high / 2.0 * (1.0 + value / edge):.1f}" for k, value in enumerate(row)
        )
        for _, row in delta
    ]
    return lines, round(edge, 2)
