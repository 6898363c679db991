"""The list of part families: what a part of each kind is made of. A new family is a line here and its own check."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass
from typing import Any

from rimcore.quantities.errors import BadInput, CoreError
from rimcore.quantities.limits import LIMITS
from rimcore.wheels.hub import CentringRing, parse_seat
from rimcore.wheels.outline import outline
from rimcore.wheels.traced import traced
from rimcore.wheels.tyre import parse_tyre
from rimcore.wheels.wheel import Wheel, same_rim


@dataclass(frozen=True)
class Spec:
    """One thing that a part's specification says; ``limit`` names one of the set of limits, ``read`` a parser of text."""

    code: str
    name: str
    limit: str = ""
    read: Callable[[str], Any] | None = None
    required: bool = False
    #: kept in a column of its own, because lists are sorted and filtered by it
    column: bool = False

    def check(self, value: Any) -> None:
        """Raise where the value can't be of a part; None passes unless it is required."""
        if value is None or value == "":
            if self.required:
                raise BadInput("is missing", self.code)
            return
        if self.read is not None:
            self.read(str(value))
        elif self.limit:
            good = isinstance(value, (int, float)) and not isinstance(value, bool) and LIMITS[self.limit].holds(value)
            if not good:
                raise BadInput(f"{self.name} is out of range; accepted: {LIMITS[self.limit].accepted}", self.code)


@dataclass(frozen=True)
class Family:
    """A kind of part: its specification, and what must hold of it as a whole."""

    key: str
    name: str
    plural: str
    specs: tuple[Spec, ...]
    whole: Callable[[Mapping[str, Any]], None] = lambda given: None

    def check(self, given: Mapping[str, Any]) -> None:
        """Does a specification make a part of this family?

        Raises
        ------
        BadInput : with the field and what is accepted

        Examples
        --------
        >>> FAMILIES["ring"].check({"inner_mm": 57.1, "outer_mm": 72.6})
        """
        for spec in self.specs:
            spec.check(given.get(spec.code))
        self.whole(given)

    def fault(self, given: Mapping[str, Any]) -> str | None:
        """Why a specification makes no part of this family; None where it does.

        >>> FAMILIES["ring"].fault({"inner_mm": 72.6, "outer_mm": 57.1})
        'the outer diameter must be more than the inner'
        """
        try:
            self.check(given)
        except CoreError as error:
            return error.message
        except (TypeError, ValueError):
            return "its specification can't be read"
        return None


def _wheel(given: Mapping[str, Any]) -> None:
    Wheel(*(given.get(name) for name in ("diameter_in", "width_in", "offset_mm", "bolts", "pcd_mm", "bore_mm")))  # type: ignore[arg-type]


def _tyre(given: Mapping[str, Any]) -> None:
    tyre = parse_tyre(given["size"])
    if not same_rim(tyre.rim_diameter_in, given["diameter_in"]):
        raise BadInput(f"its size says {tyre.rim_diameter_in:g} in, its row {given['diameter_in']:g} in", "size")
    if given.get("profile"):
        points = tuple((float(across), float(radius)) for across, radius in given["profile"])
        traced(outline(Wheel(tyre.rim_diameter_in, tyre.measuring_rim_in), tyre), points)


def _ring(given: Mapping[str, Any]) -> None:
    if given["outer_mm"] <= given["inner_mm"]:
        raise BadInput("the outer diameter must be more than the inner", "outer_mm")
    CentringRing(given["inner_mm"], given["outer_mm"])


WHEEL = Family(
    "wheel",
    "wheel",
    "wheels",
    (
        Spec("diameter_in", "diameter", "diameter_in", required=True, column=True),
        Spec("width_in", "width", "width_in", required=True, column=True),
        Spec("offset_mm", "offset", "offset_mm", column=True),
        Spec("bolts", "lugs", "bolts"),
        Spec("pcd_mm", "bolt circle", "pcd_mm"),
        Spec("bore_mm", "centre bore", "bore_mm"),
        Spec("seat", "seat", read=parse_seat),
        Spec("pad_thickness_mm", "pad thickness", "pad_thickness_mm"),
        Spec("load_kg", "load rating", "load_kg"),
        Spec("barrel_radius_mm", "barrel, inner radius", "barrel_radius_mm"),
        Spec("spoke_back_mm", "spoke back beyond the mounting face", "spoke_back_mm"),
    ),
    _wheel,
)
TYRE = Family(
    "tyre",
    "tyre",
    "tyres",
    (
        Spec("size", "size", read=parse_tyre, required=True),
        Spec("diameter_in", "rim diameter", "diameter_in", required=True, column=True),
        Spec("section_width_mm", "section", "section_mm", column=True),
        Spec("measured_section_mm", "measured section", "section_mm"),
        Spec("profile", "measured half section"),
        Spec("profile_rim_in", "rim it was measured on", "width_in"),
    ),
    _tyre,
)
RING = Family(
    "ring",
    "centring ring",
    "centring rings",
    (
        Spec("inner_mm", "inner diameter", "ring_mm", required=True),
        Spec("outer_mm", "outer diameter", "ring_mm", required=True),
        Spec("mass_change_kg", "mass against what it replaces", "mass_change_kg"),
    ),
    _ring,
)
OTHER = Family("other", "other part", "other parts", (Spec("mass_change_kg", "mass against what it replaces", "mass_change_kg"),))

FAMILIES: dict[str, Family] = {family.key: family for family in (WHEEL, TYRE, RING, OTHER)}
