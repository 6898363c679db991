"""A car of which nobody wrote down the wheels.

A shifter, a panel, an exhaust, a tank of fuel are proved all the same.
"""

from garage.car.services import add_car
from garage.readings.models import Reading
from proof.models import Run
from shell.tests.base import ScenarioCase


class Bare(ScenarioCase):
    def setUp(self):
        super().setUp()
        self.bare = add_car(self.user, {"nickname": "Bare"})

    def at(self, rest):
        return f"/car/{self.bare.pk}/{rest}"

    def test_series_and_runs_open_and_are_kept(self):
        answer = self.client.post(self.at("prove/"), {"ready": "shift"})
        self.assertEqual(self.client.get(answer.url).status_code, 200)
        self.client.post(answer.url, {"values": "4 3 4", "ran_on": "2026-01-05", "outfit": ""})
        self.assertEqual(Run.objects.filter(series__car=self.bare).count(), 3)
        self.assertContains(self.client.get(self.at("prove/")), "Feel: shifter")

    def test_what_is_no_gap_is_read_and_a_gap_asks_for_wheels(self):
        self.client.post(self.at("measure/FL/camber/"), {"value": "-1.2", "method": "gauge", "taken_on": "2026-01-05"})
        self.assertTrue(Reading.objects.filter(car=self.bare, code="camber").exists())
        answer = self.client.post(
            self.at("measure/FL/damper/"),
            {"value": "12", "height_mm": "250", "method": "rule", "taken_on": "2026-01-05"},
        )
        self.assertEqual((answer.status_code, answer.url), (302, self.at("")))
        self.assertFalse(Reading.objects.filter(car=self.bare, code="damper").exists())

    def test_wheels_written_down_later_stand_on_the_same_baseline(self):
        self.client.post(self.at("measure/FL/camber/"), {"value": "-1.2", "method": "gauge", "taken_on": "2026-01-05"})
        sent = {
            "what": "present-F",
            "present-F-wheel": "16x6.5 +46 5x108 63.4",
            "present-F-tyre": "205/55R16 91V",
            "present-F-spacer_mm": "",
        }
        self.client.post(self.at(""), sent)
        self.assertEqual(self.bare.outfits.count(), 1)
        for rest in (
            "measure/",
            "choose/",
            "check/",
            "plan/",
            "fit/",
            "prove/",
            "open/",
            "check/gearing/",
            "check/mass/",
            "check/weights/",
        ):
            self.assertIn(self.client.get(self.at(rest)).status_code, (200, 302), rest)

    def test_every_page_opens_with_a_baseline_of_no_wheels(self):
        self.client.post(self.at("measure/FL/camber/"), {"value": "-1.2", "method": "gauge", "taken_on": "2026-01-05"})
        rests = (
            "measure/",
            "measure/FL/",
            "walk/",
            "choose/",
            "check/",
            "check/FL/",
            "plan/",
            "fit/",
            "prove/",
            "open/",
            "logs/add/?kind=pull",
        )
        benches = (
            "ride",
            "steering",
            "geometry",
            "alignment",
            "weights",
            "square",
            "gearing",
            "brakes",
            "breathing",
            "sound",
            "cooling",
            "air",
            "mass",
        )
        for rest in (*rests, *(f"check/{name}/" for name in benches)):
            self.assertIn(
                self.client.get(self.at(rest)).status_code,
                (200, 302, 404) if rest == "check/square/" else (200, 302),
                rest,
            )
