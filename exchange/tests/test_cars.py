"""A car as one file: lossless there and back, into another account too; what is damaged, foreign or hostile is refused."""

import io
import json
import random
import zipfile

from django.contrib.auth.models import User
from django.core.files.uploadedfile import SimpleUploadedFile
from django.core.management import call_command
from django.test import TestCase
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st
from hypothesis.extra.django import TestCase as HypothesisCase
from jsonschema import Draft202012Validator

from exchange.cars import FORMAT, export_car, import_car, rows_of_car
from exchange.schema import KEPT, schema
from garage.car.models import Car, Outfit
from garage.file import open_file
from garage.inhand import everything_in_hand
from garage.readings.models import Reading
from planner.models import Build
from rimcore.quantities.errors import BadInput
from shell.tests.base import ScenarioCase


def plain(car):
    """Every row of a car by table, each number replaced by its place in its table."""
    rows = rows_of_car(car)
    place = {}
    for model, each in rows.items():
        place |= {(model._meta.concrete_model, row.pk): f"{model._meta.label}#{k}" for k, row in enumerate(each)}
    found = {}
    for model, each in rows.items():
        found[model._meta.label] = [
            {
                one.name: place.get((one.related_model._meta.concrete_model, getattr(row, one.attname)))
                if one.is_relation
                else bool(getattr(row, one.name))
                if one.get_internal_type() in ("FileField", "ImageField")
                else getattr(row, one.name)
                for one in model._meta.concrete_fields
                if not one.primary_key and one.name not in ("owner", "tolerance")
            }
            for row in each
        ]
    return found


class RoundTrip(ScenarioCase):
    def test_every_field_of_the_demos_cars_comes_back(self):
        other = User.objects.create_user("other", password="long enough a word")
        for car in Car.objects.filter(owner=self.user):
            came = import_car(export_car(car), other)
            again = Car.objects.get(pk=came.car_id)
            self.assertEqual(again.owner, other)
            before, after = plain(car), plain(again)
            self.assertEqual(set(before), set(after))
            for label, rows in before.items():
                self.assertEqual(after[label], rows, label)

    def test_every_judgement_is_the_same(self):
        other = User.objects.create_user("other", password="long enough a word")
        came = import_car(export_car(self.car), other)
        theirs = open_file(other, came.car_id)
        mine = [(j.code, j.where, j.state, j.value, j.margin) for j in everything_in_hand(self.file())]
        self.assertEqual([(j.code, j.where, j.state, j.value, j.margin) for j in everything_in_hand(theirs)], mine)

    def test_pages_of_it_are_shown(self):
        came = import_car(export_car(self.car), self.user, again="both")
        for rest in ("", "measure/", "choose/", "plan/", "fit/", "prove/", "prove/book/"):
            self.assertEqual(self.client.get(f"/car/{came.car_id}/{rest}").status_code, 200, rest)

    def test_a_check_writes_nothing(self):
        before = Car.objects.count(), Reading.objects.count()
        came = import_car(export_car(self.car), self.user, check=True, again="both")
        self.assertIsNone(came.car_id)
        self.assertGreater(came.rows["garage.reading"], 20)
        self.assertEqual((Car.objects.count(), Reading.objects.count()), before)

    def test_on_the_page_and_on_the_command_line(self):
        answer = self.client.get(self.url("export/"))
        raw = b"".join(answer.streaming_content)
        page = self.client.post("/account/import/", {"file": SimpleUploadedFile("car.zip", raw), "check": "on"})
        self.assertContains(page, "is of a car that is here already", status_code=422)
        both = {"again": "both"}
        page = self.client.post("/account/import/", {"file": SimpleUploadedFile("car.zip", raw), "check": "on"} | both)
        self.assertContains(page, "Nothing is written yet")
        self.client.post("/account/import/", {"file": SimpleUploadedFile("car.zip", raw)} | both)
        self.assertEqual(Car.objects.filter(nickname=self.car.nickname).count(), 2)
        page = self.client.post("/account/import/", {"file": SimpleUploadedFile("car.zip", b"no archive")})
        self.assertContains(page, "is no archive", status_code=422)

    def test_commands(self):
        import tempfile
        from pathlib import Path

        with tempfile.TemporaryDirectory() as work:
            name = Path(work, "car.zip")
            call_command("export_car", self.car.nickname, str(name), stdout=io.StringIO())
            out = io.StringIO()
            call_command("import_car", str(name), to=self.user.username, check=True, again="both", stdout=out)
            self.assertIn("would come", out.getvalue())
            call_command("import_car", str(name), to=self.user.username, again="both", stdout=io.StringIO())
        self.assertEqual(Car.objects.filter(nickname=self.car.nickname).count(), 2)


