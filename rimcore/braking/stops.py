"""One stop: energy, load of both ends, torque, and what the rotors take."""

from __future__ import annotations

from dataclasses import dataclass

from rimcore.quantities.judgement import COMMON_PRACTICE, InputUsed, Judgement, State, unmeasured
from rimcore.tables.facts import G_M_PER_S2

#: heat capacity of cast iron [J/(kg·K)] (from memory)
IRON_CP = 460.0
#: share that wheels, shafts and gears add to the mass [%] (common practice)
ROTATING_PCT = 4.0
#: a hard stop on the road: from which speed, at which deceleration [g] (common practice)
HARD_KMH, HARD_G = 120.0, 0.8
#: rise of one stop that street pads take, and that any pad takes [K] (common practice)
TIGHT_K, HIT_K = 250.0, 400.0
#: pressure at the pedal that goes up by so much is felt, by so much is a plan of its own [%] (common practice)
TIGHT_PCT, HIT_PCT = 10.0, 25.0


@dataclass(frozen=True)
class Braked:
    """A car in a stop. Mass and front share at rest, centre of gravity and wheelbase [mm], loaded radii front and rear
    [mm].
    """

    mass_kg: float
    front_pct: float
    cg_height_mm: float
    wheelbase_mm: float
    radius_mm: tuple[float, float]


@dataclass(frozen=True)
class Stop:
    """From one speed to another [km/h] at a deceleration [g]."""

    from_kmh: float
    to_kmh: float = 0.0
    deceleration_g: float = HARD_G
    rotating_pct: float = ROTATING_PCT


def energy_kj(mass_kg: float, stop: Stop) -> float:
    """What a stop turns into heat [kJ]: ½ m (1 + rotating) (v₁² − v₂²).

    Source: kinetic energy; rotating share as in Limpert, Brake Design and Safety, ch. 3.

    Parameters
    ----------
    mass_kg : of the car, over 0 [kg]
    stop : from and to which speed, with how much rotating

    >>> round(energy_kj(1500.0, Stop(100.0, rotating_pct=0.0)), 1)
    578.7
    """
    squares = (stop.from_kmh / 3.6) ** 2 - (stop.to_kmh / 3.6) ** 2
    return mass_kg * (1.0 + stop.rotating_pct / 100.0) * squares / 2000.0


def front_load_pct(car: Braked, deceleration_g: float) -> float:
    """Front share of the load while braking [%], not held: over 100 the rear has lifted.

    Share at rest + deceleration × height ÷ wheelbase (Gillespie, Fundamentals of Vehicle Dynamics, ch. 3).

    Parameters
    ----------
    car : axle loads, wheelbase, height of the centre of gravity
    deceleration_g : 0 or more [g]

    >>> front_load_pct(Braked(1500.0, 60.0, 500.0, 2500.0, (300.0, 300.0)), 1.0)
    80.0
    """
    return car.front_pct + 100.0 * deceleration_g * car.cg_height_mm / car.wheelbase_mm


def shares(car: Braked, deceleration_g: float) -> tuple[float, float]:
    """Load of front and rear while braking, held to 0 to 1.

    Source: as ``front_load_pct``.

    Parameters
    ----------
    car : axle loads, wheelbase, height of the centre of gravity
    deceleration_g : 0 or more [g]
    """
    front = min(1.0, max(0.0, front_load_pct(car, deceleration_g) / 100.0))
    return front, 1.0 - front


def axle_torque_nm(car: Braked, stop: Stop) -> tuple[float, float]:
    """Brake torque of both axles where each brakes by its load [N·m]: m (1 + rotating) a × share × radius.

    >>> [round(one) for one in axle_torque_nm(Braked(1000.0, 50.0, 500.0, 2500.0, (300.0, 300.0)), Stop(100.0, deceleration_g=1.0, rotating_pct=0.0))]
    [2059, 883]
    """
    force = car.mass_kg * (1.0 + stop.rotating_pct / 100.0) * stop.deceleration_g * G_M_PER_S2
    front, rear = (
        force * share * radius / 1000.0
        for share, radius in zip(shares(car, stop.deceleration_g), car.radius_mm, strict=True)
    )
    return front, rear


def rise_k(car: Braked, stop: Stop, rotors_kg: tuple[float, float]) -> tuple[float, float]:
    """How much warmer one stop makes the rotors of both axles [K].

    Energy by load into both rotors of an axle, none leaves.

    Source: single-stop temperature rise (Limpert, Brake Design and Safety, ch. 3).

    Parameters
    ----------
    car : axle loads, wheelbase, height of the centre of gravity
    stop : from and to which speed
    rotors_kg : one rotor of the front, one of the rear, over 0 [kg]

    >>> [round(one, 1) for one in rise_k(Braked(1500.0, 60.0, 500.0, 2500.0, (300.0, 300.0)), Stop(100.0, rotating_pct=0.0), (7.0, 4.0))]
    [68.3, 37.7]
    """
    joules = 1000.0 * energy_kj(car.mass_kg, stop)
    front, rear = (
        joules * share / (2.0 * kg * IRON_CP)
        for share, kg in zip(shares(car, stop.deceleration_g), rotors_kg, strict=True)
    )
    return front, rear


