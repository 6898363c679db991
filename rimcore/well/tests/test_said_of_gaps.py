"""What is said of gaps, and the choices between them: each against a figure worked out by hand or by brute force."""

import math
import re
import unittest
from dataclasses import replace

import numpy as np

from rimcore.quantities.judgement import Judgement
from rimcore.well.draw.template import CALIPER_HEIGHT_MM, PAD_RADIUS_MM, brake_template
from rimcore.well.judge import fitment
from rimcore.well.judge.bands import gaps_by_offset
from rimcore.well.judge.clearance import sweep
from rimcore.well.judge.ranges import Range, range_of
from rimcore.well.judge.remedies import remedies
from rimcore.well.judge.rest_gaps import at_rest
from rimcore.well.judge.tolerance import MARGIN_FIELDS, SCHOOLS, Tolerances
from rimcore.well.judge.trials import LEVERS, apply, kept
from rimcore.well.judge.wellmap import wanted_at_most
from rimcore.well.judge.window import offset_window
from rimcore.well.read.measured import Axle, Reading
from rimcore.well.read.travel import Motion
from rimcore.well.solid.gap import Station
from rimcore.well.solid.pose import Pose
from rimcore.well.solid.wheel_plane import Thing, Well
from rimcore.well.tests.cases import with_levers
from rimcore.wheels.fitted import Fitted
from rimcore.wheels.hub import Hub
from rimcore.wheels.spacers import spacer_findings
from rimcore.wheels.tyre import parse_tyre
from rimcore.wheels.wheel import parse_wheel

DAILY = SCHOOLS["daily"]
ON_CAR = Fitted(parse_wheel("16x6.5 +50"), parse_tyre("205/55R16 91V"))
MOVES = Motion(
    bump_mm=60.0,
    droop_mm=70.0,
    steer_out_deg=36.0,
    steer_in_deg=33.0,
    camber_gain_deg_per_mm=-0.01,
    kpi_deg=12.0,
    caster_deg=4.0,
    kingpin_inboard_mm=100.0,
)


def read(code, station, gap=None, corner="FL"):
    return Reading(corner, code, station, gap, ON_CAR, Pose(), 1.0)


LIP = read("arch_12", Station("arch", clock=12, side_gap_mm=31.0, up_gap_mm=62.0))
DAMPER = read("damper", Station("damper", height_mm=262.0), 15.0)
LINER = read("liner_front", Station("liner", edge="front", u="centre"), 40.0)


def stands(wheel="17x8 +40", tyre="225/45R17 91W", **more):
    return with_levers(Fitted(parse_wheel(wheel), parse_tyre(tyre)), **more)


def axle(*readings, motion=Motion()):  # noqa: B008  frozen
    return Axle(("FL",), ON_CAR, Hub(), readings, 812.0, (("FL", motion),))


def judged(found, code):
    return next(j for j in found.judgements if j.code == code)


class Tightest(unittest.TestCase):
    def test_a_margin_of_nothing_is_less_than_half_a_millimetre(self):
        at = [Judgement(f"gap.{margin}", "", "clear", "", "", value=1.0, margin=margin) for margin in (0.5, 0.0, 3.0)]
        self.assertEqual(fitment.Verdict(tuple(at)).tightest.margin, 0.0)
        self.assertIsNone(fitment.Verdict((replace(at[0], margin=None),)).tightest)

    def test_kept_is_clear_and_not_for_sure_with_its_doubt(self):
        near = Judgement("gap.damper", "", "tight", "", "", value=5.2, held_against=5.0, margin=0.2, uncertainty=1.0)
        self.assertTrue(kept(near))
        self.assertFalse(kept(near, sure=True))
        self.assertTrue(kept(replace(near, state="clear", value=9.0, margin=4.0), sure=True))


class Reasons(unittest.TestCase):
    def test_sideways_says_that_it_stands_out_only_where_it_does(self):
        for wheel, out in (("17x8 +45", False), ("17x8 +5", True)):
            said = judged(fitment.judge(axle(LIP), stands(wheel), DAILY), "gap.arch_12.sideways")
            self.assertEqual("out past the lip" in said.reason, out, said.reason)
            self.assertEqual(said.value < 0, out)
            if out:
                self.assertIn(f"stands {-said.value:.1f} mm", said.reason)

    def test_an_overlap_elsewhere_is_called_so(self):
        low = replace(LIP, station=replace(LIP.station, up_gap_mm=5.0))
        said = judged(fitment.judge(axle(low), stands("17x8 +45", "235/60R17 102H"), DAILY), "gap.arch_12.upward")
        self.assertEqual(said.state, "hit")
        self.assertIn(f"overlaps by {-said.value:.1f} mm", said.reason)


