"""What a build chooses and sets, end by end; its parts and levers as core values."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace
from typing import Any

from django.db.models import Prefetch

from garage.car.assemble import CORNERS_OF, fitted_of
from garage.car.parts import Tyre, Wheel
from garage.chassis.ends import old_of
from garage.chassis.load import chassis_of
from garage.file import CarFile
from garage.kept import once
from garage.setting import InHand
from planner.models import Build, Choice, PipeRun
from rimcore.mass.ledger import STRIP_OUT
from rimcore.parts.linked import stands_back_mm
from rimcore.ride.heights import screwed_in_lowers_mm
from rimcore.steering.bench import MOVES
from rimcore.well import levers as well_levers
from rimcore.well.bench import WELL
from rimcore.well.levers import Levers
from rimcore.well.read import measured as well_measured2
from rimcore.well.read.stations import STATIONS
from rimcore.wheels.hub import CentringRing
from rimcore.wheels.tyre import parse_tyre
from rimcore.wheels.wheel import same_rim
from rimcore.work.ledger import OUT_STATES
from shelf.assemble import camber_in, candidate_of, outline_known


@once
def builds_of(file: CarFile) -> list[Build]:
    """Builds of a car with their choices; three queries, once a page."""
    choices = Prefetch("choices", queryset=Choice.objects.select_related("part"))
    return list(file.car.builds.prefetch_related(choices, "levers"))


@once
def pipe_runs_of(file: CarFile) -> dict[tuple[int | None, str], PipeRun]:
    """Intake and exhaust as they stand (None) and of every build; one query, once a page."""
    return {(run.build_id, run.kind): run for run in PipeRun.objects.filter(car=file.car)}


def build_in_hand(file: CarFile) -> Build | None:
    """The build that the tally board speaks of."""
    return next((build for build in builds_of(file) if build.in_hand), None)


def choices_of(build: Build) -> list[Choice]:
    """Parts that count: returned and sold ones are out."""
    return [choice for choice in build.choices.all() if choice.state not in OUT_STATES]


def chosen(build: Build, end: str) -> tuple[Wheel | None, Tyre | None]:
    """Wheel and tyre that a build puts on an end; the more exact position wins."""
    at_end = sorted((c for c in choices_of(build) if c.stands_at(end)), key=lambda c: c.position == "A")
    wheel = next((c.wheel for c in at_end if c.wheel and c.wheel.fault is None), None)
    tyre = next((c.tyre for c in at_end if c.tyre and c.tyre.fault is None), None)
    return wheel, tyre


def end_setting(file: CarFile, build: Build, end: str) -> Levers:
    """Spacer, height, camber, ring and brake of a build at an end."""
    here = [choice for choice in choices_of(build) if choice.stands_at(end)]
    ring = next((choice.ring_mm for choice in here if choice.ring_mm is not None), None)
    brake = next(
        (_brake(choice.part) for choice in here if choice.kind == "caliper" and choice.part.fault is None), None
    )
    *moves, limit = (float(build.lever(code) or 0.0) if end == "F" else 0.0 for code in (*MOVES, "rack_limit_mm"))
    mount, ratio = float(build.lever("lower_mount_mm", end) or 0.0), _motion_ratio(file, end)
    return Levers(
        ring=CentringRing(*ring) if ring else None,
        brake=brake,
        arm=_arm(file, here, end),
        perch_up_mm=float(build.lever("perch_up_mm", end) or 0.0),
        rack_mm=tuple(moves),
        rack_limit_mm=limit,
        lower_mount_mm=mount,
        mounts_mm=screwed_in_lowers_mm(mount, ratio) or 0.0,
        collar_mm=_by_corner(build, "collar_mm", end),
        corner_mm=_by_corner(build, "corner_drop_mm", end),
        **levers_at(build, end),
    )


def _by_corner(build: Build, code: str, end: str) -> tuple[float, float]:
    """A lever of both corners of an end: left, right."""
    left, right = (float(build.lever(code, corner) or 0.0) for corner in CORNERS_OF[end])
    return left, right


def _motion_ratio(file: CarFile, end: str) -> float | None:
    kept = chassis_of(file).springs.get(end)
    return None if kept is None else kept.motion_ratio


@once
def held_of(file: CarFile, build: Build) -> InHand:
    """A build as other rooms see it; once a page."""
    return _held(file, build)


def _held(file: CarFile, build: Build) -> InHand:
    ratios = {
        end: float(one.part.spec["ratio"])
        for end in ("F", "R")
        for one in choices_of(build)
        if one.kind == "axle_gears" and one.part.fault is None and one.stands_at(end)
    }
    return InHand(
        build.name,
        build.tolerance,
        {end: end_setting(file, build, end) for end in ("F", "R")},
        build.pk,
        build.tuned_first,
        bool(build.lever(STRIP_OUT.code)),
        ratios,
    )


def _brake(part: Any) -> well_levers.Brake:
    """A caliper of the list, for the core."""
    return well_levers.Brake(part.spec.get("radius_mm"), part.spec.get("face_mm"), f"{part}, as offered")


def _arm(file: CarFile, here: Sequence[Choice], end: str) -> well_levers.Arm | None:
    """The arm of a build at an end, for the gap that was read to the old one at full lock."""
    chosen = next((choice for choice in here if choice.kind == "control_arm" and choice.part.fault is None), None)
    if chosen is None or (chosen.state == "fitted" and _read_since_fitted(file, end)):
        return None
    old = old_of(file, end).get("control_arm", {})
    return well_levers.Arm(stands_back_mm(chosen.part.spec, old), f"{chosen.part}, as offered")


def _read_since_fitted(file: CarFile, end: str) -> bool:
    """Was every gap to the arm of an end read since it was fitted?"""
    fitted = chassis_of(file).old.get((end, "control_arm"))
    read = [one for one in file.latest if one.corner[:1] == end and STATIONS[one.code].place == "arm"]
    return fitted is not None and all(one.taken_on >= fitted.noted_on for one in read)


def levers_at(build: Build, end: str) -> dict[str, Any]:
    """What the wheel-well bench's levers are at an end of a build, by code."""
    found: dict[str, Any] = {}
    for lever in WELL.levers:
        place = "" if "" in lever.places else end
        found[lever.code] = build.lever(lever.code, place) if place in lever.places else lever.default
    return found


