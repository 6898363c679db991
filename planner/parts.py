"""Parts of a build beside wheels and tyres: where they go, how they are judged, what everything drags along."""

from __future__ import annotations

from collections.abc import Container, Iterable, Sequence
from dataclasses import dataclass, replace
from typing import Any

from garage.car.parts import Part
from garage.chassis.ends import stood_of
from garage.file import CarFile
from garage.inhand import in_hand, racked_of
from planner.changes import levers_moved
from planner.chosen import build_in_hand, candidate, choices_of, held_of
from planner.models import ALONG, Build, Choice
from rimcore.benches import LEVERS
from rimcore.companions import OF_LEVER, needs_of
from rimcore.families import FAMILIES, PAIRED
from rimcore.parts.common import judge_count, judge_sides
from rimcore.parts.declared import Need, Place
from rimcore.parts.gives import judge_gives
from rimcore.parts.needs import answered
from rimcore.quantities.judgement import Judgement
from rimcore.well.judge.fitment import both_ends

ENDS = ("F", "R")
#: states in which a part is not paid for
OPEN_STATES = ("shortlisted", "wanted")


def provide_place(file: CarFile, end: str) -> Place | None:
    """For the garage: an end with what the build in hand puts on it."""
    build = build_in_hand(file)
    if build is not None:
        return place_of(file, build, end)
    axle, stands = file.core_axle(end), file.standing(end)
    stood = stood_of(file, end, in_hand(file), racked_of(file))
    if axle is None or stands is None:
        return Place.without_wheels(stood)
    return Place(axle, stands, axle.hub.bolts, stood=stood)


def place_of(file: CarFile, build: Build, end: str) -> Place:
    """An end of the car with what a build puts on it, whether its wheels are recorded or not."""
    axle, wanted = file.core_axle(end), candidate(file, build, end)
    beside = tuple((choice.kind, choice.part.whole) for choice in _readable(build) if choice.stands_at(end))
    stood = stood_of(file, end, held_of(file, build), racked_of(file))
    if axle is None or wanted is None:
        return Place.without_wheels(stood, beside)
    return Place(axle, wanted, axle.hub.bolts, beside, stood=stood)


