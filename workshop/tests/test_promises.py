"""Promises are kept when a sheet is made and when its work begins, and nothing changes them afterwards."""

from datetime import timedelta

from django.utils import timezone

from bench.gearing.facts import lines
from garage.car.parts import Tyre, Wheel
from garage.readings.models import Reading
from planner.models import Build
from planner.services import set_levers
from proof.models import Run, Series
from proof.queries import promises
from shell.tests.base import ScenarioCase
from shell.undo import last_change, undo
from workshop.composing import make_job
from workshop.models import Job, Promise
from workshop.services import finish_job, finish_step


class Kept(ScenarioCase):
    def sheet(self):
        build = Build.objects.get(name="Hill season")
        return make_job(self.file(), build, self.user)

    def said(self, job, when):
        return list(
            Promise.objects.filter(job=job, kept_when=when).values_list(
                "code", "where", "value", "uncertainty", "state", "margin"
            )
        )

    def test_at_the_making_and_at_the_first_step(self):
        job = self.sheet()
        made = self.said(job, "made")
        codes = {code for code, *_ in made}
        self.assertLessEqual({"mass.total", "work.hours", "work.money"}, codes)
        self.assertTrue(any(code.startswith("gap.") and code.endswith(".moving") for code in codes))
        self.assertEqual(self.said(job, "begun"), [])
        finish_step(job.steps.first(), self.user)
        self.assertEqual(self.said(job, "begun"), made)
        finish_step(job.steps.all()[1], self.user)
        self.assertEqual(len(self.said(job, "begun")), len(made))

    def test_each_says_how_it_was_known(self):
        job = self.sheet()
        for one in Promise.objects.filter(job=job):
            judged = one.judgement
            self.assertEqual((judged.code, judged.value, judged.state), (one.code, one.value, one.state))
            self.assertIn(f"rev {job.build.revision}", judged.basis)
            if one.reading is not None:
                self.assertTrue(judged.formula)
                self.assertTrue(any(used.date for used in judged.inputs), one)

    def test_nothing_that_is_edited_afterwards_changes_them(self):
        job = self.sheet()
        finish_step(job.steps.first(), self.user)
        job.steps.update(state="done")
        finish_job(self.file(), job, self.user, self.car.odometer_km + 5)
        file = self.file()
        kept = {r.pk: r for r in file.readings}
        for one in Promise.objects.filter(job=job, kept_when="begun", reading__isnull=False).exclude(
            code__endswith=".upward"
        )[:3]:
            Reading.objects.create(
                **{
                    name: getattr(kept[one.reading_id], name)
                    for name in ("car", "corner", "code", "where", "method", "uncertainty", "who")
                },
                outfit=file.current,
                values=[one.judgement.reads or one.value, *kept[one.reading_id].values[1:]],
                typed="again",
                taken_on=timezone.localdate() + timedelta(days=0),
            )
        before = [(row.name, row.promised) for row in promises(self.file())]
        self.assertTrue(any(row.said is not None and row.said.code.startswith("gap.") for row in promises(self.file())))
        Wheel.objects.filter(car=self.car).update(offset_mm=20, width_in=9, mass_kg=20, price_minor=99_00)
        Tyre.objects.filter(car=self.car).update(mass_kg=20)
        Build.objects.filter(pk=job.build_id).update(hours_estimate=99)
        set_levers(job.build, {("ride_drop_mm", "F"): 60, ("spacer_mm", "F"): 20})
        Reading.objects.filter(outfit__is_baseline=True, code="damper").update(values=[1.0])
        self.assertEqual([(row.name, row.promised) for row in promises(self.file())], before)

    def test_the_engine_at_cruise_is_promised_and_held_by_its_runs(self):
        """Another axle turns the engine otherwise.

        The mean of the runs since then holds it, ± the tyre's rolling and a run's 20 rpm.
        """
        build = Build.objects.get(name="Hill season")
        set_levers(build, {("axle_ratio", ""): 4.4})
        job = make_job(self.file(), Build.objects.get(pk=build.pk), self.user, ("axle gears",))
        said = Promise.objects.get(job=job, code="gearing.cruise", kept_when="made").judgement
        line = lines(self.file())[1]
        self.assertAlmostEqual(
            said.value,
            100 / 3.6 * 60 / (line.circumference_mm / 1000) * line.gears[-1] * 4.4 * line.transfer_ratio,
            places=3,
        )
        job.steps.update(state="done")
        finish_job(self.file(), job, self.user, self.car.odometer_km + 5)
        self.assertNotIn("Engine speed at cruise", [row.name for row in promises(self.file())])
        self.client.post(self.url("prove/"), {"ready": "cruise"})
        series = Series.objects.get(car=self.car, name="Engine speed at cruise")
        for off in (-30.0, 50.0):
            Run.objects.create(series=series, outfit=self.file().current, value=said.value + off)
        row = next(row for row in promises(self.file()) if row.name == "Engine speed at cruise")
        self.assertEqual((row.error, row.state), ("+10.0\u2009rpm", "clear"))

    def test_undone_with_the_sheet(self):
        job = self.sheet()
        undo(self.user, last_change(self.user).pk)
        self.assertFalse(Job.objects.filter(pk=job.pk).exists())
        self.assertFalse(Promise.objects.filter(job_id=job.pk).exists())

    def test_the_page_shows_what_was_said(self):
        self.assertContains(self.page("prove/"), "predicted when its first step was done")
