"""What the page of all cars needs."""

from __future__ import annotations

from typing import Any

from garage.car.models import Car


def cars_of(user: Any) -> list[Car]:
    """A person's cars."""
    return list(Car.objects.filter(owner=user))
