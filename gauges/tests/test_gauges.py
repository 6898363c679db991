"""The simulated devices behave like the real thing: scatter, overrun, drift; delays, out of stock, wrong variants.

The same question, the same answer.
"""

import statistics
import unittest

import numpy as np

from gauges import driver, supplier, wrench
from rimcore.logs.traces import steady

LOADS = [284.0, 258.0, 252.0, 271.0]


class Drivers(unittest.TestCase):
    """One interface for all; what they show is what a real one shows, and it says so in its name."""

    def test_every_one_is_named_a_simulation_and_shows_its_channels(self):
        for key, gauge in driver.GAUGES.items():
            trace = gauge.show([10.0] * len(gauge.channels), 3)
            self.assertIn("(simulation)", gauge.name, key)
            self.assertEqual((trace.names, trace.unit), (gauge.channels, gauge.unit))
            self.assertEqual(
                trace.values.tolist() == gauge.show([10.0] * len(gauge.channels), 3).values.tolist(),
                not np.isnan(trace.values).any(),
            )

    def test_the_same_seed_shows_the_same(self):
        one, other = (driver.four_pads().show(LOADS, 7).values for _ in range(2))
        np.testing.assert_array_equal(one, other)

    def test_zeroed_pads_hold_the_truth_within_what_they_say(self):
        inside = []
        for seed in range(100):
            for one, truth in zip(steady(driver.four_pads().show(LOADS, seed), 0.5, 1.5), LOADS, strict=True):
                if one.value is not None:
                    inside.append(abs(one.value - truth) <= one.uncertainty + 0.5)
        self.assertGreater(sum(inside) / len(inside), 0.95)

    def test_pads_that_were_not_zeroed_are_noticed(self):
        noticed = [
            any(
                "not zeroed" in fault
                for one in steady(driver.four_pads(False).show(LOADS, seed), 0.5, 1.5)
                for fault in one.faults
            )
            for seed in range(60)
        ]
        self.assertGreater(sum(noticed) / len(noticed), 0.9)
        good = [
            any(
                "not zeroed" in fault
                for one in steady(driver.four_pads().show(LOADS, seed), 0.5, 1.5)
                for fault in one.faults
            )
            for seed in range(60)
        ]
        self.assertEqual(sum(good), 0)

    def test_read_outs_go_in_steps_and_drop_out_now_and_then(self):
        shown = driver.angle_gauge().show([-1.2] * 4, 2).values
        known = shown[np.isfinite(shown)]
        np.testing.assert_allclose(known, np.round(known / 0.1) * 0.1, atol=1e-9)
        lost = np.mean([np.isnan(driver.angle_gauge().show([-1.2] * 4, seed).values).mean() for seed in range(40)])
        self.assertAlmostEqual(lost, 0.03, delta=0.01)

    def test_a_load_takes_its_time(self):
        pads = driver.four_pads().show(LOADS, 4)
        early = pads.values[(pads.time_s > 2.0) & (pads.time_s < 2.5), 0]
        self.assertGreater(np.nanmax(np.abs(early - 284.0)), 5.0)


class Wrench(unittest.TestCase):
    def test_a_click_lies_within_what_iso_6789_allows_but_for_the_hand(self):
        clicks = [wrench.pull(110.0, 0, seed) for seed in range(400)]
        good = [click.shown_nm for click in clicks if not click.overrun]
        self.assertGreater(sum(abs(nm / 110 - 1) <= 0.04 for nm in good) / len(good), 0.98)
        self.assertAlmostEqual(statistics.mean(good), 110, delta=0.5)

    def test_now_and_then_the_hand_runs_on(self):
        clicks = [wrench.pull(110.0, 0, seed) for seed in range(400)]
        over = [click for click in clicks if click.overrun]
        self.assertTrue(0.02 < len(over) / len(clicks) < 0.12)
        self.assertTrue(all(click.shown_nm > 110 for click in over))

    def test_it_drifts_and_its_read_out_does_not_know(self):
        fresh, old = wrench.pull(100.0, 0, 5), wrench.pull(100.0, 500, 5)
        self.assertAlmostEqual(fresh.true_nm / fresh.shown_nm, 1, delta=0.005)
        self.assertAlmostEqual(old.true_nm / old.shown_nm, 0.9, delta=0.005)
        self.assertAlmostEqual(wrench.calibrated(100.0, 500, 1), 0.9, delta=0.01)

    def test_read_out_in_steps(self):
        self.assertTrue(all((wrench.pull(93.7, k, 1).shown_nm / wrench.STEP_NM).is_integer() for k in range(50)))

    def test_replayed(self):
        self.assertEqual([wrench.pull(80.0, k, 9) for k in range(9)], [wrench.pull(80.0, k, 9) for k in range(9)])


class Supplier(unittest.TestCase):
    def test_shares_of_what_happens(self):
        kinds = [supplier.ask(f"part {k}", 1000, ("other",)).kind for k in range(2000)]
        for kind, share in (
            ("silent", supplier.NO_ANSWER),
            ("out_of_stock", supplier.OUT_OF_STOCK),
            ("wrong_variant", supplier.WRONG_VARIANT),
        ):
            self.assertAlmostEqual(kinds.count(kind) / 2000, share, delta=0.03)

    def test_price_within_fifteen_percent_and_a_delay(self):
        for k in range(300):
            answer = supplier.ask(f"part {k}", 1000)
            self.assertTrue(supplier.DELAY_S[0] <= answer.after.total_seconds() <= supplier.DELAY_S[1])
            if answer.price_minor is not None:
                self.assertTrue(840 <= answer.price_minor <= 1160)
            self.assertNotEqual(answer.kind, "wrong_variant", "there is no variant to mistake it for")

    def test_asked_again_it_may_say_something_else(self):
        self.assertGreater(len({supplier.ask("ring", 600, (), turn).price_minor for turn in range(10)}), 5)
        self.assertEqual(supplier.ask("ring", 600, (), 3), supplier.ask("ring", 600, (), 3))


if __name__ == "__main__":
    unittest.main()