class Facing(unittest.TestCase):
    def test_it_points_from_the_outline_to_what_is_near(self):
        """A unit vector along the shortest way, outward; turned round where the point lies inside."""
        for reading, wheel, sign in ((DAMPER, "17x8 +40", 1.0), (DAMPER, "17x8 +80", -1.0)):
            found = at_rest(reading, stands(wheel), Motion())
            face = found.facing("", stands(wheel).fitted)
            self.assertAlmostEqual(math.hypot(face.across, face.radial), 1.0)
            self.assertEqual(math.copysign(1.0, found.nearest_mm), sign)
            way = np.array([found.across_mm - found.foot_mm[0], found.radius_mm - found.foot_mm[1]])
            np.testing.assert_allclose([face.across, face.radial], sign * way / np.linalg.norm(way), atol=1e-9)

    def test_at_the_arch_it_points_sideways_or_up(self):
        found, shape = at_rest(LIP, stands(), Motion()), stands().fitted.outline
        side, up = found.facing("sideways", stands().fitted), found.facing("upward", stands().fitted)
        self.assertEqual((side.across, side.radial, up.across, up.radial), (1.0, 0.0, 0.0, 1.0))
        self.assertEqual(
            (side.foot_mm, up.foot_mm), ((shape.outermost_mm, shape.widest_radius_mm), (0.0, shape.crown_mm))
        )
        self.assertTrue(side.widest and not up.widest)


class Ranges(unittest.TestCase):
    def test_springs_leave_the_stroke_where_it_is(self):
        self.assertEqual(range_of(MOVES, stands()), Range(60.0, 70.0, 36.0, 33.0))
        self.assertEqual(range_of(MOVES, stands(ride_drop_mm=25.0)), Range(60.0, 70.0, 36.0, 33.0))
        self.assertEqual(range_of(MOVES, stands(ride_drop_mm=25.0, stroke_moves=True)), Range(85.0, 45.0, 36.0, 33.0))
        self.assertEqual(range_of(MOVES, stands(ride_drop_mm=75.0)), Range(75.0, 70.0, 36.0, 33.0))
        self.assertEqual(range_of(MOVES, stands(lock_limit_deg=34.0)), Range(60.0, 70.0, 2.0, 0.0))
        self.assertIsNone(range_of(Motion(), stands()))


class ByOffset(unittest.TestCase):
    def test_what_moves_alone_what_rests_alone_and_nothing(self):
        self.assertIsNone(gaps_by_offset((), MOVES, stands(), DAILY))
        for readings, motion in (((LINER,), MOVES), ((LIP,), Motion()), ((LIP, LINER), MOVES)):
            at = gaps_by_offset(readings, motion, stands(), DAILY)
            self.assertIsNotNone(at)
            self.assertGreaterEqual(len(at(40)), len(readings))

    def test_a_millimetre_out_is_a_millimetre_less_at_the_lip(self):
        at = gaps_by_offset((LIP,), Motion(), stands(), DAILY)
        self.assertAlmostEqual(at(40)[0].most_mm - at(39)[0].most_mm, 1.0, places=6)

    def test_the_map_wants_the_larger_allowance(self):
        for flex, growth in ((4.0, 1.0), (1.0, 6.0), (2.0, 2.0)):
            some = replace(DAILY, flex_mm=flex, growth_mm=growth)
            self.assertAlmostEqual(wanted_at_most(LINER, some), DAILY.liner_mm + max(flex, growth))
            self.assertAlmostEqual(wanted_at_most(LIP, some), DAILY.arch_side_mm + max(flex, growth))


