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
    "daily": Tolerances(
        damper_mm=5.0,
        perch_mm=8.0,
        arch_side_mm=10.0,
        arch_up_mm=40.0,
        liner_mm=10.0,
        rail_mm=8.0,
        caliper_mm=3.0,
        joint_mm=4.0,
        growth_mm=1.0,
        flex_mm=2.0,
    ),
    "track": Tolerances(
        damper_mm=3.0,
        perch_mm=5.0,
        arch_side_mm=6.0,
        arch_up_mm=30.0,
        liner_mm=6.0,
        rail_mm=5.0,
        caliper_mm=2.0,
        joint_mm=3.0,
        growth_mm=2.0,
        flex_mm=4.0,
    ),
    "drift": Tolerances(
        damper_mm=3.0,
        perch_mm=5.0,
        arch_side_mm=5.0,
        arch_up_mm=30.0,
        liner_mm=5.0,
        rail_mm=5.0,
        caliper_mm=2.0,
        joint_mm=3.0,
        growth_mm=1.5,
        flex_mm=4.0,
    ),
    "show": Tolerances(
        damper_mm=3.0,
        perch_mm=5.0,
        arch_side_mm=2.0,
        arch_up_mm=15.0,
        liner_mm=5.0,
        rail_mm=5.0,
        caliper_mm=2.0,
        joint_mm=3.0,
        growth_mm=0.5,
        flex_mm=1.0,
    ),
    "tow": Tolerances(
        damper_mm=8.0,
        perch_mm=10.0,
        arch_side_mm=15.0,
        arch_up_mm=60.0,
        liner_mm=15.0,
        rail_mm=10.0,
        caliper_mm=4.0,
        joint_mm=5.0,
        growth_mm=1.0,
        flex_mm=3.0,
    ),
}


SCHOOL_NAMES = {"daily": "Daily", "track": "Track", "drift": "Drift", "show": "Show", "tow": "Tow"}
