"""Lifted cars: wind-up against a beam solved by itself, joints against the shaft's own map, stability by hand.

The side view's own numbers.
"""

import math
import unittest
from dataclasses import replace

import numpy as np

from rimcore.driveline.lift import (
    SCHOOLS,
    Lifted,
    even_spacer_mm,
    judge_lift,
    leaf_turn_nm_per_rad,
    propshaft_turn_deg,
    stability,
    wind_up_deg,
)
from rimcore.ride.side import FRONT_X, GROUND, REAR_X, EndOf, side_view

WHOLE = Lifted(
    lift_mm=50.0,
    axle_kg=590.0,
    radius_mm=330.0,
    rate_n_per_mm=27.0,
    length_mm=1120.0,
    seat_before_mm=48.0,
    seat_mm=98.0,
    block_mm=50.0,
    taper_deg=2.0,
    propshaft_mm=905.0,
    joints_deg=(4.0, 4.5),
    track_mm=1365.0,
    other_track_mm=1355.0,
    cg_height_mm=560.0,
)


def codes(one):
    return {judged.code: judged for judged in judge_lift(one)}


class Block(unittest.TestCase):
    def test_a_block_of_unsaid_taper_leaves_the_joints_unmeasured(self):
        found = {one.code: one.state for one in judge_lift(replace(WHOLE, taper_deg=None))}
        self.assertEqual((found["lift.joint"], found["lift.even"]), ("unmeasured", "unmeasured"))


class WindUp(unittest.TestCase):
    def test_against_a_beam_of_two_cantilevers(self):
        """Stiffness of a beam of two elements, pinned at its ends, under a moment in its middle, by the finite element
        method.

        A uniform leaf of bending stiffness EI and half length l has the vertical rate 6 EI ÷ l³ and turns by M l ÷ 6
        EI.
        """
        half, bending = 560.0, 2.0e9
        element = (
            bending
            / half**3
            * np.array(
                [
                    [12, 6 * half, -12, 6 * half],
                    [6 * half, 4 * half**2, -6 * half, 2 * half**2],
                    [-12, -6 * half, 12, -6 * half],
                    [6 * half, 2 * half**2, -6 * half, 4 * half**2],
                ]
            )
        )
        whole = np.zeros((6, 6))
        for at in (0, 2):
            whole[at : at + 4, at : at + 4] += element
        free = [1, 2, 3, 5]
        part = whole[np.ix_(free, free)]
        rate = 1.0 / np.linalg.solve(part, [0.0, 1.0, 0.0, 0.0])[1]
        turn = 1.0 / np.linalg.solve(part, [0.0, 0.0, 1.0, 0.0])[2]
        self.assertAlmostEqual(leaf_turn_nm_per_rad(rate, 2 * half) / (turn / 1000), 1.0, places=9)

    def test_a_block_makes_the_lever_longer(self):
        with_block, without = wind_up_deg(590, 330, 98, 27, 1120), wind_up_deg(590, 330, 48, 27, 1120)
        self.assertAlmostEqual(with_block / without, (330 + 98) / (330 + 48))
        judged = codes(WHOLE)["lift.wind_up"]
        self.assertAlmostEqual(judged.value, with_block)
        self.assertAlmostEqual(judged.before, without)
        self.assertEqual(judged.state, "tight")
        self.assertIn(f"{with_block - without:.1f}°", judged.reason)
        self.assertEqual(codes(replace(WHOLE, seat_mm=48.0, block_mm=0.0))["lift.wind_up"].state, "clear")

    def test_what_is_not_known_is_named(self):
        for name, words in (
            ("axle_kg", "axle's load"),
            ("rate_n_per_mm", "pack's rate"),
            ("length_mm", "eye to eye"),
            ("seat_mm", "U-bolts"),
            ("radius_mm", "tyre"),
        ):
            judged = codes(replace(WHOLE, **{name: None}))["lift.wind_up"]
            self.assertEqual(judged.state, "unmeasured")
            self.assertIn(words, judged.reason)


class Shafts(unittest.TestCase):
    def test_joints_turn_by_the_lift_and_the_taper_comes_off(self):
        steeper = math.degrees(math.atan(50 / 905))
        self.assertAlmostEqual(propshaft_turn_deg(50, 905), steeper)
        judged = codes(WHOLE)["lift.even"]
        front, rear = math.radians(4 + steeper), math.radians(4.5 + steeper - 2)
        # Two joints in phase and in one plane: the ratio over a turn lies between the quotients of their cosines.
        ratio = math.cos(rear) / math.cos(front)
        self.assertAlmostEqual(judged.value, 100 * abs(ratio - 1 / ratio), places=6)
        self.assertEqual(judged.state, "clear")
        self.assertEqual(codes(replace(WHOLE, lift_mm=120.0, taper_deg=8.0))["lift.even"].state, "tight")

    def test_a_sharp_joint(self):
        self.assertEqual(codes(replace(WHOLE, joints_deg=(33.0, 4.0)))["lift.joint"].state, "hit")
        self.assertEqual(codes(replace(WHOLE, joints_deg=None))["lift.joint"].state, "unmeasured")


class Stands(unittest.TestCase):
    def test_tracks_and_the_spacer_that_evens_them(self):
        self.assertEqual(codes(WHOLE)["lift.track"].state, "clear")
        apart = codes(replace(WHOLE, other_track_mm=1415.0))["lift.track"]
        self.assertEqual((apart.state, even_spacer_mm(1415, 1365)), ("tight", 25.0))
        self.assertIn("25 mm at this end", apart.reason)
        self.assertEqual(codes(replace(WHOLE, track_mm=None))["lift.track"].state, "unmeasured")

    def test_stability_factor(self):
        self.assertAlmostEqual(stability(1365, 610), 1365 / 1220)
        judged = codes(WHOLE)["lift.stable"]
        self.assertAlmostEqual(judged.value, 1365 / 1220)
        self.assertEqual(judged.state, "clear")
        self.assertEqual(codes(replace(WHOLE, lift_mm=80.0))["lift.stable"].state, "tight")
        self.assertEqual(codes(replace(WHOLE, cg_height_mm=None))["lift.stable"].state, "unmeasured")

    def test_each_school_says_what_it_costs(self):
        self.assertEqual(len(SCHOOLS), 4)
        self.assertTrue(all(all(row) for row in SCHOOLS))


class Side(unittest.TestCase):
    def test_to_scale(self):
        found = side_view(2500.0, EndOf(310.0, 380.0, 20.0, 250.0, 190.0, 1.6), EndOf(320.0, None, -30.0))
        per_mm = (REAR_X - FRONT_X) / 2500
        front, rear = found.wheels
        self.assertAlmostEqual(front.r, 310 * per_mm)
        self.assertAlmostEqual(front.y + front.r, GROUND)
        self.assertEqual(
            (front.lip, front.moved, front.moved_mm, rear.lip, rear.moved, rear.moved_mm),
            (360.0, "lowered", 20.0, None, "lifted", 30.0),
        )
        self.assertEqual([(one.length_mm, one.at_rest) for one in found.coils], [(250.0, True), (190.0, False)])

    def test_as_it_was_both_outlines_are_one(self):
        found = side_view(2500.0, EndOf(310.0), EndOf(310.0))
        self.assertEqual(found.body, found.before)
        self.assertEqual(found.wheels[0].moved, "")
