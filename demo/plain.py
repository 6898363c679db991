"""The same work in plain Python loops, for the ratios of ./tally bench."""

from __future__ import annotations

import itertools
import math
import random
from copy import copy
from datetime import date, timedelta
from typing import Any

import numpy as np
from numpy.typing import NDArray
from scipy.optimize import root
from scipy.spatial.transform import Rotation

from garage.car.models import Car
from garage.car.parts import Part, Tyre, Wheel
from rimcore.aero.coastdown import Run
from rimcore.choosing.compose import Option, Slot, Wish
from rimcore.mass.lighten import Item
from rimcore.planning.network import Calendar, DaysOf, PlanPart, Task
from rimcore.planning.schedule import Plan
from rimcore.proof.positions import Gate
from rimcore.ride.points import LAYOUTS, HardPoints
from rimcore.ride.points import Wheel as WheelAt
from rimcore.well.rank.rank import Pair, Place
from rimcore.well.solid.wheel_plane import Thing, Well
from rimcore.wheels.fitted import Fitted
from rimcore.wheels.outline import outline
from rimcore.wheels.tyre import parse_tyre
from rimcore.wheels.wheel import parse_wheel

INPUTS = {
    "gearing": '{"tyre": "31x10.50R15", "gears": [3.59, 2.02, 1.38, 1.0, 0.86], "axle_ratio": 4.1, "speed_kmh": 110, "rpm": 3000}',
    "quantity": '{"text": "7 lb 4 oz", "kind": "weight"}',
    "tyre": '{"size": "225/45R17 91W", "rim_width_in": 8}',
    "wheel": '{"spec": "17x8 +40 5x108 63.4"}',
    "swap": '{"from": {"wheel": "16x6.5 +50", "tyre": "205/55R16"}, "to": {"wheel": "17x8 +40", "tyre": "225/45R17"}}',
    "gap": (
        '{"present": {"wheel": "16x6.5 +50", "tyre": "205/55R16"}, "station": {"place": "damper", "height_mm": 262}, "gap_mm": 15,'
        ' "part": {"wheel": "17x8 +40", "tyre": "225/45R17"}}'
    ),
}


def distance_case(count: int) -> tuple[NDArray[np.float64], NDArray[np.float64]]:
    """An outline and points around it, shape (count, 2)."""
    polygon = outline(parse_wheel("17x8 +40"), parse_tyre("225/45R17")).polygon()
    points = np.random.default_rng(7).uniform([-200, 100], [200, 400], (count, 2))
    return polygon, points


def signed_distance(polygon: list[list[float]], points: list[list[float]]) -> list[float]:
    """Signed distance of each point, one edge after the other."""
    return [_one(polygon, y, r) for y, r in points]


def _one(polygon: list[list[float]], y: float, r: float) -> float:
    best, inside = math.inf, False
    for (y1, r1), (y2, r2) in zip(polygon, polygon[1:] + polygon[:1], strict=True):
        dy, dr = y2 - y1, r2 - r1
        along = max(0.0, min(1.0, ((y - y1) * dy + (r - r1) * dr) / max(dy * dy + dr * dr, 1e-30)))
        best = min(best, math.hypot(y - y1 - along * dy, r - r1 - along * dr))
        if (r1 > r) != (r2 > r) and y < y1 + (r - r1) / (r2 - r1) * dy:
            inside = not inside
    return -best if inside else best


