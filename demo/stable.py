"""The demo's other two cars: a roadster for sprint days and a small four-wheel-drive on bigger tyres.

All names are made up.
"""

from __future__ import annotations

from datetime import date, timedelta
from typing import Any

from demo.pictures import card_picture, card_section
from garage.car.models import Axle, Car, Driveline, Outfit
from garage.car.parts import Tyre, Wheel
from garage.car.services import stand
from garage.chassis.services import keep_points, set_rack, set_springs
from garage.file import open_file
from garage.readings.models import Condition, Reading
from garage.readings.services import default_uncertainty, take_pads
from planner.models import Build, Choice
from planner.services import choose_pair, put_part, set_levers
from rimcore.lines import parse_line
from rimcore.quantities.units import parse_quantity
from rimcore.well.read.declared import check_values, check_where
from rimcore.well.read.stations import STATIONS
from rimcore.wheels.traced import from_card
from shelf.cards import keep_card, keep_trace
from shelf.services import add_line

ROADSTER_OFFERS = (
    (
        "Dunnet Lite",
        "15x8 +28 4x100 56.1, 5.9 kg, 214, 5 weeks, Harrow Gate Motorsport, cone 60, pad 11 mm, load 520 kg",
    ),
    (
        "Dunnet Lite",
        "15x9 +36 4x100 56.1, 6.4 kg, 232, 5 weeks, Harrow Gate Motorsport, cone 60, pad 11 mm, load 520 kg",
    ),
    ("Pellin R", "16x8 +35 4x100 60.1, 7.1 kg, 198, 2 weeks, Nook Lane Wheels, cone 60, pad 12 mm, load 540 kg"),
    ("Grindle Sprint", "205/50R15 86V, 8.1 kg, 112, 1 week, Harrow Gate Motorsport"),
    ("Grindle Sprint", "225/45R15 87V, 8.6 kg, 126, 2 weeks, Harrow Gate Motorsport"),
    ("Saltway", "205/50R16 87V, 8.7 kg, 84, 3 days, Nook Lane Wheels"),
)
#: corner, station, where, first and second reading as typed, method
ROADSTER: tuple[tuple[Any, ...], ...] = (
    ("FL", "perch", {"u_mm": -55}, "13", "", "rule"),
    ("FL", "damper", {"height_mm": 240}, "31", "", "rule"),
    ("FL", "arch_12", {}, "22", "48", "rule"),
    ("FL", "arch_10", {}, "25", "52", "rule"),
    ("FL", "arch_2", {}, "26", "55", "rule"),
    ("FL", "liner_front", {"u": "centre"}, "47", "", "rule"),
    ("FL", "liner_rear", {"u": "centre"}, "52", "", "rule"),
    ("FL", "liner_front_lock", {"u": "outer", "steer_deg": -31}, "24", "", "rule"),
    ("FL", "liner_rear_lock", {"u": "inner", "steer_deg": 35}, "27", "", "rule"),
    ("FL", "arm_rear_lock", {"height_mm": -62, "steer_deg": 35}, "19", "", "rule"),
    ("FL", "arm_pivot", {}, "395", "-88", "rule"),
    ("FL", "arm_joint", {}, "84", "-118", "rule"),
    ("FL", "bump", {}, "58", "", "rule"),
    ("FL", "droop", {}, "64", "", "rule"),
    ("FL", "lock_out", {}, "35", "", "gauge"),
    ("FL", "lock_in", {}, "31", "", "gauge"),
    ("FL", "caster", {}, "5.6", "", "gauge"),
    ("FL", "kpi", {}, "9.2", "", "gauge"),
    ("FL", "kingpin", {}, "86", "", "rule"),
    ("FL", "camber", {}, "-1.1", "", "gauge"),
    ("FL", "camber_bump", {"travel_mm": 40}, "-2.0", "", "gauge"),
    ("FL", "caliper_barrel", {}, "148", "", "caliper"),
    ("FL", "caliper_spoke", {}, "4", "", "caliper"),
    ("FR", "damper", {"height_mm": 240}, "30", "", "rule"),
    ("FR", "arch_12", {}, "20", "47", "rule"),
    ("RL", "damper", {"height_mm": 230}, "24", "", "rule"),
    ("RL", "arch_12", {}, "15", "44", "rule"),
    ("RL", "arch_2", {}, "18", "50", "rule"),
    ("RL", "bump", {}, "66", "", "rule"),
    ("RL", "droop", {}, "58", "", "rule"),
    ("RL", "camber_bump", {"travel_mm": 40}, "-2.6", "", "gauge"),
    ("RR", "arch_12", {}, "9/16 in", "1 3/4 in", "rule"),
)
FOUR_OFFERS = (
    ("Corran Steel", "15x7 -6 5x139.7 108.5, 10.8 kg, 69, in stock, Tip Street Yard, cone 60, pad 9 mm, load 900 kg"),
    ("Corran Steel", "15x6 +10 5x139.7 108.5, 9.9 kg, 64, in stock, Tip Street Yard, cone 60, pad 9 mm, load 900 kg"),
    ("Bracken AT", "215/75R15 100S, 12.9 kg, 98, 4 days, Nook Lane Wheels"),
    ("Bracken AT", "235/75R15 105S, 14.8 kg, 119, 4 days, Nook Lane Wheels"),
)
FOUR: tuple[tuple[Any, ...], ...] = (
    ("FL", "damper", {"height_mm": 150}, "46", "", "rule"),
    ("FL", "arch_12", {}, "46", "128", "rule"),
    ("FL", "arch_10", {}, "48", "116", "rule"),
    ("FL", "liner_front", {"u": "centre"}, "78", "", "rule"),
    ("FL", "liner_rear", {"u": "centre"}, "64", "", "rule"),
    ("FL", "liner_rear_lock", {"u": "outer", "steer_deg": 31}, "36", "", "rule"),
    ("FL", "rail_rear_lock", {"height_mm": 70, "steer_deg": 31}, "29", "", "rule"),
    ("FL", "rail_front_lock", {"height_mm": 60, "steer_deg": -28}, "34", "", "rule"),
    ("FL", "arm_rear_lock", {"height_mm": -85, "steer_deg": 31}, "24", "", "rule"),
    ("FL", "arm_pivot", {}, "412", "-94", "rule"),
    ("FL", "arm_joint", {}, "96", "-128", "rule"),
    ("FL", "joint", {}, "132", "", "rule"),
    ("FL", "caliper_barrel", {}, "147", "", "caliper"),
    ("FL", "caliper_spoke", {}, "6", "", "caliper"),
    ("FL", "bump", {}, "82", "", "rule"),
    ("FL", "droop", {}, "96", "", "rule"),
    ("FL", "lock_out", {}, "32", "", "gauge"),
    ("FL", "lock_in", {}, "28", "", "gauge"),
    ("FL", "caster", {}, "2.5", "", "gauge"),
    ("FL", "kpi", {}, "8", "", "gauge"),
    ("FL", "kingpin", {}, "92", "", "rule"),
    ("FL", "lock_stop", {}, "74", "", "rule"),
    ("FR", "rail_rear_lock", {"height_mm": 70, "steer_deg": 31}, "26", "", "rule"),
    ("FR", "arch_12", {}, "45", "127", "rule"),
    ("RL", "arch_12", {}, "43", "118", "rule"),
    ("RL", "rail_inside", {"height_mm": 90, "travel_mm": 0}, "58", "", "rule"),
    ("RL", "bump", {}, "90", "", "rule"),
    ("RL", "droop", {}, "105", "", "rule"),
)


