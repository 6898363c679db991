"""The rows that are kept are what the scenario leaves, on this day and on any other."""

import re
import unittest
from datetime import timedelta
from unittest.mock import patch

from django.db import connection, transaction
from django.test import TestCase
from django.utils import timezone

from demo.rows import lay_down, read_files, read_rows
from demo.scenario import PASSWORD, load
from proof.honest import rows_of, teaching
from rimcore.proof import pooled
from shell.tests.base import ScenarioCase

#: told by the clock to the moment, or drawn anew each time
OWN = {
    ("auth_user", "password"),
    ("auth_user", "date_joined"),
    ("garage_log", "file"),
    ("shelf_card", "image"),
    ("workshop_photo", "image"),
    ("workshop_photo", "taken_at"),
    ("workshop_pull", "at"),
    ("garage_panelpicture", "image"),
    ("planner_claimpicture", "image"),
    ("planner_receiptpicture", "image"),
}
_MOMENT = re.compile(r"[T ]\d\d:\d\d:\d\d(\.\d+)?(\+00:00)?")


#: figures that were worked out: the last of many places are the machine's own
_WORKED_OUT = re.compile(r"-?\d+\.\d{7,}(e-?\d+)?")


def plain(value):
    """Without the moment, and worked-out figures to a millionth."""
    if isinstance(value, float):
        return round(value, 6)
    return (
        _WORKED_OUT.sub(lambda found: f"{float(found[0]):.6f}", _MOMENT.sub("", value))
        if isinstance(value, str)
        else value
    )


def comparable(rows):
    """Rows without what is the moment's own."""
    return {
        table: [
            [plain(value) for name, value in zip(columns, line, strict=True) if (table, name) not in OWN]
            for line in lines
        ]
        for table, (columns, lines) in rows.items()
    }


class Rows(TestCase):
    def of(self, make):
        """What stands in the database after ``make``, which is taken back again."""
        with transaction.atomic():
            car = make()
            found = car.pk, comparable(read_rows()), sorted(read_files().values()), car.owner.check_password(PASSWORD)
            transaction.set_rollback(True)
        return found

    @unittest.skipUnless(connection.vendor == "sqlite", "the rows are kept as a file's database tells them")
    def test_row_by_row_and_file_by_file(self):
        """Worked out in a quarter of a year, in another season and another year; laid down on the same day."""
        later = timezone.now() + timedelta(days=97)
        with patch("django.utils.timezone.now", lambda: later):
            wanted, kept = self.of(load), self.of(lay_down)
        self.assertEqual(kept[0], wanted[0])
        self.assertEqual(set(kept[1]), set(wanted[1]))
        for table, rows in wanted[1].items():
            self.assertEqual(kept[1][table], rows, f"{table}: ./manage.py keep_demo writes the rows anew")
        self.assertEqual(kept[2:], wanted[2:])
        self.assertGreater(sum(map(len, wanted[1].values())), 800)

    def test_a_database_that_holds_somebody_is_left_alone(self):
        lay_down()
        with self.assertRaises(RuntimeError):
            lay_down()


class Pooled(ScenarioCase):
    def test_what_the_demos_predictions_taught_is_what_its_rows_say(self):
        found = pooled.written(teaching(rows_of(self.user, most=60)))
        self.assertEqual(found, pooled.KEPT.read_text(), "./manage.py keep_demo writes it anew")
