"""The command line: fixed keys, bad input by field, and the real script."""

import io
import json
import math
import subprocess
import unittest
from pathlib import Path

from hypothesis import given, settings
from hypothesis import strategies as st

from rimcore.calc import answer, main
from rimcore.registry import CALCULATIONS

ROOT = Path(__file__).resolve().parents[2]

HUB_INPUT = {
    "hub": {"bolts": 5, "pcd_mm": 112, "bore_mm": 57.1, "thread": "M14x1.5", "stud_length_mm": 28, "seat": "ball R13"},
    "wheel": {"bolts": 5, "pcd_mm": 112, "bore_mm": 72.6, "seat": "cone 60", "pad_thickness_mm": 12},
    "spacer_mm": 0,
}
CORNER = {"wheel": "17x7.5 +45", "tyre": "225/45R17", "spacer_mm": 0, "wheel_kg": None, "tyre_kg": None}
GAP_INPUT = {
    "present": {"wheel": "16x7 +42", "tyre": "205/55R16", "spacer_mm": 0, "camber_deg": 0},
    "pose": {"steer_deg": 0, "travel_mm": 0},
    "station": {"place": "damper", "height_mm": 180},
    "gap_mm": 8,
}


def ask(name, given):
    found, _ = answer(CALCULATIONS[name], json.dumps(given))
    return found


def run(arguments, text=""):
    out = io.StringIO()
    return main(arguments, io.StringIO(text), out), out.getvalue()


class FixedKeys(unittest.TestCase):
    def test_tyre(self):
        found = ask("tyre", {"size": "265/35R18 97Y", "rim_width_in": 9.5})
        expected = {
            "section_width_mm": 265,
            "section_on_rim_mm": 265,
            "measuring_rim_in": 9.5,
            "rim_range_in": [9.0, 10.5],
            "rim_fit": "ok",
            "aspect_pct": 35,
            "rim_diameter_in": 18,
            "diameter_mm": 642.7,
            "sidewall_mm": 92.75,
            "load_index": 97,
            "load_kg": 730,
            "speed_symbol": "Y",
            "speed_kmh": 300,
        }
        for key, value in expected.items():
            self.assertEqual(found[key], value, key)
        self.assertAlmostEqual(found["rolling_circumference_mm"], 3.05 * 642.7, places=6)
        self.assertIn("revs_per_km", found)

    def test_dual_load_index_keys_only_where_stated(self):
        self.assertEqual(ask("tyre", {"size": "LT285/75R16 126/123Q"})["load_kg_dual"], 1550)
        self.assertNotIn("load_kg_dual", ask("tyre", {"size": "205/55R16 91V"}))

    def test_wheel_as_text_and_as_fields(self):
        by_text = ask("wheel", {"spec": "18x9.5 +22 5x114.3 73.1"})
        by_fields = ask(
            "wheel", {"diameter_in": 18, "width_in": 9.5, "offset_mm": 22, "bolts": 5, "pcd_mm": 114.3, "bore_mm": 73.1}
        )
        self.assertEqual(by_text, by_fields)
        self.assertEqual(
            (by_text["outer_lip_mm"], by_text["inner_lip_mm"], by_text["backspacing_mm"]), (111.35, -155.35, 155.35)
        )

    def test_quantity(self):
        self.assertEqual(ask("quantity", {"text": "11/16 in", "kind": "length"}), {"value": 17.4625, "unit": "mm"})
        self.assertEqual(ask("quantity", {"text": "110 Nm", "kind": "torque"})["unit"], "N·m")

    def test_hub(self):
        found = ask("hub", HUB_INPUT)
        self.assertEqual(found["pattern"]["state"], "clear")
        self.assertEqual(
            (
                found["bore"]["state"],
                found["bore"]["ring_inner_mm"],
                found["bore"]["ring_outer_mm"],
                found["bore"]["radial_play_mm"],
            ),
            ("tight", 57.1, 72.6, 7.75),
        )
        self.assertEqual(found["seat"]["state"], "hit")
        self.assertEqual(
            (found["engagement"]["length_mm"], found["engagement"]["required_mm"], found["engagement"]["state"]),
            (16, 14, "clear"),
        )
        self.assertEqual(len(found["findings"]), 4)
        for finding in found["findings"]:
            self.assertTrue(
                {"state", "margin", "held_against", "reason", "basis", "inputs", "remedies"} <= set(finding)
            )

    def test_swap(self):
        found = ask("swap", {"from": CORNER, "to": {**CORNER, "wheel": {"spec": "17x7.5 +35"}}})
        self.assertEqual(
            (found["outer_lip_shift_mm"], found["inner_lip_shift_mm"], found["track_change_mm"]), (10, -10, 20)
        )
        self.assertIsNone(found["mass_change_kg_per_corner"])
        self.assertEqual(found["speedometer"], {"true_kmh_at_indicated_100": 100, "legal_r39": True})

    def test_pattern(self):
        found = ask("pattern", {"bolts": 5, "adjacent_mm": 67.2})
        self.assertAlmostEqual(found["pcd_mm"], 67.2 / math.sin(math.pi / 5), places=6)
        self.assertEqual(found["nearest"][0]["pattern"], "5x114.3")
        self.assertEqual(ask("pattern", {"bolts": 4, "across_mm": 100})["pcd_mm"], 100)

    def test_gap(self):
        found = ask("gap", GAP_INPUT)
        self.assertEqual((found["frame"], found["kind"], found["points_mm"]), ("knuckle", "damper", [[0, -151.6, 180]]))
        self.assertEqual(ask("gap", {**GAP_INPUT, "candidate": GAP_INPUT["present"]})["new_gap_mm"], 8)
        self.assertEqual(
            ask("gap", {**GAP_INPUT, "candidate": {"wheel": "16x7 +45", "tyre": "205/55R16"}})["new_gap_mm"], 5
        )

    def test_gap_at_lock_says_what_it_assumed(self):
        station = {"place": "liner", "edge": "front", "u": "inner"}
        found = ask("gap", {**GAP_INPUT, "station": station, "pose": {"steer_deg": 34, "travel_mm": 0}})
        self.assertIn("kingpin_inboard_mm = 0", found["assumed"])

    def test_caliper_against_a_candidate_is_unmeasured(self):
        station = {"place": "caliper", "radius_mm": 150, "face_mm": 20, "inner_face_mm": -40}
        given_input = {"present": GAP_INPUT["present"], "station": station, "candidate": GAP_INPUT["present"]}
        self.assertEqual(ask("gap", given_input)["state"], "unmeasured")


