"""The card of one's rules, and the stations of a corner round its drawings, through their pages."""

import statistics

from garage.person.models import Preferences
from garage.readings.models import Reading
from garage.readings.rules import repeated_sets
from shell.tests.base import ScenarioCase


class Rules(ScenarioCase):
    def read(self, code="damper", value="15.2; 15.9; 15.5; 15.1; 15.6; 15.4", method="rule", corner="RR"):
        form = {
            "method": method,
            "who": "Ina",
            "taken_on": "2026-11-20",
            "value": value,
            "height_mm": "262",
            "sure": "on",
        }
        return self.client.post(self.url(f"measure/{corner}/{code}/"), form)

    def row(self, method="rule"):
        return next(row for row in self.page("rules/").context["rows"] if row.code == method)

    def test_repeats_typed_together_are_kept_and_counted(self):
        self.assertEqual(self.read().status_code, 302)
        kept = Reading.objects.get(car=self.car, corner="RR", code="damper")
        self.assertEqual(kept.repeats, [[15.2, 15.9, 15.5, 15.1, 15.6, 15.4]])
        self.assertIn([15.2, 15.9, 15.5, 15.1, 15.6, 15.4], repeated_sets(self.user)["rule"])

    def test_the_same_station_read_again_counts_and_what_is_struck_does_not(self):
        self.read(value="15.2")
        self.read(value="15.8")
        self.assertIn([15.2, 15.8], repeated_sets(self.user)["rule"])
        Reading.objects.filter(values=[15.8]).update(struck_why="slipped")
        self.assertNotIn([15.2, 15.8], repeated_sets(self.user)["rule"])

    def test_with_enough_repeats_ones_own_doubt_can_be_used_and_taken_back(self):
        self.read(method="feeler")
        row = self.row("feeler")
        self.assertEqual(row.found.freedom, 5)
        self.assertAlmostEqual(row.found.deviation, statistics.stdev([15.2, 15.9, 15.5, 15.1, 15.6, 15.4]))
        self.assertEqual(row.judgement.state, "tight", "a feeler that scatters like a rule")
        self.client.post(self.url("rules/"), {"method": "feeler", "what": "own"})
        own = Preferences.objects.get(user=self.user).own_doubts["feeler"]
        self.assertAlmostEqual(own, round(row.found.doubt, 2))
        self.read(code="damper", value="16", method="feeler", corner="RL")
        self.assertEqual(Reading.objects.filter(car=self.car, corner="RL", method="feeler").get().uncertainty, own)
        self.client.post(self.url("rules/"), {"method": "feeler", "what": "stated"})
        self.assertEqual(Preferences.objects.get(user=self.user).own_doubts, {})

    def test_too_few_say_nothing(self):
        self.assertEqual(self.row("string").judgement.state, "unmeasured")
        for said in (
            {"method": "string", "what": "own"},
            {"method": "moon", "what": "stated"},
            {"method": "rule", "what": "guess"},
        ):
            self.assertEqual(self.client.post(self.url("rules/"), said).status_code, 404)

    def test_another_persons_repeats_are_their_own(self):
        self.read()
        self.assertEqual(repeated_sets(self.person()), {})


class Corner(ScenarioCase):
    def test_stations_round_the_drawings_by_how_the_wheel_stands(self):
        page = self.page("measure/FL/")
        groups = page.context["groups"]
        self.assertEqual(
            [group.standing for group, _, _ in groups],
            ["straight", "lock_in", "lock_out", "raised", "hanging", "off", "car"],
        )
        numbers = [row.number for group, _, _ in groups for row, _ in group.rows]
        self.assertEqual(numbers, list(range(1, len(numbers) + 1)))
        for group, drawn, done in groups:
            self.assertEqual(done, sum(row.standing == "measured" for row, _ in group.rows))
            self.assertEqual(sum(len(marks) for _, marks in drawn), len(group.codes))
        self.assertContains(page, 'class="station-mark measured"')
        self.assertContains(page, 'class="station-mark missing"')

    def test_what_is_only_assumed_is_told_apart(self):
        reading = Reading.objects.filter(car=self.car, corner="FL", code="ride_height").last()
        Reading.objects.filter(car=self.car, corner="FR", code="kingpin").delete()
        source = Reading.objects.get(car=self.car, corner="FL", code="kingpin")
        self.client.post(self.url(f"reading/{source.pk}/mirror/"))
        self.assertIsNotNone(reading)
        page = self.page("measure/FR/")
        rows = {row.kind.code: row.standing for group, _, _ in page.context["groups"] for row, _ in group.rows}
        self.assertEqual(rows["kingpin"], "assumed")
        self.assertContains(page, 'class="station-mark assumed"')
