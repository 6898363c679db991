"""The sweep against an independent reference.

The reference carries the wheel forward into the car (SciPy's rotations), measures every point along and
away from the axle there, and takes the distance to the half section from Shapely: other transforms, the other
way round, and another library's distances. Dense poses, then SciPy's Nelder-Mead from the best of them.
"""

import math
import unittest

import numpy as np
import shapely
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy.optimize import minimize
from scipy.spatial.transform import Rotation

from rimcore.quantities.errors import BadInput
from rimcore.well.judge.clearance import sweep
from rimcore.well.judge.window import offset_window
from rimcore.well.solid.gap import Station, place_obstacle
from rimcore.well.solid.pose import Pose
from rimcore.well.solid.wheel_plane import Thing, Well
from rimcore.wheels.fitted import Fitted
from rimcore.wheels.outline import outline
from rimcore.wheels.section import check_outline
from rimcore.wheels.tyre import parse_tyre
from rimcore.wheels.wheel import parse_wheel


def reference(outline_mm, well, points, steer, travel):
    """Signed distances, shape (poses, points), by carrying the wheel forward."""
    section = shapely.Polygon(outline_mm)
    surface = shapely.MultiLineString(
        [[a, b] for a, b in zip(outline_mm, np.roll(outline_mm, -1, axis=0), strict=True) if max(a[1], b[1]) > 1e-9]
    )
    axis = np.array([-math.tan(math.radians(well.caster_deg)), -math.tan(math.radians(well.kpi_deg)), 1.0])
    turn = Rotation.from_rotvec(np.radians(steer)[:, None] * axis / np.linalg.norm(axis))
    tilt = Rotation.from_euler("x", -(well.camber_deg + well.camber_gain_deg_per_mm * travel)[:, None], degrees=True)
    pivot = np.array([0.0, -well.kingpin_inboard_mm, 0.0])
    along = turn.apply(tilt.apply(np.array([0.0, 1.0, 0.0])))
    centre = turn.apply(tilt.apply(np.array([0.0, well.centre_mm, 0.0])) - pivot) + pivot + travel[:, None] * [0, 0, 1]
    away = points[None, :, :] - centre[:, None, :]
    across = (away * along[:, None, :]).sum(axis=2)
    radius = np.linalg.norm(away - across[:, :, None] * along[:, None, :], axis=2)
    spots = shapely.points(across, radius)
    return np.where(shapely.contains(section, spots), -1.0, 1.0) * shapely.distance(surface, spots)


def reference_minimum(outline_mm, well, thing):
    """Smallest gap over the continuous range."""
    steer, travel = (
        np.linspace(-well.steer_in_deg, well.steer_out_deg, 81),
        np.linspace(-well.droop_mm, well.bump_mm, 61),
    )
    s, t = (grid.ravel() for grid in np.meshgrid(steer, travel))
    gaps = reference(outline_mm, well, thing.points_mm, s, t)
    best = gaps.min()
    for point in range(gaps.shape[1]):
        k = int(gaps[:, point].argmin())
        if gaps[k, point] > best + 8.0:
            continue

        def gap(pose, point=point):
            at_s = np.clip(pose[0], -well.steer_in_deg, well.steer_out_deg)
            at_t = np.clip(pose[1], -well.droop_mm, well.bump_mm)
            return float(
                reference(outline_mm, well, thing.points_mm[[point]], np.array([at_s]), np.array([at_t]))[0, 0]
            )

        found = minimize(
            gap, [s[k], t[k]], method="Nelder-Mead", options={"xatol": 1e-3, "fatol": 1e-4, "maxiter": 120}
        )
        best = min(best, found.fun)
    return best - thing.radius_mm


def random_case(rng):
    wheel = parse_wheel(f"17x{rng.choice([7, 7.5, 8, 9])} {rng.integers(15, 55):+d}")
    tyre = parse_tyre(str(rng.choice(["225/45R17", "205/50R17", "245/40R17"])))
    shape = outline(wheel, tyre).polygon()
    well = Well(
        centre_mm=rng.uniform(0, 10) - wheel.offset_mm,
        camber_deg=rng.uniform(-3, 1),
        camber_gain_deg_per_mm=rng.uniform(-0.03, 0.005),
        bump_mm=rng.uniform(20, 80),
        droop_mm=rng.uniform(20, 80),
        ride_drop_mm=rng.uniform(-10, 20),
        steer_out_deg=rng.uniform(20, 40),
        steer_in_deg=rng.uniform(20, 40),
        kpi_deg=rng.uniform(0, 15),
        caster_deg=rng.uniform(0, 9),
        kingpin_inboard_mm=rng.uniform(20, 110),
    )
    things = []
    for name in ("a", "b", "c"):
        angle, radius = rng.uniform(-2.0, 2.0), rng.uniform(335, 400)
        base = np.array(
            [radius * math.sin(angle), rng.uniform(-190, 110), radius * math.cos(angle) + rng.uniform(0, 60)]
        )
        things.append(Thing(name, "body", base + rng.uniform(-15, 15, (4, 3)), float(rng.uniform(0, 6))))
    return shape, well, things


