"""Rack, sweep, alignment and square frame against algebra, another model and facts of practice.

Sources beside each: plane geometry; vectors of a Cardan joint in space; facts marked common practice.
"""

import math
import unittest
from dataclasses import replace

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy.spatial.transform import Rotation

from rimcore.fastening.threads import parse_thread
from rimcore.quantities.errors import BadInput
from rimcore.registry import CALCULATIONS
from rimcore.ride.curves import curves
from rimcore.ride.points import LAYOUTS, HardPoints, Wheel
from rimcore.ride.tests.test_links import FIVE, STRUT, WISHBONE, planar
from rimcore.steering.axis import caster_from_sweep_deg
from rimcore.steering.rack import (
    Axle,
    ackermann_pct,
    centring,
    engagement,
    joint_angle,
    kingpin_inboard_mm,
    kingpin_track_mm,
    most_steer_deg,
    rod,
    shaft_ratio,
    steered,
    toggle,
    turning_circle_m,
    turns_from_lock,
)
from rimcore.steering.schools import judge_off
from rimcore.steering.setting import Frame, camber_steered_deg, exact_axis_deg, squareness, thrust_deg, toe_deg, toe_mm
from rimcore.steering.turns import adjusted


def upright(rod_x=-100.0, inner_y=-250.0):
    """A wheel that turns about a vertical line through its hub face; the rod lies in the same plane."""
    made = planar((-400, 100), (0, 100), (-400, -100), (0, -100)) | {
        "rod_inner": (rod_x, inner_y, 0),
        "rod_outer": (-100, 0, 0),
    }
    return HardPoints(LAYOUTS["wishbone"], made, Wheel(0, 300))


