"""What a cable tie showed in a known dip."""

from __future__ import annotations

from typing import Any

from django import forms

from garage.file import CarFile
from garage.forms import PastDayField
from rimcore.quantities.limits import LIMITS
from rimcore.well.stations import CORNER_NAMES, CORNERS
from shell.forms import QuantityField


class DipForm(forms.Form):
    """A known place, and what the cable tie showed there."""

    def __init__(self, file: CarFile, *args: Any, height: bool = False, **options: Any) -> None:
        """``height`` asks at which height it was driven; else it is the one that stands on the car."""
        super().__init__(*args, **options)
        self.fields["name"] = forms.CharField(max_length=60, label="Place", help_text="farm lane by the bridge, at 40 km/h")
        self.fields["corner"] = forms.ChoiceField(choices=[(one, CORNER_NAMES[one].capitalize()) for one in CORNERS], label="Corner")
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
