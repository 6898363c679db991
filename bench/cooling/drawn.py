"""The curve of a bleed."""

from __future__ import annotations

from typing import Any

from rimcore.drawing.charts import Chart
from shell.charts import drawn_curve


def hoses(seconds: Any, top: Any, lower: Any, coolant: Any | None, opened_s: float | None) -> Chart:
    """Both hoses, and the coolant where it was read, over minutes."""
    name = "Top hose solid, lower hose thin" + (", coolant dashed" if coolant is not None else "")
    opened = None if opened_s is None else opened_s / 60.0
    return drawn_curve(
        name=name,
        unit="°C",
        across_unit="",
        across=seconds / 60.0,
        value=top,
        before=coolant,
        band=None,
        here=opened,
        further=(lower,),
        least_span=10.0,
        names=("top hose", "coolant", "lower hose"),
    )
