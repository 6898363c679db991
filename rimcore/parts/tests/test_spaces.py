"""Spaces of a car that parts go into; bushes in their bores; gaps round an engine. Never clear without a reading."""

import unittest
from types import SimpleNamespace

from rimcore.companions import needs_of
from rimcore.families import FAMILIES
from rimcore.lines import parse_line
from rimcore.parts.declared import Place
from rimcore.parts.spaces import (
    CAR_GAPS,
    Space,
    judge_box_space,
    judge_bush_bore,
    judge_bush_pin,
    judge_car_gap,
    judge_core_space,
    judge_ports,
    judge_seat_space,
    judge_seat_wheel,
)
from rimcore.parts.stood import Stood
from rimcore.quantities.judgement import InputUsed


def place(**spaces):
    used = InputUsed("read", "mm", "Jo", "1 Dec 2026")
    return SimpleNamespace(
        stood=SimpleNamespace(run={"spaces": {code: Space(values, used) for code, values in spaces.items()}})
    )


CORE = {"between_rails": 700.0, "space_up": 345.0, "condenser_to_fan": 62.0}


class Cores(unittest.TestCase):
    def test_each_way_counts_and_the_least_is_told(self):
        for size, state, words in (
            ((660, 325, 36), "clear", ""),
            ((685, 325, 36), "tight", "between the rails"),
            ((710, 325, 36), "hit", "between the rails"),
            ((660, 340, 36), "tight", "height"),
            ((660, 325, 50), "tight", "depth"),
            ((660, 325, 65), "hit", "depth"),
        ):
            given = dict(zip(("width_mm", "height_mm", "depth_mm"), size, strict=True))
            found = judge_core_space(given, place(core_space=CORE))
            self.assertEqual(found.state, state, size)
            self.assertIn(words, found.reason)

    def test_a_line_as_a_shop_writes_it_is_checked(self):
        said = parse_line("$185 aluminum radiator 26 x 13 x 1.5 in 2 rows")
        self.assertEqual(judge_core_space(said.spec, place(core_space=CORE)).state, "clear")
        wide = parse_line("radiator 27.2 x 13 x 1.5 in")
        self.assertEqual(judge_core_space(wide.spec, place(core_space=CORE)).state, "tight")

    def test_not_read_is_unmeasured(self):
        self.assertEqual(
            judge_core_space({"width_mm": 660, "height_mm": 325, "depth_mm": 36}, place()).state, "unmeasured"
        )
        self.assertEqual(judge_core_space({"width_mm": 660}, place(core_space=CORE)).state, "unmeasured")


class Ports(unittest.TestCase):
    def test_other_side_wants_other_hoses_and_not_noted_is_unmeasured(self):
        car = place()
        said = parse_line("radiator 660x325x36 top port right lower port left").spec
        self.assertEqual((said["top_port"], said["lower_port"]), ("right", "left"))
        self.assertEqual(judge_ports(said, car).state, "unmeasured")
        car.stood.run |= {"top_port": "right", "lower_port": "left"}
        self.assertEqual(judge_ports(said, car).state, "clear")
        self.assertEqual(judge_ports({}, car).state, "unmeasured")
        car.stood.run["lower_port"] = "right"
        found = judge_ports(said, car)
        self.assertEqual(found.state, "tight")
        self.assertIn("lower port", found.reason)

    def test_a_core_that_leans_and_a_shroud_take_depth(self):
        given = {"width_mm": 660, "height_mm": 325, "depth_mm": 36}
        car = place(core_space={**CORE, "condenser_to_fan": 140.0})
        self.assertEqual(judge_core_space(given, car).state, "clear")
        self.assertEqual(judge_core_space({**given, "shroud_mm": 90}, car).state, "tight")
        car.stood.run["tilt_deg"] = 20.0
        leant = judge_core_space(given, car)
        self.assertEqual(leant.state, "hit")
        self.assertIn("leaning 20°", leant.reason)


class Others(unittest.TestCase):
    def test_box_and_seat(self):
        box = {"box_width_mm": 250, "box_height_mm": 180, "box_depth_mm": 200}
        room = {"space_width": 300.0, "space_height": 205.0, "space_depth": 215.0}
        self.assertEqual(judge_box_space(box, place(box_space=room)).state, "tight")
        self.assertEqual(judge_box_space(box, place(box_space={**room, "space_depth": 240.0})).state, "clear")
        seat = {"shell_height_mm": 820, "shell_width_mm": 560}
        there = {"mount_to_roof": 905.0, "tunnel_to_door": 580.0}
        self.assertEqual(judge_seat_space(seat, place(seat_space=there)).state, "clear")
        self.assertEqual(judge_seat_space({**seat, "shell_width_mm": 600}, place(seat_space=there)).state, "hit")

    def test_legs_go_under_the_steering_wheel(self):
        there = place(seat_wheel={"wheel_to_mount": 420.0})
        for edge, state in ((260, "clear"), (280, "tight"), (430, "hit")):
            self.assertEqual(judge_seat_wheel({"front_height_mm": edge}, there).state, state)
        self.assertEqual(judge_seat_wheel({"front_height_mm": 260}, place()).state, "unmeasured")
        self.assertEqual(judge_seat_wheel({}, there).state, "unmeasured")

    def test_bushes(self):
        here = place(bush_bore={"bore": 43.8, "pin": 11.9})
        for outer, inner, states in (
            (44.0, 12.0, ("clear", "clear")),
            (43.5, 12.2, ("hit", "tight")),
            (45.2, 12.6, ("hit", "hit")),
            (44.0, 11.5, ("clear", "hit")),
        ):
            given = {"outer_mm": outer, "inner_mm": inner}
            self.assertEqual((judge_bush_bore(given, here).state, judge_bush_pin(given, here).state), states, given)
        self.assertEqual(judge_bush_bore({"outer_mm": 44.0}, place()).state, "unmeasured")

    def test_gaps_round_the_engine(self):
        for code, (_, needed) in CAR_GAPS.items():
            self.assertEqual(
                [judge_car_gap(code, gap, None, False).state for gap in (0.0, needed - 0.1, needed)],
                ["hit", "tight", "clear"],
            )
            self.assertIsNone(judge_car_gap(code, None, None, False))
            self.assertEqual(judge_car_gap(code, None, None, True).state, "unmeasured")

    def test_each_family_asks_its_space(self):
        for key, code in (("radiator", "part.radiator.space"), ("air_filter", "part.filter.space")):
            given = parse_line(FAMILIES[key].example).spec
            stood = SimpleNamespace(run={})
            self.assertIn(code, [one.code for one in FAMILIES[key].judge(given, SimpleNamespace(stood=stood))])


class WithoutWheels(unittest.TestCase):
    def test_every_family_answers_on_a_car_whose_wheels_are_not_recorded(self):
        """What goes on a hub is unmeasured there; the rest is checked by what it is checked by."""
        bare = Place.without_wheels(Stood())
        for key, family in FAMILIES.items():
            given = {} if key in ("wheel", "tyre") else parse_line(family.example, key).spec
            for one in family.judge(given, bare):
                if family.on_wheels:
                    self.assertEqual((one.state, one.code), ("unmeasured", f"part.{key}.wheels"))
            self.assertIsInstance(needs_of(key, given, bare), tuple)
        self.assertTrue(needs_of("radiator", {}, bare))
        self.assertIn(
            "part.thermostat.opens", [one.code for one in FAMILIES["thermostat"].judge({"opens_c": 87}, bare)]
        )
