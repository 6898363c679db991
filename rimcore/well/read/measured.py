"""What was measured of one axle, and what would stand on it."""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import KW_ONLY, dataclass, replace
from functools import lru_cache
from typing import Any

import numpy as np

from rimcore.quantities.errors import CoreError
from rimcore.quantities.judgement import InputUsed
from rimcore.well.levers import Levers
from rimcore.well.read.stations import STATIONS
from rimcore.well.read.travel import Motion
from rimcore.well.solid.gap import Obstacle, Station, place_obstacle
from rimcore.well.solid.pose import Pose
from rimcore.wheels import hub as hubs
from rimcore.wheels.fitted import Fitted
from rimcore.wheels.outline import MEASURED_SIDE_MM, NOMINAL_SIDE_MM
from rimcore.wheels.traced import TRACED_SIDE_MM

#: a tyre that nobody measured: its size, and the width of the rim it sits on
TyreKey = tuple[str, float]


def tyre_key(fitted: Fitted) -> TyreKey | None:
    """Name of an outline whose real size trial fits may find; None where it was measured.

    >>> from rimcore.wheels.tyre import parse_tyre
    >>> from rimcore.wheels.wheel import parse_wheel
    >>> tyre_key(Fitted(parse_wheel("16x7 +42"), parse_tyre("205/55R16")))
    ('205/55R16', 7.0)
    """
    return None if fitted.measured_section_mm or fitted.profile_mm else (fitted.tyre.size, fitted.wheel.width_in)


@dataclass(frozen=True)
class Reading:
    """A reading as taken: where, what, when, by whom, and what stood on the hub at the time."""

    corner: str
    code: str
    station: Station
    gap_mm: float | None
    present: Fitted
    pose: Pose
    uncertainty_mm: float
    taken_on: str = ""
    who: str = ""
    method: str = ""
    assumed: bool = False
    #: how far the car was lowered against the baseline when it was read; part of the pose's travel
    drop_mm: float = 0.0
    #: how far the wheel was raised beyond that, spring out or at bump; part of the pose's travel too
    raised_mm: float = 0.0
    #: where trial fits moved the obstacle [mm], in its own axes (x, y, z)
    moved_mm: tuple[float, float, float] = (0.0, 0.0, 0.0)
    #: weighed against trial fits: covariance of where the obstacle stands (3 × 3, row by row) [mm²]
    spread_mm2: tuple[float, ...] | None = None
    #: and its covariance (x, y, z) with how much larger a tyre is [mm²]
    tied_mm2: tuple[tuple[TyreKey, tuple[float, ...]], ...] = ()

    def __hash__(self) -> int:
        """Worked out once: readings are the keys of everything that is kept."""
        known = self.__dict__.get("_hash")
        if known is None:
            known = hash(
                (
                    self.corner,
                    self.code,
                    self.station,
                    self.gap_mm,
                    self.pose,
                    self.uncertainty_mm,
                    self.moved_mm,
                    self.present,
                )
            )
            object.__setattr__(self, "_hash", known)
        return int(known)

    @property
    def corrected(self) -> bool:
        """Weighed against trial fits: its ± then says all that is known of where the obstacle stands."""
        return self.spread_mm2 is not None

    @property
    def name(self) -> str:
        """The station with where the rule went.

        >>> from rimcore.wheels.tyre import parse_tyre
        >>> from rimcore.wheels.wheel import parse_wheel
        >>> on_car = Fitted(parse_wheel("16x7 +42"), parse_tyre("205/55R16"))
        >>> Reading("FL", "damper", Station("damper", height_mm=180), 9, on_car, Pose(), 1).name
        'Damper at 180 mm'
        """
        kind = STATIONS[self.code]
        if self.station.place == "damper" and self.station.height_mm is not None:
            return f"{kind.name} at {self.station.height_mm:g} mm"
        name = kind.name + (f", raised {self.raised_mm:g} mm" if self.raised_mm else "")
        if self.pose.steer_deg:
            side = "out" if self.pose.steer_deg > 0 else "in"
            return f"{name}, {abs(self.pose.steer_deg):g}° {side}"
        return name


