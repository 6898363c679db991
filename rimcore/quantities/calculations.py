"""Quantities' part of the command line."""

from __future__ import annotations

from typing import Any

from rimcore.quantities.contract import Calculation, Key
from rimcore.quantities.units import parse_quantity
from rimcore.tables.units import AT_A_STEP, UNIT_OF_KIND


def _quantity(given: dict[str, Any]) -> dict[str, Any]:
    found = parse_quantity(given["text"], given["kind"], given["default_unit"])
    return {"value": found.value, "unit": found.unit}


QUANTITY = Calculation(
    "quantity",
    "reads one quantity as people write it",
    "unit definitions of Pint (SI, NIST SP 811); 1 kgf = 9.80665 N; hp 550 ft·lbf/s, PS 75 kgf·m/s",
    (
        Key("text", "text", "what was written, such as 11/16 in, 2°30', 7 lb 4 oz, 14k", required=True),
        Key(
            "kind",
            "choice",
            "kind of quantity",
            required=True,
            choices=tuple(kind for kind in UNIT_OF_KIND if kind not in AT_A_STEP),
        ),
        Key("default_unit", "text", "unit of a bare number; without it a bare number is refused"),
    ),
    (Key("value", "number", "the value in unit"), Key("unit", "text", "unit of the kind")),
    _quantity,
)

QUANTITIES = {QUANTITY.name: QUANTITY}
