"""A corner in motion: every obstacle through steering and travel, with what is measured and what is not."""

from __future__ import annotations

import math
from collections.abc import Iterable, Sequence
from dataclasses import dataclass, replace
from functools import lru_cache

import numpy as np
from numpy.typing import NDArray

from rimcore.quantities.errors import CoreError
from rimcore.quantities.judgement import (
    COMMON_PRACTICE,
    OWN_MEASUREMENT,
    InputUsed,
    Judgement,
    State,
    state_of_gap,
    unmeasured,
)
from rimcore.tables.facts import CORNER_NAMES
from rimcore.well.judge.doubt import Facing, Known, known_mm
from rimcore.well.judge.ranges import Range, at_corner, bare, range_of, unknown_in, well_of
from rimcore.well.judge.tolerance import Tolerances
from rimcore.well.judge.unknown import (
    AXIS_STATIONS,
    FOR_EVERY_AXIS,
    LEAST_SHARE,
    Usual,
    Usuals,
    depends,
    measure_first,
    state_of_usual,
    usual_text,
)
from rimcore.well.levers import Levers
from rimcore.well.read.measured import Candidate, Reading, gap_inputs
from rimcore.well.read.obstacles import MOVED_AGAINST, hinge_of, things_of
from rimcore.well.read.stations import STATIONS
from rimcore.well.read.travel import Motion
from rimcore.well.solid.cloud import Cloud, Low
from rimcore.well.solid.gap import outline_polygon
from rimcore.well.solid.wheel_plane import Thing, Well

Array = NDArray[np.float64]


#: bump wanted between the lowered car and its stop [mm] (common practice)
BUMP_WANTED_MM = 25.0


@dataclass(frozen=True)
class Swept:
    """One reading's obstacle over the whole range: its low place and ± from where the range ends [mm]."""

    reading: Reading
    low: Low
    known: Known
    range_uncertainty_mm: float
    hinge_missing: bool
    #: over every usual steering axis and camber gain, where the gap depends on one that is not measured
    usual: Usual | None = None

    @property
    def uncertainty_mm(self) -> float:
        return math.hypot(self.known.mm, self.range_uncertainty_mm)

    @property
    def sure_mm(self) -> float:
        """The gap that is left for every usual axis [mm]."""
        return self.low.gap_mm if self.usual is None else self.usual.lo_mm

    @property
    def at_most_mm(self) -> float:
        """The gap of the best usual axis [mm]."""
        return self.low.gap_mm if self.usual is None else self.usual.hi_mm


def pairs_of(
    readings: tuple[Reading, ...], motion: Motion, lip_rolled_mm: float, beside: tuple[Reading, ...]
) -> list[tuple[Reading, Thing]]:
    """Obstacles of a corner, and after them those that other readings of it would place elsewhere.

    Source: none; picks what was read.

    Parameters
    ----------
    readings : of the corner
    motion : how it moves
    lip_rolled_mm : how far the arch lip is rolled, 0 or more [mm]
    beside : readings that place the same elsewhere
    """
    found = things_of(readings, motion, lip_rolled_mm)
    if not beside:
        return found
    same = set(readings)
    return found + [
        (reading, thing) for reading, thing in things_of(beside, motion, lip_rolled_mm) if reading not in same
    ]


#: clouds hold every obstacle point at every pose: some megabytes each, and a car has a dozen of them
@lru_cache(maxsize=64)
def _cloud(
    readings: tuple[Reading, ...], motion: Motion, well: Well, lip_rolled_mm: float, beside: tuple[Reading, ...]
) -> tuple[tuple[tuple[Reading, Thing], ...], Cloud | None]:
    pairs = tuple(pairs_of(readings, motion, lip_rolled_mm, beside))
    if not pairs:
        return (), None
    return pairs, Cloud(well, [thing for _, thing in pairs])


@lru_cache(maxsize=16)
def _usuals(
    readings: tuple[Reading, ...],
    motion: Motion,
    well: Well,
    lip_rolled_mm: float,
    names: tuple[str, ...],
    rest_mm: float,
    beside: tuple[Reading, ...],
) -> Usuals:
    return Usuals(well, [thing for _, thing in pairs_of(readings, motion, lip_rolled_mm, beside)], names, rest_mm)