BAD = [
    ("swap", {"from": CORNER, "to": {**CORNER, "wheel": {"diameter_in": 18, "width_in": 99}}}, "to.wheel.width_in"),
    ("swap", {"from": CORNER, "to": {**CORNER, "wheel": "nonsense"}}, "to.wheel"),
    ("swap", {"from": CORNER, "to": {**CORNER, "tyre": "225/40R18"}}, "to.tyre"),
    ("swap", {"from": CORNER}, "to"),
    ("swap", {"from": CORNER, "to": {**CORNER, "spacer_mm": -5}}, "to.spacer_mm"),
    ("swap", {"from": CORNER, "to": {**CORNER, "spacer_cm": 5}}, "to.spacer_cm"),
    ("tyre", {"size": 5}, "size"),
    ("tyre", {"size": "hello"}, "size"),
    ("tyre", {}, "size"),
    ("tyre", {"aspect_pct": 55}, "section_width_mm"),
    ("gap", {**GAP_INPUT, "station": {"place": "liner", "edge": "front"}}, "station.u"),
    ("tyre", {"size": "205/55R16", "rim_width_in": "wide"}, "rim_width_in"),
    ("wheel", {"spec": "18x9.5 +22", "offset_mm": 30}, "offset_mm"),
    ("wheel", {"width_in": 9}, "diameter_in"),
    ("hub", {**HUB_INPUT, "spacer_mm": True}, "spacer_mm"),
    ("hub", {**HUB_INPUT, "hub": {**HUB_INPUT["hub"], "thread": "bolt"}}, "hub.thread"),
    ("hub", {**HUB_INPUT, "hub": {**HUB_INPUT["hub"], "bolts": 5.5}}, "hub.bolts"),
    ("hub", {**HUB_INPUT, "hub": {**HUB_INPUT["hub"], "bolt_length_mm": 30}}, "hub.bolt_length_mm"),
    ("hub", [], ""),
    ("pattern", {"bolts": 5, "across_mm": 100}, "across_mm"),
    ("pattern", {"bolts": 5}, "adjacent_mm"),
    ("gap", {**GAP_INPUT, "gap_mm": None}, "gap_mm"),
    ("gap", {**GAP_INPUT, "station": {"place": "roof"}}, "station.place"),
    ("gap", {**GAP_INPUT, "station": {"place": "damper"}}, "station.height_mm"),
    ("gap", {**GAP_INPUT, "present": {"wheel": "16x7", "tyre": "205/55R16"}}, "present.wheel.offset_mm"),
    ("quantity", {"text": "5 mm", "kind": "colour"}, "kind"),
    ("quantity", {"text": "1/0 in", "kind": "length"}, "text"),
]


