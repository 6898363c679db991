"""Quantities against their definitions.

Sources: 1 in = 25.4 mm, 1 lb = 0.45359237 kg, 1 lbf = 4.4482216152605 N (NIST SP 811);
1 kgf = 9.80665 N (CGPM 1901); hp = 550 ft·lbf/s, PS = 75 kgf·m/s.
"""

import math
import unittest

import pint
from hypothesis import given, settings
from hypothesis import strategies as st

from rimcore.quantities.errors import BadInput, CoreError
from rimcore.quantities.units import convert, parse_quantity, write_quantity
from rimcore.tables.units import UNIT_OF_KIND

LBF_FT = 4.4482216152605 * 0.3048

#: as written, kind, value in the unit of the kind
WRITTEN = [
    ("11/16 in", "length", 17.4625),
    ('1 1/2"', "length", 38.1),
    ("1-1/2 in", "length", 38.1),
    ("5/16in", "length", 7.9375),
    ("22/32 in", "length", 17.4625),
    ("½ in", "length", 12.7),
    ("1½ in", "length", 38.1),
    ("3.6 cm", "length", 36.0),
    ("1,5 mm", "length", 1.5),
    ("1' 3 1/2\"", "length", 393.7),
    ("14k", "spring_rate", 14 * 9.80665),
    ("10 kg/mm", "spring_rate", 98.0665),
    ("784 lb/in", "spring_rate", 784 * 4.4482216152605 / 25.4),
    ("50 ft-lb", "torque", 50 * LBF_FT),
    ("50 lbf·ft", "torque", 50 * LBF_FT),
    ("10 in-lb", "torque", 10 * LBF_FT / 12),
    ("165 Nm", "torque", 165.0),
    ("165 N·m", "torque", 165.0),
    ("2°30'", "angle", 2.5),
    ("-2°30'", "angle", -2.5),
    ("-1.5 deg", "angle", -1.5),
    ("−1.5°", "angle", -1.5),
    ("2 3/4 turns", "angle", 990.0),
    ("187F", "temperature", (187 - 32) / 1.8),
    ("187 °F", "temperature", (187 - 32) / 1.8),
    ("33 psi", "pressure", 33 * 4.4482216152605 / 0.64516),
    ("2.3 bar", "pressure", 230.0),
    ("7 lb 4 oz", "mass", 7.25 * 0.45359237),
    ("350 g", "mass", 0.35),
    ("340 hp", "power", 340 * 550 * LBF_FT / 1000),
    ("150 PS", "power", 150 * 75 * 9.80665 / 1000),
    ("50 mph", "speed", 80.4672),
    ("400 ml", "volume", 0.4),
]

REFUSED = [
    ("", "length"),
    ("   ", "length"),
    ("nan", "length"),
    ("inf mm", "length"),
    ("1e999 mm", "length"),
    ("1/0 in", "length"),
    ("abc", "length"),
    ("5 kg", "length"),
    ("5 mm", "mass"),
    ("12", "length"),
    ("11/16", "length"),
    ("1,500 mm", "length"),
    ("2.5.1 mm", "length"),
    ("--3 mm", "length"),
    ("3 mm 4 mm", "length"),
    ("7 lb 20 oz", "mass"),
    ("5 mm mm", "length"),
    ("-300 C", "temperature"),
    ("-500F", "temperature"),
    ("3 3/2 in", "length"),
    ("x" * 200, "length"),
]


class Writing(unittest.TestCase):
    def test_what_people_write_is_read(self):
        for text, kind, expected in WRITTEN:
            with self.subTest(text=text):
                found = parse_quantity(text, kind)
                self.assertAlmostEqual(found.value, expected, places=6)
                self.assertEqual(found.unit, UNIT_OF_KIND[kind])

    def test_nonsense_is_refused_with_what_is_accepted(self):
        for text, kind in REFUSED:
            with self.subTest(text=text), self.assertRaises(BadInput) as caught:
                parse_quantity(text, kind)
            self.assertTrue(caught.exception.message)
            self.assertEqual(caught.exception.field, "text")

    def test_bare_number_takes_the_default_unit(self):
        self.assertEqual(parse_quantity("11/16", "length", "in").value, 17.4625)
        self.assertEqual(parse_quantity("9,5", "length", "mm").value, 9.5)

    def test_unknown_kind_and_unit_name_their_field(self):
        with self.assertRaises(BadInput) as caught:
            parse_quantity("5 mm", "colour")
        self.assertEqual(caught.exception.field, "kind")
        with self.assertRaises(BadInput) as caught:
            parse_quantity("5", "length", "furlong")
        self.assertEqual(caught.exception.field, "default_unit")

    def test_factors_agree_with_pint(self):
        registry = pint.UnitRegistry()
        for unit, theirs in (("in", "inch"), ("ft", "foot")):
            self.assertAlmostEqual(
                parse_quantity(f"1 {unit}", "length").value, registry(f"1 {theirs}").to("mm").magnitude, places=9
            )
        self.assertAlmostEqual(
            parse_quantity("1 psi", "pressure").value, registry("1 psi").to("kPa").magnitude, places=9
        )


SHOWN_UNITS = {
    "length": ["mm", "cm", "in"],
    "mass": ["kg", "lb"],
    "torque": ["N·m", "lbf·ft"],
    "angle": ["deg"],
    "pressure": ["bar", "psi", "kPa"],
    "temperature": ["°C", "°F"],
    "spring_rate": ["N/mm", "lb/in", "k"],
    "speed": ["km/h", "mph"],
    "power": ["kW", "hp", "PS"],
    "volume": ["L", "ml"],
}


class RoundTrip(unittest.TestCase):
    @settings(max_examples=300, deadline=None)
    @given(st.data())
    def test_what_is_printed_is_read_back(self, data):
        kind = data.draw(st.sampled_from(sorted(SHOWN_UNITS)))
        unit = data.draw(st.sampled_from(SHOWN_UNITS[kind]))
        low = -200.0 if kind == "temperature" else -5000.0
        value = data.draw(st.floats(low, 5000.0, allow_nan=False))
        again = parse_quantity(write_quantity(value, kind, unit, places=9), kind).value
        self.assertAlmostEqual(again, value, places=4)

    @settings(max_examples=300, deadline=None)
    @given(st.text(max_size=40), st.sampled_from(sorted(UNIT_OF_KIND)))
    def test_any_text_gives_a_finite_value_or_a_clear_refusal(self, text, kind):
        try:
            found = parse_quantity(text, kind, {"length": "mm"}.get(kind))
        except CoreError as error:
            self.assertTrue(error.message)
        else:
            self.assertTrue(math.isfinite(found.value))

    def test_convert_is_the_inverse(self):
        self.assertAlmostEqual(convert(parse_quantity("81.13 lbf·ft", "torque").value, "torque", "lbf·ft"), 81.13)
