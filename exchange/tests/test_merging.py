"""A car that goes to another machine and comes back: what changed there comes, what changed here stays."""

import io
import json
import zipfile

from django.contrib.auth.models import User
from django.core.files.uploadedfile import SimpleUploadedFile
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st
from hypothesis.extra.django import TestCase as HypothesisCase

from exchange.cars import export_car, import_car
from exchange.models import Origin
from exchange.tests.test_cars import plain
from garage.car.models import Car
from garage.car.parts import Part
from garage.readings.models import Reading
from planner.models import Build, Choice, Lever
from rimcore.quantities.errors import BadInput
from shell.tests.base import ScenarioCase


class Away(ScenarioCase):
    """A car at home and its copy with a friend."""

    def setUp(self):
        super().setUp()
        self.friend = User.objects.create_user("friend", password="long enough a word")
        came = import_car(export_car(self.car), self.friend)
        self.away = Car.objects.get(pk=came.car_id)
        self.both = (self.car, self.away)

    def back(self, **options):
        self.away.refresh_from_db()
        return import_car(export_car(self.away), self.user, again="merge", **options)

    def test_it_is_the_same_car_and_nothing_comes_where_nothing_changed(self):
        self.assertEqual(self.away.uid, self.car.uid)
        before = plain(self.car)
        told = self.back().merged
        self.assertEqual((told.new, told.changed, told.both, told.gone), (0, 0, 0, 0))
        self.assertEqual(plain(self.car), before)
        self.assertEqual(Car.objects.filter(owner=self.user, uid=self.car.uid).count(), 1)

    def test_what_changed_there_comes_and_what_changed_here_stays(self):
        part, theirs = (Part.objects.filter(car=car, family="tyre").order_by("pk").first() for car in self.both)
        Part.objects.filter(pk=theirs.pk).update(price_minor=12345)
        Car.objects.filter(pk=self.car.pk).update(description="painted since")
        told = self.back().merged
        part.refresh_from_db()
        self.car.refresh_from_db()
        self.assertEqual((part.price_minor, self.car.description), (12345, "painted since"))
        self.assertEqual((told.new, told.changed, told.both), (0, 1, 0))

    def test_where_both_changed_ours_stays_and_is_told_and_the_other_side_then_takes_it(self):
        Car.objects.filter(pk=self.car.pk).update(description="painted here")
        Car.objects.filter(pk=self.away.pk).update(description="painted there")
        self.assertEqual(self.back().merged.both, 1)
        self.car.refresh_from_db()
        self.assertEqual(self.car.description, "painted here")
        self.car.refresh_from_db()
        forth = import_car(export_car(self.car), self.friend, again="merge").merged
        self.away.refresh_from_db()
        self.assertEqual((self.away.description, forth.changed), ("painted here", 1))

    def test_new_rows_come_once_with_what_hangs_on_them(self):
        build = Build.objects.create(car=self.away, name="Friend's idea")
        part = Part.objects.filter(car=self.away, family="tyre").first()
        Choice.objects.create(build=build, part=part, position="A", quantity=4)
        told = self.back().merged
        self.assertEqual(told.new, 2)
        mine = Build.objects.get(car=self.car, name="Friend's idea")
        self.assertEqual(mine.choices.get().part.car, self.car)
        self.assertEqual(self.back().merged.new, 0)

    def test_what_was_removed_here_stays_away_with_what_hangs_on_it(self):
        build = Build.objects.create(car=self.car, name="Not any more")
        part = Part.objects.filter(car=self.car, family="tyre").first()
        Choice.objects.create(build=build, part=part, position="A", quantity=4)
        import_car(export_car(self.car), self.friend, again="merge")
        hung = build.choices.count()
        build.delete()
        told = self.back().merged
        self.assertGreaterEqual(told.gone, 1 + hung)
        self.assertFalse(Build.objects.filter(car=self.car, name=build.name).exists())

    def test_what_was_removed_there_stays_here(self):
        reading = Reading.objects.filter(car=self.away, sightings=None, promises=None, at_step=None).first()
        reading.delete()
        count = Reading.objects.filter(car=self.car).count()
        self.assertEqual(self.back().merged.here, 1)
        self.assertEqual(Reading.objects.filter(car=self.car).count(), count)

    def test_the_same_lever_set_on_both_sides_is_one(self):
        for car in (self.car, self.away):
            build = Build.objects.filter(car=car, in_hand=True).first()
            build.levers.all().delete()
            Lever.objects.create(build=build, code="ride_drop_mm", place="F", number=11 if car == self.car else 22)
        told = self.back().merged
        self.assertEqual(told.both, 1)
        build = Build.objects.get(car=self.car, in_hand=True)
        self.assertEqual(build.levers.get(code="ride_drop_mm", place="F").value, 11)

    def test_a_check_says_it_and_writes_nothing(self):
        Car.objects.filter(pk=self.away.pk).update(description="painted there")
        before, marks = plain(self.car), Origin.objects.filter(car_number=self.car.pk).count()
        self.assertEqual(self.back(check=True).merged.changed, 1)
        self.assertEqual(plain(self.car), before)
        self.assertEqual(Origin.objects.filter(car_number=self.car.pk).count(), marks)

    def test_a_copy_that_is_only_read_there_closes_nothing_here(self):
        Car.objects.filter(pk=self.away.pk).update(closed_on="2026-01-01", description="painted there")
        self.back()
        self.car.refresh_from_db()
        self.assertEqual((self.car.closed_on, self.car.description), (None, "painted there"))

    def test_an_old_file_again_takes_nothing_back(self):
        old = export_car(self.away).read()
        Car.objects.filter(pk=self.away.pk).update(description="painted there")
        self.back()
        told = import_car(io.BytesIO(old), self.user, again="merge").merged
        self.car.refresh_from_db()
        self.assertEqual((self.car.description, told.changed), ("painted there", 0))

    def test_asked_on_the_page(self):
        self.away.description = "painted there"
        self.away.save()
        raw = export_car(self.away).read()
        sent = {"file": SimpleUploadedFile("car.zip", raw)}
        page = self.client.post("/account/import/", sent)
        self.assertContains(page, "here already", status_code=422)
        page = self.client.post(
            "/account/import/", {"file": SimpleUploadedFile("car.zip", raw), "again": "merge", "check": "on"}
        )
        self.assertContains(page, "Merged, it would get")
        self.client.post("/account/import/", {"file": SimpleUploadedFile("car.zip", raw), "again": "merge"})
        self.car.refresh_from_db()
        self.assertEqual(self.car.description, "painted there")

    def test_a_file_without_marks_and_one_with_odd_ones_are_refused_in_words(self):
        raw = export_car(self.away).read()
        for mark in (None, "x", 5, ["a"]):
            out = io.BytesIO()
            with zipfile.ZipFile(io.BytesIO(raw)) as read, zipfile.ZipFile(out, "w") as written:
                said = json.loads(read.read("car.json"))
                for row in said["tables"]["garage.reading"]:
                    row.pop("uid")
                    if mark is not None:
                        row["uid"] = mark
                written.writestr("car.json", json.dumps(said))
            out.seek(0)
            before = plain(self.car)
            with self.assertRaisesMessage(BadInput, "no marks"):
                import_car(out, self.user, again="merge")
            self.assertEqual(plain(self.car), before)


