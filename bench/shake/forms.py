"""The form of the shake finder."""

from __future__ import annotations

from typing import Any

from django import forms

from garage.file import CarFile
from rimcore.wheels.shake import FELT, TESTS, WHEN
from shell.forms import QuantityField


class ShakeForm(forms.Form):
    """What is felt, when, and what was tried."""

    felt = forms.ChoiceField(choices=list(FELT.items()), label="Felt")
    when = forms.ChoiceField(choices=list(WHEN.items()), label="Comes")
    new_wheels = forms.BooleanField(required=False, initial=True, label="It came with other wheels or tyres")
    tried = forms.MultipleChoiceField(
        choices=[(code, what) for code, what, _, _ in TESTS],
        required=False,
        widget=forms.CheckboxSelectMultiple,
        label="Already tried, no change",
    )

    def __init__(self, file: CarFile, *args: Any, **options: Any) -> None:
        super().__init__(*args, **options)
        self.fields["low_kmh"] = QuantityField("speed", 5, 350, label="From", initial=60)
        self.fields["high_kmh"] = QuantityField("speed", 5, 350, label="To", initial=130)
        self.order_fields(["low_kmh", "high_kmh", "felt", "when", "new_wheels", "tried"])
