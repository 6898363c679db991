"""Ranking judges as the bench and the other calculations do."""

import json
import unittest

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st

from rimcore.calc import answer
from rimcore.quantities.judgement import worst
from rimcore.registry import CALCULATIONS

PRESENT = {"wheel": "17x7.5 ET45", "tyre": "225/45R17"}
STILL = {"bump_mm": 0, "droop_mm": 0, "steer_out_deg": 0, "steer_in_deg": 0, "camber_gain_deg_per_mm": 0}
AXIS = {"kpi_deg": 12, "caster_deg": 4, "kingpin_inboard_mm": 105, "camber_gain_deg_per_mm": -0.01}
MOVES = {"bump_mm": 60, "droop_mm": 60, "steer_out_deg": 36, "steer_in_deg": 33, **AXIS}


def ask(name, given):
    found, good = answer(CALCULATIONS[name], json.dumps(given))
    return found if good else found["error"]


def rank(wheels, tyres=("225/45R17",), school="wide", **more):
    rows = [one if isinstance(one, dict) else {"wheel": one} for one in wheels]
    return ask(
        "rank",
        {"present": PRESENT, "wheels": rows, "tyres": [{"tyre": tyre} for tyre in tyres], "school": school, **more},
    )


class WasClearOnContact(unittest.TestCase):
    """Each of these was said to be clear where the other calculations said otherwise."""

    def test_a_damper_read_below_the_flange(self):
        reading = {"station": {"place": "damper", "height_mm": 180}, "gap_mm": 24}
        found = rank(["17x7.5 ET75", "17x7.5 ET45"], readings=[reading], **STILL)
        row = next(row for row in found["ranked"] if "75" in row["wheel"])
        same = ask("gap", {"present": PRESENT, **reading, "candidate": {"wheel": "17x7.5 ET75", "tyre": "225/45R17"}})
        self.assertEqual((row["state"], row["gap_mm"]), ("hit", -6.0))
        self.assertEqual(row["gap_mm"], same["new_gap_mm"])

    def test_the_present_camber_counts_where_no_other_is_given(self):
        reading = {"station": {"place": "arch", "clock": 12, "side_gap_mm": 12, "up_gap_mm": 6}}
        leaning = {"present": {**PRESENT, "camber_deg": -3}, "readings": [reading], **MOVES}
        plain = rank(["17x7.5 ET45"], **leaning)["ranked"][0]
        said = rank(["17x7.5 ET45"], **leaning, camber_deg=-3)["ranked"][0]
        upright = rank(["17x7.5 ET45"], **leaning, camber_deg=0)["ranked"][0]
        self.assertEqual(plain["gap_mm"], said["gap_mm"])
        self.assertNotAlmostEqual(plain["gap_mm"], upright["gap_mm"], delta=1.0)

    def test_caliper_and_joint_are_unmeasured_until_the_wheel_says_its_barrel(self):
        brake = {"name": "front brake", "station": {"place": "caliper", "radius_mm": 168, "face_mm": 30}}
        joint = {"station": {"place": "joint", "radius_mm": 170, "from_mm": 20, "to_mm": 60}}
        found = rank(
            ["17x7.5 ET45", {"wheel": "17x8 ET40", "barrel_radius_mm": 190, "spoke_back_mm": 40}],
            readings=[brake, joint],
            **STILL,
        )
        states = {row["wheel"]: row["state"] for row in found["ranked"]}
        self.assertEqual(states, {"17×7.5 +45": "unmeasured", "17×8 +40": "clear"})
        self.assertIn("front brake: wheel.barrel_radius_mm", found["missing"])
        tight = rank([{"wheel": "17x8 ET40", "barrel_radius_mm": 165, "spoke_back_mm": 40}], readings=[brake], **STILL)[
            "ranked"
        ][0]
        self.assertEqual((tight["state"], tight["gap_mm"]), ("hit", -3.0))

    def test_radii_are_taken_off_before_the_nearest_is_chosen(self):
        thin = {"name": "thin", "frame": "body", "points_mm": [[0, -40, 333]], "radius_mm": 0}
        fat = {"name": "fat", "frame": "body", "points_mm": [[0, -40, -342]], "radius_mm": 40}
        row = rank(["17x7.5 ET45"], obstacles=[thin, fat], **STILL)["ranked"][0]
        self.assertEqual((row["state"], row["obstacle"]), ("hit", "fat"))
        self.assertAlmostEqual(row["gap_mm"], -15.1, delta=0.1)

    def test_an_arm_is_no_part_of_the_body(self):
        arm = {"name": "link", "station": {"place": "arm", "edge": "rear", "height_mm": -60}, "gap_mm": 60}
        row = rank(["17x7.5 ET45"], readings=[arm], **MOVES)
        self.assertEqual(row["ranked"][0]["state"], "unmeasured")
        self.assertIn("link: pivot_mm and joint_mm", row["missing"])
        hinged = rank(["17x7.5 ET45"], readings=[arm | {"pivot_mm": [-400, -80], "joint_mm": [-90, -110]}], **MOVES)[
            "ranked"
        ][0]
        self.assertNotEqual(hinged["state"], "unmeasured")
        self.assertEqual(ask("rank", {})["field"], "present")

    def test_a_half_given_arm_is_refused(self):
        arm = {"station": {"place": "arm", "edge": "rear", "height_mm": -60}, "gap_mm": 60, "pivot_mm": [-400, -80]}
        self.assertEqual(rank(["17x7.5 ET45"], readings=[arm], **MOVES)["field"], "readings.0.joint_mm")

    def test_ties_stand_in_the_order_in_which_they_were_given(self):
        wheels = [{"wheel": f"17x8 ET{offset}", "name": str(offset)} for offset in (38, 44, 40, 42)]
        far = {"name": "far", "frame": "body", "points_mm": [[0, 200, 520]]}
        found = rank(wheels, obstacles=[far], school="light", **STILL)
        self.assertEqual([row["name"] for row in found["ranked"]], ["38", "44", "40", "42"])


