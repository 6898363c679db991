"""Forms of the breathing bench: the engine, a run of pipe."""

from __future__ import annotations

from typing import Any

from django import forms

from bench.breathing.facts import KINDS
from bench.frame.fields import held as limited_field
from garage.file import CarFile
from rimcore.breathing.bill import Piece
from rimcore.breathing.typed import parse_run, with_bore
from rimcore.limits import LIMITS
from rimcore.quantities.errors import CoreError
from shell.forms import QuantityField, rounded
from shell.merge import Merged
from shell.units import unit

ENGINE_FIELDS = (
    "displacement_l",
    "cylinders",
    "ve_pct",
    "manifold_ratio",
    "meter_mm",
    "limit_rpm",
    "cruise_rpm",
    "gas_in_c",
    "gas_out_c",
    "sound_limit_db",
)


class EngineForm(Merged, forms.Form):
    """What is known of the engine."""

    displacement_l = QuantityField(
        "displacement", *LIMITS["displacement_l"].span, label="Displacement", help_text="1998 cc, 122 cuin"
    )
    cylinders = forms.IntegerField(min_value=1, max_value=16, initial=4, label="Cylinders")
    ve_pct = limited_field("ve_pct", label="Filling at the limit, %", help_text="90 where not measured", initial=90)
    manifold_ratio = limited_field(
        "manifold_ratio", label="Manifold pressure ÷ outside", help_text="1 without a compressor", initial=1
    )
    limit_rpm = limited_field(
        "rpm", label="Engine's limit, rpm", required=False, help_text="blank: as the gears say, if they are entered"
    )
    cruise_rpm = limited_field("rpm", label="Engine speed at cruise, rpm", required=False)
    gas_in_c = QuantityField(
        "temperature", *LIMITS["gas_c"].span, label="Exhaust at the manifold", initial=rounded("temperature", 750)
    )
    gas_out_c = QuantityField(
        "temperature", *LIMITS["gas_c"].span, label="Exhaust at the tip", initial=rounded("temperature", 350)
    )
    sound_limit_db = limited_field(
        "sound_db", label="Sound limit, dB(A)", required=False, help_text="your own: place, organiser, inspection"
    )

    def __init__(self, file: CarFile, *args: Any, **options: Any) -> None:
        super().__init__(*args, **options)
        self.fields["meter_mm"] = QuantityField(
            "length",
            *LIMITS["bore_of_pipe_mm"].span,
            required=False,
            label="Original airflow meter housing, bore",
            help_text="blank: no air meter",
        )
        self.order_fields(ENGINE_FIELDS)


class RunForm(forms.Form):
    """A run as it is typed, a line a piece, and what is tried on it."""

    kind = forms.ChoiceField(choices=[(kind, kind) for kind in KINDS], widget=forms.HiddenInput)
    lines = forms.CharField(
        required=False,
        max_length=6000,
        label="Pieces, in the order of the flow",
        widget=forms.Textarea(attrs={"rows": 8, "spellcheck": "false"}),
        strip=False,
    )
    pipes = forms.IntegerField(min_value=1, max_value=4, required=False, initial=1, label="Runs side by side")
    rpm = forms.FloatField(min_value=300, max_value=20_000, required=False)
    air = QuantityField("temperature", -40, 90, required=False, label="Air drawn in")
    piece = forms.IntegerField(min_value=0, max_value=60, required=False)
    #: the piece whose bore the slider showed; another one is only picked
    was = forms.IntegerField(min_value=0, max_value=60, required=False)
    bore = forms.FloatField(min_value=10, max_value=400, required=False)

    pieces: tuple[Piece, ...] = ()

    def clean(self) -> dict[str, Any]:
        cleaned: dict[str, Any] = super().clean() or {}
        try:
            self.pieces = parse_run(cleaned.get("lines") or "", unit("length"))
        except CoreError as error:
            self.add_error("lines", error.message[:1].upper() + error.message[1:] + ".")
            return cleaned
        place, bore = cleaned.get("piece"), cleaned.get("bore")
        if place and bore and place == cleaned.get("was") and place <= len(self.pieces):
            self.pieces = with_bore(self.pieces, place - 1, bore)
        return cleaned
