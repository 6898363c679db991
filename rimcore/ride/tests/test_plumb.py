"""Hard points by plumb line: the frame they are carried into, the band that holds the truth, and what is judged of
curves.

The band is held against cars whose points are known: readings are drawn within their ± about the truth, and the band
made of them has to hold the true curve about as often as it says (JCGM 100:2008).
"""

import unittest
from dataclasses import replace

import numpy as np

from rimcore.drawing.charts import chart, nice_step
from rimcore.quantities.errors import BadInput
from rimcore.ride.bench import (
    cross_uncertainty_pct,
    judge_bump_steer,
    judge_bump_steer_read,
    judge_cross,
    judge_reach,
    odd_axle,
    promised_over_bump,
    rod_for_no_bump_steer_mm,
    unread,
)
from rimcore.ride.curves import curves
from rimcore.ride.drawing import sketch
from rimcore.ride.plumb import CRAWL, HUB, Plumb, Read, _off, banded, corner_frame, wanted, words
from rimcore.ride.points import LAYOUTS, HardPoints, Wheel, abreast, held
from rimcore.ride.tests.test_links import FIVE, STRUT, WISHBONE
from rimcore.ride.weights import Pads

POINTS = {"wishbone": WISHBONE, "strut": STRUT, "five_link": FIVE}
TRAVEL = (-50.0, -25.0, 0.0, 25.0, 50.0)


def read(kind="wishbone", uncertainty=2.0, shift=None, camber=-1.0, **more):
    """Readings of a corner whose hub face stands 740 mm from the centre line and 310 mm high."""
    off = shift if shift is not None else {}
    rows = {HUB: (740.0, 0.0, 310.0)} | {
        name: (740.0 + y, float(x), 310.0 + z) for name, (x, y, z) in POINTS[kind].items()
    }
    readings = tuple((name, Plumb(*(np.array(rows[name]) + off.get(name, 0.0)), uncertainty)) for name in wanted(kind))
    return Read(kind, readings, -30.0, camber, 0.1, **more)


class Frame(unittest.TestCase):
    def test_points_come_back_as_they_stand_in_the_corner(self):
        for kind, points in POINTS.items():
            found = read(kind).hard_points()
            for name, point in points.items():
                np.testing.assert_allclose(found.points[name], point, atol=1e-9)
            self.assertEqual(
                (found.wheel.radius_mm, found.wheel.centre_y_mm, found.half_track_mm), (310.0, -30.0, 710.0)
            )

    def test_from_the_mounting_face_inboard_is_minus(self):
        found = corner_frame(Plumb(0, 0, 300, 2, True), {"rod_inner": Plumb(390, -130, 230, 2, True)})
        self.assertEqual(found["rod_inner"], (-130.0, -390.0, -70.0))

    def test_every_point_is_on_the_way_once(self):
        self.assertEqual(len(CRAWL), len(set(CRAWL)))
        for kind, layout in LAYOUTS.items():
            self.assertEqual(set(wanted(kind)), {HUB, *layout.points})
            self.assertEqual(wanted(kind)[0], HUB)
            self.assertTrue(all(words(kind, name) for name in wanted(kind)))

    def test_what_is_missing_is_named(self):
        short = replace(read(), readings=read().readings[:-2])
        with self.assertRaises(BadInput) as caught:
            short.hard_points()
        self.assertEqual(caught.exception.field, "points_mm")
        self.assertIn("upper arm, rear inner point", caught.exception.message)

    def test_the_rack_moves_the_steered_links_inner_end_alone(self):
        for kind in POINTS:
            moved, still = replace(read(kind), rack_mm=(20.0, -5.0)).hard_points(), read(kind).hard_points()
            rack = LAYOUTS[kind].rod[1]
            np.testing.assert_allclose(np.subtract(moved.points[rack], still.points[rack]), (20.0, 0.0, -5.0))
            self.assertEqual(
                {k: v for k, v in moved.points.items() if k != rack},
                {k: v for k, v in still.points.items() if k != rack},
            )


