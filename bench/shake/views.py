"""The shake finder."""

from __future__ import annotations

from typing import Any

from django.http import HttpRequest, HttpResponse

from bench.shake.forms import ShakeForm
from garage.file import CarFile, open_file
from garage.inhand import as_it_stands
from rimcore.quantities.errors import CoreError
from rimcore.quantities.judgement import Judgement
from rimcore.well.judge.fitment import both_ends
from rimcore.wheels.shake import find_shake
from shell.pages import page, status_of


def shake(request: HttpRequest, car_id: int) -> HttpResponse:
    """Ranks the causes of a shake and says the next test that separates them best."""
    file = open_file(request.user, car_id)
    form = ShakeForm(file, request.GET if "felt" in request.GET else None)
    answer, diameter = None, _diameter_mm(file)
    if form.is_bound and form.is_valid() and diameter is not None:
        values = form.cleaned_data
        try:
            answer = find_shake(
                low_kmh=values["low_kmh"],
                high_kmh=values["high_kmh"],
                diameter_mm=diameter,
                felt=values["felt"],
                when=values["when"],
                new_wheels=values["new_wheels"],
                tried=values["tried"],
                evidence=evidence(file),
            )
        except CoreError as error:
            form.add_error(None, error.message)
    context = {"form": form, "answer": answer, "diameter": diameter, "evidence": _said(file)}
    return page(request, file, "check", "bench/shake/shake.html", context, status_of(form))


def _diameter_mm(file: CarFile) -> float | None:
    fitted = file.fitted(file.current, "F")
    return fitted.tyre.diameter_mm if fitted else None


#: judgements of the car that speak for a cause: state -> factor (common practice)
_SPEAKS = {
    "hub.bore": ("ring", {"hit": 2.5, "tight": 2.0, "clear": 0.2}),
    "hub.seat": ("seat", {"hit": 3.0, "clear": 0.7}),
}


def evidence(file: CarFile) -> dict[str, float]:
    """What the car's own judgements say of the causes."""
    found: dict[str, float] = {}
    for judged in _standing(file):
        cause, factors = _SPEAKS.get(judged.code, ("", {}))
        if cause and judged.state in factors:
            found[cause] = max(found.get(cause, 0.0), factors[judged.state])
    return found


def _said(file: CarFile) -> list[Any]:
    return [judged for judged in _standing(file) if judged.code in _SPEAKS and judged.state != "unmeasured"]


def _standing(file: CarFile) -> tuple[Judgement, ...]:
    """The shake is felt on the car as it stands, not in the build in hand."""
    return both_ends({end: as_it_stands(file, end) for end in ("F", "R")})
