"""A measured corner in motion: ranges, margins, what is unmeasured, both sides, and facts that must hold."""

import re
import unittest
from dataclasses import replace

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st
from shapely.geometry import Point, Polygon

from rimcore.well.draw.scene_map import band_scene, map_scene
from rimcore.well.draw.scene_motion import moving_scene
from rimcore.well.judge.bands import offset_bands
from rimcore.well.judge.clearance import sweep
from rimcore.well.judge.fitment import judge
from rimcore.well.judge.in_motion import judge_motion, pose_text, swept
from rimcore.well.judge.posegaps import gaps_at
from rimcore.well.judge.ranges import bare, camber_gain_deg_per_mm, range_of, well_of
from rimcore.well.judge.tolerance import SCHOOLS
from rimcore.well.judge.wellmap import Cell, WellMap, axle_map, well_map
from rimcore.well.judge.window import offset_window
from rimcore.well.read.measured import Axle, Candidate, Held, Reading, placed
from rimcore.well.read.obstacles import things_of
from rimcore.well.read.travel import Motion
from rimcore.well.solid.gap import Station, outline_polygon
from rimcore.well.solid.pose import Pose
from rimcore.well.solid.wheel_plane import Hinge, Thing
from rimcore.well.tests.cases import with_levers
from rimcore.well.tests.test_clearance import reference
from rimcore.wheels.fitted import Fitted
from rimcore.wheels.hub import Hub
from rimcore.wheels.tyre import parse_tyre
from rimcore.wheels.wheel import parse_wheel

ON_CAR = Fitted(parse_wheel("16x6.5 +50"), parse_tyre("205/55R16"), camber_deg=-0.6)
MOTION = Motion(
    bump_mm=72.0,
    droop_mm=79.0,
    steer_out_deg=36.0,
    steer_in_deg=33.0,
    camber_gain_deg_per_mm=-0.01,
    kpi_deg=12.5,
    caster_deg=4.2,
    kingpin_inboard_mm=108.0,
    lock_uncertainty_deg=0.5,
    travel_uncertainty_mm=1.0,
)


def read(corner, code, gap, station, steer=0.0, raised=0.0, **more):
    pose = Pose(ON_CAR.camber_deg - 0.01 * raised, steer, raised, 12.5, 4.2, 108.0)
    present = replace(ON_CAR, camber_deg=ON_CAR.camber_deg - 0.01 * raised)
    return Reading(corner, code, station, gap, present, pose, 1.0, raised_mm=raised, **more)


def readings(corner="FL"):
    return (
        read(corner, "damper", 15.5, Station("damper", height_mm=262)),
        read(corner, "arch_12", None, Station("arch", clock=12, side_gap_mm=25, up_gap_mm=62)),
        read(corner, "arch_2", None, Station("arch", clock=2, side_gap_mm=34, up_gap_mm=66)),
        read(corner, "liner_front", 40.0, Station("liner", edge="front", u="centre")),
        read(corner, "liner_rear_lock", 22.0, Station("liner", edge="rear", u="inner"), 34.0),
        read(corner, "rail_rear_lock", 30.0, Station("rail", edge="rear", height_mm=60), 34.0),
    )


def candidate(wheel="17x8 +40", tyre="225/45R17", **more):
    fitted = {name: more.pop(name) for name in ("spacer_mm", "camber_deg") if name in more}
    return with_levers(
        Fitted(parse_wheel(wheel), parse_tyre(tyre), **{"camber_deg": -1.8, **fitted}), **{"ride_drop_mm": 20.0, **more}
    )


def axle(first=None, second=(), motion=MOTION):
    both = (*(readings() if first is None else first), *second)
    return Axle(("FL", "FR"), ON_CAR, Hub(), both, 812.0, (("FL", motion), ("FR", motion)))


def _most_apart(one, other):
    """How much larger a gap of one map is than at the same pose of the other, at most [mm]."""
    pairs = (pair for rows in zip(one.cells, other.cells, strict=True) for pair in zip(*rows, strict=True))
    return max(a.gap_mm - b.gap_mm for a, b in pairs)


