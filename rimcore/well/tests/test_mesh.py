"""The wheel against a dense mesh of the same outline.

Trimesh, a reference library, in random wheels, poses and obstacles.
"""

import math
import unittest
from dataclasses import replace

import numpy as np
import trimesh
from scipy.spatial.transform import Rotation

from rimcore.well.judge.clearance import sweep
from rimcore.well.solid.cloud import Cloud
from rimcore.well.solid.wheel_plane import Hinge, Thing, Well
from rimcore.well.tests.test_clearance import random_case
from rimcore.wheels.outline import outline
from rimcore.wheels.tyre import parse_tyre
from rimcore.wheels.wheel import parse_wheel

#: flats round the axle; at 330 mm of radius a flat lies 0.003 mm inside the circle
SECTIONS = 720


def mesh_of(outline_mm):
    """The outline turned about the axle, as triangles, with the axle along y and its centre plane at 0."""
    closed = np.vstack([outline_mm, outline_mm[:1]])
    mesh = trimesh.creation.revolve(closed[:, [1, 0]], sections=SECTIONS)
    turned = Rotation.from_euler("x", -90, degrees=True).as_matrix()
    mesh.apply_transform(np.block([[turned, np.zeros((3, 1))], [np.zeros((1, 3)), np.ones((1, 1))]]))
    return mesh


def mesh_gap(mesh, well, points, steer, travel):
    """Signed distance of body points to the mesh standing at a pose; the points are carried, the mesh stays."""
    axis = np.array([-math.tan(math.radians(well.caster_deg)), -math.tan(math.radians(well.kpi_deg)), 1.0])
    turn = Rotation.from_rotvec(math.radians(steer) * axis / np.linalg.norm(axis))
    tilt = Rotation.from_euler("x", -(well.camber_deg + well.camber_gain_deg_per_mm * travel), degrees=True)
    pivot = np.array([0.0, -well.kingpin_inboard_mm, 0.0])
    hub = tilt.inv().apply(turn.inv().apply(points - [0, 0, travel] - pivot) + pivot) - [0, well.centre_mm, 0]
    return -trimesh.proximity.signed_distance(mesh, hub)


class AgainstAMesh(unittest.TestCase):
    def test_the_mesh_is_whole_and_stands_as_the_outline(self):
        shape = outline(parse_wheel("17x8 +40"), parse_tyre("225/45R17")).polygon()
        mesh = mesh_of(shape)
        self.assertTrue(mesh.is_watertight)
        np.testing.assert_allclose(
            mesh.extents, [2 * shape[:, 1].max(), np.ptp(shape[:, 0]), 2 * shape[:, 1].max()], atol=0.01
        )

    def test_gaps_over_random_wheels_poses_and_obstacles(self):
        rng = np.random.default_rng(41)
        for _ in range(6):
            shape, well, things = random_case(rng)
            mesh, cloud = mesh_of(shape), Cloud(well, things)
            for owner, thing in enumerate(things):
                s, t = rng.uniform(-well.steer_in_deg, well.steer_out_deg), rng.uniform(-well.droop_mm, well.bump_mm)
                expected = mesh_gap(mesh, well, thing.points_mm, s, t).min() - thing.radius_mm
                self.assertAlmostEqual(cloud.gap_at(shape, well.centre_mm, owner, s, t), expected, delta=0.1)

    def test_the_smallest_gap_is_there_and_no_pose_has_less(self):
        rng = np.random.default_rng(42)
        for _ in range(4):
            shape, well, things = random_case(rng)
            mesh, found = mesh_of(shape), sweep(shape, well, things, 10.0, 5.0)
            for gap, thing in zip(found.gaps, things, strict=True):
                there = mesh_gap(mesh, well, thing.points_mm, gap.steer_deg, gap.travel_mm).min() - thing.radius_mm
                self.assertAlmostEqual(gap.gap_mm, there, delta=0.1)
                for _ in range(12):
                    s, t = (
                        rng.uniform(-well.steer_in_deg, well.steer_out_deg),
                        rng.uniform(-well.droop_mm, well.bump_mm),
                    )
                    self.assertGreaterEqual(
                        mesh_gap(mesh, well, thing.points_mm, s, t).min() - thing.radius_mm, gap.gap_mm - 0.1
                    )


