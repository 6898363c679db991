"""Judgements at rest, ratings, what a choice drags along, spacers and the template: figures and words by hand."""

import math
import unittest
from dataclasses import replace
from types import SimpleNamespace
from unittest.mock import patch

from rimcore.quantities.errors import BadInput
from rimcore.quantities.judgement import InputUsed, Judgement, unmeasured
from rimcore.well.draw.template import BAR_MM, EDGE_MM, PAPER_MM, brake_template
from rimcore.well.judge import drags
from rimcore.well.judge.at_rest import (
    _changes,
    _gap_formula,
    _gap_reason,
    _inside_the_rim,
    _measuring,
    judge_corner,
    missing,
)
from rimcore.well.judge.doubt import Known, Share
from rimcore.well.judge.fitment import Verdict, _worse_of, both_ends, judge, off_the_gaps, states_by_school, unread
from rimcore.well.judge.ratings import _load, loads, speed, tyre_on_rim
from rimcore.well.judge.tolerance import SCHOOLS, Tolerances
from rimcore.well.read.measured import Axle, Candidate, Reading
from rimcore.well.read.travel import Motion
from rimcore.well.solid.gap import Station
from rimcore.well.solid.pose import Pose
from rimcore.well.solid.wheel_plane import Hinge
from rimcore.well.tests.cases import with_levers
from rimcore.wheels.fitted import Fitted
from rimcore.wheels.hub import CentringRing, Hub, WheelMount
from rimcore.wheels.spacers import BOLTED_LEAST_MM, COLLAR_WANTED_MM, spacer_cautions, spacer_findings
from rimcore.wheels.tyre import parse_tyre
from rimcore.wheels.wheel import parse_wheel

DAILY = SCHOOLS["daily"]
ON_CAR = Fitted(parse_wheel("16x6.5 +50"), parse_tyre("205/55R16 91V"))
MOVES = Motion(
    bump_mm=60.0,
    droop_mm=70.0,
    steer_out_deg=36.0,
    steer_in_deg=33.0,
    camber_gain_deg_per_mm=-0.01,
    kpi_deg=12.0,
    caster_deg=4.0,
    kingpin_inboard_mm=100.0,
)


def read(code, station, gap=None, corner="FL", **more):
    more = {"uncertainty_mm": 1.0, "pose": Pose()} | more
    return Reading(corner, code, station, gap, ON_CAR, **more)


LIP = read("arch_12", Station("arch", clock=12, side_gap_mm=31.0, up_gap_mm=62.0))
DAMPER = read("damper", Station("damper", height_mm=262.0), 15.0)
LINER = read("liner_front", Station("liner", edge="front", u="centre"), 40.0)


def stands(wheel="17x8 +40", tyre="225/45R17 91W", camber=0.0, spacer=0.0, **more):
    return with_levers(Fitted(parse_wheel(wheel), parse_tyre(tyre), spacer, camber), **more)


def axle(*readings, load_kg=812.0, hub=Hub(), **more):  # noqa: B008  frozen
    return Axle(("FL", "FR"), ON_CAR, hub, readings, load_kg, **more)


