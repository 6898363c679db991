"""A wheel and its tyre on one line."""

import unittest

from rimcore.quantities.errors import BadInput
from rimcore.wheels.pair import parse_pair
from rimcore.wheels.tyre import parse_tyre
from rimcore.wheels.wheel import parse_wheel


class OneLine(unittest.TestCase):
    def test_in_either_order_with_whatever_stands_between(self):
        wheel, tyre = parse_wheel("16x6.5 +50 5x108 63.4"), parse_tyre("205/55R16 91V")
        for line in (
            "16x6.5 +50 5x108 63.4, 205/55R16 91V",
            "16x6.5 +50 5x108 63.4 205/55R16 91V",
            "205/55R16 91V 16x6.5 +50 5x108 63.4",
            "205/55R16 91V on 16x6.5 ET50 5x108 63.4",
            "16x6.5 +50 5x108 63.4 with 205/55R16 91V",
            "16x6.5 +50 5x108 63.4; 205/55R16 91V",
            "  16x6.5   +50 5x108 63.4 | 205/55R16 91V ",
        ):
            self.assertEqual(parse_pair(line), (wheel, tyre), line)

    def test_only_what_is_needed(self):
        wheel, tyre = parse_pair("17x8 +40 225/45R17")
        self.assertEqual(
            (wheel.diameter_in, wheel.width_in, wheel.offset_mm, wheel.bore_mm, tyre.load_kg),
            (17.0, 8.0, 40.0, None, None),
        )
        self.assertEqual(parse_pair("15x8 -19 31x10.50R15LT")[1].flotation, True)

    def test_refused_in_words(self):
        for line, said in (
            ("", "no wheel and tyre"),
            ("205/55R16", "no wheel and tyre"),
            ("16x6.5 +50", "no wheel and tyre"),
            ("old ones", "no wheel and tyre"),
            ("16x6.5 205/55R16", "offset is missing"),
            ("17x8 +40 205/55R16", "for a rim of 16 in, the wheel has 17"),
            ("x" * 201, "too long"),
            ("a " * 17, "more words"),
            ("16x6.5 +50, 205/55R16, 215/55R16", "no wheel and tyre"),
        ):
            with self.assertRaisesRegex(BadInput, said):
                parse_pair(line)


if __name__ == "__main__":
    unittest.main()
