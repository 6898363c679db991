"""What is seen at a trial fit, and what the model would have said."""

from __future__ import annotations

import math
from dataclasses import dataclass, replace
from typing import Any

import numpy as np
from numpy.typing import NDArray

from rimcore.well.judge.doubt import grows, same_carcass
from rimcore.well.read.measured import (
    Reading,
    TyreKey,
    held_to_tyre,
    place_uncertainty_mm,
    placed,
    side_uncertainty_mm,
    tyre_key,
)
from rimcore.well.read.stations import STATIONS
from rimcore.well.solid.gap import outline_polygon
from rimcore.well.solid.polygon import nearest
from rimcore.well.solid.pose import Pose
from rimcore.wheels.fitted import Fitted
from rimcore.wheels.traced import bare_rim

Array = NDArray[np.float64]


#: what a sighting says of the gap: value and ± [mm] (common practice: paper is 0.1 mm and bends with the gap)
SEEN_MM = {"touches": (0.0, 0.5), "paper": (0.4, 0.4)}


@dataclass(frozen=True)
class Seen:
    """One obstacle seen in a trial fit.

    Which (place in the list of readings), with what on the hub, how, and the gap ± [mm].
    """

    reading: int
    fitted: Fitted
    bare: bool
    pose: Pose
    gap_mm: float
    uncertainty_mm: float

    @property
    def tyre_key(self) -> TyreKey | None:
        """Whose outline error is at stake; a bare rim and a measured section have none."""
        return None if self.bare else tyre_key(self.fitted)

    @property
    def sigma_mm(self) -> float:
        """± of the sighting with that of an outline that was measured."""
        if self.bare or self.tyre_key is not None:
            return self.uncertainty_mm
        return math.hypot(self.uncertainty_mm, side_uncertainty_mm(self.fitted))


@dataclass(frozen=True)
class Part:
    """One thing that a fit rests on, with its standardised residual: a sighting, a base reading, a tyre's own size."""

    kind: str
    name: str
    t: float
    #: place in the list of sightings or of readings
    place: int = -1
    key: TyreKey | None = None

    @property
    def blame(self) -> str:
        """What it would mean if this part were the fault.

        >>> Part("sighting", "seen at the damper", 3.0).blame
        'what was seen at the damper was misread'
        """
        return (
            f"the {self.name} all round"
            if self.kind == "tyre"
            else f"{'what was ' if self.kind == 'sighting' else 'the '}{self.name} was misread"
        )


@dataclass(frozen=True)
class Group:
    """Sightings that hang together by an obstacle or a tyre, and how well they agree.

    ``chi2`` has ``dof`` degrees of freedom; ``conflict`` says that they contradict each other, ``settled``
    that they agree and that a gross misreading of any of them would have shown.
    """

    readings: tuple[int, ...]
    sightings: tuple[int, ...]
    keys: tuple[TyreKey, ...]
    chi2: float
    dof: int
    p: float
    parts: tuple[Part, ...]
    conflict: bool
    settled: bool
    checked_mm: float

    @property
    def suspects(self) -> tuple[Part, ...]:
        """What the conflict may come from: parts that can't be told apart, worst first."""
        if not self.conflict:
            return ()
        ranked = sorted(self.parts, key=lambda part: -abs(part.t))
        return tuple(part for part in ranked if abs(part.t) > abs(ranked[0].t) * (1 - ALIKE))

    @property
    def text(self) -> str:
        """What is found, and which reading would tell."""
        if self.conflict:
            names = [part.blame for part in self.suspects[:4]]
            which = (
                f"either {', or '.join(names)}: they can't be told apart"
                if len(names) > 1
                else f"most likely {names[0]}"
            )
            return f"these readings contradict each other (chi-square {self.chi2:.1f} over {self.dof}, p {self.p:.3f}): {which}. {self.would_tell}"
        if not self.settled:
            return (
                f"not settled: a misreading of {GROSS_MM:g} mm would not stand out (± {self.checked_mm:.1f} mm), "
                f"so no gap becomes clear because of it. {self.would_tell}"
            )
        return f"settled: the readings agree (chi-square {self.chi2:.1f} over {self.dof}), and each is checked by the others"

    @property
    def would_tell(self) -> str:
        """The reading that would tell a larger tyre from a misread rule."""
        if self.keys:
            sizes = " and ".join(dict.fromkeys(size for size, _ in self.keys))
            return f"Measure the section over the {sizes} with a caliper, or look at the same place with a bare rim"
        return "Read the same place again, or look at it with another wheel"


@dataclass(frozen=True)
class Corrected:
    """What all readings together say.

    ``readings`` come back with their obstacles moved and what is known of them now; ``grown_mm`` is by tyre
    size and rim width with its ±; ``residuals`` are those of the sightings in their own ±, in order.
    """

    readings: tuple[Reading, ...]
    grown_mm: dict[TyreKey, tuple[float, float]]
    residuals: tuple[float, ...]
    groups: tuple[Group, ...] = ()

    def group_of(self, sighting: int) -> Group | None:
        """The group of a sighting."""
        return next((group for group in self.groups if sighting in group.sightings), None)

    def conflict(self, sighting: int) -> bool:
        """Is a sighting among what contradicts the others?"""
        group = self.group_of(sighting)
        return group is not None and any(part.kind == "sighting" and part.place == sighting for part in group.suspects)


