"""The ride on the page: heights of the build, dips kept with the height at which they were driven, bad input in words."""

from dataclasses import replace

import numpy as np

from garage.car.services import set_cg_height
from garage.chassis.models import HardPoint, KnownDip, OldPart, Springs
from garage.inhand import judgements_in_hand
from planner.chosen import candidate
from planner.models import Build
from planner.parts import part_judgements
from planner.queries import lever_rows
from planner.services import duplicate_build, put_part, set_levers
from rimcore.lines import parse_line
from rimcore.registry import CALCULATIONS
from rimcore.well.judge.posegaps import pose_of
from rimcore.well.judge.ranges import range_of
from shelf.services import add_line
from shell.tests.base import ScenarioCase
from shell.undo import last_change, undo

DIP = {
    "form": "dip",
    "name": "Quarry gate",
    "corner": "FR",
    "shaft_mm": "1 1/2 in",
    "who": "Ina",
    "driven_on": "2026-11-12",
}


class Ride(ScenarioCase):
    def corner(self, name="front left"):
        return next(one for one in self.page("check/ride/").context["corners"] if one.where == name)

    def test_heights_are_those_of_the_build_in_hand(self):
        drop = Build.objects.get(car=self.car, in_hand=True).lever("ride_drop_mm", "F")
        one, measured = self.corner(), self.file().motions["FL"]
        self.assertEqual(
            (one.drop_mm, one.bump_mm, one.droop_mm), (drop, measured.bump_mm - drop, measured.droop_mm + drop)
        )

    def test_figures_are_those_of_the_command_line(self):
        one, kept = self.corner(), Springs.objects.get(car=self.car, end="F")
        answer = CALCULATIONS["spring"].answer(
            {
                "rate_N_per_mm": kept.rate_n_per_mm,
                "free_length_mm": 310,
                "block_length_mm": 118,
                "preload_mm": 5,
                "motion_ratio": 0.94,
                "corner_kg": 410,
                "unsprung_kg": 41,
                "bump_mm": one.bump_mm,
            }
        )
        self.assertAlmostEqual(one.sprung.natural_frequency_hz, answer["natural_frequency_hz"], places=6)
        judged = {one.name: one for one in self.page("check/ride/").context["judged"]}
        self.assertEqual(judged["Coil bind, front left"].state, answer["coil_bind"]["state"])

    def test_the_newest_drive_counts_and_is_judged_at_the_height_in_hand(self):
        page = self.page("check/ride/")
        dip = next(one for one in page.context["judged"] if one.code == "ride.dip")
        self.assertAlmostEqual(dip.value, self.corner().bump_mm - 39 / 0.94, places=6)
        self.assertContains(page, "it touched")

    def test_a_dip_is_kept_undone_and_removed(self):
        self.assertRedirects(self.client.post(self.url("check/ride/"), DIP), self.url("check/ride/"))
        kept = KnownDip.objects.get(name="Quarry gate")
        self.assertAlmostEqual(kept.shaft_mm, 38.1)
        self.client.post(self.url(f"check/ride/dip/{kept.pk}/remove/"))
        self.assertFalse(KnownDip.objects.filter(name="Quarry gate").exists())
        undo(self.user, last_change(self.user).pk)
        self.assertTrue(KnownDip.objects.filter(name="Quarry gate").exists())

    def test_first_contact_with_the_stop_that_is_written_down(self):
        """437 mm between the mounts, 20 × 0.94 taken by the height, 356 compressed, the stop 52 long and 22 solid."""
        judged = {one.name: one for one in self.page("check/ride/").context["judged"]}
        room = 437 - 20 * 0.94 - 356
        self.assertAlmostEqual(judged["First contact with the stop, front"].value, (room - 52) / 0.94)
        self.assertAlmostEqual(judged["Bump travel to the solid stop, front"].value, (room - 22) / 0.94)
        OldPart.objects.filter(car=self.car, family="damper").delete()
        self.assertNotIn(
            "First contact with the stop, front", {one.name for one in self.page("check/ride/").context["judged"]}
        )

    def test_without_springs_or_travel_it_is_unmeasured(self):
        Springs.objects.filter(car=self.car).delete()
        states = {one.name: one.state for one in self.page("check/ride/").context["judged"]}
        self.assertEqual(states["Coil bind, front left"], "unmeasured")
        self.assertIsNone(self.page("check/ride/").context["ratio"])

    def test_without_a_motion_ratio_or_after_a_touch_no_dip_is_clear(self):
        KnownDip.objects.filter(car=self.car).update(touched=True)
        dip = next(one for one in self.page("check/ride/").context["judged"] if one.code == "ride.dip")
        self.assertEqual(dip.state, "unmeasured")
        KnownDip.objects.filter(car=self.car).update(touched=False)
        Springs.objects.filter(car=self.car).delete()
        dip = next(one for one in self.page("check/ride/").context["judged"] if one.code == "ride.dip")
        self.assertIn("motion ratio is not known", dip.reason)

    def test_what_moves_with_the_wheel_is_never_taken_as_nothing(self):
        Springs.objects.filter(car=self.car, end="F").update(unsprung_kg=None)
        judged = {one.name: one for one in self.page("check/ride/").context["judged"]}
        self.assertEqual(judged["Coil bind, front left"].reason, "not known: what moves with the wheel")
        self.assertIsNone(self.corner().sprung)

    def test_bad_input_in_words_nothing_lost(self):
        for change, words in (
            ({"shaft_mm": "deep"}, "deep"),
            ({"shaft_mm": "0"}, "Out of range"),
            ({"name": ""}, "required"),
            ({"driven_on": "2126-01-01"}, "has not come yet"),
        ):
            answer = self.client.post(self.url("check/ride/"), DIP | change)
            self.assertContains(answer, words, status_code=422)
        self.assertFalse(KnownDip.objects.filter(name="Quarry gate").exists())


