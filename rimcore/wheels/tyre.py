"""Tyre sizes: reading them, and what follows from the size alone."""

from __future__ import annotations

import math
import re
from dataclasses import dataclass
from functools import lru_cache

from rimcore.quantities.errors import BadInput
from rimcore.tables.tyres import (
    APPROVED_RIM_IN,
    FLOTATION_RIM_SHARE,
    LOAD_KG,
    MEASURING_RIM_SHARE,
    SPEED_KMH,
)

MM_PER_IN = 25.4
#: rolling circumference over diameter (ETRTO; UN R30 annex)
ROLLING_FACTOR = 3.05
#: section width gained per mm of rim over the measuring rim (ETRTO, ISO 4000-1)
SECTION_PER_RIM_MM = 0.4
#: aspect ratio of a size that states none (handbook, from memory)
FULL_PROFILE_PCT = 82.0
#: how far outside the approved rims a tyre is still called stretched or pinched [in]
NEAR_RANGE_IN = 0.5

ACCEPTED = "225/45R17 94W, P225/60R16 97H, LT285/75R16 126/123Q, 35x12.50R17LT or 195R14C"


@dataclass(frozen=True)
class Tyre:
    """A tyre size: widths and diameters in mm, rim in inches, load in kg, speed in km/h."""

    size: str
    section_width_mm: float
    aspect_pct: float
    rim_diameter_in: float
    diameter_mm: float
    load_index: int | None = None
    load_index_dual: int | None = None
    speed_symbol: str | None = None
    flotation: bool = False

    @property
    def sidewall_mm(self) -> float:
        return (self.diameter_mm - self.rim_diameter_in * MM_PER_IN) / 2

    @property
    def rolling_circumference_mm(self) -> float:
        return ROLLING_FACTOR * self.diameter_mm

    @property
    def revs_per_km(self) -> float:
        return 1e6 / self.rolling_circumference_mm

    @property
    def load_kg(self) -> float | None:
        return LOAD_KG[self.load_index] if self.load_index is not None else None

    @property
    def load_kg_dual(self) -> float | None:
        return LOAD_KG[self.load_index_dual] if self.load_index_dual is not None else None

    @property
    def speed_kmh(self) -> float | None:
        return SPEED_KMH[self.speed_symbol] if self.speed_symbol is not None else None

    @property
    def measuring_rim_in(self) -> float:
        return measuring_rim_in(self.section_width_mm, self.aspect_pct, self.flotation)

    @property
    def rim_range_in(self) -> tuple[float, float]:
        return rim_range_in(self)


_LOAD = r"(?:\(?\s*(?P<li>\d{2,3})(?:\s*/\s*(?P<li2>\d{2,3}))?\s*(?P<sym>[A-Z])\s*\)?)?"
_TAIL = r"(?:\s*(?:XL|RF|RFT|EXTRA\s*LOAD|REINFORCED|C|LT|M\+S|ROF|SSR))*"
_METRIC = re.compile(
    r"^(?:P|LT|ST)?\s*(?P<width>\d{3}(?:\.\d)?)\s*(?:/\s*(?P<aspect>\d{2,3}))?\s*"
    r"(?P<build>Z?\s*[RDB]F?|-)?\s*(?P<rim>\d{2}(?:\.\d+)?)\s*(?:LT|C)?\s*(?:XL)?\s*" + _LOAD + _TAIL + r"$"
)
_FLOTATION = re.compile(
    r"^(?P<dia>\d{2}(?:\.\d+)?)\s*[X*]\s*(?P<width>\d{1,2}(?:\.\d+)?)\s*(?P<build>[RDB]|-)\s*"
    r"(?P<rim>\d{2}(?:\.\d+)?)\s*(?:LT)?\s*" + _LOAD + _TAIL + r"$"
)