class Abreast(unittest.TestCase):
    """Many corners at once are what one after the other is."""

    def one_by_one(self, read, by):
        """The corner with every reading off by shares of its ±, by the way that asks every corner by itself."""
        moved = tuple(
            (
                name,
                replace(
                    one,
                    across_mm=one.across_mm + row[0] * one.uncertainty_mm,
                    ahead_mm=one.ahead_mm + row[1] * one.uncertainty_mm,
                    up_mm=one.up_mm + row[2] * one.uncertainty_mm,
                ),
            )
            for (name, one), row in zip(read.readings, by, strict=True)
        )
        try:
            return replace(read, readings=moved).hard_points()
        except BadInput:
            return None

    def test_draws_are_those_of_one_by_one(self):
        moves = (
            (0.0, 0.0),
            (20.0, -5.0),
            (8.0, 4.0, 3.0, 6.0, 5.0),
            (0.0, 0.0, 0.0, 0.0, 0.0, 4.0),
            (6.0, 0.0, 0.0, 4.0, 2.0, -3.0),
        )
        for kind in POINTS:
            for rack_mm in moves:
                one = read(kind, rack_mm=rack_mm)
                shares = np.random.default_rng(3).uniform(-1, 1, (12, len(one.readings), 3))
                for by, found in zip(shares, _off(one, shares), strict=True):
                    alone = self.one_by_one(one, by)
                    np.testing.assert_allclose(
                        (found.wheel.camber_deg, found.wheel.toe_deg),
                        (alone.wheel.camber_deg, alone.wheel.toe_deg),
                        atol=1e-9,
                    )
                    np.testing.assert_allclose(list(found.points.values()), list(alone.points.values()), atol=1e-9)
                    np.testing.assert_allclose(abreast([found]).outer, alone.corner.outer, atol=1e-9)

    def test_a_draw_that_can_not_be_assembled_keeps_its_place(self):
        one = read("wishbone", uncertainty=10.0, rack_mm=(0.0, 0.0, 0.0, 0.0, 0.0, 150.0))
        shares = np.random.default_rng(5).uniform(-1, 1, (40, len(one.readings), 3))
        found = [point is not None for point in _off(one, shares)]
        self.assertEqual(found, [self.one_by_one(one, by) is not None for by in shares])
        self.assertEqual(set(found), {True, False})

    def spoilt(self, kind):
        """Every way in which points of a layout fail, one at a time."""
        points, layout = POINTS[kind], LAYOUTS[kind]
        outer, inner = layout.links[0]
        yield {outer: points[inner]}
        yield dict.fromkeys(points, (0.0, 0.0, 0.0))
        if layout.axis is not None:
            low, high, front, rear = (
                np.array(points[name], dtype=float) for name in (*layout.axis, "lower_front", "lower_rear")
            )
            yield {"rod_outer": tuple(low + 0.3 * (high - low))}
            yield {"lower_front": points["lower_rear"]}
            yield {"lower_joint": tuple(2 * rear - front)}
        if kind == "strut":
            yield {"strut_knuckle": points["strut_top"]}
        if kind == "five_link":
            yield {f"link_2_{end}": points[f"link_1_{end}"] for end in ("inner", "outer")}

    def test_what_can_not_be_held_is_what_is_refused(self):
        for kind, points in POINTS.items():
            some = [points, *({**points, **change} for change in self.spoilt(kind))]
            found = held([HardPoints.unasked(LAYOUTS[kind], one, Wheel(0.0, 300.0), None) for one in some])
            self.assertEqual(found.tolist(), [True] + [False] * (len(some) - 1), kind)
            for one in some[1:]:
                with self.assertRaises(BadInput):
                    HardPoints(LAYOUTS[kind], one, Wheel(0.0, 300.0))


