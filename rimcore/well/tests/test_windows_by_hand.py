"""The searches along the offset on values that are written down, against every whole millimetre tried in turn."""

import unittest
from dataclasses import replace
from types import SimpleNamespace
from unittest.mock import patch

import numpy as np

from rimcore.quantities.errors import BadInput
from rimcore.well.judge import bands as by_width
from rimcore.well.judge.bands import (
    Left,
    _band,
    _best,
    _checked,
    _limit,
    _still,
    _stretch,
    gaps_by_offset,
    offset_bands,
)
from rimcore.well.judge.tolerance import SCHOOLS
from rimcore.well.judge.window import (
    END_MM,
    MOST_LOOKS,
    PROBE_MM,
    _bisect,
    _end,
    _highest,
    _hopeless,
    _Looks,
    _narrowed,
    _places,
    _Value,
    offset_window,
)
from rimcore.well.judge.window import _stretch as _stretch_of
from rimcore.well.read.measured import Reading
from rimcore.well.read.travel import Motion
from rimcore.well.solid.gap import Station
from rimcore.well.solid.pose import Pose
from rimcore.well.solid.table import ROUGH_ERROR_MM
from rimcore.well.solid.wheel_plane import Thing, Well
from rimcore.well.tests.cases import with_levers
from rimcore.wheels.fitted import Fitted
from rimcore.wheels.tyre import parse_tyre
from rimcore.wheels.wheel import parse_wheel

DAILY = SCHOOLS["daily"]
ON_CAR = Fitted(parse_wheel("16x6.5 +50"), parse_tyre("205/55R16 91V"))
LIP = Reading("FL", "arch_12", Station("arch", clock=12, side_gap_mm=31.0, up_gap_mm=62.0), None, ON_CAR, Pose(), 1.0)
DAMPER = Reading("FL", "damper", Station("damper", height_mm=262.0), 15.0, ON_CAR, Pose(), 1.0)
JOINT = Reading("FL", "joint", Station("joint", radius_mm=150.0, from_mm=20.0, to_mm=60.0), None, ON_CAR, Pose(), 1.0)
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


def stands(wheel="17x8 +40", tyre="225/45R17 91W", **more):
    return with_levers(Fitted(parse_wheel(wheel), parse_tyre(tyre)), **more)


class Counted:
    """A value that remembers where it was looked at."""

    def __init__(self, of):
        self.of, self.seen = of, []

    def __call__(self, place):
        self.seen.append(place)
        return self.of(place)


def wandering(seed, low=0, high=90):
    """A value that changes by no more than a millimetre a millimetre, as gaps do."""
    steps = np.random.default_rng(seed).choice([-1.0, 0.4, 1.0, -0.3], high - low + 1)
    values = np.cumsum(np.repeat(steps[::4], 4)[: high - low + 1])
    values -= np.quantile(values, 0.6)
    return {low + k: float(value) for k, value in enumerate(values)}


