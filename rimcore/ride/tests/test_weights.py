"""Springs and pads against sums written out, and against an energy that is least.

Sources: springs in series; a rigid body on springs is where the potential energy is least (SciPy minimises it without
the module's equations); ISO 10392 by tilting a car whose height is known.
"""

import math
import unittest

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy.optimize import brentq, minimize

from rimcore.quantities.errors import BadInput
from rimcore.ride.springs import Coil, Sprung, Stack
from rimcore.ride.weights import Pads, Raised, Stance, evened, gravity
from rimcore.tables.facts import G_M_PER_S2

MAIN, HELPER = Coil(60, 200, 80), Coil(15, 60, 20)


class Springs(unittest.TestCase):
    def test_rates_as_they_are_sold(self):
        """14 kgf/mm = 137.29 N/mm = 784.0 lbf/in (common practice, and NIST SP 811 for the pound)."""
        coil = Coil(14 * 9.80665, 170, 80)
        self.assertAlmostEqual(coil.rate_n_per_mm, 137.29, 2)
        self.assertAlmostEqual(coil.rate_lbf_per_in, 784.0, 1)
        self.assertAlmostEqual(coil.rate_kgf_per_mm, 14.0, 9)

    def test_a_collar_wound_eight_millimetres(self):
        """A 170 mm spring wound to 162 mm has 8 mm of preload (common practice)."""
        corner = Sprung(Stack(Coil(100, 170, 80)), 400, 40, 1.0, 170 - 162)
        self.assertEqual(corner.preload_n, 800.0)
        self.assertAlmostEqual(corner.droop_mm, (360 * G_M_PER_S2 / 100) - 8, 9)

    def test_a_helper_that_closes(self):
        """Series by hand: 12 N/mm until 600 N, then 60 N/mm."""
        stack = Stack(MAIN, HELPER)
        for force, compression, rate in (
            (300, 25.0, 12.0),
            (599.9999, 49.999992, 12.0),
            (600, 50.0, 60.0),
            (1200, 60.0, 60.0),
        ):
            self.assertAlmostEqual(stack.compression_mm(force), compression, 5)
            self.assertAlmostEqual(stack.force_n(compression), force, 3)
            self.assertAlmostEqual(stack.rate_n_per_mm(force), rate, 9)

    @settings(max_examples=60, deadline=None, derandomize=True)
    @given(st.floats(1, 5000), st.booleans())
    def test_force_and_compression_undo_each_other(self, force, helped):
        stack = Stack(MAIN, HELPER if helped else None)
        self.assertAlmostEqual(stack.force_n(stack.compression_mm(force)) / force, 1.0, 9)

    def test_frequency_of_a_mass_on_its_spring(self):
        corner = Sprung(Stack(MAIN), 300, 50, 0.8)
        self.assertAlmostEqual(corner.wheel_rate_n_per_mm, 60 * 0.64, 9)
        self.assertAlmostEqual(corner.natural_frequency_hz, math.sqrt(38.4e3 / 250) / (2 * math.pi), 9)
        self.assertAlmostEqual(corner.static_force_n, 250 * 9.80665 / 0.8, 9)
        self.assertAlmostEqual(corner.bump_to_block_mm, (120 - 250 * 9.80665 / 0.8 / 60) / 0.8, 9)

    def test_topped_out_until_the_perch_is_lowered(self):
        corner = Sprung(Stack(MAIN), 200, 0, 0.5, 80)
        self.assertTrue(corner.topped_out)
        self.assertEqual(corner.deflection_mm, 80)
        self.assertIsNone(corner.natural_frequency_hz)
        self.assertEqual(corner.droop_mm, 0)
        settled = 200 * G_M_PER_S2 / 0.5 / 60
        self.assertEqual(corner.height_change_mm(10), 0.0)
        self.assertEqual(corner.height_change_mm(-(80 - settled) + 0.001), 0.0)
        self.assertAlmostEqual(corner.height_change_mm(-(80 - settled) - 5), -10.0, 9)

    def test_a_perch_raises_no_further_than_the_damper(self):
        corner = Sprung(Stack(MAIN), 200, 0, 1.0, 20)
        self.assertAlmostEqual(corner.height_change_mm(100), corner.deflection_mm - 20, 9)
        self.assertEqual(corner.height_change_mm(-15), -15)

    def test_coil_bind(self):
        corner = Sprung(Stack(MAIN), 300)
        room = corner.bump_to_block_mm
        for bump, state in (
            (room + 0.01, "hit"),
            (room - 0.01, "tight"),
            (room - 4.99, "tight"),
            (room - 5.01, "clear"),
            (None, "unmeasured"),
        ):
            self.assertEqual(corner.coil_bind(bump).state, state)
        self.assertAlmostEqual(corner.coil_bind(30).value, room - 30, 9)

    def test_what_is_refused(self):
        for made, field in (
            (lambda: Coil(60, 80, 80), "block_length_mm"),
            (lambda: Sprung(Stack(MAIN), 40, 40), "unsprung_kg"),
            (lambda: Sprung(Stack(MAIN), 300, 0, 1.0, 121), "preload_mm"),
        ):
            with self.assertRaises(BadInput) as caught:
                made()
            self.assertEqual(caught.exception.field, field)


