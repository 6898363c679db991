"""Readings as they are typed.

One station, a row of the floor sheet, a station passed over, a steering axis off the wheel.
"""

from __future__ import annotations

from typing import Any

from django import forms
from django.forms.utils import ErrorDict
from django.utils import timezone

from garage.fields import DATE, unit_of
from garage.file import CarFile
from garage.readings.models import Condition, Reading, Skip
from garage.readings.services import default_uncertainty
from rimcore.limits import LIMITS
from rimcore.quantities.errors import CoreError
from rimcore.steering.axis import Found, axis_from_wheel
from rimcore.well.read.declared import PARAMS, VALUES, check_where, place_of
from rimcore.well.read.stations import METHOD_NAMES, STATIONS, StationKind
from rimcore.well.read.walk import differs, repeated
from shell.forms import QuantityField

#: most readings of one place typed together
MOST_REPEATS = 9


#: most characters of what was read, as it is kept
MOST_TYPED = 60


class ReadField(QuantityField):
    """What was read; several times at the same place parted by semicolons, of which it cleans to the mean."""

    repeats: list[float]

    def to_python(self, value: Any) -> Any:
        if len(str(value or "")) > MOST_TYPED:
            raise forms.ValidationError(f"Too long; accepted: {MOST_TYPED} characters at most.")
        parts = [part for part in str(value or "").split(";") if part.strip()]
        if len(parts) > MOST_REPEATS:
            raise forms.ValidationError(
                f"{len(parts)} readings; accepted: {MOST_REPEATS} at most, parted by semicolons."
            )
        self.repeats = [super(ReadField, self).to_python(part) for part in parts]
        return repeated(self.repeats, 0.0)[0] if self.repeats else None


#: most characters that are kept of what was typed for all values of a station
MOST_KEPT = 130


def value_field(place: int) -> str:
    """Name of the field of a station's value, by its place.

    >>> value_field(0), value_field(2)
    ('value', 'value3')
    """
    return "value" if place == 0 else f"value{place + 1}"


