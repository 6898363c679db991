"""What was taken off: weighed with its box, counted, labelled, and what became of it."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from rimcore.quantities.errors import BadInput
from rimcore.quantities.judgement import State

FATES = {"keep": "kept", "sell": "to sell", "sold": "sold", "bin": "binned", "back": "back on the car"}


def net_kg(gross_kg: float | None, tare_kg: float | None) -> float | None:
    """Mass of what lies in the box; None where one of both is not known: a box that nobody weighed is not nothing.

    Raises
    ------
    BadInput : the box weighs more than both together

    >>> round(net_kg(7.25, 0.4), 2), net_kg(7.25, None)
    (6.85, None)
    """
    if gross_kg is None or tare_kg is None:
        return None
    if tare_kg > gross_kg:
        raise BadInput("the empty box weighs more than the full one; accepted: tare up to gross", "tare_kg")
    return gross_kg - tare_kg


@dataclass(frozen=True)
class Count:
    """Pieces bagged and pieces back; None was not counted."""

    off: int | None
    back: int | None

    @property
    def state(self) -> State:
        """``clear`` when as many came back as went off, ``hit`` when not, ``unmeasured`` while nobody counted.

        >>> Count(20, 20).state, Count(20, 19).state, Count(20, None).state
        ('clear', 'hit', 'unmeasured')
        """
        if self.off is None or self.back is None:
            return "unmeasured"
        return "clear" if self.off == self.back else "hit"

    @property
    def reason(self) -> str:
        """In words.

        >>> Count(20, 19).reason, Count(5, 6).reason
        ('1 of 20 missing', '1 more than came off')
        """
        if self.off is None:
            return "nobody counted what came off"
        if self.back is None:
            return f"{self.off} came off; count them back"
        apart = self.off - self.back
        return (
            "all back"
            if apart == 0
            else f"{apart} of {self.off} missing"
            if apart > 0
            else f"{-apart} more than came off"
        )


#: letters that can't be misread on a greasy label
LETTERS = "ABCDEFHKLMNPRSTUVWXYZ"


def label_of(number: int) -> str:
    """A short code for the label of a bag, counted from 0: letters, then 1 to 99.

    >>> label_of(0), label_of(98), label_of(99), label_of(99 * 21)
    ('A1', 'A99', 'B1', 'AA1')
    """
    block, place = divmod(number, 99)
    head = ""
    while True:
        block, letter = divmod(block, len(LETTERS))
        head = LETTERS[letter] + head
        if block == 0:
            return f"{head}{place + 1}"
        block -= 1


def proceeds_minor(rows: Sequence[tuple[str, int, int]]) -> int:
    """What was sold, less the fees of selling: rows of (fate, sold for, fees) [minor units].

    >>> proceeds_minor([("sold", 20000, 1500), ("keep", 0, 0), ("sell", 0, 0)])
    18500
    """
    return sum(sold - fees for fate, sold, fees in rows if fate == "sold")


def weighed_kg(rows: Sequence[tuple[str, float | None]]) -> tuple[float | None, int]:
    """Net mass that is off the car, and how many bags nobody weighed: rows of (fate, net mass).

    What went back on is not off.

    >>> weighed_kg([("keep", 9.5), ("sold", 0.5), ("back", 3.0), ("keep", None)]), weighed_kg([("bin", None)])
    ((10.0, 1), (None, 1))
    """
    off = [kg for fate, kg in rows if fate != "back"]
    known = [kg for kg in off if kg is not None]
    return (sum(known) if known else None), len(off) - len(known)
