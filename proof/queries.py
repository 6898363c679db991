"""What the proof page needs: everything measured twice, promises held, runs compared."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date

from garage.file import CarFile
from garage.kept import once
from garage.readings.models import Reading
from garage.readings.queries import reading_text
from planner.chosen import builds_of
from planner.dates.models import Said
from planner.models import Build
from proof.models import Run, Series
from rimcore.planning.saying import held_date
from rimcore.proof.change import Asked, Change
from rimcore.proof.held import kept_promise
from rimcore.proof.ready import BY_KEY
from rimcore.proof.strip import scale_of, step_of
from rimcore.proof.trial import claimed_together
from rimcore.proof.words import Verdict, tone_of
from rimcore.quantities.judgement import Judgement
from rimcore.tables.facts import CORNER_NAMES
from rimcore.well.read.stations import STATIONS
from rimcore.work.money import in_hundredths
from shell.figures import amount, figure
from workshop.models import Job
from workshop.promises import hold
from workshop.promises.hold import kept_promises, readings_on
from workshop.queries import jobs_of, work_of


@dataclass(frozen=True)
class Row:
    """What was promised and what the rule said; with what was said then, where it was kept."""

    name: str
    promised: str
    measured: str
    error: str
    state: str
    said: Judgement | None = None


@dataclass(frozen=True)
class Twice:
    """A station measured before and after."""

    name: str
    where: str
    before: str
    after: str
    change: str


@dataclass(frozen=True)
class Dot:
    """A run on a strip, in drawing units."""

    x: float
    value: float
    after: bool
    left_out: bool
    note: str


@dataclass(frozen=True)
class Strip:
    """A series as a scatter strip."""

    series: Series
    dots: list[Dot]
    ticks: list[tuple[float, str]]
    mean_before: float | None
    mean_after: float | None
    limit_x: float | None
    comparison: Change | None
    sentence: str
    tone: str
    runs: list[Run]


@once
def fitted_build(file: CarFile) -> Build | None:
    """The build that stands on the car: whose wheels do, else that of the last sheet that was finished; once a page."""
    return _fitted(file)


def _fitted(file: CarFile) -> Build | None:
    current, builds = file.current, builds_of(file)
    found = next((build for build in builds if current is not None and build.outfit_id == current.pk), None)
    return found or next(iter(_finished(file)), None)


@once
def _finished(file: CarFile) -> list[Build]:
    """Builds of which a sheet was finished, the last one first; one query, once a page."""
    by_pk = {build.pk: build for build in builds_of(file)}
    done = (
        Job.objects.filter(car=file.car, kind="fit", state="done")
        .order_by("-done_on", "-id")
        .values_list("build_id", flat=True)
    )
    return [by_pk[pk] for pk in dict.fromkeys(done) if pk in by_pk]


def _since(file: CarFile, stands: Build) -> list[Build]:
    """Builds of which a sheet was finished after that of the one that stands: it changed what has no wheels."""
    found = _finished(file)
    return found[: found.index(stands)] if stands in found else []


def measured_twice(file: CarFile) -> list[Twice]:
    """Stations read on the baseline and on what stands there now."""
    base, now = file.baseline, file.current
    if base is None or now is None or base.pk == now.pk:
        return []
    before, after = readings_on(file, base), readings_on(file, now)
    rows = []
    for key, old in before.items():
        new = after.get(key)
        if new is not None:
            rows.append(_twice(file, old, new))
    return rows


def _twice(file: CarFile, old: Reading, new: Reading) -> Twice:
    kind = STATIONS[old.code]
    shown, unit = figure(new.value - old.value, kind.kind, file.preferences, sign=True)
    change = shown
    if old.value2 is not None and new.value2 is not None:
        change += f" / {figure(new.value2 - old.value2, kind.kind, file.preferences, sign=True)[0]}"
    return Twice(
        kind.name,
        CORNER_NAMES[old.corner],
        reading_text(old, file.preferences),
        reading_text(new, file.preferences),
        f"{change}\u2009{unit}",
    )


def promises(file: CarFile) -> list[Row]:
    """Promised, then measured: gaps, mass, hours, money of the build that stands on the car."""
    build = fitted_build(file)
    if build is None:
        return _trial_promises(file)
    return [*_trial_promises(file), *(_row(file, one) for one in held_of(file, build))]


def held_of(file: CarFile, build: Build) -> list[hold.Held]:
    """Every promise of a build that stands on the car with what holds it; a later sheet stands over an earlier one."""
    kept = kept_promises(build)
    if not kept:
        return list(hold.reckoned(file, build))
    runs = _runs_of(file)
    found = {one.key: one for one in hold.held(file, kept, runs)}
    for other in reversed(_since(file, build)):
        found |= {one.key: one for one in hold.held(file, kept_promises(other), runs)}
    return [*found.values(), *hold.sums_held(file, build, kept)]


def _runs_of(file: CarFile) -> hold.Runs:
    """Means of ready series, their runs asked for once."""
    # a run of the side before of planned runs is of the car as it was
    rows = list(Run.objects.filter(series__car=file.car, left_out_why="").exclude(side="A").select_related("series"))

    def mean(key: str, since: date) -> float | None:
        ready = BY_KEY[key]
        values = [
            ready.in_own_unit(run.value, run.series.unit)
            for run in rows
            if run.series.name == ready.name and run.ran_on >= since
        ]
        return sum(values) / len(values) if values else None

    return mean


def not_read_yet(file: CarFile) -> list[Row]:
    """What the sheets that were closed promised and nobody has read since: neither held nor failed."""
    build = fitted_build(file)
    if build is None:
        return []
    kept = [*kept_promises(build), *(row for other in _since(file, build) for row in kept_promises(other))]
    found = {one.key: one for one in hold.waiting(file, kept)}
    return [_row(file, one) for one in found.values()]


def _row(file: CarFile, one: hold.Held) -> Row:
    """As the page shows it, in the person's units."""
    said = one.said if one.kept else None
    if one.kind.held_by == "money":
        return _money_row(file, one, said)
    if one.kind.held_by == "clock":
        error = "" if one.value is None else f"{one.value - one.promised:+.1f} h".replace("-", "−")
        return Row(
            "Hours",
            f"{one.promised:g} h",
            one.words if one.value is None else f"{one.value:.1f} h",
            error,
            one.state,
            said,
        )
    where = f", {one.said.where}" if one.said.where and one.said.where not in one.said.name else ""
    name = f"{one.said.name}{where}"
    if one.reading is not None:
        kind = STATIONS[one.reading.code].kind
        return _shown(file, name, one, kind, said, sign=kind == "angle")
    if one.kind.held_by == "scale":
        return _shown(file, one.kind.name, one, "mass", said, sign=True)
    return _plain(name, one, said)


