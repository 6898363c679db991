"""Chassis work on the sheet: every step opens, the known dip is driven on it, what is fitted stands on the car, what
comes off is kept, promises are held.
"""

from django.utils import timezone

from garage.chassis.models import KnownDip, OldPart, Springs
from garage.readings.models import Reading
from planner.models import Build, Choice
from planner.services import put_part, set_levers
from proof.models import Run, Series
from proof.queries import promises
from rimcore.lines import parse_line
from shelf.services import add_line
from shell.tests.base import ScenarioCase
from shell.undo import last_change, undo
from workshop.composing import make_job
from workshop.models import FollowUp, Job, Promise, Removed
from workshop.services import finish_job

SPRINGS = "springs 36 N/mm free 268 block 112 inside 118, set of 2, 118, 9 days"


class Chassis(ScenarioCase):
    def setUp(self):
        super().setUp()
        self.build = Build.objects.get(name="Hill season")

    def put(self, line, position="F"):
        return put_part(
            self.build,
            self.user,
            add_line(self.car, self.user, parse_line(line)),
            {"position": position, "quantity": 1},
        )

    def make(self, *modules):
        return make_job(self.file(), Build.objects.get(pk=self.build.pk), self.user, modules)

    def finished(self, *modules):
        job = self.make(*modules)
        job.steps.update(state="done")
        finish_job(self.file(), job, self.user, 142_000)
        return job


class Sheets(Chassis):
    def test_every_step_of_a_whole_chassis_opens(self):
        self.put(SPRINGS)
        self.put("arms lower 340-356 bent rod ends bolt 12 eye 46 pair, 196")
        self.put("tie rods M14x1.5 300-340 taper 14.6 pair, 24")
        self.put("anti-roll bar 24 mm, 164")
        set_levers(self.build, {("rack_forward_mm", ""): 10, ("even_weights", ""): True, ("perch_up_mm", "F"): 5})
        job = self.make()
        self.assertLessEqual({"springs", "arms", "rods", "bar", "rack", "weights", "alignment"}, set(job.modules))
        for step in job.steps.all():
            self.page(f"fit/job/{job.pk}/{step.place}/")
        self.assertEqual(job.steps.filter(title__startswith="Wheels off").count(), 1)
        out = job.steps.filter(title__endswith="spring and damper out")
        self.assertEqual(len(set(out.values_list("corner", flat=True))), out.count())

    def test_cautions_stand_at_the_steps(self):
        self.put(SPRINGS)
        out = self.make("springs").steps.filter(title__endswith="spring and damper out").first()
        self.assertIn("lethal energy", out.caution)
        self.assertIn("repair or replace", out.detail)

    def test_nothing_is_weighed_before_the_car_has_settled(self):
        set_levers(self.build, {("even_weights", ""): True})
        steps = list(self.make("springs", "height", "weights").steps.all())
        settled = next(step.place for step in steps if step.opens == "settled")
        self.assertTrue(all(step.place > settled for step in steps if step.module == "weights"))


