"""The links of a corner with the build in hand, for the core.

What was read, what the build does to it, and when it was read.
"""

from __future__ import annotations

from dataclasses import dataclass, replace

from garage.chassis.links import drop_when_read_mm, layout_of, points_of, read_of
from garage.chassis.load import chassis_of
from garage.file import CarFile
from garage.inhand import in_hand
from garage.kept import once
from garage.readings.models import Reading
from planner.chosen import build_in_hand
from rimcore.quantities.errors import CoreError
from rimcore.quantities.judgement import InputUsed, Judgement, unmeasured
from rimcore.ride.bench import BUMP_STEER_OVER_MM, NAMES, judge_bump_steer, judge_bump_steer_read, judge_reach, unread
from rimcore.ride.plumb import Banded, Read, banded, travel_grid, words
from rimcore.ride.standing import travel_at
from rimcore.steering.bench import MOVES
from rimcore.tables.facts import CORNER_NAMES, CORNERS
from rimcore.well.read.stations import STATIONS

#: travel that is drawn where bump or droop are not measured [mm]
USUAL_MM = 60.0


@dataclass(frozen=True)
class Linked:
    """A corner whose points are all there."""

    corner: str
    #: with the build's rack, and as it was read
    now: Read
    before: Read
    #: height of the build against the one that was read: plus is lowered [mm]
    at_mm: float
    droop_mm: float | None
    bump_mm: float | None
    travel_mm: tuple[float, ...]
    inputs: tuple[InputUsed, ...]
    #: every point was only taken over from the other side
    mirrored: bool

    @property
    def moved(self) -> bool:
        """Does the build move the rack?"""
        return self.now != self.before

    def curves(self) -> Banded:
        """With the build."""
        return banded(self.now, self.travel_mm)


def rack_of_build(file: CarFile) -> tuple[tuple[float, ...], float]:
    """What the build in hand moves of rack, rods and arms, and its limiters [mm]; nothing where no build is in hand."""
    build = build_in_hand(file)
    if build is None:
        return (0.0,) * len(MOVES), 0.0
    return tuple(float(build.lever(code) or 0.0) for code in MOVES), float(build.lever("rack_limit_mm") or 0.0)


@once
def linked(file: CarFile, corner: str) -> Linked | None:
    """A corner's links, once a page; None where points are missing or can't be assembled."""
    return _linked(file, corner)


def _linked(file: CarFile, corner: str) -> Linked | None:
    read = read_of(file, corner)
    if read is None or read.missing or fault_of_points(read):
        return None
    moves, _ = rack_of_build(file)
    now = replace(read, rack_mm=moves) if corner[0] == "F" and any(moves) else read
    if fault_of_points(now):
        return None
    drop = drop_when_read_mm(file, corner)
    at_mm = in_hand(file).drop_at(corner) - drop
    # Bump and droop are counted from the baseline's height, the links from the one at which they were read.
    motion = file.motions[corner]
    droop, bump = travel_at(motion.droop_mm, motion.bump_mm, drop)
    marks = (0.0, at_mm, at_mm + BUMP_STEER_OVER_MM)
    travel = travel_grid(USUAL_MM if droop is None else droop, USUAL_MM if bump is None else bump, marks)
    points = points_of(file, corner)
    return Linked(
        corner=corner,
        now=now,
        before=read,
        at_mm=at_mm,
        droop_mm=droop,
        bump_mm=bump,
        travel_mm=travel,
        inputs=_inputs(file, corner, read),
        mirrored=all(one.mirrored for one in points.values()),
    )


def fault_of_points(read: Read) -> str:
    """Why points can't be assembled; empty where they can."""
    try:
        read.hard_points()
    except CoreError as error:
        return error.message
    return ""


def _inputs(file: CarFile, corner: str, read: Read) -> tuple[InputUsed, ...]:
    points = points_of(file, corner)
    found = []
    for name, one in read.readings:
        row = points[name]
        source = "the other side, not read here" if row.mirrored else row.who
        said = f"{one.across_mm:.0f}, {one.ahead_mm:.0f}, {one.up_mm:.0f} ± {one.uncertainty_mm:g} mm".replace("-", "−")
        found.append(InputUsed(words(read.layout, name), said, source, f"{row.taken_on:%-d %b %Y}"))
    return tuple(found)


def corners_read(file: CarFile) -> list[str]:
    """Corners at which a point was read; the front left one where there are none."""
    return [
        corner
        for corner in CORNERS
        if (layout_of(file, corner) and points_of(file, corner)) or raised_toe(file, corner)
    ] or ["FL"]


@once
def judgements(file: CarFile) -> tuple[Judgement, ...]:
    """What the geometry bench judges of the build in hand, once a page."""
    return tuple(one for corner in corners_read(file) for one in of_corner(file, corner))


def of_corner(file: CarFile, corner: str) -> tuple[Judgement, ...]:
    """Reach and bump steer of a corner by its links, and bump steer as it was read.

    A corner taken over from the other side is never clear.
    """
    return (*_by_links(file, corner), *_as_read(file, corner))


def raised_toe(file: CarFile, corner: str) -> Reading | None:
    """Toe with the wheel raised, read on what stands on the car now."""
    now = file.current.pk if file.current else None
    read = (one for one in file.latest if (one.corner, one.code, one.outfit_id) == (corner, "toe_bump", now))
    return next((one for one in read if one.travel_mm), None)


def _as_read(file: CarFile, corner: str) -> tuple[Judgement, ...]:
    one = raised_toe(file, corner)
    if one is None:
        return ()
    used = InputUsed(
        STATIONS["toe_bump"].name, f"{one.value:+.2f} ± {one.uncertainty:g}°", one.who, f"{one.taken_on:%-d %b %Y}"
    )
    judged = judge_bump_steer_read(one.value, one.travel_mm, one.uncertainty, CORNER_NAMES[corner], (used,))
    assumed = one.mirrored_from_id is not None and judged.state == "clear"
    return (
        replace(judged, state="unmeasured", reason=f"{judged.reason}; assumed from the other side")
        if assumed
        else judged,
    )


def _by_links(file: CarFile, corner: str) -> tuple[Judgement, ...]:
    where, found = CORNER_NAMES[corner], linked(file, corner)
    if found is None:
        read = read_of(file, corner)
        fault = fault_of_points(read) if read is not None and not read.missing else ""
        if fault:
            return tuple(
                unmeasured(f"geometry.{code}", name, f"{where}: {fault}", ["hard points"], ["read the points again"])
                for code, name in NAMES.items()
            )
        return tuple(unread(name, read, where) for name in NAMES)
    curves = found.curves()
    both = (
        judge_reach(curves, found.droop_mm, found.bump_mm, where, found.inputs),
        judge_bump_steer(curves, found.now, found.at_mm, where, found.inputs),
    )
    if not found.mirrored:
        return both
    return tuple(
        replace(one, state="unmeasured", reason=f"{one.reason}; only taken over from the other side")
        if one.state == "clear"
        else one
        for one in both
    )


def begun(file: CarFile) -> bool:
    """Is a hard point read?"""
    return bool(chassis_of(file).points)
