"""The form of the brakes."""

from __future__ import annotations

from typing import Any

from django import forms

from bench.frame.fields import held
from garage.file import CarFile
from rimcore.braking.stops import HARD_G, HARD_KMH
from rimcore.limits import LIMITS
from shell.forms import QuantityField, rounded
from shell.merge import Merged

FIELDS = ("front_rotor_kg", "rear_rotor_kg", "load_kg", "load_braked", "from_kmh", "deceleration_g")


class BrakesForm(Merged, forms.Form):
    """Rotors, and the stop that is reckoned."""

    load_braked = forms.BooleanField(
        required=False, label="The trailer has brakes of its own", help_text="then it is no load of the car's"
    )
    deceleration_g = held("stop_g", label="Deceleration, g", initial=HARD_G)

    def __init__(self, file: CarFile, *args: Any, **options: Any) -> None:
        super().__init__(*args, **options)
        for name, label in (("front_rotor_kg", "One front disc"), ("rear_rotor_kg", "One rear disc")):
            self.fields[name] = QuantityField(
                "mass", *LIMITS["rotor_kg"].span, required=False, label=label, help_text="on a kitchen scale"
            )
        self.fields["load_kg"] = QuantityField(
            "mass", *LIMITS["towed_kg"].span, required=False, label="Trailer and load in the stop", initial=0
        )
        self.fields["from_kmh"] = QuantityField(
            "speed", *LIMITS["stop_kmh"].span, label="Stop from", initial=rounded("speed", HARD_KMH)
        )
        self.order_fields(FIELDS)

    def clean_load_kg(self) -> float:
        return self.cleaned_data["load_kg"] or 0.0
