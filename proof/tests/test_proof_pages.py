"""Proving: promises held, runs compared, outliers kept."""

import re
from dataclasses import replace

from proof.honest import kinds_of, pair_of, rows_of, unit_of
from proof.models import Run, Series
from proof.queries import fitted_build, held_of, measured_twice, promises, series_of, strips
from rimcore.proof.change import Asked
from rimcore.proof.promised import kind_of
from rimcore.proof.words import verdict_of
from rimcore.quantities.judgement import Judgement
from shell.tests.base import ScenarioCase
from workshop.promises.hold import Held


class Proof(ScenarioCase):
    def test_promised_then_measured(self):
        rows = {row.name: row for row in promises(self.file())}
        damper = rows["Damper at 262 mm, front left"]
        self.assertEqual((damper.measured, damper.state), ("15.5\u2009mm", "clear"))
        self.assertEqual(rows["Weight, whole car"].promised, "−11.2\u2009kg")
        # the first weighing found −10.5; the second lost 68.0 kg where the ledger tells 67.4
        self.assertEqual(rows["Weight, whole car"].measured, "−11.1\u2009kg")
        self.assertEqual(rows["Hours"].state, "hit")
        self.assertIn("Money", rows)

    def test_measured_twice_holds_gaps_heights_masses_and_speed(self):
        names = {row.name for row in measured_twice(self.file())}
        self.assertLessEqual(
            {
                "Damper",
                "Arch lip at 12 o'clock",
                "Ride height",
                "Whole car on a scale",
                "True speed at an indicated 100 km/h",
            },
            names,
        )

    def test_strips_say_what_the_core_says(self):
        file = self.file()
        for strip in strips(file, series_of(file)):
            runs = [r for r in strip.series.runs.all() if not r.side]
            before = [r.value for r in runs if r.outfit_id == file.baseline.pk]
            after = [r.value for r in runs if r.outfit_id == file.current.pk]
            if not (before and after):
                continue
            self.assertAlmostEqual(
                strip.comparison.low, verdict_of(Asked(tuple(before), tuple(after))).change.low, places=9
            )
            self.assertIn("proven:" if strip.comparison.real else "not proven", strip.sentence)

    def test_runs_are_noted_left_out_and_counted_again(self):
        series = Series.objects.get(name="Hill sprint")
        outfit = self.file().current
        self.client.post(
            self.url(f"prove/{series.pk}/"), {"values": "38,7 45.2", "ran_on": "2026-01-05", "outfit": outfit.pk}
        )
        outlier = Run.objects.get(value=45.2)
        self.client.post(self.url(f"prove/run/{outlier.pk}/"), {"why": "missed a gear"})
        strip = strips(self.file(), [Series.objects.prefetch_related("runs__outfit").get(pk=series.pk)])[0]
        self.assertTrue(any(dot.left_out for dot in strip.dots))
        self.assertLess(strip.comparison.mean_after, 39.5)
        self.client.post(self.url(f"prove/run/{outlier.pk}/"), {"why": ""})
        outlier.refresh_from_db()
        self.assertEqual(outlier.left_out_why, "")

    def test_a_tank_is_reckoned_in_the_persons_unit_and_corrected_for_the_tyres(self):
        file = self.file()
        end = file.driven_end
        ratio = file.fitted(file.current, end).tyre.diameter_mm / file.fitted(file.baseline, end).tyre.diameter_mm
        Series.objects.filter(name="Fuel used").delete()
        self.client.post(self.url("prove/"), {"ready": "fuel"})
        series = Series.objects.get(car=file.car, name="Fuel used")
        filled = {"ran_on": "2026-01-05", "outfit": file.current.pk, "note": "home pump"}
        self.client.post(self.url(f"prove/{series.pk}/"), {"volume_l": "38.2", "trip_km": "540", **filled})
        kept = series.runs.get()
        self.assertAlmostEqual(kept.value, 100 * 38.2 / (540 * ratio))
        self.assertIn("home pump", kept.note)
        refused = self.client.post(self.url(f"prove/{series.pk}/"), {"volume_l": "38.2", "trip_km": "2", **filled})
        self.assertContains(refused, "home pump", status_code=422)
        self.assertEqual(series.runs.count(), 1)

    def test_miles_per_gallon_are_better_when_more(self):
        settings = self.file().preferences
        settings.distance_unit, settings.volume_unit, settings.fuel_unit = "mi", "US gal", "mpg US"
        settings.save()
        Series.objects.filter(name="Fuel used").delete()
        self.client.post(self.url("prove/"), {"ready": "fuel"})
        series = Series.objects.get(name="Fuel used")
        self.assertEqual((series.unit, series.better), ("mpg US", "more"))
        file = self.file()
        self.client.post(
            self.url(f"prove/{series.pk}/"),
            {"volume_l": "10", "trip_km": "320", "ran_on": "2026-01-05", "outfit": file.baseline.pk},
        )
        self.assertAlmostEqual(series.runs.get().value, 32.0, places=6)
        self.assertNotContains(self.client.get(self.url(f"prove/{series.pk}/")), "L/100")

    def test_refused(self):
        series = Series.objects.first()
        for values, words in (("fast", "no figure"), ("nan", "out of range"), ("1e400", "out of range")):
            response = self.client.post(
                self.url(f"prove/{series.pk}/"),
                {"values": values, "ran_on": "2026-01-05", "outfit": self.file().current.pk},
            )
            self.assertContains(response, words, status_code=422)
            self.assertContains(response, values, status_code=422)
        twin = self.client.post(self.url("prove/"), {"name": series.name, "better": "less"})
        self.assertContains(twin, "of that name", status_code=422)

    def test_a_limit_is_held(self):
        sound = next(s for s in strips(self.file(), series_of(self.file())) if s.series.limit)
        self.assertIn("limit 92, kept", sound.sentence)