class WholeMillimetres(unittest.TestCase):
    def test_the_best_is_the_best_of_every_millimetre(self):
        for seed in range(60):
            at = wandering(seed)
            self.assertLessEqual(max(at.values()) - at[_best(at.__getitem__, 0, 90)], 0.05, seed)

    def test_the_best_at_either_end_and_of_two_equal_the_first(self):
        self.assertEqual(_best(float, -7, 11), 11)
        self.assertEqual(_best(lambda place: -place, -7, 11), -7)
        self.assertEqual(_best(lambda place: -min(abs(place - 6), abs(place - 18)), 0, 30), 6)
        self.assertEqual(_best(lambda place: 3.0, 4, 4), 4)

    def test_the_best_is_not_looked_for_everywhere(self):
        of = Counted(lambda place: -abs(place - 50.0))
        self.assertEqual(_best(of, 0, 120), 50)
        self.assertEqual(len(of.seen), len(set(of.seen)))
        self.assertLess(len(of.seen), 45)

    def test_the_stretch_is_the_run_round_the_best(self):
        for seed in range(60):
            at = wandering(seed)
            good = [place for place in at if at[place] >= 0]
            for best in (*good[::5], *[place for place in at if at[place] < 0][:2]):
                low = high = best
                while low - 1 in at and at[low - 1] >= 0:
                    low -= 1
                while high + 1 in at and at[high + 1] >= 0:
                    high += 1
                self.assertEqual(
                    _stretch(at.__getitem__, best, 0, 90), (low, high) if at[best] >= 0 else None, (seed, best)
                )

    def test_a_value_that_falls_at_once_is_followed_to_the_last_good_millimetre(self):
        for way in (1, -1):
            self.assertEqual(
                _stretch(lambda place, way=way: 10.0 if place * way <= 5 else -1.0, 0, -90, 90),
                (-90, 5) if way == 1 else (-5, 90),
            )

    def test_a_stretch_that_is_wide_open_is_stepped_through(self):
        of = Counted(lambda place: 40.0)
        self.assertEqual(_stretch(of, 30, 0, 90), (0, 90))
        self.assertLessEqual(len(of.seen), 8)
        near = Counted(lambda place: 20.5 - abs(place - 30))
        self.assertEqual(_stretch(near, 30, -100, 100), (10, 50))
        self.assertLessEqual(len(near.seen), 40)

    def test_ends_are_drawn_in_to_one_and_to_none(self):
        self.assertEqual(_checked(lambda offset: 0.0 if offset == 15 else -1.0, (10, 20)), (15, 15))
        self.assertEqual(_checked(lambda offset: 0.0 if offset == 10 else -1.0, (10, 20)), (10, 10))
        self.assertIsNone(_checked(lambda offset: -0.1, (10, 10)))

    def test_what_stands_beyond_an_end(self):
        def at(offset, exact=False):
            return [Left(9.0, offset, 1.0, "Inner"), Left(-9.0, 10.0 - offset, 1.0, "Outer")]

        self.assertEqual(
            [_limit(at, place, 0, 10) for place in (-1, 0, 10, 11)],
            ["end of the scale", "inner", "outer", "end of the scale"],
        )


class Bands(unittest.TestCase):
    """Two posts, one that goes by the offset and one against it."""

    def band(self, *posts, low=-30, high=30):
        def at(offset, exact=False):
            lost = 0.5 if exact else 0.0
            return [
                Left(way * offset + sure - lost, way * offset + most - lost, wanted, name)
                for way, sure, most, wanted, name in posts
            ]

        with patch.object(by_width, "gaps_by_offset", lambda *_: at):
            return _band.__wrapped__((LIP,), MOVES, stands(), DAILY, low, high)

    def test_ends_limits_and_the_best(self):
        found = self.band((1, 10.0, 10.0, 4.0, "Lip"), (-1, 8.0, 8.0, 2.0, "Damper"))
        self.assertEqual(
            (found.no_contact, found.all_clear), ((-9, 7), (-5, 5)), "half a millimetre is lost between the poses"
        )
        self.assertEqual((found.low_limit, found.high_limit), ("lip", "damper"))
        self.assertEqual((found.best_mm, found.best_left_mm), (0, 6.0))
        self.assertEqual((found.width_in, found.tyre), (8.0, "225/45R17 91W"))

    def test_contact_goes_by_the_best_usual_axis_and_margins_by_the_worst(self):
        found = self.band((1, 2.0, 10.0, 4.0, "Lip"), (-1, 12.0, 20.0, 2.0, "Damper"))
        self.assertEqual((found.no_contact, found.all_clear), ((-9, 19), (3, 9)))

    def test_the_end_of_the_scale(self):
        found = self.band((1, 60.0, 60.0, 4.0, "Lip"), (-1, 10.0, 10.0, 4.0, "Damper"))
        self.assertEqual(
            (found.no_contact, found.low_limit, found.high_limit), ((-30, 9), "end of the scale", "damper")
        )

    def test_the_limit_is_what_stands_a_millimetre_beyond(self):
        """A millimetre beyond −9 the lip touches; two beyond it a rail would touch more."""
        found = self.band(
            (1, 9.5, 9.5, 0.0, "Lip"),
            (40, 420.0, 420.0, 0.0, "Rail"),
            (-1, 9.5, 9.5, 0.0, "Damper"),
            (-40, 420.0, 420.0, 0.0, "Arm"),
        )
        self.assertEqual((found.no_contact, found.low_limit, found.high_limit), ((-9, 9), "lip", "damper"))

    def test_where_nothing_goes_in_the_best_is_between_them(self):
        found = self.band((1, 2.0, 2.0, 0.0, "Lip"), (-1, -6.0, -6.0, 0.0, "Damper"))
        self.assertEqual((found.no_contact, found.all_clear, found.best_mm), (None, None, -4))
        self.assertEqual((found.low_limit, found.high_limit), ("lip", "damper"))
        self.assertEqual(found.best_left_mm, -2.0)

    def test_where_the_margins_are_best_there_may_be_contact(self):
        """The lip wants nothing and touches below 5.

        The damper wants 30 and touches above 9: what goes in lies elsewhere.
        """
        found = self.band((1, -5.0, -5.0, 0.0, "Lip"), (-1, 9.0, 9.0, 30.0, "Damper"))
        self.assertEqual((found.best_mm, found.all_clear), (-8, None))
        self.assertEqual(found.no_contact, (6, 8))

    def test_none_where_nothing_is_measured_or_no_such_wheel_can_be(self):
        with patch.object(by_width, "gaps_by_offset", lambda *_: None):
            self.assertIsNone(_band.__wrapped__((), MOVES, stands(), DAILY, 0, 1))
        with patch.object(by_width, "gaps_by_offset", side_effect=BadInput("no", "x")):
            self.assertIsNone(_band.__wrapped__((), MOVES, stands(), DAILY, 0, 1))
        self.assertEqual(
            offset_bands(
                corner="FR",
                readings=[LIP],
                motion=Motion(),
                candidate=stands(),
                tolerances=DAILY,
                widths_in=[8.0],
                low_mm=-20,
                high_mm=60,
            ),
            [],
        )

    def test_a_tyre_grown_on_this_width_has_not_grown_on_another(self):
        grown = replace(stands(), fitted=replace(stands().fitted, grown_mm=3.0))
        lows = [
            offset_bands(
                corner="FL",
                readings=[LIP],
                motion=Motion(),
                candidate=one,
                tolerances=DAILY,
                widths_in=[8.0, 8.5],
                low_mm=-20,
                high_mm=60,
            )
            for one in (stands(), grown)
        ]
        self.assertEqual(lows[1][0].no_contact[0] - lows[0][0].no_contact[0], 3)
        self.assertEqual(lows[1][1], lows[0][1])


