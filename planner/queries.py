"""What the pages need of builds; the sums are the core's."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field

from garage.car.assemble import corner_of
from garage.file import CarFile
from garage.honest import taught
from garage.kept import once
from garage.mass.ledger import items_of, ledger_mass
from garage.mass.models import MassItem
from garage.setting import InHand
from planner.changes import hours_of
from planner.chosen import build_in_hand, builds_of, candidate, choices_of, chosen, held_of
from planner.dates.facts import claims_of, with_cures
from planner.dates.models import PlanTask
from planner.dates.rows import rows_of
from planner.done import done_of
from planner.models import Build, Choice
from planner.parts import part_judgements
from rimcore.benches import LEVERS
from rimcore.families import FAMILIES
from rimcore.mass.ledger import STRIP_OUT
from rimcore.planning.cures import Cure, Plan
from rimcore.planning.followed import Followed
from rimcore.quantities.declared import PLACES
from rimcore.quantities.judgement import Judgement, State, severity, worst
from rimcore.well.judge import fitment
from rimcore.well.read import measured
from rimcore.wheels.swap import Corner, Swap, swap
from rimcore.work.hours import Estimate
from rimcore.work.ledger import Line, MassChange, Money, mass_change, money


def lever_rows(builds: Sequence[Build]) -> list[tuple[str, list[str]]]:
    """Levers that some build sets, with what each build sets them to, in the order of the benches."""
    rows = []
    for lever in LEVERS.values():
        for place in lever.places:
            values = [build.lever(lever.code, place) for build in builds]
            if any(value != lever.default for value in values):
                name = f"{PLACES[place]} {lever.name[:1].lower()}{lever.name[1:]}" if place else lever.name
                rows.append((name, [lever.said(value) for value in values]))
    return rows


def provide_in_hand(file: CarFile) -> InHand | None:
    """For the garage: the build in hand."""
    build = build_in_hand(file)
    return held_of(file, build) if build else None


def provide_judged(file: CarFile) -> tuple[Judgement, ...] | None:
    """For the garage: the judgements of the build in hand."""
    build = build_in_hand(file)
    return sums(file, build).judgements if build else None


@dataclass(frozen=True)
class Sums:
    """Everything a build comes to."""

    build: Build
    judgements: tuple[Judgement, ...]
    money: Money
    mass: MassChange
    equivalent_kg: float | None
    dates: Followed
    swaps: dict[str, Swap]
    corner_kg: dict[str, float | None]
    longest_lead: int | None
    elsewhere_minor: int
    #: what taking mass out has cost, whichever build is in hand
    ledger_minor: int
    ends: dict[str, measured.Candidate]
    hours: Estimate
    #: the end whose tyres turn the speedometer
    driven_end: str = ""
    #: how each sum is known; filled in where they are shown
    figures: Mapping[str, Judgement] = field(default_factory=dict)

    @property
    def state(self) -> State:
        return worst(judgement.state for judgement in self.judgements)

    @property
    def tightest(self) -> Judgement | None:
        return fitment.Verdict(self.judgements).tightest

    @property
    def driven(self) -> Swap | None:
        """What changes at the driven end."""
        return self.swaps.get(self.driven_end)

    @property
    def unmeasured(self) -> list[Judgement]:
        return [judgement for judgement in self.judgements if judgement.state == "unmeasured"]


@once
def sums(file: CarFile, build: Build) -> Sums:
    """Gaps, money, mass and dates of a build; computed once a page."""
    return _sums(file, build)


def cures_of(file: CarFile, build: Build) -> list[Cure]:
    """Cures that were decided and are not done, noted with their snag; the workshop fills them in."""
    return done_of(file).cures.get(build.pk, [])


def lost_on_snags(file: CarFile) -> Mapping[int, int]:
    """Money lost on snags by build; the workshop fills it in."""
    return done_of(file).lost


def plan_with(file: CarFile, build: Build, cures: Sequence[Cure], but: int | None = None) -> tuple[Money, Plan]:
    """Money and plan of a build with some cures under way; one choice may be left out of both."""
    lines = [
        *_lines(build, but),
        *(Line(cure.money_minor, 1, "wanted") for cure in cures),
        *(Line(item.cost_minor, 1, "wanted") for item in coming_out(file, build)),
        *given_away(file, build),
    ]
    gone = (
        lost_on_snags(file).get(build.pk, 0) + elsewhere_of(file, build) + ledger_spent(file) - returned_of(file, build)
    )
    spent = money(lines, file.car.budget_minor, gone)
    found = with_cures(file, build, cures, but)
    return spent, Plan(spent.left_minor, found.plan, found.names, found.unknown)


def given_away(file: CarFile, build: Build) -> list[Line]:
    """Work by others: what it is to cost, and what it has cost where it is done."""
    return [Line(row.price_minor, 1, "fitted" if row.done_on else "ordered") for row in costly_of(file, build)]


def costly_of(file: CarFile, build: Build) -> list[PlanTask]:
    """Work that has a price, or is given to others and ought to have one."""
    rows = rows_of(file).get(build.pk, {}).values()
    return [row for row in rows if not row.dropped and (row.price_minor is not None or row.away_days is not None)]


def returned_of(file: CarFile, build: Build) -> int:
    """Money that claims brought back [minor units]."""
    return sum(
        claim.money_back_minor
        for rows in claims_of(file).values()
        for claim in rows
        if claim.choice.build_id == build.pk
    )


def _sums(file: CarFile, build: Build) -> Sums:
    judgements: dict[str, tuple[Judgement, ...]] = {}
    ends: dict[str, measured.Candidate] = {}
    for end in ("F", "R"):
        axle, wanted = file.core_axle(end), candidate(file, build, end)
        if axle is not None and wanted is not None:
            ends[end] = wanted
            judgements[end] = fitment.judge(axle, wanted, file.tolerances(build.tolerance)).judgements
    swaps, corner_kg = _swaps(file, build)
    of_parts = part_judgements(file, build)
    spent, plan = plan_with(file, build, cures_of(file, build))
    leads = [c.lead for c in choices_of(build) if c.lead is not None]
    equivalent = [s.equivalent_mass_change_kg_per_corner for s in swaps.values()]
    known = [kg for kg in equivalent if kg is not None]
    return Sums(
        build=build,
        judgements=tuple(sorted(taught(file, (*fitment.both_ends(judgements), *of_parts)), key=severity)),
        money=spent,
        mass=_mass(file, build, corner_kg),
        equivalent_kg=2 * sum(known) if known and len(known) == len(equivalent) else None,
        dates=plan.dates(),
        swaps=swaps,
        corner_kg=corner_kg,
        longest_lead=max(leads, default=None),
        elsewhere_minor=elsewhere_of(file, build),
        ledger_minor=ledger_spent(file),
        ends=ends,
        hours=hours_of(file, build),
        driven_end=file.driven_end,
    )


def _lines(build: Build, but: int | None = None) -> list[Line]:
    return [Line(c.price, c.quantity, c.state, c.sold_minor, c.fees_minor) for c in build.choices.all() if c.pk != but]


def coming_out(file: CarFile, build: Build) -> list[MassItem]:
    """Items of the mass ledger that a strip session of the build takes out, each with what that costs."""
    if not build.lever(STRIP_OUT.code):
        return []
    return [item for item in items_of(file) if item.state == "planned" and item.cost_minor]


def ledger_spent(file: CarFile) -> int:
    """What taking items out has cost, less what they brought [minor units]: gone from the budget of every build."""
    return sum(item.cost_minor - item.sold_minor for item in items_of(file) if item.state == "out")


def elsewhere_of(file: CarFile, build: Build) -> int:
    """What the other builds of the car have spent [minor units]."""
    return sum(spent_on(file, other) for other in builds_of(file) if other.pk != build.pk)


def spent_on(file: CarFile, build: Build) -> int:
    """What was spent on a build with its snags and work by others, less what claims brought back.

    It is gone from the budget whichever build is in hand.
    """
    lost = lost_on_snags(file).get(build.pk, 0) - returned_of(file, build)
    return money([*_lines(build), *given_away(file, build)], None, lost).spent_minor


def _swaps(file: CarFile, build: Build) -> tuple[dict[str, Swap], dict[str, float | None]]:
    """Against the baseline: what changes at each end, and the mass of one corner."""
    swaps: dict[str, Swap] = {}
    masses: dict[str, float | None] = {}
    for end in ("F", "R"):
        base, wanted = file.on(file.baseline, end), candidate(file, build, end)
        if base is None or wanted is None:
            continue
        wheel, tyre = chosen(build, end)
        old = corner_of(base)
        fitted = wanted.fitted
        new = Corner(
            fitted.wheel,
            fitted.tyre,
            fitted.spacer_mm,
            wheel.mass_kg if wheel else old.wheel_kg,
            tyre.mass_kg if tyre else old.tyre_kg,
            fitted.measured_section_mm,
        )
        swaps[end] = swap(old, new)
        masses[end] = swaps[end].mass_change_kg_per_corner
    return swaps, masses


def _mass(file: CarFile, build: Build, corner_kg: dict[str, float | None]) -> MassChange:
    """Wheels and tyres, other parts, and what the mass ledger has off the car."""
    front = [corner_kg.get("F")] * 2
    rear = [corner_kg.get("R")] * 2
    off, front_kg, rear_kg = ledger_mass(file, bool(build.lever(STRIP_OUT.code)))
    if off.count:
        front, rear = [*front, front_kg], [*rear, rear_kg, *([None] * off.unweighed)]
    for choice in choices_of(build):
        if choice.kind not in ("wheel", "tyre") and choice.mass_change_kg is not None:
            each = choice.mass_change_kg * choice.quantity
            share = {"F": (1.0, 0.0), "R": (0.0, 1.0), "A": (0.5, 0.5)}[_end_of(choice)]
            front.append(each * share[0])
            rear.append(each * share[1])
    return mass_change(front, rear)


def _end_of(choice: Choice) -> str:
    """Where the mass of a part is: at the one end that its family can go on, whatever was said."""
    ends = FAMILIES[choice.kind].ends
    return ends[0] if len(ends) == 1 else choice.position


def gap_where(judgement: Judgement) -> str:
    """Where a gap is, in a few words."""
    name = f"{judgement.where}, {judgement.name[:1].lower()}{judgement.name[1:]}" if judgement.where else judgement.name
    return f"{name} · {judgement.reason.partition(';')[0]}" if judgement.pose is not None else name
