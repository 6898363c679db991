"""What a figure of what holds a wheel on may be."""

from __future__ import annotations

from rimcore.quantities.limits import Limit

LIMITS: dict[str, Limit] = {
    "ring_mm": Limit(20, 300, "mm"),
    "bolt_mm": Limit(5, 200, "mm"),
    "knurl_mm": Limit(5, 40, "mm"),
    "key_mm": Limit(8, 40, "mm"),
    "stud_mm": Limit(0, 200, "mm"),
    "collar_mm": Limit(0, 60, "mm"),
    "torque_nm": Limit(20, 500, "N·m"),
}
