"""Pages of the scenario: true figures, constant query counts, one source for all numbers."""

import json
import re

from django.test import RequestFactory

from garage.car.parts import Tyre, Wheel
from garage.chassis.models import HardPoint, OldPart
from garage.readings.models import Reading
from planner.chosen import build_in_hand
from planner.models import Choice
from planner.queries import sums
from proof.models import Run
from rimcore.calc import answer
from rimcore.drawing.planes import short
from rimcore.registry import CALCULATIONS
from rimcore.well.draw.scene import change_text
from shelf.judging import all_pairs
from shelf.queries import listed_of
from shell import board, kept
from shell.tests.base import ScenarioCase, read_anew
from workshop.models import Snag

PAGES = (
    "measure/",
    "measure/FL/",
    "measure/FL/damper/",
    "choose/",
    "check/FL/",
    "check/geometry/",
    "check/ride/",
    "stands/",
    "choose/parts/damper/",
    "check/steering/",
    "measure/FL/points/",
    "plan/",
    "fit/",
    "open/",
    "prove/",
    "",
)


class Again(ScenarioCase):
    """A page made from a file that other pages have used says what it says alone.

    Nothing of one answer is left in the next.
    """

    def said(self, rest):
        html = self.page(rest).content.decode()
        return re.sub(r'name="(csrfmiddlewaretoken|once)" value="[^"]*"|"X-CSRFToken": "[^"]*"', "", html)

    def test_the_same_whatever_was_asked_before(self):
        alone = {}
        for rest in PAGES:
            kept.forget()
            alone[rest] = self.said(rest)
        kept.forget()
        for rest in (*PAGES, *reversed(PAGES)):
            self.assertEqual(self.said(rest), alone[rest], rest)


class QueryCounts(ScenarioCase):
    def count(self, rest):
        from django.db import connection
        from django.test.utils import CaptureQueriesContext

        with CaptureQueriesContext(
            connection,
        ) as caught:
            self.page(rest)
        return len(caught)

    @read_anew
    def test_ten_times_the_data_asks_no_more(self):
        for rest in PAGES:
            self.page(rest)
        before = {rest: self.count(rest) for rest in PAGES}
        self.multiply(9)
        after = {rest: self.count(rest) for rest in PAGES}
        self.assertEqual(before, after)
        self.assertLess(max(before.values()), 58)

    def multiply(self, times):
        for model in (Reading, Run, Snag, Choice, HardPoint, OldPart):
            rows = list(model.objects.all())
            for _ in range(times):
                for row in rows:
                    row.pk = None
                    if model is Run:
                        row.plan = None
                model.objects.bulk_create(rows)
        for model in (Wheel, Tyre):
            for row in list(model.objects.all())[:2]:
                for _ in range(times):
                    row.pk = None
                    row._state.adding = True
                    row.save()


