"""One set of limits, by name: forms, imports and the database hold to these, and so does the command line.

Each topic says its own.
"""

from __future__ import annotations

from rimcore.aero import limits as aero
from rimcore.braking import limits as braking
from rimcore.breathing import limits as breathing
from rimcore.cooling import limits as cooling
from rimcore.driveline import limits as driveline
from rimcore.fastening import limits as fastening
from rimcore.mass import limits as mass
from rimcore.parts import limits as parts
from rimcore.planning import limits as planning
from rimcore.proof import limits as proof
from rimcore.quantities.errors import BadInput
from rimcore.quantities.limits import Limit
from rimcore.ride import limits as ride
from rimcore.steering import limits as steering
from rimcore.well import limits as well
from rimcore.wheels import limits as wheels
from rimcore.work import limits as work

_TOPICS = (
    aero,
    braking,
    breathing,
    cooling,
    driveline,
    fastening,
    mass,
    parts,
    planning,
    proof,
    ride,
    steering,
    well,
    wheels,
    work,
)
LIMITS: dict[str, Limit] = {name: limit for topic in _TOPICS for name, limit in topic.LIMITS.items()}


def within(name: str, value: float | None, field: str | None = None) -> float | None:
    """A value that holds to its limit; None passes.

    Raises
    ------
    BadInput : with the field and what is accepted

    >>> within("bolts", 5)
    5
    """
    if value is not None and not LIMITS[name].holds(value):
        raise BadInput(f"is out of range; accepted: {LIMITS[name].accepted}", field or name)
    return value
