"""Lugs: order of tightening, torque in both units, whether what was read is what was wanted."""

from __future__ import annotations

import math

from rimcore.quantities.errors import BadInput
from rimcore.quantities.units import convert

#: share of the full torque in the first of two stages (common practice)
FIRST_STAGE = 0.5
#: re-torque after these distances [km] (common practice: wheels after 50-100 miles, everything after 500 miles)
RETORQUE_KM = (80, 800)


def crosswise_order(lugs: int) -> list[int]:
    """Order in which the lugs are tightened, numbered clockwise from the top.

    Opposite lugs follow each other for even counts, every second one (a star) for odd counts.
    Source: common practice.

    Parameters
    ----------
    lugs : 3 or more

    >>> crosswise_order(5), crosswise_order(4)
    ([1, 3, 5, 2, 4], [1, 3, 2, 4])
    """
    if not 3 <= lugs <= 10:
        raise BadInput("lugs are 3 to 10", "lugs")
    if lugs % 2:
        step = (lugs - 1) // 2
        return [(i * step) % lugs + 1 for i in range(lugs)]
    half = lugs // 2
    starts = [0, *(i for i in _spread(half) if i != 0)]
    return [lug for start in starts for lug in (start + 1, start + half + 1)]


def _spread(half: int) -> list[int]:
    """Starting lugs of a half circle, far from each other."""
    return [i for i in range(half) if i % 2 == 0] + [i for i in range(half) if i % 2] if half > 3 else list(range(half))


def stage_torques_nm(full_nm: float) -> tuple[float, float]:
    """First and full stage [N·m].

    Source: common practice: half, then full.

    Parameters
    ----------
    full_nm : over 0 [N·m]

    >>> stage_torques_nm(110.0)
    (55.0, 110.0)
    """
    return full_nm * FIRST_STAGE, full_nm


def pound_feet(torque_nm: float) -> float:
    """Torque in lbf·ft.

    Source: NIST SP 811, 2008, appendix B: 1 lbf·ft = 1.355 818 N·m.

    Parameters
    ----------
    torque_nm : any [N·m]

    >>> round(pound_feet(110.0), 1)
    81.1
    """
    return convert(torque_nm, "torque", "lbf·ft")


def torque_reading(wanted_nm: float, read_nm: float, tolerance: float = 0.05) -> str:
    """``clear`` within the tolerance, ``tight`` below it, ``hit`` above it.

    Tolerance 5 %: two thirds of it a click wrench's own (ISO 6789 allows 4 %).

    Parameters
    ----------
    wanted_nm : over 0 [N·m]
    read_nm : 0 or more [N·m]
    tolerance : share of what is wanted, 0 to 1

    >>> torque_reading(110, 111), torque_reading(110, 95), torque_reading(110, 130)
    ('clear', 'tight', 'hit')
    """
    if read_nm > wanted_nm * (1 + tolerance):
        return "hit"
    return "clear" if read_nm >= wanted_nm * (1 - tolerance) else "tight"


def lug_places(lugs: int, centre: float, radius: float) -> dict[int, tuple[float, float]]:
    """Where each lug stands on a drawing, the first on top and on clockwise; x to the right, y down, in drawing units.

    Source: plane geometry.

    Parameters
    ----------
    lugs : 3 or more
    centre : of the drawing, both ways [drawing units]
    radius : of the bolt circle [drawing units]

    >>> {lug: (round(x), round(y)) for lug, (x, y) in lug_places(4, 75, 48).items()}
    {1: (75, 27), 2: (123, 75), 3: (75, 123), 4: (27, 75)}
    """
    turn = 2 * math.pi / lugs
    return {
        lug: (centre + radius * math.sin(turn * (lug - 1)), centre - radius * math.cos(turn * (lug - 1)))
        for lug in range(1, lugs + 1)
    }
