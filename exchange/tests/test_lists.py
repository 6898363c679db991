"""Lists as tables: every row, in the person's units, formulas stay text; read back with the library and with csv."""

import csv
import io

from openpyxl import load_workbook

from exchange.lists import LISTS, lists_of
from garage.car.parts import Wheel
from garage.person.models import Preferences
from planner.models import Choice
from rimcore.tables.facts import CORNER_NAMES
from rimcore.well.read.stations import STATIONS
from shell import kept
from shell.tests.base import ScenarioCase


class Lists(ScenarioCase):
    def book(self):
        answer = self.client.get(self.url("lists/") + "?as=xlsx")
        self.assertEqual(answer.status_code, 200)
        return load_workbook(io.BytesIO(b"".join(answer.streaming_content)))

    def table(self, what):
        text = self.client.get(self.url("lists/") + f"?what={what}").content.decode()
        return list(csv.DictReader(io.StringIO(text)))

    def test_every_list_is_there_and_a_row_a_row(self):
        book = self.book()
        self.assertEqual(set(book.sheetnames), set(lists_of(self.file())))
        page = self.page("lists/")
        for code, name in LISTS.items():
            self.assertContains(page, name)
            if code in book.sheetnames:
                rows = list(book[code].iter_rows(values_only=True))
                self.assertEqual(len(rows) - 1, len(self.table(code)), code)
        self.assertEqual(len(self.table("hard-points")), self.car.hard_points.count())
        self.assertEqual(len(self.table("ledger")), self.car.mass_items.count())
        orders = self.table("orders")
        self.assertEqual(len(orders), Choice.objects.filter(build__car=self.car).count())
        self.assertEqual(
            {row["build"] for row in orders}, {one.name for one in self.car.builds.all() if one.choices.exists()}
        )

    def test_units_stand_in_the_head_as_the_person_reads_them(self):
        wheel = Wheel.objects.filter(car=self.car, listed=True, mass_kg__isnull=False).first()
        kilograms = next(row for row in self.table("shortlist") if row["part"] == wheel.name)
        self.assertAlmostEqual(float(kilograms["weight kg"]), wheel.mass_kg)
        Preferences.objects.filter(user=self.user).update(mass_unit="lb", length_unit="in")
        kept.forget()
        pounds = next(row for row in self.table("shortlist") if row["part"] == wheel.name)
        # 1 lb is 0.45359237 kg (NIST SP 811)
        self.assertAlmostEqual(float(pounds["weight lb"]) * 0.45359237, wheel.mass_kg, places=3)
        self.assertIn("across in", self.table("hard-points")[0])

    def test_what_begins_as_a_formula_stays_text(self):
        wheel = Wheel.objects.filter(car=self.car, listed=True).first()
        Wheel.objects.filter(pk=wheel.pk).update(note="=1+1", supplier="+41 call", link="")
        sheet = self.book()["shortlist"]
        row = next(row for row in sheet.iter_rows() if row[1].value == wheel.name)
        self.assertIn(("=1+1", "s"), [(cell.value, cell.data_type) for cell in row])
        self.assertIn("'=1+1", [one["note"] for one in self.table("shortlist")])

    def test_a_readings_figure_is_that_of_the_page(self):
        rows, latest = self.table("readings"), self.file().latest
        self.assertEqual(len(rows), len(latest))
        said = {(row["station"], row["corner"]): row["value"] for row in rows}
        for one in latest:
            if one.code == "damper":
                value = said[STATIONS[one.code].name, CORNER_NAMES[one.corner]]
                self.assertAlmostEqual(float(value), one.value, places=3)
