"""The sums of the demo's builds, by hand."""

from planner.chosen import builds_of, candidate
from planner.queries import sums
from rimcore.wheels.swap import Corner, swap
from rimcore.wheels.tyre import parse_tyre
from rimcore.wheels.wheel import parse_wheel
from shell.tests.base import ScenarioCase


class ByHand(ScenarioCase):
    def build(self, name):
        file = self.file()
        found = next(build for build in builds_of(file) if build.name == name)
        return file, found, sums(file, found)

    def test_mass(self):
        """A corner loses (9.9 + 8.9) − (8.2 + 9.2) kg; four rings weigh 50 g each; the springs save 0.4 and 0.3 kg."""
        _, _, found = self.build("Hill season")
        self.assertAlmostEqual(found.corner_kg["F"], -1.4)
        self.assertAlmostEqual(found.mass.front_kg, -2.8 + 0.1 - 0.4)
        self.assertAlmostEqual(found.mass.rear_kg, -2.8 + 0.1 - 0.3)
        self.assertEqual(found.mass.unknown, 0)

    def test_money(self):
        """Wheels 4 × 239 there; tyres 4 × 104, rings 4 × 6 and springs 118 + 104 promised; the other build took 948 and a socket."""
        _, _, found = self.build("Hill season")
        elsewhere = 4 * (15800 + 7900) + 1450
        self.assertEqual(found.elsewhere_minor, elsewhere)
        self.assertEqual(found.money.spent_minor, 4 * 23900 + elsewhere)
        self.assertEqual(found.money.promised_minor, 4 * 10400 + 4 * 600 + 11800 + 10400)
        self.assertEqual(found.money.left_minor, 320000 - found.money.total_minor)

    def test_equivalent_mass_is_the_cores(self):
        _, _, found = self.build("Hill season")
        old = Corner(parse_wheel("16x6.5 +50"), parse_tyre("205/55R16"), wheel_kg=9.9, tyre_kg=8.9)
        new = Corner(parse_wheel("17x8 +40"), parse_tyre("225/45R17"), wheel_kg=8.2, tyre_kg=9.2)
        self.assertAlmostEqual(found.equivalent_kg, 4 * swap(old, new).equivalent_mass_change_kg_per_corner)

    def test_what_a_build_puts_on(self):
        file, build, _ = self.build("Hill season")
        front = candidate(file, build, "F")
        self.assertEqual((front.fitted.camber_deg, front.ride_drop_mm, front.ring.inner_mm), (-1.8, 20, 63.4))
        rear = candidate(file, build, "R")
        self.assertEqual(rear.fitted.camber_deg, -1.2)

    def test_an_empty_build_is_what_stands_on_the_car(self):
        from planner.services import add_build

        add_build(self.car, self.user, "Nothing yet", "daily")
        file, build, found = self.build("Nothing yet")
        self.assertEqual(candidate(file, build, "F").fitted.wheel.spec, "16x7 +45 5x108 63.4")
        self.assertEqual(found.money.promised_minor, 0)
        self.assertEqual({j.where for j in found.judgements if j.state == "hit"}, set())

    def test_wheels_without_tyres_that_fit_keep_the_present_ones(self):
        from garage.parts import Wheel
        from planner.models import Choice
        from planner.services import add_build

        add_build(self.car, self.user, "Wheels only", "daily")
        _, build, _ = self.build("Wheels only")
        Choice.objects.create(build=build, part=Wheel.objects.get(name="Brack Eight"))
        file, build, _ = self.build("Wheels only")
        self.assertEqual(candidate(file, build, "F").fitted.tyre.rim_diameter_in, 16)