def usual_quantity(file: CarFile, part: Part, position: str = "") -> int:
    """How many, or how many sets, go on its ends; on one of them, where it has to be said which.

    At both where the position says so ("A").
    """
    declared = part.declared
    if part.spec.get("kit"):
        return 1
    lugs = {end: axle.bolts for end, axle in file.axles.items()}
    if declared is not None and (position or part.usual_position) != "A" and len(declared.ends) > 1:
        lugs = {end: bolts for end, bolts in lugs.items() if end == position} or dict(list(lugs.items())[:1])
    wanted = (declared.pieces_at(lugs) if declared else None) or 1
    return max(1, -(-wanted // int(part.spec.get("pieces") or 1)))


def place_of_piece(piece: Part, position: str) -> str:
    """Where a piece of a kit goes when the one that it came with goes there."""
    can = piece.declared.positions if piece.declared is not None else ("A",)
    return position if position in can else piece.usual_position or can[0]


def levers_set_by(part: Part, position: str) -> dict[tuple[str, str], Any]:
    """Levers that a part sets where it goes, by code and place."""
    found: dict[tuple[str, str], Any] = {}
    for code, spec in (part.declared.sets if part.declared is not None else {}).items():
        value = part.whole.get(spec)
        if value in (None, ""):
            continue
        lever = LEVERS[code]
        places = [""] if "" in lever.places else ["F", "R"] if position == "A" else [position]
        found |= {(code, place): value for place in places if place in lever.places}
    return found


def _readable(build: Build) -> list[Choice]:
    return [choice for choice in choices_of(build) if choice.part.fault is None]


def part_judgements(file: CarFile, build: Build) -> tuple[Judgement, ...]:
    """What is judged of the build's own parts: each at the ends it goes on, both sides alike, enough of them."""
    found: dict[str, list[Judgement]] = {}
    for end in ENDS:
        place = place_of(file, build, end)
        here = [
            choice
            for choice in _readable(build)
            if choice.stands_at(end) and choice.kind not in PAIRED and end in FAMILIES[choice.kind].ends
        ]
        found[end] = [
            judged
            for choice in here
            for judged in FAMILIES[choice.kind].judge(
                choice.part.whole, replace(place, chosen=True, answers=choice.answers)
            )
        ]
        for key in dict.fromkeys(choice.kind for choice in here):
            sides = judge_sides(FAMILIES[key], [choice.part.whole for choice in here if choice.kind == key])
            found[end] += [sides] if sides is not None else []
        height = judge_gives(place)
        found[end] += [height] if height is not None else []
    return (*both_ends(found), *_counted(file, build))


def _counted(file: CarFile, build: Build) -> Iterable[Judgement]:
    """Are there enough of each kind, over all ends they go on?"""
    by_kind: dict[str, list[Choice]] = {}
    for choice in _readable(build):
        if choice.kind not in PAIRED:
            by_kind.setdefault(choice.kind, []).append(choice)
    for kind, choices in by_kind.items():
        if any(choice.part.spec.get("kit") for choice in choices):
            # a kit has as many of each as it takes
            continue
        ends = [end for end in ENDS if end in file.axles and any(choice.stands_at(end) for choice in choices)]
        judged = judge_count(
            FAMILIES[kind], sum(choice.pieces for choice in choices), {end: file.axles[end].bolts for end in ends}
        )
        if judged is not None:
            yield judged


@dataclass(frozen=True)
class Dragged:
    """Something the build drags along, over all ends, and whether it is in the build already."""

    need: Need
    position: str
    choice: Choice | None

    @property
    def key(self) -> str:
        """Its name in a form."""
        return f"{self.need.family}:{self.need.name}"


def dragged_along(file: CarFile, build: Build) -> list[Dragged]:
    """What the parts of a build drag along, the same of both ends together; what can't be done without stands first."""
    found: dict[object, tuple[Need, list[str]]] = {}
    for end in ENDS:
        place = place_of(file, build, end)
        for choice in _readable(build):
            if not choice.stands_at(end) or end not in FAMILIES[choice.kind].ends:
                continue
            for need in needs_of(choice.kind, choice.part.whole, place):
                before, ends = found.get(need.key, (replace(need, quantity=0), []))
                if end not in ends:
                    found[need.key] = (replace(before, quantity=before.quantity + need.quantity), [*ends, end])
    rows = [Dragged(need, _where(need, ends), None) for need, ends in found.values()]
    named = {row.need.name.lower() for row in rows}
    rows += [row for row in _of_levers(file, build) if row.need.name.lower() not in named]
    rows = [replace(row, choice=_in_build(build, row)) for row in rows]
    return sorted(rows, key=lambda row: (row.choice is not None, not row.need.needed))


def not_needed(build: Build, rows: Sequence[Dragged]) -> list[Choice]:
    """What was dragged along into a build, is not paid for, and nothing of the build drags along any more."""
    needed = {row.choice.pk for row in rows if row.choice is not None}
    return [
        choice
        for choice in choices_of(build)
        if choice.bench.startswith(ALONG) and choice.state in OPEN_STATES and choice.pk not in needed
    ]


def _where(need: Need, ends: Sequence[str]) -> str:
    """Where a need goes: at the one end that its family can go on, else where it is needed."""
    can = FAMILIES[need.family].ends
    return can[0] if len(can) == 1 else "A" if len(ends) == 2 else ends[0]


def _in_build(build: Build, row: Dragged) -> Choice | None:
    """The choice that answers a need."""
    for choice in choices_of(build):
        if answered(row.need, choice.kind, choice.part.name, choice.part.whole) and choice.position in (
            "A",
            row.position,
        ):
            return choice
    return None


def of_levers(file: CarFile, build: Build, codes: Container[str]) -> list[Dragged]:
    """What some levers drag along in a build, each with the choice that answers it."""
    return [replace(row, choice=_in_build(build, row)) for row in _of_levers(file, build, codes)]


def _of_levers(file: CarFile, build: Build, codes: Container[str] = OF_LEVER) -> list[Dragged]:
    """What the levers drag along at which the build stands otherwise than the car: to be bought or done."""
    found: dict[str, tuple[Need, set[str]]] = {}
    for code, ends in levers_moved(file, build).items():
        for need in OF_LEVER.get(code, ()) if code in codes else ():
            found.setdefault(need.name, (need, set()))[1].update(ends)
    return [Dragged(need, _where(need, sorted(ends) or ["F", "R"]), None) for need, ends in found.values()]
