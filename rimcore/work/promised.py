"""What a sheet changes, and so what it can promise: each figure is moved by some kinds of work alone."""

from __future__ import annotations

from collections.abc import Iterable

#: what stands on the hubs or moves them: gaps, heights
_CARRIES = frozenset({"wheels", "spacers", "height", "springs", "leaves"})
_LINKS = frozenset({"arms", "rods", "rack", "crossmember", "alignment"})
#: first word of a promise's code -> modules that move it
MOVED_BY: dict[str, frozenset[str]] = {
    "gap": _CARRIES | _LINKS | {"lip", "limiters", "brakes"},
    "ride": _CARRIES | {"weights", "strip"},
    "align": _CARRIES | _LINKS,
    "geometry": _CARRIES | _LINKS,
    "steer": _LINKS | {"limiters", "wheels"},
    "weights": _CARRIES | {"weights"},
    "gearing": frozenset({"wheels", "axle gears"}),
}


def changes(code: str, modules: Iterable[str]) -> bool:
    """Does a sheet of some modules change what a promise speaks of? Sums of the sheet itself always; a sheet that names none, everything.

    >>> changes("gap.damper", ("splitter",)), changes("gap.damper", ("wheels",)), changes("work.hours", ("splitter",))
    (False, True, True)
    """
    named = set(modules)
    moved_by = MOVED_BY.get(code.partition(".")[0])
    return moved_by is None or not named or bool(named & moved_by)
