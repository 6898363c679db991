"""Parts of the chassis against sums done by hand: what each figure is made of, and where each limit lies."""

import math
import unittest

from rimcore.families import CHASSIS
from rimcore.lines import parse_line
from rimcore.parts.gives import gives, judge_gives
from rimcore.parts.sprung import seats_mm
from rimcore.parts.tests.test_chassis_parts import OLD, STOOD, WHOLE, judged, place, state
from rimcore.quantities.errors import BadInput

HELPER = WHOLE["helper"]


class Heights(unittest.TestCase):
    def test_collars_and_mounts_act_at_the_damper_and_count_at_the_wheel(self):
        """Ratio 0.8: 8 mm at the damper are 10 mm at the wheel, whichever part moves."""
        rows = dict(gives(place(motion_ratio=0.8, perch_up_mm=8.0, lower_mount_mm=12.0)).rows)
        self.assertAlmostEqual(rows["collars"], -10.0)
        self.assertAlmostEqual(rows["lower mounts"], 15.0)
        self.assertIsNone(dict(gives(place(motion_ratio=None, perch_up_mm=8.0)).rows)["collars"])

    def test_weight_out_raises_by_the_rate_at_the_wheel(self):
        """15 kg off 30 N/mm at a ratio of 0.8 rise by 15 × 9.80665 ÷ 19.2 mm; leaves stand at the wheel.

        Less than 2 kg is not looked at.
        """
        coil = place(old={"spring": {"rate_n_per_mm": 30.0}}, motion_ratio=0.8, out_kg=15.0)
        self.assertAlmostEqual(dict(gives(coil).rows)["weight out"], -15.0 * 9.80665 / 19.2)
        self.assertAlmostEqual(
            dict(gives(place(old={"spring": {"rate_n_per_mm": 30.0}}, motion_ratio=0.8, out_kg=-15.0)).rows)[
                "weight out"
            ],
            15.0 * 9.80665 / 19.2,
        )
        leaf = place(old={"leaf_pack": {"rate_n_per_mm": 25.0}}, motion_ratio=None, out_kg=10.0)
        self.assertAlmostEqual(dict(gives(leaf).rows)["weight out"], -10.0 * 9.80665 / 25.0)
        self.assertIsNone(dict(gives(place(old={}, motion_ratio=0.8, out_kg=2.0)).rows)["weight out"])
        self.assertNotIn("weight out", dict(gives(place(old={}, motion_ratio=0.8, out_kg=1.9)).rows))
        self.assertEqual(
            judge_gives(place(old={"spring": {"rate_n_per_mm": 30.0}}, motion_ratio=0.8, out_kg=None)).state,
            "unmeasured",
        )

    def test_a_collar_that_is_up_takes_the_room_between_the_seats(self):
        """285 mm of room, a spring of 290: 5 mm of preload, and 12 more with the collar up by 12."""
        beside = (("damper", WHOLE["damper"]),)
        self.assertAlmostEqual(seats_mm(place(beside=beside), WHOLE["spring"]), 5.0)
        self.assertAlmostEqual(seats_mm(place(beside=beside, perch_up_mm=12.0), WHOLE["spring"]), 17.0)


class Collars(unittest.TestCase):
    """A coilover whose seats stand 200 to 285 mm apart at full droop."""

    def collar(self, free, helper=None):
        beside = [("spring", WHOLE["spring"] | {"free_length_mm": free})] + ([("helper", helper)] if helper else [])
        return judged("damper", where=place(beside=beside))["damper.collar"]

    def test_a_spring_between_the_ends_of_the_thread_sits(self):
        for free in (200.0, 240.0, 285.0):
            self.assertEqual((self.collar(free).state, self.collar(free).value), ("clear", 285.0 - free))

    def test_a_longer_one_is_preloaded_at_the_lowest(self):
        one = self.collar(297.0)
        self.assertEqual((one.state, one.value, one.held_against), ("tight", 12.0, 0.0))

    def test_a_shorter_one_lies_loose_unless_a_helper_takes_it_up(self):
        """The helper has 60 − 18 = 42 mm of stroke: 40 mm loose are taken up, 45 are not."""
        self.assertEqual((self.collar(160.0).state, self.collar(160.0).value), ("hit", 40.0))
        self.assertIn("40 mm loose", self.collar(160.0).reason)
        self.assertEqual(self.collar(160.0, HELPER).state, "clear")
        self.assertEqual(self.collar(155.0, HELPER).state, "hit")

    def test_a_spring_of_unknown_length_is_unmeasured(self):
        spring = {key: value for key, value in WHOLE["spring"].items() if key != "free_length_mm"}
        one = judged("damper", where=place(beside=[("spring", spring)]))["damper.collar"]
        self.assertEqual(one.state, "unmeasured")
        self.assertIn("the spring's free length", one.reason)
        short = {key: value for key, value in WHOLE["damper"].items() if key != "room_most_mm"}
        one = judged("damper", short, place(beside=[("spring", WHOLE["spring"])]))["damper.collar"]
        self.assertIn("the gap between its seats", one.reason)


