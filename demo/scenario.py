"""The demo scenario: an invented hatchback before its first hill-climb season. Every name here is made up."""

from __future__ import annotations

import uuid
from datetime import date, timedelta
from typing import Any

from django.contrib.auth import get_user_model
from django.db import transaction
from django.utils import timezone

from demo.air import load_air
from demo.chassis import load_chassis
from demo.engines import load_coasts, load_engines, load_laps
from demo.masses import load_masses
from demo.pictures import wheel_picture
from demo.plans import load_plans
from demo.shelf import load_shelf, load_workshop
from demo.stable import load_others, take_readings
from garage.car.models import Axle, Car, Driveline, Outfit, OutfitAxle
from garage.car.parts import Tyre, Wheel
from garage.car.services import stand
from garage.chassis.services import keep_dip, keep_points, learn_adjuster, mirror_points, set_rack, set_springs
from garage.file import open_file
from garage.person.models import Preferences, ToleranceSet
from garage.readings.models import Condition, Rub, Sighting, Trial
from garage.readings.services import Angle, keep_trial, take_angles, take_pads
from planner.dates.models import PersonWeek
from planner.models import Build
from planner.services import add_part, choose_pair, set_levers
from proof.models import Run, RunPlan, Series
from rimcore.lines import parse_line
from rimcore.well.judge.tolerance import MARGIN_FIELDS, SCHOOLS
from shelf.services import add_line
from shell.models import Change
from shell.views import DEMO_USER
from workshop.composing import make_job
from workshop.models import FollowUp, Job, Pull, Snag, Spell
from workshop.services import finish_job, finish_step, keep_photo, skip_step

PASSWORD = "hill-climb-demo"  # noqa: S105  the demo is served on this machine only

WHEELS = (
    ("Quillet Five", "17x7.5 +45 5x108 63.4, 8.9 kg, 186, in stock, Nook Lane Wheels, cone 60, pad 12 mm, load 650 kg"),
    ("Skerrow Mesh", "17x8 +40 5x108 72.6, 8.2 kg, 239, 3 weeks, Nook Lane Wheels, cone 60, pad 13 mm, load 640 kg"),
    (
        "Pellin S",
        "17x8.5 +30 5x108 63.4, 8.7 kg, 254, 10 days, Harrow Gate Motorsport, cone 60, pad 12 mm, load 600 kg",
    ),
    ("Brack Eight", "18x8.5 +55 5x108 63.4, 9.6 kg, 228, 5 days, Nook Lane Wheels, cone 60, pad 12 mm, load 690 kg"),
    (
        "Ottermoor Deep",
        "17x9 +15 5x108 65.1, 9.4 kg, 262, 6 weeks, Harrow Gate Motorsport, cone 60, pad 11 mm, load 615 kg",
    ),
    ("Varn Ten", "17x7.5 +42 5x108 63.4, 9.1 kg, 142, in stock, Tip Street Yard, ball R13, pad 12 mm, load 625 kg"),
    ("Tessel L", "18x8 +45 5x108 67.1, 7.6 kg, 540, 12 weeks, handmade by Tessel, cone 60, pad 12 mm, load 640 kg"),
    (
        "Hollin Rally",
        "16x7 +45 5x108 63.4, 7.4 kg, 158, 1 week, Harrow Gate Motorsport, cone 60, pad 12 mm, load 600 kg",
    ),
    ("Quillet Six", "17x8 +38 5x112 66.6, 8.6 kg, 176, in stock, Tip Street Yard, cone 60, pad 12 mm"),
)
TYRES = (
    ("Moorgrip 2", "225/45R17 91W, 9.2 kg, 104, 5 days, Harrow Gate Motorsport"),
    ("Saltway", "215/45R17 91W, 8.8 kg, 88, 3 days, Nook Lane Wheels"),
    ("Grindle R", "245/40R17 91W, 9.9 kg, 139, 4 weeks, Harrow Gate Motorsport"),
    ("Moorgrip 2", "235/40R18 95W, 9.9 kg, 121, 5 days, Harrow Gate Motorsport"),
    ("Saltway", "225/40R18 92W, 9.5 kg, 98, 3 days, Nook Lane Wheels"),
    ("Dryline", "205/55R16 91V, 8.6 kg, 79, 2 days, Nook Lane Wheels"),
)

