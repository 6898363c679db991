"""A closed half section from its vertices: what is accepted."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np
from numpy.typing import NDArray

from rimcore.quantities.errors import BadInput

Array = NDArray[np.float64]


def check_outline(points: Sequence[Sequence[float]]) -> Array:
    """A closed half section from its vertices; the first may be repeated at the end.

    Source: none; a check of shape.

    Parameters
    ----------
    points : (n, 2): across and radius [mm], n ≥ 3

    Raises
    ------
    BadInput : fewer than three vertices, a negative radius, no area, or edges that cross

    >>> check_outline([[-1, 5], [1, 5], [1, 9]]).shape
    (3, 2)
    """
    outline = np.asarray(points, dtype=float)
    if outline.ndim != 2 or outline.shape[1] != 2:
        raise BadInput("must be a list of pairs [across, radius] in mm")
    if len(outline) > 1 and (outline[0] == outline[-1]).all():
        outline = outline[:-1]
    if len(outline) < 3:
        raise BadInput("an outline needs at least three vertices")
    if (outline[:, 1] < 0).any():
        raise BadInput("a radius can't be negative")
    nxt = np.roll(outline, -1, axis=0)
    if abs(float((outline[:, 0] * nxt[:, 1] - nxt[:, 0] * outline[:, 1]).sum())) < 1e-6:
        raise BadInput("the outline holds no area")
    if _crosses(outline):
        raise BadInput("edges of the outline cross each other; give the vertices in order round the section")
    return outline


def _crosses(outline: Array) -> bool:
    """Do two edges that are no neighbours meet?"""
    a, b = outline, np.roll(outline, -1, axis=0)
    count = len(outline)

    def side(p: Array, q: Array, r: Array) -> Array:
        return np.asarray(
            (q[:, None, 0] - p[:, None, 0]) * (r[None, :, 1] - p[:, None, 1])
            - (q[:, None, 1] - p[:, None, 1]) * (r[None, :, 0] - p[:, None, 0])
        )

    from_a, from_b = side(a, b, a), side(a, b, b)
    apart = from_a * from_b < 0
    crossing = apart & apart.T
    i, j = np.nonzero(crossing)
    gap = np.abs(i - j)
    return bool(((gap > 1) & (gap < count - 1)).any())
