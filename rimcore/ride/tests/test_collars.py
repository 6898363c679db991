"""Collars wound unevenly: against an energy that is least, against the evening of pads, and in closed form."""

import unittest

import numpy as np
from scipy import optimize

from rimcore.ride.collars import judge_corner_heights, wound
from rimcore.ride.weights import Pads, Stance, evened
from rimcore.tables.facts import G_M_PER_S2

ODD = Stance(
    np.array([28.0, 31.0, 22.0, 24.0]),
    (1510.0, 1480.0),
    2575.0,
    np.array([2.0, 2.0, 1.5, 1.5]),
    np.array([0.95, 0.95, 0.7, 0.7]),
    (9.0, 4.0),
)


def settled(stance, free):
    """Heights of the body for free movements of the springs.

    Springs and bars hold the least energy, found by search.
    """
    front, rear = (track / 2000 for track in stance.track_mm)
    base = stance.wheelbase_mm / 1000

    def heights(q):
        heave, pitch, roll = q
        return np.array(
            [
                heave - front * roll,
                heave + front * roll,
                heave - base * pitch - rear * roll,
                heave - base * pitch + rear * roll,
            ]
        )

    def energy(q):
        up = heights(q)
        springs = 0.5 * (stance.wheel_rate_n_per_mm * (free - up) ** 2).sum()
        bars = sum(0.5 * rate * (up[k] - up[k + 1]) ** 2 for k, rate in zip((0, 2), stance.bar_n_per_mm, strict=True))
        return springs + bars

    return heights(
        optimize.minimize(
            energy, np.zeros(3), method="Nelder-Mead", options={"xatol": 1e-10, "fatol": 1e-12, "maxiter": 4000}
        ).x
    )


class Heights(unittest.TestCase):
    def test_springs_and_bars_hold_the_least_energy(self):
        for collar in ((6.0, 0.0, 0.0, 0.0), (0.0, -4.0, 3.0, 0.0), (5.0, 5.0, -2.0, 7.0)):
            free = np.array(collar) / ODD.motion_ratio
            np.testing.assert_allclose(wound(ODD, collar).up_mm, settled(ODD, free), atol=1e-4)

    def test_the_load_only_moves_between_the_wheels(self):
        """Nothing is added, and neither pitch nor roll is out of balance: the change is the warp."""
        more = wound(ODD, (6.0, 0.0, -3.0, 2.0)).more_kg
        front, rear = ODD.track_mm
        self.assertAlmostEqual(more.sum(), 0.0, places=9)
        self.assertAlmostEqual(more[0] + more[1], 0.0, places=9)
        self.assertAlmostEqual(front * (more[1] - more[0]) + rear * (more[3] - more[2]), 0.0, places=6)

    def test_both_collars_of_an_end_lift_that_end_and_load_nobody(self):
        found = wound(ODD, (4.0, 4.0, 0.0, 0.0))
        np.testing.assert_allclose(found.up_mm, [4 / 0.95, 4 / 0.95, 0.0, 0.0], atol=1e-9)
        np.testing.assert_allclose(found.more_kg, 0.0, atol=1e-9)

    def test_the_turns_that_even_the_pads_do_even_them(self):
        pads = Pads(352, 338, 261, 289)
        done = evened(pads, ODD, 50.0)
        found = wound(ODD, done.turns * ODD.mm_per_turn)
        self.assertAlmostEqual(found.pads(pads).cross_pct, 50.0, places=6)
        np.testing.assert_allclose(found.up_mm, done.height_change_mm, atol=1e-6)

    def test_a_bar_at_one_end_takes_the_load_of_a_lone_collar_away(self):
        """A rigid bar holds both front sides alike; the rear then rolls free, and no wheel is left with more."""

        def load(bar):
            return wound(
                Stance(np.full(4, 30.0), (1500, 1500), 2600, np.full(4, 2.0), bar_n_per_mm=(bar, 0.0)), (8, 0, 0, 0)
            ).more_kg[0]

        self.assertAlmostEqual(load(0.0), 30 * 2 / G_M_PER_S2, places=9)
        self.assertLess(load(20.0), load(0.0) - 0.5)
        self.assertAlmostEqual(load(1e7), 0.0, delta=1e-3)


class Judged(unittest.TestCase):
    def test_the_corner_that_is_furthest_off_is_named(self):
        found = judge_corner_heights((-6.0, -2.0, -2.0, 2.0), (-6.0, -2.0, 0.0, -2.0), "")
        self.assertEqual((found.state, found.value), ("tight", 4.0))
        self.assertIn("rear right +2.0 mm", found.reason)

    def test_within_three_millimetres_it_is_the_same(self):
        self.assertEqual(judge_corner_heights((-3.0, 0.0, 0.0, 0.0), (0.0, 0.0, 0.0, 0.0), "").state, "clear")
        self.assertEqual(judge_corner_heights((-3.1, 0.0, 0.0, 0.0), (0.0, 0.0, 0.0, 0.0), "").state, "tight")

    def test_without_springs_nothing_is_clear(self):
        found = judge_corner_heights(None, (0.0, 0.0, 0.0, 0.0), "rear springs")
        self.assertEqual(found.state, "unmeasured")
        self.assertIn("rear springs", found.reason)

    def test_nothing_wound_and_nothing_set_is_nothing_to_say(self):
        self.assertIsNone(judge_corner_heights((0.0, 0.0, 0.0, 0.0), (0.0, 0.0, 0.0, 0.0), ""))


if __name__ == "__main__":
    unittest.main()
