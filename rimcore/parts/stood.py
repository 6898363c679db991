"""What an end of the car stands and steers on: what a part of the chassis is judged against."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass, field
from typing import Any

from rimcore.quantities.judgement import InputUsed, Judgement
from rimcore.tables.facts import G_M_PER_S2
from rimcore.well.levers import Levers

Said = Mapping[str, Any]


@dataclass(frozen=True, kw_only=True)
class Stood:
    """One end of a car as far as it was written down and weighed. Lengths in mm, masses in kg; None is not known.

    ``old`` is the specification of what stands there now, by family. Bump and droop are the wheel's, from the height
    that the build gives; the lesser of both sides.
    """

    use: str = "street"
    end: str = "F"
    old: Mapping[str, Said] = field(default_factory=dict)
    #: the lighter corner of the end, and what of it moves with the wheel
    corner_kg: float | None = None
    unsprung_kg: float | None = None
    #: spring movement ÷ wheel movement; the damper is taken to move as the spring does
    motion_ratio: float | None = None
    #: of the spring that stands there, at full droop; None where nobody read it
    preload_mm: float | None = None
    bump_mm: float | None = None
    droop_mm: float | None = None
    #: what the build does to the end
    levers: Levers = Levers()
    #: lowered already, as it stands
    stands_mm: float = 0.0
    #: camber as it stands [deg]
    camber_deg: float | None = None
    #: a tie rod between its joints as it stands, and what the build's rack asks it to be longer
    rod_mm: float | None = None
    rod_change_mm: float | None = None
    #: from the lower to the upper outer joint, upward
    joints_apart_mm: float | None = None
    #: what is judged of the angle between rod and arm with the rack moved so far forward and up
    racked: Callable[[float, float], Judgement] | None = None
    inputs: tuple[InputUsed, ...] = ()
    #: the heavier corner, which comes to coil bind first; None where it is the only one known
    heavy_kg: float | None = None
    #: what is known of engine, cooling and driveline: meter_mm, cap_kpa, core, coldest_c, drive, tuned_first and so on;
    #: ``hot`` is called for the names of what is noted as hot
    run: Mapping[str, Any] = field(default_factory=dict)
    #: what each corner of the end carries less with what the build strips, both sides' mean; None where that can't be
    #: told
    out_kg: float | None = 0.0

    @property
    def moves_mm(self) -> float:
        """Lowered by the build from where the car stands now [mm]; below zero it is lifted.

        >>> Stood(levers=Levers(ride_drop_mm=-50.0), stands_mm=-20.0).moves_mm
        -30.0
        """
        return self.levers.ride_drop_mm - self.stands_mm

    @property
    def eaten_mm(self) -> float:
        """Stroke that the build's height takes from where the car stands now [mm]."""
        eats = self.levers.eats_mm
        return eats - self.stands_mm if eats or not self.levers.ride_drop_mm else 0.0

    @property
    def force_n(self) -> float | None:
        """In one spring at ride height [N].

        >>> Stood(corner_kg=300.0, unsprung_kg=40.0, motion_ratio=1.0).force_n.__round__(1)
        2549.7
        """
        if self.corner_kg is None or self.unsprung_kg is None or self.motion_ratio is None:
            return None
        return (self.corner_kg - self.unsprung_kg) * G_M_PER_S2 / self.motion_ratio

    @property
    def unweighed(self) -> tuple[str, ...]:
        """What of the corner is not known, in words."""
        wanted = {
            "the corner's weight": self.corner_kg,
            "what moves with the wheel": self.unsprung_kg,
            "motion ratio": self.motion_ratio,
        }
        return tuple(name for name, value in wanted.items() if value is None)

    def was(self, family: str, code: str) -> Any:
        """One thing of what stands there now; None where nobody wrote it down."""
        return self.old.get(family, {}).get(code)
