"""A flat panel: its area and mass, the fasteners round it, the sheet it is cut from, and the heat near it."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray
from shapely import LineString, MultiPolygon, Polygon
from shapely.validation import explain_validity

from rimcore.quantities.errors import BadInput
from rimcore.quantities.judgement import COMMON_PRACTICE, Judgement, State

Array = NDArray[np.float64]
Points = Sequence[Sequence[float]]

#: from fastener to fastener, and from the edge to them [mm] (common practice)
PITCH_MM, EDGE_MM = 150.0, 15.0
#: touching within this fits [mm]
TOUCH_MM = 1e-6


def polygon_of(outline_mm: Points, holes_mm: Sequence[Points] = ()) -> Polygon:
    """A panel with its holes.

    Source: validity as in OGC Simple Features 1.2.1.

    Parameters
    ----------
    outline_mm : corners in order (n, 2), n ≥ 3 [mm]
    holes_mm : each (k, 2), k ≥ 3, within the outline [mm]

    Raises
    ------
    BadInput : fewer than 3 points, no area, an edge that crosses another, a hole outside or across another

    Examples
    --------
    >>> polygon_of([(0, 0), (100, 0), (100, 50), (0, 50)], [[(10, 10), (20, 10), (20, 20)]]).area
    4950.0
    """
    whole = _ring(outline_mm, "outline_mm")
    cut: list[Polygon] = []
    for place, hole in enumerate(holes_mm):
        path = f"holes_mm.{place}"
        ring = _ring(hole, path)
        if not whole.contains_properly(ring):
            raise BadInput("does not lie inside the outline; accepted: a hole inside it, not touching its edge", path)
        if any(not ring.disjoint(other) for other in cut):
            raise BadInput("meets another hole; accepted: holes apart from each other", path)
        cut.append(ring)
    return Polygon(whole.exterior, [ring.exterior for ring in cut])


def _ring(points: Points, path: str) -> Polygon:
    if len({(float(x), float(y)) for x, y in points}) < 3:
        raise BadInput("has fewer than 3 points; accepted: 3 or more that differ", path)
    ring = Polygon([(float(x), float(y)) for x, y in points])
    if ring.area <= 0:
        raise BadInput("encloses no area; accepted: points that do not lie in one line", path)
    if not ring.is_valid:
        raise BadInput(
            f"crosses itself ({explain_validity(ring)}); accepted: an outline whose edges meet only at its corners",
            path,
        )
    return ring


def inset_length_mm(panel: Polygon, edge_mm: float) -> list[float]:
    """Lengths of the edges of what lies at least so far inside the outer edge, piece by piece [mm].

    Empty where nothing is left.

    Source: parallel curve inside a polygon, by shapely.

    Parameters
    ----------
    panel : outline with its holes [mm]
    edge_mm : 0 or more [mm]

    >>> [round(one, 6) for one in inset_length_mm(polygon_of([(0, 0), (100, 0), (100, 50), (0, 50)]), 10.0)]
    [220.0]
    """
    left = Polygon(panel.exterior).buffer(-edge_mm, quad_segs=64)
    parts = list(left.geoms) if isinstance(left, MultiPolygon) else [left]
    return [float(one.exterior.length) for one in parts if not one.is_empty]


def fasteners(panel: Polygon, pitch_mm: float = PITCH_MM, edge_mm: float = EDGE_MM) -> int | None:
    """How many go round the outer edge: each piece of the inset takes its length over the pitch, rounded up.

    None where nothing is left.

    Source: common practice.

    Parameters
    ----------
    panel : outline with its holes [mm]
    pitch_mm : most between two, over 0 [mm]
    edge_mm : from a fastener's middle to the edge, 0 or more [mm]

    >>> fasteners(polygon_of([(0, 0), (600, 0), (600, 400), (0, 400)]))
    13
    """
    lengths = inset_length_mm(panel, edge_mm)
    return sum(math.ceil(one / pitch_mm - 1e-9) for one in lengths) if lengths else None


def _spans(points: Array, turn: float) -> tuple[float, float]:
    """Width and height of points turned counter-clockwise [rad]."""
    x = points[:, 0] * math.cos(turn) - points[:, 1] * math.sin(turn)
    y = points[:, 0] * math.sin(turn) + points[:, 1] * math.cos(turn)
    return float(np.ptp(x)), float(np.ptp(y))


def turned_deg(panel: Polygon, sheet_mm: tuple[float, float]) -> float | None:
    """A turn at which the panel fits a sheet whose width lies along x [deg, 0 ≤ … < 180], counter-clockwise.

    None where none does.

    0 where it fits so, else 90, else the middle of the first range of turns that fit.

    Source: plane geometry.

    Parameters
    ----------
    panel : outline [mm]
    sheet_mm : width and height of a sheet, over 0 [mm]

    >>> turned_deg(polygon_of([(0, 0), (100, 0), (100, 50), (0, 50)]), (60.0, 120.0))
    90.0
    """
    hull = np.array(panel.convex_hull.exterior.coords[:-1])
    for turn in (0.0, 90.0):
        if _fits(hull, math.radians(turn), sheet_mm):
            return turn
    marks = sorted({mark % math.pi for mark in _marks(hull, sheet_mm)} | {0.0})
    ends = [*marks, math.pi]
    begun: float | None = None
    for place, low in enumerate(marks):
        high = ends[place + 1]
        inside = _fits(hull, (low + high) / 2, sheet_mm)
        if inside and begun is None:
            begun = low
        if begun is not None and not inside:
            return math.degrees((begun + low) / 2)
        if begun is None and not inside and _fits(hull, low, sheet_mm):
            return math.degrees(low)
    return None if begun is None else math.degrees((begun + math.pi) / 2)


def _fits(hull: Array, turn: float, sheet_mm: tuple[float, float]) -> bool:
    wide, tall = _spans(hull, turn)
    return wide <= sheet_mm[0] + TOUCH_MM and tall <= sheet_mm[1] + TOUCH_MM


def _marks(hull: Array, sheet_mm: tuple[float, float]) -> list[float]:
    """Turns at which an edge lies along an axis, or the width or height of some pair of corners is the sheet's."""
    edges = np.roll(hull, -1, 0) - hull
    marks = [float(-math.atan2(y, x) + quarter * math.pi / 2) for x, y in edges for quarter in range(2)]
    apart = hull[:, None, :] - hull[None, :, :]
    dx, dy = apart[..., 0].ravel(), apart[..., 1].ravel()
    reach = np.hypot(dx, dy)
    for side, lift in ((sheet_mm[0], 0.0), (sheet_mm[1], math.pi / 2)):
        far = reach >= side
        # x of a pair turned by t is reach cos(t + direction); y lags it by a quarter turn
        direction, half = np.arctan2(dy[far], dx[far]), np.arccos(np.clip(side / reach[far], -1, 1))
        marks += [float(one) for way in (1, -1) for one in way * half - direction + lift]
    return marks


