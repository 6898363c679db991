"""The map over steer and travel, and the bands of offsets, as plain numbers."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any

import contourpy
import numpy as np
from numpy.typing import NDArray

from rimcore.well.judge.bands import Band
from rimcore.well.judge.wellmap import WellMap

Array = NDArray[np.float64]


@dataclass(frozen=True)
class MapScene:
    """The map over steer and travel in drawing units: areas by state, contours, axes, and where poses lie."""

    width: float
    height: float
    x0: float
    y0: float
    x1: float
    y1: float
    #: areas by state, in the order in which they are laid over each other
    paths: dict[str, str]
    #: contours: name ("touches", "margin", "10 mm") -> path
    lines: dict[str, str]
    zero_x: float
    zero_y: float
    pose_x: float
    pose_y: float
    marks: list[tuple[float, float, str]]


def map_scene(
    found: WellMap,
    steer_deg: float,
    travel_mm: float,
    rest_mm: float,
    marks: Sequence[tuple[float, float, str]] = (),
    width: float = 260,
    height: float = 178,
) -> MapScene:
    """Draw the map: steer to the right is outboard, travel upward is bump; hits are hatched.

    Parameters
    ----------
    rest_mm : where the build stands, drawn as the level line [mm]
    marks : poses to mark, such as traces of rubs: (steer [deg], travel [mm], name)
    """
    x0, y0, x1, y1 = 4.0, 4.0, width - 40.0, height - 22.0
    field = _Field.of(found, (x0, x1), (y1, y0))
    states = {cell.state for row in found.cells for cell in row}
    frame = f"M{x0:.1f} {y0:.1f}H{x1:.1f}V{y1:.1f}H{x0:.1f}z"
    areas = {
        "tight": frame if states & {"tight", "hit", "clear"} else "",
        "clear": field.above("left") if "clear" in states else "",
        "hit": field.below("gap"),
        "unmeasured": _blocks(found, (x0, x1), (y1, y0)),
    }
    paths = {state: path for state, path in areas.items() if path}
    lines = {"touches": field.line("gap", 0.0), "margin": field.line("left", 0.0), "10 mm": field.line("gap", 10.0)}

    def x_of(value: float) -> float:
        return float(np.interp(value, _ends(found.steer_deg), (x0, x1)))

    def y_of(value: float) -> float:
        return float(np.interp(value, _ends(found.travel_mm), (y1, y0)))

    placed_marks = [(x_of(s), y_of(t), name) for s, t, name in marks]
    return MapScene(
        width=width,
        height=height,
        x0=x0,
        y0=y0,
        x1=x1,
        y1=y1,
        paths=paths,
        lines=lines,
        zero_x=x_of(0.0),
        zero_y=y_of(rest_mm),
        pose_x=x_of(steer_deg),
        pose_y=y_of(travel_mm),
        marks=placed_marks,
    )


def _blocks(found: WellMap, across: tuple[float, float], up: tuple[float, float]) -> str:
    """Poses at which nobody knows, cell by cell: nothing is drawn smooth that was not reckoned."""
    columns, rows = _edges(found.steer_deg, *across), _edges(found.travel_mm, *up)
    path = ""
    for j, row in enumerate(found.cells):
        start = 0
        for i in range(1, len(row) + 1):
            if i == len(row) or row[i].state != row[start].state:
                if row[start].state == "unmeasured":
                    path += (
                        f"M{columns[start]:.1f} {rows[j]:.1f}H{columns[i]:.1f}V{rows[j + 1]:.1f}H{columns[start]:.1f}z"
                    )
                start = i
    return path


@dataclass(frozen=True)
class _Field:
    """Gap and what is left over the margins at every pose, with the drawing's axes.

    Contours are interpolated between poses.
    """

    x: Array
    y: Array
    gap: Array
    left: Array

    @classmethod
    def of(cls, found: WellMap, across: tuple[float, float], up: tuple[float, float]) -> _Field:
        """Values of shape (travel, steer), both at least 2; one column or row stands for its whole width."""
        gap = np.array([[cell.gap_mm for cell in row] for row in found.cells])
        left = np.array([[cell.left_mm for cell in row] for row in found.cells])
        x = np.interp(found.steer_deg, _ends(found.steer_deg), across) if len(found.steer_deg) > 1 else np.array(across)
        y = np.interp(found.travel_mm, _ends(found.travel_mm), up) if len(found.travel_mm) > 1 else np.array(up)
        shape = (len(y), len(x))
        return cls(x, y, np.broadcast_to(gap, shape), np.broadcast_to(left, shape))

    def _contours(self, name: str) -> contourpy.ContourGenerator:
        return contourpy.contour_generator(self.x, self.y, getattr(self, name), fill_type="OuterCode")

    def above(self, name: str) -> str:
        """Where a value is 0 or more, as a path."""
        return self._filled(name, 0.0, math.inf)

    def below(self, name: str) -> str:
        """Where a value is under 0, as a path."""
        return self._filled(name, -math.inf, 0.0)

    def _filled(self, name: str, low: float, high: float) -> str:
        found: Any = self._contours(name).filled(low, high)
        points, codes = found[0], found[1]
        return "".join(_path(each, code) for each, code in zip(points, codes, strict=True) if each is not None)

    def line(self, name: str, level: float) -> str:
        """A contour as a path; empty where there is none."""
        runs: Any = self._contours(name).lines(level)
        return "".join("M" + "L".join(f"{x:.1f} {y:.1f}" for x, y in run) for run in runs)


def _path(points: Array, codes: NDArray[np.uint8]) -> str:
    """A polygon with its holes; codes are 1 to begin, 2 to go on, 79 to close."""
    begin = 1
    return (
        "".join(f"{'M' if code == begin else 'L'}{x:.1f} {y:.1f}" for (x, y), code in zip(points, codes, strict=True))
        + "z"
    )


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
    bands: Sequence[Band],
    labels: Sequence[str],
    low: int,
    high: int,
    here: tuple[float, str],
    offset_mm: float,
    width: float = 600,
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
        note = (
            f"out: {band.low_limit} · in: {band.high_limit}"
            if band.no_contact
            else f"nothing fits; least at {band.best_mm:+d}".replace("-", "−")
        )
        rows.append(BandRow(label, 14 + k * step, bar(band.no_contact), bar(band.all_clear), note, at, band.best_mm))
    first = -(-low // 5) * 5
    ticks = [
        (x_of(tick), f"{tick:+d}".replace("-", "−")) for tick in range(first, high + 1, 5 if high - low <= 60 else 10)
    ]
    return BandScene(
        width=width, height=26 + len(bands) * step, rows=rows, ticks=ticks, x0=x0, x1=x1, low=low, high=high
    )
