"""What a sheet promises, kept as it was said.

Each kind (``rimcore.proof.promised``) is made here and held in ``hold``.
"""

from __future__ import annotations

from collections.abc import Callable, Iterator, Mapping
from dataclasses import asdict, dataclass, replace

import numpy as np

from bench.gearing.facts import inputs, lines
from bench.geometry.facts import linked
from bench.ride.facts import collars, stands
from bench.steering.facts import end_of, pair
from bench.weights.facts import pads_of
from garage.car.assemble import CORNERS_OF
from garage.chassis.load import chassis_of
from garage.file import CarFile, open_file
from garage.honest import owns_of
from garage.readings.models import Reading
from planner.changes import hours_of
from planner.chosen import build_in_hand, builds_of, candidate, end_setting
from planner.models import Build
from planner.queries import sums
from rimcore.driveline.gearing import promised_cruise
from rimcore.proof.learnt import honestly
from rimcore.proof.promised import KINDS, changes, kind_of, place_code
from rimcore.quantities.judgement import COMMON_PRACTICE, InputUsed, Judgement, State
from rimcore.ride.bench import EVEN_WEIGHTS, promised_over_bump
from rimcore.ride.standing import judge_dip
from rimcore.steering.bench import MOVES
from rimcore.steering.rack import steered, turning_circle_m
from rimcore.tables.facts import CORNER_NAMES, CORNERS
from rimcore.well.judge import at_rest
from rimcore.work.money import in_whole
from workshop.models import Job, Promise
from workshop.queries import work_of

#: rack places over which the turning circle is looked for
PLACES = 21


@dataclass(frozen=True)
class Made:
    """A figure that is promised, where it is, and the reading behind it where it is one that is read again afterwards."""

    judged: Judgement
    place: str = ""
    reading: Reading | None = None


def keep(job: Job, kept_when: str, file: CarFile | None = None) -> None:
    """Keep what the build promises now; what is kept already stays."""
    if Promise.objects.filter(job=job, kept_when=kept_when).exists():
        return
    found = file or open_file(job.car.owner, job.car_id)
    owns = owns_of(found)
    for made in promised(found, job):
        if made.judged.value is not None and changes(made.judged.code, job.modules):
            _row(job, kept_when, replace(made, judged=honestly(made.judged, owns))).save()


def _row(job: Job, kept_when: str, made: Made) -> Promise:
    judged, build = made.judged, job.build
    return Promise(
        job=job,
        kept_when=kept_when,
        build_name=build.name,
        revision=build.revision,
        code=judged.code,
        place=made.place,
        where=judged.where,
        state=judged.state,
        value=judged.value,
        unit=judged.unit,
        uncertainty=judged.uncertainty,
        margin=judged.margin,
        reading=made.reading,
        judged=asdict(judged),
    )


def promised(file: CarFile, job: Job) -> Iterator[Made]:
    """Every figure the build comes to, kind by kind as they are declared."""
    # The file's own build has its choices and levers at hand; the job's would ask for each.
    build = next((one for one in builds_of(file) if one.pk == job.build_id), job.build)
    held = build_in_hand(file)
    in_hand = held is not None and held.pk == build.pk
    for kind in KINDS:
        if kind.code in OF_ANY:
            yield from OF_ANY[kind.code](file, build)
        elif kind.code in OF_IN_HAND:
            if in_hand:
                yield from OF_IN_HAND[kind.code](file, build)
        else:
            yield from OF_SHEET[kind.code](file, job)


def _said(code: str, value: float, *, reason: str, basis: str, **more: object) -> Judgement:
    """A promise of a declared kind: its name, unit and ± are the declaration's."""
    kind = kind_of(code)
    whole = {"unit": kind.unit, "uncertainty": kind.doubt_at(value) or None} | more
    return Judgement(code, kind.name, "clear", reason, basis, value=value, **whole)  # type: ignore[arg-type]