class BadInputs(unittest.TestCase):
    def test_each_names_its_field_and_says_what_is_accepted(self):
        for name, given_input, field in BAD:
            with self.subTest(name=name, field=field):
                found = ask(name, given_input)
                self.assertEqual(found["error"]["field"], field, found)
                self.assertGreater(len(found["error"]["message"]), 10)

    def test_nan_infinity_and_broken_json(self):
        for text in (
            '{"size": "205/55R16", "rim_width_in": NaN}',
            '{"size": "205/55R16", "rim_width_in": 1e999}',
            "{",
            "",
            "[" * 5000,
            '{"size": "a", "size": "b"}',
            "nul",
        ):
            status, out = run(["tyre"], text)
            self.assertEqual(status, 2, text[:30])
            self.assertIn("message", json.loads(out)["error"])
        found = json.loads(run(["tyre"], '{"size": "205/55R16", "rim_width_in": -Infinity}')[1])
        self.assertEqual(found["error"]["field"], "rim_width_in")

    @settings(max_examples=200, deadline=None)
    @given(
        st.sampled_from(sorted(CALCULATIONS)),
        st.recursive(
            st.none() | st.booleans() | st.integers() | st.floats() | st.text(max_size=8),
            lambda inner: (
                st.lists(inner, max_size=3)
                | st.dictionaries(
                    st.sampled_from(
                        [
                            "size",
                            "spec",
                            "text",
                            "kind",
                            "hub",
                            "wheel",
                            "from",
                            "to",
                            "bolts",
                            "present",
                            "station",
                            "tyre",
                        ]
                    ),
                    inner,
                    max_size=4,
                )
            ),
        ),
    )
    def test_whatever_comes_in_an_object_comes_out(self, name, given_input):
        found, good = answer(CALCULATIONS[name], json.dumps(given_input))
        self.assertEqual(good, "error" not in found)
        json.dumps(found, allow_nan=False)


class TheScript(unittest.TestCase):
    def call(self, *arguments, text=""):
        return subprocess.run(
            [str(ROOT / "tally"), "calc", *arguments], input=text, capture_output=True, text=True, cwd="/", check=False
        )

    def test_one_answer(self):
        done = self.call("tyre", text='{"size": "265/35R18 97Y", "rim_width_in": 9.5}')
        self.assertEqual((done.returncode, json.loads(done.stdout)["diameter_mm"], done.stderr), (0, 642.7, ""))

    def test_bad_input_is_status_2_and_json(self):
        done = self.call("tyre", text='{"size": "oops"}')
        self.assertEqual((done.returncode, json.loads(done.stdout)["error"]["field"]), (2, "size"))
        self.assertNotIn("Traceback", done.stderr)
        self.assertEqual(self.call("nothing").returncode, 2)

    def test_many_goes_on_after_a_bad_line(self):
        done = self.call("tyre", "--many", text='{"size": "205/55R16"}\nnonsense\n{"size": "225/45R17"}\n')
        rows = [json.loads(line) for line in done.stdout.splitlines()]
        self.assertEqual((done.returncode, len(rows)), (0, 3))
        self.assertEqual((rows[0]["diameter_mm"], "error" in rows[1], rows[2]["diameter_mm"]), (631.9, True, 634.3))

    def test_list_and_help(self):
        listed = self.call()
        for name in CALCULATIONS:
            self.assertIn(name, listed.stdout)
        shown = self.call("hub", "--help")
        self.assertEqual(shown.returncode, 0)
        for key in ("stud_length_mm", "pad_thickness_mm", "ring_outer_mm", "radial_play_mm"):
            self.assertIn(key, shown.stdout)


