"""The cooling bench, as declared, and what it judges: boiling, frost, the newest bleed run."""

from __future__ import annotations

import bisect

from rimcore.cooling.bleed import WATER_BOILS_C
from rimcore.cooling.boiling import boils_c, judge_margin
from rimcore.quantities.declared import Bench
from rimcore.quantities.judgement import COMMON_PRACTICE, InputUsed, Judgement, State, unmeasured

COOLING_BENCH = Bench(
    "cooling",
    "Cooling",
    "boiling margin under the cap, frost, one core against another, and the bleed run",
    (),
    (),
    ("cooling", "bleed"),
)

#: ethylene glycol by volume [%] and where the mixture begins to freeze [°C] (from memory of a handbook table)
FREEZES_C = ((0.0, 0.0), (10.0, -3.5), (20.0, -8.0), (30.0, -15.0), (40.0, -24.0), (50.0, -36.0), (60.0, -52.0))
#: colder than this above freezing is tight [K] (common practice)
FROST_K = 5.0


def freezes_c(glycol_pct: float) -> float:
    """Where a mixture begins to freeze [°C], straight between the table's rows; beyond 60 % it gets no better.

    >>> freezes_c(50.0), freezes_c(25.0), freezes_c(70.0)
    (-36.0, -11.5, -52.0)
    """
    shares = [share for share, _ in FREEZES_C]
    row = min(max(bisect.bisect_right(shares, glycol_pct) - 1, 0), len(shares) - 2)
    (low, cold), (high, colder) = FREEZES_C[row], FREEZES_C[row + 1]
    return cold + (colder - cold) * min(1.0, (glycol_pct - low) / (high - low))


def judge_frost(glycol_pct: float | None, coldest_c: float | None, inputs: tuple[InputUsed, ...] = ()) -> Judgement:
    """Does the mixture stand the coldest night? Water with an additive does not.

    >>> [judge_frost(50.0, night).state for night in (-20.0, -33.0, -40.0)], judge_frost(50.0, None).state
    (['clear', 'tight', 'hit'], 'unmeasured')
    """
    code, name = "cooling.frost", "Frost"
    if glycol_pct is None or coldest_c is None:
        what = "how much glycol is in it" if glycol_pct is None else "the coldest night it stands through"
        return unmeasured(code, name, f"not known: {what}", ["glycol"], ["hydrometer or refractometer"])
    freezes = freezes_c(glycol_pct)
    margin = coldest_c - freezes
    state: State = "hit" if margin < 0 else "tight" if margin < FROST_K else "clear"
    return Judgement(
        code,
        name,
        state,
        f"begins to freeze at {freezes:.0f} °C, the coldest night has {coldest_c:g} °C".replace("-", "−"),
        f"a handbook table of aqueous ethylene glycol, from memory; {FROST_K:g} K wanted ({COMMON_PRACTICE})",
        value=margin,
        unit="K",
        held_against=FROST_K,
        margin=margin - FROST_K,
        formula=f"{coldest_c:g} − ({freezes:.0f}) = {margin:.0f} K".replace("-", "−"),
        inputs=inputs,
        remedies=() if state == "clear" else ("more glycol, to 60 %", "drain it before the frost"),
    )


def judge_cap(
    cap_kpa: float | None, glycol_pct: float, coolant_c: float | None, inputs: tuple[InputUsed, ...] = ()
) -> Judgement:
    """Boiling margin under a cap at sea level; lower by about a degree for every 300 m up.

    >>> judge_cap(None, 50.0, 100.0).state, judge_cap(100.0, 50.0, 105.0).state
    ('unmeasured', 'clear')
    """
    if cap_kpa is None:
        return unmeasured(
            "cooling.margin",
            "Boiling margin of the coolant",
            "the cap's pressure is not known",
            ["cap"],
            ["read it off the cap"],
        )
    return judge_margin(boils_c(cap_kpa, glycol_pct), coolant_c, inputs)


def judge_run(
    state: State | None,
    reason: str,
    inputs: tuple[InputUsed, ...] = (),
    most_c: float | None = None,
    boil_c: float | None = None,
    end_c: float | None = None,
) -> Judgement:
    """The newest bleed run, as its hoses were judged; a hit where anything in it was over what the cap now holds.

    Parameters
    ----------
    most_c : most that was read in the whole run [°C]
    boil_c : where the coolant boils under the cap [°C]; None where cap or mixture is not known
    end_c : most that was read over the last stretch [°C]

    Examples
    --------
    >>> judge_run(None, "").state
    'unmeasured'
    >>> judge_run("clear", "steady", most_c=112.0, boil_c=108.0).state
    'hit'
    >>> judge_run("clear", "steady", most_c=112.0, end_c=101.0).state
    'unmeasured'
    """
    code, name = "cooling.bleed", "Bled"
    if state is None:
        return unmeasured(code, name, "no bleed run is kept", ["bleed run"], ["watch the hoses while it is bled"])
    if most_c is not None and boil_c is not None and most_c > boil_c:
        state = "hit"
        reason = f"{most_c:.0f} °C was reached and the coolant boils at {boil_c:.0f} °C under this cap; {reason}"
    elif state == "clear" and boil_c is None and end_c is not None and end_c > WATER_BOILS_C:
        return unmeasured(
            code,
            name,
            f"{end_c:.0f} °C at the end, and where the coolant boils is not known; {reason}",
            ["cap", "glycol"],
            ["enter the cap's pressure and the glycol"],
            inputs=inputs,
        )
    return Judgement(
        code,
        name,
        state,
        reason,
        f"{COMMON_PRACTICE}: steady is done",
        inputs=inputs,
        remedies=() if state == "clear" else ("bleed it again, nose up, heater on",),
    )
