"""Around the sheets: torque book, the simulated wrench, tools, the ledger, snags that change the plan, checks before an
event.
"""

from datetime import timedelta

from django.db import connection
from django.test.utils import CaptureQueriesContext
from django.utils import timezone

from garage.car.models import Car
from garage.chassis.services import set_alignment
from planner.models import Build, Choice
from planner.queries import sums
from rimcore.fastening.bolts import at_bolt_nm
from shell.models import Change
from shell.tests.base import ScenarioCase, read_anew
from shell.undo import undo
from workshop.composing import make_job
from workshop.models import FollowUp, Job, Pull, Removed, Snag, Step, Tool
from workshop.queries import follow_ups, kit_of, torque_book


class Joints(ScenarioCase):
    def setUp(self):
        super().setUp()
        self.job = make_job(self.file(), Build.objects.get(name="Hill season"), self.user, ["height"])
        self.step = self.job.steps.filter(joint__name="Damper bolts").first()
        self.address = self.url(f"fit/job/{self.job.pk}/{self.step.place}/")

    def ask(self, **said):
        return self.client.post(
            self.address, {"what": "joint", **{f"joint-{name}": value for name, value in said.items()}}
        )

    def test_asked_kept_for_its_axle_and_pulled_one_by_one(self):
        self.assertContains(self.client.get(self.address), "Not known of damper bolts")
        self.assertEqual(
            self.ask(
                count="3", torque_nm="80", angle_deg="90", thread="M12x1.5", grade="10.9", one_use="on"
            ).status_code,
            302,
        )
        alike = self.job.steps.filter(joint__name="Damper bolts", corner__startswith=self.step.corner[0])
        self.assertEqual(list(alike.values_list("lugs", "torque_nm")), [(3, 80.0)] * 2)
        self.assertContains(self.client.get(self.address), "One use: new ones go in")
        for _ in range(3):
            view = self.client.get(self.address).context["torque"]
            self.client.post(self.address, {"what": "pull", "lug": view.now, "read": "81"})
        self.step.refresh_from_db()
        self.assertEqual(self.step.state, "done")

    def test_a_torque_that_thread_and_class_do_not_bear_is_asked_twice(self):
        for said, words in (
            ({"torque_nm": "300"}, "beyond proof"),
            ({"torque_nm": "5"}, "is the unit right"),
            ({"wrench_mm": "400"}, "go together"),
        ):
            answer = self.ask(**({"count": "3", "torque_nm": "80", "thread": "M12x1.5", "grade": "10.9"} | said))
            self.assertContains(answer, words, status_code=422)
        self.assertEqual(
            self.ask(count="3", torque_nm="300", thread="M12x1.5", grade="10.9", sure="on").status_code, 302
        )

    def test_with_an_adapter_the_wrench_is_set_lower_and_the_bolt_gets_its_figure(self):
        self.ask(count="2", torque_nm="100", wrench_mm="400", adapter_mm="100")
        page = self.client.get(self.address)
        self.assertEqual(page.context["torque"].setting_nm, 80.0)
        self.client.post(self.address, {"what": "pull", "lug": 1, "read": "80"})
        self.assertEqual(Pull.objects.get(step=self.step).read_nm, at_bolt_nm(80, 400, 100))

    def test_what_is_taken_back_of_a_joint_is_gone(self):
        self.ask(count="3", torque_nm="80", thread="M12x1.5", grade="10.9", one_use="on", source="the leaflet")
        self.ask(count="3", torque_nm="80")
        self.step.refresh_from_db()
        self.assertEqual(set(self.step.joint) & {"thread", "grade", "one_use", "source"}, set())
        self.assertEqual(self.step.joint["name"], "Damper bolts")

    def test_one_axles_figure_says_nothing_of_the_other_axle_or_of_another_kind(self):
        self.ask(count="2", torque_nm="165", thread="M12", sure="on")
        told = self.job.steps.filter(kind="torque", torque_nm=165.0)
        self.assertEqual({(one.corner[0], one.joint["name"]) for one in told}, {(self.step.corner[0], "Damper bolts")})
        self.assertTrue(
            self.job.steps.filter(joint__name="Damper bolts", torque_nm=None)
            .exclude(corner__startswith=self.step.corner[0])
            .exists()
        )
        self.assertTrue(
            self.job.steps.filter(joint__name="Arm bolts", torque_nm=None, corner=self.step.corner).exists()
        )

    def test_a_class_nobody_read_is_held_against_the_strongest(self):
        answer = self.ask(count="2", torque_nm="165", thread="M12")
        self.assertContains(answer, "what even 12.9 in M12 bears", status_code=422)
        self.assertEqual(self.ask(count="2", torque_nm="165", thread="M12", sure="on").status_code, 302)
        self.assertContains(self.page(f"fit/job/{self.job.pk}/torque/"), "what even 12.9 in M12 bears")

    def test_a_figure_is_changed_in_the_book_with_its_history_and_the_joint_is_to_do_again(self):
        self.ask(count="1", torque_nm="60", source="the leaflet")
        self.client.post(self.address, {"what": "pull", "lug": 1, "read": "60"})
        self.step.refresh_from_db()
        self.assertEqual(self.step.state, "done")
        book = f"fit/job/{self.job.pk}/torque/"
        self.assertContains(self.page(book), f"{book}{self.step.place}/")
        changed = {"joint-count": "1", "joint-torque_nm": "80", "joint-source": "the handbook"}
        self.assertEqual(self.client.post(self.url(f"{book}{self.step.place}/"), changed).status_code, 302)
        self.step.refresh_from_db()
        self.assertEqual((self.step.state, self.step.torque_nm), ("todo", 80.0))
        said = self.page(f"{book}{self.step.place}/").context["said"]
        self.assertEqual(
            [(one.torque_nm, one.said["source"]) for one in said], [(80.0, "the handbook"), (60.0, "the leaflet")]
        )
        row = next(
            row for row in torque_book(list(self.job.steps.prefetch_related("pulls"))) if row.step.pk == self.step.pk
        )
        self.assertEqual(row.state, "tight")
        undo(self.user, Change.objects.first().pk)
        self.step.refresh_from_db()
        self.assertEqual((self.step.state, self.step.torque_nm, self.job.joint_figures.count()), ("done", 60.0, 1))

    def test_bad_figures_in_the_book_are_refused_and_nothing_is_kept(self):
        answer = self.client.post(
            self.url(f"fit/job/{self.job.pk}/torque/{self.step.place}/"), {"joint-count": "0", "joint-torque_nm": "x"}
        )
        self.assertEqual((answer.status_code, self.job.joint_figures.count()), (422, 0))
        self.assertContains(answer, 'value="x"', status_code=422)

    def test_a_hubs_step_takes_no_joint(self):
        hub = self.job.steps.filter(joint__name="Wheel nuts").first()
        self.assertEqual(
            self.client.post(
                self.url(f"fit/job/{self.job.pk}/{hub.place}/"),
                {"what": "joint", "joint-count": "5", "joint-torque_nm": "100"},
            ).status_code,
            404,
        )


