"""The mass ledger: sums by hand, the trade's own session as a check, what is never proposed, and the drawing to scale."""

import itertools
import math
import unittest
from dataclasses import replace

from rimcore.mass.balance import Stands, ballast_mm
from rimcore.mass.drawing import frontier_of, mass_line, plan
from rimcore.mass.ledger import (
    GUARDED,
    ORDERS,
    Goal,
    Scaled,
    Wanted,
    Weighed,
    best_set,
    judge_guarded,
    judge_minimum,
    judge_phase,
    judge_scale,
    moved,
    open_to,
    ordered,
    totals,
)
from rimcore.quantities.errors import BadInput
from rimcore.quantities.judgement import InputUsed

LB = 0.45359237
SAID = InputUsed("scale", "as read")


def scaled(kg, doubt=0.5):
    return Scaled(kg, doubt, SAID)


class Orders(unittest.TestCase):
    """By hand: 12 kg in half an hour is 24 kg an hour, 6 kg for 20 money is 0.3 kg for 1."""

    rows = (
        Weighed("A1", "seat", 12.0, minutes=30.0, money_minor=6000),
        Weighed("A2", "battery", 14.0, back_kg=8.0, minutes=10.0, money_minor=2000),
        Weighed("A3", "jack", 4.0),
        Weighed("A4", "headliner", None, minutes=120.0),
        Weighed("A5", "radio", 3.0, minutes=45.0, money_minor=-4500),
    )

    def test_rates(self):
        self.assertEqual([one.kg_per_hour for one in self.rows], [24.0, 36.0, None, None, 4.0])
        self.assertEqual([one.kg_per_unit for one in self.rows], [0.2, 0.3, None, None, None])

    def test_most_first_free_before_paid_unweighed_last(self):
        for by, labels in (
            ("label", ["A1", "A2", "A3", "A4", "A5"]),
            ("net", ["A1", "A2", "A3", "A5", "A4"]),
            ("hour", ["A3", "A2", "A1", "A5", "A4"]),
            ("money", ["A3", "A5", "A2", "A1", "A4"]),
        ):
            self.assertEqual([one.label for one in ordered(self.rows, by)], labels, by)
        self.assertEqual(set(ORDERS), {"label", "net", "hour", "money"})

    def test_another_order_is_refused_with_those_there_are(self):
        with self.assertRaises(BadInput) as caught:
            ordered(self.rows, "colour")
        self.assertIn("label, net, hour, money", caught.exception.message)


