"""The breathing bench: intake and exhaust drawn as they run, velocity and loss under each piece, another bore by a
slider.
"""

from __future__ import annotations

from typing import Any

from django.contrib import messages
from django.http import HttpRequest, HttpResponse
from django.shortcuts import redirect, render

from bench.breathing.facts import (
    DAY_C,
    KINDS,
    Drawn,
    drawn_now,
    drawn_with,
    engine_of,
    flowed,
    judgements,
    limit_rpm,
    source_of,
    stages,
    wanted_of,
)
from bench.breathing.forms import ENGINE_FIELDS, EngineForm, RunForm
from garage.engine import services
from garage.engine.models import Engine
from garage.file import CarFile, open_file
from garage.inhand import in_hand
from planner import services as planning
from planner.chosen import build_in_hand
from planner.wants import keep_up
from planner.wants_form import WantsForm, asked_of, want_it
from rimcore.breathing.bill import Piece, bill
from rimcore.breathing.drawing import run_drawing
from rimcore.breathing.meter import KEEP
from rimcore.breathing.typed import ACCEPTED, ACCEPTED_IN, line_of, steps_of
from rimcore.quantities.errors import CoreError
from shell.pages import page, status_of
from shell.units import unit


def breathing(request: HttpRequest, car_id: int) -> HttpResponse:
    """Both runs on one page; htmx gets one of them for other lines, another bore or engine speed."""
    file = open_file(request.user, car_id)
    kept, what = engine_of(file), request.POST.get("form", "")
    form = EngineForm(file, request.POST if what == "engine" else None, initial=_initial(kept))
    if what == "engine" and form.is_valid():
        services.set_engine(file.car, form.cleaned_data)
        messages.success(request, "Engine saved.")
        return redirect("breathing", car_id)
    if what == "run":
        done = _keep(request, file)
        if done is not None:
            return done
    wants = {kind: _wants(request, file, kind) for kind in KINDS}
    for asked in wants.values():
        if asked is not None and asked.is_bound and asked.is_valid():
            want_it(request, file, asked)
            return redirect("breathing", car_id)
    if request.headers.get("HX-Request") and not request.headers.get("HX-Boosted") and request.GET.get("kind") in KINDS:
        kind = request.GET["kind"]
        run = _run(request, file, kind) | {"wants": _wants(request, file, kind)}
        return render(request, "bench/breathing/run.html", {"file": file, "in_hand": in_hand(file), "r": run})
    runs = [_run(request, file, kind) | {"wants": wants[kind]} for kind in KINDS]
    context = {
        "form": form,
        "engine": kept,
        "runs": runs,
        "judged": judgements(file),
        "in_hand": in_hand(file),
        "accepted": (ACCEPTED_IN if unit("length") == "in" else ACCEPTED).values(),
        "here": "breathing",
        "meter_advice": KEEP,
        "stages": stages(file),
    }
    return page(
        request,
        file,
        "check",
        "bench/breathing/breathing.html",
        context,
        status_of(form, *(run["form"] for run in runs), *(one for one in wants.values() if one is not None)),
    )


def _wants(request: HttpRequest, file: CarFile, kind: str) -> WantsForm | None:
    """What the build's own run needs; None where it has none."""
    return asked_of(request, file, source_of(kind), lambda build: wanted_of(file, build, kind))


def said_in() -> dict[str, str]:
    """Units of drops, masses and heat in a typed line, for whoever asks."""
    return {"pressure": unit("air_pressure"), "mass": unit("mass"), "temperature": unit("temperature")}


def _initial(kept: Engine | None) -> dict[str, Any]:
    return {name: getattr(kept, name) for name in ENGINE_FIELDS} if kept else {}


def _keep(request: HttpRequest, file: CarFile) -> HttpResponse | None:
    """The run goes into the build, or is written down as it stands; None where something of it is not understood."""
    ask = RunForm(request.POST)
    if not ask.is_valid():
        return None
    build = build_in_hand(file) if request.POST.get("where") == "build" else None
    if request.POST.get("where") == "build" and build is None:
        messages.error(request, "No build is in hand; make one on Plan first.")
        return None
    kind = ask.cleaned_data["kind"]
    planning.keep_run(
        file.car,
        request.user,
        build,
        kind,
        "\n".join(line_of(one) for one in ask.pieces),
        ask.cleaned_data.get("pipes") or 1,
    )
    if build is not None:
        file = open_file(request.user, file.car.pk)
        again = build_in_hand(file) or build
        keep_up(file, again, request.user, source_of(kind), wanted_of(file, again, kind))
    messages.success(request, f"{kind.capitalize()} of {build.name if build else 'the car as it stands'} saved.")
    return redirect("breathing", file.car.pk)


def _run(request: HttpRequest, file: CarFile, kind: str) -> dict[str, Any]:
    """One run on the page: what is typed or kept, drawn with the flow through it, the run before dashed."""
    engine, now, before = engine_of(file), drawn_with(file, kind), drawn_now(file, kind)
    most = limit_rpm(file)
    asked = (
        request.POST if request.POST.get("kind") == kind else request.GET if request.GET.get("kind") == kind else None
    )
    kept = {
        "kind": kind,
        "lines": "\n".join(line_of(one, unit("length"), said_in()) for one in now.pieces) if now else "",
        "pipes": now.pipes if now else 1,
        "rpm": most,
        "air": f"{DAY_C:g} °C",
    }
    form = RunForm({**kept, **asked.dict()} if asked is not None else kept)
    found: dict[str, Any] = {"kind": kind, "form": form, "kept": now, "most_rpm": most, "engine": engine}
    if not form.is_valid():
        return found | {
            "fault": "; ".join(str(error) for errors in form.errors.values() for error in errors),
            **{name: form.data.get(name, "") for name in ("lines", "rpm", "pipes")},
            "air_typed": form.data.get("air", ""),
        }
    values, pieces = form.cleaned_data, form.pieces
    found |= {
        "lines": "\n".join(line_of(one, unit("length"), said_in()) for one in pieces),
        "rpm": values.get("rpm") or most,
        "air": DAY_C if values.get("air") is None else values["air"],
    }
    found |= {
        "pipes": values.get("pipes") or 1,
        "jumps": steps_of(pieces),
        "bill": bill(pieces) if pieces else None,
        "place": values.get("piece") or 0,
    }
    found["rows"] = len(pieces) + 2
    found["bores"] = [
        (number, line_of(one, unit("length"), said_in()), one.section.diameter_mm)
        for number, one in enumerate(pieces, 1)
        if one.section.diameter_mm is not None
    ]
    # What is written is compared, not the figures behind it: a length in inches comes back a hair off.
    found["tried"] = now is None or kept["lines"] != found["lines"] or now.pipes != found["pipes"]
    return found | _flow(engine, kind, pieces, before, found)


def _flow(
    engine: Engine | None, kind: str, pieces: tuple[Piece, ...], before: Drawn | None, found: dict[str, Any]
) -> dict[str, Any]:
    if engine is None or not pieces:
        return {}
    try:
        flow = flowed(engine, kind, pieces, found["pipes"], found["rpm"], found["air"])
        then = (
            flowed(engine, kind, before.pieces, before.pipes, found["rpm"], found["air"])
            if before is not None
            else None
        )
    except CoreError as error:
        return {"fault": error.message[:1].upper() + error.message[1:] + "."}
    changed = before is not None and before.pieces != pieces
    return {
        "flow": flow,
        "scene": run_drawing(flow, before.pieces if changed and before is not None else None),
        "before": then if changed else None,
    }
