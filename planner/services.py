"""What changes a build."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from datetime import date
from typing import Any

from django.db.models import F
from django.utils import timezone

from garage.car.models import Car
from garage.car.parts import Part, Tyre, Wheel
from planner.models import ALONG, Build, Choice, Lever, PipeRun
from planner.parts import levers_set_by, place_of_piece
from rimcore.benches import LEVERS
from rimcore.families import FAMILIES, PAIRED
from rimcore.parts.declared import Need
from rimcore.parts.needs import answered
from rimcore.quantities.declared import PLACES
from rimcore.quantities.errors import BadInput
from rimcore.work.ledger import OUT_STATES
from shelf.services import pieces_beside
from shell.undo import remember

#: columns that a build hands on when it is duplicated; its levers go along
_COPIED = ("tolerance", "hours_estimate", "note")

#: (code, place) -> value
Levers = Mapping[tuple[str, str], Any]


def add_build(car: Car, user: Any, name: str, tolerance: str) -> Build:
    """A new build; the first one is taken in hand."""
    with remember(user, f"build {name} made"):
        return Build.objects.create(car=car, name=name, tolerance=tolerance, in_hand=not car.builds.exists())


def take_in_hand(build: Build, user: Any) -> None:
    """From now on the tally board speaks of this build."""
    with remember(user, f"build {build.name} made current"):
        for other in build.car.builds.filter(in_hand=True).exclude(pk=build.pk):
            other.in_hand = False
            other.save(update_fields=["in_hand"])
        build.in_hand = True
        build.save(update_fields=["in_hand"])


def change_build(build: Build, user: Any, values: dict[str, Any], levers: Levers | None = None) -> None:
    """Change a build's own figures and levers; a new revision.

    Raises
    ------
    BadInput : a lever does not take its value
    """
    with remember(user, f"build {build.name} changed"):
        for name, value in values.items():
            setattr(build, name, value)
        set_levers(build, levers or {})
        build.revise()


def keep_run(car: Car, user: Any, build: Build | None, kind: str, lines: str, pipes: int) -> None:
    """Intake or exhaust as typed; of a build, or as it stands where ``build`` is None. Blank lines take it away."""
    with remember(user, f"{kind} of {build.name if build else 'the car as it stands'} saved"):
        found = PipeRun.objects.filter(car=car, build=build, kind=kind).first()
        if not lines.strip():
            if found is not None:
                found.delete()
            return
        row = found or PipeRun(car=car, build=build, kind=kind)
        row.lines, row.pipes, row.noted_on = lines, pipes, timezone.localdate()
        row.save()


def set_levers(build: Build, levers: Levers) -> None:
    """Set levers as their benches declare them; one that is set to what it does untouched has no row.

    Raises
    ------
    BadInput : a lever does not take its value, or is not set at that place
    """
    for (code, place), given in levers.items():
        declared = LEVERS[code]
        if place not in declared.places:
            raise BadInput(
                f"is not set there; accepted: {', '.join(PLACES[one] or 'the whole car' for one in declared.places)}",
                code,
            )
        value = declared.check(given)
        rows = Lever.objects.filter(build=build, code=code, place=place)
        if value == declared.default:
            for row in rows:
                row.delete()
            continue
        row = rows.first() or Lever(build=build, code=code, place=place)
        row.number, row.text = (None, str(value)) if declared.kind == "choice" else (float(value or 0.0), "")
        row.save()


def duplicate_build(build: Build, user: Any) -> Build:
    """A copy with all its choices, shortlisted again."""
    names = set(build.car.builds.values_list("name", flat=True))
    name = next(
        f"{build.name[:50]} copy{n or ''}"
        for n in ["", *range(2, 99)]
        if f"{build.name[:50]} copy{n or ''}" not in names
    )
    with remember(user, f"build {build.name} duplicated"):
        copy = Build.objects.create(car=build.car, name=name, **{field: getattr(build, field) for field in _COPIED})
        set_levers(copy, {(row.code, row.place): row.value for row in build.levers.all() if row.code in LEVERS})
        new: dict[int, Choice] = {}
        parcels: list[tuple[Choice, int | None]] = []
        for choice in build.choices.all():
            new[choice.pk] = choice
            parcel = choice.comes_with_id
            choice.pk, choice._state.adding = None, True
            choice.build, choice.state, choice.ordered_on, choice.arrived_on, choice.sold_minor = (
                copy,
                "shortlisted",
                None,
                None,
                0,
            )
            choice.fees_minor, choice.comes_with = 0, None
            choice.save()
            parcels.append((choice, parcel))
        for choice, parcel in parcels:
            if parcel in new:
                choice.comes_with = new[parcel]
                choice.save()
        for run in build.pipe_runs.all():
            run.pk, run._state.adding, run.build = None, True, copy
            run.save()
    return copy


def remove_build(build: Build, user: Any) -> None:
    """Remove a build and its choices."""
    with remember(user, f"build {build.name} removed"):
        for choice in build.choices.select_related("part"):
            choice.delete()
        for lever in build.levers.all():
            lever.delete()
        for run in build.pipe_runs.all():
            run.delete()
        build.delete()


def choose_pair(build: Build, user: Any, wheel: Wheel, tyre: Tyre, position: str) -> None:
    """Put a pair into a build; what stood at that position and was not bought goes out."""
    quantity = 4 if position == "A" else 2
    with remember(user, f"{wheel.size} with {tyre.size} put into {build.name}"):
        for old in build.choices.filter(part__family__in=PAIRED, state="shortlisted"):
            if position == "A" or old.position == position:
                old.delete()
            elif old.position == "A":
                old.position = "R" if position == "F" else "F"
                old.quantity = 2
                old.save(update_fields=["position", "quantity"])
        for part in (wheel, tyre):
            Choice.objects.create(build=build, part=part, position=position, quantity=quantity)
        build.revise()


def put_part(
    build: Build, user: Any, part: Part, values: dict[str, Any], answers: Mapping[str, str] | None = None
) -> Choice:
    """Put a part of the list into a build: position, quantity, state, what was answered at the counter.

    Its family's levers are set.

    Parameters
    ----------
    values : position ("A", "F", "R"), quantity, and state where it is not shortlisted
    """
    with remember(user, f"{part} put into {build.name}"):
        choice: Choice = Choice.objects.create(build=build, part=part, answers=dict(answers or {}), **values)
        _set_levers_of(choice)
        build.revise()
    return choice


def put_whole(
    build: Build, user: Any, part: Part, values: dict[str, Any], answers: Mapping[str, str] | None = None
) -> Choice:
    """Put a part into a build, and with it the other pieces of its kit where they can go; one change."""
    with remember(user, f"{part} put into {build.name}"):
        choice = put_part(build, user, part, values, answers)
        for piece in pieces_beside(part):
            where = place_of_piece(piece, values["position"])
            state = {name: value for name, value in values.items() if name == "state"}
            put_part(build, user, piece, {"position": where, "quantity": 1, **state})
    return choice


def _set_levers_of(choice: Choice) -> None:
    """Levers that the family of a part sets, at the ends it goes on."""
    set_levers(choice.build, levers_set_by(choice.part, choice.position))


def _free_levers_of(choice: Choice) -> None:
    """Levers that a part has set and that nobody has moved since go back when it leaves."""
    declared = choice.part.declared
    for code, spec in (declared.sets if declared is not None else {}).items():
        for row in Lever.objects.filter(build=choice.build, code=code):
            if row.value == choice.part.whole.get(spec) and (not row.place or choice.stands_at(row.place)):
                row.delete()


def answer(choice: Choice, user: Any, answers: Mapping[str, str]) -> None:
    """What was answered at the counter; blank leaves a question open."""
    with remember(user, f"{choice.label}: variant asked"):
        choice.answers = {code: said for code, said in answers.items() if said}
        choice.save()
        choice.build.revise()


def want(build: Build, user: Any, rows: Iterable[tuple[Need, str]], have: bool = False) -> int:
    """What a build drags along comes into it as wanted, or as there already; returns how much."""
    count = 0
    with remember(user, f"also needed, put into {build.name}"):
        for need, position in rows:
            spec = {code: value for code, value in need.spec.items() if value not in (None, "")}
            part = _listed_like(build, need, spec) or _part_of(build, need, spec)
            Choice.objects.create(
                build=build,
                part=part,
                position=position,
                quantity=_sets(part, need.quantity),
                state="have" if have else "wanted",
                bench=f"{ALONG}{need.name}"[:120],
            )
            count += 1
        if count:
            build.revise()
    return count


def _sets(part: Part, pieces: int) -> int:
    """How many of a part come to that many pieces."""
    each = int(part.spec.get("pieces") or 1)
    return max(1, -(-pieces // each))


def _listed_like(build: Build, need: Need, spec: Mapping[str, Any]) -> Part | None:
    """A part of the list that answers a need, the cheapest first."""
    rows = Part.objects.filter(car=build.car, family=need.family, listed=True).order_by(
        F("price_minor").asc(nulls_last=True), "pk"
    )
    said = [row for row in rows if row.fault is None and answered(need, row.family, row.name, row.whole)]
    told = {one.code for one in FAMILIES[need.family].specs if not one.choices}
    return next((row for row in said if all(row.whole.get(code) is not None for code in spec if code in told)), None)


def _part_of(build: Build, need: Need, spec: dict[str, Any]) -> Part:
    """A part as it is wanted; what its family asks for and the need does not say makes it one by name alone."""
    family = need.family if FAMILIES[need.family].fault(spec) is None else "other"
    kept = spec if family == need.family else {}
    created: Part = Part.objects.create(car=build.car, family=family, name=need.name, spec=kept, note=need.why[:200])
    return created


def add_part(build: Build, user: Any, values: dict[str, Any]) -> Choice:
    """Add another part by name; one with two diameters is a centring ring.

    Raises
    ------
    BadInput : its family does not take it
    """
    inner, outer = values.get("ring_inner_mm"), values.get("ring_outer_mm")
    said = {"mass_change_kg": values.get("mass_change_kg"), "inner_mm": inner, "outer_mm": outer}
    spec = {code: value for code, value in said.items() if value is not None}
    offered = {name: values.get(name) for name in ("price_minor", "lead_days")} | {
        "supplier": values.get("supplier") or ""
    }
    with remember(user, f"{values['name']} put into {build.name}"):
        family = "ring" if inner is not None and outer is not None else "other"
        part = Part.objects.create(car=build.car, family=family, name=values["name"], spec=spec, **offered)
        place = {name: values[name] for name in ("position", "quantity") if name in values}
        choice = Choice.objects.create(build=build, part=part, **place)
        build.revise()
    return choice


def set_state(choice: Choice, user: Any, state: str, on: date, sold_minor: int = 0, fees_minor: int = 0) -> None:
    """A part was ordered, arrived, was fitted, returned or sold on a day; selling and sending back have their fees."""
    with remember(user, f"{choice.label}: {choice.get_state_display()}"):
        choice.state = state
        if state == "ordered":
            choice.ordered_on, choice.arrived_on = on, None
        elif state in ("arrived", "trial_fitted", "fitted"):
            choice.arrived_on = choice.arrived_on or on
        elif state in ("shortlisted", "wanted"):
            choice.ordered_on = choice.arrived_on = None
        choice.sold_minor = sold_minor if state == "sold" else 0
        choice.fees_minor = fees_minor if state in OUT_STATES else 0
        choice.save()
        choice.build.revise()


def change_choice(choice: Choice, user: Any, values: dict[str, Any]) -> None:
    """Change quantity, price, lead time and the like."""
    with remember(user, f"{choice.label} changed"):
        for name, value in values.items():
            setattr(choice, name, value)
        choice.save()
        choice.build.revise()


def remove_choice(choice: Choice, user: Any) -> None:
    """Take a part out of a build."""
    with remember(user, f"{choice.label} taken out of {choice.build.name}"):
        build = choice.build
        _free_levers_of(choice)
        choice.delete()
        build.revise()
