"""Gearing against closed forms, the usual shop formula, and bad input by field."""

import json
import math
import unittest

from hypothesis import given
from hypothesis import strategies as st

from rimcore.calc import answer
from rimcore.driveline.gearing import (
    Driveline,
    axle_to_restore,
    effective_change_pct,
    judge_cruise,
    kmh_at,
    rolling_mm,
    rpm_at,
)
from rimcore.registry import CALCULATIONS
from rimcore.wheels.tyre import parse_tyre

GEARS = [3.59, 2.02, 1.38, 1.0, 0.86]


def ask(**values):
    found, good = answer(CALCULATIONS["gearing"], json.dumps({"gears": GEARS, "axle_ratio": 4.1, **values}))
    return found if good else found["error"]


class Cruise(unittest.TestCase):
    """hit above the limit, tight with under a quarter of it left (common practice), else clear.

    Nothing known is unmeasured.
    """

    def test_states_turn_at_the_limit_and_at_three_quarters_of_it(self):
        line = Driveline((3.0, 1.0), 4.0, 2000.0)
        rpm = 110.0 * 4.0 / (2000.0 * 0.00006)
        for limit, state in (
            (rpm / 1.001, "hit"),
            (rpm * 1.001, "tight"),
            (rpm / 0.751, "tight"),
            (rpm / 0.749, "clear"),
        ):
            found = judge_cruise(line, limit)
            self.assertEqual(found.state, state)
            self.assertAlmostEqual(found.value, rpm, places=6)
            self.assertAlmostEqual(found.margin, 0.75 * limit - rpm, places=6)
            self.assertEqual(bool(found.remedies), state != "clear")
            self.assertIn(f"{rpm:.0f}", found.formula)

    def test_nothing_known_is_unmeasured(self):
        for line, limit in ((None, 6000.0), (Driveline((1.0,), 4.0, 2000.0), None)):
            self.assertEqual(judge_cruise(line, limit).state, "unmeasured")

    def test_the_last_gear_counts(self):
        self.assertAlmostEqual(
            judge_cruise(Driveline((3.0, 0.5), 4.0, 2000.0), 6000.0, 60.0).value, 60.0 * 2.0 / 0.12, places=6
        )


class Figures(unittest.TestCase):
    def test_the_shop_formula(self):
        """rpm = mph × ratio × 336 ÷ tyre diameter in inches (common practice.

        336 = 63360 ÷ 60 ÷ π, so for a loaded diameter).
        """
        for diameter_in in (24.0, 31.0, 35.0):
            for ratio in (3.23, 4.1, 4.88):
                line = Driveline((1.0,), ratio, math.pi * diameter_in * 25.4)
                rpm = rpm_at(line, 1, 65 * 1.609344)
                self.assertAlmostEqual(rpm, 65 * ratio * 336.135 / diameter_in, delta=0.0005 * rpm)

    def test_a_tyre_and_its_diameter_roll_alike(self):
        tyre = parse_tyre("31x10.50R15")
        by_tyre, by_diameter = ask(tyre="31x10.50R15", speed_kmh=100), ask(diameter_mm=tyre.diameter_mm, speed_kmh=100)
        self.assertEqual(by_tyre, by_diameter)
        self.assertAlmostEqual(by_tyre["circumference_mm"], 3.05 * tyre.diameter_mm, places=6)

    def test_every_gear_and_back(self):
        found = ask(circumference_mm=2000, speed_kmh=90, rpm=3000, transfer_ratio=1.2)
        for gear, ratio in enumerate(GEARS):
            turns_per_min = 90 / 3.6 / 2.0 * 60
            self.assertAlmostEqual(found["rpm_by_gear"][gear], turns_per_min * ratio * 1.2 * 4.1, places=6)
            self.assertAlmostEqual(
                found["kmh_at_rpm_by_gear"][gear], 3 * found["kmh_per_1000rpm_by_gear"][gear], places=6
            )

    def test_bigger_tyres_and_the_axle_that_restores(self):
        """From 235/75R15 to 31x10.50R15 with 3.73: about 6 % longer, near 3.95 brings it back."""
        found = ask(
            tyre="31x10.50R15", axle_ratio=3.73, before={"tyre": "235/75R15", "axle_ratio": 3.73}, speed_kmh=100
        )
        share = parse_tyre("31x10.50R15").diameter_mm / parse_tyre("235/75R15").diameter_mm
        self.assertAlmostEqual(found["effective_ratio_change_pct"], 100 * (1 / share - 1), places=6)
        self.assertAlmostEqual(found["axle_to_restore"], 3.73 * share, places=6)
        restored = ask(
            tyre="31x10.50R15",
            axle_ratio=found["axle_to_restore"],
            before={"tyre": "235/75R15", "axle_ratio": 3.73},
            speed_kmh=100,
        )
        self.assertAlmostEqual(restored["effective_ratio_change_pct"], 0.0, places=6)

    def test_a_known_swap(self):
        """1,500 at 70 mph on 35-inch tyres with a 3.73 axle.

        4.56 brings it 100 to 150 over what it was on 31-inch ones (common practice).
        """
        speed = 70 * 1.609344
        top = 1500 / rpm_at(Driveline((1.0,), 3.73, rolling_mm(35 * 25.4)), 1, speed)
        before = rpm_at(Driveline((top,), 3.73, rolling_mm(31 * 25.4)), 1, speed)
        found = ask(diameter_mm=35 * 25.4, gears=[top], axle_ratio=4.56, speed_kmh=speed)["rpm_by_gear"][0]
        self.assertGreaterEqual(found - before, 100)
        self.assertLessEqual(found - before, 150)

    def test_the_shelf_nearest_first(self):
        found = ask(
            circumference_mm=2400, speed_kmh=110, wanted_rpm=2600, axle_options=[3.73, 4.1, 4.56, 4.88], in_gear=4
        )["options"]
        self.assertEqual([one["off_rpm"] for one in found], sorted((one["off_rpm"] for one in found), key=abs))
        for one in found:
            self.assertAlmostEqual(one["rpm"], 110 / 3.6 / 2.4 * 60 * one["axle_ratio"], places=6)
            self.assertAlmostEqual(one["off_rpm"], one["rpm"] - 2600, places=6)
        last = ask(circumference_mm=2400, speed_kmh=110, wanted_rpm=2600, axle_options=[4.1])["options"][0]
        self.assertAlmostEqual(last["rpm"], 110 / 3.6 / 2.4 * 60 * 4.1 * GEARS[-1], places=6)

    def test_what_was_not_asked_is_null(self):
        found = ask(circumference_mm=2000, rpm=3000)
        for name in ("rpm_by_gear", "effective_ratio_change_pct", "axle_to_restore", "options"):
            self.assertIn(name, found)
            self.assertIsNone(found[name])

    @given(st.floats(0.5, 5), st.floats(1, 8), st.floats(500, 4000), st.floats(1, 300))
    def test_there_and_back(self, gear, axle, circumference, speed):
        line = Driveline((gear,), axle, circumference)
        self.assertAlmostEqual(kmh_at(line, 1, rpm_at(line, 1, speed)), speed, delta=1e-9 * speed)

    @given(st.floats(1, 8), st.floats(500, 4000), st.floats(500, 4000))
    def test_restoring_undoes_the_change(self, axle, now, before):
        self.assertAlmostEqual(
            effective_change_pct(axle_to_restore(axle, now, before), now, axle, before), 0.0, places=9
        )
        self.assertAlmostEqual(rolling_mm(now) / rolling_mm(before), now / before, places=9)


