"""What decides a place in a ranking: states, words and measures, each worked out by hand."""

import unittest
from dataclasses import replace
from unittest.mock import patch

import numpy as np

from rimcore.quantities.errors import BadInput
from rimcore.quantities.judgement import Judgement, severity, state_of_gap, worst
from rimcore.well.judge.unknown import Usual
from rimcore.well.rank import rank as ranking
from rimcore.well.rank.rank import (
    _MEASURES,
    Inside,
    Pair,
    Place,
    Ranked,
    _Gap,
    _inside,
    _load,
    _order,
    _said,
    _shown,
    _state_here,
    _to_measure,
    rank,
)
from rimcore.well.solid.wheel_plane import Hinge, Thing, Well
from rimcore.wheels.fitted import Fitted
from rimcore.wheels.tyre import parse_tyre
from rimcore.wheels.wheel import parse_wheel

ON_CAR = Fitted(parse_wheel("17x7.5 +45"), parse_tyre("225/45R17"))
STILL = Well(0.0)


def pair(wheel="17x8 +40", tyre="225/45R17 91W", **more):
    return Pair(parse_wheel(wheel), parse_tyre(tyre), **more)


def post(y, z=250.0, name="post", frame="body"):
    return Thing(name, frame, np.array([[0.0, y, z]]))


def of(name, mm, margin=5.0, state=None, usual=None):
    return _Gap(name, mm, margin, state or state_of_gap(mm, margin), usual)


def shuffled(rows):
    return [rows[k] for k in np.random.default_rng(3).permutation(len(rows))]


class Order(unittest.TestCase):
    def test_by_state_then_measure_then_as_given(self):
        def one(state, measure, given):
            return Ranked(pair(), state, 1.0, "", 1.0, measure, (), given=given)

        rows = [
            one("clear", 1.0 + 2e-7, 5),
            one("clear", 1.0, 6),
            one("clear", 2.0, 1),
            one("clear", None, 0),
            one("tight", -9.0, 2),
            one("unmeasured", -10.0, 3),
            one("hit", -11.0, 4),
        ]
        self.assertEqual(sorted(shuffled(rows), key=_order), rows)

    def test_the_worst_judgement_and_the_smallest_margin_come_first(self):
        rows = [
            Judgement("", "", state, "", "", margin=margin)
            for state, margin in (("hit", None), ("tight", 1.0), ("unmeasured", 0.0), ("clear", 1.0), ("clear", None))
        ]
        self.assertEqual(sorted(shuffled(rows), key=severity), rows)
        self.assertEqual(worst(["clear", "tight"]), "tight")