def load_others(user: Any, today: date) -> None:
    """The roadster and the small four-wheel-drive, with a build in hand each."""
    _roadster(user, today)
    _four(user, today)


def take_readings(car: Car, outfit: Outfit, rows: tuple[tuple[Any, ...], ...], on: date, condition: Condition) -> None:
    """Readings as they were typed."""
    for corner, code, where, first, second, method in rows:
        kind = STATIONS[code].kind
        unit = {"length": "mm", "mass": "kg", "speed": "km/h", "angle": "deg"}[kind]
        read = [parse_quantity(text, kind, unit).value for text in (first, second) if text]
        Reading.objects.create(
            car=car,
            outfit=outfit,
            corner=corner,
            code=code,
            where=check_where(STATIONS[code], where),
            values=list(check_values(STATIONS[code], read)),
            typed=f"{first} / {second}" if second else first,
            method=method,
            uncertainty=default_uncertainty(code, method),
            who="Ina",
            taken_on=on,
            condition=condition,
        )


def _outfit(car: Car, since: date, ends: tuple[tuple[str, str, str, float, float, float], ...]) -> Outfit:
    outfit = Outfit.objects.create(car=car, name="baseline", is_baseline=True, since=since)
    for end, wheel, tyre, camber, wheel_kg, tyre_kg in ends:
        stand(
            outfit, end, {"wheel": wheel, "tyre": tyre, "camber_deg": camber, "wheel_kg": wheel_kg, "tyre_kg": tyre_kg}
        )
    return outfit