class Ratings(unittest.TestCase):
    def test_tyre_on_rim(self):
        """225/45R17 goes on 7 to 8.5 in.

        Half an inch beyond either end is stretched or pinched, further is outside (handbook, from memory).
        """
        low, high = parse_tyre("225/45R17").rim_range_in
        self.assertEqual((low, high), (7.0, 8.5))
        for width, state, margin, held in (
            (7.0, "clear", 0.0, 8.5),
            (8.0, "clear", 0.5, 8.5),
            (7.25, "clear", 0.25, 8.5),
            (9.0, "tight", -0.5, 8.5),
            (6.5, "tight", -0.5, 7.0),
            (10.5, "hit", -2.0, 8.5),
        ):
            found = tyre_on_rim(stands(f"17x{width} +40"))
            self.assertEqual((found.state, found.margin, found.held_against, found.value), (state, margin, held, width))
            self.assertEqual(found.remedies, () if state == "clear" else ("a rim of 7 to 8.5 in",))

    def test_which_figure_of_a_load_is_not_known(self):
        for rated, load, key, said in (
            (None, 800.0, "tyre.load", "the index is not known"),
            (600.0, None, "car.axle_load", "the axle load is not known"),
            (None, None, "tyre.load", "the index is not known"),
        ):
            found = _load("tyre.load", "Tyre load", rated, load, "", "index")
            self.assertEqual((found.state, found.missing, found.reason), ("unmeasured", (key,), said))
        tyre, wheel = loads(axle(load_kg=1000.0), stands(wheel_load_kg=690.0))
        self.assertEqual(
            (tyre.value, tyre.held_against, tyre.margin, wheel.value, wheel.margin), (615.0, 500.0, 115.0, 690.0, 190.0)
        )
        self.assertIn("615 − 1000 ÷ 2 = 115 kg", tyre.formula)
        self.assertEqual(
            (tyre.remedies, _load("", "", 400.0, 1000.0, "", "").remedies), ((), ("a higher load rating",))
        )

    def test_speedometer(self):
        """634.3 over 631.9 mm is 100.4 km/h at 100 shown: more than is shown, which UN R39 forbids."""
        found = speed(axle(), stands())
        self.assertAlmostEqual(found.value, 100.0 * (431.8 + 202.5) / (406.4 + 225.5), places=6)
        self.assertEqual((found.state, round(found.margin, 6)), ("tight", round(100.0 - found.value, 6)))
        self.assertIn("if it was exact before", found.reason)
        self.assertEqual(len(found.remedies), 1)
        read_by_logger = replace(axle(), true_at_100_kmh=96.0, true_speed_read=InputUsed("true speed", "96 km/h"))
        better = speed(read_by_logger, stands())
        self.assertAlmostEqual(better.value, 0.96 * found.value)
        self.assertEqual((better.state, better.remedies, better.inputs[-1].name), ("clear", (), "true speed"))
        self.assertIn("from 96 km/h by the logger", better.reason)
        fast = speed(replace(read_by_logger, true_at_100_kmh=101.0), stands())
        self.assertEqual((fast.state, fast.remedies), ("tight", ("have the speedometer set to the new tyre",)))


