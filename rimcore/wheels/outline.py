"""The built-in outline of a tyre on its rim: half section about the wheel's centre plane."""

from __future__ import annotations

import math
from dataclasses import dataclass
from functools import lru_cache

import numpy as np
from numpy.typing import NDArray

from rimcore.quantities.errors import BadInput
from rimcore.wheels.tyre import MM_PER_IN, Tyre, section_on_rim_mm
from rimcore.wheels.wheel import Wheel, same_rim

#: height of a J flange over the bead seat (ISO 4000-2 contour J, from memory)
FLANGE_MM = 17.5
#: radial thickness of the barrel and depth of the drop centre below it (common practice)
BARREL_MM = 7.0
DROP_CENTRE_MM = 17.0
#: share of the section height at which a tyre is widest (common practice)
WIDEST_SHARE = 0.52
#: exponent of the superellipse that rounds shoulder and lower sidewall
ROUNDNESS = 2.4
#: drop of the crown at the tread edge, as a share of the tread width
CROWN_SHARE = 0.02
#: how far the polygon may lie from the smooth curve, on either side [mm]
POLYGON_MM = 0.02
#: share of that which the choice of vertices uses; the rest is what its arithmetic neglects
SHARE = 0.66
#: points of each part of the smooth curve from which the polygon's vertices are chosen
DENSE = 81
#: uncertainty of each side when only the nominal size is known: carcasses of one size differ by up to
#: a whole size step (10 mm of width, common practice), so half of that lies on each side of the mean
NOMINAL_SIDE_MM = 2.5
#: uncertainty of each side when the section width was measured with a caliper
MEASURED_SIDE_MM = 0.5


