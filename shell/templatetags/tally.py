"""Tags and filters that every template has."""

from __future__ import annotations

import html
from functools import cache
from itertools import count
from typing import Any

from django import template
from django.forms import Select
from django.template.defaultfilters import capfirst
from django.utils.html import format_html
from django.utils.safestring import SafeString, mark_safe

from rimcore.quantities.prose import bare_in_units, unit_in_units
from rimcore.quantities.units import write_quantity
from rimcore.tables.facts import CORNER_NAMES
from rimcore.well.draw.scene import change_text
from rimcore.well.read.stations import STATIONS
from shell import board, figures, units
from shell.once import CSRF_HOLDER, HOLDER

register = template.Library()

STATE_WORDS = {"clear": "clear", "tight": "tight", "hit": "hit", "unmeasured": "unmeasured"}

_SHAPES = {
    "clear": '<circle cx="8" cy="8" r="6" fill="none" stroke="currentColor" stroke-width="1.8"/><circle cx="8" cy="8" r="2.4" fill="currentColor"/>',
    "tight": '<path d="M1 3 7 8 1 13ZM15 3 9 8 15 13Z" fill="currentColor"/>',
    "hit": '<rect x="1.5" y="1.5" width="9" height="9" fill="none" stroke="currentColor" stroke-width="1.8"/><rect x="6" y="6" width="9" height="9" fill="currentColor"/>',
    "unmeasured": '<circle cx="8" cy="8" r="6" fill="none" stroke="currentColor" stroke-width="1.8" stroke-dasharray="3.4 3"/>',
}


@register.simple_tag
@cache
def state_icon(state: str, word: bool = False) -> SafeString:
    """The state's shape; with its word beside it, or for screen readers alone."""
    if state not in _SHAPES:
        return mark_safe("")
    shape = mark_safe(_SHAPES[state])  # noqa: S308  constant markup
    label = format_html('<span class="{}">{}</span>', "state-word" if word else "visually-hidden", STATE_WORDS[state])
    return format_html(
        '<span class="state st-{}"><svg viewBox="0 0 16 16" width="16" height="16" aria-hidden="true" focusable="false">{}</svg>{}</span>',
        state,
        shape,
        label,
    )


@register.simple_tag
def state_shape(state: str) -> SafeString:
    """The bare shape, for use inside another SVG."""
    return mark_safe(_SHAPES.get(state, ""))  # noqa: S308  constant markup


@register.simple_tag(takes_context=True)
def qty(context: template.Context, value: float | None, kind: str, sign: bool = False) -> SafeString:
    """A figure in the person's unit, the unit smaller."""
    shown, unit = figures.figure(value, kind, _preferences(context), sign)
    kept = " as-typed" if kind == "offset" else ""
    return format_html(
        '<span class="fig{}">{}<small>{}{}</small></span>', kept, shown, "" if unit == "°" else "\u2009", unit
    )


@register.simple_tag(takes_context=True)
def qty_text(context: template.Context, value: float | None, kind: str, sign: bool = False) -> str:
    """The same as plain text."""
    shown, unit = figures.figure(value, kind, _preferences(context), sign)
    return shown + ("" if unit == "°" else "\u2009") + unit


@register.simple_tag
def qty_plain(value: float | None, kind: str) -> str:
    """A kept figure for a field: in the person's unit, with plain signs, so that it is read back as it is."""
    if value is None:
        return ""
    return write_quantity(float(value), kind, units.unit(kind), 1)


@register.filter
def money(minor: int | None, currency: str = "") -> str:
    """Minor units as an amount."""
    return figures.amount(minor, currency)


@register.filter
def num(value: float | str | None, places: int = 1) -> str:
    """A plain number with a real minus; a dash for what a template does not find."""
    return "–" if value is None or value == "" else figures.number(float(value), places)


@register.filter
def signed(value: float | str | None, places: int = 1) -> str:
    """A number with its sign."""
    return "–" if value is None or value == "" else figures.number(float(value), places, sign=True)


@register.filter
def magnitude(value: float | None) -> str:
    """A whole number without its sign."""
    return "–" if value is None else figures.number(abs(value), 0)


@register.filter
def percent(share: float) -> str:
    """A share as whole per cent."""
    return f"{share:.0%}".replace("%", "\u2009%")


@register.filter
def station_name(code: str) -> str:
    """The name of a station; what is no station is somewhere not measured."""
    return STATIONS[code].name if code in STATIONS else "somewhere not measured"


@register.filter
def corner_name(corner: str) -> str:
    """FL -> front left."""
    return CORNER_NAMES.get(corner, corner)


@register.filter
def change(judgement: Any) -> str:
    """``31 → 24`` of a judgement."""
    return change_text(judgement)


@register.filter
def get(mapping: Any, key: Any) -> Any:
    """An item of a mapping."""
    return mapping.get(key) if mapping else None


@register.simple_tag(takes_context=True)
def csrf_token(context: template.Context) -> SafeString:
    """Hidden fields of a form: Django's own token, and one by which a form that is pressed twice acts once."""
    known = context.get("csrf_token")
    if not known or known == "NOTPROVIDED":
        return mark_safe("")
    return format_html(
        '<input type="hidden" name="csrfmiddlewaretoken" value="{}"><input type="hidden" name="once" value="{}">',
        CSRF_HOLDER,
        HOLDER,
    )


@register.simple_tag(takes_context=True)
def new_id(context: template.Context, prefix: str = "k") -> str:
    """An id that is used once on the page."""
    request = context["request"]
    if not hasattr(request, "_ids"):
        request._ids = count(1)
    return f"{prefix}{next(request._ids)}"


