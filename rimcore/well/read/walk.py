"""The measuring walk: stations in the order of least crawling, and how long it takes."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass

from rimcore.tables.facts import CORNER_NAMES
from rimcore.well.read.rule import CAR, HANGING, LOCK, OFF, RAISED, STRAIGHT, WHERE
from rimcore.well.read.stations import STATIONS

#: round the car, so that nobody crosses under it
ROUND = ("FL", "RL", "RR", "FR", "")


@dataclass(frozen=True)
class Standing:
    """How the wheel stands for some stations.

    What it takes to bring it there, and to read once there [min] (common practice).
    """

    name: str
    ready_min: float
    read_min: float


#: in the order in which one comes to them at a corner
STANDINGS: dict[str, Standing] = {
    "straight": Standing("wheel on, straight ahead", 0.0, 1.5),
    "lock_in": Standing("full lock, front edge inboard", 1.0, 2.0),
    "lock_out": Standing("full lock, front edge outboard", 1.0, 2.0),
    "raised": Standing("wheel raised by a jack under it", 6.0, 3.0),
    "hanging": Standing("wheel hanging free, car on stands", 5.0, 2.0),
    "off": Standing("wheel off, car on stands", 8.0, 3.0),
    "car": Standing("car on its tyres, rolled and settled", 5.0, 2.0),
}


@dataclass(frozen=True)
class Stop:
    """One station of the walk."""

    corner: str
    code: str
    #: to which lock it was read before: 1 with the front edge outboard, −1 inboard, 0 not yet
    lock: int = 0

    @property
    def key(self) -> str:
        """Its name in an address: ``FL.damper``; ``.car_mass`` for the whole car."""
        return f"{self.corner}.{self.code}"

    @property
    def standing(self) -> str:
        """How the wheel has to stand.

        >>> Stop("FL", "liner_rear_lock").standing, Stop("FL", "joint").standing
        ('lock_out', 'off')
        """
        where = WHERE[self.code]
        if where.stands == LOCK:
            return "lock_out" if (self.lock or where.turned_deg) > 0 else "lock_in"
        return {STRAIGHT: "straight", RAISED: "raised", HANGING: "hanging", OFF: "off", CAR: "car"}[where.stands]

    @property
    def head(self) -> str:
        """Corner and standing, in words."""
        return f"{CORNER_NAMES[self.corner]}, {STANDINGS[self.standing].name}"


def in_order(stops: Iterable[Stop]) -> tuple[Stop, ...]:
    """Corner by corner round the car.

    At each the wheel on and straight, then at lock both ways, raised, hanging and off; what is read of the car as it
    stands comes last.

    >>> [stop.key for stop in in_order([Stop("FR", "damper"), Stop("FL", "joint"), Stop("FL", "damper"), Stop("", "car_mass")])]
    ['FL.damper', 'FL.joint', 'FR.damper', '.car_mass']
    """
    states, codes = list(STANDINGS), list(STATIONS)
    return tuple(
        sorted(
            dict.fromkeys(stops),
            key=lambda stop: (
                stop.standing == "car",
                ROUND.index(stop.corner),
                states.index(stop.standing),
                codes.index(stop.code),
            ),
        )
    )


def minutes(stops: Sequence[Stop]) -> float:
    """How long a walk takes [min]: every standing of a corner is made once, those of the whole car once.

    >>> minutes([Stop("FL", "joint"), Stop("FL", "caliper_spoke")])
    14.0
    """
    made = {("" if stop.standing == "car" else stop.corner, stop.standing) for stop in stops}
    return sum(STANDINGS[standing].ready_min for _, standing in made) + sum(
        STANDINGS[stop.standing].read_min for stop in stops
    )


def differs(one: float, one_doubt: float, other: float, other_doubt: float) -> bool:
    """Do two readings of one place differ by more than both their ± together? One of them is then misread, or something
    has moved.

    Source: sum of both ±, the careful bound of JCGM 100:2008, 5.2.2.

    Parameters
    ----------
    one : a reading
    one_doubt : its ±, 0 or more
    other : the other one, same unit
    other_doubt : its ±, 0 or more

    >>> differs(10.0, 1.0, 12.0, 1.0), differs(10.0, 1.0, 12.1, 1.0)
    (False, True)
    """
    return abs(one - other) > one_doubt + other_doubt + 1e-9


def repeated(values: Sequence[float], doubt: float) -> tuple[float, float]:
    """Mean of readings that were repeated at one place, and its ±.

    Half their spread, and no less than the method's ± over the root of their number.

    A handful of readings says little of their own scatter, so that half of the range stands for it (common practice);
    what a method is off by chance averages out with the root of the number (JCGM 100:2008, 4.2.3).

    Parameters
    ----------
    values : at least one
    doubt : ± that the method is good for

    >>> [round(each, 3) for each in repeated([10.5, 10.7, 10.6], 0.1)]
    [10.6, 0.1]
    """
    mean = sum(values) / len(values)
    return mean, max((max(values) - min(values)) / 2, doubt / float(len(values)) ** 0.5)
