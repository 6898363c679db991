"""The ledger against four pads, by independent statics."""

import unittest

import numpy as np

from rimcore.mass.against import Padded, judge_pads, rests_kg
from rimcore.mass.balance import Item, Stands, after

CAR = Stands((352.0, 338.0, 261.0, 289.0), 2570.0, (1520.0, 1490.0))


class AgainstPads(unittest.TestCase):
    def test_no_collar_moves_ends_and_sides(self):
        """Wound across: nothing on an axle, no moment about the centre line, so the wider axle takes less of it
        (statics).
        """
        onto = 11.0 * CAR.track_mm[1] / CAR.track_mm[0]
        wound = Padded((352.0 + onto, 338.0 - onto, 261.0 - 11.0, 289.0 + 11.0), 0.5)
        for rest in rests_kg(CAR, wound).values():
            self.assertAlmostEqual(rest, 0.0, places=9)

    def test_what_is_left_is_by_moments(self):
        """Three items about both lines: sums of the pads follow from forces and moments alone."""
        items = [
            Item("bench", -21.0, 1900.0, 60.0),
            Item("spare", -15.5, 2800.0, 0.0),
            Item("tank", 4.0, 2600.0, -200.0),
        ]
        told = after(CAR, items)
        rest = sum(one.kg * one.x_mm for one in items) / CAR.wheelbase_mm
        self.assertAlmostEqual(sum(told.pads_kg[2:]), 261.0 + 289.0 + rest)
        found = judge_pads(CAR, Padded(CAR.pads_kg, 0.5), Padded(told.pads_kg, 0.5), items)
        self.assertEqual((found.state, round(found.value, 9)), ("clear", 0.0))
        self.assertAlmostEqual(found.uncertainty, np.sqrt(4 * 0.25))

    def test_each_end_and_side_is_looked_at(self):
        for name, off, rest in (
            ("front", (2, 2, 0, 0), 4.0),
            ("rear", (0, 0, 2, 2), 4.0),
            ("right side", (-4, 4, -4, 4), 8.0),
        ):
            judged = judge_pads(CAR, Padded(CAR.pads_kg, 0.5), Padded(tuple(np.add(CAR.pads_kg, off)), 0.5), [])
            self.assertEqual((judged.state, round(judged.value, 9)), ("hit", rest))
            self.assertIn(f"the {name} weighs {rest:.1f} kg more", judged.reason)

    def test_states_by_the_doubt_of_pads_and_scales(self):
        for off, scales, state in (
            (0.49, 0.0, "clear"),
            (0.51, 0.0, "tight"),
            (1.49, 0.0, "tight"),
            (1.51, 0.0, "hit"),
            (1.51, 3.0, "clear"),
        ):
            read = (CAR.pads_kg[0] - off, CAR.pads_kg[1] - off, *CAR.pads_kg[2:])
            judged = judge_pads(CAR, Padded(CAR.pads_kg, 0.5), Padded(read, 0.5), [], (), scales)
            self.assertEqual(judged.state, state, (off, scales))
        self.assertIn(
            "less", judge_pads(CAR, Padded(CAR.pads_kg, 0.5), Padded((300.0, *CAR.pads_kg[1:]), 0.5), []).reason
        )

    def test_what_is_not_known_or_not_alike_is_not_judged(self):
        plain = Padded(CAR.pads_kg, 0.5)
        self.assertIn("headliner", judge_pads(CAR, plain, plain, [], ["headliner"]).reason)
        self.assertEqual(
            judge_pads(CAR, Padded(CAR.pads_kg, 0.5, (), "full"), Padded(CAR.pads_kg, 0.5, (), "half"), []).state,
            "unmeasured",
        )
        self.assertEqual(
            judge_pads(CAR, Padded(CAR.pads_kg, 0.5, (), "Full"), Padded(CAR.pads_kg, 0.5, (), "full"), []).state,
            "clear",
        )
