"""Sound against the table of IEC 61672-1 and closed forms."""

import math
import unittest

from rimcore.quantities.errors import BadInput
from rimcore.registry import CALCULATIONS

#: IEC 61672-1, table of the A-weighting: nominal frequency [Hz], n of 10^(n/10), level [dB]
TABLE = {
    31.5: (15, -39.4),
    63: (18, -26.2),
    125: (21, -16.1),
    250: (24, -8.6),
    500: (27, -3.2),
    1000: (30, 0.0),
    2000: (33, 1.2),
    4000: (36, 1.0),
    8000: (39, -1.1),
}


def asked(**given):
    return CALCULATIONS["sound"].answer(given)


class Sound(unittest.TestCase):
    def test_table_of_the_a_weighting(self):
        for number, level in TABLE.values():
            self.assertAlmostEqual(asked(hz=10 ** (number / 10))["a_weighting_db"], level, delta=0.051)

    def test_sums_and_distances(self):
        self.assertAlmostEqual(asked(levels_db=[70, 70, 70, 70])["sum_db"], 70 + 20 * math.log10(2), places=6)
        self.assertAlmostEqual(asked(levels_db=[-3])["sum_db"], -3.0, places=9)
        self.assertAlmostEqual(asked(level_db=90, at_m=1, to_m=10)["level_there_db"], 70.0, places=9)

    def test_firing_and_the_pipe_against_a_drone(self):
        self.assertEqual(asked(rpm=2400, cylinders=4)["firing_hz"], 80.0)
        self.assertEqual(asked(rpm=2400, cylinders=2, strokes=2)["firing_hz"], 80.0)
        wave = math.sqrt(1.33 * 287.05 * 573.15)
        self.assertAlmostEqual(asked(drone_hz=80, gas_C=300)["quarter_wave_mm"], 1000 * wave / 320, places=6)

    def test_a_group_is_whole_or_refused(self):
        for given, field in (
            ({}, "levels_db"),
            ({"level_db": 90, "at_m": 1}, "to_m"),
            ({"rpm": 3000}, "cylinders"),
            ({"gas_C": 300}, "drone_hz"),
            ({"levels_db": []}, "levels_db"),
            ({"rpm": 3000, "cylinders": 4, "strokes": 3}, "strokes"),
            ({"hz": 0}, "hz"),
            ({"level_db": 90, "at_m": 0, "to_m": 2}, "at_m"),
        ):
            with self.subTest(given=given), self.assertRaises(BadInput) as refused:
                asked(**given)
            self.assertEqual(refused.exception.field, field)
