"""A corner's obstacles, range and words, each against a figure worked out by hand."""

import math
import unittest
from dataclasses import replace
from types import SimpleNamespace

import numpy as np

from rimcore.quantities.judgement import InputUsed, state_of_gap
from rimcore.well.judge.bands import gaps_by_offset
from rimcore.well.judge.doubt import Known, Share
from rimcore.well.judge.in_motion import (
    BUMP_WANTED_MM,
    Swept,
    _bump_left,
    _end,
    _formula,
    _inputs,
    _judged,
    _moving_remedies,
    _present,
    _range_uncertainty,
    _wants,
    facing_of,
    judge_motion,
    only_assumed,
    pairs_of,
    pose_text,
    range_missing,
    swept,
    usuals_of,
)
from rimcore.well.judge.posegaps import _unknown_at, gaps_at, pose_of
from rimcore.well.judge.ranges import (
    Range,
    at_corner,
    bare,
    camber_gain_deg_per_mm,
    gain_uncertainty_deg_per_mm,
    limiter_mm,
    lock_text,
    range_of,
    unknown_in,
    well_of,
)
from rimcore.well.judge.rest_gaps import at_rest, closest_before_mm, known_at_rest, standing, usual_at_rest
from rimcore.well.judge.tolerance import SCHOOLS
from rimcore.well.judge.unknown import Usual
from rimcore.well.judge.wellmap import Cell, _worse_cells, axis_matters, axle_map, map_cloud, well_map, wheel_free
from rimcore.well.levers import Levers
from rimcore.well.read.measured import Axle, Candidate, Held, Reading, placed
from rimcore.well.read.obstacles import (
    JOINED_HOURS,
    LIP_STEP_MM,
    _bow_mm,
    _half_way,
    _hours,
    _lifted,
    hinge_of,
    lip_of,
    things_of,
)
from rimcore.well.read.travel import Motion
from rimcore.well.solid.cloud import Low
from rimcore.well.solid.gap import Station
from rimcore.well.solid.pose import Pose
from rimcore.well.solid.wheel_plane import Hinge, Thing
from rimcore.well.tests.cases import with_levers
from rimcore.wheels.fitted import Fitted
from rimcore.wheels.hub import Hub
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
ARM = Hinge((-400.0, -100.0), (-100.0, -110.0))


def read(code, station, gap=None, corner="FL", **more):
    more = {"uncertainty_mm": 1.0, "pose": Pose()} | more
    return Reading(corner, code, station, gap, ON_CAR, **more)


def lip(clock, side=31.0, up=62.0, **more):
    return read(f"arch_{clock}", Station("arch", clock=clock, side_gap_mm=side, up_gap_mm=up), **more)


LIP = lip(12)
DAMPER = read("damper", Station("damper", height_mm=262.0, strut=False), 15.0)
STRUT = read("damper", Station("damper", height_mm=262.0), 15.0)
LINER = read("liner_front", Station("liner", edge="front", u="centre"), 40.0)
REAR_LINER = read("liner_rear", Station("liner", edge="rear", u="centre"), 40.0)
ROD = read("arm_rear_lock", Station("arm", edge="rear", height_mm=-60.0), 30.0)


def stands(wheel="17x8 +40", tyre="225/45R17 91W", camber=0.0, **more):
    return with_levers(Fitted(parse_wheel(wheel), parse_tyre(tyre), camber_deg=camber), **more)


def low(
    gap=3.0, steer=0.0, travel=0.0, sideways=0.6, radial=0.8, across=-130.0, radius=260.0, foot=(-127.0, 264.0), point=0
):
    return Low(
        gap_mm=gap,
        steer_deg=steer,
        travel_mm=travel,
        across_mm=across,
        radius_mm=radius,
        sideways=sideways,
        radial=radial,
        point=point,
        foot_mm=foot,
    )


class Ends(unittest.TestCase):
    def test_at_an_end_and_off_it(self):
        self.assertEqual(
            [_end(value, -70.0, 60.0) for value in (-70.0, -69.9, 0.0, 59.9, 60.0, 60.0 - 5e-7)], [-1, 0, 0, 0, 1, 1]
        )
        self.assertEqual(_end(5.0, 5.0, 5.0), 0)

    def test_a_pose_in_words(self):
        self.assertEqual(pose_text(0.4, -0.4), "straight, at rest height")
        self.assertEqual(pose_text(0.5, 0.5), "0° out, bump 0")
        self.assertEqual(pose_text(-0.6, -12.0), "1° in, droop 12")
        self.assertEqual(pose_text(3.0, 0.0, -1), "3° out, full droop")

    def test_what_the_ends_may_cost_is_asked_beyond_the_end_only(self):
        """A gap that falls by 2 mm a degree and by half a millimetre a mm: ± 1.5° and ± 4 mm cost 3 and 2."""
        asked = []

        def gap_at(outline, centre, owner, steer, travel):
            asked.append((owner, steer, travel))
            return 10.0 - 2.0 * (abs(steer) - 30.0) - 0.5 * (abs(travel) - 60.0)

        cloud = SimpleNamespace(gap_at=gap_at)
        some = replace(MOVES, lock_uncertainty_deg=1.5, travel_uncertainty_mm=4.0)
        reach = Range(60.0, 60.0, 30.0, 30.0)

        def cost(steer, travel):
            asked.clear()
            return _range_uncertainty(cloud, None, 0.0, 7, low(10.0, steer, travel), some, reach)

        self.assertAlmostEqual(cost(30.0, 60.0), math.hypot(3.0, 2.0))
        self.assertEqual(asked, [(7, 31.5, 60.0), (7, 30.0, 64.0)])
        self.assertAlmostEqual(cost(-30.0, -60.0), math.hypot(3.0, 2.0))
        self.assertEqual(asked, [(7, -31.5, -60.0), (7, -30.0, -64.0)])
        asked.clear()
        plain = SimpleNamespace(gap_at=lambda outline, centre, owner, steer, travel: 10.0 - 2.0 * (abs(steer) - 30.0))
        self.assertAlmostEqual(_range_uncertainty(plain, None, 0.0, 7, low(10.0, 30.0, 0.0), some, reach), 3.0)
        self.assertEqual((cost(5.0, 10.0), asked), (0.0, []))


