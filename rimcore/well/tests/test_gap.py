"""Readings placed and read again: closed forms at rest, rotations against SciPy."""

import math
import unittest

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy.spatial.transform import Rotation

from rimcore.quantities.errors import BadInput
from rimcore.well.judge.rest_gaps import closest_before_mm
from rimcore.well.read.measured import Reading
from rimcore.well.solid.gap import Station, closest, place_obstacle, read_again
from rimcore.well.solid.polygon import nearest_point, signed_distance
from rimcore.well.solid.pose import Pose
from rimcore.wheels.fitted import Fitted
from rimcore.wheels.outline import outline
from rimcore.wheels.tyre import parse_tyre
from rimcore.wheels.wheel import parse_wheel

TYRE = parse_tyre("205/55R16")
PRESENT = Fitted(parse_wheel("16x7 +42"), TYRE)
STATIONS = [
    (Station("damper", height_mm=250.0), 9.0),
    (Station("damper", height_mm=180.0), 8.0),
    (Station("perch", u_mm=-30.0), 22.0),
    (Station("liner", edge="front", u="inner"), 18.0),
    (Station("liner", edge="rear", u="centre"), 30.0),
    (Station("rail", edge="rear", height_mm=40.0), 25.0),
]


class ReadAgain(unittest.TestCase):
    def test_the_same_wheel_reads_the_same(self):
        for pose in (Pose(), Pose(steer_deg=33, travel_mm=20, kpi_deg=12, caster_deg=4, kingpin_inboard_mm=60)):
            for station, gap in STATIONS:
                with self.subTest(place=station.place, steer=pose.steer_deg):
                    placed = place_obstacle(PRESENT, station, gap, pose)
                    self.assertAlmostEqual(read_again(placed, station, PRESENT, pose).gap_mm, gap, places=6)

    def test_offset_moves_the_inner_gap_one_for_one(self):
        station = Station("damper", height_mm=250.0)
        placed = place_obstacle(PRESENT, station, 9.0)
        for offset in (30, 42, 50):
            moved = read_again(placed, station, Fitted(parse_wheel(f"16x7 +{offset}"), TYRE)).gap_mm
            self.assertAlmostEqual(moved, 9.0 - (offset - 42), places=9)

    def test_spacer_is_an_offset_less(self):
        station = Station("damper", height_mm=250.0)
        placed = place_obstacle(PRESENT, station, 9.0)
        spaced = read_again(placed, station, Fitted(PRESENT.wheel, TYRE, spacer_mm=5)).gap_mm
        self.assertAlmostEqual(spaced, 14.0)

    def test_arch_takes_width_and_diameter(self):
        station = Station("arch", clock=12, side_gap_mm=31.0, up_gap_mm=62.0)
        placed = place_obstacle(PRESENT, station, None)
        new = Fitted(parse_wheel("17x8 +40"), parse_tyre("225/45R17"))
        found = read_again(placed, station, new)
        outward = (new.outline.section_mm - PRESENT.outline.section_mm) / 2 + 2.0
        self.assertAlmostEqual(found.side_gap_mm, 31.0 - outward)
        self.assertAlmostEqual(found.up_gap_mm, 62.0 - (634.3 - 631.9) / 2)

    def test_arch_gap_change_is_the_one_of_swap(self):
        from rimcore.wheels.swap import Corner, swap

        new = Fitted(parse_wheel("16x7 +30"), parse_tyre("225/55R16"))
        placed = place_obstacle(PRESENT, Station("arch", clock=12, side_gap_mm=31.0, up_gap_mm=62.0), None)
        found = read_again(placed, Station("arch"), new)
        moved = swap(Corner(PRESENT.wheel, PRESENT.tyre), Corner(new.wheel, new.tyre))
        self.assertAlmostEqual(found.side_gap_mm - 31.0, moved.arch_side_gap_change_mm)
        self.assertAlmostEqual(found.up_gap_mm - 62.0, moved.arch_up_gap_change_mm)

    def test_lowering_takes_the_arch_gap(self):
        station = Station("arch", clock=12, side_gap_mm=31.0, up_gap_mm=62.0)
        placed = place_obstacle(PRESENT, station, None)
        self.assertAlmostEqual(read_again(placed, station, PRESENT, Pose(travel_mm=20)).up_gap_mm, 42.0)

    @settings(max_examples=100, deadline=None)
    @given(st.floats(0, 30), st.floats(0, 30))
    def test_more_spacer_never_opens_the_arch(self, first, more):
        station = Station("arch", clock=11, side_gap_mm=31.0, up_gap_mm=62.0)
        placed = place_obstacle(PRESENT, station, None)
        near = read_again(placed, station, Fitted(PRESENT.wheel, TYRE, first)).side_gap_mm
        far = read_again(placed, station, Fitted(PRESENT.wheel, TYRE, first + more)).side_gap_mm
        self.assertLessEqual(far, near + 1e-9)


