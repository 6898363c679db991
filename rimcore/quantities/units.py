"""Quantities as people write them: ``11/16``, ``2°30'``, ``7 lb 4 oz``, ``14k``.

Conversions are Pint's; this module only reads the writing of the trade.
"""

from __future__ import annotations

import math
import re
import unicodedata
from dataclasses import dataclass
from functools import lru_cache

import pint

from rimcore.quantities.errors import BadInput
from rimcore.tables.units import ALIASES, COMPOUND, EXAMPLES, PINT_OF_KIND, UNIT_OF_KIND


@lru_cache(maxsize=1)
def _registry() -> pint.UnitRegistry[float]:
    registry: pint.UnitRegistry[float] = pint.UnitRegistry(cache_folder=None)
    # 550 ft·lbf/s and 75 kgf·m/s: the two horse powers people mean.
    registry.define("hp_mech = 550 * foot * force_pound / second")
    registry.define("hundred_km = 100 * kilometer")
    registry.define("ps_metric = 75 * kgf * meter / second")
    return registry


@dataclass(frozen=True)
class Quantity:
    """A value in the core's unit of its kind."""

    value: float
    unit: str
    kind: str


@dataclass(frozen=True)
class _Term:
    value: float
    unit: str
    negative: bool


def accepted(kind: str) -> str:
    """Examples of what is read for ``kind``, for messages and hints.

    >>> accepted("speed")
    '80 km/h, 50 mph'
    """
    return EXAMPLES[kind]


def parse_quantity(text: str, kind: str, default_unit: str | None = None) -> Quantity:
    """Read one quantity as written on paper.

    Parameters
    ----------
    text : what was written: decimals with point or comma, fractions, unicode fractions and minus
    kind : one of ``UNIT_OF_KIND``
    default_unit : unit of a bare number; without it a bare number is refused

    Returns
    -------
    Quantity in the unit of its kind (mm, kg, N·m, deg, kPa, °C, N/mm, km/h, kW, L)

    Raises
    ------
    BadInput : unreadable, wrong kind, not finite, ambiguous thousands, below absolute zero

    Source: unit definitions are Pint's (SI, NIST SP 811); 1 kgf = 9.80665 N.

    Examples
    --------
    >>> parse_quantity("11/16 in", "length").value
    17.4625
    >>> round(parse_quantity("14k", "spring_rate").value, 4)
    137.2931
    >>> round(parse_quantity("7 lb 4 oz", "mass").value, 4)
    3.2885
    """
    if kind not in UNIT_OF_KIND:
        raise BadInput(f"unknown kind; accepted: {', '.join(UNIT_OF_KIND)}", "kind")
    if not isinstance(text, str) or not text.strip():
        raise BadInput(f"nothing was written; accepted: {EXAMPLES[kind]}", "text")
    if len(text) > 100:
        raise BadInput("too long for one quantity (100 characters at most)", "text")
    default = _unit(default_unit, kind, "default_unit") if default_unit else None
    plain = _plain(text)
    if kind == "fuel":
        # the one unit with a number in it
        plain = re.sub(r"/\s*100(?:\s*km)?\s*$", "/hkm", plain, flags=re.IGNORECASE)
    terms = _terms(plain, kind, default)
    total = sum(_convert(term, kind) for term in terms)
    if terms[0].negative:
        total = -total
    return Quantity(_finite(_not_too_cold(total, kind)), UNIT_OF_KIND[kind], kind)


def convert(value: float, kind: str, unit: str) -> float:
    """Value in the core's unit of ``kind`` shown in ``unit`` (as people write it).

    Source: NIST SP 811, 2008, appendix B.

    Parameters
    ----------
    value : in the core's unit
    kind : one of ``UNIT_OF_KIND``
    unit : to be shown in

    >>> round(convert(17.4625, "length", "in"), 4)
    0.6875
    >>> round(convert(110.0, "torque", "lbf·ft"), 1)
    81.1
    """
    written = _unit(unit, kind, "unit")
    if kind == "fuel":
        return _fuel(value, written, PINT_OF_KIND[kind])
    here = _registry().Quantity(value, PINT_OF_KIND[kind])
    return float(here.to(written).magnitude)


