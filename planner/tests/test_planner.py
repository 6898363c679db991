"""Builds: choosing, money, dates, duplicating, states of parts."""

from datetime import timedelta

from django.db import IntegrityError, transaction
from django.utils import timezone

from garage.car.parts import Tyre, Wheel
from planner.chosen import build_in_hand
from planner.dates.facts import calendar_of
from planner.models import Build, Choice
from planner.queries import sums
from planner.services import add_part
from shell.tests.base import ScenarioCase


class Builds(ScenarioCase):
    def held(self):
        return Build.objects.get(car=self.car, in_hand=True)

    def test_a_pair_goes_into_a_build_front_and_rear(self):
        self.client.post(self.url("plan/"), {"name": "Winter", "tolerance": "daily"})
        build = Build.objects.get(name="Winter")
        wheel, tyre = Wheel.objects.get(name="Quillet Five"), Tyre.objects.get(spec__size__startswith="215/45R17")
        wide = Wheel.objects.get(name="Pellin S")
        self.client.post(
            self.url("plan/choose/"), {"build": build.pk, "wheel": wheel.pk, "tyre": tyre.pk, "position": "A"}
        )
        self.client.post(
            self.url("plan/choose/"), {"build": build.pk, "wheel": wide.pk, "tyre": tyre.pk, "position": "R"}
        )
        rows = {(c.label, c.position, c.quantity) for c in build.choices.filter(part__family="wheel")}
        self.assertEqual(rows, {(str(wheel), "F", 2), (str(wide), "R", 2)})

    def test_money_follows_the_states(self):
        self.client.post(self.url("plan/"), {"name": "Winter", "tolerance": "daily"})
        build = Build.objects.get(name="Winter")
        self.client.post(self.url(f"plan/build/{build.pk}/hold/"))
        wheel, tyre = Wheel.objects.get(name="Quillet Five"), Tyre.objects.get(spec__size__startswith="215/45R17")
        self.client.post(
            self.url("plan/choose/"), {"build": build.pk, "wheel": wheel.pk, "tyre": tyre.pk, "position": "A"}
        )
        before = sums(self.file(), build)
        elsewhere = before.elsewhere_minor + before.ledger_minor
        found = sums(self.file(), Build.objects.get(pk=build.pk)).money
        self.assertEqual((found.spent_minor - elsewhere, found.promised_minor), (0, 4 * 18600 + 4 * 8800))
        part = build.choices.get(part=wheel)
        today = timezone.localdate()
        self.client.post(
            self.url(f"plan/part/{part.pk}/"), {"what": "state", "state": "ordered", "on": today.isoformat()}
        )
        part.refresh_from_db()
        self.assertEqual((part.state, part.ordered_on), ("ordered", today))
        self.client.post(
            self.url(f"plan/part/{part.pk}/"), {"what": "state", "state": "arrived", "on": today.isoformat()}
        )
        found = sums(self.file(), Build.objects.get(pk=build.pk)).money
        self.assertEqual((found.spent_minor - elsewhere, found.promised_minor), (4 * 18600, 4 * 8800))
        self.client.post(
            self.url(f"plan/part/{part.pk}/"), {"what": "state", "state": "returned", "on": today.isoformat()}
        )
        self.assertEqual(sums(self.file(), Build.objects.get(pk=build.pk)).money.spent_minor - elsewhere, 0)

    def test_dates_from_lead_times(self):
        build = self.held()
        tyres = build.choices.get(part__family="tyre")
        tyres.lead_days, tyres.ordered_on = 100, timezone.localdate()
        tyres.save()
        found = sums(self.file(), Build.objects.get(pk=build.pk)).dates
        # the first day from then on that has hours in the person's week
        week = calendar_of(self.file(), build)
        came = timezone.localdate() + timedelta(days=100)
        first = next(day for k in range(7) if week.hours_on(day := came + timedelta(days=k)))
        self.assertEqual(found.earliest_start, first)
        self.assertLess(found.days_in_hand, 0)
        self.assertContains(self.page("plan/"), "waits for Moorgrip 2")

    def test_a_part_without_lead_time_makes_the_date_unknown(self):
        add_part(self.held(), self.car.owner, {"name": "Mystery bracket", "quantity": 1})
        self.assertContains(self.page("plan/"), "no lead time: Mystery bracket")
        self.assertContains(self.page("fit/"), "without lead time")

    def test_duplicate_is_shortlisted_again(self):
        build = self.held()
        self.client.post(self.url(f"plan/build/{build.pk}/duplicate/"))
        self.client.post(self.url(f"plan/build/{build.pk}/duplicate/"))
        copy = Build.objects.get(name="Hill season copy")
        self.assertTrue(Build.objects.filter(name="Hill season copy2").exists())
        self.assertEqual({c.state for c in copy.choices.all()}, {"shortlisted"})
        self.assertEqual(copy.choices.count(), build.choices.count())
        self.assertEqual(copy.lever("ride_drop_mm", "F"), 20)

    def test_two_builds_in_columns(self):
        page = self.page("plan/")
        self.assertEqual([column.build.name for column in page.context["columns"]], ["Hill season", "Lighter sixteens"])
        for column in page.context["columns"]:
            self.assertIsNotNone(column.equivalent_kg)
            self.assertIsNotNone(column.corner_kg["F"])

    def test_lowering_on_the_build_moves_gaps_everywhere(self):
        build = self.held()
        before = sums(self.file(), build_in_hand(self.file())).tightest.value
        form = {
            "what": "build",
            "name": build.name,
            "tolerance": "track",
            "spacer_mm_F": "0",
            "spacer_mm_R": "5",
            "ride_drop_mm_F": "40",
            "ride_drop_mm_R": "40",
            "hours_estimate": "9",
        }
        self.assertEqual(self.client.post(self.url(f"plan/build/{build.pk}/"), form).status_code, 302)
        self.assertNotEqual(sums(self.file(), build_in_hand(self.file())).tightest.value, before)

    def test_refused(self):
        build = self.held()
        form = {
            "what": "build",
            "name": "Lighter sixteens",
            "tolerance": "track",
            "spacer_mm_F": "300",
            "spacer_mm_R": "5",
            "ride_drop_mm_F": "a lot",
            "ride_drop_mm_R": "0",
            "hours_estimate": "-1",
        }
        response = self.client.post(self.url(f"plan/build/{build.pk}/"), form)
        for words in ("choose another", "Out of range", "a lot"):
            self.assertContains(response, words, status_code=422)

    def test_one_in_hand_is_held_by_the_database(self):
        with self.assertRaises(IntegrityError), transaction.atomic():
            Build.objects.filter(name="Lighter sixteens").update(in_hand=True)
        with self.assertRaises(IntegrityError), transaction.atomic():
            Choice.objects.create(build=self.held(), quantity=1)

    def test_a_build_with_a_sheet_stays(self):
        fitted = Build.objects.get(name="Lighter sixteens")
        self.assertContains(
            self.client.post(self.url(f"plan/build/{fitted.pk}/remove/"), follow=True), "has a job sheet"
        )

    def test_ring_in_the_build_centres_the_wheel(self):
        states = {j.code: j.state for j in sums(self.file(), build_in_hand(self.file())).judgements}
        self.assertEqual(states["hub.bore"], "clear")
        Choice.objects.filter(part__name__startswith="Centring rings").delete()
        states = {j.code: j.state for j in sums(self.file(), build_in_hand(self.file())).judgements}
        self.assertEqual(states["hub.bore"], "tight")


