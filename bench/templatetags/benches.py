"""The switch between benches, on every page of them."""

from __future__ import annotations

from typing import Any

from django import template

from bench.switch import switch
from planner.chosen import build_in_hand
from planner.parts import of_levers
from rimcore.benches import BENCHES

register = template.Library()


@register.inclusion_tag("bench/frame/benches.html", takes_context=True)
def benches(context: template.Context) -> dict[str, Any]:
    """All benches of the page's car, the worst first; ``here`` is the one that is open."""
    return {"benches": switch(context["file"]), "here": context.get("here")}


@register.inclusion_tag("bench/frame/drags.html", takes_context=True)
def lever_needs(context: template.Context, here: str) -> dict[str, Any]:
    """What the levers of a bench drag along in the build in hand, and whether it is in it already."""
    build = build_in_hand(context["file"])
    codes = {lever.code for lever in BENCHES[here].levers}
    rows = of_levers(context["file"], build, codes) if build is not None else []
    missing = sum(row.choice is None and row.need.needed for row in rows)
    return {
        "file": context["file"],
        "build": build,
        "rows": rows,
        "missing": missing,
        "back": context["request"].path,
        "csrf_token": context.get("csrf_token"),
    }
