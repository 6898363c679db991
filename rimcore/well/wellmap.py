"""The well of one corner as a whole: map over steer and travel, gaps at one pose, offsets that go in."""

from __future__ import annotations

import itertools
from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace
from functools import lru_cache
from typing import Protocol

import numpy as np
from numpy.typing import NDArray

from rimcore.quantities.errors import CoreError
from rimcore.quantities.judgement import ORDER, State, state_of_gap
from rimcore.well.cloud import Cloud, Low
from rimcore.well.doubt import Facing, known_mm
from rimcore.well.gap import outline_polygon, read_again
from rimcore.well.measured import Axle, Candidate, Motion, Reading, placeable, placed
from rimcore.well.motion import Range, at_corner, bare, facing_of, only_assumed, pairs_of, range_of, swept, unknown_in, usuals_of, well_of
from rimcore.well.mover import Thing
from rimcore.well.polygon import nearest_point, signed_distance
from rimcore.well.pose import Pose
from rimcore.well.resting import at_rest
from rimcore.well.stations import STATIONS
from rimcore.well.things import things_of
from rimcore.well.tolerance import Tolerances
from rimcore.well.unknown import Usuals
from rimcore.wheels.fitted import Fitted
from rimcore.wheels.tyre import parse_tyre
from rimcore.wheels.wheel import Wheel

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
    #: what of steering axis and camber gain is not measured
    unknown: tuple[str, ...] = ()

    @property
    def hits(self) -> int:
        return sum(cell.state == "hit" for row in self.cells for cell in row)


@lru_cache(maxsize=256)
def map_cloud(
    readings: tuple[Reading, ...], motion: Motion, candidate: Candidate, beside: tuple[Reading, ...] = ()
) -> tuple[tuple[Reading, ...], Cloud] | None:
    """Cells' middles lie at equal steps, ends included; the cloud does not depend on the wheel."""
    reach = range_of(motion, candidate)
    pairs = pairs_of(readings, motion, candidate.lip_rolled_mm, beside)
    if reach is None or not pairs:
        return None
    well = replace(well_of(motion, candidate, reach), centre_mm=0.0)
    steer_count = MAP_STEER if motion.steers else 1
    return tuple(reading for reading, _ in pairs), Cloud(well, [thing for _, thing in pairs], steer_count, MAP_TRAVEL)


def wheel_free(candidate: Candidate) -> Candidate:
    """A candidate that stands for all wheels with the same camber and height."""
    plain = bare(candidate)
    fitted = replace(
        plain.fitted, wheel=Wheel(15, 6, 0.0), tyre=_ANY_TYRE, spacer_mm=0.0, measured_section_mm=None, profile_mm=None, grown_mm=0.0
    )
    return replace(plain, fitted=fitted)


_ANY_TYRE = parse_tyre("195/65R15")


def axle_map(axle: Axle, corner: str, candidate: Candidate, tolerances: Tolerances) -> WellMap | None:
    """The map of one corner of an axle; at every pose the worse of with and without what trial fits left unsettled."""
    found = well_map(corner, axle.readings, axle.motion(corner), candidate, tolerances, axle.beside(candidate.fitted))
    if found is None or axle.held is None or not axle.held.loosens(candidate.fitted):
        return found
    without = replace(candidate, fitted=axle.held.without(candidate.fitted))
    other = well_map(corner, axle.held.readings, axle.motion(corner), without, tolerances)
    return found if other is None else replace(found, cells=_worse_cells(found.cells, other.cells))


def _worse_cells(these: tuple[tuple[Cell, ...], ...], those: tuple[tuple[Cell, ...], ...]) -> tuple[tuple[Cell, ...], ...]:
    def worse(one: Cell, other: Cell) -> Cell:
        return min(one, other, key=lambda cell: (ORDER.index(cell.state), cell.gap_mm))

    return tuple(tuple(map(worse, *rows)) for rows in zip(these, those, strict=True))


