"""Sheets that compose themselves, through their pages.

Modules, gates, steps of one's own, templates out and in, what a finished sheet makes of the car.
"""

import json

from django.core.files.uploadedfile import SimpleUploadedFile

from garage.car.parts import Part
from garage.readings.models import Reading
from planner.models import Build, Choice
from planner.services import put_part, set_levers
from rimcore.lines import parse_line
from rimcore.work.template import read
from shelf.services import add_line
from shell.tests.base import ScenarioCase
from workshop.composing import keep_template, make_from_template, make_job
from workshop.models import FollowUp, Job, JobTemplate, Removed, Step
from workshop.services import finish_job


class Composing(ScenarioCase):
    def setUp(self):
        super().setUp()
        self.build = Build.objects.get(name="Hill season")

    def put(self, line, position="A", quantity=1, answers=None):
        part = add_line(self.car, self.user, parse_line(line))
        return put_part(self.build, self.user, part, {"position": position, "quantity": quantity}, answers)

    def make(self, *modules):
        return make_job(self.file(), Build.objects.get(pk=self.build.pk), self.user, modules)


class Made(Composing):
    def test_the_page_says_what_changes_and_why(self):
        self.put("studs M12x1.5 45 mm 10.9, set of 20, 58")
        page = self.page("fit/")
        modules = dict(page.context["asked"].modules)
        self.assertIn("M12x1.5", self.build.choices.get(part__family="stud").part.spec["thread"])
        self.assertLessEqual({"wheels", "rings", "studs", "height", "alignment", "other"}, set(modules))
        self.assertIn("lowered", modules["height"])
        self.assertGreater(page.context["asked"].shared, 5)

    def test_two_modules_share_a_removal(self):
        self.put("calipers radius 150 face 9 left and right, 540", "F")
        self.client.post(self.url("fit/"), {"module": ["brakes", "wheels"]})
        job = Job.objects.first()
        self.assertEqual(job.modules, ["brakes", "wheels"])
        self.assertEqual(job.steps.filter(title__startswith="Wheels off").count(), 1)
        self.assertEqual(job.steps.get(title__startswith="Wheels off").module, "brakes wheels")
        self.assertFalse(job.steps.filter(title__contains="Spring and damper").exists())

    def test_a_sheet_of_some_modules_fits_only_their_parts(self):
        self.put("calipers radius 150 face 9 inner 70 left and right, 540", "F")
        before = self.file().current.pk
        job = self.make("brakes")
        job.steps.update(state="done")
        finish_job(self.file(), job, self.user, 142_400)
        states = dict(Choice.objects.filter(build=self.build).values_list("part__family", "state"))
        self.assertEqual((states["caliper"], states["wheel"]), ("fitted", "arrived"))
        self.assertEqual(self.file().current.pk, before, "the same wheels stand on the car")
        stated = Reading.objects.filter(car=self.car, method="stated")
        self.assertEqual({(r.corner, r.code): r.value for r in stated}["FL", "caliper_barrel"], 150.0)
        self.assertEqual(stated.count(), 6)
        dues = list(FollowUp.objects.filter(job=job).values_list("what", flat=True))
        self.assertIn("Wheel nuts, re-torque after 80 km", dues)
        self.assertIn("Caliper bolts, re-torque after 80 km", dues)

    def test_studs_become_the_hubs_own(self):
        self.put("studs M12x1.5 55 mm 10.9, set of 20, 58")
        job = self.make("studs")
        job.steps.update(state="done")
        finish_job(self.file(), job, self.user, 142_400)
        self.assertEqual({axle.stud_length_mm for axle in self.car.axles.all()}, {55.0})

    def test_height_alone_keeps_the_wheels_and_lowers_them(self):
        before = self.file().on(self.file().current, "F")
        job = self.make("height", "alignment")
        job.steps.update(state="done")
        finish_job(self.file(), job, self.user, 142_400)
        now = self.file().on(self.file().current, "F")
        self.assertEqual((now.wheel_part.diameter_in, now.tyre), (before.wheel_part.diameter_in, before.tyre))
        self.assertEqual((now.ride_drop_mm, now.camber_deg), (20, -1.8))

    def test_wheels_without_the_work_on_height_and_camber_leave_both(self):
        before = self.file().on(self.file().current, "F")
        job = self.make("wheels")
        job.steps.update(state="done")
        finish_job(self.file(), job, self.user, 142_400)
        now = self.file().on(self.file().current, "F")
        self.assertNotEqual(now.wheel_part.name, before.wheel_part.name)
        self.assertEqual((now.ride_drop_mm, now.camber_deg), (before.ride_drop_mm, before.camber_deg))

    def test_only_what_gave_way_is_in_the_ledger(self):
        self.build.choices.filter(part__family="wheel").delete()
        self.build.choices.filter(part__family="tyre").delete()
        self.put("195/50R16 84V, 90", "F", 2)
        stood = self.file().on(self.file().current, "F")
        job = self.make("wheels")
        job.steps.update(state="done")
        finish_job(self.file(), job, self.user, 142_400)
        off = Removed.objects.filter(job=job, part__isnull=False)
        self.assertEqual([(row.part, row.where) for row in off], [(stood.tyre_part, "front")])

    def test_what_is_fitted_calls_for_no_sheet(self):
        job = self.make()
        job.steps.update(state="done")
        finish_job(self.file(), job, self.user, 142_400)
        self.assertEqual(self.page("fit/").context["asked"].modules, [])
        self.assertContains(self.client.post(self.url("fit/"), follow=True), "Nothing changes")

    def test_levers_of_every_kind_bring_their_module(self):
        set_levers(self.build, {("axle_ratio", ""): 4.6, ("lip_rolled_mm", "R"): 5, ("lock_limit_deg", "F"): 2})
        self.assertLessEqual({"axle gears", "lip", "limiters"}, set(self.make().modules))


