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
from rimcore import columns
from rimcore.families import FAMILIES
from rimcore.quantities.errors import CoreError
from rimcore.wheels.wheel import same_rim
from shelf import queries, services
from shelf.forms import CsvForm, OfferForm, TyreForm, WheelForm, filtered
from shelf.judging import ENDS, judge_pair
from shelf.part_views import address_of, told_of
from shell import units
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
    """A table of parts: what its columns are taken for, what was understood row by row, then the good rows."""
    file = open_file(request.user, car_id)
    if request.method == "POST" and "upload" not in request.POST and "file" not in request.FILES:
        return _read_on(request, file)
    asked = "file" in request.FILES or "upload" in request.POST
    form = CsvForm(request.POST or None, request.FILES or None) if asked else CsvForm(initial=_family_of(request))
    if request.method == "POST" and form.is_valid():
        family = form.cleaned_data["family"]
        try:
            services.sheet_of(form.text, family)
        except CoreError as error:
            form.add_error("file", error.message)
        else:
            kept = {"car": car_id, "text": form.text, "family": family, "taken": []}
            request.session[_SESSION] = kept
            return _table_page(request, file, form, kept)
    return _table_page(request, file, form, None)


def _read_on(request: HttpRequest, file: CarFile) -> HttpResponse:
    """What is done with the table that was chosen before: its columns are said, or its good rows put on the list."""
    kept = request.session.get(_SESSION)
    if kept is None or kept["car"] != file.car.pk:
        messages.error(request, "The preview is gone; choose the file again.")
        return redirect("choose-table", file.car.pk)
    if "taken" in request.POST:
        kept = {**kept, "taken": [said[:40] for said in request.POST.getlist("taken")[: columns.MOST_COLUMNS]]}
        request.session[_SESSION] = kept
    if "import" not in request.POST:
        return _table_page(request, file, CsvForm(initial={"family": kept["family"]}), kept)
    del request.session[_SESSION]
    count = services.add_rows(file.car, request.user, _rows_of(file, kept))
    messages.success(request, f"{count} part{' is' if count == 1 else 's are'} on the list.")
    return redirect(*address_of(file.car.pk, kept["family"] or "wheel"))


def _rows_of(file: CarFile, kept: dict[str, Any]) -> list[services.Row]:
    return services.read_table(kept["text"], kept["family"], kept.get("taken", []), file.car.currency)


def _table_page(request: HttpRequest, file: CarFile, form: CsvForm, kept: dict[str, Any] | None) -> HttpResponse:
    rows = [] if kept is None else _rows_of(file, kept)
    good = sum(row.said is not None for row in rows)
    sheet = None if kept is None else services.sheet_of(kept["text"], kept["family"])
    context: dict[str, Any] = {"form": form, "rows": rows, "good": good, "bad": len(rows) - good}
    if kept is not None and sheet is not None and sheet.columns is not None:
        heads = services.as_taken(sheet.columns, kept.get("taken", []), kept["family"])
        context |= {
            "columns": [
                (one, said, columns.unit_in(one, kept["family"], units.bare()))
                for one, (_, said) in zip(heads, sheet.examples, strict=True)
            ],
            "names": columns.names_of(kept["family"]),
            "left_out": columns.LEFT_OUT,
        }
    return page(request, file, "choose", "shelf/table.html", context, status_of(form))


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