@lru_cache(maxsize=256)
def swept(
    readings: tuple[Reading, ...], motion: Motion, candidate: Candidate, beside: tuple[Reading, ...] = ()
) -> tuple[Swept, ...]:
    """Every obstacle of one corner against a candidate, over the whole range; empty where the range is not measured.

    ``beside`` are readings as they would place some of them otherwise; their obstacles come after the others.
    """
    reach = range_of(motion, candidate)
    if reach is None:
        return ()
    well = replace(well_of(motion, candidate, reach), centre_mm=0.0)
    pairs, cloud = _cloud(readings, motion, well, candidate.levers.lip_rolled_mm, beside)
    if cloud is None:
        return ()
    outline, centre = outline_polygon(candidate.fitted.outline), candidate.fitted.centre_mm
    lows = cloud.lows(outline, centre)
    knowns = known_mm(
        [facing_of(reading, thing, low) for (reading, thing), low in zip(pairs, lows, strict=True)], candidate, motion
    )
    usual: Sequence[Usual | None] = [None] * len(lows)
    usuals = usuals_of(readings, motion, candidate, beside)
    if usuals is not None:
        usual = [depends(one, low.gap_mm) for one, low in zip(usuals.ranges(outline, centre), lows, strict=True)]
    found = []
    for k, ((reading, _), low) in enumerate(zip(pairs, lows, strict=True)):
        lost = _range_uncertainty(cloud, outline, centre, k, low, motion, reach)
        still = reading.station.place == "arm" and hinge_of(reading, motion) is None
        found.append(Swept(reading, low, knowns[k], lost, still, usual[k]))
    return tuple(found)


def usuals_of(
    readings: tuple[Reading, ...], motion: Motion, candidate: Candidate, beside: tuple[Reading, ...] = ()
) -> Usuals | None:
    """A corner's obstacles over all usual axes, whatever the wheel; None where everything that matters is measured."""
    reach = range_of(motion, candidate)
    names = unknown_in(motion, reach) if reach is not None else ()
    if reach is None or not names:
        return None
    well = replace(well_of(motion, candidate, reach), centre_mm=0.0)
    return _usuals(readings, motion, well, candidate.levers.lip_rolled_mm, names, candidate.levers.ride_drop_mm, beside)


def facing_of(reading: Reading, thing: Thing, low: Low) -> Facing:
    """Point and outline where a gap in motion is smallest, for its ±."""
    across, radial = low.across_mm - low.foot_mm[0], low.radius_mm - low.foot_mm[1]
    way = math.copysign(math.hypot(across, radial) or 1.0, 1.0 if low.gap_mm >= 0 else -1.0)
    between = 0.0 if thing.between is None else float(thing.between[low.point])
    bow = (
        (0.0, 0.0)
        if thing.loose_mm is None
        else (float(thing.loose_mm[low.point, 0]), float(thing.loose_mm[low.point, 1]))
    )
    return Facing(
        reading=reading,
        steer_deg=low.steer_deg,
        travel_mm=low.travel_mm,
        across=across / way,
        radial=radial / way,
        foot_mm=low.foot_mm,
        between=between,
        bow_mm=bow,
        hinge=thing.hinge,
    )


def _range_uncertainty(
    cloud: Cloud, outline: Array, centre: float, owner: int, low: Low, motion: Motion, reach: Range
) -> float:
    """What the uncertain ends of the range may cost [mm]: only where the low place lies at an end."""
    steer, travel = low.steer_deg, low.travel_mm
    beyond_s = motion.lock_uncertainty_deg * _end(steer, -reach.steer_in_deg, reach.steer_out_deg)
    beyond_t = motion.travel_uncertainty_mm * _end(travel, -reach.droop_mm, reach.bump_mm)
    further = [
        (s, t) for s, t, far in ((steer + beyond_s, travel, beyond_s), (steer, travel + beyond_t, beyond_t)) if far
    ]
    return math.hypot(*(cloud.gap_at(outline, centre, owner, s, t) - low.gap_mm for s, t in further))


def _end(value: float, low: float, high: float) -> int:
    """Which end of a range a value lies at: -1, 0 or 1."""
    if high - low < 1e-9:
        return 0
    return 1 if high - value < 1e-6 else -1 if value - low < 1e-6 else 0


def only_assumed(reading: Reading, motion: Motion) -> bool:
    """Does a gap in motion rest on what nobody measured here.

    The other side's readings, or an arm without its hinge?
    """
    return reading.assumed or motion.assumed or (reading.station.place == "arm" and hinge_of(reading, motion) is None)


def judge_motion(
    corner: str,
    readings: Iterable[Reading],
    motion: Motion,
    candidate: Candidate,
    tolerances: Tolerances,
    beside: tuple[Reading, ...] = (),
) -> list[Judgement]:
    """Gaps of one corner over the whole range of steer and travel, and the bump that lowering leaves."""
    here, candidate = tuple(reading for reading in readings if reading.corner == corner), candidate.at(corner)
    where = CORNER_NAMES[corner]
    if motion.missing:
        return [range_missing(corner, motion)]
    found = [_bump_left(where, motion, candidate)]
    try:
        moving = swept(here, motion, bare(candidate), at_corner(corner, beside))
        present = {one.reading: one.low.gap_mm for one in swept(here, motion, _present(here, candidate))}
    except CoreError as error:
        return [*found, replace(unmeasured("gap.motion", "In motion", error.message, ()), where=where)]
    known = set(here)
    return found + [
        _judged(one, motion, candidate, tolerances, present.get(one.reading)) for one in moving if one.reading in known
    ]


