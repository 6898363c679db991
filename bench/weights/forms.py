"""Forms of corner weights: pads, springs, a weighing raised, what is wanted."""

from __future__ import annotations

from typing import Any

from django import forms

from bench.weights.facts import pads_of
from garage.fields import PastDayField
from garage.file import CarFile
from rimcore.limits import LIMITS
from rimcore.quantities.errors import CoreError
from rimcore.ride.bench import odd_axle
from rimcore.ride.weights import Pads, Raised, gravity
from rimcore.tables.facts import CORNER_NAMES, CORNERS
from shell.forms import QuantityField
from shell.merge import Merged

#: what a pad is good for where nobody says [kg] (common practice)
PAD_KG = 0.5


class PadsForm(forms.Form):
    """Four pads, how the car stood on them, and who read them."""

    def __init__(self, file: CarFile, *args: Any, **options: Any) -> None:
        super().__init__(*args, **options)
        self.car = file.car
        for corner in CORNERS:
            self.fields[corner] = QuantityField("mass", *LIMITS["pad_kg"].span, label=CORNER_NAMES[corner].capitalize())
        self.fields["uncertainty"] = QuantityField("mass", 0.01, 50, label="± of a pad", initial=PAD_KG)
        self.fields["driver_aboard"] = forms.BooleanField(required=False, label="Driver aboard")
        self.fields["fuel"] = forms.CharField(
            max_length=40, required=False, label="Fuel", help_text="such as half a tank, 20 L"
        )
        self.fields["who"] = forms.CharField(max_length=60, required=False, label="Who")
        self.fields["taken_on"] = PastDayField()
        # Asked only where the pads do not agree with the car's data.
        self.fields["sure"] = forms.BooleanField(
            required=False, label="The pads are right: keep them", widget=forms.HiddenInput
        )

    def clean(self) -> dict[str, Any]:
        cleaned: dict[str, Any] = super().clean() or {}
        loads = [cleaned.get(corner) for corner in CORNERS]
        self.odd = ""
        if all(load is not None for load in loads) and not cleaned.get("sure") and not cleaned.get("driver_aboard"):
            self.odd = odd_axle(Pads(*loads), self.car.front_axle_kg, self.car.rear_axle_kg)  # type: ignore[arg-type]
            if self.odd:
                self.fields["sure"].widget = forms.CheckboxInput()
                raise forms.ValidationError(
                    f"Not kept yet: {self.odd}. Zero the pads and read them again, or say that they are right."
                )
        return cleaned


#: what is kept of an end's springs
SPRING_FIELDS = (
    "rate_n_per_mm",
    "motion_ratio",
    "turn_mm",
    "bar_n_per_mm",
    "unsprung_kg",
    "free_length_mm",
    "block_length_mm",
    "preload_mm",
)


