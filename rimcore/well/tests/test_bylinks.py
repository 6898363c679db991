"""The wheel well on its links.

The table against the links themselves, and against the plain model where both must agree.
"""

import unittest
from dataclasses import replace

import numpy as np
from scipy.spatial.transform import Rotation

from rimcore.quantities.errors import BadInput
from rimcore.ride.curves import curves, moved_to
from rimcore.ride.plumb import Plumb, Read, banded
from rimcore.well.judge.posegaps import pose_of
from rimcore.well.judge.ranges import range_of, well_of
from rimcore.well.levers import Levers
from rimcore.well.read.measured import Candidate
from rimcore.well.read.travel import Motion
from rimcore.well.solid.bylinks import by_links
from rimcore.well.solid.pose import Pose
from rimcore.well.solid.wheel_plane import Mover, Well
from rimcore.wheels.fitted import Fitted
from rimcore.wheels.tyre import parse_tyre
from rimcore.wheels.wheel import parse_wheel

POINTS = {
    "hub": (761, 0, 297),
    "lower_joint": (683, 6, 171),
    "rod_outer": (672, -104, 219),
    "lower_front": (352, 118, 182),
    "rod_inner": (331, -117, 226),
    "lower_rear": (358, -196, 186),
    "upper_joint": (648, -9, 452),
    "upper_front": (431, 92, 424),
    "upper_rear": (437, -118, 412),
}
READ = Read("wishbone", tuple((name, Plumb(*at, 2.0)) for name, at in POINTS.items()), -40.0, -1.1, 0.1)
ON_CAR = Fitted(parse_wheel("16x7 +40"), parse_tyre("205/50R16"), camber_deg=-1.1)
LINKS = by_links(READ, 0.0, 64.0, 58.0, 60.0, True)
MOTION = Motion(
    58.0,
    64.0,
    35.0,
    31.0,
    links=LINKS,
    kpi_deg=LINKS.kpi_deg,
    caster_deg=LINKS.caster_deg,
    kingpin_inboard_mm=LINKS.kingpin_inboard_mm,
)
HUB = np.array([[0.0, -40.0, 0.0], [0.0, -40.0, 300.0], [250.0, -130.0, 150.0], [-200.0, 40.0, -180.0]])


def on_links(points, travel, rack, height=0.0, camber=-1.1):
    """Hub points of a wheel that stands with a camber at a height, straight from the solver.

    (n, 3) in the body's axes.
    """
    hard = READ.hard_points()
    now, then = moved_to(hard, [travel], [rack]), moved_to(hard, [height], [0.0])
    turn = now.turn[0] @ then.turn[0].T @ Rotation.from_euler("x", -camber, degrees=True).as_matrix()
    return points @ turn.T + now.at[0]


def steer_at(rack):
    found = curves(READ.hard_points(), [0.0], [rack])
    return float(found.steer_deg[0] - curves(READ.hard_points(), [0.0]).steer_deg[0])


class Racked(unittest.TestCase):
    def test_a_rack_that_can_not_be_assembled_leaves_the_points_as_they_were_read(self):
        """Rod's ends made one point: the inner one brought out to the outer one."""
        outer, inner = (READ.hard_points().at(name) for name in ("rod_outer", "rod_inner"))
        x, y, z = outer - inner
        with self.assertRaises(BadInput):
            READ.hard_points().racked(x, z, y)
        self.assertEqual(
            LINKS.followed(-1.1, 0.0, MOTION.axis, (x, z, y)).steer_deg[0],
            LINKS.followed(-1.1, 0.0, MOTION.axis, ()).steer_deg[0],
        )


