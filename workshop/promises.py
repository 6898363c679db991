"""What a sheet promises: gaps, mass, hours and money, kept as they were said."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import asdict

from bench.gearing.facts import inputs, lines
from garage.file import CarFile, open_file
from garage.readings.models import Reading
from planner.changes import hours_of
from planner.chosen import build_in_hand, builds_of, candidate
from planner.models import Build
from planner.queries import sums
from rimcore.driveline.gearing import promised_cruise
from rimcore.quantities.judgement import COMMON_PRACTICE, InputUsed, Judgement, State
from rimcore.well.judge import at_rest as rest_judged
from rimcore.well.read import measured
from rimcore.work.money import in_whole
from rimcore.work.promised import changes
from workshop.chassis_promises import of_chassis
from workshop.models import Job, Promise
from workshop.queries import work_of


def keep(job: Job, kept_when: str, file: CarFile | None = None) -> None:
    """Keep what the build promises now; what is kept already stays."""
    if Promise.objects.filter(job=job, kept_when=kept_when).exists():
        return
    found = file or open_file(job.car.owner, job.car_id)
    build = job.build
    rows = [
        Promise(
            job=job, kept_when=kept_when, build_name=build.name, revision=build.revision, code=judged.code, where=judged.where, state=judged.state,
            value=judged.value, unit=judged.unit, uncertainty=judged.uncertainty, margin=judged.margin, reading=reading, judged=asdict(judged),
        )
        for judged, reading in promised(found, job)
        if judged.value is not None and changes(judged.code, job.modules)
    ]  # fmt: skip
    for row in rows:
        row.save()


def promised(file: CarFile, job: Job) -> Iterator[tuple[Judgement, Reading | None]]:
    """Every figure the build comes to, with the reading behind it where it is one that is read again afterwards."""
    # The file's own build has its choices and levers at hand; the job's would ask for each.
    build = next((one for one in builds_of(file) if one.pk == job.build_id), job.build)
    for end in ("F", "R"):
        wanted = candidate(file, build, end)
        if wanted is None:
            continue
        for reading in file.latest:
            if reading.corner[:1] == end:
                yield from ((judged, reading) for judged in _of_reading(file, build.tolerance, wanted, reading))
    yield from of_chassis(file, build)
    yield from ((judged, None) for judged in _cruise(file, build))
    found = sums(file, build)
    yield from ((judged, None) for judged in found.judgements if judged.code.endswith(".moving"))
    yield from ((judged, None) for judged in _sums_of(file, job))


def _cruise(file: CarFile, build: Build) -> Iterator[Judgement]:
    """The engine at a true 100 km/h in the last gear, where the build in hand turns it otherwise."""
    found, held = lines(file), build_in_hand(file)
    if found is not None and held is not None and held.pk == build.pk:
        yield from promised_cruise(*found, inputs=inputs(file, *found))


def _of_reading(file: CarFile, tolerance: str, wanted: measured.Candidate, reading: Reading) -> list[Judgement]:
    """What one reading promises at rest: the same rule at the same place afterwards."""
    found: list[Judgement] = []
    for core in file.core_readings([reading]):
        judged = rest_judged.judge_corner(core.corner, [core], wanted, file.tolerances(tolerance))
        found += [j for j in judged if j.value is not None and j.before is not None and j.code.split(".")[1] == reading.code]
    return found


def _sums_of(file: CarFile, job: Job) -> Iterator[Judgement]:
    build = job.build
    found = sums(file, build)
    if found.mass.total_kg is not None:
        yield Judgement(
            "mass.total", "Mass, whole car", "clear", "sum of the parts against what they replace", COMMON_PRACTICE, value=found.mass.total_kg, unit="kg",
            formula="new parts − old parts, over all corners", inputs=(InputUsed("front", f"{found.mass.front_kg or 0.0:+.1f} kg"), InputUsed("rear", f"{found.mass.rear_kg or 0.0:+.1f} kg")),
        )  # fmt: skip
    hours = hours_of(file, build, tuple(job.modules))
    basis = "the user's own estimate" if hours.own else f"{COMMON_PRACTICE}: usual minutes of each module"
    state: State = "unmeasured" if hours.hours is None else "clear"
    yield Judgement("work.hours", "Hours", state, hours.said, basis, value=hours.hours, unit="h")
    minor = found.money.total_minor - found.elsewhere_minor - work_of(file).done.lost.get(build.pk, 0)
    yield Judgement(
        "work.money", "Money", "clear", "prices of the build's parts", "the offers of the shortlist", value=in_whole(minor), unit=file.car.currency, formula="sum of price × quantity"
    )  # fmt: skip
