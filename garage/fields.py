"""Fields and widgets that several forms share."""

from __future__ import annotations

from typing import Any

from django import forms
from django.utils import timezone

from garage.file import CarFile
from shell.figures import unit_for

DATE = forms.DateInput(attrs={"type": "date"}, format="%Y-%m-%d")


class PastDayField(forms.DateField):
    """A day on which something was read: today or before."""

    def __init__(self, **options: Any) -> None:
        wanted: dict[str, Any] = {"widget": DATE, "initial": timezone.localdate, "label": "When", **options}
        super().__init__(**wanted)

    def validate(self, value: Any) -> None:
        super().validate(value)
        if value is not None and value > timezone.localdate():
            raise forms.ValidationError("That day has not come yet.")


def unit_of(kind: str, file: CarFile) -> str:
    """The person's unit of a kind of quantity."""
    return unit_for(kind, file.preferences)
