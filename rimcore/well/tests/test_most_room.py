"""The most room that a pair can have is never less than what is judged of it, and is near where something is near."""

import math
import unittest
from dataclasses import replace

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st
from shapely.geometry import Point, Polygon

from rimcore.well.judge.fitment import judge
from rimcore.well.judge.tolerance import SCHOOLS
from rimcore.well.rank.most import MostTable, most_margins_mm
from rimcore.well.read.measured import Axle, Held, Reading
from rimcore.well.solid.gap import Station, outline_polygon
from rimcore.well.solid.pose import Pose
from rimcore.well.tests.test_motion import ON_CAR, candidate, random_corner
from rimcore.wheels.fitted import Fitted
from rimcore.wheels.hub import Hub
from rimcore.wheels.tyre import parse_tyre
from rimcore.wheels.wheel import parse_wheel

SPACERS_MM = (0.0, 4.0, 9.0)


def judged_mm(axle, stands, school):
    """The least margin over all gaps; nothing where none is known."""
    rows = judge(axle, stands, SCHOOLS[school]).judgements
    return min((one.margin for one in rows if one.code.startswith("gap.") and one.margin is not None), default=None)


def with_spacer(stands, more_mm):
    return replace(stands, fitted=replace(stands.fitted, spacer_mm=stands.fitted.spacer_mm + more_mm))


class NeverLess(unittest.TestCase):
    @settings(max_examples=40, deadline=None, derandomize=True)
    @given(st.integers(0, 2**32 - 1), st.sampled_from(sorted(SCHOOLS)))
    def test_than_what_is_judged(self, seed, school):
        rng = np.random.default_rng(seed)
        motion, chosen, taken = random_corner(rng)
        if rng.random() < 0.15:
            motion = replace(motion, bump_mm=None)
        bare = rng.random()
        if bare < 0.3:
            names = ("kpi_deg", "caster_deg", "kingpin_inboard_mm", "camber_gain_deg_per_mm")
            motion = replace(motion, **{name: None for name in names if rng.random() < 0.5})
        brake = Reading("FL", "caliper_spoke", Station("caliper", face_mm=30.0), None, ON_CAR, Pose(), 1.0)
        chosen = replace(chosen, spoke_back_mm=rng.uniform(28, 45) if rng.random() < 0.5 else None)
        doubtful = tuple(replace(one, moved_mm=(0.0, 2.0, 0.0)) for one in taken[2:4])
        held = Held(taken, frozenset()) if rng.random() < 0.3 else None
        read = (*taken[:2], *doubtful, *taken[4:]) if held is not None else taken
        axle = Axle(("FL", "FR"), ON_CAR, Hub(), (*read, brake), motions=(("FL", motion),), held=held)
        others = [chosen, replace(chosen, fitted=candidate("17x8 +48", "225/45R17").fitted)]
        others[1] = replace(others[1], fitted=replace(others[1].fitted, camber_deg=chosen.fitted.camber_deg))
        found = most_margins_mm(axle, others, SPACERS_MM, SCHOOLS[school])
        self.assertEqual(found.shape, (2, 3))
        for stands, row in zip(others, found.tolist(), strict=True):
            for more_mm, most in zip(SPACERS_MM, row, strict=True):
                whole = judged_mm(axle, with_spacer(stands, more_mm), school)
                self.assertIsNotNone(whole)
                self.assertLessEqual(whole, most + 1e-9)

    def test_it_is_near_where_something_is_near(self):
        """Of pairs that do not touch the middle one is told within 4 mm."""
        rng, off = np.random.default_rng(5), []
        for _ in range(12):
            motion, chosen, taken = random_corner(rng)
            axle = Axle(("FL", "FR"), ON_CAR, Hub(), taken, motions=(("FL", motion),))
            stands = [replace(chosen, fitted=candidate(f"17x7 {offset:+d}").fitted) for offset in range(20, 61, 8)]
            stands = [replace(one, levers=chosen.levers) for one in stands]
            found = most_margins_mm(axle, stands, (0.0,), SCHOOLS["show"])[:, 0]
            whole = [judged_mm(axle, one, "show") for one in stands]
            off += [most - known for most, known in zip(found, whole, strict=True) if known > 0.0]
        self.assertGreater(len(off), 6)
        self.assertLess(float(np.median(off)), 4.0)

    def test_what_is_far_beyond_the_table_is_no_nearer_than_it_is(self):
        """Against the distance of a point from a polygon by a reference library (Shapely)."""
        shape = Fitted(parse_wheel("17x8 +40"), parse_tyre("225/45R17")).outline
        polygon = Polygon(outline_polygon(shape))
        for across, radius in ((-700.0, 60.0), (-500.0, 420.0), (300.0, 900.0), (-250.0, 300.0)):
            table = MostTable(np.array([[across, radius]]), np.array([5.0]))
            away = polygon.distance(Point(across + 40.0, radius)) - 5.0
            self.assertGreaterEqual(table.most_mm(shape, np.array([-40.0]))[0], away)

    def test_nothing_measured_bounds_nothing(self):
        bare = Axle(("FL", "FR"), ON_CAR, Hub(), ())
        stands = candidate("17x8 +40")
        self.assertTrue(math.isnan(most_margins_mm(bare, [stands], (0.0,), SCHOOLS["daily"])[0, 0]))
        self.assertIsNone(judged_mm(bare, stands, "daily"))
        self.assertEqual(most_margins_mm(bare, [], (0.0,), SCHOOLS["daily"]).shape, (0, 1))

    def test_a_caliper_alone(self):
        read = Reading("FL", "caliper_spoke", Station("caliper", face_mm=30.0), None, ON_CAR, Pose(), 1.0)
        axle = Axle(("FL", "FR"), ON_CAR, Hub(), (read,))
        stands = replace(candidate("17x8 +40"), spoke_back_mm=34.0)
        found = most_margins_mm(axle, [stands, candidate("17x8 +40")], (0.0, 5.0), SCHOOLS["daily"])
        self.assertEqual(found[0].tolist(), [1.0, 6.0])
        self.assertTrue(np.isnan(found[1]).all())


if __name__ == "__main__":
    unittest.main()
