"""Scatter of repeated readings against SciPy and NumPy, and its coverage by drawing."""

import unittest

import numpy as np
from hypothesis import given
from hypothesis import strategies as st
from scipy import stats

from rimcore.well.read.repeats import BETTER, ENOUGH, WORSE, Scatter, judge_method, scatter


class Pooled(unittest.TestCase):
    def test_one_place_is_numpys_own_deviation(self):
        values = [10.1, 10.4, 9.9, 10.0, 10.3]
        found = scatter([values])
        self.assertAlmostEqual(found.deviation, np.std(values, ddof=1), places=12)
        self.assertAlmostEqual(found.doubt, stats.t.ppf(0.975, 4) * np.std(values, ddof=1), places=12)

    def test_several_places_are_one_way_anova_within(self):
        """The pooled variance is the mean square within groups of a one-way analysis of variance."""
        rng = np.random.default_rng(5)
        sets = [list(rng.normal(mean, 0.6, size)) for mean, size in ((10, 3), (50, 5), (200, 2), (8, 4))]
        within = sum(np.var(each, ddof=1) * (len(each) - 1) for each in sets) / sum(len(each) - 1 for each in sets)
        self.assertAlmostEqual(scatter(sets).deviation ** 2, within, places=12)

    def test_a_place_read_once_says_nothing(self):
        self.assertIsNone(scatter([[1.0], [2.0]]))
        self.assertEqual(scatter([[1.0], [2.0, 2.0]]), Scatter(1, 1, 0.0, 0.0))

    @given(st.lists(st.lists(st.floats(-500, 500), min_size=1, max_size=5), max_size=5), st.floats(-100, 100))
    def test_where_the_places_lie_does_not_matter(self, sets, shift):
        one, other = scatter(sets), scatter([[value + shift * k for value in each] for k, each in enumerate(sets)])
        if one is None:
            self.assertIsNone(other)
        else:
            self.assertAlmostEqual(one.deviation, other.deviation, places=6)

    def test_one_more_reading_lies_within_it_about_as_often_as_said(self):
        rng = np.random.default_rng(11)
        inside = 0
        for _ in range(2000):
            found = scatter([list(rng.normal(0, 1, 4)), list(rng.normal(9, 1, 4))])
            inside += abs(rng.normal(0, 1)) <= found.doubt
        self.assertTrue(0.93 <= inside / 2000 <= 0.97, inside / 2000)


class Judged(unittest.TestCase):
    def test_by_share_of_what_is_stated(self):
        for share, state, words in (
            (WORSE + 0.01, "tight", "more than"),
            (WORSE - 0.01, "clear", "as good"),
            (BETTER + 0.01, "clear", "as good"),
            (BETTER - 0.01, "clear", "better"),
        ):
            judged = judge_method("rule", 1.0, Scatter(2, ENOUGH, 0.3, share))
            self.assertEqual(judged.state, state)
            self.assertIn(words, judged.reason)

    def test_limits_of_practice_and_what_follows(self):
        """A quarter more than stated is tight and asks for one's own ±; stated 2 mm, read ±2.6 mm."""
        tight, clear = (
            judge_method("rule", 2.0, Scatter(3, 6, 1.0, 2.6)),
            judge_method("rule", 2.0, Scatter(3, 6, 1.0, 2.4)),
        )
        self.assertEqual((tight.state, clear.state), ("tight", "clear"))
        self.assertEqual((tight.remedies, clear.remedies), (("use your own ± from now on",), ()))
        self.assertAlmostEqual(tight.margin, -0.6, 12)
        self.assertIn("better", judge_method("rule", 2.0, Scatter(3, 6, 1.0, 1.19)).reason)
        self.assertIn("as good", judge_method("rule", 2.0, Scatter(3, 6, 1.0, 1.21)).reason)
        self.assertEqual(tight.formula, "t(0.975, 6) × s = 2.60 × 1.000 mm")
        self.assertEqual(
            judge_method("rule", 1.0, Scatter(1, 5, 0.0, 0.0)).formula, "t(0.975, 5) × s = 0.00 × 0.000 mm"
        )

    def test_how_many_repeats_there_are(self):
        for found, words in (
            (None, "0 repeats; 5"),
            (Scatter(1, 1, 0.1, 0.2), "1 repeat; 5"),
            (Scatter(1, 4, 0.1, 0.2), "4 repeats; 5"),
        ):
            self.assertIn(words, judge_method("rule", 1.0, found).reason)

    def test_too_few_is_unmeasured(self):
        for found in (None, Scatter(1, ENOUGH - 1, 0.1, 0.2)):
            self.assertEqual(judge_method("rule", 1.0, found).state, "unmeasured")
        self.assertEqual(judge_method("rule", 1.0, Scatter(1, ENOUGH, 0.0, 0.0)).state, "clear")


if __name__ == "__main__":
    unittest.main()
