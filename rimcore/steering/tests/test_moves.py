"""What rack spacers, longer arms and lower rod ends do.

By the geometry that they change, and by what follows from it.
"""

import math
import unittest

import numpy as np
from scipy.optimize import brentq

from rimcore.quantities.errors import BadInput
from rimcore.ride.curves import curves, moved_to
from rimcore.ride.points import LAYOUTS, HardPoints, Wheel, five_points
from rimcore.ride.rods import as_built, with_rod
from rimcore.steering.rack import Axle, rod_of, steered

POINTS = {
    "upper_front": (120.0, -330.0, 190.0),
    "upper_rear": (-130.0, -340.0, 180.0),
    "upper_joint": (-12.0, -95.0, 230.0),
    "lower_front": (160.0, -420.0, -110.0),
    "lower_rear": (-180.0, -410.0, -105.0),
    "lower_joint": (5.0, -75.0, -130.0),
    "rod_inner": (-120.0, -390.0, -70.0),
    "rod_outer": (-120.0, -85.0, -75.0),
}
CORNER = HardPoints(LAYOUTS["wishbone"], POINTS, Wheel(-30.0, 310.0, -1.0, 0.1), None, 750.0)

STRUT = HardPoints(
    LAYOUTS["strut"],
    {
        "strut_top": (0, -160, 480),
        "strut_knuckle": (0, -110, 60),
        "lower_front": (40, -380, -110),
        "lower_rear": (-250, -390, -100),
        "lower_joint": (0, -70, -120),
        "rod_inner": (-120, -360, -60),
        "rod_outer": (-125, -80, -70),
    },
    Wheel(0.0, 300.0),
)
FIVE = HardPoints(
    LAYOUTS["five_link"],
    five_points(
        [
            [[120, -380, 160], [20, -90, 190]],
            [[-140, -370, 150], [-30, -95, 185]],
            [[140, -400, -110], [20, -70, -130]],
            [[-220, -390, -100], [-25, -75, -125]],
            [[-130, -380, -20], [-140, -85, -25]],
        ]
    ),
    Wheel(-30.0, 310.0),
)


def turned(points, rack=40.0):
    return abs(float(steered(Axle(points, points, 2400.0, 1350.0), [rack]).left.steer_deg[0]))


class Moves(unittest.TestCase):
    def test_nothing_moved_is_the_same_corner(self):
        self.assertEqual(CORNER.racked(0.0, 0.0).points, CORNER.points)

    def test_a_spacer_takes_its_thickness_off_the_rod(self):
        """The inner joint goes outboard by 4 mm along a rod that lies nearly across.

        The rod shortens by its share of that.
        """
        found = rod_of(CORNER, CORNER.racked(0.0, 0.0, 4.0))
        self.assertAlmostEqual(found.change_mm, math.hypot(301.0, 5.0) - math.hypot(305.0, 5.0), places=9)

    def test_a_longer_arm_turns_the_wheel_less(self):
        """Steer for a rack's way goes about as one over the arm.

        20 mm on about 118 mm make it 100 · 118 ÷ 138 = 86 %.
        """
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

    def test_a_longer_rod_behind_the_axle_toes_the_wheel_in(self):
        """About the steering axis: 1 mm on an arm of 118 mm is 0.49° where rod and arm are square to each other."""
        longer = with_rod(CORNER, 1.0)
        self.assertAlmostEqual(longer.wheel.toe_deg - CORNER.wheel.toe_deg, math.degrees(1 / 118), delta=0.02)
        self.assertAlmostEqual(rod_of(CORNER, longer).change_mm, 1.0, places=9)

    def test_every_other_link_keeps_its_length(self):
        for points in (CORNER, STRUT, FIVE):
            with self.subTest(points.layout.code):
                longer = with_rod(points, -3.0)
                for outer, inner in points.layout.links:
                    change = math.dist(longer.points[outer], longer.points[inner]) - math.dist(
                        points.points[outer], points.points[inner]
                    )
                    self.assertAlmostEqual(change, -3.0 if (outer, inner) == points.layout.rod else 0.0, places=6)

    def test_the_links_solved_with_a_longer_rod_stand_alike(self):
        """Another way: the inner end moved outboard until the same rod, as long as it was, leaves the wheel at the same
        toe.
        """
        longer = with_rod(CORNER, 2.0)
        toe = lambda outboard: float(curves(CORNER, [0.0], [outboard]).toe_deg[0]) - longer.wheel.toe_deg  # noqa: E731
        stood = moved_to(CORNER, [0.0], [brentq(toe, 0.0, 6.0)])
        outer = stood.turn[0] @ CORNER.at("rod_outer") + stood.at[0]
        self.assertAlmostEqual(
            float(np.linalg.norm(outer - CORNER.at("rod_inner"))), rod_of(CORNER, longer).after_mm, delta=2e-3
        )
        camber = curves(CORNER, [0.0], [brentq(toe, 0.0, 6.0)]).camber_deg[0]
        self.assertAlmostEqual(float(camber), longer.wheel.camber_deg, delta=5e-3)

    def test_a_rod_that_reaches_nowhere_is_refused(self):
        for points in (CORNER, FIVE):
            with self.assertRaisesRegex(BadInput, "accepted: a rod that reaches the arm"):
                with_rod(points, 200.0)

    def test_a_build_takes_rack_and_rod_together(self):
        both = as_built(CORNER, (10.0, 0.0, 0.0, 0.0, 0.0, 1.5))
        self.assertAlmostEqual(rod_of(CORNER.racked(10.0, 0.0), both).change_mm, 1.5, places=9)
        self.assertEqual(as_built(CORNER, (10.0, 0.0)).points, CORNER.racked(10.0, 0.0).points)

    def test_points_that_can_not_be_are_refused(self):
        with self.assertRaises(BadInput):
            CORNER.racked(0.0, 0.0, 305.0, 0.0, -5.0)
