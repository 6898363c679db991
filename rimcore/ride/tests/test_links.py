"""The links of a corner against closed forms, another formulation, finite differences and their own lengths.

Sources beside each: plane geometry; `scipy.optimize` on the same constraints with Euler angles; Freudenstein's equation
of a four-bar linkage (any textbook of mechanisms).
"""

import math
import unittest
from dataclasses import replace

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy.optimize import root
from scipy.spatial.transform import Rotation

from rimcore.quantities.errors import BadInput
from rimcore.ride.compiled import _solve
from rimcore.ride.curves import curves, moved_to
from rimcore.ride.links import follow, start
from rimcore.ride.points import LAYOUTS, HardPoints, SpringAt, Wheel, five_points
from rimcore.ride.tests import plain_links

WISHBONE = {
    "upper_front": (120, -330, 190),
    "upper_rear": (-130, -340, 180),
    "upper_joint": (-12, -95, 230),
    "lower_front": (160, -420, -110),
    "lower_rear": (-180, -410, -105),
    "lower_joint": (5, -75, -130),
    "rod_inner": (-130, -390, -70),
    "rod_outer": (-120, -85, -75),
}
STRUT = {
    "strut_top": (-20, -170, 480),
    "strut_knuckle": (-2, -110, 60),
    "lower_front": (40, -380, -110),
    "lower_rear": (-250, -390, -100),
    "lower_joint": (8, -70, -120),
    "rod_inner": (-120, -360, -60),
    "rod_outer": (-125, -80, -70),
}
FIVE = five_points(
    [
        [(180, -400, 150), (40, -100, 170)],
        [(-150, -380, 160), (-50, -105, 180)],
        [(200, -420, -120), (50, -90, -130)],
        [(-220, -430, -110), (-60, -95, -125)],
        [(-120, -410, -20), (-140, -100, -15)],
    ]
)
WHEEL = Wheel(-30.0, 310.0, -1.2, 0.15)


def points(kind, given_points, wheel=WHEEL, spring=None):
    return HardPoints(LAYOUTS[kind], given_points, wheel, spring, 750.0)


EVERY = {"wishbone": WISHBONE, "strut": STRUT, "five_link": FIVE}


def planar(inner_upper, outer_upper, inner_lower, outer_lower, half=150.0):
    """A double wishbone whose arms turn about lines along x: a four-bar linkage seen from ahead."""
    made = {}
    for name, inner, outer in (("upper", inner_upper, outer_upper), ("lower", inner_lower, outer_lower)):
        made |= {f"{name}_front": (half, *inner), f"{name}_rear": (-half, *inner), f"{name}_joint": (0, *outer)}
    return made | {"rod_inner": (-120, *inner_lower), "rod_outer": (-120, *outer_lower)}


