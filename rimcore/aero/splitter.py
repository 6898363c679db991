"""What air presses on a splitter, what its fasteners and adjusters carry, and how much of the cooler it covers."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from rimcore.quantities.judgement import COMMON_PRACTICE, InputUsed, Judgement, State, unmeasured

#: pressure coefficient of a splitter on a road car, positive presses down; density of air on a usual day [kg/m³]
#: (common practice, stated)
USUAL_CP, USUAL_DENSITY = 0.6, 1.2
#: share of the cooler's opening that may be covered before somebody looks, and before it is a fault [%] (common
#: practice, from memory)
COVER_LOOK_PCT, COVER_MOST_PCT = 5.0, 20.0


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

    Source: Bernoulli; e.g. Katz, Race Car Aerodynamics, ch. 2.

    Parameters
    ----------
    speed_kmh : 0 or more [km/h]
    density : of the air, over 0 [kg/m³]

    >>> round(dynamic_pressure_pa(180.0), 6)
    1500.0
    """
    return density * (speed_kmh / 3.6) ** 2 / 2.0


def load_n(one: Splitter, speed_kmh: float, density: float = USUAL_DENSITY) -> float:
    """Load on the whole area [N]; the fasteners are reckoned to carry it all.

    Source: definition of the lift coefficient; the coefficient itself is assumed.

    Parameters
    ----------
    one : the splitter
    speed_kmh : 0 or more [km/h]
    density : of the air, over 0 [kg/m³]

    >>> round(load_n(Splitter(0.3), 180.0), 6)
    270.0
    """
    return one.cp * dynamic_pressure_pa(speed_kmh, density) * one.area_m2


def adjuster_n(one: Splitter, load: float) -> float | None:
    """Load on each adjuster by levers about the rear fixing line [N]; None without levers or adjusters.

    Source: lever law.

    Parameters
    ----------
    one : the splitter
    load : on the whole area [N]

    >>> adjuster_n(Splitter(0.3, levers_mm=(150.0, 300.0), adjusters=2), 270.0)
    67.5
    """
    if one.levers_mm is None or not one.adjusters:
        return None
    return load * one.levers_mm[0] / one.levers_mm[1] / one.adjusters


def judge_cover(opening_mm: float | None, covered_mm: float | None, inputs: Sequence[InputUsed] = ()) -> Judgement:
    """How much of the cooler's opening a splitter covers.

    Source: common practice.

    Parameters
    ----------
    opening_mm : height of the opening, over 0; None where not read [mm]
    covered_mm : how much of it is covered, 0 or more; None where not read [mm]
    inputs : what was read, for the figure's formula

    >>> [judge_cover(200.0, covered).state for covered in (5.0, 25.0, 60.0, None)]
    ['clear', 'tight', 'hit', 'unmeasured']
    """
    code, name = "air.cover", "Opening of the cooler"
    if opening_mm is None or covered_mm is None:
        what = "its height" if opening_mm is None else "how much is covered"
        return unmeasured(
            code,
            name,
            f"{what} is not measured",
            ["air.opening"],
            ["measure the opening, and how far the splitter stands before it"],
        )
    share = 100.0 * covered_mm / opening_mm
    state: State = "clear" if share <= COVER_LOOK_PCT else "hit" if share > COVER_MOST_PCT else "tight"
    return Judgement(
        code,
        name,
        state,
        f"{covered_mm:g} of {opening_mm:g} mm covered",
        f"{COMMON_PRACTICE}, from memory: {COVER_LOOK_PCT:g} %",
        value=share,
        unit="%",
        held_against=COVER_LOOK_PCT,
        margin=COVER_LOOK_PCT - share,
        formula=f"100 × {covered_mm:g} ÷ {opening_mm:g} = {share:.0f} %",
        inputs=tuple(inputs),
        remedies=() if state == "clear" else ("cut the splitter back there", "watch the coolant on the first hot day"),
    )
