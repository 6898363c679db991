"""How honest were our promises: of every kind what was promised and what came, over all cars of a person."""

from __future__ import annotations

from dataclasses import dataclass

from django.http import HttpRequest, HttpResponse

from garage.car.models import Car
from garage.file import CarFile, open_file
from proof.queries import dates_said, fitted_build, held_of
from rimcore.proof.honesty import Honesty, Pair, advice, error_of, honesty_of, said_and_came, strip_x, together_pm
from rimcore.proof.promised import PromiseKind
from shell.pages import page
from workshop.promises.hold import Held


@dataclass(frozen=True)
class Kind:
    """One kind of promise: its errors as a strip, and what they say."""

    kind: PromiseKind
    found: Honesty
    advice: str
    #: where each error stands on the strip, and what it is
    dots: tuple[tuple[float, str], ...]
    #: the mean error, and where it lies
    bias: str
    span: str


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
    pairs: dict[tuple[str, str], list[tuple[Held, Pair]]] = {}
    for file in files:
        build = fitted_build(file)
        for one in held_of(file, build) if build is not None else ():
            pair = pair_of(one)
            if pair is not None:
                pairs.setdefault((one.kind.code, unit_of(one)), []).append((one, pair))
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


def unit_of(one: Held) -> str:
    """The core's unit of a promise; money in two currencies is two kinds."""
    return one.said.unit or one.kind.unit


def _kind(rows: list[tuple[Held, Pair]]) -> Kind:
    kind, unit = rows[0][0].kind, unit_of(rows[0][0])
    found = honesty_of([pair for _, pair in rows])
    span = None if found.bias_low is None or found.bias_high is None else (found.bias_low, found.bias_high)
    return Kind(
        kind,
        found,
        f"{advice(found)} {unit}" if found.verdict == "leaning" else advice(found),
        dots=tuple((strip_x(pair), _signed(error_of(pair), unit)) for _, pair in rows),
        bias=_signed(found.bias or 0.0, unit),
        span="" if span is None else f"{_signed(span[0], unit)} to {_signed(span[1], unit)}",
    )


def _signed(value: float, unit: str) -> str:
    """A figure with its sign in the core's unit; the page says it in the person's."""
    return f"{value:+.2f} {unit}".strip().replace("-", "−")
