"""A bleed watched by hand: one reading at a time on the phone, or lines of a slip of paper; the same judge as a log."""

from __future__ import annotations

from dataclasses import asdict
from typing import Any

import numpy as np
from django import forms
from django.contrib import messages
from django.http import HttpRequest, HttpResponse
from django.shortcuts import redirect

from bench.cooling.drawn import hoses
from bench.cooling.facts import boiling_c
from bench.logs.found import bled
from garage.file import CarFile, open_file
from garage.logs import services
from garage.logs.models import Log
from rimcore.cooling.bleed import judge_bleed, look_at
from rimcore.cooling.byhand import MOST_ROWS, Seen, in_order, read_line, read_time
from rimcore.limits import LIMITS
from rimcore.quantities.errors import CoreError
from shell import units
from shell.forms import QuantityField
from shell.pages import page, status_of
from shell.people import called
from shell.undo import remember

SOURCE = "read by hand"
FANS = [("", "not looked at"), ("on", "running"), ("off", "off")]
LEVELS = [("", "not looked at"), ("falls", "falls"), ("holds", "holds"), ("filled", "filled up")]


class ReadingForm(forms.Form):
    """One reading, or several lines of them."""

    time = forms.CharField(
        required=False,
        max_length=12,
        label="Minutes since the engine was started",
        help_text="3:30 or 3.5",
        widget=forms.TextInput(attrs={"inputmode": "decimal", "autocomplete": "off"}),
    )
    top_c = QuantityField("temperature", *LIMITS["hose_c"].span, required=False, label="Top hose")
    lower_c = QuantityField("temperature", *LIMITS["hose_c"].span, required=False, label="Lower hose")
    coolant_c = QuantityField("temperature", *LIMITS["hose_c"].span, required=False, label="Gauge or reader")
    fan = forms.ChoiceField(choices=FANS, required=False, label="Fan")
    level = forms.ChoiceField(choices=LEVELS, required=False, label="Level in the funnel")
    lines = forms.CharField(
        required=False,
        max_length=20_000,
        label="Or lines from paper",
        widget=forms.Textarea(attrs={"rows": 3}),
        help_text="one a line: minutes, top hose, lower hose, gauge, then fan and level; a dash was not read",
    )

    rows: list[Seen]

    def clean(self) -> dict[str, Any]:
        found: dict[str, Any] = super().clean() or {}
        self.rows = []
        if self.errors:
            return found
        hoses_read = [found.get(name) for name in ("top_c", "lower_c", "coolant_c")]
        try:
            if found.get("lines"):
                unit = units.unit("temperature")
                self.rows = [read_line(line, unit) for line in found["lines"].splitlines() if line.strip()]
            if any(one is not None for one in hoses_read):
                self.rows.append(self._one(found))
        except CoreError as error:
            self.add_error(error.field if error.field in self.fields else None, f"{error.message}.")
            return found
        if not self.rows:
            self.add_error("top_c", "Enter one temperature at least.")
        return found

    def _one(self, found: dict[str, Any]) -> Seen:
        return Seen(
            t_s=read_time(found.get("time") or ""),
            top_c=found.get("top_c"),
            lower_c=found.get("lower_c"),
            coolant_c=found.get("coolant_c"),
            fan={"on": True, "off": False}.get(found.get("fan", "")),
            level=found.get("level", ""),
        )


def open_run(file: CarFile) -> Log | None:
    """The run that is being watched by hand; None where none is open."""
    return Log.objects.filter(car=file.car, kind="bleed", asked__by_hand=True, asked__ended=False).first()


def seen_of(log: Log) -> tuple[Seen, ...]:
    """The readings of a run."""
    return tuple(Seen(**row) for row in log.asked.get("seen", []))


def by_hand(request: HttpRequest, car_id: int) -> HttpResponse:
    """Watch a bleed by hand: enter a reading, see what the judge says; end the run."""
    file = open_file(request.user, car_id)
    log = open_run(file)
    if request.method == "POST" and request.POST.get("what") == "end":
        if log is not None:
            services.keep_log(log, {"name": log.name}, {**log.asked, "ended": True}, log.found)
            messages.success(request, "The run is saved with the logs of the bleed.")
        return redirect("cooling", car_id)
    form = ReadingForm(request.POST if request.method == "POST" else None)
    if request.method == "POST" and form.is_valid():
        try:
            _keep(file, request.user, form.rows)
            return redirect("bleed-hand", car_id)
        except CoreError as error:
            form.add_error("lines", f"{error.message}.")
    context = {"form": form, "log": log, "most": MOST_ROWS, **(_shown(file, seen_of(log)) if log else {})}
    return page(request, file, "check", "bench/cooling/by_hand.html", context, status_of(form))


def _keep(file: CarFile, user: Any, read: list[Seen]) -> None:
    """Readings beside those there are, looked up where they are written: of two telephones none loses a reading.

    Raises
    ------
    BadInput : more than a run has
    """
    with remember(user, "bleed read by hand"):
        log = open_run(file)
        rows = in_order([*(seen_of(log) if log else ()), *read])
        number = Log.objects.filter(car=file.car, kind="bleed").count() + 1
        log = log or Log(car=file.car, kind="bleed", name=f"Bleed by hand {number}", source=SOURCE, who=called(user))
        asked = {"by_hand": True, "ended": False, "seen": [asdict(row) for row in rows]}
        services.keep_log(log, {"name": log.name}, asked, _found(rows))


def _found(rows: tuple[Seen, ...]) -> dict[str, Any]:
    """What the judge of a logger's file finds; of one reading alone nothing is said yet."""
    if len(rows) < 2:
        return {"rows": len(rows), "state": "unmeasured", "reason": "one reading so far", **_columns(rows)}
    columns = {"t": "time", "top": "top_hose", "lower": "lower_hose", "coolant": "coolant"}
    arrays = {columns[name]: _row(values) for name, values in _columns(rows).items()}
    if not np.isfinite(arrays["coolant"]).any():
        del arrays["coolant"]
    return dict(bled(arrays, {}).kept)


def _columns(rows: tuple[Seen, ...]) -> dict[str, list[float | None]]:
    return {
        "t": [row.t_s for row in rows],
        "top": [row.top_c for row in rows],
        "lower": [row.lower_c for row in rows],
        "coolant": [row.coolant_c for row in rows],
    }


def _row(values: list[float | None]) -> Any:
    return np.array([np.nan if one is None else one for one in values], dtype=float)


def _shown(file: CarFile, rows: tuple[Seen, ...]) -> dict[str, Any]:
    """Readings, the judge's words and the curve of a run."""
    columns = _columns(rows)
    found = judge_bleed(
        [row.t_s for row in rows],
        columns["top"],
        columns["lower"],
        boil_c=boiling_c(file),
        coolant_c=columns["coolant"],
    )
    top = next((one for one in reversed(columns["top"]) if one is not None), None)
    curves = None
    if len(rows) > 1:
        coolant = _row(columns["coolant"])
        curves = hoses(
            _row(columns["t"]),
            _row(columns["top"]),
            _row(columns["lower"]),
            coolant if np.isfinite(coolant).any() else None,
            found.opened.t_s if found.opened else None,
        )
    return {"judged": found, "watch": look_at(found, top), "rows": rows[::-1], "curves": curves}