class Ranges(unittest.TestCase):
    def test_what_lowering_does_to_both(self):
        """By springs the stroke stays and the place in it moves; by a shorter damper the stroke moves along."""
        springs, body = range_of(MOTION, candidate()), range_of(MOTION, candidate(stroke_moves=True))
        self.assertEqual((springs.bump_mm, springs.droop_mm), (72.0, 79.0))
        self.assertEqual((body.bump_mm, body.droop_mm), (92.0, 59.0))

    def test_unknown_range_is_unmeasured_and_says_what_to_measure(self):
        found = judge_motion(
            "FL", readings(), replace(MOTION, bump_mm=None, steer_in_deg=None), candidate(), SCHOOLS["daily"]
        )
        self.assertEqual([(j.state, j.missing) for j in found], [("unmeasured", ("FL.bump", "FL.lock_in"))])

    def test_rear_axle_needs_no_locks(self):
        self.assertEqual(Motion(60.0, 60.0, steers=False).missing, ())

    def test_bump_left_after_lowering(self):
        state = {}
        for drop in (0.0, 50.0, 75.0):
            found = judge_motion("FL", readings(), MOTION, candidate(ride_drop_mm=drop), SCHOOLS["daily"])
            state[drop] = next((j.state, j.value) for j in found if j.code == "travel.bump")
        self.assertEqual(state, {0.0: ("clear", 72.0), 50.0: ("tight", 22.0), 75.0: ("hit", -3.0)})

    def test_camber_holds_at_the_builds_height(self):
        well = well_of(MOTION, candidate(), range_of(MOTION, candidate()))
        self.assertAlmostEqual(well.camber_deg + well.camber_gain_deg_per_mm * 20.0, -1.8)

    def test_gain_from_measured_heights(self):
        self.assertAlmostEqual(camber_gain_deg_per_mm([(0, -0.6), (50, -1.1), (25, -0.85)]), -0.01)
        self.assertIsNone(camber_gain_deg_per_mm([(0, -0.6)]))

    def test_words(self):
        self.assertEqual(pose_text(0.2, -0.1), "straight, at rest height")


