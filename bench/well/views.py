"""Checking: the wheel-well bench."""

from __future__ import annotations

from dataclasses import replace
from typing import Any
from urllib.parse import urlencode

from django.contrib import messages
from django.http import Http404, HttpRequest, HttpResponse
from django.shortcuts import redirect, render
from django.urls import reverse
from django.views.decorators.http import require_POST

from bench.well.forms import BenchForm
from bench.well.pose import asked_of, axle_or_404, in_motion, measure_first, setting_of, stance_rows, worst_of_each
from bench.well.setting import Setting, read, start
from garage.car.parts import Tyre, Wheel
from garage.file import CarFile, open_file
from garage.honest import taught
from garage.inhand import in_hand, judgements_in_hand
from garage.readings.queries import neighbours
from rimcore.quantities.judgement import Judgement
from rimcore.tables.facts import CORNER_NAMES, CORNERS
from rimcore.well.draw.scene_map import BandScene, band_scene
from rimcore.well.judge import drags as dragging
from rimcore.well.judge import fitment
from rimcore.well.judge.bands import Band, offset_bands
from rimcore.well.judge.remedies import remedies as find_remedies
from rimcore.well.read import measured
from rimcore.wheels.tyre import parse_tyre
from rimcore.wheels.wheel import same_rim
from shelf.assemble import outline_known
from shelf.queries import best_wheels, tyres_of, wheels_of
from shelf.services import pin_setting
from shell.forms import NudgedField
from shell.pages import page


def check(request: HttpRequest, car_id: int, corner: str) -> HttpResponse:
    """The bench of one corner; htmx gets the drawing, the gaps and the controls together."""
    file = open_file(request.user, car_id)
    if corner not in CORNERS:
        raise Http404
    pick, tyre = _picked(request, file)
    values = start(file, corner[0], pick, tyre)
    if values is None:
        return page(request, file, "check", "bench/well/empty.html", {"corner": corner, "here": "well"})
    form = BenchForm({"lock": "0", "lip": 0.0, **_address(values), **({} if pick else asked_of(request))})
    context = _context(file, corner, form, values)
    if request.headers.get("HX-Request") and not request.headers.get("HX-Boosted"):
        return render(
            request,
            "bench/well/pose.html" if "pose" in request.GET else "bench/well/bench.html",
            {"file": file, **context},
            status=200,
        )
    context |= {"here": "well"}
    return page(request, file, "check", "bench/well/check.html", context, 200 if form.is_valid() else 422)


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
    checked = form.cleaned_data if form.is_valid() else form.shown(values)
    setting = read(file, corner[0], checked)
    axle = axle_or_404(file, corner)
    tolerances = file.tolerances(setting.school)
    judgements = tuple(taught(file, fitment.judge(axle, setting.candidate, tolerances).judgements))
    gaps = sorted(
        (j for j in judgements if j.where == CORNER_NAMES[corner]), key=lambda j: (j.margin is None, j.margin or 0.0)
    )
    previous, following = neighbours(corner)
    return {
        "corner": corner,
        "corners": [(c, CORNER_NAMES[c]) for c in CORNERS],
        "form": form,
        "setting": setting,
        "query": urlencode(_address(checked)),
        "address": _address(checked),
        **in_motion(file, corner, setting, gaps),
        "gaps": worst_of_each(gaps),
        "others": [j for j in judgements if not j.where],
        "other_side": _other_side(judgements, corner),
        "schools": _schools(file, gaps),
        "school_names": file.tolerance_names,
        "present": axle.present,
        "in_hand": in_hand(file),
        "drags": dragging.drags_along(axle, setting.candidate),
        "wheels": list(wheels_of(file)),
        "tyres": tyres_of(file),
        "previous": previous,
        "following": following,
        "by_key": {j.code: j for j in gaps},
        "unread": [j for j in gaps if j.state == "unmeasured" and j.value is None],
        "wants_remedy": any(j.state in ("hit", "tight") for j in judgements if j.code.startswith("gap.")),
        "stance": stance_rows(file, corner, setting),
        "measure_first": measure_first(file, corner, setting),
    }


def _its_page(request: HttpRequest, car_id: int, corner: str) -> HttpResponse:
    """A fragment's address opened by itself shows the bench that holds it."""
    axle_or_404(open_file(request.user, car_id), corner)
    asked = request.GET.urlencode()
    return redirect(reverse("check", args=[car_id, corner]) + (f"?{asked}" if asked else ""))


