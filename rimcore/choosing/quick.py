"""What people come for, as a first answer to what is looked for: kinds of part, what is best, what may be moved."""

from __future__ import annotations

from collections.abc import Collection
from dataclasses import dataclass

#: slot of wheels, tyres and what is set with them; slots of the mass ledger
PAIR, OUT = "wheels and tyres", "weight out"


#: kinds of part whose job sheet drills into the body: a test holds them to the sheets
DRILLED = frozenset(
    {"panel", "splitter", "strake", "vent", "wing", "insert", "splitter_adjuster", "ballast"},
)


#: kinds of part that the law of the road asks about: approved, marked, or regulated (local law decides)
REGULATED = frozenset({"wing", "seat", "glass", "catalyst", "silencer"})


@dataclass(frozen=True)
class Quick:
    """A wish in a word: slots that it looks through, what is best, how far the car may be lowered [mm]."""

    name: str
    slots: tuple[str, ...]
    goal: str = "money"
    drop_mm: float | None = None
    #: each of it may also stay as it is
    may_stay: bool = False


QUICK: dict[str, Quick] = {
    "wheels": Quick("Wheels and tyres", (PAIR,)),
    "stop": Quick("Stop better", ("caliper", "rotor", "brake_pads", "brake_lines", "brake_fluid")),
    "lighter": Quick(
        "Lighter", (PAIR, OUT, "seat", "battery", "glass", "rotor", "manifold", "silencer"), "kg", may_stay=True
    ),
    "lower": Quick(
        "Sit lower",
        (PAIR, "spring", "damper", "helper", "bump_stop", "top_mount", "leaf_pack", "bar_link"),
        drop_mm=40.0,
    ),
    "breathe": Quick(
        "Breathe",
        (
            "intake_pipe",
            "air_filter",
            "meter_housing",
            "charge_cooler",
            "manifold",
            "catalyst",
            "mid_pipe",
            "silencer",
        ),
    ),
}


def quick_slots(code: str, there: Collection[str], most: int) -> tuple[str, ...]:
    """The slots of a quick choice that the list has something for.

    Parameters
    ----------
    code : one of ``QUICK``
    there : slots that have an option
    most : slots that may be asked for at once

    Source: which parts belong to a wish is common practice.

    >>> quick_slots("stop", {"rotor", "seat", "brake_pads"}, 8)
    ('rotor', 'brake_pads')
    """
    return tuple(one for one in QUICK[code].slots if one in there)[:most]