class Reads(Chassis):
    """What a step measures has its field there, and becomes a reading of its corner."""

    def setUp(self):
        super().setUp()
        self.put(SPRINGS)
        self.job = self.make("springs")

    def at(self, words):
        return self.job.steps.get(title__startswith=words)

    def post(self, step, **data):
        self.job.steps.filter(place__lt=step.place, state="todo").update(state="done")
        return self.client.post(self.url(f"fit/job/{self.job.pk}/{step.place}/"), {"what": "reads", **data})

    def taken(self, code):
        return {one.corner: one for one in Reading.objects.filter(car=self.car, code=code, at_step__step__job=self.job)}

    def test_kept_dated_of_its_corner_and_the_step_is_done(self):
        step = self.at("Preload on the bench")
        page = self.page(f"fit/job/{self.job.pk}/{step.place}/")
        self.assertContains(page, "Length of the coil, wound up")
        answer = self.post(
            step,
            **{
                "FL-preload-value": "170",
                "FL-preload-value2": "162",
                "FR-preload-value": "6 11/16 in",
                "FR-preload-value2": "162.4",
            },
        )
        self.assertEqual(answer.status_code, 302)
        found = self.taken("preload")
        self.assertEqual(
            {corner: one.values for corner, one in found.items()}, {"FL": [170.0, 162.0], "FR": [169.8625, 162.4]}
        )
        self.assertEqual({one.taken_on for one in found.values()}, {timezone.localdate()})
        self.assertEqual(self.at("Preload on the bench").state, "done")
        self.assertContains(self.page(f"fit/job/{self.job.pk}/{step.place}/"), "170 / 162")

    def test_a_bad_row_keeps_nothing_and_what_was_typed_stands(self):
        step = self.at("Preload on the bench")
        refused = self.post(
            step,
            **{
                "FL-preload-value": "170",
                "FL-preload-value2": "162",
                "FR-preload-value": "17 cats",
                "FR-preload-value2": "162",
            },
        )
        self.assertContains(refused, "17 cats", status_code=422)
        self.assertContains(refused, 'value="170"', status_code=422)
        self.assertEqual(self.taken("preload"), {})
        self.assertEqual(self.at("Preload on the bench").state, "todo")

    def test_with_nothing_in_it_nothing_is_done(self):
        refused = self.post(self.at("Preload on the bench"))
        self.assertContains(refused, "Nothing was read", status_code=422)
        self.assertEqual(self.at("Preload on the bench").state, "todo")

    def test_a_height_after_the_work_is_not_doubted_and_is_of_what_stands_then(self):
        now = self.file()
        before = next(one for one in now.latest if (one.corner, one.code) == ("FL", "ride_height"))
        after = self.at("Ride height at every corner again")
        self.assertEqual(self.post(after, **{"FL-ride_height-value": f"{before.value - 22:g}"}).status_code, 302)
        self.assertEqual(self.taken("ride_height")["FL"].outfit_id, now.current.pk, "until the sheet is closed")
        self.job.steps.filter(state="todo").update(state="done")
        finish_job(self.file(), self.job, self.user, 150_000)
        stands = self.file()
        self.assertNotEqual(stands.current.pk, now.current.pk)
        self.assertEqual(self.taken("ride_height")["FL"].outfit_id, stands.current.pk)

    def test_a_height_before_it_stays_with_the_old(self):
        now = self.file()
        before = next(one for one in now.latest if (one.corner, one.code) == ("FL", "ride_height"))
        step = self.at("Ride height at every corner, wheel")
        doubted = self.post(step, **{"FL-ride_height-value": f"{before.value - 22:g}"})
        self.assertContains(doubted, "Read it again", status_code=422)
        self.assertEqual(
            self.post(
                step, **{"FL-ride_height-value": f"{before.value - 22:g}", "FL-ride_height-sure": "1"}
            ).status_code,
            302,
        )
        self.job.steps.filter(state="todo").update(state="done")
        finish_job(self.file(), self.job, self.user, 150_000)
        self.assertEqual(self.taken("ride_height")["FL"].outfit_id, now.current.pk)

    def test_not_before_what_it_waits_for(self):
        after = self.at("Ride height at every corner again")
        page = self.client.post(
            self.url(f"fit/job/{self.job.pk}/{after.place}/"), {"what": "reads", "FL-ride_height-value": "600"}
        )
        self.assertContains(page, "Not kept: the steps before this one are still to do.")
        self.assertEqual(self.taken("ride_height"), {})

    def test_undone_the_readings_are_gone(self):
        step = self.at("Preload on the bench")
        self.post(step, **{"FL-preload-value": "170", "FL-preload-value2": "162"})
        undo(self.user, last_change(self.user).pk)
        self.assertEqual((self.taken("preload"), self.at("Preload on the bench").state), ({}, "todo"))


