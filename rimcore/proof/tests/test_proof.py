"""Statistics against SciPy; ledger and promises by hand."""

import unittest

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy import stats

from rimcore.proof.change import Asked, change_of
from rimcore.proof.held import kept_promise
from rimcore.proof.strip import step_of, strip_scale
from rimcore.proof.words import verdict_of
from rimcore.work.ledger import Line, mass_change, money

RUNS = st.lists(st.floats(1, 100), min_size=3, max_size=12)


def verdict(before, after):
    return verdict_of(Asked(tuple(before), tuple(after)), "s")


class Welch(unittest.TestCase):
    @settings(max_examples=100, deadline=None)
    @given(RUNS, RUNS)
    def test_interval_is_scipys(self, before, after):
        if np.ptp(before) < 0.1 or np.ptp(after) < 0.1:
            return
        found = change_of(Asked(tuple(before), tuple(after)))
        theirs = stats.ttest_ind(after, before, equal_var=False).confidence_interval(0.95)
        self.assertAlmostEqual(found.low, theirs.low, places=6)
        self.assertAlmostEqual(found.high, theirs.high, places=6)
        self.assertEqual(found.real, not theirs.low <= 0 <= theirs.high)

    def test_one_run_shows_nothing(self):
        found = verdict([5.0], [4.0, 4.1])
        self.assertIsNone(found.shown)
        self.assertIn("repeat", found.sentence)

    def test_no_scatter(self):
        found = verdict([5.0, 5.0], [4.0, 4.0])
        self.assertIsNone(found.shown, "two runs a side never suffice")
        self.assertIn("the same", found.sentence)
        self.assertIsNone(verdict([10.0, 10.0], [10.1, 10.1]).shown)

    def test_the_step_in_which_it_is_read_is_a_doubt_of_its_own(self):
        """Welch by hand with a side's variance at step² ÷ 12: half width t(4; 0.975) √(2 × 0.01 ÷ 12 ÷ 3)."""
        found = verdict([10.0] * 3, [10.1] * 3)
        self.assertAlmostEqual(
            found.change.high - found.change.change, 2.7764451 * np.sqrt(2 * 0.01 / 12 / 3), places=6
        )
        self.assertTrue(found.shown)

    def test_the_step_is_the_coarsest_of_which_all_are_multiples(self):
        self.assertEqual([step_of(one) for one in ([6.91, 7.0], [10.1, 10.0], [312.0])], [0.01, 0.1, 1.0])

    def test_scale_holds_the_values(self):
        for values in ([6.4, 7.3], [88.6, 92.0], [1, 1], [0.0, 0.0], [-5, 3]):
            low, high, ticks = strip_scale(values)
            self.assertTrue(low <= min(values) and high >= max(values) and high > low and len(ticks) <= 9, values)

    def test_promise(self):
        self.assertEqual([kept_promise(3.8, x, 1.0) for x in (4.1, 5.5, 7.0)], ["clear", "tight", "hit"])


class Sums(unittest.TestCase):
    def test_money_by_state(self):
        lines = [
            Line(10000, 4, "ordered"),
            Line(5000, 4, "fitted"),
            Line(7000, 1, "returned"),
            Line(9000, 2, "sold", 6000),
            Line(None, 1, "shortlisted"),
        ]
        found = money(lines, 100000, other_spent_minor=500)
        self.assertEqual(
            (found.spent_minor, found.promised_minor, found.without_price), (20000 + 12000 + 500, 40000, 1)
        )
        self.assertEqual(found.left_minor, 100000 - 72500)

    def test_mass(self):
        found = mass_change([-1.4, -1.4, 0.1], [None, None])
        self.assertAlmostEqual(found.front_kg, -2.7)
        self.assertIsNone(found.rear_kg)
        self.assertEqual(found.unknown, 2)
