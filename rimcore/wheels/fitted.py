"""What stands, or would stand, on a corner: wheel, tyre, spacer and camber."""

from __future__ import annotations

from dataclasses import dataclass, replace
from functools import lru_cache

from rimcore.quantities.errors import BadInput
from rimcore.wheels.outline import Outline, outline
from rimcore.wheels.traced import traced
from rimcore.wheels.tyre import Tyre
from rimcore.wheels.wheel import Wheel


@dataclass(frozen=True)
class Fitted:
    """What stands, or would stand, on a corner. Lengths in mm, camber in degrees (negative = top inboard)."""

    wheel: Wheel
    tyre: Tyre
    spacer_mm: float = 0.0
    camber_deg: float = 0.0
    measured_section_mm: float | None = None
    #: a measured half section in place of the built-in tyre: (across, radius) from the inner to the outer rim edge
    profile_mm: tuple[tuple[float, float], ...] | None = None
    #: how much trial fits found the tyre larger than its outline, on each side, and the ± of that
    grown_mm: float = 0.0
    grown_doubt_mm: float | None = None

    def on(self, wheel: Wheel) -> Fitted:
        """The same tyre on another wheel of the same rim.

        >>> from rimcore.wheels.tyre import parse_tyre
        >>> from rimcore.wheels.wheel import parse_wheel
        >>> Fitted(parse_wheel("16x7 +42"), parse_tyre("205/55R16")).on(parse_wheel("16x7 +30")).centre_mm
        -30.0
        """
        return replace(self, wheel=wheel)

    @property
    def outline(self) -> Outline:
        return _outline_of(self.wheel, self.tyre, self.measured_section_mm, self.profile_mm, self.grown_mm)

    @property
    def centre_mm(self) -> float:
        """Where the wheel's centre plane lies, outboard of the mounting face [mm]."""
        if self.wheel.offset_mm is None:
            raise BadInput("the wheel's offset is needed to place it; write it as +22 or ET22", "wheel.offset_mm")
        return self.spacer_mm - self.wheel.offset_mm


@lru_cache(maxsize=2048)
def _outline_of(
    wheel: Wheel,
    tyre: Tyre,
    section_mm: float | None,
    profile_mm: tuple[tuple[float, float], ...] | None,
    grown_mm: float,
) -> Outline:
    built_in = outline(wheel, tyre, section_mm)
    if profile_mm is not None:
        return traced(built_in, profile_mm)
    if grown_mm:
        return replace(built_in, section_mm=built_in.section_mm + 2 * grown_mm, crown_mm=built_in.crown_mm + grown_mm)
    return built_in
