"""Forms of the proof."""

from __future__ import annotations

import math
import re
from typing import Any

from django import forms
from django.utils import timezone

from garage.fields import DATE
from garage.file import CarFile
from proof.models import Series
from rimcore.proof.tank import DRIVEN_KM, VOLUME_L
from shell.forms import QuantityField


class SeriesForm(forms.ModelForm):
    """A quantity that is repeated."""

    class Meta:
        model = Series
        fields = ("name", "unit", "better", "limit", "how")

    def __init__(self, file: CarFile, *args: Any, **options: Any) -> None:
        super().__init__(*args, **options)
        self.file = file

    def clean_name(self) -> str:
        name: str = self.cleaned_data["name"]
        if self.file.car.series.filter(name=name).exists():
            raise forms.ValidationError("There is a series of that name.")
        return name


class RunsOf(forms.Form):
    """When, with which wheels, under which conditions."""

    ran_on = forms.DateField(widget=DATE, initial=timezone.localdate, label="When")
    note = forms.CharField(max_length=120, required=False, label="Conditions")

    def __init__(self, file: CarFile, *args: Any, **options: Any) -> None:
        super().__init__(*args, **options)
        choices = [(str(outfit.pk), outfit.name) for outfit in file.outfits] or [("", "the car as it is")]
        self.fields["outfit"] = forms.ChoiceField(
            choices=choices, label="With", initial=choices[-1][0], required=bool(file.outfits)
        )

    def clean_ran_on(self) -> Any:
        ran = self.cleaned_data["ran_on"]
        if ran > timezone.localdate():
            raise forms.ValidationError("That day has not come yet.")
        return ran


class TankForm(RunsOf):
    """A tank that was filled up again."""

    field_order = ("volume_l", "trip_km", "ran_on", "note", "outfit")

    def __init__(self, file: CarFile, *args: Any, **options: Any) -> None:
        super().__init__(file, *args, **options)
        self.fields["volume_l"] = QuantityField("volume", *VOLUME_L, label="Filled up")
        self.fields["trip_km"] = QuantityField(
            "distance", *DRIVEN_KM, label="Since the last full tank", help_text="by the trip meter"
        )
        self.order_fields(self.field_order)


class RunForm(RunsOf):
    """One or several runs, with a blank between."""

    values = forms.CharField(max_length=300, label="Runs", help_text="one or several figures: 6.91 7.04 6.88")
    field_order = ("values", "ran_on", "note", "outfit")

    def clean_values(self) -> list[float]:
        found = []
        for word in re.split(r"[\s;]+", self.cleaned_data["values"].replace("−", "-").strip()):
            try:
                value = float(word.replace(",", "."))
            except ValueError as error:
                raise forms.ValidationError(f"“{word}” is no figure; accepted: 6.91 7.04 6.88.") from error
            if not math.isfinite(value) or abs(value) > 1e9:
                raise forms.ValidationError(f"“{word}” is out of range.")
            found.append(value)
        return found