class Table(unittest.TestCase):
    def test_every_pose_is_that_of_the_links(self):
        """Sixty drawn poses within travel and rack: within a fiftieth of a millimetre of what the solver says."""
        dice, worst = np.random.default_rng(4), 0.0
        for _ in range(60):
            travel, rack = dice.uniform(-60, 55), dice.uniform(-55, 55)
            said = pose_of(MOTION, Candidate(ON_CAR), steer_at(rack), travel).to_body(HUB)
            worst = max(worst, float(np.abs(said - on_links(HUB, travel, rack)).max()))
        self.assertLess(worst, 0.02)

    def test_a_lowered_build_stands_with_its_camber_at_its_height(self):
        lower = Candidate(replace(ON_CAR, camber_deg=-2.0), levers=Levers(ride_drop_mm=25.0))
        for travel, rack in ((25.0, 0.0), (40.0, 30.0), (-20.0, -45.0)):
            said = pose_of(MOTION, lower, steer_at(rack), travel).to_body(HUB)
            np.testing.assert_allclose(said, on_links(HUB, travel, rack, 25.0, -2.0), atol=0.02)
        self.assertAlmostEqual(pose_of(MOTION, lower, 0.0, 25.0).camber_deg, -2.0)

    def test_at_rest_nothing_is_left_over_the_plain_pose(self):
        said = pose_of(MOTION, Candidate(ON_CAR), 0.0, 0.0)
        np.testing.assert_allclose(said.to_body(HUB), Pose(-1.1, 0.0, 0.0, *MOTION.axis).to_body(HUB), atol=0.02)

    def test_there_and_back(self):
        pose = pose_of(MOTION, Candidate(ON_CAR), 21.0, -33.0)
        np.testing.assert_allclose(pose.to_hub(pose.to_body(HUB)), HUB, atol=1e-9)

    def test_the_sweep_carries_points_as_the_pose_does(self):
        reach = range_of(MOTION, Candidate(ON_CAR))
        body = pose_of(MOTION, Candidate(ON_CAR), 17.0, 22.0).to_body(HUB)
        mover = Mover(well_of(MOTION, Candidate(ON_CAR), reach), body)
        across, radius = mover.across_and_radius(np.array([17.0]), np.array([22.0]))
        np.testing.assert_allclose(across, HUB[:, 1] + 40.0, atol=5e-3)
        np.testing.assert_allclose(radius, np.hypot(HUB[:, 0], HUB[:, 2]), atol=5e-3)
        steer, travel = np.array([-20.0, 0.0, 17.0]), np.array([-30.0, 22.0])
        grid = mover.over_grid(steer, travel)
        np.testing.assert_allclose(grid[0][1, 2], HUB[:, 1] + 40.0, atol=6e-3)

    def test_no_point_moves_faster_than_the_bounds_of_the_search(self):
        """Finite differences over the whole range never pass what the sweep takes for the fastest."""
        mover = Mover(well_of(MOTION, Candidate(ON_CAR), range_of(MOTION, Candidate(ON_CAR))), HUB + 3.0)
        steer, travel = np.linspace(-30, 34, 81)[None, :, None], np.linspace(-63, 57, 61)[:, None, None]
        across, radius = mover.across_and_radius(steer, travel)
        step = np.hypot(np.diff(across, axis=0), np.diff(radius, axis=0)) / np.diff(travel, axis=0)
        self.assertTrue((step.max(axis=(0, 1)) <= mover.speed_per_mm() + 1e-9).all())
        turn = np.hypot(np.diff(across, axis=1), np.diff(radius, axis=1)) / np.radians(np.diff(steer, axis=1))
        self.assertTrue((turn.max(axis=(0, 1)) <= mover.reach_mm() + 1e-9).all())