class Closed(unittest.TestCase):
    def test_equal_and_parallel_arms_keep_camber(self):
        found = curves(
            points("wishbone", planar((-400, 100), (-100, 100), (-400, -100), (-100, -100))), np.linspace(-120, 120, 13)
        )
        np.testing.assert_allclose(found.camber_deg, WHEEL.camber_deg, atol=1e-9)
        np.testing.assert_allclose(found.track_shift_mm, np.sqrt(300**2 - found.travel_mm**2) - 300, atol=1e-8)
        np.testing.assert_allclose(found.toe_deg, WHEEL.toe_deg, atol=1e-9)

    def test_a_four_bar_turns_as_freudenstein_says(self):
        """a² + b² + d² − c² and so on: angle of the upright from the angle of the lower arm."""
        upper, lower = ((-340, 150), (-110, 190)), ((-420, -110), (-75, -130))
        found = curves(points("wishbone", planar(*upper, *lower), Wheel(0, 300)), np.linspace(-60, 60, 9))
        ground = np.array(upper[0]) - np.array(lower[0])
        d, base = np.hypot(*ground), math.atan2(ground[1], ground[0])
        a = np.hypot(*np.subtract(lower[1], lower[0]))
        b = np.hypot(*np.subtract(upper[1], lower[1]))
        c = np.hypot(*np.subtract(upper[1], upper[0]))
        rest = math.atan2(*np.subtract(upper[1], lower[1])[::-1])
        for place in range(len(found.travel_mm)):
            joint = found.poses.of(np.array([0.0, *lower[1]]))[place]
            theta = math.atan2(joint[2] - lower[0][1], joint[1] - lower[0][0]) - base
            # Loop closure a e^{iθ} + b e^{iφ} = d + c e^{iψ}, ψ eliminated.
            big_a = 2 * a * b * math.cos(theta) - 2 * b * d
            big_b = 2 * a * b * math.sin(theta)
            big_c = a * a + b * b + d * d - c * c - 2 * a * d * math.cos(theta)
            size = math.hypot(big_a, big_b)
            ways = [math.atan2(big_b, big_a) + way * math.acos(-big_c / size) + base for way in (1, -1)]
            turned = min((math.remainder(way - rest, 2 * math.pi) for way in ways), key=abs)
            self.assertAlmostEqual(found.camber_deg[place], -math.degrees(turned), 7)

    def test_a_roll_centre_lies_where_two_lines_cross(self):
        """Instant centre from the arms' lines, then the line from the contact through it to the car's middle."""
        upper, lower = ((-340, 150), (-110, 190)), ((-420, -110), (-75, -130))
        found = curves(points("wishbone", planar(*upper, *lower), Wheel(0, 300)), [0.0])
        (y1, z1), (y2, z2) = upper
        (y3, z3), (y4, z4) = lower
        k1, k2 = (z2 - z1) / (y2 - y1), (z4 - z3) / (y4 - y3)
        across = (z3 - z1 + k1 * y1 - k2 * y3) / (k1 - k2)
        up = z1 + k1 * (across - y1)
        self.assertAlmostEqual(found.roll_centre_mm[0], (up + 300) / (0 - across) * 750, 6)

    def test_a_strut_slides_through_its_top(self):
        found = points("strut", STRUT)
        poses = moved_to(found, np.linspace(-70, 70, 8), (-20, 0, 20))
        low = poses.of(np.array(STRUT["strut_knuckle"], dtype=float))
        along = poses.turn @ (np.array(STRUT["strut_top"]) - STRUT["strut_knuckle"])
        gone = np.array(STRUT["strut_top"]) - low
        np.testing.assert_allclose(np.cross(gone, along) / np.linalg.norm(along, axis=1)[:, None], 0, atol=1e-7)

    def test_over_centre_where_rod_and_arm_are_in_line(self):
        """An upright that turns about a vertical line: arm 100, rod 250, axis to inner joint farther than both.

        Out of reach.
        """
        upright = planar((-400, 100), (0, 100), (-400, -100), (0, -100)) | {
            "rod_inner": (-100, -250, 0),
            "rod_outer": (-100, 0, 0),
        }
        found = points("wishbone", upright, Wheel(0, 300))
        # The inner joint moves along y at x = −100: in line where hypot(100, y) = 350 or 150.
        far, near = math.sqrt(350**2 - 100**2) - 250, 250 - math.sqrt(150**2 - 100**2)
        for rack, reached in ((-far + 1e-5, True), (-far - 1e-5, False), (near - 1e-5, True), (near + 1e-5, False)):
            self.assertEqual(curves(found, [0.0], [rack]).reached[0], reached, rack)
        self.assertLess(curves(found, [0.0], [-far + 1e-5]).toggle_margin_deg[0], 0.1)

    def test_lost_once_is_lost_beyond(self):
        reached = curves(points("wishbone", WISHBONE), [0.0], np.linspace(0, 500, 26)).reached
        self.assertTrue(reached[0])
        self.assertFalse(reached[-1])
        self.assertEqual(list(reached), sorted(reached, reverse=True))


