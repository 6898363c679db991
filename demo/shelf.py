"""Parts of every family for the hatchback, what suppliers said of them, and what was weighed.

Every name here is made up.
"""

from __future__ import annotations

from datetime import date, timedelta
from typing import Any

from garage.car.models import Car
from garage.car.parts import Part
from garage.car.services import wheel_values
from garage.readings.models import Reading
from rimcore.lines import parse_line
from shelf.models import Quote, WheelSet, WheelSetAxle
from shelf.services import add_line
from workshop.composing import keep_template
from workshop.models import Job, Removed, Snag, Tool
from workshop.services import weigh_ways

LINES = (
    ("Hollow rings", "ring 63.4 → 73.1 hollow plastic, 3.50, in stock, Tip Street Yard"),
    ("Five-millimetre pair", "spacer 5 mm slip-on 5x108 63.4 → 72.6, 0.4 kg, 24, 3 days, Nook Lane Wheels"),
    ("Fifteens", "spacer 15 mm bolt-on 5x108 63.4 → 63.4 M12x1.5, 0.9 kg, 46, 1 week, Harrow Gate Motorsport"),
    ("Long studs", "studs M12x1.5 49 mm 10.9 knurl 12.4, set of 20, 62, 1 week, Harrow Gate Motorsport"),
    ("Open nuts", "nuts M12x1.5 cone 60 class 10 hex 19, set of 20, 38, 2 days, Nook Lane Wheels"),
    ("Nuts from the drawer", "nuts M12x1.25 cone 60 class 8 hex 21, set of 16, 5, in stock, Tip Street Yard"),
    ("Snap-in valves", "valves rubber hole 11.3, set of 4, 6, in stock, Nook Lane Wheels"),
    ("Sensors", "sensors 433 MHz metal, set of 4, 118, 4 days, Nook Lane Wheels"),
    ("Skerrow caps", "caps 64 mm, set of 4, 22, 3 weeks, Nook Lane Wheels"),
    (
        "Four-pot set",
        "calipers radius 158 face 14 inner 74 for hat 46 left and right, −1.2 kg, 540, 3 weeks, Harrow Gate Motorsport",
    ),
    ("Vented discs", "discs 300x24 hat 43 either, 7.6 kg, 96, 1 week, Harrow Gate Motorsport"),
)


#: what the owner likes
STARS = {"Quillet Five": 4, "Skerrow Mesh": 5, "Dryline": 2, "Saltway": 4}


def load_shelf(car: Car, user: Any, today: date) -> None:
    """Parts on the list, with quotes: one stale, one out of stock, one of another variant."""
    for name, line in LINES:
        add_line(car, user, parse_line(line), name, line)
    for name, stars in STARS.items():
        Part.objects.filter(car=car, name=name).update(stars=stars)
    studs, sensors = (Part.objects.get(car=car, name=name) for name in ("Long studs", "Sensors"))
    studs.quotes.update(asked_on=today - timedelta(days=40))
    common = {"asked_on": today - timedelta(days=3), "asked_by": "Ina"}
    _winter_wheels(car)
    Quote.objects.create(part=studs, supplier="Nook Lane Wheels", price_minor=5400, lead_days=16, **common)
    Quote.objects.create(part=sensors, supplier="Tip Street Yard", answer="out_of_stock", lead_days=30, **common)
    Quote.objects.create(
        part=sensors,
        supplier="Harrow Gate Motorsport",
        answer="wrong_variant",
        variant="315 MHz",
        price_minor=9900,
        lead_days=5,
        **common,
    )


def _winter_wheels(car: Car) -> None:
    """The set that lies in the cellar: old steel wheels, tyres that are nearly due."""
    row = WheelSet.objects.create(car=car, name="Winter steels", purpose="winter", stored="cellar, left shelf")
    for end, tread_mm, code in (("F", 4.6, "3521"), ("R", 3.8, "3521")):
        wheel, tyre = wheel_values(car, {"wheel": "15x6.5 +45 5x108 63.4", "tyre": "195/65R15 91H", "wheel_kg": 8.6})
        WheelSetAxle.objects.create(
            wheel_set=row, end=end, wheel_part=wheel, tyre_part=tyre, tread_mm=tread_mm, date_code=code
        )


def load_workshop(car: Car, user: Any, today: date) -> None:
    """What came off is weighed, tools are there, a snag has its ways out, a sheet is kept as a template."""
    weighed = {"wheel": (20.3, 0.5, "shed, left wall"), "tyre": (18.2, 0.4, "shed, left wall")}
    for row in Removed.objects.filter(car=car, part__isnull=False).select_related("part"):
        row.gross_kg, row.tare_kg, row.kept_where = (
            weighed[row.part.family] if row.part is not None else (None, None, "")
        )
        row.save()
    Removed.objects.filter(car=car, what__startswith="wheel nuts").update(
        pieces_back=20, kept_where="red box", gross_kg=1.28, tare_kg=0.04
    )
    Removed.objects.filter(car=car).update(off_on=today - timedelta(days=41))
    for name in (
        "torque wrench",
        "wheel chocks",
        "trolley jack",
        "two stands",
        "breaker bar",
        "deep socket",
        "torch",
        "scale",
    ):
        Tool.objects.create(owner=user, name=name, have=True)
    snag = Snag.objects.get(job__car=car, closed_on__isnull=True)
    ways = {
        "use": {"note": "tape between ring and bore, against the rule", "hours": 0.5},
        "repair": {"note": "turn sleeves on the lathe", "money_minor": 1500, "hours": 2.0, "days": 0},
        "replace": {"note": "the right rings, sent again", "money_minor": 2400, "hours": 0.0, "days": 4},
    }
    weigh_ways(snag, user, ways, "")
    keep_template(Job.objects.get(build__car=car, build__name="Lighter sixteens"), user, "Four wheels, as I do them")
    read_often(car)


def read_often(car: Car) -> None:
    """Two places were read several times with the rule, so that it says how good it is in Ina's hand."""
    for code, repeats in (("damper", [[15.2, 15.9, 15.6, 15.3]]), ("liner_front", [[40.3, 39.6, 40.1]])):
        reading = Reading.objects.filter(car=car, corner="FL", code=code, method="rule").order_by("-id").first()
        if reading is not None:
            reading.repeats = repeats
            reading.save(update_fields=["repeats"])
