"""The switch between benches, on every page of them."""

from __future__ import annotations

from typing import Any

from django import template

from bench.switch import switch

register = template.Library()


@register.inclusion_tag("bench/frame/benches.html", takes_context=True)
def benches(context: template.Context) -> dict[str, Any]:
    """All benches of the page's car, the worst first; ``here`` is the one that is open."""
    return {"benches": switch(context["file"]), "here": context.get("here")}
