"""Series that are asked for again and again, with the same words each time."""

from __future__ import annotations

from dataclasses import dataclass

from rimcore.quantities.units import parse_quantity

#: grades of every feel scale, worst last (common practice: a short scale, the same wording each time)
FEEL = (
    "1 none · 2 looked for and found · 3 noticed by the driver · 4 noticed by a passenger · 5 nobody would drive it so"
)


@dataclass(frozen=True)
class Ready:
    """A series that is offered: what it is called, its unit, which way is better, how it is done each time."""

    key: str
    name: str
    unit: str
    better: str
    how: str

    def in_own_unit(self, value: float, unit: str) -> float:
        """A run that was read in another unit of the same kind.

        As it is where the units are the same, or nothing is known of them.

        >>> round(BY_KEY["circle"].in_own_unit(36.0, "ft"), 4), BY_KEY["cruise"].in_own_unit(2100.0, "rpm")
        (10.9728, 2100.0)
        """
        kind = {"m": "length", "°C": "temperature", "L/100 km": "fuel"}.get(self.unit)
        if kind is None or unit == self.unit:
            return value
        found = parse_quantity(f"{value:.10g} {unit}", kind).value
        return found / 1000.0 if self.unit == "m" else found


READY: tuple[Ready, ...] = (
    Ready(
        "circle",
        "Turning circle",
        "m",
        "less",
        "full lock, walking pace, chalk at the outer front tyre, wall to wall; both ways",
    ),
    Ready("slop", "Feel: slop in the steering", "of 5", "less", FEEL),
    Ready("harsh", "Feel: harshness on the test dip", "of 5", "less", FEEL),
    Ready("noise", "Feel: knocks and noise from the suspension", "of 5", "less", FEEL),
    Ready("shake", "Feel: vibration, 80 to 110 km/h", "of 5", "less", FEEL),
    Ready("pull", "Feel: pulls to one side, hands off, flat road", "of 5", "less", FEEL),
    Ready(
        "stop",
        "Stopping distance, 60 km/h",
        "m",
        "less",
        "closed place, dry, cold tyres warmed the same way; tape from the mark to the front tyre",
    ),
    Ready(
        "cruise",
        "Engine speed at cruise",
        "rpm",
        "less",
        "last gear, true 100 km/h by the logger, level road, both ways",
    ),
    Ready(
        "hottest",
        "Coolant at its hottest",
        "°C",
        "less",
        "the same hill or session, the same outside temperature within 5 °C",
    ),
    Ready(
        "fuel",
        "Fuel used",
        "L/100 km",
        "less",
        "full tank to full tank at the same pump, the same route and driver, the trip meter corrected for the tyres",
    ),
    Ready(
        "level",
        "Sound at cruise",
        "dB(A)",
        "less",
        "meter at the passenger's headrest, the same speed, gear and road, windows shut",
    ),
    Ready("shift", "Feel: shifter, slop and finding gears", "of 5", "less", FEEL),
    Ready("bite", "Feel: brakes, pedal and bite", "of 5", "less", FEEL),
)
BY_KEY = {one.key: one for one in READY}
