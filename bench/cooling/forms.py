"""The form of the cooling system."""

from __future__ import annotations

from typing import Any

from django import forms

from bench.frame.fields import held
from garage.engine.models import COOLING, SIDES
from garage.file import CarFile
from rimcore.limits import LIMITS
from shell.forms import QuantityField
from shell.merge import Merged

FIELDS = COOLING


class CoolingForm(Merged, forms.Form):
    """What is known of the cooling system."""

    cap_kpa = QuantityField(
        "pressure", *LIMITS["cap_kpa"].span, label="Cap opens at", help_text="on the cap: 0.9 bar; 16 lb is 16 psi"
    )
    glycol_pct = held(
        "glycol_pct",
        required=False,
        label="Ethylene glycol, % by volume",
        help_text="by hydrometer or refractometer; blank: not known",
    )
    coolant_c = QuantityField("temperature", *LIMITS["coolant_c"].span, required=False, label="Coolant at its hottest")
    coldest_c = QuantityField("temperature", *LIMITS["coldest_c"].span, required=False, label="Coldest night expected")

    def __init__(self, file: CarFile, *args: Any, **options: Any) -> None:
        super().__init__(*args, **options)
        for name, label, limit in (
            ("width_mm", "Core, width", "core_mm"),
            ("height_mm", "height", "core_mm"),
            ("depth_mm", "depth", "core_depth_mm"),
        ):
            self.fields[name] = QuantityField("length", *LIMITS[limit].span, required=False, label=label)
        self.fields["tilt_deg"] = QuantityField(
            "angle", *LIMITS["core_tilt_deg"].span, required=False, label="Core leans by", help_text="blank: upright"
        )
        for name, label in (("top_port", "Top port, from the front"), ("lower_port", "Lower port, from the front")):
            self.fields[name] = forms.ChoiceField(choices=(("", "not noted"), *SIDES), required=False, label=label)
