"""The wheel-well bench, as declared."""

from __future__ import annotations

from rimcore.quantities.declared import Bench, Lever
from rimcore.well.read.stations import STATIONS
from rimcore.wheels.spacers import KINDS

LEVERS = (
    Lever("spacer_mm", "Spacer", "length", "mm"),
    Lever("ride_drop_mm", "Lowered", "length", "mm", help="against the baseline; minus is lifted"),
    Lever("camber_deg", "Camber", "angle", "°", default=None, help="blank: as it is", step=0.1),
    Lever("lip_rolled_mm", "Lip rolled", "length", "mm"),
    Lever("lock_limit_deg", "Lock limiters", "angle", "°", places=("F",), help="degrees off each lock"),
    Lever("stroke_moves", "Lowering moves the stroke along (shorter damper body)", default=False, places=("",)),
    Lever("spacer_kind", "Spacers", default="slip", choices=KINDS, places=("",)),
)

WELL = Bench(
    "well",
    "Wheel well",
    "gaps of wheel and tyre at rest and through steering and travel",
    LEVERS,
    tuple(STATIONS),
    ("gap", "clearance", "window", "rank", "stance", "shake"),
)