class Driven(ScenarioCase):
    def test_the_speedometer_is_the_driven_axles(self):
        """Rear-driven with other tyres behind.

        The true speed is 100 × new ÷ old diameter of the rear ones, and it says so.
        """
        from garage.car.models import Car
        from planner.chosen import build_in_hand
        from planner.figures import figures_of
        from planner.queries import sums

        Car.objects.filter(pk=self.car.pk).update(drive="R")
        file = self.file()
        found = sums(file, build_in_hand(file))
        said = figures_of(file, found)["speed"]
        self.assertEqual(said.value, found.swaps["R"].true_kmh_at_indicated_100)
        self.assertIn("rear tyres", said.name)
        self.assertContains(self.page("plan/"), "rear tyres")


class Ends(ScenarioCase):
    """Front and rear is no default: a family says where it can go."""

    def part(self, family, **spec):
        from garage.car.parts import Part

        return Part.objects.create(car=self.car, family=family, name=family, spec=spec)

    def test_what_is_one_to_an_end_asks_which_and_what_has_one_end_goes_there(self):
        from garage.car.parts import Part
        from planner.forms import PutForm
        from planner.models import Build

        builds = list(Build.objects.filter(car=self.car))
        frame = PutForm(builds, Part(car=self.car, family="subframe"))
        self.assertEqual([code for code, _ in frame.fields["position"].choices], ["", "A", "F", "R"])
        splitter = PutForm(builds, Part(car=self.car, family="splitter"))
        self.assertEqual([code for code, _ in splitter.fields["position"].choices], ["F"])

    def test_a_front_splitter_weighs_on_the_front_axle_and_a_radiator_asks_its_coolant_once(self):
        from planner.models import Build, Choice
        from planner.parts import dragged_along
        from planner.queries import sums

        build = Build.objects.create(car=self.car, name="Front only")
        before = sums(self.file(), build).mass
        Choice.objects.create(build=build, part=self.part("splitter", mass_change_kg=3.0), position="A", quantity=1)
        after = sums(self.file(), Build.objects.get(pk=build.pk)).mass
        self.assertAlmostEqual((after.front_kg or 0.0) - (before.front_kg or 0.0), 3.0)
        size = {"width_mm": 600.0, "height_mm": 340.0, "depth_mm": 40.0}
        Choice.objects.create(build=build, part=self.part("radiator", **size), position="A", quantity=1)
        rows = [
            row for row in dragged_along(self.file(), Build.objects.get(pk=build.pk)) if row.need.family == "coolant"
        ]
        self.assertTrue(all(row.need.quantity == 1 and row.position == "F" for row in rows))

    def test_an_alignment_is_dragged_along_once(self):
        from planner.chosen import build_in_hand
        from planner.parts import dragged_along

        file = self.file()
        names = [row.need.name.lower() for row in dragged_along(file, build_in_hand(file))]
        self.assertLessEqual(names.count("alignment"), 1)
