"""When coolant boils under a cap."""

from __future__ import annotations

import bisect

from rimcore.quantities.judgement import COMMON_PRACTICE, InputUsed, Judgement, State, unmeasured

#: normal pressure of the air [kPa]
NORMAL_KPA = 101.325
#: ethylene glycol by volume [%] and how much higher the mixture boils at 1 atm [K]: 212, 214, 216, 220, 220, 225, 232,
#: 245 °F (from memory of a
#: handbook table of aqueous ethylene glycol)
GLYCOL_PCT = (0.0, 10.0, 20.0, 30.0, 40.0, 50.0, 60.0, 70.0)
HIGHER_K = (0.0, 1.1, 2.2, 4.4, 4.4, 7.2, 11.1, 18.3)
#: closer to boiling than this is tight [K] (common practice)
MARGIN_K = 10.0
SOURCE = "water: IAPWS-IF97; ethylene glycol by volume: a handbook table's elevation at 1 atm, from memory, added at the pressure under the cap"
CODE, NAME = "cooling.margin", "Boiling margin of the coolant"


def water_boils_c(pressure_kpa: float) -> float:
    """Boiling point of water at an absolute pressure, 1 kPa to 22 MPa [°C] (IAPWS-IF97).

    Source: IAPWS-IF97, equation 31.

    Parameters
    ----------
    pressure_kpa : absolute, 1 to 22,000 [kPa]

    >>> round(water_boils_c(198.67), 2)
    120.0
    """
    from iapws import IAPWS97

    return float(IAPWS97(P=pressure_kpa / 1000.0, x=0.0).T) - 273.15


def glycol_higher_k(glycol_pct: float) -> float:
    """How much higher a mixture boils than water [K], 0 to 70 % by volume, straight between the table's rows.

    Source: the table beside it, with its source there.

    Parameters
    ----------
    glycol_pct : by volume, 0 to 70 [%]

    >>> glycol_higher_k(50.0), round(glycol_higher_k(55.0), 2)
    (7.2, 9.15)
    """
    row = min(max(bisect.bisect_right(GLYCOL_PCT, glycol_pct) - 1, 0), len(GLYCOL_PCT) - 2)
    share = (glycol_pct - GLYCOL_PCT[row]) / (GLYCOL_PCT[row + 1] - GLYCOL_PCT[row])
    return HIGHER_K[row] + share * (HIGHER_K[row + 1] - HIGHER_K[row])


def boils_c(cap_kpa: float, glycol_pct: float = 0.0, ambient_kpa: float = NORMAL_KPA) -> float:
    """Boiling point under a cap's gauge pressure [°C].

    Source: IAPWS-IF97 for water; the mixture's rise is added (Raoult's law is not used).

    Parameters
    ----------
    cap_kpa : gauge, 0 or more [kPa]
    glycol_pct : by volume, 0 to 70 [%]
    ambient_kpa : absolute, over 0 [kPa]

    >>> round(boils_c(97.345), 1), round(boils_c(97.345, 50.0), 1)
    (120.0, 127.2)
    """
    return water_boils_c(cap_kpa + ambient_kpa) + glycol_higher_k(glycol_pct)


def judge_margin(boiling_c: float, coolant_c: float | None, inputs: tuple[InputUsed, ...] = ()) -> Judgement:
    """How far the coolant is from boiling: ``hit`` over it, ``tight`` under 10 K, else ``clear``.

    Source: 10 K is common practice.

    Parameters
    ----------
    boiling_c : of the coolant under its cap [°C]
    coolant_c : as read; None where not [°C]
    inputs : what was read, for the figure's formula

    >>> [judge_margin(120.0, hot).state for hot in (121.0, 111.0, 110.0)]
    ['hit', 'tight', 'clear']
    """
    if coolant_c is None:
        return unmeasured(
            CODE,
            NAME,
            f"boils at {boiling_c:.0f} °C; how hot the coolant gets is not measured",
            ["coolant"],
            ["read the coolant at its hottest"],
        )
    margin = boiling_c - coolant_c
    state: State = "hit" if margin < 0 else "tight" if margin < MARGIN_K else "clear"
    return Judgement(
        CODE,
        NAME,
        state,
        f"{coolant_c:.0f} °C, boils at {boiling_c:.0f} °C: {margin:.0f} K left".replace("-", "−"),
        f"{SOURCE}; {MARGIN_K:g} K wanted ({COMMON_PRACTICE})",
        value=margin,
        unit="K",
        held_against=MARGIN_K,
        margin=margin - MARGIN_K,
        formula=f"{boiling_c:.1f} − {coolant_c:g} = {margin:.1f} K".replace("= -", "= −"),
        inputs=inputs,
        remedies=()
        if state == "clear"
        else ("a cap of more pressure, as the system allows", "more radiator or more air through it"),
    )
