"""The plan as a calendar file: work days, arrivals, last days to order, the event. Each entry keeps its UID."""

from __future__ import annotations

from datetime import UTC, date, datetime, timedelta

from icalendar import Calendar, Event

from garage.file import CarFile
from planner.dates.facts import claims_of, planned_of
from planner.dates.orders import by_supplier
from planner.dates.reckoned import likely_of
from planner.done import done_of
from planner.models import Build
from shell.plain import one_line

#: what stands behind the @ of every UID
HOST = "rim-tally"


def calendar_file(file: CarFile, build: Build) -> bytes:
    """RFC 5545; a second import moves what was imported before, for the UIDs are those of the rows."""
    calendar = Calendar()
    calendar.add("prodid", "-//Rim Tally//plan//EN")
    calendar.add("version", "2.0")
    calendar.add("x-wr-calname", one_line(f"{file.car.nickname}: {build.name}"))
    found = planned_of(file, build)
    now, number = datetime.now(UTC), build.revision

    def put(uid: str, first: date | None, last: date | None, words: str) -> None:
        if first is None:
            return
        event = Event()
        event.add("uid", f"{uid}@{HOST}")
        event.add("dtstamp", now)
        event.add("sequence", number)
        event.add("summary", one_line(words))
        event.add("dtstart", first)
        event.add("dtend", (last or first) + timedelta(days=1))
        calendar.add_component(event)

    if not found.unknown:
        likely = likely_of(found.plan)
        done = {one.id for one in found.plan.tasks if one.done_on is not None}
        for task in likely.tasks:
            if task.id not in done:
                put(f"build-{build.pk}-task-{task.id}", task.start, task.finish, found.names.get(task.id, task.id))
        put(f"build-{build.pk}-ready", likely.ready_on, None, f"{build.name}: ready, likely")
        for part in likely.parts:
            if part.arrives is not None and part.arrives >= found.plan.today:
                put(f"build-{build.pk}-{part.id}", part.arrives, None, f"arrives: {found.names.get(part.id, part.id)}")
    for supplier in by_supplier(file, build):
        for one in supplier.open:
            put(f"choice-{one.choice.pk}-last", one.last_on, None, f"last day to order: {one.choice.label}")
    for number_of, what, on in done_of(file).due:
        put(f"due-{number_of}", on, None, f"due: {what}")
    for rows in claims_of(file).values():
        for claim in rows:
            if claim.closed_on is None:
                put(f"claim-{claim.pk}", claim.due_on, None, f"claim: {claim.due_what or claim.what}")
    put(f"car-{file.car.pk}-event", file.car.event_on, None, file.car.event_name or "the event")
    text: bytes = calendar.to_ical()
    return text
