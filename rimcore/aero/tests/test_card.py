"""Panels from a card: read and refused, closed forms for areas, fasteners never further apart than the pitch, paper
that covers all; slopes at rest and at bump.
"""

import itertools
import math
import unittest

from hypothesis import given, settings
from hypothesis import strategies as st
from shapely import LineString, Point, Polygon, box, unary_union

from rimcore.aero.bench import Under, judge_slopes, lowered, side_view, slopes
from rimcore.aero.card import (
    KeepOut,
    cut_plan,
    fixed,
    from_picture,
    hot_lines,
    keep_outs,
    outline_of,
    panel_of,
    points,
    sheets,
    stations,
)
from rimcore.aero.panel import judge_heat, polygon_of
from rimcore.aero.paper import BAR_MM, EDGE_MM, PAPER_MM, tiles
from rimcore.aero.splitter import judge_cover
from rimcore.quantities.errors import BadInput

CARD = "0 380 150\n400 520 145\n900 500 140\n1300 430"


class Card(unittest.TestCase):
    def test_area_is_that_of_the_trapezia(self):
        """Both halves: (380 + 520) × 400 + (520 + 500) × 500 + (500 + 430) × 400."""
        panel = polygon_of(outline_of(stations(CARD)))
        self.assertAlmostEqual(panel.area, 900 * 400 + 1020 * 500 + 930 * 400)

    def test_a_card_that_ends_in_a_point_meets_itself_once(self):
        self.assertEqual(polygon_of(outline_of(stations("0 0\n300 200\n600 0"))).area, 2 * (0.5 * 300 * 200) * 2)

    def test_what_is_not_understood_is_told_by_its_line(self):
        for read, text, words in (
            (stations, "0 380\nwide", "line 2"),
            (stations, "0 380", "fewer than two"),
            (stations, "0 380\n0 400", "no further back"),
            (stations, "0 -3\n100 5", "below 0"),
            (stations, "0 380\n9000 400", "out of range"),
            (points, "0 0 0", "line 1"),
            (keep_outs, "plug: 10 20", "drain plug: 620"),
            (keep_outs, "plug: 10 20 r 0", "line 1"),
            (hot_lines, "silencer 900", "line 1"),
            (hot_lines, "pipe: 900 r 30", "line 1"),
            (hot_lines, "pipe: 900 1 r 0", "radius over 0"),
            (sheets, "big", "1000 x 2000"),
            (sheets, "10 x 2000", "sides of 50"),
            (slopes, "drive", "line 1"),
            (slopes, "drive 90", "over 0 to 60"),
            (stations, "\n".join(f"{k} 5" for k in range(70)), "60 at most"),
        ):
            with self.assertRaises(BadInput, msg=text) as caught:
                read(text)
            self.assertIn(words, caught.exception.message)

    def test_decimal_commas_and_typed_points(self):
        self.assertEqual(points("0 0; 100,5 0; 100 50"), [(0.0, 0.0), (100.5, 0.0), (100.0, 50.0)])
        self.assertEqual(stations("0 380,5\n10 2")[0].half_mm, 380.5)

    def test_an_outline_that_crosses_itself_is_refused(self):
        with self.assertRaises(BadInput) as caught:
            panel_of(points("0 0; 200 0; 0 100; 150 120"), ())
        self.assertIn("crosses itself", caught.exception.message)

    def test_a_keep_out_takes_its_circle_or_its_bite_and_never_cuts_it_apart(self):
        square = [(0, 0), (200, 0), (200, 200), (0, 200)]
        ring = 24 * 30**2 * math.tan(math.pi / 24)
        self.assertTrue(
            Polygon(KeepOut("plug", 100, 100, 30).ring).contains(Point(100, 100).buffer(29.999)),
            "nothing of the circle is covered",
        )
        self.assertAlmostEqual(panel_of(square, [KeepOut("plug", 100, 100, 30)]).area, 40_000 - ring, places=6)
        self.assertAlmostEqual(panel_of(square, [KeepOut("jack", 0, 100, 30)]).area, 40_000 - ring / 2, places=6)
        with self.assertRaises(BadInput) as caught:
            panel_of([(0, 0), (200, 0), (200, 40), (0, 40)], [KeepOut("pipe", 100, 20, 30)])
        self.assertIn("“pipe” cuts the panel apart", caught.exception.message)

    def test_heat_by_the_room_in_plan_and_height(self):
        """20 mm beside the panel, 40 above it: √2000 = 44.7, less a radius of 30."""
        panel = polygon_of([(0, 0), (100, 0), (100, 100), (0, 100)])
        found = judge_heat(panel, hot_lines("silencer: 120 -50, 120 150 r 30 keep 20 above 40")[0])
        self.assertAlmostEqual(found.value, math.sqrt(2000) - 30)
        self.assertEqual(found.state, "tight")


