"""Rows are saved by the columns that changed."""

from django.db import connection
from django.test.utils import CaptureQueriesContext

from garage.models import Car
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

    def test_a_copy_without_its_key_is_a_row_of_its_own(self):
        car = Car.objects.get(pk=self.car.pk)
        car.pk, car._state.adding = None, True
        car.nickname = "Copy"
        car.save()
        self.assertEqual(Car.objects.filter(nickname="Copy").count(), 1)
