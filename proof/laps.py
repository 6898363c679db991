"""Laps and sprints out of a position log: gates on the drawn track, runs, where time is lost, stops; before and after."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import asdict, dataclass
from typing import Any

import numpy as np
from django import forms
from django.contrib import messages
from django.http import Http404, HttpRequest, HttpResponse
from django.shortcuts import get_object_or_404, redirect
from numpy.typing import NDArray

from bench.logs.found import positions
from bench.logs.kinds import LOG_KINDS
from bench.logs.views import kept_table
from garage.file import CarFile, open_file
from garage.logs import services
from garage.logs.load import kept_logs
from garage.logs.models import Log
from rimcore.proof.braked import Stopped, stops_of
from rimcore.proof.change import Asked
from rimcore.proof.positions import Run, Runs, quickest, runs_of
from rimcore.proof.strip import scale_of, step_of
from rimcore.proof.track import (
    HIGH,
    WIDE,
    Sheet,
    best_of_sectors,
    gate_of,
    lost_lines,
    scale_bar,
    sectors_of,
)
from rimcore.proof.trial import scatter
from rimcore.proof.words import Verdict, tone_of, verdict_of
from rimcore.quantities.errors import CoreError
from shell.forms import QuantityField
from shell.pages import page, status_of

Floats = NDArray[np.float64]
#: runs of a log that are kept, and the drawing of what is lost
MOST_RUNS, LOST = 300, (720.0, 160.0)


class GatesForm(forms.Form):
    """Gates as places of the drawing, and what is asked of stops."""

    start = forms.CharField(
        max_length=60, required=False, label="Start, two places", help_text="x y x y on the drawing"
    )
    finish = forms.CharField(
        max_length=60, required=False, label="Finish, two places", help_text="blank: laps over start"
    )
    least_s = forms.FloatField(min_value=0, max_value=3600, initial=10, label="Nothing under, s")

    def __init__(self, *args: Any, **options: Any) -> None:
        super().__init__(*args, **options)
        self.fields["from_kmh"] = QuantityField("speed", 1, 400, required=False, label="Stops from")
        self.fields["to_kmh"] = QuantityField("speed", 0, 399, required=False, label="to", help_text="blank: standing")
        self.fields["slope_pct"] = forms.FloatField(
            min_value=-30, max_value=30, required=False, label="Slope, %", help_text="uphill plus; blank: not known"
        )

    def clean_start(self) -> list[float] | None:
        return _places(self.cleaned_data["start"])

    def clean_finish(self) -> list[float] | None:
        return _places(self.cleaned_data["finish"])

    def clean(self) -> dict[str, Any]:
        cleaned: dict[str, Any] = super().clean() or {}
        if not self.errors and cleaned.get("start") is None and cleaned.get("from_kmh") is None:
            self.add_error("start", "Press on two places of the drawing, one to each side of the track.")
        high, low = cleaned.get("from_kmh"), cleaned.get("to_kmh")
        if high is not None and low is not None and low >= high:
            self.add_error("to_kmh", "Out of order; accepted: a lower speed than the first.")
        return cleaned


def _places(text: str) -> list[float] | None:
    if not text.strip():
        return None
    words = text.replace(",", " ").split()
    try:
        found = [float(one) for one in words]
    except ValueError as error:
        raise forms.ValidationError(
            "Four figures; accepted: x y x y, as a press on the drawing writes them."
        ) from error
    if len(found) != 4:
        raise forms.ValidationError("Four figures; accepted: x y x y, as a press on the drawing writes them.")
    return found


def laps(request: HttpRequest, car_id: int) -> HttpResponse:
    """Logs of laps and sprints, before against after."""
    file = open_file(request.user, car_id)
    logs = [one for one in kept_logs(file) if one.kind == "run"]
    context = {
        "logs": logs,
        "verdict": _against(logs),
        "strip": _strip(logs),
        "spread": {one.pk: _spread(one) for one in logs},
    }
    return page(request, file, "prove", "proof/laps.html", context)


def lap_log(request: HttpRequest, car_id: int, log_id: int) -> HttpResponse:
    """One log: gates set on the track, its runs."""
    file = open_file(request.user, car_id)
    log = get_object_or_404(Log, pk=log_id, car=file.car, kind="run", draft=False)
    if "sheet" not in log.found:
        raise Http404
    form = GatesForm(request.POST if request.method == "POST" else None, initial=log.found.get("asked"))
    if request.method == "POST" and form.is_valid():
        try:
            found = found_in(log, form.cleaned_data)
        except (CoreError, OSError) as error:
            form.add_error("start", f"The gate {error}." if isinstance(error, CoreError) else "The file is gone.")
        else:
            services.keep_log(log, {}, log.asked, {**log.found, **found})
            messages.success(request, _said(found))
            return redirect("lap-log", car_id, log_id)
    return page(request, file, "prove", "proof/lap_log.html", _shown(file, log, form), status_of(form))


def _said(found: Mapping[str, Any]) -> str:
    runs, stops = len(found["runs"]), len(found["stops"])
    return f"{runs} run{'' if runs == 1 else 's'}, {stops} stop{'' if stops == 1 else 's'} found."


def _columns(log: Log) -> dict[str, Floats]:
    table = kept_table(log)
    return {
        name: table.columns[int(log.asked[name])].taken(name, log.asked.get(f"{name}_unit") or "")
        for name in LOG_KINDS["run"].quantities
        if log.asked.get(name)
    }


def found_in(log: Log, asked: Mapping[str, Any]) -> dict[str, Any]:
    """Runs and stops of the whole file, as they are kept.

    Raises
    ------
    BadInput : a gate that is none
    """
    columns, sheet = _columns(log), Sheet(**log.found["sheet"])
    runs, gates = Runs((), None, ()), {}
    if asked.get("start"):
        start = gate_of(sheet, asked["start"])
        finish = gate_of(sheet, asked["finish"]) if asked.get("finish") else None
        time, lat, lon, _ = positions(columns)
        runs = runs_of(np.column_stack([time, lat, lon]), start, finish, asked["least_s"])
        gates = {"start": start, "finish": finish}
    stops = _stops(columns, asked)
    return {
        "asked": {
            **{name: " ".join(f"{one:g}" for one in asked[name]) for name in ("start", "finish") if asked.get(name)},
            **{name: asked[name] for name in ("least_s", "from_kmh", "to_kmh", "slope_pct") if asked[name] is not None},
        },
        "gates": gates,
        "runs": [asdict(run) for run in runs.runs[:MOST_RUNS]],
        "warnings": [*runs.warnings, *_too_many(len(runs.runs), "runs"), *_too_many(len(stops), "stops")],
        "stops": [asdict(one) for one in stops[:MOST_RUNS]],
    }


def _too_many(count: int, name: str) -> list[str]:
    """What is not kept is told."""
    return [f"{count} {name}: the first {MOST_RUNS} are kept"] if count > MOST_RUNS else []


def _stops(columns: Mapping[str, Floats], asked: Mapping[str, Any]) -> tuple[Stopped, ...]:
    if asked.get("from_kmh") is None or "speed" not in columns:
        return ()
    known = np.isfinite(columns["time"]) & np.isfinite(columns["speed"])
    samples = np.column_stack([columns["time"][known], columns["speed"][known]])
    return stops_of(samples, asked["from_kmh"], asked.get("to_kmh") or 0.0, asked.get("slope_pct"))


def _again(log: Log) -> Runs:
    """Kept runs, for the core."""
    runs = tuple(Run(**{**one, "at": tuple(one["at"])}) for one in log.found.get("runs", []))
    return Runs(runs, quickest(runs), tuple(log.found.get("warnings", [])))


@dataclass(frozen=True)
class Row:
    """A run with its sectors, and how much it is off the best [s]."""

    number: int
    run: Run
    sectors: tuple[float, ...]
    off_s: float | None
    best: bool


def _shown(file: CarFile, log: Log, form: GatesForm) -> dict[str, Any]:
    sheet, runs = Sheet(**log.found["sheet"]), _again(log)
    best_s = None if runs.best is None else runs.runs[runs.best].time_s
    rows = [
        Row(
            k + 1,
            run,
            sectors_of(run),
            None if best_s is None or run.gap else run.time_s - best_s,
            k == runs.best,
        )
        for k, run in enumerate(runs.runs)
    ]
    lines, edge = lost_lines(runs.delta, *LOST)
    metres, drawn = scale_bar(sheet)
    return {
        "log": log,
        "form": form,
        "size": (WIDE, HIGH),
        "gates": [
            (name, [sheet.at(*end) for end in gate]) for name, gate in log.found.get("gates", {}).items() if gate
        ],
        "bar": (metres, drawn),
        "rows": rows,
        "runs": runs,
        "lost": lines,
        "lost_size": LOST,
        "edge_s": edge,
        "ideal_s": best_of_sectors(runs),
        "stops": [Stopped(**one) for one in log.found.get("stops", [])],
        "spread": _spread(log),
        "has_speed": bool(log.asked.get("speed")),
    }


def _times(logs: list[Log], when: str) -> list[float]:
    """Times of runs without a gap of all logs before, or after, to a hundredth of a second."""
    return [
        round(one["time_s"], 2)
        for log in logs
        if log.when == when
        for one in log.found.get("runs", [])
        if not one["gap"]
    ]


def _spread(log: Log) -> str:
    """How well a driver repeats: the spread of the runs of one log, in words."""
    times = _times([log], log.when)
    if len(times) < 3:
        return ""
    return f"{len(times)} runs, spread {scatter(times, step_of(times)):.2f} s"


@dataclass(frozen=True)
class Against:
    """Before against after."""

    verdict: Verdict
    tone: str


def _against(logs: list[Log]) -> Against | None:
    before, after = _times(logs, "before"), _times(logs, "after")
    if not before or not after:
        return None
    found = verdict_of(Asked(tuple(before), tuple(after), better="less"), "s")
    return Against(found, tone_of(found, "less"))


def _strip(logs: list[Log]) -> dict[str, Any] | None:
    before, after = _times(logs, "before"), _times(logs, "after")
    if not before and not after:
        return None
    scale = scale_of([*before, *after])
    return {
        "dots": [
            {"x": scale.at(value), "value": value, "after": later}
            for later, side in ((False, before), (True, after))
            for value in side
        ],
        "ticks": scale.ticks,
        "mean_before": scale.mean_at(before),
        "mean_after": scale.mean_at(after),
    }
