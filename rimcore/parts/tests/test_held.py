"""Mounts and bearings: an offer's word measures no gap, and sizes are held against the old part's own."""

import unittest
from dataclasses import replace

from rimcore.families import FAMILIES
from rimcore.parts.stood import Stood
from rimcore.parts.tests.test_parts import place


class Held(unittest.TestCase):
    def test_a_mount_is_never_clear_by_what_its_offer_says(self):
        for given, words in (({}, "not said"), ({"raised_mm": 0.0}, "as before"), ({"raised_mm": -8.0}, "8 mm lower")):
            (judged,) = FAMILIES["mount"].judge(given, place())
            self.assertEqual(judged.state, "unmeasured")
            self.assertIn(words, judged.reason)

    def test_a_bearing_is_clear_only_against_the_old_ones_three_sizes(self):
        sizes = {"outer_mm": 72.0, "inner_mm": 39.0, "width_mm": 37.0}
        for old, state in (
            ({}, "unmeasured"),
            ({"outer_mm": 72.0, "inner_mm": 39.0}, "unmeasured"),
            (sizes, "clear"),
            ({**sizes, "width_mm": 36.9}, "hit"),
        ):
            where = replace(place(), stood=Stood(old={"bearing": old}))
            (judged,) = FAMILIES["bearing"].judge(sizes, where)
            self.assertEqual(judged.state, state, old)
