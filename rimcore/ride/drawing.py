"""Links and curves in drawing units; the ink is the template's."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from rimcore.ride.plumb import HUB, Read, corner_frame, words
from rimcore.ride.points import LAYOUTS
from rimcore.ride.weights import Pads

Array = NDArray[np.float64]


@dataclass(frozen=True)
class Mark:
    """A point that was read, with its name in words."""

    x: float
    y: float
    name: str
    label: str


@dataclass(frozen=True)
class View:
    """One view of a corner: a title, its points and the links between those that were read."""

    title: str
    y0: float
    height: float
    marks: tuple[Mark, ...]
    links: tuple[tuple[float, float, float, float], ...]
    face_x: float
    hub_y: float


@dataclass(frozen=True)
class Sketch:
    """Two views one over the other, to one scale: from ahead, and from above."""

    width: float
    height: float
    views: tuple[View, ...]


#: size of a view and what is left free round it
VIEW_W, VIEW_H, FREE = 300.0, 210.0, 28.0


def sketch(read: Read) -> Sketch:
    """What was read of a corner, from ahead (outboard to the left) and from above (forward up).

    Examples
    --------
    >>> from rimcore.ride.plumb import Plumb
    >>> found = sketch(Read("strut", (("hub", Plumb(740, 0, 310)), ("lower_joint", Plumb(670, 5, 190))), -30.0))
    >>> [len(view.marks) for view in found.views]
    [2, 2]
    """
    named = read.by_name
    hub = named.get(HUB)
    frame = (
        corner_frame(hub, named)
        if hub
        else {name: (one.ahead_mm, one.across_mm, one.up_mm) for name, one in named.items()}
    )
    if hub:
        frame[HUB] = (0.0, 0.0, 0.0)
    layout = LAYOUTS[read.layout]
    pairs = [(one, other) for one, other in layout.links if one in frame and other in frame]
    if {"strut_top", "strut_knuckle"} <= set(frame):
        pairs.append(("strut_knuckle", "strut_top"))
    flat = {"from ahead, outboard to the left": (1, 2), "from above, forward up": (1, 0)}
    span = max((max(p[k] for p in frame.values()) - min(p[k] for p in frame.values()) for k in range(3)), default=1.0)
    scale = (VIEW_H - 2 * FREE) / max(span, 100.0)
    views = []
    for number, (title, (across, up)) in enumerate(flat.items()):
        middle = [(max(p[k] for p in frame.values()) + min(p[k] for p in frame.values())) / 2 for k in (across, up)]
        y0 = number * VIEW_H

        def at(
            p: Sequence[float], y0: float = y0, middle: list[float] = middle, a: int = across, u: int = up
        ) -> tuple[float, float]:
            return round(VIEW_W / 2 - (p[a] - middle[0]) * scale, 1), round(
                y0 + VIEW_H / 2 + 8 - (p[u] - middle[1]) * scale, 1
            )

        marks = tuple(Mark(*at(point), name, words(read.layout, name)) for name, point in frame.items())
        links = tuple((*at(frame[one]), *at(frame[other])) for one, other in pairs)
        face_x, hub_y = at((0.0, 0.0, 0.0))
        views.append(View(title, y0, VIEW_H, marks, links, face_x, hub_y))
    return Sketch(VIEW_W, 2 * VIEW_H, tuple(views))


def load_side(load_kg: float, pads: Pads) -> float:
    """Side of a square whose area is a load's share of the car, in drawing units.

    >>> load_side(300.0, Pads(300, 300, 300, 300)), load_side(-5.0, Pads(300, 300, 300, 300))
    (130.0, 0.0)
    """
    return round(260.0 * float(np.sqrt(max(0.0, load_kg / pads.total_kg))), 1)