@dataclass(frozen=True)
class Candidate:
    """What would stand on an axle. Lengths in mm, masses and loads in kg, camber in degrees."""

    fitted: Fitted
    _: KW_ONLY
    mount: hubs.WheelMount = hubs.WheelMount()
    wheel_load_kg: float | None = None
    barrel_radius_mm: float | None = None
    spoke_back_mm: float | None = None
    levers: Levers = Levers()

    def at(self, corner: str) -> Candidate:
        """The candidate as it stands at one corner, at that corner's own height.

        >>> from rimcore.wheels.tyre import parse_tyre
        >>> from rimcore.wheels.wheel import parse_wheel
        >>> on_car = Fitted(parse_wheel("16x7 +42"), parse_tyre("205/55R16"))
        >>> Candidate(on_car, levers=Levers(ride_drop_mm=20.0, corner_mm=(4.0, -2.0))).at("FL").levers.ride_drop_mm
        24.0
        """
        return replace(self, levers=self.levers.at(corner)) if any(self.levers.corner_mm) else self

    def moved(self, **changed: Any) -> Candidate:
        """The candidate with some of its levers moved.

        >>> from rimcore.wheels.tyre import parse_tyre
        >>> from rimcore.wheels.wheel import parse_wheel
        >>> Candidate(Fitted(parse_wheel("16x7 +42"), parse_tyre("205/55R16"))).moved(lock_limit_deg=2.0).levers.lock_limit_deg
        2.0
        """
        return replace(self, levers=replace(self.levers, **changed))


@dataclass(frozen=True)
class Held:
    """The readings without what unsettled trial fits made of them, and the tyres whose growth rests on those alone."""

    readings: tuple[Reading, ...]
    keys: frozenset[TyreKey]

    def touched(self, readings: tuple[Reading, ...]) -> tuple[Reading, ...]:
        """Of its readings those that differ from what they are with all trial fits.

        A lip is taken whole, since its readings are joined.
        """
        same = set(readings)
        lips = {one.corner for one in self.readings if one not in same and one.station.place == "arch"}
        return tuple(
            one for one in self.readings if one not in same or (one.station.place == "arch" and one.corner in lips)
        )

    def loosens(self, fitted: Fitted) -> bool:
        """Does a tyre's size rest on trial fits that are not settled?"""
        return fitted.grown_doubt_mm is not None and tyre_key(fitted) in self.keys

    def without(self, fitted: Fitted) -> Fitted:
        """What stands on the hub, without a growth that is not settled."""
        return replace(fitted, grown_mm=0.0, grown_doubt_mm=None) if tyre_key(fitted) in self.keys else fitted


@dataclass(frozen=True)
class Axle:
    """One axle of the car as it was measured."""

    corners: tuple[str, str]
    present: Fitted
    hub: hubs.Hub
    readings: tuple[Reading, ...]
    axle_load_kg: float | None = None
    motions: tuple[tuple[str, Motion], ...] = ()
    #: readings and tyres as they were before trial fits that are not settled: the worse of both judgements stands
    held: Held | None = None
    #: true speed that was read when the speedometer showed 100 [km/h], and what says so
    true_at_100_kmh: float | None = None
    true_speed_read: InputUsed | None = None

    @property
    def stop_motion(self) -> Motion:
        """Motion of the corner whose lock stop is measured, else of the first corner."""
        return next(
            (motion for _, motion in self.motions if motion.lock_stop_mm is not None), self.motion(self.corners[0])
        )

    def beside(self, fitted: Fitted) -> tuple[Reading, ...]:
        """Readings that stand beside the others for want of a settled trial fit.

        None where the tyre's size rests on one.
        """
        return self.held.touched(self.readings) if self.held is not None and not self.held.loosens(fitted) else ()

    def motion(self, corner: str) -> Motion:
        """How a corner moves; nothing measured where nobody did."""
        return dict(self.motions).get(corner, Motion(steers=corner[0] == "F"))


@lru_cache(maxsize=2048)
def placed(reading: Reading) -> Obstacle:
    """The obstacle a reading fixes, in the car's or the hub's axes."""
    found = place_obstacle(reading.present, reading.station, reading.gap_mm, reading.pose)
    return replace(found, points_mm=found.points_mm + np.array(reading.moved_mm)) if any(reading.moved_mm) else found


def placeable(reading: Reading) -> bool:
    """Can the reading be placed at all? One that can't is told apart, and the rest of its corner stands.

    >>> from rimcore.wheels.tyre import parse_tyre
    >>> from rimcore.wheels.wheel import parse_wheel
    >>> on_car = Fitted(parse_wheel("16x7 +42"), parse_tyre("205/55R16"))
    >>> placeable(Reading("FL", "damper", Station("damper", height_mm=900), 9, on_car, Pose(), 1))
    False
    """
    if reading.station.place in ("caliper", "joint"):
        return False
    try:
        placed(reading)
    except CoreError:
        return False
    return True