class Truth(ScenarioCase):
    def test_the_scenario_has_something_true_to_say_everywhere(self):
        file = self.file()
        pairs = all_pairs(file, listed_of(file).wheels, listed_of(file).tyres)
        self.assertGreaterEqual(len(listed_of(file).wheels), 8)
        self.assertGreaterEqual(len(listed_of(file).tyres), 6)
        by_name = {}
        for pair in pairs:
            by_name.setdefault(pair.wheel.name, []).append(
                {j.code: j.state for j in pair.judgements if j.state == "hit"}
                | {j.code: j.state for j in pair.judgements if j.code == "hub.bore"}
            )
        self.assertTrue(any("gap.damper" in found for found in by_name["Brack Eight"]), "one hits the damper")
        self.assertTrue(any("gap.arch_12.sideways" in found for found in by_name["Ottermoor Deep"]), "one pokes")
        self.assertTrue(all(found.get("hub.seat") == "hit" for found in by_name["Varn Ten"]), "one has the wrong seat")
        ring = next(pair for pair in pairs if pair.wheel.name == "Tessel L")
        self.assertIn("Centring ring", [drag.what for drag in ring.drags], "one needs a ring")
        fine = [pair for pair in pairs if pair.wheel.name == "Quillet Five"]
        self.assertTrue(any(not {j.state for j in pair.judgements} & {"hit", "tight"} for pair in fine), "one is fine")
        self.assertContains(self.page("open/"), "73.1, not 72.6")

    def test_no_gap_is_clear_without_a_reading(self):
        file = self.file()
        for pair in all_pairs(file, listed_of(file).wheels, listed_of(file).tyres):
            for judgement in pair.judgements:
                if judgement.code.startswith("gap.") and judgement.state == "clear":
                    self.assertTrue(any(used.date for used in judgement.inputs), judgement)

    def test_the_board_says_what_the_core_says(self):
        file = self.file()
        found = sums(file, build_in_hand(file))
        cells = {cell.label: cell for cell in board.cells(self.file())}
        self.assertEqual(cells["Tightest gap"].figure, short(found.tightest.value))
        self.assertIn(found.tightest.where, cells["Tightest gap"].parts)
        for rest in ("measure/", "choose/", "plan/", "fit/", "prove/", "check/FL/"):
            html = self.page(rest).content.decode()
            self.assertIn(cells["Money"].figure, html)
            self.assertIn(cells["Weight"].figure, html)

    def test_screen_and_command_line_agree(self):
        """The gap on the page, from the core, is the one the command line computes from the same reading."""
        reading = next(r for r in self.file().latest if r.corner == "FL" and r.code == "damper")
        present = self.file().on(reading.outfit, "F")
        given = {
            "present": {"wheel": present.wheel, "tyre": present.tyre, "camber_deg": present.camber_deg},
            "station": {"place": "damper", "height_mm": reading.height_mm},
            "gap_mm": reading.value,
            "candidate": {"wheel": "17x8 +40", "tyre": "225/45R17 91W"},
        }
        told, good = answer(CALCULATIONS["gap"], json.dumps(given))
        self.assertTrue(good, told)
        html = self.page("check/FL/?width=8&offset=40&tyre=225/45R17 91W&drop=0&camber=-1.8").content.decode()
        self.assertIn(f"the same rule would read {told['new_gap_mm']:.1f} mm", html)

    def test_figures_say_how_they_are_known(self):
        html = self.page("check/FL/").content.decode()
        for words in ("Formula", "Basis", "own measurement", "Held against", "rule or tape", "Ina"):
            self.assertIn(words, html)

    def test_unit_preferences_change_the_figures_and_the_reading_of_bare_numbers(self):
        units = {
            "what": "units",
            "length_unit": "in",
            "offset_unit": "mm",
            "mass_unit": "lb",
            "torque_unit": "lbf·ft",
            "pressure_unit": "psi",
            "speed_unit": "mph",
            "distance_unit": "mi",
        }
        self.assertRedirects(self.client.post("/settings/", units), "/settings/")
        self.assertContains(self.page("plan/"), "lb")
        self.client.post(
            self.url("measure/FR/liner_rear/"),
            {"u": "centre", "value": "1 1/4", "method": "rule", "taken_on": "2026-01-05"},
        )
        kept = Reading.objects.get(corner="FR", code="liner_rear")
        self.assertEqual((kept.value, kept.typed), (31.75, "1 1/4"))

    def test_change_text(self):
        file = self.file()
        for judgement in sums(file, build_in_hand(file)).judgements:
            if judgement.value is not None:
                self.assertIn(short(judgement.value), change_text(judgement))


class Errors(ScenarioCase):
    def test_unknown_addresses(self):
        for rest in (
            "measure/XX/",
            "measure/FL/nothing/",
            "check/ZZ/",
            "choose/car/1/",
            "plan/build/1/explode/",
            "measure/RL/liner_front_lock/",
        ):
            response = self.client.get(self.url(rest)) if "explode" not in rest else self.client.post(self.url(rest))
            self.assertEqual(response.status_code, 404, rest)

    def test_server_error_page_renders_without_a_user(self):
        from shell.views import server_error

        self.assertEqual(server_error(RequestFactory().get("/")).status_code, 500)
