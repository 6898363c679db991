"""Parts of the list as core values: what a pair is at one end of a build."""

from __future__ import annotations

from garage.car.assemble import core_wheel, mount_on_list, points_of
from garage.car.parts import Tyre, Wheel
from garage.file import CarFile
from rimcore.well.levers import Levers
from rimcore.well.read import measured as core
from rimcore.wheels.fitted import Fitted
from rimcore.wheels.traced import Points, on_rim
from rimcore.wheels.tyre import parse_tyre, section_carried_mm


def measured_of(tyre: Tyre, width_in: float) -> tuple[float | None, Points | None]:
    """Section width and outline of a tyre on a rim, as far as they were measured."""
    profile = points_of(tyre.profile)
    if profile is None:
        return tyre.measured_section_mm, None
    shape, section = on_rim(profile, tyre.profile_rim_in, width_in)
    return section or tyre.measured_section_mm, shape


def outline_known(
    file: CarFile, end: str, tyre: Tyre | None, size: str, width_in: float
) -> tuple[float | None, Points | None]:
    """Section width and outline of a tyre on a rim: a listed one's own.

    One that is not on the list is the one that stands on the end.
    """
    if tyre is not None and tyre.pk is not None:
        return measured_of(tyre, width_in)
    present = file.fitted(file.current, end)
    if present is None or present.tyre.size != parse_tyre(size).size:
        return None, None
    if present.profile_mm is not None:
        shape, section = on_rim(present.profile_mm, present.wheel.width_in, width_in)
        return section, shape
    if present.measured_section_mm is None:
        return None, None
    return section_carried_mm(present.measured_section_mm, present.wheel.width_in, width_in), None


def candidate_of(
    file: CarFile, end: str, wheel: Wheel, tyre: Tyre, setting: Levers, camber_deg: float
) -> core.Candidate:
    """A pair at one end of a build, for the core."""
    spec = core_wheel(wheel)
    fitted = file.tried(
        Fitted(
            spec,
            parse_tyre(tyre.size),
            setting.spacer_mm,
            camber_deg,
            *outline_known(file, end, tyre, tyre.size, spec.width_in),
        )
    )
    return core.Candidate(
        fitted,
        mount=mount_on_list(wheel),
        wheel_load_kg=wheel.load_kg,
        barrel_radius_mm=wheel.barrel_radius_mm,
        spoke_back_mm=wheel.spoke_back_mm,
        levers=setting,
    )


def camber_in(file: CarFile, end: str, setting: Levers) -> float:
    """Camber of an end in a build: the build's, else as it is."""
    if setting.camber_deg is not None:
        return setting.camber_deg
    present = file.on(file.current, end)
    return (file.camber_of(present) if present is not None else None) or 0.0
