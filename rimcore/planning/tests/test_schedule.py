"""Schedules: by hand day by day, against a plain second walk, against the beta's own distribution."""

from __future__ import annotations

import json
import random
import unittest
from datetime import date, timedelta
from typing import Any

import numpy as np
from scipy import stats

from rimcore.planning.calculations import SCHEDULE, _plan
from rimcore.planning.drawn import pert
from rimcore.planning.followed import followed
from rimcore.planning.network import Calendar, PlanPart, Task
from rimcore.planning.schedule import Plan, Schedule
from rimcore.planning.tests.plainly import likely_inputs, walk_one
from rimcore.quantities.contract import check_object
from rimcore.quantities.errors import BadInput

MONDAY = date(2027, 5, 3)
EVENINGS = [2, 2, 2, 2, 2, 6, 6]


def on(days: int) -> str:
    return (MONDAY + timedelta(days=days)).isoformat()


def asked(**more: Any) -> dict[str, Any]:
    return {"today": on(0), "week_hours": EVENINGS, "draws": 0, "tasks": []} | more


def answer(**more: Any) -> dict[str, Any]:
    return SCHEDULE.answer(asked(**more))


def tasks_of(found: dict[str, Any]) -> dict[str, tuple[str | None, str | None, int | None]]:
    return {one["id"]: (one["start"], one["finish"], one["slack_days"]) for one in found["tasks"]}


class ByHand(unittest.TestCase):
    def test_a_job_after_its_part(self) -> None:
        """Part on Friday the 7th; 9 h: Friday 2, Saturday 6, Sunday 1; a day later Saturday 6, Sunday 3: as soon."""
        found = answer(
            tasks=[{"id": "fit", "hours": 9, "parts": ["wheels"]}],
            parts=[{"id": "wheels", "lead_days": 3.2}],
            event_on=on(10),
        )
        self.assertEqual(tasks_of(found)["fit"], (on(4), on(6), 1))
        self.assertEqual(found["parts"], [{"id": "wheels", "arrives": on(4), "slack_days": 1}])
        self.assertEqual((found["ready_on"], found["days_in_hand"]), (on(6), 3))

    def test_begun_goes_on_before_what_stands_first(self) -> None:
        """b is begun on Monday; a's part comes on Tuesday: b is finished first, then a with the rest of the day."""
        found = answer(
            tasks=[{"id": "a", "hours": 1, "parts": ["p"]}, {"id": "b", "hours": 3}],
            parts=[{"id": "p", "lead_days": 1}],
        )
        self.assertEqual(tasks_of(found), {"a": (on(1), on(1), 0), "b": (on(0), on(1), 0)})

    def test_given_away_waits_for_nobodys_hours(self) -> None:
        """Stripped on Monday, 3 days at the welder's, paint dries a day, then reassembly on Friday."""
        found = answer(
            week_hours=[2, 0, 0, 0, 2, 0, 0],
            tasks=[
                {"id": "strip", "hours": 2},
                {"id": "weld", "away_days": 2.4, "after": ["strip"], "wait_days": 1},
                {"id": "back", "hours": 2, "after": ["weld"]},
            ],
        )
        self.assertEqual(tasks_of(found)["weld"][:2], (on(0), on(3)))
        self.assertEqual(tasks_of(found)["back"][:2], (on(4), on(4)))

    def test_helper_lift_and_weather_are_asked_for(self) -> None:
        found = answer(
            tasks=[{"id": "box", "hours": 3, "helper": True}, {"id": "under", "hours": 1, "lift": True}],
            helper_days={"weekdays": [5]},
            lift_days={"dates": [on(2)]},
        )
        self.assertEqual(tasks_of(found)["box"][:2], (on(5), on(5)))
        self.assertEqual(tasks_of(found)["under"][:2], (on(2), on(2)))
        never = answer(tasks=[{"id": "box", "hours": 3, "helper": True}])
        self.assertEqual((never["ready_on"], tasks_of(never)["box"]), (None, (None, None, None)))

    def test_a_part_that_is_ordered_only_after_a_reading(self) -> None:
        found = answer(
            tasks=[{"id": "read", "hours": 3}, {"id": "fit", "hours": 1, "parts": ["bracket"]}],
            parts=[{"id": "bracket", "lead_days": 5, "after": ["read"]}],
        )
        self.assertEqual(found["parts"][0]["arrives"], on(6))
        self.assertEqual(tasks_of(found)["fit"][:2], (on(6), on(6)))

    def test_away_and_extra_days(self) -> None:
        found = answer(tasks=[{"id": "a", "hours": 5}], away=[on(0), on(1)], extra_hours={on(1): 1.5, on(3): 0})
        self.assertEqual(tasks_of(found)["a"][:2], (on(1), on(4)))

    def test_nothing_to_do_is_ready_today(self) -> None:
        self.assertEqual(answer()["ready_on"], on(0))
        done = answer(tasks=[{"id": "a", "hours": 3, "done_on": on(-3)}])
        self.assertEqual((done["ready_on"], tasks_of(done)["a"]), (on(0), (None, on(-3), None)))


