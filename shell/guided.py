"""The bar of a guided first time, above the pages of its car."""

from __future__ import annotations

from typing import Any

from django.http import HttpRequest
from django.urls import NoReverseMatch, reverse

from rimcore.guides import GUIDES, Leg

#: where the session keeps which guide, on which car, at which of its pages
KEY = "guide"


def address_of(car_id: int, leg: Leg) -> str:
    """Address of a page of a guide."""
    return reverse(leg.page, args=[car_id, *leg.into])


def guided(request: HttpRequest) -> dict[str, Any]:
    """What the bar shows: which page of how many, what to do there, and the pages around it; nothing elsewhere."""
    kept = request.session.get(KEY) if hasattr(request, "session") else None
    if not isinstance(kept, dict) or not request.path.startswith(f"/car/{kept.get('car')}/"):
        return {}
    one = GUIDES.get(str(kept.get("key")))
    leg = kept.get("leg")
    if one is None or not isinstance(leg, int) or not 0 <= leg < len(one.legs):
        return {}
    try:
        here = address_of(kept["car"], one.legs[leg])
    except NoReverseMatch:
        return {}
    bar = {
        "guide": one,
        "what": one.legs[leg].what,
        "place": leg + 1,
        "count": len(one.legs),
        "car": kept["car"],
        "here": here,
        "on": request.path == here,
        "next": leg + 1 if leg + 1 < len(one.legs) else None,
        "back": leg - 1 if leg else None,
    }
    return {"guided": bar}