class Bump(unittest.TestCase):
    def test_left_to_the_stop(self):
        for drop, state, left, droop in (
            (60.0, "hit", 0.0, 130.0),
            (35.1, "tight", 24.9, 105.1),
            (35.0, "clear", 25.0, 105.0),
            (0.0, "clear", 60.0, 70.0),
        ):
            found = _bump_left("front left", MOVES, stands(ride_drop_mm=drop))
            self.assertEqual((found.state, round(found.value, 6), found.before), (state, left, 60.0))
            self.assertAlmostEqual(found.margin, left - BUMP_WANTED_MM)
            self.assertEqual(
                found.reason, f"{left:.0f} mm of bump and {droop:.0f} mm of droop from where the car stands"
            )
            self.assertEqual(bool(found.remedies), state != "clear")

    def test_a_shorter_damper_body_keeps_the_stroke(self):
        found = _bump_left("front left", MOVES, stands(ride_drop_mm=50.0, stroke_moves=True))
        self.assertEqual((found.value, found.state), (60.0, "clear"))
        self.assertIn("70 mm of droop", found.reason)
        self.assertIn("keeps the stroke", found.formula)

    def test_without_travel_nothing_is_left(self):
        found = _bump_left("front left", Motion(), stands(ride_drop_mm=10.0))
        self.assertEqual((found.value, found.state), (-10.0, "hit"))
        self.assertIn("10 mm of droop", found.reason)

    def test_a_range_that_is_missing_names_its_stations(self):
        found = range_missing("FR", Motion(60.0, None, 36.0, None))
        self.assertEqual(
            (found.state, found.where, found.missing), ("unmeasured", "front right", ("FR.droop", "FR.lock_in"))
        )
        self.assertEqual(len(found.remedies), 2)
        self.assertEqual(Motion(60.0, None, steers=False).missing, ("droop",))


class Wanting(unittest.TestCase):
    def test_words_of_a_gap(self):
        cases = (
            (-0.5, 5.0, 1.0, "overlaps by 0.5 mm"),
            (0.0, 5.0, 1.0, "0.0 ± 1.0 mm: may touch"),
            (0.9, 5.0, 1.0, "0.9 ± 1.0 mm: may touch"),
            (1.0, 5.0, 1.0, "wants 5.0 mm"),
            (5.0, 5.0, 1.0, "wants 5.0 mm; within ± 1.0 mm"),
            (5.9, 5.0, 1.0, "wants 5.0 mm; within ± 1.0 mm"),
            (6.0, 5.0, 1.0, "wants 5.0 mm"),
            (4.9, 5.0, 1.0, "wants 5.0 mm"),
        )
        for gap, wanted, doubt, said in cases:
            self.assertEqual(_wants(gap, wanted, doubt), said)

    def test_state(self):
        self.assertEqual(
            [state_of_gap(gap, 5.0, 1.0) for gap in (-1e-9, 0.0, 5.999, 6.0 - 1e-10, 6.0)],
            ["hit", "tight", "tight", "clear", "clear"],
        )

    def remedies(self, at, wheel="17x8 +40", state="tight", wanted=8.0, doubt=1.0, usual=None):
        one = Swept(DAMPER, at, Known(doubt, ()), 0.0, False, usual)
        return _moving_remedies(one, stands(wheel), state, wanted, doubt)

    def test_to_first_order_by_the_share_across_and_outward(self):
        """8 − 3 + 1 = 6 mm lacking: 10 mm of offset at a share of 0.6, 8 mm of radius at 0.8.

        Inboard, so less offset.
        """
        found = self.remedies(low())
        self.assertEqual(
            found[:3], ("offset about +30", "a tyre about 20 mm narrower", "a tyre about 16 mm less in diameter")
        )
        outboard = self.remedies(low(across=130.0, foot=(127.0, 264.0)))
        self.assertEqual(outboard[0], "offset about +50")
        self.assertEqual(
            self.remedies(low(gap=-1.0, across=-120.0))[0], "offset about +23", "an overlap is left the way it came"
        )

    def test_a_direction_that_takes_little_of_the_gap_is_no_way_out(self):
        self.assertEqual(len(self.remedies(low(sideways=0.29, radial=0.95))), 2)
        self.assertEqual(len(self.remedies(low(sideways=0.3, radial=0.95))), 4)
        self.assertEqual(len(self.remedies(low(sideways=0.95, radial=0.29))), 3)
        self.assertEqual(self.remedies(low(sideways=1.0, radial=0.0))[0], "offset about +34")

    def test_none_where_it_is_clear_and_a_reading_where_it_is_open(self):
        self.assertEqual(self.remedies(low(), state="clear"), ())
        self.assertEqual(self.remedies(low(), state="unmeasured"), ())
        usual = Usual(1.0, 20.0, (("kpi_deg", 4.0),))
        self.assertTrue(
            self.remedies(low(), state="unmeasured", usual=usual)[0].startswith("measure the kingpin inclination")
        )
        self.assertTrue(self.remedies(low(), state="hit", usual=usual)[0].startswith("offset"))

    def test_the_formula_holds_its_numbers(self):
        """2 mm of flex and 1 of growth by their shares on 5 mm: 5 + 0.6 × 2 + 0.8 × 1 = 7."""
        one = Swept(DAMPER, low(3.25, -12.0, 45.0), Known(1.5, (Share("rule", 1.5),)), 0.75, False)
        wanted = DAILY.wanted_moving("damper", 0.6, 0.8)
        self.assertAlmostEqual(wanted, 7.0)
        said = _formula(one.low, DAILY, DAMPER, wanted, one)
        for part in (
            "-12.0° and +45 mm",
            "3.25 mm",
            "wanted 5 + 0.60 × 2 mm flex + 0.80 × 1 mm growth = 7.0 mm",
            "± 1.7 mm: rule 1.5 mm;",
            "range 0.8",
        ):
            self.assertIn(part, said)


