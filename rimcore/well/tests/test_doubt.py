"""The ± of a gap: against draws, and where it must not cancel; the lip along its run; the polygon of the outline."""

import math
import unittest
from dataclasses import replace

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st

from proofs.doubt import ratios
from rimcore.well.judge.at_rest import judge_corner
from rimcore.well.judge.clearance import sweep
from rimcore.well.judge.doubt import Facing, known_mm, same_carcass
from rimcore.well.judge.fitment import judge
from rimcore.well.judge.in_motion import judge_motion, swept
from rimcore.well.judge.ranges import bare
from rimcore.well.judge.remedies import remedies
from rimcore.well.judge.rest_gaps import at_rest
from rimcore.well.judge.tolerance import SCHOOLS
from rimcore.well.levers import Levers
from rimcore.well.read.measured import Candidate, Reading, placed
from rimcore.well.read.obstacles import LIP_STEP_MM, lip_of, things_of
from rimcore.well.read.travel import Doubt, Motion
from rimcore.well.solid.cloud import Cloud
from rimcore.well.solid.gap import Station, outline_polygon
from rimcore.well.solid.polygon import signed_distance
from rimcore.well.solid.pose import Pose
from rimcore.well.solid.wheel_plane import Hinge, Thing, Well
from rimcore.well.tests.test_clearance import reference
from rimcore.well.tests.test_motion import MOTION, ON_CAR, axle, candidate, read, readings
from rimcore.wheels.outline import POLYGON_MM, outline
from rimcore.wheels.tyre import parse_tyre
from rimcore.wheels.wheel import parse_wheel

DAILY = SCHOOLS["daily"]


def rest_doubt(reading, chosen, motion=None):
    moves = motion or Motion(steers=False)
    rest = at_rest(reading, chosen, moves)
    return known_mm([rest.facing("", chosen.fitted)], chosen, moves)[0]


class AgainstDraws(unittest.TestCase):
    def test_stated_is_what_draws_show(self):
        """Three random corners, everything drawn at once from its own ±.

        The whole of it by hand: python -m proofs.doubt.
        """
        rows = ratios(3, 150, seed=4)
        share = np.array([said / true for _, _, said, true in rows])
        self.assertGreater(len(rows), 50)
        self.assertGreaterEqual(np.mean((share > 0.78) & (share < 1.25)), 0.9)
        self.assertGreater(share.min(), 0.72)


class WhatCancels(unittest.TestCase):
    low = Reading("FL", "damper", Station("damper", height_mm=200), 12.0, ON_CAR, Pose(-0.6), 1.0)
    high = replace(low, station=Station("damper", height_mm=262))

    def test_a_rule_on_the_rim_does_not_cancel_the_tyres_error(self):
        """Read against the rim, met by the sidewall: the carcass counts whole, though the same tyre stays on."""
        beside = replace(self.low, station=Station("damper", height_mm=200, strut=False))
        low, high = (
            swept((one,), MOTION, Candidate(ON_CAR))[0].known.mm
            for one in (beside, replace(beside, station=Station("damper", height_mm=262, strut=False)))
        )
        self.assertGreater(low, 2.4)
        self.assertLess(high, 1.3, "checked against the sidewall it cancels")

    def test_the_same_carcass_on_another_rim_is_off_by_the_same(self):
        other = Candidate(replace(ON_CAR, wheel=parse_wheel("16x7.5 +45")))
        self.assertTrue(same_carcass(ON_CAR, other.fitted))
        self.assertLess(rest_doubt(self.high, other).mm, 1.3)
        self.assertGreater(rest_doubt(self.high, Candidate(replace(ON_CAR, tyre=parse_tyre("215/55R16")))).mm, 3.3)

    def test_errors_of_axis_and_gain_count_where_they_matter(self):
        known = {one.reading.code: one.known.mm for one in swept(readings(), MOTION, bare(candidate()))}
        loose = replace(MOTION, doubt=Doubt(0.3, 0.006, 1.5, 1.0, 8.0))
        wide = {one.reading.code: one.known.mm for one in swept(readings(), loose, bare(candidate()))}
        for code, mm in known.items():
            self.assertGreaterEqual(wide[code], mm - 1e-9)
        self.assertGreater(wide["liner_front"], known["liner_front"] + 0.3)

    def test_the_card_says_what_the_doubt_is_made_of(self):
        judged = next(j for j in judge(axle(), candidate(), DAILY).judgements if j.code == "gap.damper" and j.value)
        self.assertIn("±", judged.formula)
        self.assertIn("rule 1.0", judged.formula)

    def test_a_raised_reading_is_judged_with_the_camber_it_was_raised_to(self):
        """The wheel that was read, at the height at which it was read, reads what was read."""
        raised = read("FL", "damper_bump", 12.0, Station("damper", height_mm=285, strut=False), raised=60.0)
        judged = judge_corner("FL", [raised], Candidate(ON_CAR), DAILY, replace(MOTION, camber_gain_deg_per_mm=-0.01))
        self.assertAlmostEqual(next(j.reads for j in judged if j.code == "gap.damper_bump"), 12.0, delta=0.01)


