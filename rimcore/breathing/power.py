"""Power of a day brought to a standard's air."""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import dataclass
from typing import Any

from rimcore.breathing.air import HALF_PCT, ZERO_C_K, Air, moist_air

#: factors outside this are not what SAE and ISO correct for (from memory)
WITHIN = (0.93, 1.07)


@dataclass(frozen=True)
class Standard:
    """A standard's factor of the day's air, what it rests on, and whether it states a range."""

    name: str
    basis: str
    factor: Callable[[Air], float]
    ranged: bool


def _sae(air: Air) -> float:
    return 1.180 * (99.0 / air.dry_kpa) * math.sqrt((air.temperature_c + ZERO_C_K) / 298.0) - 0.18


def _iso(air: Air) -> float:
    return float((99.0 / air.dry_kpa) ** 1.2 * ((air.temperature_c + ZERO_C_K) / 298.0) ** 0.6)


def _din(air: Air) -> float:
    return (101.3 / air.pressure_kpa) * math.sqrt((air.temperature_c + ZERO_C_K) / 293.0)


_ENGINE = "spark ignition, naturally aspirated"
STANDARDS = {
    one.name: one
    for one in (
        Standard(
            "SAE J1349",
            f"SAE J1349, edition of 2004 and later (from memory); {_ENGINE}; dry pressure, 99 kPa and 298 K",
            _sae,
            True,
        ),
        Standard("ISO 1585", f"ISO 1585:1992 (from memory); {_ENGINE}; dry pressure, 99 kPa and 298 K", _iso, True),
        Standard(
            "DIN 70020",
            f"DIN 70020, edition of 1976 (from memory); {_ENGINE}; total pressure, 101.3 kPa and 293 K",
            _din,
            False,
        ),
    )
}


def power_of_torque_kw(torque_nm: Any, rpm: Any) -> Any:
    """Power at a shaft [kW] from its torque [N·m] and speed [1/min]; numbers or arrays.

    Source: by definition, torque times angular speed.

    Parameters
    ----------
    torque_nm : a number or any shape [N·m]
    rpm : engine speed, as ``torque_nm`` broadcasts

    >>> round(power_of_torque_kw(150.0, 6000.0), 2)
    94.25
    """
    return torque_nm * rpm * (2 * math.pi / 60_000.0)


@dataclass(frozen=True)
class Corrected:
    """A factor, and whether the standard's range holds it; None where it states none."""

    factor: float
    within_range: bool | None
    basis: str


def correction(standard: str, air: Air) -> Corrected:
    """What a day's figure is multiplied by.

    >>> round(correction("SAE J1349", moist_air(24.85, 99.0)).factor, 6)
    1.0
    >>> round(correction("DIN 70020", moist_air(19.85, 101.3)).factor, 6)
    1.0
    """
    one = STANDARDS[standard]
    factor = one.factor(air)
    return Corrected(factor, WITHIN[0] <= factor <= WITHIN[1] if one.ranged else None, one.basis)


def unread_humidity_pct(standard: str, temperature_c: float, pressure_kpa: float) -> float:
    """Half of what dry and wet air set the factor apart, of the factor at half [%].

    Its ± where nobody noted the humidity.

    Source: the correction's own standard, by ``correction``.

    Parameters
    ----------
    standard : of the correction, by its code
    temperature_c : of the air, −90 to 100 [°C]
    pressure_kpa : absolute, over the vapour's [kPa]

    >>> round(unread_humidity_pct("SAE J1349", 25.0, 99.0), 2), unread_humidity_pct("DIN 70020", 20.0, 101.3)
    (1.91, 0.0)
    """
    dry, half_wet, wet = (
        correction(standard, moist_air(temperature_c, pressure_kpa, one)).factor for one in (0.0, HALF_PCT, 100.0)
    )
    return 50.0 * abs(wet - dry) / half_wet
