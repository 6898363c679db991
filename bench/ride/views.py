"""The ride bench: strokes of four corners at the height in hand, frequencies, and the dips that are driven again."""

from __future__ import annotations

from typing import Any

from django.contrib import messages
from django.http import HttpRequest, HttpResponse
from django.shortcuts import get_object_or_404, redirect
from django.views.decorators.http import require_POST

from bench.ride.facts import collars as wound_by
from bench.ride.facts import height_given, judgements, stands
from bench.ride.forms import CollarForm
from bench.ride.lift import judgements as lift_judged
from bench.ride.lift import side
from bench.weights.facts import pads_of
from garage.chassis import services
from garage.chassis.forms import DipForm
from garage.chassis.load import chassis_of
from garage.chassis.models import KnownDip
from garage.file import CarFile, open_file
from garage.inhand import in_hand
from planner import services as planning
from planner.chosen import build_in_hand
from planner.models import Build
from rimcore.driveline.lift import SCHOOLS
from rimcore.parts.gives import Gives
from rimcore.quantities.errors import CoreError
from rimcore.ride.standing import BARS_H, BARS_W, bars, frequency_ratio
from rimcore.tables.facts import CORNER_NAMES, CORNERS, ENDS
from shell.pages import page, status_of
from shell.people import called


def ride(request: HttpRequest, car_id: int) -> HttpResponse:
    """Bars, figures and judgements; a dip is kept with the height at which it was driven."""
    file = open_file(request.user, car_id)
    user: Any = request.user
    build, what = build_in_hand(file), request.POST.get("form", "")
    collars = CollarForm(file, build, request.POST if what == "collars" else None) if build is not None else None
    if build is not None and collars is not None and what == "collars" and collars.is_valid():
        planning.change_build(build, request.user, {}, collars.levers)
        messages.success(request, f"{build.name}: collars saved.")
        return redirect("ride", car_id)
    if build is None and what in ("collars", "take"):
        messages.error(request, "First make a build current: collars and springs are kept in it.")
        return redirect("ride", car_id)
    if build is not None and what == "take":
        return _take(request, file, build)
    form = DipForm(file, request.POST if what == "dip" else None, initial={"who": called(user)})
    if what == "dip" and form.is_valid():
        axle = file.on(file.current, form.cleaned_data["corner"][0])
        services.keep_dip(
            file.car, form.cleaned_data | {"ride_drop_mm": axle.drop_at(form.cleaned_data["corner"]) if axle else 0.0}
        )
        messages.success(request, f"{form.cleaned_data['name']} saved.")
        return redirect("ride", car_id)
    corners = stands(file)
    context = {
        "form": form,
        "collars": collars,
        "given": _given(file),
        "wound": _wound(file),
        "bars": bars(corners),
        "width": BARS_W,
        "height": BARS_H,
        "corners": corners,
        "judged": judgements(file),
        "dips": chassis_of(file).dips,
        "side": side(file),
        "lift": lift_judged(file),
        "schools": SCHOOLS,
        "in_hand": in_hand(file),
        "here": "ride",
        "ratio": frequency_ratio(corners[0], corners[2]),
    }
    return page(
        request,
        file,
        "check",
        "bench/ride/ride.html",
        context,
        status_of(form, *([collars] if collars is not None else [])),
    )


def _given(file: CarFile) -> list[tuple[str, Gives]]:
    """Ends at which a part of the build changes the height, with what it does."""
    found = [(name, height_given(file, end)) for end, name in ENDS.items()]
    return [(name, one) for name, one in found if one is not None and one.rows]


def _wound(file: CarFile) -> dict[str, Any] | None:
    """Corners whose collars are wound more than their end's, with what comes of it; None where none is."""
    found = wound_by(file)
    if not found.any:
        return None
    rows = [
        {"where": CORNER_NAMES[corner], "up": found.up_mm[k], "lowers": found.lowers_mm[k] if found.lowers_mm else None}
        for k, corner in enumerate(CORNERS)
    ]
    pads = pads_of(file)
    cross = found.found.pads(pads.pads).cross_pct if found.found is not None and pads is not None else None
    return {"rows": rows, "missing": found.missing, "cross": cross}


def _take(request: HttpRequest, file: CarFile, build: Build) -> HttpResponse:
    """The height that the parts give becomes the build's, at every end where all of them are known."""
    given = {
        end: one.total_mm
        for end in ENDS
        if (one := height_given(file, end)) is not None and one.rows and one.total_mm is not None
    }
    corners = wound_by(file).lowers_mm if wound_by(file).any else None
    if not given and corners is None:
        messages.error(
            request, "Nothing taken: no part of the build changes the height, or something of it is not known."
        )
        return redirect("ride", file.car.pk)
    try:
        levers: dict[tuple[str, str], Any] = {("ride_drop_mm", end): round(value, 1) for end, value in given.items()}
        levers |= {
            ("corner_drop_mm", corner): round(value, 1) for corner, value in zip(CORNERS, corners or (), strict=False)
        }
        planning.change_build(build, request.user, {}, levers)
    except CoreError as error:
        messages.error(request, f"Not taken: the height {error.message}.")
    else:
        said = [f"{ENDS[end]} {value:.0f} mm lowered" for end, value in given.items()]
        said += [
            f"{CORNER_NAMES[corner]} {value:+.1f} mm" for corner, value in zip(CORNERS, corners or (), strict=False)
        ]
        messages.success(request, f"{build.name}: " + ", ".join(said).replace("-", "−") + ".")
    return redirect("ride", file.car.pk)


@require_POST
def dip_remove(request: HttpRequest, car_id: int, dip_id: int) -> HttpResponse:
    """A drive that does not count; undo brings it back."""
    file = open_file(request.user, car_id)
    services.drop_dip(get_object_or_404(KnownDip, pk=dip_id, car=file.car), request.user)
    return redirect("ride", car_id)
