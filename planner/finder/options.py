"""Options out of the list: pairs in their settings, parts of a family, items of the mass ledger; what is out at once."""

from __future__ import annotations

import json
from collections.abc import Iterable, Iterator, Mapping
from dataclasses import dataclass
from typing import Any

from garage.car.assemble import CORNERS_OF
from garage.car.parts import Part, Tyre, Wheel
from garage.chassis.models import Adjuster
from garage.file import CarFile
from garage.kept import once
from garage.mass.ledger import goal_of, items_of, net_since_kg, scales, weighed_of
from planner.parts import usual_quantity
from rimcore.choosing.finding import lever_steps, spare_beside, wheels_against
from rimcore.choosing.quick import DRILLED, OUT, PAIR, REGULATED
from rimcore.families import FAMILIES
from rimcore.mass.ledger import Weighed, totals
from rimcore.quantities.errors import CoreError
from rimcore.steering.turns import camber_reach, told_effects
from rimcore.tables.facts import ENDS
from rimcore.wheels.tyre import parse_tyre
from rimcore.wheels.wheel import same_rim
from shelf.models import WheelSet, WheelSetAxle
from shelf.queries import listed_of

#: pairs with their levers that are looked at, parts of a family
MOST_COMBOS, MOST_PARTS = 4000, 40
#: pairs in a setting that one search keeps
MOST_LOOKED = 12_000
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
        "pairs": {},
        "order": {},
        "settings": _settings(file, asked),
        "spares": _spares(file, asked),
        "most_off_kg": may_come_out_kg(file) if asked.get("class_minimum") else None,
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
                _held_of([one for one in listed.parts if one.family == family and _pinned(asked, one)], asked),
                state,
            )
    return state | {"phase": "bound" if asked["goal"] == "score" else "line up"}


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
    """The pairs for an end, or for both where none is named, each as it is with no lever moved.

    Another setting of a pair costs and weighs the same: it is looked at when those before it are out, or when room is
    what is best.
    """
    found: list[tuple[str, dict[str, Any]]] = []
    first: dict[str, str] = {}
    base = [file.on(file.baseline, one) for one in ((end,) if end else ("F", "R"))]
    old = [(one.wheel_kg, one.tyre_kg) for one in base if one is not None]
    for wheel, tyre in there:
        kg = wheels_against(wheel.mass_kg, tyre.mass_kg, old)
        said: dict[str, Any] = {"wheel": wheel.pk, "tyre": tyre.pk, **_offered((wheel, tyre), 2 if end else 4)}
        said |= {
            "kg": kg,
            "width_mm": tyre.section_width_mm,
            "stars": wheel.stars + tyre.stars,
            "kind": [wheel.bore_mm, wheel.bolts, wheel.pcd_mm, wheel.diameter_in, wheel.width_in, wheel.seat],
            **({"end": end} if end else {}),
        }
        lacks = _lacks(asked, said) or _no_match(state, tyre)
        if lacks:
            state["out"].append([f"{wheel}, {tyre}", lacks])
            continue
        key = f"p{end}{wheel.pk}.{tyre.pk}"
        said["as"] = first.setdefault(f"{_shape(wheel)} {_shape(tyre)}", key)
        found.append((key, said))
    found.sort(key=lambda one: one[1]["money_minor"])
    if len(found) > MOST_COMBOS:
        state["out"].append([f"{len(found)} pairs", f"the {MOST_COMBOS} cheapest are looked at"])
        state["capped"] = True
    pairs = dict(found[:MOST_COMBOS])
    state["pairs"] |= pairs
    state["options"][pair_slot(end)] = []
    for key in pairs if asked["goal"] != "score" else ():
        # where most room is best, its roomiest setting is looked at first
        put(state, key, 0)


def _shape(part: Part) -> str:
    """What a wheel or tyre is judged by: all that its family says of it but its weight."""
    said = {**part.whole, "kit": part.spec.get("kit")}
    return json.dumps({code: value for code, value in said.items() if code != "mass_kg"}, sort_keys=True, default=str)


def pair_slot(end: str) -> str:
    """The slot of an end's pairs, or of both ends'."""
    return f"{PAIR} {end}".strip()


def put(state: dict[str, Any], pair: str, place: int) -> None:
    """A pair in one of its settings, among what may be picked."""
    fact, key = state["pairs"][pair], f"{pair}.{place}"
    state["facts"][key] = fact | state["settings"][place]
    state["options"][pair_slot(fact.get("end", ""))].append(key)
    if "rooms" in state:
        state["most"][key] = state["rooms"][pair][place]


