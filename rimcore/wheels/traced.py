"""A measured half section in place of the built-in outline, and a bare rim without its tyre."""

from __future__ import annotations

import re
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from rimcore.quantities.errors import BadInput
from rimcore.wheels.outline import BARREL_MM, Outline
from rimcore.wheels.section import check_outline
from rimcore.wheels.tyre import section_carried_mm

#: how far a traced or measured outline may be off on each side [mm] (a card held to the tyre, common practice)
TRACED_SIDE_MM = 1.0

Points = tuple[tuple[float, float], ...]


@dataclass(frozen=True)
class Traced(Outline):
    """An outline through measured points from the inner rim edge over the tread to the outer one.

    ``points_mm`` are (across from the centre plane, radius from the axle); the rim below is the
    built-in one. Good to about ``TRACED_SIDE_MM`` between points not more than 15 mm apart.
    """

    points_mm: Points = ()

    @property
    def outermost_mm(self) -> float:
        return max(self.lip_mm, max(across for across, _ in self.points_mm))

    @property
    def widest_radius_mm(self) -> float:
        return max(self.points_mm, key=lambda point: abs(point[0]))[1]

    def half_width_at(self, radius_mm: float) -> float:
        """Half width on the inner side at a radius [mm]: that is where a rule is held along the axle."""
        if radius_mm > self.crown_mm:
            raise BadInput(
                f"{radius_mm:.0f} mm is above the tread ({self.crown_mm:.0f} mm); measure lower or use the perch station"
            )
        found = [-across for across in self._crossings(radius_mm, 1) if across <= 0]
        if radius_mm <= self.flange_radius_mm or not found:
            return self.lip_mm
        return max(found)

    def radius_at(self, across_mm: float) -> float:
        """Radius of the section at a place across it [mm]."""
        found = self._crossings(across_mm, 0)
        if not found:
            raise BadInput(f"{across_mm:.0f} mm lies outside the measured section")
        return max(found)

    def _crossings(self, at: float, axis: int) -> list[float]:
        """Where the run of points crosses a radius (axis 1) or a place across (axis 0)."""
        found = []
        for start, end in zip(self.points_mm, self.points_mm[1:], strict=False):
            low, high = sorted((start[axis], end[axis]))
            if low <= at <= high:
                share = 0.0 if high == low else (at - start[axis]) / (end[axis] - start[axis])
                found.append(start[1 - axis] + share * (end[1 - axis] - start[1 - axis]))
        return found

    def polygon(self) -> NDArray[np.float64]:
        bed = self.seat_radius_mm - BARREL_MM
        lips = [
            (self.lip_mm, self.flange_radius_mm),
            (self.lip_mm, bed),
            *self._barrel(),
            (-self.lip_mm, bed),
            (-self.lip_mm, self.flange_radius_mm),
        ]
        return np.array([*self.points_mm, *lips], dtype=float)


def traced(built_in: Outline, points_mm: Points) -> Traced:
    """Put measured points in place of the built-in tyre.

    Source: straight lines between what was traced.

    Parameters
    ----------
    built_in : half section that would be drawn otherwise [in]
    points_mm : (n, 2), n ≥ 5, from the inside to the outside [mm]

    Raises
    ------
    BadInput : fewer than five points, not from inside to outside, below the rim, or crossing

    Examples
    --------
    >>> plain = Outline(225, 317.15, 191, 190.5, 107.95, 215.9)
    >>> box = ((-110.0, 240.0), (-112.0, 270.0), (-95.0, 312.0), (0.0, 316.0), (95.0, 312.0), (112.0, 270.0), (110.0, 240.0))
    >>> traced(plain, box).half_width_at(255.0), traced(plain, box).crown_mm
    (111.0, 316.0)
    """
    if len(points_mm) < 5:
        raise BadInput(
            "a measured section needs at least five points, from the inner rim edge over the tread to the outer one",
            "profile",
        )
    if points_mm[0][0] >= points_mm[-1][0]:
        raise BadInput("give the points from the inner side (minus) over the tread to the outer side (plus)", "profile")
    if min(radius for _, radius in points_mm) < built_in.seat_radius_mm:
        raise BadInput(
            f"a point lies below the bead seat ({built_in.seat_radius_mm:.0f} mm from the axle); radii are measured from the axle",
            "profile",
        )
    section = max(across for across, _ in points_mm) - min(across for across, _ in points_mm)
    crown = max(radius for _, radius in points_mm)
    found = Traced(
        section,
        crown,
        min(built_in.tread_mm, 0.9 * section),
        built_in.rim_width_mm,
        built_in.lip_mm,
        built_in.seat_radius_mm,
        points_mm,
    )
    try:
        check_outline(found.polygon().tolist())
    except BadInput as error:
        raise BadInput(error.message, "profile") from error
    return found