def _shown(file: CarFile, name: str, one: hold.Held, kind: str, said: Judgement | None, sign: bool = False) -> Row:
    promised, unit = figure(one.promised, kind, file.preferences, sign)
    if one.value is None:
        return Row(name, f"{promised}\u2009{unit}", "not read yet", "", one.state, said)
    found, _ = figure(one.value, kind, file.preferences, sign)
    error, _ = figure(one.value - one.promised, kind, file.preferences, sign=True)
    return Row(name, f"{promised}\u2009{unit}", f"{found}\u2009{unit}", f"{error}\u2009{unit}", one.state, said)


def _plain(name: str, one: hold.Held, said: Judgement | None) -> Row:
    """Of a unit that is everybody's, or that the page puts into the person's."""
    value, unit, places = one.value or 0.0, one.said.unit, 2 if one.said.unit == "°" else 1
    texts = (f"{one.promised:.{places}f}", f"{value:.{places}f}", f"{value - one.promised:+.{places}f}")
    first, then, error = (f"{text}\u2009{unit}".replace("-", "−") for text in texts)
    return Row(name, first, then, error, one.state, said)


def _money_row(file: CarFile, one: hold.Held, said: Judgement | None) -> Row:
    currency, build = file.car.currency, fitted_build(file)
    planned = amount(in_hundredths(one.promised), currency)
    if one.value is None:
        return Row("Money", planned, one.words, "", one.state, said)
    lost = work_of(file).done.lost.get(build.pk, 0) if build is not None else 0
    spent = amount(in_hundredths(one.value), currency) + (f" {one.words}" if one.words else "")
    return Row("Money", planned, spent, amount(lost, currency) + " on snags", one.state, said)


def _trial_promises(file: CarFile) -> list[Row]:
    """What the model expected of every trial fit, against what was seen."""
    rows = []
    for trial in file.trials:
        for one in trial.sightings.all():
            if one.predicted_mm is None or one.gap_mm is None:
                continue
            name = f"Trial fit, {STATIONS[one.reading.code].name.lower()}, {CORNER_NAMES[trial.corner]}"
            promised, found = (figure(value, "length", file.preferences)[0] for value in (one.predicted_mm, one.gap_mm))
            error, unit = figure(one.gap_mm - one.predicted_mm, "length", file.preferences, sign=True)
            state = kept_promise(
                one.predicted_mm, one.gap_mm, (one.predicted_uncertainty_mm or 0.0) + one.uncertainty_mm
            )
            rows.append(Row(name, f"{promised}\u2009{unit}", f"{found}\u2009{unit}", f"{error}\u2009{unit}", state))
    return rows