class _Read(forms.Form):
    """Where the rule went and what it read, as the station declares it."""

    def __init__(self, kind: StationKind, corner: str, file: CarFile, *args: Any, **options: Any) -> None:
        super().__init__(*args, **options)
        self.kind, self.corner, self.file = kind, corner, file
        self.doubted = False
        unit = unit_of(kind.kind, file)
        for param in (PARAMS[name] for name in kind.params):
            more: dict[str, Any] = {"label": param.label, "help_text": param.help, "initial": param.default}
            if param.choices:
                self.fields[param.code] = forms.ChoiceField(choices=list(param.choices.items()), **more)
            else:
                self.fields[param.code] = QuantityField(param.quantity, *param.span(kind.place).span, **more)
        for place, name in enumerate(kind.values):
            field = ReadField(kind.kind, *kind.limits, label=VALUES[name])
            field.help_text = f"a bare number is {unit}"
            self.fields[value_field(place)] = field
        if kind.kind == "length":
            self.fields["value"].widget.attrs["placeholder"] = "11/16 in, 9.5"

    @property
    def read(self) -> list[str]:
        """Names of the fields that hold what was read."""
        return [value_field(place) for place in range(len(self.kind.values))]

    def clean_steer_deg(self) -> float:
        steer: float = self.cleaned_data["steer_deg"]
        if abs(steer) < 5:
            raise forms.ValidationError("Full lock is more than 5° to one side; plus is outboard.")
        return steer

    def clean(self) -> dict[str, Any]:
        cleaned: dict[str, Any] = super().clean() or {}
        if self.errors:
            return cleaned
        doubt = cleaned.get("uncertainty")
        if doubt is None:
            good_for = default_uncertainty(
                self.kind.code, cleaned.get("method") or self.kind.method, self.file.preferences.own_doubts
            )
            doubt = max(repeated(getattr(self.fields[name], "repeats"), good_for)[1] for name in self.read)  # noqa: B009
        if doubt > self.kind.uncertainty_limit:
            self.add_error(
                "value",
                f"These differ too much to be one place: ± {doubt:g}; accepted: {self.kind.uncertainty_limit:g} at most.",
            )
            return cleaned
        if len(self._as_typed()) > MOST_KEPT:
            self.add_error("value", f"Too long to be kept as typed; accepted: {MOST_KEPT} characters for all together.")
            return cleaned
        cleaned["uncertainty"] = doubt
        self._ask_twice(cleaned)
        return cleaned

    def _as_typed(self) -> str:
        return " / ".join(str(self.data.get(self.add_prefix(name), "")).strip() for name in self.read)

    def _ask_twice(self, cleaned: dict[str, Any]) -> None:
        """A reading that differs from the last by more than both their ± is kept only when it is said to be right."""
        before = self._before({name: cleaned[name] for name in self.kind.params})
        if before is None:
            return
        pairs = zip((cleaned[name] for name in self.read), before.values, strict=False)
        if any(differs(now, cleaned["uncertainty"], then, before.uncertainty) for now, then in pairs):
            self.doubted = True
            if not self.data.get(self.add_prefix("sure")):
                self.add_error(
                    "value",
                    f"The last reading here was {before.typed}, ± {before.uncertainty:g}, on {before.taken_on:%-d %b %Y}: they differ by more than "
                    "both ±. Read it again; if it is right, say so below.",
                )

    def _before(self, where: dict[str, Any]) -> Reading | None:
        """The last reading of the same place against what stands on the car now."""
        place = place_of(check_where(self.kind, where))
        return next(
            (
                r
                for r in self.file.latest
                if (r.corner, r.code) == (self.corner, self.kind.code)
                and place_of(r.where) == place
                and self.file.current is not None
                and r.outfit_id == self.file.current.pk
            ),
            None,
        )

    def values(self) -> dict[str, Any]:
        """What is kept: where the rule went, what it read, how, and the typing."""
        kept = {name: value for name, value in self.cleaned_data.items() if name not in (*self.read, *self.kind.params)}
        kept["where"] = {name: self.cleaned_data[name] for name in self.kind.params}
        kept["values"] = [round(self.cleaned_data[name], 4) for name in self.read]
        repeats: list[list[float]] = [getattr(self.fields[name], "repeats") for name in self.read]  # noqa: B009
        kept["repeats"] = repeats if any(len(each) > 1 for each in repeats) else []
        kept["typed"] = self._as_typed()
        return kept


class ReadingForm(_Read):
    """One reading at one station, with how it was taken."""

    def __init__(self, kind: StationKind, corner: str, file: CarFile, *args: Any, **options: Any) -> None:
        super().__init__(kind, corner, file, *args, **options)
        self.fields["method"] = forms.ChoiceField(choices=list(METHOD_NAMES.items()), initial=kind.method)
        self.fields["uncertainty"] = QuantityField(
            kind.kind,
            0,
            kind.uncertainty_limit,
            required=False,
            label="±",
            help_text="blank: what the method is good for, or half the spread of several readings",
        )
        self.fields["who"] = forms.CharField(max_length=60, required=False, label="Who")
        self.fields["taken_on"] = forms.DateField(widget=DATE, initial=timezone.localdate, label="When")
        conditions = Condition.objects.filter(car=file.car)
        self.fields["condition"] = forms.ModelChoiceField(
            conditions, required=False, empty_label="not noted", initial=conditions.first
        )

    @property
    def how(self) -> list[forms.BoundField]:
        """Fields that say how it was taken; on a walk they stay as they are."""
        return [self[name] for name in ("method", "uncertainty", "who", "taken_on", "condition")]

    @property
    def how_refused(self) -> bool:
        """Was something of how it was taken refused?"""
        return any(field.errors for field in self.how)

    @property
    def there(self) -> list[forms.BoundField]:
        """Fields that say where the rule went."""
        return [self[name] for name in self.kind.params]

    @property
    def here(self) -> list[forms.BoundField]:
        """Fields of what was read."""
        return [self[name] for name in self.read]

    def clean_taken_on(self) -> Any:
        taken = self.cleaned_data["taken_on"]
        if taken > timezone.localdate():
            raise forms.ValidationError("That day has not come yet.")
        return taken