#: corner, station, where, first and second reading as typed, method
BASELINE: tuple[tuple[Any, ...], ...] = (
    ("FL", "damper", {"height_mm": 262}, "5/8 in", "", "rule"),
    ("FL", "arch_12", {}, "31", "62", "rule"),
    ("FL", "arch_2", {}, "34", "66", "rule"),
    ("FL", "liner_front", {"u": "centre"}, "41", "", "rule"),
    ("FL", "liner_rear", {"u": "centre"}, "1 3/4 in", "", "rule"),
    ("FL", "liner_rear_lock", {"u": "inner", "steer_deg": 34}, "22", "", "rule"),
    ("FL", "caliper_barrel", {}, "151.5", "", "caliper"),
    ("FL", "ride_height", {}, "368", "", "rule"),
    ("FL", "bump", {}, "72", "", "rule"),
    ("FL", "droop", {}, "3 1/8 in", "", "rule"),
    ("FL", "lock_out", {}, "36", "", "gauge"),
    ("FL", "lock_in", {}, "33", "", "gauge"),
    ("FL", "caster", {}, "4.2", "", "gauge"),
    ("FL", "kpi", {}, "12°30'", "", "gauge"),
    ("FL", "kingpin", {}, "108", "", "rule"),
    ("FL", "camber", {}, "-0.6", "", "gauge"),
    ("FL", "camber_bump", {"travel_mm": 50}, "-1.1", "", "gauge"),
    ("FL", "liner_front_lock", {"u": "outer", "steer_deg": -33}, "38", "", "rule"),
    ("FL", "caliper_spoke", {}, "9.5", "", "caliper"),
    ("FL", "caliper_inner", {}, "71", "", "caliper"),
    ("FR", "damper", {"height_mm": 262}, "14.5", "", "rule"),
    ("FR", "arch_12", {}, "29", "60", "rule"),
    ("FR", "liner_front", {"u": "centre"}, "43", "", "rule"),
    ("FR", "ride_height", {}, "366", "", "rule"),
    ("RL", "damper", {"height_mm": 255}, "27", "", "rule"),
    ("RL", "arch_12", {}, "24", "58", "rule"),
    ("RL", "arch_10", {}, "26", "61", "rule"),
    ("RL", "ride_height", {}, "362", "", "rule"),
    ("RL", "bump", {}, "84", "", "rule"),
    ("RL", "droop", {}, "70", "", "rule"),
    ("RR", "arch_12", {}, "25", "57", "rule"),
    ("RR", "ride_height", {}, "363", "", "rule"),
    ("", "car_mass", {}, "1287", "", "scale"),
    ("", "true_speed", {}, "96.4", "", "logger"),
)
AFTER: tuple[tuple[Any, ...], ...] = (
    ("FL", "damper", {"height_mm": 262}, "15.5", "", "rule"),
    ("FL", "arch_12", {}, "25", "62", "rule"),
    ("FL", "liner_front", {"u": "centre"}, "40", "", "rule"),
    ("FL", "ride_height", {}, "367", "", "rule"),
    ("FR", "damper", {"height_mm": 262}, "14", "", "rule"),
    ("FR", "arch_12", {}, "20", "61", "rule"),
    ("RL", "arch_12", {}, "18", "58", "rule"),
    ("RR", "arch_12", {}, "3/4 in", "57", "rule"),
    ("", "car_mass", {}, "1276.5", "", "scale"),
    ("", "true_speed", {}, "96.6", "", "logger"),
)
#: name, unit, better, limit, how, runs before, runs after
SERIES = (
    (
        "Fuel used",
        "L/100 km",
        "less",
        None,
        "brim to brim, the same pump",
        (7.05, 6.92, 7.31, 6.88, 6.95),
        (6.79, 7.02, 6.61, 6.84),
    ),
    (
        "Hill sprint",
        "s",
        "less",
        None,
        "Quarry hill, gate to gate, closed road, tyres at 2.2 bar",
        (39.8, 40.1, 39.6, 40.4, 39.9),
        (39.0, 38.8, 39.3, 38.9, 39.1),
    ),
    (
        "Sound at half a metre",
        "dB(A)",
        "less",
        92.0,
        "at 4500 rpm, 45° behind the tailpipe, the same yard",
        (88.6, 88.4, 88.9),
        (88.7, 88.5, 88.3),
    ),
    (
        "Harshness, 1 to 5",
        "",
        "less",
        None,
        "the setts in Mill Lane at 30 km/h: 1 nothing, 5 everything rattles",
        (2, 2, 3, 2),
        (2, 2, 2, 1),
    ),
)


