"""Readings of a gap: where the rule went, where that puts the obstacle, and what is left for a candidate."""

from __future__ import annotations

import math
from dataclasses import dataclass, replace
from functools import lru_cache

import numpy as np
from numpy.typing import NDArray

from rimcore.quantities.errors import BadInput
from rimcore.well.solid.polygon import nearest
from rimcore.well.solid.pose import Pose
from rimcore.wheels.fitted import Fitted
from rimcore.wheels.outline import Outline

PLACES = ("damper", "perch", "arch", "liner", "rail", "arm", "caliper", "joint")


#: points drawn around a ring (caliper, joint)
RING_POINTS = 24


@dataclass(frozen=True)
class Station:
    """Where the rule went; only the fields of its place are used. Lengths in mm, clock in hours."""

    place: str
    height_mm: float | None = None
    u_mm: float | None = None
    clock: float | None = None
    side_gap_mm: float | None = None
    up_gap_mm: float | None = None
    edge: str | None = None
    u: str | None = None
    radius_mm: float | None = None
    face_mm: float | None = None
    inner_face_mm: float | None = None
    from_mm: float | None = None
    to_mm: float | None = None
    strut: bool = True


@dataclass(frozen=True, eq=False)
class Obstacle:
    """Points (n, 3) [mm]: in body axes for ``body``, in hub axes for ``knuckle``."""

    kind: str
    frame: str
    points_mm: NDArray[np.float64]


@dataclass(frozen=True)
class NewGap:
    """What the same rule would read with a candidate [mm]; the arch has two."""

    gap_mm: float
    side_gap_mm: float | None = None
    up_gap_mm: float | None = None


def place_obstacle(present: Fitted, station: Station, gap_mm: float | None, pose: Pose | None = None) -> Obstacle:
    """Place an obstacle from a reading taken against the wheel that was on the car.

    Parameters
    ----------
    present : the wheel, tyre and spacer against which the rule was held
    station : where the rule went
    gap_mm : the reading; None for the absolute stations and the arch, which carry their own [mm]
    pose : how the wheel stood; its camber is replaced by the present one

    Raises
    ------
    BadInput : a field of the station is missing, or the rule can't have gone there

    Examples
    --------
    >>> from rimcore.wheels.tyre import parse_tyre
    >>> from rimcore.wheels.wheel import parse_wheel
    >>> present = Fitted(parse_wheel("16x7 +42"), parse_tyre("205/55R16"))
    >>> place_obstacle(present, Station("damper", height_mm=180.0), 8.0).points_mm.round(1).tolist()
    [[0.0, -151.6, 180.0]]
    """
    if station.place in ("caliper", "joint"):
        return Obstacle(station.place, "knuckle", _ring(station))
    points = hub_points(present, station, gap_mm)
    if station.place == "perch" or (station.place == "damper" and station.strut):
        return Obstacle(station.place, "knuckle", points)
    standing = replace(pose or Pose(), camber_deg=present.camber_deg)
    return Obstacle(station.place, "body", standing.to_body(points))


#: points of a rail that runs along the car past the whole tyre
ALONG_POINTS = 5


def hub_points(present: Fitted, station: Station, gap_mm: float | None) -> NDArray[np.float64]:
    """Points that a reading fixes, in hub axes, shape (n, 3) [mm].

    One, or a row along the car for what runs past the tyre.

    Source: plane geometry.

    Parameters
    ----------
    present : what was on the car when it was read
    station : where the rule went
    gap_mm : as read; None where only the place counts [mm]

    >>> from rimcore.wheels.tyre import parse_tyre
    >>> from rimcore.wheels.wheel import parse_wheel
    >>> on_car = Fitted(parse_wheel("16x7 +42"), parse_tyre("205/55R16"))
    >>> rail = hub_points(on_car, Station("rail", edge="along", height_mm=90.0), 58.0)
    >>> rail[:, 1:].round(1).tolist()[0], float(rail[0, 0] + rail[-1, 0])
    ([-205.0, 90.0], 0.0)
    """
    u, rho, phi = hub_axes(present, station, gap_mm)
    first = np.array([rho * math.sin(phi), present.centre_mm + u, rho * math.cos(phi)])
    if station.edge != "along":
        return first[None, :]
    row = np.tile(first, (ALONG_POINTS, 1))
    row[:, 0] = np.linspace(first[0], -first[0], ALONG_POINTS)
    return row


