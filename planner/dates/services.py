"""What changes a plan: the week, work, orders, what happened, claims; each remembered, none half."""

from __future__ import annotations

from collections.abc import Mapping
from datetime import date, timedelta
from typing import Any

from django.db.models import F
from django.utils import timezone

from garage.file import CarFile, open_file
from planner.chosen import build_in_hand, builds_of
from planner.dates.facts import calendar_of, planned_of, week_of
from planner.dates.models import BuildWeek, Claim, Happening, PersonWeek, PlanTask, Said
from planner.dates.reckoned import chances_of, likely_of
from planner.models import Build, Choice
from planner.queries import sums
from rimcore.planning.trials import EVENING_H, Trial
from rimcore.quantities.errors import BadInput
from shell.undo import remember


def keep_week(file: CarFile, user: Any, build: Build | None, week: Mapping[str, Any]) -> None:
    """The person's week, or that of one build."""
    with remember(user, "week changed"):
        if build is None:
            PersonWeek.objects.update_or_create(owner=file.user, defaults=dict(week))
        else:
            BuildWeek.objects.update_or_create(build=build, defaults=dict(week))


def drop_week(user: Any, build: Build) -> None:
    """A build goes by the person's week again."""
    with remember(user, f"{build.name} goes by your week"):
        for row in BuildWeek.objects.filter(build=build):
            row.delete()


def week_values(file: CarFile, build: Build | None) -> dict[str, Any]:
    """The week that counts, as its form shows it."""
    week, _ = week_of(file, build)
    if week is not None:
        return week.values
    hours = calendar_of(file, build).week_hours
    return {"week_hours": [round(one, 2) for one in hours], "own_factor": True, "wet_pct": 0.0}


def keep_task(build: Build, user: Any, key: str, values: Mapping[str, Any]) -> PlanTask:
    """What is said of one piece of work; ``own:`` makes new work of one's own."""
    with remember(user, f"{values.get('name') or key} changed"):
        if key == "own:":
            taken = [int(one.key[4:]) for one in build.tasks.filter(key__startswith="own:")]
            key = f"own:{max(taken, default=0) + 1}"
        row, _ = PlanTask.objects.update_or_create(build=build, key=key, defaults=dict(values))
        _revise(build)
    return row


def remove_task(build: Build, user: Any, key: str) -> None:
    """Nothing is said of it any more; work of one's own is gone."""
    with remember(user, "work taken out of the plan"):
        for row in build.tasks.filter(key=key):
            row.delete()
        _revise(build)


def change_order(choice: Choice, user: Any, values: Mapping[str, Any]) -> None:
    """When a part is ordered and how long it takes."""
    with remember(user, f"{choice.label}: order changed"):
        for name, value in values.items():
            setattr(choice, name, value)
        choice.save()
        _revise(choice.build)


def note_said(file: CarFile, build: Build, why: str) -> Said:
    """What the plan says now, kept; two of the same day with the same words are one."""
    found = planned_of(file, build)
    known = not found.unknown
    likely, chances = likely_of(found.plan), chances_of(found.plan)
    hours = sum(one.hours[1] for one in found.plan.tasks if one.hours is not None and one.done_on is None)
    said: Said = Said.objects.create(
        build=build,
        why=why[:160],
        ready_on=likely.ready_on if known else None,
        p80_on=chances.ready_on.get(80) if known else None,
        chance_pct=chances.chance_pct if known else None,
        event_on=file.car.event_on,
        money_minor=sums(file, build).money.total_minor,
        hours=hours,
    )
    return said


def keep_said(file: CarFile, user: Any, build: Build) -> None:
    """Today's date on purpose."""
    with remember(user, "today's date kept"):
        note_said(file, build, "kept")


def happen(file: CarFile, user: Any, build: Build, said: Mapping[str, Any]) -> Happening:
    """Something happened: what was said is kept, the plan is changed, and what it says then is kept beside it.

    ``said``: kind, what, happened_on, days, hours, money_minor, choice (or None).
    """
    with remember(user, f"happened: {said['what'][:60]}"):
        before = note_said(file, build, f"before: {said['what']}")
        row = Happening.objects.create(build=build, before=before, **said)
        _apply(file, build, row)
        build.refresh_from_db()
        again = open_file(user, file.car.pk)
        same = next(one for one in builds_of(again) if one.pk == build.pk)
        row.later = note_said(again, same, said["what"])
        row.save(update_fields=["later"])
    return row


