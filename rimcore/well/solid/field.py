"""Obstacles of one corner as a field over the wheel's plane: made once, asked by thousands of outlines."""

from __future__ import annotations

from functools import lru_cache

import numpy as np
from numpy.typing import NDArray
from scipy import ndimage
from scipy.spatial import cKDTree

from rimcore.well.solid.cloud import Cloud
from rimcore.well.solid.polygon import signed_distance

Array = NDArray[np.float64]


#: step of the field, and how far beyond the cloud it reaches [mm]
STEP_MM, BEYOND_MM = 1.0, 40.0


#: step at which an outline is walked [mm]
WALK_MM = 2.5


#: places along the outline that come nearest, and points that are answered exactly at each
PLACES, NEAREST = 12, 3


#: points inside an outline of which the depth is taken
MOST_INSIDE = 384


class Field:
    """Distance to the nearest obstacle point everywhere, and how many points lie left of every place in a row.

    One outline costs a walk along its edge through the field; only the few places that come nearest are
    answered exactly. The answer is the smallest distance to the cloud's points, as ``Cloud.rough`` gives.
    All points of a field have one radius, so that the nearest point is also the one with the smallest gap.
    """

    def __init__(self, cloud: Cloud, which: NDArray[np.intp] | None = None) -> None:
        rows = np.arange(len(cloud.grid_owner)) if which is None else which
        across, radius = cloud.across[rows].ravel(), cloud.radius[rows].ravel()
        keys = np.floor(radius / STEP_MM) * 1e5 + across
        order = np.argsort(keys)
        self.points = np.column_stack([across, radius])[order]
        self.owner = np.repeat(cloud.grid_owner[rows], cloud.across.shape[1])[order]
        self.radii = np.repeat(cloud.grid_radii[rows], cloud.across.shape[1])[order]
        self.names = cloud.names
        # Asked far less often than it is made: a plain tree is enough.
        self.tree = cKDTree(self.points, balanced_tree=False, compact_nodes=False)
        low = self.points.min(axis=0) - BEYOND_MM
        self.low = np.array([low[0], max(low[1], 0.0)])
        self.shape = tuple(int(n) for n in np.ceil((self.points.max(axis=0) + BEYOND_MM - self.low) / STEP_MM) + 1)
        taken = np.zeros(self.shape, dtype=bool)
        cells = self._cells(self.points)
        taken[cells[:, 0], cells[:, 1]] = True
        self.flat = (ndimage.distance_transform_edt(~taken).astype(np.float32) * STEP_MM).ravel()
        self.keys = keys[order]

    def _cells(self, points: Array) -> NDArray[np.intp]:
        return np.asarray(np.floor((points - self.low) / STEP_MM).astype(np.intp))

    def gaps(self, outline_mm: Array, centre_mm: float) -> tuple[float, int]:
        """Smallest gap to any obstacle [mm] and whose it is; negative is how deep the deepest point lies inside.

        Examples
        --------
        >>> from rimcore.well.solid.wheel_plane import Thing, Well
        >>> lip = Thing("lip", "body", np.array([[0.0, 0.0, 330.0]]))
        >>> disc = np.array([[-100.0, 100.0], [-100.0, 300.0], [100.0, 300.0], [100.0, 100.0]])
        >>> round(Field(Cloud(Well(0.0, bump_mm=20.0, droop_mm=10.0), [lip])).gaps(disc, 0.0)[0], 3)
        10.0
        """
        gaps, whose = self.gaps_at(outline_mm, np.array([centre_mm]))
        return float(gaps[0]), int(whose[0])

    def gaps_at(self, outline_mm: Array, centres_mm: Array) -> tuple[Array, NDArray[np.intp]]:
        """The same for one outline at many places across, shape (n,)."""
        gaps, whose = np.empty(len(centres_mm)), np.empty(len(centres_mm), dtype=np.intp)
        outside = np.ones(len(centres_mm), dtype=bool)
        for k, inside in self._inside(outline_mm, centres_mm):
            outside[k] = False
            gaps[k], whose[k] = self._exact(outline_mm, float(centres_mm[k]), inside)
        if outside.any():
            gaps[outside], whose[outside] = self._beside(outline_mm, centres_mm[outside])
        return gaps, whose

    def _beside(self, outline_mm: Array, centres_mm: Array) -> tuple[Array, NDArray[np.intp]]:
        """Gap and owner where no point lies inside, shape (n,)."""
        walked = _walked(np.ascontiguousarray(outline_mm).tobytes())
        i = ((walked[:, 0] + (centres_mm[:, None] - self.low[0])) * (1 / STEP_MM)).astype(np.int32)
        j = ((walked[:, 1] - self.low[1]) * (1 / STEP_MM)).astype(np.int32)
        columns, rows = self.shape
        beyond = np.maximum(np.maximum(-i, i - columns + 1), np.maximum(-j, j - rows + 1)).clip(0)
        near = self.flat.take(i.clip(0, columns - 1) * rows + j.clip(0, rows - 1)) + beyond * STEP_MM
        most = min(PLACES, near.shape[1])
        places = np.argpartition(near, most - 1, axis=1)[:, :most]
        at = walked[places]
        at[:, :, 0] += centres_mm[:, None]
        known = min(NEAREST, len(self.points))
        found = self.tree.query(at.reshape(-1, 2), k=known)[1].reshape(len(centres_mm), -1)
        across = self.points[found, 0] - centres_mm[:, None]
        flat = np.column_stack([across.ravel(), self.points[found, 1].ravel()])
        gaps = signed_distance(outline_mm, flat).reshape(found.shape) - self.radii[found]
        best = gaps.argmin(axis=1)
        each = np.arange(len(best))
        return gaps[each, best], self.owner[found[each, best]]

    def _exact(self, outline_mm: Array, centre_mm: float, which: NDArray[np.intp]) -> tuple[float, int]:
        if len(which) > MOST_INSIDE:
            which = which[np.linspace(0, len(which) - 1, MOST_INSIDE).astype(np.intp)]
        gaps = signed_distance(outline_mm, self.points[which] - [centre_mm, 0.0]) - self.radii[which]
        best = int(gaps.argmin())
        return float(gaps[best]), int(self.owner[which[best]])

    def _inside(self, outline_mm: Array, centres_mm: Array) -> list[tuple[int, NDArray[np.intp]]]:
        """Points inside an outline, row by row, for the places where there are some."""
        rows, low, high = _spans(np.ascontiguousarray(outline_mm).tobytes())
        first = np.searchsorted(self.keys, rows * 1e5 + low + centres_mm[:, None])
        last = np.searchsorted(self.keys, rows * 1e5 + high + centres_mm[:, None])
        found = []
        for k in np.nonzero((last > first).any(axis=1))[0]:
            hit = np.nonzero(last[k] > first[k])[0]
            found.append((int(k), np.concatenate([np.arange(first[k, n], last[k, n]) for n in hit])))
        return found


