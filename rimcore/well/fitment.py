"""One pair of wheel and tyre on one axle of one measured car: every judgement, at rest and in motion."""

from __future__ import annotations

import math
from collections.abc import Iterable, Mapping
from dataclasses import dataclass, replace
from functools import lru_cache

from rimcore.quantities.errors import CoreError
from rimcore.quantities.judgement import (
    COMMON_PRACTICE,
    OWN_MEASUREMENT,
    InputUsed,
    Judgement,
    State,
    severity,
    state_of_gap,
    unmeasured,
    worst,
)
from rimcore.well.doubt import Known, known_mm
from rimcore.well.measured import Axle, Candidate, Held, Motion, Reading, gap_inputs, placed
from rimcore.well.motion import AXIS_STATIONS, judge_beside, judge_motion, lock_text, range_missing, range_of, unknown_in
from rimcore.well.resting import AtRest, at_rest, closest_before_mm, read_with, usual_at_rest
from rimcore.well.stations import CORNER_NAMES, STATIONS, judged_codes
from rimcore.well.things import MOVED_AGAINST
from rimcore.well.tolerance import Tolerances
from rimcore.well.unknown import FOR_EVERY_AXIS, state_of_usual
from rimcore.wheels import hub as hubs
from rimcore.wheels.spacers import spacer_cautions, spacer_findings
from rimcore.wheels.swap import legal_r39, true_kmh
from rimcore.wheels.tyre import rim_fit
from rimcore.wheels.wheel import Wheel

__all__ = [
    "Axle", "Candidate", "Drag", "Motion", "Reading", "Verdict", "both_ends", "closest_before_mm", "drags_along", "judge",
    "judge_corner", "mount_of", "off_the_gaps", "placed", "read_with", "states_by_school", "unread", "unread_at",
]  # fmt: skip


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
        """The gap with the smallest margin, over both sides."""
        gaps = [judgement for judgement in self.judgements if judgement.code.startswith("gap.") and judgement.margin is not None]
        return min(gaps, key=lambda judgement: judgement.margin or 0.0) if gaps else None

    @property
    def worst(self) -> Judgement | None:
        return self.judgements[0] if self.judgements else None


@lru_cache(maxsize=1024)
def judge(axle: Axle, candidate: Candidate, tolerances: Tolerances) -> Verdict:
    """Judge a candidate on an axle: both corners' gaps at rest and in motion, hub, tyre on rim, loads, speed.

    What nobody measured comes back as ``unmeasured`` with what to measure. At rest each gap is taken at
    the pose in which it was read; in motion over the whole range of steer and travel.
    """
    found = _gaps(axle, candidate, tolerances)
    if axle.held is not None:
        found = _worse_of(found, _gaps_held(axle, axle.held, candidate, tolerances))
    found += hubs.hub_fit(axle.hub, candidate.mount, candidate.fitted.spacer_mm, candidate.ring).findings
    found += spacer_findings(axle.hub, candidate.fitted.spacer_mm, candidate.spacer_kind, axle.hub.collar_mm)
    found += [_tyre_on_rim(candidate), *_loads(axle, candidate), _speed(axle, candidate)]
    return Verdict(tuple(sorted(found, key=severity)))


def _gaps(axle: Axle, candidate: Candidate, tolerances: Tolerances) -> list[Judgement]:
    """Gaps of both corners, at rest and in motion."""
    beside = axle.beside(candidate.fitted)
    found: list[Judgement] = []
    for corner in axle.corners:
        motion = axle.motion(corner)
        found += judge_corner(corner, axle.readings, candidate, tolerances, motion)
        found += judge_motion(corner, axle.readings, motion, candidate, tolerances, beside)
    return found


def _gaps_held(axle: Axle, held: Held, candidate: Candidate, tolerances: Tolerances) -> list[Judgement]:
    """Gaps without trial fits that are not settled: all of them where the tyre's size rests on one, else those whose readings do."""
    if held.loosens(candidate.fitted):
        return _gaps(
            replace(axle, readings=held.readings, held=None), replace(candidate, fitted=held.without(candidate.fitted)), tolerances
        )
    touched = held.touched(axle.readings)
    found: list[Judgement] = []
    for corner in sorted({reading.corner for reading in touched}):
        motion = axle.motion(corner)
        found += judge_corner(corner, touched, candidate, tolerances, motion)
        found += judge_beside(corner, axle.readings, motion, candidate, tolerances, touched)
    return found