class AgainstTheReference(unittest.TestCase):
    def test_minimum_within_a_tenth_of_a_millimetre(self):
        rng = np.random.default_rng(20261125)
        for case in range(12):
            shape, well, things = random_case(rng)
            found = sweep(shape, well, things, 10.0, 5.0)
            for gap, thing in zip(found.gaps, things, strict=True):
                with self.subTest(case=case, thing=thing.name):
                    self.assertAlmostEqual(gap.gap_mm, reference_minimum(shape, well, thing), delta=0.1)

    def test_far_obstacles_too(self):
        """Beyond the reach of the table nothing is guessed."""
        rng = np.random.default_rng(23)
        for _ in range(6):
            shape, well, _ = random_case(rng)
            far = []
            for k in range(4):
                angle, radius = rng.uniform(-math.pi, math.pi), rng.uniform(430, 640)
                base = np.array([radius * math.sin(angle), rng.uniform(-380, 260), radius * math.cos(angle)])
                far.append(Thing(str(k), "body", base + rng.uniform(-20, 20, (3, 3))))
            for gap, thing in zip(sweep(shape, well, far, 10.0, 5.0).gaps, far, strict=True):
                self.assertAlmostEqual(gap.gap_mm, reference_minimum(shape, well, thing), delta=0.1)

    def test_map_and_static_gap(self):
        rng = np.random.default_rng(5)
        for _ in range(6):
            shape, well, things = random_case(rng)
            found = sweep(shape, well, things, 10.0, 5.0, 13, 9)
            s, t = (grid.ravel() for grid in np.meshgrid(found.steer_deg, found.travel_mm))
            expected = np.min(
                [reference(shape, well, one.points_mm, s, t).min(axis=1) - one.radius_mm for one in things], axis=0
            )
            np.testing.assert_allclose(found.map_mm.ravel(), expected, atol=2e-4)
            for gap, one in zip(found.gaps, things, strict=True):
                at_rest = (
                    reference(shape, well, one.points_mm, np.zeros(1), np.array([well.ride_drop_mm])).min()
                    - one.radius_mm
                )
                self.assertAlmostEqual(gap.static_gap_mm, at_rest, delta=2e-4)

    def test_coarse_grid_finds_the_same_minimum(self):
        rng = np.random.default_rng(11)
        for _ in range(8):
            shape, well, things = random_case(rng)
            fine, coarse = sweep(shape, well, things, 10.0, 5.0), sweep(shape, well, things, 10.0, 5.0, 15, 9)
            for a, b in zip(fine.gaps, coarse.gaps, strict=True):
                self.assertAlmostEqual(a.gap_mm, b.gap_mm, delta=0.1)

    def test_a_map_of_one_or_two_values_does_not_hide_the_minimum(self):
        rng = np.random.default_rng(29)
        for steer, travel in ((1, 1), (2, 1), (1, 2), (3, 2)):
            shape, well, things = random_case(rng)
            found = sweep(shape, well, things, 10.0, 5.0, steer, travel)
            self.assertEqual(found.map_mm.shape, (travel, steer))
            for gap, thing in zip(found.gaps, things, strict=True):
                self.assertAlmostEqual(gap.gap_mm, reference_minimum(shape, well, thing), delta=0.1)

    def test_contact_free_steer(self):
        rng = np.random.default_rng(17)
        met = 0
        for _ in range(8):
            shape, well, things = random_case(rng)
            found = sweep(shape, well, things, 10.0, 5.0, 31, 7)
            for row, travel in enumerate(found.travel_mm):
                for way, limit, said in (
                    (1, well.steer_out_deg, found.free_out_deg[row]),
                    (-1, well.steer_in_deg, found.free_in_deg[row]),
                ):
                    steps = np.linspace(0, limit, 401)
                    gaps = np.min(
                        [
                            reference(shape, well, o.points_mm, way * steps, np.full(401, travel)).min(axis=1)
                            - o.radius_mm
                            for o in things
                        ],
                        axis=0,
                    )
                    touching = np.nonzero(gaps < 0)[0]
                    expected = limit if not len(touching) else steps[max(0, touching[0] - 1)]
                    met += bool(len(touching)) and 0 < expected < limit
                    self.assertAlmostEqual(said, expected, delta=limit / 400 + 0.02)
        self.assertGreater(met, 3)

    @settings(max_examples=1000, deadline=None, derandomize=True)
    @given(st.integers(0, 2**32 - 1))
    def test_clear_never_overlaps(self, seed):
        rng = np.random.default_rng(seed)
        shape, well, things = random_case(rng)
        found = sweep(shape, well, things, 10.0, 5.0, 21, 13, contact=False)
        s = rng.uniform(-well.steer_in_deg, well.steer_out_deg, 120)
        t = rng.uniform(-well.droop_mm, well.bump_mm, 120)
        for gap, thing in zip(found.gaps, things, strict=True):
            least = reference(shape, well, thing.points_mm, s, t).min() - thing.radius_mm
            # Deep inside the tyre the way out has creases; there the depth is told to a millimetre.
            self.assertGreaterEqual(least, gap.gap_mm - (0.1 if gap.gap_mm > 0 else 1.0))
            if gap.state == "clear":
                self.assertGreater(least, 0.0)