def any_plan(chance: random.Random) -> dict[str, Any]:
    """A plan at random, as the contract takes it."""

    def three(low: float, high: float) -> Any:
        found = sorted(round(chance.uniform(low, high), 1) for _ in range(3))
        return chance.choice([found[1], found])

    parts: list[dict[str, Any]] = [{"id": f"p{k}", "lead_days": three(0, 25)} for k in range(chance.randint(0, 5))]
    for part in parts:
        if chance.random() < 0.3:
            part["ordered_on"] = on(chance.randint(-10, 8))
        if chance.random() < 0.2:
            part["arrived_on"] = on(-chance.randint(0, 9))
    tasks = [_any_task(chance, three, k, [part["id"] for part in parts]) for k in range(chance.randint(1, 9))]
    for part in parts:
        first = min([k for k, one in enumerate(tasks) if part["id"] in one.get("parts", [])], default=len(tasks))
        if first and chance.random() < 0.4:
            part["after"] = [f"t{chance.randrange(first)}"]
    chance.shuffle(tasks)
    return asked(
        tasks=tasks,
        parts=parts,
        week_hours=[chance.choice([0, 1.5, 2, 3]) for _ in range(5)] + [chance.choice([0, 4, 6]), 5],
        away=[on(chance.randint(0, 20)) for _ in range(3)],
        extra_hours={on(chance.randint(0, 20)): 4},
        helper_days={"weekdays": [5], "dates": [on(3)]},
        lift_days={"weekdays": [6]},
        event_on=on(chance.randint(10, 60)),
    )


def _any_task(chance: random.Random, three: Any, k: int, parts: list[str]) -> dict[str, Any]:
    task: dict[str, Any] = {"id": f"t{k}"}
    if chance.random() < 0.15:
        task["away_days"] = three(0, 9)
    else:
        task["hours"] = three(0, 8) if chance.random() > 0.1 else 0
        if chance.random() < 0.15:
            task["worked_hours"] = round(chance.uniform(0, 6), 1)
    if k and chance.random() < 0.6:
        task["after"] = chance.sample([f"t{j}" for j in range(k)], min(k, chance.randint(1, 2)))
    if parts and chance.random() < 0.5:
        task["parts"] = chance.sample(parts, min(len(parts), chance.randint(1, 2)))
    if chance.random() < 0.1:
        task["not_before"] = on(chance.randint(-5, 20))
    task |= {name: True for name in ("helper", "lift", "dry") if chance.random() < 0.15}
    if chance.random() < 0.2:
        task["wait_days"] = chance.randint(1, 4)
    if chance.random() < 0.1:
        task["done_on"] = on(-chance.randint(0, 5))
    return task


