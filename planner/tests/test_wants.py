"""From a bench into the build, the order, the sheet, the money, mass and hours: one way, and nothing typed twice."""

from django.db import connection
from django.test.utils import CaptureQueriesContext

from garage.air.models import AirPanel
from garage.car.parts import Part
from garage.mass.models import MassGoal, MassItem
from planner.models import Build, Choice, PipeRun
from planner.parts import dragged_along
from planner.queries import sums
from planner.services import duplicate_build, set_levers
from planner.wants_form import price_name
from rimcore.breathing.bill import bill
from rimcore.breathing.typed import parse_run
from shell.tests.base import ScenarioCase
from shell.undo import last_change, undo
from workshop.composing import make_job

LINES = "pipe 63.5 x 900, 2 clamps, 1 hanger\nbend 63.5 45° r 100\npipe 63.5 x 1100, 1 clamp, 2 hangers\nsilencer 2 kPa at 0.1 kg/s 400 °C, 4.2 kg"


class Wanted(ScenarioCase):
    def setUp(self):
        super().setUp()
        self.build = Build.objects.get(car=self.car, in_hand=True)

    def fresh(self):
        return next(one for one in Build.objects.prefetch_related("choices__part", "levers").filter(pk=self.build.pk))

    def rows(self, source):
        return {
            one.bench.partition("/")[2]: one
            for one in Choice.objects.filter(build=self.build, bench__startswith=f"{source}/").select_related("part")
        }

    def put_run(self, lines=LINES):
        return self.client.post(
            self.url("check/breathing/"),
            {"form": "run", "kind": "exhaust", "where": "build", "lines": lines, "pipes": "1"},
        )

    def want(self, address, source, **more):
        return self.client.post(self.url(address), {"form": "wants", "source": source, **more}, follow=True)


