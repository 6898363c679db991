"""Figures in sentences and pages, said in another unit.

The core says its sentences in its own units. This module reads the figures in them and says them in a person's: one
figure with its unit, or several that share one ("29.2 → 24 mm ± 2.7"). What is no figure with a unit stays as it is.
"""

from __future__ import annotations

import math
import re
from collections.abc import Mapping
from dataclasses import dataclass
from functools import lru_cache

import numpy as np
from numpy.typing import NDArray

from rimcore.quantities.units import convert, parse_quantity
from rimcore.tables.units import UNIT_OF_KIND

#: unit as the core writes it -> (kind, what one of it is in the core's unit of the kind)
WRITTEN = {
    "L/100 km": ("fuel", 1.0),
    "N·m": ("torque", 1.0),
    "N/mm": ("spring_rate", 1.0),
    "km/h": ("speed", 1.0),
    "km": ("distance", 1.0),
    "mm": ("length", 1.0),
    "cm": ("length", 10.0),
    "m": ("long", 1.0),
    "kg": ("mass", 1.0),
    "kPa": ("pressure", 1.0),
    "bar": ("pressure", 100.0),
    "°C": ("temperature", 1.0),
    "K": ("difference", 1.0),
    "kN": ("force", 1000.0),
    "N": ("force", 1.0),
    "kW": ("power", 1.0),
    "L": ("volume", 1.0),
    "°": ("angle", 1.0),
}
#: unit of a person -> how many places more (or fewer) than in the core's unit say the same
_MORE = {
    ("length", "in"): 2,
    ("mass", "lb"): 0,
    ("torque", "lbf·ft"): 0,
    ("torque", "kgf·m"): 1,
    ("pressure", "psi"): 1,
    ("pressure", "bar"): 2,
    ("pressure", "kPa"): 0,
    ("speed", "mph"): 0,
    ("distance", "mi"): 0,
    ("temperature", "°F"): 0,
    ("spring_rate", "lbf/in"): -1,
    ("spring_rate", "kgf/mm"): 1,
    ("force", "lbf"): 0,
    ("force", "kgf"): 0,
    ("power", "hp"): 0,
    ("power", "PS"): 0,
    ("volume", "US gal"): 1,
    ("volume", "UK gal"): 1,
    ("volume", "US qt"): 0,
    ("fuel", "mpg US"): 0,
    ("fuel", "mpg UK"): 0,
    ("fuel", "km/L"): 0,
    ("long", "ft"): 0,
    ("length", "mm"): 0,
}
#: power of ten of a written unit against the core's, which its places shift by
_SHIFT = {"bar": -1, "kN": -3, "cm": -1}

MOST_PLACES = 4
#: most characters of a sentence that is kept
MOST_KEPT = 300
_DIGIT = re.compile(r"\d")

_SIGN = r"(?:(?<![\w.°])[+\-−]\s?)?"
_NUMBER = rf"{_SIGN}\d{{1,3}}(?:[\u2009\u00a0\u202f]\d{{3}})+(?:\.\d+)?(?![\d.]*\d)|{_SIGN}\d+(?:\.\d+)?"
_BETWEEN = r"\s*(?:→|–|\bto\b|±|\+|−|\bor\b|=|×)\s*"
_GAP = r"(?:[\s\u2009\u00a0\u202f]|&nbsp;|&thinsp;)*"
_UNIT = "|".join(re.escape(unit) for unit in sorted(WRITTEN, key=len, reverse=True))
#: figures that share a unit, the unit, and a ± behind it without one of its own
_FIGURES = re.compile(
    rf"(?<![\w.,/%])(?P<figures>(?:{_NUMBER})(?:{_BETWEEN}(?:{_NUMBER}))*)(?P<gap>{_GAP})(?P<unit>{_UNIT})(?![\w/·²³%°])"
    rf"(?P<doubt>\s*±\s*\d+(?:\.\d+)?(?!\s*(?:{_UNIT})|[\d.]*\d|\s*%|\s*°))?"
)
_ONE = re.compile(_NUMBER)
_BARE = re.compile(r"(?:to|[\d.\s\u2009→±+−–-])*\d(?:to|[\d.\s\u2009→±+−–-])*")
#: words before a temperature that make it a difference
_DIFFERENCE = re.compile(r"(?:±|\bwithin|\bby|\bless than|\bat least)\s*$")


@dataclass(frozen=True)
class Units:
    """A person's unit of each kind of quantity."""

    of: Mapping[str, str]

    def unit(self, kind: str) -> str:
        """Unit of a kind; the core's where none is said.

        Air is read in kPa by whoever reads tyres in bar, as its instruments say it.

        >>> Units({"length": "in"}).unit("length"), Units({}).unit("mass")
        ('in', 'kg')
        >>> Units({"pressure": "bar"}).unit("air_pressure"), Units({"pressure": "psi"}).unit("air_pressure")
        ('kPa', 'psi')
        """
        if kind == "air_pressure":
            return "psi" if self.unit("pressure") == "psi" else "kPa"
        if kind == "long":
            return "ft" if self.unit("length") == "in" else "m"
        if kind == "difference":
            return "°F" if self.unit("temperature") == "°F" else "K"
        return self.of.get(kind) or UNIT_OF_KIND[kind]

    @property
    def are_the_cores(self) -> bool:
        """Is nothing to be said otherwise? Bars are written as bars and read so by everybody in bar."""
        return all(
            unit == UNIT_OF_KIND[kind] or (kind, unit) == ("pressure", "bar")
            for kind, unit in self.of.items()
            if kind in UNIT_OF_KIND
        )


