"""The steering bench: rack, rods and both wheels from above; what another rack place or a limiter does to it."""

from __future__ import annotations

from typing import Any

import numpy as np
from django.contrib import messages
from django.http import HttpRequest, HttpResponse
from django.shortcuts import redirect, render

from bench.frame.gauges import simulated
from bench.geometry.facts import rack_of_build
from bench.steering.facts import (
    Steer,
    end_of,
    judged_toggle,
    judgements,
    missing_of,
    moved_view,
    pair,
    view_of,
)
from bench.steering.forms import RackForm, TryForm
from garage.chassis import services
from garage.chassis.load import chassis_of
from garage.chassis.models import Rack
from garage.file import CarFile, open_file
from garage.inhand import in_hand
from planner import services as planning
from planner.chosen import build_in_hand
from rimcore.quantities.errors import CoreError
from rimcore.steering.bench import LEVERS, MOVES
from rimcore.steering.drawing import Shown, plan
from rimcore.steering.planview import from_above, judge_view, sweep
from rimcore.steering.rack import most_steer_deg, rod_of, steered, turning_circle_m, turns_from_lock, where_it_locks
from shell.charts import drawn_curve
from shell.forms import in_field
from shell.pages import page, status_of

#: turns lock to lock that a simulation supposes where nobody has counted them
SUPPOSED_TURNS = 2.75


#: rows of the curves over the rack
ROWS = 41


def steering(request: HttpRequest, car_id: int) -> HttpResponse:
    """The sheet; htmx gets the drawing and its figures for another place of the rack."""
    file = open_file(request.user, car_id)
    kept: Rack | None = chassis_of(file).rack
    shown = (
        simulated("counter", {"turns": kept.turns if kept and kept.turns else SUPPOSED_TURNS}, len(file.readings))
        if request.GET.get("gauge") == "counter"
        else None
    )
    form = RackForm(
        file,
        request.POST if request.POST.get("form") == "rack" else None,
        initial=_initial(kept) | ({} if shown is None else shown.initial()),
    )
    if request.method == "POST" and request.POST.get("form") == "levers":
        return _put(request, file)
    if request.method == "POST" and form.is_valid():
        services.set_rack(file.car, form.cleaned_data)
        messages.success(request, "Saved.")
        return redirect("steering", car_id)
    context = _context(request, file, kept)
    if request.headers.get("HX-Request") and not request.headers.get("HX-Boosted"):
        return render(request, "bench/steering/sheet.html", {"file": file, **context})
    context |= {"form": form, "kept": kept, "counted": shown, "here": "steering"}
    return page(request, file, "check", "bench/steering/steering.html", context, status_of(form, context["ask"]))


def _initial(kept: Rack | None) -> dict[str, Any]:
    names = ("travel_mm", "turns", "left_stick_out_mm", "right_stick_out_mm")
    return {name: getattr(kept, name) for name in names} if kept else {}


def _put(request: HttpRequest, file: CarFile) -> HttpResponse:
    """What was tried goes into the build in hand."""
    build = build_in_hand(file)
    ask = TryForm(request.POST)
    if build is None:
        messages.error(request, "No build is in hand; make one on Plan first.")
    elif not ask.is_valid():
        messages.error(
            request,
            "Not put into the build: " + "; ".join(str(error) for errors in ask.errors.values() for error in errors),
        )
    else:
        try:
            planning.change_build(
                build, request.user, {}, {(lever.code, ""): ask.cleaned_data[lever.code] or 0.0 for lever in LEVERS}
            )
            messages.success(request, f"{build.name}: rack as tried.")
        except CoreError as error:
            messages.error(request, f"The rack {error.message}.")
    return redirect("steering", file.car.pk)


