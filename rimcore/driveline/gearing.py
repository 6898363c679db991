"""Revolutions over speed in every gear, and what another tyre or axle ratio does to them."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from rimcore.wheels.tyre import ROLLING_FACTOR

#: minutes an hour and millimetres a kilometre: km/h = rpm × mm × this ÷ ratio
KMH_PER_RPM_MM = 60.0 / 1e6


@dataclass(frozen=True)
class Driveline:
    """From the crankshaft to the road; ratios are input turns for one output turn.

    ``circumference_mm`` is that of the driven wheels on the road, ``gears`` the gearbox alone.
    """

    gears: tuple[float, ...]
    axle_ratio: float
    circumference_mm: float
    transfer_ratio: float = 1.0

    def overall(self, gear: int) -> float:
        """Turns of the engine for one of the wheel, in a gear counted from 1.

        >>> Driveline((3.5, 1.0), 4.0, 2000.0).overall(2)
        4.0
        """
        return self.gears[gear - 1] * self.transfer_ratio * self.axle_ratio


def rolling_mm(diameter_mm: float) -> float:
    """Rolling circumference of a tyre from its outer diameter [mm].

    Source: ISO 4000-1 practice, 3.05 × diameter (from memory), as ``Tyre.rolling_circumference_mm``.

    >>> round(rolling_mm(634.3), 1)
    1934.6
    """
    return ROLLING_FACTOR * diameter_mm


def rpm_at(line: Driveline, gear: int, speed_kmh: float) -> float:
    """Engine speed at a road speed [1/min].

    Source: geometry of rolling without slip; e.g. Gillespie, Fundamentals of Vehicle Dynamics, chapter 2.

    >>> round(rpm_at(Driveline((1.0,), 4.0, 2000.0), 1, 120.0), 9)
    4000.0
    """
    return speed_kmh * line.overall(gear) / (line.circumference_mm * KMH_PER_RPM_MM)


def kmh_at(line: Driveline, gear: int, rpm: float) -> float:
    """Road speed at an engine speed [km/h]; the other way round of ``rpm_at``.

    >>> round(kmh_at(Driveline((1.0,), 4.0, 2000.0), 1, 4000.0), 9)
    120.0
    """
    return rpm * line.circumference_mm * KMH_PER_RPM_MM / line.overall(gear)


def effective_change_pct(axle_ratio: float, circumference_mm: float, axle_before: float, circumference_before_mm: float) -> float:
    """How much shorter the gearing is than before, in all gears alike [%]; taller tyres make it longer (minus).

    >>> round(effective_change_pct(4.1, 2100.0, 4.1, 2000.0), 3)
    -4.762
    """
    return 100.0 * (axle_ratio / circumference_mm / (axle_before / circumference_before_mm) - 1.0)


def axle_to_restore(axle_before: float, circumference_mm: float, circumference_before_mm: float) -> float:
    """Axle ratio that brings the old revolutions back on another tyre.

    >>> axle_to_restore(4.0, 2200.0, 2000.0)
    4.4
    """
    return axle_before * circumference_mm / circumference_before_mm


@dataclass(frozen=True)
class Option:
    """An axle ratio from the shelf: engine speed it gives, and how far that is from what is wanted [1/min]."""

    axle_ratio: float
    rpm: float
    off_rpm: float


def axle_options(line: Driveline, ratios: Sequence[float], gear: int, speed_kmh: float, wanted_rpm: float) -> list[Option]:
    """Axle ratios of the shelf, the nearest to the wanted engine speed first; equal ones as given.

    >>> [one.axle_ratio for one in axle_options(Driveline((1.0,), 4.0, 2000.0), [3.5, 4.5, 4.1], 1, 120.0, 4000.0)]
    [4.1, 3.5, 4.5]
    """
    found = []
    for ratio in ratios:
        rpm = rpm_at(Driveline(line.gears, ratio, line.circumference_mm, line.transfer_ratio), gear, speed_kmh)
        found.append(Option(ratio, rpm, rpm - wanted_rpm))
    return sorted(found, key=lambda one: round(abs(one.off_rpm), 6))
