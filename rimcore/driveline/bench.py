"""The gearing bench, as declared."""

from __future__ import annotations

from rimcore.quantities.declared import Bench, Lever

LEVERS = (
    Lever("axle_ratio", "Axle ratio", limit="ratio", default=None, places=("",), help="blank: as it is", step=0.01),
)

GEARING = Bench(
    "gearing",
    "Gearing",
    "engine speed over road speed in all gears, with the tyres and the axle of the build",
    LEVERS,
    ("true_speed",),
    ("gearing",),
)