class Motions(unittest.TestCase):
    def test_camber_over_travel_is_that_of_the_curves(self):
        wanted = curves(READ.hard_points(), [-40.0, 45.0]).camber_deg
        for travel, camber in zip((-40.0, 45.0), wanted, strict=True):
            self.assertAlmostEqual(MOTION.camber_at(-1.1, 0.0, travel), camber, delta=0.02)

    def test_axis_and_gain_are_those_of_the_points(self):
        found = curves(READ.hard_points(), [0.0])
        self.assertAlmostEqual(LINKS.kpi_deg, float(found.kpi_deg[0]), places=6)
        self.assertAlmostEqual(LINKS.caster_deg, float(found.caster_deg[0]), places=6)
        self.assertAlmostEqual(LINKS.gain_deg_per_mm, float(found.camber_rate[0]), delta=5e-4)

    def test_what_is_not_known_of_the_points_stays_in_camber_toe_and_track(self):
        """Half the band's width at 40 mm of bump, a millimetre at a time; points that are exact leave nothing."""
        band = banded(READ, (0.0, 40.0))
        for figure in ("camber_deg", "toe_deg", "track_shift_mm"):
            half = (band.high[figure][1] - band.low[figure][1]) / 2
            self.assertAlmostEqual(LINKS.doubt_per_mm(figure), half / 40, places=9)
            self.assertGreater(half, 0.0)
        exact = replace(READ, readings=tuple((name, Plumb(*at, 0.0)) for name, at in POINTS.items()))
        self.assertAlmostEqual(by_links(exact, 0.0, 64.0, 58.0, 60.0, True).doubt_per_mm("toe_deg"), 0.0, places=9)

    def test_limiters_on_the_rack_take_from_the_lock_what_the_rods_say(self):
        """8 mm off either side of a rack of 60: what 52 mm turn less than 60."""
        out, inn = LINKS.lock_less_deg(8.0, (0.0, 0.0))
        ends = sorted(steer_at(x) for x in (-60.0, 60.0))
        near = sorted(steer_at(x) for x in (-52.0, 52.0))
        self.assertAlmostEqual(out, ends[1] - near[1], delta=0.1)
        self.assertAlmostEqual(inn, near[0] - ends[0], delta=0.1)
        limited = range_of(MOTION, Candidate(ON_CAR, levers=Levers(rack_limit_mm=8.0)))
        self.assertAlmostEqual(limited.steer_out_deg, 35.0 - out)

    def test_a_rack_that_is_moved_steers_by_other_rods(self):
        moved = MOTION.follow(-1.1, 0.0, (26.0, 0.0))
        still = MOTION.follow(-1.1, 0.0)
        self.assertGreater(np.abs(moved.turn_rad[:20, :10] - still.turn_rad[:20, :10]).max(), 1e-4)

    def test_height_at_which_they_were_read(self):
        """Read 20 mm lowered: the same points are at travel 20 of the baseline."""
        links = by_links(READ, 20.0, 84.0, 38.0, 60.0, True)
        self.assertAlmostEqual(links.camber_change_deg(20.0, 50.0), LINKS.camber_change_deg(0.0, 30.0), delta=0.01)

    def test_a_rear_corner_does_not_steer(self):
        links = by_links(READ, 0.0, 60.0, 60.0, None, False)
        still = Motion(60.0, 60.0, links=links, steers=False)
        pose = pose_of(still, Candidate(ON_CAR), 0.0, 40.0)
        np.testing.assert_allclose(pose.to_body(HUB), on_links(HUB, 40.0, 0.0), atol=0.02)

    def test_points_that_are_missing_or_can_not_be_are_no_links(self):
        self.assertIsNone(by_links(replace(READ, readings=READ.readings[:-1]), 0.0, 60.0, 60.0, None, True))
        odd = tuple((name, Plumb(400, 0, 200, 2.0)) for name in POINTS)
        self.assertIsNone(by_links(replace(READ, readings=odd), 0.0, 60.0, 60.0, None, True))

    def test_a_rack_over_centre_ends_the_table_where_the_wheel_turns_back(self):
        rear = {**POINTS, "rod_inner": (331, -217, 226)}
        links = by_links(
            replace(READ, readings=tuple((name, Plumb(*at, 2.0)) for name, at in rear.items())),
            0.0,
            64.0,
            58.0,
            90.0,
            True,
        )
        found = links.followed(-1.1, 0.0, (links.kpi_deg, links.caster_deg, links.kingpin_inboard_mm), (0.0, 0.0))
        self.assertTrue(np.isfinite(found.turn_rad).all() and np.isfinite(found.shift_mm).all())
        self.assertTrue((np.diff(found.steer_deg) > 0).all())

    def test_a_plain_well_is_as_it_was(self):
        self.assertIsNone(Motion(60.0, 60.0).follow(0.0, 0.0))
        self.assertEqual(float(Well(0.0, -1.0, -0.01).camber_at(np.array(50.0))), -1.5)
