"""Links of a corner held to their lengths: where the knuckle goes as wheel and rack move.

The knuckle is a rigid body with six freedoms. Five are taken by the links, the sixth by the height of the hub-face
centre. Each pose is found by Newton's method on the rotation group from the pose before it, so that a pose counts as
reached only where travel, and then rack, can be moved there without a singular pose; many poses go abreast.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from functools import cached_property

import numpy as np
from numpy.typing import NDArray

from rimcore.ride.stepping import EXACT_MM, SCALE_MM

Array = NDArray[np.float64]

#: matrices of the vector product with each axis, (3, 9)
_SKEW = np.array(
    [[0, 0, 0, 0, 0, -1, 0, 1, 0], [0, 0, 1, 0, 0, 0, -1, 0, 0], [0, -1, 0, 1, 0, 0, 0, 0, 0]], dtype=float
)


@dataclass(frozen=True)
class Corner:
    """What holds a knuckle, in the corner frame at the measured ride height; a leading axis of one, or of one a pose.

    Attributes
    ----------
    outer, inner : (1 or n, m, 3) ends of the links at knuckle and body [mm]; five, or three and a strut
    top, across : of a strut: (1 or n, 3) its fixed point [mm], and (1 or n, 2, 3) directions across its axis; the last
        link is the one on the rack
    """

    outer: Array
    inner: Array
    top: Array | None = None
    across: Array | None = None

    @cached_property
    def lengths(self) -> Array:
        """(1 or n, m) what the links hold [mm]."""
        return np.asarray(np.linalg.norm(self.outer - self.inner, axis=2))

    def take(self, which: NDArray[np.int_]) -> Corner:
        """The corners of some poses."""
        if len(self.outer) == 1:
            return self
        return Corner(*(None if one is None else one[which] for one in (self.outer, self.inner, self.top, self.across)))  # type: ignore[arg-type]


def corner_of(outer: Array, inner: Array, top: Array | None = None, knuckle: Array | None = None) -> Corner:
    """One corner of links (m, 3), and a strut through two points (3,): top, fixed, and one of the knuckle.

    Source: none; a container.

    Parameters
    ----------
    outer : outer joints (m, 3) [mm]
    inner : inner joints (m, 3) [mm]
    top : of a strut, on the body (3,); None without one [mm]
    knuckle : another point of the strut (3,); None without one [mm]

    >>> corner_of(np.zeros((5, 3)), np.ones((5, 3))).lengths.shape
    (1, 5)
    """
    return corners_of(
        outer[None], inner[None], None if top is None else top[None], None if knuckle is None else knuckle[None]
    )


def corners_of(outer: Array, inner: Array, top: Array | None = None, knuckle: Array | None = None) -> Corner:
    """Corners abreast: links (n, m, 3), and struts through two points (n, 3).

    Source: none; a container.

    Parameters
    ----------
    outer : (n, m, 3) [mm]
    inner : (n, m, 3) [mm]
    top : (n, 3), None without struts [mm]
    knuckle : (n, 3), None without struts [mm]

    >>> corners_of(np.zeros((7, 3, 3)), np.ones((7, 3, 3)), np.ones((7, 3)), np.zeros((7, 3))).across.shape
    (7, 2, 3)
    """
    if top is None or knuckle is None:
        return Corner(outer, inner)
    along = top - knuckle
    first = np.cross(along, np.eye(3)[np.argmin(np.abs(along), axis=1)])
    first /= _or_one(np.linalg.norm(first, axis=1, keepdims=True))
    second = np.cross(along, first) / _or_one(np.linalg.norm(along, axis=1, keepdims=True))
    return Corner(outer, inner, top, np.stack([first, second], axis=1))


def _or_one(values: Array) -> Array:
    return np.where(values == 0, 1.0, values)


def stacked(corners: Sequence[Corner], each: int) -> Corner:
    """Corners of one layout abreast, each so many times.

    Source: none; a container.

    Parameters
    ----------
    corners : of one layout
    each : times, 1 or more
    """
    rows = {name: [getattr(one, name) for one in corners] for name in ("outer", "inner", "top", "across")}
    return repeated(Corner(*(None if some[0] is None else np.concatenate(some) for some in rows.values())), each)  # type: ignore[arg-type]


def repeated(corner: Corner, each: int) -> Corner:
    """Corners abreast, each so many times in a row.

    Source: none; a container.

    Parameters
    ----------
    corner : corners abreast
    each : times, 1 or more
    """
    parts = (corner.outer, corner.inner, corner.top, corner.across)
    return Corner(*(None if one is None else np.repeat(one, each, 0) for one in parts))  # type: ignore[arg-type]


@dataclass(frozen=True)
class Poses:
    """Rotation (n, 3, 3) and hub-face centre (n, 3) of the knuckle; ``reached`` (n,)."""

    turn: Array
    at: Array
    reached: NDArray[np.bool_]

    def of(self, point: Array) -> Array:
        """A point of the knuckle, (3,) or (n, 3) as measured, in each pose: (n, 3)."""
        return np.asarray((self.turn * point[..., None, :]).sum(axis=-1) + self.at)


def start(count: int) -> Poses:
    """The measured pose, so many times.

    Source: none; a container.

    Parameters
    ----------
    count : 1 or more
    """
    return Poses(np.broadcast_to(np.eye(3), (count, 3, 3)).copy(), np.zeros((count, 3)), np.ones(count, dtype=bool))


def equations(corner: Corner, turn: Array, at: Array, travel: Array, rack: Array) -> tuple[Array, Array]:
    """Residuals (n, 6) [mm] and their Jacobian (n, 6, 6) against translation and scaled rotation.

    Rows: links, then a strut's two, then the height of the hub-face centre.

    Source: rigid links keep their length; Jacobian by the rotation's derivative.

    Parameters
    ----------
    corner : n corners abreast
    turn : rotations (n, 3, 3)
    at : hub centres (n, 3) [mm]
    travel : (n,) [mm]
    rack : (n,) [mm]
    """
    lengths = corner.lengths
    links = lengths.shape[1]
    reach = corner.outer @ turn.transpose(0, 2, 1)
    gone = reach + at[:, None, :] - corner.inner
    gone[:, -1, 1] -= rack
    left, jacobian = np.empty((len(at), 6)), np.zeros((len(at), 6, 6))
    left[:, :links] = ((gone**2).sum(axis=2) - lengths**2) / (2 * lengths)
    towards = gone / lengths[..., None]
    jacobian[:, :links, :3] = towards
    jacobian[:, :links, 3:] = cross(reach, towards) / SCALE_MM
    if corner.across is not None and corner.top is not None:
        sideways = corner.across @ turn.transpose(0, 2, 1)
        up = corner.top - at
        left[:, 3:5] = (sideways * up[:, None, :]).sum(axis=2) - (corner.across * corner.top[:, None, :]).sum(axis=2)
        jacobian[:, 3:5, :3] = -sideways
        jacobian[:, 3:5, 3:] = cross(sideways, up[:, None, :]) / SCALE_MM
    left[:, 5] = at[:, 2] - travel
    jacobian[:, 5, 2] = 1.0
    return left, jacobian


def cross(one: Array, two: Array) -> Array:
    """Vector product over the last axis; quicker than the general one for small arrays.

    Source: definition.

    Parameters
    ----------
    one : (…, 3)
    two : (…, 3)

    >>> cross(np.array([1.0, 0.0, 0.0]), np.array([0.0, 1.0, 0.0])).tolist()
    [0.0, 0.0, 1.0]
    """
    x, y, z = one[..., 0], one[..., 1], one[..., 2]
    u, v, w = two[..., 0], two[..., 1], two[..., 2]
    return np.stack([y * w - z * v, z * u - x * w, x * v - y * u], axis=-1)


def moved(turn: Array, at: Array, by: Array) -> tuple[Array, Array]:
    """A pose after a movement (n, 6): translation, and rotation as twice the tangent of half its angle (Cayley's map).

    Source: Cayley's map of a rotation.

    Parameters
    ----------
    turn : rotations (n, 3, 3)
    at : (n, 3) [mm]
    by : (n, 6), three [mm] and three of the scaled rotation

    >>> turn, at = moved(np.eye(3)[None], np.zeros((1, 3)), np.array([[1.0, 0.0, 0.0, 0.0, 0.0, 2 * SCALE_MM]]))
    >>> turn[0].round(9).tolist(), at.tolist()
    ([[0.0, -1.0, 0.0], [1.0, 0.0, 0.0], [0.0, 0.0, 1.0]], [[1.0, 0.0, 0.0]])
    """
    spin = by[:, 3:] / SCALE_MM
    once = (spin @ _SKEW).reshape(-1, 3, 3) @ turn
    twice = (spin @ _SKEW).reshape(-1, 3, 3) @ once
    share = 1.0 / (1.0 + (spin**2).sum(axis=1) / 4.0)
    return turn + share[:, None, None] * (once + 0.5 * twice), at + by[:, :3]


def driven(corner: Corner, at_pose: tuple[Array, Array, Array], rack: Array, of_rack: bool) -> Array:
    """What one millimetre of travel, or of rack, moves: (n, 6); 0 where the pose is singular.

    Source: implicit function theorem.

    Parameters
    ----------
    corner : n corners abreast
    at_pose : rotations (n, 3, 3), hub centres (n, 3) [mm], Jacobian (n, 6, 6)
    rack : (n,) [mm]
    of_rack : whether the rack drives, else travel
    """
    turn, at, jacobian = at_pose
    wanted = np.zeros((len(at), 6))
    if of_rack:
        outer, inner = corner.outer[:, -1], corner.inner[:, -1]
        wanted[:, corner.outer.shape[1] - 1] = (
            (turn[:, 1, :] * outer).sum(axis=1) + at[:, 1] - inner[:, 1] - rack
        ) / corner.lengths[:, -1]
    else:
        wanted[:, 5] = 1.0
    return _solved(jacobian, wanted)


def _solved(jacobian: Array, right: Array) -> Array:
    """Solutions (n, 6); 0 where the equations are singular."""
    try:
        return np.asarray(np.linalg.solve(jacobian, right[..., None])[..., 0])
    except np.linalg.LinAlgError:
        flat = np.linalg.slogdet(jacobian)[0] == 0
        return np.asarray(
            np.linalg.solve(
                np.where(flat[:, None, None], np.eye(6), jacobian), np.where(flat[:, None], 0.0, right)[..., None]
            )[..., 0]
        )


def follow(corner: Corner, begun: Poses, travel: Array, rack: Array, to: Array, of_rack: bool) -> tuple[Poses, Array]:
    """Move each pose to another travel, or rack, and say how far it came.

    Parameters
    ----------
    corner : n corners abreast
    begun : where they stand (n)
    travel, rack : (n,) where they stand [mm]
    to : (n, k) travels or racks wanted, one after the other [mm]
    of_rack : the rack moves, and not the wheel

    Returns
    -------
    The poses (n × k), and (n,) the travel or rack that each came to, within 1e-6 mm of what it could. What is lost
    once is lost for all that is wanted after it.
    """
    from rimcore.ride.compiled import follow_each

    strut = np.zeros((1, 0, 3))
    if corner.top is not None and corner.across is not None:
        strut = np.concatenate([corner.top[:, None, :], corner.across], axis=1)
    held = np.concatenate([corner.outer, corner.inner, corner.lengths[..., None]], axis=2)
    turn, at, reached, came = follow_each(
        np.ascontiguousarray(held),
        np.ascontiguousarray(strut),
        np.ascontiguousarray(begun.turn),
        np.ascontiguousarray(begun.at),
        begun.reached,
        travel=np.asarray(travel, dtype=float),
        rack=np.asarray(rack, dtype=float),
        to=np.ascontiguousarray(to, dtype=float),
        of_rack=of_rack,
    )
    return Poses(turn.reshape(-1, 3, 3), at.reshape(-1, 3), reached.reshape(-1)), came


def polished(corner: Corner, poses: Poses, travel: Array, rack: Array) -> Poses:
    """Poses held to their links within 1e-10 mm: what is left after the way there is taken off at once.

    Source: Newton's method.

    Parameters
    ----------
    corner : n corners abreast
    poses : near to their links (n)
    travel : (n,) [mm]
    rack : (n,) [mm]
    """
    turn, at = poses.turn, poses.at
    for _ in range(3):
        left, jacobian = equations(corner, turn, at, travel, rack)
        left[~poses.reached] = 0.0
        if np.abs(left).max(initial=0.0) < EXACT_MM:
            break
        turn, at = moved(turn, at, -_solved(jacobian, left))
    return Poses(turn, at, poses.reached)