def in_units(text: str, units: Units) -> str:
    """A sentence with its figures in a person's units.

    Figures keep about the places they had; figures that are multiplied or divided stay as they are.

    Examples
    --------
    >>> inch = Units({"length": "in", "mass": "lb", "speed": "mph", "temperature": "°F"})
    >>> in_units("29.2 → 24 mm ± 2.7; wants 3 mm", inch)
    '1.150 → 0.94 in ± 0.106; wants 0.12 in'
    >>> in_units("8.2 kg each, 16 °C ± 2 K at 110 km/h", inch)
    '18.1 lb each, 61 °F ± 4 °F at 68 mph'
    >>> in_units("225/45R17, 5x108, 18 in, M12x1.5", inch)
    '225/45R17, 5x108, 18 in, M12x1.5'
    """
    if not _DIGIT.search(text):
        return text
    if len(text) > MOST_KEPT:
        return _FIGURES.sub(lambda found: _said(found, units), text)
    return _kept(text, tuple(units.of.items()))


@lru_cache(maxsize=2048)
def _kept(text: str, of: tuple[tuple[str, str], ...]) -> str:
    """Most sentences of a page stand on it more than once, and on the next page again."""
    units = Units(dict(of))
    return _FIGURES.sub(lambda found: _said(found, units), text)


def one_in_units(number: str, unit: str, units: Units) -> tuple[str, str] | None:
    """A number and a unit that stand apart; None where they stay.

    >>> one_in_units("31.5", "mm", Units({"length": "in"}))
    ('1.240', 'in')
    """
    kind, _ = WRITTEN[unit]
    if _stays(kind, unit, units) or not _ONE.fullmatch(number.strip()):
        return None
    wanted = units.unit(kind)
    return _number(number.strip(), kind, unit, wanted), wanted


def bare_in_units(text: str, unit: str, units: Units) -> str:
    """Figures of a unit that is said elsewhere: "29.2 → 24" on a drawing in millimetres; other text stays.

    >>> bare_in_units("29.2 → 24", "mm", Units({"length": "in"})), bare_in_units("not read", "mm", Units({"length": "in"}))
    ('1.150 → 0.94', 'not read')
    """
    if unit not in WRITTEN or _stays(WRITTEN[unit][0], unit, units) or not _BARE.fullmatch(text):
        return text
    said = in_units(f"{text} {unit}", units)
    return said.rpartition(" ")[0] if unit != "°" else said


def unit_in_units(unit: str, units: Units) -> str:
    """The person's unit in the place of one of the core's.

    >>> unit_in_units("mm", Units({"length": "in"})), unit_in_units("Hz", Units({"length": "in"}))
    ('in', 'Hz')
    """
    if unit not in WRITTEN:
        return unit
    kind, _ = WRITTEN[unit]
    return unit if _stays(kind, unit, units) else units.unit(kind)


_PLAIN = re.compile(r"(?<![\w.])[-−]?\d+(?:[.,]\d+)?(?![\w.]*\d)")


def lines_scaled(text: str, factor: float, places: int = 4) -> str:
    """Lines of bare lengths in another unit.

    What stands before a colon is a name, and a figure behind ", " on a line with × is a price.

    Source: none; a convention of this program.

    Parameters
    ----------
    text : one length or more a line
    factor : from the old unit to the new one
    places : decimals

    >>> lines_scaled("plug 2: 620 -80 r 45", 1 / 25.4, 2), lines_scaled("10 x 20, 14.50", 25.4)
    ('plug 2: 24.41 -3.15 r 1.77', '254 x 508, 14.50')
    """

    def one(found: re.Match[str]) -> str:
        value = float(found[0].replace("−", "-").replace(",", ".")) * factor
        return f"{value:.{places}f}".rstrip("0").rstrip(".") if places else f"{value:.0f}"

    whole = []
    for line in text.split("\n"):
        name, colon, rest = line.rpartition(":")
        sizes, comma, price = rest.partition(", ") if re.search(r"\d\s*[x×]\s*\d", rest) else (rest, "", "")
        whole.append(f"{name}{colon}{_PLAIN.sub(one, sizes)}{comma}{price}")
    return "\n".join(whole)


