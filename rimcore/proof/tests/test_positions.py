"""Laps and stops: distances against the ellipsoid, times against a track of which they are known."""

from __future__ import annotations

import math
import unittest
from typing import Any

from pyproj import Geod

from rimcore.proof.calculations import LAPS, STOP
from rimcore.quantities.errors import BadInput

HOME = (50.3, 8.5)
NORTH_M = 111_194.9


def round_track(laps: float, lap_s: float, radius_m: float = 200.0, step_s: float = 0.1, hole: Any = None) -> Any:
    """Circles about home at an even pace, from due east on, anticlockwise."""
    rows = []
    for k in range(int(laps * lap_s / step_s) + 1):
        t = k * step_s
        if hole and hole[0] < t < hole[1]:
            continue
        turn = 2 * math.pi * t / lap_s - 0.3
        north, east = radius_m * math.sin(turn), radius_m * math.cos(turn)
        rows.append([t, HOME[0] + north / NORTH_M, HOME[1] + east / (NORTH_M * math.cos(math.radians(HOME[0])))])
    return rows


def gate(radius_m: float = 200.0) -> Any:
    """Due east, across the track."""
    east = NORTH_M * math.cos(math.radians(HOME[0]))
    return [[HOME[0], HOME[1] + (radius_m - 30) / east], [HOME[0], HOME[1] + (radius_m + 30) / east]]


class Laps(unittest.TestCase):
    def test_laps_of_an_even_pace(self) -> None:
        found = LAPS.answer({"samples": round_track(4.2, 50.0), "start": gate()})
        self.assertEqual(len(found["runs"]), 4)
        for run in found["runs"]:
            self.assertAlmostEqual(run["time_s"], 50.0, places=3)
            self.assertAlmostEqual(run["distance_m"], 2 * math.pi * 200, delta=0.5)
            self.assertAlmostEqual(run["mean_kmh"], 2 * math.pi * 200 / 50 * 3.6, delta=0.1)
        self.assertEqual(len(found["delta"]), 3)
        self.assertTrue(all(abs(one) < 0.01 for one in found["delta"][0]["at"]))

    def test_distance_is_that_on_the_ellipsoid_within_the_sphere(self) -> None:
        rows = round_track(1.3, 60.0)
        run = LAPS.answer({"samples": rows, "start": gate()})["runs"][0]
        geod = Geod(ellps="WGS84")
        inside = [row for row in rows if run["start_s"] <= row[0] <= run["start_s"] + run["time_s"]]
        length = geod.line_length([row[2] for row in inside], [row[1] for row in inside])
        self.assertAlmostEqual(run["distance_m"] / length, 1.0, delta=0.006 + 2 / len(inside))

    def test_the_other_way_and_what_comes_too_soon_do_not_count(self) -> None:
        rows = round_track(2.2, 50.0)
        back = [[rows[-1][0] + 0.1 * (k + 1), row[1], row[2]] for k, row in enumerate(reversed(rows[-150:]))]
        found = LAPS.answer({"samples": rows + back, "start": gate()})
        self.assertEqual(len(found["runs"]), 2)
        self.assertIn("the other way", found["warnings"][0])
        self.assertEqual(LAPS.answer({"samples": rows, "start": gate(), "least_s": 60})["runs"][0]["time_s"] > 99, True)

    def test_a_gap_is_told_and_is_never_the_best(self) -> None:
        found = LAPS.answer({"samples": round_track(3.2, 50.0, hole=(20, 24)), "start": gate()})
        self.assertEqual([run["gap"] for run in found["runs"]], [True, False, False])
        self.assertIn(found["best"], (1, 2))
        self.assertEqual([one["run"] for one in found["delta"]], [3 - found["best"]])

    def test_a_sample_on_the_gate_is_one_crossing(self) -> None:
        rows = [[k * 10.0, one, 0.0] for k, one in enumerate((-1e-3, 0.0, 1e-3, 2e-3))]
        again = [[50.0 + k * 10.0, one, 0.0] for k, one in enumerate((-1e-3, 0.0, 1e-3))]
        found = LAPS.answer({"samples": [*rows, [45.0, 1e-3, 5e-3], *again], "start": [[0, -1e-3], [0, 1e-3]]})
        self.assertEqual(len(found["runs"]), 1)
        self.assertAlmostEqual(found["runs"][0]["time_s"], 50.0)

    def test_sprints_from_gate_to_gate(self) -> None:
        rows = [[float(k), k * 1e-4, 0.0] for k in range(60)]
        start, finish = [[5.05e-4, -1e-3], [5.05e-4, 1e-3]], [[40.05e-4, -1e-3], [40.05e-4, 1e-3]]
        found = LAPS.answer({"samples": rows, "start": start, "finish": finish})
        self.assertEqual(len(found["runs"]), 1)
        self.assertAlmostEqual(found["runs"][0]["time_s"], 35.0, places=6)
        self.assertAlmostEqual(found["runs"][0]["top_kmh"], 1e-4 * NORTH_M * 3.6, delta=0.01)

    def test_refused(self) -> None:
        good = round_track(1.1, 20.0)
        for given, field in (
            ({"samples": [[0, 1, 2]], "start": gate()}, "samples"),
            ({"samples": [[1, 1, 1], [0, 1, 1]], "start": gate()}, "samples.1"),
            ({"samples": [[0, 91, 1], [1, 1, 1]], "start": gate()}, "samples.0"),
            ({"samples": [[0, "1", 1], [1, 1, 1]], "start": gate()}, "samples.0"),
            ({"samples": good, "start": [[0, 0], [0, 0]]}, "start"),
            ({"samples": good, "start": [[0, 0]]}, "start"),
        ):
            with self.assertRaises(BadInput) as caught:
                LAPS.answer(given)
            self.assertEqual(caught.exception.field, field)


