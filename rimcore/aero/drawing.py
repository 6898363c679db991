"""The underside with a panel, its keep-outs, fasteners and what is hot; and one tile of paper."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from shapely import LineString, MultiPolygon, Polygon

from rimcore.aero.card import Fixed, Station
from rimcore.aero.panel import Hot
from rimcore.aero.paper import Tile

#: size of the sheet, and what is left free round the panel [drawing units]
WIDTH, HEIGHT, FREE = 720.0, 330.0, 28.0


@dataclass(frozen=True)
class Underside:
    """The panel from below, front to the left, in drawing units.

    ``scale`` is units a millimetre, ``mid`` the centre line's height.
    """

    path: str
    hot: tuple[tuple[str, str, float, float, str], ...]
    rings: tuple[str, ...]
    existing: tuple[tuple[float, float], ...]
    new: tuple[tuple[float, float], ...]
    handles: tuple[tuple[int, float, float], ...]
    scale: float
    left: float
    mid: float


def path_of(
    shape: Polygon, left_mm: float = 0.0, top_mm: float = 0.0, scale: float = 1.0, x0: float = 0.0, y0: float = 0.0
) -> str:
    """Outline and holes as one path.

    >>> path_of(Polygon([(0, 0), (10, 0), (10, 10)]))
    'M0.00 0.00L10.00 0.00L10.00 10.00Z'
    """
    rings = [shape.exterior, *shape.interiors]
    return "".join(
        "M"
        + "L".join(f"{x0 + (x - left_mm) * scale:.2f} {y0 + (y - top_mm) * scale:.2f}" for x, y in ring.coords[:-1])
        + "Z"
        for ring in rings
    )


def underside(
    shape: Polygon, hot: Sequence[Hot], held: Fixed, card: Sequence[Station], states: Sequence[str] = ()
) -> Underside:
    """The drawing; what is hot is shown with its skin, and with the room it wants as a ring round it.

    >>> found = underside(Polygon([(0, -200), (600, -200), (600, 200), (0, 200)]), (), Fixed((), ()), ())
    >>> found.mid, found.path.startswith("M28.00 ")
    (165.0, True)
    """
    left, low, right, top = shape.bounds
    half = max(abs(low), abs(top), *(abs(y) + one.radius_mm + one.keep_mm for one in hot for _, y in one.line_mm), 1.0)
    first, last = (
        min(left, *(x for one in hot for x, _ in one.line_mm), left),
        max(right, *(x for one in hot for x, _ in one.line_mm), right),
    )
    scale = min((WIDTH - 2 * FREE) / (last - first), (HEIGHT - 2 * FREE) / (2 * half))
    mid = HEIGHT / 2

    def at(x: float, y: float) -> tuple[float, float]:
        return round(FREE + (x - first) * scale, 1), round(mid + y * scale, 1)

    drawn, rings = [], []
    for k, one in enumerate(hot):
        line = LineString(one.line_mm if len(one.line_mm) > 1 else [*one.line_mm, *one.line_mm])
        skin, room = line.buffer(one.radius_mm), line.buffer(one.radius_mm + one.keep_mm)
        x, y = at(*one.line_mm[0])
        drawn.append((one.name, _path(skin, first, scale, mid), x, y, states[k] if k < len(states) else "unmeasured"))
        rings.append(_path(room, first, scale, mid))
    handles = tuple((k, *at(one.along_mm, one.half_mm)) for k, one in enumerate(card))
    return Underside(
        path=_path(shape, first, scale, mid),
        hot=tuple(drawn),
        rings=tuple(rings),
        existing=tuple(at(*one) for one in held.existing),
        new=tuple(at(*one) for one in held.new),
        handles=handles,
        scale=scale,
        left=first,
        mid=mid,
    )


def _path(shape: Polygon | MultiPolygon, first: float, scale: float, mid: float) -> str:
    parts = list(shape.geoms) if isinstance(shape, MultiPolygon) else [shape]
    return "".join(path_of(one, first, 0.0, scale, FREE, mid) for one in parts)


def tile_path(shape: Polygon, tile: Tile) -> str:
    """What of a panel lies on a tile, in millimetres from its corner; the paper's frame cuts the rest.

    >>> tile_path(Polygon([(0, 0), (10, 0), (10, 10)]), Tile(0, 0, 5.0, 0.0, 194.0, 281.0))
    'M-5.00 0.00L5.00 0.00L5.00 10.00Z'
    """
    return path_of(shape, tile.left_mm, tile.top_mm)
