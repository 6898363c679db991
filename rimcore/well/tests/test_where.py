"""Every station has its own drawing, with the wheel as it must stand."""

import math
import unittest

from rimcore.well.read.rule import CAR, HALF_LENGTH, HALF_WIDTH, HANGING, LOCK, OFF, RAISED, WHERE
from rimcore.well.read.stations import STATIONS


class Drawings(unittest.TestCase):
    def test_every_station_has_one_and_no_two_are_alike(self):
        self.assertEqual(set(WHERE), set(STATIONS))
        self.assertEqual(
            len({(one.view, one.rules, one.labels, one.parts, one.turned_deg, one.raised) for one in WHERE.values()}),
            len(WHERE),
        )

    def test_the_wheel_stands_as_the_station_says(self):
        for code, kind in STATIONS.items():
            where = WHERE[code]
            with self.subTest(code=code):
                self.assertEqual(where.stands == OFF, kind.wheel_off)
                if "steer_deg" in kind.params:
                    self.assertEqual(where.stands, LOCK)
                    self.assertNotEqual(where.turned_deg, 0.0)
                if "full lock" in kind.how:
                    self.assertEqual(where.stands, LOCK)
                if kind.whole_car:
                    self.assertEqual(where.stands, CAR)
                self.assertEqual(bool(where.raised), where.stands in (RAISED, HANGING))

    def test_everything_lies_on_the_sheet_and_a_rule_has_a_length(self):
        for code, where in WHERE.items():
            for x1, y1, x2, y2 in (*where.rules, *where.thin):
                self.assertTrue(
                    min(x1, x2) >= 0 and max(x1, x2) <= 300 and min(y1, y2) >= 0 and max(y1, y2) <= 230, code
                )
                self.assertGreater(math.hypot(x1 - x2, y1 - y2), 5.0, code)

    def test_at_lock_the_rule_starts_at_the_edge_that_stands_inboard(self):
        for code, front in (
            ("rail_front_lock", True),
            ("rail_rear_lock", False),
            ("arm_front_lock", True),
            ("arm_rear_lock", False),
        ):
            _, _, x, y = WHERE[code].rules[0]
            self.assertAlmostEqual(math.hypot(x - 150, y - 115), math.hypot(HALF_WIDTH, HALF_LENGTH), delta=0.2)
            self.assertLess(x, 150 - HALF_WIDTH, code)
            self.assertEqual(y < 115, front, code)

    def test_the_clock_of_an_arch_station_is_its_place_on_the_wheel(self):
        for code, kind in STATIONS.items():
            if kind.place == "arch":
                x1, y1, x2, y2 = WHERE[code].rules[0]
                turned = math.degrees(math.atan2(x2 - x1, y1 - y2)) % 360
                self.assertAlmostEqual(turned, (30 * kind.clock) % 360, delta=0.5, msg=code)
