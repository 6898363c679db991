"""A run of pipe as sections: velocity, Reynolds and Mach number, and what each loses of total pressure.

Losses: Darcy–Weisbach with 64/Re below 2,040, else Colebrook–White; bends and cones by Rennels (``fluids``' default),
their own
length included, on the smaller bore's velocity head; filters, meters, coolers and silencers by a drop at a flow, with
its square.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

from rimcore.breathing.air import R_DRY, ZERO_C_K, Air, viscosity_pa_s
from rimcore.quantities.errors import BadInput

#: Mach number over which the sums for a gas that does not thicken begin to fail
MACH_MOST = 0.3
#: ratio of heats of exhaust gas, taken as air
GAMMA_EXHAUST = 1.33
#: K of a plain entry (common practice: sharp-edged)
ENTRY_K = 0.5
#: roughness of drawn tube, and of sooted steel [mm]
SMOOTH_MM, STEEL_MM = 0.0015, 0.045
BORED = ("pipe", "bend", "reducer", "entry")
BOXED = ("filter", "meter", "cooler", "silencer")


@dataclass(frozen=True)
class Section:
    """A piece of a run, in the order of the flow.

    Lengths in mm; ``drop_kpa`` at ``at_kg_per_s``, and for a silencer at ``at_c``.
    """

    kind: str
    diameter_mm: float | None = None
    length_mm: float = 0.0
    to_mm: float | None = None
    angle_deg: float | None = None
    radius_mm: float | None = None
    k: float | None = None
    drop_kpa: float = 0.0
    at_kg_per_s: float = 1.0
    at_c: float | None = None

    @property
    def small_mm(self) -> float | None:
        """The smaller bore [mm]; None where a piece has none."""
        return self.diameter_mm if self.diameter_mm is None or self.to_mm is None else min(self.diameter_mm, self.to_mm)

    @property
    def along_mm(self) -> float:
        """Length along the centre line [mm]; bends by K, entries and boxes have none.

        >>> round(Section("bend", 76.0, angle_deg=90.0, radius_mm=100.0).along_mm, 1)
        157.1
        """
        if self.kind == "bend":
            return 0.0 if self.k is not None else math.radians(self.angle_deg or 0.0) * (self.radius_mm or 0.0)
        return self.length_mm if self.kind in ("pipe", "reducer") else 0.0


@dataclass(frozen=True)
class Gas:
    """What flows, at a section: density [kg/m³], viscosity [Pa·s], speed of sound [m/s], temperature [°C]."""

    density: float
    viscosity: float
    sound_m_per_s: float
    temperature_c: float


@dataclass(frozen=True)
class Lost:
    """What a section does to the flow; None where it has no bore.

    Velocity at its own diameter, Mach at its smaller bore.
    """

    loss_kpa: float
    velocity_m_per_s: float | None
    reynolds: float | None
    mach: float | None
    gas_c: float


def gas_of(air: Air) -> Gas:
    """Air of the inlet, the same throughout."""
    return Gas(
        air.density_kg_per_m3,
        viscosity_pa_s(air.temperature_c + ZERO_C_K),
        air.speed_of_sound_m_per_s,
        air.temperature_c,
    )


def exhaust_gas(temperature_c: float, pressure_kpa: float) -> Gas:
    """Exhaust as air at a temperature; the run's own back pressure is neglected.

    Source: ideal gas with air's constant (ISO 2533).

    Parameters
    ----------
    temperature_c : over −273 [°C]
    pressure_kpa : absolute, over 0 [kPa]

    >>> round(exhaust_gas(500.0, 101.325).density, 3)
    0.457
    """
    kelvin = temperature_c + ZERO_C_K
    density = pressure_kpa * 1000.0 / (R_DRY * kelvin)
    return Gas(density, viscosity_pa_s(kelvin), math.sqrt(GAMMA_EXHAUST * R_DRY * kelvin), temperature_c)


def air_kg_per_s(displacement_l: float, rpm: float, ve_pct: float, manifold_ratio: float, density: float) -> float:
    """Air that a four-stroke engine draws [kg/s]: displacement × rpm ÷ 120 × filling × manifold ratio × density.

    Source: definition of volumetric efficiency (Heywood, Internal Combustion Engine Fundamentals, ch. 2).

    Parameters
    ----------
    displacement_l : over 0 [L]
    rpm : engine speed, 0 or more [1/min]
    ve_pct : filling (volumetric efficiency), 0 or more [%]
    manifold_ratio : absolute pressure in the manifold over ambient, 1 unblown
    density : of ambient air [kg/m³]

    >>> round(air_kg_per_s(2.0, 6000.0, 100.0, 1.0, 1.225), 4)
    0.1225
    """
    return displacement_l / 1000.0 * rpm / 120.0 * ve_pct / 100.0 * manifold_ratio * density


def velocity_m_per_s(flow_kg_per_s: float, bore_mm: float, density: float) -> float:
    """Mean velocity in a bore [m/s].

    Source: continuity.

    Parameters
    ----------
    flow_kg_per_s : 0 or more [kg/s]
    bore_mm : over 0 [mm]
    density : over 0 [kg/m³]

    >>> round(velocity_m_per_s(0.1225, 76.2, 1.225), 2)
    21.93
    """
    return flow_kg_per_s / (density * math.pi * (bore_mm / 2000.0) ** 2)


def losses(sections: Sequence[Section], flow_kg_per_s: float, gases: Sequence[Gas], roughness_mm: float) -> list[Lost]:
    """What each section loses.

    Parameters
    ----------
    sections : of the run, in the order of the flow
    flow_kg_per_s : 0 or more [kg/s]
    gases : of each section
    roughness_mm : of every bore [mm]

    Raises
    ------
    BadInput : under ``sections.N``, a flow at or over the speed of sound, or a cone that can't be computed

    Examples
    --------
    >>> from rimcore.breathing.air import Air
    >>> gas = gas_of(Air(15.0, 101.325, 0.0))
    >>> round(losses([Section("pipe", 76.2, 1000.0)], 0.1225, [gas], 0.0)[0].loss_kpa, 4)
    0.0676
    """
    return [
        _lost(one, place, flow_kg_per_s, gas, roughness_mm)
        for place, (one, gas) in enumerate(zip(sections, gases, strict=True))
    ]


def _lost(one: Section, place: int, flow: float, gas: Gas, roughness_mm: float) -> Lost:
    if one.small_mm is None or one.diameter_mm is None:
        ratio = flow / one.at_kg_per_s
        warmer = 1.0 if one.at_c is None else (gas.temperature_c + ZERO_C_K) / (one.at_c + ZERO_C_K)
        return Lost(one.drop_kpa * ratio**2 * warmer, None, None, None, gas.temperature_c)
    fast = velocity_m_per_s(flow, one.small_mm, gas.density)
    mach = fast / gas.sound_m_per_s
    if mach >= 1.0:
        raise BadInput(
            f"the flow would reach {mach:.2f} times the speed of sound in {one.small_mm:g} mm; accepted: a bore that keeps it below",
            f"sections.{place}",
        )
    head_kpa = gas.density * fast**2 / 2000.0
    velocity = velocity_m_per_s(flow, one.diameter_mm, gas.density)
    reynolds = gas.density * velocity * one.diameter_mm / 1000.0 / gas.viscosity
    return Lost(
        head_kpa * _k_of(one, place, flow, gas, roughness_mm) if flow else 0.0,
        velocity,
        reynolds,
        mach,
        gas.temperature_c,
    )


def _k_of(one: Section, place: int, flow: float, gas: Gas, roughness_mm: float) -> float:
    """Loss coefficient on the smaller bore's velocity head."""
    if one.kind == "entry":
        return ENTRY_K if one.k is None else one.k
    if one.k is not None:
        return one.k
    from fluids.fittings import bend_rounded, contraction_conical, diffuser_conical
    from fluids.friction import friction_factor

    small, given = one.small_mm or 0.0, one.diameter_mm or 0.0
    reynolds = 4.0 * flow / (math.pi * small / 1000.0 * gas.viscosity)
    factor = float(friction_factor(Re=reynolds, eD=roughness_mm / small))
    if one.kind == "pipe":
        return factor * one.length_mm / small
    try:
        if one.kind == "bend":
            return float(bend_rounded(Di=small, angle=one.angle_deg or 0.0, fd=factor, rc=one.radius_mm))
        to = one.to_mm or given
        cone = contraction_conical if to < given else diffuser_conical
        return float(cone(Di1=given, Di2=to, l=one.length_mm, fd=factor))
    except (ValueError, ZeroDivisionError, OverflowError) as error:
        raise BadInput(
            "can't be computed with these sizes; accepted: a bend or cone that can be made", f"sections.{place}"
        ) from error