class Rack(unittest.TestCase):
    def test_both_wheels_as_their_triangles_say(self):
        """Arm 100 and rod 250 in one plane: the steer from the triangle of axis, inner and outer joint."""
        found = steered(Axle(upright(), upright(), 2600, 1400), [-40.0, 25.0])
        for place, rack in enumerate((-40.0, 25.0)):
            for side, own in ((found.left, rack), (found.right, -rack)):
                inner = np.array([-100.0, -250 + own])
                apart = np.hypot(*inner)
                arm = math.acos((100**2 + apart**2 - 250**2) / (2 * 100 * apart))
                heading = math.atan2(inner[1], inner[0])
                outer = [heading + way * arm for way in (1, -1)]
                # The arm points straight back at rest: its turn is the steer, front edge outboard when it swings
                # inboard.
                turned = min((math.remainder(one - math.pi, 2 * math.pi) for one in outer), key=abs)
                self.assertAlmostEqual(side.steer_deg[place], math.degrees(turned), 6)

    def test_over_centre_comes_where_algebra_says_for_whichever_wheel_is_first(self):
        far, near = math.sqrt(350**2 - 100**2) - 250, 250 - math.sqrt(150**2 - 100**2)
        same = steered(Axle(upright(), upright(), 2600, 1400), [0.0])
        self.assertAlmostEqual(same.to_left_mm, min(far, near), 5)
        self.assertAlmostEqual(same.to_right_mm, min(far, near), 5)
        other = upright(inner_y=-270.0)
        mixed = steered(Axle(upright(), other, 2600, 1400), [0.0])
        length = math.hypot(0, 270)
        of_other = math.sqrt((length + 100) ** 2 - 100**2) - 270, 270 - math.sqrt((length - 100) ** 2 - 100**2)
        self.assertAlmostEqual(mixed.to_left_mm, min(near, of_other[0]), 5)
        self.assertAlmostEqual(mixed.to_right_mm, min(far, of_other[1]), 5)

    def test_moving_the_rack_forward_takes_it_off_over_centre(self):
        """Common practice: a rear rack is moved forward (26 to 36 mm) where the wheel sticks at full lock."""
        rear = HardPoints(LAYOUTS["wishbone"], WISHBONE | {"rod_inner": (-165, -390, -70)}, Wheel(-30, 310))
        before = steered(Axle(rear, rear, 2600, 1400), [0.0])
        forward = rear.racked(36.0, 0.0)
        after = steered(Axle(forward, forward, 2600, 1400), [0.0])
        self.assertGreater(after.to_left_mm, before.to_left_mm)

    def test_layouts_may_differ_left_and_right(self):
        one, other = HardPoints(LAYOUTS["strut"], STRUT, Wheel(-30, 310)), upright()
        found = steered(Axle(one, other, 2600, 1400), [-10.0, 10.0])
        alone = curves(other, [0.0], [10.0, -10.0])
        np.testing.assert_allclose(found.right.steer_deg, alone.steer_deg, atol=1e-9)

    def test_a_held_height_moves_both(self):
        points = HardPoints(LAYOUTS["strut"], STRUT, Wheel(-30, 310))
        found = steered(Axle(points, points, 2600, 1400), [15.0], 25.0)
        self.assertAlmostEqual(found.left.steer_deg[0], curves(points, [25.0], [15.0]).steer_deg[0], 7)

    def test_true_rolling(self):
        """Both wheels' axles meet on the rear axle's line (plane geometry)."""
        centre = 4000.0
        inside, outside = math.degrees(math.atan2(2600, centre - 700)), math.degrees(math.atan2(2600, centre + 700))
        self.assertAlmostEqual(float(ackermann_pct(np.array([inside]), np.array([outside]), 1400, 2600)[0]), 100.0, 9)
        self.assertAlmostEqual(float(ackermann_pct(np.array([outside]), np.array([outside]), 1400, 2600)[0]), 0.0, 9)

    def test_the_angle_between_rod_and_arm_is_judged(self):
        axle = Axle(upright(), upright(), 2600, 1400)
        far = min(steered(axle, [0.0]).to_left_mm, steered(axle, [0.0]).to_right_mm)
        self.assertEqual(toggle(steered(axle, [0.0, 20.0])).state, "clear")
        self.assertEqual(toggle(steered(axle, [0.0, far - 0.5])).state, "tight")
        self.assertEqual(toggle(steered(axle, [0.0, far + 0.5])).state, "hit")
        five = HardPoints(LAYOUTS["five_link"], FIVE, Wheel(-30, 310))
        self.assertEqual(toggle(steered(Axle(five, five, 2600, 1400), [0.0])).state, "unmeasured")

    def test_most_steer_each_way_where_the_sides_differ(self):
        """The left rod shorter: to the left it is the right wheel that swings in, so the two ways differ.

        Each is the largest of its own half.
        """
        axle = Axle(upright(inner_y=-230.0), upright(), 2600, 1400)
        found = steered(axle, np.linspace(-50, 50, 21).tolist())
        for way in (1, -1):
            rows = [k for k, rack in enumerate(found.rack_mm) if rack * way >= 0 and np.isfinite(found.inside_deg[k])]
            self.assertAlmostEqual(most_steer_deg(found, way), max(found.inside_deg[k] for k in rows))
        self.assertNotAlmostEqual(most_steer_deg(found, 1), most_steer_deg(found, -1), places=2)
        self.assertIsNone(most_steer_deg(steered(axle, [0.0]), 1))

    def test_kingpins_apart_are_the_faces_less_what_lies_inboard(self):
        """A strut whose axis passes 88 mm inboard of the face: 2 × (740 − 88) between the axes."""
        strut = HardPoints(LAYOUTS["strut"], STRUT, Wheel(0, 300))
        inboard = kingpin_inboard_mm(strut)
        self.assertGreater(inboard, 20)
        self.assertAlmostEqual(kingpin_track_mm(strut, strut, 740.0), 2 * (740.0 - inboard))
        wider = replace(strut, half_track_mm=760.0)
        self.assertAlmostEqual(kingpin_track_mm(strut, wider, 740.0), 740.0 + 760.0 - 2 * inboard)

    def test_a_margin_of_lengths_that_agree(self):
        sides, diagonals = squareness(Frame(900, 901, 700, 700, 1140, 1142))
        self.assertAlmostEqual(sides.margin, 1.5875 - 1.0)
        self.assertAlmostEqual(diagonals.margin, 3.175 - 2.0)

    def test_a_turning_circle(self):
        found = steered(Axle(upright(), upright(), 2600, 1400), [-30.0, 0.0, 60.0])
        self.assertAlmostEqual(turning_circle_m(found, 2600), 5.2 / math.sin(math.radians(found.outside_deg[2])), 9)
        self.assertIsNone(turning_circle_m(steered(Axle(upright(), upright(), 2600, 1400), [0.0]), 2600))

    def test_the_middle_of_a_rack(self):
        """11/16 in against 22/32 in is the same; 2¾ turns lock to lock come back 1⅜ (common practice)."""
        self.assertTrue(centring(11 / 16 * 25.4, 22 / 32 * 25.4).centred)
        self.assertEqual(turns_from_lock(2.75), 1.375)
        self.assertEqual((centring(10, 16).move_mm, centring(10, 16).towards), (3.0, "left"))
        self.assertFalse(centring(10, 10.51).centred)

    def test_a_rod_after_a_rack_move(self):
        """14 in → 12½ in is a cut of 38.1 mm; M14×1.5 takes 25.4 turns for it (common practice; arithmetic)."""
        moved = rod((0, 0, 0), (0, 355.6, 0), (0, 38.1, 0))
        self.assertAlmostEqual(moved.change_mm, -38.1, 9)
        self.assertAlmostEqual(moved.turns(parse_thread("M14x1.5")), -25.4, 9)
        for engaged, state in ((20.99, "hit"), (21.0, "tight"), (23.1, "tight"), (23.2, "clear"), (None, "unmeasured")):
            self.assertEqual(engagement("x", "x", engaged, 14.0, 1.5, "diameter").state, state)


