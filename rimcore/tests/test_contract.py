"""The declarations of the command line: one place for validation, help and answers."""

import json
import unittest

from rimcore.quantities.contract import Calculation, Key, check_object, help_text, refuse_hostile, tidy
from rimcore.quantities.errors import BadInput, DoesNotFit
from rimcore.registry import CALCULATIONS

WELL = {
    "wheel": "17x8 +40", "tyre": "225/45R17", "bump_mm": 50, "droop_mm": 40, "steer_out_deg": 30, "steer_in_deg": 30, "grid": {"steer": 5, "travel": 3},
    "obstacles": [{"name": "lip", "frame": "body", "points_mm": [[0, 90, 385]]}],
}  # fmt: skip
GOOD = {
    "gearing": {"tyre": "225/45R17", "gears": [3.5, 1.0], "axle_ratio": 4.1, "speed_kmh": 100, "rpm": 3000},
    "bolt": {"thread": "M12x1.5", "class": "10.9", "torque_Nm": 110, "wrench_mm": 450, "adapter_mm": 50},
    "quantity": {"text": "3 mm", "kind": "length"},
    "tyre": {"size": "LT285/75R16 126/123Q", "rim_width_in": 8},
    "wheel": {"spec": "17x8 +40 5x108 63.4"},
    "swap": {"from": {"wheel": "17x8 +40", "tyre": "225/45R17"}, "to": {"wheel": "17x8 +35", "tyre": "225/45R17"}},
    "hub": {"hub": {"bolts": 5}, "wheel": {"bolts": 5}},
    "pattern": {"bolts": 4, "across_mm": 108},
    "gap": {
        "present": {"wheel": "16x7 +42", "tyre": "205/55R16"}, "station": {"place": "arch", "clock": 12, "side_gap_mm": 20, "up_gap_mm": 60},
        "candidate": {"wheel": "16x7 +38", "tyre": "205/55R16"},
    },
    "clearance": WELL,
    "rank": {
        **{k: v for k, v in WELL.items() if k not in ("wheel", "tyre", "grid")}, "present": {"wheel": "16x7 +42", "tyre": "205/55R16"},
        "wheels": [{"wheel": "17x8 +40"}], "tyres": [{"tyre": "225/45R17"}], "school": "flush",
    },
    "stance": {"from": {"wheel": "16x7 +42", "tyre": "205/55R16"}, "to": {"wheel": "17x8 +40", "tyre": "225/45R17"}},
    "shake": {"low_kmh": 60, "high_kmh": 120, "diameter_mm": 634, "felt": "wheel", "when": "band"},
    "window": {**{k: v for k, v in WELL.items() if k != "wheel"}, "wheel": "17x8", "offset_range_mm": [20, 50]},
}  # fmt: skip


class EveryCalculation(unittest.TestCase):
    def test_each_answers_with_declared_keys_only(self):
        self.assertEqual(set(GOOD), set(CALCULATIONS))
        for name, given_input in GOOD.items():
            with self.subTest(name=name):
                calculation = CALCULATIONS[name]
                found = calculation.answer(given_input)
                declared = {key.name for key in calculation.outputs}
                extra = {"clearance": set(), "gap": {"state", "reason"}}.get(name, set())
                self.assertLessEqual(set(found), declared | extra)
                json.dumps(found, allow_nan=False)

    def test_help_names_every_key_with_its_unit(self):
        for calculation in CALCULATIONS.values():
            text = help_text(calculation)
            for key in (*calculation.inputs, *calculation.outputs):
                self.assertIn(f"{key.name}  {key.kind}", text, calculation.name)
                if key.unit:
                    self.assertIn(f"[{key.unit}]", text)
                self.assertTrue(key.meaning, key.name)

    def test_every_one_line_names_a_source(self):
        for calculation in CALCULATIONS.values():
            self.assertTrue(calculation.line and calculation.source)

    def test_a_key_that_is_not_known_is_refused_with_the_nearest(self):
        for name, given_input in GOOD.items():
            first = next(iter(given_input))
            with self.subTest(name=name), self.assertRaises(BadInput) as caught:
                CALCULATIONS[name].answer({**given_input, first + "x": 1})
            self.assertIn(f"did you mean {first}", caught.exception.message)

    def test_every_required_key_is_missed(self):
        for name, given_input in GOOD.items():
            for key in CALCULATIONS[name].inputs:
                if key.required:
                    short = {k: v for k, v in given_input.items() if k != key.name}
                    with self.subTest(name=name, key=key.name), self.assertRaises(BadInput) as caught:
                        CALCULATIONS[name].answer(short)
                    self.assertEqual(caught.exception.field, key.name)


class Checks(unittest.TestCase):
    KEYS = (
        Key("a_mm", "number", "a length", "mm", 0, 10),
        Key("n", "integer", "a count", "", 1, 9, default=3),
        Key("on", "boolean", "a switch"),
        Key("kind", "choice", "a choice", choices=("x", "y")),
        Key("list", "list", "numbers", item=Key("one", "number", "a number", required=True), most=2),
    )

    def test_defaults_and_absent(self):
        self.assertEqual(check_object({}, self.KEYS, ""), {"a_mm": None, "n": 3, "on": None, "kind": None, "list": None})
        self.assertEqual(check_object({"n": None}, self.KEYS, "")["n"], 3)

    def test_refused_with_the_path(self):
        cases = [
            ({"a_mm": 11}, "a_mm"), ({"a_mm": "5"}, "a_mm"), ({"a_mm": True}, "a_mm"), ({"a_mm": 10**400}, "a_mm"), ({"n": 2.5}, "n"), ({"n": 0}, "n"),
            ({"on": 1}, "on"), ({"kind": "z"}, "kind"), ({"kind": 1}, "kind"), ({"list": 5}, "list"), ({"list": [1, None]}, "list.1"),
            ({"list": [1, "x"]}, "list.1"), ({"list": [1, 2, 3]}, "list"), (5, ""), ([], ""),
        ]  # fmt: skip
        for given_input, field in cases:
            with self.subTest(given=given_input), self.assertRaises(BadInput) as caught:
                check_object(given_input, self.KEYS, "")
            self.assertEqual(caught.exception.field, field)

    def test_non_finite_anywhere(self):
        with self.assertRaises(BadInput) as caught:
            refuse_hostile({"a": [{"b": float("nan")}]})
        self.assertEqual(caught.exception.field, "a.0.b")
        with self.assertRaises(BadInput):
            tidy({"a": float("inf")})

    def test_errors_keep_their_kind_under_a_parent(self):
        error = DoesNotFit("too small", "bore_mm").under("wheel").under("to")
        self.assertIsInstance(error, DoesNotFit)
        self.assertEqual(error.field, "to.wheel.bore_mm")

    def test_an_answer_that_overflows_is_an_error_not_a_nan(self):
        broken = Calculation("x", "", "", (), (), lambda given_input: {"a": 1e308 * 10})
        with self.assertRaises(BadInput):
            broken.answer({})
