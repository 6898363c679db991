"""Panels under the car: slopes against their whole length, and heat against their heights."""

import math
import unittest
from dataclasses import replace

import numpy as np
from scipy.optimize import minimize_scalar
from shapely import LineString, Point

from rimcore.aero.bench import Hung, Under, angles_of, judge_slopes, lowered, side_view
from rimcore.aero.card import hot_lines, over_panel, stations
from rimcore.aero.panel import judge_heat, polygon_of
from rimcore.aero.ramp import angles_along, tangent_deg
from rimcore.quantities.judgement import InputUsed

CAR = Under((800, 180), (900, 220), (1300, 170), (300, 310), 2600.0)


class Hanging(unittest.TestCase):
    def test_over_a_crest_by_the_inscribed_angle(self):
        """Of tyres without radius the angle at a point is π less the angle under which it sees both contacts (Euclid
        III.21).
        """
        long = 2600.0
        rng = np.random.default_rng(4)
        for _ in range(30):
            start, end = sorted(rng.uniform(50, 2550, 2))
            h0, h1 = rng.uniform(60, 220, 2)
            plate = lambda x, start=start, end=end, h0=h0, h1=h1: h0 + (h1 - h0) * (x - start) / (end - start)  # noqa: E731
            seen = lambda x, plate=plate: math.degrees(math.atan2(plate(x), x) + math.atan2(plate(x), long - x))  # noqa: E731
            best = min(
                minimize_scalar(seen, bounds=(a, b), method="bounded").fun
                for a, b in ((start, end), (start, (start + end) / 2), ((start + end) / 2, end))
            )
            least = min(best, seen(start), seen(end))
            found = angles_along([(start, plate(start)), (end, plate(end))], (1e-6, 1e-6), long).breakover_deg
            self.assertAlmostEqual(found, least, delta=2e-3)

    def test_the_middle_of_a_plate_limits_though_both_its_ends_do_not(self):
        plate = [(500.0, 150.0), (2100.0, 150.0)]
        ends = [tangent_deg(x, up, 300.0) + tangent_deg(2600.0 - x, up, 300.0) for x, up in plate]
        self.assertLess(angles_along(plate, (300.0, 300.0), 2600.0).breakover_deg, min(ends) - 1.0)

    def test_a_line_under_the_front_tyre_touches_the_tyre_and_the_lowest_point_of_it(self):
        found = angles_along([(-900.0, 140.0), (-600.0, 150.0)], (300.0, 300.0), 2600.0).approach_deg
        foot = 300.0 * math.tan(math.radians(found) / 2)
        ramp = LineString([(x, -(x + foot) * math.tan(math.radians(found))) for x in (-3000.0, 0.0)])
        self.assertAlmostEqual(ramp.distance(Point(0, 300.0)), 300.0, places=4)
        self.assertAlmostEqual(ramp.distance(LineString([(-900, 140), (-600, 150)])), 0.0, places=6)

    def test_what_lies_within_a_tyre_seen_from_the_side_is_never_reached(self):
        found = angles_along([(-100.0, 150.0), (100.0, 150.0)], (300.0, 300.0), 2600.0)
        self.assertEqual((found.approach_deg, found.breakover_deg, found.departure_deg), (None, None, None))

    def test_the_least_of_car_and_panels_and_never_in_place_of_what_nobody_measured(self):
        bare = angles_of(CAR)
        with_panel = replace(CAR, panels=(Hung("plate", ((400.0, 150.0), (2000.0, 140.0))),))
        found = angles_of(with_panel)
        self.assertEqual((found.approach_deg, found.departure_deg), (bare.approach_deg, bare.departure_deg))
        self.assertLess(found.breakover_deg, bare.breakover_deg)
        blind = replace(with_panel, tail=None, belly=None)
        self.assertIsNone(angles_of(blind).breakover_deg)
        high = replace(CAR, panels=(Hung("plate", ((400.0, 250.0), (2000.0, 240.0))),))
        self.assertEqual(angles_of(high), bare)

    def test_judged_by_name_at_rest_and_lowered_with_the_body(self):
        hung = replace(CAR, panels=(Hung("Belly panel", ((400.0, 120.0), (2000.0, 120.0))),))
        still, down = judge_slopes(hung, [("crest", 8.0)], (40.0, 60.0))
        self.assertIn("at Belly panel", still.reason)
        read = replace(
            hung,
            panels=(replace(hung.panels[0], inputs=(InputUsed("Belly panel", "its card"),)),),
            inputs=(InputUsed("lip", "as read"),),
        )
        self.assertEqual(
            [one.name for one in judge_slopes(read, [("crest", 8.0)], (40.0, 60.0))[0].inputs], ["lip", "Belly panel"]
        )
        low = lowered(hung, 40.0, 60.0)
        self.assertAlmostEqual(low.panels[0].points_mm[1][1], 120.0 - (40.0 + 2000.0 / 2600.0 * 20.0))
        self.assertAlmostEqual(down.value, angles_of(low).breakover_deg - 8.0)
        self.assertNotIn("Belly panel", judge_slopes(CAR, [("crest", 8.0)], (40.0, 60.0))[0].reason)

    def test_drawn_with_its_points_to_drag(self):
        hung = replace(CAR, panels=(Hung("plate", ((400.0, 150.0), (2000.0, 140.0))),))
        side = side_view(hung, [], [(0, 400.0, 150.0, 5.0), (2, 2000.0, 140.0, 8.0)])
        self.assertEqual(len(side.panels), 1)
        self.assertEqual([(k, by) for k, _, _, by in side.handles], [(0, 5.0), (2, 8.0)])
        self.assertAlmostEqual((side.handles[1][1] - side.handles[0][1]) / side.scale, 1600.0, delta=0.5)
        self.assertAlmostEqual((side.handles[1][2] - side.handles[0][2]) / side.scale, 10.0, delta=0.5)