class Judged(unittest.TestCase):
    """One obstacle in motion as a judgement."""

    def judged(self, at=None, reading=DAMPER, motion=MOVES, candidate=None, **more):
        more = {"known": Known(1.0, ()), "range_uncertainty_mm": 0.0, "hinge_missing": False} | more
        one = Swept(reading, at or low(20.0), **more)
        return _judged(one, motion, candidate or stands(), DAILY, 25.0)

    def test_figures(self):
        found = self.judged(low(3.0, 36.0, 60.0))
        self.assertEqual(
            (found.code, found.value, found.before, found.where), ("gap.damper.moving", 3.0, 25.0, "front left")
        )
        self.assertAlmostEqual(found.held_against, 7.0)
        self.assertAlmostEqual(found.margin, -4.0)
        self.assertEqual((found.pose, found.along, found.state), ((36.0, 60.0), (0.6, 0.8), "tight"))
        self.assertTrue(found.reason.startswith("36° out, full bump; wants 7.0"), found.reason)
        self.assertTrue(
            self.judged(low(3.0, 0.0, 30.0), candidate=stands(ride_drop_mm=30.0)).reason.startswith(
                "straight, at rest height"
            )
        )
        self.assertAlmostEqual(self.judged(range_uncertainty_mm=1.0).uncertainty, math.sqrt(2.0))

    def test_what_is_assumed_is_never_clear_and_contact_stays_contact(self):
        for assumed in ({"reading": replace(DAMPER, assumed=True)}, {"motion": replace(MOVES, assumed=True)}):
            self.assertEqual(
                [self.judged(low(gap), **assumed).state for gap in (20.0, 3.0, -1.0)], ["unmeasured", "tight", "hit"]
            )
            self.assertEqual(self.judged(low(20.0), **assumed).missing, ("FL.damper",))
        self.assertEqual((self.judged().state, self.judged().missing), ("clear", ()))

    def test_an_arm_without_its_hinge(self):
        for gap, state in ((20.0, "unmeasured"), (3.0, "unmeasured"), (-1.0, "hit")):
            found = self.judged(low(gap), hinge_missing=True)
            self.assertEqual(found.state, state)
            self.assertEqual(found.missing, ("FL.arm_pivot", "FL.arm_joint") if state == "unmeasured" else ())
        self.assertNotIn("again", self.judged(hinge_missing=True).reason)
        self.assertIn(
            "again: as measured it can't follow",
            self.judged(hinge_missing=True, motion=replace(MOVES, hinge=ARM)).reason,
        )

    def test_over_usual_axes(self):
        usual = Usual(2.0, 30.0, (("kpi_deg", 4.0), ("camber_gain_deg_per_mm", 1.0)))
        found = self.judged(usual=usual)
        self.assertEqual(
            (found.state, found.missing, found.usual), ("unmeasured", ("FL.kpi", "FL.camber_bump"), (2.0, 30.0))
        )
        self.assertAlmostEqual(found.sure_margin, 20.0 - 7.0 + 2.0 - 20.0)
        self.assertIn("the usual range of axes", found.basis)
        sure = self.judged(usual=Usual(8.5, 30.0, usual.narrows))
        self.assertEqual((sure.state, sure.missing), ("clear", ()))
        one = Swept(DAMPER, low(20.0), Known(1.0, ()), 0.0, False, usual)
        self.assertEqual(
            (one.sure_mm, one.at_most_mm, replace(one, usual=None).sure_mm, replace(one, usual=None).at_most_mm),
            (2.0, 30.0, 20.0, 20.0),
        )

    def test_inputs_name_what_is_taken_as_nothing(self):
        given = InputUsed("bump", "60 mm")
        rows = _inputs(Motion(60.0, 70.0, 36.0, 33.0, kpi_deg=12.0, inputs=(given,)))
        self.assertEqual([row.name for row in rows], ["bump", "camber gain", "caster", "kingpin distance"])
        self.assertEqual(_inputs(replace(MOVES, inputs=(given,))), (given,))

    def test_what_stood_on_the_hub_when_most_was_read(self):
        other = replace(ON_CAR, wheel=parse_wheel("16x7 +42"))
        raised = replace(LINER, raised_mm=40.0, present=other)
        lowered = replace(REAR_LINER, drop_mm=15.0)
        caliper = read("caliper_spoke", Station("caliper", face_mm=40.0), None)
        self.assertEqual(
            _present((caliper, raised, lowered), stands()), Candidate(ON_CAR, levers=Levers(ride_drop_mm=15.0))
        )
        some = stands(ride_drop_mm=5.0, wheel_load_kg=700.0)
        self.assertEqual(_present((caliper, raised), some), bare(some))

    def test_whole_corner(self):
        found = judge_motion("FL", (LINER, replace(LINER, corner="FR"), REAR_LINER), MOVES, stands(), DAILY)
        self.assertEqual([j.code for j in found], ["travel.bump", "gap.liner_front.moving", "gap.liner_rear.moving"])
        present = Candidate(ON_CAR)
        for judged, one in zip(found[1:], swept((LINER, REAR_LINER), MOVES, present), strict=True):
            self.assertAlmostEqual(judged.before, one.low.gap_mm)
        self.assertEqual([j.code for j in judge_motion("FL", (LINER,), Motion(), stands(), DAILY)], ["gap.motion"])

    def test_an_arm_that_can_not_turn_is_marked_and_others_are_not(self):
        marks = {one.reading.code: one.hinge_missing for one in swept((ROD, LINER), MOVES, stands())}
        self.assertEqual(marks, {"arm_rear_lock": True, "liner_front": False})
        marks = {
            one.reading.code: one.hinge_missing for one in swept((ROD, LINER), replace(MOVES, hinge=ARM), stands())
        }
        self.assertEqual(marks, {"arm_rear_lock": False, "liner_front": False})

    def test_assumed_alone(self):
        self.assertFalse(only_assumed(DAMPER, MOVES))
        self.assertTrue(only_assumed(replace(DAMPER, assumed=True), MOVES))
        self.assertTrue(only_assumed(DAMPER, replace(MOVES, assumed=True)))
        self.assertTrue(only_assumed(ROD, MOVES))
        self.assertFalse(only_assumed(ROD, replace(MOVES, hinge=ARM)))

    def test_facing(self):
        """3 across and 4 outward: shares of 0.6 and 0.8, turned round inside."""
        at = low(5.0, 10.0, 20.0, across=3.0, radius=204.0, foot=(0.0, 200.0))
        face = facing_of(DAMPER, Thing("d", "body", np.zeros((1, 3))), at)
        self.assertEqual((face.across, face.radial, face.between, face.bow_mm), (0.6, 0.8, 0.0, (0.0, 0.0)))
        inside = facing_of(DAMPER, Thing("d", "body", np.zeros((1, 3))), replace(at, gap_mm=-5.0))
        self.assertEqual((inside.across, inside.radial), (-0.6, -0.8))
        on = facing_of(
            DAMPER, Thing("d", "body", np.zeros((1, 3))), replace(at, gap_mm=0.0, across_mm=0.0, radius_mm=200.0)
        )
        self.assertEqual((on.across, on.radial), (0.0, 0.0))
        run = Thing(
            "l", "body", np.zeros((2, 3)), between=np.array([0.0, 0.4]), loose_mm=np.array([[0.0, 0.0], [1.0, 2.0]])
        )
        joined = facing_of(LIP, run, replace(at, point=1))
        self.assertEqual((joined.between, joined.bow_mm), (0.4, (1.0, 2.0)))

    def test_beside_come_after_the_others_and_once(self):
        moved = replace(LINER, moved_mm=(5.0, 0.0, 0.0))
        self.assertEqual(
            [r for r, _ in pairs_of((LINER, REAR_LINER), MOVES, 0.0, (moved, REAR_LINER))], [LINER, REAR_LINER, moved]
        )
        self.assertEqual(len(pairs_of((LINER,), MOVES, 0.0, ())), 1)
        self.assertIsNone(usuals_of((LINER,), MOVES, stands()))
        self.assertIsNotNone(usuals_of((LINER,), replace(MOVES, kpi_deg=None), stands()))
        self.assertIsNone(usuals_of((LINER,), Motion(), stands()))


