"""Boiling by steam tables, radiators by closed forms, bleed runs with a known truth."""

import math
import unittest

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st

from rimcore.cooling.bleed import judge_bleed
from rimcore.cooling.boiling import boils_c
from rimcore.quantities.errors import BadInput
from rimcore.registry import CALCULATIONS


class Boiling(unittest.TestCase):
    def test_steam_tables(self):
        """100 °C at 101.418 kPa, 120 °C at 198.67, 130 °C at 270.28."""
        for kpa, celsius in ((101.418, 100.0), (198.67, 120.0), (270.28, 130.0)):
            self.assertAlmostEqual(boils_c(0.0, 0.0, kpa), celsius, delta=0.01)

    def test_a_cap_and_glycol_lift_it_and_the_margin_is_judged(self):
        found = CALCULATIONS["cooling"].answer({"cap_kPa": 97.345, "glycol_pct": 50, "coolant_C": 118})
        self.assertAlmostEqual(found["boiling_C"], 127.2, delta=0.02)
        self.assertEqual(found["margin"]["state"], "tight")
        self.assertEqual(CALCULATIONS["cooling"].answer({"cap_kPa": 0})["margin"]["state"], "unmeasured")
        self.assertEqual(CALCULATIONS["cooling"].answer({"cap_kPa": 0, "coolant_C": 100.1})["margin"]["state"], "hit")
        self.assertEqual(CALCULATIONS["cooling"].answer({"cap_kPa": 0, "coolant_C": 85})["margin"]["state"], "clear")


class Radiators(unittest.TestCase):
    def ask(self, **change):
        radiator = {
            "ua_W_per_K": 1500,
            "air_kg_per_s": 1.2,
            "coolant_kg_per_s": 1.5,
            "air_in_C": 25,
            "coolant_in_C": 95,
        } | change
        return CALCULATIONS["cooling"].answer({"cap_kPa": 100, "radiator": radiator})

    def test_heat_that_goes_over_leaves_the_coolant(self):
        found = self.ask()
        self.assertAlmostEqual(found["heat_kW"] * 1000, 1.5 * 4200 * (95 - found["coolant_out_C"]), places=3)
        self.assertAlmostEqual(found["ntu"], 1500 / (1.2 * 1006), places=9)

    def test_against_the_series_of_the_handbook(self):
        """Crossflow, both unmixed, by the integral over Bessel functions (Mason's series), written out."""
        found = self.ask()
        least, most = 1.2 * 1006, 1.5 * 4200
        ntu, ratio = found["ntu"], least / most
        total = 0.0
        for k in range(60):
            one = 1 - math.exp(-ntu) * sum(ntu**m / math.factorial(m) for m in range(k + 1))
            other = 1 - math.exp(-ratio * ntu) * sum((ratio * ntu) ** m / math.factorial(m) for m in range(k + 1))
            total += one * other
        self.assertAlmostEqual(found["effectiveness"], total / (ratio * ntu), places=6)

    def test_a_coolant_that_never_changes_is_the_exponential(self):
        found = self.ask(coolant_kg_per_s=1000.0)
        self.assertAlmostEqual(found["effectiveness"], 1 - math.exp(-found["ntu"]), delta=2e-4)

    def test_cores(self):
        found = CALCULATIONS["cooling"].answer(
            {"cap_kPa": 0, "from_core_mm": [350, 325, 16], "to_core_mm": [660, 325, 36]}
        )
        self.assertAlmostEqual(found["face_ratio"], 660 / 350)
        self.assertAlmostEqual(found["volume_ratio"], 660 * 36 / (350 * 16))

    def test_refused(self):
        for given_input, field in (
            ({"cap_kPa": -1}, "cap_kPa"),
            ({"cap_kPa": 0, "glycol_pct": 71}, "glycol_pct"),
            ({"cap_kPa": 0, "from_core_mm": [1, 2, 3]}, "to_core_mm"),
            ({"cap_kPa": 0, "from_core_mm": [1, 2], "to_core_mm": [1, 2, 3]}, "from_core_mm"),
            ({"cap_kPa": 0, "radiator": {"ua_W_per_K": 1}}, "radiator.air_kg_per_s"),
            ({}, "cap_kPa"),
        ):
            with self.subTest(given=given_input), self.assertRaises(BadInput) as refused:
                CALCULATIONS["cooling"].answer(given_input)
            self.assertEqual(refused.exception.field, field)