def predict_mm(reading: Reading, fitted: Fitted, bare: bool, pose: Pose) -> float:
    """Gap that is expected in a trial fit [mm].

    Shortest way from the obstacle to the rim or the wheel, or what the rule will read.

    >>> from rimcore.well.solid.gap import Station
    >>> from rimcore.wheels.tyre import parse_tyre
    >>> from rimcore.wheels.wheel import parse_wheel
    >>> on_car = Fitted(parse_wheel("16x7 +42"), parse_tyre("205/55R16"))
    >>> damper = Reading("FL", "damper", Station("damper", height_mm=262), 9.0, on_car, Pose(), 1.0)
    >>> round(predict_mm(damper, on_car, True, Pose()), 1)
    43.1
    >>> low = Reading("FL", "damper", Station("damper", height_mm=180), 9.0, on_car, Pose(), 1.0)
    >>> round(predict_mm(low, on_car, True, Pose()), 1)
    9.0
    """
    where = Where.of(reading, fitted, bare, pose)
    return where.gap(placed(reading).points_mm[0], fitted.grown_mm)[0]


def prediction_uncertainty_mm(reading: Reading, fitted: Fitted, bare: bool) -> float:
    """± of what is expected in a trial fit [mm].

    Where the obstacle stands, and the tyre's outline unless the rim is bare.

    >>> from rimcore.well.solid.gap import Station
    >>> from rimcore.wheels.tyre import parse_tyre
    >>> from rimcore.wheels.wheel import parse_wheel
    >>> on_car = Fitted(parse_wheel("16x7 +42"), parse_tyre("205/55R16"))
    >>> lip = Reading("FL", "liner_front", Station("liner", edge="front", u="centre"), 40.0, on_car, Pose(), 1.0)
    >>> wider = replace(on_car, tyre=parse_tyre("215/55R16"))
    >>> [round(prediction_uncertainty_mm(lip, *case), 1) for case in ((on_car, False), (on_car, True), (wider, False))]
    [1.0, 2.7, 3.7]
    """
    if bare:
        return place_uncertainty_mm(reading)
    if same_carcass(reading.present, fitted) and held_to_tyre(reading):
        return reading.uncertainty_mm
    return math.hypot(place_uncertainty_mm(reading), side_uncertainty_mm(fitted))


def floats_of(values: NDArray[np.floating[Any]]) -> tuple[float, ...]:
    return tuple(round(float(value), 4) for value in values)


def reading_name(reading: Reading) -> str:
    kind = STATIONS.get(reading.code)
    return kind.name.lower() if kind is not None else reading.code


def sighting_name(reading: Reading) -> str:
    return f"seen at the {reading_name(reading)}"


#: a misreading of this size has to show before a fit counts as settled [mm] (common practice: a digit or an edge
#: mistaken)
GROSS_MM = 10.0


#: parts whose residuals are within this share of the worst can't be told apart
ALIKE = 0.2


@dataclass(frozen=True)
class Where:
    """An obstacle's frame against what stands on the hub at a pose: its gap, and how the gap changes."""

    frame: str
    fitted: Fitted
    bare: bool
    pose: Pose
    axial: bool
    polygon: Array

    @classmethod
    def of(cls, reading: Reading, fitted: Fitted, bare: bool, pose: Pose) -> Where:
        plain = fitted if fitted.profile_mm is not None else replace(fitted, grown_mm=0.0)
        polygon = bare_rim(plain.outline) if bare else outline_polygon(plain.outline)
        stands = replace(pose, camber_deg=fitted.camber_deg)
        return cls(placed(reading).frame, plain, bare, stands, reading.station.place == "damper", polygon)

    def gap(self, point: Array, grown_mm: float) -> tuple[float, Array, float]:
        """Gap of a point [mm], its change per mm of the point's x, y, z, and per mm by which the tyre is larger."""
        hub = point if self.frame == "knuckle" else self.pose.to_hub(point[None, :])[0]
        rho = max(math.hypot(hub[0], hub[2]), 1e-9)
        u = float(hub[1] - self.fitted.centre_mm)
        gap, foot = nearest(self.polygon, (u, rho))
        way = math.copysign(math.hypot(u - foot[0], rho - foot[1]) or 1.0, 1.0 if gap >= 0 else -1.0)
        across, radial = (u - foot[0]) / way, (rho - foot[1]) / way
        grows_by = 0.0 if self.bare else grows(self.fitted.outline, foot)
        shape = self.fitted.outline
        if self.axial and rho <= shape.flange_radius_mm and -shape.lip_mm - u < gap:
            # Read below the flange, the rule goes along the axle to the lip's plane.
            gap, across, radial, grows_by = -shape.lip_mm - u, -1.0, 0.0, 0.0
        slope = np.array([radial * hub[0] / rho, across, radial * hub[2] / rho])
        if self.frame != "knuckle":
            slope = self.pose.to_body(slope[None, :])[0] - self.pose.to_body(np.zeros((1, 3)))[0]
        return gap - grows_by * grown_mm, slope, -grows_by
