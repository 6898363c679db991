"""A build's dates: week, work, parts, chance, trials, what happened, orders, claims, files; in the demo's garage."""

from __future__ import annotations

import csv
import io
from datetime import timedelta
from unittest import mock

from django.utils import timezone
from icalendar import Calendar as Read

from garage.car.parts import Part
from planner.chosen import build_in_hand, builds_of
from planner.dates import services
from planner.dates.facts import calendar_of, part_id, planned_of, ratios_of
from planner.dates.models import BuildWeek, Claim, Happening, PersonWeek, PlanTask, Said
from planner.dates.orders import by_supplier
from planner.dates.reckoned import chances_of, helps_of, likely_of
from planner.done import Done
from planner.models import Build, Choice
from planner.queries import sums
from rimcore.planning.factor import Past, learnt
from rimcore.planning.trials import read_trial, tried
from shelf.models import Quote
from shell.tests.base import ScenarioCase
from workshop.models import FollowUp

TODAY = timezone.localdate


class Dated(ScenarioCase):
    """The scenario with its build in hand and a week of two hours a day."""

    def setUp(self):
        super().setUp()
        PersonWeek.objects.all().delete()
        BuildWeek.objects.all().delete()
        PlanTask.objects.all().delete()
        Happening.objects.all().delete()
        Claim.objects.all().delete()
        PersonWeek.objects.create(owner=self.user, week_hours=[2.0] * 7, own_factor=False)
        self.build = Build.objects.get(car=self.car, in_hand=True)

    def found(self):
        file = self.file()
        return planned_of(file, build_in_hand(file))

    def task(self, key):
        name = f"{self.build.pk}:{key}"
        return next((one for one in self.found().plan.tasks if one.id == name), None)


class Hours(Dated):
    def test_the_plan_and_the_estimate_are_one_rule(self):
        file = self.file()
        hours = sums(file, build_in_hand(file)).hours.hours
        counted = sum(one.hours[1] for one in self.found().plan.tasks if one.hours and ":m:" in one.id)
        self.assertAlmostEqual(counted, hours, delta=0.06)

    def test_an_empty_build_takes_no_hours_and_is_ready_today(self):
        empty = Build.objects.create(car=self.car, name="Nothing yet")
        services_of = self.file()
        found = planned_of(services_of, next(b for b in services_of.car.builds.all() if b.pk == empty.pk))
        self.assertEqual(found.plan.tasks, ())
        self.assertEqual(likely_of(found.plan).ready_on, TODAY())

    def test_own_hours_stand_before_the_usual_ones(self):
        before = self.task("m:height").hours
        services.keep_task(self.build, self.user, "m:height", {"low_h": 9.0, "likely_h": 10.0, "high_h": 11.0})
        self.assertEqual(self.task("m:height").hours, (9.0, 10.0, 11.0))
        services.remove_task(self.build, self.user, "m:height")
        self.assertEqual(self.task("m:height").hours, before)

    def test_alignment_comes_last_and_nothing_before_every_part_is_there(self):
        names = [one.id.rpartition(":")[2] for one in self.found().plan.tasks if ":m:" in one.id]
        self.assertEqual((names[0], names[-1]), ("up", "alignment"))
        likely = {one.id.rpartition(":")[2]: one for one in likely_of(self.found().plan).tasks}
        parts = likely_of(self.found().plan).parts
        last = max(one.arrives for one in parts)
        self.assertGreaterEqual(likely["up"].start, last)
        self.build.begins_early = True
        self.build.save()
        early = {one.id.rpartition(":")[2]: one for one in likely_of(self.found().plan).tasks}
        self.assertEqual(early["up"].start, TODAY())
        self.assertGreaterEqual(early["alignment"].start, early["wheels"].finish)

    def test_three_jobs_of_a_kind_scale_that_kind_alone(self):
        Build.objects.filter(pk=self.build.pk).update(hours_estimate=None)
        plain = {one.id: one.hours for one in self.found().plan.tasks}
        past = (*(Past(1.0, 3.0, "wheels"),) * 3, *(Past(1.0, 1.5, "height"),) * 2)
        PersonWeek.objects.update(own_factor=True)
        with mock.patch("planner.dates.facts.done_of", lambda file: Done(past=past, jobs=("a",) * 5)):
            scaled = {one.id: one.hours for one in self.found().plan.tasks}
        ratio = learnt(past, "wheels").median / learnt(past).median
        self.assertGreater(ratio, 1.1)
        wheels, height = f"{self.build.pk}:m:wheels", f"{self.build.pk}:m:height"
        self.assertAlmostEqual(scaled[wheels][1], plain[wheels][1] * ratio)
        self.assertEqual(scaled[height], plain[height])

    def test_hours_said_on_the_plan_are_those_of_the_sheet_too(self):
        Build.objects.filter(pk=self.build.pk).update(hours_estimate=None)
        file = self.file()
        before = sums(file, build_in_hand(file)).hours.hours
        usual = self.task("m:height").hours[1]
        services.keep_task(self.build, self.user, "m:height", {"low_h": 9.0, "likely_h": 10.0, "high_h": 11.0})
        file = self.file()
        self.assertAlmostEqual(sums(file, build_in_hand(file)).hours.hours, before + 10.0 - usual, delta=0.11)

    def test_what_nobody_can_time_stays_so_until_somebody_says_it(self):
        self.assertIn("other", self.found().untimed)
        services.keep_task(self.build, self.user, "m:other", {"name": "Small things"})
        self.assertIn("other", self.found().untimed)
        services.keep_task(self.build, self.user, "m:other", {"likely_h": 1.0})
        self.assertNotIn("other", self.found().untimed)