def run(
    opens=300.0, long=900.0, every=1.0, noise=0.3, burp=None, conducts=0.5, rise=55.0, quick=25.0, seed=3, drops=0.0
):
    """A log with a known opening [s].

    Top hose to 87 °C, lower hose by conduction, then after it in a first-order rise.
    """
    dice = np.random.default_rng(seed)
    t = np.arange(0.0, long, every)
    top = np.minimum(20.0 + 0.25 * t, 87.0)
    lower = 20.0 + conducts * t / 60.0
    if opens is not None:
        after = t >= opens
        reached = lower.copy()
        held = 20.0 + conducts * opens / 60.0
        reached[after] = held + rise * (1 - np.exp(-(t[after] - opens) / quick))
        lower = reached
    if burp is not None:
        lower = lower + 12.0 * np.exp(-0.5 * ((t - burp) / 5.0) ** 2)
    top, lower = (one + dice.normal(0, noise, len(t)) for one in (top, lower))
    rows = [list(map(float, row)) for row in zip(t, top, lower, strict=True)]
    for row in rows:
        for column in (1, 2):
            if dice.random() < drops:
                row[column] = None
    return rows


def judged(rows, **more):
    return CALCULATIONS["bleed"].answer({"log": rows, **more})


class Vast(unittest.TestCase):
    def test_a_vast_conductance_is_answered(self):
        """Continuous with ht where both are numbers; equal streams go to 1 − 1 ÷ √(π NTU) (Kays & London)."""
        from ht.hx import effectiveness_from_NTU

        from rimcore.cooling.exchanger import vast_effectiveness

        for ratio in (0.3, 0.5, 0.9, 1.0):
            self.assertAlmostEqual(
                vast_effectiveness(150.0, ratio), effectiveness_from_NTU(150.0, Cr=ratio, subtype="crossflow"), places=9
            )
        self.assertAlmostEqual(vast_effectiveness(1e4, 1.0), 1 - 1 / np.sqrt(np.pi * 1e4), places=5)
        radiator = {
            "ua_W_per_K": 1e6,
            "air_kg_per_s": 1e-6,
            "coolant_kg_per_s": 1e-6,
            "air_in_C": 20,
            "coolant_in_C": 90,
        }
        found = CALCULATIONS["cooling"].answer({"cap_kPa": 100, "radiator": radiator})
        self.assertTrue(0.99 < found["effectiveness"] <= 1.0)