class Aims(ScenarioCase):
    def test_what_is_aimed_at_arrives_at_the_step_that_sets_it(self):
        job = Job.objects.get(build__name="Hill season")
        step = job.steps.get(title__startswith="Alignment:")
        set_alignment(self.car, self.user, "grip", {"R.toe_deg": 0.15})
        page = self.page(f"fit/job/{job.pk}/{step.place}/")
        self.assertIn(("toe, rear", 0.15, "as you set it"), page.context["aims"])
        self.assertIn(("camber, front", -1.8, "by Hill season"), page.context["aims"])
        self.assertContains(page, "+0.15°")
        self.assertEqual(self.page(f"fit/job/{job.pk}/{step.place - 1}/").context["aims"], [])


class Book(ScenarioCase):
    def setUp(self):
        super().setUp()
        self.job = Job.objects.get(build__name="Lighter sixteens")

    def test_every_joint_wanted_and_read(self):
        rows = self.page(f"fit/job/{self.job.pk}/torque/").context["rows"]
        self.assertEqual(len(rows), self.job.steps.filter(kind="torque").count())
        self.assertTrue(all(row.state == "clear" and row.low_nm <= row.step.torque_nm <= row.high_nm for row in rows))

    def test_half_read_is_unmeasured_and_too_far_is_a_hit(self):
        step = self.job.steps.filter(kind="torque").first()
        step.pulls.first().delete()
        states = {row.step.pk: row.state for row in torque_book(list(self.job.steps.prefetch_related("pulls")))}
        self.assertEqual(states[step.pk], "unmeasured")
        other = self.job.steps.filter(kind="torque").last()
        other.pulls.update(read_nm=160)
        states = {row.step.pk: row.state for row in torque_book(list(self.job.steps.prefetch_related("pulls")))}
        self.assertEqual(states[other.pk], "hit")

    @read_anew
    def test_a_constant_number_of_queries(self):
        self.page(f"fit/job/{self.job.pk}/torque/")
        with CaptureQueriesContext(connection) as few:
            self.page(f"fit/job/{self.job.pk}/torque/")
        for k in range(200):
            Step.objects.create(
                job=self.job,
                place=500 + k,
                phase="Check",
                kind="torque",
                title=f"more {k}",
                lugs=2,
                torque_nm=20,
                joint={"name": f"j{k}"},
            )
        with CaptureQueriesContext(connection) as many:
            self.page(f"fit/job/{self.job.pk}/torque/")
        self.assertEqual(len(few), len(many))

    def test_the_simulated_wrench_writes_into_it_and_is_named(self):
        job = Job.objects.get(build__name="Hill season")
        step = job.steps.filter(kind="torque", joint__name="Wheel nuts").first()
        address = self.url(f"fit/job/{job.pk}/{step.place}/")
        self.assertContains(self.client.get(address), "Torque wrench (simulation)")
        self.client.post(address, {"what": "simulate"})
        pull = step.pulls.get()
        self.assertEqual(pull.source, "simulated")
        self.assertLess(abs(pull.read_nm / step.torque_nm - 1), 0.5)
        self.assertContains(self.page(f"fit/job/{job.pk}/torque/"), "1 pulls on this car")


