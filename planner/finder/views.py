"""Find a build: asking, the search in steps, the answer, a set made into a build."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import timedelta
from typing import Any

from django.contrib import messages
from django.http import HttpRequest, HttpResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.utils import timezone
from django.views.decorators.http import require_POST

from garage.car.parts import Part
from garage.file import CarFile, open_file
from planner.chosen import candidate
from planner.finder import services
from planner.finder.built import set_build
from planner.finder.forms import GOALS, FindForm, quick_of
from planner.finder.models import Search
from planner.finder.options import camber_told, families_of
from planner.finder.search import behind, said_of_set, ways_out
from rimcore.choosing.drawing import curve_of
from rimcore.choosing.quick import OUT, QUICK, quick_slots
from rimcore.drawing.planes import Scene
from rimcore.families import FAMILIES
from rimcore.quantities.errors import BadInput
from rimcore.tables.facts import CORNER_NAMES, ENDS
from rimcore.well.draw.scene import well_scene
from rimcore.well.judge import at_rest
from rimcore.well.read.stations import STATIONS
from rimcore.work.money import in_hundredths, in_whole
from shelf.queries import listed_of
from shell.pages import page, status_of


def find(request: HttpRequest, car_id: int) -> HttpResponse:
    """What is looked for; what was asked before can be asked again."""
    file = open_file(request.user, car_id)
    asked = request.GET.get("again", "")
    number = int(asked) if asked.isascii() and asked.isdecimal() and len(asked) < 10 else 0
    again = Search.objects.filter(car=file.car, pk=number).first()
    first = _initial(again) | quick_of(file, request.GET.get("quick", "")) | _hold(file, request) | _loosened(request)
    form = FindForm(file, request.POST if request.method == "POST" else None, initial=first)
    if request.method == "POST" and form.is_valid():
        return redirect("found", car_id, services.ask(file, form.asked).pk)
    before = Search.objects.filter(car=file.car)[:8]
    there = families_of(file)
    quick = [(code, one.name) for code, one in QUICK.items() if quick_slots(code, there, 1)]
    context = {
        "form": form,
        "before": before,
        "nothing": not set(there) - {OUT},
        "there": there,
        "goals": GOALS,
        "quick": quick,
    }
    return page(request, file, "choose", "planner/find.html", context, status_of(form))


def _hold(file: CarFile, request: HttpRequest) -> dict[str, str]:
    """The one thing that is to be held, as the address says it; one that is not on the list is none of the choices."""
    said, listed = request.GET.get("hold", ""), listed_of(file)
    of: dict[str, Sequence[Part]] = {"hold_wheel": listed.wheels, "hold_tyre": listed.tyres, "hold_part": listed.parts}
    return {name: said for name, parts in of.items() if said in {str(one.pk) for one in parts}}


#: fields of a limit, as its name in the core
LIMIT_FIELDS = {"money": "budget_minor", "lead_days": "ready_on", "kg": "lighter_kg"}


def _loosened(request: HttpRequest) -> dict[str, Any]:
    """A limit as the address loosens it: the least with which a set holds."""
    name, _, said = request.GET.get("with", "")[:60].partition(":")
    try:
        value = float(said)
    except ValueError:
        return {}
    if name not in LIMIT_FIELDS or not 0.0 <= abs(value) < 1e9:
        return {}
    if name == "lead_days":
        return {"ready_on": timezone.localdate() + timedelta(days=min(int(value), 3650))}
    return {LIMIT_FIELDS[name]: in_hundredths(value) if name == "money" else max(0.0, -value)}


def _initial(again: Search | None) -> dict[str, Any]:
    return {name: value for name, value in again.asked.items() if value not in (None, "")} if again is not None else {}


def found(request: HttpRequest, car_id: int, search_id: int) -> HttpResponse:
    """A search: how far it is, or its answer; posted to, it goes on a step."""
    file = open_file(request.user, car_id)
    search = get_object_or_404(Search, pk=search_id, car=file.car)
    if request.method == "POST":
        services.go_on(file, search)
        if not request.headers.get("HX-Request"):
            return redirect("found", car_id, search_id)
    context = {"search": search, "goal": GOALS[search.asked["goal"]], **_progress(search)}
    if search.done:
        context |= _answer(file, search)
    if request.headers.get("HX-Request"):
        return render(request, "planner/found_part.html", {"file": file, **context})
    return page(request, file, "choose", "planner/found.html", context)


def _progress(search: Search) -> dict[str, Any]:
    state = search.state
    pairs = len(state.get("pairs", ())) * len(state.get("settings", ()))
    return {
        "judged": len(state["judged"]),
        "of": pairs or sum(key.startswith("p") for key in state["facts"]),
        "hits": sum(one["state"] == "hit" for one in state["judged"].values()),
        "rounds": state["rounds"],
        "whole": len(state["whole"]),
    }


def _number(request: HttpRequest) -> int:
    """The number of a set as it was sent; -1 where it is none."""
    said = request.POST.get("set", "")
    return int(said) if said.isascii() and said.isdecimal() and len(said) < 4 else -1


@require_POST
def make(request: HttpRequest, car_id: int, search_id: int) -> HttpResponse:
    """A set becomes a build."""
    file = open_file(request.user, car_id)
    search = get_object_or_404(Search, pk=search_id, car=file.car)
    try:
        build = services.make_build(file, search, request.user, _number(request))
    except BadInput as error:
        messages.error(request, f"No build was made: {error.message}.")
        return redirect("found", car_id, search_id)
    messages.success(request, f"{build.name} is made; its parts are wanted.")
    return redirect("build", car_id, build.pk)


@require_POST
def pin(request: HttpRequest, car_id: int, search_id: int) -> HttpResponse:
    """The parts of a set are pinned on the list."""
    file = open_file(request.user, car_id)
    search = get_object_or_404(Search, pk=search_id, car=file.car)
    try:
        count = services.pin_set(file, search, request.user, _number(request))
    except BadInput as error:
        messages.error(request, f"Nothing was pinned: {error.message}.")
    else:
        messages.success(request, f"{count} part{'s are' if count != 1 else ' is'} pinned on the list.")
    return redirect("found", car_id, search_id)


def clears(request: HttpRequest, car_id: int, search_id: int, key: str) -> HttpResponse:
    """What would clear a pair that is left out: the easiest two ways, in a line."""
    file = open_file(request.user, car_id)
    search = get_object_or_404(Search, pk=search_id, car=file.car)
    fact = search.state.get("facts", {}).get(key)
    if fact is None or "wheel" not in fact:
        return HttpResponse("")
    end, found = ways_out(file, search.asked, search.state, key)
    context = {"file": file, "ways": found[:2], "end": ENDS.get(end, "")}
    return render(request, "planner/found_clears.html", context)


@dataclass(frozen=True)
class Shown:
    """A set as it stands on the page."""

    number: int
    names: tuple[str, ...]
    set_to: tuple[tuple[str, float, str], ...]
    said: dict[str, Any]
    scene: Scene | None
    corner: str
    #: what can be held when it is asked again: name, number
    holds: tuple[tuple[str, int], ...]
    #: what it is worse by than the first, in what was asked to be best: figure, its kind, words
    behind: tuple[float, str, str] | None


def _answer(file: CarFile, search: Search) -> dict[str, Any]:
    state, asked = search.state, search.asked
    listed = listed_of(file)
    names = {part.pk: str(part) for part in (*listed.wheels, *listed.tyres, *listed.parts)}
    sets: list[Shown] = []
    for number, keys in enumerate(state.get("sets", [])):
        said = said_of_set(state, keys)
        facts = [state["facts"][key] for key in keys]
        scene, corner = _section(file, asked, state, keys, number, said)
        sets.append(
            Shown(
                number,
                tuple(words for fact in facts for words in _words(fact, names)),
                tuple(
                    (words, fact[name], kind)
                    for fact in facts
                    for name, words, kind in (
                        ("drop_mm", "lowered", "length"),
                        ("spacer_mm", "spacer", "length"),
                        ("camber_deg", "camber", "angle"),
                    )
                    if fact.get(name)
                ),
                said,
                scene=scene,
                corner=corner,
                holds=tuple(
                    (names[fact[one]], fact[one])
                    for fact in facts
                    for one in ("wheel", "tyre", "part")
                    if fact.get(one) in names
                ),
                behind=behind(asked["goal"], state, keys, state["sets"][0]) if number else None,
            )
        )
    return {
        "sets": sets,
        "left_out": _left_out(state, names),
        "camber": camber_told(file, asked),
        "reads": _reads(sets),
        "curves": _curves(state),
        "ways": [_way(*row) for row in state.get("without", []) if len(row) == 3],
        "families": [FAMILIES[one].plural if one in FAMILIES else one for one in asked["change"]],
    }


def _where(fact: dict[str, Any]) -> str:
    """Where an option goes, where a set could have put it elsewhere."""
    place = fact.get("end") or (fact.get("place", "") if fact.get("choice") else "")
    return f"{ENDS[place]}: " if place in ENDS else "front and rear: " if place == "A" else ""


def _words(fact: dict[str, Any], names: dict[int, str]) -> list[str]:
    """What is of an option, in words."""
    parts = [fact[one] for one in ("wheel", "tyre", "part") if one in fact]
    found = [f"{_where(fact)}{names.get(pk, 'gone from the list')}" for pk in parts]
    return [*found, f"out: {fact['name']}"] if "item" in fact else found


def _in_words(state: dict[str, Any], said: str, names: dict[int, str]) -> str:
    """What is left out: options as they are called on the list, anything else as it was said."""
    keys = said.split("+")
    if not all(key in state["facts"] for key in keys):
        return said
    return ", ".join(words for key in keys for words in _words(state["facts"][key], names))


@dataclass(frozen=True)
class Way:
    """A limit that stands in the way, what it would have to be, and how it is asked again with that."""

    name: str
    code: str
    #: money in minor units, days, or kilograms lighter; None: still nothing
    needed: float | None
    ask: str
    #: without it a set would hold
    alone: bool = False


def _way(code: str, goal: float | None, needed: float | None = None) -> Way:
    words = {"money": "the budget", "lead_days": "the day", "kg": "the weight", "kg_off": "the class minimum"}
    name = words.get(code, code)
    if needed is None or code not in LIMIT_FIELDS:
        return Way(name, code, None, "", goal is not None)
    up = math.ceil(needed) if code in ("money", "lead_days") else math.ceil(needed * 10.0) / 10.0
    shown = in_hundredths(up) if code == "money" else -up if code == "kg" else up
    return Way(name, code, shown, f"{code}:{up:g}")


def _section(
    file: CarFile, asked: dict[str, Any], state: dict[str, Any], keys: list[str], number: int, said: dict[str, Any]
) -> tuple[Scene | None, str]:
    """The section of the corner that is tightest."""
    gap = said.get("gap")
    corner = next((code for code, name in CORNER_NAMES.items() if gap and name == gap[1]), "")
    axle = file.core_axle(corner[0]) if corner else None
    wanted = (
        candidate(file, set_build(file, asked, state, keys, 500_000 + number), corner[0]) if axle is not None else None
    )
    if axle is None or wanted is None:
        return None, ""
    wanted = wanted.at(corner)
    here = [one for one in axle.readings if one.corner == corner]
    gaps = at_rest.judge_corner(corner, here, wanted, file.tolerances(asked["school"]))
    return well_scene(corner, axle.present, wanted, here, gaps, 300, 260), CORNER_NAMES[corner]


#: pairs that are left out of which is said what would clear them
MOST_CLEARED = 3


def _left_out(state: dict[str, Any], names: dict[int, str]) -> list[tuple[str, str, float | None, str]]:
    """What is out and why: what lacks least first."""
    rows: dict[str, tuple[str, str, float | None, str]] = {}
    for key, one in state["judged"].items():
        if one["state"] != "hit":
            continue
        fact = state["facts"][key]
        name = f"{names.get(fact['wheel'], '?')} with {names.get(fact['tyre'], '?')}"
        held = rows.get(name)
        if held is None or (one["short"] or -1e9) > (held[2] or -1e9):
            rows[name] = (name, one["why"], one["short"], key if one.get("gap_hit") else "")
    told = sorted(rows.values(), key=lambda row: -(row[2] if row[2] is not None else -1e9))
    asked = [row[3] for row in told[:8] if row[3]][:MOST_CLEARED]
    told = [(name, why, short, key if key in asked else "") for name, why, short, key in told]
    others = dict.fromkeys((_in_words(state, said, names), why) for said, why in state["out"])
    return [*told[:8], *((name, why, None, "") for name, why in list(others)[:8])]


def _reads(sets: list[Shown]) -> list[tuple[str, str, str, int]]:
    """Readings that are open in most of the sets: corner, station, name, how many sets stand or fall with it."""
    count: dict[str, int] = {}
    for one in sets:
        for name in one.said.get("open", []):
            count[name] = count.get(name, 0) + 1
    found = []
    for name, sets_of in sorted(count.items(), key=lambda row: -row[1]):
        corner, _, code = name.partition(".")
        if code in STATIONS and corner in CORNER_NAMES:
            found.append((corner, code, f"{STATIONS[code].name}, {CORNER_NAMES[corner]}", sets_of))
    return found[:5]


#: what money buys: code, heading, what the broken line is
CURVES = (
    ("margin_mm", "What money buys: room at the tightest gap", "nothing left of the margin"),
    ("lighter_kg", "What money buys: weight", "as heavy as now"),
)


def _curves(state: dict[str, Any]) -> list[dict[str, Any]]:
    """Money against room and against weight, of every pair that was judged and does not touch."""
    return [drawn for what in CURVES if (drawn := _curve(state, *what)) is not None]


def _gain(state: dict[str, Any], key: str, what: str) -> float | None:
    if what == "margin_mm":
        found = state["judged"][key]["margin_mm"]
        return None if found is None else float(found)
    kg = state["facts"][key]["kg"]
    return None if kg is None else -float(kg)


def _curve(state: dict[str, Any], what: str, heading: str, broken: str) -> dict[str, Any] | None:
    """One of them: those that nothing beats as steps, sets by their number."""
    hold = [key for key, one in state["judged"].items() if one["state"] != "hit" and "end" not in state["facts"][key]]
    known = [(key, gain) for key in hold if (gain := _gain(state, key, what)) is not None]
    drawn = curve_of([(in_whole(state["facts"][key]["money_minor"]), gain) for key, gain in known])
    if drawn is None:
        return None
    chosen = {key: number + 1 for number, keys in reversed(list(enumerate(state.get("sets", [])))) for key in keys}
    dots = [(x, y, chosen.get(key)) for (key, _), (x, y) in zip(known, drawn.dots, strict=True)]
    return {
        "heading": heading,
        "broken": broken,
        "size": (drawn.wide, drawn.high),
        "dots": sorted(dots, key=lambda dot: dot[2] is not None),
        "path": drawn.path,
        "nought": drawn.nought,
        "ends": (in_hundredths(drawn.low), in_hundredths(drawn.most)),
    }
