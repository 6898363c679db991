"""Corner weights on the page.

Kept together, turns those of the command line, odd pads asked about, bad input in words.
"""

from datetime import timedelta

from garage.car.models import Car
from garage.car.services import set_present
from garage.chassis.models import Springs
from garage.file import open_file
from garage.readings.models import Condition, Reading
from planner.models import Build, Lever
from rimcore.registry import CALCULATIONS
from shell.tests.base import ScenarioCase
from shell.undo import last_change, undo
from workshop.promises.make import OF_IN_HAND

FOUR = {"FL": "276", "FR": "266", "RL": "260", "RR": "263"}
MORE = {"form": "pads", "uncertainty": "0.5", "who": "Ina", "taken_on": "2026-11-02", "fuel": "half a tank"}
SPRINGS = {
    "R-rate_n_per_mm": "4.5k",
    "R-motion_ratio": "0.7",
    "R-turn_mm": "1.5",
    "R-free_length_mm": "170",
    "R-block_length_mm": "80",
    "R-preload_mm": "8",
}


class Pads(ScenarioCase):
    def setUp(self):
        super().setUp()
        self.car = Car.objects.get(owner=self.user, nickname__startswith="Gannel")

    def send(self, **change):
        return self.client.post(self.url("check/weights/"), MORE | FOUR | change)

    def test_the_turns_are_those_of_the_command_line(self):
        page = self.page("check/weights/?limit=2")
        kept = {row.end: row for row in Springs.objects.filter(car=self.car)}
        rate = {corner: kept[corner[0]].rate_n_per_mm * kept[corner[0]].motion_ratio ** 2 for corner in FOUR}
        answer = CALCULATIONS["corner-weights"].answer(
            {
                "pads_kg": {"FL": 284, "FR": 258, "RL": 252, "RR": 271},
                "wheel_rate_N_per_mm": rate,
                "track_mm": {"front": 1442, "rear": 1448},
                "wheelbase_mm": 2310,
                "mm_per_turn": 1.5,
                "motion_ratio": dict.fromkeys(FOUR, 0.72),
                "limit_turns": 2,
                "bar_N_per_mm": {end: kept[end[0].upper()].bar_n_per_mm for end in ("front", "rear")},
            }
        )
        for row in page.context["rows"]:
            self.assertAlmostEqual(row["turns"], answer["turns"][row["corner"]], places=6)
            self.assertAlmostEqual(row["after"], answer["pads_after_kg"][row["corner"]], places=6)
        self.assertEqual(page.context["cross"].state, "hit")
        self.assertAlmostEqual(page.context["cross"].value, answer["cross_pct"], places=6)

    def test_the_turns_become_collars_of_the_build(self):
        """Each turn at its pitch; the ride bench then says the even cross weight, and the sheet promises it."""
        build = Build.objects.get(car=self.car, in_hand=True)
        turns = {row["corner"]: row["turns"] for row in self.page("check/weights/").context["rows"]}
        self.assertRedirects(self.client.post(self.url("check/weights/"), {"form": "turns"}), self.url("check/ride/"))
        for corner, turned in turns.items():
            self.assertAlmostEqual(Build.objects.get(pk=build.pk).lever("collar_mm", corner), turned * 1.5, delta=0.006)
        self.assertAlmostEqual(self.page("check/ride/").context["wound"]["cross"], 50.0, delta=0.05)
        (promised,) = OF_IN_HAND["weights.cross"](open_file(self.user, self.car.pk), Build.objects.get(pk=build.pk))
        self.assertAlmostEqual(promised.judged.value, 50.0, delta=0.05)

    def test_without_a_build_in_hand_the_turns_are_kept_nowhere(self):
        Build.objects.filter(car=self.car).update(in_hand=False)
        answer = self.client.post(self.url("check/weights/"), {"form": "turns"}, follow=True)
        self.assertContains(answer, "First make a build current")
        self.assertFalse(Lever.objects.filter(code="collar_mm").exists())

    def test_a_limit_that_falls_short_is_told(self):
        self.assertContains(self.page("check/weights/?limit=0.5"), "Within these turns")

    def test_kept_together_with_how_the_car_stood_and_undone(self):
        before, stood = Reading.objects.filter(car=self.car).count(), Condition.objects.filter(car=self.car).count()
        self.assertRedirects(self.send(), self.url("check/weights/"))
        page = self.page("check/weights/")
        self.assertEqual(page.context["found"].total_kg, 1065)
        self.assertEqual(page.context["cross"].state, "tight")
        self.assertEqual([round(one.pads.cross_pct, 1) for one in page.context["history"]], [49.4, 47.9])
        self.assertEqual(Reading.objects.filter(car=self.car, corner="FL", code="corner_mass").first().typed, "276")
        self.assertContains(page, "half a tank")
        self.assertEqual(Condition.objects.filter(car=self.car).count(), stood + 1)
        undo(self.user, last_change(self.user).pk)
        self.assertEqual(Reading.objects.filter(car=self.car).count(), before)

    def test_pads_that_do_not_add_up_are_asked_about(self):
        answer = self.send(FL="380")
        self.assertContains(answer, "the front pads add up to 646 kg, the car is written with 540 kg", status_code=422)
        self.assertContains(answer, 'value="380"', status_code=422)
        self.assertContains(answer, 'type="checkbox" name="sure"', status_code=422)
        self.send(FL="380", sure="on")
        self.assertEqual(self.page("check/weights/").context["found"].fl, 380)

    def test_bad_input_in_words_nothing_half_kept(self):
        before = Reading.objects.filter(car=self.car).count()
        for change, words in (
            ({"FR": ""}, "required"),
            ({"FR": "heavy"}, "heavy"),
            ({"FR": "2"}, "Out of range"),
            ({"taken_on": "2126-01-01"}, "has not come yet"),
        ):
            self.assertContains(self.send(**change), words, status_code=422)
        self.assertEqual(Reading.objects.filter(car=self.car).count(), before)
        self.assertContains(self.page("check/weights/?target=90", 422), "less than or equal to 70", status_code=422)

    def test_springs_are_kept_in_any_unit_and_refused_in_words(self):
        self.client.post(self.url("check/weights/"), SPRINGS | {"form": "R"})
        self.assertAlmostEqual(Springs.objects.get(car=self.car, end="R").rate_n_per_mm, 4.5 * 9.80665)
        for change, words in (
            ({"R-block_length_mm": "170"}, "shorter than the spring at rest"),
            ({"R-preload_mm": "91"}, "accepted: 0 to 90 mm"),
            ({"R-rate_n_per_mm": "soft"}, "soft"),
            ({"R-motion_ratio": "0"}, "greater than"),
        ):
            answer = self.client.post(self.url("check/weights/"), SPRINGS | {"form": "R"} | change)
            self.assertContains(answer, words, status_code=422)

    def test_what_is_not_known_is_named(self):
        Springs.objects.filter(car=self.car, end="R").delete()
        Car.objects.filter(pk=self.car.pk).update(track_rear_mm=None)
        self.assertContains(self.page("check/weights/"), "not known are rear springs, rear track")
        Reading.objects.filter(car=self.car, code="corner_mass", corner="RL").delete()
        page = self.page("check/weights/")
        self.assertContains(page, "not weighed yet")
        self.assertContains(page, "1 of 1 unmeasured")

    def test_corners_of_different_days_or_wheels_are_no_weighing(self):
        one = Reading.objects.get(car=self.car, code="corner_mass", corner="FL")
        Reading.objects.filter(pk=one.pk).update(taken_on=one.taken_on - timedelta(days=9))
        self.assertContains(self.page("check/weights/"), "not weighed yet")
        Reading.objects.filter(pk=one.pk).update(taken_on=one.taken_on)
        self.assertIsNotNone(self.page("check/weights/").context["found"])
        set_present(self.car, "F", {"spacer_mm": 5.0}, changed=True)
        page = self.page("check/weights/")
        self.assertIsNone(page.context["found"])
        self.assertContains(page, "1 of 1 unmeasured")

    def test_only_ones_own(self):
        self.client.force_login(self.person())
        self.assertEqual(self.send().status_code, 404)