class Fasteners(unittest.TestCase):
    @settings(max_examples=40, deadline=None, derandomize=True)
    @given(st.lists(st.tuples(st.integers(0, 1200), st.integers(-500, 500)), max_size=8), st.integers(80, 250))
    def test_no_stretch_of_the_edge_is_longer_than_the_pitch(self, holes, pitch):
        panel = polygon_of(outline_of(stations(CARD)))
        found = fixed(panel, holes, float(pitch), 15.0)
        ring = LineString(Polygon(panel.exterior).buffer(-15.0, quad_segs=64).exterior.coords)
        near = [one for one in found.existing if ring.distance(Point(one)) <= pitch / 2]
        at = sorted(ring.project(Point(one)) for one in (*near, *found.new))
        gaps = [b - a for a, b in itertools.pairwise([*at, at[0] + ring.length])]
        self.assertLessEqual(max(gaps), pitch + 0.5)
        self.assertTrue(set(found.existing) <= set(holes))

    def test_existing_holes_count_only_where_the_panel_is(self):
        panel = panel_of([(0, 0), (600, 0), (600, 400), (0, 400)], [KeepOut("plug", 300, 200, 60)])
        self.assertEqual(fixed(panel, [(300, 200), (900, 900), (300, 100)], 150.0, 15.0).existing, ((300, 100),))


class Sheets(unittest.TestCase):
    def test_the_fewest_sheets_then_the_least_money_and_no_price_last(self):
        panel = polygon_of([(0, 0), (1500, 0), (1500, 900), (0, 900)])
        found = cut_plan(panel, sheets("1000 x 2000\n1000 x 2000, 20\n1250 x 2500, 18\n600 x 1000, 3"))
        self.assertEqual([(one.count, one.price_minor) for one in found], [(1, 1800), (1, 2000), (1, None), (3, 900)])
        self.assertEqual(found[0].turned_deg, 90.0)


class Paper(unittest.TestCase):
    def test_tiles_cover_the_panel_overlap_and_none_is_empty(self):
        panel = panel_of(outline_of(stations(CARD)), [KeepOut("plug", 600, 0, 80)])
        found = tiles(panel)
        frames = [box(t.left_mm, t.top_mm, t.left_mm + t.wide_mm, t.top_mm + t.high_mm) for t in found]
        self.assertAlmostEqual(unary_union(frames).intersection(panel).area, panel.area, places=3)
        self.assertTrue(all(frame.intersects(panel) for frame in frames))
        self.assertEqual(len({t.name for t in found}), len(found))
        beside = next(t for t in found if (t.row, t.column) == (found[0].row, found[0].column + 1))
        self.assertAlmostEqual(found[0].left_mm + found[0].wide_mm - beside.left_mm, 12.0)
        self.assertLess(BAR_MM, PAPER_MM[0] - 2 * EDGE_MM)