def _gaps(file: CarFile, build: Build) -> Iterator[Made]:
    """What each reading promises at rest, the same rule at the same place afterwards.

    Then the smallest gaps in motion.
    """
    for end in ("F", "R"):
        wanted = candidate(file, build, end)
        for reading in file.latest if wanted is not None else ():
            if reading.corner[:1] != end or wanted is None:
                continue
            for core in file.core_readings([reading]):
                judged = at_rest.judge_corner(core.corner, [core], wanted, file.tolerances(build.tolerance))
                yield from (
                    Made(j, reading.corner, reading)
                    for j in judged
                    if j.value is not None and j.before is not None and j.code.split(".")[1] == reading.code
                )
    yield from (Made(j, place_code(j.where)) for j in sums(file, build).judgements if j.code.endswith(".moving"))


def _heights(file: CarFile, build: Build) -> Iterator[Made]:
    """Wheel centre to lip: as it was read, less what the end goes down from there."""
    for reading in file.latest:
        if reading.code != "ride_height" or reading.corner not in CORNERS:
            continue
        setting = end_setting(file, build, reading.corner[0])
        stood = file.outfit_axles.get((reading.outfit_id, reading.corner[0]))
        drop = setting.drop_at(reading.corner) - (stood.drop_at(reading.corner) if stood is not None else 0.0)
        value = reading.value - drop
        judged = _said(
            "ride.height",
            value,
            reason="as it was read, less what it is lowered",
            basis="geometry",
            where=CORNER_NAMES[reading.corner],
            formula=f"{reading.value:g} − ({drop:g}) = {value:g} mm".replace("-", "−"),
            inputs=(_used(reading),),
        )
        yield Made(judged, reading.corner, reading)


def _cambers(file: CarFile, build: Build) -> Iterator[Made]:
    """The build's camber, where it sets one and the old one was read."""
    for end in ("F", "R"):
        wanted = end_setting(file, build, end).camber_deg
        for reading in file.latest if wanted is not None else ():
            if reading.code == "camber" and reading.corner in CORNERS_OF[end] and wanted is not None:
                judged = _said(
                    "align.camber",
                    wanted,
                    reason="the build's",
                    basis="the build's lever",
                    where=CORNER_NAMES[reading.corner],
                    before=reading.value,
                    formula="as the build sets it",
                    inputs=(_used(reading),),
                )
                yield Made(judged, reading.corner, reading)


def _dips(file: CarFile, build: Build) -> Iterator[Made]:
    """Bump that is left where a dip was driven before."""
    for stand in stands(file):
        yield from (Made(judge_dip(stand, dip), f"{stand.corner}:{dip.name}") for dip in stand.dips)


def _over_bump(code: str) -> Callable[[CarFile, Build], Iterator[Made]]:
    """Camber or toe with the wheel raised, by the links of a corner."""

    def made(file: CarFile, build: Build) -> Iterator[Made]:
        for corner in CORNERS:
            found = linked(file, corner)
            if found is not None:
                said = promised_over_bump(found.curves(), found.at_mm, CORNER_NAMES[corner], found.inputs)
                yield from (Made(one, corner) for one in said if one.code == code)

    return made


def _circle(file: CarFile, build: Build) -> Iterator[Made]:
    """The turning circle with the build's rack; nothing until links and rack are read."""
    *moves, limit = (float(build.lever(code) or 0.0) for code in (*MOVES, "rack_limit_mm"))
    both, kept = pair(file, *moves), chassis_of(file).rack
    if both is None or kept is None or kept.travel_mm is None:
        return
    end = end_of(kept, limit)
    value = turning_circle_m(steered(both.axle, np.linspace(-end, end, PLACES).tolist()), both.axle.wheelbase_mm)
    if value is not None:
        yield Made(
            _said(
                "steer.circle",
                round(value, 3),
                reason="the outside wheel's lock, slip left out",
                basis="plane geometry",
                formula="2 L ÷ sin of the outside wheel's lock",
                inputs=both.inputs,
            )
        )


