"""The ruler of days: parts as leads, work as hatched days, what it waits for, and the chance below."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import date, timedelta

from rimcore.planning.network import Calendar
from rimcore.planning.schedule import Chances, Likely, Plan

WIDTH, LEFT, RIGHT, TOP, ROW, CURVE = 820.0, 150.0, 28.0, 46.0, 30.0, 92.0
#: days that are drawn at most, and behind the later of event and end
MOST_DAYS, BEHIND = 400, 3
#: highest block of a day, for so many hours
BLOCK, BLOCK_H = 22.0, 8.0
#: under the middle of a row its line
LINE = 9.0
#: what words take behind a bar
WORDS = 180.0


@dataclass(frozen=True)
class Tick:
    """A day of the ruler; named where it is the first of a week."""

    x: float
    long: bool
    on: date


@dataclass(frozen=True)
class Block:
    """Work of one day: a box over its row's line."""

    x: float
    y: float
    width: float
    height: float


@dataclass(frozen=True)
class Bar:
    """One part or piece of work."""

    id: str
    kind: str
    name: str
    y: float
    #: of a part: from the order to the door; of work: first and last day
    start: float | None
    end: float | None
    #: where 80 % of the draws lie
    low: float | None
    high: float | None
    blocks: tuple[Block, ...]
    slack_days: int | None
    words: str
    starts_on: date | None
    ends_on: date | None
    #: why it waits
    wait_words: str = ""

    @property
    def span_width(self) -> float:
        """Of where 80 % of the draws lie."""
        return 0.0 if self.low is None or self.high is None else round(max(2.0, self.high - self.low), 1)

    @property
    def words_x(self) -> float:
        """Where its words begin: behind it, or before it where there is no room."""
        behind = max(self.end or 0.0, self.high or 0.0)
        if behind <= WIDTH - WORDS:
            return round(behind + 8.0, 1)
        return round(min(one for one in (self.start, self.low, self.end) if one is not None) - 6.0, 1)

    @property
    def words_anchor(self) -> str:
        """At which end of the words that is."""
        return "start" if max(self.end or 0.0, self.high or 0.0) <= WIDTH - WORDS else "end"


@dataclass(frozen=True)
class Ruler:
    """The whole drawing."""

    width: float
    height: float
    left: float
    top: float
    foot: float
    ticks: tuple[Tick, ...]
    #: days on which there are hours: x and width
    hours: tuple[tuple[float, float], ...]
    bars: tuple[Bar, ...]
    today: float
    event: float | None
    by: float | None
    ready: float | None
    in_hand: int | None
    curve: str
    curve_top: float
    curve_foot: float
    chance_y: float | None
    per_day: float

    @property
    def right(self) -> float:
        """Where the last day ends."""
        return self.width - RIGHT

    @property
    def rows_height(self) -> float:
        """From the ruler to the foot of the rows."""
        return self.foot - self.top


def ruler(plan: Plan, likely: Likely, chances: Chances, names: Mapping[str, str], waits: Mapping[str, str]) -> Ruler:
    """Everything of the drawing, in drawing units.

    Parameters
    ----------
    plan, likely, chances : as reckoned; ``chances`` with its spans
    names : of tasks and parts by id
    waits : why a task waits, in words, by id

    Source: none; a convention of this program.

    >>> from rimcore.planning.network import Task
    >>> from rimcore.planning.schedule import Schedule
    >>> plan = Plan(date(2027, 5, 3), Calendar((2,) * 7), (Task("a", (3, 3, 3)),), event_on=date(2027, 5, 10), draws=50)
    >>> found = Schedule(plan)
    >>> drawn = ruler(plan, found.likely(), found.chances(spans=True), {"a": "Springs"}, {})
    >>> len(drawn.bars[0].blocks), drawn.in_hand
    (2, 5)
    """
    last = _last_day(plan, likely, chances)
    days = min(MOST_DAYS, max(7, (last - plan.today).days + BEHIND))
    per_day = (WIDTH - LEFT - RIGHT) / days

    def x(day: date | None) -> float | None:
        if day is None:
            return None
        return round(LEFT + per_day * min(days, max(0, (day - plan.today).days)), 1)

    bars = _bars(plan, likely, chances, names, waits, x, per_day)
    foot = TOP + ROW * (len(bars) + 1)
    curve_top, curve_foot = foot + 34.0, foot + 34.0 + CURVE
    by = None if plan.event_on is None else plan.event_on - timedelta(days=plan.test_days)
    return Ruler(
        WIDTH,
        curve_foot + 22.0 if chances.by_day else foot + 24.0,
        LEFT,
        TOP,
        foot,
        _ticks(plan.today, days, per_day),
        _hours(plan.today, plan.calendar, days, per_day),
        bars,
        LEFT,
        x(plan.event_on),
        x(by),
        x(likely.ready_on),
        likely.days_in_hand,
        _curve(chances.by_day, days, per_day, curve_foot),
        curve_top,
        curve_foot,
        None if chances.chance_pct is None else round(curve_foot - CURVE * chances.chance_pct / 100.0, 1),
        per_day,
    )


