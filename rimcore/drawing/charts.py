"""Curves as plain numbers: scales, ticks, paths."""

from __future__ import annotations

import json
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field

import numpy as np
from numpy.typing import NDArray

Array = NDArray[np.float64]
CHART_W, CHART_H, LEFT, TOP, RIGHT, BOTTOM = 380.0, 230.0, 56.0, 12.0, 12.0, 30.0


@dataclass(frozen=True)
class Chart:
    """One curve over travel or rack with its band, another before it dashed, ticks and the place in hand."""

    name: str
    unit: str
    width: float
    height: float
    x0: float
    y0: float
    x1: float
    y1: float
    line: str
    before: str
    band: str
    across: tuple[tuple[float, str], ...]
    up: tuple[tuple[float, str], ...]
    zero_y: float | None
    here: tuple[float, float] | None
    further: tuple[str, ...] = ()
    #: places across that are marked, with their names
    marks: tuple[tuple[float, str], ...] = ()
    #: the same figures as they are, for a drawing that can be read off: rows of values, ends of the axes, ticks and
    #: marks with their words
    figures: Mapping[str, object] = field(default_factory=dict, repr=False)

    @property
    def as_json(self) -> str:
        """Figures as JSON."""
        return json.dumps({"name": self.name, "unit": self.unit, **self.figures}, ensure_ascii=False)


def nice_step(span: float, wanted: int = 5) -> float:
    """A round step that gives about so many ticks.

    >>> nice_step(97.0), nice_step(0.31)
    (20.0, 0.1)
    """
    rough = max(span, 1e-9) / wanted
    size = 10.0 ** np.floor(np.log10(rough))
    return float(next(size * m for m in (1, 2, 5, 10) if size * m >= rough - 1e-12))


def _said(value: float, step: float) -> str:
    places = max(0, int(-np.floor(np.log10(step) + 1e-9)))
    return f"{value:.{places}f}".replace("-", "−") if abs(value) > step / 1e6 else "0"


def chart(
    name: str,
    unit: str,
    across: Array,
    value: Array,
    before: Array | None = None,
    band: tuple[Array, Array] | None = None,
    here: float | None = None,
    further: Sequence[Array] = (),
    least_span: float = 0.1,
    marks: Sequence[tuple[float, str]] = (),
    names: Sequence[str] = (),
) -> Chart:
    """A curve over another quantity; NaN breaks it. ``names``: of the curve, of the one before, of the further ones.

    Examples
    --------
    >>> found = chart("Camber", "°", np.array([-50.0, 0.0, 50.0]), np.array([0.5, -1.0, -2.5]))
    >>> found.line.startswith("M56.0"), found.across[0][1]
    (True, '−40')
    """
    rows = [value, *(one for one in (before, *(band or ()), *further) if one is not None)]
    known = np.concatenate([row[np.isfinite(row)] for row in rows])
    low, high = (float(known.min()), float(known.max())) if len(known) else (0.0, 1.0)
    if high - low < least_span:
        low, high = (low + high - least_span) / 2, (low + high + least_span) / 2
    room = 0.06 * (high - low)
    low, high = low - room, high + room
    x0, y0, x1, y1 = LEFT, TOP, CHART_W - RIGHT, CHART_H - BOTTOM
    first, last = float(across.min()), float(across.max())
    wide = (last - first) or 1.0

    def at(a: float, v: float) -> tuple[float, float]:
        return round(x0 + (x1 - x0) * (a - first) / wide, 1), round(y1 - (y1 - y0) * (v - low) / (high - low), 1)

    def path(row: Array | None) -> str:
        return (
            ""
            if row is None
            else _path([at(a, v) if np.isfinite(v) else None for a, v in zip(across, row, strict=True)])
        )

    shade = ""
    if band is not None:
        whole = np.isfinite(band[0]) & np.isfinite(band[1])
        if whole.sum() > 1:
            over = [at(a, v) for a, v in zip(across[whole], band[1][whole], strict=True)]
            under = [at(a, v) for a, v in zip(across[whole], band[0][whole], strict=True)][::-1]
            shade = "M" + "L".join(f"{x} {y}" for x, y in over + under) + "Z"
    step_x, step_y = nice_step(last - first, 6), nice_step(high - low)
    words_x = [(t, _said(t, step_x)) for t in _ticks(first, last, step_x)]
    words_y = [(t, _said(t, step_y)) for t in _ticks(low, high, step_y)]
    ticks_x = tuple((at(t, low)[0], said) for t, said in words_x)
    ticks_y = tuple((at(first, t)[1], said) for t, said in words_y)
    spot, point = None, None
    if here is not None and first <= here <= last:
        found = _read_off(across, value, here)
        if found is not None:
            spot, point = at(here, found), (here, found)
    zero = at(first, 0.0)[1] if low < 0 < high else None
    return Chart(
        name=name,
        unit=unit,
        width=CHART_W,
        height=CHART_H,
        x0=x0,
        y0=y0,
        x1=x1,
        y1=y1,
        line=path(value),
        before=path(before),
        band=shade,
        across=ticks_x,
        up=ticks_y,
        zero_y=zero,
        here=spot,
        further=tuple(path(row) for row in further),
        marks=tuple((at(place, low)[0], said) for place, said in marks if first <= place <= last),
        figures={
            "across": [float(f"{one:.6g}") for one in across],
            "now": _plain(value),
            "before": _plain(before),
            "low": _plain(band[0] if band else None),
            "high": _plain(band[1] if band else None),
            "further": [_plain(row) for row in further],
            "ends": [first, last, low, high],
            "ticks": [words_x, words_y],
            "marks": [one for one in marks if first <= one[0] <= last],
            "here": point,
            "names": [
                *names,
                *("now", "before", *(f"line {place + 2}" for place in range(len(further))))[len(names) :],
            ],
        },
    )


def _read_off(across: Array, value: Array, here: float) -> float | None:
    """Value at a place that was read or lies between two that were; None beside a gap.

    >>> over, read = np.arange(4.0), np.array([0.0, np.nan, 1.0, 2.0])
    >>> _read_off(over, read, 2.5), _read_off(over, read, 2.0), _read_off(over, read, 1.5)
    (1.5, 1.0, None)
    """
    at = np.flatnonzero(across == here)
    found = float(value[at[0]]) if len(at) else float(np.interp(here, across, value))
    return found if np.isfinite(found) else None


def _plain(row: Array | None) -> list[float | None]:
    """Four figures are enough to read off; gaps stay gaps.

    >>> _plain(np.array([81.0713, np.nan]))
    [81.07, None]
    """
    return [] if row is None else [float(f"{one:.4g}") if np.isfinite(one) else None for one in row]


def _ticks(low: float, high: float, step: float) -> list[float]:
    return [k * step for k in range(int(np.ceil(low / step - 1e-9)), int(np.floor(high / step + 1e-9)) + 1)]


def _path(points: Sequence[tuple[float, float] | None]) -> str:
    """A path through points; None lifts the pen.

    >>> _path([(0.0, 1.0), None, (2.0, 3.0), (4.0, 5.0)])
    'M0.0 1.0M2.0 3.0L4.0 5.0'
    """
    words_, down = [], False
    for point in points:
        if point is not None:
            words_.append(f"{'L' if down else 'M'}{point[0]} {point[1]}")
        down = point is not None
    return "".join(words_)
