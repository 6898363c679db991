"""From one wheel and tyre to another: what moves, and by how much."""

from __future__ import annotations

import math
from dataclasses import dataclass

from rimcore.wheels.tyre import MM_PER_IN, Tyre, section_on_rim_mm
from rimcore.wheels.wheel import Wheel

#: true speeds at which UN R39 tests the speedometer [km/h]
R39_SPEEDS_KMH = (40.0, 80.0, 120.0)
#: radius of gyration of a light-alloy wheel over its rim radius (estimate, from memory)
WHEEL_GYRATION = 0.8


@dataclass(frozen=True)
class Corner:
    """One corner's wheel and tyre. Lengths in mm, masses in kg, inertia about the axle in kg·m²; None is unknown."""

    wheel: Wheel
    tyre: Tyre | None = None
    spacer_mm: float = 0.0
    wheel_kg: float | None = None
    tyre_kg: float | None = None
    measured_section_mm: float | None = None
    inertia_kg_m2: float | None = None

    @property
    def section_mm(self) -> float | None:
        if self.tyre is None:
            return None
        return self.measured_section_mm or section_on_rim_mm(self.tyre, self.wheel.width_in)

    @property
    def centre_mm(self) -> float | None:
        return None if self.wheel.offset_mm is None else self.spacer_mm - self.wheel.offset_mm

    @property
    def mass_kg(self) -> float | None:
        if self.wheel_kg is None or self.tyre_kg is None:
            return None
        return self.wheel_kg + self.tyre_kg


@dataclass(frozen=True)
class Swap:
    """What changes at one corner; None where something was not given."""

    outer_lip_shift_mm: float | None
    inner_lip_shift_mm: float | None
    tyre_outer_shift_mm: float | None
    tyre_inner_shift_mm: float | None
    track_change_mm: float | None
    diameter_change_mm: float | None
    diameter_change_pct: float | None
    true_kmh_at_indicated_100: float | None
    legal_r39: bool | None
    mass_change_kg_per_corner: float | None
    equivalent_mass_change_kg_per_corner: float | None
    inertia_basis: str | None

    @property
    def ride_height_change_mm(self) -> float | None:
        return None if self.diameter_change_mm is None else self.diameter_change_mm / 2

    @property
    def arch_up_gap_change_mm(self) -> float | None:
        return None if self.diameter_change_mm is None else -self.diameter_change_mm / 2

    @property
    def arch_side_gap_change_mm(self) -> float | None:
        return None if self.tyre_outer_shift_mm is None else -self.tyre_outer_shift_mm


def swap(old: Corner, new: Corner) -> Swap:
    """Compare two corners.

    Source: geometry; UN R39 for the speedometer; equivalent mass m + I/r², the mass at rest that
    takes as much energy to set moving (Gillespie, Fundamentals of Vehicle Dynamics, ch. 2).

    Examples
    --------
    >>> from rimcore.wheels.wheel import parse_wheel
    >>> round(swap(Corner(parse_wheel("18x10.5 +20")), Corner(parse_wheel("18x11 +34"))).outer_lip_shift_mm, 2)
    -7.65
    """
    outer = inner = track = tyre_outer = tyre_inner = None
    if old.centre_mm is not None and new.centre_mm is not None:
        moved = new.centre_mm - old.centre_mm
        wider = (new.wheel.flange_width_mm - old.wheel.flange_width_mm) / 2
        outer, inner, track = moved + wider, -moved + wider, 2 * moved
        if old.section_mm is not None and new.section_mm is not None:
            fatter = (new.section_mm - old.section_mm) / 2
            tyre_outer, tyre_inner = moved + fatter, -moved + fatter
    change = percent = true_speed = legal = None
    if old.tyre is not None and new.tyre is not None:
        change = new.tyre.diameter_mm - old.tyre.diameter_mm
        percent = change / old.tyre.diameter_mm * 100
        true_speed = true_kmh(100.0, old.tyre.diameter_mm, new.tyre.diameter_mm)
        legal = legal_r39(old.tyre.diameter_mm, new.tyre.diameter_mm)
    mass = None if old.mass_kg is None or new.mass_kg is None else new.mass_kg - old.mass_kg
    before, after = equivalent_mass_kg(old), equivalent_mass_kg(new)
    equivalent = None if before is None or after is None else after - before
    return Swap(
        outer_lip_shift_mm=outer,
        inner_lip_shift_mm=inner,
        tyre_outer_shift_mm=tyre_outer,
        tyre_inner_shift_mm=tyre_inner,
        track_change_mm=track,
        diameter_change_mm=change,
        diameter_change_pct=percent,
        true_kmh_at_indicated_100=true_speed,
        legal_r39=legal,
        mass_change_kg_per_corner=mass,
        equivalent_mass_change_kg_per_corner=equivalent,
        inertia_basis=_basis(old, new, equivalent),
    )


