"""Cures, removed parts, quotes, money with returns, templates: held by hand and against each other."""

import itertools
import json
import unittest
from dataclasses import replace
from datetime import date, timedelta

from hypothesis import given
from hypothesis import strategies as st

from rimcore.planning.cures import FEW_DAYS, Cure, Plan, weigh
from rimcore.planning.network import Calendar, PlanPart, Task
from rimcore.planning.schedule import Plan as Dated
from rimcore.quantities.errors import BadInput
from rimcore.work.jobsheet import CornerHub, JobPlan, job_sheet
from rimcore.work.ledger import PART_STATES, Line, MassChange, money
from rimcore.work.modules import MODULES, OF_LEVER
from rimcore.work.quotes import Quote, good_until, stale, undominated, worth_used_minor
from rimcore.work.removed import LETTERS, Count, label_of, net_kg, proceeds_minor
from rimcore.work.steps import Joint, StepPlan
from rimcore.work.template import Template, read, written


class Cures(unittest.TestCase):
    TODAY = date(2027, 5, 1)

    def plan(self, left=None, days=None, parts=(), week=7.0, unknown=()):
        """A plan with so much left and so many days in hand; a test day is kept free."""
        event = None if days is None else self.TODAY + timedelta(days=days + 1)
        fit = Task("fit", (0, 0, 0), parts=tuple(part.id for part in parts))
        dated = Dated(self.TODAY, Calendar((week / 7,) * 7), (fit,), tuple(parts), event)
        return Plan(left, dated, {}, tuple(unknown))

    def test_days_are_waiting_and_evenings(self):
        for hours, week, days, lost in ((0, 7, 4, 4), (7, 7, 0, 6), (3.5, 7, 4, 7), (0.1, 7, 0, 0), (14, 28, 2, 5)):
            self.assertEqual(weigh([Cure("repair", 0, hours, days)], self.plan(week=week))[0].days_lost, lost)

    def test_a_wait_beside_a_longer_one_costs_no_day_and_hours_do_that_outlast_it(self):
        plan = self.plan(50000, 40, (PlanPart("wheels", (20, 20, 20)),))
        self.assertEqual(
            [
                o.days_lost
                for o in weigh([Cure("repair", 0, 0, 15), Cure("repair", 0, 9, 15), Cure("repair", 0, 0, 26)], plan)
            ],
            [0, 3, 6],
        )
        self.assertEqual(weigh([Cure("repair", 0, 0, 26)], plan)[0].days_in_hand, 14)

    def test_waited_for_since_it_was_decided(self):
        cure = Cure("repair", 0, 0, 10, since=self.TODAY - timedelta(days=4))
        self.assertEqual(weigh([cure], self.plan(0, 20))[0].days_in_hand, 14)

    def test_what_is_not_known_is_never_within_budget_or_time(self):
        for cure, plan, words in (
            (Cure("repair", None, 0, 0), self.plan(500, 9), "what it costs"),
            (Cure("repair", 0, None, 0), self.plan(500, 9), "how many hours"),
            (Cure("replace", 0, 0, None), self.plan(500, 9), "fix: replace it"),
            (Cure("use"), self.plan(500, 9, unknown=("wheels",)), "wheels"),
        ):
            found = weigh([cure], plan)[0]
            self.assertEqual(found.state, "unmeasured", cure)
            self.assertIn(words, found.reason)
            self.assertIn(None, (found.left_minor, found.days_in_hand))
        over = weigh([Cure("replace", 900, 0, None)], self.plan(500, 9))[0]
        self.assertEqual((over.state, over.days_in_hand), ("hit", None))
        self.assertEqual(
            weigh([Cure("repair", None, 0, 0)], self.plan(None, 9))[0].state, "clear", "no budget to check it against"
        )

    def test_state_by_what_is_left(self):
        for left, days, cure, state, words in (
            (10000, 20, Cure("use"), "clear", "within budget and time"),
            (10000, 20, Cure("replace", 10001), "hit", "over the budget"),
            (10000, 3, Cure("repair", 0, 0, 4), "hit", "1 day late"),
            (10000, 3, Cure("repair", 0, 0, 2), "tight", "1 day in hand"),
            (10000, 5, Cure("repair", 0, 0, 3), "clear", "within"),
            (None, None, Cure("use"), "unmeasured", "no budget"),
            (None, 9, Cure("use"), "clear", "within what is set"),
            (100, 1, Cure("replace", 200, 0, 5), "hit", "over the budget and 4 days late"),
        ):
            found = weigh([cure], self.plan(left, days))[0]
            self.assertEqual(found.state, state, cure)
            self.assertIn(words, found.reason)
        self.assertEqual(FEW_DAYS, 2)

    def test_money_in_words_is_whole(self):
        self.assertIn("153 over", weigh([Cure("use", 25300)], self.plan(10000))[0].reason)