class Weeks(Dated):
    def test_days_away_and_extra_hours_are_typed_and_counted(self):
        today = TODAY()
        said = {f"day_{day}": "1" for day in range(7)} | {
            "away": f"{today} to {today + timedelta(days=2)}",
            "extra": f"{today + timedelta(days=4)}: 5",
            "helper_weekdays": ["5"],
            "wet_pct": "20",
        }
        self.assertRedirects(self.client.post(self.url("plan/week/own/"), said), self.url("plan/"))
        calendar = calendar_of(self.file(), self.build)
        hours = [calendar.hours_on(today + timedelta(days=k)) for k in range(5)]
        self.assertEqual(hours, [0.0, 0.0, 0.0, 1.0, 5.0])
        self.assertIn(5, calendar.helper.weekdays)

    def test_a_builds_own_week_stands_before_and_goes_again(self):
        said = {f"day_{day}": "3" for day in range(7)} | {"wet_pct": "0"}
        self.client.post(self.url("plan/week/build/"), said)
        self.assertEqual(calendar_of(self.file(), self.build).week_hours, (3.0,) * 7)
        self.client.post(self.url("plan/week/build/"), {"what": "drop"})
        self.assertEqual(calendar_of(self.file(), self.build).week_hours, (2.0,) * 7)

    def test_refused_and_nothing_typed_is_lost(self):
        whole = {f"day_{day}": "1" for day in range(7)} | {"wet_pct": "0"}
        for more, words in (
            ({"day_2": "25"}, "24"),
            ({"away": "2027-02-30"}, "is no day"),
            ({"away": "2099-01-01"}, "too far away"),
            ({"away": f"{TODAY()} to {TODAY() - timedelta(days=3)}"}, "backwards"),
            ({"extra": f"{TODAY()}: 99"}, "out of range"),
            ({"extra": "Saturday five"}, "no day with hours"),
            ({f"day_{day}": "0" for day in range(7)}, "never ready"),
        ):
            answer = self.client.post(self.url("plan/week/own/"), whole | more)
            self.assertContains(answer, words, status_code=422)
            typed = str(next(iter(more.values())))
            self.assertContains(answer, typed, status_code=422)
        self.assertEqual(PersonWeek.objects.get(owner=self.user).week_hours, [2.0] * 7)

    def test_the_week_without_any_is_the_cars_hours(self):
        PersonWeek.objects.all().delete()
        self.assertAlmostEqual(sum(calendar_of(self.file(), self.build).week_hours), self.car.hours_per_week)