def _last_day(plan: Plan, likely: Likely, chances: Chances) -> date:
    days = [plan.today + timedelta(days=7), likely.ready_on, chances.ready_on.get(90), plan.event_on]
    days += [one.arrives for one in likely.parts]
    return max(day for day in days if day is not None)


def _ticks(today: date, days: int, per_day: float) -> tuple[Tick, ...]:
    """A tick a day, or a week where days lie too close."""
    found = []
    for k in range(days + 1):
        on = today + timedelta(days=k)
        long = on.weekday() == 0 or k == 0
        if long or per_day >= 4.0:
            found.append(Tick(round(LEFT + per_day * k, 1), long, on))
    return tuple(found)


def _hours(today: date, calendar: Calendar, days: int, per_day: float) -> tuple[tuple[float, float], ...]:
    return tuple(
        (round(LEFT + per_day * k, 1), round(per_day, 1))
        for k in range(days)
        if calendar.hours_on(today + timedelta(days=k)) > 0
    )


def _bars(plan, likely, chances, names, waits, x, per_day):  # type: ignore[no-untyped-def]
    """Parts first, as they come, then work in its order; what is done or there already is left out."""
    found = []
    y = TOP + ROW
    for part, dates in zip(plan.parts, likely.parts, strict=True):
        if part.arrived_on is not None:
            continue
        span = chances.parts.get(part.id)
        ordered = part.ordered_on or plan.today
        found.append(
            Bar(
                part.id,
                "part",
                names.get(part.id, part.id),
                y,
                x(ordered) if not part.after else None,
                x(dates.arrives),
                x(span.start) if span else None,
                x(span.finish) if span else None,
                (),
                dates.slack_days,
                waits.get(part.id, ""),
                ordered,
                dates.arrives,
            )
        )
        y += ROW
    for task, dates in zip(plan.tasks, likely.tasks, strict=True):
        if task.done_on is not None:
            continue
        span = chances.tasks.get(task.id)
        found.append(
            Bar(
                task.id,
                "away" if task.away_days is not None else "task",
                names.get(task.id, task.id),
                y,
                x(dates.start),
                _end(x, dates.finish, per_day),
                x(span.start) if span else None,
                _end(x, span.finish, per_day) if span else None,
                _blocks(plan.calendar, task, dates, (x, y, per_day)),
                dates.slack_days,
                "",
                dates.start,
                dates.finish,
                waits.get(task.id, ""),
            )
        )
        y += ROW
    return tuple(found)


def _end(x, day, per_day):  # type: ignore[no-untyped-def]
    at = x(day)
    return None if at is None else round(at + per_day, 1)


def _blocks(calendar, task, dates, at):  # type: ignore[no-untyped-def]
    """Days with hours between start and finish, each as high as its hours; one box for work given away."""
    x, y, per_day = at
    if dates.start is None or dates.finish is None:
        return ()
    if task.away_days is not None:
        width = per_day * max(1, (dates.finish - dates.start).days)
        return (Block(x(dates.start), y + LINE - BLOCK, round(width, 1), BLOCK),)
    found = []
    for k in range(min(MOST_DAYS, (dates.finish - dates.start).days + 1)):
        on = dates.start + timedelta(days=k)
        hours = calendar.hours_on(on)
        if hours > 0:
            height = max(4.0, BLOCK * min(1.0, hours / BLOCK_H))
            found.append(Block(x(on), round(y + LINE - height, 1), round(max(per_day - 1.0, 1.0), 1), round(height, 1)))
    return tuple(found)


def _curve(by_day: Sequence[float], days: int, per_day: float, foot: float) -> str:
    """Share that is ready, day by day, as steps."""
    if not by_day:
        return ""
    at, points = 0.0, [f"M{LEFT:.1f} {foot:.1f}"]
    for k, share in enumerate(by_day[: days + 1]):
        if share != at:
            points.append(f"H{LEFT + per_day * k:.1f}V{foot - CURVE * share:.1f}")
            at = share
    points.append(f"H{LEFT + per_day * days:.1f}")
    return "".join(points)