class Deciding(unittest.TestCase):
    def test_the_gap_of_the_worst_state_with_the_least_left(self):
        gaps = [of("a", 4.0), of("b", -1.0), of("c", -3.0), of("d", 20.0)]
        self.assertEqual(_shown(gaps, [one.state for one in gaps]).name, "c")
        self.assertEqual(_shown(gaps[:1] + gaps[3:], ["clear", "clear"]).name, "a")
        self.assertEqual(_shown(gaps, ["clear", "tight", "tight", "clear"]).name, "c")
        self.assertIsNone(_shown([], []))

    def test_over_usual_axes_the_worst_counts(self):
        wide = of("w", 9.0, 5.0, "unmeasured", Usual(2.0, 30.0, ()))
        self.assertEqual((wide.left_mm, of("p", 9.0, 5.0).left_mm), (-3.0, 4.0))
        self.assertEqual(_shown([of("p", 3.0), wide], ["clear", "clear"]).name, "w")

    def test_what_to_measure_first_is_what_narrows_an_open_gap_most(self):
        gaps = [
            of(
                "a",
                9.0,
                5.0,
                "unmeasured",
                Usual(2.0, 30.0, (("kingpin_inboard_mm", 0.5), ("caster_deg", 8.0), ("kpi_deg", 3.0))),
            ),
            of("b", 9.0, 5.0, "unmeasured", Usual(2.0, 30.0, (("camber_gain_deg_per_mm", 0.8), ("kpi_deg", 11.0)))),
            of("c", 9.0, 5.0, "clear", Usual(6.0, 30.0, (("camber_gain_deg_per_mm", 99.0),))),
            of("d", 9.0),
        ]
        self.assertEqual(_to_measure(gaps), ["kpi_deg", "caster_deg", "camber_gain_deg_per_mm", "kingpin_inboard_mm"])
        self.assertEqual(_to_measure(gaps[2:]), [])

    def test_words(self):
        self.assertEqual(_said(of("damper", 4.25)), "damper: 4.2 mm, wants 5 mm")
        self.assertEqual(_said(of("damper", 0.0)), "damper: 0.0 mm, wants 5 mm")
        self.assertEqual(_said(of("damper", -4.25)), "damper: overlaps by 4.2 mm")
        self.assertEqual(
            _said(of("damper", 4.0, 5.0, "unmeasured", Usual(-1.0, 7.0, ()))),
            "damper: -1.0 to 7.0 mm over every usual steering axis, wants 5 mm",
        )

    def test_without_a_range_only_contact_of_what_moves_is_known(self):
        place = Place(
            ON_CAR, STILL, (post(0.0, name="rail"), post(0.0, name="strut", frame="knuckle")), range_known=False
        )
        states = [_state_here(place, of(name, mm)) for name in ("rail", "strut") for mm in (-1.0, 3.0, 9.0)]
        self.assertEqual(states, ["hit", "unmeasured", "unmeasured", "hit", "tight", "clear"])
        known = replace(place, range_known=True)
        self.assertEqual([_state_here(known, of("rail", mm)) for mm in (-1.0, 3.0, 9.0)], ["hit", "tight", "clear"])
        loose = replace(known, loose=frozenset({"rail"}))
        self.assertEqual([_state_here(loose, of("rail", mm)) for mm in (-1.0, 9.0)], ["unmeasured", "unmeasured"])


class InsideTheRim(unittest.TestCase):
    BRAKE = Inside("brake", 150.0, 40.0)

    def place(self, *inside, spacer=0.0):
        return Place(ON_CAR, STILL, (), spacer, inside=inside, knuckle_margin_mm=5.0)

    def test_barrel_less_radius_and_spokes_with_the_spacer_less_face(self):
        found, missing = _inside(self.place(self.BRAKE, spacer=8.0), pair(barrel_radius_mm=156.0, spoke_back_mm=36.0))
        self.assertEqual(([(one.mm, one.state) for one in found], missing), ([(6.0, "clear"), (4.0, "tight")], []))
        found, _ = _inside(self.place(self.BRAKE), pair(barrel_radius_mm=149.0, spoke_back_mm=45.0))
        self.assertEqual(
            [(one.mm, one.state, one.margin_mm) for one in found], [(-1.0, "hit", 5.0), (5.0, "clear", 5.0)]
        )

    def test_what_the_maker_has_not_said_is_missing_and_what_the_car_has_not_is_not(self):
        found, missing = _inside(self.place(self.BRAKE), pair(barrel_radius_mm=160.0))
        self.assertEqual((len(found), missing), (1, ["brake: wheel.spoke_back_mm"]))
        found, missing = _inside(self.place(Inside("joint", 150.0)), pair())
        self.assertEqual((found, missing), ([], ["joint: wheel.barrel_radius_mm"]))
        self.assertEqual(_inside(self.place(Inside("joint")), pair()), ([], []))


