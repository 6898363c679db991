"""Forms of the steering bench."""

from __future__ import annotations

from typing import Any

from django import forms

from garage.file import CarFile
from rimcore.limits import LIMITS
from rimcore.steering.bench import LEVERS
from shell.forms import QuantityField
from shell.merge import Merged


class RackForm(Merged, forms.Form):
    """What was read of the rack."""

    def __init__(self, file: CarFile, *args: Any, **options: Any) -> None:
        super().__init__(*args, **options)
        names = (
            ("travel_mm", "rack_travel_mm", "Rack travel, middle to lock", "half of lock to lock"),
            ("left_stick_out_mm", "stick_out_mm", "Left rod out of the rack", "boot off, to the same edge each side"),
            ("right_stick_out_mm", "stick_out_mm", "Right rod out of the rack", ""),
        )
        for name, limit, label, text in names:
            self.fields[name] = QuantityField(
                "length", *LIMITS[limit].span, required=False, label=label, help_text=text
            )
        self.fields["turns"] = forms.FloatField(
            min_value=LIMITS["turns"].low,
            max_value=LIMITS["turns"].high,
            required=False,
            label="Turns of the steering wheel, lock to lock",
        )


class TryForm(forms.Form):
    """Where the rack stands, and what is tried: kept in the address."""

    def __init__(self, *args: Any, **options: Any) -> None:
        super().__init__(*args, **options)
        for lever in LEVERS:
            span = LIMITS[lever.limit]
            self.fields[lever.code] = QuantityField(
                "length", *span.span, required=False, label=lever.name, help_text=lever.help
            )
        self.fields["rack"] = forms.FloatField(min_value=-150, max_value=150, required=False)
