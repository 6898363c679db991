"""The well of one corner as a whole: map over steer and travel, gaps at one pose, offsets that go in."""

from __future__ import annotations

import math
from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace
from functools import lru_cache
from typing import Protocol

import numpy as np
from numpy.typing import NDArray

from rimcore.cloud import Cloud
from rimcore.errors import CoreError
from rimcore.gap import Fitted, arch_gaps, closest, outline_polygon
from rimcore.judgement import State, state_of_gap
from rimcore.measured import Candidate, Motion, Reading, gap_uncertainty_mm, placed
from rimcore.motion import Range, bare, only_assumed, range_of, things_of, well_of
from rimcore.pose import Pose
from rimcore.stations import STATIONS
from rimcore.tolerance import Tolerances
from rimcore.tyre import parse_tyre
from rimcore.wheel import Wheel

Array = NDArray[np.float64]

#: cells of the map on the screen
MAP_STEER, MAP_TRAVEL = 27, 15


@dataclass(frozen=True)
class Cell:
    """One pose of the map: smallest gap [mm] of all obstacles, and its state against the margins."""

    steer_deg: float
    travel_mm: float
    gap_mm: float
    state: State


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


@dataclass(frozen=True)
class WellMap:
    """The map of one corner for one candidate; travel counts from the baseline's ride height."""

    reach: Range
    steer_deg: tuple[float, ...]
    travel_mm: tuple[float, ...]
    cells: tuple[tuple[Cell, ...], ...]

    @property
    def hits(self) -> int:
        return sum(cell.state == "hit" for row in self.cells for cell in row)


@lru_cache(maxsize=256)
def _map_cloud(readings: tuple[Reading, ...], motion: Motion, candidate: Candidate) -> tuple[tuple[Reading, ...], Cloud] | None:
    """Cells' middles lie at equal steps, ends included; the cloud does not depend on the wheel."""
    reach = range_of(motion, candidate)
    pairs = things_of(readings, motion, candidate.lip_rolled_mm)
    if reach is None or not pairs:
        return None
    well = replace(well_of(motion, candidate, reach), centre_mm=0.0)
    steer_count = MAP_STEER if motion.steers else 1
    return tuple(reading for reading, _ in pairs), Cloud(well, [thing for _, thing in pairs], steer_count, MAP_TRAVEL)


def _wheel_free(candidate: Candidate) -> Candidate:
    """A candidate that stands for all wheels with the same camber and height."""
    plain = bare(candidate)
    fitted = replace(
        plain.fitted, wheel=Wheel(15, 6, 0.0), tyre=_ANY_TYRE, spacer_mm=0.0, measured_section_mm=None, profile_mm=None, grown_mm=0.0
    )
    return replace(plain, fitted=fitted)


_ANY_TYRE = parse_tyre("195/65R15")


def well_map(corner: str, readings: Sequence[Reading], motion: Motion, candidate: Candidate, tolerances: Tolerances) -> WellMap | None:
    """Smallest gap over steer and travel for the screen; None where the range or every obstacle is unmeasured.

    A pose is clear where every margin is kept with all of its ±, and every reading was taken at this corner.
    """
    here = tuple(reading for reading in readings if reading.corner == corner)
    found = _map_cloud(here, motion, _wheel_free(candidate))
    reach = range_of(motion, candidate)
    if found is None or reach is None:
        return None
    known, cloud = found
    margins = np.array([_wanted(reading, tolerances) + gap_uncertainty_mm(reading, candidate) for reading in known])
    passed: State = "unmeasured" if any(only_assumed(reading, motion) for reading in known) else "clear"
    gaps, left = cloud.over_poses(outline_polygon(candidate.fitted.outline), candidate.fitted.centre_mm, margins)
    cells = [
        tuple(
            Cell(float(s), float(t), float(gaps[j, i]), "hit" if gaps[j, i] < 0 else "tight" if left[j, i] < 0 else passed)
            for i, s in enumerate(cloud.steer)
        )
        for j, t in enumerate(cloud.travel)
    ]
    return WellMap(reach, tuple(cloud.steer.tolist()), tuple(cloud.travel.tolist()), tuple(cells))


