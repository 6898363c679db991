"""Rows are saved by the columns that changed."""

from pathlib import Path

from django.db import connection
from django.test.utils import CaptureQueriesContext

from garage.car.models import Car
from shell.tests.base import ScenarioCase


class Narrow(ScenarioCase):
    def test_a_row_read_before_another_windows_change_takes_none_of_it_back(self):
        first, second = Car.objects.get(pk=self.car.pk), Car.objects.get(pk=self.car.pk)
        first.nickname = "First"
        first.save()
        second.description = "second"
        second.save()
        kept = Car.objects.get(pk=self.car.pk)
        self.assertEqual((kept.nickname, kept.description), ("First", "second"))

    def test_nothing_changed_is_nothing_written_and_what_is_written_is_known_from_then_on(self):
        car = Car.objects.get(pk=self.car.pk)
        with CaptureQueriesContext(connection) as asked:
            car.save()
        self.assertEqual([one["sql"] for one in asked if "UPDATE" in one["sql"]], [])
        car.nickname = "Once"
        car.save()
        Car.objects.filter(pk=car.pk).update(nickname="Elsewhere")
        car.save()
        self.assertEqual(Car.objects.get(pk=car.pk).nickname, "Elsewhere")
        car.refresh_from_db()
        car.nickname = "Once"
        car.save()
        self.assertEqual(Car.objects.get(pk=car.pk).nickname, "Once")

    def test_one_column_written_or_read_anew_forgets_no_other_that_was_changed(self):
        for act in (
            lambda car: car.save(update_fields=["description"]),
            lambda car: car.refresh_from_db(fields=["description"]),
        ):
            car = Car.objects.get(pk=self.car.pk)
            car.nickname, car.description = f"{car.nickname} x", "said"
            act(car)
            car.save()
            self.assertEqual(Car.objects.get(pk=car.pk).nickname, car.nickname)

    def test_a_copy_without_its_key_is_a_row_of_its_own(self):
        car = Car.objects.get(pk=self.car.pk)
        car.pk, car._state.adding = None, True
        car.nickname = "Copy"
        car.save()
        self.assertEqual(Car.objects.filter(nickname="Copy").count(), 1)


class UndoOfACar(ScenarioCase):
    def test_a_change_of_one_car_is_offered_on_its_pages_alone(self):
        other = Car.objects.filter(owner=self.user).exclude(pk=self.car.pk).first()
        self.client.post(self.url(""), {"what": "odometer", "odometer-odometer_km": "199000"})
        self.assertContains(self.page("fit/"), "Odometer noted")
        self.assertNotContains(self.client.get(f"/car/{other.pk}/fit/"), "dometer noted")
        self.assertContains(self.client.get("/settings/"), "dometer noted")

    def test_on_a_phone_it_stands_over_the_page_and_not_on_its_buttons(self):
        style = (Path(__file__).parents[1] / "static/shell/tally.css").read_text()
        phone = style[style.index("@media (max-width: 760px) {\n  .walk-columns") :]
        self.assertIn(".undo { position: static;", phone)
        page = self.client.post(
            self.url(""), {"what": "odometer", "odometer-odometer_km": "199001"}, follow=True
        ).content.decode()
        self.assertLess(page.index('class="undo'), page.index('id="main"'))
