"""A car whose wheels nobody recorded: what does not go on a hub is checked all the same, and brings what it also needs."""

from garage.car.models import Car
from planner.chosen import build_in_hand
from planner.models import Build
from planner.parts import dragged_along, part_judgements
from rimcore.lines import parse_line
from shelf.queries import judge_part
from shelf.services import add_line
from shell.tests.base import ScenarioCase


class Bare(ScenarioCase):
    def setUp(self):
        super().setUp()
        self.car = Car.objects.create(owner=self.user, nickname="Finch", use="street", drive="R")
        line = "radiator 26 x 13 x 1.5 in 2 rows, 9 lb, 185"
        self.part = add_line(self.car, self.user, parse_line(line), "", line)

    def test_a_radiator_is_checked_before_there_is_a_build(self):
        codes = {one.code: one.state for one in judge_part(self.file(), self.part)}
        self.assertEqual(codes["part.radiator.space"], "unmeasured")
        self.assertNotContains(self.page("choose/parts/radiator/"), "Nothing on this car to check it against")

    def test_it_brings_what_it_also_needs_and_is_checked_in_its_build(self):
        Build.objects.create(car=self.car, name="First", in_hand=True)
        build = build_in_hand(self.file())
        self.client.post(self.url(f"plan/put/{self.part.pk}/"), {"build": build.pk, "position": "F", "quantity": 1})
        file = self.file()
        build = build_in_hand(file)
        self.assertEqual([one.kind for one in build.choices.all()], ["radiator"])
        self.assertIn("coolant", {row.need.family for row in dragged_along(file, build)})
        self.assertIn("part.radiator.space", {one.code for one in part_judgements(file, build)})

    def test_wheels_and_rings_say_what_is_missing(self):
        line = "ring 63.4 → 72.6 solid aluminium, 6"
        ring = add_line(self.car, self.user, parse_line(line), "", line)
        found = judge_part(self.file(), ring)
        self.assertEqual({one.state for one in found}, {"unmeasured"})
        self.assertIn("wheels on the car are not recorded", found[0].reason)
