"""Rows of a build as the plan of the core: calendar, tasks, parts, own factor; once a page."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field, replace
from datetime import date
from typing import Any

from django.utils import timezone

from garage.file import CarFile
from garage.kept import once
from garage.mass.ledger import items_of
from planner.changes import OF_FAMILY, plan_of
from planner.chosen import builds_of, choices_of
from planner.dates.models import BuildWeek, Claim, PersonWeek, PlanTask, Said, Week
from planner.dates.rows import own_hours, rows_of
from planner.done import done_of
from planner.models import Build, Choice
from rimcore.planning.cures import Cure
from rimcore.planning.drawn import OwnFactor
from rimcore.planning.factor import OF_A_KIND, Learnt, learnt
from rimcore.planning.leads import ENOUGH, NOT_ASKED_PCT, closed_days, spread_of, spread_of_offers, together
from rimcore.planning.network import MOST, Calendar, DaysOf, PlanPart, Task, Three, check
from rimcore.planning.schedule import Plan
from rimcore.planning.work import UP, Work, task_id, tasks_of
from rimcore.quantities.errors import BadInput
from rimcore.work.hours import hours_by_module
from rimcore.work.jobsheet import modules_of
from rimcore.work.ledger import THERE_STATES
from shelf.models import Quote

#: whole days kept free before the event (common practice: a test day)
TEST_DAYS = 1


@dataclass(frozen=True)
class Offer:
    """A quote of another supplier for a part that is not ordered: days, and what all of it costs more."""

    supplier: str
    lead_days: int
    dearer_minor: int | None
    asked_on: date
    #: number of the quote
    quote: int


@dataclass(frozen=True)
class Planned:
    """A build's plan with the names of what is in it, and what nobody has a date for."""

    plan: Plan
    names: Mapping[str, str]
    unknown: tuple[str, ...]
    #: what nobody can time, in words
    untimed: tuple[str, ...] = ()
    #: what others would take for a part, by its id
    offers: Mapping[str, tuple[Offer, ...]] = field(default_factory=dict)


@once
def build_weeks_of(file: CarFile) -> Mapping[int, BuildWeek]:
    """Weeks of the car's builds; one query."""
    return {row.build_id: row for row in BuildWeek.objects.filter(build__car=file.car)}


@once
def person_week_of(file: CarFile) -> PersonWeek | None:
    """The person's week; one query."""
    found: PersonWeek | None = PersonWeek.objects.filter(owner=file.user).first()
    return found


@once
def said_of(file: CarFile) -> Mapping[int, list[Said]]:
    """What was said of every build's end, the newest first; one query."""
    found: dict[int, list[Said]] = defaultdict(list)
    for row in Said.objects.filter(build__car=file.car).order_by("-id")[:400]:
        found[row.build_id].append(row)
    return found


@once
def claims_of(file: CarFile) -> Mapping[int, list[Claim]]:
    """Claims by the part in the build; one query."""
    found: dict[int, list[Claim]] = defaultdict(list)
    for row in Claim.objects.filter(choice__build__car=file.car).select_related("choice"):
        found[row.choice_id].append(row)
    return found


@once
def week_of(file: CarFile, build: Build | None) -> tuple[Week | None, str]:
    """The week that counts for a build, and whose it is in words."""
    own = build_weeks_of(file).get(build.pk) if build is not None else None
    if own is not None:
        return own, "this build's own week"
    person = person_week_of(file)
    return person, "your week" if person is not None else "hours a week of the car's data, spread evenly"


def calendar_of(file: CarFile, build: Build | None) -> Calendar:
    """A week as the core takes it; without one the car's hours a week, evenly."""
    week, _ = week_of(file, build)
    if week is None:
        return Calendar((file.car.hours_per_week / 7.0,) * 7)
    return as_calendar(week)


def closed_of(file: CarFile, build: Build) -> Mapping[str, frozenset[date]]:
    """Days on which a supplier sends nothing."""
    week, _ = week_of(file, build)
    return {} if week is None else {name.casefold(): _dates(days) for name, days in week.closed.items()}


def as_calendar(week: Week) -> Calendar:
    """Rows to the core."""
    return Calendar(
        tuple(0.0 if day in week.drive_weekdays else float(one) for day, one in enumerate(week.week_hours)),
        _dates(week.away),
        {date.fromisoformat(day): float(hours) for day, hours in week.extra.items()},
        DaysOf(frozenset(week.helper_weekdays), _dates(week.helper_dates)),
        DaysOf(frozenset(week.lift_weekdays), _dates(week.lift_dates)),
        week.wet_pct,
    )


