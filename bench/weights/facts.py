"""Four pads as they were read last, and what is judged of them."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any

import numpy as np

from garage.chassis.load import chassis_of
from garage.chassis.models import Springs
from garage.file import CarFile
from garage.readings.models import Reading
from rimcore.quantities.judgement import InputUsed, Judgement
from rimcore.ride.bench import judge_cross
from rimcore.ride.springs import wheel_rate_n_per_mm
from rimcore.ride.weights import Pads, Stance
from rimcore.tables.facts import CORNER_NAMES, CORNERS, ENDS


@dataclass(frozen=True)
class Weighing:
    """Four corners that were weighed together."""

    pads: Pads
    read: Mapping[str, Reading]

    @property
    def newest(self) -> Reading:
        """The last of its readings."""
        return max(self.read.values(), key=lambda one: one.pk)

    @property
    def four_kg(self) -> tuple[float, float, float, float]:
        """Front left, front right, rear left, rear right."""
        fl, fr, rl, rr = self.loads_kg
        return fl, fr, rl, rr

    @property
    def loads_kg(self) -> list[float]:
        """In the order of the corners."""
        return [self.read[corner].value for corner in CORNERS]


def weighings(file: CarFile) -> list[Weighing]:
    """Every time that all four corners were weighed on one day, in one condition, on one set of wheels.

    The newest first.
    """
    together: dict[Any, dict[str, Reading]] = {}
    for reading in file.readings:
        if reading.code == "corner_mass" and not reading.struck_why:
            together.setdefault((reading.outfit_id, reading.condition_id, reading.taken_on), {}).setdefault(
                reading.corner, reading
            )
    found = [
        Weighing(Pads(*(read[corner].value for corner in CORNERS)), read)
        for read in together.values()
        if set(read) == set(CORNERS)
    ]
    return sorted(found, key=lambda one: (one.newest.taken_on, one.newest.pk), reverse=True)


def pads_of(file: CarFile) -> Weighing | None:
    """The last weighing on what stands on the car now; corners of different days are no weighing."""
    now = file.current.pk if file.current else None
    return next((one for one in weighings(file) if one.newest.outfit_id == now), None)


def inputs_of(read: Mapping[str, Reading]) -> tuple[InputUsed, ...]:
    """Four readings, for a judgement."""
    return tuple(
        InputUsed(CORNER_NAMES[corner], f"{one.value:g} ± {one.uncertainty:g} kg", one.who, f"{one.taken_on:%-d %b %Y}")
        for corner, one in read.items()
    )


def judgements(file: CarFile) -> tuple[Judgement, ...]:
    """The cross weight as it was weighed last."""
    found = pads_of(file)
    if found is None:
        return (judge_cross(None),)
    doubt = max(one.uncertainty for one in found.read.values())
    return (judge_cross(found.pads, doubt, inputs=inputs_of(found.read)),)


def stance_of(file: CarFile) -> Stance | str:
    """What carries the car, for the core; in words what is missing where it is not known."""
    kept: dict[str, Springs] = chassis_of(file).springs
    car = file.car
    missing = [f"{ENDS[end]} springs" for end in ENDS if end not in kept]
    missing += [f"{ENDS[end]} perch, a turn" for end in ENDS if end in kept and kept[end].turn_mm is None]
    missing += [
        name
        for name, value in (
            ("wheelbase", car.wheelbase_mm),
            ("front track", car.track_front_mm),
            ("rear track", car.track_rear_mm),
        )
        if value is None
    ]
    if missing or car.track_front_mm is None or car.track_rear_mm is None or car.wheelbase_mm is None:
        return ", ".join(missing)
    front, rear = kept["F"], kept["R"]
    each = [front, front, rear, rear]
    return Stance(
        np.array([wheel_rate_n_per_mm(one.rate_n_per_mm, one.motion_ratio) for one in each]),
        (car.track_front_mm, car.track_rear_mm),
        car.wheelbase_mm,
        np.array([one.turn_mm or 1.0 for one in each]),
        np.array([one.motion_ratio for one in each]),
        (front.bar_n_per_mm, rear.bar_n_per_mm),
    )


def begun(file: CarFile) -> bool:
    """Is a corner weighed?"""
    return any(one.code == "corner_mass" for one in file.latest)
