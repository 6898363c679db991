"""How the server says it is: numbers and names of pages, for those who look after it, and nothing of anybody."""

import json
import logging
from io import StringIO

from django.core.management import call_command
from django.test import override_settings

from rimtally.logs import JsonLines
from rimtally.settings.base import ROOMS_THAT_WRITE
from sharing.models import Link
from shell.models import Slow
from shell.slow import MOST_KEPT, note
from shell.tests.base import ScenarioCase
from shell.undo import ROOMS


class Status(ScenarioCase):
    def test_the_page_is_for_those_who_look_after_the_server(self):
        self.assertEqual(self.client.get("/status/").status_code, 404)
        self.user.is_staff = True
        self.user.save()
        page = self.client.get("/status/")
        for words in ("Free on the disk", "Steps that the database lacks", "Sessions", "Slowest pages"):
            self.assertContains(page, words)
        self.assertNotContains(page, self.car.nickname)

    def test_on_the_command_line(self):
        Slow.objects.create(route="car/<int:car_id>/plan/", method="GET", ms=1234)
        out = StringIO()
        call_command("status", stdout=out)
        told = out.getvalue()
        self.assertRegex(told, r"Rim Tally +\d+\.\d+")
        self.assertRegex(told, r"Cars +[1-9]")
        self.assertIn("GET car/<int:car_id>/plan/", told)
        self.assertIn("1234 ms at the most, 1 times", told)

    @override_settings(SLOW_MS=0)
    def test_what_is_slow_is_kept_by_its_route_and_not_without_end(self):
        link = Link.objects.create(car=self.car, what="book", chapters=["car"], until="2099-01-01")
        with self.assertLogs("shell.slow", "INFO") as logs:
            self.client.get(f"/shared/{link.token}/")
        row = Slow.objects.first()
        self.assertEqual((row.method, row.route), ("GET", "shared/<str:token>/"))
        self.assertEqual(logs.records[0].route, row.route)
        Slow.objects.bulk_create(Slow(route="x", method="GET", ms=1) for _ in range(MOST_KEPT + 20))
        note(self.client.get("/").wsgi_request, 900)
        self.assertLessEqual(Slow.objects.count(), MOST_KEPT)


class Lines(ScenarioCase):
    def told(self, record):
        return json.loads(JsonLines().format(record))

    def test_a_request_is_told_by_its_route_and_not_by_its_address(self):
        request = self.client.get("/shared/a-token-of-somebody/?q=secret").wsgi_request
        record = logging.LogRecord(
            "django.request", logging.WARNING, "", 0, "%s: %s", ("Not Found", request.path), None
        )
        record.request, record.status_code = request, 404
        told = self.told(record)
        self.assertEqual((told["status"], told["level"], told["room"]), (404, "warning", "django.request"))
        self.assertIn("shared/<str:token>/", told["event"])
        self.assertNotIn("a-token", json.dumps(told))
        self.assertNotIn("secret", json.dumps(told))

    def test_each_room_that_writes_says_how_much_and_not_what(self):
        self.assertLessEqual(set(ROOMS), set(ROOMS_THAT_WRITE))
        with self.assertLogs("garage", "INFO") as logs:
            self.client.post(
                self.url("measure/FL/bump/"), {"method": "rule", "taken_on": "2026-11-01", "value": "61", "who": "Kez"}
            )
        told = [self.told(record) for record in logs.records]
        self.assertEqual(told[0]["event"], "kept")
        self.assertEqual(told[0]["car"], self.car.pk)
        self.assertGreaterEqual(told[0]["rows"], 1)
        self.assertNotIn("Kez", json.dumps(told))
        self.assertNotIn(self.car.nickname, json.dumps(told))

    def test_a_trace_stands_in_the_line(self):
        try:
            raise ValueError("x")
        except ValueError:
            import sys

            record = logging.LogRecord("shell", logging.ERROR, "", 0, "broke", (), sys.exc_info())
        self.assertIn("ValueError", self.told(record)["trace"])
