"""Laps and sprints out of a position log: taken in, gates set, runs, before and after."""

from django.core.files.uploadedfile import SimpleUploadedFile

from garage.logs.models import Log
from gauges import streams
from rimcore.proof.tests.test_track import circle
from shell.tests.base import ScenarioCase


class Laps(ScenarioCase):
    def simulate(self, code):
        answer = self.client.post(self.url("logs/add/"), {"kind": "run", "simulate": code})
        log = Log.objects.latest("id")
        self.assertRedirects(answer, self.url(f"logs/{log.pk}/"), fetch_redirect_response=False)
        page = self.page(f"logs/{log.pk}/")
        form = page.context["form"]
        said = {name: form[name].value() or "" for name in form.fields}
        answer = self.client.post(self.url(f"logs/{log.pk}/"), said)
        self.assertEqual(answer.status_code, 302)
        log.refresh_from_db()
        return log

    def gate(self, log, status=302, **said):
        given = {"start": "560 210 719 210", "finish": "", "least_s": "10", "from_kmh": "", "to_kmh": ""} | said
        answer = self.client.post(self.url(f"prove/laps/{log.pk}/"), given)
        self.assertEqual(answer.status_code, status)
        log.refresh_from_db()
        return answer

    def test_seven_simulated_laps_one_with_a_gap_and_a_stop(self):
        log = self.simulate("before")
        self.assertContains(self.page("prove/laps/"), "gate is set yet")
        self.gate(log, from_kmh="50", slope_pct="2")
        runs = log.found["runs"]
        self.assertIn(len(runs), (6, 7))
        self.assertEqual(sum(run["gap"] for run in runs), 1)
        self.assertTrue(all(44 < run["time_s"] < 50 for run in runs))
        self.assertEqual(len(log.found["stops"]), 1)
        # v² ÷ 2a of 50 km/h at 8.6 m/s²
        self.assertAlmostEqual(log.found["stops"][0]["distance_m"], (50 / 3.6) ** 2 / 2 / 8.6, delta=0.4)
        self.assertGreater(log.found["stops"][0]["level_m"], log.found["stops"][0]["distance_m"])
        page = self.page(f"prove/laps/{log.pk}/")
        self.assertContains(page, "a gap in it: not counted")
        self.assertContains(page, "Best thirds together")

    def test_before_against_after(self):
        for code in ("before", "after"):
            self.gate(self.simulate(code))
        page = self.page("prove/laps/")
        found = page.context["verdict"].verdict.change
        self.assertLess(found.low, -0.8)
        self.assertGreater(found.high, -0.8)
        self.assertContains(page, "roven: ")

    def test_what_is_no_gate_is_refused_and_nothing_is_lost(self):
        log = self.simulate("before")
        for start in ("", "1 2 3", "a b c d", "5 5 5 5", "1e999 0 1 1"):
            answer = self.gate(log, 422, start=start)
            self.assertNotIn("runs", log.found)
            if start:
                self.assertContains(answer, start, status_code=422)
        self.gate(log, 422, from_kmh="50", to_kmh="60")

    def test_a_gpx_with_known_laps(self):
        rows = circle(laps=4)
        points = "".join(
            f'<trkpt lat="{lat:.8f}" lon="{lon:.8f}"><time>2026-05-01T10:{int(t) // 60:02d}:{t % 60:09.6f}Z</time></trkpt>'
            for t, lat, lon in rows
        )
        raw = f'<gpx xmlns="http://www.topografix.com/GPX/1/1"><trk><trkseg>{points}</trkseg></trk></gpx>'
        self.client.post(
            self.url("logs/add/"),
            {
                "kind": "run",
                "name": "circle",
                "when": "before",
                "taken_on": "2026-05-01",
                "file": SimpleUploadedFile("a.gpx", raw.encode()),
            },
        )
        log = Log.objects.latest("id")
        form = self.page(f"logs/{log.pk}/").context["form"]
        self.client.post(self.url(f"logs/{log.pk}/"), {name: form[name].value() or "" for name in form.fields})
        log.refresh_from_db()
        self.gate(log, start="360 5 360 100", least_s="5")
        # a quarter of the way round: three quarters of a lap and a quarter of the next, a second slower one
        for run, driven in zip(log.found["runs"], (30.25, 31.25, 32.25), strict=True):
            self.assertAlmostEqual(run["time_s"], driven, delta=0.02)

    def test_a_log_without_positions_is_refused_in_words(self):
        raw = b"time;speed\n0;1\n1;2\n2;3\n3;4\n4;5\n5;6\n"
        self.client.post(
            self.url("logs/add/"),
            {
                "kind": "run",
                "name": "x",
                "when": "before",
                "taken_on": "2026-05-01",
                "file": SimpleUploadedFile("a.csv", raw),
            },
        )
        log = Log.objects.latest("id")
        form = self.page(f"logs/{log.pk}/").context["form"]
        answer = self.client.post(self.url(f"logs/{log.pk}/"), {name: form[name].value() or "" for name in form.fields})
        self.assertContains(answer, "latitude", status_code=422)

    def test_a_strangers_log_is_not_there(self):
        self.page("prove/laps/999999/", 404)

    def test_the_logger_says_the_same_with_the_same_seed(self):
        self.assertEqual(streams.laps_csv(47.0, 3), streams.laps_csv(47.0, 3))
