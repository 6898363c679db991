"""What changes what is known of engine, cooling and brakes; one transaction each, each can be undone."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from django.utils import timezone

from garage.car.models import Car
from garage.engine.models import Brakes, Cooling, Engine
from shell.undo import remember


def set_engine(car: Car, values: Mapping[str, Any]) -> None:
    """What is known of the engine."""
    _set_one(car, Engine, values, "engine kept")


def set_cooling(car: Car, values: Mapping[str, Any]) -> None:
    """What is known of the cooling system."""
    _set_one(car, Cooling, values, "cooling kept")


def set_brakes(car: Car, values: Mapping[str, Any]) -> None:
    """What is known of the brakes."""
    _set_one(car, Brakes, values, "brakes kept")


def _set_one(car: Car, model: type[Engine | Cooling | Brakes], values: Mapping[str, Any], said: str) -> None:
    with remember(car.owner, said):
        found = model.objects.filter(car=car).first() or model(car=car)
        for name, value in values.items():
            setattr(found, name, value)
        found.noted_on = timezone.localdate()
        found.save()
