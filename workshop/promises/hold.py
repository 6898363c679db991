"""Promises held: each kind (``rimcore.proof.promised``) against what was read, driven, weighed, clocked and spent since
it was made.
"""

from __future__ import annotations

from collections.abc import Callable, Iterable, Iterator, Mapping
from dataclasses import dataclass
from datetime import date

from bench.ride.facts import stands
from bench.weights.facts import pads_of
from garage.car.models import Outfit
from garage.chassis.load import chassis_of
from garage.file import CarFile, latest_of
from garage.mass.ledger import items_of
from garage.readings.models import Reading
from planner.changes import hours_of
from planner.chosen import candidate, choices_of
from planner.models import Build
from planner.queries import spent_on, sums
from rimcore.mass.ledger import totals
from rimcore.proof.held import kept_promise, summed
from rimcore.proof.promised import PromiseKind, changes, corner_of, kind_of
from rimcore.quantities.judgement import Judgement, State
from rimcore.ride.bench import over_bump
from rimcore.ride.standing import judge_dip
from rimcore.tables.facts import CORNERS
from rimcore.well.judge import at_rest
from rimcore.well.judge.tolerance import SCHOOLS
from rimcore.work.money import in_whole
from workshop.models import Promise
from workshop.queries import work_of

#: a figure that holds a promise, with its ±; None while there is none
Found = tuple[float, float] | None
#: mean of the runs of a ready series, by its key, since a day; None without runs
Runs = Callable[[str, date], float | None]


@dataclass(frozen=True)
class Held:
    """A promise, what stands against it now, and how that turned out; ``value`` is None while nothing does."""

    kind: PromiseKind
    place: str
    said: Judgement
    promised: float
    value: float | None
    state: State
    #: the reading that holds it, or that it was made of
    reading: Reading | None = None
    #: what is added to the figure, or stands for it, in words
    words: str = ""
    #: was it kept with the sheet, or is it reckoned now from what was read then
    kept: bool = True

    @property
    def key(self) -> tuple[object, ...]:
        """What a later promise of the same stands over."""
        return self.said.code, self.place, self.reading.key if self.reading is not None else None


def kept_promises(build: Build) -> list[Promise]:
    """What the sheet that fitted a build promised: when its first step was done, else when it was made; one query."""
    rows = list(
        Promise.objects.filter(job__build=build, job__state="done")
        .select_related("reading", "job")
        .order_by("-job_id", "id")
    )
    newest = [row for row in rows if row.job_id == rows[0].job_id and changes(row.code, row.job.modules)]
    begun = [row for row in newest if row.kept_when == "begun"]
    return begun or newest


def readings_on(file: CarFile, outfit: Outfit | None) -> dict[object, Reading]:
    """The newest reading of every station in an outfit."""
    if outfit is None:
        return {}
    return {reading.key: reading for reading in latest_of([r for r in file.readings if r.outfit_id == outfit.pk])}


def held(file: CarFile, kept: Iterable[Promise], runs: Runs) -> list[Held]:
    """What holds the promises of one sheet: those of its readings first, then what is no single reading."""
    rows, now, others = list(kept), readings_on(file, file.current), []
    found = []
    for one in rows:
        if one.reading is None:
            others.append(one)
        elif (new := now.get(one.reading.key)) is not None and _read_since(one, new):
            found.append(_by_reading(one.judgement, one.place, new))
    for one in others:
        kind = kind_of(one.code)
        against = HELD_BY[kind.held_by](file, one, runs)
        if against is not None:
            found.append(_against(kind, one, *against))
    return found


def waiting(file: CarFile, kept: Iterable[Promise]) -> list[Held]:
    """Promises of a sheet that will be held by a reading nobody has taken since: neither held nor failed."""
    now, found = readings_on(file, file.current), []
    for one in kept:
        new = now.get(one.reading.key) if one.reading is not None else None
        if one.reading is not None and (new is None or not _read_since(one, new)):
            said = one.judgement
            found.append(Held(kind_of(one.code), one.place, said, _reads(said), None, "unmeasured", one.reading))
    return found


def sums_held(file: CarFile, build: Build, kept: list[Promise]) -> list[Held]:
    """Mass, hours and money of a sheet against scale, clock and what was spent."""
    said = {one.code: one.judgement for one in kept if one.reading_id is None}
    found = []
    if "mass.total" in said:
        found += _mass(file, said["mass.total"], kept[0].made_on)
    if "work.money" in said:
        hours = said.get("work.hours")
        found += _hours(file, build, hours) if hours is not None else []
        found.append(_money(file, build, said["work.money"]))
    return found


