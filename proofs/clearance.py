"""No false clear: `clearance` against an independent branch and bound over random cars.

    python -m proofs.clearance [CARS] [SEED]

The wheel is carried forward with SciPy's rotations and measured with Shapely; nothing of the core's search is used.
A third of the cars have a steering axis that is not given: there a random usual axis must keep what is said of all.
"""

from __future__ import annotations

import json
import math
import sys
from typing import Any

import numpy as np

from rimcore.calc import answer
from rimcore.registry import CALCULATIONS
from rimcore.well.judge.unknown import USUAL
from rimcore.well.solid.wheel_plane import Well
from rimcore.well.tests.test_clearance import reference
from rimcore.wheels.outline import outline
from rimcore.wheels.tyre import parse_tyre
from rimcore.wheels.wheel import parse_wheel

#: what the reference may be under a margin before it counts [mm]
SLACK_MM = 0.1


def random_car(rng: np.random.Generator) -> dict[str, Any]:
    """Keys of a calculation: a corner with one to three obstacles of a few points."""
    obstacles = []
    for k in range(rng.integers(1, 4)):
        angle, radius = rng.uniform(-2.0, 2.0), rng.uniform(335, 430)
        base = np.array(
            [radius * math.sin(angle), rng.uniform(-210, 120), radius * math.cos(angle) + rng.uniform(0, 60)]
        )
        points = base + rng.uniform(-15, 15, (rng.integers(1, 5), 3))
        obstacles.append(
            {
                "name": str(k),
                "frame": "body",
                "points_mm": points.tolist(),
                "radius_mm": float(rng.choice([0, 0, 4, 25])),
            }
        )
    return {
        "wheel": f"17x{rng.choice([7, 7.5, 8, 9])} {rng.integers(15, 55):+d}",
        "tyre": str(rng.choice(["225/45R17", "205/50R17", "245/40R17"])),
        "spacer_mm": float(rng.choice([0, 5])),
        "camber_deg": rng.uniform(-3, 1),
        "bump_mm": rng.uniform(20, 80),
        "droop_mm": rng.uniform(20, 80),
        "steer_out_deg": rng.uniform(20, 40),
        "steer_in_deg": rng.uniform(20, 40),
        "ride_drop_mm": rng.uniform(-10, 20),
        "camber_gain_deg_per_mm": rng.uniform(-0.03, 0.005),
        "kpi_deg": rng.uniform(0, 15),
        "caster_deg": rng.uniform(0, 9),
        "kingpin_inboard_mm": rng.uniform(20, 110),
        "obstacles": obstacles,
        "grid": {"steer": 3, "travel": 3},
    }


def least(shape: np.ndarray, well: Well, points: np.ndarray, radius: float, under: float) -> float:
    """Smallest gap [mm], found by branch and bound; stops as soon as nothing can lie under ``under``."""
    half = np.array([(well.steer_in_deg + well.steer_out_deg) / 2, (well.bump_mm + well.droop_mm) / 2])
    middle = np.array([(well.steer_out_deg - well.steer_in_deg) / 2, (well.bump_mm - well.droop_mm) / 2])
    far = float(np.linalg.norm(points, axis=1).max()) + abs(well.kingpin_inboard_mm) + max(well.bump_mm, well.droop_mm)
    loose_s = math.radians(1.0) * far
    loose_t = 1.0 + abs(math.radians(well.camber_gain_deg_per_mm)) * far
    count = 12
    steps = (np.arange(count) + 0.5) / count * 2 - 1
    cells = np.array([(s, t) for s in steps for t in steps]) * half + middle
    half = half / count
    best = math.inf
    for _ in range(9):
        gaps = reference(shape, well, points, cells[:, 0], cells[:, 1]).min(axis=1) - radius
        best = min(best, float(gaps.min()))
        keep = gaps - loose_s * half[0] - loose_t * half[1] < min(under, best)
        cells = cells[keep]
        if not len(cells) or best < under - SLACK_MM:
            break
        half = half / 2
        cells = (cells[:, None, :] + np.array([(-1, -1), (-1, 1), (1, -1), (1, 1)]) * half).reshape(-1, 2)
    return best


def main(cars: int = 10000, seed: int = 1) -> int:
    rng, false, states, checked = np.random.default_rng(seed), 0, {"clear": 0, "tight": 0, "hit": 0, "unmeasured": 0}, 0
    for number in range(cars):
        car = random_car(rng)
        unknown = [name for name in USUAL if rng.random() < 0.5] if number % 3 == 0 else []
        given = {name: value for name, value in car.items() if name not in unknown}
        found, good = answer(CALCULATIONS["clearance"], json.dumps(given))
        assert good, found
        real = car | {name: rng.uniform(*USUAL[name]) for name in unknown}
        wheel = parse_wheel(car["wheel"])
        shape = outline(wheel, parse_tyre(car["tyre"])).polygon()
        well = Well(
            centre_mm=car["spacer_mm"] - (wheel.offset_mm or 0.0),
            camber_deg=real["camber_deg"],
            camber_gain_deg_per_mm=real["camber_gain_deg_per_mm"],
            bump_mm=real["bump_mm"],
            droop_mm=real["droop_mm"],
            ride_drop_mm=0.0,
            steer_out_deg=real["steer_out_deg"],
            steer_in_deg=real["steer_in_deg"],
            kpi_deg=real["kpi_deg"],
            caster_deg=real["caster_deg"],
            kingpin_inboard_mm=real["kingpin_inboard_mm"],
        )
        for row, one in zip(found["obstacles"], car["obstacles"], strict=True):
            states[row["state"]] += 1
            if row["state"] != "clear":
                continue
            checked += 1
            true = least(shape, well, np.array(one["points_mm"]), one["radius_mm"], 10.0)
            if true < 10.0 - SLACK_MM:
                false += 1
                print(
                    f"car {number}, obstacle {one['name']}: clear, but {true:.2f} mm; said {row['gap_mm']:.2f}, {row['range_mm']}",
                    flush=True,
                )
        if number % 1000 == 999:
            print(f"{number + 1} cars, {states}, {checked} clear ones checked, {false} false", flush=True)
    print(f"{cars} cars: {states}; {checked} clear ones checked against the reference, {false} false")
    return 1 if false else 0


if __name__ == "__main__":
    sys.exit(main(*(int(word) for word in sys.argv[1:])))
