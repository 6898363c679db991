"""Distance from points to a closed outline, vectorised."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

Array = NDArray[np.float64]

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
    start = outline_mm[:-1] if (outline_mm[0] == outline_mm[-1]).all() else outline_mm
    end = np.concatenate([start[1:], start[:1]])
    surface = ~((start[:, 1] <= AXIS_MM) & (end[:, 1] <= AXIS_MM))
    distance = np.sqrt(_squared_distances(start[surface], end[surface], points_mm).min(axis=1))
    return np.asarray(np.where(_inside(start, end, points_mm), -distance, distance))


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


def _squared_distances(start: Array, end: Array, points: Array) -> Array:
    """Shape (n, m): squared distance of every point to every edge."""
    edge = end - start
    length = np.maximum((edge**2).sum(axis=1), 1e-30)
    to_point = points[:, None, :] - start[None, :, :]
    along = np.clip((to_point * edge).sum(axis=2) / length, 0.0, 1.0)
    away = to_point - along[:, :, None] * edge
    return np.asarray((away**2).sum(axis=2))


def _inside(start: Array, end: Array, points: Array) -> NDArray[np.bool_]:
    """Even-odd rule along +across."""
    y, r = points[:, 0:1], points[:, 1:2]
    crosses = (start[:, 1] > r) != (end[:, 1] > r)
    with np.errstate(divide="ignore", invalid="ignore"):
        at = start[:, 0] + (r - start[:, 1]) / (end[:, 1] - start[:, 1]) * (end[:, 0] - start[:, 0])
    return np.asarray((crosses & (y < at)).sum(axis=1) % 2 == 1)