class RandomMerges(HypothesisCase):
    @settings(max_examples=25, deadline=None, suppress_health_check=list(HealthCheck))
    @given(st.lists(st.tuples(st.booleans(), st.integers(0, 4), st.integers(1, 9999)), max_size=8))
    def test_both_sides_say_the_same_after_each_has_the_other(self, changes):
        """Prices changed here and there in any order: after one exchange each way nothing is left to tell."""
        mine, theirs = (User.objects.create_user(name, password="long enough a word") for name in ("mine", "theirs"))
        car = Car.objects.create(owner=mine, nickname="Random")
        for k in range(5):
            Part.objects.create(car=car, family="tyre", diameter_in=17, name=f"T{k}", spec={"size": "225/45R17"})
        away = Car.objects.get(pk=import_car(export_car(car), theirs).car_id)
        here: dict[int, int] = {}
        there: dict[int, int] = {}
        for mine_too, which, price in changes:
            Part.objects.filter(car=car if mine_too else away, name=f"T{which}").update(price_minor=price)
            (here if mine_too else there)[which] = price
        told = import_car(export_car(away), mine, again="merge").merged
        both = {k for k in here if k in there and here[k] != there[k]}
        self.assertEqual((told.changed, told.both), (len(set(there) - set(here)), len(both)))
        import_car(export_car(car), theirs, again="merge")
        for k in range(5):
            wanted = here.get(k, there.get(k))
            for one in (car, away):
                self.assertEqual(Part.objects.get(car=one, name=f"T{k}").price_minor, wanted, (k, one.owner))
        again = import_car(export_car(away), mine, again="merge").merged
        self.assertEqual((again.new, again.changed, again.both), (0, 0, 0))
