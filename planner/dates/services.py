"""What changes a plan: the week, work, orders, what happened, claims; each remembered, none half."""

from __future__ import annotations

from collections.abc import Mapping
from datetime import date, timedelta
from typing import Any

from django.core.files.base import ContentFile
from django.utils import timezone

from garage.file import CarFile, open_file
from planner.chosen import build_in_hand, builds_of
from planner.dates.facts import CIRCLE, calendar_of, offers_of, planned_of, week_of
from planner.dates.models import BuildWeek, Claim, ClaimPicture, Happening, PersonWeek, PlanTask, ReceiptPicture, Said
from planner.dates.reckoned import chances_of, likely_of
from planner.dates.rows import rows_of
from planner.done import open_snag
from planner.models import Build, Choice
from planner.queries import sums
from rimcore.planning.trials import EVENING_H, Trial, order_day
from rimcore.quantities.errors import BadInput
from shelf.models import Quote
from shelf.services import take_quote
from shell.undo import remember

#: pieces of work of one's own in a build
MOST_OWN = 60


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
    """What is said of one piece of work; ``own:`` makes new work of one's own.

    Raises
    ------
    BadInput : it would wait for itself, or is one too many
    """
    with remember(user, f"{values.get('name') or key} changed"):
        row, _ = PlanTask.objects.update_or_create(
            build=build, key=_next_own(build) if key == "own:" else key, defaults=dict(values)
        )
        build.revise()
        _refuse_circle(user, build, "after")
    return row


def _next_own(build: Build) -> str:
    """The key of the next work of one's own.

    Raises
    ------
    BadInput : there is more of it than a plan takes
    """
    taken = [int(one.key[4:]) for one in build.tasks.filter(key__startswith="own:")]
    if len(taken) >= MOST_OWN:
        raise BadInput(f"is one more than a plan takes; accepted: {MOST_OWN} pieces of work of one's own", "name")
    return f"own:{max(taken, default=0) + 1}"


def _refuse_circle(user: Any, build: Build, field: str) -> None:
    """What was just written is looked at as a whole: parts and work together, builds that follow one another.

    Raises
    ------
    BadInput : something would wait for itself; what was written is taken back with it
    """
    again = open_file(user, build.car_id)
    for one in builds_of(again):
        if CIRCLE in " ".join(planned_of(again, one).unknown):
            raise BadInput("would wait for itself, through what it comes after or the part that it needs", field)


def remove_task(build: Build, user: Any, key: str) -> None:
    """Nothing is said of it any more; work of one's own is gone."""
    with remember(user, "work taken out of the plan"):
        for row in build.tasks.filter(key=key):
            row.delete()
        build.revise()


def change_order(choice: Choice, user: Any, values: Mapping[str, Any]) -> None:
    """When a part is ordered and how long it takes.

    Raises
    ------
    BadInput : the work after which it is ordered waits for it
    """
    with remember(user, f"{choice.label}: order changed"):
        for name, value in values.items():
            setattr(choice, name, value)
        choice.save()
        choice.build.revise()
        _refuse_circle(user, choice.build, "order_after")


def note_said(file: CarFile, build: Build, why: str) -> Said:
    """What the plan says now, kept."""
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
        open_snag(row.choice, row.what, row.happened_on)
    elif row.kind == "ill" and row.days:
        _away(file, build, today, row.days)
    elif row.kind == "rain" and row.days:
        _wet(file, build, today + timedelta(days=row.days))
    elif row.kind == "accident":
        build.put_aside_on, build.put_aside_why = row.happened_on, row.what
    if row.hours or row.money_minor:
        hours = row.hours or 0.0
        PlanTask.objects.create(
            build=build,
            key=_next_own(build),
            name=row.what[:80],
            low_h=hours,
            likely_h=hours,
            high_h=hours,
            price_minor=row.money_minor,
        )
    build.revise()


def _away(file: CarFile, build: Build, today: date, days: int) -> None:
    """No hands on so many days from today on: in the build's own week, which is the person's until then."""
    values = week_values(file, build)
    gone = {(today + timedelta(days=k)).isoformat() for k in range(days)}
    values["away"] = sorted({*values.get("away", []), *gone})[:730]
    values["extra"] = {day: hours for day, hours in (values.get("extra") or {}).items() if day not in gone}
    BuildWeek.objects.update_or_create(build=build, defaults=values)


def _wet(file: CarFile, build: Build, until: date) -> None:
    """Work that wants a dry day is not begun before the rain is over; all other work goes on."""
    for row in rows_of(file).get(build.pk, {}).values():
        if row.dry and row.done_on is None:
            row.not_before = max(until, row.not_before or until)
            row.save()


def take_up(build: Build, user: Any) -> None:
    """A build that was put aside goes on."""
    with remember(user, f"{build.name} goes on"):
        build.put_aside_on, build.put_aside_why = None, ""
        build.revise()


