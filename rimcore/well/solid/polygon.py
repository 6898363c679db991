"""Distance from points to a closed outline, vectorised."""

from __future__ import annotations

import math
from dataclasses import dataclass
from functools import lru_cache
from typing import Any

import numpy as np
from numpy.typing import NDArray

Array = NDArray[np.float64]


#: points taken at a time, so that the arrays stay in the cache
CHUNK = 768


#: from here on points are taken in single precision
SINGLE_FROM = 48


#: an edge whose ends both lie this near to the axis is not a surface [mm]
AXIS_MM = 1e-9


def signed_distance(outline_mm: Array, points_mm: Array) -> Array:
    """Signed distance of points to a closed half section, negative inside.

    Parameters
    ----------
    outline_mm : shape (m, 2), across and radius [mm], closed (first vertex may be repeated)
    points_mm : shape (n, 2), across and radius [mm], radius not negative

    Returns
    -------
    shape (n,) [mm]; edges that lie on the axis are not counted as a surface. Above ``SINGLE_FROM`` points in
    single precision, which is right within 0.0001 mm.

    Examples
    --------
    >>> square = np.array([[0.0, 10.0], [10.0, 10.0], [10.0, 20.0], [0.0, 20.0]])
    >>> signed_distance(square, np.array([[5.0, 12.0], [15.0, 15.0]])).tolist()
    [-2.0, 5.0]
    """
    if len(points_mm) < SINGLE_FROM:
        return _signed(_edges(outline_mm), points_mm)
    edges, points = _edges(outline_mm, True), points_mm.astype(np.float32)
    found = np.empty(len(points))
    for at in range(0, len(points), CHUNK):
        found[at : at + CHUNK] = _signed(edges, points[at : at + CHUNK])
    return found


@dataclass(frozen=True)
class _Edges:
    """Edges of an outline, one array a quantity, shape (m,), in single or double precision."""

    y: NDArray[Any]
    r: NDArray[Any]
    dy: NDArray[Any]
    dr: NDArray[Any]
    per_length2: NDArray[Any]
    slope: NDArray[Any]
    surface: NDArray[np.bool_]
    #: all edges are surface, and the box around them: across from, to, radius from, to
    whole: bool
    box: tuple[float, float, float, float]


def _edges(outline_mm: Array, single: bool = False) -> _Edges:
    return _edges_of(np.ascontiguousarray(outline_mm, dtype=float).tobytes(), single)


@lru_cache(maxsize=512)
def _edges_of(outline_bytes: bytes, single: bool) -> _Edges:
    outline_mm = np.frombuffer(outline_bytes).reshape(-1, 2)
    start = outline_mm[:-1] if (outline_mm[0] == outline_mm[-1]).all() else outline_mm
    end = np.concatenate([start[1:], start[:1]])
    dy, dr = (end - start).T
    surface = ~((start[:, 1] <= AXIS_MM) & (end[:, 1] <= AXIS_MM))
    with np.errstate(divide="ignore", invalid="ignore"):
        slope = np.where(dr != 0, dy / np.where(dr != 0, dr, 1.0), 0.0)
    low, high = start.min(axis=0), start.max(axis=0)
    per_length2 = 1.0 / np.maximum(dy * dy + dr * dr, 1e-30)
    y, r, dy, dr, per_length2, slope = (
        np.ascontiguousarray(column, dtype=np.float32 if single else np.float64)
        for column in (start[:, 0], start[:, 1], dy, dr, per_length2, slope)
    )
    box = float(low[0]), float(high[0]), float(low[1]), float(high[1])
    return _Edges(
        y=y,
        r=r,
        dy=dy,
        dr=dr,
        per_length2=per_length2,
        slope=slope,
        surface=surface,
        whole=bool(surface.all()),
        box=box,
    )


def _signed(edges: _Edges, points: NDArray[Any]) -> Array:
    """Distance to the nearest edge; inside by the even-odd rule along +across. Arrays are (n, m)."""
    y = points[:, 0:1] - edges.y
    r = points[:, 1:2] - edges.r
    inside = _inside(edges, points, y, r)
    along = y * edges.dy
    along += r * edges.dr
    along *= edges.per_length2
    np.clip(along, 0.0, 1.0, out=along)
    y -= along * edges.dy
    along *= edges.dr
    r -= along
    y *= y
    r *= r
    y += r
    distance = np.sqrt(y.min(axis=1) if edges.whole else y[:, edges.surface].min(axis=1))
    np.negative(distance, out=distance, where=inside)
    return np.asarray(distance)


def _inside(edges: _Edges, points: NDArray[Any], y: Array, r: Array) -> NDArray[np.bool_]:
    """Which points lie inside; only those in the box around the outline are asked in earnest."""
    low_y, high_y, low_r, high_r = edges.box
    maybe = (points[:, 0] >= low_y) & (points[:, 0] <= high_y) & (points[:, 1] >= low_r) & (points[:, 1] <= high_r)
    if not maybe.any():
        return maybe
    if not maybe.all():
        y, r = y[maybe], r[maybe]
    crosses = (r < 0) != (r < edges.dr)
    crosses &= y < r * edges.slope
    maybe[maybe] = np.count_nonzero(crosses, axis=1) % 2 == 1
    return maybe


def nearest_point(outline_mm: Array, point_mm: tuple[float, float]) -> tuple[float, float]:
    """Point of a closed half section that is nearest to a point (across, radius) [mm].

    Source: distance of a point from a segment.

    Parameters
    ----------
    outline_mm : closed half section (n, 2), n ≥ 3 [mm]
    point_mm : across and radius [mm]

    >>> square = np.array([[0.0, 10.0], [10.0, 10.0], [10.0, 20.0], [0.0, 20.0]])
    >>> nearest_point(square, (15.0, 12.0))
    (10.0, 12.0)
    """
    return nearest(outline_mm, point_mm)[1]


def nearest(outline_mm: Array, point_mm: tuple[float, float]) -> tuple[float, tuple[float, float]]:
    """Signed distance of one point to a closed half section, negative inside, and the outline's point nearest to it
    [mm].

    Source: distance of a point from a segment; inside by crossings.

    Parameters
    ----------
    outline_mm : closed half section (n, 2), n ≥ 3 [mm]
    point_mm : across and radius [mm]

    >>> square = np.array([[0.0, 10.0], [10.0, 10.0], [10.0, 20.0], [0.0, 20.0]])
    >>> nearest(square, (15.0, 12.0)), nearest(square, (8.0, 15.0))
    ((5.0, (10.0, 12.0)), (-2.0, (10.0, 15.0)))
    """
    edges = _edges(outline_mm)
    y, r = point_mm[0] - edges.y, point_mm[1] - edges.r
    along = ((y * edges.dy + r * edges.dr) * edges.per_length2).clip(0.0, 1.0)
    off_y, off_r = y - along * edges.dy, r - along * edges.dr
    square = off_y * off_y + off_r * off_r
    if not edges.whole:
        square[~edges.surface] = np.inf
    best = int(square.argmin())
    low_y, high_y, low_r, high_r = edges.box
    inside = low_y <= point_mm[0] <= high_y and low_r <= point_mm[1] <= high_r
    if inside:
        inside = np.count_nonzero(((r < 0) != (r < edges.dr)) & (y < r * edges.slope)) % 2 == 1
    distance = math.sqrt(float(square[best]))
    foot = point_mm[0] - float(off_y[best]), point_mm[1] - float(off_r[best])
    return -distance if inside else distance, foot
