"""Parts of the shortlist as ways to take weight out: what each saves against what it replaces."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from rimcore.mass.ledger import Weighed

#: families whose old part may hold what is never taken out casually: they go through the ledger, where that is asked
ASKED_FIRST = {
    "seat": "an old seat may hold an airbag, a belt or its circuit: weigh it into the ledger, where that is asked"
}
#: families that cost comfort or noise (common practice)
COMFORT = ("seat", "glass", "trim")


@dataclass(frozen=True)
class Listed:
    """A part, or a wheel with its tyre.

    Of which family, for which side, and what each that is needed weighs more than what it replaces [kg].

    ``price_minor`` of one; minutes to fit one; None is not known. ``hit``: what is in its way on this car, in words;
    ``unread``: something of its fit is not measured.
    """

    label: str
    name: str
    family: str
    changes_kg: tuple[float | None, ...]
    price_minor: int | None
    minutes: float | None = None
    hit: str = ""
    side: str = ""
    unread: bool = False

    @property
    def change_kg(self) -> float | None:
        """Of all of them; None where one is not known.

        >>> Listed("P1", "wheel with tyre", "pair", (-1.5, -1.5, -1.0, -1.0), 30000).change_kg
        -5.0
        """
        known = [kg for kg in self.changes_kg if kg is not None]
        return sum(known) if known and len(known) == len(self.changes_kg) else None

    @property
    def all_minor(self) -> int:
        """Price of all of them; 0 where it is not known."""
        return (self.price_minor or 0) * len(self.changes_kg)

    @property
    def all_minutes(self) -> float:
        """Time for all of them; 0 where it is not known."""
        return (self.minutes or 0.0) * len(self.changes_kg)


def of_list(parts: Sequence[Listed]) -> tuple[Weighed, ...]:
    """Parts that are lighter than what they replace, for the best set.

    Two of one family and side replace the same thing.

    >>> cells = [Listed(f"B{n}", f"battery {n}", "battery", (-kg,), 20000) for n, kg in ((1, 9.0), (2, 11.5))]
    >>> [(one.name, one.net_kg, one.not_with) for one in of_list([*cells, Listed("B3", "battery 3", "battery", (1.0,), 9000)])]
    [('battery 1', 9.0, ('B2',)), ('battery 2', 11.5, ('B1',))]
    """
    lighter = [one for one in parts if one.change_kg is not None and one.change_kg < 0]
    return tuple(
        Weighed(
            one.label,
            one.name,
            -(one.change_kg or 0.0),
            minutes=one.all_minutes,
            money_minor=one.all_minor,
            comfort=one.family in COMFORT,
            not_with=tuple(other.label for other in lighter if other is not one and _same_thing(one, other)),
            listed=True,
            shut=_shut(one),
            timed=one.minutes is not None,
            note="its fit is not all measured" if one.unread else "",
        )
        for one in lighter
    )


def _same_thing(one: Listed, other: Listed) -> bool:
    """Left and right stand beside each other; what goes on both sides replaces either."""
    return one.family == other.family and {one.side, other.side} != {"left", "right"}


def _shut(one: Listed) -> str:
    """Why a part is not proposed; blank where it may be."""
    if one.family in ASKED_FIRST:
        return ASKED_FIRST[one.family]
    if one.hit:
        return f"does not go on this car: {one.hit}"
    return "its price is not known" if one.price_minor is None else ""