def unread(axle: Axle, candidate: Candidate) -> list[Judgement]:
    """What stays unmeasured with a candidate for want of a reading, without working out a gap: for the measuring plan."""
    found: list[Judgement] = []
    for corner in axle.corners:
        here, motion = [reading for reading in axle.readings if reading.corner == corner], axle.motion(corner)
        read = {reading.code for reading in here}
        found += [_missing(corner, code) for code in judged_codes(corner) if code not in read]
        found += [unmeasured(f"gap.{r.code}", r.name, "assumed from the other side", [f"{corner}.{r.code}"]) for r in here if r.assumed]
        reach = range_of(motion, candidate)
        if reach is None:
            found.append(range_missing(corner, motion))
        else:
            names = [f"{corner}.{AXIS_STATIONS[name]}" for name in unknown_in(motion, reach)]
            moves = [reading for reading in here if reading.station.place in MOVED_AGAINST]
            found += [unmeasured(f"gap.{r.code}.moving", r.name, "the axis is not measured", names) for r in moves if names]
    findings = hubs.hub_fit(axle.hub, candidate.mount, candidate.fitted.spacer_mm, candidate.ring).findings
    return found + [j for j in (*findings, *_loads(axle, candidate)) if j.state == "unmeasured"]


@lru_cache(maxsize=8192)
def off_the_gaps(axle: Axle, candidate: Candidate) -> tuple[State, State]:
    """Worst state of what is no gap: of hub, spacer and the wheel's load, and of tyre on rim, its load and the speedometer."""
    wheel_side = [*hubs.hub_fit(axle.hub, candidate.mount, candidate.fitted.spacer_mm, candidate.ring).findings]
    wheel_side += spacer_findings(axle.hub, candidate.fitted.spacer_mm, candidate.spacer_kind, axle.hub.collar_mm)
    tyre_load, wheel_load = _loads(axle, candidate)
    tyre_side = [_tyre_on_rim(candidate), tyre_load, _speed(axle, candidate)]
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


@lru_cache(maxsize=4096)
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


def judge_corner(
    corner: str, readings: Iterable[Reading], candidate: Candidate, tolerances: Tolerances, motion: Motion | None = None
) -> list[Judgement]:
    """Gaps of one corner at rest: every reading judged, every missing one named.

    Where the corner's travel is measured, the room above the tread at the arch is judged in motion.
    """
    here = [reading for reading in readings if reading.corner == corner]
    moves = motion or Motion(steers=corner[0] == "F")
    if motion is not None and not motion.missing:
        tolerances = replace(tolerances, arch_up_mm=0.0)
    found = _judged_at_rest(here, candidate, tolerances, moves, motion is not None and not motion.missing)
    read = {reading.code for reading in here}
    found += [_missing(corner, code) for code in judged_codes(corner) if code not in read]
    return found


def _missing(corner: str, code: str) -> Judgement:
    kind = STATIONS[code]
    where = CORNER_NAMES[corner]
    return replace(
        unmeasured(f"gap.{code}", kind.name, f"nobody measured it at the {where}", [f"{corner}.{code}"], [f"measure: {kind.how}"]),
        where=where,
    )


def _judged_at_rest(readings: list[Reading], candidate: Candidate, tolerances: Tolerances, motion: Motion, moving: bool) -> list[Judgement]:
    """Every reading of a corner judged at rest, in their order; the ± of all of them at once."""
    rests: dict[int, AtRest] = {}
    found: dict[int, list[Judgement]] = {}
    for place, reading in enumerate(readings):
        if reading.station.place in ("caliper", "joint"):
            found[place] = [_inside_the_rim(reading, candidate, tolerances)]
            continue
        try:
            rests[place] = at_rest(reading, candidate, motion)
        except CoreError as error:
            broken = unmeasured(f"gap.{reading.code}", reading.name, error.message, [f"{reading.corner}.{reading.code}"], ["measure again"])
            found[place] = [replace(broken, where=CORNER_NAMES[reading.corner])]
    ways = {place: ("sideways", "upward") if rest.reading.station.place == "arch" else ("",) for place, rest in rests.items()}
    faced = [(place, way) for place, each in ways.items() for way in each]
    knowns = known_mm([rests[place].facing(way, candidate.fitted) for place, way in faced], candidate, motion)
    for (place, way), known in zip(faced, knowns, strict=True):
        found.setdefault(place, []).append(_rest_judged(rests[place], way, known, candidate, tolerances, motion, moving))
    return [judgement for place in range(len(readings)) for judgement in found[place]]


