"""A set as a build that nobody keeps: its choices and levers, and the car's file with it in hand."""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from copy import copy
from dataclasses import replace
from typing import Any

from garage.car.parts import Part, Tyre, Wheel
from garage.file import CarFile
from garage.kept import once
from garage.mass.ledger import items_of, ledger_of
from garage.mass.models import MassItem
from planner.chosen import builds_of
from planner.finder.options import is_of_ledger
from planner.models import Build, Choice, Lever
from planner.parts import levers_set_by, place_of_piece
from rimcore.benches import LEVERS
from rimcore.families import PAIRED
from rimcore.mass.ledger import STRIP_OUT
from shelf.models import WheelSetAxle
from shelf.queries import listed_of
from shelf.sets.services import as_kind


def set_build(
    file: CarFile,
    asked: Mapping[str, Any],
    state: Mapping[str, Any],
    keys: Sequence[str],
    number: int,
    spare: WheelSetAxle | None = None,
) -> Build:
    """A build that nobody keeps, with the choices and levers of a set: judged exactly as one that was made by hand.

    A spare stands at its end in the place of the set's wheels, without their spacers.
    """
    build = Build(pk=-number, car=file.car, name="a set", tolerance=asked["school"], in_hand=True)
    choices: list[Choice] = []
    levers: dict[tuple[str, str], Any] = {}
    by_pk = parts_by_number(file)
    for key in keys:
        fact = state["facts"][key]
        there = [by_pk[fact[name]] for name in ("wheel", "tyre", "part") if fact.get(name) in by_pk]
        for part in there if spare is None or "wheel" not in fact else ():
            choices.append(_choice(build, part, *place_and_count(part, fact), len(choices)))
            for piece in _pieces(by_pk, part):
                choices.append(_choice(build, piece, place_of_piece(piece, choices[-1].position), 1, len(choices)))
        moved = levers_of(fact if spare is None else fact | {"spacer_mm": 0.0})
        levers |= {(code, place): value for code, place, value in moved}
    if spare is not None:
        for part in (as_kind(Wheel, spare.wheel_part), as_kind(Tyre, spare.tyre_part)):
            choices.append(_choice(build, part, spare.end, 2, len(choices)))
    if any(is_of_ledger(key) for key in keys):
        levers[STRIP_OUT.code, ""] = 1.0
    for choice in choices:
        # what a part sets where it goes stands before what may be moved
        levers |= levers_set_by(choice.part, choice.position)
    rows = [_lever(build, code, place, value) for (code, place), value in levers.items()]
    build._prefetched_objects_cache = {"choices": choices, "levers": rows}  # type: ignore[attr-defined]
    return build


@once
def parts_by_number(file: CarFile) -> dict[int, Part]:
    """Parts of the list by their number, once a step."""
    listed = listed_of(file)
    return {part.pk: part for part in (*listed.wheels, *listed.tyres, *listed.parts)}


def _lever(build: Build, code: str, place: str, value: Any) -> Lever:
    if LEVERS[code].kind == "choice":
        return Lever(build=build, code=code, place=place, text=str(value))
    return Lever(build=build, code=code, place=place, number=float(value))


def _choice(build: Build, part: Part, position: str, count: int, number: int) -> Choice:
    pk = build.pk * 100 - number
    return Choice(pk=pk, build=build, part=part, position=position, quantity=count, state="wanted")


def _pieces(by_pk: Mapping[int, Part], part: Part) -> list[Part]:
    """The other pieces of the kit that a part is of, as ``pieces_beside`` reads them."""
    kit = part.spec.get("kit")
    return [one for one in by_pk.values() if kit and one.spec.get("kit") == kit and one.pk != part.pk]


def place_and_count(part: Part, fact: Mapping[str, Any]) -> tuple[str, int]:
    """Where a part of an option goes, and how many of it."""
    if part.family not in PAIRED:
        return str(fact.get("place") or part.usual_position or "A"), fact["count"]
    return fact.get("end", "A"), 2 if "end" in fact else 4


def levers_of(fact: Mapping[str, Any]) -> list[tuple[str, str, float]]:
    """Levers of an option, at its end or at both; one that stays is none."""
    found: list[tuple[str, str, float]] = []
    for code, name in (("ride_drop_mm", "drop_mm"), ("spacer_mm", "spacer_mm"), ("camber_deg", "camber_deg")):
        if fact.get(name):
            found += [(code, end, float(fact[name])) for end in fact.get("end", "FR")]
    return found


def beside_of(file: CarFile, build: Build, labels: frozenset[str] = frozenset()) -> CarFile:
    """The car's file with a build that nobody keeps in hand, and with the items planned that come out with it."""
    found = replace(file)
    found.kept = {(builds_of.__wrapped__, ()): [build]}  # type: ignore[attr-defined]
    if labels:
        ledger = replace(ledger_of(file), items=[_planned_as(item, labels) for item in items_of(file)])
        found.kept[ledger_of.__wrapped__, ()] = ledger  # type: ignore[attr-defined]
    return found


def _planned_as(item: MassItem, labels: frozenset[str]) -> MassItem:
    """An item as ``plan_items`` would leave it; the row itself stays."""
    if item.state == "out" or item.guarded:
        return item
    found = copy(item)
    found.state = "planned" if item.label in labels else "in"
    return found


def labels_of(state: Mapping[str, Any], keys: Iterable[str]) -> frozenset[str]:
    """Items of the ledger that come out with a set."""
    return frozenset(state["facts"][key]["item"] for key in keys if is_of_ledger(key))
