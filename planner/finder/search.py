"""The search itself: options out of the list, the cheapest sets by the core, judged exactly where they are in the running.

What nobody judged yet counts as holding, so that a set that is offered is the best there is: the core picks, the car
judges what was picked, what hits is out, and the core picks again.
"""

from __future__ import annotations

import time
from collections.abc import Iterable, Iterator, Mapping, Sequence
from copy import copy
from dataclasses import replace
from datetime import date
from typing import Any

from django.utils import timezone

from garage.car.parts import Part, Tyre, Wheel
from garage.file import CarFile
from garage.honest import taught
from garage.inhand import beside
from garage.mass.ledger import items_of, ledger_of
from garage.mass.models import MassItem
from planner.chosen import builds_of, candidate, choices_of
from planner.dates.facts import planned_of
from planner.dates.reckoned import chances_of
from planner.finder.models import Search
from planner.models import Build, Choice, Lever
from planner.parts import dragged_along, usual_quantity
from planner.queries import sums
from rimcore.choosing.compose import Option, Slot, Wish, compose, without
from rimcore.choosing.finding import best_under, lever_steps, new_hits, wheels_against, worth_asking
from rimcore.choosing.quick import DRILLED, OUT, PAIR, REGULATED
from rimcore.families import FAMILIES, PAIRED
from rimcore.mass.ledger import STRIP_OUT, Weighed
from rimcore.quantities.judgement import Judgement, severity, worst
from rimcore.tables.facts import ENDS
from rimcore.well.judge import fitment
from rimcore.wheels.wheel import same_rim
from rimcore.work.money import in_whole
from shelf.queries import listed_of

#: pairs with their levers that are looked at, parts of a family, sets that are offered, rounds at the most
MOST_COMBOS, MOST_PARTS, TOP, MOST_ROUNDS = 4000, 40, 5, 400
#: processor time of one step [s]
STEP_S = 0.3
#: options, one or two at a time, that are tried for what a set hits
MOST_TRIES = 40
#: options that the core takes as one that does not go together
MOST_TOGETHER = 4
#: musts that rule out kinds of part whole: field, kinds, why
MUSTS = (
    ("no_drilling", DRILLED, "its holes are drilled into the body"),
    ("no_papers", REGULATED, "the law of the road asks for its papers"),
)
#: items of the mass ledger that are looked at, the heaviest
MOST_ITEMS = 15


def begin(file: CarFile, asked: Mapping[str, Any]) -> dict[str, Any]:
    """Options of every slot, and what is out before anything is judged."""
    state: dict[str, Any] = {
        "options": {},
        "facts": {},
        "out": [],
        "judged": {},
        "cut": [],
        "gone": [],
        "rounds": 0,
        "whole": {},
    }
    listed = listed_of(file)
    if PAIR in asked["change"]:
        _pairs(file, asked, listed.wheels, listed.tyres, state)
    if OUT in asked["change"]:
        _items(file, asked, state)
    for family in asked["change"]:
        if family not in (PAIR, OUT):
            _parts(
                file,
                asked,
                family,
                [one for one in listed.parts if one.family == family and _pinned(asked, one)],
                state,
            )
    return state | {"phase": "compose"}


def _pairs(
    file: CarFile, asked: Mapping[str, Any], wheels: list[Wheel], tyres: list[Tyre], state: dict[str, Any]
) -> None:
    """Pairs in their settings: one slot for all four wheels, or one an end where the ends may differ."""
    held = [
        [one for one in parts if asked.get(name) in (None, one.pk) and _pinned(asked, one)]
        for name, parts in (("hold_wheel", wheels), ("hold_tyre", tyres))
    ]
    low, high = asked.get("rim_low"), asked.get("rim_high")
    there = list(_that_go(held[0], held[1], low, high, state))  # type: ignore[arg-type]
    for end in ("F", "R") if asked.get("staggered") else ("",):
        _pairs_at(file, asked, there, end, state)


