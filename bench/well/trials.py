"""Trial fits and traces of rubs at one corner."""

from __future__ import annotations

from typing import Any

from django.contrib import messages
from django.http import HttpRequest, HttpResponse
from django.shortcuts import get_object_or_404, redirect
from django.views.decorators.http import require_POST

from bench.well.forms import RubForm, SightingForm, TrialForm, obstacles
from bench.well.pose import axle_or_404
from bench.well.setting import start
from garage.file import CarFile, open_file
from garage.readings import services
from garage.readings.models import Rub, Sighting, Trial
from rimcore.tables.facts import CORNER_NAMES
from rimcore.well.judge import sightings as seeing
from rimcore.well.read.stations import STATIONS
from shell.pages import page, status_of
from shell.people import called


def trial(request: HttpRequest, car_id: int, corner: str) -> HttpResponse:
    """Record a trial fit; the model is corrected from it."""
    file = open_file(request.user, car_id)
    axle_or_404(file, corner)
    bound = request.POST if request.method == "POST" else None
    form = TrialForm(bound, initial=_initial(file, corner, request))
    rows = [SightingForm(reading, file, bound, prefix=f"s{reading.pk}") for reading in obstacles(file, corner)]
    if bound is not None and form.is_valid() & all([row.is_valid() for row in rows]):  # noqa: C419  every row shows its own errors
        seen = [row for row in rows if row.cleaned_data["seen"]]
        if seen:
            made = _keep(file, corner, form.cleaned_data, seen)
            messages.success(
                request, f"Trial fit kept with {made} sighting{'s' if made != 1 else ''}; the gaps are checked anew."
            )
            return redirect("trial", car_id, corner)
        form.add_error(None, "Say what was seen at one place at least: it touches, paper slides through, or a gap.")
    context = {
        "corner": corner,
        "form": form,
        "rows": rows,
        "past": _past(file, corner),
        "groups": _groups(file, corner),
        "rub_form": RubForm(file, corner),
    }
    return page(request, file, "check", "bench/well/trial.html", context, status_of(form, *rows))


def _initial(file: CarFile, corner: str, request: HttpRequest) -> dict[str, Any]:
    user: Any = request.user
    values = start(file, corner[0], None, None) or {}
    wheel = f"{values['diameter']:g}x{values['width']:g} {values['offset']:+g}" if values else ""
    present = file.on(file.current, corner[0])
    return {
        "wheel": wheel,
        "who": called(user),
        "spacer_mm": values.get("spacer") or None,
        "camber_deg": present.camber_deg if present else None,
        "ride_drop_mm": present.drop_at(corner) if present else None,
    }


def _keep(file: CarFile, corner: str, values: dict[str, Any], rows: list[SightingForm]) -> int:
    sightings = []
    for row in rows:
        cleaned = row.cleaned_data
        gap, sigma = seeing.SEEN_MM.get(cleaned["seen"], (cleaned["gap_mm"], 1.0))
        sightings.append(
            Sighting(
                reading=row.reading,
                seen=cleaned["seen"],
                gap_mm=gap,
                typed=str(row["gap_mm"].value() or ""),
                uncertainty_mm=sigma,
                steer_deg=cleaned.get("steer_deg") or 0.0,
                travel_mm=cleaned.get("travel_mm") or 0.0,
            )
        )
    if values.get("camber_deg") is None:
        # What was held on the hub stood as the car does.
        present = file.on(file.current, corner[0])
        values["camber_deg"] = (present.camber_deg if present else None) or 0.0
    services.keep_trial(file, Trial(car=file.car, corner=corner, **values), sightings)
    return len(sightings)


def _past(file: CarFile, corner: str) -> list[tuple[Trial, list[dict[str, Any]]]]:
    """Trials of a corner with what was predicted, seen, and whether they agree."""
    moved = {(r.corner, r.code): r for r in file.core_readings()}
    found = []
    for made in file.trials:
        if made.corner != corner:
            continue
        rows = []
        for one in made.sightings.all():
            group = file.corrections.group_of(one.pk)
            core = moved.get((corner, one.reading.code))
            rows.append(
                {
                    "one": one,
                    "name": STATIONS[one.reading.code].name,
                    "conflict": file.corrections.conflict(one.pk),
                    "group": group,
                    "counts": group is not None,
                    "moved": core.moved_mm if core and any(core.moved_mm) else None,
                    "error": one.gap_mm - one.predicted_mm
                    if one.gap_mm is not None and one.predicted_mm is not None
                    else None,
                }
            )
        found.append((made, rows))
    return found


def _groups(file: CarFile, corner: str) -> list[tuple[seeing.Group, list[str]]]:
    """How well the trial fits of a corner agree with its readings, and which obstacles each fit holds."""
    known = file.corrections.readings
    found = []
    for group in file.corrections.found.groups:
        here = [known[place] for place in group.readings]
        if any(reading.corner == corner for reading in here):
            found.append(
                (
                    group,
                    [
                        f"{reading.name}" if reading.corner == corner else f"{reading.name}, {reading.corner}"
                        for reading in here
                    ],
                )
            )
    return found


@require_POST
def trial_remove(request: HttpRequest, car_id: int, trial_id: int) -> HttpResponse:
    """Take a trial fit away; the model goes back to the readings."""
    file = open_file(request.user, car_id)
    found = get_object_or_404(Trial, pk=trial_id, car=file.car)
    corner = found.corner
    services.remove_trial(found)
    messages.success(request, "The trial fit is removed; gaps rest on the readings again.")
    return redirect("trial", car_id, corner)


@require_POST
def rub(request: HttpRequest, car_id: int, corner: str) -> HttpResponse:
    """Keep a trace of a rub; it stands on the map and is held against the prediction."""
    file = open_file(request.user, car_id)
    axle_or_404(file, corner)
    form = RubForm(file, corner, request.POST)
    if form.is_valid() and file.current is not None:
        services.note_rub(file, corner, form.cleaned_data)
        messages.success(request, f"Rub at the {CORNER_NAMES[corner]} kept; it stands on the map.")
        return redirect("check", car_id, corner)
    rows = [SightingForm(reading, file, prefix=f"s{reading.pk}") for reading in obstacles(file, corner)]
    context = {
        "corner": corner,
        "form": TrialForm(initial=_initial(file, corner, request)),
        "rows": rows,
        "past": _past(file, corner),
        "groups": _groups(file, corner),
        "rub_form": form,
    }
    return page(request, file, "check", "bench/well/trial.html", context, 422)


@require_POST
def rub_remove(request: HttpRequest, car_id: int, rub_id: int) -> HttpResponse:
    """Take a trace away."""
    file = open_file(request.user, car_id)
    found = get_object_or_404(Rub, pk=rub_id, car=file.car)
    corner = found.corner
    services.remove_rub(found)
    return redirect("check", car_id, corner)
