"""What a car breathes with the build in hand, for the core, and what is judged of it."""

from __future__ import annotations

from dataclasses import dataclass

from bench.gearing.facts import kept_of
from garage.engine.load import running_of
from garage.engine.models import Engine
from garage.file import CarFile
from garage.kept import once
from planner.chosen import build_in_hand, pipe_runs_of
from planner.models import Build, PipeRun
from planner.wants import with_needs
from rimcore.breathing.air import moist_air
from rimcore.breathing.bench import (
    ROOM_MM,
    Breath,
    Flowed,
    exhaust_flow,
    intake_flow,
    judge_housing,
    judge_loss,
    judge_room,
)
from rimcore.breathing.bill import Piece
from rimcore.breathing.meter import SAME_MM, Housing, Stage, order_of_work
from rimcore.breathing.typed import parse_run
from rimcore.quantities.errors import CoreError
from rimcore.quantities.judgement import InputUsed, Judgement
from rimcore.wanted import Wanted
from rimcore.wants_of_runs import wanted_of as run_wants

#: the day's air where nobody says another: 20 °C and 101.325 kPa
DAY_C, DAY_KPA = 20.0, 101.325


#: engine's limit that is reckoned with where the driveline is not known [1/min]
USUAL_RPM = 6500.0


KINDS = ("intake", "exhaust")


@dataclass(frozen=True)
class Drawn:
    """A run of a kind: its pieces, whether they are the build's, and how many lie side by side."""

    pieces: tuple[Piece, ...]
    row: PipeRun
    of_build: bool

    @property
    def pipes(self) -> int:
        """Runs side by side."""
        return self.row.pipes


def engine_of(file: CarFile) -> Engine | None:
    """The engine as it is kept."""
    found: Engine | None = running_of(file).engine
    return found


def limit_rpm(file: CarFile) -> float:
    """The engine's limit [1/min]; the usual where nobody entered it."""
    said, _ = limit_entered(file)
    return USUAL_RPM if said is None else said


def limit_entered(file: CarFile) -> tuple[float | None, str]:
    """The engine's limit as it was entered with the engine, else with the gears, and where; None where it was not."""
    engine, gears = engine_of(file), kept_of(file)
    if engine is not None and engine.limit_rpm is not None:
        return float(engine.limit_rpm), "the engine's data"
    return (None, "") if gears is None else (float(gears.limit_rpm), "the car's driveline")


def breath_of(engine: Engine, rpm: float, temperature_c: float = DAY_C) -> Breath:
    """What an engine draws at a speed on a day."""
    return Breath(engine.displacement_l, rpm, engine.ve_pct, moist_air(temperature_c, DAY_KPA), engine.manifold_ratio)


def drawn_now(file: CarFile, kind: str) -> Drawn | None:
    """A run as it stands on the car."""
    return _drawn(pipe_runs_of(file).get((None, kind)), False)


def drawn_with(file: CarFile, kind: str) -> Drawn | None:
    """A run with the build in hand: its own, else what stands."""
    build = build_in_hand(file)
    own = pipe_runs_of(file).get((build.pk, kind)) if build is not None else None
    return _drawn(own, True) or drawn_now(file, kind)


def _drawn(row: PipeRun | None, of_build: bool) -> Drawn | None:
    if row is None:
        return None
    try:
        return Drawn(parse_run(row.lines), row, of_build)
    except CoreError:
        return None


def source_of(kind: str) -> str:
    """Under which a run's parts stand in a build."""
    return f"run {kind}"


def wanted_of(file: CarFile, build: Build, kind: str) -> list[Wanted]:
    """Parts of the build's own run, with what they can't be done without; empty where it has none."""
    own, stands = _drawn(pipe_runs_of(file).get((build.pk, kind)), True), drawn_now(file, kind)
    if own is None:
        return []
    parts = run_wants(kind, own.pieces, own.pipes, stands.pieces if stands is not None else None)
    return with_needs(file, build, source_of(kind), parts)


def flowed(
    engine: Engine, kind: str, pieces: tuple[Piece, ...], pipes: int, rpm: float, temperature_c: float = DAY_C
) -> Flowed:
    """A run with the engine's flow through it.

    Raises
    ------
    BadInput : the flow would reach the speed of sound
    """
    breath = breath_of(engine, rpm, temperature_c)
    if kind == "intake":
        return intake_flow(pieces, breath)
    return exhaust_flow(pieces, breath, engine.gas_in_c, engine.gas_out_c, pipes)


