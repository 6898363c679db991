"""What trial fits make of the readings."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Protocol

from garage.car.assemble import any_tyre
from garage.readings.assemble import PLACED, Rows
from garage.readings.models import Reading, Sighting, Trial
from rimcore.well.judge import sightings as seeing
from rimcore.well.judge import trialfit
from rimcore.well.read import measured as core
from rimcore.well.read.measured import Held, TyreKey
from rimcore.well.read.stations import STATIONS
from rimcore.well.read.travel import Motion
from rimcore.well.solid.pose import Pose
from rimcore.wheels.fitted import Fitted
from rimcore.wheels.tyre import parse_tyre
from rimcore.wheels.wheel import parse_wheel


class Tried(Rows, Protocol):
    """What is needed of a car's file here: its trial fits, how its corners move, and its readings for the core."""

    trials: list[Trial]

    @property
    def motions(self) -> dict[str, Motion]: ...
    def core_readings(
        self, readings: list[Reading] | None = None, as_read: bool = False
    ) -> tuple[core.Reading, ...]: ...


@dataclass(frozen=True)
class Corrections:
    """Readings as trial fits correct them, real tyre sizes with their ±, and how well each sighting agrees (by its
    key).

    ``before`` are the readings with settled corrections only.
    """

    readings: tuple[core.Reading, ...]
    before: tuple[core.Reading, ...]
    grown_mm: dict[TyreKey, tuple[float, float]]
    found: seeing.Corrected
    #: key of a sighting -> its place in the fit
    places: dict[int, int]

    def held(self, end: str) -> Held | None:
        """What an end was before corrections that are not settled; None where all are."""
        loose = [group for group in self.found.groups if not group.settled]
        keys = frozenset(key for group in loose for key in group.keys)
        touched = any(self.readings[place].corner[0] == end for group in loose for place in group.readings)
        return Held(tuple(r for r in self.before if r.corner[0] == end), keys) if touched or keys else None

    def group_of(self, sighting_id: int) -> seeing.Group | None:
        """How well the fit of a sighting agrees."""
        place = self.places.get(sighting_id)
        return None if place is None else self.found.group_of(place)

    def conflict(self, sighting_id: int) -> bool:
        """Is a sighting among what contradicts the others?"""
        place = self.places.get(sighting_id)
        return place is not None and self.found.conflict(place)


def corrections_of(file: Tried) -> Corrections:
    """All sightings of all trial fits, corner by corner; a sighting of a reading that was replaced no longer counts."""
    known = list(file.core_readings(as_read=True))
    place = {reading.pk: k for k, reading in enumerate(placing(file))}
    seen, keys = [], []
    for trial in file.trials:
        for sighting in trial.sightings.all():
            if sighting.reading_id in place:
                seen.append(seen_of(file, trial, sighting, place[sighting.reading_id]))
                keys.append(sighting.pk)
    found = trialfit.correct(known, seen)
    loose = {place for group in found.groups if not group.settled for place in group.readings}
    before = tuple(known[k] if k in loose else reading for k, reading in enumerate(found.readings))
    return Corrections(found.readings, before, found.grown_mm, found, {key: k for k, key in enumerate(keys)})


def placing(file: Tried) -> list[Reading]:
    """The newest readings that place an obstacle, in the order of the core's."""
    return [
        reading
        for reading in file.latest
        if STATIONS[reading.code].place in PLACED
        and reading.code != "caliper_inner"
        and (reading.outfit_id, reading.corner[:1]) in file.outfit_axles
    ]


def seen_of(file: Tried, trial: Trial, sighting: Sighting, place: int) -> seeing.Seen:
    """A stored sighting as the core takes it."""
    fitted, pose = trial_standing(file, trial, sighting.steer_deg, sighting.travel_mm)
    gap = sighting.gap_mm if sighting.gap_mm is not None else seeing.SEEN_MM[sighting.seen][0]
    return seeing.Seen(place, fitted, not trial.tyre, pose, gap, sighting.uncertainty_mm)


def trial_standing(file: Tried, trial: Trial, steer_deg: float, travel_mm: float) -> tuple[Fitted, Pose]:
    """What was held on the hub, and how it stood. A bare rim carries the present tyre's name for its size only."""
    motion = file.motions[trial.corner]
    wheel = parse_wheel(trial.wheel)
    tyre = parse_tyre(trial.tyre) if trial.tyre else any_tyre(wheel.diameter_in)
    travel = trial.ride_drop_mm + travel_mm
    camber = motion.camber_at(trial.camber_deg, trial.ride_drop_mm, travel)
    fitted = Fitted(wheel, tyre, trial.spacer_mm, camber, trial.measured_section_mm)
    return fitted, Pose(camber, steer_deg, travel, *motion.axis, motion.follow(trial.camber_deg, trial.ride_drop_mm))