class AgainstAPlainWalk(unittest.TestCase):
    def test_dates_of_plans_at_random(self) -> None:
        for seed in range(120):
            given = any_plan(random.Random(seed))
            found = SCHEDULE.answer(json.loads(json.dumps(given)))
            start, finish, arrive, ready = walk_one(given, *likely_inputs(given))
            for one in found["tasks"]:
                wanted = start[one["id"]], finish[one["id"]]
                self.assertEqual((one["start"], one["finish"]), tuple(day and day.isoformat() for day in wanted), seed)
            for one in found["parts"]:
                there = arrive[one["id"]]
                self.assertEqual(one["arrives"], there and there.isoformat(), seed)
            self.assertEqual(found["ready_on"], ready and ready.isoformat(), seed)

    def test_slack_is_the_most_that_may_be_put_off_alone(self) -> None:
        for seed in range(200, 212):
            given = any_plan(random.Random(seed))
            found = SCHEDULE.answer(given)
            start, _, _, ready = walk_one(given, *likely_inputs(given))
            if ready is None:
                continue
            for one in [*found["tasks"], *found["parts"]]:
                if one["slack_days"] is None:
                    continue
                name = one["id"]
                slack = 0
                while slack < 60:
                    put_off: dict[str, Any] = (
                        {"begin": {name: start[name] + timedelta(days=slack + 1)}}
                        if "start" in one
                        else {"later": {name: slack + 1}}
                    )
                    other = walk_one(given, *likely_inputs(given), **put_off)[3]
                    if other is None or other > ready:
                        break
                    slack += 1
                self.assertEqual(one["slack_days"], slack, (seed, name))

    def test_draws_and_levers_are_the_same_walk(self) -> None:
        """Each draw walked plainly, as it is and without each thing: the same dates, the same gains."""
        for seed in (301, 305, 309):
            given = any_plan(random.Random(seed)) | {"draws": 12, "wet_pct": 40, "event_on": on(25)}
            plan = Schedule(_plan(check_object(given, SCHEDULE.inputs, "")))
            drawn = plan._drawn()
            shares = {"": 0}
            for lever in ["", *[one["id"] for one in given["tasks"]], *[one["id"] for one in given["parts"]]]:
                other = _without(given, lever)
                shares[lever] = sum(self._ready(other, drawn, given, k) for k in range(12))
            for one in plan.levers():
                self.assertAlmostEqual(one.chance_pct, 100 * shares[one.id] / 12, msg=f"{seed} {one.id}")
                self.assertAlmostEqual(one.gain_pct, 100 * (shares[one.id] - shares[""]) / 12)
            self.assertAlmostEqual(plan.chances().chance_pct or 0.0, 100 * shares[""] / 12)

    def _ready(self, other: dict[str, Any], drawn: Any, given: dict[str, Any], k: int) -> bool:
        wanted = {
            one["id"]: float(drawn.away[row, k]) if "away_days" in one else float(drawn.wanted[row, k])
            for row, one in enumerate(given["tasks"])
        }
        leads = {one["id"]: float(drawn.leads[row, k]) for row, one in enumerate(given["parts"])}
        wet = (lambda day: bool(drawn.wet[day, k])) if drawn.wet is not None else (lambda day: False)
        ready = walk_one(other, wanted, leads, wet=wet)[3]
        return ready is not None and ready <= date.fromisoformat(given["event_on"]) - timedelta(days=1)


def _without(given: dict[str, Any], name: str) -> dict[str, Any]:
    """The plan without a task, or with a part there today."""
    tasks = [
        {**one, "after": [before for before in one.get("after", []) if before != name]}
        for one in given["tasks"]
        if one["id"] != name
    ]
    parts = [
        {**one, "after": [before for before in one.get("after", []) if before != name]}
        | ({"arrived_on": on(0)} if one["id"] == name and not one.get("arrived_on") else {})
        for one in given["parts"]
    ]
    return {**given, "tasks": tasks, "parts": parts}


