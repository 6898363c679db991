"""What the pages of the shelf need."""

from __future__ import annotations

from collections import Counter
from collections.abc import Callable, Iterable, Sequence
from dataclasses import dataclass
from time import thread_time
from typing import Any

from django.conf import settings
from django.db.models import prefetch_related_objects
from django.urls import reverse

from garage.car.parts import Part, Tyre, Wheel
from garage.file import CarFile, Problem
from garage.inhand import chooses, in_hand, place_in_hand
from garage.kept import once
from rimcore.families import FAMILIES, GROUPS, PAIRED, Family
from rimcore.quantities.judgement import ORDER, Judgement, State, severity, worst
from rimcore.well.judge.fitment import both_ends
from rimcore.work.quotes import worth_used_minor
from shelf.judging import Pair, judge_pair, pairs_waiting
from shelf.models import Quote
from shelf.order import ordered

#: pairs judged in one answer, so that none takes long
AT_ONCE = 4


@dataclass(frozen=True)
class Listed:
    """What stands on the list: wheels and tyres that can be read, and every other part."""

    wheels: list[Wheel]
    tyres: list[Tyre]
    parts: list[Part]


@once
def listed_of(file: CarFile) -> Listed:
    """The list of a car; one query. What can't be read is told as a problem of the file."""
    rows = list(file.car.parts.filter(listed=True))
    for row in rows:
        if row.fault is not None:
            file.problems.append(_problem(file, row))
    parts = [row for row in rows if row.family not in PAIRED]
    wheels = [row for row in rows if isinstance(row, Wheel) and row.fault is None]
    tyres = [row for row in rows if isinstance(row, Tyre) and row.fault is None]
    return Listed(wheels, tyres, parts)


def _problem(file: CarFile, row: Part) -> Problem:
    """A part of the list that can't be read, with the page that puts it right."""
    if row.family not in PAIRED:
        return Problem(f"{row} of the list", str(row.fault), reverse("part", args=[file.car.pk, row.pk]))
    return Problem(
        f"{row.family} {row} of the list", str(row.fault), reverse("candidate", args=[file.car.pk, row.family, row.pk])
    )


def wheels_of(file: CarFile) -> list[Wheel]:
    found: list[Wheel] = listed_of(file).wheels
    return found


def tyres_of(file: CarFile) -> list[Tyre]:
    found: list[Tyre] = listed_of(file).tyres
    return found


def parts_of(file: CarFile, family: str = "") -> list[Part]:
    """Parts of the list that are no wheels or tyres; pinned ones first."""
    found: list[Part] = listed_of(file).parts
    return pinned_first([part for part in found if family in ("", part.family)])


@dataclass(frozen=True)
class Group:
    """Families that stand together, with how many of each are on the list."""

    name: str
    members: list[tuple[Family, int]]

    @property
    def keys(self) -> list[str]:
        return [family.key for family, _ in self.members]

    @property
    def count(self) -> int:
        return sum(count for _, count in self.members)

    @property
    def first(self) -> str:
        """The family at which the group opens: the first that has something on the list."""
        return next((family.key for family, count in self.members if count), self.keys[0])


def families_of(file: CarFile) -> list[Group]:
    """Every family that stands one by one, by group, with how many of it are on the list."""
    counted = Counter(part.family for part in parts_of(file))
    return [Group(name, [(FAMILIES[key], counted[key]) for key in keys]) for name, keys in GROUPS]


@dataclass(frozen=True)
class PartRow:
    """A part of the list judged on this car with the build in hand."""

    part: Part
    judgements: tuple[Judgement, ...]
    said: list[tuple[str, str]]
    quotes: list[Quote]
    used_minor: int | None

    @property
    def state(self) -> State:
        return worst(judgement.state for judgement in self.judgements) if self.judgements else "unmeasured"

    @property
    def taken(self) -> Quote | None:
        """The quote that its price is from."""
        return next((quote for quote in self.quotes if quote.taken), None)

    @property
    def stale(self) -> bool:
        return self.taken is not None and self.taken.is_stale

    @property
    def waiting(self) -> bool:
        """Is an answer on its way?"""
        return any(quote.answer == "waiting" for quote in self.quotes)


