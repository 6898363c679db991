"""Runs planned before they are driven: how many, one by one on the telephone, and no verdict before the last."""

from proof.models import Run, RunPlan, Series
from shell.tests.base import ScenarioCase


class Planned(ScenarioCase):
    def setUp(self):
        super().setUp()
        self.series = Series.objects.create(car=self.car, name="Lane sprint", unit="s", better="less")

    def plan(self, status=302, **said):
        given = {"what": "New dampers", "design": "swap", "useful": "1.0", "scatter": "0.2"} | said
        answer = self.client.post(self.url(f"prove/{self.series.pk}/plan/"), given)
        self.assertEqual(answer.status_code, status, answer.content[:2000] if status == 302 else "")
        return RunPlan.objects.last() if status == 302 else answer

    def drive(self, plan, value, number="", **noted):
        return self.client.post(self.url(f"prove/planned/{plan.pk}/"), {"value": value, "number": number, **noted})

    def sheet(self, plan):
        return self.page(f"prove/planned/{plan.pk}/")

    def test_the_number_comes_of_what_is_worth_having(self):
        plan = self.plan()
        self.assertEqual(plan.order, "ABBAAB")
        self.assertContains(self.sheet(plan), "Run 1 of 6")

    def test_no_number_without_scatter_is_told_and_what_was_typed_stays(self):
        answer = self.plan(422, scatter="")
        self.assertContains(answer, "drive three the same way first", status_code=422)
        self.assertContains(answer, "New dampers", status_code=422)

    def test_nothing_is_said_before_the_last_run(self):
        plan = self.plan()
        for k, value in enumerate((10.0, 7.0, 7.1, 10.1, 10.05)):
            self.drive(plan, value, k + 1)
            page = self.sheet(plan)
            self.assertIsNone(page.context["p"].verdict)
            self.assertNotContains(page, "roven:")
        self.drive(plan, 7.05, 6)
        page = self.sheet(plan)
        self.assertContains(page, "Proven: 95 % interval")
        self.assertContains(page, "Worth it")
        self.assertContains(self.page("prove/"), "New dampers")

    def test_a_run_pressed_twice_is_one_run(self):
        plan = self.plan()
        self.drive(plan, 10.0, 1)
        answer = self.drive(plan, 10.0, 1)
        self.assertContains(answer, "noted already", status_code=422)
        self.assertEqual(Run.objects.filter(plan=plan).count(), 1)

    def test_what_is_no_figure_is_refused(self):
        plan = self.plan()
        for value in ("", "fast", "nan", "1e300"):
            self.assertEqual(self.drive(plan, value).status_code, 422, value)
        self.assertEqual(self.drive(plan, 10, air_c="900 °C").status_code, 422)
        self.assertFalse(Run.objects.filter(plan=plan).exists())

    def test_a_run_left_out_is_driven_again(self):
        plan = self.plan()
        self.drive(plan, 10.0, 1)
        self.drive(plan, 20.0, 2)
        self.client.post(self.url(f"prove/run/{Run.objects.get(plan=plan, number=2).pk}/"), {"why": "a sheep"})
        found = self.sheet(plan).context["p"]
        self.assertEqual((found.progress.done, found.progress.next_side, found.next_number), (1, "B", 3))

    def test_the_driver_of_blind_runs_is_not_told_which(self):
        plan = self.plan(blind="on")
        page = self.sheet(plan)
        self.assertContains(page, "Card 1")
        self.assertNotContains(page, f">{plan.order}<")
        self.assertIsNone(page.context["p"].strip)
        self.drive(plan, 10.0, 1)
        runs = self.page(f"prove/{self.series.pk}/")
        self.assertContains(runs, "planned")
        for side in ("before", "after"):
            self.assertNotContains(runs, f"planned, {side}")
        self.plan(422, blind="on", design="after")

    def test_cold_against_warm_is_told(self):
        plan = self.plan(design="after", runs="4")
        for k, (value, air) in enumerate(
            zip((10.0, 10.2, 10.1, 9.9, 8.0, 8.1, 8.3, 7.9), (4, 5, 6, 7, 24, 25, 26, 27), strict=True)
        ):
            self.drive(plan, value, k + 1, air_c=f"{air} °C")
        page = self.sheet(plan)
        self.assertContains(page, "before and after do not overlap")

    def test_cost_is_for_what_was_shown(self):
        plan = self.plan(cost_minor="300")
        for k, side in enumerate(plan.order):
            self.drive(plan, (10.0 if side == "A" else 8.0) + 0.01 * (k % 3), k + 1)
        self.assertIn("for each s", self.sheet(plan).context["p"].cost)

    def test_given_up_says_nothing(self):
        plan = self.plan()
        self.drive(plan, 10.0, 1)
        self.client.post(self.url(f"prove/planned/{plan.pk}/"), {"what": "give_up"})
        self.assertContains(self.sheet(plan), "Given up")
        self.drive(plan, 10.0, 2)
        self.assertEqual(Run.objects.filter(plan=plan).count(), 1)

    def test_runs_of_a_plan_are_not_counted_as_before_and_after_of_the_wheels(self):
        plan = self.plan()
        self.drive(plan, 10.0, 1)
        page = self.page(f"prove/{self.series.pk}/")
        self.assertContains(page, "planned, before")
        self.assertIsNone(page.context["strip"])

    def test_what_is_noted_is_read_in_the_persons_unit(self):
        preferences = self.user.preferences
        preferences.temperature_unit = "°F"
        preferences.save()
        plan = self.plan()
        self.drive(plan, 10.0, 1, air_c="50")
        self.assertAlmostEqual(Run.objects.get(plan=plan).conditions["air_c"], 10.0, places=6)
        self.assertContains(self.sheet(plan), "50")