class Chances(unittest.TestCase):
    def test_what_never_comes_is_not_ready_however_far_the_event_lies(self) -> None:
        """730 days are followed; an event of a hundred years ahead makes nothing ready that is never done."""
        task = Task("fit", (1.0, 1.0, 1.0))
        plan = Plan(MONDAY, Calendar((0.0,) * 7), (task,), event_on=date(2130, 1, 1), draws=50)
        self.assertEqual(Schedule(plan).chances().chance_pct, 0.0)
        self.assertEqual([one.chance_pct for one in Schedule(plan).levers()], [100.0], "without it there is nothing")

    def test_one_task_is_the_betas_own_chance(self) -> None:
        """Two hours every day, PERT(2, 5, 20): ready by the end of day 3 where it takes 8 h at most (scipy's beta)."""
        low, likely, high = 2.0, 5.0, 20.0
        found = answer(
            week_hours=[2] * 7,
            tasks=[{"id": "a", "hours": [low, likely, high]}],
            event_on=on(4),
            draws=20_000,
        )
        wide = high - low
        chance = stats.beta(1 + 4 * (likely - low) / wide, 1 + 4 * (high - likely) / wide).cdf((8.0 - low) / wide)
        self.assertAlmostEqual(found["chance_pct"], 100 * chance, delta=2 * found["chance_pm_pct"])

    def test_one_part_with_a_chance_of_being_wrong(self) -> None:
        """Two PERT leads where it is wrong: their convolution by a second, longer drawing."""
        lead = [3.0, 6.0, 14.0]
        found = answer(
            week_hours=[24] * 7,
            tasks=[{"id": "a", "hours": 0, "parts": ["p"]}],
            parts=[{"id": "p", "lead_days": lead, "wrong_pct": 25}],
            event_on=on(10),
            draws=20_000,
        )
        wide = lead[2] - lead[0]
        beta = stats.beta(1 + 4 * (lead[1] - lead[0]) / wide, 1 + 4 * (lead[2] - lead[1]) / wide)
        many = np.random.default_rng(7)
        days = lead[0] + wide * beta.rvs(400_000, random_state=many)
        again = lead[0] + wide * beta.rvs(400_000, random_state=many)
        total = np.ceil(days + np.where(many.random(400_000) < 0.25, again, 0.0))
        self.assertAlmostEqual(found["chance_pct"], 100 * float((total <= 9).mean()), delta=2 * found["chance_pm_pct"])

    def test_the_own_factor_is_shared_by_all_tasks_of_a_draw(self) -> None:
        """Ten tasks of an hour with one shared factor: the sum is 10 F, lognormal (scipy), not an average."""
        found = answer(
            week_hours=[1] * 7,
            tasks=[{"id": f"t{k}", "hours": 1} for k in range(10)],
            event_on=on(12),
            factor={"median": 1.0, "sigma_common": 0.4},
            draws=20_000,
        )
        chance = stats.norm.cdf(np.log(12 / 10) / 0.4)
        self.assertAlmostEqual(found["chance_pct"], 100 * chance, delta=2 * found["chance_pm_pct"])

    def test_the_mean_of_pert(self) -> None:
        drawn = pert((2.0, 3.0, 10.0), 200_000, np.random.default_rng(3))
        self.assertAlmostEqual(float(drawn.mean()), (2 + 12 + 10) / 6, delta=0.02)

    def test_dates_of_shares_rise_and_the_seed_repeats(self) -> None:
        given = asked(
            tasks=[{"id": "a", "hours": [2, 6, 30]}, {"id": "b", "hours": [1, 2, 9], "after": ["a"], "dry": True}],
            wet_pct=50,
            draws=3000,
            event_on=on(12),
        )
        found, again, other = SCHEDULE.answer(given), SCHEDULE.answer(given), SCHEDULE.answer(given | {"seed": 2})
        self.assertEqual(found, again)
        self.assertNotEqual(found["chance_pct"], other["chance_pct"])
        shares = [found[f"ready_p{pct}_on"] for pct in (10, 50, 80, 90)]
        self.assertEqual(shares, sorted(shares))
        self.assertEqual(answer(tasks=given["tasks"])["ready_p50_on"], None)


