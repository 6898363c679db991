"""Gaps at rest as judgements: reason, formula, inputs and remedies."""

from __future__ import annotations

import math
from collections.abc import Iterable
from dataclasses import replace

from rimcore.quantities.errors import CoreError
from rimcore.quantities.judgement import (
    OWN_MEASUREMENT,
    InputUsed,
    Judgement,
    state_of_gap,
    unmeasured,
)
from rimcore.tables.facts import CORNER_NAMES
from rimcore.well.judge.doubt import Known, known_mm
from rimcore.well.judge.rest_gaps import AtRest, at_rest, closest_before_mm, usual_at_rest
from rimcore.well.judge.tolerance import Tolerances
from rimcore.well.judge.unknown import AXIS_STATIONS, FOR_EVERY_AXIS, state_of_usual
from rimcore.well.read.measured import Candidate, Reading, gap_inputs
from rimcore.well.read.stations import STATIONS, judged_codes
from rimcore.well.read.travel import Motion


def judge_corner(
    corner: str, readings: Iterable[Reading], candidate: Candidate, tolerances: Tolerances, motion: Motion | None = None
) -> list[Judgement]:
    """Gaps of one corner at rest: every reading judged, every missing one named.

    Where the corner's travel is measured, the room above the tread at the arch is judged in motion.
    """
    here, candidate = [reading for reading in readings if reading.corner == corner], candidate.at(corner)
    moves = motion or Motion(steers=corner[0] == "F")
    if motion is not None and not motion.missing:
        tolerances = replace(tolerances, arch_up_mm=0.0)
    found = _judged_at_rest(here, candidate, tolerances, moves, motion is not None and not motion.missing)
    read = {reading.code for reading in here}
    found += [missing(corner, code) for code in judged_codes(corner) if code not in read]
    return found


def missing(corner: str, code: str) -> Judgement:
    kind = STATIONS[code]
    where = CORNER_NAMES[corner]
    return replace(
        unmeasured(
            f"gap.{code}",
            kind.name,
            f"not measured at the {where}",
            [f"{corner}.{code}"],
            [f"measure: {kind.how}"],
        ),
        where=where,
    )


def _judged_at_rest(
    readings: list[Reading], candidate: Candidate, tolerances: Tolerances, motion: Motion, moving: bool
) -> list[Judgement]:
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
            broken = unmeasured(
                f"gap.{reading.code}",
                reading.name,
                error.message,
                [f"{reading.corner}.{reading.code}"],
                ["measure again"],
            )
            found[place] = [replace(broken, where=CORNER_NAMES[reading.corner])]
    ways = {
        place: ("sideways", "upward") if rest.reading.station.place == "arch" else ("",)
        for place, rest in rests.items()
    }
    faced = [(place, way) for place, each in ways.items() for way in each]
    knowns = known_mm([rests[place].facing(way, candidate.fitted) for place, way in faced], candidate, motion)
    for (place, way), known in zip(faced, knowns, strict=True):
        found.setdefault(place, []).append(
            _rest_judged(rests[place], way, known, candidate, tolerances, motion, moving)
        )
    return [judgement for place in range(len(readings)) for judgement in found[place]]


def _rest_judged(
    rest: AtRest, way: str, known: Known, candidate: Candidate, tolerances: Tolerances, motion: Motion, moving: bool
) -> Judgement:
    station = rest.reading.station
    if way == "sideways":
        side = _gap(rest, candidate, motion, way, station.side_gap_mm, tolerances.arch_side_mm, known)
        if moving and side.state == "hit":
            # Whether it meets the lip is answered in motion; standing out is a matter of law.
            side = replace(
                side,
                state="tight",
                reason=f"stands {-(side.value or 0.0):.1f} mm out past the lip; protrusion is regulated",
            )
        return side
    if way == "upward":
        return _gap(rest, candidate, motion, way, station.up_gap_mm, tolerances.arch_up_mm, known)
    return _gap(rest, candidate, motion, "", closest_before_mm(rest.reading), tolerances.wanted(station.place), known)


def _gap(
    rest: AtRest, candidate: Candidate, motion: Motion, way: str, before: float | None, wanted: float, known: Known
) -> Judgement:
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
        return f"lip placed from the reading, {before:.1f} mm against what was on the car; less the part's outline = {new:.1f} mm{doubt}"
    return (
        f"obstacle placed from the reading; shortest way to the outline {before:.1f} mm then, {new:.1f} mm with the part; "
        f"the same rule would read {reads:.1f} mm{doubt}"
    )