def _condition(car: Car, on: date, note: str) -> Condition:
    return Condition.objects.create(
        car=car, noted_on=on, fuel="quarter tank", front_kpa=200, rear_kpa=200, air_c=12, note=note
    )


def _roadster(user: Any, today: date) -> None:
    car = Car.objects.create(
        owner=user,
        nickname="Gannel, the roadster",
        description="Gannel 2.0, two seats, invented; sprint days, driven there on its own wheels",
        use="track",
        second_use="street",
        drive="R",
        wheelbase_mm=2310,
        track_front_mm=1442,
        track_rear_mm=1448,
        front_axle_kg=540,
        rear_axle_kg=525,
        cg_height_mm=455,
        odometer_km=98_240,
        currency="EUR",
        budget_minor=180_000,
        event_name="Airfield sprint",
        event_on=today + timedelta(days=86),
        hours_per_week=4,
    )
    hub = {
        "bolts": 4,
        "pcd_mm": 100,
        "bore_mm": 56.1,
        "thread": "M12x1.5",
        "stud_length_mm": 26.0,
        "seat": "cone 60",
        "nut_torque_nm": 100,
        "collar_mm": 9.0,
        "noted_on": today - timedelta(days=30),
    }
    for end in ("F", "R"):
        Axle.objects.create(car=car, end=end, suspension="wishbone", **hub)
    Driveline.objects.create(car=car, gears=[3.14, 1.89, 1.33, 1.0, 0.81], axle_ratio=4.1, limit_rpm=7200)
    since = today - timedelta(days=30)
    outfit = _outfit(
        car,
        since,
        (
            ("F", "16x7 +40 4x100 56.1", "205/50R16 87V", -1.1, 8.2, 8.9),
            ("R", "16x8 +38 4x100 56.1", "225/50R16 92V", -1.6, 8.8, 9.9),
        ),
    )
    take_readings(car, outfit, ROADSTER, since, _condition(car, since, "pit garage, level"))
    for name, line in ROADSTER_OFFERS:
        add_line(car, user, parse_line(line), name, line)
    build = Build.objects.create(
        car=car,
        name="Sprint fifteens",
        tolerance="track",
        in_hand=True,
        hours_estimate=5,
        note="light fifteens, wider behind",
    )
    set_levers(
        build,
        {
            ("ride_drop_mm", "F"): 10,
            ("ride_drop_mm", "R"): 10,
            ("camber_deg", "F"): -2.2,
            ("camber_deg", "R"): -2.0,
            ("rack_forward_mm", ""): 26,
        },
    )
    narrow, wide = Wheel.objects.get(car=car, width_in=8, diameter_in=15), Wheel.objects.get(car=car, width_in=9)
    front, rear = (
        Tyre.objects.get(car=car, spec__size__startswith="205/50R15"),
        Tyre.objects.get(car=car, spec__size__startswith="225/45R15"),
    )
    _links(car, since)
    _weighed(car, user, since)
    _traced(rear, 9.0, user)
    choose_pair(build, user, narrow, front, "F")
    choose_pair(build, user, wide, rear, "R")


#: hard points of the roadster's front: from the centre line, ahead of the axle line, above the floor [mm]
ROADSTER_POINTS = {
    "hub": (761, 0, 297),
    "lower_joint": (683, 6, 171),
    "rod_outer": (672, -104, 219),
    "lower_front": (352, 118, 182),
    "rod_inner": (331, -217, 226),
    "lower_rear": (358, -196, 186),
    "upper_joint": (648, -9, 452),
    "upper_front": (431, 92, 424),
    "upper_rear": (437, -118, 412),
}


def _links(car: Car, on: date) -> None:
    """The roadster's front links, left and right not quite alike, and its rack, which goes over centre before its lock."""
    for corner, off in (("FL", 0.0), ("FR", 3.0)):
        rows = {
            name: {"across_mm": across + (off if name == "rod_inner" else 0.0), "ahead_mm": ahead, "up_mm": up}
            for name, (across, ahead, up) in ROADSTER_POINTS.items()
        }
        keep_points(car, corner, "wishbone", rows, {"uncertainty_mm": 2.0, "who": "Ina", "taken_on": on})
    set_rack(car, {"travel_mm": 66.0, "turns": 2.75, "left_stick_out_mm": 20.0, "right_stick_out_mm": 17.5})


