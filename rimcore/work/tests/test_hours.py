"""Hours of six different sheets, walked by hand from the usual minutes of each module (common practice)."""

from __future__ import annotations

import unittest

from rimcore.work.hours import LEAST, RUSTY_MOST, USUAL_MOST, estimate, hours_by_module
from rimcore.work.modules_base import CornerHub, JobPlan, PartOn

HUBS = tuple(CornerHub(corner, 5, 110.0) for corner in ("FL", "FR", "RL", "RR"))
OF_FAMILY = {
    "wheel": ("wheels",),
    "coilover": ("springs", "alignment"),
    "axle_gears": ("axle gears",),
    "silencer": ("exhaust",),
    "brake_pads": ("brakes",),
    "other": ("other",),
    "seat": ("seats",),
    "radiator": ("radiator", "fluids"),
}
BOTH, FRONT, REAR = ("F", "R"), ("F",), ("R",)


def part(family: str, ends: tuple[str, ...] = BOTH, **spec: float) -> PartOn:
    return PartOn(family, family, spec, ends)


class SixSheets(unittest.TestCase):
    def hours(self, modules: tuple[str, ...], *parts: PartOn) -> float | None:
        return estimate(JobPlan(HUBS, parts), modules, OF_FAMILY).hours

    def test_wheels_alone(self) -> None:
        """Up and down 40 min; wheels 20 for the car and 20 each of two ends: 100 min."""
        self.assertEqual(self.hours(("wheels",), part("wheel")), round(100 / 60, 1))

    def test_coilovers_gears_brakes(self) -> None:
        """40 + springs 20 + 2 × 130 + gears 480 + brakes 2 × 90 + alignment 90 = 1,070 min."""
        modules = ("axle gears", "springs", "brakes", "alignment")
        found = self.hours(modules, part("coilover"), part("axle_gears", REAR), part("brake_pads"))
        self.assertEqual(found, round(1070 / 60, 1))

    def test_one_end_takes_one_ends_time(self) -> None:
        """40 + 20 + 130 + 90 = 280 min."""
        self.assertEqual(self.hours(("springs", "alignment"), part("coilover", FRONT)), round(280 / 60, 1))

    def test_an_exhaust(self) -> None:
        """40 + 150 = 190 min."""
        self.assertEqual(self.hours(("exhaust",), part("silencer", REAR)), round(190 / 60, 1))

    def test_a_seat_needs_no_jack_and_a_part_may_say_its_own(self) -> None:
        """45 min; and 12 min where the part itself says so."""
        self.assertEqual(self.hours(("seats",), part("seat", FRONT)), 0.8)
        self.assertEqual(self.hours(("seats",), part("seat", FRONT, fit_min=12)), 0.2)

    def test_nothing_and_what_nobody_can_time(self) -> None:
        self.assertEqual(self.hours(()), 0.0)
        self.assertIsNone(self.hours(("other",), part("other")))
        both = estimate(JobPlan(HUBS, (part("wheel"), part("other"))), ("wheels", "other"), OF_FAMILY)
        self.assertEqual((both.hours, both.unknown), (round(100 / 60, 1), ("other parts",)))

    def test_three_hours_of_each_module(self) -> None:
        rows = {
            one.module: one.hours
            for one in hours_by_module(
                JobPlan(HUBS, (part("silencer", REAR), part("wheel"))), ("exhaust", "wheels"), OF_FAMILY
            )
        }
        self.assertEqual(rows["exhaust"], (LEAST * 2.5, 2.5, RUSTY_MOST * 2.5))
        self.assertEqual(rows["wheels"], (LEAST * 1.0, 1.0, USUAL_MOST * 1.0))
        self.assertAlmostEqual(sum(one[1] for one in rows.values() if one), 2.5 + 1.0 + 40 / 60)
