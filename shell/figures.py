"""Figures for the screen: in the person's units, real minus signs, thin spaces."""

from __future__ import annotations

from typing import Any

from rimcore.quantities.units import convert
from rimcore.work.money import in_whole

#: kind -> (column of the preferences, places, unit of the core)
_SHOWN = {
    "length": ("length_unit", {"mm": 1, "in": 3}, "mm"),
    "offset": ("offset_unit", {"mm": 0, "in": 2}, "mm"),
    "mass": ("mass_unit", {"kg": 1, "lb": 1}, "kg"),
    "torque": ("torque_unit", {"N·m": 0, "lbf·ft": 0}, "N·m"),
    "pressure": ("pressure_unit", {"bar": 2, "psi": 1, "kPa": 0}, "kPa"),
    "speed": ("speed_unit", {"km/h": 1, "mph": 1}, "km/h"),
    "distance": ("distance_unit", {"km": 0, "mi": 0}, "km"),
    "angle": ("", {"deg": 1}, "deg"),
    "temperature": ("", {"°C": 1}, "°C"),
}


def unit_for(kind: str, preferences: Any) -> str:
    """The person's unit of a kind of figure."""
    column, _, core = _SHOWN[kind]
    return str(getattr(preferences, column)) if column and preferences is not None else core


def figure(value: float | None | Any, kind: str, preferences: Any, sign: bool = False) -> tuple[str, str]:
    """Number and unit as shown; a dash where nothing is known."""
    unit = unit_for(kind, preferences)
    if value is None or value == "":
        return "–", unit
    shown = in_unit(value, kind, unit)
    places = _SHOWN[kind][1][unit]
    if kind == "length" and unit == "mm" and abs(shown) >= 100:
        places = 0
    return number(shown, places, sign), "°" if unit == "deg" else unit


def in_unit(value: float, kind: str, unit: str) -> float:
    """A value of the core shown in another unit."""
    core_kind = {"offset": "length", "distance": "length"}.get(kind, kind)
    if kind == "distance":
        return convert(value * 1e6, "length", unit)
    return value if unit == _SHOWN[kind][2] else convert(value, core_kind, unit)


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
    return f"{text} {currency}".strip()


def whole(minor: int) -> str:
    """Money in whole units, for where it is tight."""
    return number(in_whole(minor), 0)
