"""Gaps at rest: a reading judged at the pose in which it was read, with what would stand on the hub."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass, replace
from functools import lru_cache

from rimcore.well.judge.doubt import Facing, known_mm
from rimcore.well.judge.unknown import USUAL, Usual, depends, unknown_of, usual_values
from rimcore.well.read.measured import Candidate, Reading, placeable, placed, read_with_axis, with_axis
from rimcore.well.read.travel import Motion
from rimcore.well.solid.gap import arch_gaps, closest, read_again
from rimcore.well.solid.pose import Pose
from rimcore.wheels.fitted import Fitted


@dataclass(frozen=True)
class AtRest:
    """A reading's gap with a candidate at the pose in which it was read, the car at the build's height [mm].

    ``reads`` is what the same rule would read: one gap, at the arch sideways and upward; ``nearest_mm`` the
    shortest way to the outline where that is less.
    """

    reading: Reading
    pose: Pose
    reads: tuple[float, ...]
    nearest_mm: float
    across_mm: float
    radius_mm: float
    foot_mm: tuple[float, float]

    def gap_mm(self, way: str) -> float:
        """The gap that is judged."""
        return {"sideways": self.reads[0], "upward": self.reads[-1]}.get(way, self.nearest_mm)

    def facing(self, way: str, fitted: Fitted) -> Facing:
        """Where point and outline face each other, for the ±."""
        shape = fitted.outline
        at = (self.reading, self.pose.steer_deg, self.pose.travel_mm)
        if way == "sideways":
            return Facing(*at, 1.0, 0.0, (shape.outermost_mm, shape.widest_radius_mm), widest=True)
        if way == "upward":
            return Facing(*at, 0.0, 1.0, (0.0, shape.crown_mm))
        across, radial = self.across_mm - self.foot_mm[0], self.radius_mm - self.foot_mm[1]
        length = math.copysign(math.hypot(across, radial) or 1.0, self.nearest_mm)
        return Facing(*at, across / length, radial / length, self.foot_mm)


def at_rest(reading: Reading, candidate: Candidate, motion: Motion) -> AtRest:
    """A reading judged at rest: shortest way to the outline, or what the rule would read where that is less.

    A damper, rail or arm goes on beyond the point that was read: read below the rim's flange it
    still has to pass the lip, so the lip's plane counts there.
    """
    obstacle = placed(reading)
    fitted, pose = standing(reading, candidate, motion)
    if reading.station.place == "arch":
        side, up = arch_gaps(obstacle, fitted, pose)
        return AtRest(reading, pose, (side + candidate.levers.lip_rolled_mm, up), side, 0.0, 0.0, (0.0, 0.0))
    near, reads = closest(obstacle, fitted, pose), read_again(obstacle, reading.station, fitted, pose).gap_mm
    u, rho = near.point_mm
    if reads < near.distance_mm and reading.station.place in ("damper", "rail", "arm"):
        return AtRest(reading, pose, (reads,), reads, u, rho, (-fitted.outline.half_width_at(rho), rho))
    return AtRest(reading, pose, (reads,), min(near.distance_mm, reads), u, rho, (near.across_mm, near.radius_mm))


def standing(reading: Reading, candidate: Candidate, motion: Motion) -> tuple[Fitted, Pose]:
    """A candidate and its pose where a reading is judged at rest.

    At the build's height, or as far raised as when it was read.

    Camber changes with travel by the gain, as it did when the reading was taken.
    """
    levers = candidate.levers
    pose = _stands(reading, candidate.fitted.camber_deg, levers.ride_drop_mm, levers.rack_mm, motion)
    return replace(candidate.fitted, camber_deg=pose.camber_deg), pose


# Few: a pose holds the table of its links.
@lru_cache(maxsize=512)
def _stands(reading: Reading, camber_deg: float, drop_mm: float, rack_mm: tuple[float, ...], motion: Motion) -> Pose:
    """The pose of every candidate that stands with a camber at a height.

    As far raised as when it was read, else at that height.
    """
    travel_mm = reading.pose.travel_mm if reading.raised_mm else reading.pose.travel_mm - reading.drop_mm + drop_mm
    camber = motion.camber_at(camber_deg, drop_mm, travel_mm)
    return replace(
        reading.pose, travel_mm=travel_mm, camber_deg=camber, follow=motion.follow(camber_deg, drop_mm, rack_mm)
    )


def read_with(reading: Reading, candidate: Candidate, motion: Motion) -> tuple[float, ...]:
    """What the rule would read with the candidate, the car lowered as the build says.

    One gap; at the arch sideways and upward [mm]. The reading's own travel holds the height at which
    it was taken; the candidate stands at the build's height.
    """
    return at_rest(reading, candidate, motion).reads


@lru_cache(maxsize=2048)
def closest_before_mm(reading: Reading) -> float:
    """Shortest distance with what stood on the hub when the reading was taken [mm]."""
    obstacle = placed(reading)
    near = closest(obstacle, reading.present, reading.pose).distance_mm
    return min(near, read_again(obstacle, reading.station, reading.present, reading.pose).gap_mm)


def usual_at_rest(reading: Reading, candidate: Candidate, motion: Motion, way: str) -> Usual | None:
    """A gap at rest over all usual axes.

    Only what was read at lock or raised, and stands otherwise now, depends on them.
    """
    names = unknown_of(
        {name: getattr(motion, name) for name in USUAL}, bool(reading.pose.steer_deg), bool(reading.raised_mm)
    )
    if not names:
        return None
    found = []
    for values in usual_values(names):
        moves = with_axis(motion, values)
        found.append(at_rest(read_with_axis(reading, values), candidate, moves).gap_mm(way))
    gap = at_rest(reading, candidate, motion).gap_mm(way)
    return depends(Usual(min(found), max(found), tuple((name, 0.0) for name in names)), gap)


def known_at_rest(readings: Sequence[Reading], motion: Motion, candidate: Candidate) -> list[float]:
    """± of the gaps that windows and trials take at rest [mm], in their order.

    The arch counts sideways, and upward where nothing moves.
    """
    moves = not motion.missing
    found: list[float] = []
    for reading in readings:
        if not placeable(reading):
            continue
        place, rides = reading.station.place, placed(reading).frame == "knuckle"
        if moves and not rides and place != "arch":
            continue
        ways = ("",) if place != "arch" else ("sideways",) if moves else ("sideways", "upward")
        rest = at_rest(reading, candidate, motion)
        found += [
            known.mm for known in known_mm([rest.facing(way, candidate.fitted) for way in ways], candidate, motion)
        ]
    return found
