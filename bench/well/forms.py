"""Forms of the wheel well: a setting, trial fits, traces of rubs."""

from __future__ import annotations

from typing import Any

from django import forms
from django.utils import timezone

from bench.frame.fields import held
from garage.fields import DATE
from garage.file import CarFile
from garage.readings.models import Reading, Rub, Sighting
from rimcore.limits import LIMITS
from rimcore.quantities.errors import CoreError
from rimcore.well.read.stations import STATIONS
from rimcore.wheels.tyre import parse_tyre
from rimcore.wheels.wheel import parse_wheel, same_rim
from shell.forms import CoreTextField, NudgedField, QuantityField


class TrialForm(forms.Form):
    """What was held on the hub."""

    wheel = CoreTextField(parse_wheel, help_text="17x8 +40; the offset is needed")
    tyre = CoreTextField(parse_tyre, max_length=60, required=False, help_text="blank: a bare rim")
    measured_section_mm = QuantityField(
        "length", *LIMITS["section_mm"].span, required=False, label="Section measured over the tyre"
    )
    spacer_mm = QuantityField("length", *LIMITS["spacer_mm"].span, required=False, label="Spacer")
    camber_deg = QuantityField("angle", *LIMITS["camber_deg"].span, required=False, label="Camber as first recorded")
    ride_drop_mm = QuantityField(
        "length", *LIMITS["ride_drop_mm"].span, required=False, label="Lowered against the baseline"
    )
    tried_on = forms.DateField(widget=DATE, initial=timezone.localdate, label="When")
    who = forms.CharField(max_length=60, required=False, label="Who")

    def clean_tried_on(self) -> Any:
        day = self.cleaned_data["tried_on"]
        if day > timezone.localdate():
            raise forms.ValidationError("That day has not come yet.")
        return day

    def clean(self) -> dict[str, Any]:
        cleaned: dict[str, Any] = super().clean() or {}
        if cleaned.get("wheel"):
            wheel = parse_wheel(cleaned["wheel"])
            if wheel.offset_mm is None:
                self.add_error("wheel", "Write the offset too, as +46 or ET46.")
            if cleaned.get("tyre") and not same_rim(parse_tyre(cleaned["tyre"]).rim_diameter_in, wheel.diameter_in):
                self.add_error("tyre", f"That tyre does not go on a {wheel.diameter_in:g} in wheel.")
        for name in ("spacer_mm", "ride_drop_mm"):
            cleaned[name] = cleaned.get(name) or 0.0
        return cleaned


class SightingForm(forms.Form):
    """What was seen at one obstacle."""

    seen = forms.ChoiceField(choices=[("", "not looked at"), *Sighting.SEEN.items()], required=False, label="Seen")

    def __init__(self, reading: Reading, file: CarFile, *args: Any, **options: Any) -> None:
        super().__init__(*args, **options)
        self.reading = reading
        self.fields["gap_mm"] = QuantityField("length", *LIMITS["sighting_mm"].span, required=False, label="Gap")
        self.fields["steer_deg"] = QuantityField(
            "angle", *LIMITS["steer_deg"].span, required=False, label="Steer", initial=reading.steer_deg or None
        )
        self.fields["travel_mm"] = QuantityField("length", *LIMITS["travel_mm"].span, required=False, label="Raised by")
        for name in ("seen", "gap_mm", "steer_deg", "travel_mm"):
            self.fields[name].widget.attrs |= {
                "aria-label": f"{self.fields[name].label}, {STATIONS[reading.code].name}",
                "class": "form-select" if name == "seen" else "form-control",
            }

    def clean(self) -> dict[str, Any]:
        cleaned: dict[str, Any] = super().clean() or {}
        if cleaned.get("gap_mm") is not None and not cleaned.get("seen"):
            cleaned["seen"] = "gap"
        if cleaned.get("seen") == "gap" and cleaned.get("gap_mm") is None and "gap_mm" not in self.errors:
            self.add_error("gap_mm", "Write the gap that was read, as 4.5 or 3/16 in.")
        if cleaned.get("seen") != "gap":
            cleaned["gap_mm"] = None
        return cleaned


def obstacles(file: CarFile, corner: str) -> list[Reading]:
    """Readings of a corner that a trial fit can look at."""
    places = {"damper", "perch", "arch", "liner", "rail", "arm"}
    return [r for r in file.latest if r.corner == corner and STATIONS[r.code].place in places]


