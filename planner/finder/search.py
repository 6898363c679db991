"""The search itself: options out of the list, the cheapest sets by the core, judged exactly where they are in the running.

What nobody judged yet counts as holding, so that a set that is offered is the best there is: the core picks, the car
judges what was picked, what hits is out, and the core picks again.
"""

from __future__ import annotations

import math
import time
from collections.abc import Iterable, Mapping
from dataclasses import replace
from typing import Any

from django.utils import timezone

from garage.file import CarFile
from garage.inhand import beside
from garage.mass.ledger import items_of
from planner.chosen import candidate, choices_of
from planner.dates.facts import planned_of
from planner.dates.reckoned import chances_of
from planner.finder.built import beside_of, labels_of, parts_by_number, set_build
from planner.finder.judged import judge, judged_pair, kept
from planner.finder.models import Search
from planner.finder.options import next_setting, setting_after, slot_name, spares_of
from planner.finder.room import bound_next, roomiest_next
from planner.finder.wished import TOP, is_out, wish_of
from planner.models import Build
from planner.parts import dragged_along
from planner.queries import sums
from rimcore.choosing.compose import FIGURES, Option, Wish, compose, without
from rimcore.choosing.finding import best_under, new_hits
from rimcore.quantities.judgement import Judgement
from rimcore.well.judge import fitment
from rimcore.well.judge.remedies import Remedy, remedies
from shelf.queries import listed_of

#: rounds at the most
MOST_ROUNDS = 400
#: processor time of one step [s]
STEP_S = 0.3
#: options, one or two at a time, that are tried for what a set hits
MOST_TRIES = 40
#: options that the core takes as one that does not go together
MOST_TOGETHER = 4


def step(file: CarFile, search: Search) -> None:
    """Go on for about a third of a second of processor time; the state is kept by whoever calls."""
    state, asked, began = search.state, search.asked, time.process_time()
    _leave_what_is_gone(file, state)
    while not search.done and time.process_time() - began < STEP_S:
        if state["phase"] == "line up":
            _line_up(asked, state)
        elif state["phase"] == "bound":
            bound_next(file, asked, state)
        elif state["phase"] == "roomiest":
            roomiest_next(file, asked, state)
        elif state["phase"] == "compose":
            _compose(asked, state)
        elif state["phase"] == "likely":
            _likely_next(file, asked, state)
        elif state["phase"] == "judge":
            _judge_next(file, asked, state)
        elif state["phase"] == "loosen":
            _loosen_next(file, asked, state)
        elif state["phase"] == "blame":
            _blame_next(file, asked, state)
        else:
            _whole_next(file, asked, state)
        search.done = state["phase"] == "done"


def _leave_what_is_gone(file: CarFile, state: dict[str, Any]) -> None:
    """What went from the list since the search began is not looked at any more."""
    there, gone = parts_by_number(file), set(state["gone"])
    for key, fact in state["facts"].items():
        missing = [fact[name] for name in ("wheel", "tyre", "part") if fact.get(name) and fact[name] not in there]
        if missing and key not in gone:
            state["gone"].append(key)


def _compose(asked: Mapping[str, Any], state: dict[str, Any]) -> None:
    wish = wish_of(asked, state, timezone.localdate())
    state["rounds"] += 1
    bare = [slot.name for slot in wish.slots if not slot.options]
    if bare or not wish.slots:
        state["out"] += [[slot_name(one), "nothing of it is left"] for one in bare]
        state |= {"sets": [], "proven": True, "without": [], "phase": "done"}
        return
    found = compose(wish)
    state["sets"] = [_least_moved(wish, [key for _, key in one.chosen if key is not None]) for one in found.sets]
    state["proven"] = found.proven and state["rounds"] < MOST_ROUNDS and not (state.get("capped") or state.get("shaky"))
    waiting = [key for keys in state["sets"] for key in keys if key.startswith("p") and key not in state["judged"]]
    if waiting and state["rounds"] < MOST_ROUNDS:
        state |= {"phase": "judge", "waiting": list(dict.fromkeys(waiting))}
    elif any(_name(keys) not in state["whole"] for keys in state["sets"]) and state["rounds"] < MOST_ROUNDS:
        state["phase"] = "whole"
    else:
        state["without"] = []
        if state["rounds"] >= MOST_ROUNDS:
            # what nobody judged whole is not offered
            state["sets"] = [keys for keys in state["sets"] if _name(keys) in state["whole"]]
            state["out"].append(
                [f"after {MOST_ROUNDS} rounds", "no more is looked at: hold something, or ask for less"]
            )
            state["phase"] = "done"
            return
        if not state["sets"]:
            state |= {"phase": "loosen", "ways": [list(one) for one in without(wish)]}
            return
        state["phase"] = "done"


