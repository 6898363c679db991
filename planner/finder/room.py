"""Most room: how much every pair can have in every setting, quickly, and the roomiest judged until no other has more."""

from __future__ import annotations

import heapq
import itertools
import math
from collections.abc import Iterable, Mapping, Sequence
from typing import Any

from garage.car.assemble import core_wheel
from garage.car.parts import Tyre, Wheel
from garage.file import CarFile
from garage.honest import owns_of
from garage.kept import once
from planner.chosen import candidate
from planner.finder.built import parts_by_number, set_build
from planner.finder.judged import judge, put_judged, still
from planner.finder.options import put
from planner.finder.wished import BEST_MARGIN_MM, TOP, is_out
from rimcore.tables.facts import ENDS
from rimcore.well.levers import Levers
from rimcore.well.rank.most import most_margins_mm
from rimcore.well.read.measured import Candidate
from shelf.assemble import candidate_of

#: that are looked at before the rest is put in order again, and of them that are worked out anew
AT_ONCE, FEW = 100, 2


def bound_next(file: CarFile, asked: Mapping[str, Any], state: dict[str, Any]) -> None:
    """How much room every pair can have at the next height and camber, with every spacer; at last the roomiest of each.

    More is never judged of it.
    """
    if "grounds" not in state:
        grounds = dict.fromkeys((one["drop_mm"], one["camber_deg"]) for one in state["settings"])
        bare = [None] * len(state["settings"])
        state |= {"grounds": [[end, *one] for one in grounds for end in ENDS], "most": {}, "stood": {}}
        state["rooms"] = {pair: list(bare) for pair in state["pairs"]}
    if state["grounds"]:
        _at(file, asked, state, *state["grounds"].pop())
        return
    for pair, rooms in state["rooms"].items():
        rooms[:] = [-BEST_MARGIN_MM if one is None else one for one in rooms]
        state["order"][pair] = sorted(range(len(rooms)), key=lambda place: (-rooms[place], place))
        put(state, pair, state["order"][pair][0])
    state["phase"] = "roomiest"


def _at(
    file: CarFile, asked: Mapping[str, Any], state: dict[str, Any], end: str, drop_mm: float, camber_deg: float
) -> None:
    """How much room there can be at one end, at one height and camber."""
    axle, pairs = file.core_axle(end), _there(file, state, end)
    if axle is None or not pairs:
        return
    settings = state["settings"]
    places = [k for k, one in enumerate(settings) if (one["drop_mm"], one["camber_deg"]) == (drop_mm, camber_deg)]
    spacers = [settings[k]["spacer_mm"] for k in places]
    own = owns_of(file).get("gap.")
    taught_mm = max(0.0, own.add) if own is not None and own.teaches else 0.0
    fact = state["pairs"][pairs[0]] | {"drop_mm": drop_mm, "camber_deg": camber_deg, "spacer_mm": 0.0}
    plain = candidate(file, set_build(file, asked, {"facts": {"x": fact}}, ["x"], 300_000), end)
    if plain is None:
        return
    stands = _candidates(file, end, tuple((state["pairs"][one]["wheel"], state["pairs"][one]["tyre"]) for one in pairs))
    found = most_margins_mm(axle, [plain, *stands[1:]], spacers, file.tolerances(asked["school"])) + taught_mm
    for pair, row in zip(pairs, found.tolist(), strict=True):
        rooms = state["rooms"][pair]
        for place, most in zip(places, row, strict=True):
            if not math.isnan(most):
                before = BEST_MARGIN_MM if rooms[place] is None else rooms[place]
                rooms[place] = min(before, math.ceil(100.0 * min(most, BEST_MARGIN_MM) + 0.1) / 100.0)


def _there(file: CarFile, state: Mapping[str, Any], end: str) -> list[str]:
    """Pairs for an end whose wheel and tyre are still on the list."""
    parts = parts_by_number(file)
    return [
        pair
        for pair, fact in state["pairs"].items()
        if fact.get("end", end) == end and fact["wheel"] in parts and fact["tyre"] in parts
    ]