def judge_beside(
    corner: str,
    readings: Iterable[Reading],
    motion: Motion,
    candidate: Candidate,
    tolerances: Tolerances,
    beside: tuple[Reading, ...],
) -> list[Judgement]:
    """The same of the readings that stand beside the others, from the same sweep."""
    here, candidate = tuple(reading for reading in readings if reading.corner == corner), candidate.at(corner)
    if motion.missing:
        return []
    try:
        moving = swept(here, motion, bare(candidate), at_corner(corner, beside))
    except CoreError:
        return []
    known = set(here)
    return [_judged(one, motion, candidate, tolerances, None) for one in moving if one.reading not in known]


def _present(readings: tuple[Reading, ...], candidate: Candidate) -> Candidate:
    """What stood on the hub when most was read, at its height."""
    first = next((r for r in readings if r.station.place in MOVED_AGAINST and not r.raised_mm), None)
    return Candidate(first.present, levers=Levers(ride_drop_mm=first.drop_mm)) if first else bare(candidate)


def range_missing(corner: str, motion: Motion) -> Judgement:
    """The judgement of a corner whose range of steer and travel nobody measured."""
    names = ", ".join(STATIONS[code].name.lower() for code in motion.missing)
    lacking = unmeasured(
        "gap.motion",
        "Through steering and travel",
        f"how far the wheel goes is not measured: {names}",
        [f"{corner}.{code}" for code in motion.missing],
        [f"measure: {STATIONS[code].how}" for code in motion.missing],
    )
    return replace(lacking, where=CORNER_NAMES[corner])


def _bump_formula(candidate: Candidate) -> str:
    if candidate.levers.stroke_moves:
        return "a shorter damper body keeps the stroke"
    kept = f" + {candidate.levers.mounts_mm:g} mm by the lower mounts" if candidate.levers.mounts_mm else ""
    return f"bump measured from the baseline's height − lowered{kept}"


def _bump_left(where: str, motion: Motion, candidate: Candidate) -> Judgement:
    eats = candidate.levers.ride_drop_mm - candidate.levers.keeps_mm
    left = (motion.bump_mm or 0.0) - eats
    state: State = "hit" if left <= 0 else "tight" if left < BUMP_WANTED_MM else "clear"
    droop = (motion.droop_mm or 0.0) + eats
    return Judgement(
        "travel.bump",
        "Bump travel to the stop",
        state,
        f"{left:.0f} mm of bump and {droop:.0f} mm of droop from where the car stands",
        COMMON_PRACTICE,
        value=left,
        unit="mm",
        held_against=BUMP_WANTED_MM,
        margin=left - BUMP_WANTED_MM,
        before=motion.bump_mm,
        formula=_bump_formula(candidate),
        inputs=motion.inputs,
        remedies=("lower it less", "a shorter bump stop, if its maker allows it", "a shorter damper body")
        if state != "clear"
        else (),
        where=where,
    )


def pose_text(steer_deg: float, from_rest_mm: float, at_end: int = 0) -> str:
    """A pose in words: ``34° out, bump 20``; travel counts from where the build stands.

    Source: none; words.

    Parameters
    ----------
    steer_deg : out positive [deg]
    from_rest_mm : bump positive, from where the build stands [mm]
    at_end : 1 at full bump, −1 at full droop, else 0

    >>> pose_text(34.2, 20.4), pose_text(0.0, -61.0), pose_text(-30.0, 45.0, 1)
    ('34° out, bump 20', 'straight, droop 61', '30° in, full bump')
    """
    steer = "straight" if abs(steer_deg) < 0.5 else f"{abs(steer_deg):.0f}° {'out' if steer_deg > 0 else 'in'}"
    if at_end:
        return f"{steer}, full {'bump' if at_end > 0 else 'droop'}"
    if abs(from_rest_mm) < 0.5:
        return f"{steer}, at rest height"
    return f"{steer}, {'bump' if from_rest_mm > 0 else 'droop'} {abs(from_rest_mm):.0f}"