class TheRange(unittest.TestCase):
    def test_what_is_unknown_and_matters(self):
        reach = Range(60.0, 70.0, 36.0, 33.0)
        self.assertEqual(unknown_in(MOVES, reach), ())
        self.assertEqual(unknown_in(replace(MOVES, kpi_deg=None), reach), ("kpi_deg",))
        self.assertEqual(unknown_in(replace(MOVES, kpi_deg=None, steers=False), reach), ())
        self.assertEqual(unknown_in(replace(MOVES, kpi_deg=None), Range(60.0, 70.0, 0.0, 0.0)), ())
        gone = replace(MOVES, camber_gain_deg_per_mm=None)
        self.assertEqual(
            [unknown_in(gone, Range(*ends, 0.0, 0.0)) for ends in ((0.0, 0.0), (20.0, -20.0), (0.0, 1.0))],
            [(), (), ("camber_gain_deg_per_mm",)],
        )

    def test_the_well_takes_all_of_it_and_nothing_where_nobody_measured(self):
        well = well_of(MOVES, stands(camber=-1.0, ride_drop_mm=20.0), Range(60.0, 70.0, 36.0, 33.0))
        self.assertEqual(
            (
                well.centre_mm,
                well.camber_gain_deg_per_mm,
                well.bump_mm,
                well.droop_mm,
                well.ride_drop_mm,
                well.steer_out_deg,
                well.steer_in_deg,
            ),
            (-40.0, -0.01, 60.0, 70.0, 20.0, 36.0, 33.0),
        )
        self.assertAlmostEqual(well.camber_deg, -0.8)
        self.assertEqual((well.kpi_deg, well.caster_deg, well.kingpin_inboard_mm), (12.0, 4.0, 100.0))
        plain = well_of(Motion(), stands(), Range(1.0, 2.0, 3.0, 4.0))
        self.assertEqual(
            (plain.kpi_deg, plain.caster_deg, plain.kingpin_inboard_mm, plain.camber_gain_deg_per_mm),
            (0.0, 0.0, 0.0, 0.0),
        )
        pose = pose_of(MOVES, stands(camber=-1.0, ride_drop_mm=20.0), 10.0, 50.0)
        self.assertEqual(
            (pose.steer_deg, pose.travel_mm, pose.kpi_deg, pose.caster_deg, pose.kingpin_inboard_mm),
            (10.0, 50.0, 12.0, 4.0, 100.0),
        )
        self.assertAlmostEqual(pose.camber_deg, -1.3)
        bare_pose = pose_of(Motion(), stands(), 0.0, 0.0)
        self.assertEqual((bare_pose.kpi_deg, bare_pose.caster_deg, bare_pose.kingpin_inboard_mm), (0.0, 0.0, 0.0))

    def test_range(self):
        self.assertIsNone(range_of(Motion(None, 70.0, 36.0, 33.0), stands()))
        rear = Motion(60.0, 70.0, 36.0, 33.0, steers=False)
        self.assertEqual(range_of(rear, stands()), Range(60.0, 70.0, 0.0, 0.0))
        self.assertEqual(
            range_of(MOVES, stands(ride_drop_mm=-80.0)), Range(60.0, 80.0, 36.0, 33.0), "raised past the droop"
        )
        self.assertEqual(range_of(MOVES, stands(ride_drop_mm=-10.0, stroke_moves=True)), Range(50.0, 80.0, 36.0, 33.0))

    def test_limiters(self):
        """74 mm from the axis, 2° take 74 × tan 2° = 2.584 mm."""
        self.assertAlmostEqual(limiter_mm(74.0, 2.0), 74.0 * math.tan(math.radians(2.0)))
        self.assertIn("measure from the steering axis to the lock stop", lock_text(Motion(), 2.0))
        self.assertEqual(at_corner("FR", (LIP, replace(LIP, corner="FR"))), (replace(LIP, corner="FR"),))

    def test_gain_and_its_doubt(self):
        """Readings of ± 0.1 and ± 0.3° at 50 mm and at −30: √2 × 0.3 over 80 mm.

        Nearer than 10 mm they are taken 10 apart.
        """
        self.assertAlmostEqual(gain_uncertainty_deg_per_mm([50.0, -30.0], [0.1, 0.3]), math.sqrt(2.0) * 0.3 / 80.0)
        self.assertAlmostEqual(gain_uncertainty_deg_per_mm([4.0], [0.2]), math.sqrt(2.0) * 0.02)
        self.assertAlmostEqual(gain_uncertainty_deg_per_mm([-50.0], [0.1]), math.sqrt(2.0) * 0.1 / 50.0)
        self.assertAlmostEqual(camber_gain_deg_per_mm([(0.0, -1.0), (50.0, -1.6), (-50.0, -0.4)]), -0.012)
        self.assertIsNone(camber_gain_deg_per_mm([(0.0, -1.0), (0.0, -1.6)]))
        self.assertEqual(camber_gain_deg_per_mm([(0.0, 0.0), (1.0, -1.0)]), -1.0)
        self.assertIsNone(camber_gain_deg_per_mm([(0.0, 0.0), (1.0, -1.01)]))


