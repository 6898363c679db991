"""Forms of the car: its data, hubs, what stands on it."""

from __future__ import annotations

from typing import Any

from django import forms

from garage.car.models import Axle, Car
from garage.fields import DATE
from rimcore.fastening.threads import parse_thread
from rimcore.limits import LIMITS
from rimcore.wheels.hub import OFF_WHEEL, parse_seat
from rimcore.wheels.tyre import parse_tyre
from rimcore.wheels.wheel import parse_wheel, same_rim
from shell.figures import in_unit, unit_for
from shell.forms import CoreTextField, MoneyField, OdometerField, QuantityField
from shell.merge import Merged


class CarForm(Merged, forms.ModelForm):
    """What is true of the car."""

    wheelbase_mm = QuantityField(
        "length", *LIMITS["wheelbase_mm"].span, required=False, label="Wheelbase", help_text="2560 mm, 100.8 in"
    )
    track_front_mm = QuantityField("length", *LIMITS["track_mm"].span, required=False, label="Front track")
    track_rear_mm = QuantityField("length", *LIMITS["track_mm"].span, required=False, label="Rear track")
    front_axle_kg = QuantityField(
        "mass",
        *LIMITS["axle_kg"].span,
        required=False,
        label="Front axle load",
        help_text="weighed, or the permitted load for the stricter result",
    )
    rear_axle_kg = QuantityField("mass", *LIMITS["axle_kg"].span, required=False, label="Rear axle load")
    cg_height_mm = QuantityField(
        "length",
        *LIMITS["cg_height_mm"].span,
        required=False,
        label="Centre of gravity above the ground",
        help_text="found on Corner weights with one end raised",
    )
    drive = forms.ChoiceField(choices=[("", "choose"), *Car.DRIVES.items()], label="Driven wheels")
    odometer_km = OdometerField(required=False, label="Odometer")
    budget_minor = MoneyField(required=False, label="Budget")

    #: fields by what they are for, and what they unlock
    GROUPS = (
        (
            "The car",
            "use sets the margins, drive the tyres that turn the speedometer",
            ("nickname", "description", "use", "second_use", "drive", "odometer_km"),
        ),
        ("Loads", "unlock the result of tyre and wheel loads", ("front_axle_kg", "rear_axle_kg")),
        (
            "Lengths",
            "unlock the track before and after, and how the car leans and stops",
            ("wheelbase_mm", "track_front_mm", "track_rear_mm", "cg_height_mm"),
        ),
        (
            "Budget and event",
            "unlock what is left of the money, and the days in hand",
            ("currency", "budget_minor", "event_name", "event_on", "hours_per_week"),
        ),
    )

    @property
    def groups(self) -> list[tuple[str, str, list[forms.BoundField]]]:
        """The fields in their groups."""
        return [(name, unlocks, [self[field] for field in fields]) for name, unlocks, fields in self.GROUPS]

    class Meta:
        model = Car
        fields = (
            "nickname",
            "description",
            "use",
            "second_use",
            "drive",
            "wheelbase_mm",
            "track_front_mm",
            "track_rear_mm",
            "cg_height_mm",
            "front_axle_kg",
            "rear_axle_kg",
            "odometer_km",
            "currency",
            "budget_minor",
            "event_name",
            "event_on",
            "hours_per_week",
        )
        labels = {
            "event_name": "Event",
            "event_on": "Event date",
            "hours_per_week": "Hours a week for the car",
        }
        widgets = {"event_on": DATE}

    def clean_odometer_km(self) -> int:
        """Blank is nought on a new car, and as it was on one that is there."""
        typed: int | None = self.cleaned_data["odometer_km"]
        return int(self.instance.odometer_km or 0) if typed is None else typed