class Kit(ScenarioCase):
    def setUp(self):
        super().setUp()
        Tool.objects.all().delete()

    def test_one_list_over_all_open_sheets(self):
        make_job(self.file(), Build.objects.get(name="Hill season"), self.user, ["height"])
        rows = {row.name: row for row in kit_of(self.file())}
        self.assertEqual(len(rows["torque wrench"].jobs), 2)
        self.assertEqual(rows["torque wrench"].state, "unmeasured")

    def test_missing_is_a_snag_once_and_there_again_closes_it(self):
        for _ in range(2):
            self.client.post(self.url("fit/tools/"), {"name": "torque wrench", "what": "missing"})
        snag = Snag.objects.get(what="torque wrench missing")
        self.assertEqual((snag.kind, snag.closed_on), ("missing_tool", None))
        self.assertContains(self.page("fit/"), "missing</span>", html=False)
        self.client.post(self.url("fit/tools/"), {"name": "torque wrench", "what": "have"})
        snag.refresh_from_db()
        self.assertEqual(snag.closed_on, timezone.localdate())

    def test_the_rest_is_there(self):
        self.client.post(self.url("fit/tools/"), {"name": "scale", "what": "missing"})
        self.client.post(self.url("fit/tools/"), {"what": "have_all"})
        self.assertEqual([row.name for row in kit_of(self.file()) if row.have is not True], ["scale"])
        self.assertEqual(self.client.post(self.url("fit/tools/"), {"name": "a moon", "what": "have"}).status_code, 404)

    def test_tools_are_a_persons_own(self):
        Tool.objects.create(owner=self.person(), name="torque wrench", have=True)
        self.assertIsNone(next(row for row in kit_of(self.file()) if row.name == "torque wrench").have)