def read_with_axis(reading: Reading, values: Mapping[str, float]) -> Reading:
    """A reading as it would place its obstacle with another steering axis or camber gain.

    Source: rotation about the steering axis.

    Parameters
    ----------
    reading : of an obstacle
    values : steering axis and camber gain by name

    >>> from rimcore.wheels.tyre import parse_tyre
    >>> from rimcore.wheels.wheel import parse_wheel
    >>> on_car = Fitted(parse_wheel("16x7 +42"), parse_tyre("205/55R16"))
    >>> raised = Reading("FL", "damper_bump", Station("damper", height_mm=180), 9, on_car, Pose(travel_mm=50), 1, raised_mm=50)
    >>> read_with_axis(raised, {"camber_gain_deg_per_mm": -0.02}).pose.camber_deg
    -1.0
    """
    pose = reading.pose
    axis: dict[str, Any] = {name: value for name, value in values.items() if name != "camber_gain_deg_per_mm"}
    camber = pose.camber_deg + values.get("camber_gain_deg_per_mm", 0.0) * reading.raised_mm
    return replace(
        reading, pose=replace(pose, camber_deg=camber, **axis), present=replace(reading.present, camber_deg=camber)
    )


def with_axis(motion: Motion, values: Mapping[str, float]) -> Motion:
    """How a corner would move with another steering axis or camber gain.

    Source: none; a copy.

    Parameters
    ----------
    motion : how the corner moves
    values : steering axis and camber gain by name

    >>> with_axis(Motion(), {"kpi_deg": 12.0}).kpi_deg
    12.0
    """
    known = {
        name: values.get(name, getattr(motion, name))
        for name in ("camber_gain_deg_per_mm", "kpi_deg", "caster_deg", "kingpin_inboard_mm")
    }
    return replace(motion, **known)


def side_uncertainty_mm(fitted: Fitted) -> float:
    """± of an outline on each side [mm].

    The size alone, a measured section, a traced one, or one that a trial fit corrected.

    >>> from rimcore.wheels.tyre import parse_tyre
    >>> from rimcore.wheels.wheel import parse_wheel
    >>> on_car = Fitted(parse_wheel("16x7 +42"), parse_tyre("205/55R16"))
    >>> side_uncertainty_mm(on_car), side_uncertainty_mm(replace(on_car, measured_section_mm=212.0))
    (2.5, 0.5)
    """
    if fitted.grown_doubt_mm is not None:
        return fitted.grown_doubt_mm
    if fitted.profile_mm is not None:
        return TRACED_SIDE_MM
    return MEASURED_SIDE_MM if fitted.measured_section_mm else NOMINAL_SIDE_MM


def place_uncertainty_mm(reading: Reading) -> float:
    """± of where an obstacle stands [mm]: the rule's, and that of the outline it was held against.

    Calipers and joints are read from the hub, a damper below the rim's edge from the rim; neither knows the tyre.
    """
    if reading.corrected or not held_to_tyre(reading):
        return reading.uncertainty_mm
    return math.hypot(reading.uncertainty_mm, side_uncertainty_mm(reading.present))


def held_to_tyre(reading: Reading) -> bool:
    """Was the rule held against the tyre, so that the tyre's real size matters?"""
    station = reading.station
    at_rim = station.place == "damper" and (station.height_mm or 0.0) <= reading.present.outline.flange_radius_mm
    return not at_rim and station.place not in ("caliper", "joint")


def gap_inputs(reading: Reading, candidate: Candidate) -> tuple[InputUsed, ...]:
    """What a gap rests on: the reading, what it was read against, and the candidate."""
    taken = ", ".join(
        part for part in (reading.method, reading.who, "assumed from the other side" if reading.assumed else "") if part
    )
    if reading.station.place == "arch":
        read = f"{reading.station.side_gap_mm:g} mm sideways, {reading.station.up_gap_mm:g} mm upward"
    else:
        read = f"{reading.gap_mm:g} mm"
    rows = [
        InputUsed(reading.name, f"{read} ± {reading.uncertainty_mm:g}", taken, reading.taken_on),
        InputUsed("against", describe(reading.present)),
        InputUsed("candidate", describe(candidate.fitted)),
    ]
    if candidate.levers.ride_drop_mm:
        rows.append(InputUsed("lowered", f"{candidate.levers.ride_drop_mm:g} mm"))
    if any(reading.moved_mm):
        rows.append(
            InputUsed(
                "trial fits",
                f"moved by {math.dist(reading.moved_mm, (0, 0, 0)):.1f} mm",
                "least squares over all readings",
            )
        )
    section = "measured" if candidate.fitted.measured_section_mm else "from the size; carcasses differ"
    section = (
        "measured outline"
        if candidate.fitted.profile_mm
        else "corrected by a trial fit"
        if candidate.fitted.grown_doubt_mm is not None
        else section
    )
    rows.append(InputUsed("section width", f"{candidate.fitted.outline.section_mm:.0f} mm", section))
    return tuple(rows)


def describe(fitted: Fitted) -> str:
    """A fitted wheel in a few words."""
    wheel = f"{fitted.wheel.diameter_in:g}×{fitted.wheel.width_in:g} {fitted.wheel.offset_mm:+g}, {fitted.tyre.size}"
    return wheel + (f", {fitted.spacer_mm:g} mm spacer" if fitted.spacer_mm else "")