@lru_cache(maxsize=2048)
def parse_tyre(text: str) -> Tyre:
    """Read a tyre size as moulded on the sidewall.

    Parameters
    ----------
    text : metric (``225/45R17 94W``, with P or LT before it), flotation (``35x12.50R17LT``) or without
        aspect ratio (``195R14C``, taken as 82 %); any case, stray blanks

    Returns
    -------
    Tyre with the nominal section width and diameter

    Raises
    ------
    BadInput : not a size, or a number outside 100–500 mm, 20–100 %, 8–30 in, load index 50–150

    Source: ISO 4000-1; flotation sizes state their diameter and width in inches.

    Examples
    --------
    >>> round(parse_tyre("265/35R18 97Y").diameter_mm, 1)
    642.7
    >>> parse_tyre("35x12.50R17LT").diameter_mm
    889.0
    """
    if not isinstance(text, str) or not text.strip():
        raise BadInput(f"no tyre size was written; accepted: {ACCEPTED}", "size")
    if len(text) > 60:
        raise BadInput(f"too long for a tyre size; accepted: {ACCEPTED}", "size")
    folded = re.sub(r"\s+", " ", text.strip().upper().replace("×", "X").replace(",", "."))
    folded = re.sub(r"\s*([/])\s*", r"\1", folded)
    metric = _METRIC.match(folded)
    if metric:
        return _metric(text, metric)
    flotation = _FLOTATION.match(folded)
    if flotation:
        return _flotation(text, flotation)
    raise BadInput(f"“{text.strip()}” is not a tyre size; accepted: {ACCEPTED}", "size")


def tyre_from_fields(
    section_width_mm: float,
    aspect_pct: float,
    rim_diameter_in: float,
    load_index: int | None = None,
    speed_symbol: str | None = None,
) -> Tyre:
    """Tyre from its numbers instead of its writing.

    Source: designation as in ISO 4000-1.

    Parameters
    ----------
    section_width_mm : over 0 [mm]
    aspect_pct : height over width, over 0 [%]
    rim_diameter_in : over 0 [in]
    load_index : 0 to 279; None where not written
    speed_symbol : as written; None where not

    >>> tyre_from_fields(205, 55, 16).size
    '205/55R16'
    """
    size = f"{section_width_mm:g}/{aspect_pct:g}R{rim_diameter_in:g}"
    load = f" {load_index}{speed_symbol}" if load_index is not None and speed_symbol else ""
    _in_range(section_width_mm, 100, 500, "section width", "mm")
    _in_range(aspect_pct, 20, 100, "aspect ratio", "%")
    _in_range(rim_diameter_in, 8, 30, "rim diameter", "in")
    diameter = rim_diameter_in * MM_PER_IN + 2 * section_width_mm * aspect_pct / 100
    return Tyre(
        size + load,
        section_width_mm,
        aspect_pct,
        rim_diameter_in,
        diameter,
        _load_index(str(load_index)) if load_index is not None else None,
        speed_symbol=_symbol(speed_symbol),
    )


def measuring_rim_in(section_width_mm: float, aspect_pct: float, flotation: bool = False) -> float:
    """Width of the rim on which the nominal section width holds [in], to the nearest half inch.

    Source: handbook rule (share of the section by aspect ratio), from memory.

    Parameters
    ----------
    section_width_mm : over 0 [mm]
    aspect_pct : height over width, over 0 [%]
    flotation : whether the size is written in inches

    >>> measuring_rim_in(225, 45)
    7.5
    """
    share = next(share for floor, share in MEASURING_RIM_SHARE if aspect_pct >= floor)
    if flotation:
        share = FLOTATION_RIM_SHARE
    return math.floor(section_width_mm * share / MM_PER_IN * 2 + 0.5) / 2


def rim_range_in(tyre: Tyre) -> tuple[float, float]:
    """Narrowest and widest approved rim [in].

    From the handbook table where the size is in it, else the measuring rim less 1 in (aspect 50 and
    over) or ½ in, to 1 in over it: the pattern the table shows, an estimate.

    >>> rim_range_in(parse_tyre("245/40R18"))
    (8.0, 9.5)
    """
    key = (round(tyre.section_width_mm), round(tyre.aspect_pct), tyre.rim_diameter_in)
    if key in APPROVED_RIM_IN:
        return APPROVED_RIM_IN[key]
    below = 1.0 if tyre.aspect_pct >= 50 else 0.5
    return tyre.measuring_rim_in - below, tyre.measuring_rim_in + 1.0


def rim_range_basis(tyre: Tyre) -> str:
    """Where the rim range comes from, in words."""
    key = (round(tyre.section_width_mm), round(tyre.aspect_pct), tyre.rim_diameter_in)
    if key in APPROVED_RIM_IN:
        return "approved rims, handbook, from memory"
    return "estimate from the measuring rim; check the maker's table"