def pressure_change_pct(mass_kg: float, radius_mm: float, before_kg: float, before_mm: float) -> float:
    """How much more line pressure the front wants for the same stop [%]: m r over m r before.

    Source: balance of moments at the wheel.

    Parameters
    ----------
    mass_kg : of the car, over 0 [kg]
    radius_mm : rolling radius of the front tyre, over 0 [mm]
    before_kg : mass before, over 0 [kg]
    before_mm : rolling radius before, over 0 [mm]

    >>> round(pressure_change_pct(1650.0, 330.0, 1500.0, 300.0), 6)
    21.0
    """
    return 100.0 * (mass_kg * radius_mm / (before_kg * before_mm) - 1.0)


def stopping_force_n(mass_kg: float, stop: Stop) -> float:
    """Force that a stop takes over all wheels [N]: m (1 + rotating) a.

    Source: Newton's second law.

    Parameters
    ----------
    mass_kg : of the car, over 0 [kg]
    stop : its deceleration and rotating share

    >>> round(stopping_force_n(1000.0, Stop(100.0, deceleration_g=1.0, rotating_pct=0.0)), 2)
    9806.65
    """
    return mass_kg * (1.0 + stop.rotating_pct / 100.0) * stop.deceleration_g * G_M_PER_S2


#: how what is missing is found, by a word of its name
WAYS = {
    "weight of a": "weigh one brake disc, or enter its weight",
    "car's weight": "weigh the car, or enter its axle loads",
    "wheelbase": "measure the wheelbase",
    "centre of gravity": "find its height on Corner weights with one end raised, or enter it under the car",
    "wheels": "enter the wheels on the car",
}


def ways_to(missing: tuple[str, ...]) -> list[str]:
    """What finds what is missing; nothing that was given is asked for.

    >>> ways_to(("the wheelbase",))
    ['measure the wheelbase']
    """
    return [way for word, way in WAYS.items() if any(word in one for one in missing)]


def judge_rise(
    rise: float | None,
    where: str,
    missing: tuple[str, ...] = (),
    inputs: tuple[InputUsed, ...] = (),
    said: str = "",
    known: str = "not known",
) -> Judgement:
    """One stop's heat in the rotors of an axle: ``tight`` over 250 K, ``hit`` over 400 K.

    Source: limits from memory.

    Parameters
    ----------
    rise : warmer by so much [K]; None where not known
    where : the axle, in words
    missing : what was not read
    inputs : what was read, for the figure's formula
    said : the figure in words
    known : what the figure leaves out

    >>> [judge_rise(rise, "front").state for rise in (200.0, 300.0, 450.0)]
    ['clear', 'tight', 'hit']
    """
    code, name = f"braking.rise.{where}", f"Disc temperature rise, one stop, {where}"
    if rise is None:
        return unmeasured(code, name, f"{known}: {', '.join(missing)}", list(missing), ways_to(missing), inputs)
    state: State = "hit" if rise > HIT_K else "tight" if rise > TIGHT_K else "clear"
    return Judgement(
        code,
        name,
        state,
        f"{rise:.0f} K warmer by one stop; {TIGHT_K:g} K is what street pads take",
        f"{COMMON_PRACTICE}; iron {IRON_CP:g} J/(kg·K), from memory",
        value=rise,
        unit="K",
        held_against=TIGHT_K,
        margin=TIGHT_K - rise,
        formula=said,
        inputs=inputs,
        where=where,
        remedies=()
        if state == "clear"
        else ("heavier or vented discs", "pads for the heat", "air to the brakes", "less weight"),
    )


def judge_pressure(
    change: float | None, missing: tuple[str, ...] = (), inputs: tuple[InputUsed, ...] = (), said: str = ""
) -> Judgement:
    """How much harder the pedal is pressed than before: ``tight`` from 10 %, ``hit`` over 25 %.

    Source: limits from memory.

    Parameters
    ----------
    change : more by so much [%]; None where not known
    missing : what was not read
    inputs : what was read, for the figure's formula
    said : the figure in words

    >>> [judge_pressure(change).state for change in (5.0, 12.0, 30.0)]
    ['clear', 'tight', 'hit']
    """
    code, name = "braking.pressure", "Pressure for the same stop"
    if change is None:
        return unmeasured(code, name, f"not known: {', '.join(missing)}", list(missing), ways_to(missing))
    state: State = "hit" if change > HIT_PCT else "tight" if change > TIGHT_PCT else "clear"
    return Judgement(
        code,
        name,
        state,
        f"{change:+.0f} % against the car as first recorded".replace("-", "−"),
        f"{COMMON_PRACTICE}: heavier cars on taller tyres stop longer",
        value=change,
        unit="%",
        held_against=TIGHT_PCT,
        margin=TIGHT_PCT - change,
        formula=said,
        inputs=inputs,
        remedies=()
        if state == "clear"
        else ("larger front discs or calipers", "less weight", "tyres of the old radius"),
    )