def strips(file: CarFile, series: list[Series]) -> list[Strip]:
    """Every series with its runs on the baseline and on what stands there now; changes held together as one family."""
    shown = [one for one in series if any(not run.side for run in one.runs.all())]
    sides = [sides_of(file, one) for one in shown]
    asked = [(_asked(one, *side), one.unit) for one, side in zip(shown, sides, strict=True) if all(side)]
    held = iter(claimed_together(asked))
    return [strip_of(one, *side, next(held) if all(side) else None) for one, side in zip(shown, sides, strict=True)]


#: a verdict with Holm's p and whether it stands with the others
Held = tuple[Verdict, float | None, bool | None]


def sides_of(file: CarFile, series: Series) -> tuple[list[Run], list[Run]]:
    """Runs of a series on the baseline and on what stands now, that count and are of no plan of their own."""
    base, now = file.baseline, file.current
    used = [run for run in series.runs.all() if not run.left_out_why and not run.side]
    if base is None or now is None:
        return [], []
    before = [run for run in used if run.outfit_id == base.pk]
    return before, [run for run in used if run.outfit_id == now.pk] if now.pk != base.pk else []


def _asked(series: Series, before: list[Run], after: list[Run]) -> Asked:
    figures = [run.value for run in before], [run.value for run in after]
    return Asked(
        tuple(figures[0]),
        tuple(figures[1]),
        better=series.better if series.better in ("less", "more") else "",
        resolution=step_of([*figures[0], *figures[1]]),
    )


def strip_of(series: Series, before: list[Run], after: list[Run], held: Held | None, all_runs: bool = True) -> Strip:
    """A series, or planned runs of it, as a strip with what the runs say."""
    runs = [run for run in series.runs.all() if not run.side] if all_runs else [*before, *after]
    limit = [series.limit] if series.limit is not None else []
    scale = scale_of([run.value for run in runs] + limit)
    last = {run.pk for run in after}
    verdict, _, stands = held or (None, None, None)
    return Strip(
        series=series,
        dots=[Dot(scale.at(run.value), run.value, run.pk in last, bool(run.left_out_why), run.note) for run in runs],
        ticks=list(scale.ticks),
        mean_before=scale.mean_at([run.value for run in before]),
        mean_after=scale.mean_at([run.value for run in after]),
        limit_x=scale.at(series.limit) if series.limit is not None else None,
        comparison=verdict.change if verdict else None,
        sentence=_say(verdict, stands, series, len(before)),
        tone=tone_of(verdict, series.better) if verdict else "unmeasured",
        runs=runs,
    )


def _say(verdict: Verdict | None, stands: bool | None, series: Series, before: int) -> str:
    if verdict is None:
        return (
            f"{before} run{'' if before == 1 else 's'} before; none after yet"
            if before
            else "no baseline: nothing to check it against"
        )
    said = verdict.sentence
    if verdict.shown and stands is False:
        said += "; with all changes claimed here held together it does not stand"
    if verdict.change.odd:
        said += f"; {len(verdict.change.odd)} odd run{'' if len(verdict.change.odd) == 1 else 's'}, counted"
    if series.limit is not None:
        after = verdict.change.mean_after
        over = after > series.limit if series.better == "less" else after < series.limit
        said += f"; limit {series.limit:g}, {'not kept' if over else 'kept'}"
    return said


def series_of(file: CarFile) -> list[Series]:
    """Series of a car with their runs and plans; three queries."""
    return list(file.car.series.prefetch_related("runs__outfit", "plans"))


def share_proved(file: CarFile) -> float:
    """Half when runs were noted, all when something was measured twice."""
    if file.current is None or file.baseline is None or file.current.pk == file.baseline.pk:
        return 0.0
    return 1.0 if measured_twice(file) else 0.3


@dataclass(frozen=True)
class DateSaid:
    """A date that a plan said, the day it was ready, and how that held."""

    said: Said
    came_on: date | None
    state: str
    late_days: int | None


def dates_said(file: CarFile) -> list[DateSaid]:
    """Dates that were said of all builds, the newest first; one query beside the sheets."""
    came = {job.build_id: job.done_on for job in reversed(jobs_of(file)) if job.kind == "fit" and job.state == "done"}
    found = []
    for row in Said.objects.filter(build__car=file.car).select_related("build").order_by("-id")[:40]:
        done = came.get(row.build_id)
        on = done if done is not None and done >= row.said_on else None
        state, late = held_date(row.ready_on, row.p80_on, on)
        found.append(DateSaid(row, on, state, late))
    return found
