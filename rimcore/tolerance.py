"""Tolerance sets: the margins each school of use wants."""

from __future__ import annotations

from dataclasses import dataclass, fields


@dataclass(frozen=True)
class Tolerances:
    """Margins wanted at rest [mm]; ``arch_up_mm`` is the room for bump above the tread."""

    damper_mm: float
    perch_mm: float
    arch_side_mm: float
    arch_up_mm: float
    liner_mm: float
    rail_mm: float
    caliper_mm: float
    joint_mm: float

    def wanted(self, place: str) -> float:
        """Margin at a place; an arm is held to what the rail is.

        >>> SCHOOLS["daily"].wanted("damper")
        5.0
        """
        return float(getattr(self, f"{'rail' if place == 'arm' else place}_mm"))


MARGIN_FIELDS = tuple(field.name for field in fields(Tolerances))

#: the five schools (common practice; meant to be copied and edited)
SCHOOLS: dict[str, Tolerances] = {
    "daily": Tolerances(5.0, 8.0, 10.0, 40.0, 10.0, 8.0, 3.0, 4.0),
    "track": Tolerances(3.0, 5.0, 6.0, 30.0, 6.0, 5.0, 2.0, 3.0),
    "drift": Tolerances(3.0, 5.0, 5.0, 30.0, 5.0, 5.0, 2.0, 3.0),
    "show": Tolerances(3.0, 5.0, 2.0, 15.0, 5.0, 5.0, 2.0, 3.0),
    "tow": Tolerances(8.0, 10.0, 15.0, 60.0, 15.0, 10.0, 4.0, 5.0),
}

SCHOOL_NAMES = {"daily": "Daily", "track": "Track", "drift": "Drift", "show": "Show", "tow": "Tow"}