class Parts(Dated):
    def part(self, **change):
        choice = Choice.objects.filter(build=self.build, state="ordered").first()
        for name, value in change.items():
            setattr(choice, name, value)
        choice.save()
        name = part_id(choice)
        return choice, next((one for one in self.found().plan.parts if one.id == name), None)

    def test_three_leads_or_the_suppliers_own_spread(self):
        _, part = self.part(lead_days=10, lead_low_days=8, lead_high_days=25)
        self.assertEqual(part.lead_days, (8.0, 10.0, 25.0))
        choice, part = self.part(lead_low_days=None, lead_high_days=None)
        self.assertEqual(part.lead_days, (8.0, 10.0, 18.0), "common practice until three orders came")
        today = TODAY()
        for days in (10, 20, 30):
            Choice.objects.create(
                build=self.build,
                part=choice.part,
                lead_days=10,
                state="fitted",
                ordered_on=today - timedelta(days=60),
                arrived_on=today - timedelta(days=60 - days),
            )
        self.assertEqual(sorted(ratios_of(self.file())[choice.seller])[-3:], [1.0, 2.0, 3.0])
        ratios = sorted(ratios_of(self.file())[choice.seller])
        _, part = self.part()
        self.assertEqual(part.lead_days[0], 10.0 * ratios[0])
        self.assertEqual(part.lead_days[2], 30.0)

    def test_a_suppliers_holidays_are_days_more(self):
        choice, part = self.part(lead_days=10, lead_low_days=10, lead_high_days=10)
        first = choice.ordered_on + timedelta(days=2)
        text = f"{choice.seller}: {first} to {first + timedelta(days=4)}"
        said = {f"day_{day}": "2" for day in range(7)} | {"wet_pct": "0", "closed": text}
        self.assertRedirects(self.client.post(self.url("plan/week/own/"), said), self.url("plan/"))
        _, later = self.part()
        self.assertEqual((part.lead_days[1], later.lead_days[1]), (10.0, 15.0))
        refused = self.client.post(self.url("plan/week/own/"), said | {"closed": "Somebody on holiday"})
        self.assertContains(refused, "names no days", status_code=422)

    def test_another_suppliers_quote_is_a_lever_with_its_price(self):
        choice = Choice.objects.filter(build=self.build, state="ordered").first()
        choice.state, choice.ordered_on, choice.lead_days, choice.price_minor = "wanted", None, 60, 10_000
        choice.save()
        choice.part.quotes.all().delete()
        Quote.objects.create(part=choice.part, supplier="Quick Yard", lead_days=4, price_minor=11_800)
        found = [one for one in helps_of(self.found()) if "Quick Yard" in one.name]
        self.assertEqual(len(found), 1)
        self.assertIn("4 days", found[0].gives_up)
        self.assertIn("dearer", found[0].gives_up)
        self.assertGreater(found[0].gain_pct, 50)
        self.assertEqual(found[0].try_text, f"lead:{part_id(choice)}:4")
        self.client.post(self.url("plan/keep/"), {"try": found[0].try_text})
        choice = Choice.objects.select_related("part").get(pk=choice.pk)
        self.assertEqual((choice.seller, choice.price, choice.lead), ("Quick Yard", 11_800, 4))

    def test_no_lead_and_no_longer_made_leave_no_date(self):
        choice, part = self.part(supply="discontinued")
        self.assertIsNone(part)
        self.assertIn(choice.label, self.found().unknown)
        self.assertContains(self.page("plan/"), "Enter the lead times")
        self.assertEqual(helps_of(self.found()), [])

    def test_ordered_only_after_a_reading(self):
        own = services.keep_task(
            self.build, self.user, "own:", {"name": "Read the gap", "likely_h": 3.0, "low_h": 3.0, "high_h": 3.0}
        )
        choice = Choice.objects.filter(build=self.build, state="ordered").first()
        services.change_order(choice, self.user, {"order_after": own.key, "lead_days": 5})
        choice.ordered_on, choice.state = None, "wanted"
        choice.save()
        likely = likely_of(self.found().plan)
        read = next(one for one in likely.tasks if one.id.endswith(own.key))
        arrives = next(one.arrives for one in likely.parts if one.id == part_id(choice))
        self.assertEqual(arrives, read.finish + timedelta(days=5))

    def test_it_is_never_ordered_after_what_waits_for_it(self):
        choice = next(c for c in Choice.objects.filter(build=self.build) if c.kind == "wheel")
        choice.state, choice.arrived_on, choice.ordered_on = "wanted", None, None
        choice.save()
        answer = self.client.post(
            self.url(f"plan/orders/{choice.pk}/"), {"order_after": "m:alignment", "lead_days": "4"}
        )
        self.assertContains(answer, "would wait for itself", status_code=422)
        choice.refresh_from_db()
        self.assertEqual(choice.order_after, "")

    def test_two_gates_that_wait_for_each_other_are_refused_and_never_an_error(self):
        """Wheels ordered after the height is set, springs after the wheels are on: the second is taken back."""
        wheels = Choice.objects.filter(build=self.build, part__family="wheel").first()
        wheels.state, wheels.arrived_on, wheels.ordered_on = "wanted", None, None
        wheels.save()
        own = services.keep_task(self.build, self.user, "own:", {"name": "Read", "likely_h": 1.0})
        services.change_order(wheels, self.user, {"order_after": own.key, "lead_days": 5})
        answer = self.client.post(
            self.url(f"plan/work/{self.build.pk}/{own.key}/"),
            {"name": "Read", "likely_h": "1", "after": ["m:wheels"], "wait_days": "0"},
        )
        self.assertContains(answer, "would wait for itself", status_code=422)
        self.assertEqual(PlanTask.objects.get(key=own.key, build=self.build).after, [])
        # as it may come out of a file of another version
        PlanTask.objects.filter(key=own.key, build=self.build).update(after=["m:wheels"])
        self.build.refresh_from_db()
        self.build.save()
        self.assertContains(self.page("plan/"), "waits for itself")
        self.assertEqual(self.client.get(self.url("measure/")).status_code, 200)

    def test_more_than_a_plan_takes_is_said_and_no_error(self):
        part = Part.objects.create(car=self.car, family="other", name="Clip", lead_days=3)
        Choice.objects.bulk_create(Choice(build=self.build, part=part, quantity=1, state="wanted") for _ in range(230))
        self.assertContains(self.page("plan/"), "more than 200 parts")

    def test_of_an_order_some_pieces_came(self):
        choice, _ = self.part(state="arrived", arrived_on=TODAY(), arrived_count=1)
        self.assertEqual(choice.missing_pieces, choice.pieces - 1)
        self.assertContains(self.page("plan/orders/"), f"{choice.pieces - 1} of")