class AgainstTheSweep(unittest.TestCase):
    def test_the_judged_gap_is_the_sweeps(self):
        chosen = candidate()
        things = [thing for _, thing in things_of(readings(), MOTION)]
        found = sweep(
            outline_polygon(chosen.fitted.outline), well_of(MOTION, chosen, range_of(MOTION, chosen)), things, 10.0, 5.0
        )
        mine = swept(readings(), MOTION, bare(chosen))
        self.assertEqual([one.reading.code for one in mine], [thing.name for thing in things])
        for one, gap in zip(mine, found.gaps, strict=True):
            self.assertAlmostEqual(one.low.gap_mm, gap.gap_mm, delta=0.05)

    def test_at_the_readings_own_pose_the_gap_is_the_reading(self):
        """With what was on the car, straight and level, the liner stands where the rule said."""
        same = Candidate(ON_CAR)
        at = {one.reading.code: one for one in gaps_at("FL", readings(), MOTION, same, SCHOOLS["daily"], 0.0, 0.0)}
        self.assertAlmostEqual(at["liner_front"].gap_mm, 40.0, delta=0.35)
        self.assertAlmostEqual(at["damper"].gap_mm, 15.5, delta=0.1)
        lock = {one.reading.code: one for one in gaps_at("FL", readings(), MOTION, same, SCHOOLS["daily"], 34.0, 0.0)}
        self.assertAlmostEqual(lock["rail_rear_lock"].gap_mm, 30.0, delta=0.1)

    def test_map_cells_are_the_tightest_obstacle_there(self):
        found = well_map("FL", readings(), MOTION, candidate(), SCHOOLS["daily"])
        chosen = candidate()
        well = well_of(MOTION, chosen, range_of(MOTION, chosen))
        things = [thing for _, thing in things_of(readings(), MOTION) if thing.hinge is None]
        self.assertGreater(len(things), 2)
        for row, column in ((0, 0), (7, 13), (14, 26), (3, 20)):
            cell = found.cells[row][column]
            pose = np.array([cell.steer_deg]), np.array([cell.travel_mm])
            expected = min(
                reference(outline_polygon(chosen.fitted.outline), well, thing.points_mm, *pose).min()
                for thing in things
            )
            self.assertAlmostEqual(cell.gap_mm, expected, delta=2e-4)
            self.assertEqual(cell.state == "hit", expected < 0)

    def test_the_map_takes_the_worse_of_with_and_without_an_unsettled_trial_fit(self):
        """A liner that a sighting moved 25 mm away still stands where it was first read.

        So does a tyre that it shrank.
        """
        first, chosen, daily = readings(), candidate(), SCHOOLS["daily"]
        moved = tuple(replace(one, moved_mm=(25.0, 0.0, 25.0)) if one.code == "liner_front" else one for one in first)
        without, alone = (axle_map(axle(some), "FL", chosen, daily) for some in (first, moved))
        held = axle_map(replace(axle(moved), held=Held(first, frozenset())), "FL", chosen, daily)
        for a, b, c in zip(without.cells, alone.cells, held.cells, strict=True):
            for plain, far, both in zip(a, b, c, strict=True):
                self.assertAlmostEqual(both.gap_mm, min(plain.gap_mm, far.gap_mm), delta=1e-3)
        self.assertGreater(_most_apart(alone, held), 1.0, "left alone it would improve")
        shrunk = replace(chosen, fitted=replace(chosen.fitted, grown_mm=-6.0, grown_doubt_mm=2.0))
        key = frozenset({(chosen.fitted.tyre.size, chosen.fitted.wheel.width_in)})
        loose = axle_map(replace(axle(first), held=Held(first, key)), "FL", shrunk, daily)
        self.assertGreater(
            _most_apart(axle_map(axle(first), "FL", shrunk, daily), without), 5.0, "left alone it would improve"
        )
        self.assertAlmostEqual(_most_apart(loose, without), 0.0, delta=1e-3)

    def test_the_map_is_clear_only_with_all_of_the_uncertainty(self):
        """A cell between the margin and the margin with its ± is tight, as the judgement beside it."""
        chosen, daily = candidate("17x7 +45", "205/50R17", ride_drop_mm=0.0), SCHOOLS["daily"]
        sharp = tuple(
            replace(reading, uncertainty_mm=0.0, present=replace(ON_CAR, measured_section_mm=205.0))
            for reading in readings()
        )
        vague = tuple(replace(reading, uncertainty_mm=12.0) for reading in sharp)
        told = [
            [cell.state for row in well_map("FL", some, MOTION, chosen, daily).cells for cell in row]
            for some in (sharp, vague)
        ]
        self.assertGreater(told[0].count("clear"), told[1].count("clear"))
        self.assertTrue(all(a == b or (a, b) == ("clear", "tight") for a, b in zip(*told, strict=True)))

    def test_what_was_only_assumed_paints_nothing_clear(self):
        chosen, daily = candidate("17x7 +45", "205/50R17", ride_drop_mm=0.0), SCHOOLS["daily"]
        mirrored = tuple(replace(reading, assumed=reading.code == "liner_front") for reading in readings())
        for some, motion in ((mirrored, MOTION), (readings(), replace(MOTION, assumed=True))):
            found = well_map("FL", some, motion, chosen, daily)
            states = {cell.state for row in found.cells for cell in row}
            self.assertIn("unmeasured", states)
            self.assertNotIn("clear", states)
        at_rest = {one.reading.code: one.state for one in gaps_at("FL", mirrored, MOTION, chosen, daily, 0.0, 0.0)}
        self.assertEqual((at_rest["liner_front"], at_rest["damper"]), ("unmeasured", "clear"))
        turned = {
            one.reading.code: one.state
            for one in gaps_at("FL", readings(), replace(MOTION, assumed=True), chosen, daily, 10.0, 0.0)
        }
        self.assertEqual(turned["liner_front"], "unmeasured")

    def test_windows_on_the_screen_are_those_of_the_command_line(self):
        """Whole millimetres inside the ends that ``offset_window`` finds to a tenth."""
        chosen = candidate()
        band = offset_bands(
            corner="FL",
            readings=readings(),
            motion=MOTION,
            candidate=chosen,
            tolerances=replace(SCHOOLS["daily"], flex_mm=0.0, growth_mm=0.0),
            widths_in=[8.0],
            low_mm=10,
            high_mm=60,
        )[0]
        moving = [thing for _, thing in things_of(readings(), MOTION)]
        strut = [Thing("damper", "knuckle", np.array([[0.0, float(p[1]), float(p[2])]])) for p in [_damper_point()]]
        well = replace(well_of(MOTION, chosen, range_of(MOTION, chosen)), centre_mm=0.0)
        found = offset_window(
            outline_mm=outline_polygon(chosen.fitted.outline),
            well=well,
            things=[*moving, *strut],
            spacer_mm=0.0,
            low_mm=10.0,
            high_mm=60.0,
            body_margin_mm=10.0,
            knuckle_margin_mm=5.0,
        )
        self.assertLessEqual(abs(band.no_contact[0] - found.no_contact[0]), 1.0)
        self.assertLessEqual(abs(band.no_contact[1] - found.no_contact[1]), 1.0)
        self.assertGreaterEqual(band.no_contact[0], found.no_contact[0] - 0.05)
        self.assertLessEqual(band.no_contact[1], found.no_contact[1] + 0.05)


