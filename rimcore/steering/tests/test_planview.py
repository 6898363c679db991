"""Steering from above against an independent root finder, and against the links in space on an upright axis."""

import math
import unittest

import numpy as np
from hypothesis import assume, given, settings
from hypothesis import strategies as st
from scipy.optimize import brentq

from rimcore.quantities.errors import BadInput
from rimcore.steering.planview import PlanView, check_view, doubt_deg, judge_view, sweep

VIEW = PlanView(ball_out_mm=700, outer_out_mm=660, outer_behind_mm=120, inner_out_mm=300, inner_behind_mm=110)


def views():
    return st.builds(
        lambda ball, side, arm, out, behind, ahead: PlanView(
            ball_out_mm=ball,
            outer_out_mm=ball - side,
            outer_behind_mm=arm * ahead,
            inner_out_mm=out,
            inner_behind_mm=(arm + behind) * ahead,
        ),
        st.floats(600, 760),
        st.floats(0, 60),
        st.floats(90, 170),
        st.floats(250, 380),
        st.floats(-50, 50),
        st.sampled_from([1.0, -1.0]),
    )


class ByRoots(unittest.TestCase):
    @settings(max_examples=150)
    @given(views(), st.floats(-45, 45))
    def test_the_turn_keeps_the_rods_length(self, view, rack):
        """The turn that a root finder finds from straight ahead on, step by step, closes the rod."""
        assume(abs(rack) > 0.5)
        found = sweep(view, abs(rack), 3)
        assume(found.reached and found.toggle_deg.min() > 8)
        arm = np.array([view.outer_out_mm - view.ball_out_mm, view.outer_behind_mm])

        def gap(turn_deg):
            c, s = math.cos(math.radians(turn_deg)), math.sin(math.radians(turn_deg))
            joint = np.array([c * arm[0] - s * arm[1], s * arm[0] + c * arm[1]])
            inner = np.array([view.inner_out_mm + rack - view.ball_out_mm, view.inner_behind_mm])
            return math.hypot(*(joint - inner)) - view.rod_mm

        turn = found.steer_deg[2 if rack > 0 else 0]
        self.assertAlmostEqual(gap(turn), 0.0, places=6)
        root = brentq(gap, turn - 0.5, turn + 0.5) if gap(turn - 0.5) * gap(turn + 0.5) < 0 else turn
        self.assertAlmostEqual(root, turn, places=5)

    def test_which_way(self):
        """Rack to the left with the arm behind: the left wheel turns in; with the arm ahead it turns out."""
        self.assertLess(sweep(VIEW, 30.0, 3).steer_deg[2], 0)
        ahead = PlanView(
            ball_out_mm=700, outer_out_mm=690, outer_behind_mm=-120, inner_out_mm=300, inner_behind_mm=-110
        )
        self.assertGreater(sweep(ahead, 30.0, 3).steer_deg[2], 0)


class Judged(unittest.TestCase):
    def test_a_rack_further_forward_moves_away_from_over_centre(self):
        """Common practice: arms behind the axle go over centre with the rack behind them; forward is the way out."""
        behind = PlanView(ball_out_mm=700, outer_out_mm=665, outer_behind_mm=130, inner_out_mm=290, inner_behind_mm=190)
        first = judge_view(behind, 62.0)
        moved = judge_view(behind.moved(36.0), 62.0)
        self.assertGreater(moved.value, first.value + 5)

    def test_never_clear_without_travel_or_lengths_and_never_within_its_doubt(self):
        self.assertEqual(judge_view(None, 60.0).state, "unmeasured")
        self.assertEqual(judge_view(VIEW, None).state, "unmeasured")
        for travel in np.arange(20.0, 90.0, 2.0):
            found = judge_view(VIEW, float(travel))
            if found.state == "clear":
                self.assertGreaterEqual(found.value - doubt_deg(VIEW, float(travel)), 20.0)

    def test_the_doubt_is_at_least_what_a_flat_view_leaves_out(self):
        self.assertGreaterEqual(doubt_deg(VIEW, 40.0), 4.0)
        self.assertGreater(doubt_deg(VIEW, 40.0, 10.0), doubt_deg(VIEW, 40.0, 1.0))

    def test_lengths_that_make_no_steering_are_refused(self):
        for change in ({"outer_out_mm": 699, "outer_behind_mm": 3}, {"inner_out_mm": 640}, {"inner_out_mm": 690}):
            with self.subTest(change), self.assertRaises(BadInput):
                check_view(PlanView(**{**VIEW.__dict__, **change}))