def _fuel(value: float, to: str, of: str) -> float:
    """Fuel over distance and distance over fuel are each other's inverse; 0 has none."""
    registry = _registry()
    here, there = registry.Quantity(1.0, of), registry.Quantity(1.0, to)
    if here.dimensionality == there.dimensionality:
        return float(value * here.to(to).magnitude)
    if value == 0:
        raise BadInput("0 has no distance for its fuel; accepted: more than 0", "text")
    return float((1.0 / (value * here)).to(to).magnitude)


def write_quantity(value: float, kind: str, unit: str | None = None, places: int = 6) -> str:
    """Text that :func:`parse_quantity` reads back to the same value.

    Source: the inverse of ``parse_quantity``.

    Parameters
    ----------
    value : in the core's unit
    kind : one of ``UNIT_OF_KIND``
    unit : to be written in; None for the core's
    places : decimals, 0 or more

    >>> write_quantity(17.4625, "length", "in")
    '0.6875 in'
    """
    shown_unit = unit or UNIT_OF_KIND[kind]
    shown = convert(value, kind, shown_unit)
    number = f"{shown:.{places}f}"
    number = number.rstrip("0").rstrip(".") if "." in number else number
    return f"{'0' if number in ('-0', '') else number} {shown_unit}"


def _plain(text: str) -> str:
    """Fold unicode writing to what the grammar below reads."""
    folded = []
    for char in text.strip():
        if char in "−–‒—":
            char = "-"
        elif char in "’′ʹ`´":
            char = "'"
        elif char in "”″“":
            char = '"'
        elif char in "⁄∕":
            char = "/"
        elif char in "º˚":
            char = "°"
        elif char in "⋅∙•×":
            char = "·"
        else:
            kept = unicodedata.normalize("NFKC", char)
            if "⁄" in kept:
                kept = " " + kept.replace("⁄", "/")
            char = kept.replace("\u00a0", " ")
        folded.append(char)
    joined = re.sub(r"(?<=[A-Za-z])\s*-\s*(?=[A-Za-z])", "·", "".join(folded))
    return re.sub(r"(?<=[A-Za-z])\.(?=\s|$|\d)", " ", joined).strip()


_NUMBER = re.compile(
    r"\s*(?P<sign>[+-])?\s*"
    r"(?:(?P<whole>\d+)(?:\s+|\s*-\s*)(?P<num1>\d+)\s*/\s*(?P<den1>\d+)"
    r"|(?P<num2>\d+)\s*/\s*(?P<den2>\d+)"
    r"|(?P<decimal>(?:\d+(?:[.,]\d*)?|[.,]\d+)(?:[eE][+-]?\d+)?))"
)
_UNIT_TEXT = re.compile(r"\s*([^\d\s+,.-][^\d+,]*?(?:[23](?![\d/]))?)\s*(?=$|[\d.,+-])")


def _terms(text: str, kind: str, default: str | None) -> list[_Term]:
    terms: list[_Term] = []
    rest = text
    while rest:
        found = _NUMBER.match(rest)
        if found is None:
            raise _unreadable(text, kind)
        value = _number(found, kind)
        if terms and found["sign"]:
            raise _unreadable(text, kind)
        rest = rest[found.end() :]
        unit_found = _UNIT_TEXT.match(rest)
        if unit_found and unit_found.group(1).strip():
            unit = _unit(unit_found.group(1), kind, "text")
            rest = rest[unit_found.end() :]
        elif rest.strip():
            raise _unreadable(text, kind)
        else:
            unit = _unit_of_bare(terms, default, kind)
            rest = ""
        terms.append(_Term(value, unit, found["sign"] == "-"))
    if not terms:
        raise _unreadable(text, kind)
    _check_compound(terms, text, kind)
    return terms


