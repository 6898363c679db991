"""Room beside the frame: plate 2 mm and 4 to 5 mm (common practice), both ends of the stroke, again before the weld,
each side for itself.
"""

import unittest
from dataclasses import replace

from hypothesis import given
from hypothesis import strategies as st

from rimcore.ride.framefit import Trial, judge_frame_fit, judge_trial

ONE = Trial("Toe bolt", "rear left", 7.0, 9.0, 2.0, True)


class Room(unittest.TestCase):
    def test_the_rule_of_the_trade(self):
        for least, state in (
            (7.0, "clear"),
            (6.0, "clear"),
            (5.9, "tight"),
            (2.0, "tight"),
            (1.9, "hit"),
            (-1.0, "hit"),
        ):
            self.assertEqual(judge_trial(replace(ONE, bump_mm=least)).state, state, least)

    def test_never_clear_before_it_was_tried_again(self):
        found = judge_trial(replace(ONE, again=False))
        self.assertEqual(found.state, "unmeasured")
        self.assertIn("before anything is welded", found.reason)

    def test_both_ends_of_the_stroke(self):
        for name in ("bump_mm", "droop_mm"):
            self.assertEqual(judge_trial(replace(ONE, **{name: None})).state, "unmeasured")
        self.assertEqual(judge_trial(replace(ONE, droop_mm=1.0)).state, "hit")

    def test_left_and_right_apart_and_the_newest_counts(self):
        found = judge_frame_fit(
            [
                ONE,
                replace(ONE, where="rear right", bump_mm=1.0),
                replace(ONE, bump_mm=0.0),
                replace(ONE, what="toe bolt "),
            ]
        )
        self.assertEqual([(one.where, one.state) for one in found], [("rear left", "clear"), ("rear right", "hit")])

    @given(st.floats(-50, 50), st.floats(-50, 50), st.floats(0, 10))
    def test_what_comes_away_makes_room(self, bump, droop, plate):
        one = Trial("x", "y", bump, droop, plate, True)
        after = replace(one, bump_mm=bump + one.away_mm, droop_mm=droop + one.away_mm)
        self.assertEqual(judge_trial(after).state, "clear")
        self.assertLess(after.away_mm, 1e-9)
