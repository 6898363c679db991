"""Judgements that several families share: threads, classes, diameters, pieces."""

from __future__ import annotations

from collections.abc import Mapping, Sequence

from rimcore.fastening.threads import Thread, parse_thread, same_thread
from rimcore.parts.declared import Family, Given, Place
from rimcore.quantities.judgement import COMMON_PRACTICE, InputUsed, Judgement, State, unmeasured
from rimcore.wheels.hub import OFF_WHEEL

#: diameters within this of each other fit [mm]
MATCH_MM = 0.1
#: how strong a class is, weakest first (ISO 898-1 for studs and bolts, ISO 898-2 for nuts)
CLASS_ORDER = ("8.8", "10.9", "12.9")
NUT_ORDER = ("8", "10", "12")


def judged(
    code: str,
    name: str,
    state: State,
    reason: str,
    formula: str = "",
    basis: str = COMMON_PRACTICE,
    *,
    value: float | None = None,
    unit: str = "mm",
    held_against: float | None = None,
    inputs: tuple[InputUsed, ...] = (),
    remedies: tuple[str, ...] = (),
) -> Judgement:
    """A judgement of a part; its margin is what is held against less the value."""
    margin = held_against - abs(value) if value is not None and held_against is not None else None
    return Judgement(
        code,
        name,
        state,
        reason,
        basis,
        value=value,
        unit=unit if value is not None else "",
        held_against=held_against,
        margin=margin,
        formula=formula,
        inputs=inputs,
        remedies=remedies if state != "clear" else (),
    )


def judge_diameter(
    code: str, name: str, part_mm: float, car_mm: float | None, what: str, missing: str, off_wheel: bool = False
) -> Judgement:
    """Does a bore go over what it is to sit on: smaller is a hit, more than 0.1 mm larger leaves play.

    What was only read off the standing wheel says nothing of another diameter: that wheel may sit on a ring.

    >>> judge_diameter("part.ring", "Ring on the hub", 63.4, 63.4, "hub", "hub.bore").state
    'clear'
    """
    if car_mm is None:
        return unmeasured(code, name, f"the {what} is not measured", [missing], ["measure it with a caliper to 0.1 mm"])
    apart = part_mm - car_mm
    if off_wheel and abs(apart) > MATCH_MM + 1e-9:
        reason = f"{part_mm:g} mm; the {car_mm:g} mm are the bore of the wheel that stands there, not the {what}"
        return unmeasured(code, name, reason, [missing], ["measure it with a caliper to 0.1 mm"])
    state: State = "hit" if apart < -MATCH_MM - 1e-9 else "tight" if apart > MATCH_MM + 1e-9 else "clear"
    words = {
        "clear": f"both {car_mm:g} mm",
        "hit": f"{-apart:.1f} mm too small to go on",
        "tight": f"{apart / 2:.2f} mm of play all round",
    }
    return judged(
        code,
        name,
        state,
        words[state],
        f"{part_mm:g} − {car_mm:g} = {apart:.1f} mm",
        value=round(apart, 3),
        held_against=MATCH_MM,
        inputs=(
            InputUsed("part", f"{part_mm:g} mm", "offer"),
            InputUsed(what, f"{car_mm:g} mm", OFF_WHEEL if off_wheel else ""),
        ),
        remedies=(f"one of {car_mm:g} mm",),
    )


def judge_thread(code: str, name: str, thread: str, place: Place) -> Judgement:
    """Is a thread the hub's own? Another pitch of the same diameter strips.

    Source: ISO 261 for what a metric thread is; that threads must agree needs none.
    """
    hub = place.axle.hub
    if hub.thread is None:
        return unmeasured(code, name, "the hub's thread is not known", ["hub.thread"], ["read it with a thread gauge"])
    return judge_same_thread(
        code, name, parse_thread(thread), hub.thread, hub.used("hub", str(hub.thread)), "a hub of "
    )


