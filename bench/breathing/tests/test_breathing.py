"""Breathing, sound, cooling, brakes and logs on the pages.

What is typed is kept or told why not, and the figures are the command line's.
"""

from datetime import timedelta
from unittest.mock import patch

import numpy as np
from django.core.files.uploadedfile import SimpleUploadedFile
from django.urls import reverse
from django.utils import timezone

from bench.logs import views as log_views
from bench.logs.kinds import LOG_KINDS
from garage.car.models import Car, Driveline
from garage.engine.models import Cooling, Engine
from garage.logs.models import Log
from garage.person.models import Preferences
from garage.readings.models import Reading
from gauges import streams
from planner.models import Build, PipeRun
from rimcore.breathing.spectra import wav_of
from rimcore.breathing.typed import ACCEPTED_IN, parse_piece, parse_run
from rimcore.registry import CALCULATIONS
from shell.tests.base import ScenarioCase, read_anew
from shell.undo import last_change, undo


def csv(text, name="pull.csv"):
    return SimpleUploadedFile(name, text if isinstance(text, bytes) else text.encode(), "text/csv")


class Breathing(ScenarioCase):
    def run_of(self, page, kind):
        return next(run for run in page.context["runs"] if run["kind"] == kind)

    def test_losses_are_those_of_the_command_line(self):
        lines = "entry 70\npipe 70 x 400\nbend 70 90° r 100\nfilter 0.5 kPa at 0.1 kg/s\nreducer 70 to 60 x 80"
        page = self.client.get(self.url("check/breathing/"), {"kind": "intake", "lines": lines, "rpm": 6000, "air": 15})
        answer = CALCULATIONS["intake"].answer(
            {
                "displacement_L": 1.8,
                "rpm": 6000,
                "ve_pct": 92,
                "temperature_C": 15,
                "sections": [
                    {"kind": "entry", "diameter_mm": 70},
                    {"kind": "pipe", "diameter_mm": 70, "length_mm": 400},
                    {"kind": "bend", "diameter_mm": 70, "angle_deg": 90, "radius_mm": 100},
                    {"kind": "filter", "drop_kPa": 0.5, "at_kg_per_s": 0.1},
                    {"kind": "reducer", "diameter_mm": 70, "to_mm": 60, "length_mm": 80},
                ],
            }
        )
        self.assertAlmostEqual(self.run_of(page, "intake")["flow"].total_kpa, answer["total_kPa"], places=8)

    def test_a_limit_that_nobody_wrote_down_is_no_measurement(self):
        judged = {one.code: one for one in self.page("check/breathing/").context["judged"]}
        self.assertNotEqual(judged["breathing.exhaust"].state, "unmeasured")
        self.assertIn("limit", [used.name for used in judged["breathing.exhaust"].inputs])
        Driveline.objects.filter(car=self.car).delete()
        judged = {one.code: one for one in self.page("check/breathing/").context["judged"]}
        for kind in ("intake", "exhaust"):
            self.assertEqual(judged[f"breathing.{kind}"].state, "unmeasured")
            self.assertIn("the engine's limit", judged[f"breathing.{kind}"].reason)

    def test_a_recording_from_before_says_nothing_of_the_change(self):
        Log.objects.filter(car=self.car, kind="sound", when="after").delete()
        judged = {one.code: one for one in self.page("check/sound/").context["judged"]}
        self.assertEqual(judged["sound.drone"].state, "unmeasured")
        self.assertIn("as first recorded before the change: no tone", judged["sound.drone"].reason)

    def test_firing_orders_want_the_cylinders(self):
        self.assertEqual(len(self.page("check/sound/").context["orders"]), 5)
        Engine.objects.filter(car=self.car).delete()
        page = self.page("check/sound/")
        self.assertEqual(page.context["orders"], [])
        self.assertContains(page, "engine's cylinders")

    def test_a_fragment_answers_a_slider(self):
        build = PipeRun.objects.get(car=self.car, build__isnull=False, kind="exhaust")
        asked = {"kind": "exhaust", "lines": build.lines, "rpm": 4000, "piece": 4, "was": 4, "bore": 50}
        page = self.client.get(self.url("check/breathing/"), asked, headers={"HX-Request": "true"})
        self.assertContains(page, "pipe 50 x 1350")
        self.assertContains(page, "pipe 50 x 60, stainless")
        self.assertContains(page, "Put it into")
        picked = self.client.get(self.url("check/breathing/"), asked | {"was": 1}, headers={"HX-Request": "true"})
        self.assertContains(picked, "pipe 60 x 1350")

    def test_into_the_build_and_back_again(self):
        lines = "entry 76\nmeter 0.3 kPa at 0.1 kg/s bore 80\npipe 76 x 500, 2 clamps"
        answer = self.client.post(
            self.url("check/breathing/"),
            {"form": "run", "kind": "intake", "lines": lines, "pipes": "1", "where": "build"},
        )
        self.assertRedirects(answer, self.url("check/breathing/"))
        judged = {one.code: one for one in self.page("check/breathing/").context["judged"]}
        self.assertEqual(judged["breathing.meter"].state, "tight")
        Build.objects.filter(car=self.car, in_hand=True).update(tuning_on=None)
        judged = {one.code: one for one in self.page("check/breathing/").context["judged"]}
        self.assertEqual(judged["breathing.meter"].state, "hit")
        build = Build.objects.get(car=self.car, in_hand=True)
        build.tuning_on, build.first_drive_on = (
            timezone.localdate() + timedelta(days=9),
            timezone.localdate() + timedelta(days=8),
        )
        build.save()
        judged = {one.code: one for one in self.page("check/breathing/").context["judged"]}
        self.assertEqual(judged["breathing.meter"].state, "hit")
        undo(self.user, last_change(self.user).pk)
        self.assertIn("original housing", PipeRun.objects.get(car=self.car, build=build, kind="intake").lines)

    def test_what_is_not_understood_is_told_and_stays_typed(self):
        for lines, words in (
            ("tube 60 x 100", "begins with no piece"),
            ("pipe 60", "is not understood"),
            ("pipe 60 x 100, 2 clmaps", "not understood"),
            ("pipe 0.1 x 100", "out of range"),
            ("reducer 60 to 60 x 50", "another bore"),
            ("silencer 3 kPa at 0.1 kg/s", "holds at a temperature"),
            ("pipe 60 x 1\n" * 61, "60 at most"),
        ):
            with self.subTest(lines=lines[:30]):
                page = self.client.post(
                    self.url("check/breathing/"),
                    {"form": "run", "kind": "intake", "lines": lines, "pipes": "1", "where": "car"},
                )
                self.assertContains(page, words, status_code=422)
                self.assertContains(page, lines.split("\n")[0], status_code=422)
        self.assertNotIn("tube", PipeRun.objects.get(car=self.car, build=None, kind="intake").lines)

    def test_beside_a_line_that_is_not_understood_the_rest_stays_typed(self):
        page = self.client.get(
            self.url("check/breathing/"), {"kind": "intake", "lines": "pipe 7 x 320", "rpm": 6000, "air": "86 °F"}
        )
        self.assertContains(page, 'value="86 °F"', status_code=422)
        self.assertContains(page, 'value="6000"', status_code=422)

    def test_a_bore_that_chokes_is_told_on_the_page(self):
        page = self.client.get(
            self.url("check/breathing/"), {"kind": "intake", "lines": "pipe 12 x 500", "rpm": "6800"}
        )
        self.assertContains(page, "speed of sound")

    def test_the_engine_and_its_bounds(self):
        good = {
            "form": "engine",
            "displacement_l": "2.0",
            "cylinders": "4",
            "ve_pct": "95",
            "manifold_ratio": "1",
            "gas_in_c": "800",
            "gas_out_c": "400",
            "meter_mm": "2.75 in",
        }
        self.assertRedirects(self.client.post(self.url("check/breathing/"), good), self.url("check/breathing/"))
        self.assertAlmostEqual(Engine.objects.get(car=self.car).meter_mm, 69.85)
        for change in (
            {"displacement_l": "0"},
            {"cylinders": "0"},
            {"ve_pct": "500"},
            {"meter_mm": "0"},
            {"gas_in_c": ""},
        ):
            answer = self.client.post(self.url("check/breathing/"), good | change)
            self.assertEqual(answer.status_code, 422)
            self.assertEqual(Engine.objects.get(car=self.car).displacement_l, 2.0)

    def test_room_beside_the_exhaust_is_a_station(self):
        Reading.objects.create(
            car=self.car,
            outfit=self.car.outfits.last(),
            corner="",
            code="exhaust_body",
            values=[9.0],
            typed="9",
            uncertainty=1.0,
            who="Ina",
            taken_on=timezone.localdate(),
        )
        judged = {one.code: one for one in self.page("check/breathing/").context["judged"]}
        self.assertEqual(
            (judged["breathing.exhaust_body"].state, judged["breathing.exhaust_shaft"].state), ("tight", "unmeasured")
        )

    def test_nobody_elses(self):
        other = self.client_class()
        for rest in (
            "check/breathing/",
            "check/sound/",
            "check/cooling/",
            "check/cooling/live/",
            "check/brakes/",
            "logs/add/",
            "prove/pulls/",
            f"logs/{Log.objects.first().pk}/",
        ):
            self.assertEqual(other.get(self.url(rest)).status_code, 302)