def judge_part(file: CarFile, part: Part) -> tuple[Judgement, ...]:
    """A part at both ends of the car, with what the build in hand puts there."""
    declared = part.declared
    if declared is None or part.fault is not None:
        return ()
    places = {end: place for end in declared.ends if (place := place_in_hand(file, end)) is not None}
    return tuple(
        sorted(both_ends({end: declared.judge(part.whole, place) for end, place in places.items()}), key=severity)
    )


def part_rows(file: CarFile, parts: list[Part]) -> list[PartRow]:
    """Parts judged, with their quotes; one query whatever their number."""
    prefetch_related_objects(parts, "quotes")
    return [
        PartRow(
            part,
            judge_part(file, part),
            part.declared.said(part.whole) if part.declared else [],
            list(part.quotes.all()),
            worth_used_minor(part.price_minor, part.declared.used_share if part.declared else None),
        )
        for part in parts
    ]


def pinned_first(parts: Sequence[Part]) -> list[Part]:
    """Parts as they stand in a list: pinned ones first."""
    return sorted(parts, key=lambda part: (not part.pinned, part.pk))


def best_wheels(file: CarFile, end: str, most: int) -> list[Wheel]:
    """The wheels of the list with the largest margins at an end, each once, best first."""
    wheels, tyres = wheels_of(file), tyres_of(file)
    places = ordered(file, wheels, tyres, end, "margin", None)
    return [wheels[k] for k in dict.fromkeys(places.wheels)][:most]


def share_chosen(file: CarFile) -> float:
    """Half for a shortlist with wheels and tyres, all when a build has chosen."""
    listed = bool(wheels_of(file)) and bool(tyres_of(file))
    return 1.0 if chooses(file) else 0.5 if listed else 0.0


def waiting(file: CarFile) -> Iterable[tuple[Judgement, ...]]:
    """What every pair on the shortlist waits for."""
    return pairs_waiting(file, wheels_of(file)[:20], tyres_of(file)[:20])


@dataclass(frozen=True)
class Bar:
    """A margin as a bar: from the zero line to the margin, in drawing units."""

    x: float
    width: float
    zero: float


#: margins from -20 to +20 mm fill the bar
BAR_MM, BAR_PX = 20.0, 110.0


def margin_bar(margin_mm: float | None) -> Bar | None:
    """Bar of a margin, clipped at its ends."""
    if margin_mm is None:
        return None
    zero = BAR_PX / 2
    length = min(1.0, abs(margin_mm) / BAR_MM) * zero
    return Bar(zero if margin_mm >= 0 else zero - length, max(length, 1.5), zero)


@dataclass(frozen=True)
class TablePart:
    """Some rows of the table: judged pairs with their bars, where the next part starts (None at the end), how many
    pairs there are.
    """

    rows: list[tuple[Pair, Bar | None]]
    start: int
    following: int | None
    total: int

    @property
    def start_number(self) -> int:
        return self.start + 1

    @property
    def next_number(self) -> int:
        return (self.following or 0) + 1


def part_of_table(
    file: CarFile,
    wheels: list[Wheel],
    tyres: list[Tyre],
    end: str,
    order: str,
    least_margin: float | None,
    state: str,
    start: int = 0,
) -> TablePart:
    """The next pairs of the order, judged and filtered by what was judged; within a part sorted by exact figures."""
    began = thread_time()
    places = ordered(file, wheels, tyres, end, order, least_margin)
    stop = min(start + AT_ONCE, len(places))
    held = in_hand(file)
    pairs = []
    for k in range(start, stop):
        pairs.append(judge_pair(file, wheels[places.wheels[k]], tyres[places.tyres[k]], held, end))
        if thread_time() - began > settings.PAIRS_S:
            stop = k + 1
            break
    if least_margin is not None:
        pairs = [pair for pair in pairs if pair.margin_mm is not None and pair.margin_mm >= least_margin]
    if state:
        pairs = [pair for pair in pairs if pair.state == state]
    if order.lstrip("-") in EXACT:
        pairs.sort(key=EXACT[order.lstrip("-")], reverse=order.startswith("-"))
    return TablePart(
        [(pair, margin_bar(pair.margin_mm)) for pair in pairs], start, stop if stop < len(places) else None, len(places)
    )


#: orders that rest on a judgement -> sort key
EXACT: dict[str, Callable[[Pair], Any]] = {
    "margin": lambda pair: (pair.margin_mm is None, -(pair.margin_mm or 0.0)),
    "state": lambda pair: (-ORDER.index(pair.state), pair.unmeasured),
}