def on_rim(points_mm: Points, traced_on_in: float | None, width_in: float) -> tuple[Points | None, float | None]:
    """A traced section on a rim: its shape on the width it was traced on, elsewhere only its section width [mm].

    The width grows by 0.4 mm for each mm of rim (ISO 4000-1); how the sidewall then stands is not known.

    Parameters
    ----------
    points_mm : (n, 2), across and radius [mm]
    traced_on_in : width of the rim it was traced on; None where not said [in]
    width_in : of the rim it goes on, over 0 [in]

    >>> box = ((-110.0, 240.0), (-112.0, 270.0), (0.0, 316.0), (112.0, 270.0), (110.0, 240.0))
    >>> on_rim(box, 8.0, 8.0)[1], on_rim(box, 8.0, 8.5)
    (None, (None, 229.1))
    """
    if traced_on_in is None or abs(traced_on_in - width_in) < 0.01:
        return points_mm, None
    section = max(across for across, _ in points_mm) - min(across for across, _ in points_mm)
    return None, round(section_carried_mm(section, traced_on_in, width_in), 1)


def parse_profile(text: str) -> Points:
    """Read a measured section: one point a line, across and radius in mm.

    >>> parse_profile("-110 240; -112 270; 0 316; 112 270; 110 240")[2]
    (0.0, 316.0)
    """
    accepted = (
        "one point a line: across from the centre plane (minus inside), radius from the axle, in mm, as “-110 240”"
    )
    found = []
    for line in re.split(r"[;\n]+", text.replace("−", "-").replace("\r", "")):
        parts = re.split(r"[\s,]+", line.strip())
        if parts == [""]:
            continue
        try:
            across, radius = (float(part) for part in parts)
        except ValueError as error:
            raise BadInput(f"“{line.strip()}” is not a point; accepted: {accepted}", "profile") from error
        if not (-400 <= across <= 400 and 50 <= radius <= 700):
            raise BadInput(
                f"“{line.strip()}” is out of range; accepted: across -400 to 400, radius 50 to 700 mm", "profile"
            )
        found.append((across, radius))
    if not 5 <= len(found) <= 200:
        raise BadInput(f"{len(found)} points; accepted: 5 to 200, {accepted}", "profile")
    return tuple(found)


def bare_rim(outline: Outline) -> NDArray[np.float64]:
    """Half section of the rim without its tyre: flanges, bead seats, barrel; shape (n, 2) [mm].

    >>> bare_rim(Outline(225, 317.15, 191, 190.5, 107.95, 215.9))[:, 1].max().round(1).item()
    233.4
    """
    lip, foot, flange, seat = outline.lip_mm, outline.rim_width_mm / 2, outline.flange_radius_mm, outline.seat_radius_mm
    outer = [(-lip, flange), (-foot, flange), (-foot, seat), (foot, seat), (foot, flange), (lip, flange)]
    bed = seat - BARREL_MM
    return np.array([*outer, (lip, bed), *outline._barrel(), (-lip, bed)], dtype=float)


def from_card(
    pixels: list[tuple[float, float]],
    bar: tuple[tuple[float, float], tuple[float, float]],
    bar_mm: float,
    crown_mm: float,
) -> Points:
    """Points clicked along a photographed tyre card, scaled by its control bar.

    Parameters
    ----------
    pixels : clicked from the inner rim edge over the tread to the outer one, (right, down)
    bar : both ends of the control bar; it lies along the axle, its middle in the centre plane
    bar_mm : length of the bar [mm]
    crown_mm : radius of the tread's middle, from the rolling measurement or the size [mm]

    Examples
    --------
    >>> from_card([(0, 80), (10, 20), (50, 0), (90, 20), (100, 80)], ((0, 90), (100, 90)), 100.0, 316.0)[2]
    (0.0, 316.0)
    """
    (x1, y1), (x2, y2) = bar
    length = float(np.hypot(x2 - x1, y2 - y1))
    if length < 10:
        raise BadInput("click both ends of the control bar; they lie too near to each other", "bar")
    along = np.array([x2 - x1, y2 - y1]) / length
    up = np.array([along[1], -along[0]])
    middle = np.array([(x1 + x2) / 2, (y1 + y2) / 2])
    points = (np.array(pixels, dtype=float) - middle) @ np.column_stack([along, up]) * (bar_mm / length)
    if points[:, 1].mean() < 0:
        # Photographed from its back: the tread still lies away from the bar.
        points[:, 1] *= -1
    points[:, 1] += crown_mm - points[:, 1].max()
    return tuple((round(float(across), 2), round(float(radius), 2)) for across, radius in points)
