"""A line as shops write it: money, mass, lead time, link and end anywhere in it; inches, °F, psi, quarts as they come.

Knows nothing of families: what is left is theirs to read.
"""

from __future__ import annotations

import re
from collections.abc import Mapping
from dataclasses import dataclass, field
from typing import Any

from rimcore.quantities.errors import BadInput, CoreError
from rimcore.quantities.units import convert, parse_quantity
from rimcore.wheels import paste

_N = r"\d+(?:[.,]\d+)?"
#: whole, fraction or mixed number of inches
_INCHES = rf"(?:\d+[\s-]+\d+/\d+|\d+/\d+|{_N})"
_INCH = r"(?:inches\b|inch\b|in\b(?!\s+stock)|\"|″|”|'')"
_JOIN = r"(?:\s*(?:x|×|→|->|–|-|/|to|by)\s*)"
_MM = r"(?:millimet(?:re|er)s?\b|mm\b|cm\b)"
_AMOUNT = r"\d{1,3}(?:[ ,.]\d{3})+(?:[.,]\d{1,2})?(?!\d)|\d+(?:[.,]\d{1,2})?(?!\d)"
_SIGN = r"[$€£¥]|(?:US|CA|AU|NZ|C|A)\$"
_CODE = r"(?:USD|EUR|GBP|CAD|AUD|NZD|CHF|SEK|NOK|DKK|PLN|CZK|HUF|JPY|dollars?|euros?|pounds sterling)"
_EACH = r"(?:\s*(?:each|a\s+piece|apiece|ea\.?|/\s*(?:pair|set|each)|(?:a|per|the)\s+(?:pair|set)))?"
_MONEY = re.compile(
    rf"(?:price[:\s]*)?(?:(?P<sign>{_SIGN}|\b{_CODE})\s*(?P<after>{_AMOUNT})|(?<![\w.,/])(?P<before>{_AMOUNT})\s*"
    rf"(?P<sign_>[$€£¥](?!\s?\w)|{_CODE}\b(?!\s*\d))){_EACH}",
    re.IGNORECASE,
)
_LINK = re.compile(r"(?:https?://|www\.)[^\s<>\"',;|]+", re.IGNORECASE)
_LEAD = re.compile(
    r"(?:(?:ships?|delivery|delivered|lead(?:\s+time)?|ready|available)\s*(?:in|within|time)?[:\s]*)?(?:about\s+|in\s+)?"
    r"\b(?:(?P<from>\d{1,4})\s*(?:-|–|to)\s*)?(?P<lead>\d{1,4}(?:[.,]\d)?)\s*(?P<unit>day|week|wk|month)s?\b"
    r"(?:\s*(?:lead(?:\s+time)?|delivery))?",
    re.IGNORECASE,
)
_STOCK = re.compile(r"\b(?:in\s+stock|ex\s+stock|on\s+the\s+shelf)\b", re.IGNORECASE)
_MASS = re.compile(
    rf"(?:(?:weight|weighs|mass)[:\s]*)?(?<![\w.,/·])(?P<mass>{_N}\s*(?:kgs?|lbs?|pounds?|oz|g)(?:\s*{_N}\s*oz)?)"
    r"(?![\w/²³·]|\s*[-·]?\s*(?:ft|in)\b|\s*/)(?:\s*(?:each|a\s+piece|ea\.?))?",
    re.IGNORECASE,
)
_MASS_CHANGE = re.compile(
    rf"(?<![\w.,/·])(?P<sign>[-−–+])\s*(?P<mass>{_N}\s*(?:kgs?|lbs?|pounds?|oz|g))(?![\w/²³·])", re.IGNORECASE
)
_END = re.compile(r"\b(?:for\s+(?:the\s+)?)?(?P<end>front|rear|fronts|rears)(?:\s+(?:axle|only))?\b", re.IGNORECASE)
_OF_SET = re.compile(r"\b(?:set\s+of\s+|x\s?)(?P<pieces>[2-8])\b|\b(?P<pair>pair)\b", re.IGNORECASE)
_CURRENCY = {
    "US$": "USD",
    "€": "EUR",
    "£": "GBP",
    "¥": "JPY",
    "CA$": "CAD",
    "C$": "CAD",
    "AU$": "AUD",
    "A$": "AUD",
    "NZ$": "NZD",
    "DOLLAR": "$",
    "EURO": "EUR",
    "POUNDS STERLING": "GBP",
}

