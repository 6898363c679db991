"""Bolts against the tables of ISO 898-1, ASME B1.1 and SAE J429, and by hand."""

import json
import math
import unittest

from rimcore.calc import answer
from rimcore.fastening.bolts import COARSE_MM, proof_mpa, read_thread, tension, wrench_setting_nm
from rimcore.quantities.errors import BadInput
from rimcore.registry import CALCULATIONS


def ask(**given):
    found, good = answer(CALCULATIONS["bolt"], json.dumps(given))
    return found, good


class Tables(unittest.TestCase):
    def test_stress_areas_and_proof_loads_of_iso_898_1(self):
        """ISO 898-1, tables of coarse and fine threads: nominal stress area [mm²] and proof load [kN]."""
        for thread, area, loads in (
            ("M6", 20.1, {"8.8": 11.6, "10.9": 16.7, "12.9": 19.5}),
            ("M8", 36.6, {"8.8": 21.2, "10.9": 30.4, "12.9": 35.5}),
            ("M10", 58.0, {"8.8": 33.7, "10.9": 48.1, "12.9": 56.3}),
            ("M12", 84.3, {"8.8": 48.9, "10.9": 70.0, "12.9": 81.8}),
            ("M16", 157.0, {"8.8": 91.0, "10.9": 130.0, "12.9": 152.0}),
            ("M20", 245.0, {"8.8": 147.0, "10.9": 203.0, "12.9": 238.0}),
            ("M12x1.5", 88.1, {"8.8": 51.1, "10.9": 73.1, "12.9": 85.5}),
            ("M14x1.5", 125.0, {"8.8": 72.5, "10.9": 104.0, "12.9": 121.0}),
        ):
            bolt = read_thread(thread)
            self.assertAlmostEqual(bolt.stress_area_mm2 / area, 1.0, delta=0.004, msg=thread)
            for name, load_kn in loads.items():
                got = tension(bolt, name, 0.2, 75.0, None).proof_load_n / 1000
                self.assertAlmostEqual(got / load_kn, 1.0, delta=0.008, msg=f"{thread} {name}")

    def test_inch_stress_areas_of_asme_b1_1(self):
        """ASME B1.1: 1/4-20 0.0318, 5/16-18 0.0524, 3/8-16 0.0775, 7/16-20 0.1187, 1/2-13 0.1419, 1/2-20 0.1599, 5/8-11
        0.226 in².
        """
        for thread, area in (
            ("1/4-20", 0.0318),
            ("5/16-18", 0.0524),
            ("3/8-16", 0.0775),
            ("7/16-20", 0.1187),
            ("1/2-13", 0.1419),
            ("1/2-20", 0.1599),
            ("5/8-11", 0.226),
        ):
            self.assertAlmostEqual(
                read_thread(thread).stress_area_mm2 / 25.4**2, area, delta=0.0002 if area < 0.2 else 0.0006, msg=thread
            )

    def test_proof_loads_of_sae_j429(self):
        """SAE J429: 1/2-20 grade 5 13,600 lbf, grade 8 19,200 lbf; grade 5 over an inch 74 ksi."""
        for name, pounds in (("SAE 5", 13_600), ("SAE 8", 19_200)):
            self.assertAlmostEqual(
                tension(read_thread("1/2-20"), name, 0.2, 75.0, None).proof_load_n / 4.4482216, pounds, delta=60
            )
        self.assertAlmostEqual(proof_mpa("SAE 5", 25.4), 85 * 6.894757, places=3)
        self.assertAlmostEqual(proof_mpa("SAE 5", 28.0), 74 * 6.894757, places=3)
        self.assertEqual([proof_mpa("8.8", d) for d in (16.0, 16.1)], [580.0, 600.0])

    def test_coarse_pitches_of_iso_261(self):
        self.assertEqual(
            [COARSE_MM[d] for d in (6, 8, 10, 12, 14, 16, 20, 24)], [1.0, 1.25, 1.5, 1.75, 2.0, 2.0, 2.5, 3.0]
        )
        self.assertEqual(read_thread("m12").thread.pitch_mm, 1.75)
        for bad in ("M13", "M3", "M41", "12", "", "1/2"):
            with self.assertRaises(BadInput):
                read_thread(bad)


