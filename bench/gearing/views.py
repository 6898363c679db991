"""The gearing bench: revolutions over speed in all gears, with the tyre of the build and an axle from the shelf."""

from __future__ import annotations

from dataclasses import replace
from typing import Any

from django.contrib import messages
from django.http import HttpRequest, HttpResponse
from django.shortcuts import redirect

from bench.gearing.facts import inputs, kept_of, lines, tyres
from bench.gearing.forms import AskForm, DrivelineForm
from garage.car import services
from garage.car.models import Driveline
from garage.file import CarFile, open_file
from garage.inhand import in_hand
from planner import services as planning
from planner.chosen import build_in_hand
from rimcore.driveline.drawing import gear_sheet
from rimcore.driveline.gearing import (
    CRUISE_KMH,
    axle_options,
    axle_to_restore,
    effective_change_pct,
    judge_cruise,
    kmh_at,
    rpm_at,
)
from rimcore.driveline.gearing import Driveline as Line
from rimcore.quantities.errors import CoreError
from rimcore.quantities.judgement import Judgement
from rimcore.quantities.units import parse_quantity
from shell.forms import in_field, rounded
from shell.pages import page, status_of
from shell.units import unit


def gearing(request: HttpRequest, car_id: int) -> HttpResponse:
    """The sheet, what another tyre does to it, and which axle of the shelf comes nearest."""
    file = open_file(request.user, car_id)
    kept = kept_of(file)
    names = ("gears", "axle_ratio", "transfer_ratio", "limit_rpm", "cruise_kmh", "wanted_rpm")
    form = DrivelineForm(
        request.POST if request.method == "POST" and "lever" not in request.POST else None,
        initial={name: getattr(kept, name) for name in names} if kept else None,
    )
    if request.method == "POST" and "lever" in request.POST:
        return _set_axle(request, file)
    if request.method == "POST" and form.is_valid():
        services.set_driveline(file.car, form.cleaned_data)
        messages.success(request, "Saved.")
        return redirect("gearing", car_id)
    asked = {name: request.GET[name] for name in AskForm.base_fields if name in request.GET}
    speed = kept.cruise_kmh if kept is not None and kept.cruise_kmh else None
    first = {
        "speed": rounded("speed", CRUISE_KMH)() if speed is None else in_field("speed", speed),
        "wanted": kept.wanted_rpm if kept else None,
    }
    ask = AskForm({**first, **asked})
    context = {"form": form, "ask": ask, "kept": kept, "in_hand": in_hand(file), "here": "gearing"}
    if kept is not None and file.current is not None:
        context |= _sheet(file, kept, ask)
    return page(
        request, file, "check", "bench/gearing/gearing.html", context, status_of(form, *([ask] if asked else []))
    )


def _set_axle(request: HttpRequest, file: CarFile) -> HttpResponse:
    """The ratio that was tried goes into the build in hand, or out of it again."""
    build = build_in_hand(file)
    if build is None:
        messages.error(request, "No build is in hand; make one on Plan first.")
        return redirect("gearing", file.car.pk)
    text = request.POST["lever"].strip()
    try:
        planning.change_build(build, request.user, {}, {("axle_ratio", ""): float(text) if text else None})
    except CoreError as error:
        messages.error(request, f"The axle ratio {error.message}.")
    except ValueError:
        messages.error(request, "The axle ratio is not a number; accepted: 0.01 to 100.")
    else:
        messages.success(request, f"{build.name}: axle ratio {text or 'as it is'}.")
    return redirect("gearing", file.car.pk)


def _sheet(file: CarFile, kept: Driveline, ask: AskForm) -> dict[str, Any]:
    found = lines(file)
    if found is None:
        return {}
    before, built = found
    stands, chosen = tyres(file)
    values = ask.cleaned_data if ask.is_valid() else {}
    speed = values.get("speed") or CRUISE_KMH
    now = replace(built, axle_ratio=values.get("axle") or built.axle_ratio)
    gear = min(values.get("gear") or len(now.gears), len(now.gears))
    rows = [
        {
            "gear": number,
            "ratio": ratio,
            "rpm": rpm_at(now, number, speed),
            "before": rpm_at(before, number, speed),
            "per_1000": kmh_at(now, number, 1000.0),
            "top": kmh_at(now, number, kept.limit_rpm),
            "over": rpm_at(now, number, speed) > kept.limit_rpm,
        }
        for number, ratio in enumerate(now.gears, start=1)
    ]
    wanted = values.get("wanted")
    options = axle_options(now, values["shelf"], gear, speed, wanted) if wanted and values.get("shelf") else []
    return {
        "scene": gear_sheet(
            now, before, float(kept.limit_rpm), speed, parse_quantity("1", "speed", unit("speed")).value
        ),
        "rows": rows,
        "options": options,
        "gear": gear,
        "speed": speed,
        "wanted": wanted,
        "changed": now != before,
        "stands": stands,
        "chosen": chosen,
        "tried": now.axle_ratio if now.axle_ratio != built.axle_ratio else None,
        "of_build": built.axle_ratio if built.axle_ratio != before.axle_ratio else None,
        "cruise": judge_cruise(now, float(kept.limit_rpm), speed, inputs(file, before, now), kept.wanted_rpm),
        **_figures(file, before, now),
    }


def _figures(file: CarFile, before: Line, now: Line) -> dict[str, Judgement]:
    """How much longer or shorter it gears, and the axle that brings the old revolutions back.

    Each with how it is known.
    """
    used = inputs(file, before, now)
    change = effective_change_pct(now.axle_ratio, now.circumference_mm, before.axle_ratio, before.circumference_mm)
    restore = axle_to_restore(before.axle_ratio, now.circumference_mm, before.circumference_mm)
    basis = "rolling without slip; 3.05 × diameter: ISO 4000-1 practice, from memory"
    ways = (
        "longer: the engine turns slower"
        if change < 0
        else "shorter: the engine turns faster"
        if change > 0
        else "as before"
    )
    return {
        "change": Judgement(
            "sum.change",
            "Gearing against now",
            "clear",
            ways,
            basis,
            value=change,
            unit="%",
            inputs=used,
            formula=f"100 × (({now.axle_ratio:g} ÷ {now.circumference_mm:.0f}) ÷ ({before.axle_ratio:g} ÷ {before.circumference_mm:.0f}) − 1)",
        ),
        "restore": Judgement(
            "sum.restore",
            "Axle ratio that restores it",
            "clear",
            "with the tyre of the build",
            basis,
            value=restore,
            inputs=used,
            formula=f"{before.axle_ratio:g} × {now.circumference_mm:.0f} ÷ {before.circumference_mm:.0f}",
        ),
    }