class Gates(Composing):
    def setUp(self):
        super().setUp()
        self.job = self.make("wheels")

    def at(self, words):
        return self.job.steps.get(title__startswith=words)

    def post(self, step, **data):
        return self.client.post(self.url(f"fit/job/{self.job.pk}/{step.place}/"), data)

    def test_not_before_what_it_waits_for(self):
        off = self.at("Wheels off")
        refused = self.post(off, what="done", note="")
        self.assertContains(refused, "Wait until the car is on stands", status_code=422)
        self.assertEqual(self.at("Wheels off").state, "todo")
        self.post(self.at("Jack at"), what="done")
        self.post(self.at("Photograph"), what="skip", **{"skip-why": "dark"})
        self.assertEqual(self.post(off, what="done").status_code, 302)
        self.assertEqual(self.at("Wheels off").state, "done")

    def test_only_the_sheets_own_parts_are_waited_for(self):
        self.put("calipers radius 150 face 9 inner 70 left and right, 540", "F")
        brakes, wheels = self.make("brakes"), self.make("wheels")
        Choice.objects.filter(build=self.build).update(state="arrived")
        Choice.objects.filter(build=self.build, part__family="caliper").update(state="wanted")
        for job, waits in ((brakes, 1), (wheels, 0)):
            laid = job.steps.get(kind="parts")
            page = self.client.get(self.url(f"fit/job/{job.pk}/{laid.place}/"))
            self.assertEqual(len(page.context["waiting"]), waits)
            self.assertEqual(page.context["bound"]["done"].shut, ("arrived",) * waits)
        self.assertContains(
            self.client.get(self.url(f"fit/job/{brakes.pk}/{brakes.steps.get(kind='parts').place}/")),
            "1 not arrived yet",
        )

    def test_all_the_same_with_a_reason(self):
        off = self.at("Wheels off")
        self.assertEqual(self.post(off, what="done", anyway="on", note=" ").status_code, 422)
        self.assertEqual(self.post(off, what="done", anyway="on", note="it stood on the lift").status_code, 302)
        self.assertEqual(self.at("Wheels off").note, "it stood on the lift")

    def test_what_came_off_gets_its_label_once(self):
        off = self.at("Wheels off")
        self.post(off, what="done", anyway="on", note="lift")
        self.post(off, what="undo")
        self.post(off, what="done", anyway="on", note="lift")
        row = Removed.objects.get(step=off)
        self.assertEqual((row.what, row.pieces_off), ("wheel nuts, counted into a bag", 20))


