"""The hatchback's mass ledger.

A phase goal, a class minimum 30 kg away, eleven items out, three with something back, one sold. All names are made up.
"""

from __future__ import annotations

from datetime import date, timedelta
from typing import Any

from garage.car.models import Car
from garage.file import open_file
from garage.mass import services
from garage.mass.ledger import scales, weighed_of
from garage.mass.models import MassItem
from garage.readings.models import Reading
from rimcore.mass.ledger import totals

#: name, gross and tare [kg], minutes, behind the front axle, right, up [mm]; then what goes back with its mass, and
#: more
OUT: tuple[tuple[str, float, float, float, tuple[float, float, float], dict[str, Any]], ...] = (
    ("Rear bench, base", 9.84, 0.0, 15, (1850, 0, 420), {"kept_where": "loft, left"}),
    ("Rear backs, both", 15.62, 0.0, 25, (2120, 0, 640), {"kept_where": "loft, left"}),
    (
        "Rear belts, three",
        3.31,
        0.12,
        35,
        (2050, 0, 700),
        {
            "kept_where": "box 2",
            "needs": ["Rear bench, base"],
            "guarded": "law",
            "reason": "two seats remain; Fell Garage took them out, papers with the car",
        },
    ),
    ("Parcel shelf", 2.44, 0.0, 2, (2450, 0, 900), {"kept_where": "loft, right"}),
    (
        "Spare wheel and its cradle",
        15.9,
        0.0,
        10,
        (2750, 0, 350),
        {"back_name": "sealant and pump", "back_kg": 1.35, "kept_where": "shed"},
    ),
    ("Jack and wheel brace", 4.12, 0.3, 2, (2650, 300, 380), {"kept_where": "shed"}),
    ("Damping pads, rear floor", 1.16, 0.25, 60, (1900, 0, 300), {"reversible": False, "comfort": True, "fate": "bin"}),
    (
        "Boot trim and carpet",
        7.38,
        0.4,
        30,
        (2700, 0, 600),
        {"back_name": "thin panels", "back_kg": 3.1, "cost_minor": 1500, "kept_where": "loft, right"},
    ),
    ("Tailgate trim", 1.82, 0.0, 12, (2950, 0, 1000), {"kept_where": "loft, right"}),
    ("Radio and two speakers", 4.05, 0.3, 40, (700, 0, 850), {"fate": "sold", "sold_minor": 4500}),
    (
        "Battery, 60 Ah",
        15.44,
        0.0,
        20,
        (-150, -420, 700),
        {"back_name": "small battery", "back_kg": 7.9, "cost_minor": 11900, "kept_where": "shed, on charge"},
    ),
)
STILL_IN: tuple[tuple[str, float | None, float, float, tuple[float, float, float], dict[str, Any]], ...] = (
    ("Passenger's seat", 17.9, 0.0, 30, (1150, 370, 550), {"comfort": True}),
    (
        "Driver's seat for a bucket",
        18.6,
        0.0,
        90,
        (1150, -370, 550),
        {"back_name": "bucket and frame", "back_kg": 9.8, "cost_minor": 32000},
    ),
    ("Passenger's airbag", 3.4, 0.0, 60, (650, 330, 900), {"guarded": "airbag"}),
    (
        "Rear wiper and motor",
        1.9,
        0.0,
        25,
        (2980, 0, 1100),
        {"back_name": "blanking plug", "back_kg": 0.05, "cost_minor": 600},
    ),
    (
        "Rear side glass for plastic",
        7.2,
        0.0,
        240,
        (2150, 0, 1150),
        {"back_name": "polycarbonate", "back_kg": 3.0, "cost_minor": 14000, "reversible": False},
    ),
    ("Headliner", None, 0.0, 120, (1500, 0, 1300), {"comfort": True}),
)


def load_masses(car: Car, user: Any, today: date) -> None:
    """The session of a Saturday, and what could still come out; the car on the weighbridge again afterwards."""
    for state, rows in (("out", OUT), ("in", STILL_IN)):
        for name, gross, tare, minutes, (behind, right, up), more in rows:
            services.keep_item(
                car,
                user,
                {
                    "name": name,
                    "state": state,
                    "gross_kg": gross,
                    "tare_kg": tare,
                    "minutes": minutes,
                    "behind_mm": behind,
                    "right_mm": right,
                    "up_mm": up,
                    "scale": "kitchen scale",
                    "who": "Ina",
                    "weighed_on": today - timedelta(days=6),
                    "doubt_kg": 0.02,
                    **more,
                    "needs": _labels(car, more.get("needs", ())),
                },
            )
    MassItem.objects.filter(car=car, state="out").update(out_on=today - timedelta(days=6))
    _weigh_again(car, user, today - timedelta(days=4))
    last = scales(open_file(user, car.pk))[0][1].kg
    services.set_goal(car, {"phase_kg": 80.0, "minimum_kg": round(last - 30.0)})


def _labels(car: Car, names: Any) -> list[str]:
    return list(MassItem.objects.filter(car=car, name__in=names).values_list("label", flat=True))


def _weigh_again(car: Car, user: Any, on: date) -> None:
    """The same weighbridge, the same fuel; 0.6 kg of dust and clips that nobody weighed."""
    file = open_file(user, car.pk)
    reading, scaled = scales(file)[0]
    net = totals(weighed_of(file)).net_kg
    value = round((scaled.kg - net - 0.6) * 2) / 2
    Reading.objects.create(
        car=car,
        outfit=file.current,
        corner="",
        code="car_mass",
        where={},
        values=[value],
        typed=f"{value:g}",
        method="scale",
        uncertainty=reading.uncertainty,
        who="Ina",
        taken_on=on,
        condition=reading.condition,
    )
