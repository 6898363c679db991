"""A car's revision rises with every write of what its pages show, whoever writes.

What is kept of a car is never older.
"""

from datetime import timedelta

from django.apps import apps
from django.contrib.auth.models import User
from django.core.management import call_command
from django.db import connection, models, transaction
from django.test import TransactionTestCase
from django.test.utils import CaptureQueriesContext
from django.utils import timezone

from exchange import archive
from garage.car.models import Car
from garage.car.services import add_car
from garage.file import open_file
from garage.person.models import Preferences
from shell import kept, revision
from shell.models import Revision
from shell.tests.base import ScenarioCase
from shell.tests.laid_down import laid_down
from shell.undo import ROOMS

#: an id that no row has
FREE = 900_000


def tables():
    """Every model of the rooms that has a table of its own."""
    return [model for model in apps.get_models() if model._meta.app_label in ROOMS and not model._meta.proxy]


class Raised(ScenarioCase):
    def number(self):
        return revision.numbers_of(self.user.pk).get(self.car.pk, 0)

    def rises(self, what, write):
        before = self.number()
        write()
        self.assertGreater(self.number(), before, what)

    def row_of(self, model):
        """A row of the scenario's car or its person."""
        steps, person = revision.way_to_car(model) if model is not Car else ([], False)
        way = "__".join(step.name for step in steps)
        return model.objects.filter(**{way or "pk": self.user.pk if person else self.car.pk}).first()

    def test_every_table_has_three_triggers(self):
        standing = set(revision._standing())
        self.assertEqual(
            standing,
            {
                f"revision_{model._meta.db_table}_{event}"
                for model in tables()
                for event in ("insert", "update", "delete")
            },
        )

    def test_every_table_raises_it_without_any_of_our_code(self):
        """Rows are copied, changed and removed by bare statements of the database."""
        empty = []
        for model in tables():
            row = self.row_of(model)
            if row is None:
                empty.append(model.__name__)
                continue
            table, key = model._meta.db_table, row.pk
            with self.subTest(table=table), connection.cursor() as cursor:
                column = model._meta.concrete_fields[-1].column
                self.rises(
                    "changed",
                    lambda cursor=cursor, t=table, c=column, k=key: cursor.execute(
                        f'UPDATE "{t}" SET "{c}" = "{c}" WHERE id = %s', [k]
                    ),
                )
                self.rises(
                    "queryset.update",
                    lambda m=model, k=key: m.objects.filter(pk=k).update(
                        **{m._meta.concrete_fields[-1].attname: models.F(m._meta.concrete_fields[-1].attname)}
                    ),
                )
        self.assertLessEqual(len(empty), 8, f"the scenario has no row of {empty}")

    def test_backups_know_them_by_their_name(self):
        self.assertEqual(archive.OURS, revision.PREFIX)

    def test_a_new_row_and_a_removed_one(self):
        reading = self.car.readings.first()
        reading.pk = None
        self.rises("made", lambda: reading.save(force_insert=True))
        self.rises("removed", lambda: type(reading).objects.filter(pk=reading.pk).delete())

    def test_what_is_a_persons_raises_all_their_cars_and_nobody_elses(self):
        second = add_car(self.user, {"nickname": "Second"})
        other = add_car(self.person("else"), {"nickname": "Other"})
        theirs = revision.numbers_of(other.owner_id)
        before = revision.numbers_of(self.user.pk)
        Preferences.objects.filter(user=self.user).update(length_unit="in")
        after = revision.numbers_of(self.user.pk)
        self.assertEqual({self.car.pk, second.pk} - {car for car in after if after[car] > before[car]}, set())
        self.assertEqual(revision.numbers_of(other.owner_id), theirs)

    def test_it_is_taken_back_with_what_was_written(self):
        before = self.number()
        try:
            with transaction.atomic():
                Car.objects.filter(pk=self.car.pk).update(nickname="x")
                raise InterruptedError
        except InterruptedError:
            pass
        self.assertEqual(self.number(), before)

    def test_it_outlives_the_car_and_is_further_on_when_it_comes_back(self):
        before = self.number()
        Car.objects.filter(pk=self.car.pk).delete()
        self.assertGreater(Revision.objects.get(car=self.car.pk).number, before)

    def test_data_of_before_that_are_put_back_never_meet_a_number_again(self):
        """A database restored from yesterday goes on by the clock, not from where it stood."""
        yesterday_ms = int((timezone.now() - timedelta(days=1)).timestamp() * 1000)
        Revision.objects.filter(car=self.car.pk).update(number=yesterday_ms)
        Car.objects.filter(pk=self.car.pk).update(nickname="y")
        self.assertGreater(self.number(), yesterday_ms + 86_000_000)


