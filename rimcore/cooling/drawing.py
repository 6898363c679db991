"""The space for a core and what is to stand in it, from the front and from the side, to one scale."""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any

from rimcore.cooling.exchanger import ROUND_CORE

WIDTH, TOP, LEFT, BETWEEN = 640.0, 44.0, 16.0, 56.0
#: what the two views may take of the sheet
ACROSS, HIGH = 640.0 - 2 * 16.0 - 56.0, 200.0
SIZES = ("width_mm", "height_mm", "depth_mm")
SPACE = ("between_rails", "space_up", "condenser_to_fan")


@dataclass(frozen=True)
class Box:
    """A rectangle on the sheet; ``turn`` degrees about its lower left corner."""

    x: float
    y: float
    width: float
    height: float
    turn: float = 0.0

    @property
    def foot(self) -> float:
        """Where it stands."""
        return self.y + self.height


@dataclass(frozen=True)
class CoreDrawing:
    """Both views: the space, the gap wanted round a core, the core that stands and the one that is to come."""

    width: float
    height: float
    space: tuple[Box, Box]
    wanted: tuple[Box, Box]
    before: tuple[Box, Box] | None
    now: tuple[Box, Box] | None
    #: the three lengths of the space [mm]
    lengths_mm: tuple[float, float, float]


def _sizes(core: Mapping[str, Any]) -> tuple[float, float, float] | None:
    found = [core.get(name) for name in SIZES]
    return None if None in found else (float(found[0] or 0), float(found[1] or 0), float(found[2] or 0))


def core_drawing(
    space: Mapping[str, float], before: Mapping[str, Any], now: Mapping[str, Any], tilt_deg: float = 0.0
) -> CoreDrawing:
    """The space between rails, mount, slam panel, condenser and fan with both cores.

    Parameters
    ----------
    space : ``between_rails``, ``space_up``, ``condenser_to_fan``, over 0 [mm]
    before, now : ``width_mm``, ``height_mm``, ``depth_mm`` of a core; what is missing is not drawn [mm]
    tilt_deg : how far both lean from upright, 0 to 90 [deg]

    Source: common practice for the gaps, as ``judge_core_space``.

    >>> drawn = core_drawing({"between_rails": 700, "space_up": 350, "condenser_to_fan": 60}, {}, {"width_mm": 350,
    ...     "height_mm": 325, "depth_mm": 16})
    >>> drawn.before, round(drawn.now[0].width / drawn.space[0].width, 2)
    (None, 0.5)
    """
    rails, up, deep = (float(space[name]) for name in SPACE)
    scale = min(ACROSS / max(rails + deep, 1.0), HIGH / max(up, 1.0))
    floor, side = TOP + up * scale, LEFT + rails * scale + BETWEEN
    gap = {name: mm * scale for name, mm in ROUND_CORE.items()}
    wanted = (
        Box(
            LEFT + gap["between_rails"],
            TOP + gap["space_up"],
            max(0.0, rails * scale - 2 * gap["between_rails"]),
            max(0.0, up * scale - gap["space_up"]),
        ),
        Box(
            side + gap["to_condenser"],
            TOP + gap["space_up"],
            max(0.0, deep * scale - gap["to_condenser"] - gap["to_fan"]),
            max(0.0, up * scale - gap["space_up"]),
        ),
    )

    def both(core: Mapping[str, Any]) -> tuple[Box, Box] | None:
        found = _sizes(core)
        if found is None:
            return None
        width, height, depth = (one * scale for one in found)
        seen = height * math.cos(math.radians(tilt_deg)) + depth * math.sin(math.radians(tilt_deg))
        return (
            Box(LEFT + (rails * scale - width) / 2, floor - seen, width, seen),
            Box(side + gap["to_condenser"], floor - height, depth, height, tilt_deg),
        )

    views = (Box(LEFT, TOP, rails * scale, up * scale), Box(side, TOP, deep * scale, up * scale))
    return CoreDrawing(WIDTH, floor + 34.0, views, wanted, both(before), both(now), (rails, up, deep))
