"""Forms of the planner."""

from __future__ import annotations

from typing import Any

from django import forms
from django.utils import timezone

from garage.file import CarFile
from garage.forms import DATE
from planner.models import Build, Choice
from rimcore.quantities.limits import LIMITS
from rimcore.wheels.spacers import KINDS
from rimcore.work.ledger import PART_STATES
from shell.forms import MoneyField, QuantityField
from shell.merge import Merged


class NamedForCar(forms.BaseForm):
    """A build's name, once a car, and its margins: a school's or one's own."""

    def __init__(self, file: CarFile, *args: Any, **options: Any) -> None:
        super().__init__(*args, **options)
        self.file = file
        self.fields["tolerance"] = forms.ChoiceField(choices=list(file.tolerance_names.items()), label="Margins")

    def clean_name(self) -> str:
        name: str = self.cleaned_data["name"]
        itself = getattr(self, "instance", None)
        if self.file.car.builds.filter(name=name).exclude(pk=itself.pk if itself else None).exists():
            raise forms.ValidationError("There is a build of that name; choose another.")
        return name


class NewBuildForm(NamedForCar, forms.Form):
    """Name and school of a new build."""

    name = forms.CharField(max_length=60)


class BuildForm(Merged, NamedForCar, forms.ModelForm):
    """A build's own figures."""

    spacer_front_mm = QuantityField("length", "mm", *LIMITS["spacer_mm"].span, label="Front spacer")
    spacer_rear_mm = QuantityField("length", "mm", *LIMITS["spacer_mm"].span, label="Rear spacer")
    drop_front_mm = QuantityField(
        "length", "mm", *LIMITS["ride_drop_mm"].span, label="Front lowered", help_text="against the baseline; minus is lifted"
    )
    drop_rear_mm = QuantityField("length", "mm", *LIMITS["ride_drop_mm"].span, label="Rear lowered")
    camber_front_deg = QuantityField("angle", "deg", -15, 15, required=False, label="Front camber", help_text="blank: as it is")
    camber_rear_deg = QuantityField("angle", "deg", -15, 15, required=False, label="Rear camber")
    spacer_kind = forms.ChoiceField(choices=list(KINDS.items()), required=False, label="Spacers")
    lock_limit_deg = QuantityField("angle", "deg", 0, 30, required=False, label="Lock limiters", help_text="degrees off each lock")
    lip_rolled_front_mm = QuantityField("length", "mm", 0, 30, required=False, label="Front lip rolled")
    lip_rolled_rear_mm = QuantityField("length", "mm", 0, 30, required=False, label="Rear lip rolled")

    class Meta:
        model = Build
        fields = (
            "name",
            "tolerance",
            "spacer_front_mm",
            "spacer_rear_mm",
            "drop_front_mm",
            "drop_rear_mm",
            "camber_front_deg",
            "camber_rear_deg",
            "stroke_moves",
            "lock_limit_deg",
            "lip_rolled_front_mm",
            "lip_rolled_rear_mm",
            "spacer_kind",
            "hours_estimate",
            "note",
        )
        labels = {
            "hours_estimate": "Hours, estimate",
            "stroke_moves": "Lowering moves the stroke along (shorter damper body)",
        }

    def clean(self) -> dict[str, Any]:
        cleaned: dict[str, Any] = super().clean() or {}
        cleaned["spacer_kind"] = cleaned.get("spacer_kind") or "slip"
        for name in ("lock_limit_deg", "lip_rolled_front_mm", "lip_rolled_rear_mm"):
            cleaned[name] = cleaned.get(name) or 0.0
        return cleaned

    def clean_hours_estimate(self) -> float:
        hours: float = self.cleaned_data["hours_estimate"]
        if not 0 <= hours <= 2000:
            raise forms.ValidationError("Out of range; accepted: 0 to 2000 hours.")
        return hours


class PartForm(forms.ModelForm):
    """Another part by name: rings, nuts, springs."""

    name = forms.CharField(max_length=80, label="Part")
    price_minor = MoneyField(required=False, label="Price of one")
    mass_change_kg = QuantityField(
        "mass", "kg", *LIMITS["mass_change_kg"].span, required=False, label="Mass each, against what it replaces"
    )
    ring_inner_mm = QuantityField(
        "length", "mm", *LIMITS["ring_mm"].span, required=False, label="Ring, inner", help_text="only for a centring ring"
    )
    ring_outer_mm = QuantityField("length", "mm", *LIMITS["ring_mm"].span, required=False, label="Ring, outer")

    class Meta:
        model = Choice
        fields = (
            "name",
            "position",
            "quantity",
            "price_minor",
            "lead_days",
            "supplier",
            "mass_change_kg",
            "ring_inner_mm",
            "ring_outer_mm",
        )

    def clean(self) -> dict[str, Any]:
        cleaned: dict[str, Any] = super().clean() or {}
        inner, outer = cleaned.get("ring_inner_mm"), cleaned.get("ring_outer_mm")
        if (inner is None) != (outer is None):
            self.add_error("ring_outer_mm", "A ring has an inner and an outer diameter.")
        if inner is not None and outer is not None and outer <= inner:
            self.add_error("ring_outer_mm", "The outer diameter must be more than the inner.")
        quantity = cleaned.get("quantity")
        if quantity is not None and not 1 <= quantity <= 200:
            self.add_error("quantity", "Out of range; accepted: 1 to 200.")
        return cleaned


class StateForm(forms.Form):
    """What happened to a part, and when."""

    state = forms.ChoiceField(choices=list(PART_STATES.items()))
    on = forms.DateField(widget=DATE, initial=timezone.localdate, label="On")
    sold_minor = MoneyField(required=False, label="Sold for")


class ChoiceForm(Merged, forms.ModelForm):
    """Quantity, position, price, lead time of a part in a build."""

    price_minor = MoneyField(required=False, label="Price of one", help_text="blank: as offered")

    class Meta:
        model = Choice
        fields = ("position", "quantity", "price_minor", "lead_days")

    def clean_quantity(self) -> int:
        quantity: int = self.cleaned_data["quantity"]
        if not 1 <= quantity <= 200:
            raise forms.ValidationError("Out of range; accepted: 1 to 200.")
        return quantity
