"""What parts come to together: sums and the latest of what each says.

One that says nothing leaves the whole unknown.
"""

from __future__ import annotations

from collections.abc import Sequence
from typing import TypeVar

import numpy as np
from numpy.typing import NDArray

Array = NDArray[np.float64]
Number = TypeVar("Number", int, float)


def total(values: Sequence[Number | None]) -> Number | None:
    """Sum of what parts say; None where one says nothing.

    >>> total([7.5, 9.0]), total([7.5, None])
    (16.5, None)
    """
    known = [value for value in values if value is not None]
    return sum(known) if len(known) == len(values) and known else None


def latest(values: Sequence[Number | None]) -> Number | None:
    """The longest of what parts say, such as lead times; None where one says nothing.

    >>> latest([7, 21]), latest([7, None])
    (21, None)
    """
    known = [value for value in values if value is not None]
    return max(known) if len(known) == len(values) and known else None


def totals_of_pairs(first: Sequence[float | None], second: Sequence[float | None]) -> Array:
    """Sums of every pair, shape (len(first), len(second)); nan where one says nothing.

    >>> totals_of_pairs([1.0, None], [10.0, 20.0]).tolist()
    [[11.0, 21.0], [nan, nan]]
    """
    one, other = _pairs(first, second)
    return np.asarray(one + other)


def latest_of_pairs(first: Sequence[float | None], second: Sequence[float | None]) -> Array:
    """The longer of every pair, shape (len(first), len(second)); nan where one says nothing.

    >>> latest_of_pairs([1.0, 30.0], [10.0, 20.0]).tolist()
    [[10.0, 20.0], [30.0, 30.0]]
    """
    one, other = _pairs(first, second)
    return np.asarray(np.maximum(one, other))


def _pairs(first: Sequence[float | None], second: Sequence[float | None]) -> tuple[Array, Array]:
    one, other = (
        np.array([np.nan if value is None else float(value) for value in values], dtype=float)
        for values in (first, second)
    )
    return one[:, None], other[None, :]
