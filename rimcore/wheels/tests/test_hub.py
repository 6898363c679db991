"""Hub and fasteners.

Sources: common practice (sin 36° for five lugs, 1.0 × diameter of thread, solid rings); ISO 898-1 for
stress areas and proof stress; 1 lbf·ft from NIST SP 811.
"""

import math
import unittest

from hypothesis import given
from hypothesis import strategies as st

from rimcore.fastening.fasteners import crosswise_order, pound_feet, stage_torques_nm
from rimcore.fastening.threads import parse_thread
from rimcore.quantities.errors import BadInput, DoesNotFit
from rimcore.wheels import hub as hubs
from rimcore.wheels import patterns
from rimcore.wheels.hub import Hub, WheelMount, hub_fit, parse_seat

HUB = Hub(5, 112.0, 57.1, parse_thread("M14x1.5"), 28.0, None, parse_seat("ball R13"))


class Pattern(unittest.TestCase):
    def test_five_lugs_by_sin_36(self):
        self.assertAlmostEqual(patterns.pitch_circle_mm(5, 67.2), 67.2 / math.sin(math.radians(36)))
        self.assertEqual(patterns.nearest_patterns(5, 114.33)[0][0], 114.3)

    @given(st.integers(3, 10), st.floats(80, 250))
    def test_chord_and_circle_are_inverse(self, bolts, pcd):
        corner = [complex(pcd / 2, 0), pcd / 2 * complex(math.cos(2 * math.pi / bolts), math.sin(2 * math.pi / bolts))]
        self.assertAlmostEqual(patterns.pitch_circle_mm(bolts, abs(corner[1] - corner[0])), pcd, places=9)

    def test_states(self):
        for pcd, bolts, state in ((112.0, 5, "clear"), (112.3, 5, "tight"), (114.3, 5, "hit"), (112.0, 4, "hit")):
            self.assertEqual(hubs.judge_pattern(HUB, WheelMount(bolts, pcd)).state, state)
        self.assertEqual(hubs.judge_pattern(HUB, WheelMount()).state, "unmeasured")


class Bore(unittest.TestCase):
    def test_ring_is_given_with_both_diameters(self):
        fit = hub_fit(HUB, WheelMount(bore_mm=72.6))
        self.assertEqual((fit.bore.state, fit.ring.inner_mm, fit.ring.outer_mm), ("tight", 57.1, 72.6))
        self.assertAlmostEqual(fit.radial_play_mm, 7.75)

    def test_ring_in_the_build_centres_it_when_it_fits(self):
        wheel = WheelMount(bore_mm=72.6)
        self.assertEqual(hubs.judge_bore(HUB, wheel, hubs.CentringRing(57.1, 72.6)).state, "clear")
        self.assertEqual(hubs.judge_bore(HUB, wheel, hubs.CentringRing(57.1, 73.1)).state, "tight")

    def test_states(self):
        for bore, state in ((57.1, "clear"), (57.2, "clear"), (57.0, "clear"), (56.6, "hit"), (66.6, "tight")):
            self.assertEqual(hubs.judge_bore(HUB, WheelMount(bore_mm=bore)).state, state, bore)
        self.assertEqual(hubs.judge_bore(Hub(), WheelMount(bore_mm=66.6)).state, "unmeasured")

    def test_smaller_bore_has_no_ring(self):
        self.assertIsNone(hub_fit(HUB, WheelMount(bore_mm=50.0)).ring)
        with self.assertRaises(DoesNotFit):
            hubs.centring_ring(57.1, 50.0)


class Seat(unittest.TestCase):
    def test_states(self):
        for seat, state in (
            ("ball R13", "clear"),
            ("ball R12", "hit"),
            ("cone 60", "hit"),
            ("flat", "hit"),
            ("ball", "unmeasured"),
        ):
            self.assertEqual(hubs.judge_seat(HUB, WheelMount(seat=parse_seat(seat))).state, state, seat)
        self.assertEqual(hubs.judge_seat(HUB, WheelMount()).state, "unmeasured")

    def test_reading(self):
        for text in ("cone 60", "60° taper", "conical 60 deg"):
            self.assertEqual(str(parse_seat(text)), "cone 60°")
        for text in ("", "wood", "cone 5", "ball R90"):
            with self.assertRaises(BadInput):
                parse_seat(text)


class Engagement(unittest.TestCase):
    def engaged(self, stud, pad=12.0, spacer=0.0, thread="M14x1.5"):
        return hubs.judge_engagement(
            Hub(thread=parse_thread(thread), stud_length_mm=stud), WheelMount(pad_thickness_mm=pad), spacer
        )

    def test_length_turns_and_state(self):
        found = self.engaged(28.0)
        self.assertEqual((found.length_mm, found.required_mm, found.judgement.state), (16.0, 14.0, "clear"))
        self.assertAlmostEqual(found.turns, 16 / 1.5)

    def test_eight_turns_of_m12_are_what_is_wanted(self):
        self.assertAlmostEqual(self.engaged(24.0, thread="M12x1.5").turns, 8.0)
        self.assertEqual(self.engaged(24.0, thread="M12x1.5").judgement.state, "tight")

    def test_edges(self):
        for stud, state in ((25.9, "hit"), (26.0, "tight"), (27.4, "tight"), (27.5, "clear")):
            self.assertEqual(self.engaged(stud).judgement.state, state, stud)

    def test_never_below_zero(self):
        self.assertEqual(self.engaged(10.0, spacer=20.0).length_mm, 0.0)

    def test_unknown_lengths(self):
        self.assertEqual(
            hubs.judge_engagement(Hub(thread=parse_thread("M12x1.5")), WheelMount(pad_thickness_mm=12)).judgement.state,
            "unmeasured",
        )
        self.assertEqual(hubs.judge_engagement(HUB, WheelMount()).judgement.state, "unmeasured")

    @given(st.floats(0, 60), st.floats(0, 40))
    def test_a_spacer_never_adds_thread(self, stud, spacer):
        self.assertLessEqual(self.engaged(stud, spacer=spacer).length_mm, self.engaged(stud).length_mm)


class Fasteners(unittest.TestCase):
    def test_crosswise(self):
        for lugs in range(3, 11):
            order = crosswise_order(lugs)
            self.assertEqual(sorted(order), list(range(1, lugs + 1)))
            if lugs > 4:
                steps = [abs(b - a) % lugs for a, b in zip(order, order[1:], strict=False)]
                self.assertTrue(all(min(s, lugs - s) > 1 or i % 2 for i, s in enumerate(steps)), lugs)
        self.assertEqual(crosswise_order(4), [1, 3, 2, 4])
        self.assertEqual(crosswise_order(6)[:2], [1, 4])

    def test_two_stages_in_both_units(self):
        self.assertEqual(stage_torques_nm(110), (55.0, 110))
        self.assertAlmostEqual(pound_feet(110), 110 / (4.4482216152605 * 0.3048))
