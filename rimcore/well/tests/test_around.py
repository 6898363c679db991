"""Stations round the drawings of a corner: each once, numbered through, no two marks on each other."""

import itertools
import math
import unittest

from rimcore.tables.facts import CORNERS
from rimcore.well.read.around import APART, EDGE, HIGH, WIDE, free_place, groups_of
from rimcore.well.read.rule import WHERE
from rimcore.well.read.stations import stations_of
from rimcore.well.read.walk import STANDINGS, Stop


class Groups(unittest.TestCase):
    def setUp(self):
        groups_of.cache_clear()

    def test_every_station_once_in_the_order_of_the_walk(self):
        for corner in CORNERS:
            groups = groups_of(corner)
            codes = [code for group in groups for code in group.codes]
            self.assertEqual(sorted(codes), sorted(kind.code for kind in stations_of(corner)))
            self.assertEqual(
                [group.standing for group in groups],
                [name for name in STANDINGS if any(Stop(corner, code).standing == name for code in codes)],
            )
            marks = [mark for group in groups for view in group.views for mark in view.marks]
            self.assertEqual(
                {mark.code: mark.number for mark in marks}, {code: k for k, code in enumerate(codes, start=1)}
            )

    def test_a_mark_stands_in_the_view_of_its_station_with_the_wheel_as_it_must_stand(self):
        for group in groups_of("FL"):
            for view in group.views:
                for mark in view.marks:
                    self.assertEqual(WHERE[mark.code].view, view.where.view)
                    self.assertEqual(WHERE[mark.code].turned_deg, view.where.turned_deg)

    def test_no_two_marks_on_each_other_and_all_in_the_frame(self):
        for corner in CORNERS:
            for view in (view for group in groups_of(corner) for view in group.views):
                for one, other in itertools.combinations(view.marks, 2):
                    self.assertGreaterEqual(math.dist((one.x, one.y), (other.x, other.y)), APART - 0.2, (one, other))
                self.assertTrue(
                    all(EDGE <= mark.x <= WIDE - EDGE and EDGE <= mark.y <= HIGH - EDGE for mark in view.marks)
                )

    def test_a_mark_alone_stands_where_its_rule_lies(self):
        view = next(view for group in groups_of("FL") for view in group.views if group.standing == "hanging")
        x1, y1, x2, y2 = WHERE["droop"].rules[0]
        self.assertEqual((view.marks[0].x, view.marks[0].y), ((x1 + x2) / 2, (y1 + y2) / 2))

    def test_a_full_ring_is_left_for_the_next(self):
        taken = [(150.0, 115.0)]
        for _ in range(30):
            taken.append(free_place(150.0, 115.0, taken))
        self.assertGreater(min(math.dist(a, b) for a, b in itertools.combinations(taken, 2)), APART - 1e-6)


if __name__ == "__main__":
    unittest.main()