class AtRest(unittest.TestCase):
    def test_the_arch_both_ways_where_nothing_moves_and_sideways_where_it_does(self):
        still = _still(LIP, Motion(), stands(), DAILY)
        self.assertEqual([one.wanted_mm for one in still], [DAILY.arch_side_mm, DAILY.arch_up_mm])
        self.assertTrue(all(one.sure_mm == one.most_mm for one in still))
        side = still[0].sure_mm
        moving = _still(LIP, MOVES, stands(), DAILY)
        self.assertEqual(moving, [Left(side, side, DAILY.arch_side_mm, still[0].name)])
        out = _still(LIP, Motion(), stands("17x8 +5"), DAILY)[0].sure_mm
        self.assertLess(out, 0)
        self.assertEqual(
            _still(LIP, MOVES, stands("17x8 +5"), DAILY), [Left(0.0, 0.0, DAILY.arch_side_mm - out, still[0].name)]
        )

    def test_what_rides_along_keeps_its_own_margin(self):
        found = _still(DAMPER, MOVES, stands(), DAILY)
        self.assertEqual((len(found), found[0].wanted_mm), (1, DAILY.damper_mm))

    def test_each_offset_is_worked_out_once(self):
        at = gaps_by_offset((LIP, DAMPER), MOVES, stands(), DAILY)
        self.assertIs(at(40), at(40))
        self.assertIsNot(at(40), at(40, True))
        rough, exact = at(40), at(40, True)
        self.assertEqual([one.name for one in rough], [one.name for one in exact])
        for one, other in zip(rough, exact, strict=True):
            self.assertAlmostEqual(one.most_mm, other.most_mm, delta=1.0)


def valley(*peaks):
    """Peaks of a height at a place, with slopes of one on both sides."""
    return lambda place: max(height - abs(place - where) for where, height in peaks)


def value(of, error=0.0):
    exact = Counted(of)
    return _Value(exact, lambda place: of(place) - error)