class Bleed(unittest.TestCase):
    @settings(max_examples=40, deadline=None, derandomize=True)
    @given(
        st.integers(0, 10_000),
        st.floats(200, 500),
        st.sampled_from([0.5, 1.0, 2.0, 5.0]),
        st.floats(0.05, 0.6),
        st.floats(10, 60),
    )
    def test_an_opening_is_found_where_it_is(self, seed, opens, every, noise, quick):
        found = judged(run(opens, every=every, noise=noise, seed=seed, quick=quick, drops=0.05))
        self.assertIsNotNone(found["opened"])
        self.assertAlmostEqual(found["opened"]["t_s"], opens, delta=8.0 + 2 * every)
        self.assertEqual(found["state"], "clear")

    @settings(max_examples=40, deadline=None, derandomize=True)
    @given(st.integers(0, 10_000), st.floats(0.05, 0.6), st.floats(0.0, 1.8), st.sampled_from([1.0, 2.0, 5.0]))
    def test_neither_conduction_nor_noise_is_an_opening(self, seed, noise, conducts, every):
        self.assertIsNone(judged(run(None, noise=noise, seed=seed, conducts=conducts, every=every))["opened"])

    @settings(max_examples=40, deadline=None, derandomize=True)
    @given(st.integers(0, 10_000), st.floats(120, 400))
    def test_a_burp_is_no_opening(self, seed, burp):
        found = judged(run(None, burp=burp, seed=seed))
        self.assertIsNone(found["opened"])
        self.assertEqual(found["state"], "tight")
        self.assertIn("air lock", found["reason"])

    def test_a_burp_before_the_opening_does_not_hide_it(self):
        found = judged(run(500.0, burp=300.0))
        self.assertAlmostEqual(found["opened"]["t_s"], 500.0, delta=8.0)
        self.assertAlmostEqual(found["opened"]["top_hose_C"], 87.0, delta=1.0)

    def test_opened_and_not_yet_steady(self):
        found = judged(run(300.0, long=360.0))
        self.assertEqual((found["state"], found["settled"]), ("tight", False))

    def test_boiling_counts_before_everything(self):
        rows = [[0.0, 20.0, 20.0], [10.0, 130.0, 20.0]]
        self.assertEqual(judged(rows, boil_C=120)["state"], "hit")
        self.assertEqual(judged(rows)["state"], "unmeasured")
        self.assertEqual(judged(run(300.0), boil_C=80)["state"], "hit")

    def test_too_short_or_never_warm_is_not_known(self):
        self.assertEqual(judged(run(None, long=100.0))["state"], "unmeasured")
        self.assertEqual(judged(run(None, long=200.0))["state"], "unmeasured")

    def test_a_hose_nobody_reads_settles_nothing(self):
        rows = [[t, None, lower] for t, _, lower in run(300.0)]
        found = judged(rows)
        self.assertEqual((found["settled"], found["opened"], found["state"]), (False, None, "unmeasured"))
        self.assertEqual(judge_bleed([0, 500], [None, None], [None, None]).state, "unmeasured")

    def test_a_rise_under_a_cold_top_hose_is_no_opening(self):
        log = [
            [0, 25, 20],
            [60, 25, 20],
            [90, 25, 21.5],
            [120, 25, 23],
            [150, 25, 24],
            [180, 25, 24],
            [240, 25, 24],
            [300, 25, 24],
        ]
        found = judged(log)
        self.assertEqual((found["state"], found["opened"], found["settled"]), ("unmeasured", None, False))

    def test_an_engine_that_is_off_and_cools_has_settled_nothing(self):
        rows = run(300.0, long=600.0)
        end = rows[-1]
        off = [[end[0] + 10.0 * k, end[1] - min(0.4 * k, 24.0), end[2] - min(0.4 * k, 24.0)] for k in range(1, 90)]
        self.assertEqual(judged(rows)["state"], "clear")
        self.assertEqual(judged([*rows, *off])["state"], "tight")

    def test_a_silence_is_not_holding_still(self):
        rows = run(300.0, long=900.0)
        quiet = [row for row in rows if not 790 < row[0] < 860]
        self.assertEqual(judged(quiet)["state"], "tight")
        self.assertEqual(
            judged([[t, top, None if t > 860 else lower] for t, top, lower in rows])["state"], "tight", "at its end"
        )

    def test_without_a_boiling_point_nothing_over_100_is_clear(self):
        hot = [[t, top + 45.0, lower + 45.0] for t, top, lower in run(300.0)]
        self.assertEqual(judged(hot)["state"], "unmeasured")
        self.assertEqual(judged(hot, boil_C=150)["state"], "clear")
        times, top, lower = zip(*run(300.0), strict=True)
        coolant = [one + 14.0 for one in top]
        self.assertEqual(
            judge_bleed(times, top, lower, coolant_c=coolant).state, "unmeasured", "the coolant is the hottest"
        )
        self.assertEqual(judge_bleed(times, top, lower, coolant_c=coolant, boil_c=108.0).state, "clear")

    def test_refused(self):
        for log, field in (
            ([], "log"),
            ([[0, 1, 2], [0, 1, 2]], "log.1.0"),
            ([[0, 1]], "log.0"),
            ([[None, 1, 2]], "log.0.0"),
            ([[0, 1, "x"]], "log.0.2"),
            ([[5, 1, 2], [3, 1, 2]], "log.1.0"),
        ):
            with self.subTest(log=log), self.assertRaises(BadInput) as refused:
                judged(log)
            self.assertEqual(refused.exception.field, field)
