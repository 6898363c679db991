"""Corner weights: four pads typed together, the cross weight, the turns that even it, and every weighing before."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from typing import Any

import numpy as np
from django.contrib import messages
from django.http import HttpRequest, HttpResponse
from django.shortcuts import redirect

from bench.frame.gauges import ReplayForm, Taken, simulated, taken
from bench.weights.facts import judgements, pads_of, stance_of, weighings
from bench.weights.forms import PAD_KG, SPRING_FIELDS, PadsForm, RaisedForm, SpringsForm, WantedForm
from garage.car import services as car_services
from garage.chassis import services as chassis_services
from garage.chassis.load import chassis_of
from garage.chassis.models import Springs
from garage.file import CarFile, open_file
from garage.inhand import in_hand
from garage.readings import services as readings_services
from planner import services as planning
from planner.chosen import build_in_hand
from rimcore.quantities.errors import CoreError
from rimcore.ride.drawing import load_side
from rimcore.ride.weights import Evened, Gravity, Pads, evened, gravity, supposed_loads_kg
from rimcore.tables.facts import CORNERS, ENDS
from shell.pages import page, status_of
from shell.people import called

#: fewer turns than this are none
STILL_TURNS = 0.02


def weights(request: HttpRequest, car_id: int) -> HttpResponse:
    """Pads in plan, what evens them, and the weighings before."""
    file = open_file(request.user, car_id)
    what = request.POST.get("form", "") if request.method == "POST" else ""
    asked = {name: request.GET[name] for name in ("target", "limit") if name in request.GET}
    wanted = WantedForm({"target": "50", **asked})
    if what == "turns":
        return _into_build(request, file, wanted)
    replay = ReplayForm(
        CORNERS, "kg", request.POST if what == "replay" else None, request.FILES if what == "replay" else None
    )
    shown = _shown(request, file, replay)
    bound = _forms(request, file, what, shown)
    form, keep = bound.get(what), KEEPS.get(what)
    if form is not None and keep is not None and form.is_valid():
        answer = keep(request, file, what, form)
        if answer is not None:
            return answer
    springs = [(ENDS[end], end, bound[end]) for end in ENDS]
    context = {
        "pads": bound["pads"],
        "springs": springs,
        "wanted": wanted,
        "in_hand": in_hand(file),
        "here": "weights",
        "taken": shown,
        "replay": replay,
        "raised": bound["raised"],
        **_sheet(file, wanted),
    }
    status = status_of(*bound.values(), replay, *([wanted] if asked else []))
    return page(request, file, "check", "bench/weights/weights.html", context, status)


def _forms(request: HttpRequest, file: CarFile, what: str, shown: Taken | None) -> dict[str, Any]:
    """The forms of the page by the name each is sent under; what the pads show stands in theirs."""

    def sent(name: str) -> Any:
        return request.POST if what == name else None

    first = {"who": called(request.user)}
    if shown is not None:
        first |= shown.initial() | {"who": shown.source, "uncertainty": max(PAD_KG, shown.doubt or 0.0)}
    kept: dict[str, Springs] = chassis_of(file).springs
    springs = {end: SpringsForm(file, sent(end), prefix=end, initial=_initial(kept.get(end))) for end in ENDS}
    return {"pads": PadsForm(file, sent("pads"), initial=first), "raised": RaisedForm(file, sent("raised")), **springs}


def _keep_pads(request: HttpRequest, file: CarFile, what: str, form: Any) -> HttpResponse:
    _keep(file, form)
    messages.success(request, "Four pads saved.")
    return redirect("weights", file.car.pk)


def _keep_springs(request: HttpRequest, file: CarFile, what: str, form: Any) -> HttpResponse:
    chassis_services.set_springs(file.car, what, form.cleaned_data)
    messages.success(request, "Springs saved.")
    return redirect("weights", file.car.pk)


def _keep_raised(request: HttpRequest, file: CarFile, what: str, form: Any) -> HttpResponse | None:
    """The height of the centre of gravity, from an end that was raised; None where it gives none."""
    if form.height_mm is None:
        return None
    car_services.set_cg_height(file.car, round(form.height_mm, 1))
    messages.success(request, f"Centre of gravity {form.height_mm:.0f} mm above the ground: saved.")
    return redirect("weights", file.car.pk)


#: what keeps each form, by the name it is sent under
KEEPS: Mapping[str, Callable[[HttpRequest, CarFile, str, Any], HttpResponse | None]] = {
    "pads": _keep_pads,
    "raised": _keep_raised,
    **dict.fromkeys(ENDS, _keep_springs),
}


def _into_build(request: HttpRequest, file: CarFile, wanted: WantedForm) -> HttpResponse:
    """The turns of the sheet become collars of the build in hand, corner by corner."""
    build, turned = build_in_hand(file), _sheet(file, wanted)
    done, stance = turned.get("done"), stance_of(file)
    if build is None:
        messages.error(request, "First make a build current: collars are kept in it.")
    elif done is None or isinstance(stance, str):
        messages.error(request, f"Nothing put into {build.name}: no turns yet.")
    else:
        collar_mm = np.round(done.turns * stance.mm_per_turn, 2)
        try:
            planning.change_build(
                build,
                request.user,
                {},
                {("collar_mm", corner): float(one) for corner, one in zip(CORNERS, collar_mm, strict=True)},
            )
        except CoreError as error:
            messages.error(request, f"Nothing put into {build.name}: a collar {error.message}.")
            return redirect("weights", file.car.pk)
        messages.success(request, f"{build.name}: collars kept, corner by corner.")
        return redirect("ride", file.car.pk)
    return redirect("weights", file.car.pk)


def _shown(request: HttpRequest, file: CarFile, replay: ReplayForm) -> Taken | None:
    """What four pads show: replayed from a file, or simulated under the car as it stands, or as the turns would leave
    it.
    """
    if replay.is_bound:
        return taken(replay.trace, "replayed from a file", PAD_KG) if replay.is_valid() else None
    key = request.GET.get("gauge", "")
    if not key.startswith("pads"):
        return None
    return simulated(key, _under_the_pads(file, bool(request.GET.get("turned"))), len(file.readings) + file.car.pk)


def _under_the_pads(file: CarFile, turned: bool) -> dict[str, float]:
    """What the simulation takes for true: the last weighing, else the axle loads of the car's data shared out."""
    found, stance = pads_of(file), stance_of(file)
    if found is not None:
        pads = found.pads
        if turned and not isinstance(stance, str):
            try:
                pads = evened(pads, stance, 50.0, None).pads
            except CoreError:
                pads = found.pads
        return dict(zip(CORNERS, (float(one) for one in pads.loads), strict=True))
    return supposed_loads_kg(file.car.front_axle_kg, file.car.rear_axle_kg)


