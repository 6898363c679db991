"""What air presses on a splitter, and what its fasteners and adjusters carry."""

from __future__ import annotations

from dataclasses import dataclass

#: pressure coefficient of a splitter on a road car, positive presses down; density of air on a usual day [kg/m³] (common practice, stated)
USUAL_CP, USUAL_DENSITY = 0.6, 1.2


@dataclass(frozen=True)
class Splitter:
    """Area [m²], pressure coefficient, fasteners, and levers from the rear fixing line to load and adjusters [mm]."""

    area_m2: float
    cp: float = USUAL_CP
    fasteners: int = 1
    levers_mm: tuple[float, float] | None = None
    adjusters: int | None = None


def dynamic_pressure_pa(speed_kmh: float, density: float = USUAL_DENSITY) -> float:
    """½ ρ v² [Pa].

    >>> round(dynamic_pressure_pa(180.0), 6)
    1500.0
    """
    return density * (speed_kmh / 3.6) ** 2 / 2.0


def load_n(one: Splitter, speed_kmh: float, density: float = USUAL_DENSITY) -> float:
    """Load on the whole area [N]; the fasteners are reckoned to carry it all.

    >>> round(load_n(Splitter(0.3), 180.0), 6)
    270.0
    """
    return one.cp * dynamic_pressure_pa(speed_kmh, density) * one.area_m2


def adjuster_n(one: Splitter, load: float) -> float | None:
    """Load on each adjuster by levers about the rear fixing line [N]; None without levers or adjusters.

    >>> adjuster_n(Splitter(0.3, levers_mm=(150.0, 300.0), adjusters=2), 270.0)
    67.5
    """
    if one.levers_mm is None or not one.adjusters:
        return None
    return load * one.levers_mm[0] / one.levers_mm[1] / one.adjusters