def _line_up(asked: Mapping[str, Any], state: dict[str, Any]) -> None:
    """Pairs in the order in which the core would pick them, the best first, to be judged until a few hold.

    The core would pick them one round after the other; judging more than it would have picked changes no answer.
    """
    wish = wish_of(asked, state, timezone.localdate(), whole=True)
    rows = [one for slot in wish.slots for one in slot.options if one.alike and _alone_within(one, wish)]
    rows.sort(key=lambda one: (_worth(one, wish.goal), one.money, one.kg))
    ends = {state["facts"][one.id].get("end", "") for one in rows}
    state |= {"phase": "likely", "queue": [one.id for one in rows], "hold": dict.fromkeys(ends, 0)}


def _worth(one: Option, goal: str) -> float:
    return -one.score if goal == "score" else float(getattr(one, goal))


def _alone_within(one: Option, wish: Wish) -> bool:
    """Does an option by itself keep the limits that no other option can mend?"""
    limits = wish.limits
    return one.money <= limits.get("money", math.inf) and one.lead_days <= limits.get("lead_days", math.inf)


def _likely_next(file: CarFile, asked: Mapping[str, Any], state: dict[str, Any]) -> None:
    """The next pair in line; of one that is out the next setting stands in its place."""
    queue, hold = state["queue"], state["hold"]
    key = next((key for key in queue if hold[state["facts"][key].get("end", "")] < TOP), None)
    if key is None:
        state |= {"phase": "compose", "queue": []}
        return
    place = queue.index(key)
    judge(file, asked, state, key)
    following = setting_after(state, key)
    if not is_out(asked, state["judged"][key]):
        hold[state["facts"][key].get("end", "")] += 1
        queue[: place + 1] = []
    else:
        queue[: place + 1] = [following] if following else []


def _least_moved(wish: Wish, keys: list[str]) -> list[str]:
    """A set with its levers moved as little as it may: an earlier setting where it is in and no worse."""
    for place, key in enumerate(keys):
        slot = next(slot for slot in wish.slots if any(one.id == key for one in slot.options))
        picked = next(one for one in slot.options if one.id == key)
        for one in slot.options:
            there = {*keys[:place], one.id, *keys[place + 1 :]}
            stands = not any(there.issuperset(group) for group in wish.not_together)
            if picked.alike and replace(one, id=key) == picked and stands:
                keys = [*keys[:place], one.id, *keys[place + 1 :]]
                break
    return keys


def ways_out(
    file: CarFile, asked: Mapping[str, Any], state: Mapping[str, Any], key: str
) -> tuple[str, tuple[Remedy, ...]]:
    """What would clear a pair that hits, at the first end where it does: the end, and the ways, the easiest first."""
    build = set_build(file, asked, state, [key], 700_000)
    listed = tuple(tyre.size for tyre in listed_of(file).tyres)
    for end in state["facts"][key].get("end", "FR"):
        axle, wanted = file.core_axle(end), candidate(file, build, end)
        if axle is not None and wanted is not None:
            found = fitment.judge(axle, wanted, file.tolerances(build.tolerance)).judgements
            if any(one.state == "hit" and one.code.startswith("gap.") for one in found):
                return end, remedies(axle, wanted, file.tolerances(build.tolerance), listed)
    return "", ()


def _loosen_next(file: CarFile, asked: Mapping[str, Any], state: dict[str, Any]) -> None:
    """What the next limit would have to be: the set that is least of it is judged, and another sought where it hits."""
    if not state["ways"]:
        state["phase"] = "done"
        return
    name, goal = state["ways"][0]
    wish = wish_of(asked, state, timezone.localdate())
    asks = goal is not None and name in FIGURES and all(slot.options for slot in wish.slots)
    found = best_under(wish, name) if asks else None
    keys = [key for key in found.keys if key.startswith("p") and key not in state["judged"]] if found else []
    if keys and state["rounds"] < MOST_ROUNDS:
        state["rounds"] += 1
        for key in keys:
            judge(file, asked, state, key)
        return
    state["ways"].pop(0)
    state["without"].append([name, goal, None if found is None else found.value])


def _name(keys: Iterable[str]) -> str:
    return "+".join(sorted(keys))


def said_of_set(state: Mapping[str, Any], keys: Iterable[str]) -> dict[str, Any]:
    """What a set comes to, as it was judged whole."""
    found: dict[str, Any] = state["whole"].get(_name(keys), {})
    return found