def _gap_remedies(reading: Reading, candidate: Candidate, way: str, lacking: float, known: Known) -> tuple[str, ...]:
    return (*_measuring(known, candidate, known.mm - lacking), *_changes(reading, candidate, way, lacking))


def _measuring(known: Known, candidate: Candidate, spare_mm: float) -> tuple[str, ...]:
    """Where the margin is lacking only by the ±, measuring better is the cheapest way out."""
    if spare_mm < 0 or not known.shares:
        return ()
    largest = known.shares[0]
    if (
        largest.source.startswith("tyre")
        and not candidate.fitted.measured_section_mm
        and candidate.fitted.profile_mm is None
    ):
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


def inside_gap(reading: Reading, candidate: Candidate, tolerances: Tolerances) -> tuple[float | None, float]:
    """Gap of caliper or joint to barrel or spokes, None where the wheel's maker has not said it, and what it wants [mm].

    Parameters
    ----------
    reading : of a caliper or a joint
    candidate : with its barrel and spokes, as far as they are said
    tolerances : margins wanted

    Source: a difference of two lengths.

    >>> from rimcore.well.judge.tolerance import SCHOOLS
    >>> from rimcore.well.solid.gap import Station
    >>> from rimcore.well.solid.pose import Pose
    >>> from rimcore.wheels.fitted import Fitted
    >>> from rimcore.wheels.tyre import parse_tyre
    >>> from rimcore.wheels.wheel import parse_wheel
    >>> pair = Fitted(parse_wheel("17x8 +40"), parse_tyre("225/45R17"), spacer_mm=3.0)
    >>> read = Reading("FL", "caliper_spoke", Station("caliper", face_mm=31.0), None, pair, Pose(), 1)
    >>> inside_gap(read, Candidate(pair, spoke_back_mm=34.0), SCHOOLS["daily"])
    (6.0, 3.0)
    """
    spoke = reading.code == "caliper_spoke"
    wanted = tolerances.joint_mm if reading.station.place == "joint" else tolerances.caliper_mm
    said = candidate.spoke_back_mm if spoke else candidate.barrel_radius_mm
    if said is None:
        return None, wanted
    on_car = (reading.station.face_mm if spoke else reading.station.radius_mm) or 0.0
    return (said + candidate.fitted.spacer_mm if spoke else said) - on_car, wanted


def _inside_the_rim(reading: Reading, candidate: Candidate, tolerances: Tolerances) -> Judgement:
    """Caliper or joint against barrel or spokes: known only when the candidate's own measure is."""
    kind = STATIONS[reading.code]
    spoke = reading.code == "caliper_spoke"
    known = candidate.spoke_back_mm if spoke else candidate.barrel_radius_mm
    where = CORNER_NAMES[reading.corner]
    gap, wanted = inside_gap(reading, candidate, tolerances)
    if gap is None:
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
    state = state_of_gap(gap, wanted, reading.uncertainty_mm)
    return Judgement(
        f"gap.{reading.code}",
        kind.name,
        state,
        _gap_reason(gap, wanted, reading.uncertainty_mm, ""),
        "what the makers of caliper and wheel state"
        if reading.method == "offer"
        else OWN_MEASUREMENT + " and the maker's drawing",
        value=gap,
        unit="mm",
        held_against=wanted,
        margin=gap - wanted,
        uncertainty=reading.uncertainty_mm,
        formula=f"spoke back + spacer − caliper face = {known:g} + {candidate.fitted.spacer_mm:g} − {on_car:g} = {gap:g} mm"
        if spoke
        else f"barrel radius − radius on the car = {known:g} − {on_car:g} = {gap:g} mm",
        inputs=(
            InputUsed(kind.name, f"{on_car:g} mm ± {reading.uncertainty_mm:g}", reading.who, reading.taken_on),
            InputUsed("wheel", f"{known:g} mm", "maker"),
        ),
        remedies=(
            ("a spacer, if the thread allows it", "another wheel") if spoke else ("a larger rim or another wheel",)
        )
        if state != "clear"
        else (),
        where=where,
    )