def sheets_needed(panel: Polygon, sheet_mm: tuple[float, float]) -> int:
    """Sheets to cover it: 1 where it fits, else the least over the panel as drawn and the sheet either way round.

    Source: plane geometry; a bound by area, not the best nesting.

    Parameters
    ----------
    panel : outline [mm]
    sheet_mm : width and height of a sheet, over 0 [mm]

    >>> sheets_needed(polygon_of([(0, 0), (1500, 0), (1500, 700), (0, 700)]), (1000.0, 1000.0))
    2
    """
    if turned_deg(panel, sheet_mm) is not None:
        return 1
    left, low, right, high = panel.bounds
    wide, tall = right - left, high - low
    counts = [math.ceil(wide / w - TOUCH_MM) * math.ceil(tall / h - TOUCH_MM) for w, h in (sheet_mm, sheet_mm[::-1])]
    return int(max(1, min(counts)))


@dataclass(frozen=True)
class Hot:
    """Something hot: its centre line [mm], its radius, what it wants free, how far it lies above or below the panel, or
    up from the ground.
    """

    name: str
    line_mm: Points
    radius_mm: float
    keep_mm: float
    clear_mm: float | None = None
    up_mm: float | None = None


def judge_heat(panel: Polygon, hot: Hot) -> Judgement:
    """Room between the panel's area and a hot line: ``hit`` at 0 or less, ``tight`` below what it wants.

    >>> square = polygon_of([(0, 0), (100, 0), (100, 100), (0, 100)])
    >>> [judge_heat(square, Hot("pipe", [(200, -50), (200, 150)], 30.0, keep)).state for keep in (60.0, 80.0)]
    ['clear', 'tight']
    """
    points = [(float(x), float(y)) for x, y in hot.line_mm]
    line = LineString(points if len(points) > 1 else [*points, *points])
    away = float(panel.distance(line))
    apart = math.hypot(away, hot.clear_mm or 0.0)
    gap = apart - hot.radius_mm
    state: State = "hit" if gap <= 0 else "tight" if gap < hot.keep_mm else "clear"
    plan = (
        "seen from above; height is not looked at"
        if hot.clear_mm is None
        else f"{away:.0f} mm seen from above, {hot.clear_mm:.0f} mm of height"
    )
    return Judgement(
        f"air.heat.{hot.name}",
        hot.name,
        state,
        f"{gap:.0f} mm to its skin, {hot.keep_mm:g} mm wanted; {plan}".replace("-", "−"),
        COMMON_PRACTICE,
        value=gap,
        unit="mm",
        held_against=hot.keep_mm,
        margin=gap - hot.keep_mm,
        formula=f"{apart:.1f} − {hot.radius_mm:g} = {gap:.1f} mm".replace("= -", "= −"),
        remedies=() if state == "clear" else ("cut the panel back there", "a heat shield with air behind it"),
    )
