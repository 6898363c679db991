"""A steering axis or a camber gain that nobody measured.

Reckoned over all that is usual, never clear by leaving it out.
"""

import json
import unittest
from dataclasses import replace

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st

from rimcore.calc import answer
from rimcore.quantities.errors import BadInput
from rimcore.registry import CALCULATIONS
from rimcore.steering.axis import axis_from_wheel, caster_from_sweep_deg
from rimcore.well.judge.bands import offset_bands
from rimcore.well.judge.clearance import sweep
from rimcore.well.judge.fitment import judge, states_by_school
from rimcore.well.judge.in_motion import judge_motion
from rimcore.well.judge.narrowing import what_narrows
from rimcore.well.judge.posegaps import gaps_at
from rimcore.well.judge.ranges import Range, unknown_in
from rimcore.well.judge.tolerance import SCHOOLS
from rimcore.well.judge.unknown import USUAL, Usuals
from rimcore.well.judge.wellmap import well_map
from rimcore.well.read.travel import Motion
from rimcore.well.solid.pose import Pose
from rimcore.well.solid.wheel_plane import Thing, Well
from rimcore.well.tests.test_motion import MOTION, axle, candidate, readings
from rimcore.wheels.fitted import Fitted
from rimcore.wheels.outline import outline
from rimcore.wheels.stance import scrub_radius_mm
from rimcore.wheels.tyre import parse_tyre
from rimcore.wheels.wheel import parse_wheel

DAILY = SCHOOLS["daily"]
UNKNOWN = replace(MOTION, kpi_deg=None, caster_deg=None, kingpin_inboard_mm=None)
#: a body point behind the wheel that a car without an axis seems to clear by 61 mm
CAR = {
    "wheel": "17x8 ET40",
    "tyre": "225/45R17",
    "bump_mm": 60,
    "droop_mm": 70,
    "steer_out_deg": 36,
    "steer_in_deg": 33,
    "camber_deg": -1,
    "obstacles": [
        {"name": "rail", "frame": "body", "points_mm": [[-240, -325, -20]]},
        {"name": "strut", "frame": "knuckle", "points_mm": [[0, -170, 260]]},
    ],
    "grid": {"steer": 3, "travel": 3},
}


def ask(name, given):
    found, good = answer(CALCULATIONS[name], json.dumps(given))
    return found if good else found["error"]