def place_after(state: Mapping[str, Any], key: str) -> int | None:
    """The place of a pair's setting that comes after this one: as its room was found, else what moves least."""
    pair, _, place = key.rpartition(".")
    order = state.get("order", {}).get(pair) or range(len(state.get("settings", ())))
    later = order.index(int(place)) + 1
    return order[later] if later < len(order) else None


def setting_after(state: Mapping[str, Any], key: str) -> str:
    """The next setting of a pair that may be picked already; nothing where there is none."""
    following = f"{key.rpartition('.')[0]}.{place_after(state, key)}"
    return following if following in state["facts"] else ""


def next_setting(state: dict[str, Any], key: str) -> None:
    """What is out, or does not go with another: its pair's next setting may be picked too, where there is one."""
    pair = key.rpartition(".")[0]
    if pair not in state.get("pairs", {}):
        return
    later = place_after(state, key)
    if later is None or f"{pair}.{later}" in state["facts"]:
        return
    if len(state["facts"]) >= MOST_LOOKED:
        if not state.get("capped"):
            state["out"].append(["pairs in other settings", f"{MOST_LOOKED} of all are looked at"])
        state["capped"] = True
        return
    put(state, pair, later)


#: kinds of part that give a corner other adjusters: with one of them looked for, those on the car are no end
ADJUSTS = frozenset({"top_mount", "control_arm"})


def camber_ends(file: CarFile) -> dict[str, float | None]:
    """The most negative camber that an end's adjusters reach on both sides, by end; None: it is not known [deg]."""
    by_corner: dict[str, list[tuple[float, float | None, float | None]]] = {}
    for one in Adjuster.objects.filter(car=file.car):
        effect = told_effects(one.effects, one.doubts).get("camber_deg")
        if effect:
            by_corner.setdefault(one.corner, []).append((effect, one.turns_back, one.turns_on))
    found: dict[str, float | None] = {}
    for end in ENDS:
        axle = file.on(file.baseline, end)
        reach = []
        for corner in CORNERS_OF[end]:
            now = None if axle is None else file.camber_of(axle, corner)
            reach.append(None if now is None else camber_reach(now, by_corner.get(corner, [])))
        known = [one for one in reach if one is not None]
        found[end] = max(known) if len(known) == len(reach) else None
    return found


@dataclass(frozen=True)
class CamberTold:
    """What is to be said of the camber that may be set: how far the adjusters reach, or where nobody knows."""

    bare: tuple[str, ...] = ()
    most_deg: float | None = None


def camber_told(file: CarFile, asked: Mapping[str, Any]) -> CamberTold:
    """What of the adjusters bounds the camber that was asked for; nothing where it does not."""
    if not asked.get("camber_deg") or ADJUSTS.intersection(asked["change"]):
        return CamberTold()
    ends = camber_ends(file)
    bare = tuple(ENDS[end] for end, reach in ends.items() if reach is None)
    most = max((reach for reach in ends.values() if reach is not None), default=None)
    return CamberTold(bare, most if most is not None and asked["camber_deg"] < most else None)


def _settings(file: CarFile, asked: Mapping[str, Any]) -> list[dict[str, float]]:
    """Steps of the levers together, those that move least first; camber only as far as the adjusters are known to go."""
    drops, spacers = lever_steps(asked.get("drop_mm"), 5.0), lever_steps(asked.get("spacer_mm"), 1.0)
    cambers = _cambers(file, asked)
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


def _cambers(file: CarFile, asked: Mapping[str, Any]) -> tuple[float, ...]:
    """Camber left alone, and steps to the most that is asked for; none less than what stands, or past the adjusters."""
    most = asked.get("camber_deg")
    if not most or ADJUSTS.intersection(asked["change"]):
        return lever_steps(most, 0.1)
    end = max((reach for reach in camber_ends(file).values() if reach is not None), default=-90.0)
    axles = [file.on(file.baseline, one) for one in ENDS]
    now = [camber for axle in axles if axle is not None and (camber := file.camber_of(axle)) is not None]
    steps = lever_steps(min(0.0, max(most, end)), 0.1)
    return tuple(one for one in steps if one == 0.0 or one <= min(now, default=0.0))


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


def may_come_out_kg(file: CarFile) -> float | None:
    """What the car may still lose until it weighs what its class asks at the least [kg]; None: nobody knows."""
    least, read = goal_of(file).minimum_kg, scales(file)
    if least is None or not read:
        return None
    reading, scaled = read[0]
    return max(0.0, scaled.kg - net_since_kg(file, reading, False) - least)


def to_go_kg(file: CarFile) -> float | None:
    """What is still to come out for the goal of this phase [kg]; None: there is none, or it is reached."""
    goal = goal_of(file).phase_kg
    left = None if goal is None else round(goal - totals(weighed_of(file)).net_kg, 1)
    return left if left is not None and left > 0.0 else None