def _rest_judged(
    rest: AtRest, way: str, known: Known, candidate: Candidate, tolerances: Tolerances, motion: Motion, moving: bool
) -> Judgement:
    station = rest.reading.station
    if way == "sideways":
        side = _gap(rest, candidate, motion, way, station.side_gap_mm, tolerances.arch_side_mm, known)
        if moving and side.state == "hit":
            # Whether it meets the lip is answered in motion; standing out is a matter of law.
            side = replace(side, state="tight", reason=f"stands {-(side.value or 0.0):.1f} mm out past the lip; protrusion is regulated")
        return side
    if way == "upward":
        return _gap(rest, candidate, motion, way, station.up_gap_mm, tolerances.arch_up_mm, known)
    return _gap(rest, candidate, motion, "", closest_before_mm(rest.reading), tolerances.wanted(station.place), known)


def _gap(rest: AtRest, candidate: Candidate, motion: Motion, way: str, before: float | None, wanted: float, known: Known) -> Judgement:
    if before is None:
        raise ValueError("a reading has its gaps")
    reading, new = rest.reading, rest.gap_mm(way)
    uncertainty = known.mm
    usual = usual_at_rest(reading, candidate, motion, way)
    reason, missing = _gap_reason(new, wanted, uncertainty, way), ()  # type: tuple[str, tuple[str, ...]]
    if usual is None:
        state = state_of_gap(new, wanted, uncertainty)
    else:
        state = state_of_usual(usual.lo_mm, usual.hi_mm, wanted, uncertainty)
        if state == "unmeasured":
            missing = tuple(f"{reading.corner}.{AXIS_STATIONS[name]}" for name, _ in usual.narrows)
            reason += f"; {usual.lo_mm:.1f} to {usual.hi_mm:.1f} mm over every usual steering axis"
    if reading.assumed and state == "clear":
        # Left and right are rarely alike: what was only assumed is no pass.
        state, missing = "unmeasured", (f"{reading.corner}.{reading.code}",)
        reason += "; assumed from the other side, measure it here"
    label = f"{reading.name}, {way}" if way else reading.name
    basis = OWN_MEASUREMENT + (", mirrored from the other side and assumed" if reading.assumed else "")
    reads = rest.reads[-1] if way == "upward" else rest.reads[0]
    return Judgement(
        code=f"gap.{reading.code}{'.' + way if way else ''}",
        name=label,
        state=state,
        reason=reason,
        missing=missing,
        basis=basis + (f"; {FOR_EVERY_AXIS}" if usual is not None else ""),
        value=new,
        unit="mm",
        held_against=wanted,
        margin=new - wanted,
        before=before,
        uncertainty=uncertainty,
        formula=_gap_formula(way, before, new, reads, known),
        reads=reads,
        inputs=gap_inputs(reading, candidate),
        remedies=_gap_remedies(reading, candidate, way, wanted - new + uncertainty, known) if state != "clear" else (),
        where=CORNER_NAMES[reading.corner],
        usual=None if usual is None else (usual.lo_mm, usual.hi_mm),
    )


def _gap_reason(new: float, wanted: float, uncertainty: float, way: str) -> str:
    if new < 0 and way == "sideways":
        return f"stands {-new:.1f} mm out past the lip: it meets the lip in bump, and protrusion is regulated"
    if new < 0:
        return f"overlaps by {-new:.1f} mm"
    if new - uncertainty < 0:
        return f"{new:.1f} ± {uncertainty:.1f} mm: may touch"
    if new < wanted:
        return f"wants {wanted:g} mm"
    if new - uncertainty < wanted:
        return f"wants {wanted:g} mm; within the ± {uncertainty:.1f} mm of reading and tyres"
    return f"wants {wanted:g} mm" if wanted else "at rest; its margin is kept or not in motion"


