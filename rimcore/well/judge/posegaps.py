"""Every placed obstacle of a corner at one pose."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from functools import lru_cache

import numpy as np
from numpy.typing import NDArray

from rimcore.quantities.errors import CoreError
from rimcore.quantities.judgement import State, state_of_gap
from rimcore.well.judge.doubt import Facing, known_mm
from rimcore.well.judge.in_motion import facing_of, only_assumed
from rimcore.well.judge.ranges import at_corner, range_of, unknown_in
from rimcore.well.judge.tolerance import Tolerances
from rimcore.well.judge.wellmap import axis_matters
from rimcore.well.read.measured import Candidate, Reading, placeable, placed
from rimcore.well.read.obstacles import things_of
from rimcore.well.read.travel import Motion
from rimcore.well.solid.cloud import Low
from rimcore.well.solid.gap import outline_polygon, read_again
from rimcore.well.solid.polygon import nearest_point, signed_distance
from rimcore.well.solid.pose import Pose
from rimcore.well.solid.wheel_plane import Thing
from rimcore.wheels.fitted import Fitted

Array = NDArray[np.float64]


@dataclass(frozen=True)
class PoseGap:
    """Gap of one obstacle at one pose [mm], and where its point and the outline face each other (across, radius)."""

    reading: Reading
    gap_mm: float
    wanted_mm: float
    state: State
    across_mm: float
    radius_mm: float
    foot_across_mm: float
    foot_radius_mm: float
    point_mm: tuple[float, float, float]
    foot_mm: tuple[float, float, float]
    doubt_mm: float = 0.0

    def as_taught(self, widen: float, add_mm: float) -> PoseGap:
        """The same as one's own predictions of gaps taught: put right by a lean, its ± wider, its state by both.

        Parameters
        ----------
        widen : of the ±, 1 or more
        add_mm : to the gap [mm]
        """
        gap, doubt = self.gap_mm + add_mm, self.doubt_mm * widen
        state = self.state if self.state == "unmeasured" else state_of_gap(gap, self.wanted_mm, doubt)
        return replace(self, gap_mm=gap, doubt_mm=doubt, state=state)


def gaps_at(
    corner: str,
    readings: Sequence[Reading],
    motion: Motion,
    candidate: Candidate,
    tolerances: Tolerances,
    steer_deg: float,
    travel_mm: float,
) -> list[PoseGap]:
    """Every placed obstacle of a corner at one pose, tightest by margin first; travel from the baseline's height.

    Source: nearest approach of a point and a solid of revolution.

    Parameters
    ----------
    corner : its code
    readings : of the corner
    motion : how it moves
    candidate : wheel, tyre and levers
    tolerances : gaps that are wanted
    steer_deg : out positive [deg]
    travel_mm : from the baseline's height, bump positive [mm]
    """
    here = tuple(
        reading for reading in at_corner(corner, readings) if reading.station.place not in ("caliper", "joint")
    )
    return list(_gaps_at(here, motion, candidate, tolerances, steer_deg, travel_mm))


@lru_cache(maxsize=48)
def _gaps_at(
    readings: tuple[Reading, ...],
    motion: Motion,
    candidate: Candidate,
    tolerances: Tolerances,
    steer_deg: float,
    travel_mm: float,
) -> tuple[PoseGap, ...]:
    pose = pose_of(motion, candidate, steer_deg, travel_mm)
    standing = replace(candidate.fitted, camber_deg=pose.camber_deg)
    faced = []
    for reading, thing in _all_things(readings, motion, candidate.levers.lip_rolled_mm):
        try:
            faced.append(_faced(reading, thing, standing, pose))
        except CoreError:
            continue
    knowns = known_mm([one.facing for one in faced], candidate, motion)
    found = [
        _gap_at(one, known.mm, motion, candidate, standing, tolerances, pose)
        for one, known in zip(faced, knowns, strict=True)
    ]
    return tuple(sorted(found, key=lambda one: one.gap_mm - one.wanted_mm))


def _all_things(readings: Sequence[Reading], motion: Motion, lip_rolled_mm: float) -> list[tuple[Reading, Thing]]:
    """What moves against the wheel, and what rides with it."""
    found = things_of(readings, motion, lip_rolled_mm)
    for reading in readings:
        if placeable(reading) and placed(reading).frame == "knuckle":
            found.append((reading, Thing(reading.code, "knuckle", placed(reading).points_mm)))
    return found


def pose_of(motion: Motion, candidate: Candidate, steer_deg: float, travel_mm: float) -> Pose:
    """How the candidate stands at a steer and travel, with the corner's steering axis.

    Source: rotation about the steering axis, tilt by camber (ISO 8855:2011).

    Parameters
    ----------
    motion : how it moves
    candidate : wheel, tyre and levers
    steer_deg : out positive [deg]
    travel_mm : from the baseline's height, bump positive [mm]

    >>> from rimcore.wheels.tyre import parse_tyre
    >>> from rimcore.wheels.wheel import parse_wheel
    >>> on_car = Fitted(parse_wheel("17x8 +40"), parse_tyre("225/45R17"), camber_deg=-1.0)
    >>> from rimcore.well.levers import Levers
    >>> pose_of(Motion(camber_gain_deg_per_mm=-0.02), Candidate(on_car, levers=Levers(ride_drop_mm=20.0)), 10.0, 70.0).camber_deg
    -2.0
    """
    camber = motion.camber_at(candidate.fitted.camber_deg, candidate.levers.ride_drop_mm, travel_mm)
    return Pose(
        camber,
        steer_deg,
        travel_mm,
        *motion.axis,
        motion.follow(candidate.fitted.camber_deg, candidate.levers.ride_drop_mm, candidate.levers.rack_mm),
    )


@dataclass(frozen=True)
class _Faced:
    """An obstacle at a pose: its nearest point in body (or hub) axes and in the hub's, and how it faces the outline."""

    facing: Facing
    rides: bool
    gap_mm: float
    point_mm: Array
    hub_mm: Array
    across_mm: float
    radius_mm: float


