"""Parts that need a space on the car: a core between the rails, an intake box, a seat; a bush in its bore, on its pin.

What is wanted round each is common practice, from memory; a reading that is missing is unmeasured.
"""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import dataclass

from rimcore.cooling.exchanger import ROUND_CORE
from rimcore.parts.common import judged
from rimcore.parts.declared import Given, Place
from rimcore.quantities.judgement import COMMON_PRACTICE, InputUsed, Judgement, State, unmeasured

#: stations of the car into whose space a part goes
SPACES = ("core_space", "box_space", "seat_space", "seat_wheel", "bush_bore")
#: round an intake box, for the engine's rocking [mm]
ROUND_BOX = 10.0
#: shell to roof, and shell to tunnel and door together [mm]
SEAT_TO_ROOF, SEAT_TO_SIDES = 50.0, 10.0
#: legs between the shell's front edge and the steering wheel [mm]
LEGS_MM = 150.0
#: what a bush may stand over its bore before it won't press, and its bolt may be loose in its sleeve [mm]
PRESS_LEAST, PRESS_MOST, PIN_TIGHT, PIN_HIT = 0.0, 1.0, 0.15, 0.4


@dataclass(frozen=True)
class Space:
    """What was read at a station of the car: its values by name, and where they come from."""

    values: Mapping[str, float]
    used: InputUsed


def space_of(place: Place, code: str) -> Space | None:
    """A reading of the car that a part is checked against; None where nobody took it."""
    found = place.stood.run.get("spaces", {}).get(code)
    return found if isinstance(found, Space) else None


def _fits(
    code: str,
    name: str,
    wants: Mapping[str, tuple[float, float, float]],
    space: Space,
    remedies: tuple[str, ...],
    more: tuple[InputUsed, ...] = (),
) -> Judgement:
    """The least margin of several: name -> (space there is, the part, gap needed) [mm]."""
    margins = {what: there - part - gap for what, (there, part, gap) in wants.items()}
    worst = min(margins, key=lambda what: margins[what])
    there, part, gap = wants[worst]
    state: State = "hit" if there < part else "tight" if margins[worst] < 0 else "clear"
    return judged(
        code,
        name,
        state,
        f"{worst}: {there:g} mm of space, {part:g} mm of part, {gap:g} mm needed round it",
        f"{there:g} − {part:g} − {gap:g} = {margins[worst]:.1f} mm".replace("-", "−"),
        f"{COMMON_PRACTICE}, from memory: {gap:g} mm",
        value=round(margins[worst], 3),
        held_against=0.0,
        inputs=(space.used, *more),
        remedies=remedies,
    )


def leaning_mm(height_mm: float, depth_mm: float, tilt_deg: float) -> tuple[float, float]:
    """Height and depth of the box that a leaning core takes.

    Parameters
    ----------
    height_mm, depth_mm : of the core, upright, over 0 [mm]
    tilt_deg : from upright, 0 to 90 [deg]

    Source: a rectangle turned by an angle.

    >>> leaning_mm(300.0, 40.0, 0.0), [round(one, 1) for one in leaning_mm(300.0, 40.0, 30.0)]
    ((300.0, 40.0), [279.8, 184.6])
    """
    sine, cosine = math.sin(math.radians(tilt_deg)), math.cos(math.radians(tilt_deg))
    return height_mm * cosine + depth_mm * sine, depth_mm * cosine + height_mm * sine


def judge_ports(given: Given, place: Place) -> Judgement:
    """Do the core's ports come out where the old one's do, so that its hoses serve?"""
    code, name, how = "part.radiator.ports", "Ports against the hoses", ["look from the front of the car"]
    new, old = ([of.get(f"{row}_port") for row in ("top", "lower")] for of in (given, place.stood.run))
    if None in (*new, *old) or "" in (*new, *old):
        who = "the core's ports are not said" if None in new or "" in new else "the old core's ports are not noted"
        return unmeasured(code, name, who, ["ports"], how)
    others = [row for row, one, was in zip(("top", "lower"), new, old, strict=True) if one != was]
    return judged(
        code,
        name,
        "tight" if others else "clear",
        f"{' and '.join(others)} port on the other side: another hose" if others else "the old hoses reach",
        f"{COMMON_PRACTICE}: a hose is moulded for its two ports",
        inputs=(InputUsed("old core", f"top {old[0]}, lower {old[1]}", "the car's data"),),
        remedies=("hoses made for it", "a core with the ports of the old one") if others else (),
    )


