"""Plans on the command line: schedule and factor."""

from __future__ import annotations

import re
from collections.abc import Mapping
from datetime import date
from typing import Any

from rimcore.limits import LIMITS
from rimcore.planning.drawn import OwnFactor
from rimcore.planning.factor import Past, learnt
from rimcore.planning.network import MOST, Calendar, DaysOf, PlanPart, Task, Three
from rimcore.planning.schedule import SHARES, Plan, Schedule
from rimcore.quantities.contract import Calculation, Key, id_key, limited_key, number_key
from rimcore.quantities.errors import BadInput

#: dates that are read: far enough from both ends of the calendar to be reckoned with
FIRST, LAST = date(1000, 1, 1), date(9900, 12, 31)
MOST_DATES = 2000
_DATE = re.compile(r"\d{4}-\d{2}-\d{2}", re.ASCII)


def read_date(text: str) -> date:
    """A date as it is written.

    Parameters
    ----------
    text : ``YYYY-MM-DD``

    Raises
    ------
    BadInput : any other text

    Source: ISO 8601.

    >>> read_date("2027-05-01")
    datetime.date(2027, 5, 1)
    """
    try:
        found = date.fromisoformat(text) if _DATE.fullmatch(text) else None
    except ValueError:
        found = None
    if found is None or not FIRST <= found <= LAST:
        raise BadInput(f"is no date; accepted: YYYY-MM-DD, {FIRST} to {LAST}")
    return found


def _three(limit: str) -> Any:
    low, high = LIMITS[limit].span

    def read(value: Any) -> Three:
        rows = value if isinstance(value, list) else [value] * 3
        if len(rows) != 3:
            raise BadInput("accepted: a number, or [low, likely, high]")
        for one in rows:
            if isinstance(one, bool) or not isinstance(one, (int, float)) or not low <= one <= high:
                raise BadInput(f"is out of range; accepted: {low:g} to {high:g}, or three of them")
        first, likely, last = (float(one) for one in rows)
        if not first <= likely <= last:
            raise BadInput("is not in order; accepted: low ≤ likely ≤ high")
        return first, likely, last

    return read


def _extra(value: Any) -> dict[date, float]:
    if not isinstance(value, Mapping):
        raise BadInput("must be an object; accepted: {date: hours}")
    if len(value) > MOST_DATES:
        raise BadInput(f"has {len(value)} dates; accepted: {MOST_DATES} at most")
    found = {}
    for name, hours in value.items():
        if isinstance(hours, bool) or not isinstance(hours, (int, float)) or not 0 <= hours <= 24:
            raise BadInput("is out of range; accepted: 0 to 24 h", str(name)[:40])
        try:
            found[read_date(str(name))] = float(hours)
        except BadInput as error:
            raise error.under(str(name)[:40]) from error
    return found


def _date_key(name: str, meaning: str, **more: Any) -> Key:
    return Key(name, "text", f"{meaning}, YYYY-MM-DD", read=read_date, longest=10, **more)


def _whole_days(name: str, meaning: str, default: int) -> Key:
    return Key(name, "integer", meaning, "days", 0, 10_000, default=default)


def _ids_key(name: str, meaning: str) -> Key:
    return Key(name, "list", meaning, most=2 * MOST, item=id_key(""), default=[])


def _days_key(name: str, whose: str) -> Key:
    return Key(
        name,
        "object",
        f"days with {whose}; absent: none",
        keys=(
            Key(
                "weekdays",
                "list",
                "0 to 6, Monday 0",
                most=7,
                item=Key("", "integer", "weekday, Monday 0", low=0, high=6),
                default=[],
            ),
            Key("dates", "list", "single dates", most=MOST_DATES, item=_date_key("", "a date"), default=[]),
        ),
    )


