"""What the proof page needs: everything measured twice, promises held, runs compared."""

from __future__ import annotations

from dataclasses import dataclass, replace
from datetime import date

from garage.car.models import Outfit
from garage.file import CarFile, latest_of
from garage.kept import once
from garage.mass.ledger import items_of
from garage.readings.models import Reading
from garage.readings.queries import reading_text
from planner.changes import hours_of
from planner.chosen import builds_of, candidate, choices_of
from planner.models import Build
from planner.queries import spent_on, sums
from proof.chassis import held_chassis
from proof.models import Run, Series
from proof.rows import Row
from rimcore.mass.ledger import totals
from rimcore.proof.comparison import Comparison, compare, kept_promise, sentence, step_of, strip_scale, summed
from rimcore.quantities.judgement import Judgement
from rimcore.tables.facts import CORNER_NAMES, CORNERS
from rimcore.well.judge import at_rest as rest_judged
from rimcore.well.judge.tolerance import SCHOOLS
from rimcore.well.read.stations import STATIONS
from rimcore.work.promised import changes
from shell.figures import amount, figure
from workshop.models import Job, Promise
from workshop.queries import work_of


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
    comparison: Comparison | None
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
    done = Job.objects.filter(car=file.car, kind="fit", state="done").order_by("-done_on", "-id").values_list("build_id", flat=True)
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
    before, after = _by_key(file, base), _by_key(file, now)
    rows = []
    for key, old in before.items():
        new = after.get(key)
        if new is not None:
            rows.append(_twice(file, old, new))
    return rows


def _by_key(file: CarFile, outfit: Outfit) -> dict[object, Reading]:
    return {reading.key: reading for reading in latest_of([r for r in file.readings if r.outfit_id == outfit.pk])}


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
    kept = kept_promises(build)
    if not kept:
        # A sheet from before promises were kept: reckoned from the readings of that time.
        return [
            *_trial_promises(file),
            *_gap_promises(file, build),
            *_mass_promise(file, sums(file, build).mass.total_kg),
            *_work_promises(file, build),
        ]
    later = [row for other in _since(file, build) for row in _held(file, kept_promises(other))]
    held = {row.name: row for row in reversed([*later, *_held(file, kept)])}
    return [*_trial_promises(file), *reversed(held.values()), *_held_sums(file, build, kept)]


def _held(file: CarFile, kept: list[Promise]) -> list[Row]:
    """Gaps and what is no single reading, of one sheet."""
    return [*_held_gaps(file, kept), *held_chassis(file, kept)]


def kept_promises(build: Build) -> list[Promise]:
    """What the sheet that fitted a build promised: when its first step was done, else when it was made; one query."""
    rows = list(Promise.objects.filter(job__build=build, job__state="done").select_related("reading", "job").order_by("-job_id", "id"))
    newest = [row for row in rows if row.job_id == rows[0].job_id and changes(row.code, row.job.modules)]
    begun = [row for row in newest if row.kept_when == "begun"]
    return begun or newest


def _held_gaps(file: CarFile, kept: list[Promise]) -> list[Row]:
    """Kept gaps that were read again afterwards."""
    now = file.current
    after = _by_key(file, now) if now is not None else {}
    rows = []
    for one in kept:
        new = after.get(one.reading.key) if one.reading is not None else None
        if new is not None and _read_since(one, new):
            said = one.judgement
            rows.append(replace(_gap_promise(file, said, new), said=said))
    return rows


def _read_since(one: Promise, new: Reading) -> bool:
    """Is a reading one of after the work: not the one that was promised from, nor of before it?"""
    return new.pk != one.reading_id and new.taken_on >= one.made_on


def not_read_yet(file: CarFile) -> list[Row]:
    """What the sheets that were closed promised and nobody has read since: neither held nor failed."""
    build = fitted_build(file)
    if build is None:
        return []
    now = file.current
    after = _by_key(file, now) if now is not None else {}
    rows = {}
    for one in [*kept_promises(build), *(row for other in _since(file, build) for row in kept_promises(other))]:
        new = after.get(one.reading.key) if one.reading is not None else None
        if one.reading is not None and (new is None or not _read_since(one, new)):
            said = one.judgement
            row = replace(_gap_promise(file, said, one.reading), measured="not read yet", error="", state="unmeasured", said=said)
            rows[row.name] = row
    return list(rows.values())


def _held_sums(file: CarFile, build: Build, kept: list[Promise]) -> list[Row]:
    said = {one.code: one.judgement for one in kept if one.reading_id is None}
    rows = (
        [replace(row, said=said["mass.total"]) for row in _mass_promise(file, said["mass.total"].value, kept[0].made_on)]
        if "mass.total" in said
        else []
    )
    if "work.money" in said:
        hours = said["work.hours"].value if "work.hours" in said else None
        rows += _work_rows(file, build, hours, round(100 * (said["work.money"].value or 0.0)), said)
    return rows


