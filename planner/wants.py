"""What a bench wants in a build: put there with one press, and kept the same when the bench is worked on again."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any

from garage.car.parts import Part
from garage.file import CarFile
from planner.changes import OF_FAMILY, plan_of
from planner.chosen import choices_of
from planner.models import Build, Choice
from planner.parts import ENDS, OPEN_STATES, place_of
from rimcore.companions import AS_PARTS, needs_of
from rimcore.parts.needs import answered
from rimcore.wanted import Wanted
from rimcore.work.jobsheet import job_sheet, modules_of
from rimcore.work.ledger import THERE_STATES
from shell.undo import remember

#: under which what the sheets use up stands in a build
USED_UP = "used up"


@dataclass(frozen=True)
class Row:
    """Something that a bench wants, and the choice of the build that it is."""

    wanted: Wanted
    choice: Choice | None

    @property
    def price_minor(self) -> int | None:
        """Price of one [minor units], as the build has it, else as the bench knows it; None is asked."""
        return self.choice.price if self.choice is not None else self.wanted.price_minor

    @property
    def there(self) -> bool:
        return self.choice is not None and self.choice.state in THERE_STATES


@dataclass(frozen=True)
class Wants:
    """What a bench wants of a build, from one source of it, as an exhaust or a panel."""

    source: str
    build: Build
    rows: tuple[Row, ...]

    @property
    def in_build(self) -> bool:
        return any(row.choice is not None for row in self.rows)

    @property
    def whole(self) -> bool:
        """Is all of it in the build, as many as are wanted?"""
        return all(
            row.choice is not None and (row.choice.quantity == row.wanted.quantity or row.there) for row in self.rows
        )

    @property
    def money_minor(self) -> int:
        """What all of it costs, as far as prices are known [minor units]."""
        return sum((row.price_minor or 0) * row.wanted.quantity for row in self.rows)

    @property
    def unpriced(self) -> int:
        """How many have no price yet."""
        return sum(row.price_minor is None for row in self.rows)


def wants_of(build: Build, source: str, wanted: Sequence[Wanted]) -> Wants:
    """What is wanted beside what the build has of it."""
    known = of_source(build, source)
    return Wants(source, build, tuple(Row(one, known.get(_key(source, one))) for one in wanted))


def said_of(source: str) -> str:
    """What a source wants, in words.

    >>> said_of("run exhaust"), said_of("panel 3"), said_of(USED_UP)
    ('what the exhaust needs', 'what the panel needs', 'what the sheets use up')
    """
    if source == USED_UP:
        return "what the sheets use up"
    return f"what the {source.removeprefix('run ').split()[0]} needs"


def with_needs(file: CarFile, build: Build, source: str, wanted: Sequence[Wanted]) -> list[Wanted]:
    """The same with what these parts can't be done without, where nothing of the build answers it."""
    own = of_source(build, source)
    others = [choice for choice in choices_of(build) if choice.bench not in own]
    found: dict[str, Wanted] = {}
    for one in wanted:
        place = place_of(file, build, one.position if one.position in ENDS else ENDS[0])
        for need in needs_of(one.family, one.spec, place):
            there = any(answered(need, each.family, each.name, each.spec) for each in wanted) or any(
                answered(need, each.kind, each.part.name, each.part.whole) for each in others
            )
            if need.needed and not there:
                found.setdefault(
                    need.name,
                    Wanted(f"need {need.name}", need.family, need.name, need.quantity, need.spec, why=need.why),
                )
    return [*wanted, *found.values()]


def of_source(build: Build, source: str) -> dict[str, Choice]:
    """Choices that a bench has put into a build, by their key."""
    return {choice.bench: choice for choice in choices_of(build) if choice.bench.startswith(f"{source}/")}


def _key(source: str, wanted: Wanted) -> str:
    return f"{source}/{wanted.key}"[:120]


def keep_wants(file: CarFile, build: Build, user: Any, source: str, wanted: Sequence[Wanted]) -> int:
    """Put what a bench wants into a build, change what is not paid for yet, take away what is not wanted any more.

    Prices that were typed stay. Returns how many are new.
    """
    known = of_source(build, source)
    new = 0
    with remember(user, f"{said_of(source)}, in {build.name}"):
        for one in wanted:
            choice = known.pop(_key(source, one), None)
            if choice is None:
                _put(file, build, source, one)
                new += 1
            elif choice.state in OPEN_STATES:
                _change(choice, one)
        for gone in known.values():
            if gone.state in OPEN_STATES:
                part = gone.part
                gone.delete()
                if not part.choices.exists():
                    part.delete()
        build.revise()
    return new


def set_prices(wants: Wants, user: Any, prices: dict[str, int]) -> None:
    """Prices of one that were typed, by the key of what is wanted."""
    with remember(user, f"prices in {wants.build.name}"):
        for key, choice in of_source(wants.build, wants.source).items():
            price = prices.get(key)
            if price is not None:
                choice.price_minor = price
                choice.save()


def keep_up(file: CarFile, build: Build, user: Any, source: str, wanted: Sequence[Wanted]) -> None:
    """The bench was worked on again: a build that has its parts keeps them the same, one that has none stays so."""
    if of_source(build, source):
        keep_wants(file, build, user, source, wanted)


def _put(file: CarFile, build: Build, source: str, one: Wanted) -> None:
    part = Part.objects.create(
        car=file.car,
        family=one.family,
        name=one.name,
        spec=dict(one.spec),
        price_minor=one.price_minor,
        note=one.why[:200],
        listed=False,
    )
    Choice.objects.create(
        build=build,
        part=part,
        position=one.position,
        quantity=one.quantity,
        state="wanted",
        bench=_key(source, one),
    )


def _change(choice: Choice, one: Wanted) -> None:
    """What the bench says of it now; a price that was typed in the build stands before the bench's."""
    part = choice.part
    if part.choices.count() > 1:
        # A copy of the build has the same part: it keeps it as it was.
        part.pk, part._state.adding = None, True
    part.family, part.name, part.spec, part.note = one.family, one.name, dict(one.spec), one.why[:200]
    part.price_minor = one.price_minor if one.price_minor is not None else part.price_minor
    part.save()
    choice.part, choice.quantity, choice.position = part, one.quantity, one.position
    choice.save()


def used_up(file: CarFile, build: Build) -> list[Wanted]:
    """What the sheets of a build use up, as its steps say, where no part of the build answers it."""
    plan = plan_of(file, build)
    steps = job_sheet(plan, modules_of(plan, OF_FAMILY))
    own = of_source(build, USED_UP)
    there = {choice.part.name.strip().lower() for choice in choices_of(build) if choice.bench not in own}
    names = dict.fromkeys(name for step in steps for name in step.consumables if name not in AS_PARTS)
    return [
        Wanted(name, "other", name[:1].upper() + name[1:], 1, {"mass_change_kg": 0.0}, why="used up on the sheet")
        for name in names
        if not any(name.lower() in one or one in name.lower() for one in there)
    ]
