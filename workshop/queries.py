"""What the pages of the workshop need."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Iterator, Sequence
from dataclasses import dataclass, replace
from datetime import date

from django.db.models import Prefetch
from django.urls import reverse
from django.utils import timezone

from garage.file import CarFile
from garage.inhand import everything_in_hand
from garage.kept import once
from planner.changes import OF_FAMILY, hours_of, plan_of
from planner.chosen import build_in_hand, builds_of, choices_of
from planner.dates.facts import claims_of
from planner.done import Done
from planner.models import Build, Choice
from planner.queries import cures_of, plan_with
from rimcore.benches import LEVERS
from rimcore.fastening.bolts import wrench_setting_nm
from rimcore.fastening.fasteners import crosswise_order, lug_places, pound_feet, torque_reading
from rimcore.fastening.torques import over_torqued, plausible
from rimcore.parts.declared import Question
from rimcore.planning.cures import Cure, Outcome, weigh
from rimcore.planning.factor import Past
from rimcore.quantities.judgement import Judgement, worst
from rimcore.work.hours import Estimate
from rimcore.work.jobsheet import JobPlan, modules_of, saved
from rimcore.work.modules import OF_LEVER
from rimcore.work.removed import proceeds_minor
from shell.board import Cell
from workshop.models import FollowUp, Job, Promise, Pull, Removed, Snag, Step, Tool


@dataclass(frozen=True)
class Work:
    """Sheets with clock and snags, follow-ups, what came off, and what was done of each build."""

    jobs: Sequence[Job]
    follow_ups: list[FollowUp]
    removed: list[Removed]
    done: Done


@once
def work_of(file: CarFile) -> Work:
    """The workshop's rows of a car; a constant number of queries."""
    said = Prefetch("promises", Promise.objects.filter(code="work.hours"), to_attr="hours_said")
    jobs = list(file.car.jobs.select_related("build").prefetch_related("spells", "snags", "steps", said))
    removed = list(file.car.removed.all())
    waiting = list(file.car.follow_ups.all())
    due = tuple((one.pk, one.what, one.due_on) for one in waiting if one.done_on is None and one.due_on is not None)
    return Work(jobs, waiting, removed, replace(_done(jobs, removed), due=due))


def _done(jobs: Sequence[Job], removed: Sequence[Removed]) -> Done:
    """Hours clocked, money lost less what was sold, and cures decided, by build."""
    clocked: dict[int, float] = defaultdict(float)
    clocked_open: dict[int, float] = defaultdict(float)
    lost: dict[int, int] = defaultdict(int)
    cures: dict[int, list[Cure]] = defaultdict(list)
    build_of = {job.pk: job.build_id for job in jobs}
    for job in jobs:
        hours = sum(spell.hours for spell in job.spells.all())
        clocked[job.build_id] += hours
        if job.state != "done":
            clocked_open[job.build_id] += hours
        for snag in job.snags.all():
            lost[job.build_id] += snag.cost_minor + _cured_minor(snag)
            cures[job.build_id] += _open_cure(snag)
    for build_id in set(build_of.values()):
        lost[build_id] -= proceeds_minor(
            [
                (row.fate, row.sold_minor, row.fees_minor)
                for row in removed
                if row.job_id and build_of.get(row.job_id) == build_id
            ]
        )
    return Done(
        dict(clocked),
        dict(clocked_open),
        dict(lost),
        dict(cures),
        modules=_modules_done(jobs),
        past=tuple(past for past, _ in _past(jobs)),
        jobs=tuple(title for _, title in _past(jobs)),
        snags=tuple(snag.cost_minor + _cured_minor(snag) for job in jobs for snag in job.snags.all()),
    )


def _modules_done(jobs: Sequence[Job]) -> dict[int, dict[str, date]]:
    """Modules of open sheets of which nothing is left to do."""
    found: dict[int, dict[str, date]] = defaultdict(dict)
    for job in jobs:
        if job.state == "done" or job.kind != "fit":
            continue
        by_module: dict[str, list[Step]] = defaultdict(list)
        for step in job.steps.all():
            by_module[step.module].append(step)
        for module in job.modules:
            steps = by_module.get(module, [])
            if steps and all(step.state != "todo" for step in steps):
                days = [timezone.localdate(step.done_at) for step in steps if step.done_at is not None]
                found[job.build_id][module] = max(days, default=timezone.localdate())
    return dict(found)


def _past(jobs: Sequence[Job]) -> Iterator[tuple[Past, str]]:
    """Closed sheets that said their hours and were clocked; of the kind of their first module."""
    for job in jobs:
        said = {one.kept_when: one.value for one in getattr(job, "hours_said", ())}
        estimated, taken = said.get("begun", said.get("made")), hours(job)
        if job.state == "done" and estimated and taken > 0:
            yield Past(estimated, taken, job.modules[0] if job.modules else ""), job.title


def done_of(file: CarFile) -> Done:
    """What was done of a car's builds, for the planner."""
    return work_of(file).done