def value_in_units(values: NDArray[np.float64], unit: str, units: Units) -> NDArray[np.float64]:
    """Figures of one unit of the core in a person's, any shape.

    Source: conversion factors of ``units``.

    Parameters
    ----------
    values : any shape
    unit : of the core
    units : a person's

    >>> value_in_units(np.array([25.4, 50.8]), "mm", Units({"length": "in"})).round(6).tolist()
    [1.0, 2.0]
    """
    if unit not in WRITTEN or _stays(WRITTEN[unit][0], unit, units) or WRITTEN[unit][0] == "angle":
        return values
    kind, size = WRITTEN[unit]
    wanted = units.unit(kind)
    first, second = _converted(0.0, kind, wanted), _converted(size, kind, wanted)
    return np.asarray(first + values * (second - first))


def _stays(kind: str, unit: str, units: Units) -> bool:
    wanted = units.unit(kind)
    if kind == "angle":
        return wanted != "min"
    return wanted == unit or (kind == "pressure" and wanted == "bar" and unit == "kPa")


def _said(found: re.Match[str], units: Units) -> str:
    unit, figures = found["unit"], found["figures"]
    kind, _ = WRITTEN[unit]
    if _stays(kind, unit, units):
        return found[0]
    if kind == "temperature" and _DIFFERENCE.search(found.string[: found.start()]):
        kind = "difference"
    wanted = units.unit(kind)
    if kind == "angle":
        return _ONE.sub(lambda one: _minutes(one[0]), figures)
    if "×" in figures:
        return _multiplied(found, kind, wanted)
    said = _ONE.sub(lambda one: _number(one[0], kind, unit, wanted), figures)
    doubt = found["doubt"] or ""
    if doubt:
        of = "difference" if kind == "temperature" else kind
        doubt = _ONE.sub(lambda one: _number(one[0], of, unit, wanted), doubt)
    gap = found["gap"] or " "
    return f"{said}{gap}{wanted}{doubt}"


def _multiplied(found: re.Match[str], kind: str, wanted: str) -> str:
    """ "26 × 13 × 1.5 mm" is three lengths; "2 × 24 mm" is one of them."""
    figures = found["figures"]
    parts = figures.split("×")
    if "=" in figures:
        return found[0]
    counts = len(parts) == 2 and re.fullmatch(r"\s*\d{1,2}\s*", parts[0])
    last = [
        part if counts and not place else _ONE.sub(lambda one: _number(one[0], kind, found["unit"], wanted), part)
        for place, part in enumerate(parts)
    ]
    return f"{'×'.join(last)}{found['gap'] or ' '}{wanted}{found['doubt'] or ''}"


def _number(text: str, kind: str, unit: str, wanted: str) -> str:
    """One number in another unit, with about the places that it had."""
    plain = re.sub(r"[\u2009\u00a0\u202f\s]", "", text).replace("−", "-")
    value = float(plain) * WRITTEN[unit][1]
    shown = _converted(value, kind, wanted)
    decimals = len(plain.partition(".")[2])
    places = min(MOST_PLACES, decimals + _MORE.get((kind, wanted), 0) + _SHIFT.get(unit, 0))
    places = max(0, places)
    if kind == "fuel":
        places = max(1, decimals)
    if abs(shown) >= 1000:
        places = 0
    elif shown and not round(shown, places):
        places = min(6, 1 - math.floor(math.log10(abs(shown))))
    return _written(shown, places, text)


def _written(shown: float, places: int, like: str) -> str:
    """With the sign and the minus of what was there."""
    said = f"{shown:,.{places}f}".replace(",", "\u2009")
    if said.startswith("-"):
        said = ("−" if "-" not in like or "−" in like else "-") + said[1:]
    elif like.strip().startswith("+"):
        said = "+" + said
    return said


@lru_cache(maxsize=512)
def _factor(kind: str, wanted: str) -> float:
    return convert(1.0, kind, wanted)


def _converted(value: float, kind: str, wanted: str) -> float:
    if kind == "difference":
        return value * 1.8
    if kind == "long":
        return value / 0.3048
    if kind in ("temperature", "fuel"):
        return value if kind == "fuel" and not value else convert(value, kind, wanted)
    return value * _factor(kind, wanted)


def _minutes(text: str) -> str:
    """Degrees as degrees and minutes.

    >>> _minutes("−1.25"), _minutes("2.5"), _minutes("20")
    ('−1°15′', '2°30′', '20°')
    """
    plain = text.replace("−", "-").replace(" ", "")
    value = float(plain)
    minutes = round(abs(value) * 60)
    sign = "−" if value < 0 and minutes else "+" if plain.startswith("+") else ""
    if "." not in plain:
        return f"{sign}{minutes // 60}°"
    return f"{sign}{minutes // 60}°{minutes % 60:02d}′" if minutes % 60 or minutes < 60 else f"{sign}{minutes // 60}°"


def typed_in(text: str, kind: str, units: Units) -> float:
    """What was typed, a bare number in the person's unit, in the core's.

    >>> round(typed_in("1 1/2", "length", Units({"length": "in"})), 6)
    38.1
    """
    return parse_quantity(text, kind, units.unit(kind)).value
