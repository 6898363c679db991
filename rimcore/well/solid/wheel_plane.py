"""A wheel that steers and travels: obstacles carried into its plane."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass, field
from typing import Any

import numpy as np
from numpy.typing import NDArray

from rimcore.quantities.errors import BadInput
from rimcore.well.solid.follow import Follow
from rimcore.well.solid.pose import rotation, tilted

Array = NDArray[np.float64]


Triple = tuple[Array, Array, Array]


@dataclass(frozen=True)
class Well:
    """How a wheel stands and moves. Degrees and mm in the signs of the corner frame."""

    centre_mm: float
    camber_deg: float = 0.0
    camber_gain_deg_per_mm: float = 0.0
    bump_mm: float = 0.0
    droop_mm: float = 0.0
    ride_drop_mm: float = 0.0
    steer_out_deg: float = 0.0
    steer_in_deg: float = 0.0
    kpi_deg: float = 0.0
    caster_deg: float = 0.0
    kingpin_inboard_mm: float = 0.0
    #: what the links leave after the plain pose, where they are known
    follow: Follow | None = None

    def camber_at(self, travel_mm: Array) -> Array:
        """Camber at a travel, steering straight [deg]."""
        return (
            self.camber_deg + self.camber_gain_deg_per_mm * travel_mm
            if self.follow is None
            else self.follow.camber_at(travel_mm)
        )


@dataclass(frozen=True)
class Hinge:
    """How an arm turns: its inner pivot and its outer joint at the measured ride height, (y, z) in body axes [mm].

    The arm turns about a lengthwise axis through the pivot; its joint rises with the wheel.
    """

    pivot_mm: tuple[float, float]
    joint_mm: tuple[float, float]

    def __post_init__(self) -> None:
        if self.length_mm < 20.0:
            raise BadInput("pivot and joint of an arm lie at least 20 mm apart", "pivot_mm")

    @property
    def length_mm(self) -> float:
        return math.hypot(self.joint_mm[0] - self.pivot_mm[0], self.joint_mm[1] - self.pivot_mm[1])

    def reaches(self, droop_mm: float, bump_mm: float) -> tuple[bool, bool]:
        """Can the joint follow the hub down to a droop, and up to a bump?

        >>> Hinge((-400.0, -100.0), (-100.0, -100.0)).reaches(100.0, 310.0)
        (True, False)
        """
        rise = self.joint_mm[1] - self.pivot_mm[1]
        return rise - droop_mm >= -self.length_mm, rise + bump_mm <= self.length_mm

    def turned(self, points_mm: Array, travel_mm: float, read_at_mm: float = 0.0) -> Array:
        """Points (n, 3) [mm], read at one travel of the wheel, where they stand at another.

        >>> Hinge((-400.0, -100.0), (-100.0, -100.0)).turned(np.array([[0.0, -100.0, -100.0]]), 150.0).round(1).tolist()
        [[0.0, -140.2, 50.0]]
        """
        turn = self.turn_rad(np.array(travel_mm)) - self.turn_rad(np.array(read_at_mm))
        y, z = points_mm[:, 1] - self.pivot_mm[0], points_mm[:, 2] - self.pivot_mm[1]
        return np.column_stack([points_mm[:, 0], *about_pivot(turn, y, z, *self.pivot_mm)])

    def turn_rad(self, travel_mm: Array) -> Array:
        """Angle by which the arm has turned at a travel, from y towards z for an outboard joint [rad].

        >>> arm = Hinge((-400.0, -100.0), (-100.0, -100.0))
        >>> round(float(np.degrees(arm.turn_rad(np.array(150.0)))), 6)
        30.0
        """
        return arm_turn_rad(self.rise_mm, self.length_mm, self.way, travel_mm)

    @property
    def rise_mm(self) -> float:
        """How far the joint stands above the pivot [mm]."""
        return self.joint_mm[1] - self.pivot_mm[1]

    @property
    def way(self) -> float:
        """1 for a joint outboard of its pivot, else −1."""
        return 1.0 if self.joint_mm[0] >= self.pivot_mm[0] else -1.0


def arm_turn_rad(rise_mm: Any, length_mm: Any, way: Any, travel_mm: Any) -> Array:
    """Angle by which an arm turns about its pivot while its joint rises by a travel [rad]; everything broadcasts.

    Parameters
    ----------
    rise_mm : joint above pivot at the measured ride height [mm]
    length_mm : pivot to joint [mm]
    way : 1 for a joint outboard of the pivot, −1 inboard
    travel_mm : of the joint, bump positive, from there [mm]

    Source: plane geometry; the joint stays on its circle, beyond its top or bottom the arm stands still.

    >>> round(float(np.degrees(arm_turn_rad(0.0, 300.0, 1.0, 150.0))), 6)
    30.0
    """
    now = np.arcsin(np.clip((rise_mm + travel_mm) / length_mm, -1.0, 1.0))
    return np.asarray(way * (now - np.arcsin(rise_mm / length_mm)))


def about_pivot(turn_rad: Array, y_mm: Array, z_mm: Array, pivot_y_mm: Any, pivot_z_mm: Any) -> tuple[Array, Array]:
    """(y, z) of points given from a pivot, turned about it from y towards z [mm]; everything broadcasts.

    Source: plane rotation.

    Parameters
    ----------
    turn_rad : any shape [rad]
    y_mm : of the points from the pivot [mm]
    z_mm : of the points from the pivot [mm]
    pivot_y_mm : of the pivot [mm]
    pivot_z_mm : of the pivot [mm]

    >>> [round(float(v), 6) for v in about_pivot(np.array(np.pi / 2), np.array(3.0), np.array(0.0), 10.0, 20.0)]
    [10.0, 23.0]
    """
    cos, sin = np.cos(turn_rad), np.sin(turn_rad)
    return np.asarray(pivot_y_mm + cos * y_mm - sin * z_mm), np.asarray(pivot_z_mm + sin * y_mm + cos * z_mm)


@dataclass(frozen=True)
class ReadAt:
    """How an obstacle's point was read: in hub axes at a pose, so that it stands elsewhere with another steering axis.

    ``shift_mm`` is added in body axes; both arrays broadcast to the thing's points, shape (n, 3) [mm].
    """

    hub_mm: Array = field(repr=False)
    camber_deg: float
    steer_deg: float
    travel_mm: float
    raised_mm: float
    shift_mm: Array = field(repr=False)


@dataclass(frozen=True)
class Thing:
    """An obstacle: points (n, 3) [mm] in body or hub axes, each with the radius.

    ``frame`` is ``body``, ``knuckle`` (rides with the wheel) or ``arm``: given in body axes at the
    measured ride height, then turning with travel about its hinge.
    """

    name: str
    frame: str
    points_mm: Array = field(repr=False)
    radius_mm: float = 0.0
    hinge: Hinge | None = None
    #: None: the points hold for every steering axis
    read: ReadAt | None = None
    #: points that run along an edge, in order: share of the way to the next reading, shape (n,)
    between: Array | None = field(default=None, repr=False)
    #: how far each may lie off because it was not read itself, sideways and radially [mm], shape (n, 2)
    loose_mm: Array | None = field(default=None, repr=False)

    def __post_init__(self) -> None:
        if self.frame == "arm" and self.hinge is None:
            raise BadInput("an arm needs its pivot and its joint", "pivot_mm")


class Mover:
    """Carries body points into the wheel's plane: across u and radius ρ at steer s and travel t."""

    def __init__(self, well: Well, points_mm: Array, hinges: Sequence[Hinge | None] = ()) -> None:
        self.well = well
        self.hinges = Hinges(hinges, points_mm) if any(hinges) else None
        axis = np.array([-math.tan(math.radians(well.caster_deg)), -math.tan(math.radians(well.kpi_deg)), 1.0])
        self.axis = axis / np.linalg.norm(axis)
        self.pivot = np.array([0.0, -well.kingpin_inboard_mm, 0.0])
        self.points = points_mm - self.pivot

    def across_and_radius(
        self, steer_deg: Array, travel_mm: Array, which: NDArray[np.intp] | None = None
    ) -> tuple[Array, Array]:
        """(u, ρ) of points; steer and travel broadcast with the points on the last axis.

        The inverse of the pose: lower by t, turn back about the steering axis, tilt back by the camber.
        """
        points = self.points if which is None else self.points[which]
        x, y, z = points[..., 0], np.asarray(points[..., 1]), np.asarray(points[..., 2] - travel_mm)
        if self.hinges is not None:
            turned_y, turned_z = self.hinges.turned(travel_mm, which)
            y, z = np.asarray(turned_y - self.pivot[1]), np.asarray(turned_z - travel_mm)
        angle = np.radians(-steer_deg)
        cos, sin = np.cos(angle), np.sin(angle)
        kx, ky, kz = self.axis
        along = (kx * x + ky * y + kz * z) * (1 - cos)
        vx = x * cos + (ky * z - kz * y) * sin + kx * along
        vy = y * cos + (kz * x - kx * z) * sin + ky * along + self.pivot[1]
        vz = z * cos + (kx * y - ky * x) * sin + kz * along
        camber = np.radians(self.well.camber_at(travel_mm))
        tilt_cos, tilt_sin = np.cos(camber), np.sin(camber)
        hub: Triple = (vx, np.asarray(tilt_cos * vy - tilt_sin * vz), np.asarray(tilt_sin * vy + tilt_cos * vz))
        if self.well.follow is not None:
            hub = self.well.follow.onward(hub, steer_deg, travel_mm)
        return np.asarray(hub[1] - self.well.centre_mm), np.asarray(np.sqrt(hub[0] * hub[0] + hub[2] * hub[2]))

    def over_grid(self, steer_deg: Array, travel_mm: Array) -> tuple[NDArray[np.float32], NDArray[np.float32]]:
        """(u, ρ) of all points at every pose, shape (travel, steer, points), in single precision for the table."""
        if self.hinges is None and self.well.follow is not None:
            return self._linked_over_grid(self.well.follow, steer_deg, travel_mm)
        if self.hinges is not None:
            far = self.across_and_radius(steer_deg[None, :, None], travel_mm[:, None, None])
            return far[0].astype(np.float32), far[1].astype(np.float32)
        turns = np.stack([rotation(self.axis, float(angle)) for angle in steer_deg])
        turned, down = (self.points @ turns).astype(np.float32), turns[:, 2].astype(np.float32)
        t = travel_mm.astype(np.float32)[:, None, None]
        vx, vy, vz = (turned[None, :, :, k] - t * down[None, :, None, k] for k in range(3))
        vy += np.float32(self.pivot[1])
        camber = np.radians(self.well.camber_at(travel_mm))[:, None, None]
        cos, sin = np.cos(camber).astype(np.float32), np.sin(camber).astype(np.float32)
        across = cos * vy - sin * vz - np.float32(self.well.centre_mm)
        up = sin * vy + cos * vz
        return np.asarray(across), np.sqrt(vx * vx + up * up)

    def _linked_over_grid(
        self, follow: Follow, steer_deg: Array, travel_mm: Array
    ) -> tuple[NDArray[np.float32], NDArray[np.float32]]:
        """The same on links: every pose is a turn and a shift, put together first and laid on all points in one
        product.
        """
        turns = np.stack([rotation(self.axis, float(angle)) for angle in steer_deg])
        turned, shift = follow.matrices(steer_deg[None, :], travel_mm[:, None])
        onward = tilted(self.well.camber_at(travel_mm))[:, None] @ turned
        whole = turns[None] @ onward
        shift = shift + self.pivot[1] * onward[:, :, 1] - travel_mm[:, None, None] * whole[:, :, 2]
        rows = np.swapaxes(whole, 2, 3).astype(np.float32).reshape(-1, 3)
        hub = (rows @ self.points.T.astype(np.float32)).reshape(*shift.shape, -1) + shift.astype(np.float32)[..., None]
        across, ahead, up = hub[:, :, 1] - np.float32(self.well.centre_mm), hub[:, :, 0], hub[:, :, 2]
        return np.asarray(across), np.sqrt(ahead * ahead + up * up)

    def reach_mm(self) -> Array:
        """Largest distance of each point from the steering axis over the travel [mm]: mm of arc per radian."""
        ends = [self.points - [0.0, 0.0, t] for t in (-self.well.droop_mm, self.well.bump_mm)]
        found = np.maximum(*(np.linalg.norm(np.cross(end, self.axis), axis=1) for end in ends))
        return np.asarray(found if self.well.follow is None else found + self.well.follow.per_rad(self._far_mm()))

    def _far_mm(self) -> Array:
        """Largest distance of each point from the hub over the travel [mm]."""
        ends = [self.points + self.pivot - [0.0, 0.0, t] for t in (-self.well.droop_mm, self.well.bump_mm)]
        return np.asarray(np.maximum(*(np.linalg.norm(end, axis=1) for end in ends)))

    def speed_per_mm(self) -> Array:
        """Most that a point moves in the hub's axes per mm of travel [mm/mm]: the travel and the camber it brings."""
        far = np.maximum(
            *(np.linalg.norm(self.points - [0.0, 0.0, t], axis=1) for t in (-self.well.droop_mm, self.well.bump_mm))
        )
        gain, follow = self.well.camber_gain_deg_per_mm, self.well.follow
        linked: Any = 0.0
        if follow is not None:
            gain = float(np.abs(np.diff(follow.camber_deg) / np.diff(follow.travel_mm)).max())
            linked = follow.per_mm(self._far_mm())
        turned = abs(math.radians(gain)) * (far + abs(self.pivot[1]))
        return np.asarray(1.0 + turned + linked + (self.hinges.speed_per_mm() if self.hinges is not None else 0.0))


