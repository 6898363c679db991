"""The map's and the bands' drawings by hand: where axes, areas, contours, bars and ticks stand, in drawing units."""

import math
import unittest

from rimcore.well.draw.scene_map import band_scene, map_scene
from rimcore.well.judge.bands import Band
from rimcore.well.judge.wellmap import Cell, WellMap
from rimcore.well.read.around import free_place, groups_of
from rimcore.well.read.rule import WHERE


def field(steer, travel, gap, state, left):
    cells = tuple(tuple(Cell(float(s), float(t), gap(s, t), state(s, t), left(s, t)) for s in steer) for t in travel)
    return WellMap(None, tuple(map(float, steer)), tuple(map(float, travel)), cells)


class Map(unittest.TestCase):
    def test_frame_and_axes(self):
        """260 × 178 with 40 to the right and 22 below for the axes: x from 4 to 220, y from 4 (bump) to 156 (droop)."""
        plain = field((-30, 0, 30), (-40, 0, 60), lambda s, t: 20.0, lambda s, t: "clear", lambda s, t: 10.0)
        scene = map_scene(plain, 15.0, -20.0, 30.0, [(-30.0, 60.0, "rub")])
        self.assertEqual(
            (scene.width, scene.height, scene.x0, scene.y0, scene.x1, scene.y1), (260, 178, 4.0, 4.0, 220.0, 156.0)
        )
        self.assertEqual((scene.zero_x, scene.pose_x), (112.0, 166.0))
        self.assertAlmostEqual(scene.zero_y, 156 - 152 * 70 / 100, 9)
        self.assertAlmostEqual(scene.pose_y, 156 - 152 * 20 / 100, 9)
        self.assertEqual(scene.marks, [(4.0, 4.0, "rub")])
        self.assertEqual(set(scene.paths), {"tight", "clear"})
        self.assertEqual(scene.paths["tight"], "M4.0 4.0H220.0V156.0H4.0z")
        self.assertEqual(scene.lines, {"touches": "", "margin": "", "10 mm": ""})

    def test_one_travel_and_one_steer_stand_in_the_middle(self):
        level = map_scene(
            field((-30, 0, 30), (10,), lambda s, t: 5.0, lambda s, t: "tight", lambda s, t: -1.0), 0.0, 10.0, 10.0
        )
        self.assertEqual((level.pose_y, level.zero_y), (80.0, 80.0))
        self.assertEqual(level.pose_x, 112.0)
        still = map_scene(
            field((0,), (-40, 60), lambda s, t: 5.0, lambda s, t: "tight", lambda s, t: -1.0), 0.0, 10.0, 10.0
        )
        self.assertEqual((still.pose_x, still.pose_y), (112.0, 80.0))

    def test_cells_nobody_knows_end_half_way_to_their_neighbours(self):
        """Steer −30, 0, 30 over 216 units: edges at 4, 58, 166, 220.

        Travel −40, 0, 60 over 152: edges at 156, 125.6, 49.6, 4.
        """
        odd = field(
            (-30, 0, 30),
            (-40, 0, 60),
            lambda s, t: 20.0,
            lambda s, t: "unmeasured" if s >= 0 and t == 0 else "clear",
            lambda s, t: 10.0,
        )
        self.assertEqual(map_scene(odd, 0, 0, 0).paths["unmeasured"], "M58.0 125.6H220.0V49.6H58.0z")
        split = field(
            (-30, 0, 30),
            (-40, 0, 60),
            lambda s, t: 20.0,
            lambda s, t: "clear" if s == 0 else "unmeasured",
            lambda s, t: 10.0,
        )
        self.assertEqual(map_scene(split, 0, 0, 0).paths["unmeasured"].split("z")[0], "M4.0 156.0H58.0V125.6H4.0")
        alone = field((0,), (10,), lambda s, t: 20.0, lambda s, t: "unmeasured", lambda s, t: 10.0)
        self.assertEqual(map_scene(alone, 0, 10, 10).paths["unmeasured"], "M4.0 156.0H220.0V4.0H4.0z")

    def test_a_hole_in_an_area_begins_anew(self):
        """What touches in the middle of the field alone.

        An area round nothing, a ring of two outlines where it is clear.
        """
        steer, travel = range(-40, 41, 10), range(-40, 41, 10)
        found = field(
            steer,
            travel,
            lambda s, t: math.hypot(s, t) - 15,
            lambda s, t: "hit" if math.hypot(s, t) < 15 else "clear",
            lambda s, t: math.hypot(s, t) - 25,
        )
        scene = map_scene(found, 0, 0, 0)
        self.assertEqual((scene.paths["hit"].count("M"), scene.paths["clear"].count("M")), (1, 2))
        self.assertEqual(scene.paths["hit"].count("z"), 1)

    def test_nothing_is_clear_where_nothing_is_said_to_be(self):
        unknown = field((-30, 30), (-40, 60), lambda s, t: 20.0, lambda s, t: "unmeasured", lambda s, t: 10.0)
        self.assertEqual(set(map_scene(unknown, 0, 0, 0).paths), {"unmeasured"})


def band(width, contact, clear, low="damper", high="arch", best=40):
    return Band(
        width_in=width,
        tyre="225/45R17",
        no_contact=contact,
        all_clear=clear,
        low_limit=low,
        high_limit=high,
        best_mm=best,
        best_left_mm=1.0,
    )


