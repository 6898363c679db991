"""Changes against scipy and statsmodels; promises against χ² and t; by hand where the law is the test."""

from __future__ import annotations

import math
import random
import unittest
from typing import Any

import numpy as np
import statsmodels.api as sm
from scipy import stats
from statsmodels.stats.multitest import multipletests
from statsmodels.stats.power import TTestIndPower, TTestPower

from rimcore.proof.calculations import CALIBRATE, COMPARE
from rimcore.proof.change import holm
from rimcore.quantities.errors import BadInput


def compare(**given: Any) -> dict[str, Any]:
    return COMPARE.answer(given)


def runs(chance: random.Random, count: int, mean: float, sd: float) -> list[float]:
    return [round(chance.gauss(mean, sd), 4) for _ in range(count)]


class AgainstOthers(unittest.TestCase):
    def test_unpaired_is_welch(self) -> None:
        for seed in range(30):
            chance = random.Random(seed)
            before, after = runs(chance, chance.randint(2, 9), 10, 1), runs(chance, chance.randint(2, 9), 9, 2)
            found = compare(before=before, after=after)
            theirs = stats.ttest_ind(after, before, equal_var=False)
            interval = theirs.confidence_interval(0.95)
            self.assertAlmostEqual(found["low"], interval.low, places=6)
            self.assertAlmostEqual(found["high"], interval.high, places=6)
            self.assertAlmostEqual(found["p"], theirs.pvalue, places=7)
            self.assertAlmostEqual(found["df"], theirs.df, places=6)
            self.assertEqual(found["real"], not interval.low <= 0 <= interval.high)

    def test_paired_is_the_t_of_the_differences(self) -> None:
        chance = random.Random(4)
        before = runs(chance, 6, 30, 3)
        after = [one - 0.8 + chance.gauss(0, 0.3) for one in before]
        found = compare(before=before, after=after, design="paired", confidence=0.9)
        theirs = stats.ttest_rel(after, before)
        interval = theirs.confidence_interval(0.9)
        self.assertAlmostEqual(found["low"], interval.low, places=6)
        self.assertAlmostEqual(found["high"], interval.high, places=6)
        self.assertAlmostEqual(found["p"], theirs.pvalue, places=7)

    def test_drift_and_covariates_are_least_squares(self) -> None:
        for seed in range(12):
            chance = random.Random(seed)
            n, m = chance.randint(3, 7), chance.randint(3, 7)
            at = [*range(n), *(n + k + chance.random() for k in range(m))]
            chance.shuffle(at)
            air = [chance.uniform(1.1, 1.3) for _ in range(n + m)]
            y = [
                20 + 0.1 * t + 5 * a - (k >= n) * 0.7 + chance.gauss(0, 0.2)
                for k, (t, a) in enumerate(zip(at, air, strict=True))
            ]
            found = compare(
                before=y[:n],
                after=y[n:],
                design="drift",
                before_at=at[:n],
                after_at=at[n:],
                covariates={"air": {"before": air[:n], "after": air[n:]}},
            )
            side = [0.0] * n + [1.0] * m
            theirs = sm.OLS(y, sm.add_constant(np.column_stack([side, at, air]))).fit()
            self.assertAlmostEqual(found["change"], theirs.params[1], places=6)
            self.assertAlmostEqual(found["se"], theirs.bse[1], places=6)
            self.assertAlmostEqual(found["p"], theirs.pvalues[1], places=6)
            low, high = theirs.conf_int()[1]
            self.assertAlmostEqual(found["low"], low, places=6)
            self.assertAlmostEqual(found["high"], high, places=6)

    def test_holm_is_theirs(self) -> None:
        for seed in range(20):
            chance = random.Random(seed)
            ps = [round(chance.random() ** 3, 5) for _ in range(chance.randint(1, 9))]
            theirs = multipletests(ps, method="holm")[1]
            for one, other in zip(holm(ps), theirs, strict=True):
                self.assertAlmostEqual(one or 0.0, other, places=9)

    def test_runs_for_is_the_least_with_enough_power(self) -> None:
        chance = random.Random(9)
        before, after = runs(chance, 5, 10, 1.0), runs(chance, 5, 9.4, 1.2)
        sd = math.sqrt((np.var(before, ddof=1) + np.var(after, ddof=1)) / 2)
        for useful in (0.6, 1.0, 2.0, 4.0):
            n = compare(before=before, after=after, useful=useful, better="less")["runs_for"]
            power = TTestIndPower()
            self.assertGreaterEqual(power.power(useful / sd, n, 0.05), 0.8)
            if n > 2:
                self.assertLess(power.power(useful / sd, n - 1, 0.05), 0.8)
        difference = np.subtract(after, before)
        n = compare(before=before, after=after, design="paired", useful=1.0)["runs_for"]
        effect = 1.0 / difference.std(ddof=1)
        self.assertGreaterEqual(TTestPower().power(effect, n, 0.05), 0.8)
        self.assertLess(TTestPower().power(effect, n - 1, 0.05), 0.8)