class AlongTheOffset(unittest.TestCase):
    def test_places_a_millimetre_apart_where_they_are_not_too_many(self):
        self.assertEqual(len(_places(-30.0, 40.0, 121)), 71)
        self.assertEqual(_places(0.0, 10.0, 121).tolist(), list(range(11)))
        self.assertEqual(
            (len(_places(0.0, 0.5, 121)), len(_places(0.0, 1.4, 121)), len(_places(0.0, 500.0, 121))), (3, 3, 121)
        )

    def test_the_highest_is_found_between_two_places(self):
        places = _places(0.0, 40.0, 121)
        for where in (3.3, 17.0, 25.6, 0.0, 40.0):
            self.assertAlmostEqual(_highest(value(valley((where, 5.0))), places), where, delta=2 * END_MM)

    def test_a_rough_value_that_is_less_hides_no_peak(self):
        """The lower of two peaks looks higher by the error of the table."""
        places = _places(0.0, 40.0, 121)
        of = valley((10.0, 5.0), (30.0, 5.3))
        rough = lambda place: of(place) - (ROUGH_ERROR_MM if place > 20 else 0.0)  # noqa: E731
        self.assertAlmostEqual(_highest(_Value(of, rough), places), 30.0, delta=2 * END_MM)

    def test_no_more_places_are_looked_at_than_need_be(self):
        places = _places(0.0, 40.0, 121)
        sharp, flat = value(valley((17.0, 5.0))), value(lambda place: 1.0)
        _highest(sharp, places)
        on_grid = [place for place in sharp.exact.seen if place == int(place)]
        self.assertLessEqual(len(set(on_grid)), 4)
        _highest(flat, places)
        self.assertEqual(len({place for place in flat.exact.seen if place == int(place)} - {0.0, 1.0}), MOST_LOOKS - 2)

    def test_narrowed_down_from_either_side(self):
        for where in (2.37, 1.01, 2.9, 4.0):
            of = Counted(valley((where, 1.0)))
            self.assertAlmostEqual(_narrowed(of, 1.0, 4.0, 2.0), where, delta=2 * END_MM)
            self.assertTrue(all(1.0 <= place <= 4.0 for place in of.seen))
        self.assertAlmostEqual(_narrowed(lambda place: place, 1.0, 4.0, 2.0), 4.0, delta=2 * END_MM)
        self.assertAlmostEqual(_narrowed(lambda place: -place, 1.0, 4.0, 2.0), 1.0, delta=2 * END_MM)
        self.assertEqual(_narrowed(lambda place: 3.0, 1.0, 4.0, 2.0), 2.0)

    def test_of_two_better_sides_the_better_one_is_taken(self):
        """Both neighbours are higher than the start; the peak lies to the right of it."""
        of = lambda place: abs(place - 2.0) + (0.5 if place > 2.0 else 0.0) if 1.0 <= place <= 3.0 else -9.0  # noqa: E731
        self.assertGreater(_narrowed(of, 1.0, 3.0, 2.0), 2.9)

    def test_an_end_both_ways_and_at_the_limit(self):
        of = valley((0.0, 10.0))
        for error in (0.0, 2.0):
            self.assertAlmostEqual(_end(value(of, error), 0.0, 40.0), 10.0, delta=2 * END_MM)
            self.assertAlmostEqual(_end(value(of, error), 0.0, -40.0), -10.0, delta=2 * END_MM)
            self.assertEqual(_end(value(of, error), 0.0, 6.0), 6.0)
            self.assertEqual(_end(value(of, error), 0.0, -10.0), -10.0)
            self.assertEqual(_end(value(of, error), 3.0, 3.0), 3.0)

    def test_the_end_is_on_the_good_side(self):
        for peak in (3.33, 7.777, 0.2):
            found = _end(value(valley((0.0, peak))), 0.0, 40.0)
            self.assertGreaterEqual(peak - found, -0.005)

    def test_a_dip_before_the_end_is_an_end(self):
        """Down to nothing between 3.8 and 4.2, open again beyond: the end is where the dip begins."""
        of = lambda place: min(30.0 - place, abs(place - 4.0) - 0.2)  # noqa: E731
        self.assertAlmostEqual(_end(value(of), 0.0, 40.0), 3.8, delta=2 * END_MM)
        self.assertAlmostEqual(_end(value(lambda place: of(-place)), 0.0, -40.0), -3.8, delta=2 * END_MM)

    def test_far_from_an_end_the_table_alone_is_asked(self):
        of = value(lambda place: 200.0 - place)
        self.assertEqual(_end(of, 0.0, 100.0), 100.0)
        self.assertLessEqual(len(of.exact.seen), 1)
        near = value(valley((0.0, 60.0)))
        _end(near, 0.0, 100.0)
        self.assertLess(len(near.exact.seen), 60 / PROBE_MM / 8)

    def test_where_a_value_turns_negative(self):
        for of, where in (
            (lambda x: 5.0 - x, 5.0),
            (lambda x: (8.0 - x) ** 3 / 50, 8.0),
            (lambda x: 0.02 - x if x > 0 else 0.02, 0.02),
        ):
            at = Counted(of)
            found = _bisect(at, 0.0, 10.0)
            self.assertAlmostEqual(found, where, delta=0.05 if where != 8.0 else END_MM + 0.01)
            self.assertGreaterEqual(where, found - 0.005)
            self.assertLess(len(at.seen), 70)
        self.assertEqual(_bisect(lambda x: x + 1.237, 0.0, -10.0), -1.24)

    def test_hopeless_only_where_every_place_overlaps_by_more_than_it_may_be_wrong(self):
        """Places a millimetre apart: between two of them it may be half a millimetre better, and the table's error on
        top.
        """
        places = _places(0.0, 10.0, 121)
        for above, found in ((0.01, None), (-0.01, 6.25)):
            peak = -(ROUGH_ERROR_MM + 0.5) + above
            some = value(valley((6.0, peak)))
            left = value(valley((6.25, -9.0)))
            self.assertEqual(_hopeless(some, left, places), found)
        for where in (0.0, 10.0):
            some = value(valley((where, -30.0)))
            self.assertEqual(_hopeless(some, some, places), where)

    def test_a_stretch_needs_its_best_place(self):
        self.assertIsNone(_stretch_of(value(valley((5.0, -0.01))), 5.0, 0.0, 10.0))
        low, high = _stretch_of(value(valley((5.0, 2.0))), 5.0, 0.0, 10.0)
        self.assertAlmostEqual(low, 3.0, delta=2 * END_MM)
        self.assertAlmostEqual(high, 7.0, delta=2 * END_MM)
        self.assertEqual(_stretch_of(value(valley((5.0, 0.0))), 5.0, 0.0, 10.0), (5.0, 5.0))


