"""Points carried between hub and body for many poses and many steering axes at once; everything broadcasts."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

Array = NDArray[np.float64]


Triple = tuple[Array, Array, Array]


@dataclass(frozen=True)
class Stand:
    """How a wheel stands, as arrays that broadcast with each other: degrees and mm, signs of the corner frame."""

    camber_deg: Array
    steer_deg: Array
    travel_mm: Array
    kpi_deg: Array
    caster_deg: Array
    kingpin_inboard_mm: Array

    def to_body(self, points: Triple) -> Triple:
        """Hub axes to body axes: tilt, then steer, then raise.

        >>> zero = np.zeros(1)
        >>> [float(v[0]) for v in Stand(zero, zero, zero + 10, zero, zero, zero).to_body((zero, zero + 1, zero + 2))]
        [0.0, 1.0, 12.0]
        """
        x, y, z = points
        c, s = np.cos(np.radians(self.camber_deg)), np.sin(np.radians(self.camber_deg))
        x, y, z = self._turn((x, c * y + s * z, c * z - s * y), 1.0)
        return x, y, np.asarray(z + self.travel_mm)

    def to_hub(self, points: Triple) -> Triple:
        """Body axes to hub axes, the inverse of :meth:`to_body`.

        >>> zero = np.zeros(1)
        >>> [float(v[0]) for v in Stand(zero, zero, zero + 10, zero, zero, zero).to_hub((zero, zero + 1, zero + 12))]
        [0.0, 1.0, 2.0]
        """
        x, y, z = points
        x, y, z = self._turn((x, y, np.asarray(z - self.travel_mm)), -1.0)
        c, s = np.cos(np.radians(self.camber_deg)), np.sin(np.radians(self.camber_deg))
        return x, np.asarray(c * y - s * z), np.asarray(s * y + c * z)

    def _turn(self, points: Triple, way: float) -> Triple:
        """About the steering axis by the steer (Rodrigues), or back."""
        x, y, z = points[0], points[1] + self.kingpin_inboard_mm, points[2]
        kx, ky = -np.tan(np.radians(self.caster_deg)), -np.tan(np.radians(self.kpi_deg))
        norm = 1.0 / np.sqrt(kx * kx + ky * ky + 1.0)
        kx, ky, kz = kx * norm, ky * norm, norm
        angle = np.radians(way * self.steer_deg)
        cos, sin = np.cos(angle), np.sin(angle)
        along = (kx * x + ky * y + kz * z) * (1 - cos)
        return (
            np.asarray(x * cos + (ky * z - kz * y) * sin + kx * along),
            np.asarray(y * cos + (kz * x - kx * z) * sin + ky * along - self.kingpin_inboard_mm),
            np.asarray(z * cos + (kx * y - ky * x) * sin + kz * along),
        )
