"""The alignment sheet: four wheels in plan, a school's targets, adjusters that are learnt by a turn, and what to turn."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from django import forms
from django.contrib import messages
from django.http import HttpRequest, HttpResponse
from django.shortcuts import get_object_or_404, redirect
from django.utils import timezone
from django.views.decorators.http import require_POST

from bench.aligned import GAUGE_DEG, STATION_OF, TARGETS, TOE_DEG, angles_of, judged_by, own_targets, school_of
from bench.frame import switch
from bench.gauged import Taken, simulated
from garage import services
from garage.file import CarFile, open_file
from garage.forms import PastDayField
from garage.models import Adjuster
from garage.services import Angle
from rimcore.quantities.errors import CoreError
from rimcore.steering.axis import caster_from_sweep_deg
from rimcore.steering.drawing import wheel_turn_deg
from rimcore.steering.schools import ALIGNMENT_SCHOOLS, ANGLE_NAMES, END_NAMES, SUPPOSED_CAMBER_DEG, School
from rimcore.steering.setting import (
    ANGLES,
    sweep_uncertainty_deg,
    toe_deg,
    toe_mm,
    total_deg,
)
from rimcore.steering.turns import Turned, adjusted, effect_a_turn_deg, effect_doubt_deg, told_effects, travel_said, turns_left
from rimcore.well.stations import CORNER_NAMES, CORNERS, STATIONS
from shell.forms import QuantityField
from shell.pages import page, status_of

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
        """Fields of each wheel."""
        names = ("camber", "toe", "toe_mm", "out", "in")
        return [
            {"corner": corner, "fields": [self[f"{corner}-{name}"] for name in names if f"{corner}-{name}" in self.fields]}
            for corner in CORNERS
        ]

    @property
    def tail(self) -> list[Any]:
        return [self[name] for name in ("over_mm", "sweep_deg", "uncertainty", "toe_uncertainty", "who", "taken_on")]

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
            self.add_error(f"{corner}-out", f"These two give a caster of {caster:.1f}°; accepted: {low:g}° to {high:g}°.")
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
        self.fields["corner"] = forms.ChoiceField(choices=[(one, CORNER_NAMES[one].capitalize()) for one in CORNERS], label="Wheel")
        self.fields["name"] = forms.CharField(max_length=60, label="What was turned", help_text="tie rod, camber plate, eccentric")
        self.fields["turns"] = forms.FloatField(
            min_value=-MOST_TURNS,
            max_value=MOST_TURNS,
            initial=1,
            label="Turns done",
            help_text="the other way is minus; 0 teaches nothing",
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
            raise forms.ValidationError("A turn that is not done teaches nothing; accepted: at least a twentieth of a turn.")
        return turns


class TargetsForm(forms.Form):
    """The school that is aimed at, and targets of one's own; blank is the build's or the school's."""

    school = forms.ChoiceField(choices=[(key, one.name) for key, one in ALIGNMENT_SCHOOLS.items()], label="School")

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


def alignment(request: HttpRequest, car_id: int) -> HttpResponse:
    """Four wheels in plan against a school, and what to turn."""
    file = open_file(request.user, car_id)
    user: Any = request.user
    what = request.POST.get("form", "") if request.method == "POST" else ""
    shown = _shown(request, file)
    first = {"who": user.get_short_name() or user.username} | ({} if shown is None else _filled(request.GET.get("gauge", ""), shown))
    form = AnglesForm(request.POST if what == "angles" else None, initial=first)
    turn = TurnForm(request.POST if what == "turn" else None, prefix="turn")
    aims = TargetsForm(file, request.POST if what == "targets" else None, prefix="aim")
    if what == "targets" and aims.is_valid():
        services.set_alignment(file.car, user, aims.cleaned_data["school"], aims.targets)
        return redirect("alignment", car_id)
    if what == "school" and request.POST.get("school") in ALIGNMENT_SCHOOLS:
        services.set_alignment(file.car, user, request.POST["school"], file.car.alignment_targets)
        return redirect("alignment", car_id)
    if what == "angles" and form.is_valid():
        how = {name: form.cleaned_data[name] for name in ("who", "taken_on")}
        services.take_angles(file, form.read, how | {"method": "gauge"})
        messages.success(request, f"{len(form.read)} angle{'' if len(form.read) == 1 else 's'} kept.")
        return redirect("alignment", car_id)
    if what == "turn" and turn.is_valid() and _learn(file, turn, user):
        messages.success(request, f"{turn.cleaned_data['name']} is learnt.")
        return redirect("alignment", car_id)
    context = {
        "form": form,
        "turn": turn,
        "aims": aims,
        "kept_school": school_of(file).key,
        "taken": shown,
        "benches": switch(file),
        "here": "alignment",
        **_sheet(file, request.GET.get("school", "")),
    }
    return page(request, file, "check", "bench/alignment.html", context, status_of(form, turn, aims))