class Another(unittest.TestCase):
    def test_other_equations_and_another_solver_agree(self):
        """Euler angles and plain lengths with scipy's hybrid method, each pose from the one before."""
        for kind in ("wishbone", "five_link"):
            made = points(kind, EVERY[kind])
            outer = np.array([made.points[one] for one, _ in made.layout.links], dtype=float)
            inner = np.array([made.points[other] for _, other in made.layout.links], dtype=float)
            wanted = np.linalg.norm(outer - inner, axis=1)

            def off(x, travel, rack, outer=outer, inner=inner, wanted=wanted):
                here = Rotation.from_euler("xyz", x[3:]).apply(outer) + x[:3]
                at = inner.copy()
                at[-1, 1] += rack
                return np.r_[np.linalg.norm(here - at, axis=1) - wanted, x[2] - travel]

            for travel, rack in ((60.0, 0.0), (-55.0, 0.0), (30.0, 25.0), (-30.0, -25.0)):
                x = np.zeros(6)
                for share in np.linspace(0, 1, 21)[1:]:
                    x = root(off, x, args=(share * travel, share * rack), tol=1e-13).x
                axis = Rotation.from_euler("xyz", x[3:]).apply(WHEEL.axis)
                found = curves(made, [travel], [rack])
                self.assertAlmostEqual(found.camber_deg[0], -math.degrees(math.asin(axis[2])), 7)
                self.assertAlmostEqual(found.toe_deg[0], math.degrees(math.atan2(axis[0], axis[1])), 7)

    def test_derivatives_are_those_of_finite_differences(self):
        for kind, given_points in EVERY.items():
            spring = SpringAt((0, -200, 400), (0, -150, -60), "knuckle" if kind == "five_link" else "lower")
            made = points(kind, given_points, spring=spring)
            for travel, rack in ((0.0, 0.0), (35.0, 12.0), (-40.0, -18.0)):
                step = 1e-3
                found = curves(made, [travel - step, travel, travel + step], [rack])
                for rate, of in ((found.camber_rate, found.camber_deg), (found.toe_rate, found.toe_deg)):
                    self.assertAlmostEqual(rate[1], (of[2] - of[0]) / (2 * step), 6)

    def test_the_motion_ratio_is_how_much_the_spring_shortens(self):
        for kind, on in (
            ("wishbone", "lower"),
            ("wishbone", "upper"),
            ("strut", "lower"),
            ("strut", "knuckle"),
            ("five_link", "knuckle"),
        ):
            body, moving = np.array((0.0, -200.0, 420.0)), np.array((10.0, -180.0, -60.0))
            made = points(kind, EVERY[kind], spring=SpringAt(tuple(body), tuple(moving), on))
            travel = np.array([19.99, 20.0, 20.01])
            found = curves(made, travel)
            if on == "knuckle":
                ends = found.poses.of(moving)
            else:
                front, rear, joint = (made.at(name) for name in made.layout.arms[on])
                ends = []
                for here in found.poses.of(joint):
                    best = min(np.linspace(-0.4, 0.4, 3), key=abs)
                    hinge = (rear - front) / np.linalg.norm(rear - front)
                    best = root(
                        lambda a, here=here, h=hinge, j=joint, f=front: [
                            (Rotation.from_rotvec(a[0] * h).apply(j - f) - (here - f)) @ np.cross(h, here - f)
                        ],
                        [best],
                        tol=1e-14,
                    ).x[0]
                    ends.append(front + Rotation.from_rotvec(best * hinge).apply(moving - front))
            lengths = np.linalg.norm(np.array(ends) - body, axis=1)
            self.assertAlmostEqual(found.motion_ratio[1], -(lengths[2] - lengths[0]) / 0.02, 5, (kind, on))


class Held(unittest.TestCase):
    @settings(max_examples=40, deadline=None, derandomize=True)
    @given(
        st.sampled_from(sorted(EVERY)),
        st.lists(st.floats(-25, 25), min_size=24, max_size=24),
        st.floats(-60, 60),
        st.floats(-40, 40),
    )
    def test_links_keep_their_lengths(self, kind, noise, travel, rack):
        shift = iter(np.array(noise + noise).reshape(-1, 3))
        moved = {name: tuple(np.array(point) + next(shift)) for name, point in EVERY[kind].items()}
        try:
            made = points(kind, moved)
        except BadInput:
            return
        poses = moved_to(made, [travel], [rack])
        if not poses.reached[0]:
            return
        for k, (outer, inner) in enumerate(made.layout.links):
            at = made.at(inner) + (np.array([0, rack, 0]) if k == len(made.layout.links) - 1 else 0)
            self.assertAlmostEqual(
                np.linalg.norm(poses.of(made.at(outer))[0] - at), np.linalg.norm(made.at(outer) - made.at(inner)), 6
            )
        self.assertAlmostEqual(poses.at[0, 2], travel, 6)
        np.testing.assert_allclose(poses.turn[0] @ poses.turn[0].T, np.eye(3), atol=1e-9)

    def test_each_alone_as_all_together(self):
        made = points("strut", STRUT)
        grid = curves(made, (-40, -10, 0, 25, 60), (-30, 0, 15))
        for place, (travel, rack) in enumerate(zip(grid.travel_mm, grid.rack_mm, strict=True)):
            one = curves(made, [travel], [rack])
            for name in (
                "camber_deg",
                "toe_deg",
                "caster_deg",
                "kpi_deg",
                "scrub_radius_mm",
                "trail_mm",
                "roll_centre_mm",
                "toggle_margin_deg",
            ):
                self.assertAlmostEqual(getattr(one, name)[0], getattr(grid, name)[place], 6, name)


