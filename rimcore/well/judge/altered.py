"""An axle with what a candidate puts in the place of what was read: another caliper, another arm."""

from __future__ import annotations

import math
from dataclasses import replace

from rimcore.well.levers import STATED_MM, Arm, Brake
from rimcore.well.read.measured import Axle, Candidate, Reading
from rimcore.well.solid.gap import Station
from rimcore.well.solid.pose import Pose


def braked(axle: Axle, brake: Brake | None) -> Axle:
    """An axle with another caliper.

    What was read of the old one gives way to what is said of the new one, at both corners; of what is not said there is
    no reading.

    >>> from rimcore.wheels.fitted import Fitted
    >>> from rimcore.wheels.hub import Hub
    >>> from rimcore.wheels.tyre import parse_tyre
    >>> from rimcore.wheels.wheel import parse_wheel
    >>> axle = Axle(("FL", "FR"), Fitted(parse_wheel("16x7 +42"), parse_tyre("205/55R16")), Hub(), ())
    >>> [(r.corner, r.code) for r in braked(axle, Brake(165.0, 31.0)).readings]
    [('FL', 'caliper_barrel'), ('FL', 'caliper_spoke'), ('FR', 'caliper_barrel'), ('FR', 'caliper_spoke')]
    """
    if brake is None:
        return axle
    said = {
        "caliper_barrel": brake.radius_mm is not None and Station("caliper", radius_mm=brake.radius_mm),
        "caliper_spoke": brake.face_mm is not None and Station("caliper", face_mm=brake.face_mm),
    }
    new = [
        Reading(corner, code, station, None, axle.present, Pose(), STATED_MM, who=brake.source, method="offer")
        for corner in axle.corners
        for code, station in said.items()
        if station
    ]

    def without(readings: tuple[Reading, ...]) -> tuple[Reading, ...]:
        return (*(one for one in readings if one.code not in said), *new)

    held = replace(axle.held, readings=without(axle.held.readings)) if axle.held is not None else None
    return replace(axle, readings=without(axle.readings), held=held)


def armed(axle: Axle, arm: Arm | None) -> Axle:
    """An axle with another arm: what was read to the old one moves by what the new one stands back, or no longer
    counts.

    >>> from rimcore.wheels.fitted import Fitted
    >>> from rimcore.wheels.hub import Hub
    >>> from rimcore.wheels.tyre import parse_tyre
    >>> from rimcore.wheels.wheel import parse_wheel
    >>> on_car = Fitted(parse_wheel("16x7 +42"), parse_tyre("205/55R16"))
    >>> read = Reading("FL", "arm_front_lock", Station("arm", height_mm=0, edge="front"), 9.0, on_car, Pose(steer_deg=-35), 1)
    >>> axle = Axle(("FL", "FR"), on_car, Hub(), (read,))
    >>> [one.gap_mm for one in armed(axle, Arm(12.0)).readings], armed(axle, Arm(None)).readings
    ([21.0], ())
    """
    if arm is None:
        return axle

    def moved(readings: tuple[Reading, ...]) -> tuple[Reading, ...]:
        found = []
        for one in readings:
            if one.station.place != "arm" or one.gap_mm is None:
                found.append(one)
            elif arm.back_mm is not None:
                said = (
                    f"moved back {arm.back_mm:g} mm: {arm.source}" if arm.back_mm else f"the same shape: {arm.source}"
                )
                who = ", ".join(part for part in (one.who, said) if part)
                found.append(
                    replace(
                        one,
                        gap_mm=one.gap_mm + arm.back_mm,
                        uncertainty_mm=math.hypot(one.uncertainty_mm, STATED_MM),
                        who=who,
                    )
                )
        return tuple(found)

    held = replace(axle.held, readings=moved(axle.held.readings)) if axle.held is not None else None
    return replace(axle, readings=moved(axle.readings), held=held)


def altered(axle: Axle, candidate: Candidate) -> Axle:
    """An axle with what a candidate puts in the place of what was read: another caliper, another arm.

    >>> from rimcore.wheels.fitted import Fitted
    >>> from rimcore.wheels.hub import Hub
    >>> from rimcore.wheels.tyre import parse_tyre
    >>> from rimcore.wheels.wheel import parse_wheel
    >>> axle = Axle(("FL", "FR"), Fitted(parse_wheel("16x7 +42"), parse_tyre("205/55R16")), Hub(), ())
    >>> altered(axle, Candidate(axle.present)) == axle
    True
    """
    return armed(braked(axle, candidate.levers.brake), candidate.levers.arm)
