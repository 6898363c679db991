"""The cooling sheet: boiling and frost, cores, the bleed run as curves with the judge's words, and a run watched live."""

from __future__ import annotations

import time
from typing import Any

import numpy as np
from django.contrib import messages
from django.http import Http404, HttpRequest, HttpResponse
from django.shortcuts import redirect, render

from bench.cooling.byhand import open_run
from bench.cooling.drawn import hoses
from bench.cooling.facts import boiling_c, cap_kpa, cores, hottest_c, judgements, kept_of, part_of
from bench.cooling.forms import FIELDS, CoolingForm
from bench.logs.found import READ_UNITS, logs_of
from garage.chassis.ends import spaces_of
from garage.engine import services
from garage.engine.models import Cooling
from garage.file import CarFile, open_file
from garage.inhand import in_hand
from garage.logs.models import Log
from gauges import streams
from rimcore.cooling.bleed import judge_bleed, look_at
from rimcore.cooling.boiling import boils_c
from rimcore.cooling.drawing import SIZES, CoreDrawing, core_drawing
from rimcore.drawing.charts import Chart
from shell.charts import drawn_curve
from shell.kept import of_now
from shell.pages import page, status_of

#: a simulated run goes so many times faster than a real one
TIMES = 12.0


def cooling(request: HttpRequest, car_id: int) -> HttpResponse:
    """Everything of the cooling on one sheet."""
    file = open_file(request.user, car_id)
    kept = kept_of(file)
    form = CoolingForm(file, request.POST if request.method == "POST" else None, initial=_initial(kept))
    if request.method == "POST" and form.is_valid():
        services.set_cooling(file.car, form.cleaned_data)
        messages.success(request, "Cooling saved.")
        return redirect("cooling", car_id)
    bled = logs_of(file, "bleed")
    context = {
        "form": form,
        "kept": kept,
        "judged": judgements(file),
        "cores": cores(file),
        "space": _space(file, kept),
        "cap_kpa": cap_kpa(file),
        "boils": boiling_c(file),
        "hot": hottest_c(file)[0],
        "last": _last(bled[0]) if bled else {},
        "bled": bled[0] if bled else None,
        "logs": [*bled, *logs_of(file, "temperature")],
        "curves": _curves(bled[0]) if bled else None,
        "warm": [(log, _over_time(log)) for log in logs_of(file, "temperature")[:2]],
        "in_hand": in_hand(file),
        "by_hand": open_run(file),
        "here": "cooling",
        "runs": (("bleeds", "a run that bleeds"), ("locked", "an engine with an air lock")),
    }
    return page(request, file, "check", "bench/cooling/cooling.html", context, status_of(form))


def _initial(kept: Cooling | None) -> dict[str, Any]:
    return {name: getattr(kept, name) for name in FIELDS} if kept else {}


def _space(file: CarFile, kept: Cooling | None) -> CoreDrawing | None:
    """The space for a core with both cores; None where nobody read it."""
    found = spaces_of(file, "F").get("core_space")
    chosen = part_of(file, "radiator")
    before = {name: getattr(kept, name) for name in SIZES} if kept else {}
    tilt = (kept.tilt_deg if kept else None) or 0.0
    return core_drawing(found.values, before, chosen.part.spec if chosen else {}, tilt) if found else None


def _last(log: Log) -> dict[str, float | None]:
    """What both hoses showed last."""
    return {
        name: next((one for one in reversed(log.found.get(name) or []) if one is not None), None)
        for name in ("top", "lower")
    }


def _array(row: list[float | None]) -> Any:
    return np.array([np.nan if one is None else one for one in row], dtype=float)


def _curves(log: Log) -> Chart:
    found = log.found
    opened, coolant = found.get("opened"), found.get("coolant")
    return hoses(
        _array(found["t"]),
        _array(found["top"]),
        _array(found["lower"]),
        _array(coolant) if coolant else None,
        opened[0] if opened else None,
    )


def _over_time(log: Log) -> list[tuple[str, float, str, Chart]]:
    """Each quantity of a log over time: name, its most, unit, curve."""
    minutes = _array(log.found["t"]) / 60.0
    found = []
    for name, unit in READ_UNITS.items():
        if name in log.found and name in log.found["hottest"]:
            said = name.replace("_", " ").capitalize()
            found.append(
                (
                    said,
                    log.found["hottest"][name],
                    unit,
                    drawn_curve(
                        name=said,
                        unit=unit,
                        across_unit="",
                        across=minutes,
                        value=_array(log.found[name]),
                        before=None,
                        band=None,
                        here=None,
                        further=(),
                        least_span=5.0,
                    ),
                )
            )
    return found


def live(request: HttpRequest, car_id: int) -> HttpResponse:
    """A run while it goes on: the whole page, and for htmx what both hoses have shown so far with the judge's words."""
    file = open_file(request.user, car_id)
    which = request.GET.get("run", "bleeds")
    if which not in streams.RUNS:
        raise Http404
    try:
        started = float(request.GET.get("from", "") or time.time())
    except ValueError as error:
        raise Http404 from error
    of_now()
    run = streams.RUNS[which]
    gone = min(max(0.0, time.time() - started) * TIMES, run.long_s)
    rows = streams.bleed_rows(run, file.car.pk, max(gone, 2.0))
    times, top, lower, coolant = ([row[column] for row in rows] for column in range(4))
    kept = kept_of(file)
    boils = boils_c(kept.cap_kpa, kept.glycol_pct or 0.0) if kept is not None else None
    found = judge_bleed(times, top, lower, boil_c=boils, coolant_c=coolant)  # type: ignore[arg-type]
    last_top = next((one for one in reversed(top) if one is not None), None)
    context = {
        "judged": found,
        "watch": look_at(found, last_top),
        "run": which,
        "started": f"{started:.3f}",
        "gone": gone,
        "times": TIMES,
        "ended": gone >= run.long_s,
        "source": streams.HOSES,
        "top": last_top,
        "lower": next((one for one in reversed(lower) if one is not None), None),
        "coolant": coolant[-1],
        "curves": hoses(
            _array(times), _array(top), _array(lower), _array(coolant), found.opened.t_s if found.opened else None
        ),
    }
    if request.headers.get("HX-Request") and not request.headers.get("HX-Boosted"):
        return render(request, "bench/cooling/bleed_live.html", {"file": file, **context})
    return page(request, file, "check", "bench/cooling/bleed.html", context)
