"""What each family and each lever adds: no cell is empty without its reason, and the page in docs is the code's."""

import unittest
from pathlib import Path

from rimcore.arrives import COLUMNS, NO_WORK, rows, table
from rimcore.benches import LEVERS
from rimcore.companions import ALONE, COMPANIONS, OF_LEVER
from rimcore.families import FAMILIES
from rimcore.work.hours import MINUTES
from rimcore.work.modules import MODULES
from rimcore.work.modules import OF_LEVER as WORK_OF_LEVER

PAGE = Path(__file__).resolve().parents[2] / "docs" / "arrives.md"


class Arrives(unittest.TestCase):
    def test_the_page_is_what_the_code_says(self):
        self.assertEqual(PAGE.read_text(), table(), "run: python -m rimcore.arrives > docs/arrives.md")

    def test_no_cell_is_empty_without_its_reason(self):
        found = rows()
        self.assertEqual(len(found), len(FAMILIES) + len(LEVERS))
        for row in found:
            for column, cell in zip(COLUMNS, row.cells, strict=True):
                with self.subTest(row.name, column=column):
                    self.assertGreater(len(cell.strip("() ")), 2)
                    self.assertNotIn(": 0 steps", cell)

    def test_every_lever_has_its_work_or_says_why_not(self):
        self.assertEqual(set(LEVERS), set(WORK_OF_LEVER) | set(NO_WORK))
        self.assertEqual(set(WORK_OF_LEVER), set(OF_LEVER))

    def test_who_drags_nothing_along_says_why_and_nobody_else_does(self):
        for key in ALONE:
            self.assertNotIn(key, COMPANIONS)
        self.assertLessEqual(set(ALONE) | set(COMPANIONS), set(FAMILIES))

    def test_every_module_has_its_usual_minutes(self):
        self.assertEqual(set(MINUTES), set(MODULES))


if __name__ == "__main__":
    unittest.main()
