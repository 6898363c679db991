"""The ledger of a car with its file.

Items as core values, the car on its scale, and what the ledger does to corners and whole.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from garage.car.models import Outfit
from garage.file import CarFile
from garage.kept import once
from garage.mass.models import MassGoal, MassItem
from garage.readings.models import Reading
from rimcore.mass.balance import Item, Stands, shares
from rimcore.mass.ledger import Goal, Scaled, Totals, Weighed, moved, totals
from rimcore.quantities.judgement import InputUsed
from rimcore.tables.facts import CORNERS


@dataclass(frozen=True)
class Ledger:
    """Items as they are kept, and the goals that the mass is held against."""

    items: list[MassItem]
    goal: MassGoal | None


@once
def ledger_of(file: CarFile) -> Ledger:
    """Two queries."""
    return Ledger(list(MassItem.objects.filter(car=file.car)), MassGoal.objects.filter(car=file.car).first())


def items_of(file: CarFile) -> list[MassItem]:
    """Items as they are kept."""
    found: list[MassItem] = ledger_of(file).items
    return found


@once
def weighed_of(file: CarFile) -> tuple[Weighed, ...]:
    """Items for the core, once a page."""
    return tuple(item.weighed for item in items_of(file))


def goal_of(file: CarFile) -> Goal:
    """Goal and class minimum, for the core."""
    kept: MassGoal | None = ledger_of(file).goal
    return Goal() if kept is None else Goal(kept.phase_kg, kept.minimum_kg)


def scales(file: CarFile) -> list[tuple[Reading, Scaled]]:
    """Whole car on a scale with nobody aboard, as often as it was read; the newest first."""
    found = [
        one for one in file.readings if one.code == "car_mass" and not one.struck_why and not file.stood_at(one)[0]
    ]
    return [(one, _scaled(one, file.stood_at(one)[1])) for one in found]


def _scaled(one: Reading, fuel: str) -> Scaled:
    said = f"{one.value:g} ± {one.uncertainty:g} kg" + (f", fuel: {fuel}" if fuel else "")
    return Scaled(
        one.value, one.uncertainty, InputUsed("whole car on a scale", said, one.who, f"{one.taken_on:%-d %b %Y}"), fuel
    )


def since(file: CarFile, reading: Reading) -> tuple[Weighed, ...]:
    """Items that came out after a reading.

    One of the same day counts as before it where it was in the ledger by then.
    """
    return tuple(
        item.weighed
        for item in items_of(file)
        if item.state == "out"
        and item.out_on is not None
        and (item.out_on, item.made_at) > (reading.taken_on, reading.made_at)
    )


def between(file: CarFile, first: Reading, last: Reading) -> tuple[Weighed, ...]:
    """Items that came out after one reading and not after another."""
    later = {one.label for one in since(file, last)}
    return tuple(one for one in since(file, first) if one.label not in later)


def off_the_car(file: CarFile, reading: Reading, strips: bool) -> tuple[Weighed, ...]:
    """Items that the car no longer carries against a reading; planned ones where the build has a strip session."""
    planned = tuple(item.weighed for item in items_of(file) if item.state == "planned") if strips else ()
    return (*since(file, reading), *planned)


def net_since_kg(file: CarFile, reading: Reading, strips: bool) -> float:
    """Net mass that came out after a reading, or is to with the build [kg]."""
    return totals(off_the_car(file, reading, strips), ("out", "planned")).net_kg


def moved_since(file: CarFile, readings: Sequence[Reading], strips: bool) -> dict[str, float]:
    """What each corner carries more since it was weighed [kg], minus is less.

    Nothing where wheelbase or tracks are not known.
    """
    car = file.car
    newest = max(readings, key=lambda one: (one.taken_on, one.pk), default=None)
    if newest is None or car.wheelbase_mm is None or car.track_front_mm is None or car.track_rear_mm is None:
        return {}
    found, _ = moved(off_the_car(file, newest, strips), ("out", "planned"))
    stands = Stands((0.0, 0.0, 0.0, 0.0), car.wheelbase_mm, (car.track_front_mm, car.track_rear_mm))
    return corner_changes(found, stands)


@once
def stripped(file: CarFile, strips: bool) -> dict[str, float] | None:
    """What each corner carries less with what the build strips [kg], once a page; nothing without a strip session.

    None where that can't be told: wheelbase or tracks, or an item's mass or place, are not known.
    """
    return _stripped(file) if strips else {}


def _stripped(file: CarFile) -> dict[str, float] | None:
    car = file.car
    items, unknown = moved(weighed_of(file), ("planned",))
    if not items and not unknown:
        return {}
    if unknown or car.wheelbase_mm is None or car.track_front_mm is None or car.track_rear_mm is None:
        return None
    stands = Stands((0.0, 0.0, 0.0, 0.0), car.wheelbase_mm, (car.track_front_mm, car.track_rear_mm))
    return {corner: -kg for corner, kg in corner_changes(items, stands).items()}


@once
def corner_moves(file: CarFile, strips: bool) -> dict[str, float]:
    """What each corner carries more than its newest pad read [kg], minus is less; once a page."""
    pads = [one for one in file.latest if one.code == "corner_mass"]
    return moved_since(file, pads, strips)


def corner_changes(items: Sequence[Item], stands: Stands) -> dict[str, float]:
    """What items do to each corner [kg]."""
    change = dict.fromkeys(CORNERS, 0.0)
    for item in items:
        for corner, share in zip(CORNERS, shares(item, stands), strict=True):
            change[corner] += item.kg * share
    return change


def ledger_mass(file: CarFile, strips: bool) -> tuple[Totals, float, float]:
    """Net mass off the car against its baseline, and its share at the front and at the rear [kg].

    What has no place is shared evenly.
    """
    base: Outfit | None = file.baseline
    here = [
        item.weighed
        for item in items_of(file)
        if (item.state == "out" and (base is None or item.out_on is None or item.out_on >= base.since))
        or (strips and item.state == "planned")
    ]
    front = rear = 0.0
    for one in here:
        along = one.place_mm[0] / file.car.wheelbase_mm if one.place_mm is not None and file.car.wheelbase_mm else 0.5
        front, rear = front - (one.net_kg or 0.0) * (1.0 - along), rear - (one.net_kg or 0.0) * along
    return totals(here, ("out", "planned")), front, rear
