"""What a figure of a plan may be."""

from __future__ import annotations

from rimcore.quantities.limits import Limit

LIMITS: dict[str, Limit] = {
    "task_hours": Limit(0, 10_000, "h"),
    "day_hours": Limit(0, 24, "h"),
    "plan_days": Limit(0, 10_000, "days"),
    "wet_pct": Limit(0, 100, "%"),
    "wrong_pct": Limit(0, 100, "%"),
    "draws": Limit(0, 20_000),
}
