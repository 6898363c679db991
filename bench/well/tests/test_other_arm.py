"""An arm at full lock, once another arm goes in: moved where its shape is said, else to be read again after fitting."""

from datetime import timedelta

from django.utils import timezone

from garage.chassis.models import OldPart
from garage.chassis.services import write_down
from garage.file import open_file
from garage.readings.services import take_reading
from planner.models import Build
from planner.services import put_part
from rimcore.lines import parse_line
from shelf.services import add_line
from shell.tests.base import ScenarioCase


class OtherArm(ScenarioCase):
    def setUp(self):
        super().setUp()
        file = open_file(self.user, self.car.pk)
        read = {
            "where": {"height_mm": 20.0, "steer_deg": -30.0},
            "values": [22.0],
            "typed": "22",
            "taken_on": timezone.localdate(),
        }
        take_reading(file, "FL", "arm_front_lock", read)
        self.build = Build.objects.get(car=self.car, in_hand=True)

    def arm(self, line):
        part = add_line(self.car, self.user, parse_line(line), "", line)
        return put_part(self.build, self.user, part, {"position": "F", "quantity": 2})

    def gap(self):
        return [one for one in self.page("check/FL/").context["gaps"] if one.code.startswith("gap.arm_front_lock")][0]

    def test_an_arm_that_does_not_say_its_shape_is_read_again_after_fitting(self):
        before = self.gap()
        self.assertIsNotNone(before.value)
        self.arm("control arms lower 330-350")
        after = self.gap()
        self.assertEqual((after.state, after.value, after.missing), ("unmeasured", None, ("FL.arm_front_lock",)))
        self.assertIn("read it again after fitting", after.reason)

    def test_once_it_is_fitted_and_read_again_the_reading_counts(self):
        choice = self.arm("control arms lower 330-350")
        choice.state = "fitted"
        choice.save()
        write_down(
            self.car, "F", "control_arm", dict(choice.part.spec), "Ina", timezone.localdate() + timedelta(days=1)
        )
        self.assertEqual(self.gap().state, "unmeasured")
        OldPart.objects.filter(car=self.car, family="control_arm").update(noted_on=timezone.localdate())
        self.assertIsNotNone(self.gap().value)

    def test_one_that_stands_back_is_judged_by_how_far(self):
        before = self.gap()
        self.arm("control arms lower 330-350 back 15")
        self.assertAlmostEqual(self.gap().value - before.value, 15.0, delta=3.0)

    def test_one_of_the_same_shape_leaves_the_reading(self):
        before = self.gap()
        write_down(
            self.car,
            "F",
            "control_arm",
            {"place": "lower", "length_mm": 347.0, "shape": "straight"},
            "Ina",
            timezone.localdate(),
        )
        self.arm("control arms lower 330-350 straight")
        self.assertAlmostEqual(self.gap().value, before.value)