def least_energy(pads, stance, turns):
    """Heights and loads after turns, from the least energy of four springs and two bars under a constant weight."""
    free = turns * stance.mm_per_turn / stance.motion_ratio
    front, rear, base = stance.track_mm[0] / 2, stance.track_mm[1] / 2, stance.wheelbase_mm
    at = np.array([[1, 0, -front], [1, 0, front], [1, -base, -rear], [1, -base, rear]]) / [1, 1000, 1000]

    def energy(body):
        heights = at @ body
        length = free - heights
        twist = (heights[0] - heights[1], heights[2] - heights[3])
        held = stance.bar_n_per_mm
        return (
            0.5 * (stance.wheel_rate_n_per_mm * length**2).sum()
            + 0.5 * held[0] * twist[0] ** 2
            + 0.5 * held[1] * twist[1] ** 2
        )

    heights = at @ minimize(energy, np.zeros(3), method="BFGS", options={"gtol": 1e-10}).x
    force = stance.wheel_rate_n_per_mm * (free - heights)
    for place, held in ((0, stance.bar_n_per_mm[0]), (2, stance.bar_n_per_mm[1])):
        twist = heights[place] - heights[place + 1]
        force[place] -= held * twist
        force[place + 1] += held * twist
    return heights, pads.loads + force / G_M_PER_S2


UNEVEN = Stance(
    np.array([32.0, 30.0, 25.0, 27.0]), (1520, 1490), 2570, np.full(4, 1.5), np.array([1.0, 1.0, 0.7, 0.7]), (8.0, 3.0)
)
CAR = Pads(352, 338, 261, 289)