class Slopes(unittest.TestCase):
    car = Under((860.0, 140.0), (900.0, 220.0), (1200.0, 130.0), (300.0, 305.0), 2310.0)

    def test_a_trailer_that_is_missed_by_a_degree_and_a_half(self):
        from rimcore.aero.ramp import tangent_deg

        steep = tangent_deg(860.0, 140.0, 300.0) + 1.5
        found = judge_slopes(self.car, [("trailer", round(steep, 2))], (None, None))
        self.assertEqual((found[0].state, round(found[0].value, 1)), ("hit", -1.5))
        self.assertEqual(found[1].state, "unmeasured")

    def test_at_full_bump_the_whole_body_is_lower(self):
        still, low = judge_slopes(self.car, [("drive", 6.0)], (50.0, 40.0))
        down = lowered(self.car, 50.0, 40.0)
        again = judge_slopes(down, [("drive", 6.0)], (0.0, 0.0))[0]
        self.assertAlmostEqual(low.value, again.value)
        self.assertLess(low.value, still.value)
        self.assertEqual(down.belly[1], 130.0 - 50.0 - 1200 / 2310 * -10.0)

    def test_what_is_not_measured_is_never_clear(self):
        for change in ({"lip": None}, {"radius_mm": None}, {"wheelbase_mm": None}, {"tail": None}, {"belly": None}):
            car = Under(**{**self.car.__dict__, **change})
            self.assertEqual(judge_slopes(car, [("drive", 3.0)], (10.0, 10.0))[0].state, "unmeasured", change)
        inside = Under((100.0, 200.0), (900.0, 200.0), (1200.0, 130.0), (300.0, 300.0), 2310.0)
        self.assertIn("inside the tyre", judge_slopes(inside, [("drive", 3.0)], (10.0, 10.0))[0].reason)

    def test_the_drawing_keeps_the_angle(self):
        found = side_view(self.car, [("drive", 10.0)])
        name, path, degrees = found.lines[0]
        (x0, y0), (x1, y1) = (tuple(map(float, one.split(" "))) for one in path[1:].split("L"))
        self.assertEqual(name, "approach")
        self.assertAlmostEqual(math.degrees(math.atan2(y1 - y0, x1 - x0)), degrees, delta=0.2)
        name, path, degrees = found.lines[1]
        (x0, y0), (x1, y1) = (tuple(map(float, one.split(" "))) for one in path[1:].split("L"))
        self.assertEqual(name, "departure")
        self.assertAlmostEqual(math.degrees(math.atan2(y1 - y0, x0 - x1)), degrees, delta=0.2)
        tail = tuple(map(float, found.body.split("L")[-1].split(" ")))
        self.assertAlmostEqual(
            y0 + (tail[0] - x0) / (x1 - x0) * (y1 - y0), tail[1], delta=0.3, msg="its line goes through the tail"
        )
        self.assertIsNone(side_view(Under(None, None, None, None, None), []))

    def test_a_covered_cooler(self):
        for covered, state in ((10.0, "clear"), (10.2, "tight"), (40.0, "tight"), (40.2, "hit")):
            self.assertEqual(judge_cover(200.0, covered).state, state, covered)
        self.assertEqual((judge_cover(200.0, 5.0).value, judge_cover(200.0, 5.0).margin), (2.5, 2.5))
        self.assertEqual(judge_cover(200.0, 30.0).margin, -10.0)
        self.assertEqual(judge_cover(None, 1.0).state, "unmeasured")


if __name__ == "__main__":
    unittest.main()


class Pictured(unittest.TestCase):
    """A bar of 500 mm laid on a card at a slant of 3 : 4, so that every length is whole by hand."""

    BAR = ((10.0, 20.0), (40.0, 60.0))

    def test_scale_direction_and_side_are_those_of_the_bar(self):
        # 50 pixels are 500 mm: 10 mm a pixel. Along the bar is (0.6, 0.8), right of it (-0.8, 0.6) in a picture that
        # runs down.
        on_bar, beside = (10.0 + 0.6 * 12, 20.0 + 0.8 * 12), (10.0 - 0.8 * 7, 20.0 + 0.6 * 7)
        found, scale = from_picture([on_bar, beside], self.BAR, 500.0, (200.0, -30.0))
        self.assertEqual(scale, 10.0)
        self.assertEqual(found, [(320.0, -30.0), (200.0, 40.0)])

    def test_from_below_left_and_right_are_changed(self):
        beside = (10.0 - 0.8 * 7, 20.0 + 0.6 * 7)
        found, _ = from_picture([beside], self.BAR, 500.0, (200.0, -30.0), from_below=True)
        self.assertEqual(found, [(200.0, -100.0)])

    def test_a_bar_of_ten_pixels_is_the_shortest(self):
        self.assertEqual(from_picture([(5.0, 0.0)], ((0.0, 0.0), (10.0, 0.0)), 100.0, (0.0, 0.0))[0], [(50.0, 0.0)])
        with self.assertRaises(BadInput):
            from_picture([(5.0, 0.0)], ((0.0, 0.0), (9.9, 0.0)), 100.0, (0.0, 0.0))
