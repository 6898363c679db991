"""Parts of the shortlist in the best set."""

import itertools
import unittest

from rimcore.mass.ledger import Wanted, Weighed, best_set
from rimcore.mass.listed import Listed, of_list


class Lighter(unittest.TestCase):
    def test_sums_are_of_all_that_is_needed(self):
        (one,) = of_list([Listed("P1", "calipers", "caliper", (-1.2,) * 4, 54000, 45.0)])
        self.assertAlmostEqual(one.net_kg, 4.8)
        self.assertEqual((one.money_minor, one.minutes, one.timed, one.listed), (216000, 180.0, True, True))

    def test_what_is_heavier_or_not_known_is_no_way_to_take_weight_out(self):
        self.assertEqual(
            of_list(
                [
                    Listed("P1", "a", "battery", (0.5,), 1),
                    Listed("P2", "b", "battery", (None,), 1),
                    Listed("P3", "c", "pair", (-1.0, None), 1),
                ]
            ),
            (),
        )

    def test_a_seat_is_asked_for_in_the_ledger_and_what_hits_or_has_no_price_is_not_proposed(self):
        rows = of_list(
            [
                Listed("P1", "bucket", "seat", (-9.0,), 30000),
                Listed("P2", "rotor", "rotor", (-1.0,) * 2, 9000, hit="Disc in the wheel, 3 mm short"),
                Listed("P3", "pipe", "mid_pipe", (-2.0,), None),
                Listed("P4", "cell", "battery", (-9.0,), 20000),
            ]
        )
        best = best_set(rows, Wanted())
        self.assertEqual([one.label for one in best.chosen], ["P4"])
        why = {one.label: words for one, words in best.why_not}
        self.assertIn("airbag", why["P1"])
        self.assertIn("3 mm short", why["P2"])
        self.assertEqual(why["P3"], "its price is not known")

    def test_what_is_not_measured_of_its_fit_is_said(self):
        rows = of_list(
            [Listed("P1", "pot", "caliper", (-1.0,), 100, unread=True), Listed("P2", "cell", "battery", (-1.0,), 100)]
        )
        self.assertEqual([one.note for one in rows], ["its fit is not all measured", ""])

    def test_left_and_right_stand_beside_each_other_and_one_family_once(self):
        rows = of_list(
            [
                Listed(f"P{n}", "arm", "control_arm", (-1.0,), 100, side=side)
                for n, side in enumerate(("left", "right", "left", "both"))
            ]
        )
        clash = {one.label: set(one.not_with) for one in rows}
        self.assertEqual(clash, {"P0": {"P2", "P3"}, "P1": {"P3"}, "P2": {"P0", "P3"}, "P3": {"P0", "P1", "P2"}})

    def test_with_items_of_the_ledger_it_is_the_best_of_every_combination(self):
        items = [
            Weighed("M1", "bench", 20.0, minutes=30.0, money_minor=0),
            Weighed("M2", "glass", 9.0, minutes=200.0, money_minor=40000),
        ]
        parts = of_list(
            [
                Listed(f"P{n}", f"p{n}", family, (-kg,), money, minutes)
                for n, (family, kg, money, minutes) in enumerate(
                    (
                        ("battery", 8.0, 15000, 30.0),
                        ("battery", 11.0, 42000, 30.0),
                        ("silencer", 4.0, 20000, 120.0),
                        ("rotor", 6.0, 30000, 150.0),
                    )
                )
            ]
        )
        rows = [*items, *parts]
        for money, hours in ((30000, None), (60000, 4.0), (90000, 6.0), (None, 2.0)):
            best = best_set(rows, Wanted(money_minor=money, hours=hours))
            by_hand = max(
                sum(one.net_kg for one in some)
                for count in range(len(rows) + 1)
                for some in itertools.combinations(rows, count)
                if not any(other.label in one.not_with for one in some for other in some)
                and (money is None or sum(one.money_minor for one in some) <= money)
                and (hours is None or sum(one.minutes for one in some) <= hours * 60)
            )
            self.assertAlmostEqual(best.found.kg, by_hand, places=6)

    def test_what_nobody_timed_is_told_and_left_out_of_hours(self):
        rows = [*of_list([Listed("P1", "cell", "battery", (-9.0,), 20000)]), Weighed("M1", "bench", 20.0, minutes=30.0)]
        self.assertEqual(best_set(rows, Wanted()).untimed, 1)
        for wanted in (Wanted(hours=9.0), Wanted(least="hours", goal_kg=5.0)):
            best = best_set(rows, wanted)
            self.assertEqual(([one.label for one in best.chosen], best.untimed), (["M1"], 0))
            self.assertEqual({one.label: why for one, why in best.why_not}["P1"], "how long it takes is not known")
        curve = best_set(rows, Wanted(), "hours").found.frontier
        self.assertEqual(max(kg for _, kg in curve) if curve[0][0] < curve[0][1] else max(map(max, curve)), 20.0)