class Taken(unittest.TestCase):
    def test_net(self):
        self.assertAlmostEqual(net_kg(7.25, 0.4), 6.85)
        self.assertEqual((net_kg(None, 1.0), net_kg(1.0, None), net_kg(2.0, 2.0)), (None, None, 0.0))
        with self.assertRaises(BadInput):
            net_kg(1.0, 1.1)

    def test_counts(self):
        for off, back, state, words in (
            (5, 5, "clear", "all back"),
            (5, 3, "hit", "2 of 5 missing"),
            (5, 7, "hit", "2 more"),
            (None, 5, "unmeasured", "nobody"),
            (0, 0, "clear", "all"),
        ):
            self.assertEqual(Count(off, back).state, state)
            self.assertIn(words, Count(off, back).reason)

    def test_labels_are_each_their_own_and_short(self):
        first = [label_of(k) for k in range(5000)]
        self.assertEqual(len(set(first)), 5000)
        self.assertTrue(all(len(one) <= 4 and one[0] in LETTERS for one in first))
        self.assertFalse(set("GIJOQ") & set("".join(first)))

    def test_proceeds(self):
        rows = list(itertools.product(("keep", "sell", "sold", "bin", "back"), (500,), (20,)))
        self.assertEqual(proceeds_minor(rows), 480)


class Money(unittest.TestCase):
    def test_every_state_has_its_place(self):
        for state in PART_STATES:
            found = money([Line(1000, 2, state, 300, 50)], 10000)
            wanted = {
                "wanted": (0, 2000),
                "shortlisted": (0, 2000),
                "ordered": (0, 2000),
                "have": (0, 0),
                "arrived": (2000, 0),
                "trial_fitted": (2000, 0),
                "fitted": (2000, 0),
                "returned": (50, 0),
                "sold": (2000 - 300 + 50, 0),
            }[state]
            self.assertEqual((found.spent_minor, found.promised_minor), wanted, state)

    def test_without_a_price(self):
        for state, without in (("have", 0), ("wanted", 1), ("sold", 0), ("returned", 0), ("fitted", 1)):
            self.assertEqual(money([Line(None, 1, state, 300, 50)], None).without_price, without, state)
        self.assertEqual(money([Line(None, 1, "sold", 300, 50)], None).spent_minor, -250)

    def test_what_was_lost_is_spent(self):
        self.assertEqual(money([Line(200, 1, "wanted")], 1000, 100).left_minor, 700)


class Mass(unittest.TestCase):
    def test_an_end_that_is_not_known_counts_nothing(self):
        for front, rear, total in ((None, None, None), (-2.0, None, -2.0), (None, 1.5, 1.5), (-2.0, 1.5, -0.5)):
            self.assertEqual(MassChange(front, rear, 0).total_kg, total)


