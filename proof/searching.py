"""One search over everything that is on record of a car: parts, readings, logs, job sheets, builds."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from datetime import date
from typing import Any

from django import forms
from django.core.paginator import Page, Paginator
from django.db.models import Q, QuerySet
from django.http import HttpRequest, HttpResponse
from django.urls import reverse
from django.utils.timezone import localdate
from django.views.decorators.http import require_GET

from garage.car.models import Car
from garage.car.parts import Part
from garage.file import open_file
from garage.logs.models import Log
from garage.readings.models import Reading
from garage.readings.queries import reading_text
from planner.models import Build
from rimcore.families import FAMILIES
from rimcore.tables.facts import CORNER_NAMES
from rimcore.well.read.stations import STATIONS
from shell.pages import page, status_of
from workshop.models import Job

#: rows on a page, words that are looked for at the most
ROWS, MOST_WORDS = 25, 8
#: what is looked through, by the word of its address
KINDS: Mapping[str, str] = {
    "parts": "Parts",
    "readings": "Readings",
    "logs": "Logs",
    "jobs": "Job sheets",
    "builds": "Builds",
}
#: states that a kind can be asked for
STATES: Mapping[str, Mapping[str, str]] = {
    "parts": {"listed": "on the list", "pinned": "pinned", "off": "on the car, or was"},
    "readings": {"counts": "counts", "struck": "struck out"},
    "logs": dict(Log.WHEN),
    "jobs": dict(Job.STATES),
    "builds": {},
}


class SearchForm(forms.Form):
    """Words, kind, family of parts, state, and from which day to which."""

    q = forms.CharField(max_length=120, required=False, label="Words")
    kind = forms.ChoiceField(choices=KINDS.items(), required=False, label="Among")
    family = forms.ChoiceField(
        choices=[("", "any"), *((key, one.plural) for key, one in FAMILIES.items())],
        required=False,
        label="Kind of part",
    )
    state = forms.ChoiceField(
        choices=[("", "any"), *((KINDS[kind], list(states.items())) for kind, states in STATES.items() if states)],
        required=False,
        label="State",
    )
    since = forms.DateField(required=False, label="From day", widget=forms.DateInput(attrs={"type": "date"}))
    until = forms.DateField(required=False, label="To day", widget=forms.DateInput(attrs={"type": "date"}))


@dataclass(frozen=True)
class Asked:
    """What is looked for."""

    words: tuple[str, ...] = ()
    kind: str = "parts"
    family: str = ""
    state: str = ""
    since: date | None = None
    until: date | None = None


@dataclass(frozen=True)
class Found:
    """A row that was found: what it is, what it says, its day, where it is."""

    name: str
    said: str
    day: date
    state: str
    address: str


def asked_of(form: SearchForm) -> Asked:
    """What a form asks for; where it is wrong, everything. A family or a state says the kind that it is of."""
    if not form.is_valid():
        return Asked()
    said = form.cleaned_data
    of_state = next((kind for kind, states in STATES.items() if said["state"] in states), "")
    kind = of_state or ("parts" if said["family"] else said["kind"] or "parts")
    words = tuple(said["q"].split()[:MOST_WORDS])
    return Asked(words, kind, said["family"] if kind == "parts" else "", said["state"], said["since"], said["until"])


def rows_of(car: Car, kind: str, asked: Asked) -> QuerySet[Any]:
    """Rows of a kind that hold every word, in the order in which they are shown."""
    rows, fields = _SOURCES[kind](car, asked)
    for word in asked.words:
        either = Q()
        for name in fields:
            either |= Q(**{f"{name}__icontains": word})
        rows = rows.filter(either | _by_names(kind, word))
    return rows


def _by_names(kind: str, word: str) -> Q:
    """Rows whose family, station or corner is called so."""
    low = word.lower()
    if kind == "parts":
        return Q(family__in=[key for key, one in FAMILIES.items() if low in f"{one.name} {one.plural}".lower()])
    if kind == "readings":
        codes = [code for code, one in STATIONS.items() if low in one.name.lower()]
        corners = [corner for corner, name in CORNER_NAMES.items() if low in f"{corner} {name}".lower()]
        return Q(code__in=codes) | Q(corner__in=corners)
    if kind == "logs":
        return Q(kind__in=[key for key, name in Log.KINDS.items() if low in name.lower()])
    return Q(pk__in=[])


def _parts(car: Car, asked: Asked) -> tuple[QuerySet[Any], tuple[str, ...]]:
    rows = Part.objects.filter(car=car).order_by("-id")
    if asked.family:
        rows = rows.filter(family=asked.family)
    if asked.state:
        rows = rows.filter(
            **{"listed": {"listed": True}, "pinned": {"pinned": True}, "off": {"listed": False}}[asked.state]
        )
    return _between(rows, "made_at__date", asked), ("name", "line", "supplier", "note")


def _readings(car: Car, asked: Asked) -> tuple[QuerySet[Any], tuple[str, ...]]:
    rows = Reading.objects.filter(car=car).order_by("-taken_on", "-id")
    if asked.state:
        rows = rows.filter(struck_why="") if asked.state == "counts" else rows.exclude(struck_why="")
    return _between(rows, "taken_on", asked), ("typed", "who", "struck_why")


def _logs(car: Car, asked: Asked) -> tuple[QuerySet[Any], tuple[str, ...]]:
    rows = Log.objects.filter(car=car, draft=False).order_by("-taken_on", "-id")
    if asked.state:
        rows = rows.filter(when=asked.state)
    return _between(rows, "taken_on", asked), ("name", "source", "who")


def _jobs(car: Car, asked: Asked) -> tuple[QuerySet[Any], tuple[str, ...]]:
    rows = Job.objects.filter(car=car).select_related("build").order_by("-id")
    if asked.state:
        rows = rows.filter(state=asked.state)
    return _between(rows, "made_at__date", asked), ("title", "build__name")


def _builds(car: Car, asked: Asked) -> tuple[QuerySet[Any], tuple[str, ...]]:
    return _between(Build.objects.filter(car=car).order_by("-id"), "made_at__date", asked), ("name",)


_SOURCES = {"parts": _parts, "readings": _readings, "logs": _logs, "jobs": _jobs, "builds": _builds}


def _between(rows: QuerySet[Any], day: str, asked: Asked) -> QuerySet[Any]:
    if asked.since:
        rows = rows.filter(**{f"{day}__gte": asked.since})
    if asked.until:
        rows = rows.filter(**{f"{day}__lte": asked.until})
    return rows


def shown(kind: str, row: Any, preferences: Any) -> Found:
    """A row as it stands in the list, in a person's units."""
    car = row.car_id
    if kind == "parts":
        family = FAMILIES[row.family].name if row.family in FAMILIES else row.family
        state = "pinned" if row.pinned else "on the list" if row.listed else "on the car, or was"
        said = ", ".join(word for word in (family, row.supplier, row.note) if word)
        return Found(str(row), said, localdate(row.made_at), state, reverse("part", args=[car, row.pk]))
    if kind == "readings":
        name = STATIONS[row.code].name if row.code in STATIONS else row.code
        place = CORNER_NAMES.get(row.corner, "whole car")
        said = reading_text(row, preferences) if row.code in STATIONS else row.typed
        address = reverse("station", args=[car, row.corner or "car", row.code])
        state = f"struck out: {row.struck_why}" if row.struck_why else "counts"
        return Found(f"{name}, {place}", said, row.taken_on, state, address)
    if kind == "logs":
        return Found(
            row.name, row.get_kind_display(), row.taken_on, row.get_when_display(), reverse("log", args=[car, row.pk])
        )
    if kind == "jobs":
        return Found(
            row.title,
            row.build.name,
            localdate(row.made_at),
            row.get_state_display(),
            reverse("job", args=[car, row.pk]),
        )
    return Found(row.name, "", localdate(row.made_at), "", reverse("build", args=[car, row.pk]))


