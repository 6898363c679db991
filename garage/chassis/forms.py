"""Forms of the chassis: hard points, old parts, dips."""

from __future__ import annotations

from typing import Any

from django import forms

from garage.car.spec_fields import spec_field
from garage.fields import PastDayField
from garage.file import CarFile
from rimcore.families import Family
from rimcore.limits import LIMITS
from rimcore.quantities.errors import CoreError
from rimcore.ride.plumb import AXES, HUB, PLUMB_MM, wanted, words
from rimcore.tables.facts import CORNER_NAMES, CORNERS
from shell.forms import QuantityField

#: in words, as columns of the floor sheet
COLUMNS = {"across": "from the centre line", "ahead": "ahead of the axle line", "up": "above the floor"}


class PointsForm(forms.Form):
    """The floor sheet of a corner: three figures a point; a row counts when it is whole."""

    def __init__(self, file: CarFile, layout: str, *args: Any, **options: Any) -> None:
        super().__init__(*args, **options)
        self.layout = layout
        self.names = wanted(layout)
        for name in self.names:
            for axis in AXES:
                if name == HUB and axis == "ahead":
                    continue
                span = LIMITS["point_up_mm" if axis == "up" else "point_mm"]
                label = f"{words(layout, name)}, {COLUMNS[axis]}"
                self.fields[f"{name}-{axis}"] = QuantityField("length", *span.span, required=False, label=label)
        self.fields["from_face"] = forms.BooleanField(
            required=False, label="Across was read inboard of the mounting face, not from the centre line"
        )
        self.fields["uncertainty_mm"] = QuantityField("length", 0.05, 50, label="± of each figure", initial=PLUMB_MM)
        self.fields["who"] = forms.CharField(max_length=60, required=False, label="Who")
        self.fields["taken_on"] = PastDayField()

    @property
    def rows(self) -> list[dict[str, Any]]:
        """Points in the order of crawling, each with its fields."""
        return [
            {
                "name": words(self.layout, name),
                "fields": [self[f"{name}-{axis}"] if f"{name}-{axis}" in self.fields else None for axis in AXES],
            }
            for name in self.names
        ]

    @property
    def tail(self) -> list[Any]:
        """What is the same for all points."""
        return [self[name] for name in ("from_face", "uncertainty_mm", "who", "taken_on")]

    def clean(self) -> dict[str, Any]:
        cleaned: dict[str, Any] = super().clean() or {}
        self.read: dict[str, dict[str, Any]] = {}
        for name in self.names:
            own = [axis for axis in AXES if f"{name}-{axis}" in self.fields]
            given = {axis: cleaned.get(f"{name}-{axis}") for axis in own}
            empty = [axis for axis in own if given[axis] is None and f"{name}-{axis}" not in self.errors]
            if len(empty) == len(own):
                continue
            for axis in empty:
                self.add_error(f"{name}-{axis}", f"Missing: a point has {len(own)} figures, or none.")
            self.read[name] = {"across_mm": given["across"], "ahead_mm": given.get("ahead", 0.0), "up_mm": given["up"]}
        if not self.read and not self.errors:
            raise forms.ValidationError("Nothing was typed; accepted: at least one whole row.")
        return cleaned


class OldPartForm(forms.Form):
    """One part as it stands: whatever is known of it."""

    def __init__(self, family: Family, *args: Any, **options: Any) -> None:
        super().__init__(*args, **options)
        self.family = family
        self.specs = [spec for spec in family.specs if spec.code not in ("pieces", "mass_change_kg")]
        for spec in self.specs:
            self.fields[spec.code] = spec_field(spec, required=False)
        self.fields["who"] = forms.CharField(max_length=60, required=False, label="Who")
        self.fields["noted_on"] = PastDayField()

    @property
    def said(self) -> dict[str, Any]:
        """What was written down of it, blanks left out."""
        found = {spec.code: self.cleaned_data.get(spec.code) for spec in self.specs}
        return {code: value for code, value in found.items() if value not in (None, "")}

    def clean(self) -> dict[str, Any]:
        cleaned: dict[str, Any] = super().clean() or {}
        if self.errors:
            return cleaned
        if not self.said:
            self.add_error(None, "Nothing was recorded; fill in what can be measured or read.")
            return cleaned
        try:
            self.family.check_old(self.said)
        except CoreError as error:
            self.add_error(
                error.field if error.field in self.fields else None, error.message[:1].upper() + error.message[1:] + "."
            )
        return cleaned


class DipForm(forms.Form):
    """A known place, and what the cable tie showed there."""

    def __init__(self, file: CarFile, *args: Any, height: bool = False, **options: Any) -> None:
        """``height`` asks at which height it was driven; else it is the one that stands on the car."""
        super().__init__(*args, **options)
        self.fields["name"] = forms.CharField(
            max_length=60, label="Place", help_text="farm lane by the bridge, at 40 km/h"
        )
        self.fields["corner"] = forms.ChoiceField(
            choices=[(one, CORNER_NAMES[one].capitalize()) for one in CORNERS], label="Corner"
        )
        self.fields["shaft_mm"] = QuantityField(
            "length",
            *LIMITS["dip_mm"].span,
            label="Cable tie moved",
            help_text="along the shaft, from ride height; the damper is taken to move as the spring does",
        )
        if height:
            self.fields["ride_drop_mm"] = QuantityField(
                "length",
                *LIMITS["ride_drop_mm"].span,
                label="Lowered when it was driven",
                help_text="against the baseline; minus is lifted",
            )
        self.fields["touched"] = forms.BooleanField(required=False, label="It touched")
        self.fields["who"] = forms.CharField(max_length=60, required=False, label="Who")
        self.fields["driven_on"] = PastDayField()
