"""A code for a label: an address as a drawing that a telephone reads."""

from __future__ import annotations

import io

import segno
from django.utils.safestring import mark_safe


def code_of(address: str) -> str:
    """The code of an address as SVG, safe in a page."""
    drawn = io.BytesIO()
    segno.make(address, error="m").save(
        drawn, kind="svg", xmldecl=False, svgns=True, scale=3, border=2, omitsize=True, svgclass="code", lineclass=None
    )
    return mark_safe(drawn.getvalue().decode())  # noqa: S308  drawn here
