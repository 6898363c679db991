"""Parts of the shortlist that are lighter than what stands, for the best set of the mass bench."""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from typing import Any

from django.urls import reverse

from garage.file import CarFile
from garage.inhand import in_hand
from garage.kept import once
from planner import services
from planner.chosen import build_in_hand, choices_of
from planner.models import Build
from planner.parts import usual_quantity
from rimcore.mass.ledger import Weighed
from rimcore.mass.listed import Listed, of_list
from rimcore.quantities.judgement import Judgement
from rimcore.wheels.wheel import same_rim
from rimcore.work.together import total
from shelf.judging import judge_pair
from shelf.queries import judge_part, parts_of, tyres_of, wheels_of

#: pairs of pinned wheels and tyres that are judged for one answer
PAIRS = 6


@once
def lighter_of(file: CarFile) -> tuple[Weighed, ...]:
    """Every part of the shortlist that is lighter, and pinned wheels with pinned tyres; once a page."""
    return of_list([*_parts(file), *_pairs(file)])


def _chosen(file: CarFile) -> set[int]:
    build = build_in_hand(file)
    return {choice.part_id for choice in choices_of(build)} if build is not None else set()


def _parts(file: CarFile) -> Iterator[Listed]:
    inside = _chosen(file)
    for part in parts_of(file):
        declared, change = part.declared, part.spec.get("mass_change_kg")
        if (
            declared is None
            or declared.adds
            or part.fault is not None
            or change is None
            or change >= 0
            or part.pk in inside
        ):
            continue
        sets, judged = usual_quantity(file, part), judge_part(file, part)
        yield Listed(
            label=f"part-{part.pk}",
            name=str(part),
            family=part.family,
            changes_kg=(change,) * sets,
            price_minor=part.price_minor,
            minutes=part.spec.get("fit_min"),
            hit=_hit(judged),
            side=part.spec.get("hand", ""),
            unread=_unread(judged),
        )


def _pairs(file: CarFile) -> Iterator[Listed]:
    """Wheels with tyres, both pinned, all four of them: the PAIRS lightest that go together."""
    if file.current is None:
        return
    inside, held = _chosen(file), in_hand(file)
    fit = [
        (mass, wheel, tyre)
        for wheel in wheels_of(file)
        if wheel.pinned
        for tyre in tyres_of(file)
        if tyre.pinned
        and same_rim(wheel.diameter_in, tyre.rim_diameter_in)
        and not {wheel.pk, tyre.pk} <= inside
        and (mass := total([wheel.mass_kg, tyre.mass_kg])) is not None
    ]
    for _, wheel, tyre in sorted(fit, key=lambda one: one[0])[:PAIRS]:
        pair = judge_pair(file, wheel, tyre, held)
        corners = tuple(swap.mass_change_kg_per_corner for swap in pair.changes.values() for _ in ("left", "right"))
        yield Listed(
            f"pair-{wheel.pk}-{tyre.pk}",
            f"{wheel} with {tyre}",
            "pair",
            corners,
            pair.price_minor,
            hit=_hit(pair.judgements),
            unread=_unread(pair.judgements),
        )


def _hit(judgements: Iterable[Judgement]) -> str:
    return next((f"{one.name}, {one.reason}" for one in judgements if one.state == "hit"), "")


def _unread(judgements: Iterable[Judgement]) -> bool:
    return any(one.state == "unmeasured" for one in judgements)


def take(file: CarFile, build: Build, user: Any, labels: Iterable[str]) -> int:
    """Parts of a best set that was shown into a build; what is not on offer any more is passed over.

    Returns how many.
    """
    wanted, count = set(labels), 0
    open_ones = [one.label for one in lighter_of(file) if one.label in wanted and not one.shut]
    for label in open_ones:
        kind, *keys = label.split("-")
        if kind == "part":
            part = next(one for one in parts_of(file) if one.pk == int(keys[0]))
            where = part.usual_position or (part.declared.ends[0] if part.declared is not None else "A")
            services.put_part(build, user, part, {"position": where, "quantity": usual_quantity(file, part)})
        else:
            wheel = next(one for one in wheels_of(file) if one.pk == int(keys[0]))
            tyre = next(one for one in tyres_of(file) if one.pk == int(keys[1]))
            services.choose_pair(build, user, wheel, tyre, "A")
        count += 1
    return count


def address_of(car_id: int, label: str) -> str:
    """Where a part, or a wheel with its tyre, is looked at."""
    kind, *keys = label.split("-")
    return reverse(kind, args=[car_id, *keys])
