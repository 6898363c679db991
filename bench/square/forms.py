"""Forms of the four marks."""

from __future__ import annotations

from typing import Any

from django import forms

from bench.square.facts import LENGTHS, ORDER
from garage.fields import PastDayField
from garage.file import CarFile
from rimcore.limits import LIMITS
from rimcore.quantities.errors import CoreError
from rimcore.steering.setting import Frame
from rimcore.tables.facts import CORNER_NAMES, CORNERS
from shell.forms import QuantityField

#: field of the core -> length on the page
_FIELDS = {"front_left_to_rear_right_mm": "left_to_right_mm", "front_right_to_rear_left_mm": "right_to_left_mm"}


class MarksForm(forms.Form):
    """Six lengths between four plumb marks."""

    def __init__(self, file: CarFile, *args: Any, **options: Any) -> None:
        super().__init__(*args, **options)
        self.fields["what"] = forms.CharField(
            max_length=60, label="What is squared", help_text="front subframe, crossmember"
        )
        for name, label in LENGTHS.items():
            self.fields[name] = QuantityField("length", *LIMITS["frame_mm"].span, label=label)
        self.fields["who"] = forms.CharField(max_length=60, required=False, label="Who")
        self.fields["taken_on"] = PastDayField()

    def clean(self) -> dict[str, Any]:
        cleaned: dict[str, Any] = super().clean() or {}
        if all(cleaned.get(name) is not None for name in LENGTHS):
            try:
                Frame(*(cleaned[name] for name in ORDER))
            except CoreError as error:
                self.add_error(_FIELDS.get(error.field), f"These lengths can't close: {error.message}.")
        return cleaned


class BesideForm(forms.Form):
    """Something that leans towards the frame, tried at both ends of the stroke."""

    def __init__(self, file: CarFile, *args: Any, **options: Any) -> None:
        super().__init__(*args, **options)
        self.fields["what"] = forms.CharField(
            max_length=60, label="What leans in", help_text="toe link bolt, damper body"
        )
        self.fields["corner"] = forms.ChoiceField(
            choices=[(one, CORNER_NAMES[one].capitalize()) for one in CORNERS], label="Corner"
        )
        for name, label in (("bump_mm", "Gap at full bump"), ("droop_mm", "Gap at full droop")):
            text = "minus: it touches that much early"
            self.fields[name] = QuantityField(
                "length", *LIMITS["frame_gap_mm"].span, required=False, label=label, help_text=text
            )
        self.fields["plate_mm"] = QuantityField(
            "length", *LIMITS["plate_mm"].span, initial=2.0, label="Plate that goes back"
        )
        self.fields["again"] = forms.BooleanField(
            required=False, label="Tried again after metal came away, nothing welded yet"
        )
        self.fields["who"] = forms.CharField(max_length=60, required=False, label="Who")
        self.fields["taken_on"] = PastDayField()

    def clean(self) -> dict[str, Any]:
        cleaned: dict[str, Any] = super().clean() or {}
        if not self.errors and cleaned.get("bump_mm") is None and cleaned.get("droop_mm") is None:
            raise forms.ValidationError("Nothing was tried; accepted: a gap at full bump, at full droop, or both.")
        return cleaned