#: what a set is behind the first in: figure of an option, its kind, words
BEHIND = {
    "money": ("money_minor", "money", "more"),
    "kg": ("kg", "mass", "heavier"),
    "width": ("width_mm", "length", "narrower"),
    "stars": ("stars", "stars", "fewer"),
}


def behind(goal: str, state: Mapping[str, Any], keys: Iterable[str], first: Iterable[str]) -> tuple[float, str, str]:
    """What a set is worse by than the first, in what was asked to be best: figure, its kind, words."""
    if goal in BEHIND:
        name, kind, words = BEHIND[goal]
        here, best = (sum(state["facts"][key].get(name) or 0.0 for key in one) for one in (keys, first))
        return abs(here - best), kind, words
    if goal == "lead_days":
        here, best = (max(state["facts"][key].get(goal) or 0 for key in one) for one in (keys, first))
        return here - best, "days", "later"
    rooms = [[state["judged"][key]["margin_mm"] for key in one if key in state["judged"]] for one in (keys, first)]
    here, best = (min((room for room in one if room is not None), default=0.0) for one in rooms)
    return round(best - here, 1), "length", "less room"


def _judge_next(file: CarFile, asked: Mapping[str, Any], state: dict[str, Any]) -> None:
    """The next pair of those in the running, at both ends."""
    if not state["waiting"]:
        state["phase"] = "compose"
        return
    judge(file, asked, state, state["waiting"].pop(0))


def _whole_next(file: CarFile, asked: Mapping[str, Any], state: dict[str, Any]) -> None:
    """The next set, judged whole by every bench; one that hits is cut."""
    if "stands" not in state:
        # the car as it is: gaps and parts in one step, the benches in the next
        bare = set_build(file, asked, state, [], 900_000)
        here = beside_of(file, bare)
        if "stands_first" not in state:
            found = [*sums(here, bare).judgements, *_with_spare(file, asked, state, [])]
            state["stands_first"] = [list(one) for one in _hits(found)]
        else:
            state["stands"] = [*state["stands_first"], *(list(one) for one in _hits(beside(here)))]
        return
    keys = next((keys for keys in state["sets"] if _name(keys) not in state["whole"]), None)
    if keys is None:
        state["phase"] = "compose"
        return
    half, labels = state.get("half"), labels_of(state, keys)
    build = set_build(file, asked, state, keys, 100_000 + len(state["whole"]))
    here = beside_of(file, build, labels)
    if half is None or half["name"] != _name(keys):
        # gaps and parts in one step, the benches in the next: no step is long
        found = list(sums(here, build).judgements)
        state["half"] = {"name": _name(keys), "said": _set_said(here, build, found, labels)}
        if not _blame(state, keys, found):
            # what a spare does not go over is no wheel of the set, but may be how low the set lets the car stand
            over = _with_spare(file, asked, state, keys)
            _blame(state, [key for key in keys if _moves_spare(state, key)], over)
            _said_open(state, over)
        return
    found = beside(here)
    state["half"] = None
    if not _blame(state, keys, found):
        open_ = {name for one in found if one.state == "unmeasured" for name in one.missing}
        half["said"]["open"] = sorted({*half["said"]["open"], *open_})
        late = _too_late(asked, half["said"])
        if late and keys:
            state["shaky"] = state.get("shaky") or len(keys) > MOST_TOGETHER
            state["blame"] = {"why": late}
            _out(state, keys[:MOST_TOGETHER], whole=True)
            return
        state["whole"][_name(keys)] = half["said"]


def _too_late(asked: Mapping[str, Any], said: Mapping[str, Any]) -> str:
    """Is a set ready for the event less often than was asked, or does nobody know? In words."""
    wanted, chance = asked.get("chance_pct"), said.get("chance")
    if not wanted:
        return ""
    if chance is None:
        return "when it is ready can't be said: an event, a lead time or hours are not known"
    return f"ready for the event in {chance:.0f} of 100 draws" if chance < wanted else ""


