"""Torques held against proof stresses of ISO 898-1 and SAE J429; adapters by the lever law."""

import unittest

from hypothesis import given
from hypothesis import strategies as st

from rimcore.fastening.bolts import CLASSES, at_bolt_nm, proof_mpa, read_thread, wrench_setting_nm
from rimcore.fastening.torques import LITTLE_PCT, over_torqued, plausible, strongest_nm

THREADS = ("M6", "M8", "M10x1.25", "M12x1.5", "M14x1.5", "1/2-20")


def proof_torque_nm(thread, grade):
    """T = K F d at the proof load: stress area × proof stress × 0.2 × diameter, worked out here."""
    bolt = read_thread(thread)
    return 0.2 * bolt.stress_area_mm2 * proof_mpa(grade, bolt.thread.diameter_mm) * bolt.thread.diameter_mm / 1000


class Plausible(unittest.TestCase):
    def test_states_lie_at_shares_of_the_proof_load(self):
        for thread in THREADS:
            for grade in CLASSES:
                full = proof_torque_nm(thread, grade)
                for share, state in (
                    (0.999 * LITTLE_PCT / 100, "tight"),
                    (1.001 * LITTLE_PCT / 100, "clear"),
                    (0.799, "clear"),
                    (0.801, "tight"),
                    (0.999, "tight"),
                    (1.001, "hit"),
                ):
                    self.assertEqual(plausible(full * share, thread, grade).state, state, (thread, grade, share))

    def test_m12_of_8_8_bears_about_119_n_m_dry(self):
        """ISO 898-1: M12×1.5 has a stress area of 88.1 mm², class 8.8 a proof stress of 580 MPa up to M16."""
        self.assertAlmostEqual(proof_torque_nm("M12x1.5", "8.8"), 0.2 * 88.1 * 580 * 12 / 1000, delta=0.3)

    def test_the_strongest_class_by_hand(self):
        """ISO 898-1: M12 has 84.3 mm², 12.9 a proof stress of 970 MPa.

        SAE J429: grade 8 in 1/2-20 has 0.1599 in² and 120 ksi.
        """
        self.assertEqual([strongest_nm(thread)[0] for thread in ("M12", "1/2-20")], ["12.9", "SAE 8"])
        self.assertAlmostEqual(strongest_nm("M12")[1], 0.2 * 84.3 * 970 * 12 / 1000, delta=0.3)
        self.assertAlmostEqual(strongest_nm("1/2-20")[1], 0.2 * 0.1599 * 120_000 * 4.4482216 * 12.7 / 1000, delta=0.5)
        for share, state in ((0.799, "unmeasured"), (0.801, "tight"), (0.999, "tight"), (1.001, "hit")):
            self.assertEqual(plausible(strongest_nm("M12")[1] * share, "M12", "").state, state, share)

    def test_little_is_no_fault_before_a_turn(self):
        self.assertEqual(plausible(10.0, "M10", "10.9").state, "tight")
        judged = plausible(10.0, "M10", "10.9", 90.0)
        self.assertEqual(judged.state, "clear")
        self.assertIn("90°", judged.reason)
        self.assertEqual(plausible(500.0, "M10", "10.9", 90.0).state, "hit")

    def test_unknown_is_unmeasured_and_says_what(self):
        for thread, grade, missing in (
            ("", "10.9", "joint.thread"),
            ("M12x1.5", "", "joint.class"),
            ("M12x1.5", "5.6", "joint.class"),
        ):
            judged = plausible(80.0, thread, grade)
            self.assertEqual((judged.state, judged.missing), ("unmeasured", (missing,)))


class TooFar(unittest.TestCase):
    def test_by_how_far(self):
        full = proof_torque_nm("M12x1.5", "10.9")
        for read, words in (
            (110.0, ""),
            (120.9, ""),
            (121.5, "loosen"),
            (full * 0.99, "loosen"),
            (full * 1.01, "new bolt"),
        ):
            said = over_torqued(read, 110.0, "M12x1.5", "10.9")
            self.assertEqual(said.startswith(words) or words in said, True, (read, said))
            self.assertEqual(bool(said), bool(words))
        self.assertIn("loosen", over_torqued(900.0, 110.0, "", ""))


class Lever(unittest.TestCase):
    @given(st.floats(1, 2000), st.floats(50, 3000), st.floats(0, 2000))
    def test_what_is_set_comes_back_at_the_bolt(self, torque, wrench, adapter):
        setting = wrench_setting_nm(torque, wrench, adapter)
        self.assertLessEqual(setting, torque * (1 + 1e-12))
        self.assertAlmostEqual(at_bolt_nm(setting, wrench, adapter) / torque, 1, places=9)

    def test_without_an_adapter_it_is_what_is_read(self):
        self.assertEqual(
            (at_bolt_nm(80.0, 400.0, None), at_bolt_nm(80.0, None, 100.0), at_bolt_nm(80.0, 400.0, 0.0)),
            (80.0, 80.0, 80.0),
        )


if __name__ == "__main__":
    unittest.main()
