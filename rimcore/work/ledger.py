"""Money and mass of a build."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

#: state of a part -> where its price stands
PROMISED_STATES = ("wanted", "shortlisted", "ordered")
SPENT_STATES = ("arrived", "trial_fitted", "fitted")
#: states in which a part is there
THERE_STATES = ("have", *SPENT_STATES)
#: states in which it is out of the build
OUT_STATES = ("returned", "sold")
PART_STATES = {
    "wanted": "wanted",
    "have": "have it",
    "shortlisted": "shortlisted",
    "ordered": "ordered",
    "arrived": "arrived",
    "trial_fitted": "trial-fitted",
    "fitted": "fitted",
    "returned": "returned",
    "sold": "sold",
}


@dataclass(frozen=True)
class Line:
    """A part's price [minor units], how many, and its state; what it was sold for counts back.

    ``fees_minor`` is what selling or sending back costs: fees, postage, restocking.
    """

    price_minor: int | None
    quantity: int
    state: str
    sold_minor: int = 0
    fees_minor: int = 0


@dataclass(frozen=True)
class Money:
    """Minor units of one currency."""

    spent_minor: int
    promised_minor: int
    budget_minor: int | None
    without_price: int

    @property
    def total_minor(self) -> int:
        return self.spent_minor + self.promised_minor

    @property
    def left_minor(self) -> int | None:
        return None if self.budget_minor is None else self.budget_minor - self.total_minor


def money(lines: Sequence[Line], budget_minor: int | None, other_spent_minor: int = 0) -> Money:
    """Spent (arrived or later), promised (chosen or ordered), left of the budget.

    ``other_spent_minor`` is money lost on snags and the like. Returned parts cost what sending them back takes; a part
    that one has already is
    off the bill.

    >>> money([Line(20000, 4, "ordered"), Line(9000, 4, "fitted")], 320000).left_minor
    204000
    >>> money([Line(20000, 1, "sold", 15000, 900), Line(5000, 1, "returned", 0, 700), Line(9000, 1, "have")], None).spent_minor
    6600
    """
    spent, promised, without = other_spent_minor, 0, 0
    for line in lines:
        spent += line.fees_minor if line.state in OUT_STATES else 0
        if line.price_minor is None:
            without += line.state not in (*OUT_STATES, "have")
            spent -= line.sold_minor if line.state == "sold" else 0
            continue
        total = line.price_minor * line.quantity
        if line.state in SPENT_STATES:
            spent += total
        elif line.state == "sold":
            spent += total - line.sold_minor
        elif line.state in PROMISED_STATES:
            promised += total
    return Money(spent, promised, budget_minor, without)


@dataclass(frozen=True)
class MassChange:
    """Change of mass [kg] front and rear; None where a mass is not known."""

    front_kg: float | None
    rear_kg: float | None
    unknown: int

    @property
    def total_kg(self) -> float | None:
        if self.front_kg is None and self.rear_kg is None:
            return None
        return (self.front_kg or 0.0) + (self.rear_kg or 0.0)


def mass_change(front: Sequence[float | None], rear: Sequence[float | None]) -> MassChange:
    """Sum the known changes of each axle and count the unknown ones.

    >>> mass_change([-1.2, -1.2], [None, -0.5]).unknown
    1
    """
    known_front = [kg for kg in front if kg is not None]
    known_rear = [kg for kg in rear if kg is not None]
    unknown = len(front) + len(rear) - len(known_front) - len(known_rear)
    return MassChange(sum(known_front) if known_front else None, sum(known_rear) if known_rear else None, unknown)