class Drags(unittest.TestCase):
    def named(self, here, some):
        return {drag.what: drag for drag in drags.drags_along(here, some)}

    def test_nothing_but_the_sensors_where_nothing_changes(self):
        self.assertEqual(
            set(self.named(axle(load_kg=1000.0), Candidate(ON_CAR, wheel_load_kg=700.0))),
            {"Valves and pressure sensors"},
        )

    def test_height_camber_lock_and_speed(self):
        def what(*args, **more):
            return set(self.named(axle(load_kg=1000.0), with_levers(*args, **({"wheel_load_kg": 700.0} | more)))) - {
                "Valves and pressure sensors"
            }

        self.assertEqual(what(ON_CAR, ride_drop_mm=20.0), {"Alignment"})
        self.assertEqual(what(replace(ON_CAR, camber_deg=-1.0)), {"Alignment"})
        self.assertEqual(what(ON_CAR, lock_limit_deg=2.0), {"Lock limiters"})
        self.assertEqual(what(replace(ON_CAR, tyre=parse_tyre("205/50R16 91V"))), {"Speedometer"})
        self.assertEqual(what(Fitted(parse_wheel("17x6.5 +50"), parse_tyre("205/45R17 91V"))), {"Speedometer"})
        self.assertEqual(what(replace(ON_CAR, spacer_mm=5.0)), {"Spacers"})

    def test_what_is_needed_and_what_is_only_told(self):
        found = self.named(
            axle(load_kg=1000.0),
            replace(stands(spacer=5.0, ride_drop_mm=20.0, lock_limit_deg=2.0), wheel_load_kg=700.0),
        )
        self.assertEqual(
            {name: drag.needed for name, drag in found.items()},
            {
                "Valves and pressure sensors": False,
                "Speedometer": False,
                "Spacers": True,
                "Alignment": True,
                "Lock limiters": True,
            },
        )

    def test_loads_that_are_short_are_needed_and_those_not_known_are_not(self):
        found = self.named(axle(load_kg=1000.0), stands())
        self.assertFalse(found["Wheel load rating"].needed)
        self.assertNotIn("Tyre load rating", found)
        self.assertTrue(self.named(axle(load_kg=1300.0), stands())["Tyre load rating"].needed)

    def test_a_ring_where_the_bores_differ(self):
        hub, wheel = Hub(bore_mm=63.4), WheelMount(bore_mm=72.6)
        found = self.named(axle(hub=hub), stands(mount=wheel))
        self.assertEqual(found["Centring ring"].detail, "63.4 → 72.6 mm, solid, not hollow plastic")
        self.assertFalse(found["Centre cap"].needed)
        with_ring = self.named(axle(hub=hub), stands(mount=wheel, ring=CentringRing(63.4, 72.6)))
        self.assertNotIn("Centring ring", with_ring)
        same = self.named(axle(hub=hub), stands(mount=WheelMount(bore_mm=63.4)))
        self.assertNotIn("Centring ring", same)
        self.assertNotIn("Centre cap", same)
        self.assertNotIn("Centre cap", self.named(axle(hub=hub), stands(mount=WheelMount())))
        self.assertNotIn("Centre cap", self.named(axle(), stands(mount=wheel)))

    def test_studs(self):
        def thread(length, required, spacer=5.0):
            found = drags._thread_drags(SimpleNamespace(length_mm=length, required_mm=required), stands(spacer=spacer))
            return [(one.what, one.detail, one.needed) for one in found]

        self.assertEqual(thread(None, 12.0), [])
        self.assertEqual(thread(12.0, None), [])
        self.assertEqual(thread(9.5, 12.0), [("Longer studs or bolts", "3 mm more thread", True)])
        self.assertEqual(thread(15.0, 12.0), [("Spacer limit", "8 mm with the present studs or bolts", False)])
        self.assertEqual(thread(12.0, 12.0), [("Spacer limit", "5 mm with the present studs or bolts", False)])

    def test_nuts_of_another_seat(self):
        fit = SimpleNamespace(
            ring=None,
            bore=SimpleNamespace(state="clear"),
            seat=Judgement("hub.seat", "", "hit", "", "", remedies=("cone nuts",)),
            engagement=SimpleNamespace(length_mm=None, required_mm=None),
        )
        with patch.object(drags.hubs, "hub_fit", lambda *_: fit):
            self.assertEqual(self.named(axle(), stands())["Nuts or bolts"].detail, "cone nuts")


class Spacers(unittest.TestCase):
    def of(self, spacer, kind="slip", collar=None, stud=None):
        return {found.code: found for found in spacer_findings(Hub(stud_length_mm=stud), spacer, kind, collar)}

    def test_none_without_one(self):
        self.assertEqual(self.of(0.0), {})
        self.assertEqual(spacer_cautions(0.0, "bolted"), ())
        self.assertEqual(len(self.of(0.5)), 1)
        self.assertEqual(len(spacer_cautions(0.5, "slip")), 1)

    def test_what_is_left_of_the_collar(self):
        """12 mm of collar: 5 reach the wheel past a spacer of 7.

        Past one of 12 nothing does (common practice: 5 mm).
        """
        self.assertEqual((COLLAR_WANTED_MM, BOLTED_LEAST_MM), (5.0, 15.0))
        for spacer, state, left in (
            (7.0, "clear", 5.0),
            (7.5, "tight", 4.5),
            (11.5, "tight", 0.5),
            (12.0, "hit", 0.0),
            (15.0, "hit", -3.0),
        ):
            found = self.of(spacer, collar=12.0)["spacer.collar"]
            self.assertEqual(
                (found.state, found.value, found.margin, found.held_against), (state, left, left - 5.0, 5.0)
            )
            self.assertEqual("hides the collar" in found.reason, left <= 0)
            if left > 0:
                self.assertEqual(found.reason, f"{left:g} mm of collar reach the wheel")
            self.assertEqual(bool(found.remedies), state != "clear")
        self.assertEqual(self.of(7.0)["spacer.collar"].missing, ("hub.collar",))

    def test_a_bolted_one_swallows_nuts_and_collar(self):
        for spacer, collar, state, least in (
            (15.0, 12.0, "clear", 15.0),
            (14.9, 12.0, "hit", 15.0),
            (17.0, 18.0, "hit", 18.0),
            (18.0, 18.0, "clear", 18.0),
        ):
            found = self.of(spacer, "bolted", collar, 10.0)["spacer.collar"]
            self.assertEqual((found.state, found.held_against, found.value), (state, least, spacer))
            self.assertAlmostEqual(found.margin, spacer - least)
        self.assertEqual(self.of(15.0, "bolted")["spacer.collar"].state, "unmeasured")
        self.assertEqual(self.of(14.0, "bolted")["spacer.collar"].state, "hit", "too thin whatever the collar is")

    def test_studs_end_inside_it(self):
        for stud, state, margin in ((20.0, "clear", 0.0), (19.0, "clear", 1.0), (20.5, "hit", -0.5)):
            found = self.of(20.0, "bolted", 12.0, stud)["spacer.studs"]
            self.assertEqual((found.state, found.value, found.margin), (state, margin, margin))
        self.assertIn("0.5 mm out of it", found.reason)
        self.assertEqual(self.of(20.0, "bolted", 12.0)["spacer.studs"].missing, ("hub.stud",))


