"""Checking: the wheel-well bench at rest."""

from __future__ import annotations

from typing import Any
from urllib.parse import urlencode

from django.contrib import messages
from django.http import Http404, HttpRequest, HttpResponse
from django.shortcuts import redirect, render
from django.urls import reverse
from django.views.decorators.http import require_POST

from bench.settings import BenchForm, Setting, read, start
from garage.file import CarFile, open_file
from garage.inhand import in_hand, judgements_in_hand
from garage.queries import neighbours
from garage.views import page
from rimcore import fitment
from rimcore.judgement import Judgement
from rimcore.scene import above_scene, well_scene
from rimcore.stations import CORNER_NAMES, CORNERS
from shelf.models import Tyre, Wheel
from shelf.queries import tyres_of, wheels_of
from shelf.services import pin_setting


def check(request: HttpRequest, car_id: int, corner: str) -> HttpResponse:
    """The bench of one corner; htmx gets the drawing, the gaps and the controls together."""
    file = open_file(request.user, car_id)
    if corner not in CORNERS:
        raise Http404
    pick, tyre = _picked(request, file)
    values = start(file, corner[0], pick, tyre)
    if values is None:
        return page(request, file, "check", "bench/empty.html", {"corner": corner})
    asked = {} if pick else {name: request.GET[name] for name in BenchForm.base_fields if name in request.GET}
    form = BenchForm({**_address(values), **asked})
    context = _context(file, corner, form, values)
    if request.headers.get("HX-Request") and not request.headers.get("HX-Boosted"):
        return render(request, "bench/bench.html", {"file": file, **context}, status=200)
    return page(request, file, "check", "bench/check.html", context, 200 if form.is_valid() else 422)


def check_start(request: HttpRequest, car_id: int) -> HttpResponse:
    """The bench opens at the tightest corner."""
    file = open_file(request.user, car_id)
    tightest = fitment.Verdict(tuple(judgements_in_hand(file))).tightest
    names = {name: corner for corner, name in CORNER_NAMES.items()}
    return redirect("check", car_id, names[tightest.where] if tightest else "FL")


def _picked(request: HttpRequest, file: CarFile) -> tuple[Wheel | None, Tyre | None]:
    """A wheel and a tyre taken from the list; then nothing else in the address counts."""
    pick = next((wheel for wheel in wheels_of(file) if str(wheel.pk) == request.GET.get("pick")), None)
    tyre = next((tyre for tyre in tyres_of(file) if str(tyre.pk) == request.GET.get("tyre")), None) if pick else None
    return pick, tyre


def _context(file: CarFile, corner: str, form: BenchForm, values: dict[str, Any]) -> dict[str, Any]:
    checked = form.cleaned_data if form.is_valid() else values
    setting = read(file, corner[0], checked)
    axle = file.core_axle(corner[0])
    if axle is None:
        raise Http404
    judgements = fitment.judge(axle, setting.candidate, file.tolerances(setting.school)).judgements
    here = [r for r in axle.readings if r.corner == corner]
    gaps = sorted((j for j in judgements if j.where == CORNER_NAMES[corner]), key=lambda j: (j.margin is None, j.margin or 0.0))
    previous, following = neighbours(corner)
    return {
        "corner": corner, "corners": [(c, CORNER_NAMES[c]) for c in CORNERS], "form": form, "setting": setting, "query": urlencode(_address(checked)),
        "scene": well_scene(corner, axle.present, setting.candidate, here, gaps), "above": above_scene(corner, axle.present, setting.candidate, here, gaps),
        "gaps": gaps, "others": [j for j in judgements if not j.where], "other_side": _other_side(judgements, corner),
        "schools": _schools(file, gaps), "school_names": file.tolerance_names, "present": axle.present, "in_hand": in_hand(file), "drags": fitment.drags_along(axle, setting.candidate),
        "remedies": _remedies(gaps), "wheels": list(wheels_of(file)), "tyres": tyres_of(file), "previous": previous, "following": following,
        "by_key": {j.code: j for j in gaps}, "unread": [j for j in gaps if j.state == "unmeasured"],
    }  # fmt: skip


def _address(values: dict[str, Any]) -> dict[str, Any]:
    """What the address holds: numbers without needless zeros."""
    return {name: f"{value:g}" if isinstance(value, float) else value for name, value in values.items() if value not in (None, "")}


def _other_side(judgements: tuple[Judgement, ...], corner: str) -> Judgement | None:
    """The tightest gap across the car: the worst of the two sides counts."""
    other = CORNER_NAMES[corner[0] + ("R" if corner[1] == "L" else "L")]
    return fitment.Verdict(tuple(j for j in judgements if j.where == other)).tightest


def _schools(file: CarFile, gaps: list[Judgement]) -> list[tuple[Judgement, dict[str, Any]]]:
    known = [j for j in gaps if j.value is not None][:6]
    return [(j, fitment.states_by_school(j, file.all_tolerances)) for j in known]


def _remedies(gaps: list[Judgement]) -> list[tuple[str, tuple[str, ...]]]:
    return [(j.name, j.remedies) for j in gaps if j.state in ("hit", "tight") and j.remedies][:3]


@require_POST
def pin(request: HttpRequest, car_id: int, corner: str) -> HttpResponse:
    """Pin the setting as a candidate on the shortlist."""
    file = open_file(request.user, car_id)
    form = BenchForm(request.POST)
    if corner not in CORNERS or not form.is_valid() or file.current is None:
        messages.error(request, "Not pinned: a control holds something that can't be read.")
        return redirect("check-start", car_id)
    setting: Setting = read(file, corner[0], form.cleaned_data)
    pinned = pin_setting(file.car, request.user, setting.candidate.fitted.wheel, setting.wheel)
    messages.success(request, f"Pinned as a candidate: {pinned.size}.")
    return redirect(reverse("check", args=[car_id, corner]) + "?" + urlencode(_address(form.cleaned_data)))
