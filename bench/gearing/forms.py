"""Forms of the gearing bench."""

from __future__ import annotations

import re
from typing import Any

from django import forms

from shell.forms import QuantityField, rounded
from shell.merge import Merged

#: range of a ratio, most of them, and how they are written
RATIO, MOST_GEARS, MOST_OPTIONS = (0.01, 100.0), 12, 20


class RatiosField(forms.CharField):
    """Ratios on one line, with blanks, commas or slashes between them; cleans to a list."""

    def __init__(self, most: int, **options: Any) -> None:
        super().__init__(max_length=200, **options)
        self.most = most

    def to_python(self, value: Any) -> Any:
        text = super().to_python(value) or ""
        words = [word for word in re.split(r"[\s;/]+|,\s+", text) if word]
        try:
            found = [float(word.replace(",", ".")) for word in words]
        except ValueError as error:
            raise forms.ValidationError(
                "Write the ratios with blanks between them, as 3.59 2.02 1.38 1.00 0.86."
            ) from error
        if len(found) > self.most or any(not RATIO[0] <= ratio <= RATIO[1] for ratio in found):
            raise forms.ValidationError(f"Accepted: up to {self.most} ratios, each {RATIO[0]:g} to {RATIO[1]:g}.")
        if self.required and not found:
            raise forms.ValidationError("At least one ratio.")
        return found

    def prepare_value(self, value: Any) -> Any:
        return " ".join(f"{ratio:g}" for ratio in value) if isinstance(value, list) else value


class DrivelineForm(Merged, forms.Form):
    """What is in the car."""

    gears = RatiosField(MOST_GEARS, label="Gears, first to last", help_text="3.59 2.02 1.38 1.00 0.86")
    axle_ratio = forms.FloatField(
        min_value=RATIO[0], max_value=RATIO[1], label="Axle ratio", help_text="crown wheel teeth ÷ pinion teeth"
    )
    transfer_ratio = forms.FloatField(
        min_value=RATIO[0],
        max_value=RATIO[1],
        initial=1.0,
        label="Transfer case",
        help_text="in the range you cruise in; 1 without one",
    )
    limit_rpm = forms.IntegerField(min_value=500, max_value=30_000, label="Engine's limit, rpm")
    cruise_kmh = QuantityField("speed", 1, 400, required=False, label="Cruise", help_text="blank: 110 km/h")
    wanted_rpm = forms.IntegerField(
        min_value=300,
        max_value=30_000,
        required=False,
        label="Engine speed wanted at cruise, rpm",
        help_text="where it pulls best, with what it tows",
    )


class AskForm(forms.Form):
    """What is asked of the bench; kept in the address."""

    speed = QuantityField("speed", 1, 400, initial=rounded("speed", 110), label="Cruise")
    gear = forms.IntegerField(
        min_value=1, max_value=MOST_GEARS, required=False, label="In gear", help_text="blank: the last"
    )
    wanted = forms.FloatField(min_value=1, max_value=30_000, required=False, label="Wanted there, rpm")
    axle = forms.FloatField(
        min_value=RATIO[0],
        max_value=RATIO[1],
        required=False,
        label="Axle ratio tried",
        help_text="blank: as the build has it",
    )
    shelf = RatiosField(MOST_OPTIONS, required=False, label="Axle ratios on the shelf")