def _gap_formula(way: str, before: float, new: float, reads: float, known: Known) -> str:
    doubt = f"; ± {known.mm:.1f} mm: {known.text}"
    if way:
        return (
            f"lip placed from the reading, {before:.1f} mm against what was on the car; less the candidate's outline = {new:.1f} mm{doubt}"
        )
    return (
        f"obstacle placed from the reading; shortest way to the outline {before:.1f} mm then, {new:.1f} mm with the candidate; "
        f"the same rule would read {reads:.1f} mm{doubt}"
    )


def _gap_remedies(reading: Reading, candidate: Candidate, way: str, lacking: float, known: Known) -> tuple[str, ...]:
    return (*_measuring(known, candidate, known.mm - lacking), *_changes(reading, candidate, way, lacking))


def _measuring(known: Known, candidate: Candidate, spare_mm: float) -> tuple[str, ...]:
    """Where the margin is lacking only by the ±, measuring better is the cheapest way out."""
    if spare_mm < 0 or not known.shares:
        return ()
    largest = known.shares[0]
    if largest.source.startswith("tyre") and not candidate.fitted.measured_section_mm and candidate.fitted.profile_mm is None:
        which = "the tyre that is on the car" if largest.source == "tyre read against" else "the tyre"
        return (f"measure the section over {which}: most of the ± {known.mm:.1f} mm is its carcass",)
    if largest.source.startswith("rule"):
        return (f"read it again with a caliper or feeler: most of the ± {known.mm:.1f} mm is the rule",)
    return (f"measure the {largest.source} closer: it is most of the ± {known.mm:.1f} mm",)


def _changes(reading: Reading, candidate: Candidate, way: str, lacking: float) -> tuple[str, ...]:
    steps = max(1, math.ceil(lacking - 1e-9))
    offset = candidate.fitted.wheel.offset_mm or 0.0
    place = reading.station.place
    if place == "arch" and way == "upward":
        return (f"a tyre {2 * steps} mm less in diameter", f"lower the car {steps} mm less")
    if place == "arch":
        return (f"offset {offset + steps:+g}", f"a tyre {2 * steps} mm narrower")
    if place in ("damper", "rail", "arm"):
        return (
            f"offset {offset - steps:+g}",
            f"a {candidate.fitted.spacer_mm + steps:g} mm spacer, if the thread allows it",
            f"a tyre {2 * steps} mm narrower",
        )
    return (f"a tyre {2 * steps} mm less in diameter",)


def _inside_the_rim(reading: Reading, candidate: Candidate, tolerances: Tolerances) -> Judgement:
    """Caliper or joint against barrel or spokes: known only when the candidate's own measure is."""
    kind = STATIONS[reading.code]
    spoke = reading.code == "caliper_spoke"
    known = candidate.spoke_back_mm if spoke else candidate.barrel_radius_mm
    where = CORNER_NAMES[reading.corner]
    if known is None:
        what = "how far the spokes stand behind" if spoke else "the barrel's inner radius"
        lacking = unmeasured(
            f"gap.{reading.code}",
            kind.name,
            f"the wheel's maker has not said {what}",
            [f"wheel.{reading.code}"],
            ["hold the brake template to the wheel, or ask for its drawing"],
        )
        return replace(lacking, where=where)
    on_car = (reading.station.face_mm if spoke else reading.station.radius_mm) or 0.0
    gap = known + candidate.fitted.spacer_mm - on_car if spoke else known - on_car
    wanted = tolerances.joint_mm if reading.station.place == "joint" else tolerances.caliper_mm
    state = state_of_gap(gap, wanted, reading.uncertainty_mm)
    return Judgement(
        f"gap.{reading.code}", kind.name, state, _gap_reason(gap, wanted, reading.uncertainty_mm, ""), OWN_MEASUREMENT + " and the maker's drawing",
        value=gap, unit="mm", held_against=wanted, margin=gap - wanted, uncertainty=reading.uncertainty_mm,
        formula=f"spoke back + spacer − caliper face = {known:g} + {candidate.fitted.spacer_mm:g} − {on_car:g} = {gap:g} mm"
        if spoke
        else f"barrel radius − radius on the car = {known:g} − {on_car:g} = {gap:g} mm",
        inputs=(InputUsed(kind.name, f"{on_car:g} mm ± {reading.uncertainty_mm:g}", reading.who, reading.taken_on), InputUsed("wheel", f"{known:g} mm", "maker")),
        remedies=(("a spacer, if the thread allows it", "another wheel") if spoke else ("a larger rim or another wheel",)) if state != "clear" else (),
        where=where,
    )  # fmt: skip


