"""How a corner stands: each judgement at both ends of its limits, the dip at another height, bars to scale."""

import unittest

from rimcore.quantities.judgement import InputUsed
from rimcore.ride.springs import Coil, Sprung, Stack
from rimcore.ride.standing import (
    LEAST_BUMP_MM,
    Dip,
    Stands,
    bars,
    frequency_ratio,
    judge_bind,
    judge_bump,
    judge_dip,
    judge_ride,
    wheel_travel_mm,
)

SOURCE = InputUsed("lane", "40 mm", "Ina", "1 Nov 2026")


def stands(bump=50.0, droop=60.0, drop=20.0, **more):
    return Stands("front left", bump, droop, drop, **more)


class Judged(unittest.TestCase):
    def test_bump_left_by_the_use(self):
        for use, least in LEAST_BUMP_MM.items():
            for bump, state in (
                (least, "clear"),
                (least - 0.1, "tight"),
                (0.1, "tight"),
                (0.0, "hit"),
                (-3.0, "hit"),
                (None, "unmeasured"),
            ):
                self.assertEqual(judge_bump(stands(bump), use).state, state, (use, bump))
        found = judge_bump(stands(30.0), "track")
        self.assertEqual((found.value, found.margin, found.remedies[0]), (30.0, -5.0, "5 mm higher"))
        self.assertEqual(found.formula, "bump as measured − stroke taken by the height = 50 − (20) = 30 mm")

    def test_the_same_dip_at_two_heights(self):
        """Common practice: too low at the first drop, raised 25 mm, the same dip clear."""
        dip = Dip("farm lane", 42.0, SOURCE)
        low, raised = judge_dip(stands(30.0, drop=45.0), dip), judge_dip(stands(55.0, drop=20.0), dip)
        self.assertEqual((low.state, low.value), ("hit", -12.0))
        self.assertIn("met 12 mm early", low.reason)
        self.assertEqual(low.remedies[0], "20 mm higher")
        self.assertEqual((raised.state, raised.value), ("clear", 13.0))
        for bump, state in ((50.0, "clear"), (49.9, "tight"), (42.0, "tight"), (41.9, "hit")):
            self.assertEqual(judge_dip(stands(bump), dip).state, state, bump)
        self.assertEqual(judge_dip(stands(None), dip).state, "unmeasured")
        self.assertIn(SOURCE, raised.inputs)

    def test_a_drive_that_touched_says_too_little_to_be_clear(self):
        """It was stopped there: what it would have taken is not known, only that it was more."""
        touched = Dip("farm lane", 42.0, SOURCE, True)
        for bump, state in ((30.0, "hit"), (45.0, "unmeasured"), (90.0, "unmeasured")):
            self.assertEqual(judge_dip(stands(bump), touched).state, state, bump)
        self.assertEqual(judge_dip(stands(90.0), Dip("farm lane", None, SOURCE)).state, "unmeasured", "no motion ratio")

    def test_the_rule_counts(self):
        least = LEAST_BUMP_MM["street"]
        self.assertEqual(judge_bump(stands(least + 1.0, uncertainty_mm=2.0), "street").state, "tight")
        self.assertEqual(judge_bump(stands(least + 2.0, uncertainty_mm=2.0), "street").state, "clear")
        self.assertEqual(judge_dip(stands(51.0, uncertainty_mm=2.0), Dip("farm lane", 42.0, SOURCE)).state, "tight")

    def test_frequencies(self):
        front, rear = Sprung(Stack(Coil(30, 300, 100)), 400), Sprung(Stack(Coil(36, 300, 100)), 300)
        self.assertAlmostEqual(frequency_ratio(front, rear), (36 / 300 / (30 / 400)) ** 0.5, 9)
        self.assertIsNone(frequency_ratio(front, None))
        self.assertIsNone(frequency_ratio(Sprung(Stack(Coil(30, 300, 100)), 100, preload_mm=90), rear), "topped out")

    def test_a_cable_tie_on_the_shaft_is_wheel_travel_over_the_ratio(self):
        self.assertEqual(wheel_travel_mm(33.6, 0.8), 42.0)

    def test_coils_before_the_stop(self):
        self.assertEqual(judge_bind(stands()).state, "unmeasured")
        self.assertEqual(
            judge_bind(stands(unknown=("what moves with the wheel",))).reason, "not known: what moves with the wheel"
        )
        corner = Sprung(Stack(Coil(60, 200, 80)), 300)
        room = corner.bump_to_block_mm
        for bump, state in ((room - 6, "clear"), (room - 4, "tight"), (room + 1, "hit")):
            found = judge_bind(stands(bump, sprung=corner))
            self.assertEqual((found.state, found.where), (state, "front left"))

    def test_everything_of_every_corner(self):
        dip = Dip("farm lane", 42.0, SOURCE)
        found = judge_ride([stands(dips=(dip, dip)), stands()], "street")
        self.assertEqual(
            [one.code for one in found], ["ride.bump", "ride.bind", "ride.dip", "ride.dip", "ride.bump", "ride.bind"]
        )


class Drawn(unittest.TestCase):
    def test_bars_are_to_scale_and_stay_on_the_sheet(self):
        corner = Sprung(Stack(Coil(60, 200, 80)), 300)
        bar, other = bars([stands(40.0, 60.0, sprung=corner, dips=(Dip("lane", 20.0, SOURCE),)), stands(None, None)])
        self.assertEqual((bar.x, bar.rest, bar.top, bar.bottom), (70.0, 180.0, 126.0, 261.0))
        self.assertEqual(bar.dips, (("lane", 153.0, "clear"),))
        self.assertAlmostEqual(bar.bind, round(180 - corner.bump_to_block_mm * 1.35, 1))
        self.assertEqual((other.x, other.top, other.bottom, other.bind), (210.0, None, None, None))
        far = bars([stands(400.0, 400.0)])[0]
        self.assertEqual((far.top, far.bottom), (14.0, 300.0))