class Lips(unittest.TestCase):
    def test_hours_are_counted_from_noon(self):
        self.assertEqual([_hours(lip(clock)) for clock in (9, 10, 11, 12, 1, 2, 3)], [-3, -2, -1, 0, 1, 2, 3])
        self.assertEqual(_hours(LINER), 0.0)
        self.assertGreater(JOINED_HOURS, 2.0)

    def test_half_way_along_the_arc(self):
        """A quarter circle of 300 mm: half of it is 235.6 mm long, 48 steps of at most 5 mm; the 45° point ends it."""
        start, end = np.array([0.0, 10.0, 300.0]), np.array([300.0, 30.0, 0.0])
        points, share = _half_way(start, end)
        self.assertEqual(len(points), math.ceil(300.0 * math.pi / 4 / LIP_STEP_MM))
        self.assertAlmostEqual(share[-1], 0.5)
        self.assertAlmostEqual(share[0], 0.5 / len(points))
        np.testing.assert_allclose(points[-1], [300.0 * math.sqrt(0.5), 20.0, 300.0 * math.sqrt(0.5)])
        np.testing.assert_allclose(np.hypot(points[:, 0], points[:, 2]), 300.0)
        np.testing.assert_allclose(points[:, 1], 10.0 + 20.0 * share)
        wider, _ = _half_way(np.array([0.0, 0.0, 300.0]), np.array([0.0, 100.0, 310.0]))
        self.assertEqual(len(wider), 10, "100 mm sideways, half of it in steps of 5")
        np.testing.assert_allclose(wider[-1], [0.0, 50.0, 305.0])
        nearly, _ = _half_way(np.array([0.0, 0.0, 300.0]), np.array([0.0, 1.0, 300.0]))
        self.assertEqual(len(nearly), 1)

    def test_the_run_is_in_order_and_stops_half_way(self):
        run = [lip(10), lip(12), lip(2)]
        for place, (before, after) in enumerate(((False, True), (True, True), (True, False))):
            found = lip_of(run[place], run)
            angles = np.degrees(np.arctan2(found.points_mm[:, 0], found.points_mm[:, 2]))
            self.assertTrue((np.diff(angles) > 0).all() or (np.diff(angles) < 0).all(), place)
            self.assertEqual((found.between[0] > 0, found.between[-1] > 0), (before, after))
            own = int(np.flatnonzero(found.between == 0.0)[0])
            np.testing.assert_allclose(found.points_mm[own], placed(run[place]).points_mm[0])
            self.assertTrue((found.bow_mm[own] == 0.0).all())
        alone = lip_of(LIP, [LIP])
        self.assertEqual((len(alone.points_mm), alone.between.tolist()), (1, [0.0]))
        self.assertEqual(len(lip_of(run[0], [run[0], lip(3)]).points_mm), 1, "five hours apart")

    def test_rolled_outboard_it_keeps_its_place_along_and_its_height(self):
        (_, plain), (_, rolled) = things_of([LIP], MOVES, 0.0)[0], things_of([LIP], MOVES, 6.0)[0]
        np.testing.assert_allclose(
            rolled.points_mm - plain.points_mm, np.broadcast_to([0.0, 6.0, 0.0], plain.points_mm.shape), atol=1e-12
        )

    def test_a_lip_of_two_readings_may_bow_by_a_hundredth_of_the_way(self):
        run = [lip(10), lip(12)]
        way = math.dist(*(placed(one).points_mm[0] for one in run))
        np.testing.assert_allclose(_bow_mm(run, 0, 1), [0.01 * way] * 2)
        found = lip_of(run[1], run)
        np.testing.assert_allclose(found.bow_mm[0], [0.01 * way] * 2, rtol=1e-9)
        quarter = np.argmin(abs(found.between - 0.25))
        share = found.between[quarter]
        np.testing.assert_allclose(found.bow_mm[quarter], [0.04 * way * share * (1 - share)] * 2)

    def test_with_three_it_bows_by_an_eighth_of_the_second_difference(self):
        """Sideways 31, 35, 31: (31 − 2 × 35 + 31) / 8 = −1 mm; the same radius everywhere."""
        run = [lip(10), lip(12, side=35.0), lip(2)]
        plain = [placed(one).points_mm[0] for one in run]
        side = abs(plain[0][1] - 2 * plain[1][1] + plain[2][1]) / 8
        radius = [math.hypot(point[0], point[2]) for point in plain]
        found = _bow_mm(run, 1, 2)
        np.testing.assert_allclose(found, [side, abs(radius[0] - 2 * radius[1] + radius[2]) / 8])
        np.testing.assert_allclose(_bow_mm(run, 0, 1), found)
        four = [lip(9), *run]
        self.assertGreaterEqual(_bow_mm(four, 1, 2)[0], side - 1e-9, "the larger bend of both ends")
        far = [lip(9), lip(12, side=35.0), lip(3)]
        way = math.dist(plain[1], placed(far[2]).points_mm[0])
        np.testing.assert_allclose(
            _bow_mm(far, 1, 2), [0.01 * way] * 2, err_msg="three hours apart say nothing of the bend"
        )


