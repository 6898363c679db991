"""What a bench's work comes to in parts: each with its family, quantity, mass and price as far as they are known."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field
from typing import Any

from rimcore.families import FAMILIES


@dataclass(frozen=True)
class Wanted:
    """A part that a bench wants in a build; ``key`` is the same for the same thing when the bench is worked on again.

    ``price_minor`` is None where nobody knows it: it is asked, and never nought.
    """

    key: str
    family: str
    name: str
    quantity: int = 1
    spec: Mapping[str, Any] = field(default_factory=dict)
    price_minor: int | None = None
    why: str = ""

    def __post_init__(self) -> None:
        """What its family does not take makes it a part by name; its mass stays."""
        if FAMILIES[self.family].fault(self.spec) is not None:
            mass = self.spec.get("mass_change_kg")
            object.__setattr__(self, "family", "other")
            object.__setattr__(self, "spec", {} if mass is None else {"mass_change_kg": mass})

    @property
    def mass_kg(self) -> float | None:
        """Mass of one against what it replaces; None where it is not known.

        >>> Wanted("a", "mid_pipe", "Pipe", spec={"bore_mm": 60.0, "mass_change_kg": -1.5}).mass_kg
        -1.5
        """
        found: float | None = self.spec.get("mass_change_kg")
        return found

    @property
    def unweighed(self) -> bool:
        """Is a mass asked that nobody knows?"""
        small = self.family == "other" and self.key.startswith("need ")
        return self.mass_kg is None and not small and not FAMILIES[self.family].grams

    @property
    def position(self) -> str:
        """Where it goes: the one end of its family, an exhaust at the rear, else as the family says first."""
        family = FAMILIES[self.family]
        return "R" if family.once and "exhaust" in family.modules else family.positions[0]