class Session(unittest.TestCase):
    """Common practice as check values: bench and backs 55 lb, belts 7 lb, pads 2 lb for an hour, 85 lb in all.

    12 to 13 lb of panels back: net about 72 lb for 15.
    """

    items = (
        Weighed("A1", "rear bench and backs", 55 * LB, "out", minutes=40.0),
        Weighed("A2", "rear belts", 7 * LB, "out", minutes=25.0),
        Weighed("A3", "damping pads", 2 * LB, "out", minutes=60.0),
        Weighed("A4", "trim and carpets", 21 * LB, "out", back_kg=12.5 * LB, money_minor=1500, minutes=55.0),
    )

    def test_running_total_and_rates(self):
        found = totals(self.items)
        self.assertAlmostEqual(found.out_kg / LB, 85.0)
        self.assertAlmostEqual(found.net_kg / LB, 72.5)
        self.assertAlmostEqual(found.kg_per_unit / LB, 72.5 / 15)
        self.assertAlmostEqual(found.kg_per_hour / LB, 72.5 / 3)
        self.assertIsNone(totals(self.items[:1]).kg_per_unit, "it cost nothing")

    def test_seventy_five_above_the_minimum_leaves_seventy_five(self):
        found = judge_minimum(Goal(None, 2000 * LB), scaled(2075 * LB), totals([]))
        self.assertAlmostEqual(found.margin / LB, 75.0)
        self.assertIn("34.0 kg may still come out", found.reason)

    def test_a_goal_of_five_hundred_pounds(self):
        found = judge_phase(Goal(500 * LB), totals(self.items))
        self.assertEqual(found.state, "tight")
        self.assertAlmostEqual(-found.margin / LB, 500 - 72.5)
        self.assertEqual(judge_phase(Goal(72.5 * LB), totals(self.items)).state, "clear")
        self.assertIsNone(judge_phase(Goal(), totals(self.items)))

    def test_at_the_limit_itself(self):
        """Doubt that just reaches the minimum is tight from both sides.

        The goal reached exactly is clear and needs nothing.
        """
        for kg, state in ((901.0, "clear"), (900.99, "tight"), (899.0, "tight"), (898.99, "hit")):
            self.assertEqual(judge_minimum(Goal(None, 900.0), scaled(kg, 1.0), totals([])).state, state, kg)
        reached = judge_phase(Goal(20.0), totals([Weighed("A1", "bench", 20.0, "out")]))
        self.assertEqual((reached.state, reached.remedies, reached.uncertainty), ("clear", (), 0.0))

    def test_what_nobody_weighed_is_never_nothing(self):
        some = (*self.items, Weighed("A5", "headliner", None, "out"))
        self.assertEqual(totals(some).unweighed, 1)
        self.assertEqual(judge_phase(Goal(10.0), totals(some)).state, "unmeasured")
        self.assertEqual(judge_scale(scaled(900), scaled(860), totals(some)).state, "unmeasured")
        planned = totals([Weighed("A1", "glass", None, "planned")], ("planned",))
        self.assertEqual(judge_minimum(Goal(None, 800.0), scaled(900), planned).state, "unmeasured")


class Scale(unittest.TestCase):
    def test_residual_within_its_doubt_and_beyond(self):
        """Three ± of 0.5, 0.5 and 0.1 kg: √0.51 = 0.714 kg; three times that is the end of tight."""
        since = totals([Weighed("A1", "bench", 30.0, "out", doubt_kg=0.1)])
        doubt = math.sqrt(0.51)
        for rest, state in ((0.7, "clear"), (-0.7, "clear"), (0.8, "tight"), (2.1, "tight"), (-2.2, "hit")):
            found = judge_scale(scaled(900.0), scaled(870.0 - rest), since)
            self.assertEqual(found.state, state, rest)
            self.assertAlmostEqual(found.value, rest)
            self.assertAlmostEqual(found.uncertainty, doubt)
        self.assertIn("0.8 kg more than the ledger tells", judge_scale(scaled(900.0), scaled(869.2), since).reason)
        self.assertIn("0.8 kg less than the ledger tells", judge_scale(scaled(900.0), scaled(870.8), since).reason)

    def test_other_fuel_is_no_residual(self):
        gone = totals([Weighed("A1", "bench", 30.0, "out")])
        full, half, blank = (
            Scaled(kg, 0.5, SAID, fuel) for kg, fuel in ((900.0, "full"), (850.0, "Half"), (870.0, ""))
        )
        judged = judge_scale(full, half, gone)
        self.assertEqual((judged.state, judged.value), ("unmeasured", None))
        self.assertIn("“full”, then “Half”", judged.reason)
        self.assertEqual(judge_scale(full, blank, gone).state, "clear")
        self.assertEqual(judge_scale(Scaled(880.0, 0.5, SAID, " half "), half, gone).state, "clear")

    def test_other_wheels_count_beside_the_ledger(self):
        """Wheels that are 6 kg lighter: 36 kg on the scale, 30 in the ledger."""
        since = totals([Weighed("A1", "bench", 30.0, "out")])
        self.assertAlmostEqual(judge_scale(scaled(900.0), scaled(864.0), since, -6.0).value, 0.0)
        self.assertIsNone(judge_scale(None, scaled(900.0), since))

    def test_the_minimum_by_what_is_planned_and_by_the_ballast_that_is_missing(self):
        planned = totals([Weighed("A1", "glass", 20.0, "planned", back_kg=6.0)], ("planned",))
        for minimum, state, words in (
            (880.0, "clear", "6.0 kg may"),
            (885.7, "tight", "0.3 kg may"),
            (886.3, "tight", "0.3 kg of ballast"),
            (890.0, "hit", "4.0 kg of ballast"),
        ):
            found = judge_minimum(Goal(None, minimum), scaled(900.0), planned)
            self.assertEqual(found.state, state, minimum)
            self.assertIn(words, found.reason)
        self.assertEqual(judge_minimum(Goal(None, 800.0), None, planned).state, "unmeasured")