def cardan(angle, phase, first):
    """A joint in space: the output yoke's direction, square to the cross pin of the input and to its own shaft."""
    along = Rotation.from_euler("z", angle, degrees=True).apply([1.0, 0.0, 0.0])
    pin = Rotation.from_rotvec(np.array([1.0, 0, 0]) * math.radians(phase + first)).apply([0.0, 1.0, 0.0])
    out = np.cross(along, pin)
    out /= np.linalg.norm(out)
    flat = np.array([-math.sin(math.radians(angle)), math.cos(math.radians(angle)), 0.0])
    return math.degrees(math.atan2(out @ np.cross(along, flat), out @ flat))


class Shaft(unittest.TestCase):
    def test_a_train_of_crosses_in_space(self):
        """Cross pins square to both yokes, three shafts in one plane, speeds by finite differences."""
        angles, phases = (22.0, 31.0, 14.0), (0.0, 35.0, -20.0)

        def last(first):
            turned = cardan(angles[0], 0.0, first)
            for angle, phase in zip(angles[1:], phases[1:], strict=True):
                turned = cardan(angle, phase, turned)
            return turned

        step = 1e-3
        turns = np.arange(0, 180, 0.25)
        rate = [math.remainder(last(one + step) - last(one - step), 360) / (2 * step) for one in turns]
        most, least = shaft_ratio(angles, phases)
        self.assertAlmostEqual(max(rate), most, 4)
        self.assertAlmostEqual(min(rate), least, 4)

    def test_one_joint_and_two_that_cancel(self):
        most, least = shaft_ratio([25.0], [0.0])
        self.assertAlmostEqual(most, 1 / math.cos(math.radians(25)), 12)
        self.assertAlmostEqual(least, math.cos(math.radians(25)), 12)
        self.assertAlmostEqual(shaft_ratio([25.0, 25.0], [0.0, 0.0])[0], 1.0, 12)
        self.assertAlmostEqual(shaft_ratio([25.0, 25.0], [0.0, 90.0])[0], 1 / math.cos(math.radians(25)) ** 2, 12)

    def test_angles_are_judged(self):
        for angle, state in ((30.0, "clear"), (30.1, "tight"), (35.0, "tight"), (35.1, "hit")):
            self.assertEqual(joint_angle([10.0, angle]).state, state)