#: money whose sign is a bare dollar
DOLLARS = ("USD", "CAD", "AUD", "NZD")

#: what else stands with a unit of its own: (writing, kind, the unit that families read, its writing)
_OTHER_UNITS: tuple[tuple[re.Pattern[str], str, str, str], ...] = tuple(
    (re.compile(rf"(?<![\w.,/])({_N})\s*(?:{written})", re.IGNORECASE), kind, unit, said)
    for written, kind, unit, said in (
        (r"°\s*F\b|deg(?:rees)?\s*F\b|F\b(?!\w)", "temperature", "°C", "°C"),
        (r"bar\b|psi\b", "pressure", "kPa", "kPa"),
        (r"qts?\b|quarts?\b|US\s+quarts?\b|gal(?:lons?)?\b|pints?\b", "volume", "L", "L"),
    )
)
_SQUARE = re.compile(rf"(?<![\w.,/])({_N})\s*(ft²|ft2|sq\.?\s*ft|in²|in2|sq\.?\s*in)(?!\w)", re.IGNORECASE)
_SQUARE_M2 = {"ft": 0.3048**2, "in": 0.0254**2}


@dataclass(frozen=True)
class Taken:
    """What a line said beside the part itself, and what is left of it."""

    rest: str
    price_minor: int | None = None
    #: the price is said to be that of one
    each: bool = False
    currency: str = ""
    mass_kg: float | None = None
    mass_change_kg: float | None = None
    lead_days: int | None = None
    link: str = ""
    end: str = ""
    pieces: int | None = None
    #: said more than once
    twice: tuple[str, ...] = field(default_factory=tuple)


def priced(text: str) -> Taken:
    """Money with its sign or code, lead time and link, from anywhere in a text.

    Parameters
    ----------
    text : any line of at most a few hundred characters

    Raises
    ------
    BadInput : a price or a lead time out of range

    Source: writing of shops, common practice.

    >>> found = priced("radiator 26 x 13 in $1,185.50 ships in 2-3 weeks")
    >>> found.price_minor, found.lead_days, found.rest
    (118550, 21, 'radiator 26 x 13 in')
    """
    rest, link = _first(_LINK, text)
    rest, money = _first(_MONEY, rest)
    if money is not None and re.search(r"[-−–(]\s*$", rest[: money.start()]):
        raise BadInput(f"“{money[0].strip()}” is below zero; accepted: a price of 0 or more, as 310 or 310.50", "line")
    rest, lead = _first(_LEAD, rest)
    rest, stock = _first(_STOCK, rest)
    again = [name for name, pattern in (("price", _MONEY), ("lead", _LEAD)) if pattern.search(rest)]
    return Taken(
        _tidy(rest),
        price_minor=None if money is None else _minor(money["after"] or money["before"]),
        each=money is not None and re.search(r"\b(?:each|ea|piece|apiece)\b", money[0], re.IGNORECASE) is not None,
        currency="" if money is None else _currency(money["sign"] or money["sign_"]),
        lead_days=_days(lead) if lead is not None else 0 if stock is not None else None,
        link="" if link is None else _address(link[0]),
        twice=tuple(again),
    )


def weighed(text: str, changes: bool) -> Taken:
    """A mass with its unit, from what a family did not read; with a sign it is against what the part replaces.

    Parameters
    ----------
    text : what is left of a line
    changes : does the family know a mass against what it replaces?

    >>> weighed("Harl −8.8 kg", True).mass_change_kg, round(weighed("17.5 lb each", False).mass_kg, 3)
    (-8.8, 7.938)
    """
    if changes:
        rest, found = _first(_MASS_CHANGE, text)
        if found is not None:
            value = parse_quantity(_plain_mass(found["mass"]), "mass").value
            return Taken(_tidy(rest), mass_change_kg=value if found["sign"] == "+" else -value)
    rest, found = _first(_MASS, text)
    if found is None:
        return Taken(text)
    return Taken(_tidy(rest), mass_kg=paste.read_mass_kg(_plain_mass(found["mass"]), None))