class Chance(Dated):
    def test_board_and_plan_say_the_same(self):
        chance = chances_of(self.found().plan).chance_pct
        self.assertContains(self.page("plan/"), f"{chance:.0f} % by")
        self.assertContains(self.page("measure/"), f"{chance:.0f} % by")

    def test_other_work_after_the_event_takes_the_chance(self):
        services.keep_task(
            self.build,
            self.user,
            "own:",
            {"name": "Paint", "away_low": 60.0, "away_likely": 90.0, "away_high": 120.0, "price_minor": 5000},
        )
        found = self.found()
        self.assertEqual(chances_of(found.plan).chance_pct, 0.0)
        first = helps_of(found)[0]
        self.assertEqual((first.name, first.gain_pct > 50), ("Leave for after: Paint", True))
        file = self.file()
        self.assertGreaterEqual(sums(file, build_in_hand(file)).money.promised_minor, 5000)

    def test_a_trial_changes_nothing_until_it_is_kept(self):
        before = likely_of(self.found().plan).ready_on
        answer = self.page("plan/?try=evening:2")
        self.assertContains(answer, "Tried, not kept")
        self.assertEqual(likely_of(self.found().plan).ready_on, before)
        self.client.post(self.url("plan/keep/"), {"try": "evening:2"})
        self.assertEqual(calendar_of(self.file(), self.build).week_hours, (2.0, 2.0, 4.0, 2.0, 2.0, 2.0, 2.0))
        self.assertEqual(
            PersonWeek.objects.get(owner=self.user).week_hours, [2.0] * 7, "the person's week is as it was"
        )
        self.assertTrue(Said.objects.filter(build=self.build, why="an evening more").exists())

    def test_a_bar_that_is_dragged_is_a_trial_and_moves_what_waits(self):
        plan = self.found().plan
        name = f"{self.build.pk}:m:up"
        other = likely_of(tried(plan, read_trial(f"move:{name}:9", plan)))
        start = {one.id: one.start for one in likely_of(plan).tasks}[name]
        self.assertGreaterEqual({one.id: one.start for one in other.tasks}[name], start + timedelta(days=9))
        self.client.post(self.url("plan/keep/"), {"try": f"move:{name}:9"})
        self.assertEqual(PlanTask.objects.get(build=self.build, key="m:up").not_before, start + timedelta(days=9))

    def test_nothing_is_ordered_before_today_and_what_is_on_its_way_comes_later(self):
        choice = Choice.objects.filter(build=self.build, state="ordered").first()
        plan, name = self.found().plan, part_id(choice)
        came = {one.id: one.arrives for one in likely_of(plan).parts}[name]
        later = {one.id: one.arrives for one in likely_of(tried(plan, read_trial(f"move:{name}:6", plan))).parts}[name]
        self.assertEqual(later, came + timedelta(days=6))
        self.client.post(self.url("plan/keep/"), {"try": f"move:{name}:6"})
        self.assertEqual({one.id: one.arrives for one in likely_of(self.found().plan).parts}[name], later)
        choice.refresh_from_db()
        choice.state, choice.ordered_on, choice.lead_days = "wanted", None, 9
        choice.save()
        plan = self.found().plan
        sooner = likely_of(tried(plan, read_trial(f"move:{name}:-6", plan)))
        self.assertEqual({one.id: one.arrives for one in sooner.parts}[name], TODAY() + timedelta(days=9))

    def test_what_is_said_to_help_is_what_trying_it_shows(self):
        choice = Choice.objects.filter(build=self.build, state="ordered").first()
        choice.lead_days = 80
        choice.save()
        found = next(one for one in helps_of(self.found()) if one.try_text == f"there:{part_id(choice)}")
        plan = self.found().plan
        gain = chances_of(tried(plan, read_trial(found.try_text, plan))).chance_pct - chances_of(plan).chance_pct
        self.assertAlmostEqual(found.gain_pct, gain, delta=3)
        self.client.post(self.url("plan/keep/"), {"try": found.try_text})
        choice.refresh_from_db()
        self.assertEqual((choice.lead_days, choice.state), (80, "ordered"), "wishing it here brings it no sooner")
        self.assertFalse(any("Car up and down" in one.name or "lignment" in one.name for one in helps_of(self.found())))

    def test_what_is_no_trial_is_said(self):
        for text in ("nonsense", "drop:part:999999", "move:x:1", "evening:9", "lead:part:1:x", "x" * 5000):
            answer = self.client.get(self.url("plan/"), {"try": text})
            self.assertContains(answer, "Not tried")
        self.client.post(self.url("plan/keep/"), {"try": "drop:part:999999"})
        self.assertFalse(PlanTask.objects.filter(build=self.build).exists())


