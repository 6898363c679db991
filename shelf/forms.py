"""Forms of the shelf."""

from __future__ import annotations

from typing import Any

import django_filters
from django import forms

from garage.car.models import Car
from garage.car.parts import Tyre, Wheel
from rimcore.families import FAMILIES, PAIRED
from rimcore.limits import LIMITS
from rimcore.lines import PartLine, parse_line
from rimcore.quantities.errors import CoreError
from rimcore.shop import example_in
from rimcore.wheels.hub import parse_seat
from rimcore.wheels.outline import outline
from rimcore.wheels.traced import parse_profile, traced
from rimcore.wheels.tyre import Tyre as CoreTyre
from rimcore.wheels.tyre import parse_tyre
from rimcore.wheels.wheel import Wheel as CoreWheel
from rimcore.work.money import in_hundredths
from shelf.part_forms import StarsField, stars_of
from shell import units
from shell.forms import CoreTextField, LengthLinesField, MoneyField, QuantityField
from shell.limits import Within
from shell.merge import Merged
from shell.workbooks import TableForm

STATES = [("hit", "hit"), ("tight", "tight"), ("unmeasured", "unmeasured"), ("clear", "clear")]
ORDERS = [
    ("margin", "margin"),
    ("mass", "mass"),
    ("price", "price"),
    ("lead", "lead time"),
    ("width", "width"),
    ("-width", "width, widest first"),
    ("offset", "offset"),
    ("-offset", "offset, highest first"),
    ("state", "state, clear first"),
]


class QuantityFilter(django_filters.Filter):
    """A filter by a quantity: a bare number is in the person's unit."""

    field_class = QuantityField

    def __init__(self, kind: str, **options: Any) -> None:
        super().__init__(kind=kind, **options)


class PairFilter(django_filters.FilterSet):
    """Which wheels are shown, and how the pairs are sorted."""

    diameter = django_filters.NumberFilter(field_name="diameter_in", label="Diameter, in")
    width_min = django_filters.NumberFilter(field_name="width_in", lookup_expr="gte", label="Width from, in")
    width_max = django_filters.NumberFilter(field_name="width_in", lookup_expr="lte", label="to")
    offset_min = QuantityFilter("offset", field_name="offset_mm", lookup_expr="gte", label="Offset from")
    offset_max = QuantityFilter("offset", field_name="offset_mm", lookup_expr="lte", label="to")
    mass_max = QuantityFilter("mass", field_name="mass_kg", lookup_expr="lte", label="Wheel up to")
    price_max = django_filters.NumberFilter(method="price_up_to", label="Wheel up to, price")
    lead_max = django_filters.NumberFilter(field_name="lead_days", lookup_expr="lte", label="Lead up to, days")
    margin_min = QuantityFilter("length", method="later", label="Margin from")
    state = django_filters.ChoiceFilter(choices=STATES, method="later", label="State", empty_label="any")
    order = django_filters.ChoiceFilter(choices=ORDERS, method="later", label="Sort by", empty_label=None)
    end = django_filters.ChoiceFilter(
        choices=[("all", "front and rear"), ("F", "front"), ("R", "rear")],
        method="later",
        label="For",
        empty_label=None,
    )

    class Meta:
        model = Wheel
        fields: list[str] = []

    def price_up_to(self, queryset: Any, name: str, value: Any) -> Any:
        return queryset.filter(price_minor__lte=in_hundredths(value))

    def later(self, queryset: Any, name: str, value: Any) -> Any:
        """Filters on what is judged act after the judging."""
        return queryset


def example_of(family: str) -> str:
    """How a line of a family is written, in the person's units."""
    key = family or "wheel"
    bare = units.bare()
    if FAMILIES[key].trade or key in PAIRED:
        del bare["length"]
    return example_in(FAMILIES[key].example, bare)


def kit_example() -> str:
    """How a kit is written, in the person's units."""
    return example_in("big brake kit: calipers + discs 330 x 28 mm + pads track; 1290", units.bare())


class OfferForm(forms.Form):
    """One pasted line of a part of any family."""

    def __init__(self, family: str, *args: Any, currency: str = "", **options: Any) -> None:
        super().__init__(*args, **options)
        self.family, self.currency = family, currency
        self.fields["line"].widget.attrs["placeholder"] = example_of(family)

    line = forms.CharField(
        max_length=500,
        label="Paste a line",
        widget=forms.TextInput(attrs={"autocomplete": "off"}),
    )
    name = forms.CharField(max_length=60, required=False, label="Name")

    said: PartLine

    def clean_line(self) -> str:
        line: str = self.cleaned_data["line"]
        try:
            self.said = parse_line(line, self.family, units.bare(), self.currency)
        except CoreError as error:
            raise forms.ValidationError(error.message[:1].upper() + error.message[1:] + ".") from error
        return line


class CsvForm(TableForm):
    """A table: CSV, or the first sheet of a workbook."""

    family = forms.ChoiceField(
        choices=[
            ("", "as each row says; wheels and tyres"),
            *((key, family.plural) for key, family in FAMILIES.items() if key not in PAIRED),
        ],
        required=False,
        label="Rows are",
    )
    file = forms.FileField(
        label="CSV or XLSX file",
        help_text="columns of any names, such as size, weight (lb), price, lead, supplier; what each is taken for is shown before anything is kept. Or one line a part",
        widget=forms.ClearableFileInput(attrs={"accept": ".csv,.txt,.xlsx,text/csv"}),
    )