class Things(unittest.TestCase):
    def test_a_damper_rises_from_where_it_was_read(self):
        shape = ON_CAR.outline
        for height, count in (
            (shape.flange_radius_mm - 30.0, 3),
            (shape.flange_radius_mm + 1.0, 2),
            (shape.widest_radius_mm, 1),
        ):
            found = _lifted(replace(DAMPER, station=replace(DAMPER.station, height_mm=height)))
            self.assertEqual((len(found), found[0].tolist()), (count, [0.0, 0.0, 0.0]))
            self.assertTrue((found[:, :2] == 0.0).all())
            self.assertAlmostEqual(found[-1, 2], max(0.0, shape.widest_radius_mm - height))

    def test_which_frames(self):
        frames = {r.code: t.frame for r, t in things_of([DAMPER, LINER, ROD, LIP], replace(MOVES, hinge=ARM))}
        self.assertEqual(frames, {"damper": "body", "liner_front": "body", "arm_rear_lock": "arm", "arch_12": "body"})
        self.assertEqual({t.frame for _, t in things_of([ROD], MOVES)}, {"body"})
        self.assertEqual(things_of([STRUT, read("caliper_spoke", Station("caliper", face_mm=40.0))], MOVES), [])

    def test_a_hinge_that_can_not_follow_is_none(self):
        self.assertIsNone(hinge_of(LINER, replace(MOVES, hinge=ARM)))
        self.assertIs(hinge_of(ROD, replace(MOVES, hinge=ARM)), ARM)
        self.assertIsNone(hinge_of(ROD, MOVES))
        self.assertIsNone(hinge_of(ROD, replace(MOVES, hinge=ARM, bump_mm=320.0)))
        self.assertIsNone(hinge_of(ROD, replace(MOVES, hinge=ARM, droop_mm=320.0)))
        self.assertIs(hinge_of(ROD, Motion(hinge=ARM)), ARM)

    def test_an_arm_read_at_bump_is_carried_back_to_rest(self):
        """Turned from the travel at which it was read to none: its point falls, and the arm keeps its length."""
        raised = replace(ROD, pose=Pose(travel_mm=50.0), raised_mm=50.0)
        motion = replace(MOVES, hinge=ARM)
        (_, thing), _ = things_of([raised, LINER], motion)
        at = placed(raised).points_mm
        np.testing.assert_allclose(thing.points_mm, ARM.turned(at, 0.0, 50.0))
        for points in (at, thing.points_mm):
            self.assertAlmostEqual(math.dist(points[0, 1:], ARM.pivot_mm), math.dist(at[0, 1:], ARM.pivot_mm))
        self.assertLess(thing.points_mm[0, 2], at[0, 2])

    def test_what_was_read_turned_or_raised_remembers_how(self):
        for pose, raised, kept in (
            (Pose(), 0.0, False),
            (Pose(steer_deg=30.0), 0.0, True),
            (Pose(travel_mm=40.0), 40.0, True),
        ):
            found = things_of([replace(LINER, pose=pose, raised_mm=raised, moved_mm=(1.0, 2.0, 3.0))], MOVES)[0][1].read
            self.assertEqual(found is not None, kept)
        self.assertEqual((found.steer_deg, found.travel_mm, found.raised_mm), (0.0, 40.0, 40.0))
        np.testing.assert_allclose(found.shift_mm, [[1.0, 2.0, 3.0]])