def _blame(state: dict[str, Any], keys: list[str], found: list[Judgement]) -> bool:
    """Does a set hit anything that the car does not hit as it is? Then it is asked which of its parts does."""
    hits = new_hits(_hits(found), [tuple(one) for one in state["stands"]])
    if not hits or not keys:
        return False
    first = next(one for one in found if (one.code, one.where) == hits[0])
    why = _why(first)
    pairs = [[one, other] for k, one in enumerate(keys) for other in keys[k + 1 :]]
    # what was picked with wheels is asked with its wheels: alone it would stand beside those on the car now
    pairs.sort(key=lambda two: (not any(_speaks_of(state, key, first.code) for key in two), two[0][0] != "p"))
    state["blame"] = {
        "keys": keys,
        "hit": list(hits[0]),
        "why": why,
        "tries": pairs[:MOST_TRIES] if len(keys) > 2 else [],
    }
    state |= {"phase": "blame", "half": None}
    return True


def _speaks_of(state: Mapping[str, Any], key: str, code: str) -> bool:
    """Is a judgement's code of the family of an option? That one is asked first."""
    return any(key in keys and name in code.split(".") for name, keys in state["options"].items())


def _blame_next(file: CarFile, asked: Mapping[str, Any], state: dict[str, Any]) -> None:
    """The next two options of a set that hits, by themselves: two that hit are not taken together again."""
    blame = state["blame"]
    if blame.get("probes"):
        _probe_next(file, asked, state)
        return
    if not blame["tries"]:
        state["shaky"] = state.get("shaky") or len(blame["keys"]) > MOST_TOGETHER
        _guilty(state, blame["keys"][:MOST_TOGETHER])
        return
    keys = blame["tries"].pop(0)
    if _same_hit(file, asked, state, keys):
        # what hits as two may hold with a third: the answer is not called proven then
        state["shaky"] = True
        _guilty(state, keys)


def _same_hit(file: CarFile, asked: Mapping[str, Any], state: dict[str, Any], keys: list[str]) -> str:
    """Do some options by themselves hit what their set hits? In words why; nothing where they don't."""
    state["tried"] = state.get("tried", 0) + 1
    build = set_build(file, asked, state, keys, 200_000 + state["tried"])
    here = beside_of(file, build, labels_of(state, keys))
    found = [*sums(here, build).judgements, *beside(here), *_with_spare(file, asked, state, keys)]
    hit = next((one for one in found if one.state == "hit" and [one.code, one.where] == state["blame"]["hit"]), None)
    return "" if hit is None else _why(hit)


def _why(hit: Judgement) -> str:
    return f"{hit.name}{f', {hit.where}' if hit.where else ''}: {hit.reason}"


def _guilty(state: dict[str, Any], keys: list[str]) -> None:
    """Those that hit together are out, after what else it may hang on was asked: the levers, and the wheels at all."""
    blame = state["blame"]
    blame |= {"guilty": keys, "probes": [], "alike": True}
    pair = next((key for key in keys if key.startswith("p")), "")
    others = [key for key in keys if key != pair]
    if pair and not blame["hit"][0].startswith("gap.") and len(state["settings"]) > 1:
        blame["probes"].append([f"{pair.rpartition('.')[0]}.{len(state['settings']) - 1}", *others])
    if pair and len(others) == 1 and not others[0].startswith("p") and _often(state, others[0], blame["why"]):
        blame["probes"] += [[key, *others] for key in _other_wheels(state, pair)]
    if not blame["probes"]:
        _out(state, keys)


#: an option that hit with so many pairs in the same words is asked beside other kinds of wheel, so many at the most
OFTEN, MOST_KINDS = 3, 12


def _often(state: Mapping[str, Any], key: str, why: str) -> bool:
    """Did an option hit with several pairs already, in the same words?"""
    pairs = {
        one.rpartition(".")[0]
        for group, said in zip(state["cut"], state.get("cut_why", []), strict=False)
        for one in group
        if key in group and said == why and one.startswith("p")
    }
    return len(pairs) >= OFTEN


def _other_wheels(state: Mapping[str, Any], here: str) -> list[str]:
    """Of every other kind of wheel that is looked at, by bore, bolts and size, a pair at the same end."""
    kinds: dict[tuple[Any, ...], str] = {}
    mine, end = tuple(state["facts"][here]["kind"]), state["facts"][here].get("end")
    for pair, fact in state["pairs"].items():
        if fact.get("end") == end and tuple(fact["kind"]) != mine:
            kinds.setdefault(tuple(fact["kind"]), f"{pair}.0")
    return list(kinds.values())[:MOST_KINDS]


