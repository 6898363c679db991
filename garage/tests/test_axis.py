"""The steering axis from the wheel itself, and what the bench asks for first."""

from garage.chassis.models import HardPoint
from garage.readings.models import Reading
from rimcore.wheels.fitted import Fitted
from rimcore.wheels.stance import scrub_radius_mm
from rimcore.wheels.tyre import parse_tyre
from rimcore.wheels.wheel import parse_wheel
from shell.tests.base import ScenarioCase

#: on the demo car's front right nobody measured the axis
CIRCLE = {
    "scrub_mm": "",
    "joint_in_mm": "",
    "joint_below_mm": "",
    "kpi_deg": "",
    "sweep_deg": "20",
    "camber_out_deg": "",
    "camber_in_deg": "",
    "who": "Ina",
    "taken_on": "2026-11-01",
}


class Axis(ScenarioCase):
    def post(self, **more):
        return self.client.post(self.url("measure/FR/axis/"), CIRCLE | more)

    def readings(self):
        return {r.code: r for r in Reading.objects.filter(car=self.car, corner="FR", method="worked")}

    def test_circle_joint_and_sweep_become_readings(self):
        fitted = Fitted(parse_wheel("16x7 +45"), parse_tyre("205/55R16"))
        scrub = scrub_radius_mm(fitted, 11.0, 104.0)
        said = {
            "scrub_mm": f"{scrub:.2f}",
            "joint_in_mm": "80.67",
            "joint_below_mm": "120",
            "camber_out_deg": "-0.1",
            "camber_in_deg": "-3.8",
        }
        shown = self.post(**said, action="work")
        self.assertContains(shown, "Save as readings")
        self.assertContains(shown, "÷ (2 × sin 20°)")
        self.assertEqual(self.readings(), {}, "working it out keeps nothing")
        self.assertEqual(self.post(**said, action="keep").status_code, 302)
        kept = self.readings()
        self.assertAlmostEqual(kept["caster"].value, 5.41, delta=0.01)
        self.assertAlmostEqual(kept["kingpin"].value, 104.0, delta=4.0)
        self.assertGreater(kept["kpi"].uncertainty, 0.2)
        self.assertIn("circle", kept["kpi"].typed)

    def test_refused_keeps_what_was_typed(self):
        for said, words in (
            ({"scrub_mm": "soon"}, "length"),
            ({"joint_in_mm": "80"}, "both or neither"),
            ({}, "Write the circle and the joint"),
            ({"scrub_mm": "0", "joint_in_mm": "80", "joint_below_mm": "310"}, "on the floor or under it"),
            ({"scrub_mm": "200", "joint_in_mm": "-40", "joint_below_mm": "290"}, "misread"),
            ({"taken_on": "2030-01-01"}, "not come yet"),
            ({"camber_out_deg": "-0.1", "camber_in_deg": "-3.8", "sweep_deg": ""}, "angle each way is needed"),
        ):
            answer = self.post(**said, action="keep")
            self.assertContains(answer, words, status_code=422)
            for value in filter(None, said.values()):
                self.assertContains(answer, f'value="{value}"', status_code=422)
        self.assertEqual(self.readings(), {})

    def test_only_where_a_wheel_steers_and_only_of_ones_own_car(self):
        self.assertEqual(self.client.get(self.url("measure/RL/axis/")).status_code, 404)
        self.client.force_login(self.stranger(), backend="django.contrib.auth.backends.ModelBackend")
        self.assertEqual(self.client.get(self.url("measure/FR/axis/")).status_code, 404)

    def test_it_can_be_undone_at_once(self):
        self.post(camber_out_deg="-0.1", camber_in_deg="-3.8", action="keep")
        self.assertEqual(len(self.readings()), 1)
        page = self.client.get(self.url("measure/FR/"))
        self.client.post(f"/undo/{page.context['undo'].pk if 'undo' in page.context else self.newest()}/")
        self.assertEqual(self.readings(), {})

    def newest(self):
        from shell.undo import last_change

        return last_change(self.car.owner).pk

    def stranger(self):
        from django.contrib.auth.models import User

        return User.objects.create_user("stranger", password="nothing-to-see-here")


class MeasureFirst(ScenarioCase):
    def test_the_bench_says_what_narrows_most(self):
        Reading.objects.filter(car=self.car, corner="FL", code__in=("kpi", "caster", "kingpin")).delete()
        self.assertNotContains(self.client.get(self.url("check/FL/")), "Measure first")  # the hard points say the axis
        HardPoint.objects.filter(car=self.car).delete()
        page = self.client.get(self.url("check/FL/"))
        self.assertContains(page, "Measure first")
        self.assertContains(page, "Read the axis from the wheel itself")
        self.assertEqual({row.station for row in page.context["measure_first"]["rows"]}, {"kpi", "caster", "kingpin"})
        states = {j.state for j in page.context["gaps"] if j.usual is not None}
        self.assertNotIn("tight", states)

    def test_a_measured_corner_asks_for_nothing(self):
        self.assertNotContains(self.client.get(self.url("check/FL/")), "Measure first")

    def test_the_station_leads_to_it(self):
        self.assertContains(self.client.get(self.url("measure/FL/kingpin/")), "from the wheel itself")
        self.assertNotContains(self.client.get(self.url("measure/FL/damper/")), "from the wheel itself")
