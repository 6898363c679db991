"""What is typed of another set of wheels, and from which day on it stands on the car."""

from __future__ import annotations

from datetime import date
from typing import Any

from django import forms
from django.utils import timezone

from garage.car.models import Car
from rimcore.limits import LIMITS
from rimcore.quantities.errors import CoreError
from rimcore.tables.facts import ENDS
from rimcore.wheels.tyre import parse_tyre
from rimcore.wheels.tyrestate import made_on
from rimcore.wheels.wheel import parse_wheel, same_rim
from shelf.models import WheelSet
from shell.forms import QuantityField


class SetForm(forms.Form):
    """A set: what it is for, wheels and tyres of both ends, tread, age, where it lies."""

    name = forms.CharField(max_length=40, label="Name")
    purpose = forms.ChoiceField(choices=list(WheelSet.PURPOSES.items()), label="For")
    stored = forms.CharField(max_length=80, required=False, label="Where it is stored")

    def __init__(self, car: Car, *args: Any, **options: Any) -> None:
        super().__init__(*args, **options)
        self.car = car
        for end, name in ENDS.items():
            rear = "" if end == "F" else "; blank: as the front"
            self.fields[f"wheel_{end}"] = forms.CharField(
                max_length=120, required=end == "F", label=f"Wheel, {name}", help_text=f"17x7.5 +40 5x108 63.4{rear}"
            )
            self.fields[f"tyre_{end}"] = forms.CharField(
                max_length=60, required=end == "F", label=f"Tyre, {name}", help_text=f"225/45R17 94H{rear}"
            )
            self.fields[f"tread_{end}"] = QuantityField(
                "length", *LIMITS["tread_mm"].span, required=False, label=f"Least tread, {name}"
            )
            self.fields[f"code_{end}"] = forms.CharField(
                max_length=8, required=False, label=f"Date code, {name}", help_text="week and year off the side: 2319"
            )

    def clean_name(self) -> str:
        name: str = self.cleaned_data["name"]
        if WheelSet.objects.filter(car=self.car, name=name).exists():
            raise forms.ValidationError(f"There is a set “{name}” already.")
        return name

    def clean(self) -> dict[str, Any]:
        found: dict[str, Any] = super().clean() or {}
        for end in ENDS:
            self._pair(found, end)
            code = found.get(f"code_{end}")
            if code:
                self._read(f"code_{end}", lambda code=code: made_on(code, timezone.localdate()))
        return found

    def _pair(self, found: dict[str, Any], end: str) -> None:
        """Wheel and tyre of an end can be read and go together."""
        wheel = self._read(f"wheel_{end}", lambda: parse_wheel(self.said(found, "wheel", end)))
        tyre = self._read(f"tyre_{end}", lambda: parse_tyre(self.said(found, "tyre", end)))
        if wheel is not None and wheel.offset_mm is None:
            self.add_error(f"wheel_{end}", "The offset is missing; write it as +22 or ET22.")
        if wheel is not None and tyre is not None and not same_rim(wheel.diameter_in, tyre.rim_diameter_in):
            self.add_error(
                f"tyre_{end}", f"A tyre for {tyre.rim_diameter_in:g} in on a wheel of {wheel.diameter_in:g} in."
            )

    def _read(self, field: str, read: Any) -> Any:
        try:
            return read()
        except CoreError as error:
            if field not in self.errors:
                self.add_error(field, f"{error.message[:1].upper()}{error.message[1:]}.")
            return None

    @staticmethod
    def said(found: dict[str, Any], what: str, end: str) -> str:
        """What was typed for an end; the rear is as the front where nothing is."""
        return str(found.get(f"{what}_{end}") or found.get(f"{what}_F") or "")


class FitForm(forms.Form):
    """From which day on a set stands on the car."""

    since = forms.DateField(label="On the car from", widget=forms.DateInput(attrs={"type": "date"}))

    def __init__(self, least: date | None, *args: Any, **options: Any) -> None:
        super().__init__(*args, **options)
        self.least = least

    def clean_since(self) -> date:
        day: date = self.cleaned_data["since"]
        if day > timezone.localdate() or (self.least is not None and day < self.least):
            least = f"{self.least:%-d %b %Y} to " if self.least else "up to "
            raise forms.ValidationError(f"Out of range; accepted: {least}today, {timezone.localdate():%-d %b %Y}.")
        return day
