"""The sums of the demo's builds, by hand."""

from garage.mass.models import MassItem
from garage.mass.services import keep_item
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
        MassItem.objects.filter(car=self.car).delete()
        _, _, found = self.build("Hill season")
        self.assertAlmostEqual(found.corner_kg["F"], -1.4)
        self.assertAlmostEqual(found.mass.front_kg, -2.8 + 0.1 - 0.4)
        self.assertAlmostEqual(found.mass.rear_kg, -2.8 + 0.1 - 0.3)
        self.assertEqual(found.mass.unknown, 0)

    def test_what_is_off_the_ledger_counts_front_and_rear_by_where_it_lay(self):
        """Net 5 kg at 600 of 2400 mm behind the front axle leave three quarters to the front.

        2 kg of no place half and half.
        """
        MassItem.objects.filter(car=self.car).delete()
        type(self.car).objects.filter(pk=self.car.pk).update(wheelbase_mm=2400)
        _, _, before = self.build("Hill season")
        keep_item(
            self.car,
            self.user,
            {
                "name": "Trim",
                "state": "out",
                "gross_kg": 7.0,
                "tare_kg": 0.5,
                "back_kg": 1.5,
                "behind_mm": 600.0,
                "right_mm": 0.0,
            },
        )
        keep_item(self.car, self.user, {"name": "Shelf", "state": "out", "gross_kg": 2.0, "tare_kg": 0.0})
        keep_item(self.car, self.user, {"name": "Seat", "state": "in", "gross_kg": 18.0, "tare_kg": 0.0})
        _, _, after = self.build("Hill season")
        self.assertAlmostEqual(after.mass.front_kg - before.mass.front_kg, -(3.75 + 1.0))
        self.assertAlmostEqual(after.mass.rear_kg - before.mass.rear_kg, -(1.25 + 1.0))

    def test_money(self):
        """Wheels 4 × 239 there; tyres 4 × 104, rings 4 × 6 and springs 118 + 104 promised, alignment at a shop 90.

        The other build took 948 and a socket; what came out cost 15 and 119 and brought 45.
        """
        _, _, found = self.build("Hill season")
        elsewhere = 4 * (15800 + 7900) + 1450
        self.assertEqual(found.elsewhere_minor, elsewhere)
        self.assertEqual(found.money.spent_minor, 4 * 23900 + elsewhere + 1500 + 11900 - 4500)
        self.assertEqual(found.money.promised_minor, 4 * 10400 + 4 * 600 + 11800 + 10400 + 9000)
        self.assertEqual(found.money.left_minor, 320000 - found.money.total_minor)

    def test_equivalent_mass_is_the_cores(self):
        _, _, found = self.build("Hill season")
        old = Corner(parse_wheel("16x6.5 +50"), parse_tyre("205/55R16"), wheel_kg=9.9, tyre_kg=8.9)
        new = Corner(parse_wheel("17x8 +40"), parse_tyre("225/45R17"), wheel_kg=8.2, tyre_kg=9.2)
        self.assertAlmostEqual(found.equivalent_kg, 4 * swap(old, new).equivalent_mass_change_kg_per_corner)

    def test_what_a_build_puts_on(self):
        file, build, _ = self.build("Hill season")
        front = candidate(file, build, "F")
        self.assertEqual(
            (front.fitted.camber_deg, front.levers.ride_drop_mm, front.levers.ring.inner_mm), (-1.8, 20, 63.4)
        )
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
        from garage.car.parts import Wheel
        from planner.models import Choice
        from planner.services import add_build

        add_build(self.car, self.user, "Wheels only", "daily")
        _, build, _ = self.build("Wheels only")
        Choice.objects.create(build=build, part=Wheel.objects.get(name="Brack Eight"))
        file, build, _ = self.build("Wheels only")
        self.assertEqual(candidate(file, build, "F").fitted.tyre.rim_diameter_in, 16)
