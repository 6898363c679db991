"""Springs, arms, steering and leaves of the demo's three cars.

What stands there, what is on the list, blocks against leaves. All names are made up.
"""

from __future__ import annotations

from datetime import date, timedelta
from typing import Any

from garage.car.models import Car
from garage.car.parts import Part
from garage.chassis.services import set_springs, write_down
from garage.file import open_file
from garage.readings.services import take_pads
from planner.models import Build
from planner.services import put_part, set_levers
from rimcore.lines import parse_line
from shelf.services import add_line

#: what stands on each car before it comes off: end, family, what was written down
HATCH_OLD: tuple[tuple[str, str, dict[str, Any]], ...] = (
    ("F", "spring", {"rate_n_per_mm": 28.0, "free_length_mm": 310.0, "block_length_mm": 118.0, "inner_mm": 118.0}),
    (
        "F",
        "damper",
        {
            "extended_mm": 528.0,
            "compressed_mm": 356.0,
            "installed_mm": 437.0,
            "top": "mount",
            "bottom": "bolted",
            "bolt_mm": 14.0,
            "seat_mm": 118.0,
            "electronic": "no",
        },
    ),
    ("F", "top_mount", {"kind": "rubber", "stack_mm": 34.0, "studs": 3, "circle_mm": 92.0}),
    ("F", "bump_stop", {"free_mm": 52.0, "solid_mm": 22.0, "hole_mm": 20.0}),
    ("F", "control_arm", {"place": "lower", "length_mm": 347.0, "bolt_mm": 12.0, "eye_mm": 46.0}),
    ("F", "roll_bar", {"outer_mm": 21.0, "make": "solid", "arm_mm": 232.0}),
    ("F", "bar_link", {"length_mm": 262.0, "way": "up", "ends": "studs", "bolt_mm": 10.0}),
    ("F", "tie_rod", {"thread": "M14x1.5", "taper_mm": 14.6}),
    ("R", "roll_bar", {"outer_mm": 17.0}),
)
HATCH_LINES = (
    (
        "Brisk Hill thirties",
        "springs 36 N/mm free 268 block 112 inside 118, 2.3 kg, 59, 9 days, Harrow Gate Motorsport",
    ),
    ("Sixty-fives, bare", "springs 60 N/mm free 200 block 84 inside 65, 1.5 kg, 72, 2 weeks, Harrow Gate Motorsport"),
    (
        "Lodden coilovers",
        "coilovers 498 to 338 rate 52 N/mm free 210 block 92 room 176-232 seat 65 bolt 14 bolted to the upright pair, 4.4 kg, 345, 6 weeks, Harrow Gate Motorsport",
    ),
    ("Lodden helpers", "helpers 12 N/mm free 58 block 16 inside 65, 0.3 kg, 22, 6 weeks, Harrow Gate Motorsport"),
    ("Short stops", "bump stops 38 mm solid 15 hole 20, set of 2, 19, 3 days, Nook Lane Wheels"),
    (
        "Lodden camber plates",
        "top mounts pillow ball stack 27 3 studs circle 92 camber ±1.8, 0.8 kg, 118, 6 weeks, Harrow Gate Motorsport",
    ),
    ("Thicker bar", "anti-roll bar 24 mm solid arm 232 2 holes, 1.1 kg, 164, 3 weeks, Harrow Gate Motorsport"),
    (
        "Adjustable links",
        "bar links 240-300 up to the strut studs bolt 10, set of 2, 68, 1 week, Harrow Gate Motorsport",
    ),
    ("Bent arms", "arms lower 340-356 bent rod ends bolt 12 eye 46 pair, 2.1 kg, 196, 4 weeks, Harrow Gate Motorsport"),
    ("Drawer rods", "tie rods M14x2 300-340 taper 14.6 pair, 0.9 kg, 24, in stock, Tip Street Yard"),
)
ROADSTER_OLD: tuple[tuple[str, str, dict[str, Any]], ...] = (
    ("F", "tie_rod", {"thread": "M14x1.5", "taper_mm": 13.9}),
    ("F", "shaft", {"spline_mm": 16.0, "teeth": 36, "engaged_mm": 31.0, "angle_deg": 24.0}),
    (
        "F",
        "damper",
        {
            "extended_mm": 352.0,
            "compressed_mm": 262.0,
            "installed_mm": 304.0,
            "top": "eye",
            "bottom": "eye",
            "bolt_mm": 12.0,
            "seat_mm": 60.0,
            "electronic": "no",
        },
    ),
)
ROADSTER_LINES = (
    ("Forward brackets", "rack bracket bolt-in bracket forward 26 up 0, 1.0 kg, 168, 4 weeks, Harrow Gate Motorsport"),
    ("Offset spacers", "rack spacer offset spacer forward 4, 0.1 kg, 12, in stock, Tip Street Yard"),
    ("Shaft extension", "steering shaft 16 mm 36 teeth extension 25, 0.3 kg, 88, 2 weeks, Harrow Gate Motorsport"),
    ("Long rods", "tie rods M14x1.5 300-360 taper 13.9 pair, 0.9 kg, 92, 1 week, Harrow Gate Motorsport"),
)
FOUR_OLD: tuple[tuple[str, str, dict[str, Any]], ...] = (
    (
        "R",
        "leaf_pack",
        {"rate_n_per_mm": 27.0, "arch_mm": 118.0, "length_mm": 1120.0, "width_mm": 60.0, "leaves": 4, "stack_mm": 34.0},
    ),
    ("R", "u_bolt", {"thread": "M12x1.25", "inside_mm": 62.0, "length_mm": 128.0, "shape": "round"}),
    ("R", "hose", {"length_mm": 380.0, "slack_mm": 44.0}),
    ("R", "propshaft", {"length_mm": 905.0, "front_deg": 4.0, "rear_deg": 4.5, "flange_mm": 80.0, "bolts": 4}),
)
FOUR_LINES = (
    ("Blocks", "lift blocks 50 mm width 60 taper 2°, 1.3 kg, 54, 4 days, Nook Lane Wheels"),
    (
        "Arched leaves",
        "leaf pack 30 N/mm arch 156 1120 mm width 60 5 leaves stack 40, 16 kg, 214, 5 weeks, Harrow Gate Motorsport",
    ),
    (
        "U-bolts, short",
        "u-bolts M12x1.25 inside 62 leg 140 mm round class 10.9, set of 4, 46, 4 days, Nook Lane Wheels",
    ),
    ("U-bolts, long", "u-bolts M12x1.25 inside 62 leg 185 mm round class 10.9, set of 4, 52, 4 days, Nook Lane Wheels"),
    ("Long hose", "brake hoses 450 mm banjo, set of 1, 29, 1 week, Nook Lane Wheels"),
)