class Frames(unittest.TestCase):
    def test_frames_of_the_places(self):
        frames = {"damper": "knuckle", "perch": "knuckle", "liner": "body", "rail": "body"}
        for station, gap in STATIONS:
            self.assertEqual(place_obstacle(PRESENT, station, gap).frame, frames[station.place])
        loose = place_obstacle(PRESENT, Station("damper", height_mm=250, strut=False), 9.0)
        self.assertEqual(loose.frame, "body")

    def test_clock_angles(self):
        front = place_obstacle(PRESENT, Station("arch", clock=3, side_gap_mm=0, up_gap_mm=10), None).points_mm[0]
        rear = place_obstacle(PRESENT, Station("arch", clock=9, side_gap_mm=0, up_gap_mm=10), None).points_mm[0]
        self.assertAlmostEqual(front[0], TYRE.diameter_mm / 2 + 10)
        self.assertAlmostEqual(rear[0], -front[0])
        self.assertAlmostEqual(front[2], 0.0, places=9)
        with self.assertRaises(BadInput):
            place_obstacle(PRESENT, Station("arch", clock=6, side_gap_mm=0, up_gap_mm=10), None)

    def test_signs_of_camber_and_steer(self):
        top = Pose(camber_deg=-2).to_body(np.array([[0.0, 0.0, 300.0]]))[0]
        self.assertLess(top[1], 0)
        front = Pose(steer_deg=20).to_body(np.array([[300.0, 0.0, 0.0]]))[0]
        self.assertGreater(front[1], 0)
        raised = Pose(travel_mm=15).to_body(np.array([[0.0, 0.0, 0.0]]))[0]
        self.assertEqual(raised[2], 15)

    @settings(max_examples=100, deadline=None)
    @given(
        st.floats(-40, 40), st.floats(-5, 5), st.floats(0, 16), st.floats(-2, 10), st.floats(-80, 80), st.floats(0, 120)
    )
    def test_rotation_against_scipy(self, steer, camber, kpi, caster, travel, kingpin):
        """The stated order (tilt, steer about the kingpin, raise) composed with SciPy's rotations."""
        pose = Pose(camber, steer, travel, kpi, caster, kingpin)
        points = np.array([[10.0, -40.0, 250.0], [300.0, 5.0, -20.0]])
        axis = np.array([-math.tan(math.radians(caster)), -math.tan(math.radians(kpi)), 1.0])
        tilt = Rotation.from_euler("x", -camber, degrees=True)
        turn = Rotation.from_rotvec(math.radians(steer) * axis / np.linalg.norm(axis))
        pivot = np.array([0.0, -kingpin, 0.0])
        expected = turn.apply(tilt.apply(points) - pivot) + pivot + [0, 0, travel]
        np.testing.assert_allclose(pose.to_body(points), expected, atol=1e-9)
        np.testing.assert_allclose(pose.to_hub(pose.to_body(points)), points, atol=1e-9)