ITEMS = (
    Weighed("A1", "rear bench", 25.0, minutes=40.0),
    Weighed("A2", "spare wheel", 14.0, minutes=5.0, comfort=True),
    Weighed("A3", "rear glass", 9.0, back_kg=3.4, money_minor=22_000, minutes=180.0, reversible=False),
    Weighed("A4", "driver's airbag", 3.5, guarded="airbag"),
    Weighed("A5", "light battery", 13.0, back_kg=4.2, money_minor=19_000, minutes=30.0),
    Weighed("A6", "headliner", None),
    Weighed("A7", "rear belts", 3.2, minutes=25.0, needs=("A1",)),
    Weighed("A8", "bracket of the airbag", 0.8, needs=("A4",)),
    Weighed("A9", "gel battery", 13.0, back_kg=7.0, money_minor=9_000, minutes=30.0, not_with=("A5",)),
    Weighed("B1", "carpet, out already", 6.0, "out"),
)


class BestSet(unittest.TestCase):
    def test_against_every_set_there_is(self):
        """All 2⁶ sets of what may come out, by money and hours; the best is the best of them."""
        able, _ = open_to(ITEMS, Wanted())
        for money, hours in ((0, None), (10_000, 2.0), (20_000, None), (45_000, 6.0)):
            best = 0.0
            for bits in itertools.product((0, 1), repeat=len(able)):
                some = [one for one, bit in zip(able, bits, strict=True) if bit]
                labels = {one.label for one in some}
                if any(not set(one.needs) <= labels or set(one.not_with) & labels for one in some):
                    continue
                if sum(one.money_minor for one in some) > money or (
                    hours is not None and sum(one.minutes for one in some) > 60 * hours
                ):
                    continue
                best = max(best, sum(one.net_kg for one in some))
            found = best_set(ITEMS, Wanted(money_minor=money, hours=hours), frontier=False)
            self.assertAlmostEqual(found.found.kg, best, places=6, msg=(money, hours))

    def test_airbags_belts_and_the_law_are_never_proposed(self):
        for kind in GUARDED:
            some = [replace(one, guarded=kind) if one.label == "A1" else one for one in ITEMS]
            found = best_set(some, Wanted())
            self.assertNotIn("A1", [one.label for one in found.chosen])
            self.assertIn("never proposed", {one.label: why for one, why in found.why_not}["A1"])
            self.assertNotIn("A7", [one.label for one in found.chosen], "it needs what stays in")

    def test_why_each_other_item_is_not_in_it(self):
        found = best_set(ITEMS, Wanted("money", 40.0, money_minor=9_000, keep_comfort=True, reversible_only=True))
        why = {one.label: words for one, words in found.why_not}
        self.assertIn("never proposed", why["A4"])
        self.assertEqual(why["A2"], "costs comfort or noise")
        self.assertEqual(why["A3"], "can't go back in")
        self.assertEqual(why["A6"], "not weighed yet")
        self.assertEqual(why["A8"], "needs something that stays in")
        self.assertNotIn("B1", why)
        dear = best_set(ITEMS, Wanted(money_minor=0))
        self.assertEqual({one.label: words for one, words in dear.why_not}["A5"], "the money does not reach for it too")
        both = best_set(ITEMS, Wanted())
        self.assertEqual({one.label: words for one, words in both.why_not}["A9"], "does not go with light battery")
        slow = best_set(ITEMS, Wanted(hours=1.0))
        self.assertEqual({one.label: words for one, words in slow.why_not}["A3"], "the hours do not reach for it too")
        easy = best_set(ITEMS, Wanted("items", 20.0))
        self.assertEqual([one.label for one in easy.chosen], ["A1"])
        self.assertEqual({one.label: words for one, words in easy.why_not}["A2"], "the goal is reached without it")

    def test_the_frontier_against_hours_by_every_set_there_is(self):
        """Of all sets of four items that need nothing, those that none beats in kilograms and hours at once."""
        some = [
            Weighed("A1", "a", 12.0, minutes=60.0),
            Weighed("A2", "b", 9.0, minutes=30.0),
            Weighed("A3", "c", 7.0, minutes=30.0),
            Weighed("A4", "d", 3.0, minutes=90.0),
        ]
        every = {
            (sum(one.kg for one in s), sum(one.minutes for one in s) / 60)
            for n in range(5)
            for s in itertools.combinations(some, n)
        }
        best = {
            pair
            for pair in every
            if not any(other != pair and other[0] >= pair[0] and other[1] <= pair[1] for other in every)
        }
        found = best_set(some, Wanted(), "hours")
        self.assertEqual({(round(kg, 6), round(hours, 6)) for kg, hours in found.found.frontier}, best)
        self.assertEqual(
            {hours for _, hours in best_set(some, Wanted(hours=1.0), "hours").found.frontier}, {0.0, 0.5, 1.0}
        )

    def test_nothing_to_propose_is_no_set(self):
        self.assertIsNone(best_set([one for one in ITEMS if one.label in ("A4", "A6", "B1")], Wanted()))

    def test_guarded_work_has_a_caution_where_it_is_planned_or_done(self):
        self.assertEqual(judge_guarded(ITEMS), [])
        out = judge_guarded([replace(ITEMS[3], state="planned")])
        self.assertEqual((out[0].state, out[0].where), ("tight", "label A4"))
        self.assertIn("qualified", out[0].remedies[0])


