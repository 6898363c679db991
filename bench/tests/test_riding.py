"""The ride on the page: heights of the build, dips kept with the height at which they were driven, bad input in words."""

from garage.models import KnownDip, Springs
from planner.models import Build
from rimcore.registry import CALCULATIONS
from shell.tests.base import ScenarioCase
from shell.undo import last_change, undo

DIP = {"name": "Quarry gate", "corner": "FR", "shaft_mm": "1 1/2 in", "who": "Ina", "driven_on": "2026-11-12"}


class Ride(ScenarioCase):
    def corner(self, name="front left"):
        return next(one for one in self.page("check/ride/").context["corners"] if one.where == name)

    def test_heights_are_those_of_the_build_in_hand(self):
        drop = Build.objects.get(car=self.car, in_hand=True).lever("ride_drop_mm", "F")
        one, measured = self.corner(), self.file().motions["FL"]
        self.assertEqual((one.drop_mm, one.bump_mm, one.droop_mm), (drop, measured.bump_mm - drop, measured.droop_mm + drop))

    def test_figures_are_those_of_the_command_line(self):
        one, kept = self.corner(), Springs.objects.get(car=self.car, end="F")
        answer = CALCULATIONS["spring"].answer({
            "rate_N_per_mm": kept.rate_n_per_mm, "free_length_mm": 310, "block_length_mm": 118, "preload_mm": 5, "motion_ratio": 0.94, "corner_kg": 410,
            "unsprung_kg": 41, "bump_mm": one.bump_mm,
        })  # fmt: skip
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
        self.assertIn("spring ÷ wheel movement is not known", dip.reason)

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
