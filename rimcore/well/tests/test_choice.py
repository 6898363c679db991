"""Remedies, ranking, trial fits, stance, spacers, shake, template, measured outlines."""

import itertools
import math
import unittest
from dataclasses import replace

import numpy as np
from scipy.optimize import brentq

from rimcore.fastening.threads import parse_thread
from rimcore.quantities.errors import BadInput
from rimcore.well.draw.template import PAPER_MM, brake_template
from rimcore.well.judge.drags import drags_along
from rimcore.well.judge.fitment import judge
from rimcore.well.judge.ranges import limiter_mm
from rimcore.well.judge.remedies import effort, remedies
from rimcore.well.judge.sightings import Seen, predict_mm
from rimcore.well.judge.tolerance import SCHOOLS
from rimcore.well.judge.trialfit import correct
from rimcore.well.judge.trials import LEVERS, Trials, apply, neighbours
from rimcore.well.rank.rank import Pair, Place, rank
from rimcore.well.read.measured import Reading, place_uncertainty_mm, placed
from rimcore.well.read.travel import Motion
from rimcore.well.solid.cloud import Cloud
from rimcore.well.solid.field import Field
from rimcore.well.solid.gap import Station, outline_polygon
from rimcore.well.solid.pose import Pose
from rimcore.well.solid.wheel_plane import Thing, Well
from rimcore.well.tests.test_clearance import random_case
from rimcore.well.tests.test_motion import ON_CAR, axle, candidate, readings
from rimcore.wheels.fitted import Fitted
from rimcore.wheels.hub import Hub
from rimcore.wheels.shake import CAUSES, TESTS, find_shake, turns_per_second
from rimcore.wheels.spacers import spacer_cautions, spacer_findings
from rimcore.wheels.stance import ratio_change_pct, scrub_radius_mm, stance
from rimcore.wheels.traced import bare_rim, from_card, parse_profile, traced
from rimcore.wheels.tyre import parse_tyre
from rimcore.wheels.wheel import parse_wheel

DAILY = SCHOOLS["daily"]


