"""What is worked out at once is what is worked out one by one.

Poses on links, the nearest of all obstacles, one point of an outline.
"""

import unittest
from dataclasses import replace

import numpy as np

from proofs.clearance import random_car
from rimcore.well.solid.cloud import Cloud
from rimcore.well.solid.follow import Follow, _shares
from rimcore.well.solid.polygon import nearest, signed_distance
from rimcore.well.solid.wheel_plane import Thing, Well, mover_of
from rimcore.wheels.outline import outline
from rimcore.wheels.tyre import parse_tyre
from rimcore.wheels.wheel import parse_wheel

STEER, TRAVEL = np.linspace(-34.0, 36.0, 9), np.linspace(-60.0, 70.0, 7)


def drawn(dice):
    """A random corner: its outline, well and obstacles."""
    car = random_car(dice)
    wheel = parse_wheel(car["wheel"])
    well = Well(
        centre_mm=car["spacer_mm"] - wheel.offset_mm,
        camber_deg=car["camber_deg"],
        camber_gain_deg_per_mm=car["camber_gain_deg_per_mm"],
        bump_mm=car["bump_mm"],
        droop_mm=car["droop_mm"],
        steer_out_deg=car["steer_out_deg"],
        steer_in_deg=car["steer_in_deg"],
        kpi_deg=car["kpi_deg"],
        caster_deg=car["caster_deg"],
        kingpin_inboard_mm=car["kingpin_inboard_mm"],
    )
    things = [Thing(one["name"], "body", np.array(one["points_mm"]), one["radius_mm"]) for one in car["obstacles"]]
    return outline(wheel, parse_tyre(car["tyre"])).polygon(), well, things


def links(dice):
    """What links might leave: a few degrees and millimetres, over the whole table."""
    shape = (len(TRAVEL), len(STEER), 3)
    camber = np.linspace(1.0, -2.0, len(TRAVEL))
    return Follow(STEER, TRAVEL, camber, dice.uniform(-0.08, 0.08, shape), dice.uniform(-9.0, 9.0, shape))


class AtOnce(unittest.TestCase):
    def setUp(self):
        self.dice = np.random.default_rng(20261201)

    def test_every_pose_on_links_is_the_pose_taken_alone(self):
        """Single precision over the grid: right within 0.001 mm."""
        for _ in range(20):
            _, well, things = drawn(self.dice)
            mover = mover_of(replace(well, follow=links(self.dice)), things)
            grid = mover.over_grid(STEER, TRAVEL)
            alone = mover.across_and_radius(STEER[None, :, None], TRAVEL[:, None, None])
            for whole, one in zip(grid, alone, strict=True):
                self.assertLess(np.abs(whole - one).max(), 1e-3)

    def test_the_lowest_is_the_least_of_each(self):
        for _ in range(60):
            shape, well, things = drawn(self.dice)
            cloud = Cloud(well, things)
            each = [low.gap_mm for low in cloud.lows(shape, well.centre_mm)]
            gap, whose = cloud.lowest(shape, well.centre_mm)
            self.assertAlmostEqual(gap, min(each), delta=0.02)
            self.assertAlmostEqual(each[whose], min(each), delta=0.02)

    def test_one_point_is_as_far_as_among_many(self):
        shape, _, _ = drawn(self.dice)
        points = np.column_stack([self.dice.uniform(-250, 250, 300), self.dice.uniform(1, 450, 300)])
        many = signed_distance(shape, points)
        for point, distance in zip(points, many, strict=True):
            found, foot = nearest(shape, tuple(point))
            self.assertAlmostEqual(found, distance, delta=2e-4)
            self.assertAlmostEqual(np.hypot(*(point - foot)), abs(found), places=6)

    def test_the_series_of_a_small_turn_is_sine_and_cosine(self):
        angle = np.linspace(1e-3, 0.2236, 500)
        for found, exact in zip(
            _shares(angle**2), (np.sin(angle) / angle, (1 - np.cos(angle)) / angle**2), strict=True
        ):
            self.assertLess(np.abs(found - exact).max(), 1e-9)


if __name__ == "__main__":
    unittest.main()