class Parts(ScenarioCase):
    """What the build's parts do to the height, and the collars; taken into the build at one press."""

    LINE = "springs 36 N/mm free 268 block 112 inside 118, set of 2, 118, 9 days"

    def put(self, line, position="F"):
        self.build = Build.objects.get(car=self.car, in_hand=True)
        return put_part(
            self.build,
            self.user,
            add_line(self.car, self.user, parse_line(line)),
            {"position": position, "quantity": 1},
        )

    def lever(self, code, end="F"):
        return Build.objects.get(pk=self.build.pk).lever(code, end)

    def test_what_the_springs_give_is_shown_held_against_the_build_and_taken(self):
        self.put(self.LINE)
        page = self.page("check/ride/")
        ((name, given),) = page.context["given"]
        force = (402 - 41) * 9.80665 / 0.94
        wanted = ((310 - force / 28) - (268 - force / 36)) / 0.94
        self.assertEqual(name, "front")
        self.assertAlmostEqual(given.total_mm, wanted, places=6)
        judged = {one.code: one for one in part_judgements(self.file(), self.build)}
        self.assertEqual(judged["part.height"].state, "tight")
        self.client.post(self.url("check/ride/"), {"form": "take"})
        self.assertAlmostEqual(self.lever("ride_drop_mm"), round(wanted, 1))
        judged = {one.code: one for one in part_judgements(self.file(), Build.objects.get(pk=self.build.pk))}
        self.assertEqual(judged["part.height"].state, "clear")
        undo(self.user, last_change(self.user).pk)
        self.assertEqual(self.lever("ride_drop_mm"), 20)

    def test_collars_raise_by_the_motion_ratio(self):
        self.put(self.LINE)
        before = self.page("check/ride/").context["given"][0][1].total_mm
        self.assertRedirects(
            self.client.post(self.url("check/ride/"), {"form": "collars", "perch_up_mm_F": "9.4", "perch_up_mm_R": ""}),
            self.url("check/ride/"),
        )
        self.assertAlmostEqual(self.page("check/ride/").context["given"][0][1].total_mm, before - 10.0)
        page = self.client.post(
            self.url("check/ride/"), {"form": "collars", "perch_up_mm_F": "500", "perch_up_mm_R": ""}
        )
        self.assertContains(page, "Out of range", status_code=422)

    def test_nothing_is_taken_where_nothing_is_known(self):
        self.put("springs 36 N/mm, 118")
        page = self.client.post(self.url("check/ride/"), {"form": "take"}, follow=True)
        self.assertContains(page, "Nothing taken")
        self.assertEqual(self.lever("ride_drop_mm"), 20)

    def test_a_body_that_goes_along_keeps_the_bump(self):
        build = Build.objects.get(car=self.car, in_hand=True)
        before = self.page("check/ride/").context["corners"][0].bump_mm
        set_levers(build, {("stroke_moves", ""): True})
        self.assertAlmostEqual(self.page("check/ride/").context["corners"][0].bump_mm, before + 20)

    def test_stability_with_the_height_of_the_cars_data(self):
        self.car = self.user.cars.get(nickname__startswith="Strath")
        set_cg_height(self.car, 609.6)
        page = self.client.get(self.url("check/ride/"))
        judged = {one.code: one for one in page.context["lift"]}
        self.assertAlmostEqual(judged["lift.stable"].before, (1365 + 50) / (2 * 609.6), places=2)
        self.car.cg_height_mm = None
        self.car.save()
        page = self.client.get(self.url("check/ride/"))
        self.assertEqual({one.code: one.state for one in page.context["lift"]}["lift.stable"], "unmeasured")
        self.assertContains(page, "Find the height of the centre")

    def test_what_the_benches_judge_is_open_too(self):
        rows = [row for group in self.page("open/").context["groups"] for row in group.rows]
        self.assertIn(self.url("measure/FR/bump/"), {row.url for row in rows})
        self.assertIn("FR bump", {f"{stop.corner} {stop.code}" for stop in self.page("walk/").context["route"].stops})


