"""Keys that many calculations share: a wheel, a tyre, a spacer, a judgement."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from rimcore.limits import LIMITS
from rimcore.quantities.contract import Key, check_object, limited_key, number_key
from rimcore.quantities.errors import BadInput, CoreError
from rimcore.wheels.tyre import Tyre, parse_tyre, tyre_from_fields
from rimcore.wheels.wheel import ACCEPTED as WHEEL_ACCEPTED
from rimcore.wheels.wheel import FIELDS, Wheel, offset_from_backspacing_mm, parse_wheel

# Wheels and tyres, as text or as an object of fields, everywhere.

WHEEL_FIELDS = (
    Key("spec", "text", "the wheel on one line: " + WHEEL_ACCEPTED),
    limited_key("diameter_in", "rim diameter"),
    limited_key("width_in", "rim width between the bead seats"),
    limited_key("offset_mm", "mounting face outboard of the centre line is positive"),
    number_key("backspacing_mm", "inner lip to mounting face, instead of the offset", "mm", -200, 500),
    Key("bolts", "integer", "lug count", "", *LIMITS["bolts"].span),
    limited_key("pcd_mm", "bolt circle"),
    limited_key("bore_mm", "centre bore"),
)

TYRE_FIELDS = (
    Key("size", "text", "the size as on the sidewall"),
    number_key("section_width_mm", "nominal section width", "mm", 100, 500),
    number_key("aspect_pct", "aspect ratio", "%", 20, 100),
    number_key("rim_diameter_in", "rim diameter", "in", 8, 30),
    Key("load_index", "integer", "load index", "", 50, 150),
    Key("speed_symbol", "text", "speed symbol"),
    number_key("measured_section_mm", "caliper reading over the mounted tyre", "mm", 80, 600),
)


def _whole(parse: Callable[[str], Any], text: str) -> Any:
    """Parse a text that stands for the whole object: the field at fault is the object itself."""
    try:
        return parse(text)
    except CoreError as error:
        raise BadInput(error.message) from error


def wheel_of(value: Any) -> Wheel:
    """A wheel from text or from an object of fields.

    Source: the command line's own contract.

    Parameters
    ----------
    value : text as ``18x9 +35 5x114.3 67.1``, or an object of fields

    >>> wheel_of({"spec": "17x8 +45", "bore_mm": 66.6}).bore_mm
    66.6
    """
    if isinstance(value, str):
        parsed: Wheel = _whole(parse_wheel, value)
        return parsed
    if not isinstance(value, dict):
        raise BadInput(f"must be text or an object; accepted: {WHEEL_ACCEPTED}")
    given = check_object(value, WHEEL_FIELDS, "")
    read = parse_wheel(given["spec"]) if given["spec"] is not None else None
    fields: dict[str, Any] = {}
    for name in FIELDS:
        stated = getattr(read, name) if read is not None else None
        if stated is not None and given[name] is not None and stated != given[name]:
            raise BadInput(f"the specification says {stated:g}, the field {given[name]:g}; give one of them", name)
        fields[name] = given[name] if given[name] is not None else stated
    for name in ("diameter_in", "width_in"):
        if fields[name] is None:
            raise BadInput(
                f"is missing; accepted: a spec such as {WHEEL_ACCEPTED.split(',')[0]}, or diameter_in and width_in",
                name,
            )
    fields["offset_mm"] = _offset(fields, given["backspacing_mm"])
    return Wheel(**fields)


def _offset(fields: dict[str, Any], backspacing_mm: float | None) -> float | None:
    stated: float | None = fields["offset_mm"]
    if backspacing_mm is None:
        return stated
    found = offset_from_backspacing_mm(fields["width_in"], backspacing_mm)
    if stated is not None and abs(stated - found) > 1.0:
        raise BadInput(
            f"the backspacing means an offset of {found:+.1f} mm, but {stated:+g} is given; give one of them",
            "backspacing_mm",
        )
    return stated if stated is not None else found


def tyre_of(value: Any) -> tuple[Tyre, float | None]:
    """A tyre and its measured section, from text or from an object of fields.

    Source: the command line's own contract.

    Parameters
    ----------
    value : text as ``225/40R18 92Y``, or an object of fields

    >>> tyre_of({"size": "225/45R17", "measured_section_mm": 221})[1]
    221.0
    """
    if isinstance(value, str):
        return _whole(parse_tyre, value), None
    if not isinstance(value, dict):
        raise BadInput("must be text or an object; accepted: 225/45R17 94W, or an object with size")
    given = check_object(value, TYRE_FIELDS, "")
    if given["size"] is not None:
        return parse_tyre(given["size"]), given["measured_section_mm"]
    if given["section_width_mm"] is None and given["aspect_pct"] is None and given["rim_diameter_in"] is None:
        raise BadInput(
            "is missing; accepted: 225/45R17 94W and the like, or section_width_mm, aspect_pct and rim_diameter_in",
            "size",
        )
    for name in ("section_width_mm", "aspect_pct", "rim_diameter_in"):
        if given[name] is None:
            raise BadInput("is missing; accepted: a size, or section_width_mm, aspect_pct and rim_diameter_in", name)
    tyre = tyre_from_fields(
        given["section_width_mm"],
        given["aspect_pct"],
        given["rim_diameter_in"],
        given["load_index"],
        given["speed_symbol"],
    )
    return tyre, given["measured_section_mm"]


WHEEL_KEY = Key(
    "wheel", "any", f"wheel, as text ({WHEEL_ACCEPTED}) or an object of the keys of wheel", required=True, read=wheel_of
)
TYRE_KEY = Key(
    "tyre", "any", "tyre, as text (225/45R17 94W) or an object with size and measured_section_mm", read=tyre_of
)
NEEDED_TYRE = Key(
    "tyre",
    "any",
    "tyre, as text (225/45R17 94W) or an object with size and measured_section_mm",
    required=True,
    read=tyre_of,
)
SPACER = limited_key("spacer_mm", "spacer between hub and wheel", default=0.0)
CAMBER = limited_key("camber_deg", "negative = top inboard", default=0.0)


def judged_key(name: str, meaning: str, *more: Key) -> Key:
    return Key(
        name,
        "object",
        meaning,
        keys=(
            *more,
            Key("state", "choice", "the result", choices=("clear", "tight", "hit", "unmeasured")),
            Key("value", "number", "what was found, in unit"),
            Key("held_against", "number", "what it was checked against, in unit"),
            Key("margin", "number", "value less what is wanted, in unit"),
            Key("reason", "text", "why, in one sentence"),
            Key("basis", "text", "published source, common practice or the user's own measurement"),
            Key("inputs", "list", "inputs used"),
            Key("remedies", "list", "what would remedy it"),
        ),
    )