class AtRest(unittest.TestCase):
    def test_reasons(self):
        cases = (
            (-0.5, 10.0, 1.0, "sideways", "stands 0.5 mm out past the lip"),
            (-0.5, 10.0, 1.0, "upward", "overlaps by 0.5 mm"),
            (-0.5, 10.0, 1.0, "", "overlaps by 0.5 mm"),
            (0.5, 10.0, 1.0, "sideways", "0.5 ± 1.0 mm: may touch"),
            (1.0, 10.0, 1.0, "", "wants 10 mm"),
            (10.0, 10.0, 1.0, "", "wants 10 mm; within the ± 1.0 mm"),
            (11.0, 10.0, 1.0, "", "wants 10 mm"),
            (11.0, 0.0, 1.0, "upward", "at rest; its margin is kept or not in motion"),
            (9.9, 10.0, 1.0, "", "wants 10 mm"),
        )
        for new, wanted, doubt, way, said in cases:
            found = _gap_reason(new, wanted, doubt, way)
            self.assertTrue(found.startswith(said), found)
            self.assertEqual("within the" in found, "within the" in said)

    def test_formulas(self):
        known = Known(2.0, (Share("rule", 2.0),))
        self.assertIn(
            "31.0 mm against what was on the car; less the part's outline = 12.5 mm; ± 2.0 mm: rule 2.0 mm",
            _gap_formula("sideways", 31.0, 12.5, 0.0, known),
        )
        self.assertIn(
            "15.0 mm then, 9.5 mm with the part; the same rule would read 11.2 mm; ± 2.0 mm",
            _gap_formula("", 15.0, 9.5, 11.25, known),
        )

    def test_changes_by_place(self):
        """4.2 mm lacking is 5 steps of one; a tyre twice as much, half a side."""
        self.assertEqual(_changes(LIP, stands(), "sideways", 4.2), ("offset +45", "a tyre 10 mm narrower"))
        self.assertEqual(
            _changes(LIP, stands(), "upward", 4.0), ("a tyre 8 mm less in diameter", "lower the car 4 mm less")
        )
        self.assertEqual(
            _changes(DAMPER, stands(spacer=3.0), "", 4.2)[:2], ("offset +35", "a 8 mm spacer, if the thread allows it")
        )
        self.assertEqual(_changes(LINER, stands(), "", 0.2), ("a tyre 2 mm less in diameter",))
        self.assertEqual(
            _changes(LIP, stands(), "sideways", -3.0)[0], "offset +41", "lacking only in its ±: a step at the least"
        )

    def test_measuring_comes_first_where_only_the_doubt_lacks(self):
        def first(source, spare=0.0, some=None):
            return _measuring(Known(3.0, (Share(source, 2.5), Share("rule", 1.0))), some or stands(), spare)

        self.assertEqual(
            first("tyre read against"),
            ("measure the section over the tyre that is on the car: most of the ± 3.0 mm is its carcass",),
        )
        self.assertEqual(first("tyre"), ("measure the section over the tyre: most of the ± 3.0 mm is its carcass",))
        self.assertTrue(first("rule")[0].startswith("read it again with a caliper"))
        self.assertTrue(first("camber")[0].startswith("measure the camber closer"))
        self.assertEqual(first("tyre", -0.1), ())
        self.assertEqual(_measuring(Known(0.0, ()), stands(), 1.0), ())
        measured = replace(stands(), fitted=replace(stands().fitted, measured_section_mm=230.0))
        self.assertTrue(first("tyre", 0.0, measured)[0].startswith("measure the tyre closer"))

    def test_inside_the_rim(self):
        spoke = read("caliper_spoke", Station("caliper", face_mm=40.0))
        barrel = read("caliper_barrel", Station("caliper", radius_mm=150.0))
        found = _inside_the_rim(spoke, stands(spoke_back_mm=38.0), DAILY)
        self.assertEqual((found.state, found.value, found.margin, found.held_against), ("hit", -2.0, -5.0, 3.0))
        self.assertEqual(len(found.remedies), 2)
        wide = _inside_the_rim(barrel, stands(barrel_radius_mm=160.0), DAILY)
        self.assertEqual((wide.state, wide.value, wide.remedies), ("clear", 10.0, ()))
        self.assertIn("160 − 150 = 10 mm", wide.formula)
        self.assertEqual(
            _inside_the_rim(barrel, stands(barrel_radius_mm=151.0), DAILY).remedies, ("a larger rim or another wheel",)
        )
        self.assertEqual(_inside_the_rim(barrel, stands(), DAILY).missing, ("wheel.caliper_barrel",))
        self.assertIn("spokes stand behind", _inside_the_rim(spoke, stands(), DAILY).reason)

    def test_a_whole_corner(self):
        found = judge_corner("FL", (LIP, replace(DAMPER, corner="FR")), stands(), DAILY)
        gaps = [j for j in found if j.value is not None]
        self.assertEqual(
            [(j.code, j.where) for j in gaps],
            [("gap.arch_12.sideways", "front left"), ("gap.arch_12.upward", "front left")],
        )
        self.assertEqual([j.before for j in gaps], [31.0, 62.0])
        self.assertEqual([j.held_against for j in gaps], [DAILY.arch_side_mm, DAILY.arch_up_mm])
        self.assertIn("gap.damper", {j.code for j in found if j.state == "unmeasured"})
        self.assertEqual(missing("FL", "damper").missing, ("FL.damper",))

    def test_in_motion_the_lip_may_stand_out_and_its_room_is_judged_there(self):
        out = stands("17x8 +5")
        still, moving = (judge_corner("FL", (LIP,), out, DAILY, motion) for motion in (Motion(), MOVES))
        self.assertEqual([j.state for j in still if j.value is not None][0], "hit")
        side, up = [j for j in moving if j.value is not None]
        self.assertEqual((side.state, up.held_against), ("tight", 0.0))
        self.assertIn(f"stands {-side.value:.1f} mm out past the lip", side.reason)

    def test_what_can_not_be_placed_is_told_in_its_place(self):
        bad = replace(DAMPER, station=Station("damper", height_mm=900.0))
        found = judge_corner("FL", (bad, LIP), stands(), DAILY)
        self.assertEqual(
            (found[0].state, found[0].missing, found[0].remedies), ("unmeasured", ("FL.damper",), ("measure again",))
        )
        self.assertIsNotNone(found[1].value)

    def test_assumed_is_no_pass(self):
        some = stands("17x8 +45")
        for assumed, state in ((False, "clear"), (True, "unmeasured")):
            far = replace(LIP, assumed=assumed, station=replace(LIP.station, side_gap_mm=90.0))
            found = next(j for j in judge_corner("FL", (far,), some, DAILY) if j.code == "gap.arch_12.sideways")
            self.assertEqual((found.state, bool(found.missing)), (state, assumed))
        near = replace(LIP, assumed=True, station=replace(LIP.station, side_gap_mm=0.0))
        self.assertEqual(
            next(j for j in judge_corner("FL", (near,), stands("17x8 +5"), DAILY) if j.value is not None).state, "hit"
        )