def keep_claim(
    choice: Choice, user: Any, claim: Claim | None, values: Mapping[str, Any], picture: bytes | None = None
) -> Claim:
    """A part that failed or came wrong, and what became of it; a new one is a snag of the sheet that is open.

    Raises
    ------
    BadInput : one picture too many
    """
    with remember(user, f"claim: {values['what'][:60]}"):
        row = claim or Claim(choice=choice)
        for name, value in values.items():
            setattr(row, name, value)
        row.save()
        if claim is None:
            open_snag(choice, row.what, row.seen_on)
        if picture is not None:
            _keep_picture(ClaimPicture(claim=row), row.pictures.count(), picture)
        choice.build.revise()
    return row


#: pictures of a claim
MOST_PICTURES = 12


def _keep_picture(row: ClaimPicture | ReceiptPicture, kept: int, picture: bytes) -> None:
    """A picture beside those that are kept already.

    Raises
    ------
    BadInput : there are as many as are kept
    """
    if kept >= MOST_PICTURES:
        raise BadInput(f"has {MOST_PICTURES} pictures already; take one away first", "image")
    row.image.save("picture.jpg", ContentFile(picture), save=False)
    row.save()


def drop_picture(picture: ClaimPicture, user: Any) -> None:
    """Take a picture away; its file goes when that can't be undone any more."""
    with remember(user, "picture of a claim removed"):
        picture.delete()


def keep_receipt(choice: Choice, user: Any, picture: bytes) -> None:
    """Keep a picture of a part's receipt.

    Raises
    ------
    BadInput : it has as many as are kept
    """
    with remember(user, f"{choice.label}: receipt kept"):
        _keep_picture(ReceiptPicture(choice=choice), choice.receipts.count(), picture)


def drop_receipt(picture: ReceiptPicture, user: Any) -> None:
    """Take a receipt away; its file goes when that can't be undone any more."""
    with remember(user, "receipt removed"):
        picture.delete()


def keep_trial(file: CarFile, user: Any, build: Build, trial: Trial) -> str:
    """Take a trial into the plan; what was kept, in words.

    Raises
    ------
    BadInput : what it speaks of is of another build, or is for the page of the part
    """
    with remember(user, "trial kept"):
        words = _keep(file, user, build, trial)
        again = open_file(user, file.car.pk)
        note_said(again, build_in_hand(again) or build, words)
    return words


def _keep(file: CarFile, user: Any, build: Build, trial: Trial) -> str:
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
        return _keep_part(file, user, choice, trial)
    key = rest if kind == str(build.pk) else ""
    if not key or key.startswith("fix"):
        raise BadInput("is work of another build, or of a snag: change it there", "try")
    values = {"dropped": True} if trial.what == "drop" else {"not_before": _start(file, build, trial)}
    PlanTask.objects.update_or_create(build=build, key=key, defaults=values)
    build.revise()
    return "left for after" if trial.what == "drop" else "moved"


def _keep_part(file: CarFile, user: Any, choice: Choice, trial: Trial) -> str:
    today = timezone.localdate()
    on_its_way = choice.ordered_on is not None
    if trial.what == "move" and on_its_way:
        choice.lead_days = max(0, (choice.lead or 0) + trial.days)
        choice.lead_low_days = choice.lead_high_days = None
        words = f"{choice.label}: {choice.lead_days} days"
    elif trial.what == "move":
        on = order_day(today, choice.order_on, trial.days)
        choice.order_on, choice.order_after = (on if on > today else None), ""
        words = f"{choice.label} to be ordered on {on:%-d %b}"
    elif trial.what == "order":
        choice.order_on, choice.order_after = None, ""
        words = f"{choice.label} to be ordered today"
    elif trial.what == "lead":
        words = _keep_lead(file, user, choice, trial.days)
    else:
        raise BadInput("say on the part's own page when it comes, or take it out there", "try")
    choice.save()
    choice.build.revise()
    return words


def _keep_lead(file: CarFile, user: Any, choice: Choice, days: int) -> str:
    """Another lead: where it is a quote's, that quote is taken with its supplier and price."""
    offer = next((one for one in offers_of(file, choice) if one.lead_days == days), None)
    choice.lead_low_days = choice.lead_high_days = None
    if offer is None:
        choice.lead_days = days
        return f"{choice.label}: {days} days"
    take_quote(Quote.objects.select_related("part").get(pk=offer.quote), user)
    choice.lead_days = choice.price_minor = None
    return f"{choice.label} from {offer.supplier}"


def _start(file: CarFile, build: Build, trial: Trial) -> date | None:
    likely = likely_of(planned_of(file, build).plan)
    on = next((one.start for one in likely.tasks if one.id == trial.id), None)
    return None if on is None else max(timezone.localdate(), on + timedelta(days=trial.days))