class Runs(Wanted):
    def test_one_press_makes_parts_order_sheet_mass_and_money_of_a_run(self):
        Build.objects.filter(pk=self.build.pk).update(hours_estimate=None)
        self.put_run()
        before = sums(self.file(), self.fresh())
        page = self.page("check/breathing/")
        self.assertContains(page, "Want what this")
        answer = self.want("check/breathing/", "run exhaust")
        self.assertContains(answer, "without a price")
        rows = self.rows("run exhaust")
        self.assertEqual(rows["pipe 63.5 1.5 steel"].part.spec["length_mm"], 900 + 1100 + 2 * 3)
        self.assertEqual((rows["clamps"].quantity, rows["hangers"].quantity), (3, 3))
        self.assertEqual({one.state for one in rows.values()}, {"wanted"})
        self.assertIn("need Gasket for the flange", rows)
        after = sums(self.file(), self.fresh())
        self.assertEqual(after.money.without_price - before.money.without_price, len(rows), "asked, and never nought")
        self.assertGreater(after.hours.hours, before.hours.hours)
        run = next(one for one in self.page("check/breathing/").context["runs"] if one["kind"] == "exhaust")
        self.assertEqual((run["wants"].wants.money_minor, run["wants"].wants.unpriced), (0, len(rows)))
        first = next(name for name in run["wants"].fields)
        self.want("check/breathing/", "run exhaust", **{first: "12.50"})
        page = self.page("check/breathing/")
        said = next(one for one in page.context["runs"] if one["kind"] == "exhaust")["wants"].wants
        self.assertEqual((said.unpriced, said.money_minor % 1250), (len(rows) - 1, 0))
        self.assertGreater(said.money_minor, 0)
        self.assertContains(page, f"{said.unpriced} without a price: type it in the list below")
        self.assertContains(self.page("plan/"), "Exhaust pipe 63.5 mm")
        titles = [step.title for step in make_job(self.file(), self.fresh(), self.user, ("exhaust",)).steps.all()]
        self.assertTrue(any("mated on the floor" in title for title in titles), titles)

    def test_the_mass_is_that_of_the_new_run_less_the_old(self):
        """Held against the bill of both runs, weighed by hand: what comes off was 9.5 kg."""
        PipeRun.objects.filter(car=self.car, kind="exhaust", build=None).delete()
        PipeRun.objects.create(car=self.car, kind="exhaust", lines="silencer 3 kPa at 0.1 kg/s 400 °C, 9.5 kg")
        self.put_run()
        self.want("check/breathing/", "run exhaust")
        said = [
            one.mass_change_kg * one.quantity
            for one in self.rows("run exhaust").values()
            if one.mass_change_kg is not None
        ]
        self.assertAlmostEqual(sum(said), bill(parse_run(LINES)).mass_kg - 9.5, places=2)

    def test_an_old_run_that_nobody_weighed_leaves_the_mass_open(self):
        PipeRun.objects.filter(car=self.car, kind="exhaust", build=None).delete()
        self.put_run()
        self.want("check/breathing/", "run exhaust")
        self.assertTrue(
            any(
                one.mass_change_kg is None
                for one in self.rows("run exhaust").values()
                if one.kind in ("silencer", "mid_pipe")
            )
        )

    def test_changed_on_the_bench_it_changes_in_the_build_and_a_typed_price_stays(self):
        self.put_run()
        self.want("check/breathing/", "run exhaust", **{price_name("pipe 63.5 1.5 steel"): "41.50"})
        pipe = self.rows("run exhaust")["pipe 63.5 1.5 steel"]
        self.assertEqual(pipe.price, 4150)
        self.put_run(LINES.replace("1100", "800").replace(", 1 hanger", ""))
        rows = self.rows("run exhaust")
        self.assertEqual((rows["pipe 63.5 1.5 steel"].pk, rows["pipe 63.5 1.5 steel"].price), (pipe.pk, 4150))
        self.assertEqual(rows["pipe 63.5 1.5 steel"].part.spec["length_mm"], 900 + 800 + 2 * 3)
        self.assertEqual(rows["hangers"].quantity, 2)
        self.put_run("pipe 63.5 x 900")
        self.assertNotIn("hangers", self.rows("run exhaust"))

    def test_a_price_finds_its_part_though_the_list_changed_meanwhile(self):
        """The list was shown, the run was changed in another window, then the price is sent."""
        self.put_run()
        self.put_run("pipe 50 x 300\n" + LINES)
        self.want("check/breathing/", "run exhaust", **{price_name("hangers"): "7"})
        prices = {key: one.price for key, one in self.rows("run exhaust").items()}
        self.assertEqual({key for key, price in prices.items() if price == 700}, {"hangers"})

    def test_what_is_paid_for_is_not_taken_away(self):
        self.put_run()
        self.want("check/breathing/", "run exhaust")
        Choice.objects.filter(pk=self.rows("run exhaust")["hangers"].pk).update(state="arrived")
        self.put_run("pipe 63.5 x 900")
        self.assertEqual(self.rows("run exhaust")["hangers"].state, "arrived")

    def test_a_run_that_nobody_wanted_brings_nothing(self):
        self.put_run()
        self.assertEqual(self.rows("run exhaust"), {})

    def test_a_copy_of_the_build_keeps_its_own(self):
        self.put_run()
        self.want("check/breathing/", "run exhaust")
        copy = duplicate_build(self.fresh(), self.user)
        self.put_run(LINES.replace("1100", "800"))
        there = Choice.objects.get(build=copy, bench="run exhaust/pipe 63.5 1.5 steel")
        self.assertEqual(there.part.spec["length_mm"], 2006)
        self.assertEqual(copy.pipe_runs.get(kind="exhaust").lines.count("1100"), 1)

    def test_a_bad_price_keeps_nothing_and_stands(self):
        self.put_run()
        page = self.client.post(
            self.url("check/breathing/"), {"form": "wants", "source": "run exhaust", price_name("clamps"): "a lot"}
        )
        self.assertContains(page, 'value="a lot"', status_code=422)
        self.assertEqual(self.rows("run exhaust"), {})

    def test_taken_back_whole(self):
        self.put_run()
        self.want("check/breathing/", "run exhaust", **{price_name("clamps"): "40"})
        undo(self.user, last_change(self.user).pk)
        self.assertEqual(self.rows("run exhaust"), {})


