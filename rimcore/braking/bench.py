"""The brakes bench, as declared, and one stop of the car with its build."""

from __future__ import annotations

from dataclasses import dataclass, replace

from rimcore.braking.stops import (
    Braked,
    Stop,
    axle_torque_nm,
    energy_kj,
    front_load_pct,
    judge_pressure,
    judge_rise,
    pressure_change_pct,
    rise_k,
    stopping_force_n,
)
from rimcore.quantities.declared import Bench
from rimcore.quantities.judgement import InputUsed, Judgement

BRAKES_BENCH = Bench(
    "brakes",
    "Brakes",
    "one stop with the build's weight and tyres: energy, load, heat in the discs, pressure",
    (),
    (),
    ("brakes",),
)

#: bedding of new pads and rotors, stop by stop (common practice)
BED_IN = (
    "Ten stops from 60 to 15 km/h, gently, half a minute apart.",
    "Ten stops from 80 to 15 km/h, firmly, none to a standstill.",
    "Ten kilometres without braking, so that they cool.",
    "No parking with the brake held while they are hot.",
)


@dataclass(frozen=True)
class Braking:
    """A car before and with its build; None where something of it is not known."""

    before: Braked | None
    now: Braked | None
    stop: Stop
    rotors_kg: tuple[float | None, float | None] = (None, None)
    #: of the build, where a rotor of it has a mass
    rotors_now_kg: tuple[float | None, float | None] = (None, None)
    missing: tuple[str, ...] = ()
    inputs: tuple[InputUsed, ...] = ()
    #: mass before and with the build [kg], and the front radius of both [mm]; known without any share of the axles
    masses_kg: tuple[float, float] | None = None
    front_radius_mm: tuple[float, float] | None = None

    @property
    def whole(self) -> tuple[float, float] | None:
        """Energy of the stop with the build [kJ] and the force that it takes in all [N]; None without its mass."""
        if self.masses_kg is None:
            return None
        return energy_kj(self.masses_kg[1], self.stop), stopping_force_n(self.masses_kg[1], self.stop)


@dataclass(frozen=True)
class Stopped:
    """One stop in figures."""

    energy_kj: float
    front_pct: float
    torque_nm: tuple[float, float]
    rise_k: tuple[float | None, float | None]


def stopped(car: Braked, stop: Stop, rotors_kg: tuple[float | None, float | None]) -> Stopped:
    """Figures of one stop; no rise where a rotor's mass is not known.

    >>> found = stopped(Braked(1500.0, 60.0, 500.0, 2500.0, (300.0, 300.0)), Stop(100.0), (7.0, None))
    >>> round(found.energy_kj), found.rise_k[1]
    (602, None)
    """
    known = tuple(kg if kg is not None else 1.0 for kg in rotors_kg)
    rises = rise_k(car, stop, (known[0], known[1]))
    front, rear = (rise if kg is not None else None for rise, kg in zip(rises, rotors_kg, strict=True))
    share = min(100.0, max(0.0, front_load_pct(car, stop.deceleration_g)))
    return Stopped(energy_kj(car.mass_kg, stop), share, axle_torque_nm(car, stop), (front, rear))


def judge_brakes(one: Braking) -> tuple[Judgement, ...]:
    """Pressure against before, and the heat of one stop at both ends.

    >>> [found.state for found in judge_brakes(Braking(None, None, Stop(100.0), missing=("the car's mass",)))]
    ['unmeasured', 'unmeasured', 'unmeasured']
    """
    if one.masses_kg is None or one.front_radius_mm is None:
        return (judge_pressure(None, one.missing), *(judge_rise(None, end, one.missing) for end in ("front", "rear")))
    (was_kg, is_kg), (was_mm, is_mm) = one.masses_kg, one.front_radius_mm
    change = pressure_change_pct(is_kg, is_mm, was_kg, was_mm)
    said = f"{is_kg:.0f} kg × {is_mm:.0f} mm ÷ ({was_kg:.0f} kg × {was_mm:.0f} mm) − 1"
    if one.now is None or one.before is None:
        energy, force = one.whole or (0.0, 0.0)
        reason = f"the stop takes {energy:.0f} kJ and {force:.0f} N in all; of each axle not known"
        return (
            judge_pressure(change, (), one.inputs, said),
            *(judge_rise(None, end, one.missing, one.inputs, "", reason) for end in ("front", "rear")),
        )
    rotors = tuple(now if now is not None else then for now, then in zip(one.rotors_now_kg, one.rotors_kg, strict=True))
    found = stopped(one.now, one.stop, (rotors[0], rotors[1]))
    then = stopped(one.before, one.stop, one.rotors_kg)
    rows = [judge_pressure(change, (), one.inputs, said)]
    for place, end in enumerate(("front", "rear")):
        judged = judge_rise(
            found.rise_k[place],
            end,
            (f"the weight of a {end} disc",),
            one.inputs,
            f"{found.energy_kj:.0f} kJ × share of load ÷ (2 × disc × 460)",
        )
        rows.append(replace(judged, before=then.rise_k[place]))
    return tuple(rows)