@once
def _candidates(file: CarFile, end: str, pairs: tuple[tuple[int, int], ...]) -> list[Candidate]:
    """Pairs as they would stand at an end without a spacer, upright: one outline for all wheels of one width."""
    parts = parts_by_number(file)
    fitted: dict[tuple[int, Any, Any], Any] = {}
    found = []
    for one, other in pairs:
        wheel, tyre = parts[one], parts[other]
        assert isinstance(wheel, Wheel)
        assert isinstance(tyre, Tyre)
        alike = (tyre.pk, wheel.diameter_in, wheel.width_in)
        if alike not in fitted:
            fitted[alike] = candidate_of(file, end, wheel, tyre, Levers(), 0.0).fitted
        inside = {"barrel_radius_mm": wheel.barrel_radius_mm, "spoke_back_mm": wheel.spoke_back_mm}
        found.append(Candidate(fitted[alike].on(core_wheel(wheel)), **inside))
    return found


def roomiest_next(file: CarFile, asked: Mapping[str, Any], state: dict[str, Any]) -> None:
    """Of what is not judged the few that may have the most room: standing still, then moved; until none may have more
    than the best few that were.
    """
    ends = {fact.get("end", "") for fact in state["pairs"].values()}
    bests = {end: _bests_mm(asked, state, end) for end in ends}
    level, gone = _level_mm(bests.values()), set(state["gone"])
    open_: dict[str, list[tuple[float, str]]] = {end: [] for end in ends}
    for key, most in state["most"].items():
        if key not in state["judged"] and key not in gone and most > level:
            open_[state["facts"][key].get("end", "")].append((most, key))
    can = {end: max([*bests[end][:1], *(most for most, _ in open_[end])], default=-math.inf) for end in ends}
    # of two ends the tighter one counts: more than the other can have is of no use
    rows = [row for end in ends for row in open_[end] if all(can[one] > level for one in ends - {end})]
    begun = _worked_out(state)
    for most, key in heapq.nlargest(AT_ONCE, rows):
        _look_at(file, asked, state, key, most)
        if _worked_out(state) - begun >= FEW:
            break
    if not rows:
        state["phase"] = "compose"


def _worked_out(state: Mapping[str, Any]) -> int:
    return len(state.get("still", ())) + len(state.get("moved", ()))


def _look_at(file: CarFile, asked: Mapping[str, Any], state: dict[str, Any], key: str, most: float) -> None:
    """One that may have much room: what it has standing still, and next time the whole of it."""
    if key in state["stood"]:
        judge(file, asked, state, key)
        return
    state["stood"][key] = True
    found = still(file, asked, state, key)
    if found["state"] == "hit":
        if found["gap"] is None:
            _never_with_that_spacer(state, key)
        put_judged(asked, state, key, found)
    elif found["margin_mm"] is not None:
        state["most"][key] = min(most, found["margin_mm"])


def _never_with_that_spacer(state: dict[str, Any], key: str) -> None:
    """What does not go on goes on at no height and camber: nothing of that spacer is looked at before all others."""
    pair, _, place = key.rpartition(".")
    rooms, order, settings = state["rooms"][pair], state["order"][pair], state["settings"]
    here = order.index(int(place)) + 1
    for other in order[here:]:
        if settings[other]["spacer_mm"] == settings[int(place)]["spacer_mm"]:
            rooms[other] = -BEST_MARGIN_MM
    order[here:] = sorted(order[here:], key=lambda one: (-rooms[one], one))


def _level_mm(bests: Iterable[Sequence[float]]) -> float:
    """Room that the last of the best few sets has as they were judged, of two ends the tighter one's."""
    rooms = sorted((min(one) for one in itertools.product(*(row[:TOP] for row in bests)) if one), reverse=True)
    return rooms[TOP - 1] if len(rooms) >= TOP else -math.inf


def _bests_mm(asked: Mapping[str, Any], state: Mapping[str, Any], end: str) -> list[float]:
    """Room of the pairs of an end that were judged and hold, each in its best setting, the most first."""
    best: dict[str, float] = {}
    gone = set(state["gone"])
    for key, one in state["judged"].items():
        if (
            key not in gone
            and one["margin_mm"] is not None
            and not is_out(asked, one)
            and state["facts"][key].get("end", "") == end
        ):
            pair = key.rpartition(".")[0]
            best[pair] = max(one["margin_mm"], best.get(pair, -math.inf))
    return sorted(best.values(), reverse=True)