#: other tyres of the list in the windows
MOST_TYRES = 4


def windows(request: HttpRequest, car_id: int, corner: str) -> HttpResponse:
    """Offsets that go in, for the setting in the address.

    By width, and on its width with the other tyres of the list.
    """
    if not request.headers.get("HX-Request"):
        return _its_page(request, car_id, corner)
    file, setting = setting_of(request, car_id, corner)
    axle = axle_or_404(file, corner)
    fitted = setting.candidate.fitted
    offset, width = fitted.wheel.offset_mm or 0.0, fitted.wheel.width_in
    # Whole tens, so that nudging the offset asks for the same range again.
    low, high = 10 * round(offset / 10) - 30, 10 * round(offset / 10) + 30

    def bands(candidate: measured.Candidate, widths: list[float]) -> list[Band]:
        return offset_bands(
            corner=corner,
            readings=axle.readings,
            motion=axle.motion(corner),
            candidate=candidate,
            tolerances=file.tolerances(setting.school),
            widths_in=widths,
            low_mm=low,
            high_mm=high,
        )

    by_width = bands(setting.candidate, [w for w in (width - 1, width - 0.5, width, width + 0.5) if 3 <= w <= 18])
    by_tyre = [band for candidate in _other_tyres(file, corner[0], setting) for band in bands(candidate, [width])]
    groups = [
        (
            f"Offsets that fit, by width, with {fitted.tyre.size}",
            by_width,
            [f"{band.width_in:g} in" for band in by_width],
        ),
        (f"On {width:g} in, with the other tyres of the list", by_tyre, [band.tyre.split()[0] for band in by_tyre]),
    ]
    drawn = [(title, *_drawn(setting, found, labels, low, high)) for title, found, labels in groups if found]
    return render(
        request,
        "bench/well/windows.html",
        {"file": file, "corner": corner, "groups": drawn, "motion": axle.motion(corner)},
    )


def _other_tyres(file: CarFile, end: str, setting: Setting) -> list[measured.Candidate]:
    """The setting with each other tyre of the list that goes on its rim."""
    fitted, found = setting.candidate.fitted, []
    for tyre in tyres_of(file):
        if tyre.size != fitted.tyre.size and same_rim(tyre.rim_diameter_in, fitted.wheel.diameter_in):
            section, profile = outline_known(file, end, tyre, tyre.size, fitted.wheel.width_in)
            other = replace(
                fitted,
                tyre=parse_tyre(tyre.size),
                measured_section_mm=section,
                profile_mm=profile,
                grown_mm=0.0,
                grown_doubt_mm=None,
            )
            found.append(replace(setting.candidate, fitted=file.tried(other)))
    return found[:MOST_TYRES]


def _drawn(
    setting: Setting, bands: list[Band], labels: list[str], low: int, high: int
) -> tuple[BandScene, list[Any], float]:
    """Bars, and for every whole offset of a row the address that takes it."""
    fitted = setting.candidate.fitted
    scene = band_scene(
        bands, labels, low, high, (fitted.wheel.width_in, fitted.tyre.size), fitted.wheel.offset_mm or 0.0
    )
    step = (scene.x1 - scene.x0) / (high - low)
    rows = []
    for row, band in zip(scene.rows, bands, strict=True):
        address = _address(setting.values | {"width": band.width_in, "tyre": band.tyre})
        picks = [
            (scene.x0 + (value - low - 0.5) * step, value, urlencode(address | {"offset": value}))
            for value in range(low, high + 1)
        ]
        rows.append((row, picks))
    return scene, rows, step


def remedies(request: HttpRequest, car_id: int, corner: str) -> HttpResponse:
    """Smallest changes that clear the setting, each with a link that tries it."""
    if not request.headers.get("HX-Request"):
        return _its_page(request, car_id, corner)
    file, setting = setting_of(request, car_id, corner)
    axle = axle_or_404(file, corner)
    listed = tuple(tyre.size for tyre in tyres_of(file))
    found = find_remedies(axle, setting.candidate, file.tolerances(setting.school), listed)
    rows = [
        (
            one,
            urlencode(_address(setting.values | _values_of(one.candidate))),
            _on_the_list(file, one.candidate, setting),
        )
        for one in found
    ]
    return render(request, "bench/well/remedies.html", {"file": file, "corner": corner, "rows": rows})


