"""The switch between benches, and the lever that the gearing bench owns."""

from bench.faces import FACES
from bench.switch import switch
from garage.car.models import Driveline
from planner.models import Build
from rimcore.benches import BENCHES
from rimcore.quantities.judgement import ORDER
from rimcore.registry import CALCULATIONS
from rimcore.well.read.stations import STATIONS
from shell.tests.base import ScenarioCase


class Switch(ScenarioCase):
    def tabs(self):
        return {tab.key: tab for tab in switch(self.file())}

    def test_every_declared_bench_has_its_face_and_only_knows_what_there_is(self):
        self.assertEqual([face.bench for face in FACES], list(BENCHES.values()))
        for bench in BENCHES.values():
            self.assertLessEqual(set(bench.stations), set(STATIONS))
            self.assertLessEqual(set(bench.calculations), set(CALCULATIONS))

    def test_each_tab_says_the_state_of_its_bench_and_opens_it(self):
        page = self.page("check/FL/")
        for tab in page.context["benches"]:
            self.assertContains(page, tab.name)
            self.assertContains(page, f"{tab.count} of {tab.total} {tab.state}")
            self.assertEqual(self.client.get(tab.url, follow=True).status_code, 200)
        self.assertContains(page, 'aria-current="page"')

    def test_the_worst_bench_comes_first(self):
        for limit in (400, 20_000):
            Driveline.objects.filter(car=self.car).update(limit_rpm=max(limit, 500))
            states = [ORDER.index(tab.state) for tab in switch(self.file())]
            self.assertEqual(states, sorted(states))
        Driveline.objects.filter(car=self.car).update(limit_rpm=500)
        self.assertIn("gearing", [tab.key for tab in switch(self.file())][:2])
        self.assertEqual(self.tabs()["gearing"].state, "hit")

    def test_without_ratios_gearing_is_unmeasured_and_never_clear(self):
        self.assertEqual(self.tabs()["gearing"].state, "clear")
        Driveline.objects.filter(car=self.car).delete()
        self.assertEqual(self.tabs()["gearing"].state, "unmeasured")
        self.assertContains(self.page("check/gearing/"), "1 of 1 unmeasured")


class AxleOfTheBuild(ScenarioCase):
    def put(self, value):
        return self.client.post(self.url("check/gearing/"), {"lever": value}, follow=True)

    def test_a_tried_ratio_goes_into_the_build_and_out_again(self):
        self.assertContains(self.page("check/gearing/?axle=4.6"), "Put axle 4.60 into Hill season")
        before = self.page("check/gearing/").context["cruise"].value
        self.assertContains(self.put("4.6"), "Hill season has axle 4.60")
        build = Build.objects.get(car=self.car, name="Hill season")
        self.assertEqual(build.lever("axle_ratio"), 4.6)
        kept = Driveline.objects.get(car=self.car)
        page = self.page("check/gearing/")
        self.assertAlmostEqual(page.context["cruise"].value / before, 4.6 / kept.axle_ratio, places=9)
        self.assertTrue(any("4.6" in used.value for used in page.context["change"].inputs))
        self.put("")
        self.assertIsNone(Build.objects.get(pk=build.pk).lever("axle_ratio"))
        self.assertFalse(build.levers.filter(code="axle_ratio").exists())

    def test_what_is_no_ratio_is_refused(self):
        for odd, words in (
            ("fast", "not a number"),
            ("0", "out of range"),
            ("nan", "out of range"),
            ("1e9", "out of range"),
        ):
            self.assertContains(self.put(odd), words)
        self.assertIsNone(Build.objects.get(car=self.car, name="Hill season").lever("axle_ratio"))
        Build.objects.filter(car=self.car).update(in_hand=False)
        self.assertContains(self.put("4.6"), "No build is in hand")
