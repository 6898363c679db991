"""What rack spacers, longer arms and lower rod ends do: by the geometry that they change, and by what follows from it."""

import math
import unittest

import numpy as np

from rimcore.quantities.errors import BadInput
from rimcore.ride.curves import curves
from rimcore.ride.points import LAYOUTS, HardPoints, Wheel
from rimcore.steering.rack import Axle, rod_of, steered

POINTS = {
    "upper_front": (120.0, -330.0, 190.0), "upper_rear": (-130.0, -340.0, 180.0), "upper_joint": (-12.0, -95.0, 230.0), "lower_front": (160.0, -420.0, -110.0),
    "lower_rear": (-180.0, -410.0, -105.0), "lower_joint": (5.0, -75.0, -130.0), "rod_inner": (-120.0, -390.0, -70.0), "rod_outer": (-120.0, -85.0, -75.0),
}  # fmt: skip
CORNER = HardPoints(LAYOUTS["wishbone"], POINTS, Wheel(-30.0, 310.0, -1.0, 0.1), None, 750.0)


def turned(points, rack=40.0):
    return abs(float(steered(Axle(points, points, 2400.0, 1350.0), [rack]).left.steer_deg[0]))


class Moves(unittest.TestCase):
    def test_nothing_moved_is_the_same_corner(self):
        self.assertEqual(CORNER.racked(0.0, 0.0).points, CORNER.points)

    def test_a_spacer_takes_its_thickness_off_the_rod(self):
        """The inner joint goes outboard by 4 mm along a rod that lies nearly across: the rod shortens by its share of that."""
        found = rod_of(CORNER, CORNER.racked(0.0, 0.0, 4.0))
        self.assertAlmostEqual(found.change_mm, math.hypot(301.0, 5.0) - math.hypot(305.0, 5.0), places=9)

    def test_a_longer_arm_turns_the_wheel_less(self):
        """Steer for a rack's way goes about as one over the arm: 20 mm on about 118 mm make it 100 · 118 ÷ 138 = 86 %."""
        longer = CORNER.racked(0.0, 0.0, 0.0, 20.0)
        self.assertAlmostEqual(turned(longer, 10.0) / turned(CORNER, 10.0), 118 / 138, delta=0.02)
        moved = np.array(longer.points["rod_outer"]) - np.array(POINTS["rod_outer"])
        self.assertAlmostEqual(float(np.linalg.norm(moved)), 20.0)
        self.assertEqual(moved[2], 0.0)

    def test_a_lower_rod_end_changes_the_bump_steer_and_not_the_camber(self):
        lower = CORNER.racked(0.0, 0.0, 0.0, 0.0, 15.0)
        before, after = curves(CORNER, [0.0]), curves(lower, [0.0])
        self.assertGreater(abs(float(after.toe_rate[0] - before.toe_rate[0])), 1e-3)
        self.assertAlmostEqual(float(after.camber_rate[0]), float(before.camber_rate[0]), delta=1e-3)

    def test_points_that_can_not_be_are_refused(self):
        with self.assertRaises(BadInput):
            CORNER.racked(0.0, 0.0, 305.0, 0.0, -5.0)
