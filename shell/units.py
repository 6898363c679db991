"""The units of the person who asks: one place from which fields, figures and sentences have them.

They are found when something asks for the first time and kept for the answer, as the language is in Django.
"""

from __future__ import annotations

from collections.abc import Callable
from contextvars import ContextVar
from typing import Any

from django.http import HttpRequest, HttpResponse

from rimcore.quantities.prose import Units
from shell.pageunits import page_in_units

Answer = Callable[[HttpRequest], HttpResponse]

#: kind of quantity -> column of the preferences
COLUMNS = {
    "length": "length_unit",
    "mass": "mass_unit",
    "torque": "torque_unit",
    "pressure": "pressure_unit",
    "speed": "speed_unit",
    "distance": "distance_unit",
    "temperature": "temperature_unit",
    "power": "power_unit",
    "volume": "volume_unit",
    "fuel": "fuel_unit",
    "spring_rate": "rate_unit",
    "force": "force_unit",
    "angle": "angle_unit",
    "offset": "offset_unit",
    "money": "money_sign",
}
#: kinds that are kept in another's units
KEPT_AS = {"offset": "length", "air_pressure": "pressure", "displacement": "volume"}
METRIC = Units({})

_asker: ContextVar[Callable[[], Units] | None] = ContextVar("asker", default=None)


def units_of(preferences: Any) -> Units:
    """The units of a person's settings; the core's where there are none."""
    return (
        METRIC
        if preferences is None
        else Units({kind: str(getattr(preferences, column, "")) for kind, column in COLUMNS.items()})
    )


def current() -> Units:
    """The units of whoever asks now; the core's outside a request."""
    asker = _asker.get()
    return METRIC if asker is None else asker()


def unit(kind: str) -> str:
    """The unit of a kind for whoever asks; offsets are millimetres unless they are said to be inches."""
    if kind == "displacement":
        # Nobody says an engine in gallons: whose lengths are inches has cubic ones.
        return "cuin" if current().unit("length") == "in" else "L"
    if kind == "offset":
        return current().of.get("offset") or "mm"
    return current().unit(kind)


def bare() -> dict[str, str]:
    """The unit of a bare figure by kind, for whoever asks: what a pasted line is read in."""
    return {kind: unit(kind) for kind in COLUMNS if kind not in ("money", "offset")}


def preferences_of(request: HttpRequest) -> Any:
    """The settings of whoever reads the answer: not the owner's where a helper or a reader of a link asks."""
    user = getattr(request, "helper", None) or getattr(request, "user", None)
    if (said := getattr(request, "read_in", None)) is not None:
        return said
    return getattr(user, "preferences", None) if user is not None and user.is_authenticated else None


class PersonUnits:
    """Fields, figures and sentences of an answer are in the units of the person who asked."""

    def __init__(self, get_response: Answer) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponse:
        known: list[Units] = []

        def find() -> Units:
            if not known:
                known.append(units_of(preferences_of(request)))
            return known[0]

        token = _asker.set(find)
        try:
            response = self.get_response(request)
            if response.streaming or not response.headers.get("Content-Type", "").startswith("text/html"):
                return response
            units = find()
            if not units.are_the_cores:
                response.content = page_in_units(response.content.decode(), units).encode()
            return response
        finally:
            _asker.reset(token)