def _dates(texts: Sequence[str]) -> frozenset[date]:
    return frozenset(date.fromisoformat(one) for one in texts)


@once
def learnt_of(file: CarFile) -> Learnt | None:
    """What one's own jobs took against what was written; None where none was clocked."""
    past = done_of(file).past
    return learnt(past) if past else None


@once
def kinds_of(file: CarFile) -> Mapping[str, Learnt]:
    """What jobs of one kind took, where there are three of it."""
    past = done_of(file).past
    kinds = [one.kind for one in past if one.kind]
    return {kind: learnt(past, kind) for kind in dict.fromkeys(kinds) if kinds.count(kind) >= OF_A_KIND}


def _scaled(hours: Three, module: str, file: CarFile, factor: OwnFactor) -> Three:
    """Hours of a kind of work that one has done three times, by what those took beside what all took."""
    whole, kind = learnt_of(file), kinds_of(file).get(module)
    if whole is None or kind is None or factor.sigma_task is None:
        return hours
    low, likely, high = (one * kind.median / whole.median for one in hours)
    return low, likely, high


def factor_of(file: CarFile, build: Build) -> OwnFactor:
    """The factor that the plan counts with; none where it is switched off or nothing was clocked."""
    week, _ = week_of(file, build)
    found = learnt_of(file)
    return OwnFactor() if found is None or (week is not None and not week.own_factor) else found.own


@once
def ratios_of(file: CarFile) -> Mapping[str, tuple[float, ...]]:
    """Taken ÷ promised of every order that came, by supplier; one query."""
    rows = Choice.objects.filter(
        build__car__owner=file.user, ordered_on__isnull=False, arrived_on__isnull=False
    ).select_related("part")
    found: dict[str, list[float]] = defaultdict(list)
    for row in rows:
        if row.lead and row.seller and row.ordered_on and row.arrived_on and row.arrived_on >= row.ordered_on:
            found[row.seller].append((row.arrived_on - row.ordered_on).days / row.lead)
    return {name: tuple(ratios) for name, ratios in found.items()}


@once
def quotes_of(file: CarFile) -> Mapping[int, list[Quote]]:
    """Quotes with a lead time by part; one query."""
    found: dict[int, list[Quote]] = defaultdict(list)
    for row in Quote.objects.filter(part__car=file.car, answer="offered", lead_days__isnull=False):
        found[row.part_id].append(row)
    return found


def offers_of(file: CarFile, choice: Choice) -> tuple[Offer, ...]:
    """What other suppliers would take for a part that nobody has ordered, and what that costs more."""
    if choice.ordered_on is not None or choice.state in THERE_STATES:
        return ()
    found = []
    for quote in quotes_of(file).get(choice.part_id, []):
        if quote.supplier == choice.seller or quote.lead_days is None or quote.is_stale:
            continue
        price = choice.price
        more = None if price is None or quote.price_minor is None else (quote.price_minor - price) * choice.quantity
        found.append(Offer(quote.supplier, quote.lead_days, more, quote.asked_on, quote.pk))
    return tuple(found)


def part_id(choice: Choice) -> str:
    """The id of a part in the plan."""
    return f"part:{choice.pk}"


@once
def planned_of(file: CarFile, build: Build) -> Planned:
    """The plan of a build with those that it follows."""
    return with_cures(file, build, tuple(done_of(file).cures.get(build.pk, ())))


def with_cures(file: CarFile, build: Build, cures: Sequence[Cure], but: int | None = None) -> Planned:
    """The plan of a build with some cures under way; one choice may be left out."""
    today = timezone.localdate()
    tasks: list[Task] = []
    parts: list[PlanPart] = []
    names: dict[str, str] = {}
    unknown: list[str] = []
    untimed: list[str] = []
    offers: dict[str, tuple[Offer, ...]] = {}
    for one in _line_of(file, build):
        before = tuple(task.id for task in tasks if task.done_on is None)
        mine = [c for c in choices_of(one) if c.pk != but]
        for choice in mine:
            part = _part(file, one, choice, today)
            names[part_id(choice)] = choice.label
            offers[part_id(choice)] = offers_of(file, choice)
            if part is None:
                unknown.append(choice.label)
            else:
                parts.append(part)
        parts = list(together(parts, _parcels(mine)))
        known = {part.id for part in parts}
        added = _tasks(file, one, [c for c in mine if part_id(c) in known], names, untimed)
        tasks += [replace(task, after=(*before, *task.after)) if before and not task.after else task for task in added]
    for k, cure in enumerate(cures):
        _cure(cure, k, build, (tasks, parts, names, unknown), today)
    tasks, parts = _held_to(tasks, parts, unknown)
    plan = Plan(
        today,
        calendar_of(file, build),
        tuple(tasks),
        tuple(parts),
        event_on=file.car.event_on,
        test_days=TEST_DAYS,
        factor=factor_of(file, build),
        draws=draws_for(len(tasks)),
    )
    return Planned(plan, names, tuple(unknown), tuple(dict.fromkeys(untimed)), offers)