class Springs(unittest.TestCase):
    def test_lengths_that_can_not_be_are_refused_only_where_both_are_said(self):
        family = CHASSIS["spring"]
        family.check(WHOLE["spring"] | {"block_length_mm": None})
        family.check(WHOLE["spring"] | {"free_length_mm": None})
        with self.assertRaises(BadInput):
            family.check(WHOLE["spring"] | {"free_length_mm": 100.0, "block_length_mm": 110.0})

    def test_a_loose_spring_drags_two_helpers_along(self):
        """Between the old seats: 330 − 20 of preload leave 310 mm; a spring of 290 lies 20 mm loose."""
        wanted = [need for need in CHASSIS["spring"].drags(WHOLE["spring"], place()) if need.family == "helper"]
        self.assertEqual([(need.quantity, "20 mm loose" in need.why) for need in wanted], [(2, True)])
        tall = WHOLE["spring"] | {"free_length_mm": 312.0}
        self.assertFalse([need for need in CHASSIS["spring"].drags(tall, place()) if need.family == "helper"])


class Stops(unittest.TestCase):
    """450 mm at ride height, 350 compressed: 100 mm of shaft; a stop of 45 mm, 18 solid; ratio 1."""

    def test_margins_are_what_is_left_over_what_is_wanted(self):
        found = judged("bump_stop")
        contact, solid = found["stop.first"], found["stop.solid"]
        self.assertAlmostEqual(contact.value, 55.0)
        self.assertAlmostEqual(contact.margin, 55.0)
        self.assertAlmostEqual(solid.value, 82.0)
        self.assertAlmostEqual(solid.margin, 82.0 - 45.0, msg="45 mm are wanted on the street")


class Mounts(unittest.TestCase):
    def test_what_is_not_known_of_the_camber_is_named(self):
        blunt = {key: value for key, value in WHOLE["top_mount"].items() if key != "camber_deg"}
        self.assertIn("its range of camber", judged("top_mount", blunt, place(camber=-1.0))["mount.camber"].reason)
        self.assertIn(
            "the camber as it stands",
            judged("top_mount", where=place(camber=-1.0, camber_deg=None))["mount.camber"].reason,
        )
        self.assertEqual(state("top_mount", "mount.camber", where=place(camber=-2.0)), "clear")
        self.assertEqual(state("top_mount", "mount.camber", where=place(camber=-2.1)), "hit")


class Leaves(unittest.TestCase):
    """300 kg on 32 N/mm: √(32000 ÷ 300) ÷ 2π = 1.644 Hz; the street wants 1.0 to 1.8."""

    def frequency(self, rate):
        return judged("leaf_pack", WHOLE["leaf_pack"] | {"rate_n_per_mm": rate})["leaf.frequency"]

    def test_frequency_and_both_ends_of_what_is_usual(self):
        self.assertAlmostEqual(self.frequency(32.0).value, math.sqrt(32_000 / 300) / (2 * math.pi), places=9)
        for rate, wanted in ((11.0, "tight"), (12.5, "clear"), (38.0, "clear"), (39.0, "tight")):
            self.assertEqual(self.frequency(rate).state, wanted, rate)

    def test_a_pack_that_is_not_chosen_is_not_held_against_the_builds_height(self):
        """F = 300 × 9.80665 = 2,942 N: 150 − 117.7 old, 190 − 91.9 new, so 65.8 mm higher.

        The build reckons with none.
        """
        loose, chosen = (judged("leaf_pack", where=place(chosen=chosen))["leaf.height"] for chosen in (False, True))
        self.assertAlmostEqual(loose.value, (150 - 2941.995 / 25) - (190 - 2941.995 / 32), places=3)
        self.assertEqual((loose.state, chosen.state), ("clear", "tight"))
        self.assertNotIn("the build reckons with", loose.reason)
        self.assertIn("the build reckons with the same height", chosen.reason)
        near = judged("leaf_pack", where=place(chosen=True, ride_drop_mm=-60.0))["leaf.height"]
        self.assertEqual(near.state, "clear")
        self.assertNotIn("the build reckons with", near.reason)

    def test_a_block_whose_width_nobody_said_is_unmeasured(self):
        blunt = {key: value for key, value in WHOLE["lift_block"].items() if key != "width_mm"}
        self.assertEqual(state("lift_block", "block.width", blunt), "unmeasured")
        self.assertEqual(state("lift_block", "block.width"), "clear")
        for width, wanted in ((58.9, "hit"), (59.0, "clear"), (61.0, "clear"), (61.1, "tight")):
            self.assertEqual(
                state("lift_block", "block.width", WHOLE["lift_block"] | {"width_mm": width}), wanted, width
            )