@transaction.atomic
def load() -> Car:
    """Load the scenario anew; what the demo user had before goes."""
    user = _user()
    today = timezone.localdate()
    car = _car(user, today)
    baseline = _baseline(car, today - timedelta(days=75))
    half = Condition.objects.create(
        car=car,
        noted_on=today - timedelta(days=74),
        fuel="half a tank",
        front_kpa=220,
        rear_kpa=220,
        air_c=16,
        note="workshop floor, level",
    )
    take_readings(car, baseline, BASELINE, today - timedelta(days=74), half)
    links(car, today - timedelta(days=73))
    for name, line in WHEELS + TYRES:
        add_line(car, user, parse_line(line), name, line)
    light = _light_build(car, user, today)
    _fitted_job(car, user, light, today)
    _hill_build(car, user, today)
    _job_under_way(car, user, today)
    load_shelf(car, user, today)
    load_workshop(car, user, today)
    _runs(car, baseline, today)
    _tried(car, today)
    aligned_half(car, user, today - timedelta(days=2))
    sprung(car, user, today - timedelta(days=3))
    load_others(user, today)
    load_chassis(user, today)
    load_engines(user, today)
    load_masses(car, user, today)
    load_coasts(car, today)
    load_laps(car, today)
    load_plans(user, today)
    for one in Car.objects.filter(owner=user):
        # The same mark on every demo, as the cars are the same.
        one.uid = uuid.uuid5(uuid.NAMESPACE_URL, f"urn:rim-tally:{one.nickname}")
        one.save()
    load_air({"Tarn": car, "Gannel": Car.objects.get(owner=user, nickname__startswith="Gannel")}, user)
    ToleranceSet.objects.create(
        owner=user,
        name="Hill, my own",
        school="track",
        **{field: getattr(SCHOOLS["track"], field) for field in MARGIN_FIELDS} | {"liner_mm": 8.0},
    )
    Change.objects.filter(user=user).delete()
    return car


def _user() -> Any:
    users = get_user_model().objects
    user = users.filter(username=DEMO_USER).first() or users.create_user(DEMO_USER, password=PASSWORD, first_name="Ina")
    for car in user.cars.all():
        car.delete()
    ToleranceSet.objects.filter(owner=user).delete()
    for kept in (*user.job_templates.all(), *user.tools.all(), *PersonWeek.objects.filter(owner=user)):
        kept.delete()
    Preferences.objects.get_or_create(user=user)
    return user


def _car(user: Any, today: date) -> Car:
    car = Car.objects.create(
        owner=user,
        nickname="Tarn, the blue one",
        description="Tarn 1.8, five doors, invented; road-legal, first hill-climb season",
        use="climb",
        second_use="street",
        drive="F",
        wheelbase_mm=2560,
        track_front_mm=1514,
        track_rear_mm=1498,
        front_axle_kg=812,
        rear_axle_kg=475,
        cg_height_mm=548,
        odometer_km=141_480,
        currency="EUR",
        budget_minor=320_000,
        event_name="Quarry hill climb",
        event_on=today + timedelta(days=44),
        hours_per_week=7,
    )
    common = {
        "bolts": 5,
        "pcd_mm": 108,
        "bore_mm": 63.4,
        "thread": "M12x1.5",
        "stud_length_mm": 29.0,
        "seat": "cone 60",
        "nut_torque_nm": 110,
        "noted_on": today - timedelta(days=75),
    }
    Axle.objects.create(car=car, end="F", suspension="strut", **common)
    Axle.objects.create(car=car, end="R", suspension="multilink", **common)
    Driveline.objects.create(
        car=car,
        gears=[3.42, 1.95, 1.28, 0.98, 0.79],
        axle_ratio=4.06,
        limit_rpm=6800,
        noted_on=today - timedelta(days=75),
    )
    return car


#: hard points of the front left corner: from the centre line, ahead of the axle line, above the floor [mm]
FRONT_POINTS = {
    "hub": (807, 0, 302),
    "lower_joint": (741, 9, 196),
    "rod_outer": (722, -121, 243),
    "lower_front": (428, 14, 211),
    "rod_inner": (398, -128, 249),
    "lower_rear": (436, -262, 216),
    "strut_knuckle": (702, -6, 382),
    "strut_top": (612, -34, 812),
}


