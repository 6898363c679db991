"""The declarations of the command line: one place for validation, help and answers."""

import json
import unittest

from rimcore.quantities.contract import Calculation, Key, check_object, help_text, refuse_hostile, tidy
from rimcore.quantities.errors import BadInput, DoesNotFit
from rimcore.registry import CALCULATIONS

WELL = {
    "wheel": "17x8 +40",
    "tyre": "225/45R17",
    "bump_mm": 50,
    "droop_mm": 40,
    "steer_out_deg": 30,
    "steer_in_deg": 30,
    "grid": {"steer": 5, "travel": 3},
    "obstacles": [{"name": "lip", "frame": "body", "points_mm": [[0, 90, 385]]}],
}
CORNER = {
    "kind": "wishbone",
    "wheel": {"centre_y_mm": -30, "radius_mm": 310},
    "static": {"camber_deg": -1},
    "half_track_mm": 750,
    "points_mm": {
        "upper_front": [120, -330, 190],
        "upper_rear": [-130, -340, 180],
        "upper_joint": [-12, -95, 230],
        "lower_front": [160, -420, -110],
        "lower_rear": [-180, -410, -105],
        "lower_joint": [5, -75, -130],
        "rod_inner": [-130, -390, -70],
        "rod_outer": [-120, -85, -75],
    },
}
FOUR = {"FL": 352, "FR": 338, "RL": 261, "RR": 289}
GOOD = {
    "schedule": {
        "today": "2027-05-03",
        "event_on": "2027-06-01",
        "week_hours": [2, 2, 2, 2, 2, 6, 6],
        "tasks": [{"id": "fit", "hours": [4, 6, 12], "parts": ["wheels"]}],
        "parts": [{"id": "wheels", "lead_days": [7, 14, 28], "wrong_pct": 5}],
        "draws": 200,
    },
    "factor": {"past": [{"estimated_hours": 4, "taken_hours": 7, "kind": "wheels"}]},
    "compare": {"before": [10.0, 10.2, 9.8], "after": [9.0, 9.1, 8.9], "useful": 0.5, "better": "less"},
    "calibrate": {"pairs": [{"promised": 5, "measured": 5.3, "pm": 1, "group": "gap"}]},
    "laps": {
        "samples": [[0, -0.001, 0], [20, 0.001, 0], [40, 0.001, 0.01], [60, -0.001, 0], [80, 0.001, 0]],
        "start": [[0, -0.0005], [0, 0.0005]],
    },
    "stop": {"samples": [[0, 100], [1, 70], [2, 40], [3, 10], [4, 0]], "from_kmh": 90, "to_kmh": 0, "slope_pct": 1},
    "compose": {
        "slots": [{"name": "wheels", "options": [{"id": "a", "money": 400}, {"id": "b", "money": 300}]}],
        "goal": "money",
        "limits": {"money": 500},
    },
    "spring": {
        "rate_N_per_mm": 60,
        "free_length_mm": 200,
        "block_length_mm": 80,
        "corner_kg": 340,
        "unsprung_kg": 40,
        "bump_mm": 50,
        "perch_up_mm": 5,
    },
    "kinematics": {
        **CORNER,
        "travel_mm": [-40, 0, 40, 400],
        "rack_mm": [0, 20],
        "spring": {"body": [0, -200, 400], "moving": [0, -150, -60], "on": "lower"},
    },
    "steering": {"left": CORNER, "rack_mm": [-40, 0, 40], "wheelbase_mm": 2570, "kingpin_track_mm": 1400},
    "rack-centre": {"left_stick_out_mm": 20, "right_stick_out_mm": 14},
    "tie-rod": {
        "inner_mm": [0, 0, 0],
        "outer_mm": [0, 355, 0],
        "inner_move_mm": [26, 0, 0],
        "thread": "M14x1.5",
        "engaged_mm": 25,
        "rod_length_mm": 355,
    },
    "shaft": {"joints": [{"angle_deg": 20}, {"angle_deg": 25, "phase_deg": 10}], "engaged_mm": 30, "spline_mm": 19},
    "caster-sweep": {
        "camber_out_deg": -0.1,
        "camber_in_deg": -3.8,
        "steer_deg": 20,
        "camber_straight_deg": -3.0,
        "resolution_deg": 0.1,
    },
    "alignment": {
        "wheels": {"FL": {"camber_deg": -3, "toe_mm": 1, "over_mm": 400}, "FR": {"toe_deg": 0.1}},
        "targets": {"FL": {"camber_deg": -2.5}},
        "adjusters": [{"name": "left arm", "effects": {"FL.camber_deg": 0.4}}],
    },
    "corner-weights": {
        "pads_kg": FOUR,
        "wheel_rate_N_per_mm": {"FL": 32, "FR": 32, "RL": 26, "RR": 26},
        "track_mm": {"front": 1520, "rear": 1490},
        "wheelbase_mm": 2570,
        "mm_per_turn": 1.5,
        "limit_turns": 4,
    },
    "centre-of-gravity": {
        "pads_kg": FOUR,
        "wheelbase_mm": 2570,
        "track_mm": {"front": 1520, "rear": 1490},
        "raised": {"end": "front", "by_mm": 400, "rear_kg": 566, "radius_mm": 305},
    },
    "square": {
        "left_mm": 900,
        "right_mm": 901,
        "front_mm": 700,
        "rear_mm": 700,
        "front_left_to_rear_right_mm": 1140,
        "front_right_to_rear_left_mm": 1143,
    },
    "air": {"temperature_C": 25, "pressure_kPa": 98, "humidity_pct": 40},
    "power-correction": {"temperature_C": 25, "pressure_kPa": 98, "measured_kW": 100, "standard": "SAE J1349"},
    "meter": {"from_mm": 70, "to_mm": 80},
    "intake": {
        "displacement_L": 2,
        "rpm": 6000,
        "compare_temperature_C": 40,
        "sections": [
            {"kind": "entry", "diameter_mm": 70},
            {"kind": "bend", "diameter_mm": 70, "angle_deg": 90, "radius_mm": 90},
            {"kind": "filter", "drop_kPa": 0.4, "at_kg_per_s": 0.1},
        ],
    },
    "exhaust": {
        "displacement_L": 2,
        "rpm": 6000,
        "gas_in_C": 800,
        "gas_out_C": 450,
        "sections": [
            {"kind": "pipe", "diameter_mm": 60, "length_mm": 2000},
            {"kind": "silencer", "drop_kPa": 3, "at_kg_per_s": 0.1, "at_C": 400},
        ],
    },
    "sound": {
        "levels_db": [80, 83],
        "hz": 100,
        "rpm": 3000,
        "cylinders": 4,
        "drone_hz": 100,
        "gas_C": 300,
        "level_db": 90,
        "at_m": 0.5,
        "to_m": 7.5,
    },
    "cooling": {
        "cap_kPa": 100,
        "glycol_pct": 50,
        "coolant_C": 105,
        "from_core_mm": [350, 325, 16],
        "to_core_mm": [660, 325, 36],
        "radiator": {
            "ua_W_per_K": 1500,
            "air_kg_per_s": 1.2,
            "coolant_kg_per_s": 1.5,
            "air_in_C": 25,
            "coolant_in_C": 95,
        },
    },
    "bleed": {"log": [[0, 20, 20], [10, 21, 20], [20, None, 20]], "boil_C": 120},
    "brakes": {
        "mass_kg": 1400,
        "from_kmh": 100,
        "wheelbase_mm": 2560,
        "cg_height_mm": 540,
        "front_pct": 62,
        "loaded_radius_mm": {"front": 305, "rear": 300},
        "rotors_kg": {"front": 6.5, "rear": 4.2},
        "before": {"mass_kg": 1300, "loaded_radius_mm": {"front": 300, "rear": 300}},
    },
    "coastdown": {
        "runs": [
            {"direction": way, "t_s": [0, 5, 10, 15, 20, 25], "v_kmh": [110, 100, 91, 83, 76, 70]}
            for way in ("out", "back")
        ],
        "mass_kg": 1200,
        "air": {"temperature_C": 15, "pressure_kPa": 101.3},
        "frontal_m2": 2.0,
    },
    "ramp": {
        "lip_mm": {"ahead_of_axle": 800, "height": 150},
        "tail_mm": {"behind_axle": 700, "height": 250},
        "belly_mm": {"behind_front_axle": 1300, "height": 140},
        "radius_mm": {"front": 300, "rear": 300},
        "wheelbase_mm": 2560,
        "ramps_deg": [{"name": "drive", "deg": 9}],
    },
    "splitter": {
        "area_m2": 0.3,
        "speed_kmh": 150,
        "fasteners": 12,
        "lever_mm": {"load": 150, "adjuster": 300},
        "adjusters": 2,
    },
    "panel": {
        "outline_mm": [[0, 0], [900, 0], [900, 600], [0, 600]],
        "holes_mm": [[[100, 100], [200, 100], [200, 200]]],
        "kg_per_m2": 4.1,
        "sheet_mm": [1000, 2000],
        "heat": [{"name": "pipe", "line_mm": [[1000, 0], [1000, 600]], "radius_mm": 30, "keep_mm": 50}],
    },
    "balance": {
        "pads_kg": FOUR,
        "wheelbase_mm": 2570,
        "track_mm": {"front": 1520, "rear": 1490},
        "cg_height_mm": 500,
        "items": [{"name": "seat", "kg": -14, "x_mm": 2200, "y_mm": 300, "z_mm": 450}],
    },
    "lighten": {"items": [{"name": "seat", "kg": 14, "money": -40}, {"name": "spare", "kg": 11}], "maximise": "kg"},
    "gearing": {"tyre": "225/45R17", "gears": [3.5, 1.0], "axle_ratio": 4.1, "speed_kmh": 100, "rpm": 3000},
    "bolt": {"thread": "M12x1.5", "class": "10.9", "torque_Nm": 110, "wrench_mm": 450, "adapter_mm": 50},
    "quantity": {"text": "3 mm", "kind": "length"},
    "tyre": {"size": "LT285/75R16 126/123Q", "rim_width_in": 8},
    "wheel": {"spec": "17x8 +40 5x108 63.4"},
    "swap": {"from": {"wheel": "17x8 +40", "tyre": "225/45R17"}, "to": {"wheel": "17x8 +35", "tyre": "225/45R17"}},
    "hub": {"hub": {"bolts": 5}, "wheel": {"bolts": 5}},
    "pattern": {"bolts": 4, "across_mm": 108},
    "gap": {
        "present": {"wheel": "16x7 +42", "tyre": "205/55R16"},
        "station": {"place": "arch", "clock": 12, "side_gap_mm": 20, "up_gap_mm": 60},
        "candidate": {"wheel": "16x7 +38", "tyre": "205/55R16"},
    },
    "clearance": WELL,
    "rank": {
        **{k: v for k, v in WELL.items() if k not in ("wheel", "tyre", "grid")},
        "present": {"wheel": "16x7 +42", "tyre": "205/55R16"},
        "wheels": [{"wheel": "17x8 +40"}],
        "tyres": [{"tyre": "225/45R17"}],
        "school": "flush",
    },
    "stance": {"from": {"wheel": "16x7 +42", "tyre": "205/55R16"}, "to": {"wheel": "17x8 +40", "tyre": "225/45R17"}},
    "shake": {"low_kmh": 60, "high_kmh": 120, "diameter_mm": 634, "felt": "wheel", "when": "band"},
    "window": {**{k: v for k, v in WELL.items() if k != "wheel"}, "wheel": "17x8", "offset_range_mm": [20, 50]},
}


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
        self.assertEqual(
            check_object({}, self.KEYS, ""), {"a_mm": None, "n": 3, "on": None, "kind": None, "list": None}
        )
        self.assertEqual(check_object({"n": None}, self.KEYS, "")["n"], 3)

    def test_refused_with_the_path(self):
        cases = [
            ({"a_mm": 11}, "a_mm"),
            ({"a_mm": "5"}, "a_mm"),
            ({"a_mm": True}, "a_mm"),
            ({"a_mm": 10**400}, "a_mm"),
            ({"n": 2.5}, "n"),
            ({"n": 0}, "n"),
            ({"on": 1}, "on"),
            ({"kind": "z"}, "kind"),
            ({"kind": 1}, "kind"),
            ({"list": 5}, "list"),
            ({"list": [1, None]}, "list.1"),
            ({"list": [1, "x"]}, "list.1"),
            ({"list": [1, 2, 3]}, "list"),
            (5, ""),
            ([], ""),
        ]
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
