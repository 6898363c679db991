"""How long parts take: what a supplier's past orders say of the next one."""

from __future__ import annotations

from collections.abc import Sequence
from statistics import median

from rimcore.planning.network import Three

#: orders of one supplier from which they are believed, and what is taken before (common practice, from memory)
ENOUGH, USUAL = 3, (0.8, 1.0, 1.8)
#: chance that something is wrong with a part whose variants nobody asked about [%] (common practice, from memory)
NOT_ASKED_PCT = 15.0


def spread_of(lead_days: float, past: Sequence[float]) -> Three:
    """Low, likely, high of a lead.

    Parameters
    ----------
    lead_days : as promised, 0 or more [days]
    past : taken ÷ promised of the supplier's orders that arrived

    Source: the least, the median and the most of three orders or more; before, common practice.

    >>> spread_of(10.0, []), spread_of(10.0, [1.0, 1.5, 3.0])
    ((8.0, 10.0, 18.0), (10.0, 15.0, 30.0))
    """
    low, likely, high = (min(past), median(past), max(past)) if len(past) >= ENOUGH else USUAL
    return lead_days * low, lead_days * likely, lead_days * high