class Refused(unittest.TestCase):
    def test_points_that_hold_nothing(self):
        for change, words in (
            ({"rod_outer": WISHBONE["rod_inner"]}, "one point"),
            ({"lower_joint": (160 + 340, -420 - 10, -110 - 5)}, "in line"),
            ({"rod_outer": (-12, -95, 230)}, "steering axis"),
            ({"upper_rear": WISHBONE["upper_front"]}, "one point"),
        ):
            with self.assertRaises(BadInput, msg=str(change)) as caught:
                points("wishbone", WISHBONE | change)
            self.assertEqual(caught.exception.field, "points_mm")
            self.assertIn(words, caught.exception.message)

    def test_links_that_do_the_same_work(self):
        twice = dict(FIVE) | {"link_2_inner": FIVE["link_1_inner"], "link_2_outer": FIVE["link_1_outer"]}
        with self.assertRaises(BadInput):
            points("five_link", twice)

    def test_a_spring_on_no_member(self):
        with self.assertRaises(BadInput) as caught:
            points("strut", STRUT, spring=SpringAt((0, 0, 300), (0, 0, 0), "upper"))
        self.assertEqual(caught.exception.field, "spring.on")
        self.assertIn("lower, knuckle", caught.exception.message)


class Compiled(unittest.TestCase):
    """What is compiled against its plain twin: the same poses, reached as far, on corners drawn at random."""

    @settings(max_examples=25, derandomize=True)
    @given(st.sampled_from(sorted(EVERY)), st.integers(0, 10**6), st.booleans())
    def test_the_same_way_as_many_abreast(self, kind, seed, of_rack):
        chance = np.random.default_rng(seed)
        shaken = {name: np.array(at, float) + chance.normal(0.0, 12.0, 3) for name, at in EVERY[kind].items()}
        corner = points(kind, {name: tuple(at) for name, at in shaken.items()}).corner
        to = np.stack([np.linspace(0.0, chance.uniform(40, 160), 9), np.linspace(0.0, -chance.uniform(40, 160), 9)])
        still = np.zeros(2)
        found, came = follow(corner, start(2), still.copy(), still.copy(), to, of_rack)
        plain, plain_came = plain_links.follow(corner, start(2), still.copy(), still.copy(), to, of_rack)
        np.testing.assert_array_equal(found.reached, plain.reached)
        np.testing.assert_allclose(came, plain_came, atol=1e-5)
        both = found.reached
        self.assertTrue(both.any())
        np.testing.assert_allclose(found.at[both], plain.at[both], atol=1e-6)
        np.testing.assert_allclose(found.turn[both], plain.turn[both], atol=1e-8)

    def test_what_does_not_stand_is_not_followed(self):
        corner = points("strut", STRUT).corner
        nowhere = replace(start(1), reached=np.array([False]))
        found, came = follow(corner, nowhere, np.zeros(1), np.zeros(1), np.array([[10.0]]), False)
        self.assertEqual((found.reached.tolist(), came.tolist()), ([False], [0.0]))

    def test_an_elimination_is_that_of_lapack(self):
        chance, work, found = np.random.default_rng(4), np.zeros((6, 6)), np.zeros(6)
        for _ in range(50):
            matrix, right = chance.normal(size=(6, 6)), chance.normal(size=6)
            whole = _solve(matrix, right, found, work)
            np.testing.assert_allclose(found, np.linalg.solve(matrix, right), rtol=1e-9)
            self.assertAlmostEqual(whole, np.linalg.det(matrix), delta=1e-9 * max(1.0, abs(whole)))
        flat = np.ones((6, 6))
        self.assertEqual((_solve(flat, np.ones(6), found, work), found.tolist()), (0.0, [0.0] * 6))