DISC = np.array([[-100.0, 0.0], [-100.0, 300.0], [100.0, 300.0], [100.0, 0.0]])


class ClosedForms(unittest.TestCase):
    def one(self, point, well=None, radius=0.0, frame="body"):
        return sweep(
            DISC, well or Well(0.0), [Thing("x", frame, np.array([point], dtype=float), radius)], 10.0, 5.0, 5, 5
        ).gaps[0]

    def test_at_rest(self):
        self.assertAlmostEqual(self.one([0, 0, 330]).gap_mm, 30.0)
        self.assertAlmostEqual(self.one([0, 130, 340]).gap_mm, 50.0)
        self.assertAlmostEqual(self.one([0, -104, 200], radius=1.5).gap_mm, 2.5)
        self.assertAlmostEqual(self.one([0, 0, 290]).gap_mm, -10.0)

    def test_bump_takes_the_gap_above(self):
        found = self.one([0, 0, 360], Well(0.0, bump_mm=40, droop_mm=30))
        self.assertAlmostEqual(found.gap_mm, 20.0)
        self.assertAlmostEqual(found.travel_mm, 40.0)

    def test_steer_about_a_vertical_axis_through_the_centre(self):
        """A point straight ahead at distance d meets the disc's corner at the angle whose tangent is 100/300."""
        well = Well(0.0, steer_out_deg=40, steer_in_deg=40)
        found = self.one([330.0, 0, 0], well)
        self.assertAlmostEqual(found.gap_mm, 330 - math.hypot(300, 100), places=3)
        self.assertAlmostEqual(abs(found.steer_deg), math.degrees(math.atan2(100, 300)), delta=0.2)

    def test_contact_free_angle_in_closed_form(self):
        """The disc's face (y = 100) turns towards a point at (0, 120).

        It touches where 100/cos = 120 … beyond the edge never.
        """
        well = Well(0.0, steer_out_deg=60, steer_in_deg=60)
        swept = sweep(DISC, well, [Thing("x", "body", np.array([[200.0, 120.0, 0.0]]))], 10.0, 5.0, 61, 1)
        expected = math.degrees(math.asin(120 / math.hypot(200, 120)) - math.asin(100 / math.hypot(200, 120)))
        self.assertAlmostEqual(
            swept.free_in_deg[0] if expected < 0 else min(swept.free_out_deg[0], swept.free_in_deg[0]),
            abs(expected),
            delta=0.02,
        )

    def test_knuckle_rides_along(self):
        still, moving = (
            Well(-40.0),
            Well(
                centre_mm=-40.0,
                camber_deg=-2.0,
                camber_gain_deg_per_mm=-0.02,
                bump_mm=80,
                droop_mm=60,
                ride_drop_mm=15,
                steer_out_deg=38,
                steer_in_deg=35,
                kpi_deg=12,
                caster_deg=6,
                kingpin_inboard_mm=70,
            ),
        )
        point = [0.0, -160.0, 250.0]
        self.assertEqual(
            self.one(point, still, frame="knuckle").gap_mm, self.one(point, moving, frame="knuckle").gap_mm
        )

    def test_left_and_right_are_mirrored_by_the_frame(self):
        """Front and rear mirror each other when there is no caster.

        Steer out meets ahead what steer in meets behind.
        """
        well = Well(
            centre_mm=-30.0,
            camber_deg=-1.0,
            camber_gain_deg_per_mm=0.0,
            bump_mm=30,
            droop_mm=30,
            ride_drop_mm=0,
            steer_out_deg=35,
            steer_in_deg=35,
            kpi_deg=0,
            caster_deg=0,
            kingpin_inboard_mm=60,
        )
        ahead, behind = self.one([310.0, -90.0, 40.0], well), self.one([-310.0, -90.0, 40.0], well)
        self.assertAlmostEqual(ahead.gap_mm, behind.gap_mm, places=2)
        self.assertAlmostEqual(ahead.steer_deg, -behind.steer_deg, delta=0.5)

    @settings(max_examples=60, deadline=None)
    @given(st.floats(0, 25), st.floats(0, 25))
    def test_more_spacer_never_opens_the_lip(self, first, more):
        shape = outline(parse_wheel("17x8 +40"), parse_tyre("225/45R17")).polygon()
        lip = [Thing("lip", "body", np.array([[0.0, 110.0, 330.0], [60.0, 110.0, 320.0]]))]
        near, far = (
            sweep(shape, Well(spacer - 40, bump_mm=60, droop_mm=40), lip, 10.0, 5.0, 1, 9).gaps[0].gap_mm
            for spacer in (first, first + more)
        )
        self.assertLessEqual(far, near + 1e-6)

    def test_a_reading_placed_and_swept_is_the_reading(self):
        """The station's obstacle, swept with no range, has the gap that was read at the widest point."""
        fitted = Fitted(parse_wheel("17x8 +40"), parse_tyre("225/45R17"))
        height = fitted.outline.widest_radius_mm
        placed = place_obstacle(fitted, Station("damper", height_mm=height, strut=False), 9.0, Pose())
        found = sweep(
            fitted.outline.polygon(), Well(fitted.centre_mm), [Thing("d", "body", placed.points_mm)], 10.0, 5.0, 1, 1
        )
        self.assertAlmostEqual(found.gaps[0].gap_mm, 9.0, delta=0.05)


