"""What the pages need of builds; the sums are the core's."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field, replace
from datetime import date
from typing import Any

from django.db.models import Prefetch
from django.utils import timezone

from garage.assemble import corner_of, fitted_of
from garage.file import CarFile
from garage.inhand import EndSetting, InHand
from garage.parts import Tyre, Wheel
from planner.models import Build, Choice
from rimcore.benches import LEVERS
from rimcore.quantities.declared import PLACES
from rimcore.quantities.judgement import Judgement, State, worst
from rimcore.well import fitment, measured
from rimcore.well.bench import WELL
from rimcore.wheels.swap import Corner, Swap, swap
from rimcore.wheels.tyre import parse_tyre
from rimcore.wheels.wheel import same_rim
from rimcore.work.ledger import Line, MassChange, Money, mass_change, money
from rimcore.work.schedule import Part, Schedule, schedule
from shelf.assemble import camber_in, candidate_of, levered, outline_known


def builds_of(file: CarFile) -> list[Build]:
    """Builds of a car with their choices; three queries, once a page."""
    if "builds" not in file.extra:
        choices = Prefetch("choices", queryset=Choice.objects.select_related("part"))
        file.extra["builds"] = list(file.car.builds.prefetch_related(choices, "levers"))
    found: list[Build] = file.extra["builds"]
    return found


def build_in_hand(file: CarFile) -> Build | None:
    """The build that the tally board speaks of."""
    return next((build for build in builds_of(file) if build.in_hand), None)


def choices_of(build: Build) -> list[Choice]:
    """Parts that count: returned and sold ones are out."""
    return [choice for choice in build.choices.all() if choice.state not in ("returned", "sold")]


def chosen(build: Build, end: str) -> tuple[Wheel | None, Tyre | None]:
    """Wheel and tyre that a build puts on an end; the more exact position wins."""
    at_end = sorted((c for c in choices_of(build) if c.stands_at(end)), key=lambda c: c.position == "A")
    wheel = next((c.wheel for c in at_end if c.wheel and c.wheel.fault is None), None)
    tyre = next((c.tyre for c in at_end if c.tyre and c.tyre.fault is None), None)
    return wheel, tyre


def end_setting(file: CarFile, build: Build, end: str) -> EndSetting:
    """Spacer, height, camber and ring of a build at an end."""
    rings = (choice.ring_mm for choice in choices_of(build) if choice.stands_at(end))
    return EndSetting(ring_mm=next((ring for ring in rings if ring is not None), None), **levers_at(build, end))


def levers_at(build: Build, end: str) -> dict[str, Any]:
    """What the wheel-well bench's levers are at an end of a build, by code."""
    found: dict[str, Any] = {}
    for lever in WELL.levers:
        place = "" if "" in lever.places else end
        found[lever.code] = build.lever(lever.code, place) if place in lever.places else lever.default
    return found


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


def held_of(file: CarFile, build: Build) -> InHand:
    """A build as other rooms see it."""
    return InHand(build.name, build.tolerance, {end: end_setting(file, build, end) for end in ("F", "R")}, build.pk)


def provide_in_hand(file: CarFile) -> InHand | None:
    """For the garage: the build in hand."""
    build = build_in_hand(file)
    return held_of(file, build) if build else None


def provide_judged(file: CarFile) -> tuple[Judgement, ...] | None:
    """For the garage: the judgements of the build in hand."""
    build = build_in_hand(file)
    return sums(file, build).judgements if build else None


def candidate(file: CarFile, build: Build, end: str) -> measured.Candidate | None:
    """What a build puts on an end, for the core; what it does not choose stays as it is."""
    present, standing = file.on(file.current, end), file.standing(end)
    if present is None or standing is None:
        return None
    setting = end_setting(file, build, end)
    camber = camber_in(file, end, setting)
    wheel, tyre = chosen(build, end)
    if wheel is not None and tyre is not None and same_rim(wheel.diameter_in, tyre.rim_diameter_in):
        return candidate_of(file, end, wheel, tyre, setting, camber)
    fitted = fitted_of(present)
    if wheel is not None and same_rim(wheel.diameter_in, fitted.tyre.rim_diameter_in):
        stays = Tyre(family="tyre", size=present.tyre, rim_diameter_in=fitted.tyre.rim_diameter_in)
        return candidate_of(file, end, wheel, stays, setting, camber)
    if tyre is not None and same_rim(tyre.rim_diameter_in, fitted.wheel.diameter_in):
        section, profile = outline_known(file, end, tyre, tyre.size, fitted.wheel.width_in)
        fitted = replace(fitted, tyre=parse_tyre(tyre.size), measured_section_mm=section, profile_mm=profile)
    stands = replace(fitted, spacer_mm=setting.spacer_mm or fitted.spacer_mm, camber_deg=camber)
    return levered(replace(standing, fitted=stands, ride_drop_mm=setting.ride_drop_mm), setting)


