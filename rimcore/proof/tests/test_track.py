"""Tracks and gates: there and back again, known laps of a circle, sectors that add up."""

from __future__ import annotations

import unittest

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st
from pyproj import Geod

from rimcore.proof.positions import EARTH_M, runs_of
from rimcore.proof.track import HIGH, WIDE, best_of_sectors, gate_of, line_of, lost_lines, sectors_of, sheet_of
from rimcore.quantities.errors import BadInput


def circle(laps=4, lap_s=30.0, radius_m=60.0, lat=50.2, lon=7.6):
    """Laps of a circle, each a second slower than the one before, at ten readings a second."""
    rows, clock = [], 0.0
    for lap in range(laps):
        own = lap_s + lap
        for k in range(round(own * 10)):
            turn = 2 * np.pi * k / (own * 10)
            north, east = radius_m * np.sin(turn), radius_m * np.cos(turn)
            rows.append(
                (
                    clock + k / 10,
                    lat + np.degrees(north / EARTH_M),
                    lon + np.degrees(east / (EARTH_M * np.cos(np.radians(lat)))),
                )
            )
        clock += own
    return np.array(rows)


class Track(unittest.TestCase):
    def setUp(self):
        self.log = circle()
        self.sheet = sheet_of(self.log[:, 1], self.log[:, 2])

    @settings(max_examples=60, deadline=None)
    @given(st.floats(0, WIDE), st.floats(0, HIGH))
    def test_there_and_back_again(self, x, y):
        sheet = sheet_of(*circle()[:, 1:].T)
        back = sheet.at(*sheet.back(x, y))
        self.assertAlmostEqual(back[0], x, delta=0.11)
        self.assertAlmostEqual(back[1], y, delta=0.11)

    def test_the_scale_is_that_of_the_earth(self):
        """Two places of the drawing are as far apart as the ellipsoid says, within 0.6 %."""
        first, last = self.sheet.back(100.0, 100.0), self.sheet.back(600.0, 300.0)
        theirs = Geod(ellps="WGS84").inv(first[1], first[0], last[1], last[0])[2]
        self.assertAlmostEqual(np.hypot(500, 200) * self.sheet.m_per_unit / theirs, 1.0, delta=0.006)

    def test_laps_of_a_circle_are_as_they_were_driven(self):
        start = [*self.sheet.at(50.2, 7.6), *self.sheet.at(50.2, 7.6 + 2 * 60 / 71_200)]
        runs = runs_of(self.log, gate_of(self.sheet, start), least_s=5.0)
        self.assertEqual(len(runs.runs), 3)
        for run, driven in zip(runs.runs, (30.0, 31.0, 32.0), strict=True):
            self.assertAlmostEqual(run.time_s, driven, delta=0.06)
            self.assertAlmostEqual(run.distance_m, 2 * np.pi * 60.0, delta=1.0)
            self.assertAlmostEqual(sum(sectors_of(run)), run.time_s, places=9)
        self.assertAlmostEqual(best_of_sectors(runs), runs.runs[0].time_s, delta=0.2)
        lines, edge = lost_lines(runs.delta, 700.0, 160.0)
        self.assertEqual(len(lines), 2)
        self.assertAlmostEqual(edge, 2.0, delta=0.1)

    def test_the_drawing_holds_the_track(self):
        points = [tuple(map(float, one.split(","))) for one in line_of(self.sheet, *self.log[:, 1:].T).split()]
        self.assertLessEqual(len(points), 900)
        self.assertTrue(all(0 <= x <= WIDE and 0 <= y <= HIGH for x, y in points))

    def test_what_is_no_gate_or_no_track_is_refused(self):
        for ends in ((1, 1, 1, 1), (1, 1, 2), (float("nan"), 1, 2, 3), (1, 1, 9e9, 1)):
            with self.assertRaises(BadInput):
                gate_of(self.sheet, ends)
        with self.assertRaises(BadInput):
            sheet_of(np.full(9, 50.0), np.full(9, 8.0))
        with self.assertRaises(BadInput):
            sheet_of(np.linspace(40, 50, 9), np.full(9, 8.0))
