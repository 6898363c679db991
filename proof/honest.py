"""How honest were our promises: of every kind what was promised and what came, over all cars of a person."""

from __future__ import annotations

from dataclasses import dataclass

from django.http import HttpRequest, HttpResponse

from garage.car.models import Car
from garage.file import CarFile, open_file
from proof.queries import dates_said, fitted_build, held_of
from rimcore.proof.honesty import Honesty, Pair, advice, honesty_of, said_and_came, strip_x, together_pm
from rimcore.proof.promised import PromiseKind
from shell.pages import page
from workshop.promises.hold import Held


@dataclass(frozen=True)
class Kind:
    """One kind of promise: its errors as a strip, and what they say."""

    kind: PromiseKind
    unit: str
    found: Honesty
    advice: str
    dots: tuple[tuple[float, str], ...]


def honest(request: HttpRequest, car_id: int) -> HttpResponse:
    """Every kind with its verdict; chances of plans beside what came."""
    file = open_file(request.user, car_id)
    files = [
        file if one.pk == car_id else open_file(request.user, one.pk) for one in Car.objects.filter(owner=file.user)
    ]
    said = [one for each in files for one in dates_said(each)]
    chances = [
        (one.said.chance_pct, one.came_on <= one.said.event_on)
        for one in said
        if one.came_on is not None and one.said.chance_pct is not None and one.said.event_on is not None
    ]
    context = {"kinds": kinds_of(files), "chances": said_and_came(chances)}
    return page(request, file, "prove", "proof/honest.html", context)


def kinds_of(files: list[CarFile]) -> list[Kind]:
    """Every kind that something stands against, the most pairs first."""
    pairs: dict[str, list[tuple[Held, Pair]]] = {}
    for file in files:
        build = fitted_build(file)
        for one in held_of(file, build) if build is not None else ():
            pair = pair_of(one)
            if pair is not None:
                pairs.setdefault(one.kind.code, []).append((one, pair))
    found = [_kind(rows) for rows in pairs.values()]
    return sorted(found, key=lambda one: (-one.found.n, one.kind.name))


def pair_of(one: Held) -> Pair | None:
    """A promise and what came, with the ± of both together; None where nothing came, or nobody stated any ±."""
    if one.value is None:
        return None
    stated = one.said.uncertainty if one.said.uncertainty else one.kind.doubt_at(one.promised)
    read = one.reading.uncertainty if one.reading is not None else 0.0
    if one.reading is None and one.kind.read is not None:
        read = one.kind.read.at(one.value)
    pm = together_pm(stated, read)
    return Pair(one.promised, one.value, pm, one.kind.code) if pm > 0 else None


def _kind(rows: list[tuple[Held, Pair]]) -> Kind:
    kind, found = rows[0][0].kind, honesty_of([pair for _, pair in rows])
    dots = tuple((strip_x(pair), f"{pair.measured - pair.promised:+.3g}".replace("-", "−")) for _, pair in rows)
    return Kind(kind, rows[0][0].said.unit or kind.unit, found, advice(found), dots)
