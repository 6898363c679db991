"""A pair of a search judged on the car: standing still first, and moved where it does not touch so."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Mapping
from typing import Any

from garage.file import CarFile
from garage.honest import taught
from planner.chosen import candidate
from planner.finder.built import set_build
from planner.finder.options import next_setting, place_after
from planner.finder.wished import is_out
from planner.models import Build
from rimcore.quantities.judgement import Judgement, severity, worst
from rimcore.well.judge import fitment

Judges = Callable[[CarFile, Build, str], Iterable[Judgement]]


def judge(file: CarFile, asked: Mapping[str, Any], state: dict[str, Any], key: str) -> None:
    """A pair at its end, or at both."""
    found = still(file, asked, state, key)
    if found["state"] != "hit":
        # what touches standing still need not be moved
        found = _of_its_shape(file, asked, state, key, "moved", judged_pair)
    put_judged(asked, state, key, found)


def still(file: CarFile, asked: Mapping[str, Any], state: dict[str, Any], key: str) -> dict[str, Any]:
    """A pair standing still."""
    return _of_its_shape(file, asked, state, key, "still", standing_pair)


def _of_its_shape(
    file: CarFile, asked: Mapping[str, Any], state: dict[str, Any], key: str, table: str, make: Judges
) -> dict[str, Any]:
    """What is found of a pair in its setting: the same for all pairs of one shape, worked out once."""
    fact, known = state["facts"][key], state.setdefault(table, {})
    name = f"{fact['as']}.{key.rpartition('.')[2]}"
    if name not in known:
        build = set_build(file, asked, state, [key], 1 + len(known))
        known[name] = kept(taught(file, make(file, build, fact.get("end", "FR"))))
    found: dict[str, Any] = known[name]
    return found


def put_judged(asked: Mapping[str, Any], state: dict[str, Any], key: str, found: dict[str, Any]) -> None:
    """What was found of a pair is kept; where another of its settings may be better, that one may be picked too."""
    state["judged"][key] = found
    if is_out(asked, found) or _may_be_roomier(state, key, found["margin_mm"]):
        next_setting(state, key)


def _may_be_roomier(state: Mapping[str, Any], key: str, margin_mm: float | None) -> bool:
    """Where most room is best: could the pair have more in the setting that is to be looked at next?"""
    if "rooms" not in state:
        return False
    place = place_after(state, key)
    most = None if place is None else state["rooms"][key.rpartition(".")[0]][place]
    return most is not None and (margin_mm is None or most > margin_mm)


def judged_pair(file: CarFile, build: Build, at: str = "FR") -> tuple[Judgement, ...]:
    """Wheels and tyres of a build at both ends, or at one."""
    ends = {}
    for end in at:
        axle, wanted = file.core_axle(end), candidate(file, build, end)
        if axle is not None and wanted is not None:
            ends[end] = fitment.judge(axle, wanted, file.tolerances(build.tolerance)).judgements
    return tuple(fitment.both_ends(ends))


def standing_pair(file: CarFile, build: Build, at: str = "FR") -> list[Judgement]:
    """A build's wheels standing still: some of what the whole judgement is made of.

    No gap is looked at where they do not go on at all.
    """
    stands = [
        (axle, wanted)
        for end in at
        if (axle := file.core_axle(end)) is not None and (wanted := candidate(file, build, end)) is not None
    ]
    found = [one for axle, wanted in stands for one in fitment.beside_gaps(axle, wanted)]
    if any(one.state == "hit" for one in found):
        return found
    tolerances = file.tolerances(build.tolerance)
    return [one for axle, wanted in stands for one in fitment.standing(axle, wanted, tolerances)]


def kept(found: Iterable[Judgement]) -> dict[str, Any]:
    """What is kept of judgements: the worst, the tightest gap, what is not measured."""
    rows = sorted(found, key=severity)
    gaps = [one for one in rows if one.code.startswith("gap.") and one.margin is not None]
    tight = min(gaps, key=lambda one: one.margin or 0.0, default=None)
    hits = [one for one in rows if one.state == "hit"]
    first = hits[0] if hits else None
    open_ = sorted({name for one in rows if one.state == "unmeasured" for name in one.missing})
    return {
        "state": worst(one.state for one in rows),
        "tight": any(one.state == "tight" for one in rows),
        "why": f"{first.name}{f', {first.where}' if first.where else ''}: {first.reason}" if first else "",
        "gap": None if tight is None else [tight.name, tight.where, tight.value, tight.state],
        "margin_mm": None if tight is None else round(tight.margin or 0.0, 3),
        "gap_hit": first is not None and first.code.startswith("gap."),
        "short": None if first is None or first.margin is None else round(first.margin, 2),
        "open": open_,
    }