def placed(text: str, sets: bool = False) -> Taken:
    """Front or rear, and with ``sets`` how many pieces the price is for.

    >>> placed("rear pair", sets=True).end, placed("rear pair", sets=True).pieces
    ('R', 2)
    """
    rest, end = _first(_END, text)
    if end is not None and _END.search(rest):
        rest, end = text, None
    pieces = None
    if sets:
        rest, many = _first(_OF_SET, rest)
        pieces = None if many is None else 2 if many["pair"] else int(many["pieces"])
    return Taken(_tidy(rest), end="" if end is None else end["end"][0].upper(), pieces=pieces)


def in_core(text: str) -> tuple[str, frozenset[str]]:
    """A text with its inches as mm, °F as °C, bar and psi as kPa, quarts as L, square feet as m².

    Also the figures that had a unit, as they stand in it.

    Parameters
    ----------
    text : one part of a line

    Source: NIST SP 811, 2008, appendix B.

    >>> text, said = in_core("radiator 26 x 13 x 1.5 in")
    >>> text, sorted(said)
    ('radiator 660.4 x 330.2 x 38.1 mm', ['330.2', '38.1', '660.4'])
    >>> in_core("thermostat 190 °F")[0], in_core("cap 1.3 bar")[0]
    ('thermostat 87.8 °C', 'cap 130 kPa')
    """
    said: set[str] = set()
    text = re.sub(
        rf"(?<![\w.,/])(?P<all>{_INCHES}\s*(?:{_INCH})?(?:{_JOIN}{_INCHES}\s*(?:{_INCH})?)*)",
        lambda hit: _inches(hit, said),
        text,
        flags=re.IGNORECASE,
    )
    for hit in re.finditer(rf"(?<![\w.,/])({_N}\s*(?:mm)?(?:{_JOIN}{_N}\s*(?:mm)?)*)\s*mm\b", text, re.IGNORECASE):
        said.update(re.findall(_N, hit[1]))
    for pattern, kind, unit, word in _OTHER_UNITS:

        def one(hit: re.Match[str], kind: str = kind, unit: str = unit, word: str = word) -> str:
            return _other(hit, kind, unit, word)

        text = pattern.sub(one, text)
    said.update(re.findall(rf"({_N})\s*(?:kPa|°C|L|litres?|kg|N/mm|lbf?s?/in|kgf?/mm)\b", text))
    return _SQUARE.sub(_area, text), frozenset(said)


def _inches(hit: re.Match[str], said: set[str]) -> str:
    """Figures that end in inches, as mm; others as they stand."""
    text = hit["all"]
    if not re.search(rf"{_INCH}\s*$", text, re.IGNORECASE) or re.match(r"\s*-\s*\d{2}\b", hit.string[hit.end() :]):
        return text
    parts = re.split(rf"({_JOIN})", re.sub(_INCH, "", text, flags=re.IGNORECASE))
    parts = [text.strip()] if re.fullmatch(rf"{_INCHES}\s*{_INCH}", text.strip(), re.IGNORECASE) else parts
    out = []
    for place, part in enumerate(parts):
        if place % 2:
            out.append(part)
            continue
        figure = re.sub(_INCH, "", part, flags=re.IGNORECASE).strip().replace("-", " ")
        try:
            written = f"{parse_quantity(figure, 'length', 'in').value:.6g}"
        except CoreError:
            return text
        said.add(written)
        out.append(written)
    return "".join(out) + " mm"


def _other(hit: re.Match[str], kind: str, unit: str, word: str) -> str:
    written = re.sub(r"(?<=\d)\s*(?:deg(?:rees)?\s*)?F\b", " °F", hit[0], flags=re.IGNORECASE)
    written = re.sub(r"\b(?:US\s+)?(?:qts?|quarts?)\b", "qt", written, flags=re.IGNORECASE)
    written = re.sub(r"\bgal(?:lons?)?\b", "gal", written, flags=re.IGNORECASE)
    written = re.sub(r"\bpints?\b", "pt", written, flags=re.IGNORECASE)
    try:
        value = convert(parse_quantity(written, kind).value, kind, unit)
    except CoreError:
        return hit[0]
    return f"{value:.6g} {word}" if kind != "temperature" else f"{value:.1f}".removesuffix(".0") + f" {word}"


def _area(hit: re.Match[str]) -> str:
    each = _SQUARE_M2["ft" if "f" in hit[2].lower() else "in"]
    return f"{float(hit[1].replace(',', '.')) * each:.4g} m²"