class PartForm(Merged, forms.ModelForm):
    """What is known of a part: its columns, and its specification as its family declares it."""

    stars = StarsField()

    def clean_stars(self) -> int:
        return stars_of(self)

    def __init__(self, *args: Any, **options: Any) -> None:
        super().__init__(*args, initial=options["instance"].whole, **options)


class WheelForm(PartForm):
    """What is known of a wheel."""

    bolts = forms.IntegerField(validators=[Within("bolts")], required=False, label="Lugs")
    diameter_in = forms.FloatField(validators=[Within("diameter_in")], label="Diameter, in")
    width_in = forms.FloatField(validators=[Within("width_in")], label="Width, in")

    mass_kg = QuantityField("mass", *LIMITS["mass_kg"].span, required=False, label="Weight")
    price_minor = MoneyField(required=False, label="Price of one")
    seat = CoreTextField(parse_seat, required=False, max_length=20, help_text="cone 60, ball R13, flat")
    pad_thickness_mm = QuantityField(
        "length",
        *LIMITS["pad_thickness_mm"].span,
        required=False,
        label="Pad thickness at the lugs",
        help_text="mounting face to the seat of the lugs",
    )
    load_kg = QuantityField("mass", *LIMITS["load_kg"].span, required=False, label="Load rating")
    barrel_radius_mm = QuantityField(
        "length",
        *LIMITS["barrel_radius_mm"].span,
        required=False,
        label="Barrel, inner radius",
        help_text="from the maker's drawing or the brake template",
    )
    spoke_back_mm = QuantityField(
        "length",
        *LIMITS["spoke_back_mm"].span,
        required=False,
        label="Spoke back beyond the mounting face",
        help_text="where the caliper runs",
    )
    pcd_mm = QuantityField("offset", *LIMITS["pcd_mm"].span, required=False, label="Bolt circle")
    bore_mm = QuantityField("offset", *LIMITS["bore_mm"].span, required=False, label="Centre bore")
    offset_mm = QuantityField("offset", *LIMITS["offset_mm"].span, label="Offset")

    class Meta:
        model = Wheel
        fields = (
            "name",
            "diameter_in",
            "width_in",
            "offset_mm",
            "bolts",
            "pcd_mm",
            "bore_mm",
            "seat",
            "pad_thickness_mm",
            "load_kg",
            "barrel_radius_mm",
            "spoke_back_mm",
            "mass_kg",
            "price_minor",
            "lead_days",
            "supplier",
            "link",
            "stars",
            "note",
        )
        labels = {"lead_days": "Lead time, days"}

    def clean(self) -> dict[str, Any]:
        cleaned: dict[str, Any] = super().clean() or {}
        if cleaned.get("width_in") and cleaned.get("diameter_in") and cleaned["width_in"] > cleaned["diameter_in"]:
            self.add_error("width_in", "The width can't be more than the diameter.")
        return cleaned


class TyreForm(PartForm):
    """What is known of a tyre."""

    size = CoreTextField(parse_tyre, max_length=60)
    measured_section_mm = QuantityField(
        "length", *LIMITS["section_mm"].span, required=False, label="Section measured over the tyre"
    )
    outline = LengthLinesField(
        required=False,
        max_length=6000,
        label="Measured half section",
        widget=forms.Textarea(attrs={"rows": 5, "spellcheck": "false"}),
        help_text="one point a line, inner rim edge over the tread to the outer one: across from the middle, radius from the axle",
    )
    mass_kg = QuantityField("mass", *LIMITS["mass_kg"].span, required=False, label="Weight")
    price_minor = MoneyField(required=False, label="Price of one")
    profile_rim_in = forms.FloatField(
        validators=[Within("width_in")],
        required=False,
        label="Width of the rim it was measured on, in inches",
        help_text="on another rim only its width is carried over; blank: holds for any rim",
    )

    class Meta:
        model = Tyre
        fields = (
            "name",
            "size",
            "measured_section_mm",
            "mass_kg",
            "price_minor",
            "lead_days",
            "supplier",
            "link",
            "stars",
            "note",
            "profile_rim_in",
        )
        labels = {"lead_days": "Lead time, days"}

    def __init__(self, *args: Any, **options: Any) -> None:
        super().__init__(*args, **options)
        self.initial["outline"] = "\n".join(f"{across:g} {radius:g}" for across, radius in self.instance.profile or [])

    def clean_outline(self) -> str:
        text: str = self.cleaned_data["outline"]
        if not text.strip():
            self.instance.profile = None
            return text
        try:
            self.instance.profile = [list(point) for point in parse_profile(text)]
        except CoreError as error:
            raise forms.ValidationError(error.message[:1].upper() + error.message[1:] + ".") from error
        return text

    def clean(self) -> dict[str, Any]:
        cleaned: dict[str, Any] = super().clean() or {}
        if cleaned.get("size") and self.instance.profile:
            self._check_profile(parse_tyre(cleaned["size"]))
        if cleaned.get("size"):
            tyre = parse_tyre(cleaned["size"])
            self.instance.rim_diameter_in, self.instance.section_width_mm = tyre.rim_diameter_in, tyre.section_width_mm
        return cleaned

    def _check_profile(self, tyre: CoreTyre) -> None:
        """A measured section must go on a rim of the size's own width."""
        try:
            traced(
                outline(CoreWheel(tyre.rim_diameter_in, tyre.measuring_rim_in), tyre),
                parse_profile(self.cleaned_data.get("outline", "")),
            )
        except CoreError as error:
            self.add_error("outline", error.message[:1].upper() + error.message[1:] + ".")


def filtered(car: Car, data: Any) -> PairFilter:
    """The filter of a car's wheels."""
    return PairFilter(data, queryset=Wheel.objects.filter(car=car))