def _faced(reading: Reading, thing: Thing, standing: Fitted, pose: Pose) -> _Faced:
    points = thing.points_mm if thing.hinge is None else thing.hinge.turned(thing.points_mm, pose.travel_mm)
    rides = thing.frame == "knuckle"
    hubs = points if rides else pose.to_hub(points)
    across, radius = hubs[:, 1] - standing.centre_mm, np.hypot(hubs[:, 0], hubs[:, 2])
    polygon = outline_polygon(standing.outline)
    gaps = signed_distance(polygon, np.column_stack([across, radius]))
    at = int(gaps.argmin())
    gap, u, rho = float(gaps[at]), float(across[at]), float(radius[at])
    if rides:
        gap = min(gap, read_again(placed(reading), reading.station, standing, pose).gap_mm)
    low = Low(
        gap_mm=gap,
        steer_deg=pose.steer_deg,
        travel_mm=pose.travel_mm,
        across_mm=u,
        radius_mm=rho,
        sideways=0.0,
        radial=0.0,
        point=at,
        foot_mm=nearest_point(polygon, (u, rho)),
    )
    return _Faced(facing_of(reading, thing, low), rides, gap, points[at], hubs[at], u, rho)


def _gap_at(
    one: _Faced,
    doubt_mm: float,
    motion: Motion,
    candidate: Candidate,
    standing: Fitted,
    tolerances: Tolerances,
    pose: Pose,
) -> PoseGap:
    reading, facing, foot = one.facing.reading, one.facing, one.facing.foot_mm
    if one.rides:
        wanted = tolerances.wanted(reading.station.place)
    else:
        wanted = tolerances.wanted_moving(reading.station.place, abs(facing.across), abs(facing.radial))
    state = state_of_gap(one.gap_mm, wanted, doubt_mm)
    moved = (pose.steer_deg, pose.travel_mm) != (reading.pose.steer_deg, reading.pose.travel_mm)
    if state == "clear" and (reading.assumed or (moved and only_assumed(reading, motion))):
        state = "unmeasured"
    if moved and not one.rides and _unknown_at(reading, motion, candidate, pose):
        state = "unmeasured"
    body = pose.to_body(one.point_mm[None, :])[0] if one.rides else one.point_mm
    share = foot[1] / max(one.radius_mm, 1e-9)
    stands = pose.to_body(np.array([[one.hub_mm[0] * share, foot[0] + standing.centre_mm, one.hub_mm[2] * share]]))[0]
    return PoseGap(
        reading=reading,
        gap_mm=one.gap_mm,
        wanted_mm=wanted,
        state=state,
        across_mm=one.across_mm,
        radius_mm=one.radius_mm,
        foot_across_mm=foot[0],
        foot_radius_mm=foot[1],
        point_mm=_triple(body),
        foot_mm=_triple(stands),
        doubt_mm=doubt_mm,
    )


def _unknown_at(reading: Reading, motion: Motion, candidate: Candidate, pose: Pose) -> bool:
    """Does a gap at a pose rest on an axis or a gain that nobody measured?"""
    reach = range_of(motion, candidate)
    names = unknown_in(motion, reach) if reach is not None else ()
    turned = pose.steer_deg or reading.pose.steer_deg
    travelled = pose.travel_mm - candidate.levers.ride_drop_mm or reading.raised_mm
    return bool(axis_matters(names, np.array([turned]), np.array([travelled]))[0, 0])


def _triple(point: Array) -> tuple[float, float, float]:
    return float(point[0]), float(point[1]), float(point[2])
