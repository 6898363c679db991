"""The garage with what is in sight of each car, the car's fields by what they are for, and the two best beside each
other.
"""

from django.db import connection
from django.test.utils import CaptureQueriesContext

from bench.well.views import BESIDE_AT_FIRST
from garage.car.forms import CarForm
from garage.car.models import Car
from shelf.judging import all_pairs
from shelf.queries import best_wheels, listed_of
from shell import board
from shell.tests.base import ScenarioCase


class Garage(ScenarioCase):
    def test_each_car_says_its_tightest_gap_days_and_what_is_open(self):
        page = self.client.get("/")
        for car in Car.objects.filter(owner=self.user):
            self.assertContains(page, f'hx-get="/car/{car.pk}/tally/"')
        row = self.client.get(self.url("tally/"), headers={"HX-Request": "true"})
        shown = {cell.label: cell for cell in board.cells(self.file())}
        for label in ("Tightest gap", "Ready", "Open"):
            self.assertContains(row, shown[label].figure)
            self.assertContains(row, label)
        self.assertNotContains(row, "Money")
        self.assertNotContains(row, "<html")

    def test_opened_by_itself_it_leads_to_the_garage_and_nobody_elses_is_shown(self):
        self.assertRedirects(self.client.get(self.url("tally/")), "/")
        self.client.force_login(self.person())
        self.assertEqual(self.client.get(self.url("tally/"), headers={"HX-Request": "true"}).status_code, 404)

    def test_ten_cars_ask_no_more_than_three(self):
        def count():
            with CaptureQueriesContext(connection) as asked:
                self.client.get("/")
            return len(asked)

        count()
        before = count()
        for number in range(10):
            Car.objects.create(
                owner=self.user, nickname=f"No {number}", use="street", drive="F", odometer_km=0, currency="EUR"
            )
        self.assertEqual(count(), before)


class Fields(ScenarioCase):
    def test_every_field_of_the_car_stands_in_one_group_that_says_what_it_unlocks(self):
        grouped = [name for _, _, names in CarForm.GROUPS for name in names]
        self.assertEqual(sorted(grouped), sorted(CarForm.Meta.fields))
        page = self.client.get(self.url(""))
        for name, unlocks, _ in CarForm.GROUPS:
            self.assertContains(page, name)
            self.assertContains(page, unlocks)
        self.assertContains(page, 'name="car-seen"')

    def test_a_new_car_by_the_long_form(self):
        page = self.client.get("/car/new/")
        for name in CarForm.Meta.fields:
            self.assertContains(page, f'name="{name}"')


class Beside(ScenarioCase):
    def test_the_two_best_come_first_where_none_is_asked_for(self):
        page = self.client.get(self.url("check/FL/compare/"))
        shown = [column["wheel"].pk for column in page.context["columns"]]
        self.assertEqual(len(shown), BESIDE_AT_FIRST)
        file = self.file()
        self.assertEqual(shown, [wheel.pk for wheel in best_wheels(file, "F", 2)])
        best: dict[int, float] = {}
        for pair in all_pairs(file, listed_of(file).wheels, listed_of(file).tyres, "F"):
            if pair.margin_mm is not None:
                best[pair.wheel.pk] = max(best.get(pair.wheel.pk, -999.0), pair.margin_mm)
        others = [margin for pk, margin in best.items() if pk not in shown]
        self.assertGreaterEqual(min(best[pk] for pk in shown), max(others) - 2.0)

    def test_what_is_asked_for_stands_and_an_empty_choice_is_empty(self):
        wheel = listed_of(self.file()).wheels[-1]
        page = self.client.get(self.url(f"check/FL/compare/?w={wheel.pk}"))
        self.assertEqual([column["wheel"].pk for column in page.context["columns"]], [wheel.pk])
        self.assertEqual(self.client.get(self.url("check/FL/compare/?w=0")).context["columns"], [])