def _pairs_at(
    file: CarFile, asked: Mapping[str, Any], there: Iterable[tuple[Wheel, Tyre]], end: str, state: dict[str, Any]
) -> None:
    """The pairs for an end, or for both where none is named."""
    settings = _settings(asked)
    found: list[tuple[str, dict[str, Any]]] = []
    base = [file.on(file.baseline, one) for one in ((end,) if end else ("F", "R"))]
    old = [(one.wheel_kg, one.tyre_kg) for one in base if one is not None]
    for wheel, tyre in there:
        kg = wheels_against(wheel.mass_kg, tyre.mass_kg, old)
        said: dict[str, Any] = {"wheel": wheel.pk, "tyre": tyre.pk, **_offered((wheel, tyre), 2 if end else 4)}
        said |= {
            "kg": kg,
            "width_mm": tyre.section_width_mm,
            "stars": wheel.stars + tyre.stars,
            **({"end": end} if end else {}),
        }
        lacks = _lacks(asked, said)
        if lacks:
            state["out"].append([f"{wheel}, {tyre}", lacks])
            continue
        found.append((f"p{end}{wheel.pk}.{tyre.pk}", said))
    found.sort(key=lambda one: one[1]["money_minor"])
    each = max(1, MOST_COMBOS // max(1, len(found)))
    if len(found) > MOST_COMBOS or each < len(settings):
        state["out"].append([f"{len(found)} pairs in {len(settings)} settings", f"{MOST_COMBOS} of them are looked at"])
        state["capped"] = True
    facts = {
        f"{key}.{place}": said | setting
        for place, setting in enumerate(settings[:each])
        for key, said in found[:MOST_COMBOS]
    }
    state["facts"] |= facts
    state["options"][f"{PAIR} {end}".strip()] = list(facts)


def _settings(asked: Mapping[str, Any]) -> list[dict[str, float]]:
    """Steps of the levers together, those that move least first."""
    drops, spacers = lever_steps(asked.get("drop_mm"), 5.0), lever_steps(asked.get("spacer_mm"), 1.0)
    cambers = lever_steps(asked.get("camber_deg"), 0.1)
    rows = [
        {
            "drop_mm": drop,
            "spacer_mm": spacer,
            "camber_deg": camber,
            "moved": sum(one != 0.0 for one in (drop, spacer, camber)),
        }
        for drop in drops
        for spacer in spacers
        for camber in cambers
    ]
    return sorted(rows, key=lambda row: row["moved"])


def _that_go(
    wheels: list[Wheel], tyres: list[Tyre], low: float | None, high: float | None, state: dict[str, Any]
) -> Iterator[tuple[Wheel, Tyre]]:
    """Pairs of one rim diameter, of those that were asked for."""
    for wheel in wheels:
        if not (low or 0.0) <= (wheel.diameter_in or 0.0) <= (high or 99.0):
            state["out"].append([str(wheel), "not the diameter that was asked for"])
            continue
        yield from ((wheel, tyre) for tyre in tyres if same_rim(wheel.diameter_in, tyre.rim_diameter_in))


def _offered(parts: Iterable[Part], count: int) -> dict[str, int | None]:
    """Price of all pieces in minor units and the longest lead in days, each None where somebody has not said it."""
    rows = list(parts)
    prices, leads = [one.price_minor for one in rows], [one.lead_days for one in rows]
    return {
        "money_minor": None if None in prices else sum(price or 0 for price in prices) * count,
        "lead_days": None if None in leads else max(lead or 0 for lead in leads),
    }


def _lacks(asked: Mapping[str, Any], fact: Mapping[str, Any]) -> str:
    """What is asked of an option and not known of it, in words: it is left out, never counted as nothing."""
    if fact["money_minor"] is None:
        return "a price is not known"
    if fact["lead_days"] is None and (asked.get("ready_on") or asked["goal"] == "lead_days"):
        return "a lead time is not known"
    if fact["kg"] is None and (asked.get("lighter_kg") or asked["goal"] == "kg"):
        return "a weight is not known"
    return ""


def _parts(file: CarFile, asked: Mapping[str, Any], family: str, parts: list[Part], state: dict[str, Any]) -> None:
    keys = []
    for must, kinds, why in MUSTS:
        if asked.get(must) and family in kinds and parts:
            state["out"].append([slot_name(family), why])
            parts = []
    for part in parts[:MOST_PARTS]:
        count = usual_quantity(file, part)
        fact = {"part": part.pk, **_offered((part,), count), "kg": part.spec.get("mass_change_kg"), "count": count}
        fact["stars"] = part.stars
        lacks = str(part.fault or _lacks(asked, fact))
        if lacks:
            state["out"].append([str(part), lacks])
            continue
        state["facts"][f"f{part.pk}"] = fact | {"moved": 0}
        keys.append(f"f{part.pk}")
    if len(parts) > MOST_PARTS:
        state["out"].append([f"{len(parts) - MOST_PARTS} more of {family}", f"{MOST_PARTS} are looked at"])
        state["capped"] = True
    state["options"][family] = keys


def _pinned(asked: Mapping[str, Any], part: Part) -> bool:
    return part.pinned or not asked.get("only_pinned")


def _items(file: CarFile, asked: Mapping[str, Any], state: dict[str, Any]) -> None:
    """Items of the mass ledger that could come out, each a slot of its own that may stay empty.

    What only a specialist takes out is never proposed; what nobody weighed can't be reckoned with; what comes out only
    with another is offered where that one is out or offered too.
    """
    every = [one.weighed for one in items_of(file)]
    gone = {item.label for item in every if item.state == "out"}
    offered: list[Weighed] = []
    for item in every:
        if item.state == "out" or (item.guarded and item.state == "planned"):
            continue
        why = _stays(item, asked, gone)
        if why:
            state["out"].append([item.name, why])
        else:
            offered.append(item)
    offered.sort(key=lambda one: -(one.net_kg or 0.0))
    if len(offered) > MOST_ITEMS:
        state["out"].append([f"{len(offered) - MOST_ITEMS} lighter items", f"{MOST_ITEMS} are looked at"])
        state["capped"] = True
    for item in _with_what_they_need(offered[:MOST_ITEMS], gone, state):
        key = f"m{item.label}"
        state["facts"][key] = {
            "item": item.label,
            "name": item.name,
            "money_minor": item.money_minor,
            "kg": -(item.net_kg or 0.0),
            "lead_days": 0,
            "moved": 0,
            "needs": [one for one in item.needs if one not in gone],
            "not_with": list(item.not_with),
        }
        state["options"][f"{OUT} {item.label}"] = [key]


def _stays(item: Weighed, asked: Mapping[str, Any], gone: set[str]) -> str:
    """Why an item is not offered, in words; nothing where it is."""
    if item.guarded:
        return "specialist only"
    if item.net_kg is None:
        return "not weighed"
    if asked.get("can_go_back") and not item.reversible:
        return "can't go back in"
    if asked.get("keep_comfort") and item.comfort:
        return "costs comfort or noise"
    return "not out together with what is out already" if gone.intersection(item.not_with) else ""


def _with_what_they_need(items: list[Weighed], gone: set[str], state: dict[str, Any]) -> list[Weighed]:
    """Those whose others are out or offered; without one of them what needs it stays in, too."""
    while True:
        there = {item.label for item in items} | gone
        bare = [item for item in items if not there.issuperset(item.needs)]
        if not bare:
            return items
        state["out"] += [[item.name, "comes out only with what is not offered"] for item in bare]
        items = [item for item in items if item not in bare]


def _of_ledger(key: str) -> bool:
    """Is it an item that comes out, and no part?"""
    return key.startswith("m")


def _between_items(state: Mapping[str, Any]) -> tuple[list[tuple[str, str]], list[tuple[str, tuple[str, ...]]]]:
    """What of the ledger does not come out together, and what comes out only with another."""
    there = {key for key in state["facts"] if _of_ledger(key)}
    apart: list[tuple[str, str]] = []
    needs: list[tuple[str, tuple[str, ...]]] = []
    for key in sorted(there):
        fact = state["facts"][key]
        apart += [(key, f"m{other}") for other in fact["not_with"] if f"m{other}" in there]
        needs += [(key, (f"m{other}",)) for other in fact["needs"] if f"m{other}" in there]
    return apart, needs


def wish_of(asked: Mapping[str, Any], state: Mapping[str, Any], today: date) -> Wish:
    """What the core is asked: what is not judged yet counts as holding."""
    gone = {key for key, found in state["judged"].items() if found["state"] == "hit" or _unwanted(asked, found)}
    gone |= set(state["gone"])
    slots = tuple(
        Slot(
            name,
            _best_of_each(state, [_option(asked, state, key) for key in keys if key not in gone], core_goal(asked)),
            _required(asked, name),
        )
        for name, keys in state["options"].items()
    )
    slots = tuple(slot for slot in slots if slot.options or slot.required)
    limits: dict[str, float] = {}
    if asked.get("budget_minor"):
        limits["money"] = in_whole(asked["budget_minor"])
    if asked.get("ready_on"):
        limits["lead_days"] = float(max(0, (date.fromisoformat(asked["ready_on"]) - today).days))
    if asked.get("lighter_kg"):
        limits["kg"] = -float(asked["lighter_kg"])
    offered = {option.id for slot in slots for option in slot.options}
    cut = tuple(tuple(one) for one in state["cut"] if offered.issuperset(one))
    apart, needs = _between_items(state)
    differ = 2 if needs or apart or any(not slot.required for slot in slots) else 1
    return Wish(
        slots,
        not_together=(*cut, *apart),
        needs=tuple(needs),
        limits=limits,
        goal=core_goal(asked),
        top=TOP,
        differ=min(differ, len(slots)),
    )


def _required(asked: Mapping[str, Any], name: str) -> bool:
    """Is a slot filled in every set? Items of the ledger never are, others where they may not stay as they are."""
    if name.startswith(f"{OUT} "):
        return False
    return not asked.get("may_stay") or (name.startswith(PAIR) and asked["goal"] in ("score", "width"))


def core_goal(asked: Mapping[str, Any]) -> str:
    """The core's goal: room, width and one's own stars are all a score."""
    return "score" if asked["goal"] in ("score", "width", "stars") else str(asked["goal"])


def _best_of_each(state: Mapping[str, Any], options: list[Option], goal: str) -> tuple[Option, ...]:
    """Of every pair the best setting that is still in: sets that differ by a lever alone are not told as two."""
    found: dict[tuple[Any, ...], Option] = {}
    for one in options:
        fact = state["facts"][one.id]
        pair = tuple(fact.get(name) for name in ("wheel", "tyre", "part", "item"))
        held = found.get(pair)
        if held is None or (goal == "score" and one.score > held.score):
            found[pair] = one
    rows = list(found.values())
    figures = [(one.money, one.kg, one.lead_days, -one.score) for one in rows]
    return tuple(rows[k] for k in worth_asking(figures, TOP + len(state["cut"])))


def _unwanted(asked: Mapping[str, Any], found: Mapping[str, Any]) -> bool:
    """Does a must rule it out: nothing tight, nothing open?"""
    return bool((asked.get("no_tight") and found["tight"]) or (asked.get("no_open") and found["open"]))


def _option(asked: Mapping[str, Any], state: Mapping[str, Any], key: str) -> Option:
    fact, judged = state["facts"][key], state["judged"].get(key)
    # a lever that is moved costs nothing and is a hair worse than one that is left alone
    hair = 0.001 * fact["moved"]
    margin = BEST_MARGIN_MM if judged is None else judged["margin_mm"]
    return Option(
        key,
        money=in_whole(fact["money_minor"]) + hair,
        kg=fact["kg"] or 0.0,
        lead_days=float(fact["lead_days"] or 0),
        score=_score(asked, fact, margin),
    )


def _score(asked: Mapping[str, Any], fact: Mapping[str, Any], margin: float | None) -> float:
    """One's own stars; room or width of a pair. Room that nobody measured counts against the set."""
    if asked["goal"] == "stars":
        return float(fact.get("stars") or 0)
    if "wheel" not in fact:
        return 0.0
    if asked["goal"] == "width":
        return float(fact.get("width_mm") or 0.0)
    if asked["goal"] != "score":
        return 0.0
    return -BEST_MARGIN_MM if margin is None else float(margin)


#: margin that what is not judged yet may have at the most [mm]: it is judged before it is believed
BEST_MARGIN_MM = 1000.0


def set_build(
    file: CarFile, asked: Mapping[str, Any], state: Mapping[str, Any], keys: Sequence[str], number: int
) -> Build:
    """A build that nobody keeps, with the choices and levers of a set: judged exactly as one that was made by hand."""
    build = Build(pk=-number, car=file.car, name="a set", tolerance=asked["school"], in_hand=True)
    choices: list[Choice] = []
    levers: list[Lever] = []
    by_pk = {part.pk: part for part in (*listed_of(file).wheels, *listed_of(file).tyres, *listed_of(file).parts)}
    for key in keys:
        fact = state["facts"][key]
        for name in ("wheel", "tyre", "part"):
            part = by_pk.get(fact.get(name))
            if part is not None:
                choices.append(_choice(file, build, part, fact, len(choices)))
        levers += [Lever(build=build, code=code, place=place, number=value) for code, place, value in levers_of(fact)]
    if any(_of_ledger(key) for key in keys):
        levers.append(Lever(build=build, code=STRIP_OUT.code, number=1.0))
    build._prefetched_objects_cache = {"choices": choices, "levers": levers}  # type: ignore[attr-defined]
    return build


def _choice(file: CarFile, build: Build, part: Part, fact: Mapping[str, Any], place: int) -> Choice:
    position, count = place_and_count(part, fact)
    pk = build.pk * 100 - place
    return Choice(pk=pk, build=build, part=part, position=position, quantity=count, state="wanted")


def place_and_count(part: Part, fact: Mapping[str, Any]) -> tuple[str, int]:
    """Where a part of an option goes, and how many of it."""
    if part.family not in PAIRED:
        return part.usual_position or "A", fact["count"]
    return fact.get("end", "A"), 2 if "end" in fact else 4


def levers_of(fact: Mapping[str, Any]) -> list[tuple[str, str, float]]:
    """Levers of an option, at its end or at both; one that stays is none."""
    found: list[tuple[str, str, float]] = []
    for code, name in (("ride_drop_mm", "drop_mm"), ("spacer_mm", "spacer_mm"), ("camber_deg", "camber_deg")):
        if fact.get(name):
            found += [(code, end, float(fact[name])) for end in fact.get("end", "FR")]
    return found


def beside_of(file: CarFile, build: Build, labels: frozenset[str] = frozenset()) -> CarFile:
    """The car's file with a build that nobody keeps in hand, and with the items planned that come out with it."""
    found = replace(file)
    found.kept = {(builds_of.__wrapped__, ()): [build]}  # type: ignore[attr-defined]
    if labels:
        ledger = replace(ledger_of(file), items=[_planned_as(item, labels) for item in items_of(file)])
        found.kept[ledger_of.__wrapped__, ()] = ledger  # type: ignore[attr-defined]
    return found


def _planned_as(item: MassItem, labels: frozenset[str]) -> MassItem:
    """An item as ``plan_items`` would leave it; the row itself stays."""
    if item.state == "out" or item.guarded:
        return item
    found = copy(item)
    found.state = "planned" if item.label in labels else "in"
    return found


def step(file: CarFile, search: Search) -> None:
    """Go on for half a second of processor time; the state is kept by whoever calls."""
    state, asked, began = search.state, search.asked, time.process_time()
    while not search.done and time.process_time() - began < STEP_S:
        if state["phase"] == "compose":
            _compose(asked, state)
        elif state["phase"] == "judge":
            _judge_next(file, asked, state)
        elif state["phase"] == "loosen":
            _loosen_next(file, asked, state)
        elif state["phase"] == "blame":
            _blame_next(file, asked, state)
        else:
            _whole_next(file, asked, state)
        search.done = state["phase"] == "done"


def _compose(asked: Mapping[str, Any], state: dict[str, Any]) -> None:
    wish = wish_of(asked, state, timezone.localdate())
    state["rounds"] += 1
    bare = [slot.name for slot in wish.slots if not slot.options]
    if bare or not wish.slots:
        state["out"] += [[slot_name(one), "nothing of it is left"] for one in bare]
        state |= {"sets": [], "proven": True, "without": [], "phase": "done"}
        return
    found = compose(wish)
    state["sets"] = [[key for _, key in one.chosen if key is not None] for one in found.sets]
    state["proven"] = found.proven and state["rounds"] < MOST_ROUNDS and not (state.get("capped") or state.get("shaky"))
    waiting = [key for keys in state["sets"] for key in keys if key.startswith("p") and key not in state["judged"]]
    if waiting and state["rounds"] < MOST_ROUNDS:
        state |= {"phase": "judge", "waiting": list(dict.fromkeys(waiting))}
    elif any(_name(keys) not in state["whole"] for keys in state["sets"]):
        state["phase"] = "whole"
    else:
        state["without"] = []
        if not state["sets"]:
            state |= {"phase": "loosen", "ways": [list(one) for one in without(wish)]}
            return
        state["phase"] = "done"


def slot_name(slot: str) -> str:
    """A slot in words.

    >>> slot_name(f"{PAIR} F"), slot_name("rotor")
    ('wheels and tyres, front', 'brake discs')
    """
    name, _, end = slot.rpartition(" ")
    if name == PAIR and end in ENDS:
        return f"{PAIR}, {ENDS[end]}"
    return FAMILIES[slot].plural if slot in FAMILIES else slot


def _loosen_next(file: CarFile, asked: Mapping[str, Any], state: dict[str, Any]) -> None:
    """What the next limit would have to be: the set that is least of it is judged, and another sought where it hits."""
    if not state["ways"]:
        state["phase"] = "done"
        return
    name, goal = state["ways"][0]
    wish = wish_of(asked, state, timezone.localdate())
    found = best_under(wish, name) if goal is not None and all(slot.options for slot in wish.slots) else None
    keys = [key for key in found.keys if key.startswith("p") and key not in state["judged"]] if found else []
    if keys and state["rounds"] < MOST_ROUNDS:
        state["rounds"] += 1
        for key in keys:
            _judge(file, asked, state, key)
        return
    state["ways"].pop(0)
    state["without"].append([name, goal, None if found is None else found.value])


def _name(keys: Iterable[str]) -> str:
    return "+".join(sorted(keys))


def said_of_set(state: Mapping[str, Any], keys: Iterable[str]) -> dict[str, Any]:
    """What a set comes to, as it was judged whole."""
    found: dict[str, Any] = state["whole"].get(_name(keys), {})
    return found


def labels_of(state: Mapping[str, Any], keys: Iterable[str]) -> frozenset[str]:
    """Items of the ledger that come out with a set."""
    return frozenset(state["facts"][key]["item"] for key in keys if _of_ledger(key))


def _judge_next(file: CarFile, asked: Mapping[str, Any], state: dict[str, Any]) -> None:
    """The next pair of those in the running, at both ends."""
    if not state["waiting"]:
        state["phase"] = "compose"
        return
    _judge(file, asked, state, state["waiting"].pop(0))


def _judge(file: CarFile, asked: Mapping[str, Any], state: dict[str, Any], key: str) -> None:
    """A pair at its end, or at both."""
    build = set_build(file, asked, state, [key], 1 + len(state["judged"]))
    state["judged"][key] = _kept(taught(file, judged_pair(file, build, state["facts"][key].get("end", "FR"))))


def judged_pair(file: CarFile, build: Build, at: str = "FR") -> tuple[Judgement, ...]:
    """Wheels and tyres of a build at both ends, or at one."""
    ends = {}
    for end in at:
        axle, wanted = file.core_axle(end), candidate(file, build, end)
        if axle is not None and wanted is not None:
            ends[end] = fitment.judge(axle, wanted, file.tolerances(build.tolerance)).judgements
    return tuple(fitment.both_ends(ends))


def _kept(found: Iterable[Judgement]) -> dict[str, Any]:
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
        "short": None if first is None or first.margin is None else round(first.margin, 2),
        "open": open_,
    }