class Verdicts(unittest.TestCase):
    def test_counts_and_worst(self):
        rows = (unmeasured("a", "", "", ()), Judgement("b", "", "clear", "", ""), unmeasured("c", "", "", ()))
        self.assertEqual(
            (Verdict(rows).unmeasured, Verdict(rows).state, Verdict(rows).worst.code), (2, "unmeasured", "a")
        )
        self.assertIsNone(Verdict(()).worst)

    def test_the_worse_of_both_says_why(self):
        def gap(state, margin, value=1.0, where="front left"):
            return Judgement("gap.a", "", state, "said", "", value=value, margin=margin, where=where)

        for after, before, changed in (
            (gap("clear", 5.0), gap("tight", 1.0), True),
            (gap("tight", 1.0), gap("tight", 2.0), False),
            (gap("tight", 1.0), gap("tight", 1.0), False),
            (gap("tight", 2.0), gap("tight", 1.0), True),
            (gap("clear", 5.0), gap("hit", -1.0, None), False),
            (gap("clear", 5.0), gap("hit", -1.0, where="front right"), False),
        ):
            found = _worse_of([after], [before])[0]
            self.assertEqual("is not settled" in found.reason, changed)
            self.assertEqual(found.state, before.state if changed else after.state)

    def test_both_ends(self):
        front, rear = Judgement("x", "", "tight", "f", ""), Judgement("x", "", "hit", "r", "")
        at = Judgement("gap.a", "", "clear", "", "", where="front left")
        found = both_ends({"F": [front, at], "R": [rear]})
        self.assertEqual(
            [(j.state, j.where) for j in found],
            [("hit", "rear axle"), ("tight", "front axle"), ("clear", "front left")],
        )
        self.assertEqual(both_ends({"F": [front]}), (front,))
        self.assertEqual(len(both_ends({"F": [at], "R": [at]})), 2)

    def test_schools_by_place_and_way(self):
        for code, field in (
            ("gap.arch_12.sideways", "arch_side_mm"),
            ("gap.arch_12.upward", "arch_up_mm"),
            ("gap.damper", "damper_mm"),
        ):
            for name, school in SCHOOLS.items():
                margin = getattr(school, field)
                for value, state in ((margin + 1.0, "clear"), (margin + 0.9, "tight"), (-0.1, "hit")):
                    found = states_by_school(
                        Judgement(code, "", "tight", "", "", value=value, uncertainty=1.0), SCHOOLS
                    )
                    self.assertEqual(found[name], state, (code, name, value))
        moving = Judgement("gap.liner_front.moving", "", "tight", "", "", value=13.0, along=(0.0, 1.0))
        some = {
            "x": Tolerances(
                damper_mm=1.0,
                perch_mm=2.0,
                arch_side_mm=3.0,
                arch_up_mm=4.0,
                liner_mm=12.0,
                rail_mm=6.0,
                caliper_mm=7.0,
                joint_mm=8.0,
                growth_mm=1.0,
                flex_mm=9.0,
            )
        }
        self.assertEqual(states_by_school(moving, some), {"x": "clear"})
        self.assertEqual(states_by_school(replace(moving, along=(1.0, 0.0)), some), {"x": "tight"})
        self.assertEqual(states_by_school(replace(moving, usual=(5.0, 20.0)), some), {"x": "unmeasured"})
        self.assertEqual(states_by_school(replace(moving, usual=(-5.0, -1.0)), some), {"x": "hit"})
        self.assertEqual(states_by_school(replace(moving, missing=("FL.x",)), some), {"x": "unmeasured"})
        self.assertEqual(states_by_school(replace(moving, value=None), some), {})
        self.assertEqual(states_by_school(replace(moving, code="tyre.load"), some), {})

    def test_allowances_where_nobody_says_others(self):
        some = Tolerances(
            damper_mm=1.0,
            perch_mm=2.0,
            arch_side_mm=3.0,
            arch_up_mm=4.0,
            liner_mm=5.0,
            rail_mm=6.0,
            caliper_mm=7.0,
            joint_mm=8.0,
        )
        self.assertEqual((some.growth_mm, some.flex_mm), (1.0, 2.0))

    def test_off_the_gaps(self):
        """Hub and wheel's load on one side; tyre on rim, its load and the speedometer on the other."""
        wheel, tyre = off_the_gaps(axle(), stands("17x10.5 +40", wheel_load_kg=300.0))
        self.assertEqual((wheel, tyre), ("hit", "hit"))
        wheel, tyre = off_the_gaps(axle(), stands("17x8 +40", wheel_load_kg=600.0))
        self.assertEqual((wheel, tyre), ("unmeasured", "tight"))

    def test_what_is_unread(self):
        here = Axle(
            ("FL", "FR"),
            ON_CAR,
            Hub(),
            (LIP, replace(LINER, assumed=True)),
            812.0,
            (("FL", replace(MOVES, kpi_deg=None)),),
        )
        found = unread(here, stands())
        by = {(j.code, j.missing) for j in found}
        self.assertIn(("gap.liner_front", ("FL.liner_front",)), by)
        self.assertIn(("gap.liner_front.moving", ("FL.kpi",)), by)
        self.assertIn(("gap.arch_12.moving", ("FL.kpi",)), by)
        self.assertIn(("gap.damper", ("FL.damper",)), by)
        self.assertNotIn(("gap.arch_12", ("FL.arch_12",)), by)
        self.assertTrue(any(j.code == "gap.motion" and j.missing[0].startswith("FR.") for j in found))
        self.assertTrue(all(j.state == "unmeasured" for j in found))

    def test_judgements_come_worst_first_and_hold_all_parts(self):
        found = judge(axle(LIP), stands(spacer=5.0, spacer_kind="slip"), DAILY)
        codes = {j.code for j in found.judgements}
        self.assertLessEqual(
            {"tyre.rim", "tyre.load", "wheel.load", "tyre.speed", "spacer.collar", "gap.arch_12.sideways"}, codes
        )
        order = ["hit", "tight", "unmeasured", "clear"]
        ranks = [order.index(j.state) for j in found.judgements]
        self.assertEqual(ranks, sorted(ranks))