def judge_core_space(given: Given, place: Place) -> Judgement:
    """Does a core go between the rails, under the slam panel, before the fan and behind the condenser?"""
    code, name, space = "part.radiator.space", "Space for the core", space_of(place, "core_space")
    sizes = {what: given.get(f"{what}_mm") for what in ("width", "height", "depth")}
    if space is None or any(value is None for value in sizes.values()):
        what = "the core's size is not given" if space is not None else "space between rails, height, depth not read"
        return unmeasured(code, name, what, ["core space"], ["rule between the rails, up, and to fan and condenser"])
    there, tilt = space.values, float(place.stood.run.get("tilt_deg") or 0.0)
    high, deep = leaning_mm(float(sizes["height"] or 0), float(sizes["depth"] or 0), tilt)
    leans = f", leaning {tilt:g}°" if tilt else ""
    # a shroud that goes on with the core stands in the same depth
    deep += float(given.get("shroud_mm") or 0)
    wants = {
        "between the rails": (there["between_rails"], float(sizes["width"] or 0), 2 * ROUND_CORE["between_rails"]),
        f"height{leans}": (there["space_up"], round(high, 1), ROUND_CORE["space_up"]),
        f"depth, condenser to fan{leans}": (
            there["condenser_to_fan"],
            round(deep, 1),
            ROUND_CORE["to_fan"] + ROUND_CORE["to_condenser"],
        ),
    }
    lean = InputUsed("core leans by", f"{tilt:g}°" if tilt else "not noted: taken as upright", "the car's data")
    return _fits(code, name, wants, space, ("a smaller core", "the fan in front", "brackets of its own"), (lean,))


def judge_box_space(given: Given, place: Place) -> Judgement:
    """Does an intake box go where it is to stand, with the engine rocked?"""
    code, name, space = "part.filter.space", "Space for the box", space_of(place, "box_space")
    sizes = [given.get(f"box_{what}_mm") for what in ("width", "height", "depth")]
    if space is None or any(value is None for value in sizes):
        what = "the box's size is not given" if space is not None else "the space for it is not read"
        return unmeasured(code, name, what, ["box space"], ["three lengths where it is to stand, bonnet shut on clay"])
    there = space.values
    wants = {
        what: (there[f"space_{what}"], float(size or 0), 2 * ROUND_BOX)
        for what, size in zip(("width", "height", "depth"), sizes, strict=True)
    }
    return _fits(code, name, wants, space, ("a smaller box", "another place"))


def judge_seat_space(given: Given, place: Place) -> Judgement:
    """Does the shell go under the roof, and between tunnel and door?"""
    code, name, space = "part.seat.space", "Space for the seat", space_of(place, "seat_space")
    height, width = given.get("shell_height_mm"), given.get("shell_width_mm")
    if space is None or height is None or width is None:
        what = (
            "the shell's height and width are not given" if space is not None else "space to roof and tunnel not read"
        )
        return unmeasured(
            code, name, what, ["seat space"], ["floor mount to roof, tunnel to door, with the driver in it"]
        )
    there = space.values
    wants = {
        "shell to roof": (there["mount_to_roof"], float(height), SEAT_TO_ROOF),
        "tunnel to door": (there["tunnel_to_door"], float(width), SEAT_TO_SIDES),
    }
    return _fits(code, name, wants, space, ("a lower mount", "a narrower shell"))


def judge_seat_wheel(given: Given, place: Place) -> Judgement:
    """Do legs go between the shell's front edge and the steering wheel?"""
    code, name, space = "part.seat.wheel", "Legs under the steering wheel", space_of(place, "seat_wheel")
    edge = given.get("front_height_mm")
    if space is None or edge is None:
        what = "the shell's front edge is not given" if space is not None else "steering wheel over the mount not read"
        return unmeasured(code, name, what, ["seat wheel"], ["rule from the floor mount up to the wheel's lower edge"])
    there = space.values["wheel_to_mount"]
    return _fits(
        code,
        name,
        {"front edge to the wheel": (there, float(edge), LEGS_MM)},
        space,
        ("a lower mount", "the seat further back", "a smaller steering wheel"),
    )


