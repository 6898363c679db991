"""Wheels: reading, and the arithmetic of the lips."""

import unittest

from hypothesis import given, settings
from hypothesis import strategies as st

from rimcore.quantities.errors import BadInput
from rimcore.wheels.wheel import Wheel, offset_from_backspacing_mm, parse_wheel

FULL = Wheel(18.0, 9.5, 22.0, 5, 114.3, 73.1)


class Reading(unittest.TestCase):
    def test_order_and_case_are_free(self):
        for text in (
            "18x9.5 +22 5x114.3 73.1",
            "73.1 5x114.3 ET22 9.5Jx18",
            "18X9,5 et22 5/114.3 CB73.1",
            "18 x 9½ ET 22 5*114,3 73.1 mm",
            "5x4.5 18x9.5+22 73.1",
            '18"x9.5" +22 5-114.3 73.1',
            "18x9 1/2 +22 5x114.3 bore 73.1",
        ):
            with self.subTest(text=text):
                self.assertEqual(parse_wheel(text), FULL)

    def test_missing_parts_stay_unknown(self):
        self.assertEqual(parse_wheel("18x9.5+22"), Wheel(18, 9.5, 22))
        self.assertIsNone(parse_wheel("18x9.5").backspacing_mm)

    def test_negative_offset(self):
        self.assertEqual(parse_wheel("15x10 −44 6x139.7").offset_mm, -44)
        self.assertEqual(parse_wheel("15x10 ET-44").offset_mm, -44)

    def test_refused(self):
        for text in (
            "",
            "hello",
            "18",
            "18x9.5 22",
            "18x9.5 +22 +30",
            "18x9.5 +22 gold",
            "300x9 +2",
            "18x9.5 5x100 5x114.3",
            "18x9.5 +500",
            None,
        ):
            with self.subTest(text=text), self.assertRaises(BadInput):
                parse_wheel(text)

    @settings(max_examples=200, deadline=None)
    @given(
        st.integers(13, 22),
        st.integers(10, 24),
        st.integers(-60, 70),
        st.sampled_from([(4, 100.0), (5, 112.0), (5, 114.3), (6, 139.7)]),
        st.integers(540, 1100),
    )
    def test_spec_written_and_read_again(self, diameter, half_inches, offset, pattern, tenths):
        wheel = Wheel(diameter, min(half_inches / 2, diameter), offset, *pattern, tenths / 10)
        self.assertEqual(parse_wheel(wheel.spec), wheel)


class Lips(unittest.TestCase):
    def test_narrower_can_stick_out_more(self):
        """Arithmetic of the trade: an 11-inch +34 has its outer lip 7.65 mm further in than a 10.5-inch +20."""
        self.assertAlmostEqual(parse_wheel("18x10.5 +20").outer_lip_mm - parse_wheel("18x11 +34").outer_lip_mm, 7.65)

    def test_figures(self):
        wheel = parse_wheel("18x9.5 +22")
        self.assertAlmostEqual(wheel.flange_width_mm, 266.7)
        self.assertAlmostEqual(wheel.backspacing_mm, 155.35)
        self.assertAlmostEqual(wheel.outer_lip_mm, 111.35)
        self.assertAlmostEqual(wheel.inner_lip_mm, -155.35)
        self.assertAlmostEqual(wheel.outer_lip_mm - wheel.inner_lip_mm, wheel.flange_width_mm)

    @given(st.floats(4, 14), st.floats(-60, 70))
    def test_backspacing_gives_the_offset_back(self, width, offset):
        wheel = Wheel(18, width, offset)
        self.assertAlmostEqual(offset_from_backspacing_mm(width, wheel.backspacing_mm), offset, places=9)