def _on_the_list(file: CarFile, changed: measured.Candidate, setting: Setting) -> list[Wheel | Tyre]:
    """Wheels and tyres of the shortlist that are what a remedy takes."""
    now, then = setting.candidate.fitted, changed.fitted
    found: list[Wheel | Tyre] = []
    if (then.wheel.width_in, then.wheel.offset_mm) != (now.wheel.width_in, now.wheel.offset_mm):
        size = (then.wheel.diameter_in, then.wheel.width_in, then.wheel.offset_mm)
        found += [one for one in wheels_of(file) if (one.diameter_in, one.width_in, one.offset_mm) == size][:1]
    if then.tyre != now.tyre:
        found += [one for one in tyres_of(file) if one.size == then.tyre.size][:1]
    return found


def _values_of(candidate: measured.Candidate) -> dict[str, Any]:
    """A candidate as values of the bench."""
    fitted = candidate.fitted
    return {
        "width": fitted.wheel.width_in,
        "offset": fitted.wheel.offset_mm,
        "spacer": fitted.spacer_mm,
        "tyre": fitted.tyre.size,
        "drop": candidate.levers.ride_drop_mm,
        "camber": round(fitted.camber_deg, 2),
        "lock": candidate.levers.lock_limit_deg,
        "lip": candidate.levers.lip_rolled_mm,
    }


#: candidates side by side
BESIDE_AT_FIRST = 2


MOST_BESIDE = 4


def compare(request: HttpRequest, car_id: int, corner: str) -> HttpResponse:
    """Up to four wheels of the list beside each other: section, map, tightest gaps, hub.

    The two best where none is asked for.
    """
    file = open_file(request.user, car_id)
    axle = axle_or_404(file, corner)
    asked = [wheel for wheel in wheels_of(file) if str(wheel.pk) in request.GET.getlist("w")]
    if not asked and "w" not in request.GET:
        asked = best_wheels(file, corner[0], BESIDE_AT_FIRST)
    chosen = asked[:MOST_BESIDE]
    columns = []
    for wheel in chosen:
        values = start(file, corner[0], wheel, None)
        if values is None:
            raise Http404
        form = BenchForm(_address(values))
        if not form.is_valid():
            continue
        setting = read(file, corner[0], form.cleaned_data)
        judged = fitment.judge(axle, setting.candidate, file.tolerances(setting.school)).judgements
        judgements = tuple(taught(file, judged))
        gaps = sorted(
            (j for j in judgements if j.where == CORNER_NAMES[corner]),
            key=lambda j: (j.margin is None, j.margin or 0.0),
        )
        columns.append(
            {
                "wheel": wheel,
                "setting": setting,
                "gaps": worst_of_each(gaps)[:6],
                "others": [j for j in judgements if not j.where and j.state != "clear"],
                "state": fitment.Verdict(judgements).state,
                "query": urlencode(_address(form.cleaned_data)),
                **in_motion(file, corner, setting, gaps),
            }
        )
    context = {
        "corner": corner,
        "columns": columns,
        "wheels": wheels_of(file),
        "chosen": [wheel.pk for wheel in chosen],
        "most": MOST_BESIDE,
        "dropped": asked[MOST_BESIDE:],
    }
    return page(request, file, "check", "bench/well/compare.html", context)


def _address(values: dict[str, Any]) -> dict[str, Any]:
    """What the address holds: numbers without needless zeros."""
    fields: Any = BenchForm.base_fields
    plain = {
        name: (fields[name].in_core(value) if isinstance(fields.get(name), NudgedField) else f"{value:g}")
        if isinstance(value, float)
        else value
        for name, value in values.items()
        if value not in (None, "") and value is not False
    }
    return {
        name: value for name, value in plain.items() if name not in ("steer", "travel", "lock", "lip") or values[name]
    }


def _other_side(judgements: tuple[Judgement, ...], corner: str) -> Judgement | None:
    """The tightest gap across the car: the worst of the two sides counts."""
    other = CORNER_NAMES[corner[0] + ("R" if corner[1] == "L" else "L")]
    return fitment.Verdict(tuple(j for j in judgements if j.where == other)).tightest


def _schools(file: CarFile, gaps: list[Judgement]) -> list[tuple[Judgement, dict[str, Any]]]:
    known = [j for j in worst_of_each(gaps) if j.value is not None and j.code.startswith("gap.")][:6]
    return [(j, fitment.states_by_school(j, file.all_tolerances)) for j in known]


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
    messages.success(request, f"Added to the shortlist: {pinned.size}.")
    return redirect(reverse("check", args=[car_id, corner]) + "?" + urlencode(_address(form.cleaned_data)))