class Heat(unittest.TestCase):
    CARD = stations("0 300 150\n400 380 170\n900 350 140")

    def test_the_height_between_pipe_and_panel_is_the_least_along_the_pipe(self):
        for line, high in (
            ("100 0, 800 0", 260.0 - 170.0),
            ("500 0, 900 0", 260.0 - np.interp(500, [400, 900], [170, 140])),
            ("1000 0, 1200 0", 120.0),
        ):
            hot = over_panel(hot_lines(f"pipe: {line} r 30 keep 50 up 260")[0], self.CARD)
            self.assertAlmostEqual(hot.clear_mm, high)

    def test_what_goes_through_the_panel_has_no_height_left(self):
        """At 155 mm over a card that rises from 150 to 170.

        5 mm under it, then 15 mm over it, and through it between.
        """
        crossing = over_panel(hot_lines("pipe: 0 0, 400 0 r 3 keep 1 up 155")[0], self.CARD)
        self.assertEqual(crossing.clear_mm, 0.0)
        self.assertEqual(over_panel(hot_lines("pipe: 0 0, 400 0 r 3 keep 1 up 150")[0], self.CARD).clear_mm, 0.0)
        self.assertEqual(over_panel(hot_lines("pipe: 0 0, 400 0 r 3 keep 1 up 130")[0], self.CARD).clear_mm, 20.0)

    def test_judged_in_space(self):
        shape = polygon_of([(0, -300), (900, -300), (900, 300), (0, 300)])
        hot = over_panel(hot_lines("pipe: 100 400, 800 400 r 30 keep 50 up 260")[0], self.CARD)
        judged = judge_heat(shape, hot)
        self.assertAlmostEqual(judged.value, math.hypot(100.0, 90.0) - 30.0)
        self.assertIn("90 mm of height", judged.reason)

    def test_without_heights_it_is_seen_from_above(self):
        hot = over_panel(hot_lines("pipe: 100 400, 800 400 r 30 up 260")[0], stations("0 300\n900 300"))
        self.assertIsNone(hot.clear_mm)
        self.assertEqual(over_panel(hot_lines("pipe: 1 2 r 3 above 40")[0], self.CARD).clear_mm, 40.0)
