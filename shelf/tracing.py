"""Tracing a tyre from a photographed card: the picture, the clicked points, the outline they make."""

from __future__ import annotations

from typing import Any

from django.contrib import messages
from django.http import FileResponse, HttpRequest, HttpResponse
from django.shortcuts import get_object_or_404, redirect

from garage.car.assemble import points_of
from garage.car.parts import Tyre
from garage.file import open_file
from rimcore.quantities.errors import CoreError
from rimcore.well.draw.scene import outline_scene
from rimcore.wheels.outline import NOMINAL_SIDE_MM
from rimcore.wheels.traced import TRACED_SIDE_MM, traced
from rimcore.wheels.tyre import parse_tyre
from shelf.cards import TraceForm, built_in, keep_card, keep_trace
from shelf.models import Card
from shell.pages import page, status_of
from shell.pictures import serve
from shell.pixels import uploaded


def trace(request: HttpRequest, car_id: int, tyre_id: int) -> HttpResponse:
    """Upload the card's picture, click its edge, see the outline beside the one from the size."""
    file = open_file(request.user, car_id)
    tyre = get_object_or_404(Tyre, pk=tyre_id, car=file.car)
    card = Card.objects.filter(tyre=tyre).select_related("tyre").first()
    picture, kept = uploaded(request, lambda raw: keep_card(tyre, raw))
    if kept:
        return redirect("trace", car_id, tyre_id)
    form = TraceForm(file, card, request.POST if request.POST.get("what") == "points" else None) if card else None
    if card is not None and form is not None and form.is_valid():
        keep_trace(card, request.user, form.cleaned_data)
        messages.success(request, "The traced outline is kept; every gap with this tyre is checked for it.")
        return redirect("trace", car_id, tyre_id)
    context = {
        "tyre": tyre,
        "nominal_mm": NOMINAL_SIDE_MM,
        "card": card,
        "picture": picture,
        "form": form,
        **_result(tyre),
    }
    return page(
        request,
        file,
        "choose",
        "shelf/trace.html",
        context,
        status_of(*(one for one in (picture, form) if one is not None)),
    )


def _result(tyre: Tyre) -> dict[str, Any]:
    """Traced and built-in outline side by side, and where they differ most."""
    profile = points_of(tyre.profile)
    if profile is None:
        return {"scene": None}
    plain = built_in(tyre, tyre.profile_rim_in or parse_tyre(tyre.size).measuring_rim_in)
    try:
        found = traced(plain, profile)
    except CoreError as error:
        return {"scene": None, "problem": error.message}
    return {
        "scene": outline_scene(plain, found),
        "section": found.section_mm,
        "from_size": plain.section_mm,
        "crown": found.crown_mm,
        "inner": -min(across for across, _ in profile),
        "outer": max(across for across, _ in profile),
        "count": len(profile),
        "side": TRACED_SIDE_MM,
    }


def card_picture(request: HttpRequest, car_id: int, tyre_id: int) -> FileResponse:
    """The picture of a card, for its owner alone."""
    file = open_file(request.user, car_id)
    card = get_object_or_404(Card, tyre_id=tyre_id, tyre__car=file.car)
    return serve(card.image)
