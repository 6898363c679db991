"""Stops against energy and statics written another way."""

import unittest

from hypothesis import given, settings
from hypothesis import strategies as st

from rimcore.quantities.errors import BadInput
from rimcore.registry import CALCULATIONS

CAR = {
    "mass_kg": 1400.0,
    "from_kmh": 100.0,
    "wheelbase_mm": 2560.0,
    "cg_height_mm": 540.0,
    "front_pct": 62.0,
    "loaded_radius_mm": {"front": 305.0, "rear": 300.0},
    "rotors_kg": {"front": 6.5, "rear": 4.2},
}


def asked(**change):
    return CALCULATIONS["brakes"].answer(CAR | change)


class Stops(unittest.TestCase):
    @settings(derandomize=True, deadline=None)
    @given(st.floats(500, 3000), st.floats(30, 250), st.floats(0.1, 1.2), st.floats(40, 65))
    def test_heat_in_the_rotors_is_the_energy_of_the_stop(self, mass, speed, g, front):
        found = asked(mass_kg=mass, from_kmh=speed, deceleration_g=g, front_pct=front)
        heat = 2 * 460 * (6.5 * found["rise_C"]["front"] + 4.2 * found["rise_C"]["rear"]) / 1000
        self.assertAlmostEqual(heat / found["energy_kJ"], 1.0, places=6)
        self.assertAlmostEqual(found["energy_kJ"], 1.04 * mass * (speed / 3.6) ** 2 / 2000, places=4)

    def test_loads_balance_about_the_rear_contact(self):
        """Moments about the rear wheels' contact: N_f L = m g (L − x) + m a h."""
        found = asked(deceleration_g=0.9)
        behind = 2560 * 0.38
        wanted = ((2560 - behind) + 0.9 * 540) / 2560 * 100
        self.assertAlmostEqual(found["front_load_pct"], wanted, places=6)

    def test_torques_stop_the_car(self):
        found = asked(deceleration_g=0.7)
        force = found["axle_torque_Nm"]["front"] / 0.305 + found["axle_torque_Nm"]["rear"] / 0.300
        self.assertAlmostEqual(force, 1400 * 1.04 * 0.7 * 9.80665, places=4)

    def test_a_rear_that_lifts_is_told_and_held(self):
        found = asked(cg_height_mm=1500, deceleration_g=1.0)
        self.assertEqual(found["front_load_pct"], 100.0)
        self.assertEqual(found["rise_C"]["rear"], 0.0)
        self.assertIn("lift", found["warnings"][0])
        self.assertEqual(asked()["warnings"], [])

    def test_a_thousand_pounds_on_seven_thousand_and_taller_tyres(self):
        """About 1,000 lb added to 7,000 lb lengthens stops (common practice): 14.3 % by mass alone, more by radius."""
        found = asked(
            mass_kg=8000 * 0.45359237,
            before={"mass_kg": 7000 * 0.45359237, "loaded_radius_mm": {"front": 305, "rear": 300}},
        )
        self.assertAlmostEqual(found["pressure_change_pct"], 100 / 7, places=6)
        taller = asked(before={"mass_kg": 1400, "loaded_radius_mm": {"front": 290, "rear": 290}})
        self.assertAlmostEqual(taller["pressure_change_pct"], 100 * (305 / 290 - 1), places=6)
        self.assertIsNone(asked()["pressure_change_pct"])

    def test_refused(self):
        for change, field in (
            ({"to_kmh": 100}, "to_kmh"),
            ({"mass_kg": 0}, "mass_kg"),
            ({"front_pct": 101}, "front_pct"),
            ({"rotors_kg": {"front": 5}}, "rotors_kg.rear"),
            ({"before": {"mass_kg": 1}}, "before.loaded_radius_mm"),
            ({"loaded_radius_mm": None}, "loaded_radius_mm"),
            ({"wheelbase_mm": 0}, "wheelbase_mm"),
        ):
            with self.subTest(change=change), self.assertRaises(BadInput) as refused:
                asked(**change)
            self.assertEqual(refused.exception.field, field)
