"""The measuring walk: its order, what each standing asks, how long it takes, repeated readings."""

import itertools
import math
import unittest

from rimcore.well.read.rule import LOCK, WHERE
from rimcore.well.read.stations import STATIONS, stations_of
from rimcore.well.read.walk import ROUND, STANDINGS, Stop, differs, in_order, minutes, repeated


def every_stop():
    return [Stop(corner, kind.code) for corner in ROUND for kind in stations_of(corner)]


class Order(unittest.TestCase):
    def test_every_stop_is_there_once(self):
        stops = every_stop()
        self.assertEqual(sorted(stop.key for stop in in_order([*stops, *stops])), sorted(stop.key for stop in stops))

    def test_a_corner_is_done_before_the_next_and_the_car_comes_last(self):
        order = in_order(reversed(every_stop()))
        at_corners = [stop for stop in order if stop.standing != "car"]
        self.assertEqual(order[: len(at_corners)], tuple(at_corners))
        self.assertEqual(
            [corner for corner, _ in itertools.groupby(at_corners, lambda stop: stop.corner)], ["FL", "RL", "RR", "FR"]
        )
        self.assertTrue(all(stop.standing == "car" for stop in order[len(at_corners) :]))

    def test_each_standing_of_a_corner_is_made_once(self):
        """The wheel comes off last, and goes to each lock once."""
        for corner, run in itertools.groupby(
            in_order(every_stop()), lambda stop: stop.corner if stop.standing != "car" else None
        ):
            standings = [standing for standing, _ in itertools.groupby(stop.standing for stop in run)]
            self.assertEqual(len(standings), len(set(standings)), corner)
            if corner is not None and "off" in standings:
                self.assertEqual(standings[-1], "off")
                self.assertEqual(standings[0], "straight")

    def test_standings_are_those_of_the_drawings(self):
        for code in STATIONS:
            standing = Stop("FL", code).standing
            self.assertIn(standing, STANDINGS)
            self.assertEqual(standing.startswith("lock_"), WHERE[code].stands == LOCK, code)
        self.assertEqual(
            (Stop("FL", "liner_front_lock").standing, Stop("FL", "rail_front_lock").standing), ("lock_out", "lock_in")
        )
        self.assertEqual(
            [Stop("FL", "liner_front_lock", lock).standing for lock in (-1, 0, 1)], ["lock_in", "lock_out", "lock_out"]
        )
        self.assertEqual(Stop("FL", "joint").head, "front left, wheel off, car on stands")

    def test_no_other_order_makes_fewer_standings(self):
        """By trying every order of some stops: changes of corner or of standing, of which this has the least."""
        some = [
            Stop("FL", "damper"),
            Stop("FL", "joint"),
            Stop("FR", "damper"),
            Stop("FL", "arch_12"),
            Stop("FR", "joint"),
            Stop("FR", "kpi"),
        ]

        def changes(order):
            return sum(
                (one.corner, one.standing) != (two.corner, two.standing) for one, two in itertools.pairwise(order)
            )

        self.assertEqual(changes(in_order(some)), min(changes(order) for order in itertools.permutations(some)))


class Time(unittest.TestCase):
    def test_minutes(self):
        """Two readings straight 3; the wheel off once 8 and two readings of 3; the scale 5 and 2.

        Nothing takes nothing.
        """
        straight = [Stop("FL", "damper"), Stop("FL", "arch_12")]
        off = [Stop("FL", "joint"), Stop("FL", "caliper_barrel")]
        self.assertEqual(
            (minutes(straight), minutes(off), minutes([*straight, *off]), minutes([])), (3.0, 14.0, 17.0, 0)
        )
        self.assertEqual(
            minutes([Stop("FL", "corner_mass"), Stop("FR", "corner_mass"), Stop("", "car_mass")]), 5.0 + 3 * 2.0
        )
        self.assertEqual(minutes([Stop("FL", "joint"), Stop("FR", "joint")]), 2 * 11.0)


class Repeats(unittest.TestCase):
    def test_differs_by_more_than_both(self):
        for one, other, told in ((10.0, 11.5, False), (10.0, 11.51, True), (11.51, 10.0, True), (10.0, 10.0, False)):
            self.assertEqual(differs(one, 1.0, other, 0.5), told)

    def test_mean_and_what_it_is_good_for(self):
        self.assertEqual(repeated([10.0], 1.0), (10.0, 1.0))
        mean, doubt = repeated([9.0, 11.0], 0.1)
        self.assertEqual((mean, doubt), (10.0, 1.0))
        mean, doubt = repeated([10.0, 10.0, 10.0, 10.0], 1.0)
        self.assertEqual((mean, doubt), (10.0, 0.5))
        mean, doubt = repeated([10.0, 10.2, 10.4], 1.0)
        self.assertAlmostEqual(mean, 10.2)
        self.assertAlmostEqual(doubt, 1.0 / math.sqrt(3))


if __name__ == "__main__":
    unittest.main()
