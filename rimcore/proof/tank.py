"""Fuel by the tank: what was filled, over what was driven since the tank was last full, corrected for the tyres."""

from __future__ import annotations

from rimcore.quantities.errors import BadInput
from rimcore.quantities.units import convert

#: what one tank and what lies between two fillings may be
VOLUME_L, DRIVEN_KM = (0.5, 400.0), (20.0, 3000.0)


def driven_km(trip_km: float, tyre_mm: float | None = None, recorded_mm: float | None = None) -> float:
    """Distance between two fillings: the trip meter counts turns of the tyre that it was made for.

    Parameters
    ----------
    trip_km : by the trip meter, over 0 [km]
    tyre_mm, recorded_mm : outer diameter of the tyre on the car and of the one first recorded; None: uncorrected [mm]

    Source: a wheel rolls its circumference a turn.

    >>> driven_km(500.0), round(driven_km(500.0, 650.0, 634.0), 2)
    (500.0, 512.62)
    """
    return trip_km if not tyre_mm or not recorded_mm else trip_km * tyre_mm / recorded_mm


def used_l_per_100km(volume_l: float, distance_km: float) -> float:
    """Fuel used, full tank to full tank.

    Parameters
    ----------
    volume_l : filled [L]
    distance_km : driven since the last full tank [km]

    Raises
    ------
    BadInput : one of both is out of range

    Source: volume over distance.

    >>> used_l_per_100km(40.0, 500.0)
    8.0
    """
    if not VOLUME_L[0] <= volume_l <= VOLUME_L[1]:
        raise BadInput(f"is out of range; accepted: {VOLUME_L[0]:g} L to {VOLUME_L[1]:g} L", "volume_l")
    if not DRIVEN_KM[0] <= distance_km <= DRIVEN_KM[1] * 1.5:
        raise BadInput(f"is out of range; accepted: {DRIVEN_KM[0]:g} km to {DRIVEN_KM[1]:g} km", "distance_km")
    return 100.0 * volume_l / distance_km


def is_fuel(unit: str) -> bool:
    """Is it a unit of fuel over distance, or the other way round?

    >>> is_fuel("mpg UK"), is_fuel("of 5")
    (True, False)
    """
    try:
        convert(5.0, "fuel", unit)
    except BadInput:
        return False
    return True


def better_of(unit: str) -> str:
    """Is more or less of it better? Distance over fuel is the other way round.

    >>> better_of("L/100 km"), better_of("mpg US"), better_of("km/L")
    ('less', 'more', 'more')
    """
    return "more" if convert(5.0, "fuel", unit) > convert(10.0, "fuel", unit) else "less"