def _cured_minor(snag: Snag) -> int:
    """What the cure of a closed snag has cost; a part that replaces counts in the build."""
    cure = snag.chosen_cure
    return cure.money_minor or 0 if cure is not None and snag.closed_on is not None and cure.kind != "replace" else 0


def _open_cure(snag: Snag) -> list[Cure]:
    """A cure that was decided and is not done; the days of a part that replaces are those of its order."""
    cure = snag.chosen_cure
    if cure is None or snag.closed_on is not None:
        return []
    bought = cure.kind == "replace" and snag.choice_id is not None
    named = replace(cure, note=snag.what[:60])
    return [replace(named, money_minor=0, days=0, part=f"part:{snag.choice_id}") if bought else named]


def jobs_of(file: CarFile) -> Sequence[Job]:
    return work_of(file).jobs


def open_snags(file: CarFile) -> list[Snag]:
    """Snags that have no cure yet."""
    return [snag for job in jobs_of(file) for snag in job.snags.all() if snag.closed_on is None]


@dataclass(frozen=True)
class Due:
    """A follow-up with how far away it is: km and track days left, and whether it is due."""

    follow_up: FollowUp
    km_left: int | None
    due: bool
    track_days_left: int | None = None


def follow_ups(file: CarFile) -> list[Due]:
    """Follow-ups not done yet, the nearest first."""
    today = timezone.localdate()
    rows = []
    for one in work_of(file).follow_ups:
        if one.done_on is None:
            left = None if one.due_km is None else one.due_km - file.car.odometer_km
            by_km = left is not None and left <= 0
            by_date = one.due_on is not None and one.due_on <= today
            track = None if one.due_track_days is None else one.due_track_days - file.car.track_days
            rows.append(Due(one, left, by_km or by_date or (track is not None and track <= 0), track))
    return rows


def open_cell(file: CarFile) -> Cell:
    """Open things: unmeasured, snags, follow-ups due."""
    unmeasured = len({name for j in everything_in_hand(file) if j.state == "unmeasured" for name in j.missing})
    snags, waiting = len(open_snags(file)), follow_ups(file)
    due, asks = sum(one.due for one in waiting), len(open_questions(file))
    claims = sum(one.closed_on is None for rows in claims_of(file).values() for one in rows)
    parts = f"{unmeasured} unmeasured · {snags} snag{'' if snags == 1 else 's'} · {due} due" + (
        f" · {asks} to ask" if asks else ""
    )
    parts += f" · {claims} claim{'' if claims == 1 else 's'}" if claims else ""
    state = "hit" if due else ""
    return Cell(
        "Open", str(unmeasured + snags + due + asks + claims), "", state, parts, reverse("open", args=[file.car.pk])
    )


def open_questions(file: CarFile) -> list[tuple[Choice, Question]]:
    """Variants that nobody has asked for yet, of the build in hand."""
    build = build_in_hand(file)
    return [(choice, ask) for choice in (choices_of(build) if build else []) for ask in choice.open_questions]


def share_fitted(file: CarFile) -> float:
    """Share of the steps of all sheets that are done or skipped."""
    steps = [step for job in jobs_of(file) for step in job.steps.all()]
    return sum(step.state != "todo" for step in steps) / len(steps) if steps else 0.0


def estimate_of(file: CarFile, job: Job) -> Estimate:
    """Hours of a sheet: as it promised them, else as its modules come to."""
    said = {one.kept_when: one.value for one in getattr(job, "hours_said", ())}
    value = said.get("begun", said.get("made"))
    return Estimate(value) if value is not None else hours_of(file, job.build, tuple(job.modules))


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
class PullView:
    """One fastener that was tightened.

    Its number, what was read, how that stands, what to do where it was turned too far.
    """

    number: int
    read_nm: float
    state: str
    remedy: str
    source: str


@dataclass(frozen=True)
class TorqueView:
    """What a torque step shows."""

    nuts: list[Nut]
    path: str
    now: int | None
    place: int
    wanted_nm: float
    wanted_lbf_ft: float
    pulls: list[PullView]
    #: fasteners in the order in which they are tightened
    order: list[int]
    #: what the wrench is set to with its adapter
    setting_nm: float | None = None
    held: Judgement | None = None