class Sweep(unittest.TestCase):
    def test_a_sweep_from_practice(self):
        """−0.1° and −3.8° at 20° each way: 5.41°; a gauge showed 5.2° (common practice)."""
        self.assertAlmostEqual(caster_from_sweep_deg(-0.1, -3.8, 20.0), 5.41, 2)

    @settings(max_examples=60, deadline=None, derandomize=True)
    @given(st.floats(-3, 12), st.floats(2, 18), st.floats(-5, 2), st.floats(8, 35))
    def test_two_readings_give_the_axis_back(self, caster, kpi, straight, steer):
        readings = [camber_steered_deg(caster, kpi, straight, way * steer) for way in (1, -1)]
        found = exact_axis_deg(*readings, straight, steer)
        self.assertAlmostEqual(found[0], caster, 5)
        self.assertAlmostEqual(found[1], kpi, 5)

    def test_the_wheel_turns_as_a_rotation_does(self):
        """SciPy's rotation about the steering axis, the turn searched until the heading is 20°."""
        along = np.array([-math.tan(math.radians(6)), -math.tan(math.radians(13)), 1.0])
        along /= np.linalg.norm(along)
        axis = np.array([0, math.cos(math.radians(-1.5)), -math.sin(math.radians(-1.5))])
        low, high = 0.0, 0.8
        for _ in range(80):
            middle = (low + high) / 2
            here = Rotation.from_rotvec(middle * along).apply(axis)
            low, high = (low, middle) if math.degrees(math.atan2(here[0], here[1])) < -20 else (middle, high)
        self.assertAlmostEqual(camber_steered_deg(6, 13, -1.5, 20), -math.degrees(math.asin(here[2])), 8)

    def test_readings_that_no_axis_gives(self):
        self.assertIsNone(exact_axis_deg(60.0, -60.0, 0.0, 1.0))


class Setting(unittest.TestCase):
    def test_toe_both_ways(self):
        for degrees, over in ((0.3, 400.0), (-1.0, 650.0)):
            self.assertAlmostEqual(toe_deg(toe_mm(degrees, over), over), degrees, 12)
        with self.assertRaises(BadInput):
            toe_deg(500, 400)
        self.assertAlmostEqual(thrust_deg(0.1, -0.3), -0.2, 12)

    def test_turns_inside_their_travel_are_the_best_that_a_grid_finds(self):
        """Every pair of turns inside the travel, tried one by one: none leaves less of the targets."""
        effects = (("plate", {"camber": 0.5, "toe": 0.2}), ("rod", {"toe": 0.4}))
        read, wanted = {"camber": -0.5, "toe": 0.3}, {"camber": -2.0, "toe": 0.0}
        for travel in (
            {"plate": (1.0, 6.0), "rod": (9.0, 9.0)},
            {"plate": (9.0, 9.0), "rod": (0.2, 0.1)},
            {"plate": (2.0, 0.0), "rod": (0.0, 0.0)},
        ):
            found = adjusted(read, wanted, effects, travel)

            def left(plate, rod):
                return (wanted["camber"] - read["camber"] - 0.5 * plate) ** 2 + (
                    wanted["toe"] - read["toe"] - 0.2 * plate - 0.4 * rod
                ) ** 2

            grid = [
                left(p, r)
                for p in np.linspace(-travel["plate"][0], travel["plate"][1], 241)
                for r in np.linspace(-travel["rod"][0], travel["rod"][1], 241)
            ]
            self.assertLessEqual(left(found.turns["plate"], found.turns["rod"]), min(grid) + 1e-9)
            for name, (back, on) in travel.items():
                self.assertTrue(-back <= found.turns[name] <= on, (name, found.turns))

    def test_turns_of_two_adjusters_that_work_on_each_other(self):
        """Two by two by hand: camber 0.5 and toe 0.2 a turn of the arm, toe 0.4 a turn of the rod."""
        done = adjusted(
            {"FL.camber_deg": -3.0, "FL.toe_deg": 0.1},
            {"FL.camber_deg": -2.5, "FL.toe_deg": 0.0},
            [("arm", {"FL.camber_deg": 0.5, "FL.toe_deg": 0.2}), ("rod", {"FL.toe_deg": 0.4})],
        )
        self.assertAlmostEqual(done.turns["arm"], 1.0, 9)
        self.assertAlmostEqual(done.turns["rod"], -0.75, 9)
        for left in done.left_over.values():
            self.assertAlmostEqual(left, 0.0, 9)

    def test_the_least_movement_and_the_least_squares(self):
        two = adjusted(
            {"FL.toe_deg": 0.0}, {"FL.toe_deg": 1.0}, [("a", {"FL.toe_deg": 0.5}), ("b", {"FL.toe_deg": 0.5})]
        )
        self.assertAlmostEqual(two.turns["a"], 1.0, 9)
        self.assertAlmostEqual(two.turns["b"], 1.0, 9)
        none = adjusted(
            {"FL.toe_deg": 0.2, "FR.toe_deg": 0.0},
            {"FL.toe_deg": 0.0, "FR.toe_deg": 0.0},
            [("rack", {"FL.toe_deg": 1, "FR.toe_deg": 1})],
        )
        self.assertAlmostEqual(none.turns["rack"], -0.1, 9)
        self.assertAlmostEqual(none.left_over["FL.toe_deg"], -0.1, 9)
        self.assertAlmostEqual(none.left_over["FR.toe_deg"], 0.1, 9)

    def test_a_target_that_was_not_read_is_left_open(self):
        done = adjusted({"FL.toe_deg": None}, {"FL.toe_deg": 0.1}, [("rod", {"FL.toe_deg": 1.0})])
        self.assertIsNone(done.left_over["FL.toe_deg"])
        self.assertEqual(done.turns["rod"], 0.0)


