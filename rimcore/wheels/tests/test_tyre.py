"""Tyres against published dimensions.

Sources: ISO 4000-1 / ETRTO Standards Manual for load index, speed symbol and dimensions; the
measuring-rim rule and the approved rims are handbook values from memory.
"""

import unittest

from hypothesis import given, settings
from hypothesis import strategies as st

from rimcore.quantities.errors import BadInput
from rimcore.wheels.tyre import parse_tyre, rim_fit, section_on_rim_mm, tyre_from_fields


class PublishedFigures(unittest.TestCase):
    def test_diameters(self):
        for size, diameter in {"205/55R16": 631.9, "225/45R17": 634.3, "265/35R18": 642.7, "295/35R18": 663.7}.items():
            self.assertAlmostEqual(parse_tyre(size).diameter_mm, diameter, places=6)

    def test_load_index(self):
        for index, load in {91: 615, 94: 670, 97: 730, 100: 800}.items():
            self.assertEqual(parse_tyre(f"205/55R16 {index}V").load_kg, load)

    def test_speed_symbol(self):
        for symbol, speed in {"H": 210, "V": 240, "W": 270, "Y": 300}.items():
            self.assertEqual(parse_tyre(f"205/55R16 91{symbol}").speed_kmh, speed)

    def test_measuring_rim(self):
        rims = {
            "205/55R16": 6.5,
            "225/45R17": 7.5,
            "245/40R18": 8.5,
            "265/35R18": 9.5,
            "295/35R18": 10.5,
            "195/65R15": 6.0,
        }
        for size, rim in rims.items():
            self.assertEqual(parse_tyre(size).measuring_rim_in, rim, size)

    def test_approved_rims(self):
        rims = {
            "205/55R16": (5.5, 7.5),
            "225/45R17": (7.0, 8.5),
            "245/40R18": (8.0, 9.5),
            "265/35R18": (9.0, 10.5),
            "295/35R18": (10.0, 11.5),
        }
        for size, approved in rims.items():
            self.assertEqual(parse_tyre(size).rim_range_in, approved, size)

    def test_the_estimate_outside_the_table_agrees_with_it_where_both_know(self):
        from rimcore.tables.tyres import APPROVED_RIM_IN

        for (width, aspect, rim), approved in APPROVED_RIM_IN.items():
            if aspect == 65:
                continue
            neighbour = tyre_from_fields(width, aspect, rim + 1)
            self.assertEqual(neighbour.rim_range_in, approved)

    def test_common_practice_pairs_sit_in_the_range(self):
        self.assertEqual(rim_fit(parse_tyre("265/35R18"), 9.5), "ok")
        self.assertEqual(rim_fit(parse_tyre("295/35R18"), 11.0), "ok")

    def test_rolling_circumference_is_3_05_diameters(self):
        self.assertAlmostEqual(parse_tyre("265/35R18").rolling_circumference_mm, 3.05 * 642.7, places=6)
        self.assertAlmostEqual(parse_tyre("265/35R18").revs_per_km, 1e6 / (3.05 * 642.7), places=6)

    def test_section_grows_0_4_mm_per_mm_of_rim(self):
        tyre = parse_tyre("225/45R17")
        self.assertAlmostEqual(section_on_rim_mm(tyre, 8.5) - section_on_rim_mm(tyre, 7.5), 0.4 * 25.4)
        self.assertEqual(section_on_rim_mm(tyre, 7.5), 225.0)


class Reading(unittest.TestCase):
    def test_writings_of_the_same_size(self):
        for text in ("225/45R17 94W", "225/45 r17 94w", " 225 / 45 R 17 94 W ", "225/45ZR17 (94W)", "225/45R17 94W XL"):
            with self.subTest(text=text):
                tyre = parse_tyre(text)
                self.assertEqual(
                    (tyre.section_width_mm, tyre.aspect_pct, tyre.rim_diameter_in, tyre.load_index, tyre.speed_symbol),
                    (225, 45, 17, 94, "W"),
                )

    def test_two_load_indices(self):
        tyre = parse_tyre("LT285/75R16 126/123Q")
        self.assertEqual(
            (tyre.load_index, tyre.load_index_dual, tyre.load_kg, tyre.load_kg_dual, tyre.speed_symbol),
            (126, 123, 1700, 1550, "Q"),
        )

    def test_flotation_states_its_size(self):
        tyre = parse_tyre("35x12.50R17LT")
        self.assertEqual((tyre.diameter_mm, tyre.section_width_mm), (889.0, 317.5))

    def test_no_aspect_is_82(self):
        self.assertEqual(parse_tyre("195R14C").aspect_pct, 82.0)

    def test_zr_without_symbol_has_no_speed(self):
        self.assertIsNone(parse_tyre("205/55ZR16").speed_symbol)
        self.assertIsNone(parse_tyre("205/55ZR16").speed_kmh)

    def test_nonsense_is_refused(self):
        for text in (
            "",
            "hello",
            "225",
            "225/45",
            "0/45R17",
            "225/45R17 94",
            "225/45R17 300Y",
            "999/45R17",
            "225/5R17",
            "225/45R99",
            None,
            17,
        ):
            with self.subTest(text=text), self.assertRaises(BadInput):
                parse_tyre(text)

    def test_rim_fit_steps(self):
        tyre = parse_tyre("225/45R17")
        fits = {6.0: "outside", 6.5: "pinched", 7.0: "ok", 8.5: "ok", 9.0: "stretched", 9.5: "outside"}
        self.assertEqual({width: rim_fit(tyre, width) for width in fits}, fits)

    @settings(max_examples=200, deadline=None)
    @given(st.integers(14, 35), st.sampled_from([25, 30, 35, 40, 45, 50, 55, 60, 65, 70, 75]), st.integers(13, 22))
    def test_size_written_and_read_again(self, tens, aspect, rim):
        width = tens * 10 + 5
        tyre = parse_tyre(f"{width}/{aspect}R{rim}")
        self.assertEqual(parse_tyre(tyre.size), tyre)
        self.assertAlmostEqual(tyre.diameter_mm, rim * 25.4 + 2 * tyre.sidewall_mm)
        low, high = tyre.rim_range_in
        self.assertTrue(low <= tyre.measuring_rim_in <= high)