class Dips(Chassis):
    def setUp(self):
        super().setUp()
        self.put(SPRINGS)
        self.job = self.make("springs")
        self.step = self.job.steps.filter(kind="dip").first()
        self.job.steps.filter(place__lt=self.step.place).update(state="done")
        self.at = self.url(f"fit/job/{self.job.pk}/{self.step.place}/")

    def drive(self, **change):
        values = {
            "name": "Farm lane by the bridge",
            "corner": "FL",
            "shaft_mm": "41",
            "ride_drop_mm": "20",
            "who": "Ina",
            "driven_on": f"{timezone.localdate()}",
        }
        return self.client.post(
            self.at, {"what": "dip", **{f"dip-{name}": value for name, value in (values | change).items()}}
        )

    def test_the_form_knows_the_place_and_the_height(self):
        form = self.client.get(self.at).context["bound"]["dip"]
        self.assertEqual((form.initial["name"], form.initial["ride_drop_mm"]), ("Farm lane by the bridge", 20.0))

    def test_driven_it_is_kept_and_the_step_is_done(self):
        self.drive(touched="on")
        kept = KnownDip.objects.filter(car=self.car).first()
        self.assertEqual((kept.shaft_mm, kept.ride_drop_mm, kept.touched), (41.0, 20.0, True))
        self.step.refresh_from_db()
        self.assertEqual(self.step.state, "done")
        self.assertIn("it touched", self.step.note)

    def test_raised_by_25_mm_the_build_says_so_from_then_on(self):
        self.drive(ride_drop_mm="-5")
        self.assertEqual(Build.objects.get(pk=self.build.pk).lever("ride_drop_mm", "F"), -5.0)
        undo(self.user, last_change(self.user).pk)
        self.assertEqual(Build.objects.get(pk=self.build.pk).lever("ride_drop_mm", "F"), 20.0)

    def test_bad_input_and_shut_gates(self):
        self.assertContains(self.drive(shaft_mm="deep"), "accepted", status_code=422)
        self.assertContains(self.drive(shaft_mm=""), "required", status_code=422)
        before = KnownDip.objects.count()
        self.job.steps.filter(opens="settled").update(state="todo")
        self.assertContains(self.client.get(self.at), "Wait until")
        self.drive()
        self.assertEqual(KnownDip.objects.count(), before)


class Fitted(Chassis):
    def test_springs_stand_on_the_car_and_the_old_ones_are_kept_to_be_chosen_again(self):
        choice = self.put(SPRINGS)
        self.finished("springs")
        self.assertEqual(Choice.objects.get(pk=choice.pk).state, "fitted")
        kept = Springs.objects.get(car=self.car, end="F")
        self.assertEqual((kept.rate_n_per_mm, kept.free_length_mm, kept.preload_mm), (36.0, 268.0, None))
        self.assertEqual(OldPart.objects.filter(car=self.car, end="F", family="spring").first().spec["inner_mm"], 118.0)
        off = Removed.objects.filter(car=self.car, what__contains="spring", part__isnull=False).first()
        self.assertEqual(off.part.spec["rate_n_per_mm"], 28.0)
        self.client.post(self.url(f"fit/removed/{off.label}/"), {"what": "again"})
        dues = list(FollowUp.objects.filter(job__build=self.build).values_list("what", flat=True))
        self.assertTrue(any("settled" in what for what in dues))

    def test_collars_count_from_where_they_stand(self):
        set_levers(self.build, {("perch_up_mm", "F"): 6})
        self.put(SPRINGS)
        self.finished("springs", "height")
        self.assertEqual(Build.objects.get(pk=self.build.pk).lever("perch_up_mm", "F"), 0.0)

    def test_a_coilover_brings_its_own_spring(self):
        self.put("coilovers 498 to 338 rate 52 N/mm free 210 block 92 room 176-232 seat 65 bolt 14 pair, 345")
        self.finished("springs")
        self.assertEqual(Springs.objects.get(car=self.car, end="F").rate_n_per_mm, 52.0)
        self.assertNotIn("installed_mm", OldPart.objects.filter(car=self.car, end="F", family="damper").first().spec)