class Quotes(unittest.TestCase):
    TODAY = date(2027, 5, 20)

    @given(st.lists(st.tuples(st.integers(1, 9), st.integers(1, 9)), max_size=8))
    def test_no_quote_that_stands_is_cheaper_and_sooner_than_one_that_is_named(self, rows):
        quotes = [Quote("s", price, lead, self.TODAY) for price, lead in rows]
        best = undominated(quotes, self.TODAY)
        for k in best:
            self.assertFalse(
                any(p < rows[k][0] and d <= rows[k][1] or p <= rows[k][0] and d < rows[k][1] for p, d in rows)
            )
        for k, (price, lead) in enumerate(rows):
            self.assertTrue(k in best or any(rows[b][0] <= price and rows[b][1] <= lead for b in best))

    def test_only_offers_that_stand(self):
        good = Quote("a", 100, 3, self.TODAY, 14)
        old, none, unknown = (
            replace(good, asked_on=self.TODAY - timedelta(days=15), price_minor=1),
            replace(good, offered=False, price_minor=1),
            replace(good, price_minor=None),
        )
        self.assertEqual(undominated([old, none, unknown, good], self.TODAY), [3])

    def test_its_last_day_counts(self):
        quote = Quote("a", 1, 1, self.TODAY, 0)
        self.assertEqual(
            (good_until(quote), stale(quote, self.TODAY), stale(quote, self.TODAY + timedelta(days=1))),
            (self.TODAY, False, True),
        )

    def test_worth_used(self):
        self.assertEqual(
            (worth_used_minor(999, 0.5), worth_used_minor(0, 0.5), worth_used_minor(100, None)), (500, 0, None)
        )


