"""What a stored figure may be: one limit in its words.

Each topic says its own beside what it limits (``limits.py``).
"""

from __future__ import annotations

from dataclasses import dataclass


@dataclass(frozen=True)
class Limit:
    """Smallest and largest value accepted, in a unit."""

    low: float
    high: float
    unit: str = ""

    def holds(self, value: float) -> bool:
        """Is a value within, and a number at all?

        >>> Limit(3, 10).holds(5), Limit(3, 10).holds(float("nan"))
        (True, False)
        """
        return self.low <= value <= self.high

    @property
    def span(self) -> tuple[float, float]:
        """Both ends."""
        return self.low, self.high

    @property
    def accepted(self) -> str:
        """In words.

        >>> Limit(80, 300, "mm").accepted
        '80 to 300 mm'
        """
        return f"{_plain(self.low)} to {_plain(self.high)} {self.unit}".rstrip()


def _plain(value: float) -> str:
    return f"{value:.0f}" if value == int(value) else f"{value:g}"


#: longest thread or seat that is read, in characters
LONGEST_TEXT = 60
