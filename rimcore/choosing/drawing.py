"""What money buys, drawn: each pair as a dot, those that nothing beats as steps."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from rimcore.choosing.finding import frontier

#: size of the drawing, its left edge, and the edge on the other sides [drawing units]
WIDE, HIGH, LEFT, EDGE = 640.0, 190.0, 44.0, 24.0


@dataclass(frozen=True)
class Curve:
    """Dots in the order of the points, the path of the frontier, the height of nothing left, ends of the money."""

    dots: tuple[tuple[float, float], ...]
    path: str
    nought: float
    low: float
    most: float
    wide: float = WIDE
    high: float = HIGH


def curve_of(points: Sequence[tuple[float, float]]) -> Curve | None:
    """Money across, room upwards; None with fewer than two points.

    Parameters
    ----------
    points : money, margin [mm]

    Source: ``frontier``; drawing.

    >>> curve_of([(100.0, 0.0), (200.0, 5.0)]).path
    'M44.0 166.0H616.0V24.0'
    """
    if len(points) < 2:
        return None
    low, most = min(x for x, _ in points), max(x for x, _ in points)
    least, best = min(0.0, *(y for _, y in points)), max(y for _, y in points)

    def at(x: float, y: float) -> tuple[float, float]:
        across = (x - low) / (most - low or 1.0) * (WIDE - LEFT - EDGE)
        up = (y - least) / (best - least or 1.0) * (HIGH - 2 * EDGE)
        return round(LEFT + across, 1), round(HIGH - EDGE - up, 1)

    steps = [at(*points[k]) for k in frontier(points)]
    path = f"M{steps[0][0]} {steps[0][1]}" + "".join(f"H{x}V{y}" for x, y in steps[1:])
    return Curve(tuple(at(*point) for point in points), path, at(low, 0.0)[1], low, most)