class HubForm(Merged, forms.ModelForm):
    """Hub of one end, as measured."""

    suspension = forms.ChoiceField(choices=[("", "choose"), *Axle.SUSPENSIONS.items()], label="Suspension")
    pcd_mm = QuantityField(
        "offset",
        *LIMITS["pcd_mm"].span,
        required=False,
        label="Bolt circle",
        help_text="five lugs: adjacent centres ÷ sin 36°",
    )
    bore_mm = QuantityField(
        "offset", *LIMITS["bore_mm"].span, required=False, label="Hub spigot", help_text="caliper, to 0.1 mm"
    )
    collar_mm = QuantityField(
        "length",
        *LIMITS["collar_mm"].span,
        required=False,
        label="Height of the collar",
        help_text="beyond the mounting face; spacers cover it",
    )
    thread = CoreTextField(parse_thread, required=False, max_length=20, help_text="M12x1.5, 1/2-20")
    stud_length_mm = QuantityField(
        "length", *LIMITS["stud_mm"].span, required=False, label="Stud beyond the hub's face"
    )
    bolt_length_mm = QuantityField(
        "length",
        *LIMITS["stud_mm"].span,
        required=False,
        label="Bolt under its seat",
        help_text="only where bolts hold the wheel",
    )
    seat = CoreTextField(
        parse_seat, required=False, max_length=20, label="Seat of nuts or bolts", help_text="cone 60, ball R13, flat"
    )
    nut_torque_nm = QuantityField(
        "torque",
        *LIMITS["torque_nm"].span,
        required=False,
        label="Torque of the car's handbook",
        help_text="110 Nm, 80 ft-lb",
    )

    class Meta:
        model = Axle
        fields = (
            "suspension",
            "bolts",
            "pcd_mm",
            "bore_mm",
            "collar_mm",
            "thread",
            "stud_length_mm",
            "bolt_length_mm",
            "seat",
            "nut_torque_nm",
        )

    def __init__(self, *args: Any, **options: Any) -> None:
        super().__init__(*args, **options)
        for name in self.instance.off_wheel:
            value = getattr(self.instance, name)
            shown = value if name == "bolts" else round(in_unit(value, "offset", unit_for("offset")), 3)
            self.fields[name].help_text = f"{shown:g}, {OFF_WHEEL}; blank: stays so"

    def get_initial_for_field(self, field: forms.Field, field_name: str) -> Any:
        """What was only read off the standing wheel is told beside its field and not taken for a reading of the hub."""
        return None if field_name in self.instance.off_wheel else super().get_initial_for_field(field, field_name)

    def clean(self) -> dict[str, Any]:
        cleaned: dict[str, Any] = super().clean() or {}
        if cleaned.get("stud_length_mm") is not None and cleaned.get("bolt_length_mm") is not None:
            self.add_error("bolt_length_mm", "Give the stud or the bolt, not both.")
        return cleaned


class PresentForm(Merged, forms.Form):
    """Wheel and tyre that stand on an end."""

    wheel = CoreTextField(parse_wheel, help_text="16x6.5 +46 5x108 63.4; the offset is needed")
    tyre = CoreTextField(parse_tyre, max_length=60, help_text="205/55R16 91V")
    measured_section_mm = QuantityField(
        "length",
        *LIMITS["section_mm"].span,
        required=False,
        label="Section measured over the tyre",
        help_text="caliper over the sidewalls; carcasses of one size differ",
    )
    spacer_mm = QuantityField("length", *LIMITS["spacer_mm"].span, required=False, label="Spacer")
    camber_deg = QuantityField(
        "angle", -15, 15, required=False, label="Camber", help_text="-1.2, 0°45'; minus is top inboard"
    )
    wheel_kg = QuantityField("mass", *LIMITS["mass_kg"].span, required=False, label="Weight of a wheel")
    tyre_kg = QuantityField("mass", *LIMITS["mass_kg"].span, required=False, label="Weight of a tyre")
    seat = CoreTextField(
        parse_seat, required=False, max_length=20, label="Seat of the wheel", help_text="cone 60, ball R13, flat"
    )
    pad_thickness_mm = QuantityField(
        "length",
        *LIMITS["pad_thickness_mm"].span,
        required=False,
        label="Pad thickness at the lugs",
        help_text="mounting face to the seat",
    )
    load_kg = QuantityField("mass", *LIMITS["load_kg"].span, required=False, label="Load rating of the wheel")
    barrel_radius_mm = QuantityField(
        "length", *LIMITS["barrel_radius_mm"].span, required=False, label="Barrel, inner radius"
    )
    spoke_back_mm = QuantityField(
        "length", *LIMITS["spoke_back_mm"].span, required=False, label="Spoke back beyond the mounting face"
    )

    CHANGED = [("correct", "a correction"), ("changed", "the wheels were changed")]

    def __init__(self, *args: Any, read_against: bool = False, **options: Any) -> None:
        super().__init__(*args, **options)
        if read_against:
            self.fields["changed"] = forms.ChoiceField(
                choices=self.CHANGED,
                initial="correct",
                label="This is",
                help_text="changed wheels leave earlier readings with the old ones",
            )

    def clean_wheel(self) -> str:
        text: str = self.cleaned_data["wheel"]
        if parse_wheel(text).offset_mm is None:
            raise forms.ValidationError(
                "Write the offset too, as +46 or ET46; without a stamp measure the backspacing."
            )
        return text

    def clean(self) -> dict[str, Any]:
        cleaned: dict[str, Any] = super().clean() or {}
        if cleaned.get("wheel") and cleaned.get("tyre"):
            wheel, tyre = parse_wheel(cleaned["wheel"]), parse_tyre(cleaned["tyre"])
            if not same_rim(wheel.diameter_in, tyre.rim_diameter_in):
                self.add_error(
                    "tyre", f"A {tyre.rim_diameter_in:g} in tyre does not go on a {wheel.diameter_in:g} in wheel."
                )
        cleaned["spacer_mm"] = cleaned.get("spacer_mm") or 0.0
        return cleaned


class OdometerForm(Merged, forms.Form):
    """The odometer now."""

    odometer_km = OdometerField(label="Odometer")