def fields_of(cloud: Cloud) -> list[Field]:
    """A field for every radius among a cloud's obstacles."""
    return [Field(cloud, np.nonzero(cloud.grid_radii == radius)[0]) for radius in np.unique(cloud.grid_radii)]


@lru_cache(maxsize=1024)
def _walked(outline_bytes: bytes) -> Array:
    """Places along an outline, not more than ``WALK_MM`` apart, shape (n, 2)."""
    outline = np.frombuffer(outline_bytes).reshape(-1, 2)
    ends = np.roll(outline, -1, axis=0)
    counts = np.maximum(1, np.ceil(np.linalg.norm(ends - outline, axis=1) / WALK_MM).astype(int))
    edge = np.repeat(np.arange(len(outline)), counts)
    share = (np.arange(len(edge)) - np.repeat(np.cumsum(counts) - counts, counts)) / counts[edge]
    return np.asarray(outline[edge] + share[:, None] * (ends - outline)[edge])


@lru_cache(maxsize=1024)
def _spans(outline_bytes: bytes) -> tuple[Array, Array, Array]:
    """Runs of an outline along each row of radius: row numbers, from, to [mm]."""
    outline = np.frombuffer(outline_bytes).reshape(-1, 2)
    ends = np.roll(outline, -1, axis=0)
    rows = np.arange(np.floor(outline[:, 1].min() / STEP_MM), np.floor(outline[:, 1].max() / STEP_MM) + 1)
    at = (rows + 0.5) * STEP_MM + 1e-7
    crossed = (outline[:, 1][:, None] > at) != (ends[:, 1][:, None] > at)
    with np.errstate(divide="ignore", invalid="ignore"):
        where = (
            outline[:, 0][:, None]
            + (at - outline[:, 1][:, None])
            / (ends[:, 1] - outline[:, 1])[:, None]
            * (ends[:, 0] - outline[:, 0])[:, None]
        )
    sorted_ = np.sort(np.where(crossed, where, np.inf), axis=0)
    found_rows, low, high = [], [], []
    for k in range(0, len(sorted_) - 1, 2):
        known = np.isfinite(sorted_[k + 1])
        if not known.any():
            break
        found_rows.append(rows[known])
        low.append(sorted_[k][known])
        high.append(sorted_[k + 1][known])
    return np.concatenate(found_rows), np.concatenate(low), np.concatenate(high)