class Window(unittest.TestCase):
    TUBE = np.array([[-100.0, 200.0], [100.0, 200.0], [100.0, 300.0], [-100.0, 300.0]])

    @staticmethod
    def post(y, frame="body", name="post"):
        return Thing(name, frame, np.array([[0.0, y, 250.0]]))

    def test_body_and_knuckle_keep_each_its_own_margin(self):
        """Still, the wheel's edges lie 100 mm either side: a post at −150 leaves offsets up to 50, less its margin."""
        for frame, margin in (("body", 10.0), ("knuckle", 5.0)):
            found = offset_window(
                outline_mm=self.TUBE,
                well=Well(0.0),
                things=[self.post(-150.0, frame)],
                spacer_mm=0.0,
                low_mm=0.0,
                high_mm=60.0,
                body_margin_mm=10.0,
                knuckle_margin_mm=5.0,
            )
            self.assertAlmostEqual(found.no_contact[1], 50.0, delta=0.1)
            self.assertAlmostEqual(found.all_clear[1], 50.0 - margin, delta=0.1)
            self.assertEqual((found.no_contact[0], found.low_limited_by, found.high_limited_by), (0.0, "range", "post"))
            self.assertAlmostEqual(found.best_margin_mm, 50.0 - margin, delta=0.1)

    def test_a_spacer_carries_the_window_along(self):
        found = offset_window(
            outline_mm=self.TUBE,
            well=Well(0.0),
            things=[self.post(-150.0)],
            spacer_mm=8.0,
            low_mm=0.0,
            high_mm=70.0,
            body_margin_mm=10.0,
            knuckle_margin_mm=5.0,
        )
        self.assertAlmostEqual(found.no_contact[1], 58.0, delta=0.1)

    def test_no_contact_where_no_margin_can_be_kept(self):
        """Posts 212 mm apart leave 12 mm for a wheel of 200.

        No contact over 12 mm of offset, nowhere 10 mm on both sides.
        """
        posts = [self.post(-106.0, name="inner"), self.post(106.0, name="outer")]
        found = offset_window(
            outline_mm=self.TUBE,
            well=Well(0.0),
            things=posts,
            spacer_mm=0.0,
            low_mm=-40.0,
            high_mm=40.0,
            body_margin_mm=10.0,
            knuckle_margin_mm=5.0,
        )
        self.assertIsNone(found.all_clear)
        np.testing.assert_allclose(found.no_contact, (-6.0, 6.0), atol=0.1)
        self.assertAlmostEqual(found.best_margin_mm, -4.0, delta=0.1)
        self.assertAlmostEqual(found.best_offset_mm, 0.0, delta=0.1)
        self.assertEqual((found.low_limited_by, found.high_limited_by), ("outer", "inner"))

    def test_the_margins_are_best_where_it_touches(self):
        """Within the rim a knuckle post wants 40, a body post nothing: what goes in lies away from the best margins."""
        posts = [self.post(-102.0, "body", "rail"), self.post(104.0, "knuckle", "arm")]
        found = offset_window(
            outline_mm=self.TUBE,
            well=Well(0.0),
            things=posts,
            spacer_mm=0.0,
            low_mm=-60.0,
            high_mm=60.0,
            body_margin_mm=0.0,
            knuckle_margin_mm=40.0,
        )
        self.assertIsNone(found.all_clear)
        self.assertAlmostEqual(found.best_offset_mm, 19.0, delta=0.2)
        np.testing.assert_allclose(found.no_contact, (-4.0, 2.0), atol=0.1)

    def test_the_window_goes_on_where_the_best_place_is_at_its_end(self):
        """From −60 to 0 only: the margins are best at 0, where the range ends."""
        found = offset_window(
            outline_mm=self.TUBE,
            well=Well(0.0),
            things=[self.post(160.0)],
            spacer_mm=0.0,
            low_mm=-90.0,
            high_mm=0.0,
            body_margin_mm=10.0,
            knuckle_margin_mm=5.0,
        )
        self.assertAlmostEqual(found.best_offset_mm, 0.0, delta=0.1)
        self.assertEqual((found.no_contact[1], found.high_limited_by, found.low_limited_by), (0.0, "range", "post"))
        self.assertAlmostEqual(found.no_contact[0], -60.0, delta=0.1)

    def test_nothing_goes_in(self):
        posts = [self.post(-90.0, name="inner"), self.post(80.0, name="outer")]
        found = offset_window(
            outline_mm=self.TUBE,
            well=Well(0.0),
            things=posts,
            spacer_mm=0.0,
            low_mm=-40.0,
            high_mm=40.0,
            body_margin_mm=10.0,
            knuckle_margin_mm=10.0,
        )
        self.assertEqual((found.no_contact, found.all_clear), (None, None))
        self.assertEqual(found.low_limited_by, found.high_limited_by)
        self.assertIn(found.low_limited_by, ("inner", "outer"))
        self.assertAlmostEqual(found.best_offset_mm, 5.0, delta=2.0)
        self.assertAlmostEqual(found.best_margin_mm, -25.0, delta=2.0)

    def test_over_every_usual_axis_contact_takes_all_and_margins_the_worst(self):
        """A turned wheel near a post: with an unknown kingpin the margins shrink and no contact does not."""
        well = Well(0.0, steer_in_deg=20.0, steer_out_deg=20.0)
        post = Thing("post", "body", np.array([[0.0, -170.0, 250.0]]))
        known = offset_window(
            outline_mm=self.TUBE,
            well=replace(well, kingpin_inboard_mm=100.0),
            things=[post],
            spacer_mm=0.0,
            low_mm=-20.0,
            high_mm=60.0,
            body_margin_mm=10.0,
            knuckle_margin_mm=5.0,
        )
        found = offset_window(
            outline_mm=self.TUBE,
            well=well,
            things=[post],
            spacer_mm=0.0,
            low_mm=-20.0,
            high_mm=60.0,
            body_margin_mm=10.0,
            knuckle_margin_mm=5.0,
            unknown=("kingpin_inboard_mm",),
        )
        self.assertGreaterEqual(found.no_contact[1], known.no_contact[1] - 0.2)
        self.assertLessEqual(found.all_clear[1] if found.all_clear else -20.0, known.all_clear[1] + 0.2)


