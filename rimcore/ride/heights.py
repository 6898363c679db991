"""What other springs, perches, blocks, leaves and mounts do to the height, to the stroke and to the frequency of a
corner.
"""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import dataclass

from rimcore.ride.springs import Stack
from rimcore.tables.facts import G_M_PER_S2

#: natural frequency of the body on its springs by use [Hz] (common practice, from memory)
USUAL_HZ: Mapping[str, tuple[float, float]] = {
    "street": (1.0, 1.8),
    "tow": (1.1, 2.0),
    "track": (1.6, 3.2),
    "climb": (1.5, 3.0),
    "drift": (1.5, 3.2),
    "show": (1.1, 3.2),
}


def lowered_mm(old: Stack, new: Stack, force_n: float, motion_ratio: float) -> float:
    """How far other springs between the same seats lower the body at the wheel [mm]; minus is raised.

    The load is the same, so that the length under load decides, not the free length.

    Source: Hooke's law; Milliken & Milliken, Race Car Vehicle Dynamics, ch. 16, for the motion ratio.

    Parameters
    ----------
    old : the spring that was there
    new : the spring that comes
    force_n : on the spring as the car stands, over 0 [N]
    motion_ratio : spring travel over wheel travel, over 0

    >>> from rimcore.ride.springs import Coil
    >>> round(lowered_mm(Stack(Coil(20.0, 330, 120)), Stack(Coil(40.0, 250, 100)), 2400.0, 1.0), 2)
    20.0
    """
    before = old.main.free_length_mm + (old.helper.free_length_mm if old.helper else 0.0) - old.compression_mm(force_n)
    after = new.main.free_length_mm + (new.helper.free_length_mm if new.helper else 0.0) - new.compression_mm(force_n)
    return (before - after) / motion_ratio


def leaf_lowered_mm(old_arch_mm: float, old_rate: float, new_arch_mm: float, new_rate: float, force_n: float) -> float:
    """How far another leaf pack lowers the body [mm]; arches are those of the unloaded packs, rates in N/mm.

    Source: Hooke's law.

    Parameters
    ----------
    old_arch_mm : of the old pack without load [mm]
    old_rate : over 0 [N/mm]
    new_arch_mm : of the new pack without load [mm]
    new_rate : over 0 [N/mm]
    force_n : on the pack as the car stands, over 0 [N]

    >>> leaf_lowered_mm(120.0, 30.0, 180.0, 40.0, 2400.0)
    -80.0
    """
    return (old_arch_mm - force_n / old_rate) - (new_arch_mm - force_n / new_rate)


def preload_between_seats_mm(
    free_mm: float, old_free_mm: float, old_preload_mm: float, perch_up_mm: float = 0.0
) -> float:
    """Preload of a spring where another one stood, at full droop [mm]; below zero is what it lies loose.

    Source: plane geometry.

    Parameters
    ----------
    free_mm : length of the new spring without load, over 0 [mm]
    old_free_mm : of the old one, over 0 [mm]
    old_preload_mm : of the old one at full droop [mm]
    perch_up_mm : how far the seats came together; minus is apart [mm]

    >>> preload_between_seats_mm(250.0, 330.0, 30.0), preload_between_seats_mm(250.0, 330.0, 30.0, 55.0)
    (-50.0, 5.0)
    """
    return free_mm - (old_free_mm - old_preload_mm) + perch_up_mm


@dataclass(frozen=True)
class Stroke:
    """A damper where it stands at ride height: what the wheel has left both ways [mm]."""

    bump_mm: float
    droop_mm: float


