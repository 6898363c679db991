"""Ride and steering on the command line: shapes of answers, what an absent key gives, and what is refused by path."""

import unittest

from rimcore.quantities.errors import BadInput
from rimcore.registry import CALCULATIONS
from rimcore.tests.test_contract import CORNER, FOUR, GOOD


def ask(name, **change):
    return CALCULATIONS[name].answer({**GOOD[name], **change})


class Answers(unittest.TestCase):
    def test_poses_stand_travel_by_travel(self):
        found = ask("kinematics")
        self.assertEqual(
            [(p["travel_mm"], p["rack_mm"]) for p in found["poses"]][:3], [(-40.0, 0.0), (-40.0, 20.0), (0.0, 0.0)]
        )
        lost = found["poses"][-1]
        self.assertFalse(lost["reached"])
        self.assertEqual(
            {value for key, value in lost.items() if key not in ("travel_mm", "rack_mm", "reached")}, {None}
        )

    def test_derivatives_stand_at_rest_whatever_the_lists(self):
        one, other = ask("kinematics", travel_mm=[30]), ask("kinematics", travel_mm=[-20, 0], rack_mm=[5])
        for key in ("camber_gain_deg_per_mm", "bump_steer_deg_per_mm"):
            self.assertEqual(one[key], other[key])

    def test_what_is_absent_gives_null(self):
        bare = {key: value for key, value in CORNER.items() if key != "half_track_mm"}
        pose = CALCULATIONS["kinematics"].answer({**bare, "travel_mm": [0]})["poses"][0]
        self.assertIsNone(pose["roll_centre_mm"])
        self.assertIsNone(pose["motion_ratio"])
        self.assertEqual(pose["rack_mm"], 0.0)
        self.assertEqual(pose["camber_deg"], -1.0)
        self.assertIsNone(ask("spring", perch_up_mm=None)["ride_height_change_mm"])
        self.assertIsNone(ask("spring")["helper_closed"])
        self.assertEqual(ask("spring", bump_mm=None)["coil_bind"]["state"], "unmeasured")
        self.assertIsNone(ask("caster-sweep", camber_straight_deg=None)["exact"])
        self.assertIsNone(ask("caster-sweep", resolution_deg=None)["uncertainty_deg"])
        for key in ("new_rod_length_mm", "engaged_after_mm", "turns_change"):
            self.assertIsNone(ask("tie-rod", thread=None, engaged_mm=None, rod_length_mm=None)[key])
        self.assertIsNone(ask("centre-of-gravity", raised=None)["height_mm"])
        alone = CALCULATIONS["corner-weights"].answer({"pads_kg": FOUR})
        self.assertIsNone(alone["turns"])
        self.assertAlmostEqual(alone["total_kg"], 1240)

    def test_a_helper_and_its_closing(self):
        helper = {"rate_N_per_mm": 15, "free_length_mm": 60, "block_length_mm": 20}
        self.assertTrue(ask("spring", helper=helper)["helper_closed"])
        self.assertFalse(ask("spring", helper={**helper, "rate_N_per_mm": 200})["helper_closed"])

    def test_steering_mirrors_the_left(self):
        found = ask("steering")
        first, last = found["poses"][0], found["poses"][-1]
        self.assertAlmostEqual(first["left_steer_deg"], last["right_steer_deg"], 7)
        self.assertAlmostEqual(first["inside_deg"], max(first["left_steer_deg"], first["right_steer_deg"]), 9)
        self.assertIsNone(found["poses"][1]["ackermann_pct"])
        self.assertAlmostEqual(found["over_centre"]["rack_left_mm"], found["over_centre"]["rack_right_mm"], 5)
        far = ask("steering", rack_mm=[0, 120])["poses"][1]
        self.assertEqual((far["reached"], far["left_steer_deg"], far["right_steer_deg"]), (False, None, None))

    def test_alignment_both_units_of_toe(self):
        found = ask("alignment")
        self.assertAlmostEqual(found["wheels"]["FL"]["toe_mm_over_rim"], 1.0, 9)
        self.assertAlmostEqual(found["wheels"]["FL"]["toe_minutes"], 60 * found["wheels"]["FL"]["toe_deg"], 6)
        self.assertIsNone(found["wheels"]["FR"]["toe_mm_over_rim"])
        self.assertAlmostEqual(found["front_total_toe_deg"], found["wheels"]["FL"]["toe_deg"] + 0.1, 8)
        self.assertIsNone(found["rear_total_toe_deg"])
        self.assertIsNone(found["thrust_deg"])
        self.assertAlmostEqual(found["turns"]["left arm"], 1.25, 9)
        self.assertEqual(ask("alignment", adjusters=None)["left_over"], {"FL.camber_deg": 0.5})

    def test_turns_within_a_limit(self):
        self.assertFalse(ask("corner-weights", limit_turns=0.5)["reached"])
        self.assertTrue(ask("corner-weights", limit_turns=None)["reached"])
        lifted = ask("corner-weights", limit_turns=None, target_cross_pct=100)
        self.assertTrue(lifted["warnings"])

    def test_centring_either_way(self):
        self.assertEqual(CALCULATIONS["rack-centre"].answer({"turns_lock_to_lock": 2.75})["turns_from_lock"], 1.375)
        found = ask("rack-centre")
        self.assertEqual((found["move_mm"], found["towards"], found["state"]), (3.0, "right", "hit"))


