"""How far the hub stands from the plain model of a steering axis and a gain, where the links of a corner are known.

The plain pose tilts the wheel, turns it about one axis and raises it. Links do more: toe and track change with travel,
the axis leans. What is left between both is small and smooth; it stands in a table over steer and travel and is put on
after the plain pose.
"""

from __future__ import annotations

from dataclasses import dataclass, field
from functools import cached_property
from typing import Protocol

import numpy as np
from numpy.typing import NDArray

Array = NDArray[np.float64]


Triple = tuple[Array, Array, Array]


@dataclass(frozen=True, eq=False)
class Follow:
    """What the links leave after the plain pose, for one height and one camber at it.

    Attributes
    ----------
    steer_deg, travel_mm : (s,), (t,) evenly spaced, rising
    camber_deg : (t,) of the wheel with the steering straight
    turn_rad, shift_mm : (t, s, 3) rotation vector and translation in hub axes: hub = turn(plain hub) + shift
    """

    steer_deg: Array = field(repr=False)
    travel_mm: Array = field(repr=False)
    camber_deg: Array = field(repr=False)
    turn_rad: Array = field(repr=False)
    shift_mm: Array = field(repr=False)

    def camber_at(self, travel_mm: Array) -> Array:
        """Camber at a travel, steering straight [deg]; held at the ends of the table."""
        return np.asarray(np.interp(travel_mm, self.travel_mm, self.camber_deg))

    def at(self, steer_deg: Array, travel_mm: Array) -> tuple[Array, Array]:
        """Rotation vector and shift (..., 3), bilinear; held at the edges of the table."""
        s, t = np.broadcast_arrays(np.asarray(steer_deg, dtype=float), np.asarray(travel_mm, dtype=float))
        i, a = _place(self.travel_mm, t)
        j, b = _place(self.steer_deg, s)
        a, b = a[..., None], b[..., None]
        table = self._both
        low = table[i, j] * (1 - b) + table[i, j + 1] * b
        high = table[i + 1, j] * (1 - b) + table[i + 1, j + 1] * b
        found = low * (1 - a) + high * a
        return found[..., :3], found[..., 3:]

    @cached_property
    def _both(self) -> Array:
        """Rotation vector and shift side by side, shape (t, s, 6)."""
        return np.concatenate([self.turn_rad, self.shift_mm], axis=2)

    def matrices(self, steer_deg: Array, travel_mm: Array) -> tuple[Array, Array]:
        """What ``onward`` does at each pose, as rows: plain hub @ turn (..., 3, 3) + shift (..., 3)."""
        turn, shift = self.at(steer_deg, travel_mm)
        rows = [_turned((np.float64(x), np.float64(y), np.float64(z)), turn) for x, y, z in np.eye(3)]  # type: ignore[arg-type]
        return np.stack([np.stack(row, axis=-1) for row in rows], axis=-2), shift

    def onward(self, plain: Triple, steer_deg: Array, travel_mm: Array) -> Triple:
        """From the plain hub's axes to those of the hub on its links; everything broadcasts."""
        turn, shift = self.at(steer_deg, travel_mm)
        x, y, z = _turned(plain, turn)
        return x + shift[..., 0], y + shift[..., 1], z + shift[..., 2]

    def back(self, hub: Triple, steer_deg: Array, travel_mm: Array) -> Triple:
        """The other way round."""
        turn, shift = self.at(steer_deg, travel_mm)
        return _turned((hub[0] - shift[..., 0], hub[1] - shift[..., 1], hub[2] - shift[..., 2]), -turn)

    def per_mm(self, far_mm: Array) -> Array:
        """Most that a point this far from the hub moves by it per mm of travel [mm/mm]."""
        return self._steepest(0, self.travel_mm, far_mm)

    def per_rad(self, far_mm: Array) -> Array:
        """Most that a point this far from the hub moves by it per radian of steer [mm/rad]."""
        return self._steepest(1, np.radians(self.steer_deg), far_mm)

    def _steepest(self, axis: int, along: Array, far_mm: Array) -> Array:
        step = np.diff(along)
        shape = [1, 1, 1]
        shape[axis] = len(step)
        wide = step.reshape(shape)
        turn, shift = (
            np.linalg.norm(np.diff(table, axis=axis) / wide, axis=2).max() for table in (self.turn_rad, self.shift_mm)
        )
        return np.asarray(shift + turn * far_mm)


def _place(grid: Array, value: Array) -> tuple[NDArray[np.intp], Array]:
    """Index of the cell below a value on an even grid, and the share of the way through it."""
    at = np.clip((value - grid[0]) / (grid[1] - grid[0]), 0.0, len(grid) - 1.0)
    cell = np.minimum(at.astype(np.intp), len(grid) - 2)
    return cell, np.asarray(at - cell)


def _turned(points: Triple, turn_rad: Array) -> Triple:
    """Points turned by a rotation vector (..., 3) (Rodrigues); everything broadcasts.

    >>> x, y, z = _turned((np.ones(1), np.zeros(1), np.zeros(1)), np.array([[0.0, 0.0, np.pi / 2]]))
    >>> [round(float(one[0]), 9) for one in (x, y, z)]
    [0.0, 1.0, 0.0]
    """
    x, y, z = points
    u, v, w = turn_rad[..., 0], turn_rad[..., 1], turn_rad[..., 2]
    sine, cosine = _shares(u * u + v * v + w * w)
    p, q, r = v * z - w * y, w * x - u * z, u * y - v * x
    return (
        x + sine * p + cosine * (v * r - w * q),
        y + sine * q + cosine * (w * p - u * r),
        z + sine * r + cosine * (u * q - v * p),
    )


#: below this square of an angle [rad²] the series below are right to 1e-11
_SMALL = 0.05


def _shares(square: Array) -> tuple[Array, Array]:
    """sin(a) ÷ a and (1 − cos a) ÷ a² from a² [rad²], by their series where all angles are small.

    >>> [round(float(one[0]), 9) for one in _shares(np.array([0.04]))], [round(float(one[0]), 9) for one in _shares(np.array([4.0]))]
    ([0.993346654, 0.498335554], [0.454648713, 0.354036709])
    """
    if square.size and square.max() < _SMALL:
        sine = 1.0 - square / 6.0 * (1.0 - square / 20.0 * (1.0 - square / 42.0 * (1.0 - square / 72.0)))
        return sine, 0.5 - square / 24.0 * (1.0 - square / 30.0 * (1.0 - square / 56.0 * (1.0 - square / 90.0)))
    angle = np.sqrt(square)
    return np.sinc(angle / np.pi), 0.5 * np.sinc(angle / (2.0 * np.pi)) ** 2


class Linked(Protocol):
    """A corner whose links are known, as the wheel well asks it."""

    @property
    def kpi_deg(self) -> float: ...
    @property
    def caster_deg(self) -> float: ...
    @property
    def kingpin_inboard_mm(self) -> float: ...

    def camber_change_deg(self, from_mm: float, to_mm: float) -> float:
        """What travel does to the camber [deg]."""

    def followed(
        self, camber_deg: float, at_mm: float, axis: tuple[float, float, float], rack_mm: tuple[float, ...]
    ) -> Follow:
        """The table for a wheel that stands with a camber at a height.

        Axis is kingpin inclination, caster, kingpin distance.
        """

    def lock_less_deg(self, limit_mm: float, rack_mm: tuple[float, ...]) -> tuple[float, float]:
        """What limiters of a thickness take off the lock, front edge outboard and inboard [deg]."""
