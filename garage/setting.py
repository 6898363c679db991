"""The build in hand, as all rooms see it."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, field

from rimcore.quantities.judgement import Judgement
from rimcore.well.levers import Levers

Racked = Callable[[float, float], Judgement]


@dataclass(frozen=True)
class InHand:
    """The build in hand, as other rooms see it."""

    name: str
    tolerance: str
    ends: dict[str, Levers]
    build_id: int | None = None
    #: the build is tuned before its first drive
    tuned_first: bool = False
    #: planned items of the mass ledger come out with it
    strips: bool = False
    #: axle ratios of the gear sets that it puts on either end
    axle_ratios: dict[str, float] = field(default_factory=dict)

    def end(self, end: str) -> Levers:
        return self.ends.get(end, Levers())

    def drop_at(self, corner: str) -> float:
        """How far a corner is lowered against the baseline [mm]."""
        return self.end(corner[0]).drop_at(corner)
