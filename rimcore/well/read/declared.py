"""What a reading is made of, as declared: where the rule went, and what it read."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from typing import Any

from rimcore.quantities.errors import BadInput
from rimcore.quantities.limits import Limit
from rimcore.well.read.stations import StationKind

#: parts of the tread at which a rule stood
EDGES = {"inner": "inner edge", "centre": "middle", "outer": "outer edge"}


@dataclass(frozen=True)
class Param:
    """One thing that says where the rule went: a quantity within its limits, or a choice.

    ``default`` is what it is where nobody says; None has to be given. ``side`` says that only its sign makes
    two readings the same place. ``below`` are smallest values of stations of some places.
    """

    code: str
    label: str
    limit: Limit = Limit(0, 0)
    quantity: str = "length"
    default: float | str | None = None
    help: str = ""
    choices: Mapping[str, str] = field(default_factory=dict)
    side: bool = False
    below: Mapping[str, float] = field(default_factory=dict)

    def span(self, place: str) -> Limit:
        """Smallest and largest value at a station of a place.

        >>> PARAMS["height_mm"].span("damper").low, PARAMS["height_mm"].span("rail").low
        (0, -400)
        """
        return Limit(self.below.get(place, self.limit.low), self.limit.high, self.limit.unit)

    def check(self, place: str, value: Any) -> float | str | None:
        """A value that it takes.

        Raises
        ------
        BadInput : no such choice, no number, or out of range; says what is accepted

        >>> PARAMS["u_mm"].check("perch", -55)
        -55.0
        """
        if value is None or value == "":
            return self.default
        if self.choices:
            if value not in self.choices:
                raise BadInput(f"no such place; accepted: {', '.join(self.choices)}", self.code)
            return str(value)
        if isinstance(value, (str, bool)) or not self.span(place).holds(float(value)):
            raise BadInput(f"{self.label.lower()} is out of range; accepted: {self.span(place).accepted}", self.code)
        return float(value)


PARAMS: dict[str, Param] = {
    one.code: one
    for one in (
        Param("height_mm", "Height above the hub's centre", Limit(0, 500, "mm"), below={"rail": -400, "arm": -400}),
        Param("u_mm", "Across the tread from its middle", Limit(-250, 250, "mm"), help="outboard is plus"),
        Param("u", "Nearest part of the tread", quantity="", default="centre", choices=EDGES),
        Param(
            "travel_mm", "Wheel raised by", Limit(-300, 300, "mm"), default=0.0, help="from ride height; 0 as it stands"
        ),
        Param(
            "steer_deg",
            "Steer at that lock",
            Limit(-60, 60, "°"),
            "angle",
            help="plus: the wheel's front edge swings outboard",
            side=True,
        ),
    )
}


#: what is read, in words
VALUES = {
    "gap": "Gap",
    "side": "Sideways from the sidewall",
    "up": "Up from the tread",
    "radius": "Radius from the hub's centre",
    "face": "Beyond the mounting face",
    "height": "Wheel centre to arch lip",
    "camber": "Camber",
    "toe": "Toe, in is plus",
    "toe_change": "Toe change from ride height, in is plus",
    "mass": "Weight",
    "speed": "True speed",
    "travel": "Travel of the wheel's centre",
    "angle": "Angle",
    "inboard": "Inboard of the mounting face",
    "above": "Over the hub's centre",
    "loose": "Length of the coil, loose",
    "wound": "Length of the coil, wound up",
    "stick": "Stick-out",
    "play": "Play",
    "up_from_ground": "Lip over the ground",
    "throw": "Throw",
    "between_rails": "Between the rails",
    "space_up": "Lower mount to slam panel",
    "condenser_to_fan": "Condenser to fan",
    "space_width": "Across",
    "space_height": "Up",
    "space_depth": "Along the car",
    "mount_to_roof": "Floor mount to roof",
    "wheel_to_mount": "Floor mount to the steering wheel",
    "tunnel_to_door": "Tunnel to door",
    "bore": "Bore",
    "pin": "Bolt",
    "ball_out": "Lower ball joint, out from the middle",
    "outer_out": "Rod's outer joint, out from the middle",
    "outer_behind": "Rod's outer joint, behind the ball joint",
    "inner_out": "Rod's inner joint, out from the middle",
    "inner_behind": "Rod's inner joint, behind the ball joint",
    "eye_to_eye": "Eye to eye",
    "gearbox_down": "Gearbox, nose down is plus",
    "shaft_down": "Propshaft, nose down is plus",
    "pinion_down": "Pinion, nose down is plus",
    "engaged": "Engaged",
    "up_to_ball": "Ball over the ground",
    "at_idle": "At idle",
    "at_cruise": "At a steady cruise",
    "at_full_load": "At full load",
    "resting": "Resting",
    "charging": "Charging",
}


def check_where(station: StationKind, where: Mapping[str, Any]) -> dict[str, float | str]:
    """Where a rule went, as a station declares it; what is not said has its default and is left out where it has none.

    Source: the station's own declaration.

    Parameters
    ----------
    station : as declared
    where : answers by name

    Raises
    ------
    BadInput : something that the station does not ask, or a value it does not take

    Examples
    --------
    >>> from rimcore.well.read.stations import STATIONS
    >>> check_where(STATIONS["damper"], {"height_mm": 262})
    {'height_mm': 262.0}
    """
    for name in where:
        if name not in station.params:
            raise BadInput(f"is not asked at {station.code}; accepted: {', '.join(station.params) or 'nothing'}", name)
    checked = {name: PARAMS[name].check(station.place, where.get(name)) for name in station.params}
    return {name: value for name, value in checked.items() if value is not None}


def check_values(station: StationKind, values: Sequence[Any]) -> tuple[float, ...]:
    """What was read, as a station declares it.

    Source: the station's own declaration.

    Parameters
    ----------
    station : as declared
    values : as read (n,), in the station's unit

    Raises
    ------
    BadInput : more or fewer values than it takes, or one out of range

    Examples
    --------
    >>> from rimcore.well.read.stations import STATIONS
    >>> check_values(STATIONS["arch_12"], [31, 62])
    (31.0, 62.0)
    """
    if len(values) != len(station.values):
        raise BadInput(f"{len(values)} values; accepted: {len(station.values)} ({', '.join(station.values)})", "values")
    for name, value in zip(station.values, values, strict=True):
        if isinstance(value, (str, bool)) or value is None or not station.holds(float(value)):
            low, high = station.limits
            raise BadInput(f"is out of range; accepted: {low:g} to {high:g}", name)
    return tuple(float(value) for value in values)


def place_of(where: Mapping[str, Any]) -> tuple[tuple[str, Any], ...]:
    """What makes two readings of a station the same place: a newer one stands over an older one.

    A lock is a lock whatever its angle; what is at its default is as if it were not said.

    Source: none; a key.

    Parameters
    ----------
    where : answers by name

    >>> place_of({"u": "outer", "steer_deg": -33.0, "travel_mm": 0.0})
    (('steer_deg', -1), ('u', 'outer'))
    """
    found = []
    for name, value in sorted(where.items()):
        param = PARAMS.get(name)
        if value is None or (param is not None and value == (0.0 if param.side else param.default)):
            continue
        found.append((name, (value > 0) - (value < 0) if param is not None and param.side else value))
    return tuple(found)
