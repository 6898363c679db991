"""Parts of engine, cooling, gears and brakes.

Judged by hand against what stands there, what they drag along, what is asked.
"""

import unittest
from dataclasses import replace

from rimcore.families import FAMILIES, RUNNING
from rimcore.lines import parse_line
from rimcore.parts.needs import answered
from rimcore.parts.stood import Stood
from rimcore.parts.tests.test_parts import place as wheel_place
from rimcore.work.modules_parts import ALONG


def place(use="street", **run):
    return replace(wheel_place(), stood=Stood(use=use, run=run))


def judged(key, given, **run):
    return {one.code: one for one in FAMILIES[key].judge(given, place(**run))}


class Judged(unittest.TestCase):
    def test_bores_against_the_housing(self):
        self.assertEqual(judged("intake_pipe", {"bore_mm": 72.0}, meter_mm=70.0)["part.pipe.bore"].state, "clear")
        wide = judged("intake_pipe", {"bore_mm": 76.0}, meter_mm=70.0)["part.pipe.bore"]
        self.assertEqual((wide.state, wide.value), ("tight", 6.0))
        self.assertIn("reducer 76 to 70", wide.remedies[0])
        self.assertEqual(judged("intake_pipe", {"bore_mm": 76.0})["part.pipe.bore"].state, "unmeasured")

    def test_a_larger_housing_is_a_hit_until_it_is_tuned(self):
        for tuned, state in ((True, "tight"), (False, "hit")):
            self.assertEqual(
                judged("meter_housing", {"bore_mm": 80.0}, meter_mm=70.0, tuned_first=tuned)["breathing.meter"].state,
                state,
            )
        self.assertEqual(judged("meter_housing", {"bore_mm": 70.0}, meter_mm=70.0)["breathing.meter"].state, "clear")
        self.assertEqual(judged("meter_housing", {"bore_mm": 70.0})["breathing.meter"].state, "unmeasured")

    def test_clamps_tips_and_the_law(self):
        self.assertEqual(
            [judged("clamp", {"kind": kind})["part.clamp.kind"].state for kind in ("t-bolt", "worm")],
            ["clear", "tight"],
        )
        self.assertEqual(judged("clamp", {})["part.clamp.kind"].state, "unmeasured")
        self.assertEqual(
            [judged("tail_tip", {"overlap_mm": mm})["part.tip.overlap"].state for mm in (3.0, 3.2)], ["hit", "clear"]
        )
        for key, given in (("silencer", {"bore_mm": 60.0}), ("catalyst", {"bore_mm": 60.0})):
            self.assertIn("local law", next(iter(judged(key, given).values())).reason)

    def test_cores_by_their_volume(self):
        """660 × 325 × 36 on 350 × 325 × 16: 1.89 times the face, 4.24 times the volume."""
        old = {"width_mm": 350.0, "height_mm": 325.0, "depth_mm": 16.0}
        found = judged("radiator", {"width_mm": 660.0, "height_mm": 325.0, "depth_mm": 36.0}, **old)[
            "part.radiator.core"
        ]
        self.assertEqual((found.state, round(found.value, 2)), ("clear", 4.24))
        self.assertEqual(
            judged("radiator", {"width_mm": 300.0, "height_mm": 325.0, "depth_mm": 16.0}, **old)[
                "part.radiator.core"
            ].state,
            "hit",
        )
        self.assertEqual(
            judged("radiator", {"width_mm": 330.0, "height_mm": 325.0, "depth_mm": 16.0}, **old)[
                "part.radiator.core"
            ].state,
            "tight",
        )
        self.assertEqual(judged("radiator", {}, **old)["part.radiator.core"].state, "unmeasured")

    def test_caps_thermostats_and_coolant(self):
        self.assertEqual(
            [
                judged("radiator_cap", {"cap_kpa": kpa}, cap_kpa=90.0)["part.cap.pressure"].state
                for kpa in (90.0, 110.0, 60.0)
            ],
            ["clear", "tight", "hit"],
        )
        self.assertEqual(
            [judged("thermostat", {"opens_c": at})["part.thermostat.opens"].state for at in (87.0, 71.0, 97.0)],
            ["clear", "tight", "tight"],
        )
        self.assertEqual(judged("coolant", {"glycol_pct": 50.0}, coldest_c=-20.0)["cooling.frost"].state, "clear")
        self.assertEqual(judged("coolant", {}, coldest_c=-20.0)["cooling.frost"].state, "unmeasured")

    def test_gears_alike_where_four_wheels_are_driven(self):
        self.assertEqual(judged("axle_gears", {"ratio": 4.3}, drive="R")["part.gears.both"].state, "clear")
        self.assertEqual(
            judged("axle_gears", {"ratio": 4.3}, drive="")["part.gears.both"].state, "unmeasured", "not given"
        )
        for other, state in ((None, "unmeasured"), (4.3, "clear"), (4.6, "hit")):
            self.assertEqual(
                judged("axle_gears", {"ratio": 4.3}, drive="4", other_axle=other)["part.gears.both"].state, state
            )
        needs = FAMILIES["axle_gears"].drags({"ratio": 4.3}, place(drive="4"))
        self.assertIn(("axle_gears", {"ratio": 4.3}), [(need.family, dict(need.spec)) for need in needs])
        self.assertNotIn(
            "axle_gears", [need.family for need in FAMILIES["axle_gears"].drags({"ratio": 4.3}, place(drive="R"))]
        )

    def test_pads_by_use_and_fluid_that_mixes_with_none(self):
        pads = FAMILIES["brake_pads"]
        states = {
            (use, kind): pads.judge({"use": kind}, place(use))[0].state
            for use in ("street", "track", "climb")
            for kind in ("street", "fast", "track")
        }
        self.assertEqual(
            [pair for pair, state in states.items() if state == "clear"],
            [("street", "street"), ("track", "track"), ("climb", "fast")],
        )
        self.assertEqual(pads.judge({}, place())[0].state, "unmeasured")
        self.assertEqual(
            [judged("brake_fluid", {"dot": dot})["part.fluid.kind"].state for dot in ("4", "5", "5.1")],
            ["clear", "tight", "clear"],
        )


