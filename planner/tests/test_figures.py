"""Every sum on Plan and Choose says how it is known."""

import re

from planner.chosen import builds_of
from planner.figures import figures_of
from planner.queries import sums
from shell.tests.base import ScenarioCase


class Known(ScenarioCase):
    def test_each_has_a_formula_and_inputs_with_source_and_date(self):
        file = self.file()
        for build in builds_of(file):
            figures = figures_of(file, sums(file, build))
            self.assertLessEqual(
                {
                    "mass",
                    "equivalent",
                    "corner_F",
                    "corner_R",
                    "track_F",
                    "track_R",
                    "speed",
                    "money",
                    "left",
                    "start",
                    "done",
                    "slack",
                },
                set(figures),
            )
            for name, figure in figures.items():
                self.assertTrue(figure.formula, name)
                self.assertTrue(figure.inputs, name)
                self.assertTrue(all(used.value for used in figure.inputs), name)
            for name in ("mass", "money", "track_F"):
                self.assertTrue(any(used.date for used in figures[name].inputs), name)
                self.assertTrue(any(used.source for used in figures[name].inputs), name)

    def test_the_formulas_numbers_come_to_the_figure(self):
        file = self.file()
        for build in builds_of(file):
            figures = figures_of(file, sums(file, build))
            spent, promised, total = (
                float(part.replace("\u2009", "").replace(" ", ""))
                for part in re.findall(
                    r"[\d\u2009 ]+(?:\.\d+)?(?= spent| still to spend| EUR)", figures["money"].formula
                )
            )
            self.assertAlmostEqual(spent + promised, total)
            self.assertAlmostEqual(total, figures["money"].value)
            new, old = (
                float(part)
                for part in re.findall(
                    r"\(?(-?\d+(?:\.\d+)?)\)?", figures["track_F"].formula.split(":")[0].removeprefix("2 × ")
                )[:2]
            )
            self.assertAlmostEqual(2 * (new - old), figures["track_F"].value, places=3)

    def test_the_pages_open_them(self):
        for rest, names in (
            ("plan/", ("Weight, whole car", "Track, front", "Money", "Days in hand", "Equivalent weight")),
            ("choose/", ("Weight of a corner", "Price of a corner", "Lead time")),
        ):
            page = self.page(rest).content.decode()
            for name in names:
                self.assertIn(f"How is this known: {name}", page, rest)