def rim_fit(tyre: Tyre, rim_width_in: float) -> str:
    """How the tyre sits on a rim: ``ok``, ``stretched``, ``pinched`` or ``outside``.

    Source: range by aspect ratio, from memory.

    Parameters
    ----------
    tyre : as written
    rim_width_in : over 0 [in]

    >>> rim_fit(parse_tyre("225/45R17"), 9.0)
    'stretched'
    """
    low, high = tyre.rim_range_in
    if low <= rim_width_in <= high:
        return "ok"
    if high < rim_width_in <= high + NEAR_RANGE_IN:
        return "stretched"
    if low - NEAR_RANGE_IN <= rim_width_in < low:
        return "pinched"
    return "outside"


def section_on_rim_mm(tyre: Tyre, rim_width_in: float) -> float:
    """Section width on another rim: 0.4 mm per mm of rim over the measuring rim [mm].

    Source: ISO 4000-1, 0.4 mm a mm.

    Parameters
    ----------
    tyre : as written
    rim_width_in : over 0 [in]

    >>> round(section_on_rim_mm(parse_tyre("225/45R17"), 8.5), 2)
    235.16
    """
    return tyre.section_width_mm + SECTION_PER_RIM_MM * (rim_width_in - tyre.measuring_rim_in) * MM_PER_IN


def section_carried_mm(section_mm: float, from_in: float, to_in: float) -> float:
    """A section width measured on one rim, carried to another: 0.4 mm for each mm of rim (ETRTO, ISO 4000-1) [mm].

    Parameters
    ----------
    section_mm : as measured, over 0 [mm]
    from_in : width of the rim it was measured on, over 0 [in]
    to_in : of the other rim, over 0 [in]

    >>> round(section_carried_mm(205.0, 6.5, 7.0), 2)
    210.08
    """
    return section_mm + SECTION_PER_RIM_MM * (to_in - from_in) * MM_PER_IN


def _metric(text: str, found: re.Match[str]) -> Tyre:
    width = _in_range(float(found["width"]), 100, 500, "section width", "mm")
    aspect = FULL_PROFILE_PCT
    if found["aspect"]:
        aspect = _in_range(float(found["aspect"]), 20, 100, "aspect ratio", "%")
    elif not found["build"]:
        raise BadInput(f"“{text.strip()}” is not a tyre size; accepted: {ACCEPTED}", "size")
    rim = _in_range(float(found["rim"]), 8, 30, "rim diameter", "in")
    return Tyre(
        size=text.strip(),
        section_width_mm=width,
        aspect_pct=aspect,
        rim_diameter_in=rim,
        diameter_mm=rim * MM_PER_IN + 2 * width * aspect / 100,
        load_index=_load_index(found["li"]),
        load_index_dual=_load_index(found["li2"]),
        speed_symbol=_symbol(found["sym"]),
    )


def _flotation(text: str, found: re.Match[str]) -> Tyre:
    diameter_in = _in_range(float(found["dia"]), 15, 60, "diameter", "in")
    width_in = _in_range(float(found["width"]), 4, 20, "width", "in")
    rim = _in_range(float(found["rim"]), 8, 30, "rim diameter", "in")
    if rim + 2 > diameter_in:
        raise BadInput("the rim must be at least 2 in smaller than the tyre", "size")
    width = width_in * MM_PER_IN
    diameter = diameter_in * MM_PER_IN
    aspect = (diameter - rim * MM_PER_IN) / 2 / width * 100
    return Tyre(
        size=text.strip(),
        section_width_mm=width,
        aspect_pct=aspect,
        rim_diameter_in=rim,
        diameter_mm=diameter,
        load_index=_load_index(found["li"]),
        load_index_dual=_load_index(found["li2"]),
        speed_symbol=_symbol(found["sym"]),
        flotation=True,
    )


def _load_index(text: str | None) -> int | None:
    if text is None:
        return None
    if int(text) not in LOAD_KG:
        raise BadInput(f"load index {text} is not in the table; accepted: 50 to 150", "size")
    return int(text)


def _symbol(text: str | None) -> str | None:
    if text is None:
        return None
    if text.upper() not in SPEED_KMH:
        raise BadInput(f"speed symbol {text} is not in the table; accepted: {' '.join(SPEED_KMH)}", "size")
    return text.upper()


def _in_range(value: float, low: float, high: float, what: str, unit: str) -> float:
    if not low <= value <= high:
        raise BadInput(f"{what} {value:g} is out of range; accepted: {low:g} to {high:g} {unit}", "size")
    return value
