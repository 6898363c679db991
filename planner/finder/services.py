"""What changes searches, and a set that becomes a build."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from typing import Any

from django.db import transaction

from garage.car.parts import Part
from garage.file import CarFile
from garage.mass.services import plan_items
from planner.finder.built import levers_of, place_and_count
from planner.finder.models import Search
from planner.finder.options import begin
from planner.finder.search import step
from planner.models import Build
from planner.services import put_whole, set_levers
from rimcore.mass.ledger import STRIP_OUT
from rimcore.quantities.errors import BadInput
from shell.undo import remember

#: searches of a car that are kept
MOST_SEARCHES = 12


def ask(file: CarFile, asked: Mapping[str, Any]) -> Search:
    """A search begins; the oldest over so many goes."""
    with transaction.atomic():
        found = Search.objects.create(car=file.car, asked=dict(asked), state=begin(file, asked))
        old = Search.objects.filter(car=file.car).values_list("pk", flat=True)[MOST_SEARCHES:]
        Search.objects.filter(pk__in=list(old)).delete()
    return found


def go_on(file: CarFile, search: Search) -> None:
    """One step, kept; the database is not held while it is worked out."""
    if not search.done:
        if "order" not in search.state:
            # an older version began it and kept it in another way
            search.state = begin(file, search.asked)
        step(file, search)
        search.save(update_fields=["state", "done"])


def make_build(file: CarFile, search: Search, user: Any, number: int) -> Build:
    """A set becomes a build, with its parts wanted and its levers set.

    Raises
    ------
    BadInput : there is no such set, or a part of it is gone from the list
    """
    facts = _facts_of(search, number)
    pks = [fact[name] for fact in facts for name in ("wheel", "tyre", "part") if name in fact]
    parts = {one.pk: one for one in Part.objects.filter(pk__in=pks, car=file.car)}
    if any(pk not in parts for pk in pks):
        raise BadInput("a part of it is not on the list any more: ask again", "number")
    names = set(file.car.builds.values_list("name", flat=True))
    name = next(
        one
        for k in range(1, 1000)
        if (one := f"Found {search.pk}.{number + 1}" + (f" ({k})" if k > 1 else "")) not in names
    )
    with remember(user, f"build {name} made"):
        build = Build.objects.create(
            car=file.car, name=name, tolerance=search.asked["school"], in_hand=not file.car.builds.exists()
        )
        set_levers(build, {(code, place): value for fact in facts for code, place, value in levers_of(fact)})
        for fact in facts:
            for name in ("wheel", "tyre", "part"):
                if name in fact:
                    position, count = place_and_count(parts[fact[name]], fact)
                    values = {"position": position, "quantity": count, "state": "wanted"}
                    put_whole(build, user, parts[fact[name]], values)
        _plan_out(file, user, build, facts)
    return build


def _facts_of(search: Search, number: int) -> list[dict[str, Any]]:
    """Options of a set that was found.

    Raises
    ------
    BadInput : there is no such set
    """
    sets = search.state.get("sets", [])
    if not search.done or not 0 <= number < len(sets):
        raise BadInput("there is no such set", "number")
    return [search.state["facts"][key] for key in sets[number]]


def pin_set(file: CarFile, search: Search, user: Any, number: int) -> int:
    """The parts of a set are pinned; how many it has.

    Raises
    ------
    BadInput : there is no such set
    """
    facts = _facts_of(search, number)
    pks = {fact[name] for fact in facts for name in ("wheel", "tyre", "part") if name in fact}
    with remember(user, "parts of a set pinned"):
        for part in Part.objects.filter(pk__in=pks, car=file.car, pinned=False):
            part.pinned = True
            part.save(update_fields=["pinned"])
    return len(pks)


def _plan_out(file: CarFile, user: Any, build: Build, facts: Iterable[Mapping[str, Any]]) -> None:
    """Items of the set are planned to come out, and no others; the build strips them."""
    labels = {fact["item"] for fact in facts if "item" in fact}
    if labels:
        plan_items(file.car, user, labels)
        set_levers(build, {(STRIP_OUT.code, ""): True})
