"""Engine, cooling and brakes of a car, once a page."""

from __future__ import annotations

from dataclasses import dataclass

from garage.engine.models import Brakes, Cooling, Engine
from garage.file import CarFile
from garage.kept import once


@dataclass(frozen=True)
class Running:
    """What is known of engine, cooling and brakes; None where nobody said anything."""

    engine: Engine | None
    cooling: Cooling | None
    brakes: Brakes | None


@once
def running_of(file: CarFile) -> Running:
    """Three queries."""
    of_car = {"car": file.car}
    return Running(
        Engine.objects.filter(**of_car).first(),
        Cooling.objects.filter(**of_car).first(),
        Brakes.objects.filter(**of_car).first(),
    )