@dataclass(frozen=True)
class Outline:
    """Half section of wheel and tyre together, symmetrical about the centre plane; all in mm.

    Assumes a J rim, an inflated unloaded tyre of elliptic shoulder and sidewall, no squash, no
    growth. Against a real carcass of the stated section width the sidewall is good to about 2.5 mm
    and the tread to about 3 mm (common practice).
    """

    section_mm: float
    crown_mm: float
    tread_mm: float
    rim_width_mm: float
    lip_mm: float
    seat_radius_mm: float

    @property
    def flange_radius_mm(self) -> float:
        return self.seat_radius_mm + min(FLANGE_MM, 0.4 * (self.crown_mm - self.seat_radius_mm))

    @property
    def widest_radius_mm(self) -> float:
        height = self.crown_mm - self.seat_radius_mm
        return max(self.seat_radius_mm + WIDEST_SHARE * height, self.flange_radius_mm + 0.05 * height)

    @property
    def edge_radius_mm(self) -> float:
        """Radius at the edge of the tread."""
        return self.crown_mm - CROWN_SHARE * self.tread_mm

    @property
    def outermost_mm(self) -> float:
        """Half of the greatest width: the tyre's, or the rim's where it stands out further."""
        return max(self.section_mm / 2, self.lip_mm)

    def half_width_at(self, radius_mm: float) -> float:
        """Half width of the outline at a radius [mm]; the rim's lip below its flange.

        Raises
        ------
        BadInput : the radius lies above the tread

        >>> Outline(225, 317.15, 191, 190.5, 107.95, 215.9).half_width_at(100.0)
        107.95
        """
        if radius_mm > self.crown_mm:
            raise BadInput(
                f"{radius_mm:.0f} mm is above the tread ({self.crown_mm:.0f} mm); measure lower or use the perch station"
            )
        if radius_mm <= self.flange_radius_mm:
            return self.lip_mm
        half = self.section_mm / 2
        if radius_mm < self.widest_radius_mm:
            share = (self.widest_radius_mm - radius_mm) / (self.widest_radius_mm - self.flange_radius_mm)
            return self.rim_width_mm / 2 + (half - self.rim_width_mm / 2) * _superellipse(share)
        if radius_mm <= self.edge_radius_mm:
            share = (radius_mm - self.widest_radius_mm) / (self.edge_radius_mm - self.widest_radius_mm)
            return self.tread_mm / 2 + (half - self.tread_mm / 2) * _superellipse(share)
        drop = self.crown_mm - self.edge_radius_mm
        return self.tread_mm / 2 * math.sqrt(max(0.0, (self.crown_mm - radius_mm) / drop))

    def radius_at(self, across_mm: float) -> float:
        """Radius of the tread or shoulder at a place across the tyre (from the centre plane) [mm].

        Raises
        ------
        BadInput : outside the tyre's width

        >>> Outline(225, 317.15, 191, 190.5, 107.95, 215.9).radius_at(0.0)
        317.15
        """
        across = abs(across_mm)
        if across <= self.tread_mm / 2:
            return self.crown_mm - (self.crown_mm - self.edge_radius_mm) * (2 * across / self.tread_mm) ** 2
        half = self.section_mm / 2
        if across > half:
            raise BadInput(f"{across_mm:.0f} mm lies outside the tyre ({half:.0f} mm each side of its centre plane)")
        share = (across - self.tread_mm / 2) / (half - self.tread_mm / 2)
        return self.widest_radius_mm + (self.edge_radius_mm - self.widest_radius_mm) * _superellipse(share)

    def polygon(self) -> NDArray[np.float64]:
        """Closed outline, shape (n, 2): across [mm], radius [mm], outboard positive; not touching the axis.

        Its edges lie within ``POLYGON_MM`` of the smooth curve on either side.

        >>> Outline(225, 317.15, 191, 190.5, 107.95, 215.9).polygon().shape[1]
        2
        """
        outer = self._outer_half()
        inner = outer[::-1] * [-1.0, 1.0]
        return np.vstack([inner[:-1], outer, np.array(self._barrel(), dtype=float)])

    def smooth(self, count: int) -> list[NDArray[np.float64]]:
        """The smooth curve from the middle of the crown down to the flange's foot: crown, shoulder, lower sidewall.

        Each has shape (count, 2): across, radius [mm].
        """
        half, top, widest = self.section_mm / 2, self.edge_radius_mm, self.widest_radius_mm
        foot, flange = self.rim_width_mm / 2, self.flange_radius_mm
        across = np.linspace(0.0, self.tread_mm / 2, count)
        crown = np.column_stack([across, self.crown_mm - (self.crown_mm - top) * (2 * across / self.tread_mm) ** 2])
        sin, cos = _quarter(count)
        shoulder = np.column_stack(
            [self.tread_mm / 2 + (half - self.tread_mm / 2) * sin, widest + (top - widest) * cos]
        )
        sidewall = np.column_stack([foot + (half - foot) * cos, widest - (widest - flange) * sin])
        return [crown, shoulder, sidewall]

    def _outer_half(self) -> NDArray[np.float64]:
        """From the middle of the crown over the outer shoulder down to the flange's foot and the edge of the barrel."""
        curves = [_few_vertices(curve) for curve in self.smooth(DENSE)]
        curves[2][-1] = self.rim_width_mm / 2, self.flange_radius_mm
        lips = [(self.lip_mm, self.flange_radius_mm), (self.lip_mm, self.seat_radius_mm - BARREL_MM)]
        return np.vstack([curves[0], curves[1], curves[2][1:], np.array(lips)])

    def _barrel(self) -> list[tuple[float, float]]:
        """Inner surface of the rim from the outer flange's foot to the inner one's."""
        bed = self.seat_radius_mm - BARREL_MM
        low = bed - DROP_CENTRE_MM
        wide = self.rim_width_mm
        return [(wide * share, radius) for share, radius in ((0.34, bed), (0.22, low), (-0.05, low), (-0.30, bed))]


