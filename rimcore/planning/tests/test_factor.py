"""What estimates are worth: the posterior against a second way, and what it does for few and many jobs."""

from __future__ import annotations

import math
import unittest

import numpy as np
from scipy import integrate, stats

from rimcore.planning.calculations import FACTOR, SCHEDULE
from rimcore.planning.factor import ALPHA_0, BETA_0, KAPPA_0, MU_0, Past, learnt


class Learnt(unittest.TestCase):
    def test_one_by_one_is_as_all_at_once(self) -> None:
        """Updating the four numbers job by job (Gelman et al., § 3.3, n = 1) gives what all jobs give together."""
        taken = [1.2, 2.5, 0.9, 1.7, 1.6]
        mu, kappa, alpha, beta = MU_0, KAPPA_0, ALPHA_0, BETA_0
        for one in taken:
            x = math.log(one)
            beta += kappa * (x - mu) ** 2 / (2 * (kappa + 1))
            mu, kappa, alpha = (kappa * mu + x) / (kappa + 1), kappa + 1, alpha + 0.5
        found = learnt([Past(2.0, 2.0 * one) for one in taken])
        self.assertAlmostEqual(found.median, math.exp(mu))
        self.assertAlmostEqual(found.sigma_task, math.sqrt(beta / alpha))
        self.assertAlmostEqual(found.sigma_common, math.sqrt(beta / (alpha * kappa)))
        self.assertAlmostEqual(found.sigma, math.sqrt(beta * (kappa + 1) / (alpha * kappa)))
        self.assertEqual(found.df, 2 * alpha)

    def test_the_next_job_lies_in_its_interval_by_the_posterior_itself(self) -> None:
        """Over the variance, numerically: four fifths of what the posterior says of a next job."""
        found = learnt([Past(1, one) for one in (1.1, 1.9, 1.4, 2.4)])
        alpha, kappa = found.df / 2, KAPPA_0 + 4
        beta = found.sigma_task**2 * alpha
        low, high = (math.log(one / found.median) for one in (found.low_80, found.high_80))

        def inside(variance: float) -> float:
            wide = math.sqrt(variance * (1 + 1 / kappa))
            share = stats.norm.cdf(high / wide) - stats.norm.cdf(low / wide)
            return float(share * stats.invgamma.pdf(variance, alpha, scale=beta))

        self.assertAlmostEqual(integrate.quad(inside, 0, np.inf)[0], 0.8, places=5)

    def test_the_prior_alone(self) -> None:
        found = FACTOR.answer({"past": []})
        self.assertEqual((found["used"], found["prior_share_pct"], found["df"]), (0, 100.0, 4.0))
        self.assertAlmostEqual(found["median"], 1.5)
        self.assertAlmostEqual(found["sigma_task"], 0.3)

    def test_three_of_a_kind_are_taken_alone(self) -> None:
        past = [{"estimated_hours": 2, "taken_hours": 6, "kind": "exhaust"}] * 3
        past += [{"estimated_hours": 2, "taken_hours": 2, "kind": "brakes"}] * 2
        self.assertEqual(FACTOR.answer({"past": past, "kind": "exhaust"})["used"], 3)
        self.assertEqual(FACTOR.answer({"past": past, "kind": "brakes"})["used"], 5)
        self.assertEqual(FACTOR.answer({"past": past, "kind": "mounts"})["used"], 5)
        self.assertEqual(FACTOR.answer({"past": past})["used"], 5)

    def test_many_jobs_forget_the_prior_and_forty_steps_do_not_swing_as_one(self) -> None:
        many = learnt([Past(1, 2)] * 500)
        self.assertAlmostEqual(many.median, 2.0, delta=0.01)
        self.assertLess(many.sigma_common, many.sigma_task / 20)

    def test_its_four_numbers_are_the_schedules(self) -> None:
        found = FACTOR.answer({"past": [{"estimated_hours": 1, "taken_hours": 2}]})
        plan = {
            "today": "2027-05-03",
            "week_hours": [2] * 7,
            "tasks": [{"id": "a", "hours": [1, 3, 9]}],
            "factor": {name: found[name] for name in ("median", "sigma_common", "sigma_task", "df")},
            "draws": 2000,
        }
        median = SCHEDULE.answer(plan)["ready_p50_on"]
        self.assertIn(median, ("2027-05-04", "2027-05-05", "2027-05-06"))