class Published(ScenarioCase):
    def test_the_schema_in_docs_is_what_the_tables_are_and_is_one_itself(self):
        self.assertEqual(json.loads(KEPT.read_text()), schema(), "./manage.py car_schema writes it anew")
        Draft202012Validator.check_schema(schema())

    def test_the_demos_cars_are_written_as_it_says_and_what_is_not_is_told(self):
        checked = Draft202012Validator(schema(), format_checker=Draft202012Validator.FORMAT_CHECKER)
        for car in Car.objects.filter(owner=self.user):
            with zipfile.ZipFile(export_car(car)) as archive:
                said = json.loads(archive.read("car.json"))
            self.assertEqual([error.message for error in checked.iter_errors(said)][:3], [])
        for wrong in (
            {"format": "other"},
            {"tables": {}},
            {"tables": said["tables"] | {"auth.user": []}},
            {"tables": said["tables"] | {"garage.car": [{"model": "garage.car", "pk": 1, "fields": {"owner": 1}}]}},
            {"tables": said["tables"] | {"garage.reading": [{"model": "garage.reading", "pk": "1", "fields": {}}]}},
        ):
            self.assertTrue(list(checked.iter_errors(said | wrong)), list(wrong))


class RandomCars(HypothesisCase):
    @settings(max_examples=40, deadline=None, suppress_health_check=list(HealthCheck))
    @given(st.integers(0, 10**6))
    def test_a_random_car_comes_back(self, seed):
        chance = random.Random(seed)
        owner = User.objects.create(username=f"o{seed}-{chance.random()}")
        car = Car.objects.create(owner=owner, nickname=f"Car {seed}", odometer_km=chance.randrange(10**5))
        outfit = Outfit.objects.create(car=car, name="now", is_baseline=True)
        for k in range(chance.randrange(6)):
            Build.objects.create(car=car, name=f"b{k}", in_hand=k == 0, follows=car.builds.first() if k else None)
        for _ in range(chance.randrange(8)):
            Reading.objects.create(
                car=car,
                outfit=outfit,
                corner=chance.choice(("FL", "RR")),
                code="damper",
                values=[chance.uniform(5, 60)],
                typed="x",
                uncertainty=1.0,
                where={"height_mm": chance.randrange(100, 400)},
            )
        other = User.objects.create_user(f"other{seed}")
        again = Car.objects.get(pk=import_car(export_car(car), other).car_id)
        self.assertEqual(plain(again), plain(Car.objects.get(pk=car.pk)))


