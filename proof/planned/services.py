"""What changes planned runs."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from django.db import IntegrityError, transaction
from django.utils import timezone

from garage.car.services import outfit_now
from garage.file import CarFile
from proof.models import Run, RunPlan, Series
from rimcore.proof.trial import order_of
from rimcore.quantities.errors import BadInput
from shell.undo import remember

#: plans of one series, and runs of one plan with those that were left out
MOST_PLANS, MOST_RUNS = 40, 200


def make_plan(series: Series, user: Any, runs: int, values: Mapping[str, Any]) -> RunPlan:
    """Plan runs; their order is kept with the plan.

    Raises
    ------
    BadInput : too many plans, or too many runs
    """
    if series.plans.count() >= MOST_PLANS:
        raise BadInput(f"has {MOST_PLANS} plans already", "runs")
    blind = values.get("blind") and values["design"] != "after"
    with remember(user, f"runs planned: {values['what'][:60]}"):
        seed = series.pk * 1000 + series.plans.count() if blind else None
        order = order_of(runs, values["design"], seed)
        return RunPlan.objects.create(series=series, order=order, **dict(values) | {"blind": bool(blind)})


def add_run(file: CarFile, plan: RunPlan, user: Any, number: int, side: str, values: Mapping[str, Any]) -> Run:
    """The next run of a plan, with what was noted at it.

    Raises
    ------
    BadInput : that run is noted already, by a press twice or from another telephone
    """
    if plan.runs.count() >= MOST_RUNS:
        raise BadInput(f"has {MOST_RUNS} runs already", "value")
    try:
        with transaction.atomic(), remember(user, f"run {number} noted"):
            return Run.objects.create(
                series=plan.series,
                outfit=outfit_now(file),
                plan=plan,
                side=side,
                number=number,
                value=values["value"],
                note=values.get("note") or "",
                conditions=values["conditions"],
            )
    except IntegrityError as error:
        raise BadInput(f"run {number} is noted already", "value") from error


def give_up(plan: RunPlan, user: Any) -> None:
    """No more runs are driven; what was driven stays, and nothing is said of it."""
    with remember(user, f"planned runs given up: {plan.what[:60]}"):
        plan.given_up_on = timezone.localdate()
        plan.save()