def links(car: Car, on: date) -> None:
    """The front left links as they were read, the right ones taken over, and the rack in its middle."""
    rows = {
        name: {"across_mm": across, "ahead_mm": ahead, "up_mm": up}
        for name, (across, ahead, up) in FRONT_POINTS.items()
    }
    kept = keep_points(car, "FL", "strut", rows, {"uncertainty_mm": 2.0, "who": "Ina", "taken_on": on})
    mirror_points(car, "FL", kept)
    set_rack(car, {"travel_mm": 62.0, "turns": 2.9, "left_stick_out_mm": 31.0, "right_stick_out_mm": 31.3})


def aligned_half(car: Car, user: Any, on: date) -> None:
    """The front wheels read and one tie rod learnt by a turn; the rear is still to be read."""
    how = {"who": "Ina", "taken_on": on, "method": "gauge"}
    front: list[Angle] = [
        ("FL", "camber", -1.3, "-1.3", 0.1, {}),
        ("FR", "camber", -0.9, "-0.9", 0.1, {}),
        ("FL", "toe", 0.05, "0.05", 0.03, {}),
        ("FR", "toe", -0.21, "-0.21", 0.03, {}),
    ]
    take_angles(open_file(user, car.pk), front, how)
    learn_adjuster(
        file=open_file(user, car.pk),
        corner="FL",
        name="Tie rod",
        turns=0.5,
        effects={"toe_deg": 0.36},
        angles=[("FL", "toe", 0.23, "0.23", 0.03, {})],
        how=how,
        more={"doubts": {"toe_deg": 0.085}},
    )


def sprung(car: Car, user: Any, on: date) -> None:
    """Springs and pads, and the lane that touched when the car stood 45 mm down.

    Raised by 25 mm the same lane was clear.
    """
    for end, rate, bar, unsprung in (("F", 28.0, 14.0, 41.0), ("R", 31.0, 6.0, 36.0)):
        values = {
            "rate_n_per_mm": rate,
            "motion_ratio": 0.94 if end == "F" else 0.78,
            "turn_mm": 1.5,
            "bar_n_per_mm": bar,
            "unsprung_kg": unsprung,
        }
        set_springs(car, end, values | {"free_length_mm": 310.0, "block_length_mm": 118.0, "preload_mm": 5.0})
    how = {"uncertainty": 0.5, "who": "Ina", "taken_on": on, "method": "scale"}
    take_pads(
        open_file(user, car.pk),
        {"FL": (410.0, "410"), "FR": (402.0, "402"), "RL": (239.0, "239"), "RR": (236.0, "236")},
        {"driver_aboard": False, "fuel": "half a tank"},
        how,
    )
    for drop, shaft, touched, days in ((45.0, 37.0, True, 9), (20.0, 39.0, False, 2)):
        keep_dip(
            car,
            {
                "name": "Farm lane by the bridge",
                "corner": "FL",
                "shaft_mm": shaft,
                "ride_drop_mm": drop,
                "touched": touched,
                "who": "Ina",
                "driven_on": timezone.localdate() - timedelta(days=days),
            },
        )


def _baseline(car: Car, since: date) -> Outfit:
    outfit = Outfit.objects.create(car=car, name="baseline", is_baseline=True, since=since)
    for end, camber in (("F", -0.6), ("R", -1.2)):
        masses = {"wheel_kg": 9.9, "tyre_kg": 8.9, "measured_section_mm": 205.0}
        stand(outfit, end, {"wheel": "16x6.5 +50 5x108 63.4", "tyre": "205/55R16 91V", "camber_deg": camber, **masses})
    return outfit


def _light_build(car: Car, user: Any, today: date) -> Build:
    build = Build.objects.create(
        car=car,
        name="Lighter sixteens",
        tolerance="daily",
        in_hand=True,
        hours_estimate=3,
        note="same size, less weight",
    )
    wheel, tyre = Wheel.objects.get(car=car, name="Hollin Rally"), Tyre.objects.get(car=car, name="Dryline")
    choose_pair(build, user, wheel, tyre, "A")
    for choice in build.choices.all():
        choice.state, choice.ordered_on, choice.arrived_on = (
            "arrived",
            today - timedelta(days=52),
            today - timedelta(days=45),
        )
        choice.save()
    return build


