"""The map over steer and travel, and the bands of offsets, as plain numbers."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from rimcore.well.bands import Band
from rimcore.well.wellmap import WellMap


@dataclass(frozen=True)
class MapScene:
    """The map over steer and travel in drawing units: one path a state, axes, and where poses lie."""

    width: float
    height: float
    x0: float
    y0: float
    x1: float
    y1: float
    paths: dict[str, str]
    zero_x: float
    zero_y: float
    pose_x: float
    pose_y: float
    marks: list[tuple[float, float, str]]


def map_scene(
    found: WellMap, steer_deg: float, travel_mm: float, rest_mm: float, marks: Sequence[tuple[float, float, str]] = (),
    width: float = 260, height: float = 178,
) -> MapScene:  # fmt: skip
    """Draw the map: steer to the right is outboard, travel upward is bump; hits are hatched.

    Parameters
    ----------
    rest_mm : where the build stands, drawn as the level line
    marks : poses to mark, such as traces of rubs: (steer [deg], travel [mm], name)
    """
    x0, y0, x1, y1 = 4.0, 4.0, width - 40.0, height - 22.0
    columns, rows = _edges(found.steer_deg, x0, x1), _edges(found.travel_mm, y1, y0)
    paths: dict[str, str] = {}
    for j, row in enumerate(found.cells):
        start = 0
        for i in range(1, len(row) + 1):
            if i == len(row) or row[i].state != row[start].state:
                run = f"M{columns[start]:.1f} {rows[j]:.1f}H{columns[i]:.1f}V{rows[j + 1]:.1f}H{columns[start]:.1f}z"
                paths[row[start].state] = paths.get(row[start].state, "") + run
                start = i

    def x_of(value: float) -> float:
        return float(np.interp(value, _ends(found.steer_deg), (x0, x1)))

    def y_of(value: float) -> float:
        return float(np.interp(value, _ends(found.travel_mm), (y1, y0)))

    placed_marks = [(x_of(s), y_of(t), name) for s, t, name in marks]
    return MapScene(width, height, x0, y0, x1, y1, paths, x_of(0.0), y_of(rest_mm), x_of(steer_deg), y_of(travel_mm), placed_marks)


def _ends(values: Sequence[float]) -> tuple[float, float]:
    """First and last value; a single one stands in the middle of its axis."""
    return (values[0], values[-1]) if len(values) > 1 else (values[0] - 1.0, values[0] + 1.0)


def _edges(values: Sequence[float], start: float, end: float) -> list[float]:
    """Edges of cells half way between their values, in drawing units."""
    if len(values) == 1:
        return [start, end]
    middles = [(a + b) / 2 for a, b in zip(values, values[1:], strict=False)]
    return [float(x) for x in np.interp([values[0], *middles, values[-1]], (values[0], values[-1]), (start, end))]


@dataclass(frozen=True)
class BandRow:
    """One width's offsets as bars in drawing units."""

    label: str
    y: float
    contact: tuple[float, float] | None
    clear: tuple[float, float] | None
    note: str
    here: float | None
    offset: int


@dataclass(frozen=True)
class BandScene:
    """Offsets that go in, by width, over one scale of offsets."""

    width: float
    height: float
    rows: list[BandRow]
    ticks: list[tuple[float, str]]
    x0: float
    x1: float
    low: int
    high: int


def band_scene(
    bands: Sequence[Band], labels: Sequence[str], low: int, high: int, here: tuple[float, str], offset_mm: float, width: float = 600
) -> BandScene:
    """Bars of the offsets that go in; light where nothing touches, full where every margin is kept.

    Parameters
    ----------
    labels : one a bar
    here : width [in] and tyre that the setting has; its bar is marked at ``offset_mm``
    """
    x0, x1, step = 80.0, width - 210.0, 30.0

    def x_of(offset: float) -> float:
        return x0 + (offset - low) / (high - low) * (x1 - x0)

    def bar(run: tuple[int, int] | None) -> tuple[float, float] | None:
        return None if run is None else (x_of(run[0] - 0.5), max(3.0, x_of(run[1] + 0.5) - x_of(run[0] - 0.5)))

    rows = []
    for k, (band, label) in enumerate(zip(bands, labels, strict=True)):
        at = x_of(offset_mm) if (band.width_in, band.tyre) == here and low <= offset_mm <= high else None
        note = f"out: {band.low_limit} · in: {band.high_limit}" if band.no_contact else f"nothing fits; least at {band.best_mm:+d}"
        rows.append(BandRow(label, 14 + k * step, bar(band.no_contact), bar(band.all_clear), note, at, band.best_mm))
    first = -(-low // 5) * 5
    ticks = [(x_of(tick), f"{tick:+d}".replace("-", "−")) for tick in range(first, high + 1, 5 if high - low <= 60 else 10)]
    return BandScene(width, 26 + len(bands) * step, rows, ticks, x0, x1, low, high)
