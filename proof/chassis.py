"""Promises that are no single reading: the known dip, the turning circle, the cross weight, camber and toe over bump, the engine at cruise."""

from __future__ import annotations

from collections.abc import Callable, Iterable

from bench.ride.facts import judgements as of_ride
from bench.weights.facts import pads_of
from garage.chassis.load import chassis_of
from garage.file import CarFile
from proof.models import Run
from proof.rows import Row
from rimcore.proof.comparison import kept_promise
from rimcore.proof.ready import BY_KEY
from rimcore.quantities.judgement import Judgement
from rimcore.ride.bench import over_bump
from rimcore.tables.facts import CORNER_NAMES
from workshop.models import Promise


def held_chassis(file: CarFile, kept: Iterable[Promise]) -> list[Row]:
    """Each against what was found since it was promised."""
    rows = []
    for one in kept:
        if one.reading_id is not None:
            continue
        found = HELD.get(one.code)
        measured = found(file, one) if found is not None else None
        if measured is not None:
            rows.append(_row(one.judgement, *measured))
    return rows


def _over_bump(file: CarFile, one: Promise) -> tuple[float, float] | None:
    """Camber or toe with the wheel raised, read since it was promised; carried to 25 mm along a straight line."""
    corner = next((code for code, name in CORNER_NAMES.items() if name == one.where), "")
    now = file.current.pk if file.current else None
    here = [r for r in file.latest if r.corner == corner and r.outfit_id == now and r.taken_on >= one.made_on]
    raised = next(
        (r for r in here if r.code == ("toe_bump" if one.code.startswith("geometry.toe") else "camber_bump") and r.travel_mm), None
    )
    if raised is None:
        return None
    if raised.code == "toe_bump":
        return over_bump((raised.value, raised.uncertainty), raised.travel_mm)
    rest = next((r for r in here if r.code == "camber"), None)
    return None if rest is None else over_bump((raised.value, raised.uncertainty), raised.travel_mm, (rest.value, rest.uncertainty))


def _row(said: Judgement, value: float, doubt: float) -> Row:
    promised, unit = said.value or 0.0, said.unit
    where = f", {said.where}" if said.where and said.where not in said.name else ""
    state = kept_promise(promised, value, (said.uncertainty or 0.0) + doubt)
    places = 2 if unit == "°" else 1
    error, first, then = (
        text.replace("-", "−") for text in (f"{value - promised:+.{places}f}", f"{promised:.{places}f}", f"{value:.{places}f}")
    )
    return Row(f"{said.name}{where}", f"{first}\u2009{unit}", f"{then}\u2009{unit}", f"{error}\u2009{unit}", state, said)


def _dip(file: CarFile, one: Promise) -> tuple[float, float] | None:
    """Bump that the same place leaves now, where it was driven since."""
    driven = [dip for dip in chassis_of(file).dips if one.judgement.name.startswith(dip.name) and dip.driven_on >= one.made_on]
    now = next((j for j in of_ride(file) if (j.code, j.name, j.where) == (one.code, one.judgement.name, one.judgement.where)), None)
    return (now.value, 3.0) if driven and now is not None and now.value is not None else None


def _cross(file: CarFile, one: Promise) -> tuple[float, float] | None:
    found = pads_of(file)
    return (found.pads.cross_pct, 0.2) if found is not None and found.newest.taken_on >= one.made_on else None


def _by_runs(key: str, doubt: float) -> Callable[[CarFile, Promise], tuple[float, float] | None]:
    """Mean of the runs of a ready series since it was promised, with the ± of a run."""

    def held(file: CarFile, one: Promise) -> tuple[float, float] | None:
        ready = BY_KEY[key]
        rows = Run.objects.filter(series__car=file.car, series__name=ready.name, ran_on__gte=one.made_on, left_out_why="")
        values = [ready.in_own_unit(run.value, run.series.unit) for run in rows.select_related("series")]
        return (sum(values) / len(values), doubt) if values else None

    return held


#: what holds a promise that is no single reading, by its code
HELD: dict[str, Callable[[CarFile, Promise], tuple[float, float] | None]] = {
    "ride.dip": _dip, "weights.cross": _cross, "steer.circle": _by_runs("circle", 0.1), "gearing.cruise": _by_runs("cruise", 20.0), "geometry.camber_over_bump": _over_bump, "geometry.toe_over_bump": _over_bump,
}  # fmt: skip
