"""Taking everything along, and removing an account."""

import io
import json
import zipfile
from unittest.mock import patch

from django.contrib.auth.models import User
from django.core import serializers
from django.core.files.storage import default_storage
from django.test import override_settings

from garage.car.models import Car
from garage.readings.models import Reading
from shell.tests.base import ScenarioCase
from workshop.models import Job, Photo


class Account(ScenarioCase):
    def archive(self):
        answer = self.client.get("/account/export/")
        self.assertIn("attachment", answer["Content-Disposition"])
        return zipfile.ZipFile(io.BytesIO(b"".join(answer.streaming_content)))

    def test_the_archive_holds_every_row_and_picture_of_ones_own(self):
        other = self.person()
        Car.objects.create(owner=other, nickname="Not mine", use="street", drive="F", odometer_km=0, currency="EUR")
        archive = self.archive()
        whole = json.loads(archive.read("garage.json"))
        tables = whole["tables"]
        self.assertEqual(len(tables["garage.car"]), self.user.cars.count())
        self.assertEqual(len(tables["garage.reading"]), Reading.objects.filter(car__owner=self.user).count())
        self.assertEqual(len(tables["workshop.job"]), Job.objects.filter(car__owner=self.user).count())
        self.assertNotIn("Not mine", archive.read("garage.json").decode())
        self.assertNotIn("password", archive.read("garage.json").decode())
        photos = [photo.image.name for photo in Photo.objects.filter(job__car__owner=self.user)]
        self.assertTrue(photos)
        self.assertLessEqual({f"pictures/{name}" for name in photos}, set(archive.namelist()))

    def test_rows_go_through_a_few_at_a_time_and_none_is_lost_or_doubled(self):
        whole = json.loads(self.archive().read("garage.json"))["tables"]
        read = []
        serialize = serializers.serialize

        def seen(form, rows):
            read.append(len(rows))
            return serialize(form, rows)

        with patch("exchange.account.CHUNK", 7), patch("exchange.account.serializers.serialize", seen):
            few = json.loads(self.archive().read("garage.json"))["tables"]
        self.assertEqual(few, whole)
        self.assertEqual(max(read), 7)
        self.assertEqual(sum(read), sum(len(rows) for rows in whole.values()))

    def test_the_demos_own_account_stays(self):
        self.client.post("/account/leave/", {"name": self.user.username, "sure": "on"})
        self.assertTrue(User.objects.filter(pk=self.user.pk).exists())


class Leaving(ScenarioCase):
    @override_settings(DEMO=False)
    def test_it_is_asked_twice_and_then_all_of_it_goes(self):
        other = self.person()
        Car.objects.create(owner=other, nickname="Stays", use="street", drive="F", odometer_km=0, currency="EUR")
        names = [photo.image.name for photo in Photo.objects.filter(job__car__owner=self.user)]
        self.assertContains(self.client.get("/account/leave/"), "download your data")
        for wrong in ({}, {"name": self.user.username}, {"name": "somebody", "sure": "on"}):
            self.assertEqual(self.client.post("/account/leave/", wrong).status_code, 422)
        self.assertTrue(User.objects.filter(pk=self.user.pk).exists())
        with self.captureOnCommitCallbacks(execute=True):
            self.client.post("/account/leave/", {"name": self.user.username, "sure": "on"})
        self.assertFalse(User.objects.filter(pk=self.user.pk).exists())
        self.assertEqual([car.nickname for car in Car.objects.all()], ["Stays"])
        self.assertEqual([name for name in names if default_storage.exists(name)], [])
        self.assertEqual(self.client.get("/settings/").status_code, 302)

    @override_settings(KEEP_PAGES=True, DEMO=False)
    def test_one_who_leaves_gets_an_answer_where_pages_are_kept(self):
        answer = self.client.post("/account/leave/", {"name": self.user.username, "sure": "on"})
        self.assertEqual(answer.status_code, 302)
        self.assertFalse(User.objects.filter(pk=self.user.pk).exists())
