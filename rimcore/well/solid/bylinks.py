"""A corner's links tabulated for the wheel well: once for what was read and the rack of a build."""

from __future__ import annotations

from dataclasses import dataclass, field
from functools import cached_property, lru_cache

import numpy as np
from numpy.typing import NDArray
from scipy.interpolate import CubicSpline, RectBivariateSpline
from scipy.spatial.transform import Rotation

from rimcore.quantities.errors import CoreError
from rimcore.ride.curves import moved_to
from rimcore.ride.links import Array
from rimcore.ride.plumb import Read, banded
from rimcore.ride.points import HardPoints
from rimcore.ride.rods import as_built
from rimcore.well.solid.follow import Follow
from rimcore.well.solid.pose import rotation, tilted

#: nodes at which the links are solved, and cells of the table made of them
TRAVEL_NODES, RACK_NODES = 17, 21


TRAVEL_CELLS, STEER_CELLS = 48, 60


#: travel beyond bump and droop that the table spans, and the rack's where nobody measured it [mm]
BEYOND_MM, USUAL_RACK_MM = 30.0, 70.0


#: bump over which the ± of camber, toe and track are taken from the band [mm]
GAIN_OVER_MM = 40.0


@dataclass(frozen=True)
class ByLinks:
    """What was read of a corner's links, for the well; remembered by what it holds, so that each table is made once.

    ``read_at_mm`` is how far the car was lowered against the baseline when they were read, ``droop_mm`` and ``bump_mm``
    the travel that counts, ``rack_end_mm`` the rack's own; None where nobody measured it.
    """

    read: Read
    read_at_mm: float
    droop_mm: float
    bump_mm: float
    rack_end_mm: float | None
    steers: bool

    @property
    def kpi_deg(self) -> float:
        """Kingpin inclination as it was read [deg]."""
        return _table(self, (0.0, 0.0)).kpi_deg

    @property
    def caster_deg(self) -> float:
        """Caster as it was read [deg]."""
        return _table(self, (0.0, 0.0)).caster_deg

    @property
    def kingpin_inboard_mm(self) -> float:
        """From the mounting face inboard to the steering axis at hub height [mm]."""
        return _table(self, (0.0, 0.0)).kingpin_inboard_mm

    @property
    def gain_deg_per_mm(self) -> float:
        """Camber gain at the height at which it was read [deg/mm]."""
        return self.camber_change_deg(self.read_at_mm - 5.0, self.read_at_mm + 5.0) / 10.0

    def doubt_per_mm(self, figure: str) -> float:
        """± of a figure that the readings' ± leaves, per mm of travel: half the band's width at 40 mm of bump.

        ``camber_deg`` and ``toe_deg`` in deg/mm, ``track_shift_mm`` in mm/mm.
        """
        band = banded(self.read, (0.0, GAIN_OVER_MM))
        doubt = band.doubt(figure, 1) / GAIN_OVER_MM
        return doubt if np.isfinite(doubt) else 0.0

    def camber_change_deg(self, from_mm: float, to_mm: float) -> float:
        """What travel does to the camber [deg], heights against the baseline."""
        then, now = _camber_at(_table(self, (0.0, 0.0)), np.array([from_mm, to_mm]))
        return float(now - then)

    def followed(
        self, camber_deg: float, at_mm: float, axis: tuple[float, float, float], rack_mm: tuple[float, ...]
    ) -> Follow:
        """The table for a wheel that stands with a camber at a height of the build."""
        return _followed(self, camber_deg, at_mm, axis, rack_mm)

    def lock_less_deg(self, limit_mm: float, rack_mm: tuple[float, ...]) -> tuple[float, float]:
        """What limiters on either side of the rack take off the lock, front edge outboard and inboard [deg]."""
        if not limit_mm or self.rack_end_mm is None or not self.steers:
            return 0.0, 0.0
        table = _table(self, rack_mm)
        end, near = self.rack_end_mm, max(0.0, self.rack_end_mm - limit_mm)
        order = np.argsort(table.rack_mm)
        whole, less = (np.interp([-x, x], table.rack_mm[order], table.steer_deg[order]) for x in (end, near))
        return float(whole.max() - less.max()), float(less.min() - whole.min())


@dataclass(frozen=True, eq=False)
class Table:
    """Poses of the knuckle over travel (t,) and rack (r,), heights against the baseline.

    ``steer_deg`` is of each rack at the height read.
    """

    travel_mm: Array = field(repr=False)
    rack_mm: Array = field(repr=False)
    steer_deg: Array = field(repr=False)
    turn: Array = field(repr=False)
    at_mm: Array = field(repr=False)
    camber_deg: Array = field(repr=False)
    kpi_deg: float = 0.0
    caster_deg: float = 0.0
    kingpin_inboard_mm: float = 0.0

    @cached_property
    def camber(self) -> CubicSpline:
        """Camber over travel, through the nodes; made once."""
        return CubicSpline(self.travel_mm, self.camber_deg)


