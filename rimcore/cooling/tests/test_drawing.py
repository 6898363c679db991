"""The space for a core, drawn: to one scale, on the sheet, leaning."""

from __future__ import annotations

import unittest

from rimcore.cooling.drawing import HIGH, LEFT, WIDTH, core_drawing
from rimcore.parts.spaces import leaning_mm

SPACE = {"between_rails": 700.0, "space_up": 346.0, "condenser_to_fan": 61.0}
CORE = {"width_mm": 660.0, "height_mm": 325.0, "depth_mm": 36.0}


class Drawn(unittest.TestCase):
    def test_all_of_it_to_one_scale(self) -> None:
        found = core_drawing(SPACE, {}, CORE)
        assert found.now is not None
        scale = found.space[0].width / 700.0
        self.assertAlmostEqual(found.now[0].width, 660.0 * scale)
        self.assertAlmostEqual(found.now[1].width, 36.0 * scale)
        self.assertAlmostEqual(found.space[1].width, 61.0 * scale)
        self.assertAlmostEqual(found.now[0].foot, found.space[0].foot, msg="a core stands on its mount")

    def test_stays_on_the_sheet_whatever_was_read(self) -> None:
        for rails, up, deep in ((700, 346, 61), (50, 1500, 20), (1500, 50, 300), (1, 1, 1)):
            found = core_drawing({"between_rails": rails, "space_up": up, "condenser_to_fan": deep}, {}, {})
            self.assertLessEqual(found.space[1].x + found.space[1].width, WIDTH - LEFT + 1e-6)
            self.assertLessEqual(found.space[0].height, HIGH + 1e-6)

    def test_what_leans_takes_less_height_and_more_depth(self) -> None:
        high, deep = leaning_mm(325.0, 36.0, 25.0)
        self.assertLess(high, 325.0)
        self.assertAlmostEqual(deep, 36.0 * 0.906308 + 325.0 * 0.422618, places=3)
        upright, leaning = core_drawing(SPACE, CORE, {}), core_drawing(SPACE, CORE, {}, 25.0)
        assert upright.before is not None and leaning.before is not None
        self.assertLess(leaning.before[0].height, upright.before[0].height)