TASK = Key(
    "",
    "object",
    "a task",
    keys=(
        id_key(required=True),
        Key("hours", "any", "hours of it: a number or [low, likely, high]", "h", read=_three("task_hours")),
        Key("away_days", "any", "instead: days with others, a number or three", "days", read=_three("plan_days")),
        _ids_key("after", "tasks that come before it"),
        _date_key("not_before", "not begun before"),
        _ids_key("parts", "parts that it waits for"),
        Key("helper", "boolean", "wants a helper", default=False),
        Key("lift", "boolean", "wants a lift", default=False),
        Key("dry", "boolean", "wants a dry day", default=False),
        _whole_days("wait_days", "days that what follows waits after it", 0),
        limited_key("worked_hours", "hours that it has had", "task_hours"),
        _date_key("done_on", "finished on"),
    ),
)
PART = Key(
    "",
    "object",
    "a part",
    keys=(
        id_key(required=True),
        Key(
            "lead_days",
            "any",
            "from the order to the door: a number or three",
            "days",
            required=True,
            read=_three("plan_days"),
        ),
        _ids_key("after", "tasks before which it is not ordered"),
        _date_key("ordered_on", "ordered, or to be ordered"),
        _date_key("arrived_on", "there since"),
        limited_key("wrong_pct", "chance that it comes wrong", default=0.0),
    ),
)


def _days_of(given: dict[str, Any] | None) -> DaysOf:
    return DaysOf() if given is None else DaysOf(frozenset(given["weekdays"]), frozenset(given["dates"]))


def _task(given: dict[str, Any], place: int) -> Task:
    both = given["hours"] is not None and given["away_days"] is not None
    if both or (given["hours"] is None and given["away_days"] is None):
        raise BadInput("accepted: hours or away_days, one of both", f"tasks.{place}.hours")
    if given["away_days"] is not None and given["worked_hours"]:
        raise BadInput("is refused of work given to others", f"tasks.{place}.worked_hours")
    lists = {name: tuple(given[name]) for name in ("after", "parts")}
    return Task(**{**given, **lists, "worked_hours": given["worked_hours"] or 0.0})


def _plan(given: dict[str, Any]) -> Plan:
    calendar = Calendar(
        tuple(given["week_hours"]),
        frozenset(given["away"]),
        given["extra_hours"] or {},
        _days_of(given["helper_days"]),
        _days_of(given["lift_days"]),
        given["wet_pct"],
    )
    if len(given["week_hours"]) != 7:
        raise BadInput("accepted: seven numbers, Monday first", "week_hours")
    own = given["factor"] or {"median": 1.0, "sigma_common": 0.0, "df": None, "sigma_task": None}
    return Plan(
        given["today"],
        calendar,
        tasks=tuple(_task(one, place) for place, one in enumerate(given["tasks"])),
        parts=tuple(PlanPart(**{**one, "after": tuple(one["after"])}) for one in given["parts"]),
        event_on=given["event_on"],
        test_days=given["test_days"],
        factor=OwnFactor(**own),
        draws=given["draws"],
        seed=given["seed"],
    )


def _iso(day: date | None) -> str | None:
    return None if day is None else day.isoformat()


def _schedule(given: dict[str, Any]) -> dict[str, Any]:
    found = Schedule(_plan(given))
    likely, chances = found.likely(), found.chances()
    return {
        "tasks": [
            {"id": one.id, "start": _iso(one.start), "finish": _iso(one.finish), "slack_days": one.slack_days}
            for one in likely.tasks
        ],
        "parts": [{"id": one.id, "arrives": _iso(one.arrives), "slack_days": one.slack_days} for one in likely.parts],
        "ready_on": _iso(likely.ready_on),
        "days_in_hand": likely.days_in_hand,
        "chance_pct": chances.chance_pct,
        "chance_pm_pct": chances.chance_pm_pct,
        **{f"ready_p{pct}_on": _iso(chances.ready_on[pct]) for pct in SHARES},
        "levers": [
            {"id": one.id, "kind": one.kind, "chance_pct": one.chance_pct, "gain_pct": one.gain_pct}
            for one in (found.levers() if given["levers"] else ())
        ],
    }