class Happened(Dated):
    def test_a_late_part_freezes_what_was_said_and_reflows(self):
        choice = Choice.objects.filter(build=self.build, state="ordered").exclude(lead_days=None).first()
        choice = choice or Choice.objects.filter(build=self.build, state="ordered").first()
        before = likely_of(self.found().plan).ready_on
        self.client.post(
            self.url("plan/happened/"),
            {"kind": "late", "choice": choice.pk, "what": "Back-ordered", "happened_on": TODAY(), "days": "40"},
        )
        row = Happening.objects.get(build=self.build, what="Back-ordered")
        self.assertEqual(row.before.ready_on, before)
        self.assertGreater(row.later.ready_on, before)
        self.assertEqual(row.later.ready_on, likely_of(self.found().plan).ready_on)
        page = self.page("plan/happened/")
        self.assertContains(page, f"{row.before.ready_on:%-d %b %Y}")
        self.assertContains(page, f"{row.later.ready_on:%-d %b %Y}")
        self.assertContains(self.page("plan/"), "Back-ordered")
        self.assertContains(self.page("prove/"), "Dates said")

    def test_rain_puts_off_what_wants_a_dry_day_and_nothing_else(self):
        services.keep_task(self.build, self.user, "own:", {"name": "Paint", "likely_h": 1.0, "dry": True})
        before = {one.id: one.start for one in likely_of(self.found().plan).tasks}
        self.client.post(
            self.url("plan/happened/"), {"kind": "rain", "what": "Wet week", "happened_on": TODAY(), "days": "5"}
        )
        after = {one.id: one.start for one in likely_of(self.found().plan).tasks}
        paint = f"{self.build.pk}:own:1"
        self.assertGreaterEqual(after[paint], TODAY() + timedelta(days=5))
        self.assertEqual(after[f"{self.build.pk}:m:up"], before[f"{self.build.pk}:m:up"])

    def test_ill_wrong_broken_and_an_accident(self):
        self.client.post(
            self.url("plan/happened/"), {"kind": "ill", "what": "Flu", "happened_on": TODAY(), "days": "6"}
        )
        self.assertEqual(calendar_of(self.file(), self.build).hours_on(TODAY() + timedelta(days=5)), 0.0)
        choice = Choice.objects.filter(build=self.build).first()
        self.client.post(
            self.url("plan/happened/"),
            {"kind": "wrong", "choice": choice.pk, "what": "Other bolt circle", "happened_on": TODAY(), "days": "12"},
        )
        choice.refresh_from_db()
        self.assertEqual((choice.state, choice.lead_days, choice.ordered_on), ("ordered", 12, TODAY()))
        self.assertTrue(Claim.objects.filter(choice=choice, what="Other bolt circle").exists())
        self.client.post(
            self.url("plan/happened/"),
            {"kind": "broken", "what": "Stud sheared", "happened_on": TODAY(), "hours": "3", "money_minor": "25"},
        )
        row = PlanTask.objects.get(build=self.build, name="Stud sheared")
        self.assertEqual((row.likely_h, row.price_minor), (3.0, 2500))
        self.client.post(
            self.url("plan/happened/"), {"kind": "accident", "what": "Into the tyres", "happened_on": TODAY()}
        )
        self.assertContains(self.page("plan/"), "Put aside on")
        self.client.post(self.url("plan/happened/"), {"what_to_do": "take_up"})
        self.assertNotContains(self.page("plan/"), "Put aside on")

    def test_after_an_accident_each_corner_says_what_is_read_again(self):
        self.client.post(
            self.url("plan/happened/"), {"kind": "accident", "what": "Into the tyres", "happened_on": TODAY()}
        )
        page = self.page("plan/happened/?corner=FL")
        self.assertContains(page, "Front left: measure again")
        self.assertContains(page, self.url("measure/FL/damper/"))
        self.assertNotContains(page, "Rear right: measure again")

    def test_refused(self):
        for said, words in (
            ({"kind": "late", "days": "3"}, "which part"),
            ({"kind": "ill"}, "how many days"),
            ({"kind": "ill", "days": "-3"}, "0"),
            ({"kind": "other", "happened_on": "2099-01-01"}, "not come yet"),
        ):
            whole = {"what": "Some words", "happened_on": TODAY()} | said
            answer = self.client.post(self.url("plan/happened/"), whole)
            self.assertContains(answer, words, status_code=422)
            self.assertContains(answer, "Some words", status_code=422)
        self.assertFalse(Happening.objects.filter(build=self.build).exists())


