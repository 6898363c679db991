"""Was a prediction met?"""

from __future__ import annotations

import math
from collections.abc import Sequence

from rimcore.quantities.judgement import State


def kept_promise(promised: float, measured: float, uncertainty: float) -> State:
    """``clear`` within the uncertainty, ``tight`` within twice it, else ``hit``.

    Source: coverage of a measured difference, JCGM 100:2008, 6.2.

    Parameters
    ----------
    promised : change that was reckoned
    measured : change that was read, same unit
    uncertainty : ± of the change, 0 or more

    >>> kept_promise(3.8, 4.1, 1.0), kept_promise(3.8, 7.0, 1.0)
    ('clear', 'hit')
    """
    error = abs(measured - promised)
    return "clear" if error <= uncertainty + 1e-9 else "tight" if error <= 2 * uncertainty + 1e-9 else "hit"


def summed(readings: Sequence[tuple[float, float]]) -> tuple[float, float]:
    """Sum of independent readings (value, ±) and its ±: root of the sum of squares (JCGM 100:2008, 5.1.2).

    Parameters
    ----------
    readings : each (value, ±), ± 0 or more

    >>> summed([(300.0, 3.0), (310.0, 4.0)])
    (610.0, 5.0)
    """
    return sum(value for value, _ in readings), math.hypot(*(doubt for _, doubt in readings))