def _tyre_on_rim(candidate: Candidate) -> Judgement:
    tyre, width = candidate.fitted.tyre, candidate.fitted.wheel.width_in
    low, high = tyre.rim_range_in
    fit = rim_fit(tyre, width)
    states: dict[str, State] = {"ok": "clear", "stretched": "tight", "pinched": "tight", "outside": "hit"}
    margin = min(width - low, high - width)
    return Judgement(
        "tyre.rim", "Tyre on rim", states[fit], f"{fit}: {width:g} in rim, {low:g} to {high:g} in approved", "handbook, from memory; check the maker's table",
        value=width, unit="in", held_against=low if width < low else high, margin=margin,
        formula=f"approved rim range of the size: {low:g} ≤ {width:g} ≤ {high:g} in", inputs=(InputUsed("tyre", tyre.size), InputUsed("rim", f"{width:g} in")),
        remedies=() if fit == "ok" else (f"a rim of {low:g} to {high:g} in",),
    )  # fmt: skip


def _loads(axle: Axle, candidate: Candidate) -> list[Judgement]:
    return [
        _load(
            "tyre.load", "Tyre load", candidate.fitted.tyre.load_kg, axle.axle_load_kg, "ISO 4000-1 load index", "load index of the tyre"
        ),
        _load(
            "wheel.load",
            "Wheel load",
            candidate.wheel_load_kg,
            axle.axle_load_kg,
            "SAE J2530 idea: at least half of the axle",
            "load rating of the wheel",
        ),
    ]


def _load(code: str, name: str, rated_kg: float | None, axle_kg: float | None, basis: str, what: str) -> Judgement:
    if rated_kg is None or axle_kg is None:
        missing = what if rated_kg is None else "axle load"
        return unmeasured(
            code, name, f"the {missing} is not known", [code if rated_kg is None else "car.axle_load"], [f"find the {missing}"]
        )
    wanted = axle_kg / 2
    state: State = "hit" if rated_kg < wanted else "tight" if rated_kg < wanted * 1.05 else "clear"
    return Judgement(
        code, name, state, f"carries {rated_kg:.0f} kg; half of the axle is {wanted:.0f} kg", basis,
        value=rated_kg, unit="kg", held_against=wanted, margin=rated_kg - wanted,
        formula=f"rating − axle load ÷ 2 = {rated_kg:.0f} − {axle_kg:.0f} ÷ 2 = {rated_kg - wanted:.0f} kg",
        inputs=(InputUsed(what, f"{rated_kg:.0f} kg"), InputUsed("axle load", f"{axle_kg:.0f} kg")),
        remedies=("a higher load rating",) if state != "clear" else (),
    )  # fmt: skip


def _speed(axle: Axle, candidate: Candidate) -> Judgement:
    """The speedometer with another tyre: from what a logger said, else as if it had been exact."""
    old, new = axle.present.tyre.diameter_mm, candidate.fitted.tyre.diameter_mm
    read = axle.true_at_100_kmh
    exact_with = old if read is None else old * 100.0 / read
    true_speed = true_kmh(100.0, exact_with, new)
    legal = legal_r39(exact_with, new)
    known = "if it was exact before" if read is None else f"from {read:g} km/h by the logger with what stands on the car"
    inputs = [InputUsed("diameter now", f"{old:.1f} mm"), InputUsed("diameter then", f"{new:.1f} mm")]
    return Judgement(
        "tyre.speed", "Speedometer", "clear" if legal else "tight", f"true {true_speed:.1f} km/h when it shows 100, {known}", "UN R39",
        value=true_speed, unit="km/h", held_against=100.0, margin=100.0 - true_speed,
        formula=f"{100.0 if read is None else read:g} × {new:.1f} ÷ {old:.1f}; 0 ≤ indicated − true ≤ true/10 + 4 km/h at 40, 80, 120",
        inputs=(*inputs, *([axle.true_speed_read] if axle.true_speed_read is not None else [])),
        remedies=() if legal else ("have the speedometer set to the new tyre",) if read is not None else ("check the speedometer against a logger; most read high when new",),
    )  # fmt: skip


@dataclass(frozen=True)
class Drag:
    """Something a choice drags along with it."""

    what: str
    detail: str
    basis: str
    needed: bool = True