def read_again(obstacle: Obstacle, station: Station, candidate: Fitted, pose: Pose | None = None) -> NewGap:
    """What the same rule would read at the same place with a candidate on the hub.

    Along the rule where the place is read with a rule; for the arch the shortest distance, and both
    readings beside it. Where the candidate's tyre ends below the place, the shortest distance.

    Examples
    --------
    >>> from rimcore.wheels.tyre import parse_tyre
    >>> from rimcore.wheels.wheel import parse_wheel
    >>> tyre, station = parse_tyre("205/55R16"), Station("damper", height_mm=180.0)
    >>> placed = place_obstacle(Fitted(parse_wheel("16x7 +42"), tyre), station, 8.0)
    >>> round(read_again(placed, station, Fitted(parse_wheel("16x7 +45"), tyre)).gap_mm, 3)
    5.0
    """
    if obstacle.kind in ("caliper", "joint"):
        raise BadInput("against the barrel nothing is known until the part's barrel is measured", "candidate")
    u, rho = _in_wheel_axes(obstacle, candidate, pose)
    shape = candidate.outline
    if obstacle.kind == "arch":
        return NewGap(_shortest(shape, u, rho), *arch_gaps(obstacle, candidate, pose))
    if obstacle.kind in ("perch", "liner") and abs(u) <= shape.section_mm / 2:
        return NewGap(rho - shape.radius_at(u))
    if obstacle.kind in ("perch", "liner") or rho > shape.crown_mm:
        return NewGap(_shortest(shape, u, rho))
    return NewGap(-shape.half_width_at(rho) - u)


def arch_gaps(obstacle: Obstacle, candidate: Fitted, pose: Pose | None = None) -> tuple[float, float]:
    """What the rule would read at the arch lip with a candidate: sideways and upward [mm].

    >>> from rimcore.wheels.tyre import parse_tyre
    >>> from rimcore.wheels.wheel import parse_wheel
    >>> tyre, station = parse_tyre("205/55R16"), Station("arch", clock=12, side_gap_mm=20.0, up_gap_mm=60.0)
    >>> placed = place_obstacle(Fitted(parse_wheel("16x7 +42"), tyre), station, None)
    >>> tuple(round(gap, 3) for gap in arch_gaps(placed, Fitted(parse_wheel("16x7 +35"), tyre)))
    (13.0, 60.0)
    """
    u, rho = _in_wheel_axes(obstacle, candidate, pose)
    return u - candidate.outline.outermost_mm, rho - candidate.outline.crown_mm


@dataclass(frozen=True)
class Closest:
    """Shortest distance from an obstacle to what stands on the hub [mm], the nearest point of the outline, and the
    obstacle's.
    """

    distance_mm: float
    across_mm: float
    radius_mm: float
    point_mm: tuple[float, float] = (0.0, 0.0)


def closest(obstacle: Obstacle, candidate: Fitted, pose: Pose | None = None) -> Closest:
    """Shortest distance from a placed obstacle to a candidate; negative when it lies inside.

    The rule is held along one line; a lip or shoulder may stand nearer beside it. Judgements go by this.

    >>> from rimcore.wheels.tyre import parse_tyre
    >>> from rimcore.wheels.wheel import parse_wheel
    >>> on_car = Fitted(parse_wheel("16x7 +42"), parse_tyre("205/55R16"))
    >>> round(closest(place_obstacle(on_car, Station("damper", height_mm=262.0), 8.0), on_car).distance_mm, 1)
    8.0
    """
    u, rho = _in_wheel_axes(obstacle, candidate, pose)
    distance, foot = nearest(outline_polygon(candidate.outline), (u, rho))
    return Closest(distance, *foot, (u, rho))


def _shortest(shape: Outline, u: float, rho: float) -> float:
    """Shortest distance from a point in wheel axes to the outline [mm], negative inside."""
    return nearest(outline_polygon(shape), (u, rho))[0]


@lru_cache(maxsize=1024)
def outline_polygon(shape: Outline) -> NDArray[np.float64]:
    """The closed half section of an outline, kept for the next time; shape (n, 2) [mm]."""
    return shape.polygon()


def _in_wheel_axes(obstacle: Obstacle, candidate: Fitted, pose: Pose | None) -> tuple[float, float]:
    if obstacle.frame == "body":
        y, rho = _in_hub(obstacle, replace(pose or Pose(), camber_deg=candidate.camber_deg))
    else:
        x, y, z = obstacle.points_mm[0].tolist()
        rho = math.hypot(x, z)
    return y - candidate.centre_mm, rho