class Logs(ScenarioCase):
    def add(self, kind, upload, **change):
        given = {
            "kind": kind,
            "name": "A log",
            "when": "before",
            "who": "Ina",
            "taken_on": "2026-11-02",
            "file": upload,
        }
        return self.client.post(self.url("logs/add/"), given | change)

    def test_a_pull_is_looked_at_named_and_kept(self):
        rpm = np.linspace(2000, 6000, 300)
        text = "n;kraft\n" + "\n".join(f"{r:.0f};{r / 100:.2f}".replace(".", ",") for r in rpm)
        kept = Log.objects.filter(car=self.car, draft=False).count()
        answer = self.add("pull", csv(text))
        log = Log.objects.get(car=self.car, draft=True)
        self.assertRedirects(answer, self.url(f"logs/{log.pk}/"))
        page = self.page(f"logs/{log.pk}/")
        self.assertContains(page, "300 rows, cells parted by semicolon, decimal comma")
        self.assertEqual(Log.objects.filter(car=self.car, draft=False).count(), kept)
        short = self.client.post(self.url(f"logs/{log.pk}/"), {"rpm": "0", "window_rpm": "200"})
        self.assertContains(short, "accepted: say which column it is", status_code=422)
        done = self.client.post(
            self.url(f"logs/{log.pk}/"), {"rpm": "0", "power": "1", "power_unit": "kW", "window_rpm": "200"}
        )
        self.assertRedirects(done, self.url("prove/pulls/"))
        log.refresh_from_db()
        self.assertEqual((log.draft, len(log.found["runs"]), log.found["window_rpm"]), (False, 1, 200.0))
        self.assertAlmostEqual(
            np.interp(4000, log.found["runs"][0]["rpm"], log.found["runs"][0]["kw"]), 40.0, delta=0.1
        )

    def test_a_day_that_is_corrected_and_one_that_says_too_little(self):
        rpm = np.linspace(2000, 6000, 300)
        self.add("pull", csv("rpm,power [kW]\n" + "\n".join(f"{r:.0f},{r / 100:.2f}" for r in rpm)))
        log = Log.objects.get(car=self.car, draft=True)
        asked = {"rpm": "0", "power": "1", "window_rpm": "200", "standard": "ISO 1585"}
        self.assertContains(
            self.client.post(self.url(f"logs/{log.pk}/"), asked), "temperature and absolute pressure", status_code=422
        )
        self.client.post(
            self.url(f"logs/{log.pk}/"), asked | {"temperature_c": "30", "pressure_kpa": "98 kPa", "humidity_pct": "50"}
        )
        log.refresh_from_db()
        factor = CALCULATIONS["power-correction"].answer(
            {"temperature_C": 30, "pressure_kPa": 98, "humidity_pct": 50, "standard": "ISO 1585"}
        )["factor"]
        self.assertAlmostEqual(log.found["factor"], factor, places=5)

    def test_wheel_power_from_time_and_speed(self):
        t = np.arange(0, 12, 0.1)
        speed = 3.6 * np.sqrt(2 * 40_000 * (t + 1) / 1100)
        text = "time [s],speed [km/h],rpm\n" + "\n".join(
            f"{a:.1f},{v:.4f},{v * 55:.1f}" for a, v in zip(t, speed, strict=True)
        )
        self.add("pull", csv(text))
        log = Log.objects.get(car=self.car, draft=True)
        self.client.post(
            self.url(f"logs/{log.pk}/"), {"rpm": "2", "time": "0", "speed": "1", "window_rpm": "200", "mass_kg": "1100"}
        )
        log.refresh_from_db()
        self.assertIn("left out", log.found["how"])
        kw = [one for one in log.found["runs"][0]["kw"] if one is not None]
        self.assertAlmostEqual(float(np.median(kw)), 40.0 * 1.06, delta=0.8)

    def test_files_that_are_none(self):
        count = Log.objects.count()
        for kind, upload, words in (
            ("pull", csv(""), "empty"),
            ("pull", csv("words only\nand more\n"), "no row of figures"),
            ("pull", csv(b"\x00\x01\x02,\x00\n"), "no text"),
            ("sound", csv(b"not a wave"), "no WAV"),
            ("sound", SimpleUploadedFile("x.wav", b"RIFF0000WAVE" + bytes(40)), "WAV"),
            ("sound", SimpleUploadedFile("x.wav", wav_of(np.zeros(300), 8000)), "lasts"),
        ):
            with self.subTest(words=words):
                answer = self.add(kind, upload)
                self.assertContains(answer, words, status_code=422)
                self.assertContains(answer, 'value="A log"', status_code=422)
        self.assertEqual(Log.objects.count(), count)

    def test_every_kind_is_declared_whole(self):
        self.assertEqual(set(LOG_KINDS), set(Log.KINDS))
        for one in LOG_KINDS.values():
            self.assertEqual(self.client.get(self.url(f"logs/add/?kind={one.code}")).status_code, 200)
            self.assertEqual(self.client.get(reverse(one.home, args=[self.car.pk])).status_code, 200)
            self.assertEqual(one.heard, not one.quantities)

    def test_a_file_is_parsed_once_from_upload_to_verdict(self):
        with patch("bench.logs.views._parsed", wraps=log_views._parsed) as parsed:
            answer = self.add("pull", csv("rpm,kW\n" + "".join(f"{2000 + 50 * k},{40 + k}\n" for k in range(60))))
            self.client.get(answer.url)
            self.client.post(answer.url, {"rpm": "0", "power": "1", "window_rpm": "200"})
        self.assertEqual(parsed.call_count, 1)

    def test_too_large_a_file_is_told(self):
        with patch("bench.logs.forms._most_bytes", lambda kind: 100):
            self.assertContains(self.add("pull", csv("rpm,kW\n" + "1,2\n" * 60)), "at most", status_code=422)

    def test_times_that_run_back(self):
        self.add("bleed", csv("time,top hose,lower hose\n0,20,20\n5,21,20\n4,22,20\n"))
        log = Log.objects.get(car=self.car, draft=True)
        answer = self.client.post(self.url(f"logs/{log.pk}/"), {"time": "0", "top_hose": "1", "lower_hose": "2"})
        self.assertContains(answer, "runs back or stands still at row 3", status_code=422)

    def test_a_bleed_run_from_a_file_is_judged(self):
        self.add("bleed", csv(streams.bleed_csv(streams.RUNS["bleeds"], 3)))
        log = Log.objects.get(car=self.car, draft=True)
        self.client.post(self.url(f"logs/{log.pk}/"), {"time": "0", "top_hose": "1", "lower_hose": "2", "coolant": "3"})
        shown = self.page("check/cooling/")
        self.assertContains(shown, "lower hose thin, coolant dashed")
        judged = {one.code: one for one in shown.context["judged"]}
        self.assertEqual(judged["cooling.bleed"].state, "clear")
        Cooling.objects.update_or_create(car=self.car, defaults={"cap_kpa": 30.0, "glycol_pct": 0.0})
        log.refresh_from_db()
        log.found = {**log.found, "most_c": 112.0}
        log.save()
        boiled = {one.code: one for one in self.page("check/cooling/").context["judged"]}["cooling.bleed"]
        self.assertEqual(boiled.state, "hit")
        self.assertIn("112 °C was reached", boiled.reason)
        log.refresh_from_db()
        self.assertAlmostEqual(log.found["opened"][0], 420.0, delta=10.0)

    def test_every_simulation_says_so_and_goes_the_same_way(self):
        for kind in LOG_KINDS.values():
            for one in kind.simulated:
                answer = self.client.post(self.url("logs/add/"), {"kind": kind.code, "simulate": one.code}, follow=True)
                self.assertContains(answer, "simulation")
                self.assertContains(answer, "not kept")
        self.assertEqual(
            self.client.post(self.url("logs/add/"), {"kind": "pull", "simulate": "nuclear"}).status_code, 404
        )
        self.assertEqual(self.client.get(self.url("logs/add/"), {"kind": "none"}).status_code, 404)

    def test_sound_is_absolute_only_beside_a_meter(self):
        t = np.arange(8000 * 4) / 8000
        self.add(
            "sound",
            SimpleUploadedFile(
                "x.wav",
                wav_of(0.3 * np.sin(2 * np.pi * 90 * t) + np.random.default_rng(1).normal(0, 0.01, len(t)), 8000),
            ),
            when="after",
            taken_on="2026-11-25",
        )
        log = Log.objects.get(car=self.car, draft=True)
        self.client.post(self.url(f"logs/{log.pk}/"), {"rpm": "2700"})
        self.assertEqual(self.page("check/sound/").context["judged"][0].state, "unmeasured")
        self.client.post(self.url(f"logs/{log.pk}/"), {"rpm": "2700", "meter_db": "99"})
        found = {one.code: one for one in self.page("check/sound/").context["judged"]}
        self.assertEqual((found["sound.level"].state, round(found["sound.level"].value)), ("hit", 99))
        self.assertEqual(found["sound.drone"].state, "hit")

    def test_a_calibrators_tone_makes_it_absolute(self):
        """A tone of 94 dB at a tenth of full scale; the recording a twentieth at 1 kHz: 6 dB less."""
        t = np.arange(8000 * 4) / 8000
        tone = lambda size: SimpleUploadedFile("x.wav", wav_of(size * np.sin(2 * np.pi * 1000 * t), 8000))  # noqa: E731
        self.add("sound", tone(0.05), when="after", taken_on="2026-11-25")
        log = Log.objects.get(car=self.car, draft=True)
        bad = self.client.post(self.url(f"logs/{log.pk}/"), {"tone": csv("no wave"), "tone_db": "94"})
        self.assertContains(bad, "no WAV", status_code=422)
        self.client.post(self.url(f"logs/{log.pk}/"), {"tone": tone(0.1), "tone_db": "94", "rpm": "2700"})
        page = self.page("check/sound/")
        self.assertAlmostEqual(page.context["absolute"], 94 - 20 * np.log10(2), delta=0.05)
        self.assertContains(page, "by a calibrator of 94 dB")

    def test_temperatures_and_pressures_over_time(self):
        self.add("temperature", csv("time [s];coolant [°F];boost [bar]\n0;194;0,4\n10;212;1,1\n20;203;0,9\n"))
        log = Log.objects.get(car=self.car, draft=True)
        self.assertContains(
            self.client.post(self.url(f"logs/{log.pk}/"), {"time": "0"}), "say which column", status_code=422
        )
        self.client.post(
            self.url(f"logs/{log.pk}/"),
            {"time": "0", "coolant": "1", "coolant_unit": "°F", "pressure": "2", "pressure_unit": "bar"},
        )
        log.refresh_from_db()
        self.assertEqual(
            {name: round(value, 6) for name, value in log.found["hottest"].items()},
            {"coolant": 100.0, "pressure": 110.0},
        )
        self.assertContains(self.page("check/cooling/"), "110.0 kPa")

    def test_both_shopping_lists_where_the_housing_is_larger(self):
        self.assertIsNone(self.page("check/breathing/").context["stages"])
        lines = "meter 0.3 kPa at 0.1 kg/s bore 80\npipe 76 x 500"
        self.client.post(
            self.url("check/breathing/"),
            {"form": "run", "kind": "intake", "lines": lines, "pipes": "1", "where": "build"},
        )
        page = self.page("check/breathing/")
        self.assertContains(page, "2 reducers 76 to 70 mm")
        self.assertContains(page, "the 80 mm housing with the car")

    def test_a_log_is_removed_and_comes_back(self):
        log = Log.objects.filter(car=self.car, kind="pull").first()
        self.client.post(self.url(f"logs/{log.pk}/remove/"))
        self.assertFalse(Log.objects.filter(pk=log.pk).exists())
        undo(self.user, last_change(self.user).pk)
        self.assertTrue(Log.objects.filter(pk=log.pk).exists())