class Measures(unittest.TestCase):
    def of(self, school, some, **place):
        fitted = Fitted(some.wheel, some.tyre, place.get("spacer_mm", 0.0), 0.0, some.measured_section_mm)
        return _MEASURES[school](Place(ON_CAR, STILL, (), **place), some, fitted)

    def test_flush(self):
        """The outermost of the tyre stands half a section over the centre plane: 95 − (−40) − half."""
        some = pair()
        outer = Fitted(some.wheel, some.tyre).outline.outermost_mm
        value, said = self.of("flush", some, lip_mm=95.0)
        self.assertAlmostEqual(value, 95.0 + 40.0 - outer)
        self.assertEqual(said, f"{value:.1f} mm inside the lip at rest")
        value, said = self.of("flush", some, lip_mm=outer - 40.0 - 7.0)
        self.assertAlmostEqual(value, 1007.0)
        self.assertIn("stands 7.0 mm out past the lip", said)
        value, said = self.of("flush", some, lip_mm=outer - 40.0 + 0.5)
        self.assertAlmostEqual(value, 0.5)
        self.assertIn("inside the lip", said)
        self.assertEqual(self.of("flush", some), (None, "the arch lip is not measured"))

    def test_mass_and_price(self):
        self.assertEqual(self.of("light", pair(mass_kg=18.25)), (18.25, "18.2 kg a corner"))
        self.assertEqual(self.of("light", pair()), (None, "weight not known"))
        self.assertEqual(self.of("cheap", pair(price=412.5)), (412.5, "412.5 a corner"))
        self.assertEqual(self.of("cheap", pair()), (None, "price not known"))

    def test_width(self):
        """225 on its measuring rim of 7.5 in; half an inch wider carries 5 mm more (ETRTO, from memory)."""
        self.assertEqual(self.of("wide", pair("17x7.5 +45")), (-225.0, "225 mm section on its rim"))
        self.assertAlmostEqual(self.of("wide", pair("17x8 +45"))[0], -230.0, delta=0.2)
        self.assertEqual(self.of("wide", pair(measured_section_mm=231.0))[0], -231.0)

    def test_scrub_radius_changes_as_the_centre_plane_moves(self):
        upright = Well(0.0, kpi_deg=12.0, kingpin_inboard_mm=100.0)
        some = pair("17x7.5 +38")
        fitted = Fitted(some.wheel, some.tyre)
        place = Place(ON_CAR, upright, (), axis_known=True)
        for wheel, change in (("17x7.5 +38", 7.0), ("17x7.5 +50", 5.0), ("17x7.5 +45", 0.0)):
            some = pair(wheel)
            value, said = _MEASURES["scrub"](place, some, Fitted(some.wheel, some.tyre))
            self.assertAlmostEqual(value, change)
            self.assertTrue(said.startswith("scrub radius "))
        self.assertEqual(_MEASURES["scrub"](replace(place, axis_known=False), some, fitted)[0], None)

    def test_load_of_the_tyre(self):
        """Index 91 carries 615 kg (ISO 4000-1): half of 1,230 kg is as much, half of 1,231 is more."""
        for axle, state, words in ((1230.0, "tight", 0), (1231.0, "hit", 1), (None, "tight", 0)):
            reasons = []
            self.assertEqual(_load(Place(ON_CAR, STILL, (), axle_load_kg=axle), pair(), "tight", reasons), state)
            self.assertEqual(len(reasons), words)
        self.assertEqual(reasons, [])
        _load(Place(ON_CAR, STILL, (), axle_load_kg=1300.0), pair(), "clear", reasons)
        self.assertEqual(reasons, ["load index carries 615 kg, half of the axle is 650 kg"])
        self.assertEqual(
            _load(Place(ON_CAR, STILL, (), axle_load_kg=1300.0), pair(tyre="225/45R17"), "clear", []), "clear"
        )