SCHEDULE = Calculation(
    "schedule",
    "when a build is ready, how likely by the event, and what would help most",
    "PERT (Malcolm et al. 1959), serial work by one pair of hands day by day; Wilson (1927) for ± of the chance",
    (
        _date_key("today", "first day", required=True),
        _date_key("event_on", "the event"),
        _whole_days("test_days", "whole days kept free before the event", 1),
        Key(
            "week_hours",
            "list",
            "hours of each weekday, Monday first",
            "h",
            required=True,
            most=7,
            item=limited_key("", "hours", "day_hours", required=True),
        ),
        Key("away", "list", "dates with 0 hours", most=MOST_DATES, item=_date_key("", "a date"), default=[]),
        Key("extra_hours", "any", "hours of single dates, instead of the weekday's: {date: hours}", "h", read=_extra),
        _days_key("helper_days", "a helper"),
        _days_key("lift_days", "a lift"),
        limited_key("wet_pct", "share of wet days", default=0.0),
        Key("tasks", "list", "tasks", required=True, most=MOST, item=TASK),
        Key("parts", "list", "parts", most=MOST, item=PART, default=[]),
        Key(
            "factor",
            "object",
            "what one's hours are worth",
            keys=(
                number_key("median", "of taken ÷ written", "", 1e-6, 1e6, default=1.0),
                number_key("sigma_common", "that all tasks share", "", 0.0, 100.0, default=0.0),
                number_key("df", "of Student's t; absent: normal", "", 1e-6, 1e9),
                number_key("sigma_task", "of one task, instead of its three hours", "", 0.0, 100.0),
            ),
        ),
        Key("draws", "integer", "how many", low=0, high=20_000, default=4000),
        Key("levers", "boolean", "what would help", default=True),
        Key("seed", "integer", "of the draws", low=0, high=2**31 - 1, default=1),
    ),
    (
        Key("tasks", "list", "id, start, finish, slack_days of the likely case"),
        Key("parts", "list", "id, arrives, slack_days of the likely case"),
        Key("ready_on", "text", "the likely case is ready; null: not within 730 days"),
        Key("days_in_hand", "integer", "event − ready − test days", "days"),
        Key("chance_pct", "number", "share of the draws that is ready by the event", "%"),
        Key("chance_pm_pct", "number", "half of Wilson's 95 % interval", "%"),
        *(Key(f"ready_p{pct}_on", "text", f"{pct} % of the draws are ready; null: never") for pct in SHARES),
        Key("levers", "list", "id, kind, chance_pct, gain_pct: without it, or with the part there today"),
    ),
    _schedule,
)


def _factor(given: dict[str, Any]) -> dict[str, Any]:
    past = [Past(one["estimated_hours"], one["taken_hours"], one["kind"] or "") for one in given["past"]]
    found = learnt(past, given["kind"])
    names = ("used", "median", "sigma_common", "sigma_task", "df", "sigma", "low_80", "high_80", "prior_share_pct")
    return {name: getattr(found, name) for name in names}


FACTOR = Calculation(
    "factor",
    "what one's own estimates are worth",
    "normal of unknown mean and variance (Gelman et al., Bayesian Data Analysis, § 3.3); prior: common practice",
    (
        Key(
            "past",
            "list",
            "jobs that were clocked",
            required=True,
            most=100_000,
            item=Key(
                "",
                "object",
                "a job",
                keys=(
                    number_key("estimated_hours", "as written, more than 0", "h", 1e-9, 1e6, required=True),
                    number_key("taken_hours", "as clocked, more than 0", "h", 1e-9, 1e6, required=True),
                    Key("kind", "text", "kind of work", longest=80),
                ),
            ),
        ),
        Key("kind", "text", "kind of work that is asked about", longest=80),
    ),
    (
        Key("used", "integer", "jobs that were taken"),
        Key("median", "number", "of taken ÷ written"),
        Key("sigma_common", "number", "what all jobs share"),
        Key("sigma_task", "number", "what one job scatters"),
        Key("df", "number", "degrees of freedom"),
        Key("sigma", "number", "of one next job"),
        Key("low_80", "number", "80 % of next jobs lie above, with high_80"),
        Key("high_80", "number", "80 % of next jobs lie below, with low_80"),
        Key("prior_share_pct", "number", "what the prior still counts", "%"),
    ),
    _factor,
)
PLANNED = {one.name: one for one in (SCHEDULE, FACTOR)}
