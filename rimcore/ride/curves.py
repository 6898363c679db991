"""What a corner does over travel and rack: camber, toe, caster, scrub, roll centre, motion ratio, toggle.

Sources: Milliken & Milliken, Race Car Vehicle Dynamics, ch. 17 and 19, for the terms; all from the pose of the knuckle
and its velocity per millimetre of travel, rack held.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from rimcore.ride.links import Array, Corner, Poses, cross, driven, equations, follow, polished, start
from rimcore.ride.points import Abreast, HardPoints
from rimcore.ride.stepping import SCALE_MM

UP = np.array([0.0, 0.0, 1.0])


@dataclass(frozen=True)
class Curves:
    """One row a pose; NaN where it is not reached, and where the layout has no such figure.

    Attributes
    ----------
    travel_mm, rack_mm : (n,) height of the hub-face centre, and the rod's inner end along +y
    camber_rate, toe_rate : (n,) derivatives with travel, rack held [deg/mm]
    poses : the knuckle's own
    """

    travel_mm: Array
    rack_mm: Array
    reached: NDArray[np.bool_]
    camber_deg: Array
    toe_deg: Array
    caster_deg: Array
    kpi_deg: Array
    scrub_radius_mm: Array
    trail_mm: Array
    track_shift_mm: Array
    roll_centre_mm: Array
    motion_ratio: Array
    toggle_margin_deg: Array
    camber_rate: Array
    toe_rate: Array
    poses: Poses

    @property
    def steer_deg(self) -> Array:
        """Front edge outboard positive: toe the other way round."""
        return -self.toe_deg


def moved_to(points: HardPoints, travel_mm: Sequence[float], rack_mm: Sequence[float]) -> Poses:
    """Each travel at rack 0, then each rack from there: poses (travel × rack), travel the slower.

    ``reached`` is false where a singular pose lies on the way.

    Source: closure of the links, solved by Newton's method from pose to pose.

    Parameters
    ----------
    points : of one corner
    travel_mm : (n,), bump positive [mm]
    rack_mm : (m,), inboard positive [mm]
    """
    corner = points.corner
    travel, rack = np.asarray(travel_mm, dtype=float), np.asarray(rack_mm, dtype=float)
    at_rest, _ = outward(corner, start(1), np.zeros(1), travel, False)
    poses, _ = outward(corner, at_rest, travel, rack, True)
    return polished(corner, poses, np.repeat(travel, len(rack)), np.tile(rack, len(travel)))


def outward(corner: Corner, begun: Poses, held: Array, to: Array, of_rack: bool) -> tuple[Poses, Array]:
    """From each of n poses at 0 to each of k values, outward both ways, each value from its neighbour.

    Returns the poses (n × k), and (2, n) how far each came, inboard or down first.

    Source: continuation by the tangent, then Newton's method.

    Parameters
    ----------
    corner : links, n abreast
    begun : poses at 0 (n)
    held : what is held meanwhile (n,) [mm]
    to : values to go to (k,) [mm]
    of_rack : whether the values are the rack's, else travel
    """
    count, stops = len(held), len(to)
    order = np.argsort(np.abs(to), kind="stable")
    ways = [order[to[order] < 0], order[to[order] >= 0]]
    longest = max(len(way) for way in ways)
    aims = np.stack([np.r_[to[way], np.full(longest - len(way), to[way[-1]] if len(way) else 0.0)] for way in ways])
    both = Poses(np.tile(begun.turn, (2, 1, 1)), np.tile(begun.at, (2, 1)), np.tile(begun.reached, 2))
    stands, still = np.tile(held, 2), np.zeros(2 * count)
    wide = corner if len(corner.outer) == 1 else corner.take(np.tile(np.arange(count), 2))
    travel, rack = (stands, still) if of_rack else (still, stands)
    found, came = follow(wide, both, travel, rack, np.repeat(aims, count, 0), of_rack)
    shape = (2, count, longest)
    turn, at, reached = found.turn.reshape(*shape, 3, 3), found.at.reshape(*shape, 3), found.reached.reshape(shape)
    places = np.empty((2, stops), dtype=int)
    for k, way in enumerate(ways):
        places[:, way] = [[k] * len(way), range(len(way))]
    side, rank = places
    pick = (side[None, :], np.arange(count)[:, None], rank[None, :])
    return Poses(turn[pick].reshape(-1, 3, 3), at[pick].reshape(-1, 3), reached[pick].reshape(-1)), came.reshape(
        2, count
    )


def curves(points: HardPoints, travel_mm: Sequence[float], rack_mm: Sequence[float] = (0.0,)) -> Curves:
    """All figures of a corner over a grid of travel and rack, travel the slower.

    Parameters
    ----------
    points : of one corner
    travel_mm : heights of the hub-face centre against the measured one [mm], bump positive
    rack_mm : how far the rod's inner end has moved outboard [mm]

    Examples
    --------
    Parallel and equal arms keep camber:

    >>> from rimcore.ride.points import LAYOUTS, Wheel
    >>> arms = {"upper_front": (100, -400, 100), "upper_rear": (-100, -400, 100), "upper_joint": (0, -100, 100),
    ...         "lower_front": (100, -400, -100), "lower_rear": (-100, -400, -100), "lower_joint": (0, -100, -100),
    ...         "rod_inner": (-100, -400, 0), "rod_outer": (-100, -100, 0)}
    >>> found = curves(HardPoints(LAYOUTS["wishbone"], arms, Wheel(0, 300)), [-50, 0, 50])
    >>> bool(abs(found.camber_deg).max() < 1e-9), found.track_shift_mm.round(3).tolist()
    (True, [-4.196, 0.0, -4.196])
    """
    poses = moved_to(points, travel_mm, rack_mm)
    travel = np.repeat(np.asarray(travel_mm, dtype=float), len(rack_mm))
    rack = np.tile(np.asarray(rack_mm, dtype=float), len(travel_mm))
    return measured(points, poses, travel, rack)


def measured(points: HardPoints | Abreast, poses: Poses, travel: Array, rack: Array) -> Curves:
    """All figures of poses that are known.

    Source: ISO 8855:2011 for camber, toe, caster and kingpin inclination.

    Parameters
    ----------
    points : of one corner, or of many abreast
    poses : known poses (n)
    travel : (n,) [mm]
    rack : (n,) [mm]
    """
    corner, wheel = points.corner, points.wheel
    _, jacobian = equations(corner, poses.turn, poses.at, travel, rack)
    jacobian[~poses.reached] = np.eye(6)
    speed = driven(corner, (poses.turn, poses.at, jacobian), rack, False)
    shift, spin = speed[:, :3], speed[:, 3:] / SCALE_MM
    axis = poses.turn @ wheel.axis
    swing = cross(spin, axis)
    flat = np.hypot(axis[:, 0], axis[:, 1])
    contact = _contact(poses, axis, points)
    carried = shift + cross(spin, contact - poses.at)
    track = contact[:, 1] - _contact(start(1), wheel.axis[None, :], points)[0, 1]
    half = np.nan if points.half_track_mm is None else points.half_track_mm
    with np.errstate(divide="ignore", invalid="ignore"):
        roll = (half + track) * carried[:, 1] / carried[:, 2]
    steering = _steering(points, poses, contact, axis, rack)
    found = {
        "camber_deg": -np.degrees(np.arcsin(np.clip(axis[:, 2], -1.0, 1.0))),
        "toe_deg": np.degrees(np.arctan2(axis[:, 0], axis[:, 1])),
        "track_shift_mm": track,
        "roll_centre_mm": roll,
        "motion_ratio": _motion_ratio(points, poses, shift, spin),
        "camber_rate": -np.degrees(swing[:, 2] / flat),
        "toe_rate": np.degrees((swing[:, 0] * axis[:, 1] - axis[:, 0] * swing[:, 1]) / flat**2),
        **steering,
    }
    return Curves(
        travel,
        rack,
        poses.reached,
        poses=poses,
        **{name: np.where(poses.reached, row, np.nan) for name, row in found.items()},
    )


def _contact(poses: Poses, axis: Array, points: HardPoints | Abreast) -> Array:
    """Contact points (n, 3): the wheel's centre less the loaded radius, up in the wheel's plane."""
    up = UP - axis[:, 2:] * axis
    up = up / np.linalg.norm(up, axis=1)[:, None]
    return np.asarray(poses.at + axis * points.wheel.centre_y_mm - up * points.wheel.radius_mm)


def _ends(points: HardPoints | Abreast, poses: Poses) -> tuple[Array, Array] | None:
    """Lower and upper point of the steering axis in each pose (n, 3)."""
    if points.layout.axis is None:
        return None
    lower, upper = points.layout.axis
    low = poses.of(points.at(lower))
    if points.layout.code == "strut":
        return low, np.broadcast_to(points.at(upper), low.shape)
    return low, poses.of(points.at(upper))


def _steering(points: HardPoints | Abreast, poses: Poses, contact: Array, axis: Array, rack: Array) -> dict[str, Array]:
    """Caster, KPI, scrub radius, trail and toggle margin; NaN where there is no steering axis."""
    names = ("caster_deg", "kpi_deg", "scrub_radius_mm", "trail_mm", "toggle_margin_deg")
    ends = _ends(points, poses)
    if ends is None:
        return {name: np.full(len(contact), np.nan) for name in names}
    low, high = ends
    along = high - low
    with np.errstate(divide="ignore", invalid="ignore"):
        ground = low + along * ((contact[:, 2] - low[:, 2]) / along[:, 2])[:, None]
    outboard = axis[:, :2] / np.linalg.norm(axis[:, :2], axis=1)[:, None]
    away = contact - ground
    return {
        "caster_deg": np.degrees(np.arctan2(-along[:, 0], along[:, 2])),
        "kpi_deg": np.degrees(np.arctan2(-along[:, 1], along[:, 2])),
        "scrub_radius_mm": away[:, 0] * outboard[:, 0] + away[:, 1] * outboard[:, 1],
        "trail_mm": -(away[:, 0] * outboard[:, 1] - away[:, 1] * outboard[:, 0]),
        "toggle_margin_deg": _toggle(points, poses, low, along, rack),
    }


def _toggle(points: HardPoints | Abreast, poses: Poses, low: Array, along: Array, rack: Array) -> Array:
    """Least turn between rod and steering arm, seen along the steering axis [deg]: 0 where they are in line."""
    unit = along / np.linalg.norm(along, axis=1)[:, None]
    outer = poses.of(points.at("rod_outer"))
    rod = points.at("rod_inner") - outer  # a new array, so that the rack may be added
    rod[:, 1] += rack
    arm = low - outer
    arm = arm - (arm * unit).sum(axis=1)[:, None] * unit
    rod = rod - (rod * unit).sum(axis=1)[:, None] * unit
    across = np.linalg.norm(cross(arm, rod), axis=1)
    angle = np.degrees(np.arctan2(across, (arm * rod).sum(axis=1)))
    return np.asarray(np.minimum(angle, 180.0 - angle))


def _motion_ratio(points: HardPoints | Abreast, poses: Poses, shift: Array, spin: Array) -> Array:
    """How much the spring shortens per millimetre of travel (n,)."""
    if points.spring is None:
        return np.full(len(shift), np.nan)
    body = np.array(points.spring.body, dtype=float)
    end = np.array(points.spring.moving, dtype=float)
    if points.spring.on == "knuckle":
        here = poses.of(end)
        speed = shift + cross(spin, here - poses.at)
    else:
        here, speed = _on_arm(points, points.spring.on, poses, shift, spin, end)
    gone = here - body
    with np.errstate(divide="ignore", invalid="ignore"):
        return np.asarray(-(gone * speed).sum(axis=1) / np.linalg.norm(gone, axis=1))


def _on_arm(
    points: HardPoints | Abreast, on: str, poses: Poses, shift: Array, spin: Array, end: Array
) -> tuple[Array, Array]:
    """A point of an arm in each pose, and its velocity: the arm turns about the line through its inner points."""
    front, rear, joint = (points.at(name) for name in points.layout.arms[on])
    hinge = (rear - front) / np.linalg.norm(rear - front)
    held = joint - front
    across = held - (held @ hinge) * hinge
    beside = np.cross(hinge, across)
    now = poses.of(joint) - front
    angle = np.arctan2(now @ beside, now @ across)
    arm = end - front
    along, out, side = (arm @ hinge) * hinge, arm - (arm @ hinge) * hinge, np.cross(hinge, arm)
    here = front + along + np.cos(angle)[:, None] * out + np.sin(angle)[:, None] * side
    joint_speed = shift + cross(spin, now + front - poses.at)
    radial = cross(np.broadcast_to(hinge, now.shape), now)
    rate = (joint_speed * radial).sum(axis=1) / (radial**2).sum(axis=1)
    return here, np.asarray(rate[:, None] * cross(np.broadcast_to(hinge, here.shape), here - front))
