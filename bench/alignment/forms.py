"""Forms of the alignment sheet: angles, turns of adjusters, own targets."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from django import forms

from bench.alignment.facts import GAUGE_DEG, STATION_OF, TARGETS, TOE_DEG, own_targets, school_of
from garage.fields import PastDayField
from garage.file import CarFile
from garage.readings.services import Angle
from rimcore.quantities.errors import CoreError
from rimcore.steering.axis import caster_from_sweep_deg
from rimcore.steering.schools import ALIGNMENT_SCHOOLS, ANGLE_NAMES
from rimcore.steering.setting import (
    sweep_uncertainty_deg,
    toe_deg,
)
from rimcore.tables.facts import CORNER_NAMES, CORNERS
from rimcore.tables.facts import ENDS as END_NAMES
from rimcore.well.read.stations import STATIONS
from shell.forms import QuantityField

#: turns that can be done at once
MOST_TURNS = 40


def doubt_of(code: str) -> float:
    """± of an angle where nobody says [deg]."""
    return TOE_DEG if code == "toe" else GAUGE_DEG


def _angle(label: str, low: float, high: float) -> QuantityField:
    return QuantityField("angle", low, high, required=False, label=label)


class AnglesForm(forms.Form):
    """What was read of each wheel; toe in degrees or in millimetres over a length; caster straight or from a sweep."""

    def __init__(self, *args: Any, **options: Any) -> None:
        super().__init__(*args, **options)
        for corner in CORNERS:
            self.fields[f"{corner}-camber"] = _angle(f"Camber, {CORNER_NAMES[corner]}", -20, 20)
            self.fields[f"{corner}-toe"] = _angle(f"Toe, {CORNER_NAMES[corner]}", -5, 5)
            self.fields[f"{corner}-toe_mm"] = QuantityField(
                "length", -100, 100, required=False, label=f"Toe as a length, {CORNER_NAMES[corner]}"
            )
            if corner[0] == "F":
                self.fields[f"{corner}-out"] = _angle(f"Camber, front edge outboard, {CORNER_NAMES[corner]}", -20, 20)
                self.fields[f"{corner}-in"] = _angle(f"Camber, front edge inboard, {CORNER_NAMES[corner]}", -20, 20)
        self.fields["over_mm"] = QuantityField(
            "length", 50, 2000, required=False, label="That length is over", help_text="rim edge to rim edge"
        )
        self.fields["sweep_deg"] = _angle("Sweep each way", 1, 60)
        self.fields["sweep_deg"].initial = 20.0
        self.fields["uncertainty"] = QuantityField("angle", 0.01, 2, label="± of the gauge", initial=GAUGE_DEG)
        self.fields["toe_uncertainty"] = QuantityField("angle", 0.01, 2, label="± of toe", initial=TOE_DEG)
        self.fields["who"] = forms.CharField(max_length=60, required=False, label="Who")
        self.fields["taken_on"] = PastDayField()

    @property
    def columns(self) -> list[dict[str, Any]]:
        """Camber and toe of each wheel."""
        return self._columns(("camber", "toe"))

    @property
    def ways(self) -> list[dict[str, Any]]:
        """Other ways to read them, folded until something is said there: toe with a rule, caster by a sweep."""
        found = []
        for name, names, tail in (
            ("Toe with a rule, as a length", ("toe_mm",), ("over_mm",)),
            ("Caster by a sweep on turn plates", ("out", "in"), ("sweep_deg",)),
            ("± of the gauges", (), ("uncertainty", "toe_uncertainty")),
        ):
            columns, rest = self._columns(names), [self[one] for one in tail]
            fields = [*(field for column in columns for field in column["fields"]), *rest]
            said = names != () and any(
                self.data.get(one.html_name) or self.initial.get(one.html_name) for one in fields
            )
            wrong = any(field.errors for field in fields)
            found.append({"name": name, "columns": columns, "tail": rest, "open": said or wrong})
        return found

    def _columns(self, names: tuple[str, ...]) -> list[dict[str, Any]]:
        found = [
            (corner, [self[f"{corner}-{name}"] for name in names if f"{corner}-{name}" in self.fields])
            for corner in CORNERS
        ]
        return [{"corner": corner, "fields": fields} for corner, fields in found if fields]

    @property
    def tail(self) -> list[Any]:
        """Who and when."""
        return [self[name] for name in ("who", "taken_on")]

    def clean(self) -> dict[str, Any]:
        cleaned: dict[str, Any] = super().clean() or {}
        self.read: list[Angle] = []
        for corner in CORNERS:
            self._wheel(corner, cleaned)
        if not self.read and not self.errors:
            raise forms.ValidationError("Nothing was typed; accepted: at least one angle.")
        return cleaned

    def _wheel(self, corner: str, cleaned: dict[str, Any]) -> None:
        camber, toe, millimetres = (cleaned.get(f"{corner}-{name}") for name in ("camber", "toe", "toe_mm"))
        if camber is not None:
            self._took(corner, "camber", camber, f"{corner}-camber")
        if toe is not None and millimetres is not None:
            self.add_error(f"{corner}-toe_mm", "Toe is given twice; accepted: degrees or millimetres.")
        elif millimetres is not None:
            self._in_mm(corner, millimetres, cleaned.get("over_mm"))
        elif toe is not None:
            self._took(corner, "toe", toe, f"{corner}-toe")
        self._sweep(corner, cleaned)

    def _in_mm(self, corner: str, millimetres: float, over: float | None) -> None:
        if over is None:
            self.add_error("over_mm", "Missing: the length that toe in mm is read over.")
            return
        try:
            self._took(corner, "toe", toe_deg(millimetres, over), f"{corner}-toe_mm")
        except CoreError as error:
            self.add_error(f"{corner}-toe_mm", error.message)

    def _sweep(self, corner: str, cleaned: dict[str, Any]) -> None:
        out, into, sweep = cleaned.get(f"{corner}-out"), cleaned.get(f"{corner}-in"), cleaned.get("sweep_deg")
        if out is None and into is None:
            return
        if out is None or into is None or sweep is None:
            field = f"{corner}-out" if out is None else f"{corner}-in" if into is None else "sweep_deg"
            self.add_error(field, "Missing: a sweep has both cambers and its angle.")
            return
        caster = caster_from_sweep_deg(out, into, sweep)
        low, high = STATIONS["caster"].limits
        if not low <= caster <= high:
            self.add_error(
                f"{corner}-out", f"These two give a caster of {caster:.1f}°; accepted: {low:g}° to {high:g}°."
            )
            return
        typed = f"{self.data[f'{corner}-out']} out, {self.data[f'{corner}-in']} in, sweep {sweep:g}°"
        gauge = cleaned.get("uncertainty") or GAUGE_DEG
        self._took(corner, "camber_out", out, f"{corner}-out", {"steer_deg": sweep})
        self._took(corner, "camber_in", into, f"{corner}-in", {"steer_deg": -sweep})
        self.read.append((corner, "caster", round(caster, 3), typed, round(sweep_uncertainty_deg(gauge, sweep), 3), {}))

    def _took(self, corner: str, code: str, value: float, field: str, where: Mapping[str, float] | None = None) -> None:
        doubt = self.cleaned_data.get("toe_uncertainty" if code == "toe" else "uncertainty") or doubt_of(code)
        self.read.append((corner, code, round(value, 4), self.data[field], doubt, where or {}))


class TurnForm(forms.Form):
    """One turn, read again: what it changed."""

    def __init__(self, *args: Any, **options: Any) -> None:
        super().__init__(*args, **options)
        self.fields["corner"] = forms.ChoiceField(
            choices=[(one, CORNER_NAMES[one].capitalize()) for one in CORNERS], label="Wheel"
        )
        self.fields["name"] = forms.CharField(
            max_length=60, label="What was turned", help_text="tie rod, camber plate, eccentric"
        )
        self.fields["turns"] = forms.FloatField(
            min_value=-MOST_TURNS,
            max_value=MOST_TURNS,
            initial=1,
            label="Turns done",
            help_text="the other way is minus; not 0",
        )
        self.fields["camber"] = _angle("Camber now", -20, 20)
        self.fields["caster"] = _angle("Caster now", -30, 30)
        self.fields["toe"] = _angle("Toe now", -5, 5)

        for name, label in (("turns_back", "Turns left, the minus way"), ("turns_on", "Turns left, the plus way")):
            self.fields[name] = forms.FloatField(
                min_value=0, max_value=MOST_TURNS, required=False, label=label, help_text="blank: not known"
            )

    def clean_turns(self) -> float:
        turns: float = self.cleaned_data["turns"]
        if abs(turns) < 0.05:
            raise forms.ValidationError(
                "A turn that is not done teaches nothing; accepted: at least a twentieth of a turn."
            )
        return turns


class TargetsForm(forms.Form):
    """The school that is aimed at, and targets of one's own; blank is the build's or the school's."""

    school = forms.ChoiceField(choices=[(key, one.name) for key, one in ALIGNMENT_SCHOOLS.items()], label="Targets")

    def __init__(self, file: CarFile, *args: Any, **options: Any) -> None:
        own, aimed = own_targets(file), school_of(file)
        first = {f"{end}-{angle}": value for (end, angle), value in own.items()}
        super().__init__(*args, initial={"school": aimed.key, **first}, **options)
        for end, angle in TARGETS:
            low, high = STATIONS[STATION_OF[angle]].limits
            label = f"{ANGLE_NAMES[angle].capitalize()}, {END_NAMES[end]}"
            field = _angle(label, low, high)
            if (end, angle) not in own:
                field.help_text = f"blank: {aimed.targets[end, angle]:+.2f}° {aimed.why(end, angle)}".replace("-", "−")
            self.fields[f"{end}-{angle}"] = field

    @property
    def targets(self) -> dict[str, float]:
        """What was typed, as the car keeps it."""
        said = {f"{end}.{angle}": self.cleaned_data.get(f"{end}-{angle}") for end, angle in TARGETS}
        return {name: value for name, value in said.items() if value is not None}