class Torque(unittest.TestCase):
    def test_by_hand(self):
        """M12×1.5 10.9: 88.13 mm² × 830 = 73.1 kN; 75 % is 54.9 kN; × 0.2 × 12 mm is 131.7 N·m."""
        area = math.pi / 4 * (12 - 0.9382 * 1.5) ** 2
        found, good = ask(thread="M12x1.5", **{"class": "10.9"})
        self.assertTrue(good)
        self.assertAlmostEqual(found["stress_area_mm2"], area, places=6)
        self.assertAlmostEqual(found["preload_N"], 0.75 * 830 * area, places=3)
        self.assertAlmostEqual(found["torque_Nm"], 0.2 * 0.75 * 830 * area * 0.012, places=6)
        self.assertEqual(
            (found["of_proof_pct"], found["load"]["state"], found["wrench_setting_Nm"], found["stated"]),
            (75.0, "clear", None, None),
        )

    def test_there_and_back(self):
        for thread, name, factor in (("M12x1.5", "10.9", 0.2), ("1/2-20", "SAE 8", 0.15), ("M8", "8.8", 0.12)):
            first, _ = ask(thread=thread, nut_factor=factor, use_pct=62.5, **{"class": name})
            back, _ = ask(thread=thread, nut_factor=factor, torque_Nm=first["torque_Nm"], **{"class": name})
            self.assertAlmostEqual(back["of_proof_pct"], 62.5, places=9)
            self.assertAlmostEqual(back["preload_N"], first["preload_N"], places=6)

    def test_states_at_eighty_and_a_hundred_of_proof(self):
        for share, state in ((80.0, "clear"), (80.01, "tight"), (100.0, "tight"), (0.0, "clear")):
            found, _ = ask(thread="M10", use_pct=share, **{"class": "8.8"})
            self.assertEqual((found["load"]["state"], found["load"]["value"]), (state, share))
        full = tension(read_thread("M10"), "8.8", 0.2, 100.0, None).torque_nm
        for over, state in ((0.999, "tight"), (1.001, "hit"), (0.79, "clear")):
            found, _ = ask(thread="M10", torque_Nm=full * over, **{"class": "8.8"})
            self.assertEqual(found["load"]["state"], state)
            self.assertAlmostEqual(found["load"]["margin"], 80.0 - 100 * over)

    def test_a_turn_after_the_torque_says_nothing_of_the_load(self):
        found, _ = ask(thread="M12", torque_Nm=80, angle_deg=90, wrench_mm=400, adapter_mm=100, **{"class": "10.9"})
        self.assertEqual(
            (found["stated"], found["preload_N"], found["of_proof_pct"], found["load"]["state"]),
            ("80 N·m + 90°", None, None, "unmeasured"),
        )
        self.assertEqual((found["torque_Nm"], found["wrench_setting_Nm"]), (80.0, 64.0))

    def test_a_wrench_with_an_adapter(self):
        self.assertEqual(wrench_setting_nm(100.0, 500.0, 0.0), 100.0)
        found, _ = ask(thread="M12", torque_Nm=110, wrench_mm=450, adapter_mm=50, **{"class": "10.9"})
        self.assertAlmostEqual(found["wrench_setting_Nm"], 99.0)
        self.assertIsNone(ask(thread="M12", torque_Nm=110, wrench_mm=450, **{"class": "10.9"})[0]["wrench_setting_Nm"])

    def test_bad_input(self):
        for given, field in (
            ({"thread": "M12", "class": "10.9", "use_pct": 75, "torque_Nm": 100}, "torque_Nm"),
            ({"thread": "M12", "class": "10.9", "angle_deg": 90}, "angle_deg"),
            ({"thread": "M12", "class": "9.8"}, "class"),
            ({"thread": "M13", "class": "8.8"}, "thread"),
            ({"class": "8.8"}, "thread"),
            ({"thread": "M12"}, "class"),
            ({"thread": "M12", "class": "8.8", "use_pct": 101}, "use_pct"),
            ({"thread": "M12", "class": "8.8", "nut_factor": 0}, "nut_factor"),
            ({"thread": "M12", "class": "8.8", "torque_Nm": 0}, "torque_Nm"),
            ({"thread": "M12", "class": "8.8", "wrench_mm": 0}, "wrench_mm"),
            ({"thread": "M12", "class": "8.8", "torque_Nm": "100"}, "torque_Nm"),
            ({"thread": "M12", "class": "8.8", "bolt": 1}, "bolt"),
        ):
            found, good = ask(**given)
            self.assertFalse(good, given)
            self.assertEqual(found["error"]["field"], field, given)


if __name__ == "__main__":
    unittest.main()