def well_map(
    corner: str,
    readings: Sequence[Reading],
    motion: Motion,
    candidate: Candidate,
    tolerances: Tolerances,
    beside: tuple[Reading, ...] = (),
) -> WellMap | None:
    """Smallest gap over steer and travel for the screen; None where the range or every obstacle is unmeasured.

    A pose is clear where every margin is kept with all of its ±, and every reading was taken at this corner.
    ``beside`` are readings as they would place some obstacles otherwise: the smaller gap stands.
    """
    here, beside = at_corner(corner, readings), at_corner(corner, beside)
    found = map_cloud(here, motion, wheel_free(candidate), beside)
    reach = range_of(motion, candidate)
    if found is None or reach is None:
        return None
    known, cloud = found
    moving = swept(here, motion, bare(candidate), beside)
    doubt = {one.reading: one.known.mm for one in moving}
    margins = np.array([wanted_at_most(reading, tolerances) + doubt[reading] for reading in known])
    passed: State = "unmeasured" if any(only_assumed(reading, motion) for reading in known) else "clear"
    gaps, left = cloud.over_poses(outline_polygon(candidate.fitted.outline), candidate.fitted.centre_mm, margins)
    names = unknown_in(motion, reach)

    steer, travel = cloud.steer.tolist(), cloud.travel.tolist()
    matters = _axis_matters(names, cloud.steer, cloud.travel - candidate.ride_drop_mm)
    states = np.where(matters, "unmeasured", np.where(gaps < 0, "hit", np.where(left < 0, "tight", passed))).tolist()
    cells = [tuple(map(Cell, steer, itertools.repeat(t), row, said)) for t, row, said in zip(travel, gaps.tolist(), states, strict=True)]
    return WellMap(reach, tuple(steer), tuple(travel), tuple(cells), names)


def _axis_matters(names: Sequence[str], steer_deg: Array, from_rest_mm: Array) -> NDArray[np.bool_]:
    """At which poses does what is unknown matter: the axis once the wheel is turned, the gain once it has travelled? Shape (travel, steer)."""
    gain = "camber_gain_deg_per_mm"
    turned = np.abs(steer_deg) > 1e-9 if any(name != gain for name in names) else np.zeros(len(steer_deg), dtype=bool)
    travelled = np.abs(from_rest_mm) > 1e-9 if gain in names else np.zeros(len(from_rest_mm), dtype=bool)
    return np.asarray(travelled[:, None] | turned[None, :])


def wanted_at_most(reading: Reading, tolerances: Tolerances) -> float:
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
    here = tuple(reading for reading in at_corner(corner, readings) if reading.station.place not in ("caliper", "joint"))
    return list(_gaps_at(here, motion, candidate, tolerances, steer_deg, travel_mm))


