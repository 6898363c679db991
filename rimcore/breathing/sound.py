"""Levels, weighting, firing orders and quarter-wave lengths."""

from __future__ import annotations

import math
from collections.abc import Sequence

from rimcore.breathing.air import R_DRY, ZERO_C_K
from rimcore.breathing.runs import GAMMA_EXHAUST

#: poles of the A-weighting [Hz] (IEC 61672-1:2013, annex E)
_F1, _F2, _F3, _F4 = 20.598997, 107.65265, 737.86223, 12194.217


def sum_db(levels_db: Sequence[float]) -> float:
    """Levels added by their energy [dB].

    Source: definition of the level (ISO 1683:2015).

    Parameters
    ----------
    levels_db : (n,), n ≥ 1 [dB]

    >>> round(sum_db([80.0, 80.0]), 2)
    83.01
    """
    most = max(levels_db)
    return most + 10.0 * math.log10(sum(10.0 ** ((level - most) / 10.0) for level in levels_db))


def level_there_db(level_db: float, at_m: float, to_m: float) -> float:
    """The level at another distance in a free field [dB]: less 20 log of the ratio.

    Source: spherical spreading (ISO 9613-2:1996, 7.1).

    Parameters
    ----------
    level_db : as read [dB]
    at_m : where it was read, over 0 [m]
    to_m : where it is wanted, over 0 [m]

    >>> round(level_there_db(96.0, 0.5, 7.5), 2)
    72.48
    """
    return level_db - 20.0 * math.log10(to_m / at_m)


def _a(hz: float) -> float:
    square = hz**2
    return (
        _F4**2 * square**2 / ((square + _F1**2) * math.sqrt((square + _F2**2) * (square + _F3**2)) * (square + _F4**2))
    )


def a_weighting_db(hz: float) -> float:
    """A-weighting at a frequency over 0 [dB] (IEC 61672-1).

    Source: IEC 61672-1:2013, annex E.

    Parameters
    ----------
    hz : over 0 [Hz]

    >>> round(a_weighting_db(100.0), 1), round(a_weighting_db(1000.0), 1) + 0.0
    (-19.1, 0.0)
    """
    return 20.0 * math.log10(_a(hz) / _a(1000.0))


def firing_hz(rpm: float, cylinders: int, strokes: int = 4) -> float:
    """Explosions a second [Hz].

    Source: definition.

    Parameters
    ----------
    rpm : engine speed, over 0 [1/min]
    cylinders : 1 or more
    strokes : 2 or 4

    >>> firing_hz(3000.0, 4)
    100.0
    """
    return rpm / 60.0 * cylinders * 2.0 / strokes


def quarter_wave_mm(drone_hz: float, gas_c: float) -> float:
    """Length of a closed side pipe against a drone [mm]: c ÷ 4f, exhaust gas as air; no end correction.

    Source: quarter-wave resonator (Munjal, Acoustics of Ducts and Mufflers).

    Parameters
    ----------
    drone_hz : over 0 [Hz]
    gas_c : of the exhaust in the side pipe, over −273 [°C]

    >>> round(quarter_wave_mm(110.0, 300.0))
    1063
    """
    return 1000.0 * math.sqrt(GAMMA_EXHAUST * R_DRY * (gas_c + ZERO_C_K)) / (4.0 * drone_hz)
