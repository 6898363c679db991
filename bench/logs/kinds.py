"""Kinds of log: what each can hold and needs, what is found in it, where it opens, how large it may be, what simulates
it.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass
from typing import Any

from bench.breathing.facts import engine_of
from bench.logs import found
from bench.logs.found import Array, Logged
from garage.file import CarFile
from garage.logs.models import Log
from gauges import streams

Found = Callable[[Mapping[str, Array], Mapping[str, Any]], Logged]

#: largest upload [bytes]: text, and a recording of ten minutes in two channels
TEXT_BYTES, SOUND_BYTES = 20 * 1024 * 1024, 120 * 1024 * 1024


@dataclass(frozen=True, kw_only=True)
class Simulated:
    """A file that a simulated logger writes.

    Its code, its name, before or after the change, and what writes it, with its source.
    """

    code: str
    name: str
    when: str
    write: Callable[[CarFile], tuple[bytes, str]]


@dataclass(frozen=True, kw_only=True)
class LogKind:
    """One kind of log, whole. A recording has no columns: it is heard, not found."""

    code: str
    #: address of the page on which a kept log is looked at
    home: str
    #: the quantities it can hold, and which of them it needs, in words
    quantities: tuple[str, ...] = ()
    needs: str = ""
    found: Found | None = None
    simulated: tuple[Simulated, ...] = ()
    most_bytes: int = TEXT_BYTES
    #: what is asked beside its columns: the day's air, or the road's
    asks: str = ""

    @property
    def name(self) -> str:
        """As it is called on pages."""
        return Log.KINDS[self.code]

    @property
    def heard(self) -> bool:
        """A recording, not a table?"""
        return self.found is None


def _bleed(code: str) -> Callable[[CarFile], tuple[bytes, str]]:
    return lambda file: (streams.bleed_csv(streams.RUNS[code], file.car.pk), streams.HOSES)


def _pulls(code: str) -> Callable[[CarFile], tuple[bytes, str]]:
    peak_kw = 92.0 if code == "after" else 88.0
    return lambda file: (streams.pulls_csv(peak_kw, 5900.0, file.car.pk + len(code)), streams.BRAKE)


def _coast(code: str) -> Callable[[CarFile], tuple[bytes, str]]:
    cda_m2 = 0.655 if code == "panelled" else 0.67
    return lambda file: (
        streams.coast_csv(cda_m2, file.car.mass_kg or 1250.0, file.car.pk + len(code)),
        streams.POSITION,
    )


def _cabin(code: str) -> Callable[[CarFile], tuple[bytes, str]]:
    return lambda file: (streams.recording(*_cruise(file), code == "droning", file.car.pk), streams.RECORDER)


def _cruise(file: CarFile) -> tuple[float, int]:
    engine = engine_of(file)
    return (engine.cruise_rpm or 2600.0, engine.cylinders) if engine is not None else (2600.0, 4)


def _laps(code: str) -> Callable[[CarFile], tuple[bytes, str]]:
    lap_s = 46.2 if code == "after" else 47.0
    return lambda file: (streams.laps_csv(lap_s, file.car.pk + len(code)), streams.POSITION)


LOG_KINDS = {
    one.code: one
    for one in (
        LogKind(
            code="pull",
            home="pulls",
            quantities=("rpm", "power", "torque", "time", "speed"),
            needs="engine speed with power or torque; or engine speed with time and speed",
            found=found.pulls,
            asks="air",
            simulated=(
                Simulated(code="before", name="three pulls, as it stands", when="before", write=_pulls("before")),
                Simulated(code="after", name="three pulls, after", when="after", write=_pulls("after")),
            ),
        ),
        LogKind(
            code="bleed",
            home="cooling",
            quantities=("time", "top_hose", "lower_hose", "coolant"),
            needs="time and both hoses",
            found=found.bled,
            simulated=(
                Simulated(code="bleeds", name="a run that bleeds", when="before", write=_bleed("bleeds")),
                Simulated(code="locked", name="an engine with an air lock", when="before", write=_bleed("locked")),
            ),
        ),
        LogKind(
            code="sound",
            home="sound",
            most_bytes=SOUND_BYTES,
            simulated=(
                Simulated(code="quiet", name="a cabin at cruise", when="before", write=_cabin("quiet")),
                Simulated(code="droning", name="the same with a drone", when="after", write=_cabin("droning")),
            ),
        ),
        LogKind(
            code="temperature",
            home="cooling",
            quantities=("time", *found.READ_UNITS),
            needs="time, and coolant, intake air, pressure or sound level",
            found=found.warm,
        ),
        LogKind(
            code="coast",
            home="coast",
            quantities=("time", "speed", "heading"),
            needs="time and speed, from a table or a GPX track; heading where it is known",
            found=found.coasted,
            asks="road",
            simulated=(
                Simulated(code="bare", name="three runs each way, as it stands", when="before", write=_coast("bare")),
                Simulated(code="panelled", name="the same with a flat panel", when="after", write=_coast("panelled")),
            ),
        ),
        LogKind(
            code="run",
            home="laps",
            quantities=("time", "latitude", "longitude", "speed"),
            needs="time with latitude and longitude, from a table or a GPX track; speed for stops",
            found=found.ran,
            simulated=(
                Simulated(code="before", name="seven laps, as it stands", when="before", write=_laps("before")),
                Simulated(code="after", name="seven laps, after", when="after", write=_laps("after")),
            ),
        ),
    )
}
