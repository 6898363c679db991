"""Recordings of a car before and after, for the core, and what is judged of them."""

from __future__ import annotations

from bench.breathing.facts import engine_of
from bench.logs.found import heard_again, logs_of
from garage.file import CarFile
from garage.kept import once
from garage.logs.models import Log
from rimcore.breathing.heard import as_it_stood, judge_drone, judge_level
from rimcore.breathing.spectra import Heard
from rimcore.quantities.judgement import InputUsed, Judgement


def pair(file: CarFile) -> tuple[Log | None, Log | None]:
    """The newest recording before, and the newest after."""
    logs = logs_of(file, "sound")
    before, after = (next((one for one in logs if one.when == when), None) for when in ("before", "after"))
    return before, after


def heard(log: Log | None) -> Heard | None:
    """A kept recording, for the core."""
    return heard_again(log) if log is not None else None


def used(log: Log) -> InputUsed:
    """A recording as what a judgement rests on."""
    return InputUsed(
        log.name, f"{log.found.get('seconds', 0):.0f} s, {log.source}", log.who, f"{log.taken_on:%-d %b %Y}"
    )


@once
def judgements(file: CarFile) -> tuple[Judgement, ...]:
    """What the sound sheet judges: of the car after, else as it was; once a page."""
    return _judge(file)


def _judge(file: CarFile) -> tuple[Judgement, ...]:
    before, after = pair(file)
    last, engine = after or before, engine_of(file)
    inputs = tuple(used(one) for one in (before, after) if one is not None)
    found = (
        judge_level(heard(last), engine.sound_limit_db if engine is not None else None, inputs),
        judge_drone(heard(last), heard(before) if after is not None else None, inputs),
    )
    return found if after is not None else tuple(as_it_stood(one) for one in found)


def begun(file: CarFile) -> bool:
    """Is a recording kept?"""
    return bool(logs_of(file, "sound"))
