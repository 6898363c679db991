"""Coast-downs found in logs: synthetic roads with known truth from table to interval, GPX with and without speed, and
files that are none.
"""

import math
import unittest

import numpy as np

from rimcore.aero.coastdown import Run
from rimcore.aero.coastlogs import coasts, compared, road_load, tanks_to_show
from rimcore.logs.positions import read_gpx
from rimcore.quantities.errors import BadInput

RHO = 1.2


def coasted(way, a=180.0, cda=0.68, wind=1.2, sine=0.002, mass=1280.0, top=115.0, seconds=45.0, step=0.5):
    """Speeds [km/h] of a coast-down by plain steps of a hundredth of a second: independent of the closed solution."""
    v, t, rows, c = top / 3.6, 0.0, [], RHO * cda / 2
    while t <= seconds:
        rows.append((t, v * 3.6))
        for _ in range(int(step / 0.01)):
            u = v + way * wind
            v -= 0.01 * (a + c * u * abs(u) + way * mass * 9.80665 * sine) / (mass * 1.04)
        t += step
    return np.array(rows)


def log(draw, count=3, **truth):
    """Runs out and back one after another, faster in between; noise of 0.2 km/h, headings of 80° and 260°."""
    rows, clock = [], 0.0
    for k in range(2 * count):
        way = 1 if k % 2 == 0 else -1
        up = np.column_stack([np.arange(0, 10, 0.5), np.linspace(30, 115, 20)])
        down = coasted(way, **truth)
        for part in (up, down):
            heading = np.full(len(part), 80.0 if way == 1 else 260.0) + draw.normal(0, 2, len(part))
            rows.append(np.column_stack([part[:, 0] + clock, part[:, 1] + draw.normal(0, 0.2, len(part)), heading]))
            clock = rows[-1][-1, 0] + 0.5
        clock += 30.0
    return np.vstack(rows)


class Found(unittest.TestCase):
    def test_runs_are_cut_out_and_told_apart(self):
        rows = log(np.random.default_rng(1))
        for ways in ("heading", "alternate"):
            found = coasts(rows[:, 0], rows[:, 1], ways, rows[:, 2])
            self.assertEqual([run.way for run in found.runs], [1, -1, 1, -1, 1, -1])
            for run in found.runs:
                self.assertTrue(80 <= len(run.t_s) <= 92)
        self.assertEqual({run.way for run in coasts(rows[:, 0], rows[:, 1], "out").runs}, {1})

    def test_a_braked_stop_is_no_coast_down_and_is_told(self):
        t = np.arange(0, 8, 0.2)
        rows = log(np.random.default_rng(2), 1)
        time = np.r_[rows[:, 0], rows[-1, 0] + 20 + t]
        speed = np.r_[rows[:, 1], 100 - 3.6 * 6 * t[:40]]
        found = coasts(time, np.clip(speed, 0, None), "alternate")
        self.assertEqual(len(found.runs), 2)
        self.assertIn("as if braked", found.left_out[0])

    def test_what_is_no_log_of_coasting_is_refused_in_words(self):
        t = np.arange(0, 60, 1.0)
        for time, speed, ways, words in (
            (t, np.full(60, 80.0), "out", "no coast-down"),
            (t[:3], np.array([90.0, 80.0, 70.0]), "out", "too few"),
            (t, np.linspace(100, 92, 60), "out", "no coast-down"),
            (t, np.linspace(100, 60, 60), "heading", "no heading"),
        ):
            with self.assertRaises(BadInput) as caught:
                coasts(time, speed, ways)
            self.assertIn(words, caught.exception.message)

    def test_gaps_in_the_rows_do_not_matter_and_gaps_in_time_end_a_run(self):
        rows = log(np.random.default_rng(3), 1)
        speed = rows[:, 1].copy()
        speed[30] = np.nan
        self.assertEqual(len(coasts(rows[:, 0], speed, "alternate").runs), 2)
        time = rows[:, 0].copy()
        time[70:] += 30
        self.assertGreaterEqual(len(coasts(time, rows[:, 1], "alternate").runs), 3)


