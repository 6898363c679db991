"""Forms of the air bench: a panel from its card, what is under the car."""

from __future__ import annotations

from typing import Any

from django import forms

from bench.air.facts import Panel, panel_as_typed
from garage.air.models import AirPanel
from garage.file import CarFile
from rimcore.aero.bench import slopes
from rimcore.aero.card import hot_lines, keep_outs, points, sheets, stations
from rimcore.limits import LIMITS
from rimcore.parts.aired import KG_PER_M2, SHEETS
from rimcore.quantities.errors import CoreError
from shell.forms import LengthLinesField, QuantityField, rounded
from shell.merge import Merged

#: texts of a panel: what reads each
READERS: dict[str, Any] = {
    "stations": lambda text: stations(text) if text.strip() else (),
    "outline": points,
    "holes": keep_outs,
    "existing": lambda text: points(text, "existing"),
    "heat": hot_lines,
    "sheets": sheets,
}


HINTS = {
    "stations": "along, half-width, height: 400 520 145; from the front edge back",
    "outline": "instead of the card: along from the front edge and across, a point a line",
    "holes": "drain plug: 620 -80 r 45",
    "existing": "holes that are there: along and across, one a line",
    "heat": "silencer: 900 -200, 1500 -200 r 80 keep 60 above 50; or up 260 from the ground",
    "sheets": "1000 x 2000, 14.50",
}


LABELS = {
    "stations": "Card, a station a line",
    "outline": "Outline, point by point",
    "holes": "Keep-outs",
    "existing": "Existing holes",
    "heat": "What is hot",
    "sheets": "Sheets on sale",
}


FIELDS = (
    "name",
    "stations",
    "front_mm",
    "outline",
    "holes",
    "existing",
    "heat",
    "sheet",
    "kg_per_m2",
    "sheets",
    "pitch_mm",
    "edge_mm",
)


#: questions of a panel by what they decide
PANEL_FOLDS = {
    "Keep-outs and fasteners": ("holes", "existing", "pitch_mm", "edge_mm"),
    "What is hot beside it": ("heat",),
    "Sheet: weight and price": ("kg_per_m2", "sheets"),
    "Outline instead of the card": ("outline",),
}
#: questions of what lies under the car by what they decide
UNDER_FOLDS = {
    "Splitter: load on its fasteners": (
        "area_m2",
        "cp",
        "speed_kmh",
        "fasteners",
        "load_lever_mm",
        "adjusters",
        "adjuster_lever_mm",
    ),
    "Opening to the cooler": ("opening_mm", "covered_mm"),
}


class PanelForm(Merged, forms.Form):
    """A panel as it is typed."""

    name = forms.CharField(max_length=60, label="Which panel", initial="Belly panel")
    sheet = forms.ChoiceField(choices=list(SHEETS.items()), label="Sheet")
    kg_per_m2 = forms.FloatField(
        min_value=LIMITS["sheet_kg_per_m2"].low,
        max_value=LIMITS["sheet_kg_per_m2"].high,
        required=False,
        label="Its weight, kg/m²",
        help_text="blank: as it is usually sold",
    )

    def __init__(self, file: CarFile, *args: Any, **options: Any) -> None:
        super().__init__(*args, **options)
        for name in ("stations", "outline", "holes", "existing", "heat", "sheets"):
            rows = 6 if name == "stations" else 2
            self.fields[name] = LengthLinesField(
                required=False,
                max_length=4000,
                widget=forms.Textarea(attrs={"rows": rows, "spellcheck": "false"}),
                help_text=HINTS[name],
                label=LABELS[name],
            )
        for name, label, initial in (
            ("pitch_mm", "Fastener spacing", 150.0),
            ("edge_mm", "From the edge to them", 15.0),
        ):
            limit = {"edge_mm": "panel_edge_mm"}.get(name, name)
            self.fields[name] = QuantityField(
                "length", *LIMITS[limit].span, required=False, label=label, initial=initial
            )
        self.fields["front_mm"] = QuantityField(
            "length",
            *LIMITS["item_along_mm"].span,
            required=False,
            label="Its front edge behind the front axle",
            help_text="minus: ahead of it; with heights it counts for the slopes",
        )
        self.order_fields(FIELDS)

    def clean(self) -> dict[str, Any]:
        cleaned: dict[str, Any] = super().clean() or {}
        for name, read in READERS.items():
            try:
                read(cleaned.get(name) or "")
            except CoreError as error:
                self.add_error(name, error.message[:1].upper() + error.message[1:] + ".")
        cleaned["kg_per_m2"] = cleaned.get("kg_per_m2") or KG_PER_M2.get(cleaned.get("sheet", ""), 1.0)
        cleaned["pitch_mm"], cleaned["edge_mm"] = cleaned.get("pitch_mm") or 150.0, cleaned.get("edge_mm") or 15.0
        self.panel: Panel | None = None
        if not self.errors:
            try:
                self.panel = panel_as_typed(AirPanel(**{name: cleaned[name] for name in FIELDS}))
            except CoreError as error:
                raise forms.ValidationError(f"The panel {error.message}.") from error
        return cleaned