class Moves(unittest.TestCase):
    def test_what_goes_out_is_minus_and_what_has_no_place_is_named(self):
        some = [
            Weighed("A1", "bench", 25.0, "out", back_kg=5.0, place_mm=(1900.0, 0.0), height_mm=600.0),
            Weighed("A2", "jack", 4.0, "out"),
            ITEMS[5],
        ]
        found, unplaced = moved(some, ("out",))
        self.assertEqual([(one.name, one.kg, one.x_mm, one.z_mm) for one in found], [("bench", -20.0, 1900.0, 600.0)])
        self.assertEqual(unplaced, ["jack"])


class Ballast(unittest.TestCase):
    """Against moments of five point masses, and by trying other places."""

    CAR = Stands((330.0, 300.0, 190.0, 180.0), 2500.0, (1500.0, 1460.0))

    def centre(self, place, kg):
        f, r = 750.0, 730.0
        masses = [(330.0, 0.0, -f), (300.0, 0.0, f), (190.0, 2500.0, -r), (180.0, 2500.0, r), (kg, *place)]
        total = sum(m for m, _, _ in masses)
        return sum(m * x for m, x, _ in masses) / total, sum(m * y for m, _, y in masses) / total

    def test_enough_of_it_brings_the_centre_onto_both_lines(self):
        x, y = self.centre(ballast_mm(self.CAR, 300.0), 300.0)
        self.assertAlmostEqual(x, 1250.0)
        self.assertAlmostEqual(y, 0.0)

    def test_a_little_lies_as_far_out_as_it_may_and_no_other_place_is_better(self):
        best = ballast_mm(self.CAR, 12.0)
        self.assertEqual(best, (2500.0, 730.0))

        def away(place):
            x, y = self.centre(place, 12.0)
            return abs(x - 1250.0), abs(y)

        for x in range(0, 2501, 250):
            for y in range(-730, 731, 146):
                self.assertTrue(all(one <= other + 1e-9 for one, other in zip(away(best), away((x, y)), strict=True)))

    def test_none_has_no_place(self):
        with self.assertRaises(BadInput):
            ballast_mm(self.CAR, 0.0)


