"""What was read of links, rack, springs, dips and frame, once a page."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Protocol

from garage.car.models import Car
from garage.chassis.models import FrameMarks, FrameTrial, HardPoint, KnownDip, OldPart, Rack, Springs
from garage.kept import Keeps, once

#: how many drives and sets of marks a page looks back over
DIPS, MARKS = 40, 20


@dataclass(frozen=True)
class Chassis:
    """Newest hard points by corner, layout and name; rack; springs by end; drives; old parts by end and family.

    Frame trials and marks.
    """

    points: dict[tuple[str, str, str], HardPoint]
    rack: Rack | None
    springs: dict[str, Springs]
    dips: list[KnownDip]
    old: dict[tuple[str, str], OldPart]
    trials: list[FrameTrial]
    marks: list[FrameMarks]


class OfCar(Keeps, Protocol):
    """A car's file, as far as it is needed here."""

    car: Car


@once
def chassis_of(file: OfCar) -> Chassis:
    """Seven queries, whatever there is."""
    points: dict[tuple[str, str, str], HardPoint] = {}
    for point in HardPoint.objects.filter(car=file.car):
        points.setdefault((point.corner, point.layout, point.name), point)
    old: dict[tuple[str, str], OldPart] = {}
    for part in OldPart.objects.filter(car=file.car):
        old.setdefault((part.end, part.family), part)
    return Chassis(
        points,
        Rack.objects.filter(car=file.car).first(),
        {springs.end: springs for springs in Springs.objects.filter(car=file.car)},
        list(KnownDip.objects.filter(car=file.car)[:DIPS]),
        old,
        list(FrameTrial.objects.filter(car=file.car)[:MARKS]),
        list(FrameMarks.objects.filter(car=file.car)[:MARKS]),
    )