class Panels(Wanted):
    def test_sheet_fasteners_mass_and_price_of_a_panel(self):
        row = AirPanel.objects.get(car=self.car, name="Belly panel")
        made = self.page(f"check/air/?panel={row.pk}").context["panel"]
        self.want("check/air/", f"panel {row.pk}")
        rows = self.rows(f"panel {row.pk}")
        self.assertAlmostEqual(rows["panel"].part.spec["mass_change_kg"], made.mass_kg, places=2)
        self.assertEqual(rows["fasteners"].quantity, made.fixed.count)
        prices = [cut.price_minor for cut in made.cuts if cut.price_minor is not None]
        self.assertEqual(rows["panel"].price, min(prices, default=None))
        titles = [step.title for step in make_job(self.file(), self.fresh(), self.user, ("panel",)).steps.all()]
        self.assertTrue(any("Belly panel" in title and "transferred to the sheet" in title for title in titles), titles)

    def test_changed_on_its_card_it_changes_in_every_build_that_has_it(self):
        row = AirPanel.objects.get(car=self.car, name="Belly panel")
        self.want("check/air/", f"panel {row.pk}")
        before = self.rows(f"panel {row.pk}")["panel"].part.spec["mass_change_kg"]
        form = self.page(f"check/air/?panel={row.pk}").context["form"]
        data = {name: form[name].value() if form[name].value() is not None else "" for name in form.fields}
        self.client.post(self.url("check/air/"), {**data, "form": "panel", "panel": row.pk, "kg_per_m2": "4"})
        after = self.rows(f"panel {row.pk}")["panel"].part.spec["mass_change_kg"]
        self.assertAlmostEqual(after / before, 4 / row.kg_per_m2, places=1)

    def test_a_strangers_panel_is_none(self):
        self.assertEqual(
            self.client.post(self.url("check/air/"), {"form": "wants", "source": "panel 99999"}).status_code, 404
        )


class Levers(Wanted):
    def test_a_rack_that_moves_drags_its_rods_shaft_fluid_and_alignment_along(self):
        set_levers(self.build, {("rack_forward_mm", ""): 36.0})
        names = {row.need.name for row in dragged_along(self.file(), self.fresh())}
        self.assertLessEqual(
            {
                "Alignment",
                "Steering fluid",
                "Shaft clamp bolt, one-use",
                "Tie rods of the new length",
                "Shaft extension",
            },
            names,
        )

    def test_one_press_on_the_bench(self):
        set_levers(self.build, {("rack_forward_mm", ""): 36.0})
        page = self.page("check/steering/")
        self.assertContains(page, "Want what this needs")
        wanted = ["fluid:Steering fluid", "other:Shaft clamp bolt, one-use"]
        answer = self.client.post(
            self.url(f"plan/build/{self.build.pk}/drag/"), {"which": wanted, "back": self.url("check/steering/")}
        )
        self.assertRedirects(answer, self.url("check/steering/"), fetch_redirect_response=False)
        fluid = Choice.objects.get(build=self.build, part__name="Steering fluid")
        self.assertEqual((fluid.kind, fluid.part.spec, fluid.state), ("fluid", {"kind": "steering"}, "wanted"))

    def test_its_rows_are_asked_for_at_once(self):
        with CaptureQueriesContext(connection) as asked:
            self.client.post(self.url(f"plan/build/{self.build.pk}/drag/"), {"which": "nothing that there is"})
        self.assertLess(len(asked), 50)

    def test_what_nothing_needs_any_more_is_told(self):
        set_levers(self.build, {("rack_forward_mm", ""): 36.0})
        self.client.post(self.url(f"plan/build/{self.build.pk}/drag/"), {"which": "fluid:Steering fluid"})
        self.assertNotContains(self.page("plan/"), "needs it any more")
        set_levers(self.build, {("rack_forward_mm", ""): 0.0})
        self.assertEqual([one.label for one in self.page("plan/").context["not_needed"]], ["Steering fluid"])

    def test_it_leads_back_to_the_bench_and_nowhere_else(self):
        answer = self.client.post(
            self.url(f"plan/build/{self.build.pk}/drag/"), {"which": "all", "back": "//elsewhere.example/"}
        )
        self.assertRedirects(answer, self.url("plan/") + "#drags", fetch_redirect_response=False)