def candidate(file: CarFile, build: Build, end: str) -> well_measured2.Candidate | None:
    """What a build puts on an end, for the core; what it does not choose stays as it is."""
    present, standing = file.on(file.current, end), file.standing(end)
    if present is None or standing is None:
        return None
    setting = end_setting(file, build, end)
    camber = camber_in(file, end, setting)
    wheel, tyre = chosen(build, end)
    if wheel is not None and tyre is not None and same_rim(wheel.diameter_in, tyre.rim_diameter_in):
        return candidate_of(file, end, wheel, tyre, setting, camber)
    fitted = fitted_of(present)
    if wheel is not None and same_rim(wheel.diameter_in, fitted.tyre.rim_diameter_in):
        stays = Tyre(family="tyre", size=present.tyre, rim_diameter_in=fitted.tyre.rim_diameter_in)
        return candidate_of(file, end, wheel, stays, setting, camber)
    if tyre is not None and same_rim(tyre.rim_diameter_in, fitted.wheel.diameter_in):
        section, profile = outline_known(file, end, tyre, tyre.size, fitted.wheel.width_in)
        fitted = replace(fitted, tyre=parse_tyre(tyre.size), measured_section_mm=section, profile_mm=profile)
    stands = replace(fitted, spacer_mm=setting.spacer_mm or fitted.spacer_mm, camber_deg=camber)
    return replace(standing, fitted=stands, levers=setting)