def sweep_case() -> tuple[NDArray[np.float64], Well, list[Thing]]:
    """A front corner with twelve obstacles of eight points."""
    rng = np.random.default_rng(3)
    things = []
    for place in range(12):
        angle, radius = rng.uniform(-1.9, 1.9), rng.uniform(400, 450)
        base = np.array([radius * math.sin(angle), rng.uniform(-190, 80), radius * math.cos(angle) + 60])
        things.append(Thing(f"obstacle {place}", "body", base + rng.uniform(-15, 15, (8, 3))))
    polygon = outline(parse_wheel("17x8 +40"), parse_tyre("225/45R17")).polygon()
    return (
        polygon,
        Well(
            centre_mm=-40.0,
            camber_deg=-1.0,
            camber_gain_deg_per_mm=-0.01,
            bump_mm=70.0,
            droop_mm=60.0,
            ride_drop_mm=10.0,
            steer_out_deg=36.0,
            steer_in_deg=34.0,
            kpi_deg=12.0,
            caster_deg=5.0,
            kingpin_inboard_mm=70.0,
        ),
        things,
    )


def another(outline_mm: NDArray[np.float64]) -> NDArray[np.float64]:
    """The same outline larger by a hair, so that nothing of it is known yet."""
    return np.asarray(outline_mm * (1.0 + 1e-9 * next(_turn)))


_turn = itertools.count(1)


def ranking_case(count: int) -> tuple[Place, list[Pair]]:
    """A measured corner and a list of different wheels and tyres."""
    _, well, things = sweep_case()
    present = Fitted(parse_wheel("17x8 +40"), parse_tyre("225/45R17"))
    pairs = []
    for k in range(count):
        wheel = parse_wheel(f"{(16, 17, 18)[k % 3]}x{6.5 + 0.5 * (k // 3 % 7)} {15 + k // 21 % 40:+d}")
        tyre = parse_tyre(
            f"{195 + 10 * (k // 840 % 8)}/{(50, 45, 40)[k % 3] - 5 * (k // 6720 % 3)}R{(16, 17, 18)[k % 3]}"
        )
        pairs.append(Pair(wheel, tyre, mass_kg=15.0 + k % 70 / 10, price=200.0 + k % 300))
    return Place(present, well, tuple(things)), pairs


