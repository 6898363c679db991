"""What a figure of work and its money may be."""

from __future__ import annotations

from rimcore.quantities.limits import Limit

LIMITS: dict[str, Limit] = {
    "boxed_kg": Limit(0, 500, "kg"),
    "lead_days": Limit(0, 1000, "days"),
    "stars": Limit(0, 5),
    "price_minor": Limit(0, 10_000_000_00, "hundredths"),
    "quantity": Limit(1, 200),
    "odometer_km": Limit(0, 5_000_000, "km"),
    "due_km": Limit(0, 5_010_000, "km"),
    "hours": Limit(0, 2000, "h"),
    "cost_minor": Limit(0, 10_000_000_00, "hundredths"),
}