def _weighed(car: Car, user: Any, on: date) -> None:
    """The roadster on four pads, cross weight 47.9 %, and springs whose perches can be turned."""
    for end, rate, bar in (("F", 62.0, 11.0), ("R", 44.0, 4.0)):
        values = {"rate_n_per_mm": rate, "motion_ratio": 0.72, "turn_mm": 1.5, "bar_n_per_mm": bar, "unsprung_kg": 34.0}
        set_springs(car, end, values | {"free_length_mm": 180.0, "block_length_mm": 84.0, "preload_mm": 8.0})
    loads = {"FL": (284.0, "284"), "FR": (258.0, "258"), "RL": (252.0, "252"), "RR": (271.0, "271")}
    how = {"uncertainty": 0.5, "who": "Ina", "taken_on": on, "method": "scale"}
    take_pads(open_file(user, car.pk), loads, {"driver_aboard": False, "fuel": "quarter tank"}, how)


def _traced(tyre: Tyre, rim_in: float, user: Any) -> None:
    """The rear tyre came out wider than its size: traced from a card."""
    section = card_section(f"{tyre.rim_diameter_in:g}x{rim_in:g} +36", tyre.size, 4.0)
    picture, pixels = card_picture(section, 230.0)
    card, crown = keep_card(tyre, picture), round(max(radius for _, radius in section), 1)
    profile = from_card(pixels[2:], (pixels[0], pixels[1]), 230.0, crown)
    keep_trace(card, user, {"points": pixels, "bar_mm": 230.0, "crown_mm": crown, "rim_in": rim_in, "profile": profile})
    tyre.refresh_from_db()


def _four(user: Any, today: date) -> None:
    car = Car.objects.create(
        owner=user,
        nickname="Strath, the dinghy tug",
        description="Strath 4, short wheelbase, four-wheel drive, invented; slipways and fields",
        use="tow",
        second_use="street",
        drive="4",
        wheelbase_mm=2250,
        track_front_mm=1355,
        track_rear_mm=1365,
        front_axle_kg=640,
        rear_axle_kg=590,
        cg_height_mm=655,
        odometer_km=171_900,
        currency="EUR",
        budget_minor=90_000,
        event_name="Launch day",
        event_on=today + timedelta(days=118),
        hours_per_week=3,
    )
    hub = {
        "bolts": 5,
        "pcd_mm": 139.7,
        "bore_mm": 108.1,
        "thread": "M12x1.25",
        "stud_length_mm": 31.0,
        "seat": "cone 60",
        "nut_torque_nm": 95,
        "collar_mm": 14.0,
        "noted_on": today - timedelta(days=21),
    }
    for end in ("F", "R"):
        Axle.objects.create(car=car, end=end, suspension="wishbone" if end == "F" else "live", **hub)
    Driveline.objects.create(car=car, gears=[3.65, 1.95, 1.38, 1.0, 0.82], axle_ratio=4.09, limit_rpm=5600)
    since = today - timedelta(days=21)
    ends = tuple((end, "15x5.5 +22 5x139.7 108.1", "195/80R15 96S", 0.0, 9.4, 11.1) for end in ("F", "R"))
    outfit = _outfit(car, since, ends)
    take_readings(car, outfit, FOUR, since, _condition(car, since, "slipway, nearly level"))
    for name, line in FOUR_OFFERS:
        add_line(car, user, parse_line(line), name, line)
    build = Build.objects.create(
        car=car,
        name="Spacers and 215s",
        tolerance="tow",
        in_hand=True,
        hours_estimate=7,
        note="thirty up, its own wheels, bolt-on spacers for the rail at lock",
    )
    set_levers(build, {("ride_drop_mm", "F"): -30, ("ride_drop_mm", "R"): -30})
    tyre = Tyre.objects.get(car=car, spec__size__startswith="215/75R15")
    Choice.objects.create(build=build, part=tyre, position="A", quantity=4)
    line = "spacers 25 mm bolt-on 5x139.7 108.1 → 108.1 M12x1.25, 0.9 kg, 39, 6 days, Nook Lane Wheels"
    put_part(
        build, user, add_line(car, user, parse_line(line), "Bolt-on spacers", line), {"position": "A", "quantity": 4}
    )