def _first(pattern: re.Pattern[str], text: str) -> tuple[str, re.Match[str] | None]:
    hit = pattern.search(text)
    return (text, None) if hit is None else (f"{text[: hit.start()]} {text[hit.end() :]}", hit)


def _tidy(text: str) -> str:
    return " ".join(text.split()).rstrip(" ,;:|@").lstrip(" ,;|@")


def _plain_mass(text: str) -> str:
    text = re.sub(r"pounds?", "lb", text, flags=re.IGNORECASE)
    return re.sub(r"kgs\b", "kg", text, flags=re.IGNORECASE)


def _minor(text: str) -> int:
    """Minor units of an amount, whichever mark parts its thousands.

    >>> _minor("1,250"), _minor("1.250,50"), _minor("89.5")
    (125000, 125050, 8950)
    """
    plain = text.replace(" ", "")
    whole = re.fullmatch(r"(\d{1,3}(?:[,.]\d{3})+)(?:[.,](\d{1,2}))?", plain)
    if whole:
        plain = re.sub(r"[,.]", "", whole[1]) + (f".{whole[2]}" if whole[2] else "")
    return paste.read_price_minor(plain)


def _currency(sign: str) -> str:
    folded = sign.upper()
    return _CURRENCY.get(folded, _CURRENCY.get(folded.removesuffix("S"), folded))


def _days(hit: re.Match[str]) -> int:
    days = paste.read_lead_days(f"{hit['lead']} {hit['unit']}s", bare=False)
    if days is None:
        raise BadInput(f"“{hit[0]}” is no lead time; accepted: 5 days, 6 weeks, 3 months, in stock", "line")
    return days


def _address(text: str) -> str:
    text = text.rstrip(".)")
    return paste.read_link(text if re.match(r"https?://", text, re.IGNORECASE) else f"https://{text}")


def same_money(said: str, counted: str) -> bool:
    """Is a price in the money that is counted in? What was not said is.

    >>> same_money("$", "CAD"), same_money("GBP", "EUR"), same_money("", "EUR")
    (True, False, True)
    """
    return not said or not counted or said == counted or (said == "$" and counted in DOLLARS)


#: units that a person reads in, by kind: what a bare figure of a line is in
Bare = Mapping[str, str]
METRIC: Bare = {}


def example_in(text: str, bare: Bare) -> str:
    """An example of a line with its quantities in a person's units, as few figures as say the same.

    Parameters
    ----------
    text : a line whose figures carry their units
    bare : unit by kind (``length``, ``mass``, ``temperature``, ``pressure``, ``volume``, ``spring_rate``)

    >>> example_in("radiator 660 x 325 x 36 mm, 1.9 kg", {"length": "in", "mass": "lb"})
    'radiator 26 x 12.8 x 1.42 in, 4.19 lb'
    """
    for written, kind in (("mm", "length"), ("kg", "mass"), ("°C", "temperature"), ("kPa", "pressure")):
        if bare.get(kind, written) != written:
            text = _swapped(text, written, kind, bare[kind])
    for written, kind in (("L", "volume"), ("N/mm", "spring_rate")):
        if bare.get(kind, written) != written:
            text = _swapped(text, written, kind, bare[kind])
    return text


def _swapped(text: str, written: str, kind: str, unit: str) -> str:
    figure = rf"(?<![\w./])[-−+]?{_N}(?![.,]?\d)"
    group = rf"{figure}(?:(?:\s*[x×]\s*|\s+to\s+|\s*→\s*|-){_N})*\s*{re.escape(written)}(?![\w/²³·])"

    def one(hit: re.Match[str]) -> str:
        value = convert(parse_quantity(f"{hit[0]} {written}".replace("−", "-"), kind).value, kind, unit)
        figure = f"{value:.0f}" if abs(value) >= 1000 else f"{value:.3g}"
        return ("+" if hit[0].startswith("+") else "") + figure.replace("-", "−")

    def every(hit: re.Match[str]) -> str:
        figures = re.sub(rf"(?<![\d.])[−+]?{_N}", one, hit[0].removesuffix(written).strip())
        return f"{figures} {unit}"

    return re.sub(group, every, text)


def fields_of(found: Taken) -> dict[str, Any]:
    """What was said of mass, price, lead time and link, by the names of a part's columns."""
    said = {name: getattr(found, name) for name in ("price_minor", "mass_kg", "lead_days", "link")}
    return {name: value for name, value in said.items() if value not in (None, "")}
