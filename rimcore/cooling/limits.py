"""What a figure of the cooling may be."""

from __future__ import annotations

from rimcore.quantities.limits import Limit

LIMITS: dict[str, Limit] = {
    "cap_kpa": Limit(0, 300, "kPa"),
    "glycol_pct": Limit(0, 70, "%"),
    "coolant_c": Limit(20, 160, "°C"),
    "hose_c": Limit(-40, 160, "°C"),
    "core_mm": Limit(50, 1500, "mm"),
    "core_depth_mm": Limit(5, 300, "mm"),
    "coldest_c": Limit(-70, 30, "°C"),
    "core_tilt_deg": Limit(0, 80, "°"),
    "core_rows": Limit(1, 8),
    "hole_mm": Limit(3, 60, "mm"),
    "amps": Limit(0.1, 100, "A"),
    "opens_c": Limit(40, 120, "°C"),
    "hose_inner_mm": Limit(3, 100, "mm"),
    "litres": Limit(0.1, 100, "L"),
}