class Remedies(unittest.TestCase):
    def worst(self, chosen):
        return [j for j in judge(axle(), chosen, DAILY).judgements if j.code.startswith("gap.") and j.state == "hit"]

    def test_every_remedy_clears_and_forbids_nothing(self):
        wide = candidate("17x9 +22")
        self.assertTrue(self.worst(wide))
        before = judge(axle(), wide, DAILY)
        found = remedies(axle(), wide, DAILY)
        self.assertTrue(found)
        for one in found:
            self.assertEqual(self.worst(one.candidate), [], one.title)
            after = judge(axle(), one.candidate, DAILY)
            hits = {j.code for j in after.judgements if j.state == "hit"}
            self.assertLessEqual(hits, {j.code for j in before.judgements if j.state == "hit"}, one.title)
            self.assertTrue(one.consequences and one.takes)

    def test_the_amount_is_the_smallest_that_works(self):
        """One step less of the same lever still touches, or still keeps no margin."""
        wide = candidate("17x9 +22")
        for one in remedies(axle(), wide, DAILY):
            if len(one.changes) > 1:
                continue
            (code, amount), lever = one.changes[0], next(lever for lever in LEVERS if lever.code == one.changes[0][0])
            before = [
                a
                for a in lever.amounts[: lever.amounts.index(amount)]
                if code not in ("offset", "tyre") or a * amount > 0
            ]
            if not before or code == "tyre":
                continue
            less = judge(axle(), apply(wide, [(code, before[-1])], ()), DAILY)
            gaps = [j for j in less.judgements if j.code.startswith("gap.") and j.margin is not None]
            self.assertTrue(
                any(j.margin < 0 for j in gaps) if one.clear else any(j.state == "hit" for j in gaps), one.title
            )

    def test_cheapest_first_and_clear_before_touchless(self):
        found = remedies(axle(), candidate("17x9 +22"), DAILY)
        keys = [(not one.clear, round(one.effort), one.gives_away_mm) for one in found]
        self.assertEqual(keys, sorted(keys))

    def test_sure_is_what_the_judgements_call_clear(self):
        """Margins kept within the ± are kept, but not for sure."""
        found = remedies(axle(), candidate("17x8 +58"), DAILY)
        for one in found:
            states = {
                j.state
                for j in judge(axle(), one.candidate, DAILY).judgements
                if j.code.startswith("gap.") and j.value is not None
            }
            self.assertEqual(one.sure, states == {"clear"}, one.title)
            self.assertTrue(one.clear or not one.sure)
        self.assertIn(False, {one.sure for one in found})

    def test_what_is_given_away_is_the_margin_that_others_lose(self):
        now = candidate("17x8 +58")
        before = {(j.code, j.where): j for j in judge(axle(), now, DAILY).judgements}
        for one in remedies(axle(), now, DAILY):
            after = judge(axle(), one.candidate, DAILY).judgements
            gaps = [
                j
                for j in after
                if j.code.startswith("gap.")
                and j.margin is not None
                and (old := before.get((j.code, j.where)))
                and old.margin
            ]
            lost = sum(
                max(0.0, before[j.code, j.where].margin - max(j.margin, 0.0))
                for j in gaps
                if before[j.code, j.where].margin > 0
            )
            self.assertAlmostEqual(one.gives_away_mm, lost)
        self.assertGreater(max(one.gives_away_mm for one in remedies(axle(), now, DAILY)), 1.0)

    def test_the_cheapest_pair_is_the_cheapest_of_all_pairs(self):
        """By trying every pair of the levers that buy and turn, one after the other."""
        wide = candidate("17x8 +58")
        trials = Trials(axle(), wide, DAILY, neighbours(wide.fitted.tyre))
        steps = [((lever.code, amount),) for lever in LEVERS for amount in lever.amounts]
        alone = {change for change in steps if (got := trials.shortfall(change)) and got[1] >= 0}
        pairs = [
            (*a, *b)
            for a, b in itertools.combinations([one for one in steps if one not in alone], 2)
            if a[0][0] != b[0][0]
        ]
        good = [pair for pair in pairs if (got := trials.shortfall(pair)) and got[1] >= 0]
        cheapest = min(effort(pair) for pair in sorted(good, key=effort)[:40] if trials.keeps_margins(pair))
        found = [one for one in remedies(axle(), wide, DAILY) if len(one.changes) > 1]
        self.assertTrue(found)
        self.assertAlmostEqual(min(one.effort for one in found), cheapest)

    def test_a_limiter_is_as_thick_as_its_arm_turns(self):
        """Small-angle check: the arc at the stop's radius."""
        self.assertAlmostEqual(limiter_mm(80.0, 3.0), 80.0 * math.radians(3.0), delta=0.01)
        less = candidate().moved(lock_limit_deg=3.0)
        stops = replace(
            axle(), motions=tuple((corner, replace(motion, lock_stop_mm=80.0)) for corner, motion in axle().motions)
        )
        for one, words in ((axle(), "measure from the steering axis"), (stops, "4.2 mm thick")):
            self.assertIn(words, next(drag for drag in drags_along(one, less) if drag.what == "Lock limiters").detail)

    def test_nothing_to_do(self):
        roomy = candidate("16x6.5 +50", "195/50R16", ride_drop_mm=0.0, camber_deg=-0.6)
        self.assertEqual(remedies(axle(), roomy, DAILY), ())

    def test_a_spacer_stops_at_the_thread(self):
        """Deep in, only a spacer or less offset helps; studs that end in the spacer take that lever away."""
        deep = candidate("17x8.5 +62", "225/45R17", ride_drop_mm=0.0)
        long, short = (
            replace(axle(), hub=Hub(thread=parse_thread("M12x1.5"), stud_length_mm=length)) for length in (60.0, 28.0)
        )
        padded = replace(deep, mount=replace(deep.mount, pad_thickness_mm=12.0))
        has = {
            name: {code for one in remedies(one_axle, padded, DAILY) for code, _ in one.changes}
            for name, one_axle in (("long", long), ("short", short))
        }
        self.assertIn("spacer", has["long"])
        self.assertNotIn("spacer", has["short"])

    def test_effort_counts_wheels_once(self):
        self.assertLess(
            effort((("offset", -1), ("width", -0.5))), effort((("offset", -1),)) + effort((("width", -0.5),))
        )