def _damper_point():
    from rimcore.well.read.measured import placed

    return placed(readings()[0]).points_mm[0]


class Facts(unittest.TestCase):
    def gaps(self, chosen, corner="FL", school="daily"):
        found = judge_motion(corner, readings(corner), MOTION, chosen, SCHOOLS[school])
        return {j.code: j.value for j in found if j.code.endswith(".moving")}

    def test_left_and_right_are_the_same(self):
        """One corner frame for both: the same readings give the same gaps on either side."""
        left, right = self.gaps(candidate()), self.gaps(candidate(), "FR")
        self.assertEqual(left, right)

    @settings(max_examples=25, deadline=None, derandomize=True)
    @given(st.floats(0, 30), st.floats(0, 12))
    def test_more_spacer_never_leaves_more_at_the_lip(self, spacer, more):
        thin, thick = self.gaps(candidate(spacer_mm=spacer)), self.gaps(candidate(spacer_mm=spacer + more))
        self.assertLessEqual(thick["gap.arch_12.moving"], thin["gap.arch_12.moving"] + 0.02)

    def test_less_lock_never_leaves_less(self):
        wide, narrow = self.gaps(candidate()), self.gaps(candidate(lock_limit_deg=5.0))
        for code, value in wide.items():
            self.assertGreaterEqual(narrow[code], value - 0.02)

    def test_a_rolled_lip_leaves_more(self):
        plain, rolled = self.gaps(candidate("17x9 +25")), self.gaps(candidate("17x9 +25", lip_rolled_mm=6.0))
        self.assertGreater(rolled["gap.arch_12.moving"], plain["gap.arch_12.moving"] + 3.0)

    def test_a_wider_range_never_leaves_more(self):
        wider = replace(MOTION, bump_mm=90.0, droop_mm=95.0)
        for code, value in self.gaps(candidate()).items():
            found = judge_motion("FL", readings(), wider, candidate(), SCHOOLS["daily"])
            self.assertLessEqual(next(j.value for j in found if j.code == code), value + 0.02)


def random_corner(rng):
    """How a corner moves, what would stand on it, and what was read of it."""
    motion = Motion(
        bump_mm=rng.uniform(30, 90),
        droop_mm=rng.uniform(30, 90),
        steer_out_deg=rng.uniform(25, 40),
        steer_in_deg=rng.uniform(22, 38),
        camber_gain_deg_per_mm=rng.uniform(-0.03, 0.005),
        kpi_deg=rng.uniform(0, 15),
        caster_deg=rng.uniform(0, 8),
        kingpin_inboard_mm=rng.uniform(30, 115),
    )
    wheel = f"17x{rng.choice([7, 7.5, 8, 8.5, 9])} {rng.integers(20, 56):+d}"
    chosen = candidate(
        wheel,
        str(rng.choice(["215/45R17", "225/45R17", "245/40R17"])),
        camber_deg=rng.uniform(-3, 0),
        spacer_mm=float(rng.choice([0, 5])),
        ride_drop_mm=rng.uniform(-10, 25),
        lock_limit_deg=float(rng.choice([0, 3])),
        stroke_moves=bool(rng.integers(2)),
    )
    taken = (
        read(
            "FL",
            "arch_12",
            None,
            Station("arch", clock=12, side_gap_mm=rng.uniform(5, 45), up_gap_mm=rng.uniform(40, 110)),
        ),
        read(
            "FL",
            "arch_2",
            None,
            Station("arch", clock=2, side_gap_mm=rng.uniform(5, 45), up_gap_mm=rng.uniform(40, 110)),
        ),
        read("FL", "liner_front", rng.uniform(15, 90), Station("liner", edge="front", u="centre")),
        read(
            "FL",
            "liner_rear_lock",
            rng.uniform(5, 60),
            Station("liner", edge="rear", u="inner"),
            rng.uniform(15, 34),
        ),
        read(
            "FL",
            "rail_rear_lock",
            rng.uniform(5, 60),
            Station("rail", edge="rear", height_mm=rng.uniform(-40, 120)),
            rng.uniform(15, 34),
        ),
    )
    return motion, chosen, taken


