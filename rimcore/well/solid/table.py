"""Distances round an outline from a table: quick, and right within a stated error."""

from __future__ import annotations

from functools import lru_cache
from typing import Any

import numpy as np
from numpy.typing import NDArray

from rimcore.well.solid.polygon import AXIS_MM, signed_distance

Array = NDArray[np.float64]


AnyFloat = NDArray[np.floating[Any]]


#: step of the distance table and how far it reaches round the outline [mm]
TABLE_MM, TABLE_REACH_MM = 1.5, 150.0


#: band round the outline in which the table's nodes are exact [mm]
TABLE_BAND_MM = 40.0


#: beyond the band every so many nodes are exact
FAR_EVERY = 4


#: most that the table may be wrong between its nodes, inside the band [mm]
TABLE_ERROR_MM = 0.6


#: the same for the nearest node alone: half of a cell's diagonal
ROUGH_ERROR_MM = 1.1


class Shape:
    """An outline: exact distances, and a table that is right within ``TABLE_ERROR_MM``."""

    def __init__(self, outline_mm: Array) -> None:
        self.outline = outline_mm
        self.low = outline_mm.min(axis=0) - TABLE_REACH_MM
        self.low[1] = max(self.low[1], 0.0)
        self.table = _table(outline_mm, self.low, outline_mm.max(axis=0) + TABLE_REACH_MM).astype(np.float32)

    def distance(self, across: Array, radius: Array) -> Array:
        """Exact signed distance, any shape."""
        flat = np.column_stack([np.ravel(across), np.ravel(radius)])
        return signed_distance(self.outline, flat).reshape(np.shape(across))

    def about(self, across: AnyFloat, radius: AnyFloat) -> Array:
        """Distance from the table, between its nodes linearly; beyond it, that of its edge and the way there."""
        rows, columns = self.table.shape
        # Plain floats, so that single precision stays single.
        step, low_across, low_radius = float(TABLE_MM), float(self.low[0]), float(self.low[1])
        i, j = (across - low_across) * (1 / step), (radius - low_radius) * (1 / step)
        ci, cj = np.clip(i, 0, rows - 1.001), np.clip(j, 0, columns - 1.001)
        fi, fj = ci.astype(np.int32), cj.astype(np.int32)
        ci -= fi
        cj -= fj
        fi *= columns
        fi += fj
        flat = self.table.ravel()
        low, high = flat.take(fi), flat.take(fi + 1)
        low += (high - low) * cj
        fi += columns
        upper, high = flat.take(fi), flat.take(fi + 1)
        upper += (high - upper) * cj
        low += (upper - low) * ci
        outside = (i < 0) | (i > rows - 1) | (j < 0) | (j > columns - 1)
        if outside.any():
            beyond_i = np.maximum(np.maximum(-i, i - rows + 1)[outside], 0)
            beyond_j = np.maximum(np.maximum(-j, j - columns + 1)[outside], 0)
            low[outside] += step * np.hypot(beyond_i, beyond_j)
        return np.asarray(low)

    def roughly(self, across: AnyFloat, radius: AnyFloat) -> AnyFloat:
        """Distance of the nearest node of the table, right within ``ROUGH_ERROR_MM``; beyond the table, of its edge."""
        rows, columns = self.table.shape
        step = 1 / float(TABLE_MM)
        i = ((across - (float(self.low[0]) - TABLE_MM / 2)) * step).astype(np.int32)
        j = ((radius - (float(self.low[1]) - TABLE_MM / 2)) * step).astype(np.int32)
        np.clip(i, 0, rows - 1, out=i)
        np.clip(j, 0, columns - 1, out=j)
        i *= columns
        i += j
        return np.asarray(self.table.ravel().take(i))


def _table(outline_mm: Array, low: Array, high: Array) -> Array:
    """Signed distances on a grid, shape (across, radius).

    Exact in the band, beyond it between exact ones further apart.
    """
    across, radius = np.arange(low[0], high[0], TABLE_MM), np.arange(low[1], high[1], TABLE_MM)
    table = _banded(outline_mm, across, radius)
    far = table > TABLE_BAND_MM
    if far.any():
        places = [np.append(np.arange(0, count, FAR_EVERY), count - 1) for count in table.shape]
        coarse = table[np.ix_(*places)]
        i, j = np.nonzero(coarse > TABLE_BAND_MM)
        coarse[i, j] = abs(signed_distance(outline_mm, np.column_stack([across[places[0][i]], radius[places[1][j]]])))
        table[far] = _between_nodes(coarse, places)[far]
    return np.where(_inside(outline_mm, across, radius), -table, table)


def _inside(outline_mm: Array, across: Array, radius: Array) -> NDArray[np.bool_]:
    """Is a node of the grid inside the outline? Even-odd along every row of radius."""
    start, end = outline_mm, np.roll(outline_mm, -1, axis=0)
    rows = radius + 1e-7
    edge, row = np.nonzero((start[:, 1:2] > rows) != (end[:, 1:2] > rows))
    share = (rows[row] - start[edge, 1]) / (end[edge, 1] - start[edge, 1])
    crossings = np.zeros((len(across) + 1, len(radius)), dtype=np.int32)
    np.add.at(crossings, (np.searchsorted(across, start[edge, 0] + share * (end[edge, 0] - start[edge, 0])), row), 1)
    return np.asarray(np.cumsum(crossings, axis=0)[:-1] % 2 == 1)


def _banded(outline_mm: Array, across: Array, radius: Array) -> Array:
    """Distance to the nearest edge, exact up to ``TABLE_BAND_MM``.

    Every edge only asks the nodes of the box around it.
    """
    least = np.full((len(across), len(radius)), np.inf)
    for start, end in zip(outline_mm, np.roll(outline_mm, -1, axis=0), strict=True):
        if max(start[1], end[1]) <= AXIS_MM:
            continue
        low, high = np.minimum(start, end) - TABLE_BAND_MM, np.maximum(start, end) + TABLE_BAND_MM
        i, j = np.searchsorted(across, [low[0], high[0]]), np.searchsorted(radius, [low[1], high[1]])
        box = slice(*i), slice(*j)
        y, r = across[box[0], None] - start[0], radius[None, box[1]] - start[1]
        dy, dr = end - start
        along = np.clip((y * dy + r * dr) / max(dy * dy + dr * dr, 1e-30), 0.0, 1.0)
        least[box] = np.minimum(least[box], (y - along * dy) ** 2 + (r - along * dr) ** 2)
    return np.asarray(np.sqrt(least))


def _between_nodes(coarse: Array, places: list[NDArray[np.intp]]) -> Array:
    """A table known at some rows and columns, made linear between them."""
    for axis, known in enumerate(places):
        at = np.arange(known[-1] + 1)
        before = np.clip(np.searchsorted(known, at, side="right") - 1, 0, len(known) - 2)
        share = (at - known[before]) / np.maximum(known[before + 1] - known[before], 1)
        share = share[:, None] if axis == 0 else share[None, :]
        coarse = np.asarray(np.take(coarse, before, axis) * (1 - share) + np.take(coarse, before + 1, axis) * share)
    return coarse


@lru_cache(maxsize=64)
def _shape(outline_bytes: bytes) -> Shape:
    return Shape(np.frombuffer(outline_bytes).reshape(-1, 2).copy())


def shape_of(outline_mm: Array) -> Shape:
    """The shape of an outline, kept for the next time.

    Source: none; a container.

    Parameters
    ----------
    outline_mm : closed half section (n, 2), n ≥ 3 [mm]
    """
    return _shape(np.ascontiguousarray(outline_mm, dtype=float).tobytes())
