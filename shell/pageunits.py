"""A page's sentences and labels in a person's units: text is read as the core wrote it, what somebody typed stays.

What is inside an element of the class ``as-typed`` (somebody's own words, a trade convention, a formula as it was
worked
out) stays, and so do fields, scripts and styles.
"""

from __future__ import annotations

import re

from rimcore.quantities.prose import WRITTEN, Units, in_units, one_in_units

_TOKEN = re.compile(r"(<[^>]*>)")
_TAG = re.compile(r"<(/?)([a-zA-Z][\w-]*)")
_ATTRIBUTE = re.compile(r"(\b(?:aria-label|title|placeholder|aria-valuetext|data-said)=\")([^\"]*)(\")")
_STAYS = re.compile(r"class=\"[^\"]*\bas-typed\b")
_NEVER = frozenset(("script", "style", "textarea"))
_VOID = frozenset(
    ("input", "br", "img", "hr", "meta", "link", "path", "line", "circle", "rect", "use", "polyline", "polygon")
)
_TRAIL = re.compile(
    r"^(?P<gap>[\s\u2009\u00a0\u202f]*)(?P<unit>"
    + "|".join(re.escape(one) for one in sorted(WRITTEN, key=len, reverse=True))
    + r")(?![\w/·²³°])"
)
_ENDS = re.compile(r"(?:(?<![\w.°])[+\-−]\s?)?\d[\d\u2009\u00a0\u202f]*(?:\.\d+)?\s*$")
#: tags that may stand between a number and its unit
_BETWEEN = frozenset(("small", "span", "b", "tspan", "button", "strong"))


def page_in_units(html: str, units: Units) -> str:
    """A page with its figures in other units.

    Examples
    --------
    >>> inch = Units({"length": "in"})
    >>> page_in_units('<p title="at 10 mm">wants 3 mm</p><q class="as-typed">3 mm</q><b>25.4</b><small> mm</small>', inch)
    '<p title="at 0.39 in">wants 0.12 in</p><q class="as-typed">3 mm</q><b>1.000</b><small> in</small>'
    """
    tokens = _TOKEN.split(html)
    skipped, depth = "", 0
    last = -1
    for place, token in enumerate(tokens):
        if place % 2:
            tag = _TAG.match(token)
            if tag is None:
                continue
            closing, name = tag[1], tag[2].lower()
            if skipped:
                if name == skipped:
                    depth += -1 if closing else 0 if token.endswith("/>") else 1
                    if not depth:
                        skipped, last = "", -1
                continue
            if name not in _BETWEEN:
                last = -1
            if (
                not closing
                and name not in _VOID
                and not token.endswith("/>")
                and (name in _NEVER or _STAYS.search(token))
            ):
                skipped, depth = name, 1
                continue
            if '="' in token:
                tokens[place] = _ATTRIBUTE.sub(lambda found: found[1] + in_units(found[2], units) + found[3], token)
            continue
        if skipped or not token:
            continue
        if last >= 0 and (trail := _TRAIL.match(token)) is not None:
            token = _joined(tokens, last, trail, units) + token[trail.end() :]
        tokens[place] = in_units(token, units)
        if token.strip():
            last = place if _ENDS.search(tokens[place]) else -1
    return "".join(tokens)


def _joined(tokens: list[str], number_at: int, trail: re.Match[str], units: Units) -> str:
    """A unit whose number stands in an element before it; both are put right, and the unit is given back."""
    text = tokens[number_at]
    number = _ENDS.search(text)
    said = one_in_units(number[0].strip(), trail["unit"], units) if number is not None else None
    if number is None or said is None:
        return trail[0]
    tokens[number_at] = text[: number.start()] + said[0]
    return f"{trail['gap']}{said[1]}"