class Templates(unittest.TestCase):
    def test_every_module_goes_out_and_comes_in_the_same(self):
        hubs = tuple(CornerHub(corner, 5, 110.0, "M12x1.5", "", "10.9", 19.0) for corner in ("FL", "FR", "RL", "RR"))
        steps = job_sheet(JobPlan(hubs, (), dict.fromkeys(OF_LEVER, ("F", "R"))), list(MODULES))
        again = read(written(Template("All", steps)))
        self.assertEqual([replace(step, share="") for step in steps], [replace(step, share="") for step in again.steps])

    def test_limits(self):
        step = {"phase": "Fit", "title": "t"}
        joint = {"name": "j"}
        for odd in (
            {"corner": "XX"},
            {"tools": "hammer"},
            {"tools": ["x" * 121]},
            {"lugs": 0},
            {"lugs": True},
            {"helpers": -1},
            {"torque_nm": "80"},
            {"torque_nm": float("inf")},
            {"kind": "sing"},
            {"joint": {"name": ""}},
            {"joint": {**joint, "grade": "9.9"}},
            {"joint": {**joint, "one_use": "yes"}},
            {"joint": {**joint, "angle_deg": -1}},
            {"joint": {**joint, "size": 1}},
            {"title": 3},
            {"gates": [3]},
            {"joint": []},
        ):
            text = json.dumps({"format": "rim-tally job", "version": 1, "name": "n", "steps": [{**step, **odd}]})
            with self.subTest(odd), self.assertRaises(BadInput) as refused:
                read(text)
            self.assertTrue(refused.exception.field.startswith("steps.0"), refused.exception.field)

    def test_both_ends_of_what_is_taken(self):
        def text(step):
            return json.dumps(
                {
                    "format": "rim-tally job",
                    "version": 1,
                    "name": "n",
                    "steps": [{"phase": "Fit", "title": "t", **step}],
                }
            )

        joint = {"name": "j"}
        for good, bad in (
            ({"title": "x" * 160}, {"title": "x" * 161}),
            ({"tools": ["x" * 120]}, {"tools": ["x" * 121]}),
            ({"detail": "x" * 2000}, {"detail": "x" * 2001}),
            ({"joint": {**joint, "angle_deg": 0}}, {"joint": {**joint, "angle_deg": -0.1}}),
            ({"joint": {**joint, "angle_deg": 1080}}, {"joint": {**joint, "angle_deg": 1081}}),
            ({"torque_nm": 0.1}, {"torque_nm": 0.09}),
            ({"lugs": 100}, {"lugs": 101}),
            ({"helpers": 0}, {"helpers": 101}),
            ({"caution": "x" * 2000}, {"caution": "x" * 2001}),
            ({"share": "x" * 60}, {"share": "x" * 61}),
            ({"opens": "x" * 40}, {"opens": "x" * 41}),
            ({"module": "x" * 200}, {"module": "x" * 201}),
            ({"stage": "x" * 10}, {"stage": "x" * 11}),
            ({"tools": ["x"] * 40}, {"tools": ["x"] * 41}),
            ({"torque_nm": 5000}, {"torque_nm": 5000.1}),
            ({"lugs": 1}, {"lugs": 0}),
            ({"joint": {"name": "x" * 80}}, {"joint": {"name": "x" * 81}}),
            ({"joint": {**joint, "source": "x" * 80}}, {"joint": {**joint, "source": "x" * 81}}),
            ({"joint": {**joint, "torque_nm": 0.1}}, {"joint": {**joint, "torque_nm": 0.09}}),
            ({"joint": {**joint, "torque_nm": 5000}}, {"joint": {**joint, "torque_nm": 5000.1}}),
            ({"joint": {**joint, "count": 100}}, {"joint": {**joint, "count": 101}}),
            (
                {"joint": {**joint, "thread": "M12x1.5" + " " * 13}},
                {"joint": {**joint, "thread": "M12x1.5" + " " * 14}},
            ),
            ({"helpers": 100}, {"helpers": -1}),
        ):
            self.assertEqual(len(read(text(good)).steps), 1, good)
            with self.assertRaises(BadInput, msg=bad):
                read(text(bad))

    def test_both_ends_of_the_whole(self):
        def text(name="n", count=1, **more):
            return json.dumps(
                {
                    "format": "rim-tally job",
                    "version": 1,
                    "name": name,
                    "steps": [{"phase": "Fit", "title": "t"}] * count,
                    **more,
                }
            )

        self.assertEqual(len(read(text("x" * 80, 300)).steps), 300)
        for odd in (
            text("x" * 81),
            text(count=301),
            text(count=0),
            text(" "),
            text(version=2),
            text(format="job"),
            text() + " " * 400_000,
        ):
            with self.assertRaises(BadInput):
                read(odd)
        self.assertEqual(len(read(text() + " " * (400_000 - len(text()))).steps), 1)

    def test_what_is_blank_is_left_out(self):
        step = StepPlan("Fit", "torque", "Nuts", joint=Joint("Wheel nuts", thread="M12x1.5"), lugs=5)
        said = json.loads(written(Template("n", (step,))))
        self.assertEqual(
            said["steps"],
            [
                {
                    "phase": "Fit",
                    "kind": "torque",
                    "title": "Nuts",
                    "lugs": 5,
                    "joint": {"name": "Wheel nuts", "thread": "M12x1.5"},
                }
            ],
        )
        self.assertIn('\n  "name": "n"', written(Template("n", (step,))))
        self.assertIn("Höhe", written(Template("Höhe", (step,))))

    def test_a_plain_one(self):
        text = json.dumps(
            {
                "format": "rim-tally job",
                "version": 1,
                "name": " Wheels ",
                "steps": [
                    {
                        "phase": "Fit",
                        "kind": "torque",
                        "title": "Nuts",
                        "joint": {"name": "Wheel nuts", "thread": "M12x1.5", "crosswise": True},
                    }
                ],
            }
        )
        found = read(text)
        self.assertEqual(
            (found.name, found.steps[0]),
            ("Wheels", StepPlan("Fit", "torque", "Nuts", joint=Joint("Wheel nuts", thread="M12x1.5", crosswise=True))),
        )

    @given(
        st.recursive(
            st.none() | st.booleans() | st.floats() | st.text(max_size=8),
            lambda inner: st.lists(inner, max_size=4) | st.dictionaries(st.text(max_size=8), inner, max_size=4),
        )
    )
    def test_any_json_is_refused_in_words(self, odd):
        for whole in (
            odd,
            {"format": "rim-tally job", "version": 1, "name": "n", "steps": odd},
            {"format": "rim-tally job", "version": 1, "name": "n", "steps": [odd]},
        ):
            with self.assertRaises(BadInput):
                read(json.dumps(whole))


if __name__ == "__main__":
    unittest.main()