class RandomCars(unittest.TestCase):
    """Whole cars: random readings, range, wheel, tyre, height and camber.

    The wheel carried forward by a reference library.
    """

    @settings(max_examples=400, deadline=None, derandomize=True)
    @given(st.integers(0, 2**32 - 1))
    def test_what_is_said_to_be_clear_never_touches(self, seed):
        rng = np.random.default_rng(seed)
        motion, chosen, taken = random_corner(rng)
        reach = range_of(motion, chosen)
        well = well_of(motion, chosen, reach)
        s = np.append(
            rng.uniform(-reach.steer_in_deg, reach.steer_out_deg, 60), [-reach.steer_in_deg, 0.0, reach.steer_out_deg]
        )
        t = np.append(
            rng.uniform(-reach.droop_mm, reach.bump_mm, 60), [reach.bump_mm, chosen.levers.ride_drop_mm, reach.bump_mm]
        )
        found = {j.code: j for j in judge_motion("FL", taken, motion, chosen, SCHOOLS["daily"])}
        for reading in taken:
            judged = found[f"gap.{reading.code}.moving"]
            least = reference(outline_polygon(chosen.fitted.outline), well, placed(reading).points_mm[:1], s, t).min()
            if judged.value > 0:
                self.assertGreaterEqual(least, judged.value - 0.1, reading.code)
            if judged.state == "clear":
                self.assertGreater(least, 0.0, reading.code)
                self.assertGreaterEqual(least, judged.held_against - 0.1, "and keeps its margin")


class Margins(unittest.TestCase):
    def one(self, code, chosen, motion=MOTION, first=None, school="daily"):
        found = judge_motion("FL", readings() if first is None else first, motion, chosen, SCHOOLS[school])
        return next(j for j in found if j.code == code)

    def test_growth_and_flex_are_added_by_the_gaps_direction(self):
        found = self.one("gap.liner_front.moving", candidate())
        sideways, radial = found.along
        self.assertAlmostEqual(sideways**2 + radial**2, 1.0, places=6)
        self.assertAlmostEqual(found.held_against, 10.0 + 2.0 * sideways + 1.0 * radial)

    def test_may_touch_and_tight_by_uncertainty(self):
        lip = readings()[1]

        def at(side):
            moved = replace(lip, station=replace(lip.station, side_gap_mm=side))
            return self.one("gap.arch_12.moving", candidate(), first=(moved,))

        found = [at(float(side)) for side in range(46)]
        may = [j for j in found if 0 <= j.value < j.uncertainty]
        self.assertTrue(may)
        self.assertTrue(all(j.state == "tight" and "may touch" in j.reason for j in may))
        within = [j for j in found if j.held_against <= j.value < j.held_against + j.uncertainty]
        self.assertTrue(within)
        self.assertTrue(all(j.state == "tight" and "within" in j.reason for j in within))

    def test_uncertain_ends_of_the_range_widen_the_interval(self):
        sharp = self.one(
            "gap.arch_12.moving", candidate(), replace(MOTION, travel_uncertainty_mm=0.0, lock_uncertainty_deg=0.0)
        )
        loose = self.one("gap.arch_12.moving", candidate(), replace(MOTION, travel_uncertainty_mm=6.0))
        self.assertGreater(loose.uncertainty, sharp.uncertainty + 0.5)

    def test_assumed_is_never_clear(self):
        roomy = candidate("16x6.5 +50", "195/50R16", ride_drop_mm=0.0, camber_deg=-0.6)
        self.assertEqual(self.one("gap.rail_rear_lock.moving", roomy).state, "clear")
        mirrored = self.one("gap.rail_rear_lock.moving", roomy, replace(MOTION, assumed=True))
        self.assertEqual((mirrored.state, mirrored.missing), ("unmeasured", ("FL.rail_rear_lock",)))

    def test_an_arm_without_its_hinge_is_unmeasured_in_motion(self):
        arm = read("FL", "arm_rear_lock", 25.0, Station("arm", edge="rear", height_mm=-60), 34.0)
        found = self.one("gap.arm_rear_lock.moving", candidate(), first=(arm,))
        self.assertEqual((found.state, found.missing), ("unmeasured", ("FL.arm_pivot", "FL.arm_joint")))
        hinged = replace(MOTION, hinge=Hinge((-395.0, -88.0), (-84.0, -118.0)))
        self.assertNotEqual(self.one("gap.arm_rear_lock.moving", candidate(), hinged, (arm,)).state, "unmeasured")

    def test_a_reading_at_bump_is_placed_at_that_bump(self):
        """The same damper read 60 mm up stands as far away there as it was read."""
        raised = read("FL", "damper_bump", 12.0, Station("damper", height_mm=285, strut=False), raised=60.0)
        at = gaps_at("FL", [raised], MOTION, Candidate(ON_CAR), SCHOOLS["daily"], 0.0, 60.0)[0]
        self.assertAlmostEqual(at.gap_mm, 12.0, delta=0.3)

    def test_both_sides_are_swept(self):
        tight = replace(readings("FR")[1], station=Station("arch", clock=12, side_gap_mm=12, up_gap_mm=60))
        found = judge(axle(second=(tight,)), candidate(), SCHOOLS["daily"]).tightest
        self.assertEqual(found.where, "front right")

    def test_rest_alone_judges_protrusion_where_motion_is_known(self):
        far = candidate("17x9 +10", "225/45R17")
        found = {j.code: j for j in judge(axle(), far, SCHOOLS["daily"]).judgements if j.where == "front left"}
        self.assertEqual(found["gap.arch_12.sideways"].state, "tight")
        self.assertIn("regulated", found["gap.arch_12.sideways"].reason)
        self.assertEqual(found["gap.arch_12.moving"].state, "hit")