class Honest(ScenarioCase):
    def gaps(self):
        return next(one for one in kinds_of(rows_of(self.user)) if one.kind.code == "gap.")

    def test_gaps_are_those_of_the_proof_by_hand(self):
        """Mean error and coverage worked out again from what the proof's own table says."""
        rows = [one for one in held_of(self.file(), fitted_build(self.file())) if one.kind.code == "gap." and one.value]
        errors = [one.value - one.promised for one in rows]
        stated = [(one.said.uncertainty**2 + one.reading.uncertainty**2) ** 0.5 for one in rows]
        found = self.gaps().found
        self.assertGreaterEqual(found.n, 5)
        self.assertEqual(found.n, len(rows))
        self.assertAlmostEqual(found.bias, sum(errors) / len(errors))
        inside = sum(abs(error) <= pm for error, pm in zip(errors, stated, strict=True))
        self.assertAlmostEqual(found.covered_pct, 100 * inside / len(rows))
        self.assertContains(self.page("prove/honest/"), self.gaps().advice)

    def test_in_inches_the_mean_error_is_in_inches(self):
        settings = self.file().preferences
        settings.length_unit = "in"
        settings.save()
        inches = self.gaps().found.bias / 25.4
        text = self.client.get(self.url("prove/honest/")).content.decode()
        shown = [float(one.replace("−", "-")) for one in re.findall(r"([+−]\d+\.\d+)[\s\u2009]*in\b", text)]
        self.assertTrue(any(abs(one - inches) < 0.006 for one in shown), (inches, shown[:4]))

    def test_what_was_not_read_is_no_pair_and_two_currencies_are_two_kinds(self):
        kind = kind_of("work.money")
        said = Judgement("work.money", "Money", "clear", "", "", value=100.0, unit="EUR")
        self.assertIsNone(pair_of(Held(kind, "", said, 100.0, None, "unmeasured")))
        here, there = (
            Held(kind, "", said, 100.0, 90.0, "clear"),
            Held(kind, "", replace(said, unit="USD"), 1.0, 2.0, "hit"),
        )
        self.assertNotEqual(unit_of(here), unit_of(there))
        self.assertAlmostEqual(pair_of(here).pm, 10.0)