def _apply(file: CarFile, build: Build, row: Happening) -> None:
    """What it does to the plan."""
    today, choice = timezone.localdate(), row.choice
    if row.kind == "late" and choice is not None and row.days:
        since = choice.ordered_on or today
        due = since + timedelta(days=choice.lead or 0)
        choice.lead_days = min(730, (max(due, today) - since).days + row.days)
        choice.lead_low_days = choice.lead_high_days = None
        choice.save()
    elif row.kind == "wrong" and choice is not None and row.days:
        choice.state, choice.ordered_on, choice.arrived_on = "ordered", today, None
        choice.lead_days, choice.lead_low_days, choice.lead_high_days = row.days, None, None
        choice.save()
        Claim.objects.create(choice=choice, what=row.what, seen_on=row.happened_on)
    elif row.kind in ("ill", "rain") and row.days:
        _away(file, build, today, row.days)
    elif row.kind == "accident":
        build.put_aside_on, build.put_aside_why = row.happened_on, row.what
    if row.hours or row.money_minor:
        taken = [int(one.key[4:]) for one in build.tasks.filter(key__startswith="own:")]
        hours = row.hours or 0.0
        PlanTask.objects.create(
            build=build,
            key=f"own:{max(taken, default=0) + 1}",
            name=row.what[:80],
            low_h=hours,
            likely_h=hours,
            high_h=hours,
            price_minor=row.money_minor,
        )
    _revise(build)


def _away(file: CarFile, build: Build, today: date, days: int) -> None:
    """No hands on so many days from today on: in the build's own week, which is the person's until then."""
    values = week_values(file, build)
    gone = {(today + timedelta(days=k)).isoformat() for k in range(days)}
    values["away"] = sorted({*values.get("away", []), *gone})[:730]
    values["extra"] = {day: hours for day, hours in (values.get("extra") or {}).items() if day not in gone}
    BuildWeek.objects.update_or_create(build=build, defaults=values)


def take_up(build: Build, user: Any) -> None:
    """A build that was put aside goes on."""
    with remember(user, f"{build.name} goes on"):
        build.put_aside_on, build.put_aside_why = None, ""
        _revise(build)


def keep_claim(choice: Choice, user: Any, claim: Claim | None, values: Mapping[str, Any]) -> Claim:
    """A part that failed or came wrong, and what became of it."""
    with remember(user, f"claim: {values['what'][:60]}"):
        row = claim or Claim(choice=choice)
        for name, value in values.items():
            setattr(row, name, value)
        row.save()
        _revise(choice.build)
    return row


def keep_trial(file: CarFile, user: Any, build: Build, trial: Trial) -> str:
    """Take a trial into the plan; what was kept, in words.

    Raises
    ------
    BadInput : what it speaks of is of another build, or is for the page of the part
    """
    with remember(user, "trial kept"):
        words = _keep(file, build, trial)
        again = open_file(user, file.car.pk)
        note_said(again, build_in_hand(again) or build, words)
    return words


def _keep(file: CarFile, build: Build, trial: Trial) -> str:
    if trial.what in ("evening", "helper", "lift"):
        values = week_values(file, build)
        if trial.what == "evening":
            hours = list(values["week_hours"])
            hours[trial.days] = min(24.0, hours[trial.days] + EVENING_H)
            values["week_hours"] = hours
        else:
            name = f"{trial.what}_weekdays"
            values[name] = sorted({*(values.get(name) or []), trial.days})
        BuildWeek.objects.update_or_create(build=build, defaults=values)
        return {"evening": "an evening more", "helper": "a helper", "lift": "a lift"}[trial.what]
    kind, _, rest = trial.id.partition(":")
    if kind == "part":
        choice = Choice.objects.filter(pk=int(rest), build=build).first()
        if choice is None:
            raise BadInput("is a part of another build", "try")
        return _keep_part(choice, trial)
    key = rest if kind == str(build.pk) else ""
    if not key or key.startswith("fix"):
        raise BadInput("is work of another build, or of a snag: change it there", "try")
    values = {"dropped": True} if trial.what == "drop" else {"not_before": _start(file, build, trial)}
    PlanTask.objects.update_or_create(build=build, key=key, defaults=values)
    _revise(build)
    return "left for after" if trial.what == "drop" else "moved"


def _keep_part(choice: Choice, trial: Trial) -> str:
    today = timezone.localdate()
    if trial.what == "move":
        on = max(today, choice.order_on or today) + timedelta(days=trial.days)
        choice.order_on = on if on > today else None
        words = f"{choice.label} ordered on {on:%-d %b}"
    elif trial.what == "order":
        choice.order_on, choice.order_after = None, ""
        words = f"{choice.label} ordered today"
    elif trial.what == "lead":
        choice.lead_days, choice.lead_low_days, choice.lead_high_days = trial.days, None, None
        words = f"{choice.label}: {trial.days} days"
    else:
        raise BadInput("leave a part out on its own page", "try")
    choice.save()
    _revise(choice.build)
    return words


def _start(file: CarFile, build: Build, trial: Trial) -> date | None:
    likely = likely_of(planned_of(file, build).plan)
    on = next((one.start for one in likely.tasks if one.id == trial.id), None)
    return None if on is None else max(timezone.localdate(), on + timedelta(days=trial.days))


def _revise(build: Build) -> None:
    build.revision = F("revision") + 1
    build.save()
    build.refresh_from_db(fields=["revision"])