class Stops(unittest.TestCase):
    def braking(self, g: float = 0.9, first: float = 110.0, step: float = 0.1) -> list[list[float]]:
        """An even deceleration from a first speed to rest (v² = 2 a s)."""
        rows, t = [[-1.0, first]], 0.0
        while first - g * 9.80665 * 3.6 * t > 0:
            rows.append([t, first - g * 9.80665 * 3.6 * t])
            t += step
        return [*rows, [t, 0.0], [t + 1, 0.0]]

    def test_an_even_deceleration_by_the_law(self) -> None:
        for low in (0.0, 40.0):
            found = STOP.answer({"samples": self.braking(), "from_kmh": 100, "to_kmh": low})["stops"]
            self.assertEqual(len(found), 1)
            wanted = ((100 / 3.6) ** 2 - (low / 3.6) ** 2) / (2 * 0.9 * 9.80665)
            self.assertAlmostEqual(found[0]["distance_m"], wanted, places=4)
            self.assertAlmostEqual(found[0]["mean_g"], 0.9, places=5)
            self.assertIsNone(found[0]["level_m"])

    def test_uphill_it_would_be_longer_on_the_level(self) -> None:
        given = {"samples": self.braking(), "from_kmh": 100, "to_kmh": 0, "slope_pct": 5}
        one = STOP.answer(given)["stops"][0]
        self.assertAlmostEqual(one["level_m"], one["distance_m"] * 0.9 / 0.85, places=4)
        self.assertIsNone(STOP.answer(given | {"slope_pct": 95})["stops"][0]["level_m"])

    def test_the_last_fall_before_it_counts(self) -> None:
        first = self.braking()
        rows = [[-4.0, 101.0], [-3.0, 95.0], [-2.0, 103.0], *first[1:]]
        found = STOP.answer({"samples": rows, "from_kmh": 100, "to_kmh": 50})["stops"]
        self.assertEqual(len(found), 1)
        self.assertGreater(found[0]["start_s"], -2.0)
        never = [[0, 120], [1, 80], [2, 90], [3, 70]]
        self.assertEqual(STOP.answer({"samples": never, "from_kmh": 100, "to_kmh": 50})["stops"], [])

    def test_a_coarse_log_ends_at_the_sample_at_the_latest(self) -> None:
        rows = [[0, 60], [1, 50], [2, 40], [2.5, 0]]
        found = STOP.answer({"samples": rows, "from_kmh": 55, "to_kmh": 0})["stops"][0]
        self.assertAlmostEqual(found["time_s"], 2.0)

    def test_refused(self) -> None:
        for given, field in (
            ({"from_kmh": 50, "to_kmh": 50}, "to_kmh"),
            ({"from_kmh": 50, "to_kmh": -1}, "to_kmh"),
            ({"from_kmh": 50, "to_kmh": 0, "samples": [[0, 1], [0, 1]]}, "samples.1"),
        ):
            with self.assertRaises(BadInput) as caught:
                STOP.answer({"samples": [[0, 60], [1, 0]], **given})
            self.assertEqual(caught.exception.field, field)