class Windows(unittest.TestCase):
    def test_ends_are_where_the_sweep_says(self):
        rng = np.random.default_rng(3)
        shape = outline(parse_wheel("17x8 +40"), parse_tyre("225/45R17")).polygon()
        checked = 0
        for _ in range(4):
            well = Well(
                centre_mm=0.0,
                camber_deg=-1.0,
                camber_gain_deg_per_mm=-0.01,
                bump_mm=50,
                droop_mm=40,
                ride_drop_mm=0,
                steer_out_deg=30,
                steer_in_deg=30,
                kpi_deg=10,
                caster_deg=4,
                kingpin_inboard_mm=70,
            )
            things = [
                Thing("lip", "body", np.array([[0.0, rng.uniform(85, 110), rng.uniform(372, 392)]])),
                Thing("strut", "knuckle", np.array([[0.0, rng.uniform(-175, -160), 265.0]])),
            ]
            found = offset_window(
                outline_mm=shape,
                well=well,
                things=things,
                spacer_mm=0.0,
                low_mm=0.0,
                high_mm=60.0,
                body_margin_mm=10.0,
                knuckle_margin_mm=5.0,
                steer_count=15,
                travel_count=9,
            )

            def least(offset, well=well, things=things):
                moved = Well(-offset, *[getattr(well, n) for n in list(Well.__dataclass_fields__)[1:]])
                return min(g.gap_mm for g in sweep(shape, moved, things, 10.0, 5.0, 15, 9, contact=False).gaps)

            if found.no_contact is None:
                self.assertTrue(all(least(o) < 0.1 for o in range(0, 61, 5)))
                continue
            for end, way, why in (
                (found.no_contact[0], -1, found.low_limited_by),
                (found.no_contact[1], 1, found.high_limited_by),
            ):
                self.assertGreaterEqual(least(end), -0.05)
                if why != "range":
                    self.assertLess(least(end + way * 0.1), 0.0)
                    checked += 1
            best = max(np.arange(0, 60.1, 2.0), key=least)
            self.assertTrue(found.no_contact[0] <= best <= found.no_contact[1] or least(best) < 0)
        self.assertGreater(checked, 3)


class Outlines(unittest.TestCase):
    def test_refused(self):
        for points in (
            [[0, 1], [1, 1]],
            [[0, 10], [10, 20], [10, 10], [0, 20]],
            [[0, 1], [1, -1], [2, 3]],
            [[0, 1], [1, 1], [2, 1]],
        ):
            with self.assertRaises(BadInput):
                check_outline(points)

    def test_empty(self):
        with self.assertRaises(BadInput):
            sweep(DISC, Well(0.0), [], 10.0, 5.0)
