"""Engines, cooling and brakes of the demo's three cars.

Runs as drawn, logs that the simulators wrote, parts on the lists. All names are made up.
"""

from __future__ import annotations

import io
from collections.abc import Mapping
from datetime import date, timedelta
from typing import Any

from django.core.files.base import ContentFile

from bench.logs.found import heard_of
from bench.logs.kinds import LOG_KINDS
from garage.car.models import Car, Outfit
from garage.car.parts import Part
from garage.engine.services import set_brakes, set_cooling, set_engine
from garage.file import open_file
from garage.logs.models import Log
from garage.readings.models import Reading
from garage.readings.services import default_uncertainty
from gauges import streams
from planner.models import Build
from planner.services import keep_run, put_part
from proof.laps import found_in
from rimcore.lines import parse_line
from rimcore.logs.tables import read_table
from shelf.services import add_line
from workshop.composing import make_job
from workshop.models import Job
from workshop.services import change_snag, finish_job, finish_step, log_snag, weigh_ways

INTAKE = "\n".join(
    (
        "entry 62",
        "filter 0.9 kPa at 0.1 kg/s, “paper element in its box”",
        "meter 0.35 kPa at 0.1 kg/s bore 70",
        "pipe 62 x 210, plastic, 2 mm wall, 1 clamp",
        "bend 62 90° r 80, plastic, 2 mm wall",
        "pipe 60 x 150, plastic, 2 mm wall, 1 clamp",
    )
)
INTAKE_WIDER = "\n".join(
    (
        "entry 80 k 0.1",
        "filter 0.4 kPa at 0.1 kg/s, 0.5 kg, “Cotton cone, low in the bumper”",
        "reducer 76 to 70 x 60, silicone, 3 mm wall, 2 clamps",
        "meter 0.35 kPa at 0.1 kg/s bore 70, re-used, “original housing, until it is tuned”",
        "reducer 70 to 76 x 60, silicone, 3 mm wall, 2 clamps",
        "pipe 76 x 320, aluminium, 1.6 mm wall, 1 coupler at 160, 2 clamps at 145 and 175",
        "bend 76 90° r 90, aluminium, 1.6 mm wall",
        "reducer 76 to 62 x 70, silicone, 3 mm wall, 2 clamps",
    )
)
EXHAUST = "\n".join(
    (
        "pipe 50 x 420",
        "silencer 3.2 kPa at 0.1 kg/s 650 °C, 3.9 kg, “catalyst”",
        "pipe 48 x 1150, 1 hanger at 900",
        "silencer 2.4 kPa at 0.1 kg/s 450 °C, 4.6 kg, “mid box”",
        "bend 48 60° r 90",
        "bend 48 60° r 90, 1 hanger",
        "pipe 48 x 520",
        "silencer 3.6 kPa at 0.1 kg/s 380 °C, 6.2 kg, “rear box”, 2 hangers",
        "pipe 45 x 160",
    )
)
EXHAUST_WIDER = "\n".join(
    (
        "pipe 50 x 420, re-used",
        "silencer 3.2 kPa at 0.1 kg/s 650 °C, 3.9 kg, re-used, “catalyst”",
        "reducer 50 to 60 x 60, stainless, 1 clamp at 50",
        "pipe 60 x 1350, stainless, 2 hangers at 180 and 1240",
        "bend 60 60° r 110, stainless",
        "bend 60 60° r 110, stainless, 1 clamp at 100",
        "pipe 60 x 520, stainless, 1 hanger at 400",
        "silencer 1.6 kPa at 0.1 kg/s 380 °C, 4.1 kg, 2 hangers at 0 and 0, 1 clamp at 0, “Quarry straight-through”",
        "pipe 60 x 160, stainless",
    )
)
HATCH_LINES = (
    ("Cotton cone", "air filter bore 76 mm 0.4 kPa at 0.1 kg/s, 0.5 kg, 44, in stock, Harrow Gate Motorsport"),
    ("Long pipe", "intake pipe 76 mm x 320 aluminium, 0.5 kg, 39, 1 week, Harrow Gate Motorsport"),
    ("Eighty housing", "airflow meter housing 80 mm, 0.3 kg, 58, 2 weeks, Tip Street Yard"),
    ("Fell T-bolts", "clamps t-bolt 76 mm, set of 4, 22, in stock, Nook Lane Wheels"),
    (
        "Quarry straight-through",
        "silencer 60 mm x 450 1.6 kPa at 0.1 kg/s, −2.1 kg, 148, 2 weeks, Harrow Gate Motorsport",
    ),
    ("Quarry mid-pipe", "mid-pipe 60 mm x 1350 stainless, 0.6 kg, 112, 2 weeks, Harrow Gate Motorsport"),
    ("Plain tips", "tail tips 60 mm overlap 25, 0.4 kg, 24, in stock, Nook Lane Wheels"),
    ("Fell fast-road", "brake pads fast road, 62, 1 week, Harrow Gate Motorsport"),
    ("Fresh fluid", "brake fluid DOT 4 1 L dry 280, 14, in stock, Nook Lane Wheels"),
    ("Short lever", "shifter solid throw 70 %, 0.4 kg, 88, 2 weeks, Harrow Gate Motorsport"),
)
ROADSTER_LINES = (
    (
        "Full-width core",
        "radiator 660x325x36 2 rows top port right lower port left, 1.8 kg, 176, 2 weeks, Harrow Gate Motorsport",
    ),
    ("Eighty-seven", "thermostat 87 °C, 16, in stock, Nook Lane Wheels"),
    ("Strong cap", "radiator cap 110 kPa, 13, in stock, Nook Lane Wheels"),
    ("Winter mix", "coolant 5 L 50 %, 21, in stock, Nook Lane Wheels"),
    ("Nine-amp fan", "fan 305 mm 9 A, 1.4 kg, 68, 1 week, Harrow Gate Motorsport"),
)
FOUR_LINES = (
    ("Four-three", "axle gears 4.30 43/10 teeth, 245, 3 weeks, Tip Street Yard"),
    ("Four-six", "axle gears 4.60 46/10 teeth, 260, 3 weeks, Tip Street Yard"),
    ("Tow pads", "brake pads street, 54, in stock, Nook Lane Wheels"),
    ("Big front discs", "discs 280x24 vented pair, 7.4 kg, 118, 1 week, Tip Street Yard"),
)


