"""Balance against an independent statics solution; the best set against every set tried."""

import itertools
import unittest

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st

from rimcore.mass.lighten import Item, Limits, lighten
from rimcore.quantities.errors import BadInput
from rimcore.registry import CALCULATIONS

CAR = {
    "pads_kg": {"FL": 352, "FR": 338, "RL": 261, "RR": 289},
    "wheelbase_mm": 2570,
    "track_mm": {"front": 1520, "rear": 1490},
    "cg_height_mm": 520,
}


def balance(*items, **change):
    return CALCULATIONS["balance"].answer(CAR | {"items": list(items)} | change)


def statics(kg, x, y):
    """Four equal springs under a rigid plate: heave, roll and pitch solved for one load."""
    base, front, rear = 2570.0, 1520.0, 1490.0
    corners = np.array([[0, -front / 2], [0, front / 2], [base, -rear / 2], [base, rear / 2]])
    shape = np.column_stack([np.ones(4), corners])
    return shape @ np.linalg.solve(shape.T @ shape, kg * np.array([1.0, x, y]))


class Balance(unittest.TestCase):
    @settings(max_examples=60, deadline=None, derandomize=True)
    @given(st.floats(-40, 40), st.floats(-800, 3300), st.floats(-700, 700))
    def test_four_springs_under_a_plate(self, kg, x, y):
        found = balance({"name": "one", "kg": kg, "x_mm": x, "y_mm": y})
        wanted = np.array([352, 338, 261, 289]) + statics(kg, x, y)
        np.testing.assert_allclose(list(found["pads_after_kg"].values()), wanted, atol=1e-8)
        self.assertAlmostEqual(found["total_kg"], 1240 + kg, places=8)

    def test_moments_are_kept(self):
        found = balance(
            {"name": "battery", "kg": -17, "x_mm": -200, "y_mm": -400, "z_mm": 700},
            {"name": "battery", "kg": 9, "x_mm": 2700, "y_mm": 300, "z_mm": 400},
        )
        pads, total = found["pads_after_kg"], found["total_kg"]
        before = 2570 * (261 + 289) / 1240
        self.assertAlmostEqual(
            found["cg_after_mm"]["behind_front_axle"], (1240 * before + 17 * 200 + 9 * 2700) / total, places=6
        )
        self.assertAlmostEqual(found["cg_after_mm"]["height"], (1240 * 520 - 17 * 700 + 9 * 400) / total, places=6)
        self.assertAlmostEqual(found["front_pct"], 100 * (pads["FL"] + pads["FR"]) / total)
        self.assertAlmostEqual(found["cross_pct"], 100 * (pads["FR"] + pads["RL"]) / total)

    def test_what_is_not_known_and_what_lifts(self):
        self.assertIsNone(balance({"name": "a", "kg": 1, "x_mm": 0, "y_mm": 0})["cg_after_mm"]["height"])
        self.assertIsNone(balance(cg_height_mm=None)["cg_after_mm"]["height"])
        self.assertEqual(balance()["cg_after_mm"]["height"], 520.0)
        self.assertIn("lifts", balance({"name": "a", "kg": 700, "x_mm": 6000, "y_mm": 0, "z_mm": 1})["warnings"][0])
        with self.assertRaises(BadInput) as refused:
            balance({"name": "a", "kg": -1240, "x_mm": 0, "y_mm": 0})
        self.assertEqual(refused.exception.field, "items")


def brute(items, limits, goal=None, least=None):
    """Every set there is."""
    found = []
    for bits in itertools.product((0, 1), repeat=len(items)):
        out = [one for one, bit in zip(items, bits, strict=True) if bit]
        names = {one.name for one in out}
        if any(not one.allowed or (limits.reversible_only and not one.reversible) for one in out):
            continue
        if any(set(one.needs) - names or set(one.not_with) & names for one in out):
            continue
        kg, money, hours = (sum(getattr(one, what) for one in out) for what in ("net_kg", "money", "hours"))
        if (limits.money is not None and money > limits.money + 1e-9) or (
            limits.hours is not None and hours > limits.hours + 1e-9
        ):
            continue
        found.append((kg, money, hours, len(out), tuple(-bit for bit in bits), tuple(one.name for one in out)))
    best = max(row[0] for row in found)
    if least and best >= goal - 1e-9:
        place = {"money": 1, "hours": 2, "items": 3}[least]
        found = [row for row in found if row[0] >= goal - 1e-9]
        return (
            best,
            min(
                found,
                key=lambda row: (
                    round(row[place], 6),
                    -round(row[0], 6),
                    round(row[1], 6),
                    round(row[2], 6),
                    row[3],
                    row[4],
                ),
            ),
            found,
        )
    return (
        best,
        min(found, key=lambda row: (-round(row[0], 6), round(row[1], 6), round(row[2], 6), row[3], row[4])),
        found,
    )