class Template(unittest.TestCase):
    def test_on_the_paper(self):
        found = brake_template(151.5, 9.5, None)
        self.assertEqual(found.inner_mm, 9.5 - 80.0)
        self.assertEqual((found.axle_y, found.face_x), (PAPER_MM[1] - 30.0, 130.0))
        self.assertEqual(found.bar, (EDGE_MM + 5.0, PAPER_MM[1] - 12.0, BAR_MM))
        self.assertEqual((BAR_MM, PAPER_MM, EDGE_MM), (100.0, (210.0, 297.0), 10.0))
        stem = min(x for x, y in found.brake if y == found.axle_y)
        self.assertEqual(stem, 130.0 - 45.0)
        self.assertEqual({x for x, _ in found.brake}, {130.0, 139.5, 130.0 - 70.5, 85.0})

    def test_what_goes_on_it(self):
        for radius, good in ((40.0, True), (39.9, False), (227.0, True), (227.1, False)):
            self.goes((radius, 5.0, -60.0), good)
        for face, inner, good in (
            (80.0, 0.0, True),
            (80.1, 0.0, False),
            (-80.0, -100.0, True),
            (-80.1, -100.0, False),
            (40.0, -110.0, True),
            (40.0, -110.1, False),
            (5.0, 5.0, False),
            (5.0, 4.9, True),
        ):
            self.goes((150.0, face, inner), good)

    def goes(self, given, good):
        if good:
            brake_template(*given)
        else:
            with self.assertRaises(BadInput):
                brake_template(*given)


class Arms(unittest.TestCase):
    def test_an_arm_reaches_as_far_as_it_is_long(self):
        """300 mm long, its joint 100 below the pivot: 200 mm of droop and 400 of bump, and no more."""
        arm = Hinge((-400.0, 0.0), (-400.0 + math.sqrt(300.0**2 - 100.0**2), -100.0))
        self.assertAlmostEqual(arm.length_mm, 300.0)
        self.assertEqual(
            [arm.reaches(*ends) for ends in ((199.9, 399.9), (200.1, 400.1))], [(True, True), (False, False)]
        )


if __name__ == "__main__":
    unittest.main()