class ToeAndTrackOverTravel(unittest.TestCase):
    """What the hard points leave in doubt moves the wheel away from where it stands, and the gap with it."""

    def share(self, reading, travel, doubt, drop=0.0):
        facing = Facing(reading, 0.0, travel, 1.0, 0.0, (0.0, 0.0))
        known = known_mm(
            [facing], Candidate(ON_CAR, levers=Levers(ride_drop_mm=drop)), Motion(steers=False, doubt=doubt)
        )[0]
        return {one.source: one.mm for one in known.shares}

    def test_track_by_the_travel_from_where_it_stands(self):
        low = Reading("FL", "damper", Station("damper", height_mm=200, strut=False), 12.0, ON_CAR, Pose(-0.6), 1.0)
        wide = Doubt(track_mm_per_mm=0.02)
        self.assertAlmostEqual(self.share(low, 50.0, wide)["track over travel"], 1.0, delta=0.001)
        self.assertAlmostEqual(self.share(low, 50.0, wide, 20.0)["track over travel"], 0.6, delta=0.001)
        self.assertNotIn("track over travel", self.share(low, 20.0, wide, 20.0))

    def test_toe_by_how_far_ahead_the_place_is(self):
        front = Reading("FL", "liner_front", Station("liner", edge="front", u="centre"), 40.0, ON_CAR, Pose(-0.6), 1.0)
        ahead = abs(float(placed(front).points_mm[0][0]))
        found = self.share(front, 40.0, Doubt(toe_deg_per_mm=0.01))["toe over travel"]
        self.assertAlmostEqual(found, ahead * math.sin(math.radians(0.4)), delta=0.02)

    def test_a_reading_raised_as_far_has_seen_the_same_toe_and_track(self):
        """Read at 30 mm of bump and held against the same bump: what is not known was there when it was read."""
        raised = read("FL", "damper_bump", 12.0, Station("damper", height_mm=285, strut=False), raised=30.0)
        found = self.share(raised, 30.0, Doubt(toe_deg_per_mm=0.01, track_mm_per_mm=0.02))
        self.assertLess(found.get("track over travel", 0.0) + found.get("toe over travel", 0.0), 0.01)


class TightByItsDoubt(unittest.TestCase):
    def test_there_are_remedies_and_one_is_to_measure(self):
        lone = Reading("FL", "damper", Station("damper", height_mm=262), 7.0, ON_CAR, Pose(-0.6), 1.0)
        front = axle(first=(lone,), motion=Motion(steers=False))
        chosen = Candidate(replace(ON_CAR, tyre=parse_tyre("205/50R16")))
        judged = next(j for j in judge(front, chosen, DAILY).judgements if j.code == "gap.damper" and j.value)
        self.assertEqual(judged.state, "tight")
        self.assertGreaterEqual(judged.margin, 0.0, "the figure alone keeps its margin")
        self.assertIn("measure the section", judged.remedies[0])
        found = remedies(front, chosen, DAILY)
        self.assertTrue(found)
        after = next(
            j for j in judge(front, found[0].candidate, DAILY).judgements if j.code == "gap.damper" and j.value
        )
        self.assertEqual(after.state, "clear")
        self.assertTrue(found[0].sure)


