"""Tolerance sets: the margins each school of use wants."""

from __future__ import annotations

from dataclasses import dataclass, fields


@dataclass(frozen=True)
class Tolerances:
    """Margins wanted [mm]; ``arch_up_mm`` is the room for bump above the tread where the bump is not measured.

    ``growth_mm`` and ``flex_mm`` are allowances of a moving tyre: how much its tread grows at speed, and
    how much its sidewall leans under cornering with the bushes. In motion they are added to the margin
    by the direction of the gap.
    """

    damper_mm: float
    perch_mm: float
    arch_side_mm: float
    arch_up_mm: float
    liner_mm: float
    rail_mm: float
    caliper_mm: float
    joint_mm: float
    growth_mm: float = 1.0
    flex_mm: float = 2.0

    def wanted(self, place: str) -> float:
        """Margin at a place; an arm is held to what the rail is.

        >>> SCHOOLS["daily"].wanted("damper")
        5.0
        """
        return float(getattr(self, f"{'rail' if place == 'arm' else place}_mm"))

    def wanted_moving(self, place: str, sideways: float, radial: float) -> float:
        """Margin in motion: that of the place and the tyre's allowances along the gap (shares 0 to 1).

        >>> SCHOOLS["daily"].wanted_moving("liner", 0.0, 1.0), SCHOOLS["daily"].wanted_moving("arch", 1.0, 0.0)
        (11.0, 12.0)
        """
        margin = self.arch_side_mm if place == "arch" else self.wanted(place)
        return margin + sideways * self.flex_mm + radial * self.growth_mm


MARGIN_FIELDS = tuple(field.name for field in fields(Tolerances))

#: the five schools (common practice; meant to be copied and edited)
SCHOOLS: dict[str, Tolerances] = {
    "daily": Tolerances(5.0, 8.0, 10.0, 40.0, 10.0, 8.0, 3.0, 4.0, 1.0, 2.0),
    "track": Tolerances(3.0, 5.0, 6.0, 30.0, 6.0, 5.0, 2.0, 3.0, 2.0, 4.0),
    "drift": Tolerances(3.0, 5.0, 5.0, 30.0, 5.0, 5.0, 2.0, 3.0, 1.5, 4.0),
    "show": Tolerances(3.0, 5.0, 2.0, 15.0, 5.0, 5.0, 2.0, 3.0, 0.5, 1.0),
    "tow": Tolerances(8.0, 10.0, 15.0, 60.0, 15.0, 10.0, 4.0, 5.0, 1.0, 3.0),
}

SCHOOL_NAMES = {"daily": "Daily", "track": "Track", "drift": "Drift", "show": "Show", "tow": "Tow"}
