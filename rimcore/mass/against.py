"""The ledger against four pads: what it tells of ends and sides, where two weighings stand before and after."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

from rimcore.mass.balance import Item, Stands, after
from rimcore.mass.ledger import other_fuel, told_state
from rimcore.quantities.judgement import OWN_MEASUREMENT, InputUsed, Judgement, unmeasured


@dataclass(frozen=True)
class Padded:
    """Four pads as they were read [kg, FL FR RL RR], ± of one, and who read them when; fuel in words."""

    pads_kg: tuple[float, float, float, float]
    doubt_kg: float
    said: tuple[InputUsed, ...] = ()
    fuel: str = ""


def rests_kg(told: Stands, read: Padded) -> dict[str, float]:
    """What the pads say beyond what the ledger tells [kg].

    Of both ends, and of the right side by its moment about the centre line.

    No collar moves these: what it winds onto one diagonal goes off the other, with the same force on an axle and the
    same moment.

    >>> told = Stands((300.0, 300.0, 200.0, 200.0), 2500.0, (1500.0, 1500.0))
    >>> rests_kg(told, Padded((301.0, 299.0, 198.0, 202.0), 0.5))
    {'front': 0.0, 'rear': 0.0, 'right side': 1.0}
    """
    fl, fr, rl, rr = (one - other for one, other in zip(read.pads_kg, told.pads_kg, strict=True))
    front, rear = told.track_mm
    return {"front": fl + fr, "rear": rl + rr, "right side": ((fr - fl) * front + (rr - rl) * rear) / (front + rear)}


def judge_pads(
    stood: Stands,
    before: Padded,
    now: Padded,
    items: Sequence[Item],
    unknown: Sequence[str] = (),
    scales_kg: float = 0.0,
) -> Judgement:
    """Do the pads read what the ledger tells? Held against it are ends and sides, which no collar moves.

    Parameters
    ----------
    stood : the car as it was weighed first
    before : pads and what stood on the car then
    now : the same now
    items : what came out or went in between both weighings
    unknown : names of items whose mass or place nobody noted
    scales_kg : ± of the items' own scales [kg]

    Examples
    --------
    >>> stood = Stands((300.0, 300.0, 200.0, 200.0), 2500.0, (1500.0, 1500.0))
    >>> first, then = Padded(stood.pads_kg, 0.5), Padded((300.0, 300.0, 190.0, 190.0), 0.5)
    >>> judge_pads(stood, first, then, [Item("spare", -20.0, 2500.0, 0.0)]).state, judge_pads(stood, first, then, []).state
    ('clear', 'hit')
    """
    code, name = "mass.pads", "Ledger against the pads"
    if unknown:
        return unmeasured(
            code,
            name,
            f"weight or place not noted: {', '.join(unknown[:4])}",
            ["mass"],
            ["weigh it, note where it was"],
        )
    if other_fuel(before.fuel, now.fuel):
        return unmeasured(
            code,
            name,
            f"fuel was “{before.fuel}”, then “{now.fuel}”",
            ["corner_mass"],
            ["weigh it again with the same fuel"],
        )
    told = after(stood, items)
    rests = rests_kg(told, now)
    doubt = math.sqrt(2 * before.doubt_kg**2 + 2 * now.doubt_kg**2 + scales_kg**2)
    worst = max(rests, key=lambda one: abs(rests[one]))
    rest = rests[worst]
    state = told_state(rest, doubt)
    words = (
        "the ledger explains both ends and sides"
        if state == "clear"
        else f"the {worst} weighs {abs(rest):.1f} kg {'more' if rest > 0 else 'less'} than it tells"
    )
    return Judgement(
        code,
        name,
        state,
        words,
        OWN_MEASUREMENT,
        value=rest,
        unit="kg",
        held_against=doubt,
        margin=doubt - abs(rest),
        uncertainty=doubt,
        formula="pads read − pads told: "
        + ", ".join(f"{name} {kg:+.1f} kg" for name, kg in rests.items()).replace("-", "−"),
        inputs=(*before.said, *now.said),
        remedies=()
        if state == "clear"
        else ("the same fuel and crew, pads level and zeroed", "look where an item's place was noted wrong"),
    )
