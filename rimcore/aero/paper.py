"""A panel on paper at 1:1: tiles that overlap, and the bar that says whether they were printed whole."""

from __future__ import annotations

import math
from dataclasses import dataclass

from shapely import Polygon, box

#: paper of the tiles [mm], its unprinted edge, how far tiles overlap, and the bar
PAPER_MM, EDGE_MM, OVERLAP_MM, BAR_MM = (210.0, 297.0), 8.0, 12.0, 100.0


@dataclass(frozen=True)
class Tile:
    """One sheet of paper of the 1:1 template: its row and column, and what of the panel lies on it [mm]."""

    row: int
    column: int
    left_mm: float
    top_mm: float
    wide_mm: float
    high_mm: float

    @property
    def name(self) -> str:
        """As it is written on the paper.

        >>> Tile(0, 2, 0, 0, 1, 1).name
        'A3'
        """
        return f"{chr(ord('A') + self.row % 26)}{self.column + 1}"


def tiles(panel: Polygon) -> tuple[Tile, ...]:
    """Paper over the whole panel, overlapping; sheets on which nothing lies are left out.

    >>> len(tiles(box(0, 0, 150, 200))), len(tiles(box(0, 0, 400, 200)))
    (1, 3)
    """
    wide, high = (side - 2 * EDGE_MM for side in PAPER_MM)
    left, low, right, top = panel.bounds
    step_x, step_y = wide - OVERLAP_MM, high - OVERLAP_MM
    columns = max(1, math.ceil((right - left - OVERLAP_MM) / step_x - 1e-9))
    rows = max(1, math.ceil((top - low - OVERLAP_MM) / step_y - 1e-9))
    found = []
    for row in range(rows):
        for column in range(columns):
            x, y = left + column * step_x, low + row * step_y
            if panel.intersects(box(x, y, x + wide, y + high)):
                found.append(Tile(row, column, round(x, 3), round(y, 3), wide, high))
    return tuple(found)
