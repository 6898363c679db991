"""Trial fits: what one wrong sighting can do, and can't."""

import unittest
from dataclasses import replace

from proofs.trials import SCENARIOS, run
from rimcore.well.judge.doubt import larger
from rimcore.well.judge.fitment import judge
from rimcore.well.judge.sightings import Seen, predict_mm
from rimcore.well.judge.tolerance import SCHOOLS
from rimcore.well.judge.trialfit import correct
from rimcore.well.read.measured import Axle, Candidate, Held, Reading
from rimcore.well.read.travel import Motion
from rimcore.well.solid.gap import Station, place_obstacle
from rimcore.well.solid.pose import Pose
from rimcore.wheels.fitted import Fitted
from rimcore.wheels.hub import Hub
from rimcore.wheels.tyre import parse_tyre
from rimcore.wheels.wheel import parse_wheel

DAILY = SCHOOLS["daily"]
ON_CAR = Fitted(parse_wheel("16x6.5 +50"), parse_tyre("205/55R16"), camber_deg=-0.6)
WIDER = replace(ON_CAR, wheel=parse_wheel("17x8 +42"), tyre=parse_tyre("225/45R17"))
DAMPER = Reading("FL", "damper", Station("damper", height_mm=262), 16.0, ON_CAR, Pose(-0.6), 1.0)
LINER = Reading("FL", "liner_front", Station("liner", edge="front", u="centre"), 20.0, ON_CAR, Pose(-0.6), 1.0)


def judged(readings, fitted, held=None):
    axle = Axle(("FL", "FR"), ON_CAR, Hub(), tuple(readings), None, (("FL", Motion(steers=False)),), held)
    found = judge(axle, Candidate(fitted), DAILY).judgements
    return {j.code.removeprefix("gap."): j for j in found if j.where == "front left" and j.value is not None}


def grown(found, fitted):
    known = found.grown_mm.get((fitted.tyre.size, fitted.wheel.width_in))
    return fitted if known is None else replace(fitted, grown_mm=known[0], grown_doubt_mm=known[1])


def look(place, reading, error=0.0, fitted=WIDER, bare=False):
    return Seen(place, fitted, bare, Pose(-0.6), predict_mm(reading, fitted, bare, Pose(-0.6)) + error, 1.0)


class OneWrongSighting(unittest.TestCase):
    def test_as_the_only_one_it_improves_nothing(self):
        """Ten millimetres too much, taken for a smaller tyre, would make the other gap clear as well."""
        readings = [DAMPER, LINER]
        found = correct(readings, [look(0, DAMPER, 10.0)])
        group = found.groups[0]
        self.assertFalse(group.settled)
        before = judged(readings, WIDER)
        free = judged(found.readings, grown(found, WIDER))
        held = judged(found.readings, grown(found, WIDER), Held(tuple(readings), frozenset(found.grown_mm)))
        self.assertGreater(free["liner_front"].value, before["liner_front"].value + 2.0, "left alone it would")
        for code, one in held.items():
            self.assertNotEqual((before[code].state, one.state), ("tight", "clear"), code)
            self.assertLessEqual(one.value, before[code].value + 1e-9, code)
        self.assertIn("not settled", held["liner_front"].reason)

    def test_what_cant_be_told_apart_is_said_with_the_reading_that_would_tell(self):
        found = correct([DAMPER], [look(0, DAMPER, 16.0)]).groups[0]
        self.assertTrue(found.conflict)
        self.assertGreaterEqual(len(found.suspects), 3, "the sighting, the first reading and the tyres all explain it")
        self.assertIn("can't be told apart", found.text)
        self.assertIn("Measure the section over", found.text)

    def test_of_two_it_is_found_and_named(self):
        found = correct([DAMPER, LINER], [look(0, DAMPER, 12.0), look(1, LINER)])
        group = found.groups[0]
        self.assertTrue(group.conflict and found.conflict(0))
        self.assertLess(group.p, 0.01)
        self.assertEqual(group.dof, 2)

    def test_three_that_agree_settle(self):
        third = replace(LINER, code="liner_rear", station=Station("liner", edge="rear", u="centre"))
        found = correct([DAMPER, LINER, third], [look(0, DAMPER, -2.0), look(1, LINER, -2.0), look(2, third, -2.0)])
        self.assertTrue(found.groups[0].settled)
        self.assertLess(found.groups[0].checked_mm, 2.4)
        self.assertLess(
            judged(found.readings, grown(found, WIDER))["damper"].uncertainty,
            judged([DAMPER], WIDER)["damper"].uncertainty,
        )

    def test_groups_that_share_nothing_are_fitted_apart(self):
        section = replace(ON_CAR, measured_section_mm=206.0)
        far = replace(LINER, corner="RL", present=section)
        measured = replace(WIDER, measured_section_mm=226.0)
        found = correct(
            [replace(DAMPER, present=section), far], [look(0, DAMPER, 3.0, measured), look(1, far, 0.0, measured)]
        )
        self.assertEqual([group.readings for group in found.groups], [(0,), (1,)])


class ThePresentTyre(unittest.TestCase):
    def test_its_growth_counts_in_the_direct_reading(self):
        """Read 9 ± 1 against a tyre 3 mm oversize; a bare rim shows 3 mm more; the same tyre still leaves 9."""
        oversize = larger(ON_CAR, 3.0)
        liner = replace(LINER, gap_mm=9.0)
        truth = place_obstacle(oversize, liner.station, 9.0, Pose(-0.6))
        shown = replace(
            liner,
            moved_mm=tuple(truth.points_mm[0] - place_obstacle(ON_CAR, liner.station, 9.0, Pose(-0.6)).points_mm[0]),
        )
        seen = Seen(0, ON_CAR, True, Pose(-0.6), predict_mm(shown, ON_CAR, True, Pose(-0.6)), 0.5)
        found = correct([liner], [seen])
        self.assertGreater(found.grown_mm[("205/55R16", 6.5)][0], 2.0)
        same = judged(found.readings, grown(found, ON_CAR))["liner_front"]
        self.assertAlmostEqual(same.value, 9.0, delta=0.4)
        self.assertEqual(same.state, "tight")

    def test_below_the_flange_the_rule_is_predicted_along_the_axle(self):
        low = replace(DAMPER, station=Station("damper", height_mm=170), gap_mm=11.0)
        self.assertAlmostEqual(predict_mm(low, ON_CAR, True, Pose(-0.6)), 11.0, delta=0.01)
        moved = replace(ON_CAR, wheel=parse_wheel("16x6.5 +54"))
        self.assertAlmostEqual(predict_mm(low, moved, True, Pose(-0.6)), 7.0, delta=0.05)


class Simulated(unittest.TestCase):
    """Short runs of python -m proofs.trials; the whole of it, 500 trials a scenario, by hand."""

    def share(self, name, trials=60):
        return run(next(one for one in SCENARIOS if one.name == name), trials, seed=3)

    def test_no_errors(self):
        found = self.share("two places, mounted wheel")
        self.assertLessEqual(found["conflict"], 0.1)
        self.assertGreaterEqual(found["holds the truth"], 0.88)

    def test_an_error_on_one_of_two(self):
        self.assertGreaterEqual(self.share("one of two wrong by 10 mm")["conflict"], 0.9)

    def test_an_error_on_the_only_one(self):
        found = self.share("the only one wrong by 10 mm")
        self.assertEqual((found["improved"], found["held or flagged"]), (0.0, 1.0))


if __name__ == "__main__":
    unittest.main()
