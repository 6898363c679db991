"""While a car is apart: days on which it was to be driven, and what is cheap to renew with it."""

from __future__ import annotations

from collections.abc import Collection, Iterable, Mapping
from dataclasses import dataclass
from datetime import date, timedelta

#: days that are looked at, at the most
MOST_DAYS = 731


def needed_while_apart(spans: Iterable[tuple[date | None, date | None]], weekdays: Collection[int]) -> tuple[date, ...]:
    """Days on which a car is wanted to drive and stands apart: after the first work on it, to the day of the last.

    Parameters
    ----------
    spans : start and finish of every piece of work of one sheet; None: not known, or done
    weekdays : on which it is wanted, Monday 0

    Source: none; days counted.

    >>> needed_while_apart([(date(2027, 5, 1), date(2027, 5, 1)), (date(2027, 5, 2), date(2027, 5, 3))], {0, 1})
    (datetime.date(2027, 5, 3),)
    """
    known = [(start, finish) for start, finish in spans if start is not None and finish is not None]
    if not known or not weekdays:
        return ()
    first, last = min(start for start, _ in known), max(finish for _, finish in known)
    days = (first + timedelta(days=k) for k in range(1, min(MOST_DAYS, (last - first).days + 1)))
    return tuple(day for day in days if day.weekday() in weekdays)


@dataclass(frozen=True)
class Wear:
    """Something that wears, is bare while a piece of work is done, and what it takes by itself later [h]."""

    name: str
    why: str
    alone_h: float


_SEALS = "comes off anyway; an old seal seldom goes back tight"
#: module -> what is bare then. Common practice; the hours of later, by itself, from memory
WEAR: Mapping[str, tuple[Wear, ...]] = {
    "springs": (
        Wear("Top mounts and bearings", "off with the strut; worn ones knock and stick", 2.5),
        Wear("Bump stops and dust boots", "off with the damper", 2.0),
        Wear("Anti-roll bar links", "undone anyway", 0.75),
    ),
    "arms": (
        Wear("Bushes of the arms", "the arm is on the bench", 2.5),
        Wear("Ball joints", "parted anyway", 1.5),
    ),
    "bearings": (Wear("Seals and the hub nut", "a hub nut is used once", 1.0),),
    "driveshafts": (Wear("Boots and clamps", "the shaft is out", 2.0), Wear("Shaft seals of the gearbox", _SEALS, 2.0)),
    "propshaft": (Wear("Couplings and centre bearing", "the shaft is out", 1.5),),
    "axle gears": (Wear("Axle bearings and seals", _SEALS, 5.0),),
    "subframe": (
        Wear("Bushes of the arms and of the subframe", "nothing is in the way", 4.0),
        Wear("Steering boots", "bare with the subframe down", 1.0),
    ),
    "rack": (Wear("Rod ends and boots", "parted anyway; the alignment is paid once", 1.5),),
    "rods": (Wear("Steering boots", "off with the rod", 1.0),),
    "brakes": (
        Wear("Brake fluid", "it is bled anyway", 1.0),
        Wear("Slide pins and dust boots", "the caliper is off", 0.75),
    ),
    "hoses": (Wear("Brake fluid", "it is bled anyway", 1.0),),
    "wheels": (Wear("Valves", "the tyre is off the rim", 0.5),),
    "exhaust": (
        Wear("Hangers and gaskets", "off anyway", 1.0),
        Wear("Lambda sensor", "turns out of a warm pipe", 0.75),
    ),
    "intake": (Wear("Breather hoses and their clamps", "bare with the intake off", 0.75),),
    "radiator": (
        Wear("Thermostat and its seal", "the coolant is out", 1.0),
        Wear("Hoses and clamps", "the coolant is out", 1.25),
        Wear("Drive belt", "reached with the radiator out", 0.75),
    ),
    "mounts": (Wear("The other mounts", "the engine is carried anyway", 1.5),),
}


def wear_with(modules: Iterable[str], planned: Iterable[str] = ()) -> tuple[Wear, ...]:
    """What wears and is bare while some pieces of work are done, each once; what the build has already is passed over.

    Parameters
    ----------
    modules : of the sheet
    planned : names of the build's own parts

    Source: common practice; hours from memory.

    >>> [one.name for one in wear_with(("hoses", "brakes"), ("Slide pins and dust boots",))]
    ['Brake fluid']
    """
    have = {name.casefold() for name in planned}
    found = {one.name: one for module in modules for one in WEAR.get(module, ())}
    return tuple(one for one in found.values() if one.name.casefold() not in have)
