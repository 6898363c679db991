"""How one corner moves, as it was measured."""

from __future__ import annotations

from dataclasses import dataclass

from rimcore.quantities.judgement import InputUsed
from rimcore.well.solid.follow import Follow, Linked
from rimcore.well.solid.wheel_plane import Hinge


@dataclass(frozen=True)
class Doubt:
    """± of how a corner stands and moves; 0 where it is exact or not used. Degrees and mm."""

    camber_deg: float = 0.0
    gain_deg_per_mm: float = 0.0
    kpi_deg: float = 0.0
    caster_deg: float = 0.0
    kingpin_mm: float = 0.0
    #: what the ± of the hard points leaves of toe and track, per mm of travel away from where the wheel stands
    toe_deg_per_mm: float = 0.0
    track_mm_per_mm: float = 0.0


@dataclass(frozen=True)
class Motion:
    """How one corner moves, from the baseline's ride height; None is not measured. Lengths in mm, angles in degrees.

    ``hinge`` is that of the lower arm; ``assumed`` says that a value was only mirrored from the other side.
    """

    bump_mm: float | None = None
    droop_mm: float | None = None
    steer_out_deg: float | None = None
    steer_in_deg: float | None = None
    camber_gain_deg_per_mm: float | None = None
    kpi_deg: float | None = None
    caster_deg: float | None = None
    kingpin_inboard_mm: float | None = None
    hinge: Hinge | None = None
    steers: bool = True
    assumed: bool = False
    travel_uncertainty_mm: float = 0.0
    lock_uncertainty_deg: float = 0.0
    inputs: tuple[InputUsed, ...] = ()
    #: from the steering axis to where the lock stop meets the knuckle
    lock_stop_mm: float | None = None
    doubt: Doubt = Doubt()
    #: the corner's links, where all their points were read: camber, toe and track follow them
    links: Linked | None = None

    @property
    def axis(self) -> tuple[float, float, float]:
        """Kingpin inclination, caster [deg] and kingpin distance [mm]; what is not measured counts as 0.

        >>> Motion(kpi_deg=12.0).axis
        (12.0, 0.0, 0.0)
        """
        return self.kpi_deg or 0.0, self.caster_deg or 0.0, self.kingpin_inboard_mm or 0.0

    def follow(self, camber_deg: float, at_mm: float, rack_mm: tuple[float, ...] = (0.0, 0.0)) -> Follow | None:
        """What the links leave after the plain pose, for a wheel with a camber at a height.

        None where they are not known.
        """
        return (
            None
            if self.links is None
            else self.links.followed(camber_deg, at_mm, self.axis, rack_mm if self.steers else (0.0, 0.0))
        )

    @property
    def missing(self) -> tuple[str, ...]:
        """Stations without which nobody knows how far the wheel goes.

        >>> Motion(bump_mm=60, droop_mm=70, steers=False).missing
        ()
        """
        wanted = {"bump": self.bump_mm, "droop": self.droop_mm}
        if self.steers:
            wanted |= {"lock_out": self.steer_out_deg, "lock_in": self.steer_in_deg}
        return tuple(code for code, value in wanted.items() if value is None)

    @property
    def taken_as_zero(self) -> tuple[str, ...]:
        """What the sweep takes as 0 because nobody measured it.

        >>> Motion(steers=False).taken_as_zero
        ('camber gain',)
        """
        names = {"camber gain": self.camber_gain_deg_per_mm}
        if self.steers:
            names |= {
                "kingpin inclination": self.kpi_deg,
                "caster": self.caster_deg,
                "kingpin distance": self.kingpin_inboard_mm,
            }
        return tuple(name for name, value in names.items() if value is None)

    def camber_at(self, camber_deg: float, at_mm: float, travel_mm: float) -> float:
        """Camber at a travel, from what it is at another height [deg].

        >>> Motion(camber_gain_deg_per_mm=-0.02).camber_at(-1.0, 20, 70)
        -2.0
        """
        if self.links is not None:
            return camber_deg + self.links.camber_change_deg(at_mm, travel_mm)
        return camber_deg + (self.camber_gain_deg_per_mm or 0.0) * (travel_mm - at_mm)