def _cross(file: CarFile, build: Build) -> Iterator[Made]:
    """The cross weight that the build's collars give, or an even one where it is evened on pads.

    Weighed before, else nothing.
    """
    found, turned = pads_of(file), collars(file)
    if found is None:
        return
    if build.lever(EVEN_WEIGHTS.code):
        value, reason, basis = 50.0, "evened by the collars", f"{COMMON_PRACTICE}: 50 %"
    elif turned.any and turned.found is not None:
        value, reason, basis = (
            turned.found.pads(found.pads).cross_pct,
            "as the collars of the build are wound",
            "statics of four springs",
        )
    else:
        return
    yield Made(
        _said(
            "weights.cross",
            value,
            reason=reason,
            basis=basis,
            before=found.pads.cross_pct,
            formula=f"from {found.pads.cross_pct:.1f} % to {value:.1f} %",
            inputs=tuple(_used(one) for one in found.read.values()),
        )
    )


def _cruise(file: CarFile, build: Build) -> Iterator[Made]:
    """The engine at a true 100 km/h in the last gear, where the build turns it otherwise."""
    found = lines(file)
    if found is not None:
        yield from (Made(one) for one in promised_cruise(*found, inputs=inputs(file, *found)))


def _mass(file: CarFile, job: Job) -> Iterator[Made]:
    mass = sums(file, job.build).mass
    if mass.total_kg is not None:
        ends = (("front", mass.front_kg), ("rear", mass.rear_kg))
        yield Made(
            _said(
                "mass.total",
                mass.total_kg,
                reason="sum of the parts against what they replace",
                basis=COMMON_PRACTICE,
                formula="new parts − old parts, over all corners",
                inputs=tuple(InputUsed(end, f"{kg or 0.0:+.1f} kg") for end, kg in ends),
            )
        )


def _hours(file: CarFile, job: Job) -> Iterator[Made]:
    hours = hours_of(file, job.build, tuple(job.modules))
    basis = "the user's own estimate" if hours.own else f"{COMMON_PRACTICE}: usual minutes of each module"
    state: State = "unmeasured" if hours.hours is None else "clear"
    kind = kind_of("work.hours")
    yield Made(Judgement(kind.code, kind.name, state, hours.said, basis, value=hours.hours, unit=kind.unit))


def _money(file: CarFile, job: Job) -> Iterator[Made]:
    found = sums(file, job.build)
    minor = (
        found.money.total_minor
        - found.elsewhere_minor
        - found.ledger_minor
        - work_of(file).done.lost.get(job.build.pk, 0)
    )
    kind = kind_of("work.money")
    yield Made(
        Judgement(
            kind.code,
            kind.name,
            "clear",
            "prices of the build's parts",
            "the offers of the shortlist",
            value=in_whole(minor),
            unit=file.car.currency,
            formula="sum of price × quantity",
        )
    )


OfBuild = Callable[[CarFile, Build], Iterator[Made]]
#: what makes the promises of a kind: of any build, of the build in hand (benches judge that one alone), of the sheet
#: itself
OF_ANY: Mapping[str, OfBuild] = {"gap.": _gaps, "ride.height": _heights, "align.camber": _cambers}
OF_IN_HAND: Mapping[str, OfBuild] = {
    "ride.dip": _dips,
    "geometry.camber_over_bump": _over_bump("geometry.camber_over_bump"),
    "geometry.toe_over_bump": _over_bump("geometry.toe_over_bump"),
    "steer.circle": _circle,
    "weights.cross": _cross,
    "gearing.cruise": _cruise,
}
OF_SHEET: Mapping[str, Callable[[CarFile, Job], Iterator[Made]]] = {
    "mass.total": _mass,
    "work.hours": _hours,
    "work.money": _money,
}


def _used(reading: Reading) -> InputUsed:
    return InputUsed(
        CORNER_NAMES[reading.corner],
        f"{reading.typed} ± {reading.uncertainty:g}",
        reading.who,
        f"{reading.taken_on:%-d %b %Y}",
    )