def _spares(file: CarFile, asked: Mapping[str, Any]) -> list[dict[str, Any]]:
    """The spares that are to go on with every set: what each rolls a turn; none where nobody asks."""
    if not asked.get("keep_spare"):
        return []
    return [{"rolls_mm": _rolls_mm(axle.tyre_part)} for _, axle in spares_of(file)]


@once
def spares_of(file: CarFile) -> list[tuple[WheelSet, WheelSetAxle]]:
    """Wheels and tyres that are kept as a spare, by the end that they are noted for."""
    rows = WheelSet.objects.filter(car=file.car, purpose="spare")
    found = rows.prefetch_related("axles__wheel_part", "axles__tyre_part")
    return [(row, axle) for row in found for axle in row.axles.all()]


def _rolls_mm(part: Part) -> float | None:
    try:
        return parse_tyre(str(part.spec.get("size", ""))).rolling_circumference_mm
    except CoreError:
        return None


def _no_match(state: Mapping[str, Any], tyre: Tyre) -> str:
    """Why no spare rolls as this tyre does, in words; nothing where one does, or none is asked for."""
    if not state["spares"]:
        return ""
    rolls = [spare_beside(one["rolls_mm"], _rolls_mm(tyre)) for one in state["spares"]]
    return min(rolls, key=len)


def _lacks(asked: Mapping[str, Any], fact: Mapping[str, Any]) -> str:
    """What is asked of an option and not known of it, in words: it is left out, never counted as nothing."""
    if fact["money_minor"] is None:
        return "a price is not known"
    if fact["lead_days"] is None and (asked.get("ready_on") or asked["goal"] == "lead_days"):
        return "a lead time is not known"
    if fact["kg"] is None and (asked.get("lighter_kg") or asked.get("class_minimum") or asked["goal"] == "kg"):
        return "a weight is not known"
    return ""


def _parts(file: CarFile, asked: Mapping[str, Any], family: str, parts: list[Part], state: dict[str, Any]) -> None:
    keys = []
    for must, kinds, why in MUSTS:
        if asked.get(must) and family in kinds and parts:
            state["out"].append([slot_name(family), why])
            parts = []
    for part in parts[:MOST_PARTS]:
        for place in places_of(part):
            count = usual_quantity(file, part, place)
            fact = {"part": part.pk, **_offered((part,), count), "kg": part.spec.get("mass_change_kg"), "count": count}
            fact |= {"stars": part.stars, "place": place, "moved": 0, "choice": len(places_of(part)) > 1}
            lacks = str(part.fault or _lacks(asked, fact))
            if lacks:
                state["out"].append([str(part), lacks])
                break
            key = f"f{part.pk}{'' if len(places_of(part)) == 1 else place}"
            state["facts"][key] = fact
            keys.append(key)
    if len(parts) > MOST_PARTS:
        state["out"].append([f"{len(parts) - MOST_PARTS} more of {family}", f"{MOST_PARTS} are looked at"])
        state["capped"] = True
    state["options"][family] = keys


def places_of(part: Part) -> tuple[str, ...]:
    """Where a part may go: where it usually does; each end and both where that has to be said."""
    if part.usual_position or part.declared is None:
        return (part.usual_position or "A",)
    return tuple(part.declared.positions)


def _held_of(parts: list[Part], asked: Mapping[str, Any]) -> list[Part]:
    """Of a family the part that is held, or all of them."""
    return [one for one in parts if one.pk == asked.get("hold_part")] or parts


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
    if asked.get("keep_spare") and "spare" in item.name.lower():
        return "the spare stays"
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


def is_of_ledger(key: str) -> bool:
    """Is it an item that comes out, and no part?"""
    return key.startswith("m")


def slot_name(slot: str) -> str:
    """A slot in words.

    >>> slot_name(f"{PAIR} F"), slot_name("rotor")
    ('wheels and tyres, front', 'brake discs')
    """
    name, _, end = slot.rpartition(" ")
    if name == PAIR and end in ENDS:
        return f"{PAIR}, {ENDS[end]}"
    return FAMILIES[slot].plural if slot in FAMILIES else slot


def families_of(file: CarFile) -> dict[str, str]:
    """What can be asked for: pairs, and families that the list has parts of."""
    listed = listed_of(file)
    found = {PAIR: "Wheels and tyres"} if listed.wheels and listed.tyres else {}
    if any(item.state != "out" and not item.guarded and item.net_kg is not None for item in items_of(file)):
        found |= {OUT: "Weight out, of the ledger"}
    return found | {one.family: FAMILIES[one.family].name for one in listed.parts if one.family in FAMILIES}