def load_chassis(user: Any, today: date) -> None:
    """Three cars, each with what stands there written down and with parts judged against it."""
    for nickname, old, lines in (
        ("Tarn", HATCH_OLD, HATCH_LINES),
        ("Gannel", ROADSTER_OLD, ROADSTER_LINES),
        ("Strath", FOUR_OLD, FOUR_LINES),
    ):
        car = Car.objects.get(owner=user, nickname__startswith=nickname)
        for end, family, said in old:
            write_down(car, end, family, said, "Ina", today - timedelta(days=4))
        for name, line in lines:
            add_line(car, user, parse_line(line), name, line)
    _blocks_against_leaves(Car.objects.get(owner=user, nickname__startswith="Strath"), user, today)


def _blocks_against_leaves(car: Car, user: Any, today: date) -> None:
    """Two ways up for the tug's rear, beside the build in hand.

    Blocks under the old pack, or a pack that is arched more.
    """
    set_springs(car, "R", {"rate_n_per_mm": 27.0, "motion_ratio": 1.0, "unsprung_kg": 62.0})
    loads = {"FL": (322.0, "322"), "FR": (318.0, "318"), "RL": (297.0, "297"), "RR": (293.0, "293")}
    how = {"uncertainty": 0.5, "who": "Ina", "taken_on": today - timedelta(days=4), "method": "scale"}
    take_pads(open_file(user, car.pk), loads, {"driver_aboard": False, "fuel": "quarter tank"}, how)
    for name, note, parts in (
        ("Up on blocks", "cheap and back again; winds up under torque", ("Blocks", "U-bolts, long")),
        (
            "Up on leaves",
            "dearer; the pack keeps its own angle when it pulls the dinghy out",
            ("Arched leaves", "U-bolts, short"),
        ),
    ):
        build = Build.objects.create(car=car, name=name, tolerance="tow", hours_estimate=6, note=note)
        set_levers(build, {("ride_drop_mm", "R"): -50})
        for part in Part.objects.filter(car=car, name__in=parts):
            put_part(build, user, part, {"position": "R", "quantity": 1 if part.family == "u_bolt" else 2})