class Money(Wanted):
    def test_what_coming_out_costs_is_promised_then_spent(self):
        MassItem.objects.filter(car=self.car).update(cost_minor=0, sold_minor=0)
        item = MassItem.objects.filter(car=self.car, guarded="").exclude(state="out").first()
        item.state, item.cost_minor = "planned", 3400
        item.save()
        set_levers(self.build, {("strip_out", ""): False})
        before = sums(self.file(), self.fresh()).money
        set_levers(self.build, {("strip_out", ""): True})
        planned = sums(self.file(), self.fresh()).money
        self.assertEqual(planned.promised_minor - before.promised_minor, 3400)
        item.state, item.sold_minor = "out", 1000
        item.save()
        out = sums(self.file(), self.fresh()).money
        self.assertEqual((out.promised_minor - before.promised_minor, out.spent_minor - before.spent_minor), (0, 2400))

    def test_what_the_sheets_use_up_is_wanted_and_asked_its_price(self):
        page = self.page("plan/")
        self.assertContains(page, "What the sheets use up")
        first = page.context["wants"].rows[0][0].wanted.key
        self.client.post(self.url(f"plan/build/{self.build.pk}/uses/"), {price_name(first): "6"})
        rows = self.rows("used up")
        self.assertTrue(rows)
        self.assertEqual([one.price for one in rows.values()].count(600), 1)
        self.assertEqual({one.mass_change_kg for one in rows.values()}, {0.0}, "it weighs nothing on the car")
        bad = self.client.post(
            self.url(f"plan/build/{self.build.pk}/uses/"),
            {price_name(next(key for key, one in rows.items() if one.price is None)): "cheap"},
            follow=True,
        )
        self.assertContains(bad, "Not kept:")


class ByName(Wanted):
    def test_what_comes_off_for_a_part_by_name_is_asked_and_makes_its_steps(self):
        part = Part.objects.create(car=self.car, family="other", name="Oil cooler", listed=False)
        choice = Choice.objects.create(build=self.build, part=part, position="F", quantity=1, state="wanted")
        self.assertEqual([one.code for one in choice.open_questions], ["reach"])
        page = self.page(f"plan/part/{choice.pk}/")
        self.assertContains(page, "the bumper comes off")
        for words, title in (("the bumper comes off", "Bumper off"), ("the car goes up on stands", "set the stands")):
            self.client.post(self.url(f"plan/part/{choice.pk}/"), {"what": "answer", "ask-reach": words})
            titles = [step.title for step in make_job(self.file(), self.fresh(), self.user, ("other",)).steps.all()]
            place = next(k for k, one in enumerate(titles) if title in one)
            self.assertLess(place, next(k for k, one in enumerate(titles) if one.startswith("Oil cooler")), titles)

    def test_what_the_part_says_of_itself_is_not_asked_again_and_never_asked_of_the_seller(self):
        part = Part.objects.create(car=self.car, family="other", name="Oil cooler", listed=False)
        choice = Choice.objects.create(build=self.build, part=part, position="F", quantity=1, state="wanted")
        self.assertEqual(choice.counter_questions, (), "the seller does not know the car")
        part.spec = {"reach": "bumper"}
        part.save()
        self.assertEqual(Choice.objects.get(pk=choice.pk).open_questions, ())

    def test_what_goes_along_is_asked_nothing(self):
        set_levers(self.build, {("rack_forward_mm", ""): 36.0})
        self.client.post(self.url(f"plan/build/{self.build.pk}/drag/"), {"which": "other:Shaft clamp bolt, one-use"})
        self.assertEqual(
            Choice.objects.get(build=self.build, part__name="Shaft clamp bolt, one-use").open_questions, ()
        )


class Ballast(Wanted):
    def test_what_the_class_minimum_lacks_comes_into_the_build(self):
        judged = next(one for one in self.page("check/mass/").context["judged"] if one.code == "mass.minimum")
        goal = MassGoal.objects.get(car=self.car)
        goal.minimum_kg = goal.minimum_kg + judged.margin + 12.0
        goal.save()
        self.assertContains(self.page("check/mass/"), "Ballast, 12.0 kg")
        self.want("check/mass/", "ballast", ballast_price="")
        row = self.rows("ballast")["ballast"]
        self.assertEqual((row.kind, row.part.spec["mass_change_kg"]), ("ballast", 12.0))
        form = self.page("check/mass/").context["goal_form"]
        data = {name: form[name].value() for name in form.fields if form[name].value() is not None}
        self.client.post(self.url("check/mass/"), {**data, "form": "goal", "minimum_kg": f"{goal.minimum_kg + 5:g}"})
        self.assertEqual(self.rows("ballast")["ballast"].part.spec["mass_change_kg"], 17.0)
        titles = [step.title for step in make_job(self.file(), self.fresh(), self.user, ("ballast",)).steps.all()]
        self.assertTrue(any(title.startswith("Drilled; plate below") for title in titles), titles)