class OwnSteps(Composing):
    def setUp(self):
        super().setUp()
        self.job = self.make("wheels")

    def post(self, step, **data):
        return self.client.post(self.url(f"fit/job/{self.job.pk}/{step.place}/"), data)

    def titles(self):
        return list(self.job.steps.order_by("place").values_list("title", flat=True))

    def test_added_moved_dropped(self):
        third = self.job.steps.order_by("place")[2]
        before = self.titles()
        self.post(third, what="step", **{"step-title": "Warm the car", "step-tools": "heat gun, gloves"})
        self.assertEqual(self.titles(), [*before[:3], "Warm the car", *before[3:]])
        mine = Step.objects.get(job=self.job, title="Warm the car")
        self.assertEqual((mine.tools, mine.own, mine.phase), (["heat gun", "gloves"], True, third.phase))
        self.post(mine, what="up")
        self.assertEqual(self.titles()[2], "Warm the car")
        mine.refresh_from_db()
        self.post(mine, what="down")
        mine.refresh_from_db()
        self.assertEqual(self.titles()[3], "Warm the car")
        self.post(mine, what="drop")
        self.assertEqual(self.titles(), before)

    def test_at_either_end_nothing_moves(self):
        before = self.titles()
        self.post(self.job.steps.order_by("place").first(), what="up")
        self.post(self.job.steps.order_by("place").last(), what="down")
        self.assertEqual(self.titles(), before)

    def test_a_step_that_is_done_stays(self):
        first = self.job.steps.get(title__startswith="Photograph")
        self.post(first, what="done")
        self.assertContains(
            self.client.post(self.url(f"fit/job/{self.job.pk}/{first.place}/"), {"what": "drop"}, follow=True),
            "skip it with a reason",
        )
        self.assertTrue(Step.objects.filter(pk=first.pk).exists())

    def test_without_a_title_it_is_refused(self):
        self.assertEqual(self.post(self.job.steps.first(), what="step", **{"step-title": ""}).status_code, 422)


