"""What the steps of before reckon with, as it was then: they must do tomorrow what they did, whatever the core says by then."""

from __future__ import annotations

import re
from typing import Any, NamedTuple

from django.db.models import Q


class Limit(NamedTuple):
    """Lowest and highest, and how it is said."""

    low: float
    high: float
    accepted: str


LIMITS = {
    "margin_mm": Limit(0, 200, "0 to 200 mm"),
    "across_mm": Limit(-250, 250, "-250 to 250 mm"),
    "air_c": Limit(-40, 60, "-40 to 60 °C"),
    "axle_kg": Limit(50, 5000, "50 to 5000 kg"),
    "bar_mm": Limit(10, 2000, "10 to 2000 mm"),
    "barrel_radius_mm": Limit(50, 400, "50 to 400 mm"),
    "bolts": Limit(3, 10, "3 to 10"),
    "bore_mm": Limit(30, 250, "30 to 250 mm"),
    "camber_deg": Limit(-20, 20, "-20 to 20 °"),
    "collar_mm": Limit(0, 60, "0 to 60 mm"),
    "cost_minor": Limit(0, 1000000000, "0 to 1000000000 hundredths"),
    "crown_mm": Limit(100, 800, "100 to 800 mm"),
    "due_km": Limit(0, 5010000, "0 to 5010000 km"),
    "height_mm": Limit(-400, 500, "-400 to 500 mm"),
    "kpa": Limit(50, 600, "50 to 600 kPa"),
    "lead_days": Limit(0, 1000, "0 to 1000 days"),
    "load_kg": Limit(50, 5000, "50 to 5000 kg"),
    "mass_change_kg": Limit(-500, 500, "-500 to 500 kg"),
    "mass_kg": Limit(0.001, 200, "0.001 to 200 kg"),
    "odometer_km": Limit(0, 5000000, "0 to 5000000 km"),
    "pad_thickness_mm": Limit(0, 100, "0 to 100 mm"),
    "pcd_mm": Limit(80, 300, "80 to 300 mm"),
    "price_minor": Limit(0, 1000000000, "0 to 1000000000 hundredths"),
    "reading": Limit(-8000, 8000, "-8000 to 8000"),
    "ride_drop_mm": Limit(-300, 300, "-300 to 300 mm"),
    "ring_mm": Limit(20, 300, "20 to 300 mm"),
    "rub_travel_mm": Limit(-600, 600, "-600 to 600 mm"),
    "section_mm": Limit(80, 600, "80 to 600 mm"),
    "sighting_mm": Limit(-50, 500, "-50 to 500 mm"),
    "sighting_uncertainty_mm": Limit(0.01, 50, "0.01 to 50 mm"),
    "spacer_mm": Limit(0, 200, "0 to 200 mm"),
    "spoke_back_mm": Limit(-50, 200, "-50 to 200 mm"),
    "steer_deg": Limit(-70, 70, "-70 to 70 °"),
    "stud_mm": Limit(0, 200, "0 to 200 mm"),
    "torque_nm": Limit(20, 500, "20 to 500 N·m"),
    "track_mm": Limit(800, 2500, "800 to 2500 mm"),
    "travel_mm": Limit(-300, 300, "-300 to 300 mm"),
    "uncertainty": Limit(0, 200, "0 to 200"),
    "value": Limit(-1000000000.0, 1000000000.0, "-1000000000 to 1000000000"),
    "wheelbase_mm": Limit(1000, 6000, "1000 to 6000 mm"),
    "width_in": Limit(3, 18, "3 to 18 in"),
}


def blank_out(apps: Any, app: str, model: str, **fields: str) -> None:
    """Figures outside their limits become empty, so that the limits can be laid on the table."""
    table = apps.get_model(app, model)
    for column, name in fields.items():
        limit = LIMITS[name]
        table.objects.filter(Q(**{f"{column}__lt": limit.low}) | Q(**{f"{column}__gt": limit.high})).update(**{column: None})


def draw_in(apps: Any, app: str, model: str, **fields: str) -> None:
    """Figures outside their limits are drawn to the nearest end, where the column can't be empty."""
    table = apps.get_model(app, model)
    for column, name in fields.items():
        limit = LIMITS[name]
        table.objects.filter(**{f"{column}__lt": limit.low}).update(**{column: limit.low})
        table.objects.filter(**{f"{column}__gt": limit.high}).update(**{column: limit.high})


_NUMBER = r"\d+(?:\.\d+)?"
_PAIR = re.compile(rf"(?<![\d.])({_NUMBER})(J?)\s*[X*/]\s*({_NUMBER})J?(?![\d.])")
_OFFSET = re.compile(rf"(?:ET\s*([+-]?\s*{_NUMBER})|(?<![\d.])([+-]\s*{_NUMBER}))(?![\d.])")
_FRACTIONS = {"½": ".5", "¼": ".25", "¾": ".75"}


def wheel_then(text: str) -> dict[str, float | None] | None:
    """A wheel as it was written then; None where it can't be read."""
    folded = text.strip().upper().replace("−", "-").replace("–", "-").replace("×", "X").replace('"', " ")
    for glyph, decimal in _FRACTIONS.items():
        folded = re.sub(rf"(\d)\s*{glyph}", rf"\g<1>{decimal}", folded)
    folded = re.sub(r"(\d),(\d)", r"\1.\2", folded)
    offset = _OFFSET.search(folded)
    rest = folded if offset is None else folded[: offset.start()] + " " + folded[offset.end() :]
    size: tuple[float, float] | None = None
    found: dict[str, float | None] = {
        "offset_mm": None if offset is None else float((offset[1] or offset[2]).replace(" ", "")),
        "bolts": None,
        "pcd_mm": None,
    }
    for pair in _PAIR.finditer(rest):
        first, second = float(pair[1]), float(pair[3])
        if not pair[2] and 3 <= first <= 10 and second >= 60:
            found |= {"bolts": int(first), "pcd_mm": second}
        elif size is None:
            size = (max(first, second), min(first, second))
    bore = re.search(rf"(?<![\d.])({_NUMBER})(?![\d.])", _PAIR.sub(" ", rest))
    found["bore_mm"] = float(bore[1]) if bore is not None and float(bore[1]) >= 40 else None
    return None if size is None else {"diameter_in": size[0], "width_in": size[1], **found}


def tyre_then(text: str) -> dict[str, float] | None:
    """Columns of a tyre's size as it was written then; None where it can't be read."""
    folded = re.sub(r"\s*/\s*", "/", text.strip().upper().replace("×", "X").replace(",", "."))
    metric = re.match(rf"(?:P|LT)?\s*(\d{{3}})(?:/\d{{2,3}})?\s*Z?R?\s*({_NUMBER})", folded)
    if metric is not None:
        return {"diameter_in": float(metric[2]), "section_width_mm": float(metric[1])}
    inches = re.match(rf"({_NUMBER})\s*X\s*({_NUMBER})\s*R?\s*({_NUMBER})", folded)
    return None if inches is None else {"diameter_in": float(inches[3]), "section_width_mm": float(inches[2]) * 25.4}
