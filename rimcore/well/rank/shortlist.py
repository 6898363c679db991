"""A long shortlist put in order at once.

The least margin of every wheel and tyre on an axle, quickly and to a few millimetres.

Only the order of a list rests on this. What a page shows of a pair is judged by ``fitment.judge``.
"""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass, field, replace
from functools import lru_cache

import numpy as np
from numpy.typing import NDArray
from scipy import ndimage

from rimcore.quantities.errors import CoreError
from rimcore.well.judge.ranges import at_corner
from rimcore.well.judge.rest_gaps import standing
from rimcore.well.judge.tolerance import Tolerances
from rimcore.well.judge.wellmap import map_cloud, wanted_at_most, wheel_free
from rimcore.well.read.measured import Axle, Candidate, Reading, placeable, placed
from rimcore.well.read.travel import Motion
from rimcore.well.solid.gap import outline_polygon
from rimcore.wheels.fitted import Fitted
from rimcore.wheels.outline import Outline
from rimcore.wheels.traced import Traced
from rimcore.wheels.wheel import Wheel

Array = NDArray[np.float64]


#: step of the table, how far it reaches beyond the obstacles, and step of the places whose depth is taken [mm]
STEP_MM, BEYOND_MM, COARSE_MM = 1.5, 60.0, 5.0


#: points of each of the three curves of a half outline
CURVE = 12


#: margins are told apart to this [mm]
LIFT_MM = 0.5


class MarginTable:
    """Least margin over all poses at every place of the wheel's plane, for the obstacles of one axle.

    An outline's margin is the least value along its edge; where obstacles lie inside it, how deep they lie,
    taken as the shorter of the ways out sideways and over the tread.
    """

    def __init__(
        self,
        points_mm: Array,
        lift_mm: Array,
        lips_mm: Sequence[float] = (),
        axial: Sequence[tuple[float, float, float]] = (),
    ) -> None:
        """``points_mm`` (n, 2): across from the mounting face and radius.

        ``lift_mm`` (n,): radius of the obstacle and margin wanted.

        ``lips_mm`` are planes the tyre stays inside of at rest, less their margin; ``axial`` are (across, radius,
        margin) of what goes on along the axle's way beyond the point that was read.
        """
        self.lips, self.axial = np.array(lips_mm), np.array(axial).reshape(-1, 3)
        self.known = len(points_mm) > 0
        if not self.known:
            return
        self.low = points_mm.min(axis=0) - BEYOND_MM
        self.shape = tuple(int(n) for n in np.ceil((points_mm.max(axis=0) + BEYOND_MM - self.low) / STEP_MM) + 1)
        cells = ((points_mm - self.low) / STEP_MM).astype(np.intp)
        lifts = np.ceil(lift_mm / LIFT_MM) * LIFT_MM
        table = np.full(self.shape, np.inf, dtype=np.float32)
        for lift in np.unique(lifts):
            free = np.ones(self.shape, dtype=bool)
            mine = cells[lifts == lift]
            free[mine[:, 0], mine[:, 1]] = False
            np.minimum(table, ndimage.distance_transform_edt(free).astype(np.float32) * STEP_MM - lift, out=table)
        self.flat = table.ravel()
        coarse = np.unique(np.column_stack([np.round(points_mm / COARSE_MM), lifts]), axis=0)
        self.points, self.lifts = coarse[:, :2] * COARSE_MM, coarse[:, 2]

    def margins_mm(self, shape: Outline, centres_mm: Array) -> Array:
        """Least margin of one outline at places across, shape (n,) [mm]; NaN where nothing is measured.

        Examples
        --------
        >>> from rimcore.wheels.tyre import parse_tyre
        >>> from rimcore.wheels.wheel import parse_wheel
        >>> shape = Fitted(parse_wheel("17x8 +40"), parse_tyre("225/45R17")).outline
        >>> table = MarginTable(np.array([[-160.0, 250.0]]), np.array([5.0]))
        >>> [round(margin) for margin in table.margins_mm(shape, np.array([-40.0, -20.0, -60.0])).tolist()]
        [0, 20, -19]
        """
        if not self.known:
            return np.full(len(centres_mm), np.nan)
        outside, deep = self.outside_mm(shape, centres_mm), self.deep_mm(shape, centres_mm)
        return np.asarray(np.minimum(np.minimum(deep, outside), self.at_lips_mm(shape, centres_mm)))

    def outside_mm(self, shape: Outline, centres_mm: Array) -> Array:
        """Least margin along the edge of an outline at places across, shape (n,) [mm]."""
        edge, _ = _edge_of(shape)
        i = ((edge[:, 0] + (centres_mm[:, None] - self.low[0])) * (1 / STEP_MM)).astype(np.int32)
        j = ((edge[:, 1] - self.low[1]) * (1 / STEP_MM)).astype(np.int32)
        columns, rows = self.shape
        beyond = np.hypot(np.maximum(-i, i - columns + 1).clip(0), np.maximum(-j, j - rows + 1).clip(0))
        near = self.flat.take(i.clip(0, columns - 1) * rows + j.clip(0, rows - 1)) + beyond * STEP_MM
        return np.asarray(near.min(axis=1), dtype=float)

    def at_lips_mm(self, shape: Outline, centres_mm: Array) -> Array:
        """Margin at rest to the lip's plane, and along the axle to what goes on beyond its point, shape (n,) [mm]."""
        _, outer = _edge_of(shape)
        found = np.full(len(centres_mm), np.inf)
        if len(self.lips):
            found = float(self.lips.min()) - centres_mm - shape.outermost_mm
        meets = self.axial[self.axial[:, 1] <= shape.crown_mm]
        if len(meets):
            half = np.interp(meets[:, 1], outer[::-1, 1], outer[::-1, 0])
            found = np.minimum(found, (centres_mm[:, None] - half - meets[:, 0] - meets[:, 2]).min(axis=1))
        return found

    def deep_mm(self, shape: Outline, centres_mm: Array) -> Array:
        """Margin of what lies deepest inside an outline at places across, shape (n,) [mm]; infinite: nothing does."""
        _, outer = _edge_of(shape)
        radius = self.points[:, 1]
        low, high = float(outer[:, 1].min()), float(outer[:, 1].max())
        reach = float(outer[:, 0].max())
        across = self.points[:, 0]
        within = (
            (radius > low) & (radius < high) & (across > centres_mm.min() - reach) & (across < centres_mm.max() + reach)
        )
        if not within.any():
            return np.full(len(centres_mm), np.inf)
        half = np.interp(radius[within], outer[::-1, 1], outer[::-1, 0])
        sideways = half - np.abs(across[within] - centres_mm[:, None])
        depth = np.minimum(sideways, high - radius[within])
        found = np.where(depth > 0, -depth - self.lifts[within], np.inf)
        return np.asarray(found.min(axis=1))