class Square(unittest.TestCase):
    def test_four_marks_on_paper(self):
        """A trapezium drawn by coordinates, its rear pair 4 mm to the left."""
        front, rear = 700.0, 640.0
        marks = {"FL": (0, -front / 2), "FR": (0, front / 2), "RL": (900, -rear / 2 - 4), "RR": (900, rear / 2 - 4)}

        def apart(one, other):
            return math.dist(marks[one], marks[other])

        frame = Frame(apart("FL", "RL"), apart("FR", "RR"), front, rear, apart("FL", "RR"), apart("FR", "RL"))
        self.assertAlmostEqual(frame.rear_stands_left_mm, 4.0, 6)
        self.assertIn("4.0 mm to the right", frame.move)

    def test_tolerances_of_practice(self):
        """1/16 in on the sides, 1/8 in on the diagonals (common practice); tight beyond half."""
        for off, state in ((0.79, "clear"), (0.8, "tight"), (1.587, "tight"), (1.6, "hit")):
            self.assertEqual(squareness(Frame(900, 900 + off, 700, 700, 1140, 1140))[0].state, state)
        for off, state in ((1.58, "clear"), (1.6, "tight"), (3.17, "tight"), (3.2, "hit")):
            self.assertEqual(squareness(Frame(900, 900, 700, 700, 1140, 1140 + off))[1].state, state)

    def test_six_lengths_of_no_flat_figure_are_not_square(self):
        """Four marks drawn by coordinates; one length read 20 mm wrong is found by the one redundancy there is."""
        found = CALCULATIONS["square"].answer(
            {
                "left_mm": 1000,
                "right_mm": 1000,
                "front_mm": 600,
                "rear_mm": 600,
                "front_left_to_rear_right_mm": 410,
                "front_right_to_rear_left_mm": 410,
            }
        )
        self.assertEqual((found["sides"]["state"], found["diagonals"]["state"]), ("unmeasured", "unmeasured"))
        self.assertIn("misread", found["move"])
        marks = {"FL": (0, -350), "FR": (0, 350), "RL": (900, -320), "RR": (903, 330)}
        pairs = {
            "left_mm": "FL RL",
            "right_mm": "FR RR",
            "front_mm": "FL FR",
            "rear_mm": "RL RR",
            "left_to_right_mm": "FL RR",
            "right_to_left_mm": "FR RL",
        }
        true = {name: math.dist(*(marks[one] for one in two.split())) for name, two in pairs.items()}
        self.assertAlmostEqual(Frame(**true).off_plane_mm, 0.0, 6)
        for name, length in true.items():
            self.assertAlmostEqual(Frame(**true | {name: length + 2.0}).closing_mm(name), length, 5)
        self.assertAlmostEqual(Frame(**true | {"left_to_right_mm": true["left_to_right_mm"] + 7}).off_plane_mm, 7.0, 6)
        self.assertEqual({one.state for one in squareness(Frame(**true | {"front_mm": 714.0}))}, {"unmeasured"})

    def test_words_and_lengths_that_can_not_close(self):
        self.assertEqual(Frame(900, 900, 700, 700, 1140, 1140).move, "it stands square")
        self.assertIn("bring the right rear mark 2.0 mm forward", Frame(900, 902, 700, 700, 1140, 1140).move)
        self.assertIn("to the left", Frame(900, 900, 700, 700, 1144, 1140).move)
        for lengths, field in (
            ((900, 900, 700, 700, 1700, 1140), "front_left_to_rear_right_mm"),
            ((900, 900, 700, 700, 1140, 150), "front_right_to_rear_left_mm"),
        ):
            with self.assertRaises(BadInput) as caught:
                Frame(*lengths)
            self.assertEqual(caught.exception.field, field)