class Work(Dated):
    def test_work_given_to_others_takes_no_hours_and_waits_for_its_day(self):
        booked = TODAY() + timedelta(days=30)
        self.client.post(
            self.url(f"plan/work/{self.build.pk}/m:alignment/"),
            {"away_likely": "1", "by_whom": "A shop", "price_minor": "90", "not_before": booked, "wait_days": "0"},
        )
        task = self.task("m:alignment")
        self.assertEqual((task.hours, task.away_days, task.not_before), (None, (1.0, 1.0, 1.0), booked))
        likely = next(one for one in likely_of(self.found().plan).tasks if one.id.endswith("m:alignment"))
        self.assertEqual((likely.start, likely.finish), (booked, booked + timedelta(days=1)))
        self.assertContains(self.page("plan/"), f"booked on {booked:%-d %b}")

    def test_a_circle_and_hours_out_of_order_are_refused(self):
        own = services.keep_task(
            self.build,
            self.user,
            "own:",
            {"name": "Paint", "likely_h": 2.0, "low_h": 2.0, "high_h": 2.0, "after": ["m:wheels"]},
        )
        answer = self.client.post(
            self.url(f"plan/work/{self.build.pk}/m:wheels/"), {"after": [own.key], "wait_days": "0"}
        )
        self.assertContains(answer, "wait for itself", status_code=422)
        answer = self.client.post(
            self.url(f"plan/work/{self.build.pk}/{own.key}/"),
            {"name": "Paint", "low_h": "5", "likely_h": "2", "high_h": "9", "wait_days": "0"},
        )
        self.assertContains(answer, "Out of order", status_code=422)

    def test_builds_follow_one_another(self):
        other = Build.objects.create(car=self.car, name="Before it")
        PlanTask.objects.create(build=other, key="own:1", name="Body kit", low_h=20, likely_h=20, high_h=20)
        self.build.follows = other
        self.build.save()
        likely = {one.id: one for one in likely_of(self.found().plan).tasks}
        first = likely[f"{other.pk}:own:1"]
        up = likely[f"{self.build.pk}:m:up"]
        self.assertGreaterEqual(up.start, first.finish)
        answer = self.client.post(
            self.url(f"plan/build/{other.pk}/"),
            {"what": "build", "name": "Before it", "tolerance": "daily", "follows": self.build.pk},
        )
        self.assertContains(answer, "follows this one already", status_code=422)