def _probe_next(file: CarFile, asked: Mapping[str, Any], state: dict[str, Any]) -> None:
    """Whether it hits all the same with the levers moved, or on other wheels; then that is out, too."""
    blame = state["blame"]
    keys = blame["probes"].pop(0)
    pair, _, place = keys[0].rpartition(".")
    known = keys[0] in state["facts"]
    if not known:
        state["facts"][keys[0]] = state["pairs"][pair] | state["settings"][int(place)]
    said = _same_hit(file, asked, state, keys)
    if not known:
        del state["facts"][keys[0]]
    here = next(key for key in blame["guilty"] if key.startswith("p")).rpartition(".")[0]
    if pair == here:
        blame["stays"] = bool(said)
        # what lies between the least and the most that the levers move was not asked
        state["shaky"] = state.get("shaky") or (bool(said) and len(state["settings"]) > 2)
    else:
        blame["alike"] &= said == blame["why"]
        if not blame["alike"]:
            blame["probes"] = []
        blame["asked"] = True
    if not blame["probes"]:
        if blame.get("asked") and blame["alike"]:
            # on every kind of wheel: it is the option itself
            state["shaky"] = True
            _out(state, [key for key in blame["guilty"] if not key.startswith("p")])
        else:
            _out(state, blame["guilty"], whole=blame.get("stays", False))


def _out(state: dict[str, Any], keys: list[str], whole: bool = False) -> None:
    """One option is out, or several are not taken together, a pair in ``whole`` in no setting; the core picks again."""
    for every in _settings_of(state, keys) if whole else [keys]:
        if len(every) == 1:
            state["gone"].append(every[0])
        else:
            state["cut"].append(list(every))
            state.setdefault("cut_why", []).append(state["blame"]["why"])
    for key in () if whole else keys:
        next_setting(state, key)
    state["out"].append([_name(keys), state["blame"]["why"]])
    state |= {"phase": "compose", "blame": None}


def _said_open(state: Mapping[str, Any], found: Iterable[Judgement]) -> None:
    """What of a spare nobody measured is open of the set, too."""
    if state["half"] is not None:
        bare = {name for one in found if one.state == "unmeasured" for name in one.missing}
        state["half"]["said"]["open"] = sorted({*state["half"]["said"]["open"], *bare})


def _settings_of(state: Mapping[str, Any], keys: list[str]) -> list[list[str]]:
    """A set in every setting of its wheels that may be picked: what is late in one is late in all."""
    found = [keys]
    for place, key in enumerate(keys):
        if key.startswith("p"):
            pair = key.rpartition(".")[0]
            alike = [one for one in state["facts"] if one.startswith("p") and one.rpartition(".")[0] == pair]
            found = [[*one[:place], other, *one[place + 1 :]] for one in found for other in alike]
    return found


def _moves_spare(state: Mapping[str, Any], key: str) -> bool:
    """Does an option change what stands round a spare: everything but a pair that moves neither height nor camber?"""
    fact = state["facts"][key]
    return "wheel" not in fact or bool(fact["drop_mm"] or fact["camber_deg"])


def _with_spare(file: CarFile, asked: Mapping[str, Any], state: dict[str, Any], keys: list[str]) -> list[Judgement]:
    """Each spare in the place of a set's wheels, beside everything else of it; nothing where no spare is asked for."""
    if not asked.get("keep_spare"):
        return []
    found: list[Judgement] = []
    for row, axle in spares_of(file):
        state["spared"] = state.get("spared", 0) + 1
        build = set_build(file, asked, state, keys, 600_000 + state["spared"], axle)
        found += [
            replace(one, code=f"spare.{one.code}", name=f"{row.name}, {one.name}")
            for one in judged_pair(file, build, axle.end)
            if one.code.startswith(("gap.", "hub."))
        ]
    return found


def _hits(found: Iterable[Judgement]) -> list[tuple[str, str]]:
    return [(one.code, one.where) for one in found if one.state == "hit"]


def _set_said(here: CarFile, build: Build, everything: list[Judgement], labels: frozenset[str]) -> dict[str, Any]:
    """What a set comes to, as a build does."""
    found = sums(here, build)
    told = kept(found.judgements)
    open_ = sorted({name for one in everything if one.state == "unmeasured" for name in one.missing})
    plan = planned_of(here, build)
    return told | {
        "hit": False,
        "money_minor": sum((one.price or 0) * one.quantity for one in choices_of(build))
        + sum(item.cost_minor - item.sold_minor for item in items_of(here) if item.label in labels),
        "kg": None if found.mass.total_kg is None else round(found.mass.total_kg, 2),
        "hours": found.hours.hours,
        "days_in_hand": found.dates.days_in_hand,
        "chance": None if plan.unknown else chances_of(plan.plan).chance_pct,
        "open": open_,
        "drags": [one.need.name for one in dragged_along(here, build) if one.need.needed and one.choice is None][:6],
    }