def load_engines(user: Any, today: date) -> None:
    """Three engines and what is known of them."""
    cars = {name: Car.objects.get(owner=user, nickname__startswith=name) for name in ("Tarn", "Gannel", "Strath")}
    for name, lines in (("Tarn", HATCH_LINES), ("Gannel", ROADSTER_LINES), ("Strath", FOUR_LINES)):
        for part, line in lines:
            add_line(cars[name], user, parse_line(line), part, line)
    _hatch(cars["Tarn"], user, today)
    _roadster(cars["Gannel"], user, today)
    set_brakes(
        cars["Strath"],
        {"front_rotor_kg": 5.6, "rear_rotor_kg": None, "from_kmh": 90.0, "deceleration_g": 0.6, "load_kg": 620.0},
    )


def _hatch(car: Car, user: Any, today: date) -> None:
    """A larger intake kept on the old housing until the tuning date; an exhaust after which one cruise speed drones."""
    set_engine(
        car,
        {
            "displacement_l": 1.8,
            "cylinders": 4,
            "ve_pct": 92.0,
            "manifold_ratio": 1.0,
            "meter_mm": 70.0,
            "cruise_rpm": 2700.0,
            "gas_in_c": 760.0,
            "gas_out_c": 360.0,
            "sound_limit_db": 98.0,
        },
    )
    set_brakes(
        car, {"front_rotor_kg": 6.3, "rear_rotor_kg": 4.1, "from_kmh": 120.0, "deceleration_g": 0.9, "load_kg": 0.0}
    )
    build = Build.objects.get(car=car, in_hand=True)
    build.tuning_on, build.first_drive_on = today + timedelta(days=30), today + timedelta(days=33)
    build.save(update_fields=["tuning_on", "first_drive_on"])
    keep_run(car, user, None, "intake", INTAKE, 1)
    keep_run(car, user, build, "intake", INTAKE_WIDER, 1)
    keep_run(car, user, None, "exhaust", EXHAUST, 1)
    keep_run(car, user, build, "exhaust", EXHAUST_WIDER, 1)
    for when, peak, name, days in (
        ("before", 88.0, "Third gear, as first recorded", 38),
        ("after", 91.5, "Third gear, wider exhaust", 9),
    ):
        _log(
            car=car,
            kind="pull",
            name=name,
            when=when,
            raw=streams.pulls_csv(peak, 5900.0, 5 + days),
            source=streams.BRAKE,
            taken_on=today - timedelta(days=days),
            asked={
                "standard": "SAE J1349",
                "temperature_c": 16.0 if when == "before" else 12.0,
                "pressure_kpa": 99.6,
                "humidity_pct": 60.0,
                "window_rpm": 200.0,
            },
        )
    for when, droning, name, days in (
        ("before", False, "Cruise, as first recorded", 38),
        ("after", True, "Cruise, wider exhaust", 9),
    ):
        _log(
            car=car,
            kind="sound",
            name=name,
            when=when,
            raw=streams.recording(2700.0, 4, droning, days),
            source=streams.RECORDER,
            taken_on=today - timedelta(days=days),
            asked={"rpm": 2700.0, "place": "passenger's headrest"},
        )