def area_of(path):
    """A path of straight lines, as shapely has it; rings in rings are holes."""
    rings = [[tuple(map(float, pair.split(" "))) for pair in run.split("L")] for run in absolute(path).split("M")[1:]]
    whole = Polygon()
    for ring in rings:
        whole = whole.symmetric_difference(Polygon(ring).buffer(0))
    return whole


def absolute(path):
    """H and V as L."""
    out, x, y = "", "0", "0"
    for kind, rest in re.findall(r"([MLHV])([^MLHVz]*)", path):
        if kind == "H":
            x = rest
        elif kind == "V":
            y = rest
        else:
            x, y = rest.split(" ")
        out += f"{'M' if kind == 'M' else 'L'}{x} {y}"
    return out


class Drawings(unittest.TestCase):
    def test_moving_section_draws_what_is_near_with_its_figure(self):
        at = gaps_at("FL", readings(), MOTION, candidate(), SCHOOLS["daily"], 30.0, 60.0)
        scene = moving_scene("FL", ON_CAR, candidate(), MOTION, at, 30.0, 60.0)
        self.assertEqual([d.key for d in scene.dimensions], [one.reading.code for one in at[:3]])
        self.assertTrue(any(shape.ink == "present" for shape in scene.shapes))

    def test_areas_of_the_map_hold_the_poses_of_their_state(self):
        """Every pose lies in the area of its state and in no other (shapely), and the contours run between poses of
        either side.
        """
        found = well_map("FL", readings(), MOTION, candidate("17x9 +20"), SCHOOLS["daily"])
        scene = map_scene(found, 0.0, 20.0, 20.0, [(10.0, 30.0, "lock")])
        self.assertEqual((scene.pose_x, scene.pose_y), (scene.zero_x, scene.zero_y))
        areas = {state: area_of(path) for state, path in scene.paths.items()}
        self.assertAlmostEqual(areas["tight"].area, (scene.x1 - scene.x0) * (scene.y1 - scene.y0))
        self.assertIn("hit", areas)
        seen = set()
        for row in found.cells:
            for cell in row:
                at = Point(
                    map_scene(found, cell.steer_deg, cell.travel_mm, 20.0).pose_x,
                    map_scene(found, cell.steer_deg, cell.travel_mm, 20.0).pose_y,
                )
                if abs(cell.gap_mm) > 0.3 and abs(cell.left_mm) > 0.3:
                    self.assertEqual("hit" in areas and areas["hit"].distance(at) < 0.06, cell.state == "hit", cell)
                    self.assertEqual("clear" in areas and areas["clear"].distance(at) < 0.06, cell.left_mm > 0, cell)
                    seen.add(cell.state)
        self.assertIn("hit", seen)
        self.assertTrue(scene.lines["touches"])

    def test_contours_lie_where_the_field_crosses(self):
        """On a plane field the contour is a straight line whose place is known: gap = steer, travel of no matter."""
        steer, travel = tuple(float(s) for s in range(-20, 21, 4)), (-30.0, 0.0, 30.0)
        cells = tuple(
            tuple(Cell(s, t, s, "hit" if s < 0 else "tight" if s < 6 else "clear", s - 6) for s in steer)
            for t in travel
        )
        scene = map_scene(WellMap(None, steer, travel, cells), 0.0, 0.0, 0.0)
        for name, at in (("touches", 0.0), ("margin", 6.0), ("10 mm", 10.0)):
            x = scene.x0 + (at + 20) / 40 * (scene.x1 - scene.x0)
            for run in scene.lines[name].split("M")[1:]:
                self.assertTrue(all(abs(float(pair.split(" ")[0]) - x) < 0.06 for pair in run.split("L")), name)
        self.assertAlmostEqual(area_of(scene.paths["hit"]).area / area_of(scene.paths["tight"]).area, 0.5, places=2)
        self.assertAlmostEqual(
            area_of(scene.paths["clear"]).area / area_of(scene.paths["tight"]).area, 14 / 40, places=2
        )

    def test_an_axle_that_does_not_steer_has_areas_over_the_whole_width(self):
        travel = (-30.0, 0.0, 30.0)
        cells = tuple((Cell(0.0, t, 5 - t, "clear" if t < 0 else "tight" if t < 5 else "hit", -t),) for t in travel)
        scene = map_scene(WellMap(None, (0.0,), travel, cells), 0.0, 0.0, 0.0)
        low, _, high, _ = area_of(scene.paths["hit"]).bounds
        self.assertEqual((round(low, 1), round(high, 1)), (scene.x0, scene.x1))

    def test_what_nobody_knows_is_drawn_pose_by_pose(self):
        cells = tuple(
            tuple(Cell(float(s), float(t), 20.0, "clear" if s == 0 else "unmeasured", 10.0) for s in (-1, 0, 1))
            for t in (0, 1)
        )
        scene = map_scene(WellMap(None, (-1.0, 0.0, 1.0), (0.0, 1.0), cells), 0.0, 0.0, 0.0)
        self.assertEqual(scene.paths["unmeasured"].count("M"), 4)

    def test_bands_have_a_label_a_bar_and_an_offset_each(self):
        bands = offset_bands(
            corner="FL",
            readings=readings(),
            motion=MOTION,
            candidate=candidate(),
            tolerances=SCHOOLS["daily"],
            widths_in=[7.5, 8.0],
            low_mm=15,
            high_mm=65,
        )
        scene = band_scene(bands, [f"{band.width_in:g} in" for band in bands], 15, 65, (8.0, bands[0].tyre), 40.0)
        self.assertEqual([row.label for row in scene.rows], ["7.5 in", "8 in"])
        self.assertIsNone(scene.rows[0].here)
        self.assertIsNotNone(scene.rows[1].here)


class Ways(unittest.TestCase):
    """What a moving gap is told to change keeps its margin, to first order."""

    def moving(self, chosen):
        found = judge(axle(second=readings("FR")), chosen, SCHOOLS["daily"]).judgements
        return {(j.code, j.where): j for j in found if j.code.endswith(".moving")}

    def test_offset_and_diameter(self):
        tried = 0
        for wheel in ("17x8 +20", "17x8 +30", "17x8.5 +55", "17x9 +45"):
            for key, told in self.moving(candidate(wheel)).items():
                if told.state not in ("hit", "tight"):
                    self.assertEqual(told.remedies, (), key)
                    continue
                self.assertIn("the bench tries these", told.remedies[-1])
                offsets = [way for way in told.remedies if way.startswith("offset about")]
                if not offsets or told.value < -3:
                    continue
                moved = self.moving(candidate(f"{wheel.split()[0]} {float(offsets[0].split()[-1]):+g}"))[key]
                self.assertGreater(moved.margin, told.margin)
                self.assertGreater(moved.margin - moved.uncertainty, -3.0, (wheel, key, told.remedies))
                tried += 1
        self.assertGreater(tried, 4)