def drags_along(axle: Axle, candidate: Candidate) -> tuple[Drag, ...]:
    """What else has to be bought, done or accepted with this wheel and tyre."""
    fit = hubs.hub_fit(axle.hub, candidate.mount, candidate.fitted.spacer_mm, candidate.ring)
    found: list[Drag] = []
    if fit.ring is not None and fit.bore.state != "clear":
        found.append(Drag("Centring ring", f"{fit.ring.inner_mm:g} → {fit.ring.outer_mm:g} mm, solid, not hollow plastic", COMMON_PRACTICE))
    if fit.seat.state == "hit":
        found.append(Drag("Nuts or bolts", fit.seat.remedies[0], COMMON_PRACTICE))
    found += _thread_drags(fit.engagement, candidate)
    for text in spacer_cautions(candidate.fitted.spacer_mm, candidate.spacer_kind):
        found.append(Drag("Spacers", text, COMMON_PRACTICE))
    if candidate.lock_limit_deg > 0:
        found.append(Drag("Lock limiters", lock_text(axle.stop_motion, candidate.lock_limit_deg), COMMON_PRACTICE))
    if (
        candidate.fitted.wheel.diameter_in != axle.present.wheel.diameter_in
        or candidate.fitted.tyre.diameter_mm != axle.present.tyre.diameter_mm
    ):
        found.append(Drag("Speedometer", _speed(axle, candidate).reason, "UN R39", needed=False))
    for load in _loads(axle, candidate):
        if load.state != "clear":
            found.append(Drag(f"{load.name} rating", load.reason, load.basis, needed=load.state == "hit"))
    found.append(
        Drag(
            "Valves and pressure sensors",
            "move the sensors over, or accept the warning light; valve holes and sensor angles differ",
            COMMON_PRACTICE,
            needed=False,
        )
    )
    found += _cap(axle, candidate)
    if candidate.ride_drop_mm or candidate.fitted.camber_deg != axle.present.camber_deg:
        found.append(Drag("Alignment", "height and camber change toe: set it after the car has settled", COMMON_PRACTICE))
    return tuple(found)


def _cap(axle: Axle, candidate: Candidate) -> list[Drag]:
    """The cap sits in the wheel's bore: another bore takes another cap, and a tall collar may push it out."""
    bore, hub = candidate.mount.bore_mm, axle.hub.bore_mm
    if bore is None or hub is None or abs(bore - hub) <= hubs.BORE_MATCH_MM:
        return []
    return [Drag("Centre cap", f"the bore is {bore:g} mm, the hub {hub:g}: the old cap will not fit", COMMON_PRACTICE, needed=False)]


def _thread_drags(engagement: hubs.Engagement, candidate: Candidate) -> list[Drag]:
    if engagement.length_mm is None or engagement.required_mm is None:
        return []
    spare = engagement.length_mm - engagement.required_mm
    if spare < 0:
        return [Drag("Longer studs or bolts", f"{math.ceil(-spare)} mm more thread", COMMON_PRACTICE)]
    most = candidate.fitted.spacer_mm + spare
    return [Drag("Spacer limit", f"{most:.0f} mm with the present studs or bolts", COMMON_PRACTICE, needed=False)]


def states_by_school(judgement: Judgement, schools: dict[str, Tolerances]) -> dict[str, State]:
    """What each school would say of a predicted gap.

    >>> from rimcore.well.tolerance import SCHOOLS
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
        name: state_of_usual(*usual, margin, doubt) if judgement.usual is not None else state_of_gap(judgement.value, margin, doubt)
        for name, margin in wanted.items()
    }
    # A value that was only assumed carries what is missing: it is no pass in any school.
    return {name: "unmeasured" if judgement.missing and state == "clear" else state for name, state in says.items()}


def mount_of(wheel: Wheel, seat: hubs.Seat | None, pad_thickness_mm: float | None) -> hubs.WheelMount:
    """How a parsed wheel meets the hub.

    >>> from rimcore.wheels.wheel import parse_wheel
    >>> mount_of(parse_wheel("17x8 +45 5x112 66.6"), None, None).bore_mm
    66.6
    """
    return hubs.WheelMount(wheel.bolts, wheel.pcd_mm, wheel.bore_mm, seat, pad_thickness_mm)
