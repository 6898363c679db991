"""Choosing: shortlists, every pair judged at once."""

from __future__ import annotations

from typing import Any

from django.contrib import messages
from django.core.paginator import Paginator
from django.db.models import RestrictedError
from django.http import Http404, HttpRequest, HttpResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.urls import reverse
from django.views.decorators.http import require_POST

from garage.car.parts import Tyre, Wheel
from garage.file import CarFile, open_file
from garage.inhand import builds_named, in_hand
from rimcore.families import FAMILIES
from rimcore.quantities.errors import CoreError
from rimcore.wheels.wheel import same_rim
from shelf import queries, services
from shelf.forms import CsvForm, OfferForm, TyreForm, WheelForm, filtered
from shelf.judging import ENDS, judge_pair
from shelf.part_views import address_of, told_of
from shell.pages import page, status_of

_SESSION = "shelf-table"
#: candidates of a kind on one page
ROWS = 50


def choose(request: HttpRequest, car_id: int) -> HttpResponse:
    """The shortlist: a line to paste, the filter, and every pair judged."""
    file = open_file(request.user, car_id)
    form = OfferForm("", request.POST if request.method == "POST" else None, currency=file.car.currency)
    if request.method == "POST" and form.is_valid():
        added = services.add_line(
            file.car, request.user, form.said, form.cleaned_data["name"], form.cleaned_data["line"]
        )
        told_of(request, added, form.said.unread)
        return redirect(*address_of(car_id, added.family))
    context = {"form": form, "families": queries.families_of(file), **_listed(request, file)}
    return page(request, file, "choose", "shelf/choose.html", context, status_of(form))


def pairs(request: HttpRequest, car_id: int) -> HttpResponse:
    """The next pairs of the table; a fragment."""
    file = open_file(request.user, car_id)
    if not request.headers.get("HX-Request"):
        return redirect(reverse("choose", args=[car_id]) + "?" + request.GET.urlencode())
    return render(request, "shelf/pairs.html", {"file": file, **_listed(request, file)})


def _listed(request: HttpRequest, file: CarFile) -> dict[str, Any]:
    """Filter and the asked part of the table."""
    asked = request.GET.copy()
    start, wheels, tyres = (asked.pop(name, [""])[-1] for name in ("from", "wheels", "tyres"))
    chosen = filtered(file.car, asked or None)
    values = chosen.form.cleaned_data if chosen.is_bound and chosen.form.is_valid() else {}
    end = values.get("end") or "all"
    part = queries.part_of_table(
        file=file,
        wheels=[wheel for wheel in chosen.qs if wheel.fault is None] if values else queries.wheels_of(file),
        tyres=queries.tyres_of(file),
        end=end,
        order=values.get("order") or "margin",
        least_margin=_number(values.get("margin_min")),
        state=values.get("state") or "",
        start=int(start) if start.isdecimal() and len(start) < 8 else 0,
    )
    return {
        "filter": chosen,
        "part": part,
        "builds": builds_named(file),
        "bar_mm": queries.BAR_MM,
        "end": end,
        "query": asked.urlencode() + "&" if asked else "",
        "wheels": Paginator(queries.pinned_first(queries.wheels_of(file)), ROWS).get_page(wheels),
        "tyres": Paginator(queries.pinned_first(queries.tyres_of(file)), ROWS).get_page(tyres),
        "in_hand": in_hand(file),
    }


def _number(value: Any) -> float | None:
    return None if value is None else float(value)


def pair(request: HttpRequest, car_id: int, wheel_id: int, tyre_id: int) -> HttpResponse:
    """All judgements of one pair, worst first; a fragment."""
    file = open_file(request.user, car_id)
    wheel = get_object_or_404(Wheel, pk=wheel_id, car=file.car)
    tyre = get_object_or_404(Tyre, pk=tyre_id, car=file.car)
    end = request.GET.get("end", "all")
    if end not in ENDS or not same_rim(wheel.diameter_in, tyre.rim_diameter_in):
        raise Http404
    for kind, one in (("wheel", wheel), ("tyre", tyre)):
        if one.fault is not None:
            return redirect("candidate", car_id, kind, one.pk)
    judged = judge_pair(file, wheel, tyre, in_hand(file), end)
    context = {"pair": judged, "end": end}
    if request.headers.get("HX-Request"):
        return render(request, "shelf/pair.html", {"file": file, **context})
    return page(request, file, "choose", "shelf/pair_page.html", context)


def table(request: HttpRequest, car_id: int) -> HttpResponse:
    """A CSV file: what was understood row by row, then the import of the good rows."""
    file = open_file(request.user, car_id)
    form = (
        CsvForm(request.POST or None, request.FILES or None)
        if "file" in request.FILES or "upload" in request.POST
        else CsvForm(initial=_family_of(request))
    )
    rows: list[services.Row] = []
    if request.method == "POST" and "import" in request.POST:
        kept = request.session.pop(_SESSION, None)
        if kept is None or kept["car"] != car_id:
            messages.error(request, "The preview is gone; choose the file again.")
            return redirect("choose-table", car_id)
        family = kept.get("family", "")
        count = services.add_rows(file.car, request.user, services.read_table(kept["text"], family))
        messages.success(request, f"{count} part{' is' if count == 1 else 's are'} on the list.")
        return redirect(*address_of(car_id, family or "wheel"))
    if request.method == "POST" and form.is_valid():
        try:
            rows = services.read_table(form.text, form.cleaned_data["family"])
        except CoreError as error:
            form.add_error("file", error.message)
        else:
            request.session[_SESSION] = {"car": car_id, "text": form.text, "family": form.cleaned_data["family"]}
    good = sum(row.said is not None for row in rows)
    return page(
        request,
        file,
        "choose",
        "shelf/table.html",
        {"form": form, "rows": rows, "good": good, "bad": len(rows) - good},
        status_of(form),
    )


def _family_of(request: HttpRequest) -> dict[str, str]:
    """The family that an address asks for."""
    asked = request.GET.get("family", "")
    return {"family": asked if asked in FAMILIES else ""}


def candidate(request: HttpRequest, car_id: int, kind: str, candidate_id: int) -> HttpResponse:
    """What is known of one candidate."""
    file = open_file(request.user, car_id)
    found = _own(file.car, kind, candidate_id)
    form_class: Any = WheelForm if kind == "wheel" else TyreForm
    form = form_class(request.POST or None, instance=found)
    if request.method == "POST" and form.is_valid():
        services.change_candidate(found, request.user, form.cleaned_data)
        messages.success(request, "Saved.")
        return redirect("choose", car_id)
    return page(
        request,
        file,
        "choose",
        "shelf/candidate.html",
        {"form": form, "candidate": found, "kind": kind},
        status_of(form),
    )


@require_POST
def candidate_remove(request: HttpRequest, car_id: int, kind: str, candidate_id: int) -> HttpResponse:
    """Take a candidate off the list."""
    file = open_file(request.user, car_id)
    found = _own(file.car, kind, candidate_id)
    try:
        services.remove_candidate(found, request.user)
        messages.success(request, f"{found} is off the list.")
    except RestrictedError:
        messages.error(request, f"{found} is in a build; take it out there first.")
    return redirect("choose", car_id)


def _own(car: Any, kind: str, candidate_id: int) -> Any:
    model: Any = {"wheel": Wheel, "tyre": Tyre}.get(kind)
    if model is None:
        raise Http404
    return get_object_or_404(model, pk=candidate_id, car=car)