@lru_cache(maxsize=4)
def _quarter(count: int) -> tuple[NDArray[np.float64], NDArray[np.float64]]:
    """A quarter of the unit superellipse: rising and falling half axis, each of shape (count,)."""
    angle = np.linspace(0.0, math.pi / 2, count)
    sin, cos = np.sin(angle) ** (2 / ROUNDNESS), np.cos(angle) ** (2 / ROUNDNESS)
    sin[0] = cos[-1] = 0.0
    return sin, cos


def _few_vertices(curve: NDArray[np.float64]) -> NDArray[np.float64]:
    """Vertices of a polygon close to a smooth curve, shape (n, 2).

    Closest where it bends most, so that every chord has the same sagitta; then pushed to the outer side of
    the bend by half of it, so that the curve runs in the middle between vertices and chords.
    """
    way = np.diff(curve, axis=0)
    length = np.hypot(way[:, 0], way[:, 1])
    heading = np.arctan2(way[:, 1], way[:, 0])
    # Heading at the curve's points: half way between its pieces.
    at = np.concatenate(
        [
            [1.5 * heading[0] - 0.5 * heading[1]],
            (heading[1:] + heading[:-1]) / 2,
            [1.5 * heading[-1] - 0.5 * heading[-2]],
        ]
    )
    along = np.concatenate([[0.0], np.cumsum(length)])
    # An arc of a length and a turn has the sagitta length × turn ÷ 8; the polygon may use the room on both sides.
    run = np.concatenate([[0.0], np.cumsum(np.sqrt(np.abs(np.diff(at)) * length / (8 * 2 * SHARE * POLYGON_MM)))])
    wanted = np.linspace(0.0, run[-1], max(3, math.ceil(run[-1]) + 1))
    vertices = np.column_stack([np.interp(wanted, run, curve[:, 0]), np.interp(wanted, run, curve[:, 1])])
    angle, place = np.interp(wanted, run, at), np.interp(wanted, run, along)
    sagitta = np.abs(np.diff(angle)) * np.diff(place) / 8
    bend = -1.0 if angle[-1] > angle[0] else 1.0
    out = bend * 0.57 * np.maximum(np.append(sagitta, sagitta[-1]), np.append(sagitta[0], sagitta))
    return np.asarray(vertices + out[:, None] * np.column_stack([-np.sin(angle), np.cos(angle)]))


@lru_cache(maxsize=2048)
def outline(wheel: Wheel, tyre: Tyre, measured_section_mm: float | None = None) -> Outline:
    """Built-in outline of a tyre on a wheel.

    Parameters
    ----------
    wheel, tyre : as parsed; their rim diameters must agree
    measured_section_mm : caliper reading over the mounted tyre; replaces the section from the size [mm]

    Source: section on the rim ISO 4000-1; tread width (1.075 − 0.005 · aspect) · section, handbook
    rule, from memory; rim flange ISO 4000-2, from memory.

    Examples
    --------
    >>> from rimcore.wheels.tyre import parse_tyre
    >>> from rimcore.wheels.wheel import parse_wheel
    >>> outline(parse_wheel("17x7.5 +45"), parse_tyre("225/45R17")).section_mm
    225.0
    """
    if not same_rim(wheel.diameter_in, tyre.rim_diameter_in):
        raise BadInput(f"a {tyre.rim_diameter_in:g} in tyre does not go on a {wheel.diameter_in:g} in wheel", "tyre")
    section = measured_section_mm or section_on_rim_mm(tyre, wheel.width_in)
    tread = min((1.075 - 0.005 * tyre.aspect_pct) * tyre.section_width_mm, 0.96 * section)
    rim_width = wheel.width_in * MM_PER_IN
    return Outline(
        section, tyre.diameter_mm / 2, tread, rim_width, wheel.flange_width_mm / 2, wheel.diameter_in * MM_PER_IN / 2
    )


def _superellipse(share: float) -> float:
    """Height of a unit superellipse at ``share`` of its half axis."""
    return float((1 - min(1.0, max(0.0, share)) ** ROUNDNESS) ** (1 / ROUNDNESS))