class Ranking(unittest.TestCase):
    WHEELS = ("17x7.5 +45", "17x8 +40", "17x8.5 +35", "17x9 +15")

    def place(self, **more):
        rng = np.random.default_rng(2)
        _, well, _ = random_case(rng)
        lip = Thing("lip", "body", np.array([[0.0, 100.0, 395.0], [190.0, 104.0, 345.0]]))
        strut = Thing("strut", "knuckle", np.array([[0.0, -172.0, 262.0]]))
        return Place(
            ON_CAR, replace(well, camber_deg=-1.0), (lip, strut), **{"lip_mm": 100.0, "axis_known": True, **more}
        )

    def pairs(self):
        tyres = ("225/45R17", "215/45R17", "205/50R17")
        return [
            Pair(parse_wheel(w), parse_tyre(t), None, 15 + k, 100.0 - k, f"{w} {t}")
            for k, (w, t) in enumerate((w, t) for w in self.WHEELS for t in tyres)
        ]

    def test_each_school_orders_by_its_own_measure_within_a_state(self):
        for school in ("flush", "light", "cheap", "wide", "scrub"):
            found = rank(self.place(), self.pairs(), school)
            self.assertEqual(len(found), 12)
            order = ["clear", "tight", "unmeasured", "hit"]
            keys = [(order.index(one.state), one.measure) for one in found]
            self.assertEqual(keys, sorted(keys), school)
            self.assertTrue(all(one.reasons for one in found))

    def test_gap_is_that_of_the_cloud_exactly(self):
        place = self.place()
        cloud = Cloud(place.well, [place.things[0]], 41, 27)
        field = Field(cloud)
        for pair in self.pairs():
            fitted = Fitted(pair.wheel, pair.tyre)
            polygon = outline_polygon(fitted.outline)
            self.assertAlmostEqual(
                field.gaps(polygon, fitted.centre_mm)[0],
                float(cloud.rough(polygon, fitted.centre_mm).min()),
                delta=0.02,
            )

    def test_a_swallowed_point_is_a_hit(self):
        inside = Thing("bolt", "body", np.array([[0.0, -45.0, 270.0]]))
        found = rank(self.place(), self.pairs(), "wide")
        self.assertTrue(any(one.state != "hit" for one in found))
        sunk = replace(self.place(), things=(inside,), well=Well(0.0))
        self.assertEqual({one.state for one in rank(sunk, self.pairs()[:3], "wide")}, {"hit"})

    def test_unknown_range_is_no_pass(self):
        found = rank(self.place(range_known=False), self.pairs(), "wide")
        self.assertNotIn("clear", {one.state for one in found})
        self.assertIn("unmeasured", {one.state for one in found})

    def test_load_and_rim_forbid(self):
        weak = [Pair(parse_wheel("17x8 +40"), parse_tyre("225/45R17 80W"))]
        self.assertEqual(rank(self.place(axle_load_kg=1400.0), weak, "wide")[0].state, "hit")
        narrow = [Pair(parse_wheel("17x10 +40"), parse_tyre("195/40R17"))]
        self.assertIn("outside", " ".join(rank(self.place(), narrow, "wide")[0].reasons))

    def test_refused(self):
        with self.assertRaises(BadInput):
            rank(self.place(), [], "wide")
        with self.assertRaises(BadInput):
            rank(self.place(), self.pairs(), "prettiest")
        with self.assertRaises(BadInput):
            rank(self.place(), self.pairs() * 1700, "wide")


