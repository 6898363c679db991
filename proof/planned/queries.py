"""What a page of planned runs shows: how far they are, and what they say once all of them are driven."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from garage.file import CarFile
from proof.models import Run, RunPlan, Series
from proof.queries import Strip, strip_of
from rimcore.proof.change import Asked
from rimcore.proof.strip import step_of
from rimcore.proof.trial import (
    BY_CODE,
    HOLD,
    Different,
    Driven,
    Progress,
    asked_of,
    claimed_together,
    progress_of,
    runs_planned,
    scatter,
)
from rimcore.proof.words import WORTH, Verdict, cost_of_one, figure
from rimcore.work.money import in_hundredths, in_whole
from shell.figures import amount
from shell.figures import figure as shown_in


@dataclass(frozen=True)
class Beside:
    """A condition on both sides, in the person's unit, with what was done about it."""

    name: str
    before: str
    after: str
    state: str
    words: str


@dataclass(frozen=True)
class Planned:
    """Planned runs as a page shows them. Before all of them are driven there is no verdict."""

    plan: RunPlan
    runs: list[Run]
    progress: Progress
    strip: Strip | None
    verdict: Verdict | None = None
    stands: bool | None = None
    #: other changes that are claimed of the same work
    family: tuple[str, ...] = ()
    worth: str = ""
    cost: str = ""
    beside: tuple[Beside, ...] = ()
    #: conditions that nobody noted at every run
    not_noted: tuple[str, ...] = ()
    hold: tuple[str, ...] = HOLD

    @property
    def next_number(self) -> int:
        """Running number of the next run."""
        return max((run.number for run in self.runs), default=0) + 1

    @property
    def side_name(self) -> str:
        """Which side the next run is of, in words."""
        return {"A": "before", "B": "after", "": ""}[self.progress.next_side]

    @property
    def card(self) -> str:
        """What a driver who is not to know is told."""
        return f"card {self.next_number}"


#: what was done about a condition, in words
_WORDS = {
    "same": ("clear", "the same on both sides"),
    "corrected": ("tight", "different; corrected for"),
    "apart": ("tight", "before and after do not overlap: nothing but a straight line tells it from the parts"),
    "left": ("tight", "different; too few runs to correct for it"),
}


def plans_of(series: Series) -> list[RunPlan]:
    """Plans of a series with their series in hand."""
    found = list(series.plans.all())
    for one in found:
        one.series = series
    return found


def runs_of(plan: RunPlan) -> list[Run]:
    """Runs of a plan in the order they were driven, from the rows of its series."""
    return sorted((run for run in plan.series.runs.all() if run.plan_id == plan.pk), key=lambda run: run.number)


def _driven(runs: Sequence[Run]) -> list[Driven]:
    return [
        Driven(run.value, run.side, run.number, {code: v for code, v in run.conditions.items() if code in BY_CODE})
        for run in runs
        if not run.left_out_why
    ]


def _asked(plan: RunPlan, runs: Sequence[Run]) -> tuple[Asked | None, tuple[Different, ...]]:
    return asked_of(_driven(runs), plan.design, plan.series.better, plan.useful)


def planned(file: CarFile, plan: RunPlan, others: Sequence[RunPlan] = ()) -> Planned:
    """Where planned runs are; with all of them driven, what they say, held together with what else is claimed."""
    runs = runs_of(plan)
    counted = [run for run in runs if not run.left_out_why]
    progress = progress_of(plan.order, [run.side for run in counted])
    before, after = ([run for run in counted if run.side == side] for side in "AB")
    if not progress.enough:
        strip = strip_of(plan.series, before, after, None, all_runs=False) if counted and not plan.blind else None
        return Planned(plan, runs, progress, strip)
    asked, different = _asked(plan, runs)
    if asked is None:
        return Planned(plan, runs, progress, None)
    same = [one for one in others if one.pk != plan.pk and one.what == plan.what and _is_driven(one)]
    together = [(asked, plan.series.unit)]
    for one in same:
        again, _ = _asked(one, runs_of(one))
        together += [(again, one.series.unit)] if again is not None else []
    verdict, p, stands = claimed_together(together)[0]
    return Planned(
        plan,
        runs,
        progress,
        strip_of(plan.series, before, after, (verdict, p, stands), all_runs=False),
        verdict=verdict,
        stands=stands,
        family=tuple(one.series.name for one in same),
        worth=WORTH.get(verdict.change.worth or "", ""),
        cost=_cost(file, plan, verdict),
        beside=tuple(_beside(file, one) for one in different if one.what != "unknown"),
        not_noted=tuple(one.condition.name.lower() for one in different if one.what == "unknown"),
    )


def _is_driven(plan: RunPlan) -> bool:
    counted = [run.side for run in runs_of(plan) if not run.left_out_why]
    return plan.given_up_on is None and progress_of(plan.order, counted).enough


def _cost(file: CarFile, plan: RunPlan, verdict: Verdict) -> str:
    """Money for one unit of what was shown; nothing where nothing was shown."""
    if not verdict.shown or plan.cost_minor is None:
        return ""
    each = cost_of_one(in_whole(plan.cost_minor), verdict.change.change)
    if each is None:
        return ""
    return f"{amount(in_hundredths(each), file.car.currency)} for each {plan.series.unit or 'step'}"


def _beside(file: CarFile, one: Different) -> Beside:
    state, words = _WORDS[one.what]
    sides = [_figure(file, one.condition.kind, value) for value in (one.before, one.after)]
    return Beside(one.condition.name, sides[0], sides[1], state, words)


def _figure(file: CarFile, kind: str, value: float | None) -> str:
    if value is None:
        return "–"
    if not kind:
        return f"{value:.0f}"
    shown, unit = shown_in(value, kind, file.preferences)
    return f"{shown}\u2009{unit}"


@dataclass(frozen=True)
class Sizing:
    """How many runs a side a plan wants, and from what that is."""

    runs: int | None
    words: str


def sizing(series: Series, useful: float | None, sd: float | None, design: str) -> Sizing:
    """Runs a side for the smallest change worth having, in words."""
    found = runs_planned(useful, sd, design)
    if useful is None:
        return Sizing(found, "say the smallest change worth having")
    if sd is None:
        return Sizing(found, "no scatter is known: drive three the same way first, or say it")
    if found is None:
        return Sizing(
            None,
            f"runs scatter ±{figure(sd)} {series.unit}: over 60 a side would be wanted to show {figure(useful)}; "
            "hold more equal, or ask for a larger change",
        )
    return Sizing(
        found,
        f"{found} a side show a change of {figure(useful)} {series.unit} four times in five, at a scatter of "
        f"{figure(sd)}",
    )


def scatter_of(series: Series) -> float | None:
    """Standard deviation of one run, from the runs of one state that has three of them or more; the largest."""
    groups: dict[tuple[int, int | None, str], list[float]] = {}
    for run in series.runs.all():
        if not run.left_out_why:
            groups.setdefault((run.outfit_id, run.plan_id, run.side), []).append(run.value)
    found = [spread for values in groups.values() if (spread := spread_of(values)) is not None]
    return max(found, default=None)


def spread_of(values: Sequence[float]) -> float | None:
    """Standard deviation of three runs or more, not under that of the step they were read in."""
    return scatter(values, step_of(values)) if len(values) >= 3 else None