def _whole_next(file: CarFile, asked: Mapping[str, Any], state: dict[str, Any]) -> None:
    """The next set, judged whole by every bench; one that hits is cut."""
    if "stands" not in state:
        # the car as it is: gaps and parts in one step, the benches in the next
        bare = set_build(file, asked, state, [], 900_000)
        here = beside_of(file, bare)
        if "stands_first" not in state:
            state["stands_first"] = [list(one) for one in _hits(sums(here, bare).judgements)]
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
        _blame(state, keys, found)
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
            _out(state, keys[:MOST_TOGETHER])
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
    if not hits:
        return False
    first = next(one for one in found if (one.code, one.where) == hits[0])
    why = f"{first.name}{f', {first.where}' if first.where else ''}: {first.reason}"
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
    if not blame["tries"]:
        state["shaky"] = state.get("shaky") or len(blame["keys"]) > MOST_TOGETHER
        _out(state, blame["keys"][:MOST_TOGETHER])
        return
    keys = blame["tries"].pop(0)
    state["tried"] = state.get("tried", 0) + 1
    build = set_build(file, asked, state, keys, 200_000 + state["tried"])
    if tuple(blame["hit"]) in _hits(_everything(build, beside_of(file, build, labels_of(state, keys)))):
        # what hits as two may hold with a third: the answer is not called proven then
        state["shaky"] = True
        _out(state, keys)