class Windows(unittest.TestCase):
    TUBE = np.array([[-100.0, 200.0], [100.0, 200.0], [100.0, 300.0], [-100.0, 300.0]])

    def test_each_end_is_limited_by_what_stands_there(self):
        """A post 150 mm inboard and one 160 mm outboard of the face: offsets −60 to 50 touch neither."""
        posts = [
            Thing("inner", "knuckle", np.array([[0.0, -150.0, 250.0]])),
            Thing("outer", "knuckle", np.array([[0.0, 160.0, 250.0]])),
        ]
        found = offset_window(
            outline_mm=self.TUBE,
            well=Well(0.0),
            things=posts,
            spacer_mm=0.0,
            low_mm=-90.0,
            high_mm=90.0,
            body_margin_mm=10.0,
            knuckle_margin_mm=5.0,
        )
        np.testing.assert_allclose(found.no_contact, (-60.0, 50.0), atol=0.05)
        np.testing.assert_allclose(found.all_clear, (-55.0, 45.0), atol=0.05)
        self.assertEqual((found.low_limited_by, found.high_limited_by), ("outer", "inner"))
        self.assertAlmostEqual(found.best_offset_mm, -5.0, delta=0.1)
        self.assertAlmostEqual(found.best_margin_mm, 50.0, delta=0.1)

    def test_where_nothing_fits_the_best_is_that_of_every_offset_tried(self):
        things = [
            Thing("in", "body", np.array([[0.0, -60.0, 260.0]])),
            Thing("out", "body", np.array([[0.0, 70.0, 265.0]])),
        ]
        well = Well(0.0, bump_mm=5.0, droop_mm=5.0)
        found = offset_window(
            outline_mm=self.TUBE,
            well=well,
            things=things,
            spacer_mm=0.0,
            low_mm=-30.0,
            high_mm=40.0,
            body_margin_mm=10.0,
            knuckle_margin_mm=5.0,
        )
        self.assertIsNone(found.no_contact)

        def left(offset):
            gaps = sweep(self.TUBE, replace(well, centre_mm=-offset), things, 10.0, 5.0, 3, 5, contact=False).gaps
            return min(gap.margin_left_mm for gap in gaps)

        tried = {offset: left(offset) for offset in np.arange(-30.0, 40.5, 1.0)}
        self.assertGreaterEqual(found.best_offset_mm, -30.0)
        self.assertGreaterEqual(left(found.best_offset_mm), max(tried.values()) - 1.1)


class Levers(unittest.TestCase):
    def test_each_moves_its_own_figure_and_nothing_else(self):
        start = replace(
            stands(ride_drop_mm=20.0, lock_limit_deg=1.0, lip_rolled_mm=2.0),
            fitted=replace(stands().fitted, camber_deg=-1.0),
        )
        tyres = (parse_tyre("215/45R17"),)
        wanted = {
            ("offset", -5.0): replace(
                start, fitted=replace(start.fitted, wheel=replace(start.fitted.wheel, offset_mm=35.0))
            ),
            ("width", -0.5): replace(
                start, fitted=replace(start.fitted, wheel=replace(start.fitted.wheel, width_in=7.5))
            ),
            ("spacer", 5.0): replace(start, fitted=replace(start.fitted, spacer_mm=5.0)),
            ("camber", -0.6): replace(start, fitted=replace(start.fitted, camber_deg=-1.6)),
            ("tyre", 1.0): replace(start, fitted=replace(start.fitted, tyre=tyres[0])),
            ("raise", 6.0): start.moved(ride_drop_mm=14.0),
            ("lock", 2.0): start.moved(lock_limit_deg=3.0),
            ("lip", 4.0): start.moved(lip_rolled_mm=6.0),
        }
        for change, after in wanted.items():
            self.assertEqual(apply(start, [change], tyres), after, change[0])
        self.assertEqual({code for code, _ in wanted}, {lever.code for lever in LEVERS})

    def test_where_it_does_not_reach(self):
        self.assertIsNone(apply(stands(), [("tyre", 2.0)], (parse_tyre("215/45R17"),)))
        spaced = replace(stands(), fitted=replace(stands().fitted, spacer_mm=5.0))
        self.assertIsNone(apply(spaced, [("spacer", 5.0)], ()))
        for width, reaches in ((-5.0, True), (-5.5, False), (9.0, True), (9.5, False)):
            self.assertEqual(apply(stands("17x8 +40"), [("width", width)], ()) is not None, reaches, width)
        for offset, reaches in ((160.0, True), (160.5, False), (-240.0, True), (-240.5, False)):
            self.assertEqual(apply(stands("17x8 +40"), [("offset", offset)], ()) is not None, reaches, offset)

    def test_remedies_of_the_narrowest_wheel_there_is(self):
        """No wheel under 3 in: what would be narrower is not tried, and nothing fails."""
        for one in remedies(axle(LIP), stands("17x3.5 -90", "135/80R17"), DAILY):
            self.assertGreaterEqual(one.candidate.fitted.wheel.width_in, 3.0)


class Spacers(unittest.TestCase):
    def test_a_figure_that_nobody_measured_has_no_margin(self):
        for collar, known in ((None, False), (8.0, True)):
            for found in spacer_findings(Hub(stud_length_mm=28.0), 25.0, "bolted", collar):
                if found.code == "spacer.collar":
                    self.assertEqual(found.margin is not None, known)
                    if known:
                        self.assertAlmostEqual(found.margin, found.value - found.held_against)


