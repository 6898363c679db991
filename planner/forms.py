"""Forms of the planner."""

from __future__ import annotations

from typing import Any

from django import forms
from django.utils import timezone

from garage.file import CarFile
from garage.forms import DATE
from planner.models import Build, Choice
from rimcore.benches import LEVERS
from rimcore.quantities.declared import PLACES, Lever
from rimcore.quantities.limits import LIMITS
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


def field_of(lever: Lever, place: str) -> str:
    """Name of a lever's field."""
    return f"{lever.code}_{place}" if place else lever.code


def lever_field(lever: Lever, place: str) -> forms.Field:
    """A lever's field, as declared; blank is untouched."""
    label = f"{PLACES[place]}, {lever.name[:1].lower()}{lever.name[1:]}" if place else lever.name
    if lever.kind == "flag":
        return forms.BooleanField(required=False, label=label, help_text=lever.help)
    if lever.kind == "choice":
        return forms.ChoiceField(choices=list(lever.choices.items()), required=False, label=label, help_text=lever.help)
    if not lever.quantity:
        return forms.FloatField(min_value=lever.span.low, max_value=lever.span.high, required=False, label=label, help_text=lever.help)
    unit = {"°": "deg"}.get(lever.unit, lever.unit)
    return QuantityField(lever.quantity, unit, *lever.span.span, required=False, label=label, help_text=lever.help)


class NewBuildForm(NamedForCar, forms.Form):
    """Name and school of a new build."""

    name = forms.CharField(max_length=60)


class BuildForm(Merged, NamedForCar, forms.ModelForm):
    """A build's own figures, and the levers of every bench as they are declared."""

    class Meta:
        model = Build
        fields = ("name", "tolerance", "hours_estimate", "note")
        labels = {"hours_estimate": "Hours, estimate"}

    field_order = ("name", "tolerance", *(field_of(lever, place) for lever in LEVERS.values() for place in lever.places))

    def __init__(self, file: CarFile, *args: Any, **options: Any) -> None:
        build: Build = options["instance"]
        set_to = {field_of(lever, place): build.lever(lever.code, place) for lever in LEVERS.values() for place in lever.places}
        self.base_fields = {
            **self.base_fields,
            **{field_of(lv, place): lever_field(lv, place) for lv in LEVERS.values() for place in lv.places},
        }
        super().__init__(file, *args, initial=set_to, **options)

    @property
    def levers(self) -> dict[tuple[str, str], Any]:
        """What every lever is to be, by code and place."""
        named = {field_of(lever, place): (lever.code, place) for lever in LEVERS.values() for place in lever.places}
        return {named[name]: value if value != "" else None for name, value in self.cleaned_data.items() if name in named}

    @property
    def own(self) -> dict[str, Any]:
        """The build's own columns."""
        return {name: self.cleaned_data[name] for name in ("name", "tolerance", "hours_estimate", "note")}

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
    supplier = forms.CharField(max_length=80, required=False)

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
