"""Distance from points to a closed outline, vectorised."""

from __future__ import annotations

from dataclasses import dataclass
from functools import lru_cache

import numpy as np
from numpy.typing import NDArray

Array = NDArray[np.float64]

#: points taken at a time, so that the arrays stay in the cache
CHUNK = 768
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
    shape (n,) [mm]; edges that lie on the axis are not counted as a surface

    Examples
    --------
    >>> square = np.array([[0.0, 10.0], [10.0, 10.0], [10.0, 20.0], [0.0, 20.0]])
    >>> signed_distance(square, np.array([[5.0, 12.0], [15.0, 15.0]])).tolist()
    [-2.0, 5.0]
    """
    edges = _edges(outline_mm)
    if len(points_mm) <= CHUNK:
        return _signed(edges, points_mm)
    return np.concatenate([_signed(edges, points_mm[at : at + CHUNK]) for at in range(0, len(points_mm), CHUNK)])


@dataclass(frozen=True)
class _Edges:
    """Edges of an outline, one array a quantity, shape (m,)."""

    y: Array
    r: Array
    dy: Array
    dr: Array
    per_length2: Array
    slope: Array
    surface: NDArray[np.bool_]


def _edges(outline_mm: Array) -> _Edges:
    return _edges_of(np.ascontiguousarray(outline_mm, dtype=float).tobytes())


@lru_cache(maxsize=256)
def _edges_of(outline_bytes: bytes) -> _Edges:
    outline_mm = np.frombuffer(outline_bytes).reshape(-1, 2)
    start = outline_mm[:-1] if (outline_mm[0] == outline_mm[-1]).all() else outline_mm
    end = np.concatenate([start[1:], start[:1]])
    dy, dr = (end - start).T
    surface = ~((start[:, 1] <= AXIS_MM) & (end[:, 1] <= AXIS_MM))
    with np.errstate(divide="ignore", invalid="ignore"):
        slope = np.where(dr != 0, dy / np.where(dr != 0, dr, 1.0), 0.0)
    return _Edges(start[:, 0].copy(), start[:, 1].copy(), dy, dr, 1.0 / np.maximum(dy * dy + dr * dr, 1e-30), slope, surface)


def _signed(edges: _Edges, points: Array) -> Array:
    """Distance to the nearest edge; inside by the even-odd rule along +across. Arrays are (n, m)."""
    y = points[:, 0:1] - edges.y
    r = points[:, 1:2] - edges.r
    along = y * edges.dy
    along += r * edges.dr
    along *= edges.per_length2
    np.clip(along, 0.0, 1.0, out=along)
    crosses = (r < 0) != (r < edges.dr)
    crosses &= y < r * edges.slope
    y -= along * edges.dy
    r -= along * edges.dr
    y *= y
    r *= r
    y += r
    distance = np.sqrt(y[:, edges.surface].min(axis=1) if not edges.surface.all() else y.min(axis=1))
    return np.asarray(np.where(np.count_nonzero(crosses, axis=1) % 2 == 1, -distance, distance))


def nearest_point(outline_mm: Array, point_mm: tuple[float, float]) -> tuple[float, float]:
    """Point of a closed half section that is nearest to a point (across, radius) [mm].

    >>> square = np.array([[0.0, 10.0], [10.0, 10.0], [10.0, 20.0], [0.0, 20.0]])
    >>> nearest_point(square, (15.0, 12.0))
    (10.0, 12.0)
    """
    start = outline_mm[:-1] if (outline_mm[0] == outline_mm[-1]).all() else outline_mm
    edge = np.concatenate([start[1:], start[:1]]) - start
    point = np.array(point_mm)
    along = np.clip(((point - start) * edge).sum(axis=1) / np.maximum((edge**2).sum(axis=1), 1e-30), 0.0, 1.0)
    foot = start + along[:, None] * edge
    best = foot[((foot - point) ** 2).sum(axis=1).argmin()]
    return float(best[0]), float(best[1])
