"""Forms of the workshop."""

from __future__ import annotations

from typing import Any

from django import forms
from django.utils import timezone

from garage.forms import DATE
from garage.models import Axle
from rimcore.quantities.limits import LIMITS
from shell.forms import MoneyField, QuantityField
from shell.merge import Merged
from workshop.models import Snag


class SkipForm(forms.Form):
    why = forms.CharField(max_length=200, label="Why it is skipped")


class DoneForm(forms.Form):
    note = forms.CharField(max_length=300, required=False, label="Note")


class PullForm(forms.Form):
    """What the wrench showed."""

    lug = forms.IntegerField(min_value=1, max_value=10, widget=forms.HiddenInput)

    def __init__(self, unit: str, *args: Any, **options: Any) -> None:
        super().__init__(*args, **options)
        self.fields["read"] = QuantityField("torque", unit, 1, 1000, label="read")


class AskHubForm(forms.Form):
    """What is not known of a hub that is to be tightened."""

    bolts = forms.IntegerField(min_value=3, max_value=10, label="Nuts or bolts of the wheel, counted")

    def __init__(self, axle: Axle, unit: str, *args: Any, **options: Any) -> None:
        super().__init__(*args, **options)
        self.fields["nut_torque_nm"] = QuantityField(
            "torque",
            unit,
            *LIMITS["torque_nm"].span,
            label="Torque, from the car's handbook",
            help_text="the figure of the car, not of the wheel: 110, 81 lbf·ft",
        )
        for name in ("bolts", "nut_torque_nm"):
            if getattr(axle, name) is not None:
                del self.fields[name]


class SnagForm(Merged, forms.ModelForm):
    """A snag: what, kind, money and time lost, cure."""

    cost_minor = MoneyField(required=False, label="Money lost")
    hours = forms.FloatField(required=False, min_value=0, max_value=1000, label="Hours lost")

    class Meta:
        model = Snag
        fields = ("kind", "what", "cost_minor", "hours", "cure", "closed_on")
        widgets = {"closed_on": DATE}
        labels = {"what": "What happened", "closed_on": "Cured on"}

    def clean(self) -> dict[str, Any]:
        cleaned: dict[str, Any] = super().clean() or {}
        cleaned["cost_minor"] = cleaned.get("cost_minor") or 0
        cleaned["hours"] = cleaned.get("hours") or 0.0
        if cleaned.get("closed_on") and not cleaned.get("cure"):
            self.add_error("cure", "Say how it was cured, or leave the date open.")
        return cleaned


class PhotoForm(forms.Form):
    """One picture; checked and cleaned by the service."""

    image = forms.FileField(label="Photo", widget=forms.ClearableFileInput(attrs={"accept": "image/jpeg,image/png,image/webp"}))
    caption = forms.CharField(max_length=120, required=False)


class SpellForm(forms.Form):
    """Clocked hours, corrected."""

    began = forms.DateTimeField(widget=forms.DateTimeInput(attrs={"type": "datetime-local"}, format="%Y-%m-%dT%H:%M"))
    ended = forms.DateTimeField(widget=forms.DateTimeInput(attrs={"type": "datetime-local"}, format="%Y-%m-%dT%H:%M"))
    note = forms.CharField(max_length=120, required=False)

    def clean(self) -> dict[str, Any]:
        cleaned: dict[str, Any] = super().clean() or {}
        began, ended = cleaned.get("began"), cleaned.get("ended")
        if began and ended and ended < began:
            self.add_error("ended", "The end lies before the start.")
        if ended and ended > timezone.now():
            self.add_error("ended", "That time has not come yet.")
        return cleaned


class FinishForm(forms.Form):
    """The odometer when the job is done."""

    odometer_km = forms.IntegerField(min_value=0, max_value=5_000_000, label="Odometer now, km")

    def __init__(self, least_km: int, *args: Any, **options: Any) -> None:
        super().__init__(*args, **options)
        self.least_km = least_km

    def clean_odometer_km(self) -> int:
        km: int = self.cleaned_data["odometer_km"]
        if km < self.least_km:
            raise forms.ValidationError(f"Less than the last reading, {self.least_km} km.")
        return km
