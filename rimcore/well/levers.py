"""What a build does to a corner beside its wheel and tyre: one value, held by whoever needs it."""

from __future__ import annotations

from dataclasses import dataclass, replace

from rimcore.wheels.hub import CentringRing

#: ± of a figure that a maker states [mm] (common practice)
STATED_MM = 0.5


@dataclass(frozen=True)
class Brake:
    """A caliper as it would stand on the hub [mm]: largest radius, how far its face stands beyond the mounting face.

    None where the shop does not say; the gap is unmeasured then.
    """

    radius_mm: float | None
    face_mm: float | None
    source: str = ""


@dataclass(frozen=True)
class Arm:
    """Another arm than the one that was read at full lock: how far it stands back from the old one's line [mm].

    None where nobody says.
    """

    back_mm: float | None
    source: str = ""


@dataclass(frozen=True, kw_only=True)
class Levers:
    """What a build does to an end beside its wheel and tyre. Lengths in mm, angles in degrees.

    Core, judging, ranking and the rooms hold this one value; a lever is added here and where it acts.
    """

    spacer_mm: float = 0.0
    #: lowered against the baseline; below zero it is lifted
    ride_drop_mm: float = 0.0
    #: None is as it stands
    camber_deg: float | None = None
    ring: CentringRing | None = None
    #: lowering moves the damper's stroke along (shorter damper body) instead of the place in it (spring, perch)
    stroke_moves: bool = False
    #: lock limiters take this much off each lock
    lock_limit_deg: float = 0.0
    #: the arch lip is rolled outboard by this much
    lip_rolled_mm: float = 0.0
    #: ``slip`` between hub and wheel, or ``bolted``: two-piece, with its own studs
    spacer_kind: str = "slip"
    #: another caliper than the one that was measured
    brake: Brake | None = None
    #: another arm than the one that was read at full lock
    arm: Arm | None = None
    #: collars wound up
    perch_up_mm: float = 0.0
    #: lower mounts screwed in, at the damper; and what they lower at the wheel, which takes no stroke
    lower_mount_mm: float = 0.0
    mounts_mm: float = 0.0
    #: of the left and of the right corner: collar wound up more, and lowered more, than the end
    collar_mm: tuple[float, float] = (0.0, 0.0)
    corner_mm: tuple[float, float] = (0.0, 0.0)
    #: rack moved forward and up, and limiters on either side of it; of the steered end
    rack_mm: tuple[float, ...] = (0.0, 0.0)
    rack_limit_mm: float = 0.0

    @property
    def keeps_mm(self) -> float:
        """Of the lowering, what leaves the stroke as it was: shorter bodies or lower mounts move it along [mm].

        >>> Levers(ride_drop_mm=30.0, mounts_mm=20.0).keeps_mm, Levers(ride_drop_mm=30.0, stroke_moves=True).keeps_mm
        (20.0, 30.0)
        """
        return self.ride_drop_mm if self.stroke_moves else self.mounts_mm

    @property
    def eats_mm(self) -> float:
        """Of the lowering, what takes stroke [mm].

        >>> Levers(ride_drop_mm=30.0, mounts_mm=20.0).eats_mm
        10.0
        """
        return self.ride_drop_mm - self.keeps_mm

    @property
    def moving(self) -> Levers:
        """The same without what doesn't move the wheel.

        >>> Levers(ride_drop_mm=20.0, spacer_kind="bolted", perch_up_mm=10.0).moving == Levers(ride_drop_mm=20.0)
        True
        """
        return replace(self, **STILL)

    def drop_at(self, corner: str) -> float:
        """How far a corner is lowered against the baseline [mm].

        >>> Levers(ride_drop_mm=20.0, corner_mm=(4.0, -2.0)).drop_at("FR")
        18.0
        """
        return self.ride_drop_mm + self.corner_mm[corner[1:2] == "R"]

    def at(self, corner: str) -> Levers:
        """The same for one corner, at its own height.

        >>> both = Levers(ride_drop_mm=20.0, corner_mm=(4.0, -2.0))
        >>> both.at("FL").ride_drop_mm, both.at("FR").ride_drop_mm, both.at("FR").at("FR").ride_drop_mm
        (24.0, 18.0, 18.0)
        """
        if not any(self.corner_mm):
            return self
        # A collar takes stroke, whatever moves it along at the end.
        return replace(
            self, ride_drop_mm=self.drop_at(corner), corner_mm=(0.0, 0.0), mounts_mm=self.keeps_mm, stroke_moves=False
        )


#: levers that don't move the wheel, or that what stands at the end has taken up already, untouched
STILL = {
    name: getattr(Levers(), name)
    for name in (
        "spacer_mm",
        "camber_deg",
        "ring",
        "spacer_kind",
        "brake",
        "arm",
        "perch_up_mm",
        "lower_mount_mm",
        "collar_mm",
    )
}
