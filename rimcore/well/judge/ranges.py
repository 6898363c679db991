"""How far a corner's wheel goes, where it stands, and what its readings are obstacles to."""

from __future__ import annotations

import math
from collections.abc import Iterable, Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from rimcore.well.judge.unknown import USUAL, unknown_of
from rimcore.well.read.measured import Candidate, Reading
from rimcore.well.read.travel import Motion
from rimcore.well.solid.wheel_plane import Well

Array = NDArray[np.float64]


#: a camber gain beyond this is two readings too near to each other, or one misread [deg/mm]
MOST_GAIN_DEG_PER_MM = 1.0


@dataclass(frozen=True)
class Range:
    """Where the wheel can go, from the baseline's ride height [mm, deg]."""

    bump_mm: float
    droop_mm: float
    steer_out_deg: float
    steer_in_deg: float


def range_of(motion: Motion, candidate: Candidate) -> Range | None:
    """How far the wheel goes in this build; None where it is not measured.

    Lowering by springs or perches moves the place of rest within the damper's stroke; a shorter damper
    body or lower mounts move the stroke along. Lock limiters take their angle off both locks.

    >>> from rimcore.wheels.fitted import Fitted
    >>> from rimcore.wheels.tyre import parse_tyre
    >>> from rimcore.wheels.wheel import parse_wheel
    >>> on_car = Fitted(parse_wheel("17x8 +40"), parse_tyre("225/45R17"))
    >>> from rimcore.well.levers import Levers
    >>> range_of(Motion(60.0, 70.0, 36.0, 33.0), Candidate(on_car, levers=Levers(ride_drop_mm=20.0, lock_limit_deg=2.0)))
    Range(bump_mm=60.0, droop_mm=70.0, steer_out_deg=34.0, steer_in_deg=31.0)
    """
    if motion.missing or motion.bump_mm is None or motion.droop_mm is None:
        return None
    shift = candidate.levers.keeps_mm
    out, inn = (motion.steer_out_deg or 0.0, motion.steer_in_deg or 0.0) if motion.steers else (0.0, 0.0)
    limit = candidate.levers.lock_limit_deg
    by_rack = (
        (0.0, 0.0)
        if motion.links is None
        else motion.links.lock_less_deg(candidate.levers.rack_limit_mm, candidate.levers.rack_mm)
    )
    bump = max(motion.bump_mm + shift, candidate.levers.ride_drop_mm)
    droop = max(motion.droop_mm - shift, -candidate.levers.ride_drop_mm)
    return Range(bump, droop, max(0.0, out - limit - by_rack[0]), max(0.0, inn - limit - by_rack[1]))


def limiter_mm(stop_mm: float, less_deg: float) -> float:
    """Thickness of a lock limiter that takes some angle off a lock [mm]: the stop's way on its arm.

    Source: plane geometry.

    Parameters
    ----------
    stop_mm : distance of the stop from its axis, over 0 [mm]
    less_deg : off the lock, 0 or more [deg]

    >>> round(limiter_mm(74.0, 2.0), 1)
    2.6
    """
    return stop_mm * math.tan(math.radians(less_deg))


def lock_text(motion: Motion, less_deg: float) -> str:
    """What takes an angle off the locks, in words.

    Source: none; words.

    Parameters
    ----------
    motion : how it moves
    less_deg : off the lock, 0 or more [deg]

    >>> lock_text(Motion(lock_stop_mm=74.0), 2.0)
    '2° off each lock: limiters 2.6 mm thick, 74 mm from the steering axis; the turning circle grows'
    """
    if motion.lock_stop_mm is None:
        return f"{less_deg:g}° off each lock; measure from the steering axis to the lock stop to know how thick; the turning circle grows"
    thick = limiter_mm(motion.lock_stop_mm, less_deg)
    return f"{less_deg:g}° off each lock: limiters {thick:.1f} mm thick, {motion.lock_stop_mm:g} mm from the steering axis; the turning circle grows"


def well_of(motion: Motion, candidate: Candidate, reach: Range) -> Well:
    """The corner's well for a candidate: camber holds at the build's height.

    >>> from rimcore.wheels.fitted import Fitted
    >>> from rimcore.wheels.tyre import parse_tyre
    >>> from rimcore.wheels.wheel import parse_wheel
    >>> on_car = Fitted(parse_wheel("17x8 +40"), parse_tyre("225/45R17"), camber_deg=-1.5)
    >>> from rimcore.well.levers import Levers
    >>> well_of(Motion(60.0, 70.0, camber_gain_deg_per_mm=-0.01, steers=False), Candidate(on_car, levers=Levers(ride_drop_mm=20.0)), Range(60, 70, 0, 0)).camber_deg
    -1.3
    """
    return Well(
        centre_mm=candidate.fitted.centre_mm,
        camber_deg=motion.camber_at(candidate.fitted.camber_deg, candidate.levers.ride_drop_mm, 0.0),
        camber_gain_deg_per_mm=motion.camber_gain_deg_per_mm or 0.0,
        bump_mm=reach.bump_mm,
        droop_mm=reach.droop_mm,
        ride_drop_mm=candidate.levers.ride_drop_mm,
        steer_out_deg=reach.steer_out_deg,
        steer_in_deg=reach.steer_in_deg,
        kpi_deg=motion.kpi_deg or 0.0,
        caster_deg=motion.caster_deg or 0.0,
        kingpin_inboard_mm=motion.kingpin_inboard_mm or 0.0,
        follow=motion.follow(candidate.fitted.camber_deg, candidate.levers.ride_drop_mm, candidate.levers.rack_mm),
    )


