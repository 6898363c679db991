"""Panels and slopes of a car, once a page."""

from __future__ import annotations

from dataclasses import dataclass

from garage.air.models import AirPanel, AirUnder
from garage.file import CarFile
from garage.kept import once


@dataclass(frozen=True)
class Air:
    """Panels as they are kept, and what the car has under it."""

    panels: list[AirPanel]
    under: AirUnder | None


@once
def air_of(file: CarFile) -> Air:
    """Two queries."""
    return Air(list(AirPanel.objects.filter(car=file.car)), AirUnder.objects.filter(car=file.car).first())
