"""Swaps: geometry in closed form; UN R39; energy for the equivalent mass."""

import math
import unittest

from hypothesis import given
from hypothesis import strategies as st

from rimcore.wheels.swap import Corner, equivalent_mass_kg, legal_r39, swap, true_kmh
from rimcore.wheels.tyre import parse_tyre
from rimcore.wheels.wheel import parse_wheel

OLD = Corner(parse_wheel("17x7.5 +45"), parse_tyre("225/45R17"), wheel_kg=9.0, tyre_kg=9.5)
NEW = Corner(parse_wheel("18x8.5 +35"), parse_tyre("245/40R18"), wheel_kg=8.4, tyre_kg=10.0)


class Geometry(unittest.TestCase):
    def test_by_hand(self):
        found = swap(OLD, NEW)
        self.assertAlmostEqual(found.outer_lip_shift_mm, 10 + 12.7)
        self.assertAlmostEqual(found.inner_lip_shift_mm, -10 + 12.7)
        self.assertAlmostEqual(found.tyre_outer_shift_mm, 10 + 10)
        self.assertAlmostEqual(found.arch_side_gap_change_mm, -20)
        self.assertAlmostEqual(found.track_change_mm, 20)
        self.assertAlmostEqual(found.diameter_change_mm, 653.2 - 634.3)
        self.assertAlmostEqual(found.ride_height_change_mm, 9.45)
        self.assertAlmostEqual(found.arch_up_gap_change_mm, -9.45)

    def test_same_is_nothing(self):
        found = swap(OLD, OLD)
        for value in (
            found.outer_lip_shift_mm,
            found.tyre_inner_shift_mm,
            found.track_change_mm,
            found.diameter_change_pct,
            found.mass_change_kg_per_corner,
        ):
            self.assertAlmostEqual(value, 0.0)
        self.assertTrue(found.legal_r39)

    def test_unknown_stays_unknown(self):
        found = swap(Corner(OLD.wheel), Corner(parse_wheel("18x8.5")))
        self.assertIsNone(found.outer_lip_shift_mm)
        self.assertIsNone(found.diameter_change_mm)
        self.assertIsNone(found.mass_change_kg_per_corner)

    @given(st.floats(0, 40))
    def test_a_spacer_is_an_offset_less(self, spacer):
        spaced = swap(OLD, Corner(OLD.wheel, OLD.tyre, spacer))
        self.assertAlmostEqual(spaced.outer_lip_shift_mm, spacer)
        self.assertAlmostEqual(spaced.inner_lip_shift_mm, -spacer)
        self.assertAlmostEqual(spaced.track_change_mm, 2 * spacer)


class Speed(unittest.TestCase):
    def test_r39_bounds(self):
        """At 40 km/h the bound is 8 km/h: indicated 48 is a fifth smaller tyre.

        120 km/h allows 16, which is tighter.
        """
        self.assertTrue(legal_r39(600.0, 600.0 * 120 / 136))
        self.assertFalse(legal_r39(600.0, 600.0 * 120 / 136 - 0.01))
        self.assertFalse(legal_r39(600.0, 600.01))

    def test_true_speed(self):
        self.assertAlmostEqual(true_kmh(100, 600, 630), 105.0)


class Mass(unittest.TestCase):
    def test_equivalent_mass_from_energy(self):
        """A ring of mass m rolling at v holds ½ m v² + ½ I ω²: with given inertia the sum is exact."""
        corner = Corner(OLD.wheel, OLD.tyre, wheel_kg=9.0, tyre_kg=9.5, inertia_kg_m2=1.0)
        radius = 3.05 * 0.6343 / (2 * math.pi)
        speed = 20.0
        energy = 0.5 * 18.5 * speed**2 + 0.5 * 1.0 * (speed / radius) ** 2
        self.assertAlmostEqual(0.5 * equivalent_mass_kg(corner) * speed**2, energy)

    def test_estimate_says_so(self):
        self.assertEqual(swap(OLD, NEW).inertia_basis, "estimated")
        given_inertia = Corner(OLD.wheel, OLD.tyre, wheel_kg=9.0, tyre_kg=9.5, inertia_kg_m2=1.0)
        self.assertEqual(swap(given_inertia, given_inertia).inertia_basis, "given")
        self.assertEqual(swap(given_inertia, NEW).inertia_basis, "partly estimated")
