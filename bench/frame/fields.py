"""Fields that several benches share."""

from __future__ import annotations

from typing import Any

from django import forms

from rimcore.limits import LIMITS


def held(limit: str, **options: Any) -> forms.FloatField:
    """A number that holds to one of the set of limits."""
    span = LIMITS[limit]
    return forms.FloatField(min_value=span.low, max_value=span.high, **options)
