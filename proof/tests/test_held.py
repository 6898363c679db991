"""A sheet is held to what it changed, by what was read after it; what nobody did or read has not failed."""

from django.utils import timezone

from garage.car.parts import Part
from garage.readings.models import Reading
from planner.changes import hours_of
from planner.models import Build, Choice
from planner.services import set_levers
from proof.queries import fitted_build, not_read_yet, promises
from rimcore.work.hours import MINUTES
from rimcore.work.modules import MODULES
from shell.tests.base import ScenarioCase
from workshop.composing import make_job
from workshop.models import Job, Promise
from workshop.services import finish_job


class Sheets(ScenarioCase):
    def build(self):
        return Build.objects.get(name="Hill season")

    def radiator(self, build, **spec):
        size = {"width_mm": 600.0, "height_mm": 340.0, "depth_mm": 40.0}
        part = Part.objects.create(car=self.car, family="radiator", name="Full width", spec=size | spec)
        return Choice.objects.create(build=build, part=part, position="F", quantity=1, state="wanted")

    def closed(self, modules):
        job = make_job(self.file(), self.build(), self.user, modules)
        job.steps.update(state="done")
        finish_job(self.file(), job, self.user, self.car.odometer_km + 5)
        return job


class Held(Sheets):
    def test_a_sheet_of_one_part_holds_no_wheels(self):
        """A radiator, or whatever takes no wheel off: no gap, height or angle is promised by it."""
        build = self.build()
        self.radiator(build)
        job = make_job(self.file(), build, self.user, ("radiator",))
        codes = {code.partition(".")[0] for code in Promise.objects.filter(job=job).values_list("code", flat=True)}
        self.assertLessEqual(codes, {"mass", "work"})

    def test_a_reading_of_before_the_work_holds_nothing(self):
        job = self.closed(())
        self.assertTrue(Promise.objects.filter(job=job, reading__isnull=False).exists())
        names = {
            row.name
            for row in promises(self.file())
            if row.state == "hit" and row.said and row.said.code.startswith("gap.")
        }
        self.assertEqual(names, set())
        self.assertTrue(all(row.state == "unmeasured" for row in not_read_yet(self.file())))

    def test_read_again_it_is_held(self):
        job = self.closed(())
        one = next(
            p
            for p in Promise.objects.filter(job=job, reading__isnull=False)
            if p.code.startswith("gap.") and not p.code.endswith("upward")
        )
        waiting = len(not_read_yet(self.file()))
        old = one.reading
        Reading.objects.create(
            car=old.car,
            corner=old.corner,
            code=old.code,
            where=old.where,
            method=old.method,
            uncertainty=old.uncertainty,
            who="Ina",
            outfit=self.file().current,
            values=[one.judgement.reads or one.value, *old.values[1:]],
            typed="again",
            taken_on=timezone.localdate(),
        )
        self.assertLess(len(not_read_yet(self.file())), waiting)
        self.assertIn(f"{one.judgement.name}, {one.where}", {row.name for row in promises(self.file())})

    def test_a_clock_that_never_ran_and_money_not_spent_have_not_failed(self):
        job = self.closed(())
        for one in Job.objects.filter(build=job.build):
            one.spells.all().delete()
        rows = {row.name: row for row in promises(self.file())}
        if "Hours" in rows:
            self.assertEqual((rows["Hours"].measured, rows["Hours"].state), ("not clocked", "unmeasured"))
        Choice.objects.filter(build=fitted_build(self.file())).update(state="wanted")
        money = {row.name: row for row in promises(self.file())}["Money"]
        self.assertEqual(money.state, "unmeasured")


class Hours(Sheets):
    def test_every_module_has_its_usual_time(self):
        self.assertEqual(set(MINUTES), set(MODULES))

    def test_an_empty_build_takes_none_and_gears_take_a_day(self):
        empty = Build.objects.create(car=self.car, name="Nothing yet")
        self.assertEqual(hours_of(self.file(), empty).hours, 0.0)
        set_levers(empty, {("axle_ratio", ""): 4.4})
        again = Build.objects.get(pk=empty.pk)
        self.assertGreaterEqual(hours_of(self.file(), again).hours, 8.0)
        Build.objects.filter(pk=empty.pk).update(hours_estimate=3)
        self.assertEqual(hours_of(self.file(), Build.objects.get(pk=empty.pk)).said, "3.0 h")

    def test_what_a_part_says_of_itself_counts(self):
        build = Build.objects.create(car=self.car, name="One part")
        part = self.radiator(build).part
        before = hours_of(self.file(), build).hours
        part.spec["fit_min"] = 600
        part.save()
        self.assertGreater(hours_of(self.file(), build).hours, before + 5)

    def test_nothing_known_is_not_estimated(self):
        from rimcore.work.hours import estimate
        from rimcore.work.modules_base import JobPlan, PartOn

        found = estimate(JobPlan((), (PartOn("other", "Box"),)), ("other",), {"other": ("other",)})
        self.assertEqual((found.hours, found.said), (None, "not estimated"))
