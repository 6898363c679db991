"""What a bench declares: its levers, the stations it reads, the calculations behind it."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field
from typing import Any

from rimcore.limits import LIMITS
from rimcore.quantities.errors import BadInput
from rimcore.quantities.limits import Limit

#: where a lever is set, in words
PLACES = {
    "": "",
    "F": "Front",
    "R": "Rear",
    "FL": "Front left",
    "FR": "Front right",
    "RL": "Rear left",
    "RR": "Rear right",
}


@dataclass(frozen=True)
class Lever:
    """Something a build does to the car: a quantity, a switch or a choice, at one end or on the whole car.

    ``limit`` names one of the set of limits; ``quantity`` and ``unit`` say what a bare number is. A lever that
    nobody set has its ``default``; None is as it stands.
    """

    code: str
    name: str
    quantity: str = ""
    unit: str = ""
    limit: str = ""
    default: float | bool | str | None = 0.0
    places: tuple[str, ...] = ("F", "R")
    help: str = ""
    choices: Mapping[str, str] = field(default_factory=dict)
    #: step of a nudge, in the unit
    step: float = 1.0

    @property
    def kind(self) -> str:
        """``flag``, ``choice`` or ``number``."""
        return "flag" if isinstance(self.default, bool) else "choice" if self.choices else "number"

    @property
    def span(self) -> Limit:
        """Smallest and largest value, for a number."""
        return LIMITS[self.limit or self.code]

    def check(self, value: Any) -> float | bool | str | None:
        """A value that the lever takes.

        Raises
        ------
        BadInput : out of range, no such choice, or no number; says what is accepted

        Examples
        --------
        >>> Lever("spacer_mm", "Spacer", "length", "mm").check(20)
        20.0
        """
        if value is None:
            return self.default
        if self.kind == "flag":
            return bool(value)
        if self.kind == "choice":
            if value not in self.choices:
                raise BadInput(f"no such choice; accepted: {', '.join(self.choices.values())}", self.code)
            return str(value)
        if isinstance(value, str) or not self.span.holds(float(value)):
            raise BadInput(f"is out of range; accepted: {self.span.accepted}", self.code)
        return float(value)

    def said(self, value: Any) -> str:
        """A value in words.

        >>> Lever("ride_drop_mm", "Lowered", "length", "mm").said(-30.0)
        '−30 mm'
        """
        if value is None:
            return "as it stands"
        if self.kind == "flag":
            return "yes" if value else "no"
        if self.kind == "choice":
            return self.choices.get(str(value), str(value))
        space = "" if self.unit == "°" else " "
        return f"{value:g}{space}{self.unit}".rstrip().replace("-", "−")


@dataclass(frozen=True)
class Bench:
    """A bench: what it is asked, and what of the car and the build it rests on."""

    key: str
    name: str
    about: str
    levers: tuple[Lever, ...] = ()
    #: codes of the stations whose readings it uses
    stations: tuple[str, ...] = ()
    #: names of its calculations on the command line
    calculations: tuple[str, ...] = ()