def _fitted_job(car: Car, user: Any, build: Build, today: date) -> None:
    job = make_job(open_file(user, car.pk), build, user)
    for step in job.steps.all():
        if step.kind == "photo":
            skip_step(step, user, "it was dark")
            continue
        if step.kind == "torque" and step.torque_nm:
            for lug in range(1, (step.lugs or 0) + 1):
                Pull.objects.create(
                    step=step, lug=lug, wanted_nm=step.torque_nm, read_nm=step.torque_nm + (lug % 3) - 1
                )
        finish_step(step, user)
    began = timezone.now() - timedelta(days=41, hours=5)
    Spell.objects.create(job=job, began=began, ended=began + timedelta(hours=4, minutes=10))
    Snag.objects.create(
        job=job,
        kind="missing_tool",
        what="No 19 mm deep socket in the box",
        cost_minor=1450,
        hours=0.8,
        cure="bought one",
        found_on=today - timedelta(days=41),
        closed_on=today - timedelta(days=41),
    )
    finish_job(open_file(user, car.pk), job, user, 141_480)
    # Ina laid the caliper over the new tyres, so that readings against them know how wide they are.
    for axle in OutfitAxle.objects.filter(outfit__car=car, outfit__is_baseline=False):
        stand(axle.outfit, axle.end, {"measured_section_mm": 210.0})
    _date_back(car, job, today)


def _date_back(car: Car, job: Job, today: date) -> None:
    """The job lies six weeks back; since then the nuts were done once, and the second time is due."""
    fitted_on = today - timedelta(days=41)
    job.done_on = fitted_on
    job.save(update_fields=["done_on"])
    job.promises.update(made_on=fitted_on - timedelta(days=1))
    outfit = job.build.outfit
    if outfit is None:
        raise ValueError("a finished job leaves an outfit")
    outfit.since = fitted_on
    outfit.save(update_fields=["since"])
    condition = Condition.objects.create(
        car=car,
        noted_on=fitted_on,
        fuel="half a tank",
        front_kpa=220,
        rear_kpa=220,
        air_c=14,
        note="workshop floor, level",
    )
    take_readings(car, outfit, AFTER, fitted_on + timedelta(days=1), condition)
    first = FollowUp.objects.filter(job=job).order_by("due_km")[0]
    first.done_on, first.done_km = fitted_on + timedelta(days=4), 141_566
    first.save()
    car.refresh_from_db()
    car.odometer_km = 142_310
    car.save(update_fields=["odometer_km"])


def _hill_build(car: Car, user: Any, today: date) -> None:
    Build.objects.filter(car=car).update(in_hand=False)
    build = Build.objects.create(
        car=car,
        name="Hill season",
        tolerance="track",
        in_hand=True,
        hours_estimate=9,
        note="seventeens, twenty lower, more camber in front",
    )
    set_levers(build, {("ride_drop_mm", "F"): 20, ("ride_drop_mm", "R"): 20, ("camber_deg", "F"): -1.8})
    wheel, tyre = (
        Wheel.objects.get(car=car, name="Skerrow Mesh"),
        Tyre.objects.get(car=car, spec__size__startswith="225/45R17"),
    )
    choose_pair(build, user, wheel, tyre, "A")
    wheels, tyres = build.choices.get(part__family="wheel"), build.choices.get(part__family="tyre")
    wheels.state, wheels.ordered_on, wheels.arrived_on = (
        "arrived",
        today - timedelta(days=24),
        today - timedelta(days=3),
    )
    tyres.state, tyres.ordered_on = "ordered", today - timedelta(days=1)
    wheels.save()
    tyres.save()
    rings = {
        "name": "Centring rings, solid aluminium",
        "quantity": 4,
        "price_minor": 600,
        "lead_days": 4,
        "supplier": "Nook Lane Wheels",
    }
    add_part(build, user, {**rings, "ring_inner_mm": 63.4, "ring_outer_mm": 72.6, "mass_change_kg": 0.05})
    springs = {
        "name": "Lowering springs, one axle",
        "quantity": 1,
        "lead_days": 9,
        "supplier": "Harrow Gate Motorsport",
    }
    for position, price_minor, mass_kg in (("F", 11800, -0.4), ("R", 10400, -0.3)):
        spring = add_part(
            build, user, {**springs, "position": position, "price_minor": price_minor, "mass_change_kg": mass_kg}
        )
        spring.state, spring.ordered_on = "ordered", today - timedelta(days=2)
        spring.save()


