"""What is read or worked out once, and kept with a car's file."""

from __future__ import annotations

from collections.abc import Callable
from functools import wraps
from typing import Any, ParamSpec, Protocol, TypeVar, cast


class Keeps(Protocol):
    """A car's file, as far as it keeps what was worked out."""

    kept: dict[Any, Any]


Of = ParamSpec("Of")
Found = TypeVar("Found")


def once(make: Callable[Of, Found]) -> Callable[Of, Found]:
    """Worked out when a page first asks for it, and kept with the car's file by what it was asked of.

    The file comes first; what else it is asked of must be hashable, and all is given by place.

    >>> class Page:
    ...     kept = {}
    >>> @once
    ... def rows(file, corner):
    ...     print("read", corner)
    ...     return [corner]
    >>> page = Page()
    >>> rows(page, "FL") is rows(page, "FL")
    read FL
    True
    """

    @wraps(make)
    def kept(*of: Of.args, **named: Of.kwargs) -> Found:
        file, key = cast(Keeps, of[0]), (make, of[1:])
        if named:
            raise TypeError("what it is asked of is given by place")
        if key not in file.kept:
            file.kept[key] = make(*of, **named)
        return cast(Found, file.kept[key])

    return kept