def torque_view(step: Step) -> TorqueView | None:
    """The nut circle with the order of tightening, and which nut is next; None while figure or count is not known."""
    lugs = step.lugs
    if lugs is None or step.torque_nm is None:
        return None
    done = {pull.lug: pull for pull in step.pulls.all()}
    round_ = step.joint.get("crosswise", step.of_hub) and 3 <= lugs <= 10
    order = crosswise_order(lugs) if round_ else list(range(1, lugs + 1))
    now = next((lug for lug in order if lug not in done), None)
    spots = lug_places(lugs, 75, 48) if round_ else {}
    nuts = [
        Nut(order.index(lug) + 1, x, y, "done" if lug in done else "now" if lug == now else "")
        for lug, (x, y) in sorted(spots.items())
    ]
    path = "M" + " L".join(f"{spots[lug][0]:.1f} {spots[lug][1]:.1f}" for lug in order) if round_ else ""
    wanted, thread, grade = step.torque_nm, step.joint.get("thread", ""), step.joint.get("grade", "")
    pulls = sorted(
        (
            PullView(
                order.index(pull.lug) + 1,
                pull.read_nm,
                torque_reading(wanted, pull.read_nm),
                over_torqued(pull.read_nm, wanted, thread, grade),
                pull.get_source_display(),
            )
            for pull in done.values()
        ),
        key=lambda one: one.number,
    )
    lever = step.joint.get("wrench_mm"), step.joint.get("adapter_mm")
    setting = wrench_setting_nm(wanted, *lever) if None not in lever else None
    held = plausible(wanted, thread, grade, step.joint.get("angle_deg")) if not step.of_hub or thread else None
    return TorqueView(
        nuts=nuts,
        path=path,
        now=now,
        place=order.index(now) + 1 if now else len(order),
        wanted_nm=wanted,
        wanted_lbf_ft=pound_feet(wanted),
        pulls=pulls,
        order=order,
        setting_nm=setting,
        held=held,
    )


@dataclass(frozen=True)
class BookRow:
    """A threaded joint of the torque book: wanted, what was read of it, how it is held up."""

    step: Step
    read: list[Pull]
    low_nm: float | None
    high_nm: float | None
    state: str
    held: Judgement | None

    @property
    def missing(self) -> int:
        """Fasteners without a reading."""
        return max(0, (self.step.lugs or 0) - len(self.read))


def torque_book(steps: list[Step]) -> list[BookRow]:
    """Every threaded joint of some sheets in their order; reads the prefetched pulls."""
    rows = []
    for step in steps:
        if step.kind != "torque":
            continue
        read = list(step.pulls.all())
        states = [torque_reading(step.torque_nm or pull.wanted_nm, pull.read_nm) for pull in read]
        state = "unmeasured" if not read or len(read) < (step.lugs or len(read) + 1) else worst(states)  # type: ignore[arg-type]
        figures = [pull.read_nm for pull in read]
        joint = step.joint
        held = (
            plausible(step.torque_nm, joint.get("thread", ""), joint.get("grade", ""), joint.get("angle_deg"))
            if step.torque_nm
            else None
        )
        rows.append(BookRow(step, read, min(figures, default=None), max(figures, default=None), state, held))
    return rows


@dataclass(frozen=True)
class KitRow:
    """A tool or consumable with the sheets that want it, and whether it is there (None: nobody said)."""

    name: str
    kind: str
    jobs: list[str]
    have: bool | None

    @property
    def state(self) -> str:
        return "unmeasured" if self.have is None else "clear" if self.have else "hit"


def kit_of(file: CarFile) -> list[KitRow]:
    """One list of tools and consumables over all sheets that are not closed; what is missing first. One query."""
    have = dict(Tool.objects.filter(owner=file.user).values_list("name", "have"))
    found: dict[tuple[str, str], list[str]] = {}
    for job in jobs_of(file):
        if job.state == "done":
            continue
        for step in job.steps.all():
            if step.state == "todo":
                for kind, names in (("tool", step.tools), ("consumable", step.consumables)):
                    for name in names:
                        jobs = found.setdefault((kind, name), [])
                        if job.title not in jobs:
                            jobs.append(job.title)
    rows = [KitRow(name, kind, jobs, have.get(name)) for (kind, name), jobs in found.items()]
    return sorted(rows, key=lambda row: (row.have is True, row.have is None, row.kind != "tool", row.name))


@dataclass(frozen=True)
class Asked:
    """What changes when a build is fitted: its modules, and how many steps they come to, shared ones once."""

    modules: list[tuple[str, str]]
    steps: int
    shared: int


def asked_of(file: CarFile, build: Build) -> Asked:
    """What a sheet of a build would be made of."""
    plan = plan_of(file, build)
    modules = modules_of(plan, OF_FAMILY)
    counted = saved(plan, modules)
    return Asked([(name, _of_module(plan, name)) for name in modules], counted.left, counted.asked - counted.left)


def _of_module(plan: JobPlan, name: str) -> str:
    """Why a module is there: the parts and levers that call for it."""
    parts = [part.name for part in plan.parts if name in OF_FAMILY.get(part.family, ())]
    levers = [LEVERS[code].name.lower() for code in plan.levers if name in OF_LEVER.get(code, ()) and code in LEVERS]
    return ", ".join(dict.fromkeys([*parts, *levers]))


def outcomes_of(file: CarFile, snag: Snag) -> tuple[Outcome, ...]:
    """What each way out of a snag leaves of money and days; its own decision is not counted twice."""
    build = next((one for one in builds_of(file) if one.pk == snag.job.build_id), snag.job.build)
    others = list(cures_of(file, build))
    for own in _open_cure(snag):
        others.remove(own)
    _, plan = plan_with(file, build, others, but=snag.choice_id)
    return weigh(snag.ways, plan)
