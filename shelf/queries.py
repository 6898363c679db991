"""What the pages of the shelf need."""

from __future__ import annotations

from collections.abc import Callable, Iterable
from dataclasses import dataclass
from typing import Any

from django.urls import reverse

from garage.file import CarFile, Problem
from rimcore.judgement import ORDER, Judgement
from shelf.judging import Pair, all_pairs, pairs_waiting
from shelf.models import Tyre, Wheel

#: pairs judged on one page
MOST_PAIRS = 400


def load(file: CarFile) -> None:
    """Shortlists into the car's file; two queries."""
    for key, listed in (("wheels", file.car.wheels.all()), ("tyres", file.car.tyres.all())):
        rows = list(listed)
        file.extra[key] = [row for row in rows if row.fault is None]
        file.problems += [
            Problem(
                f"{key.removesuffix('s')} {row} of the list",
                row.fault,
                reverse("candidate", args=[file.car.pk, key.removesuffix("s"), row.pk]),
            )
            for row in rows
            if row.fault is not None
        ]


def wheels_of(file: CarFile) -> list[Wheel]:
    found: list[Wheel] = file.extra["wheels"]
    return found


def tyres_of(file: CarFile) -> list[Tyre]:
    found: list[Tyre] = file.extra["tyres"]
    return found


def share_chosen(file: CarFile) -> float:
    """Half for a shortlist with wheels and tyres, all when a build has chosen."""
    listed = bool(wheels_of(file)) and bool(tyres_of(file))
    return 1.0 if file.extra.get("has_choice") else 0.5 if listed else 0.0


def waiting(file: CarFile) -> Iterable[Judgement]:
    """What every pair on the shortlist waits for."""
    for pair in pairs_waiting(file, wheels_of(file)[:20], tyres_of(file)[:20]):
        yield from pair


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


def _known_last(value: float | None) -> tuple[bool, float]:
    return value is None, value or 0.0


#: order of the table -> sort key
ORDERS: dict[str, Callable[[Pair], Any]] = {
    "margin": lambda pair: (pair.margin_mm is None, -(pair.margin_mm or 0.0)),
    "mass": lambda pair: _known_last(pair.mass_kg),
    "price": lambda pair: _known_last(pair.price_minor),
    "lead": lambda pair: _known_last(pair.lead_days),
    "width": lambda pair: pair.wheel.width_in,
    "offset": lambda pair: pair.wheel.offset_mm,
    "state": lambda pair: (-ORDER.index(pair.state), pair.unmeasured),
}


def table(
    file: CarFile, wheels: list[Wheel], tyres: list[Tyre], end: str, order: str, least_margin: float | None, state: str
) -> tuple[list[tuple[Pair, Bar | None]], bool]:
    """Pairs judged, filtered by what was judged, sorted; and whether the list was cut."""
    wheels, cut = _cut(wheels, tyres)
    pairs = all_pairs(file, wheels, tyres, end)
    if least_margin is not None:
        pairs = [pair for pair in pairs if pair.margin_mm is not None and pair.margin_mm >= least_margin]
    if state:
        pairs = [pair for pair in pairs if pair.state == state]
    reverse = order.startswith("-")
    pairs.sort(key=ORDERS.get(order.lstrip("-"), ORDERS["margin"]), reverse=reverse)
    return [(pair, margin_bar(pair.margin_mm)) for pair in pairs], cut


def _cut(wheels: list[Wheel], tyres: list[Tyre]) -> tuple[list[Wheel], bool]:
    most = max(1, MOST_PAIRS // max(1, len(tyres)))
    return wheels[:most], len(wheels) > most
