"""How good is my rule: the ± of each method from the person's own repeated readings."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

from django.contrib import messages
from django.http import Http404, HttpRequest, HttpResponse
from django.shortcuts import redirect

from garage.file import CarFile, open_file
from garage.person import services
from garage.person.models import Preferences
from garage.readings.models import Reading
from rimcore.quantities.judgement import Judgement
from rimcore.well.read.repeats import ENOUGH, Scatter, judge_method, scatter
from rimcore.well.read.stations import METHOD_NAMES, METHOD_UNCERTAINTY_MM, STATIONS
from shell.pages import page


@dataclass(frozen=True)
class MethodRow:
    """A method with what is taken for it, what the person's own repeats say, and what is used now."""

    code: str
    name: str
    stated_mm: float
    found: Scatter | None
    judgement: Judgement
    own_mm: float | None

    @property
    def enough(self) -> bool:
        return self.found is not None and self.found.freedom >= ENOUGH


def repeated_sets(user: Any) -> dict[str, list[list[float]]]:
    """Lengths that the person has read more than once at one place, by method; two queries.

    Struck readings are left out.
    """
    sets: dict[str, list[list[float]]] = {}
    again: dict[tuple[Any, ...], list[Reading]] = {}
    rows = Reading.objects.filter(
        car__owner=user, struck_why="", mirrored_from__isnull=True, method__in=METHOD_UNCERTAINTY_MM
    )
    for row in rows.order_by("id"):
        kind = STATIONS.get(row.code)
        if kind is None or kind.kind != "length":
            continue
        sets.setdefault(row.method, []).extend([float(one) for one in each] for each in row.repeats)
        again.setdefault((row.method, row.car_id, row.outfit_id, *row.key), []).append(row)
    for (method, *_), here in again.items():
        for place in range(min(len(row.values) for row in here)):
            sets.setdefault(method, []).append([float(row.values[place]) for row in here])
    return sets


def method_rows(file: CarFile) -> list[MethodRow]:
    """Every method of reading a length."""
    sets = repeated_sets(file.user)
    own = file.preferences.own_doubts
    rows = []
    for code, stated in METHOD_UNCERTAINTY_MM.items():
        found = scatter(sets.get(code, []))
        rows.append(
            MethodRow(
                code, METHOD_NAMES[code], stated, found, judge_method(METHOD_NAMES[code], stated, found), own.get(code)
            )
        )
    return rows


def rules(request: HttpRequest, car_id: int) -> HttpResponse:
    """The card of one's rules; one's own ± can be used from now on."""
    file = open_file(request.user, car_id)
    rows = method_rows(file)
    if request.method == "POST":
        row = next((row for row in rows if row.code == request.POST.get("method")), None)
        what = request.POST.get("what", "")
        if row is None or what not in ("own", "stated") or (what == "own" and not row.enough):
            raise Http404
        preferences = (
            file.preferences if file.preferences.pk else Preferences.objects.get_or_create(user=request.user)[0]
        )
        doubt = services.own_doubt_mm(row.found.doubt) if what == "own" and row.found is not None else None
        services.keep_own_doubt(preferences, row.code, doubt)
        said = f"± {doubt:g} mm, your own" if doubt is not None else f"± {row.stated_mm:g} mm, as stated"
        messages.success(request, f"{row.name.capitalize()}: {said}, from the next reading on.")
        return redirect("rules", car_id)
    return page(request, file, "measure", "garage/rules.html", {"rows": rows, "enough": ENOUGH})