class BadInput(unittest.TestCase):
    def test_by_field(self):
        for values, field in (
            ({"speed_kmh": 100}, "tyre"),
            ({"tyre": "225/45R17", "diameter_mm": 600, "speed_kmh": 100}, "diameter_mm"),
            ({"circumference_mm": 2000}, "speed_kmh"),
            ({"circumference_mm": 2000, "speed_kmh": -1}, "speed_kmh"),
            ({"circumference_mm": 2000, "rpm": 0}, "rpm"),
            ({"circumference_mm": 0, "speed_kmh": 100}, "circumference_mm"),
            ({"circumference_mm": 2000, "speed_kmh": 100, "gears": []}, "gears"),
            ({"circumference_mm": 2000, "speed_kmh": 100, "gears": [3.5, 0]}, "gears.1"),
            ({"circumference_mm": 2000, "speed_kmh": 100, "gears": [3.5, "2"]}, "gears.1"),
            ({"circumference_mm": 2000, "speed_kmh": 100, "axle_ratio": None}, "axle_ratio"),
            ({"circumference_mm": 2000, "speed_kmh": 100, "axle_ratio": True}, "axle_ratio"),
            ({"circumference_mm": 2000, "speed_kmh": 100, "in_gear": 6}, "in_gear"),
            ({"circumference_mm": 2000, "speed_kmh": 100, "in_gear": 0}, "in_gear"),
            ({"circumference_mm": 2000, "speed_kmh": 100, "axle_options": []}, "axle_options"),
            ({"circumference_mm": 2000, "speed_kmh": 100, "axle_options": [4.1]}, "wanted_rpm"),
            ({"circumference_mm": 2000, "rpm": 3000, "axle_options": [4.1], "wanted_rpm": 2500}, "speed_kmh"),
            ({"circumference_mm": 2000, "speed_kmh": 100, "before": {"tyre": "225/45R17"}}, "before.axle_ratio"),
            ({"circumference_mm": 2000, "speed_kmh": 100, "before": {"axle_ratio": 4.1}}, "before.tyre"),
            ({"circumference_mm": 2000, "speed_kmh": 100, "tyres": 4}, "tyres"),
        ):
            with self.subTest(values=values):
                self.assertEqual(ask(**values)["field"], field)
