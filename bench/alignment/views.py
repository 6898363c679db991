"""The alignment sheet: four wheels in plan, a school's targets, adjusters that are learnt by a turn, and what to turn."""

from __future__ import annotations

from typing import Any

from django.contrib import messages
from django.http import HttpRequest, HttpResponse
from django.shortcuts import get_object_or_404, redirect
from django.utils import timezone
from django.views.decorators.http import require_POST

from bench.alignment.facts import GAUGE_DEG, STATION_OF, angles_of, judged_by, school_of
from bench.alignment.forms import AnglesForm, TargetsForm, TurnForm, doubt_of
from bench.frame.gauges import Taken, simulated
from garage.chassis import services as chassis_services
from garage.chassis.models import Adjuster
from garage.file import CarFile, open_file
from garage.readings import services as readings_services
from garage.readings.services import Angle
from rimcore.steering.drawing import wheel_turn_deg
from rimcore.steering.schools import ALIGNMENT_SCHOOLS, ANGLE_NAMES, SUPPOSED_CAMBER_DEG, School
from rimcore.steering.setting import (
    ANGLES,
    toe_mm,
    total_deg,
)
from rimcore.steering.turns import (
    Turned,
    adjusted,
    effect_a_turn_deg,
    effect_doubt_deg,
    told_effects,
    travel_said,
    turns_left,
)
from rimcore.tables.facts import CORNERS
from shell.pages import page, status_of
from shell.people import called


def alignment(request: HttpRequest, car_id: int) -> HttpResponse:
    """Four wheels in plan against a school, and what to turn."""
    file = open_file(request.user, car_id)
    user: Any = request.user
    what = request.POST.get("form", "") if request.method == "POST" else ""
    shown = _shown(request, file)
    first = {"who": called(user)} | ({} if shown is None else _filled(request.GET.get("gauge", ""), shown))
    form = AnglesForm(request.POST if what == "angles" else None, initial=first)
    turn = TurnForm(request.POST if what == "turn" else None, prefix="turn")
    aims = TargetsForm(file, request.POST if what == "targets" else None, prefix="aim")
    if what == "targets" and aims.is_valid():
        chassis_services.set_alignment(file.car, user, aims.cleaned_data["school"], aims.targets)
        return redirect("alignment", car_id)
    if what == "school" and request.POST.get("school") in ALIGNMENT_SCHOOLS:
        chassis_services.set_alignment(file.car, user, request.POST["school"], file.car.alignment_targets)
        return redirect("alignment", car_id)
    if what == "angles" and form.is_valid():
        how = {name: form.cleaned_data[name] for name in ("who", "taken_on")}
        readings_services.take_angles(file, form.read, how | {"method": "gauge"})
        messages.success(request, f"{len(form.read)} angle{'' if len(form.read) == 1 else 's'} saved.")
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
        "here": "alignment",
        **_sheet(file, request.GET.get("school", "")),
    }
    return page(request, file, "check", "bench/alignment/alignment.html", context, status_of(form, turn, aims))


#: rim edge to rim edge, for the simulated strings [mm]
OVER_MM = 400.0


def _shown(request: HttpRequest, file: CarFile) -> Taken | None:
    """What a simulated gauge shows of the wheels as they were read last, or as the simulation supposes them."""
    key, values = request.GET.get("gauge", ""), angles_of(file)[0]
    if key.startswith("angle"):
        return simulated(
            key, {corner: _camber_deg(values[(corner, "camber_deg")]) for corner in CORNERS}, len(file.readings)
        )
    if key == "strings":
        return simulated(
            key, {corner: toe_mm(values[(corner, "toe_deg")] or 0.0, OVER_MM) for corner in CORNERS}, len(file.readings)
        )
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
            turn.add_error(
                name, "It was not read before the turn, so nothing can be learnt; keep it as a reading first."
            )
            return False
        effects[angle] = effect_a_turn_deg(before, now, values["turns"])
        code = STATION_OF[angle]
        doubts[angle] = effect_doubt_deg(known[(corner, angle)].uncertainty, doubt_of(code), values["turns"])
        read.append((corner, code, now, turn.data[f"turn-{name}"], doubt_of(code), {}))
    if not effects:
        turn.add_error(None, "Write at least one angle as it is now.")
        return False
    how = {"who": called(user), "taken_on": timezone.localdate(), "method": "gauge"}
    left = _turns_left(file, corner, values)
    chassis_services.learn_adjuster(
        file=file,
        corner=corner,
        name=values["name"],
        turns=values["turns"],
        effects=effects,
        angles=read,
        how=how,
        more={"doubts": doubts, **left},
    )
    return True