class InInches(ScenarioCase):
    def test_an_engine_is_said_in_cubic_inches_and_litres_are_read_too(self):
        Preferences.objects.update_or_create(user=self.user, defaults={"length_unit": "in", "volume_unit": "US gal"})
        self.assertContains(self.page("check/breathing/"), "Displacement, cuin")
        for typed, litres in (("122", 122 * 0.016387064), ("2.0 L", 2.0)):
            data = {
                "form": "engine",
                "displacement_l": typed,
                "cylinders": "4",
                "ve_pct": "90",
                "manifold_ratio": "1",
                "gas_in_c": "750",
                "gas_out_c": "350",
            }
            answer = self.client.post(self.url("check/breathing/"), data)
            self.assertEqual(answer.status_code, 302, answer.context and answer.context["form"].errors)
            self.assertAlmostEqual(Engine.objects.get(car=self.car).displacement_l, litres, places=3)

    def test_what_the_page_says_of_a_line_it_reads_and_no_line_mixes_units(self):
        units = {"length_unit": "in", "mass_unit": "lb", "pressure_unit": "psi", "temperature_unit": "°F"}
        Preferences.objects.update_or_create(user=self.user, defaults=units)
        page = self.page("check/breathing/")
        for line in ACCEPTED_IN.values():
            self.assertContains(page, line.split(", or ")[0])
            parse_piece(line.split(", or ")[0], "in")
        lines = "".join(run["lines"] for run in page.context["runs"])
        self.assertIn(" psi at ", lines)
        self.assertNotRegex(lines, "kPa|kg|°C")
        by_kind = {
            run.kind: run.lines for run in PipeRun.objects.filter(car=self.car, build=self.car.builds.get(in_hand=True))
        }
        pieces = [
            one for run in page.context["runs"] if run["kind"] in by_kind for one in parse_run(run["lines"], "in")
        ]
        kept = [one for run in page.context["runs"] for one in parse_run(by_kind.get(run["kind"], ""))]
        self.assertGreater(len(pieces), 4)
        for read, known in zip(pieces, kept, strict=True):
            self.assertAlmostEqual(read.section.drop_kpa or 0.0, known.section.drop_kpa or 0.0, places=4)
            self.assertAlmostEqual(read.own_kg or 0.0, known.own_kg or 0.0, places=4)