UNDER = (
    ("lip_ahead_mm", "Lip ahead of the front axle", "reach_mm"),
    ("lip_up_mm", "Lip above the ground", "under_up_mm"),
    ("tail_behind_mm", "Tail behind the rear axle", "reach_mm"),
    ("tail_up_mm", "Tail above the ground", "under_up_mm"),
    ("belly_behind_mm", "Lowest of the belly behind the front axle", "reach_mm"),
    ("belly_up_mm", "Belly above the ground", "under_up_mm"),
    ("load_lever_mm", "Splitter: rear fixing line to its middle", "reach_mm"),
    ("adjuster_lever_mm", "Rear fixing line to the adjusters", "reach_mm"),
    ("opening_mm", "Cooler's opening, height", "reach_mm"),
    ("covered_mm", "Of it covered", "under_up_mm"),
)


class UnderForm(Merged, forms.Form):
    """What lies under the car, the slopes, and the splitter."""

    slopes = forms.CharField(
        required=False,
        max_length=1000,
        widget=forms.Textarea(attrs={"rows": 3}),
        label="Slopes it has to get over",
        help_text="drive 12, trailer 14.5, kerb 20 %: one a line",
    )
    area_m2 = forms.FloatField(
        min_value=LIMITS["area_m2"].low, max_value=LIMITS["area_m2"].high, required=False, label="Splitter, area, m²"
    )
    cp = forms.FloatField(
        min_value=-3,
        max_value=3,
        required=False,
        initial=0.6,
        label="Pressure coefficient",
        help_text="0.6 is common practice; plus presses down",
    )
    fasteners = forms.IntegerField(min_value=1, max_value=200, required=False, initial=6, label="Its fasteners")
    adjusters = forms.IntegerField(min_value=0, max_value=20, required=False, initial=0, label="Adjusters")

    def __init__(self, file: CarFile, *args: Any, **options: Any) -> None:
        super().__init__(*args, **options)
        for name, label, limit in UNDER:
            self.fields[name] = QuantityField("length", *LIMITS[limit].span, required=False, label=label)
        self.fields["speed_kmh"] = QuantityField(
            "speed", *LIMITS["air_kmh"].span, required=False, label="At a speed of", initial=rounded("speed", 160)
        )
        first = [name for name, _, _ in UNDER[:6]]
        self.order_fields(
            [
                *first,
                "slopes",
                "area_m2",
                "cp",
                "speed_kmh",
                "fasteners",
                "load_lever_mm",
                "adjusters",
                "adjuster_lever_mm",
                "opening_mm",
                "covered_mm",
            ]
        )

    def clean_slopes(self) -> str:
        text: str = self.cleaned_data["slopes"]
        try:
            slopes(text)
        except CoreError as error:
            raise forms.ValidationError(error.message[:1].upper() + error.message[1:] + ".") from error
        return text

    def clean(self) -> dict[str, Any]:
        cleaned: dict[str, Any] = super().clean() or {}
        for name, usual in (("cp", 0.6), ("speed_kmh", 160.0), ("fasteners", 6), ("adjusters", 0)):
            if cleaned.get(name) is None:
                cleaned[name] = usual
        return cleaned
