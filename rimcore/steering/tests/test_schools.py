"""Schools of alignment: each wheel against its own target, thrust and evenness, never clear without a reading."""

import unittest

from rimcore.steering.schools import ALIGNMENT_SCHOOLS, judge_alignment, judge_off

STREET = ALIGNMENT_SCHOOLS["street"]


def angles(**change):
    found = {
        (corner, angle): value for (end, angle), value in STREET.targets.items() for corner in (f"{end}L", f"{end}R")
    }
    return found | {(name[:2], f"{name[3:]}_deg"): value for name, value in change.items()}


def states(given, doubt=0.0):
    return {one.code: one.state for one in judge_alignment(given, STREET, dict.fromkeys(given, doubt))}


class Targets(unittest.TestCase):
    def test_as_they_stand_on_the_sheet(self):
        """Camber, caster and toe in front, camber and toe behind [deg]; common practice, as the sheet prints them."""
        wanted = {
            "street": (-0.8, 5.0, 0.05, -1.2, 0.10),
            "life": (-0.3, 4.0, 0.03, -0.8, 0.08),
            "grip": (-2.5, 6.5, -0.05, -1.8, 0.10),
            "look": (-3.0, 5.0, 0.0, -3.0, 0.05),
            "drift": (-4.0, 7.5, -0.15, -0.8, 0.10),
        }
        self.assertEqual({key: tuple(school.targets.values()) for key, school in ALIGNMENT_SCHOOLS.items()}, wanted)

    def test_the_margin_is_what_is_left_to_being_close(self):
        self.assertAlmostEqual(judge_off("x", "X", -0.2, 0.0, (0.25, 0.5), "", ()).margin, 0.05)
        self.assertAlmostEqual(judge_off("x", "X", 0.4, 0.0, (0.25, 0.5), "", ()).margin, -0.15)


class Judged(unittest.TestCase):
    def test_on_its_targets_everything_is_clear(self):
        self.assertEqual(set(states(angles()).values()), {"clear"})
        self.assertEqual(len(states(angles())), 13)

    def test_nothing_read_is_unmeasured(self):
        self.assertEqual(set(states({}).values()), {"unmeasured"})

    def test_both_ends_of_each_limit(self):
        for name, code, target, near, far in (
            ("FL_toe", "align.toe.FL", 0.05, 0.1, 0.2),
            ("RR_camber", "align.camber.RR", -1.2, 0.25, 0.5),
            ("FR_caster", "align.caster.FR", 5.0, 0.5, 1.0),
        ):
            for off, state in ((near, "clear"), (near + 0.01, "tight"), (far, "tight"), (far + 0.01, "hit")):
                for way in (1, -1):
                    self.assertEqual(states(angles(**{name: target + way * off}))[code], state, (name, off))

    def test_the_gauge_counts(self):
        self.assertEqual(judge_off("x", "X", 0.04, 0.0, (0.05, 0.1), "", ()).state, "clear")
        self.assertEqual(judge_off("x", "X", 0.04, 0.02, (0.05, 0.1), "", ()).state, "tight")
        self.assertEqual(judge_off("x", "X", 0.11, 0.02, (0.05, 0.1), "", ()).state, "tight")
        self.assertEqual(judge_off("x", "X", 0.13, 0.02, (0.05, 0.1), "", ()).state, "hit")

    def test_each_angle_has_its_own_doubt_and_both_sides_theirs_together(self):
        """3 and 4 hundredths make 5 on a difference, and half of that on a mean (squares added)."""
        doubts = {("RL", "toe_deg"): 0.06, ("RR", "toe_deg"): 0.08, ("FL", "camber_deg"): 0.3}
        found = {one.code: one for one in judge_alignment(angles(), STREET, doubts)}
        self.assertAlmostEqual(found["align.thrust"].uncertainty, 0.05, 12)
        self.assertEqual(
            [found[code].uncertainty for code in ("align.toe.RL", "align.toe.RR", "align.toe.FL")], [0.06, 0.08, 0.0]
        )
        self.assertEqual((found["align.camber.FL"].state, found["align.camber.FR"].state), ("tight", "clear"))

    def test_a_rear_axle_that_points_aside(self):
        """Left toes out by 0.1°, right in by 0.3°: the mean heading is 0.2° to the left."""
        found = {one.code: one for one in judge_alignment(angles(RL_toe=-0.1, RR_toe=0.3), STREET, {})}["align.thrust"]
        self.assertAlmostEqual(found.value, 0.2, 12)
        self.assertEqual(
            (found.state, found.reason), ("tight", "the rear wheels point 0.20° to the left of the centre line")
        )

    def test_one_side_alone_is_uneven_for_nobody(self):
        found = states(angles(FL_camber=None))
        self.assertEqual(
            (found["align.even.F"], found["align.camber.FL"], found["align.even.R"]),
            ("unmeasured", "unmeasured", "clear"),
        )
        self.assertEqual(states(angles(FL_camber=-0.6, FR_camber=-1.0))["align.even.F"], "tight")