_KNOWN = (
    '<button type="button" class="known" popovertarget="{id}" aria-label="{name}: {text}{unit}. How is this known?">{text}</button>'
    '<div id="{id}" class="known-card" popover role="dialog" aria-label="How is this known: {name}">'
    '<h3>{name}{where} {state}</h3><p class="mb-1">{reason}.</p><dl>{rows}</dl></div>'
)


#: sums are worked out and not judged: their card names no state
SUMS = ("sum", "mass.", "work.")


@register.simple_tag(takes_context=True)
def known(context: template.Context, judgement: Any, text: Any = "") -> SafeString:
    """A figure that can be clicked for how it is known. Written here, not in a template: a page holds dozens."""
    rows = "".join(
        [
            f"<dt>{html.escape(name)}</dt>{_DD[name == WORKED]}{html.escape(said)}</dd>"
            for name, said in _known_rows(judgement)
        ]
    )
    found = _KNOWN.format(
        id=new_id(context, "known-"),
        name=html.escape(judgement.name),
        text=html.escape(_said(judgement) if text in (None, "") else str(text)),
        unit=html.escape(
            f" {theirs(judgement.unit)}"
            if judgement.unit and text in (None, "") and judgement.value is not None
            else ""
        ),
        where=html.escape(f", {judgement.where}" if judgement.where else ""),
        state="" if judgement.code.startswith(SUMS) else state_icon(judgement.state, True),
        reason=html.escape(capfirst(judgement.reason)),
        rows=rows,
    )
    return mark_safe(found)  # noqa: S308  every part is escaped above


def _said(judgement: Any) -> str:
    """A judged figure, or what it was and is, in the person's unit."""
    return bare_in_units(change_text(judgement), judgement.unit, units.current())


@register.filter
def own(text: Any) -> SafeString:
    """Somebody's own words: figures in them stay as they were typed."""
    return format_html('<span class="as-typed">{}</span>', text)


@register.filter
def theirs(unit: str) -> str:
    """The person's unit in the place of one of the core's."""
    return unit_in_units(unit, units.current())


@register.filter
def drawn(text: Any, unit: str = "mm") -> str:
    """A figure on a drawing whose unit is said beside it; of millimetres where nothing else is said."""
    return bare_in_units(str(text), unit, units.current())


@register.simple_tag(takes_context=True)
def known_qty(context: template.Context, judgement: Any) -> SafeString:
    """A judged figure in the person's unit, to be clicked for how it is known; other units as they are."""
    unit = theirs(judgement.unit)
    return format_html("{}<small>{}{}</small>", known(context, judgement), "" if unit == "°" else "\u2009", unit)


#: a formula that multiplies is shown with the core's figures: put into other units one by one they would not come to
#: the result
WORKED = "Formula, in mm, kg, N"
_DD = {True: '<dd class="as-typed">', False: "<dd>"}


def _multiplies(formula: str) -> bool:
    return not units.current().are_the_cores and any(sign in formula for sign in "×÷√²·")


def _known_rows(judgement: Any) -> list[tuple[str, str]]:
    """Figure, margin, formula, basis, every input with its source and date, what would remedy it."""
    rows = []
    if judgement.value is not None:
        uncertain = f" ± {num(judgement.uncertainty)}" if judgement.uncertainty else ""
        rows.append(("Figure", f"{change(judgement)} {judgement.unit}{uncertain}"))
    if judgement.held_against is not None:
        rows.append(
            (
                "Held against",
                f"{num(judgement.held_against)} {judgement.unit}; margin {signed(judgement.margin)} {judgement.unit}",
            )
        )
    if judgement.formula:
        rows.append((WORKED if _multiplies(judgement.formula) else "Formula", judgement.formula))
    rows.append(("Basis", judgement.basis))
    rows += [(used.name, "; ".join(filter(None, (used.value, used.source, used.date)))) for used in judgement.inputs]
    if judgement.remedies:
        rows.append(("Would remedy", "; ".join(judgement.remedies)))
    return rows


@register.inclusion_tag("shell/board.html", takes_context=True)
def tally_board(context: template.Context, car_file: Any) -> dict[str, Any]:
    """The numbers that are always in sight."""
    return {"cells": board.cells(car_file), "file": car_file, "in_hand": board.name_in_hand(car_file)}


@register.inclusion_tag("shell/spine.html")
def spine(car_file: Any, here: str) -> dict[str, Any]:
    """The six stages on a steel rule."""
    stages = board.stages(car_file, here)
    top, step = 54, 112
    marks = [
        {
            "stage": stage,
            "y": top + place * step,
            "ink": round(stage.share * step),
            "text_y": top + place * step + 6,
            "number_y": top + place * step + 24,
        }
        for place, stage in enumerate(stages)
    ]
    small = [round(9.2 + 5.6 * i, 1) for i in range(129)]
    return {"marks": marks, "small": small}


def _preferences(context: template.Context) -> Any:
    car_file = context.get("file")
    return car_file.preferences if car_file is not None else context.get("preferences")


@register.simple_tag
def form_field(field: Any) -> SafeString:
    """A field's control in the look of all forms; a refused one is marked and tied to what is said of it."""
    select = isinstance(field.field.widget, Select)
    classes = ("form-select" if select else "form-control") + (" is-invalid" if field.errors else "")
    marked = {"aria-invalid": "true", "aria-describedby": f"{field.id_for_label}_error"} if field.errors else {}
    return SafeString(field.as_widget(attrs={"class": classes} | marked))