class RubForm(forms.Form):
    """A trace of a rub."""

    when = forms.ChoiceField(choices=list(Rub.WHEN.items()), label="When")
    seen_on = forms.DateField(widget=DATE, initial=timezone.localdate, label="Seen on")
    note = forms.CharField(max_length=200, required=False, label="Note")

    def __init__(self, file: CarFile, corner: str, *args: Any, **options: Any) -> None:
        super().__init__(*args, prefix="rub", **options)
        codes = dict.fromkeys(r.code for r in obstacles(file, corner))
        self.fields["code"] = forms.ChoiceField(
            choices=[(c, STATIONS[c].name) for c in codes] + [("other", "somewhere not measured")], label="Where"
        )
        self.fields["steer_deg"] = QuantityField(
            "angle",
            -70,
            70,
            required=False,
            label="Steer, about",
            help_text="plus: front edge outboard; blank is straight",
        )
        self.fields["travel_mm"] = QuantityField(
            "length",
            -300,
            300,
            required=False,
            label="Travel from where it stood, about",
            help_text="plus is bump",
        )
        self.order_fields(["code", "when", "steer_deg", "travel_mm", "seen_on", "note"])


class BenchForm(forms.Form):
    """The controls. Arrow keys nudge each by its natural step."""

    diameter = held("diameter_in", label="Diameter, in")
    width = held("width_in", label="Width, in")
    offset = NudgedField("offset", *LIMITS["offset_mm"].span, label="Offset")
    spacer = NudgedField("length", *LIMITS["spacer_mm"].span, label="Spacer")
    tyre = forms.CharField(max_length=60, label="Tyre")
    drop = NudgedField("length", *LIMITS["ride_drop_mm"].span, label="Lowered")
    camber = NudgedField("angle", *LIMITS["camber_deg"].span, label="Camber")
    lock = held("lock_limit_deg", required=False, label="Less lock, °")
    lip = NudgedField("length", *LIMITS["lip_rolled_mm"].span, required=False, label="Lip rolled")
    stroke = forms.BooleanField(required=False, label="Short damper")
    steer = forms.FloatField(min_value=-80, max_value=80, required=False, label="Steer")
    travel = forms.FloatField(min_value=-500, max_value=500, required=False, label="Travel")
    school = forms.CharField(max_length=20, required=False, widget=forms.HiddenInput)
    wheel = forms.IntegerField(required=False, widget=forms.HiddenInput)

    STEPS = {
        "diameter": "1",
        "width": "0.5",
        "offset": "",
        "spacer": "",
        "drop": "",
        "camber": "",
        "lock": "1",
        "lip": "",
    }
    #: drawn beside the map, not among the controls
    ON_THE_MAP = ("steer", "travel")

    def __init__(self, *args: Any, **options: Any) -> None:
        super().__init__(*args, **options)
        for name, step in self.STEPS.items():
            field: Any = self.fields[name]
            field.widget.attrs |= {
                "step": step or field.nudge,
                "data-nudge": "1",
                "class": "form-control",
                "id": f"bench-{name}",
            }
        self.fields["stroke"].widget.attrs["title"] = (
            "lowered by a shorter damper body the stroke moves along; by springs or perches it stays"
        )
        self.fields["tyre"].widget.attrs |= {
            "class": "form-control",
            "id": "bench-tyre",
            "list": "tyre-list",
            "autocomplete": "off",
        }

    #: what can be drawn of values that can't all be together
    drawn: dict[str, Any] | None = None

    def shown(self, start: dict[str, Any]) -> dict[str, Any]:
        """What is drawn: what was asked, as far as it can be; what can't be read is as the bench starts."""
        whole = start | (self.drawn or self.cleaned_data)
        for name in ("lock", "lip", *self.ON_THE_MAP):
            whole[name] = whole.get(name) or 0.0
        rim = parse_tyre(whole["tyre"]).rim_diameter_in
        whole["diameter"] = whole["diameter"] if same_rim(rim, whole["diameter"]) else rim
        whole["width"] = min(whole["width"], whole["diameter"])
        return whole

    @property
    def controls(self) -> list[forms.BoundField]:
        """The fields of the list of controls."""
        return [field for field in self.visible_fields() if field.name not in self.ON_THE_MAP]

    def clean_tyre(self) -> str:
        text: str = self.cleaned_data["tyre"]
        try:
            parse_tyre(text)
        except CoreError as error:
            raise forms.ValidationError(error.message[:1].upper() + error.message[1:] + ".") from error
        return text

    def clean(self) -> dict[str, Any]:
        cleaned: dict[str, Any] = super().clean() or {}
        if cleaned.get("tyre") and cleaned.get("diameter"):
            rim = parse_tyre(cleaned["tyre"]).rim_diameter_in
            if not same_rim(rim, cleaned["diameter"]):
                self.add_error(
                    "tyre",
                    f"A {rim:g} in tyre does not go on a {cleaned['diameter']:g} in wheel; drawn on a {rim:g} in one.",
                )
                self.drawn = cleaned | {"tyre": self.data["tyre"], "diameter": rim}
        for name in ("lock", "lip", *self.ON_THE_MAP):
            if name not in self.errors:
                cleaned[name] = cleaned.get(name) or 0.0
        if cleaned.get("width") and cleaned.get("diameter") and cleaned["width"] > cleaned["diameter"]:
            self.add_error("width", "The width can't be more than the diameter.")
        return cleaned
