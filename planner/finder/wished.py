"""What the core is asked: options that are still in, limits, what goes with what, what is best."""

from __future__ import annotations

from collections.abc import Collection, Mapping
from datetime import date
from typing import Any

from planner.finder.options import is_of_ledger
from rimcore.choosing.compose import Option, Slot, Wish
from rimcore.choosing.finding import worth_asking
from rimcore.choosing.quick import OUT, PAIR
from rimcore.work.money import in_whole

#: sets that are offered
TOP = 5
#: margin that what is not judged yet may have at the most [mm]: it is judged before it is believed
BEST_MARGIN_MM = 1000.0


def _between_items(
    state: Mapping[str, Any], offered: Collection[str]
) -> tuple[list[tuple[str, str]], list[tuple[str, tuple[str, ...]]]]:
    """What of the ledger does not come out together, and what comes out only with another, of what is offered."""
    there = {key for key in offered if is_of_ledger(key)}
    apart: list[tuple[str, str]] = []
    needs: list[tuple[str, tuple[str, ...]]] = []
    for key in sorted(there):
        fact = state["facts"][key]
        apart += [(key, f"m{other}") for other in fact["not_with"] if f"m{other}" in there]
        needs += [(key, tuple({f"m{other}"} & there)) for other in fact["needs"]]
    return apart, needs


def wish_of(asked: Mapping[str, Any], state: Mapping[str, Any], today: date, whole: bool = False) -> Wish:
    """What the core is asked: what is not judged yet counts as holding.

    What others beat in everything is left out unless the whole is wanted.
    """
    gone = {key for key, found in state["judged"].items() if is_out(asked, found)}
    gone |= set(state["gone"])
    slots = tuple(
        Slot(
            name,
            _best_of_each(
                state, [_option(asked, state, key) for key in keys if key not in gone], core_goal(asked), whole
            ),
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
    if state.get("most_off_kg") is not None:
        limits["kg_off"] = float(state["most_off_kg"])
    offered = {option.id for slot in slots for option in slot.options}
    cut = tuple(tuple(one) for one in state["cut"] if offered.issuperset(one))
    apart, needs = _between_items(state, offered)
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
    """The core's goal: room, width and one's own stars are all a score; of two ends the tighter one counts."""
    if asked["goal"] == "score" and asked.get("staggered"):
        return "shortfall"
    return "score" if asked["goal"] in ("score", "width", "stars") else str(asked["goal"])


def _best_of_each(state: Mapping[str, Any], options: list[Option], goal: str, whole: bool) -> tuple[Option, ...]:
    """Of every pair the best setting that is still in: sets that differ by a lever alone are not told as two.

    One that does not go with everything leaves the next one in beside it.
    """
    tied = {key for group in state["cut"] for key in group}
    if goal in ("score", "shortfall"):
        options = sorted(options, key=lambda one: (one.shortfall, -one.score))
    kept: dict[tuple[Any, ...], bool] = {}
    rows: list[Option] = []
    for one in options:
        fact = state["facts"][one.id]
        pair = tuple(fact.get(name) for name in ("wheel", "tyre", "part", "place", "item"))
        if not kept.get(pair, False):
            rows.append(one)
            kept[pair] = one.id not in tied
    if whole:
        return tuple(rows)
    figures = [(one.money, one.kg, one.lead_days, -one.score, one.shortfall) for one in rows]
    return tuple(rows[k] for k in worth_asking(figures, TOP + len(state["cut"]) + len(rows) - len(kept)))


def is_out(asked: Mapping[str, Any], found: Mapping[str, Any]) -> bool:
    """Does a pair touch, or does a must rule it out?"""
    return found["state"] == "hit" or _unwanted(asked, found)


def _unwanted(asked: Mapping[str, Any], found: Mapping[str, Any]) -> bool:
    """Does a must rule it out: nothing tight, nothing open?"""
    return bool((asked.get("no_tight") and found["tight"]) or (asked.get("no_open") and found["open"]))


def _option(asked: Mapping[str, Any], state: Mapping[str, Any], key: str) -> Option:
    fact, judged = state["facts"][key], state["judged"].get(key)
    margin = state.get("most", {}).get(key, BEST_MARGIN_MM) if judged is None else judged["margin_mm"]
    score = _score(asked, fact, margin)
    staggered = core_goal(asked) == "shortfall" and "wheel" in fact
    return Option(
        key,
        money=in_whole(fact["money_minor"]),
        kg=fact["kg"] or 0.0,
        lead_days=float(fact["lead_days"] or 0),
        score=0.0 if staggered else score,
        shortfall=BEST_MARGIN_MM - score if staggered else 0.0,
        alike=key.rpartition(".")[0] if "wheel" in fact else "",
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
