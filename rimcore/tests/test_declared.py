"""Declarations: levers, benches and families take what they say they take, and nothing else."""

import math
import unittest

from hypothesis import given
from hypothesis import strategies as st

from rimcore import limits
from rimcore.benches import BENCHES, LEVERS
from rimcore.families import FAMILIES
from rimcore.limits import LIMITS
from rimcore.quantities.declared import PLACES, Lever
from rimcore.quantities.errors import BadInput, CoreError
from rimcore.registry import CALCULATIONS
from rimcore.well.read.stations import STATIONS
from rimcore.work.together import latest, latest_of_pairs, total, totals_of_pairs

NUMBERS = [lever for lever in LEVERS.values() if lever.kind == "number"]
WHOLE = {
    "wheel": {"diameter_in": 17.0, "width_in": 8.0, "offset_mm": 40.0},
    "tyre": {"size": "225/45R17 91W", "diameter_in": 17.0},
    "ring": {"inner_mm": 63.4, "outer_mm": 72.6},
    "spacer": {"thickness_mm": 15.0},
    "stud": {"thread": "M12x1.5", "length_mm": 45.0},
    "nut": {"thread": "M12x1.5", "seat": "cone 60"},
    "bolt": {"thread": "M14x1.5", "length_mm": 28.0, "seat": "ball R13"},
    "valve": {},
    "sensor": {},
    "cap": {},
    "caliper": {"radius_mm": 165.0, "face_mm": 31.0},
    "rotor": {"diameter_mm": 300.0},
    "spring": {"rate_n_per_mm": 45.0},
    "helper": {"rate_n_per_mm": 12.0, "free_length_mm": 60.0, "block_length_mm": 18.0},
    "damper": {"extended_mm": 520.0, "compressed_mm": 350.0},
    "bump_stop": {"free_mm": 45.0, "solid_mm": 18.0},
    "top_mount": {},
    "control_arm": {"place": "lower"},
    "ball_joint": {"fixing": "pressed"},
    "bush": {"outer_mm": 44.0, "inner_mm": 12.0},
    "roll_bar": {"outer_mm": 24.0},
    "bar_link": {},
    "subframe": {"state": "used"},
    "tie_rod": {"thread": "M14x1.5"},
    "rack_bracket": {"kind": "bolted"},
    "shaft": {"spline_mm": 17.0},
    "leaf_pack": {},
    "lift_block": {"height_mm": 50.0},
    "u_bolt": {"length_mm": 210.0},
    "hose": {},
    "propshaft": {},
    "brake_pads": {},
    "brake_lines": {},
    "brake_fluid": {"dot": "4"},
    "intake_pipe": {"bore_mm": 76.0},
    "coupler": {"bore_mm": 76.0},
    "reducer": {"bore_mm": 76.0, "to_mm": 70.0},
    "air_filter": {"bore_mm": 76.0},
    "meter_housing": {"bore_mm": 76.0},
    "charge_cooler": {},
    "manifold": {"bore_mm": 51.0},
    "catalyst": {"bore_mm": 60.0},
    "mid_pipe": {"bore_mm": 60.0},
    "silencer": {"bore_mm": 60.0},
    "tail_tip": {"bore_mm": 60.0},
    "hanger": {},
    "clamp": {},
    "radiator": {},
    "fan": {},
    "thermostat": {"opens_c": 87.0},
    "radiator_cap": {"cap_kpa": 90.0},
    "coolant_hose": {},
    "coolant": {},
    "axle_gears": {"ratio": 4.3},
    "differential": {},
    "driveshaft": {},
    "shifter": {},
    "shifter_bush": {},
    "mount": {},
    "bearing": {},
    "steering_hose": {},
    "steering_pump": {},
    "fluid": {"kind": "axle"},
    **dict.fromkeys(
        (
            "panel",
            "splitter",
            "strake",
            "vent",
            "wing",
            "insert",
            "splitter_adjuster",
            "seat",
            "battery",
            "glass",
            "trim",
            "ballast",
        ),
        {},
    ),
    "shift_cable": {},
    "other": {},
}


class Levers(unittest.TestCase):
    def test_every_one_names_a_limit_a_place_and_what_it_does_untouched(self):
        for lever in LEVERS.values():
            self.assertTrue(lever.name and lever.places, lever.code)
            self.assertLessEqual(set(lever.places), set(PLACES))
            if lever.kind == "number":
                self.assertIn(lever.limit or lever.code, LIMITS)
            self.assertEqual(lever.check(None), lever.default)
            self.assertTrue(lever.said(lever.default))

    def test_both_ends_of_its_range_are_taken_and_nothing_beyond(self):
        for lever in NUMBERS:
            low, high = lever.span.span
            self.assertEqual((lever.check(low), lever.check(high)), (low, high), lever.code)
            for odd in (
                math.nextafter(low, -math.inf),
                math.nextafter(high, math.inf),
                math.nan,
                math.inf,
                -math.inf,
                "20",
            ):
                with self.assertRaises(BadInput) as refused:
                    lever.check(odd)
                self.assertIn(lever.span.accepted, refused.exception.message)
                self.assertEqual(refused.exception.field, lever.code)

    @given(st.sampled_from(NUMBERS), st.floats(allow_nan=True, allow_infinity=True))
    def test_any_number_is_kept_as_it_is_or_refused(self, lever, value):
        try:
            self.assertEqual(lever.check(value), value)
        except BadInput:
            self.assertFalse(lever.span.holds(value))

    def test_flags_and_choices(self):
        flag, choice = (
            Lever("f", "Flag", default=False),
            Lever("c", "Choice", default="a", choices={"a": "one", "b": "other"}),
        )
        self.assertEqual((flag.kind, choice.kind), ("flag", "choice"))
        self.assertEqual(
            (flag.check(1), flag.check(0.0), flag.said(True), flag.said(False)), (True, False, "yes", "no")
        )
        self.assertEqual((choice.check("b"), choice.said("b")), ("b", "other"))
        with self.assertRaises(BadInput) as refused:
            choice.check("c")
        self.assertIn("one, other", refused.exception.message)

    def test_how_it_is_said(self):
        self.assertEqual(LEVERS["camber_deg"].said(-1.8), "−1.8°")
        self.assertEqual(LEVERS["camber_deg"].said(None), "as it stands")
        self.assertEqual(LEVERS["spacer_mm"].said(12.5), "12.5 mm")
        self.assertEqual(LEVERS["axle_ratio"].said(4.1), "4.1")