def _trial_promises(file: CarFile) -> list[Row]:
    """What the model expected of every trial fit, against what was seen."""
    rows = []
    for trial in file.trials:
        for one in trial.sightings.all():
            if one.predicted_mm is not None and one.gap_mm is not None:
                name = f"Trial fit, {STATIONS[one.reading.code].name.lower()}, {CORNER_NAMES[trial.corner]}"
                uncertainty = (one.predicted_uncertainty_mm or 0.0) + one.uncertainty_mm
                rows.append(_promise(file, name, one.predicted_mm, one.gap_mm, uncertainty, "length"))
    return rows


def _gap_promises(file: CarFile, build: Build) -> list[Row]:
    """Predicted from the readings taken before the job, held against those taken after it."""
    now = file.current
    if now is None:
        return []
    old = latest_of([r for r in file.readings if r.outfit_id != now.pk])
    after = _by_key(file, now)
    rows: list[Row] = []
    for end in ("F", "R"):
        wanted = candidate(file, build, end)
        if wanted is None:
            continue
        for reading in old:
            new = after.get(reading.key)
            if new is None or reading.corner[:1] != end:
                continue
            for core in file.core_readings([reading]):
                judged = rest_judged.judge_corner(core.corner, [core], wanted, SCHOOLS["daily"])
                rows += [
                    _gap_promise(file, j, new)
                    for j in judged
                    if j.value is not None and j.code.split(".")[1] == reading.code and j.before is not None
                ]
    return rows


def _gap_promise(file: CarFile, judged: Judgement, new: Reading) -> Row:
    promised = judged.reads if judged.reads is not None else judged.value or 0.0
    measured = new.value2 if judged.code.endswith(".upward") else new.value
    if measured is None:
        measured = new.value
    uncertainty = (judged.uncertainty or 0.0) + new.uncertainty
    name = f"{judged.name}, {judged.where}"
    kind = STATIONS[new.code].kind
    return _promise(file, name, promised, measured, uncertainty, kind, sign=kind == "angle")


def _promise(file: CarFile, name: str, promised: float, measured: float, uncertainty: float, kind: str, sign: bool = False) -> Row:
    shown, unit = figure(promised, kind, file.preferences, sign)
    found, _ = figure(measured, kind, file.preferences, sign)
    error, _ = figure(measured - promised, kind, file.preferences, sign=True)
    return Row(name, f"{shown}\u2009{unit}", f"{found}\u2009{unit}", f"{error}\u2009{unit}", kept_promise(promised, measured, uncertainty))


def _mass_promise(file: CarFile, predicted: float | None, made_on: date | None = None) -> list[Row]:
    """Whole-car scale before and after against the sum of the parts; what the mass ledger has off the car since the promise is not counted."""
    base, now = file.baseline, file.current
    if base is None or now is None or predicted is None or base.pk == now.pk:
        return []
    before, after = weighed(file, base), weighed(file, now)
    if before is None or after is None:
        return []
    gone = 0.0 if made_on is None else _gone_since_kg(file, now, made_on)
    return [_promise(file, "Mass, whole car", predicted, after[0] - before[0] + gone, before[1] + after[1], "mass", sign=True)]


def _gone_since_kg(file: CarFile, outfit: Outfit, made_on: date) -> float:
    """Net mass of the ledger's items that came out between a promise and the last time the car was weighed [kg]."""
    read = next((one for one in file.latest if one.outfit_id == outfit.pk and one.code in ("car_mass", "corner_mass")), None)
    if read is None:
        return 0.0
    found = [item.weighed for item in items_of(file) if item.out_on is not None and made_on < item.out_on <= read.taken_on]
    return totals(found).net_kg


def weighed(file: CarFile, outfit: Outfit) -> tuple[float, float] | None:
    """Mass of the car in an outfit with its ± [kg]: on one scale, else from all four corners."""
    read = _by_key(file, outfit).values()
    whole = next((r for r in read if r.code == "car_mass"), None)
    if whole is not None:
        return whole.value, whole.uncertainty
    corners = {r.corner: r for r in read if r.code == "corner_mass"}
    if len(corners) < len(CORNERS):
        return None
    return summed([(r.value, r.uncertainty) for r in corners.values()])


def _work_promises(file: CarFile, build: Build) -> list[Row]:
    """Hours against the estimate, money against the plan, as the build says them now."""
    found = sums(file, build)
    planned = found.money.total_minor - found.elsewhere_minor - work_of(file).done.lost.get(build.pk, 0)
    return _work_rows(file, build, hours_of(file, build).hours, planned, {})