def temperatures_c(sections: Sequence[Section], in_c: float, out_c: float) -> list[float]:
    """Gas in the middle of each section, falling evenly along the centre line [°C].

    The mean where nothing has a length.

    Source: none; an even fall is assumed and said.

    Parameters
    ----------
    sections : of the run, in the order of the flow
    in_c : where the gas comes in [°C]
    out_c : where it leaves [°C]

    >>> temperatures_c([Section("pipe", 50.0, 100.0), Section("entry", 50.0), Section("pipe", 50.0, 300.0)], 800.0, 400.0)
    [750.0, 700.0, 550.0]
    """
    whole = sum(one.along_mm for one in sections)
    if not whole:
        return [(in_c + out_c) / 2.0] * len(sections)
    found, gone = [], 0.0
    for one in sections:
        found.append(in_c + (out_c - in_c) * (gone + one.along_mm / 2.0) / whole)
        gone += one.along_mm
    return found


def fast_sections(found: Sequence[Lost]) -> list[str]:
    """Sections over the Mach number up to which the sums hold, in words."""
    return [
        f"Section {place}: Mach {one.mach:.2f}; over {MACH_MOST:g} the gas thickens and the loss is larger than given."
        for place, one in enumerate(found)
        if one.mach is not None and one.mach > MACH_MOST
    ]