class Templates(Composing):
    def test_out_and_in_again(self):
        job = self.make("wheels", "height")
        self.client.post(self.url(f"fit/job/{job.pk}/template/"), {"name": "My wheels"})
        kept = JobTemplate.objects.get(owner=self.user, name="My wheels")
        answer = self.client.get(self.url(f"fit/templates/{kept.pk}.json"))
        self.assertEqual(answer["Content-Disposition"], 'attachment; filename="My-wheels.json"')
        text = answer.content.decode()
        self.assertEqual([step.title for step in read(text).steps], list(job.steps.values_list("title", flat=True)))
        renamed = json.dumps({**json.loads(text), "name": "Read again"})
        self.client.post(self.url("fit/templates/"), {"file": SimpleUploadedFile("t.json", renamed.encode())})
        again = JobTemplate.objects.get(name="Read again")
        self.client.post(self.url(f"fit/templates/{again.pk}/make/"))
        made = Job.objects.first()
        self.assertEqual(
            list(made.steps.values_list("title", "phase", "corner", "gates")),
            list(job.steps.values_list("title", "phase", "corner", "gates")),
        )
        self.assertEqual(
            set(made.steps.filter(joint__name="Wheel nuts").values_list("torque_nm", flat=True)),
            {None},
            "this car's figures are asked of its hub",
        )

    def test_refused_in_words(self):
        good = json.loads(keep_template(self.make("wheels"), self.user, "T").text)
        step = good["steps"][0]
        for odd, words in (
            (b"\xff\xfe", "UTF-8"),
            (b"{", "no JSON"),
            (b"[]", "not a job template"),
            (json.dumps({**good, "name": ""}), "1 to 80"),
            (json.dumps({**good, "steps": []}), "1 to 300"),
            (json.dumps({**good, "steps": [{**step, "phase": "Sing"}]}), "no such phase"),
            (json.dumps({**good, "steps": [{**step, "run": "rm"}]}), "no step"),
            (json.dumps({**good, "steps": [{**step, "kind": "torque"}]}), "has a joint"),
            (json.dumps({**good, "steps": [{**step, "title": "x" * 200}]}), "160"),
            (
                json.dumps({**good, "steps": [{**step, "kind": "torque", "joint": {"name": "n", "thread": "M99"}}]}),
                "coarse pitch",
            ),
            (json.dumps({**good, "steps": [{**step, "torque_nm": 1e9}]}), "0.1 to 5000"),
            ("[" * 100_000, "no JSON"),
        ):
            raw = odd if isinstance(odd, bytes) else odd.encode()
            with self.subTest(words):
                answer = self.client.post(self.url("fit/templates/"), {"file": SimpleUploadedFile("t.json", raw)})
                self.assertContains(answer, words, status_code=422)
        self.assertEqual(set(JobTemplate.objects.values_list("name", flat=True)), {"T", "Four wheels, as I do them"})

    def test_only_for_its_owner(self):
        kept = keep_template(self.make("wheels"), self.user, "T")
        other = self.person()
        from garage.car.services import add_car

        mine = add_car(other, {"nickname": "mine"})
        self.client.force_login(other)
        self.assertEqual(self.client.get(f"/car/{mine.pk}/fit/templates/{kept.pk}.json").status_code, 404)
        self.assertNotContains(self.client.get(f"/car/{mine.pk}/fit/templates/"), "<b>T</b>")

    def test_one_that_fits_no_part_changes_nothing_that_stands(self):
        kept = keep_template(self.make("wheels"), self.user, "T")
        whole = json.loads(kept.text)
        whole["steps"] = [{"phase": "Fit", "title": "Oil, filter, plug"}]
        kept.text = json.dumps(whole)
        kept.save()
        job = make_from_template(self.file(), self.build, self.user, kept)
        before, states = self.file().current.pk, set(self.build.choices.values_list("pk", "state"))
        job.steps.update(state="done")
        finish_job(self.file(), job, self.user, 142_400)
        self.assertEqual((self.file().current.pk, set(self.build.choices.values_list("pk", "state"))), (before, states))

    def test_a_sheet_from_a_template_can_be_closed(self):
        job = make_from_template(self.file(), self.build, self.user, keep_template(self.make("wheels"), self.user, "T"))
        job.steps.update(state="done")
        finish_job(self.file(), job, self.user, 142_400)
        self.assertEqual(Job.objects.get(pk=job.pk).state, "done")


class Again(Composing):
    def test_what_came_off_is_chosen_again_at_no_cost(self):
        row = Removed.objects.filter(car=self.car, part__family="wheel").first()
        self.assertIn("16x6.5", row.what)
        self.client.post(self.url(f"fit/removed/{row.label}/"), {"what_to_do": "again"})
        part = Part.objects.filter(car=self.car, listed=True, family="wheel").last()
        self.assertEqual((part.diameter_in, part.width_in, part.price_minor, part.lead_days), (16, 6.5, 0, 0))
        self.assertIn(f"bag {row.label}", part.note)

    def test_not_what_was_sold(self):
        row = Removed.objects.filter(car=self.car, part__family="wheel").first()
        Removed.objects.filter(pk=row.pk).update(fate="sold")
        answer = self.client.post(self.url(f"fit/removed/{row.label}/"), {"what_to_do": "again"}, follow=True)
        self.assertContains(answer, "it is sold")
