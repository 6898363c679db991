"""Every kind of promise is declared whole, made by one function and held by one way."""

from django.test import SimpleTestCase

from rimcore.proof.promised import KINDS, kind_of
from rimcore.proof.ready import BY_KEY
from rimcore.work.modules import MODULES
from shell.tests.base import ScenarioCase
from workshop.models import Job, Promise
from workshop.promises import make
from workshop.promises.hold import HELD_BY, kept_promises


class Declared(SimpleTestCase):
    def test_each_is_made_once_and_held_by_something(self):
        made = [*make.OF_ANY, *make.OF_IN_HAND, *make.OF_SHEET]
        self.assertEqual(sorted(made), sorted(kind.code for kind in KINDS))
        self.assertLessEqual({kind.held_by for kind in KINDS}, set(HELD_BY))

    def test_each_is_moved_by_modules_that_there_are(self):
        for kind in KINDS:
            self.assertLessEqual(kind.moved_by or frozenset(), set(MODULES), kind.code)

    def test_runs_are_of_a_ready_series_in_the_same_unit(self):
        for kind in KINDS:
            self.assertEqual(kind.held_by == "runs", bool(kind.series), kind.code)
            if kind.series:
                self.assertEqual(BY_KEY[kind.series].unit, kind.unit)

    def test_each_doubt_says_where_it_is_from(self):
        for kind in KINDS:
            for doubt in filter(None, (kind.doubt, kind.read)):
                self.assertGreater(doubt.value, 0.0)
                self.assertRegex(doubt.source, "common practice|ETRTO|JCGM|ISO", kind.code)
            if kind.held_by in ("runs", "pads", "drive"):
                self.assertIsNotNone(kind.read, f"{kind.code}: what holds it has no ± of its own")

    def test_what_nothing_is_promised_of_is_said(self):
        with self.assertRaises(LookupError):
            kind_of("paint.colour")


class Places(ScenarioCase):
    def test_what_is_kept_says_where_by_letters(self):
        rows = list(Promise.objects.filter(job__car=self.car))
        self.assertTrue(rows)
        for row in rows:
            kind = kind_of(row.code)
            self.assertEqual(bool(row.place), kind.place != "car", row.code)
            if row.reading is not None:
                self.assertEqual(row.place, row.reading.corner)
        for job in Job.objects.filter(car=self.car, state="done", build__isnull=False):
            self.assertTrue(kept_promises(job.build))