class TrialFits(unittest.TestCase):
    damper = Reading("FL", "damper", Station("damper", height_mm=262), 9.0, ON_CAR, Pose(-0.6), 1.0)

    def seen(self, gap, sigma, wheel="16x6.5 +54", bare=False, section=205.0):
        return Seen(
            0, replace(ON_CAR, wheel=parse_wheel(wheel), measured_section_mm=section), bare, Pose(-0.6), gap, sigma
        )

    def test_two_readings_meet_by_their_weights(self):
        """One line, two measurements of one position: the weighted mean, in closed form.

        The rule stood on a tyre that nobody measured.
        """
        expected = predict_mm(self.damper, self.seen(0, 1).fitted, False, Pose(-0.6))
        one = self.seen(expected - 2.0, 1.0)
        found = correct([self.damper], [one])
        base, other, held = 1 / (1.0 + 2.5**2), 1 / (1.0 + 0.25), 1 / 64.0
        moved = 2.0 * other / (base + other + held)
        self.assertAlmostEqual(found.readings[0].moved_mm[1], moved, delta=0.08)
        self.assertAlmostEqual(found.readings[0].uncertainty_mm, 1 / math.sqrt(base + other + held), delta=0.05)
        self.assertLess(predict_mm(found.readings[0], one.fitted, False, Pose(-0.6)), expected)

    def test_agreement_moves_nothing_and_narrows(self):
        expected = predict_mm(self.damper, self.seen(0, 1).fitted, False, Pose(-0.6))
        found = correct([self.damper], [self.seen(expected, 1.0)])
        self.assertLess(math.dist(found.readings[0].moved_mm, (0, 0, 0)), 0.01)
        self.assertLess(found.readings[0].uncertainty_mm, 0.5 * place_uncertainty_mm(self.damper))

    def test_contradiction_is_told_and_widens(self):
        expected = predict_mm(self.damper, self.seen(0, 1).fitted, False, Pose(-0.6))
        found = correct([self.damper], [self.seen(expected - 9.0, 0.5), self.seen(expected + 9.0, 0.5)])
        self.assertTrue(found.conflict(0) and found.conflict(1))
        self.assertLess(found.groups[0].p, 0.001)
        self.assertGreater(abs(found.residuals[0]), 3.0)
        self.assertGreater(found.readings[0].uncertainty_mm, 2.0)

    def test_a_tyre_that_is_larger_than_its_size_is_found_out(self):
        """Two obstacles on opposite sides both read less than predicted: the tyre grew, they did not move together."""
        found = self.both_sides_tighter(replace(ON_CAR, measured_section_mm=205.0))
        self.assertGreater(found.grown_mm[("215/55R16", 6.5)][0], 1.6)
        self.assertLess(abs(found.readings[0].moved_mm[1]), 0.4)

    def test_a_tyre_on_the_car_that_nobody_measured_shares_the_blame(self):
        """The rule may as well have stood on a tyre that is smaller than its size: half goes to each."""
        found = self.both_sides_tighter(ON_CAR)
        self.assertAlmostEqual(found.grown_mm[("215/55R16", 6.5)][0], 1.0, delta=0.15)
        self.assertAlmostEqual(found.readings[0].moved_mm[1], 1.0, delta=0.2)

    def both_sides_tighter(self, on_car):
        lip = Reading(
            "FL", "arch_12", Station("arch", clock=12, side_gap_mm=20, up_gap_mm=-20), None, on_car, Pose(-0.6), 0.3
        )
        damper = replace(self.damper, uncertainty_mm=0.3, present=on_car)
        tyre = replace(ON_CAR, tyre=parse_tyre("215/55R16"))
        return correct(
            [damper, lip],
            [
                Seen(k, tyre, False, Pose(-0.6), predict_mm(one, tyre, False, Pose(-0.6)) - 2.0, 0.3)
                for k, one in enumerate((damper, lip))
            ],
        )

    def test_a_bare_rim_says_nothing_of_the_tyre(self):
        found = correct([self.damper], [self.seen(20.0, 1.0, bare=True, section=None)])
        self.assertEqual(list(found.grown_mm), [("205/55R16", 6.5)], "but of the one that the rule was checked against")

    def test_the_moved_obstacle_is_what_is_judged(self):
        moved = replace(self.damper, moved_mm=(0.0, 4.0, 0.0))
        self.assertAlmostEqual(placed(moved).points_mm[0, 1] - placed(self.damper).points_mm[0, 1], 4.0)


