"""The geometry bench: what a corner does over travel, with the band of its readings, before dashed."""

from __future__ import annotations

from typing import Any

import numpy as np
from django.http import Http404, HttpRequest, HttpResponse

from bench.geometry.facts import Linked, corners_read, fault_of_points, linked, of_corner
from garage.chassis.links import layout_of, read_of
from garage.file import CarFile, open_file
from garage.inhand import in_hand
from rimcore.drawing.charts import Chart
from rimcore.ride.curves import curves
from rimcore.ride.plumb import Banded, words
from rimcore.tables.facts import CORNERS
from shell.charts import drawn_curve
from shell.pages import page

#: what is drawn: figure, name, unit, least span of the sheet
CHARTS = (
    ("camber_deg", "Camber", "°", 0.5),
    ("toe_deg", "Toe, in is plus", "°", 0.2),
    ("caster_deg", "Caster", "°", 0.5),
    ("roll_centre_mm", "Roll centre above the ground", "mm", 20.0),
)


def geometry(request: HttpRequest, car_id: int) -> HttpResponse:
    """Curves of one corner; the switch shows those that have points."""
    file = open_file(request.user, car_id)
    corner = request.GET.get("corner") or corners_read(file)[0]
    if corner not in CORNERS:
        raise Http404
    found, read = linked(file, corner), read_of(file, corner)
    context: dict[str, Any] = {
        "corner": corner,
        "corners": CORNERS,
        "in_hand": in_hand(file),
        "here": "geometry",
        "layout": layout_of(file, corner),
        "judged": of_corner(file, corner),
        "found": found,
        "fault": fault_of_points(read) if read is not None and not read.missing else "",
    }
    if found is not None:
        context |= _sheet(file, found)
    return page(request, file, "check", "bench/geometry/geometry.html", context)


def _sheet(file: CarFile, found: Linked) -> dict[str, Any]:
    band = found.curves()
    before = curves(found.before.hard_points(), found.travel_mm) if found.moved else None
    named = [
        (
            one,
            drawn_curve(
                name=name,
                unit=unit,
                across_unit="mm",
                across=band.curves.travel_mm,
                value=getattr(band.curves, one),
                before=getattr(before, one) if before is not None else None,
                band=(band.low[one], band.high[one]),
                here=found.at_mm,
                least_span=span,
            ),
        )
        for one, name, unit, span in CHARTS
        if np.isfinite(getattr(band.curves, one)).any()
    ]
    drawn: list[Chart] = [one for _, one in named]
    there = int(np.argmin(np.abs(band.curves.travel_mm - found.at_mm)))
    again = [
        (words(found.now.layout, name), 100 * share)
        for name, share in sorted(band.shares.items(), key=lambda one: -one[1])[:3]
    ]
    return {
        "charts": drawn,
        "rows": _rows(band, found),
        "again": again,
        "before": before is not None,
        "lost": band.lost,
        "gain": float(band.curves.camber_rate[there]),
        "steer": float(band.curves.toe_rate[there]),
        "scrub": _with(band, "scrub_radius_mm", there),
    }


def _with(band: Banded, name: str, row: int) -> dict[str, float | None]:
    """A figure with half the width of its band; None where the layout has no such figure."""
    value = float(getattr(band.curves, name)[row])
    if not np.isfinite(value):
        return {"value": None, "doubt": None}
    return {"value": value, "doubt": band.doubt(name, row)}


def _rows(band: Banded, found: Linked) -> list[dict[str, Any]]:
    """The table beside the curves."""
    names = [(name, 0, " mm") if unit == "mm" else (name, 2, "") for name, _, unit, _ in CHARTS] + [
        ("track_shift_mm", 1, " mm")
    ]
    return [
        {
            "travel": float(travel),
            "reached": bool(band.curves.reached[row]),
            "here": travel == found.at_mm,
            "cells": [(_with(band, name, row), places, unit) for name, places, unit in names],
        }
        for row, travel in enumerate(band.curves.travel_mm)
    ]