class Loads(unittest.TestCase):
    def test_from_the_log_to_the_truth(self):
        rows = log(np.random.default_rng(5), 3)
        found, _ = road_load(coasts(rows[:, 0], rows[:, 1], "heading", rows[:, 2]).runs, 1280.0, RHO)
        self.assertLess(abs(found.cda_m2 - 0.68), max(found.half_cda, 0.02))
        self.assertLess(abs(found.a_n - 180.0), max(found.half_a, 10.0))
        self.assertAlmostEqual(found.wind_mps, 1.2, delta=0.4)
        self.assertAlmostEqual(found.slope_pct, 0.2, delta=0.05)
        self.assertAlmostEqual(found.residual_kmh, 0.2, delta=0.05)
        self.assertEqual(found.runs, (3, 3))
        self.assertAlmostEqual(found.force_n(72.0), found.a_n + found.c * 400.0)

    def test_less_than_was_hoped_is_not_shown_and_enough_is(self):
        draw = np.random.default_rng(6)
        loads = []
        for cda in (0.70, 0.695, 0.62):
            rows = log(draw, 3, cda=cda)
            loads.append(road_load(coasts(rows[:, 0], rows[:, 1], "heading", rows[:, 2]).runs, 1280.0, RHO)[0])
        little, much = compared(loads[0], loads[1])[0], compared(loads[0], loads[2])[0]
        self.assertFalse(little.real)
        self.assertIn("not proven", little.words)
        self.assertTrue(much.real)
        self.assertAlmostEqual(much.change, -0.08, delta=much.half + 0.01)
        self.assertAlmostEqual(much.half, math.hypot(loads[0].half_cda, loads[2].half_cda))

    def test_what_the_fit_leaves_is_the_noise_that_was_put_in(self):
        rows = log(np.random.default_rng(8), 2)
        runs = coasts(rows[:, 0], rows[:, 1], "heading", rows[:, 2]).runs
        load, left = road_load(runs, 1280.0, RHO)
        self.assertEqual([len(one) for one in left], [len(run.t_s) for run in runs])
        for rest in left:
            self.assertAlmostEqual(float(np.mean(rest)), 0.0, delta=0.1)
            self.assertAlmostEqual(float(np.std(rest)), 0.2, delta=0.06)
            self.assertLess(float(np.max(np.abs(rest))), 1.0)
        self.assertAlmostEqual(float(np.sqrt(np.mean(np.concatenate(left) ** 2))), load.residual_kmh)

    def test_one_way_leaves_wind_and_slope_open_and_shows_nothing(self):
        """The same car with 3 m/s of wind from behind.

        One way that looks like a sixth less drag, both ways like none.
        """
        one_way, both = [], []
        for wind in (0.0, -3.0):
            runs = [Run(way, *coasted(way, wind=wind).T * np.array([[1.0], [1 / 3.6]])) for way in (1, -1)]
            one_way.append(road_load(runs[:1], 1280.0, RHO)[0])
            both.append(road_load(runs, 1280.0, RHO)[0])
        self.assertEqual((one_way[0].wind_mps, one_way[0].slope_pct), (None, None))
        shown = compared(*one_way)
        self.assertGreater(
            max(abs(one.change) / one.half for one in shown), 1.0, "a plain look at the interval would call it real"
        )
        self.assertFalse(any(one.real for one in shown))
        self.assertIn("one way only", shown[0].words)
        self.assertLess(abs(compared(*both)[0].change), 0.005)


