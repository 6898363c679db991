"""What is worked out of every car of a person: once a revision, so many at once, gone with its car and its person."""

from __future__ import annotations

from garage.car.models import Car
from proof.models import Series
from shell.gathered import gather
from shell.models import Gathered
from shell.tests.base import ScenarioCase


class Gathering(ScenarioCase):
    def setUp(self):
        super().setUp()
        self.cars = [self.car.pk]
        for name in ("Second", "Third"):
            self.cars.append(Car.objects.create(owner=self.user, nickname=name).pk)
        self.worked = []

    def work(self, car):
        self.worked.append(car)
        return {"of": car, "times": len(self.worked)}

    def ask(self, most=60):
        self.worked.clear()
        return gather(self.user.pk, self.cars, "test", self.work, most)

    def test_once_a_revision(self):
        first = self.ask()
        self.assertEqual(self.worked, self.cars)
        self.assertEqual([one["of"] for one in first.values], self.cars)
        self.assertEqual(self.ask().values, first.values)
        self.assertEqual(self.worked, [])
        Series.objects.create(car_id=self.cars[1], name="noise")
        self.ask()
        self.assertEqual(self.worked, [self.cars[1]])

    def test_beyond_the_most_the_rest_stands_as_it_was_known(self):
        before = self.ask()
        for pk in self.cars:
            Car.objects.filter(pk=pk).update(odometer_km=124)
        found = self.ask(most=1)
        self.assertEqual((self.worked, found.waiting), (self.cars[:1], 2))
        self.assertEqual(found.values[1:], before.values[1:])
        self.assertEqual(self.ask(most=1).waiting, 1)
        self.assertEqual(self.ask(most=1).waiting, 0)

    def test_gone_with_its_car_and_with_its_person(self):
        self.ask()
        Car.objects.get(pk=self.cars.pop()).delete()
        self.ask()
        self.assertEqual(sorted(Gathered.objects.values_list("car", flat=True)), sorted(self.cars))
        other = self.user
        Car.objects.filter(owner=other).delete()
        other.delete()
        self.assertFalse(Gathered.objects.exists())