class Looks(unittest.TestCase):
    """The quick look at an offset against the exact one, and what limits an end."""

    TUBE = Window.TUBE
    THINGS = (
        Thing("rail", "body", np.array([[0.0, -180.0, 230.0], [40.0, -190.0, 250.0]]), 6.0),
        Thing("strut", "knuckle", np.array([[0.0, -160.0, 250.0], [0.0, -400.0, 250.0]]), 12.0),
        Thing("lip", "body", np.array([[10.0, 170.0, 320.0]])),
    )

    def looks(self, unknown=(), **well):
        moves = Well(7.0, **well)
        return _Looks(self.TUBE, moves, self.THINGS, 5.0, (10.0, 5.0), (31, 21), unknown)

    def test_the_quick_look_is_near_the_exact_one(self):
        for well in (
            {"droop_mm": 60.0},
            {"bump_mm": 60.0},
            {"steer_in_deg": 25.0, "kingpin_inboard_mm": 120.0},
            {"steer_out_deg": 25.0, "kingpin_inboard_mm": 120.0},
            {"steer_in_deg": 5.0, "steer_out_deg": 30.0, "bump_mm": 20.0},
        ):
            looks = self.looks(**well)
            for offset in (-20.0, 0.0, 15.0, 30.0):
                (rough, best), (exact, most) = looks.rough(offset), looks.exact(offset)
                self.assertTrue((np.abs(rough - exact) <= ROUGH_ERROR_MM + 1.0).all(), (well, offset, rough, exact))
                np.testing.assert_allclose(rough, best)
                np.testing.assert_allclose(exact, most)
                self.assertEqual(rough[1], exact[1], "what rides along is exact in both")

    def test_what_rides_along_is_the_nearest_of_its_points_less_its_radius(self):
        """The tube's edge lies 100 mm from its middle, which offset 0 with a spacer of 5 puts at 5.

        160 + 5 − 100 − 12 = 53.
        """
        self.assertAlmostEqual(self.looks(bump_mm=1.0).exact(0.0)[0][1], 53.0)
        self.assertAlmostEqual(self.looks(bump_mm=1.0).exact(10.0)[0][1], 43.0)

    def test_margins_are_taken_off_each_by_what_it_stands_on(self):
        looks = self.looks(bump_mm=1.0)
        gaps = looks.exact(0.0)[0]
        self.assertAlmostEqual(looks.left(0.0), min(gaps[0] - 10.0, gaps[1] - 5.0, gaps[2] - 10.0))
        self.assertAlmostEqual(looks.least(0.0), gaps.min())
        self.assertAlmostEqual(looks.rough_left(0.0), looks.left(0.0), delta=ROUGH_ERROR_MM + 1.0)
        self.assertAlmostEqual(looks.rough_least(0.0), looks.least(0.0), delta=ROUGH_ERROR_MM + 1.0)

    def test_over_usual_axes_contact_takes_the_best_and_margins_the_worst(self):
        looks = self.looks(("kingpin_inboard_mm",), steer_in_deg=25.0, steer_out_deg=25.0)
        for lo, hi in (looks.exact(10.0), looks.rough(10.0)):
            self.assertTrue((lo <= hi + 1e-9).all())
            self.assertLess(lo[0], hi[0] - 1.0)
            self.assertEqual(lo[1], hi[1])
        self.assertAlmostEqual(looks.least(10.0), looks.exact(10.0)[1].min())
        self.assertAlmostEqual(looks.left(10.0), (looks.exact(10.0)[0] - [10.0, 5.0, 10.0]).min())

    def test_what_touches_just_beyond_an_end_limits_it(self):
        """At the end 0 and 0.05 mm: a tenth further the first overlaps, a tenth back the second is nearer, further on a
        third.
        """

        def exact(offset):
            return None, np.array([10.0 - offset, 0.05, 10.15 - 2.0 * (offset - 10.0)])

        looks = SimpleNamespace(exact=exact, things=[SimpleNamespace(name=name) for name in ("rail", "lip", "arm")])
        self.assertEqual(_Looks.limiter(looks, 10.0, 40.0, 1.0), "rail")
        self.assertEqual(_Looks.limiter(looks, 10.0, 40.0, -1.0), "lip")
        self.assertEqual(_Looks.limiter(looks, 10.0, 10.0, 1.0), "range")
        self.assertEqual(_Looks.limiter(looks, -10.0, 10.0, -1.0), "lip")


if __name__ == "__main__":
    unittest.main()