class Refused(unittest.TestCase):
    def test_each_by_its_path(self):
        points = CORNER["points_mm"]
        helper = {"rate_N_per_mm": 15, "free_length_mm": 20, "block_length_mm": 20}
        cases = (
            ("spring", {"block_length_mm": 200}, "block_length_mm"),
            ("spring", {"unsprung_kg": 340}, "unsprung_kg"),
            ("spring", {"preload_mm": 121}, "preload_mm"),
            ("spring", {"motion_ratio": 0}, "motion_ratio"),
            ("spring", {"helper": helper}, "helper.block_length_mm"),
            ("spring", {"helper": {"rate_N_per_mm": 1}}, "helper.free_length_mm"),
            ("spring", {"corner_kg": "340"}, "corner_kg"),
            ("kinematics", {"kind": "strut"}, "points_mm.strut_top"),
            ("kinematics", {"points_mm": {**points, "strut_top": [0, 0, 0]}}, "points_mm.strut_top"),
            ("kinematics", {"points_mm": {k: v for k, v in points.items() if k != "rod_inner"}}, "points_mm.rod_inner"),
            ("kinematics", {"points_mm": {**points, "rod_inner": [1, 2]}}, "points_mm.rod_inner"),
            ("kinematics", {"points_mm": {**points, "rod_inner": [1, 2, 9000]}}, "points_mm.rod_inner.2"),
            ("kinematics", {"points_mm": {**points, "rod_outer": points["upper_joint"]}}, "points_mm"),
            ("kinematics", {"travel_mm": []}, "travel_mm"),
            ("kinematics", {"rack_mm": []}, "rack_mm"),
            ("kinematics", {"travel_mm": [501]}, "travel_mm.0"),
            ("kinematics", {"travel_mm": [0] * 202}, "travel_mm"),
            ("kinematics", {"wheel": {"centre_y_mm": 0, "radius_mm": 0}}, "wheel.radius_mm"),
            (
                "kinematics",
                {"kind": "five_link", "points_mm": {"links": [[[0, 0, 0], [1, 1, 1]]] * 4}},
                "points_mm.links",
            ),
            ("kinematics", {"kind": "five_link", "points_mm": {"links": [[[0, 0, 0]]] * 5}}, "points_mm.links.0"),
            ("steering", {"left": {**CORNER, "travel_mm": [0]}}, "left.travel_mm"),
            ("steering", {"rack_mm": []}, "rack_mm"),
            ("steering", {"right": {**CORNER, "points_mm": {}}}, "right.points_mm.upper_front"),
            ("steering", {"wheelbase_mm": 0}, "wheelbase_mm"),
            ("rack-centre", {"right_stick_out_mm": None}, "right_stick_out_mm"),
            ("rack-centre", {"turns_lock_to_lock": 3}, "turns_lock_to_lock"),
            ("rack-centre", {"left_stick_out_mm": None, "right_stick_out_mm": None}, "turns_lock_to_lock"),
            ("tie-rod", {"thread": "M14 fine"}, "thread"),
            ("tie-rod", {"outer_mm": [0, 0, 0]}, "outer_mm"),
            ("tie-rod", {"inner_move_mm": [1]}, "inner_move_mm"),
            ("shaft", {"joints": []}, "joints"),
            ("shaft", {"joints": [{"angle_deg": 1}] * 4}, "joints"),
            ("shaft", {"joints": [{"angle_deg": 90}]}, "joints.0.angle_deg"),
            ("caster-sweep", {"steer_deg": 0}, "steer_deg"),
            ("caster-sweep", {"steer_deg": 90}, "steer_deg"),
            ("alignment", {"wheels": {"FL": {"toe_deg": 0.1, "toe_mm": 1, "over_mm": 400}}}, "wheels.FL.toe_mm"),
            ("alignment", {"wheels": {"FL": {"toe_mm": 1}}}, "wheels.FL.over_mm"),
            ("alignment", {"wheels": {"FL": {"toe_mm": 401, "over_mm": 400}}}, "wheels.FL.toe_mm"),
            ("alignment", {"adjusters": [{"name": "a", "effects": {"FL.camber": 1}}]}, "adjusters.0.effects.FL.camber"),
            (
                "alignment",
                {"adjusters": [{"name": "a", "effects": {"FL.toe_deg": True}}]},
                "adjusters.0.effects.FL.toe_deg",
            ),
            ("alignment", {"adjusters": [{"name": "a", "effects": {"FL.toe_deg": 1}}] * 2}, "adjusters"),
            ("alignment", {"targets": {"FL": {"toe_mm": 1}}}, "targets.FL.toe_mm"),
            ("corner-weights", {"pads_kg": {**FOUR, "FL": -1}}, "pads_kg.FL"),
            ("corner-weights", {"track_mm": None}, "track_mm"),
            ("corner-weights", {"wheel_rate_N_per_mm": None}, "wheel_rate_N_per_mm"),
            ("corner-weights", {"pads_kg": dict.fromkeys(FOUR, 0)}, "pads_kg"),
            (
                "centre-of-gravity",
                {"raised": {"end": "front", "by_mm": 400, "front_kg": 500, "radius_mm": 300}},
                "raised.front_kg",
            ),
            ("centre-of-gravity", {"raised": {"end": "rear", "by_mm": 400, "radius_mm": 300}}, "raised.front_kg"),
            (
                "centre-of-gravity",
                {"raised": {"end": "front", "by_mm": 2570, "rear_kg": 566, "radius_mm": 300}},
                "raised.by_mm",
            ),
            ("square", {"front_left_to_rear_right_mm": 1700}, "front_left_to_rear_right_mm"),
            ("square", {"left_mm": 0}, "left_mm"),
        )
        for name, change, field in cases:
            with self.subTest(name=name, change=change), self.assertRaises(BadInput) as caught:
                ask(name, **change)
            self.assertEqual(caught.exception.field, field)
