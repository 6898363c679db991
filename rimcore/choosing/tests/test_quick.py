"""Wishes in a word name kinds of part that there are; what drills into the body is what the job sheets say."""

import unittest

from rimcore import arrives
from rimcore.choosing.quick import DRILLED, OUT, PAIR, QUICK, REGULATED
from rimcore.families import FAMILIES, PAIRED
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

    def test_what_is_regulated_is_what_asks_for_the_law(self):
        found = {key for key, family in FAMILIES.items() if any(ask.code == "law" for ask in family.asks)}
        for key, family in FAMILIES.items():
            if family.judge is None or key in PAIRED:
                continue
            given = arrives.parse_line(family.example).spec
            try:
                judged = family.judge(given, arrives._place())
            except (KeyError, TypeError, AttributeError):
                continue
            if any(one.code.endswith(".law") for one in judged):
                found.add(key)
        self.assertEqual(found, set(REGULATED))