class Benches(unittest.TestCase):
    def test_what_they_name_is_there(self):
        for key, bench in BENCHES.items():
            self.assertEqual(key, bench.key)
            self.assertTrue(bench.name and bench.about)
            self.assertLessEqual(set(bench.stations), set(STATIONS))
            self.assertLessEqual(set(bench.calculations), set(CALCULATIONS))

    def test_every_station_is_some_benchs(self):
        used = {code for bench in BENCHES.values() for code in bench.stations}
        self.assertEqual(used, set(STATIONS))


class Families(unittest.TestCase):
    def test_a_plain_part_of_each_is_taken(self):
        self.assertEqual(set(WHOLE), set(FAMILIES))
        for key, given_ in WHOLE.items():
            FAMILIES[key].check(given_)
            self.assertIsNone(FAMILIES[key].fault(given_))

    def test_what_is_required_is_missed_by_name(self):
        for key, given_ in WHOLE.items():
            for spec in FAMILIES[key].specs:
                if spec.required:
                    for blank in (None, ""):
                        with self.assertRaises(BadInput) as refused:
                            FAMILIES[key].check({**given_, spec.code: blank})
                        self.assertEqual(refused.exception.field, spec.code)

    def test_every_number_holds_to_its_limit(self):
        for key, given_ in WHOLE.items():
            for spec in FAMILIES[key].specs:
                if not spec.limit:
                    continue
                limit = LIMITS[spec.limit]
                for odd in (limit.low - 1e-6, limit.high + 1e-6, math.nan, "5", True, [1]):
                    self.assertIsNotNone(FAMILIES[key].fault({**given_, spec.code: odd}), (key, spec.code, odd))

    @given(
        st.sampled_from(sorted(WHOLE)),
        st.dictionaries(
            st.text(max_size=12), st.one_of(st.none(), st.text(max_size=12), st.floats(), st.lists(st.integers()))
        ),
    )
    def test_whatever_is_kept_a_family_says_yes_or_why_not(self, key, odd):
        codes = [spec.code for spec in FAMILIES[key].specs]
        mixed = {**WHOLE[key], **dict(zip(codes, odd.values(), strict=False))}
        said = FAMILIES[key].fault(mixed)
        if said is None:
            FAMILIES[key].check(mixed)
        else:
            with self.assertRaises((CoreError, TypeError, ValueError)):
                FAMILIES[key].check(mixed)

    def test_a_tyre_and_its_row_agree_on_the_rim(self):
        self.assertIn("its size says 17 in", FAMILIES["tyre"].fault({"size": "225/45R17", "diameter_in": 16.0}))

    def test_a_wheel_is_not_wider_than_tall(self):
        self.assertIn("width", FAMILIES["wheel"].fault({"diameter_in": 10.0, "width_in": 12.0, "offset_mm": 0.0}))

    def test_an_outline_that_can_not_be_goes_on_no_tyre(self):
        for profile in ([[1, 2], [3]], [["a", "b"]], 7, [[0, 0], [0, 0], [0, 0]]):
            self.assertIsNotNone(FAMILIES["tyre"].fault({**WHOLE["tyre"], "profile": profile}), profile)


class Limits(unittest.TestCase):
    def test_each_is_said_by_one_topic(self):
        said = [name for topic in limits._TOPICS for name in topic.LIMITS]
        self.assertEqual(len(said), len(set(said)))
        self.assertGreater(len(said), 150)

    def test_each_holds_its_ends_and_nothing_beyond(self):
        for name, limit in limits.LIMITS.items():
            with self.subTest(limit=name):
                self.assertLess(limit.low, limit.high)
                self.assertTrue(limit.holds(limit.low) and limit.holds(limit.high))
                step = (limit.high - limit.low) * 1e-6
                self.assertFalse(
                    limit.holds(limit.low - step) or limit.holds(limit.high + step) or limit.holds(math.nan)
                )


class Together(unittest.TestCase):
    @given(st.lists(st.one_of(st.none(), st.integers(0, 10**6)), max_size=6))
    def test_one_that_says_nothing_leaves_the_whole_unknown(self, values):
        known = bool(values) and None not in values
        self.assertEqual(total(values), sum(values) if known else None)
        self.assertEqual(latest(values), max(values) if known else None)

    @given(
        st.lists(st.one_of(st.none(), st.floats(0, 1e6)), min_size=1, max_size=5),
        st.lists(st.one_of(st.none(), st.floats(0, 1e6)), min_size=1, max_size=5),
    )
    def test_pairs_say_what_each_pair_says(self, first, second):
        sums, longest = totals_of_pairs(first, second), latest_of_pairs(first, second)
        for i, one in enumerate(first):
            for k, other in enumerate(second):
                for table, plain in ((sums, total([one, other])), (longest, latest([one, other]))):
                    self.assertTrue(math.isnan(table[i, k]) if plain is None else table[i, k] == plain)


if __name__ == "__main__":
    unittest.main()
