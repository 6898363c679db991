"""The same load on both sides of the brakes, and what is told without the height of the centre of gravity."""

from garage.car.models import Car
from garage.engine.models import Brakes
from shell.tests.base import ScenarioCase


class Towed(ScenarioCase):
    def brakes(self, **values):
        Brakes.objects.update_or_create(car=self.car, defaults={"from_kmh": 100.0, "deceleration_g": 0.8, **values})
        return self.page("check/brakes/").context["one"]

    def test_what_is_towed_is_towed_before_and_after(self):
        alone, towing = self.brakes(load_kg=0.0), self.brakes(load_kg=1500.0)
        for before, after in zip(alone.masses_kg, towing.masses_kg, strict=True):
            self.assertAlmostEqual(after - before, 1500.0)
        pressure = next(j for j in self.page("check/brakes/").context["judged"] if j.code == "braking.pressure")
        self.assertLess(abs(pressure.value), 10.0)

    def test_a_trailer_with_brakes_is_no_load_of_the_cars(self):
        self.assertEqual(self.brakes(load_kg=1500.0, load_braked=True).masses_kg, self.brakes(load_kg=0.0).masses_kg)

    def test_without_the_height_energy_and_force_are_told_and_the_height_alone_is_asked(self):
        """½ m v² × 1.04 of the car as weighed, by hand from its mass."""
        Car.objects.filter(pk=self.car.pk).update(cg_height_mm=None)
        one = self.brakes(front_rotor_kg=6.0, rear_rotor_kg=4.0)
        energy, force = one.whole
        mass = one.masses_kg[1]
        self.assertAlmostEqual(energy, mass * 1.04 * (100 / 3.6) ** 2 / 2000, places=6)
        self.assertAlmostEqual(force, mass * 1.04 * 0.8 * 9.80665, places=6)
        self.assertEqual(one.missing, ("the height of the centre of gravity",))
        page = self.page("check/brakes/")
        self.assertNotContains(page, "weigh one brake disc")
        self.assertContains(page, "with one end raised")
        self.assertIn("braking.pressure", {j.code for j in page.context["judged"] if j.value is not None})
