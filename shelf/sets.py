"""Other sets of wheels: winter, track, spare. Each is checked on this car; one is put on from a day on."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date
from typing import Any

from django import forms
from django.contrib import messages
from django.http import HttpRequest, HttpResponse
from django.shortcuts import get_object_or_404, redirect
from django.utils import timezone
from django.views.decorators.http import require_POST

from garage.car.parts import Part, Tyre, Wheel
from garage.car.services import change_wheels, known_of, wheel_values
from garage.file import CarFile, open_file
from garage.inhand import in_hand
from rimcore.limits import LIMITS
from rimcore.quantities.errors import CoreError
from rimcore.quantities.judgement import Judgement, State, severity, worst
from rimcore.wheels.tyre import parse_tyre
from rimcore.wheels.tyrestate import judge_age, judge_tread, made_on
from rimcore.wheels.wheel import parse_wheel, same_rim
from shelf.judging import judge_pair
from shelf.models import WheelSet, WheelSetAxle
from shell.forms import QuantityField
from shell.pages import page, status_of
from shell.undo import remember

ENDS = {"F": "front", "R": "rear"}
#: sets of one car at most
MOST_SETS = 12


class SetForm(forms.Form):
    """A set: what it is for, wheels and tyres of both ends, tread, age, where it lies."""

    name = forms.CharField(max_length=40, label="Name")
    purpose = forms.ChoiceField(choices=list(WheelSet.PURPOSES.items()), label="For")
    stored = forms.CharField(max_length=80, required=False, label="Where it is stored")

    def __init__(self, car: Any, *args: Any, **options: Any) -> None:
        super().__init__(*args, **options)
        self.car = car
        for end, name in ENDS.items():
            rear = "" if end == "F" else "; blank: as the front"
            self.fields[f"wheel_{end}"] = forms.CharField(
                max_length=120, required=end == "F", label=f"Wheel, {name}", help_text=f"17x7.5 +40 5x108 63.4{rear}"
            )
            self.fields[f"tyre_{end}"] = forms.CharField(
                max_length=60, required=end == "F", label=f"Tyre, {name}", help_text=f"225/45R17 94H{rear}"
            )
            self.fields[f"tread_{end}"] = QuantityField(
                "length", *LIMITS["tread_mm"].span, required=False, label=f"Least tread, {name}"
            )
            self.fields[f"code_{end}"] = forms.CharField(
                max_length=8, required=False, label=f"Date code, {name}", help_text="week and year off the side: 2319"
            )

    def clean_name(self) -> str:
        name: str = self.cleaned_data["name"]
        if WheelSet.objects.filter(car=self.car, name=name).exists():
            raise forms.ValidationError(f"There is a set “{name}” already.")
        return name

    def clean(self) -> dict[str, Any]:
        found: dict[str, Any] = super().clean() or {}
        for end in ENDS:
            self._pair(found, end)
            code = found.get(f"code_{end}")
            if code:
                self._read(f"code_{end}", lambda code=code: made_on(code, timezone.localdate()))
        return found

    def _pair(self, found: dict[str, Any], end: str) -> None:
        """Wheel and tyre of an end can be read and go together."""
        wheel = self._read(f"wheel_{end}", lambda: parse_wheel(self.said(found, "wheel", end)))
        tyre = self._read(f"tyre_{end}", lambda: parse_tyre(self.said(found, "tyre", end)))
        if wheel is not None and wheel.offset_mm is None:
            self.add_error(f"wheel_{end}", "The offset is missing; write it as +22 or ET22.")
        if wheel is not None and tyre is not None and not same_rim(wheel.diameter_in, tyre.rim_diameter_in):
            self.add_error(
                f"tyre_{end}", f"A tyre for {tyre.rim_diameter_in:g} in on a wheel of {wheel.diameter_in:g} in."
            )

    def _read(self, field: str, read: Any) -> Any:
        try:
            return read()
        except CoreError as error:
            if field not in self.errors:
                self.add_error(field, f"{error.message[:1].upper()}{error.message[1:]}.")
            return None

    @staticmethod
    def said(found: dict[str, Any], what: str, end: str) -> str:
        """What was typed for an end; the rear is as the front where nothing is."""
        return str(found.get(f"{what}_{end}") or found.get(f"{what}_F") or "")


class FitForm(forms.Form):
    """From which day on a set stands on the car."""

    since = forms.DateField(label="On the car from", widget=forms.DateInput(attrs={"type": "date"}))

    def __init__(self, least: date | None, *args: Any, **options: Any) -> None:
        super().__init__(*args, **options)
        self.least = least

    def clean_since(self) -> date:
        day: date = self.cleaned_data["since"]
        if day > timezone.localdate() or (self.least is not None and day < self.least):
            least = f"{self.least:%-d %b %Y} to " if self.least else "up to "
            raise forms.ValidationError(f"Out of range; accepted: {least}today, {timezone.localdate():%-d %b %Y}.")
        return day


@dataclass(frozen=True)
class SetShown:
    """A set with what is checked of it, worst first."""

    row: WheelSet
    axles: tuple[WheelSetAxle, ...]
    judgements: tuple[Judgement, ...]

    @property
    def state(self) -> State:
        return worst(one.state for one in self.judgements)

    @property
    def waiting(self) -> int:
        return sum(one.state == "unmeasured" for one in self.judgements)


def sets(request: HttpRequest, car_id: int) -> HttpResponse:
    """The other sets of a car, each checked on it; a form for another one."""
    file = open_file(request.user, car_id)
    form = SetForm(file.car, request.POST if request.method == "POST" else None)
    if request.method == "POST" and form.is_valid():
        if WheelSet.objects.filter(car=file.car).count() >= MOST_SETS:
            form.add_error(None, f"Up to {MOST_SETS} sets a car; remove one first.")
        else:
            _add(file, form.cleaned_data)
            messages.success(request, f"{form.cleaned_data['name']}: saved.")
            return redirect("sets", car_id)
    rows = WheelSet.objects.filter(car=file.car).prefetch_related("axles__wheel_part", "axles__tyre_part")
    current = file.current
    context = {
        "form": form,
        "sets": [shown(file, row) for row in rows],
        "today": timezone.localdate(),
        "least": current.since if current else None,
        "current": current,
        "now": [(name, file.on(current, end)) for end, name in ENDS.items()],
    }
    return page(request, file, "choose", "shelf/sets.html", context, status_of(form))


def shown(file: CarFile, row: WheelSet) -> SetShown:
    """A set on this car: gaps, bolts and bores of each end as of any pair, then tread and age."""
    axles, today = tuple(row.axles.all()), timezone.localdate()
    found: list[Judgement] = []
    for axle in axles:
        if file.core_axle(axle.end) is not None:
            pair = judge_pair(file, _as(Wheel, axle.wheel_part), _as(Tyre, axle.tyre_part), in_hand(file), axle.end)
            found += pair.judgements
        where = ENDS[axle.end]
        found += [judge_age(axle.date_code, today, where), judge_tread(axle.tread_mm, row.purpose, where)]
    return SetShown(row, axles, tuple(sorted(found, key=severity)))


def _as(kind: type[Part], part: Part) -> Any:
    """A part as the wheel or the tyre that it is."""
    part.__class__ = kind
    return part


def _add(file: CarFile, said: dict[str, Any]) -> WheelSet:
    with remember(file.car.owner, f"set {said['name']} added"):
        row = WheelSet.objects.create(
            car=file.car, name=said["name"], purpose=said["purpose"], stored=said.get("stored", "")
        )
        for end in ENDS:
            wheel, tyre = SetForm.said(said, "wheel", end), SetForm.said(said, "tyre", end)
            _axle(row, end, {"wheel": wheel, "tyre": tyre}, said.get(f"tread_{end}"), said.get(f"code_{end}") or "")
        return row


def _axle(row: WheelSet, end: str, values: dict[str, Any], tread_mm: float | None, code: str) -> None:
    parts = wheel_values(row.car, values)
    WheelSetAxle.objects.create(
        wheel_set=row, end=end, wheel_part=parts[0], tyre_part=parts[1], tread_mm=tread_mm, date_code=code
    )


@require_POST
def fit(request: HttpRequest, car_id: int, set_id: int) -> HttpResponse:
    """Put a set on from a day on; what came off is a set from then on."""
    file = open_file(request.user, car_id)
    row = get_object_or_404(WheelSet, pk=set_id, car=file.car)
    current = file.current
    form = FitForm(current.since if current else None, request.POST)
    if not form.is_valid():
        messages.error(request, f"{row.name} was not put on. {form.errors['since'][0]}")
        return redirect("sets", car_id)
    with remember(request.user, f"{row.name} put on"):
        _keep_what_comes_off(file)
        change_wheels(file.car, row.name, form.cleaned_data["since"], _values(row))
        row.delete()
    messages.success(
        request, f"{row.name} stands on the car now. Tighten the nuts to the figure, and again after 80 km."
    )
    return redirect("sets", car_id)


def _values(row: WheelSet) -> dict[str, dict[str, Any]]:
    """All that is known of a set's wheels and tyres, by end."""
    return {
        axle.end: {
            **known_of(axle.wheel_part, axle.tyre_part),
            "tread_mm": axle.tread_mm,
            "date_code": axle.date_code,
        }
        for axle in row.axles.select_related("wheel_part", "tyre_part")
    }


def _keep_what_comes_off(file: CarFile) -> None:
    """The wheels that stand on the car now, as a set of their own, with all that is known of them."""
    current = file.current
    if current is None:
        return
    taken = set(WheelSet.objects.filter(car=file.car).values_list("name", flat=True))
    names = (current.name[:36], *(f"{current.name[:34]} {k}" for k in range(2, 99)))
    row = WheelSet.objects.create(car=file.car, name=next(name for name in names if name not in taken), purpose="other")
    for axle in current.axles.select_related("wheel_part", "tyre_part"):
        values = known_of(axle.wheel_part, axle.tyre_part) | {"with_spacer_mm": axle.spacer_mm or None}
        _axle(row, axle.end, values, values.get("tread_mm"), values.get("date_code", ""))


@require_POST
def remove(request: HttpRequest, car_id: int, set_id: int) -> HttpResponse:
    """A set that is there no more; undo brings it back."""
    file = open_file(request.user, car_id)
    row = get_object_or_404(WheelSet, pk=set_id, car=file.car)
    with remember(request.user, f"set {row.name} removed"):
        row.delete()
    messages.success(request, f"{row.name} is removed.")
    return redirect("sets", car_id)