class CoolingAndBrakes(ScenarioCase):
    def test_boiling_is_that_of_the_command_line(self):
        self.car = Car.objects.get(owner=self.user, nickname__startswith="Gannel")
        judged = {one.code: one for one in self.page("check/cooling/").context["judged"]}
        answer = CALCULATIONS["cooling"].answer({"cap_kPa": 90, "glycol_pct": 45, "coolant_C": 108})
        self.assertAlmostEqual(judged["cooling.margin"].value, answer["margin"]["value"], places=6)
        for change in (
            {"cap_kpa": "-1"},
            {"cap_kpa": ""},
            {"glycol_pct": "90"},
            {"coolant_c": "hot"},
            {"width_mm": "5 mm"},
        ):
            given = {"cap_kpa": "1.0", "glycol_pct": "50"} | change
            self.assertEqual(self.client.post(self.url("check/cooling/"), given).status_code, 422)
        self.assertEqual(Cooling.objects.get(car=self.car).cap_kpa, 90)
        self.client.post(
            self.url("check/cooling/"), {"cap_kpa": "20 kPa", "glycol_pct": "0", "coolant_c": "108", "coldest_c": "-12"}
        )
        judged = {one.code: one for one in self.page("check/cooling/").context["judged"]}
        self.assertEqual((judged["cooling.margin"].state, judged["cooling.frost"].state), ("hit", "hit"))
        # Steam tables (IAPWS-IF97, from memory): water at 0.12 MPa boils at 104.8 °C, at 0.125 MPa at 106.0 °C; here
        # 0.1213 MPa.
        self.assertAlmostEqual(judged["cooling.margin"].value, 105.1 - 108.0, delta=0.2)

    def test_glycol_that_nobody_read_is_not_known(self):
        self.assertNotContains(self.page("check/cooling/"), 'value="50"')
        given = {"cap_kpa": "90 kPa", "glycol_pct": "", "coolant_c": "100", "coldest_c": "-12"}
        self.assertEqual(self.client.post(self.url("check/cooling/"), given).status_code, 302)
        self.assertIsNone(Cooling.objects.get(car=self.car).glycol_pct)
        judged = {one.code: one for one in self.page("check/cooling/").context["judged"]}
        self.assertEqual(judged["cooling.frost"].state, "unmeasured")
        self.assertIn("how much glycol", judged["cooling.frost"].reason)
        # Water at 0.1913 MPa: 118.8 °C between 118.6 °C at 0.19 and 120.2 °C at 0.2 MPa (IAPWS-IF97, from memory).
        self.assertAlmostEqual(judged["cooling.margin"].value, 18.8, delta=0.3)
        self.assertTrue(any("boils first" in used.value for used in judged["cooling.margin"].inputs))
        self.client.get(self.url("check/cooling/live/?run=bleeds&from=0"))

    def test_a_run_watched_live(self):
        page = self.client.get(
            self.url("check/cooling/live/"), {"run": "bleeds", "from": "0"}, headers={"HX-Request": "true"}
        )
        self.assertContains(page, "The run has ended")
        self.assertEqual(page.context["judged"].state, "clear")
        locked = self.client.get(
            self.url("check/cooling/live/"), {"run": "locked", "from": "0"}, headers={"HX-Request": "true"}
        )
        self.assertEqual(locked.context["judged"].state, "tight")
        self.assertIn("air lock", locked.context["judged"].reason)
        Cooling.objects.update_or_create(car=self.car, defaults={"cap_kpa": 0.0, "glycol_pct": 0.0})
        boiling = self.client.get(
            self.url("check/cooling/live/"), {"run": "locked", "from": "0"}, headers={"HX-Request": "true"}
        )
        self.assertEqual(boiling.context["judged"].state, "hit")
        self.assertIn("the coolant at the engine reached", boiling.context["judged"].reason)
        for odd in ({"run": "x"}, {"run": "bleeds", "from": "x"}):
            self.assertEqual(self.client.get(self.url("check/cooling/live/"), odd).status_code, 404)

    def test_a_stop_is_that_of_the_command_line(self):
        self.car = Car.objects.get(owner=self.user, nickname__startswith="Strath")
        page = self.page("check/brakes/")
        one = page.context["one"]
        answer = CALCULATIONS["brakes"].answer(
            {
                "mass_kg": one.now.mass_kg,
                "from_kmh": 90,
                "deceleration_g": 0.6,
                "wheelbase_mm": 2250,
                "cg_height_mm": 655,
                "front_pct": one.now.front_pct,
                "loaded_radius_mm": dict(zip(("front", "rear"), one.now.radius_mm, strict=True)),
                "rotors_kg": {"front": 5.6, "rear": 1},
                "before": {
                    "mass_kg": one.before.mass_kg,
                    "loaded_radius_mm": dict(zip(("front", "rear"), one.before.radius_mm, strict=True)),
                },
            }
        )
        judged = {one.code: one for one in page.context["judged"]}
        self.assertAlmostEqual(judged["braking.pressure"].value, answer["pressure_change_pct"], places=8)
        self.assertAlmostEqual(judged["braking.rise.front"].value, answer["rise_C"]["front"], places=8)
        self.assertEqual(judged["braking.rise.rear"].state, "unmeasured")
        # what is towed is towed before and after
        self.assertLess(one.now.mass_kg - one.before.mass_kg, 60)
        self.assertIn("90 km/h to rest at 0.6 g", [used.value for used in judged["braking.pressure"].inputs])

    def test_without_a_height_nothing_is_guessed(self):
        Car.objects.filter(pk=self.car.pk).update(cg_height_mm=None)
        page = self.page("check/brakes/")
        self.assertContains(page, "the height of the centre of gravity")
        rises = [one for one in page.context["judged"] if one.code.startswith("braking.rise")]
        self.assertEqual({one.state for one in rises}, {"unmeasured"})

    def test_pulls_before_and_after(self):
        page = self.page("prove/pulls/")
        self.assertTrue(page.context["change"].verdict.startswith("proven"))
        Log.objects.filter(car=self.car, kind="pull", when="after").delete()
        self.assertContains(self.page("prove/pulls/"), "Most:")
        Log.objects.filter(car=self.car, kind="pull").delete()
        self.assertContains(self.page("prove/pulls/"), "No pull is kept")

    @read_anew
    def test_pages_cost_the_same_whatever_is_kept(self):
        from django.db import connection
        from django.test.utils import CaptureQueriesContext

        counts = []
        for _ in range(2):
            with CaptureQueriesContext(connection) as asked:
                for rest in ("check/breathing/", "check/sound/", "check/cooling/", "check/brakes/", "prove/pulls/"):
                    self.page(rest)
            counts.append(len(asked))
            for log in list(Log.objects.filter(car=self.car)):
                log.pk = None
                log.save()
        self.assertEqual(counts[0], counts[1])