def begun(file: CarFile) -> bool:
    """Has anybody said something of the engine, its runs or the room beside the exhaust?"""
    return engine_of(file) is not None or bool(pipe_runs_of(file)) or any(one.code in ROOM_MM for one in file.latest)


@once
def judgements(file: CarFile) -> tuple[Judgement, ...]:
    """What the breathing bench judges of the build in hand, once a page."""
    return (*(_loss(file, kind) for kind in KINDS), *_meter(file), *_room(file))


def _loss(file: CarFile, kind: str) -> Judgement:
    engine, now, before = engine_of(file), drawn_with(file, kind), drawn_now(file, kind)
    rpm = limit_rpm(file)
    limit, limit_from = limit_entered(file)
    missing = [
        what
        for what, there in (("the engine", engine), (f"the {kind} as it runs", now), ("the engine's limit", limit))
        if there is None
    ]
    if engine is None or now is None or limit is None:
        return judge_loss(kind, None, rpm, None, missing)
    used = (
        InputUsed("engine", str(engine), "the car's data", f"{engine.noted_on:%-d %b %Y}"),
        InputUsed("limit", f"{rpm:.0f} rpm", limit_from, ""),
        InputUsed("air", f"{DAY_C:g} °C, {DAY_KPA:g} kPa", "a usual day", ""),
        InputUsed(
            kind,
            f"{len(now.pieces)} pieces",
            "the build" if now.of_build else "as it stands",
            f"{now.row.noted_on:%-d %b %Y}",
        ),
    )
    try:
        flow = flowed(engine, kind, now.pieces, now.pipes, rpm)
        then = flowed(engine, kind, before.pieces, before.pipes, rpm) if before is not None and now.of_build else None
    except CoreError as error:
        return judge_loss(kind, None, rpm, None, [error.message])
    return judge_loss(kind, flow, rpm, then, (), used)


def _meter(file: CarFile) -> tuple[Judgement, ...]:
    """The meter's housing, where the engine has a meter or the run one."""
    engine, now, build = engine_of(file), drawn_with(file, "intake"), build_in_hand(file)
    has_meter = now is not None and any(one.section.kind == "meter" for one in now.pieces)
    if engine is None or (engine.meter_mm is None and not has_meter) or now is None:
        return ()
    used = (
        [InputUsed("original housing", f"{engine.meter_mm:g} mm", "the car's data", f"{engine.noted_on:%-d %b %Y}")]
        if engine.meter_mm
        else []
    )
    if build is not None and build.tuning_on is not None:
        used.append(InputUsed("tuned on", f"{build.tuning_on:%-d %b %Y}", build.name, ""))
    return (judge_housing(engine.meter_mm, now.pieces, build.tuned_first if build is not None else False, tuple(used)),)


def stages(file: CarFile) -> tuple[Stage, Stage] | None:
    """The offered order of work, where the build has a larger housing than the engine is calibrated for."""
    engine, now = engine_of(file), drawn_with(file, "intake")
    if engine is None or engine.meter_mm is None or now is None:
        return None
    bores = [
        one.section.diameter_mm
        for one in now.pieces
        if one.section.kind == "pipe" and one.section.diameter_mm is not None
    ]
    meter = next((one.bore_mm for one in now.pieces if one.section.kind == "meter" and one.bore_mm is not None), None)
    if meter is None or meter - engine.meter_mm < SAME_MM:
        return None
    return order_of_work(Housing(engine.meter_mm, meter), max(bores, default=None))


def _room(file: CarFile) -> tuple[Judgement, ...]:
    read = {one.code: one for one in file.latest if one.code in ROOM_MM}
    if drawn_now(file, "exhaust") is None and drawn_with(file, "exhaust") is None and not read:
        return ()
    inputs = {
        code: InputUsed(
            code.removeprefix("exhaust_"), f"{one.typed} ± {one.uncertainty:g} mm", one.who, f"{one.taken_on:%-d %b %Y}"
        )
        for code, one in read.items()
    }
    return judge_room({code: (one.value, one.uncertainty) for code, one in read.items()}, inputs)