def unknown_in(motion: Motion, reach: Range) -> tuple[str, ...]:
    """What of axis and camber gain is not measured and matters over a range.

    >>> unknown_in(Motion(60.0, 70.0, kpi_deg=12.0, caster_deg=4.0), Range(60.0, 70.0, 36.0, 33.0))
    ('kingpin_inboard_mm', 'camber_gain_deg_per_mm')
    """
    given = {name: getattr(motion, name) for name in USUAL}
    return unknown_of(
        given, motion.steers and reach.steer_out_deg + reach.steer_in_deg > 0, reach.bump_mm + reach.droop_mm > 0
    )


def bare(candidate: Candidate) -> Candidate:
    """A candidate without what does not move it: one entry of the memory serves all hubs and rings."""
    return Candidate(candidate.fitted, levers=candidate.levers.moving)


def at_corner(corner: str, readings: Iterable[Reading]) -> tuple[Reading, ...]:
    """The readings of one corner, in their order."""
    return tuple(reading for reading in readings if reading.corner == corner)


def gain_over_25_mm(change_deg: float) -> float:
    """Camber gain from a change that is stated for 25 mm of bump [deg/mm].

    Source: a quotient.

    Parameters
    ----------
    change_deg : of camber in 25 mm of bump [deg]

    >>> gain_over_25_mm(-0.5)
    -0.02
    """
    return change_deg / 25.0


#: heights nearer together than this say no better how a gain is known [mm]
NEAREST_HEIGHTS_MM = 10.0


def gain_uncertainty_deg_per_mm(heights_mm: Sequence[float], uncertainties_deg: Sequence[float]) -> float:
    """± of a camber gain that was read at heights besides the ride height [deg/mm].

    The difference of two readings of the largest ±, over the way between the heights furthest apart (JCGM 100:2008,
    5.1.2).

    Parameters
    ----------
    heights_mm : from the ride height, bump positive; at least one [mm]
    uncertainties_deg : ± of each reading [deg]

    >>> round(gain_uncertainty_deg_per_mm([50.0], [0.1]), 5)
    0.00283
    """
    way = max(*heights_mm, 0.0) - min(*heights_mm, 0.0)
    return math.sqrt(2.0) * max(uncertainties_deg) / max(way, NEAREST_HEIGHTS_MM)


def camber_gain_deg_per_mm(pairs: Sequence[tuple[float, float]]) -> float | None:
    """Slope of camber over travel from two or more heights, least squares.

    None below two, or where no wheel leans so fast.

    Parameters
    ----------
    pairs : (travel [mm], camber [deg])

    >>> camber_gain_deg_per_mm([(0.0, -1.0), (50.0, -1.6)])
    -0.012
    """
    travels = {travel for travel, _ in pairs}
    if len(travels) < 2:
        return None
    t, c = np.array(pairs, dtype=float).T
    slope = float(round(np.polyfit(t, c, 1)[0], 9))
    return slope if abs(slope) <= MOST_GAIN_DEG_PER_MM else None


def camber_of_end_deg(read_deg: Sequence[float], written_deg: float | None) -> float | None:
    """Camber of an end: the mean of its sides as they were read, else as it was written [deg]; None where nobody knows.

    Source: none; what was read comes before what was written.

    Parameters
    ----------
    read_deg : camber of the sides that were read (n,) [deg]
    written_deg : as written on the card; None without [deg]

    >>> camber_of_end_deg([-2.0, -1.0], -0.5), camber_of_end_deg([], -0.5)
    (-1.5, -0.5)
    """
    return sum(read_deg) / len(read_deg) if read_deg else written_deg


def axle_of_corners_kg(corners_kg: Sequence[float]) -> float | None:
    """Load of an axle from its two corners as they were weighed [kg]; None unless both were.

    Source: a sum.

    Parameters
    ----------
    corners_kg : those that were weighed (n,), over 0 [kg]

    >>> axle_of_corners_kg([402.0, 398.0]), axle_of_corners_kg([402.0])
    (800.0, None)
    """
    return sum(corners_kg) if len(corners_kg) == 2 else None
