"""Is what a part drags along there already?"""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from rimcore.fastening.threads import parse_thread
from rimcore.parts.declared import Need
from rimcore.quantities.errors import CoreError
from rimcore.wheels.hub import parse_seat

#: lengths within this of each other are the same [mm]
SAME_MM = 0.1
#: what may be more than was wanted
AT_LEAST = frozenset({"length_mm"})


def answered(need: Need, family: str, name: str, spec: Mapping[str, Any]) -> bool:
    """Does a part answer a need? Of no family of its own it does by its name; else by what both say.

    >>> need = Need("ring", "Ring", 2, "", "", {"inner_mm": 63.4, "outer_mm": 72.6})
    >>> answered(need, "ring", "", {"inner_mm": 63.4, "outer_mm": 72.6}), answered(need, "ring", "", {"inner_mm": 63.4, "outer_mm": 73.1})
    (True, False)
    """
    if family != need.family:
        return False
    if family == "other":
        return name.strip().lower().startswith(need.name.lower())
    return all(
        _agrees(code, wanted, spec.get(code)) for code, wanted in need.spec.items() if spec.get(code) is not None
    )


def _agrees(code: str, wanted: Any, said: Any) -> bool:
    """One thing of a specification against what is wanted."""
    if isinstance(wanted, (int, float)) and isinstance(said, (int, float)):
        return said >= wanted - SAME_MM if code in AT_LEAST else abs(said - wanted) <= SAME_MM
    if code in ("thread", "seat"):
        read = parse_thread if code == "thread" else parse_seat
        try:
            return bool(read(str(wanted)) == read(str(said)))
        except CoreError:
            return False
    return bool(wanted == said)