class Files(Dated):
    def test_the_calendar_file_is_read_back_with_its_own_uids(self):
        first = self.client.get(self.url("plan/calendar.ics")).content
        read = Read.from_ical(first)
        events = {str(one["uid"]): one for one in read.walk("VEVENT")}
        ready = events[f"build-{self.build.pk}-ready@rim-tally"]
        self.assertEqual(ready.decoded("dtstart"), likely_of(self.found().plan).ready_on)
        self.assertEqual(events[f"car-{self.car.pk}-event@rim-tally"].decoded("dtstart"), self.car.event_on)
        self.client.post(self.url("plan/keep/"), {"try": "evening:2"})
        again = Read.from_ical(self.client.get(self.url("plan/calendar.ics")).content)
        self.assertEqual({str(one["uid"]) for one in again.walk("VEVENT")}, set(events), "it moves and does not double")

    def test_follow_ups_and_claims_stand_in_the_calendar(self):
        on = TODAY() + timedelta(days=8)
        FollowUp.objects.create(car=self.car, what="Nuts again", due_on=on)
        choice = Choice.objects.filter(build=self.build).first()
        Claim.objects.create(choice=choice, what="Cracked", due_on=on, due_what="an answer")
        read = Read.from_ical(self.client.get(self.url("plan/calendar.ics")).content)
        words = {str(one["summary"]): one.decoded("dtstart") for one in read.walk("VEVENT")}
        self.assertEqual((words["due: Nuts again"], words["claim: an answer"]), (on, on))

    def test_tables_hold_text_that_could_be_a_formula(self):
        choice = Choice.objects.filter(build=self.build).first()
        choice.part.name, choice.part.supplier = "=1+1", "@home"
        choice.part.save()
        rows = list(csv.reader(io.StringIO(self.client.get(self.url("plan/orders/?as=csv")).content.decode())))
        self.assertEqual(rows[0][0], "supplier")
        self.assertTrue(any(row[0] == "'@home" for row in rows))
        self.assertFalse(any(cell[:1] in "=@" for row in rows for cell in row if cell))
        plan = list(csv.reader(io.StringIO(self.client.get(self.url("plan/ruler/?as=csv")).content.decode())))
        self.assertEqual(len(plan) - 1, len(self.found().plan.tasks) + len(self.found().plan.parts))

    def test_the_last_day_to_order_is_still_in_time_and_the_next_is_not(self):
        """Ordered on that day the likely case is ready by the event; a day later it is not (60 days are looked at)."""
        choice = Choice.objects.filter(build=self.build).first()
        choice.state, choice.ordered_on, choice.arrived_on, choice.lead_days = "wanted", None, None, 21
        choice.save()
        file = self.file()
        order = next(o for s in by_supplier(file, self.build) for o in s.orders if o.choice.pk == choice.pk)
        plan = self.found().plan
        for later, good in ((0, True), (1, False)):
            days = (order.last_on - TODAY()).days + later
            found = likely_of(tried(plan, read_trial(f"move:{part_id(choice)}:{days}", plan)))
            self.assertEqual(found.days_in_hand >= 0, good, days)
        self.assertIn(choice.label, next(s.mail for s in by_supplier(file, self.build) if order in s.orders))