def _roadster(car: Car, user: Any, today: date) -> None:
    """A radiator that was air-locked at first; a bent support was found under it."""
    set_engine(
        car,
        {
            "displacement_l": 1.6,
            "cylinders": 4,
            "ve_pct": 95.0,
            "manifold_ratio": 1.0,
            "meter_mm": None,
            "cruise_rpm": 3100.0,
            "gas_in_c": 780.0,
            "gas_out_c": 380.0,
            "sound_limit_db": None,
        },
    )
    set_cooling(
        car,
        {
            "cap_kpa": 90.0,
            "glycol_pct": 45.0,
            "coolant_c": 108.0,
            "coldest_c": -12.0,
            "width_mm": 350.0,
            "height_mm": 325.0,
            "depth_mm": 16.0,
            "tilt_deg": None,
            "top_port": "right",
            "lower_port": "left",
        },
    )
    Reading.objects.create(
        car=car,
        outfit=Outfit.objects.get(car=car, is_baseline=True),
        code="core_space",
        values=[702.0, 346.0, 61.0],
        typed="702 / 346 / 61",
        method="rule",
        uncertainty=default_uncertainty("core_space", "rule"),
        who="Ina",
        taken_on=today - timedelta(days=7),
    )
    for name, run, days in (("Filled flat, heater shut", "locked", 6), ("Nose up, heater on", "bleeds", 5)):
        _log(
            car=car,
            kind="bleed",
            name=name,
            when="after",
            raw=streams.bleed_csv(streams.RUNS[run], car.pk % 97),
            source=streams.HOSES,
            taken_on=today - timedelta(days=days),
            asked={},
        )

    _wide_core(car, user, today - timedelta(days=6))