def judge_bush_bore(given: Given, place: Place) -> Judgement:
    """Does a bush press into its bore: larger than it, by no more than presses in?"""
    code, name, space = "part.bush.bore", "Bush in its bore", space_of(place, "bush_bore")
    outer = given.get("outer_mm")
    if space is None or outer is None:
        what = "the bush's outside is not given" if space is not None else "bore not read"
        return unmeasured(code, name, what, ["bush bore"], ["caliper across the clean bore, twice, at right angles"])
    over = outer - space.values["bore"]
    state: State = "clear" if PRESS_LEAST <= over <= PRESS_MOST else "hit"
    words = "presses in" if state == "clear" else "loose in its bore" if over < 0 else "too large to press in"
    return judged(
        code,
        name,
        state,
        f"{over:+.2f} mm over the bore: {words}".replace("-", "−"),
        f"{outer:g} − {space.values['bore']:g} = {over:.2f} mm".replace("-", "−"),
        f"{COMMON_PRACTICE}, from memory: 0 to {PRESS_MOST:g} mm",
        value=round(over, 3),
        held_against=PRESS_MOST,
        inputs=(space.used,),
        remedies=("a bush of the bore's size",),
    )


def judge_bush_pin(given: Given, place: Place) -> Judgement:
    """How loose is the bolt or pin in the bush's sleeve?"""
    code, name, space = "part.bush.pin", "Bolt in the bush", space_of(place, "bush_bore")
    inner = given.get("inner_mm")
    if space is None or inner is None:
        what = "the bush's inside is not given" if space is not None else "bolt or pin not read"
        return unmeasured(code, name, what, ["bush bore"], ["caliper on the bolt's shank, where the bush sits"])
    play = inner - space.values["pin"]
    state: State = "hit" if play < -0.05 or play > PIN_HIT else "tight" if play > PIN_TIGHT else "clear"
    words = "does not go in" if play < -0.05 else f"{play:.2f} mm of play"
    return judged(
        code,
        name,
        state,
        words,
        f"{inner:g} − {space.values['pin']:g} = {play:.2f} mm".replace("-", "−"),
        f"{COMMON_PRACTICE}, from memory: {PIN_TIGHT:g} mm",
        value=round(play, 3),
        held_against=PIN_TIGHT,
        inputs=(space.used,),
        remedies=("a sleeve of the bolt's size", "a new bolt"),
    )


#: gaps of a car that a subframe, mounts and arms change: station -> (what, gap needed [mm])
CAR_GAPS: dict[str, tuple[str, float]] = {
    "sump_gap": ("Sump to crossmember", 15.0),
    "bonnet_gap": ("Engine to bonnet", 20.0),
    "tunnel_gap": ("Propshaft to tunnel", 12.0),
    "frame_gap": ("Arm and upright to the frame", 6.0),
}


def judge_car_gap(code: str, gap_mm: float | None, used: InputUsed | None, changed: bool) -> Judgement | None:
    """A gap that was read on the car, engine rocked or wheel through its travel; of one nobody read only what changes.

    Parameters
    ----------
    code : one of ``CAR_GAPS``
    gap_mm : as read [mm]; None where nobody did
    used : the reading
    changed : does the build change what it depends on?

    Source: common practice, from memory.

    >>> judge_car_gap("sump_gap", 9.0, None, True).state, judge_car_gap("sump_gap", None, None, False)
    ('tight', None)
    """
    name, needed = CAR_GAPS[code]
    if gap_mm is None:
        how = ["clay or a rule, engine rocked both ways"]
        return unmeasured(f"frame.{code}", name, "not read", [code], how) if changed else None
    state: State = "hit" if gap_mm <= 0 else "tight" if gap_mm < needed else "clear"
    return judged(
        f"frame.{code}",
        name,
        state,
        f"{gap_mm:g} mm, {needed:g} mm needed",
        f"{gap_mm:g} − {needed:g} = {gap_mm - needed:g} mm".replace("-", "−"),
        f"{COMMON_PRACTICE}, from memory: {needed:g} mm",
        value=gap_mm,
        held_against=needed,
        inputs=() if used is None else (used,),
        remedies=() if state == "clear" else ("shims under the mounts", "stiffer mounts"),
    )