MOVING = {
    "wheel": "17x8 +40",
    "tyre": "225/45R17",
    "bump_mm": 70,
    "droop_mm": 60,
    "steer_out_deg": 36,
    "steer_in_deg": 34,
    "kpi_deg": 12,
    "caster_deg": 5,
    "kingpin_inboard_mm": 70,
    "camber_deg": -1,
    "camber_gain_deg_per_mm": -0.01,
    "grid": {"steer": 5, "travel": 3},
    "obstacles": [
        {"name": "lip", "frame": "body", "points_mm": [[0, 90, 385]], "radius_mm": 2},
        {"name": "damper", "frame": "knuckle", "points_mm": [[0, -165, 260]]},
    ],
    "margins": {"body_mm": 10, "knuckle_mm": 5},
}


class InMotion(unittest.TestCase):
    def test_clearance_keys(self):
        found = ask("clearance", MOVING)
        self.assertEqual([row["name"] for row in found["obstacles"]], ["lip", "damper"])
        for row in found["obstacles"]:
            self.assertTrue({"gap_mm", "at", "static_gap_mm", "state"} <= set(row))
        self.assertEqual(set(found["tightest"]), {"name", "gap_mm", "margin_left_mm", "at"})
        self.assertEqual((len(found["map"]["gap_mm"]), len(found["map"]["gap_mm"][0])), (3, 5))
        self.assertEqual(found["map"]["steer_deg"][0], -34)
        self.assertEqual({"travel_mm", "out", "in"}, set(found["contact_free_steer_deg"][0]))

    def test_what_was_not_measured_is_never_clear(self):
        for name in ("bump_mm", "droop_mm", "steer_out_deg", "steer_in_deg"):
            found = ask("clearance", {**MOVING, name: None})
            self.assertEqual(found["obstacles"][0]["state"], "unmeasured")
            self.assertEqual(found["missing"], [name])

    def test_bad_input(self):
        cases = [
            ({"obstacles": []}, "obstacles"),
            ({"obstacles": [{"name": "x", "frame": "roof", "points_mm": [[0, 0, 0]]}]}, "obstacles.0.frame"),
            ({"obstacles": [{"name": "x", "frame": "body", "points_mm": []}]}, "obstacles.0.points_mm"),
            ({"obstacles": [{"name": "x", "frame": "body", "points_mm": [[0, 0]]}]}, "obstacles.0.points_mm.0"),
            (
                {"obstacles": [{"name": "x", "frame": "body", "points_mm": [[0, 0, 0]], "radius_mm": -1}]},
                "obstacles.0.radius_mm",
            ),
            ({"bump_mm": -5}, "bump_mm"),
            ({"droop_mm": -5}, "droop_mm"),
            ({"profile_mm": [[0, 10], [10, 20], [10, 10], [0, 20]]}, "profile_mm"),
            ({"wheel": "17x8"}, "wheel.offset_mm"),
            ({"tyre": "225/40R18"}, "tyre"),
        ]
        for change, field in cases:
            with self.subTest(field=field):
                self.assertEqual(ask("clearance", {**MOVING, **change})["error"]["field"], field)

    def test_profile_replaces_the_outline_whole(self):
        disc = [[-100, 0], [-100, 300], [100, 300], [100, 0], [-100, 0]]
        given_input = {
            **MOVING,
            "profile_mm": disc,
            "wheel": "17x8 +0",
            "steer_out_deg": 0,
            "steer_in_deg": 0,
            "camber_deg": 0,
            "camber_gain_deg_per_mm": 0,
        }
        found = ask(
            "clearance",
            {
                **given_input,
                "bump_mm": 20,
                "droop_mm": 0,
                "obstacles": [{"name": "x", "frame": "body", "points_mm": [[0, 0, 350]]}],
            },
        )
        self.assertAlmostEqual(found["obstacles"][0]["gap_mm"], 30.0, places=3)
        self.assertEqual(found["obstacles"][0]["static_gap_mm"], 50.0)

    def test_window_keys_and_range(self):
        given_input = {name: value for name, value in MOVING.items() if name != "wheel"} | {
            "wheel": "17x8",
            "widths_in": [8],
            "tyres": ["225/45R17"],
        }
        found = ask("window", {**given_input, "offset_range_mm": [0, 60]})["windows"][0]
        keys = {
            "width_in",
            "tyre",
            "no_contact",
            "all_clear",
            "low_end",
            "high_end",
            "best_offset_mm",
            "best_margin_mm",
        }
        self.assertEqual(set(found), keys)
        self.assertGreaterEqual(found["all_clear"]["from_mm"], found["no_contact"]["from_mm"])
        self.assertEqual(
            ask("window", {**given_input, "offset_range_mm": [60, 0]})["error"]["field"], "offset_range_mm"
        )
