"""Distances to an outline and the table made of them, against Shapely (a reference library)."""

import math
import unittest

import numpy as np
import shapely
from hypothesis import given, settings
from hypothesis import strategies as st

from rimcore.well.solid.polygon import nearest_point, signed_distance
from rimcore.well.solid.table import ROUGH_ERROR_MM, TABLE_BAND_MM, TABLE_ERROR_MM, Shape
from rimcore.wheels.outline import outline
from rimcore.wheels.tyre import parse_tyre
from rimcore.wheels.wheel import parse_wheel


def star(rng, corners):
    """A ring of corners round a middle at random radii: not convex, and it does not cross itself."""
    angles = np.sort(rng.uniform(0, 2 * math.pi, corners))
    angles = angles[np.append(np.diff(angles) > 1e-3, True)]
    radii = rng.uniform(30, 120, len(angles))
    return np.column_stack([rng.uniform(-40, 40) + radii * np.cos(angles), 250 + radii * np.sin(angles)])


def expected(outline_mm, points):
    ring, area = shapely.LinearRing(outline_mm), shapely.Polygon(outline_mm)
    spots = shapely.points(points)
    return np.where(shapely.contains(area, spots), -1.0, 1.0) * shapely.distance(ring, spots)


class Distances(unittest.TestCase):
    @settings(max_examples=200, deadline=None, derandomize=True)
    @given(st.integers(0, 2**32 - 1), st.integers(4, 60))
    def test_signed_distance_to_any_outline(self, seed, corners):
        """Near and far, in the box round the outline and out of it."""
        rng = np.random.default_rng(seed)
        ring = star(rng, corners)
        if not shapely.Polygon(ring).is_valid or len(ring) < 3:
            return
        points = np.vstack(
            [rng.uniform([-200, 100], [200, 420], (60, 2)), rng.uniform([-900, 0], [900, 1200], (20, 2))]
        )
        np.testing.assert_allclose(signed_distance(ring, points), expected(ring, points), atol=2e-4)

    def test_many_points_are_answered_as_few(self):
        rng = np.random.default_rng(5)
        ring, points = star(rng, 40), rng.uniform([-300, 0], [300, 500], (4000, 2))
        whole = signed_distance(ring, points)
        np.testing.assert_allclose(whole, expected(ring, points), atol=2e-4)
        np.testing.assert_allclose(whole[100:110], signed_distance(ring, points[100:110]), atol=2e-4)

    def test_nearest_point_lies_on_the_outline_at_the_distance(self):
        rng = np.random.default_rng(6)
        ring = star(rng, 30)
        for point in rng.uniform([-250, 50], [250, 450], (40, 2)):
            foot = nearest_point(ring, tuple(point))
            self.assertAlmostEqual(shapely.distance(shapely.LinearRing(ring), shapely.Point(foot)), 0.0, places=7)
            self.assertAlmostEqual(math.dist(foot, point), abs(expected(ring, point[None])[0]), places=7)


class Tables(unittest.TestCase):
    """The table that the sweep reads is as right as it says."""

    def check(self, ring, seed):
        shape, rng = Shape(ring), np.random.default_rng(seed)
        points = rng.uniform(ring.min(axis=0) - 140, ring.max(axis=0) + 140, (3000, 2))
        points = points[points[:, 1] > 1.0]
        true = expected(ring, points)
        near = abs(true) < TABLE_BAND_MM - 3.0
        between, rough = shape.about(points[:, 0], points[:, 1]), shape.roughly(points[:, 0], points[:, 1])
        self.assertLess(abs(between - true)[near].max(), TABLE_ERROR_MM)
        self.assertLess(abs(rough - true)[near].max(), ROUGH_ERROR_MM + 1e-3)
        outside = true > TABLE_BAND_MM
        self.assertLess(abs(between - true)[outside].max(), 1.0, "beyond the band, outside, it is smooth")
        np.testing.assert_allclose(shape.distance(points[:, 0], points[:, 1]), true, atol=2e-4)

    def test_of_tyres(self):
        for seed, (wheel, tyre) in enumerate(
            (("17x8 +40", "225/45R17"), ("15x7 -6", "235/75R15"), ("18x10 +20", "295/35R18"))
        ):
            self.check(outline(parse_wheel(wheel), parse_tyre(tyre)).polygon(), seed)

    def test_of_a_block(self):
        self.check(np.array([[-100.0, 200.0], [-100.0, 310.0], [100.0, 310.0], [100.0, 200.0]]), 9)