def _racked(points: HardPoints, rack_mm: tuple[float, ...]) -> HardPoints:
    """Points with the build's rack; as they were read where they can't be assembled with it, which the benches say."""
    try:
        return as_built(points, rack_mm) if any(rack_mm) else points
    except CoreError:
        return points


@lru_cache(maxsize=48)
def _table(links: ByLinks, rack_mm: tuple[float, ...]) -> Table:
    """Links solved on the nodes; poses that they can't reach are those next to them that they can."""
    points = _racked(links.read.hard_points(), rack_mm)
    low, high = -links.droop_mm - links.read_at_mm - BEYOND_MM, links.bump_mm - links.read_at_mm + BEYOND_MM
    travel = np.unique(np.r_[np.linspace(low, high, TRAVEL_NODES), 0.0])
    end = links.rack_end_mm or USUAL_RACK_MM
    racks = np.linspace(-end, end, RACK_NODES) if links.steers else np.zeros(1)
    found = moved_to(points, travel.tolist(), racks.tolist())
    shape = (len(travel), len(racks))
    turn, at, reached = (
        found.turn.reshape(*shape, 3, 3),
        found.at.reshape(*shape, 3).copy(),
        found.reached.reshape(shape),
    )
    middle, rest = len(racks) // 2, int(np.flatnonzero(travel == 0.0)[0])
    keep_r = _from_rest(reached[rest], middle)
    keep_t = _from_rest(reached[:, middle], rest)
    turn, at, reached = turn[keep_t][:, keep_r], at[keep_t][:, keep_r], reached[keep_t][:, keep_r]
    travel, racks, rest, middle = travel[keep_t], racks[keep_r], rest - keep_t.start, middle - keep_r.start
    turn, at = _filled(turn, at, reached, middle)
    at = at + np.array([0.0, 0.0, links.read_at_mm])
    axle = points.wheel.axis
    steer = _heading_deg(turn[rest] @ axle) - _heading_deg(axle)
    order = _rising(steer, middle)
    camber = -np.degrees(np.arcsin(np.clip((turn[:, middle] @ axle)[:, 2], -1.0, 1.0)))
    return Table(
        travel + links.read_at_mm, racks[order], steer[order], turn[:, order], at[:, order], camber, *_axis_of(points)
    )


def _camber_at(table: Table, travel_mm: Array) -> Array:
    """Camber with the steering straight, between the nodes by a spline and held beyond them [deg]."""
    inside = np.clip(travel_mm, table.travel_mm[0], table.travel_mm[-1])
    return np.asarray(table.camber(inside))


def _heading_deg(axis: Array) -> Array:
    """Steer of a wheel axis, front edge outboard positive [deg]."""
    return np.asarray(-np.degrees(np.arctan2(axis[..., 0], axis[..., 1])))


def _from_rest(reached: NDArray[np.bool_], at: int) -> slice:
    """The run of reached nodes round the one at rest."""
    low, high = at, at
    while low > 0 and reached[low - 1]:
        low -= 1
    while high + 1 < len(reached) and reached[high + 1]:
        high += 1
    return slice(low, high + 1)


def _filled(turn: Array, at: Array, reached: NDArray[np.bool_], middle: int) -> tuple[Array, Array]:
    """Poses beyond what is reached, at each travel: the last that is, on the way out from the rack's middle."""
    turn, at = turn.copy(), at.copy()
    for row in range(len(reached)):
        for way in (range(middle + 1, reached.shape[1]), range(middle - 1, -1, -1)):
            last = middle
            for column in way:
                if reached[row, column]:
                    last = column
                else:
                    turn[row, column], at[row, column] = turn[row, last], at[row, last]
    return turn, at


def _rising(steer: Array, middle: int) -> Array:
    """Nodes round the middle over which the steer goes one way, in rising order.

    A wheel past over-centre turns back.
    """
    way = np.sign(steer[-1] - steer[0]) if len(steer) > 1 else 1.0
    good = np.ones(len(steer), dtype=bool)
    for k in range(middle + 1, len(steer)):
        good[k] = good[k - 1] and way * (steer[k] - steer[k - 1]) > 1e-9
    for k in range(middle - 1, -1, -1):
        good[k] = good[k + 1] and way * (steer[k + 1] - steer[k]) > 1e-9
    kept = np.flatnonzero(good)
    return np.asarray(kept if way >= 0 else kept[::-1])