class Bands(unittest.TestCase):
    """Offsets 20 to 60 over 600 units: x from 80 to 390, 7.75 units a millimetre."""

    def scene(self, *bands, low=20, high=60, here=(8.0, "225/45R17"), offset=40.0):
        return band_scene(bands, [f"{one.width_in:g} in" for one in bands], low, high, here, offset)

    def test_bars_reach_half_a_millimetre_past_their_ends(self):
        found = self.scene(band(8.0, (30, 50), (35, 35)), band(9.0, (40, 45), None))
        self.assertEqual((found.x0, found.x1, found.height, found.width), (80.0, 390.0, 86.0, 600))
        first, second = found.rows
        self.assertEqual((first.y, second.y), (14.0, 44.0))
        self.assertAlmostEqual(first.contact[0], 80 + 9.5 * 7.75, 9)
        self.assertAlmostEqual(first.contact[1], 21 * 7.75, 9)
        self.assertAlmostEqual(first.clear[1], 7.75, 9)
        self.assertIsNone(second.clear)
        self.assertEqual(first.note, "out: damper · in: arch")

    def test_a_bar_is_never_too_thin_to_see(self):
        wide = self.scene(band(8.0, (40, 40), None), low=-100, high=200)
        self.assertEqual(wide.rows[0].contact[1], 3.0)

    def test_the_setting_is_marked_on_its_own_bar_within_the_scale(self):
        for offset, low, here, at in (
            (40.0, 20, (8.0, "225/45R17"), 235.0),
            (60.0, 20, (8.0, "225/45R17"), 390.0),
            (20.0, 20, (8.0, "225/45R17"), 80.0),
            (61.0, 20, (8.0, "225/45R17"), None),
            (19.0, 20, (8.0, "225/45R17"), None),
            (40.0, 20, (8.5, "225/45R17"), None),
            (40.0, 20, (8.0, "205/55R16"), None),
        ):
            self.assertEqual(
                self.scene(band(8.0, (30, 50), None), low=low, here=here, offset=offset).rows[0].here,
                at,
                (offset, here),
            )

    def test_nothing_fits_says_where_it_lacks_least(self):
        self.assertEqual(self.scene(band(10.0, None, None, best=-3)).rows[0].note, "nothing fits; least at −3")

    def test_ticks_every_five_and_every_ten_on_a_long_scale(self):
        self.assertEqual(
            [text for _, text in self.scene(band(8.0, None, None), low=18, high=41).ticks],
            ["+20", "+25", "+30", "+35", "+40"],
        )
        self.assertEqual(
            [text for _, text in self.scene(band(8.0, None, None), low=-11, high=4).ticks], ["−10", "−5", "+0"]
        )
        self.assertEqual(len(self.scene(band(8.0, None, None), low=0, high=60).ticks), 13)
        self.assertEqual(len(self.scene(band(8.0, None, None), low=0, high=61).ticks), 7)
        at = self.scene(band(8.0, None, None)).ticks
        self.assertEqual((at[0], at[-1]), ((80.0, "+20"), (390.0, "+60")))


class Marks(unittest.TestCase):
    def test_places_are_looked_for_in_rings_of_nine(self):
        """The first ring that is 25 away is the third, of 24 places: 27 units off, straight to the right.

        Then the next turn that is free of it.
        """
        self.assertEqual(free_place(150.0, 115.0, [(150.0, 115.0)]), (177.0, 115.0))
        third = free_place(150.0, 115.0, [(150.0, 115.0), (177.0, 115.0)])
        turn = math.degrees(math.atan2(third[1] - 115, third[0] - 150))
        self.assertAlmostEqual(math.dist(third, (150.0, 115.0)), 27.0, 9)
        self.assertAlmostEqual(turn, 60.0, 6)

    def test_places_stay_in_the_frame(self):
        self.assertEqual(free_place(400.0, 400.0, []), (287.0, 217.0))
        x, y = free_place(287.0, 217.0, [(287.0, 217.0)])
        self.assertTrue(13 <= x <= 287 and 13 <= y <= 217)
        self.assertGreaterEqual(math.dist((x, y), (287.0, 217.0)), 25.0)

    def test_at_the_edge_the_first_place_within_it_is_taken(self):
        """From the right edge a quarter turn on, straight along it; from the lower edge half a turn on."""
        x, y = free_place(287.0, 100.0, [(287.0, 100.0)])
        self.assertEqual((round(x, 6), round(y, 6)), (287.0, 127.0))
        x, y = free_place(13.0, 217.0, [(13.0, 217.0)])
        self.assertEqual((round(x, 6), round(y, 6)), (40.0, 217.0))

    def test_a_full_frame_gives_the_place_itself(self):
        everywhere = [(float(x), float(y)) for x in range(0, 301, 20) for y in range(0, 231, 20)]
        self.assertEqual(free_place(150.0, 115.0, everywhere), (150.0, 115.0))

    def test_a_drawing_carries_no_rule_of_its_own_but_every_part(self):
        groups_of.cache_clear()
        for group in groups_of("FL"):
            for view in group.views:
                self.assertEqual(
                    (view.where.rules, view.where.labels, view.where.thin, view.where.ghost), ((), (), (), False)
                )
                parts = {
                    part for code in group.codes if WHERE[code].view == view.where.view for part in WHERE[code].parts
                }
                self.assertEqual(set(view.where.parts), parts)