class Agrees(unittest.TestCase):
    """Random corners and pairs: the same states, gaps within 0.05 mm."""

    @settings(max_examples=40, deadline=None, derandomize=True)
    @given(st.integers(0, 2**32 - 1))
    def test_with_clearance(self, seed):
        rng = np.random.default_rng(seed)
        obstacles = [self.obstacle(rng, k) for k in range(rng.integers(1, 5))]
        corner = {
            "bump_mm": rng.uniform(20, 80),
            "droop_mm": rng.uniform(20, 80),
            "steer_out_deg": float(rng.choice([0, 36])),
            "steer_in_deg": 33.0,
            "ride_drop_mm": rng.uniform(-10, 20),
            "obstacles": obstacles,
            "camber_deg": rng.uniform(-3, 0),
            "spacer_mm": float(rng.choice([0, 5])),
        }
        for key, low, high in (
            ("kpi_deg", 4, 16),
            ("caster_deg", 0, 10),
            ("kingpin_inboard_mm", 60, 140),
            ("camber_gain_deg_per_mm", -0.03, 0.01),
        ):
            if rng.random() < 0.9:
                corner[key] = rng.uniform(low, high)
        wheels = [f"17x{rng.choice([7.5, 8, 8.5])} {rng.integers(15, 60):+d}" for _ in range(4)]
        for row in rank(wheels, ("225/45R17",), **corner)["ranked"]:
            wheel = row["wheel"].replace("×", "x").replace("−", "-")
            found = ask(
                "clearance", {"wheel": wheel, "tyre": row["tyre"], "grid": {"steer": 5, "travel": 5}, **corner}
            )["obstacles"]
            self.assertEqual(row["state"], worst(one["state"] for one in found))
            same = next(one for one in found if one["name"] == row["obstacle"])
            # How deep a point lies inside, where the way out has creases, is good to a millimetre.
            self.assertAlmostEqual(row["gap_mm"], same["gap_mm"], delta=0.05 if same["gap_mm"] > -5 else 1.0)

    @staticmethod
    def obstacle(rng, number):
        rides = rng.random() < 0.25
        angle, radius = rng.uniform(-1.9, 1.9), rng.uniform(330, 420)
        base = np.array([radius * np.sin(angle), rng.uniform(-190, 110), radius * np.cos(angle) + 50])
        if rides:
            base = np.array([0.0, rng.uniform(-190, -160), rng.uniform(240, 300)])
        points = base + rng.uniform(-15, 15, (rng.integers(1, 5), 3))
        return {
            "name": str(number),
            "frame": "knuckle" if rides else "body",
            "points_mm": points.tolist(),
            "radius_mm": float(rng.choice([0, 0, 5, 20])),
        }

    @settings(max_examples=30, deadline=None, derandomize=True)
    @given(st.integers(0, 2**32 - 1))
    def test_with_gap_at_rest(self, seed):
        """A reading on the knuckle, whatever its height: the rule would read what the ranking is judged by, or less."""
        rng = np.random.default_rng(seed)
        reading = {"station": {"place": "damper", "height_mm": rng.uniform(120, 300)}, "gap_mm": rng.uniform(2, 40)}
        wheel = f"17x{rng.choice([7.5, 8, 8.5])} {rng.integers(20, 60):+d}"
        row = rank([wheel], readings=[reading], **STILL)["ranked"][0]
        new = ask("gap", {"present": PRESENT, **reading, "candidate": {"wheel": wheel, "tyre": "225/45R17"}})[
            "new_gap_mm"
        ]
        self.assertLessEqual(row["gap_mm"], new + 0.03)
        self.assertEqual(row["state"], "hit" if row["gap_mm"] < 0 else "tight" if row["gap_mm"] < 5 else "clear")


if __name__ == "__main__":
    unittest.main()