class Whole(unittest.TestCase):
    """A wheel whose widest lies some 115 mm either side of its centre plane, and posts beside it."""

    def place(self, *things, **more):
        return Place(ON_CAR, more.pop("well", STILL), things, **more)

    def ranked(self, *pairs, school="wide", **more):
        things = more.pop("things", (post(-170.0, 265.0),))
        return rank(self.place(*things, **more), pairs or [pair()], school)

    def test_a_post_is_judged_with_the_margin_of_what_it_stands_on(self):
        for frame, margin in (("body", 10.0), ("knuckle", 5.0)):
            found = self.ranked(things=(post(-170.0, 265.0, frame=frame),))[0]
            self.assertAlmostEqual(found.gap_mm - found.margin_left_mm, margin)
            self.assertEqual(found.obstacle, "post")
        moved = self.ranked(spacer_mm=5.0)[0]
        self.assertAlmostEqual(moved.gap_mm, self.ranked()[0].gap_mm + 5.0, delta=1.0)

    def test_the_nearest_of_several_is_told_whatever_it_stands_on(self):
        far, near = post(-190.0, 265.0, "far"), post(-165.0, 265.0, "near")
        self.assertEqual(self.ranked(things=(far, near))[0].obstacle, "near")
        self.assertEqual(self.ranked(things=(near, far))[0].obstacle, "near")
        rides = post(-155.0, 265.0, "strut", "knuckle")
        self.assertEqual(self.ranked(things=(rides, near))[0].obstacle, "strut")
        several = Thing("arm", "knuckle", np.array([[0.0, -200.0, 265.0], [0.0, -180.0, 265.0]]))
        self.assertEqual(self.ranked(things=(several, rides))[0].obstacle, "strut")
        both = self.ranked(things=(rides, several))[0]
        self.assertEqual((both.obstacle, both.gap_mm), ("strut", self.ranked(things=(rides,))[0].gap_mm))

    def test_what_was_read_along_the_axle_counts_to_the_lip(self):
        """Below the flange the shortest way is past the edge; the rule goes on along the axle."""
        strut = post(-135.0, 100.0, "strut", "knuckle")
        plain = self.ranked(things=(strut,))[0]
        axial = self.ranked(things=(strut,), axial=frozenset({"strut"}))[0]
        lip = Fitted(pair().wheel, pair().tyre).outline.half_width_at(100.0)
        self.assertAlmostEqual(axial.gap_mm, 135.0 - 40.0 - lip)
        self.assertGreater(plain.gap_mm, axial.gap_mm)
        above = post(-135.0, 330.0, "strut", "knuckle")
        self.assertEqual(
            self.ranked(things=(above,))[0].gap_mm,
            self.ranked(things=(above,), axial=frozenset({"strut"}))[0].gap_mm,
            "over the tread",
        )

    def test_rim_width(self):
        for wheel, state, said in (
            ("17x8 +40", "clear", None),
            ("17x9 +40", "tight", "stretched"),
            ("17x10.5 +40", "hit", "outside"),
        ):
            found = self.ranked(pair(wheel), things=(post(-400.0),))[0]
            self.assertEqual(found.state, state)
            self.assertEqual(
                any("tyre on rim" in reason and said in reason for reason in found.reasons), said is not None
            )

    def test_what_is_not_measured_is_said(self):
        nothing = self.ranked(things=())[0]
        self.assertEqual((nothing.state, nothing.gap_mm, nothing.margin_left_mm), ("unmeasured", None, None))
        self.assertIn("no obstacle is measured", nothing.reasons)
        still = self.ranked(range_known=False)[0]
        self.assertEqual(still.state, "unmeasured")
        self.assertIn("the range of steer and travel is not measured", still.reasons)
        self.assertNotIn("no obstacle is measured", still.reasons)
        loose = self.ranked(loose=frozenset({"post"}))[0]
        self.assertEqual(loose.state, "unmeasured")
        self.assertTrue(any(reason.startswith("post: arms turn with travel") for reason in loose.reasons))
        lacking = self.ranked(inside=(Inside("brake", 150.0),))[0]
        self.assertEqual((lacking.state, lacking.missing), ("unmeasured", ("brake: wheel.barrel_radius_mm",)))

    def test_without_a_range_the_wheel_stands_at_the_builds_height(self):
        """Lowered by 20 mm the wheel stands 20 mm higher in the body: a post over it is 20 mm nearer."""
        over = post(0.0, 360.0)
        plain = self.ranked(things=(over,), range_known=False)[0]
        low = self.ranked(
            things=(over,), range_known=False, well=Well(0.0, ride_drop_mm=20.0, bump_mm=60.0, droop_mm=60.0)
        )[0]
        self.assertAlmostEqual(plain.gap_mm - low.gap_mm, 20.0, delta=0.6)

    def test_and_no_lower(self):
        under = post(0.0, -400.0)
        plain = self.ranked(things=(under,), range_known=False)[0]
        low = self.ranked(
            things=(under,), range_known=False, well=Well(0.0, ride_drop_mm=20.0, bump_mm=60.0, droop_mm=60.0)
        )[0]
        self.assertAlmostEqual(low.gap_mm - plain.gap_mm, 20.0, delta=0.6)

    def test_the_continuous_gap_is_asked_only_where_the_quick_one_leaves_the_state_in_doubt(self):
        at = self.ranked(things=(post(-170.0, 265.0),))[0].gap_mm
        for gap, asked in ((0.1, 1), (-0.1, 1), (9.9, 1), (10.1, 1), (0.5, 0), (5.0, 0), (-5.0, 0), (20.0, 0)):
            with patch.object(ranking.Cloud, "lows", autospec=True, side_effect=ranking.Cloud.lows) as lows:
                rank(self.place(post(-170.0 + at - gap, 265.0)), [pair()], "wide", shown=0)
            self.assertEqual(lows.call_count, asked, gap)

    def test_obstacles_on_body_and_arm_are_both_walked_through(self):
        hinge = Hinge((-500.0, -100.0), (-120.0, -110.0))
        arm = Thing("arm", "arm", np.array([[0.0, -150.0, 265.0]]), hinge=hinge)
        rail = post(-165.0, 265.0, "rail")
        for things, nearest in (
            ((arm, rail), "arm"),
            ((rail, arm), "arm"),
            ((replace(arm, points_mm=arm.points_mm - [[0, 60, 0]]), rail), "rail"),
        ):
            for shown in (0, 50):
                found = rank(self.place(*things), [pair()], "wide", shown=shown)[0]
                self.assertEqual(found.obstacle, nearest)

    def test_an_unknown_axis_gives_a_range_and_says_what_narrows_it(self):
        turns = Well(0.0, steer_in_deg=30.0, steer_out_deg=30.0)
        found = self.ranked(things=(post(-170.0, 265.0),), well=turns, unknown=("kingpin_inboard_mm",))[0]
        self.assertEqual(found.state, "unmeasured")
        self.assertEqual(found.missing, ("kingpin_inboard_mm",))
        self.assertLess(found.range_mm[0], found.range_mm[1])
        far = self.ranked(things=(post(-900.0, 265.0),), well=turns, unknown=("kingpin_inboard_mm",))[0]
        self.assertEqual(far.state, "clear")
        self.assertEqual(
            self.ranked(things=(post(-170.0, 265.0),), range_known=False, unknown=("kingpin_inboard_mm",))[0].range_mm,
            None,
        )

    def test_the_first_places_are_answered_exactly_and_the_others_where_it_matters(self):
        """As many as are shown; a pair that is clearly clear keeps its quick answer."""
        pairs = [pair(f"17x8 +{offset}") for offset in range(20, 45)]
        exact = []
        looked = ranking._ranked

        def note(*args, exact_of=exact, **named):
            if named.get("exact"):
                exact_of.append(args[2])
            return looked(*args, **named)

        ranking._ranked = note
        try:
            rank(self.place(post(-210.0, 265.0), lip_mm=120.0), pairs, "flush", shown=5)
            self.assertEqual(len(exact), 5)
            self.assertEqual(len(set(exact)), 5)
            exact.clear()
            rank(self.place(post(-210.0, 265.0), lip_mm=120.0), pairs, "flush", shown=0)
            self.assertEqual(exact, [])
        finally:
            ranking._ranked = looked

    def test_refused(self):
        place = self.place()
        for pairs, school, key in (
            ([pair()], "loud", "school"),
            ([], "wide", "wheels"),
            ([pair()] * 20_001, "wide", "wheels"),
        ):
            with self.assertRaises(BadInput) as said:
                rank(place, pairs, school)
            self.assertEqual(said.exception.field, key)
        self.assertEqual(len(rank(place, [pair()], "wide")), 1)

    def test_a_wheel_that_can_not_be_is_hit_and_the_rest_stands(self):
        """A section under half of the rim's width can't sit on it."""
        bad = pair("17x8 +40", measured_section_mm=20.0)
        found = rank(self.place(post(-170.0, 265.0)), [bad, pair()], "wide")
        self.assertEqual(len(found), 2)
        self.assertEqual({one.given for one in found}, {0, 1})


if __name__ == "__main__":
    unittest.main()