class Drawn(unittest.TestCase):
    def test_areas_are_kilograms_at_their_places(self):
        some = [
            Weighed("A1", "a", 20.0, place_mm=(0.0, -750.0)),
            Weighed("A2", "b", 5.0, "out", back_kg=1.25, place_mm=(2500.0, 750.0)),
            Weighed("A3", "c", 5.0),
        ]
        first, second = plan(some, 2500.0, 1500.0)
        self.assertAlmostEqual((first.side / second.side) ** 2, 4.0, delta=0.05)
        self.assertAlmostEqual((second.back / second.side) ** 2, 0.25, delta=0.01)
        self.assertEqual((first.x, first.y, second.x, second.y), (96.0, 92.0, 284.0, 334.0))

    def test_what_lies_beyond_the_sheet_is_held_at_its_edge(self):
        """A sheet of 380 × 430 with 8 left free; 16 kg are a square of 36."""
        far, near = plan(
            [
                Weighed("A1", "a", 16.0, place_mm=(9000.0, 9000.0)),
                Weighed("A2", "b", 16.0, place_mm=(-9000.0, -9000.0)),
            ],
            2500.0,
            1500.0,
        )
        self.assertEqual((far.x, far.y), (380.0 - 8.0 - 18.0, 430.0 - 8.0 - 18.0))
        self.assertEqual((near.x, near.y), (26.0, 26.0))

    def test_sizes_are_told_to_a_tenth(self):
        (one,) = plan([Weighed("A1", "a", 7.0, back_kg=3.0, place_mm=(333.0, 111.0))], 2500.0, 1500.0)
        for value in (one.x, one.y, one.side, one.back):
            self.assertEqual(value, round(value, 1))

    def test_words_of_the_line_stand_below_each_other_in_rows(self):
        found = mass_line(900.0, 899.0, totals([]), Goal(1.5, 855.0))
        self.assertEqual([one.foot for one in sorted(found, key=lambda one: one.row)][:3], [30.0, 30.0, 68.0])

    def test_none_lies_on_another(self):
        some = [Weighed(f"A{k}", f"{k}", 1.0 + k, place_mm=(2400.0, 0.0)) for k in range(9)]
        drawn = plan(some, 2500.0, 1500.0)
        self.assertEqual(drawn[0].x, 190.0, "the heaviest keeps its place")
        for one, other in itertools.combinations(drawn, 2):
            self.assertGreaterEqual(abs(one.x - other.x), (one.side + other.side) / 2)

    def test_marks_of_the_line_keep_the_scale_and_their_words_apart(self):
        found = mass_line(900.0, 880.0, totals([]), Goal(40.0, 855.0))
        at = {one.name: one.x for one in found}
        self.assertEqual((at["before"], at["class minimum"]), (60.0, 660.0))
        self.assertAlmostEqual((at["now"] - at["before"]) / 600.0, 20 / 45, places=3)
        for one, other in itertools.combinations(found, 2):
            self.assertTrue(abs(one.x - other.x) >= 120 or one.row != other.row)

    def test_a_staircase_of_pairs(self):
        found = frontier_of([(10.0, 0.0), (25.0, 50.0), (30.0, 200.0)])
        self.assertEqual(found.path, "M58.0 150.0H143.5V60.0H400.0V30.0")
        self.assertIsNone(frontier_of([(10.0, 0.0)]))


if __name__ == "__main__":
    unittest.main()