def stroke_of(extended_mm: float, compressed_mm: float, installed_mm: float, motion_ratio: float) -> Stroke:
    """Wheel travel that a damper leaves, from its lengths between the same mounts [mm].

    Source: definition of the motion ratio.

    Parameters
    ----------
    extended_mm : damper's length at full droop, over compressed [mm]
    compressed_mm : at full bump [mm]
    installed_mm : as the car stands, between both [mm]
    motion_ratio : damper travel over wheel travel, over 0

    >>> stroke_of(520.0, 350.0, 450.0, 1.0)
    Stroke(bump_mm=100.0, droop_mm=70.0)
    """
    return Stroke((installed_mm - compressed_mm) / motion_ratio, (extended_mm - installed_mm) / motion_ratio)


def screwed_in_lowers_mm(screwed_in_mm: float, motion_ratio: float | None) -> float | None:
    """How far lower mounts that are screwed in lower the wheel's corner [mm]; None where the ratio is not known.

    The body and its spring move along, so that the stroke stays as it was.

    Source: definition of the motion ratio.

    Parameters
    ----------
    screwed_in_mm : how far the lower mount is screwed in [mm]
    motion_ratio : damper travel over wheel travel, over 0; None where not known

    >>> screwed_in_lowers_mm(14.0, 0.7), screwed_in_lowers_mm(0.0, None), screwed_in_lowers_mm(5.0, None)
    (20.0, 0.0, None)
    """
    if not screwed_in_mm:
        return 0.0
    return None if motion_ratio is None else round(screwed_in_mm / motion_ratio, 9)


def longer_mm(length_mm: float, lift_mm: float) -> float:
    """Length of a shaft or strap whose one end rises by so much over a level length [mm].

    Source: plane geometry.

    Parameters
    ----------
    length_mm : level, over 0 [mm]
    lift_mm : of one end [mm]

    >>> round(longer_mm(950.0, 50.0), 1)
    951.3
    """
    return math.hypot(length_mm, lift_mm)


def arm_camber_deg(change_mm: float, apart_mm: float) -> float:
    """Tilt of the upright when one arm grows by so much and its joints are so far apart [deg], unsigned.

    The other joint is held; for small changes. Source: geometry.

    Parameters
    ----------
    change_mm : of the arm's length [mm]
    apart_mm : between the upright's joints, over ``change_mm`` [mm]

    >>> round(arm_camber_deg(5.0, 286.5), 2)
    1.0
    """
    return math.degrees(math.atan2(abs(change_mm), apart_mm))


def bar_stiffness_ratio(
    outer_mm: float, old_outer_mm: float, wall_mm: float | None = None, old_wall_mm: float | None = None
) -> float:
    """Torsional stiffness of an anti-roll bar against another of the same shape: fourth powers of the diameters.

    Source: torsion of a round bar, J = π (D⁴ − d⁴) ÷ 32 (any handbook of strength of materials).

    Parameters
    ----------
    outer_mm : diameter, over 0 [mm]
    old_outer_mm : of the bar before, over 0 [mm]
    wall_mm : of a hollow bar; None for a solid one [mm]
    old_wall_mm : the same of the bar before [mm]

    >>> round(bar_stiffness_ratio(24.0, 20.0), 3), round(bar_stiffness_ratio(24.0, 24.0, 3.0), 3)
    (2.074, 0.684)
    """

    def fourth(outer: float, wall: float | None) -> float:
        inner = 0.0 if wall is None else max(0.0, outer - 2 * wall)
        return outer**4 - inner**4

    return fourth(outer_mm, wall_mm) / fourth(old_outer_mm, old_wall_mm)


def unloaded_rises_mm(out_kg: float, wheel_rate_n_per_mm: float | None) -> float | None:
    """How far a corner rises that carries less [mm], minus where it carries more (Hooke's law).

    None where its rate is not known.

    Source: Hooke's law.

    Parameters
    ----------
    out_kg : less on the corner; minus is more [kg]
    wheel_rate_n_per_mm : over 0; None where not known [mm]

    >>> round(unloaded_rises_mm(15.0, 24.5166), 3), unloaded_rises_mm(15.0, None)
    (6.0, None)
    """
    return None if not wheel_rate_n_per_mm else out_kg * G_M_PER_S2 / wheel_rate_n_per_mm
