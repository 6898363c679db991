"""Revolutions over speed as a sheet, in drawing units; the ink is the template's."""

from __future__ import annotations

import math
from dataclasses import dataclass

from rimcore.driveline.gearing import Driveline, kmh_at, rpm_at

#: size of the sheet and its margins
WIDTH, HEIGHT, LEFT, TOP, RIGHT, BOTTOM = 640.0, 380.0, 54.0, 16.0, 34.0, 36.0


@dataclass(frozen=True)
class Ray:
    """One gear: from standstill to the engine's limit or the edge of the sheet; its name stands at the end."""

    gear: int
    x1: float
    y1: float
    x2: float
    y2: float
    label_x: float
    label_y: float


@dataclass(frozen=True)
class GearSheet:
    """Rays now and before, ticks of both axes, and the speed that is asked about."""

    width: float
    height: float
    x0: float
    y0: float
    x1: float
    y1: float
    now: tuple[Ray, ...]
    before: tuple[Ray, ...]
    speeds: tuple[tuple[float, int], ...]
    revs: tuple[tuple[float, int], ...]
    asked_x: float
    dots: tuple[tuple[float, float], ...]


def gear_sheet(
    now: Driveline, before: Driveline | None, limit_rpm: float, asked_kmh: float, unit_kmh: float = 1.0
) -> GearSheet:
    """The sheet for a limit of the engine [1/min] and a speed that is asked about [km/h].

    Ticks are round in units of ``unit_kmh``.

    >>> sheet = gear_sheet(Driveline((3.5, 1.0), 4.0, 2000.0), None, 6000.0, 100.0)
    >>> len(sheet.now), sheet.speeds[-1][1]
    (2, 180)
    """
    top = max(kmh_at(line, len(line.gears), limit_rpm) for line in (now, before) if line is not None)
    most = max(20.0, 20.0 * math.ceil(max(top, asked_kmh) / unit_kmh / 20.0 - 1e-9))
    most_kmh = most * unit_kmh
    most_rpm = 1000.0 * math.ceil(limit_rpm / 1000.0)
    x0, y0, x1, y1 = LEFT, TOP, WIDTH - RIGHT, HEIGHT - BOTTOM

    def at(kmh: float, rpm: float) -> tuple[float, float]:
        return round(x0 + (x1 - x0) * kmh / most_kmh, 1), round(y1 - (y1 - y0) * rpm / most_rpm, 1)

    def rays(line: Driveline) -> tuple[Ray, ...]:
        found = []
        for gear in range(1, len(line.gears) + 1):
            kmh = kmh_at(line, gear, limit_rpm)
            x, y = at(kmh, limit_rpm)
            found.append(Ray(gear, x0, y1, x, y, x - 4, y - 7))
        return tuple(found)

    step = 20 if most <= 200 else 40
    speeds = tuple((at(speed * unit_kmh, 0.0)[0], speed) for speed in range(0, int(most) + 1, step))
    revs = tuple((at(0.0, rpm)[1], rpm) for rpm in range(0, int(most_rpm) + 1, 1000))
    turning = [(rpm_at(now, gear, asked_kmh)) for gear in range(1, len(now.gears) + 1)]
    dots = tuple(at(asked_kmh, rpm) for rpm in turning if rpm <= limit_rpm)
    return GearSheet(
        width=WIDTH,
        height=HEIGHT,
        x0=x0,
        y0=y0,
        x1=x1,
        y1=y1,
        now=rays(now),
        before=rays(before) if before is not None else (),
        speeds=speeds,
        revs=revs,
        asked_x=at(asked_kmh, 0.0)[0],
        dots=dots,
    )