class Parts(ScenarioCase):
    def test_every_new_family_has_a_page_and_judges(self):
        from rimcore.families import FAMILIES, GROUPS
        from rimcore.lines import parse_line
        from shelf.services import add_line

        wanted = [
            key
            for name, keys in GROUPS
            if name in ("Intake", "Exhaust", "Cooling", "Gears and shifter", "Brakes")
            for key in keys
        ]
        for key in wanted:
            add_line(self.car, self.user, parse_line(FAMILIES[key].example))
        for key in wanted:
            self.assertContains(self.page(f"choose/parts/{key}/"), FAMILIES[key].plural.capitalize().split()[0])


class Limit(ScenarioCase):
    def test_the_limit_is_asked_with_the_engine_and_needs_no_gears(self):
        Driveline.objects.filter(car=self.car).delete()
        judged = {one.code: one for one in self.page("check/breathing/").context["judged"]}
        self.assertIn("the engine's limit", judged["breathing.exhaust"].reason)
        Engine.objects.filter(car=self.car).update(limit_rpm=6400)
        judged = {one.code: one for one in self.page("check/breathing/").context["judged"]}
        self.assertNotIn("the engine's limit", judged["breathing.exhaust"].reason)
        used = {(one.name, one.value, one.source) for one in judged["breathing.exhaust"].inputs}
        self.assertIn(("limit", "6400 rpm", "the engine's data"), used)
