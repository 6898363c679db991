"""A judgement: what was found, against what, on which basis, and what would remedy it."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass
from typing import Any, Literal

State = Literal["clear", "tight", "hit", "unmeasured"]

#: worst first
ORDER: tuple[State, ...] = ("hit", "tight", "unmeasured", "clear")

COMMON_PRACTICE = "common practice"
OWN_MEASUREMENT = "the user's own measurement"


@dataclass(frozen=True)
class InputUsed:
    """A value a judgement rests on: where it came from and when."""

    name: str
    value: str
    source: str = ""
    date: str = ""


@dataclass(frozen=True)
class Judgement:
    """One answer.

    ``margin`` is ``value`` less ``held_against`` where more is better, so a negative margin is the
    amount that is lacking. ``before`` is the value with what is on the car now.
    """

    code: str
    name: str
    state: State
    reason: str
    basis: str
    value: float | None = None
    unit: str = ""
    held_against: float | None = None
    margin: float | None = None
    before: float | None = None
    uncertainty: float | None = None
    formula: str = ""
    inputs: tuple[InputUsed, ...] = ()
    remedies: tuple[str, ...] = ()
    missing: tuple[str, ...] = ()
    where: str = ""
    #: what the same rule would read at the same place
    reads: float | None = None
    #: in motion: the pose of the smallest gap (steer [deg], travel [mm]), and the shares of the gap's direction
    pose: tuple[float, float] | None = None
    along: tuple[float, float] | None = None
    #: where the steering axis or camber gain is not measured: the gap of the worst and the best usual one
    usual: tuple[float, float] | None = None
    #: what one's own predictions did to it: the ± times so much, so much added; None: as it was worked out
    taught: tuple[float, float] | None = None

    @property
    def sure_margin(self) -> float | None:
        """Margin that is kept whatever the unmeasured axis; None without a value."""
        if self.margin is None or self.usual is None or self.value is None:
            return self.margin
        return self.margin + self.usual[0] - self.value

    def as_dict(self) -> dict[str, Any]:
        """Plain form for the command line.

        >>> unmeasured("hub.bore", "Centre bore", "bore not given", ()).as_dict()["state"]
        'unmeasured'
        """
        return {
            "name": self.name,
            "state": self.state,
            "value": self.value,
            "unit": self.unit,
            "held_against": self.held_against,
            "margin": self.margin,
            "reason": self.reason,
            "basis": self.basis,
            "formula": self.formula,
            "inputs": [{"name": i.name, "value": i.value, "source": i.source, "date": i.date} for i in self.inputs],
            "remedies": list(self.remedies),
        }


def unmeasured(
    code: str,
    name: str,
    reason: str,
    missing: Iterable[str],
    remedies: Iterable[str] = (),
    inputs: tuple[InputUsed, ...] = (),
) -> Judgement:
    """The judgement of what nobody measured: says what to measure, never ``clear``.

    ``inputs`` are what was read all the same.

    >>> unmeasured("gap.damper", "Damper", "no reading", ["damper"]).state
    'unmeasured'
    """
    return Judgement(
        code,
        name,
        "unmeasured",
        reason,
        "not measured",
        missing=tuple(missing),
        remedies=tuple(remedies),
        inputs=tuple(inputs),
    )


def state_of_gap(gap: float, margin: float, uncertainty: float = 0.0) -> State:
    """``hit`` below 0, ``tight`` where the gap less its uncertainty is under the margin, else ``clear``.

    Source: the judgement's own rule, everywhere alike.

    Parameters
    ----------
    gap : nearest approach, below 0 is overlap [mm]
    margin : wanted, 0 or more [mm]
    uncertainty : ± of the gap, 0 or more [mm]

    >>> state_of_gap(-0.1, 5), state_of_gap(5.5, 5, uncertainty=1.0), state_of_gap(5.0, 5)
    ('hit', 'tight', 'clear')
    """
    if gap < 0:
        return "hit"
    return "tight" if gap - uncertainty < margin - 1e-9 else "clear"


def worst(states: Iterable[State]) -> State:
    """The worst of several states; ``unmeasured`` when there are none.

    >>> worst(["clear", "unmeasured"]), worst([])
    ('unmeasured', 'unmeasured')
    """
    present = set(states)
    return next((state for state in ORDER if state in present), "unmeasured")


def severity(judgement: Judgement) -> tuple[int, float]:
    """Sort key: worst state first, then the smallest margin.

    >>> severity(unmeasured("x", "x", "", ()))[0]
    2
    """
    margin = judgement.margin if judgement.margin is not None else float("inf")
    return ORDER.index(judgement.state), margin