def true_kmh(indicated_kmh: float, old_diameter_mm: float, new_diameter_mm: float) -> float:
    """True speed when the speedometer, exact with the old tyres, shows ``indicated_kmh``.

    Source: rolling without slip.

    Parameters
    ----------
    indicated_kmh : 0 or more [km/h]
    old_diameter_mm : over 0 [mm]
    new_diameter_mm : over 0 [mm]

    >>> round(true_kmh(100, 634.3, 642.7), 2)
    101.32
    """
    return indicated_kmh * new_diameter_mm / old_diameter_mm


def indicated_kmh(true_speed_kmh: float, old_diameter_mm: float, new_diameter_mm: float) -> float:
    """What the speedometer shows at a true speed, if it was exact with the old tyres.

    Source: rolling without slip.

    Parameters
    ----------
    true_speed_kmh : 0 or more [km/h]
    old_diameter_mm : over 0 [mm]
    new_diameter_mm : over 0 [mm]

    >>> round(indicated_kmh(80, 642.7, 634.3), 2)
    81.06
    """
    return true_speed_kmh * old_diameter_mm / new_diameter_mm


def legal_r39(old_diameter_mm: float, new_diameter_mm: float) -> bool:
    """UN R39: 0 ≤ indicated − true ≤ true/10 + 4 km/h at 40, 80 and 120 km/h.

    Source: UN Regulation No. 39; the speedometer is taken as exact before.

    Parameters
    ----------
    old_diameter_mm : over 0 [mm]
    new_diameter_mm : over 0 [mm]

    >>> legal_r39(634.3, 642.7), legal_r39(642.7, 634.3), legal_r39(600, 600)
    (False, True, True)
    """
    for true_speed in R39_SPEEDS_KMH:
        over = indicated_kmh(true_speed, old_diameter_mm, new_diameter_mm) - true_speed
        if not -1e-9 <= over <= true_speed / 10 + 4 + 1e-9:
            return False
    return True


def equivalent_mass_kg(corner: Corner) -> float | None:
    """Mass at rest as hard to set moving as this turning corner: m + I/r² [kg].

    The inertia is the given one, else an estimate: the wheel as a ring at 0.8 of its rim radius, the
    tyre as an even ring from rim to tread; r is the rolling radius.

    >>> from rimcore.wheels.tyre import parse_tyre
    >>> from rimcore.wheels.wheel import parse_wheel
    >>> corner = Corner(parse_wheel("17x7.5 +45"), parse_tyre("225/45R17"), wheel_kg=9.0, tyre_kg=9.5)
    >>> round(equivalent_mass_kg(corner), 2)
    28.71
    """
    if corner.mass_kg is None or corner.tyre is None:
        return None
    inertia = corner.inertia_kg_m2 if corner.inertia_kg_m2 is not None else _estimated_inertia(corner)
    rolling_radius_m = corner.tyre.rolling_circumference_mm / (2 * math.pi) / 1000
    return corner.mass_kg + inertia / rolling_radius_m**2


def _estimated_inertia(corner: Corner) -> float:
    if corner.tyre is None or corner.wheel_kg is None or corner.tyre_kg is None:
        raise ValueError("the estimate needs wheel, tyre and both weights")
    rim_m = corner.wheel.diameter_in * MM_PER_IN / 2000
    tread_m = corner.tyre.diameter_mm / 2000
    return corner.wheel_kg * (WHEEL_GYRATION * rim_m) ** 2 + corner.tyre_kg * (rim_m**2 + tread_m**2) / 2


def _basis(old: Corner, new: Corner, equivalent: float | None) -> str | None:
    if equivalent is None:
        return None
    given = old.inertia_kg_m2 is not None, new.inertia_kg_m2 is not None
    return "given" if all(given) else "partly estimated" if any(given) else "estimated"
