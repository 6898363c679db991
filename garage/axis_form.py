"""The form of a steering axis read from the wheel itself."""

from __future__ import annotations

from typing import Any

from django import forms
from django.utils import timezone

from garage.file import CarFile
from garage.forms import DATE
from rimcore.quantities.errors import CoreError
from rimcore.steering.axis import Found, axis_from_wheel
from rimcore.well.stations import STATIONS
from shell.forms import QuantityField


class AxisForm(forms.Form):
    """What is read at the wheel; any group may stay blank."""

    def __init__(self, file: CarFile, *args: Any, **options: Any) -> None:
        super().__init__(*args, **options)
        self.fields["scrub_mm"] = QuantityField("length", -200, 300, required=False, label="Radius of the scrub circle",
            help_text="plus: the tyre's middle stands outboard of the circle's middle",
        )  # fmt: skip
        self.fields["joint_in_mm"] = QuantityField("length", -50, 400, required=False, label="Lower joint, inboard of the mounting face")
        self.fields["joint_below_mm"] = QuantityField("length", -100, 400, required=False, label="Lower joint, below the hub's centre")
        self.fields["kpi_deg"] = QuantityField(
            "angle",
            -30,
            30,
            required=False,
            label="Inclination, if a sheet says it",
            help_text="then one of circle and joint is enough",
        )
        self.fields["sweep_deg"] = QuantityField("angle", 5, 45, required=False, label="Sweep each way", initial=20)
        self.fields["camber_out_deg"] = QuantityField("angle", -20, 20, required=False, label="Camber, front edge outboard")
        self.fields["camber_in_deg"] = QuantityField("angle", -20, 20, required=False, label="Camber, front edge inboard")
        self.fields["who"] = forms.CharField(max_length=60, required=False, label="Who")
        self.fields["taken_on"] = forms.DateField(widget=DATE, initial=timezone.localdate, label="When")

    def clean_taken_on(self) -> Any:
        taken = self.cleaned_data["taken_on"]
        if taken > timezone.localdate():
            raise forms.ValidationError("That day has not come yet.")
        return taken

    def clean(self) -> dict[str, Any]:
        cleaned: dict[str, Any] = super().clean() or {}
        for pair in (("joint_in_mm", "joint_below_mm"), ("camber_out_deg", "camber_in_deg")):
            given = [cleaned.get(name) is not None for name in pair]
            if any(given) and not all(given):
                missing = pair[given.index(False)]
                if missing not in self.errors:
                    self.add_error(missing, f"{self.fields[missing].label} is needed too; both or neither.")
        if cleaned.get("camber_out_deg") is not None and cleaned.get("sweep_deg") is None and "sweep_deg" not in self.errors:
            self.add_error("sweep_deg", "The angle each way is needed with the cambers; accepted: 5 to 45 degrees.")
        return cleaned

    def found(self, file: CarFile, corner: str) -> list[Found]:
        """What follows; a fault of the readings becomes a message at its field."""
        said = self.cleaned_data
        fitted = file.fitted(file.current, corner[0])
        if fitted is None:
            return []
        joint = None if said["joint_in_mm"] is None else (said["joint_in_mm"], said["joint_below_mm"])
        sweep = None if said["camber_out_deg"] is None else (said["sweep_deg"], said["camber_out_deg"], said["camber_in_deg"])
        try:
            return axis_from_wheel(fitted, said["scrub_mm"], joint, said["kpi_deg"], sweep)
        except CoreError as error:
            self.add_error(error.field if error.field in self.fields else None, error.message[:1].upper() + error.message[1:] + ".")
            return []

    def outside(self, found: list[Found]) -> None:
        """Results that no station would take are told before they are kept."""
        for one in found:
            kind = STATIONS[one.station]
            low, high = kind.limits
            if not low <= one.value <= high:
                self.add_error(
                    None,
                    f"{kind.name} would be {one.value:.1f} {one.unit}; accepted: {low:g} to {high:g}. One of the readings is misread, or its sign.",
                )

    @property
    def typed(self) -> str:
        """The readings in short, as they were typed."""
        names = {
            "scrub_mm": "circle",
            "joint_in_mm": "joint in",
            "joint_below_mm": "below",
            "camber_out_deg": "camber out",
            "camber_in_deg": "in",
        }
        said = [
            f"{short} {str(self.data.get(name, '')).strip()[:16]}"
            for name, short in names.items()
            if self.cleaned_data.get(name) is not None
        ]
        return ", ".join(said)[:130]
