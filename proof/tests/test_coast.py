"""The coast-down sheet: from a file to its figures, less than was hoped told as such, GPX and what is none, and tanks."""

from django.core.files.uploadedfile import SimpleUploadedFile

from garage.logs.models import Log
from gauges import streams
from rimcore.registry import CALCULATIONS
from shell.tests.base import ScenarioCase

ROAD = {
    "time": "0",
    "speed": "1",
    "heading": "2",
    "ways": "heading",
    "mass_kg": "1295",
    "temperature_c": "9",
    "pressure_kpa": "99.4 kPa",
    "humidity_pct": "70",
}
BOMB = b'<?xml version="1.0"?><!DOCTYPE gpx [<!ENTITY a "aaaaaaaa"><!ENTITY b "&a;&a;&a;">]><gpx><trk>&b;</trk></gpx>'


class Sheet(ScenarioCase):
    def add(self, raw, name="road.csv", **more):
        said = {"kind": "coast", "name": "Long straight", "when": "after", "taken_on": "2026-11-20", "who": "Ina"}
        return self.client.post(self.url("logs/add/"), said | more | {"file": SimpleUploadedFile(name, raw)})

    def test_the_demo_shows_less_than_was_hoped(self):
        page = self.page("prove/coast/")
        drag = page.context["changes"][0]
        self.assertFalse(drag.real)
        self.assertContains(page, "not proven")
        self.assertAlmostEqual(page.context["loads"]["before"].cda_m2, 0.67, delta=0.03)
        self.assertEqual(page.context["loads"]["after"].runs, (3, 3))
        self.assertEqual(
            [one.name for one in page.context["charts"]],
            ["Force, over km/h", "Out, 3 runs", "Back, 3 runs", "Scatter round the curve, every run"],
        )

    def test_figures_are_those_of_the_command_line(self):
        log = Log.objects.get(car=self.car, kind="coast", when="before")
        runs = [
            {
                "direction": "out" if one["way"] == 1 else "back",
                "t_s": one["t"],
                "v_kmh": [round(v, 3) for v in one["v"]],
            }
            for one in log.found["runs"]
        ]
        answer = CALCULATIONS["coastdown"].answer(
            {
                "runs": runs,
                "mass_kg": 1295,
                "air": {"temperature_C": 9, "pressure_kPa": 99.4, "humidity_pct": 70},
            }
        )
        load = self.page("prove/coast/").context["loads"]["before"]
        self.assertAlmostEqual(load.cda_m2, answer["cda_m2"], delta=0.002)
        self.assertAlmostEqual(load.a_n, answer["a_N"], delta=1.5)
        self.assertAlmostEqual(load.wind_mps, answer["wind_mps"], delta=0.05)

    def test_a_file_is_looked_at_and_kept(self):
        Log.objects.filter(car=self.car, kind="coast", when="after").delete()
        answer = self.add(streams.coast_csv(0.55, 1295.0, 9))
        self.assertEqual(answer.status_code, 302)
        self.assertContains(self.client.get(answer.url), "Runs are told apart")
        self.assertRedirects(self.client.post(answer.url, ROAD), self.url("prove/coast/"))
        page = self.page("prove/coast/")
        self.assertTrue(page.context["changes"][0].real)
        self.assertContains(page, "proven")

    def test_a_track_as_gpx(self):
        Log.objects.filter(car=self.car, kind="coast", when="after").delete()
        points, lat = [], 50.0
        for k in range(60):
            kmh = 30.0 + 4.0 * k if k < 18 else 98.0 - 1.1 * (k - 18)
            points.append(f'<trkpt lat="{lat:.7f}" lon="8"><time>2026-05-01T10:00:{k:02d}Z</time></trkpt>')
            lat += kmh / 3.6 / 111_195.0
        raw = (
            '<gpx xmlns="http://www.topografix.com/GPX/1/1"><trk><trkseg>' + "".join(points) + "</trkseg></trk></gpx>"
        ).encode()
        answer = self.add(raw, "road.gpx")
        self.assertRedirects(self.client.post(answer.url, ROAD | {"ways": "out"}), self.url("prove/coast/"))
        self.assertContains(self.page("prove/coast/"), "still in the")

    def test_what_is_none_is_told_and_nothing_is_kept(self):
        before = Log.objects.filter(car=self.car).count()
        for raw, words in (
            (BOMB, "declares entities"),
            (b"<kml></kml>", "is no GPX"),
            (b"", "file"),
            (b"just words\nand more", "no row of figures"),
        ):
            self.assertContains(self.add(raw), words, status_code=422)
        self.assertEqual(Log.objects.filter(car=self.car).count(), before)
        flat = b"time [s],speed [km/h]\n" + b"\n".join(b"%d,80" % k for k in range(60))
        answer = self.add(flat)
        for change, words in (
            ({}, "no coast-down"),
            ({"mass_kg": ""}, "required"),
            ({"ways": "heading", "heading": ""}, "no"),
        ):
            said = {**ROAD, "heading": "", "ways": "alternate", **change}
            self.assertContains(self.client.post(answer.url, said), words, status_code=422)
        self.assertFalse(Log.objects.get(name="Long straight").found)

    def test_without_a_coast_down_it_says_so(self):
        Log.objects.filter(car=self.car, kind="coast").delete()
        self.assertContains(self.page("prove/coast/"), "No coast-down is kept")

    def test_how_many_tanks(self):
        self.assertEqual(self.page("prove/coast/?claim=5&scatter=5").context["count"], 16)
        self.assertContains(
            self.client.get(self.url("prove/coast/?claim=0&scatter=5")), "greater than or equal", status_code=422
        )

    def test_the_simulation_is_named_and_goes_the_way_of_every_file(self):
        answer = self.client.post(self.url("logs/add/"), {"kind": "coast", "simulate": "panelled"})
        self.assertContains(self.client.get(answer.url), "Position logger (simulation)")