@require_GET
def search(request: HttpRequest, car_id: int) -> HttpResponse:
    """Everything on record of a car that holds the words, a page at a time."""
    file = open_file(request.user, car_id)
    form = SearchForm(request.GET or None)
    asked = asked_of(form)
    counts = [(kind, name, rows_of(file.car, kind, _within(asked, kind)).count()) for kind, name in KINDS.items()]
    pages: Page[Any] = Paginator(rows_of(file.car, asked.kind, asked), ROWS).get_page(request.GET.get("page"))
    query = request.GET.copy()
    query.pop("page", None)
    among = query.copy()
    for own in ("kind", "family", "state"):
        among.pop(own, None)
    context = {
        "form": form,
        "counts": counts,
        "asked": asked,
        "pages": pages,
        "rows": [shown(asked.kind, row, file.preferences) for row in pages],
        "query": query.urlencode(),
        "narrowed": bool(form.errors or asked.family or asked.state or asked.since or asked.until),
        "among": among.urlencode(),
    }
    return page(request, file, "measure", "proof/search.html", context, status_of(form))


def _within(asked: Asked, kind: str) -> Asked:
    """The same for another kind: its family and state are this kind's alone."""
    own = kind == asked.kind
    return Asked(asked.words, kind, asked.family if own else "", asked.state if own else "", asked.since, asked.until)