class OneCloudForAll(unittest.TestCase):
    def test_it_agrees_with_the_sweep(self):
        rng = np.random.default_rng(7)
        for _ in range(25):
            shape, well, things = random_case(rng)
            lows = Cloud(well, things).lows(shape, well.centre_mm)
            for low, gap in zip(lows, sweep(shape, well, things, 10.0, 5.0, contact=False).gaps, strict=True):
                self.assertAlmostEqual(low.gap_mm, gap.gap_mm, delta=0.1 if gap.gap_mm > 0 else 0.3)

    def test_offset_is_a_shift_across(self):
        rng = np.random.default_rng(8)
        shape, well, things = random_case(rng)
        cloud = Cloud(well, things)
        moved = replace(well, centre_mm=well.centre_mm + 6.0)
        for one, other in zip(
            cloud.lows(shape, well.centre_mm + 6.0), Cloud(moved, things).lows(shape, moved.centre_mm), strict=True
        ):
            self.assertAlmostEqual(one.gap_mm, other.gap_mm, places=6)

    def test_over_poses_is_the_sweeps_map(self):
        rng = np.random.default_rng(9)
        shape, well, things = random_case(rng)
        cloud = Cloud(well, things, 13, 9)
        gaps, left = cloud.over_poses(shape, well.centre_mm, np.array([4.0, 9.0, 0.0]))
        for j, t in enumerate(cloud.travel):
            for i, s in enumerate(cloud.steer):
                each = np.array([cloud.gap_at(shape, well.centre_mm, k, s, t) for k in range(3)])
                self.assertAlmostEqual(left[j, i], (each - [4.0, 9.0, 0.0]).min(), delta=2e-4)
                if each.min() < 0:
                    self.assertAlmostEqual(gaps[j, i], each.min(), delta=2e-4)
                else:
                    self.assertGreaterEqual(gaps[j, i], 0.0)


class Arms(unittest.TestCase):
    DISC = np.array([[-100.0, 0.0], [-100.0, 300.0], [100.0, 300.0], [100.0, 0.0]])
    LEVEL = Hinge((-500.0, -100.0), (-100.0, -100.0))

    def test_a_point_at_the_joint_rises_with_the_wheel(self):
        """A level arm's joint keeps its height over the hub to second order: cos of the angle, closed form."""
        arm = Thing("arm", "arm", np.array([[0.0, -100.0, -100.0]]), hinge=self.LEVEL)
        cloud = Cloud(Well(0.0, bump_mm=80.0, droop_mm=80.0), [arm])
        for travel in (-80.0, 0.0, 40.0, 80.0):
            across, radius = cloud.mover.across_and_radius(np.zeros(1), np.array([travel]))
            turn = math.asin(travel / 400.0)
            self.assertAlmostEqual(float(across[0]), -500.0 + 400.0 * math.cos(turn), places=9)
            self.assertAlmostEqual(float(radius[0]), 100.0, places=9)

    def test_a_point_half_way_rises_half(self):
        arm = Thing("arm", "arm", np.array([[0.0, -300.0, -100.0]]), hinge=self.LEVEL)
        found = sweep(self.DISC, Well(0.0, bump_mm=100.0, droop_mm=0.0), [arm], 10.0, 5.0)
        rise = 200.0 * math.sin(math.asin(100.0 / 400.0))
        self.assertAlmostEqual(rise, 50.0)
        # At full bump the point lies 50 mm lower over the hub and a little inboard; the disc's face is flat there.
        self.assertAlmostEqual(found.gaps[0].static_gap_mm, 200.0)
        self.assertAlmostEqual(found.gaps[0].gap_mm, 200.0, places=6)

    def test_an_arm_that_stood_still_would_be_judged_otherwise(self):
        above = np.array([[0.0, 0.0, 330.0]])
        arm = Thing("arm", "arm", above, hinge=Hinge((-400.0, 330.0), (0.0, 330.0)))
        fixed = Thing("fixed", "body", above)
        moving, still = sweep(self.DISC, Well(0.0, bump_mm=60.0, droop_mm=0.0), [arm, fixed], 10.0, 5.0).gaps
        self.assertAlmostEqual(still.gap_mm, -30.0)
        self.assertGreater(moving.gap_mm, 25.0)