class Impossible(unittest.TestCase):
    def test_a_rod_has_no_more_thread_than_length_and_can_not_be_less_than_nothing(self):
        found = CALCULATIONS["tie-rod"].answer(
            {
                "inner_mm": [0, 0, 0],
                "outer_mm": [0, 350, 0],
                "inner_move_mm": [0, 250, 0],
                "rod_length_mm": 100,
                "thread": "M14x1.5",
                "engaged_mm": 25,
            }
        )
        self.assertEqual((found["engaged_after_mm"], found["new_rod_length_mm"]), (100.0, -150.0))
        self.assertEqual(found["engagement"]["state"], "hit")

    def test_a_sweep_of_next_to_nothing_tells_nothing(self):
        given = {"camber_out_deg": -1.0, "camber_in_deg": 1.0, "steer_deg": 0.1, "resolution_deg": 0.1}
        found = CALCULATIONS["caster-sweep"].answer(given)
        self.assertIsNone(found["caster_deg"])
        self.assertAlmostEqual(found["uncertainty_deg"], 0.1 * math.sqrt(2) / (2 * math.sin(math.radians(0.1))), 6)
        self.assertEqual(len(found["warnings"]), 2)
        self.assertEqual(CALCULATIONS["caster-sweep"].answer(given | {"steer_deg": 20})["warnings"], [])
        small = CALCULATIONS["caster-sweep"].answer(given | {"steer_deg": 4, "camber_in_deg": -0.9})
        self.assertIsNotNone(small["caster_deg"])
        self.assertEqual(len(small["warnings"]), 1)


class Off(unittest.TestCase):
    """An angle off what is wanted.

    Within the first limit clear, beyond the second hit, and the ± counts against either.
    """

    def test_state_at_and_beside_each_limit(self):
        for off, doubt, said in (
            (0.25, 0.0, "clear"),
            (0.26, 0.0, "tight"),
            (0.5, 0.0, "tight"),
            (0.51, 0.0, "hit"),
            (-0.25, 0.0, "clear"),
            (-0.51, 0.0, "hit"),
            (0.2, 0.05, "clear"),
            (0.2, 0.06, "tight"),
            (0.55, 0.05, "tight"),
            (0.56, 0.05, "hit"),
            (0.0, 0.3, "tight"),
        ):
            with self.subTest(off=off, doubt=doubt):
                found = judge_off("x", "X", off, doubt, (0.25, 0.5), "said", ())
                self.assertEqual(found.state, said)
                self.assertAlmostEqual(found.margin, 0.25 - abs(off))
                self.assertEqual(bool(found.remedies), said != "clear")

    def test_what_is_not_read_is_named(self):
        found = judge_off("x", "X", None, 0.0, (0.25, 0.5), "said", ("toe, front left",))
        self.assertEqual((found.state, found.missing), ("unmeasured", ("toe, front left",)))
        self.assertIn("toe, front left", found.reason)