class Band(unittest.TestCase):
    def test_the_band_holds_the_truth_about_as_often_as_it_says(self):
        """Forty cars read with ±2 mm.

        Camber and toe 50 mm into bump lie in the band in most of them, and not by being wide.
        """
        truth = curves(read().hard_points(), [50.0])
        dice, inside = np.random.default_rng(3), {"camber_deg": 0, "toe_deg": 0, "roll_centre_mm": 0}
        for _ in range(40):
            shift = {name: dice.uniform(-2.0, 2.0, 3) for name in wanted("wishbone")}
            found = banded(read(shift=shift), (0.0, 50.0))
            for name in inside:
                inside[name] += found.low[name][1] <= getattr(truth, name)[0] <= found.high[name][1]
        for name, count in inside.items():
            self.assertTrue(34 <= count <= 40, (name, count))

    def test_a_better_reading_makes_a_narrower_band(self):
        wide, narrow = banded(read(uncertainty=4.0), TRAVEL), banded(read(uncertainty=1.0), TRAVEL)
        for name in ("camber_deg", "toe_deg", "roll_centre_mm"):
            ratio = (wide.high[name] - wide.low[name])[-1] / (narrow.high[name] - narrow.low[name])[-1]
            self.assertTrue(3.5 < ratio < 4.5, (name, ratio))

    def test_exact_readings_leave_no_band(self):
        found = banded(read(uncertainty=0.0), TRAVEL)
        np.testing.assert_allclose(found.high["toe_deg"], found.low["toe_deg"], atol=1e-9)
        self.assertIsNone(found.narrows)

    def test_reading_the_named_point_again_narrows_it_most(self):
        """Each point by itself read exactly: the band of toe shrinks most for the one that is named."""
        found = banded(read(), TRAVEL)
        self.assertAlmostEqual(sum(found.shares.values()), 1.0, 9)
        left = {}
        for name in wanted("wishbone"):
            better = tuple(
                (one, replace(plumb, uncertainty_mm=0.0) if one == name else plumb) for one, plumb in read().readings
            )
            again = banded(replace(read(), readings=better), TRAVEL)
            left[name] = float(
                ((again.high["toe_deg"] - again.low["toe_deg"]) ** 2).sum()
                + ((again.high["camber_deg"] - again.low["camber_deg"]) ** 2).sum()
            )
        self.assertEqual(min(left, key=left.get), found.narrows[0])

    def test_the_same_readings_give_the_same_band(self):
        banded.cache_clear()
        first = banded(read(), TRAVEL)
        banded.cache_clear()
        np.testing.assert_array_equal(first.low["toe_deg"], banded(read(), TRAVEL).low["toe_deg"])

    def test_every_layout_has_one(self):
        for kind in POINTS:
            found = banded(read(kind), TRAVEL)
            self.assertEqual(found.lost, 0)
            self.assertEqual(np.isfinite(found.low["caster_deg"]).all(), kind != "five_link")


