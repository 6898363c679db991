"""Help: a page a bench, a page a kind of work, a search over both; and guided first times."""

from __future__ import annotations

from collections.abc import Iterator
from functools import cache
from typing import Any

from django.http import Http404, HttpRequest, HttpResponse
from django.shortcuts import redirect, render
from django.views.decorators.http import require_POST

from garage.file import open_file
from rimcore.guides import GUIDES
from rimcore.help_benches import HELPS, Help
from rimcore.help_works import WORKS, Work
from rimcore.well.read.stations import STATIONS
from shell.guided import KEY, address_of

#: longest search, and stations of a bench that are shown open
LONGEST, OPEN_STATIONS = 60, 8


def index(request: HttpRequest) -> HttpResponse:
    """All pages of the help; with words, those that say them."""
    words = request.GET.get("q", "")[:LONGEST].strip()
    context = {"q": words, "guides": GUIDES.values(), "found": found(words) if words else None}
    return render(request, "manual/index.html", {**context, "helps": HELPS.values(), "works": WORKS.values()})


def found(words: str) -> list[tuple[str, str, str]]:
    """Pages that say every word: (kind, key, name).

    >>> ("work", "radiator", "Radiator and bleed") in found("bleed hoses")
    True
    """
    wanted = words.lower().split()
    return [(kind, key, name) for kind, key, name, text in _texts() if all(word in text for word in wanted)]


@cache
def _texts() -> tuple[tuple[str, str, str, str], ...]:
    """Every page's words, lower case."""
    benches = (("bench", key, one.bench.name, " ".join(_said_of_bench(one)).lower()) for key, one in HELPS.items())
    works = (("work", key, one.name, " ".join(_said_of_work(one)).lower()) for key, one in WORKS.items())
    return (*benches, *works)


def _said_of_bench(one: Help) -> Iterator[str]:
    yield from (one.bench.name, one.bench.about, *one.leaves_out, one.cautions)
    for lever in one.bench.levers:
        yield f"{lever.name} {lever.help}"
    for code in one.bench.stations:
        yield f"{STATIONS[code].name} {STATIONS[code].how} {STATIONS[code].unlocks}"
    for calculation in one.calculations:
        yield f"{calculation.name} {calculation.line} {calculation.source}"
    for example in one.examples:
        yield example.asks


def _said_of_work(one: Work) -> Iterator[str]:
    yield from (one.name, one.about, one.dangers, one.measured)
    yield from (f"{name} {cost}" for name, cost in one.choices.items())
    yield from (f"{step.title} {step.detail}" for step in one.steps)


def bench(request: HttpRequest, key: str) -> HttpResponse:
    """Help of a bench: what is read and where the rule goes, what is set, what it is worked out with."""
    one = HELPS.get(key)
    if one is None:
        raise Http404
    stations = [STATIONS[code] for code in one.bench.stations if not STATIONS[code].of_a_job]
    works = [work for work in WORKS.values() if key in work.benches]
    context = {
        "one": one,
        "stations": stations[:OPEN_STATIONS],
        "further": stations[OPEN_STATIONS:],
        "works": works,
    }
    return render(request, "manual/bench.html", context)


def work(request: HttpRequest, key: str) -> HttpResponse:
    """Help of a kind of work: what is read first, ways to do it, its job sheet, what is measured after."""
    one = WORKS.get(key)
    if one is None:
        raise Http404
    phases: dict[str, list[Any]] = {}
    for step in one.steps:
        phases.setdefault(step.phase, []).append(step)
    context = {
        "one": one,
        "before": [STATIONS[code] for code in one.before],
        "benches": [HELPS[bench] for bench in one.benches],
        "phases": list(phases.items()),
    }
    return render(request, "manual/work.html", context)


def guide(request: HttpRequest, car_id: int, key: str) -> HttpResponse:
    """Begin a guided first time on a car, or go to one of its pages; the bar above every page leads on."""
    file = open_file(request.user, car_id)
    if key not in GUIDES:
        raise Http404
    legs, asked = GUIDES[key].legs, request.GET.get("leg", "0")
    leg = int(asked) if asked.isdecimal() and len(asked) < 4 else len(legs)
    if leg >= len(legs):
        raise Http404
    request.session[KEY] = {"key": key, "car": file.car.pk, "leg": leg}
    return redirect(address_of(file.car.pk, legs[leg]))


@require_POST
def leave(request: HttpRequest) -> HttpResponse:
    """Leave the guide; what was entered stays."""
    request.session.pop(KEY, None)
    return redirect("garage")