def _wide_core(car: Car, user: Any, on: date) -> None:
    """The sheet of the new radiator: its trial fit showed a bent support, a snag that was weighed and straightened."""
    build = Build.objects.get(car=car)
    core = Part.objects.get(car=car, family="radiator")
    put_part(
        build,
        user,
        core,
        {"position": "A", "quantity": 1, "state": "arrived"},
        {"brackets": "without", "supports": "bent and straightened"},
    )
    job = make_job(open_file(user, car.pk), build, user, ("radiator",))
    snag = log_snag(
        job,
        user,
        {
            "step": job.steps.filter(title__startswith="New core laid in").first(),
            "kind": "hidden_damage",
            "found_on": on,
            "hours": 1.5,
            "what": "Right support bent 9 mm forward: old jacking; the core stands off its rubber",
        },
    )
    ways = {
        "use": {"note": "shims under the core: it would crack at the first kerb", "hours": 0.2},
        "repair": {
            "note": "pulled straight over a bar, measured against the left one, painted",
            "money_minor": 0,
            "hours": 1.5,
            "days": 0,
        },
        "replace": {
            "note": "support cut from a donor, welded by a qualified welder",
            "money_minor": 9500,
            "hours": 4.0,
            "days": 14,
        },
    }
    weigh_ways(snag, user, ways, "repair")
    change_snag(
        snag,
        user,
        {"cure": "Straightened to within 1 mm of the left one and painted", "cost_minor": 600, "closed_on": on},
    )
    for step in job.steps.all():
        finish_step(step, user)
    finish_job(open_file(user, car.pk), job, user, car.odometer_km or 0)
    Job.objects.filter(pk=job.pk).update(done_on=on)


def load_coasts(car: Car, today: date) -> None:
    """The position logger before and after the flat panel: less than was hoped, and the sheet says so."""
    asked = {"ways": "heading", "mass_kg": 1295.0, "temperature_c": 9.0, "pressure_kpa": 99.4, "humidity_pct": 70.0}
    for when, cda, name, days in (
        ("before", 0.67, "Airfield, as first recorded", 20),
        ("after", 0.66, "Airfield, flat panel", 3),
    ):
        _log(
            car=car,
            kind="coast",
            name=name,
            when=when,
            raw=streams.coast_csv(cda, 1295.0, 40 + days),
            source=streams.POSITION,
            taken_on=today - timedelta(days=days),
            asked=asked,
        )


#: a gate across the loop of the simulated logger, on the drawing
GATE = "560 210 719 210"


def load_laps(car: Car, today: date) -> None:
    """Two mornings on the same loop, before and after: five laps each that count, one with a gap."""
    for when, lap_s, days in (("before", 47.0, 24), ("after", 46.1, 5)):
        _log(
            car=car,
            kind="run",
            name=f"Airfield loop, {when}",
            when=when,
            raw=streams.laps_csv(lap_s, 60 + days),
            source=streams.POSITION,
            taken_on=today - timedelta(days=days),
            asked={},
        )
        log = Log.objects.filter(car=car, kind="run", when=when).latest("pk")
        asked = {"start": [float(one) for one in GATE.split()], "least_s": 10.0, "from_kmh": 50.0}
        log.found |= found_in(log, asked | {"finish": None, "to_kmh": None, "slope_pct": None})
        log.save()


def _log(
    car: Car, kind: str, name: str, when: str, raw: bytes, source: str, taken_on: date, asked: Mapping[str, Any]
) -> None:
    """A file of a simulator, read and kept as one that was typed in."""
    log = Log(car=car, kind=kind, name=name, when=when, source=source, taken_on=taken_on, who="Ina")
    if kind == "sound":
        log.found, log.asked = heard_of(io.BytesIO(raw)), dict(asked)
    else:
        table = read_table(raw.decode())
        columns = {one.quantity: one.taken(one.quantity) for one in table.columns if one.quantity}
        named = {one.quantity: str(place) for place, one in enumerate(table.columns) if one.quantity} | {
            f"{one.quantity}_unit": one.unit for one in table.columns if one.quantity
        }
        log.found, log.asked = _found(kind, columns, asked), {**named, **asked}
    log.file.save("log", ContentFile(raw), save=False)
    log.save()


def _found(kind: str, columns: Any, asked: Any) -> dict[str, Any]:
    """What a log of a kind holds, as it is kept."""
    find = LOG_KINDS[kind].found
    assert find is not None  # recordings go another way
    return find(columns, asked).kept
