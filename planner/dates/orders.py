"""Orders by supplier: what to ask, the last day, a mail to copy, CSV."""

from __future__ import annotations

import csv
from collections.abc import Sequence
from dataclasses import dataclass, field
from datetime import date

from django.http import HttpResponse

from garage.file import CarFile
from planner.chosen import choices_of
from planner.dates.facts import claims_of, part_id, planned_of
from planner.dates.models import Claim
from planner.dates.reckoned import likely_of, order_days_of
from planner.models import Build, Choice
from rimcore.planning.trials import order_day
from rimcore.work.money import in_whole
from shell.plain import as_cell


@dataclass(frozen=True)
class Order:
    """One part on the order list: when it comes, and the last day on which it can be ordered for the event."""

    choice: Choice
    arrives: date | None
    slack_days: int | None
    last_on: date | None
    claims: tuple[Claim, ...] = ()
    #: the part with which it is sent or sold; blank: none
    comes_with: str = ""


@dataclass(frozen=True)
class Supplier:
    """Everything of one supplier."""

    name: str
    orders: list[Order] = field(default_factory=list)

    @property
    def open(self) -> list[Order]:
        """What is not ordered yet."""
        return [one for one in self.orders if one.choice.state in ("wanted", "shortlisted")]

    @property
    def last_on(self) -> date | None:
        """The first of the last days."""
        return min((one.last_on for one in self.open if one.last_on is not None), default=None)

    @property
    def mail(self) -> str:
        """One text to copy: what is wanted, and what is to be asked."""
        rows = ["Hello,", "", "please send me price and delivery time of:"]
        for one in self.open:
            rows.append(f"- {one.choice.pieces} × {one.choice.label}")
            rows += [f"    {ask.ask}: {' or '.join(ask.choices[:2])}?" for ask in one.choice.counter_questions]
        if self.last_on is not None:
            rows += ["", f"I have to order by {self.last_on:%-d %B %Y}."]
        return "\n".join([*rows, "", "Thank you"])


def by_supplier(file: CarFile, build: Build) -> list[Supplier]:
    """All orders, those that can wait least first."""
    found = planned_of(file, build)
    likely = likely_of(found.plan)
    dates = {one.id: (one.arrives, one.slack_days) for one in likely.parts}
    late_by = {} if found.unknown else order_days_of(found.plan)
    suppliers: dict[str, Supplier] = {}
    labels = {choice.pk: choice.label for choice in choices_of(build)}
    for choice in choices_of(build):
        arrives, slack = dates.get(part_id(choice), (None, None))
        order = Order(
            choice,
            arrives,
            slack,
            _last_on(choice, late_by.get(part_id(choice)), found.plan.today),
            tuple(claims_of(file).get(choice.pk, ())),
            comes_with=labels.get(choice.comes_with_id or 0, ""),
        )
        name = choice.seller or "no supplier noted"
        suppliers.setdefault(name, Supplier(name)).orders.append(order)
    return sorted(suppliers.values(), key=lambda one: (not one.open, one.last_on or date.max, one.name))


def _last_on(choice: Choice, late_by: int | None, today: date) -> date | None:
    """The last day on which it can be ordered for the likely case to be ready by the event; 60 days are looked at."""
    if late_by is None or choice.state not in ("wanted", "shortlisted"):
        return None
    return order_day(today, choice.order_on, late_by)


def as_csv(file: CarFile, build: Build, suppliers: Sequence[Supplier]) -> HttpResponse:
    """The list as a table file; text that could be a formula stays text."""
    answer = HttpResponse(content_type="text/csv; charset=utf-8")
    answer["Content-Disposition"] = f'attachment; filename="orders-{build.pk}.csv"'
    table = csv.writer(answer)
    table.writerow(
        ["supplier", "part", "pieces", "price of one", "currency", "state", "ordered", "arrives", "last day to order"]
    )
    for supplier in suppliers:
        for one in supplier.orders:
            choice = one.choice
            table.writerow(
                [
                    as_cell(supplier.name),
                    as_cell(choice.label),
                    choice.pieces,
                    "" if choice.price is None else f"{in_whole(choice.price):.2f}",
                    file.car.currency,
                    choice.get_state_display(),
                    choice.ordered_on or "",
                    choice.arrived_on or one.arrives or "",
                    one.last_on or "",
                ]
            )
    return answer


def plan_csv(file: CarFile, build: Build) -> HttpResponse:
    """The plan as a table file: what, from, to, slack, hours."""
    found = planned_of(file, build)
    answer = HttpResponse(content_type="text/csv; charset=utf-8")
    answer["Content-Disposition"] = f'attachment; filename="plan-{build.pk}.csv"'
    table = csv.writer(answer)
    table.writerow(["what", "from", "to", "slack days", "hours low", "hours likely", "hours high"])
    for name in found.unknown:
        table.writerow([as_cell(f"no date: {name}"), "", "", "", "", "", ""])
    if found.unknown:
        return answer
    likely = likely_of(found.plan)
    for task, dates in zip(found.plan.tasks, likely.tasks, strict=True):
        hours = task.hours or ("", "", "")
        name = as_cell(found.names.get(task.id, task.id))
        table.writerow([name, dates.start or "", dates.finish or "", _blank(dates.slack_days), *hours])
    for part in likely.parts:
        name = as_cell(f"arrives: {found.names.get(part.id, part.id)}")
        table.writerow([name, "", part.arrives or "", _blank(part.slack_days), "", "", ""])
    return answer


def _blank(days: int | None) -> int | str:
    """What is not known stays blank."""
    return "" if days is None else days
