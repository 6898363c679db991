"""The ruler of days: parts as leads, work as hatched days, what it waits for, and the chance below."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import date, timedelta

from rimcore.planning.network import Calendar, PlanPart, Task
from rimcore.planning.schedule import MOST_SLACK, Chances, Likely, PartDates, Plan, Span, TaskDates

WIDTH, LEFT, RIGHT, TOP, ROW, CURVE = 820.0, 150.0, 28.0, 46.0, 30.0, 92.0
#: days that are drawn at most, and behind the later of event and end
MOST_DAYS, BEHIND = 400, 3
#: highest block of a day, for so many hours
BLOCK, BLOCK_H = 22.0, 8.0
#: under the middle of a row its line
LINE = 9.0
#: what words take behind a bar
WORDS = 180.0
#: what a date on the ruler takes
NAME = 48.0


@dataclass(frozen=True)
class Tick:
    """A day of the ruler; named where it is the first of a week."""

    x: float
    long: bool
    on: date
    #: its date is written
    named: bool = False


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
    def said(self) -> str:
        """What stands beside it: the day a part comes, why work waits, how much slack it has."""
        came = f"{self.ends_on:%-d %b}" if self.kind == "part" and self.ends_on is not None else ""
        more = "+" if self.slack_days == MOST_SLACK else ""
        slack = f"{self.slack_days}{more} d slack" if self.slack_days else ""
        return " · ".join(one for one in (came, self.words, self.wait_words, slack) if one)

    @property
    def words_x(self) -> float:
        """Where its words begin: behind it; where there is no room before it, or else over its light span."""
        behind, before = self._sides
        if behind <= WIDTH - WORDS:
            return round(behind + 8.0, 1)
        return round(before - 6.0, 1) if before >= LEFT + WORDS else round((self.end or behind) + 8.0, 1)

    @property
    def words_anchor(self) -> str:
        """At which end of the words that is."""
        behind, before = self._sides
        return "end" if behind > WIDTH - WORDS and before >= LEFT + WORDS else "start"

    @property
    def _sides(self) -> tuple[float, float]:
        """Where everything of it ends, and begins."""
        ends = [one for one in (self.end, self.high) if one is not None]
        begins = [one for one in (self.start, self.low, self.end) if one is not None]
        return max(ends, default=LEFT), min(begins, default=LEFT)


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

    scale = _Scale(plan.today, days, per_day)
    bars = _bars(plan, (likely, chances), (names, waits), scale)
    foot = TOP + ROW * (len(bars) + 1)
    curve_top, curve_foot = foot + 34.0, foot + 34.0 + CURVE
    by = None if plan.event_on is None else plan.event_on - timedelta(days=plan.test_days)
    return Ruler(
        WIDTH,
        curve_foot + 22.0 if chances.by_day else foot + 24.0,
        LEFT,
        TOP,
        foot,
        ticks=_ticks(plan.today, days, per_day),
        hours=_hours(plan.today, plan.calendar, days, per_day),
        bars=bars,
        today=LEFT,
        event=scale.x(plan.event_on),
        by=scale.x(by),
        ready=scale.x(likely.ready_on),
        in_hand=likely.days_in_hand,
        curve=_curve(chances.by_day, days, per_day, curve_foot),
        curve_top=curve_top,
        curve_foot=curve_foot,
        chance_y=None if chances.chance_pct is None else round(curve_foot - CURVE * chances.chance_pct / 100.0, 1),
        per_day=per_day,
    )


def _last_day(plan: Plan, likely: Likely, chances: Chances) -> date:
    days = [plan.today + timedelta(days=7), likely.ready_on, chances.ready_on.get(90), plan.event_on]
    days += [one.arrives for one in likely.parts]
    return max(day for day in days if day is not None)


def _ticks(today: date, days: int, per_day: float) -> tuple[Tick, ...]:
    """A tick a day, or a week where days lie too close."""
    found, last = [], -NAME
    for k in range(days + 1):
        on, x = today + timedelta(days=k), round(LEFT + per_day * k, 1)
        long = on.weekday() == 0 or k == 0
        named = long and x - last >= NAME
        last = x if named else last
        if long or per_day >= 4.0:
            found.append(Tick(x, long, on, named))
    return tuple(found)


def _hours(today: date, calendar: Calendar, days: int, per_day: float) -> tuple[tuple[float, float], ...]:
    return tuple(
        (round(LEFT + per_day * k, 1), round(per_day, 1))
        for k in range(days)
        if calendar.hours_on(today + timedelta(days=k)) > 0
    )


@dataclass(frozen=True)
class _Scale:
    """Days to drawing units."""

    today: date
    days: int
    per_day: float

    def x(self, day: date | None, more: float = 0.0) -> float | None:
        """Where a day begins, and ``more`` days behind that; held to the drawing."""
        if day is None:
            return None
        return round(LEFT + self.per_day * (min(self.days, max(0, (day - self.today).days)) + more), 1)


def _bars(
    plan: Plan, found: tuple[Likely, Chances], said: tuple[Mapping[str, str], Mapping[str, str]], scale: _Scale
) -> tuple[Bar, ...]:
    """Parts first, as they come, then work in its order; what is done or there already is left out."""
    likely, chances = found
    bars: list[Bar] = []
    for part, dates in zip(plan.parts, likely.parts, strict=True):
        if part.arrived_on is None:
            span = chances.parts.get(part.id, Span(None, None))
            bars.append(_part_bar(plan, (part, dates, span), said, scale, TOP + ROW * (len(bars) + 1)))
    for task, when in zip(plan.tasks, likely.tasks, strict=True):
        if task.done_on is None:
            span = chances.tasks.get(task.id, Span(None, None))
            bars.append(_task_bar(plan.calendar, (task, when, span), said, scale, TOP + ROW * (len(bars) + 1)))
    return tuple(bars)


def _part_bar(
    plan: Plan,
    of: tuple[PlanPart, PartDates, Span],
    said: tuple[Mapping[str, str], Mapping[str, str]],
    scale: _Scale,
    y: float,
) -> Bar:
    part, dates, span = of
    ordered = part.ordered_on or plan.today
    return Bar(
        id=part.id,
        kind="part",
        name=said[0].get(part.id, part.id),
        y=y,
        start=None if part.after else scale.x(ordered),
        end=scale.x(dates.arrives),
        low=scale.x(span.start),
        high=scale.x(span.finish),
        blocks=(),
        slack_days=dates.slack_days,
        words=said[1].get(part.id, ""),
        starts_on=ordered,
        ends_on=dates.arrives,
    )


def _task_bar(
    calendar: Calendar,
    of: tuple[Task, TaskDates, Span],
    said: tuple[Mapping[str, str], Mapping[str, str]],
    scale: _Scale,
    y: float,
) -> Bar:
    task, dates, span = of
    return Bar(
        id=task.id,
        kind="away" if task.away_days is not None else "task",
        name=said[0].get(task.id, task.id),
        y=y,
        start=scale.x(dates.start),
        end=scale.x(dates.finish, 1.0),
        low=scale.x(span.start),
        high=scale.x(span.finish, 1.0),
        blocks=_blocks(calendar, task, dates, scale, y + LINE),
        slack_days=dates.slack_days,
        words="",
        starts_on=dates.start,
        ends_on=dates.finish,
        wait_words=said[1].get(task.id, ""),
    )


def _blocks(calendar: Calendar, task: Task, dates: TaskDates, scale: _Scale, line: float) -> tuple[Block, ...]:
    """Days with hours between start and finish, each as high as its hours; one box for work given away."""
    if dates.start is None or dates.finish is None:
        return ()
    days = (dates.finish - dates.start).days
    if task.away_days is not None:
        return (Block(scale.x(dates.start) or 0.0, line - BLOCK, round(scale.per_day * max(1, days), 1), BLOCK),)
    found = []
    for k in range(min(MOST_DAYS, days + 1)):
        on = dates.start + timedelta(days=k)
        hours = calendar.hours_on(on)
        if hours > 0:
            high = round(max(4.0, BLOCK * min(1.0, hours / BLOCK_H)), 1)
            found.append(Block(scale.x(on) or 0.0, round(line - high, 1), round(max(scale.per_day - 1, 1.0), 1), high))
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


@dataclass(frozen=True)
class SaidDrawing:
    """Dates that were said over the days on which they were said: a line that rises where it slipped."""

    width: float
    height: float
    points: tuple[tuple[float, float, date, date], ...]
    line: str
    event_y: float | None


def said_drawing(said: Sequence[tuple[date, date]], event_on: date | None) -> SaidDrawing:
    """Said on, ready on: as a line.

    Parameters
    ----------
    said : (day, date that was said), the oldest first, two or more
    event_on : drawn as a level, where there is one

    Source: none; a convention of this program.

    >>> drawn = said_drawing([(date(2027, 5, 1), date(2027, 6, 1)), (date(2027, 5, 9), date(2027, 6, 20))], None)
    >>> drawn.line
    'M14.0 76.0L226.0 14.0'
    """
    width, height, edge = 240.0, 90.0, 14.0
    days = [day.toordinal() for day, _ in said]
    ready = [day.toordinal() for _, day in said] + ([event_on.toordinal()] if event_on else [])
    across, up = max(1, days[-1] - days[0]), max(1, max(ready) - min(ready))

    def x(day: date) -> float:
        return round(edge + (width - 2 * edge) * (day.toordinal() - days[0]) / across, 1)

    def y(day: date) -> float:
        return round(height - edge - (height - 2 * edge) * (day.toordinal() - min(ready)) / up, 1)

    points = tuple((x(day), y(on), day, on) for day, on in said)
    line = "L".join(f"{at:.1f} {high:.1f}" for at, high, _, _ in points)
    return SaidDrawing(width, height, points, f"M{line}", None if event_on is None else y(event_on))
