"""What the pages of the workshop need."""

from __future__ import annotations

from collections import defaultdict
from dataclasses import dataclass

from django.urls import reverse
from django.utils import timezone

from garage.file import CarFile
from garage.inhand import judgements_in_hand
from rimcore.fastening.fasteners import crosswise_order, lug_places, pound_feet, torque_reading
from shell.board import Cell
from workshop.models import FollowUp, Job, Snag, Step


def load(file: CarFile) -> None:
    """Jobs with clock and snags, and follow-ups, into the car's file; a constant number of queries."""
    jobs = list(file.car.jobs.select_related("build").prefetch_related("spells", "snags", "steps"))
    file.extra["jobs"] = jobs
    file.extra["follow_ups"] = list(file.car.follow_ups.all())
    clocked: dict[int, float] = defaultdict(float)
    lost: dict[int, int] = defaultdict(int)
    for job in jobs:
        clocked[job.build_id] += sum(spell.hours for spell in job.spells.all())
        lost[job.build_id] += sum(snag.cost_minor for snag in job.snags.all())
    file.extra["clocked"], file.extra["lost"] = dict(clocked), dict(lost)


def jobs_of(file: CarFile) -> list[Job]:
    found: list[Job] = file.extra["jobs"]
    return found


def open_snags(file: CarFile) -> list[Snag]:
    """Snags that have no cure yet."""
    return [snag for job in jobs_of(file) for snag in job.snags.all() if snag.closed_on is None]


@dataclass(frozen=True)
class Due:
    """A follow-up with how far away it is: km left, and whether it is due."""

    follow_up: FollowUp
    km_left: int | None
    due: bool


def follow_ups(file: CarFile) -> list[Due]:
    """Follow-ups not done yet, the nearest first."""
    today = timezone.localdate()
    rows = []
    for one in file.extra["follow_ups"]:
        if one.done_on is None:
            left = None if one.due_km is None else one.due_km - file.car.odometer_km
            by_km = left is not None and left <= 0
            by_date = one.due_on is not None and one.due_on <= today
            rows.append(Due(one, left, by_km or by_date))
    return rows


def open_cell(file: CarFile) -> Cell:
    """Open things: unmeasured, snags, follow-ups due."""
    unmeasured = len({name for j in judgements_in_hand(file) if j.state == "unmeasured" for name in j.missing})
    snags, waiting = len(open_snags(file)), follow_ups(file)
    due = sum(one.due for one in waiting)
    parts = f"{unmeasured} unmeasured · {snags} snag{'' if snags == 1 else 's'} · {due} due"
    state = "hit" if due else ""
    return Cell("Open", str(unmeasured + snags + due), "", state, parts, reverse("open", args=[file.car.pk]))


def share_fitted(file: CarFile) -> float:
    """Share of the steps of all sheets that are done or skipped."""
    steps = [step for job in jobs_of(file) for step in job.steps.all()]
    return sum(step.state != "todo" for step in steps) / len(steps) if steps else 0.0


def hours(job: Job) -> float:
    """Hours clocked on a job."""
    return sum(spell.hours for spell in job.spells.all())


@dataclass(frozen=True)
class Nut:
    """One nut of the circle, in drawing units."""

    number: int
    x: float
    y: float
    state: str


@dataclass(frozen=True)
class TorqueView:
    """What a torque step shows."""

    nuts: list[Nut]
    path: str
    now: int | None
    place: int
    wanted_nm: float
    wanted_lbf_ft: float
    pulls: list[tuple[int, float, str]]


def torque_view(step: Step) -> TorqueView | None:
    """The nut circle with the order of tightening, and which nut is next; None while figure or count is not known."""
    lugs = step.lugs
    if lugs is None or step.torque_nm is None:
        return None
    done = {pull.lug: pull for pull in step.pulls.all()}
    order = crosswise_order(lugs)
    now = next((lug for lug in order if lug not in done), None)
    spots = lug_places(lugs, 75, 48)
    nuts = [
        Nut(order.index(lug) + 1, x, y, "done" if lug in done else "now" if lug == now else "") for lug, (x, y) in sorted(spots.items())
    ]
    path = "M" + " L".join(f"{spots[lug][0]:.1f} {spots[lug][1]:.1f}" for lug in order)
    wanted = step.torque_nm
    pulls = [(order.index(lug) + 1, pull.read_nm, torque_reading(pull.wanted_nm, pull.read_nm)) for lug, pull in done.items()]
    return TorqueView(nuts, path, now, order.index(now) + 1 if now else len(order), wanted, pound_feet(wanted), sorted(pulls))