#: rim edge to rim edge, for the simulated strings [mm]
OVER_MM = 400.0


def _shown(request: HttpRequest, file: CarFile) -> Taken | None:
    """What a simulated gauge shows of the wheels as they were read last, or as the simulation supposes them."""
    key, values = request.GET.get("gauge", ""), angles_of(file)[0]
    if key.startswith("angle"):
        return simulated(key, {corner: _camber_deg(values[(corner, "camber_deg")]) for corner in CORNERS}, len(file.readings))
    if key == "strings":
        return simulated(key, {corner: toe_mm(values[(corner, "toe_deg")] or 0.0, OVER_MM) for corner in CORNERS}, len(file.readings))
    return simulated(key, {"FL": 20.0, "FR": 20.0}, len(file.readings)) if key == "plates" else None


def _camber_deg(read: float | None) -> float:
    return SUPPOSED_CAMBER_DEG if read is None else read


def _filled(key: str, shown: Taken) -> dict[str, Any]:
    """What a gauge's reading puts into the form."""
    if key == "strings":
        return {"who": shown.source, "over_mm": OVER_MM, **shown.initial(suffix="-toe_mm")}
    if key == "plates":
        swept = [one.value for one in shown.channels if one.value is not None]
        return {"sweep_deg": swept[0]} if swept else {}
    return {"who": shown.source, "uncertainty": max(GAUGE_DEG, shown.doubt or 0.0), **shown.initial(suffix="-camber")}


def _learn(file: CarFile, turn: TurnForm, user: Any) -> bool:
    """Keep the new angles and what a turn changed; False where nothing can be learnt."""
    values, angles = turn.cleaned_data, angles_of(file)[0]
    corner, effects, doubts = values["corner"], {}, {}
    read: list[Angle] = []
    known = angles_of(file)[1]
    for angle, name in ANGLE_NAMES.items():
        now, before = values.get(name), angles.get((corner, angle))
        if now is None or (angle == "caster_deg" and corner[0] == "R"):
            continue
        if before is None:
            turn.add_error(name, "It was not read before the turn, so nothing can be learnt; keep it as a reading first.")
            return False
        effects[angle] = effect_a_turn_deg(before, now, values["turns"])
        code = STATION_OF[angle]
        doubts[angle] = effect_doubt_deg(known[(corner, angle)].uncertainty, doubt_of(code), values["turns"])
        read.append((corner, code, now, turn.data[f"turn-{name}"], doubt_of(code), {}))
    if not effects:
        turn.add_error(None, "Write at least one angle as it is now.")
        return False
    how = {"who": user.get_short_name() or user.username, "taken_on": timezone.localdate(), "method": "gauge"}
    left = _turns_left(file, corner, values)
    services.learn_adjuster(file, corner, values["name"], values["turns"], effects, read, how, {"doubts": doubts, **left})
    return True


def _turns_left(file: CarFile, corner: str, values: dict[str, Any]) -> dict[str, float]:
    """Turns left each way after those done: as typed, else what was known less what was turned."""
    known = Adjuster.objects.filter(car=file.car, corner=corner, name=values["name"]).first()
    after = turns_left(known.turns_back, known.turns_on, values["turns"]) if known is not None else (None, None)
    found = {name: after[k] if values[name] is None else values[name] for k, name in enumerate(("turns_back", "turns_on"))}
    return {name: value for name, value in found.items() if value is not None}


