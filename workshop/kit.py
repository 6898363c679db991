"""Tools and consumables: what is there, and what is missing before the jack is out."""

from __future__ import annotations

from typing import Any

from django.utils import timezone

from garage.file import CarFile
from shell.undo import remember
from workshop.models import Snag, Tool
from workshop.queries import jobs_of, kit_of


def note(file: CarFile, user: Any, name: str, have: bool) -> None:
    """A tool is there or missing.

    A missing one is a snag of the first sheet that wants it, and one that comes closes it.
    """
    with remember(user, f"{name}: {'there' if have else 'missing'}"):
        _keep(user, name, have)
        what = f"{name} missing"[:300]
        open_ones = Snag.objects.filter(job__car=file.car, kind="missing_tool", what=what, closed_on__isnull=True)
        if have:
            for snag in open_ones:
                snag.cure, snag.closed_on = "there now", timezone.localdate()
                snag.save()
        elif not open_ones.exists():
            job = next((job for job in jobs_of(file) if job.state != "done" and _wants(job, name)), None)
            if job is not None:
                Snag.objects.create(job=job, kind="missing_tool", what=what)


def have_all(file: CarFile, user: Any) -> None:
    """Everything that nobody spoke of yet is there."""
    rows = [row for row in kit_of(file) if row.have is None]
    with remember(user, f"{len(rows)} tools there"):
        for row in rows:
            _keep(user, row.name, True)


def _keep(user: Any, name: str, have: bool) -> None:
    tool = Tool.objects.filter(owner=user, name=name).first() or Tool(owner=user, name=name)
    tool.have = have
    tool.save()


def _wants(job: Any, name: str) -> bool:
    return any(name in (*step.tools, *step.consumables) for step in job.steps.all() if step.state == "todo")