def _job_under_way(car: Car, user: Any, today: date) -> None:
    file = open_file(user, car.pk)
    job = make_job(file, Build.objects.get(car=car, in_hand=True), user)
    steps = list(job.steps.all())
    for step in steps[:4]:
        finish_step(step, user)
    trial = next(step for step in steps if step.kind == "trial")
    began = timezone.now() - timedelta(days=2, hours=3)
    Spell.objects.create(job=job, began=began, ended=began + timedelta(hours=1, minutes=25))
    Snag.objects.create(
        job=job,
        step=trial,
        kind="wrong_part",
        what="The rings in the bag are 73.1, not 72.6: loose in the bore",
        cost_minor=0,
        hours=0.5,
        found_on=today - timedelta(days=2),
    )
    keep_photo(job, steps[1], wheel_picture(), "front left, before")


def _tried(car: Car, today: date) -> None:
    """The bare rim was held on the front left before the tyres were ordered; and a rub on the sixteens, reversing."""
    file = open_file(car.owner, car.pk)
    damper, lip = (
        next(r for r in file.latest if r.corner == "FL" and r.code == code) for code in ("damper", "arch_12")
    )
    trial = Trial(
        car=car,
        corner="FL",
        wheel="17x8 +40 5x108 72.6",
        camber_deg=-0.6,
        tried_on=today - timedelta(days=2),
        who="Ina",
    )
    seen = [
        Sighting(reading=reading, seen="gap", gap_mm=gap, typed=f"{gap:g}", uncertainty_mm=1.0)
        for reading, gap in ((damper, 29.5), (lip, 143.0))
    ]
    keep_trial(file, trial, seen)
    outfit = car.outfits.order_by("since", "id").last()
    Rub.objects.create(
        car=car,
        outfit=outfit,
        corner="FL",
        code="liner_front_lock",
        when="lock",
        steer_deg=-33,
        travel_mm=0,
        note="shine on the liner after the yard gate, its clip was gone",
        seen_on=today - timedelta(days=12),
    )


#: planned runs: series, what is changed, how, smallest change worth having, scatter, order, runs driven with the air [°C]
PLANNED = (
    (
        ("Stopping distance, 60 km/h", "m", "less"),
        ("Street pads against track pads", "after", 0.6, 0.3, 36_000),
        "AAAAABBBBB",
        (17.1, 17.4, 16.9, 17.3, 17.0, 16.2, 16.5, 16.1, 16.0, 16.4),
        (11.0, 12.0, 12.0, 13.0, 13.5, 12.5, 13.0, 14.0, 14.0, 14.5),
    ),
    (
        ("Hill sprint", "s", "less"),
        ("Tyres at 2.2 against 2.5 bar", "swap", 0.4, 0.35, None),
        "ABBAABBAABBAABBA",
        (39.2, 38.9, 39.0, 39.5, 39.3),
        (9.0, 9.5, 9.5, 10.0, 10.5),
    ),
)


def _planned(car: Car, now: Outfit, today: date) -> None:
    """One plan driven to its end, one under way: nothing is said of it yet."""
    for (name, unit, better), (what, design, useful, sd, cost), order, values, air in PLANNED:
        series, _ = Series.objects.get_or_create(car=car, name=name, defaults={"unit": unit, "better": better})
        plan = RunPlan.objects.create(
            series=series,
            what=what,
            design=design,
            order=order,
            useful=useful,
            scatter=sd,
            cost_minor=cost,
            made_on=today - timedelta(days=20),
        )
        for k, (value, air_c) in enumerate(zip(values, air, strict=True)):
            Run.objects.create(
                series=series,
                outfit=now,
                plan=plan,
                side=order[k],
                number=k + 1,
                value=value,
                ran_on=today - timedelta(days=18),
                conditions={"air_c": air_c, "fuel_l": 24.0 - 0.2 * k},
            )


def _runs(car: Car, baseline: Outfit, today: date) -> None:
    now = car.outfits.order_by("since", "id").last() or baseline
    for name, unit, better, limit, how, before, after in SERIES:
        series = Series.objects.create(car=car, name=name, unit=unit, better=better, limit=limit, how=how)
        for place, value in enumerate(before):
            Run.objects.create(
                series=series,
                outfit=baseline,
                value=value,
                ran_on=today - timedelta(days=73 - 4 * place),
                note="16 °C, half a tank",
            )
        for place, value in enumerate(after):
            Run.objects.create(
                series=series,
                outfit=now,
                value=value,
                ran_on=today - timedelta(days=38 - 4 * place),
                note="14 °C, half a tank",
            )
    _planned(car, now, today)