@lru_cache(maxsize=2048)
def _edge_of(shape: Outline) -> tuple[Array, Array]:
    """Places along an outline, and along its outer half from the tread down; each of shape (n, 2)."""
    if isinstance(shape, Traced):
        polygon = outline_polygon(shape)
        outer = polygon[polygon[:, 0] >= 0]
        return polygon, outer[np.argsort(-outer[:, 1], kind="stable")]
    outer = np.vstack(shape.smooth(CURVE))
    return np.vstack([outer, outer * [-1.0, 1.0]]), outer


def margin_table(axle: Axle, candidate: Candidate, tolerances: Tolerances) -> MarginTable:
    """The table of an axle, whatever the wheel: of the candidate only height, camber and levers count."""
    return _margin_table(replace(axle, hub=type(axle.hub)(), axle_load_kg=None), wheel_free(candidate), tolerances)


@lru_cache(maxsize=12)
def _margin_table(axle: Axle, candidate: Candidate, tolerances: Tolerances) -> MarginTable:
    beside = axle.held.touched(axle.readings) if axle.held is not None else ()
    seen = seen_of(axle, candidate, tolerances, wanted_at_most, beside)
    lips: list[float] = []
    axial: list[tuple[float, float, float]] = []
    for rest in seen.rests:
        margin = tolerances.wanted(_field_of(rest.reading))
        if rest.reading.station.place == "arch":
            lips += (rest.flat_mm[:, 0] + candidate.levers.lip_rolled_mm - margin).tolist()
        elif rest.reading.station.place in ("damper", "rail", "arm"):
            axial += [(across, radius, margin) for across, radius in rest.flat_mm.tolist()]
        if rest.alone:
            seen.put(rest.flat_mm, margin, margin)
    return MarginTable(np.vstack(seen.points_mm), np.concatenate(seen.lift_mm), lips, axial)