class Tracks(unittest.TestCase):
    HEAD = '<?xml version="1.0"?><gpx xmlns="http://www.topografix.com/GPX/1/1" version="1.1"><trk><trkseg>'
    TAIL = "</trkseg></trk></gpx>"

    def track(self, rows, speed=False, bearing=80.0):
        """A track along a bearing, a point a second."""
        lat, lon, body = 50.0, 8.0, []
        for k, kmh in enumerate(rows):
            said = f"<extensions><speed>{kmh / 3.6:.3f}</speed></extensions>" if speed else ""
            body.append(
                f'<trkpt lat="{lat:.8f}" lon="{lon:.8f}"><time>2026-05-01T10:{k // 60:02d}:{k % 60:02d}Z</time>{said}</trkpt>'
            )
            lat += math.degrees(kmh / 3.6 * math.cos(math.radians(bearing)) / 6_371_008.8)
            lon += math.degrees(kmh / 3.6 * math.sin(math.radians(bearing)) / 6_371_008.8 / math.cos(math.radians(lat)))
        return self.HEAD + "".join(body) + self.TAIL

    def test_speed_and_heading_from_the_positions(self):
        speeds = np.linspace(100, 60, 50)
        t, v, h = read_gpx(self.track(speeds))
        np.testing.assert_allclose(v[1:-1], speeds[1:-1] + 0.41, atol=0.05)
        np.testing.assert_allclose(h, 80.0, atol=0.1)
        self.assertEqual(t[-1], 49.0)
        self.assertEqual(len(coasts(t, v, "heading", h).runs), 1)

    def test_a_written_speed_counts_before_the_positions(self):
        speeds = np.linspace(100, 60, 50)
        _, v, _ = read_gpx(self.track(speeds, True))
        np.testing.assert_allclose(v, speeds, atol=0.01)

    def test_nothing_is_known_of_the_way_between_two_segments(self):
        """Two stretches 400 km apart, a second after each other: no speed is made up between them."""

        def points(lat, first):
            return "".join(
                f'<trkpt lat="{lat + k / 11119.5:.7f}" lon="8"><time>2026-05-01T10:00:{first + k:02d}Z</time></trkpt>'
                for k in range(6)
            )

        text = f'<gpx xmlns="http://www.topografix.com/GPX/1/1"><trk><trkseg>{points(50.0, 0)}</trkseg><trkseg>{points(54.0, 6)}</trkseg></trk></gpx>'
        _, speed, _ = read_gpx(text)
        self.assertLess(np.nanmax(speed), 40.0)

    def test_times_with_and_without_a_zone_are_refused_in_words(self):
        one = "".join(
            f'<trkpt lat="{50 + k / 1e4}" lon="8"><time>2026-05-01T10:00:0{k}{"Z" if k else ""}</time></trkpt>'
            for k in range(6)
        )
        with self.assertRaisesRegex(BadInput, "time zone"):
            read_gpx(f"<gpx><trk><trkseg>{one}</trkseg></trk></gpx>")

    def test_hostile_tracks_are_refused(self):
        for text, words in (
            ("<gpx>" + "<a>" * 50 + "</a>" * 50 + "</gpx>", "deep"),
            ('<gpx a="' + "x" * 5000 + '"/>', "a tag of over"),
        ):
            with self.assertRaisesRegex(BadInput, words):
                read_gpx(text)

    def test_files_that_are_none(self):
        bomb = '<?xml version="1.0"?><!DOCTYPE gpx [<!ENTITY a "aaaaaaaaaa"><!ENTITY b "&a;&a;&a;&a;&a;&a;&a;&a;">]><gpx>&b;</gpx>'
        for text, words in (
            (bomb, "declares entities"),
            ("not xml", "is no GPX"),
            ("<kml></kml>", "is no GPX"),
            (self.HEAD + self.TAIL, "holds no track"),
            (self.track([90] * 8).replace("<time>", "<when>").replace("</time>", "</when>"), "without place or time"),
            (self.track([90] * 8).replace('lat="', 'x="'), "without place or time"),
        ):
            with self.assertRaises(BadInput) as caught:
                read_gpx(text)
            self.assertIn(words, caught.exception.message)


class Tanks(unittest.TestCase):
    def test_how_many_would_show_it(self):
        """Scatter and claim alike: 2 × 7.84 = 15.68, so sixteen each."""
        self.assertEqual(tanks_to_show(5.0, 5.0), 16)
        self.assertEqual(tanks_to_show(1.0, 50.0), 2)
        with self.assertRaises(BadInput):
            tanks_to_show(4.0, 0.0)


if __name__ == "__main__":
    unittest.main()