class Files(ScenarioCase):
    def test_what_is_read_again_is_not_asked_again(self):
        for rest, most in (("plan/", 5), ("choose/", 5), ("check/FL/", 5), ("measure/FL/", 5), ("check/mass/", 5)):
            self.page(rest)
            with CaptureQueriesContext(connection) as count:
                self.page(rest)
            self.assertLessEqual(len(count), most, (rest, [q["sql"][:120] for q in count]))

    def test_a_bench_turned_again_asks_four(self):
        for offset in (38, 39):
            with CaptureQueriesContext(connection) as count:
                self.fragment(f"check/FL/?diameter=17&width=8&offset={offset}")
        self.assertLessEqual(len(count), 4)

    def test_what_anybody_writes_is_seen_at_once(self):
        """By a bare statement too, as another process would have written it."""
        self.page("plan/")
        with connection.cursor() as cursor:
            cursor.execute("UPDATE garage_car SET nickname = 'Written elsewhere' WHERE id = %s", [self.car.pk])
        self.assertContains(self.page("plan/"), "Written elsewhere")

    def test_outside_an_answer_nothing_is_kept(self):
        self.assertIsNot(open_file(self.user, self.car.pk), open_file(self.user, self.car.pk))

    def test_two_at_once_never_hold_the_same(self):
        kept.things.put("car", "the file", 10)
        self.assertEqual(kept.things.take("car"), "the file")
        self.assertIsNone(kept.things.take("car"))

    def test_kept_things_are_bounded_by_weight(self):
        shelf = kept.Shelf(100)
        for k in range(5):
            shelf.put(k, f"thing {k}", 30)
        self.assertEqual([shelf.get(k) for k in range(5)], [None, None, "thing 2", "thing 3", "thing 4"])
        shelf.put("heavy", "x", 101)
        self.assertIsNone(shelf.get("heavy"))
        self.assertEqual(shelf.get(4), "thing 4")

    def test_a_file_weighs_about_what_it_takes(self):
        """Within a factor of three of what the interpreter says that a file with its worked-out values takes."""
        import gc
        import tracemalloc

        from garage.file import weight_of

        for rest in ("plan/", "choose/", "check/FL/"):
            self.page(rest)
        kept.forget()
        gc.collect()
        tracemalloc.start()
        for rest in ("plan/", "choose/", "check/FL/", "prove/"):
            self.page(rest)
        gc.collect()
        full = tracemalloc.get_traced_memory()[0]
        weight = weight_of(kept.things.get((self.user.pk, self.user.pk, self.car.pk))[1])
        kept.things.clear()
        gc.collect()
        took = full - tracemalloc.get_traced_memory()[0]
        tracemalloc.stop()
        self.assertTrue(took / 3 < weight < 3 * took, (took, weight))


class Migrating(TransactionTestCase):
    def test_triggers_are_there_after_a_flush_and_a_migration_and_are_made_anew(self):
        wanted = set(revision.triggers())
        self.assertEqual(set(revision._standing()), wanted)
        revision.drop()
        with connection.cursor() as cursor:
            nothing = {"sqlite": "SELECT 1;", "postgresql": "PERFORM 1;"}[connection.vendor]
            for told in revision.Trigger("garage_car", "insert", nothing).made("revision_of_old"):
                cursor.execute(told)
        call_command("migrate", verbosity=0)
        self.assertEqual(set(revision._standing()), wanted)
        self.assertEqual(revision.install(), 0)

    def test_a_person_who_leaves_takes_everything_along(self):
        car = laid_down()
        User.objects.filter(pk=car.owner_id).delete()
        self.assertFalse(Car.objects.exists())