class Told(unittest.TestCase):
    def test_a_wide_pipe_drags_reducers_for_the_housing_that_stays(self):
        needs = {need.family: need for need in FAMILIES["intake_pipe"].drags({"bore_mm": 76.0}, place(meter_mm=70.0))}
        self.assertEqual(dict(needs["reducer"].spec), {"bore_mm": 76.0, "to_mm": 70.0})
        self.assertEqual((needs["coupler"].quantity, needs["clamp"].quantity), (2, 4))
        self.assertNotIn(
            "reducer", {need.family for need in FAMILIES["intake_pipe"].drags({"bore_mm": 70.0}, place(meter_mm=70.0))}
        )

    def test_what_is_confused_at_the_counter_is_asked(self):
        for key, words in (
            ("radiator", "air-conditioning brackets"),
            ("axle_gears", "reverse cut"),
            ("shifter", "Circlip"),
            ("manifold", "Year split"),
            ("meter_housing", "sensor"),
            ("brake_lines", "Flare"),
            ("coolant", "Kind of coolant"),
            ("radiator", "supports straight"),
        ):
            self.assertTrue(any(words in ask.ask for ask in FAMILIES[key].asks), key)

    def test_every_one_has_an_example_modules_and_a_limit_for_its_figures(self):
        for key, family in RUNNING.items():
            said = parse_line(family.example)
            self.assertEqual((said.family, said.unread, said.name), (key, (), ""), family.example)
            self.assertIsNone(family.fault(said.spec), key)
            self.assertTrue(family.modules or key in ALONG, key)

    def test_what_is_dragged_along_can_be_a_part(self):
        for family in RUNNING.values():
            for need in family.drags(dict(parse_line(family.example).spec), place(meter_mm=70.0, drive="4")):
                self.assertIn(need.family, FAMILIES)
                self.assertTrue(need.why and need.basis)
                self.assertTrue(answered(need, need.family, need.name, need.spec))