class SheetRow(_Read):
    """A row of the floor sheet: a station whose reading may be left open."""

    @property
    def filled(self) -> bool:
        """Was anything typed where it is read?"""
        return any(str(self.data.get(self.add_prefix(name), "")).strip() for name in self.read)

    def full_clean(self) -> None:
        if self.is_bound and not self.filled:
            self._errors, self.cleaned_data = ErrorDict(), {}
            return
        super().full_clean()


class SkipForm(forms.ModelForm):
    """Why a station is passed over."""

    class Meta:
        model = Skip
        fields = ["why", "note"]


class AxisForm(forms.Form):
    """What is read at the wheel; any group may stay blank."""

    def __init__(self, file: CarFile, *args: Any, **options: Any) -> None:
        super().__init__(*args, **options)
        self.fields["scrub_mm"] = QuantityField(
            "length",
            -200,
            300,
            required=False,
            label="Radius of the scrub circle",
            help_text="plus: the tyre's middle stands outboard of the circle's middle",
        )
        self.fields["joint_in_mm"] = QuantityField(
            "length", -50, 400, required=False, label="Lower joint, inboard of the mounting face"
        )
        self.fields["joint_below_mm"] = QuantityField(
            "length", -100, 400, required=False, label="Lower joint, below the hub's centre"
        )
        self.fields["kpi_deg"] = QuantityField(
            "angle",
            -30,
            30,
            required=False,
            label="Inclination, if a sheet says it",
            help_text="then one of circle and joint is enough",
        )
        self.fields["sweep_deg"] = QuantityField("angle", 5, 45, required=False, label="Sweep each way", initial=20)
        self.fields["camber_out_deg"] = QuantityField(
            "angle", -20, 20, required=False, label="Camber, front edge outboard"
        )
        self.fields["camber_in_deg"] = QuantityField(
            "angle", -20, 20, required=False, label="Camber, front edge inboard"
        )
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
        if (
            cleaned.get("camber_out_deg") is not None
            and cleaned.get("sweep_deg") is None
            and "sweep_deg" not in self.errors
        ):
            self.add_error("sweep_deg", "The angle each way is needed with the cambers; accepted: 5 to 45 degrees.")
        return cleaned

    def found(self, file: CarFile, corner: str) -> list[Found]:
        """What follows; a fault of the readings becomes a message at its field."""
        said = self.cleaned_data
        fitted = file.fitted(file.current, corner[0])
        if fitted is None:
            return []
        joint = None if said["joint_in_mm"] is None else (said["joint_in_mm"], said["joint_below_mm"])
        sweep = (
            None
            if said["camber_out_deg"] is None
            else (said["sweep_deg"], said["camber_out_deg"], said["camber_in_deg"])
        )
        try:
            return axis_from_wheel(fitted, said["scrub_mm"], joint, said["kpi_deg"], sweep)
        except CoreError as error:
            self.add_error(
                error.field if error.field in self.fields else None, error.message[:1].upper() + error.message[1:] + "."
            )
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


class StrikeForm(forms.Form):
    """Why a reading is wrong."""

    why = forms.CharField(max_length=200, label="Why it is wrong")


class ConditionForm(forms.ModelForm):
    """How the car stands."""

    front_kpa = QuantityField("pressure", *LIMITS["kpa"].span, required=False, label="Front tyres")
    rear_kpa = QuantityField("pressure", *LIMITS["kpa"].span, required=False, label="Rear tyres")
    air_c = QuantityField("temperature", *LIMITS["air_c"].span, required=False, label="Air")

    class Meta:
        model = Condition
        fields = ("noted_on", "fuel", "driver_aboard", "front_kpa", "rear_kpa", "air_c", "note")
        widgets = {"noted_on": DATE}
