"""Figures for the screen: in the person's units, real minus signs, thin spaces."""

from __future__ import annotations

from typing import Any

from rimcore.quantities.units import convert
from rimcore.tables.units import UNIT_OF_KIND
from rimcore.work.money import in_whole
from shell import units

#: how a currency is written before an amount
SIGNS = {"EUR": "€", "GBP": "£", "USD": "$", "JPY": "¥"}

#: kind -> unit -> places; a kind or a unit that is not here has one
_PLACES = {
    "length": {"mm": 1, "in": 3},
    "offset": {"mm": 0, "in": 2},
    "mass": {"kg": 1, "lb": 1},
    "torque": {"N·m": 0, "lbf·ft": 0},
    "pressure": {"bar": 2, "psi": 1, "kPa": 0},
    "air_pressure": {"kPa": 2, "psi": 2},
    "distance": {"km": 0, "mi": 0},
    "force": {"N": 0, "lbf": 0, "kgf": 0},
    "spring_rate": {"N/mm": 1, "lbf/in": 0, "kgf/mm": 2},
    "voltage": {"V": 2},
    "mixture": {"λ": 2},
    "volume": {"US gal": 2, "UK gal": 2},
}


def unit_for(kind: str, preferences: Any = None) -> str:
    """The unit of a kind of figure: of some preferences, else of whoever asks."""
    if preferences is None:
        return units.unit(kind)
    return units.units_of(preferences).unit(kind) if kind != "offset" else str(preferences.offset_unit)


def figure(value: float | None | Any, kind: str, preferences: Any = None, sign: bool = False) -> tuple[str, str]:
    """Number and unit as shown; a dash where nothing is known."""
    unit = unit_for(kind, preferences)
    if value is None or value == "":
        return "–", "°" if kind == "angle" else unit
    if unit == "min":
        return minutes(float(value), sign), ""
    shown = in_unit(value, kind, unit)
    places = _PLACES.get(kind, {}).get(unit, 1)
    if kind == "length" and unit == "mm" and abs(shown) >= 100:
        places = 0
    return number(shown, places, sign), "°" if unit == "deg" else unit


def minutes(value_deg: float, sign: bool = False) -> str:
    """Degrees and minutes, as an alignment sheet writes them."""
    whole = round(abs(value_deg) * 60)
    said = f"{whole // 60}°{whole % 60:02d}′"
    return ("−" if value_deg < 0 and whole else "+" if sign and whole else "") + said


def in_unit(value: float, kind: str, unit: str) -> float:
    """A value of the core shown in another unit."""
    core_kind = units.KEPT_AS.get(kind, kind)
    if unit == UNIT_OF_KIND[core_kind] or (kind == "fuel" and value <= 0):
        return value
    return convert(value, core_kind, unit)


def number(value: float, places: int = 1, sign: bool = False) -> str:
    """A number with a real minus and thin spaces between thousands."""
    text = f"{value:+,.{places}f}" if sign else f"{value:,.{places}f}"
    if float(text.replace(",", "")) == 0:
        text = text.lstrip("+-")
    return text.replace(",", "\u2009").replace("-", "−")


def amount(minor: int | None, currency: str = "") -> str:
    """Money without cents where there are none."""
    if minor is None:
        return "–"
    text = number(in_whole(minor), 0 if in_whole(minor).is_integer() else 2)
    sign = SIGNS.get(currency, "") if units.current().of.get("money") == "sign" else ""
    if sign:
        return f"−{sign}{text[1:]}" if text.startswith("−") else f"{sign}{text}"
    return f"{text} {currency}".strip()


def whole(minor: int) -> str:
    """Money in whole units, for where it is tight."""
    return number(in_whole(minor), 0)