class Ledger(ScenarioCase):
    def test_weighed_with_its_box_and_counted_back(self):
        self.client.post(
            self.url("fit/removed/"),
            {"what": "Rear bench", "gross_kg": "25.4 kg", "tare_kg": "900 g", "pieces_off": "4", "fate": "keep"},
        )
        row = Removed.objects.get(what="Rear bench")
        self.assertAlmostEqual(row.net_kg, 24.5)
        self.assertEqual(row.count.state, "unmeasured")
        form = {
            "what_to_do": "keep",
            "what": "Rear bench",
            "gross_kg": "25.4",
            "tare_kg": "0.9",
            "pieces_off": "4",
            "pieces_back": "3",
            "fate": "keep",
        }
        self.client.post(self.url(f"fit/removed/{row.label}/"), form)
        self.assertContains(self.page("fit/removed/"), "1 of 4 missing")

    def test_refused(self):
        for said, words in (
            ({"gross_kg": "1", "tare_kg": "2"}, "weighs more"),
            ({"what": ""}, "required"),
            ({"gross_kg": "heavy"}, "heavy"),
        ):
            answer = self.client.post(self.url("fit/removed/"), {"what": "x", "fate": "keep", **said})
            self.assertContains(answer, words, status_code=422)

    def test_sold_counts_back_in_the_build_less_its_fees(self):
        row = Removed.objects.filter(car=self.car, job__build__name="Lighter sixteens").first()
        before = sums(self.file(), row.job.build).money
        form = {"what_to_do": "keep", "what": row.what, "fate": "sold", "sold_minor": "120", "fees_minor": "9.50"}
        self.client.post(self.url(f"fit/removed/{row.label}/"), form)
        after = sums(self.file(), row.job.build).money
        self.assertEqual(before.spent_minor - after.spent_minor, 12000 - 950)

    def test_labels_have_codes_that_lead_to_their_bag(self):
        page = self.page("fit/removed/labels/")
        self.assertContains(page, 'class="code"', count=len(page.context["rows"]))

    def test_every_label_once(self):
        labels = list(Removed.objects.filter(car=self.car).values_list("label", flat=True))
        self.assertEqual(len(labels), len(set(labels)))
        self.assertTrue(labels)


class Snags(ScenarioCase):
    def setUp(self):
        super().setUp()
        self.snag = Snag.objects.get(closed_on__isnull=True, job__build__name="Hill season")
        self.address = self.url(f"fit/snag/{self.snag.pk}/")

    def weigh(self, decision="", **said):
        return self.client.post(
            self.address,
            {"form": "ways", "way-decision": decision, **{f"way-{name}": value for name, value in said.items()}},
        )

    def plan(self):
        return sums(self.file(), Build.objects.get(name="Hill season"))

    def test_use_repair_replace_with_what_each_leaves(self):
        before = self.plan()
        self.weigh(
            use_note="live with it",
            repair_money_minor="40",
            repair_hours="3",
            replace_money_minor="90",
            replace_days="12",
        )
        outcomes = {o.cure.kind: o for o in self.client.get(self.address).context["outcomes"]}
        self.assertEqual(outcomes["repair"].left_minor, before.money.left_minor - 4000)
        comes = max(before.dates.finish, timezone.localdate() + timedelta(days=12))
        self.assertEqual(outcomes["replace"].days_lost, None, "not given how many hours it takes")
        self.assertIn("how many hours", outcomes["replace"].reason)
        self.assertEqual(outcomes["use"].left_minor, before.money.left_minor)
        self.weigh(replace_money_minor="90", replace_days="12", replace_hours="0")
        outcome = self.client.get(self.address).context["outcomes"][0]
        self.assertEqual(outcome.days_in_hand, before.dates.days_in_hand - (comes - before.dates.finish).days)

    def test_what_a_way_leaves_is_what_the_plan_says_once_it_is_decided(self):
        said = {"use_note": "glue", "repair_money_minor": "40", "repair_hours": "7", "repair_days": "3"}
        said |= {"replace_money_minor": "90", "replace_hours": "2", "replace_days": "120"}
        self.weigh(**said)
        outcomes = {o.cure.kind: o for o in self.client.get(self.address).context["outcomes"]}
        for kind in ("use", "repair", "replace"):
            self.weigh(kind, **said)
            plan, again = self.plan(), {o.cure.kind: o for o in self.client.get(self.address).context["outcomes"]}
            found = (outcomes[kind].left_minor, outcomes[kind].days_in_hand)
            self.assertEqual((plan.money.left_minor, plan.dates.days_in_hand), found, kind)
            for way in outcomes:
                self.assertEqual(
                    (again[way].left_minor, again[way].days_in_hand),
                    (outcomes[way].left_minor, outcomes[way].days_in_hand),
                    kind,
                )

    def test_what_happened_may_be_any_word_and_is_not_left_out(self):
        for words in ("ways", "snag", "form"):
            self.client.post(self.address, {"kind": "other", "what": words, "cost_minor": "0", "hours": "0"})
            self.snag.refresh_from_db()
            self.assertEqual(self.snag.what, words)
        answer = self.client.post(
            self.address, {"kind": "other", "what": "", "cure": "turned down", "cost_minor": "0", "hours": "0"}
        )
        self.assertContains(answer, "turned down", status_code=422)
        self.assertContains(answer, "required", status_code=422)

    def test_a_decided_repair_flows_into_money_hours_and_dates(self):
        before = self.plan()
        self.weigh("repair", repair_money_minor="40", repair_hours="7", repair_days="30")
        after = self.plan()
        self.assertEqual(after.money.promised_minor - before.money.promised_minor, 4000)
        self.assertGreaterEqual(after.dates.finish, timezone.localdate() + timedelta(days=30))
        self.assertGreater(after.dates.finish, before.dates.finish)
        self.assertContains(self.page("plan/"), "fix: The rings in the bag")
        outcomes = self.client.get(self.address).context["outcomes"]
        self.assertEqual(
            outcomes[0].left_minor, before.money.left_minor - 4000, "its own decision is not counted twice"
        )
        self.client.post(
            self.address,
            {
                "kind": "wrong_part",
                "what": self.snag.what,
                "cure": "turned",
                "closed_on": timezone.localdate().isoformat(),
                "hours": "0.5",
            },
        )
        closed = self.plan()
        self.assertEqual(closed.money.spent_minor - before.money.spent_minor, 4000)
        self.assertEqual(closed.money.promised_minor, before.money.promised_minor)

    def test_a_replacement_is_wanted_in_the_build_once(self):
        for price in ("24", "26"):
            self.weigh("replace", replace_money_minor=price, replace_days="9", part="Rings 72.6")
        choice = Choice.objects.get(part__name="Rings 72.6")
        self.assertEqual((choice.state, choice.price, choice.lead), ("wanted", 2600, 9))
        self.weigh("replace", replace_money_minor="26", replace_days="9", part="Rings 72.5")
        self.assertEqual(str(Choice.objects.get(pk=choice.pk).part), "Rings 72.5")
        self.weigh("replace", replace_money_minor="26", replace_days="9", part="Rings 72.6")
        self.weigh("use", use_note="glue")
        self.assertFalse(Choice.objects.filter(part__name="Rings 72.6").exists())
        undo(self.user, Change.objects.first().pk)
        self.assertTrue(Choice.objects.filter(part__name="Rings 72.6").exists())

    def test_refused(self):
        self.assertContains(self.weigh("replace"), "Say first what it takes", status_code=422)
        self.assertContains(self.weigh(repair_money_minor="much"), "amount", status_code=422)
        self.assertEqual(self.weigh(repair_hours="-1").status_code, 422)