class Lip(unittest.TestCase):
    three = tuple(
        read("FL", f"arch_{clock}", None, Station("arch", clock=clock, side_gap_mm=side, up_gap_mm=up))
        for clock, side, up in ((10, 30, 75), (12, 22, 58), (2, 33, 70))
    )

    def test_points_lie_no_further_apart_than_said(self):
        run = lip_of(self.three[1], self.three)
        self.assertLessEqual(np.linalg.norm(np.diff(run.points_mm, axis=0), axis=1).max(), LIP_STEP_MM + 0.5)
        self.assertEqual((run.between.min(), run.between.max()), (0.0, 0.5))

    def test_the_gap_between_clock_positions_is_that_of_the_lip_itself(self):
        """Against the same arc taken a tenth of a millimetre apart by the reference."""
        chosen = candidate("17x8.5 +30", ride_drop_mm=0.0)
        well = Well(
            centre_mm=chosen.fitted.centre_mm,
            camber_deg=-1.8,
            camber_gain_deg_per_mm=-0.01,
            bump_mm=60.0,
            droop_mm=60.0,
            ride_drop_mm=0.0,
            steer_out_deg=36.0,
            steer_in_deg=33.0,
            kpi_deg=12.5,
            caster_deg=4.2,
            kingpin_inboard_mm=108.0,
        )
        pairs = things_of(self.three, MOTION)
        lows = Cloud(well, [thing for _, thing in pairs]).lows(outline_polygon(chosen.fitted.outline), well.centre_mm)
        s, t = (grid.ravel() for grid in np.meshgrid(np.linspace(-33, 36, 15), np.linspace(0, 60, 7)))
        found = min(low.gap_mm for low in lows)
        spots = [placed(one).points_mm[0] for one in self.three]
        polar = np.array([[math.atan2(p[0], p[2]), math.hypot(p[0], p[2]), p[1]] for p in spots])
        share = np.linspace(0, 1, 200)
        dense = np.vstack([polar[k] + share[:, None] * (polar[k + 1] - polar[k]) for k in range(2)])
        points = np.column_stack([dense[:, 1] * np.sin(dense[:, 0]), dense[:, 2], dense[:, 1] * np.cos(dense[:, 0])])
        true = reference(outline_polygon(chosen.fitted.outline), well, points, s, t).min()
        self.assertLessEqual(found, true + 0.02)

    def test_how_far_it_may_bow_is_in_the_doubt(self):
        bent = lip_of(self.three[1], self.three)
        self.assertGreater(bent.bow_mm.max(), 1.0, "its neighbours show that it bends")
        straight = tuple(replace(r, station=replace(r.station, side_gap_mm=25, up_gap_mm=60)) for r in self.three)
        self.assertLess(lip_of(straight[1], straight).bow_mm.max(), 0.6)
        two = lip_of(self.three[0], self.three[:2])
        self.assertGreater(two.bow_mm.max(), 2.0, "with two readings nobody knows how it runs between")
        self.assertEqual(two.bow_mm[two.between == 0.0].max(), 0.0)


class Polygon(unittest.TestCase):
    @settings(max_examples=60, deadline=None, derandomize=True)
    @given(st.integers(0, 10**6))
    def test_lies_within_two_hundredths_of_the_smooth_curve(self, seed):
        rng = np.random.default_rng(seed)
        rim = int(rng.integers(14, 20))
        tyre = parse_tyre(f"{rng.integers(17, 31) * 10 + 5}/{rng.choice([30, 35, 40, 45, 50, 55, 60])}R{rim}")
        low, high = tyre.rim_range_in
        found = outline(parse_wheel(f"{rim}x{rng.choice([low, high])} +30"), tyre)
        curve = np.vstack(found.smooth(400))
        away = signed_distance(found.polygon(), curve)
        self.assertLess(away.max(), POLYGON_MM, "gaps come out too large by less than this")
        self.assertGreater(away.min(), -1.5 * POLYGON_MM)


class Map(unittest.TestCase):
    def test_a_fat_far_obstacle_does_not_hide_a_thin_near_one(self):
        shape = outline(parse_wheel("17x8 +40"), parse_tyre("225/45R17")).polygon()
        things = [
            Thing("thin", "body", np.array([[0.0, -40.0, 345.0]])),
            Thing("fat", "body", np.array([[0.0, -330.0, -420.0]]), 160.0),
        ]
        found = sweep(
            shape, Well(-40.0, bump_mm=20.0, droop_mm=20.0, steer_out_deg=20.0, steer_in_deg=20.0), things, 10.0, 5.0
        )
        self.assertAlmostEqual(found.map_mm.min(), min(gap.gap_mm for gap in found.gaps), delta=0.3)
        well = Well(-40.0)
        alone = sweep(shape, well, things[:1], 10.0, 5.0, 3, 3)
        both = sweep(shape, well, things, 10.0, 5.0, 3, 3)
        self.assertLessEqual(both.map_mm.max(), alone.map_mm.max() + 1e-6)


class Arms(unittest.TestCase):
    def test_an_arm_that_cant_follow_is_unmeasured_on_the_bench(self):
        arm = read("FL", "arm_rear_lock", 30.0, Station("arm", edge="rear", height_mm=-60), 34.0)
        short = replace(MOTION, hinge=Hinge((-200.0, -100.0), (-140.0, -100.0)))
        found = next(j for j in judge_motion("FL", [arm], short, candidate(), DAILY) if j.code.startswith("gap.arm"))
        self.assertEqual(found.state, "unmeasured")
        self.assertIn("can't follow", found.reason)


if __name__ == "__main__":
    unittest.main()