class Promised(Chassis):
    def test_heights_cambers_and_the_dip_are_promised_and_held(self):
        Reading.objects.create(
            car=self.car,
            outfit=self.file().current,
            corner="FL",
            code="ride_height",
            values=[370.0],
            typed="370",
            uncertainty=1.0,
            method="rule",
        )
        self.build.outfit = None
        self.build.save()
        job = self.make("height", "alignment", "wheels")
        made = {(one.code, one.where): one for one in Promise.objects.filter(job=job)}
        self.assertEqual(made["ride.height", "front left"].value, 350.0)
        self.assertEqual(made["align.camber", "front left"].value, -1.8)
        self.assertIn(("ride.dip", "front left"), made)
        job.steps.update(state="done")
        finish_job(self.file(), job, self.user, 142_000)
        Reading.objects.create(
            car=self.car,
            outfit=self.file().current,
            corner="FL",
            code="ride_height",
            values=[347.0],
            typed="347",
            uncertainty=1.0,
            method="rule",
        )
        rows = {row.name: row for row in promises(self.file())}
        self.assertEqual(
            (rows["Ride height, front left"].state, rows["Ride height, front left"].error), ("clear", "−3.0\u2009mm")
        )
        self.assertNotIn("Farm lane by the bridge, front left", rows)
        KnownDip.objects.create(car=self.car, name="Farm lane by the bridge", corner="FL", shaft_mm=40, ride_drop_mm=20)
        self.assertIn("Farm lane by the bridge, front left", {row.name for row in promises(self.file())})

    def reads(self, code, value, **where):
        return Reading.objects.create(
            car=self.car,
            outfit=self.file().current,
            corner="FL",
            code=code,
            values=[value],
            where=where,
            typed=str(value),
            uncertainty=0.1,
            method="gauge",
        )

    def test_camber_and_toe_over_bump_are_promised_by_the_links_and_held(self):
        """Read with the wheel raised by 50 mm: half of it is what 25 mm do.

        Without the camber at rest nobody can say.
        """
        self.build.outfit = None
        self.build.save()
        job = self.make("height", "alignment")
        made = {(one.code, one.where): one.judgement for one in Promise.objects.filter(job=job)}
        toe, camber = (made[f"geometry.{name}_over_bump", "front left"] for name in ("toe", "camber"))
        job.steps.update(state="done")
        finish_job(self.file(), job, self.user, 142_000)
        self.assertFalse([row for row in promises(self.file()) if "of bump" in row.name and "change" in row.name])
        self.reads("toe_bump", toe.value * 2 + 0.1, travel_mm=50.0)
        self.reads("camber_bump", -2.5, travel_mm=50.0)
        rows = {row.said.code: row for row in promises(self.file()) if row.said is not None}
        self.assertEqual(rows["geometry.toe_over_bump"].error, "+0.05\u2009°")
        self.assertNotIn("geometry.camber_over_bump", rows)
        self.reads("camber", -1.5)
        rows = {row.said.code: row for row in promises(self.file()) if row.said is not None}
        self.assertEqual(rows["geometry.camber_over_bump"].measured, "−0.50\u2009°")
        self.assertEqual(rows["geometry.camber_over_bump"].promised, f"{camber.value:.2f}\u2009°".replace("-", "−"))

    def test_turning_circle_of_the_roadster_against_its_runs(self):
        self.car = self.user.cars.get(nickname__startswith="Gannel")
        self.build = Build.objects.get(car=self.car)
        set_levers(self.build, {("even_weights", ""): True})
        had = Job.objects.filter(car=self.car).count()
        job = self.make()
        made = {one.code: one for one in Promise.objects.filter(job=job)}
        self.assertTrue(6 < made["steer.circle"].value < 14)
        self.assertEqual(made["weights.cross"].value, 50.0)
        job.steps.update(state="done")
        finish_job(self.file(), job, self.user, 99_000)
        self.client.post(self.url("prove/"), {"ready": "circle"})
        series = Series.objects.get(car=self.car, name="Turning circle")
        self.assertIn("chalk", series.how)
        for value in (9.8, 10.0):
            Run.objects.create(series=series, outfit=self.file().current, value=value)
        row = next(row for row in promises(self.file()) if row.name == "Turning circle")
        self.assertEqual(row.measured, "9.9\u2009m")
        self.client.post(self.url("prove/"), {"ready": "circle"})
        self.assertEqual(Series.objects.filter(car=self.car, name="Turning circle").count(), 1)
        self.assertEqual(Job.objects.filter(car=self.car).count(), had + 1)
