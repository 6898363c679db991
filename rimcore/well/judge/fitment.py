"""One pair of wheel and tyre on one axle of one measured car: every judgement, at rest and in motion."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import dataclass, replace
from functools import lru_cache

from rimcore.quantities.judgement import (
    Judgement,
    State,
    severity,
    state_of_gap,
    unmeasured,
    worst,
)
from rimcore.tables.facts import CORNER_NAMES
from rimcore.well.judge.altered import altered
from rimcore.well.judge.at_rest import judge_corner, missing
from rimcore.well.judge.in_motion import judge_beside, judge_motion, range_missing
from rimcore.well.judge.ranges import range_of, unknown_in
from rimcore.well.judge.ratings import loads, speed, tyre_on_rim
from rimcore.well.judge.tolerance import Tolerances
from rimcore.well.judge.unknown import AXIS_STATIONS, state_of_usual
from rimcore.well.read.measured import Axle, Candidate, Held
from rimcore.well.read.obstacles import MOVED_AGAINST
from rimcore.well.read.stations import STATIONS, judged_codes
from rimcore.wheels import hub as hubs
from rimcore.wheels.spacers import spacer_findings
from rimcore.wheels.wheel import Wheel


@dataclass(frozen=True)
class Verdict:
    """All judgements of one candidate on one axle, worst first."""

    judgements: tuple[Judgement, ...]

    @property
    def state(self) -> State:
        return worst(judgement.state for judgement in self.judgements)

    @property
    def unmeasured(self) -> int:
        return sum(judgement.state == "unmeasured" for judgement in self.judgements)

    @property
    def tightest(self) -> Judgement | None:
        """The gap in the worst state, of those the one with the smallest margin, over both sides."""
        gaps = [
            judgement
            for judgement in self.judgements
            if judgement.code.startswith("gap.") and judgement.margin is not None
        ]
        return min(gaps, key=severity) if gaps else None

    @property
    def worst(self) -> Judgement | None:
        return self.judgements[0] if self.judgements else None


@lru_cache(maxsize=192)
def judge(axle: Axle, candidate: Candidate, tolerances: Tolerances) -> Verdict:
    """Judge a candidate on an axle: both corners' gaps at rest and in motion, hub, tyre on rim, loads, speed.

    What nobody measured comes back as ``unmeasured`` with what to measure. At rest each gap is taken at
    the pose in which it was read; in motion over the whole range of steer and travel.
    """
    read, axle = axle, altered(axle, candidate)
    found = _gaps(axle, candidate, tolerances) + _after_fitting(read, candidate)
    if axle.held is not None:
        found = _worse_of(found, _gaps_held(axle, axle.held, candidate, tolerances))
    found += beside_gaps(axle, candidate)
    return Verdict(tuple(sorted(found, key=severity)))


def standing(axle: Axle, candidate: Candidate, tolerances: Tolerances) -> list[Judgement]:
    """What is judged without moving anything: gaps at rest, hub, spacer, tyre on rim, loads, speed.

    Each of it is among what ``judge`` finds, or a worse one stands in its place: a hit here is a hit there, and no gap
    has more room there than here.
    """
    axle = altered(axle, candidate)
    found = [
        one
        for corner in axle.corners
        for one in judge_corner(corner, axle.readings, candidate, tolerances, axle.motion(corner))
    ]
    return found + beside_gaps(axle, candidate)


def beside_gaps(axle: Axle, candidate: Candidate) -> list[Judgement]:
    """Hub, spacer, tyre on rim, loads and speed of a candidate: all of ``judge`` that is no gap."""
    found = list(hubs.hub_fit(axle.hub, candidate.mount, candidate.fitted.spacer_mm, candidate.levers.ring).findings)
    found += spacer_findings(axle.hub, candidate.fitted.spacer_mm, candidate.levers.spacer_kind, axle.hub.collar_mm)
    return [*found, tyre_on_rim(candidate), *loads(axle, candidate), speed(axle, candidate)]


def _gaps(axle: Axle, candidate: Candidate, tolerances: Tolerances) -> list[Judgement]:
    """Gaps of both corners, at rest and in motion."""
    beside = axle.beside(candidate.fitted)
    found: list[Judgement] = []
    for corner in axle.corners:
        motion = axle.motion(corner)
        found += judge_corner(corner, axle.readings, candidate, tolerances, motion)
        found += judge_motion(corner, axle.readings, motion, candidate, tolerances, beside)
    return found


def _after_fitting(axle: Axle, candidate: Candidate) -> list[Judgement]:
    """What was read to an arm that the candidate replaces by one whose shape nobody says."""
    if candidate.levers.arm is None or candidate.levers.arm.back_mm is not None:
        return []
    words = (
        f"another arm goes in ({candidate.levers.arm.source}) and its shape is not known: read it again after fitting"
    )
    remedies = ["say its shape, or how far it stands back from the old one", "read it again after fitting"]
    asked = dict.fromkeys((one.corner, one.code) for one in axle.readings if one.station.place == "arm")
    return [
        replace(
            unmeasured(f"gap.{code}.moving", STATIONS[code].name, words, [f"{corner}.{code}"], remedies),
            where=CORNER_NAMES[corner],
        )
        for corner, code in asked
    ]


def _gaps_held(axle: Axle, held: Held, candidate: Candidate, tolerances: Tolerances) -> list[Judgement]:
    """Gaps without trial fits that are not settled.

    All of them where the tyre's size rests on one, else those whose readings do.
    """
    if held.loosens(candidate.fitted):
        return _gaps(
            replace(axle, readings=held.readings, held=None),
            replace(candidate, fitted=held.without(candidate.fitted)),
            tolerances,
        )
    touched = held.touched(axle.readings)
    found: list[Judgement] = []
    for corner in sorted({reading.corner for reading in touched}):
        motion = axle.motion(corner)
        found += judge_corner(corner, touched, candidate, tolerances, motion)
        found += judge_beside(corner, axle.readings, motion, candidate, tolerances, touched)
    return found


def unread(axle: Axle, candidate: Candidate) -> list[Judgement]:
    """What stays unmeasured with a candidate for want of a reading, without working out a gap.

    For the measuring plan.
    """
    found: list[Judgement] = []
    for corner in axle.corners:
        here, motion = [reading for reading in axle.readings if reading.corner == corner], axle.motion(corner)
        read = {reading.code for reading in here}
        found += [missing(corner, code) for code in judged_codes(corner) if code not in read]
        found += [
            unmeasured(f"gap.{r.code}", r.name, "assumed from the other side", [f"{corner}.{r.code}"])
            for r in here
            if r.assumed
        ]
        reach = range_of(motion, candidate.at(corner))
        if reach is None:
            found.append(range_missing(corner, motion))
        else:
            names = [f"{corner}.{AXIS_STATIONS[name]}" for name in unknown_in(motion, reach)]
            moves = [reading for reading in here if reading.station.place in MOVED_AGAINST]
            found += [
                unmeasured(f"gap.{r.code}.moving", r.name, "the axis is not measured", names) for r in moves if names
            ]
    findings = hubs.hub_fit(axle.hub, candidate.mount, candidate.fitted.spacer_mm, candidate.levers.ring).findings
    return found + [j for j in (*findings, *loads(axle, candidate)) if j.state == "unmeasured"]


@lru_cache(maxsize=2048)
def off_the_gaps(axle: Axle, candidate: Candidate) -> tuple[State, State]:
    """Worst state of what is no gap.

    Of hub, spacer and the wheel's load, and of tyre on rim, its load and the speedometer.
    """
    wheel_side = [*hubs.hub_fit(axle.hub, candidate.mount, candidate.fitted.spacer_mm, candidate.levers.ring).findings]
    wheel_side += spacer_findings(
        axle.hub, candidate.fitted.spacer_mm, candidate.levers.spacer_kind, axle.hub.collar_mm
    )
    tyre_load, wheel_load = loads(axle, candidate)
    tyre_side = [tyre_on_rim(candidate), tyre_load, speed(axle, candidate)]
    return worst(one.state for one in (*wheel_side, wheel_load)), worst(one.state for one in tyre_side)


def _worse_of(after: list[Judgement], before: list[Judgement]) -> list[Judgement]:
    """Of every gap with unsettled trial fits and without them, the worse; it says so where that is the one without."""
    without = {(one.code, one.where): one for one in before if one.value is not None}
    found = []
    for one in after:
        other = without.get((one.code, one.where))
        if other is None or severity(one) <= severity(other):
            found.append(one)
            continue
        found.append(replace(other, reason=f"{other.reason}; the trial fit would improve it, but is not settled"))
    return found


@lru_cache(maxsize=512)
def unread_at(ends: tuple[tuple[str, Axle, Candidate], ...]) -> tuple[Judgement, ...]:
    """What stays unmeasured at the ends of a car ("F", "R") with their candidates, for want of a reading."""
    return both_ends({end: unread(axle, candidate) for end, axle, candidate in ends})


def both_ends(verdicts: Mapping[str, Iterable[Judgement]]) -> tuple[Judgement, ...]:
    """Judgements of front ("F") and rear ("R") together, worst first.

    What is said of a whole axle stands once when both ends agree, else with its axle beside it.

    >>> same = Judgement("hub.bore", "Centre bore", "clear", "agree", "")
    >>> len(both_ends({"F": [same], "R": [same]}))
    1
    >>> [j.where for j in both_ends({"F": [same], "R": [replace(same, state="tight", reason="loose")]})]
    ['rear axle', 'front axle']
    """
    lists = {end: list(judgements) for end, judgements in verdicts.items()}
    found: list[Judgement] = []
    for end, judgements in lists.items():
        others = [j for other, rest in lists.items() if other != end for j in rest]
        for judgement in judgements:
            if judgement.where or judgement in found:
                found += [judgement] if judgement.where else []
            elif judgement in others or len(lists) == 1:
                found.append(judgement)
            else:
                found.append(replace(judgement, where="front axle" if end == "F" else "rear axle"))
    return tuple(sorted(found, key=severity))


def states_by_school(judgement: Judgement, schools: dict[str, Tolerances]) -> dict[str, State]:
    """What each school would say of a predicted gap.

    >>> from rimcore.well.judge.tolerance import SCHOOLS
    >>> states_by_school(Judgement("gap.damper", "", "tight", "", "", value=4.0, uncertainty=0.5), SCHOOLS)["track"]
    'clear'
    """
    if judgement.value is None or not judgement.code.startswith("gap."):
        return {}
    code = judgement.code.removeprefix("gap.")
    base, _, way = code.partition(".")
    place = STATIONS[base].place
    field = f"arch_{'up' if way == 'upward' else 'side'}" if place == "arch" else place
    if judgement.along is not None:
        wanted = {name: margins.wanted_moving(place, *judgement.along) for name, margins in schools.items()}
    else:
        wanted = {name: margins.wanted(field) for name, margins in schools.items()}
    usual, doubt = judgement.usual or (judgement.value, judgement.value), judgement.uncertainty or 0.0
    says: dict[str, State] = {
        name: state_of_usual(*usual, margin, doubt)
        if judgement.usual is not None
        else state_of_gap(judgement.value, margin, doubt)
        for name, margin in wanted.items()
    }
    # A value that was only assumed carries what is missing: it is no pass in any school.
    return {name: "unmeasured" if judgement.missing and state == "clear" else state for name, state in says.items()}


def mount_of(wheel: Wheel, seat: hubs.Seat | None, pad_thickness_mm: float | None) -> hubs.WheelMount:
    """How a parsed wheel meets the hub.

    Source: none; a container.

    Parameters
    ----------
    wheel : as written or read
    seat : of its nuts; None where not read
    pad_thickness_mm : over 0; None where not read [mm]

    >>> from rimcore.wheels.wheel import parse_wheel
    >>> mount_of(parse_wheel("17x8 +45 5x112 66.6"), None, None).bore_mm
    66.6
    """
    return hubs.WheelMount(wheel.bolts, wheel.pcd_mm, wheel.bore_mm, seat, pad_thickness_mm)
