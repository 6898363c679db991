"""The hatchback's belly panel, cut from card.

The roadster's splitter, which misses the trailer's ramp by a degree and a half.
"""

from __future__ import annotations

from typing import Any

from garage.air.services import keep_panel, set_under
from garage.car.models import Car
from garage.file import open_file
from garage.inhand import in_hand
from rimcore.aero.ramp import tangent_deg

CARD = "0 420 165\n250 560 160\n600 585 150\n950 560 150\n1300 480 155"
HOLES = "drain plug: 640 -140 r 60\ntow eye: 0 380 r 50"
EXISTING = "15 -390\n15 0\n15 390\n600 570\n600 -570\n1285 450\n1285 -450"
HEAT = "front pipe: 500 60, 1500 60 r 30 keep 50 above 95\ncatalyst: 900 80, 1250 80 r 65 keep 80 up 270"


def load_air(cars: dict[str, Car], user: Any) -> None:
    """One panel and two cars' slopes."""
    keep_panel(
        cars["Tarn"],
        user,
        {
            "name": "Belly panel",
            "stations": CARD,
            "front_mm": 420.0,
            "holes": HOLES,
            "existing": EXISTING,
            "heat": HEAT,
            "sheet": "corrugated",
            "kg_per_m2": 0.8,
            "sheets": "1000 x 2000, 14.50\n1220 x 2440, 23",
            "pitch_mm": 150.0,
            "edge_mm": 15.0,
        },
    )
    set_under(
        cars["Tarn"],
        {
            "lip_ahead_mm": 850.0,
            "lip_up_mm": 205.0,
            "tail_behind_mm": 690.0,
            "tail_up_mm": 260.0,
            "belly_behind_mm": 1250.0,
            "belly_up_mm": 165.0,
            "slopes": "drive 9\nkerb ramp 12 %",
        },
    )
    _blade(cars["Gannel"], user)


def _blade(car: Car, user: Any) -> None:
    """A blade whose approach is 1.5° less than the trailer's ramp."""
    file = open_file(user, car.pk)
    stands = file.standing("F")
    if stands is None:
        return
    held = in_hand(file)
    drop = held.end("F").ride_drop_mm
    approach = tangent_deg(905.0, 128.0 - drop, stands.fitted.tyre.diameter_mm / 2)
    set_under(
        car,
        {
            "lip_ahead_mm": 905.0,
            "lip_up_mm": 128.0,
            "tail_behind_mm": 720.0,
            "tail_up_mm": 270.0,
            "belly_behind_mm": 1150.0,
            "belly_up_mm": 135.0,
            "slopes": f"trailer {approach + 1.5:.1f}\ndrive 4",
            "area_m2": 0.32,
            "cp": 0.6,
            "speed_kmh": 160.0,
            "fasteners": 8,
            "load_lever_mm": 140.0,
            "adjuster_lever_mm": 260.0,
            "adjusters": 2,
            "opening_mm": 180.0,
            "covered_mm": 6.0,
        },
    )