@dataclass(frozen=True)
class AtRest:
    """A reading's obstacle in the wheel's plane at rest, across and radius (n, 2) [mm], and is it judged so alone."""

    reading: Reading
    flat_mm: Array
    alone: bool


@dataclass
class Seen:
    """What stands round the wheels of an axle: points over all poses with radius and margin wanted, and all at rest."""

    points_mm: list[Array] = field(default_factory=lambda: [np.zeros((0, 2))])
    lift_mm: list[Array] = field(default_factory=lambda: [np.zeros(0)])
    wanted_mm: list[float] = field(default_factory=list)
    rests: list[AtRest] = field(default_factory=list)

    def put(self, points_mm: Array, lift_mm: Array | float, *wanted_mm: float) -> None:
        self.points_mm.append(points_mm)
        self.lift_mm.append(np.broadcast_to(lift_mm, len(points_mm)))
        self.wanted_mm += wanted_mm


def seen_of(
    axle: Axle,
    candidate: Candidate,
    tolerances: Tolerances,
    wanted: Callable[[Reading, Tolerances], float],
    beside: Sequence[Reading] = (),
) -> Seen:
    """The obstacles of an axle in the wheel's plane, whatever the wheel.

    Parameters
    ----------
    axle, candidate : of the candidate height, camber and levers
    tolerances : margins wanted
    wanted : margin of a reading in motion [mm]
    beside : readings that stand beside the others for want of a settled trial fit

    Source: none; a container.
    """
    seen = Seen()
    for corner in axle.corners:
        here, stands, motion = at_corner(corner, axle.readings), candidate.at(corner), axle.motion(corner)
        moving = map_cloud(here, motion, stands, at_corner(corner, tuple(beside)))
        if moving is not None:
            readings, cloud = moving
            margins = np.array([wanted(reading, tolerances) for reading in readings])
            lifts = np.repeat(margins[cloud.grid_owner] + cloud.grid_radii, cloud.across.shape[1])
            seen.put(np.column_stack([cloud.across.ravel(), cloud.radius.ravel()]), lifts, *margins.tolist())
        for reading in filter(placeable, here):
            alone = moving is None or placed(reading).frame == "knuckle"
            seen.rests.append(AtRest(reading, _flat(reading, stands, motion), alone))
    return seen


def _field_of(reading: Reading) -> str:
    return "arch_side" if reading.station.place == "arch" else reading.station.place


def _flat(reading: Reading, candidate: Candidate, motion: Motion) -> Array:
    """Where a reading's obstacle stands in the wheel's plane at rest, shape (n, 2).

    Across from the mounting face, radius.
    """
    obstacle = placed(reading)
    _, pose = standing(reading, candidate, motion)
    hub = obstacle.points_mm if obstacle.frame == "knuckle" else pose.to_hub(obstacle.points_mm)
    return np.column_stack([hub[:, 1], np.hypot(hub[:, 0], hub[:, 2])])


def pair_margins_mm(
    table: MarginTable, wheels: Sequence[Wheel], rims_in: Sequence[float], fit: Callable[[Wheel, int], Fitted]
) -> Array:
    """Least margin of every wheel with every tyre, shape (wheels, tyres) [mm].

    NaN where they don't go together or nothing is known.

    Parameters
    ----------
    table : least margins of an outline over offsets
    wheels : as parsed, each with its offset
    rims_in : rim diameter of every tyre
    fit : a wheel with the tyre of a number, as it would stand on the axle; asked once for every width and tyre
    """
    found = np.full((len(wheels), len(rims_in)), np.nan)
    alike: dict[tuple[float, float], list[int]] = {}
    for number, wheel in enumerate(wheels):
        alike.setdefault((wheel.diameter_in, wheel.width_in), []).append(number)
    for (diameter_in, _), numbers in alike.items():
        first = wheels[numbers[0]]
        known: dict[Outline, Array] = {}
        shift = np.array([(first.offset_mm or 0.0) - (wheels[number].offset_mm or 0.0) for number in numbers])
        for tyre, rim_in in enumerate(rims_in):
            if abs(rim_in - diameter_in) > 0.01:
                continue
            try:
                fitted = fit(first, tyre)
                shape = fitted.outline
            except CoreError:
                continue
            if shape not in known:
                known[shape] = table.margins_mm(shape, fitted.centre_mm + shift)
            found[numbers, tyre] = known[shape]
    return found