class Resting(unittest.TestCase):
    def test_the_height_at_which_a_reading_is_judged(self):
        some = stands(camber=-1.0, ride_drop_mm=20.0)
        fitted, pose = standing(replace(LINER, pose=Pose(travel_mm=5.0), drop_mm=5.0), some, MOVES)
        self.assertEqual(pose.travel_mm, 20.0)
        self.assertAlmostEqual(fitted.camber_deg, -1.0)
        fitted, pose = standing(replace(LINER, pose=Pose(travel_mm=55.0), drop_mm=5.0, raised_mm=50.0), some, MOVES)
        self.assertEqual(pose.travel_mm, 55.0)
        self.assertAlmostEqual(fitted.camber_deg, -1.35)
        self.assertAlmostEqual(pose.camber_deg, -1.35)

    def test_below_the_flange_the_lip_counts(self):
        """Read at 180 mm, 24 mm from the lip along the axle: the shortest way round the edge is longer."""
        low_down = replace(STRUT, station=replace(STRUT.station, height_mm=180.0), gap_mm=24.0)
        found = at_rest(low_down, stands("16x6.5 +50", "205/55R16 91V"), Motion())
        self.assertAlmostEqual(found.reads[0], 24.0)
        self.assertAlmostEqual(found.nearest_mm, 24.0)
        self.assertAlmostEqual(found.across_mm - found.foot_mm[0], -24.0)
        self.assertAlmostEqual(found.foot_mm[1], 180.0)
        face = found.facing("", stands().fitted)
        self.assertEqual((face.across, face.radial), (-1.0, 0.0))
        self.assertAlmostEqual(closest_before_mm(low_down), 24.0)
        self.assertAlmostEqual(found.gap_mm("upward"), found.gap_mm("sideways"))

    def test_which_doubts_are_taken_at_rest(self):
        caliper = read("caliper_spoke", Station("caliper", face_mm=40.0))
        readings = (caliper, LIP, STRUT, LINER)
        self.assertEqual(len(known_at_rest(readings, Motion(), stands())), 4, "the lip both ways, strut, liner")
        self.assertEqual(
            len(known_at_rest(readings, MOVES, stands())), 2, "the lip sideways, and the strut that rides along"
        )

    def test_only_what_was_read_turned_or_raised_depends_on_an_axis(self):
        far = stands("17x8 +20", ride_drop_mm=25.0)
        for reading, depends in (
            (LINER, False),
            (replace(LINER, pose=Pose(steer_deg=30.0)), True),
            (replace(DAMPER, pose=Pose(travel_mm=50.0), raised_mm=50.0), True),
        ):
            found = usual_at_rest(reading, far, Motion(60.0, 70.0, 36.0, 33.0), "")
            self.assertEqual(found is not None, depends, reading.pose)
            if found is not None:
                self.assertLess(found.lo_mm, found.hi_mm)
        self.assertIsNone(usual_at_rest(replace(LINER, pose=Pose(steer_deg=30.0)), far, MOVES, ""))


