"""Pulls before and after: bands of repeated runs, their difference with its interval by engine speed."""

from __future__ import annotations

from typing import Any

import numpy as np
from django.http import HttpRequest, HttpResponse

from bench.logs.found import logs_of, runs_again
from garage.file import CarFile, open_file
from garage.logs.models import Log
from rimcore.breathing.pulls import Difference, Set, difference, together
from rimcore.quantities.errors import CoreError
from shell.charts import drawn_curve
from shell.pages import page

#: every so many places of the grid stand in the table
EVERY = 10


def sets_of(file: CarFile) -> tuple[dict[str, Set], list[str]]:
    """Runs before and after, together; and what keeps them apart, in words."""
    logs = logs_of(file, "pull")
    found, said = {}, []
    for when in ("before", "after"):
        here = [log for log in logs if log.when == when]
        runs = [run for log in here for run in runs_again(log)]
        said += _unlike(here, when)
        if runs:
            try:
                found[when] = together(runs)
            except CoreError as error:
                said.append(f"{when}: {error.message}")
    return found, said


def _unlike(logs: list[Log], when: str) -> list[str]:
    """Runs that were made power in different ways are no repeats."""
    ways = {
        (log.found.get("how"), log.found.get("standard", "").partition(",")[0], log.found.get("window_rpm"))
        for log in logs
    }
    return (
        [f"{when}: the logs differ in how power was found, in the standard or in the window; compare like with like"]
        if len(ways) > 1
        else []
    )


def compared(file: CarFile) -> Difference | None:
    """After less before; None without both."""
    found, _ = sets_of(file)
    if len(found) < 2:
        return None
    try:
        return difference(found["before"], found["after"])
    except CoreError:
        return None


def pulls(request: HttpRequest, car_id: int) -> HttpResponse:
    """The sheet of pulls."""
    file = open_file(request.user, car_id)
    found, said = sets_of(file)
    change = compared(file)
    logs = logs_of(file, "pull")
    context: dict[str, Any] = {
        "logs": logs,
        "sets": found,
        "said": said,
        "change": change,
        "how": logs[0].found if logs else None,
    }
    if found:
        context |= _charts(found, change)
    return page(request, file, "prove", "proof/pulls.html", context)


def _charts(found: dict[str, Set], change: Difference | None) -> dict[str, Any]:
    now = found.get("after") or found["before"]
    before = found.get("before") if "after" in found else None
    then = before.mean_at(now.rpm) if before is not None else None
    band = (now.low_kw, now.high_kw) if now.runs > 1 else None
    charts = [
        drawn_curve(
            name="Power",
            unit="kW",
            across_unit="",
            across=now.rpm,
            value=now.mean_kw,
            before=then,
            band=band,
            here=None,
            further=(),
            least_span=10.0,
        )
    ]
    rows: list[dict[str, Any]] = []
    if change is not None:
        banded = (change.low_kw, change.high_kw) if np.isfinite(change.low_kw).any() else None
        charts.append(
            drawn_curve(
                name="After less before",
                unit="kW",
                across_unit="",
                across=change.rpm,
                value=change.change_kw,
                before=None,
                band=banded,
                here=None,
                further=(),
                least_span=2.0,
            )
        )
        rows = [
            {
                "rpm": change.rpm[k],
                "change": change.change_kw[k],
                "low": _or_none(change.low_kw[k]),
                "high": _or_none(change.high_kw[k]),
                "real": bool(change.real[k]),
            }
            for k in range(0, len(change.rpm), EVERY)
        ]
    peak = int(np.argmax(now.mean_kw))
    return {
        "charts": charts,
        "rows": rows,
        "peak": (now.rpm[peak], now.mean_kw[peak]),
        "runs": {when: one.runs for when, one in found.items()},
    }


def _or_none(value: float) -> float | None:
    return float(value) if np.isfinite(value) else None
