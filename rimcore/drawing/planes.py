"""Drawings as plain numbers: what a scene holds and how a plane maps to it."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass, field

import numpy as np

#: lean of the drawn damper; not measured
LEAN_DEG = 5.0


#: obstacles farther from the wheel than this are not drawn in motion [mm]
FAR_MM = 75.0


#: drawing units (CSS pixels) per mm of paper
PX_PER_MM = 96 / 25.4


@dataclass(frozen=True)
class Shape:
    """A path: ``d`` as in SVG, ``ink`` names how it is drawn."""

    d: str
    ink: str


@dataclass(frozen=True)
class Label:
    """Text at a place; ``anchor`` start, middle or end."""

    x: float
    y: float
    text: str
    ink: str = "note"
    anchor: str = "start"


@dataclass(frozen=True)
class Dimension:
    """A dimension line with its figure; ``key`` finds its judgement."""

    x1: float
    y1: float
    x2: float
    y2: float
    tx: float
    ty: float
    text: str
    state: str
    key: str
    anchor: str = "middle"
    heads: str = ""


@dataclass
class Scene:
    """What a template draws."""

    width: float
    height: float
    scale: str = ""
    shapes: list[Shape] = field(default_factory=list)
    labels: list[Label] = field(default_factory=list)
    dimensions: list[Dimension] = field(default_factory=list)
    leaders: list[tuple[float, float, float, float]] = field(default_factory=list)


@dataclass(frozen=True)
class Plane:
    """From mm to drawing units: a plane of the corner frame, mirrored for a left corner seen from behind."""

    x0: float
    y0: float
    scale: float
    mirror: bool = False

    def at(self, right_mm: float, up_mm: float) -> tuple[float, float]:
        """Drawing units of a point.

        >>> Plane(100, 50, 0.5).at(10, 20)
        (105.0, 40.0)
        """
        sign = -1.0 if self.mirror else 1.0
        return self.x0 + sign * right_mm * self.scale, self.y0 - up_mm * self.scale

    def path(self, points: Iterable[Sequence[float]], closed: bool = True) -> str:
        """SVG path of a polyline given in mm."""
        pairs = points.tolist() if isinstance(points, np.ndarray) else points
        along, up = (-self.scale if self.mirror else self.scale), self.scale
        drawn = [f"{self.x0 + along * pair[0]:.1f} {self.y0 - up * pair[1]:.1f}" for pair in pairs]
        return "M" + " L".join(drawn) + ("Z" if closed else "")


def scale_text(px_per_mm: float) -> str:
    """Scale of a drawing shown at 96 units to the inch.

    >>> scale_text(0.63)
    '1 : 6.0'
    """
    return f"1 : {PX_PER_MM / px_per_mm:.1f}"


def short(value: float) -> str:
    """One decimal below 100, none above, a real minus.

    >>> short(-3.25), short(142.4)
    ('−3.2', '142')
    """
    text = f"{value:.0f}" if abs(value) >= 100 else f"{value:.1f}".removesuffix(".0")
    return ("0" if text in ("-0", "0") else text).replace("-", "−")