def reckoned(file: CarFile, build: Build) -> list[Held]:
    """Of a sheet from before promises were kept.

    Predicted from the readings taken before it, held against those after.
    """
    now = file.current
    if now is None:
        return []
    return [*_gaps_reckoned(file, build, now), *_sums_reckoned(file, build)]


def _gaps_reckoned(file: CarFile, build: Build, now: Outfit) -> Iterator[Held]:
    old = latest_of([r for r in file.readings if r.outfit_id != now.pk])
    after = readings_on(file, now)
    for end in ("F", "R"):
        wanted = candidate(file, build, end)
        for reading in old if wanted is not None else ():
            new = after.get(reading.key)
            if new is None or reading.corner[:1] != end or wanted is None:
                continue
            for core in file.core_readings([reading]):
                for judged in at_rest.judge_corner(core.corner, [core], wanted, SCHOOLS["daily"]):
                    if (
                        judged.value is not None
                        and judged.before is not None
                        and judged.code.split(".")[1] == reading.code
                    ):
                        yield _by_reading(judged, reading.corner, new, kept=False)


def _sums_reckoned(file: CarFile, build: Build) -> Iterator[Held]:
    found, mass, hours, money = sums(file, build), kind_of("mass.total"), kind_of("work.hours"), kind_of("work.money")
    planned = (
        found.money.total_minor - found.elsewhere_minor - found.ledger_minor - work_of(file).done.lost.get(build.pk, 0)
    )

    def said(kind: PromiseKind, value: float | None) -> Judgement:
        return Judgement(
            kind.code, kind.name, "clear", "as the build says it now", "the build", value=value, unit=kind.unit
        )

    yield from _mass(file, said(mass, found.mass.total_kg), None, kept=False)
    yield from _hours(file, build, said(hours, hours_of(file, build).hours), kept=False)
    yield _money(file, build, said(money, in_whole(planned)), kept=False)


def _read_since(one: Promise, new: Reading) -> bool:
    """Is a reading one of after the work: not the one that was promised from, nor of before it?"""
    return new.pk != one.reading_id and new.taken_on >= one.made_on


def _reads(said: Judgement) -> float:
    """What the same rule would read at the same place."""
    return said.reads if said.reads is not None else said.value or 0.0


def _by_reading(said: Judgement, place: str, new: Reading, kept: bool = True) -> Held:
    """Held by the same station, read again."""
    promised = _reads(said)
    value = new.value2 if said.code.endswith(".upward") else new.value
    if value is None:
        value = new.value
    state = kept_promise(promised, value, (said.uncertainty or 0.0) + new.uncertainty)
    return Held(kind_of(said.code), place, said, promised, value, state, new, kept=kept)


def _against(kind: PromiseKind, one: Promise, value: float, doubt: float) -> Held:
    said = one.judgement
    promised = said.value or 0.0
    return Held(
        kind, one.place, said, promised, value, kept_promise(promised, value, (said.uncertainty or 0.0) + doubt)
    )


def _raised(file: CarFile, one: Promise, runs: Runs) -> Found:
    """Camber or toe with the wheel raised, read since it was promised; carried to 25 mm along a straight line."""
    corner, now = corner_of(one.place), file.current.pk if file.current else None
    here = [r for r in file.latest if r.corner == corner and r.outfit_id == now and r.taken_on >= one.made_on]
    wanted = "toe_bump" if one.code == "geometry.toe_over_bump" else "camber_bump"
    raised = next((r for r in here if r.code == wanted and r.travel_mm), None)
    if raised is None:
        return None
    if raised.code == "toe_bump":
        return over_bump((raised.value, raised.uncertainty), raised.travel_mm)
    rest = next((r for r in here if r.code == "camber"), None)
    return (
        None
        if rest is None
        else over_bump((raised.value, raised.uncertainty), raised.travel_mm, (rest.value, rest.uncertainty))
    )


def _driven(file: CarFile, one: Promise, runs: Runs) -> Found:
    """Bump that the same spot leaves now, where it was driven since."""
    corner, _, spot = one.place.partition(":")
    if not any(
        dip.corner == corner and dip.name == spot and dip.driven_on >= one.made_on for dip in chassis_of(file).dips
    ):
        return None
    left = next(
        (judge_dip(s, dip).value for s in stands(file) if s.corner == corner for dip in s.dips if dip.name == spot),
        None,
    )
    return None if left is None else (left, _read_doubt(one.code, left))


