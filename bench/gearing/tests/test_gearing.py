"""The gearing bench: ratios kept and undone, the sheet against the core, bad input."""

from garage.car.models import Driveline
from rimcore.driveline.gearing import kmh_at, rpm_at
from rimcore.wheels.tyre import parse_tyre
from shell.tests.base import ScenarioCase
from shell.undo import last_change, undo

RATIOS = {"gears": "3.5, 2.0 1.4 1.0", "axle_ratio": "4.1", "transfer_ratio": "1", "limit_rpm": "6500"}


class Gearing(ScenarioCase):
    def test_kept_shown_and_undone(self):
        self.client.post(self.url("check/gearing/"), RATIOS)
        kept = Driveline.objects.get(car=self.car)
        self.assertEqual((kept.gears, kept.axle_ratio, kept.limit_rpm), ([3.5, 2.0, 1.4, 1.0], 4.1, 6500))
        page = self.page("check/gearing/?speed=100")
        rows = page.context["rows"]
        line = page.context["rows"] and kept
        circumference = parse_tyre(page.context["chosen"].tyre.size).rolling_circumference_mm
        self.assertAlmostEqual(
            rows[-1]["rpm"], 100 / 3.6 / (circumference / 1000) * 60 * 1.0 * line.axle_ratio, places=6
        )
        undo(self.user, last_change(self.user).pk)
        self.assertNotEqual(Driveline.objects.get(car=self.car).gears, [3.5, 2.0, 1.4, 1.0])

    def test_another_axle_and_the_shelf(self):
        page = self.page("check/gearing/?speed=110&gear=4&wanted=3000&axle=4.5&shelf=3.9 4.1 4.6")
        self.assertAlmostEqual(
            page.context["rows"][0]["rpm"] / page.context["rows"][0]["before"] - 1,
            page.context["change"].value / 100,
            places=9,
        )
        offs = [abs(one.off_rpm) for one in page.context["options"]]
        self.assertEqual(offs, sorted(offs))
        self.assertContains(page, "The shelf, nearest to 3\u2009000 rpm in gear 4 first")
        for name in ("change", "restore"):
            self.assertRegex(page.context[name].formula, r"\d")
            self.assertTrue(all(used.source and used.date for used in page.context[name].inputs))

    def test_the_tyre_of_the_build_moves_it(self):
        for car in self.user.cars.all():
            page = self.client.get(f"/car/{car.pk}/check/gearing/")
            stands, chosen = page.context["stands"].tyre, page.context["chosen"].tyre
            self.assertAlmostEqual(
                page.context["rows"][0]["before"] / page.context["rows"][0]["rpm"],
                chosen.diameter_mm / stands.diameter_mm,
                places=6,
            )

    def test_over_the_limit_is_a_hit(self):
        page = self.page("check/gearing/?speed=200")
        self.assertTrue(page.context["rows"][0]["over"])
        self.assertContains(page, "over the limit")

    def test_bad_input_is_told_and_nothing_is_lost(self):
        before = Driveline.objects.get(car=self.car).gears
        for wrong, words in (
            ({"gears": "3.5 fast"}, "Write the ratios"),
            ({"gears": "0"}, "each 0.01 to 100"),
            ({"gears": ""}, "required"),
            ({"axle_ratio": "0"}, "greater than"),
            ({"limit_rpm": "1"}, "greater than"),
        ):
            answer = self.client.post(self.url("check/gearing/"), RATIOS | wrong)
            self.assertContains(answer, words, status_code=422)
        self.assertContains(
            self.client.post(self.url("check/gearing/"), RATIOS | {"gears": "3.5 fast"}), "3.5 fast", status_code=422
        )
        self.assertEqual(Driveline.objects.get(car=self.car).gears, before)
        self.assertEqual(self.client.get(self.url("check/gearing/?speed=fast")).status_code, 422)

    def test_a_car_without_ratios_or_wheels_says_what_is_missing(self):
        Driveline.objects.all().delete()
        self.assertContains(self.page("check/gearing/"), "ratios of this car are not known")

    def test_the_sheet_is_drawn_to_the_numbers(self):
        page = self.page("check/gearing/?speed=100")
        scene, kept = page.context["scene"], Driveline.objects.get(car=self.car)
        per_kmh = (scene.speeds[-1][0] - scene.x0) / scene.speeds[-1][1]
        per_rpm = (scene.y1 - scene.y0) / scene.revs[-1][1]
        from rimcore.driveline.gearing import Driveline as Line

        line = Line(tuple(kept.gears), kept.axle_ratio, page.context["chosen"].tyre.rolling_circumference_mm)
        for ray in scene.now:
            self.assertAlmostEqual(ray.x2, scene.x0 + per_kmh * kmh_at(line, ray.gear, kept.limit_rpm), delta=0.2)
            self.assertAlmostEqual(ray.y2, scene.y1 - per_rpm * kept.limit_rpm, delta=0.2)
        for x, y in scene.dots:
            self.assertTrue(
                any(abs(y - (scene.y1 - per_rpm * rpm_at(line, g, 100))) < 0.2 for g in range(1, 6)), (x, y)
            )

    def test_the_engine_speed_that_is_wanted_at_cruise_is_kept_and_judged(self):
        """With a trailer: far under what the engine wants at its cruise is no pass."""
        kept = Driveline.objects.get(car=self.car)
        gears = " ".join(f"{one:g}" for one in kept.gears)
        sent = {
            "gears": gears,
            "axle_ratio": "3.0",
            "transfer_ratio": "1",
            "limit_rpm": "6500",
            "cruise_kmh": "80",
            "wanted_rpm": "3000",
        }
        self.assertEqual(self.client.post(self.url("check/gearing/"), sent).status_code, 302)
        page = self.page("check/gearing/")
        self.assertEqual(page.context["wanted"], 3000.0)
        self.assertEqual(page.context["cruise"].state, "hit")
        self.assertIn("3000 wanted there", page.context["cruise"].reason)
