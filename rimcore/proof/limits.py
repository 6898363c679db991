"""What a figure of what is measured again may be."""

from __future__ import annotations

from rimcore.quantities.limits import Limit

LIMITS: dict[str, Limit] = {
    "value": Limit(-1e9, 1e9),
}