class Hostile(TestCase):
    @classmethod
    def setUpTestData(cls):
        cls.owner = User.objects.create_user("a", password="long enough a word")
        cls.car = Car.objects.create(owner=cls.owner, nickname="Mine")
        Outfit.objects.create(car=cls.car, name="now", is_baseline=True)
        cls.good = json.loads(zipfile.ZipFile(export_car(cls.car)).read("car.json"))

    def archive(self, whole, **files):
        out = io.BytesIO()
        with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as made:
            if whole is not None:
                made.writestr("car.json", whole if isinstance(whole, (str, bytes)) else json.dumps(whole))
            for name, content in files.items():
                made.writestr(name.replace("__", "/").replace("DOT", "."), content)
        out.seek(0)
        return out

    def changed(self, **change):
        whole = json.loads(json.dumps(self.good))
        for label, fields in change.items():
            whole["tables"][label.replace("__", ".")][0]["fields"] |= fields
        return whole

    def cases(self):
        """Thirty and more files that are none of ours."""
        good = self.good
        table = {"format": FORMAT, "tables": good["tables"]}
        yield io.BytesIO(b"")
        yield io.BytesIO(b"PK\x03\x04 cut off")
        yield io.BytesIO(b"\0" * 100_000)
        yield self.archive(None)
        yield self.archive("")
        yield self.archive("nonsense")
        yield self.archive("[" * 100_000)
        yield self.archive('{"a":' * 50_000)
        yield self.archive("9" * 10_000)
        yield self.archive(b"\xff\xfe\x00")
        yield self.archive("[]")
        yield self.archive("{}")
        yield self.archive({"format": "other-1", "tables": {}})
        yield self.archive({"format": FORMAT, "tables": []})
        yield self.archive({"format": FORMAT, "tables": {}})
        yield self.archive({**table, "tables": {**good["tables"], "auth.user": [{"pk": 1, "fields": {}}]}})
        yield self.archive({**table, "tables": {**good["tables"], "garage.preferences": [{"pk": 1, "fields": {}}]}})
        yield self.archive({**table, "tables": {**good["tables"], "garage.reading": "x"}})
        yield self.archive({**table, "tables": {**good["tables"], "garage.reading": [None]}})
        yield self.archive({**table, "tables": {**good["tables"], "garage.reading": [{"pk": 1}]}})
        yield self.archive(
            {**table, "tables": {**good["tables"], "garage.reading": [{"pk": 1, "fields": {"car": 99}}]}}
        )
        yield self.archive({**table, "tables": {"garage.car": good["tables"]["garage.car"] * 2}})
        yield self.archive({**table, "tables": {"garage.outfit": good["tables"]["garage.outfit"]}})
        yield self.archive(self.changed(garage__car={"owner": 1}))
        yield self.archive(self.changed(garage__car={"is_staff": True}))
        yield self.archive(self.changed(garage__car={"odometer_km": "many"}))
        yield self.archive(self.changed(garage__car={"odometer_km": 10**30}))
        yield self.archive(self.changed(garage__car={"nickname": "x" * 5000}))
        yield self.archive(self.changed(garage__outfit={"car": 12345}))
        yield self.archive(self.changed(garage__outfit={"since": "the day before"}))
        yield self.archive(self.changed(garage__outfit={"car": {"a": 1}}))
        yield self.archive(good, DOTDOT__etc__passwd=b"x")
        yield self.archive(good, __etc__passwd=b"x")
        yield self.archive(good, programDOTexe=b"x")
        yield self.archive(good, files__bomb=b"\0" * (8 * 1024**2))
        yield self.archive("{" + " " * (4 * 1024**2) + "}")

    def test_each_is_refused_in_words_and_nothing_is_written(self):
        count = 0
        for k, made in enumerate(self.cases()):
            for again in ("both", "merge"):
                made.seek(0)
                with self.subTest(k, again=again), self.assertRaises(BadInput):
                    import_car(made, self.owner, again=again)
            count += 1
        self.assertGreaterEqual(count, 30)
        self.assertEqual((Car.objects.count(), Outfit.objects.count()), (1, 1))

    def test_what_no_page_could_read_is_refused_now(self):
        Build.objects.create(car=self.car, name="b", in_hand=True)
        whole = json.loads(zipfile.ZipFile(export_car(self.car)).read("car.json"))
        week = {"build": whole["tables"]["planner.build"][0]["pk"], "week_hours": ["a", {}], "away": 7, "extra": []}
        whole["tables"]["planner.buildweek"] = [{"pk": 1, "fields": week}]
        with self.assertRaisesRegex(BadInput, "no page can read"):
            import_car(self.archive(whole), self.owner, again="both")
        self.assertEqual(Car.objects.count(), 1)

    def test_an_older_file_without_a_newer_column_is_read(self):
        whole = json.loads(json.dumps(self.good))
        del whole["tables"]["garage.car"][0]["fields"]["track_days"]
        came = import_car(self.archive(whole), self.owner, again="both")
        self.assertEqual(Car.objects.get(pk=came.car_id).track_days, 0)