class OnTheCommandLine(unittest.TestCase):
    def test_an_axis_nobody_gave_is_no_pass(self):
        rail, strut = ask("clearance", CAR)["obstacles"]
        self.assertAlmostEqual(rail["gap_mm"], 61.2, delta=0.1)
        self.assertEqual(rail["state"], "unmeasured")
        self.assertLess(rail["range_mm"][0], 0.5)
        self.assertEqual(rail["missing"][0], "kingpin_inboard_mm")
        self.assertEqual((strut["state"], strut["range_mm"]), ("clear", None), "what rides along depends on no axis")

    def test_the_real_axis_lies_in_the_range(self):
        found = ask(
            "clearance", CAR | {"kpi_deg": 8, "caster_deg": 4, "kingpin_inboard_mm": 140, "camber_gain_deg_per_mm": 0}
        )
        self.assertAlmostEqual(found["obstacles"][0]["gap_mm"], 0.4, delta=0.2)
        self.assertEqual(found["missing"], [])

    def test_a_given_zero_is_a_measurement(self):
        zeros = {"kpi_deg": 0, "caster_deg": 0, "kingpin_inboard_mm": 0, "camber_gain_deg_per_mm": 0}
        self.assertEqual([row["state"] for row in ask("clearance", CAR | zeros)["obstacles"]], ["clear", "clear"])

    def test_what_does_not_steer_needs_no_axis(self):
        found = ask("clearance", CAR | {"steer_out_deg": 0, "steer_in_deg": 0, "camber_gain_deg_per_mm": -0.01})
        self.assertEqual((found["obstacles"][0]["state"], found["missing"]), ("clear", []))

    def test_clear_and_hit_for_every_usual_axis(self):
        far = [
            {"name": "far", "frame": "body", "points_mm": [[0, 200, 520]]},
            {"name": "in", "frame": "body", "points_mm": [[0, -40, 280]]},
        ]
        clear, hit = ask("clearance", CAR | {"obstacles": far})["obstacles"]
        self.assertEqual((clear["state"], hit["state"]), ("clear", "hit"))
        self.assertIn("the usual range of axes", clear["basis"])
        self.assertGreaterEqual(clear["range_mm"][0], 10.0)
        self.assertLess(hit["range_mm"][1], 0.0)

    def test_beyond_the_table_its_end_is_told_and_never_passed(self):
        """A point 150 to 170 mm off: no axis of a thousand random ones comes nearer than what is told."""
        car = CAR | {
            "obstacles": [{"name": "far", "frame": "body", "points_mm": [[-380, -330, 180]]}],
            "margins": {"body_mm": 155},
        }
        low = ask("clearance", car)["obstacles"][0]["range_mm"][0]
        rng = np.random.default_rng(26)
        least = np.inf
        for _ in range(60):
            axis = {name: rng.uniform(*span) for name, span in USUAL.items()}
            least = min(
                least, ask("clearance", car | axis | {"grid": {"steer": 9, "travel": 5}})["obstacles"][0]["gap_mm"]
            )
        self.assertLessEqual(low, min(least, 150.0) + 0.1)
        self.assertNotEqual(ask("clearance", car)["obstacles"][0]["state"], "clear")

    def test_windows_say_clear_only_for_every_axis(self):
        given = {name: value for name, value in CAR.items() if name not in ("wheel", "grid")} | {
            "wheel": "17x8",
            "offset_range_mm": [20, 60],
        }
        unknown = ask("window", given)
        some = unknown["windows"][0]["all_clear"]
        self.assertIn("kingpin_inboard_mm", unknown["missing"])
        known = ask(
            "window", given | {"kpi_deg": 0, "caster_deg": 0, "kingpin_inboard_mm": 0, "camber_gain_deg_per_mm": 0}
        )
        whole = known["windows"][0]["all_clear"]
        self.assertLess(some["to_mm"], whole["to_mm"] - 10.0)

    def test_ranking_too(self):
        given = {name: value for name, value in CAR.items() if name not in ("wheel", "tyre", "grid")}
        given |= {
            "present": {"wheel": "16x6.5 +50", "tyre": "205/55R16"},
            "wheels": [{"wheel": "17x8 ET40"}],
            "tyres": [{"tyre": "225/45R17"}],
            "school": "wide",
        }
        found = ask("rank", given)
        self.assertEqual(found["ranked"][0]["state"], "unmeasured")
        self.assertIn("kingpin_inboard_mm", found["missing"])
        self.assertIsNotNone(found["ranked"][0]["range_mm"])


class AgainstSamples(unittest.TestCase):
    """Random corners: no usual axis lies outside the range."""

    @settings(max_examples=25, deadline=None, derandomize=True)
    @given(st.integers(0, 2**32 - 1))
    def test_every_usual_axis_lies_within(self, seed):
        rng = np.random.default_rng(seed)
        shape = outline(parse_wheel("17x8 +40"), parse_tyre("225/45R17")).polygon()
        things = []
        for k in range(4):
            angle, radius = rng.uniform(-1.9, 1.9), rng.uniform(345, 450)
            base = np.array([radius * np.sin(angle), rng.uniform(-240, 80), radius * np.cos(angle) + 60])
            things.append(Thing(str(k), "body", base + rng.uniform(-15, 15, (3, 3))))
        names = tuple(name for name in USUAL if rng.random() < 0.7) or ("kpi_deg",)
        well = replace(
            Well(
                centre_mm=-40.0,
                camber_deg=-1.0,
                camber_gain_deg_per_mm=-0.01,
                bump_mm=60,
                droop_mm=70,
                ride_drop_mm=0,
                steer_out_deg=36,
                steer_in_deg=33,
                kpi_deg=9.0,
                caster_deg=4.0,
                kingpin_inboard_mm=110.0,
            ),
            **dict.fromkeys(names, 0.0),
        )
        ranges = Usuals(well, things, names).ranges(shape, -40.0)
        for _ in range(12):
            tried = replace(well, **{name: rng.uniform(*USUAL[name]) for name in names})
            for gap, usual in zip(sweep(shape, tried, things, 10, 5, 25, 17, contact=False).gaps, ranges, strict=True):
                if usual.lo_mm > 0:
                    self.assertGreaterEqual(gap.gap_mm, usual.lo_mm - 0.2)
                if usual.hi_mm < 0:
                    self.assertLess(gap.gap_mm, 0.0)