def _unit_of_bare(terms: list[_Term], default: str | None, kind: str) -> str:
    if terms and kind == "angle" and terms[-1].unit == "deg":
        return "arcmin"
    if terms and kind == "length" and terms[-1].unit == "foot":
        return "inch"
    if terms or default is None:
        raise BadInput(f"a bare number needs a unit; accepted: {EXAMPLES[kind]}", "text")
    return default


def _check_compound(terms: list[_Term], text: str, kind: str) -> None:
    units = tuple(term.unit for term in terms)
    if len(units) > 1 and units not in COMPOUND.get(kind, ()):
        raise _unreadable(text, kind)
    for smaller in terms[1:]:
        limit = {"inch": 12.0, "oz": 16.0, "g": 1000.0, "arcmin": 60.0, "arcsec": 60.0}
        if smaller.value >= limit[smaller.unit]:
            raise _unreadable(text, kind)


def _number(found: re.Match[str], kind: str) -> float:
    if found["decimal"] is not None:
        written = found["decimal"]
        if re.fullmatch(r"[1-9]\d{0,2},\d{3}", written):
            raise BadInput(
                f"“{written}” may mean {written.replace(',', '')} or {written.replace(',', '.')}; write it without the comma or with a point",
                "text",
            )
        return _finite(float(written.replace(",", ".")))
    whole = found["whole"]
    top = found["num1"] if whole is not None else found["num2"]
    bottom = found["den1"] if whole is not None else found["den2"]
    if int(bottom) == 0:
        raise BadInput("a fraction can't have 0 below the line", "text")
    if whole is not None and int(top) >= int(bottom):
        raise BadInput("after a whole number the fraction must be less than one", "text")
    return _finite(float(int(whole or 0)) + int(top) / int(bottom))


def _unit(written: str, kind: str, field: str) -> str:
    known = ALIASES[kind]
    key = written.strip().lower().rstrip(".")
    for form in (key, re.sub(r"[\s·*^.-]", "", key), re.sub(r"\s", "", key).replace("²", "2")):
        if form in known:
            return known[form]
    owner = _kind_of_unit(key)
    if owner:
        raise BadInput(
            f"“{written.strip()}” is a unit of {owner.replace('_', ' ')}, not of {kind.replace('_', ' ')}; accepted: {EXAMPLES[kind]}",
            field,
        )
    raise BadInput(f"“{written.strip()}” is not a unit of {kind.replace('_', ' ')}; accepted: {EXAMPLES[kind]}", field)


def _kind_of_unit(key: str) -> str:
    squeezed = re.sub(r"[\s·*^.-]", "", key)
    return next((kind for kind, known in ALIASES.items() if squeezed in known), "")


@lru_cache(maxsize=256)
def _factor(unit: str, kind: str) -> float:
    return float(_registry().Quantity(1.0, unit).to(PINT_OF_KIND[kind]).magnitude)


def _convert(term: _Term, kind: str) -> float:
    if kind == "temperature":
        signed = -term.value if term.negative else term.value
        degrees = float(_registry().Quantity(signed, term.unit).to("degC").magnitude)
        return -degrees if term.negative else degrees
    if kind == "length" and term.unit == "inch":
        return term.value * 25.4
    if kind == "fuel":
        if term.value <= 0:
            raise BadInput("fuel over distance is more than 0", "text")
        return _fuel(term.value, PINT_OF_KIND[kind], term.unit)
    return term.value * _factor(term.unit, kind)


def _not_too_cold(value: float, kind: str) -> float:
    if kind == "temperature" and value < -273.15 - 1e-9:
        raise BadInput("below absolute zero (−273.15 °C)", "text")
    return value


def _finite(value: float) -> float:
    if not math.isfinite(value):
        raise BadInput("the number is too large", "text")
    return value


def _unreadable(text: str, kind: str) -> BadInput:
    return BadInput(f"“{text}” can't be read as {kind.replace('_', ' ')}; accepted: {EXAMPLES[kind]}", "text")