def _context(request: HttpRequest, file: CarFile, kept: Rack | None) -> dict[str, Any]:
    moves, limit = rack_of_build(file)
    levers = {lever.code: limit for lever in LEVERS} | dict(zip(MOVES, moves, strict=True))
    asked = {name: request.GET[name] for name in (*levers, "rack") if name in request.GET}
    ask = TryForm({**{name: in_field("length", value) for name, value in levers.items()}, "rack": "0", **asked})
    tried = {name: (ask.cleaned_data.get(name) or 0.0) if ask.is_valid() else value for name, value in levers.items()}
    both = pair(file, *(tried[code] for code in MOVES))
    context: dict[str, Any] = {
        "ask": ask,
        "in_hand": in_hand(file),
        "levers": LEVERS,
        "fields": [ask[lever.code] for lever in LEVERS],
        "tried": tried != levers,
        "corner_missing": missing_of(file),
        "steer": both,
        "judged": judgements(file),
        "taken": tried,
    }
    if both is None:
        return context | _from_above(file, kept, tried)
    end = end_of(kept, tried["rack_limit_mm"])
    rack = min(end, max(-end, (ask.cleaned_data.get("rack") or 0.0) if ask.is_valid() else 0.0))
    return context | _sheet(file, both, kept, end, rack, tried)


def _from_above(file: CarFile, kept: Rack | None, tried: dict[str, float]) -> dict[str, Any]:
    """What five lengths from above show, where the hard points are not read."""
    view, _ = view_of(file)
    if view is None:
        return {"view": None}
    end = end_of(kept, tried["rack_limit_mm"])
    now = moved_view(view, tuple(tried[code] for code in MOVES))
    found = sweep(now, end)
    measured = kept is not None and kept.travel_mm is not None
    lost = not found.reached
    return {
        "view": now,
        "end": end,
        "above": from_above(now, end),
        "view_verdict": judge_view(now, end if measured else None),
        "travel_taken": not measured,
        "most": None if lost or not measured else (float(found.steer_deg.max()), float(-found.steer_deg.min())),
    }


def _sheet(
    file: CarFile, both: Steer, kept: Rack | None, end: float, rack: float, tried: dict[str, float]
) -> dict[str, Any]:
    racks = sorted({*np.linspace(-end, end, ROWS).round(6).tolist(), rack})
    now = steered(both.axle, racks)
    changed = both.axle is not both.before and any(tried[code] for code in MOVES)
    before = steered(both.before, racks) if changed else None
    row = racks.index(rack)
    shown = Shown(both.axle.left, both.axle.right, now, row)
    dashed = Shown(both.before.left, both.before.right, before, row) if before is not None else None
    over = np.asarray(racks)
    charts = [
        drawn_curve(
            name="Steer, left wheel solid, right wheel thin",
            unit="°",
            across_unit="mm",
            across=over,
            value=now.left.steer_deg,
            before=before.left.steer_deg if before else None,
            band=None,
            here=rack,
            further=(now.right.steer_deg,),
            least_span=5.0,
        ),
        drawn_curve(
            name="Angle between rod and arm, left solid, right thin",
            unit="°",
            across_unit="mm",
            across=over,
            value=now.left.toggle_margin_deg,
            before=before.left.toggle_margin_deg if before else None,
            band=None,
            here=rack,
            further=(now.right.toggle_margin_deg,),
            least_span=5.0,
        ),
        drawn_curve(
            name="Ackermann, 100 is true rolling",
            unit="%",
            across_unit="mm",
            across=over,
            value=np.clip(now.ackermann_pct, -200, 300),
            before=np.clip(before.ackermann_pct, -200, 300) if before else None,
            band=None,
            here=None,
            further=(),
            least_span=20.0,
        ),
    ]
    reached = bool(now.reached[row])
    rods = [rod_of(both.before.left, both.axle.left), rod_of(both.before.right, both.axle.right)]
    return {
        "scene": plan(shown, dashed, both.half_mm, end, both.tyre_mm),
        "charts": charts,
        "rack": rack,
        "end": end,
        "reached": reached,
        "spot": {name: _or_none(getattr(now, name)[row]) for name in ("inside_deg", "outside_deg", "ackermann_pct")},
        "words": where_it_locks(now, end),
        "verdict": judged_toggle(now, both, kept),
        "circle": turning_circle_m(now, both.axle.wheelbase_mm),
        "circle_before": turning_circle_m(before, both.axle.wheelbase_mm) if before else None,
        "rods": rods if changed else (),
        "toes": [one.wheel.toe_deg for one in (both.axle.left, both.axle.right)],
        "lock": [most_steer_deg(now, way) for way in (1, -1)],
        "turns": turns_from_lock(kept.turns) if kept and kept.turns else None,
    }


def _or_none(value: float) -> float | None:
    return float(value) if np.isfinite(value) else None