def _parcels(choices: Sequence[Choice]) -> list[list[str]]:
    """Parts of a build that come together, by ids of the plan."""
    found: dict[int, list[str]] = defaultdict(list)
    for one in choices:
        if one.ordered_on is None or one.arrived_on is None:
            found[one.comes_with_id or one.pk].append(part_id(one))
    return [ids for ids in found.values() if len(ids) > 1]


#: what is said of a plan in which something waits for itself
CIRCLE = "work that waits for itself"
#: draws of a page's plan by how many tasks it has: a page stays under a second whatever was typed
DRAWS = ((120, 4000), (MOST, 2000))


def draws_for(tasks: int) -> int:
    """How often a plan of so many tasks is drawn on a page.

    >>> draws_for(12), draws_for(200)
    (4000, 2000)
    """
    return next(draws for most, draws in DRAWS if tasks <= most)


def _held_to(tasks: list[Task], parts: list[PlanPart], unknown: list[str]) -> tuple[list[Task], list[PlanPart]]:
    """A plan that can be followed: no more than it takes, nothing that waits for itself; what was left out is named.

    Rows that came from elsewhere, or that became a circle with what another page said, leave no date, and no error.
    """
    if len(tasks) > MOST or len(parts) > MOST:
        unknown.append(f"more than {MOST} parts or pieces of work")
        tasks, parts = tasks[:MOST], parts[:MOST]
    ids, there = {one.id for one in tasks}, {one.id for one in parts}
    parts = [replace(one, after=tuple(name for name in one.after if name in ids)) for one in parts]
    tasks = [
        replace(
            one,
            after=tuple(name for name in one.after if name in ids),
            parts=tuple(name for name in one.parts if name in there),
        )
        for one in tasks
    ]
    try:
        check(tasks, parts, timezone.localdate())
    except BadInput as error:
        unknown.append(f"{CIRCLE} ({error.message})")
        return [replace(one, after=()) for one in tasks], [replace(one, after=()) for one in parts]
    return tasks, parts


def _line_of(file: CarFile, build: Build) -> list[Build]:
    """A build with those that it follows, the first first; never one twice."""
    by_key = {one.pk: one for one in builds_of(file)}
    line: list[Build] = []
    at: Build | None = build
    while at is not None and at not in line:
        line.insert(0, at)
        at = by_key.get(at.follows_id) if at.follows_id else None
    return line


def _part(file: CarFile, build: Build, choice: Choice, today: date) -> PlanPart | None:
    """A part as the plan sees it; None where nobody has said how long it takes."""
    there = choice.arrived_on or (today if choice.state in THERE_STATES else None)
    if there is not None:
        return PlanPart(part_id(choice), arrived_on=min(there, today))
    if choice.lead is None or choice.supply == "discontinued":
        return None
    ratios = ratios_of(file).get(choice.seller, ())
    offered = [float(quote.lead_days or 0) for quote in quotes_of(file).get(choice.part_id, [])]
    several = spread_of_offers(float(choice.lead), offered) if len(ratios) < ENOUGH else None
    low, likely, high = several or spread_of(float(choice.lead), ratios)
    if choice.lead_low_days is not None or choice.lead_high_days is not None:
        likely = float(choice.lead)
        low = min(likely, float(choice.lead_low_days if choice.lead_low_days is not None else likely))
        high = max(likely, float(choice.lead_high_days if choice.lead_high_days is not None else likely))
    ordered = choice.ordered_on or (choice.order_on if choice.order_on and choice.order_on > today else None)
    after = (f"{build.pk}:{choice.order_after}",) if choice.order_after and choice.ordered_on is None else ()
    shut = closed_of(file, build).get(choice.seller.casefold(), frozenset())
    low, likely, high = (one + closed_days(ordered or today, one, shut) for one in (low, likely, high))
    wrong = NOT_ASKED_PCT if choice.counter_questions else 0.0
    return PlanPart(part_id(choice), (low, likely, high), after, None if after else ordered, None, wrong)


