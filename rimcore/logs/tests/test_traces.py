"""Traces of gauges: steady ones against NumPy's own statistics, faults in words, files in and out."""

import io
import unittest

import numpy as np
from hypothesis import given
from hypothesis import strategies as st

from rimcore.logs.traces import Trace, read_trace, steady
from rimcore.quantities.errors import BadInput, CoreError


def trace(values, names=("FL",), per_s=5.0):
    values = np.asarray(values, dtype=float)
    return Trace(tuple(names), np.arange(len(values)) / per_s, values.reshape(len(values), -1), "kg")


class SteadyOnes(unittest.TestCase):
    def test_mean_and_doubt_are_those_of_the_last_three_seconds(self):
        values = np.r_[np.zeros(10), 284 + np.random.default_rng(1).normal(0, 0.6, 40)]
        found = steady(trace(values), 0.1)[0]
        last = values[-15:]
        self.assertAlmostEqual(found.value, last.mean(), delta=0.06)
        self.assertAlmostEqual(found.uncertainty, 2 * last.std(ddof=1) / np.sqrt(15), delta=0.08)
        self.assertEqual(found.faults, ())

    def test_the_read_outs_own_step_is_the_least_doubt(self):
        self.assertAlmostEqual(steady(trace([284.0] * 20), 0.5)[0].uncertainty, 0.5 / np.sqrt(3))

    def test_what_is_wrong_is_told(self):
        drifting = steady(trace(np.r_[np.zeros(5), 280 + np.arange(30) / 5.0]), 0.5)[0]
        self.assertIn("has not settled", drifting.faults[0])
        self.assertGreater(drifting.uncertainty, 2.0)
        off = steady(trace(np.r_[[3.5] * 10, [284.0] * 40]), 0.5, 1.5)[0]
        self.assertIn("was not zeroed: it showed +3.50 kg", off.faults[0])
        self.assertEqual(steady(trace(np.r_[[0.4] * 10, [284.0] * 40]), 0.5, 1.5)[0].faults, ())
        values = np.full(40, 284.0)
        values[[-2, -5, -9]] = np.nan
        self.assertIn("dropped out in 20 %", steady(trace(values), 0.5)[0].faults[0])

    def test_too_little_is_no_reading(self):
        values = np.full(40, 284.0)
        values[-14:] = np.nan
        found = steady(trace(values), 0.5)[0]
        self.assertEqual((found.value, found.uncertainty, found.faults[-1]), (None, None, "too little to read"))

    def test_channels_stand_for_themselves(self):
        both = steady(trace(np.column_stack([np.full(20, 1.0), np.full(20, 2.0)]), ("a", "b")), 0.5)
        self.assertEqual([(one.name, one.value) for one in both], [("a", 1.0), ("b", 2.0)])

    def test_a_trace_that_can_not_be(self):
        for time, values in (([0.0, 0.0], [[1.0], [1.0]]), ([0.0], [[1.0]]), ([0.0, 1.0], [[1.0, 2.0], [1.0, 2.0]])):
            with self.assertRaises(BadInput):
                Trace(("a",), np.array(time), np.array(values))


class Files(unittest.TestCase):
    def test_delimiters_decimal_commas_and_columns_in_any_order(self):
        for text in (
            "t_s,FL,FR\n0,1.5,2\n1,1.5,\n",
            "FR\tt_s\tFL\n2\t0\t1.5\n\t1\t1.5\n",
            "t_s;note;FL;FR\n0;x;1,5;2\n1;y;1,5;\n",
        ):
            found = read_trace(text, ("FL", "FR"))
            np.testing.assert_array_equal(found.values, [[1.5, 2.0], [1.5, np.nan]])

    def test_refused_with_what_is_accepted(self):
        for text, words in (
            ("", "empty"),
            ("t_s,FL\n0,1\n1,1\n", "lacks FR"),
            ("t_s,FL,FR\n0,a,2\n1,1,2\n", "row 2"),
            ("t_s,FL,FR\n1,1,2\n0,1,2\n", "rise"),
            ("t_s,FL,FR\n,1,2\n1,1,2\n", "has a time"),
            ("t_s,FL,FR\n0,1e9,2\n1,1,2\n", "row 2"),
            ("t_s,FL,FR\n", "has a time"),
            ("t_s,FL,FR\n" + "0,1,2\n" * 20_001, "up to 20000"),
            ("x" * 1_000_001, "too long"),
        ):
            with self.assertRaises(BadInput) as refused:
                read_trace(text, ("FL", "FR"))
            self.assertIn(words, refused.exception.message)

    @given(st.text(max_size=200))
    def test_any_text_is_read_or_refused_in_words(self, text):
        try:
            self.assertEqual(read_trace(text, ("FL",)).names, ("FL",))
        except CoreError as error:
            self.assertTrue(error.message)

    @given(st.lists(st.floats(-999, 999), min_size=2, max_size=40))
    def test_what_was_written_is_read_again(self, values):
        written = io.StringIO()
        written.write("t_s,FL\n")
        for place, value in enumerate(values):
            written.write(f"{place},{value!r}\n")
        np.testing.assert_array_equal(read_trace(written.getvalue(), ("FL",)).values[:, 0], values)
