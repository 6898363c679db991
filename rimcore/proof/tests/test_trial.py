"""Planned runs: what the intervals cover by simulation, how many are wanted, their order, what differs."""

from __future__ import annotations

import unittest
from unittest import mock

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st
from statsmodels.stats.power import TTestIndPower

from rimcore.proof.change import Asked, change_of
from rimcore.proof.trial import (
    Driven,
    asked_of,
    claimed_together,
    differences,
    order_of,
    progress_of,
    runs_planned,
)
from rimcore.quantities.errors import BadInput

TIMES, CHANGE = 2000, -0.7


class Coverage(unittest.TestCase):
    """95 of 100 intervals hold the true change, within two: Student's promise, tried."""

    def covered(self, draw) -> float:
        chance = np.random.default_rng(20261201)
        held = 0
        with mock.patch("rimcore.proof.change.runs_for", return_value=None):
            for _ in range(TIMES):
                found = change_of(draw(chance))
                held += found.low <= CHANGE <= found.high
        return 100.0 * held / TIMES

    def test_unpaired_with_unequal_scatter(self):
        def draw(chance):
            return Asked(tuple(chance.normal(10, 0.5, 6)), tuple(chance.normal(10 + CHANGE, 1.0, 8)))

        self.assertAlmostEqual(self.covered(draw), 95.0, delta=2.0)

    def test_paired(self):
        def draw(chance):
            day = chance.normal(0, 3, 6)
            before = day + chance.normal(10, 0.4, 6)
            return Asked(tuple(before), tuple(day + chance.normal(10 + CHANGE, 0.4, 6)), design="paired")

        self.assertAlmostEqual(self.covered(draw), 95.0, delta=2.0)

    def test_to_and_fro_against_drift(self):
        order = order_of(4, "swap")

        def draw(chance):
            runs = [
                Driven(10 + 0.2 * k + (CHANGE if side == "B" else 0.0) + chance.normal(0, 0.3), side, k, {})
                for k, side in enumerate(order)
            ]
            return asked_of(runs, "swap")[0]

        self.assertAlmostEqual(self.covered(draw), 95.0, delta=2.0)

    def test_corrected_for_the_air(self):
        def draw(chance):
            runs = []
            for k, side in enumerate("AAAAABBBBB"):
                air = chance.uniform(5, 25) + (3 if side == "B" else 0)
                value = 10 - 0.05 * air + (CHANGE if side == "B" else 0.0) + chance.normal(0, 0.3)
                runs.append(Driven(value, side, k, {"air_c": air}))
            return asked_of(runs, "after")[0]

        self.assertAlmostEqual(self.covered(draw), 95.0, delta=2.0)


class Sizing(unittest.TestCase):
    def test_it_is_statsmodels_power(self):
        for effect in (0.6, 1.0, 1.7, 2.5):
            theirs = TTestIndPower().solve_power(effect, alpha=0.05, power=0.8)
            self.assertEqual(runs_planned(effect, 1.0, "after"), max(3, int(np.ceil(theirs - 1e-9))))

    def test_drift_takes_no_fewer(self):
        for effect in (0.7, 1.2, 2.0):
            self.assertGreaterEqual(runs_planned(effect, 1.0, "swap"), runs_planned(effect, 1.0, "after"))

    def test_what_nobody_drives_is_no_number(self):
        self.assertIsNone(runs_planned(0.1, 1.0, "after"))
        self.assertIsNone(runs_planned(None, 1.0, "after"))


class Order(unittest.TestCase):
    @settings(max_examples=60, deadline=None)
    @given(st.integers(1, 60), st.sampled_from(["swap", "pairs", "after"]), st.integers(0, 9))
    def test_as_many_of_each_and_a_pair_holds_both(self, runs, design, seed):
        order = order_of(runs, design, seed)
        self.assertEqual((order.count("A"), order.count("B")), (runs, runs))
        if design != "after":
            self.assertTrue(all({order[k], order[k + 1]} == {"A", "B"} for k in range(0, 2 * runs, 2)))

    def test_to_and_fro_has_no_slope_of_its_own(self):
        """Sides of A B B A are at right angles to the running number: drift falls out."""
        order = order_of(6, "swap")
        side = np.array([1.0 if one == "B" else -1.0 for one in order])
        self.assertEqual(float(side @ (np.arange(len(order)) - np.arange(len(order)).mean())), 0.0)

    def test_none_and_too_many_are_refused(self):
        for runs in (0, 61):
            with self.assertRaises(BadInput):
                order_of(runs, "after")

    def test_a_run_left_out_is_driven_again(self):
        found = progress_of("ABBA", ["A", "B", "A"])
        self.assertEqual((found.done, found.left, found.next_side, found.enough), (3, 1, "B", False))
        self.assertTrue(progress_of("ABBA", ["A", "B", "A", "B"]).enough)


class Differs(unittest.TestCase):
    def runs(self, before, after):
        return [
            Driven(5.0 + 0.1 * k, side, k, {"air_c": air})
            for k, (side, air) in enumerate([("A", one) for one in before] + [("B", one) for one in after])
        ]

    def what(self, before, after):
        return differences(self.runs(before, after), ("air_c",))[0].what

    def test_each_case(self):
        self.assertEqual(self.what([10, 10.5, 11], [10, 10.4, 11.2]), "same")
        self.assertEqual(self.what([10, 14, 18], [12, 16, 20]), "corrected")
        self.assertEqual(self.what([5, 6, 7], [20, 21, 22]), "apart")
        self.assertEqual(self.what([5, 6], [20, 21]), "left")

    def test_what_is_apart_is_said_by_the_comparison_too(self):
        asked, _ = asked_of(self.runs([5, 6, 8, 7], [20, 23, 21, 22]), "after")
        self.assertEqual(change_of(asked).not_told_apart, ("air temperature",))

    def test_a_pair_that_lost_a_run_is_no_pair(self):
        """Order A B B A A B: the second run is left out and driven again as the seventh."""
        values = {1: ("A", 10.0), 2: ("B", 8.0), 3: ("B", 8.5), 4: ("A", 10.5), 5: ("A", 11.0), 6: ("B", 9.0)}
        whole = [Driven(value, side, number, {}) for number, (side, value) in values.items()]
        asked = asked_of(whole, "pairs")[0]
        self.assertEqual((asked.design, asked.before, asked.after), ("paired", (10.0, 10.5, 11.0), (8.0, 8.5, 9.0)))
        again = [one for one in whole if one.number != 2] + [Driven(8.1, "B", 7, {})]
        self.assertEqual(asked_of(again, "pairs")[0].design, "drift")

    def test_several_claims_are_held_together(self):
        chance = np.random.default_rng(5)
        edge = Asked(tuple(chance.normal(10, 1, 6)), tuple(chance.normal(8.55, 1, 6)))
        none = [Asked(tuple(chance.normal(10, 1, 6)), tuple(chance.normal(10, 1, 6))) for _ in range(9)]
        alone = claimed_together([(edge, "s")])[0]
        among = claimed_together([(edge, "s"), *((one, "s") for one in none)])[0]
        self.assertTrue(alone[2])
        self.assertFalse(among[2])
        self.assertAlmostEqual(among[1], min(1.0, 10 * alone[1]), places=9)
