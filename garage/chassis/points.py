"""Hard points of a corner: what was read with the plumb line, the floor sheet to type them in, and the corner made of
them.
"""

from __future__ import annotations

from dataclasses import replace
from typing import Any

from django.contrib import messages
from django.http import Http404, HttpRequest, HttpResponse
from django.shortcuts import redirect
from django.views.decorators.http import require_POST

from garage.chassis import services
from garage.chassis.forms import COLUMNS, PointsForm
from garage.chassis.links import layout_of, plumb_of, points_of, read_of
from garage.chassis.models import HardPoint
from garage.file import CarFile, open_file
from rimcore.quantities.errors import CoreError
from rimcore.ride.drawing import sketch
from rimcore.ride.plumb import Plumb, wanted, words
from rimcore.ride.points import LAYOUTS
from rimcore.tables.facts import CORNER_NAMES, CORNERS
from shell.pages import page, status_of
from shell.people import called


def _initial(points: dict[str, HardPoint]) -> dict[str, Any]:
    """What stands now, so that a correction starts from it."""
    found: dict[str, Any] = {}
    for name, point in points.items():
        found |= {f"{name}-across": point.across_mm, f"{name}-ahead": point.ahead_mm, f"{name}-up": point.up_mm}
    if points:
        last = max(points.values(), key=lambda one: one.pk)
        found |= {"from_face": last.from_face, "uncertainty_mm": last.uncertainty_mm}
    return found


def points(request: HttpRequest, car_id: int, corner: str) -> HttpResponse:
    """The floor sheet of a corner's points: print it, read them, type them in; all is kept or none."""
    file = open_file(request.user, car_id)
    if corner not in CORNERS:
        raise Http404
    layout = layout_of(file, corner)
    known = points_of(file, corner)
    context: dict[str, Any] = {
        "corner": corner,
        "layout": LAYOUTS.get(layout or ""),
        "known": known,
        "axle": file.axles.get(corner[0]),
    }
    if layout is None:
        return page(request, file, "measure", "garage/points.html", context)
    user: Any = request.user
    initial = _initial(known) | {"who": called(user)}
    form = PointsForm(file, layout, request.POST if request.method == "POST" else None, initial=initial)
    if request.method == "POST" and file.current is None:
        messages.error(request, "First say which wheels stand on the car; the points are read on them.")
        return redirect("car", car_id)
    if request.method == "POST" and form.is_valid():
        changed = {name: row for name, row in form.read.items() if _differs(known.get(name), row, form.cleaned_data)}
        how = {name: form.cleaned_data[name] for name in ("from_face", "uncertainty_mm", "who", "taken_on")}
        fault = _fault(file, corner, known, changed, how)
        if fault:
            form.add_error(None, fault)
        else:
            axle = file.on(file.current, corner[0])
            services.keep_points(
                file.car, corner, layout, changed, how | {"ride_drop_mm": axle.drop_at(corner) if axle else 0.0}
            )
            messages.success(
                request, f"{len(changed)} point{'' if len(changed) == 1 else 's'} kept at the {CORNER_NAMES[corner]}."
            )
            return redirect("points", car_id, corner)
    read = read_of(file, corner)
    missing = read.missing if read else wanted(layout)
    context |= {
        "form": form,
        "missing": [words(layout, name) for name in missing],
        "count": len(wanted(layout)),
        "columns": COLUMNS,
        "scene": sketch(read) if read and read.readings else None,
        "other": corner[0] + ("R" if corner[1] == "L" else "L"),
    }
    return page(request, file, "measure", "garage/points.html", context, status_of(form))


def _differs(known: HardPoint | None, row: dict[str, Any], how: dict[str, Any]) -> bool:
    """Is it another reading than the one that stands?"""
    if known is None or known.mirrored:
        return True
    now = (known.across_mm, known.ahead_mm, known.up_mm, known.uncertainty_mm)
    then = (row["across_mm"], row["ahead_mm"], row["up_mm"], how["uncertainty_mm"])
    return known.from_face != how["from_face"] or any(abs(a - b) > 1e-6 for a, b in zip(now, then, strict=True))


def _fault(file: CarFile, corner: str, known: dict[str, HardPoint], rows: dict[str, Any], how: dict[str, Any]) -> str:
    """Why these points can't be a corner, in words; empty where they can, or where some are still to be read."""
    read = read_of(file, corner)
    if read is None:
        return ""
    both = {name: plumb_of(point) for name, point in known.items()}
    both |= {
        name: Plumb(**row, uncertainty_mm=how["uncertainty_mm"], from_face=how["from_face"])
        for name, row in rows.items()
    }
    whole = replace(read, readings=tuple(both.items()))
    if whole.missing:
        return ""
    try:
        whole.hard_points()
    except CoreError as error:
        return f"These points can't be assembled: {error.message}."
    return ""


@require_POST
def mirror_points(request: HttpRequest, car_id: int, corner: str) -> HttpResponse:
    """Take the points of this side over to the other one."""
    file = open_file(request.user, car_id)
    if corner not in CORNERS:
        raise Http404
    known = points_of(file, corner)
    if not known:
        messages.error(request, "No point is read here yet.")
        return redirect("points", car_id, corner)
    services.mirror_points(file.car, corner, list(known.values()))
    messages.success(request, "Taken over and marked as not read there; left and right are rarely alike.")
    return redirect("points", car_id, corner[0] + ("R" if corner[1] == "L" else "L"))
