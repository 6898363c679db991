"""Revolutions over speed in every gear, and what another tyre or axle ratio does to them."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from rimcore.quantities.judgement import COMMON_PRACTICE, InputUsed, Judgement, State, unmeasured
from rimcore.wheels.tyre import ROLLING_FACTOR

#: minutes an hour and millimetres a kilometre: km/h = rpm × mm × this ÷ ratio
KMH_PER_RPM_MM = 60.0 / 1e6
#: speed at which the last gear is judged, where nobody says another [km/h]
CRUISE_KMH = 110.0
#: of the engine's limit, what is left free in the last gear at cruise (common practice)
FREE_SHARE = 0.25


@dataclass(frozen=True)
class Driveline:
    """From the crankshaft to the road; ratios are input turns for one output turn.

    ``circumference_mm`` is that of the driven wheels on the road, ``gears`` the gearbox alone.
    """

    gears: tuple[float, ...]
    axle_ratio: float
    circumference_mm: float
    transfer_ratio: float = 1.0

    def overall(self, gear: int) -> float:
        """Turns of the engine for one of the wheel, in a gear counted from 1.

        >>> Driveline((3.5, 1.0), 4.0, 2000.0).overall(2)
        4.0
        """
        return self.gears[gear - 1] * self.transfer_ratio * self.axle_ratio


def rolling_mm(diameter_mm: float) -> float:
    """Rolling circumference of a tyre from its outer diameter [mm].

    Source: ISO 4000-1 practice, 3.05 × diameter (from memory), as ``Tyre.rolling_circumference_mm``.

    Parameters
    ----------
    diameter_mm : over 0 [mm]

    >>> round(rolling_mm(634.3), 1)
    1934.6
    """
    return ROLLING_FACTOR * diameter_mm


def rpm_at(line: Driveline, gear: int, speed_kmh: float) -> float:
    """Engine speed at a road speed [1/min].

    Source: geometry of rolling without slip; e.g. Gillespie, Fundamentals of Vehicle Dynamics, chapter 2.

    Parameters
    ----------
    line : ratios, final drive and tyre
    gear : 1 to the number of gears
    speed_kmh : 0 or more [km/h]

    >>> round(rpm_at(Driveline((1.0,), 4.0, 2000.0), 1, 120.0), 9)
    4000.0
    """
    return speed_kmh * line.overall(gear) / (line.circumference_mm * KMH_PER_RPM_MM)


def kmh_at(line: Driveline, gear: int, rpm: float) -> float:
    """Road speed at an engine speed [km/h]; the other way round of ``rpm_at``.

    Source: as ``rpm_at``.

    Parameters
    ----------
    line : ratios, final drive and tyre
    gear : 1 to the number of gears
    rpm : engine speed, 0 or more [1/min]

    >>> round(kmh_at(Driveline((1.0,), 4.0, 2000.0), 1, 4000.0), 9)
    120.0
    """
    return rpm * line.circumference_mm * KMH_PER_RPM_MM / line.overall(gear)


def effective_change_pct(
    axle_ratio: float, circumference_mm: float, axle_before: float, circumference_before_mm: float
) -> float:
    """How much shorter the gearing is than before, in all gears alike [%]; taller tyres make it longer (minus).

    Source: rolling without slip, as ``rpm_at``.

    Parameters
    ----------
    axle_ratio : now, over 0
    circumference_mm : rolling, now, over 0 [mm]
    axle_before : ratio before, over 0
    circumference_before_mm : rolling, before, over 0 [mm]

    >>> round(effective_change_pct(4.1, 2100.0, 4.1, 2000.0), 3)
    -4.762
    """
    return 100.0 * (axle_ratio / circumference_mm / (axle_before / circumference_before_mm) - 1.0)


def axle_to_restore(axle_before: float, circumference_mm: float, circumference_before_mm: float) -> float:
    """Axle ratio that brings the old revolutions back on another tyre.

    Source: rolling without slip, as ``rpm_at``.

    Parameters
    ----------
    axle_before : ratio before, over 0
    circumference_mm : rolling, now, over 0 [mm]
    circumference_before_mm : rolling, before, over 0 [mm]

    >>> axle_to_restore(4.0, 2200.0, 2000.0)
    4.4
    """
    return axle_before * circumference_mm / circumference_before_mm


@dataclass(frozen=True)
class Option:
    """An axle ratio from the shelf: engine speed it gives, and how far that is from what is wanted [1/min]."""

    axle_ratio: float
    rpm: float
    off_rpm: float


def axle_options(
    line: Driveline, ratios: Sequence[float], gear: int, speed_kmh: float, wanted_rpm: float
) -> list[Option]:
    """Axle ratios of the shelf, the nearest to the wanted engine speed first; equal ones as given.

    Source: rolling without slip, as ``rpm_at``.

    Parameters
    ----------
    line : ratios, final drive and tyre
    ratios : of the shelf (n,), over 0
    gear : 1 to the number of gears
    speed_kmh : over 0 [km/h]
    wanted_rpm : engine speed that is wanted there [1/min]

    >>> [one.axle_ratio for one in axle_options(Driveline((1.0,), 4.0, 2000.0), [3.5, 4.5, 4.1], 1, 120.0, 4000.0)]
    [4.1, 3.5, 4.5]
    """
    found = []
    for ratio in ratios:
        rpm = rpm_at(Driveline(line.gears, ratio, line.circumference_mm, line.transfer_ratio), gear, speed_kmh)
        found.append(Option(ratio, rpm, rpm - wanted_rpm))
    return sorted(found, key=lambda one: round(abs(one.off_rpm), 6))


def judge_cruise(
    line: Driveline | None,
    limit_rpm: float | None,
    speed_kmh: float = CRUISE_KMH,
    inputs: Sequence[InputUsed] = (),
    wanted_rpm: float | None = None,
) -> Judgement:
    """The engine in the last gear at cruise.

    ``hit`` above its limit, ``tight`` with less than a quarter of it left, else ``clear``.

    Where the engine speed that is wanted there is known, it is held against that too: ``tight`` further off than a
    tenth,
    ``hit`` further under it than a quarter, where an engine labours (common practice).

    Parameters
    ----------
    line : None where the ratios are not known
    limit_rpm : the engine's limit [1/min]
    speed_kmh : over 0 [km/h]
    inputs : what was read, for the figure's formula
    wanted_rpm : where it pulls best with what it tows [1/min]

    Source: rolling without slip, as ``rpm_at``; the quarter left is common practice.

    Examples
    --------
    >>> line = Driveline((3.5, 1.0), 4.0, 2000.0)
    >>> [judge_cruise(line, limit, 120.0).state for limit in (6000.0, 5000.0, 3900.0)]
    ['clear', 'tight', 'hit']
    >>> [judge_cruise(line, 6000.0, 60.0, (), wanted).state for wanted in (2050.0, 2400.0, 3000.0)]
    ['clear', 'tight', 'hit']
    """
    name = "Engine in the last gear at cruise"
    if line is None or limit_rpm is None:
        return unmeasured(
            "gearing.cruise",
            name,
            "the ratios of the car are not known",
            ["car.driveline"],
            ["write the ratios on the gearing bench"],
        )
    gear = len(line.gears)
    rpm = rpm_at(line, gear, speed_kmh)
    wanted = limit_rpm * (1.0 - FREE_SHARE)
    state: State = "hit" if rpm > limit_rpm else "tight" if rpm > wanted else "clear"
    ratio, road = line.overall(gear), line.circumference_mm
    if wanted_rpm is not None and state == "clear":
        return _against_wanted(line, gear, rpm, speed_kmh, wanted_rpm, inputs)
    return Judgement(
        "gearing.cruise",
        name,
        state,
        f"{rpm:.0f} rpm at {speed_kmh:g} km/h in gear {gear}; the limit is {limit_rpm:.0f}",
        COMMON_PRACTICE,
        value=rpm,
        unit="rpm",
        held_against=wanted,
        margin=wanted - rpm,
        formula=f"{speed_kmh:g} km/h × {ratio:.3f} ÷ ({road:.0f} mm × 0.00006) = {rpm:.0f} rpm; wants {limit_rpm:.0f} × {1.0 - FREE_SHARE:g}",
        inputs=tuple(inputs),
        remedies=()
        if state == "clear"
        else ("a longer axle ratio, taller tyres on the driven wheels, or a slower cruise",),
    )


#: how far off the wanted engine speed is called near, and how far under it an engine labours [share] (common practice)
NEAR_SHARE, LABOURS_SHARE = 0.10, 0.25


def _against_wanted(
    line: Driveline, gear: int, rpm: float, speed_kmh: float, wanted_rpm: float, inputs: Sequence[InputUsed]
) -> Judgement:
    off = rpm - wanted_rpm
    near = NEAR_SHARE * wanted_rpm
    state: State = "clear" if abs(off) <= near else "hit" if off < -LABOURS_SHARE * wanted_rpm else "tight"
    way = "over" if off > 0 else "under"
    return Judgement(
        "gearing.cruise",
        "Engine in the last gear at cruise",
        state,
        f"{rpm:.0f} rpm at {speed_kmh:g} km/h in gear {gear}; {wanted_rpm:.0f} wanted there, {abs(off):.0f} {way} it",
        COMMON_PRACTICE,
        value=rpm,
        unit="rpm",
        held_against=wanted_rpm,
        margin=near - abs(off),
        formula=f"{speed_kmh:g} km/h × {line.overall(gear):.3f} ÷ ({line.circumference_mm:.0f} mm × 0.00006) = {rpm:.0f} rpm",
        inputs=tuple(inputs),
        remedies=()
        if state == "clear"
        else ("a shorter axle ratio, or a lower gear at that speed",)
        if off < 0
        else ("a longer axle ratio",),
    )


#: true speed at which the engine is promised and read again [km/h], and what rolling may differ by [share] (ETRTO:
#: circumference ±1.5 %, from memory)
PROMISED_KMH, ROLLING_SHARE = 100.0, 0.015


def promised_cruise(before: Driveline, now: Driveline, inputs: Sequence[InputUsed] = ()) -> list[Judgement]:
    """The engine in the last gear at a true 100 km/h, where tyres or axle turn it otherwise than now.

    Nothing where they don't.

    >>> line = Driveline((3.5, 1.0), 4.0, 2000.0)
    >>> [round(one.value, 1) for one in promised_cruise(line, Driveline((3.5, 1.0), 4.4, 2000.0))], promised_cruise(line, line)
    ([3666.7], [])
    """
    gear = len(now.gears)
    was, rpm = (rpm_at(line, gear, PROMISED_KMH) for line in (before, now))
    if abs(was - rpm) < 1.0:
        return []
    return [
        Judgement(
            "gearing.cruise",
            "Engine speed at cruise",
            "clear",
            f"at a true {PROMISED_KMH:g} km/h in the last gear",
            "rolling without slip",
            value=rpm,
            unit="rpm",
            uncertainty=ROLLING_SHARE * rpm,
            before=was,
            formula=f"{PROMISED_KMH:g} km/h × {now.overall(gear):.3f} ÷ ({now.circumference_mm:.0f} mm × 0.00006) = {rpm:.0f} rpm",
            inputs=tuple(inputs),
        )
    ]