def _work_rows(file: CarFile, build: Build, hours: float | None, planned_minor: int, said: dict[str, Judgement]) -> list[Row]:
    """Hours clocked and money spent against what was promised; a tenth over is called kept, what was not done is not held."""
    return [*_hours_row(file, build, hours, said.get("work.hours")), _money_row(file, build, planned_minor, said.get("work.money"))]


def _hours_row(file: CarFile, build: Build, hours: float | None, said: Judgement | None) -> list[Row]:
    clocked = work_of(file).done.clocked.get(build.pk, 0.0)
    if hours is None:
        return []
    if not clocked:
        return [Row("Hours", f"{hours:g} h", "not clocked", "", "unmeasured", said)]
    error = f"{clocked - hours:+.1f} h".replace("-", "−")
    return [Row("Hours", f"{hours:g} h", f"{clocked:.1f} h", error, kept_promise(hours, max(clocked, hours), hours * 0.1), said)]


def _money_row(file: CarFile, build: Build, planned_minor: int, said: Judgement | None) -> Row:
    """Money that was spent, not what the list comes to; with parts that are not here yet it is only so far."""
    currency, lost = file.car.currency, work_of(file).done.lost.get(build.pk, 0)
    spent = spent_on(file, build)
    waiting = any(choice.state in ("wanted", "ordered") for choice in choices_of(build))
    planned = amount(planned_minor, currency)
    if not spent and planned_minor:
        return Row("Money", planned, "nothing spent yet", "", "unmeasured", said)
    over = spent > planned_minor * 1.1
    state = "unmeasured" if waiting and not over else kept_promise(planned_minor, max(spent, planned_minor), planned_minor * 0.1)
    return Row(
        "Money", planned, amount(spent, currency) + (" so far" if waiting else ""), amount(lost, currency) + " on snags", state, said
    )


#: length of a strip in drawing units
STRIP_PX = 340.0


def strips(file: CarFile, series: list[Series]) -> list[Strip]:
    """Every series with its runs on the baseline and on what stands there now."""
    base, now = file.baseline, file.current
    return [_strip(one, base.pk if base else 0, now.pk if now else 0) for one in series if one.runs.all()]


def _strip(series: Series, base: int, now: int) -> Strip:
    runs = list(series.runs.all())
    used = [run for run in runs if not run.left_out_why]
    before = [run.value for run in used if run.outfit_id == base]
    after = [run.value for run in used if run.outfit_id == now and now != base]
    spread = [run.value for run in runs] + ([series.limit] if series.limit is not None else [])
    low, high, ticks = strip_scale(spread)

    def at(value: float) -> float:
        return round((value - low) / (high - low) * STRIP_PX, 1)

    dots = [Dot(at(run.value), run.value, run.outfit_id == now and now != base, bool(run.left_out_why), run.note) for run in runs]
    found = compare(before, after, resolution=step_of([*before, *after])) if before and after else None
    places = 0 if high - low >= 20 else 1 if high - low >= 2 else 2
    return Strip(
        series=series, dots=dots, ticks=[(at(tick), f"{tick:.{places}f}".replace("-", "−")) for tick in ticks],
        mean_before=at(sum(before) / len(before)) if before else None, mean_after=at(sum(after) / len(after)) if after else None,
        limit_x=at(series.limit) if series.limit is not None else None, comparison=found, sentence=_say(found, series, before), tone=_tone(found, series), runs=runs,
    )  # fmt: skip


def _say(found: Comparison | None, series: Series, before: list[float]) -> str:
    if found is None:
        return (
            f"{len(before)} run{'' if len(before) == 1 else 's'} before; none after yet"
            if before
            else "no baseline: nothing to hold it against"
        )
    said = sentence(found, series.unit)
    if series.limit is not None:
        over = found.mean_after > series.limit if series.better == "less" else found.mean_after < series.limit
        said += f"; limit {series.limit:g}, {'not kept' if over else 'kept'}"
    return said


def _tone(found: Comparison | None, series: Series) -> str:
    if found is None or not found.real or series.better == "neither":
        return "unmeasured"
    good = found.change < 0 if series.better == "less" else found.change > 0
    return "clear" if good else "tight"


def series_of(file: CarFile) -> list[Series]:
    """Series of a car with their runs; two queries."""
    return list(file.car.series.prefetch_related("runs__outfit"))


def share_proved(file: CarFile) -> float:
    """Half when runs were noted, all when something was measured twice."""
    if file.current is None or file.baseline is None or file.current.pk == file.baseline.pk:
        return 0.0
    return 1.0 if measured_twice(file) else 0.3