class Shape(unittest.TestCase):
    def test_outline_is_symmetrical_and_as_wide_as_stated(self):
        for wheel, tyre in (("17x8 +40", "225/45R17"), ("15x7 +0", "195/65R15"), ("17x9 -12", "35x12.50R17LT")):
            found = outline(parse_wheel(wheel), parse_tyre(tyre))
            polygon = found.polygon()
            self.assertAlmostEqual(polygon[:, 1].max(), parse_tyre(tyre).diameter_mm / 2, delta=0.05)
            self.assertAlmostEqual(polygon[:, 0].max(), found.outermost_mm, delta=0.05)
            self.assertAlmostEqual(polygon[:, 0].min(), -found.outermost_mm, delta=0.05)

    def test_half_width_lies_on_the_polygon(self):
        found = outline(parse_wheel("17x8 +40"), parse_tyre("225/45R17"))
        polygon = found.polygon()
        for radius in np.linspace(found.flange_radius_mm + 3, found.crown_mm - 2, 25):
            point = np.array([[found.half_width_at(radius), radius]])
            self.assertAlmostEqual(signed_distance(polygon, point)[0], 0.0, delta=0.02)

    def test_closest_is_never_more_than_the_rule(self):
        for station, gap in STATIONS:
            if station.height_mm != 180.0:
                placed = place_obstacle(PRESENT, station, gap)
                self.assertLessEqual(closest(placed, PRESENT).distance_mm, gap + 0.1)

    def test_below_the_flange_the_lips_plane_counts(self):
        """A damper read at 180 mm still has to pass the lip at 221 mm: the way to the lip's corner is no gap."""
        station = Station("damper", height_mm=180.0)
        reading = Reading("FL", "damper", station, 8.0, PRESENT, Pose(), 1.0)
        self.assertGreater(closest(place_obstacle(PRESENT, station, 8.0), PRESENT).distance_mm, 12.0)
        self.assertAlmostEqual(closest_before_mm(reading), 8.0, delta=0.02)

    def test_rim_and_tyre_must_agree(self):
        with self.assertRaises(BadInput):
            outline(parse_wheel("17x8 +40"), parse_tyre("225/40R18"))

    def test_above_the_tread_is_refused(self):
        with self.assertRaises(BadInput):
            place_obstacle(PRESENT, Station("damper", height_mm=400.0), 5.0)


class Polygon(unittest.TestCase):
    SQUARE = np.array([[-10.0, 20.0], [10.0, 20.0], [10.0, 40.0], [-10.0, 40.0]])

    def test_closed_form(self):
        points = np.array([[0.0, 30.0], [13.0, 44.0], [0.0, 15.0], [10.0, 30.0]])
        np.testing.assert_allclose(signed_distance(self.SQUARE, points), [-10.0, 5.0, 5.0, 0.0], atol=1e-9)

    def test_first_vertex_may_be_repeated(self):
        closed = np.vstack([self.SQUARE, self.SQUARE[:1]])
        points = np.random.default_rng(1).uniform(-60, 60, (50, 2))
        np.testing.assert_allclose(signed_distance(closed, points), signed_distance(self.SQUARE, points))

    def test_edge_on_the_axis_is_no_surface(self):
        disc = np.array([[-10.0, 0.0], [-10.0, 30.0], [10.0, 30.0], [10.0, 0.0]])
        self.assertAlmostEqual(signed_distance(disc, np.array([[0.0, 1.0]]))[0], -10.0)

    @settings(max_examples=100, deadline=None)
    @given(st.floats(-60, 60), st.floats(0, 80))
    def test_nearest_point_is_as_far_as_the_distance(self, across, radius):
        foot = nearest_point(self.SQUARE, (across, radius))
        distance = abs(signed_distance(self.SQUARE, np.array([[across, radius]]))[0])
        self.assertAlmostEqual(math.hypot(foot[0] - across, foot[1] - radius), distance, places=9)