class Hinges:
    """Where points that turn with arms stand at a travel; points without a hinge stay."""

    def __init__(self, hinges: Sequence[Hinge | None], points_mm: Array) -> None:
        still = Hinge((0.0, 0.0), (1e9, 0.0))
        each = [hinge or still for hinge in hinges]
        self.pivot = np.array([hinge.pivot_mm for hinge in each])
        self.rise, self.length, self.way = np.array([(hinge.rise_mm, hinge.length_mm, hinge.way) for hinge in each]).T
        self.arm = points_mm[:, 1:] - self.pivot

    def turned(self, travel_mm: Array, which: NDArray[np.intp] | None) -> tuple[Array, Array]:
        """(y, z) of points at a travel, in body axes [mm]."""
        at: Any = slice(None) if which is None else which
        turn = self._turn(travel_mm, at)
        arm, pivot = self.arm[at], self.pivot[at]
        return about_pivot(turn, arm[..., 0], arm[..., 1], pivot[..., 0], pivot[..., 1])

    def carried(
        self, points: tuple[Array, Array, Array], travel_mm: Array, which: NDArray[np.intp], read_at_mm: Array
    ) -> tuple[Array, Array, Array]:
        """Points that stand in the body at one travel, turned with their arms to another; everything broadcasts."""
        turn = self._turn(travel_mm, which) - self._turn(read_at_mm, which)
        py, pz = self.pivot[which][..., 0], self.pivot[which][..., 1]
        return points[0], *about_pivot(turn, points[1] - py, points[2] - pz, py, pz)

    def _turn(self, travel_mm: Array, at: Any) -> Array:
        return arm_turn_rad(self.rise[at], self.length[at], self.way[at], travel_mm)

    def speed_per_mm(self) -> Array:
        """Most that a point moves in the body per mm of travel: its own arm over the joint's; steep arms move more."""
        return np.asarray(np.linalg.norm(self.arm, axis=1) / (0.5 * self.length))


def hinges_of(things: Sequence[Thing]) -> Hinges | None:
    """How the stacked points of things turn with arms; None where none does."""
    hinges = [thing.hinge for thing in things for _ in range(len(thing.points_mm))]
    return Hinges(hinges, np.vstack([thing.points_mm for thing in things])) if any(hinges) else None


def mover_of(well: Well, things: Sequence[Thing]) -> Mover:
    """All points of things on the body and on arms, ready to be carried into the wheel's plane."""
    hinges = [thing.hinge for thing in things for _ in range(len(thing.points_mm))]
    return Mover(well, np.vstack([thing.points_mm for thing in things]), hinges)