class Judged(unittest.TestCase):
    def test_reach(self):
        found = banded(read(), (-60.0, 0.0, 60.0, 200.0, 400.0))
        self.assertEqual(judge_reach(found, 60.0, 60.0, "FL").state, "clear")
        self.assertEqual(judge_reach(found, None, 60.0, "FL").missing, ("droop",))
        self.assertEqual(judge_reach(found, 60.0, None, "FL").missing, ("bump",))
        lost = judge_reach(found, 60.0, 400.0, "front left")
        self.assertEqual(lost.state, "hit")
        self.assertIn("front left: past +", lost.reason)

    def test_bump_steer_by_both_edges_of_the_band(self):
        """0.15° over 25 mm is left alone; the band decides between tight and hit."""
        for uncertainty, camber in ((0.0, -1.0), (2.0, -1.0)):
            points = read(uncertainty=uncertainty, camber=camber)
            found = banded(points, (-25.0, 0.0, 25.0))
            judged = judge_bump_steer(found, points, 0.0, "FL")
            change = abs(found.curves.toe_deg[2] - found.curves.toe_deg[1])
            self.assertAlmostEqual(judged.value, change, 12)
            low, high = change - judged.uncertainty, change + judged.uncertainty
            self.assertEqual(judged.state, "hit" if low > 0.15 else "tight" if high > 0.15 else "clear")
        self.assertEqual(judge_bump_steer(found, points, 10.0, "FL").state, "unmeasured")

    def test_the_doubt_of_bump_steer_is_the_farther_edge(self):
        points = read()
        found = banded(points, (0.0, 25.0))
        rows = [np.diff(row)[0] for row in (found.curves.toe_deg, found.low["toe_deg"], found.high["toe_deg"])]
        judged = judge_bump_steer(found, points, 0.0, "FL")
        self.assertAlmostEqual(judged.uncertainty, max(abs(rows[1] - rows[0]), abs(rows[2] - rows[0])), 12)

    def test_what_is_promised_over_bump_is_what_the_curves_do(self):
        points = read()
        found = banded(points, (-10.0, 15.0, 25.0))
        said = {one.code: one for one in promised_over_bump(found, -10.0, "front left")}
        for code, figure in (("camber", "camber_deg"), ("toe", "toe_deg")):
            row = getattr(curves(points.hard_points(), [-10.0, 15.0]), figure)
            self.assertAlmostEqual(said[f"geometry.{code}_over_bump"].value, row[1] - row[0], places=4)
            self.assertGreater(said[f"geometry.{code}_over_bump"].uncertainty, 0.0)
        self.assertEqual(promised_over_bump(found, 10.0, "front left"), [], "the curves don't reach 35 mm")

    def test_bump_steer_as_it_was_read_is_carried_to_25_mm(self):
        """0.15° over 25 mm; what was read over 50 mm counts half, its ± too, whichever way it was raised."""
        for change, raised, doubt, state in (
            (0.10, 50.0, 0.19, "clear"),
            (0.10, 50.0, 0.22, "tight"),
            (-0.22, 50.0, 0.1, "tight"),
            (-0.42, 50.0, 0.1, "hit"),
            (0.2, -25.0, 0.04, "hit"),
        ):
            judged = judge_bump_steer_read(change, raised, doubt, "front left")
            self.assertEqual(judged.state, state, (change, raised, doubt))
            self.assertAlmostEqual(judged.value, abs(change * 25 / raised))
            self.assertAlmostEqual(judged.uncertainty, abs(doubt * 25 / raised))
        with self.assertRaises(BadInput):
            judge_bump_steer_read(0.1, 0.0, 0.1, "front left")

    def test_a_rod_that_can_not_be_moved_has_no_cure(self):
        self.assertIsNone(rod_for_no_bump_steer_mm(read(), 400.0))

    def test_a_joint_in_line_with_its_arm_is_found_by_its_distance(self):
        """One millimetre off the line of the inner points holds an arm; a thousandth does not.

        Distances are of the point, not scaled by the arm.
        """
        arm = dict(POINTS["wishbone"])
        front, rear = np.array(arm["lower_front"], float), np.array(arm["lower_rear"], float)
        for off, fails in ((5.0, False), (1e-9, True)):
            arm["lower_joint"] = tuple(front + 0.4 * (rear - front) + np.array([0.0, off, 0.0]))
            try:
                HardPoints(LAYOUTS["wishbone"], arm, Wheel(0, 300))
                message = ""
            except BadInput as error:
                message = error.message
            self.assertEqual("in line" in message, fails, off)

    def test_the_cure_cures(self):
        """The rod's inner joint moved as said: toe changes no more over 25 mm of bump, to the slope's own accuracy."""
        for kind in POINTS:
            points = read(kind)
            before = np.diff(curves(points.hard_points(), [0.0, 25.0]).toe_deg)[0]
            up = rod_for_no_bump_steer_mm(points, 0.0)
            after = np.diff(curves(replace(points, rack_mm=(0.0, up)).hard_points(), [0.0, 25.0]).toe_deg)[0]
            self.assertLess(abs(after), 0.1 * abs(before) + 1e-3, kind)

    def test_points_that_are_not_read(self):
        self.assertEqual(unread("reach", None, "front left").reason, "front left: hard points not read")
        some = replace(read(), readings=read().readings[:5])
        self.assertEqual(unread("reach", some, "front left").reason, "front left: 4 points not read")
        self.assertEqual(len(unread("reach", some, "front left").missing), 4)

    def test_cross_weight(self):
        for fr, state in ((300.0, "clear"), (305.8, "clear"), (306.2, "tight"), (312.0, "tight"), (313.0, "hit")):
            self.assertEqual(judge_cross(Pads(600 - fr, fr, 300, 300), 0.1).state, state, fr)
        self.assertEqual(judge_cross(None).state, "unmeasured")
        self.assertEqual(
            judge_cross(Pads(294.5, 305.5, 300, 300), 5.0).state, "tight", "half a per cent less the pads' own ±"
        )
        dice = np.random.default_rng(1)
        drawn = [Pads(*(np.array([352, 338, 261, 289]) + dice.normal(0, 2.0, 4))).cross_pct for _ in range(4000)]
        self.assertAlmostEqual(cross_uncertainty_pct(Pads(352, 338, 261, 289), 2.0), float(np.std(drawn)), 2)

    def test_pads_against_what_is_written(self):
        self.assertEqual(odd_axle(Pads(300, 300, 200, 200), 630, 400), "")
        self.assertIn("the front pads add up to 600 kg", odd_axle(Pads(300, 300, 200, 200), 632, 400))
        self.assertIn("the rear pads add up to 400 kg", odd_axle(Pads(300, 300, 200, 200), None, 300))
        self.assertEqual(odd_axle(Pads(300, 300, 200, 200), None, None), "")