class Claims(Dated):
    def test_work_by_others_that_is_paid_stays_gone_under_another_build(self):
        services.keep_task(
            self.build,
            self.user,
            "own:",
            {"name": "Paint", "away_likely": 3.0, "price_minor": 7_000, "done_on": TODAY()},
        )
        other = Build.objects.create(car=self.car, name="Next year")
        file = self.file()
        before = sums(file, next(one for one in builds_of(file) if one.pk == other.pk)).elsewhere_minor
        PlanTask.objects.filter(name="Paint").update(price_minor=9_000)
        self.car.save()
        file = self.file()
        after = sums(file, next(one for one in builds_of(file) if one.pk == other.pk)).elsewhere_minor
        self.assertEqual(after - before, 2_000)

    def test_money_returned_goes_off_the_bill(self):
        choice = Choice.objects.filter(build=self.build).first()
        file = self.file()
        before = sums(file, build_in_hand(file)).money.spent_minor
        said = {"what": "Cracked at the third bump", "seen_on": TODAY(), "money_back_minor": "40", "after_km": "120"}
        self.client.post(self.url(f"plan/orders/{choice.pk}/claim/"), said)
        file = self.file()
        self.assertEqual(sums(file, build_in_hand(file)).money.spent_minor, before - 4000)
        claim = Claim.objects.get(choice=choice)
        self.client.post(self.url(f"plan/orders/{choice.pk}/claim/{claim.pk}/"), said | {"closed_on": TODAY()})
        claim.refresh_from_db()
        self.assertEqual(claim.closed_on, TODAY())

    def test_nobody_elses(self):
        choice = Choice.objects.filter(build=self.build).first()
        self.client.force_login(self.person())
        for path in (f"plan/orders/{choice.pk}/claim/", "plan/", "plan/calendar.ics", "plan/week/own/", "plan/helps/"):
            self.assertEqual(self.client.get(self.url(path)).status_code, 404, path)