def _wanted(reading: Reading, tolerances: Tolerances) -> float:
    """Margin with the larger of the two allowances: the map does not know the direction of every gap."""
    share = 1.0 if tolerances.flex_mm >= tolerances.growth_mm else 0.0
    return tolerances.wanted_moving(reading.station.place, share, 1.0 - share)


def gaps_at(
    corner: str,
    readings: Sequence[Reading],
    motion: Motion,
    candidate: Candidate,
    tolerances: Tolerances,
    steer_deg: float,
    travel_mm: float,
) -> list[PoseGap]:
    """Every placed obstacle of a corner at one pose, tightest by margin first; travel from the baseline's height."""
    pose = pose_of(motion, candidate, steer_deg, travel_mm)
    standing = replace(candidate.fitted, camber_deg=pose.camber_deg)
    found = []
    for reading in readings:
        if reading.corner == corner and reading.station.place not in ("caliper", "joint"):
            try:
                found.append(_gap_at(reading, motion, candidate, standing, tolerances, pose))
            except CoreError:
                continue
    return sorted(found, key=lambda one: one.gap_mm - one.wanted_mm)


def pose_of(motion: Motion, candidate: Candidate, steer_deg: float, travel_mm: float) -> Pose:
    """How the candidate stands at a steer and travel, with the corner's steering axis.

    >>> from rimcore.tyre import parse_tyre
    >>> from rimcore.wheel import parse_wheel
    >>> on_car = Fitted(parse_wheel("17x8 +40"), parse_tyre("225/45R17"), camber_deg=-1.0)
    >>> pose_of(Motion(camber_gain_deg_per_mm=-0.02), Candidate(on_car, 20.0), 10.0, 70.0).camber_deg
    -2.0
    """
    camber = motion.camber_at(candidate.fitted.camber_deg, candidate.ride_drop_mm, travel_mm)
    return Pose(camber, steer_deg, travel_mm, motion.kpi_deg or 0.0, motion.caster_deg or 0.0, motion.kingpin_inboard_mm or 0.0)


def _gap_at(reading: Reading, motion: Motion, candidate: Candidate, standing: Fitted, tolerances: Tolerances, pose: Pose) -> PoseGap:
    obstacle = placed(reading)
    point = obstacle.points_mm[0]
    if obstacle.frame != "knuckle":
        thing = next(thing for one, thing in things_of([reading], motion, candidate.lip_rolled_mm) if one is reading)
        point = thing.points_mm[0]
        if thing.hinge is not None:
            turn = float(thing.hinge.turn_rad(np.array(pose.travel_mm)))
            y, z = point[1:] - np.array(thing.hinge.pivot_mm)
            pivot = thing.hinge.pivot_mm
            point = np.array(
                [point[0], pivot[0] + math.cos(turn) * y - math.sin(turn) * z, pivot[1] + math.sin(turn) * y + math.cos(turn) * z]
            )
        obstacle = replace(obstacle, points_mm=point[None, :])
    near = closest(obstacle, standing, pose)
    hub = pose.to_hub(point[None, :])[0] if obstacle.frame != "knuckle" else point
    across, radius = float(hub[1] - standing.centre_mm), math.hypot(hub[0], hub[2])
    way = math.hypot(across - near.across_mm, radius - near.radius_mm) or 1.0
    if obstacle.frame == "knuckle":
        wanted = tolerances.wanted(reading.station.place)
    else:
        wanted = tolerances.wanted_moving(reading.station.place, abs(across - near.across_mm) / way, abs(radius - near.radius_mm) / way)
    state = state_of_gap(near.distance_mm, wanted, gap_uncertainty_mm(reading, candidate))
    moved = (pose.steer_deg, pose.travel_mm) != (reading.pose.steer_deg, reading.pose.travel_mm)
    if state == "clear" and (reading.assumed or (moved and only_assumed(reading, motion))):
        state = "unmeasured"
    body = pose.to_body(point[None, :])[0] if obstacle.frame == "knuckle" else point
    share = near.radius_mm / max(radius, 1e-9)
    foot = pose.to_body(np.array([[hub[0] * share, near.across_mm + standing.centre_mm, hub[2] * share]]))[0]
    return PoseGap(reading, near.distance_mm, wanted, state, across, radius, near.across_mm, near.radius_mm, _triple(body), _triple(foot))