class OnTheBench(unittest.TestCase):
    def moving(self, motion, chosen=None):
        return {j.code: j for j in judge_motion("FL", readings(), motion, chosen or candidate(), DAILY)}

    def test_no_gap_at_lock_is_clear_without_an_axis(self):
        """A camber gain was measured; straight ahead the lip needs no axis, at lock everything does."""
        found = self.moving(UNKNOWN, candidate("17x7 +50"))
        self.assertEqual(
            {j.state for j in found.values() if j.usual is not None and j.usual[0] < j.held_against}, {"unmeasured"}
        )
        self.assertTrue(any(j.usual is not None for j in found.values()))

    def test_it_says_what_to_measure_first(self):
        rows = what_narrows("FL", readings(), UNKNOWN, candidate())
        self.assertEqual({row.station for row in rows}, {"kingpin", "kpi", "caster"})
        self.assertEqual([row.by_mm for row in rows], sorted((row.by_mm for row in rows), reverse=True))
        open_ = [j for j in self.moving(UNKNOWN).values() if j.state == "unmeasured"]
        self.assertTrue(open_)
        for judged in open_:
            self.assertTrue(judged.missing[0].startswith("FL."))
            self.assertIn("measure", judged.remedies[0])
        self.assertEqual(what_narrows("FL", readings(), MOTION, candidate()), [])

    def test_measuring_one_narrows_the_range(self):
        def width(motion):
            found = self.moving(motion)["gap.liner_rear_lock.moving"]
            return found.usual[1] - found.usual[0] if found.usual else 0.0

        self.assertLess(width(replace(UNKNOWN, kingpin_inboard_mm=108.0)), width(UNKNOWN))
        self.assertEqual(width(MOTION), 0.0)

    def test_an_unknown_gain_alone_is_named(self):
        gain = replace(MOTION, camber_gain_deg_per_mm=None)
        found = [j for j in self.moving(gain).values() if j.usual is not None]
        self.assertTrue(found and all("camber gain" in j.reason for j in found))
        self.assertEqual(unknown_in(gain, Range(1, 1, 1, 1)), ("camber_gain_deg_per_mm",))

    def test_the_map_is_blank_where_the_axis_matters(self):
        whole = well_map("FL", readings(), UNKNOWN, candidate(), DAILY)
        turned = {cell.state for row in whole.cells for cell in row if abs(cell.steer_deg) > 1}
        self.assertEqual(turned, {"unmeasured"})
        self.assertIn("kpi_deg", whole.unknown)

    def test_a_pose_at_lock_is_unmeasured(self):
        at = {
            one.reading.code: one.state
            for one in gaps_at("FL", readings(), UNKNOWN, candidate("17x7 +50"), DAILY, 20.0, 10.0)
        }
        self.assertEqual(at["liner_front"], "unmeasured")

    def test_windows_of_the_bench_draw_in(self):
        known = offset_bands(
            corner="FL",
            readings=readings(),
            motion=MOTION,
            candidate=candidate("17x7 +45"),
            tolerances=DAILY,
            widths_in=[7.0],
            low_mm=20,
            high_mm=60,
        )[0]
        unknown = offset_bands(
            corner="FL",
            readings=readings(),
            motion=UNKNOWN,
            candidate=candidate("17x7 +45"),
            tolerances=DAILY,
            widths_in=[7.0],
            low_mm=20,
            high_mm=60,
        )[0]
        self.assertIsNotNone(known.no_contact)
        wide = (unknown.all_clear[1] - unknown.all_clear[0]) if unknown.all_clear else -1
        self.assertLessEqual(wide, (known.all_clear[1] - known.all_clear[0]) if known.all_clear else -1)

    def test_schools_too(self):
        judged = next(
            j
            for j in judge(axle(motion=UNKNOWN), candidate(), DAILY).judgements
            if j.usual is not None and j.state == "unmeasured"
        )
        self.assertNotIn("clear", {state for name, state in states_by_school(judged, SCHOOLS).items() if name == "tow"})


