"""What can be promised of a build.

Each figure said once, with its place, its unit, its ±, what moves it and what holds it.
"""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass
from typing import Literal

from rimcore.driveline.gearing import ROLLING_SHARE
from rimcore.quantities.judgement import COMMON_PRACTICE
from rimcore.tables.facts import CORNER_NAMES

#: where a figure is: at a corner, at a spot of a corner that the person named, or of the whole car
Place = Literal["corner", "spot", "car"]
#: what holds a promise: the same station read again, the angle read with the wheel raised, runs of a ready series,
#: the spot driven again, four pads, the scale, the clock of the sheet, the money spent
HeldBy = Literal["reading", "raised", "runs", "drive", "pads", "scale", "clock", "money"]


@dataclass(frozen=True)
class Doubt:
    """A ± in the unit of its promise, and where it is from; ``of_value`` where it is a share of the figure."""

    value: float
    source: str
    of_value: bool = False

    def at(self, figure: float) -> float:
        """The ± at a figure, in its unit.

        >>> Doubt(0.1, "ours", of_value=True).at(20.0), Doubt(5.0, "ours").at(20.0)
        (2.0, 5.0)
        """
        return self.value * abs(figure) if self.of_value else self.value


@dataclass(frozen=True)
class PromiseKind:
    """One kind of promise. A code that ends in a dot stands for all that begin with it.

    ``doubt`` is None where the judgement brings its own; ``read`` is the ± of what holds it, None where a reading
    brings its own.
    ``moved_by`` are the modules of a sheet that change it; None for sums of the sheet itself.
    """

    code: str
    name: str
    place: Place
    unit: str
    held_by: HeldBy
    moved_by: frozenset[str] | None
    doubt: Doubt | None = None
    read: Doubt | None = None
    #: key of the ready series whose runs hold it
    series: str = ""

    def speaks_of(self, code: str) -> bool:
        return code.startswith(self.code) if self.code.endswith(".") else code == self.code

    def doubt_at(self, figure: float) -> float:
        """The ± of the promise at a figure; 0 where the judgement brings its own."""
        return 0.0 if self.doubt is None else self.doubt.at(figure)


#: what stands on the hubs or moves them: gaps, heights
_CARRIES = frozenset({"wheels", "spacers", "height", "springs", "leaves"})
_LINKS = frozenset({"arms", "joints", "rods", "rack", "crossmember", "subframe", "alignment"})
_OVER_BUMP = _CARRIES | _LINKS
#: how well hands set and read on a floor
_SET = f"{COMMON_PRACTICE}, from memory: as near as it is set on a floor"
_TENTH = Doubt(0.1, f"{COMMON_PRACTICE}: a tenth over is called kept", of_value=True)

KINDS: tuple[PromiseKind, ...] = (
    PromiseKind("gap.", "Gaps", "corner", "mm", "reading", _CARRIES | _LINKS | {"lip", "limiters", "brakes"}),
    PromiseKind(
        "ride.height", "Ride height", "corner", "mm", "reading", _CARRIES | {"weights", "strip"}, Doubt(5.0, _SET)
    ),
    PromiseKind(
        "ride.dip",
        "Bump travel over a dip",
        "spot",
        "mm",
        "drive",
        _CARRIES | {"weights", "strip"},
        read=Doubt(3.0, f"{COMMON_PRACTICE}, from memory: a ring on the damper's rod"),
    ),
    PromiseKind("align.camber", "Camber", "corner", "°", "reading", _OVER_BUMP, Doubt(0.2, _SET)),
    PromiseKind("geometry.camber_over_bump", "Camber over bump", "corner", "°", "raised", _OVER_BUMP),
    PromiseKind("geometry.toe_over_bump", "Toe over bump", "corner", "°", "raised", _OVER_BUMP),
    PromiseKind(
        "steer.circle",
        "Turning circle",
        "car",
        "m",
        "runs",
        _LINKS | {"limiters", "wheels"},
        doubt=Doubt(0.5, f"{COMMON_PRACTICE}, from memory: slip and the tyre's width are left out"),
        read=Doubt(0.1, f"{COMMON_PRACTICE}, from memory: chalk and tape"),
        series="circle",
    ),
    PromiseKind(
        "weights.cross",
        "Cross weight",
        "car",
        "%",
        "pads",
        _CARRIES | {"weights"},
        doubt=Doubt(0.5, f"{COMMON_PRACTICE}: within half a per cent"),
        read=Doubt(0.2, f"{COMMON_PRACTICE}, from memory: four pads read twice"),
    ),
    PromiseKind(
        "gearing.cruise",
        "Engine speed at cruise",
        "car",
        "rpm",
        "runs",
        frozenset({"wheels", "axle gears"}),
        doubt=Doubt(ROLLING_SHARE, "ETRTO: circumference ±1.5 %, from memory", of_value=True),
        read=Doubt(20.0, f"{COMMON_PRACTICE}, from memory: a logger's engine speed"),
        series="cruise",
    ),
    PromiseKind("mass.total", "Weight, whole car", "car", "kg", "scale", None),
    PromiseKind("work.hours", "Hours", "car", "h", "clock", None, _TENTH),
    PromiseKind("work.money", "Money", "car", "", "money", None, _TENTH),
)


def kind_of(code: str) -> PromiseKind:
    """The kind that a promise's code is of.

    Raises
    ------
    LookupError : nothing of that code is promised

    Examples
    --------
    >>> kind_of("gap.damper.moving").held_by, kind_of("steer.circle").series
    ('reading', 'circle')
    """
    for kind in KINDS:
        if kind.speaks_of(code):
            return kind
    raise LookupError(f"nothing is predicted of {code}")


def changes(code: str, modules: Iterable[str]) -> bool:
    """Does a sheet of some modules change what a promise speaks of? Sums of the sheet itself always.

    A sheet that names none, everything.

    >>> changes("gap.damper", ("splitter",)), changes("gap.damper", ("wheels",)), changes("work.hours", ("splitter",))
    (False, True, True)
    """
    named, kind = set(modules), kind_of(code)
    return kind.moved_by is None or not named or bool(named & kind.moved_by)


def place_code(where: str, spot: str = "") -> str:
    """Where a promise is, as it is kept: a corner's two letters, with a spot's name behind them.

    Blank for the whole car.

    >>> place_code("front left"), place_code("front left", "farm lane"), place_code("")
    ('FL', 'FL:farm lane', '')
    """
    corner = next((code for code, name in CORNER_NAMES.items() if code and name == where), "")
    return f"{corner}:{spot}" if spot else corner


def corner_of(place: str) -> str:
    """The corner of a place; blank for the whole car.

    >>> corner_of("FL:farm lane"), corner_of("")
    ('FL', '')
    """
    return place.partition(":")[0]