class Stands(unittest.TestCase):
    def test_scrub_radius_by_hand(self):
        fitted = Fitted(parse_wheel("17x8 +40"), parse_tyre("225/45R17"))
        radius = fitted.tyre.diameter_mm / 2
        axis_at_ground = brentq(lambda y: (y + 110.0) / math.tan(math.radians(12.0)) - radius, -300, 300)
        self.assertAlmostEqual(scrub_radius_mm(fitted, 12.0, 110.0), -40.0 - axis_at_ground, places=6)

    def test_offset_moves_scrub_one_for_one_and_track_twice(self):
        old, new = (Fitted(parse_wheel(f"17x8 {offset:+d}"), parse_tyre("225/45R17")) for offset in (45, 35))
        found = stance(old, new, Motion(kpi_deg=12.0, caster_deg=5.0, kingpin_inboard_mm=100.0), old, new)
        self.assertAlmostEqual(found.scrub_after_mm - found.scrub_before_mm, 10.0)
        self.assertEqual((found.track_change_mm, found.lever_change_mm), (20.0, 10.0))
        self.assertAlmostEqual(found.trail_after_mm, 634.3 / 2 * math.tan(math.radians(5.0)), places=3)

    def test_ratio_of_a_35_and_a_30(self):
        """Mixing a 35 and a 30 aspect ratio shifts the ratio (common practice); by hand 642.7 against 616.2 mm."""
        wheel = parse_wheel("18x9 +30")
        front, rear = Fitted(wheel, parse_tyre("265/35R18")), Fitted(wheel, parse_tyre("265/30R18"))
        self.assertAlmostEqual(ratio_change_pct(front, front, front, rear), (642.7 / 616.2 - 1) * 100, places=2)
        found = stance(front, front, Motion(), front, rear)
        self.assertEqual(found.ratio.state, "tight")
        self.assertIn("electronics", found.ratio.reason)
        self.assertIsNone(found.scrub_after_mm)


class SpacersAndBrakes(unittest.TestCase):
    def test_slip_on_covers_the_collar(self):
        states = [spacer_findings(Hub(), thick, "slip", 12.0)[0].state for thick in (3.0, 10.0, 15.0)]
        self.assertEqual(states, ["clear", "tight", "hit"])
        self.assertEqual(spacer_findings(Hub(), 5.0, "slip", None)[0].state, "unmeasured")

    def test_bolt_on_swallows_collar_and_studs(self):
        found = {j.code: j.state for j in spacer_findings(Hub(stud_length_mm=28.0), 25.0, "bolted", 14.0)}
        self.assertEqual(found, {"spacer.collar": "clear", "spacer.studs": "hit"})
        self.assertEqual(spacer_findings(Hub(stud_length_mm=28.0), 10.0, "bolted", 14.0)[0].state, "hit")
        self.assertTrue(any("80 km" in text for text in spacer_cautions(25.0, "bolted")))
        self.assertEqual(spacer_findings(Hub(), 0.0, "slip", None), ())

    def test_template_is_full_size_and_on_the_paper(self):
        found = brake_template(151.5, 9.5, -71.0)
        self.assertAlmostEqual(found.axle_y - min(y for _, y in found.brake), 151.5)
        self.assertAlmostEqual(max(x for x, _ in found.brake) - found.face_x, 9.5)
        self.assertEqual(found.bar[2], 100.0)
        for x, y in (*found.brake, *found.room):
            self.assertTrue(0 < x < PAPER_MM[0] and 0 < y < PAPER_MM[1])
        for radius, face, inner in ((260.0, 0.0, -60.0), (150.0, 5.0, 6.0), (150.0, 90.0, -60.0)):
            with self.assertRaises(BadInput):
                brake_template(radius, face, inner)


class Shakes(unittest.TestCase):
    def test_order_of_suspicion_for_a_new_shake(self):
        """Balance, ring, seat and torque, runout, alignment, joints (common practice)."""
        order = [cause.code for cause in sorted(CAUSES, key=lambda one: -one.order)]
        self.assertEqual(
            [code for code in order if code in ("balance", "ring", "seat", "runout", "alignment", "joints")],
            ["balance", "ring", "seat", "runout", "alignment", "joints"],
        )
        self.assertAlmostEqual(sum(cause.order for cause in CAUSES), 1.0)

    def test_steady_from_low_speed_and_balanced_already_is_the_ring(self):
        found = find_shake(40, 140, 634.3, "both", "steady", True, ["balance_check"])
        self.assertEqual(found.suspects[0].code, "ring")
        self.assertAlmostEqual(sum(one.share for one in found.suspects), 1.0)

    def test_a_band_is_balance_and_braking_the_disc(self):
        self.assertEqual(find_shake(90, 120, 634.3, "wheel", "band", True).suspects[0].code, "balance")
        old = find_shake(
            60, 120, 634.3, "wheel", "braking", False, ["balance_check", "torque", "ring_check", "spin", "swap"]
        )
        self.assertIn(old.suspects[0].code, ("joints", "disc", "balance"))

    def test_what_was_done_is_not_asked_again_and_bits_are_not_negative(self):
        found = find_shake(40, 140, 634.3, "wheel", "steady", True, ["torque"])
        self.assertNotIn("torque", [test.code for test in found.tests])
        self.assertEqual(len(found.tests), len(TESTS) - 1)
        self.assertTrue(all(test.bits > -1e-12 for test in found.tests))

    def test_turns(self):
        self.assertAlmostEqual(turns_per_second(3.6 * 3.05, 1000.0), 1.0)
        with self.assertRaises(BadInput):
            find_shake(120, 60, 634.3, "wheel", "band", True)

    def test_the_cars_own_readings_speak(self):
        plain = find_shake(40, 140, 634.3, "wheel", "steady", True)
        loose = find_shake(
            low_kmh=40,
            high_kmh=140,
            diameter_mm=634.3,
            felt="wheel",
            when="steady",
            new_wheels=True,
            tried=(),
            evidence={"ring": 2.0},
        )
        share = {one.code: one.share for one in plain.suspects}["ring"]
        self.assertGreater({one.code: one.share for one in loose.suspects}["ring"], share)