class FromTheWheel(unittest.TestCase):
    """The axis from what can be read at the wheel."""

    def test_caster_of_the_example_from_practice(self):
        """Camber −0.1° and −3.8° at 20° each way; the gauge showed 5.2° (common practice), the formula gives 5.4°."""
        self.assertAlmostEqual(caster_from_sweep_deg(-0.1, -3.8, 20.0), 5.4, delta=0.05)
        self.assertAlmostEqual(caster_from_sweep_deg(-0.1, -3.8, 20.0), 5.2, delta=0.3)

    def test_a_sweep_read_off_a_real_rotation_gives_its_caster_back(self):
        """The wheel turned by the core's own rotation, its camber read as a gauge reads it."""
        for caster, kpi in ((3.0, 0.0), (6.0, 10.0)):

            def camber(steer, caster=caster, kpi=kpi):
                across = Pose(0.0, steer, 0.0, kpi, caster, 0.0).to_body(np.array([[0.0, 1.0, 0.0]]))[0]
                return -float(np.degrees(np.arcsin(across[2])))

            self.assertAlmostEqual(caster_from_sweep_deg(camber(20.0), camber(-20.0), 20.0), caster, delta=0.25)

    @settings(max_examples=60, deadline=None, derandomize=True)
    @given(st.floats(4, 16), st.floats(60, 180), st.floats(40, 180), st.floats(-3, 0))
    def test_circle_and_joint_give_the_axis_back(self, kpi, kingpin, below, camber):
        fitted = Fitted(parse_wheel("17x8 +40"), parse_tyre("225/45R17"), camber_deg=camber)
        scrub = scrub_radius_mm(fitted, kpi, kingpin)
        joint = kingpin - below * np.tan(np.radians(kpi)), below
        found = {one.station: one for one in axis_from_wheel(fitted, scrub, joint, None, None)}
        self.assertAlmostEqual(found["kpi"].value, kpi, places=6)
        self.assertAlmostEqual(found["kingpin"].value, kingpin, places=6)
        self.assertGreater(found["kpi"].uncertainty, 0.2)

    def test_with_an_inclination_one_of_both_is_enough(self):
        fitted = Fitted(parse_wheel("17x8 +40"), parse_tyre("225/45R17"))
        by_joint = axis_from_wheel(fitted, None, (74.5, 120.0), 12.0, None)[0]
        by_circle = axis_from_wheel(fitted, scrub_radius_mm(fitted, 12.0, by_joint.value), None, 12.0, None)[0]
        self.assertAlmostEqual(by_joint.value, by_circle.value, places=6)

    def test_refused(self):
        fitted = Fitted(parse_wheel("17x8 +40"), parse_tyre("225/45R17"))
        with self.assertRaises(BadInput):
            axis_from_wheel(fitted, 0.0, (80.0, 310.0), None, None)
        with self.assertRaises(BadInput):
            caster_from_sweep_deg(0.0, 0.0, 0.0)


class Stance(unittest.TestCase):
    def test_camber_turns_the_sign_of_the_scrub_radius(self):
        """By hand at −3°: the contact goes out by radius × sin 3° = 16.6 mm."""
        upright = Fitted(parse_wheel("17x8 +40"), parse_tyre("225/45R17"))
        leaning = replace(upright, camber_deg=-3.0)
        self.assertLess(scrub_radius_mm(upright, 12.0, 100.0), 0.0)
        self.assertGreater(scrub_radius_mm(leaning, 12.0, 100.0), 0.0)
        self.assertAlmostEqual(
            scrub_radius_mm(leaning, 0.0, 100.0) - scrub_radius_mm(upright, 0.0, 100.0),
            634.3 / 2 * np.sin(np.radians(3)),
            delta=0.1,
        )

    def test_both_ends_of_the_stance_use_their_own_camber(self):
        given = {
            "from": {"wheel": "17x8 +40", "tyre": "225/45R17"},
            "to": {"wheel": "17x8 +40", "tyre": "225/45R17", "camber_deg": -3},
        }
        found = ask("stance", given | {"kpi_deg": 12, "kingpin_inboard_mm": 100})
        self.assertAlmostEqual(found["scrub_radius_to_mm"] - found["scrub_radius_from_mm"], 16.3, delta=0.3)


class ReadingsAtLock(unittest.TestCase):
    def test_a_reading_at_lock_moves_with_the_axis_it_is_taken_under(self):
        """Held at its own pose the same wheel reads the same gap whatever the axis: the range there closes."""
        liner = [r for r in readings() if r.code == "liner_rear_lock"]
        fixed = Motion(
            bump_mm=0.0,
            droop_mm=0.0,
            steer_out_deg=34.0,
            steer_in_deg=0.0,
            camber_gain_deg_per_mm=0.0,
            kpi_deg=None,
            caster_deg=None,
            kingpin_inboard_mm=None,
        )
        same = candidate("16x6.5 +50", "205/55R16", camber_deg=-0.6, ride_drop_mm=0.0)
        found = next(j for j in judge_motion("FL", liner, fixed, same, DAILY) if j.code == "gap.liner_rear_lock.moving")
        self.assertLessEqual(found.usual[0] if found.usual else found.value, 22.1)


if __name__ == "__main__":
    unittest.main()
