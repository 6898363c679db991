"""The brakes sheet: one stop with the build's mass and tyres, before dashed."""

from __future__ import annotations

from typing import Any

from django.contrib import messages
from django.http import HttpRequest, HttpResponse
from django.shortcuts import redirect

from bench.brakes.facts import braking_of, judgements, kept_of
from bench.brakes.forms import FIELDS, BrakesForm
from garage.engine import services
from garage.engine.models import Brakes
from garage.file import open_file
from garage.inhand import in_hand
from planner.chosen import build_in_hand, choices_of
from rimcore.braking.bench import BED_IN, stopped
from rimcore.braking.drawing import side_drawing, stop_drawing
from shell.pages import page, status_of


def brakes(request: HttpRequest, car_id: int) -> HttpResponse:
    """One stop before and with the build."""
    file = open_file(request.user, car_id)
    kept = kept_of(file)
    form = BrakesForm(file, request.POST if request.method == "POST" else None, initial=_initial(kept))
    if request.method == "POST" and form.is_valid():
        services.set_brakes(file.car, form.cleaned_data)
        messages.success(request, "Brakes saved.")
        return redirect("brakes", car_id)
    one = braking_of(file)
    build = build_in_hand(file)
    parts = (
        [
            choice
            for choice in choices_of(build)
            if choice.kind in ("caliper", "rotor", "brake_pads", "brake_lines", "brake_fluid")
        ]
        if build
        else []
    )
    context: dict[str, Any] = {
        "form": form,
        "kept": kept,
        "one": one,
        "judged": judgements(file),
        "bed_in": BED_IN,
        "parts": parts,
        "in_hand": in_hand(file),
        "here": "brakes",
    }
    if one.now is not None and one.before is not None:
        rotors = tuple(
            now if now is not None else then for now, then in zip(one.rotors_now_kg, one.rotors_kg, strict=True)
        )
        now, then = stopped(one.now, one.stop, (rotors[0], rotors[1])), stopped(one.before, one.stop, one.rotors_kg)
        context |= {"now": now, "then": then, "scene": stop_drawing(now, then)}
        context["side"] = side_drawing(one.now, one.before, one.stop)
    return page(request, file, "check", "bench/brakes/brakes.html", context, status_of(form))


def _initial(kept: Brakes | None) -> dict[str, Any]:
    return {name: getattr(kept, name) for name in FIELDS} if kept else {}