def _out(state: dict[str, Any], keys: list[str]) -> None:
    """One option is out, or several are not taken together; the core picks again."""
    if len(keys) == 1:
        state["gone"].append(keys[0])
    else:
        state["cut"].append(list(keys))
    state["out"].append([_name(keys), state["blame"]["why"]])
    state |= {"phase": "compose", "blame": None}


def _everything(build: Build, here: CarFile) -> list[Judgement]:
    return [*sums(here, build).judgements, *beside(here)]


def _hits(found: Iterable[Judgement]) -> list[tuple[str, str]]:
    return [(one.code, one.where) for one in found if one.state == "hit"]


def _set_said(here: CarFile, build: Build, everything: list[Judgement], labels: frozenset[str]) -> dict[str, Any]:
    """What a set comes to, as a build does."""
    found = sums(here, build)
    kept = _kept(found.judgements)
    open_ = sorted({name for one in everything if one.state == "unmeasured" for name in one.missing})
    plan = planned_of(here, build)
    return kept | {
        "hit": False,
        "money_minor": sum((one.price or 0) * one.quantity for one in choices_of(build))
        + sum(item.cost_minor - item.sold_minor for item in items_of(here) if item.label in labels),
        "kg": None if found.mass.total_kg is None else round(found.mass.total_kg, 2),
        "hours": found.hours.hours,
        "days_in_hand": found.dates.days_in_hand,
        "chance": None if plan.unknown else chances_of(plan.plan).chance_pct,
        "open": open_,
        "drags": [row.need.name for row in dragged_along(here, build) if row.need.needed][:6],
    }


def families_of(file: CarFile) -> dict[str, str]:
    """What can be asked for: pairs, and families that the list has parts of."""
    listed = listed_of(file)
    found = {PAIR: "Wheels and tyres"} if listed.wheels and listed.tyres else {}
    if any(item.state != "out" and not item.guarded and item.net_kg is not None for item in items_of(file)):
        found |= {OUT: "Weight out, of the ledger"}
    return found | {one.family: FAMILIES[one.family].name for one in listed.parts if one.family in FAMILIES}