def shelf_case(wheels: int, tyres: int) -> tuple[list[Wheel], list[Tyre]]:
    """A long shortlist that stands in no database."""
    long = [
        Wheel(
            diameter_in=(16, 17, 18)[k % 3],
            width_in=6.5 + 0.5 * (k // 3 % 7),
            offset_mm=15 + k * 7 % 45,
            seat="cone 60",
        )
        for k in range(wheels)
    ]
    sizes = [
        (width, aspect, rim)
        for width in range(175, 275, 10)
        for aspect in (35, 40, 45, 50, 55, 60)
        for rim in (16, 17, 18)
    ]
    rubber = [
        Tyre(family="tyre", size=f"{width}/{aspect}R{rim}", rim_diameter_in=rim, section_width_mm=width)
        for width, aspect, rim in (sizes[k * 7 % len(sizes)] for k in range(tyres))
    ]
    return long, rubber


def sweep_poses(
    polygon: list[list[float]], well: Well, points: list[list[float]], poses: list[tuple[float, float]]
) -> list[float]:
    """Smallest gap at each pose, one point and one edge after the other."""
    kx, ky, kz = (-math.tan(math.radians(well.caster_deg)), -math.tan(math.radians(well.kpi_deg)), 1.0)
    length = math.sqrt(kx * kx + ky * ky + kz * kz)
    kx, ky, kz = kx / length, ky / length, kz / length
    found = []
    for steer, travel in poses:
        cos, sin = math.cos(math.radians(-steer)), math.sin(math.radians(-steer))
        camber = math.radians(well.camber_deg + well.camber_gain_deg_per_mm * travel)
        least = math.inf
        for px, py, pz in points:
            x, y, z = px, py + well.kingpin_inboard_mm, pz - travel
            along = (kx * x + ky * y + kz * z) * (1 - cos)
            vx = x * cos + (ky * z - kz * y) * sin + kx * along
            vy = y * cos + (kz * x - kx * z) * sin + ky * along - well.kingpin_inboard_mm
            vz = z * cos + (kx * y - ky * x) * sin + kz * along
            across = math.cos(camber) * vy - math.sin(camber) * vz - well.centre_mm
            up = math.sin(camber) * vy + math.cos(camber) * vz
            least = min(least, _one(polygon, across, math.hypot(vx, up)))
        found.append(least)
    return found


def links_case() -> tuple[HardPoints, list[float], list[float]]:
    """A double wishbone, 61 travels and 41 racks [mm]."""
    made = {
        "upper_front": (120.0, -330.0, 190.0),
        "upper_rear": (-130.0, -340.0, 180.0),
        "upper_joint": (-12.0, -95.0, 230.0),
        "lower_front": (160.0, -420.0, -110.0),
        "lower_rear": (-180.0, -410.0, -105.0),
        "lower_joint": (5.0, -75.0, -130.0),
        "rod_inner": (-130.0, -390.0, -70.0),
        "rod_outer": (-120.0, -85.0, -75.0),
    }
    points = HardPoints(LAYOUTS["wishbone"], made, WheelAt(-30.0, 310.0, -1.0, 0.1), None, 750.0)
    return points, np.linspace(-80, 80, 61).tolist(), np.linspace(-70, 70, 41).tolist()


def pose_by_pose(points: HardPoints, poses: list[tuple[float, float]]) -> list[Any]:
    """The same poses, each by itself: lengths of the links with Euler angles, from the measured pose."""
    outer = np.array([points.points[one] for one, _ in points.layout.links])
    inner = np.array([points.points[other] for _, other in points.layout.links])
    wanted = np.linalg.norm(outer - inner, axis=1)

    def off(x: NDArray[np.float64], travel: float, rack: float) -> NDArray[np.float64]:
        here = Rotation.from_euler("xyz", x[3:]).apply(outer) + x[:3]
        at = inner.copy()
        at[-1, 1] += rack
        return np.asarray(np.r_[np.linalg.norm(here - at, axis=1) - wanted, x[2] - travel])

    return [root(off, np.zeros(6), args=pose).x for pose in poses]


def pull_log(rows: int) -> str:
    """A log of four pulls, as text."""
    draw = np.random.default_rng(4)
    rpm = np.tile(np.linspace(2000.0, 6500.0, rows // 4), 4)
    power = rpm / 80.0 + draw.normal(0.0, 0.8, len(rpm))
    return "time [s],rpm,power [kW]\n" + "\n".join(
        f"{k / 50:.2f},{r:.1f},{p:.2f}" for k, (r, p) in enumerate(zip(rpm, power, strict=True))
    )


def recording(seconds: float, rate: int = 44_100) -> bytes:
    """A recording of noise and a tone."""
    from rimcore.breathing.spectra import wav_of

    t = np.arange(int(seconds * rate)) / rate
    return wav_of(0.1 * np.sin(2 * np.pi * 90.0 * t) + np.random.default_rng(5).normal(0.0, 0.02, len(t)), rate)


def coast_runs(count: int, samples: int) -> list[Run]:
    """Coast-downs both ways with noise of 0.2 km/h."""
    draw, found = np.random.default_rng(3), []
    time = np.linspace(0.0, 60.0, samples)
    for k in range(count):
        way, v, rows = 1 if k % 2 == 0 else -1, 33.0, []
        step = time[1] - time[0]
        for _ in time:
            rows.append(v)
            u = v + way * 1.2
            v -= step * (175.0 + 0.41 * u * abs(u)) / (1280.0 * 1.04)
        found.append(Run(way, time, np.array(rows) + draw.normal(0.0, 0.2 / 3.6, samples)))
    return found


def light_items(count: int) -> list[Item]:
    """Items with masses, money and hours as a person writes them."""
    draw = np.random.default_rng(8)
    return [
        Item(
            f"item {k}",
            round(float(draw.uniform(0.2, 15.0)), 2),
            round(float(draw.uniform(0.0, 2.0)), 2),
            float(draw.integers(0, 200)),
            round(float(draw.uniform(0.1, 4.0)), 1),
        )
        for k in range(count)
    ]


def plan_case(tasks: int = 60, parts: int = 40, draws: int = 4000) -> Plan:
    """A build with so many tasks and parts: some given away, some that want a helper, parts that wait for tasks."""
    today = date(2027, 5, 3)
    rows = []
    for k in range(tasks):
        away = k % 12 == 7
        rows.append(
            Task(
                f"t{k}",
                None if away else (0.5 + k % 3, 1.0 + k % 3, 3.0 + k % 5),
                (1.0, 2.0, 6.0) if away else None,
                after=tuple(f"t{one}" for one in {k - 1 - k % 4, k - 6} if 0 <= one < k),
                parts=(f"p{k % parts}",) if parts and k % 3 else (),
                helper=k % 15 == 4,
                dry=k % 11 == 3,
                wait_days=1 if k % 10 == 9 else 0,
            )
        )
    bought = tuple(
        PlanPart(f"p{k}", (1.0 + k % 3, 4.0 + k % 11, 15.0 + k % 23), wrong_pct=15.0 if k % 8 == 0 else 0.0)
        for k in range(parts)
    )
    week = Calendar((0.0, 2.0, 2.0, 2.0, 0.0, 6.0, 5.0), helper=DaysOf(frozenset({5, 6})), wet_pct=20.0)
    return Plan(today, week, tuple(rows), bought, today + timedelta(days=75), draws=draws)


def long_list(car: Car) -> list[str]:
    """Makes the list of a car long: 60 wheels, 40 tyres, 30 other parts of five kinds, which are given."""
    chance = random.Random(3)
    listed = [one for one in Part.objects.filter(car=car, listed=True) if one.fault is None]
    kinds = sorted({one.family for one in listed if one.family not in ("wheel", "tyre")})[:5]
    for families, count in ((["wheel"], 60), (["tyre"], 40), (kinds, 30)):
        here = [one for one in listed if one.family in families]
        for _ in range(count - len(here)):
            part = copy(chance.choice(here))
            part.pk, part.name = None, f"{part.name} {chance.randrange(10**6)}"
            part._state.adding = True
            part.price_minor, part.lead_days = chance.randrange(8000, 45000, 100), chance.randrange(2, 40)
            if part.family == "wheel":
                part.offset_mm = (part.offset_mm or 0.0) + chance.randrange(-10, 11)
            part.save()
    return kinds


def compose_case(groups: int) -> Wish:
    """Twelve slots of forty options, and so many groups of them that don't go together; drawn by one seed."""
    chance = np.random.default_rng(1)
    slots = tuple(
        Slot(
            f"s{k}",
            tuple(
                Option(
                    f"{k}-{n}",
                    money=float(chance.integers(20, 800)),
                    kg=round(float(chance.uniform(-6, 4)), 1),
                    hours=float(chance.integers(0, 3)),
                    lead_days=float(chance.integers(0, 30)),
                    score=float(chance.integers(0, 6)),
                )
                for n in range(40)
            ),
            k % 3 != 0,
        )
        for k in range(12)
    )
    ids = [option.id for slot in slots for option in slot.options]
    apart = tuple(
        tuple(ids[n] for n in chance.choice(len(ids), 3 if k % 3 else 2, replace=False)) for k in range(groups)
    )
    limits = {"money": 3000.0, "hours": 12.0, "lead_days": 21.0}
    return Wish(slots, apart, limits=limits, least={"score": 25.0}, goal="kg")


def laps_case(count: int) -> tuple[NDArray[np.float64], Gate]:
    """A log of circles at ten positions a second, and a gate across them."""
    at = np.arange(count) * 0.1
    turn = 2.0 * np.pi * at / 60.0
    samples = np.column_stack([at, 50.3 + 0.0018 * np.sin(turn), 8.5 + 0.0028 * np.cos(turn)])
    return samples, ((50.3, 8.5024), (50.3, 8.5032))