def _judged(
    one: Swept, motion: Motion, candidate: Candidate, tolerances: Tolerances, before: float | None
) -> Judgement:
    reading, low = one.reading, one.low
    reach = range_of(motion, candidate)
    at_end = _end(low.travel_mm, -reach.droop_mm, reach.bump_mm) if reach else 0
    pose = pose_text(low.steer_deg, low.travel_mm - candidate.levers.ride_drop_mm, at_end)
    wanted = tolerances.wanted_moving(reading.station.place, low.sideways, low.radial)
    uncertainty = one.uncertainty_mm
    if one.usual is None:
        state, missing, reason = (
            state_of_gap(low.gap_mm, wanted, uncertainty),
            (),
            f"{pose}; {_wants(low.gap_mm, wanted, uncertainty)}",
        )  # type: tuple[State, tuple[str, ...], str]
    else:
        state = state_of_usual(one.usual.lo_mm, one.usual.hi_mm, wanted, uncertainty)
        missing = (
            tuple(f"{reading.corner}.{AXIS_STATIONS[name]}" for name, _ in one.usual.narrows)
            if state == "unmeasured"
            else ()
        )
        reason = f"{pose}; {usual_text(one.usual, wanted)}"
    if state == "clear" and (reading.assumed or motion.assumed):
        state, missing = "unmeasured", (f"{reading.corner}.{reading.code}",)
        reason += "; assumed from the other side, measure it here"
    if one.hinge_missing and state != "hit":
        missing = tuple(f"{reading.corner}.{code}" for code in ("arm_pivot", "arm_joint"))
        state = "unmeasured"
        reason += "; the arm turns with travel, measure its pivot and joint" + (
            "" if motion.hinge is None else " again: as measured it can't follow the wheel"
        )
    basis = OWN_MEASUREMENT + (f"; {FOR_EVERY_AXIS}" if one.usual is not None else "")
    return Judgement(
        f"gap.{reading.code}.moving",
        STATIONS[reading.code].name,
        state,
        reason,
        basis,
        value=low.gap_mm,
        unit="mm",
        held_against=wanted,
        margin=low.gap_mm - wanted,
        before=before,
        uncertainty=uncertainty,
        formula=_formula(low, tolerances, reading, wanted, one),
        inputs=(*gap_inputs(reading, candidate), *_inputs(motion)),
        missing=missing,
        where=CORNER_NAMES[reading.corner],
        pose=(low.steer_deg, low.travel_mm),
        along=(low.sideways, low.radial),
        usual=None if one.usual is None else (one.usual.lo_mm, one.usual.hi_mm),
        remedies=_moving_remedies(one, candidate, state, wanted, uncertainty),
    )


def _moving_remedies(
    one: Swept, candidate: Candidate, state: State, wanted: float, uncertainty: float
) -> tuple[str, ...]:
    """What would keep the margin where the gap is smallest, to first order.

    The bench tries each through the whole range.

    Along the way from the outline to the obstacle a millimetre of offset takes its share across, one of the
    tyre's radius its share outward.
    """
    if one.usual is not None and state == "unmeasured":
        return measure_first(one.usual)
    if state not in ("hit", "tight"):
        return ()
    low, lacking = one.low, wanted - one.low.gap_mm + uncertainty
    outboard = (low.across_mm > low.foot_mm[0]) == (low.gap_mm >= 0)
    found = []
    if low.sideways >= LEAST_SHARE:
        steps = math.ceil(lacking / low.sideways - 1e-9)
        offset = (candidate.fitted.wheel.offset_mm or 0.0) + (steps if outboard else -steps)
        found += [f"offset about {offset:+g}", f"a tyre about {2 * steps} mm narrower"]
    if low.radial >= LEAST_SHARE:
        found.append(f"a tyre about {2 * math.ceil(lacking / low.radial - 1e-9)} mm less in diameter")
    return (*found, "the bench tries these and the others: what would clear it")


def _wants(gap: float, wanted: float, uncertainty: float) -> str:
    if gap < 0:
        return f"overlaps by {-gap:.1f} mm"
    if gap - uncertainty < 0:
        return f"{gap:.1f} ± {uncertainty:.1f} mm: may touch"
    if wanted <= gap < wanted + uncertainty:
        return f"wants {wanted:.1f} mm; within ± {uncertainty:.1f} mm"
    return f"wants {wanted:.1f} mm"


def _formula(low: Low, tolerances: Tolerances, reading: Reading, wanted: float, one: Swept) -> str:
    base = wanted - low.sideways * tolerances.flex_mm - low.radial * tolerances.growth_mm
    return (
        f"smallest distance over the whole range of steer and travel, at {low.steer_deg:.1f}° and {low.travel_mm:+.0f} mm from the baseline: "
        f"{low.gap_mm:.2f} mm; wanted {base:g} + {low.sideways:.2f} × {tolerances.flex_mm:g} mm flex + {low.radial:.2f} × {tolerances.growth_mm:g} mm "
        f"growth = {wanted:.1f} mm; ± {one.uncertainty_mm:.1f} mm: {one.known.text}, ends of the range {one.range_uncertainty_mm:.1f}"
    )


def _inputs(motion: Motion) -> tuple[InputUsed, ...]:
    zero = [
        InputUsed(name, "taken as 0 in the figure, all that is usual in its range", "not measured")
        for name in motion.taken_as_zero
    ]
    return (*motion.inputs, *zero)
