"""Wishes in a word name kinds of part that there are; what drills into the body is what the job sheets say."""

import unittest

from rimcore import arrives
from rimcore.choosing.quick import DRILLED, OUT, PAIR, QUICK
from rimcore.families import FAMILIES
from rimcore.work.jobsheet import job_sheet, modules_of


class Quick(unittest.TestCase):
    def test_every_slot_is_a_kind_of_part(self):
        for code, quick in QUICK.items():
            self.assertFalse([one for one in quick.slots if one not in (PAIR, OUT, *FAMILIES)], code)

    def test_what_is_drilled_is_what_the_sheets_drill(self):
        found = set()
        for key, family in FAMILIES.items():
            part = arrives.PartOn(key, family.name, arrives.parse_line(family.example).spec, ("F", "R"))
            plan = arrives.JobPlan(tuple(arrives.HUBS), (part,))
            steps = job_sheet(plan, modules_of(plan, arrives.OF_FAMILY))
            if any("drill" in step.tools for step in steps):
                found.add(key)
        self.assertEqual(found, set(DRILLED))
