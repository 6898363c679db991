"""What the planner puts on the tally board."""

from __future__ import annotations

from django.urls import reverse

from garage.file import CarFile
from garage.inhand import beside, judgements_in_hand
from planner.chosen import build_in_hand, builds_of, choices_of
from planner.dates.facts import planned_of
from planner.dates.reckoned import chances_of
from planner.queries import gap_where, sums
from rimcore.drawing.planes import short
from rimcore.quantities.judgement import severity
from rimcore.tables.facts import CORNER_NAMES
from rimcore.well.judge.fitment import Verdict
from rimcore.work.ledger import SPENT_STATES
from shell.board import Cell
from shell.figures import figure, whole

_CORNER_OF = {name: corner for corner, name in CORNER_NAMES.items()}


def gap_cell(file: CarFile) -> Cell:
    """Tightest gap: by margin, with where it is."""
    build = build_in_hand(file)
    judgements = sums(file, build).judgements if build else judgements_in_hand(file)
    tightest = Verdict(tuple(judgements)).tightest
    if tightest is None or tightest.value is None:
        return Cell(
            "Tightest gap", "–", "", "unmeasured", "no gap measured yet", reverse("measure", args=[file.car.pk])
        )
    shown, unit = figure(tightest.value, "length", file.preferences)
    url = reverse("check", args=[file.car.pk, _CORNER_OF[tightest.where]])
    gaps = [j for j in judgements if j.code.startswith("gap.")]
    known = sum(j.margin is not None for j in gaps)
    counted = f"{known} measured" + (f", {len(gaps) - known} not" if known < len(gaps) else "")
    worst = min([*judgements, *beside(file)], key=severity)
    parts = f"{counted} · {gap_where(tightest)}"
    if severity(worst)[0] < severity(tightest)[0]:
        # something that is no gap is worse than every gap: the board says so, with what and where
        parts = f"{worst.state}: {worst.name}{f', {worst.where}' if worst.where else ''} · {parts}"
    else:
        worst = tightest
    return Cell("Tightest gap", shown if unit != "mm" else short(tightest.value), unit, worst.state, parts, url)


def mass_cell(file: CarFile) -> Cell:
    """Mass against the baseline."""
    build = build_in_hand(file)
    url = reverse("plan", args=[file.car.pk]) + "#mass"
    if build is None:
        return Cell("Weight", "–", "", "", "no current build", url)
    change = sums(file, build).mass
    shown, unit = figure(change.total_kg, "mass", file.preferences, sign=True)
    front, _ = figure(change.front_kg, "mass", file.preferences, sign=True)
    rear, _ = figure(change.rear_kg, "mass", file.preferences, sign=True)
    parts = f"front {front} · rear {rear}" + (f" · {change.unknown} unknown" if change.unknown else "")
    return Cell("Weight", shown, unit, "", parts, url)


def money_cell(file: CarFile) -> Cell:
    """Spent and promised, of the budget."""
    build = build_in_hand(file)
    url = reverse("plan", args=[file.car.pk]) + "#money"
    if build is None:
        return Cell("Money", "–", "", "", "no current build", url)
    found = sums(file, build).money
    state = "hit" if found.left_minor is not None and found.left_minor < 0 else ""
    of = f"of {whole(found.budget_minor)} {file.car.currency}" if found.budget_minor is not None else file.car.currency
    parts = f"spent {whole(found.spent_minor)} · still to spend {whole(found.promised_minor)}"
    if found.left_minor is not None:
        parts += f" · left {whole(found.left_minor)}"
    return Cell("Money", whole(found.total_minor), of, state, parts, url)


def ready_cell(file: CarFile) -> Cell:
    """Days in hand before the event."""
    build = build_in_hand(file)
    url = reverse("plan", args=[file.car.pk]) + "#dates"
    if build is None or not file.car.event_on:
        return Cell("Ready", "–", "", "", "no event date" if build else "no current build", url)
    found = planned_of(file, build)
    dates = sums(file, build).dates
    event = f"{file.car.event_name}, {file.car.event_on:%-d %B}"
    if dates.days_in_hand is None:
        why = f"{len(dates.unknown)} without lead time" if dates.unknown else "never, as it is planned"
        return Cell("Ready", "–", "", "unmeasured" if dates.unknown else "hit", f"{why} · {event}", url)
    chance = chances_of(found.plan).chance_pct
    state = "hit" if dates.days_in_hand < 0 else "tight" if dates.days_in_hand < 7 else ""
    return Cell(
        "Ready",
        short(float(dates.days_in_hand)),
        f"day{'' if abs(dates.days_in_hand) == 1 else 's'} in hand",
        state,
        event if chance is None else f"{chance:.0f} % by {event}",
        url,
    )


def share_checked(file: CarFile) -> float:
    """Share of the judgements of the build in hand that are known."""
    build = build_in_hand(file)
    if build is None:
        return 0.0
    judgements = sums(file, build).judgements
    return sum(j.state != "unmeasured" for j in judgements) / len(judgements) if judgements else 0.0


def share_planned(file: CarFile) -> float:
    """Share of the parts of the build in hand that are ordered or further."""
    build = build_in_hand(file)
    parts = choices_of(build) if build else []
    return sum(part.state == "ordered" or part.state in SPENT_STATES for part in parts) / len(parts) if parts else 0.0


def chooses(file: CarFile) -> bool:
    """Has any build a part?"""
    return any(build.choices.all() for build in builds_of(file))


def name_in_hand(file: CarFile) -> str:
    """The build in hand with its revision; blank where there is none."""
    build = build_in_hand(file)
    return f"Build {build.name}, rev {build.revision}" if build else ""