def _tasks(
    file: CarFile, build: Build, choices: Sequence[Choice], names: dict[str, str], untimed: list[str]
) -> list[Task]:
    """What is done for a build: modules with what was said of them, and work of one's own."""
    job, rows = plan_of(file, build), rows_of(file).get(build.pk, {})
    modules = modules_of(job, OF_FAMILY)
    minutes = [item.minutes for item in items_of(file) if item.state == "planned"] if job.out else []
    own = own_hours(file, build)
    hours = hours_by_module(job, modules, OF_FAMILY, minutes, own)
    untimed += [one.module for one in hours if one.hours is None]
    done = done_of(file)
    factor = factor_of(file, build)
    timed = tuple(
        one if one.hours is None else replace(one, hours=_scaled(one.hours, one.module, file, factor)) for one in hours
    )
    of_module = {
        name: tuple(part_id(c) for c in choices if OF_FAMILY.get(c.kind, ("",))[:1] == (name,)) for name in modules
    }
    cures = {cure.part for cure in done.cures.get(build.pk, ())}
    waiting = tuple(
        part_id(c) for c in choices if c.state != "fitted" and not c.order_after and part_id(c) not in cures
    )
    clocked = done.clocked if build.hours_estimate is not None else done.clocked_open
    work = Work(
        str(build.pk),
        timed,
        done=done.modules.get(build.pk, {}),
        clocked_h=clocked.get(build.pk, 0.0),
        parts_of=of_module,
        parts=waiting,
        early=build.begins_early,
        own_h=build.hours_estimate,
    )
    found = [_as_said(task, rows.get(task.id.partition(":")[2]), build) for task in tasks_of(work)]
    named = {task_id(str(build.pk), one.module): one.module for one in hours}
    names |= {key: "Car up and down" if name == UP else name.capitalize() for key, name in named.items()}
    for key, row in rows.items():
        if key.startswith("own:") and not row.dropped:
            name = f"{build.pk}:{key}"
            names[name] = row.name
            found.append(_as_said(Task(name, (0.0, 0.0, 0.0)), row, build))
        elif row.name and f"{build.pk}:{key}" in names:
            names[f"{build.pk}:{key}"] = row.name
    gone = {f"{build.pk}:{key}" for key, row in rows.items() if row.dropped}
    late = tuple(part_id(c) for c in choices if c.order_after and c.state != "fitted")
    kept = [one for one in found if one.id not in gone]
    return [_waits_too(one, late, of_module) for one in kept]


def _waits_too(task: Task, late: tuple[str, ...], of_module: Mapping[str, tuple[str, ...]]) -> Task:
    """A part that is ordered only after a reading is waited for by its own module alone."""
    mine = of_module.get(task.id.rpartition(":")[2], ())
    more = tuple(one for one in late if one in mine and one not in task.parts)
    return replace(task, parts=(*task.parts, *more)) if more else task


def _as_said(task: Task, row: PlanTask | None, build: Build) -> Task:
    """A task with what a person said of it."""
    if row is None:
        return task
    change: dict[str, Any] = {
        "helper": row.helper,
        "lift": row.lift,
        "dry": row.dry,
        "wait_days": row.wait_days,
        "not_before": row.not_before,
        "after": (*task.after, *(f"{build.pk}:{key}" for key in row.after)),
    }
    if row.hours is not None:
        change["hours"] = row.hours
    if row.away_days is not None:
        change |= {"hours": None, "worked_hours": 0.0, "away_days": row.away_days}
    if row.done_on is not None:
        change["done_on"] = min(row.done_on, timezone.localdate())
    return replace(task, **change)


def _cure(
    cure: Cure,
    k: int,
    build: Build,
    into: tuple[list[Task], list[PlanPart], dict[str, str], list[str]],
    today: date,
) -> None:
    """A way out of a snag: its hours, and what it waits for."""
    tasks, parts, names, unknown = into
    name, waits = f"{build.pk}:fix:{k}", []
    names[name] = f"fix: {cure.note or cure.kind}"
    for wait in cure.waited_for:
        if wait.lead_days is None:
            unknown.append(wait.name)
            continue
        parts.append(PlanPart(f"fix:{build.pk}:{k}", (float(wait.lead_days),) * 3, ordered_on=wait.ordered_on))
        names[f"fix:{build.pk}:{k}"] = wait.name
        waits.append(f"fix:{build.pk}:{k}")
    if cure.part and any(one.id == cure.part for one in parts):
        waits.append(cure.part)
    hours = cure.hours or 0.0
    tasks.append(Task(name, (hours, hours, hours), parts=tuple(waits)))