def judge_same_thread(code: str, name: str, part: Thread, other: Thread, used: InputUsed, on: str = "") -> Judgement:
    """A part's thread against the one that it goes on: diameter and pitch.

    Source: ISO 261 for what a metric thread is; that threads must agree needs none.

    >>> judge_same_thread("x", "Thread", parse_thread("M14x1.5"), parse_thread("M14x2"), InputUsed("old one", "M14x2")).state
    'hit'
    """
    same = same_thread(part, other)
    return judged(
        code,
        name,
        "clear" if same else "hit",
        f"both {other}" if same else f"{part} on {on}{other}",
        "diameter and pitch agree",
        "ISO 261",
        inputs=(InputUsed("part", str(part), "offer"), used),
        remedies=(f"one of {other}",),
    )


#: for which side of the car a part is
HANDS = {"pair": "left and right", "left": "left", "right": "right", "either": "either side"}


def judge_hand(code: str, name: str, given: Given, remedy: str) -> Judgement:
    """Is it said for which side it is, and are both sides there?

    >>> judge_hand("x", "Side", {"hand": "left"}, "look").state, judge_hand("x", "Side", {}, "look").state
    ('tight', 'unmeasured')
    """
    hand = given.get("hand")
    if hand is None:
        return unmeasured(code, name, "side not given", ["part.hand"], [remedy])
    one = hand in ("left", "right")
    return judged(
        code,
        name,
        "tight" if one else "clear",
        f"{HANDS[hand]}" + (" only: the other side is another part" if one else ""),
        "both sides are there",
        remedies=("order the other side too",),
    )


def judge_count(family: Family, pieces: int | None, lugs: Mapping[str, int | None]) -> Judgement | None:
    """Are there enough of them for the ends they go on? None where nobody counted the lugs, or there is no telling.

    Parameters
    ----------
    pieces : in all, sets counted out
    lugs : of one hub at each end they go on; None where nobody counted

    >>> from rimcore.parts.hubware import NUT, RING
    >>> judge_count(NUT, 16, {"F": 5, "R": 5}).reason, judge_count(RING, 4, {"F": 5, "R": 5}).state
    ('16 of 20', 'clear')
    """
    wanted = family.pieces_at(lugs)
    if pieces is None or wanted is None:
        return None
    short = wanted - pieces
    return judged(
        f"part.{family.key}.count",
        f"How many {family.plural}",
        "hit" if short > 0 else "clear",
        f"{pieces} of {wanted}" if short > 0 else f"{pieces}",
        f"{pieces} there, {wanted} wanted",
        "counting",
        inputs=(InputUsed("pieces", str(pieces), "the build"),),
        remedies=(f"{short} more",),
    )


def judge_sides(family: Family, specs: Sequence[Given]) -> Judgement | None:
    """Parts of one family at one end: what must be the same left and right. None where there is but one of them.

    >>> from rimcore.parts.hubware import SPACER
    >>> judge_sides(SPACER, [{"thickness_mm": 15.0}, {"thickness_mm": 20.0}]).reason
    'thickness differs: 15 mm and 20 mm'
    """
    if len(specs) < 2:
        return None
    names = {spec.name: spec for spec in family.specs}
    pairs = [family.unlike(specs[0], other) for other in specs[1:]]
    differing, unsaid = (list(dict.fromkeys(name for pair in pairs for name in pair[which])) for which in (0, 1))
    code, name = f"part.{family.key}.sides", f"{family.plural.capitalize()}, left and right"
    if unsaid and not differing:
        reason = f"{' and '.join(unsaid)}: not said of both sides"
        return unmeasured(code, name, reason, [f"part.{family.key}"], ["ask for it, or measure both"])
    said = "; ".join(
        f"{name} differs: {' and '.join(dict.fromkeys(names[name].said(one.get(names[name].code)) or 'not said' for one in specs))}"
        for name in differing
    )
    return judged(
        code,
        name,
        "hit" if differing else "clear",
        said or "the same on both sides",
        "the same left and right",
        remedies=("the same part on both sides",),
    )