# Few: a pose holds the table of its links.
@lru_cache(maxsize=512)
def _in_hub(obstacle: Obstacle, pose: Pose) -> tuple[float, float]:
    """(y, ρ) of an obstacle's point in hub axes [mm]: the same for every wheel that stands so."""
    x, y, z = pose.to_hub(obstacle.points_mm)[0].tolist()
    return y, math.hypot(x, z)


def hub_axes(present: Fitted, station: Station, gap_mm: float | None) -> tuple[float, float, float]:
    """(u, ρ, φ) of an obstacle in the axes of the wheel that was on the car [mm, mm, rad].

    Source: plane geometry.

    Parameters
    ----------
    present : what was on the car when it was read
    station : where the rule went
    gap_mm : as read; None where only the place counts [mm]

    >>> from rimcore.wheels.tyre import parse_tyre
    >>> from rimcore.wheels.wheel import parse_wheel
    >>> on_car = Fitted(parse_wheel("16x7 +42"), parse_tyre("205/55R16"))
    >>> [round(value, 1) for value in hub_axes(on_car, Station("damper", height_mm=180.0), 8.0)]
    [-109.6, 180.0, 0.0]
    """
    return _wheel_axes(present.outline, station, gap_mm)


def _wheel_axes(shape: Outline, station: Station, gap_mm: float | None) -> tuple[float, float, float]:
    if station.place == "arch":
        return _arch(shape, station)
    if gap_mm is None:
        raise BadInput("the reading is missing; accepted: a gap in mm", "gap_mm")
    if station.place == "damper":
        height = _need(station.height_mm, "height_mm")
        return -shape.half_width_at(height) - gap_mm, height, 0.0
    if station.place == "perch":
        u = _need(station.u_mm, "u_mm")
        return u, shape.radius_at(u) + gap_mm, 0.0
    if station.place == "liner":
        u = {"inner": -1, "centre": 0, "outer": 1}[_across(station)] * shape.tread_mm / 2
        return u, shape.radius_at(u) + gap_mm, _toward(station) * math.pi / 2
    height, rho = _need(station.height_mm, "height_mm"), shape.widest_radius_mm
    if abs(height) > rho:
        raise BadInput(
            f"the height is more than the tyre's widest point ({rho:.0f} mm from the hub); measure nearer to it",
            "station.height_mm",
        )
    return -shape.half_width_at(rho) - gap_mm, rho, _toward(station) * math.acos(height / rho)


def _arch(shape: Outline, station: Station) -> tuple[float, float, float]:
    clock = _need(station.clock, "clock")
    hours = clock if clock <= 3 else clock - 12
    if not -3 <= hours <= 3:
        raise BadInput("the arch is read from 9 over 12 to 3 on the clock face; 12 = top, 3 = front", "station.clock")
    rho = shape.crown_mm + _need(station.up_gap_mm, "up_gap_mm")
    return shape.outermost_mm + _need(station.side_gap_mm, "side_gap_mm"), rho, math.radians(hours * 30)


def _ring(station: Station) -> NDArray[np.float64]:
    radius = _need(station.radius_mm, "radius_mm")
    if station.place == "caliper":
        face = _need(station.face_mm, "face_mm")
        ends = (face, face if station.inner_face_mm is None else station.inner_face_mm)
    else:
        ends = (-_need(station.to_mm, "to_mm"), -_need(station.from_mm, "from_mm"))
    around = np.arange(RING_POINTS) * 2 * math.pi / RING_POINTS
    rows = [
        np.column_stack([radius * np.sin(around), np.full(RING_POINTS, y), radius * np.cos(around)])
        for y in sorted(set(ends))
    ]
    return np.vstack(rows)


def _across(station: Station) -> str:
    if station.u not in ("inner", "centre", "outer"):
        raise BadInput("where across the tread? accepted: inner, centre, outer", "station.u")
    return station.u


def _toward(station: Station) -> int:
    if station.edge not in (("front", "rear", "along") if station.place == "rail" else ("front", "rear")):
        raise BadInput("which edge of the tyre? accepted: front, rear", "station.edge")
    return -1 if station.edge == "rear" else 1


def _need(value: float | None, field: str) -> float:
    if value is None:
        raise BadInput(f"{field} is needed at this station", f"station.{field}")
    return value