class SpringsForm(Merged, forms.Form):
    """Springs of one end."""

    def __init__(self, file: CarFile, *args: Any, **options: Any) -> None:
        super().__init__(*args, **options)
        self.fields["rate_n_per_mm"] = QuantityField(
            "spring_rate", *LIMITS["rate"].span, label="Spring", help_text="6k, 60 N/mm, 336 lb/in"
        )
        self.fields["motion_ratio"] = forms.FloatField(
            min_value=LIMITS["motion_ratio"].low,
            max_value=LIMITS["motion_ratio"].high,
            initial=1.0,
            label="Spring ÷ wheel movement",
        )
        self.fields["turn_mm"] = QuantityField(
            "length",
            *LIMITS["turn_mm"].span,
            required=False,
            label="Perch, a turn",
            help_text="blank: it can't be turned",
        )
        self.fields["bar_n_per_mm"] = QuantityField(
            "spring_rate",
            *LIMITS["bar"].span,
            required=False,
            label="Anti-roll bar at the wheel",
            help_text="per mm between left and right; blank: none",
        )
        self.fields["unsprung_kg"] = QuantityField(
            "mass", *LIMITS["unsprung_kg"].span, required=False, label="Moves with the wheel"
        )
        self.fields["free_length_mm"] = QuantityField(
            "length", *LIMITS["coil_mm"].span, required=False, label="Spring at rest"
        )
        self.fields["block_length_mm"] = QuantityField(
            "length", *LIMITS["coil_mm"].span, required=False, label="Spring, coils touching"
        )
        self.fields["preload_mm"] = QuantityField(
            "length",
            *LIMITS["preload_mm"].span,
            required=False,
            label="Preload at full droop",
            help_text="what it is shorter between its seats; blank: not read",
        )

    def clean(self) -> dict[str, Any]:
        cleaned: dict[str, Any] = super().clean() or {}
        free, block = cleaned.get("free_length_mm"), cleaned.get("block_length_mm")
        if free is not None and block is not None and block >= free:
            self.add_error(
                "block_length_mm", f"Must be shorter than the spring at rest; accepted: less than {free:g} mm."
            )
        if free is not None and block is not None and (cleaned.get("preload_mm") or 0.0) > free - block > 0:
            self.add_error("preload_mm", f"More than the coils have; accepted: 0 to {free - block:g} mm.")
        cleaned["bar_n_per_mm"] = cleaned.get("bar_n_per_mm") or 0.0
        return cleaned


class RaisedForm(forms.Form):
    """A second weighing with one end raised, for the height of the centre of gravity."""

    end = forms.ChoiceField(choices=(("front", "front"), ("rear", "rear")), label="Raised end")

    def __init__(self, file: CarFile, *args: Any, **options: Any) -> None:
        super().__init__(*args, **options)
        self.file = file
        self.fields["by_mm"] = QuantityField(
            "length",
            *LIMITS["axle_raised_mm"].span,
            label="Raised at the axle by",
            help_text="400 mm or more; suspension blocked",
        )
        self.fields["left_on_pads_kg"] = QuantityField(
            "mass",
            *LIMITS["axle_kg"].span,
            label="Other axle on the pads then",
            help_text="both of its pads together",
        )

    def clean(self) -> dict[str, Any]:
        cleaned: dict[str, Any] = super().clean() or {}
        found, place = pads_of(self.file), base_of(self.file)
        self.height_mm: float | None = None
        if found is None or place is None:
            raise forms.ValidationError(
                "First the four pads level, and wheelbase, both tracks and the wheels in the car's data."
            )
        if len(cleaned) < 3:
            return cleaned
        wheelbase, tracks, radius = place
        raised = Raised(cleaned["end"], cleaned["by_mm"], cleaned["left_on_pads_kg"], radius)
        try:
            self.height_mm = gravity(found.pads, wheelbase, tracks, raised).height_mm
        except CoreError as error:
            raise forms.ValidationError(f"Not kept: the load with that end raised {error.message}.") from error
        span = LIMITS["cg_height_mm"]
        if self.height_mm is None or not span.low <= self.height_mm <= span.high:
            raise forms.ValidationError(
                f"Not kept: that puts the centre of gravity {self.height_mm:.0f} mm up; accepted: {span.low:g} to {span.high:g} mm. Read both loads again."
            )
        return cleaned


def base_of(file: CarFile) -> tuple[float, tuple[float, float], float] | None:
    """Wheelbase, both tracks and the front tyre's radius [mm]; None where one is not known."""
    car, standing = file.car, file.standing("F")
    if car.wheelbase_mm is None or car.track_front_mm is None or car.track_rear_mm is None or standing is None:
        return None
    return car.wheelbase_mm, (car.track_front_mm, car.track_rear_mm), standing.fitted.tyre.diameter_mm / 2


class WantedForm(forms.Form):
    """What the turns are to reach; kept in the address."""

    target = forms.FloatField(min_value=30, max_value=70, initial=50, label="Cross weight wanted, %")
    limit = forms.FloatField(
        min_value=0,
        max_value=100,
        required=False,
        label="Most turns at a perch",
        help_text="blank: as many as it takes",
    )
