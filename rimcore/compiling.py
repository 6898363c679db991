"""How a function becomes machine code: by Numba, kept beside its source."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any, TypeVar, cast

from numba import njit

F = TypeVar("F", bound=Callable[..., Any])


def compiled(function: F) -> F:
    """Compiled once, and kept beside the source where that can be written; other threads go on meanwhile.

    Parameters
    ----------
    function : of what Numba takes

    Source: Numba's own manual (lazy compilation, cache).

    >>> twice = compiled(lambda one: 2 * one)
    >>> twice(3)
    6
    """
    try:
        return cast(F, njit(cache=True, nogil=True)(function))
    except RuntimeError:
        # Neither the source's folder nor the user's own cache can be written: compiled anew by every process.
        return cast(F, njit(nogil=True)(function))


def woven(function: F) -> F:
    """Compiled as a part of what calls it: a call of its own counts the holders of every array that it is given.

    Parameters
    ----------
    function : of what Numba takes

    Source: Numba's own manual (inlining).

    >>> woven(lambda one: 2 * one)(3)
    6
    """
    return cast(F, njit(inline="always")(function))