class InAFewFigures(unittest.TestCase):
    """What a build's page says of the likely case, by hand."""

    def plan(self, *parts: PlanPart, hours: float = 6) -> Plan:
        fit = Task("fit", (hours,) * 3, parts=tuple(part.id for part in parts))
        return Plan(MONDAY, Calendar((1.0,) * 7), (fit,), parts, MONDAY + timedelta(days=42))

    def test_by_hand(self) -> None:
        """Six hours at an hour a day from the 13th on, wheels being the last to come."""
        parts = (
            PlanPart("wheels", (42, 42, 42), ordered_on=date(2027, 4, 1)),
            PlanPart("tyres", (5, 5, 5)),
            PlanPart("rings", arrived_on=date(2027, 4, 30)),
        )
        found = followed(self.plan(*parts), {})
        self.assertEqual([on for _, on in found.arrivals], [date(2027, 5, 13), date(2027, 5, 8), date(2027, 4, 30)])
        self.assertEqual(
            (found.earliest_start, found.finish, found.waits_for), (date(2027, 5, 13), date(2027, 5, 18), "wheels")
        )
        self.assertEqual(found.days_in_hand, (date(2027, 6, 14) - date(2027, 5, 18)).days - 1)

    def test_an_overdue_order_comes_today_at_the_earliest(self) -> None:
        late = PlanPart("late", (3, 3, 3), ordered_on=date(2027, 1, 1))
        self.assertEqual(followed(self.plan(late), {}).arrivals, (("late", MONDAY),))

    def test_a_part_without_a_date_leaves_none(self) -> None:
        found = followed(self.plan(), {}, ("odd",))
        self.assertEqual((found.earliest_start, found.finish, found.days_in_hand), (None, None, None))
        self.assertEqual(found.unknown, ("odd",))

    def test_too_late_is_negative(self) -> None:
        days = followed(self.plan(PlanPart("p", (90, 90, 90))), {}).days_in_hand
        self.assertLess(days or 0, 0)


class Refused(unittest.TestCase):
    def test_what_no_walk_can_follow(self) -> None:
        hour = {"hours": 1}
        part = {"id": "p", "lead_days": 1}
        for more, field in (
            ({"tasks": [{"id": "a", **hour, "after": ["b"]}, {"id": "b", **hour, "after": ["a"]}]}, "tasks"),
            ({"tasks": [{"id": "a", **hour, "after": ["a"]}]}, "tasks"),
            ({"tasks": [{"id": "a", **hour, "parts": ["p"]}], "parts": [part | {"after": ["a"]}]}, "parts"),
            ({"tasks": [{"id": "a", **hour}, {"id": "a", **hour}]}, "tasks.1.id"),
            ({"tasks": [{"id": "a", **hour, "after": ["x"]}]}, "tasks.0.after"),
            ({"tasks": [{"id": "a", **hour, "parts": ["x"]}]}, "tasks.0.parts"),
            ({"tasks": [{"id": "", **hour}]}, "tasks.0.id"),
            ({"tasks": [{"id": "a" * 81, **hour}]}, "tasks.0.id"),
            ({"tasks": [{"id": "a", "hours": [3, 2, 4]}]}, "tasks.0.hours"),
            ({"tasks": [{"id": "a", "hours": -1}]}, "tasks.0.hours"),
            ({"tasks": [{"id": "a"}]}, "tasks.0.hours"),
            ({"tasks": [{"id": "a", "hours": 1, "away_days": 1}]}, "tasks.0.hours"),
            ({"tasks": [{"id": "a", "away_days": 1, "worked_hours": 2}]}, "tasks.0.worked_hours"),
            ({"tasks": [{"id": "a", **hour, "done_on": on(1)}]}, "tasks.0.done_on"),
            ({"tasks": [{"id": "a", **hour, "wait_days": 1.5}]}, "tasks.0.wait_days"),
            ({"parts": [part | {"arrived_on": on(1)}]}, "parts.0.arrived_on"),
            ({"parts": [part | {"lead_days": -2}]}, "parts.0.lead_days"),
            ({"week_hours": [1] * 6}, "week_hours"),
            ({"week_hours": [25] + [1] * 6}, "week_hours.0"),
            ({"extra_hours": {"2027-02-30": 2}}, "extra_hours.2027-02-30"),
            ({"today": "3 May"}, "today"),
            ({"draws": 20_001}, "draws"),
            ({"tasks": [{"id": f"t{k}", **hour} for k in range(201)]}, "tasks"),
            ({"factor": {"median": 0}}, "factor.median"),
        ):
            with self.assertRaises(BadInput, msg=str(more)) as caught:
                answer(**more)
            self.assertEqual(caught.exception.field, field)