def _triple(point: Array) -> tuple[float, float, float]:
    return float(point[0]), float(point[1]), float(point[2])


@dataclass(frozen=True)
class Band:
    """Offsets of one width and tyre that go in [mm], whole millimetres, and what stands at each end."""

    width_in: float
    tyre: str
    no_contact: tuple[int, int] | None
    all_clear: tuple[int, int] | None
    low_limit: str
    high_limit: str
    best_mm: int
    best_left_mm: float


def offset_bands(
    corner: str,
    readings: Sequence[Reading],
    motion: Motion,
    candidate: Candidate,
    tolerances: Tolerances,
    widths_in: Sequence[float],
    low_mm: int,
    high_mm: int,
) -> list[Band]:
    """Offsets that go in by width, for the candidate's tyre and everything else as it stands; measured obstacles only."""
    here = tuple(reading for reading in readings if reading.corner == corner)
    found = []
    for width in widths_in:
        wheel = replace(candidate.fitted.wheel, width_in=width, offset_mm=0.0)
        fitted = replace(
            candidate.fitted, wheel=wheel, grown_mm=candidate.fitted.grown_mm if width == candidate.fitted.wheel.width_in else 0.0
        )
        band = _band(here, motion, replace(bare(candidate), fitted=fitted), tolerances, low_mm, high_mm)
        if band is not None:
            found.append(band)
    return found


@lru_cache(maxsize=1024)
def _band(readings: tuple[Reading, ...], motion: Motion, candidate: Candidate, tolerances: Tolerances, low: int, high: int) -> Band | None:
    """Search on whole millimetres: a millimetre of offset moves no gap by more than a millimetre."""
    try:
        at = gaps_by_offset(readings, motion, candidate, tolerances)
    except CoreError:
        return None
    if at is None:
        return None

    def least(offset: int) -> float:
        return min(gap for gap, _, _ in at(offset))

    def left(offset: int) -> float:
        return min(gap - wanted for gap, wanted, _ in at(offset))

    best = _best(left, low, high)
    start = best if least(best) >= 0 else _best(least, low, high)
    no_contact = _checked(lambda offset: min(at(offset, True))[0], _stretch(least, start, low, high))
    all_clear = _checked(lambda offset: min(g - w for g, w, _ in at(offset, True)), _stretch(left, best, low, high))
    ends = no_contact or (best, best)
    return Band(
        candidate.fitted.wheel.width_in,
        candidate.fitted.tyre.size,
        no_contact,
        all_clear,
        _limit(at, ends[0] - 1, low, high),
        _limit(at, ends[1] + 1, low, high),
        best,
        left(best),
    )


def _checked(of: Callable[[int], float], run: tuple[int, int] | None) -> tuple[int, int] | None:
    """The grid may miss a little between its poses: the ends are drawn in until the continuous gap agrees."""
    if run is None:
        return None
    low, high = run
    while low <= high and of(low) < 0:
        low += 1
    while high >= low and of(high) < 0:
        high -= 1
    return (low, high) if low <= high else None


class GapsAt(Protocol):
    """Gap, margin and name of every obstacle at an offset: over the grid, or continuous."""

    def __call__(self, offset: int, exact: bool = False) -> list[tuple[float, float, str]]: ...


