"""A radiator as a crossflow exchanger, and one core against another."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

#: heat capacities [J/(kg·K)]: air; water; what 50 % glycol takes off, straight in between and beyond (from memory)
AIR_CP, WATER_CP, LESS_AT_HALF = 1006.0, 4200.0, 650.0

#: transfer units up to which the library's integral is a number, and the ratio of streams under which all goes over
#: beyond them
MOST_NTU, FEW = 100.0, 0.3
#: transfer units from which the limit of equal streams serves
VAST_NTU = 1e5

#: gaps wanted round a core: rubber at each side, air above, to the fan, to the condenser [mm] (common practice, from
#: memory)
ROUND_CORE = {"between_rails": 10.0, "space_up": 10.0, "to_fan": 15.0, "to_condenser": 6.0}


@dataclass(frozen=True)
class Radiator:
    """Conductance [W/K], flows [kg/s] and temperatures of both streams coming in [°C]."""

    ua_w_per_k: float
    air_kg_per_s: float
    coolant_kg_per_s: float
    air_in_c: float
    coolant_in_c: float


@dataclass(frozen=True)
class Exchanged:
    """Transfer units, effectiveness, heat [kW], and the coolant going out [°C]."""

    ntu: float
    effectiveness: float
    heat_kw: float
    coolant_out_c: float


def coolant_cp(glycol_pct: float) -> float:
    """Heat capacity of coolant [J/(kg·K)], 0 to 70 % glycol by volume.

    Source: the table beside it, with its source there.

    Parameters
    ----------
    glycol_pct : by volume, 0 to 70 [%]

    >>> coolant_cp(0.0), coolant_cp(50.0)
    (4200.0, 3550.0)
    """
    return WATER_CP - LESS_AT_HALF * glycol_pct / 50.0


def exchanged(radiator: Radiator, glycol_pct: float = 0.0) -> Exchanged:
    """Effectiveness by transfer units, crossflow, both streams unmixed (``ht``, the exact integral; Kays & London).

    Source: Kays & London, Compact Heat Exchangers, ch. 2.

    Parameters
    ----------
    radiator : its core, flows and temperatures
    glycol_pct : by volume, 0 to 70 [%]

    >>> one = exchanged(Radiator(1500.0, 1.2, 1.5, 25.0, 95.0))
    >>> round(one.effectiveness, 3), round(one.heat_kw, 1), round(one.coolant_out_c, 1)
    (0.67, 56.6, 86.0)
    """
    from ht.hx import effectiveness_from_NTU

    air, coolant = radiator.air_kg_per_s * AIR_CP, radiator.coolant_kg_per_s * coolant_cp(glycol_pct)
    least, most = min(air, coolant), max(air, coolant)
    ntu = radiator.ua_w_per_k / least
    if ntu > MOST_NTU:
        effectiveness = vast_effectiveness(ntu, least / most)
    else:
        effectiveness = float(effectiveness_from_NTU(ntu, Cr=least / most, subtype="crossflow"))  # type: ignore[no-untyped-call]
    heat_w = effectiveness * least * (radiator.coolant_in_c - radiator.air_in_c)
    return Exchanged(ntu, effectiveness, heat_w / 1000.0, radiator.coolant_in_c - heat_w / coolant)


def vast_effectiveness(ntu: float, ratio: float) -> float:
    """Effectiveness of a crossflow exchanger, both unmixed, with more than 100 transfer units.

    Parameters
    ----------
    ntu : transfer units, over 100
    ratio : smaller heat capacity flow over the larger, 0 < ratio <= 1

    Source: the exact integral (Kays & London; ``ht`` states it), its Bessel function scaled by its own exponential, so
    that
    nothing overflows. With equal streams it goes to 1 − 1 ÷ √(π NTU).

    Examples
    --------
    >>> round(vast_effectiveness(1e6, 1.0), 6), vast_effectiveness(1e6, 0.1)
    (0.999436, 1.0)
    """
    from scipy.integrate import quad
    from scipy.special import ive

    if ratio < FEW:
        return 1.0
    if ntu > VAST_NTU:
        return max(vast_effectiveness(VAST_NTU, ratio), 1.0 - 1.0 / math.sqrt(math.pi * ntu))
    a = ratio * ntu
    low, high = max(0.0, 2 * a - 40 * math.sqrt(a)), min(2 * ntu * math.sqrt(ratio), 2 * a + 40 * math.sqrt(a))

    def inner(v: float) -> float:
        return float((1 + ntu - v * v / (4 * a)) * v * ive(0, v) * math.exp(-((v - 2 * a) ** 2) / (4 * a)))

    whole, _ = quad(inner, low, high, epsabs=0.0, epsrel=1e-10, limit=400)
    return min(1.0, 1 / ratio - float(whole) / (2 * a * a))


def core_ratios(before_mm: Sequence[float], after_mm: Sequence[float]) -> tuple[float, float]:
    """Face and volume of a core over those of another, each width, height, depth [mm].

    Source: plane geometry.

    Parameters
    ----------
    before_mm : width, height, depth (3,), over 0 [mm]
    after_mm : the same (3,) [mm]

    >>> core_ratios((350.0, 325.0, 16.0), (700.0, 325.0, 32.0))
    (2.0, 4.0)
    """
    face = after_mm[0] * after_mm[1] / (before_mm[0] * before_mm[1])
    return face, face * after_mm[2] / before_mm[2]