@lru_cache(maxsize=512)
def _gaps_at(
    readings: tuple[Reading, ...], motion: Motion, candidate: Candidate, tolerances: Tolerances, steer_deg: float, travel_mm: float
) -> tuple[PoseGap, ...]:
    pose = pose_of(motion, candidate, steer_deg, travel_mm)
    standing = replace(candidate.fitted, camber_deg=pose.camber_deg)
    faced = []
    for reading, thing in _all_things(readings, motion, candidate.lip_rolled_mm):
        try:
            faced.append(_faced(reading, thing, standing, pose))
        except CoreError:
            continue
    knowns = known_mm([one.facing for one in faced], candidate, motion)
    found = [_gap_at(one, known.mm, motion, candidate, standing, tolerances, pose) for one, known in zip(faced, knowns, strict=True)]
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

    >>> from rimcore.wheels.tyre import parse_tyre
    >>> from rimcore.wheels.wheel import parse_wheel
    >>> on_car = Fitted(parse_wheel("17x8 +40"), parse_tyre("225/45R17"), camber_deg=-1.0)
    >>> pose_of(Motion(camber_gain_deg_per_mm=-0.02), Candidate(on_car, 20.0), 10.0, 70.0).camber_deg
    -2.0
    """
    camber = motion.camber_at(candidate.fitted.camber_deg, candidate.ride_drop_mm, travel_mm)
    return Pose(camber, steer_deg, travel_mm, motion.kpi_deg or 0.0, motion.caster_deg or 0.0, motion.kingpin_inboard_mm or 0.0)


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
    low = Low(gap, pose.steer_deg, pose.travel_mm, u, rho, 0.0, 0.0, at, nearest_point(polygon, (u, rho)))
    return _Faced(facing_of(reading, thing, low), rides, gap, points[at], hubs[at], u, rho)


def _gap_at(
    one: _Faced, doubt_mm: float, motion: Motion, candidate: Candidate, standing: Fitted, tolerances: Tolerances, pose: Pose
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
    return PoseGap(reading, one.gap_mm, wanted, state, one.across_mm, one.radius_mm, *foot, _triple(body), _triple(stands))


def _unknown_at(reading: Reading, motion: Motion, candidate: Candidate, pose: Pose) -> bool:
    """Does a gap at a pose rest on an axis or a gain that nobody measured?"""
    reach = range_of(motion, candidate)
    names = unknown_in(motion, reach) if reach is not None else ()
    turned = pose.steer_deg or reading.pose.steer_deg
    travelled = pose.travel_mm - candidate.ride_drop_mm or reading.raised_mm
    return bool(_axis_matters(names, np.array([turned]), np.array([travelled]))[0, 0])


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

    def least(offset: int, exact: bool = False) -> float:
        return min(one.most_mm for one in at(offset, exact))

    def left(offset: int, exact: bool = False) -> float:
        return min(one.sure_mm - one.wanted_mm for one in at(offset, exact))

    best = _best(left, low, high)
    start = best if least(best) >= 0 else _best(least, low, high)
    no_contact = _checked(lambda offset: least(offset, True), _stretch(least, start, low, high))
    all_clear = _checked(lambda offset: left(offset, True), _stretch(left, best, low, high))
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


@dataclass(frozen=True)
class Left:
    """What an obstacle leaves [mm]: for every usual steering axis, for the best of them (the same where it is known), and what is wanted."""

    sure_mm: float
    most_mm: float
    wanted_mm: float
    name: str


class GapsAt(Protocol):
    """What every obstacle leaves at an offset: over the grid, or continuous."""

    def __call__(self, offset: int, exact: bool = False) -> list[Left]: ...


def gaps_by_offset(
    readings: tuple[Reading, ...], motion: Motion, candidate: Candidate, tolerances: Tolerances, usual: bool = True
) -> GapsAt | None:
    """What every measured obstacle of one corner leaves by offset, each computed once; None without any.

    Where the range is not measured the obstacles are taken at the pose in which they were read.
    ``usual`` False leaves an unmeasured steering axis at 0 (quicker, for trials that are judged whole later).
    """
    moving = map_cloud(readings, motion, wheel_free(candidate))
    known, cloud = moving if moving is not None else ((), None)
    good = [r for r in readings if placeable(r)]
    still = good if cloud is None else [r for r in good if r.station.place == "arch" or placed(r).frame == "knuckle"]
    if not known and not still:
        return None
    polygon = outline_polygon(candidate.fitted.outline)
    usuals = usuals_of(readings, motion, candidate) if usual and cloud is not None else None
    wanted = [wanted_at_most(reading, tolerances) for reading in known]
    memory: dict[tuple[int, bool], list[Left]] = {}

    def at(offset: int, exact: bool = False) -> list[Left]:
        if (offset, exact) not in memory:
            fitted = replace(candidate.fitted, wheel=replace(candidate.fitted.wheel, offset_mm=float(offset)))
            ends = _ends_of(cloud, usuals, polygon, fitted.centre_mm, exact) if cloud is not None else []
            found = [Left(lo, hi, w, STATIONS[r.code].name) for (lo, hi), w, r in zip(ends, wanted, known, strict=True)]
            moved = replace(candidate, fitted=fitted)
            memory[offset, exact] = found + [one for reading in still for one in _still(reading, motion, moved, tolerances)]
        return memory[offset, exact]

    return at


def _ends_of(cloud: Cloud, usuals: Usuals | None, polygon: Array, centre_mm: float, exact: bool) -> list[tuple[float, float]]:
    """Gap of every obstacle, of the worst and of the best usual axis [mm]."""
    if usuals is not None:
        return [(one.lo_mm, one.hi_mm) for one in (usuals.ranges(polygon, centre_mm) if exact else usuals.rough(polygon, centre_mm))]
    gaps = [low.gap_mm for low in cloud.lows(polygon, centre_mm)] if exact else cloud.rough(polygon, centre_mm).tolist()
    return [(gap, gap) for gap in gaps]


def _still(reading: Reading, motion: Motion, candidate: Candidate, tolerances: Tolerances) -> list[Left]:
    """Gap and margin at rest, as they are judged at rest."""
    rest, name = at_rest(reading, candidate, motion), STATIONS[reading.code].name
    if reading.station.place != "arch":
        return [Left(rest.nearest_mm, rest.nearest_mm, tolerances.wanted(reading.station.place), name)]
    side, up = rest.reads
    if not motion.missing:
        # In motion the lip is met or not over the whole travel; at rest only the margin sideways is left to keep.
        return [Left(max(side, 0.0), max(side, 0.0), tolerances.arch_side_mm - min(side, 0.0), name)]
    return [Left(side, side, tolerances.arch_side_mm, name), Left(up, up, tolerances.arch_up_mm, name)]


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
    return min(at(beyond), key=lambda one: one.most_mm).name.lower()
