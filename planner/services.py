"""What changes a build."""

from __future__ import annotations

from collections.abc import Mapping
from datetime import date
from typing import Any

from django.db.models import F

from garage.models import Car
from garage.parts import Part, Tyre, Wheel
from planner.models import Build, Choice, Lever
from rimcore.benches import LEVERS
from rimcore.quantities.declared import PLACES
from rimcore.quantities.errors import BadInput
from shell.undo import remember

#: columns that a build hands on when it is duplicated; its levers go along
_COPIED = ("tolerance", "hours_estimate", "note")

#: families that stand on the list whether a build has them or not
LISTED = ("wheel", "tyre")
#: (code, place) -> value
Levers = Mapping[tuple[str, str], Any]


def add_build(car: Car, user: Any, name: str, tolerance: str) -> Build:
    """A new build; the first one is taken in hand."""
    with remember(user, f"build {name} made"):
        return Build.objects.create(car=car, name=name, tolerance=tolerance, in_hand=not car.builds.exists())


def take_in_hand(build: Build, user: Any) -> None:
    """From now on the tally board speaks of this build."""
    with remember(user, f"build {build.name} taken in hand"):
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
        _revise(build)


def set_levers(build: Build, levers: Levers) -> None:
    """Set levers as their benches declare them; one that is set to what it does untouched has no row.

    Raises
    ------
    BadInput : a lever does not take its value, or is not set at that place
    """
    for (code, place), given in levers.items():
        declared = LEVERS[code]
        if place not in declared.places:
            raise BadInput(f"is not set there; accepted: {', '.join(PLACES[one] or 'the whole car' for one in declared.places)}", code)
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
    name = next(f"{build.name[:50]} copy{n or ''}" for n in ["", *range(2, 99)] if f"{build.name[:50]} copy{n or ''}" not in names)
    with remember(user, f"build {build.name} duplicated"):
        copy = Build.objects.create(car=build.car, name=name, **{field: getattr(build, field) for field in _COPIED})
        set_levers(copy, {(row.code, row.place): row.value for row in build.levers.all() if row.code in LEVERS})
        for choice in build.choices.all():
            choice.pk, choice._state.adding = None, True
            choice.build, choice.state, choice.ordered_on, choice.arrived_on, choice.sold_minor = copy, "shortlisted", None, None, 0
            choice.save()
    return copy


def remove_build(build: Build, user: Any) -> None:
    """Remove a build and its choices."""
    with remember(user, f"build {build.name} removed"):
        for choice in build.choices.select_related("part"):
            _take_out(choice)
        for lever in build.levers.all():
            lever.delete()
        build.delete()


def choose_pair(build: Build, user: Any, wheel: Wheel, tyre: Tyre, position: str) -> None:
    """Put a pair into a build; what stood at that position and was not bought goes out."""
    quantity = 4 if position == "A" else 2
    with remember(user, f"{wheel.size} with {tyre.size} put into {build.name}"):
        for old in build.choices.filter(part__family__in=LISTED, state="shortlisted"):
            if position == "A" or old.position == position:
                old.delete()
            elif old.position == "A":
                old.position = "R" if position == "F" else "F"
                old.quantity = 2
                old.save(update_fields=["position", "quantity"])
        for part in (wheel, tyre):
            Choice.objects.create(build=build, part=part, position=position, quantity=quantity)
        _revise(build)


def add_part(build: Build, user: Any, values: dict[str, Any]) -> Choice:
    """Add another part by name; one with two diameters is a centring ring.

    Raises
    ------
    BadInput : its family does not take it
    """
    inner, outer = values.get("ring_inner_mm"), values.get("ring_outer_mm")
    said = {"mass_change_kg": values.get("mass_change_kg"), "inner_mm": inner, "outer_mm": outer}
    spec = {code: value for code, value in said.items() if value is not None}
    offered = {name: values.get(name) for name in ("price_minor", "lead_days")} | {"supplier": values.get("supplier") or ""}
    with remember(user, f"{values['name']} put into {build.name}"):
        family = "ring" if inner is not None and outer is not None else "other"
        part = Part.objects.create(car=build.car, family=family, name=values["name"], spec=spec, **offered)
        place = {name: values[name] for name in ("position", "quantity") if name in values}
        choice = Choice.objects.create(build=build, part=part, **place)
        _revise(build)
    return choice


def set_state(choice: Choice, user: Any, state: str, on: date, sold_minor: int = 0) -> None:
    """A part was ordered, arrived, was fitted, returned or sold on a day."""
    with remember(user, f"{choice.label}: {choice.get_state_display()}"):
        choice.state = state
        if state == "ordered":
            choice.ordered_on, choice.arrived_on = on, None
        elif state in ("arrived", "trial_fitted", "fitted"):
            choice.arrived_on = choice.arrived_on or on
        elif state == "shortlisted":
            choice.ordered_on = choice.arrived_on = None
        choice.sold_minor = sold_minor if state == "sold" else 0
        choice.save()
        _revise(choice.build)


def change_choice(choice: Choice, user: Any, values: dict[str, Any]) -> None:
    """Change quantity, price, lead time and the like."""
    with remember(user, f"{choice.label} changed"):
        for name, value in values.items():
            setattr(choice, name, value)
        choice.save()
        _revise(choice.build)


def remove_choice(choice: Choice, user: Any) -> None:
    """Take a part out of a build."""
    with remember(user, f"{choice.label} taken out of {choice.build.name}"):
        build = choice.build
        _take_out(choice)
        _revise(build)


def _take_out(choice: Choice) -> None:
    """A choice goes; a part that was only named for builds goes with the last of them."""
    part = choice.part
    choice.delete()
    if part.family not in LISTED and not part.choices.exists():
        part.delete()


def _revise(build: Build) -> None:
    build.revision = F("revision") + 1
    build.save()
    build.refresh_from_db(fields=["revision"])