@dataclass(frozen=True)
class Sums:
    """Everything a build comes to."""

    build: Build
    judgements: tuple[Judgement, ...]
    money: Money
    mass: MassChange
    equivalent_kg: float | None
    dates: Schedule
    swaps: dict[str, Swap]
    corner_kg: dict[str, float | None]
    longest_lead: int | None
    elsewhere_minor: int
    ends: dict[str, measured.Candidate]
    #: how each sum is known; filled in where they are shown
    figures: Mapping[str, Judgement] = field(default_factory=dict)

    @property
    def state(self) -> State:
        return worst(judgement.state for judgement in self.judgements)

    @property
    def tightest(self) -> Judgement | None:
        return fitment.Verdict(self.judgements).tightest

    @property
    def unmeasured(self) -> list[Judgement]:
        return [judgement for judgement in self.judgements if judgement.state == "unmeasured"]


def sums(file: CarFile, build: Build, lost_minor: int = 0, today: date | None = None) -> Sums:
    """Gaps, money, mass and dates of a build; computed once a page."""
    key = f"sums-{build.pk}"
    if key not in file.extra:
        file.extra[key] = _sums(file, build, lost_minor or lost_on_snags(file).get(build.pk, 0), today or timezone.localdate())
    found: Sums = file.extra[key]
    return found


def lost_on_snags(file: CarFile) -> dict[int, int]:
    """Money lost on snags by build; the workshop fills it in."""
    found: dict[int, int] = file.extra.get("lost", {})
    return found


def _sums(file: CarFile, build: Build, lost_minor: int, today: date) -> Sums:
    judgements: dict[str, tuple[Judgement, ...]] = {}
    ends: dict[str, measured.Candidate] = {}
    for end in ("F", "R"):
        axle, wanted = file.core_axle(end), candidate(file, build, end)
        if axle is not None and wanted is not None:
            ends[end] = wanted
            judgements[end] = fitment.judge(axle, wanted, file.tolerances(build.tolerance)).judgements
    swaps, corner_kg = _swaps(file, build)
    choices = choices_of(build)
    elsewhere = sum(spent_on(file, other) for other in builds_of(file) if other.pk != build.pk)
    parts = [
        Part(c.label, c.lead, c.ordered_on, c.arrived_on or (today if c.state in ("arrived", "trial_fitted", "fitted") else None))
        for c in choices
    ]
    dates = schedule(parts, today, _hours_left(file, build), file.car.hours_per_week, file.car.event_on)
    leads = [c.lead for c in choices if c.lead is not None]
    equivalent = [s.equivalent_mass_change_kg_per_corner for s in swaps.values()]
    known = [kg for kg in equivalent if kg is not None]
    return Sums(
        build, fitment.both_ends(judgements), money(_lines(build), file.car.budget_minor, lost_minor + elsewhere), _mass(build, corner_kg),
        2 * sum(known) if known and len(known) == len(equivalent) else None, dates, swaps, corner_kg, max(leads, default=None), elsewhere, ends,
    )  # fmt: skip


def _lines(build: Build) -> list[Line]:
    return [Line(c.price, c.quantity, c.state, c.sold_minor) for c in build.choices.all()]


def spent_on(file: CarFile, build: Build) -> int:
    """What was spent on a build with its snags; it is gone from the budget whichever build is in hand."""
    return money(_lines(build), None, lost_on_snags(file).get(build.pk, 0)).spent_minor


def _hours_left(file: CarFile, build: Build) -> float:
    """Estimate less what was clocked; the workshop fills in the clock."""
    clocked: dict[int, float] = file.extra.get("clocked", {})
    return max(0.0, build.hours_estimate - clocked.get(build.pk, 0.0))


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
            fitted.wheel, fitted.tyre, fitted.spacer_mm,
            wheel.mass_kg if wheel else old.wheel_kg, tyre.mass_kg if tyre else old.tyre_kg, fitted.measured_section_mm,
        )  # fmt: skip
        swaps[end] = swap(old, new)
        masses[end] = swaps[end].mass_change_kg_per_corner
    return swaps, masses


def _mass(build: Build, corner_kg: dict[str, float | None]) -> MassChange:
    front = [corner_kg.get("F")] * 2
    rear = [corner_kg.get("R")] * 2
    for choice in choices_of(build):
        if choice.kind not in ("wheel", "tyre") and choice.mass_change_kg is not None:
            each = choice.mass_change_kg * choice.quantity
            share = {"F": (1.0, 0.0), "R": (0.0, 1.0), "A": (0.5, 0.5)}[choice.position]
            front.append(each * share[0])
            rear.append(each * share[1])
    return mass_change(front, rear)


def gap_where(judgement: Judgement) -> str:
    """Where a gap is, in a few words."""
    name = f"{judgement.where}, {judgement.name[:1].lower()}{judgement.name[1:]}" if judgement.where else judgement.name
    return f"{name} · {judgement.reason.partition(';')[0]}" if judgement.pose is not None else name