def _axis_of(points: HardPoints) -> tuple[float, float, float]:
    """Kingpin inclination, caster and kingpin distance of the points; 0 where the layout has no axis."""
    if points.layout.axis is None:
        return 0.0, 0.0, 0.0
    low, high = (points.at(name) for name in points.layout.axis)
    x, y, z = high - low
    inboard = -(low[1] + y * (0.0 - low[2]) / z)
    return float(np.degrees(np.arctan2(-y, z))), float(np.degrees(np.arctan2(-x, z))), float(inboard)


@lru_cache(maxsize=64)
def _followed(
    links: ByLinks, camber_deg: float, at_mm: float, axis: tuple[float, float, float], rack_mm: tuple[float, ...]
) -> Follow:
    """What is left between the links and the plain pose, on an even grid.

    With the knuckle's rotation R and place p, and the height of the build d: hub points stand at R Rdᵀ T(c) h + p; the
    plain pose has them at S(s) T(c(t)) h. The one seen from the other is what the table holds.
    """
    table = _table(links, rack_mm)
    camber = camber_deg + table.camber_deg - float(_camber_at(table, np.array(at_mm)))
    kpi, caster, inboard = axis
    about = np.array([-np.tan(np.radians(caster)), -np.tan(np.radians(kpi)), 1.0])
    steers = np.stack([rotation(about, float(angle)) for angle in table.steer_deg])
    plain = steers[None] @ tilted(camber)[:, None]
    pivot = np.array([0.0, -inboard, 0.0])
    rise = np.stack([np.zeros_like(table.travel_mm), np.zeros_like(table.travel_mm), table.travel_mm], axis=1)
    stands = (pivot - steers @ pivot)[None] + rise[:, None]
    held = table.turn @ (_at_height(table, at_mm).T @ tilted(np.array([camber_deg]))[0])
    back = held.swapaxes(-1, -2)
    turn = Rotation.from_matrix((back @ plain).reshape(-1, 3, 3)).as_rotvec().reshape(*table.at_mm.shape)
    shift = (back @ (stands - table.at_mm)[..., None])[..., 0]
    return _even(table, camber, turn, shift)


def _at_height(table: Table, at_mm: float) -> Array:
    """Rotation of the knuckle with the steering straight, at a height.

    Between the nodes by splines of its rotation vector.
    """
    straight = int(np.argmin(np.abs(table.steer_deg)))
    nodes = Rotation.from_matrix(table.turn[:, straight]).as_rotvec()
    inside = float(np.clip(at_mm, table.travel_mm[0], table.travel_mm[-1]))
    return np.asarray(Rotation.from_rotvec(CubicSpline(table.travel_mm, nodes)(inside)).as_matrix())


def _even(table: Table, camber: Array, turn: Array, shift: Array) -> Follow:
    """Nodes carried onto even grids by splines; a wheel that does not steer has two columns alike."""
    travel = np.linspace(table.travel_mm[0], table.travel_mm[-1], TRAVEL_CELLS + 1)
    if len(table.steer_deg) < 2:
        steer = np.array([-1.0, 1.0])
        rows = [CubicSpline(table.travel_mm, values[:, 0])(travel) for values in (turn, shift)]
        return Follow(
            steer,
            travel,
            CubicSpline(table.travel_mm, camber)(travel),
            *(np.repeat(one[:, None, :], 2, 1) for one in rows),
        )
    steer = np.linspace(table.steer_deg[0], table.steer_deg[-1], STEER_CELLS + 1)
    orders = {"kx": min(3, len(table.travel_mm) - 1), "ky": min(3, len(table.steer_deg) - 1)}

    def spread(values: Array) -> Array:
        return np.stack(
            [
                RectBivariateSpline(table.travel_mm, table.steer_deg, values[:, :, k], **orders)(travel, steer)
                for k in range(3)
            ],
            2,
        )

    return Follow(steer, travel, CubicSpline(table.travel_mm, camber)(travel), spread(turn), spread(shift))


def by_links(
    read: Read, read_at_mm: float, droop_mm: float, bump_mm: float, rack_end_mm: float | None, steers: bool
) -> ByLinks | None:
    """A corner for the well; None where its points are not all read or can't be assembled.

    Source: closure of the links, as ``moved_to``.

    Parameters
    ----------
    read : points of the corner
    read_at_mm : travel at which they were read [mm]
    droop_mm : below 0 or 0 [mm]
    bump_mm : 0 or more [mm]
    rack_end_mm : rack travel to either lock; None where not known [mm]
    steers : whether the corner steers
    """
    if read.missing:
        return None
    found = ByLinks(read, read_at_mm, droop_mm, bump_mm, rack_end_mm, steers)
    try:
        table = _table(found, (0.0, 0.0))
    except CoreError:
        return None
    return found if len(table.travel_mm) > 3 else None
