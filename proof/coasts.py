"""The coast-down sheet: both ways, the fit and what it leaves, drag and rolling with their intervals, before dashed.

And how many tanks would show a claim.
"""

from __future__ import annotations

from typing import Any

import numpy as np
from django import forms
from django.http import HttpRequest, HttpResponse

from bench.logs.found import load_again, logs_of
from garage.file import open_file
from garage.logs.models import Log
from rimcore.aero.coastlogs import compared, on_one_clock, tanks_to_show
from shell.charts import drawn_curve
from shell.pages import page, status_of

#: speeds over which the force is drawn [km/h]
OVER_KMH = np.linspace(10.0, 140.0, 66)
#: speeds that are told
TOLD_KMH = (50.0, 80.0, 120.0)


class TanksForm(forms.Form):
    """What is claimed of the fuel, and how far tanks differ by themselves; kept in the address."""

    claim = forms.FloatField(min_value=0.1, max_value=90, label="Less fuel, as claimed, %")
    scatter = forms.FloatField(
        min_value=0.1, max_value=90, initial=4, label="Tanks differ by, %", help_text="one standard deviation"
    )


def coast(request: HttpRequest, car_id: int) -> HttpResponse:
    """The newest coast-down before and after; older ones stand in the list of logs."""
    file = open_file(request.user, car_id)
    logs = logs_of(file, "coast")
    newest = {when: next((log for log in logs if log.when == when), None) for when in ("before", "after")}
    loads = {when: load_again(log) for when, log in newest.items() if log is not None}
    asked = {name: request.GET[name] for name in ("claim", "scatter") if name in request.GET}
    tanks = TanksForm(asked) if asked else TanksForm()
    shown = newest["after"] or newest["before"]
    context: dict[str, Any] = {
        "logs": logs,
        "loads": loads,
        "log": shown,
        "tanks": tanks,
        "when": "after" if newest["after"] else "before",
    }
    if asked and tanks.is_valid():
        context["count"] = tanks_to_show(tanks.cleaned_data["scatter"], tanks.cleaned_data["claim"])
    if len(loads) == 2:
        context["changes"] = compared(loads["before"], loads["after"])
    if shown is not None:
        now = loads[context["when"]]
        then = loads.get("before") if context["when"] == "after" else None
        context |= {"charts": [_forces(now, then), *_runs(shown)], "told": _told(now, then), "load": now, "then": then}
    return page(request, file, "prove", "proof/coast.html", context, status_of(*([tanks] if asked else [])))


def _forces(now: Any, then: Any) -> Any:
    """Force over speed, before dashed."""
    rows = [np.array([one.force_n(float(v)) for v in OVER_KMH]) if one is not None else None for one in (now, then)]
    return drawn_curve(
        name="Force",
        unit="N",
        across_unit="km/h",
        across=OVER_KMH,
        value=np.asarray(rows[0]),
        before=rows[1],
        band=None,
        here=None,
        further=(),
        least_span=50.0,
        names=("after" if then else "as read", "before"),
    )


def _runs(log: Log) -> list[Any]:
    """Speeds of every run over its own time, out first, then what the fit leaves of all.

    Logs of old did not keep what was left.
    """
    found, runs = [], log.found["runs"]
    for way, name in ((1, "Out"), (-1, "Back")):
        those = [one for one in runs if one["way"] == way]
        if those:
            found.append(_side_by_side(f"{name}, {len(those)} runs" if len(those) > 1 else name, those, "v", 10.0))
    if runs and all("left" in one for one in runs):
        found.append(_side_by_side("Scatter round the curve, every run", runs, "left", 1.0))
    return found


def _side_by_side(name: str, runs: list[dict[str, Any]], column: str, least_span: float) -> Any:
    grid, rows = on_one_clock([(one["t"], one[column]) for one in runs])
    return drawn_curve(
        name=name,
        unit="km/h",
        across_unit="",
        across=grid,
        value=rows[0],
        before=None,
        band=None,
        here=None,
        further=rows[1:],
        least_span=least_span,
    )


def _told(now: Any, then: Any) -> list[dict[str, Any]]:
    return [
        {"speed": speed, "now": now.force_n(speed), "then": then.force_n(speed) if then is not None else None}
        for speed in TOLD_KMH
    ]
