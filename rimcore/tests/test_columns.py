"""Columns of tables by names of any writing: what is taken for what, and that nothing is dropped in silence.

Heads as lists of several kinds write them (made up; common practice).
"""

import unittest

from rimcore.columns import LEFT_OUT, Column, is_head, matched, read_row, taken_as
from rimcore.families import FAMILIES, PAIRED
from rimcore.quantities.errors import BadInput, CoreError

#: heads, family, what they are taken for with their unit
HEADS = (
    (("Wheel", "Weight", "Price", "Lead time", "Shop"), "", ("spec", "mass", "price", "lead", "supplier")),
    (("TYRE SIZE", "WT. (kg)", "EACH", "AVAILABILITY", "VENDOR"), "", ("spec", "mass:kg", "price", "lead", "supplier")),
    (("tire_size", "weight_lb", "unit_price", "ships-in", "store"), "", ("spec", "mass:lb", "price", "lead", "supplier")),
    (("Dimension", "Mass [lbs]", "Price (EUR)", "Days", "Website"), "", ("spec", "mass:lbs", "price", "lead", "link")),
    (("Dimensions", "Shipping weight, lb", "Asking price", "Comment"), "", ("spec", "mass:lb", "price", "note")),
    (("Category", "Part", "Costs", "Remarks", "URL"), "", ("family", "name", "price", "note", "link")),
    (("kind", "part", "as typed", "price of one", "currency", "weight lb", "lead days", "supplier", "link", "note"), "",
     ("family", "name", "line", "price", "", "mass:lb", "lead", "supplier", "link", "note")),
    (("Inner, mm", "Outer (mm)", "Price each", "Colour"), "ring", ("inner_mm:mm", "outer_mm:mm", "price", "")),
    (("weight", "net weight"), "", ("mass", "")),
    (("Shelf", "Row"), "", ("", "")),
)  # fmt: skip


class Heads(unittest.TestCase):
    def test_names_of_any_writing(self):
        for heads, family, wanted in HEADS:
            found = [f"{one.taken}:{one.unit}".rstrip(":") for one in matched(heads, family)]
            self.assertEqual(found, list(wanted), heads)

    def test_a_row_of_names_is_told_from_a_part(self):
        self.assertTrue(is_head(["Size", "What it is"], "", []))
        self.assertFalse(is_head(["17x7 +48 5x108 63.4", "8.8 kg", "150", "2 weeks"], "", []))
        self.assertFalse(is_head(["225/45R17 94W", "9.4 kg", "$134", "each"], "", []))
        self.assertFalse(is_head(["strut brace"], "", [["tow eye"]]))
        self.assertTrue(is_head(["Größe", "Preis"], "", [["225/45R17", "100"]]))
        self.assertFalse(is_head(["brake hose", "braided"], "", [["tow eye", "folding"]]))

    def test_every_name_of_every_family_is_taken_for_itself(self):
        for key, family in FAMILIES.items():
            if key in PAIRED:
                continue
            for spec in family.specs:
                if spec.stands:
                    continue
                taken = matched([spec.code], key)[0].taken
                self.assertEqual(taken, spec.code, key)
                taken = matched([spec.name], key)[0].taken
                same = {one.code for one in family.specs if spec.name in (one.name, *one.words)}
                self.assertIn(taken, {spec.code} | same, (key, spec.name))

    def test_a_person_says_otherwise(self):
        one = Column("How heavy (lb)")
        self.assertEqual(taken_as(one, "mass"), Column("How heavy (lb)", "mass", "lb"))
        self.assertEqual(taken_as(one, "note"), Column("How heavy (lb)", "note", ""))

    def test_too_many(self):
        with self.assertRaises(BadInput):
            matched(["x"] * 61)


class Rows(unittest.TestCase):
    def test_a_unit_of_the_head_and_one_of_the_cell(self):
        columns = matched(["Tyre size", "Weight (lb)", "Price"])
        self.assertAlmostEqual(read_row(columns, ["225/45R17", "20", "1"]).mass_kg, 9.0718474, 6)
        self.assertAlmostEqual(read_row(columns, ["225/45R17", "9 kg", "1"]).mass_kg, 9.0, 6)
        bare = matched(["Tyre size", "Weight"])
        self.assertAlmostEqual(read_row(bare, ["225/45R17", "20"], "", {"mass": "lb"}).mass_kg, 9.0718474, 6)

    def test_nothing_is_dropped_in_silence(self):
        columns = matched(["Tyre size", "Shelf", "Price"])
        row = read_row(columns, ["225/45R17", "B4", "80", "beyond"])
        self.assertEqual(set(row.unread), {"shelf: B4", "column 4: beyond"})
        left = (columns[0], Column("Shelf", LEFT_OUT), columns[2])
        self.assertEqual(read_row(left, ["225/45R17", "B4", "80"]).unread, ())

    def test_what_two_columns_say_is_told_and_overwrites_nothing(self):
        columns = matched(["Size", "Wheel", "Price", "shelf", "shelf"])
        row = read_row(columns, ["225/45R17", "Varnholt", "80", "B4", "C5"])
        self.assertEqual((row.family, row.price_minor), ("tyre", 8000))
        self.assertEqual(set(row.unread), {"wheel: Varnholt", "shelf: B4", "shelf: C5"})

    def test_name_and_note_are_both_kept_of_a_wheel(self):
        row = read_row(matched(["Size", "Name", "Note"]), ["17x7.5 +40 5x108 63.4", "Skerrow", "one kerbed"])
        self.assertEqual((row.name, row.note), ("Skerrow", "one kerbed"))
        row = read_row(matched(["as typed", "part"]), ["17x7.5 +40 5x108 63.4", "Skerrow"])
        self.assertEqual(row.name, "Skerrow")

    def test_text_that_begins_as_a_formula_comes_back_as_it_was(self):
        row = read_row(matched(["Size", "Note"]), ["225/45R17", "'=1+1"])
        self.assertEqual(row.note, "=1+1")

    def test_a_kind_that_nobody_knows_is_told(self):
        row = read_row(matched(["kind", "as typed"]), ["gizmos", "ring 63.4 → 72.6, 6.00"])
        self.assertEqual((row.family, row.unread), ("ring", ("kind of part: gizmos",)))

    def test_a_line_with_its_own_columns_over_it(self):
        columns = matched(["kind", "as typed", "weight kg", "price of one", "stars"])
        row = read_row(columns, ["ring", "ring 63.4 → 72.6, 6.00, 4 days", "0.05", "7.5", "3"])
        self.assertEqual((row.family, row.price_minor, row.lead_days, row.mass_kg), ("ring", 750, 4, 0.05))
        self.assertEqual(row.unread, ("stars: 3",))

    def test_odd_rows_are_refused_in_words(self):
        columns = matched(["Tyre size", "Weight (lb)", "Price", "Lead"])
        for cells in ([""], ["225/45R17", "nan"], ["225/45R17", "9" * 4000], ["?", "1"], ["225/45R17", "", "a lot"]):
            with self.assertRaises(CoreError, msg=str(cells)[:40]):
                read_row(columns, cells)


if __name__ == "__main__":
    unittest.main()