def _initial(kept: Springs | None) -> dict[str, Any]:
    return {name: getattr(kept, name) for name in SPRING_FIELDS} if kept else {}


def _keep(file: CarFile, form: PadsForm) -> None:
    values = form.cleaned_data
    loads = {corner: (values[corner], form.data[corner]) for corner in CORNERS}
    how = {
        "uncertainty": values["uncertainty"],
        "who": values["who"],
        "taken_on": values["taken_on"],
        "method": "scale",
    }
    readings_services.take_pads(file, loads, {"driver_aboard": values["driver_aboard"], "fuel": values["fuel"]}, how)


def _sheet(file: CarFile, wanted: WantedForm) -> dict[str, Any]:
    found = pads_of(file)
    if found is None:
        return {"found": None, "history": weighings(file)}
    pads = found.pads
    context: dict[str, Any] = {
        "found": pads,
        "cross": judgements(file)[0],
        "gravity": _gravity(file, pads),
        "history": weighings(file),
    }
    stance = stance_of(file)
    values = wanted.cleaned_data if wanted.is_valid() else {}
    done: Evened | None = None
    if isinstance(stance, str):
        context["missing"] = stance
    else:
        try:
            done = evened(pads, stance, values.get("target") or 50.0, values.get("limit"))
        except CoreError as error:
            context["missing"] = error.message
    context["aboard"] = found.newest.condition
    context["rows"] = [
        {
            "corner": corner,
            "load": pads.loads[k],
            "turns": done.turns[k] if done else None,
            "after": done.pads.loads[k] if done else None,
            "height": done.height_change_mm[k] if done else None,
            "area": load_side(pads.loads[k], pads),
            "after_area": load_side(done.pads.loads[k], pads) if done else None,
            "half": load_side(pads.loads[k], pads) / 2,
            "after_half": load_side(done.pads.loads[k], pads) / 2 if done else None,
            "still": bool(done and abs(done.turns[k]) < STILL_TURNS),
            "x": 150 if corner[1] == "L" else 410,
            "y": 110 if corner[0] == "F" else 330,
        }
        for k, corner in enumerate(CORNERS)
    ]
    context["done"] = done
    return context


def _gravity(file: CarFile, pads: Pads) -> Gravity | None:
    car = file.car
    if car.wheelbase_mm is None or car.track_front_mm is None or car.track_rear_mm is None:
        return None
    return gravity(pads, car.wheelbase_mm, (car.track_front_mm, car.track_rear_mm))