def _on_pads(file: CarFile, one: Promise, runs: Runs) -> Found:
    found = pads_of(file)
    if found is None or found.newest.taken_on < one.made_on:
        return None
    return found.pads.cross_pct, _read_doubt(one.code, found.pads.cross_pct)


def _by_runs(file: CarFile, one: Promise, runs: Runs) -> Found:
    """Mean of the runs of the kind's ready series since it was promised."""
    mean = runs(kind_of(one.code).series, one.made_on)
    return None if mean is None else (mean, _read_doubt(one.code, mean))


def _read_doubt(code: str, value: float) -> float:
    read = kind_of(code).read
    return 0.0 if read is None else read.at(value)


def _nothing(file: CarFile, one: Promise, runs: Runs) -> Found:
    """What is held by its own reading alone, or with the sums of its sheet."""
    return None


#: what holds a promise that is no single reading, by what its kind says
HELD_BY: Mapping[str, Callable[[CarFile, Promise, Runs], Found]] = {
    "raised": _raised,
    "drive": _driven,
    "pads": _on_pads,
    "runs": _by_runs,
    "reading": _nothing,
    "scale": _nothing,
    "clock": _nothing,
    "money": _nothing,
}


def _mass(file: CarFile, said: Judgement, made_on: date | None, kept: bool = True) -> list[Held]:
    """Whole-car scale before and after against the sum of the parts.

    What the mass ledger has off the car since the promise is not counted.
    """
    base, now = file.baseline, file.current
    if base is None or now is None or said.value is None or base.pk == now.pk:
        return []
    before, after = weighed(file, base), weighed(file, now)
    if before is None or after is None:
        return []
    gone = 0.0 if made_on is None else _gone_since_kg(file, now, made_on)
    value = after[0] - before[0] + gone
    state = kept_promise(said.value, value, before[1] + after[1])
    return [Held(kind_of(said.code), "", said, said.value, value, state, kept=kept)]


def _gone_since_kg(file: CarFile, outfit: Outfit, made_on: date) -> float:
    """Net mass of the ledger's items that came out between a promise and the last time the car was weighed [kg]."""
    read = next(
        (one for one in file.latest if one.outfit_id == outfit.pk and one.code in ("car_mass", "corner_mass")), None
    )
    if read is None:
        return 0.0
    found = [
        item.weighed for item in items_of(file) if item.out_on is not None and made_on < item.out_on <= read.taken_on
    ]
    return totals(found).net_kg


def weighed(file: CarFile, outfit: Outfit) -> tuple[float, float] | None:
    """Mass of the car in an outfit with its ± [kg]: on one scale, else from all four corners."""
    read = readings_on(file, outfit).values()
    whole = next((r for r in read if r.code == "car_mass"), None)
    if whole is not None:
        return whole.value, whole.uncertainty
    corners = {r.corner: r for r in read if r.code == "corner_mass"}
    if len(corners) < len(CORNERS):
        return None
    return summed([(r.value, r.uncertainty) for r in corners.values()])


def _hours(file: CarFile, build: Build, said: Judgement, kept: bool = True) -> list[Held]:
    """Hours clocked against the promise; fewer is kept, and what was not clocked is not held."""
    clocked, hours, kind = work_of(file).done.clocked.get(build.pk, 0.0), said.value, kind_of(said.code)
    if hours is None:
        return []
    if not clocked:
        return [Held(kind, "", said, hours, None, "unmeasured", words="not clocked", kept=kept)]
    state = kept_promise(hours, max(clocked, hours), kind.doubt_at(hours))
    return [Held(kind, "", said, hours, clocked, state, kept=kept)]


def _money(file: CarFile, build: Build, said: Judgement, kept: bool = True) -> Held:
    """Money that was spent, not what the list comes to; with parts that are not here yet it is only so far."""
    kind, planned, spent = kind_of(said.code), said.value or 0.0, in_whole(spent_on(file, build))
    if not spent and planned:
        return Held(kind, "", said, planned, None, "unmeasured", words="nothing spent yet", kept=kept)
    still = any(choice.state in ("wanted", "ordered") for choice in choices_of(build))
    over = spent > planned + kind.doubt_at(planned)
    state: State = (
        "unmeasured" if still and not over else kept_promise(planned, max(spent, planned), kind.doubt_at(planned))
    )
    return Held(kind, "", said, planned, spent, state, words="so far" if still else "", kept=kept)