class ByRule(unittest.TestCase):
    def test_what_can_not_be_told_is_null(self) -> None:
        one = compare(before=[1.0], after=[2.0, 3.0])
        self.assertEqual((one["change"], one["real"], one["low"], one["runs_for"]), (1.5, None, None, None))
        still = compare(before=[1.0, 1.0], after=[2.0, 2.0])
        self.assertEqual((still["change"], still["real"], still["se"]), (1.0, None, None))
        self.assertIn("do not scatter", still["warnings"][0])
        read = compare(before=[1.0, 1.0], after=[2.0, 2.0], resolution=0.1)
        self.assertAlmostEqual(read["se"], 0.1 / math.sqrt(12))
        self.assertTrue(read["real"])
        apart = compare(before=[1, 2], after=[3, 4], covariates={"air": {"before": [1, 1], "after": [2, 2]}})
        self.assertEqual((apart["change"], apart["real"]), (None, None))
        self.assertEqual(apart["not_told_apart"], ["air"])
        exact = compare(before=[1, 2], after=[3], design="drift", before_at=[0, 1], after_at=[0.5])
        self.assertEqual((exact["real"], exact["low"]), (None, None))
        self.assertIsNotNone(exact["change"])

    def test_worth(self) -> None:
        before, after = [10.0, 10.1, 9.9, 10.0], [9.0, 9.1, 8.9, 9.0]
        for useful, better, worth in (
            (0.5, "less", "yes"),
            (1.0, "less", "open"),
            (2.0, "less", "no"),
            (0.5, "more", "no"),
        ):
            self.assertEqual(compare(before=before, after=after, useful=useful, better=better)["worth"], worth)
        self.assertIsNone(compare(before=before, after=after, useful=0.5)["worth"])

    def test_odd_runs_are_told_and_stay(self) -> None:
        before = [5.0, 5.1, 4.9, 5.05, 9.0]
        found = compare(before=before, after=[5.0, 5.1])
        self.assertEqual(found["odd"], [{"side": "before", "index": 4}])
        self.assertAlmostEqual(found["mean_before"], float(np.mean(before)))
        paired = compare(before=[0.0] * 5, after=before, design="paired")
        self.assertEqual(paired["odd"], [{"side": "pairs", "index": 4}])

    def test_a_family_is_held_together(self) -> None:
        real = {"before": [10.0, 10.1, 9.9], "after": [9.5, 9.4, 9.6]}
        found = compare(family=[{"name": "a", **real}, {"name": "b", "before": [1], "after": [2]}])["results"]
        self.assertEqual([one["name"] for one in found], ["a", "b"])
        self.assertEqual(found[0]["p_holm"], found[0]["p"])
        self.assertEqual((found[1]["p_holm"], found[1]["real_of_family"]), (None, None))

    def test_refused(self) -> None:
        for given, field in (
            ({"before": [], "after": [1]}, "before"),
            ({"before": [1]}, "after"),
            ({"before": [1, 2], "after": [1], "design": "paired"}, "after"),
            ({"before": [1], "after": [1], "design": "drift"}, "before_at"),
            ({"before": [1], "after": [1], "useful": 0}, "useful"),
            (
                {"before": [1], "after": [1], "covariates": {"a": {"before": [1, 2], "after": [1]}}},
                "covariates.a.before",
            ),
            ({"family": [{"before": [1], "after": [1]}]}, "family.0.name"),
            ({"family": [{"name": "a", "before": [], "after": [1]}]}, "family.0.before"),
        ):
            with self.assertRaises(BadInput) as caught:
                compare(**given)
            self.assertEqual(caught.exception.field, field, given)


class Honest(unittest.TestCase):
    def pairs(self, off: list[float], pm: float = 1.0) -> dict[str, Any]:
        return CALIBRATE.answer({"pairs": [{"promised": 5.0, "measured": 5.0 + one, "pm": pm} for one in off]})

    def test_intervals_are_those_of_scipy(self) -> None:
        chance = random.Random(2)
        off = [chance.gauss(0.1, 0.5) for _ in range(9)]
        found = self.pairs(off)
        interval = stats.t.interval(0.95, 8, np.mean(off), stats.sem(off))
        self.assertAlmostEqual(found["bias_low"], interval[0], places=7)
        self.assertAlmostEqual(found["bias_high"], interval[1], places=7)
        z = 1.96 * np.array(off)
        self.assertAlmostEqual(found["scale"], math.sqrt(np.mean(z**2)))
        self.assertAlmostEqual(found["scale_low"], found["scale"] * math.sqrt(9 / stats.chi2.ppf(0.975, 9)), places=7)
        self.assertAlmostEqual(found["scatter"], np.std(z, ddof=1))
        self.assertAlmostEqual(
            found["scatter_high"], found["scatter"] * math.sqrt(8 / stats.chi2.ppf(0.025, 8)), places=7
        )

    def test_verdicts(self) -> None:
        spread = [-2.1, 1.8, -1.5, 2.2, -1.9, 1.6, -0.2, 0.1]
        self.assertEqual(self.pairs(spread[:4])["verdict"], "too few")
        sure = self.pairs(spread)
        self.assertEqual((sure["verdict"], sure["correct_by"]), ("too sure", 0.0))
        self.assertEqual(sure["widen_by"], sure["scatter"])
        self.assertEqual(self.pairs(spread, 30.0)["verdict"], "too careful")
        self.assertEqual(self.pairs(spread, 3.4)["verdict"], "honest")
        leaning = self.pairs([1.1, 0.9, 1.0, 1.2, 0.8])
        self.assertEqual(leaning["verdict"], "leaning")
        self.assertAlmostEqual(leaning["correct_by"], -1.0)

    def test_groups_and_one_pair(self) -> None:
        one = {"promised": 1, "measured": 2, "pm": 1}
        found = CALIBRATE.answer({"pairs": [one, one | {"group": "gap"}]})
        self.assertEqual((found["n"], list(found["groups"]), found["groups"]["gap"]["bias_low"]), (2, ["gap"], None))
        self.assertEqual(CALIBRATE.answer({"pairs": [one]})["scatter"], None)