class Evening(unittest.TestCase):
    def test_the_turns_give_what_they_promise(self):
        for limit in (None, 30.0, 6.0, 3.0):
            done = evened(CAR, UNEVEN, 50.0, limit)
            heights, loads = least_energy(CAR, UNEVEN, done.turns)
            np.testing.assert_allclose(heights, done.height_change_mm, atol=1e-4)
            np.testing.assert_allclose(loads, done.pads.loads, atol=1e-3)
            if limit is not None:
                self.assertLessEqual(np.abs(done.turns).max(), limit + 1e-6)

    def test_without_a_limit_the_body_stays(self):
        done = evened(CAR, UNEVEN, 50.0)
        np.testing.assert_allclose(done.height_change_mm, 0, atol=1e-9)
        self.assertAlmostEqual(done.pads.cross_pct, 50.0, 9)
        self.assertTrue(done.reached)

    def test_a_limit_moves_the_body_as_little_as_it_can(self):
        """Against SciPy's sequential quadratic programming on the heights, turns bounded."""
        most = float(np.abs(evened(CAR, UNEVEN, 50.0).turns).max())
        limit = 0.95 * most
        done = evened(CAR, UNEVEN, 50.0, limit)
        of_plane, of_warp = UNEVEN.response()
        wanted = (done.pads.fr - CAR.fr) * G_M_PER_S2
        found = minimize(
            lambda body: ((UNEVEN.plane @ body) ** 2).sum(),
            np.zeros(3),
            method="SLSQP",
            options={"ftol": 1e-14, "maxiter": 500},
            constraints=[
                {"type": "ineq", "fun": lambda body, way=way: limit - way * (of_plane @ body + of_warp * wanted)}
                for way in (1, -1)
            ],
        )
        self.assertTrue(done.reached)
        self.assertAlmostEqual((done.height_change_mm**2).sum(), found.fun, 4)
        self.assertGreater(found.fun, 1e-3)

    def test_a_limit_out_of_reach_gives_the_nearest(self):
        near, nearer = evened(CAR, UNEVEN, 50.0, 1.0), evened(CAR, UNEVEN, 50.0, 2.0)
        self.assertFalse(near.reached)
        self.assertLess(abs(nearer.pads.cross_pct - 50), abs(near.pads.cross_pct - 50))
        self.assertAlmostEqual(np.abs(near.turns).max(), 1.0, 6)
        still = evened(CAR, UNEVEN, 50.0, 0.0)
        np.testing.assert_allclose(still.turns, 0, atol=1e-9)

    def test_shares(self):
        self.assertAlmostEqual(CAR.front_pct, 100 * 690 / 1240, 9)
        self.assertAlmostEqual(CAR.left_pct, 100 * 613 / 1240, 9)
        self.assertAlmostEqual(CAR.cross_pct, 100 * 599 / 1240, 9)
        with self.assertRaises(BadInput):
            Pads(0, 0, 0, 0)


class Gravity(unittest.TestCase):
    def test_a_car_whose_height_is_known(self):
        """Tilted by hand: the axle loads of a body whose centre stands 520 mm high on wheels of 305 mm."""
        weight, base, height, radius, behind = 1240.0, 2570.0, 520.0, 305.0, 1141.0
        for end, by in (("front", 400.0), ("rear", 350.0)):
            angle = math.asin(by / base)

            def tipping(rear, angle=angle, end=end):
                # Axles on their own line; the centre stands (height − radius) above it and moves towards the lower one.
                way = 1 if end == "front" else -1
                return weight * (
                    behind * math.cos(angle) + way * (height - radius) * math.sin(angle)
                ) - rear * base * math.cos(angle)

            rear = brentq(tipping, -500, 3000)
            left = rear if end == "front" else weight - rear
            rear_level = weight * behind / base
            pads = Pads((weight - rear_level) / 2 - 5, (weight - rear_level) / 2 + 5, rear_level / 2, rear_level / 2)
            found = gravity(pads, base, (1520, 1490), Raised(end, by, left, radius))
            self.assertAlmostEqual(found.height_mm, height, 6)
            self.assertAlmostEqual(found.behind_front_axle_mm, behind, 6)
            self.assertAlmostEqual(found.right_of_centre_mm, 10 * 1520 / 2 / weight, 6)
            self.assertAlmostEqual(found.static_stability_factor, 1505 / 1040, 6)

    def test_level_pads_say_nothing_of_the_height(self):
        found = gravity(CAR, 2570, (1520, 1490))
        self.assertIsNone(found.height_mm)
        self.assertIsNone(found.static_stability_factor)

    def test_what_is_refused(self):
        for raised, field in (
            (Raised("front", 2570, 600, 300), "raised.by_mm"),
            (Raised("front", 300, 100, 300), "raised.rear_kg"),
        ):
            with self.assertRaises(BadInput) as caught:
                gravity(CAR, 2570, (1520, 1490), raised)
            self.assertEqual(caught.exception.field, field)
