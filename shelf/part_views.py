"""Choosing parts that stand one by one: rings, spacers, studs, nuts, valves, brakes and the rest."""

from __future__ import annotations

from typing import Any

from django.contrib import messages
from django.db.models import RestrictedError
from django.http import Http404, HttpRequest, HttpResponse
from django.shortcuts import get_object_or_404, redirect
from django.urls import reverse
from django.utils import timezone
from django.views.decorators.http import require_POST

from garage.car.parts import Part
from garage.file import CarFile, open_file
from garage.inhand import in_hand
from gauges import supplier
from rimcore.families import FAMILIES, PAIRED
from rimcore.quantities.errors import CoreError
from rimcore.work.quotes import undominated
from shelf import queries, services
from shelf.forms import OfferForm, example_of, kit_example
from shelf.models import Quote
from shelf.part_forms import AnyPartForm, QuoteForm
from shell.pages import page, status_of


def parts(request: HttpRequest, car_id: int, family: str) -> HttpResponse:
    """The shortlist of one family: a line to paste, and every part judged on this car."""
    if family not in FAMILIES or family in PAIRED:
        raise Http404
    file = open_file(request.user, car_id)
    form = OfferForm(family, request.POST if request.method == "POST" else None, currency=file.car.currency)
    if request.method == "POST" and form.is_valid():
        added = services.add_line(
            file.car, request.user, form.said, form.cleaned_data["name"], form.cleaned_data["line"]
        )
        told_of(request, added, form.said.unread)
        return redirect(*address_of(car_id, added.family))
    rows = queries.part_rows(file, queries.parts_of(file, family))
    context = {
        "form": form,
        "family": FAMILIES[family],
        "example": example_of(family),
        "kit_example": kit_example(),
        "families": queries.families_of(file),
        "rows": rows,
        "in_hand": in_hand(file),
        "stand_in": supplier.NAME,
    }
    return page(request, file, "choose", "shelf/parts.html", context, status_of(form))


def told_of(request: HttpRequest, added: Part, unread: tuple[str, ...]) -> None:
    """What came on the list, and what of the line was not understood."""
    messages.success(request, f"On the list: {added}.")
    if unread:
        messages.warning(request, f"Not understood, kept in its note: {', '.join(unread)}.")


def address_of(car_id: int, family: str) -> tuple[Any, ...]:
    """Where a family's list is."""
    return ("choose", car_id) if family in PAIRED else ("choose-parts", car_id, family)


def part(request: HttpRequest, car_id: int, part_id: int) -> HttpResponse:
    """What is known of one part, how it is judged, and what suppliers say."""
    file = open_file(request.user, car_id)
    found = own_part(file, part_id)
    if found.family in PAIRED:
        return redirect("candidate", car_id, found.family, found.pk)
    what = request.POST.get("what", "")
    form = AnyPartForm(request.POST if what == "part" else None, instance=found)
    if what == "part" and form.is_valid():
        services.change_part(found, request.user, form.own, form.said)
        messages.success(request, "Saved.")
        return redirect("choose-parts", car_id, found.family)
    shown = queries.part_rows(file, [own_part(file, part_id)])[0]
    context = {"form": form, "part": found, "row": shown, "family": found.declared, **quotes_context(shown.quotes)}
    return page(request, file, "choose", "shelf/part.html", context, status_of(form))


def quotes_context(quotes: list[Quote]) -> dict[str, Any]:
    """Quotes of a part with those that no other beats."""
    best = {quotes[k].pk for k in undominated([quote.core for quote in quotes], timezone.localdate())}
    return {
        "quotes": quotes,
        "best": best,
        "stand_in": supplier.NAME,
        "waiting": any(quote.answer == "waiting" for quote in quotes),
    }


def quotes(request: HttpRequest, car_id: int, part_id: int) -> HttpResponse:
    """What suppliers say of a part: keep a quote, take it, ask the stand-in."""
    file = open_file(request.user, car_id)
    found = own_part(file, part_id)
    what = request.POST.get("what", "")
    form = QuoteForm(request.POST if what == "quote" else None)
    if request.method == "POST":
        if what == "quote" and form.is_valid():
            services.note_quote(found, request.user, form.cleaned_data)
            return redirect("quotes", car_id, part_id)
        if what == "ask":
            services.ask_stand_in(found, request.user)
            messages.success(request, f"Asked: {supplier.NAME}. It answers within two minutes, or not at all.")
            return redirect("quotes", car_id, part_id)
        if what == "look":
            came = services.look_for_answers(found, request.user)
            messages.success(
                request, f"{came} answer{'' if came == 1 else 's'} came." if came else "No answer is there yet."
            )
            return redirect("quotes", car_id, part_id)
        if what in ("take", "remove"):
            return _do_quote(request, car_id, found, what)
    name, *rest = address_of(car_id, found.family)
    context = {
        "form": form,
        "part": found,
        "back": reverse(name, args=rest),
        **quotes_context(list(found.quotes.all())),
    }
    return page(request, file, "choose", "shelf/quotes.html", context, status_of(form))


def _do_quote(request: HttpRequest, car_id: int, found: Part, what: str) -> HttpResponse:
    number = request.POST.get("quote", "")
    quote = get_object_or_404(Quote, pk=int(number) if number.isdecimal() and len(number) < 18 else 0, part=found)
    if what == "remove":
        services.remove_quote(quote, request.user)
        return redirect("quotes", car_id, found.pk)
    try:
        services.take_quote(quote, request.user)
    except CoreError as error:
        messages.error(request, f"Not taken: {error.message}.")
    else:
        if quote.is_stale:
            messages.warning(
                request, f"Taken, but it stood only until {quote.until:%-d %b %Y}: ask again before you order."
            )
    return redirect("quotes", car_id, found.pk)


@require_POST
def part_do(request: HttpRequest, car_id: int, part_id: int, what: str) -> HttpResponse:
    """Duplicate, pin, take off the list."""
    file = open_file(request.user, car_id)
    found = own_part(file, part_id)
    if what == "duplicate":
        copy = services.duplicate_part(found, request.user)
        return redirect("part", car_id, copy.pk)
    if what == "pin":
        services.pin_part(found, request.user)
    elif what == "remove":
        try:
            services.remove_candidate(found, request.user)
            messages.success(request, f"{found} is off the list.")
        except RestrictedError:
            messages.error(request, f"{found} is in a build; take it out there first.")
    else:
        raise Http404
    return redirect(*address_of(car_id, found.family))


def own_part(file: CarFile, part_id: int) -> Part:
    """A part of the car's list, else 404."""
    found: Part = get_object_or_404(Part, pk=part_id, car=file.car, listed=True)
    return found