@require_POST
def drop(request: HttpRequest, car_id: int, adjuster_id: int) -> HttpResponse:
    """An adjuster off the sheet; undo brings it back."""
    file = open_file(request.user, car_id)
    services.drop_adjuster(get_object_or_404(Adjuster, pk=adjuster_id, car=file.car), request.user)
    return redirect("alignment", car_id)


def _sheet(file: CarFile, key: str) -> dict[str, Any]:
    school = school_of(file, key)
    values, _ = angles_of(file)
    adjusters = list(Adjuster.objects.filter(car=file.car))
    done = _turns(values, school, adjusters)
    judged = {one.code: one for one in judged_by(file, school)}
    wheels = [
        {
            "corner": corner, "front": corner[0] == "F", "x": 150 if corner[1] == "L" else 410, "y": 110 if corner[0] == "F" else 330,
            "text_x": -30 if corner[1] == "L" else 30, "anchor": "end" if corner[1] == "L" else "start", "turned": wheel_turn_deg(values[(corner, "toe_deg")], corner), "camber": values[(corner, "camber_deg")], "toe": values[(corner, "toe_deg")],
            "caster": values[(corner, "caster_deg")] if corner[0] == "F" else None, "states": [
                judged[f"align.{angle[:-4]}.{corner}"] for angle in ANGLES if f"align.{angle[:-4]}.{corner}" in judged
            ],
        }
        for corner in CORNERS
    ]  # fmt: skip
    totals = {
        name: total_deg(values[(f"{end}L", "toe_deg")], values[(f"{end}R", "toe_deg")]) for end, name in (("F", "front"), ("R", "rear"))
    }
    return {
        "school": school, "schools": list(ALIGNMENT_SCHOOLS.values()), "wheels": wheels, "totals": totals, "judged": list(judged.values()),
        "adjusters": [
            {"row": one, "turns": done.turns.get(str(one)), "effects": _effects(one), "said": travel_said(done.turns.get(str(one)) or 0.0, one.turns_back, one.turns_on)}
            for one in adjusters
        ],
        "left_over": [(name, left) for name, left in done.left_over.items() if left is not None and abs(left) >= 0.005] if adjusters else [],
    }  # fmt: skip


def _turns(values: dict[tuple[str, str], float | None], school: School, adjusters: list[Adjuster]) -> Turned:
    """Turns for the angles that some adjuster moves."""
    effects = [(str(one), {f"{one.corner}.{angle}": value for angle, value in told(one).items()}) for one in adjusters]
    moved = {name for _, effect in effects for name in effect}
    targets = {f"{corner}.{angle}": school.targets[(corner[0], angle)] for corner, angle in values if (corner[0], angle) in school.targets}
    read = {f"{corner}.{angle}": value for (corner, angle), value in values.items()}
    travel = {str(one): (one.turns_back, one.turns_on) for one in adjusters}
    return adjusted(read, {name: wanted for name, wanted in targets.items() if name in moved}, effects, travel)


def told(one: Adjuster) -> dict[str, float]:
    """What an adjuster was seen to move: more than the ± of the two readings that it was seen by."""
    seen = {angle: value for angle, value in one.effects.items() if angle in ANGLES}
    doubts = {angle: doubt_of(STATION_OF[angle]) for angle in seen}
    usual = {angle: effect_doubt_deg(doubt, doubt, one.turns) for angle, doubt in doubts.items()}
    return told_effects(seen, {**usual, **one.doubts})


def _effects(one: Adjuster) -> list[tuple[str, float, bool]]:
    """What a turn changes: angle, by how much, and whether it is more than the ± of reading it."""
    counts = told(one)
    return [(ANGLE_NAMES[angle], value, angle in counts) for angle, value in one.effects.items() if angle in ANGLES]