class Following(ScenarioCase):
    """The wheel well on the links that were read.

    Its poses, its limiters, and a corner that was only taken over from the other side.
    """

    def setUp(self):
        super().setUp()
        self.car = self.user.cars.get(nickname__startswith="Gannel")

    def test_the_corner_moves_by_its_links(self):
        links = self.file().motions["FL"].links
        motion = self.file().motions["FL"]
        self.assertIsNotNone(links)
        self.assertAlmostEqual(motion.camber_at(-1.1, 0.0, 40.0), -1.1 + links.camber_change_deg(0.0, 40.0))
        HardPoint.objects.filter(car=self.car, corner="FL").delete()
        self.assertIsNone(self.file().motions["FL"].links)

    def test_points_of_the_other_side_move_nothing(self):
        self.car = self.user.cars.get(nickname__startswith="Tarn")
        self.assertIsNotNone(self.file().motions["FL"].links)
        self.assertIsNone(self.file().motions["FR"].links)

    def test_a_limiter_on_the_rack_takes_its_angle_off_the_lock(self):
        build = Build.objects.get(car=self.car)
        file = self.file()
        before = range_of(file.motions["FL"], candidate(file, build, "F"))
        set_levers(build, {("rack_limit_mm", ""): 10})
        file = self.file()
        after = range_of(file.motions["FL"], candidate(file, Build.objects.get(pk=build.pk), "F"))
        self.assertLess(after.steer_out_deg, before.steer_out_deg - 1)
        self.assertLess(after.steer_in_deg, before.steer_in_deg - 1)

    def test_every_pose_of_the_map_is_that_of_the_links(self):
        file = self.file()
        build = Build.objects.get(car=self.car)
        motion, wanted = file.motions["FL"], candidate(file, build, "F")
        self.assertEqual(wanted.levers.rack_mm[0], 26.0)
        pose = pose_of(motion, wanted, 15.0, 20.0)
        self.assertIs(
            pose.follow, motion.follow(wanted.fitted.camber_deg, wanted.levers.ride_drop_mm, wanted.levers.rack_mm)
        )
        plain = pose_of(replace(motion, links=None), wanted, 15.0, 20.0)
        hub = np.array([[0.0, -30.0, 300.0]])
        self.assertGreater(float(np.abs(pose.to_body(hub) - plain.to_body(hub)).max()), 0.2)