class Maps(unittest.TestCase):
    def test_the_worse_of_two_maps(self):
        one = ((Cell(0.0, 0.0, 5.0, "clear"), Cell(1.0, 0.0, 1.0, "tight")),)
        other = ((Cell(0.0, 0.0, 7.0, "tight"), Cell(1.0, 0.0, 0.5, "tight")),)
        self.assertEqual(_worse_cells(one, other), (other[0],))
        self.assertEqual(_worse_cells(other, one), (other[0],))

    def test_where_what_is_unknown_matters(self):
        steer, travel = np.array([-10.0, 0.0, 10.0]), np.array([-5.0, 0.0])
        self.assertEqual(axis_matters((), steer, travel).tolist(), [[False] * 3] * 2)
        self.assertEqual(axis_matters(("kpi_deg",), steer, travel).tolist(), [[True, False, True]] * 2)
        gain = "camber_gain_deg_per_mm"
        self.assertEqual(axis_matters((gain,), steer, travel).tolist(), [[True] * 3, [False] * 3])
        self.assertEqual(axis_matters((gain, "kpi_deg"), steer, travel).tolist(), [[True] * 3, [True, False, True]])

    def test_states_by_figures(self):
        found = well_map("FL", (LINER,), MOVES, stands(), DAILY)
        self.assertEqual(
            (len(found.cells), len(found.cells[0])), (16, 28), "straight ahead and the ride height are among the poses"
        )
        self.assertEqual(
            (found.steer_deg[0], found.steer_deg[-1], found.travel_mm[0], found.travel_mm[-1]),
            (-33.0, 36.0, -70.0, 60.0),
        )
        rear = well_map("FL", (LINER,), replace(MOVES, steers=False), stands(), DAILY)
        self.assertEqual(len(rear.cells[0]), 1)
        self.assertEqual(found.hits, sum(cell.gap_mm < 0 for row in found.cells for cell in row))
        near = 0
        for offset in range(-10, 60, 2):
            cells = [
                cell
                for row in well_map("FL", (LINER, DAMPER), MOVES, stands(f"17x8 {offset:+d}"), DAILY).cells
                for cell in row
            ]
            self.assertTrue(all((cell.state == "hit") == (cell.gap_mm < 0) for cell in cells))
            near += sum(0 <= cell.gap_mm < 1 for cell in cells)
        self.assertGreater(near, 0)
        self.assertIsNone(well_map("FL", (LINER,), Motion(), stands(), DAILY))
        self.assertIsNone(well_map("FL", (), MOVES, stands(), DAILY))
        self.assertIsNone(map_cloud((), MOVES, wheel_free(stands())))

    def test_assumed_and_unknown_cells(self):
        states = {
            cell.state
            for row in well_map("FL", (LINER, replace(REAR_LINER, assumed=True)), MOVES, stands(), DAILY).cells
            for cell in row
        }
        self.assertNotIn("clear", states)
        self.assertIn("unmeasured", states)
        open_ = well_map("FL", (LINER,), replace(MOVES, kpi_deg=None), stands(), DAILY)
        for row in open_.cells:
            for cell in row:
                self.assertEqual(cell.state == "unmeasured", abs(cell.steer_deg) > 1e-9)

    def test_an_axle_without_unsettled_fits_has_the_plain_map(self):
        here = Axle(("FL", "FR"), ON_CAR, Hub(), (LINER,), 812.0, (("FL", MOVES), ("FR", MOVES)))
        plain = axle_map(here, "FL", stands(), DAILY)
        self.assertEqual(plain, well_map("FL", (LINER,), MOVES, stands(), DAILY))
        self.assertIsNone(axle_map(here, "FR", stands(), DAILY))
        held = replace(here, held=Held((LINER,), frozenset()))
        self.assertEqual(axle_map(held, "FL", stands(), DAILY), plain)

    def test_gaps_at_a_pose(self):
        """At the pose in which it was read, with what was on the car, the liner is where the rule said."""
        same = Candidate(ON_CAR)
        found = gaps_at(
            "FL",
            (LINER, STRUT, read("joint", Station("joint", radius_mm=150.0, from_mm=20.0, to_mm=60.0))),
            MOVES,
            same,
            DAILY,
            0.0,
            0.0,
        )
        self.assertEqual({one.reading.code for one in found}, {"liner_front", "damper"})
        by = {one.reading.code: one for one in found}
        self.assertAlmostEqual(by["liner_front"].gap_mm, closest_before_mm(LINER))
        self.assertAlmostEqual(by["damper"].gap_mm, closest_before_mm(STRUT))
        self.assertAlmostEqual(by["damper"].wanted_mm, DAILY.damper_mm)
        self.assertEqual(
            [one.gap_mm - one.wanted_mm for one in found], sorted(one.gap_mm - one.wanted_mm for one in found)
        )
        for one in found:
            self.assertAlmostEqual(math.dist(one.point_mm, one.foot_mm), one.gap_mm, places=6)
        turned = gaps_at("FL", (LINER,), MOVES, same, DAILY, 20.0, 30.0)[0]
        self.assertAlmostEqual(math.dist(turned.point_mm, turned.foot_mm), abs(turned.gap_mm), places=6)

    def test_an_assumed_reading_passes_nowhere_and_an_assumed_range_only_where_it_was_read(self):
        far = replace(LINER, gap_mm=150.0)
        for reading, motion, at, moved in (
            (far, MOVES, "clear", "clear"),
            (replace(far, assumed=True), MOVES, "unmeasured", "unmeasured"),
            (far, replace(MOVES, assumed=True), "clear", "unmeasured"),
            (far, replace(MOVES, kpi_deg=None), "clear", "unmeasured"),
            (far, replace(MOVES, camber_gain_deg_per_mm=None), "clear", "clear"),
        ):
            for steer, state in ((0.0, at), (15.0, moved)):
                self.assertEqual(
                    gaps_at("FL", (reading,), motion, Candidate(ON_CAR), DAILY, steer, 0.0)[0].state, state
                )

    def test_when_an_unknown_matters_at_a_pose(self):
        gone = replace(MOVES, camber_gain_deg_per_mm=None)
        same = Candidate(ON_CAR, levers=Levers(ride_drop_mm=10.0))
        self.assertFalse(_unknown_at(LINER, gone, same, Pose(travel_mm=10.0)))
        self.assertTrue(_unknown_at(LINER, gone, same, Pose(travel_mm=0.0)))
        self.assertTrue(_unknown_at(replace(LINER, raised_mm=30.0), gone, same, Pose(travel_mm=10.0)))
        axis = replace(MOVES, kpi_deg=None)
        self.assertTrue(_unknown_at(replace(LINER, pose=Pose(steer_deg=30.0)), axis, same, Pose()))
        self.assertFalse(_unknown_at(LINER, axis, same, Pose(travel_mm=40.0)))
        self.assertFalse(_unknown_at(LINER, Motion(), same, Pose(steer_deg=40.0)))

    def test_the_grid_of_a_corner_holds_what_moves_and_what_rides(self):
        at = gaps_by_offset((LINER, STRUT, LIP), MOVES, stands(), DAILY)
        self.assertEqual(len(at(40)), 4, "liner and lip in motion, strut, the lip sideways at rest")


if __name__ == "__main__":
    unittest.main()