def _turns_left(file: CarFile, corner: str, values: dict[str, Any]) -> dict[str, float]:
    """Turns left each way after those done: as typed, else what was known less what was turned."""
    known = Adjuster.objects.filter(car=file.car, corner=corner, name=values["name"]).first()
    after = turns_left(known.turns_back, known.turns_on, values["turns"]) if known is not None else (None, None)
    found = {
        name: after[k] if values[name] is None else values[name] for k, name in enumerate(("turns_back", "turns_on"))
    }
    return {name: value for name, value in found.items() if value is not None}


@require_POST
def drop(request: HttpRequest, car_id: int, adjuster_id: int) -> HttpResponse:
    """An adjuster off the sheet; undo brings it back."""
    file = open_file(request.user, car_id)
    chassis_services.drop_adjuster(get_object_or_404(Adjuster, pk=adjuster_id, car=file.car), request.user)
    return redirect("alignment", car_id)


def _sheet(file: CarFile, key: str) -> dict[str, Any]:
    school = school_of(file, key)
    values, _ = angles_of(file)
    adjusters = list(Adjuster.objects.filter(car=file.car))
    done = _turns(values, school, adjusters)
    judged = {one.code: one for one in judged_by(file, school)}
    wheels = [
        {
            "corner": corner,
            "front": corner[0] == "F",
            "x": 150 if corner[1] == "L" else 410,
            "y": 110 if corner[0] == "F" else 330,
            "text_x": -30 if corner[1] == "L" else 30,
            "anchor": "end" if corner[1] == "L" else "start",
            "turned": wheel_turn_deg(values[(corner, "toe_deg")], corner),
            "camber": values[(corner, "camber_deg")],
            "toe": values[(corner, "toe_deg")],
            "caster": values[(corner, "caster_deg")] if corner[0] == "F" else None,
            "states": [
                judged[f"align.{angle[:-4]}.{corner}"] for angle in ANGLES if f"align.{angle[:-4]}.{corner}" in judged
            ],
        }
        for corner in CORNERS
    ]
    totals = {
        name: total_deg(values[(f"{end}L", "toe_deg")], values[(f"{end}R", "toe_deg")])
        for end, name in (("F", "front"), ("R", "rear"))
    }
    return {
        "school": school,
        "schools": list(ALIGNMENT_SCHOOLS.values()),
        "wheels": wheels,
        "totals": totals,
        "judged": list(judged.values()),
        "adjusters": [
            {
                "row": one,
                "turns": done.turns.get(str(one)),
                "effects": _effects(one),
                "said": travel_said(done.turns.get(str(one)) or 0.0, one.turns_back, one.turns_on),
            }
            for one in adjusters
        ],
        "left_over": [(name, left) for name, left in done.left_over.items() if left is not None and abs(left) >= 0.005]
        if adjusters
        else [],
    }


def _turns(values: dict[tuple[str, str], float | None], school: School, adjusters: list[Adjuster]) -> Turned:
    """Turns for the angles that some adjuster moves."""
    effects = [(str(one), {f"{one.corner}.{angle}": value for angle, value in told(one).items()}) for one in adjusters]
    moved = {name for _, effect in effects for name in effect}
    targets = {
        f"{corner}.{angle}": school.targets[(corner[0], angle)]
        for corner, angle in values
        if (corner[0], angle) in school.targets
    }
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