class Remedies(unittest.TestCase):
    def test_consequences_tell_the_gaps_that_move_from_what_to_what(self):
        start = stands("17x8 +8")
        here = axle(LIP, DAMPER)
        before = {
            f"{j.where}, {j.name.lower()}": j.value
            for j in fitment.judge(here, start, DAILY).judgements
            if j.code.startswith("gap.")
        }
        told = 0
        for one in remedies(here, start, DAILY):
            after = {
                f"{j.where}, {j.name.lower()}": j.value for j in fitment.judge(here, one.candidate, DAILY).judgements
            }
            for said in one.consequences:
                found = re.match(r"(.*): (-?[\d.]+) → (-?[\d.]+) mm \(", said)
                if found and found[1] in before:
                    told += 1
                    self.assertEqual(found[2], f"{before[found[1]]:.1f}")
                    self.assertEqual(found[3], f"{after[found[1]]:.1f}")
                    self.assertGreaterEqual(abs(before[found[1]] - after[found[1]]), 0.05)
        self.assertGreater(told, 0)

    def test_two_small_changes_where_one_alone_does_not_do(self):
        """The lip wants the wheel in, the damper wants it out: only narrower and moved together does it."""
        close = replace(DAMPER, gap_mm=8.0)
        start = stands("17x9 +32")
        found = remedies(axle(LIP, close), start, DAILY)
        self.assertTrue(any(len(one.changes) == 2 for one in found), [one.title for one in found])
        for one in found:
            self.assertFalse(
                [
                    j
                    for j in fitment.judge(axle(LIP, close), one.candidate, DAILY).judgements
                    if j.code.startswith("gap.") and j.state == "hit"
                ]
            )


class Template(unittest.TestCase):
    def test_the_caliper_is_drawn_from_its_largest_radius_down_to_its_height_or_the_pad(self):
        for radius in (90.0, 151.5, 200.0):
            found = brake_template(radius, 9.5, -71.0)
            inner = max(PAD_RADIUS_MM + 3.0, radius - CALIPER_HEIGHT_MM)
            corners = {round(found.axle_y - y, 6) for _, y in found.brake}
            self.assertEqual(corners, {0.0, round(inner, 6), round(radius, 6)})


class Schools(unittest.TestCase):
    def test_the_margins_of_the_five(self):
        """Damper, perch, lip sideways and up, liner, rail, caliper, joint, growth, flex [mm] (common practice)."""
        self.assertEqual(
            {name: tuple(getattr(school, field) for field in MARGIN_FIELDS) for name, school in SCHOOLS.items()},
            {
                "daily": (5.0, 8.0, 10.0, 40.0, 10.0, 8.0, 3.0, 4.0, 1.0, 2.0),
                "track": (3.0, 5.0, 6.0, 30.0, 6.0, 5.0, 2.0, 3.0, 2.0, 4.0),
                "drift": (3.0, 5.0, 5.0, 30.0, 5.0, 5.0, 2.0, 3.0, 1.5, 4.0),
                "show": (3.0, 5.0, 2.0, 15.0, 5.0, 5.0, 2.0, 3.0, 0.5, 1.0),
                "tow": (8.0, 10.0, 15.0, 60.0, 15.0, 10.0, 4.0, 5.0, 1.0, 3.0),
            },
        )

    def test_wanted_by_place_and_allowance(self):
        some = Tolerances(
            damper_mm=1.0,
            perch_mm=2.0,
            arch_side_mm=3.0,
            arch_up_mm=4.0,
            liner_mm=5.0,
            rail_mm=6.0,
            caliper_mm=7.0,
            joint_mm=8.0,
            growth_mm=0.5,
            flex_mm=0.25,
        )
        places = ("damper", "perch", "arch_side", "arch_up", "liner", "rail", "caliper", "joint")
        self.assertEqual([some.wanted(place) for place in places], [1.0, 2.0, 3.0, 4.0, 5.0, 6.0, 7.0, 8.0])
        self.assertEqual(some.wanted("arm"), some.wanted("rail"))
        self.assertEqual(some.wanted_moving("liner", 1.0, 0.0), 5.25)
        self.assertEqual(some.wanted_moving("liner", 0.0, 1.0), 5.5)
        self.assertEqual(some.wanted_moving("arch", 0.6, 0.8), 3.0 + 0.6 * 0.25 + 0.8 * 0.5)


if __name__ == "__main__":
    unittest.main()
