"""The best sets against going through all of them, limits met exactly, and what stands in the way."""

from __future__ import annotations

import itertools
import random
import unittest
from decimal import Decimal
from typing import Any

from rimcore.choosing.calculations import COMPOSE
from rimcore.quantities.errors import BadInput


def all_sets(given: dict[str, Any]) -> list[tuple[tuple[str | None, ...], dict[str, Decimal]]]:
    """Every set that holds, by going through all."""
    lists = [[*([] if slot.get("required", True) else [None]), *slot["options"]] for slot in given["slots"]]
    found = []
    for picked in itertools.product(*lists):
        ids = {one["id"] for one in picked if one}
        if any(set(group) <= ids for group in given.get("not_together", [])):
            continue
        if any(need["if"] in ids and not ids & set(need["any"]) for need in given.get("needs", [])):
            continue
        figures = {
            name: sum((Decimal(repr(float(one.get(name, 0)))) for one in picked if one), Decimal(0))
            for name in ("money", "kg", "hours", "score")
        }
        figures["lead_days"] = max(
            (Decimal(repr(float(one.get("lead_days", 0)))) for one in picked if one), default=Decimal(0)
        )
        figures["kg_off"] = -figures["kg"]
        good = all(figures[name] <= Decimal(repr(float(one))) for name, one in (given.get("limits") or {}).items())
        good &= all(figures[name] >= Decimal(repr(float(one))) for name, one in (given.get("least") or {}).items())
        if good:
            found.append((tuple(one["id"] if one else None for one in picked), figures))
    return found


def rank(goal: str, figures: dict[str, Decimal]) -> tuple[Decimal, Decimal, Decimal]:
    return (-figures["score"] if goal == "score" else figures[goal]), figures["money"], figures["kg"]


def any_wish(chance: random.Random) -> dict[str, Any]:
    slots = []
    for k in range(chance.randint(1, 5)):
        options = [
            {
                "id": f"{k}{n}",
                "money": chance.choice([0, 49.9, 100, 120.5, 310]),
                "kg": round(chance.uniform(-5, 3), 1),
                "hours": chance.choice([0, 0.5, 2]),
                "lead_days": chance.randint(0, 20),
                "score": chance.randint(0, 5),
            }
            for n in range(chance.randint(1, 4))
        ]
        slots.append({"name": f"s{k}", "required": chance.random() < 0.6, "options": options})
    ids = [one["id"] for slot in slots for one in slot["options"]]
    given: dict[str, Any] = {"slots": slots, "goal": chance.choice(["money", "kg", "hours", "lead_days", "score"])}
    if len(ids) > 3:
        given["not_together"] = [chance.sample(ids, chance.randint(2, 3)) for _ in range(chance.randint(0, 4))]
        given["needs"] = [
            {"if": one[0], "any": one[1:]} for one in (chance.sample(ids, 3) for _ in range(chance.randint(0, 2)))
        ]
    if chance.random() < 0.7:
        given["limits"] = {"money": chance.choice([149.9, 300, 500.4]), "hours": 4, "lead_days": 15}
    if chance.random() < 0.4:
        given["least"] = {"score": chance.randint(1, 8)}
    return given


class AgainstAll(unittest.TestCase):
    def test_the_best_is_the_best_of_all(self) -> None:
        for seed in range(60):
            given = any_wish(random.Random(seed))
            every = all_sets(given)
            found = COMPOSE.answer(given | {"without": False})
            self.assertTrue(found["proven"], seed)
            if not every:
                self.assertEqual(found["sets"], [], seed)
                continue
            best = min(rank(given["goal"], figures) for _, figures in every)
            chosen = tuple(found["sets"][0]["chosen"][slot["name"]] for slot in given["slots"])
            self.assertEqual(rank(given["goal"], dict(every)[chosen]), best, seed)

    def test_every_later_set_is_the_best_that_the_ones_before_leave(self) -> None:
        for seed in range(100, 118):
            chance = random.Random(seed)
            given, differ = any_wish(chance), chance.randint(1, 2)
            found = COMPOSE.answer(given | {"without": False, "top": 4, "differ": differ})["sets"]
            left = dict(all_sets(given))
            for one in found:
                chosen = tuple(one["chosen"][slot["name"]] for slot in given["slots"])
                best = min(rank(given["goal"], figures) for figures in left.values())
                self.assertEqual(rank(given["goal"], left[chosen]), best, seed)
                left = {
                    ids: figures
                    for ids, figures in left.items()
                    if sum(a != b for a, b in zip(ids, chosen, strict=True)) >= differ
                }
            self.assertTrue(len(found) == 4 or not left, seed)

    def test_without_each_limit(self) -> None:
        for seed in range(200, 215):
            given = any_wish(random.Random(seed)) | {"limits": {"money": 120.5, "lead_days": 6}, "least": {"score": 4}}
            told = {one["limit"]: one["goal"] for one in COMPOSE.answer(given)["without"]}
            self.assertEqual(list(told), ["money", "lead_days", "score"])
            for name, goal in told.items():
                other = given | {
                    "limits": {key: one for key, one in given["limits"].items() if key != name},
                    "least": {key: one for key, one in given["least"].items() if key != name},
                }
                every = all_sets(other)
                wanted = min((rank(given["goal"], figures)[0] for _, figures in every), default=None)
                if wanted is not None and given["goal"] == "score":
                    wanted = -wanted
                self.assertEqual(goal, None if wanted is None else float(wanted), (seed, name))


class ByHand(unittest.TestCase):
    def test_a_sum_that_meets_its_limit_exactly_holds(self) -> None:
        slots = [
            {"name": f"s{k}", "options": [{"id": f"a{k}", "money": 0.1}, {"id": f"b{k}", "money": 0.2}]}
            for k in range(3)
        ]
        found = COMPOSE.answer({"slots": slots, "goal": "money", "limits": {"money": 0.3}})
        self.assertEqual(found["sets"][0]["money"], 0.3)
        tight = COMPOSE.answer({"slots": slots, "goal": "money", "limits": {"money": 0.29999999}})
        self.assertEqual((tight["sets"], tight["without"]), ([], [{"limit": "money", "goal": 0.3}]))

    def test_empty_slots_and_their_difference(self) -> None:
        slots = [{"name": "bar", "required": False, "options": [{"id": "x", "money": 5, "score": 1}]}]
        found = COMPOSE.answer({"slots": slots, "goal": "money", "top": 5})["sets"]
        self.assertEqual([one["chosen"]["bar"] for one in found], [None, "x"])
        self.assertEqual(found[0]["lead_days"], 0.0)

    def test_refused(self) -> None:
        one = {"name": "s", "options": [{"id": "a"}, {"id": "b"}]}
        for more, field in (
            ({"slots": [one, one]}, "slots.1.name"),
            ({"slots": [one, {"name": "t", "options": [{"id": "a"}]}]}, "slots.1.options.0.id"),
            ({"slots": [one], "not_together": [["a"]]}, "not_together.0"),
            ({"slots": [one], "not_together": [["a", "x"]]}, "not_together.0"),
            ({"slots": [one], "needs": [{"if": "x", "any": ["a"]}]}, "needs.0.if"),
            ({"slots": [one], "top": 11}, "top"),
            ({"slots": [one], "goal": "taste"}, "goal"),
            ({"slots": [one], "limits": {"score": 3}}, "limits.score"),
        ):
            with self.assertRaises(BadInput) as caught:
                COMPOSE.answer({"goal": "money", **more})
            self.assertEqual(caught.exception.field, field)