class Due(ScenarioCase):
    def test_by_track_days(self):
        FollowUp.objects.create(car=self.car, what="Pads, look at them", due_track_days=2)
        for expected in (False, True):
            self.client.post(self.url("fit/track-day/"))
            row = next(d for d in follow_ups(self.file()) if d.follow_up.what.startswith("Pads"))
            self.assertEqual(row.due, expected)
        self.assertEqual(Car.objects.get(pk=self.car.pk).track_days, 2)

    def test_the_check_before_the_event_is_made_from_the_torque_books(self):
        answer = self.client.post(self.url("fit/check/"))
        job = Job.objects.get(kind="check")
        self.assertRedirects(answer, self.url(f"fit/job/{job.pk}/"), fetch_redirect_response=False)
        joints = job.steps.filter(kind="torque")
        self.assertEqual(joints.count(), 4)
        self.assertEqual(set(joints.values_list("torque_nm", flat=True)), {110.0})
        due = FollowUp.objects.get(job=job)
        self.assertEqual(due.due_on, self.car.event_on - timedelta(days=1))
        job.steps.update(state="done")
        outfits = self.car.outfits.count()
        self.client.post(self.url(f"fit/job/{job.pk}/1/"), {"what": "finish", "finish-odometer_km": "142400"})
        job.refresh_from_db()
        self.assertEqual((job.state, self.car.outfits.count()), ("done", outfits))
        self.assertEqual(FollowUp.objects.filter(job=job).count(), 1, "a check brings no new follow-ups")

    def test_without_a_reading_there_is_nothing_to_check(self):
        Pull.objects.all().delete()
        self.assertContains(self.client.post(self.url("fit/check/"), follow=True), "No torque record has a reading yet")