class MeasuredOutlines(unittest.TestCase):
    built_in = Fitted(parse_wheel("17x8 +40"), parse_tyre("225/45R17")).outline

    def points(self, grow=0.0):
        polygon = self.built_in.polygon()
        outer = [(float(u), float(r)) for u, r in polygon if r >= self.built_in.flange_radius_mm and abs(u) < 200]
        ordered = sorted(
            {point for point in outer if point[1] > self.built_in.flange_radius_mm + 1},
            key=lambda p: math.atan2(p[0], p[1] - 250.0),
        )
        return tuple((u + math.copysign(grow, u), r) for u, r in ordered)

    def test_the_built_in_outline_traced_is_the_built_in_outline(self):
        found = traced(self.built_in, self.points())
        for radius in (250.0, 270.0, 295.0):
            self.assertAlmostEqual(found.half_width_at(radius), self.built_in.half_width_at(radius), delta=0.6)
        self.assertAlmostEqual(found.radius_at(40.0), self.built_in.radius_at(40.0), delta=0.2)

    def test_a_wider_carcass_takes_its_own_off_the_gap(self):
        plain = Fitted(parse_wheel("17x8 +40"), parse_tyre("225/45R17"))
        wide = replace(plain, profile_mm=self.points(4.0))
        damper = readings()[0]
        self.assertAlmostEqual(
            predict_mm(damper, plain, False, Pose()) - predict_mm(damper, wide, False, Pose()), 4.0, delta=0.5
        )

    def test_bare_rim_is_as_wide_as_its_flanges(self):
        rim = bare_rim(self.built_in)
        self.assertAlmostEqual(np.ptp(rim[:, 0]), 8 * 25.4 + 25.4)
        self.assertLess(rim[:, 1].max(), self.built_in.crown_mm - 50)

    def test_card_to_points(self):
        """A card photographed askew: the bar gives scale and direction."""
        turn = math.radians(8.0)
        real = [(-110.0, 240.0), (-112.0, 270.0), (0.0, 316.0), (112.0, 270.0), (110.0, 240.0)]
        pixel = [
            (500 + 3 * (u * math.cos(turn) + r * math.sin(turn)), 1200 + 3 * (u * math.sin(turn) - r * math.cos(turn)))
            for u, r in real
        ]
        bar = tuple((500 + 3 * u * math.cos(turn), 1200 + 3 * u * math.sin(turn)) for u in (-50.0, 50.0))
        for (u, r), (wanted_u, wanted_r) in zip(from_card(pixel, bar, 100.0, 316.0), real, strict=True):
            self.assertAlmostEqual(u, wanted_u, delta=0.02)
            self.assertAlmostEqual(r, wanted_r, delta=0.02)

    def test_refused(self):
        for text in ("", "1 2", "a b\n1 2\n3 4\n5 6\n7 8", "-900 240\n1 2\n1 2\n1 2\n1 2"):
            with self.assertRaises(BadInput):
                parse_profile(text)
        with self.assertRaises(BadInput):
            traced(self.built_in, tuple(reversed(self.points())))