ITEMS = st.lists(
    st.builds(
        lambda kg, back, money, hours, rev, ok: {
            "kg": kg,
            "put_back_kg": back,
            "money": money,
            "hours": hours,
            "reversible": rev,
            "allowed": ok,
        },
        st.sampled_from([1.0, 2.0, 2.5, 4.0, 7.5]),
        st.sampled_from([0.0, 0.0, 0.5, 3.0]),
        st.sampled_from([-30.0, 0.0, 0.0, 15.0, 40.0, 90.0]),
        st.sampled_from([0.0, 0.5, 1.0, 3.0]),
        st.booleans(),
        st.sampled_from([True, True, True, False]),
    ),
    min_size=1,
    max_size=7,
)


class Best(unittest.TestCase):
    @settings(max_examples=60, deadline=None, derandomize=True)
    @given(ITEMS, st.data())
    def test_against_every_set(self, rows, data):
        names = [f"i{k}" for k in range(len(rows))]

        def pick(k):
            others = [name for name in names if name != f"i{k}"]
            return tuple(data.draw(st.lists(st.sampled_from(others), max_size=1, unique=True))) if others else ()

        items = [
            Item(name, **row, needs=pick(k), not_with=pick(k))
            for k, (name, row) in enumerate(zip(names, rows, strict=True))
        ]
        limits = Limits(
            data.draw(st.sampled_from([None, 0.0, 50.0])),
            data.draw(st.sampled_from([None, 2.0])),
            data.draw(st.booleans()),
        )
        least = data.draw(st.sampled_from([None, "money", "hours", "items"]))
        goal = data.draw(st.sampled_from([0.0, 3.0, 8.0, 50.0])) if least else None
        try:
            best, wanted, every = brute(items, limits, goal, least)
        except ValueError:
            return
        found = lighten(items, limits, goal, least, True, 30.0)
        self.assertAlmostEqual(found.best_possible_kg, best, places=6)
        self.assertEqual(found.chosen, wanted[5])
        self.assertTrue(found.proven)
        self.assertEqual(found.reached, None if goal is None else wanted[0] >= goal - 1e-6)
        pairs = {(round(row[0], 6), round(row[1], 6)) for row in brute(items, limits)[2]}
        good = sorted(
            pair
            for pair in pairs
            if not any((kg >= pair[0] and money <= pair[1]) and (kg, money) != pair for kg, money in pairs)
        )
        self.assertEqual([(round(kg, 6), round(money, 6)) for kg, money in found.frontier], good)

    def test_a_goal_out_of_reach_is_an_answer(self):
        items = [{"name": "spare", "kg": 11, "money": 5}, {"name": "jack", "kg": 2}]
        found = CALCULATIONS["lighten"].answer({"items": items, "minimise": "money", "goal_kg": 50})
        self.assertEqual(
            (found["reached"], found["kg"], found["chosen"], found["best_possible_kg"]),
            (False, 13.0, ["spare", "jack"], 13.0),
        )

    def test_all_or_none_in_a_ring(self):
        items = [
            Item("a", 5.0, needs=("b",)),
            Item("b", 5.0, money=100.0, needs=("c",)),
            Item("c", 5.0, needs=("a",)),
            Item("d", 1.0),
        ]
        self.assertEqual(lighten(items, Limits(money=99.0)).chosen, ("d",))
        self.assertEqual(lighten(items, Limits(money=100.0)).chosen, ("a", "b", "c", "d"))

    def test_a_goal_that_is_all_there_is_is_reached_with_the_least_of_it(self):
        items = [Item("a", 5.0, money=100.0), Item("b", 4.0, money=99.0), Item("c", 0.0, money=3.0)]
        found = lighten(items, Limits(), 9.0, "money")
        self.assertEqual((found.reached, found.chosen, found.money), (True, ("a", "b"), 199.0))

    def test_limits_and_goals_between_the_figures(self):
        items = [Item("a", 5.0, money=100.0), Item("b", 4.0, money=99.0)]
        self.assertEqual(lighten(items, Limits(money=99.6)).chosen, ("b",))
        self.assertEqual(lighten(items, Limits(money=100.0)).chosen, ("a",))
        self.assertEqual(lighten(items, Limits(), 4.4, "money").chosen, ("a",))
        self.assertFalse(lighten(items, Limits(money=100.0), 5.4, "money").reached)

    def test_forty_sums_where_there_are_more_pairs(self):
        """Independent items of doubling mass and money: every set is undominated, 1,024 of them."""
        items = [Item(f"i{k}", float(2**k), money=float(2**k)) for k in range(10)]
        found = lighten(items, Limits(), frontier=True, time_limit_s=60)
        self.assertLessEqual(len(found.frontier), 40)
        self.assertEqual((found.frontier[0], found.frontier[-1]), ((0.0, 0.0), (1023.0, 1023.0)))
        self.assertTrue(all(kg == money for kg, money in found.frontier))

    def test_ordinary_cents_lose_no_pair_of_the_frontier(self):
        """Two items whose sums need more than six figures; then random sets of cents against every set there is."""
        first = [
            Item("a", 8.12, money=13774.59, not_with=("b",)),
            Item("b", 8.39, money=19761.14),
            Item("c", 22.09, money=3270.42, needs=("d",)),
            Item("d", 1.62, money=11761.36),
        ]
        self.assertEqual(len(lighten(first, Limits(), frontier=True).frontier), 6)
        dice = np.random.default_rng(22)
        for _ in range(25):
            items = [
                Item(f"i{k}", round(float(kg), 2), money=round(float(money), 2))
                for k, (kg, money) in enumerate(
                    zip(dice.uniform(0.5, 30, 6), dice.uniform(500, 20_000, 6), strict=True)
                )
            ]
            sets = [[one for k, one in enumerate(items) if mask >> k & 1] for mask in range(64)]
            pairs = {(round(sum(one.kg for one in some), 2), round(sum(one.money for one in some), 2)) for some in sets}
            good = sorted(
                p for p in pairs if not any(kg >= p[0] and money <= p[1] and (kg, money) != p for kg, money in pairs)
            )
            found = lighten(items, Limits(), frontier=True, time_limit_s=60).frontier
            if len(good) <= 40:
                self.assertEqual([(round(kg, 2), round(money, 2)) for kg, money in found], good)

    def test_a_limit_below_nothing_is_refused(self):
        with self.assertRaisesRegex(BadInput, "below 0"):
            lighten([Item("a", 1.0)], Limits(hours=-1.0))
        with self.assertRaises(BadInput) as caught:
            CALCULATIONS["lighten"].answer(
                {"items": [{"name": "a", "kg": 1}], "maximise": "kg", "limits": {"money": -5}}
            )
        self.assertEqual(caught.exception.field, "limits.money")

    def test_out_of_time_says_so(self):
        dice = np.random.default_rng(3)
        items = [
            Item(f"i{k}", float(dice.uniform(1, 2)), money=float(dice.uniform(1, 2)), hours=float(dice.uniform(1, 2)))
            for k in range(200)
        ]
        found = lighten(items, Limits(money=120.123, hours=121.456), time_limit_s=0.0)
        self.assertFalse(found.proven)
        self.assertGreater(found.bound_kg, 0)

    def test_refused(self):
        item = {"name": "a", "kg": 1}
        for given_input, field in (
            ({"items": [item, item], "maximise": "kg"}, "items.1.name"),
            ({"items": [item | {"needs": ["b"]}], "maximise": "kg"}, "items.0.needs.0"),
            ({"items": [item | {"not_with": ["a"]}], "maximise": "kg"}, "items.0.not_with.0"),
            ({"items": [], "maximise": "kg"}, "items"),
            ({"items": [item]}, "minimise"),
            ({"items": [item], "minimise": "money", "maximise": "kg", "goal_kg": 1}, "maximise"),
            ({"items": [item], "minimise": "money"}, "goal_kg"),
            ({"items": [item | {"kg": -1}], "maximise": "kg"}, "items.0.kg"),
            ({"items": [item] * 201, "maximise": "kg"}, "items"),
        ):
            with self.subTest(given=str(given_input)[:60]), self.assertRaises(BadInput) as refused:
                CALCULATIONS["lighten"].answer(given_input)
            self.assertEqual(refused.exception.field, field)
