"""Poses: from the wheel's own axes to the car's body and back."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from rimcore.well.solid.follow import Follow

Vector = NDArray[np.float64]


_STILL: Vector = np.eye(3)


@dataclass(frozen=True)
class Pose:
    """Where a wheel stands: degrees and mm, signs of the corner frame (x forward, y outboard, z up).

    Camber negative = top inboard; steer positive = front edge outboard; travel positive = wheel up.
    """

    camber_deg: float = 0.0
    steer_deg: float = 0.0
    travel_mm: float = 0.0
    kpi_deg: float = 0.0
    caster_deg: float = 0.0
    kingpin_inboard_mm: float = 0.0
    #: what the links leave after this plain pose, where they are known
    follow: Follow | None = None

    def to_body(self, points_mm: Vector) -> Vector:
        """Points (n, 3) in hub axes carried to body axes: tilt, then steer, then raise.

        >>> Pose(travel_mm=10).to_body(np.array([[0.0, 1.0, 2.0]])).tolist()
        [[0.0, 1.0, 12.0]]
        """
        pivot = np.array([0.0, -self.kingpin_inboard_mm, 0.0])
        if self.follow is not None:
            points_mm = np.stack(self.follow.back(_columns(points_mm), *self._where()), axis=1)
        tilted = points_mm @ _tilt(self.camber_deg).T
        turned = (tilted - pivot) @ self._steer().T + pivot
        return np.asarray(turned + np.array([0.0, 0.0, self.travel_mm]))

    def to_hub(self, points_mm: Vector) -> Vector:
        """Points (n, 3) in body axes carried back to hub axes; the inverse of :meth:`to_body`.

        >>> Pose(travel_mm=10).to_hub(np.array([[0.0, 1.0, 12.0]])).tolist()
        [[0.0, 1.0, 2.0]]
        """
        pivot = np.array([0.0, -self.kingpin_inboard_mm, 0.0])
        lowered = points_mm - np.array([0.0, 0.0, self.travel_mm])
        turned = (lowered - pivot) @ self._steer() + pivot
        plain = np.asarray(turned @ _tilt(self.camber_deg))
        return plain if self.follow is None else np.stack(self.follow.onward(_columns(plain), *self._where()), axis=1)

    def _where(self) -> tuple[Vector, Vector]:
        return np.array([self.steer_deg]), np.array([self.travel_mm])

    def _steer(self) -> Vector:
        axis = np.array([-math.tan(math.radians(self.caster_deg)), -math.tan(math.radians(self.kpi_deg)), 1.0])
        return rotation(axis, self.steer_deg)


def _columns(points_mm: Vector) -> tuple[Vector, Vector, Vector]:
    return points_mm[:, 0], points_mm[:, 1], points_mm[:, 2]


def rotation(axis: Vector, angle_deg: float) -> Vector:
    """Matrix (3, 3) of a rotation about an axis; positive steer carries +x towards +y (Rodrigues).

    Source: Rodrigues' formula.

    Parameters
    ----------
    axis : unit vector (3,)
    angle_deg : positive carries +x towards +y about +z [deg]

    >>> np.round(rotation(np.array([0.0, 0.0, 1.0]), 90.0) @ np.array([1.0, 0.0, 0.0]), 6).tolist()
    [0.0, 1.0, 0.0]
    """
    if angle_deg == 0.0:
        return _STILL
    x, y, z = axis / np.linalg.norm(axis)
    angle = math.radians(angle_deg)
    cross = np.array([[0.0, -z, y], [z, 0.0, -x], [-y, x, 0.0]])
    return np.asarray(_STILL + math.sin(angle) * cross + (1 - math.cos(angle)) * (cross @ cross))


def tilted(camber_deg: Vector) -> Vector:
    """Matrices (n, 3, 3) of the tilt for several cambers (n,) [deg].

    Source: rotation matrix about the car's long axis.

    Parameters
    ----------
    camber_deg : (n,), top outboard positive [deg]

    >>> np.round(tilted(np.array([-90.0]))[0] @ np.array([0.0, 0.0, 1.0]), 6).tolist()
    [0.0, -1.0, 0.0]
    """
    return np.stack([_tilt(float(camber)) for camber in camber_deg])


def _tilt(camber_deg: float) -> Vector:
    """Rotation about x that carries the top inboard for negative camber."""
    c, s = math.cos(math.radians(camber_deg)), math.sin(math.radians(camber_deg))
    return np.array([[1.0, 0.0, 0.0], [0.0, c, s], [0.0, -s, c]])