def gaps_by_offset(readings: tuple[Reading, ...], motion: Motion, candidate: Candidate, tolerances: Tolerances) -> GapsAt | None:
    """Gap, margin and name of every measured obstacle of one corner by offset, each computed once; None without any.

    Where the range is not measured the obstacles are taken at the pose in which they were read.
    """
    moving = _map_cloud(readings, motion, _wheel_free(candidate))
    known, cloud = moving if moving is not None else ((), None)
    riding = [r for r in readings if r.station.place == "arch" or (r.station.place in ("damper", "perch") and placed(r).frame == "knuckle")]
    still = riding if cloud is not None else [r for r in readings if r.station.place not in ("caliper", "joint")]
    if not known and not still:
        return None
    polygon = outline_polygon(candidate.fitted.outline)
    memory: dict[tuple[int, bool], list[tuple[float, float, str]]] = {}

    def at(offset: int, exact: bool = False) -> list[tuple[float, float, str]]:
        if (offset, exact) not in memory:
            fitted = replace(candidate.fitted, wheel=replace(candidate.fitted.wheel, offset_mm=float(offset)))
            moved = replace(candidate, fitted=fitted)
            found = []
            if cloud is not None:
                lows = [low.gap_mm for low in cloud.lows(polygon, fitted.centre_mm)] if exact else cloud.rough(polygon, fitted.centre_mm)
                found = [(float(g), _wanted(r, tolerances), STATIONS[r.code].name) for g, r in zip(lows, known, strict=True)]
            memory[offset, exact] = found + [one for reading in still for one in _still(reading, motion, moved, tolerances)]
        return memory[offset, exact]

    return at


def _still(reading: Reading, motion: Motion, candidate: Candidate, tolerances: Tolerances) -> list[tuple[float, float, str]]:
    """Gap and margin at rest, as they are judged at rest."""
    pose = pose_of(motion, candidate, reading.pose.steer_deg, candidate.ride_drop_mm + reading.raised_mm)
    name = STATIONS[reading.code].name
    if reading.station.place == "arch":
        side, up = arch_gaps(placed(reading), candidate.fitted, pose)
        side += candidate.lip_rolled_mm
        if not motion.missing:
            # In motion the lip is met or not over the whole travel; at rest only the margin sideways is left to keep.
            return [(max(side, 0.0), tolerances.arch_side_mm - min(side, 0.0), name)]
        return [(side, tolerances.arch_side_mm, name), (up, tolerances.arch_up_mm, name)]
    return [(closest(placed(reading), candidate.fitted, pose).distance_mm, tolerances.wanted(reading.station.place), name)]


def _best(of: Callable[[int], float], low: int, high: int) -> int:
    """Offset of the largest value; no whole millimetre changes the value by more than one."""
    places = sorted({*range(low, high + 1, 6), high})
    values: dict[int, float] = {place: of(place) for place in places}
    while True:
        top = max(values.values())
        open_ = [(a, b) for a, b in zip(places, places[1:], strict=False) if b - a > 1 and (values[a] + values[b] + b - a) / 2 > top + 0.05]
        if not open_:
            best: int = next(place for place in places if values[place] == top)
            return best
        for a, b in open_:
            values[(a + b) // 2] = of((a + b) // 2)
        places = sorted(values)


def _stretch(of: Callable[[int], float], best: int, low: int, high: int) -> tuple[int, int] | None:
    """The run of whole millimetres around ``best`` on which a value is not negative."""
    if of(best) < 0:
        return None
    ends = []
    for limit, way in ((low, -1), (high, 1)):
        place = best
        while place != limit:
            step = min(max(1, int(of(place))), abs(limit - place))
            ahead = place + way * step
            if of(ahead) < 0:
                if step == 1:
                    break
                ahead = place + way
                if of(ahead) < 0:
                    break
            place = ahead
        ends.append(place)
    return ends[0], ends[1]


def _limit(at: GapsAt, beyond: int, low: int, high: int) -> str:
    """What stands just beyond an end of the run."""
    if not low <= beyond <= high:
        return "end of the scale"
    return min(at(beyond), key=lambda one: one[0])[2].lower()