class Limits(unittest.TestCase):
    """Just inside and just outside of what is accepted, and the figure that it is held against."""

    def test_a_bar_in_the_old_bushes(self):
        for outer, wanted in ((20.2, "clear"), (20.4, "tight")):
            one = judged("roll_bar", WHOLE["roll_bar"] | {"outer_mm": outer})["bar.bushes"]
            self.assertEqual((one.state, one.held_against), (wanted, 0.3))
            self.assertAlmostEqual(one.value, outer - 20.0)

    def test_mounts_of_a_subframe_are_as_many(self):
        self.assertEqual(state("subframe", "subframe.mounts", WHOLE["subframe"] | {"mounts": 5}), "hit")
        self.assertEqual(state("subframe", "subframe.mounts", WHOLE["subframe"] | {"apart_mm": 761.5}), "clear")
        self.assertEqual(state("subframe", "subframe.mounts", WHOLE["subframe"] | {"apart_mm": 762.0}), "hit")

    def test_a_block_is_held_against_a_millimetre(self):
        self.assertEqual(
            judged("lift_block", WHOLE["lift_block"] | {"width_mm": 62.0})["block.width"].held_against, 1.0
        )

    def test_an_arm_that_is_set_says_its_range_and_one_that_is_not_its_length(self):
        ranged = judged("control_arm")["arm.length"]
        self.assertEqual((ranged.value, ranged.inputs[1].value), (0.0, "330 to 350 mm"))
        self.assertIn("set it to the old one's 340 mm", ranged.reason)
        fixed = judged("control_arm", WHOLE["control_arm"] | {"shortest_mm": 340.0, "longest_mm": 340.0})["arm.length"]
        self.assertEqual((fixed.state, fixed.inputs[1].value), ("clear", "340 mm"))
        self.assertIn("both 340 mm", fixed.reason)

    def test_a_rod_half_a_millimetre_past_its_end_still_goes(self):
        for change, wanted in ((20.4, "clear"), (20.6, "hit"), (-20.4, "clear"), (-20.6, "hit")):
            self.assertEqual(state("tie_rod", "rod.length", where=place(rod_change_mm=change)), wanted, change)

    def test_a_rack_that_the_build_reckons_otherwise(self):
        """26 mm forward by the part; up and down count as well as forward and back."""
        for rack, wanted in (
            ((26.0, 0.0), "clear"),
            ((26.0, 5.0), "tight"),
            ((26.0, -5.0), "tight"),
            ((20.0, 0.0), "tight"),
        ):
            found = judged("rack_bracket", where=place(chosen=True, rack_mm=rack))
            one = next(
                judgement
                for judgement in found.values()
                if "reckons" in judgement.reason or "as the part" in judgement.reason
            )
            self.assertEqual(one.state, wanted, rack)
        lifted = WHOLE["rack_bracket"] | {"up_mm": 5.0}
        found = judged("rack_bracket", lifted, place(chosen=True, rack_mm=(26.0, 5.0)))
        self.assertTrue(any("as the part" in one.reason for one in found.values()))

    def test_a_spline_has_the_same_teeth_and_a_tenth(self):
        for change, wanted in (
            ({}, "clear"),
            ({"teeth": 37}, "hit"),
            ({"spline_mm": 17.09}, "clear"),
            ({"spline_mm": 17.15}, "hit"),
        ):
            self.assertEqual(state("shaft", "shaft.spline", WHOLE["shaft"] | change), wanted, change)


class DraggedAlong(unittest.TestCase):
    def needs(self, key, where=None):
        return {need.name: (need.quantity, need.needed) for need in CHASSIS[key].drags(WHOLE[key], where or place())}

    def test_how_many_and_whether_it_can_be_done_without(self):
        self.assertEqual(self.needs("propshaft")["Propshaft bolts, one-use"], (8, True))
        self.assertEqual(self.needs("ball_joint")["Ball joint nuts, one-use"], (2, True))
        self.assertEqual(self.needs("damper")["Alignment"][0], 1)
        self.assertEqual(self.needs("spring")["Top nuts, one-use"], (2, True))
        old = OLD | {"damper": OLD["damper"] | {"electronic": "yes"}}
        self.assertEqual(self.needs("damper", place(old=old))["Cancelling plugs"], (2, False))
        self.assertNotIn("Cancelling plugs", self.needs("damper"))

    def test_what_only_stands_on_the_car_is_not_asked_of_the_list(self):
        for key, code in (("shaft", "engaged_mm"), ("shaft", "angle_deg"), ("propshaft", "front_deg")):
            self.assertTrue(next(spec for spec in CHASSIS[key].specs if spec.code == code).stands, (key, code))
            self.assertNotIn(code, parse_line(CHASSIS[key].example).spec)
        self.assertTrue(STOOD.old["shaft"]["engaged_mm"])


if __name__ == "__main__":
    unittest.main()