class Corners(ScenarioCase):
    """Heights of four corners: by collars wound unevenly, by lower mounts, taken into the build and followed by the
    well.
    """

    def setUp(self):
        super().setUp()
        self.build = Build.objects.get(car=self.car, in_hand=True)

    def corner(self, name):
        return next(one for one in self.page("check/ride/").context["corners"] if one.where == name)

    def post(self, **values):
        return self.client.post(self.url("check/ride/"), {"form": "collars"} | values)

    def squared(self):
        """Springs, tracks and wheelbase of the statics, so that the answer is known in closed form."""
        self.car.track_front_mm = self.car.track_rear_mm = 1500
        self.car.save()
        Springs.objects.filter(car=self.car).update(
            rate_n_per_mm=40,
            motion_ratio=1.0,
            turn_mm=2.0,
            bar_n_per_mm=0.0,
            unsprung_kg=40,
            free_length_mm=300,
            block_length_mm=100,
        )

    def test_a_lone_collar_lifts_three_quarters_there_and_lowers_across(self):
        self.squared()
        set_levers(self.build, {("ride_drop_mm", end): 20.0 for end in "FR"})
        self.assertRedirects(self.post(collar_mm_FL="8 mm"), self.url("check/ride/"))
        rows = {row["where"]: row for row in self.page("check/ride/").context["wound"]["rows"]}
        said = [rows[name]["lowers"] for name in ("front left", "front right", "rear left", "rear right")]
        np.testing.assert_allclose(said, [-6.0, -2.0, -2.0, 2.0], atol=1e-3)
        judged = {one.code: one for one in self.page("check/ride/").context["judged"]}
        self.assertEqual(judged["ride.corners"].state, "tight")
        before = self.corner("front left").bump_mm
        self.client.post(self.url("check/ride/"), {"form": "take"})
        judged = {one.code: one for one in self.page("check/ride/").context["judged"]}
        self.assertEqual(judged["ride.corners"].state, "clear")
        self.assertAlmostEqual(self.corner("front left").bump_mm, before + 6.0, places=6)
        self.assertAlmostEqual(self.corner("front left").drop_mm, 14.0, places=6)

    def test_the_well_stands_at_its_own_corners_height(self):
        found = {corner: candidate(self.file(), self.build, "F").at(corner) for corner in ("FL", "FR")}
        self.assertEqual(found["FL"].levers.ride_drop_mm, found["FR"].levers.ride_drop_mm)
        gaps = {j.where: j for j in self.judged("gap.arch_12.upward")}
        set_levers(self.build, {("corner_drop_mm", "FL"): 6.0, ("corner_drop_mm", "FR"): -4.0})
        after = {j.where: j for j in self.judged("gap.arch_12.upward")}
        for where, more in (("front left", 6.0), ("front right", -4.0)):
            if where in gaps and gaps[where].value is not None:
                self.assertAlmostEqual(after[where].value, gaps[where].value - more, delta=0.2)
        self.assertTrue(any(one.value is not None for one in gaps.values()))

    def judged(self, code):
        return [one for one in judgements_in_hand(self.file()) if one.code == code]

    def test_lower_mounts_lower_it_and_leave_the_stroke(self):
        self.squared()
        set_levers(self.build, {("ride_drop_mm", "F"): 0.0})
        bump = self.corner("front left").bump_mm
        self.post(lower_mount_mm_F="15")
        given = dict(self.page("check/ride/").context["given"])
        self.assertIn(("lower mounts", 15.0), given["front"].rows)
        self.client.post(self.url("check/ride/"), {"form": "take"})
        stood = self.corner("front left")
        self.assertAlmostEqual(stood.bump_mm, bump, places=6)
        self.assertAlmostEqual(stood.drop_mm, given["front"].total_mm, places=6)
        reach = range_of(self.file().motions["FL"], candidate(self.file(), self.fresh(), "F").at("FL"))
        drop = self.fresh().lever("ride_drop_mm", "F")
        self.assertAlmostEqual(reach.bump_mm, self.file().motions["FL"].bump_mm + 15.0, places=6)
        self.assertGreater(drop, 0)

    def fresh(self):
        return Build.objects.get(pk=self.build.pk)

    def test_without_springs_the_corners_are_unmeasured(self):
        Springs.objects.filter(car=self.car).delete()
        self.post(collar_mm_RR="5")
        page = self.page("check/ride/")
        judged = {one.code: one for one in page.context["judged"]}
        self.assertEqual(judged["ride.corners"].state, "unmeasured")
        self.assertContains(page, "front springs")
        self.client.post(self.url("check/ride/"), {"form": "take"})
        self.assertEqual(self.fresh().lever("corner_drop_mm", "RR"), 0.0)

    def test_a_collar_out_of_range_is_told_and_nothing_is_kept(self):
        answer = self.post(collar_mm_FL="900", collar_mm_FR="4")
        self.assertContains(answer, "Out of range", status_code=422)
        self.assertContains(answer, 'value="900"', status_code=422)
        self.assertEqual(self.fresh().lever("collar_mm", "FR"), 0.0)

    def test_corners_stand_in_the_comparison_and_in_the_copy(self):
        set_levers(self.build, {("collar_mm", "RL"): -3.0})
        rows = dict(lever_rows([self.fresh()]))
        self.assertEqual(rows["Rear left collar wound up more"], ["−3 mm"])
        copy = duplicate_build(self.fresh(), self.user)
        self.assertEqual(copy.lever("collar_mm", "RL"), -3.0)
