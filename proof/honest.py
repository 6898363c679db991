"""How honest were our promises: of every kind what was promised and what came, over all cars of a person."""

from __future__ import annotations

from dataclasses import asdict, dataclass
from typing import Any

from django.contrib import messages
from django.http import HttpRequest, HttpResponse
from django.shortcuts import redirect
from django.utils import timezone

from garage.car.models import Car
from garage.file import CarFile, open_file
from garage.honest import PLAIN, owns_of
from garage.person.services import keep_own_honesty
from proof.queries import dates_said, fitted_build, held_of
from rimcore.proof.honesty import (
    FEW,
    Honesty,
    Pair,
    advice,
    day_pm,
    error_of,
    honesty_of,
    said_and_came,
    strip_x,
    together_pm,
)
from rimcore.proof.learnt import as_worked_out, counted, own_of
from rimcore.proof.pooled import pooled
from rimcore.proof.promised import PromiseKind, kind_of
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
    if request.method == "POST":
        found = learn(file.user, asked=True) if request.POST.get("what") == "count" else {}
        if not found:
            keep_own_honesty(file.preferences, {PLAIN: {}})
        messages.success(request, "Counted with from now on." if found else "Figures stay as they are worked out.")
        return redirect("honest", car_id)
    files = files_of(file.user, file)
    said = [one for each in files for one in dates_said(each)]
    chances = [
        (one.said.chance_pct, one.came_on <= one.said.event_on)
        for one in said
        if one.came_on is not None and one.said.chance_pct is not None and one.said.event_on is not None
    ]
    kinds = kinds_of(files)
    context = {
        "kinds": kinds,
        "chances": said_and_came(chances),
        "counts": [(kind_of(code).name, own) for code, own in owns_of(file).items() if own.teaches],
        "plain": PLAIN in file.preferences.own_honesty,
        "pooled": [(kind_of(code).name, found, advice(found)) for code, found in pooled().items() if found.n >= FEW],
        "teaches": any(own_of(one.found, "") for one in kinds if one.kind is not DATES),
    }
    return page(request, file, "prove", "proof/honest.html", context)


#: cars of a person that are looked at, the newest: a page stays under a second
MOST_CARS = 6


def files_of(user: Any, file: CarFile | None = None) -> list[CarFile]:
    """Files of all cars of a person; the one at hand is taken as it is."""
    cars = Car.objects.filter(owner=user).order_by("-pk")[:MOST_CARS]
    return [file if file is not None and one.pk == file.car.pk else open_file(user, one.pk) for one in cars]


def teaching(files: list[CarFile]) -> dict[str, Honesty]:
    """What the kinds say that can teach a figure, by their code; neither money nor days."""
    return {
        one.kind.code: one.found for one in kinds_of(files) if one.kind.held_by != "money" and one.kind is not DATES
    }


def learn(user: Any, asked: bool = False, **_: Any) -> dict[str, Any]:
    """Take in what all predictions of a person taught so far; what it is, by kind.

    Who goes by what is worked out is taught nothing until it is asked for.
    """
    files = files_of(user)
    if not asked and files and PLAIN in files[0].preferences.own_honesty:
        return {}
    today = timezone.localdate().isoformat()
    owns = {code: counted(found, today) for code, found in teaching(files).items()}
    found = {code: asdict(own) for code, own in owns.items() if own is not None}
    if files and found != files[0].preferences.own_honesty:
        keep_own_honesty(files[0].preferences, found, asked)
    return found


def kinds_of(files: list[CarFile]) -> list[Kind]:
    """Every kind that something stands against, the most pairs first."""
    pairs: dict[tuple[str, str], list[tuple[Held, Pair]]] = {}
    for file in files:
        build = fitted_build(file)
        for one in held_of(file, build) if build is not None else ():
            pair = pair_of(one)
            if pair is not None:
                pairs.setdefault((one.kind.code, unit_of(one)), []).append((one, pair))
    found = [_kind(rows[0][0].kind, unit_of(rows[0][0]), [pair for _, pair in rows]) for rows in pairs.values()]
    dates = [pair for file in files for pair in date_pairs(file)]
    found += [_kind(DATES, DATES.unit, dates)] if dates else []
    return sorted(found, key=lambda one: (-one.found.n, one.kind.name))


def pair_of(one: Held) -> Pair | None:
    """A promise and what came, with the ± of both together; None where nothing came, or nobody stated any ±."""
    if one.value is None:
        return None
    worked_out, doubt = as_worked_out(one.said)
    added = 0.0 if worked_out is None or one.said.value is None else one.said.value - worked_out
    promised = one.promised - added
    stated = doubt or one.kind.doubt_at(promised)
    read = one.reading.uncertainty if one.reading is not None else 0.0
    if one.reading is None and one.kind.read is not None:
        read = one.kind.read.at(one.value)
    pm = together_pm(stated, read)
    return Pair(promised, one.value, pm, one.kind.code) if pm > 0 else None


def unit_of(one: Held) -> str:
    """The core's unit of a promise; money in two currencies is two kinds."""
    return one.said.unit or one.kind.unit


#: dates that plans said; their ± is the way from the likely day to the one by which 8 of 10 draws are ready
DATES = PromiseKind("plan.ready", "Dates of plans", "car", "d", "clock", None)


def date_pairs(file: CarFile) -> list[Pair]:
    """Days by which plans were late against the ± they stated; of every build the first that was said."""
    found: dict[int, Pair] = {}
    for one in reversed(dates_said(file)):
        said = one.said
        if one.late_days is None or said.ready_on is None or said.p80_on is None:
            continue
        stated = day_pm((said.p80_on - said.ready_on).days)
        found.setdefault(said.build_id, Pair(0.0, float(one.late_days), stated, DATES.code))
    return list(found.values())


def _kind(kind: PromiseKind, unit: str, pairs: list[Pair]) -> Kind:
    found = honesty_of(pairs)
    span = None if found.bias_low is None or found.bias_high is None else (found.bias_low, found.bias_high)
    return Kind(
        kind,
        found,
        f"{advice(found)} {unit}" if found.verdict == "leaning" else advice(found),
        dots=tuple((strip_x(pair), _signed(error_of(pair), unit)) for pair in pairs),
        bias=_signed(found.bias or 0.0, unit),
        span="" if span is None else f"{_signed(span[0], unit)} to {_signed(span[1], unit)}",
    )


def _signed(value: float, unit: str) -> str:
    """A figure with its sign in the core's unit; the page says it in the person's."""
    return f"{value:+.2f} {unit}".strip().replace("-", "−")
