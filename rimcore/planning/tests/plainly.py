"""The walk once more, of one case, as plainly as it can be written: a second way to the same answer, for tests alone."""

from __future__ import annotations

import math
from datetime import date, timedelta
from typing import Any


def day(text: str | None) -> date | None:
    return None if text is None else date.fromisoformat(text)


def hours_of(given: dict[str, Any], on: date) -> float:
    extra = given.get("extra_hours") or {}
    if on.isoformat() in extra:
        return extra[on.isoformat()]
    return 0.0 if on.isoformat() in (given.get("away") or []) else given["week_hours"][on.weekday()]


def is_day(days: dict[str, Any] | None, on: date) -> bool:
    return bool(days) and (on.weekday() in days.get("weekdays", []) or on.isoformat() in days.get("dates", []))


def walk_one(
    given: dict[str, Any],
    wanted: dict[str, float],
    leads: dict[str, float],
    *,
    wet: Any = lambda k: False,
    later: dict[str, int] | None = None,
    begin: dict[str, date] | None = None,
) -> tuple[dict[str, date | None], dict[str, date | None], dict[str, date | None], date | None]:
    """Starts, finishes, arrivals, ready: ids to dates. ``wanted`` are hours, or days of work given away."""
    today = date.fromisoformat(given["today"])
    tasks, parts = given["tasks"], given.get("parts") or []
    start: dict[str, date | None] = dict.fromkeys([one["id"] for one in tasks])
    finish: dict[str, date | None] = {one["id"]: day(one.get("done_on")) for one in tasks}
    left = {one["id"]: wanted[one["id"]] for one in tasks}
    begun = {one["id"]: (one.get("worked_hours") or 0) > 0 for one in tasks}
    wait = {one["id"]: one.get("wait_days") or 0 for one in tasks}

    def arrival(part: dict[str, Any], on: date) -> date | None:
        if part.get("arrived_on"):
            return day(part["arrived_on"])
        ordered = day(part.get("ordered_on"))
        if ordered is None:
            ends = [finish[name] for name in part.get("after") or []]
            if any(one is None or one > on for one in ends):
                return None
            ordered = max([today, *[one for one in ends if one is not None]])
        there = max(today, ordered + timedelta(days=math.ceil(leads[part["id"]])))
        return there + timedelta(days=(later or {}).get(part["id"], 0))

    by_id = {one["id"]: one for one in parts}

    def may(task: dict[str, Any], on: date, k: int) -> bool:
        if start[task["id"]] is not None and "away_days" in task:
            return False
        if finish[task["id"]] is not None:
            return False
        for name in task.get("after") or []:
            end = finish[name]
            if end is None or end + timedelta(days=wait[name]) > on:
                return False
        for name in task.get("parts") or []:
            there = arrival(by_id[name], on)
            if there is None or there > on:
                return False
        if task.get("helper") and not is_day(given.get("helper_days"), on):
            return False
        if task.get("lift") and not is_day(given.get("lift_days"), on):
            return False
        if task.get("dry") and wet(k):
            return False
        if begin and task["id"] in begin and on < begin[task["id"]]:
            return False
        return task.get("not_before") is None or on >= date.fromisoformat(task["not_before"])

    for k in range(731):
        on = today + timedelta(days=k)
        hours = hours_of(given, on)
        while True:
            can = [one for one in tasks if may(one, on, k)]
            free = [one for one in can if "away_days" in one or left[one["id"]] <= 1e-9]
            if free:
                one = free[0]
                start[one["id"]] = on
                ahead = math.ceil(left[one["id"]]) if "away_days" in one else 0
                finish[one["id"]] = on + timedelta(days=ahead)
                continue
            if not can or hours <= 1e-9:
                break
            one = next((task for task in can if begun[task["id"]]), can[0])
            name = one["id"]
            done = min(left[name], hours)
            left[name] -= done
            hours -= done
            begun[name] = True
            start[name] = start[name] or on
            if left[name] <= 1e-9:
                finish[name] = on
        if all(one is not None for one in finish.values()):
            break
    ends = list(finish.values())
    ready = None if any(one is None for one in ends) else max([today, *[one for one in ends if one is not None]])
    if ready is not None and ready > today + timedelta(days=730):
        ready = None
    for one in tasks:
        if one.get("done_on"):
            start[one["id"]] = None
    last = today + timedelta(days=10**5)
    return start, finish, {one["id"]: arrival(one, last) for one in parts}, ready


def likely(value: Any) -> float:
    return float(value[1]) if isinstance(value, list) else float(value)


def likely_inputs(given: dict[str, Any]) -> tuple[dict[str, float], dict[str, float]]:
    median = (given.get("factor") or {}).get("median", 1.0)
    wanted = {
        one["id"]: likely(one["away_days"])
        if "away_days" in one
        else max(0.0, likely(one["hours"]) * median - (one.get("worked_hours") or 0))
        for one in given["tasks"]
    }
    return wanted, {one["id"]: likely(one["lead_days"]) for one in given.get("parts") or []}
