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
from garage.person.models import Preferences
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
from shell.gathered import MOST, gather
from shell.kept import of_now
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
    rows = rows_of(file.user, file)
    if rows.waiting:
        of_now()
    kinds = kinds_of(rows)
    context = {
        "kinds": kinds,
        "waiting": rows.waiting,
        "chances": said_and_came(rows.chances),
        "counts": [(kind_of(code).name, own) for code, own in owns_of(file).items() if own.teaches],
        "plain": PLAIN in file.preferences.own_honesty,
        "pooled": [(kind_of(code).name, found, advice(found)) for code, found in pooled().items() if found.n >= FEW],
        "teaches": any(own_of(one.found, "") for one in kinds if one.kind is not DATES),
    }
    return page(request, file, "prove", "proof/honest.html", context)


@dataclass(frozen=True)
class Rows:
    """Pairs by kind and unit, and chances that plans said with whether they came true."""

    pairs: dict[tuple[str, str], list[Pair]]
    chances: list[tuple[float, bool]]
    #: cars that were written since and are not counted anew yet
    waiting: int = 0


#: what is kept of a car, and in which way it was worked out: another way is another name
WHAT = "honest 1"


def rows_of(user: Any, file: CarFile | None = None, first: int | None = None, most: int = MOST) -> Rows:
    """What was predicted and what came, of every car of a person; the one at hand is taken as it is."""
    at_hand = file.car.pk if file is not None else first
    cars = sorted(Car.objects.filter(owner=user).values_list("pk", flat=True), key=lambda pk: (pk != at_hand, -pk))
    found = gather(
        user.pk,
        cars,
        WHAT,
        lambda pk: said_of(file if file is not None and pk == at_hand else open_file(user, pk)),
        most,
    )
    pairs: dict[tuple[str, str], list[Pair]] = {}
    for value in found.values:
        for code, unit, promised, came, pm in value["pairs"]:
            pairs.setdefault((code, unit), []).append(Pair(promised, came, pm, code))
    chances = [(chance, came) for value in found.values for chance, came in value["chances"]]
    return Rows(pairs, chances, found.waiting)


def said_of(file: CarFile) -> dict[str, Any]:
    """Of one car, as it is kept: pairs with kind and unit, and chances of its plans."""
    build = fitted_build(file)
    held = [(one, pair_of(one)) for one in (held_of(file, build) if build is not None else ())]
    rows = [
        [one.kind.code, unit_of(one), pair.promised, pair.measured, pair.pm] for one, pair in held if pair is not None
    ]
    rows += [[DATES.code, DATES.unit, pair.promised, pair.measured, pair.pm] for pair in date_pairs(file)]
    chances = [
        [one.said.chance_pct, one.came_on <= one.said.event_on]
        for one in dates_said(file)
        if one.came_on is not None and one.said.chance_pct is not None and one.said.event_on is not None
    ]
    return {"pairs": rows, "chances": chances}


def teaching(rows: Rows) -> dict[str, Honesty]:
    """What the kinds say that can teach a figure, by their code; neither money nor days."""
    return {one.kind.code: one.found for one in kinds_of(rows) if one.kind.held_by != "money" and one.kind is not DATES}


def learn(user: Any, asked: bool = False, car: Car | None = None, **_: Any) -> dict[str, Any]:
    """Take in what all predictions of a person taught so far; what it is, by kind.

    Who goes by what is worked out is taught nothing until it is asked for.
    """
    preferences = getattr(user, "preferences", None) or Preferences(user=user)
    if not asked and PLAIN in preferences.own_honesty:
        return {}
    today = timezone.localdate().isoformat()
    owns = {
        code: counted(found, today)
        for code, found in teaching(rows_of(user, first=None if car is None else car.pk)).items()
    }
    found = {code: asdict(own) for code, own in owns.items() if own is not None}
    if found != preferences.own_honesty:
        keep_own_honesty(preferences, found, asked)
    return found


def kinds_of(rows: Rows) -> list[Kind]:
    """Every kind that something stands against, the most pairs first."""
    found = [
        _kind(DATES if code == DATES.code else kind_of(code), unit, pairs) for (code, unit), pairs in rows.pairs.items()
    ]
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