class CentreOfGravity(ScenarioCase):
    def setUp(self):
        super().setUp()
        self.car = Car.objects.get(owner=self.user, nickname__startswith="Gannel")
        self.radius = open_file(self.user, self.car.pk).standing("F").fitted.tyre.diameter_mm / 2

    def send(self, **change):
        return self.client.post(
            self.url("check/weights/"),
            {"form": "raised", "end": "front", "by_mm": "500", "left_on_pads_kg": "560"} | change,
        )

    def height(self):
        return Car.objects.get(pk=self.car.pk).cg_height_mm

    def test_the_height_is_that_of_the_command_line_and_can_be_undone(self):
        stood = self.height()
        self.assertRedirects(self.send(), self.url("check/weights/"))
        answer = CALCULATIONS["centre-of-gravity"].answer(
            {
                "pads_kg": {"FL": 284, "FR": 258, "RL": 252, "RR": 271},
                "track_mm": {"front": 1442, "rear": 1448},
                "wheelbase_mm": 2310,
                "raised": {"end": "front", "by_mm": 500, "rear_kg": 560, "radius_mm": self.radius},
            }
        )
        self.assertAlmostEqual(self.height(), answer["height_mm"], delta=0.051)
        self.assertContains(self.page("check/weights/"), "up")
        undo(self.user, last_change(self.user).pk)
        self.assertEqual(self.height(), stood)

    def test_loads_that_can_not_be_are_told_and_stay_typed(self):
        stood = self.height()
        for change, words in (
            ({"left_on_pads_kg": "200"}, "at or below the ground"),
            ({"left_on_pads_kg": "1500"}, "accepted: 100 to 2000 mm"),
            ({"by_mm": "5"}, "accepted"),
            ({"by_mm": ""}, "required"),
            ({"by_mm": "2000", "left_on_pads_kg": "4.0"}, "accepted"),
            ({"end": "left"}, "not one of"),
        ):
            with self.subTest(change=change):
                page = self.send(**change)
                self.assertContains(page, words, status_code=422)
                self.assertEqual(self.height(), stood)
        self.assertContains(self.send(left_on_pads_kg="200.5"), 'value="200.5"', status_code=422)

    def test_without_pads_or_tracks_it_says_what_is_missing(self):
        Car.objects.filter(pk=self.car.pk).update(track_front_mm=None)
        self.assertContains(self.send(), "First the four pads level", status_code=422)