class Drawn(unittest.TestCase):
    def test_a_chart_stands_to_scale(self):
        """0 to 100 across 312 units, −1 to 1 with 6 % of room above and below."""
        found = chart("x", "°", np.array([0.0, 50.0, 100.0]), np.array([-1.0, 0.0, 1.0]), here=50.0)
        self.assertEqual((found.x0, found.x1, found.y0, found.y1), (56.0, 368.0, 12.0, 200.0))
        self.assertEqual(found.here, (212.0, 106.0))
        self.assertEqual(found.zero_y, 106.0)
        self.assertEqual([text for _, text in found.across], ["0", "20", "40", "60", "80", "100"])
        self.assertEqual([text for _, text in found.up], ["−1.0", "−0.5", "0", "0.5", "1.0"])

    def test_what_is_not_reached_lifts_the_pen(self):
        found = chart("x", "", np.array([0.0, 1.0, 2.0, 3.0]), np.array([0.0, np.nan, 1.0, 2.0]), here=1.5)
        self.assertEqual(found.line.count("M"), 2)
        self.assertIsNone(found.here)

    def test_steps_are_round(self):
        for span, step in ((100, 20), (10, 2), (7, 2), (3, 1), (0.5, 0.1)):
            self.assertAlmostEqual(nice_step(span), step, 12)

    def test_a_sketch_shows_what_was_read(self):
        whole, part = sketch(read()), sketch(replace(read(), readings=read().readings[:4]))
        self.assertEqual([len(view.marks) for view in whole.views], [9, 9])
        self.assertEqual([len(view.links) for view in whole.views], [5, 5])
        self.assertEqual([len(view.links) for view in part.views], [1, 1])
        for view in whole.views:
            self.assertTrue(all(0 <= mark.x <= 300 and view.y0 <= mark.y <= view.y0 + 210 for mark in view.marks))


class Steered(unittest.TestCase):
    def test_scrub_and_trail_of_a_steered_wheel_by_vectors(self):
        """Gillespie's definitions by cross products.

        Contact less the axis at the ground, along and across the wheel's heading.
        """
        points = HardPoints(LAYOUTS["wishbone"], WISHBONE, Wheel(-30.0, 310.0, -1.5, 0.2))
        found = curves(points, [10.0], [35.0])
        turn, at = found.poses.turn[0], found.poses.at[0]
        axis = turn @ points.wheel.axis
        centre = at + axis * -30.0
        up = np.array([0.0, 0.0, 1.0])
        down = up - axis * (up @ axis)
        contact = centre - 310.0 * down / np.linalg.norm(down)
        low, high = (turn @ points.at(name) + at for name in ("lower_joint", "upper_joint"))
        ground = low + (high - low) * (contact[2] - low[2]) / (high[2] - low[2])
        out = np.array([axis[0], axis[1], 0.0]) / np.hypot(axis[0], axis[1])
        ahead = np.cross(out, up) * np.sign(np.cross(out, up)[0])
        self.assertGreater(abs(float(found.toe_deg[0])), 10.0)
        self.assertAlmostEqual(float(found.scrub_radius_mm[0]), float((contact - ground) @ out), 6)
        self.assertAlmostEqual(float(found.trail_mm[0]), float((ground - contact) @ ahead), 6)
